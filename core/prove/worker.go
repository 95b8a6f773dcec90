package prove

import (
	"slices"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/source"
	"lien/core/value"
)

// worker goes from states of a search to the next ones, on an engine of its own.
type worker struct {
	x         *search
	e         *engine.Engine
	home      *engine.Reader // of the state that is gone on from
	next      *engine.Reader // of what comes next
	samples   engine.Samples
	laws      []*lawCode
	bounds    []*engine.Condition // of the start
	fast      bool                // turns are remembered, and cells are set instead of going there
	memos     map[uint32]*shapeMemo
	way       []waypoint // from the start to where the engine is
	at        position
	cells     []uint32 // room for those of the state that is gone on from
	scratch   []uint32
	newcomers []newcomer
	branches  []int

	now     witness // what is done at the moment
	turn    int
	eager   bool     // the laws are looked at after every turn, not only after the last
	ends    []uint64 // by turn: how much had changed at its end
	records []*engine.Record
	done    map[source.Span]bool // bodies that ran
	last    footprint            // of what was tried last
}

// footprint is what a turn depended on and changed.
type footprint struct {
	reads  []int32 // nil where this is not known
	writes []write
	simple bool // nothing but cells changed, and no laws are to be looked at on the way
}

// waypoint is a state that the engine went through, and the mark to get back to it.
type waypoint struct {
	state uint32
	mark  int
	list  []engine.Cause // nil until asked for
}

// position is the state that the engine is in.
type position struct {
	taken bool
	state uint32
	shape uint32
	cells []uint32
	mark  int
	list  []engine.Cause // nil until asked for
}

func newWorker(x *search) *worker {
	w := &worker{x: x, e: x.p.engine(), done: map[source.Span]bool{}, memos: map[uint32]*shapeMemo{}, fast: x.p.fast}
	w.e.Keep()
	if !x.p.o.forget { // else somebody looks at the pages
		w.e.Blind()
	}
	w.e.OnTurn, w.e.OnRun = w.afterTurn, w.ran
	w.home = engine.NewReader(w.e, x.p.pool, engine.Reading{Spread: w.fast, Home: true})
	w.next = engine.NewReader(w.e, x.p.pool, engine.Reading{Spread: w.fast})
	if x.scope != nil {
		w.e.Within(x.scope.slice)
	}
	w.samples = x.samplesOn(w.e)
	w.laws = compileLaws(w)
	for _, b := range x.start.Bounds {
		w.bounds = append(w.bounds, w.e.Compile(b))
	}
	return w
}

// makesKeys says whether a design calls fresh. Keys are renamed in states, so
// that the cells of one state cannot be set in another.
func makesKeys(d *design.Design) bool {
	makes := false
	design.Visitor{Effect: func(e design.Effect) { makes = makes || e.Kind == design.Coins }}.Design(d)
	return makes
}

// ran notes that a body ran.
func (w *worker) ran(at source.Span) {
	if w.now.by == onTheWay || w.done[at] || !w.x.scope.sees(at) {
		return
	}
	w.done[at] = true
	f := w.now
	w.x.p.mu.Lock()
	defer w.x.p.mu.Unlock()
	w.x.p.touched.run(at, &f)
}

// meet notes what the page shows in a state of a shape that may be new.
func (w *worker) meet(s engine.State) {
	p := w.x.p
	p.look(w.e, w.x.scope)
	f := w.now
	p.mu.Lock()
	defer p.mu.Unlock()
	p.touched.show(w.e, &f, w.x.scope)
	p.skipped.see(w.e)
	if w.x.called[s.Shape] == nil {
		w.x.called[s.Shape] = w.x.p.sameNames(w.next.Names())
	}
}

// mount mounts the start, and checks the laws there.
func (w *worker) mount() (engine.State, bool) {
	w.now = witness{search: w.x, by: atMounting}
	rec, err := w.e.Mount(w.x.start)
	if err == error(engine.Stopped) {
		w.x.stop()
	}
	if err != nil {
		w.x.p.note(promiseFails, w.now, failureOf(err))
		return engine.State{}, false
	}
	w.apply(w.look(isStateLaw))
	w.watch(rec)
	w.next.Symmetric(w.x.symmetry)
	w.home.Symmetric(w.x.symmetry)
	state := w.next.Read()
	if w.x.symmetry != nil {
		w.arrange()
		state = w.next.Read()
	}
	w.way = []waypoint{{mark: w.e.Mark()}}
	return state, true
}

