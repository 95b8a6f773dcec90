package prove

import (
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/story"
)

// Looks are the reachable states of a design, those that look alike as one.
type Looks struct {
	List   []*Look // in the order in which they are reached
	Moves  []Move  // from one to another, each once
	States int
	Whole  bool // every reachable state was visited
}

// Look is the states in which a part of the page looks the same.
type Look struct {
	Lines  []string
	States int
	Depth  int // how many causes it takes to reach it
}

// Move leads from one look to another.
type Move struct {
	From, To int
	Text     string // a step of a scenario, or the timer that fires
	Verb     engine.Verb
}

// LooksOf visits at most a number of states from a start, breadth first. The
// lines that view gives of a state tell how it looks.
func LooksOf(d *design.Design, s *design.Start, states int, view func(*engine.Engine) []string) (*Looks, error) {
	p := newProver(d, Options{Workers: 1, States: states, Plain: true, forget: true})
	x := newSearch(p, s, nil)
	if !x.mount() {
		for _, f := range p.breaches {
			return nil, f.what.cause
		}
	}
	g := &lookGraph{x: x, w: x.workers[0], view: view, out: &Looks{Whole: true}, known: map[string]int{}, moves: map[Move]bool{}}
	g.run()
	return g.out, nil
}

// lookGraph puts looks together, state by state.
type lookGraph struct {
	x     *search
	w     *worker
	view  func(*engine.Engine) []string
	out   *Looks
	known map[string]int
	of    []int // by state: its look
	deep  []int // by state: how many causes lead to it
	moves map[Move]bool
}

func (g *lookGraph) run() {
	g.meet(0)
	for n := 0; n < g.x.Table.Len(); n++ {
		if g.x.heavy() > mostHeavy {
			g.out.Whole = false
			break
		}
		g.w.goTo(uint32(n))
		mark := g.w.e.Mark()
		list := g.w.e.Causes(g.w.samples)
		for i := range list {
			g.w.now = witness{search: g.x, from: uint32(n), by: onTheWay}
			text := moveText(g.w.e, &list[i])
			verb := list[i].Verb
			if g.w.e.Do(&list[i]) == nil {
				g.land(n, i, text, verb)
			}
			g.w.e.Rewind(mark)
		}
	}
	g.out.States = g.x.Table.Len()
}

// land notes where a cause led to.
func (g *lookGraph) land(from, by int, text string, verb engine.Verb) {
	if g.w.e.Asks() > g.x.p.o.Asks {
		g.out.Whole = false
		return
	}
	state := g.w.next.Read()
	to, ok := g.x.Table.LookUp(state)
	if !ok {
		if g.x.Table.Len() >= g.x.p.o.States {
			g.out.Whole = false
			return
		}
		shape := g.x.Table.AddShape(state, nil)
		to = g.x.Table.Add(shape, state.Cells, explore.Hash(shape, state.Cells), uint32(from), by)
		g.meet(g.deep[from] + 1)
	}
	if m := (Move{g.of[from], g.of[to], text, verb}); m.From != m.To && !g.moves[m] {
		g.moves[m] = true
		g.out.Moves = append(g.out.Moves, m)
	}
}

// meet notes how the state that the engine is in looks.
func (g *lookGraph) meet(depth int) {
	lines := g.view(g.w.e)
	key := strings.Join(lines, "\n")
	n, ok := g.known[key]
	if !ok {
		n = len(g.out.List)
		g.known[key] = n
		g.out.List = append(g.out.List, &Look{Lines: lines, Depth: depth})
	}
	g.out.List[n].States++
	g.of, g.deep = append(g.of, n), append(g.deep, depth)
}

// moveText is a cause as a step, or the timer that fires.
func moveText(e *engine.Engine, s *engine.Cause) string {
	if _, m, _, _ := s.Timer(); m != nil {
		return "after a while: " + m.Label
	}
	return story.StepText(e, s)
}
