package explore

import (
	"slices"
	"sync"
	"sync/atomic"

	"lien/core/engine"
)

// shapes are those of states, by number. One goroutine adds to them while others read.
type shapes struct {
	mu      sync.RWMutex
	numbers map[string]uint32
	spelt   int // bytes that they take, with what is known of each

	known atomic.Pointer[[]shape]
}

// shape is what is known of one.
type shape struct {
	width  int            // how many cells
	groups []engine.Group // the parts that are alike
}

// shapeBytes is about what is kept of a shape besides how it is spelt.
const shapeBytes = 800

func (t *shapes) all() []shape {
	if known := t.known.Load(); known != nil {
		return *known
	}
	return nil
}

func (t *shapes) of(n uint32) *shape { return &(*t.known.Load())[n] }

// Groups are the parts that are alike in states of a shape.
func (t *shapes) Groups(n uint32) []engine.Group { return t.of(n).groups }

// AnySymmetric says whether states of some shape have parts that are alike.
func (t *shapes) AnySymmetric() bool {
	return slices.ContainsFunc(t.all(), func(s shape) bool { return len(s.groups) > 0 })
}

// Shapes are the shapes by number, as states spell them.
func (t *shapes) Shapes() []string {
	t.mu.RLock()
	defer t.mu.RUnlock()
	list := make([]string, len(t.numbers))
	for s, n := range t.numbers {
		list[n] = s
	}
	return list
}

// ShapeOf is the number of a shape, or false where it has none so far.
func (t *shapes) ShapeOf(s string) (uint32, bool) {
	t.mu.RLock()
	defer t.mu.RUnlock()
	n, ok := t.numbers[s]
	return n, ok
}

// AddShape gives a shape a number, unless it has one, with its parts that are alike.
func (t *shapes) AddShape(s engine.State, groups []engine.Group) uint32 {
	t.mu.Lock()
	defer t.mu.Unlock()
	if n, ok := t.numbers[s.Shape]; ok {
		return n
	}
	n := uint32(len(t.numbers))
	t.known.Store(new(append(t.all(), shape{len(s.Cells), groups})))
	t.numbers[s.Shape] = n
	t.spelt += len(s.Shape) + shapeBytes
	return n
}

// bytes is about how much memory they take.
func (t *shapes) bytes() int { return t.spelt }
