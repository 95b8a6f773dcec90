package flow

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// Depend is on what every variable of a design depends: on what its value is
// worked out from (data), and on what decides whether it is given one (control).
// It is the dependence graph of Ferrante, Ottenstein and Warren, of which Weiser's
// slices are closures, for a design in place of a program.
//
// Besides those of Graph its variables are
//
//	*design.Component  which of its instances are there
//	*design.When, *design.Each  what it shows
//	*design.Element    what users did to it that no link sets
//	*design.Body       that it runs
//	*design.Operation  the questions to it that wait
//	*design.Use        of an open: that it is open
//	*design.Channel    that something is sent
//	a timer, an event  that it runs, that it is reported
type Depend struct {
	*Graph
	on       map[Var][]Var
	seen     map[edge]bool
	risks    *Risks
	fails    []Var // on which it depends whether a turn fails
	opaque   string
	sites    []Site
	grow     []*design.Member // texts and lists that may grow without end
	follows  []*design.Follow
	radios   []*design.Element
	inputs   []*design.Element
	controls map[*design.Element][]Var // of an element: on what a gesture on it depends
	touches  map[*design.Element][]Var // of an element: what a gesture on it runs or changes
	places   map[design.Node][]Var     // of a when and each: what decides whether it is there
	hiders   map[*design.Member]*hider // once asked for
}

type edge struct{ from, to Var }

// Site is a place that does something that others must be there for, with what
// decides whether it is reached.
type Site struct {
	Effect  design.Effect
	Owner   *design.Component
	Control []Var
}

// slotVar is where the content goes that a component is given for a slot.
type slotVar struct {
	c    *design.Component
	name string
}

// within is all gestures in what a component shows, or in what is given to a slot.
type within struct{ at any }

// special are variables that stand for several things at once.
type special string

const (
	modal special = "modal" // what is open above the page and makes the rest inert
	forms special = "forms" // what the forms of the page hold
)

// DependOf works out the dependences of a design.
func DependOf(g *Graph, risks *Risks) *Depend {
	d := &Depend{Graph: g, on: map[Var][]Var{}, seen: map[edge]bool{}, risks: risks,
		controls: map[*design.Element][]Var{}, touches: map[*design.Element][]Var{}, places: map[design.Node][]Var{}}
	for _, k := range g.Design.Consts {
		d.add(k)
	}
	for _, f := range g.Design.Functions {
		d.add(f, d.reads(&f.Unit)...)
		d.risk(&f.Unit)
	}
	for _, s := range g.Design.Services {
		for _, o := range s.Operations {
			for _, u := range append([]*design.Unit{o.Replies, o.After}, o.Fails...) {
				d.risk(u, o)
			}
		}
	}
	for _, c := range g.Design.Components {
		(&builder{Depend: d, c: c}).component()
	}
	d.radioGroups()
	d.formValues()
	d.settling()
	d.growth()
	d.nesting()
	return d
}

// Opaque says why nothing can be told of a design, or "".
func (d *Depend) Opaque() string { return d.opaque }

// Sites are all places that report, send, start, ask, open, call and write.
func (d *Depend) Sites() []Site { return d.sites }

// Fails are the variables that decide whether a turn fails.
func (d *Depend) Fails() []Var { return d.fails }

// Does are the variables that bodies change when they run, with all that they
// set off in the same turn.
func (d *Depend) Does(bodies ...Var) []Var {
	seen, list := map[Var]bool{}, []Var{}
	put := func(v Var) bool {
		if seen[v] {
			return false
		}
		seen[v] = true
		list = append(list, v)
		return true
	}
	var run func(body Var)
	run = func(body Var) {
		if !put(body) {
			return
		}
		for _, s := range d.sites {
			if s.Control[0] != body {
				continue
			}
			for _, v := range s.Control {
				put(v)
			}
			d.doesAt(s.Effect, put, run)
		}
	}
	for _, b := range bodies {
		run(b)
	}
	return list
}

