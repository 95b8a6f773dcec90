package design_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
)

// mistake is a design with one mistake, at the line that has <<.
type mistake struct {
	name   string
	text   string
	rule   string
	words  string
	remedy string
}

// parts are components for the mistakes to use.
const parts = `
type Ware = { id: string, name: string, kg: number }
component one-part {
  takes ware: Ware
  takes size: number = 1
  takes act: (id: string) => void
  shares open: boolean = false
  emits pick(id: string, n: number)
  emits close()
  offers reset() { open = false }
  view {
    button "x" { click -> { act(ware.id); emit pick(ware.id, size); open = !open } }
    when open { slot; slot row(ware <- ware, pick <- act); button "close" { click -> emit close() } }
  }
}
context rack {
  takes limit: number = 1
  shares chosen: string? = null
  holds aside count: number = 0
  emits full()
  action pick(id: string) { chosen = id; count += limit; if (count > 3) emit full() }
}
channel news(text: string, n: number)
service log-book {
  load(id: string): Ware[] replies [] fails "no"
  ping()
}
`

// page puts members and a view into a component.
func page(members, view string) string {
	return "component test-page {\n  holds ware: Ware = { id: \"a\", name: \"b\", kg: 1 }\n  holds open: boolean = false\n  holds n: number = 0\n" +
		"  action act(id: string) { n += 1 }\n" + members + "\n  view {\n" + view + "\n  }\n}\n"
}

