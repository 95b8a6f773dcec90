package form_test

import (
	"strings"
	"testing"
	"time"

	"lien/core/compare"
	"lien/core/design"
	"lien/core/form"
)

// parse reads a design that has no errors.
func parse(t testing.TB, text string) *design.Design {
	t.Helper()
	d := design.Parse("kiln.lien", text)
	for _, f := range d.Errors() {
		t.Fatalf("%s: %s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, f.Write, text)
	}
	return d
}

// kiln is a page of a component: its members, and its view.
func kiln(members, view string) string {
	return "component kiln-page {\n" + members + "\nview {\n" + view + "\n}\n}\nstart kiln-page\n"
}

// pages are designs of which a little is changed.
var pages = map[string]string{
	"lists": kiln(`
  holds lit: boolean = false
  holds picked: string = "none"`, `
    each a at i in ["x", "y"] by a {
      each b at j in ["k", "l"] by b {
        p.cell `+"`${a} ${b} ${i} ${j}`"+`
        button `+"`Pick ${a}${b}`"+` { click -> picked = a }
      }
    }
    p `+"`${[1, 2].map(m => [3, 5].map(n => m * 2).join(\" \")).join(\" \")}`"+`
    button "Light" { aria-pressed <- lit; click -> lit = !lit }
    output `+"`${picked}`"),

	"elements": kiln(`
  holds lit: boolean = false
  holds hot: boolean = false
  holds note: string = ""
  holds maker: string = ""
  holds form: { name: string, kind: string } = { name: "", kind: "" }
  holds rows: string[] = ["r", "s"]`, `
    section.first {
      .lit  <- lit
      .hidden <- hot
      title <- "Kiln"
      lang <- "en"
      h1 "Kiln"
    }
    button "Light" { aria-pressed <- lit; click -> lit = !lit }
    button "Heat" { aria-pressed <- hot; click -> hot = true; keydown -> hot = false }
    input named field { aria-label <- "Note"; value <-> note }
    input named other { aria-label <- "Maker"; value <-> maker }
    input { aria-label <- "Name"; value <-> form.name }
    input { aria-label <- "Row"; value <-> rows[0] }
    button "To the note" { click -> field.focus() }
    button "Set" { click -> rows[0] = "set" }
    when lit { p "It burns." } else { p "It is cold." }
    p `+"`${note} ${maker} ${form.name}, ${form.kind}: ${rows.join(\" \")}`"),

	"given classes": kiln(`
  holds lit: boolean = false
  holds hot: boolean = false`, `
    kiln-lamp.first { .lit <- lit; text <- "one" }
    through-part.second { .hot <- hot }
    button "Light" { aria-pressed <- lit; click -> lit = !lit }
    button "Heat" { aria-pressed <- hot; click -> hot = !hot }`) + `
component kiln-lamp {
  takes text: string
  view { em.lamp ` + "`${text}`" + ` }
}
component through-part {
  view { kiln-lamp.inner { text <- "two" } }
}
`,

	"handlers": kiln(`
  holds a: number = 1
  holds b: number = 2
  holds list: number[] = []

  action add(n: number) { list = [...list, n] }
  action both(n: number, m: number) {
    if (n > 3) return
    add(n)
    add(m)
  }

  derives twice = a * 2 set v { a = v - 1 }`, `
    button "Swap" { click -> { const was = a; a = b; b = was } }
    button "Add" { click -> both(a, b) }
    button "More" { click -> if (a < 4) { a += 1 } else { b += 1 } }
    button "All" { click -> { for (n of [1, 2]) add(n); a = 3 } }
    button "Set" { click -> twice = 4 }
    input { aria-label <- "Keys"; keydown(e) -> { if (e.key == "Enter") { e.preventDefault(); a = 4 } } }
    p `+"`${a} ${b}: ${list.join(\" \")}`"),

	"time": kiln(`
  holds left: number = 2
  holds warm: boolean = false
  timer tick after 100 { left -= 1 }
  timer cool(n: number) after 50 * n { warm = false }
  follows left from old { if (left < old) warm = true }
  on mount { start tick }`, `
    button "Burn" { disabled <- running(tick); click -> start tick }
    button "Hold" { click -> stop tick }
    button "Cool" { click -> start cool(1) }
    p `+"`${left} ${warm ? \"warm\" : \"cold\"}`"),

	"parts": `component bowl-card {
  takes label: string = "Bowl"
  shares open: boolean = false
  emits pick(id: string, by: string)
  holds n: number = 0

  view {
    section {
      button ` + "`${label}`" + ` { aria-expanded <- open; click -> open = !open }
      button ` + "`Pick ${label}`" + ` { click -> emit pick(label, "Ada") }
      button ` + "`Count ${label}`" + ` { click -> n += 1 }
      output ` + "`${n}`" + `
      slot foot { p "no foot" }
      slot
    }
  }
}

component kiln-page {
  holds shown: boolean = false
  holds last: string = ""
  emits full(by: string)

  view {
    bowl-card { label <- "Jug"; open <-> shown; pick(id, by) -> last = id; p "Clay" }
    bowl-card { pick(id, by) -> emit full(by); fill foot { p "A foot." } }
    when shown { bowl-card { label <- "Third" } }
    button "Show" { click -> shown = !shown }
    p ` + "`${last}`" + `
  }
}

start kiln-page
`,

	// what is read before and after something that may change it, on the way into a branch or a loop
	"moments": `channel news(text: string)

component kiln-page {
  holds heat: number = 1
  holds on: boolean = true
  holds seen: string = ""
  timer cool after 900 { heat = 1 }
  hears news(text) { heat += 1 }

  view {
    button "Switch" { click -> on = !on }
    button "Tell" {
      click -> {
        send news("a")
        const was = heat
        if (on) {
          send news("b")
          seen = ` + "`told ${was}`" + `
        }
      }
    }
    button "Burn" {
      click -> {
        start cool
        const was = running(cool)
        if (on) {
          stop cool
          seen = ` + "`burns ${was}`" + `
        }
      }
    }
    button "Twice" {
      click -> {
        for (n of [1, 2]) {
          const was = heat
          for (m of [1, 2]) heat = was + heat
        }
      }
    }
    button "Keys" {
      click -> {
        const first = fresh()
        if (on) {
          const second = fresh()
          seen = first == second ? "one key" : "two keys"
        }
      }
    }
    button "Keep" { click -> { const was = heat; send news("a"); heat = was } }
    button "Either" { click -> { for (n of [2]) { if (n > 1) heat = 0 else { seen = "one" } } } }
    p ` + "`${heat} ${seen}`" + `
  }
}

start kiln-page
`,

	// what a slot handed out, read where its place may be gone by then: this has no form
	"handed": `component hand-box {
  holds k: number = 0
  action set(n: number) { k = n }
  view { slot data(k <- k, set <- set) }
}

component outer-box {
  emits close()
  emits seen(n: number)
  view {
    hand-box {
      fill data(k, set) {
        button "Close" { click -> { const was = k; set(5); emit close(); emit seen(k); log was } }
      }
    }
  }
}

component kiln-page {
  holds shown: boolean = true
  holds seen: number = 0

  view {
    when shown { outer-box { close -> shown = false; seen(n) -> seen = n } }
    p ` + "`${seen}`" + `
  }
}

start kiln-page
`,

	// what an item is after the turn changed the list that it comes from
	"changing": `type Ware = { id: string, name: string, parts: string[] }

component ware-page {
  holds wares: Ware[] = [{ id: "a", name: "Bowl", parts: ["foot", "rim"] }]
  holds seen: string = ""
  holds count: number = 0

  view {
    each w in wares by w.id {
      button "Name" { click -> { const was = w.name; wares = wares.map(x => ({ ...x, name: x.name + "!" })); seen = ` + "`name ${w.name}`" + `; log was } }
      button "Count" { click -> { const was = w.name; count += 1; seen = ` + "`count ${w.name}`" + `; log was } }
      each p at i in w.parts by i {
        button ` + "`Part ${i}`" + ` { click -> { const was = p; wares = wares.map(x => ({ ...x, parts: x.parts.map(y => y + "!") })); seen = ` + "`part ${p}`" + `; log was } }
      }
    }
    p ` + "`${seen}, ${count}`" + `
  }
}

start ware-page
`,

	// what goes with the place where it is held: a branch of a when, an item
	"places": `component bell-row {
  emits rung()
  timer ring after 100 { emit rung() }
  view { button "Ring" { click -> start ring } }
}

component heat-row {
  takes name: string
  shares heat: number = 0
  timer rise after 100 { heat += 1 }
  view {
    button ` + "`Heat ${name}`" + ` { click -> start rise }
    input { aria-label <- name }
    output ` + "`${name} ${heat}`" + `
  }
}

component kiln-page {
  holds shown: boolean = true
  holds spare: number = 0
  holds lifted: number = 0
  holds names: string[] = ["low", "high"]
  timer burn after 100 { spare += 1 }

  view {
    button "Show" { click -> shown = !shown }
    button "Turn" { click -> names = [names[1] ?? "", names[0] ?? ""] }
    button "Burn" { click -> start burn }
    when shown { heat-row { name <- "top" } }
    when shown { bell-row { rung -> spare += 1 } }
    each n in names by n { heat-row { name <- n } }
    output ` + "`spare ${spare}`" + `
  }
}

start kiln-page
`,

	"world": `type Ware = { id: string }

channel news(text: string)
channel gossip(text: string)

service kiln-log {
  load(): Ware[] replies [{ id: "a" }] after 300 fails "offline"
  list(): Ware[] replies [{ id: "b" }] after 300 fails "offline"
}

component news-line {
  holds last: string = ""
  hears news(text) { last = text }
  view { p ` + "`news: ${last}`" + ` }
}

component ask-unload {
  takes name: string
  emits answered(ok: boolean)
  emits dismissed()

  view {
    div {
      role       <- "dialog"
      aria-label <- name
      button "Yes" { click -> leave answered(true) }
      button "No" { click -> leave }
    }
  }
}

context rack {
  holds heat: number = 0
  action warm() { heat += 1 }
}

component heat-field {
  uses rack
  view { button ` + "`Heat ${rack.heat}`" + ` { click -> rack.warm() } }
}

component inner-group {
  supplies rack
  view { slot }
}

component kiln-page {
  holds wares: Ware[] = []
  holds failed: string = ""
  holds ok: string = "open"
  supplies rack as own

  view {
    button "Load" { click -> ask kiln-log.load() { got(list) -> wares = list; failed(why) -> failed = why } }
    button "Tell" { click -> send news("warm") }
    button "Unload" {
      click -> open modal ask-unload {
        name         <- "Unload?"
        answered(is) -> ok = is ? "yes" : "no"
        dismissed()  -> ok = "dismissed"
      }
    }
    news-line
    heat-field
    inner-group { heat-field }
    output ` + "`${wares.map(w => w.id).join()} ${failed} ${ok} ${own.heat}`" + `
  }
}

start kiln-page
`,
}

// TestApart: a little of a page is changed, so that people can tell: then it has another form. What the search finds
// says that there is something to tell.
func TestApart(t *testing.T) {
	for _, c := range []struct{ page, old, new string }{
		// what stands for an item, its place, or a parameter, is one thing in both
		{"lists", "${a} ${b} ${i}", "${b} ${b} ${i}"},
		{"lists", "${i} ${j}`", "${j} ${j}`"},
		{"lists", "m * 2", "n * 2"},
		{"lists", "picked = a", "picked = b"},
		{"lists", `["k", "l"] by b`, `["l", "k"] by b`},
		{"lists", "p.cell", "em.cell"},
		{"lists", "p.cell", "p.row"},
		{"lists", `.join(" ")).join(" ")`, `.join("")).join(" ")`},

		{"given classes", "kiln-lamp.first", "kiln-lamp"},
		{"given classes", "kiln-lamp.first", "kiln-lamp.last"},
		{"given classes", ".lit <- lit; text", ".lit <- hot; text"},
		{"given classes", ".hot <- hot", ".lit <- hot"},
		{"given classes", "through-part.second", "through-part"},
		{"given classes", "kiln-lamp.inner", "kiln-lamp"},
		{"given classes", "em.lamp", "em"},

		{"elements", "section.first", "section"},
		{"elements", ".lit  <- lit", ".lit  <- hot"},
		{"elements", ".lit  <- lit", ".hot  <- lit"},
		{"elements", `title <- "Kiln"`, `title <- "Oven"`},
		{"elements", ".hidden <- hot", "hidden <- hot"},
		{"elements", ".lit  <- lit", ""},
		{"elements", "value <-> rows[0]", "value <-> rows[1]"},
		{"elements", `title <- "Kiln"`, `accesskey <- "Kiln"`},
		{"elements", `title <- "Kiln"`, ""},
		{"elements", `h1 "Kiln"`, `h2 "Kiln"`},
		{"elements", `h1 "Kiln"`, `h1 "Kilns"`},
		{"elements", "click -> lit = !lit", "keydown -> lit = !lit"},
		{"elements", "click -> lit = !lit", "click -> lit = true"},
		{"elements", "; keydown -> hot = false", ""},
		{"elements", "click -> hot = true; keydown -> hot = false", "click -> hot = false; keydown -> hot = true"},
		{"elements", "value <-> note", "value <-> maker"},
		{"elements", "value <-> form.name", "value <-> form.kind"},
		{"elements", "value <-> note", "value <- note"},
		{"elements", "field.focus()", "other.focus()"},
		{"elements", "field.focus()", "field.select()"},
		{"elements", "rows[0] =", "rows[1] ="},
		{"elements", "when lit", "when !lit"},
		{"elements", ` else { p "It is cold." }`, ""},
		{"elements", "lit: boolean = false", "lit: boolean = true"},
		{"elements", "${note} ${maker}", "${maker} ${note}"},

		{"handlers", "a = b; b = was", "b = was; a = b"},
		{"handlers", "const was = a; a = b", "a = b; const was = a"},
		{"handlers", "both(a, b)", "both(b, a)"},
		{"handlers", "if (n > 3) return\n", ""},
		{"handlers", "if (n > 3)", "if (n > 1)"},
		{"handlers", "add(n)\n    add(m)", "add(m)\n    add(n)"},
		{"handlers", "if (a < 4) { a += 1 } else { b += 1 }", "if (a < 4) { b += 1 } else { a += 1 }"},
		{"handlers", "else { b += 1 }", ""},
		{"handlers", "for (n of [1, 2])", "for (n of [2, 1])"},
		{"handlers", "add(n); a = 3", "add(a); a = 3"},
		{"handlers", "; a = 3", ""},
		{"handlers", "set v { a = v - 1 }", "set v { a = v }"},
		{"handlers", "twice = 4", "twice = 6"},
		{"handlers", `e.key == "Enter"`, `e.key == "Escape"`},
		{"handlers", "a: number = 1", "a: number = 2"},
		{"handlers", "${a} ${b}:", "${a + b}:"},

		{"time", "after 100", "after 200"},
		{"time", "after 100", "every 100"},
		{"time", "after 50 * n", "after 60 * n"},
		{"time", "left -= 1", "left -= 2"},
		{"time", "if (left < old)", "if (left > old)"},
		{"time", "on mount { start tick }", ""},
		{"time", "on mount { start tick }", "on mount { start cool(1) }"},
		{"time", "click -> stop tick", "click -> stop cool"},
		{"time", "start cool(1)", "start cool(2)"},
		{"time", "disabled <- running(tick)", "disabled <- !running(tick)"},
		{"time", "disabled <- running(tick)", "disabled <- running(cool)"},

		{"moments", "`told ${was}`", "`told ${heat}`"},
		{"moments", "`burns ${was}`", "`burns ${running(cool)}`"},
		{"moments", "send news(\"a\"); heat = was", "send news(\"a\"); log was"},
		{"moments", "was + heat", "heat + heat"},
		{"moments", "first == second", "second == second"},
		{"moments", "if (n > 1) heat = 0 else { seen = \"one\" }", "if (n > 1) { heat = 0; seen = \"one\" }"},

		{"changing", "`name ${w.name}`", "`name ${was}`"},
		{"changing", "`part ${p}`", "`part ${was}`"},
		{"handed", "emit close(); emit seen(k)", "emit seen(k); emit close()"},
		{"places", `name <- "top"`, `name <- "top"; heat <-> spare`},
		{"places", `name <- "top"`, `name <- "top"; heat <-> lifted`},
		{"places", "when shown { bell-row { rung -> spare += 1 } }", `when shown { button "Ring" { click -> start burn } }`},
		{"places", "each n in names by n {", "each n at i in names by i {"},
		{"places", "when shown { heat-row { name <- \"top\" } }", "when !shown { heat-row { name <- \"top\" } } else { heat-row { name <- \"top\" } }"},
		{"places", "timer burn after 100 { spare += 1 }", "timer burn after 100 { spare += 1; stop burn; start burn }"},

		{"parts", `= "Bowl"`, `= "Plate"`},
		{"parts", `label <- "Jug"`, `label <- "Can"`},
		{"parts", "; open <-> shown", ""},
		{"parts", "last = id", "last = by"},
		{"parts", "emit full(by)", "emit full(id)"},
		{"parts", "emit full(by); ", "last = by; "},
		{"parts", `"no foot"`, `"none"`},
		{"parts", `fill foot { p "A foot." }`, ""},
		{"parts", `; p "Clay"`, ""},
		{"parts", "n += 1", "n += 2"},

		{"world", "ask kiln-log.load()", "ask kiln-log.list()"},
		{"world", "failed(why) -> failed = why", `failed(why) -> failed = "no"`},
		{"world", "; failed(why) -> failed = why", ""},
		{"world", "wares = list;", "wares = [...list, ...list];"},
		{"world", `send news("warm")`, `send news("cold")`},
		{"world", `send news("warm")`, `send gossip("warm")`},
		{"world", "hears news", "hears gossip"},
		{"world", "open modal", "open"},
		{"world", "leave answered(true)", "leave answered(false)"},
		{"world", `"No" { click -> leave }`, `"No" { click -> leave dismissed() }`},
		{"world", `ok = is ? "yes" : "no"`, `ok = is ? "no" : "yes"`},
		{"world", `name         <- "Unload?"`, `name         <- "Sure?"`},
		{"world", "inner-group { heat-field }", "heat-field"},
		{"world", "heat += 1", "heat += 2"},
		{"world", "${own.heat}", "0"},
	} {
		t.Run(c.page+"/"+c.old+"/"+c.new, func(t *testing.T) {
			text := pages[c.page]
			if strings.Count(text, c.old) == 0 {
				t.Fatalf("%q is not there", c.old)
			}
			before, after := parse(t, text), parse(t, strings.Replace(text, c.old, c.new, 1))
			if why := form.Alike(before, before, before.Starts[0], before.Starts[0]); (why != "") != (c.page == "handed") {
				t.Fatalf("the page has no form: %s", why)
			}
			if form.Alike(before, after, before.Starts[0], after.Starts[0]) == "" || form.Alike(after, before, after.Starts[0], before.Starts[0]) == "" {
				t.Error("they have one form")
			}
			if !compare.Run(before, after, compare.Options{Plain: true, Pairs: 20_000, Time: 20 * time.Second}).Differs() {
				t.Error("nobody can tell them apart, so this is no case")
			}
		})
	}
}

// TestOneForm: how a page is written is changed, and nothing that people can tell: then it keeps its form.
func TestOneForm(t *testing.T) {
	for _, c := range []struct{ page, old, new string }{
		{"elements", ".lit  <- lit\n      .hidden <- hot\n      title <- \"Kiln\"\n      lang <- \"en\"", "lang <- \"en\"\n      .hidden <- hot\n      title <- \"Kiln\"\n      .lit <- lit"},
		{"elements", "input named other", "input"},
		{"elements", "aria-pressed <- lit; click -> lit = !lit", "click -> lit = !lit; aria-pressed <- lit"},
		{"changing", "`count ${w.name}`", "`count ${was}`"},
		{"handlers", "const was = a; a = b; b = was", "const was = b; b = a; a = was"},
		{"handlers", "add(n)\n    add(m)", "list = [...list, n]\n    add(m)"},
		{"handlers", "if (n > 3) return\n    add(n)\n    add(m)", "if (n > 3) { log n } else {\n    add(n)\n    add(m)\n    }"},
		{"handlers", "both(a, b)", "{ const n = a; both(n, b) }"},
		{"handlers", "twice = 4", "a = 4 - 1"},
		{"lists", "map(m => [3, 5].map(n => m * 2)", "map(x => [3, 5].map(y => x * 2)"},
		{"time", "timer tick after 100 { left -= 1 }", "timer tick after 100 { less() }\n  action less() { left -= 1 }"},
		{"parts", "last = id", "{ const was = id; last = was }"},
		{"world", "{ heat += 1 }", "{ const was = heat; heat = was + 1 }"},
	} {
		t.Run(c.page+"/"+c.old, func(t *testing.T) {
			text := pages[c.page]
			if strings.Count(text, c.old) != 1 {
				t.Fatalf("%q stands there %d times", c.old, strings.Count(text, c.old))
			}
			before, after := parse(t, text), parse(t, strings.Replace(text, c.old, c.new, 1))
			for _, d := range [][2]*design.Design{{before, after}, {after, before}} {
				if why := form.Alike(d[0], d[1], d[0].Starts[0], d[1].Starts[0]); why != "" {
					t.Error(why)
				}
			}
			if r := compare.Run(before, after, compare.Options{Plain: true, Pairs: 500, Time: 20 * time.Second}); r.Differs() {
				t.Error("people can tell them apart")
			}
		})
	}
}
