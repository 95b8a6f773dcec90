package page

import (
	"slices"

	"lien/core/html"
)

// Event is an event on its way (DOM, 2.2; UI Events; Pointer Events).
type Event struct {
	Name      string
	Target    *Element
	Related   *Element // of focus and mouse: where it comes from, or goes to
	Submitter *Element // of submit: what was pressed
	Key       string
	Mods
	Button    int    // of a mouse: 0, or 2 for the right one
	Detail    int    // of a mouse: how many presses in a row
	Data      string // the text that is typed, or pasted
	State     string // of toggle and beforetoggle: open or closed, which it comes to
	Prevented bool
	Stopped   bool
	late      bool       // its target may be gone: who stood around it hears it
	trail     []*Element // whom it reaches, where that is not told by who stands around it
}

// Reaches says whether the event comes as far as the body.
func (ev *Event) Reaches() bool { return ev.trail == nil }

// Mods are the keys that are held beside.
type Mods struct{ Shift, Control, Alt, Meta bool }

// Path are the elements that the event reaches, innermost first. Those that are gone hear nothing.
func (ev *Event) Path() []*Element {
	if ev.trail != nil {
		return ev.trail
	}
	if !html.Bubbles(ev.Name) {
		return []*Element{ev.Target}
	}
	path := make([]*Element, 0, 8)
	for el := ev.Target; el != nil; el = el.Up {
		if !ev.late || !el.Gone() {
			path = append(path, el)
		}
	}
	return path
}

// Heard says whether any element on the path of the event fulfils hears.
func (ev *Event) Heard(hears func(*Element) bool) bool {
	switch {
	case ev.trail != nil:
		return slices.ContainsFunc(ev.trail, hears)
	case !html.Bubbles(ev.Name):
		return hears(ev.Target)
	}
	for el := ev.Target; el != nil; el = el.Up {
		if hears(el) {
			return true
		}
	}
	return false
}
