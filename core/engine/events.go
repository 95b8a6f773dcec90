package engine

import (
	"lien/core/html"
	"lien/core/value"
)

// event is a DOM event on its way.
type event struct {
	name      string
	target    *Element
	key       string
	shift     bool
	ctrl      bool
	alt       bool
	meta      bool
	prevented bool
	stopped   bool
}

// value is the event as a handler reads it.
func (ev *event) value(current *Element) value.Value {
	return value.NewRecord(
		[]string{"value", "checked", "key", "shiftKey", "ctrlKey", "altKey", "metaKey", "self"},
		[]value.Value{value.String(ev.target.LiveValue()), value.Bool(ev.target.live().checked), value.String(ev.key),
			value.Bool(ev.shift), value.Bool(ev.ctrl), value.Bool(ev.alt), value.Bool(ev.meta), value.Bool(ev.target == current)})
}

// path are the elements that an event reaches, innermost first.
func (ev *event) path() []*Element {
	path := []*Element{ev.target}
	if html.Bubbles(ev.name) {
		for p := ev.target.parent; p != nil; p = p.parent {
			path = append(path, p)
		}
	}
	return path
}

// heard says whether any handler on the path runs for the event.
func (ev *event) heard() bool {
	if ev.target.t.handlers[ev.name] != nil || !html.Bubbles(ev.name) {
		return ev.target.t.handlers[ev.name] != nil
	}
	for el := ev.target.parent; el != nil; el = el.parent {
		if el.t.handlers[ev.name] != nil {
			return true
		}
	}
	return false
}

// dispatch makes a turn of a DOM event: first what is tied to the target,
// then all handlers on its path. change prepares the target's properties.
func (e *Engine) dispatch(ev *event, change func()) error {
	if change == nil && !ev.heard() {
		return nil
	}
	return e.eventTurn(ev, change)
}

func (e *Engine) eventTurn(ev *event, change func()) error {
	return e.raise(ev.name, ev.target, func() {
		outer := e.event
		e.event = ev
		if change != nil {
			change()
		}
		for _, el := range ev.path() {
			e.handle(ev, el)
			if ev.stopped {
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
	if err != nil {
		return err
	}
	return e.runCalls()
}

// handle runs the handlers of one element. A handler whose place is ending
// relies on what no longer holds, and is skipped.
func (e *Engine) handle(ev *event, el *Element) {
	for _, b := range el.t.handlers[ev.name] {
		if el.block.ending(e) || el.disabled() {
			return
		}
		var args []value.Value
		if b.params > 0 {
			args = []value.Value{ev.value(el)}
			if ev.name == "submit" && el.Tag() == "form" {
				args[0] = e.collect(el, el.t.def.Values, false)
			}
		}
		e.do(b, el.block.inst, el.block, args)
	}
}

func (e *Engine) setFocus(el *Element) {
	if e.focus == el {
		return
	}
	e.undo = append(e.undo, undo{kind: undoFocus, el: e.focus})
	e.focus = el
}

// Focus is the element that has the focus, or nil.
func (e *Engine) Focus() *Element { return e.focus }

// LiveValue is what an input, textarea or select holds now.
func (el *Element) LiveValue() string {
	switch el.Tag() {
	case "select":
		return el.selectValue()
	case "option":
		return el.optionValue()
	case "input":
		if el.attr("type") == "range" && el.live().value == "" {
			return el.middle()
		}
		if el.attr("type") == "number" {
			if _, ok := value.ParseNumber(el.live().value); !ok {
				return "" // as HTML's value sanitization has it
			}
		}
		if t := el.attr("type"); (t == "checkbox" || t == "radio") && !el.has("value") {
			return "on"
		}
	}
	return el.live().value
}

// middle is what a slider holds that was given nothing.
func (el *Element) middle() string {
	low, ok := value.ParseNumber(el.attr("min"))
	if !ok {
		low = 0
	}
	high, ok := value.ParseNumber(el.attr("max"))
	if !ok {
		high = 100
	}
	return value.FormatNumber(low + (high-low)/2)
}

// Options are the options of a select, in order.
func (el *Element) Options() []*Element {
	var list []*Element
	var walk func(nodes []Node)
	walk = func(nodes []Node) {
		for _, n := range nodes {
			if n.Element == nil {
				continue
			}
			if n.Element.Tag() == "option" {
				list = append(list, n.Element)
			}
			walk(n.Element.Children())
		}
	}
	walk(el.Children())
	return list
}

func (el *Element) optionValue() string {
	if v, ok := el.Attr("value"); ok {
		return v
	}
	return collapse(el.ownText())
}

// chosen is the option that a select shows, or nil.
func (el *Element) chosen() *Element {
	options := el.Options()
	if el.linked("value") || el.live().edited {
		for _, o := range options {
			if o.optionValue() == el.live().value {
				return o
			}
		}
		return nil
	}
	for _, o := range options {
		if o.has("selected") {
			return o
		}
	}
	for _, o := range options {
		if !o.disabled() {
			return o
		}
	}
	return nil
}

func (el *Element) selectValue() string {
	if o := el.chosen(); o != nil {
		return o.optionValue()
	}
	return ""
}

// linked says whether a property of the element is linked or tied.
func (el *Element) linked(name string) bool {
	for _, a := range el.t.attrs {
		if a.prop && a.name == name {
			return true
		}
	}
	return false
}

// Listens says whether the element itself hears one of some events.
func (el *Element) Listens(names ...string) bool {
	for _, n := range names {
		if el.t.handlers[n] != nil {
			return true
		}
	}
	return false
}
