package flow

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Inputs are the texts, numbers and keys that tell apart what a design does with
// what users type or set: those that it is compared with.
type Inputs struct {
	g         *Graph
	fields    map[*design.Element]*Compared
	keys      map[*design.Element][]string
	modifiers map[*design.Element][]string
	other     string // a text that stands nowhere in the design
	otherKey  string // a key that does not
	places    []types.Expr
	rises     bool // some element asks the events of fields in it for their values
}

// Compared are the values that the value of one field is compared with.
type Compared struct {
	Texts   []string
	Numbers []float64
}

// Inputs of a design, field by field as they are asked for.
func (g *Graph) Inputs() *Inputs {
	in := &Inputs{g: g, fields: map[*design.Element]*Compared{}, keys: map[*design.Element][]string{}, modifiers: map[*design.Element][]string{}}
	texts := map[string]bool{}
	v := design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok && len(el.Children) > 0 {
			in.rises = in.rises || asksEvents(el)
		}
	}, Expr: func(x types.Expr) {
		switch x := x.(type) {
		case *types.Binary, *types.Method:
			in.places = append(in.places, x)
		case *types.Const:
			if s, ok := x.Value.(value.String); ok {
				texts[string(s)] = true
			}
		}
	}}
	v.Design(g.Design)
	v.Laws(g.Design)
	for _, s := range []string{"a", "b", "other", "another"} {
		if !texts[s] {
			in.other = s
			break
		}
	}
	for _, r := range "abcdefghijklmnopqrstuvwxyz0123456789" { // of all keys some type a character
		if !texts[string(r)] {
			in.otherKey = string(r)
			break
		}
	}
	return in
}

// asksEvents says whether the handlers of an element ask an event for its value.
func asksEvents(el *design.Element) bool {
	asks := false
	for _, h := range el.Handlers {
		design.Visitor{Expr: func(x types.Expr) {
			d, ok := x.(*types.Dot)
			asks = asks || ok && d.Name == "value" && IsEvent(d.X)
		}}.Body(h.Body)
	}
	return asks
}

// Other is a text that no field is compared with.
func (in *Inputs) Other() string { return in.other }

// Of are the values that a field is compared with.
func (in *Inputs) Of(el *design.Element) *Compared {
	c := in.fields[el]
	if c == nil {
		c = &Compared{}
		in.fields[el] = c
		t := in.g.Taint(Typed(el), in.rises || asksEvents(el))
		for _, x := range in.places {
			for _, m := range t.met(x) {
				for _, v := range in.g.Origins(m.with) {
					if n, ok := v.(value.Number); ok && m.length {
						c.addLength(int(n))
					} else {
						c.add(v)
					}
				}
			}
		}
		slices.Sort(c.Numbers)
	}
	return c
}

// meeting is what such a value, or its length, is compared or reckoned with.
type meeting struct {
	with   types.Expr
	length bool
}

// lengthOf says whether an expression is the length of a text.
func lengthOf(x types.Expr) bool {
	m, ok := x.(*types.Method)
	return ok && m.Name == "length" && types.Assignable(m.Recv.Type(), types.String)
}

// met is what such a value meets at one place.
func (t *Taint) met(x types.Expr) (list []meeting) {
	switch x := x.(type) {
	case *types.Binary:
		switch x.Op {
		case syntax.And, syntax.Or, syntax.Coalesce:
			return nil
		}
		if t.keyed == nil && (IsKey(x.X) || IsKey(x.Y)) {
			return nil
		}
		a, b := t.In(x.X), t.In(x.Y)
		if a {
			list = append(list, meeting{x.Y, lengthOf(x.X)})
		}
		if b {
			list = append(list, meeting{x.X, lengthOf(x.Y)})
		}
	case *types.Method:
		in := t.In(x.Recv)
		for _, a := range x.Args {
			if _, arrow := a.(*types.Lambda); arrow {
				continue
			}
			if in {
				list = append(list, meeting{a, false})
			} else if t.In(a) {
				list = append(list, meeting{x.Recv, false})
			}
		}
	}
	return list
}

// mostLetters is how long a text is typed to have a length that is asked for.
const mostLetters = 64

// addLength adds texts on both sides of a length.
func (c *Compared) addLength(n int) {
	for _, k := range []int{n - 1, n, n + 1} {
		if k > 0 && k <= mostLetters {
			c.add(value.String(strings.Repeat("a", k)))
		}
	}
}

func (c *Compared) add(v value.Value) {
	switch v := v.(type) {
	case value.String:
		if !slices.Contains(c.Texts, string(v)) {
			c.Texts = append(c.Texts, string(v))
		}
	case value.Number:
		if !slices.Contains(c.Numbers, float64(v)) {
			c.Numbers = append(c.Numbers, float64(v))
		}
	}
}

// IsNumber says whether an element is a field for numbers, by the text.
func IsNumber(el *design.Element) bool {
	for _, a := range el.Attrs {
		if kind, ok := design.FixedText(a.Unit.Expr); ok && a.Name == "type" {
			return el.Tag == "input" && (kind == "number" || kind == "range")
		}
	}
	return false
}

// IsText says whether a user may type any text into an element, as far as the
// design's text tells.
func IsText(el *design.Element) bool {
	if el.Tag != "input" {
		return el.Tag == "textarea" || slices.ContainsFunc(el.Attrs, func(a *design.Attr) bool { return a.Name == "contenteditable" })
	}
	for _, a := range el.Attrs {
		if kind, ok := design.FixedText(a.Unit.Expr); ok && a.Name == "type" {
			switch kind {
			case "checkbox", "radio", "button", "submit", "reset", "image", "hidden", "range", "number":
				return false
			}
		}
	}
	return true
}