// doesAt tells what one place changes, and what it runs.
func (d *Depend) doesAt(e design.Effect, put func(Var) bool, run func(Var)) {
	switch e.Kind {
	case design.Writes:
		for _, v := range Targets(e.Place) {
			put(v)
		}
		if m := e.Place.Cell(); m != nil && m.Body != nil {
			run(m.Body)
		}
	case design.Reports:
		for _, b := range d.Heard(e.Event) {
			run(b)
		}
	case design.Sends:
		for _, b := range d.Hearing(e.Channel) {
			run(b)
		}
	case design.Calls:
		for _, f := range d.Callees(e.Fun, 0) {
			if m, ok := f.(*design.Member); ok && m.Body != nil {
				run(m.Body)
			}
		}
	case design.Starts:
		put(e.Event)
	case design.Asks:
		put(e.Operation)
	case design.Opens:
		put(e.Use)
	}
}

// Touches are what a gesture on an element runs and changes.
func (d *Depend) Touches(el *design.Element) []Var { return d.touches[el] }

// Always are the components of which there is an instance as long as the page
// is there: those that a root shows under no condition.
func Always(root *design.Component) map[*design.Component]bool {
	always := map[*design.Component]bool{}
	var enter func(c *design.Component)
	var nodes func(list []design.Node)
	enter = func(c *design.Component) {
		if always[c] {
			return
		}
		always[c] = true
		for _, s := range c.Supplies {
			enter(s.Use.Component)
		}
		nodes(c.View)
	}
	nodes = func(list []design.Node) {
		for _, n := range list {
			switch n := n.(type) {
			case *design.Element:
				nodes(n.Children)
			case *design.Use:
				enter(n.Component)
			}
		}
	}
	enter(root)
	return always
}

// Gesture are the variables that decide what a gesture on an element does, and
// what it runs and changes.
func (d *Depend) Gesture(el *design.Element) []Var {
	return slices.Concat(d.controls[el], d.touches[el])
}

// Reads are the variables that an expression is worked out from.
func (d *Depend) Reads(u *design.Unit) []Var { return d.reads(u) }

func (d *Depend) add(v Var, on ...Var) {
	for _, o := range on {
		if e := (edge{v, o}); !d.seen[e] {
			d.seen[e] = true
			d.on[v] = append(d.on[v], o)
		}
	}
}

// risk notes that working something out may fail a turn.
func (d *Depend) risk(u *design.Unit, control ...Var) {
	if u != nil && u.Expr != nil && !d.risks.Harmless(u.Expr) {
		d.fails = append(d.fails, d.reads(u)...)
		d.fails = append(d.fails, control...)
	}
}

func (d *Depend) reads(u *design.Unit) []Var {
	if u == nil || u.Expr == nil {
		return nil
	}
	return d.readsOf(u.Expr)
}

// readsOf are the variables that an expression reads; what is passed on in it
// is passed on.
func (d *Depend) readsOf(x types.Expr) (list []Var) {
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.RecordOf: // what a field is made of matters to those who read the field
			for i, v := range x.Values {
				if reads := d.readsOf(v); x.Names[i] == "" {
					list = append(list, reads...)
				} else {
					d.add(Field(x.Names[i]), reads...)
				}
			}
			return false
		case *types.Ref:
			list = append(list, Var(x.Symbol))
		case *types.Select:
			list = append(list, d.selected(x))
		case *types.Dot:
			if !IsEvent(x.X) {
				list = append(list, Field(x.Name))
			}
		case *types.Builtin:
			list = d.builtin(x, list)
		case *types.Binary:
			if x.Op == syntax.Equal || x.Op == syntax.NotEqual {
				list = append(list, fieldsOf(x.X.Type())...)
				list = append(list, fieldsOf(x.Y.Type())...)
			}
		case *types.Method:
			if x.Name == "includes" || x.Name == "indexOf" {
				list = append(list, fieldsOf(x.Recv.Type())...)
			}
			for _, a := range x.Args {
				if l, ok := a.(*types.Lambda); ok {
					for _, p := range l.Params {
						d.add(p, d.readsOf(x.Recv)...)
					}
					if x.Name == "reduce" && len(l.Params) > 0 {
						d.add(l.Params[0], d.readsOf(l.Body)...)
					}
				}
			}
		case *types.Apply:
			for _, f := range d.Callees(x.Fun, len(x.Args)) {
				list = append(list, f)
				d.passArgs(x.Args, paramsOf(f))
			}
		}
		return true
	})
	return list
}

