package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
)

// What is written where a context is handed down: in its supplier, in its users, and in the views between.

// bringHome writes what the context had into its supplier: the cells where it was supplied.
func (h *handing) bringHome() {
	h.homed = map[*design.Member]bool{}
	var cells, derived, actions []string
	for _, m := range h.context.Members {
		text := h.moved(m.Syntax.Span(), h.text(m.Syntax))
		switch m.Kind {
		case design.Derives:
			if !h.read(m) {
				continue // only others ask for it, and derive it themselves
			}
			h.homed[m] = true
			derived = append(derived, text)
		case design.Action:
			if h.dropped(m) {
				continue
			}
			h.homed[m] = true
			actions = append(actions, text)
		default:
			if rest, ok := strings.CutPrefix(h.text(m.Syntax), "shares "); ok {
				text = h.moved(m.Syntax.Span(), "holds "+rest)
			}
			cells = append(cells, text)
			h.did("%s.%s is held by %s now", h.context.Name, m.Label, h.supplier.Name)
			continue
		}
		h.did("%s of %s moves to %s", m.Label, h.context.Name, h.supplier.Name)
	}
	h.replace(h.supplies.Span(), strings.Join(append(h.said(), cells...), "\n"))
	if len(derived) > 0 {
		h.addMember(h.supplier, strings.Join(derived, "\n"), append(beforeUses, "const", "derives")...)
	}
	if len(actions) > 0 {
		h.addMember(h.supplier, strings.Join(actions, "\n\n"), beforeActs...)
	}
}

// read says whether the supplier is to have a derived value: it, or what moves to it, reads it, or hands it down.
func (h *handing) read(m *design.Member) bool {
	d := m.Syntax.(*syntax.Derives)
	read := !d.Call
	for _, o := range h.context.Members {
		if o != m && (o.Kind == design.Action || o.Kind == design.Derives) {
			walk := &scopes{visit: func(n *syntax.Name, _ bool) { read = read || n.Text == m.Label }}
			walk.node(o.Syntax, names{})
		}
	}
	return read || slices.ContainsFunc(h.refs[h.supplier], func(r ref) bool { return r.m == m })
}

// copiedAt says whether a component derives what the context did.
func (h *handing) copiedAt(m *design.Member) bool {
	for _, list := range h.wants {
		if slices.ContainsFunc(list, func(w want) bool { return w.m == m && w.way == copied }) {
			return true
		}
	}
	return false
}

// said are the comments on the context that do not move with a member of it.
func (h *handing) said() (list []string) {
	var moved []source.Span
	for _, m := range h.context.Members {
		if m.IsCell() || h.homed[m] || h.copiedAt(m) {
			moved = append(moved, h.whole(m.Syntax.Span()))
		}
	}
	for _, f := range h.d.Files {
		for _, c := range f.Comments {
			with := func(s source.Span) bool { return s.Start <= c.At.Start && c.At.End <= s.End }
			if with(h.whole(h.context.Syntax.Span())) && !slices.ContainsFunc(moved, with) {
				list = append(list, strings.TrimSpace(h.d.Text(c.At)))
			}
		}
	}
	return list
}

// dropped says whether an action only set a cell, which a report or a tie does without it.
func (h *handing) dropped(m *design.Member) bool {
	if h.setters[m] == nil || h.as == AsFunction {
		return false
	}
	called := false
	for _, o := range h.context.Members {
		walk := &scopes{visit: func(n *syntax.Name, _ bool) { called = called || o != m && n.Text == m.Label }}
		walk.node(o.Syntax, names{})
	}
	syntax.Walk(h.supplier.Syntax, func(n syntax.Node) bool {
		call, ok := n.(*syntax.CallStmt)
		if ok && h.ref(h.supplier, call.Call.Fun) == m {
			return false // it is set here instead
		}
		x, ok := n.(*syntax.Dotted)
		called = called || ok && h.ref(h.supplier, x) == m
		return true
	})
	return !called
}

// rewrite writes, in a component, the names of what it is handed in place of the context's members.
func (h *handing) rewrite(c *design.Component) {
	if c != h.supplier {
		h.remove(c.Member(h.alias[c]).Syntax.Span())
		h.did("%s is handed what it used of %s", c.Name, h.context.Name)
	}
	refs := map[*syntax.Dotted]*design.Member{}
	for _, r := range h.refs[c] {
		refs[r.at] = r.m
	}
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.CallStmt:
			f, ok := n.Call.Fun.(*syntax.Dotted)
			m := refs[f]
			switch {
			case !ok || m == nil:
			case c == h.supplier && h.setters[m] != nil:
				h.assign(c, n, h.setters[m])
				return false
			case c != h.supplier:
				return h.call(c, n, f, m)
			}
		case *syntax.Event:
			if p, ok := n.Do.(*syntax.Pass); ok {
				f, ok := p.Target.(*syntax.Dotted)
				if m := refs[f]; ok && m != nil && c != h.supplier {
					h.pass(c, n, m)
					return false
				}
			}
		case *syntax.Dotted:
			if m := refs[n]; m != nil {
				h.replace(n.Span(), h.nameOf(c, m))
			}
		}
		return true
	})
}

// ref is the member of the context that an expression of a component stands for, or nil.
func (h *handing) ref(c *design.Component, x syntax.Expr) *design.Member {
	for _, r := range h.refs[c] {
		if syntax.Expr(r.at) == x {
			return r.m
		}
	}
	return nil
}

