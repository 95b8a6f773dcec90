package prove

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/source"
	"lien/core/story"
	"lien/core/value"
)

// Path is a shortest way to what was found, as a scenario.
type Path struct {
	Start  *design.Start
	Steps  []string       // in the words of scenarios
	Causes int            // how many things happen: a wait for a timer is one, any other wait none
	Before []story.Holder // the cells before the last step
	After  []story.Holder // and after it
	Saw    string         // both sides of the comparison that a law makes, or ""
	Real   bool           // real times lead there
	Turns  []*engine.Record
}

// Scenario writes a path as a scenario of a design.
func (p *Path) Scenario(d *design.Design, name string) string {
	var out strings.Builder
	fmt.Fprintf(&out, "scenario %s {\n", value.Show(value.String(name)))
	if len(d.Starts) > 0 && p.Start != d.Starts[0] {
		fmt.Fprintf(&out, "  start %s\n", value.Show(value.String(p.Start.Name)))
	}
	for _, s := range p.Steps {
		fmt.Fprintf(&out, "  %s\n", s)
	}
	out.WriteString("}\n")
	return out.String()
}

// breachOf tells what was found, and how to get there.
func (p *prover) breachOf(f *witness) *Breach {
	b := &Breach{Message: f.what.message, At: f.what.at}
	if !b.At.Start.Valid() {
		b.At = f.search.start.Syntax.Span()
	}
	ids := p.idsOf(f)
	b.Path = p.replay(f.search, ids)
	b.Path.Saw = p.saw(f, ids)
	return b
}

// replay takes a way once as the search did, to learn what its steps are
// called and when timers were started, and once more with real times.
func (p *prover) replay(x *search, ids []int) *Path {
	path := &Path{Start: x.start, Causes: len(ids)}
	w := newWorker(newReplay(x))
	w.now.by = onTheWay
	w.e.OnTurn = nil
	if rec, err := w.e.Mount(x.start); err != nil {
		path.Turns, path.Real = []*engine.Record{rec}, true
		return path
	}
	times := story.NewMoments(len(ids), w.e)
	var texts []string
	path.After = story.State(w.e)
	for i, id := range ids {
		list := w.e.Causes(w.samples)
		st := &list[id]
		texts = append(texts, story.StepText(w.e, st))
		times.Step(i, w.e, st)
		path.Before = path.After
		w.e.Turns()
		err := w.e.Do(st)
		path.Turns = w.e.Turns()
		path.After = story.State(w.e)
		times.After(i)
		if err != nil {
			break
		}
	}
	want := w.next.Read()
	cells := slices.Clone(want.Cells)
	at, ok := times.Solve()
	path.Steps = story.Timed(texts, at)
	path.Real = ok && p.leadsTo(x, ids, texts, at, want.Shape, cells)
	return path
}

// newReplay is a search that is only there to take again what another one found.
func newReplay(x *search) *search {
	return &search{p: x.p, start: x.start, scope: x.scope, Search: &explore.Search{Table: explore.NewStates()}}
}

// leadsTo takes the steps at their times, and says whether this leads to the
// state that the search saw.
func (p *prover) leadsTo(x *search, ids []int, texts []string, at []float64, shape string, cells []uint32) bool {
	w := newWorker(newReplay(x))
	w.now.by = onTheWay
	w.e.OnTurn = nil
	if _, err := w.e.Mount(x.start); err != nil {
		return false
	}
	now := 0.0
	for i, id := range ids[:len(texts)] {
		last := i == len(texts)-1
		elapses := texts[i] == ""
		var err error
		if at[i] > now || elapses {
			err = w.e.Wait(at[i] - now)
			now = at[i]
		}
		if err == nil && !elapses {
			list := w.e.Causes(w.samples)
			if id >= len(list) {
				return false
			}
			err = w.e.Do(&list[id])
		}
		if err != nil {
			return last
		}
	}
	got := w.next.Read()
	return got.Shape == shape && slices.Equal(got.Cells, cells)
}

// saw shows the sides of the comparison that a law makes, in the state that
// breaks it.
func (p *prover) saw(f *witness, ids []int) string {
	cl := p.clauseAt(f.what.at)
	if cl == nil || f.what.cause != nil {
		return ""
	}
	x, y, ok := design.Sides(&cl.Unit)
	if !ok {
		return ""
	}
	w := newWorker(newReplay(f.search))
	w.now.by = onTheWay
	left, right := w.e.Compile(x), w.e.Compile(y)
	said := ""
	look := func() {
		a, err1 := w.e.Eval(left)
		b, err2 := w.e.Eval(right)
		if err1 == nil && err2 == nil {
			said = fmt.Sprintf("the left side is %s, the right side %s", value.Brief(a, 60), value.Brief(b, 60))
		}
	}
	turn := 0
	last := false
	w.e.OnTurn = func(*engine.Record) error {
		if turn++; last && turn == f.turn {
			look()
		}
		return nil
	}
	if _, err := w.e.Mount(f.search.start); err != nil {
		return ""
	}
	if len(ids) == 0 {
		look()
	}
	for i, id := range ids {
		last, turn = i == len(ids)-1, 0
		list := w.e.Causes(w.samples)
		w.e.Do(&list[id])
	}
	if f.turn == lastTurn {
		look()
	}
	return said
}

// clauseAt is the clause of a law that stands there, or nil.
func (p *prover) clauseAt(at source.Span) *design.Clause {
	for _, l := range p.laws {
		for _, cl := range l.out.Law.Clauses {
			if cl.At == at {
				return cl
			}
		}
	}
	return nil
}
