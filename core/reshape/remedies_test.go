package reshape

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"lien/core/check"
	"lien/core/compare"
	"lien/core/design"
	"lien/core/finding"
)

// command is one that a finding writes into its remedy.
var command = regexp.MustCompile(`lien ((?:supply|relink|lift|lower|join|split) [^ ]+\.[^ ]+(?: [^ ]+\.[^ ]+)?(?: --as \w+)?) (?:does|makes|moves)`)

// TestRemedies: where a finding names a command, the command is made, nobody can tell what comes of it, and it is
// found no more.
func TestRemedies(t *testing.T) {
	var tried []string
	designs := []string{`component kiln-page {
  holds lit: boolean = false
  holds hot: boolean = false

  view {
    button "Light" { click -> { lit = true; hot = true } }
    button "Damp" { disabled <- !lit; click -> { lit = false; hot = false } }
    when hot { p "It is hot." }
  }
}

start kiln-page
`}
	for _, rule := range check.Rules() {
		designs = append(designs, check.Page(rule).Wrong)
	}
	for _, text := range designs {
		d := design.Parse("kiln.lien", text)
		for _, f := range check.Run(d, check.Options{}) {
			rule, m := f.Rule, command.FindStringSubmatch(f.Write)
			if m == nil || len(d.Errors()) > 0 {
				continue
			}
			words := strings.Fields(m[1])
			tried = append(tried, rule+": "+words[0])
			res, err := commands[words[0]](d, words[1:])
			if err != nil {
				t.Errorf("%s: %s: %v", rule, m[1], err)
				continue
			}
			again := func(o *finding.Finding) bool { return o.Rule == rule && o.Message == f.Message }
			if slices.ContainsFunc(check.Run(res.Design, check.Options{}), again) {
				t.Errorf("%s: %s leaves it:\n%s", rule, m[1], res.Files[0].Is)
			}
			if compare.Run(d, res.Design, compare.Options{Pairs: 2000}).Differs() {
				t.Errorf("%s: %s can be told:\n%s", rule, m[1], res.Files[0].Is)
			}
		}
	}
	t.Log(tried)
	for _, want := range []string{"passed-through: supply", "used-next-door: relink", "always-together: join"} {
		if !slices.Contains(tried, want) {
			t.Errorf("%s is not among the remedies", want)
		}
	}
}
