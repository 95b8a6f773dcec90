package design

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// start resolves a start: its component, and the values that it gives.
func (r *resolver) start(s *syntax.Start) {
	c := r.components[s.Component.Text]
	if c == nil {
		r.noComponent(s.Component.Text, s.Component.Span())
		return
	}
	st := &Start{Root: c, Syntax: s}
	if s.Name != nil {
		st.Name = s.Name.Value
	}
	if o := r.starts[st.Name]; o != nil {
		named := fmt.Sprintf("named %q", st.Name)
		if st.Name == "" {
			named = "without a name"
		}
		r.errorf("declared-twice", s.Component.Span(), "there are two starts %s", named).
			See(o.Syntax.Start, "the other start").Instead("give this one a name of its own: start \"...\" %s", c.Name)
	} else {
		r.starts[st.Name] = st
	}
	r.d.Starts = append(r.d.Starts, st)
	for _, it := range s.Links {
		if l, ok := it.(*syntax.Link); ok && !l.Class {
			r.startLink(st, l)
		} else if cl, ok := it.(*syntax.Clause); ok && cl.Target != nil {
			st.Samples = append(st.Samples, r.sample(cl))
		} else if ok && cl.Kind == "within" {
			c := r.checker(&scope{r: r, law: true})
			x := c.Condition(cl.Value)
			st.Bounds = append(st.Bounds, &Unit{x, c.Locals})
		} else if ok && cl.Kind == "screen" {
			r.screen(st, cl)
		} else {
			r.errorf("wrong-direction", it.Span(), "a start gives values: name <- value, or cell = value").Instead("write one of these")
		}
	}
	for _, m := range c.Members {
		if m.Kind == Takes && m.Syntax.(*syntax.Cell).Value == nil && given(st.Links, m) == nil && !linked(s.Links, m.Label) {
			r.errorf("not-given", s.Component.Span(), "%s takes %s, which is not given here", c.Name, m.Label).
				See(m.At.Start, "it is taken here").Instead("write start %s { %s <- ... }", c.Name, m.Label)
		}
	}
}

func given(list []*Given, m *Member) *Given {
	for _, g := range list {
		if g.Member == m {
			return g
		}
	}
	return nil
}

// linked says whether one of the items links a value of a name, and not a class.
func linked(items []syntax.Item, name string) bool {
	for _, it := range items {
		if l, ok := it.(*syntax.Link); ok && !l.Class && l.Name.Text == name {
			return true
		}
	}
	return false
}

func (r *resolver) startLink(st *Start, l *syntax.Link) {
	name := l.Name.Text
	m := st.Root.Member(name)
	kinds := map[syntax.Kind]Kind{syntax.Down: Takes, syntax.Assign: Holds}
	kind, ok := kinds[l.Op]
	if m != nil && m.Kind == Shares && l.Op == syntax.Assign {
		kind = Shares
	}
	switch {
	case !ok:
		r.errorf("wrong-direction", l.Span(), "nobody holds the other end of this tie").Instead("write %s = ... to seed a cell", name)
		return
	case m != nil && m.Kind == Takes && kind == Holds:
		r.errorf("wrong-direction", l.Span(), "%s takes %s; it does not hold it", st.Root.Name, name).Instead("write %s <- ...", name)
		return
	case m != nil && m.IsCell() && kind == Takes:
		r.errorf("wrong-direction", l.Span(), "%s holds %s itself", st.Root.Name, name).Instead("write %s = ... to seed it", name)
		return
	case m == nil || m.Kind != kind:
		r.errorf("not-taken", l.Name.Span(), "%s does not take %s", st.Root.Name, name).
			Instead("%s", types.DidYouMean(name, st.Root.names(kind), "it takes: "))
		return
	}
	c := r.checker(&scope{r: r})
	g := &Given{Member: m, Syntax: l}
	g.Unit.Expr = c.Want(l.Value, m.Type(), st.Root.Name+"."+name+" is")
	g.Unit.Locals = c.Locals
	if kind == Takes {
		st.Links = append(st.Links, g)
	} else {
		st.Seeds = append(st.Seeds, g)
	}
}

