// Package form writes a design as one page: every component stands where it is used, every value that is handed down
// is what it is worked out from, and every report is what its hearer does. Two designs of one form are one to
// everybody outside, however state is held and shared in them.
//
// A form is worked out by running each handler once with symbols in place of values: what it tells the world, and
// what the cells hold at its end, in terms of what they held before. What this cannot follow, such as lists of
// instances, has no form: then nothing is claimed.
package form

import (
	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// term is a value in symbols.
type term struct {
	op   string
	val  value.Value
	sym  any // *cell, *binder, *name, *timer
	kids []*term
}

// binder is what stands for an item, a parameter, or what an event carries. It is known by its address, and things of
// no size may all have one.
type binder struct{ _ byte }

// cell is state that some instance holds.
type cell struct {
	scope *block
	init  *term
}

// name is an element that handlers speak of. It is known by its address, as a binder is.
type name struct{ _ byte }

// timer is one of an instance.
type timer struct {
	scope  *block
	every  bool
	delay  *term
	params []*binder
	body   *body
}

// block is what comes and goes at once: the page, a branch of a when, the body of an each, what is opened.
type block struct{ nodes []*node }

// node is a piece of the page, or something that an instance does by itself at this place.
type node struct {
	kind     string // element, text, when, each, follows, mount, unmount, hears
	tag      string
	classes  []string
	attrs    []attr
	handlers []handler
	term     *term // of a text, a list, what is followed
	by       *term
	item     *binder
	index    *binder
	conds    []*term
	blocks   []*block
	name     *name
	body     *body
}

// attr is an attribute, a class or a tie of an element.
type attr struct {
	kind, name string
	term       *term
	place      *place // of a tie, in place of a term
}

// handler is what an element does with an event.
type handler struct {
	event string
	body  *body
}

// place is what a tie or an assignment writes.
type place struct {
	cell  *cell
	steps []step
}

type step struct {
	field string
	index *term
}

// body is what runs when something happens.
type body struct {
	params []*binder
	does   []*effect
	ends   []change
}

// change is what a cell holds at the end.
type change struct {
	cell *cell
	is   *term
}

// effect is what the world is told, in order.
type effect struct {
	op     string
	sym    any // *timer, *name
	terms  []*term
	bodies []*body
	held   []change // by cells, when what is told may change them
	page   *block   // of what is opened
}

// gaveUp is why a design has no form.
type gaveUp string

func giveUp(why string) { panic(gaveUp(why)) }

// Alike says whether two starts have one form, and why not: "" for alike.
func Alike(before, after *design.Design, a, b *design.Start) (why string) {
	defer func() {
		if r := recover(); r != nil {
			g, ok := r.(gaveUp)
			if !ok {
				panic(r)
			}
			why = string(g)
		}
	}()
	if before.Hiding.Any() || after.Hiding.Any() {
		giveUp("its styles hide parts of the page")
	}
	x, y := of(before, a), of(after, b)
	m := newMatcher()
	if !m.sameBlock(x, y) || !m.sameBodies() {
		return "they have different forms"
	}
	return ""
}

// instance is a component where it is used.
type instance struct {
	b            *builder
	comp         *design.Component
	use          *design.Use // nil for a root
	user         *instance
	locals       *locals // of the view around the use
	start        *design.Start
	home         *block // in which it lives
	mayGo        bool   // that comes and goes
	scope        *block // in which its view is written at the moment
	comesAndGoes bool
	contexts     map[*design.Component]*instance
	supplied     map[*design.Component]*instance
	cells        map[*design.Member]*cell
	timers       map[*design.Member]*timer
	names        map[types.Symbol]*name
	parts        map[types.Symbol]*instance // that are named, and always there
	captured     map[types.Symbol]*term     // of what a handler opened: its locals
	depth        int
}

// locals are what a view names around a place.
type locals struct {
	up         *locals
	sym        types.Symbol
	term       *term        // of an item
	list       *design.Unit // that it is an item of
	unit       *design.Unit // of what a slot hands out
	mayGo      bool         // the slot comes and goes
	from       *instance    // whose list it is, or that hands it out
	fromLocals *locals
}

func (l *locals) find(s types.Symbol) *locals {
	for ; l != nil; l = l.up {
		if l.sym == s {
			return l
		}
	}
	return nil
}

// builder works a form out.
type builder struct {
	d      *design.Design
	spent  int
	later  []func() // bodies, which are worked out once the page is there
	consts map[*design.Const]*term
}

// most is how many pieces a form may have.
const most = 200_000

func (b *builder) spend() {
	if b.spent++; b.spent > most {
		giveUp("it is too large")
	}
}

func of(d *design.Design, s *design.Start) *block {
	b := &builder{d: d, consts: map[*design.Const]*term{}}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Field || m.Implied {
				giveUp("it has form controls of its own")
			}
		}
	}
	page := &block{}
	root := b.instance(s.Root, nil, nil, nil, page, false, nil)
	root.start = s
	root.expand(page)
	for len(b.later) > 0 {
		next := b.later[0]
		b.later = b.later[1:]
		next()
	}
	return page
}

