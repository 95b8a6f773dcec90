package prove

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
)

// generated is a small design with a few laws, some of which break: cells,
// items, a context, timers, questions, opened parts and keys, at random.
func generated(t *testing.T, seed uint64) *design.Design {
	t.Helper()
	g := &generator{r: rand.New(rand.NewPCG(seed, 11)), looks: rand.New(rand.NewPCG(seed, 12))}
	text := g.design()
	return sound(t, text)
}

// sound is a design that was written at random, which must have no errors.
func sound(t *testing.T, text string) *design.Design {
	t.Helper()
	d := design.Parse("random.lien", text)
	for _, f := range d.Findings {
		if f.Level == finding.Error {
			t.Fatalf("the generator wrote a design that is wrong: %s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, text)
		}
	}
	return d
}

type generator struct {
	r     *rand.Rand
	looks *rand.Rand      // of styles, or nil: there are none
	with  map[string]bool // what this design has
}

// style writes styles that hide, in one design of three, or else nothing.
func (g *generator) style() string {
	if g.looks == nil || g.looks.IntN(3) > 0 {
		return ""
	}
	list := []string{".off { display: none }", ".off { visibility: hidden }", ".low:not(.off) { display: none }", "button[title=\"1\"] { display: none }", ".off, .low { visibility: hidden }", ".low + button { display: none }", "button:focus.low { visibility: hidden }"}
	return "  style { " + list[g.looks.IntN(len(list))] + " }\n"
}

// marks are classes and attributes that styles go by.
var marks = []string{"", ".off <- a; ", ".low <- b; ", ".off <- n == 1; ", ".off <- n > 1; .low <- a; ", ".low <- mode == \"off\"; ", "title <- `${n}`; "}

// mark writes a class for a style: one of some.
func (g *generator) mark(list ...string) string {
	if g.looks == nil {
		return ""
	}
	return list[g.looks.IntN(len(list))]
}

// choice is something to write, and what the design must have for it.
type choice struct{ needs, text string }

// pick picks one of those that the design has what they need for.
func (g *generator) pick(list ...choice) string {
	for {
		c := list[g.r.IntN(len(list))]
		if c.needs == "" || g.with[c.needs] {
			return c.text
		}
	}
}

func (g *generator) either(list ...string) string { return list[g.r.IntN(len(list))] }

// only writes a text if the design has what it needs.
func (g *generator) only(needs, text string) string {
	if g.with[needs] {
		return text
	}
	return ""
}

func (g *generator) design() string {
	all := []string{"tray", "parts", "ask", "timer", "open", "marks", "mode", "deep", "fold", "news", "named", "pages", "find", "form", "filter", "glow", "shelves", "loads", "hooks", "handed", "around", "gathered", "setter", "details", "radios", "picked"}
	g.with = map[string]bool{}
	for range 1 + g.r.IntN(2) {
		g.with[all[g.r.IntN(len(all))]] = true
	}
	g.with["parts"] = g.with["parts"] || g.with["gathered"]
	g.with["tray"] = g.with["tray"] || g.with["parts"]
	var out strings.Builder
	out.WriteString(`type Part = { id: string, on: boolean }
type Mark = { id: Key, big: boolean }
service log { load(k: number): boolean replies k > 0 fails "off" ` + g.either("", "after 100") + ` }
context tray {
  holds hot: boolean = false
  action heat() { hot = !hot }
}
component part-row {
  takes part: Part
  uses tray
  shares on: boolean = false
  holds own: boolean = false
  offers own
  emits told(id: string)
  timer rest after ` + g.either("100", "200") + ` { own = false }
  view {
    button "own" { disabled <- ` + g.either("on", "tray.hot", "false") + `; click -> { own = !own; ` + g.either("start rest", "on = false", "on = own") + ` } }
    button "on" { click -> { on = !on; emit told(part.id) } }
    when own { button "heat" { click -> tray.heat() } }
  }
}
component ask-part {
  emits answered(ok: boolean)
  emits dismissed()
  view { button "yes" { click -> leave answered(true) }; button "no" { click -> leave answered(false) } }
}
channel news(on: boolean)
component fold-box {
  takes title: string
  shares open: boolean = true
  view { button ` + "`${title}`" + ` { click -> ` + g.either("open = !open", "open = !open", "open = false", "if (open) open = false else open = true") + ` }; when open { slot } ` + g.either("", "else { slot note { p \"closed\" } }") + ` }
}
component news-row {
  holds heard: boolean = false
  emits said()
  hears news(on) { ` + g.either("heard = on", "heard = !heard; emit said()", "if (on) emit said()") + ` }
  offers flip() { heard = !heard }
  offers heard
  view { when heard { p "heard"; button "mute" { click -> heard = false } } }
}
component step-pager {
  holds page: number = 0
  action turn(by: number) { page = (page + by) % 2 }
  view { slot controls(page <- page, turn <- turn) }
}
component glow-part {
  shares lit: boolean = false
  holds own: boolean = false
  timer cool after ` + g.either("100", "200") + ` { ` + g.either("lit = false", "lit = false; own = !own", "if (own) lit = false") + ` }
  view { button "light" { ` + g.either("disabled <- lit; ", "") + `click -> { lit = true; start cool } }; button "glow" { click -> own = !own } }
}
component shelf-field {
  shares value: string[] = [] field
  view { button "add" { disabled <- value.length > 1; click -> value = [...value, "low"] } }
}
component load-part {
  takes nr: number
  holds own: boolean = false
  emits told(ok: boolean)
  view { button ` + "`" + `load ${nr}` + "`" + ` { disabled <- own; click -> ask log.load(nr) { got(x) -> own = x; failed(why) -> emit told(false) } }; button ` + "`" + `find ${nr}` + "`" + ` { click -> ask finder.find(nr) { got(x) -> { own = x == nr; emit told(own) } } } }
}
component hook-part {
  takes a: boolean
  holds seen: number = 0
  emits came(n: number)
  emits went()
  on mount { ` + g.either("emit came(1)", "seen = 1", "if (a) emit came(2)") + ` }
  on unmount { ` + g.either("emit went()", "if (seen > 0) emit went()") + ` }
  timer tick every 100 { ` + g.either("if (seen > 0) seen = 2", "seen = (seen + 1) % 3") + ` }
  view { button "see" { click -> { seen = (seen + 1) % 2; ` + g.either("start tick", "stop tick", "emit came(seen)") + ` } } }
}
component take-part {
  takes act: (k: number) => void
  takes ok: (k: number) => boolean
  holds k: number = 0
  view { button "act" { disabled <- !ok(k); click -> { act(k); k = 1 - k } } }
}
component key-part {
  holds off: boolean = false
  view { span { button "key" { disabled <- off; ` + g.either("", "click -> off = true", "click(e) -> { e.stopPropagation(); off = true }") + ` }; button "free" { click -> off = !off } } }
}
component pick-cell {
  takes part: Part
  takes held: boolean
  emits turned(to: Part)
  holds busy: boolean = false
  derives idle: boolean = !part.on
  view { button "pick" { disabled <- busy || idle && !held; click -> { busy = true; ask finder.find(1) { got(x) -> { emit turned({ ...part, on: ` + g.either("!part.on", "x == 0", "held") + ` }); busy = false }; failed(why) -> busy = false } } } }
}
service finder { find(k: number): number replies k fails "none" }
component page-root {
` + g.only("tray", "  supplies tray as own\n") + `  holds parts: Part[] = [{ id: "p", on: false }, { id: "q", on: true }]
  holds a: boolean = false
  holds b: boolean = false
  holds n: number = 0
  holds mode: "low" | "high" | "off" = "low"
  holds text: string = ""
  holds marks: Mark[] = []
  timer soak(k: number) after k * 100 + 50 { ` + g.stmt() + ` }
  timer drip after 100 { ` + g.stmt() + ` }
  follows n { ` + g.either("b = !b", "if (n > 1) a = false", "mode = n == 2 ? \"off\" : mode", g.stmt()) + ` }
  action ask() { ask log.load(n) { got(x) -> a = x; failed(why) -> b = true } }
  holds found: number = 0
  holds noted: boolean = false
  holds warm: boolean = false
  holds only: boolean = ` + g.either("false", "false", "true") + `
  holds look: string = ""
  derives listed = parts.filter(p => ` + g.either("(!only || p.on)", "(!only || p.on) && p.id.includes(look)", "p.on || !only", "look == \"\" || p.id == look", "only == p.on") + `)
  action onlyOn() { ` + g.either("only = !only", "only = !only; look = \"\"", "only = true", "only = !only; n = 0") + ` }
  holds booked: string = ""
  action keep(k: number) { ` + g.either("n = k", "if (b) n = k", "a = k > 0") + ` }
  derives may(k: number) = ` + g.either("k == n", "!a", "k < 1 || b") + `
  derives half = n * 2 set v { ` + g.either("n = v > 2 ? 2 : 0", "a = v > 2", "if (b) n = 1") + ` }
` + g.only("gathered", "  gathers part-row as rows\n") + `  action find(k: number) { ask finder.find(k) { got(x) -> ` + g.either("found = x", "if (found == 0) found = x", "{ found = x; a = !a }") + ` } }
` + g.style() + `  view {
    button "go" { ` + g.mark(marks...) + `click -> { ` + g.stmt() + ` } }
    button "turn" { ` + g.mark(marks...) + `click -> { ` + g.stmt() + "; " + g.stmt() + ` } }
` + g.only("deep", "    when "+g.cond()+" { button \"deep\" { "+g.mark("", ".low <- warm; ", ".off <- warm; ")+"click -> { "+g.stmt()+" } } } else { p \"no\" }\n") +
		g.only("parts", "    each part in parts by part.id { part-row { part <- part; on <-> part.on; told(id) -> { "+g.stmt()+" } } }\n") +
		g.only("picked", "    each kind in [\"p\", \"q\"] { each p in parts.filter(x => x.id == kind) by p.id { pick-cell { part <- p; held <- a; turned(to) -> parts = parts.map(x => x.id == to.id ? to : x) } } }\n") +
		g.only("marks", "    each m in marks by m.id { button \"mark\" { click -> marks = marks.filter(x => x.id != m.id) } }\n") +
		g.only("fold", "    fold-box { title <- \"fold\"; button \"in fold\" { click -> { "+g.stmt()+" } }; "+g.either("", "p `${n}`", "when a { p \"a\" }", "input { type <- \"checkbox\"; checked <-> b }")+" }\n") +
		g.only("news", strings.Replace(g.either("    %s\n", "    when b { %s }\n", "    div { %s }\n", "    when !b { %s } else { p \"no\" }\n"), "%s", "news-row named news { said -> { "+g.stmt()+" } }", 1)) +
		g.only("filter", "    button \"only\" { click -> onlyOn() }; input { aria-label <- \"look\"; value <-> look }\n    each p in listed by p.id { button `use ${p.id}` { click -> { "+g.stmt()+" } }; "+g.either("", "input { type <- \"checkbox\"; checked <- p.on; change -> parts = parts.map(x => x.id == p.id ? { ...x, on: !x.on } : x) }", "step-pager { fill controls(page, turn) { button `turn ${p.id}` { click -> turn(1) } } }")+" }\n    when "+g.either("listed.length == 0", "only", "look == \"\"")+" { "+g.either("p \"none\"", "button \"b\" { click -> { "+g.stmt()+" } }")+" }\n") +
		g.only("pages", "    step-pager { fill controls(page, turn) { button \"turn page\" { disabled <- a; click -> turn(1) }; when page == 1 { p \"second\"; button \"on page\" { click -> { "+g.stmt()+" } } } } }\n") +
		g.only("form", "    form named booking { submit(values) -> { booked = values.maker; "+g.stmt()+" }; input { name <- \"maker\"; aria-label <- \"maker\" }; button \"book\" { disabled <- "+g.either("b", "false", "!booking.dirty")+" }; button \"clear\" { type <- \"reset\" } }\n    when booked == \"x\" { p \"x\" }\n") +
		g.only("glow", "    glow-part { lit <-> "+g.either("a", "b", "warm")+" }; button \"put out\" { click -> "+g.either("warm = false", "a = false", "{ warm = a; b = false }")+" }\n") +
		g.only("loads", "    load-part { nr <- 0; told(ok) -> a = ok }; load-part { nr <- "+g.either("0", "n", "1")+"; told(ok) -> { "+g.stmt()+" } }\n") +
		g.only("hooks", "    when "+g.either("a", "b", "n == 1")+" { hook-part { a <- b; came(k) -> { "+g.either("n = k", "b = k > 1", g.stmt())+" }; went -> { "+g.stmt()+" } } }\n") +
		g.only("handed", "    take-part { act <- keep; ok <- may }\n") +
		g.only("around", "    div { "+g.either("click", "mouseup", "focusin")+" -> { "+g.stmt()+" }; key-part; "+g.either("", "fold-box { title <- \"box\"; key-part }")+" }\n") +
		g.only("gathered", "    button \"count\" { click -> "+g.either("n = rows.length", "if (rows.some(r => r.own)) a = true")+" }; when rows.length > 1 { p \"rows\" }\n") +
		g.only("setter", "    button \"half\" { click -> half = "+g.either("4", "a ? 4 : 0", "half + 2")+" }\n") +
		g.only("details", "    details { summary \"more\"; "+g.either("p \"in\"", "button \"in\" { click -> { "+g.stmt()+" } }")+"; toggle -> { "+g.stmt()+" } }\n") +
		g.only("radios", "    input { type <- \"radio\"; name <- \"r\"; aria-label <- \"r1\"; checked <- a; change -> { "+g.stmt()+" } }; input { type <- \"radio\"; name <- \"r\"; aria-label <- \"r2\"; change -> b = !b }\n") +
		g.only("shelves", "    form { shelf-field { name <- \"shelves\"; "+g.either("", "value = [\"top\"]")+" }; button \"empty\" { "+g.either("", "disabled <- a; ")+"type <- \"reset\" } }\n") +
		"    " + g.either("", `button "note" { click -> noted = !noted }`, `button "note" { click -> noted = !noted }; when noted { p "noted" }`) + "\n" +
		"    " + g.either("", `input { type <- "checkbox"; checked <-> b }`, `input { value <-> text }; when text == "off" { p "off" }`,
		`select { value <-> mode; option { value <- "low"; "Low" }; option { value <- "high"; "High" }; option { value <- "off"; "Off" } }`,
		`button "keyed" { keydown(e) -> if (e.key == "Escape") a = !a }`) + `
  }
}
start page-root
`)
	for i := range 4 {
		fmt.Fprintf(&out, "law \"law %d\" { %s }\n", i+1, g.law())
	}
	return out.String()
}

func (g *generator) stmt() string {
	return g.pick(choice{"", "a = !a"}, choice{"", "b = a"}, choice{"", "n = (n + 1) % 3"}, choice{"", "n = 10 % (n + 1)"},
		choice{"mode", "mode = a ? \"high\" : \"low\""}, choice{"timer", "start soak(n)"}, choice{"timer", "stop soak"}, choice{"timer", "start drip"},
		choice{"timer", "if (running(drip)) a = true"}, choice{"ask", "ask()"}, choice{"open", "open ask-part { answered(ok) -> b = ok }"},
		choice{"open", "open modal ask-part { answered(ok) -> a = ok }"}, choice{"marks", "if (marks.length < 2) marks = [...marks, { id: fresh(), big: a }]"},
		choice{"parts", "parts = parts.toReversed()"}, choice{"tray", "own.heat()"}, choice{"news", "send news(a)"}, choice{"news", "news?.flip()"}, choice{"news", "if (news?.heard == true) b = !b"},
		choice{"find", "find(n)"}, choice{"find", "find(a ? 1 : 2)"}, choice{"form", "booking.reset()"}, choice{"open", "open ask-part { answered(ok) -> { if (ok && n == 1) a = !a else b = n == 2 }; dismissed -> n = 0 }"},
		choice{"parts", "parts = parts.map(p => p.id == \"q\" ? { ...p, on: a } : p)"}, choice{"", "if (b) n = 2 else a = true"},
		choice{"", "if (a) { if (b) return }"}, choice{"", "if (n > 1) return"}, choice{"parts", "for (p of parts) { n = (n + 1) % 3; if (b) return }"})
}

func (g *generator) cond() string {
	return g.pick(choice{"", "a"}, choice{"", "b && a"}, choice{"", "n == 2"}, choice{"mode", "mode == \"high\""}, choice{"marks", "marks.length > 1"},
		choice{"tray", "own.hot"}, choice{"timer", "running(soak)"}, choice{"parts", "parts[0]?.on == true"}, choice{"find", "found > 1"}, choice{"form", "booking.dirty"}, choice{"news", "news?.heard == true"}, choice{"", "text == \"off\""})
}

func (g *generator) law() string {
	s := g.pick(choice{"", "always !($a && $b)"}, choice{"", "never $n == 2"}, choice{"marks", "always $marks.length < 2"}, choice{"", "can $n == 2 && $a"},
		choice{"mode", "can $mode == \"off\""}, choice{"", "settles !$a"}, choice{"", "settles $n < 2"}, choice{"", "turn was($n) == $n || reported(part-row.told)"},
		choice{"parts", "turn all(part-row).length == 2"}, choice{"open", "always all(ask-part).length < 2"},
		choice{"parts", "never all(part-row).every(p => p.own)"}, choice{"tray", "always !the(tray).hot || $a"}, choice{"parts", "always $parts.some(p => p.on)"},
		choice{"", "turn !($a && was($b) == true)"}, choice{"filter", "never $only && $a"}, choice{"filter", "can $parts.every(p => p.on)"}, choice{"fold", "always the(fold-box).open || $a"}, choice{"fold", "can !the(fold-box).open"}, choice{"news", "always all(news-row).every(r => !r.heard || $a)"},
		choice{"pages", "never the(step-pager).page == 1 && $b"}, choice{"find", "never $found == 2"}, choice{"find", "settles $found < 2"}, choice{"form", "never $booked == \"x\""},
		choice{"glow", "never $warm && $a"}, choice{"hooks", "never all(hook-part).some(h => h.seen == 2)"}, choice{"handed", "never the(take-part).k == 1 && $a"},
		choice{"around", "never all(key-part).some(k => k.off) && $a"}, choice{"gathered", "never the(page-root).rows.length == 2 && $n == 2"}, choice{"setter", "settles the(page-root).half < 4"}, choice{"loads", "never all(load-part).every(p => p.own)"}, choice{"loads", "always !waiting(log.load) || !$a"}, choice{"glow", "can $warm && !the(glow-part).own"}, choice{"shelves", "stays the(shelf-field).value.length == 2 until false"}, choice{"shelves", "never the(shelf-field).value.length == 2 && $a"})
	for _, m := range []string{"warm", "only", "found", "booked", "mode", "marks", "parts", "text", "a", "b", "n"} {
		s = strings.ReplaceAll(s, "$"+m, "the(page-root)."+m)
	}
	return s
}

// sideBySide is a page of several things of which some know of each other:
// boxes, switches that another one disables, counters, and laws over some.
func sideBySide(t *testing.T, seed uint64) *design.Design {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, 23))
	var cells, view, laws strings.Builder
	things := 2 + r.IntN(3)
	for i := range things {
		other := r.IntN(things)
		switch r.IntN(5) {
		case 0:
			fmt.Fprintf(&cells, "  holds c%d: number = 0\n", i)
			fmt.Fprintf(&view, "    button \"up %d\" { disabled <- c%[1]d > 1; click -> c%[1]d += 1 }; button \"down %[1]d\" { click -> if (c%[1]d > 0) c%[1]d -= 1 }\n", i)
		case 1:
			fmt.Fprintf(&cells, "  holds c%d: number = 0\n", i)
			fmt.Fprintf(&view, "    button \"go %d\" { disabled <- c%d > 0; click -> c%[1]d = 1 - c%[1]d }\n", i, other)
		case 2:
			fmt.Fprintf(&cells, "  holds c%d: number = 0\n  follows c%[1]d { c%d = c%[1]d }\n", i, other)
			fmt.Fprintf(&view, "    button \"set %d\" { click -> c%[1]d = (c%[1]d + 1) %% 3 }\n", i)
		case 3:
			fmt.Fprintf(&cells, "  holds c%d: number = 0\n", i)
			fmt.Fprintf(&view, "    select { value <-> m%d; option { value <- \"a\"; \"A\" }; option { value <- \"b\"; \"B\" } }\n", i)
			fmt.Fprintf(&cells, "  holds m%d: \"a\" | \"b\" = \"a\"\n", i)
		case 4:
			fmt.Fprintf(&cells, "  holds c%d: number = 0\n  holds o%[1]d: boolean = false\n", i)
			fmt.Fprintf(&view, "    input { type <- \"checkbox\"; checked <-> o%d }; when %s { button \"x%[1]d\" { click -> c%[1]d = 1 } }\n", i, []string{"false", fmt.Sprintf("o%d", i)}[r.IntN(2)])
		}
		fmt.Fprintf(&view, "    p `${c%d}`\n", i)
		if r.IntN(2) == 0 { // what is shown tells nothing that the cells do not
			fmt.Fprintf(&view, "    when c%d == %d && c%d < 2 { p \"both\" } else when c%[1]d > 1 { p { b \"many\" } }\n", i, r.IntN(3), other)
		}
		fmt.Fprintf(&laws, "law \"law %d\" { %s }\n", i, []string{fmt.Sprintf("always the(page-root).c%d < 2", i), fmt.Sprintf("never the(page-root).c%d == 2 && the(page-root).c%d == 1", i, other),
			fmt.Sprintf("can the(page-root).c%d == 1", i), fmt.Sprintf("turn was(the(page-root).c%d) == the(page-root).c%d || the(page-root).c%[1]d > 0", i, other)}[r.IntN(4)])
	}
	text := "component page-root {\n" + cells.String() + "  view {\n" + view.String() + "  }\n}\nstart page-root\n" + laws.String()
	return sound(t, text)
}

