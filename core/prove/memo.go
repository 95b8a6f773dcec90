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

// memory keeps results by the cells that they depend on: as questions for the
// value of one cell after another, in the order in which they were read. Which
// cell is read next depends on those before, and on nothing else.
type memory[T any] struct {
	first []*decision[T] // more than one where cells were read in different orders
	hits  int
	kept  int
	spent bool // it remembers nothing that comes again
}

// decision branches on the value of a cell, or is a leaf of the tree.
type decision[T any] struct {
	cell   int32 // -1 at the end
	values []uint32
	then   []*decision[T]
	by     map[uint32]*decision[T] // the same, of many values
	result T
}

const (
	mostFirst = 8       // orders in which cells are asked for
	fewValues = 8       // that are found one by one
	firstKept = 1 << 12 // results after which remembering must have been of use
	mostKept  = 1 << 18
)

// find gives what is remembered of a state with these cells.
func (m *memory[T]) find(cells []uint32) (result T, ok bool) {
	if m.spent {
		return result, false
	}
	for _, q := range m.first {
		for q != nil && q.cell >= 0 {
			q = q.next(cells[q.cell])
		}
		if q != nil {
			m.hits++
			return q.result, true
		}
	}
	return result, false
}

func (q *decision[T]) next(v uint32) *decision[T] {
	if q.by != nil {
		return q.by[v]
	}
	for i, w := range q.values {
		if w == v {
			return q.then[i]
		}
	}
	return nil
}

func (q *decision[T]) add(v uint32, next *decision[T]) {
	switch {
	case q.by != nil:
		q.by[v] = next
	case len(q.values) < fewValues:
		q.values, q.then = append(q.values, v), append(q.then, next)
	default:
		q.by = map[uint32]*decision[T]{v: next}
		for i, w := range q.values {
			q.by[w] = q.then[i]
		}
		q.values, q.then = nil, nil
	}
}

// keep remembers a result that depends on some of the cells, in the order in
// which they were read.
func (m *memory[T]) keep(on []int32, cells []uint32, result T) {
	if m.spent {
		return
	}
	if m.kept++; m.kept == firstKept && m.hits < m.kept || m.kept > mostKept {
		m.spent, m.first = true, nil
		return
	}
	for _, q := range m.first {
		if q.keep(slices.Clone(on), cells, result) {
			return
		}
	}
	if len(m.first) < mostFirst {
		m.first = append(m.first, chain(on, cells, result))
	}
}

// keep adds a result to what is asked from here on, unless that asks for a cell
// on which the result does not depend.
func (q *decision[T]) keep(on []int32, cells []uint32, result T) bool {
	for q.cell >= 0 {
		at := slices.Index(on, q.cell)
		if at < 0 {
			return false
		}
		on = slices.Delete(on, at, at+1)
		v := cells[q.cell]
		next := q.next(v)
		if next == nil {
			q.add(v, chain(on, cells, result))
			return true
		}
		q = next
	}
	return true // it is known already
}

// chain is the decisions on cells one after the other, and a leaf.
func chain[T any](on []int32, cells []uint32, result T) *decision[T] {
	q := &decision[T]{cell: -1, result: result}
	for _, c := range slices.Backward(on) {
		q = &decision[T]{cell: c, values: []uint32{cells[c]}, then: []*decision[T]{q}}
	}
	return q
}

// shapeMemo is what a worker remembers of one shape.
type shapeMemo struct {
	visits  int
	enabled memory[*enabled]
	bounds  memory[bool]
	items   map[itemKey]*item
	laws    memory[verdicts]
	whens   []*shows // that the state does not tell of, once it was visited
	looked  bool
}

// shows is what a when shows in the states of a shape.
type shows struct {
	node   design.Node
	branch memory[int]
	known  bool // all branches are known to be shown, and hidden, no later than here
}

// enabled are the causes that are enabled of a state.
type enabled struct{ items []*item }

// item is a cause, in all states of its shape that have it.
type item struct {
	user  bool
	world bool // the world outside does it, if it does
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
	form uint32
	from []int32
}

type write struct {
	cell  int32
	value uint32
}

// seldom is how often a shape is visited before anything is remembered of it.
const seldom = 8

// remembers says whether to remember the turns of a shape.
func (f *shapeMemo) remembers() bool { return f.visits > seldom }
