// Package story runs the scenarios of a design on an engine, and checks its
// laws at the end of every turn.
package story

import (
	"errors"
	"fmt"
	"strings"

	"lien/core/aria"
	"lien/core/design"
	"lien/core/drive"
	"lien/core/engine"
	"lien/core/page"
	"lien/core/source"
	"lien/core/value"
)

// Result tells how a scenario went.
type Result struct {
	Scenario *design.Scenario
	Start    *design.Start
	Steps    int // how many were taken, the failed one included
	Turns    int
	Failure  *Failure // nil where it passed
}

// Failure tells what went wrong in a step, and how the page was then.
type Failure struct {
	At      source.Span    // of the step
	Law     *design.Law    // the law that was broken, or nil
	Cause   source.Span    // where in the design, if the turn failed
	Path    string         // the instance, if the turn failed
	Chain   []engine.Entry // what repeats in a turn that never settles
	Message string
	Write   string   // what to do, or ""
	Page    []string // the page by role and name
	State   []Holder // the cells of every instance
	Turns   []*engine.Record
}

// Holder is an instance with its cells.
type Holder struct {
	Path  string
	Cells []engine.Cell
}

// LawResult tells how often a law was checked, and whether it held.
type LawResult struct {
	Law     *design.Law
	States  int  // states at which it was looked at
	Proof   bool // it has clauses that only a proof can decide
	Broken  *Failure
	Breaker *design.Scenario // in which it broke, nil at the start
}

// Report is the outcome of all scenarios and laws of a design.
type Report struct {
	Results []*Result
	Laws    []*LawResult
}

// Failed says whether a scenario failed or a law broke.
func (r *Report) Failed() bool {
	for _, s := range r.Results {
		if s.Failure != nil {
			return true
		}
	}
	for _, l := range r.Laws {
		if l.Broken != nil {
			return true
		}
	}
	return false
}

// Beside is a page that a scenario is run on, in place of the engine's own. It is told of what does not happen on the
// page itself: time that passes, answers, and calls from outside.
type Beside interface {
	drive.Page
	Wait(ms float64) error
	// Answer answers a question to an operation, by its age among those that wait, from 1 on, with its reply (0) or a
	// failure, from 1 on.
	Answer(o *design.Operation, nth, failure int) error
	Call(method *design.Member, args []value.Value) error
}

// Open opens a page beside an engine that has just begun.
type Open func(e *engine.Engine, s *design.Start) (Beside, error)

// Run runs the scenarios that pick chooses, in text order.
func Run(d *design.Design, pick func(*design.Scenario) bool) *Report { return RunOn(d, pick, nil) }

// RunOn runs scenarios on pages that open gives, beside the engine; nil: on the engine's own.
func RunOn(d *design.Design, pick func(*design.Scenario) bool, open Open) *Report {
	rep := &Report{}
	for _, l := range d.Laws {
		rep.Laws = append(rep.Laws, &LawResult{Law: l})
	}
	heavy := 0
	for _, s := range d.Scenarios {
		if pick != nil && !pick(s) {
			continue
		}
		if heavy > mostHeavy {
			rep.Results = append(rep.Results, notRun(d, s, heavy))
			continue
		}
		r := newRunner(d, rep.Laws)
		r.open = open
		rep.Results = append(rep.Results, r.tell(s))
		heavy += r.e.Heavy()
	}
	for _, st := range d.Starts {
		if heavy > mostHeavy {
			break
		}
		r := newRunner(d, rep.Laws)
		if err := r.mount(st); err != nil {
			r.blame(err, nil, st.Syntax.Span())
		}
	}
	return rep
}

// mostHeavy is how many steps turns with many of them may take in all scenarios: half a
// minute's.
var mostHeavy = 100_000_000

// notRun is the outcome of a scenario that was not run, since those before it took too
// long.
func notRun(d *design.Design, s *design.Scenario, steps int) *Result {
	return &Result{Scenario: s, Start: d.Starts[0], Failure: &Failure{At: s.Syntax.Name.Span(),
		Message: fmt.Sprintf("it was not run: turns of those before it took %d steps in all", steps), Write: "run it alone: lien test --only NAME"}}
}

// runner is one scenario under way.
type runner struct {
	d      *design.Design
	e      *engine.Engine
	page   drive.Page
	open   Open
	beside Beside     // that open gave, or nil
	now    *page.Page // as the page was read for the step under way
	laws   []*lawRun
	scope  []*page.Element // where inside steps look; nil is the whole page
	start  *design.Start
	held   bool // the button of the mouse
	turns  int
	nested int                                   // how many inside steps stand around the current one
	recent []*engine.Record                      // turns of the current step
	since  []engine.Report                       // reported by the root since the last step
	onStep func(*design.Step, []*engine.Record)  // told of every step
	onText func(el *engine.Element, text string) // told of what is typed and set
}

