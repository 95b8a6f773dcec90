package design

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// bodyChecker resolves the statements of one handler or action.
type bodyChecker struct {
	*resolver
	scope *scope
	c     *types.Checker
	event *types.Local       // the DOM event's name, or nil
	later []func(locals int) // told how many locals the frame has in the end
	tying bool               // resolving a tie, which may reach a context's shared cell
}

// eventType is what a DOM handler may read of its event.
var eventType = &types.Named{Name: "event", Under: &types.Record{Fields: []types.Field{
	{Name: "value", Type: types.String}, {Name: "checked", Type: types.Boolean}, {Name: "key", Type: types.String},
	{Name: "shiftKey", Type: types.Boolean}, {Name: "ctrlKey", Type: types.Boolean}, {Name: "altKey", Type: types.Boolean},
	{Name: "metaKey", Type: types.Boolean}, {Name: "self", Type: types.Boolean}, {Name: "inside", Type: types.Boolean},
	{Name: "data", Type: types.String},
}}}

// body resolves a block or single statement with parameters.
func (r *resolver) body(sc *scope, names []*syntax.Param, sig []types.Param, s syntax.Stmt) *Body {
	b := &bodyChecker{resolver: r, scope: sc, c: r.checker(sc)}
	return b.run(names, sig, s)
}

func (b *bodyChecker) run(names []*syntax.Param, sig []types.Param, s syntax.Stmt) *Body {
	b.c.Moment = true
	done := b.c.Open()
	defer done()
	out := &Body{At: s.Span(), Params: b.declare(names, sig)}
	out.Stmts = b.stmt(s)
	b.finish(out)
	return out
}

// declare makes parameters locals, of the types that a signature gives them.
func (b *bodyChecker) declare(names []*syntax.Param, sig []types.Param) []*types.Local {
	var list []*types.Local
	for i, n := range names {
		t := types.Type(types.Any)
		if i < len(sig) {
			t = sig[i].Read()
		}
		list = append(list, b.c.Declare(n.Name, t))
	}
	return list
}

// finish tells all that share the frame how many locals it has.
func (b *bodyChecker) finish(out *Body) {
	out.Locals = b.c.Locals
	for _, tell := range b.later {
		tell(out.Locals)
	}
}

func (b *bodyChecker) block(list []syntax.Stmt) []Stmt {
	done := b.c.Open()
	defer done()
	var out []Stmt
	for _, s := range list {
		out = append(out, b.stmt(s)...)
	}
	return out
}

// stmt resolves one statement; a block gives all of its own.
func (b *bodyChecker) stmt(s syntax.Stmt) []Stmt {
	at := syntax.At{Start: s.Span().Start, Stop: s.Span().End}
	switch s := s.(type) {
	case *syntax.Block:
		return b.block(s.Stmts)
	case *syntax.AssignStmt:
		return b.assign(at, s)
	case *syntax.ConstDecl:
		return b.let(at, s)
	case *syntax.If:
		return []Stmt{b.ifStmt(at, s)}
	case *syntax.For:
		return []Stmt{b.forStmt(at, s)}
	case *syntax.Return:
		return []Stmt{&Return{at}}
	case *syntax.CallStmt:
		return b.callStmt(at, s.Call)
	case *syntax.Emit:
		return b.emit(at, s)
	case *syntax.TimerStmt:
		return b.clock(at, s)
	case *syntax.Send:
		return b.send(at, s)
	case *syntax.Ask:
		return b.ask(at, s)
	case *syntax.Open:
		return b.open(at, s)
	case *syntax.Leave:
		return b.leave(at, s)
	case *syntax.Log:
		l := &Log{At: at}
		for _, a := range s.Args {
			l.Args = append(l.Args, b.c.Expr(a, nil))
		}
		return []Stmt{l}
	case *syntax.Pass, *syntax.Forward:
		b.errorf("wrong-type", at.Span(), "this stands only right after ->").Instead("call it: name(...)")
	}
	return nil
}