// nameOf is what a member of the context is called in a component from now on.
func (h *handing) nameOf(c *design.Component, m *design.Member) string {
	for _, w := range h.wants[c] {
		if w.m == m {
			return w.name
		}
	}
	return m.Label
}

// call writes a call of an action another way; true if what is in it is still to be written.
func (h *handing) call(c *design.Component, n *syntax.CallStmt, f *syntax.Dotted, m *design.Member) bool {
	cell := h.setters[m]
	switch {
	case h.as == AsFunction:
		return true
	case h.as == AsTie && cell != nil:
		h.assign(c, n, cell)
		return false
	}
	h.replace(n.Span(), "emit "+strings.Replace(h.anew(c, n.Call), h.text(f), h.nameOf(c, m), 1))
	return false
}

// assign sets a cell in place of a call that did.
func (h *handing) assign(c *design.Component, n *syntax.CallStmt, cell *design.Member) {
	read := h.alias[c] + "." + cell.Label
	h.replace(n.Span(), h.assigned(h.nameOf(c, cell), read, n.Call.Args[0], func(x syntax.Expr) string { return h.anew(c, x) }))
}

// anew is the text of an expression with the new names; actions that are called keep their old ones.
func (h *handing) anew(c *design.Component, x syntax.Expr) string {
	at := x.Span()
	var edits []textEdit
	for _, r := range h.refs[c] {
		if s := r.at.Span(); at.Start <= s.Start && s.End <= at.End && r.m.Kind != design.Action {
			edits = append(edits, textEdit{int(s.Start - at.Start), int(s.End - at.Start), h.nameOf(c, r.m)})
		}
	}
	return edited(h.text(x), edits)
}

// pass writes a handler that was an action of the context.
func (h *handing) pass(c *design.Component, e *syntax.Event, m *design.Member) {
	cell := h.setters[m]
	if h.as == AsFunction {
		h.replace(e.Do.Span(), h.nameOf(c, m))
		return
	}
	var list []string
	for _, p := range m.Syntax.(*syntax.Action).Params {
		list = append(list, h.free(c, p.Name.Text))
	}
	if len(list) > 0 {
		h.insert(e.Name.Stop, "("+strings.Join(list, ", ")+")")
	}
	if h.as == AsTie && cell != nil {
		h.replace(e.Do.Span(), h.nameOf(c, cell)+" = "+list[0])
		return
	}
	h.replace(e.Do.Span(), fmt.Sprintf("emit %s(%s)", h.nameOf(c, m), strings.Join(list, ", ")))
}

// declare writes what a component is handed, and hands it down in every view that uses the component.
func (h *handing) declare(c *design.Component) {
	if len(h.wants[c]) == 0 {
		return
	}
	for _, w := range h.wants[c] {
		switch {
		case w.way == copied:
			text := h.text(w.m.Syntax)
			if !h.homed[w.m] { // what is said of it is said once
				h.homed[w.m] = true
				text = h.moved(w.m.Syntax.Span(), text)
			}
			h.addMember(c, text, append(beforeUses, "const", "derives")...)
		case w.way == tied:
			h.addMember(c, fmt.Sprintf("shares %s: %s = %s", w.name, h.typeText(w.m), beginning(w.m.Type())), "takes", "shares")
		case w.way == handed:
			h.addMember(c, fmt.Sprintf("takes %s: %s", w.name, h.typeText(w.m)), beforeTakes...)
		case h.as == AsFunction:
			h.addMember(c, fmt.Sprintf("takes %s: (%s) => void", w.name, h.params(w.m)), beforeTakes...)
		case h.setters[w.m] != nil:
			cell := h.setters[w.m]
			h.addMember(c, fmt.Sprintf("emits %s(%s: %s)", w.name, cell.Label, h.typeText(cell)), beforeEmits...)
		default:
			h.addMember(c, strings.TrimSuffix(fmt.Sprintf("emits %s(%s)", w.name, h.params(w.m)), "()"), beforeEmits...)
		}
	}
	if _, uses := h.alias[c]; !uses {
		h.did("%s hands it through", c.Name)
	}
	for _, u := range h.uses[c] {
		var list []string
		for _, w := range h.wants[c] {
			if w.way != copied {
				list = append(list, h.link(u, w))
			}
		}
		h.addLinks(u.Node.Syntax, list...)
	}
}

// params are the parameters of an action as they are written.
func (h *handing) params(m *design.Member) string {
	var list []string
	for _, p := range m.Syntax.(*syntax.Action).Params {
		list = append(list, h.text(p))
	}
	return strings.Join(list, ", ")
}

// link is what the user of a component writes for what that wants.
func (h *handing) link(u *links.Use, w want) string {
	from := h.nameOf(u.User, w.m)
	switch {
	case w.way == tied:
		return w.name + " <-> " + from
	case w.way == handed, h.as == AsFunction:
		return w.name + " <- " + from
	case u.User != h.supplier && w.name == from:
		return w.name + " -> forward"
	case u.User != h.supplier:
		return w.name + " -> forward " + from
	case h.homed[w.m] && h.setters[w.m] == nil:
		return w.name + " -> " + from
	}
	v := "v"
	if h.namesIn(u.User)[v] {
		v = h.free(u.User, "value")
	}
	return fmt.Sprintf("%s(%s) -> %s = %[2]s", w.name, v, h.setters[w.m].Label)
}
