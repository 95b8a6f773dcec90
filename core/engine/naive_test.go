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

// naive is the judge of the engine: it keeps nothing but cells, and works
// everything else out from scratch whenever it is asked, by walking the
// typed design. It knows the part of the language that the generator writes:
// links down and up, ties, contexts, slots, names, gathered lists, follows,
// hooks, timers, channels and opened components.
type naive struct {
	d         *design.Design
	root      *naiveInst
	insts     map[string]*naiveInst  // by path
	order     []*naiveInst           // as they are rendered
	post      []*naiveInst           // the same as they would go: what is inside first
	coming    []*naiveInst           // the same as they would come: contexts before what is inside
	kept      map[string]value.Value // what links and items were at the last refresh
	known     map[string]value.Value // names and gathered lists
	timers    []*naiveTimer
	openings  []*naiveOpening
	toOpen    []*naiveOpening
	opened    int
	now       float64
	steps     int
	why       string              // the last failure
	lasting   map[*naiveInst]bool // contexts that are gone and not ended yet
	disagrees bool                // the engine failed a turn that the judge did not, or the reverse
}

// naiveInst is an instance: where it stands, and its cells.
type naiveInst struct {
	path     string
	comp     *design.Component
	use      *design.Use
	user     *naiveEnv  // where it is used
	above    *naiveInst // that it is rendered in
	contexts []*naiveInst
	cells    map[*design.Member]value.Value
	ran      map[*design.Follow]value.Value
	open     *naiveOpening
	gone     bool
}

func (*naiveInst) Kind() value.Kind { return value.InstanceKind }

// naiveEnv is a place in a view: an instance, what stands around it in the
// text (up) and on the page (host).
type naiveEnv struct {
	inst  *naiveInst
	up    *naiveEnv
	host  *naiveEnv
	path  string
	body  bool         // of its instance, whose user is the host
	each  *design.Each // of an item
	key   value.Value
	item  value.Value // what it was when it was rendered
	at    int
	dead  bool         // its place is gone, though another may have come there
	when  *design.When // of a branch
	shown int
	fill  *design.Fill // of content
	slot  *design.SlotPlace
	open  *naiveOpening // what is opened stands here
	loc   map[*types.Local]value.Value
}

type naiveTimer struct {
	inst       *naiveInst
	member     *design.Member
	args       []value.Value
	due, delay float64
}

type naiveOpening struct {
	use    *design.Use
	opener *naiveInst
	env    *naiveEnv
	inst   *naiveInst
	path   string
	closed bool
}

// naiveNode is what is rendered.
type naiveNode struct {
	el     *design.Element
	env    *naiveEnv
	parent *naiveNode
	kids   []*naiveNode
	text   string
}

func newNaive(d *design.Design) *naive {
	n := &naive{d: d, insts: map[string]*naiveInst{}, kept: map[string]value.Value{}, known: map[string]value.Value{}}
	n.root = n.instance("", d.Starts[0].Root, nil, nil, nil)
	n.settle()
	return n
}

func (n *naive) instance(path string, c *design.Component, u *design.Use, user *naiveEnv, above *naiveInst) *naiveInst {
	i := &naiveInst{path: path, comp: c, use: u, user: user, above: above, cells: map[*design.Member]value.Value{}, ran: map[*design.Follow]value.Value{}}
	n.insts[path] = i
	env := &naiveEnv{inst: i}
	for _, m := range c.Members {
		switch m.Kind {
		case design.Holds, design.ConstMember:
			i.cells[m] = n.eval(m.Init.Expr, env)
		case design.Shares:
			if tiedTo(u, m) != nil || linkedTo(u, m) != nil {
				break
			}
			if seed := seedOf(u, m); seed != nil {
				i.cells[m] = n.eval(seed.Unit.Expr, user)
			} else {
				i.cells[m] = n.eval(m.Init.Expr, env)
			}
		case design.Supplied:
			for _, s := range c.Supplies {
				if s.Member == m {
					i.contexts = append(i.contexts, n.instance(path+"@"+m.Context.Name, m.Context, s.Use, env, i))
				}
			}
		}
	}
	return i
}

