package draw

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/picture"
)

// TestChanges: what is new, changed, moved and gone has its sign, what stayed has none, and nothing is
// marked where nothing changed.
func TestChanges(t *testing.T) {
	before := design.Parse("before", `component fold-card {
  holds open: boolean = false
  takes title: string
  view { button "x" { click -> open = !open } }
}
component kiln-page { action light() { log 1 }; view { fold-card { title <- "Clay" }; old-part; button "l" { click -> light } } }
component old-part { view { p "old" } }
start kiln-page
`)
	after := design.Parse("after", `component fold-card {
  takes open: boolean
  takes title: string
  emits changeOpen(open: boolean)
  view { button "x" { click -> emit changeOpen(!open) } }
}
component kiln-page { holds open: boolean = false; action light() { open = false }; view { fold-card { title <- "Clay"; open <- open; changeOpen(v) -> open = v }; new-part; button "l" { click -> light } } }
component new-part { view { p "new" } }
start kiln-page
`)
	said := saidIn(Changes(before, after))
	for _, want := range []string{"open: boolean  from fold-card", "old-part", "new-part", "→", "≠", "−", "+", "what stayed is faint"} {
		if !strings.Contains(said, want) {
			t.Errorf("the picture does not say %q:\n%s", want, said)
		}
	}
	if same := saidIn(Changes(after, after)); strings.ContainsAny(same, "≠−") || !strings.Contains(same, "nothing changed") {
		t.Errorf("a design differs from itself:\n%s", same)
	}
}

// saidIn is all texts of pictures, one a line.
func saidIn(sheets []*picture.Picture) string {
	var out strings.Builder
	var walk func(m picture.Mark)
	walk = func(m picture.Mark) {
		switch m := m.(type) {
		case *picture.Text:
			out.WriteString(m.Text + "\n")
		case *picture.Group:
			for _, x := range m.Marks {
				walk(x)
			}
		}
	}
	for _, p := range sheets {
		for _, m := range p.Marks {
			walk(m)
		}
	}
	return out.String()
}
