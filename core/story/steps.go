package story

import (
	"slices"
	"strings"

	"lien/core/aria"
	"lien/core/design"
	"lien/core/engine"
	"lien/core/page"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// step takes one step. The span is that of the step that failed, which may
// stand inside the one given.
func (r *runner) step(s *design.Step) (error, source.Span) {
	if !s.Looks() { // what acts starts a new record
		r.since = nil
		if r.nested == 0 {
			r.recent = nil
		}
	}
	var err error
	if r.now, err = r.page.Read(); err != nil {
		return err, s.Span()
	}
	if s.Verb != "inside" {
		if err := r.simple(s); err != nil {
			return err, s.Span()
		}
		return r.afterGesture(), s.Span()
	}
	r.nested++
	defer func() { r.nested-- }()
	return r.inside(s)
}

func (r *runner) simple(s *design.Step) error {
	switch s.Verb {
	case "start":
		r.scope = nil
		return r.mount(s.Start)
	case "shows", "lacks":
		return r.look(s)
	case "expect":
		return r.expect(s)
	case "reports":
		return r.reports(s)
	case "call":
		return r.call(s)
	case "reply", "fail":
		return r.answer(s)
	case "wait":
		return r.wait(s)
	case "blur":
		return r.page.FocusOn(nil)
	case "key":
		return r.key(s)
	}
	el, err := r.actedOn(s)
	if err == nil {
		err = r.button(s)
	}
	if err != nil {
		return err
	}
	return r.act(s, el)
}

// button: what is held is let go of before the mouse presses again, and only that is.
func (r *runner) button(s *design.Step) error {
	switch s.Verb {
	case "release":
		if !r.held {
			return failf("write hold ... before", "the button of the mouse is not held")
		}
		r.held = false
	case "press", "rightpress", "tick", "untick", "drag", "hold":
		if r.held {
			return failf("write release ... before", "the button of the mouse is held")
		}
		r.held = s.Verb == "hold"
	}
	return nil
}

// actedOn is the element that a step acts on; nil is where none is, and what the step names then is on the page.
func (r *runner) actedOn(s *design.Step) (*page.Element, error) {
	if s.Target == nil {
		return nil, nil
	}
	el, err := r.one(s.Target)
	switch {
	case err != nil || s.Outside && s.Verb != "drag":
		return nil, err
	case comesToDisabled(s.Verb, el):
		return el, nil
	}
	return el, enabled(s.Target, el)
}

// comesToDisabled says whether what a mouse does on an element is told to it also where it is disabled.
func comesToDisabled(verb string, el *page.Element) bool {
	switch verb {
	case "hover", "release":
		return true
	case "press", "hold":
		x := engine.ElementOf(el)
		return x != nil && x.HearsDisabled()
	}
	return false
}

// usable is the element that a step acts on: it must be found and enabled.
func (r *runner) usable(t *syntax.Target) (*page.Element, error) {
	el, err := r.one(t)
	if err != nil {
		return nil, err
	}
	return el, enabled(t, el)
}

func enabled(t *syntax.Target, el *page.Element) error {
	if el.Disabled() {
		return failf("first do what enables it", "%s is disabled", describe(t))
	}
	return nil
}

func (r *runner) act(s *design.Step, el *page.Element) error {
	switch s.Verb {
	case "press", "rightpress":
		m := page.Mouse{Mods: modsOf(s.With), Right: s.Verb == "rightpress", Double: s.Twice}
		return r.page.Press(el, m)
	case "hold":
		return r.page.Hold(el, modsOf(s.With))
	case "release":
		return r.page.Release(el, modsOf(s.With))
	case "drag":
		if s.Outside {
			return r.page.Drag(el, nil)
		}
		to, err := r.one(s.Onto)
		if err != nil {
			return err
		}
		return r.page.Drag(el, to)
	case "paste":
		if el.Nearest() == nil {
			return failf("paste into what can have the focus", "nothing can be pasted into %s", describe(s.Target))
		}
		return r.page.Paste(el, s.Text.Value)
	case "tick", "untick":
		return r.tick(s, el)
	case "type", "clear":
		return r.typeInto(s, el)
	case "choose":
		return r.choose(s, el)
	case "set":
		v, err := r.number(s)
		if err != nil {
			return err
		}
		if err := holdable(s, el, v); err != nil {
			return err
		}
		r.onText(engine.ElementOf(el), value.FormatNumber(v))
		return r.page.Put(el, value.FormatNumber(v))
	case "focus":
		if !el.Focusable() {
			return failf("give it a tabindex, or focus a control", "%s cannot have the focus", describe(s.Target))
		}
		return r.page.FocusOn(el)
	case "hover":
		return r.page.Hover(el)
	}
	return failf("", "the step %s cannot be taken", s.Verb)
}

// holdable: a slider goes from one end to the other, by its steps.
func holdable(s *design.Step, el *page.Element, v float64) error {
	fits, near, ok := el.Fits(v)
	if !ok || fits {
		return nil
	}
	r, _ := el.Range()
	return failf("set it to "+value.FormatNumber(near)+", or change its min, max or step",
		"%s goes from %s to %s in steps of %s", describe(s.Target), value.FormatNumber(r.Low), value.FormatNumber(r.High), value.FormatNumber(r.Step))
}

// modsOf are the keys that a step holds beside a press.
func modsOf(t *syntax.Text) page.Mods {
	if t == nil {
		return page.Mods{}
	}
	return page.ModsOf(t.Value)
}

func (r *runner) key(s *design.Step) error {
	if s.Target == nil {
		return r.page.Key(nil, s.Text.Value)
	}
	el, err := r.usable(s.Target)
	if err != nil {
		return err
	}
	if el.Nearest() == nil {
		return failf("give it a tabindex, or press the key where the focus is: key "+quote(s.Text.Value),
			"%s cannot have the focus, so that no key reaches it", describe(s.Target))
	}
	return r.page.Key(el, s.Text.Value)
}

func (r *runner) tick(s *design.Step, el *page.Element) error {
	switch aria.Role(el) {
	case "checkbox", "radio", "switch", "menuitemcheckbox", "menuitemradio", "option", "treeitem":
	default:
		return failf("press it", "%s cannot be ticked", describe(s.Target))
	}
	checked := slices.Contains(aria.States(r.now, el), "checked")
	if checked == (s.Verb == "tick") {
		return failf("leave this step out", "%s is %s already", describe(s.Target), map[bool]string{true: "ticked", false: "not ticked"}[checked])
	}
	return r.page.Press(el, page.Mouse{})
}

func (r *runner) typeInto(s *design.Step, el *page.Element) error {
	switch {
	case el.Tag() != "input" && el.Tag() != "textarea" && !el.Editable():
		return failf("type into an input or textarea", "nothing can be typed into %s", describe(s.Target))
	}
	if _, readonly := el.Attr("readonly"); readonly {
		return failf("remove readonly from it", "%s can only be read", describe(s.Target))
	}
	text := ""
	if s.Verb == "type" {
		text = s.Text.Value
	}
	if err := takes(s, el, text); err != nil {
		return err
	}
	r.onText(engine.ElementOf(el), text)
	return r.page.Type(el, text)
}

// notTyped is what to write for inputs that no text is typed into.
var notTyped = map[string]string{
	"checkbox": "write tick or untick", "radio": "write tick", "range": "write set ... to a number", "file": "write choose",
	"button": "write press", "submit": "write press", "reset": "write press", "image": "write press",
}

// asWritten is how fields that are filled by parts hold what they do (HTML, 2.3.5).
var asWritten = map[string]string{
	"date": "2026-12-24", "time": "08:30", "month": "2026-12", "week": "2026-W52", "datetime-local": "2026-12-24T08:30", "color": "#aa8833",
}

// takes tells why a text cannot be typed into a field, or gives nil.
func takes(s *design.Step, el *page.Element, text string) error {
	kind := el.InputType()
	if write := notTyped[kind]; write != "" && (kind != "file" || s.Verb == "type") {
		return failf(write, "nothing can be typed into %s", describe(s.Target))
	}
	if !el.Takes(text) {
		return failf("write it as in "+quote(asWritten[kind]), "%s holds a %s, and %s is none", describe(s.Target), kind, quote(text))
	}
	return nil
}

// choose picks an option of a select by its name.
func (r *runner) choose(s *design.Step, el *page.Element) error {
	switch {
	case el.InputType() == "file":
		return r.page.Put(el, s.Text.Value)
	case el.Tag() != "select":
		return r.chooseOption(s)
	}
	var names []string
	for _, o := range el.Options() {
		name := aria.Name(r.now, o)
		if name == collapse(s.Text.Value) {
			if o.Disabled() {
				return failf("first do what enables it", "the option %s is disabled", quote(name))
			}
			return r.page.Choose(el, r.now.ChosenWith(el, o)...)
		}
		names = append(names, quote(name))
	}
	return failf("it offers: "+strings.Join(names, ", "), "%s does not offer %s", describe(s.Target), quote(s.Text.Value))
}

// chooseOption presses an option of a list that the design made itself.
func (r *runner) chooseOption(s *design.Step) error {
	o, err := r.usable(&syntax.Target{Role: "option", Name: s.Text})
	if err != nil {
		return err
	}
	return r.page.Press(o, page.Mouse{})
}

func (r *runner) number(s *design.Step) (float64, error) {
	v, err := r.eval(s.Value)
	if err != nil {
		return 0, err
	}
	return float64(v.(value.Number)), nil
}

func (r *runner) eval(u *design.Unit) (value.Value, error) { return r.e.Eval(r.e.Compile(u)) }

func (r *runner) wait(s *design.Step) error {
	ms, err := r.number(s)
	if err != nil {
		return err
	}
	if err := r.e.Wait(ms); err != nil {
		return err
	}
	if r.beside != nil {
		if err := r.beside.Wait(ms); err != nil {
			return err
		}
	}
	return r.passed()
}

// call calls what the root offers, from outside.
func (r *runner) call(s *design.Step) error {
	args, err := r.args(s)
	if err != nil {
		return err
	}
	if err := r.e.Call(s.Event, args); err != nil || r.beside == nil {
		return err
	}
	return r.beside.Call(s.Event, args)
}

// args are the arguments that a step gives; nil where it gives none.
func (r *runner) args(s *design.Step) ([]value.Value, error) {
	if !s.Call {
		return nil, nil
	}
	args := []value.Value{}
	for _, u := range s.Args {
		v, err := r.eval(u)
		if err != nil {
			return nil, err
		}
		args = append(args, v)
	}
	return args, nil
}

// answer lets the oldest waiting question, or the one that is meant, be answered, or fail.
func (r *runner) answer(s *design.Step) error {
	args, err := r.args(s)
	if err != nil {
		return err
	}
	age := r.e.Age(s.Operation, args, nth(s.Nth))
	if s.Text != nil {
		says, found, err := r.e.FailWith(s.Operation, args, nth(s.Nth), s.Text.Value)
		if err != nil || found {
			return r.answered(err, s, age)
		}
		if len(says) > 0 {
			return failf("it fails with: "+strings.Join(says, ", "), "%s.%s does not fail with %s", s.Service.Text, s.Name.Text, quote(s.Text.Value))
		}
	} else if found, err := r.e.Answer(s.Operation, args, nth(s.Nth), s.Verb == "fail"); err != nil || found {
		return r.answered(err, s, age)
	}
	waiting := "nothing waits for an answer"
	if list := r.e.Waiting(); len(list) > 0 {
		waiting = "these wait: " + strings.Join(list, ", ")
	}
	if n := nth(s.Nth); n != 1 {
		return failf(waiting, "fewer than %d questions to %s.%s wait", n, s.Service.Text, s.Name.Text)
	}
	return failf(waiting, "%s.%s was not asked, or is answered already", s.Service.Text, s.Name.Text)
}

// answered tells the page beside of an answer that the engine has had.
func (r *runner) answered(err error, s *design.Step, age int) error {
	if err != nil || r.beside == nil {
		return err
	}
	if s.Verb == "reply" {
		return r.beside.Answer(s.Operation, age, 0)
	}
	for i, f := range s.Operation.Fails {
		if s.Text == nil || r.saysIt(f, s.Text.Value) {
			return r.beside.Answer(s.Operation, age, i+1)
		}
	}
	return nil
}

// saysIt says whether a failure has a text that is written out in the design.
func (r *runner) saysIt(f *design.Unit, text string) bool {
	c, ok := f.Expr.(*types.Const)
	return ok && value.Text(c.Value) == text
}

func (r *runner) expect(s *design.Step) error {
	v, err := r.eval(s.Value)
	if err != nil {
		return err
	}
	if v != value.Value(value.Bool(true)) {
		return failf(r.sides(s), "what is expected is not so")
	}
	return nil
}

// sides shows both sides of an expected comparison.
func (r *runner) sides(s *design.Step) string {
	x, y, ok := design.Sides(s.Value)
	if !ok {
		return ""
	}
	a, err1 := r.eval(x)
	b, err2 := r.eval(y)
	if err1 != nil || err2 != nil {
		return ""
	}
	return "the left side is " + value.Brief(a, 60) + ", the right side " + value.Brief(b, 60)
}

func (r *runner) reports(s *design.Step) error {
	var seen []string
	for _, rep := range r.since {
		if rep.Event == s.Event.Label && (!s.Call || r.sameArgs(s, rep.Args)) {
			return nil
		}
		args := make([]string, len(rep.Args))
		for i, a := range rep.Args {
			args[i] = value.Brief(a, 40)
		}
		seen = append(seen, rep.Event+"("+strings.Join(args, ", ")+")")
	}
	if seen == nil {
		return failf("see what the step before did, below", "%s was not reported: the last step reported nothing", s.Event.Label)
	}
	return failf("the last step reported: "+strings.Join(seen, ", "), "%s was not reported so", s.Event.Label)
}

func (r *runner) sameArgs(s *design.Step, args []value.Value) bool {
	if len(args) != len(s.Args) {
		return false
	}
	for i, u := range s.Args {
		v, err := r.eval(u)
		if err != nil || !value.Equal(v, args[i]) {
			return false
		}
	}
	return true
}

// look takes shows and lacks.
func (r *runner) look(s *design.Step) error {
	want := s.Verb == "shows"
	if s.Text != nil {
		if strings.Contains(r.visibleText(), collapse(s.Text.Value)) == want {
			return nil
		}
		if want {
			return failf("see the page below", "the page does not show %s", quote(s.Text.Value))
		}
		return failf("see the page below", "the page shows %s", quote(s.Text.Value))
	}
	t := s.Target
	found := r.find(t)
	if t.Count != nil {
		n := int(t.Count.(*syntax.NumberLit).Value)
		if (len(found) == n) == want {
			return nil
		}
		return failf("see the page below", "there are %d of %s", len(found), describe(t))
	}
	switch {
	case want && len(found) == 0:
		return r.nothing(t)
	case !want && len(found) > 0:
		line, _ := Describe(r.now, found[0])
		return failf("see the page below", "the page has %s", line)
	case !want && t.Name != nil:
		return r.namedOtherwise(t, true)
	}
	return nil
}

func (r *runner) visibleText() string {
	if r.scope == nil {
		return aria.Text(r.now.Body)
	}
	var parts []string
	for _, el := range r.scope {
		if !aria.Hidden(el) {
			parts = append(parts, aria.Text(el))
		}
	}
	return strings.Join(parts, " ")
}

// inside takes the steps of a block within one part of the page.
func (r *runner) inside(s *design.Step) (error, source.Span) {
	outer := r.scope
	list := r.find(s.Target)
	switch {
	case len(list) == 0:
		return r.nothing(s.Target), s.Target.Span()
	case len(list) > 1 && s.Target.Component == nil:
		_, err := r.one(s.Target)
		return err, s.Target.Span()
	}
	r.scope = list
	defer func() { r.scope = outer }()
	for _, inner := range s.Steps {
		if err, at := r.step(inner); err != nil {
			return err, at
		}
	}
	return nil, s.Span()
}
