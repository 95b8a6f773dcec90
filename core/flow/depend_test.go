package flow_test

import (
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/flow"
)

// sliceOf is the cells and timers that a law named "l" depends on, in text order.
func sliceOf(t *testing.T, text string, open bool) string {
	t.Helper()
	d := parsed(t, text)
	dep := flow.DependOf(flow.Of(d), flow.RisksOf(d, false))
	if dep.Opaque() != "" {
		return "opaque: " + dep.Opaque()
	}
	var from []flow.Var
	for _, cl := range d.Laws[0].Clauses {
		from = append(from, dep.Reads(&cl.Unit)...)
	}
	s := dep.Slice(slices.Concat(from, dep.Fails()))
	if open {
		s, _ = dep.SliceOpen(slices.Concat(from, dep.Fails()), from)
	}
	var names []string
	for _, c := range d.Components {
		for _, m := range c.Members {
			if s.Has(m) && (m.IsCell() || m.Kind == design.Timer) {
				names = append(names, m.Label)
			}
		}
	}
	for _, f := range []string{"id", "glaze", "shelf"} {
		if s.Field(f) {
			names = append(names, "."+f)
		}
	}
	return strings.Join(names, " ")
}

// TestSlice: what decides a cell is in its slice, one row for each way in which
// something can; and no more.
func TestSlice(t *testing.T) {
	for _, c := range []struct{ name, members, view, more, want string }{
		{"data", ``, `button "x" { click -> x = y }`, ``, "x y"},
		{"data through a local and a derived value", `derives d = y + 1`, `button "x" { click -> { const k = d; x = k } }`, ``, "x y"},
		{"nothing", ``, `button "x" { click -> x += 1 }; button "y" { click -> y += 1 }`, ``, "x"},
		{"control by if", ``, `button "x" { click -> if (y > 0) x = 1 }`, ``, "x y"},
		{"control by else", ``, `button "x" { click -> if (y > 0) z = 1 else x = 1 }`, ``, "x y"},
		{"control by an early return", ``, `button "x" { click -> { if (y > 0) return; x = 1 } }`, ``, "x y"},
		{"control by for", `holds list: number[] = []`, `button "x" { click -> for (k of list) x = 1 }`, ``, "x list"},
		{"whether it is disabled", ``, `button "x" { disabled <- y > 0; click -> x = 1 }`, ``, "x y"},
		{"whether it is hidden by what is around it", ``, `div { hidden <- y > 0; button "x" { click -> x = 1 } }`, ``, "x y"},
		{"what only tells", ``, `button "x" { aria-pressed <- y > 0; .on <- z > 0; click -> x = 1 }`, ``, "x"},
		{"a when around it", ``, `when y > 0 { button "x" { click -> x = 1 } }`, ``, "x y"},
		{"an each around it", `holds list: number[] = []`, `each k in list by k { button "x" { click -> x = 1 } }`, ``, "x list"},
		{"a when around what is in a handler's element", ``, `div { click -> x = 1; when y > 0 { span "s" } }`, ``, "x y"},
		{"a part in a handler's element", ``, `div { click -> x = 1; small-part }`, `component small-part { holds s: number = 0; view { when s > 0 { button "b" { click -> s = 2 } }; button "up" { click -> s = 1 } } }`, "x s"},
		{"a slot that its element is given to", ``, `fold-part { button "x" { click -> x = 1 } }`, `component fold-part { holds s: number = 0; view { button "up" { click -> s += 1 }; when s == 1 { slot } } }`, "x s"},
		{"an action's caller", `action go() { x = 1 }`, `button "x" { click -> if (y > 0) go() }`, ``, "x y"},
		{"a function that is handed down", `action go() { x = 1 }`, `take-part { act <- go }`, `component take-part { takes act: () => void; holds s: number = 0; view { button "b" { click -> if (s > 0) act() }; button "up" { click -> s = 1 } } }`, "x s"},
		{"an event's reporter", ``, `tell-part { told(v) -> x = v }`, `component tell-part { emits told(v: number); holds s: number = 0; view { button "b" { click -> if (s > 0) emit told(1) }; button "up" { click -> s = 1 } } }`, "x s"},
		{"an event's payload", ``, `tell-part { told(v) -> x = v }`, `component tell-part { emits told(v: number); holds s: number = 0; view { button "b" { click -> emit told(s) }; button "up" { click -> s = 1 } } }`, "x s"},
		{"a message", `hears news(v) { x = v }`, `button "x" { click -> if (y > 0) send news(z) }`, `channel news(v: number)`, "x y z"},
		{"a timer", `timer late after 100 { x = 1 }`, `button "x" { click -> if (y > 0) start late }`, ``, "x y late"},
		{"an answer", ``, `button "x" { click -> if (y > 0) ask log.load() { got(v) -> x = v } }`, `service log { load(): number replies 1 }`, "x y"},
		{"what a question is asked with", ``, `button "x" { click -> ask log.load(z) { got(v) -> x = v } }`, `service log { load(k: number): number replies k }`, "x z"},
		{"a follow", `follows y { x = 1 }`, `button "x" { click -> y = 1 }`, ``, "x y"},
		{"a tie", ``, `take-part { both <-> x }`, `component take-part { shares both: number = 0; holds s: number = 0; view { button "b" { click -> both = s }; button "up" { click -> s = 1 } } }`, "x both s"},
		{"what is modal keeps from pressing", ``, `button "x" { click -> x = 1 }; button "o" { click -> if (y > 0) open modal ask-part { done -> z = 1 } }`, `component ask-part { emits done(); view { button "b" { click -> leave done() } } }`, "x y"},
		{"what is open and not modal does not", ``, `button "x" { click -> x = 1 }; button "o" { click -> if (y > 0) open ask-part { done -> z = 1 } }`, `component ask-part { emits done(); view { button "b" { click -> leave done() } } }`, "x"},
		{"a cell that begins anew", ``, `when y > 0 { keep-part named kept { told(v) -> x = v } }`, `component keep-part { emits told(v: number); holds s: number = 0; view { button "b" { click -> { s += 1; emit told(s) } } } }`, "x y s"},
		{"an early return in a loop", `holds list: number[] = []`, `button "x" { click -> { for (k of list) { if (k > 1) return }; x = 1 } }`, ``, "x list"},
		{"an early return in a loop under a condition", `holds list: number[] = []`, `button "x" { click -> { for (k of list) { if (z > 1) return }; x = 1 } }`, ``, "x z list"},
		{"a round of a loop that keeps the next from coming", `holds list: number[] = []`, `button "x" { click -> for (k of list) { x += 1; if (z > 1) return } }`, ``, "x z list"},
		{"an early return in an if in an if", ``, `button "x" { click -> { if (y > 0) { if (z > 0) return }; x = 1 } }`, ``, "x y z"},
		{"a value that is set through another", `derives twice = x + x set v { x = v }`, `button "x" { click -> twice = y }`, ``, "x y"},
		{"a form that is reset", ``, `form { glow-field { name <- "f"; told(v) -> x = v }; button "r" { type <- "reset"; disabled <- y > 0 } }`, `component glow-field { shares value: number = 0 field; emits told(v: number); view { button "b" { click -> { value = 1; emit told(value) } } } }`, "x y value"},
		{"a form that is reset from within a part", ``, `form { glow-field { name <- "f"; told(v) -> x = v }; key-part }`, `component glow-field { shares value: number = 0 field; emits told(v: number); view { button "b" { click -> { value = 1; emit told(value) } } } }
component key-part { holds s: number = 0; view { button "up" { type <- "button"; click -> s = 1 }; button "r" { type <- "reset"; disabled <- s > 0 } } }`, "x value s"},
		{"a form that is sent from within a part", ``, `form { submit -> x = 1; key-part }`, `component key-part { holds s: number = 0; view { button "up" { type <- "button"; click -> s = 1 }; button "b" { disabled <- s > 0 } } }`, "x s"},
		{"a form that is sent from within what is given to a part", ``, `form { submit -> x = 1; key-part { button "b" { disabled <- y > 0 } } }`, `component key-part { view { slot } }`, "x y"},
		{"a field of a record that is written in place", `holds wares: { id: string, glaze: string, shelf: string? }[] = []`, `each w in wares by w.id { button "x" { click -> { w.glaze = "ash"; x = wares.filter(k => k.glaze == "ash").length } } }`, ``, "x wares .id .glaze"},
		{"a class that styles hide by", `style { .away { display: none } }`, `button "x" { .away <- y > 0; click -> x = 1 }`, ``, "x y"},
		{"a class around it that styles hide by", `style { .away button { display: none } }`, `div { .away <- y > 0; button "x" { click -> x = 1 } }`, ``, "x y"},
		{"an attribute that styles hide by", `style { [title="2"] { visibility: hidden } }`, `button "x" { title <- ~${y}~; click -> x = 1 }`, ``, "x y"},
		{"a class that styles do not hide by", `style { .away { color: red } }`, `button "x" { .away <- y > 0; click -> x = 1 }`, ``, "x"},
		{"a class that a user gives and styles hide by", `style { .away { display: none } }`, `set-part { .away <- y > 0; told -> x = 1 }`, `component set-part { emits told(); view { div { button "b" { click -> emit told() } } } }`, "x y"},
		{"a state that styles hide by", `style { button:focus { display: none } }`, `button "x" { click -> x = 1 }`, ``, "opaque: styles hide parts of the page by what is beside or in them, or by what a user does"},
		{"what is prevented under a condition", ``, `button "x" { click -> x = 1 }; input { aria-label <- "i"; keydown(e) -> if (y > 0) e.preventDefault() }`, ``, "opaque: what a browser does next is prevented under a condition"},
		{"what is prevented always", ``, `button "x" { click -> x = 1 }; input { aria-label <- "i"; keydown(e) -> { if (e.key == "a") e.preventDefault(); y = 1 } }`, ``, "opaque: what a browser does next is prevented under a condition"},
		{"an early return in an else in a loop", `holds list: number[] = []`, `button "x" { click -> { for (k of list) { if (z > 1) y = 1 else { for (j of list) return } }; x = 1 } }`, ``, "x z list"},
		{"a loop in a loop that ends early", `holds list: number[] = []; holds more: number[] = []`, `button "x" { click -> for (k of list) { x += 1; for (j of more) { if (z > 1) return } } }`, ``, "x z list more"},
		{"a tie to an item", `holds list: number[] = [1]`, `button "x" { click -> x = list[0] ?? 0 }; each k at i in list by i { input { type <- "number"; value <-> list[y] } }`, ``, "x y list"},
		{"what may fail", ``, `button "x" { click -> x = 1 }; p ~${10 / z}~`, ``, "x z"},
		{"keys that may meet", `holds list: string[] = []`, `button "x" { click -> x = 1 }; each k in list by k { p "k" }`, ``, "x list"},
		{"keys that cannot", `holds list: string[] = []`, `button "x" { click -> x = 1 }; each k at i in list by i { p "k" }`, ``, "x"},
		{"a number that is added to itself", ``, `button "x" { click -> x = 1 }; button "z" { click -> z = z + z }`, ``, "x z"},
		{"a number that is counted", ``, `button "x" { click -> x = 1 }; button "z" { click -> z += 2 }`, ``, "x"},
		{"fields of records", `holds wares: { id: string, glaze: string, shelf: string? }[] = []`, `button "x" { click -> x = wares.filter(w => w.shelf == "top").length }; button "g" { click -> wares = wares.map(w => ({ ...w, glaze: "ash" })) }`, ``, "x wares .shelf"},
		{"what a field is made of", `holds wares: { id: string, glaze: string, shelf: string? }[] = []`, `button "x" { click -> x = wares.filter(w => w.shelf == "top").length }; button "g" { click -> if (y > 0) wares = wares.map(w => ({ ...w, shelf: z > 0 ? "top" : null })) }`, ``, "x y z wares .shelf"},
		{"records that are compared", `holds one: { id: string, glaze: string }? = null; holds two: { id: string, glaze: string }? = null`, `button "x" { click -> x = one == two ? 1 : 0 }; button "g" { click -> one = { id: "a", glaze: "b" } }; button "h" { click -> two = one }`, ``, "x one two .id .glaze"},
		{"what is prevented", ``, `button "x" { keydown(e) -> { if (y > 0) e.preventDefault(); x = 1 } }`, ``, "opaque: what a browser does next is prevented under a condition"},
		{"element methods", ``, `dialog named box { button "x" { click -> x = 1 } }; button "o" { click -> box.showModal() }`, ``, "opaque: a handler calls showModal() of an element"},
		{"components in themselves", ``, `tree-part { deep <- 2 }`, `component tree-part { takes deep: number; view { when deep > 0 { tree-part { deep <- deep - 1 } } } }`, "opaque: tree-part stands in itself"},
	} {
		text := c.more + `
component a-b {
  holds x: number = 0
  holds y: number = 0
  holds z: number = 0
  ` + c.members + `
  view { ` + c.view + `; button "more y" { click -> y += 1 }; button "more z" { click -> z += 1 } }
}
start a-b
law "l" { never the(a-b).x == 1 }
`
		got := sliceOf(t, strings.ReplaceAll(text, "~", "`"), false)
		want := strings.Fields(c.want)
		if strings.HasPrefix(c.want, "opaque") {
			want = []string{c.want}
			if got == c.want {
				continue
			}
		}
		is := strings.Fields(got)
		slices.Sort(is)
		slices.Sort(want)
		if !slices.Equal(is, want) {
			t.Errorf("%s: the slice is %q, want %q", c.name, got, c.want)
		}
	}
}

