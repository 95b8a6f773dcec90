package web

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
)

// TestScenarios: the scenarios of the examples pass on their built pages, which are the same as the engine's after
// every step.
func TestScenarios(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	if len(files) < 10 {
		t.Fatal("there are no examples")
	}
	b := openBrowser(t)
	passed := 0
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		d := design.Parse("kiln.lien", string(text))
		if d.Failed() || len(d.Scenarios) == 0 {
			continue
		}
		t.Run(strings.TrimSuffix(filepath.Base(name), ".lien"), func(t *testing.T) {
			if _, err := Build(d, d.Starts[0]); err != nil {
				t.Skip(err) // it says what no page is built of yet
			}
			rep := story.RunOn(d, nil, func(e *engine.Engine, s *design.Start) (story.Beside, error) { return newPair(b, d, e, s) })
			for _, r := range rep.Results {
				if r.Failure != nil {
					t.Errorf("%s, step %d: %s", r.Scenario.Name, r.Steps, r.Failure.Message)
					continue
				}
				passed++
			}
		})
	}
	if passed < 10 {
		t.Errorf("only %d scenarios pass", passed)
	}
}
