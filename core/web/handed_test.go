package web

import (
	"strings"
	"testing"
)

// TestHandedOn: what a component only shows is its user's value itself; where code reads it, or it is there under a
// condition alone, it is a value of its own.
func TestHandedOn(t *testing.T) {
	t.Parallel()
	const page = `
component kiln-lamp {
  takes lit: boolean
  MEMBER
  view { p { .lit <- lit; hidden <- !lit; when lit { "on" } else { "off" } } }
}

component kiln-page {
  holds on: boolean = false
  holds maybe: boolean? = null
  derives bright = on
  view {
    USE
    button "Fire" { click -> { on = !on; maybe = on } }
  }
}

start kiln-page
`
	const is = `lit: "`
	for _, c := range []struct{ member, use, want string }{
		{"", "kiln-lamp { lit <- on }", is + `on"`},
		{"", "kiln-lamp { lit <- bright }", is + `bright"`},
		{"", "kiln-lamp { lit <- !on }", ""},
		{"", "when maybe != null { kiln-lamp { lit <- maybe } }", ""},
		{"on unmount { log lit }", "kiln-lamp { lit <- on }", ""},
		{"derives dim = !lit", "kiln-lamp { lit <- on }", ""},
		{"follows lit { log 1 }", "kiln-lamp { lit <- on }", ""},
		{"offers said() { log lit }", "kiln-lamp { lit <- on }", ""},
		{"", "each l in [true, false] by l { kiln-lamp { lit <- l } }", ""},
	} {
		d := parse(t, strings.NewReplacer("MEMBER", c.member, "USE", c.use).Replace(page))
		files, err := Build(d, Options{Start: d.Starts[0]})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range files {
			if text := string(f.Text); f.Path == "components/kiln-page.js" && (strings.Contains(text, is) != (c.want != "") || !strings.Contains(text, c.want)) {
				t.Errorf("%s, %s: want %q\n%s", c.member, c.use, c.want, text)
			}
		}
	}
}
