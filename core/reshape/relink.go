package reshape

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/links"
	"lien/core/syntax"
	"lien/core/types"
)

// AsContext lets a value travel by a context.
const AsContext = "context"

// Relink lets a value that a component takes, and its changes, travel another way: as a report, a tie, a function,
// a method, or by a context, which gets the name. A member of a context goes the other way: the context is handed down instead.
func Relink(d *design.Design, m *design.Member, as, name string, reload Reload) (*Result, error) {
	if m.Owner.IsContext && m.Kind != design.Takes {
		return handDown(d, m, as, reload)
	}
	if set := setterOf(m); set != nil && m.Kind == design.Holds && as != AsMethod {
		return fromMethod(d, m, set, as, name, reload)
	}
	r := &relinking{draft: &draft{d: d}, m: m, as: as}
	r.uses = r.links().Uses[m.Owner]
	if err := r.possible(); err != nil {
		return nil, err
	}
	switch as {
	case AsContext:
		return r.byContext(name, reload)
	case AsMethod:
		return r.byMethod(reload)
	}
	if err := r.below(); err != nil {
		return nil, err
	}
	for _, u := range r.uses {
		r.above(u)
	}
	r.did("%s of %s travels as a %s now, in place of a %s", m.Label, m.Owner.Name, as, r.was)
	return r.finish(reload)
}

// relinking is a value on its way to another way.
type relinking struct {
	*draft
	m    *design.Member
	as   string
	was  string         // how it travels
	up   *design.Member // the event, or the function, by which changes come up; nil for a tie
	uses []*links.Use
	new  string // the event or function from now on
}

func (r *relinking) possible() error {
	m, c := r.m, r.m.Owner
	if m.Kind != design.Takes && m.Kind != design.Shares {
		return r.refuse(m.Pos(), "name a value that is handed to it: takes or shares", "%s of %s is %s, and is not handed to it", m.Label, c.Name, m.Kind.Noun())
	}
	if c.IsContext {
		return r.refuse(m.Pos(), "change what it is linked with where "+c.Name+" is supplied", "%s is a context, which is handed nothing in a view", c.Name)
	}
	if !slices.Contains([]string{AsReport, AsTie, AsFunction, AsContext, AsMethod}, r.as) {
		return r.refuse(m.Pos(), "write report, tie, function, context or method", "a value does not travel as %s", r.as)
	}
	if len(r.uses) == 0 {
		return r.refuse(m.Pos(), "relink what is used in a view", "no view uses %s", c.Name)
	}
	for _, s := range r.d.Starts {
		if s.Root == c {
			return r.refuse(s.Syntax.Start, "start a component that uses it", "%s is also started by itself", c.Name)
		}
	}
	if r.was = AsTie; m.Kind == design.Takes && r.as != AsContext && r.as != AsMethod { // these need nothing that changes it
		if err := r.findUp(); err != nil {
			return err
		}
	}
	for _, u := range r.uses {
		if r.place(u) == "" {
			if m.Kind == design.Shares {
				return r.refuse(u.Node.Start, "tie it to a cell here: "+m.Label+" <-> ...", "%s of %s is tied to no cell here", m.Label, c.Name)
			}
			return r.refuse(u.Node.Start, "hand it a cell here, and take its changes", "%s is not handed a cell here as %s", c.Name, m.Label)
		}
	}
	if r.was == r.as {
		return r.refuse(m.Pos(), "choose another way", "%s travels as a %s already", m.Label, r.as)
	}
	return nil
}

// findUp finds the event or function by which each use writes the cell that it hands down.
func (r *relinking) findUp() error {
	for _, m := range r.m.Owner.Members {
		fits := (m.Kind == design.Emits || r.isSetter(m)) && len(r.uses) > 0
		for _, u := range r.uses {
			fits = fits && r.changes(u, m)
		}
		if fits {
			r.up = m
			if r.was = AsReport; m.Kind == design.Takes {
				r.was = AsFunction
			}
			return nil
		}
	}
	return r.refuse(r.m.Pos(), "let an event, or a function, set what "+r.m.Label+" is given", "nothing of %s changes what it is given as %s", r.m.Owner.Name, r.m.Label)
}

func (r *relinking) isSetter(m *design.Member) bool {
	f, ok := types.Under(m.Type()).(*types.Func)
	return m.Kind == design.Takes && ok && f.Result == types.Void && len(f.Params) == 1
}

// link is what a use writes for a member, or nil.
func linkOf(u *links.Use, name string) *syntax.Link {
	for _, it := range u.Node.Syntax.Body {
		if l, ok := it.(*syntax.Link); ok && l.Name.Text == name && !l.Class {
			return l
		}
	}
	return nil
}

func eventOf(u *links.Use, name string) *syntax.Event {
	for _, it := range u.Node.Syntax.Body {
		if e, ok := it.(*syntax.Event); ok && e.Name.Text == name {
			return e
		}
	}
	return nil
}

// place is the cell that a use hands down, as it is written; "" where it is none, or gets no changes back.
func (r *relinking) place(u *links.Use) string {
	l := linkOf(u, r.m.Label)
	if l == nil || r.m.Kind == design.Shares && l.Op != syntax.Tie {
		return ""
	}
	base, ok := root(l.Value).(*syntax.Name)
	if !ok {
		return ""
	}
	if m := u.User.Member(base.Text); m != nil && !m.Writable() {
		return ""
	}
	return r.text(l.Value)
}

