package design

import "lien/core/types"

// Visitor is told what a walk comes across; nil functions are left out.
type Visitor struct {
	Node func(Node)
	Stmt func(Stmt)
	Expr func(types.Expr) // every expression and all in it
}

func (v Visitor) expr(e types.Expr) {
	if v.Expr == nil || e == nil {
		return
	}
	types.Walk(e, func(e types.Expr) bool {
		v.Expr(e)
		return true
	})
}

// Body walks the statements of a handler.
func (v Visitor) Body(b *Body) {
	if b != nil {
		v.Stmts(b.Stmts)
	}
}

// Stmts walks statements, and those in them.
func (v Visitor) Stmts(list []Stmt) {
	for _, s := range list {
		if v.Stmt != nil {
			v.Stmt(s)
		}
		switch s := s.(type) {
		case *Assign:
			for _, step := range s.Place.Steps {
				v.expr(step.Index)
			}
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
			for _, l := range append(s.Use.Links, s.Use.Ties...) {
				v.expr(l.Unit.Expr)
			}
		}
	}
}

func (v Visitor) exprs(list []types.Expr) {
	for _, e := range list {
		v.expr(e)
	}
}

// Nodes walks a view, with the handlers and links in it.
func (v Visitor) Nodes(list []Node) {
	for _, n := range list {
		if v.Node != nil {
			v.Node(n)
		}
		switch n := n.(type) {
		case *Element:
			v.element(n)
		case *Text:
			v.expr(n.Unit.Expr)
		case *When:
			for _, b := range n.Branches {
				if b.Cond != nil {
					v.expr(b.Cond.Expr)
				}
				v.Nodes(b.Body)
			}
		case *Each:
			v.expr(n.List.Expr)
			if n.By != nil {
				v.expr(n.By.Expr)
			}
			v.Nodes(n.Body)
		case *Use:
			for _, list := range [][]*Given{n.Links, n.Ties, n.Seeds} {
				for _, l := range list {
					v.expr(l.Unit.Expr)
				}
			}
			for _, h := range n.Handlers {
				v.Body(h.Body)
			}
			for _, f := range n.Fills {
				v.Nodes(f.Body)
			}
		case *SlotPlace:
			for _, u := range n.Data {
				v.expr(u.Expr)
			}
			v.Nodes(n.Fallback)
		}
	}
}

func (v Visitor) element(n *Element) {
	for _, a := range n.Attrs {
		v.expr(a.Unit.Expr)
	}
	for _, a := range n.Marks {
		v.expr(a.Unit.Expr)
	}
	for _, t := range n.Ties {
		v.expr(t.Read.Expr)
	}
	for _, h := range n.Handlers {
		v.Body(h.Body)
	}
	v.Nodes(n.Children)
}

// Component walks the members of a component, then its view.
func (v Visitor) Component(c *Component) {
	for _, m := range c.Members {
		if m.Init != nil {
			v.expr(m.Init.Expr)
		}
		v.Body(m.Body)
	}
	for _, s := range c.Supplies {
		v.Nodes([]Node{s.Use})
	}
	for _, m := range c.Members {
		for _, h := range m.Hears {
			v.Body(h.Body)
		}
	}
	for _, h := range c.Hearings {
		v.Body(h.Body)
	}
	for _, f := range c.Follows {
		v.expr(f.Unit.Expr)
		v.Body(f.Body)
	}
	for _, h := range c.Hooks {
		v.Body(h.Body)
	}
	v.Nodes(c.View)
}
