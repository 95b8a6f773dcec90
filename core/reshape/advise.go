package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
)

// Advice is where state would live better.
type Advice struct {
	At      source.Position
	Why     string // the evidence
	Saves   int    // how many links and reports go
	Command string // that does it
}

// Advise says where state would live better, what saves most first. Only what an edit makes of the design without
// a refusal is advised.
func Advise(d *design.Design, reload Reload) []Advice {
	a := &adviser{d: d, graph: links.Of(d), reload: reload, before: linksIn(d)}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Holds && !c.IsContext {
				a.cell(m)
			}
		}
		if c.IsContext {
			a.nextDoor(c)
		} else {
			a.halves(c)
		}
	}
	a.repeated()
	slices.SortStableFunc(a.list, func(x, y Advice) int { return y.Saves - x.Saves })
	return a.list
}

type adviser struct {
	d      *design.Design
	graph  *links.Graph
	reload Reload
	before int
	list   []Advice
}

// linksIn counts the links and handlers of a design.
func linksIn(d *design.Design) (n int) {
	for _, f := range d.Files {
		for _, decl := range f.Decls {
			syntax.Walk(decl, func(x syntax.Node) bool {
				switch x := x.(type) {
				case *syntax.Link:
					n++
				case *syntax.Event:
					n++
				case *syntax.Emits:
					n++
				case *syntax.Cell:
					if x.Kind == "takes" {
						n++
					}
				}
				return true
			})
		}
	}
	return n
}

// cell tries what a cell could do: be held by the only part that needs it, or be supplied.
func (a *adviser) cell(m *design.Member) {
	name := m.Owner.Name + "." + m.Label
	low := &lowering{draft: &draft{d: a.d, graph: a.graph}, m: m}
	if low.findChild() == nil && low.nobodyElse() == nil {
		if res, err := Lower(a.d, m, "", a.reload); err == nil {
			a.add(m, res, fmt.Sprintf("only %s reads and changes %s, which %s holds", low.child.Owner.Name, m.Label, m.Owner.Name), "lien lower "+name)
			return
		}
	}
	s := newSupplying(a.d, []*design.Member{m}, "it")
	s.graph = a.graph
	if s.possible() != nil {
		return
	}
	s.gather()
	s.spread()
	through := s.onlyThrough()
	if len(through) == 0 {
		return
	}
	called := design.ContextName(m)
	if res, err := Supply(a.d, []*design.Member{m}, called, a.reload); err == nil && a.before-linksIn(res.Design) >= fewLinks {
		do := "do"
		if len(through) == 1 {
			do = "does"
		}
		a.add(m, res, fmt.Sprintf("%s is handed through %s, which %s nothing with it", m.Label, strings.Join(through, ", "), do), "lien supply "+name+" --as "+called)
	}
}

// fewLinks is from how many links on a context is less to read than what it saves.
const fewLinks = 4

// onlyThrough are the components that only hand the cells on.
func (s *supplying) onlyThrough() (names []string) {
	s.rewrite()
	for _, c := range s.d.Components {
		if c != s.owner && !s.speaks[c] && len(s.values[c])+len(s.events[c]) > 0 {
			names = append(names, c.Name)
		}
	}
	return names
}

func (a *adviser) add(m *design.Member, res *Result, why, command string) {
	saves := a.before - linksIn(res.Design)
	if saves > 0 {
		a.list = append(a.list, Advice{a.d.Set.Position(m.Pos()), why, saves, command})
	}
}

// nextDoor finds a context that one component alone uses, right below its supplier.
func (a *adviser) nextDoor(c *design.Component) {
	var cell *design.Member
	for _, m := range c.Members {
		if cell == nil && m.IsCell() {
			cell = m
		}
	}
	if cell == nil {
		return
	}
	as := AsReport
	if cell.Kind == design.Shares { // whoever uses it may tie it
		as = AsTie
	}
	h := newHanding(a.d, c, as)
	h.uses = a.graph.Uses
	if h.prepare(cell) != nil || len(h.wants) != 1 {
		return
	}
	for user := range h.wants {
		if res, err := Relink(a.d, cell, as, "", a.reload); err == nil {
			why := fmt.Sprintf("only %s, right below %s, uses %s", user.Name, h.supplier.Name, c.Name)
			a.list = append(a.list, Advice{a.d.Set.Position(c.Syntax.Start), why, max(0, a.before-linksIn(res.Design)), fmt.Sprintf("lien relink %s.%s --as %s", c.Name, cell.Label, as)})
		}
	}
}

// repeated finds parts of views that are written several times, the largest of each.
func (a *adviser) repeated() {
	seen := map[string]source.Pos{}
	told := map[string]bool{}
	for _, f := range a.d.Files {
		for _, decl := range f.Decls {
			syntax.Walk(decl, func(n syntax.Node) bool {
				el, ok := n.(*syntax.Element)
				if !ok {
					return true
				}
				text := strings.Join(strings.Fields(f.Source.Slice(el.Start, el.Stop)), " ")
				if len(text) < longPart || strings.Contains(el.Name.Text, "-") {
					return true
				}
				first, again := seen[text]
				if !again {
					seen[text] = el.Start
					return true
				}
				if !told[text] {
					told[text] = true
					a.again(el, first)
				}
				return false
			})
		}
	}
}

// longPart is from how many characters on a part that is written twice is worth a component.
const longPart = 60

// again advises to cut a part out once for all its places, where that can be done.
func (a *adviser) again(el *syntax.Element, first source.Pos) {
	at := a.d.Set.Position(first)
	x := &extraction{draft: &draft{d: a.d, graph: a.graph}, o: ExtractOptions{File: at.File, From: at.Line, All: true}, events: map[string]*reported{}, moving: map[*design.Member]bool{}}
	if x.prepare() != nil || x.items[0].Span().Start != first || len(x.elsewhere()) == 0 {
		return
	}
	why := fmt.Sprintf("this %s is written again at %s", el.Name.Text, a.d.Set.Position(el.Start))
	a.list = append(a.list, Advice{at, why, 0, fmt.Sprintf("lien extract %s:%d --all", at.File, at.Line)})
}