// TestOnlyHides: a cell that only hides what keeps nothing is left out, and one for
// each condition that is not.
func TestOnlyHides(t *testing.T) {
	const (
		card = `component fold-card { shares open: boolean = true; view { button "f" { click -> open = !open }; when open { slot } } }`
		load = `button "x" { click -> x += 1 }`
		keep = ` component keep-part { emits told(v: number); holds s: number = 0; view { button "x" { click -> { s += 1; emit told(s) } } } }`
		glow = ` component glow-part { shares lit: boolean = false; emits told(); view { button "x" { .on <- lit; click -> emit told() } } }`
	)
	for _, c := range []struct {
		name, members, view, more, law string
		out                            bool
	}{
		{"a fold", ``, `fold-card { ` + load + ` }`, card, `never the(a-b).x == 1`, true},
		{"a fold that starts closed", ``, `fold-card { ` + load + ` }`, strings.Replace(card, "= true", "= false", 1), `never the(a-b).x == 1`, false},
		{"a fold that is begun by its user", ``, `fold-card { open = false; ` + load + ` }`, card, `never the(a-b).x == 1`, false},
		{"a fold that is asked for", ``, `fold-card { ` + load + ` }`, card, `never the(a-b).x == 1 && the(fold-card).open`, false},
		{"a fold whose parts are counted", ``, `fold-card { load-part { more -> x += 1 } }`, card + ` component load-part { emits more(); view { button "x" { click -> emit more() } } }`, `never the(a-b).x == 1 || all(load-part).length == 0`, false},
		{"a fold that something else changes", `timer late after 100 { folded = true }; holds folded: boolean = false`, `when !folded { ` + load + ` }; button "s" { click -> start late }`, ``, `never the(a-b).x == 1`, false},
		{"a fold whose handler does more", `holds shown: boolean = true`, `when shown { ` + load + ` }; button "f" { click -> { shown = !shown; x = 0 } }`, ``, `never the(a-b).x == 1`, false},
		{"a fold that matters elsewhere", `holds shown: boolean = true`, `when shown { ` + load + ` }; button "f" { click -> shown = !shown }; button "g" { disabled <- shown; click -> x = 5 }`, ``, `never the(a-b).x == 1`, false},
		{"a fold whose else can be used", `holds shown: boolean = true`, `when shown { ` + load + ` } else { button "g" { click -> x = 5 } }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, false},
		{"a fold that loses a cell", ``, `fold-card { keep-part { told(v) -> x = v } }`, card + ` component keep-part { emits told(v: number); holds s: number = 0; view { button "x" { click -> { s += 1; emit told(s) } } } }`, `never the(a-b).x == 1`, false},
		{"a fold that ends a timer", ``, `fold-card { keep-part { told -> x += 1 } }`, card + ` component keep-part { emits told(); timer late after 100 { emit told() }; view { button "x" { click -> start late } } }`, `never the(a-b).x == 1`, false},
		{"a fold that ends a question", ``, `fold-card { keep-part { told -> x += 1 } }`, card + "\nservice log { load() }\n" + `component keep-part { emits told(); view { button "x" { click -> ask log.load() { got -> emit told() } } } }`, `never the(a-b).x == 1`, false},
		{"a fold that is told when it closes", ``, `fold-card { keep-part { told -> x += 1 } }`, card + ` component keep-part { emits told(); on unmount { emit told() }; view { p "x" } }`, `never the(a-b).x == 1`, false},
		{"a fold that is gathered", ``, `gather-part { fold-card { row-part } }`, card + ` component row-part { view { p "r" } } component gather-part { gathers row-part as rows; holds n: number = 0; view { slot; button "n" { disabled <- rows.length == 0; click -> n += 1 } } }`, `never the(gather-part).n == 1`, false},
		{"a field whose text nothing keeps", `holds shown: boolean = true`, `when shown { input { input(e) -> x += 1 } }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, false},
		{"a search", `holds look: string = ""; holds list: string[] = ["a", "b"]`, `input { value <-> look }; each k at i in list.filter(k => k.toLowerCase().includes(look.trim())) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a search beside another condition", `holds look: string = ""; holds list: string[] = ["a", "b"]`, `input { value <-> look }; each k at i in list.filter(k => k != "c" && k.includes(look)) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a filter that begins by keeping some", `holds look: string = "a"; holds list: string[] = ["a", "b"]`, `input { value <-> look }; each k at i in list.filter(k => k.includes(look)) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, false},
		{"a filter whose list is counted", `holds look: string = ""; holds list: string[] = ["a", "b"]; derives listed = list.filter(k => k.includes(look))`, `input { value <-> look }; each k at i in listed by i { ` + load + ` }; button "n" { disabled <- listed.length > 1; click -> x = 7 }`, ``, `never the(a-b).x == 1`, false},
		{"a choice of filters", `holds glaze: "all" | "ash" = "all"; holds list: string[] = ["a", "b"]`, `button "g" { click -> glaze = "ash" }; each k at i in list.filter(k => glaze == "all" || k == glaze) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a fold over a when of nothing but text", `holds shown: boolean = true`, `when shown { when x > 1 { p "many" } else { ` + load + ` } }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, true},
		{"a fold over a when that keeps a cell", ``, `fold-card { when x < 2 { keep-part { told(v) -> x = v } } }`, card + keep, `never the(a-b).x == 1`, false},
		{"a fold over a list that keeps cells", ``, `fold-card { each k in [1, 2] by k { keep-part { told(v) -> x = v } } }`, card + keep, `never the(a-b).x == 1`, false},
		{"a fold over a part that shares its user's cell", `holds lit: boolean = false`, `fold-card { glow-part { lit <-> lit; told -> x += 1 } }`, card + glow, `never the(a-b).x == 1`, true},
		{"a fold over a part that shares a cell of its own", ``, `fold-card { glow-part { told -> x += 1 } }`, card + glow, `never the(a-b).x == 1`, false},
		{"a fold over a part that is given what keeps a cell", ``, `fold-card { frame-part { keep-part { told(v) -> x = v } } }`, card + keep + ` component frame-part { view { section { slot } } }`, `never the(a-b).x == 1`, false},
		{"a fold over a part that is given what keeps nothing", ``, `fold-card { frame-part { ` + load + ` } }`, card + ` component frame-part { view { section { slot } } }`, `never the(a-b).x == 1`, true},
		{"a fold over what browsers fold", ``, `fold-card { details { summary "more"; ` + load + ` } }`, card, `never the(a-b).x == 1`, false},
		{"a fold over a choice that is linked", `holds mode: string = "low"`, `fold-card { select { value <- mode; change -> x += 1; option { value <- "low"; "Low" }; option { value <- "high"; "High" } } }`, card, `never the(a-b).x == 1`, true},
		{"a fold over a choice that is not", ``, `fold-card { select { change -> x += 1; option { value <- "low"; "Low" }; option { value <- "high"; "High" } } }`, card, `never the(a-b).x == 1`, false},
		{"a fold over a box that is linked", `holds on: boolean = false`, `fold-card { input { type <- "checkbox"; checked <- on; change -> x += 1 } }`, card, `never the(a-b).x == 1`, true},
		{"a fold over a box that is not", ``, `fold-card { input { type <- "checkbox"; change -> x += 1 } }`, card, `never the(a-b).x == 1`, false},
		{"a fold over a field of a kind that is not known", `holds kind: string = "text"; holds text: string = ""`, `fold-card { input { type <- kind; value <- text; input -> x += 1 } }`, card, `never the(a-b).x == 1`, false},
		{"a fold over a name that nothing reads", `holds shown: boolean = true`, `when shown { button named go "x" { click -> x += 1 } }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, true},
		{"a fold whose else can be used below a when", `holds shown: boolean = true`, `when shown { ` + load + ` } else { when x > 3 { button "g" { click -> x = 5 } } }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, false},
		{"a fold whose else can be used in a list", `holds shown: boolean = true`, `when shown { ` + load + ` } else { each k in [1] by k { button "g" { click -> x = 5 } } }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, false},
		{"a fold whose else has a part that can be used", `holds shown: boolean = true`, `when shown { ` + load + ` } else { tell-part { told -> x = 5 } }; button "f" { click -> shown = !shown }`, ` component tell-part { emits told(); view { button "g" { click -> emit told() } } }`, `never the(a-b).x == 1`, false},
		{"a fold whose else only tells", `holds shown: boolean = true`, `when shown { ` + load + ` } else { p "folded" }; button "f" { click -> shown = !shown }`, ``, `never the(a-b).x == 1`, true},
		{"a choice of filters that a function decides", `holds glaze: "all" | "ash" = "all"; holds list: string[] = ["a", "b"]; derives fits(k: string) = glaze == "all" ? true : k == glaze`, `button "g" { click -> glaze = "ash" }; each k at i in list.filter(k => fits(k)) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a filter by what was chosen, if anything was", `holds picked: string[] = []; holds list: string[] = ["a", "b"]`, `button "g" { click -> picked = ["a"] }; each k at i in list.filter(k => picked.length == 0 || picked.includes(k)) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a filter by what all that was chosen asks for", `holds picked: string[] = []; holds list: string[] = ["a", "b"]`, `button "g" { click -> picked = ["a"] }; each k at i in list.filter(k => picked.every(p => k.includes(p))) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a filter by what nothing of the chosen forbids", `holds picked: string[] = []; holds list: string[] = ["a", "b"]`, `button "g" { click -> picked = ["a"] }; each k at i in list.filter(k => !picked.some(p => p == k)) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, true},
		{"a filter by what was chosen", `holds picked: string[] = []; holds list: string[] = ["a", "b"]`, `button "g" { click -> picked = ["a"] }; each k at i in list.filter(k => picked.includes(k)) by i { ` + load + ` }`, ``, `never the(a-b).x == 1`, false},
		{"a search in a part that is handed the list", `holds look: string = ""; holds list: string[] = ["a", "b"]`, `input { value <-> look }; rows-part { rows <- list.filter(k => k.includes(look)); told -> x += 1 }`, ` component rows-part { takes rows: string[]; emits told(); view { each k at i in rows by i { button "x" { click -> emit told() } } } }`, `never the(a-b).x == 1`, true},
		{"a cell that something without a gesture changes", `holds shown: boolean = true; hears news() { shown = false }`, `when shown { ` + load + ` }; button "n" { click -> send news() }`, "channel news()", `never the(a-b).x == 1`, false},
		{"a fold that follows another cell", `holds shown: boolean = true; holds other: boolean = true; follows other { shown = other }`, `when shown { ` + load + ` }; button "n" { click -> other = !other }`, ``, `never the(a-b).x == 1`, false},
	} {
		text := strings.ReplaceAll(c.more, " component ", "\ncomponent ") + `
component a-b {
  holds x: number = 0
  ` + c.members + `
  view { ` + c.view + ` }
}
start a-b
law "l" { ` + c.law + ` }
`
		open, whole := sliceOf(t, text, true), sliceOf(t, text, false)
		if (open != whole) != c.out {
			t.Errorf("%s: the slice is %q, and %q where what hides changes; left out: want %v", c.name, open, whole, c.out)
		}
	}
}

// TestTouches: what a gesture on the first button changes, also by what hears it in
// the components that show it.
func TestTouches(t *testing.T) {
	const key = "component key-part { holds s: number = 0; emits told(); view { button \"b\" { click -> s = 1 } } }\n"
	for _, c := range []struct{ name, view, more, want string }{
		{"its own handler", `p "p"; key-part`, key, "s"},
		{"an element around it", `div { click -> x = 1; button "b" }`, ``, "x"},
		{"an element around its component", `div { click -> x = 1; key-part }`, key, "s x"},
		{"an element around what it is given to", `div { click -> x = 1; frame-part { key-part } }`, key + `component frame-part { holds f: number = 0; view { div { click -> f = 1; slot } } }`, "s f x"},
		{"a form around its component", `form { glow-field { name <- "f" }; key-part }`, key + `component glow-field { shares value: number = 0 field; view { p "p" } }`, "s value"},
		{"a timer that is stopped", `button "b" { click -> stop soak }`, ``, "soak"},
		{"what is open and is left", `button "o" { click -> open ask-part { done -> x = 2 } }`, `component ask-part { emits done(); holds s: number = 0; view { button "b" { click -> leave done() } } }`, "x"},
		{"what hears something else", `div { click -> x = 1 }; key-part`, key, "s"},
	} {
		d := parsed(t, c.more+"\ncomponent page-root { holds x: number = 0; timer soak after 10 { log \"soaked\" }; view { "+c.view+" } }\nstart page-root\n")
		dep := flow.DependOf(flow.Of(d), flow.RisksOf(d, false))
		var button *design.Element
		design.Visitor{Node: func(n design.Node) {
			if el, ok := n.(*design.Element); ok && el.Tag == "button" && button == nil {
				button = el
			}
		}}.Design(d)
		s := dep.Slice(dep.Does(dep.Touches(button)...))
		var names []string
		for _, k := range d.Components {
			for _, m := range k.Members {
				if (m.IsCell() || m.Kind == design.Timer) && s.Has(m) {
					names = append(names, m.Label)
				}
			}
		}
		if got := strings.Join(names, " "); got != c.want {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
}
