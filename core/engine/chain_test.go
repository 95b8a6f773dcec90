package engine

import (
	"strings"
	"testing"

	"lien/core/design"
)

// TestChain: a turn that never settles tells what leads to what, once round.
func TestChain(t *testing.T) {
	for _, c := range []struct{ name, members, want string }{
		{"two that follow each other", `follows a { b = a + n }
  follows b { a = b + 1 - 1 }`, "follows a, changes b, follows b, changes a"},
		{"through an action", `action up(x: number) { a = x + 1 }
  follows a { up(a) }`, "follows a, runs up, changes a"},
		{"one that settles after a while", `follows a { if (a < 90) a = a + 1 }`, ""},
	} {
		d := design.Parse("chain.lien", `component chase-page {
  holds n: number = 1
  holds a: number = 0
  holds b: number = 0
  `+c.members+`
  view { p `+"`${a} ${b} ${n}`"+`; button "Go" { click -> a = 1 } }
}
start chase-page
`)
		e := New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			t.Fatal(err)
		}
		var said []string
		if f, ok := e.Press(firstButton(e)).(*Failure); ok {
			for _, en := range f.Chain {
				said = append(said, string(en.Kind)+" "+en.What)
			}
		}
		if got := strings.Join(said, ", "); !sameCycle(got, c.want) {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
}

func firstButton(e *Engine) *Element {
	var found *Element
	e.Elements(func(el *Element) bool {
		if el.Tag() == "button" {
			found = el
		}
		return found == nil
	})
	return found
}

// sameCycle compares two lists that may begin at different places of a circle.
func sameCycle(a, b string) bool {
	return len(a) == len(b) && strings.Contains(b+", "+b, a)
}
