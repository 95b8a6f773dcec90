package engine

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// naiveFailure ends a turn.
type naiveFailure struct{ why string }

// settle brings a turn to its end: what follows, then the page, then hooks.
func (n *naive) settle() {
	var gone, born []*naiveInst
	for round := 0; ; round++ {
		if round > maxRounds {
			panic(naiveFailure{"it does not settle"})
		}
		n.settleFollows()
		was := n.post
		p := n.render()
		n.openAll(p)
		left, came := n.differ(was, p)
		gone, born = append(gone, left...), append(born, came...)
		if n.relate(p) || n.following() {
			continue
		}
		if len(gone)+len(born) == 0 {
			return
		}
		out, in := gone, born
		gone, born = nil, nil
		n.lasting = map[*naiveInst]bool{}
		for _, i := range out {
			n.lasting[i] = i.comp.IsContext
		}
		for _, i := range out {
			n.hook(i, true)
			delete(n.lasting, i)
		}
		n.lasting = nil
		for _, i := range in {
			if !i.gone {
				n.hook(i, false)
			}
		}
	}
}

// differ lists what went and what came, what is inside first.
func (n *naive) differ(was []*naiveInst, p *naivePass) (gone, born []*naiveInst) {
	for _, i := range was {
		if n.insts[i.path] != i {
			i.gone = true
			gone = append(gone, i)
			for v := i.user; v != nil; v = v.up {
				v.dead = v.dead || v.each != nil && p.next[v.path] == nil
			}
		}
	}
	for _, i := range n.coming {
		if slices.Contains(was, i) {
			continue
		}
		born = append(born, i)
		for _, f := range i.comp.Follows {
			i.ran[f] = n.eval(f.Unit.Expr, &naiveEnv{inst: i})
		}
	}
	n.timers = slices.DeleteFunc(slices.Clone(n.timers), func(t *naiveTimer) bool { return t.inst.gone })
	return gone, born
}

func (n *naive) hook(i *naiveInst, unmount bool) {
	for _, h := range i.comp.Hooks {
		if h.Unmount == unmount {
			n.body(h.Body, &naiveEnv{inst: i}, nil)
		}
	}
}

// relate works names and gathered lists out again; it says whether they changed.
func (n *naive) relate(p *naivePass) bool {
	next := p.named
	for _, i := range n.order {
		for _, m := range i.comp.Members {
			if m.Kind != design.Gathered {
				continue
			}
			var list []value.Value
			for _, x := range n.order {
				if slices.Contains(m.Kinds, x.comp) && x != i && n.collector(x, m) == i {
					list = append(list, x)
				}
			}
			next[i.path+"."+m.Label] = value.NewList(list)
		}
	}
	changed := !maps.EqualFunc(n.known, next, value.Equal)
	n.known = next
	return changed
}

// collector is the nearest instance around x that gathers the same kinds.
func (n *naive) collector(x *naiveInst, m *design.Member) *naiveInst {
	for a := x.above; a != nil; a = a.above {
		for _, o := range a.comp.Members {
			if o.Kind == design.Gathered && slices.Equal(o.Kinds, m.Kinds) {
				return a
			}
		}
	}
	return nil
}

func (n *naive) openAll(p *naivePass) {
	n.openings = slices.DeleteFunc(slices.Clone(n.openings), func(o *naiveOpening) bool {
		return o.closed || n.insts[o.opener.path] != o.opener
	})
	list := n.toOpen
	n.toOpen = nil
	for _, o := range list {
		if o.closed || n.insts[o.opener.path] != o.opener {
			continue
		}
		o.inst = n.instance(o.path, o.use.Component, o.use, o.env, o.opener)
		o.inst.open = o
		n.openings = append(n.openings, o)
	}
	insts := n.insts
	n.insts = maps.Clone(insts)
	again := n.render()
	*p = *again
}

func (n *naive) follows(visit func(i *naiveInst, f *design.Follow) bool) {
	for _, i := range n.order {
		for _, f := range i.comp.Follows {
			if !visit(i, f) {
				return
			}
		}
	}
}

// due says whether a follow has to run.
func (n *naive) due(i *naiveInst, f *design.Follow) bool {
	ran, ok := i.ran[f]
	return ok && !value.Equal(n.eval(f.Unit.Expr, &naiveEnv{inst: i}), ran) && n.living(i)
}

func (n *naive) following() bool {
	any := false
	n.follows(func(i *naiveInst, f *design.Follow) bool {
		any = any || n.due(i, f)
		return !any
	})
	return any
}

