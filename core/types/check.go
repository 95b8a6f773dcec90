package types

import (
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/value"
)

// Scope is where a Checker looks names up.
type Scope interface {
	// Lookup finds a name, or nil.
	Lookup(name string) Symbol
	// IsValue says whether what was found can be read; it reports where it cannot. want is the type that its place asks
	// for, or nil.
	IsValue(name *syntax.Name, s Symbol, want Type) bool
	// Visible lists the names that Lookup finds, for "did you mean".
	Visible() []string
	// Missing reports a name that is not in scope.
	Missing(name *syntax.Name)
	// Text is the text of a place.
	Text(at source.Span) string
	// Offer is what stands in scope for a parameter that was left out, or "".
	Offer(p Param) string
	// Special checks a call that only the design can: running, all, the, was
	// and reported. It reports false where the name is none of these here.
	Special(c *Checker, name string, call *syntax.Call) (Expr, bool)
}

// Checker gives expressions their types. One Checker serves one handler,
// function or link: its locals share a frame.
type Checker struct {
	Scope  Scope
	Report func(*finding.Finding)
	Facts  *Facts
	Moment bool // now() and fresh() may stand here
	Keys   bool // keys may stand in templates: an attribute
	Locals int  // how many locals the frame needs
	block  *locals

	// Written is what is written to: an item of a list on the way to it is there, or the turn fails.
	Written syntax.Expr

	// Called is the call that a statement is, so that a method of a value, which
	// changes nothing, is told from a field that is not there.
	Called *syntax.Call
}

// locals are the names that the handler itself declares.
type locals struct {
	up   *locals
	list []*Local
}

// Open starts a block of locals; call the result to end it.
func (c *Checker) Open() func() {
	c.block = &locals{up: c.block}
	return func() { c.block = c.block.up }
}

// Declare adds a local to the current block.
func (c *Checker) Declare(name *syntax.Word, t Type) *Local {
	l := &Local{Label: name.Text, Typ: t, Slot: c.Locals, At: name.Span(), Unused: true}
	c.Locals++
	for _, o := range c.block.list {
		if o.Label == l.Label {
			c.Errorf("declared-twice", l.At, "%s is declared twice here", l.Label).
				See(o.At.Start, "the first %s", l.Label).Instead("give one of them another name")
		}
	}
	c.block.list = append(c.block.list, l)
	return l
}

func (c *Checker) lookup(name string) Symbol {
	for b := c.block; b != nil; b = b.up {
		for i := len(b.list) - 1; i >= 0; i-- {
			if b.list[i].Label == name {
				b.list[i].Unused = false
				return b.list[i]
			}
		}
	}
	return c.Scope.Lookup(name)
}

// Known says whether a handler or function itself declares a name.
func (c *Checker) Known(name string) bool {
	for b := c.block; b != nil; b = b.up {
		for _, l := range b.list {
			if l.Label == name {
				return true
			}
		}
	}
	return false
}

// onTheWay says whether an index leads to what is written.
func (c *Checker) onTheWay(e *syntax.Index) bool {
	for at := c.Written; at != nil; {
		switch x := at.(type) {
		case *syntax.Paren:
			at = x.X
		case *syntax.Dotted:
			at = x.X
		case *syntax.Index:
			if x == e {
				return true
			}
			at = x.X
		default:
			return false
		}
	}
	return false
}

// Visible lists every name in scope, sorted.
func (c *Checker) Visible() []string {
	names := c.Scope.Visible()
	for b := c.block; b != nil; b = b.up {
		for _, l := range b.list {
			names = append(names, l.Label)
		}
	}
	sort.Strings(names)
	return names
}

// Errorf reports an error.
func (c *Checker) Errorf(rule string, at source.Span, format string, args ...any) *finding.Finding {
	f := finding.New(rule, finding.Error, at, format, args...)
	c.Report(f)
	return f
}

// Truth is what always holds.
func Truth(at source.Span) Expr {
	return &Const{typed{Literal{value.Bool(true)}, at}, value.Bool(true)}
}

func unknown(at source.Span) Expr { return &Const{typed{Any, at}, value.Null{}} }

