// Package reach tells which elements selectors of a design's styles can reach, from the text alone: what depends on state
// may be.
package reach

import (
	"slices"
	"strings"

	"lien/core/css"
	"lien/core/design"
	"lien/core/html"
	"lien/core/types"
	"lien/core/value"
)

// Element is an element of a view, as selectors ask about it.
type Element struct {
	Node   *design.Element
	By     []string    // the components that write it
	Lent   *design.Use // that gives it classes, or nil
	up     *Element    // the nearest element around it that the same component writes
	direct bool        // nothing can stand between the two
	page   *[]*Element // all that the component writes
}

// By are the elements that a component writes: those of its view, what it gives to others, and the roots of those
// to which it gives classes.
func By(c *design.Component) []*Element {
	list := &[]*Element{}
	var visit func(nodes []design.Node, up *Element, direct bool)
	visit = func(nodes []design.Node, up *Element, direct bool) {
		for _, n := range nodes {
			inside, directly := up, direct
			switch n := n.(type) {
			case *design.Element:
				inside, directly = &Element{Node: n, By: []string{c.Name}, up: up, direct: direct, page: list}, true
				*list = append(*list, inside)
			case *design.Use:
				directly = false
				if root := n.Component.Root(); root != nil && len(n.Classes)+len(n.Marks) > 0 {
					inside = &Element{Node: root, By: []string{c.Name, n.Component.Name}, Lent: n, up: up, direct: direct, page: list}
					*list = append(*list, inside)
				}
			}
			for _, in := range design.Inside(n) {
				visit(in, inside, directly)
			}
		}
	}
	visit(c.View, nil, false)
	return *list
}

// AtTop are the elements at the top of what is given, through components that are used there.
func AtTop(nodes []design.Node, depth int) (list []*Element) {
	for _, n := range nodes {
		switch n := n.(type) {
		case *design.Element:
			list = append(list, &Element{Node: n, page: &[]*Element{}})
		case *design.Use:
			if depth < 20 {
				for _, x := range AtTop(n.Component.View, depth+1) {
					x.Lent = n
					list = append(list, x)
				}
			}
		default: // of what else a slot is given, nothing is known here
			for _, in := range design.Inside(n) {
				list = append(list, AtTop(in, depth)...)
			}
		}
	}
	return list
}

func (x *Element) Tag() string { return x.Node.Tag }

func (x *Element) Class(name string) css.Truth {
	if slices.Contains(x.Node.Classes, name) || x.Lent != nil && slices.Contains(x.Lent.Classes, name) {
		return css.Yes
	}
	marks := x.Node.Marks
	if x.Lent != nil {
		marks = append(marks[:len(marks):len(marks)], x.Lent.Marks...)
	}
	for _, m := range marks {
		if m.Name == name {
			return css.Maybe
		}
	}
	v, known := x.Attr("class")
	if known == css.Yes && !slices.Contains(strings.Fields(v), name) {
		return css.No
	}
	return known
}

func (x *Element) Attr(name string) (string, css.Truth) {
	for _, a := range x.Node.Attrs {
		if a.Name != name {
			continue
		}
		if c, ok := a.Unit.Expr.(*types.Const); ok && !html.IsProperty(x.Node.Tag, name) {
			if s, ok := c.Value.(value.String); ok {
				return string(s), css.Yes
			}
		}
		return "", css.Maybe
	}
	for _, t := range x.Node.Ties {
		if t.Name == name {
			return "", css.Maybe
		}
	}
	if name == "open" && (x.Node.Tag == "details" || x.Node.Tag == "dialog") {
		return "", css.Maybe
	}
	return "", css.No
}

func (x *Element) State(name string) css.Truth {
	if name == "root" || name == "host" {
		return css.No
	}
	return css.Maybe
}

func (x *Element) Place(bool, bool) (int, css.Truth) { return 0, css.Maybe }

func (x *Element) Around() (css.Node, css.Truth) {
	if x.up == nil {
		return nil, css.No
	}
	if x.direct {
		return x.up, css.Yes
	}
	return x.up, css.Maybe
}

func (x *Element) Before() (list []css.Node, _ css.Truth) {
	for _, o := range *x.page {
		list = append(list, o)
	}
	return list, css.Maybe
}

func (x *Element) Within() (list []css.Node, _ css.Truth) {
	for _, o := range *x.page {
		for up := o.up; up != nil; up = up.up {
			if up == x {
				list = append(list, o)
			}
		}
	}
	return list, css.Maybe
}

func (x *Element) Of(component string) bool { return slices.Contains(x.By, component) }
func (x *Element) In(string) bool           { return x.By == nil }
