package story

import (
	"strings"
	"testing"

	"lien/core/design"
)

// counted is a page for laws to speak of.
const counted = `component c-row {
  takes id: string
  emits drop(id: string)
  holds n: number = 0
  derives big = n > 1
  view { button ` + "`up ${id}`" + ` { click -> n += 1 }; button ` + "`drop ${id}`" + ` { click -> emit drop(id) } }
}
component c-page {
  holds ids: string[] = ["a", "b"]
  holds last: string? = null
  view {
    each id in ids by id { c-row { id <- id; drop(x) -> { ids = ids.filter(y => y != x); last = x } } }
    button "add" { click -> ids = [...ids, "c"] }
    p ` + "`${last ?? \"none\"}`" + `
  }
}
start c-page
start "three" c-page { ids = ["x", "y", "z"] }
`

// TestLaws: which laws hold over the same steps, and where the others break.
func TestLaws(t *testing.T) {
	const steps = "press button \"up a\"\npress button \"up a\"\npress button \"add\"\npress button \"drop b\"\n"
	for _, c := range []struct {
		law    string
		broken string // the step at which it breaks; "" for none, "start" for the mounting
	}{
		{`always all(c-row).length <= 3`, ""},
		{`always all(c-row).length <= 2`, `press button "add"`},
		{`never all(c-row).some(r => r.big)`, `press button "up a"`},
		{`always all(c-row).length == the(c-page).ids.length`, ""},
		{`always the(c-page).ids.length > 2`, "start"},
		{`turn all(c-row).length >= 2`, ""},
		{`turn the(c-page).ids == was(the(c-page).ids) || reported(c-row.drop)`, `press button "add"`},
		{`turn !reported(c-row.drop)`, `press button "drop b"`},
		{`turn all(c-row).every(r => r.n - (was(r.n) ?? 0) <= 1)`, ""},
		{`turn all(c-row).every(r => was(r.n) != null)`, `press button "add"`},
		{`turn (was(all(c-row).length) ?? 0) - all(c-row).length <= 0`, `press button "drop b"`},
		{`turn was(the(c-page).last) == null`, ""},
		{`always all(c-row).map(r => r.id).join("") != "ac"`, `press button "drop b"`},
		{`can all(c-row).length == 99`, ""},
		{`settles false`, "start"},
	} {
		d := design.Parse("laws.lien", counted+"law \"l\" { "+c.law+" }\nscenario \"s\" {\n"+steps+"}\n")
		if d.Failed() {
			t.Fatalf("%s: %s", c.law, d.Findings[0].Message)
		}
		rep := Run(d, nil)
		f := rep.Laws[0].Broken
		switch {
		case c.broken == "" && f != nil:
			t.Errorf("%s breaks at %s", c.law, d.Text(f.At))
		case c.broken != "" && f == nil:
			t.Errorf("%s holds", c.law)
		case c.broken == "start" && !strings.HasPrefix(d.Text(f.At), "\"s\""):
			t.Errorf("%s breaks at %s, not at the start", c.law, d.Text(f.At))
		case c.broken != "" && c.broken != "start" && d.Text(f.At) != c.broken:
			t.Errorf("%s breaks at %s, want %s", c.law, d.Text(f.At), c.broken)
		}
		if proof := strings.HasPrefix(c.law, "can") || strings.HasPrefix(c.law, "settles"); rep.Laws[0].Proof != proof {
			t.Errorf("%s asks for a proof: %v", c.law, rep.Laws[0].Proof)
		}
	}
}

// TestLawsOfOneStart: a law on a start is not asked of the others.
func TestLawsOfOneStart(t *testing.T) {
	d := design.Parse("laws.lien", counted+`law "three" on "three" { always the(c-page).ids.length >= 3 }
scenario "two" { press button "drop a" }
scenario "three" {
  start "three"
  press button "add"
}
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	rep := Run(d, nil)
	if rep.Failed() || rep.Laws[0].States != 3 {
		t.Errorf("the law is looked at in %d states, broken: %v", rep.Laws[0].States, rep.Laws[0].Broken)
	}
	if rep := Run(d, func(s *design.Scenario) bool { return s.Name == "three" }); len(rep.Results) != 1 {
		t.Errorf("%d scenarios were run", len(rep.Results))
	}
}

// TestLawThatCannotBeAsked: a law that has no answer is broken, and says why.
func TestLawThatCannotBeAsked(t *testing.T) {
	d := design.Parse("laws.lien", counted+`law "l" { always the(c-row).n == 0 }
`)
	f := Run(d, nil).Laws[0].Broken
	if f == nil || !strings.Contains(f.Message, "asks for the only one, but there are 2") {
		t.Errorf("%+v", f)
	}
}
