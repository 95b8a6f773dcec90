package flow

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/types"
)

// builder works out the dependences in one component.
type builder struct {
	*Depend
	c     *design.Component
	place []Var             // what decides whether what is visited is there, and can be used
	outer []*design.Element // around what is visited, whose handlers hear what happens there
}

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
	b.bodies = append(b.bodies, body)
	b.stmts(body.Stmts, []Var{body})
}

// stmts works out what statements depend on that are reached under some control,
// and gives the control under which their end is.
func (b *builder) stmts(list []design.Stmt, control []Var) []Var {
	for _, s := range list {
		control = b.stmt(s, control)
	}
	return control
}

// stmt works out one statement, and gives the control of what follows it.
func (b *builder) stmt(s design.Stmt, control []Var) []Var {
	control = slices.Clip(control)
	site := func(kind design.EffectKind, e design.Effect) {
		e.Kind = kind
		e.At = s
		b.sites = append(b.sites, Site{e, b.c, control})
		b.byBody[control[0]] = append(b.byBody[control[0]], b.sites[len(b.sites)-1])
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
		then, other := b.stmts(s.Then, inner), b.stmts(s.Else, inner)
		if returns(s.Then) || returns(s.Else) {
			return slices.Concat(then, other)
		}
	case *design.For:
		risky(s.List)
		inner := append(control, b.readsOf(s.List)...)
		b.add(s.Local, inner...)
		if returns(s.Body) { // what ends one round keeps the next from coming
			inner = append(inner, b.decides(s.Body)...)
		}
		if end := b.stmts(s.Body, inner); returns(s.Body) {
			return end
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
		if s.Stop {
			site(design.Stops, design.Effect{Event: s.Timer})
		} else {
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

// decides are the variables that decide which way statements take.
func (b *builder) decides(list []design.Stmt) (on []Var) {
	design.Visitor{Stmt: func(s design.Stmt) {
		switch s := s.(type) {
		case *design.If:
			on = append(on, b.readsOf(s.Cond)...)
		case *design.For:
			on = append(on, b.readsOf(s.List)...)
		}
	}}.Stmts(list)
	return on
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

func (d *Depend) eachOpened(visit func(*design.Use)) {
	design.Visitor{Effect: func(e design.Effect) {
		if e.Kind == design.Opens {
			visit(e.Use)
		}
	}}.Design(d.Design)
}

func (b *builder) givens(list []*design.Given) {
	for _, l := range list {
		b.risk(&l.Unit, b.place...)
		b.add(l.Member, b.reads(&l.Unit)...)
		if l.Place != nil {
			for _, to := range Targets(l.Place) {
				b.add(to, l.Member)
				b.ties[to], b.ties[l.Member] = append(b.ties[to], l.Member), append(b.ties[l.Member], to)
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
	for _, a := range n.Marks {
		b.risk(&a.Unit, b.place...)
		if b.Design.Hiding.Any() {
			b.add(n.Component, b.reads(&a.Unit)...)
		}
	}
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
		b.at([]Var{at, n.Component}, func() { b.content(at, f.Body) })
	}
}

// content visits what is given to a slot: all that happens in it happens within
// that, too.
func (b *builder) content(at slotVar, list []design.Node) {
	b.nodes(list)
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			b.add(within{at}, b.controls[n]...)
			b.heard[n] = append(b.heard[n], within{at})
		case *design.Use:
			b.add(within{at}, within{n.Component})
			b.heard[within{n.Component}] = append(b.heard[within{n.Component}], within{at})
		}
	}}.Nodes(list)
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
	around := b.around(v)
	b.heard[v] = append(append(b.heard[v], within{b.c}), around...)
}

// around is what a gesture runs and changes in the elements around, which depends
// on it: their handlers, and the form that it sends or resets.
func (b *builder) around(gesture ...Var) (list []Var) {
	for _, o := range b.outer {
		for _, h := range o.Handlers {
			list = append(list, h.Body)
		}
		switch o.Tag {
		case "form":
			list = append(list, o, forms)
		case "details":
			list = append(list, o)
		}
	}
	for _, v := range list {
		b.add(v, gesture...)
	}
	return list
}

// reaches says in what way an element acts on another one that stands anywhere, or "".
func reaches(n *design.Element) string {
	for _, a := range n.Attrs {
		switch {
		case a.Name == "popovertarget" || a.Name == "commandfor":
			return "a button shows and hides what stands elsewhere"
		case a.Name == "form":
			return "a control belongs to a form that stands elsewhere"
		case a.Name == "name" && n.Tag == "details":
			return "of details with one name a single one is open"
		case a.Name == "draggable":
			return "what is dragged is let go of elsewhere"
		case a.Name == "popover":
			return "a popover is hidden by presses elsewhere"
		}
	}
	return ""
}

func (b *builder) element(n *design.Element) {
	if way := reaches(n); way != "" {
		b.opaque = way
	}
	for _, a := range n.Attrs {
		b.risk(&a.Unit, b.place...)
	}
	for _, a := range n.Marks {
		b.risk(&a.Unit, b.place...)
	}
	var attrs []Var
	for _, a := range n.Attrs {
		if !tells(a.Name) || b.Design.Hiding.Any() { // styles may hide by any of them
			attrs = append(attrs, b.reads(&a.Unit)...)
		}
	}
	if b.Design.Hiding.Any() {
		for _, a := range n.Marks {
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
	b.outer = append(b.outer, n)
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
	b.touches[n] = append(touched, b.around(gesture...)...)
	b.add(within{b.c}, gesture...)
	b.heard[n] = append(b.heard[n], within{b.c})
	switch n.Tag {
	case "input", "select", "textarea":
		b.inputs = append(b.inputs, n)
		if t := typeOf(n); t != nil {
			if kind, ok := design.FixedText(t); !ok || kind == "radio" {
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
