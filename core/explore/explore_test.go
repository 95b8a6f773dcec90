package explore

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"runtime/debug"
	"slices"
	"testing"

	"lien/core/engine"
)

// TestStates: what is added is found again, with the way to it.
func TestStates(t *testing.T) {
	x := NewStates()
	shape := x.AddShape(engine.State{Shape: "one", Cells: []uint32{0, 0, 0}}, nil)
	random := rand.New(rand.NewPCG(1, 2))
	known := map[[3]uint32]uint32{}
	for range 5000 {
		c := [3]uint32{random.Uint32N(30), random.Uint32N(30), random.Uint32N(9)}
		n, ok := x.Find(shape, c[:], Hash(shape, c[:]))
		if was, there := known[c]; there != ok || ok && was != n {
			t.Fatalf("%v: found %v as %d, want %v as %d", c, ok, n, there, was)
		}
		if !ok {
			from := uint32(0)
			if x.Len() > 0 {
				from = random.Uint32N(uint32(x.Len()))
			}
			known[c] = x.Add(shape, c[:], Hash(shape, c[:]), from, int(n%7))
		}
	}
	for n := range x.Len() {
		if way := x.Path(uint32(n)); n > 0 && len(way) != len(x.Path(x.states.at(uint32(n)).from))+1 {
			t.Fatalf("the way to %d is %v", n, way)
		}
	}
	if _, ok := x.Find(shape+1, []uint32{1, 1, 1}, Hash(shape+1, []uint32{1, 1, 1})); ok {
		t.Error("a state of another shape is found")
	}
}

// TestHashMoves: the hash of a state that differs in some cells can be told
// from these.
func TestHashMoves(t *testing.T) {
	a, b := []uint32{3, 1, 4, 1, 5}, []uint32{3, 2, 4, 1, 6}
	h := Hash(7, a)
	for i := range a {
		h += Mix(i, b[i]) - Mix(i, a[i])
	}
	if h != Hash(7, b) || h == Hash(7, a) || Hash(8, b) == h {
		t.Errorf("%x, %x, %x", h, Hash(7, b), Hash(7, a))
	}
}

// TestMemory: a result is found wherever the cells are the same that it
// depends on, and forgotten if it never comes again.
func TestMemory(t *testing.T) {
	var m Memory[string]
	m.Keep([]int32{0, 2}, []uint32{1, 9, 3}, "a")
	m.Keep([]int32{1}, []uint32{1, 8, 4}, "b")
	for _, c := range []struct {
		cells []uint32
		want  string
	}{{[]uint32{1, 5, 3}, "a"}, {[]uint32{1, 9, 4}, ""}, {[]uint32{7, 8, 7}, "b"}} {
		if got, ok := m.Find(c.cells); got != c.want || ok != (c.want != "") {
			t.Errorf("%v: %q", c.cells, got)
		}
	}
	var spent Memory[int]
	for i := range firstKept + 1 {
		spent.Keep([]int32{0}, []uint32{uint32(i)}, i)
	}
	if _, ok := spent.Find([]uint32{5}); ok || !spent.spent {
		t.Error("what never comes again is remembered for ever")
	}
}

// TestStore: lists of numbers of every size are kept as they are.
func TestStore(t *testing.T) {
	var s store
	random := rand.New(rand.NewPCG(3, 4))
	var lists [][]uint32
	var at []uint32
	for i := range 20_000 {
		list := make([]uint32, i%37)
		for j := range list {
			list[j] = random.Uint32() >> random.UintN(32)
		}
		lists, at = append(lists, list), append(at, s.add(list))
	}
	for i, list := range lists {
		if got := s.get(at[i], make([]uint32, len(list))); !slices.Equal(got, list) || !s.same(at[i], list) {
			t.Fatalf("list %d is %v, want %v", i, got, list)
		}
		if len(list) > 0 {
			list[len(list)-1]++
			if s.same(at[i], list) {
				t.Fatalf("list %d is the same as another one", i)
			}
		}
	}
	if s.bytes() > 4*37*20_000 {
		t.Errorf("it takes %d bytes", s.bytes())
	}
}

// TestCountsInWords: what a count says where it is small, and where it is a power.
func TestCountsInWords(t *testing.T) {
	big := Few(1)
	for range 80 {
		big = big.Times(Few(2))
	}
	three := Few(1)
	for range 50 {
		three = three.Times(Few(3))
	}
	for _, c := range []struct {
		count           Count
		says, of, wrote string
	}{
		{Few(0), "0", "0 states", "0"},
		{Few(1), "1", "1 state", "1"},
		{Few(12), "12", "12 states", "12"},
		{Few(math.MaxInt), "9223372036854775807", "9223372036854775807 states", "9223372036854775807"},
		{Few(math.MaxInt).Plus(Few(1)), "2^63", "2^63 states", `"2^63"`},
		{big, "2^80", "2^80 states", `"2^80"`},
		{big.Plus(big), "2^81", "2^81 states", `"2^81"`},
		{big.Plus(Few(1)), "2^80", "2^80 states", `"2^80"`},
		{big.Times(big), "2^160", "2^160 states", `"2^160"`},
		{big.Times(Few(0)), "0", "0 states", "0"},
		{three, "2^79.2", "2^79.2 states", `"2^79.2"`},
	} {
		wrote, err := json.Marshal(c.count)
		if c.count.String() != c.says || c.count.Of("state") != c.of || string(wrote) != c.wrote || err != nil {
			t.Errorf("%v: %s, %s, %s, want %s, %s, %s", c.count, c.count, c.count.Of("state"), wrote, c.says, c.of, c.wrote)
		}
	}
}