func (d *Depend) selected(x *types.Select) Var {
	switch m := x.Member.(type) {
	case *design.FormPart:
		if m.Label == "touched" {
			d.opaque = "a form is asked whether it was touched"
		}
		return forms
	case *design.ElementMethod:
		return modal // what it does is with the statement that calls it
	}
	return Var(x.Member)
}

func (d *Depend) builtin(x *types.Builtin, list []Var) []Var {
	switch of := x.Of.(type) {
	case *design.Component:
		list = append(list, of)
	case *design.Member: // a timer, or an event
		list = append(list, of)
	case *design.Operation:
		list = append(list, of)
	}
	return list
}

// fieldsOf are the fields that a comparison of two values of a type looks at.
func fieldsOf(t types.Type) (list []Var) {
	var visit func(t types.Type, around []types.Type)
	visit = func(t types.Type, around []types.Type) {
		if slices.Contains(around, t) {
			return
		}
		around = append(around, t)
		switch u := types.Under(t).(type) {
		case *types.List:
			visit(u.Elem, around)
		case *types.Union:
			for _, m := range u.Members {
				visit(m, around)
			}
		case *types.Record:
			for _, f := range u.Fields {
				list = append(list, Field(f.Name))
				visit(f.Type, around)
			}
		}
	}
	visit(t, nil)
	return list
}

func (d *Depend) passArgs(args []types.Expr, params []*types.Local, control ...Var) {
	for i, a := range args {
		if i < len(params) {
			d.add(params[i], d.readsOf(a)...)
			d.add(params[i], control...)
		}
	}
}

// radioGroups: radio buttons that no link sets take the check from each other.
func (d *Depend) radioGroups() {
	for _, a := range d.radios {
		for _, b := range d.radios {
			d.add(a, d.controls[b]...)
		}
	}
}

// formValues: what a form holds is what its fields hold, and a form resets them.
func (d *Depend) formValues() {
	hasForms := false
	design.Visitor{Node: func(n design.Node) {
		el, ok := n.(*design.Element)
		hasForms = hasForms || ok && el.Tag == "form"
	}}.Design(d.Design)
	if !hasForms {
		return
	}
	for _, el := range d.inputs {
		d.add(forms, el)
		d.add(forms, d.controls[el]...)
		for _, t := range el.Ties {
			for _, v := range Targets(t.Write) {
				d.add(forms, v)
			}
		}
		for _, a := range el.Attrs {
			d.add(forms, d.reads(&a.Unit)...)
		}
		d.add(el, forms) // which a form resets
	}
	for _, c := range d.Design.Components {
		if f := c.Field(); f != nil {
			d.add(forms, f)
			d.add(f, forms)
		}
	}
}

// settling: follows that can set each other off may never end, which fails the turn.
func (d *Depend) settling() {
	var read []Var
	for _, f := range d.follows {
		read = append(read, d.reads(&f.Unit)...)
	}
	s := d.Slice(read)
	for _, f := range d.follows {
		if s.Has(f.Body) {
			d.fails = append(d.fails, f.Body)
			d.fails = append(d.fails, d.reads(&f.Unit)...)
		}
	}
}

// growth finds the cells whose values may grow without end: numbers that are
// added to themselves, which become infinite, and with them fail a turn; and texts
// and lists, which reach the limits of a turn after so many steps that no search
// takes them.
func (d *Depend) growth() {
	var sums []*types.Binary
	v := design.Visitor{Expr: func(x types.Expr) {
		if s, ok := x.(*types.Binary); ok && (s.Op == syntax.Plus || s.Op == syntax.Minus) {
			sums = append(sums, s)
		}
	}}
	v.Design(d.Design)
	for _, c := range d.Design.Components {
		for _, m := range c.Members {
			if !m.IsCell() {
				continue
			}
			t := d.Taint([]Var{m}, false)
			if !slices.ContainsFunc(d.into[m], func(s Source) bool { return s.Expr != nil && t.In(s.Expr) }) {
				continue
			}
			if slices.ContainsFunc(sums, func(s *types.Binary) bool { return t.In(s.X) && t.In(s.Y) }) {
				d.fails = append(d.fails, m)
			}
			if d.joins(m) {
				d.grow = append(d.grow, m)
			}
		}
	}
}

