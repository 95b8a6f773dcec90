package syntax

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/source"
)

// TestWalk: every node of the examples is visited once, inside the one around it, and every name
// that stands in the text is met where it stands.
func TestWalk(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	more, _ := filepath.Glob("../story/testdata/pass/*.lien")
	if files = append(files, more...); len(files) < 10 {
		t.Fatal("there are no examples")
	}
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		f := Parse(source.NewSet().Add(name, string(text)))
		words := map[source.Pos]bool{}
		for _, d := range f.Decls {
			var around []Node
			Walk(d, func(n Node) bool {
				s := n.Span()
				for len(around) > 0 && around[len(around)-1].Span().End < s.End {
					around = around[:len(around)-1]
				}
				if len(around) > 0 && s.Start.Valid() && s.Start < around[len(around)-1].Span().Start {
					t.Fatalf("%s: %T %q begins before what it is in, %T %q", name, n, f.Source.Slice(s.Start, s.End), around[len(around)-1], f.Source.Slice(around[len(around)-1].Span().Start, around[len(around)-1].Span().End))
				}
				around = append(around, n)
				switch n.(type) {
				case *Word, *Name:
					words[s.Start] = true
				}
				return true
			})
			path := PathAt(f, d.Span().Start)
			if len(path) == 0 || path[0] != Node(d) {
				t.Fatalf("%s: the way to %T begins with something else", name, d)
			}
		}
		// Every token that is the name of a component where one is declared or used is met.
		for _, d := range f.Decls {
			c, ok := d.(*Component)
			if !ok {
				continue
			}
			for at := 0; ; {
				i := strings.Index(f.Source.Text[at:], "<- "+c.Name.Text+" ")
				if i < 0 {
					break
				}
				at += i + 3
				if !words[f.Source.Pos(at)] {
					t.Errorf("%s: the name at %d is not met", name, at)
				}
			}
		}
	}
}