func (b *bodyChecker) let(at syntax.At, s *syntax.ConstDecl) []Stmt {
	var x types.Expr
	t := types.Type(nil)
	if s.Type != nil {
		t = b.typeOf(s.Type)
		x = b.c.Want(s.Value, t, s.Name.Text+" is")
	} else {
		x = b.c.Expr(s.Value, nil)
		t = b.inferred(x, s.Name.Text, false, s.Name.Span())
	}
	if !isInstance(t) { // which a handler may name, and nothing keeps
		b.plain(t, s.Name.Span(), "a constant")
	}
	return []Stmt{&Let{at, b.c.Declare(s.Name, t), x}}
}

func (b *bodyChecker) ifStmt(at syntax.At, s *syntax.If) Stmt {
	out := &If{At: at, Cond: b.c.Condition(s.Cond)}
	before := b.c.Facts
	b.c.Facts = before.Assume(out.Cond, true)
	out.Then = b.nested(s.Then)
	then := b.c.Facts
	b.c.Facts = before.Assume(out.Cond, false)
	if s.Else != nil {
		out.Else = b.nested(s.Else)
	}
	switch {
	case ends(out.Then):
	case ends(out.Else):
		b.c.Facts = then
	case changes(out.Then) || changes(out.Else):
		b.c.Facts = before.Forget()
	default:
		b.c.Facts = before
	}
	return out
}

func (b *bodyChecker) nested(s syntax.Stmt) []Stmt {
	done := b.c.Open()
	defer done()
	return b.stmt(s)
}

// ends says whether statements never reach what follows them.
func ends(list []Stmt) bool {
	if len(list) == 0 {
		return false
	}
	switch s := list[len(list)-1].(type) {
	case *Return:
		return true
	case *If:
		return ends(s.Then) && ends(s.Else)
	}
	return false
}

// changes says whether statements may change a cell.
func changes(list []Stmt) bool {
	for _, s := range list {
		switch s := s.(type) {
		case *Let, *Log, *Return, *Prevent, *Clock:
		case *If:
			if changes(s.Then) || changes(s.Else) {
				return true
			}
		case *For:
			if changes(s.Body) {
				return true
			}
		default:
			return true
		}
	}
	return false
}

func (b *bodyChecker) forStmt(at syntax.At, s *syntax.For) Stmt {
	out := &For{At: at, List: b.c.Want(s.List, &types.List{Elem: types.Any}, "for goes through")}
	done := b.c.Open()
	defer done()
	elem := types.Type(types.Any)
	if l, ok := types.Under(types.NonNull(out.List.Type())).(*types.List); ok {
		elem = l.Elem
	}
	out.Local = b.c.Declare(s.Var, elem)
	before := b.c.Facts
	if mayChange(s.Body) { // in an earlier round
		b.c.Facts = before.Forget()
	}
	out.Body = b.nested(s.Body)
	if !changes(out.Body) {
		b.c.Facts = before
	} else {
		b.c.Facts = before.Forget()
	}
	return out
}

// mayChange says whether a statement, as written, may change a cell.
func mayChange(s syntax.Stmt) bool {
	switch s := s.(type) {
	case *syntax.Block:
		return slices.ContainsFunc(s.Stmts, mayChange)
	case *syntax.If:
		return mayChange(s.Then) || s.Else != nil && mayChange(s.Else)
	case *syntax.For:
		return mayChange(s.Body)
	case *syntax.ConstDecl, *syntax.Log, *syntax.Return, *syntax.TimerStmt:
		return false
	}
	return true
}

func (b *bodyChecker) emit(at syntax.At, s *syntax.Emit) []Stmt {
	m := b.scope.component.Member(s.Name.Text)
	if m == nil || m.Kind != Emits {
		names := b.scope.component.names(Emits)
		for _, a := range s.Args {
			b.c.Expr(a, nil)
		}
		b.notEmitted(s, m, names)
		return nil
	}
	m.Type()
	out := &Emit{at, m, b.c.Args(s.Args, s.Span(), m.Sig, s.Name.Text)}
	b.c.Facts = b.c.Facts.Forget()
	return []Stmt{out}
}

