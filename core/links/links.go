// Package links tells who holds, reads and changes each cell of a design, and
// over which links: the graph that map prints and the rules of check ask.
package links

import (
	"runtime"
	"slices"
	"sync"

	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
)

// Graph is the links of a design. Its lists are in text order.
type Graph struct {
	Design *design.Design
	Shows  map[*design.Member][]*Site    // where its own view shows a value
	Feeds  map[*design.Member][]*Link    // the children it is linked down to
	Fed    map[*design.Member][]*Link    // the links that give a taken value
	Reads  map[*design.Member][]*Read    // everything that reads it
	Writes map[*design.Member][]*Write   // what assigns to it
	Emits  map[*design.Member][]*Trigger // what reports an event
	Hears  map[*design.Member][]*Handler // the handlers of an event, at its uses
	Calls  map[*design.Member][]*Trigger // what calls an action or taken function
	Uses   map[*design.Component][]*Use  // where a component is used
	Asked  map[*design.Member][]*Site    // what else reads a value: handlers, what follows it, first values
	Sends  map[*design.Channel][]*Trigger
	Consts map[*design.Const][]*Site // where a constant of the design is shown, or linked down

	handed *handed
}

// Site is a place in a view that shows a value.
type Site struct {
	Component *design.Component
	What      string // such as "text of button" or "when"
	At        source.Span
	Via       []Hop // how the value comes to the component, if that is not by links to its members
}

// Link is a value linked down to a child.
type Link struct {
	From *design.Member // nil where it reads no member
	To   *design.Member
	User *design.Component
	At   source.Span
	Text string
	Pure bool // the value goes through as it is
	Tie  bool // the child may write it too
	Near bool // the expression itself reads From, rather than something derived from it
}

// Read is an expression that reads a member.
type Read struct {
	By *design.Member // the member whose value it is, or nil: a view or handler
	At source.Span
}

// Write is an assignment to a cell, and what sets it off.
type Write struct {
	Cell    *design.Member
	At      source.Span
	Trigger *Trigger
	Value   types.Expr // nil for a tie and for a part of the cell
}

// Trigger is the body that does something: a DOM handler, the handler of a
// component's event, an action, or the set block of a derives.
type Trigger struct {
	Component *design.Component
	Element   *design.Element // of a DOM handler or tie
	Event     string          // its event, or "" for a tie
	Tie       string          // the tied property
	Heard     *design.Member  // the component's event that is handled
	Member    *design.Member  // the action, timer or derives
	Living    string          // what runs by itself: on mount, or follows x
	Channel   *design.Channel // whose messages it hears
	Slot      *Hop            // by which slot the action that it calls was handed out
	Body      *design.Body
	At        source.Span
}

// Handler is what a use of a component does with an event.
type Handler struct {
	User *design.Component
	Use  *design.Use
	Body *design.Body
	At   source.Span
}

// Use is one use of a component.
type Use struct {
	User *design.Component
	Node *design.Use
	Path []design.Node // the when and each around it, outermost first
}

// Of works out the links of a design.
func Of(d *design.Design) *Graph {
	handed := handedIn(d)
	parts := make([]*Graph, max(1, min(runtime.GOMAXPROCS(0), len(d.Components)/leastPart)))
	var wait sync.WaitGroup
	for i := range parts {
		from, to := i*len(d.Components)/len(parts), (i+1)*len(d.Components)/len(parts)
		wait.Go(func() { parts[i] = partOf(d, d.Components[from:to], handed) })
	}
	wait.Wait()
	g := parts[0]
	for _, p := range parts[1:] {
		g.add(p)
	}
	return g
}

// leastPart is how many components are worth a part of their own, beside others.
const leastPart = 64

