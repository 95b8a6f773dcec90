package prove

import (
	"encoding/binary"
	"fmt"
	"math"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/finding"
	"lien/core/story"
	"lien/core/value"
)

// Laws over time are held against what happens at real times: gestures, answers
// and failures come right after something has come by itself, or a millisecond
// before it would, or when a law waits for something to be over; and all that is
// within a span from the mounting. Other moments are named as not looked at.

// timedSearch visits what can happen at these moments.
type timedSearch struct {
	p       *prover
	start   *design.Start
	e       *engine.Engine
	reader  *engine.Reader
	samples engine.Samples
	watches []*watched
	clock   bool // the design asks for the time
	known   map[string]bool
	moments []moment
	way     []int // the moments that the engine has gone through
	marks   []int
	wasCut  bool
	broken  error
	by      *watched
}

// watched is a clause over time, with its law.
type watched struct {
	*story.Temporal
	law *law
}

// moment is a state at a time, and how it comes about.
type moment struct {
	from  int
	step  move
	now   float64
	deep  int
	watch []story.Watch
}

// move is a cause, or, below nothing, time that passes until a moment.
type move struct {
	cause int
	until float64
}

const passes = -1

// overTime says whether a law has a clause that asks for the time.
func overTime(l *design.Law) bool {
	return slices.ContainsFunc(l.Clauses, func(c *design.Clause) bool { return c.Ms != nil })
}

// timed holds the laws over time against what can happen from a start.
func (p *prover) timed(s *design.Start) {
	var list []*law
	for _, l := range p.laws {
		if on := l.out.Law.On; overTime(l.out.Law) && (on == nil || on == s) {
			list = append(list, l)
		}
	}
	if len(list) == 0 {
		return
	}
	x := &timedSearch{p: p, start: s, e: p.engine(), known: map[string]bool{}, clock: p.blind.clock}
	x.e.Keep()
	x.e.StopBy(p.o.Stop)
	x.e.OneOrder(false) // of two that are due at one time the older comes first
	if dep := p.dependence(); p.applies(passSlices) && dep.Opaque() == "" && !p.sighted() && len(s.Samples) == 0 {
		from := dep.Fails()
		for _, l := range list {
			from = append(slices.Clone(from), p.readBy(l.out.Law)...)
		}
		x.e.Within(dep.Slice(from))
	}
	x.reader = engine.NewReader(x.e, p.pool, engine.Reading{})
	x.samples = newSearch(p, s, nil).samplesOn(x.e)
	for _, l := range list {
		for _, c := range l.out.Law.Clauses {
			if c.Ms != nil {
				x.watches = append(x.watches, &watched{story.NewTemporal(x.e, c), l})
			}
		}
		l.states, l.cut = l.states.Plus(explore.Few(1)), true
	}
	x.run()
	for _, l := range list {
		l.states = l.states.Plus(explore.Few(len(x.moments)))
	}
	p.cut("span: what happens more than %s from the start, and gestures at other moments than right after, and 1 ms before, something is due", p.o.Span)
	if x.wasCut {
		p.cut("states: more than %s for the laws over time", finding.Count(len(x.moments), "moment"))
	}
}

func (x *timedSearch) run() {
	x.e.OnTurn = func(*engine.Record) error { x.see(); return nil }
	if _, err := x.e.Mount(x.start); err != nil {
		return
	}
	x.see()
	x.marks = []int{x.e.Mark()}
	x.way = []int{0}
	x.arrive(0, move{})
	for n := 0; n < len(x.moments); n++ {
		if len(x.moments) >= x.p.o.States || x.p.o.Stop.Err() != nil || x.done() {
			x.wasCut = n < len(x.moments) && !x.done()
			return
		}
		x.goOn(n)
	}
}

// done says whether all laws over time are broken: nothing is left to find.
func (x *timedSearch) done() bool {
	return !slices.ContainsFunc(x.watches, func(w *watched) bool { return w.law.breach == nil })
}

// see lets the clauses look at the end of a turn.
func (x *timedSearch) see() { x.each(func(w *watched) error { return w.See(x.e) }) }

func (x *timedSearch) each(look func(w *watched) error) {
	for _, w := range x.watches {
		if err := look(w); err != nil && x.broken == nil && w.law.breach == nil {
			x.broken, x.by = err, w
		}
	}
}

// sit brings the engine to a moment.
func (x *timedSearch) sit(n int) {
	var ahead []int
	for at := n; ; at = x.moments[at].from {
		if i := slices.Index(x.way, at); i >= 0 {
			x.way, x.marks = x.way[:i+1], x.marks[:i+1]
			x.back(at, x.marks[i])
			break
		}
		ahead = append(ahead, at)
	}
	for _, at := range slices.Backward(ahead) {
		x.take(x.moments[at].step)
		x.way, x.marks = append(x.way, at), append(x.marks, x.e.Mark())
	}
	x.back(n, x.marks[len(x.marks)-1])
}

