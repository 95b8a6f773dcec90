package reshape

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
)

// handDown takes a context away: its cells go to the component that supplied it, and travel down to those that
// used it, through all that stands between.
func handDown(d *design.Design, m *design.Member, as string, reload Reload) (*Result, error) {
	h := newHanding(d, m.Owner, as)
	h.uses = h.links().Uses
	if err := h.prepare(m); err != nil {
		return nil, err
	}
	h.bringHome()
	for _, c := range d.Components {
		if _, uses := h.alias[c]; uses {
			h.rewrite(c)
		}
		h.declare(c)
	}
	h.lookAt(func(m *design.Member) bool { return m.Owner == h.context }, h.context.Name, h.supplier.Name)
	h.drop(h.context.Syntax.Span())
	return h.finish(reload)
}

func newHanding(d *design.Design, context *design.Component, as string) *handing {
	return &handing{draft: &draft{d: d}, context: context, as: as, refs: map[*design.Component][]ref{}, alias: map[*design.Component]string{},
		wants: map[*design.Component][]want{}, setters: map[*design.Member]*design.Member{}}
}

// prepare finds who supplies and uses the context, and what each is to be handed.
func (h *handing) prepare(m *design.Member) error {
	if err := h.possible(m); err != nil {
		return err
	}
	for _, step := range []func() error{h.supplied, h.plain, h.find, h.spread} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// handing is a context on its way into links.
type handing struct {
	*draft
	context  *design.Component
	as       string
	supplier *design.Component
	supplies *syntax.Supplies
	uses     map[*design.Component][]*links.Use
	alias    map[*design.Component]string // what the context is called
	refs     map[*design.Component][]ref  // where a member of it stands
	wants    map[*design.Component][]want // what is handed to a component
	setters  map[*design.Member]*design.Member
	homed    map[*design.Member]bool // derived values and actions that have moved, with what is said of them
}

// ref is a member of the context in the text of a component.
type ref struct {
	at *syntax.Dotted
	m  *design.Member
}

// How a member of the context comes to a component.
type way int

const (
	handed way = iota // as a value
	tied              // as a cell of its own, tied
	called            // as a function, or in the form of a report
	copied            // with arguments: it is derived there, too
)

// want is what a component is handed, and what it calls it.
type want struct {
	m    *design.Member
	way  way
	name string
}

func (h *handing) possible(m *design.Member) error {
	switch {
	case h.as == AsContext:
		return h.refuse(m.Pos(), "choose another way: report, tie or function", "%s travels by a context already", m.Label)
	case !slices.Contains([]string{AsReport, AsTie, AsFunction}, h.as):
		return h.refuse(m.Pos(), "write report, tie or function", "a value does not travel as %s", h.as)
	case !m.IsCell() && m.Kind != design.Derives:
		return h.refuse(m.Pos(), "name a cell of it", "%s of %s is %s", m.Label, h.context.Name, m.Kind.Noun())
	}
	return nil
}

// supplied finds the one component that supplies the context.
func (h *handing) supplied() error {
	for _, c := range h.d.Components {
		for _, s := range c.Supplies {
			if s.Use.Component != h.context {
				continue
			}
			if h.supplier != nil {
				return h.refuse(s.Use.Syntax.Start, "leave it a context", "%s supplies %s, too, and a cell is held in one place", c.Name, h.context.Name)
			}
			h.supplier = c
		}
	}
	if h.supplier == nil {
		return h.refuse(h.context.Syntax.Start, "supply it", "nothing supplies %s", h.context.Name)
	}
	for _, m := range h.supplier.Syntax.Members {
		if s, ok := m.(*syntax.Supplies); ok && s.Context.Text == h.context.Name {
			h.supplies = s
			if s.As != nil {
				h.alias[h.supplier] = s.As.Text
			}
		}
	}
	if len(h.supplies.Links) > 0 {
		return h.refuse(h.supplies.Start, "link what it takes inside "+h.supplier.Name+" first", "%s is given something where it is supplied", h.context.Name)
	}
	return nil
}

// plain refuses a context that is more than cells, what is derived of them, and actions.
func (h *handing) plain() error {
	c := h.context
	taken := h.namesIn(h.supplier)
	for _, m := range c.Members {
		derives, _ := m.Syntax.(*syntax.Derives)
		switch {
		case m.IsCell() && m.Kind != design.Takes && !m.Aside, m.Kind == design.Action, m.Kind == design.Derives && derives.Set == nil:
		default:
			return h.refuse(m.Pos(), "leave it a context", "%s of %s is %s, which no link hands down", m.Label, c.Name, m.Kind.Noun())
		}
		if taken[m.Label] && m.Label != h.alias[h.supplier] {
			return h.refuse(m.Pos(), fmt.Sprintf("rename it first: lien rename %s.%s NEW", c.Name, m.Label), "%s has a name %s already", h.supplier.Name, m.Label)
		}
		if cell := h.setOf(m); cell != nil {
			h.setters[m] = cell
		}
	}
	for _, s := range c.Syntax.Members {
		switch s.(type) {
		case *syntax.Hook, *syntax.Follows, *syntax.Hears, *syntax.Supplies:
			return h.refuse(s.Span().Start, "leave it a context", "%s does something by itself here, which no link hands down", c.Name)
		}
	}
	return nil
}

// setOf is the cell that an action sets to what it is given, if it does nothing else; or nil.
func (h *handing) setOf(m *design.Member) *design.Member {
	a, ok := m.Syntax.(*syntax.Action)
	if !ok || len(a.Params) != 1 {
		return nil
	}
	s, ok := single(a.Body).(*syntax.AssignStmt)
	if !ok || s.Op != syntax.Assign || h.text(s.Value) != a.Params[0].Name.Text {
		return nil
	}
	n, ok := s.Target.(*syntax.Name)
	if !ok {
		return nil
	}
	if cell := h.context.Member(n.Text); cell != nil && cell.IsCell() {
		return cell
	}
	return nil
}

// find finds the users, and where they read, tie and call what the context has.
func (h *handing) find() error {
	for _, c := range h.d.Components {
		for _, m := range c.Members {
			if m.Kind != design.Used || m.Context != h.context {
				continue
			}
			u := m.Syntax.(*syntax.Uses)
			switch {
			case c.IsContext:
				return h.refuse(u.Start, "hand it to "+c.Name+" where that is supplied", "%s is a context itself, and is handed nothing in a view", c.Name)
			case u.Optional:
				return h.refuse(u.Start, "leave it a context", "%s works without %s, too", c.Name, h.context.Name)
			case c == h.supplier:
				return h.refuse(u.Start, "leave it a context", "%s supplies %s and uses one from above", c.Name, h.context.Name)
			}
			h.alias[c] = m.Label
		}
		if err := h.refsIn(c); err != nil {
			return err
		}
	}
	return nil
}

func (h *handing) refsIn(c *design.Component) error {
	alias := h.alias[c]
	if alias == "" {
		return nil
	}
	names := map[source.Pos]bool{}
	scoped(c.Syntax, func(n *syntax.Name, _ bool) {
		if n.Text == alias {
			names[n.Start] = true
		}
	})
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		x, ok := n.(*syntax.Dotted)
		if !ok {
			return true
		}
		if base, ok := x.X.(*syntax.Name); ok && names[base.Start] {
			if m := h.context.Member(x.Name.Text); m != nil {
				delete(names, base.Start)
				h.refs[c] = append(h.refs[c], ref{x, m})
			}
		}
		return true
	})
	for at := range names {
		return h.refuse(at, "leave it a context", "%s is handed on as a whole here", alias)
	}
	return h.wanted(c)
}