func (n *naive) settleFollows() {
	for round := 0; n.following(); round++ {
		if round > maxRounds {
			panic(naiveFailure{"it never settles"})
		}
		n.follows(func(i *naiveInst, f *design.Follow) bool {
			if n.due(i, f) {
				old := i.ran[f]
				i.ran[f] = n.eval(f.Unit.Expr, &naiveEnv{inst: i})
				n.body(f.Body, &naiveEnv{inst: i}, []value.Value{old})
			}
			return true
		})
	}
}

// body runs statements; it reports whether the body goes on.
func (n *naive) body(b *design.Body, env *naiveEnv, args []value.Value) {
	inner := &naiveEnv{inst: env.inst, up: env, host: env, path: env.path, loc: map[*types.Local]value.Value{}}
	for i, p := range b.Params {
		inner.loc[p] = args[i]
	}
	n.stmts(b.Stmts, inner)
}

func (n *naive) all(list []types.Expr, env *naiveEnv) []value.Value {
	var out []value.Value
	for _, x := range list {
		out = append(out, n.eval(x, env))
	}
	return out
}

func (n *naive) stmts(list []design.Stmt, env *naiveEnv) bool {
	for _, s := range list {
		switch s := s.(type) {
		case *design.Assign:
			n.assign(s.Place, env, n.eval(s.Value, env))
		case *design.Let:
			env.loc[s.Local] = n.eval(s.Value, env)
		case *design.If:
			branch := s.Else
			if n.eval(s.Cond, env).(value.Bool) {
				branch = s.Then
			}
			if !n.stmts(branch, env) {
				return false
			}
		case *design.For:
			for _, v := range n.eval(s.List, env).(*value.List).Items() {
				env.loc[s.Local] = v
				if !n.stmts(s.Body, env) {
					return false
				}
			}
		case *design.Return:
			return false
		case *design.Emit:
			n.emit(env.inst, s.Event, n.all(s.Args, env))
		case *design.Do:
			f, ok := n.eval(s.Fun, env).(*naiveFunc)
			args := n.all(s.Args, env)
			if ok && (f.owner == nil || !f.owner.gone || n.lasting[f.owner]) {
				f.call(args)
			}
		case *design.Clock:
			n.clock(s, env.inst, n.all(s.Args, env))
		case *design.Send:
			n.send(s.Channel, n.all(s.Args, env))
		case *design.Open:
			if !env.inst.gone {
				n.open(s, env)
			}
		case *design.Leave:
			n.leave(s, env)
		default:
			panic(fmt.Sprintf("the judge does not know %T", s))
		}
	}
	return true
}

func (n *naive) clock(s *design.Clock, i *naiveInst, args []value.Value) {
	if i.gone {
		return
	}
	n.timers = slices.DeleteFunc(slices.Clone(n.timers), func(t *naiveTimer) bool {
		if t.inst != i || t.member != s.Timer || len(args) > len(t.args) {
			return false
		}
		return slices.EqualFunc(t.args[:len(args)], args, value.Equal)
	})
	if s.Stop {
		return
	}
	env := &naiveEnv{inst: i, loc: map[*types.Local]value.Value{}}
	for at, p := range s.Timer.Args {
		env.loc[p] = args[at]
	}
	delay := max(0, float64(n.eval(s.Timer.Init.Expr, env).(value.Number)))
	n.timers = append(n.timers, &naiveTimer{i, s.Timer, args, n.now + delay, delay})
}

func (n *naive) send(ch *design.Channel, args []value.Value) {
	for _, i := range slices.Clone(n.order) {
		for _, h := range i.comp.Hearings {
			if h.Channel == ch && n.living(i) {
				n.body(h.Body, &naiveEnv{inst: i}, args)
			}
		}
	}
}

func (n *naive) open(s *design.Open, env *naiveEnv) {
	n.opened++
	o := &naiveOpening{use: s.Use, opener: env.inst, path: fmt.Sprintf("open%d", n.opened)}
	captured := map[*types.Local]value.Value{}
	for at := env; at != nil; at = at.up {
		for l, v := range at.loc {
			if _, ok := captured[l]; !ok {
				captured[l] = v
			}
		}
	}
	o.env = &naiveEnv{inst: env.inst, up: env.up, host: &naiveEnv{inst: env.inst, body: true}, path: o.path, open: o, loc: captured}
	n.toOpen = append(n.toOpen, o)
}

func (n *naive) leave(s *design.Leave, env *naiveEnv) {
	if s.Event != nil {
		n.emit(env.inst, s.Event, n.all(s.Args, env))
	}
	for i := env.inst; i != nil; i = i.above {
		if i.open != nil {
			i.open.closed = true
			return
		}
	}
}

func (n *naive) assign(p *design.Place, env *naiveEnv, v value.Value) {
	if l, ok := p.Root.(*design.ViewLocal); ok {
		n.assignItem(l, p.Steps, env, v)
		return
	}
	i, m := env.inst, p.Root.(*design.Member)
	if p.Of != nil {
		i = n.member(p.Of, i).(*naiveInst)
	}
	n.set(i, m, n.replaced(n.member(m, i), p.Steps, env, v))
}

