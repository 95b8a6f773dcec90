package types

import (
	"fmt"
	"sort"
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
)

// call types f(args): a method, a function of the language, or a function
// that the design has.
func (c *Checker) call(e *syntax.Call, want Type) Expr {
	switch fun := e.Fun.(type) {
	case *syntax.Name:
		if c.lookup(fun.Text) == nil {
			if x, ok := c.Scope.Special(c, fun.Text, e); ok {
				return x
			}
			if x, ok := c.builtin(fun.Text, e); ok {
				return x
			}
		}
	case *syntax.Dotted:
		if x := c.mathCall(fun); x != nil {
			return c.static(e, fun)
		}
		return c.methodCall(e, fun, want)
	}
	return c.apply(e, c.Expr(e.Fun, nil))
}

// apply calls a function-typed value in an expression: it must give a result.
func (c *Checker) apply(e *syntax.Call, fun Expr) Expr {
	f, args := c.Callee(e, fun)
	if f == nil {
		return unknown(e.Span())
	}
	if f.Result == Void {
		c.Errorf("wrong-type", e.Span(), "%s is called here, but an expression changes nothing", nameOf(fun)).
			Instead("call it in a handler or action: event -> %s(...)", nameOf(fun))
		return unknown(e.Span())
	}
	if SkipsNull(fun) {
		return &Apply{typed{Or(f.Result, Null), e.Span()}, fun, args, true}
	}
	return &Apply{typed{f.Result, e.Span()}, fun, args, false}
}

// SkipsNull says whether a call of fun is left out where a ?. in it meets null.
func SkipsNull(fun Expr) bool {
	s, ok := fun.(*Select)
	return ok && passesNull(s) && Nullable(s.typ)
}

// Callee types the arguments of a call; it gives nil where fun cannot be called.
func (c *Checker) Callee(e *syntax.Call, fun Expr) (*Func, []Expr) {
	t := fun.Type()
	if Under(t) == Any {
		for _, a := range e.Args {
			c.Expr(a, nil)
		}
		return nil, nil
	}
	if SkipsNull(fun) {
		t = NonNull(t)
	} else {
		t = c.present(fun, "it is called")
	}
	f, ok := Under(t).(*Func)
	if !ok {
		c.Errorf("wrong-type", e.Span(), "%s is %s, which cannot be called", nameOf(fun), Article(Widen(t))).Instead("write it without ( )")
		return nil, nil
	}
	return f, c.Args(e.Args, e.Span(), f.Params, nameOf(fun))
}

func nameOf(e Expr) string {
	if p, ok := pathOf(e); ok {
		return p.root.Name() + p.rest
	}
	return "this"
}

// Args types arguments against parameters, and reports too few and too many.
func (c *Checker) Args(args []syntax.Expr, at source.Span, params []Param, name string) []Expr {
	return c.args(args, at, params, name, c.leftOut)
}

// ownArgs types the arguments of what belongs to the language.
func (c *Checker) ownArgs(args []syntax.Expr, at source.Span, params []Param, name string) []Expr {
	return c.args(args, at, params, name, nil)
}

// tooMany says how a call is written that has fewer values.
func tooMany(name string, params []Param, own bool) string {
	if !own {
		return "write " + name + Params(params) + ", or let it take more where it is declared"
	}
	return "write " + name + "(" + strings.Repeat("..., ", max(0, len(params)-1)) + strings.Repeat("...", min(1, len(params))) + ")"
}

// tooFew names the value that a call lacks.
func tooFew(args []syntax.Expr, params []Param, name string) string {
	return fmt.Sprintf("give %s too: %s%s", params[len(args)].Name, name, Params(params))
}

