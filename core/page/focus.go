package page

import (
	"cmp"
	"slices"
	"sort"
)

// Focus (HTML, 6.6).

// Focusable says whether the focus can be on the element.
func (el *Element) Focusable() bool {
	return el.TakesFocus() && !el.Disabled() && !el.Gone() && el.Rendered() && !el.Inert()
}

// TakesFocus says whether it is a kind of element that the focus can be on.
func (el *Element) TakesFocus() bool {
	if _, ok := el.tabindex(); ok {
		return true
	}
	switch el.Tag() {
	case "button", "select", "textarea", "iframe":
		return true
	case "input":
		return el.InputType() != "hidden"
	case "a", "area":
		return el.Has("href")
	case "dialog":
		return el.Live().Open
	case "audio", "video":
		return el.Has("controls")
	case "summary":
		return el.Up != nil && el.Up.Tag() == "details" && el.Up.summarised(el)
	}
	return el.EditsItself()
}

// EditsItself says whether the element is one whose content its user edits in place.
func (el *Element) EditsItself() bool {
	if el.Traits&Edits == 0 {
		return false
	}
	v, ok := el.Attr("contenteditable")
	return ok && (v == "" || v == "true" || v == "plaintext-only")
}

// Editable says whether the content of the element is edited in place: the nearest
// contenteditable around it says so (HTML, 6.8.1).
func (el *Element) Editable() bool {
	for ; el != nil; el = el.Up {
		if el.Traits&Edits == 0 {
			continue
		}
		switch v, ok := el.Attr("contenteditable"); {
		case !ok:
		case v == "" || v == "true" || v == "plaintext-only":
			return true
		case v == "false":
			return false
		}
	}
	return false
}

// Nearest is the nearest element from el on outwards that can have the focus, which it gets when el
// is pressed; or nil.
func (el *Element) Nearest() *Element {
	for ; el != nil; el = el.Up {
		if el.Focusable() {
			return el
		}
	}
	return nil
}

// FocusOn gives an element the focus as its method focus does; nil takes it away.
func (p *Page) FocusOn(el *Element) error { return p.settled(p.focusOn(el)) }

func (p *Page) focusOn(el *Element) error {
	if el != nil && !el.Focusable() {
		if el = p.delegate(el); el == nil {
			return nil
		}
	}
	return p.moveFocus(el)
}

// delegate is what gets the focus for an element that cannot have it, as the control of a label
// does; nil: nothing.
func (p *Page) delegate(el *Element) *Element {
	if el.Tag() != "label" {
		return nil
	}
	if c := p.Labelled(el); c != nil && c.Focusable() {
		return c
	}
	return nil
}

// Blur takes the focus from an element, if it has it.
func (p *Page) Blur(el *Element) error {
	if p.state.Focus != el || el == nil {
		return nil
	}
	return p.settled(p.moveFocus(nil))
}

// moveFocus takes the focus from one element to another: the change of a field that was edited,
// blur and focusout, focus and focusin. A handler that moves the focus has the last word.
func (p *Page) moveFocus(to *Element) error {
	from := p.state.Focus
	if from == to {
		return nil
	}
	if p.Blind { // and nobody hears of it
		if to == nil || to.Focusable() {
			p.setFocus(to)
		}
		return nil
	}
	if from != nil {
		if err := p.loseFocus(from, to); err != nil || p.state.Focus != nil {
			return err
		}
	}
	if to == nil || !to.Focusable() {
		return nil
	}
	p.setFocus(to)
	p.visit(to)
	if _, err := p.tell(Event{Related: from}, "focus", to); err != nil {
		return err
	}
	if to.showsText() { // whose caret is laid out
		if err := p.fixFocus(); err != nil {
			return err
		}
	}
	if p.state.Focus != to {
		return nil
	}
	return p.unheld(func() error {
		_, err := p.tell(Event{Related: from}, "focusin", to)
		return err
	})
}

