package check

import (
	"slices"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// neverEqual: a cell is compared with a text that it never holds: all that it is given is known.
var neverEqual = rule{"never-equal", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, x := range p.seen().tests {
		b, ok := x.(*types.Binary)
		if !ok || b.Op != syntax.Equal && b.Op != syntax.NotEqual {
			continue
		}
		for _, side := range [][2]types.Expr{{b.X, b.Y}, {b.Y, b.X}} {
			ref, ok := side[0].(*types.Ref)
			if !ok {
				continue
			}
			m, ok := ref.Symbol.(*design.Member)
			with, is := design.Constant(side[1]).(value.String)
			if !ok || !is || m.Kind != design.Holds || m.Type() != types.Type(types.String) {
				continue
			}
			if known := p.known(m); len(known) > 0 && !slices.Contains(known, string(with)) {
				meantText(report(side[1].Span(), "%s is never %s", m.Label, value.Show(with)), side[1], m, known)
			}
		}
	}
}}

// meantText says which of the texts that a cell holds is meant.
func meantText(f *finding.Finding, x types.Expr, m *design.Member, known []string) {
	f.See(m.At.Start, "it is held here")
	shown := make([]string, len(known))
	for i, k := range known {
		shown[i] = value.Show(value.String(k))
	}
	f.Instead("%s", types.DidYouMean(value.Show(design.Constant(x)), shown, "it is given: "))
	if near := finding.Nearest(value.Show(design.Constant(x)), shown); near != "" && isLiteral(x) {
		f.Mend("write "+near, x.Span(), near)
	}
}

func isLiteral(x types.Expr) bool {
	_, ok := x.(*types.Const)
	return ok
}

// known are the texts that a cell is given, in the order of the text; nil where it may be given others.
func (p *pass) known(m *design.Member) (list []string) {
	all := true
	add := func(x types.Expr) {
		texts, ok := textsOf(x)
		all = all && ok
		list = append(list, texts...)
	}
	if m.Init == nil {
		return nil
	}
	add(m.Init.Expr)
	for _, w := range p.links().Writes[m] {
		add(w.Value)
	}
	for _, s := range p.d.Starts {
		for _, g := range s.Seeds {
			if g.Member == m {
				add(g.Unit.Expr)
			}
		}
	}
	if !all || len(list) < 2 { // what never changes is told as that
		return nil
	}
	slices.Sort(list)
	return slices.Compact(list)
}

// textsOf are the texts that an expression can be, if these are known.
func textsOf(x types.Expr) ([]string, bool) {
	if x == nil {
		return nil, false
	}
	if c, ok := x.(*types.Cond); ok {
		a, one := textsOf(c.X)
		b, other := textsOf(c.Y)
		return append(a, b...), one && other
	}
	text, fixed := design.FixedText(x)
	return []string{text}, fixed
}
