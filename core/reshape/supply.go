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

// Supply makes a context of cells of one component, with the actions and derived values that are about them
// alone. Who shows or changes them uses it; what was only handed through goes, all along the way.
func Supply(d *design.Design, cells []*design.Member, name string, reload Reload) (*Result, error) {
	s := newSupplying(d, cells, name)
	if err := s.possible(); err != nil {
		return nil, err
	}
	s.gather()
	s.spread()
	s.rewrite()
	s.declare()
	return s.finish(reload)
}

func newSupplying(d *design.Design, cells []*design.Member, name string) *supplying {
	return &supplying{draft: &draft{d: d}, name: name, cells: cells, values: map[*design.Component]map[string]string{}, events: map[*design.Component]map[string]string{},
		setters: map[*design.Member]bool{}, shared: map[*design.Member]bool{}, speaks: map[*design.Component]bool{}}
}

// supplying is a context in the making.
type supplying struct {
	*draft
	name  string
	owner *design.Component
	cells []*design.Member
	moves []*design.Member // actions and derived values about the cells alone

	values  map[*design.Component]map[string]string // by component and name: what is written in place of it
	events  map[*design.Component]map[string]string // by component and event: the action that is called in place of it
	setters map[*design.Member]bool                 // cells that need an action to set them
	shared  map[*design.Member]bool                 // cells that are tied
	speaks  map[*design.Component]bool              // components that use the context
	uses    map[*design.Component][]*links.Use
	made    []*madeAction // of what the owner does with an event
}

func (s *supplying) possible() error {
	if len(s.cells) == 0 {
		return &Refusal{Why: "there is no cell to supply", Do: "name one or more cells of one component"}
	}
	s.owner = s.cells[0].Owner
	at := s.cells[0].Pos()
	for _, m := range s.cells {
		cell, ok := m.Syntax.(*syntax.Cell)
		switch {
		case m.Owner != s.owner:
			return s.refuse(m.Pos(), "supply them one after the other, or lift them to one component first", "%s and %s are held by different components", s.cells[0].Label, m.Label)
		case !ok || m.Kind != design.Holds:
			return s.refuse(m.Pos(), "name a cell: holds ...", "%s of %s is %s, and no cell that it holds", m.Label, s.owner.Name, m.Kind.Noun())
		case m.Aside:
			return s.refuse(m.Pos(), "leave it where it is, or show it", "%s is held aside: only its owner reads it", m.Label)
		case cell.Value == nil || readOf(s.owner, cell.Value) != nil:
			return s.refuse(m.Pos(), "let it begin with a constant", "%s begins with what only %s has", m.Label, s.owner.Name)
		}
		if where, ok := s.throughItems(m); ok {
			return s.refuse(where.Start, "write the list as a whole", "an item of %s is written by itself here", m.Label)
		}
	}
	switch {
	case s.owner.IsContext:
		return s.refuse(at, "it is a context already", "%s is held by a context", s.cells[0].Label)
	case s.name == "" || strings.Contains(s.name, "-") || s.d.Component(s.name) != nil || s.namesIn(s.owner)[s.name]:
		return s.refuse(at, "give it a name without a hyphen that nothing has: --as rack", "%q cannot be the name of the context", s.name)
	}
	if err := s.lookedAt(); err != nil {
		return err
	}
	for _, start := range s.d.Starts {
		for _, g := range start.Seeds {
			if slices.Contains(s.cells, g.Member) {
				return s.refuse(g.Syntax.Start, "begin with the value in the component", "a start gives %s its first value", g.Member.Label)
			}
		}
	}
	return nil
}

// lookedAt refuses cells that laws and scenarios look at in another way than by the(component).
func (s *supplying) lookedAt() (err error) {
	v := design.Visitor{Expr: func(x types.Expr) {
		sel, ok := x.(*types.Select)
		if !ok || err != nil {
			return
		}
		m, ok := sel.Member.(*design.Member)
		if ok && slices.Contains(s.cells, m) && !strings.HasPrefix(s.d.Text(x.Span()), "the("+s.owner.Name+").") {
			err = s.refuse(x.Span().Start, "let it look at the("+s.owner.Name+")."+m.Label+", where there is one", "this looks at %s of any %s", m.Label, s.owner.Name)
		}
	}}
	v.Laws(s.d)
	v.Scenarios(s.d)
	for _, start := range s.d.Starts {
		v.Start(start)
	}
	return err
}

func (s *supplying) put(list map[*design.Component]map[string]string, c *design.Component, name, text string) bool {
	if list[c] == nil {
		list[c] = map[string]string{}
	}
	if list[c][name] != "" {
		return false
	}
	list[c][name] = text
	return true
}

