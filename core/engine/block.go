package engine

import (
	"lien/core/design"
	"lien/core/source"
	"lien/core/value"
)

// Block is a rendered block: the body of a component, a branch or an item.
type Block struct {
	e      *Engine
	t      *blockTemplate
	inst   *Instance // whose members its expressions see
	up     *Block    // the block around it in the same view, or nil
	host   part      // the part it is shown by: a when, each or use; nil for a root
	depth  int
	number int // counts blocks as they are made
	index  int // of an item: its place in the list
	key    value.Value
	locals []node // of an item: the item, its index, and what is named in it; of a fill: what it receives
	parts  []part
	nodes  []*node // those that stand in it, to be let go with it

	captured  []value.Value // of an opened component: the locals of the handler that opened it
	names     []*node       // that stand for something in it
	gone      bool          // unmounted
	absent    bool          // its item is not in the list any more
	movedIn   uint64        // one more than the window in which its item last moved
	movedFrom int           // where it was before that window
	asked     uint64
	ended     bool
}

// part is a rendered piece of a block.
type part interface {
	place() (*Block, int)
	// refresh brings what is shown up to date.
	refresh(e *Engine)
	// blocks are the blocks shown in it, in order.
	blocks() []*Block
}

// Instance is a live component.
type Instance struct {
	comp     *component
	values   []node
	use      *usage      // where it is used; nil for a root
	contexts []*Instance // that it supplies
	users    []*Instance // of a context: those that hear what it emits
	nodes    []*node     // of a context, which has no block
	body     *Block
	gone     bool
	depth    int                      // how many components it is nested in
	clocks   *node                    // counts changes of its timers, once somebody asks whether one runs
	first    value.Value              // of a form control: the value it began with
	touched  bool                     // of a form control
	timers   []*timer                 // that run
	number   int                      // as its state was last read
	listed   bool                     // among those of its component
	bound    map[*design.Member]*Func // its functions as values, once asked for
	open     *opening                 // it is open above the page, or nil
}

// Kind is value.InstanceKind.
func (*Instance) Kind() value.Kind { return value.InstanceKind }

func (i *Instance) String() string { return i.comp.def.Name }

// Component is what it is an instance of.
func (i *Instance) Component() *design.Component { return i.comp.def }

// atLevel is the block, this one or one around it, that has the locals of a level.
func (b *Block) atLevel(level int) *Block {
	for b.locals == nil || b.t.level > level {
		b = b.up
	}
	return b
}

func (b *Block) local(level, slot int) *node { return &b.atLevel(level).locals[slot] }

// ending says whether the block will be gone after the next refresh: a
// condition around it fails, or its item is not in the list any more.
func (b *Block) ending(e *Engine) bool {
	if b.gone {
		return true
	}
	if b.host == nil {
		return false
	}
	if b.asked == e.epoch+1 {
		return b.ended
	}
	b.asked, b.ended = e.epoch+1, true // a circle of asking ends in "gone"
	outer, _ := b.host.place()
	ended := outer.ending(e)
	if !ended {
		switch h := b.host.(type) {
		case *whenPart:
			e.update(&h.cond)
			e.noted(&h.cond)
			ended = b.t != h.t.shown(h.cond.val)
		case *eachPart:
			if h.list.state != clean && !h.list.busy {
				h.tell(e)
			}
			e.noted(&h.list)
			ended = b.absent
		case *opening:
			ended = h.closed || h.opener.ending(e)
		}
	}
	b.asked, b.ended = e.epoch+1, ended
	return ended
}

// add adds a node that stands in the block.
func (b *Block) add(n *node) { b.nodes = append(b.nodes, n) }

// branch compiles the conditions of a when into the number of the branch that shows.
func branch(conds []*code, branches int) eval {
	yes := value.Value(value.Bool(true))
	return func(f *frame) value.Value {
		for i, c := range conds {
			if c.eval(f) == yes {
				return value.Number(i)
			}
		}
		if branches > len(conds) {
			return value.Number(len(conds))
		}
		return value.Number(-1)
	}
}

// Mounting.

