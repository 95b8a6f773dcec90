package engine

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/page"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// What comes from anywhere: messages, replies, and opened components.

func (p *program) send(s *design.Send) exec {
	args := p.exprs(s.Args)
	return func(f *frame) bool {
		f.e.send(s.Channel, evalAll(f, args), s.Span())
		return true
	}
}

// send reaches, at once and in tree order, those that are mounted.
func (e *Engine) send(ch *design.Channel, args []value.Value, at source.Span) {
	var list []*Instance
	for c := range e.live {
		if c.hearings[ch] != nil {
			list = append(list, e.all(c)...)
		}
	}
	slices.SortStableFunc(list, func(a, b *Instance) int { return comparePlaces(a.anchor(), b.anchor()) })
	en := e.note(SentTo, e.acting, ch.Name, args, at)
	e.record.Entries[en].Heard = len(list)
	e.deeper(func() {
		for _, i := range list {
			if !i.ending(e) {
				e.do(i.comp.hearings[ch], i, nil, args)
			}
		}
	})
}

// asked is a question that waits for its answer.
type asked struct {
	inst   *Instance
	block  *Block
	op     *operation
	args   []value.Value
	loc    []value.Value // the locals of the handler that asked
	got    *outcome
	failed *outcome
	due    float64 // when the reply comes by itself; never if negative
	asked  float64 // when it was asked
	number int     // counts questions, so that each is known by it
	site   int     // which ask it is in the text
	late   bool    // what was asked after it, for something else, has been answered before it
	again  bool    // the same has been asked again
	at     source.Span
}

// operation is an operation of a service, compiled.
type operation struct {
	def     *design.Operation
	number  int       // of those that were compiled before it
	replies *function // or nil
	after   *function // or nil
	fails   []*function
}

type outcome struct {
	slot int // of the local that gets the answer, or -1
	run  exec
}

func (p *program) operation(o *design.Operation) *operation {
	if c := p.operations[o]; c != nil {
		return c
	}
	fn := func(u *design.Unit) *function {
		if u == nil {
			return nil
		}
		return &function{len(o.Sig), p.unit(u)}
	}
	c := &operation{def: o, number: len(p.operations), replies: fn(o.Replies), after: fn(o.After)}
	for _, f := range o.Fails {
		c.fails = append(c.fails, fn(f))
	}
	p.operations[o] = c
	return c
}

func (p *program) outcome(o *design.Outcome) *outcome {
	if o == nil {
		return nil
	}
	c := &outcome{-1, p.stmts(o.Stmts)}
	if o.Param != nil {
		c.slot = o.Param.Slot
	}
	return c
}

func (p *program) ask(s *design.Ask) exec {
	args, op, got, failed := p.exprs(s.Args), p.operation(s.Operation), p.outcome(s.Got), p.outcome(s.Failed)
	keep := capturedBy(s)
	p.sites++
	site := p.sites
	return func(f *frame) bool {
		e := f.e
		a := &asked{inst: f.inst, block: f.block, op: op, args: evalAll(f, args), loc: keep.of(f.loc), got: got, failed: failed, due: -1, asked: e.now, site: site, at: s.Span()}
		e.asked++
		a.number = e.asked
		if f.inst.gone {
			e.notice(s.Span(), "%s was asked, but who asks is gone", s.Operation.Name)
			return true
		}
		if op.after != nil {
			a.due = e.now + max(0, float64(e.call(op.after, nil, nil, a.args).(value.Number)))
		}
		e.spend(len(e.asks)/4, 8*len(e.asks)+entryBytes, s.Span())
		e.setAsks(append(e.renewed(a), a))
		e.note(AskedOf, f.inst, a.String(), a.args, s.Span())
		return true
	}
}

// captured are the locals of a handler that what it starts goes on to read.
type captured map[int]bool

func capturedBy(s *design.Ask) captured {
	c := captured{}
	v := design.Visitor{Expr: func(x types.Expr) {
		if ref, ok := x.(*types.Ref); ok {
			if l, ok := ref.Symbol.(*types.Local); ok {
				c[l.Slot] = true
			}
		}
	}}
	for _, o := range []*design.Outcome{s.Got, s.Failed} {
		if o != nil {
			v.Stmts(o.Stmts)
		}
	}
	return c
}

// of is a copy of a frame's locals with those that are captured.
func (c captured) of(loc []value.Value) []value.Value {
	out := make([]value.Value, len(loc))
	for i, v := range loc {
		if c[i] {
			out[i] = v
		}
	}
	return out
}

// dropAsks ends the questions of an instance that is unmounted.
func (e *Engine) dropAsks(i *Instance) {
	if left := slices.DeleteFunc(slices.Clone(e.asks), func(a *asked) bool { return a.inst == i }); len(left) < len(e.asks) {
		e.setAsks(left)
	}
}

