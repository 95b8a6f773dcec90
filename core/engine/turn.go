package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/page"
	"lien/core/source"
	"lien/core/value"
)

// undo is one change of the current turn, with what it takes to take it back.
type undo struct {
	kind     undoKind
	node     *node
	val      value.Value
	block    *Block
	blocks   []*Block
	part     part
	list     *value.List
	keys     []value.Value
	byKey    map[value.Value]*Block
	inst     *Instance
	on       *page.Element
	props    *page.Props
	page     *page.State
	timer    *timer
	asks     []*asked
	openings []*opening
	flag     bool
	index    int
}

type undoKind uint8

const (
	undoCell undoKind = iota
	undoComputed
	undoMounted
	undoUnmounted
	undoWhen
	undoTold
	undoOrder
	undoItem
	undoItems
	undoBorn
	undoDied
	undoProps
	undoPage
	undoKeys
	undoRoot
	undoFollowed
	undoStarted
	undoStopped
	undoUser
	undoAsks
	undoOpenings
	undoClosed
	undoTouched
)

// turn runs a cause to the end: handlers, refresh, properties. If it
// fails, everything is put back.
func (e *Engine) turn(cause string, handlers func()) (rec *Record, err error) {
	e.unshown = append(append(e.unshown[:0], e.queue...), e.following...)
	e.end()
	e.record = &Record{Cause: cause, engine: e}
	e.kept, e.level = false, 0
	rec = e.record
	e.openWindow()
	defer func() {
		if r := recover(); r != nil {
			f, ok := r.(*Failure)
			if !ok {
				panic(r)
			}
			e.rollback()
			rec.Failure, err = f, f
		}
	}()
	e.limited(func() {
		e.undo = append(e.undo, undo{kind: undoRoot, inst: e.root})
		e.untracked(handlers)
		e.settleAll()
		e.group()
		e.resetProps()
		e.settleAll() // the values of a form may have changed with it
		rec.finish()
	})
	return rec, nil
}

// group takes the check from radio buttons where others of their group came onto the page with it:
// of several the last has it.
func (e *Engine) group() {
	for _, el := range e.grouped {
		if !el.block.gone && el.Props().Checked {
			e.page.Exclude(&el.Element)
		}
	}
	e.grouped = e.grouped[:0]
}

// end lets go of what the last turn replaced, or keeps it to take the turn
// back. Until then the values from before the turn can be asked for.
func (e *Engine) end() {
	e.marked, e.stale = e.marked[:0], e.stale[:0]
	if e.keeps {
		e.keepTurn()
		return
	}
	for i := range e.undo {
		if u := &e.undo[i]; u.kind == undoUnmounted {
			e.release(u.block)
		}
		e.undo[i] = undo{}
	}
	e.undo = e.undo[:0]
}

// settleAll runs what follows changed values and brings the page up to date,
// until nothing is left to do.
func (e *Engine) settleAll() {
	for round := 0; e.busyTurn(); round++ {
		if round > maxRounds {
			e.failUnsettled(e.unsettled(), "this turn does not settle: after %d rounds this still changes", maxRounds)
		}
		e.settleFollows()
		was, left, came := e.window, len(e.leaving), len(e.arriving)
		e.refreshAll()
		e.openWindow()
		e.openAll()
		sortLives(e.leaving[left:], false, compareShown(was))
		sortLives(e.arriving[came:], true, compareItems)
		e.leaves = false
		e.regather()
		if len(e.following)+len(e.queue) == 0 {
			e.runHooks() // gathered lists are full and shown by now
		}
	}
}

// busyTurn says whether the turn has anything left to do.
func (e *Engine) busyTurn() bool {
	if len(e.following)+len(e.queue)+len(e.arriving)+len(e.leaving)+len(e.toOpen) > 0 || e.leaves || e.moved {
		return true
	}
	for _, o := range e.openings {
		if o.opener.gone {
			return true
		}
	}
	return false
}

// unsettled is a place that still changes.
func (e *Engine) unsettled() source.Span {
	switch {
	case len(e.following) > 0:
		return e.following[0].code.at
	case len(e.queue) > 0:
		return e.queue[0].code.at
	}
	for _, i := range append(e.arriving, e.leaving...) {
		return i.comp.def.Syntax.Name.Span()
	}
	return source.Span{}
}

// refreshAll brings the page up to date, in rounds and in tree order.
func (e *Engine) refreshAll() {
	for round := 0; len(e.queue) > 0; round++ {
		if round > maxRounds {
			e.failUnsettled(e.queue[0].code.at, "the page does not settle: after %d rounds this still changes", maxRounds)
		}
		batch := e.queue
		e.queue = nil
		if len(batch) > 1 {
			slices.SortStableFunc(batch, func(a, b *node) int { return comparePlaces(a.anchor(), b.anchor()) })
		}
		for _, n := range batch {
			if n.block.gone {
				continue
			}
			if len(e.stale) > 0 {
				e.reconcileStale()
			}
			if n.block.gone {
				continue
			}
			changed := e.update(n) || n.early == e.window
			if _, ok := n.part.(*Element); changed || !ok { // an element is as it was where its attribute is
				n.part.refresh(e)
			}
		}
	}
}

func (n *node) anchor() place {
	b, order := n.part.place()
	return place{b, order}
}