var mistakes = []mistake{
	{
		name: "a taken value that is not given",
		text: page("", `one-part { act <- act } // <<`),
		rule: "not-given", words: "takes ware", remedy: "write ware <- ...",
	},
	{
		name: "a link to nothing",
		text: page("", `one-part { ware <- ware; act <- act; colour <- "red" } // <<`),
		rule: "not-taken", words: "does not take colour", remedy: "let it take it",
	},
	{
		name: "a link to an attribute",
		text: page("", `one-part { ware <- ware; act <- act; title <- "red" } // <<`),
		rule: "not-taken", words: "no element of its own that title could stand on", remedy: "takes title: string, title <- title there",
	},
	{
		name: "a class on a component",
		text: page("", `one-part.big { ware <- ware; act <- act } // <<`),
		rule: "not-taken", words: "does not consist of one element", remedy: "or .big on an element in it",
	},
	{
		name: "an event linked down",
		text: page("", `one-part { ware <- ware; act <- act; close <- open } // <<`),
		rule: "wrong-direction", words: "it is reported up", remedy: "write close -> ...",
	},
	{
		name: "a tie to what is only taken",
		text: page("", `one-part { ware <-> ware; act <- act } // <<`),
		rule: "wrong-direction", words: "only takes ware", remedy: "link it down",
	},
	{
		name: "a first value for what is taken",
		text: page("", `one-part { ware <- ware; act <- act; size = 2 } // <<`),
		rule: "wrong-direction", words: "no first value of its own", remedy: "link it: size <- ...",
	},
	{
		name: "a tie of another type",
		text: page("", `one-part { ware <- ware; act <- act; open <-> n } // <<`),
		rule: "wrong-type", words: "shares open as a boolean", remedy: "the same type",
	},
	{
		name: "a tie to a constant expression",
		text: page("", `one-part { ware <- ware; act <- act; open <-> n > 1 } // <<`),
		rule: "wrong-direction", words: "nothing can be written to it", remedy: "one way: open <- ...",
	},
	{
		name: "a link of another type",
		text: page("", `one-part { ware <- ware; act <- act; size <- "2" } // <<`),
		rule: "wrong-type", words: "size of one-part takes a number", remedy: "write 2",
	},
	{
		name: "a value where a function is taken",
		text: page("", `one-part { ware <- ware; act <- n } // <<`),
		rule: "wrong-type", words: "act of one-part takes", remedy: "",
	},
	{
		name: "an event that is never reported",
		text: page("", `one-part { ware <- ware; act <- act; picked(id) -> act(id) } // <<`),
		rule: "never-reported", words: "never reports picked", remedy: "did you mean pick?",
	},
	{
		name: "a DOM event on a component",
		text: page("", `one-part { ware <- ware; act <- act; click -> n += 1 } // <<`),
		rule: "never-reported", words: "never reports click", remedy: "forward it",
	},
	{
		name: "more names than the event carries",
		text: page("", `one-part { ware <- ware; act <- act; pick(id, n, m) -> act(id) } // <<`),
		rule: "payload-differs", words: "carries 2 values, but 3 are named", remedy: "pick(id, n)",
	},
	{
		name: "an action that needs what the event does not carry",
		text: page("", `one-part { ware <- ware; act <- act; close -> act } // <<`),
		rule: "payload-dropped", words: "act needs id", remedy: "give it",
	},
	{
		name: "a text for a component that has no slot, and takes one",
		text: page("", `one-part { ware <- ware; act <- act }; said-part "hi" // <<`) + "component said-part {\n  takes said: string\n  view { p `${said}` }\n}\n",
		rule: "content-without-slot", words: "no slot", remedy: `said <- "hi"`,
	},
	{
		name: "two handlers of one event",
		text: page("", `one-part { ware <- ware; act <- act; close -> n = 1; close -> n = 2 } // <<`),
		rule: "declared-twice", words: "listened to twice", remedy: "put both into one",
	},
	{
		name: "two links of one name",
		text: page("", `one-part { ware <- ware; act <- act; size <- 1; size <- 2 } // <<`),
		rule: "declared-twice", words: "size is linked twice", remedy: "keep one",
	},
	{
		name: "a fill for no slot",
		text: page("", `one-part { ware <- ware; act <- act; fill rows { p "x" } } // <<`),
		rule: "content-without-slot", words: "has no slot rows", remedy: "did you mean row?",
	},
	{
		name: "what a slot does not hand out",
		text: page("", `one-part { ware <- ware; act <- act; fill row(wares) { p "x" } } // <<`),
		rule: "not-in-scope", words: "does not hand out wares", remedy: "did you mean ware?",
	},
	{
		name: "a fill outside of a component",
		text: page("", `div { fill row { p "x" } } // <<`),
		rule: "content-without-slot", words: "stands in no component", remedy: "slot row",
	},
	{
		name: "a slot filled twice",
		text: page("", `one-part { ware <- ware; act <- act; fill row { p "x" }; fill row { p "y" } } // <<`),
		rule: "declared-twice", words: "filled twice", remedy: "put both into one",
	},
	{
		name: "a method that is not offered",
		text: page("", "one-part named box { ware <- ware; act <- act }\nbutton \"b\" { click -> box.clear() } // <<"),
		rule: "not-in-scope", words: "has no clear", remedy: "it can do: reset",
	},
	{
		name: "a named component that may be absent",
		text: page("", "when open { one-part named box { ware <- ware; act <- act } }\nbutton \"b\" { click -> box.reset() } // <<"),
		rule: "may-be-null", words: "box may be null", remedy: "test it first",
	},
	{
		name: "a method that elements do not have",
		text: page("", "input named box\nbutton \"b\" { click -> box.blink() } // <<"),
		rule: "not-in-scope", words: "input has no blink", remedy: "",
	},
	{
		name: "a context that does not exist",
		text: page("uses racks // <<", `p "x"`),
		rule: "not-in-scope", words: "there is no context racks", remedy: "did you mean rack?",
	},
	{
		name: "a write to a context's cell",
		text: page("supplies rack as own", `button "b" { click -> own.chosen = "x" } // <<`),
		rule: "written-from-below", words: "belongs to the context rack", remedy: "call an action of it (own.pick); if none does it, write action setChosen(value: string?)",
	},
	{
		name: "what a context holds aside",
		text: page("supplies rack as own", "p `${own.count}` // <<"),
		rule: "not-in-scope", words: "rack has no count", remedy: "",
	},
	{
		name: "an optional context that is not tested",
		text: page("uses rack? as near", "p `${near.limit}` // <<"),
		rule: "may-be-null", words: "near may be null", remedy: "test it first",
	},
	{
		name: "a handler for what a context never emits",
		text: page("uses rack { empty -> n = 1 } // <<\nsupplies rack as own", "p \"x\""),
		rule: "never-reported", words: "rack never reports empty", remedy: "",
	},
	{
		name: "a context with a view",
		text: "context shelf {\n  view { p \"x\" } // <<\n}\n",
		rule: "wrong-type", words: "a context has no view", remedy: "uses shelf",
	},
	{
		name: "a timer that does not exist",
		text: page("timer soak after 100 { n = 1 }", `button "b" { click -> start soka } // <<`),
		rule: "not-in-scope", words: "has no timer soka", remedy: "did you mean soak?",
	},
	{
		name: "a timer without its argument",
		text: page("timer soak(id: string) after 100 { act(id) }", `button "b" { click -> start soak() } // <<`),
		rule: "payload-differs", words: "soak takes 1 value", remedy: "write soak(ware.id)",
	},
	{
		name: "a delay that is no number",
		text: page("timer soak after \"soon\" { n = 1 } // <<", `button "b" { click -> start soak }`),
		rule: "wrong-type", words: "a timer waits for a number", remedy: "",
	},
	{
		name: "a channel that does not exist",
		text: page("", `button "b" { click -> send gossip("x") } // <<`),
		rule: "not-in-scope", words: "there is no channel gossip", remedy: "the channels are: news",
	},
	{
		name: "a message of another shape",
		text: page("", `button "b" { click -> send news("x") } // <<`),
		rule: "payload-differs", words: "news takes 2 values", remedy: "write news(\"x\", n)",
	},
	{
		name: "more names than a message carries",
		text: page("hears news(a, b, c) { n = b } // <<", `p "x"`),
		rule: "payload-differs", words: "news carries 2 values", remedy: "leave the last ones out",
	},
	{
		name: "a service that does not exist",
		text: page("", `button "b" { click -> ask book.load("x") } // <<`),
		rule: "not-in-scope", words: "there is no service book", remedy: "declare it",
	},
	{
		name: "a question that a service does not know",
		text: page("", `button "b" { click -> ask log-book.save("x") } // <<`),
		rule: "not-in-scope", words: "cannot be asked save", remedy: "it can be asked: load, ping",
	},
	{
		name: "a failure that cannot come",
		text: page("", `button "b" { click -> ask log-book.ping() { failed(why) -> log why } } // <<`),
		rule: "never-reported", words: "never fails", remedy: "write fails",
	},
	{
		name: "a reply that carries nothing",
		text: page("", `button "b" { click -> ask log-book.ping() { got(x) -> log "x" } } // <<`),
		rule: "payload-differs", words: "carries nothing", remedy: "leave the name out",
	},
	{
		name: "an outcome of another name",
		text: page("", `button "b" { click -> ask log-book.ping() { done -> log "x" } } // <<`),
		rule: "never-reported", words: "got or failed", remedy: "got(reply)",
	},
	{
		name: "a component that cannot be opened",
		text: page("", `button "b" { click -> open one-prat } // <<`),
		rule: "not-in-scope", words: "there is no component one-prat", remedy: "did you mean one-part?",
	},
	{
		name: "an opened component without what it takes",
		text: page("", `button "b" { click -> open one-part { act <- act } } // <<`),
		rule: "not-given", words: "takes ware", remedy: "write ware <- ...",
	},
	{
		name: "an event that the component does not emit",
		text: page("", `button "b" { click -> emit done() } // <<`),
		rule: "not-in-scope", words: "does not emit done", remedy: "declare it: emits done()",
	},
	{
		name: "an event that is called",
		text: page("emits full(n: number)", `button "x" { click -> full(1) } // <<`),
		rule: "wrong-type", words: "full is an event", remedy: "write emit full(1)",
	},
	{
		name: "an event as what hears one",
		text: page("emits full()", `button "x" { click -> full } // <<`),
		rule: "wrong-type", words: "full is an event", remedy: "write emit full",
	},
	{
		name: "a timer that is read",
		text: page("timer burn after 5 { log 1 }\n  on mount { start burn }", "p `${burn}` // <<"),
		rule: "wrong-type", words: "burn is a timer", remedy: "running(burn)",
	},
	{
		name: "forwarding what is not declared",
		text: page("", `one-part { ware <- ware; act <- act; close -> forward } // <<`),
		rule: "not-in-scope", words: "does not emit close", remedy: "emits close()",
	},
	{
		name: "a write to a derived value",
		text: page("derives twice = n * 2", `button "b" { click -> twice = 2 } // <<`),
		rule: "wrong-type", words: "worked out from other values", remedy: "set v",
	},
	{
		name: "a write to a parameter",
		text: page("action set(x: number) { x = 2 } // <<", `button "b" { click -> set(1) }`),
		rule: "wrong-type", words: "parameter or constant", remedy: "write to a cell",
	},
	{
		name: "a write to an item of a derived list",
		text: page("derives wares = [ware].filter(w => w.kg > 0)", `each w in wares by w.id { button "b" { click -> w.kg = 2 } } // <<`),
		rule: "written-from-below", words: "would change a copy", remedy: "the cell that the list",
	},
	{
		name: "a link that belongs to nothing",
		text: page("", `when open { title <- "x" } // <<`),
		rule: "wrong-direction", words: "belongs to no node", remedy: "{ block } of the node",
	},
	{
		name: "an event linked like an attribute",
		text: page("", `button "b" { onclick <- "x" } // <<`),
		rule: "wrong-direction", words: "click is an event", remedy: "write click -> x",
	},
	{
		name: "an emit of a cell",
		text: page("", `button "x" { click -> emit n(1) } // <<`),
		rule: "not-in-scope", words: "n is a cell, not an event", remedy: "emits nChanged",
	},
	{
		name: "a call of what is not there", // of which kind it is is asked silently first
		text: page("", `button "x" { click -> ghost.reset() } // <<`),
		rule: "not-in-scope", words: "there is no ghost here", remedy: "",
	},
	{
		name: "content in an element that has none",
		text: page("", `input "text" // <<`),
		rule: "wrong-type", words: "input has no content", remedy: "put it beside",
	},
	{
		name: "a tie of what cannot be tied",
		text: page("", `p { title <-> ware.name } // <<`),
		rule: "wrong-direction", words: "title of p cannot be tied", remedy: "title <- ...",
	},
	{
		name: "two starts of one name",
		text: page("", "p `${n}`") + "start test-page\nstart test-page // <<\n",
		rule: "declared-twice", words: "two starts without a name", remedy: "a name of its own",
	},
	{
		name: "a start that seeds what is not there",
		text: page("", "p `${n}`") + "start test-page { m = 2 } // <<\n",
		rule: "not-taken", words: "does not take m", remedy: "",
	},
	{
		name: "a scenario on no start",
		text: page("", "p `${n}`") + "start test-page\nscenario \"s\" { start \"other\" } // <<\n",
		rule: "not-in-scope", words: "there is no start \"other\"", remedy: "",
	},
	{
		name: "a role that does not exist",
		text: page("", "p `${n}`") + "start test-page\nscenario \"s\" { press knob \"x\" } // <<\n",
		rule: "not-in-scope", words: "there is no role knob", remedy: "some roles are",
	},
	{
		name: "a law about no component",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always all(test-pages).length > 0 } // <<\n",
		rule: "not-in-scope", words: "there is no component test-pages", remedy: "did you mean test-page?",
	},
	{
		name: "a law about an event that is not there",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { turn reported(one-part.picked) } // <<\n",
		rule: "never-reported", words: "takes an event that one-part emits", remedy: "did you mean pick?",
	},
	{
		name: "a law that is no condition",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always the(test-page).n } // <<\n",
		rule: "wrong-type", words: "a condition is a boolean", remedy: "the(test-page).n != 0",
	},
}