// sit brings the engine to a state: by setting cells, if it is in one of the
// same shape, or else the way there.
func (w *worker) sit(n uint32) {
	if w.at.taken && w.at.state == n {
		return
	}
	shape, cells := w.x.Table.Of(n)
	if w.fast && w.at.taken && w.at.shape == shape {
		w.set(cells)
	} else {
		w.goTo(n)
		w.home.Read()
		w.way[len(w.way)-1].mark = w.e.Mark()
		w.at.cells = append(w.at.cells[:0], cells...)
	}
	w.at.taken, w.at.state, w.at.shape, w.at.list = true, n, shape, nil
	w.at.mark = w.e.Mark()
}

// nowhere is the number of a state that has none yet.
const nowhere = ^uint32(0)

// mostPatches is how many settings of cells are kept on top of each other.
const mostPatches = 256

// set sets the cells that differ.
func (w *worker) set(cells []uint32) {
	if top := w.way[len(w.way)-1]; w.at.mark-top.mark > mostPatches {
		w.e.Rewind(top.mark)
		_, base := w.x.Table.Of(top.state)
		copy(w.at.cells, base)
	}
	w.home.Patch(differences(w.at.cells, cells))
	copy(w.at.cells, cells)
}

// differences are the places of the cells that differ, and what they are to be.
func differences(is, want []uint32) (places []int, numbers []uint32) {
	for i, c := range want {
		if is[i] != c {
			places, numbers = append(places, i), append(numbers, c)
		}
	}
	return places, numbers
}

// goTo takes the way to a state: back to where the ways part, then on.
func (w *worker) goTo(n uint32) {
	w.now.by = onTheWay
	var ahead []uint32
	at := n
	for {
		if i := slices.IndexFunc(w.way, func(p waypoint) bool { return p.state == at }); i >= 0 {
			w.way = w.way[:i+1]
			w.e.Rewind(w.way[i].mark)
			break
		}
		ahead = append(ahead, at)
		at, _ = w.x.Table.From(at)
	}
	for _, next := range slices.Backward(ahead) {
		top := &w.way[len(w.way)-1]
		if top.list == nil {
			top.list = w.e.Causes(w.samples)
		}
		_, by := w.x.Table.From(next)
		w.e.Do(&top.list[by])
		if w.x.symmetry != nil {
			w.arrange()
		}
		w.way = append(w.way, waypoint{state: next, mark: w.e.Mark()})
	}
}

// runs visits states, those in a row that have one shape at a time: a page that
// was brought to one of them can be set to the others.
func (w *worker) runs(low, high uint32, visit func(low, high uint32)) {
	w.pass(low)
	for low < high {
		end := low + 1
		for end < high && w.x.Table.Shape(end) == w.x.Table.Shape(low) {
			end++
		}
		visit(low, end)
		low = end
	}
}

// holdAll holds the laws of states against states of one shape, once for each,
// and notes what is shown there that the state does not tell of.
func (w *worker) holdAll(low, high uint32) {
	if len(w.laws) == 0 && !w.fast {
		return
	}
	if low = max(low, 1); low < high { // at the mounting they were
		f := w.memoOf(w.x.Table.Shape(low))
		w.learnWhens(f, low)
		for low < high {
			low = w.holdRun(f, low, high)
		}
	}
}

// holdRun holds the laws against states of one shape, from low on, and tells
// how far it came. Most of them are only set, and not shown.
func (w *worker) holdRun(f *shapeMemo, low, high uint32) uint32 {
	if len(w.laws) == 0 && f.looked && !slices.ContainsFunc(f.whens, (*shows).open) {
		return high
	}
	if w.remembered(f, low) {
		return low + 1
	}
	w.sit(low)
	if !f.looked {
		for _, n := range w.home.Whens() {
			f.whens = append(f.whens, &shows{node: n})
		}
		f.looked = true
		w.learnWhens(f, low)
	}
	if !w.fast {
		w.hold(f, low)
		return low + 1
	}
	is := slices.Clone(w.at.cells)
	w.home.Vary(func(set func([]int, []uint32)) {
		for n := low; n < high; n++ {
			if w.remembered(f, n) {
				continue
			}
			_, cells := w.x.Table.Of(n)
			set(differences(is, cells))
			copy(is, cells)
			w.hold(f, n)
		}
	})
	return high
}

