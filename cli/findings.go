package cli

import (
	"strings"
	"unicode/utf8"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

var levelStyles = map[finding.Level]style{finding.Error: red, finding.Warning: yellow, finding.Note: blue}

// mostFindings is how many are printed; who reads more has mended some before.
const mostFindings = 100

// findings prints findings as text: place, what, the line with the spot
// marked, why, and what to write. Why is told once a rule.
func (t *terminal) findings(d *design.Design, list []*finding.Finding) {
	told := map[string]bool{}
	for i, f := range list {
		if i == mostFindings {
			t.printf("\n... and %d more\n", len(list)-i)
			return
		}
		if i > 0 {
			t.printf("\n")
		}
		t.finding(d, f, !told[f.Rule])
		told[f.Rule] = true
	}
}

func (t *terminal) finding(d *design.Design, f *finding.Finding, why bool) {
	at := d.Set.Position(f.Span.Start)
	t.printf("%s: %s: %s %s\n", t.paint(bold, at.String()), t.paint(levelStyles[f.Level], f.Level.String()), f.Message,
		t.paint(dim, "["+f.Rule+"]"))
	t.spot(d, f.Span)
	if page := check.Page(f.Rule); why && page != nil {
		t.labelled("why", page.Why)
	}
	for _, r := range f.Related {
		t.labelled("see", d.Set.Position(r.Pos).String()+": "+r.Text)
	}
	if f.Write != "" {
		t.labelled("do", f.Write)
	}
}

// labelled prints a text with a word before it, broken to the width.
func (t *terminal) labelled(label, text string) {
	for i, line := range wrap(text, t.width()-8) {
		if i > 0 {
			label = ""
		}
		t.printf("   %s %s\n", t.paint(dim, pad(label, 4)), line)
	}
}

// spot prints the line of a span with a mark under it.
func (t *terminal) spot(d *design.Design, at source.Span) {
	file := d.Set.File(at.Start)
	if file == nil || file.Lines() == 0 {
		return
	}
	pos := d.Set.Position(at.Start)
	line := strings.ReplaceAll(file.Line(pos.Line), "\t", " ")
	if strings.TrimSpace(line) == "" || !utf8.ValidString(line) {
		return
	}
	start, n := pos.Column-1, 1
	if text := d.Text(at); text != "" {
		first, _, _ := strings.Cut(text, "\n")
		n = max(1, utf8.RuneCountInString(first))
	}
	runes := []rune(line)
	n = max(1, min(n, len(runes)-start))
	window := t.width() - 4
	if len(runes) > window {
		from := max(0, min(start-window/3, len(runes)-window))
		runes = runes[from:min(len(runes), from+window)]
		start -= from
		n = min(n, len(runes)-start)
	}
	t.printf("  %s\n  %s%s\n", string(runes), strings.Repeat(" ", max(0, start)), t.paint(bold, strings.Repeat("^", max(1, n))))
}

// summary counts findings by level: "1 error, 2 warnings".
func summary(list []*finding.Finding) string {
	var counts [3]int
	for _, f := range list {
		counts[f.Level]++
	}
	var parts []string
	for _, l := range []finding.Level{finding.Error, finding.Warning, finding.Note} {
		if counts[l] > 0 {
			parts = append(parts, finding.Count(counts[l], l.String()))
		}
	}
	if len(parts) == 0 {
		return "nothing to mend"
	}
	return strings.Join(parts, ", ")
}
