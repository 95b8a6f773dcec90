package engine

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/page"
)

// The engine renders into a page, and hears its events: each is a turn of its own.

// rendering is an element as the page sees it.
type rendering Element

func (s *rendering) el() *Element { return (*Element)(s) }

func (s *rendering) Tag() string { return s.t.def.Tag }
func (s *rendering) Attr(name string) (string, bool) {
	if name == "class" {
		list := s.el().Classes()
		return strings.Join(list, " "), len(list) > 0
	}
	if name == "value" && s.valueIsLive() {
		return "", false
	}
	return s.el().Attr(name)
}

// valueIsLive says whether a link of value sets the property of a field, and no attribute: from
// that steps would be counted, and a reset would come back to it.
func (s *rendering) valueIsLive() bool {
	switch s.t.def.Tag {
	case "textarea", "select":
		return true
	case "input":
		switch s.el().InputType() {
		case "checkbox", "radio", "submit", "reset", "button", "image", "hidden":
			return false
		}
		return true
	}
	return false
}
func (s *rendering) Gone() bool { return s.block.gone }

// Watch notes that the properties are read, which are what is linked to them.
func (s *rendering) Watch() {
	if t := s.block.e.tracker; t != nil {
		for i, a := range s.t.attrs {
			if a.prop {
				t.read(&s.attrs[i])
			}
		}
	}
}

// WrittenBy: the user of a component that gives it classes writes its root element, too.
func (s *rendering) WrittenBy(component string) bool {
	if s.block.inst.comp.def.Name == component {
		return true
	}
	for u := range s.el().lenders() {
		if u.inst.comp.def.Name == component {
			return true
		}
	}
	return false
}

// GivenTo goes out from the element until something is around it.
func (s *rendering) GivenTo(component string) bool {
	b, up := s.block, s.el().around()
	for b.host != nil && (up == nil || up.block != b) {
		host := b.host
		if _, ok := host.(*opening); ok {
			return false
		}
		b, _ = host.place()
		if slot, ok := host.(*slotPart); ok && slot.block.inst.comp.def.Name == component && slot.filled() {
			return true
		}
	}
	return false
}

func (s *rendering) Children() []page.Node { return asPage(s.el().Children()) }

// asPage are nodes as the page has them.
func asPage(nodes []Node) []page.Node {
	list := make([]page.Node, len(nodes))
	for i, n := range nodes {
		list[i] = page.Node{Element: on(n.Element), Text: n.Text}
	}
	return list
}

// of is the element of the design behind one of the page; nil for the body and for what lies
// above the page.
func of(el *page.Element) *Element {
	if el == nil {
		return nil
	}
	if s, ok := el.Source.(*rendering); ok {
		return s.el()
	}
	return nil
}

// around is the element around this one, through component boundaries, or nil.
func (el *Element) around() *Element { return of(el.Up) }

// on is the element of the page, or nil.
func on(el *Element) *page.Element {
	if el == nil {
		return nil
	}
	return &el.Element
}

// layer is what an opened component lies in, above the page: a modal one as a modal dialog does.
type layer struct{ o *opening }

func (l layer) Tag() string { return "div" }

// Attr: a press beside what is open asks it to close, as Escape does; and where nothing in it can
// have the focus, it has it itself.
func (l layer) Attr(name string) (string, bool) {
	switch name {
	case "closedby":
		return "any", true
	case "tabindex":
		return "-1", true
	}
	return "", false
}

func (l layer) Gone() bool { return l.o.use.block.gone }
func (l layer) Watch()     {}

// WrittenBy and GivenTo: no component writes what it is opened in.
func (l layer) WrittenBy(string) bool { return false }
func (l layer) GivenTo(string) bool   { return false }

func (l layer) Children() []page.Node {
	var nodes []Node
	collect(l.o.use.inst.body.parts, &nodes)
	return asPage(nodes)
}

// host is the engine as the page's host.
type host Engine

func (h *host) Elements(visit func(*page.Element) bool) {
	(*Engine)(h).Elements(func(el *Element) bool { return visit(&el.Element) })
}

func (h *host) Contents() []page.Node { return asPage((*Engine)(h).Page()) }

func (h *host) Hears(event string) bool {
	return h.program.hears[event] || event == "cancel" || event == "blur" && (*Engine)(h).behind()
}

