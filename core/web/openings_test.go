package web

import "testing"

// TestOpenedComesAfterThePage: what is open stands behind all that is on the page, and so it ends and hears after that.
func TestOpenedComesAfterThePage(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `channel news(text: string)
component ask-box {
  emits answered()
  hears news(text) { log text }
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
  takes name: string
  emits heard(name: string)
  hears news(text) { emit heard(`+"`${name} of ${text}`"+`) }
  view { p `+"`${name}`"+` }
}
component kiln-page {
  holds shown: boolean = true
  holds said: string = ""
  hears news(text) { said = `+"`${said} ${text}`"+` }
  action say(text: string) { said = `+"`${said} ${text}`"+` }
  view {
    button "Ask" { click -> open ask-box { answered -> shown = false } }
    button "Ask two" { click -> { open ask-part { name <- "one"; heard(text) -> say(text) }; open ask-part { name <- "two"; heard(text) -> say(text) }; send news("early") } }
    button "Tell" { click -> { said = ""; send news("told") } }
    when shown { kiln-part { name <- "row"; heard(text) -> say(text) } }
    kiln-part { name <- "last"; heard(text) -> say(text) }
    output `+"`${said}`"+`
  }
}
start kiln-page
`)
	for _, c := range [][2]string{
		{"Ask", ""},
		{"Yes", " row last of row box last of box"},
		{"Tell", " told last of told"},
		{"Ask two", " told last of told early last of early"},
		{"Tell", " told last of told one of told two of told"},
	} {
		if err := p.Press(p.button(t, c[0]), mouse); err != nil {
			t.Errorf("%s: %v", c[0], err)
		}
		if said := p.output(t); said != c[1] {
			t.Errorf("%s: it said %q, want %q", c[0], said, c[1])
		}
	}
}
