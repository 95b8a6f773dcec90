package compare

import (
	"fmt"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Contract is what changed of what a component promises to those who use it.
type Contract struct {
	Component string
	Sign      Sign // of the component itself; Changed where it is in both
	Changes   []*Change
	Users     []source.Span // where it is used in the design before, as far as they may break
}

// Sign tells how something changed.
type Sign string

// The signs.
const (
	New     Sign = "new"
	Gone    Sign = "gone"
	Changed Sign = "changed"
)

// Change is one promise that is new, gone or another one.
type Change struct {
	Sign   Sign
	Was    string // as it is written; "" where it is new
	Is     string // "" where it is gone
	Breaks string // why it breaks a use of the component as it was; "" where it does not
}

// Breaks says whether any use of the component as it was is broken.
func (c *Contract) Breaks() bool {
	for _, ch := range c.Changes {
		if ch.Breaks != "" {
			return true
		}
	}
	return false
}

// promise is one thing that a component takes, reports or offers.
type promise struct {
	key  string // by which it is found in the other design
	text string // as it is written
	m    *design.Member
}

// Contracts tells what changed, component by component, by their names.
func Contracts(before, after *design.Design) (out []*Contract) {
	g := links.Of(before)
	for _, a := range before.Components {
		b := after.Component(a.Name)
		c := &Contract{Component: a.Name, Sign: Changed}
		if b == nil {
			c.Sign = Gone
			c.Changes = []*Change{{Gone, kindOf(a) + " " + a.Name, "", "it is gone"}}
		} else {
			c.compare(promisesOf(a), promisesOf(b))
		}
		if len(c.Changes) == 0 {
			continue
		}
		if c.Breaks() {
			for _, u := range g.Uses[a] {
				c.Users = append(c.Users, u.Node.Syntax.Name.Span())
			}
		}
		out = append(out, c)
	}
	for _, b := range after.Components {
		if before.Component(b.Name) == nil {
			out = append(out, &Contract{Component: b.Name, Sign: New, Changes: []*Change{{New, "", kindOf(b) + " " + b.Name, ""}}})
		}
	}
	return out
}

func kindOf(c *design.Component) string {
	if c.IsContext {
		return "context"
	}
	return "component"
}

func (c *Contract) compare(was, is []promise) {
	left := map[string]promise{}
	for _, p := range is {
		left[p.key] = p
	}
	for _, a := range was {
		b, ok := left[a.key]
		delete(left, a.key)
		switch {
		case !ok:
			c.Changes = append(c.Changes, &Change{Gone, a.text, "", gone(a)})
		case a.text != b.text:
			c.Changes = append(c.Changes, &Change{Changed, a.text, b.text, changed(a, b)})
		}
	}
	for _, b := range is {
		if _, ok := left[b.key]; ok {
			c.Changes = append(c.Changes, &Change{New, "", b.text, added(b)})
		}
	}
}

// gone says why a promise that is gone breaks a use.
func gone(p promise) string {
	switch word, _, _ := strings.Cut(p.key, " "); word {
	case "takes", "shares":
		return "who links it links it to nothing"
	case "emits":
		return "who hears it hears it no more"
	case "offers":
		return "who calls or reads it finds nothing"
	case "slot":
		return "content for it has no place"
	case "supplies":
		return "what is inside misses the context"
	}
	return ""
}

// added says why a new promise breaks a use: it asks for something that no use gives.
func added(p promise) string {
	switch {
	case p.m == nil:
		return ""
	case p.m.Kind == design.Takes && p.m.Syntax != nil && p.m.Syntax.(*syntax.Cell).Value == nil:
		return "no use gives it, and it has no default"
	case p.m.Kind == design.Used && !types.Nullable(p.m.Type()):
		return "it needs the context around it"
	}
	return ""
}

// changed says why a promise of another shape breaks a use.
func changed(a, b promise) string {
	if a.m == nil || b.m == nil {
		return "what it hands out is another"
	}
	switch a.m.Kind {
	case design.Takes:
		if !types.Assignable(a.m.Type(), b.m.Type()) {
			return "what fitted need not fit any more"
		}
		return defaults(a.m, b.m)
	case design.Shares:
		if !types.Identical(a.m.Type(), b.m.Type()) {
			return "a tie needs the same type"
		}
	case design.Emits:
		if len(a.m.Sig) > len(b.m.Sig) {
			return "it carries less"
		}
		for i, p := range a.m.Sig {
			if !types.Assignable(b.m.Sig[i].Read(), p.Read()) {
				return "what it carries need not fit any more"
			}
		}
	default:
		return "it has another type"
	}
	return ""
}

func defaults(a, b *design.Member) string {
	has := func(m *design.Member) bool {
		c, ok := m.Syntax.(*syntax.Cell)
		return !ok || c.Value != nil
	}
	if has(a) && !has(b) {
		return "it has no default any more"
	}
	return ""
}

// promisesOf are what a component promises, in the order of its text.
func promisesOf(c *design.Component) (list []promise) {
	for _, m := range c.Members {
		t := ""
		if m.Kind == design.Takes || m.Kind == design.Shares || m.Offered {
			t = ": " + m.Type().String()
		}
		switch {
		case m.Kind == design.Takes && !m.Implied:
			text := "takes " + m.Label + t
			if cell, ok := m.Syntax.(*syntax.Cell); ok && cell.Value != nil {
				text += " = ..."
			}
			list = append(list, promise{"takes " + m.Label, text, m})
		case m.Kind == design.Shares:
			list = append(list, promise{"shares " + m.Label, "shares " + m.Label + t, m})
		case m.Kind == design.Emits:
			m.Type()
			list = append(list, promise{"emits " + m.Label, "emits " + m.Label + types.Params(m.Sig), m})
		case m.Kind == design.Used:
			mark := ""
			if types.Nullable(m.Type()) {
				mark = "?"
			}
			list = append(list, promise{"uses " + m.Context.Name, "uses " + m.Context.Name + mark, m})
		case m.Kind == design.Supplied:
			list = append(list, promise{"supplies " + m.Context.Name, "supplies " + m.Context.Name, m})
		}
		if m.Offered {
			list = append(list, promise{"offers " + m.Label, "offers " + m.Label + t, m})
		}
	}
	for _, s := range c.Slots {
		names := append([]string(nil), s.Names...)
		sort.Strings(names)
		text := strings.TrimSpace("slot " + s.Name)
		if len(names) > 0 {
			text += fmt.Sprintf("(%s)", strings.Join(names, ", "))
		}
		list = append(list, promise{"slot " + s.Name, text, nil})
	}
	return list
}