// findStart resolves a start's name.
func (r *resolver) findStart(t *syntax.Text) *Start {
	var names []string
	for _, s := range r.d.Starts {
		if s.Name == t.Value {
			return s
		}
		names = append(names, s.Name)
	}
	r.errorf("not-in-scope", t.Span(), "there is no start %q", t.Value).
		Instead("%s", types.DidYouMean(t.Value, names, "the starts are: "))
	return nil
}

func (r *resolver) law(s *syntax.Law) {
	l := &Law{Name: s.Name.Value, Syntax: s}
	for _, o := range r.d.Laws {
		if o.Name == l.Name {
			r.errorf("declared-twice", s.Name.Span(), "there are two laws %q", l.Name).See(o.Syntax.Start, "the other law").Instead("give one another name")
		}
	}
	r.d.Laws = append(r.d.Laws, l)
	if s.On != nil {
		l.On = r.findStart(s.On)
	}
	if len(s.Clauses) == 0 && !r.unreadIn(s.Span()) {
		r.warnf("never-used", s.Name.Span(), "this law promises nothing").Instead("write always, never or turn and a condition")
	}
	for _, cl := range s.Clauses {
		if cl.Target != nil {
			l.Samples = append(l.Samples, r.sample(cl))
			continue
		}
		if cl.Kind == "screen" {
			r.errorf("wrong-direction", cl.Span(), "screen stands in a start: it says what the page is shown on").
				Instead("write start page { screen ... }, and the law on it")
			continue
		}
		if cl.Kind == "within" {
			r.errorf("wrong-direction", cl.Span(), "within stands in a start: it says where a proof stops").
				Instead("write start page { within ... }; a law about all states is always ...")
			continue
		}
		l.Clauses = append(l.Clauses, r.clause(cl))
	}
}

// clause resolves one line of a law.
func (r *resolver) clause(cl *syntax.Clause) *Clause {
	if cl.Kind == "keeps" { // of gestures, and no condition of states
		return &Clause{Kind: cl.Kind, Unit: Unit{Expr: types.Truth(cl.Span())}, At: cl.Span()}
	}
	c := r.checker(&scope{r: r, law: true})
	out := &Clause{Kind: cl.Kind, Unit: Unit{Expr: c.Condition(cl.Value)}, At: cl.Span()}
	out.Unit.Locals = c.Locals
	if cl.To != nil {
		c := r.checker(&scope{r: r, law: true})
		out.To = &Unit{Expr: c.Condition(cl.To)}
		out.To.Locals = c.Locals
	}
	if cl.Ms != nil {
		out.Ms = r.stepValue(cl.Ms, types.Number, "the milliseconds are")
	}
	if cl.Kind == "leads" && cl.Ms == nil {
		r.errorf("wrong-type", cl.Span(), "it is not said by when").Instead("write leads ... to ... within 5000")
	}
	if cl.Kind == "stays" && cl.To == nil && cl.Ms == nil {
		r.warnf("never-used", cl.Span(), "this stays for ever").Instead("write stays ... for 7000, stays ... until ..., or both")
	}
	return out
}

// sample resolves what is typed into a field, or what it is set to: texts, or
// numbers where its role says that it holds some.
func (r *resolver) sample(cl *syntax.Clause) *Sample {
	r.target(cl.Target)
	t := cl.Target
	switch {
	case t.Component != nil || t.Class != nil:
	case fieldRoles[t.Role] == nil:
		r.errorf("not-in-scope", t.Span(), "nothing is typed into a %s", t.Role).
			Instead("name a field by its role: %s", strings.Join(fieldRoleNames, ", "))
	}
	c := r.checker(&scope{r: r, law: true})
	elem := fieldRoles[t.Role]
	if elem == nil {
		elem = types.Or(types.String, types.Number)
	}
	x := c.Want(cl.Value, &types.List{Elem: elem}, "samples are")
	return &Sample{cl.Target, Unit{x, c.Locals}}
}

// fieldRoles are the roles of fields that are typed into or set, and what they
// hold (WAI-ARIA, HTML-AAM).
var fieldRoles = map[string]types.Type{"textbox": types.String, "searchbox": types.String, "combobox": types.String,
	"spinbutton": types.Number, "slider": types.Number}

var fieldRoleNames = []string{"textbox", "searchbox", "combobox", "spinbutton", "slider"}

