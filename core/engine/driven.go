package engine

import "lien/core/page"

// Driven is the page of an engine as it is acted on and read by those who need not know that it
// is simulated.
type Driven struct{ e *Engine }

// Driven is the engine's page, to be driven.
func (e *Engine) Driven() Driven { return Driven{e} }

// DOM is the page that the engine renders into.
func (e *Engine) DOM() *page.Page { return e.page }

// ElementOf is the element of the design behind one of the page, or nil.
func ElementOf(el *page.Element) *Element { return of(el) }

// Read is the page as it is now.
func (d Driven) Read() (*page.Page, error) { return d.e.page, nil }

// Press presses an element.
func (d Driven) Press(el *page.Element, m page.Mouse) error {
	return d.e.flushed(d.e.page.Press(el, m))
}

// Hold presses the button of the mouse on an element.
func (d Driven) Hold(el *page.Element, mods page.Mods) error {
	return d.e.flushed(d.e.page.Hold(el, mods))
}

// Release lets go of the button of the mouse on an element.
func (d Driven) Release(el *page.Element, mods page.Mods) error {
	return d.e.flushed(d.e.page.Release(el, mods))
}

// Hover moves the mouse onto an element.
func (d Driven) Hover(el *page.Element) error { return d.e.flushed(d.e.page.Hover(el)) }

// Drag takes an element and lets go of it on another one.
func (d Driven) Drag(el, to *page.Element) error { return d.e.flushed(d.e.page.Drag(el, to)) }

// Type replaces what a field holds.
func (d Driven) Type(el *page.Element, text string) error {
	return d.e.flushed(d.e.page.Type(el, text))
}

// Put gives a slider, or a field that is not typed into, a value.
func (d Driven) Put(el *page.Element, text string) error {
	return d.e.flushed(d.e.page.Put(el, text))
}

// Choose chooses options of a select.
func (d Driven) Choose(el *page.Element, options ...*page.Element) error {
	return d.e.flushed(d.e.page.Choose(el, options...))
}

// Paste pastes a text into an element, which gets the focus.
func (d Driven) Paste(el *page.Element, text string) error {
	if err := d.e.page.FocusOn(el); err != nil {
		return d.e.flushed(err)
	}
	return d.e.flushed(d.e.page.Paste(text))
}

// Key presses a chord on an element, or where the focus is. What has the focus in the element
// keeps it; else the nearest around it that can have it gets it.
func (d Driven) Key(el *page.Element, chord string) error {
	if el != nil && !el.Contains(d.e.page.Focus()) {
		if err := d.e.page.FocusOn(el.Nearest()); err != nil {
			return d.e.flushed(err)
		}
	}
	return d.e.flushed(d.e.page.Key(chord))
}

// FocusOn gives an element the focus; nil takes it away.
func (d Driven) FocusOn(el *page.Element) error { return d.e.flushed(d.e.page.FocusOn(el)) }
