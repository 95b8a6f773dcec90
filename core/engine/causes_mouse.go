package engine

import (
	"slices"

	"lien/core/html"
	"lien/core/page"
)

// takesMouse says whether a cause presses the main button of the mouse, which it cannot while that is held.
func (v Verb) takesMouse() bool {
	switch v {
	case Press, Outside, Tick, Double, Right, Carry, Hold:
		return true
	}
	return false
}

// presses are the events of a press.
var presses = []string{"click", "mousedown", "mouseup", "pointerdown", "pointerup"}

// buttons are those of them that tell of the mouse itself: what is pressed by a key has none.
var buttons = presses[1:]

// drags are the events of dragging.
var drags = []string{"dragstart", "drag", "dragenter", "dragover", "dragleave", "drop", "dragend", "pointercancel"}

// DragsElse says whether an event is raised, too, by dragging what no cause drags: text that is selected, and files and
// the like from outside the page.
func DragsElse(event string) bool { return event != "pointercancel" && slices.Contains(drags, event) }

// heard says whether any of the events on the element reaches a handler.
func (l *lister) heard(el *Element, names ...string) bool {
	for _, n := range names {
		if l.e.program.hears[n] && (&page.Event{Name: n, Target: &el.Element}).Heard(func(at *page.Element) bool {
			x := of(at)
			return x != nil && x.t.handlers[n] != nil
		}) {
			return true
		}
	}
	return false
}

// pressable says whether pressing the element does anything: a control that
// something hears or that acts by itself, or what hears presses on itself.
func (l *lister) pressable(el *Element) bool {
	switch {
	case el.Listens(presses...):
		return true
	case el.Tag() == "label":
		return l.clicks(el)
	case !isControl(el):
		return false
	}
	return l.works(el, presses...)
}

// works says whether a control acts by itself, or any of the events on it is heard.
func (l *lister) works(el *Element, names ...string) bool {
	return el.Tag() == "summary" || l.acts(el) || l.heard(el, names...)
}

// isControl says whether an element is there to be pressed or filled in.
func isControl(el *Element) bool {
	switch el.Tag() {
	case "a", "area":
		return el.Has("href")
	case "button", "summary", "input", "textarea", "select":
		return true
	}
	return false
}

// clicks says whether a label clicks a control that is told of the mouse when it is pressed itself.
func (l *lister) clicks(label *Element) bool {
	if !l.e.program.sees.button {
		return false
	}
	c := of(l.e.page.Labelled(&label.Element))
	return c != nil && !c.Disabled() && l.heard(c, buttons...) && l.heard(c, "click", "input", "change")
}

// acts says whether the control submits or resets a form.
func (l *lister) acts(el *Element) bool {
	return l.e.page.Submits(&el.Element) || l.e.page.Resets(&el.Element) ||
		l.e.program.sees.focus && l.e.page.Target(&el.Element) != nil
}

// presses lists a press of some kind, by itself and with the keys held that its handlers ask for.
func (l *lister) presses(v Verb, el *Element) {
	l.add(Cause{Verb: v, Element: el})
	if !l.e.program.sees.chords {
		return
	}
	if v == Tick { // which is a press
		v = Press
	}
	for _, keys := range l.chords(el) {
		l.add(Cause{Verb: v, Element: el, Text: keys})
	}
}

// pressedDisabled are presses of a disabled control that it is told of: those of the pointer.
func (l *lister) pressedDisabled(el *Element) {
	if el.HearsDisabled() {
		l.presses(Press, el)
		if l.e.program.sees.button {
			l.presses(Hold, el)
		}
	}
}

// HearsDisabled says whether an element hears presses also where it is disabled.
func (el *Element) HearsDisabled() bool { return el.Listens("pointerdown", "pointerup") }

// chords are the keys that are held beside a press: those that handlers around it ask for, in all ways.
func (l *lister) chords(el *Element) (list []string) {
	asked := map[string]bool{}
	for p := el; p != nil; p = p.around() {
		for _, m := range l.inputs.Modifiers(p.t.def) {
			asked[m] = true
		}
	}
	for _, m := range page.Modifiers {
		if !asked[m] {
			continue
		}
		for _, held := range list {
			list = append(list, held+"+"+m)
		}
		list = append(list, m)
	}
	return list
}

