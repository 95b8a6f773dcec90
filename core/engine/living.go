package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
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
}

func (p *program) living(c *component) {
	for _, h := range c.def.Hearings {
		c.hearings[h.Channel] = p.body(h.Body)
	}
	for _, h := range c.def.Hooks {
		c.hooks = append(c.hooks, hookCode{h.Unmount, p.body(h.Body)})
	}
	for _, f := range c.def.Follows {
		c.follows = append(c.follows, followCode{p.unit(&f.Unit), p.body(f.Body)})
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
	for round := 0; len(e.following) > 0; round++ {
		if round > maxRounds {
			e.fail(e.following[0].code.at, "this never settles: after %d rounds it still changes", maxRounds)
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
		return
	}
	e.untracked(func() { e.settle(n) })
	if value.Equal(n.val, p.last) {
		return
	}
	old := p.last
	e.undo = append(e.undo, undo{kind: undoFollowed, part: p, val: old})
	p.last = n.val
	e.note(Followed, p.inst, "", []value.Value{old}, n.code.at)
	e.deeper(func() { e.untracked(func() { e.do(p.body, p.inst, nil, []value.Value{old}) }) })
}

// runHooks runs what waits for the end of the refresh: first the hooks of
// what is gone, then those of what is new, children first.
func (e *Engine) runHooks() {
	gone, born := e.leaving, e.arriving
	e.leaving, e.arriving = nil, nil
	for _, i := range gone {
		e.hook(i, true)
	}
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

// timer is a timer that runs.
type timer struct {
	inst   *Instance
	member *design.Member
	args   []value.Value
	due    float64
	delay  float64
}

// setTimers replaces the running timers, which the undo log keeps.
func (e *Engine) setTimers(list []*timer) {
	e.undo = append(e.undo, undo{kind: undoTimers, timers: e.timers})
	e.timers = list
}

// startTimer starts a timer, or starts it anew.
func (e *Engine) startTimer(i *Instance, m *design.Member, args []value.Value, at source.Span) {
	if i.gone {
		e.notice(at, "%s was started, but its owner is gone", m.Label)
		return
	}
	d := e.call(i.comp.delays[m], i, nil, args)
	delay := max(0, float64(d.(value.Number)))
	if m.Every {
		delay = max(1, delay)
	}
	t := &timer{i, m, args, e.now + delay, delay}
	e.setTimers(append(e.without(i, m, args), t))
	e.note(Began, i, m.Label, args, at)
	e.timersChanged(i)
}

// stopTimer stops the timers of a member whose first arguments match.
func (e *Engine) stopTimer(i *Instance, m *design.Member, args []value.Value) {
	rest := e.without(i, m, args)
	if len(rest) < len(e.timers) {
		e.setTimers(rest)
		e.note(Ended, i, m.Label, args, source.Span{})
		e.timersChanged(i)
	}
}

// without are the timers other than those of a member whose first arguments match.
func (e *Engine) without(i *Instance, m *design.Member, args []value.Value) []*timer {
	rest := make([]*timer, 0, len(e.timers)+1)
	for _, t := range e.timers {
		if t.inst != i || t.member != m || !t.begins(args) {
			rest = append(rest, t)
		}
	}
	return rest
}

func (t *timer) begins(args []value.Value) bool {
	for i, a := range args {
		if i >= len(t.args) || !value.Equal(a, t.args[i]) {
			return false
		}
	}
	return true
}

// timersChanged tells those that asked whether a timer of the instance runs.
func (e *Engine) timersChanged(i *Instance) {
	if i.clocks != nil {
		e.write(i.clocks, value.Number(float64(i.clocks.val.(value.Number))+1))
	}
}

// running says whether a timer with these first arguments runs.
func (e *Engine) running(i *Instance, m *design.Member, args []value.Value) bool {
	if i.clocks == nil {
		i.clocks = &node{val: value.Number(0), item: true}
	}
	e.read(i.clocks)
	for _, t := range e.timers {
		if t.inst == i && t.member == m && t.begins(args) {
			return true
		}
	}
	return false
}

// stopAll ends the timers of an instance that is unmounted.
func (e *Engine) stopAll(i *Instance) {
	if left := slices.DeleteFunc(slices.Clone(e.asks), func(a *asked) bool { return a.inst == i }); len(left) < len(e.asks) {
		e.setAsks(left)
	}
	rest := slices.DeleteFunc(slices.Clone(e.timers), func(t *timer) bool { return t.inst == i })
	if len(rest) < len(e.timers) {
		e.setTimers(rest)
	}
}

// due is the timer that fires next, or nil: the earliest, and of several the
// one that was started first.
func (e *Engine) due() *timer {
	var next *timer
	for _, t := range e.timers {
		if next == nil || t.due < next.due {
			next = t
		}
	}
	return next
}

// maxFires is how often timers may fire while one step waits.
const maxFires = 100_000

// fire runs a timer that is due. One that repeats is set for its next time first.
func (e *Engine) fire(t *timer) error {
	return e.raise("timer "+t.member.Label, nil, func() {
		e.setTimers(slices.DeleteFunc(slices.Clone(e.timers), func(o *timer) bool { return o == t }))
		if t.member.Every {
			next := *t
			next.due = e.now + t.delay
			e.setTimers(append(slices.Clone(e.timers), &next))
		} else {
			e.timersChanged(t.inst)
		}
		e.do(t.inst.comp.bodies[t.member], t.inst, nil, t.args)
	})
}

// Call calls a method that the root offers.
func (e *Engine) Call(m *design.Member, args []value.Value) error {
	return e.raise("call "+m.Label, nil, func() { e.do(e.root.comp.bodies[m], e.root, nil, args) })
}

// clock compiles start t(...) and stop t(...).
func (p *program) clock(s *design.Clock) exec {
	args, m, at := p.exprs(s.Args), s.Timer, s.Span()
	if s.Stop {
		return func(f *frame) bool {
			f.e.stopTimer(f.inst, m, evalAll(f, args))
			return true
		}
	}
	return func(f *frame) bool {
		f.e.startTimer(f.inst, m, evalAll(f, args), at)
		return true
	}
}

func (p *program) runningCall(x *types.Builtin, args []eval) eval {
	m := x.Of.(*design.Member)
	return func(f *frame) value.Value { return value.Bool(f.e.running(f.inst, m, evalAll(f, args))) }
}