// Expr types an expression. want is the type its place asks for, or nil; it
// guides literals and arrow functions, and is not enforced.
func (c *Checker) Expr(e syntax.Expr, want Type) Expr {
	at := e.Span()
	switch e := e.(type) {
	case *syntax.Paren:
		return c.Expr(e.X, want)
	case *syntax.NumberLit:
		return &Const{typed{Literal{value.Number(e.Value)}, at}, value.Number(e.Value)}
	case *syntax.TextLit:
		return &Const{typed{Literal{value.String(e.Value)}, at}, value.String(e.Value)}
	case *syntax.Name:
		return c.name(e, want)
	case *syntax.Template:
		return c.template(e)
	case *syntax.ListLit:
		return c.list(e, want)
	case *syntax.RecordLit:
		return c.record(e, want)
	case *syntax.Unary:
		return c.unary(e)
	case *syntax.Binary:
		return c.binary(e, want)
	case *syntax.Cond:
		return c.cond(e, want)
	case *syntax.Dotted:
		return c.dotted(e)
	case *syntax.Index:
		return c.index(e)
	case *syntax.Call:
		return c.call(e, want)
	case *syntax.Arrow:
		return c.arrow(e, want)
	case *syntax.SpreadExpr:
		c.Errorf("wrong-type", at, "... spreads a list only inside [ ] or a record inside { }").Instead("write it inside a list or record")
	}
	return unknown(at)
}

// Want types an expression and reports it where it does not fit want. what
// names the place, such as "label takes".
func (c *Checker) Want(e syntax.Expr, want Type, what string) Expr {
	x := c.Expr(e, want)
	c.Fits(x, want, what)
	return x
}

// Fits reports x where its type does not fit want.
func (c *Checker) Fits(x Expr, want Type, what string) bool {
	if Assignable(x.Type(), want) {
		return true
	}
	got := x.Type()
	if Nullable(got) && !Nullable(want) && Assignable(NonNull(got), want) {
		c.mayBeNull(x, what+" "+Article(want))
		return false
	}
	if part, wanted, what := misfit(x, want); part != nil {
		return c.Fits(part, wanted, what)
	}
	f := c.Errorf("wrong-type", x.Span(), "%s %s, but this is %s", what, Article(want), Article(Shown(got, want)))
	switch detail := Mismatch(got, want); {
	case detail != "":
		f.Instead("%s", detail)
	default:
		f.Instead("%s", c.conversion(x, want))
	}
	return false
}

// misfit finds the item or field, written in the literal x itself, that does
// not fit want, so that a finding stands where the edit is to be made.
func misfit(x Expr, want Type) (part Expr, wanted Type, what string) {
	switch x := x.(type) {
	case *ListOf:
		l, ok := Under(NonNull(want)).(*List)
		for _, item := range x.Items {
			if ok && !item.Spread && !Assignable(item.X.Type(), l.Elem) {
				return item.X, l.Elem, "an item is"
			}
		}
	case *RecordOf:
		rec, ok := Under(NonNull(want)).(*Record)
		has, known := Under(x.Type()).(*Record)
		if !ok || !known || missing(has, rec) != "" {
			return nil, nil, ""
		}
		for i, name := range x.Names {
			f, ok := rec.Field(name)
			if ok && !slices.Contains(x.Names[i+1:], name) && !Assignable(x.Values[i].Type(), f.Read()) {
				return x.Values[i], f.Read(), name + " is"
			}
		}
	}
	return nil, nil, ""
}

// Shown is the type as a message names it: a literal's own where that tells
// more than what it is one of.
func Shown(got, want Type) Type {
	if isUnion(want) {
		return got
	}
	return Widen(got)
}

