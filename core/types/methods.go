package types

import (
	"strings"

	"lien/core/source"
	"lien/core/syntax"
)

// The methods of strings, numbers and lists are ECMA-262's of the same names.

// stringMethods gives each method's parameters and result; a parameter whose
// name ends in ? may be left out.
var stringMethods = map[string]signature{
	"trim":        {nil, String},
	"toLowerCase": {nil, String},
	"toUpperCase": {nil, String},
	"includes":    {[]Param{{"part", String, false}}, Boolean},
	"startsWith":  {[]Param{{"part", String, false}}, Boolean},
	"endsWith":    {[]Param{{"part", String, false}}, Boolean},
	"slice":       {[]Param{{"start", Number, true}, {"end", Number, true}}, String},
	"split":       {[]Param{{"separator", String, false}}, &List{String}},
	"indexOf":     {[]Param{{"part", String, false}}, Number},
	"padStart":    {[]Param{{"length", Number, false}, {"fill", String, true}}, String},
	"padEnd":      {[]Param{{"length", Number, false}, {"fill", String, true}}, String},
	"replaceAll":  {[]Param{{"part", String, false}, {"by", String, false}}, String},
	"charCodeAt":  {[]Param{{"i", Number, false}}, Number},
	"at":          {[]Param{{"i", Number, false}}, &Union{[]Type{String, Null}}},
}

var numberMethods = map[string]signature{
	"toFixed": {[]Param{{"decimals", Number, false}}, String},
}

var listMethods = []string{"map", "filter", "find", "findIndex", "findLast", "some", "every", "includes", "indexOf",
	"at", "concat", "slice", "join", "flatMap", "reduce", "toSorted", "toReversed"}

type signature struct {
	params []Param
	result Type
}

func hasMethod(t Type, name string) bool {
	for _, m := range methodsOf(t) {
		if m == name {
			return true
		}
	}
	return false
}

// methodsOf lists the methods of a type.
func methodsOf(t Type) []string {
	t = Widen(NonNull(t))
	switch {
	case isList(t):
		return listMethods
	case t != Never && Assignable(t, String):
		return keys(stringMethods)
	case t != Never && Assignable(t, Number):
		return keys(numberMethods)
	}
	return nil
}

var stringNames = []string{"trim", "toLowerCase", "toUpperCase", "includes", "startsWith", "endsWith", "slice", "split",
	"indexOf", "padStart", "padEnd", "replaceAll", "charCodeAt", "at"}

func keys(m map[string]signature) []string {
	if len(m) == 1 {
		return []string{"toFixed"}
	}
	return stringNames
}

// method types the arguments of a method call on a value of type t, and gives its result.
func (c *Checker) method(m *Method, e *syntax.Call, t Type, want Type) Type {
	l, ok := Under(t).(*List)
	if !ok {
		sig := stringMethods[m.Name]
		if Assignable(t, Number) {
			sig = numberMethods[m.Name]
		}
		m.Args = c.ownArgs(e.Args, e.Span(), sig.params, m.Name)
		return sig.result
	}
	return c.listMethod(m, e, l, want)
}

func (c *Checker) listMethod(m *Method, e *syntax.Call, l *List, want Type) Type {
	if c.itemLeftOut(m, e, l.Elem) {
		return Any
	}
	args := func(params ...Param) []Expr {
		m.Args = c.ownArgs(e.Args, e.Span(), params, m.Name)
		return m.Args
	}
	test := Param{"test", callback(l.Elem, Boolean), false}
	switch m.Name {
	case "map":
		var elem Type = Any
		if w, ok := Under(orNever(want)).(*List); ok {
			elem = w.Elem
		}
		got := lambdaResult(c.mapped(m, e, l.Elem, elem))
		if elem != Any && Assignable(got, elem) {
			return &List{elem}
		}
		return &List{got}
	case "flatMap":
		if r, ok := Under(lambdaResult(args(Param{"f", callback(l.Elem, &List{Any}), false}))).(*List); ok {
			return &List{r.Elem}
		}
		return &List{Any}
	case "filter":
		return &List{c.kept(args(test), l.Elem)}
	case "find", "findLast":
		return Or(c.kept(args(test), l.Elem), Null)
	case "some", "every":
		args(test)
		return Boolean
	case "findIndex":
		args(test)
		return Number
	case "includes", "indexOf":
		return c.searched(m, e, l)
	case "at":
		args(Param{"i", Number, false})
		return Or(l.Elem, Null)
	case "slice":
		args(Param{"start", Number, true}, Param{"end", Number, true})
		return l
	case "join":
		args(Param{"separator", String, true})
		return c.joined(m, e, l)
	case "reduce":
		return c.reduced(m, e, l, want)
	case "concat":
		return c.concatenated(m, e, l)
	case "toSorted":
		args(Param{"compare", &Func{[]Param{{"a", l.Elem, false}, {"b", l.Elem, false}}, Number}, false})
	case "toReversed":
		args()
	}
	return l
}

