package flow_test

import (
	"fmt"
	"strings"
	"testing"
	"testing/fstest"

	"lien/core/design"
	"lien/core/flow"
)

func parsed(t *testing.T, text string) *design.Design {
	t.Helper()
	d := design.Parse("flow.lien", text)
	if d.Failed() {
		t.Fatalf("%s: %s", d.Set.Position(d.Findings[0].Span.Start), d.Findings[0].Message)
	}
	return d
}

// TestOpenText: whether a design does more with a typed text than to compare
// it with literals.
func TestOpenText(t *testing.T) {
	for _, c := range []struct {
		does string
		open bool
	}{
		{`when text == "off" { p "off" }`, false},
		{"p `${text}` { title <- text }", false},
		{`when kept != "" { p "kept" }`, false},
		{`when text.length > 2 { p "long" }`, true},
		{`when text == kept { p "same" }`, true},
		{`when text.trim() == "" { p "none" }`, true},
		{`each c in [text] by c { p "x" }`, true},
		{`when list.includes(text) { p "listed" }`, true},
		{`when ["x", "y"].includes(text) { p "listed" }`, false},
		{`when cards.some(c => c.answer == text) { p "right" }`, false},
		{`when cards.some(c => c.answer.trim() == text) { p "right" }`, true},
		{`when text < "m" { p "first" }`, true},
		{`when list.some(x => x == "a") { p "listed" }`, false},
		{`when item.label == "a" { p "a" }`, false},
		{`when item.label == kept { p "a" }`, true},
		{`text-part { given <- text }`, true},
	} {
		d := parsed(t, `const cards = [{ answer: "ash" }, { answer: "shino" }]
component text-part { takes given: string; derives big = given < "m"; view { when big { p "big" } } }
component a-b {
  holds text: string = ""
  holds kept: string = ""
  holds list: string[] = []
  holds item: { label: string } = { label: "" }
  view {
    input { value <-> text }
    button "keep" { click -> { kept = text; list = [text]; item = { label: text } } }
    p `+"`${list.length} ${item.label}`"+`
    `+c.does+`
  }
}
start a-b
`)
		if at := flow.Of(d).Open(false); (len(at) > 0) != c.open {
			t.Errorf("%s: open at %v", c.does, at)
		}
	}
}

// TestOpenNumbers: whether a design reckons with a number that users set.
func TestOpenNumbers(t *testing.T) {
	for _, c := range []struct {
		does string
		open bool
	}{
		{`when n > 3 { p "many" }`, false},
		{`when n == 2 || n < -1 { p "x" }`, false},
		{"p `${n}`", false},
		{`when n + 1 > 3 { p "many" }`, true},
		{`when n > kept { p "more" }`, true},
		{`when Math.abs(n) > 3 { p "many" }`, true},
		{`when ["a", "b"][n] == "a" { p "a" }`, true},
	} {
		d := parsed(t, `component a-b {
  holds n: number = 0
  holds kept: number = 0
  view { input { type <- "number"; value <-> n }; button "keep" { click -> kept = n }; p "x"; `+c.does+` }
}
start a-b
`)
		if at := flow.Of(d).Open(true); (len(at) > 0) != c.open {
			t.Errorf("%s: open at %v", c.does, at)
		}
	}
}

// TestInputs: what the value of each field is compared with, through cells,
// links, events, functions, records and data; and nothing else.
func TestInputs(t *testing.T) {
	d := parsed(t, `const cards = [{ answer: "ash", level: 3 }, { answer: "shino", level: 7 }]
derives known(s: string) = s == "celadon"
component field-part {
  takes first: string
  emits typed(text: string)
  view { input.asked { value <- first; input(e) -> emit typed(e.value) } }
}
component a-b {
  holds answer: string = ""
  holds maker: string = ""
  holds asked: string = ""
  holds level: number = 0
  derives right = cards.find(c => c.answer == answer)
  view {
    input.answer { value <-> answer }
    input.maker { value <-> maker }
    input.level { type <- "range"; max <- 10; value <-> level }
    field-part { first <- asked; typed(text) -> asked = text }
    when right != null { p "right" }
    when known(maker) { p "known" }
    when asked == "open" { p "open" }
    when cards.some(c => c.level <= level) { p "hot" }
  }
}
start a-b
law "l" { never the(a-b).maker == "Ada" }
`)
	in := flow.Of(d).Inputs()
	for class, want := range map[string]string{"answer": "ash shino", "maker": "celadon Ada", "level": "3 7", "asked": "open"} {
		found := false
		design.Visitor{Node: func(n design.Node) {
			el, ok := n.(*design.Element)
			if !ok || len(el.Classes) == 0 || el.Classes[0] != class {
				return
			}
			found = true
			c := in.Of(el)
			said := fmt.Sprint(strings.Join(c.Texts, " "))
			for _, n := range c.Numbers {
				said = strings.TrimSpace(said + fmt.Sprintf(" %v", n))
			}
			if said != want {
				t.Errorf("%s is compared with %q, want %q", class, said, want)
			}
		}}.Design(d)
		if !found {
			t.Errorf("there is no field %s", class)
		}
	}
}

// What a file of data holds that a field is compared with is typed.
func TestInputsFromFiles(t *testing.T) {
	files := fstest.MapFS{
		"d.lien": {Data: []byte(`type Card = { answer: string }
const cards: Card[] = file("cards.json")
component a-b {
  holds answer: string = ""
  view { input.answer { value <-> answer }; when cards.some(c => c.answer == answer) { p "right" } }
}
start a-b
`)},
		"cards.json": {Data: []byte(`[{ "answer": "ash" }, { "answer": "shino" }]`)},
	}
	d, err := design.Load(files, "d.lien", func(name string) string { return name })
	if err != nil || d.Failed() {
		t.Fatalf("%v, %v", err, d.Findings)
	}
	in := flow.Of(d).Inputs()
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok && el.Tag == "input" {
			if got := strings.Join(in.Of(el).Texts, " "); got != "ash shino" {
				t.Errorf("it is compared with %q", got)
			}
		}
	}}.Design(d)
	if at := flow.Of(d).Open(false); len(at) > 0 {
		t.Errorf("what is known is open at %v", at)
	}
}
