package explore

import (
	"context"
	"slices"
	"sync"
	"testing"

	"lien/core/engine"
)

// hopper goes on from numbers below a limit: to twice as many and to three more, by
// a user's doing, and from odd ones to the number before, by itself. From dead ones
// nothing leads on.
type hopper struct {
	x     *Search
	limit uint32
	dead  uint32
	gone  int
}

func (w *hopper) Expand(low, high uint32, out *Expansion) {
	for n := low; n < high; n++ {
		w.gone++
		out.Begin()
		shape, cells := w.x.Table.Of(n)
		at := cells[0]
		if at == w.dead {
			continue
		}
		for by, next := range []uint32{2 * at, at + 3} {
			if next < w.limit {
				w.step(out, Step{From: n, By: by, User: true, Shape: shape}, next)
			}
		}
		if at%2 == 1 {
			w.step(out, Step{From: n, By: 2, Shape: shape}, at-1)
		}
	}
}

func (w *hopper) step(out *Expansion, s Step, next uint32) {
	s.Cells = out.Copy([]uint32{next})
	s.To, s.Known = w.x.Table.Find(s.Shape, s.Cells, Hash(s.Shape, s.Cells))
	out.Add(s)
}

func hop(workers, most int, limit, dead uint32) (*Search, []*hopper) {
	all := make([]*hopper, workers)
	list := make([]Worker, workers)
	for i := range all {
		all[i] = &hopper{limit: limit, dead: dead}
		list[i] = all[i]
	}
	x := NewSearch(context.Background(), most, list...)
	for _, w := range all {
		w.x = x
	}
	shape := x.Table.AddShape(engine.State{Shape: "one", Cells: []uint32{0}}, nil)
	x.Table.Add(shape, []uint32{1}, Hash(shape, []uint32{1}), 0, 0)
	return x, all
}

// TestSearch: however many workers there are, the same states have the same numbers,
// ways and turns, each is gone on from once, and no way is longer than it has to be.
func TestSearch(t *testing.T) {
	const limit = 20_000
	one, _ := hop(1, limit, limit, limit)
	for one.Level(func() bool { return true }) {
	}
	length := map[uint32]int{1: 0}
	for queue := []uint32{1}; len(queue) > 0; queue = queue[1:] {
		at := queue[0]
		for _, next := range []uint32{2 * at, at + 3, at - at%2} {
			if _, ok := length[next]; !ok && next < limit {
				length[next] = length[at] + 1
				queue = append(queue, next)
			}
		}
	}
	if one.Table.Len() != len(length) || one.Full {
		t.Fatalf("%d states, want %d", one.Table.Len(), len(length))
	}
	for n := range one.Table.Len() {
		if _, cells := one.Table.Of(uint32(n)); len(one.Table.Path(uint32(n))) != length[cells[0]] {
			t.Fatalf("%d is reached in %d steps, want %d", cells[0], len(one.Table.Path(uint32(n))), length[cells[0]])
		}
	}
	for _, workers := range []int{2, 5} {
		x, all := hop(workers, limit, limit, limit)
		for x.Level(func() bool { return true }) {
		}
		gone := 0
		for _, w := range all {
			gone += w.gone
		}
		if gone != x.Table.Len() || x.Table.Len() != one.Table.Len() || x.Turns != one.Turns || x.Depth != one.Depth || !slices.Equal(x.Moves, one.Moves) || len(x.Later) != len(one.Later) {
			t.Fatalf("%d workers: %d of %d states, %d turns, depth %d", workers, gone, x.Table.Len(), x.Turns, x.Depth)
		}
		for n := range x.Table.Len() {
			_, a := x.Table.Of(uint32(n))
			_, b := one.Table.Of(uint32(n))
			if from, by := x.Table.From(uint32(n)); !slices.Equal(a, b) || !sameStep(one, uint32(n), from, by) {
				t.Fatalf("%d workers: state %d is %v, want %v", workers, n, a, b)
			}
		}
	}
}

func sameStep(x *Search, n, from uint32, by int) bool {
	f, b := x.Table.From(n)
	return f == from && b == by
}

// TestBounds: a search ends where there are too many states, and where it is told to;
// and goes on from there as if it had never ended.
func TestBounds(t *testing.T) {
	full, _ := hop(2, 500, 20_000, 20_000)
	for full.Level(func() bool { return true }) {
	}
	if !full.Full || full.Table.Len() != 500 {
		t.Errorf("%d states, full: %v", full.Table.Len(), full.Full)
	}
	one, _ := hop(1, 20_000, 20_000, 20_000)
	for one.Level(func() bool { return true }) {
	}
	x, _ := hop(2, 20_000, 20_000, 20_000)
	for again := true; again; {
		x.Level(func() bool { return false })
		if low, high := x.Ahead(); len(x.Moves) != low || low == high {
			again = false
		}
	}
	if x.Table.Len() != one.Table.Len() || x.Turns != one.Turns || x.Depth != one.Depth {
		t.Errorf("stopped after each batch: %d states, %d turns, depth %d; want %d, %d, %d", x.Table.Len(), x.Turns, x.Depth, one.Table.Len(), one.Turns, one.Depth)
	}
}

