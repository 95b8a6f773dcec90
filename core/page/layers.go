package page

import "slices"

// Dialogs, popovers and details (HTML, 4.11 and 6.12).

// ToggleDetails opens or closes a details.
func (p *Page) toggleDetails(d *Element) error {
	props := d.Live()
	return p.OpenDetails(d, !props.Open)
}

// Toggled is told that the program opened or closed an element by its attribute: a details reports
// it, and closes another one of its name.
func (p *Page) Toggled(el *Element) {
	if el.Tag() == "details" {
		p.toggledLater(el)
		p.closeNamed(el)
	}
}

// OpenDetails opens or closes a details. What follows is told in a task of its own; another one
// of the same name closes.
func (p *Page) OpenDetails(d *Element, open bool) error {
	props := d.Live()
	if props.Open == open {
		return nil
	}
	props.Open = open
	p.put(d, props)
	p.toggledLater(d)
	p.closeNamed(d)
	return nil
}

// closeNamed closes the other details that have the name of one that is open.
func (p *Page) closeNamed(d *Element) {
	name := d.Get("name")
	if name == "" || !d.Live().Open {
		return
	}
	p.Elements(func(o *Element) bool {
		if o != d && o.Tag() == "details" && o.Get("name") == name && o.Live().Open {
			props := o.Live()
			props.Open = false
			p.put(o, props)
			p.toggledLater(o)
		}
		return true
	})
}

// Begun is told of a details that is open as it comes onto the page, which it reports.
func (p *Page) Begun(el *Element) {
	if el.Tag() == "details" && el.props.Open {
		p.toggledLater(el)
	}
}

// toggledLater reports toggle, after the event that is on its way: once, where it opens and shuts
// before (HTML, 4.11.1, queue a details toggle event task, and its like).
func (p *Page) toggledLater(el *Element) {
	p.tasks = slices.DeleteFunc(p.tasks, func(t task) bool { return t.toggles == el })
	p.tasks = append(p.tasks, task{toggles: el, do: func() error {
		if el.Gone() {
			return nil
		}
		return p.fire(&Event{Name: "toggle", Target: el, State: state(el.Live().Open)}, func() {
			p.host.Took(el, "open")
			p.host.Acted(el)
		})
	}})
}

func state(open bool) string {
	if open {
		return "open"
	}
	return "closed"
}

// Layers visits what lies above the page, the topmost first. Who is removed is above it no more
// (HTML, 4.11.4 and 6.12: the removing steps of dialogs and popovers).
func (p *Page) Layers(yield func(*Layer) bool) {
	for l := p.state.Top; l != nil; l = l.Under {
		if !l.Element.Gone() && !yield(l) {
			return
		}
	}
}

// LayerOf is the layer of an element, which may be gone; or nil.
func (p *Page) LayerOf(el *Element) *Layer {
	for l := p.state.Top; l != nil; l = l.Under {
		if l.Element == el {
			return l
		}
	}
	return nil
}

// without is a stack of layers but for that of an element, and those that are gone.
func (l *Layer) without(el *Element) *Layer {
	switch {
	case l == nil:
		return nil
	case l.Element == el, l.Element.Gone():
		return l.Under.without(el)
	}
	c := *l
	c.Under = l.Under.without(el)
	return &c
}

// Raise puts an element above the page, as the host wants it: what is not in it, nor above it,
// is inert if it is modal.
func (p *Page) Raise(el *Element, modal bool) {
	p.open(el, true)
	p.push(Layer{Element: el, Modal: modal, Own: true})
}

// Enter moves the focus into an element above the page.
func (p *Page) Enter(el *Element) error { return p.settled(p.focusInto(el)) }

// Lower takes an element off what is above the page, and gives its layer, or nil.
func (p *Page) Lower(el *Element) *Layer {
	l := p.LayerOf(el)
	s := p.state
	s.Top = s.Top.without(el)
	p.set(s)
	p.open(el, false)
	return l
}

// GiveBack gives the focus back to what had it before a layer was there.
func (p *Page) GiveBack(l *Layer) error { return p.settled(p.giveBack(l.Element, l)) }

func (p *Page) push(l Layer) {
	s := p.state
	l.Under = s.Top.without(l.Element)
	if l.Element.popover() == "" || len(p.popovers()) == 0 {
		l.Before = s.Focus // a popover in another one gives nothing back
	}
	if l.watched() {
		p.watch(&l)
		s.Watch.Spent = false
	}
	s.Top = &l
	p.set(s)
}

func (p *Page) open(el *Element, open bool) {
	props := el.Live()
	props.Open = open
	p.put(el, props)
}

// ShowDialog opens a dialog as its methods show and showModal do.
func (p *Page) ShowDialog(el *Element, modal bool) error { return p.settled(p.showDialog(el, modal)) }

