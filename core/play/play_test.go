package play

import (
	"strings"
	"testing"
	"testing/fstest"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
)

const shelf = `
type Ware = { id: string, ready: boolean, note?: string }
service kiln-log {
  load(): string[] replies ["bowl", "jug"] after 300 fails "offline"
  save(what: string): string replies what
}
component ware-row {
  takes ware: Ware
  takes tone: "warm" | "cool"
  emits pick(id: string)
  view { button ~${ware.id}~ { click -> emit pick(ware.id) }; p ~${tone}~ }
}
component kiln-shelf {
  holds wares: string[] = []
  holds chosen: string? = null
  holds note: string = ""
  holds hot: boolean = false
  holds cone: string = "6"
  timer cool after 2000 { hot = false }
  on mount { ask kiln-log.load() { got(list) -> wares = list; failed(why) -> note = why } }
  view {
    button "Fire" { click -> { hot = true; start cool } }
    label { "Note"; input { value <-> note } }
    label { "Hot"; input { type <- "checkbox"; checked <-> hot } }
    select { aria-label <- "Cone"; value <-> cone; option "six" { value <- "6" }; option "ten" { value <- "10" } }
    button "Never" { disabled <- true; click -> note = "never" }
    each w in wares by w { ware-row { ware <- { id: w, ready: true }; tone <- "warm"; pick(id) -> chosen = id } }
    p ~${chosen ?? "none"} ${note} ${hot} ${cone}~
  }
}
start kiln-shelf
`

func loaded(t *testing.T, more string) *design.Design {
	t.Helper()
	text := strings.ReplaceAll(shelf+more, "~", "`")
	d, err := design.Load(fstest.MapFS{"d.lien": {Data: []byte(text)}}, "d.lien", func(s string) string { return s })
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range d.Findings {
		t.Fatalf("%s: %s", d.Set.Position(f.Span.Start), f.Message)
	}
	return d
}

