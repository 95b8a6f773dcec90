package compare

import (
	"encoding/binary"
	"fmt"
	"slices"
	"sort"
	"strings"
	"sync"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/story"
	"lien/core/value"
)

// search visits the pairs of states that can be reached from two starts.
type search struct {
	*explore.Search
	c       *comparison
	starts  [2]*design.Start
	workers []*worker

	mu    sync.Mutex
	found *found // what tells them apart, by the shortest way
	full  bool   // more was asked than may wait at a time
}

// found is a step after which the designs can be told apart, or with by -1 the mounting.
type found struct {
	from uint32
	by   int
	what string
}

// mostWorkers is how many there are: each has two pages of its own.
const mostWorkers = 2

func newSearch(c *comparison, starts [2]*design.Start) *search {
	x := &search{c: c, starts: starts}
	all := make([]explore.Worker, mostWorkers)
	for i := range all {
		w := newWorker(x)
		x.workers, all[i] = append(x.workers, w), w
	}
	x.Search = explore.NewSearch(c.o.Stop, c.o.Pairs, all...)
	return x
}

// tell notes what tells the designs apart, if it is the first by the order of the states.
func (x *search) tell(from uint32, by int, what string) {
	x.mu.Lock()
	defer x.mu.Unlock()
	if f := x.found; f == nil || from < f.from || from == f.from && by < f.by {
		x.found = &found{from, by, what}
	}
}

// mount mounts both starts, and says whether there is anything to go on from.
func (x *search) mount() bool {
	for i, w := range x.workers {
		state, ok := w.mount()
		if !ok {
			return false
		}
		if i == 0 {
			shape := x.Table.AddShape(state, nil)
			x.Table.Add(shape, state.Cells, explore.Hash(shape, state.Cells), 0, 0)
		}
	}
	return x.found == nil
}

func (x *search) run() {
	for x.Level(x.within) {
	}
	if x.Full {
		x.c.cut("pairs: more than %d", x.c.o.Pairs)
	}
	if x.Bounded {
		x.c.cut("bound: what comes after states that are past the bound of a start")
	}
	if x.full {
		x.c.cut("asks: more than %d questions that wait at a time", x.c.o.Asks)
	}
	if x.found == nil && x.c.o.Stop.Err() != nil {
		x.c.cut("%s", x.c.stopped())
	}
}

// within says whether to go on after a batch.
func (x *search) within() bool {
	x.mu.Lock()
	defer x.mu.Unlock()
	return x.found == nil && x.c.o.Stop.Err() == nil
}

// side is the page of one of the designs.
type side struct {
	e          *engine.Engine
	home, next *engine.Reader // of the pair that is gone on from, and of what comes next
	samples    engine.Samples
	bounds     []*engine.Condition
	looks      *looker
	elements   []*engine.Element
}

func newSide(x *search, i int) *side {
	c := x.c
	s := &side{e: engine.New(c.designs[i])}
	s.e.Keep()
	s.e.StopBy(c.o.Stop)
	s.home = engine.NewReader(s.e, c.pool, engine.Reading{Home: true})
	s.next = engine.NewReader(s.e, c.pool, engine.Reading{})
	s.samples = story.Sampled(s.e, story.SamplesOf(c.designs[i], x.starts[i]), c.typed[i], func(_ *design.Sample, values []value.Value, _ *engine.Element) []string {
		return story.AsTyped(values)
	})
	for _, b := range x.starts[i].Bounds {
		s.bounds = append(s.bounds, s.e.Compile(b))
	}
	s.looks = newLooker(s.e, c.o.But, c.designs[0].Hiding.Any() || c.designs[1].Hiding.Any())
	return s
}

// number is the place of an element in the order of the page, from 0 on; -1 for none.
func (s *side) number(el *engine.Element) int { return slices.Index(s.elements, el) }

// list lists the elements of the page, in order.
func (s *side) list() {
	s.elements = s.elements[:0]
	s.e.Elements(func(el *engine.Element) bool {
		s.elements = append(s.elements, el)
		return true
	})
}

// worker goes from pairs of states to the next ones.
type worker struct {
	x     *search
	sides [2]*side
	way   []waypoint
	at    waypoint // where the engines are
	taken bool     // at is right
	shape uint32
	cells []uint32
	width int // how many of the cells are of the first side
	moves []move
}

// waypoint is a pair of states that the engines went through.
type waypoint struct {
	state  uint32
	marks  [2]int
	clocks []clock // the timers that run, in the order of their starts
	turn   int     // how many steps there were
	keys   matching
}