func (p *Page) showDialog(el *Element, modal bool) error {
	if el.Live().Open || el.Tag() != "dialog" {
		return nil
	}
	ev, err := p.tell(Event{State: "open"}, "beforetoggle", el)
	if err != nil || ev.Prevented || el.Live().Open {
		return err
	}
	p.open(el, true)
	p.push(Layer{Element: el, Modal: modal})
	p.toggledLater(el)
	if err := p.hideAll(el); err != nil {
		return err
	}
	return p.focusInto(el)
}

// focusInto moves the focus into a dialog: to what asks for it, else to the first that can have
// it, else to the dialog itself (HTML, 4.11.4, the dialog focusing steps).
func (p *Page) focusInto(el *Element) error {
	if el.Inert() {
		return nil
	}
	if to := p.first(el); to != nil {
		return p.moveFocus(to)
	}
	return p.moveFocus(el)
}

// first is what gets the focus in a dialog: what asks for it, or the first that can have it.
func (p *Page) first(el *Element) *Element {
	if to := p.asking(el); to != nil {
		return to
	}
	return found(el.Within, (*Element).Focusable)
}

// asking is what asks for the focus by autofocus, an element itself or what stands in it, or nil.
func (p *Page) asking(el *Element) *Element {
	if asksForFocus(el) {
		return el
	}
	return found(el.Within, asksForFocus)
}

func asksForFocus(el *Element) bool { return el.Has("autofocus") && el.Focusable() }

// found is the first of the elements that are visited that fulfils is, or nil.
func found(visit func(func(*Element) bool) bool, is func(*Element) bool) (first *Element) {
	visit(func(el *Element) bool {
		if is(el) {
			first = el
		}
		return first == nil
	})
	return first
}

// CloseDialog closes a dialog as its method close does.
func (p *Page) CloseDialog(el *Element) error { return p.settled(p.closeDialog(el)) }

func (p *Page) closeDialog(el *Element) error {
	if !el.Live().Open || el.Tag() != "dialog" {
		return nil
	}
	if _, err := p.tell(Event{State: "closed"}, "beforetoggle", el); err != nil || !el.Live().Open {
		return err
	}
	l := p.LayerOf(el)
	p.open(el, false)
	p.sooner(func() error {
		if el.Gone() {
			return nil
		}
		return p.fire(&Event{Name: "close", Target: el}, func() {
			p.host.Took(el, "open")
			p.host.Acted(el)
		})
	})
	p.toggledLater(el)
	s := p.state
	s.Top = s.Top.without(el)
	p.set(s)
	return p.giveBack(el, l)
}

// giveBack gives the focus back to what had it before a layer was shown, if it is in the layer.
func (p *Page) giveBack(el *Element, l *Layer) error {
	if l == nil || l.Before == nil || l.Before.Gone() {
		return nil
	}
	f := p.state.Focus
	if !l.Modal && f != nil && !el.Contains(f) {
		return nil
	}
	if f == nil && !l.Modal {
		return nil
	}
	if !l.Before.Focusable() {
		return nil
	}
	return p.moveFocus(l.Before)
}

// popover is auto, hint or manual; "" for none.
func (el *Element) popover() string {
	if el.Traits&Pops == 0 {
		return ""
	}
	v, ok := el.Attr("popover")
	switch {
	case !ok:
		return ""
	case v == "" || el.is("popover", "auto"):
		return "auto"
	case el.is("popover", "hint"):
		return "hint"
	}
	return "manual"
}

// IsPopover says whether the element is a popover: hidden until it is shown.
func (el *Element) IsPopover() bool { return el.popover() != "" }

// ShowPopover, HidePopover and TogglePopover are the methods of those names.
func (p *Page) ShowPopover(el *Element) error { return p.settled(p.show(el, nil)) }

// HidePopover hides a popover.
func (p *Page) HidePopover(el *Element) error { return p.settled(p.hide(el, true)) }

// TogglePopover shows a popover, or hides it.
func (p *Page) TogglePopover(el *Element) error {
	if el.Live().Open {
		return p.HidePopover(el)
	}
	return p.ShowPopover(el)
}

// show shows a popover, for a button or for none: one that is auto hides the others that it does
// not stand in.
func (p *Page) show(el, invoker *Element) error {
	if el.popover() == "" || el.Live().Open || el.Gone() {
		return nil
	}
	ev, err := p.tell(Event{State: "open"}, "beforetoggle", el)
	if err != nil || ev.Prevented || el.Live().Open {
		return err
	}
	if el.popover() == "auto" {
		if err := p.hideUpTo(el); err != nil {
			return err
		}
	}
	p.push(Layer{Element: el, Invoker: invoker})
	p.open(el, true)
	p.toggledLater(el)
	if to := p.asking(el); to != nil {
		return p.moveFocus(to)
	}
	return nil
}

