package engine

import (
	"fmt"
	"strings"
	"testing"
)

// choices turns bytes into decisions; when they run out, all are 0.
type choices struct{ data []byte }

func (c *choices) n(limit int) int {
	if len(c.data) == 0 {
		return 0
	}
	b := int(c.data[0])
	c.data = c.data[1:]
	return b % limit
}

func (c *choices) pick(list ...string) string { return list[c.n(len(list))] }

// parts are the components that a generated page puts together: one for every
// way in which components share state.
const parts = `type Ware = { id: string, n: number, on: boolean, note?: string }
channel news(n: number)

context tray {
  takes limit: number = 2
  shares picked: string[] = []
  holds flips: number = 0
  emits over(n: number)
  derives full = picked.length >= limit
  derives has(id: string) = picked.includes(id)
  action flip(id: string) {
    picked = has(id) ? picked.filter(p => p != id) : [...picked, id]
    flips += 1
    if (picked.length > limit) emit over(picked.length)
  }
  on mount { flips = 3 }
  on unmount { emit over(0 - flips) }
}
component ware-part {
  takes ware: Ware
  takes mark: boolean
  takes add: (n: number) => void
  emits hit(id: string, n: number)
  holds own: number = 0
  derives both = own + ware.n
  view {
    p ~${ware.id} ${both} ${mark}~ { .marked <- mark }
    when own > 1 && ware.note != null { p ~${ware.note}~ }
    button "own" { click -> own += 1 }
    button "hit" { disabled <- ware.n > 6; click -> emit hit(ware.id, both) }
    button "add" { click -> { own += 1; add(own); if (own > 3) emit hit(ware.id, 1) } }
  }
}
component level-part {
  shares level: number = 0
  view { button "level" { click -> level = level % 5 + 1 }; p ~${level}~ }
}
component tally-part {
  shares count: number = 0
  emits moved(n: number)
  holds seen: number = 0
  derives double = count * 2 set v { count = v - count }
  offers bump() { count = count % 7 + 1 }
  timer chime(k: number) after k * 10 { seen = k; emit moved(k) }
  follows count from was { seen = (seen + was) % 11 }
  hears news(n) { seen = (seen + n) % 9 }
  on mount { emit moved(count) }
  on unmount { emit moved(0 - 1) }
  view {
    p ~${count} ${seen} ${double}~
    button "more" { click -> { count += 1; emit moved(count) } }
    button "chime" { click -> start chime(count % 3) }
    button "quiet" { click -> stop chime }
    level-part { level <-> double }
    level-part { level <-> seen }
  }
}
component tray-mark {
  takes id: string
  uses tray { over(n) -> heard += n }
  holds heard: number = 0
  on unmount { tray.flip(id) }
  view {
    button "flip" { .in <- tray.has(id); .full <- tray.full; click -> tray.flip(id) }
    p ~${tray.flips} ${heard}~
  }
}
component frame-part {
  takes title: string
  holds wide: boolean = true
  holds turns: number = 0
  action shut() { wide = !wide; turns += 1 }
  view {
    p ~${title}~
    when wide { slot row(shut <- shut, turns <- turns) { p "nothing" } }
    button "fold" { click -> shut }
    slot
  }
}
component tray-frame {
  shares held: string[] = []
  supplies tray { picked <-> held; limit <- 1 }
  view { p ~${held.length}~; slot }
}
component note-part {
  takes about: string
  emits answered(n: number)
  holds n: number = 0
  view {
    p ~${about} ${n}~
    button "count" { click -> n += 1 }
    button "answer" { click -> leave answered(n) }
    button "away" { click -> leave }
  }
}
`

