package engine

import (
	"lien/core/page"
	"lien/core/value"
)

// eventValue is an event as a handler of an element reads it.
func (e *Engine) eventValue(ev *page.Event, current *Element) value.Value {
	target := ev.Target
	return value.NewRecord(
		[]string{"value", "checked", "key", "shiftKey", "ctrlKey", "altKey", "metaKey", "self", "inside", "data"},
		[]value.Value{value.String(e.held(target)), value.Bool(target.Live().Checked), value.String(ev.Key),
			value.Bool(ev.Shift), value.Bool(ev.Control), value.Bool(ev.Alt), value.Bool(ev.Meta), value.Bool(of(target) == current),
			value.Bool(current.Contains(ev.Related)), value.String(ev.Data)})
}

// held is what an element holds: a field its value, what is edited in place its text.
func (e *Engine) held(el *page.Element) string {
	if el.Traits&page.Edits != 0 && el.Editable() {
		return el.Content()
	}
	return e.page.Value(el)
}

func (e *Engine) eventTurn(ev *page.Event, change func()) error {
	return e.raise(ev.Name, of(ev.Target), func() {
		outer := e.event
		e.event = ev
		if change != nil {
			change()
		}
		for _, at := range ev.Path() {
			if el := of(at); el != nil {
				e.handle(ev, el)
			}
			if ev.Stopped {
				break
			}
		}
		e.event = outer
	})
}

// raise makes a turn of something from outside, and tells who listens.
func (e *Engine) raise(name string, target *Element, handlers func()) error {
	rec, err := e.turn(name, handlers)
	rec.Target = target
	e.turns = append(e.turns, rec)
	if e.OnTurn != nil && err == nil {
		err = e.OnTurn(rec)
	}
	if err == nil {
		err = e.runCalls()
	}
	if err != nil {
		e.page.Forget()
		return err
	}
	return e.endless(e.page.Settle())
}

// handle runs the handlers of one element. A handler whose place is ending
// relies on what no longer holds, and is skipped.
func (e *Engine) handle(ev *page.Event, el *Element) {
	for _, b := range el.t.handlers[ev.Name] {
		if el.block.ending(e) {
			return
		}
		var args []value.Value
		if b.params > 0 {
			args = []value.Value{e.eventValue(ev, el)}
			if ev.Name == "submit" && el.Tag() == "form" {
				args[0] = e.collect(el, el.t.def.Values, false)
			}
		}
		e.do(b, el.block.inst, el.block, args)
	}
}
