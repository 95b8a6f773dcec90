package web

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/design"
)

// TestGenerated: pages written at random, with all that components tie together, are the engine's after every step of
// walks at random.
func TestGenerated(t *testing.T) {
	t.Parallel()
	many, steps := 3, 8
	if *judge {
		many, steps = 40**more, 60
	}
	walks(t, many, steps, func(job int) (string, *rand.Rand) {
		r := rand.New(rand.NewPCG(uint64(job), 21))
		return generated(r), r
	})
}

// walks takes steps at random on pages written at random: write gives the page of a job, and what goes on with it. Where a
// page differs it is walked again, twice, with the same steps: a busy machine makes pauses between two gestures, and draws
// late.
func walks(t *testing.T, jobs, steps int, write func(job int) (string, *rand.Rand)) {
	taken := inWindows(t, jobs, func(b *Browser, job int) int {
		b.Minified = job/2%2 == 1
		for try := 1; ; try++ {
			text, r := write(job)
			d := design.Parse("kiln.lien", text)
			if d.Failed() {
				f := d.Errors()[0]
				t.Errorf("seed %d: %s: %s\n%s", job, d.Set.Position(f.Span.Start), f.Message, text)
				return 0
			}
			taken, err := walk(b, d, r, steps)
			switch {
			case err == nil:
				return taken
			case try == 3:
				t.Errorf("seed %d: %v\n%s", job, err, text)
				return taken
			}
			t.Logf("seed %d is walked again: %v", job, err)
		}
	})
	t.Logf("%d steps were taken", taken)
	if taken < jobs*steps/2 {
		t.Error("too few to tell anything")
	}
}

// generating writes a page of parts that hold, take, report, tie, hand out and supply.
type generating struct {
	*rand.Rand
	strings.Builder
}

func (g *generating) pick(list ...string) string { return list[g.IntN(len(list))] }

func (g *generating) line(format string, args ...any) { fmt.Fprintf(g, format+"\n", args...) }

func generated(r *rand.Rand) string {
	g := &generating{Rand: r}
	g.line("type Ware = { id: number, name: string, on: boolean }\n\nchannel news(n: number)\n")
	g.line("context rack {\n  holds heat: number = %d\n  shares most: number = 3\n  emits full(n: number)\n  derives hot = heat > 1", g.IntN(2))
	g.line("  action warm(by: number) { heat = (heat + by) %% 4; if (heat >= most) emit full(heat) }\n  %s\n}\n", g.pick("", "on mount { heat = 1 }", "follows heat from old { log old }"))
	g.tags()
	kinds := 2 + g.IntN(2)
	for i := range kinds {
		g.part(i)
	}
	g.page(kinds)
	return g.String()
}

// tags are parts that show what they are handed, and hand it on; one of them, or none, does more with it.
func (g *generating) tags() {
	g.line("component kiln-leaf {\n  takes n: number\n  takes on: boolean\n  %s\n  view { b `${n} ${on}` { .lit <- on; hidden <- n == 3 } }\n}\n", g.pick("", "on unmount { send news(n) }", "follows n { send news(n) }", "derives more = n + 1"))
	g.line("component kiln-tag {\n  takes n: number\n  takes on: boolean\n  holds kept: number = 0\n  %s\n  view { span { title <- `${n}`; when n != 1 { kiln-leaf { n <- n; on <- on } } else { kiln-leaf { n <- kept; on <- !on } }; %s } }\n}\n",
		g.pick("", "timer again every 300 { kept = n }\n  on mount { start again }", "on unmount { send news(n) }"), g.pick("i `${on}`", "button `Keep ${n}` { click -> kept = n }"))
}

