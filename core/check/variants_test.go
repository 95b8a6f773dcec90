package check

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
)

// variant is a design with the rule that is found at the line with <<, or a
// design in which nothing is found above note, and one rule nowhere.
type variant struct {
	name  string
	rule  string
	never string
	text  string
}

var variants = []variant{
	{
		name:  "a number and a list that are both tied",
		never: "counted-beside",
		text: `component s-page {
  holds n: number = 0
  holds list: string[] = []
  view {
    button "b" { click -> n = n + 1 }
    input { aria-label <- "Number"; type <- "number"; value <-> n }
    input { aria-label <- "First"; value <-> list[0] }
    p ` + "`${n} ${list.join()}`" + `
  }
}
start s-page`,
	},
	{
		name:  "a text that is compared, and never changes",
		rule:  "never-changed",
		never: "never-equal",
		text: `component s-page {
  holds mode: string = "idle" // <<
  view { when mode == "late" { p "late" } }
}
start s-page`,
	},
	{
		name:  "a number that goes up with a list, and changes otherwise with it, too",
		never: "counted-beside",
		text: `component s-page {
  holds names: string[] = []
  holds marks: number = 0
  view {
    button "Add" { click -> { names = [...names, "jug"]; marks += 1 } }
    button "Turn" { click -> { names = names.map(n => n); marks = marks * 2 } }
    p ` + "`${marks} ${names.join()}`" + `
  }
}
start s-page`,
	},
	{
		name: "a field that is heard by what is around its component",
		text: `component s-box { takes on: boolean; view { label { input { type <- "checkbox"; checked <- on }; "On" } } }
component s-row { takes on: boolean; view { div { s-box { on <- on } } } }
component s-page {
  holds on: boolean = false
  view { fieldset { change -> on = !on; s-row { on <- on } } }
}
start s-page`,
	},
	{
		name:  "written by the same handlers, and only one of them under a condition",
		never: "always-together",
		text: `component s-page {
  holds heat: number = 20
  holds firing: boolean = false
  view {
    button "Step" { click -> { heat += 300; if (heat > 900) { firing = false } } }
    button "Turn" { click -> { if (firing) { firing = false } else { firing = true; heat = 20 } } }
    p ` + "`${heat} ${firing}`" + `
  }
}
start s-page`,
	},
	{
		name: "an id in one of two branches, and in what is used twice",
		rule: "id-repeated",
		text: `component s-one { view { p { id <- "one"; "x" } } }
component s-two { view { p { id <- "two"; "x" } } } // <<
component s-page {
  holds on: boolean = false
  view {
    when on { s-one } else { s-one }
    s-two
    section { s-two }
    button "Turn" { click -> on = !on }
  }
}
start s-page`,
	},
	{
		name: "keys that are heard around a control, a slot, and what is edited in place",
		text: `component s-box { view { div { keydown -> log "a"; slot } } }
component s-in { view { button "x" } }
component s-page {
  holds n: number = 0
  view {
    div { keydown -> n += 1; s-in }
    s-box { p "x" }
    div { keydown -> n += 2; p { contenteditable <- "true"; "x" } }
    p ` + "`${n}`" + `
  }
}
start s-page`,
	},
	{
		name: "texts that come from elsewhere, and from a start",
		text: `component s-page {
  holds mode: string = "idle"
  holds typed: string = ""
  view {
    when mode == "late" { p "late" }
    when typed == "yes" { p "yes" }
    input { aria-label <- "Say"; value <-> typed }
    button "Fire" { click -> mode = "firing" }
  }
}
start s-page
start "late" s-page { mode = "late" }`,
	},
	{
		name: "a sum beside its list",
		rule: "counted-beside",
		text: `type Ware = { id: Key, kg: number }
component s-page {
  holds wares: Ware[] = []
  holds total: number = 0 // <<
  action add(kg: number) { wares = [...wares, { id: fresh(), kg: kg }]; total = total + kg }
  view {
    button "Add" { click -> add(2) }
    button "None" { click -> { wares = []; total = 0 } }
    p ` + "`${total}`" + `
    each w in wares by w.id { p ` + "`${w.kg}`" + ` }
  }
}
start s-page`,
	},
	{
		name: "a sum of something else",
		text: `type Ware = { id: Key, kg: number }
component s-page {
  holds wares: Ware[] = []
  holds total: number = 0
  action add(kg: number) { wares = [...wares, { id: fresh(), kg: kg }]; total = total + 2 }
  view {
    button "Add" { click -> add(3) }
    p ` + "`${total}`" + `
    each w in wares by w.id { p ` + "`${w.kg}`" + ` }
  }
}
start s-page`,
	},
	{
		name: "the place as the key, where items keep something",
		rule: "item-without-key",
		text: `type Ware = { id: string, name: string }
component s-row {
  takes ware: Ware
  holds note: string = ""
  emits drop
  view { input { aria-label <- "Note"; value <-> note }; p ` + "`${ware.name} ${note}`" + `; button "Drop" { click -> emit drop } }
}
component s-page {
  holds wares: Ware[] = [{ id: "a", name: "jug" }]
  view { each w at i in wares by i { s-row { ware <- w; drop -> wares = wares.filter(x => x.id != w.id) } } } // <<
}
start s-page`,
	},
	{
		name: "the place as the key, where items keep nothing",
		text: `component s-page {
  holds lines: string[] = ["a"]
  view { each l at i in lines by i { p ` + "`${l}`" + ` }; button "Add" { click -> lines = [...lines, "b"] } }
}
start s-page`,
	},
	{
		name: "an item twice that is its own key",
		rule: "keys-meet",
		text: `component s-page {
  view { each l in ["a", "b", "a"] by l { p ` + "`${l}`" + ` } } // <<
}
start s-page`,
	},
	{
		name: "what is typed goes back",
		rule: "linked-one-way",
		text: `component s-page {
  holds name: string = ""
  view {
    input { aria-label <- "Name"; value <- name } // <<
    input { aria-label <- "Fixed"; value <- name; readonly <- true }
    input { type <- "submit"; value <- name }
    form { keydown -> name = "b"; input { aria-label <- "Heard"; value <- name } }
    button "Set" { click -> name = "a" }
  }
}
start s-page`,
	},
	{
		name: "ids that are worked out may be any",
		text: `component s-page {
  view { each l in ["a", "b"] by l { label { for <- "x"; ` + "`${l}`" + ` }; input { id <- ` + "`f-${l}`" + ` } } }
}
start s-page`,
	},
	{
		name: "several ids, of which one is there",
		rule: "no-such-id",
		text: `component s-page {
  view { h2 { id <- "head"; "Kilns" }; section { aria-labelledby <- "head hint"; "x" } } // <<
}
start s-page`,
	},
	{
		name: "a number that goes up where a list is emptied, and one where two are added",
		text: `component s-page {
  holds names: string[] = []
  holds times: number = 0
  holds pairs: string[] = []
  holds added: number = 0
  view {
    button "Empty" { click -> { names = []; times += 1 } }
    button "Add" { click -> { pairs = [...pairs, "jug", "bowl"]; added += 1 } }
    p ` + "`${times} ${names.length} ${added} ${pairs.length}`" + `
  }
}
start s-page`,
	},
	{
		name: "a number that goes up and down with a list",
		rule: "counted-beside",
		text: `component s-page {
  holds names: string[] = ["jug"]
  holds count: number = 1 // <<
  view {
    button "Add" { click -> { names = [...names, "bowl"]; count += 1 } }
    button "Less" { click -> { names = names.slice(1); count -= 1 } }
    button "None" { click -> { names = []; count = 0 } }
    p ` + "`${count} ${names.join()}`" + `
  }
}
start s-page`,
	},
	{
		name: "an event that three only pass on",
		rule: "passed-through",
		text: `component s-leaf {
  emits pick() // <<
  view { button "p" { click -> emit pick() } }
}
component s-a { emits pick(); view { s-leaf { pick -> forward } } }
component s-b { emits pick(); view { s-a { pick -> forward } } }
component s-c { emits pick(); view { s-b { pick -> forward } } }
component s-page { holds n: number = 0; view { s-c { pick -> n += 1 }; p "${n}" } }
start s-page`,
	},
	{
		name: "a key that is typed",
		rule: "keys-meet",
		text: `type Note = { title: string }
component s-page {
  holds notes: Note[] = []
  holds text: string = ""
  view {
    input { aria-label <- "Title"; value <-> text }
    button "Add" { click -> notes = [...notes, { title: text }] }
    each n in notes by n.title { p "${n.title}" } // <<
  }
}
start s-page`,
	},
	{
		name: "a key that is typed, and looked for first",
		text: `type Note = { title: string }
component s-page {
  holds notes: Note[] = []
  holds text: string = ""
  view {
    input { aria-label <- "Title"; value <-> text }
    button "Add" { click -> if (!notes.some(n => n.title == text)) notes = [...notes, { title: text }] }
    each n in notes by n.title { p "${n.title}" }
  }
}
start s-page`,
	},
	{
		name: "items that are repeated",
		rule: "keys-meet",
		text: `component s-page {
  holds notes: string[] = ["a"]
  view {
    button "Twice" { click -> notes = [...notes, ...notes] }
    each n in notes by n { p "${n}" } // <<
  }
}
start s-page`,
	},
	{
		name: "an item that is always the same",
		rule: "keys-meet",
		text: `type Note = { title: string }
component s-page {
  holds notes: Note[] = []
  view {
    button "Add" { click -> notes = [{ title: "new" }, ...notes] }
    each n in notes by n.title { p "${n.title}" } // <<
  }
}
start s-page`,
	},
	{
		name: "a cell that only a child follows or asks with",
		text: `service kiln-log { save(n: number): boolean replies true after 300 }
component s-line {
  takes n: number
  holds seen: string = ""
  follows n { seen = "changed" }
  view { p "${seen}"; button "Save" { click -> ask kiln-log.save(n) { got(ok) -> seen = ok ? "saved" : "no" } } }
}
component s-page {
  holds n: number = 0
  view { button "Up" { click -> n += 1 }; s-line { n <- n } }
}
start s-page`,
	},
	{
		name: "a timer that is only stopped",
		rule: "never-used",
		text: `component s-page {
  holds n: number = 0
  timer soak after 1000 { n += 1 } // <<
  view { button "Stop" { click -> stop soak }; p "${n}" }
}
start s-page`,
	},
	{
		name: "an operation that nothing asks",
		rule: "never-used",
		text: `service kiln-log {
  load(): number replies 1
  save(): number replies 1 // <<
}
component s-page { holds n: number = 0; view { button "Load" { click -> ask kiln-log.load() { got(x) -> n = x } }; p "${n}" } }
start s-page`,
	},
	{
		name: "an event that one of two uses hears",
		text: `component s-card { emits pick(); view { button "p" { click -> emit pick() } } }
component s-page { holds n: number = 0; view { s-card { pick -> n += 1 }; s-card; p "${n}" } }
start s-page`,
	},
	{
		name: "an event that is only forwarded, and heard above",
		text: `component s-leaf { emits pick(); view { button "p" { click -> emit pick() } } }
component s-mid { emits pick(); view { s-leaf { pick -> forward } } }
component s-page { holds n: number = 0; view { s-mid { pick -> n += 1 }; p "${n}" } }
start s-page`,
	},
	{
		name: "an event that is forwarded to nobody",
		rule: "told-to-nobody",
		text: `component s-leaf { emits pick(); view { button "p" { click -> emit pick() } } }
component s-mid {
  emits pick() // <<
  view { s-leaf { pick -> forward } }
}
component s-page { view { s-mid } }
start s-page`,
	},
	{
		name: "what the root reports goes to the world outside",
		text: `component s-page { emits done(); view { button "p" { click -> emit done() } } }
start s-page`,
	},
	{
		name: "an event that is declared and never reported",
		rule: "never-used",
		text: `component s-card {
  emits pick() // <<
  view { button "p" }
}
component s-page { holds n: number = 0; view { s-card { pick -> n += 1 }; p "${n}" } }
start s-page`,
	},
	{
		name: "an action that nothing calls",
		rule: "never-used",
		text: `component s-page {
  holds n: number = 0
  action reset() { n = 0 } // <<
  view { button "${n}" { click -> n += 1 } }
}
start s-page`,
	},
	{
		name: "an action that is handed down",
		text: `component s-leaf { takes act: () => void; view { button "p" { click -> act() } } }
component s-page {
  holds n: number = 0
  action reset() { n += 1 }
  view { s-leaf { act <- reset }; p "${n}" }
}
start s-page`,
	},
	{
		name: "a taken value that nothing reads",
		rule: "never-used",
		text: `component s-leaf {
  takes name: string
  takes size: number = 1 // <<
  view { p "${name}" }
}
component s-page { view { s-leaf { name <- "a"; size <- 2 } } }
start s-page`,
	},
	{
		name: "a value that only a law reads",
		text: `component s-page {
  holds n: number = 0
  derives even = n % 2 == 0
  view { button "${n}" { click -> n += 2 } }
}
start s-page
law "even" { always the(s-page).even }`,
	},
	{
		name: "a component that nothing uses",
		rule: "never-used",
		text: `component s-old { view { p "old" } } // <<
component s-page { view { p "new" } }
start s-page`,
	},
	{
		name: "a component that is only opened",
		text: `component s-sheet { view { button "x" { click -> leave } } }
component s-page { view { button "o" { click -> open s-sheet } } }
start s-page`,
	},
	{
		name: "a constant that nothing reads",
		rule: "never-used",
		text: `const size = 3 // <<
component s-page { view { p "new" } }
start s-page`,
	},
	{
		name: "a timer that nothing starts",
		rule: "never-used",
		text: `component s-page {
  holds n: number = 0
  timer tick after 100 { n += 1 } // <<
  view { p "${n}" }
}
start s-page`,
	},
	{
		name: "a cell that a child's tie changes",
		text: `component s-box { shares on: boolean = false; view { button "b" { aria-pressed <- on; click -> on = !on } } }
component s-page { holds on: boolean = false; view { s-box { on <-> on } } }
start s-page`,
	},
	{
		name: "a cell that a start seeds",
		text: `component s-page { holds n: number = 0; view { p "${n}" } }
start s-page
start "three" s-page { n = 3 }`,
	},
	{
		name: "a cell that a child shows",
		text: `component s-leaf { takes n: number; view { p "${n}" } }
component s-page { holds n: number = 0; view { s-leaf { n <- n }; button "b" { click -> n += 1 } } }
start s-page`,
	},
	{
		name: "a cell that a slot hands out",
		text: `component s-wrap { holds n: number = 0; action up() { n += 1 }; view { slot row(n <- n, up <- up) } }
component s-page { view { s-wrap { fill row(n, up) { button "${n}" { click -> up() } } } } }
start s-page`,
	},
	{
		name: "a cell that only a condition shows",
		text: `component s-page { holds n: number = 0; view { when n > 1 { p "many" }; button "b" { click -> n += 1 } } }
start s-page`,
	},
	{
		name: "a cell that a context's user shows",
		text: `context cx { holds n: number = 0; action up() { n += 1 } }
component s-leaf { uses cx; view { div { button "${cx.n}" { click -> cx.up() } } } }
component s-mid { view { s-leaf } }
component s-page { supplies cx; view { s-mid } }
start s-page`,
	},
	{
		name: "memory that is held aside",
		text: `component s-page { holds aside n: number = 0; view { button "b" { click -> { n += 1; log n } } } }
start s-page`,
	},
	{
		name: "memory that is not",
		rule: "held-unseen",
		text: `component s-page {
  holds n: number = 0 // <<
  view { button "b" { click -> { n += 1; log n } } }
}
start s-page`,
	},
	{
		name: "a copy of a field",
		rule: "copy-goes-stale",
		text: `component s-edit {
  takes ware: { name: string }
  holds name = ware.name // <<
  view { input { value <-> name } }
}
start s-edit { ware <- { name: "a" } }`,
	},
	{
		name: "a copy with another value for null",
		rule: "copy-goes-stale",
		text: `component s-edit {
  takes name: string?
  holds draft: string = name ?? "" // <<
  view { input { value <-> draft } }
}
start s-edit { name <- "a" }`,
	},
	{
		name: "a first value that is asked of what was taken",
		text: `component s-fold {
  takes count: number
  holds open: boolean = count > 3
  view { button "b" { aria-expanded <- open; click -> open = !open } }
}
start s-fold { count <- 2 }`,
	},
	{
		name: "a snapshot of a draft",
		text: `component s-edit {
  holds draft: string = ""
  holds saved: string = ""
  view { input { value <-> draft }; button "Save" { click -> saved = draft }; p "${saved}" }
}
start s-edit`,
	},
	{
		name: "a count that is set wherever the list is",
		rule: "worked-out",
		text: `component s-list {
  holds list: string[] = []
  holds size: number = 0 // <<
  action add() { list = [...list, "x"]; size = list.length }
  action clear() { list = []; size = list.length }
  view { button "${size}" { click -> add }; button "c" { click -> clear }; p "${list.join("")}" }
}
start s-list`,
	},
	{
		name: "a list that is handed down and changes",
		rule: "item-without-key",
		text: `component s-list {
  takes list: string[]
  view { each x in list { p "${x}" } } // <<
}
component s-page {
  holds list: string[] = []
  view { s-list { list <- list }; button "b" { click -> list = [...list, "x"] } }
}
start s-page`,
	},
	{
		name: "a list that never changes",
		text: `component s-list { const list = ["a", "b"]; view { each x in list { p "${x}" } } }
start s-list`,
	},
	{
		name: "a key that a user edits",
		rule: "keys-meet",
		text: `component s-list {
  holds list: { id: string }[] = [{ id: "a" }]
  view {
    each x in list by x.id { input { value <-> x.id } } // <<
  }
}
start s-list`,
	},
	{
		name: "a constant with one key twice",
		rule: "keys-meet",
		text: `const shelves = [{ id: "top" }, { id: "low" }, { id: "top" }]
component s-list {
  view {
    each x in shelves by x.id { p "${x.id}" } // <<
  }
}
start s-list`,
	},
	{
		name: "a cell that begins with one key twice",
		rule: "keys-meet",
		text: `component s-list {
  holds list: { id: number }[] = [{ id: 1 }, { id: 1 }]
  view {
    each x in list by x.id { p "${x.id}" } // <<
    button "b" { click -> list = [] }
  }
}
start s-list`,
	},
	{
		name: "a list of texts that grows by what is typed, handed down and shared",
		rule: "item-without-key",
		text: `component s-list {
  shares list: string[] = []
  view {
    each x in list { p "${x}" } // <<
    button "b" { click -> list = [...list, "x"] }
  }
}
component s-page { holds list: string[] = []; view { s-list { list <-> list } } }
start s-page`,
	},
	{
		name: "a list that is worked out from one that grows",
		rule: "item-without-key",
		text: `component s-list {
  holds list: string[] = []
  derives shown = list.filter(x => x != "")
  view {
    each x in shown { p "${x}" } // <<
    button "b" { click -> list = [...list, "x"] }
  }
}
start s-list`,
	},
	{
		name: "a list that is worked out from one that stays",
		text: `const list = ["a", "b"]
component s-list {
  derives shown = list.filter(x => x != "")
  view { each x in shown { p "${x}" } }
}
start s-list`,
	},
	{
		name: "keys that only look alike",
		text: `const shelves = [{ id: "1" }, { id: "01" }, { id: "" }]
component s-list { view { each x in shelves by x.id { p "${x.id}" } } }
start s-list`,
	},
	{
		name: "a value that two components pass on",
		text: `component s-leaf { takes n: number; view { p "${n}" } }
component s-one { takes n: number; view { s-leaf { n <- n } } }
component s-two { takes n: number; view { s-one { n <- n } } }
component s-page { holds n: number = 0; view { s-two { n <- n }; button "b" { click -> n += 1 } } }
start s-page`,
	},
	{
		name: "a use without a supplier, two levels down",
		rule: "supplier-missing",
		text: `context cx { holds n: number = 0; action up() { n += 1 } }
component s-leaf {
  uses cx // <<
  view { button "${cx.n}" { click -> cx.up() } }
}
component s-mid { view { s-leaf } }
component s-page { view { s-mid } }
start s-page`,
	},
	{
		name: "a supplier around content",
		text: `context cx { holds n: number = 0; action up() { n += 1 } }
component s-leaf { uses cx; view { button "${cx.n}" { click -> cx.up() } } }
component s-group { supplies cx; view { section { slot } } }
component s-page { view { s-group { s-leaf } } }
start s-page`,
	},
	{
		name: "an optional use",
		text: `context cx { holds n: number = 0; action up() { n += 1 } }
component s-leaf { uses cx? as near; view { when near != null { p "${near.n}"; button "b" { click -> near.up() } } } }
component s-group { supplies cx; view { section { slot } } }
component s-page { view { s-leaf; s-group { s-leaf } } }
start s-page`,
	},
	{
		name: "a message that only one side knows",
		rule: "sent-to-nobody",
		text: `channel news(text: string)
component s-page {
  holds last: string = ""
  hears news(text) { last = text } // <<
  view { p "${last}" }
}
start s-page`,
	},
	{
		name: "a leave that nothing opens",
		rule: "never-leaves",
		text: `component s-sheet { view { button "x" { click -> leave } } } // <<
component s-page { view { s-sheet } }
start s-page`,
	},
	{
		name: "a sheet that Escape ends",
		text: `component s-sheet { emits dismissed(); view { p "x" } }
component s-page { view { button "o" { click -> open modal s-sheet } } }
start s-page`,
	},
}

