package prove

import (
	"math/rand/v2"
	"os"
	"testing"

	"lien/core/design"
	"lien/core/explore"
)

// TestAnyOrder: a worker may go on from states in any order, from large pages to
// small ones and back, as it does where others take some of them; each time it
// does what one does that remembers nothing.
func TestAnyOrder(t *testing.T) {
	kiln, err := design.Load(os.DirFS("../../demo"), "kiln-room", func(name string) string { return name })
	if err != nil || kiln.Failed() {
		t.Fatal(err)
	}
	anyOrder(t, kiln, 0)
	for seed := range uint64(8) {
		anyOrder(t, shelved(t, seed), seed)
	}
}

func anyOrder(t *testing.T, d *design.Design, seed uint64) {
	x := newSearch(newProver(d, Options{Plain: true, States: 400, Workers: 1}), d.Starts[0], nil)
	if !x.mount() {
		return
	}
	x.run()
	gone, _ := x.Ahead()
	r := rand.New(rand.NewPCG(seed, 5))
	fast, slow := restarted(t, x, true), restarted(t, x, false)
	for range 800 {
		n := uint32(r.IntN(max(gone, 1)))
		var got, want explore.Expansion
		fast.Expand(n, n+1, &got)
		slow.Expand(n, n+1, &want)
		if got.Turns != want.Turns || got.Moves[0] != want.Moves[0] || len(got.Steps()) != len(want.Steps()) {
			t.Fatalf("state %d: %v, want %v\n%s", n, got, want, d.Set.Files()[0].Text)
		}
	}
}

// restarted is a worker at the first state, which takes turns from memory or not.
func restarted(t *testing.T, x *search, fast bool) *worker {
	t.Helper()
	y := newSearch(x.p, x.start, nil)
	if !y.mount() {
		t.Fatal("it cannot be mounted a second time")
	}
	w := y.workers[0]
	w.x, w.fast = x, fast
	return w
}
