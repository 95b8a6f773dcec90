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
	stopped := p.timers(design.Stops)
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if stopped[m] || m.Kind == design.Emits || m.Kind >= design.Supplied || m.Offered || m.Implied || m.Field || p.isRead(m) || asked[m] {
				continue
			}
			report(m.At, "%s of %s is never used", m.Label, c.Name).Instead("remove it%s", andLinks(m)).Fix = p.without(m)
		}
		if len(p.links().Uses[c]) == 0 && !p.roots[c] && !p.contexts[c] && len(p.d.Starts) > 0 {
			f := report(c.Syntax.Name.Span(), "%s is never used, and no start mounts it", c.Name).Instead("use it in a view, write start %s, or remove it", c.Name)
			if c.IsContext {
				f.Instead("supply it where it is to be: supplies %s; or remove it", c.Name)
			}
		}
	}
	p.topUnused(report, asked)
	p.neverBegun(stopped, report)
}}

// timers are those that something starts, or stops.
func (p *pass) timers(does design.EffectKind) map[*design.Member]bool {
	timers := map[*design.Member]bool{}
	for _, e := range p.seen().does {
		if e.Kind == does {
			timers[e.Event] = true
		}
	}
	return timers
}

// neverBegun reports timers that are only stopped or asked about, and
// operations of services that nothing asks.
func (p *pass) neverBegun(stopped map[*design.Member]bool, report func(source.Span, string, ...any) *finding.Finding) {
	started, asked := p.timers(design.Starts), map[*design.Operation]bool{}
	for _, e := range p.seen().does {
		if e.Kind == design.Asks {
			asked[e.Operation] = true
		}
	}
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Timer && !started[m] && (stopped[m] || p.isRead(m)) {
				report(m.At, "%s of %s is never started", m.Label, c.Name).Instead("write start %s where it begins, or remove it", m.Label)
			}
		}
	}
	for _, s := range p.d.Services {
		for _, o := range s.Operations {
			if !asked[o] && o.HTTP == nil { // a server may offer more than a page asks
				report(o.Syntax.Name.Span(), "%s.%s is never asked", s.Name, o.Name).Instead("write ask %s.%s(...) where it is needed, or remove it", s.Name, o.Name)
			}
		}
	}
}

// contexts are those that some component uses.
func contexts(d *design.Design) map[*design.Component]bool {
	used := map[*design.Component]bool{}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Used {
				used[m.Context] = true
			}
		}
	}
	return used
}

func andLinks(m *design.Member) string {
	if m.Kind == design.Takes {
		return ", and the links to it where " + m.Owner.Name + " is used"
	}
	return ""
}

// isRead says whether anything but the member itself reads or calls it.
func (p *pass) isRead(m *design.Member) bool {
	for _, r := range p.links().Reads[m] {
		if r.By != m {
			return true
		}
	}
	for _, t := range p.links().Calls[m] {
		if t.Member != m {
			return true
		}
	}
	if m.Kind == design.Timer {
		return false
	}
	return m.IsCell() && len(p.links().Writes[m]) > 0 // held-unseen tells of these
}

// askedFor are the members, constants and functions that laws, scenarios and starts read.
func (p *pass) askedFor() map[types.Symbol]bool {
	asked := map[types.Symbol]bool{}
	v := design.Visitor{Effect: func(e design.Effect) {
		if e.Kind == design.Reads {
			asked[e.Symbol] = true
		}
	}}
	v.Laws(p.d)
	v.Scenarios(p.d)
	for _, s := range p.d.Services {
		for _, o := range s.Operations {
			v.Operation(o)
		}
	}
	for _, s := range p.d.Starts {
		v.Start(s)
	}
	return asked
}

// topUnused reports constants and functions that nothing reads.
func (p *pass) topUnused(report func(source.Span, string, ...any) *finding.Finding, asked map[types.Symbol]bool) {
	read := p.seen().read
	for _, k := range p.d.Consts {
		if !asked[k] && !read[k] {
			report(k.Syntax.Name.Span(), "the constant %s is never used", k.Label).Instead("remove it")
		}
	}
	for _, f := range p.d.Functions {
		if !asked[f] && !read[f] {
			report(f.Syntax.Name.Span(), "the function %s is never used", f.Label).Instead("remove it")
		}
	}
}
