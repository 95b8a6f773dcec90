package engine

import (
	"slices"
	"strings"
	"testing"

	"lien/core/value"
)

// asks is a page of two parts that ask two operations.
const asks = `service kiln-log { load(k: number): number replies k; look(): number replies 1 }
component ask-part {
  takes nr: number
  holds got: number = 0
  view {
    button ` + "`load ${nr}`" + ` { click -> ask kiln-log.load(nr) { got(k) -> got = k } }
    button ` + "`more ${nr}`" + ` { click -> ask kiln-log.load(nr + 10) { got(k) -> got = k } }
    button ` + "`look ${nr}`" + ` { click -> ask kiln-log.look() { got(k) -> got = k } }
  }
}
component kiln-page { view { ask-part { nr <- 1 }; ask-part { nr <- 2 } } }
start kiln-page
`

// TestOneOrder: two questions are told in one order unless one part asked the same
// operation twice, whatever the order in which they were asked.
func TestOneOrder(t *testing.T) {
	for _, c := range []struct {
		a, b string
		same bool
	}{
		{"load 1", "load 2", true},
		{"load 1", "look 1", true},
		{"look 1", "look 2", true},
		{"more 2", "look 1", true},
		{"load 1", "more 1", false},
	} {
		pool := value.NewPool()
		states := map[bool][]string{}
		var lists [][]string
		for _, way := range [][]string{{c.a, c.b}, {c.b, c.a}} {
			e := started(t, asks)
			for _, name := range way {
				pressOn(t, e, name)
			}
			for _, one := range []bool{false, true} {
				e.OneOrder(one)
				states[one] = append(states[one], NewReader(e, pool, Reading{}).Read().Shape)
			}
			lists = append(lists, slices.DeleteFunc(causes(e), func(s string) bool { return !strings.HasPrefix(s, "reply") }))
		}
		if states[false][0] == states[false][1] {
			t.Errorf("%s, %s: plainly the orders are one", c.a, c.b)
		}
		if same := states[true][0] == states[true][1]; same != c.same {
			t.Errorf("%s, %s: in one order the states are the same: %v", c.a, c.b, same)
		}
		if same := slices.Equal(lists[0], lists[1]); same != c.same {
			t.Errorf("%s, %s: the causes are %q and %q", c.a, c.b, lists[0], lists[1])
		}
	}
}

// pressOn presses the button of a name.
func pressOn(t *testing.T, e *Engine, name string) {
	t.Helper()
	found := false
	e.Elements(func(el *Element) bool {
		if !found && e.Name(el) == name {
			found = true
			if err := e.Press(el); err != nil {
				t.Fatal(err)
			}
		}
		return !found
	})
	if !found {
		t.Fatalf("no button is named %s", name)
	}
}

// TestWhatWentIsLetGo: what was mounted and went again, by a turn or by going back,
// is not kept, however often.
func TestWhatWentIsLetGo(t *testing.T) {
	e := started(t, `component low-part { view { p "low" } }
component kiln-page {
  holds on: boolean = false
  view { button "turn" { click -> on = !on }; when on { low-part; low-part } }
}
start kiln-page
`)
	e.Keep()
	m := e.Mark()
	listed := func() (n int) {
		for _, list := range e.live {
			n += len(list)
		}
		return n
	}
	for range 100 {
		pressOn(t, e, "turn")
		pressOn(t, e, "turn")
		e.Rewind(m)
	}
	if n := listed(); n > 20 {
		t.Errorf("after going back, %d instances are listed of one", n)
	}
	for range 200 {
		pressOn(t, e, "turn")
	}
	if n := listed(); n > 20 {
		t.Errorf("after turns, %d instances are listed of one", n)
	}
	pressOn(t, e, "turn")
	if got := strings.Count(plainPage(e), "low"); got != 2 || len(e.Instances()) != 3 {
		t.Errorf("%d parts are shown, and %d instances are there", got, len(e.Instances()))
	}
}

// TestDialogs: the methods of a native dialog, what they report, and the focus.
func TestDialogs(t *testing.T) {
	e := started(t, `component kiln-page {
  holds said: string[] = []
  action say(x: string) { said = [...said, x] }
  view {
    dialog named sheet { aria-label <- "Sheet"; close -> say("close"); button "Done" { click -> sheet.close() } }
    button "Show" { click -> { sheet.showModal(); say("shown") } }
    button "Again" { click -> { sheet.show(); sheet.show() } }
    input named field { aria-label <- "Field"; focus -> say("focus"); blur -> say("blur") }
    button "In" { mousedown(e) -> e.preventDefault(); click -> field.focus() }
    button "Out" { mousedown(e) -> e.preventDefault(); click -> field.blur() }
    button "Press" { click -> other.click() }
    button named other "Other" { click -> say("other") }
    p.said `+"`${said.join(\", \")}`"+`
  }
}
start kiln-page
`)
	for _, c := range []struct{ press, want string }{
		{"Show", "shown"},
		{"Done", "shown, close"},
		{"Again", "shown, close"},
		{"Done", "shown, close, close"},
		{"In", "shown, close, close, focus"},
		{"Out", "shown, close, close, focus, blur"},
		{"Press", "shown, close, close, focus, blur, other"},
	} {
		pressOn(t, e, c.press)
		if !strings.Contains(plainPage(e), "\""+c.want+"\"") && !strings.Contains(e.PageText(), c.want) {
			t.Errorf("after %s: want %s\n%s", c.press, c.want, e.PageText())
		}
	}
}

// TestHover: what the pointer comes on and leaves, and no more than once.
func TestHover(t *testing.T) {
	e := started(t, `component kiln-page {
  holds said: string[] = []
  action say(x: string) { said = [...said, x] }
  view {
    section {
      mouseenter -> say("+section"); mouseleave -> say("-section"); mouseover -> say("over")
      button "a" { mouseenter -> say("+a"); mouseleave -> say("-a"); mouseout -> say("out a") }
      button "b" { mouseenter -> say("+b"); mouseleave -> say("-b") }
    }
    button "c" { mouseenter -> say("+c") }
    p.said `+"`${said.join(\" \")}`"+`
  }
}
start kiln-page
`)
	hover := func(name string) {
		t.Helper()
		var on *Element
		e.Elements(func(el *Element) bool {
			if e.Name(el) == name {
				on = el
			}
			return on == nil
		})
		if err := e.Hover(on); err != nil {
			t.Fatal(err)
		}
	}
	for _, c := range []struct{ on, want string }{
		{"a", "over +section +a"},
		{"a", "over +section +a"},
		{"b", "over +section +a out a -a over +b"},
		{"c", "over +section +a out a -a over +b -b -section +c"},
	} {
		hover(c.on)
		if !strings.Contains(e.PageText(), c.want) {
			t.Errorf("on %s: want %s\n%s", c.on, c.want, e.PageText())
		}
	}
}
