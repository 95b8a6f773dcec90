package design

import (
	"fmt"
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// scope is where names are looked up: the names that a view declares around a
// place, then the members of the component, then what stands at the top.
type scope struct {
	r         *resolver
	component *Component         // nil at the top of a file
	view      *viewScope         // nil outside views
	law       bool               // laws and scenarios: all, the, was and reported may be asked
	heard     *heard             // in the handler of an event, or nil
	called    *syntax.Name       // what is called, where that is a name
	written   *syntax.AssignStmt // what writes to a name that is not there, or nil
}

// viewScope is the names and facts at a place in a view.
type viewScope struct {
	up     *viewScope
	locals []*ViewLocal
	level  int
	count  int // how many locals its block has
	facts  *types.Facts
}

func (s *scope) Lookup(name string) types.Symbol {
	for v := s.view; v != nil; v = v.up {
		for _, l := range v.locals {
			if l.Label == name {
				l.Used = true
				return l
			}
		}
	}
	if s.component != nil {
		if m := s.component.byName[name]; m != nil {
			return m
		}
	}
	if t := s.r.top[name]; t != nil {
		return t
	}
	return nil
}

func (s *scope) Visible() []string {
	var names []string
	for v := s.view; v != nil; v = v.up {
		for _, l := range v.locals {
			names = append(names, l.Label)
		}
	}
	if s.component != nil {
		for _, m := range s.component.Members {
			if m.Label[0] != ' ' { // a context that is supplied without a name
				names = append(names, m.Label)
			}
		}
	}
	for _, c := range s.r.d.Consts {
		names = append(names, c.Label)
	}
	for _, f := range s.r.d.Functions {
		names = append(names, f.Label)
	}
	return names
}

// IsValue reports events and timers, which have names as values do and are none.
func (s *scope) IsValue(name *syntax.Name, found types.Symbol, want types.Type) bool {
	m, ok := found.(*Member)
	switch {
	case ok && m.Kind == Emits:
		m.Type()
		f := s.r.errorf("wrong-type", name.Span(), "%s is an event, which is no value and no function", m.Label).
			See(m.At.Start, "it is declared here")
		s.tellingAction(f, name, m, want)
		return false
	case ok && m.Kind == Timer:
		s.r.errorf("wrong-type", name.Span(), "%s is a timer, which is no value and no function", m.Label).
			See(m.At.Start, "it is declared here").
			Instead("write start %s, stop %[1]s or running(%[1]s)", m.Label)
		return false
	}
	return true
}

// tellingAction proposes an action that reports an event, for a place that asks for a function.
func (s *scope) tellingAction(f *finding.Finding, name *syntax.Name, m *Member, want types.Type) {
	given := m.Sig
	if fn, ok := types.Under(types.NonNull(want)).(*types.Func); ok {
		given = fn.Params
	}
	tell := "tell" + upperFirst(m.Label)
	args, known := s.arguments(m.Sig, given)
	action := fmt.Sprintf("action %s%s { emit %s%s }", tell, types.Params(given), m.Label, args)
	f.Instead("declare an action that reports it, and give that: %s", action)
	switch has := s.component.Member(tell); {
	case has != nil && has.Kind == Action:
		f.Instead("give an action that reports it: %s", tell).Mend("give "+tell, name.Span(), tell)
	case has == nil && known && s.addMember(f, tell, action):
		f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: name.Span(), Text: tell})
	}
}

// arguments are those that a call with these parameters may have, of what is given to the place and what stands in
// scope; "..." stands for what is not known.
func (s *scope) arguments(params, given []types.Param) (args string, known bool) {
	list := make([]string, len(params))
	known = true
	for i, p := range params {
		switch offer := s.Offer(p); {
		case i < len(given) && types.Assignable(given[i].Read(), p.Read()):
			list[i] = given[i].Name
		case offer != "":
			list[i] = offer
		default:
			list[i], known = "...", false
		}
	}
	return "(" + strings.Join(list, ", ") + ")", known
}

