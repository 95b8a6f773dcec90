package engine

import (
	"lien/core/design"
	"lien/core/value"
)

// slotPart is the place where content of the component's user is rendered.
// The content sees its writer's members; its contexts, identity and order are
// those of this place.
type slotPart struct {
	t       *slotTemplate
	block   *Block
	content []*Block
}

func (b *blockBuilder) slot(n *design.SlotPlace) template {
	t := &slotTemplate{order: b.next(), name: n.Name}
	for i := range n.Data {
		t.data = append(t.data, b.p.unit(&n.Data[i]))
	}
	t.fallback = b.p.blockAt(n.Fallback, b.level)
	return t
}

func (t *slotTemplate) mount(e *Engine, b *Block, parent *Element) part {
	p := &slotPart{t: t, block: b}
	var fill *fillTemplate
	if b.inst.use != nil {
		fill = b.inst.use.t.fills[t.name]
	}
	if fill == nil {
		p.content = []*Block{e.mountBlock(t.fallback, b.inst, b, p, parent, nil)}
		return p
	}
	user := b.inst.use
	content := e.mountBlock(fill.body, user.inst, user.block, p, parent, func(c *Block) {
		p.content = []*Block{c}
		if fill.receives {
			p.handOut(c, max(fill.locals, len(t.data)))
		}
	})
	p.content = []*Block{content}
	return p
}

// handOut gives the content what the slot hands out.
func (p *slotPart) handOut(c *Block, locals int) {
	c.locals = make([]node, locals)
	for i := range c.locals {
		n := &c.locals[i]
		n.val = value.Null{}
		if i < len(p.t.data) {
			n.code, n.inst, n.block, n.link, n.state, n.val = p.t.data[i], p.block.inst, p.block, true, dirty, nil
			c.add(n)
		}
	}
}

// filled says whether what is shown was given by the component's user.
func (p *slotPart) filled() bool { return len(p.content) > 0 && p.content[0].inst != p.block.inst }

func (p *slotPart) place() (*Block, int) { return p.block, p.t.order }
func (p *slotPart) refresh(*Engine)      {}
func (p *slotPart) blocks() []*Block     { return p.content }
