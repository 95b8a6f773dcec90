package prove

import (
	"slices"

	"lien/core/engine"
)

// table keeps every state that was found, by number: the number of its shape
// and the numbers of its cells. It is read by several goroutines at a time,
// and written by one while nobody reads.
type table struct {
	shapes map[string]uint32
	spelt  int              // bytes that they take, with what is known of each
	widths []int            // by shape: how many cells
	groups [][]engine.Group // by shape: the parts that are alike

	states pages[visited]
	cells  store

	index []slot // by hash
}

// visited is a state that was found, and how.
type visited struct {
	shape uint32
	cells uint32 // where they are
	from  uint32 // the state that led to it
	by    uint32 // which of its causes did
}

// slot is where a state stands in the index: its number and 1, or 0, and the
// upper half of its hash.
type slot struct{ number, tag uint32 }

// formBytes is about what is kept of a shape besides how it is spelt.
const formBytes = 800

func newTable() *table {
	return &table{shapes: map[string]uint32{}, index: make([]slot, 1<<10)}
}

func (t *table) len() int { return t.states.len() }

// bytes is about how much memory the table takes.
func (t *table) bytes() int {
	return t.spelt + t.cells.bytes() + 8*cap(t.index) + 16*t.len()
}

// of gives the shape and a copy of the cells of a state.
func (t *table) of(n uint32) (shape uint32, cells []uint32) { return t.into(nil, n) }

// into is the same, with the cells in the room given, if they fit.
func (t *table) into(room []uint32, n uint32) (shape uint32, cells []uint32) {
	s := t.states.at(n)
	return s.shape, t.cells.get(s.cells, slices.Grow(room[:0], t.widths[s.shape])[:t.widths[s.shape]])
}

// lookUp is the number of a state, or false where it was not found.
func (t *table) lookUp(s engine.State) (uint32, bool) {
	shape, ok := t.shapeOf(s.Shape)
	if !ok {
		return 0, false
	}
	cells := s.Cells
	if len(t.groups[shape]) > 0 {
		cells = slices.Clone(cells)
		order(t.groups[shape], cells)
	}
	return t.find(shape, cells, hash(shape, cells))
}

// shapeOf is the number of a shape, or false where it has none so far.
func (t *table) shapeOf(s string) (uint32, bool) {
	n, ok := t.shapes[s]
	return n, ok
}

func (t *table) addShape(s engine.State, groups []engine.Group) uint32 {
	if n, ok := t.shapes[s.Shape]; ok {
		return n
	}
	n := uint32(len(t.widths))
	t.shapes[s.Shape] = n
	t.spelt += len(s.Shape) + formBytes
	t.widths = append(t.widths, len(s.Cells))
	t.groups = append(t.groups, groups)
	return n
}

// hash is the sum of what each cell adds, so that the hash of a state that
// differs in few cells takes no more than these.
func hash(shape uint32, cells []uint32) uint64 {
	h := uint64(shape) * 0x9e3779b97f4a7c15
	for i, c := range cells {
		h += mix(i, c)
	}
	return h
}

// mix is what a cell adds to the hash (the finalizer of MurmurHash3, which is
// in the public domain).
func mix(i int, c uint32) uint64 {
	h := uint64(i)<<32 + uint64(c) + 0x9e3779b97f4a7c15
	h = (h ^ h>>33) * 0xff51afd7ed558ccd
	h = (h ^ h>>33) * 0xc4ceb9fe1a85ec53
	return h ^ h>>33
}

// find is the number of a state, or false where it was not found before.
func (t *table) find(shape uint32, cells []uint32, h uint64) (uint32, bool) {
	mask := uint64(len(t.index) - 1)
	for at := h & mask; ; at = (at + 1) & mask {
		s := t.index[at]
		if s.number == 0 {
			return 0, false
		}
		if s.tag == uint32(h>>32) && t.same(s.number-1, shape, cells) {
			return s.number - 1, true
		}
	}
}

func (t *table) same(n, shape uint32, cells []uint32) bool {
	s := t.states.at(n)
	return s.shape == shape && t.cells.same(s.cells, cells)
}

// add keeps a state that was not found before.
func (t *table) add(shape uint32, cells []uint32, h uint64, from uint32, by int) uint32 {
	n := uint32(t.len())
	t.states.add(visited{shape, t.cells.add(cells), from, uint32(by)})
	if 4*t.len() > 3*len(t.index) {
		t.grow()
	} else {
		t.put(n, h)
	}
	return n
}

func (t *table) put(n uint32, h uint64) {
	mask := uint64(len(t.index) - 1)
	at := h & mask
	for t.index[at].number != 0 {
		at = (at + 1) & mask
	}
	t.index[at] = slot{n + 1, uint32(h >> 32)}
}

func (t *table) grow() {
	t.index = make([]slot, 2*len(t.index))
	var shape uint32
	var cells []uint32
	for n := range t.len() {
		shape, cells = t.into(cells, uint32(n))
		t.put(uint32(n), hash(shape, cells))
	}
}

// path are the causes that lead from the start to a state.
func (t *table) path(n uint32) []int {
	var list []int
	for n != 0 {
		s := t.states.at(n)
		list = append(list, int(s.by))
		n = s.from
	}
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	return list
}