// move is one thing that is done to both, or a timer of one side that has no partner.
type move struct {
	causes [2]*engine.Cause // nil: nothing is done to this side
}

func newWorker(x *search) *worker {
	w := &worker{x: x, sides: [2]*side{newSide(x, 0), newSide(x, 1)}}
	a, b := w.sides[0].e, w.sides[1].e
	a.SeeAs(b)
	b.SeeAs(a)
	return w
}

// mount mounts both starts, and compares what they show.
func (w *worker) mount() (engine.State, bool) {
	var errs [2]error
	var turns [2][]*engine.Record
	for i, s := range w.sides {
		var rec *engine.Record
		rec, errs[i] = s.e.Mount(w.x.starts[i])
		turns[i] = []*engine.Record{rec}
	}
	if errs[0] == error(engine.Stopped) || errs[1] == error(engine.Stopped) {
		w.x.c.cut("%s", w.x.c.stopped())
		return engine.State{}, false
	}
	if what := w.failed(errs); what != "" || errs[0] != nil {
		if what != "" {
			w.x.tell(0, -1, what)
		}
		return engine.State{}, false
	}
	if what := w.apart(turns); what != "" {
		w.x.tell(0, -1, what)
		return engine.State{}, false
	}
	w.wind()
	state := w.read()
	w.at.marks = w.mark()
	w.way = []waypoint{w.at.copied()}
	return state, true
}

func (p *waypoint) copied() waypoint {
	c := *p
	c.clocks, c.keys = slices.Clone(p.clocks), slices.Clone(p.keys)
	return c
}

func (w *worker) mark() (marks [2]int) {
	for i, s := range w.sides {
		marks[i] = s.e.Mark()
	}
	return marks
}

// back brings the engines back to a waypoint.
func (w *worker) back(p *waypoint) {
	for i, s := range w.sides {
		s.e.Rewind(p.marks[i])
	}
	w.at = p.copied()
}

// failed says whether the step of one side failed and that of the other did not.
func (w *worker) failed(errs [2]error) string {
	switch {
	case errs[0] != nil && errs[1] == nil:
		return "the turn fails before, and not after: " + errs[0].Error()
	case errs[1] != nil && errs[0] == nil:
		return "the turn fails after, and not before: " + errs[1].Error()
	}
	return ""
}

// apart says what tells the pages apart as they are, and what was told to the world in the last step;
// "" for nothing.
func (w *worker) apart(turns [2][]*engine.Record) string {
	var told [2][]event
	var pages [2][]byte
	for i, s := range w.sides {
		told[i] = events(append(turns[i], s.e.Turns()...))
		pages[i] = s.looks.page()
	}
	for i := 0; i < max(len(told[0]), len(told[1])); i++ {
		switch {
		case i >= len(told[1]):
			return told[0][i].String() + " before, and not after"
		case i >= len(told[0]):
			return told[1][i].String() + " after, and not before"
		case !w.sameEvent(told[0][i], told[1][i]):
			return told[0][i].String() + " before, " + told[1][i].String() + " after"
		}
	}
	if !w.at.keys.samePage(pages[0], pages[1]) {
		return firstDifference(pages)
	}
	return ""
}

func (w *worker) sameEvent(a, b event) bool {
	return a.what == b.what && len(a.args) == len(b.args) && slices.EqualFunc(a.args, b.args, w.at.keys.equal)
}

// firstDifference says where two pages differ first.
func firstDifference(pages [2][]byte) string {
	a, b := strings.Split(string(pages[0]), "\n"), strings.Split(string(pages[1]), "\n")
	clean := func(s string) string {
		return strings.NewReplacer(string(keyMark), "", string(endMark), "").Replace(strings.TrimSpace(s))
	}
	for i := range max(len(a), len(b)) {
		x, y := "", ""
		if i < len(a) {
			x = a[i]
		}
		if i < len(b) {
			y = b[i]
		}
		if x == y {
			continue
		}
		switch {
		case x == "" || slices.Contains(b[min(i, len(b)):], x) && !slices.Contains(a[min(i, len(a)):], y):
			return "the page shows " + clean(y) + " after, and not before"
		case y == "" || slices.Contains(a[min(i, len(a)):], y) && !slices.Contains(b[min(i, len(b)):], x):
			return "the page shows " + clean(x) + " before, and not after"
		}
		return "the page shows " + clean(x) + " before, " + clean(y) + " after"
	}
	return "a key that was one thing is another"
}