func (b *builder) instance(c *design.Component, u *design.Use, user *instance, l *locals, scope *block, comes bool, contexts map[*design.Component]*instance) *instance {
	b.spend()
	i := &instance{b: b, comp: c, use: u, user: user, locals: l, home: scope, mayGo: comes, scope: scope, comesAndGoes: comes, contexts: contexts,
		supplied: map[*design.Component]*instance{}, cells: map[*design.Member]*cell{}, timers: map[*design.Member]*timer{}, names: map[types.Symbol]*name{}, parts: map[types.Symbol]*instance{}}
	if user != nil {
		i.depth = user.depth + 1
	}
	if i.depth > 200 {
		giveUp("a component renders itself")
	}
	return i
}

// expand writes an instance into a block: what it follows and hears first, then what it shows, then its hooks.
func (i *instance) expand(to *block) {
	if len(i.comp.Supplies) > 0 {
		own := map[*design.Component]*instance{}
		for k, v := range i.contexts {
			own[k] = v
		}
		for _, s := range i.comp.Supplies {
			c := i.b.instance(s.Use.Component, s.Use, i, nil, i.home, i.mayGo, i.contexts)
			own[s.Use.Component] = c
			i.supplied[s.Use.Component] = c
		}
		i.contexts = own
		for _, s := range i.comp.Supplies {
			c := i.supplied[s.Use.Component]
			c.contexts = own
			c.living(to)
			c.hooks(to)
		}
	}
	i.living(to)
	i.nodes(i.comp.View, to, nil)
	i.hooks(to)
}

func (i *instance) living(to *block) {
	for _, m := range i.comp.Members {
		if m.Kind == design.Gathered {
			giveUp("it gathers instances")
		}
	}
	for _, f := range i.comp.Follows {
		n := &node{kind: "follows"}
		n.term = i.value(&f.Unit, nil)
		i.b.later = append(i.b.later, func() { n.body = i.run(f.Body, nil) })
		to.nodes = append(to.nodes, n)
	}
	for _, h := range i.comp.Hearings {
		n := &node{kind: "hears", tag: h.Channel.Name}
		i.b.later = append(i.b.later, func() { n.body = i.run(h.Body, nil) })
		to.nodes = append(to.nodes, n)
	}
}

func (i *instance) hooks(to *block) {
	for _, h := range i.comp.Hooks {
		n := &node{kind: map[bool]string{true: "unmount", false: "mount"}[h.Unmount]}
		i.b.later = append(i.b.later, func() { n.body = i.run(h.Body, nil) })
		to.nodes = append(to.nodes, n)
	}
}

// nodes writes nodes of the instance's view into a block.
func (i *instance) nodes(list []design.Node, to *block, l *locals) {
	for _, n := range list {
		i.b.spend()
		switch n := n.(type) {
		case *design.Element:
			to.nodes = append(to.nodes, i.element(n, l))
		case *design.Text:
			to.nodes = append(to.nodes, &node{kind: "text", term: i.value(&n.Unit, l)})
		case *design.When:
			i.when(n, to, l)
		case *design.Each:
			i.each(n, to, l)
		case *design.Use:
			c := i.b.instance(n.Component, n, i, l, i.scope, i.comesAndGoes, i.contexts)
			if _, twice := i.parts[n.Named]; n.Named != nil && i.scope == i.home && !twice {
				i.parts[n.Named] = c
			}
			c.expand(to)
		case *design.SlotPlace:
			i.slot(n, to, l)
		}
	}
}

