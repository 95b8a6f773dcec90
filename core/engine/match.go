package engine

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Many rows that compare one cell with a key of their own (chosen == row.id)
// would all have to be looked at when the cell changes. So a comparison
// depends not on the cell but on a match: a node that says whether the cell
// has one certain value. A write to the cell changes two matches, that of the
// value it had and that of the value it gets.

// matches are the matches of a cell, by the value that they ask for.
type matches struct {
	nodes map[value.Value]*node
	sweep int // how many there may be before unread ones are let go
}

// match is the node that says whether cell n has the value v.
func (n *node) match(v value.Value) *node {
	if n.matches == nil {
		n.matches = &matches{nodes: map[value.Value]*node{}, sweep: 32}
	}
	m := n.matches.nodes[v]
	if m == nil {
		m = &node{val: value.Bool(n.val == v), label: n.label, of: n}
		n.matches.nodes[v] = m
		n.matches.clean(m)
	}
	return m
}

// clean lets go of the matches that nobody reads, other than keep, when
// their number has doubled.
func (ms *matches) clean(keep *node) {
	if len(ms.nodes) < ms.sweep {
		return
	}
	for v, m := range ms.nodes {
		if len(m.subs) == 0 && m != keep {
			delete(ms.nodes, v)
		}
	}
	ms.sweep = max(32, 2*len(ms.nodes))
}

// rematch tells the two matches that a write changes.
func (e *Engine) rematch(n *node, was, is value.Value) {
	if plainKey(was) {
		if m := n.matches.nodes[was]; m != nil {
			e.write(m, value.Bool(false))
		}
	}
	if plainKey(is) {
		if m := n.matches.nodes[is]; m != nil {
			e.write(m, value.Bool(true))
		}
	}
}

// recheckMatches sets the matches right after the cell was set back, those too
// that were made since, and adds the ones that change.
func (n *node) recheckMatches(changed []*node) []*node {
	if n.matches == nil {
		return changed
	}
	for v, m := range n.matches.nodes {
		if is := value.Value(value.Bool(n.val == v)); m.val != is {
			m.val = is
			changed = append(changed, m)
		}
	}
	return changed
}

// plainKey says whether a value equals another only if Go says so.
func plainKey(v value.Value) bool {
	k := v.Kind()
	return k != value.ListKind && k != value.RecordKind
}

// cellEquality compiles cell == x and cell != x, or gives nil where neither
// side is a cell of the component.
func (p *program) cellEquality(x *types.Binary) eval {
	slot, other := cellSlot(x.X), x.Y
	if slot < 0 {
		slot, other = cellSlot(x.Y), x.X
	}
	if slot < 0 {
		return nil
	}
	key := p.expr(other)
	want := value.Value(value.Bool(x.Op == syntax.Equal))
	return func(f *frame) value.Value {
		v := key(f)
		n := &f.inst.values[slot]
		if f.e.observing.node == nil || f.e.past || n.code != nil || !plainKey(v) {
			return value.Bool(value.Value(value.Bool(f.e.equal(f.e.read(n), v))) == want)
		}
		return value.Bool(f.e.read(n.match(v)) == want)
	}
}

// cellSlot is the slot of the cell that an expression is, or -1.
func cellSlot(x types.Expr) int {
	if ref, ok := x.(*types.Ref); ok {
		if m, ok := ref.Symbol.(*design.Member); ok && m.IsCell() {
			return m.Slot
		}
	}
	return -1
}