// notEmitted reports an event that the component does not have, or that is none.
func (b *bodyChecker) notEmitted(s *syntax.Emit, m *Member, names []string) {
	if b.isLost(s.Name.Text) {
		return
	}
	word := source.Span{Start: s.Start, End: s.Name.Start}
	f := b.errorf("not-in-scope", s.Name.Span(), "%s does not emit %s", b.scope.component.Name, s.Name.Text)
	switch near := finding.Nearest(s.Name.Text, names); {
	case b.channels[s.Name.Text] != nil:
		f.Message = s.Name.Text + " is a channel, not an event"
		f.Instead("write send %s", b.textAt(source.Span{Start: s.Name.Start, End: s.Stop})).Mend("write send", word, "send ")
	case m != nil && m.Kind == Timer:
		f.Message = s.Name.Text + " is a timer, not an event"
		f.Instead("write start %s", s.Name.Text).Mend("write start", word, "start ")
	case m != nil && (m.Kind == Action || m.Kind == Takes && isFunc(m.Type())):
		f.Message = s.Name.Text + " is " + m.Kind.Noun() + ", not an event"
		if m.Kind == Takes {
			f.Message = s.Name.Text + " is a function that is taken, not an event"
		}
		f.Instead("call it: %s", b.textAt(source.Span{Start: s.Name.Start, End: s.Stop})).Mend("call it", word, "")
	case near != "":
		f.Instead("did you mean %s?", near).Mend("write "+near, s.Name.Span(), near)
	case m != nil:
		f.Message = s.Name.Text + " is " + m.Kind.Noun() + ", not an event"
		f.See(m.At.Start, "it is declared here").Instead("declare an event of another name, such as emits %sChanged%s, and report that", s.Name.Text, types.Params(b.carriedBy(s)))
	default:
		b.undeclared[absence{b.scope.component, s.Name.Text}] = true
		emits := "emits " + s.Name.Text + types.Params(b.carriedBy(s))
		f.Instead("declare it: %s", emits)
		b.scope.addMember(f, s.Name.Text, emits)
	}
}

func isFunc(t types.Type) bool {
	_, ok := types.Under(types.NonNull(t)).(*types.Func)
	return ok
}

// carriedBy are the values that an event is reported with, as it would be declared.
func (b *bodyChecker) carriedBy(s *syntax.Emit) (sig []types.Param) {
	for i, a := range s.Args {
		p := types.Param{Name: "value", Type: types.Fresh(b.c.Expr(a, nil))}
		if n, ok := a.(*syntax.Name); ok {
			p.Name = n.Text
		} else if len(s.Args) > 1 {
			p.Name = "value" + string(rune('A'+i))
		}
		sig = append(sig, p)
	}
	return sig
}

// clock resolves start t(...) and stop t(...).
func (b *bodyChecker) clock(at syntax.At, s *syntax.TimerStmt) []Stmt {
	m := b.timer(s.Name)
	if m == nil {
		for _, a := range s.Args {
			b.c.Expr(a, nil)
		}
		return nil
	}
	out := &Clock{At: at, Timer: m, Stop: s.Stop, All: s.Stop && !s.Call}
	sig := m.Sig
	if s.Stop {
		sig = sig[:min(len(s.Args), len(sig))]
	}
	out.Args = b.c.Args(s.Args, s.Span(), sig, s.Name.Text)
	return []Stmt{out}
}

// timer finds a timer of the component.
func (b *bodyChecker) timer(name *syntax.Word) *Member {
	if m := b.scope.component.Member(name.Text); m != nil && m.Kind == Timer {
		m.Type()
		return m
	}
	b.errorf("not-in-scope", name.Span(), "%s has no timer %s", b.scope.component.Name, name.Text).
		Instead("%s", types.DidYouMean(name.Text, b.scope.component.names(Timer), "declare it: timer "+name.Text+" after 1000 { ... }; its timers are: "))
	return nil
}

