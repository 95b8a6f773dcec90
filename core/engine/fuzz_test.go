package engine

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/value"
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

// generate writes a small design: a page with cells of several types, parts
// that take and report, and views that nest conditions and lists.
func generate(c *choices) string {
	g := &generator{c: c}
	return `type Ware = { id: string, n: number, on: boolean, note?: string }
component ware-part {
  takes ware: Ware
  takes mark: boolean
  takes add: (n: number) => void
  emits hit(id: string, n: number)
  holds own: number = 0
  derives both = own + ware.n
  view {
    p ` + "`${ware.id} ${both} ${mark}`" + ` { .marked <- mark }
    when own > 1 && ware.note != null { p ` + "`${ware.note}`" + ` }
    button "own" { click -> own += 1 }
    button "hit" { disabled <- ware.n > 6; click -> emit hit(ware.id, both) }
    button "add" { click -> { own += 1; add(own); if (own > 3) emit hit(ware.id, 1) } }
  }
}
component page-root {
  holds wares: Ware[] = [{ id: "a", n: 1, on: true }, { id: "b", n: 2, on: false, note: "thin" }]
  holds n: number = 0
  holds on: boolean = false
  holds text: string = ""
  holds sel: string? = null
  derives many = wares.length + n
  derives kept = wares.filter(w => w.on)
  derives found = wares.find(w => w.id == sel)
  derives big(x: number) = x > many
  action add(x: number) { ` + g.stmts(2) + ` }
  action toggle() { ` + g.stmts(2) + ` }
  view { ` + g.nodes(3, false) + ` }
}
start page-root
`
}

type generator struct{ c *choices }

func (g *generator) number() string {
	return g.c.pick("n", "wares.length", "many", "1", "n * 2 % 7", "text.length", "(found?.n ?? 3)", "wares.reduce((s, w) => s + w.n, 0) % 50", "10 / (n - 3)")
}

func (g *generator) boolean() string {
	switch g.c.n(7) {
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
	}
	return "wares.some(w => w.id == sel || w.on)"
}

func (g *generator) list() string {
	return g.c.pick("wares", "kept", "wares.toReversed()", "wares.filter(w => w.n > n)", "wares.slice(1)")
}

func (g *generator) stmts(depth int) string {
	var out []string
	for range 1 + g.c.n(3) {
		out = append(out, g.stmt(depth))
	}
	return strings.Join(out, "; ")
}

func (g *generator) stmt(depth int) string {
	switch g.c.n(12) {
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
	}
	return "n += 1"
}

func (g *generator) nodes(depth int, item bool) string {
	var out []string
	for range 1 + g.c.n(4) {
		out = append(out, g.node(depth, item))
	}
	return strings.Join(out, "\n")
}

func (g *generator) node(depth int, item bool) string {
	kind := g.c.n(9)
	if depth == 0 && kind < 3 {
		kind = 5
	}
	switch kind {
	case 0:
		return "when " + g.boolean() + " { " + g.nodes(depth-1, item) + " } else { " + g.nodes(depth-1, item) + " }"
	case 1:
		return "when found != null { p `${found.id} ${found.n}` { title <- found.note }; " + g.nodes(depth-1, item) + " }"
	case 2:
		return "each w at i in " + g.list() + " by w.id { " + g.nodes(depth-1, true) + " }"
	case 3:
		if item {
			return "ware-part { ware <- w; mark <- sel == w.id; add <- add; hit(id, x) -> { " + g.stmts(1) + " } }"
		}
	case 4:
		if item {
			return "p `${i} ${w.id} ${w.note ?? \"\"}`; button \"sel\" { click -> sel = w.id }"
		}
	case 5:
		return "p `${" + g.number() + "} ${text}` { .a <- " + g.boolean() + " }"
	case 6:
		return "input { value <-> text; change -> toggle }; input { type <- \"checkbox\"; checked <-> on }"
	case 7:
		return "div { click -> toggle; button \"go\" { click -> { " + g.stmts(2) + " } } }"
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

// FuzzTurns runs random gestures on random designs. After each of them the
// page must be what working everything out from scratch gives, nothing that
// is gone may be held on to, and a turn that failed must have changed nothing.
func FuzzTurns(f *testing.F) {
	seeds(f)
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 400 {
			return
		}
		c := &choices{data}
		text := generate(c)
		d := design.Parse("fuzz.lien", text)
		for _, fd := range d.Findings {
			if fd.Level == finding.Error {
				t.Fatalf("the generator wrote a design that is wrong: %s: %s\n%s", d.Set.Position(fd.Span.Start), fd.Message, text)
			}
		}
		e := New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			return
		}
		e.OnTurn = func(*Record) error { return nil }
		done := []string{text}
		for range 12 {
			before := snapshot(e)
			what, err := gesture(e, c)
			done = append(done, what)
			if err == nil {
				err = judge(e)
			} else if turns := e.Turns(); len(turns) == 1 && !strings.HasPrefix(what, "type") && unfocused(snapshot(e)) != unfocused(before) {
				err = fmt.Errorf("a failed turn changed the page from\n%s\nto\n%s", before, snapshot(e))
			} else {
				err = judge(e)
			}
			if err != nil {
				t.Fatalf("%s\n%v", strings.Join(done, "\n"), err)
			}
			e.Turns()
		}
	})
}

