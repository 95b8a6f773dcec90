package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// exec runs a statement, and says whether the body goes on after it.
type exec func(f *frame) bool

func (p *program) body(b *design.Body) *body {
	out := &body{params: len(b.Params), locals: b.Locals, run: p.stmts(b.Stmts), at: b.At}
	if b.Captured {
		out.slots = []int{}
		for _, l := range b.Params {
			out.slots = append(out.slots, l.Slot)
		}
	}
	return out
}

// do runs a body with arguments.
func (e *Engine) do(b *body, inst *Instance, block *Block, args []value.Value) {
	e.enter(b.at)
	if e.OnRun != nil {
		e.OnRun(b.at)
	}
	base := e.push(b.locals)
	f := e.newFrame(inst, block)
	f.loc = e.stack[base : base+b.locals]
	clear(f.loc) // what is captured of it is part of the state
	if b.slots == nil {
		fill(f.loc[:b.params], args)
	} else {
		f.loc = slices.Clone(f.loc)
		copy(f.loc, block.captured)
		for i, slot := range b.slots {
			f.loc[slot] = args[i]
		}
	}
	outer := e.acting
	e.acting = inst
	b.run(f)
	e.acting = outer
	e.stack = e.stack[:base]
	e.framed--
	e.depth--
}

func (p *program) stmts(list []design.Stmt) exec {
	all := make([]exec, len(list))
	for i, s := range list {
		all[i] = p.stmt(s)
	}
	if len(all) == 1 {
		return all[0]
	}
	return func(f *frame) bool {
		for _, s := range all {
			if !s(f) {
				return false
			}
		}
		return true
	}
}

func (p *program) stmt(s design.Stmt) exec {
	switch s := s.(type) {
	case *design.Assign:
		return p.assign(s)
	case *design.Let:
		slot, v := s.Local.Slot, p.expr(s.Value)
		return func(f *frame) bool {
			f.loc[slot] = v(f)
			return true
		}
	case *design.If:
		cond, then, other := p.expr(s.Cond), p.stmts(s.Then), p.stmts(s.Else)
		yes := value.Value(value.Bool(true))
		return func(f *frame) bool {
			if cond(f) == yes {
				return then(f)
			}
			return other(f)
		}
	case *design.For:
		return p.forEach(s)
	case *design.Return:
		return func(*frame) bool { return false }
	case *design.Emit:
		args, m := p.exprs(s.Args), s.Event
		return func(f *frame) bool {
			f.e.emit(f.inst, m, evalAll(f, args), s.Span())
			return true
		}
	case *design.Do:
		return p.doCall(s)
	case *design.Prevent:
		return func(f *frame) bool {
			if s.Stop {
				f.e.event.Stopped = true
			} else {
				f.e.event.Prevented = true
			}
			return true
		}
	case *design.Clock:
		return p.clock(s)
	case *design.Send:
		return p.send(s)
	case *design.Ask:
		return p.ask(s)
	case *design.Open:
		return p.open(s)
	case *design.Leave:
		return p.leave(s)
	case *design.Log:
		args := p.exprs(s.Args)
		return func(f *frame) bool {
			f.e.log(evalAll(f, args))
			return true
		}
	}
	panic("engine: a statement of an unknown kind")
}

func (p *program) forEach(s *design.For) exec {
	slot, list, run := s.Local.Slot, p.expr(s.List), p.stmts(s.Body)
	at := s.Span()
	return func(f *frame) bool {
		for _, v := range list(f).(*value.List).Items() {
			f.e.step(at)
			f.loc[slot] = v
			if !run(f) {
				return false
			}
		}
		return true
	}
}

// doCall compiles a call of an action, or of a function that was taken.
func (p *program) doCall(s *design.Do) exec {
	args, at := p.exprs(s.Args), s.Span()
	if ref, ok := s.Fun.(*types.Ref); ok {
		if m, ok := ref.Symbol.(*design.Member); ok && m.Kind == design.Action {
			return func(f *frame) bool {
				values := evalAll(f, args)
				f.e.note(Acted, f.inst, m.Label, values, at)
				f.e.deeper(func() { f.e.do(f.inst.comp.bodies[m], f.inst, nil, values) })
				return true
			}
		}
	}
	fun := p.expr(s.Fun)
	return func(f *frame) bool {
		fn, ok := fun(f).(*Func)
		if !ok && types.SkipsNull(s.Fun) {
			return true
		}
		if !ok {
			f.e.fail(at, "what is called here is null")
		}
		values := evalAll(f, args)
		if fn.owner != nil && fn.owner.gone && !slices.Contains(f.e.lasting, fn.owner) {
			f.e.notice(at, "%s was called, but its owner is gone", fn.name)
			return true
		}
		f.e.note(Acted, fn.owner, fn.name, values, at)
		f.e.deeper(func() { fn.call(f.e, values) })
		return true
	}
}

// assign compiles cell = e and its like. A path into a record or list makes a
// new value that shares the rest.
func (p *program) assign(s *design.Assign) exec {
	v := p.expr(s.Value)
	set := p.place(s.Place)
	return func(f *frame) bool {
		set(f, v(f))
		return true
	}
}

// setter writes a value to a place.
type setter func(f *frame, v value.Value)