// conversion says how to turn one type into another.
func (c *Checker) conversion(x Expr, want Type) string {
	got := x.Type()
	if write := c.otherLiteral(x, Under(NonNull(want))); write != "" {
		return write
	}
	switch b := Under(NonNull(want)); {
	case isFiltered(x) && Assignable(got.(*List).Elem, want):
		return "write find in place of filter: it gives the first, or null"
	case len(literals(want)) > 0 && Assignable(NonNull(got), String) && Under(NonNull(got)) == String:
		return "say its type where it comes from: " + want.String() + orElse(got, want)
	case isList(got) && Assignable(Under(got).(*List).Elem, want):
		return "spread it: ..." + c.Scope.Text(x.Span())
	case isRecord(got) && Assignable(b, Or(String, Number, Boolean)) && !isEvent(got):
		return fieldWritten(c.Scope.Text(x.Span()), x, Under(NonNull(got)).(*Record), want)
	case isEvent(got) && b == String:
		return "write " + c.Scope.Text(x.Span()) + ".value, or .key of a key"
	case isEvent(got) && b == Boolean:
		return "write " + c.Scope.Text(x.Span()) + ".checked"
	case isFunc(b) && !isFunc(Under(got)):
		return "write a callback: x => ..., which names what it is asked about"
	case b == String && got == Key:
		return "declare it with the type Key: a key tells things apart, and is never shown"
	case isList(b) && Assignable(got, b.(*List).Elem):
		return "put it into a list: [" + c.Scope.Text(x.Span()) + "]"
	case b == String && Assignable(got, Number):
		return "write `${...}` or String(...)"
	case b == String && Assignable(got, Boolean):
		return "write a text for either case: x ? \"yes\" : \"no\""
	case b == Number && Assignable(got, String):
		return "write Number(...) ?? 0"
	case b == Boolean && Nullable(got):
		return "compare it: != null"
	case b == Boolean && Assignable(got, Number):
		return "compare it: > 0"
	case b == Boolean && Assignable(got, String):
		return "compare it: != \"\""
	}
	if lit, ok := got.(Literal); ok {
		if names := literals(want); len(names) > 0 {
			return DidYouMean(lit.String(), names, "it can be: ")
		}
	}
	return "write a value of type " + want.String()
}

// otherLiteral is what to write for a literal that is written as one of another type.
func (c *Checker) otherLiteral(x Expr, want Type) string {
	k, ok := x.(*Const)
	if !ok {
		return ""
	}
	text := c.Scope.Text(x.Span())
	inner := strings.Trim(text, `"`)
	_, isNumber := k.Value.(value.Number)
	_, err := strconv.ParseFloat(inner, 64)
	switch {
	case want == String && isNumber:
		return `write "` + text + `"`
	case want == Number && err == nil, want == Boolean && (text == `"true"` || text == `"false"`):
		return "write " + inner
	}
	return ""
}

// isFiltered says whether an expression gives the items of a list that a test is true of.
func isFiltered(x Expr) bool {
	m, ok := x.(*Method)
	return ok && m.Name == "filter" && isList(m.Type())
}

// fieldWritten says which field of a record, which may be null, is of a type that is wanted.
func fieldWritten(text string, x Expr, r *Record, want Type) string {
	dot := "."
	if Nullable(x.Type()) {
		dot = "?."
	}
	for _, f := range r.Fields {
		if f.Type != Key && Assignable(f.Read(), want) {
			return "write one of its fields, such as " + text + dot + f.Name
		}
	}
	return "write one of its fields"
}

// orElse is what to add for a value that may be null, where that does not fit.
func orElse(got, want Type) string {
	if Nullable(got) && !Nullable(want) {
		return "; and give another value for null: ?? ..."
	}
	return ""
}

// literals are the literals that a type is a union of, if it is no other.
func literals(t Type) (names []string) {
	for _, m := range Members(Under(NonNull(t))) {
		if _, ok := m.(Literal); !ok {
			return nil
		}
		names = append(names, m.String())
	}
	return names
}

