package compare

import (
	"context"
	"slices"

	"lien/core/engine"
	"lien/core/story"
)

// difference takes the way to what was found once more, to tell it in the words of scenarios.
func (x *search) difference(f *found) *Difference {
	d := &Difference{What: f.what, Real: true}
	ids := []int{}
	if f.by >= 0 {
		ids = append(x.Table.Path(f.from), f.by)
	}
	w := newWorker(x)
	for _, s := range w.sides {
		s.e.StopBy(context.Background()) // what was found is told, though the time is up
	}
	if _, ok := w.mount(); !ok {
		w.sides[0].show(&d.Before)
		w.sides[1].show(&d.After)
		return d
	}
	times := story.NewMoments(len(ids), w.sides[0].e, w.sides[1].e)
	var texts []string
	for i, id := range ids {
		w.list()
		m := w.moves[id]
		texts = append(texts, w.text(&m))
		for s, c := range m.causes {
			if c != nil {
				times.Step(i, w.sides[s].e, c)
			}
		}
		w.do(&m)
		times.After(i)
	}
	at, ok := times.Solve()
	d.Steps, d.Real = story.Timed(texts, at), ok
	w.sides[0].show(&d.Before)
	w.sides[1].show(&d.After)
	return d
}

// text is a move as a step of a scenario; "" where a timer fires.
func (w *worker) text(m *move) string {
	i := slices.IndexFunc(m.causes[:], func(c *engine.Cause) bool { return c != nil })
	return story.StepText(w.sides[i].e, m.causes[i])
}

func (s *side) show(to *Side) { to.Page, to.State = story.Page(s.e), story.State(s.e) }