func session(t *testing.T, d *design.Design) *Session {
	t.Helper()
	s, err := New(d, d.Starts[0])
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func (s *Session) named(t *testing.T, name string) *engine.Element {
	t.Helper()
	var found *engine.Element
	s.e.Elements(func(el *engine.Element) bool {
		if s.e.Name(el) == name && Operable(s.e, el) {
			found = el
		}
		return found == nil
	})
	if found == nil {
		t.Fatalf("there is no %s on\n%s", name, s.page())
	}
	return found
}

func (s *Session) page() string { return strings.Join(story.Page(s.e), "\n") }

func check(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// pressAll does one thing of every kind.
func pressAll(t *testing.T, s *Session) {
	t.Helper()
	check(t, s.Answer(0, false))
	check(t, s.Gesture(engine.Press, s.named(t, "jug"), ""))
	check(t, s.Gesture(engine.Type, s.named(t, "Note"), "Ada"))
	check(t, s.Choose(s.named(t, "Cone"), "ten"))
	check(t, s.Gesture(engine.Press, s.named(t, "Fire"), ""))
	check(t, s.Gesture(engine.Tick, s.named(t, "Hot"), ""))
	check(t, s.Gesture(engine.Tick, s.named(t, "Hot"), ""))
	check(t, s.WaitNext())
}

func TestUndoAndRedo(t *testing.T) {
	s := session(t, loaded(t, ""))
	pages := []string{s.page()}
	times := []float64{s.e.Now()}
	pressAll(t, s)
	all, done := s.Acts()
	for range all {
		if !s.Undo() {
			t.Fatal("nothing to take back")
		}
	}
	if s.Undo() || s.page() != pages[0] {
		t.Fatalf("all taken back is\n%s\nat first it was\n%s", s.page(), pages[0])
	}
	for s.Redo() {
		pages, times = append(pages, s.page()), append(times, s.e.Now())
	}
	if len(pages) != done+1 || !strings.Contains(pages[done], "jug Ada false 10") {
		t.Fatalf("done again, %d of %d, it is\n%s", len(pages)-1, done, s.page())
	}
	for _, n := range []int{3, 7, 0, done, 1} {
		check(t, s.Jump(n))
		if s.page() != pages[n] || s.e.Now() != times[n] {
			t.Errorf("at step %d, %v ms, is\n%s\nit was at %v ms\n%s", n, s.e.Now(), s.page(), times[n], pages[n])
		}
	}
	if s.Jump(done+1) == nil || s.Jump(-1) == nil {
		t.Error("there are steps that were never taken")
	}
	check(t, s.Gesture(engine.Press, s.named(t, "bowl"), ""))
	if all, done := s.Acts(); len(all) != 2 || done != 2 {
		t.Errorf("after something else is done there are %d steps, %d done", len(all), done)
	}
}

func TestWhatWasPressedRunsAsAScenario(t *testing.T) {
	d := loaded(t, "")
	s := session(t, d)
	pressAll(t, s)
	text := s.Scenario("pressed by hand")
	for _, want := range []string{"reply kiln-log.load\n", "press button \"jug\"\n", "type \"Ada\" into textbox \"Note\"\n", "choose \"ten\" in combobox \"Cone\"\n", "untick checkbox \"Hot\"\n", "wait 2000\n"} {
		if !strings.Contains(text, want) {
			t.Errorf("there is no %q in\n%s", want, text)
		}
	}
	again := loaded(t, text)
	if r := story.Run(again, nil); r.Failed() {
		t.Errorf("it fails: %s\n%s", r.Results[0].Failure.Message, text)
	}
}

func TestResume(t *testing.T) {
	s := session(t, loaded(t, ""))
	pressAll(t, s)
	steps := func(st *design.Step) string { return st.Verb }
	same := loaded(t, s.Scenario("all"))
	next, n, err := Resume(same, same.Scenarios[0], steps)
	if err != nil || n != 8 || next.page() != s.page() {
		t.Fatalf("%d steps, %v, and then\n%s", n, err, next.page())
	}
	if !next.Undo() || !next.Redo() || next.page() != s.page() {
		t.Error("what was resumed cannot be taken back and done again")
	}
	other := loaded(t, strings.Replace(s.Scenario("all"), "choose", "press button \"Gone\"\n  choose", 1))
	next, n, err = Resume(other, other.Scenarios[0], steps)
	if err != nil || n != 3 || !strings.Contains(next.page(), "jug Ada false 6") {
		t.Errorf("%d steps fit, %v, and then\n%s", n, err, next.page())
	}
}

func TestWhatCannotBeDone(t *testing.T) {
	s := session(t, loaded(t, ""))
	before := s.page()
	for what, err := range map[string]error{
		"a disabled button":      s.Gesture(engine.Press, s.named(t, "Never"), ""),
		"an option":              s.Choose(s.named(t, "Cone"), "eleven"),
		"an answer to the third": s.Answer(3, false),
	} {
		if err == nil {
			t.Errorf("%s: no error", what)
		}
	}
	if _, done := s.Acts(); done != 0 || s.page() != before {
		t.Errorf("%d steps were taken", done)
	}
	check(t, s.Answer(0, true))
	if !strings.Contains(s.page(), "offline") {
		t.Errorf("the log did not fail\n%s", s.page())
	}
	if s.WaitNext() == nil || s.Answer(0, false) == nil {
		t.Error("something waits for nothing")
	}
}

// A turn that fails leaves all as it was, and is no step.
func TestFailedTurn(t *testing.T) {
	d := loaded(t, "component kiln-loop { holds n: number = 0; holds deep: number = 0; follows n { n = n + 1 }; view { button \"Go\" { click -> n = 1 } } }\nstart \"loop\" kiln-loop\n")
	s, err := New(d, d.Starts[1])
	check(t, err)
	if err := s.Gesture(engine.Press, s.named(t, "Go"), ""); err == nil {
		t.Fatal("it settles")
	}
	if _, done := s.Acts(); done != 0 || s.Last() == nil || s.Last().Err == nil {
		t.Error("the failure is a step, or is not told")
	}
	if s.Undo() || s.Last() != nil {
		t.Error("the failure can be taken back")
	}
}

func TestAlone(t *testing.T) {
	d := loaded(t, "")
	text, err := Alone(d.Component("ware-row"), []string{"tone <- \"cool\""})
	check(t, err)
	alone := loaded(t, text)
	s, err := New(alone, alone.Starts[1])
	check(t, err)
	if p := s.page(); !strings.Contains(p, "button \"id\"") || !strings.Contains(p, "cool") {
		t.Errorf("%s gives\n%s", text, p)
	}
	taking := loaded(t, "component kiln-act { takes act: () => void; view { button \"Go\" { click -> act() } } }\n")
	if text, err := Alone(taking.Component("kiln-act"), nil); err == nil {
		t.Errorf("an action is made up: %s", text)
	}
}