// callStmt resolves a call of an action, of a taken function, or of a method
// of the event.
func (b *bodyChecker) callStmt(at syntax.At, call *syntax.Call) []Stmt {
	if d, ok := call.Fun.(*syntax.Dotted); ok {
		if n, ok := d.X.(*syntax.Name); ok && b.event != nil && n.Text == b.event.Label {
			return b.eventCall(at, d, call)
		}
	}
	if b.timerCalled(call) {
		return nil
	}
	if b.verbMissing(at.Span(), call.Fun, b.textAt(call.Span())) {
		for _, a := range call.Args {
			b.c.Expr(a, nil)
		}
		return nil
	}
	if list, ok := b.callOfKinds(at, call); ok {
		return list
	}
	b.c.Called = call
	b.scope.called, _ = call.Fun.(*syntax.Name)
	fun := b.c.Expr(call.Fun, nil)
	b.scope.called = nil
	f, args := b.c.Callee(call, fun)
	if f == nil {
		return nil
	}
	if f.Result != types.Void {
		b.errorf("wrong-type", call.Span(), "this works out a value, and changes nothing").
			Instead("use the value: const x = ..., or cell = ...")
		return nil
	}
	b.c.Facts = b.c.Facts.Forget()
	return []Stmt{&Do{at, fun, args}}
}

// callOfKinds resolves a call of what instances of several kinds offer: one call for each kind, of
// which those of other kinds are left out.
func (b *bodyChecker) callOfKinds(at syntax.At, call *syntax.Call) ([]Stmt, bool) {
	d, ok := call.Fun.(*syntax.Dotted)
	if !ok || !b.ofKinds(d.X) {
		return nil, false
	}
	x := b.c.Expr(d.X, nil)
	kinds := types.Kinds(x.Type())
	if types.Nullable(x.Type()) && !d.Optional {
		b.c.Fits(x, types.NonNull(x.Type()), "."+d.Name.Text+"() is called on")
		return nil, true
	}
	it := &types.Local{Label: " it", Typ: x.Type(), Slot: b.c.Locals, At: d.X.Span()}
	b.c.Locals++
	out := []Stmt{&Let{at, it, x}}
	for i, m := range b.c.Common(d, kinds) {
		fun := types.OfKind(types.NewRef(it, d.X.Span()), kinds[i], m, d)
		f, args := b.c.Callee(call, fun)
		if f == nil {
			return nil, true
		}
		if f.Result != types.Void {
			b.errorf("wrong-type", call.Span(), "this works out a value, and changes nothing").
				Instead("use the value: const x = ..., or cell = ...")
			return nil, true
		}
		out = append(out, &Do{at, fun, args})
	}
	b.c.Facts = b.c.Facts.Forget()
	return out, true
}

// ofKinds says whether an expression gives an instance of one of several kinds; nothing is reported.
func (b *bodyChecker) ofKinds(x syntax.Expr) bool {
	quiet := *b.c
	quiet.Report = func(*finding.Finding) {}
	quiet.Scope = &scope{r: b.silent(), component: b.scope.component, view: b.scope.view, law: b.scope.law}
	return types.Kinds(quiet.Expr(x, nil).Type()) != nil
}

// timerCalled reports start(tick) and stop(tick).
func (b *bodyChecker) timerCalled(call *syntax.Call) bool {
	word, ok := call.Fun.(*syntax.Name)
	if !ok || len(call.Args) != 1 || word.Text != "start" && word.Text != "stop" || b.c.Known(word.Text) {
		return false
	}
	n, ok := call.Args[0].(*syntax.Name)
	if !ok || b.scope.component.Member(word.Text) != nil {
		return false
	}
	if m := b.scope.component.Member(n.Text); m == nil || m.Kind != Timer {
		return false
	}
	write := word.Text + " " + n.Text
	b.errorf("wrong-type", call.Span(), "%s is a word of the language, not a function", word.Text).
		Instead("write %s", write).Mend("write "+write, call.Span(), write)
	return true
}

