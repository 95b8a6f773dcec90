package prove

import (
	"strings"
	"testing"

	"lien/core/story"
)

// TestWhyNot: each reason for which a pass is not used is told, of the smallest
// design that has it.
func TestWhyNot(t *testing.T) {
	const (
		boxes = `input { type <- "checkbox"; aria-label <- "a"; checked <-> a }; input { type <- "checkbox"; aria-label <- "b"; checked <-> b }`
		row   = `component row-box { holds on: boolean = false; view { input { type <- "checkbox"; aria-label <- "r"; checked <-> on } } }` + "\n"
	)
	for _, c := range []struct{ pass, why, members, view, more string }{
		{"partition", "", ``, boxes, ``},
		{"partition", "timers run or questions wait from the start", `timer t after 10 { a = true }; on mount { start t }`, boxes, ``},
		{"partition", "the start says where to stop", ``, boxes, `start a-page { within the(a-page).n < 3 }`},
		{"partition", "everything can influence everything", ``, `button "a" { click -> a = !b }; button "b" { click -> b = !a }`, ``},
		{"partition", "what users do changes what is on the page, or one part has too many states", ``, boxes + `; when a { button "c" { click -> b = false } }`, ``},
		{"partition", "every part has states in which nobody changes it: there may be a dead end", ``, `button "a" { click -> a = true }; button "b" { click -> b = true }`, ``},
		{"partition", "turns are not remembered, so that it is not known what they depend on", `holds list: Key[] = []`, boxes + `; button "k" { click -> list = [fresh()] }; each k in list by k { p "k" }`, ``},
		{"memory", "keys of fresh() are renamed in states, so that the cells of one cannot be set in another", `holds list: Key[] = []`, boxes + `; button "k" { click -> list = [fresh()] }; each k in list by k { p "k" }`, ``},
		{"order", "nothing is asked", ``, boxes, ``},
		{"order", "", ``, boxes, `service log { ping() }`},
		{"slices", "what there is was visited before it was needed", ``, boxes, ``},
		{"symmetry", "no parts of the page are equals", ``, boxes + `; when a { p "x" }; when a { button "c" { click -> b = false } }`, ``},
		{"symmetry", "", ``, `row-box; row-box; when a { p "x" }; button "c" { disabled <- b; click -> { a = !a; b = a } }; when a { button "d" { click -> b = false } }`, row},
		{"symmetry", "a handler or form asks who has the focus, what was touched, or where the pointer is", ``, `row-box; row-box; when a { button "d" { focus -> b = false } }; button "c" { click -> { a = !a; b = a } }`, row},
		{"symmetry", "keys of fresh() tell equals apart", `holds list: Key[] = []`, `row-box; row-box; button "k" { click -> list = [fresh()] }; each k in list by k { p "k" }`, row},
		{"symmetry", "a gathered list has an order", `gathers row-box as all`, "row-box; row-box; p `${all.length}`; when a { p \"x\" }; button \"c\" { click -> { a = !a; b = a } }; when a { button \"d\" { click -> b = false } }", row},
		{"symmetry", "a start says what is typed, or where to stop, which may tell equals apart", ``, `row-box; row-box; button "c" { click -> n += 1 }`, row + `start a-page { within the(a-page).n < 3 }`},
		{"symmetry", "a law says what is typed, which may tell equals apart", `holds s: string = ""`, `row-box; row-box; input { aria-label <- "S"; value <-> s }; when s == "x" { button "d" { click -> b = !b } }`, row + `law "s" { never the(a-page).s == "q"; samples textbox "S" ["q"] }`},
		{"lazy", "", ``, boxes, ``},
	} {
		text := "component a-page {\n  holds a: boolean = false\n  holds b: boolean = false\n  holds n: number = 0\n  " + c.members + "\n  view { " + c.view + "; p `${n} ${a} ${b}` }\n}\n" + c.more + "\n"
		if !strings.Contains(c.more, "start ") {
			text += "start a-page\n"
		}
		rep := Run(parsed(t, text), Options{States: 3000})
		found := false
		for _, use := range rep.Starts[0].Passes {
			if use.Pass.Name == c.pass {
				found = true
				if use.Why != c.why || use.Used != (c.why == "") {
					t.Errorf("%s: used %v, %q, want %q\n%s", c.pass, use.Used, use.Why, c.why, c.view)
				}
			}
		}
		if !found {
			t.Errorf("nothing is said of %s", c.pass)
		}
	}
}