// hideUpTo hides the popovers that close by themselves, down to one around an element.
func (p *Page) hideUpTo(el *Element) error {
	for _, o := range p.popovers() {
		if o.Contains(el) || p.opens(o, el) {
			return nil
		}
		if err := p.hide(o, false); err != nil {
			return err
		}
	}
	return nil
}

// opens says whether a button in o shows el: then el belongs to o.
func (p *Page) opens(o, el *Element) (found bool) {
	o.Within(func(b *Element) bool {
		found = found || b.Tag() == "button" && p.ByID(b.Get("popovertarget")) == el
		return !found
	})
	return found
}

// popovers are those shown that close by themselves, the topmost first.
func (p *Page) popovers() (list []*Element) {
	for l := range p.Layers {
		if l.Element.closesItself() {
			list = append(list, l.Element)
		}
	}
	return list
}

// hideAll hides all popovers that close by themselves, since a dialog opens.
func (p *Page) hideAll(dialog *Element) error {
	for _, o := range p.popovers() {
		if o.Contains(dialog) {
			continue
		}
		if err := p.hide(o, false); err != nil {
			return err
		}
	}
	return nil
}

// hide hides a popover, and gives the focus back if it is in it.
func (p *Page) hide(el *Element, giveBack bool) error {
	if el.popover() == "" || !el.Live().Open {
		return nil
	}
	if el.popover() == "auto" {
		for _, o := range p.popovers() {
			if o == el {
				break
			}
			if err := p.hide(o, giveBack); err != nil {
				return err
			}
		}
	}
	if _, err := p.tell(Event{State: "closed"}, "beforetoggle", el); err != nil || !el.Live().Open {
		return err
	}
	l := p.LayerOf(el)
	s := p.state
	s.Top = s.Top.without(el)
	p.set(s)
	p.open(el, false)
	p.toggledLater(el)
	if f := p.state.Focus; giveBack && l != nil && l.Before != nil && f != nil && el.Contains(f) && l.Before.Focusable() {
		return p.moveFocus(l.Before)
	}
	return nil
}

// lightDismiss hides the popovers that close by themselves when a press begins and ends outside
// of them, and a dialog that says so by closedby, which is told.
func (p *Page) lightDismiss(down, up *Element) (closed bool, err error) {
	for _, o := range p.popovers() {
		if p.belongs(down, o) || p.belongs(up, o) {
			break
		}
		if err := p.hide(o, false); err != nil {
			return false, err
		}
	}
	switch d := p.topDialog(); {
	case d == nil || !d.Element.is("closedby", "any"):
	case d.Own && d.Element == down && d.Element == up:
		return true, p.dismiss(d.Element)
	case d.Modal && d.Element == down && d.Element == up: // on its backdrop
		return true, p.requestClose(d.Element)
	case !d.Modal && !d.Element.Contains(down) && !d.Element.Contains(up):
		return false, p.requestClose(d.Element)
	}
	return false, nil
}

// belongs says whether an element stands in a popover, or in a button that shows it.
func (p *Page) belongs(el, popover *Element) bool {
	if popover.Contains(el) {
		return true
	}
	for ; el != nil; el = el.Up {
		if el.isButton() && p.ByID(el.Get("popovertarget")) == popover {
			return true
		}
	}
	return false
}

// popTarget does what a button with popovertarget is for (HTML, 6.12.1).
func (p *Page) popTarget(button *Element) error {
	el := p.ByID(button.Get("popovertarget"))
	if el == nil {
		return nil
	}
	switch does := button.Get("popovertargetaction"); {
	case el.Live().Open && does != "show":
		return p.hide(el, true)
	case !el.Live().Open && does != "hide":
		return p.show(el, button)
	}
	return nil
}

// command does what a button with commandfor is for (HTML, 4.10.6).
func (p *Page) command(button *Element) (done bool, err error) {
	el := p.ByID(button.Get("commandfor"))
	name := button.Get("command")
	if el == nil || !slices.Contains([]string{"show-modal", "close", "request-close", "show-popover", "hide-popover", "toggle-popover"}, name) {
		return false, nil
	}
	switch name {
	case "show-modal":
		return true, p.showDialog(el, true)
	case "close":
		return true, p.closeDialog(el)
	case "request-close":
		return true, p.requestClose(el)
	case "show-popover":
		return true, p.show(el, button)
	case "hide-popover":
		return true, p.hide(el, true)
	}
	if el.Live().Open {
		return true, p.hide(el, true)
	}
	return true, p.show(el, button)
}

// Autofocus gives the focus to the first element that asks for it as the page begins (HTML, 6.6.7).
func (p *Page) Autofocus() error {
	if p.state.Focus != nil {
		return nil
	}
	to := found(p.Body.Within, asksForFocus)
	if to == nil {
		return nil
	}
	return p.settled(p.moveFocus(to))
}
