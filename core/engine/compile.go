package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/flow"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// program is a design compiled: names are places in frames and instances,
// expressions and statements are functions.
type program struct {
	design     *design.Design
	components map[*design.Component]*component
	functions  map[*design.Function]*function
	consts     map[*design.Const]value.Value
	gatherers  []*component
	operations map[*design.Operation]*operation
	orders     map[*design.Member]int // of members in their components
	places     map[*design.Use]int    // of uses among those of the same component in one view
	sites      int                    // places that ask or open, so far
	sees       sight
	hears      map[string]bool // events of which there are handlers
	drags      bool            // any of dragging
	layers     bool            // there are dialogs or popovers
	risks      *flow.Risks
	inputs     *flow.Inputs // what to type and press, once asked for
}

// component is a component compiled.
type component struct {
	def      *design.Component
	inits    []*code // by slot: first values, defaults, derivations; or nil
	kinds    []design.Kind
	labels   []string
	funcs    map[*design.Member]*function // derived functions
	bodies   map[*design.Member]*body     // actions, timers and set blocks
	delays   map[*design.Member]*function // of timers
	hears    map[*design.Member]*body     // of what its contexts emit
	hearings map[*design.Channel]*body
	supply   []*supplyCode
	field    *design.Member   // that makes it a form control, or nil
	slots    []*design.Member // by slot: the member
	hooks    []hookCode
	follows  []followCode
	view     *blockTemplate
}

// function is a derived function compiled.
type function struct {
	params int
	code   *code
}

// body is the statements of a handler or action compiled.
type body struct {
	params int
	slots  []int // of the parameters in a captured frame; nil: the first ones
	locals int
	run    exec
	at     source.Span
}

func compile(d *design.Design, strict bool) *program {
	p := &program{design: d, components: map[*design.Component]*component{},
		functions: map[*design.Function]*function{}, consts: map[*design.Const]value.Value{},
		operations: map[*design.Operation]*operation{}, orders: map[*design.Member]int{}, places: placesOf(d), sees: sightOf(d), hears: hearsOf(d), layers: hasLayers(d), risks: flow.RisksOf(d, strict)}
	p.drags = slices.ContainsFunc(drags, func(n string) bool { return p.hears[n] })
	for _, f := range d.Functions {
		p.functions[f] = &function{params: len(f.Params)}
	}
	for _, c := range d.Components {
		p.components[c] = &component{def: c, funcs: map[*design.Member]*function{}, bodies: map[*design.Member]*body{}, delays: map[*design.Member]*function{}, hears: map[*design.Member]*body{}, hearings: map[*design.Channel]*body{}}
	}
	for _, f := range d.Functions {
		p.functions[f].code = p.unit(&f.Unit)
	}
	for _, c := range d.Components {
		p.component(p.components[c])
		for _, m := range c.Members {
			if m.Kind == design.Gathered {
				p.gatherers = append(p.gatherers, p.components[c])
				break
			}
		}
	}
	return p
}

func (p *program) component(c *component) {
	c.field = c.def.Field()
	for i, m := range c.def.Members {
		p.orders[m] = i
	}
	for _, m := range c.def.Members {
		if m.Call {
			c.funcs[m] = &function{params: len(m.Args)}
		}
		if m.Body != nil {
			c.bodies[m] = &body{}
		}
	}
	for _, m := range c.def.Members {
		switch {
		case m.HasValue():
			var init *code
			if m.Init != nil {
				init = p.unit(m.Init)
			}
			c.inits = append(c.inits, init)
			c.kinds = append(c.kinds, m.Kind)
			c.slots = append(c.slots, m)
			c.labels = append(c.labels, c.def.Name+"."+m.Label)
		case m.Call:
			c.funcs[m].code = p.unit(m.Init)
		case m.Kind == design.Timer:
			c.delays[m] = &function{len(m.Args), p.unit(m.Init)}
		}
		if m.Body != nil {
			*c.bodies[m] = *p.body(m.Body)
		}
	}
	p.living(c)
	p.contexts(c)
	c.view = p.block(c.def.View)
}