// args types arguments; leftOut says what to write where some are missing, and is nil for what belongs to the language.
func (c *Checker) args(args []syntax.Expr, at source.Span, params []Param, name string, leftOut func([]syntax.Expr, []Param, string) string) []Expr {
	list := make([]Expr, len(args))
	for i, a := range args {
		if i >= len(params) {
			list[i] = c.Expr(a, nil)
			continue
		}
		list[i] = c.Want(a, params[i].Read(), params[i].Name+" of "+name+" is")
	}
	if len(args) > len(params) {
		c.Errorf("payload-differs", args[len(params)].Span(), "%s takes %s, but %s given", name, finding.Count(len(params), "value"), finding.Are(len(args))).
			Instead("%s", tooMany(name, params, leftOut == nil))
	}
	if leftOut == nil {
		leftOut = tooFew
	}
	if len(args) < len(params) && !params[len(args)].Optional {
		c.Errorf("payload-differs", at, "%s takes %s, but %s given", name, finding.Count(len(params), "value"), finding.Are(len(args))).
			Instead("%s", leftOut(args, params, name))
	}
	return list
}

// leftOut says how a call is written with the values that it lacks.
func (c *Checker) leftOut(args []syntax.Expr, params []Param, name string) string {
	given := make([]string, len(params))
	for i, p := range params {
		switch {
		case i < len(args):
			given[i] = c.Scope.Text(args[i].Span())
		case !p.Optional:
			if given[i] = c.Scope.Offer(p); given[i] == "" {
				return tooFew(args, params, name)
			}
		default:
			given = given[:i]
			return fmt.Sprintf("write %s(%s)", name, strings.Join(given, ", "))
		}
	}
	return fmt.Sprintf("write %s(%s)", name, strings.Join(given, ", "))
}

var numberType = Type(Number)

// builtin types String(x), Number(s), now() and fresh().
func (c *Checker) builtin(name string, e *syntax.Call) (Expr, bool) {
	call := func(t Type, params ...Param) Expr {
		return &Builtin{typed: typed{t, e.Span()}, Name: name, Args: c.ownArgs(e.Args, e.Span(), params, name)}
	}
	switch name {
	case "String":
		return call(String, Param{"x", Or(String, Number, Boolean), false}), true
	case "Number":
		return call(Or(Number, Null), Param{"s", String, false}), true
	case "now", "fresh":
		if !c.Moment {
			c.Errorf("wrong-type", e.Span(), "%s() gives another value each time, so no view or derives can read it", name).
				Instead("keep it in a cell: holds x = %s(), or set one in a handler", name)
		}
		return call(map[string]Type{"now": Number, "fresh": Key}[name]), true
	}
	return nil, false
}

// statics are the functions of Math and Array: how many numbers each takes.
var statics = map[string][2]int{
	"Math.min": {1, 99}, "Math.max": {1, 99}, "Math.round": {1, 1}, "Math.floor": {1, 1},
	"Math.ceil": {1, 1}, "Math.abs": {1, 1}, "Math.trunc": {1, 1},
}

// mathCall is the name before the dot where it is Math or Array, and no name
// of the design hides it.
func (c *Checker) mathCall(d *syntax.Dotted) *syntax.Name {
	n, ok := d.X.(*syntax.Name)
	if ok && (n.Text == "Math" || n.Text == "Array") && c.lookup(n.Text) == nil {
		return n
	}
	return nil
}

// foreignStatics are what ECMAScript has beside these, with what stands for it here.
var foreignStatics = map[string]string{
	"Math.random": "nothing is left to chance in a design, so that it can be run again and proved: ask a service for it",
	"Math.PI":     "write 3.141592653589793", "Math.E": "write 2.718281828459045",
	"Math.pow": "write x * x", "Math.sqrt": "keep the square, and compare squares",
	"Math.sum": "write list.reduce((sum, x) => sum + x, 0)", "Array.isArray": "a type says whether it is a list",
	"Array.of": "write [a, b]",
}

