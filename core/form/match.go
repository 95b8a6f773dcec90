package form

import (
	"slices"
	"sort"

	"lien/core/value"
)

func sortAttrs(n *node) {
	sort.SliceStable(n.attrs, func(i, j int) bool {
		a, b := n.attrs[i], n.attrs[j]
		return a.kind < b.kind || a.kind == b.kind && a.name < b.name
	})
	sort.Strings(n.classes)
}

// matcher finds what of one form is what of the other: cells, timers, elements, items, one to one.
type matcher struct {
	with   map[any]any // of the first form, what it is in the second
	back   map[any]any
	equal  map[[2]*term]bool
	bodies [][2]*body // that are to be compared, once the page is
}

func newMatcher() *matcher {
	return &matcher{with: map[any]any{}, back: map[any]any{}, equal: map[[2]*term]bool{}}
}

// pair makes two things one, or says that they cannot be.
func (m *matcher) pair(a, b any) bool {
	x, known := m.with[a]
	y, back := m.back[b]
	if known || back {
		return known && back && x == b && y == a
	}
	m.with[a], m.back[b] = b, a
	return true
}

func (m *matcher) sameBlock(a, b *block) bool {
	return m.pair(a, b) && m.sameNodes(a.nodes, b.nodes)
}

func (m *matcher) sameNodes(a, b []*node) bool {
	return len(a) == len(b) && !slices.ContainsFunc(indexes(len(a)), func(k int) bool { return !m.sameNode(a[k], b[k]) })
}

func indexes(n int) []int {
	list := make([]int, n)
	for k := range list {
		list[k] = k
	}
	return list
}

func (m *matcher) sameNode(a, b *node) bool {
	if a.kind != b.kind || a.tag != b.tag || !slices.Equal(a.classes, b.classes) || len(a.attrs) != len(b.attrs) || len(a.handlers) != len(b.handlers) ||
		len(a.conds) != len(b.conds) || len(a.blocks) != len(b.blocks) {
		return false
	}
	if a.item != nil && !(m.pair(a.item, b.item) && m.pair(a.index, b.index)) {
		return false
	}
	if a.name != nil && b.name != nil && !m.pair(a.name, b.name) {
		return false
	}
	if !m.same(a.term, b.term) || !m.same(a.by, b.by) {
		return false
	}
	for k := range a.attrs {
		x, y := a.attrs[k], b.attrs[k]
		if x.kind != y.kind || x.name != y.name || !m.same(x.term, y.term) || x.place != nil && !m.samePlace(*x.place, *y.place) {
			return false
		}
	}
	for k := range a.handlers {
		if a.handlers[k].event != b.handlers[k].event {
			return false
		}
		m.bodies = append(m.bodies, [2]*body{a.handlers[k].body, b.handlers[k].body})
	}
	if a.body != nil || b.body != nil {
		m.bodies = append(m.bodies, [2]*body{a.body, b.body})
	}
	for k := range a.conds {
		if !m.same(a.conds[k], b.conds[k]) {
			return false
		}
	}
	for k := range a.blocks {
		if a.kind == "element" {
			if !m.sameNodes(a.blocks[k].nodes, b.blocks[k].nodes) {
				return false
			}
		} else if !m.sameBlock(a.blocks[k], b.blocks[k]) {
			return false
		}
	}
	return true
}

func (m *matcher) samePlace(a, b place) bool {
	if len(a.steps) != len(b.steps) || !m.sameCell(a.cell, b.cell) {
		return false
	}
	for k := range a.steps {
		if a.steps[k].field != b.steps[k].field || !m.same(a.steps[k].index, b.steps[k].index) {
			return false
		}
	}
	return true
}

// sameCell makes two cells one, if they begin alike and come and go together.
func (m *matcher) sameCell(a, b *cell) bool {
	if m.with[a] == any(b) {
		return true
	}
	if !m.pair(a, b) || !m.sameScope(a.scope, b.scope) {
		return false
	}
	return m.same(a.init, b.init)
}

// sameScope says whether two blocks are one. The page's own blocks are paired as it is compared.
func (m *matcher) sameScope(a, b *block) bool {
	if x, ok := m.with[a]; ok {
		return x == any(b)
	}
	return false
}

func (m *matcher) sameTimer(a, b *timer) bool {
	if m.with[a] == any(b) {
		return true
	}
	if a.every != b.every || len(a.params) != len(b.params) || !m.pair(a, b) || !m.sameScope(a.scope, b.scope) {
		return false
	}
	for k := range a.params {
		if !m.pair(a.params[k], b.params[k]) {
			return false
		}
	}
	m.bodies = append(m.bodies, [2]*body{a.body, b.body})
	return m.same(a.delay, b.delay)
}

