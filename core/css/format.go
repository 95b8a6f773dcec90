package css

import "strings"

// Format lays a sheet out: one declaration a line, two blanks for what stands in a block, and all else as it is written.
// A rule that stands on one line with one declaration stays there, and so does one empty line between two items. Lines
// come without an indent of the whole.
func (s *Sheet) Format() []string {
	f := &formatter{text: s.Text}
	f.items(s.Items, 0)
	return f.lines
}

type formatter struct {
	text  string
	lines []string
}

func (f *formatter) items(list []*Item, depth int) {
	for i, it := range list {
		if i > 0 {
			between := f.text[list[i-1].End:it.Start]
			if it.Kind == Comment && !strings.Contains(between+f.raw(it), "\n") { // beside what it speaks of
				f.lines[len(f.lines)-1] += " " + f.raw(it)
				continue
			}
			if strings.Count(between, "\n") > 1 {
				f.lines = append(f.lines, "")
			}
		}
		f.item(it, depth)
	}
}

func (f *formatter) raw(it *Item) string { return f.text[it.Start:it.End] }

func (f *formatter) line(depth int, text string) {
	f.lines = append(f.lines, strings.Repeat("  ", depth)+text)
}

func (f *formatter) item(it *Item, depth int) {
	if it.Kind == Comment {
		f.comment(it, depth)
		return
	}
	head := f.head(it, depth)
	switch {
	case !it.Block:
		f.line(depth, head+";")
	case len(it.Items) == 0:
		f.line(depth, spaced(head, "{}"))
	case f.short(it):
		f.line(depth, spaced(spaced(head, "{ "+f.head(it.Items[0], depth)), "}"))
	default:
		f.line(depth, spaced(head, "{"))
		f.items(it.Items, depth+1)
		f.line(depth, "}")
	}
}

// short says whether a rule is one line with one declaration.
func (f *formatter) short(it *Item) bool {
	return len(it.Items) == 1 && it.Items[0].Kind == Declaration && !strings.Contains(f.raw(it), "\n")
}

// comment writes a comment; its further lines stand behind its slash, and to each other as they did.
func (f *formatter) comment(it *Item, depth int) {
	lines := strings.Split(strings.ReplaceAll(f.raw(it), "\t", "  "), "\n")
	least := -1
	for i, l := range lines {
		lines[i] = strings.TrimRight(l, " \r")
		if in := len(lines[i]) - len(strings.TrimLeft(lines[i], " ")); i > 0 && lines[i] != "" && (least < 0 || in < least) {
			least = in
		}
	}
	f.line(depth, lines[0])
	for _, l := range lines[1:] {
		if l != "" {
			l = "   " + l[least:]
		}
		f.line(depth, l)
	}
}

// head is what stands before a block, or a whole declaration.
func (f *formatter) head(it *Item, depth int) string {
	if it.Kind != Rule {
		depth++ // what goes on stands further in
	}
	text := f.words(it.Head, depth)
	switch it.Kind {
	case AtRule:
		return spaced("@"+it.Name, text)
	case Declaration:
		if it.Important {
			text = spaced(text, "!important")
		}
		return it.Name + ": " + text
	}
	return text
}

// words are tokens with single blanks; where a line ended, one ends.
func (f *formatter) words(list []token, depth int) string {
	var out strings.Builder
	for _, t := range list {
		switch {
		case strings.HasPrefix(t.text, "/*"):
			out.WriteString(strings.Join(strings.Fields(t.text), " "))
		case !t.blank():
			out.WriteString(t.text)
		case strings.Contains(t.text, "\n"):
			out.WriteString("\n" + strings.Repeat("  ", depth))
		default:
			out.WriteByte(' ')
		}
	}
	return out.String()
}

// spaced are two texts with a blank between them: an escape may end in one.
func spaced(a, b string) string {
	if a == "" || b == "" || strings.HasSuffix(a, " ") {
		return a + b
	}
	return a + " " + b
}
