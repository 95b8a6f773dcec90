package flow_test

import (
	"strings"
	"testing"

	"lien/core/flow"
)

// TestTwins: cells that one handler sets to the same value, in the component and
// across a report, an action and a forwarded event; and none that are set apart.
func TestTwins(t *testing.T) {
	for _, c := range []struct{ name, handler, listens, want string }{
		{"both set", `{ x = v; y = v }`, ``, "a-b.x a-b.y"},
		{"one read from the other", `{ x = v; y = x }`, ``, "a-b.x a-b.y"},
		{"set apart", `{ if (v > 1) x = v else y = v }`, ``, ""},
		{"constants", `{ x = 0; y = 0 }`, ``, ""},
		{"kept by who hears it", `{ x = v; emit told(v) }`, `told(k) -> kept = k`, "a-b.x page-root.kept"},
		{"reported as it is kept", `{ x = v; emit told(x) }`, `told(k) -> kept = k`, "a-b.x page-root.kept"},
		{"kept in an action", `{ x = v; emit told(v) }`, `told(k) -> keep(k)`, "a-b.x page-root.kept"},
		{"passed to an action", `{ x = v; emit told(v) }`, `told -> keep`, "a-b.x page-root.kept"},
		{"worked on", `{ x = v; emit told(v) }`, `told(k) -> kept = k + 1`, ""},
		{"not kept", `{ emit told(v) }`, `told(k) -> kept = k`, ""},
		{"not heard", `{ x = v; emit told(v) }`, ``, ""},
		{"kept two reports further on", `{ x = v; emit far(v) }`, `far(k) -> more(k)`, "a-b.x page-root.kept"},
		{"kept under a condition", `{ x = v; if (v > 2) emit told(v) }`, `told(k) -> kept = k`, ""},
	} {
		d := parsed(t, strings.NewReplacer("HANDLER", c.handler, "LISTENS", c.listens).Replace(`component a-b {
  emits told(v: number)
  emits far(v: number)
  holds x: number = 0
  holds y: number = 0
  action set(v: number) HANDLER
  view { button "b" { click -> set(x + y + 1) } }
}
component page-root {
  holds kept: number = 0
  action keep(k: number) { kept = k }
  action more(k: number) { keep(k) }
  view { a-b { LISTENS }; p "x" }
}
start page-root
`))
		var got []string
		for _, w := range flow.TwinsIn(d, flow.Of(d).Heard) {
			got = append(got, w.A.Owner.Name+"."+w.A.Label, w.B.Owner.Name+"."+w.B.Label)
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
}

// TestExact: whether all that a value can be is written in the design.
func TestExact(t *testing.T) {
	for _, c := range []struct {
		init string
		want bool
	}{
		{`"ash"`, true}, {`list[0] ?? "none"`, true}, {`cards.find(c => c.level > 1)?.answer ?? "none"`, true}, {`typed`, true},
		{`list.join(" ")`, false}, {`"a".toUpperCase()`, false}, {"`${list.length}`", false}, {`list.map(s => s + "!")[0] ?? "none"`, false},
		{`list.filter(s => s != "b").at(-1) ?? "none"`, true}, {`pick(1)`, true}, {`pick(2) + "!"`, false},
		{`["x"].concat(list)[0] ?? "none"`, true}, {`list.concat([list.join("")])[0] ?? "none"`, false}, {`[typed, "y"].at(0) ?? "none"`, true},
		{`(typed == "x" ? list : ["c"]).slice(1)[0] ?? "none"`, true}, {`own.glaze`, true}, {`own.shown`, false}, {`-1`, true}, {`-list.length`, false},
		{`({ id: typed }).id`, true}, {`({ id: typed.trim() }).id`, false}, {`chosen(k => k == 1 ? "low" : "top")`, true}, {`chosen(k => k.toFixed(1))`, false},
	} {
		d := parsed(t, `const cards = [{ answer: "ash", level: 1 }, { answer: "shino", level: 2 }]
const list = ["a", "b"]
derives pick(n: number) = n == 1 ? "one" : "two"
derives chosen(of: (k: number) => string) = of(1)
context rack { shares glaze: string = "ash"; derives shown = glaze.toUpperCase() }
component a-b {
  supplies rack as own
  holds typed: string = "x"
  derives it = `+c.init+`
  view { p `+"`${it} ${typed}`"+` }
}
start a-b
`)
		if got := flow.Of(d).Exact(d.Component("a-b").Member("it").Init.Expr); got != c.want {
			t.Errorf("%s is exact: %v, want %v", c.init, got, c.want)
		}
	}
}

// TestHarmless: what may fail a turn, and what cannot.
func TestHarmless(t *testing.T) {
	for _, c := range []struct {
		init         string
		want, strict bool
	}{
		{"n", true, true}, {"n + 1", true, false}, {"-n", true, true}, {"n * 2", false, false}, {"10 / n", false, false}, {"n % 3", false, false},
		{"`${n} of ${list.length}`", true, false}, {"list.map(x => x + 1).filter(x => x > n)", true, false}, {`list.join(", ")`, true, false},
		{`list.map(x => list.join(" ")).join(", ")`, false, false}, {"list.reduce((a, x) => a + x, 0)", false, false}, {"n.toFixed(2)", false, false},
		{"twice(n)", true, false}, {"third(n)", false, false}, {"again", true, false}, {"list.some(x => list.some(y => list.some(z => x == y && y == z)))", false, false},
		{"n == 1 ? 2 : 3", true, true}, {"many", false, false},
	} {
		d := parsed(t, `derives twice(x: number) = x + x
derives third(x: number) = x / 3
component a-b {
  holds n: number = 1
  holds list: number[] = [1, 2]
  derives again = n + n
  derives m2 = again + again + again
  derives m3 = m2 + m2 + m2
  derives many = m3 + m3
  derives it = `+c.init+`
  view { p `+"`${it == it}`"+` }
}
start a-b
`)
		x := d.Components[0].Member("it").Init.Expr
		if got := flow.RisksOf(d, false).Harmless(x); got != c.want {
			t.Errorf("%s is harmless: %v, want %v", c.init, got, c.want)
		}
		if got := flow.RisksOf(d, true).Harmless(x); got != c.strict {
			t.Errorf("%s is harmless for values of any size: %v, want %v", c.init, got, c.strict)
		}
	}
}
