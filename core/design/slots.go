package design

import (
	"slices"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/syntax"
	"lien/core/types"
)

// slot resolves the place where a user's content goes, and what it hands out.
func (v *viewResolver) slot(at syntax.At, s *syntax.Slot, vs *viewScope) Node {
	p := &SlotPlace{At: at}
	if s.Name != nil {
		p.Name = s.Name.Text
	}
	for _, it := range s.Links {
		l := it.(*syntax.Link)
		p.Names = append(p.Names, l.Name.Text)
		p.Data = append(p.Data, v.unit(vs, l.Value, nil, ""))
	}
	p.Fallback = v.nodes(s.Body, vs, nil)
	v.component.Slots = append(v.component.Slots, p)
	return p
}

// slotNamed is the slot of a component, or nil; of several of one name the
// first tells what is handed out.
func (c *Component) slotNamed(name string) *SlotPlace {
	for _, p := range c.Slots {
		if p.Name == name {
			return p
		}
	}
	return nil
}

// content resolves what stands in the block of a component's use: fills, and
// all else as the content of the unnamed slot. It gives the taken member that a text without a slot is meant for, or nil.
func (v *viewResolver) content(u *Use, s *syntax.Element, vs *viewScope) (meant *Member) {
	c := u.Component
	var rest []syntax.Item
	if s.Text != nil {
		rest = append(rest, &syntax.TextItem{At: syntax.At{Start: s.Text.Span().Start, Stop: s.Text.Span().End}, Value: s.Text})
	}
	for _, it := range s.Body {
		switch it := it.(type) {
		case *syntax.Link, *syntax.Event, *syntax.Clause:
		case *syntax.Fill:
			v.fill(u, it, vs)
		case *syntax.Element:
			if !v.memberAsContent(u, it) {
				rest = append(rest, it)
			}
		default:
			rest = append(rest, it)
		}
	}
	if len(rest) == 0 {
		return nil
	}
	if !c.hasSlot("") {
		meant = v.noSlot(u, rest[0])
	}
	v.addFill(u, &Fill{Name: "", Level: vs.level, At: rest[0].Span()}, rest, vs)
	return meant
}

// memberAsContent reports content that is meant as a link, or an event, of the component that it is put into.
func (v *viewResolver) memberAsContent(u *Use, s *syntax.Element) bool {
	name := s.Name.Text
	m := u.Component.Member(name)
	if m == nil || html.IsElement(name) && u.Component.hasSlot("") {
		return false
	}
	value := "..."
	switch {
	case s.Text != nil:
		value = v.textOf(s.Text)
	case types.NonNull(m.Type()) == types.Boolean:
		value = "true"
	}
	var f *finding.Finding
	switch m.Kind {
	case Takes:
		f = v.errorf("wrong-direction", s.Name.Span(), "%s takes %s, which is linked by an arrow", u.Component.Name, name).Instead("write %s <- %s", name, value)
		if value != "..." && !s.Braces {
			f.Mend("link it", s.Span(), name+" <- "+value)
		}
	case Shares:
		f = v.errorf("wrong-direction", s.Name.Span(), "%s shares %s, which is tied by an arrow", u.Component.Name, name).Instead("write %s <-> cell", name)
	case Emits:
		f = v.errorf("wrong-direction", s.Name.Span(), "%s is an event of %s: it is reported up", name, u.Component.Name).Instead("write %s -> ...", name)
	default:
		return false
	}
	f.See(m.At.Start, "it is declared here")
	return true
}

// hasSlot looks at the text of a component's view, which may not be resolved yet.
func (c *Component) hasSlot(name string) bool {
	return slices.Contains(c.slotNames(), name)
}

// slotNames are the names of a component's slots, in the order of the text; "" for that without one.
func (c *Component) slotNames() []string {
	var names []string
	eachItem(c.Syntax, func(it syntax.Item) {
		switch s, ok := it.(*syntax.Slot); {
		case !ok:
		case s.Name != nil:
			names = append(names, s.Name.Text)
		default:
			names = append(names, "")
		}
	})
	return names
}

