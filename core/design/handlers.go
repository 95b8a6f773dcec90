package design

import (
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// What elements and components report, and what is done then.

func (v *viewResolver) elementEvent(e *Element, s *syntax.Event, vs *viewScope) {
	name := s.Name.Text
	if !html.IsEvent(name) {
		if v.notAnEvent(e, s) {
			return
		}
	}
	if len(s.Params) > 1 {
		v.errorf("payload-differs", s.Params[1].Span(), "a DOM event has one value: itself").Instead("write %s(e) -> ...", name)
	}
	h := &Handler{Name: name, Syntax: s}
	sc := v.scope(vs)
	var carried []types.Param
	if e.Tag == "form" && name == "submit" {
		carried = []types.Param{{Name: "values", Type: e.Values}}
	}
	sc.heard = &heard{s, carried, carried == nil}
	switch do := s.Do.(type) {
	case *syntax.Pass:
		h.Body = v.pass(sc, name, do, carried)
	case *syntax.Forward:
		h.Body = v.forward(sc, s.Name.Text, do, carried)
	default:
		if carried != nil {
			h.Body = v.body(sc, s.Params, carried, s.Do)
			break
		}
		b := &bodyChecker{resolver: v.resolver, scope: sc, c: v.checker(sc)}
		h.Body = b.runEvent(s)
	}
	if h.Body != nil {
		e.Handlers = append(e.Handlers, h)
	}
}

// notAnEvent reports a handler of what no element reports, and says whether nothing can be made of it.
func (v *viewResolver) notAnEvent(e *Element, s *syntax.Event) bool {
	name := s.Name.Text
	event := strings.TrimPrefix(strings.ToLower(name), "on")
	f := v.errorf("never-reported", s.Name.Span(), "an element never reports %s", name)
	switch p, isPass := s.Do.(*syntax.Pass); {
	case html.IsEvent(event):
		f.Instead("write %s -> ...", event).Mend("write "+event, s.Name.Span(), event)
		return false
	case (html.IsAttribute(name) || html.IsProperty(e.Tag, name)) && isPass:
		f.Rule, f.Message = "wrong-direction", name+" is linked down, not reported: it is no event"
		f.Instead("write %s <- %s", name, v.textOf(p.Target)).
			Mend("turn the link round", source.Span{Start: s.Name.Stop, End: p.Start}, " <- ")
		return true
	}
	if near := finding.Nearest(name, html.Events()); near != "" {
		f.Instead("did you mean %s?", near).Mend("write "+near, s.Name.Span(), near)
		return false
	}
	f.Instead("%s", types.DidYouMean(name, html.Events(), "some events are: "))
	return false
}

// runEvent resolves a DOM handler, which may name its event.
func (b *bodyChecker) runEvent(s *syntax.Event) *Body {
	b.c.Moment = true
	done := b.c.Open()
	defer done()
	out := &Body{At: s.Do.Span()}
	for i, p := range s.Params {
		l := b.c.Declare(p.Name, eventType)
		out.Params = append(out.Params, l)
		if i == 0 {
			b.event = l
		}
	}
	out.Stmts = b.stmt(s.Do)
	b.finish(out)
	return out
}

// pass resolves event -> actionName, which hands the event's values on.
func (v *viewResolver) pass(sc *scope, event string, s *syntax.Pass, sig []types.Param) *Body {
	c := v.checker(sc)
	b := &bodyChecker{resolver: v.resolver, scope: sc, c: c}
	if v.forwardMissing(sc, event, s) || b.verbMissing(s.Span(), s.Target, v.textOf(s.Target)) {
		return nil
	}
	fun := c.Expr(s.Target, nil)
	if fun.Type() == types.Any {
		return nil
	}
	f, ok := types.Under(types.NonNull(fun.Type())).(*types.Func)
	if !ok || f.Result != types.Void {
		if m, ok := v.component.byName[v.textOf(s.Target)]; ok && m.Writable() && len(sig) == 1 {
			carries := sig[0].Name
			if carries == m.Label { // which would hide the cell
				carries = "value"
			}
			v.errorf("wrong-type", s.Span(), "%s is a cell, and nothing says what becomes of it", m.Label).
				Instead("write %s(%s) -> %s = %[2]s", event, carries, m.Label)
			return nil
		}
		v.errorf("wrong-type", s.Span(), "only an action can stand alone after ->").Instead("write a statement: cell = value, emit e(...), or name(...)")
		return nil
	}
	if types.Nullable(fun.Type()) {
		c.Fits(fun, f, "what runs is")
		return nil
	}
	out := &Body{At: s.Span()}
	given := v.passed(out, sig)
	v.payload(sc, s.Span(), event, f.Params, sig, v.textOf(s.Target))
	at := syntax.At{Start: s.Start, Stop: s.Stop}
	out.Stmts = []Stmt{&Do{at, fun, given[:min(len(given), len(f.Params))]}}
	return out
}

// forwardMissing reports an event of a component that is handed to the event of the same name.
func (v *viewResolver) forwardMissing(sc *scope, event string, s *syntax.Pass) bool {
	n, ok := s.Target.(*syntax.Name)
	if !ok || sc.heard == nil || sc.heard.dom {
		return false
	}
	m := v.component.Member(n.Text)
	if m == nil || m.Kind != Emits {
		return false
	}
	to := "forward " + n.Text
	if n.Text == event {
		to = "forward"
	}
	v.errorf("wrong-type", s.Span(), "%s is an event, which is no function", n.Text).See(m.At.Start, "it is declared here").
		Instead("write %s -> %s", event, to).Mend("write forward", s.Span(), to)
	return true
}

func (r *resolver) textOf(e syntax.Expr) string {
	return r.d.Set.File(e.Span().Start).Slice(e.Span().Start, e.Span().End)
}

// passed gives a body one local for every value of an event.
func (v *viewResolver) passed(out *Body, sig []types.Param) []types.Expr {
	var given []types.Expr
	for i, p := range sig {
		l := &types.Local{Label: p.Name, Typ: p.Read(), Slot: i, At: out.At}
		out.Params = append(out.Params, l)
		given = append(given, types.NewRef(l, out.At))
	}
	out.Locals = len(sig)
	return given
}

// payload checks that an event's values fit what they are passed on to.
func (v *viewResolver) payload(sc *scope, at source.Span, event string, takes, sig []types.Param, name string) {
	for i, p := range takes {
		switch {
		case i >= len(sig) && !p.Optional:
			give := "..."
			if i == 0 && sc.Offer(p) != "" && len(takes) == 1 {
				give = sc.Offer(p)
			}
			v.errorf("payload-dropped", at, "%s needs %s, but the event does not carry it", name, p.Name).
				Instead("give it: -> %s(%s)", name, give)
			return
		case i < len(sig) && !types.Assignable(sig[i].Read(), p.Read()):
			v.errorf("payload-differs", at, "%s takes %s for %s, but the event carries %s", name, types.Article(p.Read()), p.Name, types.Article(sig[i].Read())).
				Instead("turn it: %s%s -> %s(...)", event, types.Names(sig), name)
			return
		}
	}
}

// forward resolves event -> forward, which reports an event upwards.
func (v *viewResolver) forward(sc *scope, event string, s *syntax.Forward, sig []types.Param) *Body {
	at := s.Span()
	if s.Name != nil {
		event, at = s.Name.Text, s.Name.Span()
	}
	m := v.component.Member(event)
	if m == nil || m.Kind != Emits {
		v.errorf("not-in-scope", at, "%s does not emit %s", v.component.Name, event).
			Instead("declare it: emits %s%s", event, types.Params(sig))
		return nil
	}
	m.Type()
	out := &Body{At: s.Span()}
	given := v.passed(out, sig)
	v.payload(sc, s.Span(), event, m.Sig, sig, "emit "+event)
	out.Stmts = []Stmt{&Emit{syntax.At{Start: s.Start, Stop: s.Stop}, m, given[:min(len(given), len(m.Sig))]}}
	return out
}
