package story

import (
	"slices"

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

// Walk runs one scenario on an engine that has not been used, and shows it at the mounting and after each step that acts.
func Walk(d *design.Design, s *design.Scenario, e *engine.Engine, look func(*design.Start, *engine.Engine)) {
	r := runnerOn(e, d, nil)
	r.onStep = func(*design.Step, []*engine.Record) { look(r.start, r.e) }
	r.tell(s)
}

// Inputs are what the scenarios of a design type into its fields, and set them to.
func Inputs(d *design.Design) map[*design.Element][]string {
	inputs := map[*design.Element][]string{}
	for _, s := range d.Scenarios {
		r := newRunner(d, nil)
		r.onText = func(el *engine.Element, text string) {
			if def := el.Def(); !slices.Contains(inputs[def], text) {
				inputs[def] = append(inputs[def], text)
			}
		}
		r.tell(s)
	}
	return inputs
}

// Player takes steps one at a time, on an engine that anybody else may use
// between them.
type Player struct{ r *runner }

// Play mounts a start.
func Play(d *design.Design, s *design.Start) (*Player, *engine.Record, error) {
	p := &Player{newRunner(d, nil)}
	p.r.e.OnTurn = nil
	p.r.start = s
	p.r.e.Keep()
	rec, err := p.r.e.Mount(s)
	return p, rec, err
}

// Engine is what the steps are taken on.
func (p *Player) Engine() *engine.Engine { return p.r.e }

// Take takes a step.
func (p *Player) Take(s *design.Step) error {
	err, _ := p.r.step(s)
	return err
}
