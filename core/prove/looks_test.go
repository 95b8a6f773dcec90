package prove

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
)

const door = `
service kiln-log { ask(): string replies "hot" fails "offline" }
component kiln-door {
  holds open: boolean = false
  holds presses: number = 0
  holds said: string = ""
  timer close after 2000 { open = false }
  view {
    button "Door" { aria-expanded <- open; click -> { open = !open; presses = (presses + 1) % 3; if (open) start close else stop close } }
    button "Ask" { click -> ask kiln-log.ask() { got(t) -> said = t; failed(w) -> said = w } }
    p ~${said}~
  }
}
start kiln-door
`

// looks tells the looks of a design and the moves between them, a line each.
func looks(t *testing.T, d *design.Design, states int, view func(*engine.Engine) []string) (*Looks, string) {
	t.Helper()
	g, err := LooksOf(d, d.Starts[0], states, view)
	if err != nil {
		t.Fatal(err)
	}
	var out strings.Builder
	for i, k := range g.List {
		fmt.Fprintf(&out, "%d %s\n", i, strings.Join(k.Lines, ", "))
	}
	for _, m := range g.Moves {
		fmt.Fprintf(&out, "%d to %d: %s\n", m.From, m.To, m.Text)
	}
	return g, out.String()
}

func TestLooks(t *testing.T) {
	d := parsed(t, strings.ReplaceAll(door, "~", "`"))
	isOpen := func(e *engine.Engine) []string {
		for _, c := range e.Cells(e.Root()) {
			if c.Name == "open" {
				return []string{fmt.Sprint("open ", c.Value)}
			}
		}
		return nil
	}
	g, told := looks(t, d, 2000, isOpen)
	want := `0 open false
1 open true
0 to 1: press button "Door"
1 to 0: press button "Door"
1 to 0: after a while: close
`
	if told != want {
		t.Errorf("it is\n%s\nwant\n%s", told, want)
	}
	if g.List[0].States+g.List[1].States != g.States || g.List[1].Depth != 1 {
		t.Errorf("%d and %d of %d states, the second %d deep", g.List[0].States, g.List[1].States, g.States, g.List[1].Depth)
	}
	if g.Whole { // more than three questions wait in some states
		t.Error("nothing was left out")
	}
}

// The same looks are found as when every state is taken from the beginning.
func TestLooksAreThoseOfThePage(t *testing.T) {
	compared := 0
	for seed := range uint64(8) {
		d := generated(t, seed)
		want := naively(d, 300, 3)
		if want.cut {
			continue
		}
		compared++
		page := func(e *engine.Engine) []string { return story.Page(e) }
		g, _ := looks(t, d, 3000, page)
		pages := map[string]bool{}
		for _, way := range want.ways {
			e := want.mounted()
			for _, i := range way {
				list := e.Causes(nil)
				e.Do(&list[i])
			}
			pages[strings.Join(page(e), "\n")] = true
		}
		if g.States != len(want.ways) || len(g.List) != len(pages) {
			t.Errorf("design %d: %d looks in %d states, want %d in %d", seed, len(g.List), g.States, len(pages), len(want.ways))
		}
		for _, k := range g.List {
			if !pages[strings.Join(k.Lines, "\n")] {
				t.Errorf("design %d: no page looks like\n%s", seed, strings.Join(k.Lines, "\n"))
			}
		}
	}
	if compared < 3 {
		t.Errorf("only %d designs are small enough to compare", compared)
	}
}

func TestLooksAreBounded(t *testing.T) {
	d := parsed(t, "component a-b { holds n: number = 0; view { button \"more\" { click -> n += 1 }; p `${n}` } }\nstart a-b\n")
	g, _ := looks(t, d, 40, func(e *engine.Engine) []string { return story.Page(e) })
	if g.States != 40 || g.Whole || len(g.List) != 40 {
		t.Errorf("%d looks in %d states, whole %v", len(g.List), g.States, g.Whole)
	}
	broken := parsed(t, "component a-b { derives n = 1 / (m - 1); holds m: number = 1; view { p `${n}` } }\nstart a-b\n")
	if _, err := LooksOf(broken, broken.Starts[0], 40, func(*engine.Engine) []string { return nil }); err == nil {
		t.Error("a design that does not start has looks")
	}
}