func (r *resolver) scenario(s *syntax.Scenario) {
	sc := &Scenario{Name: s.Name.Value, Syntax: s}
	for _, o := range r.d.Scenarios {
		if o.Name == sc.Name {
			r.errorf("declared-twice", s.Name.Span(), "there are two scenarios %q", sc.Name).See(o.Syntax.Start, "the other scenario").Instead("give one another name")
		}
	}
	r.d.Scenarios = append(r.d.Scenarios, sc)
	var start *Start
	if len(r.d.Starts) > 0 {
		start = r.d.Starts[0]
	} else if !r.d.Failed() {
		r.errorf("not-given", s.Name.Span(), "there is no start, so nothing can be pressed").
			Instead("write start and the name of the component that holds the page")
	}
	sc.Steps = r.steps(s.Steps, &start)
}

func (r *resolver) steps(list []*syntax.Step, start **Start) []*Step {
	var out []*Step
	for _, s := range list {
		out = append(out, r.step(s, start))
	}
	return out
}

func (r *resolver) step(s *syntax.Step, start **Start) *Step {
	out := &Step{Step: s}
	switch s.Verb {
	case "start":
		out.Start = r.findStart(s.Text)
		*start = out.Start
	case "wait", "set":
		out.Value = r.stepValue(s.Value, types.Number, "it is")
	case "expect":
		out.Value = r.stepValue(s.Value, types.Boolean, "what is expected is")
	case "inside":
		out.Steps = r.steps(s.Steps, start)
	case "reports":
		r.reports(out, *start)
	case "call":
		r.outsideCall(out, *start)
	case "reply", "fail":
		r.place(s.Nth)
		out.Operation = r.findOperation(s.Service, s.Name)
		r.answered(out)
		if o := out.Operation; o != nil && s.Verb == "fail" && len(o.Fails) == 0 {
			r.errorf("never-reported", s.Name.Span(), "%s.%s never fails", o.Service.Name, o.Name).
				See(o.Syntax.Start, "it is declared here").Instead("write fails \"...\" there")
		} else if o != nil && s.Text != nil {
			r.failsWith(o, s.Text)
		}
	}
	if s.Target != nil {
		r.target(s.Target)
	}
	return out
}

// place reports a place that nothing can have.
func (r *resolver) place(x syntax.Expr) {
	if n, ok := x.(*syntax.NumberLit); ok && (n.Value < 1 || n.Value != math.Trunc(n.Value)) {
		r.errorf("wrong-type", x.Span(), "places are counted from 1").Instead("write 1 for the first, 2 for the second, ...")
	}
}

// failsWith reports a failure that no question to an operation ends in, where
// that can be told from the text.
func (r *resolver) failsWith(o *Operation, says *syntax.Text) {
	var known []string
	for _, f := range o.Fails {
		c, ok := f.Expr.(*types.Const)
		if !ok || c.Value == value.Value(value.String(says.Value)) {
			return
		}
		known = append(known, value.Show(c.Value))
	}
	r.errorf("never-reported", says.Span(), "%s.%s never fails with this", o.Service.Name, o.Name).
		See(o.Syntax.Start, "it is declared here").Instead("it fails with: %s", strings.Join(known, ", "))
}

// answered resolves the arguments that tell one question from others.
func (r *resolver) answered(out *Step) {
	o := out.Operation
	if o == nil || !out.Call {
		return
	}
	c := r.checker(&scope{r: r, law: true})
	for _, a := range c.Args(out.Step.Args, out.Span(), o.Sig, o.Service.Name+"."+o.Name) {
		out.Args = append(out.Args, &Unit{a, c.Locals})
	}
}

// outsideCall resolves a call of a method that the root offers.
func (r *resolver) outsideCall(out *Step, start *Start) {
	if start == nil {
		return
	}
	root := start.Root
	if out.Service.Text != root.Name {
		r.errorf("not-in-scope", out.Service.Span(), "the page calls from outside reach the root, which is %s", root.Name).
			Instead("write call %s.%s()", root.Name, out.Name.Text)
		return
	}
	m := root.Member(out.Name.Text)
	if m == nil || m.Kind != Action || !m.Offered {
		r.errorf("not-in-scope", out.Name.Span(), "%s offers no method %s", root.Name, out.Name.Text).
			Instead("%s", types.DidYouMean(out.Name.Text, root.Reachable(), "it offers: "))
		return
	}
	m.Type()
	out.Event = m
	c := r.checker(&scope{r: r, law: true})
	for _, a := range c.Args(out.Step.Args, out.Span(), m.Sig, m.Label) {
		out.Args = append(out.Args, &Unit{a, c.Locals})
	}
}

