package draw

import (
	"slices"

	"lien/core/design"
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
	design.Visitor{Enter: notOpened, Effect: func(e design.Effect) {
		switch e.Kind {
		case design.Writes:
			if m := e.Cell(); m != nil {
				add(effect{text: m.Label, member: m})
			}
		case design.Reports:
			add(effect{text: "↑ " + e.Event.Label, member: e.Event})
		case design.Leaves:
			if e.Event == nil {
				add(effect{text: "leaves"})
			}
		case design.Starts:
			add(effect{text: "start " + e.Event.Label, member: e.Event})
		case design.Stops:
			add(effect{text: "stop " + e.Event.Label, member: e.Event})
		case design.Sends:
			add(effect{text: "send " + e.Channel.Name, channel: e.Channel})
		case design.Asks:
			add(effect{text: "ask " + e.Operation.Service.Name + "." + e.Operation.Name})
		case design.Opens:
			add(effect{text: "open " + e.Use.Component.Name, opens: e.Use.Component})
		case design.Calls:
			if m := e.Called(); m != nil && m.Kind != design.Derives {
				add(effect{text: m.Label + "()", member: m})
			}
		}
	}}.Body(b)
	return list
}

// notOpened keeps a walk out of what is opened, whose handlers have rows of
// their own.
func notOpened(s design.Stmt) bool {
	_, opens := s.(*design.Open)
	return !opens
}
