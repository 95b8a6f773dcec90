package engine

import (
	"strings"
	"testing"

	"lien/core/design"
)

// studio has everything that lives for a while, and a button that does it all
// and then fails.
const studio = `context store {
  holds lines: string[] = []
  action add(x: string) { lines = [...lines, x] }
  timer forget after 1000 { lines = [] }
  follows lines { if (lines.length > 0) start forget }
}
channel news(text: string)
service kiln-log { load(): string replies "loaded" after 500 fails "offline" }
component note-part {
  takes id: string
  uses store
  emits gone(id: string)
  offers flash() { n += 1 }
  holds n: number = 0
  timer expire after 3000 { emit gone(id) }
  on mount { start expire }
  on unmount { store.add("left " + id) }
  hears news(text) { n += text.length }
  view { p ` + "`${id} ${n}`" + ` }
}
component ask-part {
  emits answered(ok: boolean)
  emits dismissed()
  view { div { role <- "dialog"; button "ok" { click -> leave answered(true) } } }
}
component studio-page {
  supplies store as own
  holds ids: string[] = ["a", "b"]
  holds got: string = ""
  holds zero: number = 0
  holds text: string = "x"
  timer tick every 700 { zero = 0 }
  gathers note-part as notes
  action all() {
    ids = [...ids.slice(1), "c" + got]
    own.add("all")
    start tick
    send news("hello")
    ask kiln-log.load() { got(x) -> got = x; failed(x) -> got = x }
    open modal ask-part { answered(ok) -> got = ok ? "yes" : "no" }
    text = text + "y"
    for (n of notes) n.flash()
  }
  view {
    form named entry { input { name <- "q"; value <-> text } }
    each id in ids by id { note-part { id <- id; gone(x) -> ids = ids.filter(y => y != x) } }
    p ` + "`${own.lines.join(\",\")} ${got} ${notes.length} ${entry.values.q} ${running(tick)} ${10 / (zero + 1)}`" + `
    button "all" { click -> all }
    button "fail" { click -> { all(); zero = -1 } }
    button "later" { click -> { all(); log 1 / zero } }
  }
}
start studio-page
`

func mountStudio(t *testing.T) (*Engine, func(name string) error) {
	t.Helper()
	d := design.Parse("studio.lien", studio)
	for _, f := range d.Findings {
		if d.Failed() {
			t.Fatalf("%s: %s", d.Set.Position(f.Span.Start), f.Message)
		}
	}
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	return e, func(name string) error {
		var found *Element
		e.Elements(func(el *Element) bool {
			if el.Tag() == "button" && e.Name(el) == name {
				found = el
			}
			return found == nil
		})
		if found == nil {
			t.Fatalf("there is no button %s", name)
		}
		return e.Click(found)
	}
}

// lives writes down all that lives beside the page.
func lives(e *Engine) string {
	var out []string
	e.timers.each(func(t *timer) { out = append(out, t.inst.Path()+"."+t.member.Label) })
	out = append(out, e.Waiting()...)
	for _, o := range e.openings {
		out = append(out, "open "+o.use.inst.Path())
	}
	for _, i := range e.Instances() {
		out = append(out, i.Path())
	}
	return strings.Join(out, "\n")
}

// TestFailureTakesEverythingBack: timers, questions, opened components,
// contexts, gathered lists and forms are as before a turn that failed, be it
// in a handler or at the refresh.
func TestFailureTakesEverythingBack(t *testing.T) {
	for _, name := range []string{"fail", "later"} {
		e, press := mountStudio(t)
		page, living := snapshot(e), lives(e)
		for range 2 {
			if err := press(name); err == nil || !strings.Contains(err.Error(), "not a finite number") {
				t.Fatalf("%s: %v", name, err)
			}
			if got := lives(e); got != living {
				t.Errorf("%s: what lives was\n%s\nand is\n%s", name, living, got)
			}
			if got := snapshot(e); got != page {
				t.Errorf("%s: the page was\n%s\nand is\n%s", name, page, got)
			}
			if err := consistent(e); err != nil {
				t.Fatalf("%s: %v", name, err)
			}
		}
		if err := press("all"); err != nil {
			t.Fatalf("after %s: %v", name, err)
		}
		if err := consistent(e); err != nil {
			t.Errorf("after %s: %v", name, err)
		}
	}
}