// gather finds what moves into the context: the cells, and the actions and derived values about them alone.
func (s *supplying) gather() {
	for _, m := range s.cells {
		s.put(s.values, s.owner, m.Label, s.name+"."+m.Label)
	}
	for again := true; again; {
		again = false
		for _, m := range s.owner.Members {
			if (m.Kind == design.Action || m.Kind == design.Derives) && !m.Offered && !slices.Contains(s.moves, m) && s.alone(m) {
				s.moves = append(s.moves, m)
				s.put(s.values, s.owner, m.Label, s.name+"."+m.Label)
				again = true
			}
		}
	}
	slices.SortFunc(s.moves, func(a, b *design.Member) int { return int(a.At.Start - b.At.Start) })
}

// alone says whether a member is about the cells, and about nothing else of its component.
func (s *supplying) alone(m *design.Member) bool {
	about, alone := false, true
	syn := m.Syntax
	if d, ok := syn.(*syntax.Derives); ok && d.Set != nil {
		return false
	}
	walk := &scopes{visit: func(n *syntax.Name, _ bool) {
		o := s.owner.Member(n.Text)
		switch {
		case o == nil || o == m:
		case slices.Contains(s.cells, o) || slices.Contains(s.moves, o):
			about = true
		default:
			alone = false
		}
	}}
	walk.node(syn, names{})
	syntax.Walk(syn, func(n syntax.Node) bool {
		switch n.(type) {
		case *syntax.Emit, *syntax.TimerStmt, *syntax.Leave, *syntax.Open, *syntax.Ask:
			alone = false
		}
		return alone
	})
	return about && alone
}

// spread follows the cells, and the reports of their changes, down through the components that hand them on.
func (s *supplying) spread() {
	g := s.links()
	s.uses = g.Uses
	for again := true; again; {
		again = false
		for _, c := range s.d.Components {
			for _, u := range g.Uses[c] {
				again = s.through(c, u) || again
			}
		}
	}
	for again := true; again; {
		again = false
		for c := range s.values {
			for name, text := range s.values[c] {
				if c != s.owner && !s.everyUse(c, func(u *links.Use) bool { return s.linkText(u, name) == text }) {
					delete(s.values[c], name)
					again = true
				}
			}
		}
		for c := range s.events {
			for name, text := range s.events[c] {
				if !s.everyUse(c, func(u *links.Use) bool { return s.eventText(u, name) == text }) {
					delete(s.events[c], name)
					again = true
				}
			}
		}
	}
}

func (s *supplying) everyUse(c *design.Component, is func(*links.Use) bool) bool {
	for _, start := range s.d.Starts {
		if start.Root == c {
			return false
		}
	}
	for _, u := range s.uses[c] {
		if !is(u) {
			return false
		}
	}
	return len(s.uses[c]) > 0
}

// through notes what one use hands on.
func (s *supplying) through(c *design.Component, u *links.Use) (found bool) {
	if c.IsContext {
		return false // its users read what it takes
	}
	for _, m := range c.Members {
		if m.Offered {
			continue
		}
		switch m.Kind {
		case design.Takes, design.Shares:
			if text := s.linkText(u, m.Label); text != "" {
				found = s.put(s.values, c, m.Label, text) || found
			}
		case design.Emits:
			if text := s.eventText(u, m.Label); text != "" {
				found = s.put(s.events, c, m.Label, text) || found
			}
		}
	}
	return found
}

// linkText is what a use hands down as a value, if that belongs to the context; else "".
func (s *supplying) linkText(u *links.Use, name string) string {
	for _, it := range u.Node.Syntax.Body {
		l, ok := it.(*syntax.Link)
		if !ok || l.Name.Text != name || l.Class {
			continue
		}
		if n, ok := l.Value.(*syntax.Name); ok && !s.shadowed(u, n.Text) {
			return s.values[u.User][n.Text]
		}
	}
	return ""
}

// shadowed says whether an each or fill around a use names something else so.
func (s *supplying) shadowed(u *links.Use, name string) bool {
	for _, n := range u.Path {
		if e, ok := n.(*design.Each); ok && (e.Item.Label == name || e.Index != nil && e.Index.Label == name) {
			return true
		}
	}
	return false
}