// partOf is the links of some of the components, one after the other.
func partOf(d *design.Design, of []*design.Component, handed *handed) *Graph {
	g := &Graph{
		Design: d, Shows: map[*design.Member][]*Site{}, Feeds: map[*design.Member][]*Link{}, Fed: map[*design.Member][]*Link{},
		Reads: map[*design.Member][]*Read{}, Writes: map[*design.Member][]*Write{}, Emits: map[*design.Member][]*Trigger{},
		Hears: map[*design.Member][]*Handler{}, Calls: map[*design.Member][]*Trigger{}, Uses: map[*design.Component][]*Use{},
		Asked: map[*design.Member][]*Site{}, Sends: map[*design.Channel][]*Trigger{}, Consts: map[*design.Const][]*Site{}, handed: handed,
	}
	for _, c := range of {
		b := &builder{Graph: g, c: c}
		b.members()
		b.nodes(c.View, nil)
	}
	return g
}

// add puts the links of later components behind those of a graph.
func (g *Graph) add(o *Graph) {
	behind(g.Shows, o.Shows)
	behind(g.Feeds, o.Feeds)
	behind(g.Fed, o.Fed)
	behind(g.Reads, o.Reads)
	behind(g.Writes, o.Writes)
	behind(g.Emits, o.Emits)
	behind(g.Hears, o.Hears)
	behind(g.Calls, o.Calls)
	behind(g.Uses, o.Uses)
	behind(g.Asked, o.Asked)
	behind(g.Sends, o.Sends)
	behind(g.Consts, o.Consts)
}

func behind[K comparable, V any](first, then map[K][]V) {
	for k, list := range then {
		first[k] = append(first[k], list...)
	}
}

// builder adds the links of one component.
type builder struct {
	*Graph
	c *design.Component
}

func (b *builder) members() {
	for _, m := range b.c.Members {
		if m.Init != nil {
			b.read(m.Init.Expr, m)
			if m.Kind != design.Derives && m.Kind != design.Takes {
				b.asked(m.Init.Expr, "first value of "+m.Label)
			}
		}
		if m.Body != nil {
			b.body(&Trigger{Component: b.c, Member: m, Body: m.Body, At: m.At})
		}
	}
	for _, s := range b.c.Supplies {
		b.use(s.Use, nil)
	}
	for _, m := range b.c.Members {
		for _, h := range m.Hears {
			b.Hears[h.Event] = append(b.Hears[h.Event], &Handler{b.c, nil, h.Body, h.Syntax.Span()})
			b.body(&Trigger{Component: b.c, Heard: h.Event, Body: h.Body, At: h.Syntax.Span()})
		}
	}
	for _, h := range b.c.Hooks {
		name := "on mount"
		if h.Unmount {
			name = "on unmount"
		}
		b.body(&Trigger{Component: b.c, Living: name, Body: h.Body, At: h.Syntax.Span()})
	}
	for _, h := range b.c.Hearings {
		b.body(&Trigger{Component: b.c, Living: "hears " + h.Channel.Name, Channel: h.Channel, Body: h.Body, At: h.Syntax.Span()})
	}
	for _, f := range b.c.Follows {
		b.read(f.Unit.Expr, nil)
		b.asked(f.Unit.Expr, "follows "+b.Design.Text(f.Syntax.Value.Span()))
		b.body(&Trigger{Component: b.c, Living: "follows " + b.Design.Text(f.Syntax.Value.Span()), Body: f.Body, At: f.Syntax.Span()})
	}
}

// read notes every member that an expression reads.
func (b *builder) read(e types.Expr, by *design.Member) {
	types.Walk(e, func(e types.Expr) bool {
		if m := readBy(e); m != nil {
			b.Reads[m] = append(b.Reads[m], &Read{by, e.Span()})
		}
		return true
	})
}

// readBy is the member that an expression reads by itself, or nil.
func readBy(e types.Expr) *design.Member {
	switch e := e.(type) {
	case *types.Ref:
		m, _ := e.Symbol.(*design.Member)
		return m
	case *types.Builtin:
		m, _ := e.Of.(*design.Member)
		return m
	case *types.Select:
		m, _ := e.Member.(*design.Member)
		return m
	}
	return nil
}

