package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// AsMethod lets the component hold a value itself, and its user set it by a method.
const AsMethod = "method"

// byMethod lowers the cell that is handed down: where its user changed it, a method of the component is called.
func (r *relinking) byMethod(reload Reload) (*Result, error) {
	if r.findUp() == nil && r.was == AsFunction { // then its changes come up first, as they would to a cell here
		report, err := Relink(r.d, r.m, AsReport, "", reload)
		if err != nil {
			return nil, err
		}
		method, err := Relink(report.Design, report.Design.Component(r.m.Owner.Name).Member(r.m.Label), AsMethod, "", reload)
		if err != nil {
			return nil, err
		}
		return merged(report, method), nil
	}
	u := r.uses[0]
	cell := u.User.Member(r.place(u))
	if cell == nil || cell.Kind != design.Holds {
		return nil, r.refuse(u.Node.Start, "relink it where the cell is held", "what is handed down here is no cell of %s", u.User.Name)
	}
	l := &lowering{draft: r.draft, m: cell, byMethod: true}
	if err := l.lower(); err != nil {
		return nil, err
	}
	name := l.called(l.use)
	set := r.free(r.m.Owner, "set"+upper(r.m.Label))
	for _, wr := range l.calls {
		r.replace(wr.stmt.Span(), fmt.Sprintf("%s.%s(%s)", name, set, r.text(wr.stmt.Value)))
	}
	r.addMember(r.m.Owner, fmt.Sprintf("offers %s(value: %s) { %s = value }", set, r.typeText(r.m), r.m.Label), beforeActs...)
	return r.finish(reload)
}

// called is the name of a used component in its user's handlers; it gets one if it has none.
func (w *draft) called(u *links.Use) string {
	el := u.Node.Syntax
	if el.Named != nil {
		return el.Named.Text
	}
	name := w.free(u.User, u.Node.Component.Name[strings.LastIndex(u.Node.Component.Name, "-")+1:])
	w.insert(el.Name.Stop, " named "+name)
	return name
}

// callable takes note of a statement of the user that sets the whole cell, as a method can.
func (l *lowering) callable(e design.Effect) bool {
	if !l.byMethod || len(e.Place.Steps) > 0 {
		return false
	}
	s := l.assignsIn(l.m.Owner)[e.At.Span()]
	if s == nil || s.Op != syntax.Assign {
		return false
	}
	l.calls = append(l.calls, write{s, e.Place})
	return true
}

// isAlwaysThere says whether a component is used outside of what comes and goes, and of content that is given to others.
func isAlwaysThere(u *design.Use, view []design.Node) bool {
	return slices.ContainsFunc(view, func(n design.Node) bool {
		el, ok := n.(*design.Element)
		return n == design.Node(u) || ok && isAlwaysThere(u, el.Children)
	})
}

// setterOf is the method that does nothing but set a cell, or nil.
func setterOf(m *design.Member) *design.Member {
	for _, s := range m.Owner.Members {
		if s.Kind != design.Action || !s.Offered || s.Body == nil || len(s.Body.Params) != 1 || len(s.Body.Stmts) != 1 {
			continue
		}
		set, ok := s.Body.Stmts[0].(*design.Assign)
		if !ok || set.Op != syntax.Assign || set.Place.Cell() != m || len(set.Place.Steps) > 0 {
			continue
		}
		if x, ok := set.Value.(*types.Ref); ok && x.Symbol == types.Symbol(s.Body.Params[0]) {
			return s
		}
	}
	return nil
}

// fromMethod lifts a cell that the users of its component set by a method; then the method goes.
func fromMethod(d *design.Design, m, set *design.Member, as, name string, reload Reload) (*Result, error) {
	up := AsReport
	if as == AsTie {
		up = AsTie
	}
	lifted, err := Lift(d, m, LiftOptions{As: up}, reload)
	if err != nil {
		return nil, err
	}
	owner, label := m.Owner.Name, m.Label
	plain, err := dropMethod(lifted.Design, lifted.Design.Component(owner), label, set.Label, reload)
	if err != nil {
		return nil, err
	}
	all := merged(lifted, plain)
	all.Did = []string{fmt.Sprintf("%s of %s travels as a %s now, in place of a method", label, owner, as)}
	if as == up {
		return all, nil
	}
	then, err := Relink(all.Design, all.Design.Component(owner).Member(label), as, name, reload)
	if err != nil {
		return nil, err
	}
	return merged(all, then), nil
}

// dropMethod sets the cell where a method was called that set it, and takes out the method, and what only it needed.
func dropMethod(d *design.Design, c *design.Component, label, method string, reload Reload) (*Result, error) {
	w := &draft{d: d}
	set := c.Member(method)
	var event *design.Member
	for _, u := range w.links().Uses[c] {
		place := linkOf(u, label)
		el := u.Node.Syntax
		if place == nil || el.Named == nil {
			continue
		}
		left := false // that the name is used for anything else
		called := map[syntax.Node]bool{}
		syntax.Walk(u.User.Syntax, func(n syntax.Node) bool {
			switch n := n.(type) {
			case *syntax.CallStmt:
				f, ok := n.Call.Fun.(*syntax.Dotted)
				if !ok || f.Name.Text != method || len(n.Call.Args) != 1 || w.text(f.X) != el.Named.Text {
					return true
				}
				called[f.X] = true
				w.replace(n.Span(), w.text(place.Value)+" = "+w.text(n.Call.Args[0]))
			case *syntax.Name:
				left = left || n.Text == el.Named.Text && !called[n]
			}
			return true
		})
		if !left {
			w.replace(source.Span{Start: el.Name.Stop, End: el.Named.Stop}, "")
		}
	}
	syntax.Walk(set.Syntax, func(n syntax.Node) bool {
		if e, ok := n.(*syntax.Emit); ok {
			event = c.Member(e.Name.Text)
		}
		return true
	})
	w.remove(set.Syntax.Span())
	if event != nil && !w.emittedBesides(c, event, set) {
		w.remove(event.Syntax.Span())
		for _, u := range w.links().Uses[c] {
			if e := eventOf(u, event.Label); e != nil {
				w.removeItem(e)
			}
		}
	}
	return w.finish(reload)
}

// emittedBesides says whether an event is reported anywhere but in a member.
func (w *draft) emittedBesides(c *design.Component, event, in *design.Member) (is bool) {
	own := in.Syntax.Span()
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		var name *syntax.Word
		switch n := n.(type) {
		case *syntax.Emit:
			name = n.Name
		case *syntax.Leave:
			name = n.Event
		}
		is = is || name != nil && name.Text == event.Label && !(own.Start <= name.Start && name.Stop <= own.End)
		return true
	})
	return is
}
