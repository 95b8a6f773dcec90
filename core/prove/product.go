package prove

import (
	"maps"
	"slices"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
)

// A law may ask for cells of several parts. It is held against all combinations
// of their states, and of no others: what it does not ask for is nothing to it.
// So it is with the branch that a when shows, where the state does not tell.

// product is the combinations of the states of some parts.
type product struct {
	parts []int // in order
	items []int // that are looked at: laws, and after these whens
	size  int
}

// asks is what a law or when turned out to ask for, and what was seen of it:
// that the law is broken, or the branches of the when.
type asks struct {
	parts []int
	seen  map[int]observation
}

// observation is where something was seen first.
type observation struct {
	length int // of the way there
	at     int // which combination it is
	broken verdictOn
}

// holdLaws holds the laws of states against the combinations. It gives up
// where these are too many.
func (d *partition) holdLaws() bool {
	var list []*product
	add := func(parts []int, item int) {
		for _, p := range list {
			if slices.Equal(p.parts, parts) {
				p.items = append(p.items, item)
				return
			}
		}
		list = append(list, d.product(parts, item))
	}
	for i, c := range d.w.laws {
		if slices.ContainsFunc(c.law.out.Law.Clauses, func(cl *design.Clause) bool {
			return isStateLaw(cl) || cl.Kind == "turn" && d.x.scope != nil // which must hold of turns outside of the slice, too
		}) {
			add(nil, i)
		}
	}
	d.whens = d.w.home.Whens()
	for i := range d.whens {
		add(nil, len(d.w.laws)+i)
	}
	for ; len(list) > 0; list = list[1:] {
		p := list[0]
		if p.size > d.x.p.o.States {
			return false
		}
		asked, ok := d.hold(p)
		if !ok {
			return false
		}
		for i, item := range p.items {
			if a := &asked[i]; len(a.parts) > len(p.parts) {
				add(a.parts, item)
			} else {
				d.tell(p, item, a)
			}
		}
	}
	return true
}

func (d *partition) product(parts []int, item int) *product {
	p := &product{parts, []int{item}, 1}
	for _, i := range parts {
		if p.size *= d.parts[i].search.states(); p.size > d.x.p.o.States {
			break
		}
	}
	return p
}

// hold looks at what a product is for, unless the time is up.
func (d *partition) hold(p *product) ([]asks, bool) {
	results := make([][]asks, len(d.x.workers))
	explore.Share(d.x.p.o.Stop, d.x.workers, 0, p.size, 16*explore.ChunkSize, func(w *worker, _ int, low, high uint32) {
		at := slices.Index(d.x.workers, w)
		if results[at] == nil {
			results[at] = d.unasked(p)
		}
		d.holdSome(w, p, results[at], int(low), int(high))
	})
	out := d.unasked(p)
	for _, own := range results {
		for i := range own {
			out[i].add(&own[i])
		}
	}
	return out, d.x.bounds()
}

func (d *partition) unasked(p *product) []asks {
	list := make([]asks, len(p.items))
	for i := range list {
		list[i] = asks{p.parts, map[int]observation{}}
	}
	return list
}

// add adds what another worker learned.
func (a *asks) add(b *asks) {
	for _, p := range b.parts {
		a.needs(p)
	}
	for key, s := range b.seen {
		a.sees(key, s)
	}
}

func (a *asks) sees(key int, s observation) {
	if was, ok := a.seen[key]; !ok || s.length < was.length || s.length == was.length && s.at < was.at {
		a.seen[key] = s
	}
}

func (a *asks) needs(part int) {
	if at, ok := slices.BinarySearch(a.parts, part); !ok {
		a.parts = slices.Insert(slices.Clone(a.parts), at, part)
	}
}

