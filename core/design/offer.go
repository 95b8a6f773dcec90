package design

import (
	"strings"

	"lien/core/source"
	"lien/core/types"
)

// Text is the text of a place.
func (s *scope) Text(at source.Span) string { return s.r.d.Text(at) }

// ContextName is what a context of a cell may be called: kilnChosen for chosen of a kiln-page.
func ContextName(m *Member) string {
	first, _, _ := strings.Cut(m.Owner.Name, "-")
	return first + upperFirst(m.Label)
}

// Offer is what stands in scope for a parameter that was left out: a value of its name and type, a
// field of that name, or the only value of its type; "" where there is none, or several.
func (s *scope) Offer(p types.Param) string {
	var o offer
	for v := s.view; v != nil; v = v.up {
		for _, l := range v.locals {
			o.consider(p, l.Label, l.Typ)
		}
	}
	if s.component != nil {
		for _, m := range s.component.Members {
			if m.Kind == Takes || m.Kind == Holds || m.Kind == Shares {
				o.consider(p, m.Label, m.Type())
			}
		}
	}
	return o.best()
}

// offer collects what fits a parameter, by how well it does.
type offer struct{ named, fields, typed []string }

func (o *offer) consider(p types.Param, name string, t types.Type) {
	if name[0] == ' ' || t == nil || types.Under(t) == types.Any {
		return
	}
	fits := types.Assignable(t, p.Read())
	switch {
	case fits && name == p.Name:
		o.named = append(o.named, name)
	case fits && isRecord(t) && types.Identical(types.Widen(t), types.Widen(p.Type)):
		o.typed = append(o.typed, name)
	}
	if rec, ok := types.Under(t).(*types.Record); ok {
		if f, ok := rec.Field(p.Name); ok && types.Assignable(f.Read(), p.Read()) {
			o.fields = append(o.fields, name+"."+p.Name)
		}
	}
}

func isRecord(t types.Type) bool {
	_, ok := types.Under(t).(*types.Record)
	return ok
}

func (o *offer) best() string {
	for _, list := range [][]string{o.named, o.fields, o.typed} {
		if len(list) == 1 {
			return list[0]
		}
	}
	return ""
}