func (s *shows) open() bool { return !s.known }

// learnWhens notes of which whens all is known by ways that are no longer than
// those to the states from low on.
func (w *worker) learnWhens(f *shapeMemo, low uint32) {
	here := w.foundAt(low)
	w.x.p.mu.Lock()
	defer w.x.p.mu.Unlock()
	for _, s := range f.whens {
		s.known = true
		for i := range branches(s.node) {
			b := branch{s.node, i}
			first := w.x.p.touched.shown[b]
			s.known = s.known && first != nil && first.before(&here) && w.x.p.seen.hidden[b]
		}
	}
}

// foundAt is what is found in a state, by the way there.
func (w *worker) foundAt(n uint32) witness {
	from, by := w.x.Table.From(n)
	return witness{search: w.x, from: from, by: by, turn: lastTurn}
}

// remembered applies what is remembered of the laws and whens in a state, if
// all of it is.
func (w *worker) remembered(f *shapeMemo, n uint32) bool {
	if !f.looked {
		return false
	}
	_, cells := w.x.Table.Into(w.scratch, n)
	w.scratch = cells
	v, ok := f.laws.Find(cells)
	if !ok && len(w.laws) > 0 {
		return false
	}
	w.branches = w.branches[:0]
	for _, s := range f.whens {
		at := 0
		if !s.known {
			if at, ok = s.branch.Find(cells); !ok {
				return false
			}
		}
		w.branches = append(w.branches, at)
	}
	w.now = w.foundAt(n)
	w.apply(v)
	for i, s := range f.whens {
		if !s.known {
			w.x.p.shows(s.node, w.branches[i], w.now)
		}
	}
	return true
}

// hold holds the laws against a state, which the engine is in.
func (w *worker) hold(f *shapeMemo, n uint32) {
	_, cells := w.x.Table.Of(n)
	w.now = w.foundAt(n)
	if len(w.laws) > 0 {
		stop := w.track(f)
		v := w.look(isStateLaw)
		if on := stop(); on != nil {
			f.laws.Keep(on, cells, v)
		}
		w.apply(v)
	}
	for i, s := range f.whens {
		if s.known {
			continue
		}
		stop := w.track(f)
		at := w.home.Branch(i)
		if on := stop(); on != nil {
			s.branch.Keep(on, cells, at)
		}
		w.x.p.shows(s.node, at, w.now)
	}
}

// Expand goes on from the states low to high.
func (w *worker) Expand(low, high uint32, out *explore.Expansion) {
	w.runs(low, high, func(low, high uint32) {
		w.holdAll(low, high)
		for n := low; n < high; n++ {
			out.Begin()
			w.expand(n, out)
		}
	})
}

// expand does whatever can happen next in a state, or remembers what comes of it.
func (w *worker) expand(n uint32, out *explore.Expansion) {
	shape, cells := w.x.Table.Into(w.cells, n)
	w.cells = cells
	f := w.memoOf(shape)
	f.visits++
	if !w.isWithin(f, n, cells) {
		out.Bound()
		return
	}
	if w.x.p.o.Stop.Err() != nil {
		return
	}
	m := w.enabledIn(f, n, cells)
	home := origin{n, shape, cells, explore.Hash(shape, cells)}
	for i, it := range m.items {
		if c, ok := it.turns.Find(cells); ok {
			w.recall(&home, i, it, c, out)
			continue
		}
		if w.x.p.o.Stop.Err() != nil {
			return
		}
		w.sit(n)
		w.enlist()
		w.now = witness{search: w.x, from: n, by: i}
		out.Add(w.try(f, it, &w.at.list[i]))
		w.e.Rewind(w.at.mark)
	}
}