// lawRun is a law compiled for one engine.
type lawRun struct {
	result  *LawResult
	clauses []*engine.Condition
	watches []*Temporal // by clause, of those over time
}

func newRunner(d *design.Design, laws []*LawResult) *runner { return runnerOn(engine.New(d), d, laws) }

func runnerOn(e *engine.Engine, d *design.Design, laws []*LawResult) *runner {
	r := &runner{d: d, e: e, onStep: func(*design.Step, []*engine.Record) {}, onText: func(*engine.Element, string) {}}
	for _, l := range laws {
		lr := &lawRun{result: l}
		for _, c := range l.Law.Clauses {
			lr.clauses = append(lr.clauses, r.e.Compile(&c.Unit))
			var w *Temporal
			if IsTemporal(c) {
				w = NewTemporal(r.e, c)
			}
			lr.watches = append(lr.watches, w)
		}
		r.laws = append(r.laws, lr)
	}
	r.page = r.e.Driven()
	r.e.OnTurn = r.afterTurn
	return r
}

// tell takes the steps of a scenario.
func (r *runner) tell(s *design.Scenario) *Result {
	res := &Result{Scenario: s}
	steps := s.Steps
	start := r.d.Starts[0]
	if len(steps) > 0 && steps[0].Verb == "start" {
		start, steps = steps[0].Start, steps[1:]
		res.Steps++
	}
	res.Start = start
	err := r.mount(start)
	r.onStep(nil, r.recent)
	if err != nil {
		res.Failure = r.blame(err, s, s.Syntax.Name.Span())
		return res
	}
	for _, st := range steps {
		res.Steps++
		err, at := r.step(st)
		r.onStep(st, r.recent)
		if err != nil {
			res.Failure = r.blame(err, s, at)
			break
		}
	}
	res.Turns = r.turns
	return res
}

func (r *runner) mount(s *design.Start) error {
	r.start, r.held = s, false
	for _, l := range r.laws {
		for _, w := range l.watches {
			if w != nil {
				w.Set(Watch{})
			}
		}
	}
	rec, err := r.e.Mount(s)
	r.recent = []*engine.Record{rec}
	if err != nil {
		return err
	}
	if r.open != nil {
		if r.beside, err = r.open(r.e, s); err != nil {
			return err
		}
		r.page = r.beside
	}
	return r.check(rec, true)
}

// stepError is a step that could not be taken, or saw something else.
type stepError struct {
	message, write string
}

func (e *stepError) Error() string { return e.message }

func failf(write, format string, args ...any) error {
	return &stepError{fmt.Sprintf(format, args...), write}
}

// lawError is a law that broke.
type lawError struct {
	law    *design.Law
	clause *design.Clause
	cause  error
}

func (e *lawError) Error() string {
	if e.cause != nil && (IsTemporal(e.clause) || e.clause.Kind == "keeps") {
		return fmt.Sprintf("the law %q is broken: %s", e.law.Name, e.cause)
	}
	if e.cause != nil {
		return fmt.Sprintf("the law %q cannot be worked out: %s", e.law.Name, e.cause)
	}
	return fmt.Sprintf("the law %q is broken", e.law.Name)
}

// afterGesture checks that the focus was kept, where a law says so.
func (r *runner) afterGesture() error {
	why := r.e.FocusFault()
	if why == "" {
		return nil
	}
	for _, l := range r.laws {
		for _, c := range l.result.Law.Clauses {
			if c.Kind == "keeps" && (l.result.Law.On == nil || l.result.Law.On == r.start) {
				return &lawError{l.result.Law, c, errors.New(why)}
			}
		}
	}
	return nil
}

// afterTurn checks the laws at the end of a turn.
func (r *runner) afterTurn(rec *engine.Record) error {
	r.turns++
	r.recent = append(r.recent, rec)
	for _, rep := range rec.Reports {
		if rep.Root {
			r.since = append(r.since, rep)
		}
	}
	return r.check(rec, false)
}

func (r *runner) check(rec *engine.Record, mounting bool) error {
	for _, l := range r.laws {
		if l.result.Law.On != nil && l.result.Law.On != r.start {
			continue
		}
		l.result.States++
		for i, c := range l.result.Law.Clauses {
			want := c.Kind != "never"
			switch c.Kind {
			case "can", "ends":
				l.result.Proof = true
				continue
			case "leads", "stays":
				if err := l.watches[i].See(r.e); err != nil {
					return &lawError{l.result.Law, c, err}
				}
				continue
			case "settles": // where nothing is left to come by itself
				l.result.Proof = true
				if !r.e.Quiet() {
					continue
				}
			case "turn":
				if mounting {
					continue
				}
			}
			v, err := r.e.Eval(l.clauses[i])
			if err != nil || (v == value.Value(value.Bool(true))) != want {
				return &lawError{l.result.Law, c, err}
			}
		}
	}
	return nil
}

