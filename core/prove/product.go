package prove

import (
	"math"
	"slices"

	"lien/core/engine"
)

// A law may ask for cells of several parts. It is held against all combinations
// of their states, and of no others: what it does not ask for is nothing to it.

// product is the combinations of the states of some parts.
type product struct {
	parts []int // in order
	laws  []int // that are held against them
	size  int
}

// asks is what one law turned out to ask for, and where it is broken first.
type asks struct {
	parts  []int
	length int // of the way to where it is broken; more than any where it is not
	at     int // which combination that is
	broken verdictOn
}

// holdLaws holds the laws of states against the combinations. It gives up
// where these are too many.
func (d *division) holdLaws() bool {
	var list []*product
	add := func(parts []int, law int) {
		for _, p := range list {
			if slices.Equal(p.parts, parts) {
				p.laws = append(p.laws, law)
				return
			}
		}
		list = append(list, d.product(parts, law))
	}
	for law, c := range d.w.laws {
		if slices.ContainsFunc(c.law.out.Law.Clauses, isStateLaw) {
			add(nil, law)
		}
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
		for i, law := range p.laws {
			if a := &asked[i]; len(a.parts) > len(p.parts) {
				add(a.parts, law)
			} else if a.length < math.MaxInt {
				d.tell(p, a)
			}
		}
	}
	return true
}

func (d *division) product(parts []int, law int) *product {
	p := &product{parts, []int{law}, 1}
	for _, i := range parts {
		if p.size *= d.parts[i].search.states(); p.size > d.x.p.o.States {
			break
		}
	}
	return p
}

// hold holds the laws of a product, unless the time is up.
func (d *division) hold(p *product) ([]asks, bool) {
	results := make([][]asks, len(d.x.workers))
	d.x.share(0, p.size, 16*chunk, func(w *worker, _ int, low, high uint32) {
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

func (d *division) unasked(p *product) []asks {
	list := make([]asks, len(p.laws))
	for i := range list {
		list[i] = asks{parts: p.parts, length: math.MaxInt}
	}
	return list
}

// add adds what another worker learned.
func (a *asks) add(b *asks) {
	for _, p := range b.parts {
		a.needs(p)
	}
	if b.length < a.length || b.length == a.length && b.at < a.at {
		a.length, a.at, a.broken = b.length, b.at, b.broken
	}
}

func (a *asks) needs(part int) {
	if at, ok := slices.BinarySearch(a.parts, part); !ok {
		a.parts = slices.Insert(slices.Clone(a.parts), at, part)
	}
}

// holdSome holds the laws against some of the combinations.
func (d *division) holdSome(w *worker, p *product, out []asks, low, high int) {
	defer func(x *search, laws []*lawCode) { w.x, w.laws = x, laws }(w.x, w.laws)
	all := w.laws
	w.x, w.seat.state = d.x, nowhere
	w.sit(0)
	w.home.Renumber()
	is, want := slices.Clone(d.first), slices.Clone(d.first)
	w.home.Vary(func(set func([]int, []uint32)) {
		for at := low; at < high; at++ {
			length := d.combine(p, at, want)
			set(differences(is, want))
			copy(is, want)
			for i, law := range p.laws {
				if len(out[i].parts) == len(p.parts) { // else it will be held against more
					w.laws = all[law : law+1]
					d.holdOne(w, &out[i], length, at)
				}
			}
		}
	})
}

// holdOne holds a law against the state that the engine is in.
func (d *division) holdOne(w *worker, a *asks, length, at int) {
	own := len(a.parts)
	if own == len(d.parts) { // there is no other that it could ask for
		a.note(w, w.look(isStateLaw), length, at)
		return
	}
	stop := w.home.Spy()
	seen := w.look(isStateLaw)
	for _, c := range stop() {
		if part := d.partOf[c]; part >= 0 {
			a.needs(part)
		}
	}
	if len(a.parts) == own {
		a.note(w, seen, length, at)
	}
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

// note notes what was seen of a law.
func (a *asks) note(w *worker, seen verdicts, length, at int) {
	for _, v := range seen {
		if !v.broken {
			w.apply(verdicts{v})
		} else if length < a.length || length == a.length && at < a.at {
			a.length, a.at, a.broken = length, at, v
			return
		}
	}
}

// combine gives the cells of a combination, and how long the way there is. The
// numbers of combinations that follow each other differ in the state of one
// part: they count as a reflected Gray code does.
func (d *division) combine(p *product, at int, cells []uint32) (length int) {
	d.each(p, at, func(part *part, state int) {
		for i, c := range part.places {
			cells[c] = part.values[state][i]
		}
		length += part.lengths[state]
	})
	return length
}

// each visits the parts of a combination with their states.
func (d *division) each(p *product, at int, visit func(part *part, state int)) {
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

// tell notes that a law is broken in a combination, with the way there: that of
// one part after that of the other.
func (d *division) tell(p *product, a *asks) {
	x := &search{p: d.x.p, start: d.x.start, table: newTable(), later: map[uint32][]uint32{}, called: d.x.called}
	x.table.shapes, x.table.widths, x.table.groups = d.x.table.shapes, d.x.table.widths, d.x.table.groups
	shape, _ := d.x.table.of(0)
	cells := slices.Clone(d.first)
	x.table.add(shape, cells, 0, 0, 0)
	w := d.w
	w.now = found{search: x, by: atMounting, turn: lastTurn}
	d.each(p, a.at, func(part *part, state int) {
		t := part.search.table
		way := []uint32{}
		for n := uint32(state); n != 0; n = t.from[n] {
			way = append(way, n)
		}
		for _, n := range slices.Backward(way) {
			w.set(cells)
			w.now.from, w.now.by = uint32(x.states()-1), d.causeIn(part.keys[n])
			for i, c := range part.places {
				cells[c] = part.values[n][i]
			}
			x.table.add(shape, cells, 0, w.now.from, w.now.by)
		}
	})
	w.apply(verdicts{a.broken})
	w.seat.state = nowhere
}

// causeIn finds a cause of a part among those of the state that the engine is
// in, where other parts may be in other states.
func (d *division) causeIn(key itemKey) int {
	list := d.w.e.Causes(d.w.samples)
	return slices.IndexFunc(list, func(c engine.Cause) bool { return keyOf(&c, 0) == key })
}
