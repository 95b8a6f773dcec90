package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/value"
)

// What an instance does by itself: follow values, run at its mounting and
// unmounting, and wait for timers. All of it ends with the instance.

// following is a value that an instance follows.
type following struct {
	inst *Instance
	at   int // its place among those of the component
	body *body
	seen node
	last value.Value // what it last ran for
}

func (p *following) place() (*Block, int) {
	a := p.inst.anchor()
	return a.block, a.order
}
func (p *following) refresh(*Engine)  {}
func (p *following) blocks() []*Block { return nil }

// hookCode is a hook compiled.
type hookCode struct {
	unmount bool
	body    *body
}

// followCode is a follows compiled.
type followCode struct {
	code *code
	body *body
	text string // of what is followed
}

func (p *program) living(c *component) {
	for _, h := range c.def.Hearings {
		c.hearings[h.Channel] = p.body(h.Body)
	}
	for _, h := range c.def.Hooks {
		c.hooks = append(c.hooks, hookCode{h.Unmount, p.body(h.Body)})
	}
	for _, f := range c.def.Follows {
		c.follows = append(c.follows, followCode{p.unit(&f.Unit), p.body(f.Body), p.design.Text(f.Unit.Expr.Span())})
	}
}

// follow sets up what a new instance follows, at the values of its creation.
func (e *Engine) follow(i *Instance) {
	for at, f := range i.comp.follows {
		p := &following{inst: i, at: at, body: f.body}
		n := &p.seen
		n.code, n.inst, n.block, n.part, n.state, n.follows = f.code, i, nil, p, dirty, true
		i.nodes = append(i.nodes, n)
		e.compute(n)
		p.last = n.val
	}
}

// settleFollows runs every follows whose value differs from the one that it
// last ran for, in rounds, each of them once through the tree.
func (e *Engine) settleFollows() {
	e.noticeFollows()
	for round := 0; len(e.following) > 0; round++ {
		if round > maxRounds {
			e.failUnsettled(e.following[0].code.at, "this never settles: after %d rounds it still changes", maxRounds)
		}
		batch := e.following
		e.following = nil
		slices.SortStableFunc(batch, compareFollowed)
		var later []*node
		for len(batch) > 0 {
			n := batch[0]
			batch = batch[1:]
			e.runFollow(n)
			batch, later = e.join(n, batch, later)
		}
		e.following = later
	}
}

// join adds what was marked since: to the round, where that has not come to
// its place yet, or to the next one.
func (e *Engine) join(reached *node, batch, later []*node) (now, next []*node) {
	e.noticeFollows()
	for _, n := range e.following {
		if compareFollowed(n, reached) <= 0 {
			later = append(later, n)
			continue
		}
		at, _ := slices.BinarySearchFunc(batch, n, compareFollowed)
		batch = slices.Insert(batch, at, n)
	}
	e.following = nil
	return batch, later
}

// noticeFollows finds what is followed and may have changed: in items that
// their lists have not told yet, too, and in places that stay after all.
func (e *Engine) noticeFollows() {
	if len(e.stale) > 0 {
		e.reconcileStale()
	}
	e.returned()
}

// returned takes up again what was skipped since its place was ending, where
// the place is to stay after all.
func (e *Engine) returned() {
	if len(e.skipped) == 0 {
		return
	}
	e.skipped = slices.DeleteFunc(e.skipped, func(n *node) bool {
		i := n.part.(*following).inst
		back := !i.ending(e)
		if back {
			e.following = append(e.following, n)
		}
		return back || i.gone
	})
}

// compareFollowed puts what is followed into tree order, that of one instance
// in the order of the text.
func compareFollowed(a, b *node) int {
	if d := comparePlaces(a.anchor(), b.anchor()); d != 0 {
		return d
	}
	return a.part.(*following).at - b.part.(*following).at
}

func (e *Engine) runFollow(n *node) {
	p := n.part.(*following)
	if p.inst.ending(e) {
		e.skipped = append(e.skipped, n)
		return
	}
	e.untracked(func() { e.settle(n) })
	if value.Equal(n.val, p.last) {
		return
	}
	old := p.last
	e.undo = append(e.undo, undo{kind: undoFollowed, part: p, val: old})
	p.last = n.val
	e.note(Followed, p.inst, p.inst.comp.follows[p.at].text, []value.Value{old}, n.code.at)
	e.deeper(func() { e.untracked(func() { e.do(p.body, p.inst, nil, []value.Value{old}) }) })
}

// sortLives puts instances into the order of their hooks: what is inside
// first, and the rest as it stands on the page. A context comes before all that
// is inside its supplier, and goes after it.
func sortLives(list []*Instance, coming bool, items func(a, b *Block) int) {
	slices.SortStableFunc(list, func(a, b *Instance) int {
		order, nested := relateLives(a.supplier(), b.supplier(), items)
		switch {
		case order == 0:
			return a.rank() - b.rank()
		case !nested:
			return order
		case coming && (order < 0 && a.rank() == 0 || order > 0 && b.rank() == 0):
			return order
		}
		return -order
	})
}

// supplier is the component that lends the instance its place in the tree.
func (i *Instance) supplier() *Instance {
	if i.rank() == 0 {
		return i.use.inst
	}
	return i
}

// rank is 0 for a context and 1 for a component.
func (i *Instance) rank() int {
	if i.use != nil && i.use.block == nil {
		return 0
	}
	return 1
}

// relateLives puts instances into tree order, and says whether one contains the other.
func relateLives(a, b *Instance, items func(a, b *Block) int) (order int, nested bool) {
	switch {
	case a == b:
		return 0, true
	case a.use == nil:
		return -1, true
	case b.use == nil:
		return 1, true
	}
	return relatePlaces(a.anchor(), b.anchor(), items)
}

// runHooks runs what waits for the end of the refresh: first the hooks of
// what is gone, then those of what is new.
func (e *Engine) runHooks() {
	gone, born := e.leaving, e.arriving
	e.leaving, e.arriving = nil, nil
	for _, i := range gone {
		if len(i.contexts) > 0 && len(e.lasting) > 0 { // they end before it does
			e.lasting = slices.DeleteFunc(e.lasting, func(c *Instance) bool { return slices.Contains(i.contexts, c) })
		}
		e.hook(i, true)
	}
	e.lasting = nil
	for _, i := range born {
		if !i.gone {
			e.hook(i, false)
		}
	}
}

func (e *Engine) hook(i *Instance, unmount bool) {
	for _, h := range i.comp.hooks {
		if h.unmount == unmount {
			e.note(map[bool]EntryKind{true: Unmounts, false: Mounts}[unmount], i, "", nil, h.body.at)
			e.deeper(func() { e.untracked(func() { e.do(h.body, i, nil, nil) }) })
		}
	}
}

// Call calls a method that the root offers.
func (e *Engine) Call(m *design.Member, args []value.Value) error {
	return e.raise("call "+m.Label, nil, func() { e.do(e.root.comp.bodies[m], e.root, nil, args) })
}
