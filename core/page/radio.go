package page

import "slices"

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
// only at the checked one; where none is, at the one that had the focus last, or if none had it at
// the first that it comes to from outside, as browsers do.
func (p *Page) isStop(el *Element) bool {
	if el.InputType() != "radio" || el.Live().Checked {
		return true
	}
	group := p.Group(el)
	some := func(is func(Props) bool) bool {
		return slices.ContainsFunc(group, func(o *Element) bool { return o.Focusable() && is(o.Live()) })
	}
	if some(func(s Props) bool { return s.Checked }) {
		return false
	}
	return el.Live().Visited || !some(func(s Props) bool { return s.Visited })
}

// visit notes which radio button of its group had the focus last.
func (p *Page) visit(el *Element) {
	if el.InputType() != "radio" {
		return
	}
	for _, o := range p.Group(el) {
		if s := o.Live(); s.Visited != (o == el) {
			s.Visited = o == el
			p.put(o, s)
		}
	}
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

// alongside are the radio buttons that the arrows move through: those of its group, or of those
// without a name all of the form.
func (p *Page) alongside(el *Element) (list []*Element) {
	if el.Get("name") != "" {
		return p.Group(el)
	}
	p.Elements(func(o *Element) bool {
		if o.InputType() == "radio" && o.Get("name") == "" && p.Owner(o) == p.Owner(el) {
			list = append(list, o)
		}
		return true
	})
	return list
}

// arrow moves to the next radio button of the group, or the one before, and checks it.
func (p *Page) arrow(el *Element, back bool) error {
	var list []*Element
	here := 0
	for _, o := range p.alongside(el) {
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
