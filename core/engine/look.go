package engine

import (
	"lien/core/aria"
	"lien/core/page"
	"lien/core/value"
)

// How people find elements: by their roles, names and states.

// Role is the element's role, or "".
func (el *Element) Role() string { return aria.Role(&el.Element) }

// Name is the element's accessible name.
func (e *Engine) Name(el *Element) string { return aria.Name(e.page, &el.Element) }

// States are the element's states that are set, in the order in which steps name them.
func (e *Engine) States(el *Element) []string { return aria.States(e.page, &el.Element) }

// IsHidden says whether people cannot find the element on the page.
func (e *Engine) IsHidden(el *Element) bool { return aria.Hidden(&el.Element) }

// IsDisabled says whether HTML keeps events from the element.
func (el *Element) IsDisabled() bool { return el.Disabled() }

// IsIn says whether el stands in outer.
func (el *Element) IsIn(outer *Element) bool {
	return outer != el && outer.Contains(&el.Element)
}

// Text is what the element shows, with white space collapsed.
func (e *Engine) Text(el *Element) string { return aria.Text(&el.Element) }

// PageText is what the whole page shows.
func (e *Engine) PageText() string { return aria.Text(e.page.Body) }

// FocusFault says what went wrong with the focus since it was asked last: what had it vanished and
// nothing has it now, or Tab leads nowhere; "" for nothing.
func (e *Engine) FocusFault() string {
	f := e.page.Fault()
	switch {
	case f.Lost != nil:
		return "the focus is lost with " + e.called(f.Lost) + ", which had it"
	case f.Stuck != nil:
		return "Tab does not lead on from " + e.called(f.Stuck)
	}
	return ""
}

// called names an element as people find it.
func (e *Engine) called(el *page.Element) string {
	text := aria.Role(el)
	if name := aria.Name(e.page, el); name != "" {
		text += " " + value.Show(value.String(name))
	}
	if text == "" {
		text = el.Tag()
	}
	return text
}

// Parent is the element around this one, or nil.
func (el *Element) Parent() *Element { return el.around() }
