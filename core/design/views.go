package design

import (
	"regexp"
	"strings"

	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// view resolves what a component shows.
func (r *resolver) view(c *Component) {
	if c.viewed {
		return
	}
	c.viewed = true
	vr := &viewResolver{resolver: r, component: c}
	vr.supplied()
	for _, m := range c.Syntax.Members {
		if v, ok := m.(*syntax.View); ok {
			c.View = vr.nodes(v.Body, &viewScope{}, nil)
			return
		}
	}
}

// viewResolver resolves the nodes of one view.
type viewResolver struct {
	*resolver
	component *Component
	within    *bodyChecker // the handler whose open this is, or nil

	c     types.Checker // of the unit that is looked at
	names scope
}

func (v *viewResolver) scope(vs *viewScope) *scope {
	return &scope{r: v.resolver, component: v.component, view: vs}
}

// unit types an expression at a place in the view. want may be nil.
func (v *viewResolver) unit(vs *viewScope, e syntax.Expr, want types.Type, what string) Unit {
	if v.within != nil {
		return Unit{v.within.c.Want(e, want, what), v.within.c.Locals}
	}
	v.names = scope{r: v.resolver, component: v.component, view: vs}
	v.c = v.checkerOf(&v.names)
	var x types.Expr
	if want == nil {
		x = v.c.Expr(e, nil)
	} else {
		x = v.c.Want(e, want, what)
	}
	return Unit{x, v.c.Locals}
}

// nodes resolves a block; links in it belong to the element it is the block of.
func (v *viewResolver) nodes(items []syntax.Item, vs *viewScope, owner *Element) []Node {
	var out []Node
	for _, it := range items {
		at := syntax.At{Start: it.Span().Start, Stop: it.Span().End}
		switch it := it.(type) {
		case *syntax.Element:
			if n := v.element(at, it, vs); n != nil {
				out = append(out, n)
			}
		case *syntax.TextItem:
			out = append(out, &Text{at, v.text(vs, it.Value)})
		case *syntax.When:
			out = append(out, v.when(at, it, vs, owner))
		case *syntax.Each:
			out = append(out, v.each(at, it, vs, owner))
		case *syntax.Link, *syntax.Event:
			v.ownLink(it, vs, owner)
		case *syntax.Slot:
			out = append(out, v.slot(at, it, vs))
		case *syntax.Fill:
			v.errorf("content-without-slot", it.Name.Span(), "this fill stands in no component").Instead("write it in the block of the component that has slot %s", it.Name.Text)
		case *syntax.Clause:
			v.errorf("unreadable", it.Span(), "samples stand in a law or a start").Instead("move it there")
		}
	}
	return out
}

func (v *viewResolver) text(vs *viewScope, e syntax.Expr) Unit {
	v.bareBraces(vs, e)
	return v.unit(vs, e, nil, "")
}

// braces are a name, or a path, in braces without the sign that makes it a value.
var braces = regexp.MustCompile(`(?:^|[^$\\])\{([A-Za-z_]\w*)((?:\.\w+)*)\}`)

// bareBraces tells of {name} in a text where that is a value: it lacks its $.
func (v *viewResolver) bareBraces(vs *viewScope, e syntax.Expr) {
	at := e.Span()
	text := v.textOf(e)
	v.bareDollars(vs, at, text)
	if strings.Count(text, "{") == strings.Count(text, "${") { // as nearly always
		return
	}
	for _, m := range braces.FindAllStringSubmatchIndex(text, -1) {
		name := text[m[2]:m[3]]
		if v.scope(vs).Lookup(name) == nil {
			continue
		}
		open := m[2] - 1
		whole := text[open:m[1]]
		f := v.warnf("quoted-template", source.Span{Start: at.Start + source.Pos(open), End: at.Start + source.Pos(m[1])}, "%s is text here: a value in a text begins with $", whole).
			Instead("write $%s, between backquotes", whole)
		if strings.HasPrefix(text, "`") {
			here := at.Start + source.Pos(open)
			f.Mend("write $", source.Span{Start: here, End: here}, "$")
		}
	}
}

// dollars are names behind $ without braces.
var dollars = regexp.MustCompile(`(?:^|[^\\$\w])\$([A-Za-z_]\w*)`)

// bareDollars tells of $name in a text where that is a value: it lacks its braces.
func (v *viewResolver) bareDollars(vs *viewScope, at source.Span, text string) {
	if strings.Count(text, "$") == strings.Count(text, "${") { // as nearly always
		return
	}
	for _, m := range dollars.FindAllStringSubmatchIndex(text, -1) {
		name := text[m[2]:m[3]]
		if v.scope(vs).Lookup(name) == nil {
			continue
		}
		here := source.Span{Start: at.Start + source.Pos(m[2]), End: at.Start + source.Pos(m[3])}
		f := v.warnf("quoted-template", source.Span{Start: here.Start - 1, End: here.End}, "$%s is text here: a value in a text stands in braces", name).
			Instead("write ${%s}, between backquotes", name)
		if strings.HasPrefix(text, "`") {
			f.Mend("write braces", here, "{"+name+"}")
		}
	}
}

// ownLink resolves a link that stands in an element's block.
func (v *viewResolver) ownLink(it syntax.Item, vs *viewScope, owner *Element) {
	if owner == nil {
		v.errorf("wrong-direction", it.Span(), "this link belongs to no node").
			Instead("write it in the { block } of the node whose value it is; a when or each has none")
		return
	}
	switch it := it.(type) {
	case *syntax.Link:
		v.elementLink(owner, it, vs)
	case *syntax.Event:
		v.elementEvent(owner, it, vs)
	}
}

func (v *viewResolver) when(at syntax.At, s *syntax.When, vs *viewScope, owner *Element) Node {
	w := &When{At: at, Syntax: s}
	facts := vs.facts
	for {
		c := v.checker(&scope{r: v.resolver, component: v.component, view: &viewScope{up: vs, facts: facts, level: vs.level}})
		cond := c.Condition(s.Cond)
		yes := &viewScope{up: vs, facts: facts.Assume(cond, true), level: vs.level}
		w.Branches = append(w.Branches, &Branch{&Unit{cond, c.Locals}, v.nodes(s.Body, yes, nil)})
		facts = facts.Assume(cond, false)
		if !s.HasElse {
			return w
		}
		next, ok := elseWhen(s)
		if !ok {
			no := &viewScope{up: vs, facts: facts, level: vs.level}
			w.Branches = append(w.Branches, &Branch{nil, v.nodes(s.Else, no, nil)})
			return w
		}
		s = next
	}
}

func elseWhen(s *syntax.When) (*syntax.When, bool) {
	if len(s.Else) != 1 {
		return nil, false
	}
	next, ok := s.Else[0].(*syntax.When)
	return next, ok && next.Stop == s.Stop
}

func (v *viewResolver) each(at syntax.At, s *syntax.Each, vs *viewScope, owner *Element) Node {
	e := &Each{At: at, Syntax: s}
	e.List = v.unit(vs, s.List, &types.List{Elem: types.Any}, "each goes through")
	elem := types.Type(types.Any)
	if l, ok := types.Under(types.NonNull(e.List.Expr.Type())).(*types.List); ok {
		elem = l.Elem
	}
	e.Place = v.placeOf(e.List.Expr)
	inner := &viewScope{up: vs, facts: vs.facts, level: vs.level + 1}
	e.Item = v.local(inner, s.Var, elem, e, 0)
	if s.Index != nil {
		e.Index = v.local(inner, s.Index, types.Number, e, 1)
	}
	if s.By != nil {
		e.By = v.key(inner, e, s.By)
	}
	v.namedLocals(s.Body, inner)
	e.Body = v.nodes(s.Body, inner, nil)
	e.Locals = inner.count
	return e
}

// key resolves what tells the items of an each apart.
func (v *viewResolver) key(vs *viewScope, e *Each, by syntax.Expr) *Unit {
	record, _ := types.Under(e.Item.Typ).(*types.Record)
	name, bare := by.(*syntax.Name)
	if record != nil && bare {
		_, field := record.Field(name.Text)
		switch sym := v.scope(vs).Lookup(name.Text); {
		case field && sym == nil:
			write := e.Item.Label + "." + name.Text
			v.errorf("not-in-scope", name.Span(), "%s is a field of %s, which is not named", name.Text, e.Item.Label).
				Instead("write by %s", write).Mend("write "+write, name.Span(), write)
			return &Unit{Expr: types.Unknown(name.Span())}
		case sym == types.Symbol(e.Item):
			f := v.errorf("wrong-type", name.Span(), "a key is a text, number, boolean or Key, but this is %s", types.Article(e.Item.Typ))
			f.Instead("write by %s.%s", name.Text, plainField(record)).Mend("write its field", source.Span{Start: name.Stop, End: name.Stop}, "."+plainField(record))
			return &Unit{Expr: types.Unknown(name.Span())}
		}
	}
	unit := v.unit(vs, by, keyType, "a key is")
	return &unit
}

// plainField is the field of a record that tells it apart by its name, or the first that can.
func plainField(r *types.Record) string {
	for _, name := range []string{"id", "key"} {
		if _, ok := r.Field(name); ok {
			return name
		}
	}
	for _, f := range r.Fields {
		if types.Assignable(f.Read(), types.Or(types.String, types.Number, types.Key)) {
			return f.Name
		}
	}
	return "id"
}

func (v *viewResolver) local(vs *viewScope, w *syntax.Word, t types.Type, e *Each, slot int) *ViewLocal {
	l := &ViewLocal{Label: w.Text, Typ: t, At: w.Span(), Each: e, Level: vs.level, Slot: slot}
	for _, o := range vs.locals {
		if o.Label == l.Label {
			v.errorf("declared-twice", l.At, "%s is declared twice here", l.Label).Instead("give one of them another name")
		}
	}
	if m := v.component.Member(l.Label); m != nil && !isRoot(e.List.Expr, m) {
		v.notef("hides-another", l.At, "%s hides the member %s of %s", l.Label, l.Label, v.component.Name).
			See(m.At.Start, "the member it hides").Instead("give one of them another name")
	}
	vs.locals = append(vs.locals, l)
	vs.count = max(vs.count, slot+1)
	return l
}

func isRoot(e types.Expr, m *Member) bool {
	r, ok := e.(*types.Ref)
	return ok && r.Symbol == m
}

// placeOf is the place that an expression reads, where it can be written.
func (v *viewResolver) placeOf(e types.Expr) *Place {
	switch e := e.(type) {
	case *types.Ref:
		switch s := e.Symbol.(type) {
		case *Member:
			if s.Writable() {
				return &Place{Root: s, Typ: s.Type(), At: e.Span()}
			}
		case *ViewLocal:
			if s.Each != nil && s == s.Each.Item && s.Each.Place != nil {
				return &Place{Root: s, Typ: s.Typ, At: e.Span()}
			}
		}
	case *types.Select: // what a context shares can be tied to
		of, isRef := e.X.(*types.Ref)
		m, isMember := e.Member.(*Member)
		if !isRef || !isMember || m.Kind != Shares || e.Optional {
			return nil
		}
		if c, ok := of.Symbol.(*Member); ok && (c.Kind == Used || c.Kind == Supplied) {
			return &Place{Root: m, Of: c, Typ: m.Type(), At: e.Span()}
		}
	case *types.Dot:
		if p := v.placeOf(e.X); p != nil {
			return p.step(PlaceStep{Field: e.Name}, types.FieldOf(types.NonNull(p.Typ), e.Name), e.Span())
		}
	}
	return nil
}

// context is the context that a place is in, or nil. Its users tie to it, and
// assign nothing.
func (p *Place) context() *Member {
	if l, ok := p.Root.(*ViewLocal); ok && l.Each.Place != nil {
		return l.Each.Place.context()
	}
	return p.Of
}

func (v *viewResolver) element(at syntax.At, s *syntax.Element, vs *viewScope) Node {
	name := s.Name.Text
	if c := v.components[name]; c != nil {
		return v.use(at, s, c, vs)
	}
	switch {
	case strings.Contains(name, "-"):
		v.noComponent(name, s.Name.Span())
		v.lost(s.Body, vs)
		return nil
	case !html.IsElement(name) && v.scope(vs).Lookup(name) != nil:
		at := source.Span{Start: s.Name.Start, End: s.Stop}
		text := "`${" + v.d.Set.File(at.Start).Slice(at.Start, at.End) + "}`"
		f := v.errorf("not-in-scope", s.Name.Span(), "%s is a value, and no element", name).Instead("to show it write %s", text)
		if html.IsAttribute(name) {
			f.Instead("for the attribute write %s <- %[1]s; to show the value, %s", name, text)
			return nil
		}
		if s.Text == nil && !s.Braces && s.Named == nil {
			f.Mend("show it", at, text)
		}
		return nil
	case !html.IsElement(name) && html.IsAttribute(name):
		v.bareAttribute(s)
		return nil
	case !html.IsElement(name) && v.isLost(name):
	case !html.IsElement(name):
		names := append(html.Elements(), v.componentNames()...)
		if write := ofPages[name]; write != "" {
			v.errorf("not-in-scope", s.Name.Span(), "there is no element %s in a view", name).Instead("%s", write)
			return nil
		}
		v.didYouMean(v.errorf("not-in-scope", s.Name.Span(), "there is no element %s", name), s.Name, names, "for a component, write a name with a hyphen; some elements are: ")
	}
	e := &Element{At: at, Tag: name, Syntax: s, Named: v.handle(s, vs)}
	if name == "form" {
		e.Values = v.form(s).parts["values"].Typ
	}
	for _, c := range s.Classes {
		e.Classes = append(e.Classes, c.Text)
	}
	if s.Text != nil {
		e.Children = append(e.Children, &Text{syntax.At{Start: s.Text.Span().Start, Stop: s.Text.Span().End}, v.text(vs, s.Text)})
	}
	e.Children = append(e.Children, v.nodes(s.Body, vs, e)...)
	if html.IsVoid(name) && len(e.Children) > 0 {
		f := v.errorf("wrong-type", e.Children[0].Span(), "%s has no content, as HTML defines it", name).Instead("put it beside the %s", name)
		if in, ok := e.Children[0].(*Element); ok && html.IsAttribute(in.Tag) && in.Syntax.Text != nil {
			f.Instead("for the attribute write %s <- %s; else put it beside the %s", in.Tag, v.textOf(in.Syntax.Text), name)
		}
	}
	v.ties(e)
	return e
}

func (v *viewResolver) componentNames() []string {
	var names []string
	for _, c := range v.d.Components {
		names = append(names, c.Name)
	}
	return names
}

// lost resolves what stands in a node that could not be, for its findings.
func (v *viewResolver) lost(items []syntax.Item, vs *viewScope) {
	for _, it := range items {
		switch it := it.(type) {
		case *syntax.Element, *syntax.When, *syntax.Each:
			v.nodes([]syntax.Item{it}, vs, nil)
		}
	}
}
