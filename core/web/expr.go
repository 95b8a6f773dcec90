package web

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// expr is an expression in ECMAScript. own is the instance in whose text it stands, at its block.
func (c *code) expr(x types.Expr) string {
	switch x := x.(type) {
	case *types.Const:
		return constant(x.Value)
	case *types.Ref:
		return c.ref(x)
	case *types.Dot:
		return c.dot(x)
	case *types.Select:
		return c.selected(x)
	case *types.At:
		return "lien.item(" + c.expr(x.X) + ", " + c.expr(x.I) + ")"
	case *types.Unary:
		if x.Op == syntax.Not {
			return "!" + c.operand(x.X)
		}
		return "(0 - " + c.operand(x.X) + ")"
	case *types.Binary:
		return c.binary(x)
	case *types.Cond:
		return "(" + c.expr(x.C) + " ? " + c.expr(x.X) + " : " + c.expr(x.Y) + ")"
	case *types.Template:
		return c.template(x)
	case *types.ListOf:
		items := make([]string, len(x.Items))
		for i, it := range x.Items {
			items[i] = c.expr(it.X)
			if it.Spread {
				items[i] = "..." + items[i]
			}
		}
		return "[" + strings.Join(items, ", ") + "]"
	case *types.RecordOf:
		return c.record(x)
	case *types.Lambda:
		return c.lambda(x)
	case *types.Method:
		return c.method(x)
	case *types.Builtin:
		return c.builtin(x)
	case *types.Apply:
		return c.apply(x)
	}
	panic("web: an expression of an unknown kind")
}

// operand is an expression that an operator may stand before.
func (c *code) operand(x types.Expr) string {
	text := c.expr(x)
	if k, ok := x.(*types.Const); ok {
		switch k.Value.(type) {
		case value.Number, *value.Record:
			if strings.HasPrefix(text, "-") || strings.HasPrefix(text, "{") {
				return "(" + text + ")"
			}
		}
	}
	return text
}

// receiver is an expression that a dot may stand behind.
func (c *code) receiver(x types.Expr) string {
	text := c.operand(x)
	if text[0] >= '0' && text[0] <= '9' {
		return "(" + text + ")"
	}
	return text
}

// constant is a value, as ECMAScript writes it.
func constant(v value.Value) string {
	switch v := v.(type) {
	case value.String:
		return quoted(string(v))
	case *value.List:
		parts := make([]string, v.Len())
		for i, it := range v.Items() {
			parts[i] = constant(it)
		}
		return "[" + strings.Join(parts, ", ") + "]"
	case *value.Record:
		parts := make([]string, len(v.Names))
		for i, n := range v.Names {
			parts[i] = key(n) + ": " + constant(v.At(i))
		}
		return object(parts)
	}
	return value.Show(v) // a number, a boolean or null
}

func object(parts []string) string {
	if len(parts) == 0 {
		return "{}"
	}
	return "{ " + strings.Join(parts, ", ") + " }"
}

func (c *code) ref(x *types.Ref) string {
	switch s := x.Symbol.(type) {
	case *types.Local:
		return local(s)
	case *design.ViewLocal:
		return fmt.Sprintf("at.get(%d, %d)", s.Level, s.Slot)
	case *design.Const:
		return c.design(free(s.Label))
	case *design.Function:
		if !s.Syntax.Call {
			return c.design(free(s.Label)) + "()"
		}
		return c.design(free(s.Label))
	case *design.Member:
		if s.HasValue() {
			return "own." + s.Label
		}
		return "lien.bound(own, " + quoted(s.Label) + ")"
	}
	panic("web: a name of an unknown kind")
}

func (c *code) dot(x *types.Dot) string {
	of := c.receiver(x.X)
	rec, _ := types.Under(types.NonNull(x.X.Type())).(*types.Record)
	plain := false
	if rec != nil {
		f, ok := rec.Field(x.Name)
		plain = ok && !f.Optional && x.Name != "__proto__"
	}
	switch {
	case x.Optional && plain:
		return "(" + of + "?." + x.Name + " ?? null)"
	case x.Optional:
		return "lien.maybe(" + of + ", it => lien.field(it, " + quoted(x.Name) + "))"
	case plain && !types.Nullable(x.X.Type()):
		return of + "." + x.Name
	case !types.Nullable(x.X.Type()):
		return "lien.field(" + of + ", " + quoted(x.Name) + ")"
	}
	return "lien.field(lien.there(" + of + ", " + c.at(x.Span()) + ", " + quoted(x.Name) + "), " + quoted(x.Name) + ")"
}