// unfocused leaves the focus out: it moves before the turn of a click.
func unfocused(page string) string {
	return strings.NewReplacer(" focus", "", "edited:true", "edited:false").Replace(page)
}

// gesture does something with one of the controls of the page.
func gesture(e *Engine, c *choices) (string, error) {
	var controls []*Element
	e.Elements(func(el *Element) bool {
		if (el.Tag() == "button" || el.Tag() == "input") && !el.disabled() {
			controls = append(controls, el)
		}
		return true
	})
	if len(controls) == 0 {
		return "nothing", nil
	}
	el := controls[c.n(len(controls))]
	if el.Role() == "textbox" {
		return "type", e.Type(el, c.pick("", "x", "ab"))
	}
	return "press " + e.Name(el), e.Press(el)
}

// FuzzJudge runs the same events on the engine and on the judge, which works
// everything out from scratch: both must show the same page, and fail in the
// same turns.
func FuzzJudge(f *testing.F) {
	seeds(f)
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 300 {
			return
		}
		c := &choices{data}
		text := generate(c)
		d := design.Parse("fuzz.lien", text)
		if d.Failed() {
			t.Fatalf("%s\n%s", d.Findings[0].Message, text)
		}
		e := New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			return
		}
		var n *naive
		if !survives(func() { n = newNaive(d) }) {
			t.Fatalf("the judge cannot mount\n%s", text)
		}
		done := []string{text}
		for range 10 {
			what, ok := both(e, n, c)
			done = append(done, what)
			if n.disagrees {
				t.Fatalf("%s", strings.Join(done, "\n"))
			}
			if !ok {
				return
			}
			got, want := plainPage(e)+cellsOf(e), n.page()+n.cells()
			if got != want {
				t.Fatalf("%s\nthe engine shows\n%s\nthe judge\n%s", strings.Join(done, "\n"), got, want)
			}
		}
	})
}

// cellsOf lists the cells of the root, which both must agree on even where no
// view shows them.
func cellsOf(e *Engine) string {
	var out strings.Builder
	for _, c := range e.Cells(e.root) {
		if c.Kind == design.Holds {
			fmt.Fprintf(&out, "%s = %s\n", c.Name, value.Show(c.Value))
		}
	}
	return out.String()
}

func (n *naive) cells() string {
	var out strings.Builder
	for _, m := range n.root.comp.Members {
		if m.Kind == design.Holds {
			fmt.Fprintf(&out, "%s = %s\n", m.Label, value.Show(n.root.cells[m]))
		}
	}
	return out.String()
}

// survives says whether the judge got through.
func survives(run func()) (ok bool) {
	defer func() {
		if r := recover(); r != nil {
			if _, is := r.(naiveFailure); !is {
				panic(r)
			}
			ok = false
		}
	}()
	run()
	return true
}

// both raises one event on the engine and on the judge. It reports false where
// the run ends: there is no control, or the judge takes too long.
func both(e *Engine, n *naive, c *choices) (string, bool) {
	var controls []*Element
	e.Elements(func(el *Element) bool {
		if el.Tag() == "button" || el.Tag() == "input" {
			controls = append(controls, el)
		}
		return true
	})
	if len(controls) == 0 {
		return "nothing", false
	}
	at := c.n(len(controls))
	el := controls[at]
	if el.disabled() {
		return "disabled", true
	}
	name, text := "click", ""
	var change func()
	if el.Tag() == "input" {
		name, text = "input", c.pick("", "x", "ab")
		change = func() {
			p := el.props
			p.value, p.checked = text, !p.checked
			e.userProps(el, p)
			e.writeTies(el, "value", "checked")
		}
	}
	err := e.dispatch(&event{name: name, target: el}, change)
	ok, long := n.event(at, name, text)
	what := fmt.Sprintf("%s %s %q", name, e.Name(el), text)
	if !long && ok != (err == nil) {
		what += fmt.Sprintf(": the engine says %v, the judge %v %s", err, ok, n.why)
		n.disagrees = true
	}
	return what, !long
}
