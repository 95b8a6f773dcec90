package explore

import (
	"context"
	"slices"
	"sync"

	"lien/core/engine"
)

// Search goes on from states to the next ones, breadth first: the first way found
// to a state is a shortest one. States are numbered in the order in which one worker
// alone would find them, whatever the number of workers.
type Search struct {
	Table *States
	Turns int
	Depth int                 // the longest of the shortest ways
	Moves []bool              // by state: a user can change something
	Later map[uint32][]uint32 // of states in which no user can: where time leads

	Bounded bool // some state was past a bound, and not gone on from
	Full    bool // there are more states than may be
	Short   bool // a worker was stopped before it had gone on from all its states: nothing can be put behind them

	workers []Worker
	most    int
	stop    context.Context
	next    int // the first state that was not gone on from
	level   int // the first state of the next level
	batch   int // how many there were so far
	rooms   [2][]Expansion
	waiting []Expansion // what was found, and is not put together yet
}

// Worker goes on from the states low to high, in this order. Each is called by one
// goroutine at a time; while they work, states may be added to the table.
type Worker interface {
	Expand(low, high uint32, out *Expansion)
}

// NewSearch goes on from the states of a table with these workers, until there are
// more than most of them, or until it is told to stop.
func NewSearch(stop context.Context, most int, workers ...Worker) *Search {
	return &Search{Table: NewStates(), Later: map[uint32][]uint32{}, workers: workers, most: most, stop: stop}
}

const (
	batchSize = 1 << 10 // states that are gone on from before what was found is put together
	ChunkSize = 64      // states that a worker takes at a time
)

// Batch is the number of the batch that the workers are at: what one of them found
// in it, or in the one before, may not be in the table yet.
func (x *Search) Batch() int { return x.batch }

// Ahead are the states that were not gone on from, low to high.
func (x *Search) Ahead() (low, high int) { return x.next, x.Table.Len() }

// Level goes on from all states of a level, while it is told after each batch that
// all is within bounds. It says whether there is another level.
func (x *Search) Level(within func() bool) bool {
	if x.next == x.level {
		x.level = x.Table.Len()
	}
	ok := x.next < x.level && !x.Short
	for ok && x.next < x.level {
		ok = x.goOn() && within()
	}
	settled := x.settle()
	ok = within() && settled && ok
	if x.next == x.level && x.Table.Len() > x.level {
		x.Depth++
	}
	return ok && x.next < x.Table.Len()
}

// goOn goes on from the states of a batch, while what was found before is put
// together.
func (x *Search) goOn() bool {
	low, high := x.next, min(x.next+batchSize, x.level)
	x.batch++
	out := x.room((high - low + ChunkSize - 1) / ChunkSize)
	for i := range out {
		out[i].from = min(ChunkSize, high-low-i*ChunkSize)
	}
	var expanded sync.WaitGroup
	expanded.Go(func() {
		Share(x.stop, x.workers, low, high, ChunkSize, func(w Worker, at int, low, high uint32) { w.Expand(low, high, &out[at]) })
	})
	ok := x.settle()
	expanded.Wait()
	x.next, x.waiting = high, out
	return ok
}

// Share lets workers do something with what is numbered low to high, a chunk of so
// many each time, until they are told to stop.
func Share[W any](stop context.Context, workers []W, low, high, chunk int, do func(w W, at int, low, high uint32)) {
	chunks := (high - low + chunk - 1) / chunk
	next := make(chan int, chunks)
	for i := range chunks {
		next <- i
	}
	close(next)
	var all sync.WaitGroup
	for _, w := range workers {
		all.Go(func() {
			for i := range next {
				if stop.Err() != nil {
					return
				}
				from := low + i*chunk
				do(w, i, uint32(from), uint32(min(from+chunk, high)))
			}
		})
	}
	all.Wait()
}

// room is room for what comes of so many chunks, used again in every second batch.
func (x *Search) room(n int) []Expansion {
	room := &x.rooms[x.batch%2]
	for len(*room) < n {
		*room = append(*room, Expansion{})
	}
	for i := range *room {
		(*room)[i].reset()
	}
	return (*room)[:n]
}

// Forget lets go of room that is kept for what will be found.
func (x *Search) Forget() { x.rooms = [2][]Expansion{} }

// settle puts what was found into the table, in the order of the states that it was
// found from, and says whether all was found and there was room for it.
func (x *Search) settle() bool {
	found := x.waiting
	x.waiting = nil
	for i := range found {
		if x.Short = x.Short || found[i].cutShort(); x.Short { // what comes after it was found from states that are not known to be next
			return false
		}
		if !x.put(&found[i]) {
			x.Full = true
			return false
		}
	}
	return true
}

func (x *Search) put(g *Expansion) bool {
	x.Turns += g.Turns
	x.Bounded = x.Bounded || g.Bounded
	x.Moves = append(x.Moves, g.Moves...)
	for i := range g.steps {
		s := &g.steps[i]
		if !s.Known && !x.number(s) {
			return false
		}
		if !s.User && !s.World && !x.Moves[s.From] {
			x.Later[s.From] = append(x.Later[s.From], s.To)
		}
	}
	return true
}

// number gives the state that a step leads to its number.
func (x *Search) number(s *Step) bool {
	shape := s.Shape
	if s.Spelt != "" {
		shape = x.Table.AddShape(engine.State{Shape: s.Spelt, Cells: s.Cells}, s.Groups)
	}
	h := s.Hash
	if h == 0 {
		h = Hash(shape, s.Cells)
	}
	to, ok := x.Table.Find(shape, s.Cells, h)
	if !ok {
		if x.Table.Len() >= x.most {
			return false
		}
		to = x.Table.Add(shape, s.Cells, h, s.From, s.By)
	}
	s.To = to
	return true
}

// DeadEnd is the first state from which no user changes anything, now or after any
// time, unless it is an end that is meant; -1 where there is none. A design that no
// user changes at all has none. All states have to have been gone on from.
func (x *Search) DeadEnd(meant func(n uint32) bool) int {
	if !slices.Contains(x.Moves, true) {
		return -1
	}
	alive := slices.Clone(x.Moves)
	for n := range alive {
		alive[n] = alive[n] || meant(uint32(n))
	}
	for again := true; again; {
		again = false
		for n, list := range x.Later {
			if !alive[n] && slices.ContainsFunc(list, func(to uint32) bool { return alive[to] }) {
				alive[n], again = true, true
			}
		}
	}
	return slices.Index(alive, false)
}
