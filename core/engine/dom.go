package engine

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/html"
	"lien/core/page"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// Element is a rendered element.
type Element struct {
	page.Element
	t       *elementTemplate
	block   *Block
	attrs   []node // as in the template
	parts   []part
	first   *page.Props // at its mounting; nil: none
	lent    *lent       // classes from the users of the component that consists of it; nil: none
	number  int         // as its state was last read
	changed *node       // of a form whose values are read: changes with its fields
}

func (t *elementTemplate) mount(e *Engine, b *Block, parent *Element) part {
	e.spend(2, elementBytes, t.def.Span())
	el := &Element{t: t, block: b}
	el.Init(e.page, (*rendering)(el), e.standsIn(b, parent), t.traits, page.Props{})
	if len(t.attrs) > 0 {
		el.attrs = make([]node, len(t.attrs))
		for i := range t.attrs {
			el.attrs[i].mute = e.mutes && t.attrs[i].quiet
			e.effect(&el.attrs[i], t.attrs[i].code, b, el)
		}
	}
	el.borrow(e)
	el.parts = mountAll(e, t.children, b, el)
	el.firstProps(e)
	e.name(t.named, b, el)
	if t.handlers["outside"] != nil {
		e.outside = append(e.outside, el)
	}
	return el
}

func (el *Element) place() (*Block, int) { return el.block, el.t.order }
func (el *Element) blocks() []*Block     { return nil }

// refresh sets the properties that are linked.
func (el *Element) refresh(e *Engine) { el.applyProps(e) }

// standsIn is what a new element stands in: the element around it, what its opened component
// lies in, or the body.
func (e *Engine) standsIn(b *Block, parent *Element) *page.Element {
	if parent != nil {
		return &parent.Element
	}
	for b.host != nil {
		if o, ok := b.host.(*opening); ok {
			return &o.layer
		}
		b, _ = b.host.place()
	}
	return e.page.Body
}

// shown is the value of an attribute, which may not have been worked out yet.
func (el *Element) shown(i int) value.Value { return el.block.e.shown(&el.attrs[i]) }

// firstProps gives an element the properties that its attributes say.
func (el *Element) firstProps(e *Engine) {
	var first page.Props
	for i, a := range el.t.attrs {
		if !a.class && (a.prop || a.name == "selected") {
			first = with(first, el, a.name, el.attrs[i].val)
		}
	}
	if el.t.def.Tag == "textarea" && first.Value == "" {
		first.Value = el.ownText()
	}
	if first == (page.Props{}) {
		return
	}
	el.Restore(first)
	el.first = &first
	e.page.Begun(&el.Element)
	if first.Checked && el.InputType() == "radio" {
		e.grouped = append(e.grouped, el)
	}
}

// ownText is the text that stands right in the element.
func (el *Element) ownText() string {
	out := ""
	for _, p := range el.parts {
		if t, ok := p.(*textPart); ok {
			out += value.Text(t.block.e.shown(&t.text))
		}
	}
	return out
}

// with are properties with one of them set to a value, as a program does.
func with(p page.Props, el *Element, name string, v value.Value) page.Props {
	yes := v == value.Value(value.Bool(true))
	switch name {
	case "value":
		text := ""
		if !value.IsNull(v) {
			text = value.Text(v)
		}
		if text != p.Value {
			p.Value, p.Typed = text, false
			p.From, p.To = 1<<30, 1<<30 // the caret stands behind it
		}
		p.Dirty = true
	case "checked":
		p.Checked = yes
	case "indeterminate":
		p.Indeterminate = yes
	case "open":
		p.Open = yes
	}
	return p
}

