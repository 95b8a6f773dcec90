package story

import (
	"slices"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/value"
)

// SamplesOf are what a start and the laws that speak of it ask for to be typed.
func SamplesOf(d *design.Design, start *design.Start) []*design.Sample {
	list := slices.Clone(start.Samples)
	for _, l := range d.Laws {
		if l.On == nil || l.On == start {
			list = append(list, l.Samples...)
		}
	}
	return list
}

// Sampled is what is typed into a field besides what the design compares its text with: what
// scenarios type (Inputs), and what samples ask for, as of gives it for the values of one.
func Sampled(e *engine.Engine, list []*design.Sample, typed map[*design.Element][]string,
	of func(s *design.Sample, values []value.Value, el *engine.Element) []string) engine.Samples {
	if len(list)+len(typed) == 0 {
		return nil
	}
	compiled := make([]*engine.Condition, len(list))
	for i, s := range list {
		compiled[i] = e.Compile(&s.Texts)
	}
	return func(el *engine.Element) []string {
		texts := slices.Clone(typed[el.Def()])
		for i, s := range list {
			if !slices.Contains(Find(e, s.Target), el) {
				continue
			}
			if v, err := e.Eval(compiled[i]); err == nil {
				texts = append(texts, of(s, v.(*value.List).Items(), el)...)
			}
		}
		return texts
	}
}

// AsTyped are values as a user types them.
func AsTyped(values []value.Value) []string {
	texts := make([]string, len(values))
	for i, v := range values {
		if n, ok := v.(value.Number); ok {
			texts[i] = value.FormatNumber(float64(n))
		} else {
			texts[i] = value.Text(v)
		}
	}
	return texts
}
