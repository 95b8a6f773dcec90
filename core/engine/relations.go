package engine

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/page"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// What ties instances together beyond links: contexts, names and gathered lists.

// supplyCode is a context that a component supplies, compiled.
type supplyCode struct {
	t    *useTemplate
	slot int
}

func (p *program) contexts(c *component) {
	for _, s := range c.def.Supplies {
		b := &blockBuilder{p: p}
		c.supply = append(c.supply, &supplyCode{b.use(s.Use).(*useTemplate), s.Member.Slot})
	}
	for _, m := range c.def.Members {
		for _, h := range m.Hears {
			c.hears[h.Event] = p.body(h.Body)
		}
	}
}

// relation is the first value of a member that stands for other instances.
func (e *Engine) relation(i *Instance, slot int) value.Value {
	m := i.comp.slots[slot]
	switch m.Kind {
	case design.Supplied:
		for _, s := range i.comp.supply {
			if s.slot == slot {
				return e.supplied(i, s)
			}
		}
	case design.Used:
		if c := i.context(m.Context); c != nil {
			if len(m.Hears) > 0 {
				e.undo = append(e.undo, undo{kind: undoUser, inst: c, index: len(c.users)})
				c.users = append(c.users, i)
			}
			return c
		}
		if !types.Nullable(m.Type()) {
			e.fail(m.Syntax.Span(), "nothing above %s supplies %s", i.Path(), m.Context.Name)
		}
	case design.Gathered:
		return value.Empty
	}
	return value.Null{}
}

// supplied makes the context that an instance supplies.
func (e *Engine) supplied(i *Instance, s *supplyCode) *Instance {
	above := i
	c := e.used(e.program.components[s.t.def.Component], &usage{s.t, i, nil, above})
	i.contexts = append(i.contexts, c)
	e.mounted(c)
	return c
}

// Contexts are those that an instance supplies.
func (i *Instance) Contexts() []*Instance { return i.contexts }

// context is the nearest context of a kind above an instance. What the
// instance supplies itself is for those below it.
func (i *Instance) context(of *design.Component) *Instance {
	for u := i.use; u != nil; u = u.above.use {
		for _, c := range u.above.contexts {
			if c.comp.def == of && c != i {
				return c
			}
		}
	}
	return nil
}

// hearers are the users of a context that hear an event, in tree order.
func (i *Instance) hearers(m *design.Member) []*Instance {
	var list []*Instance
	for _, u := range i.users {
		if !u.gone && u.comp.hears[m] != nil {
			list = append(list, u)
		}
	}
	slices.SortStableFunc(list, func(a, b *Instance) int { return comparePlaces(a.anchor(), b.anchor()) })
	return list
}

// name gives a named instance or element to the member or local that stands for it.
func (e *Engine) name(n *handle, b *Block, v value.Value) {
	if n == nil {
		return
	}
	var to *node
	if n.local {
		to = b.local(n.level, n.slot)
	} else {
		to = &b.inst.values[n.slot]
	}
	e.write(to, v)
	b.names = append(b.names, to)
}

// handle says which member or local a node names.
type handle struct {
	local       bool
	level, slot int
}

func namedBy(s any) *handle {
	switch s := s.(type) {
	case *design.Member:
		return &handle{slot: s.Slot}
	case *design.ViewLocal:
		return &handle{true, s.Level, s.Slot}
	}
	return nil
}

// unname takes the names back that a block gave, unless others have them now.
func (e *Engine) unname(b *Block) {
	for _, n := range b.names {
		gone := false
		switch v := n.val.(type) {
		case *Instance:
			gone = v.gone
		case *Element:
			gone = v.block.gone
		}
		if gone {
			e.write(n, value.Null{})
		}
	}
}

// Kind is value.InstanceKind: a named element is a value like an instance.
func (el *Element) Kind() value.Kind { return value.InstanceKind }

func (el *Element) String() string { return el.Tag() }

// elementCall is a method of an element, called in a turn and run after it.
type elementCall struct {
	el   *Element
	name string
	text string      // that the method is given
	at   source.Span // where it is called
	into *opening    // or: to raise, and to move the focus into if it is modal
	back *page.Layer // or: to give the focus back that this took
}

// elementMethod compiles box.focus and its like.
func (p *program) elementMethod(x eval, m *design.ElementMethod, optional bool, at source.Span) eval {
	return func(f *frame) value.Value {
		el, ok := x(f).(*Element)
		if !ok && optional {
			return value.Null{}
		}
		if !ok {
			f.e.fail(at, "what stands before .%s is null", m.Label)
		}
		return &Func{name: m.Label, does: true, call: func(e *Engine, args []value.Value) value.Value {
			e.calls = append(e.calls, elementCall{el: el, name: m.Label, text: text(args, 0, ""), at: at})
			e.note(CalledFor, el.block.inst, el.Tag()+"."+m.Label, nil, at)
			return value.Null{}
		}}
	}
}

// callLayer puts what is to happen above the page before the calls of elements, which find it done.
func (e *Engine) callLayer(c elementCall) {
	at := slices.IndexFunc(e.calls, func(c elementCall) bool { return c.el != nil })
	if at < 0 {
		at = len(e.calls)
	}
	e.calls = slices.Insert(e.calls, at, c)
}

// runCalls runs the element methods that were called in a turn; the events
// that they cause are turns of their own.
func (e *Engine) runCalls() error {
	for len(e.calls) > 0 {
		c := e.calls[0]
		e.calls = e.calls[1:]
		if c.el != nil && c.el.block.gone {
			continue
		}
		if e.calling == maxRounds {
			e.calls = nil
			return &Failure{At: c.at, Message: fmt.Sprintf("what follows from this never ends: after %d events elements are still called", maxRounds)}
		}
		e.calling++
		err := e.callElement(c)
		e.calling--
		if err != nil {
			e.calls = nil
			return err
		}
	}
	return nil
}

func (e *Engine) callElement(c elementCall) error {
	switch {
	case c.back != nil:
		return e.page.GiveBack(c.back)
	case c.into != nil:
		if c.into.use.block.gone {
			return nil
		}
		e.page.Raise(&c.into.layer, c.into.modal)
		if !c.into.modal {
			return nil
		}
		return e.page.Enter(&c.into.layer)
	}
	return e.page.Call(&c.el.Element, c.name, c.text)
}

// gather lists the instances of the gathered kinds that are rendered in an
// instance, at any depth down to the next one that gathers the same.
func (e *Engine) gather(i *Instance, m *design.Member) value.Value {
	var list []value.Value
	if i.body == nil {
		return value.Empty
	}
	walkParts(i.body.parts, func(p part) bool {
		u, ok := p.(*usePart)
		if !ok {
			return true
		}
		if slices.Contains(m.Kinds, u.inst.comp.def) {
			list = append(list, u.inst)
		}
		return !gathersSame(u.inst.comp.def, m)
	})
	return value.NewList(list)
}

func gathersSame(c *design.Component, m *design.Member) bool {
	for _, o := range c.Members {
		if o.Kind == design.Gathered && slices.Equal(o.Kinds, m.Kinds) {
			return true
		}
	}
	return false
}

// regather works the gathered lists out again after instances came, went or
// moved.
func (e *Engine) regather() {
	if !e.moved {
		return
	}
	e.moved = false
	e.formsMoved()
	for _, c := range e.program.gatherers {
		for _, i := range e.all(c) {
			for slot, m := range c.slots {
				if m.Kind == design.Gathered {
					e.write(&i.values[slot], e.gather(i, m))
				}
			}
		}
	}
}
