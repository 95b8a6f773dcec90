package prove

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
	passFolds  = &Pass{"folds", "what only hides a part that keeps nothing stays as it begins"}
	passParts  = &Pass{"parts", "what cannot influence each other is visited apart"}
	passAlike  = &Pass{"alike", "of states that differ by an exchange of equals one is visited"}
	passMemory = &Pass{"memory", "a turn that depends on the same cells is not taken again"}
	passLazy   = &Pass{"lazy", "what is only shown, and cannot fail, is not worked out"}
)

// Passes are all of them. Each needs those before it to have been decided on:
// parts and alike take the cells of a slice for all that there is, and both rely
// on turns that are remembered by the cells that they read.
var Passes = []*Pass{passLazy, passMemory, passSlices, passFolds, passParts, passAlike}

// PassUse tells whether a pass was used on the states of a start, and why not.
type PassUse struct {
	Pass *Pass
	Used bool
	Why  string
}

// use notes whether a pass was used on a start: it was if there is no reason why
// not. One that was turned off, or that nothing asked for, says so.
func (p *prover) use(space *Space, pass *Pass, whyNot string) {
	switch {
	case p.o.Disabled[pass.Name]:
		whyNot = "it was disabled"
	case p.o.Plain && pass != passMemory && pass != passLazy:
		whyNot = "--plain visits every state by itself"
	case !p.applies(pass):
		whyNot = "some values are so large that sums of them may fail"
	}
	for i := range space.Passes {
		if space.Passes[i].Pass == pass {
			space.Passes[i] = PassUse{pass, whyNot == "", whyNot}
			return
		}
	}
	space.Passes = append(space.Passes, PassUse{pass, whyNot == "", whyNot})
}

// usePlain notes the passes that are decided on before anything is visited.
func (p *prover) usePlain(space *Space) {
	p.use(space, passLazy, "")
	why := ""
	if !p.fast {
		why = "keys of fresh() are renamed in states, so that the cells of one cannot be set in another"
	}
	p.use(space, passMemory, why)
	p.use(space, passSlices, "what there is was visited before it was needed")
	p.use(space, passFolds, "slices are not used")
}

// applies says whether a pass is to be tried.
func (p *prover) applies(pass *Pass) bool {
	if p.o.Plain && pass != passMemory && pass != passLazy || p.strict && pass != passMemory && pass != passParts {
		return false
	}
	return !p.o.Disabled[pass.Name]
}