func TestVariants(t *testing.T) {
	for _, v := range variants {
		t.Run(v.name, func(t *testing.T) {
			text := templates(v.text) + "\n"
			line := lineOf(text, "// <<")
			d := design.Parse("test.lien", text)
			hit := v.rule == ""
			for _, f := range Run(d, Options{}) {
				at := d.Set.Position(f.Span.Start)
				switch {
				case f.Rule == v.rule && at.Line == line:
					hit = true
				case f.Level > finding.Note, f.Rule == v.never:
					t.Errorf("%s: %s [%s]", at, f.Message, f.Rule)
				}
			}
			if !hit {
				t.Errorf("%s is not found at line %d", v.rule, line)
			}
		})
	}
}

// templates writes "...${x}..." of the designs above as the templates they
// are meant to be.
func templates(text string) string {
	var out strings.Builder
	for len(text) > 0 {
		i := strings.IndexByte(text, '"')
		if i < 0 {
			break
		}
		end := i + 1
		depth := 0
		for ; end < len(text) && (text[end] != '"' || depth > 0); end++ {
			switch text[end] {
			case '{':
				depth++
			case '}':
				depth--
			}
		}
		lit := text[i : end+1]
		if strings.Contains(lit, "${") {
			lit = "`" + lit[1:len(lit)-1] + "`"
		}
		out.WriteString(text[:i] + lit)
		text = text[end+1:]
	}
	return out.String() + text
}
