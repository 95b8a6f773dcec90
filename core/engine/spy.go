package engine

import (
	"slices"

	"lien/core/value"
)

// A proof takes the same turns from many states that differ in other cells
// only. A spy notes which cells of the state a turn depends on: whatever else
// differs, the turn does the same.

// spy notes the cells that are read, by their places in the state.
type spy struct {
	round uint32
	cells []int32
	reach *reach
}

// read notes what a node comes from.
func (s *spy) read(n *node) {
	if n.spied == s.round {
		return
	}
	n.spied = s.round
	switch {
	case n.slot > 0:
		s.cells = append(s.cells, n.slot-1)
	case n.of != nil:
		s.read(n.of)
	case n.code != nil:
		for _, d := range n.deps {
			s.read(d.to)
		}
	}
}

// write notes a write. Whether it changes anything depends on what the cell
// was; and what else it leads to, on what shows the cell now. A piece of the
// page that could read the cell, and does not, depends on what it reads instead.
func (s *spy) write(n *node) {
	s.read(n)
	if n.slot > 0 {
		for _, p := range s.reach.readers[n.slot-1] {
			s.read(p)
		}
	}
}

func (e *Engine) spied(n *node) {
	if e.spy != nil {
		e.spy.read(n)
	}
}

// Spy notes, until the function that it gives is called, which cells matter,
// by their places in the state that the reader read last. They come in order.
// It gives nil where this cannot be told.
func (r *Reader) Spy() (stop func() []int32) {
	e := r.e
	if r.reach == nil {
		r.reach = r.reachOf()
	}
	if r.reach.wild {
		return func() []int32 { return nil }
	}
	e.rounds++
	e.epoch++ // what is remembered of before was not noted
	s := &spy{round: e.rounds, reach: r.reach, cells: []int32{}}
	e.spy = s
	return func() []int32 {
		e.spy = nil
		slices.Sort(s.cells)
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
	e.spied(n)
	return n.val
}

// Changes counts the changes of cells, instances, timers and questions.
func (e *Engine) Changes() uint64 { return e.changes }

// Patch sets cells of the state that the reader read last, in an engine that
// is to show the same structure with other values: nothing follows the change.
func (r *Reader) Patch(places []int, numbers []uint32) {
	e := r.e
	e.end()
	e.record = &Record{engine: e}
	e.steps, e.depth, e.level = 0, 0, 0
	e.untracked(func() {
		for i, at := range places {
			e.write(r.nodes[at], r.pool.Value(numbers[i]))
		}
		for len(e.following) > 0 {
			list := e.following
			e.following = nil
			for _, n := range list {
				p := n.part.(*following)
				e.settle(n)
				e.undo = append(e.undo, undo{kind: undoFollowed, part: p, val: p.last})
				p.last = n.val
			}
		}
		e.refreshAll()
	})
}
