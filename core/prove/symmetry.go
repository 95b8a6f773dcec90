package prove

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/links"
	"lien/core/syntax"
	"lien/core/types"
)

// Parts of a page that behave alike whatever they are called may exchange their
// cells: nothing that a law or promise asks for can tell. Of the states that
// differ only by such an exchange one is visited.
//
// Alike are the items of an each whose handlers and links do not ask which item
// it is, and uses of one component beside each other whose links are the same
// but for what is only shown. What is in them must be quiet: nothing that
// happens by itself, and nothing that is told to several of them in an order.

// symmetries are the nodes of a design's views that are alike, by class, and the
// components in them.
type symmetries struct {
	classes map[design.Node]int
	inside  map[*design.Component]bool
}

// symmetriesIn finds what is alike in a design; nil where nothing is, or where a
// law could tell, and then why.
func symmetriesIn(d *design.Design, e *engine.Engine) (*symmetries, string) {
	if e.SeesGestures() {
		return nil, "a handler or form asks who has the focus, what was touched, or where the pointer is"
	}
	if !d.Hiding.Plain() {
		return nil, "styles hide parts of the page by what is beside or in them, or by what a user does"
	}
	if makesKeys(d) {
		return nil, "keys of fresh() tell equals apart"
	}
	for _, s := range d.Starts {
		if len(s.Samples)+len(s.Bounds) > 0 {
			return nil, "a start says what is typed, or where to stop, which may tell equals apart"
		}
	}
	f := &symmetryFinder{d: d, g: links.Of(d), asked: map[*design.Member]bool{}, quiet: map[*design.Component]bool{}, out: &symmetries{map[design.Node]int{}, map[*design.Component]bool{}}}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Gathered {
				return nil, "a gathered list has an order"
			}
		}
	}
	f.findShown()
	for _, c := range d.Components {
		f.nodes(c.View)
	}
	if len(f.out.classes) == 0 {
		return nil, "no parts of the page are equals"
	}
	for _, l := range d.Laws {
		if len(l.Samples) > 0 {
			return nil, "a law says what is typed, which may tell equals apart"
		}
		for _, cl := range l.Clauses {
			for _, u := range []*design.Unit{&cl.Unit, cl.To} {
				if u != nil && !f.symmetric(u.Expr) {
					return nil, fmt.Sprintf("the law %q could tell equals apart", l.Name)
				}
			}
		}
	}
	return f.out, ""
}

type symmetryFinder struct {
	d     *design.Design
	g     *links.Graph
	asked map[*design.Member]bool // whether they are constant
	shown map[types.Symbol]bool   // taken members that are only shown
	quiet map[*design.Component]bool
	out   *symmetries
}

// cannotFail says whether working out a value cannot fail: it is made of
// literals, names, fields, sums, joins, comparisons and choices.
func cannotFail(x types.Expr) bool {
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Const, *types.Ref, *types.Dot, *types.Template, *types.Cond, *types.Unary:
		case *types.Binary:
			ok = ok && x.Op != syntax.Slash && x.Op != syntax.Percent && x.Op != syntax.Star
		default:
			ok = false
		}
		return ok
	})
	return ok
}

// findShown finds the taken members that are shown and nothing else: to a fixed
// point, since they may be linked on to members that are not.
func (f *symmetryFinder) findShown() {
	f.shown = map[types.Symbol]bool{}
	for _, c := range f.d.Components {
		for _, m := range c.Members {
			f.shown[m] = m.Kind == design.Takes && !m.Implied
		}
	}
	for again := true; again; {
		again = false
		for _, c := range f.d.Components {
			for m := range f.readBy(c) {
				if f.shown[m] {
					f.shown[m], again = false, true
				}
			}
		}
	}
}

// readBy are the symbols that matter to a component: that it reads other than
// to show them.
func (f *symmetryFinder) readBy(c *design.Component) map[types.Symbol]bool {
	r := &matters{f: f, read: map[types.Symbol]bool{}}
	for _, m := range c.Members {
		if m.Init != nil {
			r.expr(m.Init.Expr)
		}
		r.body(m.Body)
		for _, h := range m.Hears {
			r.body(h.Body)
		}
	}
	for _, s := range c.Supplies {
		r.use(s.Use)
	}
	for _, x := range c.Follows {
		r.expr(x.Unit.Expr)
		r.body(x.Body)
	}
	for _, x := range c.Hooks {
		r.body(x.Body)
	}
	for _, x := range c.Hearings {
		r.body(x.Body)
	}
	r.nodes(c.View)
	return r.read
}

