package reshape

import (
	"slices"
	"strings"
	"testing"

	"lien/core/compare"
)

// TestAdvice: what is advised for a design, and that its command does it so that nobody can tell.
func TestAdvice(t *testing.T) {
	for _, c := range []struct {
		name, text string
		want       []string
	}{
		{"a cell that one part needs", `component bowl-card {
  takes n: number
  emits change(n: number)
  view { button "Add" { disabled <- n > 2; click -> emit change(n + 1) } }
}
component kiln-page {
  holds bowls: number = 0
  view { bowl-card { n <- bowls; change(v) -> bowls = v } }
}
start kiln-page
`, []string{"only bowl-card reads and changes bowls, which kiln-page holds => lower kiln-page.bowls"}},
		{"a context next door", `context rack {
  holds heat: number = 0
  action up() { heat += 1 }
}
component heat-field {
  uses rack
  view { button "Up" { disabled <- rack.heat > 2; click -> rack.up() } }
}
component kiln-page {
  supplies rack
  view { heat-field }
}
start kiln-page
`, []string{"only heat-field, right below kiln-page, uses rack => relink rack.heat --as report"}},
		{"a part that is written twice, and a half", `component kiln-page {
  holds lit: boolean = false
  holds bowls: number = 0

  derives full = bowls > 2

  view {
    section {
      h2 "The kiln, as it is"
      button "Light" { aria-pressed <- lit; click -> lit = !lit }
    }
    section {
      h2 "The kiln, as it is"
      button "Light" { aria-pressed <- lit; click -> lit = !lit }
    }
    section {
      h2 "Shelf"
      output ` + "`${bowls}`" + `
      button "Add" { disabled <- full; click -> bowls += 1 }
    }
  }
}
start kiln-page
`, []string{"this part of kiln-page shares nothing with the rest => extract 8-12", "this section is written again at kiln.lien:12:5 => extract 8 --all"}},
		{"a value that is handed through", before(t, "supply"), []string{"chosen is handed through ware-row, which does nothing with it => supply ware-page.chosen --as wareChosen"}},
		{"nothing to move", `component kiln-page {
  holds lit: boolean = false
  view { button "Light" { aria-pressed <- lit; click -> lit = !lit } }
}
start kiln-page
`, nil},
	} {
		t.Run(c.name, func(t *testing.T) {
			d := parse(t, c.text)
			var got []string
			for _, a := range Advise(d, Reparse(d)) {
				words := strings.Fields(strings.Replace(strings.TrimPrefix(a.Command, "lien "), "kiln.lien:", "", 1))
				got = append(got, a.Why+" => "+strings.Join(words, " "))
				res, err := commands[words[0]](d, words[1:])
				if err != nil {
					t.Errorf("%s: %v", a.Command, err)
				} else if compare.Run(d, res.Design, compare.Options{Pairs: 2000}).Differs() {
					t.Errorf("%s can be told:\n%s", a.Command, res.Files[0].Is)
				}
			}
			if !slices.Equal(got, c.want) {
				t.Errorf("advised\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(c.want, "\n"))
			}
		})
	}
}
