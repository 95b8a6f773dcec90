package engine

import (
	"strings"

	"lien/core/source"
	"lien/core/value"
)

// EntryKind is what happened at one point of a turn.
type EntryKind string

const (
	Reported  EntryKind = "reports"
	Acted     EntryKind = "runs"
	Changed   EntryKind = "changes"
	SentTo    EntryKind = "sends"
	Began     EntryKind = "starts"
	Ended     EntryKind = "stops"
	AskedOf   EntryKind = "asks"
	Opens     EntryKind = "opens"
	Leaves    EntryKind = "leaves"
	Followed  EntryKind = "follows"
	Logged    EntryKind = "logs"
	Mounts    EntryKind = "mounts"
	Unmounts  EntryKind = "unmounts"
	CalledFor EntryKind = "calls"
)

// Entry is one thing that a turn did. Depth tells what led to it: the entry
// before it that is less deep.
type Entry struct {
	Depth int
	Kind  EntryKind
	What  string // the event, cell, action, channel, ...
	Args  []value.Value
	Was   value.Value // of a change
	Is    value.Value
	At    source.Span // where it is written, if known
	Heard int         // of a report or message: by how many
	inst  *Instance
}

// Path is the instance that it happened in.
func (en *Entry) Path() string {
	if en.inst == nil {
		return ""
	}
	return en.inst.Path()
}

// Outside says whether it is a report of the root, to the world outside.
func (en *Entry) Outside() bool { return en.Kind == Reported && en.inst != nil && en.inst.use == nil }

// note adds an entry to the turn's record, and gives its place in it.
func (e *Engine) note(kind EntryKind, i *Instance, what string, args []value.Value, at source.Span) int {
	e.spend(4, entryBytes, at)
	e.record.Entries = append(e.record.Entries, Entry{Depth: e.level, Kind: kind, What: what, Args: args, At: at, inst: i})
	return len(e.record.Entries) - 1
}

// noteChange adds the write of a cell; several writes of one cell in a row
// are one.
func (e *Engine) noteChange(n *node, was, is value.Value) {
	if n.inst == nil || n.item || n.label == "" || e.record.silent {
		return
	}
	_, cell, _ := strings.Cut(n.label, ".")
	e.record.Entries = append(e.record.Entries, Entry{Depth: e.level, Kind: Changed, What: cell, Was: was, Is: is, inst: n.inst})
}

// deeper runs what an entry leads to.
func (e *Engine) deeper(run func()) {
	e.level++
	run()
	e.level--
}
