package prove

import (
	"flag"
	"fmt"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"lien/core/design"
)

// judge lets the tests hold many more random designs against each other: those
// of go test are a sample.
var judge = flag.Bool("judge", false, "hold thousands of random designs against each other")

// designs is how many random designs a test looks at: few, or with -judge many.
func designs(few, many int) int {
	if *judge {
		return many
	}
	return few
}

// TestPassesAgree: whatever passes are used, a proof comes to the same verdicts
// on laws and promises, by ways of the same length, on random designs with all
// that the language has.
func TestPassesAgree(t *testing.T) {
	var whole, broken, sliced atomic.Int64
	n := designs(24, 2000)
	t.Run("designs", func(t *testing.T) {
		for seed := range n {
			t.Run(fmt.Sprint(seed), func(t *testing.T) {
				t.Parallel()
				d := randomDesign(t, uint64(seed))
				plain := Run(d, Options{Asks: 2, States: 600, Depth: 40, Workers: 1, Plain: true, forget: true})
				if plain.Starts[0].Whole {
					whole.Add(1)
					broken.Add(int64(agree(t, d, plain, &sliced)))
				}
			})
		}
	})
	if int(whole.Load()) < n/4 || broken.Load() < whole.Load() || int(sliced.Load()) < n/8 {
		t.Errorf("of %d designs %d are small enough, with %d breaches, %d of them sliced: too few to tell anything", n, whole.Load(), broken.Load(), sliced.Load())
	}
}

// randomDesign is a design of one of the kinds that are written at random.
func randomDesign(t *testing.T, seed uint64) *design.Design {
	switch seed % 8 {
	case 0:
		return sideBySide(t, seed)
	case 1:
		return randomBoxes(t, seed)
	case 2:
		return shelved(t, seed)
	case 3:
		return asking(t, seed)
	}
	return generated(t, seed)
}

// agree holds proofs with several sets of passes against one that takes every
// turn of every state.
func agree(t *testing.T, d *design.Design, plain *Report, sliced *atomic.Int64) (broken int) {
	sets := []Options{{}, {slice: true}}
	if *judge {
		sets = append(sets, Options{Plain: true}, Options{slice: true, Disabled: map[string]bool{"folds": true, "partition": true}},
			Options{Disabled: map[string]bool{"lazy": true, "memory": true}, slice: true})
	}
	for _, o := range sets {
		o.Asks, o.Workers = 2, 1
		less := Run(d, o)
		if less.Starts[0].Slices > 0 {
			sliced.Add(1)
		}
		broken += sameOutcomes(t, o, plain, less)
		if t.Failed() {
			t.Fatalf("%+v:\n%s", o, sourceOf(d))
		}
	}
	return broken
}

// surer says whether a verdict says more than a plain one, where texts that were not
// typed are cut: a slice knows whom they cannot touch.
func surer(plain *Report, was, is Verdict) bool {
	return len(plain.Cuts) > 0 && (was == HoldsWithin && is == Holds || was == Unclear && (is == Broken || is == Holds))
}

// unsized says whether a proof says less since it did not look at a cell that could
// grow: nothing that was asked for depends on it.
func unsized(less *Report, o *Outcome, was Verdict) bool {
	return o.Promise == promiseFails && was == Holds && o.Verdict == HoldsWithin &&
		slices.ContainsFunc(less.Cuts, func(c string) bool { return strings.HasPrefix(c, "size: ") })
}

func sameOutcomes(t *testing.T, o Options, plain, less *Report) (broken int) {
	t.Helper()
	for i, want := range plain.Laws {
		got := less.Laws[i]
		if was, is := want.Verdict, got.Verdict; was != is && !surer(plain, was, is) && !unsized(less, got, was) {
			t.Errorf("%s is %s, plainly it is %s (cut %q)", got.Name(), is, was, less.Cuts)
			continue
		}
		if got.Verdict != Broken || want.Verdict != Broken {
			continue
		}
		broken++
		if len(got.More) != len(want.More) {
			t.Errorf("%s is broken in %d places, plainly in %d", got.Name(), 1+len(got.More), 1+len(want.More))
		}
		if a, b := got.Breach.Path, want.Breach.Path; (a == nil) != (b == nil) || a != nil && a.Causes != b.Causes && len(a.Steps) != len(b.Steps) { // a timer outside of a slice has to fire first
			t.Errorf("%s takes other ways: %+v, plainly %+v", got.Name(), a, b)
		}
	}
	return broken
}