// mayBeNull reports a value that is used where null does not fit.
func (c *Checker) mayBeNull(x Expr, wanted string) {
	name := "this"
	f := finding.New("may-be-null", finding.Error, x.Span(), "")
	if p, ok := pathOf(x); ok {
		if name = p.root.Name() + p.rest; strings.Contains(c.Scope.Text(x.Span()), "?.") {
			name = c.Scope.Text(x.Span())
		}
		if r, ok := x.(*Ref); ok {
			f.See(r.Symbol.Pos(), "%s is %s here", name, r.Symbol.Type())
		}
	}
	f.Message = fmt.Sprintf("%s may be null here", name)
	if wanted != "" {
		f.Message += ", but " + wanted
	}
	_, literal := x.(*Const)
	switch {
	case literal && Under(x.Type()) == Null:
		f.Message = strings.Replace(f.Message, "this may be null here, but ", "this is null, but ", 1)
		f.Instead("let it be null where it is declared, by a ? behind its type; or write another value")
	case name != "this" && c.Moment && strings.HasPrefix(wanted, "."):
		f.Instead("test it first: if (%s != null) ..., or go on with ?. where null will do", name)
	case name != "this" && c.Moment:
		f.Instead("test it first: if (%s != null) ..., or give another value: ?? ...", name)
	case name != "this":
		f.Instead("test it first (when %s != null { ... }), or give another value: ?? ...", name)
	case isNumberOf(x):
		f.Instead("write %s ?? 0, or what else is meant where it is no number", c.Scope.Text(x.Span()))
	case c.Moment:
		f.Instead("keep it and test it: const it = ..., if (it != null) ...; or go on with ?. and give another value with ??")
	default:
		f.Instead("go on with ?. behind it, and give another value with ??")
	}
	c.Report(f)
}

func isNumberOf(x Expr) bool {
	b, ok := x.(*Builtin)
	return ok && b.Name == "Number"
}

// present is the type of x without null, which is reported.
func (c *Checker) present(x Expr, what string) Type {
	t := x.Type()
	if Nullable(t) && Under(t) != Any {
		c.mayBeNull(x, what)
	}
	return NonNull(t)
}

// Condition types what stands where true or false is asked for.
func (c *Checker) Condition(e syntax.Expr) Expr {
	x := c.Expr(e, Boolean)
	c.true(x, "a condition is")
	return x
}

func (c *Checker) name(e *syntax.Name, want Type) Expr {
	switch e.Text {
	case "true", "false":
		v := value.Bool(e.Text == "true")
		return &Const{typed{Literal{v}, e.Span()}, v}
	case "null":
		return &Const{typed{Null, e.Span()}, value.Null{}}
	}
	s := c.lookup(e.Text)
	if s == nil {
		c.Scope.Missing(e)
		return unknown(e.Span())
	}
	if !c.Scope.IsValue(e, s, want) {
		return unknown(e.Span())
	}
	return c.refine(&Ref{typed{s.Type(), e.Span()}, s})
}

// refine gives x the type that tests before it have shown.
func (c *Checker) refine(x Expr) Expr {
	p, ok := pathOf(x)
	if !ok {
		return x
	}
	if t := c.Facts.lookup(p); t != nil {
		switch x := x.(type) {
		case *Ref:
			x.typ = t
		case *Dot:
			x.typ = t
		case *Select:
			x.typ = t
		}
	}
	return x
}

func (c *Checker) template(e *syntax.Template) Expr {
	t := &Template{typed: typed{String, e.Span()}}
	for i := range e.Texts {
		t.Texts = append(t.Texts, e.Plain(i))
	}
	for _, part := range e.Exprs {
		x := c.Expr(part, nil)
		c.printable(x)
		t.Exprs = append(t.Exprs, x)
	}
	if len(t.Exprs) == 0 {
		v := value.String(t.Texts[0])
		return &Const{typed{Literal{v}, e.Span()}, v}
	}
	return t
}

// printable reports what has no text.
func (c *Checker) printable(x Expr) {
	t := NonNull(x.Type())
	if r, ok := Under(t).(*Record); ok {
		c.Errorf("wrong-type", x.Span(), "%s has no text", Article(t)).Instead("%s", fieldWritten(c.Scope.Text(x.Span()), x, r, Or(String, Number, Boolean)))
		return
	}
	switch t := Widen(c.present(x, "a template prints a value")); {
	case isFunc(Under(t)):
		c.Errorf("wrong-type", x.Span(), "a function has no text").Instead("call it where it gives a value: %s(...); an action gives none", c.Scope.Text(x.Span()))
	case Assignable(t, Or(String, Number, Boolean)):
	case Under(t) == Key && c.Keys:
	case Under(t) == Key:
		c.Errorf("wrong-type", x.Span(), "a key is shown here").Instead("keys may stand in attributes; show something that people can read")
	case isList(t):
		c.Errorf("wrong-type", x.Span(), "a list has no text").Instead("write .join(\", \")")
	default:
		c.Errorf("wrong-type", x.Span(), "%s has no text", Article(t)).Instead("write one of its fields")
	}
}

