package explore

import (
	"slices"

	"lien/core/engine"
)

// States keeps every state that was found, by number: the number of its shape,
// the numbers of its cells, and how it was found. It is read by several goroutines
// at a time, and written by one while nobody reads.
type States struct {
	*shapes

	states pages[visited]
	cells  store

	index []slot // by hash
}

// shapes are those of the states.
type shapes struct {
	numbers map[string]uint32
	spelt   int              // bytes that they take, with what is known of each
	widths  []int            // by number: how many cells
	groups  [][]engine.Group // by number: the parts that are alike
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

// NewStates keeps no state yet.
func NewStates() *States {
	return &States{shapes: &shapes{numbers: map[string]uint32{}}, index: make([]slot, 1<<10)}
}

// Aside keeps no state yet, and numbers shapes as t does.
func (t *States) Aside() *States {
	return &States{shapes: t.shapes, index: make([]slot, 1<<10)}
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

// Groups are the parts that are alike in states of a shape.
func (t *States) Groups(shape uint32) []engine.Group { return t.groups[shape] }

// Shapes are the shapes by number, as states spell them.
func (t *States) Shapes() []string {
	list := make([]string, len(t.widths))
	for s, n := range t.numbers {
		list[n] = s
	}
	return list
}

// Bytes is about how much memory the states take.
func (t *States) Bytes() int {
	return t.spelt + t.cells.bytes() + 8*cap(t.index) + 16*t.Len()
}

// Of gives the shape and a copy of the cells of a state.
func (t *States) Of(n uint32) (shape uint32, cells []uint32) { return t.Into(nil, n) }

// Into is the same, with the cells in the room given, if they fit.
func (t *States) Into(room []uint32, n uint32) (shape uint32, cells []uint32) {
	s := t.states.at(n)
	return s.shape, t.cells.get(s.cells, slices.Grow(room[:0], t.widths[s.shape])[:t.widths[s.shape]])
}

// LookUp is the number of a state, or false where it was not found.
func (t *States) LookUp(s engine.State) (uint32, bool) {
	shape, ok := t.ShapeOf(s.Shape)
	if !ok {
		return 0, false
	}
	cells := s.Cells
	if len(t.groups[shape]) > 0 {
		cells = slices.Clone(cells)
		Order(t.groups[shape], cells)
	}
	return t.Find(shape, cells, Hash(shape, cells))
}

// ShapeOf is the number of a shape, or false where it has none so far.
func (t *States) ShapeOf(s string) (uint32, bool) {
	n, ok := t.numbers[s]
	return n, ok
}

// AddShape gives a shape a number, unless it has one, with its parts that are alike.
func (t *States) AddShape(s engine.State, groups []engine.Group) uint32 {
	if n, ok := t.numbers[s.Shape]; ok {
		return n
	}
	n := uint32(len(t.widths))
	t.numbers[s.Shape] = n
	t.spelt += len(s.Shape) + formBytes
	t.widths = append(t.widths, len(s.Cells))
	t.groups = append(t.groups, groups)
	return n
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

func (t *States) same(n, shape uint32, cells []uint32) bool {
	s := t.states.at(n)
	return s.shape == shape && t.cells.same(s.cells, cells)
}

// Add keeps a state that was not found before.
func (t *States) Add(shape uint32, cells []uint32, h uint64, from uint32, by int) uint32 {
	n := uint32(t.Len())
	t.states.add(visited{shape, t.cells.add(cells), from, uint32(by)})
	if 4*t.Len() > 3*len(t.index) {
		t.grow()
	} else {
		t.put(n, h)
	}
	return n
}

func (t *States) put(n uint32, h uint64) {
	mask := uint64(len(t.index) - 1)
	at := h & mask
	for t.index[at].number != 0 {
		at = (at + 1) & mask
	}
	t.index[at] = slot{n + 1, uint32(h >> 32)}
}

func (t *States) grow() {
	t.index = make([]slot, 2*len(t.index))
	var shape uint32
	var cells []uint32
	for n := range t.Len() {
		shape, cells = t.Into(cells, uint32(n))
		t.put(uint32(n), Hash(shape, cells))
	}
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

// AnySymmetric says whether states of some shape have parts that are alike.
func (t *States) AnySymmetric() bool {
	return slices.ContainsFunc(t.groups, func(g []engine.Group) bool { return len(g) > 0 })
}
