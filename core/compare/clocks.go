package compare

import (
	"encoding/binary"
	"slices"
)

// Timers of two designs are one to the world if they were started by one step and take as long. What
// one design alone has started fires alone, and then nothing may be told of it.

// clock is a timer that runs in both designs, or in one of them.
type clock struct {
	ids   [2]any // as the engines call it; nil where it does not run
	delay float64
	turn  int // the step that started it
}

// pending are the timers of a page that run, in the order of their starts.
func (s *side) pending() (ids []any, delays []float64) {
	s.e.Pending(func(id any, ms float64, timer bool) {
		if timer {
			ids, delays = append(ids, id), append(delays, ms)
		}
	})
	return ids, delays
}

// wind notes which timers run after a step: some have stopped, and some were started.
func (w *worker) wind() {
	w.at.turn++
	var ids [2][]any
	var delays [2][]float64
	for i, s := range w.sides {
		ids[i], delays[i] = s.pending()
	}
	kept := make([]clock, 0, len(w.at.clocks))
	known := map[any]bool{}
	for _, c := range w.at.clocks {
		for i := range c.ids {
			if c.ids[i] != nil && !slices.Contains(ids[i], c.ids[i]) {
				c.ids[i] = nil
			}
			known[c.ids[i]] = true
		}
		if c.ids[0] != nil || c.ids[1] != nil {
			kept = append(kept, c)
		}
	}
	for i, a := range ids[0] {
		if known[a] {
			continue
		}
		c := clock{ids: [2]any{a, nil}, delay: delays[0][i], turn: w.at.turn}
		for j, b := range ids[1] {
			if !known[b] && delays[1][j] == c.delay {
				c.ids[1], known[b] = b, true
				break
			}
		}
		kept = append(kept, c)
	}
	for j, b := range ids[1] {
		if !known[b] {
			kept = append(kept, clock{ids: [2]any{nil, b}, delay: delays[1][j], turn: w.at.turn})
		}
	}
	w.at.clocks = kept
}

// mayFire says whether a timer may be the next: none is due before it that was started no later and takes
// no longer.
func (p *waypoint) mayFire(i int) bool {
	c := &p.clocks[i]
	for j := range p.clocks {
		d := &p.clocks[j]
		if d.turn <= c.turn && d.delay < c.delay || d.delay == c.delay && j < i {
			return false
		}
	}
	return true
}

// firing is the move that a timer fires.
func (w *worker) firing(c *clock) (m move) {
	for i, id := range c.ids {
		if id != nil {
			m.causes[i] = w.sides[i].e.Elapses(id)
		}
	}
	return m
}

// clockShape adds to the shape of a pair which timers are one, and which were started together.
func (w *worker) clockShape(out []byte) []byte {
	var ids [2][]any
	for i, s := range w.sides {
		ids[i], _ = s.pending()
	}
	turn := -1
	for _, c := range w.at.clocks {
		for i := range c.ids {
			out = binary.AppendUvarint(out, uint64(slices.Index(ids[i], c.ids[i])+1))
		}
		later := uint64(0)
		if c.turn != turn {
			later = 1
		}
		out, turn = binary.AppendUvarint(out, later), c.turn
	}
	return out
}
