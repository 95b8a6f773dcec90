package engine

import (
	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// A view may read what it names (a form's values, what a component offers) at
// places that are mounted before the named one is. Such a piece of the page
// shows nothing until then; it is worked out again when the name is given.

// notYet ends the working-out of a piece of the page that reads a name which
// is not given so far.
type notYet struct{ handle *node }

// missing is what reading through null comes to: a piece of the page waits
// for a name of its view, everything else fails.
func (e *Engine) missing(f *frame, x types.Expr, what string, at source.Span) {
	if ref, ok := x.(*types.Ref); ok && len(e.busy) > 0 && e.busy[0].part != nil && !e.busy[0].follows && !e.past {
		if m, ok := ref.Symbol.(*design.Member); ok && m.Kind == design.Named {
			panic(notYet{&f.inst.values[m.Slot]})
		}
	}
	e.fail(at, "what stands before .%s is null", what)
}

// show works out a piece of the page.
func (e *Engine) show(n *node) (v value.Value) {
	busy, stack, depth, framed := len(e.busy), len(e.stack), e.depth, e.framed
	defer func() {
		r := recover()
		if r == nil {
			return
		}
		w, ok := r.(notYet)
		if !ok {
			panic(r)
		}
		for _, b := range e.busy[busy:] {
			b.busy, b.state = false, dirty
			b.dropDeps(0)
		}
		e.busy, e.stack, e.depth, e.framed = e.busy[:busy], e.stack[:stack], depth, framed
		e.stamp++
		e.observing = observation{node: n, stamp: e.stamp}
		e.track(w.handle)
		v = nothing(n.part)
	}()
	return e.run(n.code, n.inst, n.block)
}

// nothing is the value with which a piece of the page shows nothing.
func nothing(p part) value.Value {
	switch p.(type) {
	case *whenPart:
		return value.Number(-1)
	case *eachPart:
		return value.Empty
	}
	return value.Null{}
}