// TestSlicesAreUseless: where nothing can be told of what depends on what, a design
// is visited as it is, and so says the report.
func TestSlicesAreUseless(t *testing.T) {
	for _, c := range []struct{ why, view, more string }{
		{"everything asked for depends on the whole design", `button "a" { click -> { a = !b; b = n > 0; n = a ? 1 : 2 } }; p ~${10 % (n + 1)}~`, ``},
		{"what a browser does next is prevented under a condition", `button "a" { click -> a = !a }; input { aria-label <- "i"; keydown(e) -> if (a) e.preventDefault() }; button "c" { click -> n = 1 - n }`, ``},
		{"a handler or form asks who has the focus, what was touched or dragged, or where the pointer is", `button "a" { focus -> a = !a }; button "c" { click -> n = 1 - n }; button "d" { click -> b = !b }`, ``},
		{"a bound of the start asks for nothing", `button "a" { click -> a = !a }; button "c" { click -> n = 1 - n }; button "d" { click -> b = !b }`, `start a-page { within true }`},
		{"fields are named by what is shown, to say what is typed into them", `button "a" { click -> a = !a }; input { aria-label <- "S"; input(e) -> b = e.value == "q" }`, `start a-page { samples textbox "S" ["q"] }`},
	} {
		text := "component a-page {\n  holds a: boolean = false\n  holds b: boolean = false\n  holds n: number = 0\n  view { " + c.view + "; when a { button \"x\" { click -> a = false } }; p `${n} ${b}` }\n}\n" + c.more + "\n"
		if c.more == "" {
			text += "start a-page\n"
		}
		rep := Run(parsed(t, strings.ReplaceAll(text, "~", "`")), Options{States: 3000, slice: true, Disabled: map[string]bool{passPartition.Name: true}})
		for _, use := range rep.Starts[0].Passes {
			if use.Pass == passSlices && use.Why != c.why {
				t.Errorf("%q, want %q\n%s", use.Why, c.why, c.view)
			}
		}
	}
}

// TestCoverageOfLargeValues: states are told again that were found by taking nothing not to fail, as values are large.
func TestCoverageOfLargeValues(t *testing.T) {
	c := Run(parsed(t, `const long = Array.from(11000, i => "ash ").join("")
component kiln-page {
  holds note: string = long
  holds on: boolean = false
  holds list: string[] = []
  view {
    button "Add" { click -> list = [...list, "a"] }
    when on { p `+"`${list.join(note)}`"+` }
  }
}
start kiln-page
scenario "one is added" { press button "Add" }
`), Options{Depth: 3}).Coverage
	if c == nil || c.States.Of != 2 || c.States.All.N != 4 {
		t.Fatalf("it touches %+v", c)
	}
}

// TestCoverage: what no scenario touches is told with a way to it, and the scenarios
// that are suggested touch all of it.
func TestCoverage(t *testing.T) {
	text := `component kiln-page {
  holds on: boolean = false
  holds hot: boolean = false
  view {
    button "Light" { click -> on = true }
    when on {
      button "Heat" { click -> hot = true }
      when hot { button "Cool" { click -> hot = false } } else { p "cold" }
    } else {
      p "off"
    }
  }
}
start kiln-page
scenario "it is lit" { press button "Light"; shows "cold" }
`
	rep := Run(parsed(t, text), Options{Suggest: true})
	c := rep.Coverage
	if c == nil || c.States.Of != 2 || c.States.All.N != 3 || c.Handlers.Of != 1 || c.Handlers.All != 3 || c.Branches.Of != 3 || c.Branches.All != 4 {
		t.Fatalf("it touches %+v", c)
	}
	var says []string
	for _, u := range c.Untouched {
		says = append(says, u.What+": "+text[u.At.Start-1:u.At.End-1])
	}
	if got := strings.Join(says, "|"); got != `this never runs: hot = true|this is never shown: hot|this never runs: hot = false` {
		t.Errorf("not touched is %s", got)
	}
	if len(c.Suggested) == 0 {
		t.Fatal("nothing is suggested")
	}
	for i, p := range c.Suggested {
		text += p.Scenario(parsed(t, text), "more "+string(rune('a'+i))) + "\n"
	}
	d := parsed(t, text)
	for _, r := range story.Run(d, nil).Results {
		if r.Failure != nil {
			t.Errorf("what is suggested fails: %s", r.Failure.Message)
		}
	}
	if again := Run(d, Options{}).Coverage; len(again.Untouched) > 0 || again.Handlers.Of != again.Handlers.All {
		t.Errorf("with what is suggested, it touches %+v", again)
	}
}