// eventText is the action that a use does with an event, and nothing else, if it belongs to the context; else "".
func (s *supplying) eventText(u *links.Use, name string) string {
	for _, it := range u.Node.Syntax.Body {
		e, ok := it.(*syntax.Event)
		if !ok || e.Name.Text != name {
			continue
		}
		switch do := single(e.Do).(type) {
		case *syntax.Pass:
			if n, ok := do.Target.(*syntax.Name); ok {
				return s.values[u.User][n.Text]
			}
		case *syntax.CallStmt:
			if n, ok := do.Call.Fun.(*syntax.Name); ok && s.passes(e, do.Call.Args) {
				return s.values[u.User][n.Text]
			}
		case *syntax.AssignStmt:
			n, ok := do.Target.(*syntax.Name)
			if ok && do.Op == syntax.Assign && s.passes(e, []syntax.Expr{do.Value}) {
				if m := s.cellOf(s.values[u.User][n.Text]); m != nil {
					return s.setter(m)
				}
			}
		case *syntax.Forward:
			to := name
			if do.Name != nil {
				to = do.Name.Text
			}
			return s.events[u.User][to]
		case *syntax.Emit:
			if s.passes(e, do.Args) {
				return s.events[u.User][do.Name.Text]
			}
		}
		return s.madeOf(u, e)
	}
	return ""
}

// passes says whether what an event carries is passed on as it is.
func (s *supplying) passes(e *syntax.Event, args []syntax.Expr) bool {
	if len(args) != len(e.Params) {
		return false
	}
	for i, a := range args {
		if n, ok := a.(*syntax.Name); !ok || n.Text != e.Params[i].Name.Text {
			return false
		}
	}
	return true
}

// cellOf is the cell that a text stands for, or nil.
func (s *supplying) cellOf(text string) *design.Member {
	for _, m := range s.cells {
		if text == s.name+"."+m.Label {
			return m
		}
	}
	return nil
}

// setter is the action that sets a cell.
func (s *supplying) setter(m *design.Member) string { return s.name + ".set" + upper(m.Label) }

// rewrite writes the context in place of what was handed on.
func (s *supplying) rewrite() {
	for _, c := range s.d.Components {
		if len(s.values[c])+len(s.events[c]) > 0 {
			s.component(c)
		}
	}
	s.lookAt(func(m *design.Member) bool { return slices.Contains(s.cells, m) || slices.Contains(s.moves, m) }, s.owner.Name, s.name)
}

func (s *supplying) component(c *design.Component) {
	var cut []source.Span
	for _, m := range c.Members {
		own := s.values[c][m.Label] != "" || s.events[c][m.Label] != ""
		if own && (c != s.owner || slices.Contains(s.cells, m) || slices.Contains(s.moves, m)) {
			cut = append(cut, m.Syntax.Span())
			switch {
			case m == s.cells[0]:
				s.gone = append(s.gone, m.Syntax.Span()) // where it stood, the context is supplied
			case c == s.owner:
				s.take(m.Syntax.Span()) // into the context
			default:
				s.remove(m.Syntax.Span())
			}
		}
	}
	for _, k := range s.d.Components { // what is handed on to components that use the context themselves
		for _, u := range s.uses[k] {
			if u.User != c {
				continue
			}
			for _, it := range u.Node.Syntax.Body {
				switch it := it.(type) {
				case *syntax.Link:
					if s.values[k][it.Name.Text] != "" && !it.Class {
						cut = append(cut, it.Span())
						s.removeItem(it)
					}
				case *syntax.Event:
					if s.events[k][it.Name.Text] != "" {
						cut = append(cut, it.Span())
						s.removeItem(it)
					}
				}
			}
		}
	}
	gone := func(at source.Pos) bool {
		return slices.ContainsFunc(cut, func(s source.Span) bool { return s.Start <= at && at < s.End })
	}
	s.writes(c, gone)
	s.reads(c, gone)
	s.reports(c, gone)
}

// writes are calls of the context's actions now.
func (s *supplying) writes(c *design.Component, gone func(source.Pos) bool) {
	for _, m := range c.Members {
		cell := s.cellOf(s.values[c][m.Label])
		if cell == nil || !m.Writable() {
			continue
		}
		for _, wr := range s.writesOf(m) {
			if !gone(wr.stmt.Start) {
				value := s.newValue(wr)
				s.replace(wr.stmt.Span(), s.setter(cell)+"("+s.asUsers(c, value)+")")
				s.setters[cell], s.speaks[c] = true, true
				s.covered = append(s.covered, wr.stmt.Span())
			}
		}
		fields, children, _ := s.tiesOf(m)
		for _, t := range fields {
			if !gone(t.Syntax.Start) {
				s.shared[cell] = true
			}
		}
		for _, t := range children {
			if !gone(t.Syntax.Start) {
				s.shared[cell] = true
			}
		}
	}
}