// verbMissing reports an event, timer or channel that is called as a function is: each has a word
// of its own. text is the call as it is written.
func (b *bodyChecker) verbMissing(at source.Span, fun syntax.Expr, text string) bool {
	n, ok := fun.(*syntax.Name)
	if !ok || b.c.Known(n.Text) {
		return false
	}
	verb, what, declared, known := "", "", source.Pos(0), true
	switch m, ch := b.scope.component.Member(n.Text), b.channels[n.Text]; {
	case m != nil && m.Kind == Emits:
		verb, what, declared = "emit ", "an event, which is no function", m.At.Start
		if m.Type(); text == n.Text && len(m.Sig) > 0 {
			text, known = b.scope.arguments(m.Sig, nil)
			text = n.Text + text
		}
	case m != nil && m.Kind == Timer:
		verb, what, declared = "start ", "a timer, which is no function", m.At.Start
		text = strings.TrimSuffix(text, "()")
	case m == nil && ch != nil:
		verb, what, declared = "send ", "a channel, which is no function", ch.Syntax.Name.Start
	default:
		return false
	}
	f := b.errorf("wrong-type", n.Span(), "%s is %s", n.Text, what).See(declared, "it is declared here").Instead("write %s%s", verb, text)
	if known {
		f.Mend("write "+strings.TrimSpace(verb), at, verb+text)
	}
	return true
}

func (b *bodyChecker) eventCall(at syntax.At, d *syntax.Dotted, call *syntax.Call) []Stmt {
	b.event.Unused = false
	switch name := d.Name.Text; name {
	case "preventDefault", "stopPropagation":
		b.c.Args(call.Args, call.Span(), nil, name)
		return []Stmt{&Prevent{at, name == "stopPropagation"}}
	}
	b.errorf("not-in-scope", d.Name.Span(), "an event has no method %s", d.Name.Text).
		Instead("%s", types.DidYouMean(d.Name.Text, []string{"preventDefault", "stopPropagation"}, "its methods are: "))
	return nil
}

func (b *bodyChecker) assign(at syntax.At, s *syntax.AssignStmt) []Stmt {
	out := &Assign{At: at, Op: s.Op}
	findings := len(b.d.Findings)
	b.c.Written = s.Target
	defer func() { b.c.Written = nil }()
	b.scope.written = s
	out.Place = b.place(s.Target)
	b.scope.written = nil
	if out.Place == nil {
		if root := rootName(s.Target); root != "" && b.scope.Lookup(root) == nil {
			b.c.Expr(s.Target, nil) // which tells that it is not there
		} else if len(b.d.Findings) == findings {
			f := b.errorf("wrong-type", s.Target.Span(), "this cannot be written to").Instead("write cell = value, or cell.field = value")
			if list, ok := strings.CutSuffix(b.textAt(s.Target.Span()), ".length"); ok {
				f.Instead("a list never changes: write %s = [], or %[1]s = %[1]s.slice(0, n)", list)
			}
			if root, method, _ := strings.Cut(b.textAt(s.Target.Span()), "."); (strings.HasPrefix(method, "find(") || strings.HasPrefix(method, "at(")) && b.scope.Lookup(root) != nil {
				f.Instead("what a method gives is no place; write %s = %[1]s.map(x => x.id == id ? { ...x, ... } : x), or %[1]s[i] and its field", root)
			}
		}
		b.c.Expr(s.Value, nil)
		return nil
	}
	what := b.textAt(s.Target.Span()) + " is"
	if b.emptied(s, out.Place.Typ) {
		return nil
	}
	read := b.c.Expr(s.Target, nil)
	if s.Op == syntax.Assign {
		b.c.Written = nil
	}
	switch s.Op {
	case syntax.Assign:
		out.Value = b.c.Want(s.Value, out.Place.Typ, what)
	default:
		out.Read = read
		out.Value = b.added(s, read)
		b.c.Fits(out.Value, out.Place.Typ, what)
	}
	b.c.Facts = b.c.Facts.Written(read, out.Value.Type())
	if m, ok := out.Place.Root.(*Member); ok && m.Kind == Derives {
		b.c.Facts = b.c.Facts.Forget()
	}
	return []Stmt{out}
}

