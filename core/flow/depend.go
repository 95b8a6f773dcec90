package flow

import (
	"maps"
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
	bodies   []*design.Body
	ties     map[Var][]Var    // what a write of one writes, too
	byBody   map[Var][]Site   // the same, by the body they stand in or the operation they wait for
	grow     []*design.Member // texts and lists that may grow without end
	follows  []*design.Follow
	radios   []*design.Element
	inputs   []*design.Element
	controls map[*design.Element][]Var                        // of an element: on what a gesture on it depends
	touches  map[*design.Element][]Var                        // of an element: what a gesture on it runs or changes, in its component
	heard    map[Var][]Var                                    // of an element or within: what hears gestures on it, and within what it stands
	places   map[design.Node][]Var                            // of a when and each: what decides whether it is there
	below    map[*design.Component]map[*design.Component]bool // which others it uses, and they
	hiders   map[*design.Member]*hider                        // once asked for
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
	d := &Depend{Graph: g, on: map[Var][]Var{}, seen: map[edge]bool{}, risks: risks, byBody: map[Var][]Site{}, ties: map[Var][]Var{}, below: map[*design.Component]map[*design.Component]bool{},
		controls: map[*design.Element][]Var{}, touches: map[*design.Element][]Var{}, heard: map[Var][]Var{}, places: map[design.Node][]Var{}}
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

// Sites are all places that report, send, start, stop, ask, open, leave, call and write.
func (d *Depend) Sites() []Site { return d.sites }

// Bodies are all that can run.
func (d *Depend) Bodies() []*design.Body { return d.bodies }

// Fails are the variables that decide whether a turn fails.
func (d *Depend) Fails() []Var { return d.fails }

// Does are the variables that bodies, and writes of variables, change in a turn,
// with all that they set off in it.
func (d *Depend) Does(from ...Var) []Var {
	w := &doing{d: d, seen: map[Var]bool{}, done: map[Var]bool{}}
	for _, v := range from {
		w.change(v)
	}
	return w.list
}

// doing collects what a turn does.
type doing struct {
	d    *Depend
	seen map[Var]bool // in the list
	done map[Var]bool // that change, or run
	list []Var
}

func (w *doing) put(v Var) {
	if !w.seen[v] {
		w.seen[v] = true
		w.list = append(w.list, v)
	}
}

// change notes a variable, all that is one with it by ties, and what it runs.
func (w *doing) change(v Var) {
	if w.done[v] {
		return
	}
	w.done[v] = true
	w.put(v)
	for _, o := range w.d.ties[v] {
		w.change(o)
	}
	if m, ok := v.(*design.Member); ok && m.Kind == design.Derives && m.Body != nil {
		w.change(m.Body)
	}
	for _, s := range w.d.byBody[v] {
		for _, c := range s.Control {
			w.put(c)
		}
		w.at(s.Effect)
	}
}

// at tells what one place changes, and what it runs.
func (w *doing) at(e design.Effect) {
	switch e.Kind {
	case design.Writes:
		for _, v := range Targets(e.Place) {
			w.change(v)
		}
	case design.Reports:
		for _, b := range w.d.Heard(e.Event) {
			w.change(b)
		}
	case design.Sends:
		for _, b := range w.d.Hearing(e.Channel) {
			w.change(b)
		}
	case design.Calls:
		for _, f := range w.d.Callees(e.Fun, 0) {
			if m, ok := f.(*design.Member); ok && m.Body != nil {
				w.change(m.Body)
			}
		}
	case design.Starts, design.Stops:
		w.put(e.Event)
	case design.Leaves:
		w.d.eachOpened(func(u *design.Use) { w.put(u) })
	case design.Asks:
		w.put(e.Operation)
	case design.Opens:
		w.put(e.Use)
	}
}

// Touches are what a gesture on an element runs and changes, also in the components
// that show it.
func (d *Depend) Touches(el *design.Element) []Var {
	list, seen := slices.Clone(d.touches[el]), map[Var]bool{}
	var visit func(v Var)
	visit = func(v Var) {
		for _, h := range d.heard[v] {
			if seen[h] {
				continue
			}
			seen[h] = true
			if _, place := h.(within); place {
				visit(h)
			} else {
				list = append(list, h)
			}
		}
	}
	visit(el)
	return list
}

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
	return slices.Concat(d.controls[el], d.Touches(el))
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
	seen := map[types.Type]bool{}
	var visit func(t types.Type)
	visit = func(t types.Type) {
		if seen[t] {
			return
		}
		seen[t] = true
		switch u := types.Under(t).(type) {
		case *types.List:
			visit(u.Elem)
		case *types.Union:
			for _, m := range u.Members {
				visit(m)
			}
		case *types.Record:
			for _, f := range u.Fields {
				if !slices.Contains(list, Var(Field(f.Name))) {
					list = append(list, Field(f.Name))
				}
				visit(f.Type)
			}
		}
	}
	visit(t)
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
		if el, ok := n.(*design.Element); ok && el.Tag == "form" {
			hasForms = true
			d.add(forms, el) // which is reset by what stands in it
		}
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
		for _, u := range usesIn(c) {
			if !slices.Contains(uses[c], u.Component) {
				uses[c] = append(uses[c], u.Component)
			}
		}
	}
	if !d.Design.Hiding.Plain() && d.opaque == "" {
		d.opaque = "styles hide parts of the page by what is beside or in them, or by what a user does"
	}
	for _, c := range d.Design.Components {
		d.below[c] = reached(uses, c)
		if d.below[c][c] && d.opaque == "" {
			d.opaque = c.Name + " stands in itself"
		}
	}
}

// Below are the components that may stand on a page in one that stands there, and
// itself.
func (d *Depend) Below(c *design.Component) map[*design.Component]bool {
	all := maps.Clone(d.below[c])
	all[c] = true
	return all
}

// reached are the components that a component uses, and those that they do.
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
