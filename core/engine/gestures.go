package engine

import (
	"slices"
	"strings"
)

// Gestures are what a user does, as the event sequences that the HTML and UI
// Events standards give them. Every event is a turn of its own.

// Turns are the records of the turns since the last call.
func (e *Engine) Turns() []*Record {
	list := e.turns
	e.turns = nil
	return list
}

// Press presses an element: mousedown, focus, mouseup, click.
func (e *Engine) Press(el *Element) error {
	return e.flushed(e.pressOn(el))
}

func (e *Engine) pressOn(el *Element) error {
	return e.sequence(
		func() error { return e.pressOutside(el) },
		func() error { return e.dispatch(&event{name: "mousedown", target: el}, nil) },
		func() error { return e.moveFocus(e.focusFor(el)) },
		func() error { return e.on(el, "mouseup") },
		func() error { return e.click(el) },
	)
}

// flushed ends a gesture: what changed between its turns, such as which fields
// were touched, is shown.
func (e *Engine) flushed(err error) error {
	if err != nil || len(e.queue) == 0 {
		return err
	}
	return e.raise("the fields of a form changed", nil, func() {})
}

// sequence runs steps until one fails.
func (e *Engine) sequence(steps ...func() error) error {
	for _, s := range steps {
		if err := s(); err != nil {
			return err
		}
	}
	return nil
}

// on dispatches an event without a change, unless its target is gone.
func (e *Engine) on(el *Element, name string) error {
	if el == nil || el.block.gone {
		return nil
	}
	return e.dispatch(&event{name: name, target: el}, nil)
}

// PressOutside presses the page beside an element.
func (e *Engine) PressOutside(el *Element) error {
	return e.flushed(e.pressBeside(el))
}

func (e *Engine) pressBeside(el *Element) error {
	if o := el.layer(); o != nil && o == e.modal() {
		return e.dismiss()
	}
	return e.sequence(
		func() error { return e.outsideOf(func(o *Element) bool { return o.contains(el) }) },
		func() error { return e.moveFocus(nil) },
	)
}

// pressOutside tells those that listen that a press landed elsewhere.
func (e *Engine) pressOutside(target *Element) error {
	return e.outsideOf(func(o *Element) bool { return !o.contains(target) })
}

func (e *Engine) outsideOf(landed func(*Element) bool) error {
	e.outside = slices.DeleteFunc(e.outside, func(o *Element) bool { return o.block.gone })
	slices.SortStableFunc(e.outside, func(a, b *Element) int {
		return comparePlaces(place{a.block, a.t.order}, place{b.block, b.t.order})
	})
	for _, o := range slices.Clone(e.outside) {
		if landed(o) {
			if err := e.on(o, "outside"); err != nil {
				return err
			}
		}
	}
	return nil
}

// focusFor is what gets the focus when el is pressed: the nearest element
// around it that can have it.
func (e *Engine) focusFor(el *Element) *Element {
	for ; el != nil; el = el.parent {
		if el.focusable() {
			return el
		}
	}
	return nil
}

// moveFocus takes the focus from one element to another, with the change of a
// field that was edited, blur and focus.
func (e *Engine) moveFocus(to *Element) error {
	from := e.focus
	if from == to {
		return nil
	}
	if err := e.leaveField(from); err != nil {
		return err
	}
	if from != nil && !from.block.gone {
		e.setFocus(nil)
		e.touch(from)
		if err := e.sequence(func() error { return e.on(from, "blur") }, func() error { return e.on(from, "focusout") }); err != nil {
			return err
		}
	}
	if to == nil || to.block.gone || !to.focusable() {
		return nil
	}
	e.setFocus(to)
	return e.sequence(func() error { return e.on(to, "focus") }, func() error { return e.on(to, "focusin") })
}

// leaveField reports the change of a field that was typed into.
func (e *Engine) leaveField(el *Element) error {
	if el == nil || el.block.gone || !el.live().edited || el.Tag() == "select" {
		return nil
	}
	p := el.live()
	p.edited = false
	e.setProps(el, p)
	e.touch(el)
	return e.on(el, "change")
}

// click clicks an element, with what the standard lets follow from it: a
// checkbox flips, a label clicks its control, a summary opens its details.
func (e *Engine) click(el *Element) error {
	if el.block.gone || el.disabled() {
		return nil
	}
	ev := &event{name: "click", target: el}
	before := el.live()
	checkable := el.Tag() == "input" && (el.attr("type") == "checkbox" || el.attr("type") == "radio")
	if checkable {
		return e.clickCheckable(el, ev, before)
	}
	if err := e.dispatch(ev, nil); err != nil || ev.prevented || el.block.gone {
		return err
	}
	return e.activate(el)
}

