package story

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
)

func load(t *testing.T, name string) *design.Design {
	t.Helper()
	text, err := os.ReadFile(name)
	if err != nil {
		t.Fatal(err)
	}
	d := design.Parse(filepath.Base(name), string(text))
	for _, f := range d.Findings {
		if f.Level == finding.Error {
			t.Errorf("%s: %s; %s", d.Set.Position(f.Span.Start), f.Message, f.Write)
		}
	}
	if d.Failed() {
		t.FailNow()
	}
	return d
}

func files(t *testing.T, pattern string) []string {
	t.Helper()
	list, err := filepath.Glob(pattern)
	if err != nil || len(list) == 0 {
		t.Fatalf("no designs at %s: %v", pattern, err)
	}
	return list
}

// TestPass: every scenario passes and every law holds, and check has nothing
// to say above note.
func TestPass(t *testing.T) {
	for _, name := range append(files(t, "testdata/pass/*.lien"), files(t, "../../examples/*.lien")...) {
		t.Run(filepath.Base(name), func(t *testing.T) {
			d := load(t, name)
			for _, f := range check.Run(d, check.Options{}) {
				if f.Level > finding.Note {
					t.Errorf("%s: %s [%s]", d.Set.Position(f.Span.Start), f.Message, f.Rule)
				}
			}
			rep := Run(d, nil)
			for _, r := range rep.Results {
				if f := r.Failure; f != nil {
					t.Errorf("%s: %q: %s; %s\n%s", d.Set.Position(f.At.Start), r.Scenario.Name, f.Message, f.Write, strings.Join(f.Page, "\n"))
				}
			}
			for _, l := range rep.Laws {
				if l.Broken != nil || l.States == 0 && !l.Proof {
					t.Errorf("law %q: held in %d states, broken: %v", l.Law.Name, l.States, l.Broken)
				}
			}
		})
	}
}

// TestFail: every scenario fails at the step that ends in "// FAILS words",
// and the message or remedy has the words. Afterwards the state is as before.
func TestFail(t *testing.T) {
	for _, name := range files(t, "testdata/fail/*.lien") {
		d := load(t, name)
		for _, r := range Run(d, nil).Results {
			t.Run(r.Scenario.Name, func(t *testing.T) {
				if r.Failure == nil {
					t.Fatal("it passed")
				}
				at := d.Set.Position(r.Failure.At.Start)
				_, words, ok := strings.Cut(d.Set.File(r.Failure.At.Start).Line(at.Line), "// FAILS ")
				if said := r.Failure.Message + " | " + r.Failure.Write; !ok || !strings.Contains(said, words) {
					t.Errorf("%s: %s", at, said)
				}
				for _, h := range r.Failure.State {
					for _, c := range h.Cells {
						if c.Name == "n" && c.Value.Kind() != 0 && !strings.Contains(strings.Join(r.Failure.Page, "\n"), "n is 1") {
							t.Errorf("the state is not as before the turn: %v", r.Failure.Page)
						}
					}
				}
			})
		}
	}
}

func TestLawBreaks(t *testing.T) {
	d := design.Parse("law.lien", `component a-b {
  holds n: number = 0
  view { button `+"`${n}`"+` { click -> n += 1 } }
}
start a-b
law "below two" { always the(a-b).n < 2 }
scenario "press" {
  press button "0"
  press button "1"
}
`)
	rep := Run(d, nil)
	if l := rep.Laws[0]; l.Broken == nil || l.Breaker == nil || l.Breaker.Name != "press" || !rep.Failed() {
		t.Errorf("the law is not broken: %+v", l)
	}
	if f := rep.Results[0].Failure; f == nil || f.Law == nil || d.Set.Position(f.At.Start).Line != 9 {
		t.Errorf("the scenario does not fail at the second press: %+v", f)
	}
}