// holdSome holds the laws against some of the combinations.
func (d *partition) holdSome(w *worker, p *product, out []asks, low, high int) {
	defer func(x *search, laws []*lawCode) { w.x, w.laws = x, laws }(w.x, w.laws)
	all := w.laws
	w.x, w.at.state = d.x, nowhere
	w.sit(0)
	is, want := slices.Clone(d.first), slices.Clone(d.first)
	w.home.Vary(func(set func([]int, []uint32)) {
		for at := low; at < high; at++ {
			length := d.combine(p, at, want)
			set(differences(is, want))
			copy(is, want)
			for i, item := range p.items {
				if len(out[i].parts) > len(p.parts) {
					continue // it will be held against more
				}
				if w.laws = nil; item < len(all) {
					w.laws = all[item : item+1]
				}
				d.holdOne(w, &out[i], item-len(all), length, at)
			}
		}
	})
}

// holdOne holds the worker's law against the state that the engine is in, or
// looks at what a when shows there.
func (d *partition) holdOne(w *worker, a *asks, when, length, at int) {
	own := len(a.parts)
	stop := func() []int32 { return nil }
	if own < len(d.parts) { // there are others that it could ask for
		stop = w.home.Track()
	}
	var seen verdicts
	branch := 0
	if when < 0 {
		seen = w.look(isStateLaw)
	} else {
		branch = w.home.Branch(when)
	}
	read := stop()
	for _, c := range read {
		if part := d.partOf[c]; part >= 0 {
			a.needs(part)
		}
	}
	if read == nil {
		for part := range d.parts { // it cannot be told
			a.needs(part)
		}
	}
	if len(a.parts) > own {
		return
	}
	if when >= 0 {
		a.sees(branch, observation{length: length, at: at})
	}
	for _, v := range seen {
		if !v.broken {
			w.apply(verdicts{v})
		} else {
			a.sees(0, observation{length, at, v})
			return
		}
	}
}

// combine gives the cells of a combination, and how long the way there is. The
// numbers of combinations that follow each other differ in the state of one
// part: they count as a reflected Gray code does.
func (d *partition) combine(p *product, at int, cells []uint32) (length int) {
	d.each(p, at, func(part *part, state int) {
		for i, c := range part.places {
			cells[c] = part.values[state][i]
		}
		length += part.lengths[state]
	})
	return length
}

// each visits the parts of a combination with their states.
func (d *partition) each(p *product, at int, visit func(part *part, state int)) {
	for _, i := range p.parts {
		part := d.parts[i]
		n := part.search.states()
		state := at % n
		if at /= n; at%2 == 1 {
			state = n - 1 - state
		}
		visit(part, state)
	}
}

// tell notes what was seen of a law or when.
func (d *partition) tell(p *product, item int, a *asks) {
	for _, key := range slices.Sorted(maps.Keys(a.seen)) {
		s := a.seen[key]
		d.w.now = d.wayTo(p, s.at)
		if when := item - len(d.w.laws); when >= 0 {
			d.x.p.shows(d.whens[when], key, d.w.now)
		} else {
			d.w.apply(verdicts{s.broken})
		}
	}
}

// wayTo is the way to a combination: that of one part after that of the other.
func (d *partition) wayTo(p *product, at int) witness {
	x := d.aside()
	shape, _ := x.Table.Of(0)
	cells := slices.Clone(d.first)
	w := d.w
	end := witness{search: x, by: atMounting, turn: lastTurn}
	d.each(p, at, func(part *part, state int) {
		t := part.search.Table
		way := []uint32{}
		for n := uint32(state); n != 0; n, _ = t.From(n) {
			way = append(way, n)
		}
		for _, n := range slices.Backward(way) {
			w.set(cells)
			end.from, end.by = uint32(x.states()-1), d.causeIn(part.keys[n])
			for i, c := range part.places {
				cells[c] = part.values[n][i]
			}
			x.Table.Add(shape, cells, 0, end.from, end.by)
		}
	})
	w.at.state = nowhere
	return end
}

// causeIn finds a cause of a part among those of the state that the engine is
// in, where other parts may be in other states.
func (d *partition) causeIn(key itemKey) int {
	list := d.w.e.Causes(d.w.samples)
	return slices.IndexFunc(list, func(c engine.Cause) bool { return d.w.keyOf(&c, 0) == key })
}