// unheld tells of the focus at once, or after what is on its way where that holds it back.
func (p *Page) unheld(tell func() error) error {
	if p.held == nil {
		return tell()
	}
	*p.held = append(*p.held, tell)
	return nil
}

// holdBack does something and tells only then with focusin and focusout how the focus moved, as
// browsers do where a form closes its dialog.
func (p *Page) holdBack(do func() error) error {
	var held []func() error
	p.held = &held
	err := do()
	p.held = nil
	if err != nil {
		return err
	}
	return steps(held...)
}

func (p *Page) loseFocus(from, to *Element) error {
	s := p.state
	s.Focus, s.Start, s.Before, s.Key = nil, from, false, nil
	p.set(s)
	p.touch(from)
	gone := from.Gone()
	if err := p.commit(from); err != nil {
		return err
	}
	left := func(name string) func() error {
		return func() error {
			if !gone && from.Gone() { // a handler removed it
				return nil
			}
			_, err := p.tell(Event{Related: to, late: true}, name, from)
			return err
		}
	}
	if err := left("blur")(); err != nil {
		return err
	}
	return p.unheld(left("focusout"))
}

// touch notes that a field was changed by its user, or left.
func (p *Page) touch(el *Element) {
	if !el.Gone() {
		p.host.Touched(el)
	}
}

// fixFocus takes the focus from what can no longer have it: it was hidden, disabled, made inert
// or removed (HTML, 6.6.4, the focus fixup). Browsers report that it left.
func (p *Page) fixFocus() error {
	el := p.state.Focus
	if p.Blind || el == nil || el.Focusable() {
		return nil
	}
	return p.dropFocus(el)
}

func (p *Page) dropFocus(el *Element) error {
	p.fault.Lost = el
	if err := p.loseFocus(el, nil); err != nil || p.state.Focus != nil || !el.Gone() {
		return err
	}
	// What is gone cannot be where Tab goes on: that is right before what comes next.
	s := p.state
	s.Start, s.Before = p.following(el), true
	p.set(s)
	return nil
}

// Removing is told by a host that removes elements at once, while an event is on its way, that
// el will be gone.
func (p *Page) Removing(el *Element) error {
	if f := p.state.Focus; f != nil && el.Contains(f) {
		return p.dropFocus(f)
	}
	return nil
}

// following is the first element on the page after the place of one that is gone.
func (p *Page) following(gone *Element) (next *Element) {
	p.Elements(func(el *Element) bool {
		if p.host.Compare(gone, el) < 0 {
			next = el
		}
		return next == nil
	})
	return next
}

// Tab moves the focus as the Tab key does: to the next element in the page's order, or back.
func (p *Page) tab(back bool) error {
	to := p.NextStop(back)
	if to == nil && back && p.state.Focus == nil && p.state.Start == nil {
		to = p.lastStop()
	}
	if to == nil {
		err := p.moveFocus(nil)
		s := p.state
		s.Start, s.Before = nil, false
		p.set(s)
		return err
	}
	if err := p.moveFocus(to); err != nil || p.state.Focus != to {
		return err
	}
	if to.Tag() == "input" {
		p.selectAll(to)
	}
	return nil
}

// stops are the elements that Tab stops at, in its order: those with a positive tabindex first,
// of a group of radio buttons one.
func (p *Page) stops(keep func(*Element) bool) []*Element {
	var list []*Element
	p.Elements(func(el *Element) bool {
		if n, ok := el.tabindex(); (ok && n >= 0 || !ok && el.Tag() != "dialog") && el.TakesFocus() && el.Focusable() && (p.isStop(el) || keep(el)) {
			list = append(list, el)
		}
		return true
	})
	sort.SliceStable(list, func(i, j int) bool { return list[i].turn() < list[j].turn() })
	for l := range p.Layers {
		list = afterInvoker(list, l)
	}
	return list
}

