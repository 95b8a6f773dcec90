package prove

import (
	"fmt"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/types"
	"lien/core/value"
)

// further is how many states are visited after a law or promise is broken:
// enough to find other mistakes near by, without going through what may
// be endless because of the mistake.
const further = 5_000

// search visits the states that can be reached from one start.
type search struct {
	*explore.Search
	p        *prover
	start    *design.Start
	workers  []*worker
	wasCut   bool
	failed   bool                         // the mounting failed
	stopped  bool                         // time was up
	pause    int                          // of states, after which to stop and wait; 0 for none
	scope    *scope                       // what it may judge, or nil: everything
	until    func() bool                  // it has found what it was for; or nil
	ended    bool                         // it has
	called   map[string][]engine.CellName // by shape: its cells
	limit    int                          // of states, once something is broken
	symmetry map[design.Node]int          // what behaves alike: one of the states that differ by an exchange is visited
	only     map[int32]bool               // of a part: its cells
	all      explore.Count                // of a part: how many states there are with the others
	full     atomic.Bool                  // more was asked than may wait at a time
	told     time.Time
	relieved uint64 // the collection before which turns were forgotten, or 0
}

func newSearch(p *prover, s *design.Start, sc *scope) *search {
	x := &search{p: p, start: s, scope: sc, called: map[string][]engine.CellName{}}
	all := make([]explore.Worker, p.o.Workers)
	for i := range all {
		w := newWorker(x)
		w.e.Mute()
		w.e.StopBy(p.o.Stop)
		x.workers, all[i] = append(x.workers, w), w
	}
	x.Search = explore.NewSearch(p.o.Stop, p.o.States, all...)
	return x
}

func (x *search) states() int { return x.Table.Len() }

// has says whether a state was visited.
func (x *search) has(s engine.State) bool {
	_, ok := x.Table.LookUp(s)
	return ok
}

// run searches level by level.
func (x *search) run() {
	for x.level() {
	}
	if !x.stopped && !x.ended && !x.paused() {
		low, high := x.Ahead()
		explore.Share(x.p.o.Stop, x.workers, low, high, explore.ChunkSize, func(w *worker, _ int, low, high uint32) { w.runs(low, high, w.holdAll) })
	}
	if !x.paused() {
		x.forget()
	}
}

// level goes one level deeper, and says whether there is another one.
func (x *search) level() bool {
	if low, high := x.Ahead(); low == high || x.paused() {
		return false
	}
	if x.p.o.Depth > 0 && x.Depth >= x.p.o.Depth {
		x.cut("depth: what takes more than %d steps", x.p.o.Depth)
		return false
	}
	more := x.Level(x.goesOn)
	if x.Full {
		x.cut("states: more than %d%s", x.p.o.States, x.many())
	}
	if x.Bounded {
		x.cut("bound: what comes after states that are past the bound of the start")
	}
	return more
}

// goesOn says after a batch whether to go on with another.
func (x *search) goesOn() bool {
	if x.full.Load() {
		x.cut("asks: more than %d questions that wait at a time", x.p.o.Asks)
	}
	if x.limit == 0 && x.p.isBroken() {
		x.limit = x.Table.Len() + further
	}
	x.progress()
	return x.bounds() && !x.paused()
}

// paused says whether it waits to be told to go on.
func (x *search) paused() bool { return x.pause > 0 && x.Table.Len() > x.pause }

// mount brings every worker to the first state.
func (x *search) mount() bool {
	for i, w := range x.workers {
		state, ok := w.mount()
		if !ok {
			x.failed = true
			return false
		}
		if i == 0 {
			shape := x.Table.AddShape(state, w.next.Groups())
			cells := x.ordered(w.next.Groups(), state.Cells)
			x.Table.Add(shape, cells, explore.Hash(shape, cells), 0, 0)
			w.meet(state)
		}
	}
	return true
}

// relieve forgets the turns that are remembered, if what lives comes near to the
// memory that there is: they are taken anew. It says whether that was enough.
func (x *search) relieve() bool {
	live, round := explore.Heap()
	explore.CollectBy(live)
	switch room := explore.HeapFor(x.p.o.Memory); {
	case live < room/4*3:
		x.relieved = 0
	case x.relieved == 0:
		x.forget()
		x.relieved = round
	case round > x.relieved+1: // what was forgotten has been collected
		return false
	}
	return true
}

