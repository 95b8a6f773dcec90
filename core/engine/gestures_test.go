package engine

import (
	"strings"
	"testing"

	"lien/core/design"
)

// heard is a page that writes down every event that its parts hear.
const heard = `component h-page {
  holds said: string[] = []
  holds text: string = "t"
  holds on: boolean = false
  action say(x: string) { said = [...said, x] }
  view {
    main {
      mousedown   -> say("main.mousedown")
      mouseup     -> say("main.mouseup")
      click       -> say("main.click")
      focusin     -> say("main.focusin")
      focusout    -> say("main.focusout")
      keydown(e)  -> say("main.keydown " + e.key)
      keyup(e)    -> say("main.keyup " + e.key)
      input       -> say("main.input")
      change      -> say("main.change")
      mouseover   -> say("main.mouseover")
      mouseout    -> say("main.mouseout")
      mouseenter  -> say("main.mouseenter")
      mouseleave  -> say("main.mouseleave")
      button "One" { focus -> say("one.focus"); blur -> say("one.blur"); click -> say("one.click") }
      button "Two" { click(e) -> { say("two.click"); e.stopPropagation() }; mousedown(e) -> e.preventDefault() }
      label {
        "Text"
        input { value <-> text; focus -> say("text.focus"); blur -> say("text.blur"); change -> say("text.change " + text) }
      }
      label {
        "Box"
        input { type <- "checkbox"; checked <-> on; click -> say("box.click"); change(e) -> say(e.checked ? "box.on" : "box.off") }
      }
      p "Plain"
      div { outside -> say("outside"); "Inside" }
      details { toggle -> say("toggle"); summary "More"; p "inner" }
      button "Off" { disabled <- true; click -> say("never") }
    }
    p.said ` + "`${said.join(\", \")}`" + `
  }
}
start h-page
`

