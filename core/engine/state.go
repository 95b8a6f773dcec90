package engine

import (
	"bytes"
	"encoding/binary"
	"slices"

	"lien/core/design"
	"lien/core/flow"
	"lien/core/page"
	"lien/core/types"
	"lien/core/value"
)

// State is what an engine will go on from, in few bytes: two engines of one
// design with equal states behave alike. Keys that fresh() gave are renamed by
// their first appearance in tree order.
//
// Left out is what nothing can tell apart: what a link or derivation gives
// again, the focus where no handler and no method asks for it, and whether a
// field was touched where no form is asked.
type State struct {
	Shape string   // what is rendered, runs, waits and is open, and what users typed
	Cells []uint32 // the cells in tree order, as numbers of the pool
}

// Reader reads the states of one engine.
type Reader struct {
	e        *Engine
	pool     *value.Pool
	shape    []byte
	cells    []uint32
	nodes    []placed
	elements []*Element
	count    int
	keys     map[value.Key]value.Key
	reading  *readership                // of the page as it was read last, once asked for
	places   bool                       // what is read is told by the places in what this one reads
	whens    []*whenPart                // of the state that was read last: those that the cells tell
	varied   []undo                     // room for what is taken back
	tracked  tracker                    // what was read last
	layouts  map[*design.Member]*layout // of members of which cells may be spread; nil if none
	spreads  []*spread                  // cells of the state that was read last
	watchers *watchers                  // that watch them, once they do
	symmetry map[design.Node]int
	groups   []Group
}

// Within lets the engine's readers and causes look at a slice of the design
// only: what is outside of it cannot change what is in it. nil is all of it.
func (e *Engine) Within(s *flow.Slice) { e.slice = s }

// Looks is the slice that is looked at, or nil.
func (e *Engine) Looks() *flow.Slice { return e.slice }

// Group is parts of a page that behave alike and look alike: any two of them
// may exchange the values of their cells. Each begins at a place of the state,
// and has so many cells.
type Group struct {
	Starts []int
	Cells  int
}

// Symmetric tells the reader which uses of one class, in one part of a view, and
// which items of an each, behave alike whatever their cells are.
func (r *Reader) Symmetric(classes map[design.Node]int) { r.symmetry = classes }

// Groups are the parts that are alike in the state that was read last, what is
// inside others first.
func (r *Reader) Groups() []Group { return r.groups }

// stretch is what one part adds to a state.
type stretch struct {
	class           int
	shape, shapeEnd int
	cells, cellsEnd int
}

func (r *Reader) stretch(class int, read func()) stretch {
	s := stretch{class: class, shape: len(r.shape), cells: len(r.cells)}
	read()
	s.shapeEnd, s.cellsEnd = len(r.shape), len(r.cells)
	return s
}

// group finds those of one class and shape among the parts of a view.
func (r *Reader) group(list []stretch) {
	for len(list) > 1 {
		first := list[0]
		g := Group{[]int{first.cells}, first.cellsEnd - first.cells}
		var rest []stretch
		for _, s := range list[1:] {
			if s.class == first.class && s.cellsEnd-s.cells == g.Cells && bytes.Equal(r.shape[s.shape:s.shapeEnd], r.shape[first.shape:first.shapeEnd]) {
				g.Starts = append(g.Starts, s.cells)
			} else {
				rest = append(rest, s)
			}
		}
		if len(g.Starts) > 1 && g.Cells > 0 {
			r.groups = append(r.groups, g)
		}
		list = rest
	}
}

// Reading is how states are read.
type Reading struct {
	// Spread cells over several places, and leave out which branch a when shows
	// where that is all that there is to it: the cells tell.
	Spread bool
	// Home is of the reader of the state that is gone on from: places are those of
	// what it read, in which cells can be set (Patch, Vary), and what is read can be
	// tracked (Track). It may be one reader of an engine.
	Home bool
}