// same compares two values in symbols.
func (m *matcher) same(a, b *term) bool {
	if a == nil || b == nil {
		return a == b
	}
	if m.equal[[2]*term{a, b}] {
		return true
	}
	if a.op != b.op || len(a.kids) != len(b.kids) || (a.val == nil) != (b.val == nil) || a.val != nil && !value.Equal(a.val, b.val) {
		return false
	}
	if !m.sameSymbol(a, b) {
		return false
	}
	if a.op == "=>" { // what it names is its own
		return m.sameLambda(a, b)
	}
	for k := range a.kids {
		if !m.same(a.kids[k], b.kids[k]) {
			return false
		}
	}
	m.equal[[2]*term{a, b}] = true
	return true
}

func (m *matcher) sameLambda(a, b *term) bool {
	last := len(a.kids) - 1
	saved := map[any]any{}
	for k := range last {
		saved[a.kids[k].sym], saved[b.kids[k].sym] = m.with[a.kids[k].sym], m.back[b.kids[k].sym]
		m.with[a.kids[k].sym], m.back[b.kids[k].sym] = b.kids[k].sym, a.kids[k].sym
	}
	is := m.same(a.kids[last], b.kids[last])
	for k := range last {
		restore(m.with, a.kids[k].sym, saved[a.kids[k].sym])
		restore(m.back, b.kids[k].sym, saved[b.kids[k].sym])
	}
	return is
}

func restore(to map[any]any, key, was any) {
	if was == nil {
		delete(to, key)
		return
	}
	to[key] = was
}

func (m *matcher) sameSymbol(a, b *term) bool {
	switch x := a.sym.(type) {
	case nil:
		return b.sym == nil
	case *cell:
		y, ok := b.sym.(*cell)
		return ok && m.sameCell(x, y)
	case *timer:
		y, ok := b.sym.(*timer)
		return ok && m.sameTimer(x, y)
	case *name:
		y, ok := b.sym.(*name)
		return ok && m.with[x] == any(y)
	case *binder:
		y, ok := b.sym.(*binder)
		return ok && m.with[x] == any(y)
	}
	return false
}

// sameBodies compares what is done, once it is known which elements are one.
func (m *matcher) sameBodies() bool {
	for len(m.bodies) > 0 {
		p := m.bodies[0]
		m.bodies = m.bodies[1:]
		if !m.sameBody(p[0], p[1]) {
			return false
		}
	}
	return true
}

func (m *matcher) sameBody(a, b *body) bool {
	if a == nil || b == nil {
		return a == b
	}
	if len(a.params) != len(b.params) { // one of them may not name what its event carries
		if min(len(a.params), len(b.params)) > 0 {
			return false
		}
	} else {
		for k := range a.params {
			if !m.pair(a.params[k], b.params[k]) {
				return false
			}
		}
	}
	if len(a.does) != len(b.does) {
		return false
	}
	for k := range a.does {
		if !m.sameEffect(a.does[k], b.does[k]) {
			return false
		}
	}
	return m.sameEnds(a.ends, b.ends)
}

func (m *matcher) sameEffect(a, b *effect) bool {
	if a.op != b.op || len(a.terms) != len(b.terms) || len(a.bodies) != len(b.bodies) || (a.page == nil) != (b.page == nil) {
		return false
	}
	if x, ok := a.sym.(*timer); ok {
		if y, ok := b.sym.(*timer); !ok || !m.sameTimer(x, y) {
			return false
		}
	}
	for k := range a.terms {
		if !m.same(a.terms[k], b.terms[k]) {
			return false
		}
	}
	for k := range a.bodies {
		if !m.sameBody(a.bodies[k], b.bodies[k]) {
			return false
		}
	}
	return m.sameEnds(a.held, b.held) && (a.page == nil || m.sameBlock(a.page, b.page))
}

// sameEnds compares what cells hold at the end: those that are one already first, the others in their order.
func (m *matcher) sameEnds(a, b []change) bool {
	if len(a) != len(b) {
		return false
	}
	left := slices.Clone(b)
	var open []change
	for _, x := range a {
		k := slices.IndexFunc(left, func(y change) bool { return m.with[x.cell] == any(y.cell) })
		if k < 0 {
			open = append(open, x)
			continue
		}
		if !m.same(x.is, left[k].is) {
			return false
		}
		left = slices.Delete(left, k, k+1)
	}
	for k, x := range open {
		if !m.sameCell(x.cell, left[k].cell) || !m.same(x.is, left[k].is) {
			return false
		}
	}
	return true
}
