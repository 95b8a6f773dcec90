package types

import (
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/value"
)

func (c *Checker) binary(e *syntax.Binary, want Type) Expr {
	switch e.Op {
	case syntax.And, syntax.Or:
		return c.logical(e, want)
	case syntax.Coalesce:
		return c.coalesce(e, want)
	case syntax.Equal, syntax.NotEqual:
		return c.equality(e)
	case syntax.Less, syntax.LessEq, syntax.Greater, syntax.GreaterEq:
		x, y := c.Expr(e.X, nil), c.Expr(e.Y, nil)
		c.alike(e, x, y, e.Op.String()+" compares")
		return &Binary{typed{Boolean, e.Span()}, e.Op, x, y}
	case syntax.Plus:
		x, y := c.Expr(e.X, nil), c.Expr(e.Y, nil)
		t := c.alike(e, x, y, "+ adds")
		return &Binary{typed{t, e.Span()}, e.Op, x, y}
	}
	x := c.Want(e.X, Number, e.Op.String()+" takes")
	y := c.Want(e.Y, Number, e.Op.String()+" takes")
	result := Type(Number)
	if x.Type() == Any || y.Type() == Any {
		result = Any // of what is not known nothing is told
	}
	return &Binary{typed{result, e.Span()}, e.Op, x, y}
}

// alike checks the sides of + and <, which are two numbers or two strings.
func (c *Checker) alike(e *syntax.Binary, x, y Expr, what string) Type {
	a, b := Widen(c.present(x, what+" two values")), Widen(c.present(y, what+" two values"))
	switch {
	case a == Any || b == Any:
		return Any
	case Assignable(a, Number) && Assignable(b, Number):
		return Number
	case Assignable(a, String) && Assignable(b, String):
		return String
	}
	f := c.Errorf("wrong-type", e.Span(), "%s two numbers or two strings, but here are %s and %s", what, Article(a), Article(b))
	if e.Op == syntax.Plus && (Assignable(a, String) || Assignable(b, String)) {
		f.Instead("put them into one template: `${...}${...}`; to add numbers, turn the text into one: Number(...) ?? 0")
		return Any
	}
	if e.Op == syntax.Plus && isList(a) {
		more := c.Scope.Text(e.Y.Span())
		if isList(b) {
			more = "..." + more
		}
		f.Instead("write a new list: [...%s, %s]", c.Scope.Text(e.X.Span()), more)
		return a
	}
	f.Instead("turn one side into the type of the other")
	return Any
}

func (c *Checker) logical(e *syntax.Binary, want Type) Expr {
	x := c.Expr(e.X, Boolean)
	if e.Op == syntax.Or && c.otherValue(e, x) {
		return &Binary{typed{Any, e.Span()}, e.Op, x, c.Expr(e.Y, nil)}
	}
	c.true(x, e.Op.String()+" joins conditions: each side is")
	facts := c.Facts
	c.Facts = facts.Assume(x, e.Op == syntax.And)
	y := c.Expr(e.Y, Boolean)
	c.Facts = facts
	if e.Op == syntax.And && Under(want) != Boolean && Assignable(x.Type(), Boolean) && c.onlyWhere(e, y) {
		return &Binary{typed{Any, e.Span()}, e.Op, x, y}
	}
	c.true(y, e.Op.String()+" joins conditions: each side is")
	return &Binary{typed{Boolean, e.Span()}, e.Op, x, y}
}

// otherValue reports || where it is to give another value: in ECMAScript it does, of what is empty.
func (c *Checker) otherValue(e *syntax.Binary, x Expr) bool {
	t := x.Type()
	op := source.Span{Start: e.OpPos, End: e.OpPos + 2}
	switch {
	case t == Any || Assignable(t, Or(Boolean, Null)) || Under(t) == Null:
		return false
	case Nullable(t):
		c.Errorf("wrong-type", op, "|| joins conditions; it gives no other value").
			Instead("write ??, which gives the right side where the left one is null").Mend("write ??", op, "??")
	default:
		test := emptiness(t)
		if test == "" {
			return false
		}
		f := c.Errorf("wrong-type", op, "|| joins conditions; it gives no other value")
		f.Instead("write %s%s ? %[1]s : ...", nameOf(x), test)
		if _, path := pathOf(x); path {
			f.Mend("choose with ?:", op, strings.TrimSpace(test)+" ? "+nameOf(x)+" :")
		}
	}
	return true
}

