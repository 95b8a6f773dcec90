package web

import (
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/page"
	"lien/core/story"
)

// samples are designs with all that the language has: the examples, the stories, and the demo.
func samples(t *testing.T) map[string]*design.Design {
	t.Helper()
	list := map[string]*design.Design{}
	for _, pattern := range []string{"../../examples/*.lien", "../story/testdata/pass/*.lien"} {
		files, _ := filepath.Glob(pattern)
		if len(files) < 10 {
			t.Fatalf("%s: only %d designs", pattern, len(files))
		}
		for _, name := range files {
			text, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			if d := design.Parse("kiln.lien", string(text)); !d.Failed() && len(d.Starts) > 0 {
				list[strings.TrimSuffix(filepath.Base(name), ".lien")] = d
			}
		}
	}
	d, err := design.Load(os.DirFS("../../demo/kiln-room"), ".", func(name string) string { return name })
	if err != nil || d.Failed() {
		t.Fatal("the demo cannot be read", err)
	}
	list["the kiln room"] = d
	return list
}

// some are the samples whose pages are driven: with -judge all, else every twelfth, and those of what browsers decide.
func some(t *testing.T) map[string]*design.Design {
	list := samples(t)
	for i, name := range slices.Sorted(maps.Keys(list)) {
		if !*judge && i%12 != 2 && name != "escape" && name != "outside" && name != "sheets-that-ask" {
			delete(list, name)
		}
	}
	return list
}

// TestScenarios: the scenarios of the samples pass on their built pages, which are the same as the engine's after
// every step.
func TestScenarios(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	b := openBrowser(t)
	b.Minified = true // as that is what differs most from what is written; TestWalks takes both
	passed := 0
	for name, d := range some(t) {
		t.Run(name, func(t *testing.T) {
			rep := story.RunOn(d, nil, func(e *engine.Engine, s *design.Start) (story.Beside, error) { return b.Beside(d, e, s) })
			for _, r := range rep.Results {
				if r.Failure != nil {
					t.Errorf("%s, step %d: %s", r.Scenario.Name, r.Steps, r.Failure.Message)
					continue
				}
				passed++
			}
		})
	}
	t.Logf("%d scenarios pass", passed)
	if passed < 15 || *judge && passed < 80 {
		t.Errorf("only %d scenarios pass", passed)
	}
}

// TestWalks: whatever users do at random on a built page, whatever time passes and is answered, it is the same as the
// engine's after every step.
func TestWalks(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	walks, steps := 1, 10
	if *judge {
		walks, steps = 3**more, 20
	}
	list := some(t)
	names := slices.Sorted(maps.Keys(list))
	taken := inWindows(t, len(names)*walks, func(b *Browser, job int) int {
		name, n := names[job/walks], job%walks
		b.Minified = job%2 == 1
		taken, err := walk(b, list[name], rand.New(rand.NewPCG(uint64(n), 11)), steps)
		if err != nil {
			t.Errorf("%s, walk %d: %v", name, n, err)
		}
		return taken
	})
	t.Logf("%d steps were taken", taken)
	if taken < 25 || *judge && taken < 2000**more {
		t.Errorf("only %d steps were taken", taken)
	}
}

// walk takes some steps at random, and says how many it took, and where the two pages came to differ.
func walk(b *Browser, d *design.Design, random *rand.Rand, steps int) (taken int, err error) {
	e := engine.New(d)
	start := d.Starts[random.IntN(len(d.Starts))]
	if _, err := e.Mount(start); err != nil {
		return 0, nil // a start that fails has no page
	}
	p, err := b.Beside(d, e, start)
	if err != nil {
		return 0, fmt.Errorf("at the start: %w", err)
	}
	var way []string
	for range steps {
		list := e.Causes(nil)
		if len(list) == 0 {
			return taken, nil
		}
		c := &list[random.IntN(len(list))]
		if c.Verb == engine.Key && strings.HasSuffix(c.Text, "Tab") {
			continue // where the focus goes next is not the design's
		}
		if c.Verb == engine.Hold && c.Element != nil && c.Element.Get("type") == "range" {
			continue // how far a slider is dragged is a matter of the layout
		}
		met, err := p.meets(c)
		if err == nil && !met {
			continue // as the page is laid out, no mouse gets there
		}
		way = append(way, story.StepText(e, c))
		if err == nil {
			err = p.do(c)
		}
		f := (*engine.Failure)(nil)
		failed := errors.As(err, &f) && p.asItWas() == nil
		if err != nil && !failed {
			return taken, fmt.Errorf("after %s:\n%w", strings.Join(way, "; "), err)
		}
		taken++
		if failed && p.same() != nil {
			return taken, nil // as the browser went on with the gesture
		}
	}
	return taken, nil
}

// meets says whether a mouse can do in the browser what a cause says.
func (p *Pair) meets(c *engine.Cause) (bool, error) {
	switch c.Verb {
	case engine.Hover, engine.Press, engine.Tick, engine.Double, engine.Right, engine.Hold, engine.Release:
		other, err := p.other(behind(c.Element))
		if err != nil {
			return false, err
		}
		return p.in.Meets(other)
	}
	if c.Verb == engine.Carry && c.Onto == nil {
		return p.in.Meets(nil)
	}
	return true, nil
}

// behind is the element of the page behind one of the design; nil for none.
func behind(el *engine.Element) *page.Element {
	if el == nil {
		return nil
	}
	return &el.Element
}

// do does what a cause says, in both.
func (p *Pair) do(c *engine.Cause) error {
	el := behind(c.Element)
	switch c.Verb {
	case engine.Outside:
		return p.Press(nil, page.Mouse{})
	case engine.Choose:
		return p.Choose(el, p.options(el, c.Text)...)
	case engine.Put:
		return p.Put(el, c.Text)
	case engine.Type:
		return p.Type(el, c.Text)
	case engine.Key:
		return p.Key(el, c.Text)
	case engine.Focus, engine.Blur:
		return p.FocusOn(el)
	case engine.Hover:
		return p.Hover(el)
	case engine.Press, engine.Tick, engine.Double, engine.Right:
		return p.Press(el, page.Mouse{Mods: page.ModsOf(c.Text), Double: c.Verb == engine.Double, Right: c.Verb == engine.Right})
	case engine.Hold:
		return p.Hold(el, page.ModsOf(c.Text))
	case engine.Release:
		return p.Release(el, page.ModsOf(c.Text))
	case engine.Carry:
		return p.Drag(el, behind(c.Onto))
	case engine.Elapse:
		_, _, _, delay := c.Timer()
		if err := p.e.Wait(delay); err != nil {
			return err
		}
		return p.Wait(delay)
	case engine.Call:
		if err := p.e.Call(c.Method, nil); err != nil {
			return err
		}
		return p.Call(c.Method, nil)
	case engine.Reply, engine.Fail:
		op, _ := c.Asked()
		if _, err := p.e.Answer(op, nil, 1, c.Verb == engine.Fail); err != nil {
			return err
		}
		return p.Answer(op, 1, map[bool]int{true: 1}[c.Verb == engine.Fail])
	}
	return p.Press(el, page.Mouse{})
}

// options are those of a select that have a value.
func (p *Pair) options(el *page.Element, value string) (list []*page.Element) {
	for _, o := range el.Options() {
		if o.OptionValue() == value && len(list) == 0 {
			list = append(list, o)
		}
	}
	return list
}
