package page

import "slices"

// What a mouse does (Pointer Events; UI Events, 5.3 and 5.4).

// Mouse tells how something is pressed.
type Mouse struct {
	Mods
	Right  bool
	Double bool
}

const mainButton, rightButton = 0, 2

// Press moves the mouse onto an element and presses it. Nil, here and for all that the mouse does, is where no element is.
func (p *Page) Press(el *Element, m Mouse) error {
	el = p.place(el)
	if err := p.Hover(el); err != nil {
		return err
	}
	if m.Right {
		return p.pressRight(el, m.Mods)
	}
	if err := p.pressOnce(el, m.Mods, 1); err != nil || !m.Double {
		return err
	}
	return p.pressOnce(p.under(el), m.Mods, 2)
}

// Hold presses the main button on an element and keeps it down.
func (p *Page) Hold(el *Element, mods Mods) error {
	el = p.place(el)
	if err := p.Hover(el); err != nil {
		return err
	}
	done, err := p.down(el, Event{Mods: mods, Detail: 1})
	held := p.state
	held.Held = done
	p.set(held)
	return err
}

// Release lets go of the main button on an element. If it is not held, it went down where no element is.
func (p *Page) Release(el *Element, mods Mods) error {
	el = p.place(el)
	if err := p.Hover(el); err != nil {
		return err
	}
	s := p.state
	held := s.Held
	if held.On == nil {
		held.On = p.Body
	}
	s.Held = Pressing{}
	p.set(s)
	return p.up(el, Event{Mods: mods, Detail: 1}, held)
}

func (p *Page) pressOnce(el *Element, mods Mods, detail int) error {
	like := Event{Mods: mods, Detail: detail}
	done, err := p.down(el, like)
	if err != nil {
		return err
	}
	return p.up(p.under(el), like, done)
}

// like is an event of a mouse like another one.
func like(ev Event, name string, target *Element) *Event {
	ev.Name, ev.Target = name, target
	return &ev
}

// muted says whether an element hears nothing of a mouse: it is a disabled control, or in one.
func (el *Element) muted() bool {
	for ; el != nil; el = el.Up {
		if el.isDisabledControl() {
			return true
		}
	}
	return false
}

func (el *Element) isDisabledControl() bool {
	switch el.Tag() {
	case "button", "input", "select", "textarea":
		return el.Disabled()
	}
	return false
}

// Pressing is a button that went down, and what handlers made of it.
type Pressing struct {
	On        *Element // nil: none did
	Silent    bool     // pointerdown was prevented: there are no events of the mouse
	Prevented bool     // one of both was: the focus stays, nothing is dragged
	Slid      bool     // a slider was moved to where it was pressed
}

// down presses a button.
func (p *Page) down(el *Element, ev Event) (done Pressing, err error) {
	p.activated()
	if err := p.host.Pressed(el); err != nil {
		return done, err
	}
	el = p.under(el)
	done.On = el
	first, err := p.tell(ev, "pointerdown", el)
	if err != nil {
		return done, err
	}
	done.Silent, done.Prevented = first.Prevented, first.Prevented
	if f := p.state.Focus; f != nil && (f.Gone() || !f.Rendered()) { // the page is laid out before the mouse is told
		if err := p.fixFocus(); err != nil {
			return done, err
		}
	}
	if el.Gone() {
		el = p.under(el)
	}
	if !done.Silent {
		press, err := p.toMouse(ev, "mousedown", el)
		if err != nil {
			return done, err
		}
		done.Prevented = press.Prevented
	}
	for el.Gone() && el.Up != nil {
		el = el.Up
	}
	if !done.Prevented {
		if done.Slid, err = p.slide(el); err != nil {
			return done, err
		}
		err = p.focusBy(el, ev.Detail)
	}
	if s := p.state; s.Focus == nil && !p.Blind {
		if s.Start, s.Before = el, false; el == p.Body { // Tab goes on from where a press fell
			s.Start = nil
		}
		p.set(s)
	}
	return done, p.settled(err)
}

// focusBy moves the focus to where a press fell.
func (p *Page) focusBy(el *Element, detail int) error {
	to := el.Nearest()
	if to == p.Body {
		to = nil
	}
	if to != nil && to == p.state.Focus {
		if detail == 2 && to.InputType() != "number" {
			p.selectWord(to)
		} else {
			p.caretEnd(to)
		}
		return nil
	}
	if err := p.moveFocus(to); err != nil {
		return err
	}
	if to != nil {
		p.caretEnd(to)
	}
	return nil
}

// up lets go of a button where the mouse is.
func (p *Page) up(el *Element, ev Event, done Pressing) error {
	held := done.On
	if _, err := p.tell(ev, "pointerup", el); err != nil {
		return err
	}
	if !done.Silent {
		if _, err := p.toMouse(ev, "mouseup", el); err != nil {
			return err
		}
	}
	if err := p.released(held, el, ev, done); err != nil {
		return err
	}
	if err := p.fixFocus(); err != nil { // the page is laid out before the click
		return err
	}
	closed, err := p.lightDismiss(held, el)
	if err != nil {
		return err
	}
	target := common(held, el)
	if closed || target == nil || target.Gone() || held.Gone() {
		return p.settled(nil)
	}
	if target.muted() {
		_, err := p.toMouse(ev, "click", target)
		return p.settled(err)
	}
	err = p.click(target, ev)
	if err == nil && ev.Detail == 2 {
		_, err = p.tell(ev, "dblclick", target)
	}
	return p.settled(err)
}

