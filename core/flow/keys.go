package flow

import (
	"maps"
	"slices"

	"lien/core/design"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

var keyEvents = []string{"keydown", "keyup", "keypress"}

// hearsKeys are the bodies of an element that hear keys.
func hearsKeys(el *design.Element) (list []*design.Body) {
	for _, h := range el.Handlers {
		if slices.Contains(keyEvents, h.Name) {
			list = append(list, h.Body)
		}
	}
	return list
}

// keyTaint is what may hold a key that these bodies hear.
func (g *Graph) keyTaint(bodies []*design.Body) *Taint {
	t := &Taint{g: g, holds: map[Var]bool{}, keyed: map[types.Symbol]bool{}}
	for _, b := range bodies {
		for _, p := range b.Params {
			t.keyed[p] = true
		}
	}
	return t.spread()
}

// Keys are those that users press where an element hears keys: those that it compares
// with, wherever they go, one other, unless that would do nothing, and each of them
// with every choice of the modifiers that are asked for.
func (in *Inputs) Keys(el *design.Element) []string {
	list, known := in.keys[el]
	if !known && HearsKeys(el) {
		list = in.keysFor(hearsKeys(el))
		in.keys[el] = list
	}
	return list
}

func (in *Inputs) keysFor(bodies []*design.Body) []string {
	keys := map[string]bool{}
	t := in.g.keyTaint(bodies)
	for _, x := range in.places {
		for _, m := range t.met(x) {
			for _, v := range in.g.Origins(m.with) {
				if s, ok := v.(value.String); ok && html.IsKey(string(s)) {
					keys[string(s)] = true
				}
			}
		}
	}
	if slices.ContainsFunc(bodies, func(b *design.Body) bool { return !onlyForSome(b) }) {
		keys[in.otherKey] = true
	}
	for _, mod := range modifiersIn(bodies) {
		for k := range maps.Clone(keys) {
			keys[mod+"+"+k] = true
		}
	}
	return slices.Sorted(maps.Keys(keys))
}

// OtherKey is a key that the design compares with nothing.
func (in *Inputs) OtherKey() string { return in.otherKey }

// pressing are the events of a mouse that is pressed with keys held beside.
var pressing = []string{"click", "dblclick", "auxclick", "contextmenu", "mousedown", "mouseup", "pointerdown", "pointerup"}

// Modifiers are the keys held beside the mouse that an element asks for where it hears a press.
func (in *Inputs) Modifiers(el *design.Element) []string {
	list, known := in.modifiers[el]
	if !known {
		list = ModifiersOn(el)
		in.modifiers[el] = list
	}
	return list
}

// ModifiersOn are the same, asked for the first time.
func ModifiersOn(el *design.Element) []string {
	var bodies []*design.Body
	for _, h := range el.Handlers {
		if slices.Contains(pressing, h.Name) {
			bodies = append(bodies, h.Body)
		}
	}
	return modifiersIn(bodies)
}

// HoldsUnmade says whether a handler asks for keys held beside what is neither a press nor a key.
func HoldsUnmade(h *design.Handler) bool {
	return !slices.Contains(pressing, h.Name) && !slices.Contains(keyEvents, h.Name) && len(modifiersIn([]*design.Body{h.Body})) > 0
}

// modifiersIn are those that bodies ask for.
func modifiersIn(bodies []*design.Body) (list []string) {
	for _, m := range []struct{ field, name string }{{"shiftKey", "Shift"}, {"ctrlKey", "Control"}, {"altKey", "Alt"}, {"metaKey", "Meta"}} {
		asks := false
		for _, b := range bodies {
			design.Visitor{Expr: func(x types.Expr) {
				d, ok := x.(*types.Dot)
				asks = asks || ok && d.Name == m.field && IsEvent(d.X)
			}}.Body(b)
		}
		if asks {
			list = append(list, m.name)
		}
	}
	return list
}

// onlyForSome says whether a body does nothing for keys that it does not compare with
// literals.
func onlyForSome(b *design.Body) bool {
	return !slices.ContainsFunc(b.Stmts, func(s design.Stmt) bool {
		f, ok := s.(*design.If)
		return !ok || len(f.Else) > 0 || !asksForKey(f.Cond)
	})
}

// asksForKey says whether a condition is true for some keys alone.
func asksForKey(x types.Expr) bool {
	b, ok := x.(*types.Binary)
	switch {
	case !ok:
		return false
	case b.Op == syntax.And:
		return asksForKey(b.X) || asksForKey(b.Y)
	case b.Op == syntax.Or:
		return asksForKey(b.X) && asksForKey(b.Y)
	}
	return b.Op == syntax.Equal && (IsKey(b.X) && isConst(b.Y) || IsKey(b.Y) && isConst(b.X))
}

// OpenKeys are the places at which a design does more with keys that users press
// than to compare them with what is known, as Open tells of texts.
func (g *Graph) OpenKeys() []source.Span {
	var bodies []*design.Body
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			bodies = append(bodies, hearsKeys(el)...)
		}
	}}.Design(g.Design)
	if len(bodies) == 0 {
		return nil
	}
	return g.openTo(g.keyTaint(bodies), false)
}

// HearsKeys says whether an element hears keys.
func HearsKeys(el *design.Element) bool { return len(hearsKeys(el)) > 0 }

// IsKey says whether an expression is the key of an event.
func IsKey(x types.Expr) bool {
	d, ok := x.(*types.Dot)
	return ok && d.Name == "key" && IsEvent(d.X)
}

// isKeyOf says whether it is the key of one of these events.
func isKeyOf(x types.Expr, events map[types.Symbol]bool) bool {
	if !IsKey(x) {
		return false
	}
	ref, ok := x.(*types.Dot).X.(*types.Ref)
	return ok && events[ref.Symbol]
}