// matters collects what is read other than to be shown.
type matters struct {
	f    *symmetryFinder
	read map[types.Symbol]bool
	odd  bool // something is there that is never alike
}

func (r *matters) expr(e types.Expr) {
	types.Walk(e, func(e types.Expr) bool {
		switch e := e.(type) {
		case *types.Ref:
			r.read[e.Symbol] = true
		case *types.Select:
			r.read[e.Member] = true
		}
		return true
	})
}

func (r *matters) body(b *design.Body) {
	if b == nil {
		return
	}
	design.Visitor{
		Expr: func(e types.Expr) { r.expr(e) },
		Stmt: func(s design.Stmt) {
			switch s := s.(type) {
			case *design.Assign:
				r.read[s.Place.Root] = true
			case *design.Ask, *design.Open, *design.Clock, *design.Leave, *design.Send:
				r.odd = true
			}
		},
	}.Body(b)
}

func (r *matters) marks(list []*design.Attr) {
	for _, a := range list {
		if !cannotFail(a.Unit.Expr) || r.f.d.Hiding.Any() {
			r.expr(a.Unit.Expr)
		}
	}
}

func (r *matters) use(u *design.Use) {
	r.marks(u.Marks)
	for _, l := range u.Links {
		if !r.f.shown[l.Member] || !cannotFail(l.Unit.Expr) {
			r.expr(l.Unit.Expr)
		}
	}
	for _, list := range [][]*design.Given{u.Ties, u.Seeds} {
		for _, l := range list {
			r.expr(l.Unit.Expr)
			if l.Place != nil {
				r.read[l.Place.Root] = true
			}
		}
	}
	for _, h := range u.Handlers {
		r.body(h.Body)
	}
}

func (r *matters) nodes(list []design.Node) {
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			r.element(n)
		case *design.Text:
			if !cannotFail(n.Unit.Expr) {
				r.expr(n.Unit.Expr)
			}
		case *design.When:
			for _, b := range n.Branches {
				if b.Cond != nil {
					r.expr(b.Cond.Expr)
				}
				r.nodes(b.Body)
			}
		case *design.Each:
			r.expr(n.List.Expr)
			if n.By != nil {
				r.expr(n.By.Expr)
			}
			if n.Place != nil {
				r.read[n.Place.Root] = true
			}
			r.nodes(n.Body)
		case *design.Use:
			r.use(n)
			r.odd = r.odd || n.Named != nil || len(n.Fills) > 0
			for _, fill := range n.Fills {
				r.nodes(fill.Body)
			}
		case *design.SlotPlace:
			r.odd = true
			for _, u := range n.Data {
				r.expr(u.Expr)
			}
			r.nodes(n.Fallback)
		}
	}
}

// shownAttrs tell people something, and nothing else.
var shownAttrs = []string{"aria-label", "title", "alt", "placeholder"}

func (r *matters) element(n *design.Element) {
	for _, a := range n.Attrs {
		if !slices.Contains(shownAttrs, a.Name) || !cannotFail(a.Unit.Expr) || r.f.d.Hiding.Any() {
			r.expr(a.Unit.Expr)
		}
		c, ok := a.Unit.Expr.(*types.Const)
		r.odd = r.odd || slices.Contains([]string{"name", "id", "for", "form"}, a.Name) || a.Name == "type" && (!ok || fmt.Sprint(c.Value) == "radio")
	}
	r.marks(n.Marks)
	for _, t := range n.Ties {
		r.expr(t.Read.Expr)
		r.read[t.Write.Root] = true
	}
	for _, h := range n.Handlers {
		r.odd = r.odd || !slices.Contains([]string{"click", "change", "input"}, h.Name)
		r.body(h.Body)
	}
	r.odd = r.odd || n.Named != nil || n.Values != nil || slices.Contains([]string{"form", "dialog", "select", "option"}, n.Tag)
	r.nodes(n.Children)
}