// NewReader reads states of an engine with numbers from a pool, which may be
// shared with the readers of other engines of the design.
func NewReader(e *Engine, pool *value.Pool, how Reading) *Reader {
	r := &Reader{e: e, pool: pool, places: how.Home, keys: map[value.Key]value.Key{}}
	e.ahead = MostPrevented
	e.page.Ahead = e.ahead
	if how.Spread {
		r.layouts = map[*design.Member]*layout{}
	}
	return r
}

// Number is the place of an element among those of the state that was read last.
func (r *Reader) Number(el *Element) int {
	r.renumber()
	return el.number
}

// renumber gives cells and elements the places again that they had when the
// state was read last, if another reader has read since.
func (r *Reader) renumber() {
	if r.e.numbered == r {
		return
	}
	r.e.numbered = r
	for i, p := range r.nodes {
		if p.part == 0 {
			p.node.slot = int32(i + 1)
		}
	}
	for i, el := range r.elements {
		el.number = i
	}
}

// Read reads the state between turns. It is valid until the next call.
func (r *Reader) Read() State {
	s := r.read()
	if r.e.numbered = r; r.places {
		r.watch()
	}
	return s
}

func (r *Reader) read() State {
	r.shape, r.cells, r.nodes, r.elements, r.count = r.shape[:0], r.cells[:0], r.nodes[:0], r.elements[:0], 0
	clear(r.keys)
	r.reading, r.groups, r.spreads, r.whens = nil, nil, r.spreads[:0], r.whens[:0]
	if r.watchers != nil {
		r.watchers.past = true
		r.watchers, r.e.watchers = nil, nil
	}
	e := r.e
	r.instance(e.root)
	for _, o := range e.openings {
		if e.slice == nil || e.slice.Opening(o.use.t.def) {
			r.opening(o)
		}
	}
	r.number(0)
	e.timers.each(func(t *timer) {
		if e.slice != nil && !e.slice.Timer(t.member) {
			return
		}
		r.number(t.inst.number + 1)
		r.number(e.program.orders[t.member])
		r.values(t.args)
		r.value(value.Number(t.delay))
	})
	r.number(0)
	for _, a := range e.questions() {
		if e.slice != nil && !e.slice.Operation(a.op.def) {
			continue
		}
		r.number(a.inst.number + 1)
		r.number(a.site)
		r.values(a.args)
		r.values(a.loc)
		r.flag(a.late)
		r.flag(a.again)
	}
	r.number(0)
	r.layers()
	if e.program.sees.focus {
		r.element(e.Focus())
	}
	if e.program.sees.pointer {
		at := e.spotOf(e.page.Over())
		r.element(at.near)
		r.flag(at.deep)
		r.flag(at.first)
	}
	if e.program.sees.button {
		r.held()
	}
	return State{string(r.shape), r.cells}
}

// held reads what the main button of the mouse is held on.
func (r *Reader) held() {
	held := r.e.page.State().Held
	r.flag(held.On != nil)
	if held.On == nil {
		return
	}
	r.element(of(held.On))
	for _, is := range []bool{held.Silent, held.Prevented, held.Slid} {
		r.flag(is)
	}
}

// layers reads the dialogs and popovers of the design that lie above the page, the topmost first,
// and which opened components lie between them.
func (r *Reader) layers() {
	if !r.e.program.layers {
		return // what is opened was read
	}
	for l := range r.e.page.Layers {
		el := of(l.Element)
		if el == nil {
			r.number(1)
			continue
		}
		r.number(el.number + 2)
		r.flag(l.Modal)
		if r.e.program.sees.focus {
			r.element(of(l.Before))
			r.element(of(l.Invoker))
		}
	}
	r.number(0)
	r.watching()
}

// MostPrevented is how often in a row a state tells that Escape could be kept from closing something, and how many of those that
// open on top of each other, beside the first, Escape closes one by one.
const MostPrevented = 8

// watching reads what Escape closes at once, and how often that could be prevented.
func (r *Reader) watching() {
	e := r.e
	if !e.program.sees.watch {
		return
	}
	for _, joined := range e.page.Groups() {
		r.flag(joined)
	}
	w := e.page.State().Watch
	r.number(w.More)
	r.flag(w.Spent)
	if e.program.hears["cancel"] {
		r.flag(w.Active)
	}
}

