package design

import (
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// members declares the members of a component; their types are worked out
// when they are asked for.
func (r *resolver) members(c *Component) {
	for _, m := range c.Syntax.Members {
		r.member(c, m)
	}
	r.offers(c)
	r.fieldMembers(c)
	r.namedIn(c)
	for _, m := range c.Members {
		if m.HasValue() {
			m.Slot = c.Values
			c.Values++
		}
	}
}

var cellKinds = map[string]Kind{"takes": Takes, "holds": Holds, "shares": Shares}

func (r *resolver) member(c *Component, m syntax.Member) {
	switch s := m.(type) {
	case *syntax.Cell:
		kind := cellKinds[s.Kind]
		if o := c.Field(); s.Field && o != nil {
			r.errorf("declared-twice", s.Name.Span(), "%s is one form control, so it has one field", c.Name).
				See(o.At.Start, "the other field").Instead("remove field from one of them")
		}
		r.addMember(c, s.Name, m, &Member{Kind: kind, Aside: s.Aside, Copy: s.From != nil, Field: s.Field})
	case *syntax.ConstDecl:
		r.addMember(c, s.Name, m, &Member{Kind: ConstMember})
	case *syntax.Derives:
		r.addMember(c, s.Name, m, &Member{Kind: Derives, Call: s.Call})
	case *syntax.Emits:
		r.addMember(c, s.Name, m, &Member{Kind: Emits})
	case *syntax.Action:
		r.addMember(c, s.Name, m, &Member{Kind: Action})
	case *syntax.Timer:
		r.addMember(c, s.Name, m, &Member{Kind: Timer, Every: s.Every})
	case *syntax.Supplies:
		r.supply(c, s)
	case *syntax.Uses:
		r.uses(c, s)
	case *syntax.Offers:
		r.offer(c, s)
	case *syntax.Gathers:
		r.gather(c, s)
	case *syntax.Hook, *syntax.Follows, *syntax.Hears: // they have no name; bodies resolves them
	case *syntax.Style: // styles resolves it
	case *syntax.View:
		if c.IsContext {
			r.errorf("wrong-type", source.Span{Start: s.Start, End: s.Start + 4}, "a context has no view").Instead("let a component show it: uses %s", c.Name)
		}
		for _, o := range c.Syntax.Members {
			if v, ok := o.(*syntax.View); ok && v != s && v.Start < s.Start {
				r.errorf("declared-twice", source.Span{Start: s.Start, End: s.Start + 4}, "%s has two views", c.Name).
					See(v.Start, "the other view").Instead("keep one of them")
				return
			}
		}
	}
}

func (r *resolver) addMember(c *Component, name *syntax.Word, s syntax.Member, m *Member) {
	if o := c.byName[name.Text]; o != nil {
		r.errorf("declared-twice", name.Span(), "%s has two members named %s", c.Name, name.Text).
			See(o.At.Start, "the other %s", name.Text).Instead("give one of them another name")
		return
	}
	if o := r.top[name.Text]; o != nil {
		r.notef("hides-another", name.Span(), "%s hides the %s declared at the top", name.Text, name.Text).
			See(o.Pos(), "the one it hides").Instead("give one of them another name")
	}
	m.Label, m.Owner, m.Syntax, m.At, m.check = name.Text, c, s, name.Span(), r.checkMember
	c.byName[name.Text] = m
	c.Members = append(c.Members, m)
}

// checkMember works out the type of a member, and the expression it starts
// from. A member that is asked for while that is under way has no type yet;
// circles reports it.
func (r *resolver) checkMember(m *Member) {
	if m.busy {
		m.typ = types.Any
		return
	}
	m.busy = true
	defer func() {
		if m.typ == nil {
			m.typ = types.Any
		}
	}()
	sc := &scope{r: r, component: m.Owner}
	switch s := m.Syntax.(type) {
	case *syntax.Cell:
		r.checkCell(m, s, sc)
	case *syntax.ConstDecl:
		r.checkValue(m, s.Type, s.Value, sc, true)
	case *syntax.Derives:
		r.checkDerives(m, s, sc)
	case *syntax.Emits:
		m.Sig = r.params(s.Params)
		for i, p := range m.Sig {
			r.plain(p.Type, s.Params[i].Span(), "an event")
		}
		m.typ = &types.Func{Params: m.Sig, Result: types.Void}
	case *syntax.Action:
		m.Sig = r.params(s.Params)
		m.typ = &types.Func{Params: m.Sig, Result: types.Void}
	case *syntax.Offers:
		m.Sig = r.params(s.Params)
		m.typ = &types.Func{Params: m.Sig, Result: types.Void}
	case *syntax.Timer:
		m.Sig = r.params(s.Params)
		for i, p := range m.Sig {
			r.plain(p.Type, s.Params[i].Span(), "a timer")
		}
		m.typ = types.Void
		r.delay(m, s, sc)
	}
}

// delay types how long a timer waits, which may depend on its arguments.
func (r *resolver) delay(m *Member, s *syntax.Timer, sc *scope) {
	c := r.checker(sc)
	c.Moment = true
	done := c.Open()
	defer done()
	for i, p := range s.Params {
		m.Args = append(m.Args, c.Declare(p.Name, m.Sig[i].Read()))
	}
	x := c.Want(s.Delay, types.Number, "a timer waits for")
	m.Init = &Unit{x, c.Locals}
}

func (r *resolver) checkCell(m *Member, s *syntax.Cell, sc *scope) {
	if s.Kind == "takes" && s.Value == nil {
		m.typ = r.typeOf(s.Type)
		return
	}
	value := s.Value
	if s.From != nil {
		value = s.From
	}
	r.checkValue(m, s.Type, value, sc, true)
	if s.Kind != "takes" {
		r.plain(m.typ, m.At, "a cell")
	}
}

// checkValue types name: T = e, or infers T.
func (r *resolver) checkValue(m *Member, t syntax.Type, e syntax.Expr, sc *scope, moment bool) {
	c := r.checker(sc)
	c.Moment = moment
	unit := &Unit{}
	if t != nil {
		m.typ = r.typeOf(t)
		unit.Expr = c.Want(e, m.typ, m.Label+" is")
	} else {
		unit.Expr = c.Expr(e, nil)
		m.typ = r.inferred(unit.Expr, m.Label, m.Kind != ConstMember, m.At)
	}
	unit.Locals = c.Locals
	m.Init = unit
}

// inferred is the type of a name from its first value.
func (r *resolver) inferred(e types.Expr, name string, widen bool, at source.Span) types.Type {
	t := e.Type()
	if widen {
		t = types.Fresh(e)
	}
	l, list := types.Under(t).(*types.List)
	switch {
	case list && l.Elem == types.Never:
		r.errorf("wrong-type", at, "the type of %s cannot be told from []", name).Instead("write %s: string[] = [], or another type", name)
		return types.Any
	case types.Under(t) == types.Null:
		r.errorf("wrong-type", at, "the type of %s cannot be told from null", name).Instead("write %s: string? = null, or another type", name)
		return types.Any
	}
	return t
}

func (r *resolver) checkDerives(m *Member, s *syntax.Derives, sc *scope) {
	if s.Type != nil && !s.Call {
		m.typ = r.typeOf(s.Type)
	}
	args, unit, t := r.function(s, sc, func(sig *types.Func) { m.typ = sig })
	m.Args, m.Init = args, &unit
	if f, ok := t.(*types.Func); ok && s.Call {
		m.Sig = f.Params
	}
	m.typ = t
	if _, function := types.Under(t).(*types.Func); function && !s.Call {
		r.plain(t, m.At, "a derived value")
	}
}

// function types a derives, with or without parameters. early is told the
// type before the value is looked at, where it is declared.
func (r *resolver) function(s *syntax.Derives, sc *scope, early func(*types.Func)) ([]*types.Local, Unit, types.Type) {
	c := r.checker(sc)
	done := c.Open()
	defer done()
	sig := &types.Func{Params: r.params(s.Params), Result: types.Any}
	var args []*types.Local
	for i, p := range s.Params {
		args = append(args, c.Declare(p.Name, sig.Params[i].Read()))
	}
	if s.Type != nil {
		sig.Result = r.typeOf(s.Type)
		if s.Call {
			early(sig)
		}
	}
	unit := Unit{}
	if s.Type != nil {
		unit.Expr = c.Want(s.Value, sig.Result, s.Name.Text+" is")
	} else {
		unit.Expr = c.Expr(s.Value, nil)
		sig.Result = r.inferred(unit.Expr, s.Name.Text, s.Set != nil, s.Name.Span())
	}
	unit.Locals = c.Locals
	if s.Call {
		return args, unit, sig
	}
	return nil, unit, sig.Result
}

func (r *resolver) checkConst(k *Const) {
	if k.busy {
		k.typ = types.Any
		return
	}
	k.busy = true
	if call, ok := k.Syntax.Value.(*syntax.Call); ok {
		if n, ok := call.Fun.(*syntax.Name); ok && n.Text == "file" && r.top["file"] == nil {
			r.dataFile(k, call)
			return
		}
	}
	c := r.checker(&scope{r: r})
	if k.Syntax.Type != nil {
		k.typ = r.typeOf(k.Syntax.Type)
		k.Unit.Expr = c.Want(k.Syntax.Value, k.typ, k.Label+" is")
	} else {
		k.Unit.Expr = c.Expr(k.Syntax.Value, nil)
		k.typ = r.inferred(k.Unit.Expr, k.Label, false, k.Syntax.Name.Span())
	}
	k.Unit.Locals = c.Locals
	r.plain(k.typ, k.Syntax.Name.Span(), "a constant")
}

func (r *resolver) checkFunction(f *Function) {
	if f.busy {
		f.typ = types.Any
		return
	}
	f.busy = true
	if f.Syntax.Set != nil {
		r.errorf("wrong-type", f.Syntax.SetParam.Span(), "a derives at the top cannot be set: there is no cell it could write").
			Instead("move it into a component")
	}
	f.Params, f.Unit, f.typ = r.function(f.Syntax, &scope{r: r}, func(sig *types.Func) { f.typ = sig })
}

// bodies resolves what the members of a component do, when all of them are known.
func (r *resolver) bodies(c *Component) {
	r.living(c)
	for _, m := range c.Members {
		switch s := m.Syntax.(type) {
		case *syntax.Offers:
			m.Body = r.body(&scope{r: r, component: c}, s.Params, m.Sig, s.Body)
			m.Args = m.Body.Params
		case *syntax.Uses:
			r.contextHandlers(c, m, s)
		case *syntax.Timer:
			m.Body = r.body(&scope{r: r, component: c}, s.Params, m.Sig, s.Body)
		case *syntax.Action:
			m.Body = r.body(&scope{r: r, component: c}, s.Params, m.Sig, s.Body)
			m.Args = m.Body.Params
		case *syntax.Derives:
			if s.Set != nil && !s.Call {
				m.Body = r.body(&scope{r: r, component: c}, []*syntax.Param{{At: s.SetParam.At, Name: s.SetParam}},
					[]types.Param{{Name: s.SetParam.Text, Type: m.typ}}, s.Set)
			}
		}
	}
	r.firstValues(c)
}

// living resolves what runs by itself: hooks, and what follows a value.
func (r *resolver) living(c *Component) {
	sc := &scope{r: r, component: c}
	for _, m := range c.Syntax.Members {
		switch s := m.(type) {
		case *syntax.Hook:
			c.Hooks = append(c.Hooks, &Hook{s.Unmount, r.body(sc, nil, nil, s.Body), s})
		case *syntax.Hears:
			r.hearing(c, s)
		case *syntax.Follows:
			ck := r.checker(sc)
			f := &Follow{Unit: Unit{Expr: ck.Expr(s.Value, nil)}, Syntax: s}
			f.Unit.Locals = ck.Locals
			r.plain(f.Unit.Expr.Type(), s.Value.Span(), "what is followed")
			var names []*syntax.Param
			var sig []types.Param
			if s.Old != nil {
				names = []*syntax.Param{{At: s.Old.At, Name: s.Old}}
				sig = []types.Param{{Name: s.Old.Text, Type: types.Fresh(f.Unit.Expr)}}
			}
			f.Body = r.body(sc, names, sig, s.Body)
			c.Follows = append(c.Follows, f)
		}
	}
}

// firstValues reports a first value that reads what has none yet.
func (r *resolver) firstValues(c *Component) {
	for _, m := range c.Members {
		if m.Init == nil || m.Kind == Derives || m.Kind == Timer {
			continue
		}
		seen := map[*Member]bool{}
		var read func(e types.Expr)
		read = func(e types.Expr) {
			types.Walk(e, func(e types.Expr) bool {
				ref, ok := e.(*types.Ref)
				if !ok {
					return true
				}
				o, ok := ref.Symbol.(*Member)
				if !ok || o.Owner != c || seen[o] {
					return true
				}
				seen[o] = true
				switch {
				case o.Kind == Derives && o.Init != nil:
					read(o.Init.Expr)
				case o.Kind == Gathered:
					r.errorf("read-too-early", m.Init.Expr.Span(), "%s is worked out before %s is filled: it is empty then", m.Label, o.Label).
						See(o.At.Start, "%s is gathered here", o.Label).
						Instead("write derives %s = ..., which follows the list", m.Label)
				case (o.IsCell() || o.Kind == ConstMember) && o.Slot >= m.Slot, o == m, o.Kind == Takes && m.Kind == Takes && o.Slot > m.Slot:
					r.errorf("read-too-early", m.Init.Expr.Span(), "%s is worked out before %s has a value", m.Label, o.Label).
						See(o.At.Start, "%s gets its first value here", o.Label).
						Instead("move %s below %s, or write derives %s = ...", m.Label, o.Label, m.Label)
				}
				return true
			})
		}
		read(m.Init.Expr)
	}
}
