package prove

import (
	"slices"
	"time"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
)

// Some pages are several things side by side, such as check boxes that know
// nothing of each other. Their states are all combinations of the states of
// the parts; it is enough to visit each part's own, with the others as they
// were at first.
//
// Which cells make up a part is found by trying: cells that one turn or one
// control depends on or changes belong together. As long as every turn tried in
// a part depends on cells of this part alone, and on cells that no turn changes,
// it does the same whatever the others are. By induction the states that can be
// reached are exactly the combinations. The shape has to stay as it is: a turn
// that changes it ends the attempt, and so do timers and questions.

// part is a set of cells with the states that they come to by themselves.
type part struct {
	cells   map[int32]bool
	places  []int32 // the same in order
	search  *search
	turns   int
	values  [][]uint32 // by state: its cells
	lengths []int      // by state: of the way there
	keys    []itemKey  // by state: the cause that led there
}

// partition tries to divide a start into parts.
type partition struct {
	x      *search // what was mounted: the first state
	w      *worker
	first  []uint32
	moving []bool            // by cell: some turn changes it
	groups []int32           // by cell that moves: another one of the same group, or itself (union-find)
	homes  map[itemKey]int32 // by cause: a cell of its group
	parts  []*part
	whens  []design.Node
	partOf []int // by cell: its part, or -1
	idle   int   // causes that depend on nothing that moves, and change nothing
}

// mostLocal is how many states one part may have: with more, dividing is of
// little use.
const mostLocal = 4096

// partitioned gives the parts of a mounted search; nil where there are not at least
// two, or where this cannot be told, and then why.
func partitioned(x *search) (*partition, string) {
	w := x.workers[0]
	switch {
	case !w.fast:
		return nil, "turns are not remembered, so that it is not known what they depend on"
	case !w.e.Quiet():
		return nil, "timers run or questions wait from the start"
	case len(x.start.Bounds) > 0:
		return nil, "the start says where to stop"
	}
	_, cells := x.Table.Of(0)
	d := &partition{x: x, w: w, first: slices.Clone(cells), moving: make([]bool, len(cells)), homes: map[itemKey]int32{}}
	for i := range cells {
		d.groups = append(d.groups, int32(i))
	}
	w.sit(0)
	if w.home.Wild() {
		return nil, "something on the page reads what cannot be told"
	}
	defer func() { w.x, w.at.taken = x, false }()
	const changes = "what users do changes what is on the page, or one part has too many states"
	if !d.begin() {
		return nil, changes
	}
	for again, ok := true, true; again; {
		if again, ok = d.explore(); !ok {
			return nil, changes
		}
	}
	switch {
	case len(d.parts) < 2:
		return nil, "everything can influence everything"
	case d.stuck():
		return nil, "every part has states in which nobody changes it: there may be a dead end"
	case !d.holdLaws():
		return nil, "a law asks for too many combinations of parts"
	}
	return d, ""
}

// begin tries every cause of the first state, to learn which cells move.
func (d *partition) begin() bool {
	w, f := d.w, &shapeMemo{visits: seldom + 1}
	w.enlist()
	for i := range w.at.list {
		w.now = witness{search: d.x, from: 0, by: i}
		w.try(f, &item{user: w.at.list[i].ByUser()}, &w.at.list[i])
		w.e.Rewind(w.at.mark)
		if !w.last.simple || w.last.reads == nil {
			return false
		}
		d.moves(w.last.writes)
	}
	return true
}

// moves notes cells that a turn changes, and says whether that is news.
func (d *partition) moves(writes []write) (news bool) {
	for _, wr := range writes {
		news = news || !d.moving[wr.cell]
		d.moving[wr.cell] = true
	}
	return news
}

// matter are those of some cells that move.
func (d *partition) matter(cells []int32) []int32 {
	return slices.DeleteFunc(slices.Clone(cells), func(c int32) bool { return !d.moving[c] })
}

func (d *partition) root(c int32) int32 {
	for d.groups[c] != c {
		c = d.groups[c]
	}
	return c
}