func TestMistakes(t *testing.T) {
	for _, m := range slices.Concat(mistakes, declared, asked) {
		t.Run(m.name, func(t *testing.T) {
			text := m.text + parts
			line := 1 + strings.Count(text[:strings.Index(text, "// <<")], "\n")
			d := design.Parse("test.lien", text)
			hit := false
			for _, f := range d.Findings {
				if f.Level != finding.Error {
					continue
				}
				at := d.Set.Position(f.Span.Start)
				if f.Rule == m.rule && at.Line == line && strings.Contains(f.Message, m.words) && strings.Contains(f.Write, m.remedy) {
					hit = true
					continue
				}
				t.Errorf("another finding: %s: %s [%s]; %s", at, f.Message, f.Rule, f.Write)
			}
			if !hit {
				t.Errorf("not found: %s at line %d", m.rule, line)
			}
		})
	}
}

// TestParts: what the mistakes use has none itself.
func TestParts(t *testing.T) {
	text := parts + page("supplies rack as own\nhears news(a) { log a }\ngathers one-part as all",
		`one-part { ware <- ware; act <- act; open <-> open; pick(id) -> own.pick(id); close -> send news("x", all.length) }
when own.chosen != null { p "x" }`) + "start test-page\n"
	d := design.Parse("test.lien", text)
	for _, f := range check.Run(d, check.Options{}) {
		if f.Level == finding.Error {
			t.Errorf("%s: %s", d.Set.Position(f.Span.Start), f.Message)
		}
	}
}