// hold is the main button, held down on what hears that, or the click that may come of it.
func (l *lister) hold(el *Element) {
	if l.e.program.sees.button && l.reaches(el, presses...) {
		l.presses(Hold, el)
	}
}

// release lets go of it: where it went down, or on what hears that. What can be dragged is dragged
// when the mouse moves, which is another gesture.
func (l *lister) release(el *Element) {
	on := l.held.On
	if on != nil && (of(on) == el || !l.dragged() && l.reaches(el, presses...)) {
		l.presses(Release, el)
	}
}

// reaches says whether an event on the element is heard, which is one to press or hears by itself.
func (l *lister) reaches(el *Element, names ...string) bool {
	return el.Listens(names...) || isControl(el) && l.heard(el, names...)
}

// dragged says whether what the button is held on would be dragged.
func (l *lister) dragged() bool {
	return l.held.On != nil && !l.held.On.Gone() && l.held.On.Dragged() != nil
}

// drags are onto what hears that something is dragged onto it, and to where no element is.
func (l *lister) drags(el *Element) {
	if !l.e.program.drags || el.Dragged() != &el.Element {
		return
	}
	l.e.Elements(func(to *Element) bool {
		if to.Listens(drags...) && !l.e.IsHidden(to) {
			l.add(Cause{Verb: Carry, Element: el, Onto: to})
		}
		return true
	})
	l.add(Cause{Verb: Carry, Element: el})
}

// hover moves the mouse onto an element where that makes a difference: onto what hears where the mouse goes, and from there to
// something in it, and to something else in it, where that is heard, too.
func (l *lister) hover(el *Element) {
	if !l.e.program.sees.pointer || l.dragged() {
		return
	}
	to := l.e.near(el)
	if to.deep {
		l.passed[to.near]++
	}
	switch n := l.passed[to.near]; {
	case !to.deep && to.near != el:
		return
	case to.deep && n == 1:
		to.first = true
	case to.deep && (n > 2 || l.spot != spot{to.near, true, true}): // the second is for who is on the first
		return
	}
	if to != l.spot {
		l.add(Cause{Verb: Hover, Element: el})
	}
}

// spot is where the mouse is as far as anybody is told: the nearest element around it that hears where it goes; whether it is on
// something in that, which something hears; and whether that is the first such thing. Places of one spot are told apart by nobody.
type spot struct {
	near        *Element
	deep, first bool
}

// near is the spot of an element, but for whether it is the first.
func (e *Engine) near(el *Element) (s spot) {
	if e.program.sees.hover { // styles hide by it
		return spot{near: el}
	}
	for p := el; p != nil; p = p.around() {
		if s.near == nil && p.Listens(page.Moves...) {
			s.near = p
		}
		if p.Listens(bubblingMoves...) {
			s.deep = s.near != el
			return s
		}
	}
	return s
}

// spotOf is the spot of what the mouse is on.
func (e *Engine) spotOf(over *page.Element) (s spot) {
	if over == nil || over.Gone() || of(over) == nil {
		return spot{}
	}
	if s = e.near(of(over)); !s.deep {
		return s
	}
	e.Elements(func(el *Element) bool {
		if e.near(el) != s || e.IsHidden(el) {
			return true
		}
		s.first = el == of(over)
		return false
	})
	return s
}

// bubblingMoves are those of the events of a mouse that moves that what is around an element hears, too.
var bubblingMoves = slices.DeleteFunc(slices.Clone(page.Moves), func(name string) bool { return !html.Bubbles(name) })

// beside is what the mouse does where no element is, as far as that tells anybody anything.
func (l *lister) beside() {
	sees := l.e.program.sees
	if sees.pointer && l.spot != l.e.spotOf(l.e.page.Beside()) && !l.dragged() {
		l.add(Cause{Verb: Hover})
	}
	if sees.button {
		l.add(Cause{Verb: Hold})
	}
	if l.held.On != nil && !l.dragged() {
		l.add(Cause{Verb: Release})
	}
}

// byMouse says whether pressing the element tells anything of the mouse.
func (l *lister) byMouse(el *Element) bool {
	if l.heard(el, buttons...) {
		return true
	}
	for p := el; l.e.program.sees.pointer && p != nil; p = p.around() {
		if p.Listens(page.Moves...) {
			return true
		}
	}
	return false
}
