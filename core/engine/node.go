package engine

import (
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// A node is a value that others may depend on: a cell, a taken or derived
// value, or a piece of the page that shows one. Writing a cell marks what
// depends on it; marked nodes are worked out when they are read, or at the
// refresh. A node that comes out equal marks nothing further, so a turn costs
// in proportion to what it changes.
type node struct {
	val      value.Value
	code     *code // how it is worked out; nil for a cell
	inst     *Instance
	block    *Block // where its expression stands
	part     part   // what shows it; nil for what is worked out when read
	deps     []edge // what it read when it was last worked out
	subs     []edge // who read it
	state    state
	link     bool      // ends with its place: keeps its value from then on
	follows  bool      // it is followed: it runs a body when it has changed
	item     bool      // an item of an each, or its index: written when the list is
	busy     bool      // being worked out
	seen     uint64    // the last working-out that read it
	label    string    // for messages: the member's name
	mute     bool      // worked out only when asked for
	of       *node     // what it is a part of, or says something about
	slot     int32     // 1 and its place in the state that was read last
	early    uint64    // a link: since which refresh it has the value
	spread   *spread   // of a cell that takes several places, or nil
	parts    []int32   // places of watched values that it read when it was last worked out
	watchers *watchers // by which these were watched

	// The last footprints that it is in: its value, what that comes from, what
	// decides where it comes from, or all that it may hold.
	tracked, trackedFrom, trackedWay, trackedWhole uint32

	matches *matches // of a cell that is compared with keys, or nil
}

type state uint8

const (
	clean state = iota
	maybe       // something that it depends on may have changed
	dirty       // something that it depends on has changed
)

// edge connects a node with another; at is the place of the opposite edge in
// the other's list.
type edge struct {
	to *node
	at int32
}

// code is a compiled expression.
type code struct {
	eval   eval
	locals int
	at     source.Span
	exprs  []types.Expr // what it was compiled from
	passes bool         // it gives the value of something as it is
	steady bool         // it reads the same, whatever plain values that has
}

type eval func(f *frame) value.Value

// frame is what an expression is worked out in.
type frame struct {
	e     *Engine
	inst  *Instance
	block *Block
	loc   []value.Value
}

// observation is a node being worked out, and how many of its former
// dependencies it has read again so far.
type observation struct {
	node   *node
	cursor int
	stamp  uint64
}

// read is a node's value now. Whoever is being worked out depends on it.
func (e *Engine) read(n *node) value.Value {
	if e.past {
		return e.former(n)
	}
	if n.state != clean || len(e.stale) > 0 && (n.code != nil || n.item) {
		e.settle(n)
	}
	v := n.val
	if n.early == e.window && (n.link || n.item && n.block != nil) && n.ending(e) {
		v = e.keepOld(n)
	}
	if e.observing.node != nil {
		e.track(n)
	}
	if e.tracker != nil {
		e.tracker.read(n)
	}
	return v
}

// settle brings a node up to date; lists first, since its place may be gone
// with an item. While something is being worked out that has been done.
func (e *Engine) settle(n *node) {
	if len(e.stale) > 0 && len(e.busy) == 0 {
		e.reconcileStale()
	}
	e.update(n)
}

// track notes that the node being worked out reads n.
func (e *Engine) track(n *node) {
	o := &e.observing
	if n.seen == o.stamp {
		return
	}
	n.seen = o.stamp
	if o.cursor < len(o.node.deps) && o.node.deps[o.cursor].to == n {
		o.cursor++
		return
	}
	o.node.dropDeps(o.cursor)
	o.node.deps = append(o.node.deps, edge{n, int32(len(n.subs))})
	n.subs = append(n.subs, edge{o.node, int32(len(o.node.deps) - 1)})
	o.cursor++
}

// dropDeps forgets the dependencies from the given one on.
func (n *node) dropDeps(from int) {
	for i := len(n.deps) - 1; i >= from; i-- {
		d := n.deps[i]
		last := len(d.to.subs) - 1
		moved := d.to.subs[last]
		d.to.subs[d.at] = moved
		moved.to.deps[moved.at].at = d.at
		d.to.subs = d.to.subs[:last]
	}
	n.deps = n.deps[:from]
}

// mark notes that something n depends on may have changed, or has.
func (e *Engine) mark(n *node, s state) {
	if n.state >= s {
		return
	}
	was := n.state
	n.state = s
	if was != clean {
		return
	}
	e.marked = append(e.marked, n)
	if n.follows {
		e.following = append(e.following, n)
	} else if n.part != nil && !n.mute {
		e.queue = append(e.queue, n)
		if list, ok := n.part.(*eachPart); ok {
			e.stale = append(e.stale, list)
		}
	}
	for _, s := range n.subs {
		e.mark(s.to, maybe)
	}
}

// update brings n up to date, and says whether its value changed.
func (e *Engine) update(n *node) bool {
	if n.state == clean {
		return false
	}
	if n.link && n.ending(e) {
		e.kept = true
		return false
	}
	if n.busy {
		e.fail(n.code.at, "%s is worked out from itself", n.label)
	}
	if n.state == maybe {
		e.begin(n)
		for i := 0; i < len(n.deps) && n.state == maybe; i++ {
			e.update(n.deps[i].to)
		}
		e.finished(n)
	}
	if n.state == maybe {
		n.state = clean
		return false
	}
	return e.compute(n)
}

// keepOld gives the value of the last refresh to a link, or an item, whose
// place is ending, if it has another one since.
func (e *Engine) keepOld(n *node) value.Value {
	for i := e.since; i < len(e.undo); i++ {
		u := &e.undo[i]
		if u.node != n || u.kind != undoComputed && u.kind != undoCell {
			continue
		}
		if n.item {
			return u.val // its list tells it the next one, should the place stay
		}
		n.early = 0
		e.undo = append(e.undo, undo{kind: undoComputed, node: n, val: n.val})
		n.val, n.state, e.kept = u.val, dirty, true
		for _, s := range n.subs {
			e.mark(s.to, dirty)
		}
		return n.val
	}
	return n.val
}

// retireValues gives the links and items of a place that goes what they were
// at the last refresh.
func (e *Engine) retireValues(b *Block) {
	for _, n := range b.nodes {
		if n.link && n.early == e.window {
			e.keepOld(n)
		}
	}
	for i := range b.locals {
		n := &b.locals[i]
		if was := n.val; n.item && n.early == e.window {
			if n.val = e.keepOld(n); !value.Equal(n.val, was) {
				e.undo = append(e.undo, undo{kind: undoCell, node: n, val: was})
			}
		}
	}
}

// openWindow notes that what is worked out from now on has not been refreshed.
func (e *Engine) openWindow() {
	e.window++
	e.since = len(e.undo)
}

// compute works n out.
func (e *Engine) compute(n *node) bool {
	was := n.val
	v := e.observe(n)
	if was != nil && e.same(was, v) {
		return false
	}
	if was != nil {
		e.undo = append(e.undo, undo{kind: undoComputed, node: n, val: was})
	}
	n.early = e.window
	n.val = v
	if n.part != nil && !n.follows {
		e.record.refreshed++
	}
	for _, s := range n.subs {
		if s.to.state == maybe {
			s.to.state = dirty
		}
	}
	return true
}

// observe works out a node's expression and notes what it reads.
func (e *Engine) observe(n *node) value.Value {
	if e.tracker != nil && n.link && n.val != nil {
		e.tracker.from(n) // it may keep what it was, should its place be ending
	}
	outer := e.observing
	e.stamp++
	n.parts, n.watchers = n.parts[:0], e.watchers
	e.observing = observation{node: n, stamp: e.stamp}
	e.begin(n)
	v := e.worked(n)
	e.finished(n)
	n.dropDeps(e.observing.cursor)
	e.observing = outer
	n.state = clean
	if e.tracker != nil {
		n.tracked, n.trackedFrom, n.trackedWay = e.tracker.round, e.tracker.round, e.tracker.round // all that it read was noted
	}
	if e.kept && n.readsStale() {
		n.state = maybe
	}
	return v
}

func (e *Engine) worked(n *node) value.Value {
	e.step(n.code.at)
	if n.part != nil && !n.follows && n.val == nil {
		return e.show(n)
	}
	return e.run(n.code, n.inst, n.block)
}

// ending says whether the place of a link will be gone after the next refresh.
func (n *node) ending(e *Engine) bool {
	if n.block != nil {
		return n.block.ending(e)
	}
	return n.inst.ending(e)
}

// begin and finished note which nodes are being worked out, so that a failure
// can let go of them.
func (e *Engine) begin(n *node) {
	n.busy = true
	e.busy = append(e.busy, n)
}

func (e *Engine) finished(n *node) {
	n.busy = false
	e.busy = e.busy[:len(e.busy)-1]
}

// abandon lets go of what was being worked out when a failure came.
func (e *Engine) abandon() {
	for _, n := range e.busy {
		n.busy = false
		n.dropDeps(0)
		n.state = dirty
	}
	e.busy = e.busy[:0]
	e.observing, e.past, e.stack, e.framed = observation{}, false, e.stack[:0], 0
}

// readsStale says whether n read a link that keeps its value for now.
func (n *node) readsStale() bool {
	for _, d := range n.deps {
		if d.to.state != clean {
			return true
		}
	}
	return false
}

// newFrame is the next frame to be used. Frames are used again, as the stack is: what
// runs keeps none of them beyond its end, when framed counts down.
func (e *Engine) newFrame(inst *Instance, block *Block) *frame {
	if e.framed == len(e.frames) {
		e.frames = append(e.frames, new(frame))
	}
	f := e.frames[e.framed]
	e.framed++
	*f = frame{e: e, inst: inst, block: block}
	return f
}

// run works out an expression in a frame of its own.
func (e *Engine) run(c *code, inst *Instance, block *Block) value.Value {
	f := e.newFrame(inst, block)
	base := len(e.stack)
	if block != nil && block.captured != nil {
		f.loc = make([]value.Value, max(c.locals, len(block.captured)))
		copy(f.loc, block.captured)
	} else if c.locals > 0 {
		e.push(c.locals)
		f.loc = e.stack[base : base+c.locals]
	}
	v := c.eval(f)
	e.stack = e.stack[:base]
	e.framed--
	return v
}

// push takes room for n locals off the stack, and gives where it starts.
func (e *Engine) push(n int) int {
	base := len(e.stack)
	if base+n > cap(e.stack) {
		grown := make([]value.Value, base, max(2*cap(e.stack), base+n, 256))
		copy(grown, e.stack)
		e.stack = grown
	}
	e.stack = e.stack[:base+n]
	return base
}

// untracked runs f without noting what it reads: handlers depend on nothing.
func (e *Engine) untracked(f func()) {
	outer := e.observing
	e.observing = observation{}
	f()
	e.observing = outer
}

// write changes a cell. An equal value changes nothing.
func (e *Engine) write(n *node, v value.Value) {
	if e.tracker != nil {
		e.tracker.write(n, v)
	}
	if e.same(n.val, v) {
		return
	}
	for _, s := range n.subs {
		if e.tracker == nil || n.spread == nil || n.spread.touches(s.to, v) {
			e.mark(s.to, dirty)
		}
	}
	e.spend(4, writeBytes, source.Span{})
	was := n.val
	e.undo = append(e.undo, undo{kind: undoCell, node: n, val: was})
	n.val = v
	if n.item {
		n.early = e.window
	}
	e.epoch++
	e.changes++
	e.noteChange(n, was, v)
	if n.matches != nil {
		e.rematch(n, was, v)
	}
}

// same says whether a value stays; watched ones are told apart while they are
// exchanged.
func (e *Engine) same(a, b value.Value) bool {
	if e.strict {
		return a == b
	}
	return value.Equal(a, b)
}

// former is what n was before the turn: the cells as the undo log has them,
// everything else worked out from these.
func (e *Engine) former(n *node) value.Value {
	if n.inst != nil && e.isNew(n.inst) {
		panic(absent{})
	}
	if n.code == nil {
		e.noted(n)
		for i := range e.undo {
			if u := &e.undo[i]; u.kind == undoCell && u.node == n {
				return u.val
			}
		}
		return n.val
	}
	return e.run(n.code, n.inst, n.block)
}