// afterInvoker moves the stops in a popover behind the button that showed it, as browsers do.
func afterInvoker(list []*Element, l *Layer) []*Element {
	if l.Invoker == nil || !slices.Contains(list, l.Invoker) || l.Element.Contains(l.Invoker) {
		return list
	}
	var within, others []*Element
	for _, el := range list {
		if l.Element.Contains(el) {
			within = append(within, el)
		} else {
			others = append(others, el)
		}
	}
	return slices.Insert(others, slices.Index(others, l.Invoker)+1, within...)
}

// inTreeOrder is the turn of what has no positive tabindex: after all others.
const inTreeOrder = 1 << 30

// turn is the number by which Tab visits an element.
func (el *Element) turn() int {
	if n, ok := el.tabindex(); ok && n > 0 {
		return n
	}
	return inTreeOrder
}

// offTurn says whether Tab goes on from a place as the page stands.
func (p *Page) offTurn(from *Element) bool {
	n, ok := from.tabindex()
	return ok && n < 0 || !ok && !from.Gone() && !from.Focusable()
}

// NextStop is where Tab moves the focus, or Shift+Tab; nil: off the page.
func (p *Page) NextStop(back bool) *Element {
	from := p.state.Focus
	if p.state.Start != nil {
		from = nil
	}
	list := p.stops(func(el *Element) bool { return el == from })
	if from != nil {
		if i := slices.Index(list, from); i >= 0 {
			list = slices.DeleteFunc(list, func(el *Element) bool { return el != from && p.sameGroup(el, from) })
			i = slices.Index(list, from)
			if back {
				return at(list, i-1)
			}
			return at(list, i+1)
		}
	} else if from = p.state.Start; from == nil {
		if back {
			return nil
		}
		return at(list, 0)
	}
	return p.nearest(list, from, back)
}

// nearest is the stop after or before a place that is none itself, in the order of Tab.
func (p *Page) nearest(list []*Element, from *Element, back bool) *Element {
	turn := from.turn()
	if p.offTurn(from) {
		if !back {
			return p.ahead(list, from)
		}
		p.asItStands(list)
		turn = -1
	}
	return first(list, back, func(el *Element) bool {
		c := p.host.Compare(el, from)
		if turn >= 0 && el.turn() != turn {
			c = el.turn() - turn
		}
		if back {
			return c < 0
		}
		return c > 0 || c == 0 && p.state.Before
	})
}

// ahead is the next stop after a place that Tab never comes to by itself: as the page stands, and
// from its end on from its beginning. Browsers take options for stops here, of lists that are none,
// too, and then come to nothing.
func (p *Page) ahead(list []*Element, from *Element) *Element {
	begin := at(list, 0)
	p.Elements(func(el *Element) bool {
		if el.Tag() == "option" {
			list = append(list, el)
		}
		return true
	})
	p.asItStands(list)
	to := first(list, false, func(el *Element) bool {
		c := p.host.Compare(el, from)
		return c > 0 || c == 0 && p.state.Before
	})
	if to == nil {
		to = cmp.Or(first(list, false, func(el *Element) bool { return el.turn() == inTreeOrder }), begin)
	}
	if to != nil && to.Tag() == "option" {
		return nil
	}
	return to
}

// asItStands puts elements in tree order.
func (p *Page) asItStands(list []*Element) {
	sort.SliceStable(list, func(i, j int) bool { return p.host.Compare(list[i], list[j]) < 0 })
}

// first is the first element of a list that fulfils is, or the last; or nil.
func first(list []*Element, last bool, is func(*Element) bool) (found *Element) {
	for _, el := range list {
		if is(el) {
			found = el
			if !last {
				break
			}
		}
	}
	return found
}

func (p *Page) lastStop() *Element {
	list := p.stops(func(*Element) bool { return false })
	return at(list, len(list)-1)
}

func at(list []*Element, i int) *Element {
	if i < 0 || i >= len(list) {
		return nil
	}
	return list[i]
}
