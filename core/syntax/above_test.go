package syntax

import (
	"strings"
	"testing"

	"lien/core/source"
)

// TestAbove: what is said right above a place is said of it: whole lines of comments without a gap.
func TestAbove(t *testing.T) {
	const text = `// of the file

// of a
// and more of a
component a-part { view { p "x" } } // behind a

component b-part {
  // of n
  holds n: number = 1
  holds m: number = 2 // behind m
  holds k: number = 3

  // of nothing

  view { p ` + "`${n} ${m} ${k}`" + ` }
}
`
	f := Parse(source.NewSet().Add("a.lien", text))
	if len(f.Findings) > 0 {
		t.Fatal(f.Findings[0].Message)
	}
	for place, want := range map[string]string{
		"component a-part": "// of a|// and more of a", "component b-part": "", "holds n": "// of n", "holds m": "", "holds k": "", "view { p `": "",
	} {
		at := strings.Index(text, place)
		var got []string
		for _, c := range f.Above(f.Source.Pos(at)) {
			got = append(got, c.Text)
		}
		if strings.Join(got, "|") != want {
			t.Errorf("above %s stands %q, want %q", place, got, want)
		}
	}
}

// TestSheets: CSS is scanned as a whole where a style begins, and nowhere else.
func TestSheets(t *testing.T) {
	for _, c := range []struct {
		text  string
		sheet string // "-": there is none
		finds string
	}{
		{"style { a { top: 0 } }", " a { top: 0 } ", ""},
		{"style{}", "", ""},
		{"component a-b {\n  style { a::before { content: \"}\" } /* } */ }\n  view { p \"x\" }\n}", " a::before { content: \"}\" } /* } */ ", ""},
		{"component a-b { style { b { background: url(x}y) } }; view { b \"x\" } }", " b { background: url(x}y) } ", ""},
		{"component a-b {\n  takes style: string\n  view { p { style <- style } }\n}", "-", ""},
		{"type Style = { style: string }\nconst style: Style = { style: \"x\" }", "-", ""},
		{"style file(\"a.css\")", "-", ""},
		{"style file()", "-", "the name of a .css file"},
		{"style \"a.css\"", "-", "write style { ... }"},
		{"style {", "-", "close it with }"},
		{"style { a { top: 0 }\ncomponent a-b { view { p \"x\" } }", "-", "close it with }"},
	} {
		f := parse(c.text)
		sheet := "-"
		for _, d := range f.Decls {
			Walk(d, func(n Node) bool {
				if s, ok := n.(*Style); ok && s.Sheet != nil {
					sheet = s.Sheet.Text
				}
				return true
			})
		}
		if c.finds == "" && (sheet != c.sheet || len(f.Findings) > 0) {
			t.Errorf("%s: the sheet is %q, want %q; %v", c.text, sheet, c.sheet, f.Findings)
		}
		if c.finds != "" && (len(f.Findings) != 1 || !strings.Contains(f.Findings[0].Message+f.Findings[0].Write, c.finds)) {
			t.Errorf("%s: %d findings, want one of %s", c.text, len(f.Findings), c.finds)
		}
	}
}

// TestEventsCalledAsWords: an event may be called as a word of the views is, where it carries something.
func TestEventsCalledAsWords(t *testing.T) {
	f := parse("component a-b {\n  view {\n    c-d { fill(id) -> x(id); fill(a, b) -> y }\n    e-f { fill row(a) { p \"x\" } }\n  }\n}")
	if len(f.Findings) > 0 {
		t.Fatal(f.Findings[0].Message)
	}
	events, fills := 0, 0
	Walk(f.Decls[0], func(n Node) bool {
		switch n.(type) {
		case *Event:
			events++
		case *Fill:
			fills++
		}
		return true
	})
	if events != 2 || fills != 1 {
		t.Errorf("%d events, %d fills", events, fills)
	}
}