// read is the pair of states that the engines are in, as one: the states, which timers are paired,
// and which keys.
func (w *worker) read() engine.State {
	a, b := w.sides[0].next.Read(), w.sides[1].next.Read()
	out := binary.AppendUvarint(nil, uint64(len(a.Shape)))
	out = binary.AppendUvarint(out, uint64(len(a.Cells)))
	out = append(append(out, a.Shape...), b.Shape...)
	out = w.clockShape(out)
	var live [][2]uint64
	for _, p := range w.at.keys {
		x, okA := w.sides[0].next.Renamed(p[0])
		y, okB := w.sides[1].next.Renamed(p[1])
		if okA || okB {
			live = append(live, [2]uint64{uint64(x), uint64(y)})
		}
	}
	sort.Slice(live, func(i, j int) bool {
		return live[i][0] < live[j][0] || live[i][0] == live[j][0] && live[i][1] < live[j][1]
	})
	for _, p := range live {
		out = binary.AppendUvarint(binary.AppendUvarint(out, p[0]), p[1])
	}
	return engine.State{Shape: string(out), Cells: append(slices.Clone(a.Cells), b.Cells...)}
}

// sit brings the engines to a pair: by setting cells, if they are in one of the same shape, or else
// the way there.
func (w *worker) sit(n uint32) {
	if w.taken && w.at.state == n {
		return
	}
	shape, cells := w.x.Table.Of(n)
	if w.taken && w.shape == shape && !w.x.c.keys {
		w.set(cells)
	} else {
		w.goTo(n)
		w.width = len(w.sides[0].home.Read().Cells)
		w.sides[1].home.Read()
		w.cells = cells
		w.way[len(w.way)-1].marks = w.mark()
	}
	w.shape, w.taken, w.at.state = shape, true, n
	w.at.marks = w.mark()
	w.list()
}

// mostPatches is how many settings of cells are kept on top of each other.
const mostPatches = 256

func (w *worker) set(cells []uint32) {
	if top := &w.way[len(w.way)-1]; w.at.marks[0]-top.marks[0] > mostPatches || w.at.marks[1]-top.marks[1] > mostPatches {
		state := top.state
		w.back(top)
		_, w.cells = w.x.Table.Of(state)
	}
	for i, part := range [2][2]int{{0, w.width}, {w.width, len(cells)}} {
		var places []int
		var numbers []uint32
		for at := part[0]; at < part[1]; at++ {
			if w.cells[at] != cells[at] {
				places, numbers = append(places, at-part[0]), append(numbers, cells[at])
			}
		}
		if len(places) > 0 {
			w.sides[i].home.Patch(places, numbers)
		}
	}
	w.cells = slices.Clone(cells)
}

// goTo takes the way to a pair: back to where the ways part, then on.
func (w *worker) goTo(n uint32) {
	var ahead []uint32
	at := n
	for {
		if i := slices.IndexFunc(w.way, func(p waypoint) bool { return p.state == at }); i >= 0 {
			w.way = w.way[:i+1]
			w.back(&w.way[i])
			break
		}
		ahead = append(ahead, at)
		at, _ = w.x.Table.From(at)
	}
	for _, next := range slices.Backward(ahead) {
		_, by := w.x.Table.From(next)
		w.list()
		w.do(&w.moves[by])
		w.at.state, w.at.marks = next, w.mark()
		w.way = append(w.way, w.at.copied())
	}
}

// do does a move, and says what tells the designs apart after it, or "".
func (w *worker) do(m *move) string {
	var errs [2]error
	for i, s := range w.sides {
		s.e.Turns()
		if m.causes[i] != nil {
			errs[i] = s.e.Do(m.causes[i])
		}
	}
	if errs[0] == error(engine.Stopped) || errs[1] == error(engine.Stopped) {
		return ""
	}
	if what := w.failed(errs); what != "" {
		return what
	}
	if what := w.apart([2][]*engine.Record{}); what != "" {
		return what
	}
	w.wind()
	return ""
}

// isWithin says whether a pair is within the bounds of the starts.
func (w *worker) isWithin() bool {
	for _, s := range w.sides {
		for _, b := range s.bounds {
			if v, err := s.e.Eval(b); err != nil || v != value.Value(value.Bool(true)) {
				return false
			}
		}
	}
	return true
}

// Expand goes on from the pairs low to high.
func (w *worker) Expand(low, high uint32, out *explore.Expansion) {
	for n := low; n < high; n++ {
		out.Begin()
		if w.x.c.o.Stop.Err() != nil {
			return
		}
		w.expand(n, out)
	}
}

