package design

import (
	"slices"
	"strings"
	"unicode"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Links of elements: attributes, live properties, classes.

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
	got := unit.Expr.Type()
	if other != "" && !types.Assignable(types.NonNull(got), types.Boolean) {
		v.withoutDot(v.errorf("wrong-type", s.Span(), "with a dot %s is a class, which stands or not, and this is %s", s.Name.Text, types.Article(got)), s, other)
		return nil
	}
	if !types.Assignable(got, types.Boolean) {
		v.checker(v.scope(vs)).Fits(unit.Expr, types.Boolean, "a class stands or not: its condition is")
	}
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

// What attributes are given: null leaves one out.
var (
	attributeType    = types.Or(types.String, types.Number, types.Boolean, types.Key, types.Null)
	booleanAttribute = types.Or(types.Boolean, types.Null)
	keyType          = types.Or(types.String, types.Number, types.Boolean, types.Key)
)

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
	if v.madeOfParts(s) {
		return
	}
	c := v.checker(v.scope(vs))
	c.Keys = true
	want := attributeType
	if html.IsBoolean(name) {
		want = booleanAttribute
	}
	x := c.Want(s.Value, want, "the attribute "+name+" is")
	e.Attrs = append(e.Attrs, &Attr{name, Unit{x, c.Locals}, s})
	v.knownRole(name, x)
}

// madeOfParts reports a record or list as a style or class, which are one text.
func (v *viewResolver) madeOfParts(s *syntax.Link) bool {
	record, isRecord := s.Value.(*syntax.RecordLit)
	_, isList := s.Value.(*syntax.ListLit)
	name := s.Name.Text
	if !isRecord && !isList || name != "style" && name != "class" {
		return false
	}
	f := v.errorf("wrong-type", s.Value.Span(), "%s is one text", name)
	switch {
	case name == "class":
		f.Instead("write .name <- condition for each class that comes and goes; those that always stand are written behind the node: p.name")
	case isRecord && len(record.Fields) > 0 && record.Fields[0].Name != nil:
		first := record.Fields[0]
		value := "${" + first.Name.Text + "}"
		if lit, ok := first.Value.(*syntax.TextLit); ok {
			value = lit.Value
		} else if first.Value != nil {
			value = "${" + v.textOf(first.Value) + "}"
		}
		f.Instead("write style <- `%s: %s`, with ; between two", cssName(first.Name.Text), value)
	default:
		f.Instead("write style <- `color: ${...}`")
	}
	return true
}

// cssName is the name of a property of scripts as CSS has it: background-color for backgroundColor.
func cssName(name string) string {
	out := ""
	for _, r := range name {
		if unicode.IsUpper(r) {
			out += "-"
		}
		out += string(unicode.ToLower(r))
	}
	return out
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
	if place, read := v.tiedPlace(vs, s); place != nil {
		e.Ties = append(e.Ties, &Tie{name, read, place, s})
	}
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
			kind := staticText(e, "type")
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
