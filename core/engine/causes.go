package engine

import (
	"math"
	"slices"

	"lien/core/design"
	"lien/core/flow"
	"lien/core/html"
	"lien/core/page"
	"lien/core/source"
	"lien/core/value"
)

// Verb is what a cause does.
type Verb string

// The verbs are those of scenario steps, and elapse: a timer fires.
const (
	Press   Verb = "press"
	Outside Verb = "press outside"
	Tick    Verb = "tick" // or untick
	Choose  Verb = "choose"
	Put     Verb = "set"
	Type    Verb = "type"
	Key     Verb = "key"
	Focus   Verb = "focus"
	Blur    Verb = "blur"
	Hover   Verb = "hover"
	Double  Verb = "press twice"
	Right   Verb = "rightpress"
	Hold    Verb = "hold"
	Release Verb = "release"
	Carry   Verb = "drag"
	Elapse  Verb = "elapse"
	Reply   Verb = "reply"
	Fail    Verb = "fail"
	Call    Verb = "call"
)

// Cause is one thing that a user, time or the world outside can do next.
type Cause struct {
	Verb    Verb
	Element *Element // nil: none, and for the mouse where no element is
	Onto    *Element // that it is dragged onto; nil: to where no element is
	Text    string   // that is typed, the key, the value that is chosen, or the keys held beside a press
	Method  *design.Member
	Failure int // which failure of the service, from 1 on
	timer   *timer
	ask     *asked
}

// ByUser says whether a user does it.
func (s *Cause) ByUser() bool {
	switch s.Verb {
	case Elapse, Reply, Fail:
		return false
	}
	return true
}

// Timer is the timer that fires, with its owner, arguments and delay in
// milliseconds; nil for other causes.
func (s *Cause) Timer() (owner *Instance, m *design.Member, args []value.Value, delay float64) {
	if s.timer == nil {
		return nil, nil, nil, 0
	}
	return s.timer.inst, s.timer.member, s.timer.args, s.timer.delay
}

// Asked is the question that is answered, and its arguments.
func (s *Cause) Asked() (*design.Operation, []value.Value) {
	if s.ask == nil {
		return nil, nil
	}
	return s.ask.op.def, s.ask.args
}

// Late says whether something else was asked and answered since.
func (s *Cause) Late() bool { return s.ask != nil && s.ask.late }

// ByWorld says whether the world outside does it, which it need not: an answer
// may never come.
func (s *Cause) ByWorld() bool { return s.Verb == Reply || s.Verb == Fail }

// Unheard says whether a question fails and nobody hears of it, and where it was
// asked.
func (s *Cause) Unheard() (at source.Span, unheard bool) {
	if s.Verb != Fail || s.ask.failed != nil {
		return at, false
	}
	return s.ask.at, true
}

// Do does what a cause says, in the state that it was listed in.
func (e *Engine) Do(s *Cause) error {
	switch s.Verb {
	case Outside:
		return e.PressOutside()
	case Choose:
		return e.ChooseValue(s.Element, s.Text)
	case Put:
		return e.Set(s.Element, s.Text)
	case Type:
		return e.Type(s.Element, s.Text)
	case Key:
		return e.Key(s.Element, s.Text)
	case Focus:
		return e.FocusOn(s.Element)
	case Blur:
		return e.FocusOn(nil)
	case Hover:
		return e.Hover(s.Element)
	case Hold:
		return e.Driven().Hold(on(s.Element), page.ModsOf(s.Text))
	case Release:
		return e.Driven().Release(on(s.Element), page.ModsOf(s.Text))
	case Carry:
		return e.Driven().Drag(&s.Element.Element, on(s.Onto))
	case Elapse:
		return e.fire(s.timer)
	case Reply, Fail:
		return e.answerWith(s.ask, s.Failure)
	case Call:
		return e.Call(s.Method, nil)
	}
	return e.Driven().Press(on(s.Element), page.Mouse{Mods: page.ModsOf(s.Text), Double: s.Verb == Double, Right: s.Verb == Right})
}

// Samples are texts that are typed into a field, or numbers that it is set to,
// besides those that the design suggests.
type Samples func(el *Element) []string