// CellName tells which cell of which instance stands at a place of a state, or
// which part of it, such as [2].full.
type CellName struct {
	Path     string
	Member   *design.Member
	Part     string
	Instance int // its number in the order of the page
}

// Names are the cells of the state that was read last, in their order.
func (r *Reader) Names() []CellName {
	list := make([]CellName, len(r.nodes))
	for i, p := range r.nodes {
		n := p.node
		list[i].Path, list[i].Instance = n.inst.Path(), n.inst.number
		for slot := range n.inst.values {
			if &n.inst.values[slot] == n {
				list[i].Member = n.inst.comp.slots[slot]
			}
		}
		if p.layout != nil {
			list[i].Part = p.layout.name(p.part)
		}
	}
	return list
}

// From tells where the cells of the state that was read last stood in the one
// that another reader of the engine read before, part by part; -1 where they did
// not.
func (r *Reader) From(before *Reader) []int32 {
	from := make([]int32, len(r.nodes))
	for i, p := range r.nodes {
		from[i] = -1
		at := int(p.node.slot) - 1 + p.part
		if p.node.slot > 0 && at < len(before.nodes) && before.nodes[at].node == p.node && before.nodes[at].part == p.part {
			from[i] = int32(at)
		}
	}
	return from
}

// placed is what stands at a place of a state: a cell, or a part of one.
type placed struct {
	node   *node
	part   int
	layout *layout // nil for a whole cell
}

func (r *Reader) number(n int) { r.shape = binary.AppendUvarint(r.shape, uint64(n)) }

func (r *Reader) flag(b bool) {
	if b {
		r.number(1)
	} else {
		r.number(0)
	}
}

func (r *Reader) element(el *Element) {
	if el == nil || el.block.gone {
		r.number(0)
		return
	}
	r.number(el.number + 1)
}

// known is the number of a value, with its keys renamed.
func (r *Reader) known(v value.Value) uint32 {
	if r.e.keys > 0 {
		v = value.Keys(v, r.rename)
	}
	return r.pool.Number(v)
}

func (r *Reader) rename(k value.Key) value.Key {
	n, ok := r.keys[k]
	if !ok {
		n = value.Key(len(r.keys) + 1)
		r.keys[k] = n
	}
	return n
}

// value adds a value to the shape, where those of the engine may occur too.
func (r *Reader) value(v value.Value) {
	switch x := v.(type) {
	case nil:
		r.number(0)
	case *Instance:
		r.number(1)
		r.number(x.number)
	case *Element:
		r.number(2)
		r.number(x.number)
	case *Func:
		r.number(3)
		if x.owner != nil {
			r.number(x.owner.number)
		}
		r.value(value.String(x.name))
	default:
		r.number(int(r.known(v)) + 3)
	}
}

func (r *Reader) values(list []value.Value) {
	r.number(len(list))
	for _, v := range list {
		r.value(v)
	}
}

// cell reads a cell of a member, over as many places as it takes.
func (r *Reader) cell(n *node, m *design.Member) {
	first := int32(len(r.nodes))
	if r.places {
		n.slot, n.spread = first+1, nil
	}
	l := r.layoutOf(m)
	if l == nil {
		r.place(n.val, placed{node: n})
		return
	}
	parts, ok := l.parts(n.val)
	if !ok {
		r.number(0)
		r.place(n.val, placed{node: n})
		return
	}
	r.number(1 + len(parts)/l.width)
	for i, v := range parts {
		if p := (placed{n, i, l}); r.e.slice == nil || l.names == nil || r.e.slice.Field(l.names[i%l.width]) {
			r.place(v, p)
		} else { // a field that does not matter is the same in all states
			r.cells, r.nodes = append(r.cells, 0), append(r.nodes, p)
		}
	}
	if r.places {
		n.spread = &spread{layout: l, node: n, first: first, count: len(parts)}
		r.spreads = append(r.spreads, n.spread)
	}
}

func (r *Reader) place(v value.Value, p placed) {
	r.cells = append(r.cells, r.known(v))
	r.nodes = append(r.nodes, p)
}

