package prove

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/types"
	"lien/core/value"
)

// batch is how many states are gone on from before what was found is put
// together.
const batch = 1 << 10

// further is how many states are visited after a law or promise is broken:
// enough to find other mistakes near by, without going through what may
// be endless because of the mistake.
const further = 5_000

// search visits the states that can be reached from one start, breadth first:
// the first way found to a state is a shortest one. States are numbered in the
// order in which one worker alone would find them, whatever the number of
// workers.
type search struct {
	p        *prover
	start    *design.Start
	table    *explore.States
	workers  []*worker
	turns    int
	depth    int
	wasCut   bool
	failed   bool                         // the mounting failed
	stopped  bool                         // time was up
	next     int                          // the first state that was not gone on from
	level    int                          // the first state of the next level
	pause    int                          // of states, after which to stop and wait; 0 for none
	scope    *scope                       // what it may judge, or nil: everything
	until    func() bool                  // it has found what it was for; or nil
	ended    bool                         // it has
	moves    []bool                       // by state: a user can change something
	later    map[uint32][]uint32          // of states in which no user can: where time leads
	called   map[string][]engine.CellName // by shape: its cells
	limit    int                          // of states, once something is broken
	symmetry map[design.Node]int          // what behaves alike: one of the states that differ by an exchange is visited
	only     map[int32]bool               // of a part: its cells
	all      explore.Count                // of a part: how many states there are with the others
	full     atomic.Bool                  // more was asked than may wait at a time
	told     time.Time
	relieved uint64      // the collection before which turns were forgotten, or 0
	results  []expansion // room for what comes of the states of a batch
	batch    int         // how many there were so far
}

func newSearch(p *prover, s *design.Start, sc *scope) *search {
	x := &search{p: p, start: s, scope: sc, table: explore.NewStates(), later: map[uint32][]uint32{}, called: map[string][]engine.CellName{}}
	for range p.o.Workers {
		w := newWorker(x)
		w.e.Mute()
		x.workers = append(x.workers, w)
	}
	return x
}

func (x *search) states() int { return x.table.Len() }

// has says whether a state was visited.
func (x *search) has(s engine.State) bool {
	_, ok := x.table.LookUp(s)
	return ok
}

// run searches level by level.
func (x *search) run() {
	for x.search() {
	}
	if !x.stopped && !x.ended && !x.paused() {
		x.share(x.next, x.table.Len(), chunk, func(w *worker, _ int, low, high uint32) { w.runs(low, high, w.holdAll) })
	}
	if !x.paused() {
		x.forget()
	}
}

// search goes one level deeper, and says whether there is another one.
func (x *search) search() bool {
	if x.next == x.table.Len() {
		return false
	}
	if x.next == x.level {
		x.level = x.table.Len()
	}
	if x.p.o.Depth > 0 && x.depth >= x.p.o.Depth {
		x.cut("depth: what takes more than %d steps", x.p.o.Depth)
		return false
	}
	for x.next < x.level {
		if x.paused() || !x.goOn(x.next, min(x.next+batch, x.level)) {
			return false
		}
	}
	if x.table.Len() > x.level {
		x.depth++
	}
	return true
}

// paused says whether it waits to be told to go on.
func (x *search) paused() bool { return x.pause > 0 && x.table.Len() > x.pause }

// mount brings every worker to the first state.
func (x *search) mount() bool {
	for i, w := range x.workers {
		state, ok := w.mount()
		if !ok {
			x.failed = true
			return false
		}
		if i == 0 {
			shape := x.table.AddShape(state, w.next.Groups())
			cells := x.ordered(w.next.Groups(), state.Cells)
			x.table.Add(shape, cells, explore.Hash(shape, cells), 0, 0)
			w.meet(state)
		}
	}
	return true
}

// chunk is how many states a worker takes at a time.
const chunk = 64

// share lets the workers do something with the states low to high, a chunk
// each time, until they are told to stop.
func (x *search) share(low, high, chunk int, do func(w *worker, at int, low, high uint32)) {
	chunks := (high - low + chunk - 1) / chunk
	next := make(chan int, chunks)
	for i := range chunks {
		next <- i
	}
	close(next)
	var all sync.WaitGroup
	for _, w := range x.workers {
		all.Add(1)
		go func() {
			defer all.Done()
			for i := range next {
				if x.p.o.Stop.Err() != nil {
					return
				}
				from := low + i*chunk
				do(w, i, uint32(from), uint32(min(from+chunk, high)))
			}
		}()
	}
	all.Wait()
}

