package prove

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/page"
)

// TestAnythingStaysWithin: whatever users do on a page, pressing, holding, keying, hovering and
// focusing anything at all, they come to no state that a proof did not visit, where it
// says that it visited all.
func TestAnythingStaysWithin(t *testing.T) {
	list := wideDesigns(t)
	for seed := range uint64(designs(8, 600)) {
		list = append(list, randomDesign(t, seed))
	}
	whole := 0
	for i, d := range list {
		p := newProver(d, Options{Plain: true, States: 400, Asks: 2, Workers: 1})
		x := newSearch(p, d.Starts[0], nil)
		if !x.mount() {
			continue
		}
		if x.run(); x.wasCut || x.stopped || p.blind.any() || p.isBrokenOn(promiseFails) {
			continue
		}
		whole++
		for n := range uint64(6) {
			if steps := wanderOut(d, x, rand.New(rand.NewPCG(n, uint64(i)))); steps != nil {
				t.Errorf("the proof did not visit what comes after\n  %s\n%s", strings.Join(steps, "\n  "), sourceOf(d))
			}
		}
	}
	if whole < 15 {
		t.Errorf("%d designs are whole: too few to tell anything", whole)
	}
}

// wanderOut does anything, and gives what it did where that leads to a state that
// the search did not visit.
func wanderOut(d *design.Design, x *search, r *rand.Rand) (steps []string) {
	e := x.p.engine()
	if _, err := e.Mount(d.Starts[0]); err != nil {
		return nil
	}
	reader := engine.NewReader(e, x.p.pool, engine.Reading{Spread: x.p.fast})
	for range 12 {
		step, err := anything(e, r)
		if err != nil || e.Asks() > x.p.o.Asks {
			return nil
		}
		if steps = append(steps, step); !x.has(reader.Read()) {
			return steps
		}
	}
	return nil
}

// anything is done to any element that is there, but that fields are given what a
// proof gives them, too.
func anything(e *engine.Engine, r *rand.Rand) (string, error) {
	causes := e.Causes(nil)
	if len(causes) > 0 && r.IntN(3) == 0 {
		s := &causes[r.IntN(len(causes))]
		return fmt.Sprintf("%s %q", s.Verb, s.Text), e.Do(s)
	}
	var all []*engine.Element
	e.Elements(func(el *engine.Element) bool {
		if !e.IsHidden(el) {
			all = append(all, el)
		}
		return true
	})
	if len(all) == 0 {
		return "nothing", nil
	}
	el := all[r.IntN(len(all))]
	if held := e.DOM().State().Held.On; held != nil { // the mouse has one main button
		return whileHeld(e, r, el, held)
	}
	name := el.Tag() + " " + e.Name(el)
	switch r.IntN(9) {
	case 0:
		return "hover " + name, e.Hover(el)
	case 7:
		return "hover outside", e.Hover(nil)
	case 8:
		return "hold outside", e.Do(&engine.Cause{Verb: engine.Hold})
	case 1, 2:
		return byKey(e, r, el)
	case 3:
		return "press outside " + name, e.PressOutside()
	}
	if el.InputType() == "range" { // a press sets it to its middle: what it is set to is judged on its own
		return "hover " + name, e.Hover(el)
	}
	return "press " + name, e.Press(el)
}

// whileHeld is what can be done while the main button is held on an element.
func whileHeld(e *engine.Engine, r *rand.Rand, el *engine.Element, held *page.Element) (string, error) {
	name := el.Tag() + " " + e.Name(el)
	switch dragged := held.Dragged() != nil; {
	case r.IntN(3) == 0:
		return byKey(e, r, el)
	case dragged && engine.ElementOf(held) != el:
		return "nothing", nil
	case r.IntN(2) == 0:
		return "hover " + name, e.Hover(el)
	case r.IntN(3) == 0:
		return "release outside", e.Do(&engine.Cause{Verb: engine.Release})
	}
	return "release " + name, e.Do(&engine.Cause{Verb: engine.Release, Element: el})
}

// byKey does something with the keyboard.
func byKey(e *engine.Engine, r *rand.Rand, el *engine.Element) (string, error) {
	name := el.Tag() + " " + e.Name(el)
	if r.IntN(2) == 0 {
		return "focus " + name, e.FocusOn(el)
	}
	keys := []string{"Escape", "Enter", "Tab", " ", "ArrowDown", "x", "Shift+Tab", "Control+Enter"}
	key := keys[r.IntN(len(keys))]
	at := el
	if !el.Focusable() { // the key goes to what has the focus
		at = e.Focus()
	}
	if at != nil && at.Tag() == "input" && at.Role() == "textbox" && key != "Enter" { // what is typed is judged on its own
		key = "Escape"
	}
	return "key " + key + " on " + name, e.Key(el, key)
}