func (a *asked) String() string { return a.op.def.Service.Name + "." + a.op.def.Name }

func (e *Engine) setAsks(list []*asked) {
	e.changes++
	e.undo = append(e.undo, undo{kind: undoAsks, asks: e.asks})
	e.asks = list
}

// OneOrder says whether states and causes tell questions in the order of the page, and
// only those of one instance to one operation in the order in which they were asked:
// nothing can tell any other two apart by that.
func (e *Engine) OneOrder(on bool) { e.oneOrder = on }

// questions are the questions that wait, the oldest first or in one order.
func (e *Engine) questions() []*asked {
	if !e.oneOrder || len(e.asks) < 2 {
		return e.asks
	}
	list := slices.Clone(e.asks)
	slices.SortStableFunc(list, func(a, b *asked) int {
		if d := comparePlaces(a.inst.anchor(), b.inst.anchor()); d != 0 {
			return d
		}
		return a.op.number - b.op.number
	})
	return list
}

// Waiting lists what services have been asked and not answered yet, the oldest first.
func (e *Engine) Waiting() []string {
	var list []string
	for _, a := range e.asks {
		list = append(list, a.String())
	}
	return list
}

// askedOf are the questions to an operation that wait, the oldest first: those with
// these arguments, unless they are nil.
func (e *Engine) askedOf(o *design.Operation, args []value.Value) (list []*asked) {
	for _, a := range e.asks {
		if a.op.def == o && (args == nil || slices.EqualFunc(a.args, args, value.Equal)) {
			list = append(list, a)
		}
	}
	return list
}

// Answer lets the n-th oldest waiting question to an operation be answered, or
// fail: of those with these arguments, unless they are nil. It reports false where
// fewer wait.
func (e *Engine) Answer(o *design.Operation, args []value.Value, n int, fail bool) (bool, error) {
	list := e.askedOf(o, args)
	if n < 1 || n > len(list) {
		return false, nil
	}
	return true, e.answer(list[n-1], fail)
}

// Age is the place of the question that Answer would answer among all to the operation that wait, the oldest first,
// from 1 on; 0 where it does not wait.
func (e *Engine) Age(o *design.Operation, args []value.Value, n int) int {
	list := e.askedOf(o, args)
	if n < 1 || n > len(list) {
		return 0
	}
	return 1 + slices.Index(e.askedOf(o, nil), list[n-1])
}

// FailWith lets the question that Answer would answer fail with a text. It gives
// what the question can fail with; false where it does not wait, or none of its
// failures says this.
func (e *Engine) FailWith(o *design.Operation, args []value.Value, n int, text string) (says []string, found bool, err error) {
	list := e.askedOf(o, args)
	if n < 1 || n > len(list) {
		return nil, false, nil
	}
	a := list[n-1]
	for i := range a.op.fails {
		said := e.says(a, i+1)
		if said == text {
			return nil, true, e.answerWith(a, i+1)
		}
		says = append(says, said)
	}
	return says, false, nil
}

// Meant tells how to mean the question that a cause answers: whether its arguments
// tell it from others that wait for the same operation, and its place by age, from 1
// on, among those that are left then.
func (e *Engine) Meant(s *Cause) (byArgs bool, nth int) {
	all, same := e.askedOf(s.ask.op.def, nil), e.askedOf(s.ask.op.def, s.ask.args)
	return len(same) < len(all), 1 + slices.Index(same, s.ask)
}

// says is the text of one of the failures of a question, from 1 on.
func (e *Engine) says(a *asked, failure int) string {
	v, err := e.guarded(func() value.Value { return e.call(a.op.fails[failure-1], nil, nil, a.args) })
	if err != nil {
		return ""
	}
	return value.Text(v)
}

// Says is what the failure says that a cause lets come, where the question could
// fail with something else, too; "" otherwise.
func (e *Engine) Says(s *Cause) string {
	if s.Failure == 0 || len(s.ask.op.fails) < 2 {
		return ""
	}
	return e.says(s.ask, s.Failure)
}

// answer makes the turn in which a question is answered.
func (e *Engine) answer(a *asked, fail bool) error {
	if fail {
		return e.answerWith(a, 1)
	}
	return e.answerWith(a, 0)
}