// mountBlock renders a block. The parent is the element around it, or nil.
func (e *Engine) mountBlock(t *blockTemplate, inst *Instance, up *Block, host part, parent *Element, prepare func(*Block)) *Block {
	e.blocks++
	e.spend(1, blockBytes, source.Span{})
	b := &Block{e: e, t: t, inst: inst, up: up, host: host, number: e.blocks}
	if host != nil {
		outer, _ := host.place()
		b.depth = outer.depth + 1
	}
	if prepare != nil {
		prepare(b)
	}
	e.undo = append(e.undo, undo{kind: undoMounted, block: b})
	e.moved = true
	b.parts = mountAll(e, t.parts, b, parent)
	return b
}

func mountAll(e *Engine, list []template, b *Block, parent *Element) []part {
	if len(list) == 0 {
		return nil
	}
	parts := make([]part, len(list))
	for i, t := range list {
		parts[i] = t.mount(e, b, parent)
	}
	return parts
}

// effect sets up a node that the page shows.
func (e *Engine) effect(n *node, c *code, b *Block, p part) {
	n.code, n.inst, n.block, n.part = c, b.inst, b, p
	b.add(n)
	n.state = dirty
	e.compute(n)
	e.pieces++
}

type textPart struct {
	t     *textTemplate
	block *Block
	text  node
}

func (t *textTemplate) mount(e *Engine, b *Block, _ *Element) part {
	p := &textPart{t: t, block: b}
	p.text.mute = e.mutes && t.quiet
	e.effect(&p.text, t.code, b, p)
	return p
}

func (p *textPart) place() (*Block, int) { return p.block, p.t.order }
func (p *textPart) refresh(*Engine)      {}
func (p *textPart) blocks() []*Block     { return nil }

type whenPart struct {
	t      *whenTemplate
	block  *Block
	parent *Element
	cond   node
	shown  []*Block // the branch that shows, or none
}

// shown is the branch that a value of the condition shows, or nil.
func (t *whenTemplate) shown(v value.Value) *blockTemplate {
	if i := int(v.(value.Number)); i >= 0 {
		return t.branches[i]
	}
	return nil
}

func (t *whenTemplate) mount(e *Engine, b *Block, parent *Element) part {
	p := &whenPart{t: t, block: b, parent: parent}
	e.effect(&p.cond, t.code, b, p)
	p.refresh(e)
	return p
}

func (p *whenPart) place() (*Block, int) { return p.block, p.t.order }
func (p *whenPart) blocks() []*Block     { return p.shown }

func (p *whenPart) refresh(e *Engine) {
	want := p.t.shown(p.cond.val)
	if len(p.shown) > 0 && p.shown[0].t == want || len(p.shown) == 0 && want == nil {
		return
	}
	e.undo = append(e.undo, undo{kind: undoWhen, part: p, blocks: p.shown})
	old := p.shown
	p.shown = nil
	for _, b := range old {
		e.unmount(b)
	}
	if want != nil {
		p.shown = []*Block{e.mountBlock(want, p.block.inst, p.block, p, p.parent, nil)}
	}
}

// usage is the use of an instance: by whom, at which place of whose view.
type usage struct {
	t     *useTemplate
	inst  *Instance // the user
	block *Block    // where it stands in the user's view; nil for a context
	above *Instance // the instance that it is rendered in
}

type usePart struct {
	t     *useTemplate
	block *Block
	inst  *Instance
	body  [1]*Block // room for what blocks gives
}

func (t *useTemplate) mount(e *Engine, b *Block, parent *Element) part {
	p := &usePart{t: t, block: b}
	p.inst = e.used(e.program.components[t.def.Component], &usage{t, b.inst, b, b.within()})
	e.name(t.named, b, p.inst)
	p.inst.body = e.mountBlock(p.inst.comp.view, p.inst, nil, p, parent, func(body *Block) { p.inst.body = body })
	e.mounted(p.inst)
	return p
}

// mounted sets up what an instance does by itself, when its view is there.
func (e *Engine) mounted(i *Instance) {
	e.follow(i)
	if len(i.comp.hooks) > 0 {
		e.arriving = append(e.arriving, i)
	}
}

func (p *usePart) place() (*Block, int) { return p.block, p.t.order }
func (p *usePart) refresh(*Engine)      {}

