package page

// Close watchers: what Escape closes, and how often a page may keep it from that (HTML, close requests and close watchers). Every open
// dialog has one, and every popover that closes by itself. Those that open without a user's doing in between are one group, and
// Escape closes all of that; `cancel` can be prevented only after a user did something, and only as often as there may be groups.

// Watching is what a page remembers of what its user did. It begins with none.
type Watching struct {
	More   int  // how many groups there may be beside the first
	Spent  bool // what the user does next allows no further group
	Active bool // the user did something since cancel was prevented last
}

// activated: the user pressed a button of the mouse, or a key that is neither Escape nor held beside others.
func (p *Page) activated() {
	s := p.state
	s.Watch.Active = true
	if !s.Watch.Spent {
		s.Watch.Spent = true
		if p.Ahead == 0 || s.Watch.More < p.Ahead {
			s.Watch.More++
		}
	}
	p.set(s)
}

// watched says whether a layer has a close watcher.
func (l *Layer) watched() bool {
	if l.Own {
		return l.Modal
	}
	return l.Element.Tag() == "dialog" || l.Element.closesItself()
}

// closesItself says whether the element is a popover that closes when its user goes elsewhere.
func (el *Element) closesItself() bool {
	k := el.popover()
	return k == "auto" || k == "hint"
}

// asks says whether Escape closes what a layer holds.
func (l *Layer) asks() bool {
	switch {
	case l.Own:
		return false // which the host is told of by itself
	case l.Element.Tag() != "dialog":
		return true
	case l.Element.is("closedby", "none"):
		return false
	}
	return l.Modal || l.Element.is("closedby", "any") || l.Element.is("closedby", "closerequest")
}

// groups are how many groups of watchers there are, and the number of the topmost.
func (p *Page) groups() (n, top int) {
	last := 0
	for l := range p.Layers {
		if l.watched() && l.Group != last {
			if n == 0 {
				top = l.Group
			}
			n, last = n+1, l.Group
		}
	}
	return n, top
}

// watch gives a layer that goes on top a place in a group.
func (p *Page) watch(l *Layer) {
	n, top := p.groups()
	l.Group = top
	if n <= p.state.Watch.More {
		l.Group++
	}
}

// asked are the layers that Escape closes, the topmost first.
func (p *Page) asked() (list []*Layer) {
	_, top := p.groups()
	for l := range p.Layers {
		if l.watched() && l.Group == top && l.asks() {
			list = append(list, l)
		}
	}
	return list
}

// Escapes says whether Escape closes anything, and what the host raised and is told of that by itself, or nil.
func (p *Page) Escapes() (own *Element, closes bool) {
	for l := range p.Layers {
		switch {
		case l.Own && l.Modal:
			return l.Element, true
		case l.watched() && (l.Modal || l.Element.closesItself()):
			return nil, true
		}
	}
	n, _ := p.groups()
	return nil, n > 0
}

// escape asks what is on top to close, until one keeps open.
func (p *Page) escape() error {
	switch own, closes := p.Escapes(); {
	case !closes:
		return nil
	case own != nil:
		return p.dismiss(own)
	}
	for _, l := range p.asked() {
		if closed, err := p.request(l); err != nil || !closed {
			return p.counted(err)
		}
	}
	return p.counted(nil)
}

// dismiss tells the host that what it raised is asked to close.
func (p *Page) dismiss(own *Element) error { return p.fire(&Event{Name: "cancel", Target: own}, nil) }

// counted: after each Escape one group less may be.
func (p *Page) counted(err error) error {
	if s := p.state; s.Watch.More > 0 {
		s.Watch.More--
		p.set(s)
	}
	return err
}

// request asks a layer to close.
func (p *Page) request(l *Layer) (closed bool, err error) {
	switch {
	case l.Element.Gone() || !l.Element.Live().Open: // it went with another one
		return true, nil
	case l.Element.Tag() != "dialog":
		return true, p.hide(l.Element, true)
	}
	n, _ := p.groups()
	return p.cancel(l.Element, n <= p.state.Watch.More && p.state.Watch.Active)
}

// cancel closes a dialog, but where a handler of cancel keeps it open and can.
func (p *Page) cancel(el *Element, can bool) (closed bool, err error) {
	ev := &Event{Name: "cancel", Target: el}
	if err := p.fire(ev, nil); err != nil || el.Gone() {
		return err == nil, err
	}
	if !ev.Prevented || !can {
		return true, p.closeDialog(el)
	}
	s := p.state
	s.Watch.Active = false
	p.set(s)
	return false, nil
}

// RequestClose closes a dialog as its method requestClose does.
func (p *Page) RequestClose(el *Element) error { return p.settled(p.requestClose(el)) }

func (p *Page) requestClose(el *Element) error {
	if !el.Live().Open {
		return nil
	}
	_, err := p.cancel(el, true)
	return err
}

// Groups tells the layers above the page that Escape closes together with the one under them, the topmost first.
func (p *Page) Groups() (joined []bool) {
	last := 0
	for l := range p.Layers {
		if !l.watched() {
			continue
		}
		if last != 0 {
			joined = append(joined, l.Group == last)
		}
		last = l.Group
	}
	return joined
}

// topDialog is the dialog that was opened last of those that are open above the page, or nil.
func (p *Page) topDialog() *Layer {
	for l := range p.Layers {
		if l.Own && l.Modal || l.Element.Tag() == "dialog" {
			return l
		}
	}
	return nil
}
