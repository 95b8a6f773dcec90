package story

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
)

// TestHeavy: once turns have taken very many steps the scenarios that are left are not
// run, which is told; light ones are run, however many there are.
func TestHeavy(t *testing.T) {
	defer func(was int) { mostHeavy = was }(mostHeavy)
	mostHeavy = 40_000
	var short strings.Builder
	for i := range 30 {
		fmt.Fprintf(&short, "scenario \"short %d\" { press button \"Short\" }\n", i)
	}
	d := design.Parse("d.lien", `
component kiln-lamp {
  holds n: number = 0
  view {
    button "Long" { click -> n = Array.from(60000, i => i).length }
    button "Short" { click -> n = Array.from(10, i => i).length }
    p `+"`${n}`"+`
  }
}
start kiln-lamp
`+short.String()+`
scenario "long" { press button "Long" }
scenario "late" { press button "Short" }
`)
	if d.Failed() {
		t.Fatal(d.Errors()[0].Message)
	}
	for _, r := range Run(d, nil).Results {
		late := r.Scenario.Name == "late"
		if (r.Failure != nil) != late || late && !strings.Contains(r.Failure.Message, "was not run") {
			t.Errorf("%s: %+v", r.Scenario.Name, r.Failure)
		}
	}
}