func (c *code) selected(x *types.Select) string {
	of := c.operand(x.X)
	if ref, ok := x.X.(*types.Ref); ok && !x.Optional {
		if m, ok := ref.Symbol.(*design.Member); ok && m.Kind == design.Named {
			of = "lien.named(own, " + quoted(m.Label) + ")"
		}
	}
	if p, ok := x.Member.(*design.FormPart); ok {
		if x.Optional {
			return "lien.maybe(" + of + ", lien.form" + titled(p.Label) + ")"
		}
		return "lien.form" + titled(p.Label) + "(" + of + ")"
	}
	m := x.Member.(*design.Member)
	read := func(of string) string {
		if m.Call || m.Kind == design.Action {
			return "lien.bound(" + of + ", " + quoted(m.Label) + ")"
		}
		return of + "." + m.Label
	}
	if x.Optional {
		return "lien.maybe(" + of + ", it => " + read("it") + ")"
	}
	return read(of)
}

func (c *code) binary(x *types.Binary) string {
	a, b := c.operand(x.X), c.operand(x.Y)
	op := map[syntax.Kind]string{syntax.And: "&&", syntax.Or: "||", syntax.Coalesce: "??", syntax.Less: "<", syntax.LessEq: "<=", syntax.Greater: ">", syntax.GreaterEq: ">=",
		syntax.Plus: "+", syntax.Minus: "-", syntax.Star: "*", syntax.Slash: "/", syntax.Percent: "%"}[x.Op]
	switch x.Op {
	case syntax.Equal, syntax.NotEqual:
		not := ""
		if x.Op == syntax.NotEqual {
			not = "!"
		}
		if isPlain(x.X.Type()) && isPlain(x.Y.Type()) {
			if m := comparedCell(x.X, x.Y); m != nil {
				return not + "lien.holds(own, " + quoted(m.Label) + ", " + b + ")"
			}
			if m := comparedCell(x.Y, x.X); m != nil {
				return not + "lien.holds(own, " + quoted(m.Label) + ", " + a + ")"
			}
		}
		if isPlain(x.X.Type()) || isPlain(x.Y.Type()) {
			return "(" + a + " " + map[string]string{"": "===", "!": "!=="}[not] + " " + b + ")"
		}
		return not + "lien.same(" + a + ", " + b + ")"
	case syntax.And, syntax.Or, syntax.Coalesce, syntax.Less, syntax.LessEq, syntax.Greater, syntax.GreaterEq:
		return "(" + a + " " + op + " " + b + ")"
	case syntax.Plus:
		if !types.Assignable(types.Widen(x.X.Type()), types.Number) {
			return "lien.plus(" + a + ", " + b + ", " + c.at(x.Span()) + ")"
		}
	}
	return "lien.finite(" + a + " " + op + " " + b + ", " + c.at(x.Span()) + ")"
}

// comparedCell is the cell of the own component that is compared with something of an item: what shows the item
// depends then on whether the cell holds that, and not on the cell. It is nil otherwise.
func comparedCell(x, with types.Expr) *design.Member {
	ref, ok := x.(*types.Ref)
	if !ok {
		return nil
	}
	m, ok := ref.Symbol.(*design.Member)
	if !ok || m.Kind != design.Holds {
		return nil
	}
	ofItem := false
	types.Walk(with, func(y types.Expr) bool {
		if r, ok := y.(*types.Ref); ok {
			_, local := r.Symbol.(*design.ViewLocal)
			ofItem = ofItem || local
		}
		return !ofItem
	})
	if !ofItem {
		return nil
	}
	return m
}

// isPlain says whether values of a type are equal where they are the same: texts, numbers, booleans and null.
func isPlain(t types.Type) bool {
	return !slices.ContainsFunc(types.Members(types.Widen(t)), func(m types.Type) bool {
		return m != types.String && m != types.Number && m != types.Boolean && m != types.Null
	})
}

