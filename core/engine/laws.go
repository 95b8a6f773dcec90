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

// EvalStill works out a condition on a turn that changes nothing.
func (e *Engine) EvalStill(c *Condition) (v value.Value, err error) {
	e.still = true
	defer func() { e.still = false }()
	return e.Eval(c)
}

// EvalBefore works out a condition on the state before the turn; null where an
// instance was not there.
func (e *Engine) EvalBefore(c *Condition) (v value.Value, err error) {
	return e.guarded(func() value.Value {
		return e.before(func() value.Value { return e.run(c.code, nil, nil) })
	})
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
	e.limited(func() { v = read() })
	return v, nil
}

// lawCall compiles what only laws and scenarios ask: all(c), the(c), was(x),
// reported(c.event), running(c.timer) and waiting(service.operation).
func (p *program) lawCall(x *types.Builtin, args []eval) eval {
	at := x.Span()
	switch x.Name {
	case "was":
		return func(f *frame) value.Value {
			if f.e.still {
				return args[0](f)
			}
			return f.e.before(func() value.Value { return args[0](f) })
		}
	case "runningAny":
		m := x.Of.(*design.Member)
		return func(f *frame) value.Value { return value.Bool(f.e.runs(nil, m, evalAll(f, args))) }
	case "runningOf":
		m := x.Of.(*design.Member)
		return func(f *frame) value.Value {
			i, ok := args[0](f).(*Instance)
			return value.Bool(ok && f.e.runs(i, m, evalAll(f, args[1:])))
		}
	case "waiting":
		o := x.Of.(*design.Operation)
		return func(f *frame) value.Value { return value.Bool(f.e.waits(o, evalAll(f, args))) }
	case "reported":
		m := x.Of.(*design.Member)
		return func(f *frame) value.Value { return value.Bool(!f.e.still && f.e.record.reported(m)) }
	}
	c := p.components[x.Of.(*design.Component)]
	if x.Name == "all" {
		return func(f *frame) value.Value { return instanceList(f.e.allNow(c)) }
	}
	return func(f *frame) value.Value { return f.e.only(c, at) }
}

// runs says whether a timer runs with these first arguments, of one instance or,
// with nil, of any.
func (e *Engine) runs(i *Instance, m *design.Member, args []value.Value) (runs bool) {
	e.timers.each(func(t *timer) {
		runs = runs || t.member == m && (i == nil || t.inst == i) && e.begins(t, args)
	})
	return runs
}

// waits says whether a question with these first arguments waits.
func (e *Engine) waits(o *design.Operation, args []value.Value) bool {
	for _, a := range e.asks {
		if a.op.def != o {
			continue
		}
		same := true
		for i, v := range args {
			same = same && value.Equal(v, a.args[i])
		}
		if same {
			return true
		}
	}
	return false
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
