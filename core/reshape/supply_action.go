package reshape

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/syntax"
)

// madeAction is an action of the context that does what its owner did with an event.
type madeAction struct {
	name, params, body string
	called             bool
}

// madeOf is an action that does what the owner does with an event of a part, if that is about the cells alone; else "".
func (s *supplying) madeOf(u *links.Use, e *syntax.Event) string {
	of := u.Node.Component.Member(e.Name.Text)
	if u.User != s.owner || of == nil || of.Kind != design.Emits || of.Implied || !s.aboutCells(e) {
		return ""
	}
	body := s.text(e.Do)
	if _, block := e.Do.(*syntax.Block); !block {
		body = "{ " + body + " }"
	}
	params, ok := s.paramsOf(of, e)
	if !ok {
		return ""
	}
	for _, a := range s.made {
		if a.params == params && a.body == body {
			return s.name + "." + a.name
		}
	}
	a := &madeAction{name: s.freeAction(e.Name.Text), params: params, body: body}
	s.made = append(s.made, a)
	return s.name + "." + a.name
}

// aboutCells says whether what is done with an event reads and changes the cells, and nothing else of the owner.
func (s *supplying) aboutCells(e *syntax.Event) bool {
	about, alone := false, true
	walk := &scopes{visit: func(n *syntax.Name, _ bool) {
		m := s.owner.Member(n.Text)
		switch {
		case slices.Contains(s.cells, m) || slices.Contains(s.moves, m):
			about = about || m != nil
		case m != nil || !s.atTop(n.Text):
			alone = false
		}
	}}
	walk.node(e, names{})
	syntax.Walk(e.Do, func(n syntax.Node) bool {
		switch n.(type) {
		case *syntax.Emit, *syntax.Forward, *syntax.Pass, *syntax.TimerStmt, *syntax.Leave, *syntax.Open, *syntax.Ask, *syntax.Send:
			alone = false
		}
		return alone
	})
	return about && alone
}

// atTop says whether a constant or function of the design has a name.
func (s *supplying) atTop(name string) bool {
	return slices.ContainsFunc(s.d.Consts, func(c *design.Const) bool { return c.Label == name }) ||
		slices.ContainsFunc(s.d.Functions, func(f *design.Function) bool { return f.Label == name })
}

// paramsOf are the parameters of an event, as the handler calls them; false where it calls one twice.
func (s *supplying) paramsOf(of *design.Member, e *syntax.Event) (string, bool) {
	var list, seen []string
	for i, p := range of.Syntax.(*syntax.Emits).Params {
		name := p.Name.Text
		if i < len(e.Params) {
			name = e.Params[i].Name.Text
		}
		if slices.Contains(seen, name) {
			return "", false
		}
		seen = append(seen, name)
		list = append(list, name+strings.TrimPrefix(s.text(p), p.Name.Text))
	}
	return strings.Join(list, ", "), true
}

// freeAction is a name that nothing in the context has: that of the event, or with the cell's behind it.
func (s *supplying) freeAction(event string) string {
	taken := map[string]bool{}
	for _, m := range append(slices.Clone(s.cells), s.moves...) {
		taken[m.Label] = true
	}
	for _, m := range s.cells {
		taken["set"+upper(m.Label)] = true
	}
	for _, a := range s.made {
		taken[a.name] = true
	}
	name := event
	for taken[name] {
		name += upper(s.cells[0].Label)
	}
	return name
}
