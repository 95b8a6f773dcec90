package prove

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/design"
)

// shelved is a page whose state is in lists and records: rows that are handed
// on, changed, exchanged, picked and compared in many ways.
func shelved(t *testing.T, seed uint64) *design.Design {
	t.Helper()
	g := &generator{r: rand.New(rand.NewPCG(seed, 31))}
	return sound(t, g.shelves())
}

func (g *generator) shelves() string {
	var out strings.Builder
	out.WriteString(`type Row = { id: string, on: boolean, n: number }
context rack {
  shares rows: Row[] = [{ id: "p", on: false, n: 0 }, { id: "q", on: false, n: 0 }, { id: "r", on: true, n: 0 }]
  shares one: Row = { id: "x", on: false, n: 0 }
  shares flags: boolean[] = [false, true]
  shares picked: Row | null = null
  shares bad: number = 1
  derives full = rows.filter(r => r.on)
  derives first = rows.find(r => r.on)
  action flip(id: string) { rows = rows.map(r => r.id == id ? { ...r, on: !r.on } : r) }
  action swap() { rows = [...rows.slice(1), ...rows.slice(0, 1)] }
  action pick(r: Row) { ` + g.either("one = r", "picked = r", "one = { ...r, n: 0 }", "if (r.on) picked = r else one = r", "rows = rows.map(x => x.id == r.id ? one : x)") + ` }
  action set(on: boolean) { ` + g.either("flags[0] = on", "one.on = on", "bad = on ? 0 : 1") + ` }
`)
	for i := range 4 {
		fmt.Fprintf(&out, "  action do%d() { %s; %s }\n", i, g.rackStmt(), g.rackStmt())
	}
	out.WriteString(`}
component row-box {
  takes row: Row
  takes at: number
  uses rack
  shares on: boolean = false
  follows row { ` + g.either("rack.set(row.on)", "if (row.n > 1) rack.set(true)", "rack.pick(row)", "rack.set(rack.one == row)") + ` }
  view {
    button "flip" { disabled <- ` + g.either("false", "row.n > 1", "rack.one == row", "rack.flags[0] == true", "at > rack.bad") + `; click -> ` +
		g.either("rack.flip(row.id)", "on = !on", "rack.pick(row)", "rack.set(!row.on)", "rack.do3()", "{ rack.pick({ ...row, n: 0 }); rack.flip(row.id) }") + ` }
    when ` + g.either("row.on", "10 % (row.n + rack.bad) > 0", "rack.picked == row", "rack.first == row", "rack.full.length > at", "rack.one.id == row.id") + ` { p "here" }
  }
}
component page-root {
  supplies rack as rack
  view {
`)
	fmt.Fprintf(&out, "    each r at i in %s by %s { row-box { row <- r; at <- i; on <-> r.on } }\n", g.either("rack.rows", "rack.rows", "rack.rows", "shown"), g.either("r.id", "r.id", "r.id", "i"))
	if g.r.IntN(2) == 0 {
		out.WriteString("    each f at i in rack.flags by i { input { type <- \"checkbox\"; checked <-> f } }\n")
	}
	if g.r.IntN(2) == 0 { // with other places of the same cells
		out.WriteString("    when rack.one.on { row-box { row <- rack.one; at <- 0 } }\n")
	}
	for i := range 2 {
		fmt.Fprintf(&out, "    button \"b%d\" { click -> { rack.do%d(); rack.do2() } }\n", i, i)
	}
	fmt.Fprintf(&out, "    when %s { p `${rack.full.length}` } else { p \"none\" }\n  }\n}\nstart page-root\n",
		g.either("rack.full.length > 1", "rack.first?.id == \"q\"", "rack.picked == rack.one", "rack.rows.includes(rack.one)", "rack.flags[1] == true", "rack.rows.every(r => r.on || r.n % (rack.bad + r.n) == 0)",
			"rack.rows.filter(r => r.on).map(r => 10 % rack.one.n).length > 1", "rack.flags.filter(f => f).map(f => 10 % rack.bad).length > 0"))
	text := out.String()
	if strings.Contains(text, "in shown by") {
		text = strings.Replace(text, "; on <-> r.on }", " }", 1)
		text = strings.Replace(text, "  supplies rack as rack\n", "  supplies rack as rack\n  derives shown = rack.rows.filter(r => r.n < 2)\n", 1)
	}
	for i, law := range []string{"never the(rack).rows.every(r => r.on)", "always all(row-box).filter(b => b.row.on).length < 3", "can the(rack).flags[0] == true && the(rack).one.on",
		"turn was(the(rack).rows) == the(rack).rows || the(rack).bad > 0", "settles !the(rack).rows.some(r => r.n == 2)", "always the(rack).picked == null || the(rack).rows.includes(the(rack).one)"} {
		if g.r.IntN(2) == 0 {
			text += fmt.Sprintf("law \"law %d\" { %s }\n", i, law)
		}
	}
	return text
}