// Causes lists what can happen next, in tree order: what users can do with
// the controls that hear it, then timers, answers, and what the root offers.
// Of two timers the one that started no later and takes no longer comes first.
func (e *Engine) Causes(samples Samples) []Cause {
	list := make([]Cause, 0, e.enabled)
	e.CausesBy(samples, func(_ *Element, own []Cause) { list = append(list, own...) })
	e.enabled = len(list)
	return list
}

// CausesBy visits the same by the element that hears them, elements without
// any included; last come, with nil, those that no element hears.
func (e *Engine) CausesBy(samples Samples, visit func(el *Element, list []Cause)) {
	l := &lister{e: e, samples: samples, inputs: e.program.inputsOf(), held: e.page.State().Held}
	if e.program.sees.pointer {
		l.spot, l.passed = e.spotOf(e.page.Over()), map[*Element]int{}
	}
	e.Elements(func(el *Element) bool {
		l.list = l.list[:0]
		if l.matters(el) && !e.IsHidden(el) {
			l.element(el)
		}
		visit(el, l.list)
		return true
	})
	l.list = l.list[:0]
	l.others()
	visit(nil, l.list)
}

// others lists what no element hears.
func (l *lister) others() {
	e := l.e
	if l.escapes() {
		l.add(Cause{Verb: Key, Text: "Escape"})
	}
	l.beside()
	if l.activates() {
		l.add(Cause{Verb: Press})
	}
	if e.program.sees.focus && e.Focus() != nil {
		l.add(Cause{Verb: Blur})
	}
	l.timers()
	for _, a := range e.questions() {
		if e.slice != nil && !e.slice.Operation(a.op.def) {
			continue
		}
		l.add(Cause{Verb: Reply, ask: a})
		for i := range a.op.fails {
			l.add(Cause{Verb: Fail, ask: a, Failure: i + 1})
		}
	}
	for _, m := range e.root.comp.def.Members {
		if m.Kind == design.Action && m.Offered && len(m.Sig) == 0 && (e.slice == nil || e.slice.Body(m.Body)) {
			l.add(Cause{Verb: Call, Method: m})
		}
	}
}

// escapes says whether Escape closes anything: an opened component that says that it was
// dismissed, a dialog, or a popover.
func (l *lister) escapes() bool {
	own, closes := l.e.page.Escapes()
	if own != nil {
		o := own.Source.(layer).o
		return o.use.inst.comp.def.Member("dismissed") != nil && (l.e.slice == nil || l.e.slice.Opening(o.use.t.def))
	}
	return closes
}

// activates says whether it makes a difference that a user does something, anywhere: what opens after that is closed by an Escape
// of its own, and cancel can be prevented.
func (l *lister) activates() bool {
	w := l.e.page.State().Watch
	return l.e.program.sees.watch && (!w.Spent || l.e.program.hears["cancel"] && !w.Active)
}

type lister struct {
	e       *Engine
	samples Samples
	inputs  *flow.Inputs
	held    page.Pressing
	spot    spot             // of the mouse
	passed  map[*Element]int // how many things in each were seen, of which a spot is the first
	list    []Cause
}

func (l *lister) add(s Cause) {
	if l.held.On == nil || !s.Verb.takesMouse() {
		l.list = append(l.list, s)
	}
}

func (l *lister) timers() {
	var before []*timer
	l.e.timers.each(func(t *timer) {
		if l.e.slice != nil && !l.e.slice.Timer(t.member) {
			return
		}
		if !slices.ContainsFunc(before, func(b *timer) bool { return b.delay <= t.delay }) {
			l.add(Cause{Verb: Elapse, timer: t})
		}
		before = append(before, t)
	})
}

// matters says whether a gesture on the element, or one that goes through it
// from what is in it, does anything that is looked at.
func (l *lister) matters(el *Element) bool {
	if l.e.slice == nil {
		return true
	}
	for p := el; p != nil; p = p.around() {
		if l.e.slice.Hears(p.t.def) {
			return true
		}
	}
	return false
}

