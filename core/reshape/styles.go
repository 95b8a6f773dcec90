package reshape

import (
	"slices"
	"strings"

	"lien/core/css"
	"lien/core/design"
	"lien/core/reach"
	"lien/core/source"
)

// Rules of style sheets go along with what they reach.

// division says which rules of a component's sheets go with a part of its view.
type division struct {
	x       *extraction
	in, out []*reach.Element // what the part writes, and what stays
	moved   []string         // texts of rules, for the new component
	err     error
}

// styles takes along the rules that only the parts use; what both use is written in both.
func (x *extraction) styles(parts []source.Span) error {
	v := &division{x: x}
	for _, el := range reach.By(x.c) {
		at := el.Node.Syntax.Start
		if el.Lent != nil {
			at = el.Lent.Start
		}
		if slices.ContainsFunc(parts, func(s source.Span) bool { return s.Start <= at && at < s.End }) {
			v.in = append(v.in, el)
		} else {
			v.out = append(v.out, el)
		}
	}
	for _, s := range x.d.StylesOf(x.c) {
		v.sheet(s)
	}
	x.rules = v.moved
	return v.err
}

func (v *division) sheet(s *design.Style) {
	kept, moved, changed := v.items(s, s.Sheet.Items)
	if moved != "" {
		v.moved = append(v.moved, moved)
	}
	switch {
	case !changed || v.err != nil:
	case s.Syntax.File != nil:
		v.err = v.x.refuse(s.Syntax.Start, "write these rules into style { ... } in "+v.x.c.Name, "rules of %s reach only what is cut out, and stay in their file", s.Syntax.File.Value)
	case strings.TrimSpace(kept) == "":
		v.x.later = append(v.x.later, func() { v.x.draft.take(s.Syntax.Span()) })
	default:
		v.x.later = append(v.x.later, func() { v.x.replace(s.Syntax.Body, "\n"+kept) })
	}
}

// items divides rules; changed says that some of them go and do not stay.
func (v *division) items(s *design.Style, list []*css.Item) (kept, moved string, changed bool) {
	said := "" // comments right above a rule
	for i, it := range list {
		text := s.Sheet.Text[it.Start:it.End]
		if i > 0 && strings.Count(s.Sheet.Text[list[i-1].End:it.Start], "\n") > 1 {
			kept, said = kept+said+"\n", ""
		}
		switch {
		case it.Kind == css.Comment:
			said += text + "\n"
			continue
		case it.Kind == css.AtRule && it.Groups():
			stays, goes, some := v.items(s, it.Items)
			head := s.Sheet.Text[it.Start:it.Inside()]
			if goes != "" {
				moved += said + head + goes + "}\n"
			}
			if stays != "" || !some {
				kept += said + head + stays + "}\n"
			}
			changed = changed || some
		case it.Kind == css.Rule:
			stays, goes := v.rule(s, it)
			if goes {
				moved += said + text + "\n"
			}
			if stays {
				kept += said + text + "\n"
			}
			changed = changed || !stays
		default:
			kept += said + text + map[bool]string{true: "", false: ";"}[it.Block] + "\n"
		}
		said = ""
	}
	return kept + said, moved, changed
}

// rule says whether a rule is about what stays, about what goes, or about both.
func (v *division) rule(s *design.Style, it *css.Item) (stays, goes bool) {
	alone := true // each selector asks for one element by itself
	s.Sheet.CompoundsOf(it, func(sel *css.Selector, c *css.Compound) {
		one := &css.Selector{Parts: []*css.Compound{c}}
		reaches := func(list []*reach.Element) bool {
			return slices.ContainsFunc(list, func(el *reach.Element) bool { return one.Matches(el, v.x.c.Name) != css.No })
		}
		if c.Nest || c.Slotted != nil {
			stays, alone = stays || c.Slotted != nil, false
			return
		}
		stays, goes = stays || reaches(v.out), goes || reaches(v.in)
		alone = alone && len(sel.Parts) == 1 && !slices.ContainsFunc(c.Pseudos, func(p *css.Pseudo) bool { return p.Name == "has" })
	})
	if stays && goes && !alone && v.err == nil {
		v.err = v.x.refuse(s.At(it.Start, it.End).Start, "give what is meant a class of its own, and write the rule for that class", "this rule speaks of what is cut out together with what stays")
	}
	return stays || !goes, goes
}
