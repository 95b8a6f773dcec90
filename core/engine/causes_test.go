package engine

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
)

// causes are what can happen next, one text each: the verb, the name of what hears
// it, and what is typed.
func causes(e *Engine) (list []string) {
	for _, s := range e.Causes(nil) {
		var words []string
		words = append(words, string(s.Verb))
		switch {
		case s.Element != nil:
			words = append(words, e.Name(s.Element))
		case s.Method != nil:
			words = append(words, s.Method.Label)
		}
		if op, args := s.Asked(); op != nil {
			words = append(words, fmt.Sprint(op.Name, args))
		}
		if _, m, _, _ := s.Timer(); m != nil {
			words = append(words, m.Label)
		}
		if s.Text != "" || s.Verb == Type || s.Verb == Choose {
			words = append(words, fmt.Sprintf("%q", s.Text))
		}
		list = append(list, strings.Join(strings.Fields(strings.Join(words, " ")), " "))
	}
	return list
}

// TestCauses: what users can do with every kind of control, and nothing that
// nobody hears.
func TestCauses(t *testing.T) {
	for _, c := range []struct{ name, view, want string }{
		{"a button", `button "b" { click -> n = 2 }`, `press b`},
		{"a button that nobody hears", `button "b"`, ``},
		{"one that is disabled", `button "b" { disabled <- true; click -> n = 2 }`, ``},
		{"one that hears only the press", `button "b" { mousedown -> n = 2 }`, `press b|hold b|hold`},
		{"one that something around it hears", `div { click -> n = 2; button "b" }`, `press|press b`},
		{"one that sends a form", `form { submit -> n = 2; button "b" }`, `press b`},
		{"one that resets a form", `form { button "b" { type <- "reset" } }`, `press b`},
		{"one that would, in no form", `button "b" { type <- "reset" }`, ``},
		{"an input that is a button", `input { type <- "button"; value <- "b"; click -> n = 2 }`, `press b`},
		{"an input that is hidden", `form { input { type <- "hidden"; name <- "h"; value <- "b" }; button "b" { type <- "button" } }`, ``},
		{"what is no control and hears presses", `p "b" { click -> n = 2 }`, `press`},
		{"a link", `div { click -> n = 2; a "b" { href <- "#k" }; a "c" }`, `press|press b`},
		{"a summary", `details { summary "b"; p "inner" }`, `press b`},
		{"presses elsewhere", `div { outside -> n = 2; p "b" }`, `press outside`},
		{"a box", `input { type <- "checkbox"; aria-label <- "b"; checked <-> yes }`, `tick b`},
		{"a box that keeps its own", `input { type <- "checkbox"; aria-label <- "b" }`, `tick b`},
		{"a box that is only set", `input { type <- "checkbox"; aria-label <- "b"; checked <- yes }`, ``},
		{"a radio that is chosen", `input { type <- "radio"; aria-label <- "b"; checked <- true; change -> n = 2 }; input { type <- "radio"; aria-label <- "c"; change -> n = 3 }`, `tick c`},
		{"a list", `select { aria-label <- "b"; change -> n = 2; option { value <- "x"; "X" }; option { value <- "y"; "Y" }; option { value <- "z"; disabled <- true; "Z" } }`, `choose b "y"`},
		{"a list that nobody hears", `select { aria-label <- "b"; option { value <- "x"; "X" }; option { value <- "y"; "Y" } }`, ``},
		{"a field", `input { aria-label <- "b"; input -> n = 2 }`, `type b "a"`},
		{"a field that compares", `input { aria-label <- "b"; input(e) -> if (e.value == "kiln") n = 2 }`, `type b "kiln"|type b "a"`},
		{"a field that nobody hears", `input { aria-label <- "b" }`, ``},
		{"a field for reading", `input { aria-label <- "b"; readonly <- true; input -> n = 2 }`, ``},
		{"a larger field", `textarea { aria-label <- "b"; change -> n = 2 }`, `type b "a"|focus b`},
		{"a field in a form without a button", `form { submit -> n = 2; input { aria-label <- "b"; name <- "m" } }`, `type b "a"|key b "Enter"`},
		{"a slider", `input { type <- "range"; aria-label <- "b"; min <- 2; max <- 6; step <- 2; input -> n = 2 }`, `set b "2"|set b "6"`},
		{"a slider with ends of its own", `input { type <- "range"; aria-label <- "b"; input(e) -> if (Number(e.value) == 7) n = 2 }`, `set b "0"|set b "100"|set b "6"|set b "7"|set b "8"|set b "1"`},
		{"a field for numbers", `input { type <- "number"; aria-label <- "b"; min <- 1; max <- 2; input -> n = 2 }`, `type b "1"|type b "0"|type b "2"|type b "3"|type b "4"`},
		{"keys", `button "b" { keydown(e) -> if (e.key == "Escape" || e.key == "a") n = 2 }`, `key b "Escape"|key b "a"`},
		{"keys that something around it hears", `div { keydown(e) -> if (e.key == "Escape") n = 2; input { aria-label <- "b" } }`, `type b "a"|key b "Escape"`},
		{"keys together with another", `button "b" { keydown(e) -> if (e.key == "a" && e.ctrlKey) n = 2 }`, `key b "Control+a"|key b "a"`},
		{"one that the mouse and keys press", `div { mousedown -> n = 3; button "b" { click -> n = 2 } }`, `press|hold|press b|hold b|key b " "|hold`},
		{"one that keys press otherwise", `div { keydown -> n = 3; a "b" { href <- "#k"; click -> n = 2 } }`, `press b|key b "a"|key b "Enter"`},
		{"one that is passed by", `div { mouseenter -> n = 3; input { type <- "checkbox"; aria-label <- "b"; change -> n = 2 } }`, `tick b|key b " "`},
		{"keys beside a press", `button "b" { click(e) -> if (e.shiftKey && !e.altKey) n = 2 }`, `press b|press b "Shift"|press b "Shift+Alt"|press b "Alt"`},
		{"keys beside a tick", `input { type <- "checkbox"; aria-label <- "b"; click(e) -> if (e.metaKey) n = 2 }`, `tick b|press b "Meta"`},
		{"the default button of a field", `form { submit -> n = 2; mousedown -> n = 3; input { name <- "m"; aria-label <- "b" }; button "c" }`, `press|hold|type b "a"|key b "Enter"|press b|hold b|press c|hold c|key c " "|hold`},
		{"a label", `label { "b"; input { mousedown -> n = 3; click -> n = 2 } }`, `press|press b|hold b|hold`},
		{"one that is disabled", `button "b" { disabled <- true; click -> n = 2; pointerup -> n = 3 }`, `press b|hold b|hold`},
		{"the focus", `button "b" { focus -> n = 2 }; button "c" { blur -> n = 3 }`, `focus b|focus c`},
		{"the pointer", `div { mouseenter -> n = 2; p "b" }`, `hover`},
		{"what is hidden", `div { hidden <- true; button "b" { click -> n = 2 } }`, ``},
	} {
		e := viewed(t, c.view)
		got := slices.DeleteFunc(causes(e), func(s string) bool { return strings.HasPrefix(s, "hover") && c.name != "the pointer" })
		if strings.Join(got, "|") != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, strings.Join(got, "|"), c.want)
		}
	}
}

