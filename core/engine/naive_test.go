package engine

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// naive is the judge of the engine: it keeps nothing but cells, and works
// everything else out from scratch whenever it is asked, by walking the
// typed expressions. It knows the part of the language that the generator
// writes.
type naive struct {
	d     *design.Design
	root  *naiveInst
	insts map[string]*naiveInst  // by path
	kept  map[string]value.Value // what links and items were at the last refresh
	steps int

	why       string // the last failure
	disagrees bool   // the engine failed a turn that the judge did not, or the reverse
}

// naiveInst is an instance: where it stands, and its cells.
type naiveInst struct {
	path  string
	comp  *design.Component
	use   *design.Use
	user  *naiveEnv
	cells map[*design.Member]value.Value
}

// naiveEnv is a place in a view: an instance and the items around it.
type naiveEnv struct {
	inst  *naiveInst
	up    *naiveEnv
	path  string
	each  *design.Each // of an item
	key   value.Value
	when  *design.When // of a branch
	shown int
	loc   map[*types.Local]value.Value
}

// naiveFailure ends a turn.
type naiveFailure struct{ why string }

// naiveNode is what is rendered.
type naiveNode struct {
	el     *design.Element
	env    *naiveEnv
	parent *naiveNode
	kids   []*naiveNode
	text   string
}

// naiveFunc is a function that is handed down.
type naiveFunc struct {
	call func(args []value.Value) value.Value
}

func (*naiveFunc) Kind() value.Kind { return value.FuncKind }

func newNaive(d *design.Design) *naive {
	n := &naive{d: d, insts: map[string]*naiveInst{}, kept: map[string]value.Value{}}
	n.root = n.instance("", d.Starts[0].Root, nil, nil)
	n.render()
	return n
}

func (n *naive) instance(path string, c *design.Component, u *design.Use, user *naiveEnv) *naiveInst {
	i := &naiveInst{path: path, comp: c, use: u, user: user, cells: map[*design.Member]value.Value{}}
	n.insts[path] = i
	for _, m := range c.Members {
		if m.Kind == design.Holds || m.Kind == design.ConstMember {
			i.cells[m] = n.eval(m.Init.Expr, &naiveEnv{inst: i})
		}
	}
	return i
}

// render works the page out, makes what is new and forgets what is gone.
func (n *naive) render() []*naiveNode {
	old := n.insts
	n.insts = map[string]*naiveInst{"": n.root}
	next := map[string]value.Value{}
	nodes := n.nodes(n.root.comp.View, &naiveEnv{inst: n.root, path: ""}, nil, old, next)
	n.kept = next
	return nodes
}

func (n *naive) nodes(list []design.Node, env *naiveEnv, parent *naiveNode, old map[string]*naiveInst, next map[string]value.Value) []*naiveNode {
	var out []*naiveNode
	for at, d := range list {
		here := fmt.Sprintf("%s/%d", env.path, at)
		switch d := d.(type) {
		case *design.Element:
			node := &naiveNode{el: d, env: env, parent: parent}
			inner := *env
			inner.path = here
			for _, a := range append(slices.Clone(d.Attrs), d.Marks...) {
				n.eval(a.Unit.Expr, env)
			}
			node.kids = n.nodes(d.Children, &inner, node, old, next)
			out = append(out, node)
		case *design.Text:
			out = append(out, &naiveNode{env: env, parent: parent, text: value.Text(n.eval(d.Unit.Expr, env))})
		case *design.When:
			if b := n.branch(d, env); b >= 0 {
				inner := &naiveEnv{inst: env.inst, up: env, path: fmt.Sprintf("%s?%d", here, b), when: d, shown: b}
				out = append(out, n.nodes(d.Branches[b].Body, inner, parent, old, next)...)
			}
		case *design.Each:
			seen := map[value.Value]bool{}
			for i, v := range n.eval(d.List.Expr, env).(*value.List).Items() {
				key := n.keyOf(d, env, v, i)
				if seen[key] {
					panic(naiveFailure{"two equal keys"})
				}
				seen[key] = true
				inner := &naiveEnv{inst: env.inst, up: env, path: fmt.Sprintf("%s[%s]", here, value.Show(key)), each: d, key: key}
				next[inner.path], next[inner.path+"#"] = v, value.Number(i)
				out = append(out, n.nodes(d.Body, inner, parent, old, next)...)
			}
		case *design.Use:
			i := old[here]
			if i == nil || i.comp != d.Component {
				i = n.instance(here, d.Component, d, env)
			}
			i.use, i.user = d, env
			n.insts[here] = i
			for _, l := range d.Links {
				if v := n.eval(l.Unit.Expr, env); v.Kind() != value.FuncKind {
					next[here+"."+l.Member.Label] = v
				}
			}
			out = append(out, n.nodes(d.Component.View, &naiveEnv{inst: i, path: here + "!"}, parent, old, next)...)
		}
	}
	return out
}