func (l *lister) element(el *Element) {
	if el.t.handlers["outside"] != nil {
		l.add(Cause{Verb: Outside, Element: el})
	}
	l.release(el)
	l.hover(el)
	if el.Disabled() {
		l.pressedDisabled(el)
		return
	}
	switch el.Tag() {
	case "input":
		l.input(el)
	case "textarea":
		l.text(el)
	case "select":
		l.options(el)
	default:
		if el.EditsItself() {
			l.text(el)
		}
		if l.pressable(el) {
			l.presses(Press, el)
		}
	}
	l.enter(el)
	if isField(el) && l.heard(el, presses...) {
		l.presses(Press, el)
	}
	if el.Listens("dblclick") {
		l.presses(Double, el)
	}
	if el.Listens("contextmenu", "auxclick") {
		l.presses(Right, el)
	}
	l.hold(el)
	l.drags(el)
	l.keys(el)
	if l.e.program.sees.focus && el.Focusable() && el != l.e.Focus() {
		l.add(Cause{Verb: Focus, Element: el})
	}
}

// isField says whether a control is there to be typed into, set or chosen from, and is
// pressed besides only where something hears that.
func isField(el *Element) bool {
	switch el.Tag() {
	case "textarea", "select":
		return true
	case "input":
		switch el.InputType() {
		case "hidden", "checkbox", "radio", "button", "submit", "reset", "image":
			return false
		}
		return true
	}
	return false
}

// rare are events that a scenario makes and a proof does not: no cause has them.
var rare = map[string]bool{"paste": true}

// Makes says whether a cause makes an event: others are never heard in a proof.
func Makes(event string) bool { return html.IsMade(event) && !rare[event] }

func (l *lister) input(el *Element) {
	switch el.InputType() {
	case "hidden":
	case "checkbox", "radio":
		l.checkable(el)
	case "button", "submit", "reset", "image":
		if l.pressable(el) {
			l.presses(Press, el)
		}
	case "range", "number":
		l.numbers(el)
	default:
		l.text(el)
	}
}

// checks says whether a box that is ticked does anything.
func (l *lister) checks(el *Element) bool {
	return len(el.t.ties) > 0 || !el.linked("checked") || l.heard(el, presses...) || l.heard(el, "input", "change")
}

func (l *lister) checkable(el *Element) {
	if !l.checks(el) {
		return
	}
	if el.InputType() == "checkbox" || !el.Live().Checked {
		l.presses(Tick, el)
	}
}

// changes says whether a change of what the field holds matters to anything.
func (l *lister) changes(el *Element) bool {
	return len(el.t.ties) > 0 || el.Has("name") && el.form() != nil || l.e.page.Constrained(&el.Element) || l.heard(el, "input", "change", "beforeinput", "keydown", "keyup", "keypress")
}

func (l *lister) options(el *Element) {
	if !l.changes(el) {
		return
	}
	for _, o := range el.Options() {
		if v := o.LiveValue(); !o.Disabled() && (v != el.LiveValue() || el.takesSeveral()) {
			l.add(Cause{Verb: Choose, Element: el, Text: v})
		}
	}
}

func (l *lister) text(el *Element) {
	if el.Has("readonly") || !l.changes(el) {
		return
	}
	for _, s := range l.texts(el) {
		if s != l.e.held(&el.Element) {
			l.add(Cause{Verb: Type, Element: el, Text: s})
		}
	}
}

// texts are what is typed into a field: nothing, what the design compares its
// text with, what is asked for, one other, and one that the field's constraints let through.
func (l *lister) texts(el *Element) []string {
	list := []string{""}
	add := func(s string) {
		if !slices.Contains(list, s) {
			list = append(list, s)
		}
	}
	c := l.inputs.Of(el.t.def)
	for _, s := range c.Texts {
		add(s)
	}
	for _, n := range c.Numbers {
		add(value.FormatNumber(n))
	}
	if l.samples != nil {
		for _, s := range l.samples(el) {
			add(s)
		}
	}
	add(l.inputs.Other())
	list = slices.DeleteFunc(list, func(s string) bool { return !el.Takes(s) })
	return l.filled(el, l.inputs.Other(), list)
}

// filled adds to what a field is given, if its constraints hold another value back, one that they let
// through: else no form with it would be sent.
func (l *lister) filled(el *Element, other string, list []string) []string {
	if l.e.page.Accepts(&el.Element, other) {
		return list
	}
	if s := l.e.page.Filling(&el.Element, list); s != "" {
		return append(list, s)
	}
	return list
}

