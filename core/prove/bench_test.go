package prove

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
)

// boxes is a group of independent check boxes held in one context.
func boxes(tb testing.TB, n int) *design.Design {
	tb.Helper()
	var cells, actions, uses strings.Builder
	for i := range n {
		fmt.Fprintf(&cells, "  holds b%d: boolean = false\n", i)
		fmt.Fprintf(&actions, "  action flip%d() { b%[1]d = !b%[1]d }\n", i)
		fmt.Fprintf(&uses, "    rack-box { label <- \"Shelf %d\"; on <- rack.b%[1]d; flip <- rack.flip%[1]d }\n", i)
	}
	d := design.Parse("boxes.lien", "context rack {\n"+cells.String()+actions.String()+`}
component rack-box {
  takes label: string
  takes on: boolean
  takes flip: () => void
  view { label { input { type <- "checkbox"; checked <- on; change -> flip() }; `+"`${label}`"+` } }
}
component rack-page {
  supplies rack as rack
  view {
`+uses.String()+`  }
}
start rack-page
law "some" { always all(rack-box).length > 1 }
`)
	if d.Failed() {
		tb.Fatal(d.Findings[0].Message)
	}
	return d
}

// BenchmarkBoxes visits 2^n states, with n turns in each.
func BenchmarkBoxes(b *testing.B) {
	for _, c := range []struct {
		n     int
		plain bool
	}{{10, true}, {12, true}, {14, true}, {18, true}, {18, false}} {
		d := boxes(b, c.n)
		b.Run(fmt.Sprintf("boxes=%d/plain=%v", c.n, c.plain), func(b *testing.B) {
			for b.Loop() {
				rep := Run(d, Options{Plain: c.plain})
				if got := rep.Starts[0].States; got != 1<<c.n {
					b.Fatalf("%d states", got)
				}
			}
		})
	}
}
