package prove

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync/atomic"
	"testing"

	"lien/core/design"
)

// mutations are mistakes that people make in a line of a design.
var mutations = []struct {
	name string
	find *regexp.Regexp
	put  string
}{
	{"a guard dropped", regexp.MustCompile(`disabled\s+<- .*`), ""},
	{"a comparison turned round", regexp.MustCompile(` == `), " != "},
	{"an order turned round", regexp.MustCompile(` > `), " <= "},
	{"one too many", regexp.MustCompile(` >= `), " > "},
	{"and for or", regexp.MustCompile(` && `), " || "},
	{"not", regexp.MustCompile(`= !(\w+)`), "= $1"},
	{"minus for plus", regexp.MustCompile(` \+= `), " -= "},
	{"an assignment dropped", regexp.MustCompile(`^\s+\w+ = [^{]*$`), ""},
	{"a condition dropped", regexp.MustCompile(`if \([^()]*\) return`), ""},
	{"a timer not stopped", regexp.MustCompile(`^\s+stop \w+$`), ""},
	{"a timer not started", regexp.MustCompile(`^\s+start \w+$`), ""},
}

// mutantsOf are a design's text with one mistake each.
func mutantsOf(text string) (list []string) {
	lines := strings.Split(text, "\n")
	for i, line := range lines {
		if strings.HasPrefix(line, "scenario") || strings.HasPrefix(line, "law") { // from here on nothing is run
			break
		}
		for _, m := range mutations {
			if !m.find.MatchString(line) || strings.HasPrefix(strings.TrimSpace(line), "//") {
				continue
			}
			changed := append([]string(nil), lines...)
			changed[i] = m.find.ReplaceAllString(line, m.put)
			list = append(list, strings.Join(changed, "\n"))
		}
	}
	return list
}

// TestMutants: of designs with a mistake a proof with passes says the same as one
// without, in as few steps.
func TestMutants(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	more, _ := filepath.Glob("testdata/verdicts/*.lien")
	var tried, whole, broken atomic.Int64
	t.Run("designs", func(t *testing.T) {
		for _, f := range append(files, more...) {
			text, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			t.Run(filepath.Base(f), func(t *testing.T) {
				t.Parallel()
				for i, mutant := range mutantsOf(string(text)) {
					d := design.Parse("mutant.lien", mutant)
					if d.Failed() || !*judge && i%20 != 0 {
						continue
					}
					tried.Add(1)
					plain := Run(d, Options{States: 400, Workers: 1, Plain: true, forget: true})
					if s := plain.Starts; len(s) == 0 || !s[0].Whole {
						continue
					}
					whole.Add(1)
					for _, o := range []Options{{States: 3000, Workers: 1}, {States: 3000, Workers: 1, slice: true}} {
						broken.Add(int64(sameOutcomes(t, o, plain, Run(d, o))))
					}
					if t.Failed() {
						t.Fatal(mutant)
					}
				}
			})
		}
	})
	if tried.Load() < 20 || whole.Load() < tried.Load()/3 || broken.Load() < whole.Load()/2 {
		t.Errorf("of %d mutants %d are small enough, with %d breaches: too few to tell anything", tried.Load(), whole.Load(), broken.Load())
	}
}
