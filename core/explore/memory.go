package explore

import "slices"

// A turn depends on few cells. What was learned of it in one state holds in
// every state of the same shape in which these cells are the same, and need
// not be done again. This is no reduction: every state is visited, and every
// turn is taken; most of them from memory.

// Memory keeps results by the cells that they depend on: as questions for the
// value of one cell after another, in the order in which they were read. Which
// cell is read next depends on those before, and on nothing else.
type Memory[T any] struct {
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

// Find gives what is remembered of a state with these cells.
func (m *Memory[T]) Find(cells []uint32) (result T, ok bool) {
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

// Keep remembers a result that depends on some of the cells, in the order in
// which they were read.
func (m *Memory[T]) Keep(on []int32, cells []uint32, result T) {
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