func (n *naive) branch(d *design.When, env *naiveEnv) int {
	for b, br := range d.Branches {
		if br.Cond == nil || n.eval(br.Cond.Expr, env) == value.Value(value.Bool(true)) {
			return b
		}
	}
	return -1
}

func (n *naive) keyOf(d *design.Each, env *naiveEnv, v value.Value, i int) value.Value {
	if d.By == nil {
		return value.Number(i)
	}
	probe := &naiveEnv{inst: env.inst, up: env, path: "probe", each: d, key: nil, loc: map[*types.Local]value.Value{}}
	n.kept["probe"], n.kept["probe#"] = v, value.Number(i)
	key := n.eval(d.By.Expr, probe)
	delete(n.kept, "probe")
	delete(n.kept, "probe#")
	return key
}

// alive says whether a place is rendered as the cells are now.
func (n *naive) alive(env *naiveEnv) bool {
	if env == nil {
		return true
	}
	if env.inst.user != nil && env.up == nil && !n.alive(env.inst.user) {
		return false
	}
	if !n.alive(env.up) {
		return false
	}
	switch {
	case env.when != nil:
		return n.branch(env.when, env.up) == env.shown
	case env.each != nil && env.key != nil:
		_, _, ok := n.item(env)
		return ok
	}
	return true
}

// item is the item of a place, as its list is now.
func (n *naive) item(env *naiveEnv) (value.Value, int, bool) {
	for i, v := range n.eval(env.each.List.Expr, env.up).(*value.List).Items() {
		if n.keyOf(env.each, env.up, v, i) == env.key {
			return v, i, true
		}
	}
	return nil, 0, false
}

func (n *naive) local(l *design.ViewLocal, env *naiveEnv) value.Value {
	for env.each != l.Each {
		env = env.up
	}
	path := env.path
	if l.Slot == 1 {
		path += "#"
	}
	if env.key != nil && n.alive(env) {
		v, i, _ := n.item(env)
		if l.Slot == 1 {
			return value.Number(i)
		}
		return v
	}
	return n.kept[path]
}

func (n *naive) member(m *design.Member, i *naiveInst) value.Value {
	switch m.Kind {
	case design.Holds, design.ConstMember:
		return i.cells[m]
	case design.Derives:
		if m.Call {
			return &naiveFunc{func(args []value.Value) value.Value { return n.function(m.Args, m.Init.Expr, i, args) }}
		}
		return n.eval(m.Init.Expr, &naiveEnv{inst: i})
	case design.Action:
		return &naiveFunc{func(args []value.Value) value.Value {
			n.body(m.Body, &naiveEnv{inst: i}, args)
			return value.Null{}
		}}
	}
	for _, l := range i.use.Links {
		if l.Member != m {
			continue
		}
		kept, ok := n.kept[i.path+"."+m.Label]
		if ok && !n.alive(i.user) {
			return kept
		}
		return n.eval(l.Unit.Expr, i.user)
	}
	return n.eval(m.Init.Expr, &naiveEnv{inst: i})
}

func (n *naive) function(params []*types.Local, body types.Expr, i *naiveInst, args []value.Value) value.Value {
	env := &naiveEnv{inst: i, loc: map[*types.Local]value.Value{}}
	for at, p := range params {
		env.loc[p] = args[at]
	}
	return n.eval(body, env)
}

func (n *naive) finite(x float64) value.Value {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		panic(naiveFailure{"not finite"})
	}
	return value.Number(x + 0)
}

