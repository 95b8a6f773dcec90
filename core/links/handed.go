package links

import (
	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
)

// handed is what names stand for that statements and slots give values to: parameters, constants of
// handlers, what a fill receives, an open component its links. It is worked out before the links are,
// since a call may stand before or after what it calls.
type handed struct {
	values map[types.Symbol][]types.Expr
	slots  map[types.Symbol]*slotted
}

// slotted is a value that a slot hands out, as a fill receives it.
type slotted struct {
	owner *design.Component
	slot  *design.SlotPlace
	value types.Expr
	at    source.Span
}

// message is what an event that is reported carries, or what is sent over a channel.
type message struct {
	event   *design.Member
	channel *design.Channel
	args    []types.Expr
}

func handedIn(d *design.Design) *handed {
	h := &handed{values: map[types.Symbol][]types.Expr{}, slots: map[types.Symbol]*slotted{}}
	heard, told := map[*design.Member][]*design.Body{}, map[*design.Channel][]*design.Body{}
	hears := func(u *design.Use) {
		for _, x := range u.Handlers {
			heard[x.Event] = append(heard[x.Event], x.Body)
		}
	}
	for _, c := range d.Components {
		for _, m := range c.Members {
			for _, x := range m.Hears {
				heard[x.Event] = append(heard[x.Event], x.Body)
			}
		}
		for _, s := range c.Supplies {
			hears(s.Use)
		}
		for _, x := range c.Hearings {
			told[x.Channel] = append(told[x.Channel], x.Body)
		}
	}
	var sent []message // to whom is known when all has been seen
	design.Visitor{
		Node: func(n design.Node) {
			if u, ok := n.(*design.Use); ok {
				hears(u)
				h.fills(u)
			}
		},
		Stmt: func(s design.Stmt) {
			switch s := s.(type) {
			case *design.Let:
				h.give(s.Local, s.Value)
			case *design.For:
				h.give(s.Local, s.List)
			}
		},
		Effect: func(e design.Effect) {
			switch e.Kind {
			case design.Calls:
				if m := e.Called(); m != nil && m.Body != nil {
					h.params(m.Body.Params, e.Args)
				}
			case design.Reports, design.Sends:
				if len(e.Args) > 0 {
					sent = append(sent, message{e.Event, e.Channel, e.Args})
				}
			case design.Opens:
				hears(e.Use)
			case design.Starts:
				if e.Event.Body != nil {
					h.params(e.Event.Body.Params, e.Args)
				}
			}
		},
	}.Design(d)
	for _, s := range sent {
		list := heard[s.event]
		if s.channel != nil {
			list = told[s.channel]
		}
		for _, b := range list {
			h.params(b.Params, s.args)
		}
	}
	return h
}

func (h *handed) give(to types.Symbol, x types.Expr) { h.values[to] = append(h.values[to], x) }

func (h *handed) params(params []*types.Local, args []types.Expr) {
	for i, p := range params {
		if i < len(args) {
			h.give(p, args[i])
		}
	}
}

func (h *handed) fills(u *design.Use) {
	for _, f := range u.Fills {
		for _, s := range u.Component.Slots {
			if s.Name != f.Name {
				continue
			}
			for _, p := range f.Params {
				if p.Slot < len(s.Data) {
					h.slots[p] = &slotted{u.Component, s, s.Data[p.Slot].Expr, s.Span()}
				}
			}
		}
	}
}

// action is the action that a slot hands out under a name, or nil.
func (h *handed) action(s types.Symbol) (*design.Member, *slotted) {
	handed := h.slots[s]
	if handed == nil {
		return nil, nil
	}
	ref, ok := handed.value.(*types.Ref)
	if !ok {
		return nil, nil
	}
	m, ok := ref.Symbol.(*design.Member)
	if !ok {
		return nil, nil
	}
	return m, handed
}

func (s *slotted) hop(name string) Hop {
	slot := "slot"
	if s.slot.Name != "" {
		slot += " " + s.slot.Name
	}
	return Hop{"slot", slot + " hands out " + name, s.owner.Name, s.at}
}