// isQuiet says whether nothing in a component happens by itself, or in an order.
func (f *symmetryFinder) isQuiet(c *design.Component) bool {
	if q, ok := f.quiet[c]; ok {
		return q
	}
	f.quiet[c] = false // one that is nested in itself is not
	r := &matters{f: f, read: map[types.Symbol]bool{}}
	for _, m := range c.Members {
		r.body(m.Body)
		switch m.Kind {
		case design.Timer, design.Named, design.Gathered:
			return false
		}
		if m.Field || len(m.Hears) > 0 {
			return false
		}
	}
	r.nodes(c.View)
	if r.odd || len(c.Hooks)+len(c.Follows)+len(c.Hearings)+len(c.Supplies)+len(c.Slots) > 0 || c.Opened {
		return false
	}
	for _, u := range usesIn(c.View) {
		if !f.isQuiet(u.Component) {
			return false
		}
	}
	f.quiet[c] = true
	return true
}

func usesIn(list []design.Node) []*design.Use {
	var uses []*design.Use
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			uses = append(uses, u)
		}
	}}.Nodes(list)
	return uses
}

// nodes finds what is alike in a part of a view.
func (f *symmetryFinder) nodes(list []design.Node) {
	f.siblings(list)
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			f.nodes(n.Children)
		case *design.When:
			for _, b := range n.Branches {
				f.nodes(b.Body)
			}
		case *design.Each:
			f.each(n)
			f.nodes(n.Body)
		}
	}
}

// each tells whether the items of an each are alike.
func (f *symmetryFinder) each(n *design.Each) {
	r := &matters{f: f, read: map[types.Symbol]bool{}}
	r.nodes(n.Body)
	if r.odd || r.read[n.Item] || n.Index != nil && r.read[n.Index] {
		return
	}
	uses := usesIn(n.Body)
	for _, u := range uses {
		if !f.isQuiet(u.Component) {
			return
		}
	}
	if len(uses) > 0 && f.constant(n.List.Expr) {
		f.out.classes[n] = len(f.out.classes) + 1
		f.enter(uses)
	}
}

// enter notes which components are in parts that are alike.
func (f *symmetryFinder) enter(uses []*design.Use) {
	for _, u := range uses {
		if !f.out.inside[u.Component] {
			f.out.inside[u.Component] = true
			f.enter(usesIn(u.Component.View))
		}
	}
}

// constant says whether a value can never change: then items keep their places.
func (f *symmetryFinder) constant(x types.Expr) bool {
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Ref:
			ok = ok && f.fixed(x.Symbol)
		case *types.Select, *types.Builtin:
			ok = false
		}
		return ok
	})
	return ok
}

// fixed says whether a symbol stands for the same value all the time.
func (f *symmetryFinder) fixed(s types.Symbol) bool {
	switch s := s.(type) {
	case *design.Const, *design.Function, *types.Local:
		return true
	case *design.ViewLocal:
		return s.Each != nil && f.constant(s.Each.List.Expr)
	case *design.Member:
		switch s.Kind {
		case design.ConstMember, design.Derives:
			return s.Init != nil && f.constant(s.Init.Expr)
		case design.Holds:
			return len(f.g.Writes[s]) == 0 && !slices.ContainsFunc(f.g.Feeds[s], func(l *links.Link) bool { return l.Tie })
		case design.Takes:
			return f.given(s)
		}
	}
	return false
}

// given says whether all that a taken member is linked to is constant.
func (f *symmetryFinder) given(m *design.Member) bool {
	if f.asked[m] {
		return false
	}
	f.asked[m] = true
	defer delete(f.asked, m)
	for _, u := range f.g.Uses[m.Owner] {
		for _, l := range u.Node.Links {
			if l.Member == m && !f.constant(l.Unit.Expr) {
				return false
			}
		}
	}
	return true
}

// siblings finds uses beside each other that differ in what is only shown.
func (f *symmetryFinder) siblings(list []design.Node) {
	byKey := map[string][]*design.Use{}
	var order []string
	for _, n := range list {
		u, ok := n.(*design.Use)
		if !ok || u.Named != nil || len(u.Ties)+len(u.Handlers)+len(u.Fills) > 0 || !f.isQuiet(u.Component) {
			continue
		}
		key := u.Component.Name
		for _, l := range u.Links {
			if f.shown[l.Member] && cannotFail(l.Unit.Expr) {
				continue
			}
			key += "\n" + l.Member.Label + " <- " + f.d.Text(l.Unit.Expr.Span())
		}
		if byKey[key] == nil {
			order = append(order, key)
		}
		byKey[key] = append(byKey[key], u)
	}
	for _, key := range order {
		if uses := byKey[key]; len(uses) > 1 {
			class := len(f.out.classes) + 1
			for _, u := range uses {
				f.out.classes[u] = class
			}
			f.enter(uses)
		}
	}
}

