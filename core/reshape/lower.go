package reshape

import (
	"fmt"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Lower moves a cell to the only part that needs it: links and reports in between go. With to it goes on
// until that component has it.
func Lower(d *design.Design, m *design.Member, to string, reload Reload) (*Result, error) {
	w := &draft{d: d}
	if to != "" && d.Component(to) == nil {
		return nil, w.refuse(m.Pos(), "name a component below "+m.Owner.Name, "there is no component %s", to)
	}
	var all *Result
	for {
		res, err := lowerOnce(d, m, reload)
		if err != nil {
			if all != nil && to == "" {
				return all, nil // as far down as it goes
			}
			return nil, err
		}
		all = merged(all, res)
		d = res.Design
		at := res.cells[0]
		if at.owner == to || to == "" {
			return all, nil
		}
		m = d.Component(at.owner).Member(at.label)
	}
}

// lowering is one level of it.
type lowering struct {
	*draft
	m     *design.Member
	use   *links.Use
	link  *design.Given   // by which the cell is handed down, or tied
	tie   bool            // it is tied
	child *design.Member  // that takes or shares it
	hears []*syntax.Event // handlers that do nothing but to write it
	event *design.Member  // that they hear, or nil

	byMethod bool    // what its user does to it becomes calls of a method
	calls    []write // those
}

func lowerOnce(d *design.Design, m *design.Member, reload Reload) (*Result, error) {
	l := &lowering{draft: &draft{d: d}, m: m}
	if err := l.lower(); err != nil {
		return nil, err
	}
	return l.finish(reload)
}

func (l *lowering) lower() error {
	m := l.m
	if m.Kind != design.Holds {
		return l.refuse(m.Pos(), "name a cell: holds ...", "%s of %s is %s, and no cell that it holds", m.Label, m.Owner.Name, m.Kind.Noun())
	}
	if err := l.findChild(); err != nil {
		return err
	}
	if err := l.nobodyElse(); err != nil {
		return err
	}
	cell := m.Syntax.(*syntax.Cell)
	if err := l.seenFromBelow(cell); err != nil {
		return err
	}
	l.move(cell)
	l.result.cells = []cellName{{l.child.Owner.Name, l.child.Label}}
	l.did("%s.%s is held by %s now, as %s", m.Owner.Name, m.Label, l.child.Owner.Name, l.child.Label)
	return nil
}

// findChild finds the one link by which the cell goes down.
func (l *lowering) findChild() error {
	m := l.m
	g := l.links()
	var given []*design.Given
	for _, c := range l.d.Components {
		for _, u := range g.Uses[c] {
			if u.User != m.Owner {
				continue
			}
			for _, list := range [][]*design.Given{u.Node.Links, u.Node.Ties} {
				for _, link := range list {
					if l.isCell(link.Unit.Expr) || link.Place != nil && link.Place.Root == types.Symbol(m) && len(link.Place.Steps) == 0 {
						given = append(given, link)
						l.use, l.link = u, link
					}
				}
			}
		}
	}
	if len(given) != 1 {
		places := make([]string, len(given))
		for i, x := range given {
			places[i] = l.d.Set.Position(x.Syntax.Start).String()
		}
		if len(given) == 0 {
			return l.refuse(m.Pos(), "lower a cell that is handed down as it is", "no part of %s is handed %s as it is, so none could hold it", m.Owner.Name, m.Label)
		}
		return l.refuse(m.Pos(), "two parts that need one cell share what is above both", "%s is handed down in several places: %s", m.Label, strings.Join(places, ", "))
	}
	l.child, l.tie = l.link.Member, l.link.Place != nil
	for _, n := range l.use.Path {
		switch n.(type) {
		case *design.When:
			return l.refuse(n.Span().Start, "leave it in "+m.Owner.Name+", or show "+l.child.Owner.Name+" always", "%s comes and goes here, and %s would begin anew each time", l.child.Owner.Name, m.Label)
		case *design.Each:
			return l.refuse(n.Span().Start, "hold it in the items of the list", "%s is used for every item, and each would hold %s of its own", l.child.Owner.Name, m.Label)
		}
	}
	if l.byMethod && !isAlwaysThere(l.use.Node, m.Owner.View) {
		return l.refuse(l.use.Node.Start, "leave it in "+m.Owner.Name, "%s stands in content that another component may not show, so its method may not be there", l.child.Owner.Name)
	}
	uses := g.Uses[l.child.Owner]
	if len(uses) != 1 {
		return l.refuse(l.use.Node.Start, "let each use have a cell of its own first: lower where there is one use", "%s is used in %d places, and in each it would hold a cell of its own", l.child.Owner.Name, len(uses))
	}
	for _, s := range l.d.Starts {
		if s.Root == l.child.Owner {
			return l.refuse(s.Syntax.Start, "start a component that uses it", "%s is also started by itself", l.child.Owner.Name)
		}
	}
	return nil
}

func (l *lowering) isCell(x types.Expr) bool {
	r, ok := x.(*types.Ref)
	return ok && r.Symbol == types.Symbol(l.m)
}

// nobodyElse makes sure that the child alone reads and changes the cell.
func (l *lowering) nobodyElse() error {
	writes := map[source.Span]bool{}
	for _, it := range l.use.Node.Syntax.Body {
		e, ok := it.(*syntax.Event)
		if !ok || len(e.Params) != 1 {
			continue
		}
		a, ok := single(e.Do).(*syntax.AssignStmt)
		if !ok || a.Op != syntax.Assign || l.text(a.Target) != l.m.Label || l.text(a.Value) != e.Params[0].Name.Text {
			continue
		}
		event := l.child.Owner.Member(e.Name.Text)
		if event == nil || event.Kind != design.Emits || l.event != nil {
			continue
		}
		l.event, l.hears = event, append(l.hears, e)
		writes[a.Span()] = true
	}
	var err error
	told := func(at source.Pos, what string) {
		if err == nil {
			err = l.refuse(at, "it is needed here: leave it in "+l.m.Owner.Name+", or move what needs it, too", "%s also %s %s", l.m.Owner.Name, what, l.m.Label)
		}
	}
	linked := l.link.Syntax.Span()
	design.Visitor{Effect: func(e design.Effect) {
		switch {
		case e.Kind == design.Reads && e.Symbol == types.Symbol(l.m) && !(linked.Start <= e.At.Span().Start && e.At.Span().End <= linked.End):
			told(e.At.Span().Start, "reads")
		case e.Kind == design.Writes && e.Place != nil && e.Place.Cell() == l.m && !writes[e.At.Span()] && !(linked.Start <= e.Place.At.Start && e.Place.At.End <= linked.End):
			if !l.callable(e) {
				told(e.At.Span().Start, "changes")
			}
		}
	}}.Component(l.m.Owner)
	if err == nil && l.d.Component(l.m.Owner.Name) != nil {
		err = l.notSeeded()
	}
	return err
}

// notSeeded: starts give the cell no first value, and laws and scenarios do not look at it.
func (l *lowering) notSeeded() error {
	for _, s := range l.d.Starts {
		for _, g := range s.Seeds {
			if g.Member == l.m {
				return l.refuse(g.Syntax.Start, "start with the first value in the component", "a start gives %s its first value", l.m.Label)
			}
		}
	}
	var err error
	see := design.Visitor{Effect: func(e design.Effect) {
		if e.Kind == design.Reads && e.Symbol == types.Symbol(l.m) && err == nil {
			err = l.refuse(e.At.Span().Start, "speak of "+l.child.Owner.Name+" there: the("+l.child.Owner.Name+")."+l.child.Label, "this looks at %s in %s", l.m.Label, l.m.Owner.Name)
		}
	}}
	see.Laws(l.d)
	see.Scenarios(l.d)
	for _, s := range l.d.Starts {
		for _, b := range s.Bounds {
			see.Unit(b)
		}
	}
	return err
}

// single is the statement in a block of one.
func single(s syntax.Stmt) syntax.Stmt {
	if b, ok := s.(*syntax.Block); ok && len(b.Stmts) == 1 {
		return single(b.Stmts[0])
	}
	return s
}

// seenFromBelow refuses a first value that only the parent knows.
func (l *lowering) seenFromBelow(cell *syntax.Cell) error {
	for _, x := range []syntax.Expr{cell.Value, cell.From} {
		if x == nil {
			continue
		}
		if n := readOf(l.m.Owner, x); n != nil {
			return l.refuse(n.Start, "let it begin with a constant", "%s begins with %s, which only %s has", l.m.Label, n.Text, l.m.Owner.Name)
		}
	}
	return nil
}

func (l *lowering) move(cell *syntax.Cell) {
	child := l.child
	first := " = "
	if cell.From != nil {
		first = " from "
	}
	value := cell.Value
	if value == nil {
		value = cell.From
	}
	l.take(cell.Span())
	l.removeItem(l.link.Syntax)
	text := l.moved(child.Syntax.Span(), fmt.Sprintf("holds %s: %s%s%s", child.Label, l.typeText(l.m), first, l.text(value)))
	if l.tie && l.tiedElsewhere() {
		text = strings.Replace(text, "holds ", "shares ", 1)
	}
	text = l.moved(cell.Span(), text)
	l.take(child.Syntax.Span())
	if l.event != nil {
		l.remove(l.event.Syntax.Span())
	}
	l.addMember(child.Owner, text, beforeHolds...)
	for _, e := range l.hears {
		l.removeItem(e)
	}
	if l.event == nil {
		return
	}
	syntax.Walk(child.Owner.Syntax, func(n syntax.Node) bool {
		if e, ok := n.(*syntax.Emit); ok && e.Name.Text == l.event.Label && len(e.Args) == 1 {
			l.replace(e.Span(), l.assignment(child.Label, e.Args[0]))
		}
		return true
	})
}

// tiedElsewhere says whether something offers or gathers the shared cell, which then stays one.
func (l *lowering) tiedElsewhere() bool { return l.child.Offered || l.child.Field }

// assignment is a change of a cell, as people write it: n += 1 for n + 1.
func (w *draft) assignment(cell string, value syntax.Expr) string {
	return w.assigned(cell, cell, value, func(x syntax.Expr) string { return w.text(x) })
}

// assigned is a change of a cell that is called something else in the text of the new value.
func (w *draft) assigned(cell, was string, value syntax.Expr, text func(syntax.Expr) string) string {
	if b, ok := value.(*syntax.Binary); ok && (b.Op == syntax.Plus || b.Op == syntax.Minus) && w.text(b.X) == was {
		op := map[syntax.Kind]string{syntax.Plus: " += ", syntax.Minus: " -= "}[b.Op]
		y := b.Y
		if p, ok := y.(*syntax.Paren); ok {
			y = p.X
		}
		return cell + op + text(y)
	}
	if r, ok := value.(*syntax.RecordLit); ok && len(r.Fields) == 2 && r.Fields[0].Name == nil && w.text(r.Fields[0].Value) == was {
		f := r.Fields[1]
		if f.Name != nil && f.Value == nil {
			return cell + "." + f.Name.Text + " = " + f.Name.Text
		}
		if f.Name != nil {
			name := "." + f.Name.Text
			return w.assigned(cell+name, was+name, f.Value, text)
		}
	}
	return cell + " = " + text(value)
}