// onlyWhere reports && where it is to give a value only under a condition.
func (c *Checker) onlyWhere(e *syntax.Binary, y Expr) bool {
	t := y.Type()
	if t == Any || Assignable(t, Or(Boolean, Null)) || !Assignable(t, Or(String, Number)) {
		return false
	}
	op := source.Span{Start: e.OpPos, End: e.OpPos + 2}
	f := c.Errorf("wrong-type", op, "&& joins conditions; it gives no value").
		Instead("write ... ? ... : null, or show it in a when").Mend("choose with ?:", op, "?")
	end := e.Y.Span().End
	f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: end, End: end}, Text: " : null"})
	return true
}

// emptiness is the test by which ECMAScript takes a value of a type for true, or "".
func emptiness(t Type) string {
	switch _, list := Under(t).(*List); {
	case Nullable(t):
		return " != null"
	case Assignable(t, String):
		return ` != ""`
	case Assignable(t, Number):
		return " != 0"
	case list:
		return ".length > 0"
	}
	return ""
}

// standsAlone says whether a value needs no parentheses before an operator.
func standsAlone(x Expr) bool {
	switch x.(type) {
	case *Ref, *Dot, *Select, *Method, *At, *Apply, *Builtin:
		return true
	}
	return false
}

// true reports what is no boolean where a condition is wanted: it is to be compared.
func (c *Checker) true(x Expr, what string) {
	t := x.Type()
	if Assignable(t, Boolean) {
		return
	}
	test := emptiness(t)
	if !standsAlone(x) || test == "" || t == Any {
		c.Fits(x, Boolean, what)
		return
	}
	end := x.Span().End
	c.Errorf("wrong-type", x.Span(), "%s %s, but this is %s", what, Article(Boolean), Article(Widen(t))).
		Instead("compare it: %s%s", c.Scope.Text(x.Span()), test).
		Mend("compare it", source.Span{Start: end, End: end}, test)
}

// negation types !x; what is no boolean is to be compared.
func (c *Checker) negation(e *syntax.Unary) Expr {
	x := c.Expr(e.X, Boolean)
	t := x.Type()
	test := map[string]string{" != null": " == null", ` != ""`: ` == ""`, " != 0": " == 0", ".length > 0": ".length == 0"}[emptiness(t)]
	if _, path := pathOf(x); !Assignable(t, Boolean) && path && test != "" && t != Any {
		c.Errorf("wrong-type", x.Span(), "! turns round a boolean, but this is %s", Article(Widen(t))).
			Instead("compare it: %s%s", nameOf(x), test).
			Mend("compare it", e.Span(), nameOf(x)+test)
	} else {
		c.Fits(x, Boolean, "! turns round")
	}
	return &Unary{typed{Boolean, e.Span()}, e.Op, x}
}

func (c *Checker) coalesce(e *syntax.Binary, want Type) Expr {
	x := c.Expr(e.X, want)
	if want == nil && !Nullable(x.Type()) {
		want = x.Type()
	}
	facts := c.Facts
	c.Facts = facts.equal(x, &Const{typed{Null, e.Span()}, value.Null{}}, true)
	y := c.Expr(e.Y, want)
	c.Facts = facts
	if t := x.Type(); !Nullable(t) && t != Any {
		c.note(e, "the left side of ?? is never null, so the right side is never used").Instead("remove ?? and what follows it")
	}
	return &Binary{typed{join(NonNull(x.Type()), y.Type()), e.Span()}, e.Op, x, y}
}

func (c *Checker) note(e *syntax.Binary, format string, args ...any) *finding.Finding {
	f := finding.New("always-so", finding.Note, e.Span(), format, args...)
	c.Report(f)
	return f
}

func (c *Checker) equality(e *syntax.Binary) Expr {
	x := c.turned(e)
	y := c.Expr(e.Y, x.Type())
	a, b := x.Type(), y.Type()
	switch {
	case a == Any || b == Any:
	case !Storable(a) || !Storable(b):
		if !Nullable(a) && !Nullable(b) {
			c.Errorf("wrong-type", e.Span(), "functions and instances cannot be compared").Instead("compare what they say: a field or a member")
		}
	case Under(b) == Null && !Nullable(a) || Under(a) == Null && !Nullable(b):
		c.note(e, "%s is never null, so this is always %v", Article(Widen(a)), e.Op == syntax.NotEqual).Instead("remove the test")
	case !Comparable(Widen(a), Widen(b)):
		c.Errorf("wrong-type", e.Span(), "%s never equals %s", Article(Widen(a)), Article(Widen(b))).Instead("%s", c.comparison(x, y))
	case !Comparable(a, b):
		c.unequal(e, a, b)
	}
	return &Binary{typed{Boolean, e.Span()}, e.Op, x, y}
}