func (n *naive) eval(e types.Expr, env *naiveEnv) value.Value {
	if n.steps++; n.steps > 3_000_000 {
		panic(naiveFailure{"too long for the judge"})
	}
	switch e := e.(type) {
	case *types.Const:
		return e.Value
	case *types.Ref:
		switch s := e.Symbol.(type) {
		case *types.Local:
			for at := env; at != nil; at = at.up {
				if v, ok := at.loc[s]; ok {
					return v
				}
			}
			panic("the judge does not know the local " + s.Label)
		case *design.ViewLocal:
			return n.local(s, env)
		case *design.Member:
			return n.member(s, env.inst)
		}
	case *types.Dot:
		r, ok := n.eval(e.X, env).(*value.Record)
		if !ok {
			return value.Null{}
		}
		return r.Get(e.Name)
	case *types.At:
		l, i := n.eval(e.X, env).(*value.List), int(n.eval(e.I, env).(value.Number))
		if i < 0 || i >= l.Len() {
			return value.Null{}
		}
		return l.At(i)
	case *types.Unary:
		if e.Op == syntax.Not {
			return !n.eval(e.X, env).(value.Bool)
		}
		return n.finite(-float64(n.eval(e.X, env).(value.Number)))
	case *types.Binary:
		return n.binary(e, env)
	case *types.Cond:
		if n.eval(e.C, env).(value.Bool) {
			return n.eval(e.X, env)
		}
		return n.eval(e.Y, env)
	case *types.Template:
		out := e.Texts[0]
		for i, x := range e.Exprs {
			out += value.Text(n.eval(x, env)) + e.Texts[i+1]
		}
		return value.String(out)
	case *types.ListOf:
		var items []value.Value
		for _, it := range e.Items {
			v := n.eval(it.X, env)
			if it.Spread {
				items = append(items, v.(*value.List).Items()...)
			} else {
				items = append(items, v)
			}
		}
		return value.NewList(items)
	case *types.RecordOf:
		r := &value.Record{}
		for i, name := range e.Names {
			v := n.eval(e.Values[i], env)
			if name != "" {
				r = r.With(name, v)
				continue
			}
			for j, f := range v.(*value.Record).Names {
				r = r.With(f, v.(*value.Record).Values[j])
			}
		}
		return r
	case *types.Method:
		return n.method(e, env)
	case *types.Apply:
		var args []value.Value
		for _, a := range e.Args {
			args = append(args, n.eval(a, env))
		}
		return n.eval(e.Fun, env).(*naiveFunc).call(args)
	}
	panic(fmt.Sprintf("the judge does not know %T", e))
}

func (n *naive) binary(e *types.Binary, env *naiveEnv) value.Value {
	x := n.eval(e.X, env)
	switch e.Op {
	case syntax.And:
		return value.Bool(bool(x.(value.Bool)) && bool(n.eval(e.Y, env).(value.Bool)))
	case syntax.Or:
		return value.Bool(bool(x.(value.Bool)) || bool(n.eval(e.Y, env).(value.Bool)))
	case syntax.Coalesce:
		if value.IsNull(x) {
			return n.eval(e.Y, env)
		}
		return x
	}
	y := n.eval(e.Y, env)
	switch e.Op {
	case syntax.Equal:
		return value.Bool(value.Equal(x, y))
	case syntax.NotEqual:
		return value.Bool(!value.Equal(x, y))
	}
	a, b := float64(x.(value.Number)), float64(y.(value.Number))
	switch e.Op {
	case syntax.Plus:
		return n.finite(a + b)
	case syntax.Minus:
		return n.finite(a - b)
	case syntax.Star:
		return n.finite(a * b)
	case syntax.Slash:
		return n.finite(a / b)
	case syntax.Percent:
		return n.finite(math.Mod(a, b))
	case syntax.Greater:
		return value.Bool(a > b)
	case syntax.Less:
		return value.Bool(a < b)
	}
	panic("the judge does not know " + e.Op.String())
}

func (n *naive) method(e *types.Method, env *naiveEnv) value.Value {
	recv := n.eval(e.Recv, env)
	if s, ok := recv.(value.String); ok && e.Name == "length" {
		return value.Number(len(s))
	}
	l, ok := recv.(*value.List)
	if !ok {
		return value.Null{}
	}
	call := func(args ...value.Value) value.Value {
		f := e.Args[0].(*types.Lambda)
		inner := &naiveEnv{inst: env.inst, up: env, path: env.path, loc: map[*types.Local]value.Value{}}
		for i, p := range f.Params {
			inner.loc[p] = args[i]
		}
		return n.eval(f.Body, inner)
	}
	var out []value.Value
	switch e.Name {
	case "length":
		return value.Number(l.Len())
	case "map":
		for i, v := range l.Items() {
			out = append(out, call(v, value.Number(i)))
		}
	case "filter", "find", "some":
		for i, v := range l.Items() {
			if call(v, value.Number(i)).(value.Bool) {
				if e.Name == "find" {
					return v
				}
				out = append(out, v)
			}
		}
		if e.Name == "find" {
			return value.Null{}
		}
		if e.Name == "some" {
			return value.Bool(len(out) > 0)
		}
	case "reduce":
		sum := n.eval(e.Args[1], env)
		for i, v := range l.Items() {
			sum = call(sum, v, value.Number(i))
		}
		return sum
	case "toReversed":
		out = slices.Clone(l.Items())
		slices.Reverse(out)
	case "slice":
		from, to := int(n.eval(e.Args[0], env).(value.Number)), l.Len()
		if len(e.Args) > 1 {
			to = min(to, int(n.eval(e.Args[1], env).(value.Number)))
		}
		if from < to {
			out = append(out, l.Items()[from:to]...)
		}
	default:
		panic("the judge does not know " + e.Name)
	}
	return value.NewList(out)
}