func (e *Engine) clickCheckable(el *Element, ev *event, before props) error {
	next := before
	radio := el.attr("type") == "radio"
	next.checked, next.indeterminate = radio || !before.checked, false
	var others []*Element
	if radio {
		others = e.radioGroup(el)
	}
	changed := next != before
	err := e.dispatch(ev, func() {
		for _, o := range others {
			if o.live().checked {
				p := o.live()
				p.checked = false
				e.userProps(o, p)
			}
		}
		e.setProps(el, next)
	})
	switch {
	case err != nil || el.block.gone:
		return err
	case ev.prevented:
		e.setProps(el, before)
		el.applyProps(e)
		return nil
	case !changed:
		return nil
	}
	err = e.dispatch(&event{name: "input", target: el}, func() {
		p := el.live()
		p.checked, p.indeterminate = next.checked, next.indeterminate
		e.setProps(el, p)
		e.writeTies(el, "checked", "indeterminate")
	})
	if err != nil || el.block.gone {
		return err
	}
	// The three events are one act of the user: only after the last of them is
	// a flip that the design did not take over set back.
	e.touched = append(e.touched, el)
	e.touch(el)
	if change := (&event{name: "change", target: el}); change.heard() {
		return e.dispatch(change, nil)
	}
	e.resetProps()
	return nil
}

// radioGroup are the other radio buttons of the same name in the same form.
func (e *Engine) radioGroup(el *Element) []*Element {
	name := el.attr("name")
	var list []*Element
	if name == "" {
		return nil
	}
	e.Elements(func(o *Element) bool {
		if o != el && o.Tag() == "input" && o.attr("type") == "radio" && o.attr("name") == name && o.form() == el.form() {
			list = append(list, o)
		}
		return true
	})
	return list
}

func (el *Element) form() *Element {
	for p := el.parent; p != nil; p = p.parent {
		if p.Tag() == "form" {
			return p
		}
	}
	return nil
}

// activate does what a click on an element, or in one, sets off.
func (e *Engine) activate(el *Element) error {
	for p := el; p != nil; p = p.parent {
		if form := p.submits(); form != nil {
			return e.submit(form)
		}
		if form := p.form(); form != nil && p.attr("type") == "reset" {
			return e.reset(form)
		}
		switch p.Tag() {
		case "button", "a", "input", "select", "textarea":
			return nil
		case "label":
			if c := e.labelled(p); c != nil && !c.disabled() && !c.contains(el) {
				if err := e.moveFocus(c); err != nil {
					return err
				}
				return e.click(c)
			}
			return nil
		case "summary":
			return e.toggleDetails(p)
		}
	}
	return nil
}

func (e *Engine) toggleDetails(summary *Element) error {
	d := summary.parent
	if d == nil || d.Tag() != "details" {
		return nil
	}
	return e.dispatch(&event{name: "toggle", target: d}, func() {
		p := d.live()
		p.open = !p.open
		e.userProps(d, p)
		e.writeTies(d, "open")
	})
}

// labelled is the control of a label: the one its for names, or the first in it.
func (e *Engine) labelled(label *Element) *Element {
	id, byID := label.Attr("for")
	var found *Element
	e.Elements(func(o *Element) bool {
		if byID && o.attr("id") == id || !byID && o != label && label.contains(o) && o.labelable() {
			found = o
		}
		return found == nil
	})
	return found
}

func (el *Element) labelable() bool {
	switch el.Tag() {
	case "button", "meter", "output", "progress", "select", "textarea":
		return true
	}
	return el.Tag() == "input" && el.attr("type") != "hidden"
}

// Type replaces the text of a field, character by character.
func (e *Engine) Type(el *Element, text string) error {
	return e.flushed(e.typeInto(el, text))
}

func (e *Engine) typeInto(el *Element, text string) error {
	if err := e.moveFocus(el); err != nil {
		return err
	}
	if text == "" {
		return e.input(el, "")
	}
	for i, r := range text {
		if el.block.gone || el.disabled() {
			return nil
		}
		current := el.live().value
		if i == 0 {
			current = ""
		}
		down := &event{name: "keydown", target: el, key: string(r)}
		if err := e.dispatch(down, nil); err != nil {
			return err
		}
		if !down.prevented {
			if err := e.input(el, current+string(r)); err != nil {
				return err
			}
		}
		if err := e.dispatch(&event{name: "keyup", target: el, key: string(r)}, nil); err != nil {
			return err
		}
	}
	return nil
}

// input puts a text into a field, with its input event.
func (e *Engine) input(el *Element, text string) error {
	if el.block.gone {
		return nil
	}
	return e.dispatch(&event{name: "input", target: el}, func() {
		p := el.live()
		p.value, p.edited = text, true
		e.userProps(el, p)
		e.writeTies(el, "value")
	})
}