func (p *program) place(pl *design.Place) setter {
	root := p.root(pl.Root)
	if pl.Of != nil {
		root = root.of(pl.Of.Slot)
	}
	if len(pl.Steps) == 0 {
		return root.set
	}
	steps := make([]step, len(pl.Steps))
	for i, s := range pl.Steps {
		steps[i] = step{field: s.Field, at: pl.At}
		if s.Index != nil {
			steps[i].index = p.expr(s.Index)
		}
	}
	return func(f *frame, v value.Value) { root.set(f, replace(f, root.get(f), steps, v)) }
}

// step goes into a record by a field, or into a list by an index.
type step struct {
	field string
	index eval
	at    source.Span
}

// replace is old with the value at the end of the steps replaced.
func replace(f *frame, old value.Value, steps []step, v value.Value) value.Value {
	if len(steps) == 0 {
		return v
	}
	s := steps[0]
	if s.index == nil {
		r, ok := old.(*value.Record)
		if !ok {
			f.e.fail(s.at, "what stands before .%s is null, so nothing can be written into it", s.field)
		}
		return r.With(s.field, replace(f, r.Get(s.field), steps[1:], v))
	}
	l, ok := old.(*value.List)
	n := float64(s.index(f).(value.Number))
	if !ok || n != float64(int(n)) || n < 0 || int(n) >= l.Len() {
		f.e.fail(s.at, "there is no item %s to write to", value.FormatNumber(n))
	}
	return l.With(int(n), replace(f, l.At(int(n)), steps[1:], v))
}

// root is a cell, or what writes like one.
type root struct {
	get eval
	set setter
}

// of is a root in the context that a slot of the instance has.
func (r root) of(slot int) root {
	in := func(f *frame) *frame {
		g := *f
		g.inst = f.e.read(&f.inst.values[slot]).(*Instance)
		return &g
	}
	return root{func(f *frame) value.Value { return r.get(in(f)) }, func(f *frame, v value.Value) { r.set(in(f), v) }}
}

func (p *program) root(s types.Symbol) root {
	switch s := s.(type) {
	case *design.Member:
		get := p.member(s)
		if s.Kind == design.Derives {
			return root{get, func(f *frame, v value.Value) {
				f.e.do(f.inst.comp.bodies[s], f.inst, nil, []value.Value{v})
			}}
		}
		slot := s.Slot
		if s.Kind == design.Shares {
			return root{get, func(f *frame, v value.Value) { f.e.writeShared(f.inst, slot, v) }}
		}
		return root{get, func(f *frame, v value.Value) { f.e.write(&f.inst.values[slot], v) }}
	case *design.ViewLocal:
		return p.itemRoot(s)
	}
	panic("engine: a place of an unknown kind")
}

// writeShared writes a shared member: the place it is tied to, or its own
// cell. What reaches a user that is gone is dropped.
func (e *Engine) writeShared(i *Instance, slot int, v value.Value) {
	if f := i.comp.field; f != nil && f.Slot == slot && e.event != nil {
		e.touchControl(i)
	}
	if i.use == nil || i.use.t.links[slot] == nil {
		e.write(&i.values[slot], v)
		return
	}
	if i.use.t.ties[slot] == nil {
		e.notice(i.comp.inits[slot].at, "%s was written, but its user only links it down", i.values[slot].label)
		return
	}
	if !i.use.inst.gone {
		e.writeTo(i.use.t.ties[slot], i.use.inst, i.use.block, v)
	}
}

// writeTo writes to the place of a tie, which stands in a block.
func (e *Engine) writeTo(t *tie, inst *Instance, b *Block, v value.Value) {
	if e.OnRun != nil {
		e.OnRun(t.code.at)
	}
	base := e.push(t.code.locals)
	f := e.newFrame(inst, b)
	f.loc = e.stack[base : base+t.code.locals]
	outer := e.acting
	e.acting = inst
	t.set(f, v)
	e.acting = outer
	e.stack = e.stack[:base]
	e.framed--
}

// itemRoot writes to an item of an each: the item with its key, in the list
// that the each goes through.
func (p *program) itemRoot(l *design.ViewLocal) root {
	set := p.place(l.Each.Place)
	level, slot, at := l.Level, l.Slot, l.At
	// item is the list as it is, and the place of the item in it.
	item := func(f *frame) (each *eachPart, list *value.List, index int, ok bool) {
		b := f.block.atLevel(level)
		each = b.host.(*eachPart)
		f.e.reconcileStale()
		list = f.e.read(&each.list).(*value.List)
		index, ok = each.indexOf(f.e, b, list)
		return each, list, index, ok
	}
	kept := func(f *frame) value.Value { return f.e.read(f.block.local(level, slot)) }
	return root{func(f *frame) value.Value {
		if _, list, index, ok := item(f); ok {
			return list.At(index)
		}
		return kept(f)
	}, func(f *frame, v value.Value) {
		each, list, index, ok := item(f)
		if !ok {
			f.e.notice(at, "%s was written, but it is gone from its list", value.Brief(kept(f), 30))
			return
		}
		set(&frame{e: f.e, inst: each.block.inst, block: each.block, loc: f.loc}, list.With(index, v))
	}}
}
