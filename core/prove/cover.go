package prove

import (
	"fmt"
	"sort"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/source"
	"lien/core/story"
)

// Coverage tells how much of what can be reached the scenarios touch.
type Coverage struct {
	States    CountShare  `json:"states"`
	Handlers  Share       `json:"handlers"` // with actions, timers and ties: all that writes
	Branches  Share       `json:"branches"`
	Untouched []Untouched `json:"-"`
	Suggested []*Path     `json:"-"` // scenarios that touch the rest
}

// Share is how many of all.
type Share struct {
	Of  int `json:"of"`
	All int `json:"all"`
}

// CountShare is the same of what may be too many to count.
type CountShare struct {
	Of  int           `json:"of"`
	All explore.Count `json:"all"`
}

// Untouched is something that can be reached, and no scenario touches.
type Untouched struct {
	What string
	At   source.Span
	path *witness
}

// touched is all that was touched: bodies that ran and branches that were shown.
type touched struct {
	ran   map[source.Span]*witness
	shown map[branch]*witness
}

func newTouched() *touched {
	return &touched{map[source.Span]*witness{}, map[branch]*witness{}}
}

func (r *touched) run(at source.Span, f *witness) {
	if at.Start.Valid() && f.before(r.ran[at]) {
		r.ran[at] = f
	}
}

func (r *touched) show(e *engine.Engine, f *witness, sc *scope) {
	e.Branches(func(n design.Node, at int) {
		if !sc.sees(n) {
			return
		}
		if b := (branch{n, at}); at >= 0 && f.before(r.shown[b]) {
			r.shown[b] = f
		}
	})
}

// cover runs the scenarios, and compares what they touch with what can be
// reached.
func (p *prover) cover() *Coverage {
	if len(p.d.Scenarios) == 0 {
		return nil
	}
	c := &Coverage{}
	touched := newTouched()
	visited := make([]map[string]bool, len(p.lands))
	for _, s := range p.d.Scenarios {
		p.follow(s, touched, visited)
	}
	for i, l := range p.lands {
		c.States.All = c.States.All.Plus(l.states)
		c.States.Of += len(visited[i])
	}
	c.Handlers.All, c.Branches.All = len(p.touched.ran), len(p.touched.shown)
	for at, f := range p.touched.ran {
		if touched.ran[at] != nil {
			c.Handlers.Of++
		} else {
			c.Untouched = append(c.Untouched, Untouched{"this never runs", at, f})
		}
	}
	for b, f := range p.touched.shown {
		if touched.shown[b] != nil {
			c.Branches.Of++
		} else {
			c.Untouched = append(c.Untouched, Untouched{"this is never shown", shownSpan(b), f})
		}
	}
	sort.Slice(c.Untouched, func(i, j int) bool {
		a, b := &c.Untouched[i], &c.Untouched[j]
		if a.At.Start != b.At.Start {
			return a.At.Start < b.At.Start
		}
		return a.What < b.What
	})
	return c
}

func shownSpan(b branch) source.Span {
	if w, ok := b.node.(*design.When); ok {
		return branchSpan(w, b.at)
	}
	return b.node.(*design.Each).List.Expr.Span()
}

// follow runs one scenario, and notes what it touches.
func (p *prover) follow(s *design.Scenario, touched *touched, visited []map[string]bool) {
	here := &witness{by: atMounting}
	e := p.engine() // of the kind that the states were found with
	reader := engine.NewReader(e, p.pool, engine.Reading{Spread: p.fast})
	e.OnRun = func(at source.Span) { touched.run(at, here) }
	story.Walk(p.d, s, e, func(start *design.Start, e *engine.Engine) {
		if e.Root() == nil {
			return
		}
		touched.show(e, here, nil)
		for i, l := range p.lands {
			reader.Symmetric(l.symmetry)
			e.Within(l.slice())
			state := reader.Read()
			e.Within(nil)
			if l.start != start || !l.has(state) {
				continue
			}
			explore.Order(reader.Groups(), state.Cells)
			if visited[i] == nil {
				visited[i] = map[string]bool{}
			}
			visited[i][fmt.Sprint(state.Shape, state.Cells)] = true
		}
	})
}

// Suggest adds scenarios that touch what none does, as few as come from taking
// the first thing that is left, each time.
func (p *prover) suggest(c *Coverage) {
	left := map[source.Span]bool{}
	for _, u := range c.Untouched {
		left[u.At] = true
	}
	for _, u := range c.Untouched {
		if !left[u.At] {
			continue
		}
		ids := p.idsOf(u.path)
		path := p.replay(u.path.search, ids)
		c.Suggested = append(c.Suggested, path)
		touched := newTouched()
		p.retrace(u.path.search, ids, touched)
		delete(left, u.At)
		for at := range touched.ran {
			delete(left, at)
		}
		for b := range touched.shown {
			delete(left, shownSpan(b))
		}
	}
}

// retrace takes a way again, and notes what it touches.
func (p *prover) retrace(x *search, ids []int, touched *touched) {
	w := newWorker(newReplay(x))
	w.now.by = onTheWay
	here := &witness{by: atMounting}
	w.e.OnTurn = nil
	w.e.OnRun = func(at source.Span) { touched.run(at, here) }
	if _, err := w.e.Mount(x.start); err != nil {
		return
	}
	for _, id := range ids {
		list := w.e.Causes(w.samples)
		w.e.Do(&list[id])
		touched.show(w.e, here, nil)
	}
}

// idsOf is the way to what was found.
func (p *prover) idsOf(f *witness) []int {
	if f.by == atMounting {
		return nil
	}
	ids := append(f.search.Table.Path(f.from), f.by)
	if f.search.symmetry != nil {
		return f.search.real(ids)
	}
	return ids
}
