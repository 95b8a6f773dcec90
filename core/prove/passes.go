package prove

import "slices"

// Pass is a way to visit fewer states, or to visit them with less work, that
// comes to the same verdicts. Its theorem, side conditions and argument stand in
// docs/soundness.md under its name; each condition has a test that fails without
// it.
type Pass struct {
	Name string
	Says string
}

var (
	passSlices = &Pass{"slices", "each law and promise looks at what can influence it alone"}
	passFolds  = &Pass{"folds", "what opens and closes a part that keeps nothing stays open"}
	passParts  = &Pass{"parts", "what cannot influence each other is visited apart"}
	passAlike  = &Pass{"alike", "of states that differ by an exchange of equals one is visited"}
	passMemory = &Pass{"memory", "a turn that depends on the same cells is not taken again"}
	passLazy   = &Pass{"lazy", "what is only shown, and cannot fail, is not worked out"}
)

// Passes are all of them. Each needs those before it to have been decided on:
// parts and alike take the cells of a slice for all that there is, and both rely
// on turns that are remembered by the cells that they read.
var Passes = []*Pass{passLazy, passMemory, passSlices, passFolds, passParts, passAlike}

// IsPass says whether a pass has this name.
func IsPass(name string) bool {
	return slices.ContainsFunc(Passes, func(p *Pass) bool { return p.Name == name })
}

// applies says whether a pass is to be tried.
func (p *prover) applies(pass *Pass) bool {
	if p.o.Plain && pass != passMemory && pass != passLazy || p.strict && pass != passMemory && pass != passParts {
		return false
	}
	return !p.o.Disabled[pass.Name]
}