func (c *Checker) static(e *syntax.Call, d *syntax.Dotted) Expr {
	name := d.X.(*syntax.Name).Text + "." + d.Name.Text
	if name == "Array.from" {
		return c.arrayFrom(e)
	}
	arity, ok := statics[name]
	if !ok {
		var names []string
		for s := range statics {
			names = append(names, s)
		}
		sort.Strings(names)
		f := c.Errorf("not-in-scope", d.Span(), "there is no %s", name).Instead("%s", DidYouMean(name, names, "there are: "))
		if write := foreignStatics[name]; write != "" {
			f.Instead("%s", write)
		}
		return unknown(e.Span())
	}
	var params []Param
	for range min(arity[1], max(len(e.Args), arity[0])) {
		params = append(params, Param{"a number", numberType, false})
	}
	return &Builtin{typed: typed{Number, e.Span()}, Name: name, Args: c.ownArgs(e.Args, e.Span(), params, name)}
}

// arrayFrom types Array.from(n, i => e).
func (c *Checker) arrayFrom(e *syntax.Call) Expr {
	f := &Func{[]Param{{"i", Number, false}}, Any}
	args := c.ownArgs(e.Args, e.Span(), []Param{{"n", Number, false}, {"f", f, false}}, "Array.from")
	elem := Type(Any)
	if len(args) == 2 {
		if l, ok := args[1].(*Lambda); ok {
			elem = Fresh(l.Body)
		}
	}
	return &Builtin{typed: typed{&List{elem}, e.Span()}, Name: "Array.from", Args: args}
}

// methodCall types x.m(args).
func (c *Checker) methodCall(e *syntax.Call, d *syntax.Dotted, want Type) Expr {
	x := c.Expr(d.X, nil)
	t := x.Type()
	optional := d.Optional && Nullable(t) || passesNull(x)
	if optional {
		t = NonNull(t)
	} else {
		t = c.present(x, "."+d.Name.Text+"() is called on it")
	}
	switch Under(t) {
	case Never: // no value gets here
		return unknown(e.Span())
	case Any: // of what is called, nothing is known
		for _, a := range e.Args {
			if _, arrow := a.(*syntax.Arrow); !arrow {
				c.Expr(a, nil)
			}
		}
		return unknown(e.Span())
	}
	if kinds := kindsOf(t); kinds != nil {
		return c.commonMember(d, x, kinds, optional, func(fun Expr) Expr { return c.apply(e, fun) })
	}
	if !hasMethod(t, d.Name.Text) {
		if _, instance := Under(t).(Instance); instance || FieldOf(t, d.Name.Text) != nil {
			return c.apply(e, c.memberOf(d, x, t, optional))
		}
		c.noMethod(d, t)
		return unknown(e.Span())
	}
	m := &Method{Recv: x, Name: d.Name.Text, Optional: optional}
	result := c.method(m, e, t, want)
	m.MayBeNull = Nullable(result)
	if optional {
		result = Or(result, Null)
	}
	m.typed = typed{result, e.Span()}
	return m
}

func (c *Checker) noMethod(d *syntax.Dotted, t Type) {
	name := d.Name.Text
	f := c.Errorf("not-in-scope", d.Name.Span(), "%s has no method %s", Article(Widen(t)), name)
	if write, ok := foreignMethods[name]; ok {
		list := "list"
		if n, ok := d.X.(*syntax.Name); ok {
			list = n.Text
		}
		f.Instead("%s", strings.ReplaceAll(write, "{list}", list))
		c.addsInPlace(f, d, list)
		return
	}
	f.Instead("%s", DidYouMean(name, methodsOf(t), "its methods are: "))
	if len(methodsOf(t)) == 0 {
		f.Instead("%s has no methods", Article(Widen(t)))
	}
}

// addsInPlace mends a statement that adds one item to a list in place.
func (c *Checker) addsInPlace(f *finding.Finding, d *syntax.Dotted, list string) {
	_, named := d.X.(*syntax.Name)
	call := c.Called
	if !named || call == nil || call.Fun != syntax.Expr(d) || len(call.Args) != 1 {
		return
	}
	item := c.Scope.Text(call.Args[0].Span())
	switch d.Name.Text {
	case "push", "add", "append":
		f.Mend("write a new list", call.Span(), list+" = [..."+list+", "+item+"]")
	case "unshift":
		f.Mend("write a new list", call.Span(), list+" = ["+item+", ..."+list+"]")
	}
}