// turned types the left side of a comparison, and reports !a == b, where a != b is meant.
func (c *Checker) turned(e *syntax.Binary) Expr {
	not, ok := e.X.(*syntax.Unary)
	if !ok || not.Op != syntax.Not || e.Op != syntax.Equal {
		return c.Expr(e.X, nil)
	}
	x := c.Expr(not.X, nil)
	if t := NonNull(x.Type()); t == Any || Assignable(t, Boolean) {
		return &Unary{typed{Boolean, not.Span()}, not.Op, x}
	}
	at := source.Span{Start: e.OpPos, End: e.OpPos + 2}
	f := c.Errorf("wrong-type", not.Span(), "! turns round what stands right behind it, and not the comparison").
		Instead("write %s != %s", c.Scope.Text(not.X.Span()), c.Scope.Text(e.Y.Span()))
	f.Fix = &finding.Fix{Title: "write !=", Edits: []finding.Edit{{Span: source.Span{Start: not.Span().Start, End: not.X.Span().Start}}, {Span: at, Text: "!="}}}
	return x
}

// callable are the members of an instance that a statement can call.
func callable(of Owner) (names []string) {
	for _, name := range of.Reachable() {
		if f, is := Under(of.Reach(name).Type()).(*Func); is && f.Result == Void {
			names = append(names, name)
		}
	}
	return names
}

// unreached says what to write for a member that cannot be reached.
func unreached(name string, of Owner) string {
	if kept := of.Kept(name); kept != "" {
		return kept
	}
	names := of.Reachable()
	if len(names) == 0 {
		return "declare it there, and write offers " + name + " in it"
	}
	return DidYouMean(name, names, "it has: ")
}

// comparison says how two values of different types can be compared.
func (c *Checker) comparison(x, y Expr) string {
	for _, s := range [][2]Expr{{x, y}, {y, x}} {
		one, other := s[0], NonNull(Widen(s[1].Type()))
		if r, ok := Under(NonNull(one.Type())).(*Record); ok {
			for _, f := range r.Fields {
				if Identical(Widen(f.Read()), other) {
					return "compare a field of it, such as " + nameOr(one, "it") + "." + f.Name
				}
			}
		}
		lit, ok := one.Type().(Literal)
		if !ok {
			continue
		}
		switch text := lit.String(); {
		case other == Number && text == `""`:
			return "compare it with a number, such as 0; what may be missing is number?, and compared with null"
		case other == Number:
			return "compare it with a number: " + strings.Trim(text, `"`)
		case other == String:
			return "compare it with a text: \"" + text + "\""
		case other == Boolean:
			return "it is true or false by itself: write " + nameOr(s[1], "it") + ", or !" + nameOr(s[1], "it")
		}
	}
	return "compare values of one type"
}

// nameOr is what an expression is called where it is a name or a path, else a word for it.
func nameOr(x Expr, word string) string {
	if p, ok := pathOf(x); ok {
		return p.root.Name() + p.rest
	}
	return word
}

// unequal reports a literal that is none of the values that the other side can have.
func (c *Checker) unequal(e *syntax.Binary, a, b Type) {
	lit, other := b, a
	if _, ok := lit.(Literal); !ok {
		lit, other = a, b
	}
	var names []string
	for _, m := range Members(other) {
		names = append(names, m.String())
	}
	c.Errorf("wrong-type", e.Span(), "%s is not one of %s", lit, other).
		Instead("%s", DidYouMean(lit.String(), names, "it can be: "))
}

func (c *Checker) dotted(e *syntax.Dotted) Expr {
	if m := c.mathCall(e); m != nil {
		name := m.Text + "." + e.Name.Text
		if write := foreignStatics[name]; write != "" {
			c.Errorf("not-in-scope", e.Span(), "there is no %s", name).Instead("%s", write)
			return unknown(e.Span())
		}
		c.Errorf("wrong-type", e.Span(), "a function of %s is called", m.Text).Instead("write %s(...)", name)
		return unknown(e.Span())
	}
	x := c.Expr(e.X, nil)
	t := x.Type()
	optional := e.Optional || passesNull(x)
	if Under(t) == Any {
		return unknown(e.Span())
	}
	if optional && !Nullable(t) {
		optional = false
	}
	if !optional {
		t = c.present(x, "."+e.Name.Text+" is read from it")
	} else {
		t = NonNull(t)
	}
	if t == Never { // no value gets here
		return unknown(e.Span())
	}
	result := c.memberOf(e, x, t, optional)
	return c.refine(result)
}

