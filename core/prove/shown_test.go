package prove

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/flow"
)

// TestShownTooLong: what is only shown, and takes more steps than a turn may have, fails
// the turn in proofs, too.
func TestShownTooLong(t *testing.T) {
	text, err := os.ReadFile("testdata/heavy/shown-too-long.lien")
	if err != nil {
		t.Fatal(err)
	}
	rep := Run(design.Parse("d.lien", string(text)), Options{})
	if o := outcome(rep, "turn-fails"); o.Verdict != Broken {
		t.Errorf("it is %s", o.Verdict)
	}
}

// TestEffort: what is only shown takes no more steps, nor bytes, than the bound says,
// however functions over lists, texts and derived values stand in each other.
func TestEffort(t *testing.T) {
	const around = `
type Ware = { name: string, count: number }
const hot: string[] = Array.from(60, i => ` + "`kiln ${i}`" + `)
derives long(w: Ware): boolean = w.name.toLowerCase().includes("x")
derives pairs(n: number, list: number[]): number = list.filter(a => list.some(b => b == a + n)).length
derives twice(f: (n: number) => number, n: number): number = f(f(n))
derives counted(f: (h: string) => boolean): number = hot.filter(f).length

component k-page {
  holds wares: Ware[] = Array.from(40, i => ({ name: "Bowl and jug", count: i }))
  holds list: number[] = Array.from(50, i => i)
  holds n: number = 1000
  %s
  holds search: string = "something long to look for in all of them"
  derives found = wares.filter(w => w.name.includes(search) || w.count > n)
  derives names = wares.map(w => w.name).join(", ")
  view { p %s }
}
start k-page
`
	run := func(cell, text string) (e *engine.Engine, d *design.Design) {
		if d = design.Parse("d.lien", fmt.Sprintf(around, cell, text)); d.Failed() {
			t.Fatalf("%s: %s", text, d.Errors()[0].Message)
		}
		e = engine.New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			t.Fatalf("%s: %s", text, err)
		}
		return e, d
	}
	checked := 0
	trims := strings.Repeat(".trim()", 8)
	const big = `holds big: string = "".padEnd(600, "a")`
	for _, c := range []struct{ cell, text string }{
		{big, "list.filter(a => big" + trims + " == search).length"},
		{big, "list.map(a => hot.join(big)" + trims + ").length"},
		{`holds rows: number[] = Array.from(3000, i => i)`, "rows.toSorted((a, b) => b - a).length"},
		{`holds one: Ware = { name: "".padEnd(250000, "a"), count: 1 }; holds other: Ware = { name: "".padEnd(250000, "a"), count: 1 }`, "list.filter(a => one == other).length"},
		{"", "n"},
		{"", "search"},
		{"", "found.length"},
		{"", "names"},
		{"", "hot.length"},
		{"", "list.includes(n)"},
		{"", "search.trim().toUpperCase()"},
		{"", "wares.filter(w => w.count > n).length"},
		{"", "wares.filter(long).length"},
		{"", "pairs(n, list)"},
		{"", "twice(i => i + list.indexOf(i), n)"},
		{"", "list.filter(a => list.some(b => b == a + n)).length"},
		{"", "list.filter(a => list.includes(a + n)).length"},
		{"", "wares.map(w => list.filter(a => a < w.count).length).join(\"-\")"},
		{"", "list.concat(list).concat(list).toReversed().length"},
		{"", "[...list, ...list, n].toSorted((a, b) => b - a).length"},
		{"", "names.toLowerCase().includes(search)"},
		{"", "list.map(a => names.indexOf(search)).length"},
		{"", "wares.map(w => names.trim()).length"},
		{"", "list.filter(a => names.toUpperCase() == search).length"},
		{"", "wares.filter(w => found.length > w.count).length"},
		{"", "wares.map(w => ({ ...w, count: n })).some(w => w.count == 0)"},
		{"", "list.map(a => hot.join(\"\")).join(\"\").length"},
		{"", "list.map(a => hot.concat(hot).join(names).toUpperCase()).length"},
		{"", "counted(h => list.filter(a => a > n).length > 0)"},
		{"", many("list", 8) + ".filter(a => " + many("list", 8) + ".some(b => b == a + n)).length"},
	} {
		plain, _ := run(c.cell, `"x"`)
		e, d := run(c.cell, "`${"+c.text+"}`")
		risks := flow.RisksOf(d, false)
		bound, letters := risks.Effort(d, e.Sizes().Or(written(d)))
		if bound == 0 {
			continue // it is worked out in proofs
		}
		checked++
		before, after := plain.Left(), e.Left()
		if steps := before.Steps - after.Steps; float64(steps) > bound {
			t.Errorf("%s: %d steps, more than %.0f", c.text, steps, bound)
		}
		if bytes := before.Bytes - after.Bytes; float64(bytes) > bound*bytesOf(letters) {
			t.Errorf("%s: %d bytes, more than %.0f", c.text, bytes, bound*bytesOf(letters))
		}
	}
	if checked < 15 {
		t.Errorf("only %d were harmless", checked)
	}
}

// many is a list and n more of it.
func many(list string, n int) string { return list + strings.Repeat(".concat("+list+")", n) }
