package engine

import "lien/core/design"

// Source is a member of an instance that something on the page comes from.
type Source struct {
	Holder *Instance
	Member *design.Member
}

// Sources are the cells that an element shows, in its attributes and classes and in the texts and conditions right in it,
// as it was worked out last: in the order in which they were read, without doubles.
func (e *Engine) Sources(el *Element) []Source {
	s := &sources{members: e.memberNodes(), seen: map[*node]bool{}}
	for i := range el.attrs {
		s.from(&el.attrs[i])
	}
	if el.lent != nil {
		for i := range el.lent.marks {
			s.from(&el.lent.marks[i])
		}
	}
	for _, p := range el.parts {
		switch p := p.(type) {
		case *textPart:
			s.from(&p.text)
		case *whenPart:
			s.from(&p.cond)
		case *eachPart:
			s.from(&p.list)
		}
	}
	return s.list
}

// Showing are the elements that show a cell.
func (e *Engine) Showing(path, cell string) (list []*Element) {
	e.Elements(func(el *Element) bool {
		for _, s := range e.Sources(el) {
			if s.Member.Label == cell && s.Holder.Path() == path {
				list = append(list, el)
				break
			}
		}
		return true
	})
	return list
}

// memberNodes tells whose member a node is.
func (e *Engine) memberNodes() map[*node]Source {
	out := map[*node]Source{}
	for _, i := range e.Instances() {
		for _, h := range append([]*Instance{i}, i.contexts...) {
			for _, m := range h.comp.def.Members {
				if m.HasValue() {
					out[&h.values[m.Slot]] = Source{h, m}
				}
			}
		}
	}
	return out
}

type sources struct {
	members map[*node]Source
	seen    map[*node]bool
	list    []Source
}

// from follows a node to what it comes from.
func (s *sources) from(n *node) {
	if s.seen[n] {
		return
	}
	s.seen[n] = true
	if m, ok := s.members[n]; ok && (m.Member.IsCell() || m.Member.Kind == design.Takes) && n.code == nil {
		s.list = append(s.list, m)
		return
	}
	if n.of != nil {
		s.from(n.of)
	}
	if n.item && n.block != nil {
		if p, ok := n.block.host.(*eachPart); ok {
			s.from(&p.list)
		}
	}
	for _, d := range n.deps {
		s.from(d.to)
	}
}