// forget lets go of the turns that are remembered, and of room for new ones.
func (x *search) forget() {
	for _, w := range x.workers {
		w.memos = map[uint32]*shapeMemo{}
		w.newcomers = nil
	}
	x.Forget()
}

// finish looks for states in which nothing that a user does, now or after any
// time, changes anything.
func (x *search) finish() {
	if n := x.stuck(); n >= 0 {
		f := witness{search: x, by: atMounting}
		if n > 0 {
			f.from, f.by = x.Table.From(uint32(n))
		}
		x.p.note(promiseStuck, f, breach{message: "from here on nothing that a user does changes anything", at: x.start.Syntax.Span()})
	}
}

// stuck is the first such state, or -1 where there is none, or where not all
// states were visited. A design that no user changes at all has none.
func (x *search) stuck() int {
	if x.wasCut || x.failed {
		return -1
	}
	return x.DeadEnd(x.isEnd)
}

// isEnd says whether a law says that a state is an end that is meant. A slice
// does not know.
func (x *search) isEnd(n uint32) bool {
	w := x.workers[0]
	if x.scope != nil {
		return false
	}
	for _, l := range w.laws {
		for i, cl := range l.law.out.Law.Clauses {
			if cl.Kind != "ends" {
				continue
			}
			w.sit(n)
			if v, err := w.e.Eval(l.conditions[i]); err == nil && v == value.Value(value.Bool(true)) {
				return true
			}
		}
	}
	return false
}

// many tells which cells make the states many, and what would end that.
func (x *search) many() string {
	var most []*column
	for _, c := range x.columns(false) {
		if len(c.set) >= manyValues {
			most = append(most, c)
		}
	}
	if len(most) == 0 {
		return ""
	}
	slices.SortStableFunc(most, func(a, b *column) int { return len(b.set) - len(a.set) })
	most = most[:min(len(most), 3)]
	texts := make([]string, len(most))
	for i, c := range most {
		texts[i] = fmt.Sprintf("%s has %d values", c, len(c.set))
	}
	return fmt.Sprintf("; %s. A bound would end it: start %s { within %s }", strings.Join(texts, ", "), x.start.Root.Name, boundOn(most[0].name.member))
}

// boundOn is a bound on a cell, as it is written.
func boundOn(m *design.Member) string {
	bound := fmt.Sprintf("the(%s).%s", m.Owner.Name, m.Label)
	if _, list := types.Under(m.Type()).(*types.List); list {
		return bound + ".length < 4"
	}
	switch m.Type() {
	case types.Number:
		return bound + " < 10"
	case types.String:
		return bound + ".length < 10"
	}
	return bound + " ..."
}

// manyValues is how many values of a cell are many.
const manyValues = 12

// bounds says whether time and memory are left.
func (x *search) bounds() bool {
	o := &x.p.o
	switch {
	case x.p.outgrown():
		x.stopped = true
	case x.until != nil && x.until():
		x.ended = true
	case o.Stop.Err() != nil:
		x.stop()
	case o.Time == 0 && x.heavy() > mostHeavy:
		x.stopped = true
		x.cut("work: turns and laws take so many steps that %d were taken in all; --time D goes on for as long as that", x.heavy())
	case x.limit > 0 && x.Table.Len() > x.limit:
		x.cut("states: more than %d after what is broken", further)
	case x.Table.Bytes() > o.Memory || !x.relieve():
		x.cut("memory: what %d MB have no room for", o.Memory>>20)
	default:
		return true
	}
	return false
}

// mostHeavy is how many steps turns with many of them may take in all, where no time
// is given: some seconds.
const mostHeavy = 50_000_000

func (x *search) heavy() int {
	n := 0
	for _, w := range x.workers {
		n += w.e.Heavy()
	}
	return n
}

// stop notes that the time is up, or that somebody does not want to wait.
func (x *search) stop() {
	x.stopped = true
	if x.p.o.Time > 0 && time.Since(x.p.began) >= x.p.o.Time {
		x.cut("time: what %s were too short for", x.p.o.Time)
		return
	}
	x.cut("stopped: what was not visited by then")
}

func (x *search) cut(format string, args ...any) {
	x.wasCut = true
	x.p.cut(format, args...)
}

func (x *search) progress() {
	if x.p.o.Progress == nil || time.Since(x.told) < 500*time.Millisecond {
		return
	}
	x.told = time.Now()
	low, high := x.Ahead()
	x.p.o.Progress(Progress{x.start, x.Table.Len(), x.Turns, high - low, time.Since(x.p.began)})
}