// generate writes a small design: a page with cells of several types and
// random reactions, whose view nests conditions, lists, contents and parts.
func generate(c *choices) string {
	g := &generator{c: c}
	return strings.ReplaceAll(parts, "~", "`") + `component page-root {
  holds wares: Ware[] = [{ id: "a", n: 1, on: true }, { id: "b", n: 2, on: false, note: "thin" }]
  holds n: number = 0
  holds on: boolean = false
  holds text: string = ""
  holds sel: string? = null
  holds sels: string[] = ["a"]
  supplies tray as own { limit <- n; picked <-> sels }
  gathers tally-part as tallies
  derives many = wares.length + n
  derives kept = wares.filter(w => w.on)
  derives found = wares.find(w => w.id == sel)
  derives big(x: number) = x > many
  action add(x: number) { ` + g.stmts(2) + ` }
  action toggle() { ` + g.stmts(2) + ` }
  timer bell(k: number) after k * 15 + 5 { ` + g.stmts(1) + ` }
  follows ` + c.pick("n", "sels", "many", "found", "sel", "tallies.length") + ` { ` + g.stmts(1) + ` }
  follows ` + c.pick("on", "text", "own.flips") + ` { ` + g.stmts(1) + ` }
  view {
    ` + g.nodes(3, noItem) + `
    tally-part named tally { count <-> n; moved(x) -> ` + c.pick("on = x > 1", "sel = null", "text = `${x}`") + ` }
  }
}
start page-root
`
}

// itemKind is what stands around a node: no item of a list, one that can only
// be read, or one that can be written.
type itemKind uint8

const (
	noItem itemKind = iota
	readItem
	ownItem
)

type generator struct {
	c     *choices
	names int // given to constants so far
}

func (g *generator) number() string {
	return g.c.pick("n", "wares.length", "many", "1", "n * 2 % 7", "text.length", "(found?.n ?? 3)",
		"wares.reduce((s, w) => s + w.n, 0) % 50", "10 / (n - 3)", "sels.length", "own.flips", "tallies.length")
}

func (g *generator) boolean() string {
	switch g.c.n(8) {
	case 0:
		return "on"
	case 1:
		return "!on"
	case 2:
		return g.number() + " > " + g.number()
	case 3:
		return "sel != null && on"
	case 4:
		return "big(" + g.number() + ")"
	case 5:
		return "found != null"
	case 6:
		return "own.has(\"a\")"
	}
	return "wares.some(w => w.id == sel || w.on)"
}

// list is a list to go through, and what its items are.
func (g *generator) list() (string, itemKind) {
	switch g.c.n(6) {
	case 0:
		return "kept", readItem
	case 1:
		return "wares.toReversed()", readItem
	case 2:
		return "wares.filter(w => w.n > n)", readItem
	case 3:
		return "wares.slice(1)", readItem
	}
	return "wares", ownItem
}

func (g *generator) stmts(depth int) string {
	var out []string
	for range 1 + g.c.n(3) {
		out = append(out, g.stmt(depth))
	}
	return strings.Join(out, "; ")
}

func (g *generator) stmt(depth int) string {
	switch g.c.n(21) {
	case 0:
		return "n = " + g.number()
	case 1:
		return "on = " + g.boolean()
	case 2:
		return "sel = wares[0]?.id"
	case 3:
		return "sel = null"
	case 4:
		return "wares = [{ id: `w${wares.length}${n}`, n: " + g.number() + ", on: " + g.boolean() + " }, ...wares.slice(0, 4)]"
	case 5:
		return "wares = wares.toReversed()"
	case 6:
		return "wares = wares.map((w, i) => i == n % 3 ? { ...w, n: w.n + 1, on: !w.on } : w)"
	case 7:
		return "wares = wares.slice(1)"
	case 8:
		return "text = `t${" + g.number() + "}`"
	case 9:
		if depth > 0 {
			return "if (" + g.boolean() + ") { " + g.stmts(depth-1) + " } else { " + g.stmts(depth-1) + " }"
		}
	case 10:
		if depth > 0 {
			return "for (w of wares) { " + g.stmts(depth-1) + " }"
		}
	case 11:
		return "own.flip(" + g.c.pick(`"a"`, `"x"`, "sel ?? \"b\"") + ")"
	case 12:
		return "send news(" + g.number() + ")"
	case 13:
		return "start bell(" + g.c.pick("1", "n % 3", "wares.length") + ")"
	case 14:
		return g.c.pick("stop bell", "stop bell(1)")
	case 15:
		return "open note-part { about <- `${n} ${text}`; answered(k) -> n = k }"
	case 16:
		return "tally.bump()"
	case 17:
		return "for (t of tallies) t.bump()"
	case 18:
		return "sels = " + g.c.pick("[]", "wares.map(w => w.id)", "sels.slice(1)")
	case 19:
		g.names++
		return fmt.Sprintf("const k%d = %s; n = k%[1]d %% 8", g.names, g.number())
	}
	return "n += 1"
}

