package css

import "strings"

// Truth is what is known of something: that it is not so, that it may be, that it is.
type Truth uint8

const (
	No Truth = iota
	Maybe
	Yes
)

func truth(b bool) Truth {
	if b {
		return Yes
	}
	return No
}

// Node is an element as selectors ask about it: of a page, where all is known, or of a text, where much only may be.
type Node interface {
	Tag() string // "": any
	Class(name string) Truth
	Attr(name string) (string, Truth)
	// State is a pseudo-class without brackets.
	State(name string) Truth
	// Place is which one it is among the elements around it, from 1 on: counted from the last, or only those of its tag.
	Place(last, ofTag bool) (int, Truth)
	// Around is the element around it, or nil, and whether nothing can stand between the two.
	Around() (Node, Truth)
	// Before are the elements before it in the same element, the nearest first, and whether these are they.
	Before() ([]Node, Truth)
	// Within are all elements in it, and whether these are they.
	Within() ([]Node, Truth)
	// Of says whether a component wrote it, and In whether it stands at the top of what a component was given.
	Of(component string) bool
	In(component string) bool
}

// Matches says whether a selector reaches a node. In the sheet of a component every part of it is something that the
// component wrote; scope is "" for sheets of the page.
func (s *Selector) Matches(n Node, scope string) Truth {
	return matcher{scope}.from(s.Parts, n)
}

type matcher struct{ scope string }

// from says whether the last of some compounds is the node, and those before it are around it.
func (m matcher) from(parts []*Compound, n Node) Truth {
	last := parts[len(parts)-1]
	here := m.compound(last, n)
	if here == No || len(parts) == 1 {
		return here
	}
	return min(here, m.joined(parts[:len(parts)-1], last.Joint, n))
}

func (m matcher) joined(parts []*Compound, joint byte, n Node) Truth {
	best := No
	switch joint {
	case '+', '~':
		list, known := n.Before()
		for _, b := range list {
			best = max(best, min(known, m.from(parts, b)))
			if joint == '+' && known == Yes {
				break
			}
		}
	default:
		up, direct := n.Around()
		for up != nil {
			found := m.from(parts, up)
			if joint == '>' {
				found = min(found, direct)
			}
			if best = max(best, found); best == Yes || joint == '>' {
				break
			}
			up, direct = up.Around()
		}
	}
	return best
}

func (m matcher) compound(c *Compound, n Node) Truth {
	if c.Slotted != nil {
		return m.slotted(c, n)
	}
	if m.scope != "" && !c.Nest && !n.Of(m.scope) {
		return No
	}
	sum := Yes
	if c.Tag != "" && c.Tag != "*" {
		switch n.Tag() {
		case c.Tag:
		case "": // any
			sum = Maybe
		default:
			return No
		}
	}
	for _, id := range c.IDs {
		v, known := n.Attr("id")
		sum = min(sum, test(known, v == "" || v == id))
	}
	for _, k := range c.Classes {
		sum = min(sum, n.Class(k.Text))
	}
	for _, a := range c.Attrs {
		v, known := n.Attr(a.Name)
		sum = min(sum, test(known, a.Op == "" || known == Maybe || a.holds(v)))
	}
	for _, p := range c.Pseudos {
		if sum == No {
			break
		}
		sum = min(sum, m.pseudo(p, n))
	}
	return sum
}

func test(known Truth, holds bool) Truth {
	if !holds {
		return No
	}
	return known
}

// slotted is what a component was given: at the top of it, and nothing of its own.
func (m matcher) slotted(c *Compound, n Node) Truth {
	if !n.In(m.scope) {
		return No
	}
	best := No
	for _, s := range c.Slotted {
		best = max(best, matcher{}.from(s.Parts, n))
	}
	return best
}

// holds says whether a value fits: Selectors 4, 6.
func (a AttrTest) holds(v string) bool {
	want := a.Value
	if a.AnyCase {
		v, want = strings.ToLower(v), strings.ToLower(want)
	}
	switch a.Op {
	case "=":
		return v == want
	case "~":
		for _, w := range strings.Fields(v) {
			if w == want {
				return true
			}
		}
		return false
	case "|":
		return v == want || strings.HasPrefix(v, want+"-")
	case "^":
		return want != "" && strings.HasPrefix(v, want)
	case "$":
		return want != "" && strings.HasSuffix(v, want)
	case "*":
		return want != "" && strings.Contains(v, want)
	}
	return false
}

func (m matcher) any(list []*Selector, n Node) (best Truth) {
	for _, s := range list {
		best = max(best, m.from(s.Parts, n))
	}
	return best
}

func (m matcher) pseudo(p *Pseudo, n Node) Truth {
	switch p.Name {
	case "is", "where":
		return m.any(p.Args, n)
	case "not":
		return Yes - m.any(p.Args, n)
	case "has":
		return m.has(p.Args, n)
	case "nth-child", "nth-of-type", "nth-last-child", "nth-last-of-type":
		if strings.Contains(p.Text, " of ") {
			return Maybe
		}
		at, known := n.Place(strings.Contains(p.Name, "last"), strings.HasSuffix(p.Name, "type"))
		if known != Yes {
			return Maybe
		}
		return truth(p.counts(at))
	case "first-child", "last-child", "first-of-type", "last-of-type":
		at, known := n.Place(strings.HasPrefix(p.Name, "last"), strings.HasSuffix(p.Name, "type"))
		if known != Yes {
			return Maybe
		}
		return truth(at == 1)
	case "only-child", "only-of-type":
		ofType := p.Name == "only-of-type"
		first, known := n.Place(false, ofType)
		last, _ := n.Place(true, ofType)
		if known != Yes {
			return Maybe
		}
		return truth(first == 1 && last == 1)
	}
	if p.Text != "" {
		return Maybe
	}
	return n.State(p.Name)
}

// counts says whether a place is one of An+B, with n from 0 on.
func (p *Pseudo) counts(at int) bool {
	if p.A == 0 {
		return at == p.B
	}
	n := at - p.B
	return n%p.A == 0 && n/p.A >= 0
}

// has says whether something in a node, or behind it, is reached from it.
func (m matcher) has(list []*Selector, n Node) Truth {
	below, known := n.Within()
	best := No
	for _, s := range list {
		joint := s.Parts[0].Joint
		if joint == '+' || joint == '~' {
			best = max(best, Maybe)
			continue
		}
		for _, d := range below {
			best = max(best, min(known, m.below(s.Parts, d, n)))
		}
		if known != Yes {
			best = max(best, Maybe)
		}
	}
	return best
}

// below says whether compounds reach a node from one around it.
func (m matcher) below(parts []*Compound, d, from Node) Truth {
	here := m.compound(parts[len(parts)-1], d)
	if here == No {
		return No
	}
	joint := parts[len(parts)-1].Joint
	if joint == '+' || joint == '~' {
		return Maybe
	}
	if len(parts) == 1 {
		if joint != '>' {
			return here
		}
		up, direct := d.Around()
		return min(here, direct, truth(up == from))
	}
	best := No
	for up, direct := d.Around(); up != nil && up != from; up, direct = up.Around() {
		found := m.below(parts[:len(parts)-1], up, from)
		if joint == '>' {
			found = min(found, direct)
		}
		if best = max(best, found); joint == '>' {
			break
		}
	}
	return min(here, best)
}
