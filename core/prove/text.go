package prove

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/source"
)

// blind is what no search can visit whole: all texts and numbers that could be
// typed, where a design does more with them than to store, show and compare
// them with what is known; and the time of day.
type blind struct {
	texts, numbers []source.Span // where more is done
	keys           []source.Span // the same with keys that are pressed
	clock          bool
	times          *flow.Taint
	asks           []*design.Body    // that ask for the time
	fields         []*design.Element // for texts
	counters       []*design.Element // for numbers
	keyed          []*design.Element // that hear keys
	unmade         []unmade          // gestures
	uncalled       []*design.Member  // that roots offer, and that take values
}

func blindIn(g *flow.Graph) *blind {
	d, pairs := g.Design, pairsKeys(g.Design)
	b := &blind{texts: g.Open(false), numbers: g.Open(true), keys: g.OpenKeys(), times: g.Clock()}
	design.Visitor{Node: func(n design.Node) {
		el, ok := n.(*design.Element)
		if ok && flow.HearsKeys(el) {
			b.keyed = append(b.keyed, el)
		}
		if ok {
			b.unmade = append(b.unmade, unmadeOn(el, pairs)...)
		}
		switch {
		case ok && flow.IsText(el):
			b.fields = append(b.fields, el)
			for _, a := range el.Attrs {
				if a.Name == "pattern" { // which takes some texts and not others
					b.texts = append(b.texts, a.Unit.Expr.Span())
				}
			}
		case ok && flow.IsNumber(el):
			b.counters = append(b.counters, el)
		}
	}, Effect: func(e design.Effect) { b.clock = b.clock || e.Kind == design.Tells }}.Design(d)
	for _, s := range d.Starts {
		for _, m := range s.Root.Members {
			if m.Kind == design.Action && m.Offered && len(m.Sig) > 0 && !slices.Contains(b.uncalled, m) {
				b.uncalled = append(b.uncalled, m)
			}
		}
	}
	d.Bodies(func(body *design.Body) {
		asks := false
		design.Visitor{Effect: func(e design.Effect) { asks = asks || e.Kind == design.Tells }}.Body(body)
		if asks {
			b.asks = append(b.asks, body)
		}
	})
	return b
}

// unmade is a handler of a gesture that no proof makes, and what that would be.
type unmade struct {
	how  string // it would be made
	what string // is made; or "", where how says all
	h    *design.Handler
}

// unmadeOn are those on an element. What goes down and comes up again matters where both are heard.
func unmadeOn(el *design.Element, pairs bool) (list []unmade) {
	for _, h := range el.Handlers {
		switch {
		case !engine.Makes(h.Name):
			list = append(list, unmade{"makes", h.Name, h})
		case h.Name == "dragenter" || h.Name == "dragleave":
			list = append(list, unmade{"drags over one thing and on to another, or what comes from outside the page", "", h})
		case engine.DragsElse(h.Name):
			list = append(list, unmade{"drags text that is selected, or what comes from outside the page", "", h})
		case flow.HoldsUnmade(h):
			list = append(list, unmade{"holds keys down while the mouse moves or drags", "", h})
		case pairs && h.Name == "keyup":
			list = append(list, unmade{"holds a key down while something else comes", "", h})
		case h.Name == "cancel" && prevents(h.Body):
			list = append(list, unmade{fmt.Sprintf("presses Escape once more after it was prevented %d times", engine.MostPrevented), "", h})
		}
	}
	return list
}

func prevents(b *design.Body) (does bool) {
	design.Visitor{Stmt: func(s design.Stmt) {
		p, ok := s.(*design.Prevent)
		does = does || ok && !p.Stop
	}}.Body(b)
	return does
}

// pairsKeys says whether a design hears both that keys go down and that they come up.
func pairsKeys(d *design.Design) bool {
	heard := map[string]bool{}
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			for _, h := range el.Handlers {
				heard[h.Name] = true
			}
		}
	}}.Design(d)
	return heard["keyup"] && (heard["keydown"] || heard["keypress"])
}

// unheard names the gestures that no proof makes, and where they are heard.
func (b *blind) unheard(p *prover) (list []string) {
	at := map[string][]source.Span{}
	whats := map[string]map[string]bool{}
	for _, u := range b.unmade {
		if whats[u.how] == nil {
			whats[u.how] = map[string]bool{}
		}
		at[u.how], whats[u.how][u.what] = append(at[u.how], u.h.Body.At), true
	}
	for _, how := range slices.Sorted(maps.Keys(at)) {
		made := strings.TrimSpace(how + " " + strings.Join(slices.Sorted(maps.Keys(whats[how])), " or "))
		list = append(list, fmt.Sprintf("gestures: no proof %s, which %s", made, p.places(at[how], "hears", "hear")))
	}
	return list
}

// tell names what was not looked at.
func (b *blind) tell(p *prover) (list []string) {
	if len(b.texts) > 0 {
		list = append(list, fmt.Sprintf("samples: texts other than those typed, since %s more with them than to compare them with what is known", p.places(b.texts, "does", "do")))
	}
	if len(b.numbers) > 0 {
		list = append(list, fmt.Sprintf("samples: other numbers than those set, since %s more with them than to compare them with what is known", p.places(b.numbers, "does", "do")))
	}
	if len(b.keys) > 0 {
		list = append(list, fmt.Sprintf("samples: other keys than those pressed, since %s more with them than to compare them with what is known", p.places(b.keys, "does", "do")))
	}
	if len(b.unmade) > 0 {
		list = append(list, b.unheard(p)...)
	}
	for _, m := range b.uncalled {
		list = append(list, fmt.Sprintf("calls: no proof calls %s.%s, which takes values", m.Owner.Name, m.Label))
	}
	if b.clock {
		list = append(list, "clock: now() reads the same throughout")
	}
	return list
}

// any says whether there is anything of that.
func (b *blind) any() bool {
	return len(b.texts)+len(b.numbers)+len(b.keys)+len(b.unmade)+len(b.uncalled) > 0 || b.clock
}

// leadsOn says whether some of what no search does may change something where nothing
// else does.
func (b *blind) leadsOn() bool { return len(b.unmade)+len(b.uncalled)+len(b.keys) > 0 }

// touches says whether any of that matters to a slice.
func (b *blind) touches(s *flow.Slice, d *design.Design) bool {
	hears := func(list []*design.Element) bool {
		for _, el := range list {
			if s.Hears(el) {
				return true
			}
		}
		return false
	}
	if len(b.texts) > 0 && hears(b.fields) || len(b.numbers) > 0 && hears(b.counters) || len(b.keys) > 0 && hears(b.keyed) {
		return true
	}
	if slices.ContainsFunc(b.asks, s.Body) || slices.ContainsFunc(b.unmade, func(u unmade) bool { return s.Body(u.h.Body) }) ||
		slices.ContainsFunc(b.uncalled, func(m *design.Member) bool { return s.Body(m.Body) }) {
		return true
	}
	if b.clock {
		for _, c := range d.Components {
			for _, m := range c.Members {
				if b.times.Holds(m) && s.Has(m) {
					return true
				}
			}
		}
	}
	return false
}

// places names the first of some places, and how many others there are, with what one
// does, or several do.
func (p *prover) places(at []source.Span, does, do string) string {
	first := p.d.Set.Position(at[0].Start).String()
	if len(at) == 1 {
		return first + " " + does
	}
	return fmt.Sprintf("%s and %s %s", first, finding.Count(len(at)-1, "other place"), do)
}