// wanted is what the text of a component asks of the context.
func (h *handing) wanted(c *design.Component) (err error) {
	ways := h.waysIn(c)
	for _, r := range h.refs[c] {
		w := want{m: r.m, way: handed}
		if found, ok := ways[r.at]; ok {
			w.way = found
		}
		derives, _ := r.m.Syntax.(*syntax.Derives)
		switch {
		case c == h.supplier:
			continue // it holds them
		case w.way == tied && h.as != AsTie:
			return h.refuse(r.at.Start, "--as tie", "%s is tied here", h.text(r.at))
		case w.way == handed && derives != nil && derives.Call:
			if err := h.copy(c, r.m); err != nil {
				return err
			}
			continue
		case w.way == handed && r.m.Kind == design.Action && h.as != AsFunction:
			return h.refuse(r.at.Start, "--as function", "%s is handed on as a function here", h.text(r.at))
		case r.m.Kind == design.Action && w.way == handed:
			w.way = called
		case w.way == called && h.as == AsTie && h.setters[r.m] != nil:
			w = want{m: h.setters[r.m], way: tied}
		}
		h.want(c, w)
	}
	return nil
}

// copy derives a value that takes arguments in the component that asks for it: links hand down what has none.
func (h *handing) copy(c *design.Component, m *design.Member) (err error) {
	if !h.want(c, want{m: m, way: copied}) {
		return nil
	}
	walk := &scopes{visit: func(n *syntax.Name, _ bool) {
		of := h.context.Member(n.Text)
		if of == nil || err != nil {
			return
		}
		if d, ok := of.Syntax.(*syntax.Derives); ok && d.Call {
			err = h.copy(c, of)
		} else {
			h.want(c, want{m: of, way: handed})
		}
		if name := h.nameOf(c, of); name != n.Text && err == nil {
			err = h.refuse(c.Syntax.Start, fmt.Sprintf("rename it first: lien rename %s.%s NEW", h.context.Name, n.Text), "%s has a name %s already, which %s reads", c.Name, n.Text, m.Label)
		}
	}}
	walk.node(m.Syntax, names{})
	return err
}

