package page

// Groups of radio buttons (HTML, 4.10.5.1.17).

// Group are the radio buttons of a group, el included, in tree order.
func (p *Page) Group(el *Element) []*Element {
	name := el.Get("name")
	if name == "" {
		return []*Element{el}
	}
	var list []*Element
	p.Elements(func(o *Element) bool {
		if o == el || p.sameGroup(o, el) {
			list = append(list, o)
		}
		return true
	})
	return list
}

func (p *Page) sameGroup(a, b *Element) bool {
	if a.Tag() != "input" || b.Tag() != "input" || a.InputType() != "radio" || b.InputType() != "radio" {
		return false
	}
	name := a.Get("name")
	return name != "" && name == b.Get("name") && p.Owner(a) == p.Owner(b)
}

// isStop says whether Tab stops at an element that it could stop at: of a group of radio buttons
// only the checked one, or the first where none is.
func (p *Page) isStop(el *Element) bool {
	if el.Tag() != "input" || el.InputType() != "radio" || el.Live().Checked {
		return true
	}
	group := p.Group(el)
	if len(group) == 1 {
		return true
	}
	var first *Element
	for _, o := range group {
		if !o.Focusable() {
			continue
		}
		if o.Live().Checked {
			return false
		}
		if first == nil {
			first = o
		}
	}
	return first == el
}

// Exclude takes the check from the other radio buttons of a group, and tells which had it.
func (p *Page) Exclude(el *Element) (list []*Element) {
	for _, o := range p.Group(el) {
		if props := o.Live(); o != el && props.Checked {
			props.Checked = false
			p.put(o, props)
			list = append(list, o)
		}
	}
	return list
}

// arrow moves to the next radio button of the group, or the one before, and checks it.
func (p *Page) arrow(el *Element, back bool) error {
	var list []*Element
	here := 0
	for _, o := range p.Group(el) {
		if o == el {
			here = len(list)
		}
		if o == el || o.Focusable() {
			list = append(list, o)
		}
	}
	if len(list) < 2 {
		return nil
	}
	step := 1
	if back {
		step = len(list) - 1
	}
	to := list[(here+step)%len(list)]
	if err := p.moveFocus(to); err != nil {
		return err
	}
	return p.click(to, Event{})
}