func TestLoadFolders(t *testing.T) {
	files := fstest.MapFS{
		"page/a.lien":     {Data: []byte("use \"../parts\"\ncomponent a-page { view { b-part { text <- \"hello\" } } }\nstart a-page\n")},
		"page/notes.txt":  {Data: []byte("not a design")},
		"parts/b.lien":    {Data: []byte("use \"../page\"\ncomponent b-part { takes text: string; view { p `${text}` } }\n")},
		"data/d.lien":     {Data: []byte("type T = { id: string, n?: number }\nconst xs: T[] = file(\"sub/x.json\")\nconst ys: T[] = file(\"y.csv\")\n")},
		"data/sub/x.json": {Data: []byte(`[{"id": "a", "n": 1}, {"id": "b"}]`)},
		"data/y.csv":      {Data: []byte("id,n\n\"a, b\",2\nc,\n")},
		"empty/x.txt":     {Data: []byte("x")},
	}
	show := func(s string) string { return s }
	d, err := design.Load(files, "page", show)
	if err != nil || len(d.Findings) > 0 || len(d.Files) != 2 {
		t.Fatalf("%v %v", err, d)
	}
	d, err = design.Load(files, "data", show)
	if err != nil || len(d.Findings) > 0 {
		t.Fatalf("%v %v", err, d.Findings)
	}
	var got []string
	for _, k := range d.Consts {
		got = append(got, fmt.Sprint(k.Data != nil))
	}
	if strings.Join(got, " ") != "true true" {
		t.Errorf("the data is not read: %v", got)
	}
	if _, err := design.Load(files, "empty", show); err == nil || !strings.Contains(err.Error(), "no .lien file") {
		t.Errorf("an empty folder: %v", err)
	}
	if _, err := design.Load(files, "none", show); err == nil || !strings.Contains(err.Error(), "no such file") {
		t.Errorf("no folder: %v", err)
	}
}

