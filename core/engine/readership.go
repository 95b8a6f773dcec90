package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/types"
)

// readership tells which pieces of a page, and which follows, could read a cell
// when they are worked out, whatever the values are.
type readership struct {
	readers map[int32][]*node // by the cell's place in the state
	wild    bool              // something reads what cannot be told
}

// readers is the readership of the page as it was read last.
func (r *Reader) readers() *readership {
	if r.renumber(); r.reading == nil {
		r.reading = r.readershipOf()
	}
	return r.reading
}

// readershipOf works it out for the page as it is.
func (r *Reader) readershipOf() *readership {
	out := &readership{readers: map[int32][]*node{}}
	f := &finder{e: r.e, readership: out}
	add := func(n *node) {
		if n.mute || n.code == nil || n.source() != nil { // which is told part by part
			return
		}
		f.seen, f.from = map[*node]bool{}, n
		f.node(n)
	}
	instance := func(i *Instance) {
		for _, n := range i.nodes {
			add(n)
		}
	}
	var all func(i *Instance)
	all = func(i *Instance) {
		instance(i)
		for _, c := range i.contexts {
			all(c)
		}
	}
	see := func(p part) bool {
		switch p := p.(type) {
		case *Element:
			for i := range p.attrs {
				add(&p.attrs[i])
			}
			if p.lent != nil {
				for i := range p.lent.marks {
					add(&p.lent.marks[i])
				}
			}
		case *textPart:
			add(&p.text)
		case *whenPart:
			add(&p.cond)
		case *eachPart:
			add(&p.list)
		case *usePart:
			all(p.inst)
		}
		return true
	}
	all(r.e.root)
	walkParts(r.e.root.body.parts, see)
	for _, o := range r.e.openings {
		walkParts([]part{o.use}, see)
	}
	return out
}

// finder follows one piece to the cells that it could read.
type finder struct {
	e          *Engine
	readership *readership
	from       *node
	seen       map[*node]bool
	calls      int
}

func (f *finder) node(n *node) {
	if f.seen[n] {
		return
	}
	f.seen[n] = true
	switch {
	case n.slot > 0:
		n.places(f.place)
	case n.item && n.passed() != nil:
		f.item(n)
	case n.of != nil:
		f.node(n.of)
	case n.code != nil:
		for _, x := range n.code.exprs {
			f.expr(x, n.inst, n.block)
		}
	}
}

func (f *finder) place(at int32) { f.readership.readers[at] = append(f.readership.readers[at], f.from) }

// item notes the places of an item; its index depends on those of all.
func (f *finder) item(n *node) {
	c := n.passed()
	if n != &n.block.locals[0] {
		c.all(f.place)
		return
	}
	c.item(n.block.index, f.place)
}

// expr follows an expression that stands in a block of an instance.
func (f *finder) expr(x types.Expr, inst *Instance, block *Block) {
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Ref:
			f.symbol(x.Symbol, inst, block)
		case *types.Select:
			f.selected(x, inst)
		case *types.Dot:
			return !f.field(x, inst, block) && !f.readership.wild
		case *types.Builtin:
			f.readership.wild = f.readership.wild || x.Name == "was" || x.Name == "all" || x.Name == "the"
		}
		return !f.readership.wild
	})
}

// field notes the place of a field of what is named before it, if that is spread.
func (f *finder) field(x *types.Dot, inst *Instance, block *Block) bool {
	n := f.named(x.X, inst, block)
	for n != nil && n.slot == 0 && n.code != nil && n.code.passes {
		n = f.named(n.code.exprs[0], n.inst, n.block)
	}
	if n == nil {
		return false
	}
	c, item := n.spread, 0
	if n.item {
		c = n.passed()
	}
	switch {
	case c == nil || c.names == nil || n.item && n != &n.block.locals[0] || !n.item && (n.slot == 0 || c.list):
		return false
	case n.item:
		item = n.block.index
	}
	at := slices.Index(c.names, x.Name)
	if at >= 0 {
		f.place(c.first + int32(item*c.width+at))
	}
	return at >= 0
}

// named is the node that an expression names, or nil.
func (f *finder) named(x types.Expr, inst *Instance, block *Block) *node {
	switch x := x.(type) {
	case *types.Ref:
		switch s := x.Symbol.(type) {
		case *design.ViewLocal:
			return block.local(s.Level, s.Slot)
		case *design.Member:
			if inst != nil && s.HasValue() {
				return &inst.values[s.Slot]
			}
		}
	case *types.Select:
		m, ok := x.Member.(*design.Member)
		if of := f.contextIn(x, inst); ok && of != nil && m.HasValue() {
			return &of.values[m.Slot]
		}
	}
	return nil
}

// contextIn is the context of which an expression selects a member, or nil.
func (f *finder) contextIn(x *types.Select, inst *Instance) *Instance {
	if ref, ok := x.X.(*types.Ref); ok && inst != nil {
		if c, ok := ref.Symbol.(*design.Member); ok && (c.Kind == design.Used || c.Kind == design.Supplied) {
			of, _ := inst.values[c.Slot].val.(*Instance)
			return of
		}
	}
	return nil
}

func (f *finder) symbol(s types.Symbol, inst *Instance, block *Block) {
	switch s := s.(type) {
	case *design.Member:
		f.member(s, inst)
	case *design.ViewLocal:
		f.node(block.local(s.Level, s.Slot))
	case *design.Function:
		f.expr(s.Unit.Expr, nil, nil)
	}
}

func (f *finder) member(m *design.Member, inst *Instance) {
	switch {
	case inst == nil:
		f.readership.wild = true
	case m.HasValue():
		f.node(&inst.values[m.Slot])
	case m.Call:
		f.called(m, inst)
	}
}

// called follows a derived function, which may call itself.
func (f *finder) called(m *design.Member, inst *Instance) {
	if f.calls++; f.calls > 1000 {
		f.readership.wild = true
		return
	}
	f.expr(m.Init.Expr, inst, nil)
}

// selected follows a member of another instance: of a context, the one there
// is; otherwise of any.
func (f *finder) selected(x *types.Select, inst *Instance) {
	m, ok := x.Member.(*design.Member)
	if !ok {
		f.readership.wild = true // a form reads its fields
		return
	}
	if ref, ok := x.X.(*types.Ref); ok && inst != nil {
		if c, ok := ref.Symbol.(*design.Member); ok && (c.Kind == design.Used || c.Kind == design.Supplied) {
			if of, ok := inst.values[c.Slot].val.(*Instance); ok {
				f.member(m, of)
			}
			return
		}
	}
	for c, list := range f.e.live {
		if c.def != m.Owner {
			continue
		}
		for _, i := range list {
			if !i.gone {
				f.member(m, i)
			}
		}
	}
}

// Wild says that something on the page reads what cannot be told, so that a
// tracker tells nothing.
func (r *Reader) Wild() bool {
	return r.readers().wild
}
