package prove

// Pass is a way to visit fewer states, or to visit them with less work, that
// comes to the same verdicts. Its theorem, side conditions and argument stand in
// docs/soundness.md under its name; each condition has a test that fails without
// it.
type Pass struct {
	Name   string
	Says   string
	plain  bool // it visits every state, and takes every turn that it does not know: --plain, too, uses it
	strict bool // it holds for values of any size
}

var (
	passSlices    = &Pass{Name: "slices", Says: "each law and promise looks at what can influence it alone"}
	passFolds     = &Pass{Name: "folds", Says: "what only hides a part that keeps nothing stays as it begins"}
	passPartition = &Pass{Name: "partition", Says: "what cannot influence each other is visited apart", strict: true}
	passSymmetry  = &Pass{Name: "symmetry", Says: "of states that differ by an exchange of equals one is visited"}
	passMemory    = &Pass{Name: "memory", Says: "a turn that depends on the same cells is not taken again", plain: true, strict: true}
	passLazy      = &Pass{Name: "lazy", Says: "what is only shown, and cannot fail, is not worked out", plain: true}
	passOrder     = &Pass{Name: "order", Says: "questions that do not concern each other wait in one order", strict: true}
)

// Passes are all of them. Each needs those before it to have been decided on:
// partition and symmetry take the cells of a slice for all that there is, and both rely
// on turns that are remembered by the cells that they read.
var Passes = []*Pass{passLazy, passMemory, passOrder, passSlices, passFolds, passPartition, passSymmetry}

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
	case p.o.Plain && !pass.plain:
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
	why = ""
	if len(p.d.Services) == 0 {
		why = "nothing is asked"
	}
	p.use(space, passOrder, why)
	p.use(space, passSlices, "what there is was visited before it was needed")
	p.use(space, passFolds, "slices are not used")
}

// applies says whether a pass is to be tried.
func (p *prover) applies(pass *Pass) bool {
	return !p.o.Disabled[pass.Name] && (pass.plain || !p.o.Plain) && (pass.strict || !p.strict)
}