// back takes back what was tried from a moment.
func (x *timedSearch) back(n, mark int) {
	x.e.TurnBack(mark, x.moments[n].now)
	for i, w := range x.watches {
		w.Set(x.moments[n].watch[i])
	}
	x.broken, x.by = nil, nil
}

func (x *timedSearch) take(m move) error {
	if m.cause == passes {
		err := x.e.Wait(m.until - x.e.Now())
		x.each(func(w *watched) error { return w.Pass(x.e.Now()) })
		return err
	}
	list := x.e.Causes(x.samples)
	return x.e.Do(&list[m.cause])
}

// goOn takes all that can happen next.
func (x *timedSearch) goOn(n int) {
	x.sit(n)
	mark := x.e.Mark()
	for _, m := range x.moves() {
		err := x.take(m)
		if x.broken != nil {
			x.breaks(n, m)
		}
		if err == nil && x.e.Asks() <= x.p.o.Asks {
			x.arrive(n, m)
		}
		x.back(n, mark)
	}
}

// moves are the causes at this moment, but timers, and the moments that are next.
func (x *timedSearch) moves() (list []move) {
	for i, c := range x.e.Causes(x.samples) {
		if c.Verb != engine.Elapse {
			list = append(list, move{i, 0})
		}
	}
	now, next := x.e.Now(), math.Inf(1)
	x.e.Dues(func(at float64) { next = min(next, at) })
	var until []float64
	add := func(list ...float64) {
		for _, at := range list {
			if at > now && at <= next && at <= x.p.o.Span.Seconds()*1000 && !slices.Contains(until, at) {
				until = append(until, at)
			}
		}
	}
	if next <= now { // it is due already
		list = append(list, move{passes, now})
	}
	if !math.IsInf(next, 1) {
		add(next-1, next)
	}
	for _, w := range x.watches {
		if at, ok := w.Due(); ok {
			add(at-1, at, at+1)
		}
	}
	if x.clock {
		add(now + 1000)
	}
	slices.Sort(until)
	for _, at := range until {
		list = append(list, move{passes, at})
	}
	return list
}

// arrive notes a moment, unless it was known.
func (x *timedSearch) arrive(from int, m move) {
	s := x.reader.Read()
	key := []byte(s.Shape)
	put := func(f float64) { key = binary.LittleEndian.AppendUint64(key, math.Float64bits(f)) }
	for _, c := range s.Cells {
		key = binary.LittleEndian.AppendUint32(key, c)
	}
	now := x.e.Now()
	x.e.Dues(func(at float64) { put(at - now) })
	if x.clock {
		put(now)
	}
	w := moment{from: from, step: m, now: now}
	if len(x.moments) > 0 {
		w.deep = x.moments[from].deep + 1
	}
	for _, t := range x.watches {
		state := t.State()
		w.watch = append(w.watch, state)
		key = append(key, fmt.Sprint(state.On, state.Open)...)
		if state.Open {
			put(state.Since - now)
		}
	}
	if !x.known[string(key)] {
		x.known[string(key)] = true
		x.moments = append(x.moments, w)
	}
}

// breaks notes how a law over time is broken.
func (x *timedSearch) breaks(n int, last move) {
	by, message := x.by, x.broken.Error()
	var steps []move
	for at := n; at > 0; at = x.moments[at].from {
		steps = append(steps, x.moments[at].step)
	}
	slices.Reverse(steps)
	steps = append(steps, last)
	path := &Path{Start: x.start, Causes: len(steps), Real: true}
	e := x.p.engine()
	e.OnTurn = nil
	samples := newSearch(x.p, x.start, nil).samplesOn(e)
	if x.e.Looks() != nil {
		e.Within(x.e.Looks())
	}
	if _, err := e.Mount(x.start); err != nil {
		return
	}
	path.After = story.State(e)
	for _, m := range steps {
		path.Before = path.After
		e.Turns()
		if m.cause == passes {
			path.wait(m.until - e.Now())
			e.Wait(m.until - e.Now())
		} else {
			list := e.Causes(samples)
			path.Steps = append(path.Steps, story.StepText(e, &list[m.cause]))
			e.Do(&list[m.cause])
		}
		path.Turns, path.After = e.Turns(), story.State(e)
	}
	by.law.breach = &Breach{Message: message, At: by.Clause.At, Path: path}
}

// wait adds a wait to the steps of a path: to the one before, if that is one.
func (p *Path) wait(ms float64) {
	if n := len(p.Steps); n > 0 {
		if was, ok := strings.CutPrefix(p.Steps[n-1], "wait "); ok {
			if sum, ok := value.ParseNumber(was); ok {
				p.Steps[n-1] = "wait " + value.FormatNumber(sum+ms)
				return
			}
		}
	}
	p.Steps = append(p.Steps, "wait "+value.FormatNumber(ms))
}