// Direct are the members that an expression reads itself, or through the items
// of a list, in text order.
func Direct(e types.Expr) []*design.Member {
	var list []*design.Member
	var visit func(e types.Expr)
	visit = func(e types.Expr) {
		types.Walk(e, func(e types.Expr) bool {
			if m := readBy(e); m != nil && !slices.Contains(list, m) {
				list = append(list, m)
			}
			if ref, ok := e.(*types.Ref); ok {
				if s, ok := ref.Symbol.(*design.ViewLocal); ok && s.Each != nil {
					visit(s.Each.List.Expr)
				}
			}
			return true
		})
	}
	visit(e)
	return list
}

// sources are the cells, taken values and constants that an expression comes
// from, through derivations and the lists of items.
func (b *builder) sources(e types.Expr) []*design.Member {
	list, _ := b.comesFrom(e)
	return list
}

// comesFrom is the same, with the slots by which a value is handed out.
func (b *builder) comesFrom(e types.Expr) (list []*design.Member, via map[*design.Member][]Hop) {
	if ref, ok := e.(*types.Ref); ok { // as most
		if m, ok := ref.Symbol.(*design.Member); ok && m.Kind != design.Derives {
			return []*design.Member{m}, nil
		}
	}
	seen := map[types.Symbol]bool{}
	var slot []Hop
	var visit func(e types.Expr)
	note := func(m *design.Member) {
		list = append(list, m)
		if slot != nil {
			if via == nil {
				via = map[*design.Member][]Hop{}
			}
			via[m] = slot
		}
	}
	visit = func(e types.Expr) {
		types.Walk(e, func(e types.Expr) bool {
			if sel, ok := e.(*types.Select); ok {
				if part, ok := sel.Member.(*design.FormPart); ok {
					b.controls(sel, part, note)
				}
				if m, ok := sel.Member.(*design.Member); ok && !seen[m] {
					seen[m] = true
					note(m)
					if m.Kind == design.Derives && m.Init != nil {
						visit(m.Init.Expr)
					}
				}
				return true
			}
			ref, ok := e.(*types.Ref)
			if !ok || seen[ref.Symbol] {
				return true
			}
			seen[ref.Symbol] = true
			switch s := ref.Symbol.(type) {
			case *design.Member:
				note(s)
				if s.Kind == design.Derives && s.Init != nil {
					visit(s.Init.Expr)
				}
			case *design.ViewLocal:
				if s.Each != nil {
					visit(s.Each.List.Expr)
				} else if h := b.handed.slots[s]; h != nil {
					before := slot
					slot = append(slot[:len(slot):len(slot)], h.hop(s.Label))
					visit(h.value)
					slot = before
				}
			case *types.Local:
				for _, x := range b.handed.values[s] {
					visit(x)
				}
			}
			return true
		})
	}
	visit(e)
	return list, via
}

// controls notes the cells of the form controls whose values a form is asked for.
func (b *builder) controls(sel *types.Select, part *design.FormPart, note func(*design.Member)) {
	if part.Label != "values" && part.Label != "dirty" {
		return
	}
	ref, ok := sel.X.(*types.Ref)
	if !ok {
		return
	}
	for _, m := range b.controlsOf(func(el *design.Element) bool { return el.Named == ref.Symbol }) {
		note(m)
	}
}

// controlsOf are the cells of the form controls in the forms of the component that is looked at.
func (b *builder) controlsOf(is func(*design.Element) bool) (list []*design.Member) {
	var visit func(nodes []design.Node, in bool)
	visit = func(nodes []design.Node, in bool) {
		for _, n := range nodes {
			switch n := n.(type) {
			case *design.Element:
				visit(n.Children, in || n.Tag == "form" && is(n))
			case *design.When:
				for _, br := range n.Branches {
					visit(br.Body, in)
				}
			case *design.Each:
				visit(n.Body, in)
			case *design.Use:
				if f := n.Component.Field(); f != nil && in {
					list = append(list, f)
				}
				for _, f := range n.Fills {
					visit(f.Body, in)
				}
			}
		}
	}
	visit(b.c.View, false)
	return list
}