// joins says whether a value that is assigned to a cell of texts or lists is put
// together from others.
func (d *Depend) joins(m *design.Member) bool {
	return slices.ContainsFunc(d.into[m], func(s Source) bool {
		joins := false
		if s.Expr == nil {
			return true
		}
		types.Walk(s.Expr, func(x types.Expr) bool {
			switch x := x.(type) {
			case *types.ListOf:
				joins = joins || slices.ContainsFunc(x.Items, func(it types.Item) bool { return it.Spread })
			case *types.Template:
				joins = true
			case *types.Binary:
				joins = joins || x.Op == syntax.Plus && types.Assignable(x.Type(), types.String)
			case *types.Method:
				joins = joins || x.Name == "concat" || x.Name == "join" || x.Name == "flatMap"
			case *types.Apply:
				joins = true
			}
			return !joins
		})
		return joins
	})
}

// Grow are the cells with texts and lists that may grow without end.
func (d *Depend) Grow() []*design.Member { return d.grow }

// nesting: components in themselves may nest too deep, which fails the turn.
func (d *Depend) nesting() {
	uses := map[*design.Component][]*design.Component{}
	for _, c := range d.Design.Components {
		design.Visitor{Node: func(n design.Node) {
			if u, ok := n.(*design.Use); ok {
				uses[c] = append(uses[c], u.Component)
			}
		}}.Component(c)
	}
	for _, c := range d.Design.Components {
		if below := reached(uses, c); below[c] && d.opaque == "" {
			d.opaque = c.Name + " stands in itself"
		}
	}
}

func reached(uses map[*design.Component][]*design.Component, c *design.Component) map[*design.Component]bool {
	seen := map[*design.Component]bool{}
	var visit func(c *design.Component)
	visit = func(c *design.Component) {
		for _, u := range uses[c] {
			if !seen[u] {
				seen[u] = true
				visit(u)
			}
		}
	}
	visit(c)
	return seen
}

// builder works out the dependences in one component.
type builder struct {
	*Depend
	c     *design.Component
	place []Var // what decides whether what is visited is there, and can be used
	outer []outerElement
}

// outerElement is an element around what is visited, whose handlers hear what
// happens there.
type outerElement struct{ el *design.Element }

func (b *builder) component() {
	c := b.c
	b.place = []Var{c}
	for _, m := range c.Members {
		b.member(m)
	}
	for _, s := range c.Supplies {
		b.use(s.Use)
		b.add(s.Member, c)
	}
	for _, h := range c.Hearings {
		b.add(h.Body, h.Channel, c)
		b.body(h.Body)
	}
	for _, f := range c.Follows {
		b.add(f.Body, b.reads(&f.Unit)...)
		b.add(f.Body, c)
		b.risk(&f.Unit, c)
		b.body(f.Body)
		b.Depend.follows = append(b.Depend.follows, f)
	}
	for _, h := range c.Hooks {
		b.add(h.Body, c)
		b.body(h.Body)
	}
	b.nodes(c.View)
}

func (b *builder) member(m *design.Member) {
	b.add(m, b.reads(m.Init)...)
	b.risk(m.Init, b.c)
	switch m.Kind {
	case design.Gathered:
		for _, k := range m.Kinds {
			b.add(m, k)
		}
	case design.Emits, design.Action:
	default:
		// It begins anew with each instance. Whoever reads it stands there, or asks
		// for the instance, so that this says again what is known from them.
		b.add(m, b.c)
	}
	if m.Body != nil {
		if m.Kind == design.Timer {
			b.add(m.Body, m)
			b.add(m, m.Body)
		}
		b.body(m.Body)
	}
	for _, h := range m.Hears {
		b.add(h.Body, h.Event)
		b.body(h.Body)
	}
}