// join puts cells into one group, and says whether they were in several.
func (d *partition) join(cells []int32) bool {
	joined := false
	for _, c := range cells[min(1, len(cells)):] {
		if a, b := d.root(cells[0]), d.root(c); a != b {
			d.groups[max(a, b)] = min(a, b)
			joined = true
		}
	}
	return joined
}

// explore visits the states of every part. It says whether groups turned out
// to be one, so that all has to be done again, or that there are no parts.
func (d *partition) explore() (again, ok bool) {
	d.parts, d.idle = nil, 0
	roots := []int32{}
	for c := range d.groups {
		if r := d.root(int32(c)); d.moving[c] && !slices.Contains(roots, r) {
			roots = append(roots, r)
		}
	}
	for _, r := range roots {
		p := &part{cells: map[int32]bool{}, search: d.aside()}
		for c := range d.groups {
			if d.root(int32(c)) == r {
				p.cells[int32(c)] = true
				p.places = append(p.places, int32(c))
			}
		}
		again, ok := d.visit(p, r)
		if again || !ok {
			return again, ok
		}
		if p.search.states() > 1 {
			d.parts = append(d.parts, p)
		}
	}
	for _, p := range d.parts {
		p.spell()
	}
	d.partOf = slices.Repeat([]int{-1}, len(d.first))
	for i, p := range d.parts {
		for _, c := range p.places {
			d.partOf[c] = i
		}
	}
	return false, true
}

// aside is a search that begins in the same state, and meets no other shape.
func (d *partition) aside() *search {
	x := &search{p: d.x.p, start: d.x.start, scope: d.x.scope, Search: &explore.Search{Table: d.x.Table.Aside()}, called: d.x.called}
	shape, _ := d.x.Table.Of(0)
	x.Table.Add(shape, d.first, explore.Hash(shape, d.first), 0, 0)
	return x
}

// spell lists the cells of the part, by state.
func (p *part) spell() {
	for n := range p.search.states() {
		_, cells := p.search.Table.Of(uint32(n))
		own := make([]uint32, len(p.places))
		for i, c := range p.places {
			own[i] = cells[c]
		}
		p.values = append(p.values, own)
	}
}

// visit goes through the states of one part.
func (d *partition) visit(p *part, root int32) (again, ok bool) {
	w, x := d.w, p.search
	w.x, w.at.state = x, nowhere
	p.lengths, p.keys = []int{0}, []itemKey{{}}
	f := &shapeMemo{visits: seldom + 1, items: map[itemKey]*item{}}
	for n := uint32(0); n < uint32(x.states()); n++ {
		if x.states() > mostLocal || d.late() {
			return false, false
		}
		x.Moves = append(x.Moves, false)
		w.sit(n)
		again, ok := d.expand(p, f, n, root)
		if again || !ok {
			return again, ok
		}
	}
	return false, true
}

// late says whether looking for parts has taken its share of the time, or of the memory:
// what there is may have none.
func (d *partition) late() bool {
	o := &d.x.p.o
	live, _ := explore.Heap()
	return o.Stop.Err() != nil || o.Time > 0 && time.Since(d.x.p.began) > o.Time/4 || live > explore.HeapFor(o.Memory)/2
}