// itemLeftOut reports filter(kg > 1), a callback that names fields of the item and not the item.
func (c *Checker) itemLeftOut(m *Method, e *syntax.Call, elem Type) bool {
	record, ok := Under(NonNull(elem)).(*Record)
	head, items := "", []string{"x."}
	switch m.Name {
	case "map", "filter", "find", "findIndex", "findLast", "some", "every", "flatMap":
		head = "x => "
	case "reduce":
		head = "(sum, x) => sum + "
	case "toSorted":
		head, items = "(a, b) => ", []string{"a.", "b."}
	}
	if !ok || head == "" || len(e.Args) == 0 {
		return false
	}
	at := e.Args[0].Span()
	texts := make([]string, len(items))
	left, known := at.Start, true
	syntax.Walk(e.Args[0], func(n syntax.Node) bool {
		if _, arrow := n.(*syntax.Arrow); arrow {
			known = false
		}
		name, ok := n.(*syntax.Name)
		if !ok || !known || c.lookup(name.Text) != nil {
			return known
		}
		if _, field := record.Field(name.Text); !field {
			known = false
			return false
		}
		for i, item := range items {
			texts[i] += c.Scope.Text(source.Span{Start: left, End: name.Start}) + item
		}
		left = name.Start
		return true
	})
	if !known || texts[0] == "" {
		return false
	}
	for i := range texts {
		texts[i] += c.Scope.Text(source.Span{Start: left, End: at.End})
	}
	write := head + strings.Join(texts, " - ")
	if m.Name == "reduce" && len(e.Args) == 1 {
		write += ", 0"
	}
	c.Errorf("wrong-type", at, "%s takes a function of each item", m.Name).
		Instead("write %s(%s)", m.Name, write).Mend("name the item", at, write)
	m.Args = []Expr{unknown(at)}
	return true
}

// callback is the type of a function over items, which may take the index too.
func callback(elem, result Type) *Func {
	return &Func{[]Param{{"item", elem, false}, {"index", Number, false}}, result}
}

// mapped types the callback of map: where a list of known items is wanted,
// they guide it, but what does not fit is reported at the place that wants them.
func (c *Checker) mapped(m *Method, e *syntax.Call, item, elem Type) []Expr {
	if arrow, ok := first(e.Args).(*syntax.Arrow); ok && elem != Any && len(e.Args) == 1 {
		m.Args = []Expr{c.guided(arrow, item, elem)}
		return m.Args
	}
	m.Args = c.ownArgs(e.Args, e.Span(), []Param{{"f", callback(item, Any), false}}, m.Name)
	return m.Args
}

// guided types an arrow function whose result should be elem.
func (c *Checker) guided(arrow *syntax.Arrow, item, elem Type) Expr {
	done := c.Open()
	defer done()
	l := &Lambda{}
	types := []Type{item, Number}
	for i, p := range arrow.Params {
		t := Type(Any)
		if i < len(types) {
			t = types[i]
		}
		l.Params = append(l.Params, c.Declare(p.Name, t))
	}
	l.Body = c.Expr(arrow.Body, elem)
	l.typed = typed{callback(item, l.Body.Type()), arrow.Span()}
	return l
}

func first(args []syntax.Expr) syntax.Expr {
	if len(args) == 0 {
		return nil
	}
	return args[0]
}

func lambdaResult(args []Expr) Type {
	if len(args) == 0 {
		return Any
	}
	if l, ok := args[0].(*Lambda); ok {
		return Fresh(l.Body)
	}
	if f, ok := Under(args[0].Type()).(*Func); ok {
		return f.Result
	}
	return Any
}

// kept is the type of the items that pass a test: xs.filter(x => x != null)
// leaves null out.
func (c *Checker) kept(args []Expr, elem Type) Type {
	if len(args) == 0 {
		return elem
	}
	l, ok := args[0].(*Lambda)
	if !ok || len(l.Params) == 0 {
		return elem
	}
	var none *Facts
	if t := none.Assume(l.Body, true).lookup(path{l.Params[0], ""}); t != nil {
		return t
	}
	return elem
}

// searched types includes and indexOf, which compare by value.
func (c *Checker) searched(m *Method, e *syntax.Call, l *List) Type {
	m.Args = c.ownArgs(e.Args, e.Span(), []Param{{"item", Any, false}}, m.Name)
	if len(m.Args) > 0 && !Comparable(Widen(m.Args[0].Type()), l.Elem) {
		c.Errorf("wrong-type", m.Args[0].Span(), "the list holds %s, but this is %s", l.Elem, Article(Widen(m.Args[0].Type()))).
			Instead("look for a value of type %s", l.Elem)
	}
	if m.Name == "includes" {
		return Boolean
	}
	return Number
}

func (c *Checker) joined(m *Method, e *syntax.Call, l *List) Type {
	if !Assignable(l.Elem, Or(String, Number, Boolean)) {
		c.Errorf("wrong-type", e.Span(), "join prints texts and numbers, but the list holds %s", l.Elem).Instead("write .map(x => ...) before .join")
	}
	return String
}

func (c *Checker) concatenated(m *Method, e *syntax.Call, l *List) Type {
	elem := l.Elem
	for _, a := range e.Args {
		x := c.Expr(a, l)
		if o, ok := Under(x.Type()).(*List); ok {
			elem = join(elem, o.Elem)
		} else {
			c.Fits(x, l, "concat takes")
		}
		m.Args = append(m.Args, x)
	}
	return &List{elem}
}

// reduced types reduce(f, first): the first value says what is built.
func (c *Checker) reduced(m *Method, e *syntax.Call, l *List, want Type) Type {
	if len(e.Args) != 2 {
		c.Errorf("payload-differs", e.Span(), "reduce takes a function and a first value").Instead("write reduce((sum, x) => ..., first)")
		return Any
	}
	start := c.Expr(e.Args[1], want)
	acc := Fresh(start)
	if want != nil && Assignable(start.Type(), want) {
		acc = want
	}
	f := &Func{[]Param{{"sum", acc, false}, {"item", l.Elem, false}, {"index", Number, false}}, acc}
	m.Args = []Expr{c.Want(e.Args[0], f, "reduce takes"), start}
	return acc
}
