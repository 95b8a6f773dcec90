package engine

import (
	"fmt"
	"strings"
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
	return mountedButtons(tb, rowsDesign(tb, n, does))
}

// mountedButtons mounts a design's first start and finds its buttons.
func mountedButtons(tb testing.TB, d *design.Design) (*Engine, []*Element) {
	tb.Helper()
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
				pressHundred(b, e, buttons)
			})
		}
	}
}

// pressHundred presses a hundred buttons that stand evenly in the page, one
// after the other: as many in a short page as in a long one, so that what is
// measured is the work of a turn, and not how much the processor's caches hold.
func pressHundred(b *testing.B, e *Engine, buttons []*Element) {
	b.ReportAllocs()
	far := len(buttons) / 100
	for i := 0; b.Loop(); i++ {
		if err := e.Click(buttons[i%100*far]); err != nil {
			b.Fatal(err)
		}
		e.Turns()
	}
}

// TestTurnTouchesLittle: a turn that changes one row works out only what
// shows that row.
func TestTurnTouchesLittle(t *testing.T) {
	e, buttons := mounted(t, 1000, "w.full = !w.full")
	if err := e.Click(buttons[500]); err != nil {
		t.Fatal(err)
	}
	if rec := e.Turns()[0]; rec.Refreshed > 4 || len(rec.Changes) != 1 {
		t.Errorf("%d pieces refreshed, %d cells changed", rec.Refreshed, len(rec.Changes))
	}
	if err := judge(e); err != nil {
		t.Error(err)
	}
}

// linkKinds are pages with many rows that are tied to the rest in one way
// each, and the button of a row that uses it.
var linkKinds = []struct{ name, decls, row, page, use string }{
	{
		name: "down and up",
		row:  "takes on: boolean\n  emits hit(id: number)\n  view { button `${on}` { click -> emit hit(id) } }",
		page: "holds sel: number = -1",
		use:  "on <- sel == i\n hit(x) -> sel = x",
	},
	{
		name: "tie to an item",
		row:  "shares on: boolean = false\n  view { button `${on}` { click -> on = !on } }",
		page: "holds rows: { id: number, on: boolean }[] = Array.from(N, i => { id: i, on: false })",
		use:  "on <-> r.on",
	},
	{
		name:  "context",
		decls: "context picked { holds sel: number = -1; action hit(x: number) { sel = x }; derives is(x: number) = sel == x }",
		row:   "uses picked\n  view { button `${picked.is(id)}` { click -> picked.hit(id) } }",
		page:  "supplies picked",
	},
	{
		name: "function",
		row:  "takes hit: (id: number) => void\n  takes on: boolean\n  view { button `${on}` { click -> hit(id) } }",
		page: "holds sel: number = -1\n  action hit(x: number) { sel = x }",
		use:  "hit <- hit\n on <- sel == i",
	},
	{
		name: "slot data",
		row:  "holds on: boolean = false\n  action hit() { on = !on }\n  view { slot body(on <- on, hit <- hit) }",
		use:  "fill body(on, hit) { button `${on}` { click -> hit() } }",
	},
	{
		name:  "channel",
		decls: "channel news(id: number)",
		row:   "view { button \"x\" { click -> send news(id) } }",
		page:  "holds last: number = -1\n  hears news(id) { last = id }",
	},
	{
		name: "timer",
		row:  "holds on: boolean = false\n  timer t after 100 { on = false }\n  view { button `${on}` { click -> { on = true; start t } } }",
	},
	{
		name: "named and offered",
		row:  "holds on: boolean = false\n  offers flip() { on = !on }\n  view { p `${on}` }",
		page: "",
		use:  "NAMED",
	},
}

// BenchmarkLinks: one turn in a page of 100 and of 10,000 instances, by the
// kind of link that it uses.
func BenchmarkLinks(b *testing.B) {
	for _, k := range linkKinds {
		for _, n := range []int{100, 10_000} {
			b.Run(fmt.Sprintf("%s/instances=%d", k.name, n), func(b *testing.B) {
				e, buttons := linked(b, k.name, n)
				pressHundred(b, e, buttons)
			})
		}
	}
}

// linked mounts the page of a kind of link with n rows.
func linked(tb testing.TB, name string, n int) (*Engine, []*Element) {
	tb.Helper()
	for _, k := range linkKinds {
		if k.name != name {
			continue
		}
		list := "Array.from(N, i => i)"
		each := "each i in list by i"
		if k.name == "tie to an item" {
			each = "each r at i in rows by r.id"
		}
		use := "link-row { id <- i\n " + k.use + " }"
		if k.use == "NAMED" {
			use = "link-row named row { id <- i }\n button \"flip\" { click -> row.flip() }"
		}
		text := k.decls + "\ncomponent link-row {\n  takes id: number\n  " + k.row + "\n}\ncomponent link-page {\n  const list = " + list + "\n  " +
			k.page + "\n  view { " + each + " { " + use + " } }\n}\nstart link-page\n"
		text = strings.ReplaceAll(text, "(N,", fmt.Sprintf("(%d,", n))
		d := design.Parse("links.lien", text)
		for _, f := range d.Findings {
			if d.Failed() {
				tb.Fatalf("%s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, text)
			}
		}
		return mountedButtons(tb, d)
	}
	tb.Fatalf("there is no kind of link %s", name)
	return nil, nil
}

// TestLinkKinds: by every kind of link a turn touches what it changes, and
// leaves the page as working it out from scratch gives it.
func TestLinkKinds(t *testing.T) {
	for _, k := range linkKinds {
		e, buttons := linked(t, k.name, 300)
		for _, i := range []int{7, 7, 200, 8} {
			if err := e.Click(buttons[i]); err != nil {
				t.Fatalf("%s: %v", k.name, err)
			}
			for _, rec := range e.Turns() {
				if rec.Refreshed > 3 {
					t.Errorf("%s: %d of %d pieces refreshed", k.name, rec.Refreshed, rec.Pieces)
				}
			}
			if err := consistent(e); err != nil {
				t.Errorf("%s: %v", k.name, err)
			}
		}
	}
}