// expand takes the turns of the part in one of its states.
func (d *partition) expand(p *part, f *shapeMemo, n uint32, root int32) (again, ok bool) {
	w := d.w
	var list []engine.Cause
	var keys []itemKey
	ok = true
	stop := w.home.Track()
	w.e.CausesBy(w.samples, func(el *engine.Element, own []engine.Cause) {
		read := stop()
		ok = ok && read != nil
		cells := d.matter(read)
		if len(cells) > 0 && slices.ContainsFunc(cells, func(c int32) bool { return p.cells[c] }) && d.join(cells) {
			again = true
		}
		for i := range own {
			key := w.keyOf(&own[i], len(list))
			if _, known := d.homes[key]; !known && len(cells) > 0 {
				d.homes[key] = cells[0]
			}
			list, keys = append(list, own[i]), append(keys, key)
		}
		stop = w.home.Track()
	})
	stop()
	if !ok {
		return false, false
	}
	for i := range list {
		if again || d.x.p.o.Stop.Err() != nil {
			return again, again
		}
		home, known := d.homes[keys[i]]
		if known && d.root(home) != root {
			continue
		}
		w.now = witness{search: p.search, from: n, by: i}
		w.at.list = list
		st := w.try(f, &item{user: list[i].ByUser()}, &list[i])
		w.e.Rewind(w.at.mark)
		if !w.last.simple || w.last.reads == nil {
			return false, false
		}
		if d.moves(w.last.writes) {
			return true, true
		}
		cells := d.matter(w.last.reads)
		for _, wr := range w.last.writes {
			cells = append(cells, wr.cell)
		}
		if len(cells) == 0 {
			if n == 0 && len(d.parts) == 0 {
				d.idle++
			}
			continue
		}
		if known { // whether it can be done may depend on other cells than what it does
			cells = append(cells, home)
		} else {
			d.homes[keys[i]] = cells[0]
		}
		again = d.join(cells)
		if !again && d.root(cells[0]) == root {
			p.turns++
			d.arrive(p, n, &st, w.keyOf(&list[i], 0))
		}
	}
	return again, ok
}

// arrive adds a state of the part.
func (d *partition) arrive(p *part, n uint32, st *explore.Step, key itemKey) {
	x := p.search
	if st.User && (!st.Known || st.To != n || st.Did) {
		x.Moves[n] = true
	}
	if !st.Known {
		x.Table.Add(st.Shape, st.Cells, explore.Hash(st.Shape, st.Cells), n, st.By)
		p.lengths, p.keys = append(p.lengths, p.lengths[n]+1), append(p.keys, key)
	}
}

// stuck says whether every part has a state in which no user changes it: then
// there may be a dead end, which the plain search finds.
func (d *partition) stuck() bool {
	for _, p := range d.parts {
		if !slices.Contains(p.search.Moves, false) {
			return false
		}
	}
	return true
}

// searches are those of the parts. Cells that never change go with the first.
func (d *partition) searches() []*search {
	var list []*search
	for _, p := range d.parts {
		p.search.only, p.search.all = p.cells, d.states()
		list = append(list, p.search)
	}
	first := list[0].only
	for c := range d.first {
		if !slices.ContainsFunc(d.parts, func(p *part) bool { return p.cells[int32(c)] }) {
			first[int32(c)] = true
		}
	}
	return list
}

// states is how many combinations there are.
func (d *partition) states() explore.Count { return d.statesBut(nil) }

// statesBut is how many combinations there are of all parts but one.
func (d *partition) statesBut(but *part) explore.Count {
	n := explore.Few(1)
	for _, p := range d.parts {
		if p != but {
			n = n.Times(explore.Few(p.search.states()))
		}
	}
	return n
}

// takenTurns is how many turns there are in all combinations.
func (d *partition) takenTurns() explore.Count {
	n := explore.Few(d.idle).Times(d.states())
	for _, p := range d.parts {
		n = n.Plus(explore.Few(p.turns).Times(d.statesBut(p)))
	}
	return n
}

func (d *partition) depth() int {
	n := 0
	for _, p := range d.parts {
		n += len(p.search.Table.Path(uint32(p.search.states() - 1)))
	}
	return n
}

// has says whether a state is one of the combinations.
func (d *partition) has(s engine.State) bool {
	shape, ok := d.x.Table.ShapeOf(s.Shape)
	if first, _ := d.x.Table.Of(0); !ok || shape != first {
		return false
	}
	covered := map[int32]bool{}
	for _, p := range d.parts {
		cells := slices.Clone(d.first)
		for c := range p.cells {
			cells[c] = s.Cells[c]
			covered[c] = true
		}
		if _, ok := p.search.Table.Find(shape, cells, explore.Hash(shape, cells)); !ok {
			return false
		}
	}
	for c, v := range d.first {
		if !covered[int32(c)] && s.Cells[c] != v {
			return false
		}
	}
	return true
}
