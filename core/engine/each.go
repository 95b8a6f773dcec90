package engine

import (
	"sort"

	"lien/core/value"
)

// eachPart is a rendered each. Its work is in two steps: reconcile tells the
// items what they are now, as soon as anything asks; refresh mounts what is
// new and unmounts what is gone.
type eachPart struct {
	t      *eachTemplate
	block  *Block
	parent *Element
	list   node
	items  []*Block               // as they are shown
	byKey  map[value.Value]*Block // the same by key
	told   *value.List            // the list that the items were last told
	order  []value.Value          // the keys of that list; nil while they are those shown
	twice  value.Value            // a key that the list has twice, or nil
}

func (t *eachTemplate) mount(e *Engine, b *Block, parent *Element) part {
	p := &eachPart{t: t, block: b, parent: parent, byKey: map[value.Value]*Block{}, told: value.Empty}
	e.effect(&p.list, t.list, b, p)
	p.refresh(e)
	return p
}

func (p *eachPart) place() (*Block, int) { return p.block, p.t.order }
func (p *eachPart) blocks() []*Block     { return p.items }

// reconcileStale tells the items of every list that changed in this turn what
// they are now, the outer lists first.
func (e *Engine) reconcileStale() {
	var later []*eachPart // in places that are ending, which may stay after all
	for len(e.stale) > 0 {
		if len(e.stale) > 1 {
			sort.SliceStable(e.stale, func(i, j int) bool { return e.stale[i].block.depth < e.stale[j].block.depth })
		}
		p := e.stale[0]
		e.stale = e.stale[1:]
		switch {
		case p.block.gone:
		case p.block.ending(e):
			later = append(later, p)
		default:
			p.tell(e)
		}
	}
	e.stale = append(e.stale[:0], later...)
}

// tell brings the list up to date, and tells the items what they are in it.
func (p *eachPart) tell(e *Engine) {
	e.untracked(func() {
		e.update(&p.list)
		p.reconcile(e)
	})
}

// reconcile tells the items what they are in the current list. Where only
// some items changed and kept their keys, only these are looked at.
func (p *eachPart) reconcile(e *Engine) {
	list := p.list.val.(*value.List)
	if list == p.told {
		return
	}
	if p.order == nil && p.twice == nil && p.sameKeys(e, list) {
		e.undo = append(e.undo, undo{kind: undoTold, part: p, list: p.told})
		p.told = list
		return
	}
	p.retell(e, list)
}

// sameKeys tells the changed items, if all of them kept their keys.
func (p *eachPart) sameKeys(e *Engine, list *value.List) bool {
	same := true
	ok := p.told.Changes(list, func(i int, _, is value.Value) bool {
		b := p.items[i]
		if p.t.by != nil && !value.Equal(p.keyOf(e, is, i), b.key) {
			same = false
			return false
		}
		e.write(&b.locals[0], is)
		return true
	})
	return ok && same
}

// keyOf is the key of an item. The key's expression reads the item as a local
// of a block that is not rendered.
func (p *eachPart) keyOf(e *Engine, item value.Value, i int) value.Value {
	if p.t.by == nil {
		return value.Number(i)
	}
	if e.probe == nil {
		e.probe = &Block{e: e, locals: make([]node, 2)}
	}
	b := e.probe
	b.t, b.inst, b.up = p.t.body, p.block.inst, p.block
	b.locals[0], b.locals[1] = node{val: item}, node{val: value.Number(i)}
	var key value.Value
	e.untracked(func() { key = e.run(p.t.by, p.block.inst, b) })
	return key
}

// retell works out the keys of the whole list.
func (p *eachPart) retell(e *Engine, list *value.List) {
	e.undo = append(e.undo, undo{kind: undoOrder, part: p, list: p.told, keys: p.order, val: p.twice})
	keys := make([]value.Value, list.Len())
	seen := make(map[value.Value]bool, list.Len())
	p.twice = nil
	items := list.Items()
	for i, v := range items {
		k := p.keyOf(e, v, i)
		if seen[k] && p.twice == nil {
			p.twice = k
		}
		seen[k] = true
		keys[i] = k
	}
	p.told, p.order = list, keys
	told := make(map[value.Value]bool, len(keys))
	for i, k := range keys {
		if b := p.byKey[k]; b != nil && !told[k] { // of two with one key, the first; the refresh fails if it stays so
			told[k] = true
			e.write(&b.locals[0], items[i])
			e.write(&b.locals[1], value.Number(i))
			e.setAbsent(b, false, i)
		}
	}
	for _, b := range p.items {
		if !seen[b.key] {
			e.setAbsent(b, true, b.index)
		}
	}
}

// indexOf is the place of an item in a list. Where the each itself is ending
// its items have not been told of the list, and are found by their keys.
func (p *eachPart) indexOf(e *Engine, b *Block, list *value.List) (int, bool) {
	if list == p.told {
		return b.index, !b.absent
	}
	for i, v := range list.Items() {
		if value.Equal(p.keyOf(e, v, i), b.key) {
			return i, true
		}
	}
	return 0, false
}

func (e *Engine) setAbsent(b *Block, absent bool, index int) {
	if b.absent != absent || b.index != index {
		e.undo = append(e.undo, undo{kind: undoItem, block: b, flag: b.absent, index: b.index})
		if b.movedIn != e.window+1 {
			b.movedIn, b.movedFrom = e.window+1, b.index
		}
		b.absent, b.index = absent, index
		e.epoch++
	}
}

// refresh shows the current list.
func (p *eachPart) refresh(e *Engine) {
	p.reconcile(e)
	if p.twice != nil {
		e.fail(p.t.list.at, "two items of this list have the key %s", value.Brief(p.twice, 40))
	}
	if p.order == nil {
		return
	}
	e.undo = append(e.undo, undo{kind: undoItems, part: p, blocks: p.items, byKey: p.byKey, keys: p.order})
	old, byKey := p.items, make(map[value.Value]*Block, len(p.order))
	for _, b := range old {
		if b.absent {
			e.unmount(b)
		}
	}
	fresh := make([]*Block, len(p.order))
	for i, k := range p.order {
		b := p.byKey[k]
		if b == nil {
			b = p.mountItem(e, k, i)
		}
		fresh[i], byKey[k] = b, b
	}
	p.items, p.byKey, p.order = fresh, byKey, nil
	e.moved = true
}

func (p *eachPart) mountItem(e *Engine, key value.Value, i int) *Block {
	return e.mountBlock(p.t.body, p.block.inst, p.block, p, p.parent, func(b *Block) {
		b.key, b.index = key, i
		b.locals = make([]node, max(2, p.t.def.Locals))
		b.locals[0] = node{val: p.told.At(i), item: true, block: b, label: p.t.def.Item.Label, of: &p.list}
		b.locals[1] = node{val: value.Number(i), item: true, block: b, label: p.t.def.Item.Label, of: &p.list}
		for at := 2; at < len(b.locals); at++ {
			b.locals[at] = node{val: value.Null{}, item: true}
		}
	})
}
