package story

import (
	"fmt"
	"strings"

	"lien/core/engine"
	"lien/core/finding"
	"lien/core/value"
)

// ActLines tells what ran in a turn, and what was noticed.
func ActLines(r *engine.Record) []string {
	var lines []string
	for i := range r.Entries {
		lines = append(lines, EntryLines(&r.Entries[i])...)
	}
	for _, n := range r.Notices {
		lines = append(lines, "  notice: "+n.Message)
	}
	return lines
}

// TurnLines tells what a turn did: what is indented was led to by the line above.
func TurnLines(r Turn) []string {
	lines := append([]string{r.Head()}, ActLines(r.Record)...)
	if r.Failure == nil && len(r.Entries) > 0 {
		lines = append(lines, fmt.Sprintf("  %d of %s refreshed%s", r.Refreshed, finding.Count(r.Pieces, "piece"), comings(r.Record)))
	}
	return lines
}

// comings counts what was mounted and unmounted.
func comings(r *engine.Record) string {
	out := ""
	if n := len(r.Mounted); n > 0 {
		out += ", " + finding.Count(n, "component") + " mounted"
	}
	if n := len(r.Unmounted); n > 0 {
		out += ", " + finding.Count(n, "component") + " unmounted"
	}
	return out
}

func EntryLines(en *engine.Entry) []string {
	pad := strings.Repeat("  ", en.Depth+1)
	who := en.Path()
	switch en.Kind {
	case engine.Changed:
		return changeLines(pad, who+"."+en.What, en.Was, en.Is)
	case engine.Reported:
		line := pad + "↑ " + who + " reports " + en.What + value.BriefArgs(en.Args, 30)
		if en.Heard == 0 {
			line += ": nobody listens"
		}
		return []string{line}
	case engine.SentTo:
		return []string{fmt.Sprintf("%s≈ %s sends %s%s, heard by %d", pad, who, en.What, value.BriefArgs(en.Args, 30), en.Heard)}
	case engine.Logged:
		return []string{pad + "“ " + en.What}
	case engine.Followed:
		return []string{pad + "· " + who + " follows " + en.What}
	case engine.Mounts:
		return []string{pad + "· " + who + " on mount"}
	case engine.Unmounts:
		return []string{pad + "· " + who + " on unmount"}
	case engine.Opens, engine.Leaves:
		return []string{pad + "◻ " + string(en.Kind) + " " + en.What}
	case engine.CalledFor:
		return []string{pad + "· calls " + en.What + "()"}
	}
	if who != "" { // an element that is called belongs to nobody
		who += " "
	}
	return []string{pad + "· " + who + string(en.Kind) + " " + en.What + value.BriefArgs(en.Args, 30)}
}

// changeLines tells where a cell's value differs from what it was.
func changeLines(pad, name string, was, is value.Value) []string {
	const most = 4
	var lines []string
	for i, d := range value.Differences(was, is, most+1) {
		switch {
		case i == most:
			lines = append(lines, pad+"= "+name+": and more")
		case d.Was == nil:
			lines = append(lines, pad+"= "+name+d.Path+": new "+value.Brief(d.Is, 60))
		case d.Is == nil:
			lines = append(lines, pad+"= "+name+d.Path+": gone "+value.Brief(d.Was, 60))
		default:
			lines = append(lines, pad+"= "+name+d.Path+": "+value.Brief(d.Was, 34)+" → "+value.Brief(d.Is, 34))
		}
	}
	return lines
}
