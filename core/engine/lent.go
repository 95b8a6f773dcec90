package engine

import (
	"iter"

	"lien/core/design"
)

// lent are the classes that an element has from the users of the components that consist of it.
type lent struct {
	classes []string
	names   []string // of marks
	marks   []node   // whether they stand
}

// lenders are the uses that give an element classes, from the inside out.
func (el *Element) lenders() iter.Seq[*usage] {
	return func(yield func(*usage) bool) {
		n := design.Node(el.t.def)
		for i := el.block.inst; i.use != nil && i.use.block != nil && i.comp.def.IsRoot(n); i = i.use.inst {
			def := i.use.t.def
			if len(def.Classes)+len(def.Marks) > 0 && !yield(i.use) {
				return
			}
			n = def
		}
	}
}

// borrow gives an element the classes that uses give it.
func (el *Element) borrow(e *Engine) {
	marks := 0
	for u := range el.lenders() {
		if el.lent == nil {
			el.lent = &lent{}
		}
		marks += len(u.t.marks)
	}
	if el.lent == nil {
		return
	}
	el.lent.marks = make([]node, 0, marks) // which stay where they are
	for u := range el.lenders() {
		el.lent.classes = append(el.lent.classes, u.t.def.Classes...)
		for _, m := range u.t.marks {
			el.lent.names = append(el.lent.names, m.name)
			el.lent.marks = append(el.lent.marks, node{mute: e.mutes && m.quiet})
			e.effect(&el.lent.marks[len(el.lent.marks)-1], m.code, u.block, el)
		}
	}
}
