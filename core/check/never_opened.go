package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/types"
)

// neverOpened: a dialog that nothing shows.
var neverOpened = rule{"never-opened", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	shown := map[types.Symbol]bool{}
	byID := false
	for _, e := range p.seen().does {
		if s, ok := e.Fun.(*types.Select); ok && (s.Member.Name() == "show" || s.Member.Name() == "showModal") {
			if r, ok := s.X.(*types.Ref); ok {
				shown[r.Symbol] = true
			}
		}
	}
	for _, n := range p.seen().nodes {
		el, ok := n.(*design.Element)
		byID = byID || ok && hasAttr(el, "commandfor")
	}
	for _, n := range p.seen().nodes {
		el, ok := n.(*design.Element)
		if !ok || el.Tag != "dialog" || shown[el.Named] || byID && hasAttr(el, "id") || hasAttr(el, "open") || hasAttr(el, "popover") {
			continue
		}
		f := report(el.Syntax.Name.Span(), "nothing opens this dialog, so it is never shown")
		if el.Named != nil {
			f.Instead("write open <- condition in its block, or %s?.showModal() where it is to open", el.Named.Name())
			continue
		}
		f.Instead("write open <- condition in its block, or dialog named box, and box?.showModal() where it is to open")
	}
}}

// hasAttr says whether an element has an attribute, linked or tied.
func hasAttr(el *design.Element, name string) bool {
	for _, a := range el.Attrs {
		if a.Name == name {
			return true
		}
	}
	for _, t := range el.Ties {
		if t.Name == name {
			return true
		}
	}
	return false
}
