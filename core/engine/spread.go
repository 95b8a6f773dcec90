package engine

import (
	"slices"
	"strconv"

	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// A turn that changes one field of one record in a list depends on few of the
// list's parts. So a cell with a record, or a list of records or plain values,
// may be spread over several places of the state: one for each field of each
// record. While a read tracker looks on such a value is watched.

// mostPlaces is over how many places one cell is spread; a longer list takes one.
const mostPlaces = 128

// layout tells how the values of a cell are spread.
type layout struct {
	list  bool
	names []string // of the fields of a record; nil where items are plain
	width int      // how many places an item takes
}

// layoutOf is how values of a type are spread; nil where they are not. Fields
// that may be missing look different when they are there and null.
func layoutOf(t types.Type) *layout {
	l := &layout{width: 1}
	t = types.Under(t)
	if list, ok := t.(*types.List); ok {
		l.list, t = true, types.Under(list.Elem)
	}
	rec, ok := t.(*types.Record)
	if !ok {
		if l.list && isPlain(t) {
			return l
		}
		return nil
	}
	for _, f := range rec.Fields {
		if f.Optional {
			return nil
		}
		l.names = append(l.names, f.Name)
	}
	l.width = len(l.names)
	if l.width == 0 || l.width > value.MostParts {
		return nil
	}
	return l
}

// isPlain says whether values of a type have no parts.
func isPlain(t types.Type) bool {
	switch t := types.Under(t).(type) {
	case types.Literal:
		return true
	case *types.Union:
		for _, m := range t.Members {
			if !isPlain(m) {
				return false
			}
		}
		return true
	}
	switch t {
	case types.Boolean, types.Number, types.String, types.Null:
		return true
	}
	return false
}

// parts are the values at the places of a cell; false where it is not spread.
// An empty list has a place, too.
func (l *layout) parts(v value.Value) ([]value.Value, bool) {
	if !l.list {
		return l.fields(v, nil)
	}
	list, ok := v.(*value.List)
	if !ok || list.Len() == 0 || list.Len()*l.width > mostPlaces || l.names == nil && list.Len() > value.MostParts {
		return nil, false
	}
	if l.names == nil {
		return list.Items(), true
	}
	out := make([]value.Value, 0, list.Len()*l.width)
	for _, item := range list.Items() {
		if out, ok = l.fields(item, out); !ok {
			return nil, false
		}
	}
	return out, true
}

// fields adds the fields of a record, which must be those of the type.
func (l *layout) fields(v value.Value, out []value.Value) ([]value.Value, bool) {
	r, ok := v.(*value.Record)
	if !ok || len(r.Names) != l.width {
		return nil, false
	}
	for i, name := range l.names {
		if r.Names[i] == name {
			out = append(out, r.At(i))
			continue
		}
		at := slices.Index(r.Names, name)
		if at < 0 {
			return nil, false
		}
		out = append(out, r.At(at))
	}
	return out, true
}

// value is the value with parts.
func (l *layout) value(parts []value.Value) value.Value {
	if l.names == nil {
		return value.NewList(parts)
	}
	if !l.list {
		return value.NewRecord(l.names, parts)
	}
	items := make([]value.Value, len(parts)/l.width)
	for i := range items {
		items[i] = value.NewRecord(l.names, parts[i*l.width:(i+1)*l.width:(i+1)*l.width])
	}
	return value.NewList(items)
}

// spread is a cell that takes several places of the state that was read last.
type spread struct {
	*layout
	node     *node
	first    int32       // its first place
	count    int         // of places
	at       value.Value // what was there when the tracker began
	watchers *watchers   // that watch it
}

// watchers is told of parts that are read, by their places, as long as the state
// that was read last is the one that they were numbered in.
type watchers struct {
	e    *Engine
	past bool
}

// PartRead notes that the part of the value that begins at a place was read:
// for the tracker, and for what is being worked out.
func (s *watchers) PartRead(first, part int, changed bool) {
	if s.past {
		return
	}
	at := int32(first + part)
	if s.e.tracker != nil && !changed {
		s.e.tracker.add(at)
	}
	if n := s.e.observing.node; n != nil && (len(n.parts) == 0 || n.parts[len(n.parts)-1] != at) {
		n.parts = append(n.parts, at)
	}
}

// watched is a value of the cell of which all parts are watched.
func (c *spread) watched(v value.Value, by *watchers) value.Value {
	if !c.list || c.names == nil {
		return c.seated(v, 0, by)
	}
	return v.(*value.List).Map(func(i int, v value.Value) value.Value { return c.seated(v, i, by) })
}

// seated is an item, watched if anybody watches.
func (c *spread) seated(v value.Value, item int, by *watchers) value.Value {
	if by == nil {
		return v
	}
	return value.Watch(v, by, int(c.first)+item*c.width)
}

// changed visits the places at which a value is not the one that was there
// when the tracker began: all of them where the list has another length.
func (c *spread) changed(v value.Value, visit func(place int32)) {
	if !c.list || c.names == nil {
		c.parted(v, c.at, c.first, c.count, visit)
		return
	}
	was, is := c.at.(*value.List), v.(*value.List)
	if was.Len() != is.Len() {
		value.Read(is)
		c.all(visit)
		return
	}
	for i := range was.Len() {
		c.parted(is.At(i), was.At(i), c.first+int32(i*c.width), c.width, visit)
	}
}

// all visits all places of the cell.
func (c *spread) all(visit func(place int32)) {
	for i := range c.count {
		visit(c.first + int32(i))
	}
}

// touches says whether a node is to be worked out again when the cell gets a
// value: not where it read other parts only, of a value made of the same one.
func (c *spread) touches(n *node, v value.Value) bool {
	if n.code == nil || n.code.passes || n.watchers != c.watchers || c.list && c.names != nil {
		return true
	}
	was, ok1 := value.Changed(c.node.val, c.at)
	is, ok2 := value.Changed(v, c.at)
	return !ok1 || !ok2 || slices.ContainsFunc(n.parts, func(at int32) bool {
		part := at - c.first
		return part >= 0 && int(part) < c.count && (was|is)>>part&1 != 0
	})
}

// item visits the places of one item.
func (c *spread) item(i int, visit func(place int32)) {
	for k := range c.width {
		visit(c.first + int32(i*c.width+k))
	}
}

// places visits all places of a cell.
func (n *node) places(visit func(place int32)) {
	if n.spread == nil {
		visit(n.slot - 1)
		return
	}
	n.spread.all(visit)
}

// parted visits the places of one watched value that was replaced by another.
func (c *spread) parted(is, was value.Value, first int32, count int, visit func(place int32)) {
	parts, ok := value.Changed(is, was)
	if !ok {
		value.Read(is)
		parts = 1<<count - 1
	}
	for i := range count {
		if parts>>i&1 != 0 {
			visit(first + int32(i))
		}
	}
}

// Assemble is the value of a cell that is spread, made of its parts.
func Assemble(m *design.Member, parts []value.Value) value.Value {
	return layoutOf(m.Type()).value(parts)
}

// name is what a part of the cell is called.
func (l *layout) name(part int) string {
	out := ""
	if l.list {
		out = "[" + strconv.Itoa(part/l.width) + "]"
	}
	if l.names != nil {
		out += "." + l.names[part%l.width]
	}
	return out
}

// patched is the value of the cell with some parts replaced, and watched
// where the others are. The places are in order.
func (c *spread) patched(places []int, parts []value.Value, by *watchers) value.Value {
	list, ok := c.node.val.(*value.List)
	if !ok || c.names == nil {
		all, _ := c.parts(c.node.val)
		all = slices.Clone(all)
		for i, at := range places {
			all[at-int(c.first)] = parts[i]
		}
		return c.watched(c.value(all), by)
	}
	for i := 0; i < len(places); {
		item := (places[i] - int(c.first)) / c.width
		fields, _ := c.fields(list.At(item), make([]value.Value, 0, c.width))
		first := int(c.first) + item*c.width
		for ; i < len(places) && places[i] < first+c.width; i++ {
			fields[places[i]-first] = parts[i]
		}
		list = list.With(item, c.seated(value.NewRecord(c.names, fields), item, by))
	}
	return list
}

// passed is the cell that the list of an item's each gives as it is, if that
// is spread.
func (n *node) passed() *spread {
	if n.block == nil {
		return nil
	}
	if each, ok := n.block.host.(*eachPart); ok {
		return each.list.source()
	}
	return nil
}

// source is the spread cell of which a node gives the value as it is, or nil.
func (n *node) source() *spread {
	if n.slot > 0 {
		return n.spread
	}
	if n.code == nil || !n.code.passes {
		return nil
	}
	for _, d := range n.deps {
		if c := d.to.source(); c != nil {
			return c
		}
	}
	return nil
}

func (r *Reader) layoutOf(m *design.Member) *layout {
	if r.layouts == nil {
		return nil
	}
	l, ok := r.layouts[m]
	if !ok {
		l = layoutOf(m.Type())
		r.layouts[m] = l
	}
	return l
}

// watch watches the cells that are spread in the state that was read last,
// until another one is read. Whatever shows them has the watched values, too.
func (r *Reader) watch() {
	if len(r.spreads) == 0 {
		return
	}
	r.watchers = &watchers{e: r.e}
	r.e.watchers, r.e.strict = r.watchers, true
	defer func() { r.e.strict = false }()
	r.set(func() {
		for i, p := range r.nodes {
			switch {
			case p.layout == nil:
				r.e.write(p.node, value.Plain(p.node.val)) // nothing that was watched before
			case p.part == 0:
				c := p.node.spread
				c.watchers = r.watchers
				parts := make([]value.Value, c.count)
				was, _ := c.parts(p.node.val)
				for j := range parts {
					if parts[j] = r.pool.Value(r.cells[i+j]); parts[j] == nil {
						parts[j] = value.Plain(was[j]) // a field that does not matter
					}
				}
				r.e.write(p.node, c.watched(c.value(parts), r.watchers))
			}
		}
	})
}

// Patch sets cells of the state that the reader read last, in an engine that
// is to show the same structure with other values: nothing follows the change.
// The places are in order.
func (r *Reader) Patch(places []int, numbers []uint32) {
	r.set(func() { r.put(places, numbers) })
}

// Vary lets laws be held against states that differ in cells, which the
// function that it passes on sets. Nothing of them is shown, and in the end all
// is taken back.
func (r *Reader) Vary(try func(set func(places []int, numbers []uint32))) {
	e := r.e
	e.end()
	e.record = &Record{engine: e, silent: true}
	kept := e.undo // what is taken back here takes more room than a turn
	e.undo = r.varied
	e.untracked(func() { try(r.put) })
	r.varied = e.undo[:0]
	e.rollback()
	clear(r.varied[:cap(r.varied)])
	e.undo = kept
}

// put writes cells, of which some take several places.
func (r *Reader) put(places []int, numbers []uint32) {
	for i := 0; i < len(places); {
		p := r.nodes[places[i]]
		if p.layout == nil {
			r.e.write(p.node, r.pool.Value(numbers[i]))
			i++
			continue
		}
		end := i + 1
		for end < len(places) && r.nodes[places[end]].node == p.node {
			end++
		}
		var parts []value.Value
		for _, n := range numbers[i:end] {
			parts = append(parts, r.pool.Value(n))
		}
		r.e.write(p.node, p.node.spread.patched(places[i:end], parts, r.watchers))
		i = end
	}
}

// set changes cells as no turn does, and shows them.
func (r *Reader) set(change func()) {
	e := r.e
	e.end()
	e.record = &Record{engine: e, silent: true}
	e.refill()
	e.level = 0
	e.untracked(func() {
		change()
		for e.reconcileStale(); len(e.following) > 0; e.reconcileStale() { // items that are followed are told first
			list := e.following
			e.following = nil
			for _, n := range list {
				p := n.part.(*following)
				e.settle(n)
				e.undo = append(e.undo, undo{kind: undoFollowed, part: p, val: p.last})
				p.last = n.val
			}
		}
		e.refreshAll()
	})
	e.page.Forget() // what would be told of it
}

// derives says whether a when adds nothing to the state.
func (r *Reader) derives(p *whenPart) bool {
	return r.layouts != nil && p.t.still && !r.e.SeesGestures()
}

// Whens are those of which the state that was read last does not tell which
// branch they show.
func (r *Reader) Whens() []design.Node {
	var list []design.Node
	for _, p := range r.whens {
		list = append(list, p.t.def)
	}
	return list
}

// Branch is the branch that one of Whens shows, or -1.
func (r *Reader) Branch(i int) int {
	branch := -1
	r.e.untracked(func() { branch = int(r.e.read(&r.whens[i].cond).(value.Number)) })
	return branch
}