// TestEventOrder: the events of each gesture, as HTML and UI Events order them.
func TestEventOrder(t *testing.T) {
	for _, c := range []struct {
		name string
		does func(e *Engine, by func(string) *Element) error
		want string
	}{
		{
			"press a button",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("One")) },
			"main.mouseover, main.mouseenter, outside, main.mousedown, one.focus, main.focusin, main.mouseup, one.click, main.click",
		},
		{
			"press a button that stops the click",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("Two")) },
			"main.mouseover, main.mouseenter, outside, main.mousedown, main.mouseup, two.click",
		},
		{
			"press plain text",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("Plain")) },
			"main.mouseover, main.mouseenter, outside, main.mousedown, main.mouseup, main.click",
		},
		{
			"press inside of what listens outside",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("Inside")) },
			"main.mouseover, main.mouseenter, main.mousedown, main.mouseup, main.click",
		},
		{
			"press a disabled button",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("Off")) },
			"main.mouseover, main.mouseenter, outside",
		},
		{
			"press a check box",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("Box")) },
			"main.mouseover, main.mouseenter, outside, main.mousedown, main.focusin, main.mouseup, box.click, main.click, main.input, box.on, main.change",
		},
		{
			"press a label",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("Box").around()) },
			"main.mouseover, main.mouseenter, outside, main.mousedown, main.mouseup, main.click, main.focusin, box.click, main.click, main.input, box.on, main.change",
		},
		{
			"type",
			func(e *Engine, by func(string) *Element) error { return e.Type(by("Text"), "ab") },
			"text.focus, main.focusin, main.keydown a, main.input, main.keyup a, main.keydown b, main.input, main.keyup b",
		},
		{
			"type, and press elsewhere",
			func(e *Engine, by func(string) *Element) error {
				if err := e.Type(by("Text"), "a"); err != nil {
					return err
				}
				return e.Press(by("One"))
			},
			"text.focus, main.focusin, main.keydown a, main.input, main.keyup a, main.mouseover, main.mouseenter, outside, main.mousedown, text.change a, main.change, " +
				"text.blur, main.focusout, one.focus, main.focusin, main.mouseup, one.click, main.click",
		},
		{
			"type, and press Enter",
			func(e *Engine, by func(string) *Element) error {
				if err := e.Type(by("Text"), "a"); err != nil {
					return err
				}
				return e.Key(nil, "Enter")
			},
			"text.focus, main.focusin, main.keydown a, main.input, main.keyup a, main.keydown Enter, text.change a, main.change, main.keyup Enter",
		},
		{
			"Tab",
			func(e *Engine, by func(string) *Element) error {
				if err := e.FocusOn(by("One")); err != nil {
					return err
				}
				return e.Key(nil, "Tab")
			},
			"one.focus, main.focusin, main.keydown Tab, one.blur, main.focusout, main.focusin, main.keyup Tab",
		},
		{
			"Enter on a button",
			func(e *Engine, by func(string) *Element) error { return e.Key(by("One"), "Enter") },
			"one.focus, main.focusin, main.keydown Enter, one.click, main.click, main.keyup Enter",
		},
		{
			"Space on a check box",
			func(e *Engine, by func(string) *Element) error { return e.Key(by("Box"), " ") },
			"main.focusin, main.keydown , main.keyup , box.click, main.click, main.input, box.on, main.change",
		},
		{
			"hover, and on",
			func(e *Engine, by func(string) *Element) error {
				if err := e.Hover(by("One")); err != nil {
					return err
				}
				return e.Hover(by("Two"))
			},
			"main.mouseover, main.mouseenter, main.mouseout, main.mouseover",
		},
		{
			"open details",
			func(e *Engine, by func(string) *Element) error { return e.Press(by("More")) },
			"main.mouseover, main.mouseenter, outside, main.mousedown, main.focusin, main.mouseup, main.click, toggle",
		},
		{
			"press beside",
			func(e *Engine, by func(string) *Element) error { return e.PressOutside() },
			"outside",
		},
	} {
		d := design.Parse("heard.lien", heard)
		if d.Failed() {
			t.Fatal(d.Findings[0].Message)
		}
		e := New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			t.Fatal(err)
		}
		by := func(name string) *Element {
			var found *Element
			e.Elements(func(el *Element) bool {
				if e.Name(el) == name && el.Tag() != "details" || el.Tag() != "label" && len(el.Children()) > 0 && strings.TrimSpace(el.ownText()) == name {
					found = el
				}
				return found == nil
			})
			if found == nil {
				t.Fatalf("%s: there is no %s", c.name, name)
			}
			return found
		}
		if err := c.does(e, by); err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		_, got, _ := strings.Cut(e.PageText(), "Off")
		if got = strings.TrimSpace(strings.TrimPrefix(got, " ")); got != strings.TrimSpace(c.want) {
			t.Errorf("%s:\ngot  %s\nwant %s", c.name, got, c.want)
		}
		if err := judge(e); err != nil {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// TestCallsWithoutEnd: elements that give each other the focus for ever fail, with the place.
func TestCallsWithoutEnd(t *testing.T) {
	e := viewed(t, `input named a { aria-label <- "a"; focus -> b.focus() }; input named b { aria-label <- "b"; focus -> a.focus() }`)
	var first *Element
	e.Elements(func(el *Element) bool {
		if el.Tag() == "input" && first == nil {
			first = el
		}
		return true
	})
	err := e.Press(first)
	f, ok := err.(*Failure)
	if !ok || !strings.Contains(f.Message, "never ends") || f.At.Start == 0 {
		t.Fatalf("it gives %v", err)
	}
}

// TestTogglesWithoutEnd: a details that is opened and shut by what tells of it fails, too.
func TestTogglesWithoutEnd(t *testing.T) {
	e := started(t, `component d-page {
  holds open: boolean = false
  view { details { open <-> open; toggle -> open = !open; summary "More" } }
}
start d-page
`)
	var more *Element
	e.Elements(func(el *Element) bool {
		if el.Tag() == "summary" {
			more = el
		}
		return true
	})
	f, ok := e.Press(more).(*Failure)
	if !ok || !strings.Contains(f.Message, "never ends") {
		t.Fatalf("it gives %v", f)
	}
}
