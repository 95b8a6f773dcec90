package check

import (
	"fmt"
	"maps"
	"sort"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
	"lien/core/types"
)

// alwaysTogether: two cells of a component that every handler writes together
// are often one.
var alwaysTogether = rule{"always-together", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		var cells []*design.Member
		for _, m := range c.Members {
			if m.IsCell() && len(p.bodies(m)) >= 2 {
				cells = append(cells, m)
			}
		}
		for i, a := range cells {
			for _, b := range cells[i+1:] {
				if sameBodies(p.bodies(a), p.bodies(b)) && maps.Equal(p.blocks(a), p.blocks(b)) {
					report(b.At, "%s and %s are always written together", a.Label, b.Label).
						See(a.At.Start, "%s is held here", a.Label).
						Instead("hold one record, or work one out from the other%s", joined(a, b))
				}
			}
		}
	}
}}

// joined names the command that makes one cell of two that are always the same, as only those of one type can be.
func joined(a, b *design.Member) string {
	if !types.Identical(types.Widen(a.Type()), types.Widen(b.Type())) {
		return ""
	}
	return fmt.Sprintf("; if both are always the same, lien join %s.%s %[1]s.%[3]s makes one of them", a.Owner.Name, a.Label, b.Label)
}

// bodies are the bodies that write a cell; ties have none.
func (p *pass) bodies(m *design.Member) map[*design.Body]bool {
	set := map[*design.Body]bool{}
	for _, w := range p.links().Writes[m] {
		set[w.Trigger.Body] = true
	}
	if set[nil] {
		return nil
	}
	return set
}

// blocks are the blocks of statements that write a cell, those of a condition apart from what is around it.
func (p *pass) blocks(m *design.Member) map[source.Span]bool {
	set := map[source.Span]bool{}
	for _, w := range p.links().Writes[m] {
		set[innermost(w.Trigger.Body, w.At)] = true
	}
	return set
}

// innermost is the block of a body that a place stands in.
func innermost(b *design.Body, at source.Span) source.Span {
	found := b.At
	design.Visitor{Stmt: func(s design.Stmt) {
		in := [][]design.Stmt{}
		switch s := s.(type) {
		case *design.If:
			in = [][]design.Stmt{s.Then, s.Else}
		case *design.For:
			in = [][]design.Stmt{s.Body}
		}
		for _, list := range in {
			if n := len(list); n > 0 && list[0].Span().Start <= at.Start && at.End <= list[n-1].Span().End {
				found = source.Span{Start: list[0].Span().Start, End: list[n-1].Span().End} // inner ones come after outer ones
			}
		}
	}}.Body(b)
	return found
}

func sameBodies(a, b map[*design.Body]bool) bool {
	if len(a) != len(b) {
		return false
	}
	for k := range a {
		if !b[k] {
			return false
		}
	}
	return true
}

// workedOut: a cell that is set to the same expression over other cells
// whenever one of these is written could be derived from them.
var workedOut = rule{"worked-out", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, m := range p.links().Cells() {
		writes := p.links().Writes[m]
		text, ok := p.sameText(writes)
		if !ok {
			continue
		}
		from := sourcesOf(writes[0].Value, m)
		if len(from) == 0 {
			continue
		}
		if !p.followsAll(m, from) {
			p.staysBehind(m, writes, from, text, report)
			continue
		}
		report(m.At, "%s is set to %s wherever that changes, so it is held twice", m.Label, text).
			See(writes[0].At.Start, "it is set here").
			Instead("write derives %s = %s, and remove the assignments", m.Label, text)
	}
}}

// staysBehind reports a cell that is worked out from others wherever it is written, right where one
// of these is, while they change elsewhere without it. A plain copy is a value kept on purpose.
func (p *pass) staysBehind(m *design.Member, writes []*links.Write, from []*design.Member, text string, report reporter) {
	switch writes[0].Value.(type) {
	case *types.Ref, *types.Dot, *types.At, *types.RecordOf:
		return
	}
	beside := map[*design.Body]bool{}
	for _, s := range from {
		for b := range p.bodies(s) {
			beside[b] = true
		}
	}
	for b := range p.bodies(m) {
		if !beside[b] {
			return
		}
	}
	for _, s := range from {
		for _, w := range p.links().Writes[s] {
			if own := p.bodies(m); len(own) > 0 && !own[w.Trigger.Body] {
				report(m.At, "%s is set to %s, so it is held twice, and stays behind when %s changes elsewhere", m.Label, text, s.Label).
					See(writes[0].At.Start, "it is set here").
					See(w.At.Start, "%s changes here without it", s.Label).
					Instead("write derives %s = %s, and remove the assignments", m.Label, text)
				return
			}
		}
	}
}

// sameText is the text of the expression that every write of a cell assigns.
func (p *pass) sameText(writes []*links.Write) (string, bool) {
	text := ""
	for _, w := range writes {
		if w.Value == nil {
			return "", false
		}
		t := p.d.Text(w.Value.Span())
		if text != "" && t != text {
			return "", false
		}
		text = t
	}
	return text, text != ""
}

// sourcesOf are the cells that an expression reads; none where it reads
// anything else that can differ, or the cell itself.
func sourcesOf(e types.Expr, self *design.Member) []*design.Member {
	var list []*design.Member
	plain, whole := true, e.Span()
	types.Walk(e, func(e types.Expr) bool {
		switch e := e.(type) {
		case *types.Ref:
			switch s := e.Symbol.(type) {
			case *design.Member:
				if !s.IsCell() || s == self {
					plain = false
				}
				list = append(list, s)
			case *types.Local:
				plain = plain && within(s.At, whole)
			case *design.ViewLocal:
				plain = false
			}
		case *types.Builtin:
			if e.Name == "now" || e.Name == "fresh" {
				plain = false
			}
		}
		return true
	})
	if !plain {
		return nil
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].At.Start < list[j].At.Start })
	return list
}

// followsAll says whether every body that writes a source writes the cell too.
func (p *pass) followsAll(m *design.Member, from []*design.Member) bool {
	own := p.bodies(m)
	for _, s := range from {
		bodies := p.bodies(s)
		if len(bodies) == 0 {
			return false
		}
		for b := range bodies {
			if !own[b] {
				return false
			}
		}
	}
	return len(own) > 0
}

// within says whether a local is declared inside an expression: the parameter
// of an arrow function in it.
func within(inner, outer source.Span) bool {
	return outer.Start <= inner.Start && inner.End <= outer.End
}
