package engine

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/value"
)

// examples are designs that use all of the language: those that the scenarios
// run on.
func examples(tb testing.TB) map[string]*design.Design {
	tb.Helper()
	files, err := filepath.Glob("../story/testdata/pass/*.lien")
	more, _ := filepath.Glob("../../examples/*.lien")
	if err != nil || len(files) == 0 || len(more) == 0 {
		tb.Fatalf("there are no examples: %v", err)
	}
	files = append(files, more...)
	out := map[string]*design.Design{}
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			tb.Fatal(err)
		}
		d := design.Parse(filepath.Base(f), string(text))
		if d.Failed() {
			tb.Fatalf("%s: %s", f, d.Findings[0].Message)
		}
		out[filepath.Base(f)] = d
	}
	return out
}

// FuzzExamples does what users, time and services can do, in any order, with
// every example. After each turn the page must be what working everything out
// from scratch gives, and nothing that is gone may be held on to.
func FuzzExamples(f *testing.F) {
	all := examples(f)
	var names []string
	for n := range all {
		names = append(names, n)
	}
	slices.Sort(names)
	for i := range 60 {
		seed := make([]byte, 60)
		x := uint32(i*7919 + 13)
		for j := range seed {
			x = x*1664525 + 1013904223
			seed[j] = byte(x >> 16)
		}
		seed[0] = byte(i % len(names))
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 200 {
			return
		}
		c := &choices{data}
		name := names[c.n(len(names))]
		d := all[name]
		e := New(d)
		if _, err := e.Mount(d.Starts[c.n(len(d.Starts))]); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		done := []string{name}
		for len(c.data) > 0 && len(done) < 30 {
			what, err := anything(e, c)
			done = append(done, what)
			if err != nil {
				done[len(done)-1] += ": " + err.Error()
			}
			e.Turns()
			if err := consistent(e); err != nil {
				t.Fatalf("%s\n%v", strings.Join(done, "\n"), err)
			}
		}
	})
}

// anything does one thing that may happen to a page.
func anything(e *Engine, c *choices) (string, error) {
	switch c.n(8) {
	case 0:
		ms := float64(c.n(12)) * 250
		return fmt.Sprintf("wait %g", ms), e.Wait(ms)
	case 1:
		if len(e.asks) > 0 {
			a := e.asks[c.n(len(e.asks))]
			fail := len(a.op.fails) > 0 && c.n(2) == 1
			return fmt.Sprintf("answer %s, failing %v", a, fail), e.answer(a, fail)
		}
	case 2:
		key := c.pick("Tab", "Shift+Tab", "Escape", "Enter", " ", "ArrowDown", "x")
		return "key " + key, e.Key(nil, key)
	}
	var controls []*Element
	e.Elements(func(el *Element) bool {
		switch el.Tag() {
		case "button", "input", "select", "textarea", "summary", "label", "p":
			if !el.Disabled() && !e.IsHidden(el) {
				controls = append(controls, el)
			}
		}
		return true
	})
	if len(controls) == 0 {
		return "nothing", nil
	}
	el := controls[c.n(len(controls))]
	switch {
	case el.Role() == "textbox" || el.Role() == "spinbutton":
		text := c.pick("", "x", "12", "ab c")
		return fmt.Sprintf("type %q into %q", text, e.Name(el)), e.Type(el, text)
	case el.Tag() == "select" && len(el.Options()) > 0:
		o := el.Options()[c.n(len(el.Options()))]
		return "choose " + o.LiveValue(), e.Set(el, o.LiveValue())
	case c.n(6) == 0:
		return "hover " + e.Name(el), e.Hover(el)
	}
	return fmt.Sprintf("press %s %q", el.Tag(), e.Name(el)), e.Press(el)
}

// consistent asks more than the page: timers, questions, gathered lists, names
// and opened components belong to what is there.
func consistent(e *Engine) error {
	if err := judge(e); err != nil {
		return err
	}
	live := map[*Instance]bool{}
	for _, i := range e.Instances() {
		live[i] = true
		for _, c := range i.contexts {
			live[c] = true
		}
	}
	for t := e.timers.first; t != nil; t = t.next {
		if !live[t.inst] {
			return fmt.Errorf("the timer %s of %s runs on, though it is gone", t.member.Label, t.inst.Path())
		}
	}
	for _, a := range e.asks {
		if !live[a.inst] {
			return fmt.Errorf("%s is still asked by what is gone", a)
		}
	}
	for _, o := range e.openings {
		if !live[o.opener] || o.closed {
			return fmt.Errorf("%s is open, though its opener is gone or it has left", o.use.inst.Path())
		}
	}
	if e.Focus() != nil && e.Focus().block.gone {
		return fmt.Errorf("the focus is on what is gone")
	}
	count := 0
	for c := range e.live {
		count += len(e.all(c))
	}
	if count != len(live) {
		return fmt.Errorf("%d instances are listed, but %d are rendered", count, len(live))
	}
	return related(e)
}

// related looks at the values that stand for instances.
func related(e *Engine) error {
	for _, i := range e.Instances() {
		for slot, m := range i.comp.slots {
			v := i.values[slot].val
			switch m.Kind {
			case design.Gathered:
				if want := e.gather(i, m); !value.Equal(v, want) {
					return fmt.Errorf("%s gathers %s, but there are %s", i.Path(), value.Show(v), value.Show(want))
				}
			case design.Named:
				if n, ok := v.(*Instance); ok && n.gone {
					return fmt.Errorf("%s names %s, which is gone", i.Path(), m.Label)
				}
				if n, ok := v.(*Element); ok && n.block.gone {
					return fmt.Errorf("%s names the element %s, which is gone", i.Path(), m.Label)
				}
			case design.Used:
				if c, ok := v.(*Instance); ok && c.gone {
					return fmt.Errorf("%s uses a context that is gone", i.Path())
				}
			}
		}
	}
	return nil
}
