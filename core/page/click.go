package page

import (
	"net/url"
	"strings"
)

// A click and what follows from it: activation behaviour (DOM, 2.9; HTML, 6.4.1).

// Click clicks an element as its method click does.
func (p *Page) Click(el *Element) error {
	if el.Disabled() && el.Tag() != "option" {
		return nil
	}
	return p.settled(p.click(el, Event{}))
}

// click clicks an element, with what the standards let follow: a check box flips, a label clicks
// its control, a summary opens its details, a button submits its form.
func (p *Page) click(el *Element, ev Event) error {
	if el.Gone() || el.muted() && el.Disabled() {
		return nil
	}
	click := like(ev, "click", el)
	if k := el.InputType(); k == "checkbox" || k == "radio" {
		return p.clickCheckable(el, click, k == "radio")
	}
	if err := p.fire(click, nil); err != nil || click.Prevented {
		return err
	}
	return p.activate(el, ev.Detail)
}

// clickCheckable flips before the event is heard, and back if it is prevented.
func (p *Page) clickCheckable(el *Element, click *Event, radio bool) error {
	before := el.Live()
	next := before
	next.Checked, next.Indeterminate = radio || !before.Checked, false
	next.Dirty = true
	var others []*Element
	err := p.fire(click, func() {
		p.put(el, next)
		if radio {
			others = p.Exclude(el)
		}
	})
	switch {
	case err != nil || el.Gone():
		return err
	case click.Prevented:
		p.put(el, before)
		for _, o := range others {
			props := o.Live()
			props.Checked = true
			p.put(o, props)
		}
		p.acted(append(others, el))
		return nil
	case next.Checked == before.Checked && next.Indeterminate == before.Indeterminate:
		return nil
	}
	if err := p.fire(&Event{Name: "input", Target: el}, func() {
		props := el.Live()
		props.Checked, props.Indeterminate = next.Checked, next.Indeterminate
		p.put(el, props)
		p.host.Took(el, "checked", "indeterminate")
	}); err != nil || el.Gone() {
		return err
	}
	// The three events are one act of the user: only after the last of them is a flip that the
	// program did not take over set back.
	p.touch(el)
	p.acted(append(others, el))
	return p.fire(&Event{Name: "change", Target: el}, nothing)
}

func (p *Page) acted(list []*Element) {
	for _, el := range list {
		if !el.Gone() {
			p.host.Acted(el)
		}
	}
}

// nothing is a change that an event makes only to be dispatched.
func nothing() {}

// activate does what a click on an element, or in one, sets off: the nearest element around it
// that has something to do does it.
func (p *Page) activate(el *Element, detail int) error {
	for at := el; at != nil; at = at.Up {
		switch at.Tag() {
		case "button":
			return p.pressButton(at)
		case "input":
			if at.isButton() {
				return p.pressButton(at)
			}
			return nil
		case "a", "area":
			if at.Has("href") {
				return p.follow(at)
			}
		case "select", "textarea":
			return nil
		case "label":
			return p.clickLabelled(at, el, detail)
		case "summary":
			if at.TakesFocus() {
				return p.toggleDetails(at.Up)
			}
		}
	}
	return nil
}

// Target is the element of the page that a link leads to by its fragment, or nil.
func (p *Page) Target(link *Element) *Element {
	id, ok := strings.CutPrefix(link.Get("href"), "#")
	if s, err := url.PathUnescape(id); err == nil {
		id = s
	}
	if !ok || id == "" {
		return nil
	}
	if el := p.ByID(id); el != nil {
		return el
	}
	return found(p.Body.Within, func(el *Element) bool { return el.Tag() == "a" && el.Get("name") == id })
}

// follow goes to what a link of the page leads to: it gets the focus, or if it cannot have it, Tab
// goes on from there (HTML, 7.4.6.4, scroll to the fragment). Other links lead nowhere here.
func (p *Page) follow(link *Element) error {
	to := p.Target(link)
	switch {
	case to == nil:
		return nil
	case to.Focusable():
		return p.moveFocus(to)
	}
	if err := p.moveFocus(nil); err != nil || p.state.Focus != nil || to.Gone() {
		return err
	}
	s := p.state
	s.Start, s.Before = to, false
	p.set(s)
	return nil
}

// clickLabelled focuses and clicks the control of a label, unless something in the label was
// clicked that has a use of its own.
func (p *Page) clickLabelled(label, clicked *Element, detail int) error {
	c := p.Labelled(label)
	if c == nil || c.Disabled() || c.Contains(clicked) {
		return nil
	}
	for el := clicked; el != label; el = el.Up {
		if el.TakesFocus() {
			return nil
		}
	}
	if detail < 2 && c.Focusable() { // a double press selects a word of the label
		if err := p.moveFocus(c); err != nil {
			return err
		}
	}
	return p.click(c, Event{Detail: 1})
}

// isButton says whether the element is a button: pressed by its user, without a value to give.
func (el *Element) isButton() bool {
	switch el.Tag() {
	case "button":
		return true
	case "input":
		switch el.InputType() {
		case "submit", "reset", "button", "image":
			return true
		}
	}
	return false
}

// pressButton does what a button is for, unless a handler has disabled it (HTML, 4.10.6).
func (p *Page) pressButton(el *Element) error {
	if el.Disabled() {
		return nil
	}
	kind := el.buttonKind()
	form := p.Owner(el)
	switch {
	case form != nil && kind == "submit":
		return p.submitBy(form, el)
	case form != nil && kind == "reset":
		return p.reset(form)
	}
	if done, err := p.command(el); done {
		return err
	}
	return p.popTarget(el)
}

// buttonKind is submit, reset or button.
func (el *Element) buttonKind() string {
	if el.Tag() == "input" {
		if k := el.InputType(); k != "image" {
			return k
		}
		return "submit"
	}
	for _, k := range []string{"button", "reset"} {
		if el.is("type", k) {
			return k
		}
	}
	if !el.Has("type") && (el.Has("command") || el.Has("commandfor")) {
		return "button"
	}
	return "submit"
}

// Labelled is the control of a label: the one that its for names, or the first in it.
func (p *Page) Labelled(label *Element) (found *Element) {
	if id, ok := label.Attr("for"); ok {
		if el := p.ByID(id); el != nil && el.Labelable() {
			return el
		}
		return nil
	}
	label.Within(func(el *Element) bool {
		if el.Labelable() {
			found = el
		}
		return found == nil
	})
	return found
}

// Labelable says whether a label can be the element's (HTML, 4.10.2).
func (el *Element) Labelable() bool {
	switch el.Tag() {
	case "button", "meter", "output", "progress", "select", "textarea":
		return true
	case "input":
		return el.InputType() != "hidden"
	}
	return false
}

// Labels are the labels of a control, in tree order.
func (p *Page) Labels(el *Element) (list []*Element) {
	if !el.Labelable() {
		return nil
	}
	p.Elements(func(o *Element) bool {
		if o.Tag() == "label" && p.Labelled(o) == el {
			list = append(list, o)
		}
		return true
	})
	return list
}