// body works out what the statements of a body depend on.
func (b *builder) body(body *design.Body) {
	b.stmts(body.Stmts, []Var{body})
}

// stmts works out what statements depend on that are reached under some control.
func (b *builder) stmts(list []design.Stmt, control []Var) {
	for _, s := range list {
		control = b.stmt(s, control)
	}
}

// stmt works out one statement, and gives the control of what follows it.
func (b *builder) stmt(s design.Stmt, control []Var) []Var {
	control = slices.Clip(control)
	site := func(kind design.EffectKind, e design.Effect) {
		e.Kind = kind
		e.At = syntax.At{Start: s.Span().Start, Stop: s.Span().End}
		b.sites = append(b.sites, Site{e, b.c, control})
	}
	risky := func(list ...types.Expr) {
		for _, x := range list {
			b.risk(&design.Unit{Expr: x}, control...)
		}
	}
	switch s := s.(type) {
	case *design.Assign:
		b.assign(s, control)
		site(design.Writes, design.Effect{Place: s.Place, Value: s.Value})
	case *design.Let:
		risky(s.Value)
		b.add(s.Local, b.readsOf(s.Value)...)
		b.add(s.Local, control...)
	case *design.If:
		risky(s.Cond)
		inner := append(control, b.readsOf(s.Cond)...)
		b.stmts(s.Then, inner)
		b.stmts(s.Else, inner)
		if returns(s.Then) || returns(s.Else) {
			return inner
		}
	case *design.For:
		risky(s.List)
		inner := append(control, b.readsOf(s.List)...)
		b.add(s.Local, inner...)
		b.stmts(s.Body, inner)
		if returns(s.Body) {
			return inner
		}
	case *design.Return:
	case *design.Emit:
		risky(s.Args...)
		b.report(s.Event, s.Args, control)
		site(design.Reports, design.Effect{Event: s.Event})
	case *design.Leave:
		risky(s.Args...)
		if s.Event != nil {
			b.report(s.Event, s.Args, control)
			site(design.Reports, design.Effect{Event: s.Event})
		}
		site(design.Leaves, design.Effect{})
		b.eachOpened(func(u *design.Use) { b.add(u, control...) })
	case *design.Do:
		risky(append(s.Args, s.Fun)...)
		b.call(s, control)
		site(design.Calls, design.Effect{Fun: s.Fun})
	case *design.Clock:
		risky(s.Args...)
		b.add(s.Timer, control...)
		for _, a := range s.Args {
			b.add(s.Timer, b.readsOf(a)...)
		}
		b.passArgs(s.Args, s.Timer.Args, control...)
		if s.Timer.Body != nil {
			b.passArgs(s.Args, s.Timer.Body.Params, control...)
		}
		if !s.Stop {
			site(design.Starts, design.Effect{Event: s.Timer})
		}
	case *design.Send:
		risky(s.Args...)
		b.add(s.Channel, control...)
		for _, h := range b.Hearing(s.Channel) {
			b.passArgs(s.Args, h.Params, control...)
		}
		site(design.Sends, design.Effect{Channel: s.Channel})
	case *design.Ask:
		risky(s.Args...)
		b.ask(s, control)
		site(design.Asks, design.Effect{Operation: s.Operation, Ask: s})
	case *design.Open:
		b.open(s, control)
		site(design.Opens, design.Effect{Use: s.Use})
	case *design.Log:
		risky(s.Args...)
	case *design.Prevent:
		if len(control) > 1 && b.opaque == "" {
			b.opaque = "what a browser does next is prevented under a condition"
		}
	default:
		panic(fmt.Sprintf("flow: a statement of an unknown kind: %T", s))
	}
	return control
}

// returns says whether statements may end their handler early.
func returns(list []design.Stmt) bool {
	for _, s := range list {
		switch s := s.(type) {
		case *design.Return:
			return true
		case *design.If:
			if returns(s.Then) || returns(s.Else) {
				return true
			}
		case *design.For:
			if returns(s.Body) {
				return true
			}
		}
	}
	return false
}