// TestAllAtOnce: what one handler sets off, in its order.
func TestAllAtOnce(t *testing.T) {
	e, press := mountStudio(t)
	if err := press("all"); err != nil {
		t.Fatal(err)
	}
	text := e.PageText()
	for _, want := range []string{"b 6", "c 0", "all,left a", " 2 xy true 10"} {
		if !strings.Contains(text, want) {
			t.Errorf("the page does not show %q: %s", want, text)
		}
	}
	for _, want := range []string{"studio-page.tick", "kiln-log.load", "open studio-page > ask-part", `studio-page > note-part["c"].expire`} {
		if !strings.Contains(lives(e), want) {
			t.Errorf("%s does not live:\n%s", want, lives(e))
		}
	}
	if e.Focus() == nil || e.Name(e.Focus()) != "ok" {
		t.Error("the focus is not in the opened component")
	}
	if err := e.Wait(500); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(e.PageText(), "loaded") || len(e.Waiting()) != 0 {
		t.Errorf("the reply has not come: %s", e.PageText())
	}
	if err := e.Wait(10_000); err != nil {
		t.Fatal(err)
	}
	if got := lives(e); strings.Contains(got, "note-part") || !strings.Contains(got, "tick") {
		t.Errorf("after ten seconds there live:\n%s", got)
	}
	if err := press("ok"); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(e.PageText(), "yes") || len(e.openings) != 0 {
		t.Errorf("the answer has not come: %s", e.PageText())
	}
	if err := consistent(e); err != nil {
		t.Error(err)
	}
}

// TestOrderOfTime: timers and replies come when they are due, those of one
// moment in the order in which they were started.
func TestOrderOfTime(t *testing.T) {
	d := design.Parse("time.lien", `service s { ask(): string replies "reply" after 300 }
component a-b {
  holds done: string[] = []
  timer t(name: string, ms: number) after ms { done = [...done, name] }
  timer e every 200 { done = [...done, "e"]; if (done.length > 5) stop e }
  on mount {
    start t("c", 300)
    start t("a", 100)
    start t("b", 100)
    ask s.ask() { got(x) -> done = [...done, x] }
    start e
    start t("again", 50)
    start t("never", 250)
    stop t("never")
  }
  view { p `+"`${done.join(\" \")}`"+` }
}
start a-b
`)
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		wait float64
		want string
	}{
		{0, ""},
		{50, "again"},
		{50, "again a b"},
		{150, "again a b e"},
		{50, "again a b e c reply"},
		{100, "again a b e c reply e"},
		{5000, "again a b e c reply e"},
	} {
		if err := e.Wait(c.wait); err != nil {
			t.Fatal(err)
		}
		if got := e.PageText(); got != c.want {
			t.Errorf("at %g ms: %q, want %q", e.now, got, c.want)
		}
	}
}

// TestEndless: what never comes to an end is told, and ends.
func TestEndless(t *testing.T) {
	for _, c := range []struct{ name, text, words string }{
		{"timers that start each other", `component a-b {
  holds n: number = 0
  timer t after 0 { n += 1; start t }
  on mount { start t }
  view { p ` + "`${n}`" + ` }
}
start a-b
`, "timers fired more than"},
		{"hooks that mount and unmount", `component c-d { emits x(); on mount { emit x() }; view { p "x" } }
component a-b {
  holds n: number = 0
  view { each i in [n] by i { c-d { x -> n += 1 } } }
}
start a-b
`, "does not settle"},
		{"functions that nest", `component c-d {
  takes f: (n: number) => number
  takes depth: number
  derives g(n: number) = f(n) + 1
  view { when depth > 0 { c-d { f <- g; depth <- depth - 1 } } else { p ` + "`${f(1)}`" + ` } }
}
component a-b {
  derives one(n: number) = n
  holds deep: number = 900
  view { c-d { f <- one; depth <- deep }; button "b" { click -> deep = 5 } }
}
start a-b
`, ""},
	} {
		d := design.Parse("endless.lien", c.text)
		if d.Failed() {
			t.Fatalf("%s: %s", c.name, d.Findings[0].Message)
		}
		e := New(d)
		_, err := e.Mount(d.Starts[0])
		if err == nil {
			err = e.Wait(1)
		}
		if c.words == "" && err != nil || c.words != "" && (err == nil || !strings.Contains(err.Error(), c.words)) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}
