package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/types"
)

// neverUsed: what moving code out leaves behind.
var neverUsed = rule{"never-used", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	asked := p.askedFor()
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Emits || m.Kind >= design.Supplied || m.Offered || m.Implied || m.Field || p.isRead(m) || asked[m] {
				continue
			}
			report(m.At, "%s of %s is never used", m.Label, c.Name).Instead("remove it%s", andLinks(m))
		}
		if len(p.g.Uses[c]) == 0 && !p.isRoot(c) && !p.wanted(c) && len(p.d.Starts) > 0 {
			report(c.Syntax.Name.Span(), "%s is never used, and no start mounts it", c.Name).Instead("use it in a view, write start %s, or remove it", c.Name)
		}
	}
	p.topUnused(report, asked)
	p.neverBegun(report)
}}

// neverBegun reports timers that are only stopped or asked about, and
// operations of services that nothing asks.
func (p *pass) neverBegun(report func(source.Span, string, ...any) *finding.Finding) {
	started, asked := map[*design.Member]bool{}, map[*design.Operation]bool{}
	v := design.Visitor{Stmt: func(s design.Stmt) {
		switch s := s.(type) {
		case *design.Clock:
			started[s.Timer] = started[s.Timer] || !s.Stop
		case *design.Ask:
			asked[s.Operation] = true
		}
	}}
	for _, c := range p.d.Components {
		v.Component(c)
	}
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Timer && !started[m] && p.isRead(m) {
				report(m.At, "%s of %s is never started", m.Label, c.Name).Instead("write start %s where it begins, or remove it", m.Label)
			}
		}
	}
	for _, s := range p.d.Services {
		for _, o := range s.Operations {
			if !asked[o] {
				report(o.Syntax.Name.Span(), "%s.%s is never asked", s.Name, o.Name).Instead("write ask %s.%s(...) where it is needed, or remove it", s.Name, o.Name)
			}
		}
	}
}

// wanted says whether some component uses a context.
func (p *pass) wanted(c *design.Component) bool {
	for _, o := range p.d.Components {
		for _, m := range o.Members {
			if m.Context == c && m.Kind == design.Used {
				return true
			}
		}
	}
	return false
}

func andLinks(m *design.Member) string {
	if m.Kind == design.Takes {
		return ", and the links to it where " + m.Owner.Name + " is used"
	}
	return ""
}

// isRead says whether anything but the member itself reads or calls it.
func (p *pass) isRead(m *design.Member) bool {
	for _, r := range p.g.Reads[m] {
		if r.By != m {
			return true
		}
	}
	for _, t := range p.g.Calls[m] {
		if t.Member != m {
			return true
		}
	}
	if m.Kind == design.Timer {
		return false
	}
	return m.IsCell() && len(p.g.Writes[m]) > 0 // held-unseen tells of these
}

// askedFor are the members, constants and functions that laws, scenarios and starts read.
func (p *pass) askedFor() map[types.Symbol]bool {
	asked := map[types.Symbol]bool{}
	note := func(u *design.Unit) {
		if u == nil {
			return
		}
		types.Walk(u.Expr, func(e types.Expr) bool {
			switch e := e.(type) {
			case *types.Select:
				asked[e.Member] = true
			case *types.Ref:
				asked[e.Symbol] = true
			}
			return true
		})
	}
	for _, l := range p.d.Laws {
		for _, c := range l.Clauses {
			note(&c.Unit)
		}
	}
	var steps func(list []*design.Step)
	steps = func(list []*design.Step) {
		for _, s := range list {
			note(s.Value)
			for _, a := range s.Args {
				note(a)
			}
			steps(s.Steps)
		}
	}
	for _, s := range p.d.Scenarios {
		steps(s.Steps)
	}
	for _, s := range p.d.Services {
		for _, o := range s.Operations {
			note(o.Replies)
			note(o.After)
			for _, f := range o.Fails {
				note(f)
			}
		}
	}
	for _, s := range p.d.Starts {
		for _, g := range append(append([]*design.Given(nil), s.Links...), s.Seeds...) {
			note(&g.Unit)
		}
	}
	return asked
}

// topUnused reports constants and functions that nothing reads.
func (p *pass) topUnused(report func(source.Span, string, ...any) *finding.Finding, asked map[types.Symbol]bool) {
	note := func(e types.Expr) {
		if ref, ok := e.(*types.Ref); ok {
			asked[ref.Symbol] = true
		}
	}
	v := design.Visitor{Expr: note}
	for _, c := range p.d.Components {
		v.Component(c)
	}
	for _, k := range p.d.Consts {
		types.Walk(k.Unit.Expr, func(e types.Expr) bool { note(e); return true })
	}
	for _, f := range p.d.Functions {
		types.Walk(f.Unit.Expr, func(e types.Expr) bool { note(e); return true })
	}
	for _, k := range p.d.Consts {
		if !asked[k] {
			report(k.Syntax.Name.Span(), "the constant %s is never used", k.Label).Instead("remove it")
		}
	}
	for _, f := range p.d.Functions {
		if !asked[f] {
			report(f.Syntax.Name.Span(), "the function %s is never used", f.Label).Instead("remove it")
		}
	}
}