// Set moves a slider, or picks an option's value: input, then change.
func (e *Engine) Set(el *Element, v string) error {
	return e.flushed(e.setTo(el, v))
}

func (e *Engine) setTo(el *Element, v string) error {
	if err := e.moveFocus(el); err != nil {
		return err
	}
	if err := e.input(el, v); err != nil {
		return err
	}
	return e.on(el, "change")
}

// Key presses a key on an element, or on what has the focus: keydown, what
// the key does by itself, keyup. A chord is written "Control+a".
func (e *Engine) Key(el *Element, chord string) error {
	return e.flushed(e.keyOn(el, chord))
}

func (e *Engine) keyOn(el *Element, chord string) error {
	if el != nil {
		if err := e.moveFocus(e.focusFor(el)); err != nil {
			return err
		}
	}
	target := e.focus
	if el != nil && target == nil {
		target = el
	}
	if target == nil {
		target = e.firstElement()
	}
	if target == nil {
		return nil
	}
	down := chordEvent("keydown", target, chord)
	if err := e.dispatch(down, nil); err != nil {
		return err
	}
	if !down.prevented && down.key == "Escape" {
		if err := e.dismiss(); err != nil {
			return err
		}
	}
	if !down.prevented && !target.block.gone {
		if err := e.keyDoes(target, down); err != nil {
			return err
		}
	}
	if target.block.gone {
		return nil
	}
	return e.dispatch(chordEvent("keyup", target, chord), nil)
}

func chordEvent(name string, target *Element, chord string) *event {
	ev := &event{name: name, target: target, key: chord}
	for {
		mod, rest, ok := strings.Cut(ev.key, "+")
		if !ok || rest == "" {
			return ev
		}
		switch mod {
		case "Shift":
			ev.shift = true
		case "Control":
			ev.ctrl = true
		case "Alt":
			ev.alt = true
		case "Meta":
			ev.meta = true
		default:
			return ev
		}
		ev.key = rest
	}
}

// keyDoes is what a key does by itself: Enter and Space press, Tab moves on.
func (e *Engine) keyDoes(el *Element, ev *event) error {
	pressable := el.Tag() == "button" || el.Tag() == "summary"
	kind := el.attr("type")
	switch {
	case ev.key == "Tab":
		return e.tab(el, ev.shift)
	case ev.key == "Enter" && (pressable || el.Tag() == "a"), ev.key == " " && pressable:
		return e.click(el)
	case ev.key == " " && el.Tag() == "input" && (kind == "checkbox" || kind == "radio"):
		return e.click(el)
	case ev.key == "Enter" && el.Tag() == "input":
		if err := e.leaveField(el); err != nil || el.block.gone {
			return err
		}
		return e.implicitly(el)
	}
	return nil
}

// tab moves the focus to the next element in the page's order, or the one before.
func (e *Engine) tab(from *Element, back bool) error {
	var stops []*Element
	e.Elements(func(el *Element) bool {
		if el.focusable() && el.attr("tabindex") != "-1" && !e.hidden(el) {
			stops = append(stops, el)
		}
		return true
	})
	i := slices.Index(stops, from)
	if back {
		i -= 2
		if i == -3 {
			i = len(stops) - 2
		}
	}
	if i++; i < 0 || i >= len(stops) {
		return e.moveFocus(nil)
	}
	return e.moveFocus(stops[i])
}

func (e *Engine) firstElement() *Element {
	var first *Element
	e.Elements(func(el *Element) bool {
		first = el
		return false
	})
	return first
}

// FocusOn gives an element the focus; nil takes it away.
func (e *Engine) FocusOn(el *Element) error {
	return e.flushed(e.focusTo(el))
}

func (e *Engine) focusTo(el *Element) error { return e.moveFocus(el) }

// Hover moves the pointer onto an element, and off the one it was on.
func (e *Engine) Hover(el *Element) error {
	from := e.pointer
	if el == from {
		return nil // it is there already
	}
	e.undo = append(e.undo, undo{kind: undoPointer, el: from})
	e.pointer = el
	if from != nil && !from.block.gone {
		if err := e.on(from, "mouseout"); err != nil {
			return err
		}
		for p := from; p != nil && !p.contains(el); p = p.parent {
			if err := e.on(p, "mouseleave"); err != nil {
				return err
			}
		}
	}
	if err := e.on(el, "mouseover"); err != nil {
		return err
	}
	var into []*Element
	for p := el; p != nil && (from == nil || !p.contains(from)); p = p.parent {
		into = append(into, p)
	}
	slices.Reverse(into)
	for _, p := range into {
		if err := e.on(p, "mouseenter"); err != nil {
			return err
		}
	}
	return nil
}
