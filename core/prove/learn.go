package prove

import (
	"fmt"
	"slices"
	"sort"

	"lien/core/engine"
	"lien/core/finding"
	"lien/core/types"
	"lien/core/value"
)

// mostCells is how many cells are compared with each other, since their pairs
// are many more.
const mostCells = 150

// column is a cell that is there in every state, with its value in each.
type column struct {
	name   engine.CellName
	values []uint32
	set    map[uint32]bool
}

// learn tells what was true in every state that was visited, though no law
// says so: signs of state that is held twice, or for nothing.
func (p *prover) learn() []string {
	var list []string
	for _, x := range p.searches {
		if max(x.states(), x.all) < 3 {
			continue
		}
		columns := x.columns()
		for _, c := range columns {
			list = append(list, x.still(c)...)
		}
		list = append(list, x.together(columns)...)
	}
	sort.Strings(list)
	return slices.Compact(list)
}

func (c *column) String() string { return c.name.Path + "." + c.name.Member.Label }

// columns are the cells that are there in every state.
func (x *search) columns() []*column {
	at := map[engine.CellName]int{} // by place in the list
	var list []*column
	names := make([][]int, len(x.table.widths)) // by shape and place: which column
	for shape, own := range x.names() {
		for _, n := range own {
			if _, ok := at[n]; !ok {
				at[n] = len(list)
				list = append(list, &column{name: n, set: map[uint32]bool{}})
			}
			names[shape] = append(names[shape], at[n])
		}
	}
	for n := range x.table.len() {
		shape, cells := x.table.of(uint32(n))
		for i, v := range cells {
			if x.only != nil && !x.only[int32(i)] {
				continue
			}
			if c := list[names[shape][i]]; len(c.values) == n {
				c.values = append(c.values, v)
				c.set[v] = true
			}
		}
	}
	return slices.DeleteFunc(list, func(c *column) bool {
		return len(c.values) < x.table.len() || c.name.Member == nil || !c.name.Member.IsCell() ||
			x.alike != nil && x.p.alike.inside[c.name.Member.Owner] // it stands for others, too
	})
}

// still tells of cells that never change, and of values that never occur.
func (x *search) still(c *column) []string {
	n := x.counted()
	if len(c.set) == 1 {
		return []string{fmt.Sprintf("%s is %s in all of %s", c, value.Brief(x.p.pool.Value(c.values[0]), 40), n)}
	}
	var out []string
	for _, v := range literals(c.name.Member.Type()) {
		if !c.set[x.p.pool.Number(v)] {
			out = append(out, fmt.Sprintf("%s is %s in none of %s", c, value.Brief(v, 40), n))
		}
	}
	return out
}

// counted is how many states were visited, with those of other parts.
func (x *search) counted() string { return finding.Count(max(x.states(), x.all), "state") }

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

// names are the cells of every shape, by its number.
func (x *search) names() [][]engine.CellName {
	list := make([][]engine.CellName, len(x.table.widths))
	for s, n := range x.table.shapes {
		list[n] = x.called[s]
	}
	return list
}