// leavesOut says whether a cell is no part of what is looked at.
func (r *Reader) leavesOut(m *design.Member) bool {
	return r.e.slice != nil && !r.e.slice.Cell(m)
}

func (r *Reader) instance(i *Instance) {
	i.number = r.count
	r.count++
	for slot, m := range i.comp.slots {
		if r.leavesOut(m) {
			if r.places {
				i.values[slot].slot, i.values[slot].spread = 0, nil
			}
			continue
		}
		switch m.Kind {
		case design.Holds, design.ConstMember:
			r.cell(&i.values[slot], m)
		case design.Shares:
			if i.use == nil || i.use.t.links[slot] == nil {
				r.cell(&i.values[slot], m)
			}
		}
	}
	if i.comp.field != nil {
		r.value(i.first)
		r.flag(i.touched && r.e.program.sees.touched)
	}
	for _, c := range i.contexts {
		r.instance(c)
	}
	if i.body != nil {
		r.parts(i.body.parts)
	}
}

func (r *Reader) parts(list []part) {
	var alike []stretch
	for _, p := range list {
		switch p := p.(type) {
		case *Element:
			r.rendered(p)
		case *whenPart:
			if r.e.slice != nil && !r.e.slice.Node(p.t.def) {
				continue
			}
			if r.derives(p) {
				r.whens = append(r.whens, p)
				continue
			}
			r.number(int(p.cond.val.(value.Number)) + 1)
			r.blocks(p.shown)
		case *eachPart:
			if r.e.slice != nil && !r.e.slice.Node(p.t.def) {
				continue
			}
			r.number(len(p.items))
			for _, b := range p.items {
				r.value(b.key)
			}
			r.items(p)
		case *usePart:
			if class := r.symmetry[p.t.def]; class > 0 {
				alike = append(alike, r.stretch(class, func() { r.instance(p.inst) }))
				continue
			}
			r.instance(p.inst)
		default:
			r.blocks(p.blocks())
		}
	}
	r.group(alike)
}

func (r *Reader) items(p *eachPart) {
	class := r.symmetry[p.t.def]
	if class == 0 {
		r.blocks(p.items)
		return
	}
	var alike []stretch
	for _, b := range p.items {
		alike = append(alike, r.stretch(class, func() { r.parts(b.parts) }))
	}
	r.group(alike)
}

func (r *Reader) blocks(list []*Block) {
	for _, b := range list {
		r.parts(b.parts)
	}
}

// rendered reads an element, with the properties that no link sets.
func (r *Reader) rendered(el *Element) {
	el.number = len(r.elements)
	r.elements = append(r.elements, el)
	if r.e.slice != nil && !r.e.slice.Props(el.t.def) {
		r.parts(el.parts)
		return
	}
	switch el.t.def.Tag {
	case "input", "select", "textarea":
		if !el.linked("value") || el.t.def.Tag == "input" && el.InputType() == "number" { // which may hold 1 as "1."
			r.value(value.String(el.Props().Value))
		}
		if !el.linked("checked") {
			r.flag(el.Props().Checked)
		}
		if !el.linked("indeterminate") {
			r.flag(el.Props().Indeterminate)
		}
		if r.e.program.sees.edited {
			r.value(value.String(el.Props().Was()))
		}
		if r.e.program.sees.custom {
			r.value(value.String(el.Props().Custom()))
		}
		if r.e.program.sees.tabs {
			r.flag(el.Props().Visited)
		}
		if el.typedMatters() {
			r.flag(el.Props().Typed)
		}
		r.flag(el.Props().Edited && r.e.program.sees.edited || el.t.def.Tag == "select" && !el.linked("value") && el.Props().Dirty)
		r.flag(el.Props().Touched && r.e.program.sees.touched)
	case "details", "dialog":
		if !el.linked("open") {
			r.flag(el.Props().Open)
		}
	default:
		if el.t.traits&page.Edits != 0 { // which is edited in place
			r.flag(el.Props().Dirty)
			r.value(value.String(el.Props().Value))
		}
	}
	r.parts(el.parts)
}

