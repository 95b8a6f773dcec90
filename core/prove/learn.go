package prove

import (
	"encoding/binary"
	"fmt"
	"slices"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/types"
	"lien/core/value"
)

// mostCells is how many cells are compared with each other, since their pairs
// are many more.
const mostCells = 150

// mostLearned is of how many states it is told what was true in all of them.
const mostLearned = 500_000

// column is a cell that is there in every state, with its value in each.
type column struct {
	name   cellName
	states int      // in which it is there
	values []uint32 // by state, if they are asked for
	set    map[uint32]bool
	low    [4]uint64 // the bits of those below 256, which most are

	several bool // there are others of the same path
	spread  bool // its values are known by their parts
}

// cellName tells which cell of which instance it is: of several whose paths are
// printed alike, which of them.
type cellName struct {
	path   string
	nth    int // from 1 on
	member *design.Member
}

// learn tells what was true in every state that was visited, though no law
// says so: signs of state that is held twice, or for nothing. The clock stands
// still in a proof, so what comes from it tells nothing.
func (p *prover) learn() []string {
	var list []string
	clock := p.flows().Clock()
	for _, x := range p.searches {
		if x.states() < 3 && x.all.N < 3 || x.states() > mostLearned {
			continue
		}
		columns := slices.DeleteFunc(x.columns(true), func(c *column) bool { return clock.Holds(c.name.member) })
		for _, c := range columns {
			list = append(list, x.still(c)...)
		}
		list = append(list, x.together(columns)...)
	}
	list = append(list, p.apart()...)
	sort.Strings(list)
	return slices.Compact(list)
}

// apart tells of cells that some handler sets to the same value, and that differ
// in some state, by the shortest way to one.
func (p *prover) apart() (list []string) {
	twins := flow.TwinsIn(p.d, p.flows().Heard)
	if len(twins) == 0 {
		return nil
	}
	for _, x := range p.searches {
		if x.scope != nil || x.only != nil || x.symmetry != nil {
			continue
		}
		by := map[*design.Member][]*column{}
		for _, c := range x.columns(true) {
			by[c.name.member] = append(by[c.name.member], c)
		}
		for _, t := range twins {
			if a, b := by[t.A], by[t.B]; len(a) == 1 && len(b) == 1 && a[0].spread == b[0].spread {
				if n := x.parts(a[0], b[0]); n > 0 {
					path := p.replay(x, x.Table.Path(uint32(n)))
					list = append(list, fmt.Sprintf("%s and %s are set to the same value (%s), and differ after: %s", a[0], b[0], p.d.Set.Position(t.At.Start), strings.Join(path.Steps, "; ")))
				}
			}
		}
	}
	return list
}

// parts is the first state in which two cells differ that were the same before
// its last step, or 0.
func (x *search) parts(a, b *column) int {
	for n := 1; n < len(a.values); n++ {
		from, _ := x.Table.From(uint32(n))
		if a.values[n] != b.values[n] && a.values[from] == b.values[from] {
			return n
		}
	}
	return 0
}

func (c *column) String() string {
	if c.several {
		return fmt.Sprintf("%s (%s of them).%s", c.name.path, ordinal(c.name.nth), c.name.member.Label)
	}
	return c.name.path + "." + c.name.member.Label
}

// ordinal is a place in a row, in words.
func ordinal(n int) string {
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			return fmt.Sprintf("the %dst", n)
		case 2:
			return fmt.Sprintf("the %dnd", n)
		case 3:
			return fmt.Sprintf("the %drd", n)
		}
	}
	return fmt.Sprintf("the %dth", n)
}

// namesIn are the cells of a shape, by place, and how many instances there are
// of each path.
func namesIn(own []engine.CellName) (names []cellName, of map[string]int) {
	of = map[string]int{}
	last, nth := -1, 0
	for i, n := range own {
		if i == 0 || n.Instance != last {
			of[n.Path]++
			last, nth = n.Instance, of[n.Path]
		}
		names = append(names, cellName{n.Path, nth, n.Member})
	}
	return names, of
}

// columns are the cells that are there in every state. Of instances whose paths
// are printed alike it is known which is which only where there are always as
// many of them. Their values by state take much room where there are many.
func (x *search) columns(values bool) []*column {
	at := map[cellName]*column{}
	var list []*column
	shapes := x.names()
	stretches := make([][]extent, len(shapes)) // by shape
	many := map[string]int{}
	for shape, own := range shapes {
		names, of := namesIn(own)
		for path, n := range of {
			if was, ok := many[path]; ok && was != n {
				n = -1
			}
			many[path] = n
		}
		for i, name := range names {
			if i > 0 && own[i].Part != "" && name == names[i-1] {
				all := stretches[shape]
				all[len(all)-1].to++
				continue
			}
			if at[name] == nil {
				at[name] = &column{name: name, set: map[uint32]bool{}, spread: own[i].Part != ""}
				list = append(list, at[name])
			}
			stretches[shape] = append(stretches[shape], extent{at[name], i, i + 1, own[i].Part != ""})
		}
	}
	spread := map[string]uint32{}
	var shape uint32
	var cells []uint32
	for n := range x.Table.Len() {
		shape, cells = x.Table.Into(cells, uint32(n))
		for _, s := range stretches[shape] {
			if c := s.of; c.states == n && x.holds(s) {
				c.add(s.number(cells, spread), values, x.Table.Len())
			}
		}
	}
	return slices.DeleteFunc(list, func(c *column) bool {
		c.several = many[c.name.path] > 1
		return c.states < x.Table.Len() || c.name.member == nil || !c.name.member.IsCell() || many[c.name.path] < 0 ||
			x.symmetry != nil && x.p.symmetries.inside[c.name.member.Owner] // it stands for others, too
	})
}