// isWithin says whether a state is within the bounds of its start: others are not
// gone on from.
func (w *worker) isWithin(f *shapeMemo, n uint32, cells []uint32) bool {
	if len(w.bounds) == 0 {
		return true
	}
	if is, ok := f.bounds.Find(cells); ok {
		return is
	}
	w.sit(n)
	stop := w.track(f)
	is := !slices.ContainsFunc(w.bounds, func(c *engine.Condition) bool {
		v, err := w.e.Eval(c)
		return err != nil || v != value.Value(value.Bool(true))
	})
	if on := stop(); on != nil {
		f.bounds.Keep(on, cells, is)
	}
	return is
}

// enlist lists the causes of the state that the engine is in.
func (w *worker) enlist() {
	if w.at.list == nil {
		w.at.list = w.e.Causes(w.samples)
	}
}

// enabledIn are the causes that are enabled in a state.
func (w *worker) enabledIn(f *shapeMemo, n uint32, cells []uint32) *enabled {
	if m, ok := f.enabled.Find(cells); ok {
		return m
	}
	w.sit(n)
	stop := w.track(f)
	w.at.list = nil
	w.enlist()
	on := stop()
	m := &enabled{}
	for i := range w.at.list {
		s := &w.at.list[i]
		key := w.keyOf(s, i)
		it := f.items[key]
		if it == nil {
			it = &item{user: s.ByUser(), world: s.ByWorld()}
			if f.remembers() {
				if f.items == nil {
					f.items = map[itemKey]*item{}
				}
				f.items[key] = it
			}
		}
		m.items = append(m.items, it)
	}
	if on != nil {
		f.enabled.Keep(on, cells, m)
	}
	return m
}

// track notes what cells matter to what is done until the function that it gives
// is called, which gives nil where nothing is remembered.
func (w *worker) track(f *shapeMemo) (stop func() []int32) {
	if w.fast && f.remembers() {
		return w.home.Track()
	}
	return func() []int32 { return nil }
}

// newcomer is a state that a worker found in a batch, which may have no number yet.
type newcomer struct {
	batch int
	shape uint32
	hash  uint64
	cells []uint32
}

// mostNewcomers is how many of them a worker keeps, those of other hashes replaced;
// manyStates from how many states on.
const (
	mostNewcomers = 1 << 12
	manyStates    = 1 << 14
)

// hasFound says whether the worker found a state in this batch or the one before it,
// from an earlier one.
func (w *worker) hasFound(shape uint32, cells []uint32, h uint64) bool {
	if len(w.newcomers) == 0 {
		return false
	}
	f := &w.newcomers[h%mostNewcomers]
	return f.hash == h && f.batch >= w.x.Batch()-1 && f.shape == shape && slices.Equal(f.cells, cells)
}

// notes keeps a state as found.
func (w *worker) notes(shape uint32, cells []uint32, h uint64) {
	if w.newcomers == nil && w.x.states() > manyStates {
		w.newcomers = make([]newcomer, mostNewcomers)
	}
	if len(w.newcomers) > 0 {
		w.newcomers[h%mostNewcomers] = newcomer{w.x.Batch(), shape, h, cells}
	}
}

// origin is a state that is gone on from.
type origin struct {
	state, shape uint32
	cells        []uint32
	hash         uint64
}

// recall takes a turn from memory.
func (w *worker) recall(home *origin, by int, it *item, c *change, out *explore.Expansion) {
	st := explore.Step{From: home.state, By: by, User: it.user, World: it.world, Did: c.did, Shape: home.shape}
	next, h := append(w.scratch[:0], home.cells...), home.hash
	if c.shape != nil {
		next, st.Shape = c.shape.of(next, home.cells), c.shape.shape
	}
	w.scratch = next
	for _, wr := range c.writes {
		h += explore.Mix(int(wr.cell), wr.value) - explore.Mix(int(wr.cell), next[wr.cell])
		next[wr.cell] = wr.value
	}
	if groups := w.x.Table.Groups(st.Shape); len(groups) > 0 && explore.Order(groups, next) || c.shape != nil {
		h = explore.Hash(st.Shape, next)
	}
	if st.To, st.Known = w.x.Table.Find(st.Shape, next, h); !st.Known {
		if st.User && w.hasFound(st.Shape, next, h) {
			st.Again = true
		} else {
			st.Cells, st.Hash = out.Copy(next), h
			w.notes(st.Shape, st.Cells, h)
		}
	}
	out.Add(st)
}

