package prove

import (
	"sync"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/story"
	"lien/core/value"
)

// What is typed besides what the design compares with: what starts and laws
// declare, and what scenarios do.

// sampling is what is known of the samples of a design.
type sampling struct {
	mu      sync.Mutex
	typed   map[*design.Element][]string // by scenarios
	met     map[*design.Sample]bool      // some field was found for it
	misfits []*finding.Finding
}

func newSampling(d *design.Design) *sampling {
	return &sampling{typed: story.Inputs(d), met: map[*design.Sample]bool{}}
}

// samplesOn finds what is asked for to be typed into a field.
func (x *search) samplesOn(e *engine.Engine) engine.Samples {
	list := story.SamplesOf(x.p.d, x.start)
	return story.Sampled(e, list, x.p.sampling.typed, func(s *design.Sample, values []value.Value, el *engine.Element) []string {
		return x.p.sampling.of(s, values, el)
	})
}

// of are the samples for a field, as texts.
func (m *sampling) of(s *design.Sample, values []value.Value, el *engine.Element) []string {
	numbers, fits := flow.IsNumber(el.Def()), true
	for _, v := range values {
		_, isNumber := v.(value.Number)
		fits = fits && numbers == isNumber
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if !m.met[s] && !fits {
		m.misfits = append(m.misfits, misfit(s, numbers))
	}
	m.met[s] = true
	return story.AsTyped(values)
}

func misfit(s *design.Sample, numbers bool) *finding.Finding {
	if numbers {
		return finding.New("wrong-type", finding.Error, s.Texts.Expr.Span(), "this field holds numbers, but these are texts").Instead("write numbers: [2, 3.5]")
	}
	return finding.New("wrong-type", finding.Error, s.Texts.Expr.Span(), "this field holds texts, but these are numbers").Instead(`write texts: ["2", "3.5"]`)
}

// problems are what is wrong with the samples: they do not fit their fields, or
// no field was found in any state.
func (p *prover) problems() []*finding.Finding {
	list := p.sampling.misfits
	look := func(samples []*design.Sample, on *design.Start) {
		for _, s := range samples {
			if !p.sampling.met[s] && p.visitedAll(on) {
				list = append(list, finding.New("not-in-scope", finding.Error, s.Target.Span(), "no state has this field, so nothing was typed into it").
					Instead("name a field by its role and name, as lien try shows them"))
			}
		}
	}
	for _, s := range p.d.Starts {
		look(s.Samples, s)
	}
	for _, l := range p.d.Laws {
		look(l.Samples, l.On)
	}
	finding.Sort(list)
	return list
}

// visitedAll says whether all states of a start were visited, or of every start.
func (p *prover) visitedAll(on *design.Start) bool {
	for _, s := range p.rep.Starts {
		if (on == nil || s.Start == on) && !s.Whole {
			return false
		}
	}
	return on != nil || p.o.Starts == nil
}
