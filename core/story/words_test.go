package story

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
)

// TestStepTextIsTaken: what can happen, written as a step, does in a scenario what
// it did: on random walks through designs that use all of the language.
func TestStepTextIsTaken(t *testing.T) {
	taken := map[engine.Verb]int{}
	designs := []*design.Design{design.Parse("controls.lien", controls)}
	for _, name := range append(files(t, "testdata/pass/*.lien"), files(t, "../../examples/*.lien")...) {
		designs = append(designs, load(t, name))
	}
	for _, d := range designs {
		name := d.Set.Files()[0].Name
		for seed := range uint64(12) {
			random := rand.New(rand.NewPCG(seed, 5))
			start := d.Starts[random.IntN(len(d.Starts))]
			steps, page := walk(t, d, start, random, taken)
			if len(steps) == 0 {
				continue
			}
			text := d.Set.Files()[0].Text + fmt.Sprintf("\nscenario \"as walked\" {\n  start %q\n  %s\n}\n", start.Name, strings.Join(steps, "\n  "))
			again := design.Parse(name, text)
			if again.Failed() {
				t.Fatalf("%s: the steps cannot be read: %s\n%s", name, again.Findings[0].Message, strings.Join(steps, "\n"))
			}
			var got []string
			Walk(again, again.Scenarios[len(again.Scenarios)-1], engine.New(again), func(_ *design.Start, e *engine.Engine) { got = shown(e) })
			if !slices.Equal(got, page) {
				t.Errorf("%s: after\n  %s\nthe page is\n  %s\nand as walked\n  %s", name, strings.Join(steps, "\n  "), strings.Join(got, "\n  "), strings.Join(page, "\n  "))
			}
		}
	}
	for _, v := range []engine.Verb{engine.Press, engine.Tick, engine.Choose, engine.Type, engine.Key, engine.Put, engine.Reply, engine.Fail, engine.Focus, engine.Hover, engine.Outside} {
		if taken[v] == 0 {
			t.Errorf("no walk takes %s", v)
		}
	}
}

// walk takes some causes at random, but no timers, which have a time of their own.
func walk(t *testing.T, d *design.Design, start *design.Start, random *rand.Rand, taken map[engine.Verb]int) (steps, page []string) {
	t.Helper()
	e := engine.New(d)
	if _, err := e.Mount(start); err != nil {
		t.Fatal(err)
	}
	for range 8 {
		list := slices.DeleteFunc(e.Causes(nil), func(s engine.Cause) bool { return s.Verb == engine.Elapse })
		if len(list) == 0 {
			break
		}
		s := &list[random.IntN(len(list))]
		text := StepText(e, s)
		if err := e.Do(s); err != nil {
			break // a step that fails ends its scenario, too
		}
		taken[s.Verb]++
		steps, page = append(steps, text), shown(e)
	}
	return steps, page
}

// shown is what the page shows, a line each.
func shown(e *engine.Engine) (lines []string) {
	e.Elements(func(el *engine.Element) bool {
		lines = append(lines, fmt.Sprintf("%s %q %v %q", el.Role(), e.Name(el), e.States(el), el.LiveValue()))
		return true
	})
	return lines
}
