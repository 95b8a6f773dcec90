// Package drive acts on pages and reads them: simulated ones, and real ones in a browser. Whoever
// finds elements by role and name, presses, types and looks does it on a Page, and need not know
// which it is.
package drive

import (
	"strings"

	"lien/core/aria"
	"lien/core/page"
)

// Page is a page that can be acted on and read. Elements are those of what Read gives; they stay
// the same as long as they are on the page. An act ends when what it sets off at once is done.
type Page interface {
	// Read is the page as it is now.
	Read() (*page.Page, error)
	// Press presses an element with a mouse; Hold and Release press and let go of its button. Nil is where no element is.
	Press(el *page.Element, m page.Mouse) error
	Hold(el *page.Element, mods page.Mods) error
	Release(el *page.Element, mods page.Mods) error
	Hover(el *page.Element) error
	// Drag takes an element and lets go of it on another one, or with nil where none is.
	Drag(el, to *page.Element) error
	// Type replaces what a field holds, key by key; "" clears it.
	Type(el *page.Element, text string) error
	// Put gives a slider, or a field that is not typed into, a value.
	Put(el *page.Element, text string) error
	// Choose chooses options of a select; of one that takes several no others are chosen.
	Choose(el *page.Element, options ...*page.Element) error
	Paste(el *page.Element, text string) error
	// Key presses a chord on an element, or with nil where the focus is.
	Key(el *page.Element, chord string) error
	// FocusOn gives an element the focus; nil takes it away.
	FocusOn(el *page.Element) error
}

// Find are the elements of a role that people can find, in tree order; those of a name alone, if
// it is not "".
func Find(p *page.Page, role, name string) (list []*page.Element) {
	p.Elements(func(el *page.Element) bool {
		if aria.Is(el, role) && !aria.Hidden(el) && (name == "" || aria.Name(p, el) == strings.Join(strings.Fields(name), " ")) {
			list = append(list, el)
		}
		return true
	})
	return list
}