func ofMember(list []*design.Given, m *design.Member) *design.Given {
	for _, g := range list {
		if g.Member == m {
			return g
		}
	}
	return nil
}

func tiedTo(u *design.Use, m *design.Member) *design.Given {
	if u == nil {
		return nil
	}
	return ofMember(u.Ties, m)
}

func linkedTo(u *design.Use, m *design.Member) *design.Given {
	if u == nil {
		return nil
	}
	return ofMember(u.Links, m)
}

func seedOf(u *design.Use, m *design.Member) *design.Given {
	if u == nil {
		return nil
	}
	return ofMember(u.Seeds, m)
}

// naivePass is one working-out of the page.
type naivePass struct {
	old   map[string]*naiveInst
	next  map[string]value.Value
	fresh []*naiveInst
	root  []*naiveNode
	named map[string]value.Value
}

// render works the page out, makes what is new and forgets what is gone.
func (n *naive) render() *naivePass {
	p := &naivePass{old: n.insts, next: map[string]value.Value{}, named: map[string]value.Value{}}
	n.insts, n.order, n.post, n.coming = map[string]*naiveInst{}, nil, nil, nil
	n.enter(n.root, p)
	p.root = n.nodes(n.root.comp.View, &naiveEnv{inst: n.root, body: true}, nil, p)
	for _, o := range n.openings {
		n.take(o.inst, o.use, o.env, p)
		p.root = append(p.root, n.nodes(o.inst.comp.View, &naiveEnv{inst: o.inst, host: o.env, path: o.path + "!", body: true}, nil, p)...)
		n.closed(o.inst)
	}
	n.closed(n.root)
	maps.Copy(n.kept, p.next) // what is gone keeps its values to the end of the turn
	return p
}

// enter keeps an instance that is rendered, and its contexts.
func (n *naive) enter(i *naiveInst, p *naivePass) {
	n.insts[i.path] = i
	n.order = append(n.order, i)
	for _, c := range i.contexts {
		n.keepLinks(c, p)
		n.enter(c, p)
		n.coming = append(n.coming, c)
	}
}

// closed notes that all that is inside an instance was rendered.
func (n *naive) closed(i *naiveInst) {
	n.post = append(append(n.post, i.contexts...), i)
	n.coming = append(n.coming, i)
}

// keepLinks notes what is linked to an instance now.
func (n *naive) keepLinks(i *naiveInst, p *naivePass) {
	for _, l := range append(slices.Clone(i.use.Links), i.use.Ties...) {
		if v := n.eval(l.Unit.Expr, i.user); v.Kind() != value.FuncKind {
			p.next[i.path+"."+l.Member.Label] = v
		}
	}
}

func (n *naive) take(i *naiveInst, u *design.Use, env *naiveEnv, p *naivePass) {
	i.use, i.user = u, env
	n.keepLinks(i, p)
	n.enter(i, p)
}

func (n *naive) nodes(list []design.Node, env *naiveEnv, parent *naiveNode, p *naivePass) []*naiveNode {
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
			node.kids = n.nodes(d.Children, &inner, node, p)
			out = append(out, node)
		case *design.Text:
			out = append(out, &naiveNode{env: env, parent: parent, text: value.Text(n.eval(d.Unit.Expr, env))})
		case *design.When:
			if b := n.branch(d, env); b >= 0 {
				inner := &naiveEnv{inst: env.inst, up: env, host: env, path: fmt.Sprintf("%s?%d", here, b), when: d, shown: b}
				out = append(out, n.nodes(d.Branches[b].Body, inner, parent, p)...)
			}
		case *design.Each:
			out = append(out, n.items(d, env, here, parent, p)...)
		case *design.Use:
			out = append(out, n.use(d, env, here, parent, p)...)
		case *design.SlotPlace:
			out = append(out, n.content(d, env, here, parent, p)...)
		}
	}
	return out
}