// body runs statements; it reports whether the body goes on.
func (n *naive) body(b *design.Body, env *naiveEnv, args []value.Value) {
	inner := &naiveEnv{inst: env.inst, up: env, path: env.path, loc: map[*types.Local]value.Value{}}
	for i, p := range b.Params {
		inner.loc[p] = args[i]
	}
	n.stmts(b.Stmts, inner)
}

func (n *naive) stmts(list []design.Stmt, env *naiveEnv) bool {
	for _, s := range list {
		switch s := s.(type) {
		case *design.Assign:
			n.assign(s.Place, env, n.eval(s.Value, env))
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
			var args []value.Value
			for _, a := range s.Args {
				args = append(args, n.eval(a, env))
			}
			n.emit(env.inst, s.Event, args)
		case *design.Do:
			var args []value.Value
			for _, a := range s.Args {
				args = append(args, n.eval(a, env))
			}
			n.eval(s.Fun, env).(*naiveFunc).call(args)
		default:
			panic(fmt.Sprintf("the judge does not know %T", s))
		}
	}
	return true
}

func (n *naive) assign(p *design.Place, env *naiveEnv, v value.Value) {
	if len(p.Steps) > 0 {
		panic("the judge does not know paths")
	}
	env.inst.cells[p.Root.(*design.Member)] = v
}

func (n *naive) emit(i *naiveInst, m *design.Member, args []value.Value) {
	if i.use == nil {
		return
	}
	for _, h := range i.use.Handlers {
		if h.Event == m {
			n.body(h.Body, i.user, args)
		}
	}
}

// event makes a turn of a DOM event on the given control. Ties are written
// first. It reports false where the turn failed; then nothing has changed.
func (n *naive) event(control int, name, text string) (ok bool, long bool) {
	saved, kept := n.save(), n.kept
	defer func() {
		if r := recover(); r != nil {
			f, is := r.(naiveFailure)
			if !is {
				panic(r)
			}
			n.restore(saved)
			n.kept = kept
			ok, long = false, strings.HasPrefix(f.why, "too long")
			n.why = f.why
		}
	}()
	n.steps = 0
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
	n.render()
	return true, false
}

// naiveState is what a failed turn goes back to.
type naiveState struct {
	insts map[string]*naiveInst
	cells map[*naiveInst]map[*design.Member]value.Value
}

func (n *naive) save() naiveState {
	s := naiveState{n.insts, map[*naiveInst]map[*design.Member]value.Value{}}
	for _, i := range n.insts {
		s.cells[i] = maps.Clone(i.cells)
	}
	return s
}

func (n *naive) restore(s naiveState) {
	n.insts = s.insts
	for i, cells := range s.cells {
		i.cells = cells
	}
}

// controls lists buttons and inputs in the order of the page.
func (n *naive) controls() []*naiveNode {
	var list []*naiveNode
	var walk func(nodes []*naiveNode)
	walk = func(nodes []*naiveNode) {
		for _, x := range nodes {
			if x.el != nil && (x.el.Tag == "button" || x.el.Tag == "input") {
				list = append(list, x)
			}
			walk(x.kids)
		}
	}
	walk(n.render())
	return list
}

// page writes what is rendered: tags, classes and texts.
func (n *naive) page() string {
	var out strings.Builder
	var walk func(nodes []*naiveNode, depth int)
	walk = func(nodes []*naiveNode, depth int) {
		for _, x := range nodes {
			out.WriteString(strings.Repeat(" ", depth))
			if x.el == nil {
				fmt.Fprintf(&out, "%q\n", x.text)
				continue
			}
			classes := slices.Clone(x.el.Classes)
			for _, m := range x.el.Marks {
				if n.eval(m.Unit.Expr, x.env).(value.Bool) {
					classes = append(classes, m.Name)
				}
			}
			fmt.Fprintf(&out, "%s %v\n", x.el.Tag, classes)
			walk(x.kids, depth+1)
		}
	}
	walk(n.render(), 0)
	return out.String()
}

// plainPage is the engine's page, written as the judge's.
func plainPage(e *Engine) string {
	var out strings.Builder
	var walk func(nodes []Node, depth int)
	walk = func(nodes []Node, depth int) {
		for _, x := range nodes {
			out.WriteString(strings.Repeat(" ", depth))
			if x.Element == nil {
				fmt.Fprintf(&out, "%q\n", x.Text)
				continue
			}
			fmt.Fprintf(&out, "%s %v\n", x.Element.Tag(), x.Element.Classes())
			walk(x.Element.Children(), depth+1)
		}
	}
	walk(e.Page(), 0)
	return out.String()
}
