package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Split makes a cell of each field of a cell that holds a record: form becomes formName and formKg.
func Split(d *design.Design, m *design.Member, reload Reload) (*Result, error) {
	s := &draft{d: d}
	rec, ok := types.Under(m.Type()).(*types.Record)
	cell, isCell := m.Syntax.(*syntax.Cell)
	if !isCell || m.Kind != design.Holds || !ok {
		return nil, s.refuse(m.Pos(), "name a cell that holds a record, and never null", "%s of %s holds no record", m.Label, m.Owner.Name)
	}
	lit, ok := cell.Value.(*syntax.RecordLit)
	if !ok {
		return nil, s.refuse(m.Pos(), "let it begin with a record that is written out", "%s begins with what is written elsewhere", m.Label)
	}
	first := map[string]string{}
	for _, f := range lit.Fields {
		if f.Name == nil {
			return nil, s.refuse(f.Start, "write the fields out", "%s begins with the fields of another record", m.Label)
		}
		first[f.Name.Text] = f.Name.Text
		if f.Value != nil {
			first[f.Name.Text] = s.text(f.Value)
		}
	}
	parts := map[string]string{}
	var lines []string
	for _, f := range rec.Fields {
		parts[f.Name] = s.free(m.Owner, m.Label+upper(f.Name))
		value := first[f.Name]
		if value == "" {
			value = "null"
		}
		word := "holds"
		if !s.writesField(m, f.Name) {
			word = "const" // nothing changes it
		}
		lines = append(lines, fmt.Sprintf("%s %s: %s = %s", word, parts[f.Name], types.Widen(f.Read()), value))
	}
	if err := s.splitUses(m, parts); err != nil {
		return nil, err
	}
	s.take(cell.Span())
	s.addMember(m.Owner, s.moved(cell.Span(), strings.Join(lines, "\n")), beforeHolds...)
	s.did("%s.%s is %d cells now: each field is one", m.Owner.Name, m.Label, len(lines))
	return s.finish(reload)
}

// writesField says whether anything changes a field of the record.
func (s *draft) writesField(m *design.Member, field string) (writes bool) {
	design.Visitor{Effect: func(e design.Effect) {
		if e.Kind == design.Writes && e.Place != nil && e.Place.Cell() == m {
			writes = writes || len(e.Place.Steps) == 0 || e.Place.Steps[0].Field == field
		}
	}}.Component(m.Owner)
	return writes
}

// splitUses writes the cell of a field in place of the field, and refuses where the record is used whole.
func (s *draft) splitUses(m *design.Member, parts map[string]string) (err error) {
	dotted := map[source.Pos]bool{}
	syntax.Walk(m.Owner.Syntax, func(n syntax.Node) bool {
		d, ok := n.(*syntax.Dotted)
		if !ok {
			return true
		}
		if x, ok := d.X.(*syntax.Name); ok && x.Text == m.Label && parts[d.Name.Text] != "" {
			dotted[x.Start] = true
			s.replace(d.Span(), parts[d.Name.Text])
		}
		return true
	})
	scoped(m.Owner.Syntax, func(n *syntax.Name, _ bool) {
		if n.Text == m.Label && !dotted[n.Start] && err == nil {
			err = s.refuse(n.Start, "hand on, or set, the fields one by one first", "%s is used as a whole here", m.Label)
		}
	})
	v := design.Visitor{Expr: func(x types.Expr) {
		sel, ok := x.(*types.Select)
		if ok && sel.Member == types.Symbol(m) && err == nil {
			err = s.refuse(x.Span().Start, "look at a field through what the page shows", "%s is looked at from outside here", m.Label)
		}
	}}
	v.Laws(s.d)
	v.Scenarios(s.d)
	for _, start := range s.d.Starts {
		v.Start(start)
		for _, g := range start.Seeds {
			if g.Member == m && err == nil {
				err = s.refuse(g.Syntax.Start, "begin with the value in the component", "a start gives %s its first value", m.Label)
			}
		}
	}
	return err
}

// Join makes one cell of two that always agree: the second goes, and the first is read in its place. Whether they
// agree is for the comparison to say.
func Join(d *design.Design, m, other *design.Member, reload Reload) (*Result, error) {
	s := &draft{d: d}
	for _, c := range []*design.Member{m, other} {
		if c.Kind != design.Holds {
			return nil, s.refuse(c.Pos(), "name two cells: holds ...", "%s of %s is %s, and no cell that it holds", c.Label, c.Owner.Name, c.Kind.Noun())
		}
	}
	switch {
	case m == other:
		return nil, s.refuse(m.Pos(), "name two cells", "%s is one cell already", m.Label)
	case m.Owner != other.Owner:
		return nil, s.refuse(other.Pos(), "lift one of them first, so that one component holds both", "%s and %s are held by different components", m.Label, other.Label)
	case !types.Identical(types.Widen(m.Type()), types.Widen(other.Type())):
		return nil, s.refuse(other.Pos(), "derive one from the other", "%s and %s have different types", m.Label, other.Label)
	}
	if at, ok := s.throughItems(other); ok {
		return nil, s.refuse(at.Start, "write the list as a whole", "an item of %s is written by itself here", other.Label)
	}
	for _, wr := range s.writesOf(other) {
		if s.writesBoth(m, other, wr.stmt) {
			s.remove(wr.stmt.Span())
			s.covered = append(s.covered, wr.stmt.Span())
		}
	}
	scoped(m.Owner.Syntax, func(n *syntax.Name, short bool) {
		if n.Text != other.Label || s.isCovered(n.Start) {
			return
		}
		text := m.Label
		if short {
			text = n.Text + ": " + m.Label
		}
		s.replace(n.Span(), text)
	})
	s.remove(other.Syntax.Span())
	r := &renaming{draft: s, from: other.Label, to: m.Label}
	r.selected(other)
	s.did("%s and %s of %s are one cell now, %s", m.Label, other.Label, m.Owner.Name, m.Label)
	return s.finish(reload)
}

// writesBoth says whether a write of the other cell stands in a block beside the same write of the first.
func (s *draft) writesBoth(m, other *design.Member, st *syntax.AssignStmt) (both bool) {
	as := func(x syntax.Expr) string { // as it is once there is one cell
		at, edits := x.Span(), []textEdit(nil)
		free(x, names{}, func(n *syntax.Name) {
			if n.Text == other.Label {
				edits = append(edits, textEdit{int(n.Start - at.Start), int(n.Stop - at.Start), m.Label})
			}
		})
		return edited(s.text(x), edits)
	}
	same := func(x syntax.Stmt) bool {
		a, ok := x.(*syntax.AssignStmt)
		return ok && a != st && a.Op == st.Op && as(a.Target) == as(st.Target) && as(a.Value) == as(st.Value)
	}
	syntax.Walk(m.Owner.Syntax, func(n syntax.Node) bool {
		b, ok := n.(*syntax.Block)
		both = both || ok && slices.Contains(b.Stmts, syntax.Stmt(st)) && slices.ContainsFunc(b.Stmts, same)
		return !both
	})
	return both
}