// emptied reports list[i] = null, by which an item is meant to go.
func (b *bodyChecker) emptied(s *syntax.AssignStmt, item types.Type) bool {
	at, isIndex := s.Target.(*syntax.Index)
	n, isName := s.Value.(*syntax.Name)
	if !isIndex || !isName || n.Text != "null" || s.Op != syntax.Assign || types.Nullable(item) {
		return false
	}
	list := b.textAt(at.X.Span())
	write := fmt.Sprintf("%s = %[1]s.filter((x, i) => i != %s)", list, b.textAt(at.I.Span()))
	b.errorf("may-be-null", s.Value.Span(), "an item of %s is never null", list).Instead("to take it out write %s", write).Mend("take it out", s.Span(), write)
	return true
}

// rootName is the name that a path begins with, or "".
func rootName(e syntax.Expr) string {
	switch e := e.(type) {
	case *syntax.Name:
		return e.Text
	case *syntax.Dotted:
		return rootName(e.X)
	case *syntax.Index:
		return rootName(e.X)
	case *syntax.Paren:
		return rootName(e.X)
	}
	return ""
}

func (b *bodyChecker) textAt(at source.Span) string {
	return b.d.Set.File(at.Start).Slice(at.Start, at.End)
}

// added types x += e as x + e.
func (b *bodyChecker) added(s *syntax.AssignStmt, read types.Expr) types.Expr {
	op := syntax.Plus
	if s.Op == syntax.MinusAssign {
		op = syntax.Minus
	}
	e := &syntax.Binary{At: s.At, Op: op, OpPos: s.Start, X: s.Target, Y: s.Value}
	return b.c.Expr(e, nil)
}

// place resolves what an assignment or tie writes to, or reports why it cannot.
func (b *bodyChecker) place(e syntax.Expr) *Place {
	switch e := e.(type) {
	case *syntax.Paren:
		return b.place(e.X)
	case *syntax.Name:
		return b.rootPlace(e)
	case *syntax.Dotted:
		if p, ok := b.contextPlace(e); ok {
			return p
		}
		p := b.place(e.X)
		if p == nil {
			return nil
		}
		x := b.c.Expr(e, nil) // reports null on the way and missing fields
		rec := types.NonNull(p.Typ)
		t := types.FieldOf(rec, e.Name.Text)
		if t == nil || x.Type() == types.Any {
			return nil
		}
		return p.step(PlaceStep{Field: e.Name.Text, Of: rec, At: e.Name.Span()}, t, e.Span())
	case *syntax.Index:
		p := b.place(e.X)
		if p == nil {
			return nil
		}
		l, ok := types.Under(types.NonNull(p.Typ)).(*types.List)
		if !ok {
			b.c.Expr(e, nil)
			return nil
		}
		return p.step(PlaceStep{Index: b.c.Want(e.I, types.Number, "an index is"), Of: l, At: e.I.Span()}, l.Elem, e.Span())
	}
	b.c.Expr(e, nil)
	return nil
}

func (p *Place) step(s PlaceStep, t types.Type, at source.Span) *Place {
	return &Place{Root: p.Root, Of: p.Of, Steps: append(p.Steps[:len(p.Steps):len(p.Steps)], s), Typ: t, At: at}
}

// contextPlace resolves rack.chosen where rack is a context: only a shared
// cell can be tied, and nothing can be assigned.
func (b *bodyChecker) contextPlace(e *syntax.Dotted) (*Place, bool) {
	n, ok := e.X.(*syntax.Name)
	if !ok {
		return nil, false
	}
	of, ok := b.scope.Lookup(n.Text).(*Member)
	if !ok || of.Kind != Used && of.Kind != Supplied {
		return nil, false
	}
	b.c.Expr(e, nil)
	m := of.Context.Member(e.Name.Text)
	if m != nil && m.Kind == Shares && b.tying {
		return &Place{Root: m, Of: of, Typ: m.Type(), At: e.Span()}, true
	}
	if m != nil {
		b.ofContext(e.Span(), e.Name.Text, of).See(m.At.Start, "it is kept here")
	}
	return nil, true
}