// unit compiles an expression with its frame.
func (p *program) unit(u *design.Unit) *code {
	return &code{eval: p.expr(u.Expr), locals: u.Locals, at: u.Expr.Span(), exprs: []types.Expr{u.Expr}, passes: passes(u.Expr), steady: steady(u.Expr)}
}

// passes says whether an expression names something, and gives its value as it is.
func passes(x types.Expr) bool {
	switch x := x.(type) {
	case *types.Ref:
		switch s := x.Symbol.(type) {
		case *design.ViewLocal:
			return true
		case *design.Member:
			return s.HasValue()
		}
	case *types.Select:
		m, ok := x.Member.(*design.Member)
		return ok && m.HasValue() && passes(x.X)
	}
	return false
}

// expr compiles an expression.
func (p *program) expr(x types.Expr) eval {
	switch x := x.(type) {
	case *types.Const:
		v := x.Value
		return func(*frame) value.Value { return v }
	case *types.Ref:
		return p.ref(x)
	case *types.Dot:
		return p.dot(x)
	case *types.Select:
		return p.selected(x)
	case *types.At:
		return p.at(x)
	case *types.Unary:
		return p.unary(x)
	case *types.Binary:
		return p.binary(x)
	case *types.Cond:
		c, a, b := p.expr(x.C), p.expr(x.X), p.expr(x.Y)
		return func(f *frame) value.Value {
			if c(f) == value.Value(value.Bool(true)) {
				return a(f)
			}
			return b(f)
		}
	case *types.Template:
		return p.template(x)
	case *types.ListOf:
		return p.listOf(x)
	case *types.RecordOf:
		return p.recordOf(x)
	case *types.Lambda:
		return p.lambda(x)
	case *types.Method:
		return p.method(x)
	case *types.Builtin:
		return p.builtin(x)
	case *types.Apply:
		return p.apply(x)
	}
	panic("engine: an expression of an unknown kind")
}

func (p *program) ref(x *types.Ref) eval {
	switch s := x.Symbol.(type) {
	case *types.Local:
		slot := s.Slot
		return func(f *frame) value.Value { return f.loc[slot] }
	case *design.ViewLocal:
		level, slot := s.Level, s.Slot
		return func(f *frame) value.Value { return f.e.read(f.block.local(level, slot)) }
	case *design.Const:
		return func(f *frame) value.Value { return f.e.constant(s) }
	case *design.Function:
		return p.topFunction(s)
	case *design.Member:
		return p.member(s)
	}
	panic("engine: a name of an unknown kind")
}

// constant is the value of a constant; it is worked out once a program.
func (e *Engine) constant(k *design.Const) value.Value {
	if v, ok := e.program.consts[k]; ok {
		return v
	}
	v := k.Data
	if v == nil {
		v = e.run(e.program.unit(&k.Unit), nil, nil)
	}
	e.program.consts[k] = v
	return v
}

func (p *program) topFunction(s *design.Function) eval {
	fn := p.functions[s]
	if !s.Syntax.Call {
		return func(f *frame) value.Value { return f.e.run(fn.code, nil, nil) }
	}
	return func(f *frame) value.Value {
		return &Func{name: s.Label, call: func(e *Engine, args []value.Value) value.Value { return e.call(fn, nil, nil, args) }}
	}
}

func (p *program) member(m *design.Member) eval {
	switch {
	case m.HasValue():
		slot := m.Slot
		return func(f *frame) value.Value { return f.e.read(&f.inst.values[slot]) }
	case m.Call:
		return func(f *frame) value.Value { return f.inst.function(m) }
	}
	return func(f *frame) value.Value { return f.inst.action(m) }
}

// function is a derived function as a value, bound to its instance.
func (i *Instance) function(m *design.Member) value.Value {
	fn := i.comp.funcs[m]
	return i.bind(m, func() *Func {
		return &Func{name: m.Label, owner: i, call: func(e *Engine, args []value.Value) value.Value {
			return e.call(fn, i, nil, args)
		}}
	})
}

// bind is a function as a value, made the first time that it is asked for.
func (i *Instance) bind(m *design.Member, as func() *Func) *Func {
	f := i.bound[m]
	if f == nil {
		if f = as(); i.bound == nil {
			i.bound = map[*design.Member]*Func{}
		}
		i.bound[m] = f
	}
	return f
}