// Special types the calls that only laws and scenarios can make.
func (s *scope) Special(c *types.Checker, name string, call *syntax.Call) (types.Expr, bool) {
	switch name {
	case "running":
		if s.law {
			return s.runningIn(c, call), true
		}
		return s.running(c, call)
	case "waiting":
		if !s.law {
			break
		}
		return s.waiting(c, call), true
	case "all", "the", "was", "reported":
	default:
		return nil, false
	}
	if !s.law {
		s.r.errorf("not-in-scope", call.Span(), "%s(...) can be asked in laws and scenarios only", name).
			Instead("link the value down, or report it up")
		return types.Unknown(call.Span()), true
	}
	if len(call.Args) != 1 {
		s.r.errorf("payload-differs", call.Span(), "%s takes one value", name).Instead("write %s(...)", name)
		return types.Unknown(call.Span()), true
	}
	if name == "was" {
		x := c.Expr(call.Args[0], nil)
		return types.NewBuiltin(types.Or(x.Type(), types.Null), call.Span(), name, nil, x), true
	}
	return s.instances(name, call), true
}

// running types running(t, ...), which tells whether a timer is.
func (s *scope) running(c *types.Checker, call *syntax.Call) (types.Expr, bool) {
	if s.component == nil || len(call.Args) == 0 {
		return nil, false
	}
	n, ok := call.Args[0].(*syntax.Name)
	if !ok {
		return nil, false
	}
	m := s.component.byName[n.Text]
	if m == nil || m.Kind != Timer {
		s.r.errorf("not-in-scope", n.Span(), "%s has no timer %s", s.component.Name, n.Text).
			Instead("%s", types.DidYouMean(n.Text, s.component.names(Timer), "its timers are: "))
		return types.Unknown(call.Span()), true
	}
	m.Type()
	rest := call.Args[1:]
	args := c.Args(rest, call.Span(), m.Sig[:min(len(rest), len(m.Sig))], n.Text)
	return types.NewBuiltin(types.Boolean, call.Span(), "running", m, args...), true
}

// runningIn types running(component.timer, ...) in laws, for any instance, and
// running(instance.timer, ...), for one.
func (s *scope) runningIn(c *types.Checker, call *syntax.Call) types.Expr {
	at := call.Span()
	var d *syntax.Dotted
	if len(call.Args) > 0 {
		d, _ = call.Args[0].(*syntax.Dotted)
	}
	if d == nil {
		s.r.errorf("wrong-type", at, "in a law running takes the timer of a component").Instead("write running(news-line.forget)")
		return types.Unknown(at)
	}
	var of *Component
	var args []types.Expr
	name := "runningAny"
	if n, ok := d.X.(*syntax.Name); ok {
		if of = s.r.components[n.Text]; of == nil {
			of = s.r.contexts[n.Text]
		}
	}
	if of == nil {
		x := c.Expr(d.X, nil)
		i, ok := types.Under(types.NonNull(x.Type())).(types.Instance)
		w, isWhole := i.Of.(Whole)
		if !ok || !isWhole {
			s.r.errorf("wrong-type", d.X.Span(), "this is no component").Instead("write running(news-line.forget), or running(the(news-line).forget)")
			return types.Unknown(at)
		}
		of, name, args = w.Component, "runningOf", []types.Expr{x}
	}
	m := of.byName[d.Name.Text]
	if m == nil || m.Kind != Timer {
		s.r.errorf("not-in-scope", d.Name.Span(), "%s has no timer %s", of.Name, d.Name.Text).
			Instead("%s", types.DidYouMean(d.Name.Text, of.names(Timer), "its timers are: "))
		return types.Unknown(at)
	}
	m.Type()
	rest := call.Args[1:]
	args = append(args, c.Args(rest, at, m.Sig[:min(len(rest), len(m.Sig))], d.Name.Text)...)
	return types.NewBuiltin(types.Boolean, at, name, m, args...)
}

