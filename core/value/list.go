package value

// List is a sequence kept as a tree of leaves with up to 32 items. Replacing
// one item copies one path of the tree and shares the rest.
type List struct {
	n     int
	depth int // levels of inner nodes above the leaves
	root  *node
	seat  *seat
	own   uint64 // of a watched list: the items that were replaced since
	parts int32
}

const (
	bits = 5
	wide = 1 << bits
)

type node struct {
	kids []*node // inner
	leaf []Value
}

// Empty is the list without items.
var Empty = &List{root: &node{}, parts: 1}

// NewList is a list of the items; it keeps the slice.
func NewList(items []Value) *List {
	if len(items) == 0 {
		return Empty
	}
	var level []*node
	for i := 0; i < len(items); i += wide {
		level = append(level, &node{leaf: items[i:min(i+wide, len(items)):min(i+wide, len(items))]})
	}
	return treeOf(level, len(items), partsOf(items))
}

// treeOf builds the inner nodes above full leaves, of which only the last may be short.
func treeOf(level []*node, n int, parts int32) *List {
	depth := 0
	for len(level) > 1 {
		var up []*node
		for i := 0; i < len(level); i += wide {
			up = append(up, &node{kids: level[i:min(i+wide, len(level))]})
		}
		level = up
		depth++
	}
	return &List{n: n, depth: depth, root: level[0], parts: parts}
}

// Len is the number of items.
func (l *List) Len() int { return l.n }

// At is item i, which must be there.
func (l *List) At(i int) Value {
	l.tell(i)
	n := l.root
	for d := l.depth; d > 0; d-- {
		n = n.kids[i>>(bits*d)&(wide-1)]
	}
	return n.leaf[i&(wide-1)]
}

// With is the list with item i, which must be there, replaced.
func (l *List) With(i int, v Value) *List {
	root, was := replaced(l.root, l.depth, i, v)
	return &List{l.n, l.depth, root, l.seat, l.own | 1<<i, most(int(l.parts) + Parts(v) - Parts(was))}
}

// tell tells who watches that item i is read.
func (l *List) tell(i int) {
	if l.seat != nil {
		l.seat.tell(i, l.own)
	}
}

// replaced is a tree with item i replaced, and what it was.
func replaced(n *node, depth, i int, v Value) (is *node, was Value) {
	at := i >> (bits * depth) & (wide - 1)
	if depth == 0 {
		leaf := append([]Value(nil), n.leaf...)
		was, leaf[at] = leaf[at], v
		return &node{leaf: leaf}, was
	}
	kids := append([]*node(nil), n.kids...)
	kids[at], was = replaced(kids[at], depth-1, i, v)
	return &node{kids: kids}, was
}

// Items are all items; the slice must not be changed.
func (l *List) Items() []Value {
	if l.seat != nil {
		for i := range l.n {
			l.tell(i)
		}
	}
	return l.items()
}

// items are all items, unnoticed by who watches.
func (l *List) items() []Value {
	if l.depth == 0 {
		return l.root.leaf
	}
	items := make([]Value, 0, l.n)
	l.leaves(func(leaf []Value) { items = append(items, leaf...) })
	return items
}

func (l *List) leaves(visit func([]Value)) {
	var walk func(n *node, depth int)
	walk = func(n *node, depth int) {
		if depth == 0 {
			visit(n.leaf)
			return
		}
		for _, k := range n.kids {
			walk(k, depth-1)
		}
	}
	walk(l.root, l.depth)
}

// Map is the list of f's results. Leaves in which nothing changes are shared.
func (l *List) Map(f func(i int, v Value) Value) *List {
	if l.n == 0 {
		return l
	}
	var level []*node
	i, changed, parts := 0, false, int(l.parts)
	var walk func(n *node, depth int)
	walk = func(n *node, depth int) {
		for _, k := range n.kids {
			walk(k, depth-1)
		}
		if depth > 0 {
			return
		}
		out := n
		for j, v := range n.leaf {
			l.tell(i)
			w := f(i, v)
			i++
			if w == v {
				continue
			}
			parts += Parts(w) - Parts(v)
			if out == n {
				out = &node{leaf: append([]Value(nil), n.leaf...)}
				changed = true
			}
			out.leaf[j] = w
		}
		level = append(level, out)
	}
	walk(l.root, l.depth)
	if !changed {
		return l
	}
	return treeOf(level, l.n, most(parts))
}

// Changes visits the places in which two lists of the same length differ,
// without entering the parts they share, and stops when visit says false. It
// reports false where the lists differ in length.
func (l *List) Changes(o *List, visit func(i int, was, is Value) bool) bool {
	if l.n != o.n || l.depth != o.depth {
		return false
	}
	return l.root == o.root || l.root.changes(o.root, l.depth, 0, visit)
}

// changes visits the items in which two trees of the same shape differ, the first of which is item base.
func (n *node) changes(o *node, depth, base int, visit func(i int, was, is Value) bool) bool {
	for i, was := range n.leaf {
		if is := o.leaf[i]; was != is && !visit(base+i, was, is) {
			return false
		}
	}
	for i, was := range n.kids {
		if is := o.kids[i]; was != is && !was.changes(is, depth-1, base+i<<(bits*depth), visit) {
			return false
		}
	}
	return true
}

func (l *List) equal(o *List) bool {
	same := true
	ok := l.Changes(o, func(_ int, was, is Value) bool {
		same = Equal(was, is)
		return same
	})
	return ok && same
}
