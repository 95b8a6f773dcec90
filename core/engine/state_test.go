package engine

import (
	"math/rand/v2"
	"slices"
	"testing"

	"lien/core/design"
	"lien/core/value"
)

// picture is all that is known of a moment: the page, what waits, the state.
type picture struct {
	mark             int
	page, rest, form string
	cells            []uint32
}

func pictureOf(e *Engine, r *Reader) picture {
	s := r.Read()
	return picture{e.Mark(), snapshot(e), lives(e), s.Shape, slices.Clone(s.Cells)}
}

func (p *picture) same(o picture) bool {
	return p.page == o.page && p.rest == o.rest && p.form == o.form && slices.Equal(p.cells, o.cells)
}

// TestRewind goes to and fro on every example, to any earlier moment. Going
// back leads to what was there; going on from scratch leads to the same as
// going on after all the detours.
func TestRewind(t *testing.T) {
	for name, d := range examples(t) {
		for seed := range uint64(2) {
			wander(t, name, d, d.Starts[int(seed)%len(d.Starts)], rand.New(rand.NewPCG(seed, 7)))
		}
	}
}

func wander(t *testing.T, name string, d *design.Design, start *design.Start, random *rand.Rand) {
	t.Helper()
	pool := value.NewPool()
	e := New(d)
	e.Keep()
	if _, err := e.Mount(start); err != nil {
		t.Fatalf("%s: %v", name, err)
	}
	r := NewReader(e, pool, Reading{})
	moments, way := []picture{pictureOf(e, r)}, []int{}
	for range 30 {
		if n := random.IntN(3 * len(moments)); n < len(moments) {
			e.Rewind(moments[n].mark)
			moments, way = moments[:n+1], way[:n]
			if back := pictureOf(e, r); !back.same(moments[n]) {
				t.Fatalf("%s: back at step %d the page was\n%s\n%s\nand is\n%s\n%s", name, n, moments[n].page, moments[n].rest, back.page, back.rest)
			}
		}
		list := e.Causes(nil)
		if len(list) == 0 {
			continue
		}
		at := random.IntN(len(list))
		e.Do(&list[at])
		if err := consistent(e); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		moments, way = append(moments, pictureOf(e, r)), append(way, at)
		if straight := straightTo(d, start, way, pool); !straight.same(moments[len(moments)-1]) {
			t.Fatalf("%s: after detours the page is\n%s\n%s\nwithout them\n%s\n%s", name, moments[len(moments)-1].page, moments[len(moments)-1].rest, straight.page, straight.rest)
		}
	}
}

// straightTo takes the same way on a new engine.
func straightTo(d *design.Design, start *design.Start, way []int, pool *value.Pool) picture {
	e := New(d)
	e.Mount(start)
	for _, at := range way {
		list := e.Causes(nil)
		e.Do(&list[at])
	}
	return pictureOf(e, NewReader(e, pool, Reading{}))
}