// foreignMethods says what to write for methods that change a {list} in place.
var foreignMethods = map[string]string{
	"contains": "write includes(...)", "has": "write includes(...)",
	"push":           "lists never change; write {list} = [...{list}, item]",
	"unshift":        "lists never change; write {list} = [item, ...{list}]",
	"pop":            "lists never change; write {list} = {list}.slice(0, -1)",
	"shift":          "lists never change; write {list} = {list}.slice(1)",
	"splice":         "lists never change; write {list} = {list}.filter((x, i) => ...)",
	"sort":           "write toSorted((a, b) => ...), which gives a new list",
	"reverse":        "write toReversed(), which gives a new list",
	"preventDefault": "remove it: this is a value, not the event; a form that is sent leads to no other page",
	"add":            "lists never change; write {list} = [...{list}, item]",
	"append":         "lists never change; write {list} = [...{list}, item]",
	"insert":         "lists never change; write {list} = [...{list}.slice(0, i), item, ...{list}.slice(i)]",
	"remove":         "lists never change; write {list} = {list}.filter(x => ...), which keeps those that it is true of",
	"delete":         "lists never change; write {list} = {list}.filter(x => ...), which keeps those that it is true of",
	"clear":          "lists never change; write {list} = []",
	"first":          "write {list}.at(0)",
	"last":           "write {list}.at(-1)",
	"size":           "write {list}.length",
	"count":          "write {list}.length",
	"len":            "write {list}.length",
	"length":         "it is a field, and no method: write {list}.length",
	"isEmpty":        "write {list}.length == 0",
	"sum":            "write {list}.reduce((sum, x) => sum + x.kg, 0), with what is to be added up",
	"total":          "write {list}.reduce((sum, x) => sum + x.kg, 0), with what is to be added up",
	"max":            "write {list}.reduce((most, x) => Math.max(most, x), 0)",
	"min":            "write {list}.reduce((least, x) => Math.min(least, x), 1000)",
	"any":            "write {list}.some(x => ...)",
	"exists":         "write {list}.some(x => ...)",
	"all":            "write {list}.every(x => ...)",
	"where":          "write {list}.filter(x => ...)",
	"select":         "write {list}.map(x => ...)",
	"sortBy":         "write {list}.toSorted((a, b) => a.kg - b.kg), which gives a new list",
	"orderBy":        "write {list}.toSorted((a, b) => a.kg - b.kg), which gives a new list",
	"unique":         "write {list}.filter((x, i) => {list}.indexOf(x) == i)",
	"distinct":       "write {list}.filter((x, i) => {list}.indexOf(x) == i)",
	"flat":           "write {list}.flatMap(x => x)",
	"each":           "write for (x of {list}) ... in a handler, or each x in {list} in a view",
	"toggle":         "write {list} = !{list}",
	"upper":          "write toUpperCase()",
	"toUpper":        "write toUpperCase()",
	"lower":          "write toLowerCase()",
	"toLower":        "write toLowerCase()",
	"strip":          "write trim()",
	"matches":        "write includes(part), startsWith(part) or endsWith(part)",
	"match":          "write includes(part), startsWith(part) or endsWith(part)",
	"test":           "write includes(part), startsWith(part) or endsWith(part)",
	"set":            "lists never change; write {list}[i] = item in a handler",
	"toString":       "write String({list}), or `${{list}}`",
	"substring":      "write slice(from, to)",
	"substr":         "write slice(from, to)",
	"charAt":         "write at(i)",
	"replace":        "write replaceAll(part, by)",
	"forEach":        "write for (x of {list}) ... in a handler, or each x in {list} in a view",
}