// passed lets the laws over time see that nothing has happened for a while.
func (r *runner) passed() error {
	for _, l := range r.laws {
		if l.result.Law.On != nil && l.result.Law.On != r.start {
			continue
		}
		for i, w := range l.watches {
			if w == nil {
				continue
			}
			if err := w.Pass(r.e.Now()); err != nil {
				return &lawError{l.result.Law, l.result.Law.Clauses[i], err}
			}
		}
	}
	return nil
}

// blame turns an error into a Failure with the page as it is.
func (r *runner) blame(err error, s *design.Scenario, at source.Span) *Failure {
	f := &Failure{At: at, Message: err.Error(), Turns: r.recent}
	switch err := err.(type) {
	case *stepError:
		f.Write = err.write
	case *engine.Failure:
		f.Message, f.Cause, f.Path, f.Chain = "the turn failed: "+err.Message, err.At, err.Path, err.Chain
	case *lawError:
		f.Law, f.Cause = err.law, err.clause.At
		for _, l := range r.laws {
			if l.result.Law == err.law && l.result.Broken == nil {
				l.result.Broken, l.result.Breaker = f, s
			}
		}
	}
	f.Page, f.State = Page(r.e), State(r.e)
	return f
}

// State lists the cells of every instance, in tree order, each with the
// contexts that it supplies.
func State(e *engine.Engine) []Holder {
	var list []Holder
	for _, i := range e.Instances() {
		for _, h := range append([]*engine.Instance{i}, i.Contexts()...) {
			if cells := e.Cells(h); len(cells) > 0 {
				list = append(list, Holder{h.Path(), cells})
			}
		}
	}
	return list
}

// Line is what people find at one place of the page: an element that has a
// role, or a text.
type Line struct {
	Indent  int
	Text    string
	Element *engine.Element // nil for a text
}

// Page lists what people find on the page, indented as it nests.
func Page(e *engine.Engine) []string {
	var list []string
	for _, l := range Lines(e, e.Page()) {
		list = append(list, strings.Repeat("  ", l.Indent)+l.Text)
	}
	return list
}

// Lines lists what people find in a part of the page.
func Lines(e *engine.Engine, part []engine.Node) []Line {
	var lines []Line
	var walk func(nodes []engine.Node, indent int, named bool)
	walk = func(nodes []engine.Node, indent int, named bool) {
		for _, n := range nodes {
			if n.Element == nil {
				if t := strings.TrimSpace(n.Text); t != "" && !named {
					lines = append(lines, Line{indent, quote(t), nil})
				}
				continue
			}
			if e.IsHidden(n.Element) {
				continue
			}
			line, inner := Describe(e.DOM(), &n.Element.Element)
			if line == "" {
				walk(n.Element.Children(), indent, named || isName(n.Element.Tag()))
				continue
			}
			lines = append(lines, Line{indent, line, n.Element})
			if inner {
				walk(n.Element.Children(), indent+1, named)
			}
		}
	}
	walk(part, 0, false)
	return lines
}

// isName says whether the text of an element is the name of another, which
// the page shows already.
func isName(tag string) bool {
	return tag == "label" || tag == "legend" || tag == "figcaption"
}

// Describe names an element as people find it: role, name, states and value.
// It is "" for elements without a role of their own; inner tells whether what
// it contains says more.
func Describe(p *page.Page, el *page.Element) (line string, inner bool) {
	role := aria.Role(el)
	switch role {
	case "", "generic", "none":
		return "", true
	case "paragraph":
		if t := aria.Text(el); t != "" && !hasElements(el) {
			return "paragraph containing " + quote(t), false
		}
	}
	line = role
	name := aria.Name(p, el)
	if name != "" {
		line += " " + quote(name)
	}
	for _, s := range aria.States(p, el) {
		line += " (" + s + ")"
	}
	for _, c := range strings.Fields(el.Get("class")) {
		line += " ." + c
	}
	switch role {
	case "textbox", "searchbox", "combobox", "spinbutton", "slider":
		line += " holding " + quote(holds(p, el))
	}
	text := aria.Text(el)
	return line, hasElements(el) || name == "" || name != text && text != ""
}

func hasElements(el *page.Element) bool {
	for _, c := range el.Children() {
		if c.Element != nil {
			return true
		}
	}
	return false
}

func quote(s string) string {
	if r := []rune(s); len(r) > 60 {
		s = string(r[:40]) + "…" + string(r[len(r)-15:])
	}
	return "\"" + strings.ReplaceAll(s, "\"", "\\\"") + "\""
}