// applyProps sets every linked property to what its link says.
func (el *Element) applyProps(e *Engine) {
	was := el.Live()
	next := was
	for i, a := range el.t.attrs {
		if a.prop && !(a.name == "value" && el.holdsNumber(el.shown(i))) {
			next = with(next, el, a.name, el.shown(i))
		}
	}
	if next == was {
		return
	}
	e.page.Set(&el.Element, next)
	switch {
	case next.Checked && !was.Checked && el.InputType() == "radio":
		e.page.Exclude(&el.Element)
	case next.Open != was.Open:
		e.page.Toggled(&el.Element)
	}
}

// holdsNumber says whether a number field holds v already, however it is
// typed: "4." is 4, and "-" is no number yet.
func (el *Element) holdsNumber(v value.Value) bool {
	if el.InputType() != "number" {
		return false
	}
	n, ok := value.ParseNumber(el.Live().Value)
	if !ok {
		return value.IsNull(v) || value.Text(v) == ""
	}
	want, ok := value.ParseNumber(value.Text(v))
	return ok && n == want
}

// resetProps sets linked properties again that the user changed and the
// design did not take over: a refused input shows as refused.
func (e *Engine) resetProps() {
	for _, el := range e.touched {
		if !el.block.gone {
			el.applyProps(e)
		}
	}
	e.touched = e.touched[:0]
}

// writeTies writes what the user changed to the cells that are tied to it.
func (e *Engine) writeTies(el *Element, names ...string) {
	for _, t := range el.t.ties {
		for _, n := range names {
			if n == t.name {
				e.writeTie(el, &t)
			}
		}
	}
}

func (e *Engine) writeTie(el *Element, t *tieTemplate) {
	v, ok := el.propValue(t)
	if !ok || el.block.ending(e) {
		return
	}
	e.writeTo(&t.tie, el.block.inst, el.block, v)
}

// propValue is a property as the tied cell's type has it; false where it has none such.
func (el *Element) propValue(t *tieTemplate) (value.Value, bool) {
	switch t.name {
	case "checked":
		return value.Bool(el.Live().Checked), true
	case "indeterminate":
		return value.Bool(el.Live().Indeterminate), true
	case "open":
		return value.Bool(el.Live().Open), true
	}
	typ := el.tieType(t.name)
	if types.Assignable(types.NonNull(types.Widen(typ)), types.Number) {
		n, ok := value.ParseNumber(el.LiveValue())
		if !ok {
			return value.Null{}, types.Nullable(typ)
		}
		return value.Number(n), true
	}
	s := value.String(el.LiveValue())
	if types.Assignable(types.String, typ) {
		return s, true
	}
	return s, types.Assignable(types.Literal{Value: s}, typ)
}

func (el *Element) tieType(name string) types.Type {
	for _, t := range el.t.def.Ties {
		if t.Name == name {
			return t.Write.Typ
		}
	}
	return types.String
}

// Tag is the element's name.
func (el *Element) Tag() string { return el.t.def.Tag }

// Attr is an attribute as the page has it, and whether it is there.
func (el *Element) Attr(name string) (string, bool) {
	for i, a := range el.t.attrs {
		if a.class || a.name != name {
			continue
		}
		v := el.shown(i)
		if b, ok := v.(value.Bool); ok && !html.PrintsBooleans(name) {
			return "", bool(b)
		}
		if value.IsNull(v) {
			return "", false
		}
		return value.Text(v), true
	}
	return "", false
}

// Classes are the classes the element has now: those that it always has, those of its attribute, those that are switched, and
// those that the users of its component give it.
func (el *Element) Classes() []string {
	v, _ := el.Attr("class")
	list := append(slices.Clone(el.t.def.Classes), strings.Fields(v)...)
	for i, a := range el.t.attrs {
		if a.class && el.shown(i) == value.Value(value.Bool(true)) {
			list = append(list, a.name)
		}
	}
	if el.lent != nil {
		list = append(list, el.lent.classes...)
		for i := range el.lent.marks {
			if el.block.e.shown(&el.lent.marks[i]) == value.Value(value.Bool(true)) {
				list = append(list, el.lent.names[i])
			}
		}
	}
	return list
}

