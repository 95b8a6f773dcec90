package play

import (
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
)

// Whatever is pressed on any example can be taken back and done again, and
// leads to the same page when it is run as a scenario.
func TestAnythingPressed(t *testing.T) {
	files, err := filepath.Glob("../../examples/*.lien")
	if err != nil || len(files) == 0 {
		t.Fatal("no examples", err)
	}
	for _, f := range files {
		t.Run(filepath.Base(f), func(t *testing.T) {
			text, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			for seed := range uint64(6) {
				pressAtRandom(t, string(text), rand.New(rand.NewPCG(seed, 5)))
			}
		})
	}
}

func pressAtRandom(t *testing.T, text string, random *rand.Rand) {
	d := design.Parse("example.lien", text)
	s := session(t, d)
	pages := []string{s.page()}
	for range 14 {
		if err := something(s, random); err == nil {
			pages = append(pages, s.page())
		}
	}
	all, done := s.Acts()
	if len(all) != done || done != len(pages)-1 {
		t.Fatalf("%d of %d steps are done, %d were taken", done, len(all), len(pages)-1)
	}
	for n := done - 1; n >= 0; n-- {
		if !s.Undo() || s.page() != pages[n] {
			t.Fatalf("taking back step %d, %s, gives\n%s\nwant\n%s", n+1, all[n].Step, s.page(), pages[n])
		}
	}
	for n := 1; n <= done; n++ {
		if !s.Redo() || s.page() != pages[n] {
			t.Fatalf("step %d again, %s, gives\n%s\nwant\n%s", n, all[n-1].Step, s.page(), pages[n])
		}
	}
	scenario := s.Scenario("by chance")
	again := design.Parse("example.lien", text+"\n"+scenario)
	if again.Failed() {
		t.Fatalf("%s\n%s", again.Findings[0].Message, scenario)
	}
	kept := design.Parse("example.lien", text+"\n"+s.Kept("kept"))
	if kept.Failed() {
		t.Fatalf("%s\n%s", kept.Findings[0].Message, s.Kept("kept"))
	}
	for _, res := range story.Run(kept, func(sc *design.Scenario) bool { return sc.Name == "kept" }).Results {
		if res.Failure != nil {
			t.Fatalf("what is kept does not hold: %s\n%s", res.Failure.Message, s.Kept("kept"))
		}
	}
	next, n, err := Resume(again, again.Scenarios[len(again.Scenarios)-1], func(st *design.Step) string { return again.Text(st.Span()) })
	if err != nil || n != done || next.page() != pages[done] {
		t.Fatalf("%d of %d steps can be taken, %v:\n%s\nthen\n%s\nwant\n%s", n, done, err, scenario, next.page(), pages[done])
	}
}

// something does one of the things that can be done.
func something(s *Session, random *rand.Rand) error {
	list := s.e.Causes(nil)
	if len(list) == 0 {
		return fmt.Errorf("nothing can be done")
	}
	switch c := &list[random.IntN(len(list))]; c.Verb {
	case engine.Elapse:
		return s.WaitNext()
	case engine.Reply:
		return s.Answer(0, false)
	case engine.Fail:
		return s.Answer(random.IntN(len(s.Answers(true))), true)
	case engine.Call, engine.Blur, engine.Carry:
		return fmt.Errorf("not by hand")
	default:
		if c.Element != nil && !inWords(s, c) {
			return fmt.Errorf("it has no name of its own")
		}
		return s.Gesture(c.Verb, c.Element, c.Text)
	}
}

// inWords says whether the step names its element without the place of its component.
func inWords(s *Session, c *engine.Cause) bool {
	return !strings.HasPrefix(story.StepText(s.e, c), "inside ")
}