// lent are the classes that uses of the component give its root element.
func (i *instance) lent(n design.Node, out *node) {
	for i.use != nil && i.comp.IsRoot(n) {
		out.classes = append(out.classes, i.use.Classes...)
		for _, a := range i.use.Marks {
			out.attrs = append(out.attrs, attr{kind: "class", name: a.Name, term: i.user.value(&a.Unit, i.locals)})
		}
		n, i = i.use, i.user
	}
}

func (i *instance) element(n *design.Element, l *locals) *node {
	out := &node{kind: "element", tag: n.Tag, classes: append([]string(nil), n.Classes...)}
	for _, a := range n.Attrs {
		out.attrs = append(out.attrs, attr{kind: "attr", name: a.Name, term: i.value(&a.Unit, l)})
	}
	for _, a := range n.Marks {
		out.attrs = append(out.attrs, attr{kind: "class", name: a.Name, term: i.value(&a.Unit, l)})
	}
	i.lent(n, out)
	for _, t := range n.Ties {
		p := i.place(t.Write, l, &run{i: i, locals: l})
		out.attrs = append(out.attrs, attr{kind: "tie", name: t.Name, place: &p})
	}
	sortAttrs(out)
	if n.Named != nil {
		out.name = i.named(n.Named)
	}
	for _, h := range n.Handlers {
		at := len(out.handlers)
		out.handlers = append(out.handlers, handler{event: h.Name})
		i.b.later = append(i.b.later, func() { out.handlers[at].body = i.run(h.Body, l) })
	}
	inner := &block{}
	i.nodes(n.Children, inner, l)
	out.blocks = []*block{inner}
	return out
}

func (i *instance) named(s types.Symbol) *name {
	if i.names[s] == nil {
		i.names[s] = &name{}
	}
	return i.names[s]
}

// within expands something in a block of its own, which comes and goes.
func (i *instance) within(to *block, do func()) {
	scope, comes := i.scope, i.comesAndGoes
	i.scope, i.comesAndGoes = to, true
	do()
	i.scope, i.comesAndGoes = scope, comes
}

func (i *instance) when(n *design.When, to *block, l *locals) {
	out := &node{kind: "when"}
	for _, br := range n.Branches {
		var cond *term
		if br.Cond != nil {
			cond = i.value(br.Cond, l)
		}
		inner := &block{}
		i.within(inner, func() { i.nodes(br.Body, inner, l) })
		out.conds, out.blocks = append(out.conds, cond), append(out.blocks, inner)
	}
	to.nodes = append(to.nodes, out)
}

func (i *instance) each(n *design.Each, to *block, l *locals) {
	out := &node{kind: "each", term: i.value(&n.List, l), item: &binder{}, index: &binder{}}
	inner := &locals{up: l, sym: n.Item, term: &term{op: "item", sym: out.item}, list: &n.List, from: i, fromLocals: l}
	if n.Index != nil {
		inner = &locals{up: inner, sym: n.Index, term: &term{op: "item", sym: out.index}, list: &n.List, from: i, fromLocals: l}
	}
	if n.By != nil {
		out.by = i.value(n.By, inner)
	}
	b := &block{}
	i.within(b, func() { i.nodes(n.Body, b, inner) })
	out.blocks = []*block{b}
	to.nodes = append(to.nodes, out)
}

// slot writes the content that the user gives, or what stands there when none is given.
func (i *instance) slot(n *design.SlotPlace, to *block, l *locals) {
	if i.use == nil {
		i.nodes(n.Fallback, to, l)
		return
	}
	for _, f := range i.use.Fills {
		if f.Name != n.Name {
			continue
		}
		inner := i.locals
		for _, p := range f.Params {
			for k, handed := range n.Names {
				if handed == p.Label {
					inner = &locals{up: inner, sym: p, unit: &n.Data[k], mayGo: i.comesAndGoes, from: i, fromLocals: l}
				}
			}
		}
		u := *i.user // its writer, in the place where it is rendered
		u.scope, u.comesAndGoes, u.contexts = i.scope, i.comesAndGoes, i.contexts
		u.nodes(f.Body, to, inner)
		return
	}
	i.nodes(n.Fallback, to, l)
}
