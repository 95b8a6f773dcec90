package design

import (
	"fmt"
	"strings"
	"testing"
)

// TestEffects: what each statement, expression and node does, in the order in which
// it is written.
func TestEffects(t *testing.T) {
	names := map[EffectKind]string{Reads: "reads", Writes: "writes", Calls: "calls", Reports: "reports", Sends: "sends", Asks: "asks", Opens: "opens",
		Leaves: "leaves", Starts: "starts", Stops: "stops", Tells: "tells", Coins: "coins", Logs: "logs", Prevents: "prevents", Fails: "fails"}
	for _, c := range []struct{ does, want string }{
		{`x = 1`, "writes x"},
		{`x = y`, "writes x, reads y"},
		{`x += y`, "writes x, reads x, reads y"},
		{`row.n = 1`, "writes row, fails"},
		{`rows[x] = row`, "writes rows, fails, reads x, reads row"},
		{`if (x > 1) y = 2`, "reads x, writes y"},
		{`for (r of rows) y = r.n`, "reads rows, writes y, reads r"},
		{`const k = x`, "reads x"},
		{`emit told(x)`, "reports told, reads x"},
		{`go(x)`, "calls go, reads go, reads x"},
		{`start late`, "starts late"},
		{`stop late`, "stops late"},
		{`x = running(late) ? 1 : 0`, "writes x, reads late"},
		{`send news(x)`, "sends, reads x"},
		{`ask log.load(x) { got(v) -> y = v; failed(w) -> log w }`, "asks, reads x, writes y, reads v, logs, reads w"},
		{`open ask-part { name <- x; done(v) -> y = v }`, "opens, reads x, writes y, reads v"},
		{`leave told(x)`, "reports told, leaves, reads x"},
		{`leave`, "leaves"},
		{`log x, y`, "logs, reads x, reads y"},
		{`x = now()`, "writes x, tells"},
		{`key = fresh()`, "writes key, coins"},
		{`x = 10 / y`, "writes x, fails, reads y"},
		{`x = rows.reduce((a, r) => a + r.n, 0)`, "writes x, fails, reads rows, reads a, reads r"},
		{`x = twice(y)`, "writes x, calls twice, reads twice, reads y"},
		{`return`, ""},
	} {
		d := Parse("effects.lien", `channel news(v: number)
service log { load(k: number): number replies k fails "off" }
derives twice(v: number) = v + v
component ask-part { takes name: number; emits done(v: number); view { button "b" { click -> leave done(name) } } }
component a-b {
  emits told(v: number)
  holds x: number = 0
  holds y: number = 0
  holds row: { n: number } = { n: 1 }
  holds rows: { n: number }[] = []
  holds key: Key = fresh()
  timer late after 100 { x = 1 }
  action go(v: number) { x = v }
  action does() { `+c.does+` }
}
`)
		if d.Failed() {
			t.Fatalf("%s: %s", c.does, d.Findings[0].Message)
		}
		var got []string
		Visitor{Effect: func(e Effect) {
			text := names[e.Kind]
			switch e.Kind {
			case Reads:
				text += " " + e.Symbol.Name()
			case Writes:
				text += " " + e.Cell().Label
			case Reports, Starts, Stops:
				text += " " + e.Event.Label
			case Calls:
				if m := e.Called(); m != nil {
					text += " " + m.Label
				} else {
					text += " twice"
				}
			}
			got = append(got, text)
		}}.Body(d.Component("a-b").Member("does").Body)
		if said := strings.Join(got, ", "); said != c.want {
			t.Errorf("%s: %q, want %q", c.does, said, c.want)
		}
	}
}

// TestBodies: every body is visited once.
func TestBodies(t *testing.T) {
	d := Parse("bodies.lien", `channel news(v: number)
context rack { emits full(); holds n: number = 0; action add() { n += 1; if (n > 2) emit full() } }
component ask-part { emits done(); view { button "b" { click -> leave done() } } }
component a-b {
  uses rack { full -> x = 9 }
  holds x: number = 0
  derives d = x set v { x = v }
  timer late after 100 { x = 1 }
  on mount { x = 2 }
  follows x { start late }
  hears news(v) { x = v }
  action go() { open ask-part { done -> x = 4 } }
  view { button "b" { click -> { go(); rack.add(); d = 3; send news(1) } } }
}
component root-page { supplies rack; view { a-b } }
start root-page
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	seen := map[*Body]int{}
	d.Bodies(func(b *Body) { seen[b]++ })
	for b, n := range seen {
		if n != 1 {
			t.Errorf("%s is visited %d times", d.Set.Position(b.At.Start), n)
		}
	}
	if len(seen) != 11 {
		t.Errorf("there are %d bodies", len(seen))
	}
	walked := 0
	Visitor{Stmt: func(Stmt) { walked++ }}.Design(d)
	if walked < 14 {
		t.Errorf("only %d statements: %s", walked, fmt.Sprint(seen))
	}
}