// of are the cells of the new shape that were there before, in the room given.
func (r *reshaping) of(room, cells []uint32) []uint32 {
	room = room[:0]
	for _, at := range r.from {
		if at < 0 {
			room = append(room, 0)
		} else {
			room = append(room, cells[at])
		}
	}
	return room
}

func (w *worker) memoOf(shape uint32) *shapeMemo {
	f := w.memos[shape]
	if f == nil {
		f = &shapeMemo{}
		w.memos[shape] = f
	}
	return f
}

// try does one thing, and looks at what comes of it.
func (w *worker) try(f *shapeMemo, it *item, s *engine.Cause) explore.Step {
	before := w.e.Changes()
	w.last = footprint{}
	stop := w.track(f)
	err := w.do(s)
	on := stop()
	between := slices.ContainsFunc(w.ends, func(end uint64) bool { return end != before && (err != nil || end != w.e.Changes()) })
	if between && !w.eager { // there were states on the way: once more, and look at them
		w.e.Rewind(w.at.mark)
		w.eager = true
		err = w.do(s)
		w.eager = false
	}
	st := explore.Step{From: w.now.from, By: w.now.by, User: it.user, World: it.world}
	switch {
	case err != nil:
		w.x.p.note(promiseFails, w.now, failureOf(err))
		st.Known, st.Lost = true, true
	case w.e.Asks() > w.x.p.o.Asks:
		w.x.full.Store(true)
		st.Known, st.Lost = true, true
	default:
		st.Did = w.x.symmetry != nil && slices.ContainsFunc(w.records, func(r *engine.Record) bool { return len(r.Changes) > 0 })
		same := w.arrive(f, &st)
		w.last = footprint{reads: on, simple: same != nil && same.shape == nil && !between}
		if same != nil {
			w.last.writes = same.writes
			same.did = st.Did
		}
		if same != nil && !between && on != nil {
			it.turns.Keep(on, w.at.cells, same)
		}
	}
	w.judge(s, &st, w.now.from)
	return st
}

// do does one thing.
func (w *worker) do(s *engine.Cause) error {
	w.turn, w.records, w.ends = 0, w.records[:0], w.ends[:0]
	w.e.FocusFault()
	err := w.e.Do(s)
	if why := w.e.FocusFault(); why != "" && err == nil && w.now.by != onTheWay {
		w.apply(w.losesFocus(why))
	}
	return err
}

// arrive reads the state that a cause led to, and tells how it comes from the
// one before, unless its shape is new.
func (w *worker) arrive(f *shapeMemo, s *explore.Step) *change {
	state := w.next.Read()
	shape, ok := w.x.Table.ShapeOf(state.Shape)
	cells := w.x.ordered(w.next.Groups(), state.Cells)
	if !ok {
		w.meet(state)
		s.Spelt, s.Groups = state.Shape, w.next.Groups()
	} else if to, ok := w.x.Table.Find(shape, cells, explore.Hash(shape, cells)); ok {
		s.Known, s.To = true, to
	}
	if !s.Known {
		s.Shape, s.Cells = shape, slices.Clone(cells)
	}
	if !ok {
		return nil
	}
	if shape != w.at.shape || slices.ContainsFunc(w.records, comesOrGoes) {
		return w.reshaped(shape, state.Cells)
	}
	c := &change{}
	for i, v := range state.Cells {
		if v != w.at.cells[i] {
			c.writes = append(c.writes, write{int32(i), v})
		}
	}
	return c
}

// reshaped tells how the cells of the state that was read come from those of the
// one before, part by part. A cell that was written depends on what it was, so
// that it does not matter which it is taken for where that is the same.
func (w *worker) reshaped(shape uint32, cells []uint32) *change {
	if len(w.next.Groups())+len(w.x.Table.Groups(w.at.shape)) > 0 {
		return nil
	}
	c := &change{shape: &reshaping{shape: shape, from: w.next.From(w.home)}}
	for i, at := range c.shape.from {
		if at < 0 || w.at.cells[at] != cells[i] {
			c.writes = append(c.writes, write{int32(i), cells[i]})
		}
	}
	return c
}

// comesOrGoes says whether instances came or went in a turn.
func comesOrGoes(r *engine.Record) bool { return len(r.Mounted)+len(r.Unmounted) > 0 }
