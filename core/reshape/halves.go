package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
)

// Components of several halves: parts of a view that share no state.

// fewLines is up to how many line ends a part is no component of its own.
const fewLines = 3

// halves advises to cut out a part of a view that has cells of its own, and nothing in common with the rest.
func (a *adviser) halves(c *design.Component) {
	v := viewOf(c.Syntax)
	if v == nil || cellsOf(c) < 2 {
		return
	}
	items := v.Body
	for len(items) == 1 { // inside of what is around all
		el, ok := items[0].(*syntax.Element)
		if !ok || a.d.Component(el.Name.Text) != nil {
			return
		}
		items = el.Body
	}
	for _, run := range ownRuns(c, items) {
		if el, ok := run[0].(*syntax.Element); ok && len(run) == 1 && a.d.Component(el.Name.Text) != nil {
			continue // a component already
		}
		if end := run[len(run)-1].Span().End; strings.Count(a.d.Text(source.Span{Start: run[0].Span().Start, End: end}), "\n") < fewLines {
			continue
		}
		at := a.d.Set.Position(run[0].Span().Start)
		last := a.d.Set.Position(run[len(run)-1].Span().Start)
		x := &extraction{draft: &draft{d: a.d, graph: a.graph}, o: ExtractOptions{File: at.File, From: at.Line, To: last.Line}, events: map[string]*reported{}, moving: map[*design.Member]bool{}}
		if x.prepare() != nil || !slices.Equal(x.items, run) || len(x.takes)+len(x.shares)+len(x.events) > 0 || x.cells() == 0 || x.cells() == cellsOf(c) {
			continue
		}
		command := fmt.Sprintf("lien extract %s:%d", at.File, at.Line)
		if last.Line > at.Line {
			command += fmt.Sprintf("-%d", last.Line)
		}
		a.list = append(a.list, Advice{at, fmt.Sprintf("this part of %s shares nothing with the rest", c.Name), 0, command})
		return // what is left may be looked at then
	}
}

func cellsOf(c *design.Component) (n int) {
	for _, m := range c.Members {
		if m.Kind == design.Holds {
			n++
		}
	}
	return n
}

// cells counts those that move.
func (x *extraction) cells() (n int) {
	for _, m := range x.order {
		if m.Kind == design.Holds {
			n++
		}
	}
	return n
}

// ownRuns are items that stand side by side and have in common what no other item has.
func ownRuns(c *design.Component, items []syntax.Item) (runs [][]syntax.Item) {
	reach := make([]map[*design.Member]bool, len(items))
	for i, it := range items {
		reach[i] = reached(c, it)
	}
	for from := range items {
		if len(reach[from]) == 0 {
			continue
		}
		to := from + 1
		for to < len(items) && (meets(reach[from:to], reach[to]) || len(reach[to]) == 0 && to+1 < len(items) && meets(reach[from:to], reach[to+1])) {
			to++
		}
		outside := append(slices.Clone(reach[:from]), reach[to:]...)
		own := true
		for _, r := range reach[from:to] {
			own = own && !meets(outside, r)
		}
		if own && to-from < len(items) {
			runs = append(runs, items[from:to])
		}
	}
	return runs
}

// meets says whether one of several sets has a member of another.
func meets(list []map[*design.Member]bool, with map[*design.Member]bool) bool {
	for _, set := range list {
		for m := range with {
			if set[m] {
				return true
			}
		}
	}
	return false
}

// reached are the cells that an item reads or changes, itself or by what it calls and reads.
func reached(c *design.Component, it syntax.Item) map[*design.Member]bool {
	cells, seen := map[*design.Member]bool{}, map[*design.Member]bool{}
	var in func(n syntax.Node)
	in = func(n syntax.Node) {
		walk := &scopes{visit: func(n *syntax.Name, _ bool) {
			m := c.Member(n.Text)
			if m == nil || seen[m] {
				return
			}
			seen[m] = true
			if m.IsCell() {
				cells[m] = true
				return
			}
			in(m.Syntax)
		}}
		walk.node(n, names{})
	}
	in(it)
	return cells
}