// asking is a page of a few parts that ask, of which some ask the same, once or
// again, and hear of it in one place or several.
func asking(t *testing.T, seed uint64) *design.Design {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, 31))
	either := func(list ...string) string { return list[r.IntN(len(list))] }
	fails, failed := "", ""
	if r.IntN(2) == 0 {
		fails, failed = ` fails "off"`, either("", "; failed(why) -> got = 2")
	}
	text := `service log { load(k: number): number replies ` + either("k", "1 - k") + fails + `; look(): number replies 2 }
component ask-part {
  takes nr: number
  holds got: number = 0
  holds said: string = ""
  emits told(n: number)
  view {
    p ` + "`${said}`" + `
    button ` + "`load ${nr}`" + ` { disabled <- ` + either("got > 0", "false", "got == nr") + `; click -> ask log.load(` + either("nr", "got", "got") + `) { got(x) -> ` + either("got = x", "{ got = x + 1; emit told(x) }", "emit told(nr)", "said = x == 0 ? \"low\" : \"high\"", "{ got = 1 - got; said = x == 0 ? \"low\" : \"high\" }") + failed + ` } }
    ` + either("", "button `look ${nr}` { disabled <- got == 2; click -> ask log.look() { got(x) -> got = x } }") + `
  }
}
component page-root {
  holds last: number = 0
  holds there: boolean = true
  view {
    ask-part { nr <- ` + either("0", "last", "last") + `; told(n) -> ` + either("last = n", "last = last == n ? 0 : n", "there = !there") + ` }
    ` + either("ask-part { nr <- 1; told(n) -> last = n }", "when there { ask-part { nr <- last; told(n) -> last = n } }", "each k in [0, 1] by k { ask-part { nr <- k; told(n) -> there = n == last } }") + `
    ` + either("", `button "end" { click -> there = !there }`, `button "turn" { click -> last = 1 - last }`, `button "ask" { click -> ask log.look() { got(x) -> last = x } }`) + `
  }
}
start page-root
law "law 0" { ` + either("never the(page-root).last == 1", "always all(ask-part).every(p => p.got < 2)") + ` }
law "law 1" { ` + either("turn was(the(page-root).last) == 0 || !waiting(log.look)", "settles all(ask-part).some(p => p.got == 0)", "can the(page-root).last == 2 && waiting(log.load)") + ` }
`
	return sound(t, text)
}