// waysIn are the places where a component calls, or ties, a member of the context.
func (h *handing) waysIn(c *design.Component) map[*syntax.Dotted]way {
	ways := map[*syntax.Dotted]way{}
	note := func(x syntax.Expr, w way) {
		if d, ok := x.(*syntax.Dotted); ok {
			ways[d] = w
		}
	}
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.CallStmt:
			note(n.Call.Fun, called)
		case *syntax.Pass:
			note(n.Target, called)
		case *syntax.Link:
			if n.Op == syntax.Tie {
				note(n.Value, tied)
			}
		}
		return true
	})
	return ways
}

// want notes what a component is handed; true where that is new. A cell that is tied is not handed down besides.
func (h *handing) want(c *design.Component, w want) bool {
	for i, o := range h.wants[c] {
		if o.m != w.m {
			continue
		}
		if o.way == handed && w.way == tied {
			h.wants[c][i].way = tied
			return true
		}
		return false
	}
	name := w.m.Label
	if cell := h.setters[w.m]; w.way == called && h.as == AsReport && cell != nil {
		name = "change" + upper(cell.Label)
	}
	if w.name = name; name != h.alias[c] {
		w.name = h.free(c, name)
	}
	h.wants[c] = append(h.wants[c], w)
	return true
}

// spread lets all that stand between the supplier and a user hand on what that is handed.
func (h *handing) spread() error {
	for again := true; again; {
		again = false
		for _, c := range h.d.Components {
			if len(h.wants[c]) == 0 {
				continue
			}
			for _, s := range h.d.Starts {
				if s.Root == c {
					return h.refuse(s.Syntax.Start, "start a component above it", "%s is also started by itself", c.Name)
				}
			}
			if len(h.uses[c]) == 0 {
				return h.refuse(c.Syntax.Start, "use it in the view of "+h.supplier.Name, "no view below %s uses %s", h.supplier.Name, c.Name)
			}
			for _, u := range h.uses[c] {
				if u.User == h.supplier {
					continue
				}
				if !above(h.d, h.supplier, u.User) {
					return h.refuse(u.Node.Start, "leave it a context: what stands in a slot is reached by one alone", "%s is used here by %s, which is not below %s", c.Name, u.User.Name, h.supplier.Name)
				}
				for _, w := range h.wants[c] {
					again = w.way != copied && h.want(u.User, w) || again
				}
			}
		}
	}
	for _, list := range h.wants {
		slices.SortStableFunc(list, func(a, b want) int {
			if max(a.way, tied) != max(b.way, tied) { // values and cells, what is called, what is derived
				return int(a.way - b.way)
			}
			return int(a.m.Pos() - b.m.Pos())
		})
	}
	return nil
}
