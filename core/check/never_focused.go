package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

// neverFocused: keys, and the focus itself, are heard where nothing can have the focus.
var neverFocused = rule{"never-focused", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, n := range p.seen().nodes {
		el, ok := n.(*design.Element)
		if !ok {
			continue
		}
		for _, h := range el.Handlers {
			if ofFocus[h.Name] && !focusIn([]design.Node{el}, map[*design.Component]bool{}) {
				report(h.Syntax.Name.Span(), "nothing in this %s can have the focus, so it never hears %s", el.Tag, h.Name).
					Instead("write tabindex <- 0 in its block, or hear it on a control")
			}
		}
	}
}}

// ofFocus are the events that go to what has the focus (UI Events, 3.3 and 3.5).
var ofFocus = map[string]bool{"keydown": true, "keyup": true, "keypress": true, "focus": true, "blur": true, "focusin": true, "focusout": true}

// focusIn says whether the focus can be on something in nodes. What a slot is filled with can.
func focusIn(nodes []design.Node, seen map[*design.Component]bool) bool {
	for _, n := range nodes {
		switch n := n.(type) {
		case *design.Element:
			if takesFocus(n) {
				return true
			}
		case *design.SlotPlace:
			return true
		case *design.Use:
			if !seen[n.Component] {
				seen[n.Component] = true
				if focusIn(n.Component.View, seen) {
					return true
				}
			}
		}
		for _, list := range design.Inside(n) {
			if focusIn(list, seen) {
				return true
			}
		}
	}
	return false
}

// takesFocus says whether the focus may be on an element (HTML, 6.6.2).
func takesFocus(el *design.Element) bool {
	switch el.Tag {
	case "button", "input", "select", "textarea", "iframe", "summary", "dialog", "audio", "video", "embed", "object":
		return true
	}
	for _, a := range el.Attrs {
		switch a.Name {
		case "tabindex", "contenteditable":
			return true
		case "href":
			return el.Tag == "a" || el.Tag == "area"
		}
	}
	return false
}