// rollback takes the changes of the turn back, the last one first.
func (e *Engine) rollback() {
	again := append(slices.Clone(e.marked), e.busy...)
	e.abandon()
	e.lasting = nil
	e.following, e.skipped, e.leaving, e.arriving, e.calls, e.toOpen, e.leaves = nil, nil, nil, nil, nil, nil, false
	e.queue, e.stale, e.touched, e.event, e.acting = e.queue[:0], e.stale[:0], e.touched[:0], nil, nil
	e.grouped = e.grouped[:0]
	again = append(e.takeBack(e.undo, again), e.unshown...)
	e.undo = e.undo[:0]
	e.openWindow()
	e.epoch++
	e.restore(again)
}

// takeBack undoes the changes of a log, the last one first, and adds the nodes
// whose values it set.
func (e *Engine) takeBack(log []undo, again []*node) []*node {
	for i := len(log) - 1; i >= 0; i-- {
		u := &log[i]
		switch u.kind {
		case undoCell, undoComputed:
			u.node.val, u.node.busy = u.val, false
			again = append(again, u.node)
			again = u.node.recheckMatches(again)
		case undoMounted:
			u.block.gone = true
			e.pieces -= u.block.pieces()
			e.release(u.block)
		case undoUnmounted:
			again = e.revive(u.block, again)
		case undoWhen:
			u.part.(*whenPart).shown = u.blocks
		case undoTold:
			u.part.(*eachPart).told = u.list
		case undoOrder:
			p := u.part.(*eachPart)
			p.told, p.order, p.twice = u.list, u.keys, u.val
		case undoItem:
			u.block.absent, u.block.index = u.flag, u.index
		case undoItems:
			p := u.part.(*eachPart)
			p.items, p.byKey, p.order = u.blocks, u.byKey, u.keys
		case undoBorn:
			u.inst.gone = true
		case undoDied:
			u.inst.gone = false
			e.list(u.inst)
			again = u.inst.missed(again)
		case undoProps:
			u.on.Restore(*u.props)
		case undoPage:
			e.page.Restore(*u.page)
		case undoKeys:
			e.keys = uint64(u.index)
		case undoFollowed:
			u.part.(*following).last = u.val
		case undoAsks:
			e.asks = u.asks
		case undoOpenings:
			e.openings = u.openings
		case undoTouched:
			u.inst.touched = u.flag
		case undoClosed:
			u.part.(*opening).closed = u.flag
		case undoUser:
			u.inst.users = u.inst.users[:u.index]
		case undoStarted:
			e.timers.unlink(u.timer)
		case undoStopped:
			e.timers.link(u.timer)
		case undoRoot:
			e.root = u.inst
		}
	}
	return again
}

// revive puts an unmounted block back. What was marked in it while it was gone
// has to be looked at.
func (e *Engine) revive(b *Block, again []*node) []*node {
	b.gone = false
	e.pieces += b.pieces()
	for _, n := range b.nodes {
		if n.state != clean {
			again = append(again, n)
		}
	}
	for _, p := range b.parts {
		again = e.revivePart(p, again)
	}
	return again
}

// missed adds the nodes of a revived instance that were marked while it was gone.
func (i *Instance) missed(again []*node) []*node {
	for at := range i.values {
		if n := &i.values[at]; n.state != clean {
			again = append(again, n)
		}
	}
	for _, n := range i.nodes {
		if n.state != clean {
			again = append(again, n)
		}
	}
	return again
}

func (e *Engine) revivePart(p part, again []*node) []*node {
	if el, ok := p.(*Element); ok {
		if el.t.handlers["outside"] != nil && !slices.Contains(e.outside, el) {
			e.outside = append(e.outside, el)
		}
		if el.changed != nil && !slices.Contains(e.forms, el) {
			e.forms = append(e.forms, el)
		}
		for _, c := range el.parts {
			again = e.revivePart(c, again)
		}
		return again
	}
	for _, b := range p.blocks() {
		again = e.revive(b, again)
	}
	return again
}

// restore marks what depended on values that were taken back, and brings the
// page back to what it showed.
func (e *Engine) restore(nodes []*node) {
	e.stamp++
	for _, n := range nodes {
		if n.seen == e.stamp {
			continue // it was set several times
		}
		n.seen = e.stamp
		n.busy = false
		if n.code != nil {
			n.state = clean
			e.mark(n, dirty)
		}
		for _, s := range n.subs {
			e.mark(s.to, dirty)
		}
	}
	e.refreshAll()
	for _, n := range e.following { // they have run for these values
		e.update(n)
	}
	e.following = nil
	e.undo, e.marked = e.undo[:0], e.marked[:0]
}

// emit reports an event to the place where the component is used; a root
// reports to the world outside.
func (e *Engine) emit(i *Instance, m *design.Member, args []value.Value, at source.Span) {
	rep := Report{Path: i.Path(), Component: i.comp.def.Name, Event: m.Label, Args: args, member: m, Heard: i.use == nil, Root: i.use == nil}
	n := len(e.record.Reports)
	en := e.note(Reported, i, m.Label, args, at)
	e.level++
	defer func() { e.level-- }()
	e.record.Reports = append(e.record.Reports, rep)
	if i.use == nil {
		e.record.Entries[en].Heard++
		return
	}
	if b := i.use.t.handlers[m]; b != nil {
		e.record.Reports[n].Heard = true
		e.record.Entries[en].Heard++
		if !i.use.inst.gone {
			e.do(b, i.use.inst, i.use.block, args)
		}
	}
	for _, u := range i.hearers(m) {
		e.record.Reports[n].Heard = true
		e.record.Entries[en].Heard++
		if !u.gone {
			e.do(u.comp.hears[m], u, nil, args)
		}
	}
}
