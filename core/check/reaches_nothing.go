package check

import (
	"slices"

	"lien/core/css"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/reach"
	"lien/core/source"
)

// reachesNothing: a selector that no element can fit.
var reachesNothing = rule{"reaches-nothing", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	if len(p.d.Styles) == 0 {
		return
	}
	var all []*reach.Element
	for _, c := range p.d.Components {
		all = append(all, reach.By(c)...)
	}
	for _, s := range p.d.Styles {
		r := &reached{p: p, style: s, all: all}
		if s.Owner != nil {
			r.own = reach.By(s.Owner)
		}
		s.Sheet.Each(func(it *css.Item, around []*css.Item) {
			whole := it.Whole(around)
			for i, sel := range it.Selectors {
				if r.slotless(sel, report) || r.reaches(whole[i]) {
					continue
				}
				r.tell(report(s.At(sel.Start, sel.End), "%s reaches nothing", s.Sheet.Of(sel)), sel)
			}
		})
	}
}}

// reached is what a sheet can reach.
type reached struct {
	p     *pass
	style *design.Style
	own   []*reach.Element // that its component writes
	all   []*reach.Element // of all components
}

// slotless reports ::slotted in a component without slot.
func (r *reached) slotless(sel *css.Selector, report func(source.Span, string, ...any) *finding.Finding) bool {
	last := sel.Parts[len(sel.Parts)-1]
	if last.Slotted == nil || r.style.Owner != nil && len(r.style.Owner.Slots) > 0 {
		return false
	}
	f := report(r.style.At(last.Start, last.End), "::slotted reaches what a slot is given, and there is no slot here")
	if r.style.Owner == nil {
		f.Instead("move the rule to the component whose slot it is about")
	} else {
		f.Instead("add slot to the view of %s, or write the rule without ::slotted", r.style.Owner.Name)
	}
	return true
}

func (r *reached) reaches(sel *css.Selector) bool {
	if r.style.Owner == nil {
		return r.onPage(sel)
	}
	if sel.Parts[len(sel.Parts)-1].Slotted != nil {
		return r.given(sel)
	}
	return slices.ContainsFunc(r.own, func(x *reach.Element) bool { return sel.Matches(x, r.style.Owner.Name) != css.No })
}

// onPage says whether each part of a selector fits some element: what stands around what is not worked out.
func (r *reached) onPage(sel *css.Selector) bool {
	for _, c := range sel.Parts {
		if c.Tag == "html" || c.Tag == "body" || c.Nest || slices.ContainsFunc(c.Pseudos, func(p *css.Pseudo) bool { return p.Name == "root" }) {
			continue
		}
		one := &css.Selector{Parts: []*css.Compound{c}}
		if !slices.ContainsFunc(r.all, func(x *reach.Element) bool { return one.Matches(x, "") != css.No }) {
			return false
		}
	}
	return true
}

// given says whether something that the component is given fits; where nothing in the design uses it, others may.
func (r *reached) given(sel *css.Selector) bool {
	uses := r.p.links().Uses[r.style.Owner]
	if len(uses) == 0 {
		return true
	}
	last := &css.Selector{Parts: sel.Parts[len(sel.Parts)-1:]}
	for _, u := range uses {
		for _, f := range u.Node.Fills {
			if slices.ContainsFunc(f.Body, handsOn) {
				return true
			}
			if slices.ContainsFunc(reach.AtTop(f.Body, 0), func(x *reach.Element) bool { return last.Matches(x, r.style.Owner.Name) != css.No }) {
				return true
			}
		}
	}
	return false
}

// handsOn says whether a node is a slot: what comes through it is not known here.
func handsOn(n design.Node) bool {
	_, ok := n.(*design.SlotPlace)
	return ok
}

// tell says why a selector reaches nothing, and what to write.
func (r *reached) tell(f *finding.Finding, sel *css.Selector) {
	owner := r.style.Owner
	if owner == nil {
		f.Instead("remove the rule, or put what it names on an element")
		return
	}
	for _, c := range sel.Parts {
		for _, k := range c.Classes {
			if slices.ContainsFunc(r.own, func(x *reach.Element) bool { return x.Class(k.Text) != css.No }) {
				continue
			}
			if o := r.elsewhere(k.Text); o != "" {
				f.Instead("the class %s stands in %s, which the styles of %s do not reach: move the rule there, or give %[2]s a class where it is used", k.Text, o, owner.Name)
				return
			}
			if near := finding.Nearest(k.Text, r.classes()); near != "" {
				at := r.style.At(k.Start, k.End)
				f.Instead("no element of %s has the class %s; did you mean %s?", owner.Name, k.Text, near).Mend("write "+near, at, near)
				return
			}
			f.Instead("no element of %s has the class %s: put .%[2]s on one, or remove the rule", owner.Name, k.Text)
			return
		}
		if c.Tag == "html" || c.Tag == "body" || slices.ContainsFunc(c.Pseudos, func(p *css.Pseudo) bool { return p.Name == "root" }) {
			f.Instead("styles of a component reach what it writes: move the rule to style { ... } at the top of the file")
			return
		}
		if slices.ContainsFunc(c.Pseudos, func(p *css.Pseudo) bool { return p.Name == "host" }) {
			f.Instead("inside a design a component has no element of its own: write the rule for its outermost element")
			return
		}
	}
	f.Instead("%s writes no such element: its styles do not reach into other components, nor what it is given (::slotted does)", owner.Name)
}

// elsewhere is a component that has a class, or "".
func (r *reached) elsewhere(class string) string {
	for _, x := range r.all {
		if x.Class(class) == css.Yes && x.Lent == nil {
			return x.By[0]
		}
	}
	return ""
}

// classes are those that the component writes.
func (r *reached) classes() (list []string) {
	for _, x := range r.own {
		list = append(list, x.Node.Classes...)
		for _, m := range x.Node.Marks {
			list = append(list, m.Name)
		}
	}
	return list
}