func (w *worker) expand(n uint32, out *explore.Expansion) {
	w.sit(n)
	if !w.isWithin() {
		out.Bound()
		return
	}
	here := w.at.copied()
	for by := range w.moves {
		if w.x.c.o.Stop.Err() != nil {
			return
		}
		step := explore.Step{From: n, By: by, User: true}
		what := w.do(&w.moves[by])
		switch {
		case what != "":
			w.x.tell(n, by, what)
			step.Known, step.Lost = true, true
		case w.sides[0].e.Asks() > w.x.c.o.Asks:
			w.x.mu.Lock()
			w.x.full = true
			w.x.mu.Unlock()
			step.Known, step.Lost = true, true
		default:
			w.arrive(&step)
		}
		out.Add(step)
		w.back(&here)
	}
}

// arrive reads the pair that a move led to.
func (w *worker) arrive(step *explore.Step) {
	state := w.read()
	shape, ok := w.x.Table.ShapeOf(state.Shape)
	if !ok {
		step.Spelt, step.Cells = state.Shape, state.Cells
		return
	}
	h := explore.Hash(shape, state.Cells)
	if to, ok := w.x.Table.Find(shape, state.Cells, h); ok {
		step.Known, step.To = true, to
		return
	}
	step.Shape, step.Cells, step.Hash = shape, state.Cells, h
}

// list lists what can be done to the pair that the engines are in.
func (w *worker) list() {
	w.moves = w.moves[:0]
	var lists [2][]engine.Cause
	for i, s := range w.sides {
		s.list()
		lists[i] = s.e.Causes(s.samples)
	}
	w.gestures(lists)
	w.answers(lists)
	w.timers()
}

// gesture tells one thing that a user does from others, by the place of the element on the page.
func (s *side) gesture(c *engine.Cause) string {
	method := ""
	if c.Method != nil {
		method = c.Method.Label
	}
	return fmt.Sprintf("%s\x00%d\x00%d\x00%s\x00%s", c.Verb, s.number(c.Element), s.number(c.Onto), c.Text, method)
}

// gestures are done to both, on elements of one place: the pages are alike.
func (w *worker) gestures(lists [2][]engine.Cause) {
	done := map[string]bool{}
	for i, list := range lists {
		for j := range list {
			c := &list[j]
			if c.Verb == engine.Elapse || c.ByWorld() {
				continue
			}
			key := w.sides[i].gesture(c)
			if done[key] {
				continue
			}
			done[key] = true
			var m move
			m.causes[i] = c
			if m.causes[1-i] = w.same(c, i); m.causes[1-i] != nil {
				w.moves = append(w.moves, m)
			}
		}
	}
}

// same is the cause that does to the other side what a cause does to one; nil where it cannot be done.
func (w *worker) same(c *engine.Cause, from int) *engine.Cause {
	a, b := w.sides[from], w.sides[1-from]
	d := &engine.Cause{Verb: c.Verb, Text: c.Text}
	for _, p := range []struct {
		is *engine.Element
		to **engine.Element
	}{{c.Element, &d.Element}, {c.Onto, &d.Onto}} {
		if p.is == nil {
			continue
		}
		at := a.number(p.is)
		if at < 0 || at >= len(b.elements) {
			return nil
		}
		*p.to = b.elements[at]
	}
	if c.Method != nil {
		for _, m := range w.x.starts[1-from].Root.Members {
			if m.Kind == design.Action && m.Offered && m.Label == c.Method.Label && len(m.Sig) == 0 {
				d.Method = m
			}
		}
		if d.Method == nil {
			return nil // the contracts tell of it
		}
	}
	return d
}

// answers go to the questions of one place among those that wait: both sides have asked the same.
func (w *worker) answers(lists [2][]engine.Cause) {
	var world [2][]*engine.Cause
	for i, list := range lists {
		for j := range list {
			if list[j].ByWorld() {
				world[i] = append(world[i], &list[j])
			}
		}
	}
	for k := range min(len(world[0]), len(world[1])) {
		if a, b := world[0][k], world[1][k]; a.Verb != b.Verb || a.Failure != b.Failure {
			return // the services differ: the contracts tell of it
		}
		w.moves = append(w.moves, move{[2]*engine.Cause{world[0][k], world[1][k]}})
	}
}

// timers fire with their partners, and those without one alone.
func (w *worker) timers() {
	for i := range w.at.clocks {
		if w.at.mayFire(i) {
			w.moves = append(w.moves, w.firing(&w.at.clocks[i]))
		}
	}
}
