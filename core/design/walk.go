package design

import (
	"fmt"

	"lien/core/types"
)

// Visitor is told what a walk comes across, what is around before what is in
// it; nil functions are left out. A walk goes into all that there is: into the
// handlers of what a statement opens, too. What it does not know it does not
// pass over: it panics (compare go/ast.Walk).
type Visitor struct {
	Node   func(Node)
	Stmt   func(Stmt)
	Expr   func(types.Expr) // every expression and all in it
	Effect func(Effect)     // what each of these does by itself
	Enter  func(Stmt) bool  // whether to go into a statement; nil: into all
}

// Design walks all that runs: constants, functions, services, components and
// starts.
func (v Visitor) Design(d *Design) {
	v.Outside(d)
	for _, c := range d.Components {
		v.Component(c)
	}
}

// Outside walks all that runs and stands in no component.
func (v Visitor) Outside(d *Design) {
	for _, c := range d.Consts {
		v.Unit(&c.Unit)
	}
	for _, f := range d.Functions {
		v.Unit(&f.Unit)
	}
	for _, s := range d.Services {
		for _, o := range s.Operations {
			v.Operation(o)
		}
	}
	for _, s := range d.Starts {
		v.Start(s)
	}
}

// Start walks what a start gives.
func (v Visitor) Start(s *Start) {
	v.givens(s.Links)
	v.givens(s.Seeds)
	v.samples(s.Samples)
	for _, b := range s.Bounds {
		v.Unit(b)
	}
}

// Laws walks the laws.
func (v Visitor) Laws(d *Design) {
	for _, l := range d.Laws {
		for _, c := range l.Clauses {
			v.Unit(&c.Unit)
			v.Unit(c.To)
			v.Unit(c.Ms)
		}
		v.samples(l.Samples)
	}
}

// Scenarios walks the steps of the scenarios.
func (v Visitor) Scenarios(d *Design) {
	for _, s := range d.Scenarios {
		v.steps(s.Steps)
	}
}

func (v Visitor) steps(list []*Step) {
	for _, s := range list {
		v.Unit(s.Value)
		for _, a := range s.Args {
			v.Unit(a)
		}
		v.steps(s.Steps)
	}
}

func (v Visitor) samples(list []*Sample) {
	for _, s := range list {
		v.Unit(&s.Texts)
	}
}

// Operation walks what a service answers.
func (v Visitor) Operation(o *Operation) {
	v.Unit(o.Replies)
	v.Unit(o.After)
	for _, f := range o.Fails {
		v.Unit(f)
	}
}

// Component walks the members of a component, then its view.
func (v Visitor) Component(c *Component) {
	for _, m := range c.Members {
		v.Member(m)
	}
	for _, s := range c.Supplies {
		v.Nodes([]Node{s.Use})
	}
	for _, h := range c.Hearings {
		v.Body(h.Body)
	}
	for _, f := range c.Follows {
		v.Unit(&f.Unit)
		v.Body(f.Body)
	}
	for _, h := range c.Hooks {
		v.Body(h.Body)
	}
	v.Nodes(c.View)
}

// Member walks a member: its first value or derivation, and what it does.
func (v Visitor) Member(m *Member) {
	v.Unit(m.Init)
	v.Body(m.Body)
	for _, h := range m.Hears {
		v.Body(h.Body)
	}
}

// Body walks the statements of a handler.
func (v Visitor) Body(b *Body) {
	if b != nil {
		v.Stmts(b.Stmts)
	}
}

// Bodies visits every body of a design: what runs when something happens.
func (d *Design) Bodies(visit func(*Body)) {
	handlers := func(list []*Handler) {
		for _, h := range list {
			visit(h.Body)
		}
	}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Body != nil {
				visit(m.Body)
			}
			handlers(m.Hears)
		}
		for _, h := range c.Hearings {
			visit(h.Body)
		}
		for _, f := range c.Follows {
			visit(f.Body)
		}
		for _, h := range c.Hooks {
			visit(h.Body)
		}
	}
	Visitor{Node: func(n Node) {
		switch n := n.(type) {
		case *Element:
			handlers(n.Handlers)
		case *Use:
			handlers(n.Handlers)
		}
	}}.Design(d)
}

// Unit walks an expression with its frame, if there is one.
func (v Visitor) Unit(u *Unit) {
	if u != nil && (v.Expr != nil || v.Effect != nil) {
		v.expr(u.Expr)
	}
}

func (v Visitor) expr(e types.Expr) {
	if v.Expr == nil && v.Effect == nil || e == nil {
		return
	}
	types.Walk(e, func(e types.Expr) bool {
		if v.Expr != nil {
			v.Expr(e)
		}
		if v.Effect != nil {
			exprEffects(e, v.Effect)
		}
		return true
	})
}