func isList(t Type) bool {
	_, ok := Under(t).(*List)
	return ok
}

func isRecord(t Type) bool {
	_, ok := Under(NonNull(t)).(*Record)
	return ok
}

// isEvent says whether a value is what an element reports.
func isEvent(t Type) bool {
	r, ok := Under(NonNull(t)).(*Record)
	if !ok {
		return false
	}
	_, key := r.Field("shiftKey")
	return key
}

func isFunc(t Type) bool {
	_, ok := t.(*Func)
	return ok
}

func (c *Checker) list(e *syntax.ListLit, want Type) Expr {
	l := &ListOf{}
	elem, wanted := Type(Never), Type(nil)
	if want, ok := Under(NonNull(orNever(want))).(*List); ok {
		wanted = want.Elem
	}
	for _, item := range e.Items {
		if s, ok := item.(*syntax.SpreadExpr); ok {
			x := c.Expr(s.X, want)
			t, ok := Under(c.present(x, "... spreads a list")).(*List)
			if !ok {
				if Under(x.Type()) != Any && !Nullable(x.Type()) {
					c.Errorf("wrong-type", x.Span(), "... spreads a list, but this is %s", Article(x.Type())).Instead("write it without ...")
				}
				t = &List{Any}
			}
			l.Items = append(l.Items, Item{x, true})
			elem = join(elem, t.Elem)
			continue
		}
		x := c.Expr(item, wanted)
		l.Items = append(l.Items, Item{x, false})
		elem = join(elem, x.Type())
	}
	l.typed = typed{&List{elem}, e.Span()}
	if wanted == nil {
		l.typ = freshList(l)
		return l
	}
	if Assignable(elem, wanted) && elem != Never {
		elem = wanted
	}
	l.typed = typed{&List{elem}, e.Span()}
	return l
}

func orNever(t Type) Type {
	if t == nil {
		return Never
	}
	return t
}

// join is the type of either of two values.
func join(a, b Type) Type {
	switch {
	case a == Never:
		return b
	case Assignable(b, a):
		return a
	case Assignable(a, b):
		return b
	}
	return Or(a, b)
}

func (c *Checker) record(e *syntax.RecordLit, want Type) Expr {
	r := &RecordOf{}
	t := &Record{}
	shapes := recordsOf(want)
	for _, f := range e.Fields {
		if f.Name == nil {
			c.spread(r, t, f.Value)
			continue
		}
		name := f.Name.Text
		for i, n := range r.Names {
			if n == name && !Nullable(t.Fields[max(0, fieldAt(t, name))].Type) && e.Fields[i].Name != nil {
				c.Errorf("declared-twice", f.Name.Span(), "the field %s is given twice", name).Instead("remove one of them")
			}
		}
		v := f.Value
		if v == nil {
			v = &syntax.Name{At: f.Name.At, Text: name}
		}
		x := c.Expr(v, wantedField(shapes, name))
		if shapes != nil && !anyHas(shapes, name) {
			c.unknownField(f.Name, shapes)
		}
		r.Names, r.Values = append(r.Names, name), append(r.Values, x)
		t.set(name, x.Type())
	}
	r.typed = typed{t, e.Span()}
	if shapes == nil {
		r.typ = freshRecord(r)
	}
	for _, s := range shapes {
		if Assignable(t, s) {
			r.typ = s
			if len(shapes) == 1 && want != nil {
				r.typ = NonNull(want)
			}
		}
	}
	return r
}

func fieldAt(t *Record, name string) int {
	for i, f := range t.Fields {
		if f.Name == name {
			return i
		}
	}
	return -1
}

func (r *Record) set(name string, t Type) {
	if i := fieldAt(r, name); i >= 0 {
		r.Fields[i] = Field{name, t, false}
		return
	}
	r.Fields = append(r.Fields, Field{name, t, false})
}