// answerWith answers with the reply (0), or with one of the failures, from 1 on.
func (e *Engine) answerWith(a *asked, failure int) error {
	name, out := "reply "+a.String(), a.got
	if failure > 0 {
		name, out = "fail "+a.String(), a.failed
	}
	return e.raise(name, nil, func() {
		e.setAsks(e.overtaken(a))
		var v value.Value = value.Null{}
		switch {
		case failure > 0:
			v = e.call(a.op.fails[failure-1], nil, nil, a.args)
		case a.op.replies != nil:
			v = e.call(a.op.replies, nil, nil, a.args)
		}
		if out == nil {
			return
		}
		f := &frame{e: e, inst: a.inst, block: a.block, loc: slices.Clone(a.loc)}
		if out.slot >= 0 {
			f.loc[out.slot] = v
		}
		outer := e.acting
		e.acting = a.inst
		out.run(f)
		e.acting = outer
	})
}

// overtaken are the questions that still wait when one is answered: those of
// the same place that were asked before it, for something else, are late.
func (e *Engine) overtaken(by *asked) []*asked {
	var left []*asked
	before := true
	for _, a := range e.asks {
		switch {
		case a == by:
			before = false
			continue
		case before && !a.late && !a.again && a.inst == by.inst && a.op == by.op && !slices.EqualFunc(a.args, by.args, value.Equal):
			late := *a
			late.late = true
			a = &late
		}
		left = append(left, a)
	}
	return left
}

// renewed are the questions that wait when one is asked: those that asked the
// same are not late whatever is answered before them.
func (e *Engine) renewed(by *asked) []*asked {
	list := slices.Clone(e.asks)
	for i, a := range list {
		if a.inst == by.inst && a.op == by.op && slices.EqualFunc(a.args, by.args, value.Equal) {
			again := *a
			again.late, again.again = false, true
			list[i] = &again
		}
	}
	return list
}

// opening is a component that is open above the page.
type opening struct {
	opener *Instance
	use    *usePart
	modal  bool
	order  int
	closed bool         // it has left
	site   int          // which open it is in the text
	layer  page.Element // what it lies in, above the page
}

// before is what had the focus as it was opened, or nil.
func (o *opening) before() *Element {
	if l := o.use.block.e.page.LayerOf(&o.layer); l != nil {
		return of(l.Before)
	}
	return nil
}

func (o *opening) place() (*Block, int) { return o.opener.root().body, 1<<30 + o.order }
func (o *opening) refresh(*Engine)      {}
func (o *opening) blocks() []*Block     { return []*Block{o.use.block} }

// root is the instance that everything stands in.
func (i *Instance) root() *Instance {
	for i.use != nil {
		i = i.use.above
	}
	return i
}

func (p *program) open(s *design.Open) exec {
	b := &blockBuilder{p: p}
	t := b.use(s.Use).(*useTemplate)
	at := s.Span()
	p.sites++
	site := p.sites
	return func(f *frame) bool {
		e := f.e
		if f.inst.gone {
			e.notice(at, "%s was opened, but its opener is gone", t.def.Component.Name)
			return true
		}
		e.spend(2, 2*blockBytes, at)
		o := &opening{opener: f.inst, modal: s.Modal, order: e.opened, site: site}
		e.opened++
		c := &Block{e: e, t: &blockTemplate{}, inst: f.inst, up: f.block, host: o, depth: 1, captured: append([]value.Value{}, f.loc...)}
		o.use = &usePart{t: t, block: c}
		c.parts = []part{o.use}
		e.toOpen = append(e.toOpen, o)
		return true
	}
}

// openAll mounts what was opened in this turn, and unmounts what has left or
// lost its opener.
func (e *Engine) openAll() {
	for _, o := range slices.Clone(e.openings) {
		if o.closed || o.opener.gone {
			e.shut(o)
		}
	}
	list := e.toOpen
	e.toOpen = nil
	for _, o := range list {
		if o.opener.gone || o.closed {
			continue
		}
		e.spend(1+len(e.openings)/stepParts, 24*len(e.openings)+entryBytes, source.Span{})
		e.setOpenings(append(slices.Clone(e.openings), o))
		e.mountOpening(o)
	}
}

func (e *Engine) mountOpening(o *opening) {
	t, c := o.use.t, o.use.block
	o.use.inst = e.used(e.program.components[t.def.Component], &usage{t, o.opener, c, o.opener})
	o.use.inst.open = o
	o.layer.Init(e.page, layer{o}, e.page.Body, page.Tabs, page.Props{})
	e.undo = append(e.undo, undo{kind: undoMounted, block: c})
	o.use.inst.body = e.mountBlock(o.use.inst.comp.view, o.use.inst, nil, o.use, nil, func(b *Block) { o.use.inst.body = b })
	e.mounted(o.use.inst)
	e.note(Opens, o.use.inst, o.use.inst.comp.def.Name, nil, source.Span{})
	e.callLayer(elementCall{into: o})
}

