package check

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

// linkedOneWay: a component writes what it shares, but a use only links it
// down, so that what it writes is lost; and so is what a user does to a field that is only linked.
var linkedOneWay = rule{"linked-one-way", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	p.fieldsOneWay(report)
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind != design.Shares || len(p.journey(m).Changed) == 0 {
				continue
			}
			w := p.journey(m).Changed[0]
			for _, u := range p.links().Uses[c] {
				for _, l := range u.Node.Links {
					if l.Member != m {
						continue
					}
					report(l.Syntax.Span(), "%s writes %s, but this only links it down", c.Name, m.Label).
						See(w.At.Start, "it is written here").
						Instead("tie it: %s <-> a cell; or give it a first value: %s = ...", m.Label, m.Label)
				}
			}
		}
	}
}}

// fieldsOneWay reports fields whose user changes what is linked down, in all components.
func (p *pass) fieldsOneWay(report reporter) {
	if !slices.ContainsFunc(p.seen().nodes, func(n design.Node) bool {
		el, ok := n.(*design.Element)
		return ok && userChanges(el) != nil
	}) {
		return
	}
	around := map[*design.Component]bool{}
	for _, c := range p.d.Components {
		heardAround(c.View, false, around)
	}
	for _, c := range p.d.Components {
		fieldsOneWay(c.View, around[c], report)
	}
}

// fieldsOneWay reports fields whose user changes what is linked down, where nothing hears of it: it goes back at once.
func fieldsOneWay(nodes []design.Node, heard bool, report reporter) {
	for _, n := range nodes {
		hears := heard
		switch n := n.(type) {
		case *design.Element:
			hears = heard || hearsFields(n)
			if a := userChanges(n); a != nil && !hears {
				report(a.Syntax.Span(), "what the user does to this %s goes back at once: %s is only linked down", n.Tag, a.Name).
					Instead("tie it to a cell, %s <-> ...; or hear it, input(e) -> ...; or let it be readonly or disabled", a.Name)
			}
		case *design.Use:
			hears = true // what is around the slot may hear it
		}
		for _, list := range design.Inside(n) {
			fieldsOneWay(list, hears, report)
		}
	}
}

// heardAround notes the components of which something around hears what is done to their fields: events go outwards
// through all that is around.
func heardAround(nodes []design.Node, heard bool, around map[*design.Component]bool) {
	for _, n := range nodes {
		hears := heard
		switch n := n.(type) {
		case *design.Element:
			hears = heard || hearsFields(n)
		case *design.Use:
			if heard && !around[n.Component] {
				around[n.Component] = true
				heardAround(n.Component.View, true, around)
			}
		}
		for _, list := range design.Inside(n) {
			heardAround(list, hears, around)
		}
	}
}

func hearsFields(el *design.Element) bool {
	return slices.ContainsFunc(el.Handlers, func(h *design.Handler) bool { return ofFields[h.Name] })
}

// ofFields are the events by which what a user does to a field may be heard.
var ofFields = map[string]bool{"input": true, "change": true, "beforeinput": true, "keydown": true, "keyup": true, "click": true, "paste": true, "submit": true}

// userChanges is the link of a property that a user can change, or nil.
func userChanges(el *design.Element) *design.Attr {
	kind, link := "", (*design.Attr)(nil)
	for _, a := range el.Attrs {
		switch a.Name {
		case "readonly", "disabled", "inert":
			return nil
		case "type":
			text, fixed := design.FixedText(a.Unit.Expr)
			if !fixed {
				return nil
			}
			kind = strings.ToLower(text)
		case "value", "checked":
			link = a
		}
	}
	if link == nil || link.Name == "checked" {
		return link
	}
	switch el.Tag {
	case "textarea", "select":
		return link
	case "input":
		switch kind {
		case "hidden", "submit", "button", "reset", "image", "checkbox", "radio", "file":
			return nil
		}
		return link
	}
	return nil
}
