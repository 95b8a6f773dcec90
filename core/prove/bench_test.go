package prove

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
)

// boxes is a group of independent check boxes held in one context.
func boxes(tb testing.TB, n int, law string) *design.Design {
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
law "some" { `+law+` }
`)
	if d.Failed() {
		tb.Fatal(d.Findings[0].Message)
	}
	return d
}

// BenchmarkBoxes visits 2^n states, with n turns in each.
func BenchmarkBoxes(b *testing.B) {
	const few, all = "always all(rack-box).length > 1", "always all(rack-box).filter(b => b.on).length < 19"
	for _, c := range []struct {
		n     int
		law   string
		plain bool
	}{{14, few, true}, {16, few, true}, {18, few, true}, {18, few, false}, {14, all, true}, {18, all, true}} {
		d := boxes(b, c.n, c.law)
		b.Run(fmt.Sprintf("boxes=%d/plain=%v/reads all=%v", c.n, c.plain, c.law == all), func(b *testing.B) {
			for b.Loop() {
				rep := Run(d, Options{Plain: c.plain})
				if got := rep.Starts[0].States.N; got != 1<<c.n {
					b.Fatalf("%d states", got)
				}
			}
		})
	}
}

// BenchmarkBoxesInOneCell visits the same where all boxes are kept in one cell:
// a list of records, or one record.
func BenchmarkBoxesInOneCell(b *testing.B) {
	var fields, first, view strings.Builder
	for i := range 14 {
		fmt.Fprintf(&fields, "on%d: boolean; ", i)
		fmt.Fprintf(&first, "on%d: false, ", i)
		fmt.Fprintf(&view, "label { input { type <- \"checkbox\"; checked <-> rack.on.on%d }; \"Shelf %[1]d\" }\n", i)
	}
	const page = "component rack-page {\n  supplies rack as rack\n  view {\n%s}\n}\nstart rack-page\n"
	for _, c := range []struct{ name, text string }{
		{"list", `type Box = { id: string, on: boolean }
context rack {
  holds boxes: Box[] = Array.from(14, i => ({ id: ` + "`s${i}`" + `, on: false }))
  action flip(id: string) { boxes = boxes.map(b => b.id == id ? { ...b, on: !b.on } : b) }
}
` + fmt.Sprintf(page, `each b in rack.boxes by b.id { label { input { type <- "checkbox"; checked <- b.on; change -> rack.flip(b.id) }; `+"`${b.id}`"+` } }`)},
		{"record", "type Boxes = { " + fields.String() + "}\ncontext rack { shares on: Boxes = { " + first.String() + "} }\n" + fmt.Sprintf(page, view.String())},
	} {
		d := design.Parse("boxes.lien", c.text)
		if d.Failed() {
			b.Fatal(d.Findings[0].Message)
		}
		b.Run(c.name, func(b *testing.B) {
			for b.Loop() {
				if got := Run(d, Options{Plain: true}).Starts[0].States.N; got != 1<<14 {
					b.Fatalf("%d states", got)
				}
			}
		})
	}
}