// typedMatters says whether it matters to the validity of a field who set what it holds.
func (el *Element) typedMatters() bool {
	for _, a := range el.t.attrs {
		switch a.name {
		case "minlength", "maxlength":
			return true
		case "type":
			return el.InputType() == "number"
		}
	}
	return false
}

func (r *Reader) opening(o *opening) {
	i := o.use.inst
	r.number(o.site + 1)
	r.number(o.opener.number)
	r.flag(o.modal)
	r.values(o.use.block.captured)
	if r.e.program.sees.focus {
		r.element(o.before())
	}
	r.instance(i)
}

// SeesGestures says whether the design can tell who has the focus, where the
// pointer is, whether its button is held, or what was typed into and left.
func (e *Engine) SeesGestures() bool {
	s := e.program.sees
	return s.focus || s.edited || s.touched || s.pointer || s.button
}

// SeesButton says whether the design hears when the button of the mouse goes down and up.
func (e *Engine) SeesButton() bool { return e.program.sees.button }

// SeesPointer says whether the design can tell what the mouse is on.
func (e *Engine) SeesPointer() bool { return e.program.sees.pointer }

// ReachesFar says whether a gesture in one place acts in another: the design can tell what SeesGestures names, or hears
// what is dragged.
func (e *Engine) ReachesFar() bool { return e.SeesGestures() || e.program.drags }

// Quiet says whether nothing is left that comes by itself: no timer runs and
// no question waits.
func (e *Engine) Quiet() bool { return e.timers.first == nil && len(e.asks) == 0 }

// Asks is how many questions wait that are looked at.
func (e *Engine) Asks() (n int) {
	for _, a := range e.asks {
		if e.slice == nil || e.slice.Operation(a.op.def) {
			n++
		}
	}
	return n
}

// Branches visits every when that is rendered, with the branch that it shows,
// or -1; and every each, with 0 where it has items, or -1.
func (e *Engine) Branches(visit func(n design.Node, branch int)) {
	see := func(p part) bool {
		switch p := p.(type) {
		case *whenPart:
			visit(p.t.def, int(p.cond.val.(value.Number)))
		case *eachPart:
			visit(p.t.def, min(len(p.items), 1)-1)
		}
		return true
	}
	walkParts(e.root.body.parts, see)
	for _, o := range e.openings {
		walkParts([]part{o.use}, see)
	}
}

// Def is the element as it is written.
func (el *Element) Def() *design.Element { return el.t.def }

// sight is what a design can see of what users do beyond its cells.
type sight struct {
	focus   bool // who has the focus
	edited  bool // that a field was typed into and not left
	touched bool // that a field was changed or left
	pointer bool // what the pointer is on
	hover   bool // styles hide what it is not on
	button  bool // when the main button of the mouse goes down and up
	chords  bool // which keys are held beside it
	keys    bool // what keys are pressed
	tabs    bool // where Tab leads
	watch   bool // what Escape closes together, and whether it could be prevented
	custom  bool // that a field is found not valid by the program
}

// isTyped says whether a user types into an element.
func isTyped(el *design.Element) bool {
	for _, a := range el.Attrs {
		if c, ok := a.Unit.Expr.(*types.Const); ok && a.Name == "type" {
			switch c.Value {
			case value.String("checkbox"), value.String("radio"), value.String("button"), value.String("submit"), value.String("reset"), value.String("range"):
				return false
			}
		}
	}
	return el.Tag == "textarea" || el.Tag == "input"
}

// typesText says whether a design has any field that a user types into.
func typesText(d *design.Design) bool {
	types := false
	design.Visitor{Node: func(n design.Node) {
		el, ok := n.(*design.Element)
		types = types || ok && isTyped(el)
	}}.Design(d)
	return types
}

// mayHold says whether an element is, or may have in it, a field that a user types
// into, whose changes it hears.
func mayHold(el *design.Element) bool {
	holds := isTyped(el)
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			holds = holds || isTyped(n)
		case *design.Use, *design.SlotPlace: // whatever stands in it
			holds = true
		}
	}}.Nodes(el.Children)
	return holds
}

