package design

import (
	"fmt"
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// use resolves the use of a component: its links against what it takes and emits.
func (v *viewResolver) use(at syntax.At, s *syntax.Element, c *Component, vs *viewScope) Node {
	u := &Use{At: at, Component: c, Syntax: s}
	for _, k := range s.Classes {
		u.Classes = append(u.Classes, k.Text)
	}
	for _, it := range s.Body {
		switch it := it.(type) {
		case *syntax.Link:
			v.useLink(u, it, vs)
		case *syntax.Event:
			v.useEvent(u, it, vs)
		case *syntax.Clause:
			v.nodes([]syntax.Item{it}, vs, nil)
		}
	}
	u.Named = v.handle(s, vs)
	v.allGiven(u, v.content(u, s, vs))
	return u
}

// allGiven reports what is taken without a default and not linked, but for what something else is meant as.
func (v *viewResolver) allGiven(u *Use, meant *Member) {
	for _, m := range u.Component.Members {
		if m == meant || m.Kind != Takes || m.Syntax.(*syntax.Cell).Value != nil || u.link(m) != nil {
			continue
		}
		if !u.tried(m) && !v.isLost(m.Label) {
			f := v.errorf("not-given", u.Syntax.Name.Span(), "%s takes %s, which is not given here", u.Component.Name, m.Label)
			f.See(m.At.Start, "it is taken here").Instead("write %s <- ... in its block (%s), or give it a default there", m.Label, m.Type())
		}
	}
}

// tried says whether a use has a link of this name, though perhaps a wrong one.
func (u *Use) tried(m *Member) bool {
	for _, it := range u.Syntax.Body {
		meant := ""
		switch it := it.(type) {
		case *syntax.Link:
			meant = it.Name.Text
		case *syntax.Event:
			meant = it.Name.Text
		case *syntax.Element:
			if meant = it.Name.Text; meant == m.Label {
				return true
			}
			continue
		default:
			continue
		}
		if u.Component.Member(meant) == nil {
			meant = finding.Nearest(meant, u.Component.names(Takes))
		}
		if meant == m.Label {
			return true
		}
	}
	return false
}

func (u *Use) link(m *Member) *Given {
	for _, list := range [][]*Given{u.Links, u.Ties, u.Seeds} {
		if g := given(list, m); g != nil {
			return g
		}
	}
	return nil
}

// takenAs says what a component takes a member as, if it does.
func takenAs(m *Member) string {
	switch {
	case m == nil:
	case m.Kind == Takes:
		return "taken"
	case m.Kind == Shares:
		return "shared"
	}
	return ""
}

func (v *viewResolver) useLink(u *Use, s *syntax.Link, vs *viewScope) {
	name := s.Name.Text
	m := u.Component.Member(name)
	switch {
	case s.Class && v.within != nil:
		v.errorf("not-taken", s.Name.Span(), "what is opened takes no classes").Instead("let %s take what decides about it, and put .%s on its own element", u.Component.Name, name)
	case s.Class:
		if mark := v.mark(u.Marks, s, vs, takenAs(m)); mark != nil {
			u.Marks = append(u.Marks, mark)
		}
	case m == nil || m.Kind == Action || m.Kind == Emits && s.Op == syntax.Assign:
		v.notTaken(u, s, m)
	case m.Kind == Emits:
		f := v.errorf("wrong-direction", s.Span(), "%s is an event of %s: it is reported up", name, u.Component.Name).
			Instead("write %s%s -> ...", name, eventParams(m))
		if mayBeDone(s.Value) {
			f.Mend("turn the link round", source.Span{Start: s.Name.Stop, End: s.Value.Span().Start}, " -> ")
		}
	case m.Kind != Takes && m.Kind != Shares:
		v.notTaken(u, s, m)
	case u.link(m) != nil:
		v.errorf("declared-twice", s.Name.Span(), "%s is linked twice", name).See(u.link(m).Syntax.Start, "the other link").Instead("keep one of them")
	case s.Op == syntax.Tie:
		v.tie(u, m, s, vs)
	case s.Op == syntax.Assign && m.Kind == Takes:
		v.errorf("wrong-direction", s.Span(), "%s is taken, so it has no first value of its own", name).
			Instead("link it: %s <- ...", name).Mend("link it down", v.opSpan(s), " <- ")
	default:
		g := &Given{Member: m, Unit: v.unit(vs, s.Value, m.Type(), name+" of "+u.Component.Name+" takes"), Syntax: s}
		if s.Op == syntax.Assign {
			u.Seeds = append(u.Seeds, g)
			return
		}
		u.Links = append(u.Links, g)
	}
}

// tiedPlace is the place at the other end of a tie, and the reading of it; what is no place is reported, and nil.
func (v *viewResolver) tiedPlace(vs *viewScope, s *syntax.Link) (*Place, Unit) {
	sc := v.scope(vs)
	b := &bodyChecker{resolver: v.resolver, scope: sc, c: v.checker(sc), tying: true}
	before := len(v.d.Findings)
	place := b.place(s.Value)
	if place == nil && len(v.d.Findings) == before && !v.isLost(rootName(s.Value)) {
		v.errorf("wrong-direction", s.Value.Span(), "this is worked out, so nothing can be written to it").
			Instead("tie a cell, a path in one, or a derives with set; or link it one way: %s <- ...", s.Name.Text)
	}
	c := v.checker(sc)
	read := c.Expr(s.Value, nil)
	return place, Unit{read, c.Locals}
}

// tie resolves name <-> place: both sides are one cell, of one type.
func (v *viewResolver) tie(u *Use, m *Member, s *syntax.Link, vs *viewScope) {
	if m.Kind == Takes {
		v.errorf("wrong-direction", s.Span(), "%s only takes %s, so it cannot be tied", u.Component.Name, m.Label).
			See(m.At.Start, "it is taken here").
			Instead("link it down: %s <- ..., or let %s share it: shares %s", m.Label, u.Component.Name, m.Label)
		return
	}
	place, read := v.tiedPlace(vs, s)
	if place == nil {
		return
	}
	if got, want := place.Typ, m.Type(); got != types.Any && want != types.Any && !types.Identical(got, want) {
		v.errorf("wrong-type", s.Value.Span(), "%s shares %s as %s, but this is %s", u.Component.Name, m.Label, types.Article(want), types.Article(got)).
			See(m.At.Start, "it is shared here").Instead("give both the same type: either side may write it")
	}
	u.Ties = append(u.Ties, &Given{m, read, place, s})
}

func (v *viewResolver) opSpan(s *syntax.Link) source.Span {
	return source.Span{Start: s.Name.Stop, End: s.Value.Span().Start}
}

// camel is the name of a member for an attribute: ariaLabel for aria-label.
func camel(name string) string {
	parts := strings.Split(name, "-")
	for i := 1; i < len(parts); i++ {
		if parts[i] != "" {
			parts[i] = upperFirst(parts[i])
		}
	}
	return strings.Join(parts, "")
}

// eventParams are the names of what an event carries, as a handler begins.
func eventParams(m *Member) string {
	m.Type()
	if len(m.Sig) == 0 {
		return ""
	}
	return types.Names(m.Sig)
}

// notTaken reports a link to what the component does not take.
func (v *viewResolver) notTaken(u *Use, s *syntax.Link, m *Member) {
	name := s.Name.Text
	if u.Component.Member(name) == nil && v.isLost(name) {
		return
	}
	f := v.errorf("not-taken", s.Name.Span(), "%s does not take %s", u.Component.Name, name)
	switch near := finding.Nearest(name, u.Component.names(Takes)); {
	case m != nil && m.Kind == Holds:
		f.See(m.At.Start, "%s holds it itself", u.Component.Name).
			Instead("to hand it down, let %s take it: takes %s: %s", u.Component.Name, name, m.Type())
	case near != "":
		f.Instead("did you mean %s?", near).Mend("write "+near, s.Name.Span(), near)
	case html.IsAttribute(name):
		taken := camel(name)
		f.Message = fmt.Sprintf("%s has no element of its own that %s could stand on", u.Component.Name, name)
		if name == "class" {
			f.Message = "a class is given to a component by its name"
			f.Instead("write %s.name { ... } for one that always stands, or .name <- condition in its block", u.Component.Name)
			return
		}
		f.Instead("let it take it and link it to one of its elements: takes %s: string, %s <- %[1]s there, and %[1]s <- ... here", taken, name)
	default:
		f.Instead("let it take it: takes %s: ..., or remove this link", name)
	}
}

func (v *viewResolver) useEvent(u *Use, s *syntax.Event, vs *viewScope) {
	name := s.Name.Text
	m := u.Component.Member(name)
	if m == nil || m.Kind != Emits {
		v.neverReported(u, s)
		return
	}
	for _, h := range u.Handlers {
		if h.Name == name {
			v.errorf("declared-twice", s.Name.Span(), "%s is listened to twice", name).See(h.Syntax.Start, "the other handler").
				Instead("put both into one: %s -> { ...; ... }", name)
		}
	}
	m.Type()
	h := &Handler{Name: name, Event: m, Syntax: s}
	sc := v.scope(withoutFacts(vs))
	sc.heard = &heard{s, m.Sig, false}
	switch do := s.Do.(type) {
	case *syntax.Pass:
		h.Body = v.pass(sc, name, do, m.Sig)
	case *syntax.Forward:
		h.Body = v.forward(sc, name, do, m.Sig)
	default:
		if len(s.Params) > len(m.Sig) {
			v.errorf("payload-differs", s.Params[len(m.Sig)].Span(), "%s carries %s, but %s named", name, carried(m.Sig), finding.Are(len(s.Params))).
				See(m.At.Start, "it is declared here").Instead("write %s%s -> ...", name, eventParams(m))
		}
		h.Body = v.handlerBody(sc, s, m)
	}
	if h.Body != nil {
		u.Handlers = append(u.Handlers, h)
	}
}

// carried says how much an event carries.
func carried(sig []types.Param) string {
	if len(sig) == 0 {
		return "nothing"
	}
	return finding.Count(len(sig), "value")
}

// handlerBody resolves the handler of a component's event.
func (v *viewResolver) handlerBody(sc *scope, s *syntax.Event, m *Member) *Body {
	if v.within != nil {
		return v.within.captured(s.Params, m.Sig, s.Do)
	}
	return v.body(sc, s.Params, m.Sig, s.Do)
}

// withoutFacts keeps the names around a place, but not what tests have shown:
// a component may report when that no longer holds.
func withoutFacts(vs *viewScope) *viewScope {
	if vs == nil {
		return nil
	}
	return &viewScope{up: withoutFacts(vs.up), locals: vs.locals, level: vs.level}
}

// neverReported reports a handler for an event that does not exist. Where an
// element inside the component has it, the remedy is to forward it.
func (v *viewResolver) neverReported(u *Use, s *syntax.Event) {
	name := s.Name.Text
	if u.Component.Member(name) == nil && v.isLost(name) {
		return
	}
	v.later = append(v.later, func(r *resolver) {
		if !r.undeclared[absence{u.Component, name}] { // then it was told where it is emitted
			r.unheardOf(u, s)
		}
	})
}

// unheardOf reports a handler for what a component does not report, and what it is.
func (r *resolver) unheardOf(u *Use, s *syntax.Event) {
	name := s.Name.Text
	f := r.errorf("never-reported", s.Name.Span(), "%s never reports %s", u.Component.Name, name)
	p, isPass := s.Do.(*syntax.Pass)
	m := u.Component.Member(name)
	switch near := finding.Nearest(name, u.Component.names(Emits)); {
	case m != nil && m.Kind == Takes && isFunc(m.Type()):
		f.Message = name + " is a function that " + u.Component.Name + " takes, not an event"
		f.See(m.At.Start, "it is taken here").Instead("write an action, and give it: %s <- action", name)
		if isPass {
			f.Instead("write %s <- %s", name, r.textOf(p.Target))
		}
	case m != nil && m.Kind == Takes:
		f.Message = name + " is taken by " + u.Component.Name + ", not reported"
		f.See(m.At.Start, "it is taken here").Instead("write %s <- ...", name)
		if isPass {
			f.Instead("write %s <- %s", name, r.textOf(p.Target))
		}
	case m != nil && m.Kind == Shares:
		f.Message = name + " is a cell that " + u.Component.Name + " shares, not an event"
		f.See(m.At.Start, "it is shared here").
			Instead("tie it to a cell of your own: %s <-> ...; what is to happen when it changes: follows that cell { ... }", name)
	case near != "":
		f.Instead("did you mean %s?", near).Mend("write "+near, s.Name.Span(), near)
	case html.IsEvent(name):
		f.Instead("forward it: write emits %s() in %s, and %s -> forward on the element inside", name, u.Component.Name, name)
	default:
		f.Instead("declare it in %s: emits %s(...), and emit it there", u.Component.Name, name)
		if list := u.Component.names(Emits); len(list) > 0 {
			f.Write += "; it reports: " + strings.Join(list, ", ")
		}
	}
	if isPass && m != nil && (m.Kind == Takes) {
		f.Mend("turn the link round", source.Span{Start: s.Name.Stop, End: p.Start}, " <- ")
	}
}
