package form

import (
	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// run works out what a body does: what it tells the world, and what cells hold at its end.
func (i *instance) run(b *design.Body, l *locals) *body {
	out := &body{}
	if b == nil {
		return out
	}
	vars := copied(i.captured)
	for _, p := range b.Params {
		own := &binder{}
		out.params = append(out.params, own)
		vars[p] = &term{op: "var", sym: own}
	}
	return i.runStmts(out, b.Stmts, l, vars)
}

func (i *instance) runStmts(out *body, stmts []design.Stmt, l *locals, vars map[types.Symbol]*term) *body {
	r := &run{i: i, locals: l, vars: vars, store: &store{cells: map[*cell]*term{}}, out: &told{list: &out.does}}
	r.ret = r.endsIn(out)
	r.stmts(stmts, r.ret)
	return out
}

// endsIn notes what cells hold at the end of a body: of all of it, or of one way through it.
func (r *run) endsIn(b *body) func(*run) {
	all := r.out
	return func(end *run) {
		if end.out == all {
			b.ends = end.store.changes()
			return
		}
		end.tell(&effect{op: "ends", held: end.store.changes()})
	}
}

// told is what the world is told on one way through a handler, and how much it was told on the way there.
type told struct {
	list *[]*effect
	from int
}

// moment is how much was told by now: another number at each moment of one way.
func (t *told) moment() int { return t.from + len(*t.list) }

// stmts goes through statements, and then on with what comes after them.
func (r *run) stmts(list []design.Stmt, next func(*run)) {
	if len(list) == 0 {
		next(r)
		return
	}
	r.i.b.spend()
	rest := func(r *run) { r.stmts(list[1:], next) }
	switch s := list[0].(type) {
	case *design.Assign:
		r.assign(s)
		rest(r)
	case *design.Let:
		r.bind(s.Local, r.eval(s.Value))
		rest(r)
	case *design.If:
		r.choose(r.eval(s.Cond), func(r *run) { r.stmts(s.Then, rest) }, func(r *run) { r.stmts(s.Else, rest) })
	case *design.For:
		r.loop(s)
		rest(r)
	case *design.Return:
		r.ret(r)
	case *design.Emit:
		r.emit(s.Event, r.evalAll(s.Args), rest)
	case *design.Do:
		r.do(s, rest)
	case *design.Clock:
		word := "start"
		if s.Stop {
			word = mark("stop", s.All)
		}
		r.tell(&effect{op: word, sym: r.i.timer(s.Timer), terms: r.evalAll(s.Args)})
		rest(r)
	case *design.Prevent:
		r.tell(&effect{op: mark("prevent", s.Stop)})
		rest(r)
	case *design.Log:
		rest(r)
	case *design.Send:
		e := &effect{op: "send " + s.Channel.Name, terms: r.evalAll(s.Args)}
		r.tell(e)
		r.lose(e)
		rest(r)
	case *design.Ask:
		r.ask(s)
		rest(r)
	case *design.Open:
		r.open(s)
		rest(r)
	case *design.Leave:
		r.leave(s, rest)
	default:
		giveUp("it has a statement of an unknown kind")
	}
}

func (r *run) tell(e *effect) { *r.out.list = append(*r.out.list, e) }

func (r *run) evalAll(list []types.Expr) []*term {
	out := make([]*term, len(list))
	for k, x := range list {
		out[k] = r.eval(x)
	}
	return out
}

func (r *run) bind(s types.Symbol, t *term) {
	r.vars = copied(r.vars)
	r.vars[s] = t
}

// lose forgets what cells hold: what was told may have changed any of them.
func (r *run) lose(e *effect) {
	e.held = append(e.held, r.store.changes()...)
	r.store = &store{cells: map[*cell]*term{}, lost: op("told", constant(value.Number(r.out.moment())))}
}

// choose goes on both ways.
func (r *run) choose(cond *term, then, other func(*run)) {
	e := &effect{op: "if", terms: []*term{cond}, bodies: []*body{{}, {}}}
	r.tell(e)
	for k, way := range []func(*run){then, other} {
		own := *r
		own.store = r.store.copied()
		own.out = &told{&e.bodies[k].does, r.out.moment()}
		way(&own)
	}
}

func (r *run) loop(s *design.For) {
	b := &body{params: []*binder{{}}}
	e := &effect{op: "for", terms: []*term{r.eval(s.List)}, bodies: []*body{b}}
	r.tell(e)
	at := r.out.moment()
	own := &run{i: r.i, locals: r.locals, vars: copied(r.vars), out: &told{&b.does, at}, store: &store{cells: map[*cell]*term{}, lost: op("in a loop", constant(value.Number(at)))}}
	own.vars[s.Local] = &term{op: "var", sym: b.params[0]}
	own.ret = func(*run) { giveUp("it returns out of a loop") }
	own.stmts(s.Body, own.endsIn(b))
	r.lose(e)
}

// write notes what a cell holds from now on.
func (r *run) write(c *cell, t *term) {
	if r.store.cells[c] == nil {
		r.store.order = append(r.store.order, c)
	}
	r.store.cells[c] = t
}

func (r *run) assign(s *design.Assign) {
	v := r.eval(s.Value)
	if m, ok := s.Place.Root.(*design.Member); ok && m.Kind == design.Derives {
		if len(s.Place.Steps) > 0 {
			giveUp("a part of a derived value is set")
		}
		own := r.in(r.i, nil)
		own.vars = bound(m.Body.Params, []*term{v})
		own.ret = func(*run) {}
		ways := 0
		own.stmts(m.Body.Stmts, func(end *run) {
			if ways++; ways == 1 && end.out == r.out {
				r.store = end.store
				return
			}
			giveUp("setting a derived value goes several ways")
		})
		if ways != 1 {
			giveUp("setting a derived value goes several ways")
		}
		return
	}
	p := r.i.place(s.Place, r.locals, r)
	r.write(p.cell, update(r.readCell(p.cell), p.steps, v))
}

// update is a value in which a part is another: a record with a field replaced, as { ...x, field: v } is.
func update(whole *term, steps []step, v *term) *term {
	if len(steps) == 0 {
		return v
	}
	s := steps[0]
	if s.index != nil {
		item := op("[]", whole, s.index)
		return op("with item", whole, s.index, update(item, steps[1:], v))
	}
	inner := update(field(whole, s.field, false), steps[1:], v)
	return op("record  "+s.field, whole, inner)
}

// place is what an assignment or a tie writes.
func (i *instance) place(p *design.Place, l *locals, r *run) place {
	var out place
	switch root := p.Root.(type) {
	case *design.Member:
		own := i
		if p.Of != nil {
			if own = i.other(p.Of); own == nil {
				giveUp("it writes to a context that may not be there")
			}
		}
		switch {
		case root.Kind == design.Shares && own.tie(root) != nil:
			t := own.tie(root)
			out = own.user.place(t.Place, own.locals, r.in(own.user, own.locals))
		case root.IsCell():
			out.cell = own.cell(root)
		default:
			giveUp("it is tied to a derived value")
		}
	case *design.ViewLocal:
		at := l.find(root)
		if root.Each == nil || root.Each.Place == nil || at == nil || at.term == nil {
			giveUp("it writes to what is handed out")
		}
		out = i.place(root.Each.Place, l, r)
		out.steps = append(append([]step{}, out.steps...), step{index: at.term})
	default:
		giveUp("it writes to an unknown place")
	}
	out.steps = append([]step{}, out.steps...)
	for _, s := range p.Steps {
		st := step{field: s.Field}
		if s.Index != nil {
			st.index = r.eval(s.Index)
		}
		out.steps = append(out.steps, st)
	}
	return out
}

// emit does what the hearer of an event does.
func (r *run) emit(m *design.Member, args []*term, next func(*run)) {
	i := r.i
	if i.comp.IsContext {
		r.heardAround(m)
	}
	if i.use == nil {
		r.tell(&effect{op: "reports " + m.Label, terms: args})
		next(r)
		return
	}
	for _, h := range i.use.Handlers {
		if h.Event == m { // a handler of what was opened stands in the handler that opened it
			r.inOther(i.user, i.locals, h.Body, args, next, i.user.captured, i.captured)
			return
		}
	}
	next(r)
}

// heardAround gives up where users of a context hear what it emits.
func (r *run) heardAround(m *design.Member) {
	for _, c := range r.i.b.d.Components {
		for _, o := range c.Members {
			for _, h := range o.Hears {
				if h.Event == m {
					giveUp("the users of a context hear it")
				}
			}
		}
	}
}

// do does what a called action, or a method of an element, does.
func (r *run) do(s *design.Do, next func(*run)) {
	args := r.evalAll(s.Args)
	if f, ok := s.Fun.(*types.Select); ok {
		if _, element := f.Member.(*design.ElementMethod); element {
			r.tell(&effect{op: mark("calls "+f.Member.Name(), f.Optional), terms: append([]*term{r.eval(f.X)}, args...)})
			next(r)
			return
		}
	}
	c := r.i.callee(s.Fun, r.locals)
	if c.of == nil || c.of.Kind != design.Action {
		giveUp("it calls what is not known")
	}
	r.inOther(c.i, nil, c.of.Body, args, next, c.i.captured)
}

// inOther runs a body of an instance, with what its handler had captured, and comes back.
func (r *run) inOther(i *instance, l *locals, b *design.Body, args []*term, next func(*run), captured ...map[types.Symbol]*term) {
	own := r.in(i, l)
	own.vars = bound(b.Params, args)
	for _, c := range captured {
		for k, v := range c {
			if own.vars[k] == nil {
				own.vars[k] = v
			}
		}
	}
	back := *r
	after := func(end *run) {
		again := back
		again.store, again.out = end.store, end.out
		next(&again)
	}
	own.ret = after
	own.stmts(b.Stmts, after)
}

// ask notes a question, and what is done with what comes back: with the locals as they are now.
func (r *run) ask(s *design.Ask) {
	e := &effect{op: "ask " + s.Operation.Service.Name + "." + s.Operation.Name, terms: r.evalAll(s.Args)}
	kept := r.kept()
	for _, o := range []*design.Outcome{s.Got, s.Failed} {
		b := &body{}
		e.bodies = append(e.bodies, b)
		if o == nil {
			e.op += " -"
			continue
		}
		vars := copied(kept)
		if o.Param != nil {
			b.params = []*binder{{}}
			vars[o.Param] = &term{op: "var", sym: b.params[0]}
		}
		i, l, stmts := r.i, r.locals, o.Stmts
		i.b.later = append(i.b.later, func() { i.runStmts(b, stmts, l, vars) })
	}
	r.tell(e)
}

// kept are the locals as they are now, for what runs later.
func (r *run) kept() map[types.Symbol]*term {
	kept := map[types.Symbol]*term{}
	for k, v := range r.vars {
		kept[k] = op("kept", v)
	}
	return kept
}

// open notes what is opened, with the locals as they are now.
func (r *run) open(s *design.Open) {
	page := &block{}
	e := &effect{op: mark("open", s.Modal), page: page}
	kept := r.kept()
	i, l := r.i, r.locals
	i.b.later = append(i.b.later, func() {
		user := *i
		user.captured = kept
		c := i.b.instance(s.Use.Component, s.Use, &user, l, page, true, i.contexts)
		c.captured = kept
		c.expand(page)
	})
	r.tell(e)
}

func (r *run) leave(s *design.Leave, next func(*run)) {
	r.tell(&effect{op: "leave"})
	if s.Event != nil {
		r.emit(s.Event, r.evalAll(s.Args), next)
		return
	}
	next(r)
}