func (b *builder) assign(s *design.Assign, control []Var) {
	b.risk(&design.Unit{Expr: s.Value}, control...)
	on := slices.Concat(control, b.readsOf(s.Value))
	for _, step := range s.Place.Steps {
		if step.Index != nil {
			b.risk(&design.Unit{Expr: step.Index}, control...)
			on = append(on, b.readsOf(step.Index)...)
		}
	}
	if l, ok := s.Place.Root.(*design.ViewLocal); ok {
		on = append(on, l)
	}
	for _, to := range Targets(s.Place) {
		b.add(to, on...)
	}
	if m := s.Place.Cell(); m != nil && m.Body != nil {
		b.add(m.Body, on...)
	}
	if len(s.Place.Steps) > 0 { // the place may not be there
		b.fails = append(b.fails, on...)
		b.fails = append(b.fails, Var(s.Place.Root))
		for _, step := range s.Place.Steps {
			if step.Field != "" {
				b.fails = append(b.fails, Field(step.Field))
			}
		}
	}
}

func (b *builder) report(event *design.Member, args []types.Expr, control []Var) {
	b.add(event, control...)
	for _, h := range b.Heard(event) {
		b.passArgs(args, h.Params, control...)
	}
}

func (b *builder) call(s *design.Do, control []Var) {
	on := slices.Concat(control, b.readsOf(s.Fun))
	if sel, ok := s.Fun.(*types.Select); ok {
		switch m := sel.Member.(type) {
		case *design.FormPart:
			b.add(forms, on...)
			return
		case *design.ElementMethod:
			switch m.Label {
			case "focus", "blur", "scrollIntoView", "select":
			default:
				b.opaque = "a handler calls " + m.Label + "() of an element"
			}
			return
		}
	}
	for _, f := range b.Callees(s.Fun, len(s.Args)) {
		if m, ok := f.(*design.Member); ok && m.Body != nil {
			b.add(m.Body, on...)
		}
		b.passArgs(s.Args, paramsOf(f), control...)
	}
}

func (b *builder) ask(s *design.Ask, control []Var) {
	o := s.Operation
	b.add(o, control...)
	b.add(o, o)
	for _, a := range s.Args {
		b.add(o, b.readsOf(a)...)
	}
	for _, params := range o.Params {
		b.passArgs(s.Args, params, control...)
	}
	answer := func(out *design.Outcome, from ...*design.Unit) {
		if out == nil {
			return
		}
		if out.Param != nil {
			b.add(out.Param, o)
			for _, u := range from {
				b.add(out.Param, b.reads(u)...)
			}
		}
		b.stmts(out.Stmts, []Var{o})
	}
	answer(s.Got, o.Replies)
	answer(s.Failed, o.Fails...)
}

func (b *builder) open(s *design.Open, control []Var) {
	u := s.Use
	b.add(u, control...)
	b.add(u, b.c)
	b.add(u.Component, u)
	if s.Modal {
		b.add(modal, u)
	}
	if m := u.Component.Member("dismissed"); m != nil {
		b.add(m, u)
	}
	b.givens(u.Links)
	b.givens(u.Ties)
	b.givens(u.Seeds)
	for _, h := range u.Handlers {
		b.add(h.Body, h.Event, u)
		b.body(h.Body)
	}
}

func (b *builder) eachOpened(visit func(*design.Use)) {
	for _, c := range b.Design.Components {
		design.Visitor{Effect: func(e design.Effect) {
			if e.Kind == design.Opens {
				visit(e.Use)
			}
		}}.Component(c)
	}
}

func (b *builder) givens(list []*design.Given) {
	for _, l := range list {
		b.risk(&l.Unit, b.place...)
		b.add(l.Member, b.reads(&l.Unit)...)
		if l.Place != nil {
			for _, to := range Targets(l.Place) {
				b.add(to, l.Member)
			}
			if m := l.Place.Cell(); m != nil && m.Body != nil {
				b.add(m.Body, l.Member)
			}
		}
	}
}