// waiting types waiting(service.operation, ...) in laws: whether a question with
// these first arguments waits for its answer.
func (s *scope) waiting(c *types.Checker, call *syntax.Call) types.Expr {
	at := call.Span()
	var d *syntax.Dotted
	if len(call.Args) > 0 {
		d, _ = call.Args[0].(*syntax.Dotted)
	}
	n, ok := (*syntax.Name)(nil), false
	if d != nil {
		n, ok = d.X.(*syntax.Name)
	}
	if !ok {
		s.r.errorf("wrong-type", at, "waiting takes what a service is asked").Instead("write waiting(kiln-log.load)")
		return types.Unknown(at)
	}
	o := s.r.findOperation(&syntax.Word{At: n.At, Text: n.Text}, d.Name)
	if o == nil {
		return types.Unknown(at)
	}
	rest := call.Args[1:]
	args := c.Args(rest, at, o.Sig[:min(len(rest), len(o.Sig))], o.Name)
	return types.NewBuiltin(types.Boolean, at, "waiting", o, args...)
}

// instances types all(c), the(c) and reported(c.event).
func (s *scope) instances(name string, call *syntax.Call) types.Expr {
	arg := call.Args[0]
	event := (*syntax.Word)(nil)
	if d, ok := arg.(*syntax.Dotted); ok && name == "reported" {
		arg, event = d.X, d.Name
	}
	n, ok := arg.(*syntax.Name)
	if !ok {
		s.r.errorf("wrong-type", arg.Span(), "%s takes a component's name", name).Instead("write %s(shelf-picker)", name)
		return types.Unknown(call.Span())
	}
	of := s.r.components[n.Text]
	if of == nil {
		of = s.r.contexts[n.Text]
	}
	if of == nil {
		s.r.noComponent(n.Text, n.Span())
		return types.Unknown(call.Span())
	}
	switch name {
	case "all":
		return types.NewBuiltin(&types.List{Elem: types.Instance{Of: Whole{of}}}, call.Span(), name, of)
	case "the":
		return types.NewBuiltin(types.Instance{Of: Whole{of}}, call.Span(), name, of)
	}
	if event == nil || of.byName[event.Text] == nil || of.byName[event.Text].Kind != Emits {
		s.r.errorf("never-reported", arg.Span(), "reported takes an event that %s emits", of.Name).
			Instead("%s", types.DidYouMean(wordText(event), of.names(Emits), "it emits: "))
		return types.Unknown(call.Span())
	}
	return types.NewBuiltin(types.Boolean, call.Span(), name, of.byName[event.Text])
}

func wordText(w *syntax.Word) string {
	if w == nil {
		return ""
	}
	return w.Text
}

func (r *resolver) noComponent(name string, at source.Span) {
	if r.isLost(name) {
		return
	}
	var names []string
	for _, c := range r.d.Components {
		if !c.IsContext {
			names = append(names, c.Name)
		}
	}
	r.didYouMean(r.errorf("not-in-scope", at, "there is no component %s", name), &syntax.Word{At: syntax.At{Start: at.Start, Stop: at.End}, Text: name}, names, "the components are: ")
}

// didYouMean says what name is meant, and writes it; or lists those that there are.
func (r *resolver) didYouMean(f *finding.Finding, name *syntax.Word, names []string, list string) {
	f.Instead("%s", types.DidYouMean(name.Text, names, list))
	if near := finding.Nearest(name.Text, names); near != "" {
		f.Mend("write "+near, name.Span(), near)
	}
}

// names lists the members of some kinds.
func (c *Component) names(kinds ...Kind) []string {
	var list []string
	for _, m := range c.Members {
		for _, k := range kinds {
			if m.Kind == k {
				list = append(list, m.Label)
			}
		}
	}
	return list
}

func (r *resolver) checker(s *scope) *types.Checker {
	c := r.checkerOf(s)
	return &c
}

func (r *resolver) checkerOf(s *scope) types.Checker {
	c := types.Checker{Scope: s, Report: r.reporter}
	if s.view != nil {
		c.Facts = s.view.facts
	}
	return c
}
