package check

import (
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/value"
)

// refersBy are the attributes that name other elements by their ids: one, or several with spaces between (HTML, 2.3.6
// and 2.3.9; ARIA 1.2, 5.2.1).
var refersBy = map[string]bool{
	"for": true, "form": true, "list": true, "headers": true, "popovertarget": true, "commandfor": true, "aria-activedescendant": true, "aria-controls": true,
	"aria-describedby": true, "aria-details": true, "aria-errormessage": true, "aria-flowto": true, "aria-labelledby": true, "aria-owns": true,
}

// noSuchID: an element names another by an id that none has.
var noSuchID = rule{"no-such-id", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	ids, all := p.ids()
	if !all {
		return
	}
	for _, n := range p.seen().nodes {
		el, ok := n.(*design.Element)
		if !ok {
			continue
		}
		for _, a := range el.Attrs {
			if !refersBy[a.Name] {
				continue
			}
			text, _ := design.FixedText(a.Unit.Expr)
			for _, id := range strings.Fields(text) {
				if !ids[id] {
					meantID(report(a.Syntax.Value.Span(), "no element has the id %s", value.Show(value.String(id))), id, ids)
				}
			}
		}
	}
}}

// meantID says which id is meant, or how an element gets one.
func meantID(f *finding.Finding, id string, ids map[string]bool) {
	var names []string
	for name := range ids {
		names = append(names, name)
	}
	if near := finding.Nearest(id, names); near != "" {
		f.Instead("did you mean %s?", near)
		return
	}
	f.Instead("write id <- %s on the element that is meant", value.Show(value.String(id)))
}

// ids are those that elements have; all is false where some are worked out, which may be any.
func (p *pass) ids() (ids map[string]bool, all bool) {
	ids = map[string]bool{}
	for _, n := range p.seen().nodes {
		el, ok := n.(*design.Element)
		if !ok {
			continue
		}
		for _, a := range el.Attrs {
			if a.Name != "id" {
				continue
			}
			id, _ := design.FixedText(a.Unit.Expr)
			if id == "" {
				return nil, false
			}
			ids[id] = true
		}
	}
	return ids, true
}
