package design

import (
	"regexp"
	"slices"
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// view resolves what a component shows.
func (r *resolver) view(c *Component) {
	if c.viewed {
		return
	}
	c.viewed = true
	(&viewResolver{resolver: r, component: c}).supplied()
	for _, m := range c.Syntax.Members {
		if v, ok := m.(*syntax.View); ok {
			vr := &viewResolver{resolver: r, component: c}
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
}

func (v *viewResolver) scope(vs *viewScope) *scope {
	return &scope{r: v.resolver, component: v.component, view: vs}
}

// unit types an expression at a place in the view. want may be nil.
func (v *viewResolver) unit(vs *viewScope, e syntax.Expr, want types.Type, what string) Unit {
	if v.within != nil {
		return Unit{v.within.c.Want(e, want, what), v.within.c.Locals}
	}
	c := v.checker(v.scope(vs))
	var x types.Expr
	if want == nil {
		x = c.Expr(e, nil)
	} else {
		x = c.Want(e, want, what)
	}
	return Unit{x, c.Locals}
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
	unit := v.unit(vs, by, types.Or(types.String, types.Number, types.Boolean, types.Key), "a key is")
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

// ofPages are elements of pages around what a view shows, with what stands for them here.
var ofPages = map[string]string{
	"script": "a design does all by its handlers; what is outside it asks of a service", "style": "write style { ... } in the component, beside its view",
	"link": "write style file(\"base.css\") at the top of the file", "head": "leave it out: lien build writes the page around", "html": "leave it out: lien build writes the page around",
	"body": "leave it out: lien build writes the page around", "meta": "leave it out: lien build writes the page around", "title": "leave it out: lien build writes the page around",
}

// bareAttribute reports an attribute that stands in a block as HTML has it.
func (v *viewResolver) bareAttribute(s *syntax.Element) {
	name, value := s.Name.Text, `"..."`
	switch {
	case s.Text != nil:
		value = v.textOf(s.Text)
	case html.IsBoolean(name):
		value = "true"
	}
	f := v.errorf("wrong-direction", s.Name.Span(), "%s is an attribute, and no element", name).Instead("write %s <- %s", name, value)
	if plain := len(s.Classes) == 0 && s.Named == nil && !s.Braces; plain && value != `"..."` {
		f.Mend("link it", s.Span(), name+" <- "+value)
	}
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

// elementLink resolves name <- expr, .class <- cond and name <-> cell.
func (v *viewResolver) elementLink(e *Element, s *syntax.Link, vs *viewScope) {
	name := s.Name.Text
	if !s.Class {
		v.once(e.Attrs, s)
	}
	switch {
	case s.Class:
		if mark := v.mark(e.Marks, s, vs, attributeCalled(name)); mark != nil {
			e.Marks = append(e.Marks, mark)
		}
	case s.Op == syntax.Assign && v.eventLinked(s):
	case s.Op == syntax.Assign && len(e.Handlers) > 0 && v.isCell(vs, name):
		v.errorf("wrong-direction", s.Span(), "what an event does ends before this").
			Instead("put all that it does into braces: event -> { ...; %s }", v.d.Text(s.Span()))
	case s.Op == syntax.Assign:
		arrow := source.Span{Start: s.Name.Span().End, End: s.Value.Span().Start}
		v.wrongWay(s, "an element has no first values: write "+name+" <- "+v.textOf(s.Value)).Mend("write <-", arrow, " <- ")
	case s.Op == syntax.Tie:
		v.elementTie(e, s, vs)
	default:
		v.attribute(e, s, vs)
	}
}

// isCell says whether a name stands for a cell at a place.
func (v *viewResolver) isCell(vs *viewScope, name string) bool {
	m, ok := v.scope(vs).Lookup(name).(*Member)
	return ok && m.IsCell()
}

// attributeCalled says that elements have an attribute of this name, if they do.
func attributeCalled(name string) string {
	if html.IsAttribute(name) {
		return "an attribute"
	}
	return ""
}

// once reports a second link of a name.
func (v *viewResolver) once(list []*Attr, s *syntax.Link) {
	for _, o := range list {
		if o.Name == s.Name.Text {
			v.errorf("declared-twice", s.Name.Span(), "%s is linked twice", o.Name).See(o.Syntax.Start, "the other link").Instead("keep one of them")
		}
	}
}

// mark resolves .class <- cond beside others; other is what its name would be without the dot, if anything: an attribute.
func (v *viewResolver) mark(others []*Attr, s *syntax.Link, vs *viewScope, other string) *Attr {
	if s.Op != syntax.Down {
		if other != "" {
			v.withoutDot(v.errorf("wrong-direction", s.Span(), "with a dot %s is a class, which is only shown", s.Name.Text), s, other)
			return nil
		}
		v.wrongWay(s, "a class is only shown: write ."+s.Name.Text+" <- condition")
		return nil
	}
	v.once(others, s)
	unit := v.unit(vs, s.Value, nil, "")
	if got := unit.Expr.Type(); other != "" && !types.Assignable(types.NonNull(got), types.Boolean) {
		v.withoutDot(v.errorf("wrong-type", s.Span(), "with a dot %s is a class, which stands or not, and this is %s", s.Name.Text, types.Article(got)), s, other)
		return nil
	}
	v.checker(v.scope(vs)).Fits(unit.Expr, types.Boolean, "a class stands or not: its condition is")
	return &Attr{s.Name.Text, unit, s}
}

// withoutDot says that a link means what its name is without the dot.
func (v *viewResolver) withoutDot(f *finding.Finding, s *syntax.Link, other string) {
	f.Instead("%s is %s: write %[1]s %[3]s %s", s.Name.Text, other, s.Op, v.textOf(s.Value)).
		Mend("take the dot away", source.Span{Start: s.Start, End: s.Name.Start}, "")
}

func (v *viewResolver) wrongWay(s *syntax.Link, write string) *finding.Finding {
	return v.errorf("wrong-direction", s.Span(), "%s cannot be linked with %s here", s.Name.Text, s.Op).Instead("%s", write)
}

func (v *viewResolver) attribute(e *Element, s *syntax.Link, vs *viewScope) {
	name := s.Name.Text
	switch {
	case v.eventLinked(s):
		return
	case !html.IsAttribute(name):
		if v.noAttribute(s); name == "options" || name == "items" {
			return // of any type
		}
	}
	c := v.checker(v.scope(vs))
	c.Keys = true
	want := types.Or(types.String, types.Number, types.Boolean, types.Key, types.Null)
	if html.IsBoolean(name) {
		want = types.Or(types.Boolean, types.Null)
	}
	x := c.Want(s.Value, want, "the attribute "+name+" is")
	e.Attrs = append(e.Attrs, &Attr{name, Unit{x, c.Locals}, s})
	v.knownRole(name, x)
}

// otherAttributes are names that scripts and style sheets have for what attributes do, with what to write.
var otherAttributes = map[string]string{
	"className": "class", "htmlFor": "for",
}

// noAttribute warns of a link to an attribute that HTML does not have.
func (v *viewResolver) noAttribute(s *syntax.Link) {
	name := s.Name.Text
	f := v.warnf("not-taken", s.Name.Span(), "HTML has no attribute %s", name)
	value := v.textOf(s.Value)
	property, isStyle := strings.CutPrefix(name, "style-")
	near := finding.Nearest(name, html.Attributes())
	switch {
	case otherAttributes[name] != "":
		near = otherAttributes[name]
		f.Instead("write %s <- %s", near, value).Mend("write "+near, s.Name.Span(), near)
	case name == "innerText" || name == "textContent" || name == "innerHTML" || name == "text":
		f.Instead("a node's text stands behind its name: `${%s}`", value)
	case name == "visible" || name == "show" || name == "shown":
		f.Instead("write when %s { ... } around the node, or hidden <- !(%[1]s)", value)
	case isStyle:
		f.Instead("write style <- `%s: ${%s}`", property, value)
	case name == "options" || name == "items":
		f.Instead("write each x in %s by ... { option { value <- ...; ... } } in its block", value)
	case name == "key":
		f.Instead("what tells items apart stands behind their list: each x in list by x.id { ... }")
	case near != "":
		f.Instead("did you mean %s?", near).Mend("write "+near, s.Name.Span(), near)
	default:
		f.Instead("%s", types.DidYouMean(name, html.Attributes(), "for data of your own, write data-"+name+"; some attributes are: "))
	}
}

// eventLinked reports an event of an element that is linked down, or written as in HTML.
func (v *viewResolver) eventLinked(s *syntax.Link) bool {
	name := strings.ToLower(s.Name.Text)
	event := strings.TrimPrefix(name, "on")
	if !html.IsEvent(event) || event == name && html.IsAttribute(name) {
		return false
	}
	does := v.textOf(s.Value)
	lit, quoted := s.Value.(*syntax.TextLit)
	if quoted {
		does = strings.TrimSuffix(strings.TrimSpace(lit.Value), ";")
	}
	f := v.errorf("wrong-direction", s.Name.Span(), "%s is an event: it is reported up, not linked down", event)
	if !quoted && !mayBeDone(s.Value) {
		f.Instead("write %s -> and what is to be done", event)
		return true
	}
	f.Instead("write %s -> %s", event, does).Mend("turn the link round", s.Span(), event+" -> "+does)
	return true
}

// mayBeDone says whether what stands in a link could be done: a call, an action by its name, or x = y, which is read as
// the comparison that may be meant.
func mayBeDone(x syntax.Expr) bool {
	switch x := x.(type) {
	case *syntax.Call, *syntax.Name, *syntax.Dotted:
		return true
	case *syntax.Binary:
		return x.Op == syntax.Equal
	}
	return false
}

func (v *viewResolver) knownRole(name string, x types.Expr) {
	lit, ok := x.Type().(types.Literal)
	if !ok || name != "role" {
		return
	}
	role := strings.Trim(lit.String(), `"`)
	if !html.IsRole(role) {
		v.warnf("not-taken", x.Span(), "WAI-ARIA has no role %s", role).
			Instead("%s", types.DidYouMean(role, html.Roles(), "some roles are: "))
	}
}

func (v *viewResolver) elementTie(e *Element, s *syntax.Link, vs *viewScope) {
	name := s.Name.Text
	tieable := []string{"value", "checked", "indeterminate", "open"}
	if !slices.Contains(tieable, name) || !html.IsProperty(e.Tag, name) {
		v.errorf("wrong-direction", s.Span(), "%s of %s cannot be tied", name, e.Tag).
			Instead("tie value, checked, indeterminate or open of an element that has it; or link it one way: %s <- ...", name)
		return
	}
	sc := v.scope(vs)
	place := v.tiedPlace(sc, s)
	c := v.checker(sc)
	read := c.Expr(s.Value, nil)
	if place == nil {
		return
	}
	e.Ties = append(e.Ties, &Tie{name, Unit{read, c.Locals}, place, s})
}

// ties checks the types of an element's ties, when all its links are known.
func (v *viewResolver) ties(e *Element) {
	for _, t := range e.Ties {
		want := types.Type(types.Boolean)
		if t.Name == "value" {
			want = v.valueType(e, t)
		}
		if got := t.Write.Typ; !types.Identical(got, want) && got != types.Any {
			f := v.errorf("wrong-type", t.Syntax.Value.Span(), "%s of this %s is %s, but the cell is %s",
				t.Name, e.Tag, types.Article(want), types.Article(got)).
				Instead("tie a cell of type %s, or link both ways by hand: %s <- ... and input(e) -> ...", want, t.Name)
			kind := inputKind(e)
			switch {
			case e.Tag == "input" && kind == "" && got == types.Type(types.Number):
				f.Instead("write type <- \"number\" beside it: then it holds a number")
			case e.Tag == "input" && (kind == "checkbox" || kind == "radio") && got == types.Type(types.Boolean):
				f.Instead("write checked <-> %s", v.textOf(t.Syntax.Value)).Mend("tie checked", t.Syntax.Name.Span(), "checked")
			}
			if _, several := got.(*types.List); several && e.Tag == "select" {
				f.Instead("write check boxes, one for each; or let a form collect them: form named f { select { name <- \"tags\"; multiple <- true; ... } }, and f.values.tags")
			}
		}
	}
}

// inputKind is the type of an input as it is written, or "".
func inputKind(e *Element) string {
	for _, a := range e.Attrs {
		if k, ok := a.Unit.Expr.(*types.Const); ok && a.Name == "type" {
			text, _ := k.Value.(value.String)
			return string(text)
		}
	}
	return ""
}

// valueType is the type that the value of an input, textarea or select has.
func (v *viewResolver) valueType(e *Element, t *Tie) types.Type {
	got := t.Write.Typ
	if e.Tag == "select" && literals(got) {
		return got
	}
	if e.Tag == "input" {
		switch staticText(e, "type") {
		case "range":
			return types.Number
		case "number":
			if types.Identical(got, types.Or(types.Number, types.Null)) || types.Identical(got, types.Number) {
				return got
			}
		}
	}
	return types.String
}

func literals(t types.Type) bool {
	for _, m := range types.Members(t) {
		if l, ok := types.Under(m).(types.Literal); !ok || !types.Assignable(l, types.String) {
			return false
		}
	}
	return true
}

// staticText is the text that an attribute always has, or "".
func staticText(e *Element, name string) string {
	for _, a := range e.Attrs {
		if lit, ok := a.Unit.Expr.Type().(types.Literal); ok && a.Name == name {
			return strings.Trim(lit.String(), `"`)
		}
	}
	return ""
}

func (v *viewResolver) elementEvent(e *Element, s *syntax.Event, vs *viewScope) {
	name := s.Name.Text
	if !html.IsEvent(name) {
		if v.notAnEvent(e, s) {
			return
		}
	}
	if len(s.Params) > 1 {
		v.errorf("payload-differs", s.Params[1].Span(), "a DOM event has one value: itself").Instead("write %s(e) -> ...", name)
	}
	h := &Handler{Name: name, Syntax: s}
	sc := v.scope(vs)
	var carried []types.Param
	if e.Tag == "form" && name == "submit" {
		carried = []types.Param{{Name: "values", Type: e.Values}}
	}
	sc.heard = &heard{s, carried, carried == nil}
	switch do := s.Do.(type) {
	case *syntax.Pass:
		h.Body = v.pass(sc, name, do, carried)
	case *syntax.Forward:
		h.Body = v.forward(sc, s.Name.Text, do, carried)
	default:
		if carried != nil {
			h.Body = v.body(sc, s.Params, carried, s.Do)
			break
		}
		b := &bodyChecker{resolver: v.resolver, scope: sc, c: v.checker(sc)}
		h.Body = b.runEvent(s)
	}
	if h.Body != nil {
		e.Handlers = append(e.Handlers, h)
	}
}

// notAnEvent reports a handler of what no element reports, and says whether nothing can be made of it.
func (v *viewResolver) notAnEvent(e *Element, s *syntax.Event) bool {
	name := s.Name.Text
	event := strings.TrimPrefix(strings.ToLower(name), "on")
	f := v.errorf("never-reported", s.Name.Span(), "an element never reports %s", name)
	switch p, isPass := s.Do.(*syntax.Pass); {
	case html.IsEvent(event):
		f.Instead("write %s -> ...", event).Mend("write "+event, s.Name.Span(), event)
		return false
	case (html.IsAttribute(name) || html.IsProperty(e.Tag, name)) && isPass:
		f.Rule, f.Message = "wrong-direction", name+" is linked down, not reported: it is no event"
		f.Instead("write %s <- %s", name, v.textOf(p.Target)).
			Mend("turn the link round", source.Span{Start: s.Name.Stop, End: p.Start}, " <- ")
		return true
	}
	if near := finding.Nearest(name, html.Events()); near != "" {
		f.Instead("did you mean %s?", near).Mend("write "+near, s.Name.Span(), near)
		return false
	}
	f.Instead("%s", types.DidYouMean(name, html.Events(), "some events are: "))
	return false
}

// runEvent resolves a DOM handler, which may name its event.
func (b *bodyChecker) runEvent(s *syntax.Event) *Body {
	b.c.Moment = true
	done := b.c.Open()
	defer done()
	out := &Body{At: s.Do.Span()}
	for i, p := range s.Params {
		l := b.c.Declare(p.Name, eventType)
		out.Params = append(out.Params, l)
		if i == 0 {
			b.event = l
		}
	}
	out.Stmts = b.stmt(s.Do)
	b.finish(out)
	return out
}

// pass resolves event -> actionName, which hands the event's values on.
func (v *viewResolver) pass(sc *scope, event string, s *syntax.Pass, sig []types.Param) *Body {
	c := v.checker(sc)
	b := &bodyChecker{resolver: v.resolver, scope: sc, c: c}
	if v.forwardMissing(sc, event, s) || b.verbMissing(s.Span(), s.Target, v.textOf(s.Target)) {
		return nil
	}
	fun := c.Expr(s.Target, nil)
	if fun.Type() == types.Any {
		return nil
	}
	f, ok := types.Under(types.NonNull(fun.Type())).(*types.Func)
	if !ok || f.Result != types.Void {
		if m, ok := v.component.byName[v.textOf(s.Target)]; ok && m.Writable() && len(sig) == 1 {
			carries := sig[0].Name
			if carries == m.Label { // which would hide the cell
				carries = "value"
			}
			v.errorf("wrong-type", s.Span(), "%s is a cell, and nothing says what becomes of it", m.Label).
				Instead("write %s(%s) -> %s = %[2]s", event, carries, m.Label)
			return nil
		}
		v.errorf("wrong-type", s.Span(), "only an action can stand alone after ->").Instead("write a statement: cell = value, emit e(...), or name(...)")
		return nil
	}
	if types.Nullable(fun.Type()) {
		c.Fits(fun, f, "what runs is")
		return nil
	}
	out := &Body{At: s.Span()}
	given := v.passed(out, sig)
	v.payload(sc, s.Span(), event, f.Params, sig, v.textOf(s.Target))
	at := syntax.At{Start: s.Start, Stop: s.Stop}
	out.Stmts = []Stmt{&Do{at, fun, given[:min(len(given), len(f.Params))]}}
	return out
}

// forwardMissing reports an event of a component that is handed to the event of the same name.
func (v *viewResolver) forwardMissing(sc *scope, event string, s *syntax.Pass) bool {
	n, ok := s.Target.(*syntax.Name)
	if !ok || sc.heard == nil || sc.heard.dom {
		return false
	}
	m := v.component.Member(n.Text)
	if m == nil || m.Kind != Emits {
		return false
	}
	to := "forward " + n.Text
	if n.Text == event {
		to = "forward"
	}
	v.errorf("wrong-type", s.Span(), "%s is an event, which is no function", n.Text).See(m.At.Start, "it is declared here").
		Instead("write %s -> %s", event, to).Mend("write forward", s.Span(), to)
	return true
}

func (v *viewResolver) textOf(e syntax.Expr) string {
	return v.d.Set.File(e.Span().Start).Slice(e.Span().Start, e.Span().End)
}

// passed gives a body one local for every value of an event.
func (v *viewResolver) passed(out *Body, sig []types.Param) []types.Expr {
	var given []types.Expr
	for i, p := range sig {
		l := &types.Local{Label: p.Name, Typ: p.Read(), Slot: i, At: out.At}
		out.Params = append(out.Params, l)
		given = append(given, types.NewRef(l, out.At))
	}
	out.Locals = len(sig)
	return given
}

// payload checks that an event's values fit what they are passed on to.
func (v *viewResolver) payload(sc *scope, at source.Span, event string, takes, sig []types.Param, name string) {
	for i, p := range takes {
		switch {
		case i >= len(sig) && !p.Optional:
			give := "..."
			if i == 0 && sc.Offer(p) != "" && len(takes) == 1 {
				give = sc.Offer(p)
			}
			v.errorf("payload-dropped", at, "%s needs %s, but the event does not carry it", name, p.Name).
				Instead("give it: -> %s(%s)", name, give)
			return
		case i < len(sig) && !types.Assignable(sig[i].Read(), p.Read()):
			v.errorf("payload-differs", at, "%s takes %s for %s, but the event carries %s", name, types.Article(p.Read()), p.Name, types.Article(sig[i].Read())).
				Instead("turn it: %s -> %s(...)", eventWith(event, sig), name)
			return
		}
	}
}

// eventWith is an event with the names of its values, as a handler begins.
func eventWith(event string, sig []types.Param) string {
	names := make([]string, len(sig))
	for i, p := range sig {
		names[i] = p.Name
	}
	return event + "(" + strings.Join(names, ", ") + ")"
}

// forward resolves event -> forward, which reports an event upwards.
func (v *viewResolver) forward(sc *scope, event string, s *syntax.Forward, sig []types.Param) *Body {
	at := s.Span()
	if s.Name != nil {
		event, at = s.Name.Text, s.Name.Span()
	}
	m := v.component.Member(event)
	if m == nil || m.Kind != Emits {
		v.errorf("not-in-scope", at, "%s does not emit %s", v.component.Name, event).
			Instead("declare it: emits %s%s", event, types.Params(sig))
		return nil
	}
	m.Type()
	out := &Body{At: s.Span()}
	given := v.passed(out, sig)
	v.payload(sc, s.Span(), event, m.Sig, sig, "emit "+event)
	out.Stmts = []Stmt{&Emit{syntax.At{Start: s.Start, Stop: s.Stop}, m, given[:min(len(given), len(m.Sig))]}}
	return out
}