func (e *Engine) setOpenings(list []*opening) {
	e.undo = append(e.undo, undo{kind: undoOpenings, openings: e.openings})
	e.openings = list
}

// shut unmounts an opened component, and gives the focus back.
func (e *Engine) shut(o *opening) {
	e.setOpenings(slices.DeleteFunc(slices.Clone(e.openings), func(x *opening) bool { return x == o }))
	e.unmount(o.use.block)
	e.note(Leaves, o.use.inst, o.use.inst.comp.def.Name, nil, source.Span{})
	if l := e.page.Lower(&o.layer); o.modal && l != nil {
		e.callLayer(elementCall{back: l})
	}
}

func (p *program) leave(s *design.Leave) exec {
	args := p.exprs(s.Args)
	return func(f *frame) bool {
		if s.Event != nil {
			f.e.emit(f.inst, s.Event, evalAll(f, args), s.Span())
		}
		f.e.leave(f.inst, s.Span())
		return true
	}
}

// leave ends the opened component that an instance is, or stands in.
func (e *Engine) leave(i *Instance, at source.Span) {
	for ; i != nil; i = i.above() {
		if o := i.open; o != nil {
			e.undo = append(e.undo, undo{kind: undoClosed, part: o, flag: o.closed})
			o.closed = true
			e.epoch++
			e.leaves = true
			return
		}
	}
	e.notice(at, "leave ends nothing: this component is not open above the page")
}

func (i *Instance) above() *Instance {
	if i.use == nil {
		return nil
	}
	return i.use.above
}

// dismiss is Escape, or a press on the backdrop, of an opened component: it is reported where the
// component emits dismissed, and then leaves.
func (e *Engine) dismiss(o *opening) error {
	m := o.use.inst.comp.def.Member("dismissed")
	if m == nil || m.Kind != design.Emits {
		return nil
	}
	return e.raise("dismiss", nil, func() {
		e.emit(o.use.inst, m, nil, m.At)
		e.leave(o.use.inst, m.At)
	})
}

// next is what time brings next: a timer or a reply that comes by itself.
func (e *Engine) next(end float64) (due float64, fire func() error, at source.Span) {
	due = -1
	if t := e.timers.due(); t != nil {
		due, fire, at = t.due, func() error { return e.fire(t) }, t.member.At
	}
	for _, a := range e.asks {
		if a.due >= 0 && (due < 0 || a.due < due) {
			due, fire, at = a.due, func() error { return e.answer(a, false) }, a.op.def.Syntax.Span()
		}
	}
	if due > end {
		due = -1
	}
	return due, fire, at
}

// Wait lets simulated time pass; timers fire and replies come when they are
// due, a turn each.
func (e *Engine) Wait(ms float64) error {
	end := e.now + ms
	for n := 0; ; n++ {
		due, fire, at := e.next(end)
		if due < 0 {
			break
		}
		if n > maxFires {
			return &Failure{At: at, Message: fmt.Sprintf("timers fired more than %d times in one wait", maxFires)}
		}
		e.now = due
		if err := fire(); err != nil {
			return err
		}
	}
	e.now = end
	return nil
}

// Coming is something that comes by itself, or that waits for the world outside.
type Coming struct {
	Text  string  // the timer with its arguments and owner, or the question
	In    float64 // milliseconds from now; negative: when somebody says so
	Timer bool
}

// Coming lists the timers that run and the questions that wait, in the order
// in which they were started or asked; timers first.
func (e *Engine) Coming() []Coming {
	var list []Coming
	e.timers.each(func(t *timer) {
		list = append(list, Coming{t.member.Label + value.BriefArgs(t.args, 24) + " of " + t.inst.String(), t.due - e.now, true})
	})
	for _, a := range e.asks {
		in := -1.0
		if a.due >= 0 {
			in = max(0, a.due-e.now)
		}
		list = append(list, Coming{a.String() + value.BriefArgs(a.args, 24), in, false})
	}
	return list
}

// Now is the simulated time since the mounting, in milliseconds.
func (e *Engine) Now() float64 { return e.now }

// Dues visits when what runs and waits comes by itself, as far as it is looked at.
func (e *Engine) Dues(visit func(at float64)) {
	e.timers.each(func(t *timer) {
		if e.slice == nil || e.slice.Timer(t.member) {
			visit(t.due)
		}
	})
	for _, a := range e.questions() {
		if a.due >= 0 && (e.slice == nil || e.slice.Operation(a.op.def)) {
			visit(a.due)
		}
	}
}

// TurnBack takes back all that was done since the mark, at the time that it was then.
func (e *Engine) TurnBack(mark int, now float64) {
	e.Rewind(mark)
	e.now = now
}