// add adds the value in one more of so many states.
func (c *column) add(v uint32, keep bool, most int) {
	if c.states++; keep {
		if c.values == nil {
			c.values = make([]uint32, 0, most)
		}
		c.values = append(c.values, v)
	}
	if v < 64*uint32(len(c.low)) {
		if c.low[v/64]&(1<<(v%64)) != 0 {
			return
		}
		c.low[v/64] |= 1 << (v % 64)
	}
	c.set[v] = true
}

// extent is where a cell stands in the states of a shape.
type extent struct {
	of       *column
	from, to int
	spread   bool // over its parts
}

// holds says whether a cell belongs to the part of the page that was searched.
func (x *search) holds(s extent) bool {
	for i := s.from; i < s.to; i++ {
		if x.only != nil && !x.only[int32(i)] {
			return false
		}
	}
	return true
}

// spreadValue is set in the numbers of values that are spread over places.
const spreadValue = 1 << 31

// number is the number of the cell's value.
func (s extent) number(cells []uint32, spread map[string]uint32) uint32 {
	if !s.spread {
		return cells[s.from]
	}
	key := make([]byte, 0, 4*(s.to-s.from))
	for _, c := range cells[s.from:s.to] {
		key = binary.LittleEndian.AppendUint32(key, c)
	}
	n, ok := spread[string(key)]
	if !ok {
		n = spreadValue + uint32(len(spread))
		spread[string(key)] = n
	}
	return n
}

// still tells of cells that never change, and of values that never occur.
func (x *search) still(c *column) []string {
	n := x.counted()
	if len(c.set) == 1 {
		return []string{fmt.Sprintf("%s is %s in all of %s", c, value.Brief(x.first(c), 40), n)}
	}
	var out []string
	for _, v := range literals(c.name.member.Type()) {
		if !c.set[x.p.pool.Number(v)] {
			out = append(out, fmt.Sprintf("%s is %s in none of %s", c, value.Brief(v, 40), n))
		}
	}
	return out
}

// first is the value of a cell in the first state.
func (x *search) first(c *column) value.Value {
	shape, cells := x.Table.Of(0)
	var parts []value.Value
	own := x.names()[shape]
	names, _ := namesIn(own)
	for i, name := range names {
		if name != c.name {
			continue
		}
		v := x.p.pool.Value(cells[i])
		if own[i].Part == "" {
			return v
		}
		parts = append(parts, v)
	}
	return engine.Assemble(c.name.member, parts)
}

// counted is how many states were visited, with those of other parts.
func (x *search) counted() string {
	if x.all.N > x.states() {
		return x.all.Of("state")
	}
	return finding.Count(x.states(), "state")
}

// literals are the values of a type that has few.
func literals(t types.Type) []value.Value {
	switch t := types.Under(t).(type) {
	case types.Literal:
		return []value.Value{t.Value}
	case *types.Union:
		var list []value.Value
		for _, part := range t.Members {
			l := literals(part)
			if l == nil && part != types.Null {
				return nil
			}
			list = append(list, l...)
		}
		return list
	}
	if t == types.Boolean {
		return []value.Value{value.Bool(false), value.Bool(true)}
	}
	return nil
}

// together tells of cells that are always equal, or that follow from another.
func (x *search) together(list []*column) []string {
	var moving []*column
	for _, c := range list {
		if len(c.set) > 1 && len(moving) < mostCells {
			moving = append(moving, c)
		}
	}
	n := x.counted()
	var out []string
	for i, a := range moving {
		for _, b := range moving[i+1:] {
			ab, ba := follows(a, b), follows(b, a)
			switch {
			case slices.Equal(a.values, b.values):
				out = append(out, fmt.Sprintf("%s and %s are equal in all of %s", a, b, n))
			case ab && ba:
				out = append(out, fmt.Sprintf("%s and %s follow from each other in all of %s", a, b, n))
			case ab:
				out = append(out, fmt.Sprintf("%s follows from %s in all of %s", b, a, n))
			case ba:
				out = append(out, fmt.Sprintf("%s follows from %s in all of %s", a, b, n))
			}
		}
	}
	return out
}

// follows says whether b has one value for each value of a, and a has few
// enough values for that to mean anything.
func follows(a, b *column) bool {
	if 2*len(a.set) > len(a.values) {
		return false
	}
	of := make(map[uint32]uint32, len(a.set))
	for i, v := range a.values {
		if w, ok := of[v]; !ok {
			of[v] = b.values[i]
		} else if w != b.values[i] {
			return false
		}
	}
	return true
}

// sameNames gives the names of the shape before, where they are the same: as
// they are for most, which differ in what is shown.
func (p *prover) sameNames(list []engine.CellName) []engine.CellName {
	if !slices.Equal(p.named, list) {
		p.named = list
	}
	return p.named
}

// names are the cells of every shape, by its number.
func (x *search) names() [][]engine.CellName {
	var list [][]engine.CellName
	for _, s := range x.Table.Shapes() {
		list = append(list, x.called[s])
	}
	return list
}