// symmetric says whether a law cannot tell parts that are alike apart: it asks
// only how many of all are so, whether all are, or some.
func (f *symmetryFinder) symmetric(x types.Expr) bool {
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Method:
			if !f.isAll(x.Recv) {
				return true
			}
			if x.Name != "every" && x.Name != "some" && x.Name != "length" {
				ok = false
			}
			for _, a := range x.Args {
				ok = ok && f.symmetric(a)
			}
			ok = ok && f.filters(x.Recv)
			return false
		case *types.Builtin:
			c, is := x.Of.(*design.Component)
			ok = ok && !(is && f.out.inside[c])
		case *types.Select:
			m, is := x.Member.(*design.Member)
			ok = ok && !(is && f.out.inside[m.Owner] && f.shown[m])
		}
		return ok
	})
	return ok
}

// isAll says whether a list is made of all instances of something alike.
func (f *symmetryFinder) isAll(x types.Expr) bool {
	switch x := x.(type) {
	case *types.Builtin:
		c, ok := x.Of.(*design.Component)
		return ok && x.Name == "all" && f.out.inside[c]
	case *types.Method:
		return x.Name == "filter" && f.isAll(x.Recv)
	}
	return false
}

// filters looks at the conditions by which a list was filtered.
func (f *symmetryFinder) filters(x types.Expr) bool {
	m, ok := x.(*types.Method)
	if !ok {
		return true
	}
	for _, a := range m.Args {
		if !f.symmetric(a) {
			return false
		}
	}
	return f.filters(m.Recv)
}

// ordered is the state with its parts in order; the state itself stays.
func (x *search) ordered(groups []engine.Group, cells []uint32) []uint32 {
	if len(groups) == 0 {
		return cells
	}
	out := slices.Clone(cells)
	explore.Order(groups, out)
	return out
}

// real turns the causes of a way through states whose parts were put in order
// into those that a page meets, where nothing is exchanged.
func (x *search) real(ids []int) []int {
	ordered, plain := newWorker(x), newWorker(newReplay(x))
	ordered.next.Symmetric(x.symmetry)
	ordered.home.Symmetric(x.symmetry)
	for _, w := range []*worker{ordered, plain} {
		w.now.by, w.e.OnTurn = onTheWay, nil
		if _, err := w.e.Mount(x.start); err != nil {
			return ids
		}
	}
	plain.next.Symmetric(x.symmetry)
	ordered.arrange()
	var out []int
	for _, id := range ids {
		list := ordered.e.Causes(ordered.samples)
		want := list[id]
		err := ordered.e.Do(&want)
		state := ordered.next.Read()
		cells := slices.Clone(x.ordered(ordered.next.Groups(), state.Cells))
		shape := state.Shape
		same := func(s engine.State, groups []engine.Group) bool {
			return s.Shape == shape && slices.Equal(x.ordered(groups, s.Cells), cells)
		}
		found := plain.imitate(&want, id, err, same)
		if found < 0 {
			return append(out, id) // cannot be: what is alike does alike
		}
		out = append(out, found)
		if err != nil {
			break
		}
		ordered.arrange()
	}
	return out
}

// imitate takes the cause that does on another page what one does here: it
// tries that at the same place first.
func (w *worker) imitate(want *engine.Cause, at int, failed error, same func(engine.State, []engine.Group) bool) int {
	mark := w.e.Mark()
	count := len(w.e.Causes(w.samples))
	for n := range count {
		i := (at + n) % count
		list := w.e.Causes(w.samples)
		c := &list[i]
		if c.Verb != want.Verb || c.Text != want.Text || (c.Element == nil) != (want.Element == nil) || c.Element != nil && c.Element.Def() != want.Element.Def() {
			continue
		}
		err := w.e.Do(c)
		if failed != nil && err != nil && err.Error() == failed.Error() || failed == nil && err == nil && same(w.next.Read(), w.next.Groups()) {
			return i
		}
		w.e.Rewind(mark)
	}
	return -1
}

// arrange puts the parts of the page that are alike in order, by their cells.
func (w *worker) arrange() {
	state := w.home.Read()
	want := w.x.ordered(w.home.Groups(), state.Cells)
	if places, numbers := differences(state.Cells, want); len(places) > 0 {
		w.home.Patch(places, numbers)
	}
}