// set writes a member: its own cell, or what it is tied to.
func (n *naive) set(i *naiveInst, m *design.Member, v value.Value) {
	switch t := tiedTo(i.use, m); {
	case m.Kind == design.Derives:
		n.body(m.Body, &naiveEnv{inst: i}, []value.Value{v})
	case m.Kind == design.Shares && t != nil:
		if !i.user.inst.gone {
			n.assign(t.Place, i.user, v)
		}
	default:
		i.cells[m] = v
	}
}

func (n *naive) assignItem(l *design.ViewLocal, steps []design.PlaceStep, env *naiveEnv, v value.Value) {
	for !env.declares(l) {
		env = env.up
	}
	old, at, ok := n.item(env)
	if !ok {
		return
	}
	list := n.eval(env.each.List.Expr, env.up).(*value.List)
	n.assign(env.each.Place, env.up, list.With(at, n.replaced(old, steps, env, v)))
}

func (n *naive) replaced(old value.Value, steps []design.PlaceStep, env *naiveEnv, v value.Value) value.Value {
	if len(steps) == 0 {
		return v
	}
	if steps[0].Index != nil {
		panic("the judge does not know index paths")
	}
	r := old.(*value.Record)
	return r.With(steps[0].Field, n.replaced(r.Get(steps[0].Field), steps[1:], env, v))
}

func (n *naive) emit(i *naiveInst, m *design.Member, args []value.Value) {
	if i.use != nil && !i.user.inst.gone {
		for _, h := range i.use.Handlers {
			if h.Event == m {
				n.body(h.Body, i.user, args)
			}
		}
	}
	for _, u := range slices.Clone(n.order) {
		for _, uses := range u.comp.Members {
			if uses.Kind != design.Used || u.gone || n.member(uses, u) != value.Value(i) {
				continue
			}
			for _, h := range uses.Hears {
				if h.Event == m {
					n.body(h.Body, &naiveEnv{inst: u}, args)
				}
			}
		}
	}
}

// event makes a turn of a DOM event on the given control. Ties are written
// first. It reports false where the turn failed; then nothing has changed.
func (n *naive) event(control int, name, text string) (ok bool, long bool) {
	return n.turn(func() {
		target := n.controls()[control]
		for _, t := range target.el.Ties {
			switch {
			case t.Name == "value" && name == "input":
				n.assign(t.Write, target.env, value.String(text))
			case t.Name == "checked" && name == "input":
				n.assign(t.Write, target.env, !n.eval(t.Read.Expr, target.env).(value.Bool))
			}
		}
		for node := target; node != nil; node = node.parent {
			for _, h := range node.el.Handlers {
				if h.Name == name && n.alive(node.env) {
					n.body(h.Body, node.env, nil)
				}
			}
		}
	})
}

// fire makes a turn of the timer that is due next, if any runs.
func (n *naive) fire() (ok bool, long bool) {
	var next *naiveTimer
	for _, t := range n.timers {
		if next == nil || t.due < next.due {
			next = t
		}
	}
	if next == nil {
		return true, false
	}
	n.now = next.due
	return n.turn(func() {
		n.timers = slices.DeleteFunc(slices.Clone(n.timers), func(t *naiveTimer) bool { return t == next })
		n.body(next.member.Body, &naiveEnv{inst: next.inst}, next.args)
	})
}

func (n *naive) turn(handlers func()) (ok bool, long bool) {
	before := n.save()
	defer func() {
		if r := recover(); r != nil {
			f, is := r.(naiveFailure)
			if !is {
				panic(r)
			}
			n.restore(before)
			ok, long = false, strings.HasPrefix(f.why, "too long")
			n.why = f.why
		}
	}()
	n.steps, n.kept = 0, map[string]value.Value{}
	n.render()
	handlers()
	n.settle()
	return true, false
}

// naiveState is what a failed turn goes back to.
type naiveState struct {
	judge  naive
	insts  map[*naiveInst]naiveInst
	closed map[*naiveOpening]bool
}

func (n *naive) save() naiveState {
	s := naiveState{*n, map[*naiveInst]naiveInst{}, map[*naiveOpening]bool{}}
	for _, i := range n.insts {
		was := *i
		was.cells, was.ran = maps.Clone(i.cells), maps.Clone(i.ran)
		s.insts[i] = was
	}
	for _, o := range n.openings {
		s.closed[o] = o.closed
	}
	return s
}

func (n *naive) restore(s naiveState) {
	*n = s.judge
	for i, was := range s.insts {
		*i = was
	}
	for o, closed := range s.closed {
		o.closed = closed
	}
}
