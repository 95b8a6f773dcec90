package engine

import "lien/core/value"

// A proof takes the same turns from many states that differ in other cells
// only. A read tracker notes which cells of the state a turn depends on: whatever else
// differs, the turn does the same.

// tracker notes the cells that are read, by their places in the state.
type tracker struct {
	round      uint32
	cells      []int32
	known      []bool    // by place: it is among the cells
	watchers   *watchers // that watch values now
	lost       bool      // a cell was read that is not in the state any more
	readership *readership
}

func (s *tracker) add(place int32) {
	if int(place) >= len(s.known) {
		s.lost = true
		return
	}
	if !s.known[place] {
		s.known[place] = true
		s.cells = append(s.cells, place)
	}
}

// read notes that something is worked out from a node's value. Of a value that
// is watched the parts are noted as they are read.
func (s *tracker) read(n *node) {
	if n.tracked == s.round {
		return
	}
	n.tracked = s.round
	switch {
	case n.slot > 0:
		if n.spread == nil {
			s.add(n.slot - 1)
		}
	case n.item && n.passed() != nil:
		if n == &n.block.locals[0] && n.passed().names == nil {
			s.readItem(n)
		}
	case n.of != nil:
		s.from(n.of)
	case n.code != nil && n.code.passes:
		for _, d := range n.deps {
			s.read(d.to)
		}
	case n.code != nil:
		s.from(n)
	}
}

// from notes all that a value comes from that was worked out before: what is
// worked out while the tracker looks on notes by itself what it reads.
func (s *tracker) from(n *node) {
	if n.trackedFrom != s.round {
		n.trackedFrom = s.round
		s.whole(n)
	}
}

// whole notes all that a value comes from, and all parts of the records that
// it may hold: which of them somebody read who has it is not known any more,
// and those that it was picked by, or that it was seen to read, are not all.
func (s *tracker) whole(n *node) {
	if n.trackedWhole == s.round {
		return
	}
	n.trackedWhole = s.round
	switch {
	case n.slot > 0:
		n.places(s.add)
	case n.item && n.passed() != nil:
		s.readItem(n)
	case n.of != nil:
		s.whole(n.of)
	case n.code != nil:
		for _, d := range n.deps {
			if isPlainValue(d.to.val) {
				s.from(d.to)
			} else {
				s.whole(d.to)
			}
		}
	}
}

// readItem notes the places of an item; its index says nothing about them.
func (s *tracker) readItem(n *node) {
	c, b := n.passed(), n.block
	each := b.host.(*eachPart)
	if each.order != nil || each.list.state != clean || b.absent {
		c.all(s.add) // it may not stand where it stood
		return
	}
	if n == &b.locals[0] {
		c.item(b.index, s.add)
	}
}

// write notes a write. Whether it changes anything depends on what the cell
// was; and what else it leads to, on what shows the cell now. A piece of the
// page that could read the cell, and does not, depends on what lets it read
// something else instead.
func (s *tracker) write(n *node, v value.Value) {
	if n.slot > 0 && n.spread != nil {
		n.spread.changed(v, s.writePlace)
		return
	}
	s.read(n)
	if n.slot > 0 {
		value.Read(v)
		s.writePlace(n.slot - 1)
	}
}

func (s *tracker) writePlace(place int32) {
	s.add(place)
	for _, p := range s.readership.readers[place] {
		s.way(p)
	}
}

// way notes what decides which cells a value comes from that was worked out
// before: for one that always reads the same, only which records it reads of.
func (s *tracker) way(n *node) {
	if n.trackedWay == s.round || n.trackedFrom == s.round {
		return
	}
	n.trackedWay = s.round
	switch {
	case n.slot > 0 || n.item && n.passed() != nil:
	case n.of != nil:
		s.way(n.of)
	case n.code == nil:
	case !n.code.steady:
		s.from(n)
	default:
		for _, d := range n.deps {
			if d.to.code != nil && !d.to.code.passes && !isPlainValue(d.to.val) {
				s.from(d.to)
			} else {
				s.way(d.to)
			}
		}
	}
}

// isPlainValue says whether a value is there and has no parts.
func isPlainValue(v value.Value) bool {
	if v == nil {
		return false
	}
	switch v.Kind() {
	case value.BoolKind, value.NumberKind, value.StringKind, value.KeyKind:
		return true
	}
	return false
}

func (e *Engine) noted(n *node) {
	if e.tracker != nil {
		e.tracker.read(n)
	}
}

// Track notes, until the function that it gives is called, which cells matter,
// by their places in the state that the reader read last. They come in the order
// in which they were read, and are valid until the next call. It gives nil where
// this cannot be told.
func (r *Reader) Track() (stop func() []int32) {
	e := r.e
	if r.readers().wild {
		return func() []int32 { return nil }
	}
	e.rounds++
	e.epoch++ // what is remembered of before was not noted
	for _, c := range r.tracked.cells {
		r.tracked.known[c] = false
	}
	if len(r.tracked.known) < len(r.nodes) {
		r.tracked.known = make([]bool, len(r.nodes))
	}
	s := &r.tracked
	s.round, s.readership, s.watchers, s.cells = e.rounds, r.reading, e.watchers, s.cells[:0]
	s.lost = false
	if s.cells == nil {
		s.cells = []int32{}
	}
	for _, c := range r.spreads {
		c.at = c.node.val
	}
	e.tracker = s
	return func() []int32 {
		e.tracker = nil
		if s.lost {
			return nil
		}
		return s.cells
	}
}

// Mute lets the engine work out texts and attributes that cannot fail only when
// somebody asks for them. It is for engines whose page nobody looks at.
func (e *Engine) Mute() { e.mutes = true }

// shown is the value of a piece of the page, which may be muted.
func (e *Engine) shown(n *node) value.Value {
	if n.mute && n.state != clean {
		e.untracked(func() { e.update(n) })
	}
	e.noted(n)
	return n.val
}

// Changes counts the changes of cells, instances, timers and questions.
func (e *Engine) Changes() uint64 { return e.changes }
