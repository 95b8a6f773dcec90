package page

// Drag takes an element with the mouse and lets go of it on another one, or with nil where none is (HTML, 6.11). What is
// not draggable is pressed on one, and let go on the other.
func (p *Page) Drag(el, to *Element) error {
	to = p.place(to)
	if err := p.Hover(el); err != nil {
		return err
	}
	done, err := p.down(el, Event{Detail: 1})
	if err != nil {
		return err
	}
	if source := p.draggable(el); source != nil && !done.Prevented {
		start := &Event{Name: "dragstart", Target: source}
		if err := p.fire(start, nil); err != nil {
			return p.settled(err)
		}
		if !start.Prevented {
			return p.settled(p.dropOn(source, el, to))
		}
	}
	if err := p.Hover(to); err != nil {
		return err
	}
	return p.up(p.under(to), Event{Detail: 1}, done)
}

// dropOn carries source, which was taken at el, over itself and onto to.
func (p *Page) dropOn(source, el, to *Element) error {
	if err := p.on(source, "pointercancel"); err != nil {
		return err
	}
	if err := p.on(source, "drag"); err != nil {
		return err
	}
	if err := steps(func() error { return p.on(el, "dragenter") }, func() error { return p.on(el, "dragover") }); err != nil {
		return err
	}
	if el != to {
		if err := steps(func() error { return p.on(to, "dragenter") }, func() error { return p.on(el, "dragleave") }); err != nil {
			return err
		}
	}
	over := &Event{Name: "dragover", Target: to}
	if err := p.fire(over, nil); err != nil {
		return err
	}
	last := "dragleave"
	if over.Prevented {
		last = "drop"
	}
	return steps(func() error { return p.on(to, last) }, func() error { return p.on(source, "dragend") })
}

// Dragged is what is dragged when the mouse moves with its button held on the element, or nil.
func (el *Element) Dragged() *Element { return el.page.draggable(el) }

// draggable is the nearest element around el that can be dragged, or nil.
func (p *Page) draggable(el *Element) *Element {
	for ; el != nil; el = el.Up {
		switch v, ok := el.Attr("draggable"); {
		case ok && v == "true":
			return el
		case ok && v == "false":
		case el.Tag() == "img", el.Tag() == "a" && el.Has("href"):
			return el
		}
	}
	return nil
}
