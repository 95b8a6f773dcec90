package explore

import (
	"slices"
	"sync/atomic"

	"lien/core/engine"
)

// States keeps every state that was found, by number: the number of its shape,
// the numbers of its cells, and how it was found. One goroutine adds to it while
// others read: they find what was there when they began, and may or may not find
// what was added since. What is added is written first, and then put into the index
// in one piece, so that whoever finds a number finds all of its state.
type States struct {
	*shapes

	index  atomic.Pointer[[]atomic.Uint64] // slots by hash
	states pages[visited]
	cells  store
}

// visited is a state that was found, and how.
type visited struct {
	shape uint32
	cells uint32 // where they are
	from  uint32 // the state that led to it
	by    uint32 // which of its causes did
}

// slotOf is what stands for a state in the index: its number and 1, and the upper half
// of its hash, which tells where it stands in an index of any size. An empty slot is 0.
func slotOf(n uint32, h uint64) uint64 { return uint64(n+1)<<32 | h>>32 }

// firstIndex is how many slots there are at first.
const firstIndex = 1 << 10

// NewStates keeps no state yet.
func NewStates() *States { return statesOf(&shapes{numbers: map[string]uint32{}}) }

// Aside keeps no state yet, and numbers shapes as t does.
func (t *States) Aside() *States { return statesOf(t.shapes) }

func statesOf(s *shapes) *States {
	t := &States{shapes: s}
	t.index.Store(new(make([]atomic.Uint64, firstIndex)))
	return t
}

// Len is how many states there are.
func (t *States) Len() int { return t.states.len() }

// Shape is the number of a state's shape.
func (t *States) Shape(n uint32) uint32 { return t.states.at(n).shape }

// From is the state that led to a state first, and by which of its causes; of the
// first state 0 and 0.
func (t *States) From(n uint32) (state uint32, by int) {
	s := t.states.at(n)
	return s.from, int(s.by)
}

// Bytes is about how much memory the states take.
func (t *States) Bytes() int {
	return t.shapes.bytes() + t.cells.bytes() + 8*len(*t.index.Load()) + 16*t.Len()
}

// Of gives the shape and a copy of the cells of a state.
func (t *States) Of(n uint32) (shape uint32, cells []uint32) { return t.Into(nil, n) }

// Into is the same, with the cells in the room given, if they fit.
func (t *States) Into(room []uint32, n uint32) (shape uint32, cells []uint32) {
	s := t.states.at(n)
	width := t.of(s.shape).width
	return s.shape, t.cells.get(s.cells, slices.Grow(room[:0], width)[:width])
}

// LookUp is the number of a state, or false where it was not found.
func (t *States) LookUp(s engine.State) (uint32, bool) {
	shape, ok := t.ShapeOf(s.Shape)
	if !ok {
		return 0, false
	}
	cells := s.Cells
	if groups := t.Groups(shape); len(groups) > 0 {
		cells = slices.Clone(cells)
		Order(groups, cells)
	}
	return t.Find(shape, cells, Hash(shape, cells))
}

// Hash is the sum of what each cell adds, so that the hash of a state that
// differs in few cells takes no more than these.
func Hash(shape uint32, cells []uint32) uint64 {
	h := uint64(shape) * 0x9e3779b97f4a7c15
	for i, c := range cells {
		h += Mix(i, c)
	}
	return h
}

// Mix is what a cell adds to the hash (the finalizer of MurmurHash3, which is
// in the public domain).
func Mix(i int, c uint32) uint64 {
	h := uint64(i)<<32 + uint64(c) + 0x9e3779b97f4a7c15
	h = (h ^ h>>33) * 0xff51afd7ed558ccd
	h = (h ^ h>>33) * 0xc4ceb9fe1a85ec53
	return h ^ h>>33
}

// Find is the number of a state, or false where it was not found before.
func (t *States) Find(shape uint32, cells []uint32, h uint64) (uint32, bool) {
	index := *t.index.Load()
	mask := uint64(len(index) - 1)
	for at := h >> 32 & mask; ; at = (at + 1) & mask {
		s := index[at].Load()
		if s == 0 {
			return 0, false
		}
		if n := uint32(s>>32) - 1; uint32(s) == uint32(h>>32) && t.same(n, shape, cells) {
			return n, true
		}
	}
}

func (t *States) same(n, shape uint32, cells []uint32) bool {
	s := t.states.at(n)
	return s.shape == shape && t.cells.same(s.cells, cells)
}

// Add keeps a state that was not found before.
func (t *States) Add(shape uint32, cells []uint32, h uint64, from uint32, by int) uint32 {
	n := uint32(t.Len())
	t.states.add(visited{shape, t.cells.add(cells), from, uint32(by)})
	index := *t.index.Load()
	if 4*t.Len() > 3*len(index) {
		larger := make([]atomic.Uint64, 2*len(index))
		for i := range index {
			if s := index[i].Load(); s != 0 {
				put(larger, s)
			}
		}
		t.index.Store(&larger)
		index = larger
	}
	put(index, slotOf(n, h))
	return n
}

func put(index []atomic.Uint64, slot uint64) {
	mask := uint64(len(index) - 1)
	at := slot & mask // the upper half of the hash, since the mask has at most 32 bits
	for index[at].Load() != 0 {
		at = (at + 1) & mask
	}
	index[at].Store(slot)
}

// Path are the causes that lead from the start to a state.
func (t *States) Path(n uint32) []int {
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