// asked notes what else than the page reads a value.
func (b *builder) asked(e types.Expr, what string) {
	list, via := b.comesFrom(e)
	for _, m := range list {
		b.Asked[m] = append(b.Asked[m], &Site{b.c, what, e.Span(), via[m]})
	}
}

func (b *builder) show(e types.Expr, what string, at source.Span) {
	if _, fixed := e.(*types.Const); fixed {
		return // as most texts
	}
	b.read(e, nil)
	list, via := b.comesFrom(e)
	for _, m := range list {
		b.Shows[m] = append(b.Shows[m], &Site{b.c, what, at, via[m]})
	}
	b.constants(e, what, at)
}

// constants notes where the constants that an expression reads get to.
func (b *builder) constants(e types.Expr, what string, at source.Span) {
	if len(b.Design.Consts) == 0 {
		return
	}
	types.Walk(e, func(e types.Expr) bool {
		if ref, ok := e.(*types.Ref); ok {
			if c, ok := ref.Symbol.(*design.Const); ok {
				b.Consts[c] = append(b.Consts[c], &Site{b.c, what, at, nil})
			}
		}
		return true
	})
}

func (b *builder) nodes(list []design.Node, around []design.Node) {
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			b.element(n, around)
		case *design.Text:
			b.show(n.Unit.Expr, "text", n.Span())
		case *design.When:
			for _, br := range n.Branches {
				if br.Cond != nil {
					b.show(br.Cond.Expr, "when", br.Cond.Expr.Span())
				}
				b.nodes(br.Body, append(around[:len(around):len(around)], n))
			}
		case *design.Each:
			b.show(n.List.Expr, "each", n.List.Expr.Span())
			if n.By != nil {
				b.read(n.By.Expr, nil)
			}
			b.nodes(n.Body, append(around[:len(around):len(around)], n))
		case *design.Use:
			b.use(n, around)
			for _, f := range n.Fills {
				b.nodes(f.Body, append(around[:len(around):len(around)], n))
			}
		case *design.SlotPlace:
			for _, u := range n.Data {
				b.show(u.Expr, "slot "+n.Name, n.Span())
			}
			b.nodes(n.Fallback, around)
		}
	}
}

func (b *builder) element(n *design.Element, around []design.Node) {
	for _, a := range n.Attrs {
		b.show(a.Unit.Expr, a.Name+" of "+n.Tag, a.Syntax.Span())
	}
	for _, a := range n.Marks {
		b.show(a.Unit.Expr, "."+a.Name+" of "+n.Tag, a.Syntax.Span())
	}
	for _, t := range n.Ties {
		b.show(t.Read.Expr, t.Name+" of "+n.Tag, t.Syntax.Span())
		trigger := &Trigger{Component: b.c, Element: n, Tie: t.Name, At: t.Syntax.Span()}
		b.write(t.Write, trigger, nil, t.Syntax.Span())
	}
	for _, h := range n.Handlers {
		b.body(&Trigger{Component: b.c, Element: n, Event: h.Name, Body: h.Body, At: h.Syntax.Span()})
		if n.Tag == "form" && h.Name == "submit" && len(h.Body.Params) > 0 {
			for _, m := range b.controlsOf(func(el *design.Element) bool { return el == n }) {
				b.Asked[m] = append(b.Asked[m], &Site{b.c, "submit on form", h.Syntax.Span(), nil})
			}
		}
	}
	for _, c := range n.Children {
		if t, ok := c.(*design.Text); ok {
			b.show(t.Unit.Expr, "text of "+n.Tag, t.Span())
			continue
		}
		b.nodes([]design.Node{c}, around)
	}
}