// at visits what stands in a place that depends on more.
func (b *builder) at(more []Var, visit func()) {
	outer := b.place
	b.place = append(slices.Clip(outer), more...)
	visit()
	b.place = outer
}

func (b *builder) nodes(list []design.Node) {
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			b.element(n)
		case *design.Text:
			b.risk(&n.Unit, b.place...)
		case *design.When:
			b.when(n)
		case *design.Each:
			b.each(n)
		case *design.Use:
			b.use(n)
		case *design.SlotPlace:
			b.slot(n)
		default:
			panic(fmt.Sprintf("flow: a node of an unknown kind: %T", n))
		}
	}
}

func (b *builder) when(n *design.When) {
	b.add(n, b.place...)
	b.places[n] = slices.Clone(b.place)
	for _, br := range n.Branches {
		b.add(n, b.reads(br.Cond)...)
		b.risk(br.Cond, b.place...)
	}
	b.at([]Var{n}, func() {
		for _, br := range n.Branches {
			b.nodes(br.Body)
		}
	})
}

func (b *builder) each(n *design.Each) {
	b.add(n, b.place...)
	b.places[n] = slices.Clone(b.place)
	b.add(n, b.reads(&n.List)...)
	b.add(n, b.reads(n.By)...)
	b.risk(&n.List, b.place...)
	b.risk(n.By, b.place...)
	b.add(n.Item, b.reads(&n.List)...)
	b.add(n.Item, n)
	if n.Index != nil {
		b.add(n.Index, n)
	}
	if n.By != nil && !isIndex(n) {
		b.fails = append(b.fails, n) // two keys may be the same
	}
	b.at([]Var{n}, func() { b.nodes(n.Body) })
}

// isIndex says whether the key of an item is its place.
func isIndex(n *design.Each) bool {
	ref, ok := n.By.Expr.(*types.Ref)
	return ok && n.Index != nil && ref.Symbol == types.Symbol(n.Index)
}

func (b *builder) use(n *design.Use) {
	b.add(n.Component, b.place...)
	if n.Named != nil {
		b.add(n.Named, b.place...)
	}
	b.givens(n.Links)
	b.givens(n.Ties)
	b.givens(n.Seeds)
	for _, h := range n.Handlers {
		b.add(h.Body, h.Event)
		b.body(h.Body)
	}
	b.happens(within{n.Component})
	for _, f := range n.Fills {
		at := slotVar{n.Component, f.Name}
		for _, p := range f.Params {
			b.add(p, Slot(p.Label))
		}
		outer := b.outer
		b.outer = append(slices.Clip(outer), outerElement{nil}) // what happens there, the component hears, too
		b.at([]Var{at, n.Component}, func() { b.content(at, f.Body) })
		b.outer = outer
	}
}

// content visits what is given to a slot: all that happens in it happens within
// that, too.
func (b *builder) content(at slotVar, list []design.Node) {
	inner := &builder{Depend: b.Depend, c: b.c, place: b.place, outer: b.outer}
	inner.nodes(list)
	for _, el := range elementsIn(list) {
		b.add(within{at}, b.controls[el]...)
	}
	for _, u := range usesIn(list) {
		b.add(within{at}, within{u.Component})
	}
}

func elementsIn(list []design.Node) (els []*design.Element) {
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			els = append(els, el)
		}
	}}.Nodes(list)
	return els
}

func usesIn(list []design.Node) (uses []*design.Use) {
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			uses = append(uses, u)
		}
	}}.Nodes(list)
	return uses
}

func (b *builder) slot(n *design.SlotPlace) {
	at := slotVar{b.c, n.Name}
	b.add(at, b.place...)
	for i := range n.Data {
		b.add(Slot(n.Names[i]), b.reads(&n.Data[i])...)
		b.risk(&n.Data[i], b.place...)
	}
	b.happens(within{at})
	b.nodes(n.Fallback)
}

// happens notes that gestures may happen here, which elements around may hear.
func (b *builder) happens(v Var) {
	b.add(within{b.c}, v)
	for _, o := range b.outer {
		if o.el != nil {
			for _, h := range o.el.Handlers {
				b.add(h.Body, v)
			}
		}
	}
}

