package flow

import (
	"slices"

	"lien/core/design"
)

// keepsNothing says whether nothing that stands in a part of a view has a state
// of its own, or hears anything but its users, and notes the components there.
func (d *Depend) keepsNothing(c *design.Component, list []design.Node, inside map[*design.Component]bool) bool {
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			if !keepsNoProps(n) || n.Named != nil && d.isRead(n.Named) || !d.keepsNothing(c, n.Children, inside) {
				return false
			}
		case *design.When:
			for _, br := range n.Branches {
				if !d.keepsNothing(c, br.Body, inside) {
					return false
				}
			}
		case *design.Each:
			if !d.keepsNothing(c, n.Body, inside) {
				return false
			}
		case *design.Use:
			if n.Named != nil && d.isRead(n.Named) || !d.useKeepsNothing(c, n, inside) {
				return false
			}
		case *design.SlotPlace:
			if !d.slotKeepsNothing(c, n, inside) {
				return false
			}
		}
	}
	return true
}

func (d *Depend) useKeepsNothing(c *design.Component, n *design.Use, inside map[*design.Component]bool) bool {
	o := n.Component
	if len(o.Hooks)+len(o.Follows)+len(o.Hearings)+len(o.Supplies) > 0 {
		return false
	}
	for _, m := range o.Members {
		switch m.Kind {
		case design.Holds, design.Timer, design.Gathered, design.Supplied:
			return false
		case design.Shares:
			if !slices.ContainsFunc(n.Ties, func(g *design.Given) bool { return g.Member == m }) {
				return false
			}
		case design.ConstMember:
			if !d.Exact(m.Init.Expr) {
				return false
			}
		}
		if len(m.Hears) > 0 {
			return false
		}
	}
	for _, f := range n.Fills {
		if !d.keepsNothing(c, f.Body, inside) {
			return false
		}
	}
	if inside[o] {
		return true
	}
	inside[o] = true
	return d.keepsNothing(o, o.View, inside)
}

// slotKeepsNothing looks at all that may be given to a slot.
func (d *Depend) slotKeepsNothing(c *design.Component, n *design.SlotPlace, inside map[*design.Component]bool) bool {
	ok := d.keepsNothing(c, n.Fallback, inside)
	d.fills(c, n.Name, func(user *design.Component, f *design.Fill) { ok = ok && d.keepsNothing(user, f.Body, inside) })
	return ok
}

// keepsNoProps says whether what users do to an element is taken over by the
// design, or set back.
func keepsNoProps(n *design.Element) bool {
	linked := func(name string) bool {
		return slices.ContainsFunc(n.Ties, func(t *design.Tie) bool { return t.Name == name }) ||
			slices.ContainsFunc(n.Attrs, func(a *design.Attr) bool { return a.Name == name })
	}
	switch n.Tag {
	case "details", "dialog", "form":
		return false
	case "select", "textarea":
		return linked("value")
	case "input":
		kind := "text"
		if t := typeOf(n); t != nil {
			known := false
			if kind, known = design.FixedText(t); !known {
				return false
			}
		}
		if kind == "checkbox" || kind == "radio" {
			return linked("checked")
		}
		return linked("value")
	}
	return true
}

// isRead says whether anything depends on a variable.
func (d *Depend) isRead(v Var) bool {
	for _, on := range d.on {
		if slices.Contains(on, v) {
			return true
		}
	}
	return false
}
