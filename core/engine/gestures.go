package engine

import "lien/core/page"

// Gestures of users on elements of the design. Every event that they make is a turn of its own.

// Turns are the records of the turns since the last call.
func (e *Engine) Turns() []*Record {
	list := e.turns
	e.turns = nil
	return list
}

// flushed ends a gesture: what changed between its turns, such as which fields
// were touched, is shown.
func (e *Engine) flushed(err error) error {
	if err != nil {
		e.page.Forget()
		return e.endless(err)
	}
	if !e.behind() {
		return nil
	}
	return e.raise("the fields of a form changed", nil, func() {})
}

// behind says whether something that changed between turns is not shown, or what follows it has not run.
func (e *Engine) behind() bool { return len(e.queue)+len(e.following) > 0 }

// endless is an error of the page as the failure of a turn, with its place.
func (e *Engine) endless(err error) error {
	if err != page.ErrEndless {
		return err
	}
	f := &Failure{At: e.root.comp.def.Syntax.Name.Span(), Message: err.Error()}
	if n := len(e.turns); n > 0 && e.turns[n-1].Target != nil {
		f.At = e.turns[n-1].Target.Span()
	}
	return f
}

// Press presses an element.
func (e *Engine) Press(el *Element) error { return e.Driven().Press(&el.Element, page.Mouse{}) }

// PressOutside presses the page where nothing is.
func (e *Engine) PressOutside() error { return e.Driven().Press(nil, page.Mouse{}) }

// Type replaces the text of a field, key by key.
func (e *Engine) Type(el *Element, text string) error { return e.Driven().Type(&el.Element, text) }

// Set moves a slider, or picks the value of a field.
func (e *Engine) Set(el *Element, v string) error { return e.Driven().Put(&el.Element, v) }

// ChooseValue takes the option of a select that has a value.
func (e *Engine) ChooseValue(el *Element, v string) error {
	for _, o := range el.Element.Options() {
		if o.OptionValue() == v {
			return e.Driven().Choose(&el.Element, e.page.ChosenWith(&el.Element, o)...)
		}
	}
	return nil
}

// Key presses a chord on an element, or with nil where the focus is. It is written "Control+a".
func (e *Engine) Key(el *Element, chord string) error { return e.Driven().Key(on(el), chord) }

// FocusOn gives an element the focus; nil takes it away.
func (e *Engine) FocusOn(el *Element) error { return e.Driven().FocusOn(on(el)) }

// Click clicks an element as its method click does.
func (e *Engine) Click(el *Element) error { return e.flushed(e.page.Click(&el.Element)) }

// Hover moves the mouse onto an element; nil is where none is.
func (e *Engine) Hover(el *Element) error { return e.Driven().Hover(on(el)) }
