package explore

import (
	"slices"

	"lien/core/engine"
)

// Order brings the parts of every group into the order of their cells, and
// says whether this changed anything: states that differ by an exchange become
// one.
func Order(groups []engine.Group, cells []uint32) bool {
	changed := false
	for _, g := range groups {
		part := func(i int) []uint32 { return cells[g.Starts[i] : g.Starts[i]+g.Cells] }
		for i := 1; i < len(g.Starts); i++ {
			for j := i; j > 0 && slices.Compare(part(j), part(j-1)) < 0; j-- {
				a, b := part(j), part(j-1)
				for k := range a {
					a[k], b[k] = b[k], a[k]
				}
				changed = true
			}
		}
	}
	return changed
}
