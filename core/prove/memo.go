package prove

import (
	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
)

// What is remembered of the turns of a shape: see explore.Memory.

// shapeMemo is what a worker remembers of one shape.
type shapeMemo struct {
	visits  int
	enabled explore.Memory[*enabled]
	bounds  explore.Memory[bool]
	items   map[itemKey]*item
	laws    explore.Memory[verdicts]
	whens   []*shows // that the state does not tell of, once it was visited
	looked  bool
}

// shows is what a when shows in the states of a shape.
type shows struct {
	node   design.Node
	branch explore.Memory[int]
	known  bool // all branches are known to be shown, and hidden, no later than here
}

// enabled are the causes that are enabled of a state.
type enabled struct{ items []*item }

// item is a cause, in all states of its shape that have it.
type item struct {
	user  bool
	world bool // the world outside does it, if it does
	turns explore.Memory[*change]
}

// itemKey tells one cause of a shape from another.
type itemKey struct {
	verb    engine.Verb
	element int // its number, or -1
	text    string
	onto    int // the number of what it is dragged onto, or -1
	at      int // of what no element hears: its place in the list
}

// keyOf tells a cause from the others of the state that was read last.
func (w *worker) keyOf(s *engine.Cause, at int) itemKey {
	if s.Method != nil {
		return itemKey{s.Verb, -1, s.Method.Label, -1, 0}
	}
	if s.Element == nil {
		return itemKey{s.Verb, -1, s.Text, -1, at}
	}
	onto := -1
	if s.Onto != nil {
		onto = w.home.Number(s.Onto)
	}
	return itemKey{s.Verb, w.home.Number(s.Element), s.Text, onto, 0}
}

// change is what a turn does to a state: to its cells, and where its shape
// changes, too, which cells of the new one are those of the old.
type change struct {
	writes []write
	did    bool // it changed a cell, though what is alike may have been exchanged
	shape  *reshaping
}

// reshaping is how the cells of one shape become those of another: each is one
// that there was, by its place, or else (-1) among the writes.
type reshaping struct {
	shape uint32
	from  []int32
}

type write struct {
	cell  int32
	value uint32
}

// seldom is how often a shape is visited before anything is remembered of it.
const seldom = 8

// remembers says whether to remember the turns of a shape.
func (f *shapeMemo) remembers() bool { return f.visits > seldom }
