package engine

import (
	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// Condition is an expression of a law or scenario, compiled.
type Condition struct{ code *code }

// Compile compiles an expression of a law or scenario.
func (e *Engine) Compile(u *design.Unit) *Condition { return &Condition{e.program.unit(u)} }

// Eval works out a condition on the state as it is. It fails as a turn does.
func (e *Engine) Eval(c *Condition) (v value.Value, err error) {
	return e.guarded(func() value.Value { return e.run(c.code, nil, nil) })
}

// guarded reads the state outside of a turn; what fails is given back.
func (e *Engine) guarded(read func() value.Value) (v value.Value, err error) {
	defer func() {
		if r := recover(); r != nil {
			f, ok := r.(*Failure)
			if !ok {
				panic(r)
			}
			e.abandon()
			err = f
		}
	}()
	e.steps, e.depth = 0, 0
	return read(), nil
}

// lawCall compiles all(c), the(c), was(x) and reported(c.event).
func (p *program) lawCall(x *types.Builtin, args []eval) eval {
	at := x.Span()
	switch x.Name {
	case "was":
		return func(f *frame) value.Value { return f.e.before(func() value.Value { return args[0](f) }) }
	case "reported":
		m := x.Of.(*design.Member)
		return func(f *frame) value.Value { return value.Bool(f.e.record.reported(m)) }
	}
	c := p.components[x.Of.(*design.Component)]
	if x.Name == "all" {
		return func(f *frame) value.Value { return instanceList(f.e.allNow(c)) }
	}
	return func(f *frame) value.Value { return f.e.only(c, at) }
}

func instanceList(list []*Instance) value.Value {
	items := make([]value.Value, len(list))
	for i, x := range list {
		items[i] = x
	}
	return value.NewList(items)
}

// before works a value out as it was before the turn; it is null where an
// instance was not there.
func (e *Engine) before(read func() value.Value) (v value.Value) {
	outer := e.past
	e.past = true
	defer func() {
		e.past = outer
		if r := recover(); r != nil {
			if _, ok := r.(absent); !ok {
				panic(r)
			}
			v = value.Null{}
		}
	}()
	return read()
}

// absent ends a look at the past: an instance was not there.
type absent struct{}

// allNow are the instances of a component, now or before the turn.
func (e *Engine) allNow(c *component) []*Instance {
	if !e.past {
		return e.all(c)
	}
	var list []*Instance
	for _, i := range e.all(c) {
		if !e.isNew(i) {
			list = append(list, i)
		}
	}
	for _, i := range e.record.unmounted {
		if i.comp == c && !e.isNew(i) {
			list = append(list, i)
		}
	}
	return list
}

func (e *Engine) isNew(i *Instance) bool {
	for _, b := range e.record.mounted {
		if b == i {
			return true
		}
	}
	return false
}

func (e *Engine) only(c *component, at source.Span) value.Value {
	list := e.allNow(c)
	if len(list) == 1 {
		return list[0]
	}
	if e.past {
		panic(absent{})
	}
	e.fail(at, "the(%s) asks for the only one, but there are %d", c.def.Name, len(list))
	return nil
}

func (r *Record) reported(m *design.Member) bool {
	for _, rep := range r.Reports {
		if rep.member == m {
			return true
		}
	}
	return false
}
