package prove

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/explore"
	"lien/core/story"
)

// TestVerdicts: the designs in testdata/verdicts say in comments what a proof
// comes to; with -judge also without reductions, sliced, and where every turn
// is taken on every way. Each is a mistake that a proof once made, or could.
func TestVerdicts(t *testing.T) {
	files, _ := filepath.Glob("testdata/verdicts/*.lien")
	if len(files) < 10 {
		t.Fatalf("only %d designs", len(files))
	}
	options := []Options{{States: 6_000}}
	if *judge {
		options = append(options, Options{States: 6_000, Plain: true}, Options{States: 6_000, slice: true}, Options{States: 6_000, Plain: true, forget: true})
	}
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		t.Run(strings.TrimSuffix(filepath.Base(f), ".lien"), func(t *testing.T) {
			d := parsed(t, string(text))
			for _, o := range options {
				said := 0
				rep := Run(d, o)
				for _, line := range strings.Split(string(text), "\n") {
					if want, ok := strings.CutPrefix(line, "// prove: "); ok {
						said++
						if err := expected(d, string(text), rep, want); err != nil {
							t.Errorf("plain %v: %s: %v", o.Plain, want, err)
						}
					}
				}
				if said == 0 {
					t.Error("it says nothing of what is expected")
				}
				for _, out := range rep.Laws {
					if out.Law != nil && out.Verdict == Broken && out.Breach.Path != nil {
						broken := parsed(t, string(text)+"\n"+out.Breach.Path.Scenario(d, "it breaks"))
						if r := story.Run(broken, nil); r.Results[len(r.Results)-1].Failure == nil {
							t.Errorf("%s: the scenario passes: %v", out.Name(), out.Breach.Path.Steps)
						}
					}
				}
			}
		})
	}
}

var (
	verdictLine = regexp.MustCompile("^(law \"([^\"]*)\"|[a-z-]+) (is broken|holds within|holds|unclear)( in (\\d+) steps?| by `([^`]*)`)?$")
	cutLine     = regexp.MustCompile(`^cut "([^"]*)"$`)
	problemLine = regexp.MustCompile("^problem \"([^\"]*)\" at `([^`]*)`$")
)

// expected holds one line of what is expected against a report.
func expected(d *design.Design, text string, rep *Report, want string) error {
	if m := verdictLine.FindStringSubmatch(want); m != nil {
		name := m[1]
		if m[2] != "" {
			name = m[2]
		}
		return sameVerdict(outcome(rep, name), m[3], m[5], m[6])
	}
	if m := cutLine.FindStringSubmatch(want); m != nil {
		for _, c := range rep.Cuts {
			if strings.HasPrefix(c, m[1]) {
				return nil
			}
		}
		return fmt.Errorf("the cuts are %q", rep.Cuts)
	}
	if m := problemLine.FindStringSubmatch(want); m != nil {
		for _, f := range rep.Problems {
			if strings.HasPrefix(f.Message, m[1]) && d.Text(f.Span) == m[2] {
				return nil
			}
		}
		return fmt.Errorf("the problems are %v", rep.Problems)
	}
	if want == "no cut" {
		if len(rep.Cuts) > 0 {
			return fmt.Errorf("the cuts are %q", rep.Cuts)
		}
		return nil
	}
	return fmt.Errorf("this cannot be read")
}

func sameVerdict(o *Outcome, verdict, steps, by string) error {
	if o == nil {
		return fmt.Errorf("there is no such law or promise")
	}
	got := string(o.Verdict)
	if got == "broken" {
		got = "is broken"
	}
	switch {
	case got != verdict:
		return fmt.Errorf("it %s", got)
	case steps != "" && fmt.Sprint(o.Breach.Path.Causes) != steps:
		return fmt.Errorf("it takes %q", o.Breach.Path.Steps)
	case by != "" && strings.Join(o.Breach.Path.Steps, "; ") != by:
		return fmt.Errorf("it takes %q", o.Breach.Path.Steps)
	}
	return nil
}

// TestCounts: counts that pass 2^63 are powers, and never less than nothing.
func TestCounts(t *testing.T) {
	two := explore.Few(1)
	for range 62 {
		two = two.Times(explore.Few(2))
	}
	for _, c := range []struct {
		is   explore.Count
		want string
	}{
		{explore.Few(7).Plus(explore.Few(8)), "15"}, {explore.Few(1 << 40).Times(explore.Few(1000)), "1099511627776000"}, {two, "4611686018427387904"},
		{two.Times(explore.Few(2)), "2^63"}, {two.Times(two), "2^124"}, {two.Times(explore.Few(3)), "2^63.6"}, {two.Plus(two), "2^63"},
		{two.Times(two).Plus(explore.Few(1)), "2^124"}, {two.Times(two).Times(explore.Few(0)), "0"},
	} {
		if got := c.is.String(); got != c.want {
			t.Errorf("it is %s, want %s", got, c.want)
		}
	}
	for _, n := range []int{62, 64} {
		rep := Run(boxes(t, n, "always all(rack-box).length > 1"), Options{})
		if o := outcome(rep, "some"); o.Verdict != Holds || rep.Starts[0].States.String() != two.Times(explore.Few(1<<(n-62))).String() {
			t.Errorf("%d boxes: %s, %s, %s", n, o.Verdict, o.Why, rep.Starts[0].States)
		}
	}
}
