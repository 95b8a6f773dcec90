package form

import (
	"maps"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// value is what an expression of a view gives, as the page stands.
func (i *instance) value(u *design.Unit, l *locals) *term {
	r := &run{i: i, locals: l}
	return r.eval(u.Expr)
}

// run is a handler that runs, or an expression that is worked out.
type run struct {
	i      *instance
	locals *locals
	vars   map[types.Symbol]*term
	store  *store
	out    *told      // nil where only a value is worked out
	ret    func(*run) // what comes after the body
}

// store is what cells hold in the course of a handler.
type store struct {
	cells map[*cell]*term
	order []*cell
	lost  *term // after what may have changed any cell
}

// changes are the cells that hold another value than at first, and what they hold. After what may have changed any of
// them, to write what a cell held at first is a change, too.
func (s *store) changes() (list []change) {
	for _, c := range s.order {
		if is := s.cells[c]; s.lost != nil || !(is.op == "cell" && is.sym == any(c)) {
			list = append(list, change{c, is})
		}
	}
	return list
}

func (s *store) copied() *store {
	return &store{cells: maps.Clone(s.cells), order: slices.Clone(s.order), lost: s.lost}
}

func (r *run) changed() bool {
	return r.store != nil && (len(r.store.cells) > 0 || r.store.lost != nil)
}

func (r *run) readCell(c *cell) *term {
	if r.store != nil {
		if t := r.store.cells[c]; t != nil {
			return t
		}
		if r.store.lost != nil {
			return &term{op: "after", sym: c, kids: []*term{r.store.lost}}
		}
	}
	return &term{op: "cell", sym: c}
}

func (r *run) in(i *instance, l *locals) *run {
	return &run{i: i, locals: l, store: r.store, out: r.out, vars: i.captured}
}

// copied is never nil.
func copied(vars map[types.Symbol]*term) map[types.Symbol]*term {
	c := make(map[types.Symbol]*term, len(vars)+1)
	maps.Copy(c, vars)
	return c
}

func op(name string, kids ...*term) *term { return &term{op: name, kids: kids} }

func constant(v value.Value) *term { return &term{op: "const", val: v} }

func (r *run) eval(x types.Expr) *term {
	r.i.b.spend()
	switch x := x.(type) {
	case *types.Const:
		return constant(x.Value)
	case *types.Ref:
		return r.symbol(x.Symbol)
	case *types.Dot:
		return field(r.eval(x.X), x.Name, x.Optional)
	case *types.Select:
		return r.selected(x)
	case *types.At:
		return op(mark("[]", x.Optional), r.eval(x.X), r.eval(x.I))
	case *types.Unary:
		return op("unary"+x.Op.String(), r.eval(x.X))
	case *types.Binary:
		return op("binary"+x.Op.String(), r.eval(x.X), r.eval(x.Y))
	case *types.Cond:
		return op("?:", r.eval(x.C), r.eval(x.X), r.eval(x.Y))
	case *types.Template:
		return r.template(x)
	case *types.ListOf:
		t := op("list")
		for _, it := range x.Items {
			t.op += mark("i", it.Spread)
			t.kids = append(t.kids, r.eval(it.X))
		}
		return t
	case *types.RecordOf:
		t := op("record")
		for k, n := range x.Names {
			t.op += " " + n
			t.kids = append(t.kids, r.eval(x.Values[k]))
		}
		return t
	case *types.Lambda:
		return r.lambda(x)
	case *types.Method:
		t := op(mark("."+x.Name, x.Optional), r.eval(x.Recv))
		for _, a := range x.Args {
			t.kids = append(t.kids, r.eval(a))
		}
		return t
	case *types.Builtin:
		return r.builtin(x)
	case *types.Apply:
		return r.apply(x)
	}
	giveUp("it has an expression of an unknown kind")
	return nil
}

func mark(s string, is bool) string {
	if is {
		return s + "?"
	}
	return s
}

// field reads a field; of a record that was just made, what it was made with.
func field(x *term, name string, optional bool) *term {
	if strings.HasPrefix(x.op, "record ") {
		names := strings.Split(x.op, " ")[1:]
		for k := len(names) - 1; k >= 0; k-- {
			if names[k] == name {
				return x.kids[k]
			}
			if names[k] == "" {
				return field(x.kids[k], name, optional)
			}
		}
	}
	return op(mark("."+name+"=", optional), x)
}

// template joins texts; a template in a template is one.
func (r *run) template(x *types.Template) *term {
	t := op("template")
	text := func(s string) {
		if s == "" {
			return
		}
		if n := len(t.kids); n > 0 && t.kids[n-1].op == "const" && isText(t.kids[n-1].val) {
			t.kids[n-1] = constant(value.String(value.Text(t.kids[n-1].val) + s))
			return
		}
		t.kids = append(t.kids, constant(value.String(s)))
	}
	for k, s := range x.Texts {
		text(s)
		if k == len(x.Exprs) {
			break
		}
		switch v := r.eval(x.Exprs[k]); {
		case v.op == "template":
			for _, kid := range v.kids {
				if kid.op == "const" && isText(kid.val) {
					text(value.Text(kid.val))
				} else {
					t.kids = append(t.kids, kid)
				}
			}
		case v.op == "const" && isText(v.val):
			text(value.Text(v.val))
		default:
			t.kids = append(t.kids, v)
		}
	}
	return t
}

func isText(v value.Value) bool { return v != nil && v.Kind() == value.StringKind }

func (r *run) lambda(x *types.Lambda) *term {
	t := op("=>")
	inner := *r
	inner.vars = copied(r.vars)
	for _, p := range x.Params {
		b := &binder{}
		inner.vars[p] = &term{op: "var", sym: b}
		t.kids = append(t.kids, inner.vars[p])
	}
	t.kids = append(t.kids, inner.eval(x.Body))
	return t
}

func (r *run) builtin(x *types.Builtin) *term {
	t := op("builtin " + x.Name)
	for _, a := range x.Args {
		t.kids = append(t.kids, r.eval(a))
	}
	switch of := x.Of.(type) {
	case nil:
	case *design.Member:
		if of.Kind != design.Timer {
			giveUp("it asks for something that is not there in every form")
		}
		t.kids = append(t.kids, &term{op: "timer", sym: r.i.timer(of)})
		if r.store != nil && r.out != nil {
			t.kids = append(t.kids, constant(value.Number(r.out.moment()))) // it may run or not by then
		}
	default:
		giveUp("it asks for instances")
	}
	if x.Name == "fresh" && r.out != nil {
		r.tell(&effect{op: "fresh"})
		t.kids = append(t.kids, constant(value.Number(r.out.moment())))
	}
	return t
}

// symbol reads what a name stands for.
func (r *run) symbol(s types.Symbol) *term {
	if t := r.vars[s]; t != nil {
		return t
	}
	switch s := s.(type) {
	case *design.Member:
		return r.member(s)
	case *design.ViewLocal:
		return r.local(s)
	case *design.Const:
		return r.i.b.constant(s)
	case *design.Function:
		own := &run{i: &instance{b: r.i.b}, store: r.store}
		return own.eval(s.Unit.Expr)
	}
	giveUp("it has a name of an unknown kind")
	return nil
}

func (b *builder) constant(c *design.Const) *term {
	if t := b.consts[c]; t != nil {
		return t
	}
	t := constant(c.Data)
	if c.Data == nil {
		own := &run{i: &instance{b: b}}
		t = own.eval(c.Unit.Expr)
	}
	b.consts[c] = t
	return t
}

// local reads an item, or what a slot hands out. An item follows its list: after a change of that it is what the list
// has under its key then. A link keeps what it gave where its place is to go in this turn, which is not followed here.
func (r *run) local(s types.Symbol) *term {
	l := r.locals.find(s)
	switch {
	case l == nil:
		giveUp("a name is not there")
	case l.term == nil && l.mayGo && r.changed():
		giveUp("what a slot hands out is read after a change, in a place that may be gone then")
	case l.term == nil:
		return r.in(l.from, l.fromLocals).eval(l.unit.Expr)
	case !r.changed():
		return l.term
	}
	was, is := (&run{i: l.from, locals: l.fromLocals, vars: l.from.captured}).eval(l.list.Expr), r.in(l.from, l.fromLocals).eval(l.list.Expr)
	if identical(was, is) {
		return l.term
	}
	return op("in its list", l.term, is)
}

// identical says whether two terms of one form are the same.
func identical(a, b *term) bool {
	return a == b || a.op == b.op && a.sym == b.sym && (a.val == nil) == (b.val == nil) && (a.val == nil || value.Equal(a.val, b.val)) && slices.EqualFunc(a.kids, b.kids, identical)
}

// member reads a member of the instance.
func (r *run) member(m *design.Member) *term {
	i := r.i
	switch m.Kind {
	case design.Takes:
		return r.taken(m)
	case design.Shares:
		if tie := i.tie(m); tie != nil {
			return r.in(i.user, i.locals).eval(tie.Unit.Expr)
		}
		return r.readCell(i.cell(m))
	case design.Holds:
		return r.readCell(i.cell(m))
	case design.ConstMember:
		return &term{op: "fixed", sym: i.cell(m)}
	case design.Derives:
		if !m.Call {
			own := *r
			own.vars = i.captured
			own.locals = nil
			return own.eval(m.Init.Expr)
		}
	case design.Named:
		return &term{op: "named", sym: i.named(m)}
	}
	giveUp("it hands on " + m.Kind.Noun())
	return nil
}

// taken is what is given for a taken value, or its default. A link keeps what it gave where its place is to go in
// this turn: that is not followed here.
func (r *run) taken(m *design.Member) *term {
	i := r.i
	if i.mayGo && r.changed() {
		giveUp("a taken value is read after a change, in a place that may be gone then")
	}
	if i.use == nil {
		if i.start != nil {
			for _, g := range i.start.Links {
				if g.Member == m {
					return (&run{i: &instance{b: i.b}}).eval(g.Unit.Expr)
				}
			}
		}
	} else {
		for _, g := range i.use.Links {
			if g.Member == m {
				return r.in(i.user, i.locals).eval(g.Unit.Expr)
			}
		}
	}
	if m.Init == nil || m.Init.Expr == nil {
		giveUp("a value is not given")
	}
	return r.eval(m.Init.Expr)
}

func (i *instance) tie(m *design.Member) *design.Given {
	if i.use == nil {
		return nil
	}
	for _, t := range i.use.Ties {
		if t.Member == m {
			return t
		}
	}
	return nil
}

// cell is the state of a member of the instance.
func (i *instance) cell(m *design.Member) *cell {
	if c := i.cells[m]; c != nil {
		return c
	}
	c := &cell{scope: i.home}
	i.cells[m] = c
	c.init = i.first(m)
	return c
}

// first is the first value of a cell: a seed, or what is declared.
func (i *instance) first(m *design.Member) *term {
	r := &run{i: i, locals: nil, vars: i.captured}
	if i.start != nil {
		for _, g := range i.start.Seeds {
			if g.Member == m {
				return (&run{i: &instance{b: i.b}}).eval(g.Unit.Expr)
			}
		}
	}
	if i.use != nil {
		for _, g := range i.use.Seeds {
			if g.Member == m {
				return (&run{i: i.user, locals: i.locals}).eval(g.Unit.Expr)
			}
		}
	}
	if m.Init == nil || m.Init.Expr == nil {
		return constant(value.Null{})
	}
	return r.eval(m.Init.Expr)
}

func (i *instance) timer(m *design.Member) *timer {
	if t := i.timers[m]; t != nil {
		return t
	}
	t := &timer{scope: i.home, every: m.Every}
	i.timers[m] = t
	vars := map[types.Symbol]*term{}
	for _, p := range m.Args {
		b := &binder{}
		t.params = append(t.params, b)
		vars[p] = &term{op: "var", sym: b}
	}
	r := &run{i: i, vars: vars}
	t.delay = r.eval(m.Init.Expr)
	i.b.later = append(i.b.later, func() { t.body = i.run(m.Body, nil) })
	return t
}

// other is the instance that a member stands for: a context, or a part that is named; nil where it may not be there.
func (i *instance) other(m *design.Member) *instance {
	switch m.Kind {
	case design.Supplied:
		return i.supplied[m.Context]
	case design.Used:
		return i.contexts[m.Context]
	}
	return i.parts[m]
}

// selected reads a member of a context, or asks an element.
func (r *run) selected(x *types.Select) *term {
	ref, ok := x.X.(*types.Ref)
	if !ok {
		giveUp("it asks an instance")
	}
	if of, ok := x.Member.(*design.Member); ok {
		m, ok := ref.Symbol.(*design.Member)
		if !ok || r.i.other(m) == nil {
			giveUp("it asks an instance that may not be there")
		}
		return r.in(r.i.other(m), nil).member(of)
	}
	return op(mark("asked "+x.Member.Name(), x.Optional), r.eval(x.X))
}

// apply works out a function of the design, or a derived value that takes arguments.
func (r *run) apply(x *types.Apply) *term {
	args := r.evalAll(x.Args)
	c := r.i.callee(x.Fun, r.locals)
	own := &run{i: c.i, store: r.store, out: r.out}
	switch {
	case c.fun != nil:
		own.vars = bound(c.fun.Params, args)
		return own.eval(c.fun.Unit.Expr)
	case c.of != nil && c.of.Kind == design.Derives && c.of.Call:
		own.vars = bound(c.of.Args, args)
		return own.eval(c.of.Init.Expr)
	}
	giveUp("it calls what is not known")
	return nil
}

// callee is what is called in the end, through all that handed it down: a member of an instance, or a function of the
// design.
type callee struct {
	i   *instance
	of  *design.Member
	fun *design.Function
}

func (i *instance) callee(fun types.Expr, l *locals) callee {
	switch f := fun.(type) {
	case *types.Ref:
		switch s := f.Symbol.(type) {
		case *design.Function:
			return callee{i: &instance{b: i.b}, fun: s}
		case *design.Member:
			return i.handed(s)
		case *design.ViewLocal:
			if at := l.find(s); at != nil && at.unit != nil {
				return at.from.callee(at.unit.Expr, at.fromLocals)
			}
		}
	case *types.Select:
		ref, ok := f.X.(*types.Ref)
		if !ok {
			break
		}
		m, ok := ref.Symbol.(*design.Member)
		of, is := f.Member.(*design.Member)
		if ok && is && i.other(m) != nil {
			return i.other(m).handed(of)
		}
	}
	return callee{}
}

// handed is a member itself, or what the user gives for it.
func (i *instance) handed(m *design.Member) callee {
	if m.Kind != design.Takes {
		return callee{i: i, of: m}
	}
	if i.use != nil {
		for _, g := range i.use.Links {
			if g.Member == m {
				return i.user.callee(g.Unit.Expr, i.locals)
			}
		}
	}
	return callee{}
}

func bound(params []*types.Local, args []*term) map[types.Symbol]*term {
	vars := map[types.Symbol]*term{}
	for k, p := range params {
		if k < len(args) {
			vars[p] = args[k]
		} else {
			vars[p] = constant(value.Null{})
		}
	}
	return vars
}
