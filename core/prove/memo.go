package prove

import (
	"slices"

	"lien/core/design"
	"lien/core/engine"
)

// A turn depends on few cells. What was learned of it in one state holds in
// every state of the same shape in which these cells are the same, and need
// not be done again. This is no reduction: every state is visited, and every
// turn is taken; most of them from memory.

// memory keeps results by the cells that they depend on.
type memory[T any] struct {
	sets  []*depends[T]
	hits  int
	kept  int
	spent bool // it remembers nothing that comes again
}

// depends keeps the results that depend on one set of cells, by their values.
type depends[T any] struct {
	cells []int32
	by    map[uint64][]entry[T]
}

type entry[T any] struct {
	values []uint32
	result T
}

const (
	mostSets  = 8       // of cells on which one thing depends
	firstKept = 1 << 12 // results after which remembering must have been of use
	mostKept  = 1 << 18
)

// find gives what is remembered of a state with these cells.
func (m *memory[T]) find(cells []uint32) (result T, ok bool) {
	if m.spent {
		return result, false
	}
	for _, d := range m.sets {
		if r, ok := d.find(cells); ok {
			m.hits++
			return r, true
		}
	}
	return result, false
}

func (d *depends[T]) find(cells []uint32) (result T, ok bool) {
	list := d.by[d.hash(cells)]
next:
	for i := range list {
		for j, c := range d.cells {
			if cells[c] != list[i].values[j] {
				continue next
			}
		}
		return list[i].result, true
	}
	return result, false
}

func (d *depends[T]) hash(cells []uint32) uint64 {
	h := uint64(1)
	for _, c := range d.cells {
		h = (h ^ uint64(cells[c])) * 0xff51afd7ed558ccd
		h ^= h >> 32
	}
	return h
}

// keep remembers a result that depends on some of the cells.
func (m *memory[T]) keep(on []int32, cells []uint32, result T) {
	if m.spent {
		return
	}
	if m.kept++; m.kept == firstKept && m.hits < m.kept || m.kept > mostKept {
		m.spent, m.sets = true, nil
		return
	}
	at := slices.IndexFunc(m.sets, func(d *depends[T]) bool { return slices.Equal(d.cells, on) })
	if at < 0 {
		if len(m.sets) == mostSets {
			return
		}
		at = len(m.sets)
		m.sets = append(m.sets, &depends[T]{slices.Clone(on), map[uint64][]entry[T]{}})
	}
	d := m.sets[at]
	values := make([]uint32, len(on))
	for i, c := range on {
		values[i] = cells[c]
	}
	h := d.hash(cells)
	d.by[h] = append(d.by[h], entry[T]{values, result})
}

// form is what a worker knows of one shape.
type form struct {
	visits int
	menus  memory[*menu]
	items  map[itemKey]*item
	laws   memory[verdicts]
	whens  []*shows // that the state does not tell of, once it was visited
	looked bool
}

// shows is what a when shows in the states of a shape.
type shows struct {
	node   design.Node
	branch memory[int]
	known  bool // all branches are known to be shown, and hidden, no later than here
}

// menu are the causes of a state.
type menu struct{ items []*item }

// item is a cause, in all states of its shape that have it.
type item struct {
	user  bool
	turns memory[*change]
}

// itemKey tells one cause of a shape from another.
type itemKey struct {
	verb    engine.Verb
	element int // its number, or -1
	text    string
	at      int // of what no element hears: its place in the list
}

// keyOf tells a cause from the others of the state that was read last.
func keyOf(s *engine.Cause, at int) itemKey {
	if s.Method != nil {
		return itemKey{s.Verb, -1, s.Method.Label, 0}
	}
	if s.Element == nil {
		return itemKey{s.Verb, -1, s.Text, at}
	}
	return itemKey{s.Verb, s.Element.Number(), s.Text, 0}
}

// change is what a turn does to the cells, while the shape stays.
type change struct {
	writes []write
	did    bool // it changed a cell, though perhaps none that is read
}

type write struct {
	cell  int32
	value uint32
}

// seldom is how often a shape is visited before anything is remembered of it.
const seldom = 8

// remembers says whether to remember the turns of a shape.
func (f *form) remembers() bool { return f.visits > seldom }
