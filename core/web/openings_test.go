package web

import (
	"testing"

	"lien/core/engine"
)

// TestOpenedComesAfterThePage: what is open stands behind all that is on the page, and so it ends and hears after that.
func TestOpenedComesAfterThePage(t *testing.T) {
	t.Parallel()
	b := openBrowser(t)
	d := parse(t, `channel news(text: string)
component ask-box {
  emits answered()
  hears news(text) { log text }
  holds heard: number = 0
  on unmount { send news("box") }
  view { button "Yes" { click -> leave answered() } }
}
component kiln-part {
  takes name: string
  emits heard(name: string)
  on unmount { send news(name) }
  hears news(text) { emit heard(`+"`${name} of ${text}`"+`) }
  view { p `+"`${name}`"+` }
}
component ask-part {
  emits heard(name: string)
  hears news(text) { emit heard(`+"`asked of ${text}`"+`) }
  emits answered()
  view { button "No" { click -> leave answered() } }
}
component kiln-page {
  holds shown: boolean = true
  holds said: string = ""
  hears news(text) { said = `+"`${said} ${text}`"+` }
  action say(text: string) { said = `+"`${said} ${text}`"+` }
  view {
    button "Ask" { click -> open ask-box { answered -> shown = false } }
    button "Ask twice" { click -> { open ask-part { answered -> shown = true; heard(text) -> say(text) }; send news("early") } }
    button "Tell" { click -> { said = ""; send news("told") } }
    when shown { kiln-part { name <- "row"; heard(text) -> say(text) } }
    kiln-part { name <- "last"; heard(text) -> say(text) }
    output `+"`${said}`"+`
  }
}
start kiln-page
`)
	e := engine.New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	p, err := b.Beside(d, e, d.Starts[0])
	if err != nil {
		t.Fatal(err)
	}
	said := ""
	press := func(name string) {
		t.Helper()
		for _, el := range elements(e.DOM()) {
			if el.Tag() == "button" && e.Name(engine.ElementOf(el)) == name {
				if err := p.Press(el, mouse); err != nil {
					t.Errorf("%s: %v", name, err)
				}
				break
			}
		}
		for _, el := range elements(e.DOM()) {
			if el.Tag() == "output" {
				said = el.Children()[0].Text
			}
		}
	}
	for _, c := range [][2]string{
		{"Ask", ""},
		{"Yes", " row last of row box last of box"},
		{"Tell", " told last of told"},
		{"Ask twice", " told last of told early last of early"},
		{"Tell", " told last of told asked of told"},
	} {
		if press(c[0]); said != c[1] {
			t.Errorf("%s: it said %q, want %q", c[0], said, c[1])
		}
	}
}
