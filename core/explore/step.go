package explore

import "lien/core/engine"

// Step is what one cause leads to.
type Step struct {
	From  uint32
	By    int
	User  bool // a user did it
	World bool // the world outside did it, which it need not
	Did   bool // it changed a cell, though what is alike may have been exchanged
	Lost  bool // it was not gone on from: the turn failed, or a bound was met
	Again bool // it leads to a state that another step of this worker led to before
	Known bool // it leads to a state of the table

	To     uint32 // which one that is
	Spelt  string // or else its shape, "" where that has a number
	Shape  uint32 // the number
	Cells  []uint32
	Groups []engine.Group // of a new shape
	Hash   uint64         // 0 where it is not known yet
}

// Expansion is what came of going on from several states in a row.
type Expansion struct {
	Moves   []bool // by state: a user can change something
	Turns   int
	Bounded bool // some state was past a bound

	from  int      // how many states it is to go on from
	steps []Step   // those to states that may be new, and those that no user made
	cells []uint32 // room for those of the steps

	_ [64]byte // so that what two workers write is never on one cache line
}

// reset makes room, where there was some before.
func (g *Expansion) reset() {
	clear(g.steps)
	*g = Expansion{steps: g.steps[:0], Moves: g.Moves[:0], cells: g.cells[:0]}
}

// Steps are those to states that may be new, and those that no user made.
func (g *Expansion) Steps() []Step { return g.steps }

// cutShort says whether a worker was stopped before it had gone on from all its states.
func (g *Expansion) cutShort() bool { return len(g.Moves) < g.from }

// Begin goes on from one more state.
func (g *Expansion) Begin() { g.Moves = append(g.Moves, false) }

// Bound notes that the last state is past a bound, and is not gone on from.
func (g *Expansion) Bound() { g.Bounded, g.Moves[len(g.Moves)-1] = true, true }

// Copy copies cells into the room for those of the steps.
func (g *Expansion) Copy(cells []uint32) []uint32 {
	at := len(g.cells)
	g.cells = append(g.cells, cells...)
	return g.cells[at:len(g.cells):len(g.cells)]
}

// Add adds a step from the last state.
func (g *Expansion) Add(s Step) {
	g.Turns++
	if s.Lost || s.User && (!s.Known || s.To != s.From || s.Did) {
		g.Moves[len(g.Moves)-1] = true
	}
	if !s.Lost && !s.Again && (!s.Known || !s.User) {
		g.steps = append(g.steps, s)
	}
}
