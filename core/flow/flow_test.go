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
		{`when apply(k => text).length > 2 { p "long" }`, true},
		{`when apply(k => text) == "off" { p "off" }`, false},
		{`when text == apply(k => k.toFixed(1)) { p "one" }`, true},
		{`when text == apply(k => k == 1 ? "low" : "top") { p "one" }`, false},
	} {
		d := parsed(t, `const cards = [{ answer: "ash" }, { answer: "shino" }]
derives apply(of: (k: number) => string) = of(1)
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

// TestComparedWith: what a field is compared with may come from anywhere in the text. A
// field is the same in all records.
func TestComparedWith(t *testing.T) {
	for _, c := range []struct{ with, want string }{
		{`"ash"`, "ash"},
		{`list[0]`, "ash shino"},
		{`list.at(-1)`, "ash shino"},
		{`cards[1]?.answer`, "celadon tenmoku slip"},
		{`cards.map(c => c.answer)[0]`, "celadon tenmoku slip"},
		{`cards.filter(c => c.level > 1)[0]?.answer`, "celadon tenmoku slip"},
		{`cards.find(c => c.level > 1)?.answer`, "celadon tenmoku slip"},
		{`(on ? "ash" : "tin")`, "ash tin"},
		{`(other ?? "tin")`, "iron tin"},
		{`wanted(1)`, "one two"},
		{`apply(k => k == 1 ? "low" : "top")`, "one two low top"},
		{`own.glaze`, "copper rutile"},
		{`[["ash"], ["tin"]][0]?.[0]`, "ash tin"},
		{`({ answer: "slip" }).answer`, "celadon tenmoku slip"},
		{`named`, "celadon tenmoku slip"},
		{`["x"].concat(list)[0]`, "x ash shino"},
		{`list.toReversed()[0]`, "ash shino"},
		{`"a".toUpperCase()`, "a"},
	} {
		d := parsed(t, `const list = ["ash", "shino"]
const cards = [{ answer: "celadon", level: 1 }, { answer: "tenmoku", level: 2 }]
derives wanted(n: number) = n == 1 ? "one" : "two"
derives apply(of: (k: number) => string) = of(1)
context rack { shares glaze: string = "copper"; action turn() { glaze = "rutile" } }
component a-b {
  supplies rack as own
  holds text: string = ""
  holds on: boolean = false
  holds other: string? = "iron"
  holds record: { answer: string } = { answer: "slip" }
  derives named = record.answer
  view {
    input { value <-> text }
    button "turn" { click -> { on = !on; own.turn() } }
    when text == `+c.with+` { p "x" }
    p `+"`${other ?? named} ${on}`"+`
  }
}
start a-b
`)
		in := flow.Of(d).Inputs()
		design.Visitor{Node: func(n design.Node) {
			if el, ok := n.(*design.Element); ok && el.Tag == "input" {
				if got := strings.Join(in.Of(el).Texts, " "); got != c.want {
					t.Errorf("%s: compared with %q, want %q", c.with, got, c.want)
				}
			}
		}}.Design(d)
	}
}

// TestComparedWithNumbers: the same of numbers, with both signs.
func TestComparedWithNumbers(t *testing.T) {
	for _, c := range []struct{ with, want string }{
		{`n == 3`, "3"}, {`n < -2`, "-2"}, {`n > most`, "900"}, {`n != levels[0]`, "1 2"}, {`levels.includes(n)`, "1 2"},
		{`n > (on ? -5 : 5)`, "-5 5"}, {`levels.some(l => l > n)`, "1 2"}, {`n == half(2)`, "7"},
	} {
		d := parsed(t, `const levels = [1, 2]
const most = 900
derives half(k: number) = 7
component a-b {
  holds n: number = 0
  holds low: number = 0
  holds on: boolean = false
  view { input { type <- "number"; value <-> n }; button "t" { click -> { on = !on; low = 1 } }; when `+c.with+` { p "x" }; p `+"`${low} ${on}`"+` }
}
start a-b
`)
		in := flow.Of(d).Inputs()
		design.Visitor{Node: func(n design.Node) {
			if el, ok := n.(*design.Element); ok && el.Tag == "input" {
				if got := strings.Trim(fmt.Sprint(in.Of(el).Numbers), "[]"); got != c.want {
					t.Errorf("%s: compared with %q, want %q", c.with, got, c.want)
				}
			}
		}}.Design(d)
	}
}

// TestKeys: which keys are pressed where a handler hears them.
func TestKeys(t *testing.T) {
	for _, c := range []struct{ does, want string }{
		{`n = 1`, "a"},
		{`{ }`, ""},
		{`if (e.key == "Escape") n = 1`, "Escape"},
		{`if (e.key == "Escape" && n == 0) n = 1`, "Escape"},
		{`if (e.key == "Escape") n = 1 else n = 2`, "Escape a"},
		{`if (e.key == "Escape" || e.key == "x") n = 1`, "Escape x"},
		{`if (e.key == "Escape" || n == 0) n = 1`, "Escape a"},
		{`if (e.key != "Escape") n = 1`, "Escape a"},
		{`if (n == 0) n = 1`, "a"},
		{`if (["x", "y"].includes(e.key)) n = 1`, "a x y"},
		{`{ const k = e.key; if (k == most) n = 1 }`, "End a"},
		{`last = e.key`, "Home a"},
		{`if (["up", "", "é", "Up"].includes(e.key)) n = 1`, "Up a é"},
		{`if (e.shiftKey) n = 1`, "Shift+a a"},
		{`if (e.key == "x" && e.ctrlKey && e.altKey) n = 1`, "Alt+Control+x Alt+x Control+x x"},
	} {
		d := parsed(t, `const most = "End"
component a-b {
  holds n: number = 0
  holds last: string = ""
  view { div { keydown(e) -> `+c.does+` }; when last == "Home" { p "home" }; p `+"`${n}`"+` }
}
start a-b
`)
		in := flow.Of(d).Inputs()
		design.Visitor{Node: func(n design.Node) {
			if el, ok := n.(*design.Element); ok && el.Tag == "div" {
				if got := strings.Join(in.Keys(el), " "); got != c.want {
					t.Errorf("%s: the keys are %q, want %q", c.does, got, c.want)
				}
			}
		}}.Design(d)
	}
}
