package page

import "slices"

// Forms (HTML, 4.10).

// Owner is the form of a control: the one that its form names, or the nearest around it.
func (p *Page) Owner(el *Element) *Element {
	switch el.Tag() {
	case "button", "fieldset", "input", "object", "output", "select", "textarea":
	default:
		return nil
	}
	if id, ok := el.Attr("form"); ok {
		if form := p.ByID(id); form != nil && form.Tag() == "form" {
			return form
		}
		return nil
	}
	if el.Up == nil {
		return nil
	}
	return el.Up.Closest("form")
}

// Controls are the controls of a form in tree order.
func (p *Page) Controls(form *Element) (list []*Element) {
	p.Elements(func(el *Element) bool {
		if p.Owner(el) == form {
			list = append(list, el)
		}
		return true
	})
	return list
}

// Submits says whether an element submits the form that it belongs to.
func (p *Page) Submits(el *Element) bool {
	return el.isButton() && el.buttonKind() == "submit" && p.Owner(el) != nil
}

// Resets says whether an element resets the form that it belongs to.
func (p *Page) Resets(el *Element) bool {
	return el.isButton() && el.buttonKind() == "reset" && p.Owner(el) != nil
}

// DefaultButton is what Enter in a field of the form presses, or nil.
func (p *Page) DefaultButton(form *Element) *Element {
	list := p.Controls(form)
	if i := slices.IndexFunc(list, p.Submits); i >= 0 {
		return list[i]
	}
	return nil
}

// submitBy submits a form as a button does, or with nil as Enter does in a form without one:
// where the form is not valid, its user is told instead (HTML, 4.10.22.3).
func (p *Page) submitBy(form, button *Element) error {
	if !form.Has("novalidate") && !(button != nil && button.Has("formnovalidate")) {
		ok, err := p.report(form)
		if err != nil || !ok {
			return err
		}
	}
	return p.submit(form, button)
}

// submit reports the submission of a form. It leads nowhere else, but a dialog is closed.
func (p *Page) submit(form, button *Element) error {
	if form.Gone() {
		return nil
	}
	ev := &Event{Name: "submit", Target: form, Submitter: button}
	if err := p.fire(ev, nil); err != nil || ev.Prevented {
		return err
	}
	method := form.Get("method")
	if button != nil && button.Has("formmethod") {
		method = button.Get("formmethod")
	}
	if method == "dialog" {
		if d := form.Closest("dialog"); d != nil && d.Live().Open {
			return p.holdBack(func() error { return p.closeDialog(d) })
		}
	}
	return nil
}

// RequestSubmit submits a form as its method requestSubmit does.
func (p *Page) RequestSubmit(form *Element) error { return p.settled(p.submitBy(form, nil)) }

// Reset resets a form as its method reset does.
func (p *Page) Reset(form *Element) error { return p.settled(p.reset(form)) }

// reset gives the controls of a form their first values, unless a handler prevents it.
func (p *Page) reset(form *Element) error {
	ev := &Event{Name: "reset", Target: form}
	if err := p.fire(ev, nil); err != nil || ev.Prevented || form.Gone() {
		return err
	}
	return p.host.Reset(form, p.Controls(form))
}

// blocksSubmission says whether two fields of its kind keep Enter from submitting a form without
// a button.
func (el *Element) blocksSubmission() bool {
	switch el.InputType() {
	case "text", "search", "tel", "url", "email", "password", "date", "month", "week", "time", "datetime-local", "number":
		return true
	}
	return false
}

// implicitly submits the form of a field in which Enter was pressed: as if its default button
// were pressed, or if it has none and but one field that takes text (HTML, 4.10.22.2).
func (p *Page) implicitly(el *Element) error {
	form := p.Owner(el)
	if form == nil {
		return nil
	}
	if button := p.DefaultButton(form); button != nil {
		if button.Disabled() {
			return nil
		}
		return p.click(button, Event{})
	}
	if !el.blocksSubmission() {
		return nil
	}
	blocking := 0
	for _, c := range p.Controls(form) {
		if c.blocksSubmission() {
			blocking++
		}
	}
	if blocking > 1 {
		return nil
	}
	return p.submitBy(form, nil)
}