func (c *code) template(x *types.Template) string {
	var out strings.Builder
	out.WriteByte('`')
	for i, t := range x.Texts {
		out.WriteString(strings.NewReplacer("\\", "\\\\", "`", "\\`", "$", "\\$", "\r", "\\r").Replace(t))
		if i == len(x.Exprs) {
			break
		}
		text := c.expr(x.Exprs[i])
		if t := types.Widen(x.Exprs[i].Type()); t != types.String && t != types.Number {
			text = "lien.textOf(" + text + ")"
		}
		out.WriteString("${" + text + "}")
	}
	out.WriteByte('`')
	return out.String()
}

func (c *code) record(x *types.RecordOf) string {
	parts := make([]string, len(x.Names))
	for i, n := range x.Names {
		if v := c.expr(x.Values[i]); n == "" {
			parts[i] = "..." + v
		} else if v == n {
			parts[i] = n
		} else {
			parts[i] = key(n) + ": " + v
		}
	}
	return object(parts)
}

func (c *code) lambda(x *types.Lambda) string {
	names := make([]string, len(x.Params))
	for i, p := range x.Params {
		names[i] = local(p)
	}
	body := c.expr(x.Body)
	if strings.HasPrefix(body, "{") {
		body = "(" + body + ")"
	}
	return "((" + strings.Join(names, ", ") + ") => " + body + ")"
}

func (c *code) method(x *types.Method) string {
	args := c.exprs(x.Args)
	call := func(of string) string {
		if x.Name == "toFixed" || x.Name == "charCodeAt" { // which fail for some numbers
			return "lien." + x.Name + "(" + of + ", " + c.at(x.Span()) + after(args) + ")"
		}
		return "lien.method(" + of + ", " + quoted(x.Name) + ", " + c.at(x.Span()) + after(args) + ")"
	}
	of := c.receiver(x.Recv)
	switch {
	case x.Optional:
		return "lien.maybe(" + of + ", it => " + call("it") + ")"
	case x.Name == "length" && !types.Nullable(x.Recv.Type()):
		return of + ".length"
	}
	return call(of)
}

func (c *code) exprs(list []types.Expr) []string {
	out := make([]string, len(list))
	for i, x := range list {
		out[i] = c.expr(x)
	}
	return out
}

// after are arguments behind others.
func after(args []string) string {
	if len(args) == 0 {
		return ""
	}
	return ", " + strings.Join(args, ", ")
}

func (c *code) builtin(x *types.Builtin) string {
	args := c.exprs(x.Args)
	switch x.Name {
	case "String":
		return "lien.textOf(" + args[0] + ")"
	case "Number":
		return "lien.number(" + args[0] + ")"
	case "now":
		return "lien.time()"
	case "fresh":
		return "lien.fresh()"
	case "Array.from":
		return "lien.listOf(" + args[0] + ", " + args[1] + ", " + c.at(x.Span()) + ")"
	case "running":
		return "lien.runs(own, " + quoted(x.Of.(*design.Member).Label) + after(args) + ")"
	case "ofKind":
		return "lien.ofKind(" + args[0] + ", " + c.component(x.Of.(*design.Component)) + ")"
	case "Math.min", "Math.max", "Math.round", "Math.floor", "Math.ceil", "Math.abs", "Math.trunc":
		return "lien.finite(" + x.Name + "(" + strings.Join(args, ", ") + "), " + c.at(x.Span()) + ")"
	}
	panic("web: " + x.Name + " stands in laws and scenarios alone")
}

func (c *code) apply(x *types.Apply) string {
	args := "(" + strings.Join(c.exprs(x.Args), ", ") + ")"
	switch f := x.Fun.(type) {
	case *types.Ref:
		if m, ok := f.Symbol.(*design.Member); ok {
			if x.Optional {
				return "lien.maybe(own." + m.Label + ", it => it" + args + ")"
			}
			return "own." + m.Label + args
		}
	case *types.Select:
		if m, ok := f.Member.(*design.Member); ok {
			if f.Optional {
				return "lien.maybe(" + c.operand(f.X) + ", it => it." + m.Label + args + ")"
			}
			return c.operand(f.X) + "." + m.Label + args
		}
	}
	if x.Optional {
		return "lien.maybe(" + c.expr(x.Fun) + ", it => it" + args + ")"
	}
	return c.expr(x.Fun) + args
}
