package design

import (
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// supply declares a context that the component supplies. Its links are
// resolved with the view.
func (r *resolver) supply(c *Component, s *syntax.Supplies) {
	of := r.context(s.Context)
	if of == nil {
		return
	}
	name := &syntax.Word{At: s.Context.At, Text: " " + s.Context.Text} // no name that can be written
	if s.As != nil {
		name = s.As
	}
	for _, o := range c.Supplies {
		if o.Use.Component == of {
			r.errorf("declared-twice", s.Context.Span(), "%s supplies %s twice", c.Name, of.Name).
				See(o.Use.Start, "the other one").Instead("supply the second one from a component below")
			return
		}
	}
	m := &Member{Kind: Supplied, Context: of, typ: types.Instance{Of: of}}
	r.addMember(c, name, s, m)
	use := &Use{At: s.At, Component: of, Syntax: &syntax.Element{At: s.At, Name: s.Context, Body: s.Links, Braces: s.Braces}}
	c.Supplies = append(c.Supplies, &Supply{use, m})
}

// uses declares a context that the component uses: the nearest one above.
func (r *resolver) uses(c *Component, s *syntax.Uses) {
	of := r.context(s.Context)
	if of == nil {
		return
	}
	name := s.Context
	if s.As != nil {
		name = s.As
	}
	m := &Member{Kind: Used, Context: of, typ: types.Instance{Of: of}}
	if s.Optional {
		m.typ = types.Or(m.typ, types.Null)
	}
	r.addMember(c, name, s, m)
}

func (r *resolver) context(name *syntax.Word) *Component {
	if c := r.contexts[name.Text]; c != nil {
		return c
	}
	var names []string
	for _, c := range r.d.Components {
		if c.IsContext {
			names = append(names, c.Name)
		}
	}
	f := r.errorf("not-in-scope", name.Span(), "there is no context %s", name.Text).
		Instead("%s", types.DidYouMean(name.Text, names, "declare it: context "+name.Text+" { ... }; the contexts are: "))
	if len(names) == 0 {
		f.Instead("declare it: context %s { ... }", name.Text)
	}
	if near := finding.Nearest(name.Text, names); near != "" {
		f.Fix = &finding.Fix{Title: "write " + near, Edits: syntax.Rename(r.d.Set.File(name.Start), name.Text, near)}
	}
	return nil
}

// contextHandlers resolves what a user does when the context emits.
func (r *resolver) contextHandlers(c *Component, m *Member, s *syntax.Uses) {
	v := &viewResolver{resolver: r, component: c}
	u := &Use{At: s.At, Component: m.Context, Syntax: &syntax.Element{At: s.At, Name: s.Context, Body: s.Links}}
	for _, it := range s.Links {
		if e, ok := it.(*syntax.Event); ok {
			v.useEvent(u, e, &viewScope{})
			continue
		}
		r.errorf("wrong-direction", it.Span(), "a context is linked where it is supplied").
			Instead("hear what it emits: event -> ...; write values where supplies %s stands", m.Context.Name)
	}
	m.Hears = u.Handlers
}

// supplied resolves the links of the contexts that a component supplies.
func (v *viewResolver) supplied() {
	for _, s := range v.component.Supplies {
		for _, it := range s.Use.Syntax.Body {
			switch it := it.(type) {
			case *syntax.Link:
				v.useLink(s.Use, it, &viewScope{})
			case *syntax.Event:
				v.useEvent(s.Use, it, &viewScope{})
			default:
				v.errorf("content-without-slot", it.Span(), "a context has no content").Instead("write links: name <- value")
			}
		}
		v.allGiven(s.Use, nil)
	}
}

// offer declares a method that the parent may call; what is offered by name
// is marked when all members are known.
func (r *resolver) offer(c *Component, s *syntax.Offers) {
	if s.Body == nil {
		return
	}
	r.addMember(c, s.Name, s, &Member{Kind: Action, Offered: true})
}

func (r *resolver) offers(c *Component) {
	for _, m := range c.Syntax.Members {
		s, ok := m.(*syntax.Offers)
		if !ok || s.Body != nil {
			continue
		}
		for _, name := range append([]*syntax.Word{s.Name}, s.More...) {
			o := c.byName[name.Text]
			if o == nil || !o.HasValue() && o.Kind != Derives && o.Kind != Action {
				r.didYouMean(r.errorf("not-in-scope", name.Span(), "%s has no member %s to offer", c.Name, name.Text),
					name, c.names(Takes, Shares, Holds, ConstMember, Derives, Action), "it has: ")
				continue
			}
			o.Offered = true
		}
	}
}

// gather declares the list of the instances below.
func (r *resolver) gather(c *Component, s *syntax.Gathers) {
	m := &Member{Kind: Gathered}
	var elems []types.Type
	for _, k := range s.Kinds {
		of := r.components[k.Text]
		if of == nil {
			r.noComponent(k.Text, k.Span())
			continue
		}
		m.Kinds = append(m.Kinds, of)
		elems = append(elems, types.Instance{Of: of})
	}
	if s.As == nil {
		r.errorf("not-in-scope", source.Span{Start: s.Start, End: s.Start + 7}, "the list of what is gathered has no name").
			Instead("write gathers %s as items", s.Kinds[0].Text)
		return
	}
	m.typ = &types.List{Elem: types.Or(elems...)}
	r.addMember(c, s.As, s, m)
}