// numbers are what a slider is set to, or a field for numbers holds: the ends of
// its range, each number that the design compares with and one on either side of
// it, what is asked for, and one other. A field may also hold none, and numbers
// outside its range.
func (l *lister) numbers(el *Element) {
	if el.Has("readonly") || !l.changes(el) {
		return
	}
	r := rangeOf(el)
	verb, list := Put, []string{}
	if !r.slider() {
		verb, list = Type, []string{""}
		if l.e.program.hears["invalid"] {
			list = append(list, "-") // no number, which is not valid
		}
	}
	add := func(n float64) {
		if s := value.FormatNumber(n); r.takes(n) && !slices.Contains(list, s) {
			list = append(list, s)
		}
	}
	known := l.inputs.Of(el.t.def).Numbers
	for _, n := range r.ends() {
		add(n)
	}
	for i, n := range known {
		add(n - r.Step)
		add(n)
		add(n + r.Step)
		if i > 0 && n-known[i-1] < 2*r.Step {
			add((n + known[i-1]) / 2)
		}
		below, above := r.Around(n)
		add(below)
		add(above)
	}
	if l.samples != nil {
		for _, s := range l.samples(el) {
			if n, ok := value.ParseNumber(s); ok {
				add(n)
			}
		}
	}
	for n, most := r.other(), len(list); len(list) == most && n <= r.last(); n += r.Step {
		add(n)
	}
	if !r.slider() {
		list = l.filled(el, list[len(list)-1], list)
	}
	for _, s := range list {
		if s != el.LiveValue() {
			l.add(Cause{Verb: verb, Element: el, Text: s})
		}
	}
}

// numberRange is what numbers a user gives a slider, or a field for numbers.
type numberRange struct {
	page.Range
	el *Element
}

func rangeOf(el *Element) numberRange {
	r, _ := el.Range()
	return numberRange{r, el}
}

func (r numberRange) slider() bool { return r.el.InputType() == "range" }

// ends are the first and last numbers in the range, and beside them those of
// a field, which does not keep its user from typing them.
func (r numberRange) ends() (list []float64) {
	if r.HasLow {
		list = append(list, r.Low)
		if !r.slider() {
			list = append(list, r.Low-r.Step)
		}
	}
	if r.HasHigh {
		list = append(list, r.High)
		if !r.slider() {
			list = append(list, r.High+r.Step)
		}
	}
	return list
}

// takes says whether a user can give a number: a slider only one in its range and on its steps.
func (r numberRange) takes(n float64) bool {
	fits, _, slider := r.el.Fits(n)
	return fits || !slider
}

// other is where to look for one other number, up to the last one.
func (r numberRange) other() float64 {
	if r.HasLow {
		return r.Low + r.Step
	}
	return 1
}

func (r numberRange) last() float64 {
	if r.slider() {
		return r.High
	}
	return math.MaxInt32
}

// inputsOf is what matters of what users type and press.
func (p *program) inputsOf() *flow.Inputs {
	if p.inputs == nil {
		p.inputs = flow.Of(p.design).Inputs()
	}
	return p.inputs
}

// Pending visits the timers that run, in the order in which they were started,
// then the questions whose answers come by themselves, as far as they are looked
// at: what tells one from another, after how many milliseconds it comes, and whether it is a timer.
func (e *Engine) Pending(visit func(id any, ms float64, timer bool)) {
	e.timers.each(func(t *timer) {
		if e.slice == nil || e.slice.Timer(t.member) {
			visit(t, t.delay, true)
		}
	})
	for _, a := range e.asks {
		if a.due >= 0 && (e.slice == nil || e.slice.Operation(a.op.def)) {
			visit(a.number, a.due-a.asked, false)
		}
	}
}

// Pending tells which of what is pending the cause lets come, or nil.
func (s *Cause) Pending() any {
	if s.timer != nil {
		return s.timer
	}
	return nil
}

// Root is the instance that the start mounted.
func (e *Engine) Root() *Instance { return e.root }

// Elapses is the cause that a timer fires, told by what Pending calls it; nil for no timer.
func (e *Engine) Elapses(id any) *Cause {
	t, ok := id.(*timer)
	if !ok || !t.running {
		return nil
	}
	return &Cause{Verb: Elapse, timer: t}
}
