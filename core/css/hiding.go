package css

import (
	"slices"
	"strings"
)

// Hiding are the rules of some sheets that decide whether elements are shown: those that set display or visibility. The
// rest of a sheet makes no difference to what a page does.
type Hiding struct {
	rules  []*hidingRule
	layers []string // in the order in which they come first; later ones win
}

type hidingRule struct {
	selector   *Selector
	scope      string
	weight     int
	order      int
	layer      string   // "" where it is in none
	media      []*Item  // that it stands in
	properties []*Item  // display and visibility
	unseen     []string // what it depends on that is not looked at
}

// Add adds a sheet: of a component by its name, or with "" of the page. Later sheets win over earlier ones.
func (h *Hiding) Add(s *Sheet, scope string) {
	s.Each(func(it *Item, around []*Item) {
		if it.Kind == AtRule && strings.EqualFold(it.Name, "layer") {
			for _, name := range strings.Split(plain(it.Head), ",") {
				h.layer(layerOf(append(around[:len(around):len(around)], &Item{Kind: AtRule, Name: "layer", Head: tokens(strings.TrimSpace(name)), Start: it.Start})))
			}
		}
		if it.Kind != Rule {
			return
		}
		hides := hidesIn(it)
		for _, inner := range it.Items { // @media in a rule holds declarations of that rule
			if inner.Kind == AtRule && groups(inner.Name) {
				if more := hidesIn(inner); len(more) > 0 {
					h.rule(it, append(around[:len(around):len(around)], inner), around, scope, more)
				}
			}
		}
		if len(hides) > 0 {
			h.rule(it, around, around, scope, hides)
		}
	})
}

func hidesIn(it *Item) (list []*Item) {
	for _, d := range it.Items {
		if name := strings.ToLower(d.Name); d.Kind == Declaration && (name == "display" || name == "visibility") {
			list = append(list, d)
		}
	}
	return list
}

func (h *Hiding) rule(it *Item, conditions, around []*Item, scope string, hides []*Item) {
	r := hidingRule{scope: scope, properties: hides, layer: layerOf(conditions)}
	h.layer(r.layer)
	for _, o := range conditions {
		if o.Kind != AtRule {
			continue
		}
		switch name := strings.ToLower(o.Name); name {
		case "media":
			r.media = append(r.media, o)
		case "layer", "supports":
		default:
			r.unseen = append(r.unseen, "@"+name)
		}
	}
	for _, s := range it.Whole(around) {
		if last := s.Parts[len(s.Parts)-1]; last.Inner != "" && last.Slotted == nil {
			continue // a pseudo-element is not what it belongs to
		}
		one := r
		one.selector, one.weight, one.order = s, s.Specificity(), len(h.rules)
		h.rules = append(h.rules, &one)
	}
}

// layerOf is the name of the layer that something stands in: CSS Cascade 5, 6.4.
func layerOf(around []*Item) string {
	name := ""
	for _, o := range around {
		if o.Kind == AtRule && strings.EqualFold(o.Name, "layer") {
			own := plain(o.Head)
			if own == "" {
				own = "#" + string(rune(o.Start))
			}
			name = strings.TrimPrefix(name+"."+own, ".")
		}
	}
	return name
}

func (h *Hiding) layer(name string) {
	if name != "" && !slices.Contains(h.layers, name) {
		h.layers = append(h.layers, name)
	}
}

// Any says whether there are such rules.
func (h *Hiding) Any() bool { return h != nil && len(h.rules) > 0 }

// Hides says whether some rule keeps something from being shown, or may.
func (h *Hiding) Hides() bool {
	return slices.ContainsFunc(h.rules, func(r *hidingRule) bool {
		return slices.ContainsFunc(r.properties, func(d *Item) bool {
			switch v := d.Value(); v {
			case "none", "hidden", "collapse":
				return true
			default:
				return strings.Contains(v, "var(")
			}
		})
	})
}

// Reaches says whether some rule may reach a node.
func (h *Hiding) Reaches(n Node) bool {
	return slices.ContainsFunc(h.rules, func(r *hidingRule) bool { return r.selector.Matches(n, r.scope) != No })
}