// action is an action as a value, bound to its instance.
func (i *Instance) action(m *design.Member) value.Value {
	b := i.comp.bodies[m]
	return i.bind(m, func() *Func {
		return &Func{name: m.Label, owner: i, does: true, call: func(e *Engine, args []value.Value) value.Value {
			e.do(b, i, nil, args)
			return value.Null{}
		}}
	})
}

// Func is a function as a value: taken, handed out or passed on, never kept.
type Func struct {
	name  string
	owner *Instance // whose end ends it; nil at the top
	does  bool      // it changes things
	call  func(e *Engine, args []value.Value) value.Value
}

// Kind is value.FuncKind.
func (*Func) Kind() value.Kind { return value.FuncKind }

func (f *Func) String() string { return f.name + "()" }

// call works out a function's value in a frame of its own.
func (e *Engine) call(fn *function, inst *Instance, block *Block, args []value.Value) value.Value {
	e.enter(fn.code.at)
	base := e.push(fn.code.locals)
	f := e.newFrame(inst, block)
	f.loc = e.stack[base : base+fn.code.locals]
	fill(f.loc[:fn.params], args)
	v := fn.code.eval(f)
	e.stack = e.stack[:base]
	e.framed--
	e.depth--
	return v
}

// fill copies arguments to parameters; those left out are null.
func fill(params, args []value.Value) {
	for i := range params {
		params[i] = value.Null{}
		if i < len(args) {
			params[i] = args[i]
		}
	}
}

// enter counts nested calls, which are limited so that they always end.
func (e *Engine) enter(at source.Span) {
	e.depth++
	e.step(at)
	if e.depth > maxNesting {
		e.fail(at, "more than %d calls are nested here", maxNesting)
	}
}

func (p *program) apply(x *types.Apply) eval {
	args := p.exprs(x.Args)
	at := x.Span()
	if ref, ok := x.Fun.(*types.Ref); ok {
		switch s := ref.Symbol.(type) {
		case *design.Function:
			fn := p.functions[s]
			return func(f *frame) value.Value { return f.e.call(fn, nil, nil, evalAll(f, args)) }
		case *design.Member:
			if s.Call {
				return func(f *frame) value.Value { return f.e.call(f.inst.comp.funcs[s], f.inst, nil, evalAll(f, args)) }
			}
		}
	}
	fun := p.expr(x.Fun)
	return func(f *frame) value.Value {
		fn, ok := fun(f).(*Func)
		if !ok {
			if !x.Optional {
				f.e.fail(at, "what is called here is null")
			}
			return value.Null{}
		}
		return fn.call(f.e, evalAll(f, args))
	}
}

func (p *program) exprs(list []types.Expr) []eval {
	out := make([]eval, len(list))
	for i, x := range list {
		out[i] = p.expr(x)
	}
	return out
}

func evalAll(f *frame, list []eval) []value.Value {
	out := make([]value.Value, len(list))
	for i, x := range list {
		out[i] = x(f)
	}
	return out
}

// lambda compiles an arrow function; its parameters are locals of the frame
// it stands in, of which it keeps a copy.
func (p *program) lambda(x *types.Lambda) eval {
	body, slots := p.expr(x.Body), slotsOf(x)
	return func(f *frame) value.Value {
		g := &frame{e: f.e, inst: f.inst, block: f.block, loc: append([]value.Value(nil), f.loc...)}
		return &Func{name: "a function", owner: f.inst, call: func(_ *Engine, args []value.Value) value.Value {
			for i, s := range slots {
				g.loc[s] = args[i]
			}
			return body(g)
		}}
	}
}

func slotsOf(x *types.Lambda) []int {
	slots := make([]int, len(x.Params))
	for i, l := range x.Params {
		slots[i] = l.Slot
	}
	return slots
}

// callback is what a method of lists is given to call, with as many values as
// it takes of those that there are.
type callback func(f *frame, values [3]value.Value) value.Value

