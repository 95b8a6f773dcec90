package check

import (
	"slices"
	"strings"

	"lien/core/css"
	"lien/core/design"
	"lien/core/html"
	"lien/core/types"
	"lien/core/value"
)

// drawn is an element of a view as the text tells it, for selectors to be asked about: what depends on state may be.
type drawn struct {
	el     *design.Element
	by     []string    // the components that write it
	lent   *design.Use // that gives it classes, or nil
	up     *drawn      // the nearest element around it that the same component writes
	direct bool        // nothing can stand between the two
	page   *[]*drawn   // all that the component writes
}

// drawnBy are the elements that a component writes: those of its view, what it gives to others, and the roots of those
// to which it gives classes.
func drawnBy(c *design.Component) []*drawn {
	list := &[]*drawn{}
	var visit func(nodes []design.Node, up *drawn, direct bool)
	visit = func(nodes []design.Node, up *drawn, direct bool) {
		for _, n := range nodes {
			switch n := n.(type) {
			case *design.Element:
				x := &drawn{el: n, by: []string{c.Name}, up: up, direct: direct, page: list}
				*list = append(*list, x)
				visit(n.Children, x, true)
			case *design.When:
				for _, b := range n.Branches {
					visit(b.Body, up, direct)
				}
			case *design.Each:
				visit(n.Body, up, direct)
			case *design.SlotPlace:
				visit(n.Fallback, up, direct)
			case *design.Use:
				inside := up
				if root := n.Component.Root(); root != nil && len(n.Classes)+len(n.Marks) > 0 {
					inside = &drawn{el: root, by: []string{c.Name, n.Component.Name}, lent: n, up: up, direct: direct, page: list}
					*list = append(*list, inside)
				}
				for _, f := range n.Fills {
					visit(f.Body, inside, false)
				}
			}
		}
	}
	visit(c.View, nil, false)
	return *list
}

// atTop are the elements at the top of what is given, through components that are used there.
func atTop(nodes []design.Node, depth int) (list []*drawn) {
	for _, n := range nodes {
		switch n := n.(type) {
		case *design.Element:
			list = append(list, &drawn{el: n, page: &[]*drawn{}})
		case *design.When:
			for _, b := range n.Branches {
				list = append(list, atTop(b.Body, depth)...)
			}
		case *design.Each:
			list = append(list, atTop(n.Body, depth)...)
		case *design.SlotPlace: // of what else is given, nothing is known here
			list = append(list, atTop(n.Fallback, depth)...)
		case *design.Use:
			if depth < 20 {
				for _, x := range atTop(n.Component.View, depth+1) {
					x.lent = n
					list = append(list, x)
				}
			}
		}
	}
	return list
}

func (x *drawn) Tag() string { return x.el.Tag }

func (x *drawn) Class(name string) css.Truth {
	if slices.Contains(x.el.Classes, name) || x.lent != nil && slices.Contains(x.lent.Classes, name) {
		return css.Yes
	}
	marks := x.el.Marks
	if x.lent != nil {
		marks = append(marks[:len(marks):len(marks)], x.lent.Marks...)
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

func (x *drawn) Attr(name string) (string, css.Truth) {
	for _, a := range x.el.Attrs {
		if a.Name != name {
			continue
		}
		if c, ok := a.Unit.Expr.(*types.Const); ok && !html.IsProperty(x.el.Tag, name) {
			if s, ok := c.Value.(value.String); ok {
				return string(s), css.Yes
			}
		}
		return "", css.Maybe
	}
	for _, t := range x.el.Ties {
		if t.Name == name {
			return "", css.Maybe
		}
	}
	if name == "open" && (x.el.Tag == "details" || x.el.Tag == "dialog") {
		return "", css.Maybe
	}
	return "", css.No
}

func (x *drawn) State(name string) css.Truth {
	if name == "root" || name == "host" {
		return css.No
	}
	return css.Maybe
}

func (x *drawn) Place(bool, bool) (int, css.Truth) { return 0, css.Maybe }

func (x *drawn) Around() (css.Node, css.Truth) {
	if x.up == nil {
		return nil, css.No
	}
	if x.direct {
		return x.up, css.Yes
	}
	return x.up, css.Maybe
}

func (x *drawn) Before() (list []css.Node, _ css.Truth) {
	for _, o := range *x.page {
		list = append(list, o)
	}
	return list, css.Maybe
}

func (x *drawn) Within() (list []css.Node, _ css.Truth) {
	for _, o := range *x.page {
		for up := o.up; up != nil; up = up.up {
			if up == x {
				list = append(list, o)
			}
		}
	}
	return list, css.Maybe
}

func (x *drawn) Of(component string) bool { return slices.Contains(x.by, component) }
func (x *drawn) In(string) bool           { return x.by == nil }