// slide moves a slider to where it is pressed: its middle.
func (p *Page) slide(el *Element) (bool, error) {
	if el.InputType() != "range" || el.Disabled() {
		return false, nil
	}
	r, _ := el.Range()
	to := el.written(r.clamp(r.Low + (r.High-r.Low)/2))
	if to == el.sanitized() {
		return false, nil
	}
	return true, p.slides(el, to)
}

// released is what a control makes of the button that goes up on it: a slider reports its change,
// a list takes an option, and with Control adds it or gives it back.
func (p *Page) released(held, el *Element, ev Event, done Pressing) error {
	switch {
	case held.Gone() || done.Prevented:
		return nil
	case done.Slid:
		p.touch(held)
		p.host.Acted(held)
		return p.fire(&Event{Name: "change", Target: held}, nothing)
	case held == el && el.Tag() == "option" && !el.Disabled():
		list := el.Closest("select")
		switch {
		case list == nil || list.Lines() < 2 || list.Disabled():
			return nil
		case ev.Control:
			return p.choose(list, p.ChosenWith(list, el))
		}
		return p.choose(list, []*Element{el})
	}
	return nil
}

func (p *Page) pressRight(el *Element, mods Mods) error {
	ev := Event{Mods: mods, Button: rightButton, Detail: 1}
	done, err := p.down(el, ev)
	if err != nil {
		return err
	}
	el = p.under(el)
	if _, err := p.tell(ev, "contextmenu", el); err != nil {
		return err
	}
	_, err = p.tell(ev, "pointerup", el)
	if err := p.settled(err); err != nil {
		return err
	}
	if !done.Silent {
		if _, err := p.toMouse(ev, "mouseup", el); err != nil {
			return err
		}
	}
	target := common(done.On, el)
	if target == nil || done.On.Gone() {
		return p.settled(nil)
	}
	_, err = p.tell(ev, "auxclick", target)
	return p.settled(err)
}

// toMouse fires mousedown, mouseup or click. A disabled control hears none of them, nor do those
// around it; what stands in it does (HTML, 6.4.1; browsers end its path there).
func (p *Page) toMouse(ev Event, name string, el *Element) (*Event, error) {
	if !p.host.Hears(name) {
		return unheard, nil
	}
	e := like(ev, name, el)
	if el.muted() {
		e.trail = []*Element{}
		for at := el; at != nil && !at.isDisabledControl(); at = at.Up {
			e.trail = append(e.trail, at)
		}
		if len(e.trail) == 0 {
			return unheard, nil
		}
	}
	return e, p.fire(e, nil)
}

// place is what the mouse meets: an element, or for nil what lies where no element is.
func (p *Page) place(el *Element) *Element {
	if el == nil {
		return p.Beside()
	}
	return el
}

// Beside is what the mouse meets where no element is: the body, or the dialog whose backdrop lies over the page.
func (p *Page) Beside() *Element { return p.under(p.Body) }

// under is what the mouse is on where an element is, or was: without layout the nearest element
// around it that is there.
func (p *Page) under(el *Element) *Element {
	modal := p.Modal()
	for ; el != nil; el = el.Up {
		if el.Usable() {
			if el == p.Body && modal != nil {
				return modal // whose backdrop lies over the rest of the page
			}
			return el
		}
	}
	if modal != nil {
		return modal
	}
	return p.Body
}

// common is the nearest element around both.
func common(a, b *Element) *Element {
	for ; a != nil; a = a.Up {
		if a.Contains(b) {
			return a
		}
	}
	return nil
}

// Hover moves the mouse onto an element, and off the one that it was on.
func (p *Page) Hover(el *Element) error {
	el = p.place(el)
	from := p.state.Over
	if el == from || p.Blind && !p.movesHeard() {
		return nil // it is there already, or nobody asks where it is
	}
	s := p.state
	s.Over = el
	p.set(s)
	for _, k := range crossings {
		if err := p.cross(k, from, el); err != nil {
			return err
		}
	}
	return p.settled(steps(
		func() error { return p.crossed("pointermove", el, nil) },
		func() error { return p.crossed("mousemove", el, nil) },
	))
}

func (p *Page) movesHeard() bool {
	return slices.ContainsFunc(Moves, p.host.Hears)
}

// Moves are the events that tell where the mouse goes.
var Moves = []string{"pointerout", "pointerleave", "pointerover", "pointerenter", "pointermove", "mouseout", "mouseleave", "mouseover", "mouseenter", "mousemove"}

// crossing are the events that tell where a pointer, or the mouse, goes.
type crossing struct{ out, leave, over, enter string }

var crossings = [...]crossing{
	{"pointerout", "pointerleave", "pointerover", "pointerenter"},
	{"mouseout", "mouseleave", "mouseover", "mouseenter"},
}

// cross reports that the mouse went from one element to another.
func (p *Page) cross(k crossing, from, to *Element) error {
	if from != nil && !from.Gone() {
		if err := p.crossed(k.out, from, to); err != nil {
			return err
		}
		for el := from; el != nil && p.host.Hears(k.leave) && !el.Contains(to); el = el.Up {
			if err := p.crossed(k.leave, el, to); err != nil {
				return err
			}
		}
	}
	if err := p.crossed(k.over, to, from); err != nil {
		return err
	}
	var into []*Element
	for el := to; el != nil && p.host.Hears(k.enter) && (from == nil || from.Gone() || !el.Contains(from)); el = el.Up {
		into = append(into, el)
	}
	slices.Reverse(into)
	for _, el := range into {
		if err := p.crossed(k.enter, el, from); err != nil {
			return err
		}
	}
	return nil
}

// crossed reports a movement, which disabled controls hear, too.
func (p *Page) crossed(name string, el, related *Element) error {
	if !p.host.Hears(name) {
		return nil
	}
	return p.fire(&Event{Name: name, Target: el, Related: related}, nil)
}