func (g *generator) nodes(depth int, item itemKind) string {
	var out []string
	for range 1 + g.c.n(4) {
		out = append(out, g.node(depth, item))
	}
	return strings.Join(out, "\n")
}

func (g *generator) node(depth int, item itemKind) string {
	kind := g.c.n(14)
	if depth == 0 && (kind < 3 || kind > 10) {
		kind = 5
	}
	switch kind {
	case 0:
		return "when " + g.boolean() + " { " + g.nodes(depth-1, item) + " } else { " + g.nodes(depth-1, item) + " }"
	case 1:
		return "when found != null { p `${found.id} ${found.n}` { title <- found.note }; " + g.nodes(depth-1, item) + " }"
	case 2:
		list, items := g.list()
		return "each w at i in " + list + " by w.id { " + g.nodes(depth-1, items) + " }"
	case 3:
		if item != noItem {
			return "ware-part { ware <- w; mark <- sel == w.id; add <- add; hit(id, x) -> { " + g.stmts(1) + " } }"
		}
	case 4:
		if item != noItem {
			return "p `${i} ${w.id} ${w.note ?? \"\"}`; button \"sel\" { click -> sel = w.id }; tray-mark { id <- w.id }"
		}
	case 5:
		return "p `${" + g.number() + "} ${text}` { .a <- " + g.boolean() + " }"
	case 6:
		return "input { value <-> text; change -> toggle }; input { type <- \"checkbox\"; checked <-> on }"
	case 7:
		return "div { click -> toggle; button \"go\" { click -> { " + g.stmts(2) + " } } }"
	case 8:
		if item == ownItem {
			return "tally-part { count <-> w.n; moved(x) -> " + g.c.pick("on = x > 2", "w.on = !w.on", "n = x") +
				" }; button \"set\" { click -> { w.n += 1; " + g.stmts(1) + "; w.on = !w.on } }"
		}
		return "tally-part { count <-> n; moved(x) -> " + g.c.pick("on = x > 2", "sel = null") + " }"
	case 9:
		return "tally-part { count = " + g.number() + "; moved(x) -> text = `${x}` }"
	case 10:
		return "tray-mark { id <- " + g.c.pick(`"a"`, "sel ?? \"b\"", "text") + " }"
	case 11:
		return "frame-part { title <- text; " + g.nodes(depth-1, item) + " }"
	case 12:
		return "frame-part { title <- \"row\"; fill row(shut, turns) { p `${turns}`; button \"in\" { click -> { shut(); " + g.stmts(1) + " } }; " +
			g.nodes(depth-1, item) + " } }"
	case 13:
		return "tray-frame { held " + g.c.pick("<-> sels", "= [\"x\"]") + "; " + g.nodes(depth-1, item) + " }"
	}
	return "button \"add\" { click -> add(" + g.number() + ") }"
}

// seeds adds choices for a number of different designs.
func seeds(f *testing.F) {
	for i := range 40 {
		seed := make([]byte, 120)
		x := uint32(i + 1)
		for j := range seed {
			x = x*1664525 + 1013904223
			seed[j] = byte(x >> 16)
		}
		f.Add(seed)
	}
}