// hasLayers says whether a design has dialogs or popovers of its own.
func hasLayers(d *design.Design) (has bool) {
	design.Visitor{Node: func(n design.Node) {
		el, ok := n.(*design.Element)
		has = has || ok && (el.Tag == "dialog" || traitsOf(el)&page.Pops != 0)
	}}.Design(d)
	return has
}

// severalLayers says whether several dialogs or popovers of a design may be open at once, as far as the text tells.
func severalLayers(d *design.Design) bool {
	layers, raised, shows, copies := 0, 0, false, false
	uses := map[*design.Component]int{}
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			pops := traitsOf(n)&page.Pops != 0
			if n.Tag == "dialog" || pops {
				layers++
			}
			shows = shows || pops || slices.ContainsFunc(n.Attrs, func(a *design.Attr) bool { return a.Name == "command" })
		case *design.Use:
			uses[n.Component]++
			copies = copies || uses[n.Component] > 1
		case *design.Each:
			copies = true
		}
	}, Stmt: func(s design.Stmt) {
		if o, ok := s.(*design.Open); ok && o.Modal {
			raised++
		}
	}, Expr: func(x types.Expr) {
		if sel, ok := x.(*types.Select); ok {
			m, ok := sel.Member.(*design.ElementMethod)
			shows = shows || ok && (m.Label == "show" || m.Label == "showModal")
		}
	}}.Design(d)
	return layers > 0 && shows && (layers+raised > 1 || copies)
}

// sightOf looks for what handlers hear and forms are asked.
func sightOf(d *design.Design) sight {
	var s sight
	text := typesText(d)
	v := design.Visitor{
		Node: func(n design.Node) {
			el, ok := n.(*design.Element)
			if !ok {
				return
			}
			for _, h := range el.Handlers {
				switch h.Name {
				case "focus", "blur", "focusin", "focusout":
					s.focus = true
				case "change":
					s.edited = s.edited || text && mayHold(el)
				case "keydown", "keyup", "keypress":
					s.keys = true
				case "cancel":
					s.watch = true
				}
				s.pointer = s.pointer || slices.Contains(page.Moves, h.Name)
				s.button = s.button || slices.Contains(buttons, h.Name)
			}
			s.chords = s.chords || len(flow.ModifiersOn(el)) > 0
		},
		Expr: func(x types.Expr) {
			if sel, ok := x.(*types.Select); ok {
				switch m := sel.Member.(type) {
				case *design.FormPart:
					s.touched = s.touched || m.Label == "touched"
				case *design.ElementMethod:
					s.custom = s.custom || m.Label == "setCustomValidity"
				}
			}
		},
	}
	v.Design(d)
	for _, c := range d.Components {
		s.focus = s.focus || s.keys && c.Member("dismissed") != nil // Escape goes to what has the focus
	}
	s.focus = s.focus || s.keys && hasLayers(d) || d.Hiding.Asks("focus", "focus-within")
	s.hover = d.Hiding.Asks("hover")
	s.pointer = s.pointer || s.hover
	s.watch = s.watch || severalLayers(d)
	for _, l := range d.Laws {
		s.tabs = s.tabs || slices.ContainsFunc(l.Clauses, func(c *design.Clause) bool { return c.Kind == "keeps" })
	}
	s.focus = s.focus || s.touched || s.edited || s.tabs
	return s
}

// SeeAs lets states tell all that those of another engine tell: where one design asks who has
// the focus, two of them can be compared by it.
func (e *Engine) SeeAs(o *Engine) {
	a, b := &e.program.sees, o.program.sees
	*a = sight{focus: a.focus || b.focus, edited: a.edited || b.edited, touched: a.touched || b.touched, pointer: a.pointer || b.pointer, hover: a.hover || b.hover, button: a.button || b.button, chords: a.chords || b.chords,
		keys: a.keys || b.keys, tabs: a.tabs || b.tabs, watch: a.watch || b.watch, custom: a.custom || b.custom}
}

// Renamed is what the reader calls a key in the state that it read last; false where the state
// has no such key.
func (r *Reader) Renamed(k value.Key) (value.Key, bool) {
	n, ok := r.keys[k]
	return n, ok
}