// eachItem visits all items of a component's views, as they are written.
func eachItem(c *syntax.Component, visit func(syntax.Item)) {
	var walk func(items []syntax.Item)
	walk = func(items []syntax.Item) {
		for _, it := range items {
			visit(it)
			switch it := it.(type) {
			case *syntax.Slot:
				walk(it.Body)
			case *syntax.Element:
				walk(it.Body)
			case *syntax.When:
				walk(it.Body)
				walk(it.Else)
			case *syntax.Each:
				walk(it.Body)
			case *syntax.Fill:
				walk(it.Body)
			}
		}
	}
	for _, m := range c.Members {
		if view, ok := m.(*syntax.View); ok {
			walk(view.Body)
		}
	}
}

// noSlot reports content that a component has no place for, and gives the taken text that it is meant as, or nil.
func (v *viewResolver) noSlot(u *Use, it syntax.Item) *Member {
	if v.isLost("slot") {
		return nil // it may be what could not be read
	}
	c := u.Component
	f := v.errorf("content-without-slot", it.Span(), "%s has no slot for content", c.Name).
		Instead("add slot to the view of %s, or link the value: takes text: string", c.Name)
	text, ok := it.(*syntax.TextItem)
	if !ok {
		return nil
	}
	for _, m := range c.Members {
		if m.Kind == Takes && u.link(m) == nil && !u.tried(m) && types.Assignable(types.String, m.Type()) {
			f.Instead("write %s <- %s in its block, or add slot to the view of %s", m.Label, v.textOf(text.Value), c.Name)
			return m
		}
	}
	return nil
}

func (v *viewResolver) fill(u *Use, s *syntax.Fill, vs *viewScope) {
	c, name := u.Component, s.Name.Text
	if !c.hasSlot(name) && !v.isLost(name) {
		named := slices.DeleteFunc(c.slotNames(), func(n string) bool { return n == "" })
		v.errorf("content-without-slot", s.Name.Span(), "%s has no slot %s", c.Name, name).
			Instead("%s", types.DidYouMean(name, named, "its slots are: "))
	}
	f := &Fill{Name: name, Level: vs.level, At: s.Name.Span()}
	inner := &viewScope{up: vs, facts: vs.facts, level: vs.level}
	if s.Call && len(s.Params) > 0 {
		v.view(c) // what is handed out is known by its view
		inner.level++
		f.Level++
		v.received(f, c.slotNamed(name), s, inner)
	}
	v.addFill(u, f, s.Body, inner)
}

// received declares what a fill receives, by name.
func (v *viewResolver) received(f *Fill, p *SlotPlace, s *syntax.Fill, inner *viewScope) {
	for _, a := range s.Params {
		l := &ViewLocal{Label: a.Name.Text, Typ: types.Any, At: a.Name.Span(), Level: inner.level, Slot: -1}
		if p != nil {
			for i, n := range p.Names {
				if n == l.Label {
					l.Slot, l.Typ = i, types.Fresh(p.Data[i].Expr)
				}
			}
			if l.Slot < 0 {
				v.errorf("not-in-scope", l.At, "the slot %s does not hand out %s", s.Name.Text, l.Label).
					Instead("%s", types.DidYouMean(l.Label, p.Names, "it hands out: "))
			}
		}
		l.Slot = max(l.Slot, 0)
		inner.locals = append(inner.locals, l)
		f.Params = append(f.Params, l)
	}
	if p != nil {
		inner.count = len(p.Names)
	}
}

func (v *viewResolver) addFill(u *Use, f *Fill, items []syntax.Item, vs *viewScope) {
	for _, o := range u.Fills {
		if o.Name == f.Name {
			v.errorf("declared-twice", f.At, "the slot %s is filled twice", f.Name).See(o.At.Start, "the other fill").Instead("put both into one")
		}
	}
	f.Body = v.nodes(items, vs, nil)
	f.Locals = vs.count
	u.Fills = append(u.Fills, f)
}