func (h *host) Replaced(el *page.Element, old page.Props) {
	e := (*Engine)(h)
	e.undo = append(e.undo, undo{kind: undoProps, on: el, props: &old})
	if len(e.forms) > 0 {
		if x := of(el); x != nil {
			e.formChanged(x.form())
		}
	}
}

func (h *host) Moved(old page.State) {
	h.undo = append(h.undo, undo{kind: undoPage, page: &old})
}

// Dispatch makes a turn of an event: first what the user changed and what is tied to it, then all
// handlers on its path. What nobody hears and changes nothing makes none.
func (h *host) Dispatch(ev *page.Event, change func()) error {
	e := (*Engine)(h)
	if l, ok := ev.Target.Source.(layer); ok && ev.Name == "cancel" {
		ev.Prevented = true
		return e.dismiss(l.o)
	}
	if change == nil && !ev.Heard(func(el *page.Element) bool {
		x := of(el)
		return x != nil && !x.block.gone && x.t.handlers[ev.Name] != nil
	}) {
		if ev.Name == "blur" {
			return e.flushed(nil)
		}
		return nil
	}
	return e.eventTurn(ev, change)
}

func (h *host) Took(el *page.Element, names ...string) {
	if x := of(el); x != nil {
		(*Engine)(h).writeTies(x, names...)
	}
}

// Acted: what the user changed, and the design does not take over in this turn or, between turns,
// did not take over, is set back.
func (h *host) Acted(el *page.Element) {
	if x := of(el); x != nil {
		h.touched = append(h.touched, x)
	}
}

func (h *host) Touched(el *page.Element) {
	if x := of(el); x != nil {
		(*Engine)(h).touch(x)
	}
}

func (h *host) Reset(form *page.Element, controls []*page.Element) error {
	return (*Engine)(h).resetFields(of(form), controls)
}

func (h *host) Pressed(el *page.Element) error { return (*Engine)(h).pressOutside(el) }

func (h *host) Compare(a, b *page.Element) int {
	x, y := of(a), of(b)
	switch {
	case x == y:
		return 0
	case x == nil:
		return 1 // what lies above the page comes after it
	case y == nil:
		return -1
	}
	return comparePlaces(place{x.block, x.t.order}, place{y.block, y.t.order})
}

// pressOutside tells those that listen that a press landed elsewhere.
func (e *Engine) pressOutside(target *page.Element) error {
	e.outside = slices.DeleteFunc(e.outside, func(o *Element) bool { return o.block.gone })
	slices.SortStableFunc(e.outside, func(a, b *Element) int {
		return comparePlaces(place{a.block, a.t.order}, place{b.block, b.t.order})
	})
	for _, o := range slices.Clone(e.outside) {
		if o.block.gone || o.Contains(target) {
			continue
		}
		if err := (*host)(e).Dispatch(&page.Event{Name: "outside", Target: &o.Element}, nil); err != nil {
			return err
		}
	}
	return nil
}

// hearsOf are the events that a design has handlers of.
func hearsOf(d *design.Design) map[string]bool {
	hears := map[string]bool{}
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			for _, h := range el.Handlers {
				hears[h.Name] = true
			}
		}
	}}.Design(d)
	return hears
}

// traitsOf are the attributes of an element that decide whether it is there for its user.
func traitsOf(el *design.Element) (t page.Traits) {
	for _, a := range el.Attrs {
		t |= page.TraitOf(a.Name)
	}
	return t
}

// Focus is the element that has the focus, or nil.
func (e *Engine) Focus() *Element { return of(e.page.Focus()) }

// LiveValue is what a field holds now.
func (el *Element) LiveValue() string { return el.block.e.page.Value(&el.Element) }

// Options are the options of a select, in order.
func (el *Element) Options() []*Element {
	options := el.Element.Options()
	list := make([]*Element, len(options))
	for i, o := range options {
		list[i] = of(o)
	}
	return list
}

// form is the form that a control belongs to, or nil.
func (el *Element) form() *Element { return of(el.block.e.page.Owner(&el.Element)) }

// linked says whether a property of the element is linked or tied.
func (el *Element) linked(name string) bool {
	for _, a := range el.t.attrs {
		if a.prop && a.name == name {
			return true
		}
	}
	return false
}

// Listens says whether the element itself hears one of some events.
func (el *Element) Listens(names ...string) bool {
	return slices.ContainsFunc(names, func(n string) bool { return el.t.handlers[n] != nil })
}
