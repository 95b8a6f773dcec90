package engine

import (
	"lien/core/page"
)

// Gestures are what a user does, as the page makes events of it. Every event is a turn of its own.

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
		return err
	}
	if len(e.queue) == 0 {
		return nil
	}
	return e.raise("the fields of a form changed", nil, func() {})
}

// Press presses an element.
func (e *Engine) Press(el *Element) error { return e.PressWith(el, page.Mouse{}) }

// PressWith presses an element with the right button, twice, or with keys held.
func (e *Engine) PressWith(el *Element, m page.Mouse) error {
	return e.flushed(e.page.Press(&el.Element, m))
}

// PressOutside presses the page beside an element, where nothing is.
func (e *Engine) PressOutside(*Element) error {
	return e.flushed(e.page.Press(e.page.Body, page.Mouse{}))
}

// Hold presses the button of the mouse on an element, and Release lets go of it there.
func (e *Engine) Hold(el *Element, m page.Mods) error {
	return e.flushed(e.page.Hold(&el.Element, m))
}

// Release lets go of the button of the mouse on an element.
func (e *Engine) Release(el *Element, m page.Mods) error {
	return e.flushed(e.page.Release(&el.Element, m))
}

// Drag takes an element with the mouse and lets go of it on another one.
func (e *Engine) Drag(el, to *Element) error {
	return e.flushed(e.page.Drag(&el.Element, &to.Element))
}

// Type replaces the text of a field, key by key.
func (e *Engine) Type(el *Element, text string) error {
	return e.flushed(e.page.Type(&el.Element, text))
}

// Paste pastes a text into an element, which gets the focus.
func (e *Engine) Paste(el *Element, text string) error {
	if err := e.page.FocusOn(&el.Element); err != nil {
		return e.flushed(err)
	}
	return e.flushed(e.page.Paste(text))
}

// Set moves a slider, or picks the value of a field.
func (e *Engine) Set(el *Element, v string) error { return e.flushed(e.page.Put(&el.Element, v)) }

// Choose chooses options of a select.
func (e *Engine) Choose(el *Element, options ...*Element) error {
	list := make([]*page.Element, len(options))
	for i, o := range options {
		list[i] = &o.Element
	}
	return e.flushed(e.page.Choose(&el.Element, list...))
}

// ChooseValue chooses the option of a select that has a value.
func (e *Engine) ChooseValue(el *Element, v string) error {
	for _, o := range el.Options() {
		if o.LiveValue() == v {
			return e.Choose(el, o)
		}
	}
	return nil
}

// Key presses a key on an element, or with nil where the focus is. A chord is written "Control+a".
func (e *Engine) Key(el *Element, chord string) error {
	if el != nil {
		if err := e.focusOnOrIn(el); err != nil {
			return e.flushed(err)
		}
	}
	return e.flushed(e.page.Key(chord))
}

// focusOnOrIn gives the focus to an element, or to the nearest around it that can have it.
func (e *Engine) focusOnOrIn(el *Element) error {
	if el.Contains(e.page.Focus()) {
		return nil
	}
	for at := &el.Element; at != nil; at = at.Up {
		if at.Focusable() {
			return e.page.FocusOn(at)
		}
	}
	return e.page.FocusOn(nil)
}

// FocusOn gives an element the focus; nil takes it away.
func (e *Engine) FocusOn(el *Element) error { return e.flushed(e.page.FocusOn(on(el))) }

// Click clicks an element as its method click does.
func (e *Engine) Click(el *Element) error { return e.flushed(e.page.Click(&el.Element)) }

// Hover moves the mouse onto an element.
func (e *Engine) Hover(el *Element) error { return e.flushed(e.page.Hover(&el.Element)) }
