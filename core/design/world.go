package design

import (
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// What reaches a component from anywhere: channels, services, and components
// that are opened above the page.

// Channel carries messages from anyone to anyone.
type Channel struct {
	Name   string
	Sig    []types.Param
	Syntax *syntax.Channel
}

// Hearing is what a component does with the messages of a channel.
type Hearing struct {
	Channel *Channel
	Body    *Body
	Syntax  *syntax.Hears
}

// Service stands for the world outside.
type Service struct {
	Name       string
	Base       string // its address; "" where its stand-ins answer
	Operations []*Operation
	Syntax     *syntax.Service
}

// Operation is a question to a service: what it replies and how it can fail.
// The expressions see the arguments as the first locals of their frame.
type Operation struct {
	Service *Service
	Name    string
	Sig     []types.Param
	Result  types.Type
	Replies *Unit // nil: it replies nothing
	After   *Unit // nil: when a scenario says so
	Fails   []*Unit
	Params  [][]*types.Local // of each of these: its arguments
	HTTP    *HTTP            // how it is asked for real, or nil
	Syntax  *syntax.Operation
}

type (
	// Send sends a message to a channel.
	Send struct {
		syntax.At
		Channel *Channel
		Args    []types.Expr
	}
	// Ask asks a service. What comes back runs in the frame of the handler
	// that asked, as it was.
	Ask struct {
		syntax.At
		Operation *Operation
		Args      []types.Expr
		Got       *Outcome // or nil
		Failed    *Outcome // or nil
	}
	// Outcome is what is done with a reply or a failure.
	Outcome struct {
		Param *types.Local // or nil
		Stmts []Stmt
	}
	// Open mounts a component above the page. Its links and handlers stand in
	// the frame of the handler that opened it.
	Open struct {
		syntax.At
		Modal bool
		Use   *Use
	}
	// Leave ends the opened component, with a report or without.
	Leave struct {
		syntax.At
		Event *Member // or nil
		Args  []types.Expr
	}
)

func (r *resolver) declareChannel(d *syntax.Channel) {
	if o := r.channels[d.Name.Text]; o != nil {
		r.twice(d.Name, "channel", o.Syntax.Name.Start)
		return
	}
	c := &Channel{Name: d.Name.Text, Syntax: d}
	r.channels[c.Name] = c
	r.d.Channels = append(r.d.Channels, c)
}

func (r *resolver) declareService(d *syntax.Service) {
	if o := r.services[d.Name.Text]; o != nil {
		r.twice(d.Name, "service", o.Syntax.Name.Start)
		return
	}
	s := &Service{Name: d.Name.Text, Syntax: d}
	for _, op := range d.Operations {
		for _, o := range s.Operations {
			if o.Name == op.Name.Text {
				r.twice(op.Name, "operation", o.Syntax.Name.Start)
			}
		}
		s.Operations = append(s.Operations, &Operation{Service: s, Name: op.Name.Text, Result: types.Void, Syntax: op})
	}
	r.services[s.Name] = s
	r.d.Services = append(r.d.Services, s)
}

// world resolves channels and services, when the types are known.
func (r *resolver) world() {
	for _, c := range r.d.Channels {
		c.Sig = r.params(c.Syntax.Params)
		for i, p := range c.Sig {
			r.plain(p.Type, c.Syntax.Params[i].Span(), "a message")
		}
	}
	for _, s := range r.d.Services {
		r.base(s)
		for _, o := range s.Operations {
			r.operation(o)
		}
	}
}

func (r *resolver) operation(o *Operation) {
	o.Sig = r.params(o.Syntax.Params)
	if o.Syntax.Result != nil {
		o.Result = r.typeOf(o.Syntax.Result)
		r.plain(o.Result, o.Syntax.Name.Span(), "a reply")
	}
	unit := func(e syntax.Expr, want types.Type, what string) *Unit {
		if e == nil {
			return nil
		}
		c := r.checker(&scope{r: r})
		done := c.Open()
		defer done()
		var params []*types.Local
		for i, p := range o.Syntax.Params {
			params = append(params, c.Declare(p.Name, o.Sig[i].Read()))
		}
		o.Params = append(o.Params, params)
		return &Unit{c.Want(e, want, what), c.Locals}
	}
	if o.Syntax.Replies != nil && o.Result == types.Void {
		r.errorf("wrong-type", o.Syntax.Replies.Span(), "%s replies a value, but its type is not said", o.Name).
			Instead("write %s(...): string replies ...", o.Name)
		return
	}
	if o.Syntax.Replies == nil && o.Result != types.Void {
		r.errorf("wrong-type", o.Syntax.Name.Span(), "%s does not say what it replies", o.Name).
			Instead("write %s replies ..., with the value it answers with while nothing real is asked", r.d.Text(source.Span{Start: o.Syntax.Name.Span().Start, End: o.Syntax.Span().End}))
	}
	r.http(o)
	o.Replies = unit(o.Syntax.Replies, o.Result, o.Name+" replies")
	o.After = unit(o.Syntax.After, types.Number, "a reply comes after")
	for _, f := range o.Syntax.Fails {
		o.Fails = append(o.Fails, unit(f, types.String, "a failure says"))
	}
	if o.HTTP != nil && len(o.Fails) == 0 { // whatever is asked over a network can fail
		o.Fails = append(o.Fails, unit(&syntax.TextLit{At: o.Syntax.At, Value: "there is no answer"}, types.String, "a failure says"))
	}
}

func (r *resolver) findOperation(service, name *syntax.Word) *Operation {
	s := r.services[service.Text]
	if s == nil {
		var names []string
		for _, o := range r.d.Services {
			names = append(names, o.Name)
		}
		r.errorf("not-in-scope", service.Span(), "there is no service %s", service.Text).
			Instead("%s", types.DidYouMean(service.Text, names, "declare it: service "+service.Text+" { ... }; the services are: "))
		return nil
	}
	var names []string
	for _, o := range s.Operations {
		if o.Name == name.Text {
			return o
		}
		names = append(names, o.Name)
	}
	r.errorf("not-in-scope", name.Span(), "%s cannot be asked %s", s.Name, name.Text).
		Instead("%s", types.DidYouMean(name.Text, names, "it can be asked: "))
	return nil
}

func (r *resolver) findChannel(name *syntax.Word) *Channel {
	if c := r.channels[name.Text]; c != nil {
		return c
	}
	var names []string
	for _, c := range r.d.Channels {
		names = append(names, c.Name)
	}
	f := r.errorf("not-in-scope", name.Span(), "there is no channel %s", name.Text)
	if len(names) == 0 {
		f.Instead("declare it at the top of a file: channel %s(text: string)", name.Text)
		return nil
	}
	f.Instead("%s", types.DidYouMean(name.Text, names, "declare it: channel "+name.Text+"(text: string); the channels are: "))
	return nil
}

// hearing resolves hears news(text) { ... }.
func (r *resolver) hearing(c *Component, s *syntax.Hears) {
	ch := r.findChannel(s.Channel)
	if ch == nil {
		return
	}
	if len(s.Params) > len(ch.Sig) {
		r.errorf("payload-differs", s.Params[len(ch.Sig)].Span(), "%s carries %s, but %s named", ch.Name, carried(ch.Sig), finding.Are(len(s.Params))).
			See(ch.Syntax.Start, "it is declared here").Instead("leave the last ones out")
	}
	c.Hearings = append(c.Hearings, &Hearing{ch, r.body(&scope{r: r, component: c}, s.Params, ch.Sig, s.Body), s})
}

func (b *bodyChecker) send(at syntax.At, s *syntax.Send) []Stmt {
	ch := b.findChannel(s.Channel)
	if ch == nil {
		for _, a := range s.Args {
			b.c.Expr(a, nil)
		}
		return nil
	}
	out := &Send{at, ch, b.c.Args(s.Args, s.Span(), ch.Sig, ch.Name)}
	b.c.Facts = b.c.Facts.Forget()
	return []Stmt{out}
}

func (b *bodyChecker) ask(at syntax.At, s *syntax.Ask) []Stmt {
	o := b.findOperation(s.Service, s.Name)
	if o == nil {
		return nil
	}
	out := &Ask{At: at, Operation: o, Args: b.c.Args(s.Args, s.Span(), o.Sig, o.Name)}
	for _, it := range s.Outcomes {
		e, ok := it.(*syntax.Event)
		switch {
		case ok && e.Name.Text == "got" && out.Got == nil:
			out.Got = b.outcome(e, o.Result)
		case ok && e.Name.Text == "failed" && out.Failed == nil:
			out.Failed = b.outcome(e, types.String)
			if len(o.Fails) == 0 {
				b.errorf("never-reported", e.Name.Span(), "%s.%s never fails", o.Service.Name, o.Name).
					See(o.Syntax.Start, "it is declared here").Instead("write fails \"...\" there, or remove this")
			}
		default:
			at := it.Span()
			if ok { // its handler is not what is wrong
				at = e.Name.Span()
			}
			b.errorf("never-reported", at, "what comes back is got or failed, each once").Instead("write got(reply) -> ...; failed(why) -> ...")
		}
	}
	return []Stmt{out}
}

// outcome resolves a handler that runs later, in the frame of this one. What
// tests have shown of cells may not hold any more then.
// outcomeName is what the value of an outcome is called where the handler does not name it.
func outcomeName(e *syntax.Event, s *scope) string {
	for _, name := range []string{"why", "error", "err", "e", "reason", "message"} {
		if e.Name.Text == "failed" && s.Lookup(name) == nil {
			return name
		}
	}
	return "reply"
}

func (b *bodyChecker) outcome(e *syntax.Event, t types.Type) *Outcome {
	done := b.c.Open()
	defer done()
	facts := b.c.Facts
	b.c.Facts = facts.Forget()
	outer := b.scope.heard
	b.scope.heard = &heard{syntax: e, sig: []types.Param{{Name: outcomeName(e, b.scope), Type: t}}}
	defer func() { b.scope.heard = outer }()
	out := &Outcome{}
	if len(e.Params) > 1 || len(e.Params) == 1 && t == types.Void {
		b.errorf("payload-differs", e.Params[len(e.Params)-1].Span(), "this carries %s", map[bool]string{true: "nothing", false: "one value"}[t == types.Void]).
			Instead("leave the name out")
	}
	for i, p := range e.Params {
		if l := b.c.Declare(p.Name, t); i == 0 {
			out.Param = l
		}
	}
	if p, ok := e.Do.(*syntax.Pass); ok {
		out.Stmts = b.passOutcome(out, p, t)
	} else {
		out.Stmts = b.stmt(e.Do)
	}
	b.c.Facts = facts
	return out
}

// passOutcome resolves got -> action, which passes the reply on.
func (b *bodyChecker) passOutcome(out *Outcome, p *syntax.Pass, t types.Type) []Stmt {
	var args []syntax.Expr
	if t != types.Void {
		name := &syntax.Word{At: p.At, Text: "reply"}
		if out.Param == nil {
			out.Param = b.c.Declare(name, t)
		}
		args = append(args, &syntax.Name{At: p.At, Text: out.Param.Label})
	}
	call := &syntax.Call{At: p.At, Fun: p.Target, Args: args}
	return b.callStmt(p.At, call)
}

// open resolves open component { ... }: links and handlers as of a use, but
// in the frame of this handler.
func (b *bodyChecker) open(at syntax.At, s *syntax.Open) []Stmt {
	c := b.components[s.Component.Text]
	if c == nil {
		b.noComponent(s.Component.Text, s.Component.Span())
		return nil
	}
	b.opened = append(b.opened, c)
	v := &viewResolver{resolver: b.resolver, component: b.scope.component, within: b}
	vs := b.scope.view
	if vs == nil {
		vs = &viewScope{}
	}
	el := &syntax.Element{At: s.At, Name: s.Component, Body: s.Links, Braces: s.Braces}
	u := &Use{At: at, Component: c, Syntax: el}
	facts := b.c.Facts
	for _, it := range s.Links {
		b.c.Facts = facts.Forget()
		switch it := it.(type) {
		case *syntax.Link:
			v.useLink(u, it, vs)
		case *syntax.Event:
			v.useEvent(u, it, vs)
		default:
			if el, ok := it.(*syntax.Element); !ok || !v.memberAsContent(u, el) {
				v.noSlot(u, it)
			}
		}
	}
	b.c.Facts = facts.Forget()
	v.allGiven(u, nil)
	return []Stmt{&Open{at, s.Modal, u}}
}

func (b *bodyChecker) leave(at syntax.At, s *syntax.Leave) []Stmt {
	out := &Leave{At: at}
	b.scope.component.Leaves = true
	if s.Event != nil {
		emit := b.emit(at, &syntax.Emit{At: s.At, Name: s.Event, Args: s.Args})
		if len(emit) == 0 {
			return nil
		}
		out.Event, out.Args = emit[0].(*Emit).Event, emit[0].(*Emit).Args
	}
	b.c.Facts = b.c.Facts.Forget()
	return []Stmt{out}
}

// captured resolves the handler of an opened component's event: it sees the
// locals of the handler that opened it, and its own.
func (b *bodyChecker) captured(names []*syntax.Param, sig []types.Param, s syntax.Stmt) *Body {
	done := b.c.Open()
	defer done()
	out := &Body{At: s.Span(), Captured: true, Params: b.declare(names, sig)}
	out.Stmts = b.stmt(s)
	b.later = append(b.later, func(locals int) { out.Locals = locals })
	return out
}