// rackStmt is a statement of the context's own.
func (g *generator) rackStmt() string {
	return g.either(`flip("p")`, `flip("q")`, "swap()", "rows = rows.map((r, i) => i == 1 ? { ...r, on: !one.on } : r)", "rows = rows.map((r, i) => i == 0 ? { ...r, n: (one.n + 1) % 3 } : r)", "one.on = !one.on",
		"one.n = (one.n + 1) % 3", "flags[0] = flags[1] == false", "flags[1] = rows[0]?.on == true", "picked = rows.at(2)", "picked = null",
		"for (r of rows) if (r.on) one = r", "if (picked == one) bad = 0 else bad = 1", "rows = rows.map(r => ({ id: r.id, on: one.on, n: r.n }))",
		"rows = rows.map(r => ({ ...r, n: (r.n + 1) % 2 }))", "if (rows.length > 1) rows[1] = { ...one, id: \"q\" }", "one = rows.find(r => r.on) ?? one", "log `${one.on}`",
		"rows = rows.slice(0, 2)", `if (rows.length < 3) rows = [...rows, { ...one, id: "z" }]`, "flags = flags.length > 1 ? [one.on] : [one.on, false]",
		"rows = full.length == 0 ? rows : [...rows.filter(r => !r.on), ...full]", "one = picked ?? one", "flags = [one.on, rows[0]?.on ?? false]")
}

// TestListsArePartedRightly: cells with lists and records are spread over
// places, and turns remembered by the parts that they read; what is found is
// what a search finds that keeps them whole and takes every turn.
func TestListsArePartedRightly(t *testing.T) {
	for seed := range uint64(designs(18, 200)) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) { samePartedOrNot(t, shelved(t, seed)) })
	}
}

func samePartedOrNot(t *testing.T, d *design.Design) {
	var want string
	for _, o := range []Options{{Plain: true, forget: true}, {Plain: true}, {}} {
		o.States, o.Workers = 500, 1
		rep := Run(d, o)
		if s := rep.Starts[0]; s.Symmetric || s.Parts > 1 && strings.Contains(want, "cut") {
			continue // fewer states, or more than the bound
		}
		got := toldShort(rep)
		if want == "" {
			want = got
		}
		if got != want {
			t.Fatalf("%+v: it is\n%s\nwhere every turn is taken\n%s\n%s", o, got, want, d.Set.Files()[0].Text)
		}
	}
}

// toldShort is what a proof found, with the lengths of the ways there.
func toldShort(rep *Report) string {
	var out strings.Builder
	for _, o := range rep.Laws {
		fmt.Fprintln(&out, o.Name(), o.Verdict)
		if o.Breach != nil && o.Breach.Path != nil {
			fmt.Fprintln(&out, len(o.Breach.Path.Steps))
		}
	}
	for _, s := range rep.Starts {
		fmt.Fprintln(&out, s.States, s.Turns, s.Depth)
	}
	for _, c := range rep.Cuts {
		c, _, _ = strings.Cut(c, ";") // which cells made the states many
		fmt.Fprintln(&out, "cut", c)
	}
	fmt.Fprintln(&out, rep.Learned)
	return out.String()
}