// TestDataThatDiffers: what is wrong with a data file is said with its place.
func TestDataThatDiffers(t *testing.T) {
	for _, c := range []struct{ name, data, words string }{
		{"x.json", `[{"id": 1, "kg": 2}]`, "id of item 1 of the value is 1, but a string is wanted"},
		{"x.json", `[{"id": "a"}]`, "item 1 of the value has no field kg"},
		{"x.json", `[{"id": "a", "kg": 1, "x": 1}]`, "has a field x, which the type has not"},
		{"x.json", "[{\"id\": \"a\",\n \"kg\": }]", "line 2"},
		{"x.json", `[`, "line 1: unexpected"},
		{"x.json", `[] []`, "more after the end"},
		{"x.json", `{"id": "a"}`, "but a Ware[] is wanted"},
		{"x.json", strings.Repeat("[", 500), "nests too deep"},
		{"x.csv", "id,kg\na,x\n", "line 2: kg: \"x\" is not a number"},
		{"x.csv", "id,kgs\na,1\n", "column kgs"},
		{"x.csv", "id\na\n", "has no field kg"},
		{"x.csv", "", "the first line"},
		{"x.csv", "id,kg\n\"a,1\n", "line"},
		{"x.txt", "", "end in .json or .csv"},
		{"../x.json", "", "outside of the design's folder"},
		{"none.json", "", "no such file"},
	} {
		files := fstest.MapFS{
			"d/d.lien": {Data: []byte("type Ware = { id: string, kg: number }\nconst xs: Ware[] = file(\"" + c.name + "\")\n")},
			"d/x.json": {Data: []byte(c.data)},
			"d/x.csv":  {Data: []byte(c.data)},
			"d/x.txt":  {Data: []byte(c.data)},
		}
		d, err := design.Load(files, "d", func(s string) string { return s })
		if err != nil {
			t.Fatal(err)
		}
		if len(d.Findings) != 1 || d.Findings[0].Rule != "data-differs" || !strings.Contains(d.Findings[0].Message, c.words) {
			t.Errorf("%s %q: %v", c.name, c.data, messages(d))
		}
	}
}

func messages(d *design.Design) []string {
	var list []string
	for _, f := range d.Findings {
		list = append(list, f.Message)
	}
	return list
}

// TestPassItDown: a name that a component above has is to be passed down.
func TestPassItDown(t *testing.T) {
	d := design.Parse("test.lien", "component a-part { view { p `${wares.length}` } }\n"+
		"component a-page { holds wares: string[] = []; view { when true { a-part } } }\n")
	if len(d.Findings) != 1 {
		t.Fatalf("%v", messages(d))
	}
	f := d.Findings[0]
	if want := "pass it down: write takes wares: string[] here, and wares <- wares where a-page uses a-part"; f.Write != want || len(f.Related) != 1 {
		t.Errorf("the remedy is %q", f.Write)
	}
}
