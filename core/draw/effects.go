package draw

import (
	"slices"

	"lien/core/design"
	"lien/core/types"
)

// effect is one thing that the statements of a body do.
type effect struct {
	text    string
	member  *design.Member    // the cell, event, action, timer or derived value
	channel *design.Channel   // that is sent on
	opens   *design.Component // that is opened
}

// effects lists what a body does, each thing once, in text order.
func effects(b *design.Body) []effect {
	var list []effect
	add := func(e effect) {
		if !slices.Contains(list, e) {
			list = append(list, e)
		}
	}
	design.Visitor{Stmt: func(s design.Stmt) {
		switch s := s.(type) {
		case *design.Assign:
			if m := rootOf(s.Place); m != nil {
				add(effect{text: m.Label, member: m})
			}
		case *design.Emit:
			add(effect{text: "↑ " + s.Event.Label, member: s.Event})
		case *design.Leave:
			if s.Event != nil {
				add(effect{text: "↑ " + s.Event.Label, member: s.Event})
			} else {
				add(effect{text: "leaves"})
			}
		case *design.Clock:
			verb := "start "
			if s.Stop {
				verb = "stop "
			}
			add(effect{text: verb + s.Timer.Label, member: s.Timer})
		case *design.Send:
			add(effect{text: "send " + s.Channel.Name, channel: s.Channel})
		case *design.Ask:
			add(effect{text: "ask " + s.Operation.Service.Name + "." + s.Operation.Name})
		case *design.Open:
			add(effect{text: "open " + s.Use.Component.Name, opens: s.Use.Component})
		case *design.Do:
			if m := called(s.Fun); m != nil {
				add(effect{text: m.Label + "()", member: m})
			}
		}
	}}.Body(b)
	return list
}

// called is the member that a call calls, or nil.
func called(fun types.Expr) *design.Member {
	var m *design.Member
	switch e := fun.(type) {
	case *types.Ref:
		m, _ = e.Symbol.(*design.Member)
	case *types.Select:
		m, _ = e.Member.(*design.Member)
	}
	return m
}

// rootOf is the cell that a place is, or is a part of.
func rootOf(p *design.Place) *design.Member {
	for {
		switch root := p.Root.(type) {
		case *design.Member:
			return root
		case *design.ViewLocal:
			if root.Each == nil || root.Each.Place == nil {
				return nil
			}
			p = root.Each.Place
		default:
			return nil
		}
	}
}