// memberOf reads a field of a record, a member of an instance, or length.
func (c *Checker) memberOf(e *syntax.Dotted, x Expr, t Type, optional bool) Expr {
	name := e.Name.Text
	read := func(t Type) typed {
		if optional {
			t = Or(t, Null)
		}
		return typed{t, e.Span()}
	}
	if in, ok := Under(t).(Instance); ok {
		if m := in.Of.Reach(name); m != nil {
			return &Select{read(m.Type()), x, m, optional}
		}
		if c.Called != nil && c.Called.Fun == syntax.Expr(e) && in.Of.Kept(name) == "" {
			if names := callable(in.Of); len(names) > 0 {
				c.Errorf("not-in-scope", e.Name.Span(), "%s has no %s that can be called here", in, name).
					Instead("%s", DidYouMean(name, names, "it can do: "))
				return unknown(e.Span())
			}
		}
		c.Errorf("not-in-scope", e.Name.Span(), "%s has no %s that can be read here", in, name).
			Instead("%s", unreached(name, in.Of))
		return unknown(e.Span())
	}
	if kinds := kindsOf(t); kinds != nil {
		return c.commonMember(e, x, kinds, optional, nil)
	}
	if name == "length" && (isList(t) || Assignable(t, String)) {
		return &Method{typed: read(Number), Recv: x, Name: name, Optional: optional}
	}
	if ft := FieldOf(t, name); ft != nil {
		return &Dot{read(ft), x, name, optional}
	}
	c.noField(e, t)
	return unknown(e.Span())
}

// passesNull says whether x is null only where a ?. in it met null: what
// follows is then skipped too, as in ECMAScript's optional chains.
func passesNull(x Expr) bool {
	switch x := x.(type) {
	case *Dot:
		if t := FieldOf(NonNull(x.X.Type()), x.Name); t != nil {
			return x.Optional && !Nullable(t)
		}
	case *Select:
		return x.Optional && !Nullable(x.Member.Type())
	case *Method:
		return x.Optional && !x.MayBeNull
	}
	return false
}

// FieldOf is the type of a field that every member of t has, or nil.
func FieldOf(t Type, name string) Type {
	var list []Type
	for _, m := range Members(t) {
		r, ok := Under(m).(*Record)
		if !ok {
			return nil
		}
		f, ok := r.Field(name)
		if !ok {
			return nil
		}
		list = append(list, f.Read())
	}
	return Or(list...)
}

func (c *Checker) noField(e *syntax.Dotted, t Type) {
	name := e.Name.Text
	called := c.Called != nil && c.Called.Fun == syntax.Expr(e)
	switch {
	case called && hasMethod(t, name):
		c.Errorf("wrong-type", e.Span(), "%s works out a value, and changes nothing", name).
			Instead("use the value: %s = %[1]s.%s(...), or const x = ...", c.Scope.Text(e.X.Span()), name)
		return
	case called && FieldOf(t, name) == nil:
		c.noMethod(e, t)
		return
	case hasMethod(t, name):
		c.Errorf("wrong-type", e.Span(), "%s is a method", name).Instead("call it: .%s(...)", name)
		return
	}
	var names []string
	for _, m := range Members(t) {
		if r, ok := Under(m).(*Record); ok {
			for _, f := range r.Fields {
				names = append(names, f.Name)
			}
		}
	}
	write, known := "", false
	if names == nil {
		names = methodsOf(t)
		write, known = foreignMethods[name]
	}
	f := c.Errorf("not-in-scope", e.Name.Span(), "%s has no field %s", Article(t), name).
		Instead("%s", DidYouMean(name, names, "it has: "))
	if isEvent(t) && (name == "target" || name == "currentTarget" || name == "detail") {
		f.Instead("write %s.value, .checked or .key", c.Scope.Text(e.X.Span()))
	}
	if known && names != nil {
		f.Instead("%s", strings.ReplaceAll(write, "{list}", c.Scope.Text(e.X.Span())))
	}
}

func (c *Checker) index(e *syntax.Index) Expr {
	x := c.Expr(e.X, nil)
	i := c.Want(e.I, Number, "an index is")
	t := NonNull(x.Type())
	optional := e.Optional || passesNull(x)
	if !optional {
		t = c.present(x, "[ ] is read from it")
	}
	switch l, ok := Under(t).(*List); {
	case ok && c.onTheWay(e):
		return &At{typed{l.Elem, e.Span()}, x, i, optional}
	case ok:
		return &At{typed{Or(l.Elem, Null), e.Span()}, x, i, optional}
	case t == Any || t == Never:
	case Assignable(t, String):
		c.Errorf("wrong-type", e.Span(), "[ ] reads lists").Instead("write .at(i) or .slice(i, i + 1)")
	default:
		c.Errorf("wrong-type", e.Span(), "[ ] reads lists, but this is %s", Article(t)).Instead("write .name for a field")
	}
	return unknown(e.Span())
}
