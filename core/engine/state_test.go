package engine

import (
	"math/rand/v2"
	"slices"
	"testing"

	"lien/core/value"
)

// TestRewind goes to and fro on every example: what is taken back leaves the
// page, what waits, and the state as they were, and the same stimuli.
func TestRewind(t *testing.T) {
	for name, d := range examples(t) {
		for seed := range uint64(6) {
			random := rand.New(rand.NewPCG(seed, 7))
			e := New(d)
			e.Keep()
			if _, err := e.Mount(d.Starts[int(seed)%len(d.Starts)]); err != nil {
				t.Fatalf("%s: %v", name, err)
			}
			r := NewReader(e, value.NewPool())
			for range 12 {
				mark, page, rest, state := e.Mark(), snapshot(e), lives(e), r.Read()
				cells := slices.Clone(state.Cells)
				var done []string
				for range 1 + random.IntN(3) {
					list := e.Stimuli(nil)
					if len(list) == 0 {
						break
					}
					s := list[random.IntN(len(list))]
					done = append(done, string(s.Verb)+" "+s.Text)
					e.Do(&s)
				}
				ahead := r.Read()
				aheadCells := slices.Clone(ahead.Cells)
				e.Rewind(mark)
				if err := consistent(e); err != nil {
					t.Fatalf("%s: after %v: %v", name, done, err)
				}
				back := r.Read()
				if snapshot(e) != page || lives(e) != rest || back.Shape != state.Shape || !slices.Equal(back.Cells, cells) {
					t.Fatalf("%s: after %v and back, the page was\n%s\nand is\n%s\n%s\n%s", name, done, page, snapshot(e), rest, lives(e))
				}
				if len(done) == 1 && onlyOne(e.Stimuli(nil), done[0]) { // the same step leads to the same state again
					list := e.Stimuli(nil)
					e.Do(&list[slices.IndexFunc(list, func(s Stimulus) bool { return string(s.Verb)+" "+s.Text == done[0] })])
					if again := r.Read(); again.Shape != ahead.Shape || !slices.Equal(again.Cells, aheadCells) {
						t.Fatalf("%s: %v leads elsewhere a second time", name, done)
					}
				}
			}
		}
	}
}

func onlyOne(list []Stimulus, what string) bool {
	n := 0
	for i := range list {
		if string(list[i].Verb)+" "+list[i].Text == what {
			n++
		}
	}
	return n == 1
}
