// Package flow tells which values may come where in a design: from the
// expressions that are assigned, linked, reported, passed and handed out to the
// cells, parameters and fields that get them. It is the same for all instances
// of a component, and a field is the same in all records that have one of its
// name (a field-based, context-insensitive flow analysis, as by Andersen).
package flow

import (
	"lien/core/design"
	"lien/core/types"
)

// Var is what a value can come to: a types.Symbol, a Field, or a Slot.
type Var any

// Field is the field of this name of any record.
type Field string

// Slot is what any slot hands out under a name.
type Slot string

// Source is where a value comes from: an expression, or another variable.
type Source struct {
	Expr types.Expr
	Var  Var
}

// Graph is the flows of a design.
type Graph struct {
	Design  *design.Design
	into    map[Var][]Source
	order   []Var // those with sources, as they were found
	emitted map[*design.Member][]*design.Body
	heard   map[*design.Channel][]*design.Body
	uses    map[*design.Component][]*design.Use
	names   map[Var][]Var   // what is given something that names it, once asked for
	handed  []*types.Lambda // functions without a name that are handed on, other than to a list's method
}

// Of works out the flows of a design, with its laws.
func Of(d *design.Design) *Graph {
	g := &Graph{Design: d, into: map[Var][]Source{}, emitted: map[*design.Member][]*design.Body{},
		heard: map[*design.Channel][]*design.Body{}, uses: map[*design.Component][]*design.Use{}}
	g.gather()
	for _, k := range d.Consts {
		g.give(k.Unit.Expr, k)
	}
	for _, f := range d.Functions {
		g.give(f.Unit.Expr, f)
	}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Init != nil {
				g.give(m.Init.Expr, m)
			}
		}
	}
	for _, s := range d.Starts {
		g.givens(s.Links)
		g.givens(s.Seeds)
	}
	v := design.Visitor{Node: g.node, Stmt: g.stmt, Expr: g.expr}
	v.Design(d)
	v.Laws(d)
	return g
}

// gather finds who uses and hears what, and the functions without a name that are handed on.
func (g *Graph) gather() {
	hear := func(list []*design.Handler) {
		for _, h := range list {
			if h.Event != nil {
				g.emitted[h.Event] = append(g.emitted[h.Event], h.Body)
			}
		}
	}
	v := design.Visitor{Expr: g.handing(), Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			g.uses[u.Component] = append(g.uses[u.Component], u)
			hear(u.Handlers)
		}
	}}
	v.Design(g.Design)
	v.Laws(g.Design)
	for _, c := range g.Design.Components {
		for _, m := range c.Members {
			hear(m.Hears)
		}
		for _, h := range c.Hearings {
			g.heard[h.Channel] = append(g.heard[h.Channel], h.Body)
		}
	}
}

// handing notes functions without a name, but those that go to a method of a list: a walk comes to the method first.
func (g *Graph) handing() func(types.Expr) {
	over := map[*types.Lambda]bool{} // a list
	return func(x types.Expr) {
		switch x := x.(type) {
		case *types.Method:
			for _, a := range x.Args {
				if l, ok := a.(*types.Lambda); ok {
					over[l] = true
				}
			}
		case *types.Lambda:
			if !over[x] {
				g.handed = append(g.handed, x)
			}
		}
	}
}

// Uses are all uses of a component, those that are opened too, in text order.
func (g *Graph) Uses(c *design.Component) []*design.Use { return g.uses[c] }

// usesIn are the uses that stand in a component.
func usesIn(c *design.Component) (uses []*design.Use) {
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			uses = append(uses, u)
		}
	}}.Component(c)
	return uses
}

// Heard are the bodies that run when an event is reported.
func (g *Graph) Heard(event *design.Member) []*design.Body { return g.emitted[event] }

// Hearing are the bodies that run when a message is sent.
func (g *Graph) Hearing(c *design.Channel) []*design.Body { return g.heard[c] }

func (g *Graph) put(to Var, s Source) {
	if g.into[to] == nil {
		g.order = append(g.order, to)
	}
	g.into[to] = append(g.into[to], s)
}

func (g *Graph) give(x types.Expr, to Var) {
	if x != nil {
		g.put(to, Source{Expr: x})
	}
}

// Targets are the variables that a write to a place changes.
func Targets(p *design.Place) []Var {
	for i := len(p.Steps) - 1; i >= 0; i-- {
		if p.Steps[i].Field != "" {
			return []Var{Field(p.Steps[i].Field)}
		}
	}
	list := []Var{p.Root}
	switch root := p.Root.(type) {
	case *design.Member:
		if root.Kind == design.Derives && root.Body != nil && len(root.Body.Params) > 0 {
			list = append(list, root.Body.Params[0])
		}
	case *design.ViewLocal:
		if root.Each != nil && root.Each.Place != nil {
			list = append(list, Targets(root.Each.Place)...)
		}
	}
	return list
}

func (g *Graph) givens(list []*design.Given) {
	for _, l := range list {
		g.give(l.Unit.Expr, l.Member)
		if l.Place != nil {
			for _, to := range Targets(l.Place) {
				g.put(to, Source{Var: l.Member})
			}
		}
	}
}

func (g *Graph) node(n design.Node) {
	switch n := n.(type) {
	case *design.Each:
		g.give(n.List.Expr, n.Item)
	case *design.Use:
		g.use(n)
	case *design.SlotPlace:
		for i := range n.Data {
			g.give(n.Data[i].Expr, Slot(n.Names[i]))
		}
	}
}

