package flow_test

import (
	"testing"

	"lien/core/flow"
)

// TestLively: there is always something to do where a switch is always there, and
// what is modal can always be left; each condition has a row that fails it.
func TestLively(t *testing.T) {
	const ask = `
component ask-part { emits done(ok: boolean); view { div { button "Yes" { click -> leave done(true) } } } }`
	for _, c := range []struct {
		name, view, more string
		want             bool
	}{
		{"a switch", `button "On" { click -> on = !on }`, ``, true},
		{"a switch that tells", `header { button "On" { aria-pressed <- on; .on <- on; click -> on = !on } }`, ``, true},
		{"a switch that may be disabled", `button "On" { disabled <- n > 1; click -> on = !on }`, ``, false},
		{"a switch under a when", `when n > 1 { button "On" { click -> on = !on } }`, ``, false},
		{"a switch around which something hides", `div { hidden <- n > 1; button "On" { click -> on = !on } }`, ``, false},
		{"what only goes on", `button "On" { click -> on = true }`, ``, false},
		{"what is switched under a condition", `button "On" { click -> if (n > 1) on = !on }`, ``, false},
		{"what is switched back", `button "On" { click -> { on = !on; on = false } }`, ``, false},
		{"a field", `input { type <- "checkbox"; checked <-> on }`, ``, false},
		{"a dialog that can be left", `button "On" { click -> on = !on }; button "Ask" { click -> open modal ask-part { done(ok) -> n = 1 } }`, ask, true},
		{"a dialog that may not", `button "On" { click -> on = !on }; button "Ask" { click -> open modal ask-part { done(ok) -> n = 1 } }`,
			"\ncomponent ask-part { emits done(ok: boolean); holds k: number = 0; view { button \"Yes\" { disabled <- k == 0; click -> leave done(true) } } }", false},
		{"a dialog that Escape ends", `button "On" { click -> on = !on }; button "Ask" { click -> open modal ask-part { dismissed -> n = 1 } }`,
			"\ncomponent ask-part { emits dismissed(); view { p \"wait\" } }", true},
		{"a part that is always there", `fold-part`, "\ncomponent fold-part { holds open: boolean = false; view { button \"f\" { click -> open = !open } } }", true},
		{"a part that is not", `when n == 0 { fold-part }`, "\ncomponent fold-part { holds open: boolean = false; view { button \"f\" { click -> open = !open } } }", false},
	} {
		d := parsed(t, `component a-b {
  holds on: boolean = false
  holds n: number = 0
  view { `+c.view+`; p "x" }
}
start a-b
`+c.more+"\n")
		dep := flow.DependOf(flow.Of(d), flow.RisksOf(d, false))
		if got := dep.Lively(d.Starts[0].Root); got != c.want {
			t.Errorf("%s: always something to do: %v, want %v", c.name, got, c.want)
		}
	}
}

// TestDoes: what a handler changes in its turn, through all that it sets off.
func TestDoes(t *testing.T) {
	d := parsed(t, `channel news(v: number)
component tell-part { emits told(v: number); view { button "b" { click -> emit told(1) } } }
component hear-part { holds heard: number = 0; hears news(v) { heard = v }; view { p "h" } }
component a-b {
  holds x: number = 0
  holds y: number = 0
  holds z: number = 0
  timer late after 100 { z = 1 }
  action go(v: number) { x = v; send news(v); start late }
  view { tell-part { told(v) -> go(v) }; hear-part; button "other" { click -> y = 1 } }
}
start a-b
`)
	dep := flow.DependOf(flow.Of(d), flow.RisksOf(d, false))
	var body flow.Var
	for _, s := range dep.Sites() {
		if s.Owner.Name == "tell-part" {
			body = s.Control[0]
		}
	}
	does := map[flow.Var]bool{}
	for _, v := range dep.Does(body) {
		does[v] = true
	}
	page := d.Component("a-b")
	for name, want := range map[string]bool{"x": true, "late": true, "y": false, "z": false} {
		if does[page.Member(name)] != want {
			t.Errorf("it changes %s: %v, want %v", name, !want, want)
		}
	}
	if !does[d.Component("hear-part").Member("heard")] {
		t.Error("what hears a message is left out")
	}
}
