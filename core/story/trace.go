package story

import (
	"lien/core/design"
	"lien/core/engine"
)

// Traced is a step of a scenario with the turns that it made.
type Traced struct {
	Step  *design.Step // nil: the mounting
	Turns []*engine.Record
}

// Trace runs one scenario, and keeps what each step led to. The result tells
// how it ended.
func Trace(d *design.Design, s *design.Scenario) ([]Traced, *Result) {
	var list []Traced
	laws := make([]*LawResult, len(d.Laws))
	for i, l := range d.Laws {
		laws[i] = &LawResult{Law: l}
	}
	r := newRunner(d, laws)
	r.onStep = func(st *design.Step, turns []*engine.Record) { list = append(list, Traced{st, turns}) }
	res := r.tell(s)
	return list, res
}

// Walk runs one scenario, and shows the engine at the mounting and after each
// step that acts.
func Walk(d *design.Design, s *design.Scenario, prepare, look func(*design.Start, *engine.Engine)) {
	r := newRunner(d, nil)
	prepare(nil, r.e)
	r.onStep = func(*design.Step, []*engine.Record) { look(r.start, r.e) }
	r.tell(s)
}