func (r *resolver) stepValue(e syntax.Expr, want types.Type, what string) *Unit {
	c := r.checker(&scope{r: r, law: true})
	x := c.Want(e, want, what)
	return &Unit{x, c.Locals}
}

func (r *resolver) reports(out *Step, start *Start) {
	if start == nil {
		return
	}
	root := start.Root
	m := root.Member(out.Name.Text)
	if m == nil || m.Kind != Emits {
		r.errorf("never-reported", out.Name.Span(), "%s, where this scenario starts, never reports %s", root.Name, out.Name.Text).
			Instead("%s", types.DidYouMean(out.Name.Text, root.names(Emits), "it reports: "))
		return
	}
	m.Type()
	out.Event = m
	if !out.Call {
		return
	}
	c := r.checker(&scope{r: r, law: true})
	for _, a := range c.Args(out.Step.Args, out.Span(), m.Sig, m.Label) {
		out.Args = append(out.Args, &Unit{a, c.Locals})
	}
}

// target checks that a role exists, and that a component does.
func (r *resolver) target(t *syntax.Target) {
	r.place(t.Nth)
	switch {
	case t.Component != nil:
		if r.components[t.Component.Text] == nil {
			r.noComponent(t.Component.Text, t.Component.Span())
		}
	case t.Class == nil && !html.IsRole(t.Role) && !html.IsRoleless(t.Role):
		r.noRole(t)
	}
	if t.In != nil {
		r.target(t.In)
	}
}

// usualRoles are the roles of elements that are often named instead, as HTML-AAM gives them.
var usualRoles = map[string]string{"select": "combobox", "input": "textbox", "textarea": "textbox", "a": "link",
	"li": "listitem", "ul": "list", "ol": "list", "tr": "row", "td": "cell", "th": "columnheader", "details": "group",
	"h1": "heading", "h2": "heading", "h3": "heading", "h4": "heading", "h5": "heading", "h6": "heading",
	"p": "paragraph", "nav": "navigation", "img": "img", "hr": "separator", "progress": "progressbar"}

// unreadIn says whether something in a part of the text could not be read: what it lacks may be that.
func (r *resolver) unreadIn(at source.Span) bool {
	return slices.ContainsFunc(r.d.Findings, func(f *finding.Finding) bool {
		return f.Rule == "unreadable" && at.Start <= f.Span.Start && f.Span.Start < at.End
	})
}

func (r *resolver) noRole(t *syntax.Target) {
	f := r.errorf("not-in-scope", t.Span(), "there is no role %s", t.Role)
	switch role := usualRoles[t.Role]; {
	case t.Role == "outside":
		f.Instead("outside is where the mouse goes: hover, press, hold, release and drag take it; blur takes the focus away")
	case syntax.IsState(t.Role):
		f.Instead("a role follows the state: %s button", t.Role)
	case role != "":
		at := source.Span{Start: t.Start, End: t.Start + source.Pos(len(t.Role))}
		f.Instead("elements are found by their role, as a user finds them: %s is a %s", t.Role, role)
		if r.d.Text(at) == t.Role {
			f.Mend("write "+role, at, role)
		}
	case slices.ContainsFunc(r.d.Components, func(c *Component) bool { return c.Member(t.Role) != nil }):
		f.Instead("a step does what a user does, with an element: press button ..., type ... into textbox ...; %s changes by that", t.Role)
	default:
		near := finding.Nearest(t.Role, append(html.Roles(), html.Roleless()...))
		if near == "" {
			f.Instead("some roles are: button, checkbox, textbox, combobox, listitem, heading, tab, dialog")
			return
		}
		f.Instead("did you mean %s?", near)
	}
}

// Sides are the two sides of a comparison, as units of their own.
func Sides(u *Unit) (x, y *Unit, ok bool) {
	b, ok := u.Expr.(*types.Binary)
	if !ok || b.Type() != types.Boolean || b.Op == syntax.And || b.Op == syntax.Or {
		return nil, nil, false
	}
	return &Unit{b.X, u.Locals}, &Unit{b.Y, u.Locals}, true
}