// TestCausesFromElsewhere: what comes by itself, from outside, and from what is
// offered; and each is done by its place in the list.
func TestCausesFromElsewhere(t *testing.T) {
	e := started(t, `service kiln-log { load(k: number): number replies k fails "off", "late" }
component ask-part {
  emits answered(ok: boolean)
  emits dismissed()
  view { button "yes" { click -> leave answered(true) } }
}
component kiln-page {
  holds n: number = 0
  timer cool after 200 { n = 5 }
  timer rest after 100 { n = 6 }
  offers again() { n = 7 }
  offers more(k: number) { n = k }
  view {
    button "Fire" { click -> { start cool; start rest } }
    button "Ask" { click -> ask kiln-log.load(3) { got(k) -> n = k; failed(why) -> n = 4 } }
    button "Open" { blur -> log "left"; click -> open modal ask-part { answered(ok) -> n = 8; dismissed -> n = 9 } }
    p `+"`${n}`"+`
  }
}
start kiln-page
`)
	take := func(what string) {
		t.Helper()
		list := e.Causes(nil)
		at := slices.Index(causes(e), what)
		if at < 0 {
			t.Fatalf("%q is none of %q", what, causes(e))
		}
		if err := e.Do(&list[at]); err != nil {
			t.Fatal(err)
		}
	}
	for _, c := range []struct{ does, want, shows string }{
		{"", `press Fire|focus Fire|press Ask|focus Ask|press Open|focus Open|call again`, "0"},
		{"press Fire", `press Fire|press Ask|focus Ask|press Open|focus Open|blur|elapse cool|elapse rest|call again`, "0"},
		{"elapse rest", `press Fire|press Ask|focus Ask|press Open|focus Open|blur|elapse cool|call again`, "6"},
		{"press Ask", `press Fire|focus Fire|press Ask|press Open|focus Open|blur|elapse cool|reply load[3]|fail load[3]|fail load[3]|call again`, "6"},
		{"fail load[3]", `press Fire|focus Fire|press Ask|press Open|focus Open|blur|elapse cool|call again`, "4"},
		{"call again", `press Fire|focus Fire|press Ask|press Open|focus Open|blur|elapse cool|call again`, "7"},
		{"press Open", `press yes|key "Escape"|blur|elapse cool|call again`, "7"},
		{`key "Escape"`, `press Fire|focus Fire|press Ask|focus Ask|press Open|blur|elapse cool|call again`, "9"},
		{"blur", `press Fire|focus Fire|press Ask|focus Ask|press Open|focus Open|elapse cool|call again`, "9"},
	} {
		if c.does != "" {
			take(c.does)
		}
		if got := strings.Join(causes(e), "|"); got != c.want {
			t.Errorf("after %s:\n got %s\nwant %s", c.does, got, c.want)
		}
		if !strings.Contains(plainPage(e), c.shows) {
			t.Errorf("after %s the page does not show %s:\n%s", c.does, c.shows, plainPage(e))
		}
	}
}

// started mounts the first start of a design.
func started(t *testing.T, text string) *Engine {
	t.Helper()
	d := design.Parse("test.lien", text)
	if d.Failed() {
		t.Fatalf("%s: %s", d.Set.Position(d.Findings[0].Span.Start), d.Findings[0].Message)
	}
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	return e
}
