package engine

import (
	"container/heap"
	"slices"

	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// timer is a timer that runs. Those that run are linked in the order in which
// they were started; each is known to its owner, and stands in a queue by the
// time at which it is due.
type timer struct {
	inst       *Instance
	member     *design.Member
	args       []value.Value
	due        float64
	delay      float64
	number     int // counts timers as they are started
	prev, next *timer
	running    bool
	queued     bool
}

// timers are all that run.
type timers struct {
	first, last *timer
	started     int // so far
	count       int
	queue       timerQueue // with some that have been stopped since
}

// timerQueue is a heap: what is due first is on top, and of several what was
// started first.
type timerQueue []*timer

func (q timerQueue) Len() int { return len(q) }
func (q timerQueue) Less(i, j int) bool {
	if q[i].due != q[j].due {
		return q[i].due < q[j].due
	}
	return q[i].number < q[j].number
}
func (q timerQueue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *timerQueue) Push(t any)   { *q = append(*q, t.(*timer)) }
func (q *timerQueue) Pop() any {
	t := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return t
}

// link lets a timer run that did not: as the last one started, or where it
// stood before.
func (l *timers) link(t *timer) {
	if t.prev == nil {
		l.first = t
	} else {
		t.prev.next = t
	}
	if t.next == nil {
		l.last = t
	} else {
		t.next.prev = t
	}
	t.running = true
	l.count++
	t.inst.timers = append(t.inst.timers, t)
	if !t.queued {
		t.queued = true
		heap.Push(&l.queue, t)
	}
	if len(l.queue) > 2*l.count+64 {
		l.sweep()
	}
}

// sweep lets go of the timers in the queue that have been stopped.
func (l *timers) sweep() {
	l.queue = slices.DeleteFunc(l.queue, func(t *timer) bool {
		t.queued = t.running
		return !t.running
	})
	heap.Init(&l.queue)
}

// unlink lets a timer run no longer; it keeps its place, to go back to.
func (l *timers) unlink(t *timer) {
	if t.prev == nil {
		l.first = t.next
	} else {
		t.prev.next = t.next
	}
	if t.next == nil {
		l.last = t.prev
	} else {
		t.next.prev = t.prev
	}
	t.running = false
	l.count--
	own := t.inst.timers
	for i, o := range own {
		if o == t {
			own[i] = own[len(own)-1]
			t.inst.timers = own[:len(own)-1]
			break
		}
	}
}

// due is the timer that fires next, or nil.
func (l *timers) due() *timer {
	for len(l.queue) > 0 {
		if t := l.queue[0]; t.running {
			return t
		}
		heap.Pop(&l.queue).(*timer).queued = false
	}
	return nil
}

// each visits the timers that run, in the order in which they were started.
func (l *timers) each(visit func(*timer)) {
	for t := l.first; t != nil; t = t.next {
		visit(t)
	}
}

// launch lets a timer run, as the last one started.
func (e *Engine) launch(t *timer) {
	e.changes++
	e.timers.started++
	t.number, t.prev = e.timers.started, e.timers.last
	e.timers.link(t)
	e.undo = append(e.undo, undo{kind: undoStarted, timer: t})
}

func (e *Engine) halt(t *timer) {
	e.changes++
	e.timers.unlink(t)
	e.undo = append(e.undo, undo{kind: undoStopped, timer: t})
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
	e.spend(len(i.timers)/stepParts, 0, at)
	e.haltMatching(i, m, args)
	e.launch(&timer{inst: i, member: m, args: args, due: e.now + delay, delay: delay})
	e.note(Began, i, m.Label, args, at)
	e.timersChanged(i)
}

// stopTimer stops the timers of a member whose first arguments match.
func (e *Engine) stopTimer(i *Instance, m *design.Member, args []value.Value) {
	if e.haltMatching(i, m, args) {
		e.note(Ended, i, m.Label, args, source.Span{})
		e.timersChanged(i)
	}
}

func (e *Engine) haltMatching(i *Instance, m *design.Member, args []value.Value) (any bool) {
	for at := len(i.timers) - 1; at >= 0; at-- { // halting moves the last one into the place
		if t := i.timers[at]; t.member == m && e.begins(t, args) {
			e.halt(t)
			any = true
		}
	}
	return any
}

// begins says whether a timer was started with these first arguments.
func (e *Engine) begins(t *timer, args []value.Value) bool {
	for i, a := range args {
		if i >= len(t.args) || !e.equal(a, t.args[i]) {
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
	for _, t := range i.timers {
		if t.member == m && e.begins(t, args) {
			return true
		}
	}
	return false
}

// stopAll ends the timers and questions of an instance that is unmounted.
func (e *Engine) stopAll(i *Instance) {
	for len(i.timers) > 0 {
		e.halt(i.timers[len(i.timers)-1])
	}
	e.dropAsks(i)
}

// maxFires is how often timers may fire while one step waits.
const maxFires = 100_000

// fire runs a timer that is due. One that repeats is set for its next time first.
func (e *Engine) fire(t *timer) error {
	return e.raise("timer "+t.member.Label, nil, func() {
		e.halt(t)
		if t.member.Every {
			e.launch(&timer{inst: t.inst, member: t.member, args: t.args, due: e.now + t.delay, delay: t.delay})
		} else {
			e.timersChanged(t.inst)
		}
		e.do(t.inst.comp.bodies[t.member], t.inst, nil, t.args)
	})
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