// goOn goes on from the states low to high, and says whether to go on further.
func (x *search) goOn(low, high int) bool {
	x.batch++
	results := x.room((high - low + chunk - 1) / chunk)
	x.share(low, high, chunk, func(w *worker, at int, low, high uint32) { w.goOn(low, high, &results[at]) })
	x.next = high
	for i := range results {
		if !x.put(&results[i]) {
			return false
		}
	}
	if x.full.Load() {
		x.cut("asks: more than %d questions that wait at a time", x.p.o.Asks)
	}
	if x.limit == 0 && x.p.isBroken() {
		x.limit = x.table.Len() + further
	}
	x.progress(high)
	return x.bounds()
}

// room is room for what comes of so many chunks, used again.
func (x *search) room(n int) []expansion {
	for len(x.results) < n {
		x.results = append(x.results, expansion{})
	}
	for i := range x.results[:n] {
		g := &x.results[i]
		clear(g.steps)
		*g = expansion{steps: g.steps[:0], moves: g.moves[:0], cells: g.cells[:0]}
	}
	return x.results[:n]
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
	x.results = nil
}

// put adds what was found, in the order of the states that it was found from.
func (x *search) put(g *expansion) bool {
	x.turns += g.turns
	if g.bounded {
		x.cut("bound: what comes after states that are past the bound of the start")
	}
	x.moves = append(x.moves, g.moves...)
	for i := range g.steps {
		s := &g.steps[i]
		if !s.known {
			shape := s.shape
			if s.spelt != "" {
				shape = x.table.AddShape(engine.State{Shape: s.spelt, Cells: s.cells}, s.groups)
			}
			h := s.hash
			if h == 0 {
				h = explore.Hash(shape, s.cells)
			}
			to, ok := x.table.Find(shape, s.cells, h)
			if !ok {
				if x.table.Len() >= x.p.o.States {
					x.cut("states: more than %d%s", x.p.o.States, x.many())
					return false
				}
				to = x.table.Add(shape, s.cells, h, s.from, s.by)
			}
			s.to = to
		}
		if !s.user && !s.world && !x.moves[s.from] {
			x.later[s.from] = append(x.later[s.from], s.to)
		}
	}
	return true
}

// finish looks for states in which nothing that a user does, now or after any
// time, changes anything.
func (x *search) finish() {
	if n := x.stuck(); n >= 0 {
		f := witness{search: x, by: atMounting}
		if n > 0 {
			f.from, f.by = x.table.From(uint32(n))
		}
		x.p.note(promiseStuck, f, breach{message: "from here on nothing that a user does changes anything", at: x.start.Syntax.Span()})
	}
}

// stuck is the first such state, or -1 where there is none, or where not all
// states were visited. A design that no user changes at all has none.
func (x *search) stuck() int {
	if x.wasCut || x.failed || !slices.Contains(x.moves, true) {
		return -1
	}
	alive := make([]bool, x.table.Len())
	copy(alive, x.moves)
	for n := range alive {
		alive[n] = alive[n] || x.isEnd(uint32(n))
	}
	for again := true; again; {
		again = false
		for n, list := range x.later {
			if !alive[n] && slices.ContainsFunc(list, func(to uint32) bool { return alive[to] }) {
				alive[n], again = true, true
			}
		}
	}
	return slices.Index(alive, false)
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
		x.stopped = true
		x.cut("stopped: what was not visited by then")
	case o.Time > 0 && time.Since(x.p.began) > o.Time:
		x.stopped = true
		x.cut("time: what %s were too short for", o.Time)
	case x.limit > 0 && x.table.Len() > x.limit:
		x.cut("states: more than %d after what is broken", further)
	case x.table.Bytes() > o.Memory || !x.relieve():
		x.cut("memory: what %d MB have no room for", o.Memory>>20)
	default:
		return true
	}
	return false
}

func (x *search) cut(format string, args ...any) {
	x.wasCut = true
	x.p.cut(format, args...)
}

func (x *search) progress(done int) {
	if x.p.o.Progress == nil || time.Since(x.told) < 500*time.Millisecond {
		return
	}
	x.told = time.Now()
	x.p.o.Progress(Progress{x.start, x.table.Len(), x.turns, x.table.Len() - done, time.Since(x.p.began)})
}