// changes says whether a use takes a change of the value by a member, and by nothing else.
func (r *relinking) changes(u *links.Use, m *design.Member) bool {
	place := r.place(u)
	if m.Kind == design.Emits {
		e := eventOf(u, m.Label)
		return e != nil && len(e.Params) == 1 && r.sets(e.Do, place, e.Params[0].Name.Text)
	}
	l := linkOf(u, m.Label)
	if l == nil {
		return false
	}
	n, ok := l.Value.(*syntax.Name)
	if !ok {
		return false
	}
	a := u.User.Member(n.Text)
	if a == nil || a.Kind != design.Action {
		return false
	}
	s := a.Syntax.(*syntax.Action)
	return len(s.Params) == 1 && r.sets(s.Body, place, s.Params[0].Name.Text)
}

// sets says whether a statement sets a place to a name, and does nothing else.
func (r *relinking) sets(s syntax.Stmt, place, name string) bool {
	a, ok := single(s).(*syntax.AssignStmt)
	return ok && a.Op == syntax.Assign && r.text(a.Target) == place && r.text(a.Value) == name
}

// below changes the component.
func (r *relinking) below() error {
	m, c := r.m, r.m.Owner
	t := r.typeText(m)
	if r.as != AsTie {
		if r.was == AsTie {
			r.take(m.Syntax.Span())
			r.addMember(c, r.moved(m.Syntax.Span(), fmt.Sprintf("takes %s: %s", m.Label, t)), beforeTakes...)
		}
		if r.up != nil {
			r.remove(r.up.Syntax.Span())
		}
		if r.as == AsFunction {
			r.new = r.free(c, "set"+upper(m.Label))
			r.addMember(c, fmt.Sprintf("takes %s: (value: %s) => void", r.new, t), beforeTakes...)
		} else {
			r.new = r.free(c, "change"+upper(m.Label))
			r.addMember(c, fmt.Sprintf("emits %s(%s: %s)", r.new, m.Label, t), beforeEmits...)
		}
	} else {
		r.take(m.Syntax.Span())
		r.remove(r.up.Syntax.Span())
		r.addMember(c, r.moved(m.Syntax.Span(), fmt.Sprintf("shares %s: %s = %s", m.Label, t, beginning(m.Type()))), "takes", "shares")
	}
	if r.was == AsTie {
		for _, wr := range r.writesOf(m) {
			r.replace(wr.stmt.Span(), r.change(r.newValue(wr)))
		}
		return r.fieldsReport(m, r.change)
	}
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		var args []syntax.Expr
		switch n := n.(type) {
		case *syntax.Emit:
			if r.was != AsReport || n.Name.Text != r.up.Label {
				return true
			}
			args = n.Args
		case *syntax.CallStmt:
			f, ok := n.Call.Fun.(*syntax.Name)
			if r.was != AsFunction || !ok || f.Text != r.up.Label {
				return true
			}
			args = n.Call.Args
		default:
			return true
		}
		if len(args) != 1 {
			return true
		}
		if r.as == AsTie {
			r.replace(n.Span(), r.assignment(m.Label, args[0]))
		} else {
			r.replace(n.Span(), r.change(r.text(args[0])))
		}
		return false
	})
	return nil
}

func (r *relinking) change(value string) string {
	if r.as == AsFunction {
		return r.new + "(" + value + ")"
	}
	return "emit " + r.new + "(" + value + ")"
}

// above changes a use.
func (r *relinking) above(u *links.Use) {
	place := r.place(u)
	l := linkOf(u, r.m.Label)
	if r.as == AsTie {
		r.replace(l.Span(), r.m.Label+" <-> "+place)
	} else if r.was == AsTie {
		r.replace(l.Span(), r.m.Label+" <- "+place)
	}
	setter := ""
	if r.up != nil {
		if e := eventOf(u, r.up.Label); e != nil {
			r.removeItem(e)
		}
		if f := linkOf(u, r.up.Label); f != nil && r.was == AsFunction {
			r.removeItem(f)
			setter = r.text(f.Value)
			if r.dropSetter(u, setter) {
				setter = ""
			}
		}
	}
	switch r.as {
	case AsReport:
		v := "v"
		if r.namesIn(u.User)[v] {
			v = r.free(u.User, "value")
		}
		does := place + " = " + v
		if setter != "" {
			r.addLinks(u.Node.Syntax, r.new+" -> "+setter)
			return
		}
		r.addLinks(u.Node.Syntax, fmt.Sprintf("%s(%s) -> %s", r.new, v, does))
	case AsFunction:
		set := r.free(u.User, "set"+upper(lastWord(place)))
		r.addMember(u.User, fmt.Sprintf("action %s(value: %s) { %s = value }", set, r.typeText(r.m), place), beforeActs...)
		r.addLinks(u.Node.Syntax, r.new+" <- "+set)
	}
}

// dropSetter takes out an action that only this use hands down.
func (r *relinking) dropSetter(u *links.Use, name string) bool {
	uses := 0
	scoped(u.User.Syntax, func(n *syntax.Name, _ bool) {
		if n.Text == name {
			uses++
		}
	})
	m := u.User.Member(name)
	if uses > 1 || m == nil || m.Offered {
		return false
	}
	r.remove(m.Syntax.Span())
	return true
}

// byContext supplies the cell that is handed down.
func (r *relinking) byContext(name string, reload Reload) (*Result, error) {
	first := r.uses[0]
	cell := first.User.Member(r.place(first))
	if cell == nil || cell.Kind != design.Holds {
		return nil, r.refuse(first.Node.Start, "relink it where the cell is held", "what is handed down here is no cell of %s", first.User.Name)
	}
	if name == "" {
		name = design.ContextName(cell)
		r.chose("the context is called %s; --name gives it another name", name)
	}
	res, err := Supply(r.d, []*design.Member{cell}, name, reload)
	if res != nil {
		res.Chose = append(r.result.Chose, res.Chose...)
	}
	return res, err
}