// part is a component of some of what there is.
func (g *generating) part(i int) {
	g.line("component kiln-part-%d {\n  takes label: string\n  takes n: number = 0\n  shares open: boolean = %s\n  emits told(by: number)\n  offers flip() { open = !open }", i, g.pick("false", "true"))
	g.line("  holds own: number = %d", g.IntN(3))
	g.line("  uses rack %s", g.pick("", "{ full(x) -> own = x }"))
	g.line("  derives sum = own + n")
	g.line("  timer tick %s { %s }", g.pick("after 200", "every 300"), g.pick("own = (own + 1) % 4", "open = !open", "emit told(own)"))
	g.line("  hears news(x) { %s }", g.pick("own = x", "log x", "open = x > 1"))
	g.line("  %s", g.pick("", "on mount { start tick }", "on unmount { send news(own) }", "follows n from old { own = old }"))
	g.line("  style { %s }", g.pick("", ".wide { display: none }", ".wide h2 { visibility: hidden }", "::slotted(em) { display: none }", ".wide > input:checked { display: none }", "h2 + button { visibility: hidden } .wide h2 + button { visibility: visible }", "section:has(em) h2 { display: none }"))
	g.line("\n  view {\n    section {\n      .wide <- own == 2\n      h2 `${label} ${sum}`\n      button `Own ${label}` { aria-pressed <- own > 1; click -> %s }",
		g.pick("own = (own + 1) % 4", "{ own = n; emit told(own) }", "{ start tick; own = 0 }", "rack.warm(own)", "send news(own)"))
	g.line("      button `Tell ${label}` { disabled <- %s; click -> { %s } }", g.pick("running(tick)", "rack.hot", "own == 3"), g.pick("emit told(sum % 4)", "open = !open; emit told(1)", "rack.warm(1); emit told(rack.heat)", "stop tick; emit told(2)"))
	g.line("      input { type <- \"checkbox\"; aria-label <- `Open ${label}`; checked %s }", g.pick("<-> open", "<- open; change -> open = !open"))
	g.line("      %s\n      when open { slot { em \"nothing\" } } %s", g.pick("", "kiln-tag { n <- own; on <- open }", "when own != 2 { kiln-tag { n <- n; on <- open } }"), g.pick("", "else { p `shut ${rack.heat}` }"))
	g.line("      slot foot(own <- own, reset <- reset)\n    }\n  }\n\n  action reset() { own = 0 }\n}\n")
}

// page uses the parts, in lists, branches and content of others.
func (g *generating) page(kinds int) {
	g.line("component kiln-page {\n  holds a: number = 1\n  holds shown: boolean = true\n  holds text: string = \"\"\n  holds wares: Ware[] = [{ id: 1, name: \"Bowl\", on: false }, { id: 2, name: \"Jug\", on: true }, { id: 3, name: \"Cup\", on: false }]")
	g.line("  style { %s }", g.pick("", ".lent { visibility: hidden }", ".lent { display: none } .lent.wide { display: block }", ".lent h2, p { display: none }"))
	g.line("  supplies rack as own { %s }", g.pick("most <-> a", "full(n) -> a = n % 4", "most <- 2"))
	g.line("\n  view {")
	part := func(label, open, inside string) string {
		return fmt.Sprintf("kiln-part-%d { "+g.pick("", ".lent <- a == 2; ", ".lent <- shown; ")+"label <- %s; n <- a; open %s; told(by) -> %s%s }", g.IntN(kinds), label, open, g.pick("a = by", "{ a = (a + by) % 4; shown = !shown }", "wares = wares.filter(w => w.id != by)", "log by"), inside)
	}
	g.line("    %s", part(`"One"`, "<-> shown", g.pick("", "; p `${a}`", "; fill foot(own, reset) { button `Reset ${own}` { click -> reset() } }")))
	g.line("    when shown { %s } else { %s }", part(`"Two"`, "= true", "; "+part(`"Inside"`, "= true", "")), g.pick(`p "hidden"`, part(`"Other"`, "<-> shown", "")))
	g.line("    each w at i in %s by %s { %s; input { aria-label <- `Name ${i}`; value <-> w.name } }", g.pick("wares", "wares"), g.pick("w.id", "w.id"), part("w.name", g.pick("<-> w.on", "<- w.on", "= false"), g.pick("", "; em `${w.name} ${i}`")))
	g.line("    button \"Turn\" { click -> wares = %s }", g.pick("wares.toReversed()", "[...wares.slice(1), ...wares.slice(0, 1)]", "wares.filter(w => !w.on)", "wares.map(w => ({ ...w, on: !w.on }))"))
	g.line("    button \"New\" { click -> if (!wares.some(w => w.id == a + 3)) wares = [%s] }", g.pick("...wares, { id: a + 3, name: text, on: true }", "{ id: a + 3, name: text, on: false }, ...wares"))
	g.line("    button \"Show\" { click -> shown = !shown }")
	g.line("    kiln-part-0 named first { label <- \"Named\"; n <- a; told(by) -> a = by }\n    button \"Flip\" { click -> first.flip() }")
	g.line("    select { aria-label <- \"Choose\"; value <- `${a}`; change(e) -> a = Number(e.value) ?? 0; each n in [0, 1, 2, 3] { option `${n}` { value <- `${n}` } } }")
	g.line("    input { aria-label <- \"Text\"; value <-> text }\n    output `${a} ${shown} ${text} ${own.heat} ${wares.map(w => w.name).join()}`\n  }\n}\n\nstart kiln-page")
}
