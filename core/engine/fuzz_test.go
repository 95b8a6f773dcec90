package engine

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/diff"
	"lien/core/finding"
	"lien/core/page"
	"lien/core/value"
)

// FuzzTurns runs random gestures on random designs. After each of them the
// page must be what working everything out from scratch gives, nothing that
// is gone may be held on to, and a turn that failed must have changed nothing.
func FuzzTurns(f *testing.F) {
	seeds(f)
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 400 {
			return
		}
		c := &choices{data}
		text := generate(c)
		d := design.Parse("fuzz.lien", text)
		for _, fd := range d.Findings {
			if fd.Level == finding.Error {
				t.Fatalf("the generator wrote a design that is wrong: %s: %s\n%s", d.Set.Position(fd.Span.Start), fd.Message, written(text))
			}
		}
		e := New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			return
		}
		e.OnTurn = func(*Record) error { return nil }
		done := []string{written(text)}
		for range 12 {
			before := snapshot(e)
			what, err := gesture(e, c)
			done = append(done, what)
			if err == nil {
				err = judge(e)
			} else if turns := e.Turns(); len(turns) == 1 && !strings.HasPrefix(what, "type") && unfocused(snapshot(e)) != unfocused(before) {
				err = fmt.Errorf("a failed turn changed the page from\n%s\nto\n%s", before, snapshot(e))
			} else {
				err = judge(e)
			}
			if err != nil {
				t.Fatalf("%s\n%v", strings.Join(done, "\n"), err)
			}
			e.Turns()
		}
	})
}

// unfocused leaves the focus out: it moves before the turn of a click.
func unfocused(page string) string {
	return strings.NewReplacer(" focus", "", "edited:true", "edited:false").Replace(page)
}

// gesture does something with one of the controls of the page.
func gesture(e *Engine, c *choices) (string, error) {
	var controls []*Element
	e.Elements(func(el *Element) bool {
		if (el.Tag() == "button" || el.Tag() == "input") && !el.Disabled() {
			controls = append(controls, el)
		}
		return true
	})
	if len(controls) == 0 {
		return "nothing", nil
	}
	el := controls[c.n(len(controls))]
	if el.Role() == "textbox" {
		return "type", e.Type(el, c.pick("", "x", "ab"))
	}
	return "press " + e.Name(el), e.Press(el)
}

// FuzzJudge runs the same events on the engine and on the judge, which works
// everything out from scratch: both must show the same page, and fail in the
// same turns.
func FuzzJudge(f *testing.F) {
	seeds(f)
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 300 {
			return
		}
		c := &choices{data}
		text := generate(c)
		d := design.Parse("fuzz.lien", text)
		if d.Failed() {
			t.Fatalf("%s\n%s", d.Findings[0].Message, written(text))
		}
		e := New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			return
		}
		var n *naive
		if !survives(func() { n = newNaive(d) }) {
			t.Fatalf("the judge cannot mount\n%s", written(text))
		}
		done := []string{written(text)}
		for range 10 {
			what, ok := both(e, n, c)
			done = append(done, what)
			if n.disagrees {
				t.Fatalf("%s", strings.Join(done, "\n"))
			}
			if !ok {
				return
			}
			want := ""
			n.steps = 0
			if !survives(func() { want = n.page() + n.state() }) {
				if n.steps > mostSteps {
					return // it takes the judge too long
				}
				t.Fatalf("%s\nthe judge cannot show the page", strings.Join(done, "\n"))
			}
			if got := plainPage(e) + cellsOf(e); got != want {
				t.Fatalf("%s\n%s", strings.Join(done, "\n"), diff.Unified("the engine", "the judge", got, want))
			}
		}
	})
}

// cellsOf lists the cells of all instances and the timers that run, which both
// must agree on even where no view shows them.
func cellsOf(e *Engine) string {
	var out strings.Builder
	var add func(i *Instance)
	add = func(i *Instance) {
		fmt.Fprintf(&out, "%s:", i.comp.def.Name)
		for _, c := range e.Cells(i) {
			if c.Kind == design.Holds || c.Kind == design.Shares {
				fmt.Fprintf(&out, " %s=%s", c.Name, value.Show(c.Value))
			}
		}
		out.WriteByte('\n')
		for _, c := range i.contexts {
			add(c)
		}
	}
	for _, i := range e.Instances() {
		add(i)
	}
	e.timers.each(func(t *timer) { fmt.Fprintf(&out, "%s %v runs until %g\n", t.member.Label, t.args, t.due) })
	return out.String()
}

func (n *naive) state() string {
	var out strings.Builder
	for _, i := range n.order {
		fmt.Fprintf(&out, "%s:", i.comp.Name)
		for _, m := range i.comp.Members {
			if m.IsCell() {
				fmt.Fprintf(&out, " %s=%s", m.Label, value.Show(n.member(m, i)))
			}
		}
		out.WriteByte('\n')
	}
	for _, t := range n.timers {
		fmt.Fprintf(&out, "%s %v runs until %g\n", t.member.Label, t.args, t.due)
	}
	return out.String()
}

// survives says whether the judge got through.
func survives(run func()) (ok bool) {
	defer func() {
		if r := recover(); r != nil {
			if _, is := r.(naiveFailure); !is {
				panic(r)
			}
			ok = false
		}
	}()
	run()
	return true
}

// both raises one event on the engine and on the judge. It reports false where
// the run ends: there is no control, or the judge takes too long.
func both(e *Engine, n *naive, c *choices) (string, bool) {
	if e.timers.first != nil && c.n(5) == 0 {
		due, fire, _ := e.next(math.Inf(1))
		e.now = due
		err := fire()
		ok, long := n.fire()
		return n.agree("time", err, ok, long), !long
	}
	var controls []*Element
	e.Elements(func(el *Element) bool {
		if el.Tag() == "button" || el.Tag() == "input" {
			controls = append(controls, el)
		}
		return true
	})
	if len(controls) == 0 {
		return "nothing", false
	}
	at := c.n(len(controls))
	el := controls[at]
	if el.Disabled() {
		return "disabled", true
	}
	name, text := "click", ""
	var change func()
	if el.Tag() == "input" {
		name, text = "input", c.pick("", "x", "ab")
		change = func() {
			p := el.Props()
			p.Value, p.Checked = text, !p.Checked
			e.page.Set(&el.Element, p)
			(*host)(e).Acted(&el.Element)
			e.writeTies(el, "value", "checked")
		}
	}
	err := (*host)(e).Dispatch(&page.Event{Name: name, Target: &el.Element}, change)
	ok, long := n.event(at, name, text)
	return n.agree(fmt.Sprintf("%s %s %q", name, e.Name(el), text), err, ok, long), !long
}

// agree notes whether both failed, or both did not.
func (n *naive) agree(what string, err error, ok, long bool) string {
	if !long && ok != (err == nil) {
		what += fmt.Sprintf(": the engine says %v, the judge %v %s", err, ok, n.why)
		n.disagrees = true
	}
	return what
}

// written is the part of a generated design that differs from others.
func written(text string) string { return text[strings.Index(text, "component page-root"):] }