// Plain says whether the rules ask for nothing but the tags, classes and attributes of elements and of those around them.
func (h *Hiding) Plain() bool {
	return h == nil || !slices.ContainsFunc(h.rules, func(r *hidingRule) bool { return !r.selector.plain() })
}

func (s *Selector) plain() bool {
	for _, c := range s.Parts {
		if c.Joint == '+' || c.Joint == '~' || slices.ContainsFunc(c.Slotted, func(a *Selector) bool { return !a.plain() }) {
			return false
		}
		for _, p := range c.Pseudos {
			switch p.Name {
			case "is", "where", "not":
				if slices.ContainsFunc(p.Args, func(a *Selector) bool { return !a.plain() }) {
					return false
				}
			default:
				return false
			}
		}
	}
	return true
}

// Asks says whether one of some pseudo-classes decides.
func (h *Hiding) Asks(names ...string) (asks bool) {
	if h == nil {
		return false
	}
	for _, r := range h.rules {
		r.selector.pseudos(func(p *Pseudo) { asks = asks || slices.Contains(names, p.Name) })
	}
	return asks
}

// Unseen is what decides about such rules and is not looked at: at-rules and pseudo-classes, without doubles.
func (h *Hiding) Unseen(known func(pseudo string) bool) (list []string) {
	add := func(s string) {
		if !slices.Contains(list, s) {
			list = append(list, s)
		}
	}
	for _, r := range h.rules {
		for _, u := range r.unseen {
			add(u)
		}
		for _, m := range r.media {
			if Usual().Shows(m.Head) == Maybe {
				add("@media " + plain(m.Head))
			}
		}
		r.selector.pseudos(func(p *Pseudo) {
			switch {
			case !known(p.Name):
				add(":" + p.Name)
			case strings.Contains(p.Text, " of ") && strings.HasPrefix(p.Name, "nth"):
				add(":" + p.Name + "(" + p.Text + ")")
			}
		})
	}
	slices.Sort(list)
	return list
}

func (s *Selector) pseudos(visit func(*Pseudo)) {
	for _, c := range s.Parts {
		for _, p := range c.Pseudos {
			visit(p)
			for _, a := range p.Args {
				a.pseudos(visit)
			}
		}
		for _, a := range c.Slotted {
			a.pseudos(visit)
		}
	}
}

// Of is what the sheets say of a property of an element, and whether it is important; "" where they say nothing. What
// only may hold is taken as not holding.
func (h *Hiding) Of(n Node, property string, screen Screen) (value string, important bool) {
	var best *hidingRule
	for _, r := range h.rules {
		v, isImportant, ok := r.says(property)
		if !ok || best != nil && !h.beats(r, isImportant, best, important) || !r.holds(screen) || r.selector.Matches(n, r.scope) != Yes {
			continue
		}
		best, value, important = r, v, isImportant
	}
	return value, important
}

// says is what a rule says of a property: the last of its declarations, or the last important one.
func (r *hidingRule) says(property string) (value string, important, ok bool) {
	for _, d := range r.properties {
		if strings.EqualFold(d.Name, property) && (d.Important || !important) {
			value, important, ok = d.Value(), d.Important, true
		}
	}
	return value, important, ok
}

func (r *hidingRule) holds(screen Screen) bool {
	if len(r.unseen) > 0 {
		return false
	}
	for _, m := range r.media {
		if screen.Shows(m.Head) != Yes {
			return false
		}
	}
	return true
}

// beats says whether one rule wins over another, of which it comes behind: CSS Cascade 5, 6.1.
func (h *Hiding) beats(a *hidingRule, aImportant bool, b *hidingRule, bImportant bool) bool {
	if aImportant != bImportant {
		return aImportant
	}
	if x, y := h.rank(a.layer), h.rank(b.layer); x != y {
		return x > y != aImportant
	}
	return a.weight >= b.weight
}

// rank is the place of a layer in their order; what is in none comes last.
func (h *Hiding) rank(layer string) int {
	if i := slices.Index(h.layers, layer); i >= 0 {
		return i
	}
	return len(h.layers)
}