func (b *builder) element(n *design.Element) {
	for _, a := range n.Attrs {
		b.risk(&a.Unit, b.place...)
	}
	for _, a := range n.Marks {
		b.risk(&a.Unit, b.place...)
	}
	var attrs []Var
	for _, a := range n.Attrs {
		if !tells(a.Name) {
			attrs = append(attrs, b.reads(&a.Unit)...)
		}
	}
	for _, t := range n.Ties {
		attrs = append(attrs, b.reads(&t.Read)...)
	}
	gesture := slices.Concat(b.place, attrs, []Var{modal})
	if keepsProps(n.Tag) {
		gesture = append(gesture, n)
		b.add(n, slices.Concat(b.place, attrs, []Var{modal})...)
	}
	b.controls[n] = gesture
	b.listen(n, gesture)
	if n.Named != nil {
		b.add(n.Named, b.place...)
	}
	b.outer = append(b.outer, outerElement{n})
	b.at(append(attrs, propsOf(n)...), func() { b.nodes(n.Children) })
	b.outer = b.outer[:len(b.outer)-1]
}

// listen works out what a gesture on an element runs and changes.
func (b *builder) listen(n *design.Element, gesture []Var) {
	var touched []Var
	for _, t := range n.Ties {
		for _, to := range Targets(t.Write) {
			b.add(to, gesture...)
			touched = append(touched, to)
		}
		if m := t.Write.Cell(); m != nil && m.Body != nil {
			b.add(m.Body, gesture...)
			touched = append(touched, m.Body)
		}
		for _, s := range t.Write.Steps { // the place may not be there
			if s.Index != nil {
				b.fails = append(b.fails, b.readsOf(s.Index)...)
				b.fails = append(b.fails, gesture...)
			}
		}
	}
	for _, h := range n.Handlers {
		b.add(h.Body, gesture...)
		if h.Name == "submit" || h.Name == "reset" {
			b.add(h.Body, forms)
			for _, p := range h.Body.Params {
				b.add(p, forms)
			}
		}
		touched = append(touched, h.Body)
		b.body(h.Body)
	}
	if keepsProps(n.Tag) {
		touched = append(touched, n)
	}
	for _, o := range b.outer {
		if o.el == nil {
			continue
		}
		for _, h := range o.el.Handlers {
			b.add(h.Body, gesture...)
			touched = append(touched, h.Body)
		}
		if o.el.Tag == "details" || o.el.Tag == "form" {
			b.add(o.el, gesture...)
			b.add(forms, gesture...)
			touched = append(touched, o.el)
		}
	}
	b.touches[n] = touched
	b.add(within{b.c}, gesture...)
	switch n.Tag {
	case "input", "select", "textarea":
		b.inputs = append(b.inputs, n)
		if t := typeOf(n); t != nil {
			if kind, ok := Text(t); !ok || kind == "radio" {
				b.radios = append(b.radios, n)
			}
		}
	}
}

// typeOf is the expression of an element's type, or nil.
func typeOf(n *design.Element) types.Expr {
	for _, a := range n.Attrs {
		if a.Name == "type" {
			return a.Unit.Expr
		}
	}
	return nil
}

// keepsProps says whether users change properties of an element that no link
// has to set.
func keepsProps(tag string) bool {
	switch tag {
	case "input", "select", "textarea", "details", "dialog", "form", "option":
		return true
	}
	return false
}

// propsOf is what an element does to the place of what stands in it.
func propsOf(n *design.Element) []Var {
	if n.Tag == "details" || n.Tag == "dialog" {
		return []Var{n}
	}
	return nil
}

// tells says whether an attribute only tells people something: it does not
// decide what users can do.
func tells(name string) bool {
	switch name {
	case "aria-label", "title", "alt", "placeholder", "aria-pressed", "aria-expanded", "aria-selected", "aria-checked",
		"aria-current", "aria-live", "aria-valuetext", "aria-describedby", "aria-controls", "class", "lang", "src", "srcset", "role":
		return true
	}
	return false
}