func (p *usePart) blocks() []*Block {
	p.body[0] = p.inst.body
	return p.body[:]
}

// used makes an instance with what its user links to it.
func (e *Engine) used(c *component, u *usage) *Instance {
	return e.instance(c, u, func(slot int, n *node) bool {
		if seed := u.t.seeds[slot]; seed != nil {
			e.untracked(func() { n.val = e.run(seed, u.inst, u.block) })
			return true
		}
		code, ok := u.t.links[slot]
		if ok {
			n.code, n.inst, n.block, n.link, n.state, n.val = code, u.inst, u.block, true, dirty, nil
			if u.block != nil {
				u.block.add(n)
			}
		}
		return ok
	})
}

// within is the instance that the block is rendered in.
func (b *Block) within() *Instance {
	for b.host != nil {
		if u, ok := b.host.(*usePart); ok {
			return u.inst
		}
		b, _ = b.host.place()
	}
	return b.inst
}

// instance makes an instance; given sets up the members that its user links.
func (e *Engine) instance(c *component, use *usage, given func(slot int, n *node) bool) *Instance {
	i := &Instance{comp: c, use: use, values: make([]node, len(c.inits))}
	if use != nil {
		i.depth = use.above.depth + 1
	}
	e.spend(1+len(i.values), instanceBytes+96*len(i.values), c.def.Syntax.Name.Span())
	if i.depth > maxNesting {
		e.fail(c.def.Syntax.Name.Span(), "more than %d components are nested here", maxNesting)
	}
	for slot := range i.values {
		n := &i.values[slot]
		n.label, n.inst, n.val = c.labels[slot], i, value.Null{}
		switch {
		case given(slot, n):
		case c.kinds[slot] >= design.Supplied:
			n.val = e.relation(i, slot)
		case c.kinds[slot] == design.Derives || c.kinds[slot] == design.Takes:
			n.code, n.state, n.val = c.inits[slot], dirty, nil
		default:
			e.untracked(func() { n.val = e.run(c.inits[slot], i, nil) })
		}
	}
	if f := c.field; f != nil {
		e.untracked(func() { i.first = e.read(&i.values[f.Slot]) })
	}
	e.born(i)
	return i
}

// Unmounting. What is unmounted in a turn is let go at its end, so that a
// turn that fails can put it back.

func (e *Engine) unmount(b *Block) {
	e.undo = append(e.undo, undo{kind: undoUnmounted, block: b})
	e.retire(b)
	e.moved = true
}

// pieces is how many pieces of the page the block shows, without the blocks in it.
func (b *Block) pieces() int {
	n := 0
	for _, x := range b.nodes {
		if x.part != nil {
			n++
		}
	}
	return n
}

func (e *Engine) retire(b *Block) {
	e.retireValues(b)
	b.gone = true
	e.pieces -= b.pieces()
	for _, p := range b.parts {
		e.retirePart(p)
	}
	e.unname(b)
}

func (e *Engine) retirePart(p part) {
	if el, ok := p.(*Element); ok {
		for _, c := range el.parts {
			e.retirePart(c)
		}
		return
	}
	for _, b := range p.blocks() {
		e.retire(b)
	}
	if u, ok := p.(*usePart); ok {
		e.died(u.inst)
	}
}

// release lets go of an unmounted block: nothing depends on it any more.
func (e *Engine) release(b *Block) {
	for _, n := range b.nodes {
		n.dropDeps(0)
		n.code = nil
	}
	for _, p := range b.parts {
		e.releasePart(p)
	}
}

// release lets go of what an instance and its contexts depend on.
func (i *Instance) release() {
	for at := range i.values {
		i.values[at].dropDeps(0)
	}
	for _, n := range i.nodes {
		n.dropDeps(0)
	}
	for _, c := range i.contexts {
		c.release()
	}
}

func (e *Engine) releasePart(p part) {
	switch p := p.(type) {
	case *Element:
		for _, c := range p.parts {
			e.releasePart(c)
		}
	case *usePart:
		p.inst.release()
	}
	for _, b := range p.blocks() {
		e.release(b)
	}
}
