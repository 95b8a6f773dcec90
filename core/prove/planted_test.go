package prove

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/story"
)

// planted are mistakes in the examples: what is changed, what is then found,
// and in how many steps. The examples as they are hold.
var planted = []struct {
	name, example, was, is string
	broken                 string // the law or promise
	steps                  int
	says                   string
}{
	{"drawers in a drawer belong to the group around them", "01-one-open-drawer",
		"component drawer-group {\n  supplies cupboard\n  view { div.cupboard { slot } }\n}\n",
		"component drawer-group {\n  view { div.cupboard { slot } }\n}\ncomponent one-group { supplies cupboard; view { cupboard-page } }\n",
		"a group has at most one open drawer", 2, ""},
	{"a tab is chosen that is gone", "02-tabs", "panels.find(p => p.uid == chosen)?.uid ?? panels[0]?.uid", "chosen ?? panels[0]?.uid",
		"one panel is shown", 2, "the left side is 0, the right side 1"},
	{"one box too many", "03-boxes-as-one-field", "disabled <- rack.full && !rack.has(id)", "disabled <- rack.chosen.length > 2 && !rack.has(id)",
		"never more than two shelves", 2, "the left side is 3, the right side 2"},
	{"a dialog opened twice", "09-confirmation", "open modal confirm-unload", "open confirm-unload",
		"one question at a time", 2, "the left side is 2, the right side 1"},
	{"a notice whose timer outlives it", "08-notices", "    stop expire(id)\n", "", "outlives", 3, "expire fires and finds nothing to do"},
	{"replies that overtake each other", "12-list-from-a-service", "got(list)   -> if (asked == glaze) { found = list; waiting = false }",
		"got(list)   -> { found = list; waiting = false }", "late-answer", 4, "comes late"},
	{"and the law that tells of them", "12-list-from-a-service", "got(list)   -> if (asked == glaze) { found = list; waiting = false }",
		"got(list)   -> { found = list; waiting = false }", "what is shown was asked for", 3, ""},
	{"a clock that is not stopped at its end", "13-burn-down", "if (left <= 0) { going = false; stop tick }", "if (left == 0) { going = false }",
		"it never burns below nothing", 7, "the left side is -1, the right side 0"},
	{"a report that nobody hears", "05-item-reports", "ware-row { ware <- ware; fired -> mark }", "ware-row { ware <- ware }", "unheard", 1, "nobody listens"},
	{"a button that does nothing", "06-switch", "click -> front = false", "click -> front = front", "idle-control", 0, "does nothing in any state"},
	{"a part that is never shown", "04-forwarding-button", "when loads > 0 {", "when loads > 3 {", "never-shown", 0, "shown in no state"},
	{"a way that leads nowhere", "04-forwarding-button", "    when loads > 0 { button \"Fire the kiln\" { click -> loads = 0 } }\n", "", "dead-end", 3, "nothing that a user does"},
	{"a turn that fails", "05-item-reports", "p `${left} still to be fired`", "p `${2 / left} more rounds`",
		"turn-fails", 2, "not a finite number"},
}

func exampleText(t *testing.T, name string) string {
	t.Helper()
	text, err := os.ReadFile(filepath.Join("../../examples", name+".lien"))
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// parsed is a design without errors.
func parsed(t *testing.T, text string) *design.Design {
	t.Helper()
	d := design.Parse("planted.lien", text)
	if d.Failed() {
		t.Fatalf("%s: %s", d.Set.Position(d.Findings[0].Span.Start), d.Findings[0].Message)
	}
	return d
}

// TestExamplesHold: nothing is broken in the examples, and what is not looked
// at is no more than texts, the clock, the number of questions and what is dragged
// from elsewhere.
func TestExamplesHold(t *testing.T) {
	files, err := filepath.Glob("../../examples/*.lien")
	if err != nil || len(files) == 0 {
		t.Fatalf("no examples: %v", err)
	}
	for _, f := range files {
		name := strings.TrimSuffix(filepath.Base(f), ".lien")
		rep := Run(parsed(t, exampleText(t, name)), Options{})
		for _, o := range rep.Laws {
			if o.Verdict != Holds && o.Verdict != HoldsWithin {
				t.Errorf("%s: %s is %s", name, o.Name(), o.Verdict)
			}
		}
		for _, c := range rep.Cuts {
			if !strings.HasPrefix(c, "samples:") && !strings.HasPrefix(c, "asks:") && !strings.HasPrefix(c, "gestures: no proof drags") {
				t.Errorf("%s: %s", name, c)
			}
		}
	}
}

// TestPlanted: each mistake is found, in as few steps as it takes; and the
// scenario that shows it, put into the design, shows it there too.
func TestPlanted(t *testing.T) {
	for _, c := range planted {
		t.Run(c.name, func(t *testing.T) {
			text := exampleText(t, c.example)
			if !strings.Contains(text, c.was) {
				t.Fatalf("the example has no %q", c.was)
			}
			text = strings.Replace(text, c.was, c.is, 1)
			if strings.Contains(c.is, "one-group") {
				text = strings.Replace(text, "start cupboard-page", "start one-group", 1)
			}
			d := parsed(t, text)
			out := outcome(Run(d, Options{States: 1_000}), c.broken)
			if out == nil || out.Verdict != Broken {
				t.Fatalf("%s is not broken: %+v", c.broken, out)
			}
			b := out.Breach
			if b.Path == nil {
				if c.steps != 0 || !strings.Contains(b.Message, c.says) {
					t.Errorf("%q without a scenario", b.Message)
				}
				return
			}
			if b.Path.Causes != c.steps || !strings.Contains(b.Message+b.Path.Saw, c.says) {
				t.Errorf("%q, %q in %d steps: %v", b.Message, b.Path.Saw, b.Path.Causes, b.Path.Steps)
			}
			shown(t, d, text, out)
		})
	}
}

func outcome(r *Report, name string) *Outcome {
	for _, o := range r.Laws {
		if o.Name() == name {
			return o
		}
	}
	return nil
}

// shown runs the scenario of a breach as lien test would.
func shown(t *testing.T, was *design.Design, text string, o *Outcome) {
	t.Helper()
	if !o.Breach.Path.Real {
		t.Errorf("no real times lead there: %v", o.Breach.Path.Steps)
	}
	d := parsed(t, text+"\n"+o.Breach.Path.Scenario(was, "it breaks"))
	rep := story.Run(d, func(s *design.Scenario) bool { return s.Name == "it breaks" })
	f := rep.Results[0].Failure
	switch {
	case o.Law != nil && (f == nil || f.Law == nil || f.Law.Name != o.Law.Name):
		t.Errorf("the scenario does not break the law: %+v", f)
	case o.Promise == promiseFails && (f == nil || !f.Cause.Start.Valid()):
		t.Errorf("the scenario fails no turn: %+v", f)
	case o.Law == nil && o.Promise != promiseFails && f != nil && f.Law == nil:
		t.Errorf("the scenario cannot be told: %s", f.Message)
	}
	if n := rep.Results[0].Steps; n != len(o.Breach.Path.Steps) && (f == nil || f.Law == nil || o.Law != nil) {
		t.Errorf("it ends at step %d of %v", n, o.Breach.Path.Steps)
	}
}