// callback compiles the function argument of a list method. An arrow function
// is called in the frame that it stands in.
func (p *program) callback(x types.Expr) callback {
	if l, ok := x.(*types.Lambda); ok {
		body, slots := p.expr(l.Body), slotsOf(l)
		return func(f *frame, values [3]value.Value) value.Value {
			for i, s := range slots {
				f.loc[s] = values[i]
			}
			return body(f)
		}
	}
	fun := p.expr(x)
	return func(f *frame, values [3]value.Value) value.Value {
		n := 0
		for n < len(values) && values[n] != nil {
			n++
		}
		return fun(f).(*Func).call(f.e, slices.Clone(values[:n]))
	}
}

func (p *program) unary(x *types.Unary) eval {
	a := p.expr(x.X)
	if x.Op == syntax.Not {
		return func(f *frame) value.Value { return !a(f).(value.Bool) }
	}
	return func(f *frame) value.Value { return 0 - a(f).(value.Number) }
}

func (p *program) template(x *types.Template) eval {
	texts, exprs, at := x.Texts, p.exprs(x.Exprs), x.Span()
	return func(f *frame) value.Value {
		out := make([]byte, 0, 32)
		for i, t := range texts {
			out = append(out, t...)
			if i < len(exprs) {
				out = append(out, value.Text(exprs[i](f))...)
			}
		}
		return f.e.text(value.Joined(string(out)), at)
	}
}

func (p *program) listOf(x *types.ListOf) eval {
	items := make([]eval, len(x.Items))
	for i, it := range x.Items {
		items[i] = p.expr(it.X)
	}
	at := x.Span()
	return func(f *frame) value.Value {
		var out []value.Value
		for i, it := range x.Items {
			v := items[i](f)
			if !it.Spread {
				out = append(out, v)
				continue
			}
			out = append(out, v.(*value.List).Items()...)
		}
		f.e.short(len(out), at)
		return f.e.made(value.NewList(out), at)
	}
}

func (p *program) recordOf(x *types.RecordOf) eval {
	values, at := p.exprs(x.Values), x.Span()
	names := x.Names
	plain := true
	for _, n := range names {
		plain = plain && n != ""
	}
	if plain {
		return func(f *frame) value.Value { return f.e.made(value.NewRecord(names, evalAll(f, values)), at) }
	}
	return func(f *frame) value.Value {
		r := value.NewRecord(nil, nil)
		for i, n := range names {
			v := values[i](f)
			if n != "" {
				r = r.With(n, v)
				continue
			}
			from := v.(*value.Record)
			if len(r.Names) == 0 {
				r = from
				continue
			}
			for j, m := range from.Names {
				r = r.With(m, from.At(j))
			}
		}
		return f.e.made(r, at)
	}
}

func (p *program) dot(x *types.Dot) eval {
	a, name, at := p.expr(x.X), x.Name, x.Span()
	return func(f *frame) value.Value {
		r, ok := a(f).(*value.Record)
		if !ok {
			if !x.Optional {
				f.e.fail(at, "what stands before .%s is null", name)
			}
			return value.Null{}
		}
		return r.Get(name)
	}
}

func (p *program) selected(x *types.Select) eval {
	if m, ok := x.Member.(*design.FormPart); ok {
		return p.formPart(x.X, m, design.FormValues(x.X.Type()), x.Optional, x.Span())
	}
	if m, ok := x.Member.(*design.ElementMethod); ok {
		return p.elementMethod(p.expr(x.X), m, x.Optional, x.Span())
	}
	a, m, at := p.expr(x.X), x.Member.(*design.Member), x.Span()
	return func(f *frame) value.Value {
		i, ok := a(f).(*Instance)
		switch {
		case !ok && !x.Optional:
			f.e.missing(f, x.X, m.Label, at)
		case !ok:
			return value.Null{}
		case m.Call:
			return i.function(m)
		case m.Kind == design.Action:
			return i.action(m)
		case f.e.past && f.e.isNew(i):
			panic(absent{})
		}
		return f.e.read(&i.values[m.Slot])
	}
}

func (p *program) at(x *types.At) eval {
	a, i := p.expr(x.X), p.expr(x.I)
	return func(f *frame) value.Value {
		l, ok := a(f).(*value.List)
		if !ok {
			return value.Null{}
		}
		n := float64(i(f).(value.Number))
		if n != float64(int(n)) || n < 0 || int(n) >= l.Len() {
			return value.Null{}
		}
		return l.At(int(n))
	}
}
