package flow

import (
	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// Origins are the texts and numbers, written in the design or in its data, that
// may come to an expression as they are: in the order in which they are found.
func (g *Graph) Origins(x types.Expr) []value.Value {
	o := &origins{g: g, seen: map[Var]bool{}, known: map[value.Value]bool{}}
	o.expr(x)
	return o.list
}

type origins struct {
	g     *Graph
	seen  map[Var]bool
	known map[value.Value]bool
	list  []value.Value
}

func (o *origins) add(v value.Value) {
	switch v := v.(type) {
	case value.String, value.Number:
		if !o.known[v] {
			o.known[v] = true
			o.list = append(o.list, v)
		}
	case *value.List:
		for _, it := range v.Items() {
			o.add(it)
		}
	}
}

func (o *origins) expr(x types.Expr) {
	switch x := x.(type) {
	case *types.Const:
		o.add(x.Value)
	case *types.Ref:
		o.symbol(x.Symbol)
	case *types.Select:
		o.symbol(x.Member)
	case *types.Dot:
		o.field(x.Name)
	case *types.At:
		o.expr(x.X)
	case *types.Unary:
		if c, ok := x.X.(*types.Const); ok {
			if n, ok := c.Value.(value.Number); ok {
				o.add(0 - n)
				return
			}
		}
		o.expr(x.X)
	case *types.Cond:
		o.expr(x.X)
		o.expr(x.Y)
	case *types.Binary:
		if !Compares(x) {
			o.expr(x.X)
			o.expr(x.Y)
		}
	case *types.ListOf:
		for _, it := range x.Items {
			o.expr(it.X)
		}
	case *types.Method:
		o.expr(x.Recv)
		for _, a := range x.Args {
			if l, ok := a.(*types.Lambda); ok && x.Name != "filter" {
				o.expr(l.Body)
			} else if x.Name == "concat" {
				o.expr(a)
			}
		}
	case *types.Builtin:
		for _, a := range x.Args {
			o.expr(a)
		}
	case *types.Apply:
		for _, f := range o.g.Callees(x.Fun, len(x.Args)) {
			o.symbol(f)
		}
		for _, l := range o.g.Lambdas(x.Fun) {
			o.expr(l.Body)
		}
	}
}

func (o *origins) symbol(s types.Symbol) {
	if k, ok := s.(*design.Const); ok && k.Data != nil {
		o.add(k.Data)
	}
	o.variable(s)
}

// field adds what records have in a field: those of the text, and those of the data.
func (o *origins) field(name string) {
	if o.seen[Field(name)] {
		return
	}
	for _, k := range o.g.Design.Consts {
		o.data(k.Data, name)
	}
	o.variable(Field(name))
}

func (o *origins) data(v value.Value, name string) {
	switch v := v.(type) {
	case *value.List:
		for _, it := range v.Items() {
			o.data(it, name)
		}
	case *value.Record:
		for i, n := range v.Names {
			if n == name {
				o.add(v.At(i))
			}
			o.data(v.At(i), name)
		}
	}
}

func (o *origins) variable(v Var) {
	if o.seen[v] {
		return
	}
	o.seen[v] = true
	for _, s := range o.g.into[v] {
		if s.Expr != nil {
			o.expr(s.Expr)
		} else {
			o.variable(s.Var)
		}
	}
}
