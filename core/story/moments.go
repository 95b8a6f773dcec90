package story

import (
	"lien/core/engine"
	"lien/core/value"
)

// Timed puts waits between steps; a timer that fires has no step of its own.
func Timed(texts []string, at []float64) []string {
	var out []string
	now := 0.0
	for i, t := range texts { // which may be fewer: a turn that fails is the last
		last := i == len(texts)-1
		if t == "" && !last || at[i] == now && t != "" {
			if t != "" {
				out = append(out, t)
			}
			continue
		}
		out = append(out, "wait "+value.FormatNumber(at[i]-now))
		now = at[i]
		if t != "" {
			out = append(out, t)
		}
	}
	return out
}

// Moments finds moments at which steps can be taken, so that timers and replies
// come in the order of a path: every step is no earlier than the one before,
// and so on (a system of difference constraints, solved by longest paths).
//
// Several engines may take the same steps side by side: the moments are right for all.
type Moments struct {
	engines []*engine.Engine
	started map[pending]int // timers and questions that run: by which step
	edges   []edge
	n       int
}

// pending is a timer or question of an engine.
type pending struct {
	e  *engine.Engine
	id any
}

// edge says that the step to comes at least ms after the step from; step 0
// is the mounting.
type edge struct {
	from, to int
	ms       float64
	loose    float64 // what may be enough, where nothing else can be done
}

// NewMoments is for so many steps of engines that have mounted a page.
func NewMoments(n int, engines ...*engine.Engine) *Moments {
	t := &Moments{engines: engines, started: map[pending]int{}, n: n + 1}
	t.After(-1)
	return t
}

// After notes what the step has started.
func (t *Moments) After(i int) {
	for _, e := range t.engines {
		e.Pending(func(id any, _ float64, _ bool) {
			if _, ok := t.started[pending{e, id}]; !ok {
				t.started[pending{e, id}] = i + 1
			}
		})
	}
}

// Step notes what must be true of the moment of a step of one of the engines.
func (t *Moments) Step(i int, e *engine.Engine, s *engine.Cause) {
	at := i + 1
	t.edges = append(t.edges, edge{at - 1, at, 0, 0})
	mine := s.Pending()
	passed := false // the timer that fires, among those in the order of their starts
	e.Pending(func(id any, ms float64, timer bool) {
		from := t.started[pending{e, id}]
		switch {
		case id == mine && timer:
			t.edges = append(t.edges, edge{from, at, ms, ms}, edge{at, from, -ms, -ms})
			passed = true
		case ms < 1:
			t.edges = append(t.edges, edge{at, from, -ms, -ms})
		case timer && passed && s.Verb == engine.Elapse: // it may be due, since it is not yet its turn
			t.edges = append(t.edges, edge{at, from, 1 - ms, -ms})
		default:
			t.edges = append(t.edges, edge{at, from, 1 - ms, 1 - ms})
		}
	})
}

// Solve gives the moment of every step, in milliseconds from the mounting;
// false where there are none.
func (t *Moments) Solve() ([]float64, bool) {
	if at, ok := t.longest(func(e *edge) float64 { return e.ms }); ok {
		return at, true
	}
	return t.longest(func(e *edge) float64 { return e.loose })
}

func (t *Moments) longest(ms func(*edge) float64) ([]float64, bool) {
	at := make([]float64, t.n)
	for round := 0; ; round++ {
		again := false
		for i := range t.edges {
			e := &t.edges[i]
			if next := at[e.from] + ms(e); next > at[e.to] {
				at[e.to], again = next, true
			}
		}
		if !again {
			return at[1:], true
		}
		if round > t.n {
			return at[1:], false
		}
	}
}