func (c *Checker) spread(r *RecordOf, t *Record, e syntax.Expr) {
	x := c.Expr(e, nil)
	r.Names, r.Values = append(r.Names, ""), append(r.Values, x)
	from, ok := Under(c.present(x, "... spreads a record")).(*Record)
	if !ok {
		if Under(x.Type()) != Any && !Nullable(x.Type()) {
			c.Errorf("wrong-type", x.Span(), "... spreads a record here, but this is %s", Article(x.Type())).Instead("write name: value")
		}
		return
	}
	for _, f := range from.Fields {
		if i := fieldAt(t, f.Name); i >= 0 {
			if !f.Optional {
				t.Fields[i] = f
			}
			continue
		}
		t.Fields = append(t.Fields, f)
	}
}

// recordsOf are the records that a place accepts.
func recordsOf(want Type) []*Record {
	var list []*Record
	if want == nil {
		return nil
	}
	for _, m := range Members(want) {
		if r, ok := Under(m).(*Record); ok {
			list = append(list, r)
		}
	}
	return list
}

func wantedField(shapes []*Record, name string) Type {
	var list []Type
	for _, s := range shapes {
		if f, ok := s.Field(name); ok {
			list = append(list, f.Read())
		}
	}
	if list == nil {
		return nil
	}
	return Or(list...)
}

func anyHas(shapes []*Record, name string) bool {
	return wantedField(shapes, name) != nil
}

func (c *Checker) unknownField(name *syntax.Word, shapes []*Record) {
	var names []string
	for _, s := range shapes {
		for _, f := range s.Fields {
			names = append(names, f.Name)
		}
	}
	c.Errorf("wrong-type", name.Span(), "%s has no field %s", shapes[0], name.Text).
		Instead("%s", DidYouMean(name.Text, names, "its fields are: "))
}

// DidYouMean proposes the nearest name, or lists what there is.
func DidYouMean(word string, names []string, list string) string {
	if near := finding.Nearest(word, names); near != "" {
		return "did you mean " + near + "?"
	}
	if len(names) == 0 {
		return "there is none"
	}
	if len(names) > 12 {
		names = append(append([]string(nil), names[:12]...), "…")
	}
	return list + strings.Join(names, ", ")
}

func (c *Checker) unary(e *syntax.Unary) Expr {
	if e.Op == syntax.Not {
		return c.negation(e)
	}
	x := c.Want(e.X, Number, "- takes")
	if k, ok := x.(*Const); ok && k.Value.Kind() == value.NumberKind {
		v := 0 - k.Value.(value.Number)
		return &Const{typed{Literal{v}, e.Span()}, v}
	}
	return &Unary{typed{Number, e.Span()}, e.Op, x}
}

func (c *Checker) cond(e *syntax.Cond, want Type) Expr {
	test := c.Condition(e.C)
	facts := c.Facts
	c.Facts = facts.Assume(test, true)
	x := c.Expr(e.X, want)
	c.Facts = facts.Assume(test, false)
	y := c.Expr(e.Y, want)
	c.Facts = facts
	return &Cond{typed{join(x.Type(), y.Type()), e.Span()}, test, x, y}
}

func (c *Checker) arrow(e *syntax.Arrow, want Type) Expr {
	f, ok := Under(NonNull(orNever(want))).(*Func)
	if !ok {
		c.Errorf("wrong-type", e.Span(), "a function cannot stand here").
			Instead("functions are passed to methods such as map and filter, or linked to a takes of function type")
		return unknown(e.Span())
	}
	done := c.Open()
	defer done()
	l := &Lambda{}
	for i, p := range e.Params {
		t := Type(Any)
		if i < len(f.Params) {
			t = f.Params[i].Read()
		} else if len(l.Params) == len(f.Params) {
			c.Errorf("wrong-type", p.Span(), "this function gets %s", finding.Count(len(f.Params), "value")).Instead("remove %s", p.Name.Text)
		}
		l.Params = append(l.Params, c.Declare(p.Name, t))
	}
	result := f.Result
	if result == Void {
		result = nil
	}
	l.Body = c.Expr(e.Body, result)
	gives := l.Body.Type()
	if result != nil && result != Any && !c.Fits(l.Body, result, "this function gives") {
		gives = Any
	}
	params := make([]Param, min(len(l.Params), len(f.Params)))
	for i, p := range l.Params[:len(params)] {
		params[i] = Param{Name: p.Label, Type: p.Typ}
	}
	l.typed = typed{&Func{params, gives}, e.Span()}
	return l
}
