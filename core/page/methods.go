package page

// Call calls a method of an element by its name, as a program does; what has no such method does
// nothing. argument is a text that the method takes.
func (p *Page) Call(el *Element, method, argument string) error {
	switch method {
	case "focus":
		return p.FocusOn(el)
	case "blur":
		return p.Blur(el)
	case "click":
		return p.Click(el)
	case "show":
		return p.ShowDialog(el, false)
	case "showModal":
		return p.ShowDialog(el, true)
	case "close":
		return p.CloseDialog(el)
	case "requestClose":
		return p.RequestClose(el)
	case "showPopover":
		return p.ShowPopover(el)
	case "hidePopover":
		return p.HidePopover(el)
	case "togglePopover":
		return p.TogglePopover(el)
	case "reset":
		return p.Reset(el)
	case "requestSubmit":
		return p.RequestSubmit(el)
	case "checkValidity":
		_, err := p.Check(el)
		return err
	case "reportValidity":
		_, err := p.Report(el)
		return err
	case "setCustomValidity":
		p.SetCustom(el, argument)
	case "select":
		p.selectAll(el)
	}
	return nil
}

// SetValue sets what a field holds, as a program does.
func (p *Page) SetValue(el *Element, text string) {
	props := el.Live()
	if props.Value == text && props.Dirty {
		return
	}
	props.Value, props.Dirty, props.Typed = text, true, false
	props.From = int32(len(units(text)))
	props.To = props.From
	p.put(el, props)
}