// ofContext reports an assignment to what a context keeps.
func (b *bodyChecker) ofContext(at source.Span, name string, of *Member) *finding.Finding {
	return b.errorf("written-from-below", at, "%s belongs to the context %s; its users may only read it", name, of.Context.Name).
		Instead("%s", b.remedyInContext(of, name))
}

// remedyInContext says how a user of a context comes to write what it keeps.
func (b *bodyChecker) remedyInContext(of *Member, name string) string {
	if m := of.Context.Member(name); b.tying && m.Kind == Holds {
		return fmt.Sprintf("write shares %s in place of holds %[1]s in %s: what it shares can be tied", name, of.Context.Name)
	}
	return actionFor(of, name)
}

// actionFor says by which action of a context a user of it changes a cell.
func actionFor(of *Member, name string) string {
	var there []string
	for _, m := range of.Context.Members {
		if m.Kind == Action {
			there = append(there, of.Label+"."+m.Label)
		}
	}
	set := "set" + upperFirst(name)
	add := fmt.Sprintf("write action %s(value: %s) { %s = value } in %s, and call %s.%s(...)", set, of.Context.Member(name).Type(), name, of.Context.Name, of.Label, set)
	if len(there) == 0 {
		return add
	}
	return "call an action of it (" + strings.Join(there, ", ") + "); if none does it, " + add
}

func (b *bodyChecker) rootPlace(e *syntax.Name) *Place {
	x, ok := b.c.Expr(e, nil).(*types.Ref)
	if !ok {
		return nil
	}
	switch s := x.Symbol.(type) {
	case *Member:
		if s.Writable() {
			return &Place{Root: s, Typ: s.Type(), At: e.Span()}
		}
		b.unwritable(e, s)
	case *ViewLocal:
		if s.Each != nil && s == s.Each.Item && s.Each.Place != nil {
			p := &Place{Root: s, Typ: s.Typ, At: e.Span()}
			of := p.context()
			if of == nil || b.tying {
				return p
			}
			b.ofContext(e.Span(), e.Text, of)
			return nil
		}
		b.unwritableItem(e, s)
	case *types.Local:
		b.errorf("wrong-type", e.Span(), "%s is a parameter or constant; it never changes", s.Label).
			Instead("%s", b.cellWith(s))
	default:
		b.errorf("wrong-type", e.Span(), "%s is a constant; it never changes", x.Symbol.Name()).
			Instead("keep it in a cell of the component: holds ... = %s", x.Symbol.Name())
	}
	return nil
}

// cellWith says where what a parameter or constant stands for can be changed: in the list that has
// such items, or in a cell.
func (b *bodyChecker) cellWith(l *types.Local) string {
	sc := b.scope
	if sc.component == nil {
		return "write to a cell: holds ... = ..."
	}
	for _, m := range sc.component.Members {
		if !m.Writable() || m.Kind == Derives {
			continue
		}
		list, ok := types.Under(m.Type()).(*types.List)
		if !ok || !types.Identical(list.Elem, l.Typ) {
			continue
		}
		if rec, ok := types.Under(l.Typ).(*types.Record); ok && len(rec.Fields) > 0 {
			key := rec.Fields[0].Name
			if _, ok := rec.Field("id"); ok {
				key = "id"
			}
			return fmt.Sprintf("change the item in its list: %s = %[1]s.map(x => x.%[2]s == %[3]s.%[2]s ? { ...x, ... } : x)", m.Label, key, l.Label)
		}
	}
	return "write to a cell: holds ... = ..."
}

func hasSet(m *Member) bool {
	d, ok := m.Syntax.(*syntax.Derives)
	return ok && d.Set != nil
}