func (g *Graph) use(n *design.Use) {
	g.givens(n.Links)
	g.givens(n.Ties)
	g.givens(n.Seeds)
	for _, f := range n.Fills {
		for _, p := range f.Params {
			g.put(p, Source{Var: Slot(p.Label)})
		}
	}
	if f := n.Component.Field(); f != nil { // as a value of its form
		for _, l := range n.Links {
			if name, ok := design.FixedText(l.Unit.Expr); ok && l.Member.Label == "name" {
				g.put(Field(name), Source{Var: f})
			}
		}
	}
}

func (g *Graph) args(args []types.Expr, params []*types.Local) {
	for i, a := range args {
		if i < len(params) {
			g.give(a, params[i])
		}
	}
}

func (g *Graph) bodies(args []types.Expr, list []*design.Body) {
	for _, b := range list {
		g.args(args, b.Params)
	}
}

func (g *Graph) stmt(s design.Stmt) {
	switch s := s.(type) {
	case *design.Assign:
		for _, to := range Targets(s.Place) {
			g.give(s.Value, to)
		}
	case *design.Let:
		g.give(s.Value, s.Local)
	case *design.For:
		g.give(s.List, s.Local)
	case *design.Emit:
		g.bodies(s.Args, g.emitted[s.Event])
	case *design.Leave:
		if s.Event != nil {
			g.bodies(s.Args, g.emitted[s.Event])
		}
	case *design.Do:
		g.call(s.Fun, s.Args)
	case *design.Clock:
		g.args(s.Args, s.Timer.Args)
		if s.Timer.Body != nil {
			g.args(s.Args, s.Timer.Body.Params)
		}
	case *design.Ask:
		g.ask(s)
	case *design.Send:
		g.bodies(s.Args, g.heard[s.Channel])
	}
}

func (g *Graph) ask(s *design.Ask) {
	o := s.Operation
	for _, params := range o.Params {
		g.args(s.Args, params)
	}
	if s.Got != nil && s.Got.Param != nil && o.Replies != nil {
		g.give(o.Replies.Expr, s.Got.Param)
	}
	if s.Failed != nil && s.Failed.Param != nil {
		for _, f := range o.Fails {
			g.give(f.Expr, s.Failed.Param)
		}
	}
}

// call passes arguments to what is called. A function that was handed down may
// be any that takes as many.
func (g *Graph) call(fun types.Expr, args []types.Expr) {
	for _, f := range g.Callees(fun, len(args)) {
		g.args(args, paramsOf(f))
	}
	for _, l := range g.Lambdas(fun) {
		g.args(args, l.Params)
	}
}

// Lambdas are the functions without a name that a call may call, besides its callees:
// all that are handed on, if it calls what was handed down to it.
func (g *Graph) Lambdas(fun types.Expr) []*types.Lambda {
	if calledByName(fun) {
		return nil
	}
	return g.handed
}

// calledByName says whether what a call calls is known by its name.
func calledByName(fun types.Expr) bool {
	switch s := symbolOf(fun).(type) {
	case *design.Function, *design.ElementMethod, *design.FormPart:
		return true
	case *design.Member:
		return s.Body != nil || s.Call
	}
	return false
}

func symbolOf(fun types.Expr) types.Symbol {
	switch f := fun.(type) {
	case *types.Ref:
		return f.Symbol
	case *types.Select:
		return f.Member
	}
	return nil
}

// Callees are the functions and actions that a call may call.
func (g *Graph) Callees(fun types.Expr, args int) []types.Symbol {
	if calledByName(fun) {
		switch s := symbolOf(fun).(type) {
		case *design.Function, *design.Member:
			return []types.Symbol{s}
		}
		return nil
	}
	var list []types.Symbol
	for _, f := range g.Design.Functions {
		if f.Syntax.Call && len(f.Params) >= args {
			list = append(list, f)
		}
	}
	for _, c := range g.Design.Components {
		for _, m := range c.Members {
			if (m.Call || m.Kind == design.Action && m.Body != nil) && len(paramsOf(m)) >= args {
				list = append(list, m)
			}
		}
	}
	return list
}

func paramsOf(s types.Symbol) []*types.Local {
	switch s := s.(type) {
	case *design.Function:
		return s.Params
	case *design.Member:
		if s.Body != nil && !s.Call {
			return s.Body.Params
		}
		return s.Args
	}
	return nil
}

func (g *Graph) expr(x types.Expr) {
	switch x := x.(type) {
	case *types.RecordOf:
		for i, v := range x.Values {
			if x.Names[i] != "" {
				g.give(v, Field(x.Names[i]))
			}
		}
	case *types.Method:
		g.method(x)
	case *types.Apply:
		g.call(x.Fun, x.Args)
	}
}

// method gives what a list has to the functions that it is passed to.
func (g *Graph) method(x *types.Method) {
	for _, a := range x.Args {
		l, ok := a.(*types.Lambda)
		if !ok {
			for _, f := range g.passed(a) {
				for _, p := range paramsOf(f) {
					g.give(x.Recv, p)
				}
			}
			continue
		}
		for i, p := range l.Params {
			switch {
			case x.Name == "reduce" && i == 0:
				g.give(l.Body, p)
				for _, first := range x.Args[1:] {
					g.give(first, p)
				}
			case i == 0, i == 1 && (x.Name == "reduce" || x.Name == "toSorted"):
				g.give(x.Recv, p)
			} // what is left is the item's place
		}
	}
}

// passed are the functions that an argument may be, if it is one.
func (g *Graph) passed(x types.Expr) []types.Symbol {
	if _, ok := types.Under(types.NonNull(x.Type())).(*types.Func); !ok {
		return nil
	}
	return g.Callees(x, 0)
}
