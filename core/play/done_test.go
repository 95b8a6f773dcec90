package play

import (
	"testing"

	"lien/core/design"
	"lien/core/engine"
)

const bench = `service kiln-log {
  find(glaze: string): number replies 1 fails "closed", "late"
}

component bench-page {
  holds text: string = ""
  holds glaze: string = "ash"
  holds heat: number = 900
  holds done: string[] = []
  timer tick after 500 { done = [...done, "tick"] }
  action ask(g: string) { ask kiln-log.find(g) { got(n) -> done = [...done, g]; failed(why) -> done = [...done, why] } }

  view {
    button "Ask" { click -> { ask("ash"); ask("shino") } }
    button "Start" { click -> start tick; dblclick -> done = [] }
    input { aria-label <- "Maker"; value <-> text }
    label { "Glaze"; select { value <-> glaze; option "Ash" { value <- "ash" }; option "Shino" { value <- "shino" } } }
    input { aria-label <- "Heat"; type <- "number"; value <-> heat }
    input { type <- "checkbox"; aria-label <- "Lit" }
    p ` + "`${done.join()} ${text} ${glaze} ${heat}`" + `
  }
}

start bench-page

scenario "all" {
  press button "Ask"
  type "Ada" into textbox "Maker"
  choose "Shino" in combobox "Glaze"
  set spinbutton "Heat" to 950
  tick checkbox "Lit"
  focus button "Start"
  key "Enter"
  key "Escape" on textbox "Maker"
  wait 250
  reply kiln-log.find("shino")
  fail kiln-log.find with "late"
  press button "Start" twice
  hover button "Ask"
  rightpress button "Ask"
  clear textbox "Maker"
}
`

// TestDone: what steps do is told so that another page can do it: by the places of elements, values and questions.
func TestDone(t *testing.T) {
	d := design.Parse("bench.lien", bench)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	s, n, err := Resume(d, d.Scenarios[0], func(st *design.Step) string { return d.Text(st.Span()) })
	if err != nil || n != 15 {
		t.Fatalf("%d steps were taken, %v", n, err)
	}
	find := d.Services[0].Operations[0]
	want := []Done{
		{Verb: engine.Press, Place: 0, Onto: -1},
		{Verb: engine.Type, Place: 2, Onto: -1, Text: "Ada"},
		{Verb: engine.Choose, Place: 4, Onto: -1, Text: "shino"},
		{Verb: engine.Put, Place: 7, Onto: -1, Text: "950"},
		{Verb: engine.Tick, Place: 8, Onto: -1},
		{Verb: engine.Focus, Place: 1, Onto: -1},
		{Verb: engine.Key, Place: -1, Onto: -1, Text: "Enter"},
		{Verb: engine.Key, Place: 2, Onto: -1, Text: "Escape"},
		{Verb: engine.Elapse, Place: -1, Onto: -1, Ms: 250},
		{Verb: engine.Reply, Place: -1, Onto: -1, Ask: find, Nth: 2},
		{Verb: engine.Fail, Place: -1, Onto: -1, Text: "late", Ask: find, Nth: 1, Failure: 2},
		{Verb: engine.Double, Place: 1, Onto: -1},
		{Verb: engine.Hover, Place: 0, Onto: -1},
		{Verb: engine.Right, Place: 0, Onto: -1},
		{Verb: engine.Type, Place: 2, Onto: -1},
	}
	acts, _ := s.Acts()
	for i, a := range acts {
		if a.Done != want[i] {
			t.Errorf("%s: %+v, want %+v", a.Step, a.Done, want[i])
		}
	}
}

// TestForget: what is forgotten cannot be done again.
func TestForget(t *testing.T) {
	d := design.Parse("bench.lien", bench)
	s, err := New(d, d.Starts[0])
	if err != nil {
		t.Fatal(err)
	}
	s.Forget() // of nothing there is nothing to forget
	for _, place := range []int{0, 1} {
		if err := s.Gesture(engine.Press, s.At(place), ""); err != nil {
			t.Fatal(err)
		}
	}
	s.Forget()
	if all, done := s.Acts(); len(all) != 1 || done != 1 || s.Redo() {
		t.Errorf("%d acts are left, %d done", len(all), done)
	}
	if s.At(99) != nil || s.PlaceOf(nil) != -1 {
		t.Error("an element is where none is")
	}
}

// TestAnswersAreDone: an answer that is chosen from those that can come is told by its question's place.
func TestAnswersAreDone(t *testing.T) {
	d := design.Parse("bench.lien", bench)
	s, err := New(d, d.Starts[0])
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Gesture(engine.Press, s.At(0), ""); err != nil {
		t.Fatal(err)
	}
	if list := s.Answers(true); len(list) != 4 {
		t.Fatalf("it can fail as %q", list)
	}
	for _, c := range []struct {
		n    int
		fail bool
		want Done
	}{
		{3, true, Done{Verb: engine.Fail, Place: -1, Onto: -1, Nth: 2, Failure: 2}},
		{0, false, Done{Verb: engine.Reply, Place: -1, Onto: -1, Nth: 1}},
	} {
		if err := s.Answer(c.n, c.fail); err != nil {
			t.Fatal(err)
		}
		c.want.Ask = d.Services[0].Operations[0]
		if got := s.Last().Done; got != c.want {
			t.Errorf("%s: %+v, want %+v", s.Last().Step, got, c.want)
		}
	}
}