// TestAside: states kept aside number their shapes as the others do, and know
// nothing else of them.
func TestAside(t *testing.T) {
	x := NewStates()
	one := x.AddShape(engine.State{Shape: "one", Cells: []uint32{0}}, nil)
	x.Add(one, []uint32{5}, Hash(one, []uint32{5}), 0, 0)
	y := x.Aside()
	two := y.AddShape(engine.State{Shape: "two", Cells: []uint32{0, 0}}, []engine.Group{{Starts: []int{0, 1}, Cells: 1}})
	if n, ok := x.ShapeOf("two"); !ok || n != two || y.Len() != 0 || !x.AnySymmetric() || len(x.Groups(one)) > 0 || len(x.Groups(two)) != 1 {
		t.Errorf("shape %d, %v; %d states", n, ok, y.Len())
	}
	if got := x.Shapes(); !slices.Equal(got, []string{"one", "two"}) {
		t.Errorf("the shapes are %q", got)
	}
	if _, ok := y.LookUp(engine.State{Shape: "one", Cells: []uint32{5}}); ok {
		t.Error("a state of the others is found")
	}
	n := y.Add(two, []uint32{1, 2}, Hash(two, []uint32{1, 2}), 0, 3)
	for _, cells := range [][]uint32{{1, 2}, {2, 1}} {
		if got, ok := y.LookUp(engine.State{Shape: "two", Cells: cells}); !ok || got != n {
			t.Errorf("%v is %d, %v", cells, got, ok)
		}
	}
	if from, by := y.From(n); from != 0 || by != 3 || y.Shape(n) != two {
		t.Errorf("it comes from %d by %d", from, by)
	}
}

// TestOrder: states that differ by an exchange of what is alike become one, and no
// others do.
func TestOrder(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 8))
	groups := []engine.Group{{Starts: []int{1, 3, 5}, Cells: 2}}
	for range 500 {
		cells := make([]uint32, 8)
		for i := range cells {
			cells[i] = random.Uint32N(3)
		}
		once := slices.Clone(cells)
		moved := Order(groups, once)
		if moved == slices.Equal(once, cells) || Order(groups, slices.Clone(once)) || once[0] != cells[0] || once[7] != cells[7] {
			t.Fatalf("%v becomes %v, moved %v", cells, once, moved)
		}
		other := slices.Clone(cells)
		copy(other[1:3], cells[5:7])
		copy(other[5:7], cells[1:3])
		if Order(groups, other); !slices.Equal(other, once) {
			t.Fatalf("exchanged, %v becomes %v, not %v", cells, other, once)
		}
		other = slices.Clone(once)
		other[2] += 3
		if Order(groups, other); slices.Equal(other, once) {
			t.Fatalf("%v and another are one", once)
		}
	}
}

// TestPages: values stay where they are when there are more of them.
func TestPages(t *testing.T) {
	var p pages[int]
	var first *int
	for i := range 3*pageSize + 7 {
		if p.len() != i {
			t.Fatalf("%d values, want %d", p.len(), i)
		}
		p.add(i * i)
		if i == pageSize {
			first = p.at(0)
		}
	}
	for i := range 3*pageSize + 7 {
		if *p.at(uint32(i)) != i*i {
			t.Fatalf("value %d is %d", i, *p.at(uint32(i)))
		}
	}
	if p.at(0) != first {
		t.Error("the first page was moved")
	}
}

// TestHeap: the more lives, the less garbage may be beside it; and what was set
// before is set again.
func TestHeap(t *testing.T) {
	before := debug.SetGCPercent(123)
	defer debug.SetGCPercent(before)
	restore := LimitMemory(500 << 20)
	if limit := debug.SetMemoryLimit(-1); limit != 500<<20-program {
		t.Errorf("the heap is kept to %d bytes", limit)
	}
	last := 401
	for _, live := range []uint64{0, 1 << 20, 20 << 20, 60 << 20, 128 << 20, 4 << 30} {
		CollectBy(live)
		percent := debug.SetGCPercent(100)
		debug.SetGCPercent(percent)
		if percent > last || percent < leastLive || uint64(percent)*live/100 > max(slack, live*leastLive/100) {
			t.Errorf("beside %d MB there may be %d%% of garbage", live>>20, percent)
		}
		last = percent
	}
	if last != leastLive {
		t.Errorf("beside much there may be %d%%", last)
	}
	restore()
	if percent := debug.SetGCPercent(100); percent != 123 {
		t.Errorf("%d%% is set afterwards", percent)
	}
	if HeapFor(0) != leastHeap || HeapFor(1<<30) != 1<<30-program {
		t.Errorf("%d and %d bytes are for the heap", HeapFor(0), HeapFor(1<<30))
	}
	if live, round := Heap(); live == 0 && round > 0 {
		t.Error("nothing lives")
	}
}