func (b *builder) use(n *design.Use, around []design.Node) {
	b.Uses[n.Component] = append(b.Uses[n.Component], &Use{b.c, n, around})
	for _, a := range n.Marks {
		b.show(a.Unit.Expr, "."+a.Name+" of "+n.Component.Name, a.Syntax.Span())
	}
	for _, l := range n.Links {
		b.read(l.Unit.Expr, nil)
		at := l.Syntax.Span()
		text := l.Syntax.Name.Text + " <- " + b.Design.Text(l.Syntax.Value.Span())
		sources := b.sources(l.Unit.Expr)
		b.constants(l.Unit.Expr, l.Member.Label+" of "+n.Component.Name, at)
		pure, near := isPure(l.Unit.Expr), Direct(l.Unit.Expr)
		for _, m := range sources {
			link := &Link{From: m, To: l.Member, User: b.c, At: at, Text: text, Pure: pure, Near: slices.Contains(near, m)}
			b.Feeds[m] = append(b.Feeds[m], link)
			b.Fed[l.Member] = append(b.Fed[l.Member], link)
		}
		if len(sources) == 0 {
			b.Fed[l.Member] = append(b.Fed[l.Member], &Link{To: l.Member, User: b.c, At: at, Text: text})
		}
	}
	for _, l := range n.Seeds {
		b.read(l.Unit.Expr, nil)
	}
	for _, l := range n.Ties {
		b.tie(l)
	}
	for _, h := range n.Handlers {
		b.Hears[h.Event] = append(b.Hears[h.Event], &Handler{b.c, n, h.Body, h.Syntax.Span()})
		b.body(&Trigger{Component: b.c, Heard: h.Event, Body: h.Body, At: h.Syntax.Span()})
	}
}

// tie notes that a child's shared member and a place here are one cell.
func (b *builder) tie(l *design.Given) {
	b.read(l.Unit.Expr, nil)
	root := l.Place.Root
	for {
		item, ok := root.(*design.ViewLocal)
		if !ok {
			break
		}
		root = item.Each.Place.Root
	}
	m := root.(*design.Member)
	text := l.Syntax.Name.Text + " <-> " + b.Design.Text(l.Syntax.Value.Span())
	link := &Link{From: m, To: l.Member, User: b.c, At: l.Syntax.Span(), Text: text, Pure: isPure(l.Unit.Expr), Tie: true, Near: true}
	b.Feeds[m] = append(b.Feeds[m], link)
	b.Fed[l.Member] = append(b.Fed[l.Member], link)
	for _, s := range b.sources(l.Unit.Expr) {
		if s != m { // what a derived value that is tied comes from
			down := &Link{From: s, To: l.Member, User: b.c, At: l.Syntax.Span(), Text: text}
			b.Feeds[s] = append(b.Feeds[s], down)
			b.Fed[l.Member] = append(b.Fed[l.Member], down)
		}
	}
}

// isPure says whether an expression hands a member on as it is.
func isPure(e types.Expr) bool {
	ref, ok := e.(*types.Ref)
	if !ok {
		return false
	}
	_, ok = ref.Symbol.(*design.Member)
	return ok
}

// reading is a symbol, and where it is read.
type reading struct {
	symbol types.Symbol
	at     source.Span
}

// body notes what the statements of a trigger do. What the handlers of an opened
// component do, these are the trigger of.
func (b *builder) body(t *Trigger) {
	var read []reading // for whose sake is known at the end
	var own ownReads
	defer func() {
		for _, r := range read {
			b.askedBy(t, r, own)
		}
	}()
	design.Visitor{
		Stmt: own.stmt,
		Enter: func(s design.Stmt) bool {
			_, opens := s.(*design.Open)
			return !opens
		},
		Effect: func(e design.Effect) {
			switch e.Kind {
			case design.Reads:
				if m, ok := e.Symbol.(*design.Member); ok {
					b.Reads[m] = append(b.Reads[m], &Read{t.Member, e.At.Span()})
				}
				read = append(read, reading{e.Symbol, e.At.Span()})
			case design.Writes:
				own.writes = append(own.writes, e.Cell())
				b.write(e.Place, t, e.Value, e.At.Span())
			case design.Reports:
				b.Emits[e.Event] = append(b.Emits[e.Event], t)
			case design.Opens:
				b.use(e.Use, nil)
			case design.Starts:
				b.Calls[e.Event] = append(b.Calls[e.Event], t)
			case design.Calls:
				if m := e.Called(); m != nil && m.Kind != design.Derives {
					b.Calls[m] = append(b.Calls[m], t)
				}
				if ref, ok := e.Fun.(*types.Ref); ok {
					b.calledBySlot(t, ref)
				}
			case design.Sends:
				b.Sends[e.Channel] = append(b.Sends[e.Channel], t)
				for _, a := range e.Args {
					b.asked(a, "sent as "+e.Channel.Name)
					own.told = append(own.told, a.Span())
				}
			case design.Asks:
				for _, a := range e.Args {
					b.asked(a, "asked of "+e.Operation.Service.Name+"."+e.Operation.Name)
					own.told = append(own.told, a.Span())
				}
			}
		},
	}.Body(t.Body)
}

