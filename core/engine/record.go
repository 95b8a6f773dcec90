package engine

import (
	"fmt"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/value"
)

// Record tells what a turn did.
type Record struct {
	Cause     string
	Target    *Element // of a DOM event
	Reports   []Report
	Changes   []Change
	Entries   []Entry // all that happened, in order
	Logs      []string
	Notices   []Notice // what was wrong without failing the turn
	Mounted   []string // paths of new instances
	Unmounted []string
	Refreshed int // pieces of the page that were worked out again
	Pieces    int // pieces that the page has
	Failure   *Failure

	engine    *Engine
	silent    bool // nobody reads it
	mounted   []*Instance
	unmounted []*Instance
	refreshed int
}

// Report is an event that a component emitted.
type Report struct {
	Path      string
	Component string
	Event     string
	Args      []value.Value
	Heard     bool // somebody listens
	Root      bool // it was reported to the world outside
	member    *design.Member
}

// Change is a cell that has another value than before the turn.
type Change struct {
	Path    string // of the instance
	Cell    string
	Was, Is value.Value
	Member  *design.Member // the cell
}

// Notice is something that went wrong in a turn without failing it.
type Notice struct {
	At      source.Span
	Message string
}

// finish works out what the record shows of the turn.
func (r *Record) finish() {
	for _, i := range r.mounted {
		r.Mounted = append(r.Mounted, i.Path())
	}
	for _, i := range r.unmounted {
		r.Unmounted = append(r.Unmounted, i.Path())
	}
	r.Refreshed, r.Pieces = r.refreshed, r.engine.pieces
	r.changes()
}

// changes lists the cells that differ from before the turn, once each.
func (r *Record) changes() {
	seen := map[*node]bool{}
	born := map[*Instance]bool{}
	for _, i := range r.mounted {
		born[i] = true
	}
	for i := range r.engine.undo {
		u := &r.engine.undo[i]
		if u.kind != undoCell || seen[u.node] || u.node.item {
			continue
		}
		seen[u.node] = true
		inst := u.node.inst
		if inst == nil || born[inst] || value.Equal(u.val, u.node.val) {
			continue
		}
		_, cell, _ := strings.Cut(u.node.label, ".")
		r.Changes = append(r.Changes, Change{inst.Path(), cell, u.val, u.node.val, inst.comp.def.Member(cell)})
	}
	sort.SliceStable(r.Changes, func(i, j int) bool { return r.Changes[i].Path < r.Changes[j].Path })
}

func (e *Engine) notice(at source.Span, format string, args ...any) {
	e.record.Notices = append(e.record.Notices, Notice{at, fmt.Sprintf(format, args...)})
}

// log writes a line to the console of the design.
func (e *Engine) log(args []value.Value) {
	parts := make([]string, len(args))
	for i, a := range args {
		parts[i] = value.Text(a)
	}
	e.record.Logs = append(e.record.Logs, strings.Join(parts, " "))
	e.note(Logged, e.acting, strings.Join(parts, " "), nil, source.Span{})
}