func (v Visitor) exprs(list []types.Expr) {
	for _, e := range list {
		v.expr(e)
	}
}

func (v Visitor) place(p *Place) {
	if p == nil {
		return
	}
	for _, s := range p.Steps {
		v.expr(s.Index)
	}
}

// Stmts walks statements, and those in them.
func (v Visitor) Stmts(list []Stmt) {
	for _, s := range list {
		if v.Stmt != nil {
			v.Stmt(s)
		}
		if v.Effect != nil {
			stmtEffects(s, v.Effect)
		}
		if v.Enter == nil || v.Enter(s) {
			v.inStmt(s)
		}
	}
}

func (v Visitor) inStmt(s Stmt) {
	switch s := s.(type) {
	case *Assign: // what it reads for += is in its value, too
		v.place(s.Place)
		v.expr(s.Value)
	case *Let:
		v.expr(s.Value)
	case *If:
		v.expr(s.Cond)
		v.Stmts(s.Then)
		v.Stmts(s.Else)
	case *For:
		v.expr(s.List)
		v.Stmts(s.Body)
	case *Emit:
		v.exprs(s.Args)
	case *Do:
		v.expr(s.Fun)
		v.exprs(s.Args)
	case *Log:
		v.exprs(s.Args)
	case *Clock:
		v.exprs(s.Args)
	case *Send:
		v.exprs(s.Args)
	case *Leave:
		v.exprs(s.Args)
	case *Ask:
		v.exprs(s.Args)
		for _, o := range []*Outcome{s.Got, s.Failed} {
			if o != nil {
				v.Stmts(o.Stmts)
			}
		}
	case *Open:
		v.Nodes([]Node{s.Use})
	case *Return, *Prevent:
	default:
		panic(fmt.Sprintf("design: a statement of an unknown kind: %T", s))
	}
}

// Nodes walks a view, with the handlers and links in it.
func (v Visitor) Nodes(list []Node) {
	for _, n := range list {
		if v.Node != nil {
			v.Node(n)
		}
		if v.Effect != nil {
			nodeEffects(n, v.Effect)
		}
		v.inNode(n)
	}
}

func (v Visitor) inNode(n Node) {
	switch n := n.(type) {
	case *Element:
		v.element(n)
	case *Text:
		v.Unit(&n.Unit)
	case *When:
		for _, b := range n.Branches {
			v.Unit(b.Cond)
			v.Nodes(b.Body)
		}
	case *Each: // the indexes of its place are in its list, too
		v.Unit(&n.List)
		v.Unit(n.By)
		v.Nodes(n.Body)
	case *Use:
		for _, a := range n.Marks {
			v.Unit(&a.Unit)
		}
		v.givens(n.Links)
		v.givens(n.Ties)
		v.givens(n.Seeds)
		v.handlers(n.Handlers)
		for _, f := range n.Fills {
			v.Nodes(f.Body)
		}
	case *SlotPlace:
		for i := range n.Data {
			v.Unit(&n.Data[i])
		}
		v.Nodes(n.Fallback)
	default:
		panic(fmt.Sprintf("design: a node of an unknown kind: %T", n))
	}
}

// Inside are the lists of nodes that stand directly in a node, in the order of the text: one for each branch of a when,
// and for each slot that a use fills.
func Inside(n Node) (lists [][]Node) {
	switch n := n.(type) {
	case *Element:
		return [][]Node{n.Children}
	case *Text:
		return nil
	case *When:
		for _, b := range n.Branches {
			lists = append(lists, b.Body)
		}
		return lists
	case *Each:
		return [][]Node{n.Body}
	case *Use:
		for _, f := range n.Fills {
			lists = append(lists, f.Body)
		}
		return lists
	case *SlotPlace:
		return [][]Node{n.Fallback}
	}
	panic(fmt.Sprintf("design: a node of an unknown kind: %T", n))
}

func (v Visitor) givens(list []*Given) {
	for _, l := range list {
		v.Unit(&l.Unit)
		v.place(l.Place)
	}
}

func (v Visitor) handlers(list []*Handler) {
	for _, h := range list {
		v.Body(h.Body)
	}
}

func (v Visitor) element(n *Element) {
	for _, a := range n.Attrs {
		v.Unit(&a.Unit)
	}
	for _, a := range n.Marks {
		v.Unit(&a.Unit)
	}
	for _, t := range n.Ties {
		v.Unit(&t.Read)
		v.place(t.Write)
	}
	v.handlers(n.Handlers)
	v.Nodes(n.Children)
}