// TestDeadEnd: a state that no user leaves, and time neither, unless it is meant.
func TestDeadEnd(t *testing.T) {
	for _, c := range []struct {
		dead  uint32
		meant bool
		end   bool
	}{{10, false, true}, {10, true, false}, {99, false, false}} {
		x, _ := hop(2, 100, 20, c.dead)
		for x.Level(func() bool { return true }) {
		}
		n := x.DeadEnd(func(n uint32) bool {
			_, cells := x.Table.Of(n)
			return c.meant && cells[0] == c.dead || cells[0] >= 17 && cells[0] != c.dead
		})
		if (n >= 0) != c.end {
			t.Errorf("%+v: state %d", c, n)
		}
		if n >= 0 {
			if _, cells := x.Table.Of(uint32(n)); cells[0] != c.dead {
				t.Errorf("%+v: the end is %d", c, cells[0])
			}
		}
	}
	none, _ := hop(1, 100, 2, 1)
	for none.Level(func() bool { return true }) {
	}
	if n := none.DeadEnd(func(uint32) bool { return false }); n >= 0 {
		t.Errorf("what no user changes has the dead end %d", n)
	}
}

// TestReadWhileAdding: whoever finds a state while others are added finds all of it.
func TestReadWhileAdding(t *testing.T) {
	x := NewStates()
	shape := x.AddShape(engine.State{Shape: "one", Cells: make([]uint32, 3)}, nil)
	cells := func(i int) []uint32 { return []uint32{uint32(i), uint32(i) * 300, uint32(i) * 90_000} }
	const all = 30_000
	var readers sync.WaitGroup
	for range 3 {
		readers.Go(func() {
			for i := 0; i < all; i++ {
				n, ok := x.Find(shape, cells(i), Hash(shape, cells(i)))
				if !ok {
					continue
				}
				if _, got := x.Of(n); !slices.Equal(got, cells(i)) || n != uint32(i) {
					t.Errorf("state %d is %v", n, got)
					return
				}
				x.ShapeOf("two")
			}
		})
	}
	for i := range all {
		x.Add(shape, cells(i), Hash(shape, cells(i)), uint32(max(i-1, 0)), 0)
		if i == all/2 {
			x.AddShape(engine.State{Shape: "two"}, nil)
		}
	}
	readers.Wait()
}

// TestStopped: where a worker was stopped before it took a chunk, what others found behind it is left
// out: the states are the first ones of the whole search.
func TestStopped(t *testing.T) {
	whole, _ := hop(1, 1<<20, 30_000, 0)
	for whole.Level(func() bool { return true }) {
	}
	x, all := hop(1, 1<<20, 30_000, 0)
	stop, cancel := context.WithCancel(context.Background())
	x.stop, x.workers[0] = stop, stopper{all[0], cancel}
	for x.Level(func() bool { return stop.Err() == nil }) {
	}
	if len(x.Moves) < ChunkSize || len(x.Moves) > x.Table.Len() || stop.Err() == nil {
		t.Fatalf("%d of %d states were gone on from", len(x.Moves), x.Table.Len())
	}
	for s := range uint32(x.Table.Len()) {
		_, a := x.Table.Of(s)
		_, b := whole.Table.Of(s)
		if !slices.Equal(a, b) {
			t.Fatalf("state %d is %v, want %v", s, a, b)
		}
	}
}

// TestCutShort: behind a chunk that was left out nothing is put, however often the search is told to go on.
func TestCutShort(t *testing.T) {
	x, all := hop(2, 1<<20, 30_000, 0)
	for i, w := range all {
		x.workers[i] = stopper{w, func() {}}
	}
	for range 100 {
		x.Level(func() bool { return true })
	}
	if !x.Short || len(x.Moves) == 0 || len(x.Moves) > x.Table.Len() {
		t.Errorf("short: %v, %d of %d states were gone on from", x.Short, len(x.Moves), x.Table.Len())
	}
}

// stopper leaves a chunk out, as if it had been stopped, and is stopped behind the next one.
type stopper struct {
	*hopper
	stop func()
}

func (w stopper) Expand(low, high uint32, out *Expansion) {
	if high-low < ChunkSize || w.x.Table.Len() < 1000 {
		w.hopper.Expand(low, high, out)
		return
	}
	if w.gone < 1<<20 {
		w.gone = 1 << 20
		return
	}
	w.hopper.Expand(low, high, out)
	w.stop()
}