func (n *naive) items(d *design.Each, env *naiveEnv, here string, parent *naiveNode, p *naivePass) []*naiveNode {
	var out []*naiveNode
	seen := map[value.Value]bool{}
	for i, v := range n.eval(d.List.Expr, env).(*value.List).Items() {
		key := n.keyOf(d, env, v, i)
		if seen[key] {
			panic(naiveFailure{"two equal keys"})
		}
		seen[key] = true
		inner := &naiveEnv{inst: env.inst, up: env, host: env, path: fmt.Sprintf("%s[%s]", here, value.Show(key)), each: d, key: key, item: v, at: i}
		p.next[inner.path], p.next[inner.path+"#"] = v, value.Number(i)
		out = append(out, n.nodes(d.Body, inner, parent, p)...)
	}
	return out
}

func (n *naive) use(d *design.Use, env *naiveEnv, here string, parent *naiveNode, p *naivePass) []*naiveNode {
	i := p.old[here]
	if i == nil || i.comp != d.Component {
		i = n.instance(here, d.Component, d, env, env.within())
		p.fresh = append(p.fresh, i)
	}
	if m, ok := d.Named.(*design.Member); ok {
		p.named[env.inst.path+"."+m.Label] = i
	}
	n.take(i, d, env, p)
	out := n.nodes(d.Component.View, &naiveEnv{inst: i, host: env, path: here + "!", body: true}, parent, p)
	n.closed(i)
	return out
}

// content renders what the user of a component gave to a slot.
func (n *naive) content(d *design.SlotPlace, env *naiveEnv, here string, parent *naiveNode, p *naivePass) []*naiveNode {
	for _, f := range env.inst.fills() {
		if f.Name != d.Name {
			continue
		}
		inner := &naiveEnv{inst: env.inst.user.inst, up: env.inst.user, host: env, path: here + "=", fill: f, slot: d}
		for at, u := range d.Data {
			if v := n.eval(u.Expr, env); v.Kind() != value.FuncKind {
				p.next[fmt.Sprintf("%s$%d", inner.path, at)] = v
			}
		}
		return n.nodes(f.Body, inner, parent, p)
	}
	return n.nodes(d.Fallback, &naiveEnv{inst: env.inst, up: env, host: env, path: here + "="}, parent, p)
}

func (i *naiveInst) fills() []*design.Fill {
	if i.use == nil {
		return nil
	}
	return i.use.Fills
}

// within is the instance that a place is rendered in.
func (v *naiveEnv) within() *naiveInst {
	for !v.body {
		v = v.host
	}
	return v.inst
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
	probe := &naiveEnv{inst: env.inst, up: env, host: env, path: "probe", each: d, key: nil, loc: map[*types.Local]value.Value{}}
	n.kept["probe"], n.kept["probe#"] = v, value.Number(i)
	key := n.eval(d.By.Expr, probe)
	delete(n.kept, "probe")
	delete(n.kept, "probe#")
	return key
}

// alive says whether a place is rendered as the cells are now.
func (n *naive) alive(env *naiveEnv) bool {
	if env != nil && env.dead {
		return false
	}
	if env == nil {
		return true
	}
	if !n.alive(env.host) {
		return false
	}
	switch {
	case env.open != nil:
		return !env.open.closed && n.living(env.open.opener)
	case env.when != nil:
		return n.branch(env.when, env.up) == env.shown
	case env.each != nil && env.key != nil:
		_, _, ok := n.item(env)
		return ok
	}
	return true
}

// living says whether an instance stays.
func (n *naive) living(i *naiveInst) bool {
	return i == nil || !i.gone && n.living(i.above) && n.alive(i.user)
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
	for !env.declares(l) {
		env = env.up
	}
	if env.fill != nil {
		at := fmt.Sprintf("%s$%d", env.path, l.Slot)
		if kept, ok := n.kept[at]; ok && !n.alive(env.host) {
			return kept
		}
		return n.eval(env.slot.Data[l.Slot].Expr, env.host)
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
	switch { // another place may have come to where this one was
	case env.item != nil && l.Slot == 1:
		return value.Number(env.at)
	case env.item != nil:
		return env.item
	}
	return n.kept[path]
}

func (v *naiveEnv) declares(l *design.ViewLocal) bool {
	return l.Each != nil && v.each == l.Each || v.fill != nil && slices.Contains(v.fill.Params, l)
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
	walk(n.render().root)
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
	walk(n.render().root, 0)
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
