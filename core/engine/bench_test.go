package engine

import (
	"fmt"
	"testing"

	"lien/core/design"
)

const rows = `type Ware = { id: string, name: string, full: boolean }
component ware-row {
  takes ware: Ware
  takes picked: boolean
  emits pick(id: string)
  view {
    li {
      .picked <- picked
      .full   <- ware.full
      button %[2]s { click -> emit pick(ware.id) }
    }
  }
}
component ware-page {
  holds wares: Ware[] = Array.from(%[1]d, i => { id: %[3]s, name: "Bowl", full: false })
  holds chosen: string? = null
  view {
    ul {
      each w in wares by w.id {
        ware-row { ware <- w; picked <- chosen == w.id; pick(id) -> %[4]s }
      }
    }
  }
}
start ware-page
`

func rowsDesign(tb testing.TB, n int, does string) *design.Design {
	tb.Helper()
	text := fmt.Sprintf(rows, n, "`${ware.name}`", "`w${i}`", does)
	d := design.Parse("rows.lien", text)
	if d.Failed() {
		tb.Fatal(d.Findings[0].Message)
	}
	return d
}

func mounted(tb testing.TB, n int, does string) (*Engine, []*Element) {
	tb.Helper()
	d := rowsDesign(tb, n, does)
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		tb.Fatal(err)
	}
	var buttons []*Element
	e.Elements(func(el *Element) bool {
		if el.Tag() == "button" {
			buttons = append(buttons, el)
		}
		return true
	})
	return e, buttons
}

func BenchmarkMount(b *testing.B) {
	for _, n := range []int{100, 10_000} {
		b.Run(fmt.Sprintf("rows=%d", n), func(b *testing.B) {
			d := rowsDesign(b, n, "chosen = id")
			b.ReportAllocs()
			for b.Loop() {
				e := New(d)
				if _, err := e.Mount(d.Starts[0]); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// BenchmarkTurn: one turn that changes one row, in three ways: the item itself
// through the list, one cell that every row compares with,
// and the whole list mapped.
func BenchmarkTurn(b *testing.B) {
	for _, way := range []struct{ name, does string }{
		{"item", "w.full = !w.full"},
		{"chosen", "chosen = chosen == id ? null : id"},
		{"map", "wares = wares.map(x => x.id == id ? { ...x, full: !x.full } : x)"},
	} {
		for _, n := range []int{100, 10_000} {
			b.Run(fmt.Sprintf("%s/rows=%d", way.name, n), func(b *testing.B) {
				e, buttons := mounted(b, n, way.does)
				b.ReportAllocs()
				i := 0
				for b.Loop() {
					el := buttons[i%len(buttons)]
					i += 37
					if err := e.click(el); err != nil {
						b.Fatal(err)
					}
					e.Turns()
				}
			})
		}
	}
}

// TestTurnTouchesLittle: a turn that changes one row works out only what
// shows that row.
func TestTurnTouchesLittle(t *testing.T) {
	e, buttons := mounted(t, 1000, "w.full = !w.full")
	if err := e.click(buttons[500]); err != nil {
		t.Fatal(err)
	}
	if rec := e.Turns()[0]; rec.Refreshed > 4 || len(rec.Changes) != 1 {
		t.Errorf("%d pieces refreshed, %d cells changed", rec.Refreshed, len(rec.Changes))
	}
	if err := judge(e); err != nil {
		t.Error(err)
	}
}