// asUsers is a new value as a user of the context writes it.
func (s *supplying) asUsers(c *design.Component, value string) string {
	inner := design.Parse("value", "const it = "+value)
	var edits []textEdit
	if len(inner.Files) == 0 || len(inner.Files[0].Decls) == 0 {
		return value
	}
	decl, ok := inner.Files[0].Decls[0].(*syntax.ConstDecl)
	if !ok {
		return value
	}
	base := decl.Value.Span().Start
	walk := &scopes{visit: func(n *syntax.Name, short bool) {
		if text := s.values[c][n.Text]; text != "" {
			if short {
				text = n.Text + ": " + text
			}
			edits = append(edits, textEdit{int(n.Start - base), int(n.Stop - base), text})
		}
	}}
	walk.node(decl.Value, names{})
	return edited(value, edits)
}

func (s *supplying) reads(c *design.Component, gone func(source.Pos) bool) {
	scoped(c.Syntax, func(n *syntax.Name, short bool) {
		text := s.values[c][n.Text]
		if text == "" || gone(n.Start) || s.isCovered(n.Start) {
			return
		}
		if short {
			text = n.Text + ": " + text
		}
		s.replace(n.Span(), text)
		s.speaks[c] = true
	})
}

func (w *draft) isCovered(at source.Pos) bool {
	return slices.ContainsFunc(w.covered, func(s source.Span) bool { return s.Start <= at && at < s.End })
}

// reports are calls of the context's actions now.
func (s *supplying) reports(c *design.Component, gone func(source.Pos) bool) {
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.Emit:
			if text := s.events[c][n.Name.Text]; text != "" && !gone(n.Start) {
				s.replace(source.Span{Start: n.Start, End: n.Name.Stop}, text)
				s.called(c, text)
				if len(n.Args) == 0 && !strings.HasSuffix(s.text(n), ")") {
					s.insert(n.Stop, "()")
				}
			}
		case *syntax.Event:
			f, ok := n.Do.(*syntax.Forward)
			if !ok || gone(n.Start) {
				return true
			}
			to := n.Name.Text
			if f.Name != nil {
				to = f.Name.Text
			}
			if text := s.events[c][to]; text != "" {
				s.replace(f.Span(), text)
				s.called(c, text)
			}
		}
		return true
	})
}

func (s *supplying) called(c *design.Component, text string) {
	s.speaks[c] = true
	for _, a := range s.made {
		a.called = a.called || text == s.name+"."+a.name
	}
	for _, m := range s.cells {
		if text == s.setter(m) {
			s.setters[m] = true
		}
	}
}

// declare writes the context, and who supplies and uses it.
func (s *supplying) declare() {
	var out strings.Builder
	fmt.Fprintf(&out, "context %s {\n", s.name)
	for _, m := range s.cells {
		word := "holds"
		if s.shared[m] {
			word = "shares"
		}
		cell := m.Syntax.(*syntax.Cell)
		out.WriteString(s.moved(cell.Span(), fmt.Sprintf("%s %s: %s = %s", word, m.Label, s.typeText(m), s.text(cell.Value))) + "\n")
	}
	for _, m := range s.moves {
		out.WriteString("\n" + s.moved(m.Syntax.Span(), s.text(m.Syntax)) + "\n")
		s.did("%s moves into %s: it is about that alone", m.Label, s.name)
	}
	for _, a := range s.made {
		if a.called {
			fmt.Fprintf(&out, "\naction %s(%s) %s\n", a.name, a.params, a.body)
			s.did("%s.%s does what %s did with %[2]s", s.name, a.name, s.owner.Name)
		}
	}
	for _, m := range s.cells {
		if s.setters[m] {
			fmt.Fprintf(&out, "\naction set%s(value: %s) { %s = value }\n", upper(m.Label), s.typeText(m), m.Label)
		}
		s.did("%s.%s is held by the context %s now", s.owner.Name, m.Label, s.name)
	}
	out.WriteString("}\n\n")
	s.insert(s.whole(s.owner.Syntax.Span()).Start, out.String())
	as := ""
	if s.speaks[s.owner] {
		as = " as " + s.name
	}
	s.replace(s.whole(s.cells[0].Syntax.Span()), "supplies "+s.name+as+"\n")
	for _, c := range s.d.Components {
		if c != s.owner && s.speaks[c] {
			s.addMember(c, "uses "+s.name, beforeUses...)
			s.did("%s uses it", c.Name)
		} else if c != s.owner && len(s.values[c])+len(s.events[c]) > 0 {
			s.did("%s only handed it through, and does so no more", c.Name)
		}
	}
}
