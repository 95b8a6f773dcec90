// Package finding describes what is wrong in a design: where, what, and what
// to write instead.
package finding

import (
	"fmt"
	"sort"

	"lien/core/source"
)

// Level tells how grave a finding is. Errors stop a run.
type Level int

const (
	Note Level = iota
	Warning
	Error
)

var levels = [...]string{Note: "note", Warning: "warning", Error: "error"}

func (l Level) String() string { return levels[l] }

// ParseLevel reads a level's name; "off" and unknown names are not levels.
func ParseLevel(name string) (Level, bool) {
	for i, n := range levels {
		if n == name {
			return Level(i), true
		}
	}
	return 0, false
}

// Edit replaces the text of a span.
type Edit struct {
	source.Span
	Text string
}

// Fix is a set of edits that mends a finding.
type Fix struct {
	Title string
	Edits []Edit
}

// Related is another place that belongs to a finding.
type Related struct {
	Pos  source.Pos
	Text string
}

// Finding is one thing that is wrong, or worth knowing.
type Finding struct {
	Rule    string // the situation, such as "told-to-nobody"
	Level   Level
	Span    source.Span
	Message string    // what is wrong, in one line
	Write   string    // what to write instead, or ""
	Related []Related // other places, such as the way down from a start
	Fix     *Fix      // edits that mend it, or nil
}

// New is a finding at a span.
func New(rule string, level Level, at source.Span, format string, args ...any) *Finding {
	return &Finding{Rule: rule, Level: level, Span: at, Message: fmt.Sprintf(format, args...)}
}

// Instead adds what to write, and returns f.
func (f *Finding) Instead(format string, args ...any) *Finding {
	f.Write = fmt.Sprintf(format, args...)
	return f
}

// See adds a related place, and returns f.
func (f *Finding) See(at source.Pos, format string, args ...any) *Finding {
	f.Related = append(f.Related, Related{at, fmt.Sprintf(format, args...)})
	return f
}

// Mend adds a fix of one edit, and returns f.
func (f *Finding) Mend(title string, at source.Span, text string) *Finding {
	f.Fix = &Fix{title, []Edit{{at, text}}}
	return f
}

// Sort orders findings by place, then rule, then text.
func Sort(list []*Finding) {
	sort.SliceStable(list, func(i, j int) bool {
		a, b := list[i], list[j]
		if a.Span.Start != b.Span.Start {
			return a.Span.Start < b.Span.Start
		}
		if a.Rule != b.Rule {
			return a.Rule < b.Rule
		}
		return a.Message < b.Message
	})
}

// Distinct sorts findings and drops those that say the same of the same place.
func Distinct(list []*Finding) []*Finding {
	Sort(list)
	out := list[:0]
	for i, f := range list {
		if i > 0 && f.Span == list[i-1].Span && f.Rule == list[i-1].Rule && f.Message == list[i-1].Message {
			continue
		}
		out = append(out, f)
	}
	return out
}

// Failed says whether any of the findings is an error.
func Failed(list []*Finding) bool {
	for _, f := range list {
		if f.Level == Error {
			return true
		}
	}
	return false
}

// Apply makes the edits in text, whose first byte is at base. Edits that
// overlap an earlier one are left out; the second result tells how many were made.
func Apply(text string, base source.Pos, edits []Edit) (string, int) {
	sorted := append([]Edit(nil), edits...)
	sort.SliceStable(sorted, func(i, j int) bool { return sorted[i].Start < sorted[j].Start })
	out := make([]byte, 0, len(text))
	at, made := 0, 0
	for _, e := range sorted {
		start, end := int(e.Start-base), int(e.End-base)
		if start < at || end > len(text) {
			continue
		}
		out = append(append(out, text[at:start]...), e.Text...)
		at = end
		made++
	}
	return string(append(out, text[at:]...)), made
}