// Instance is the component in whose view the element is written.
func (el *Element) Instance() *Instance { return el.block.inst }

// Inside is the nearest instance of a component that the element is rendered in: written in its
// view, or given to it as content; or nil.
func (el *Element) Inside(component string) *Instance {
	for b := el.block; b != nil; b, _ = b.host.place() {
		if b.inst.comp.def.Name == component {
			return b.inst
		}
		if b.host == nil {
			break
		}
	}
	return nil
}

// Span is where the element is written.
func (el *Element) Span() source.Span { return el.t.def.Span() }

// Node is a rendered element or, with Element nil, a text.
type Node struct {
	Element *Element
	Text    string
}

// Children are what the element contains now, in order.
func (el *Element) Children() []Node {
	var out []Node
	collect(el.parts, &out)
	return out
}

// Page is what is rendered now.
func (e *Engine) Page() []Node {
	var out []Node
	if e.root != nil && e.root.body != nil {
		collect(e.root.body.parts, &out)
	}
	for _, o := range e.openings {
		collect(o.use.inst.body.parts, &out)
	}
	return out
}

// View is what an instance renders now.
func (i *Instance) View() []Node {
	var out []Node
	if i.body != nil {
		collect(i.body.parts, &out)
	}
	return out
}

func collect(parts []part, out *[]Node) {
	for _, p := range parts {
		switch p := p.(type) {
		case *Element:
			*out = append(*out, Node{Element: p})
		case *textPart:
			*out = append(*out, Node{Text: value.Text(p.block.e.shown(&p.text))})
		default:
			for _, b := range p.blocks() {
				collect(b.parts, out)
			}
		}
	}
}

// Elements visits every rendered element in tree order, until visit says false.
func (e *Engine) Elements(visit func(*Element) bool) {
	if e.root != nil && e.root.body != nil && !elementsIn(e.root.body.parts, visit) {
		return
	}
	for _, o := range e.openings {
		if !elementsIn(o.use.inst.body.parts, visit) {
			return
		}
	}
}

func elementsIn(parts []part, visit func(*Element) bool) bool {
	for _, p := range parts {
		if el, ok := p.(*Element); ok {
			if !visit(el) || !elementsIn(el.parts, visit) {
				return false
			}
			continue
		}
		for _, b := range p.blocks() {
			if !elementsIn(b.parts, visit) {
				return false
			}
		}
	}
	return true
}

// Cell is one value of an instance, for showing.
type Cell struct {
	Name  string
	Kind  design.Kind
	Value value.Value
}

// Cells are what an instance takes, holds and derives now.
func (e *Engine) Cells(i *Instance) []Cell {
	var out []Cell
	for _, m := range i.comp.def.Members {
		if m.HasValue() {
			v, err := e.guarded(func() value.Value { return e.read(&i.values[m.Slot]) })
			if err != nil {
				v = value.Null{}
			}
			out = append(out, Cell{m.Label, m.Kind, v})
		}
	}
	return out
}

// Instances are all live instances, in tree order.
func (e *Engine) Instances() []*Instance {
	var list []*Instance
	add := func(p part) bool {
		if u, ok := p.(*usePart); ok {
			list = append(list, u.inst)
		}
		return true
	}
	if e.root != nil {
		list = append(list, e.root)
		walkParts(e.root.body.parts, add)
	}
	for _, o := range e.openings {
		walkParts([]part{o.use}, add)
	}
	return list
}

// walkParts visits rendered parts in tree order; visit says whether to go
// into the one it is given.
func walkParts(parts []part, visit func(part) bool) {
	for _, p := range parts {
		if !visit(p) {
			continue
		}
		if el, ok := p.(*Element); ok {
			walkParts(el.parts, visit)
		}
		for _, b := range p.blocks() {
			walkParts(b.parts, visit)
		}
	}
}