func (b *bodyChecker) unwritable(e *syntax.Name, m *Member) {
	switch m.Kind {
	case Takes:
		b.fromBelow(e.Span(), m)
	case Derives:
		b.errorf("wrong-type", e.Span(), "%s is worked out from other values; writing it has no effect on them", m.Label).
			See(m.At.Start, "it is worked out here").
			Instead("write to what it is worked out from, or add set v { ... } to it")
	case ConstMember:
		b.errorf("wrong-type", e.Span(), "%s is a constant; it never changes", m.Label).Instead("write holds %s = ... to make it a cell", m.Label)
	default:
		f := b.errorf("wrong-type", e.Span(), "%s is %s, not a cell", m.Label, m.Kind.Noun()).Instead("write to a cell: holds ... = ...")
		if i, ok := types.Under(types.NonNull(m.Type())).(types.Instance); ok && m.Kind == Named {
			if c, ok := i.Of.(*Component); ok {
				f.Instead("tie what it shares to a cell of your own, name <-> cell, and write that; or let %s offer a method that does it, and call %s.method()", c.Name, m.Label)
			} else {
				f.Instead("link what it shows to a cell of your own, and write that")
			}
		}
	}
}

// fromBelow reports a write to a value that the parent handed down.
func (b *bodyChecker) fromBelow(at source.Span, m *Member) {
	f := b.errorf("written-from-below", at, "%s was handed down; %s may only read it", m.Label, m.Owner.Name)
	f.See(m.At.Start, "it is taken here")
	f.Instead("report it: emits change%s(value: %s), and let the parent, which holds it, decide; or hold it here, if nobody else needs it: shares %s: %[2]s = %[4]s",
		upperFirst(m.Label), m.Type(), m.Label, cmp.Or(FirstOf(m.Type()), "..."))
}

// FirstOf is a first value for a cell of a type, as it is written, or "" where only the author can know one.
func FirstOf(t types.Type) string {
	switch {
	case types.Nullable(t):
		return "null"
	case types.Assignable(types.Boolean, t):
		return "false"
	case types.Assignable(types.Number, t):
		return "0"
	case types.Assignable(types.String, t):
		return `""`
	}
	if _, list := types.Under(t).(*types.List); list {
		return "[]"
	}
	if l, ok := types.Members(t)[0].(types.Literal); ok {
		return l.String()
	}
	return ""
}

func (b *bodyChecker) unwritableItem(e *syntax.Name, l *ViewLocal) {
	switch {
	case l.Each == nil:
		b.errorf("written-from-below", e.Span(), "%s is handed out by a slot; it cannot be written here", l.Label).
			See(l.At.Start, "it is received here").
			Instead("let the component hand out an action that changes it, too: slot ...(%s <- %[1]s, change%s <- ...), and call that", l.Label, upperFirst(l.Label))
		return
	case l != l.Each.Item:
		b.errorf("wrong-type", e.Span(), "%s is a place in a list; it cannot be written", l.Label).Instead("write to the list instead")
		return
	}
	if m := takenRoot(l.Each.List.Expr); m != nil {
		b.fromBelow(e.Span(), m)
		return
	}
	b.errorf("written-from-below", e.Span(), "%s is an item of a list that is worked out here; writing it would change a copy", l.Label).
		See(l.At.Start, "it comes from this list").
		Instead("write to the cell that the list is worked out from")
}

// takenRoot is the taken member that an expression reads a part of, or nil.
func takenRoot(e types.Expr) *Member {
	switch e := e.(type) {
	case *types.Ref:
		switch s := e.Symbol.(type) {
		case *Member:
			if s.Kind == Takes {
				return s
			}
		case *ViewLocal:
			if s.Each != nil && s == s.Each.Item {
				return takenRoot(s.Each.List.Expr)
			}
		}
	case *types.Dot:
		return takenRoot(e.X)
	case *types.At:
		return takenRoot(e.X)
	case *types.Method:
		switch e.Name {
		case "filter", "slice", "toSorted", "toReversed", "find", "findLast", "at", "concat":
			return takenRoot(e.Recv)
		}
	}
	return nil
}