// calledBySlot notes a call of an action that a slot hands out.
func (b *builder) calledBySlot(t *Trigger, ref *types.Ref) {
	m, by := b.handed.action(ref.Symbol)
	if m == nil {
		return
	}
	hop := by.hop(m.Label)
	through := *t
	through.Slot = &hop
	b.Calls[m] = append(b.Calls[m], &through)
}

// ownReads are the places of a handler whose reading is told elsewhere: what is written to a cell, and what decides
// whether it is, with the cell; what is sent and asked, as that.
type ownReads struct {
	told   []source.Span
	writes []*design.Member
	values []*design.Assign
	heads  []source.Span // of conditions, and of the lists that are gone through
}

func (o *ownReads) stmt(s design.Stmt) {
	switch s := s.(type) {
	case *design.Assign:
		o.values = append(o.values, s)
	case *design.If:
		o.heads = append(o.heads, s.Cond.Span())
	case *design.For:
		o.heads = append(o.heads, s.List.Span())
	}
}

// covers says whether it is told elsewhere that a cell is read at a place.
func (o *ownReads) covers(m *design.Member, at source.Span) bool {
	within := func(s source.Span) bool { return s.Start <= at.Start && at.End <= s.End }
	return slices.ContainsFunc(o.told, within) || slices.Contains(o.writes, m) && (slices.ContainsFunc(o.heads, within) ||
		slices.ContainsFunc(o.values, func(a *design.Assign) bool { return a.Place.Cell() == m && within(a.Span()) }))
}

// askedBy notes that what a trigger does reads a member, or a value that comes from one.
func (b *builder) askedBy(t *Trigger, r reading, own ownReads) {
	switch s := r.symbol.(type) {
	case *design.Member:
		if s.Kind == design.Action || s.Kind == design.Emits || s.Kind == design.Timer {
			return
		}
	case *design.ViewLocal:
		if s.Each == nil && b.handed.slots[s] == nil {
			return
		}
	default:
		return
	}
	list, via := b.comesFrom(types.NewRef(r.symbol, r.at))
	for _, m := range list {
		if !own.covers(m, r.at) {
			b.Asked[m] = append(b.Asked[m], &Site{b.c, t.words(), r.at, via[m]})
		}
	}
}

// words say what sets a trigger off.
func (t *Trigger) words() string {
	switch {
	case t.Tie != "":
		return "input to " + t.Element.Tag
	case t.Element != nil:
		return t.Event + " on " + t.Element.Tag
	case t.Heard != nil:
		return "when " + t.Heard.Owner.Name + " reports " + t.Heard.Label
	case t.Living != "":
		return t.Living
	case t.Member != nil && t.Member.Kind == design.Timer:
		return "timer " + t.Member.Label
	case t.Member != nil && t.Member.Kind == design.Derives:
		return "set of " + t.Member.Label
	}
	return t.Member.Label + "()"
}

// write notes a write to a place: to its cell, or to that of the list whose item it is.
func (b *builder) write(p *design.Place, t *Trigger, v types.Expr, at source.Span) {
	if len(p.Steps) > 0 {
		v = nil
	}
	switch root := p.Root.(type) {
	case *design.Member:
		if root.Kind == design.Derives {
			b.Calls[root] = append(b.Calls[root], t)
		}
		b.Writes[root] = append(b.Writes[root], &Write{root, at, t, v})
	case *design.ViewLocal:
		b.write(root.Each.Place, t, nil, at)
	}
}
