package story

import (
	"regexp"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
)

// told is a page in which a turn can do all that a record tells of.
const toldPage = `channel heat(now: number)
service kiln-log { load(k: number): string replies "warm" fails "off" }
component low-part {
  holds heard: number = 0
  emits gone(why: string)
  hears heat(now) { heard = now }
  on mount { log "there" }
  on unmount { emit gone("left") }
  view { p ` + "`${heard}`" + ` }
}
component ask-part {
  emits answered(ok: boolean)
  emits dismissed()
  view { button "Yes" { click -> leave answered(true) } }
}
component kiln-page {
  emits lit(n: number)
  holds on: boolean = false
  holds n: number = 0
  holds rows: { id: string, kg: number }[] = [{ id: "a", kg: 1 }, { id: "b", kg: 2 }]
  holds text: string = ""
  timer cool(k: number) after 100 { n = k }
  follows n { text = ` + "`n is ${n}`" + ` }
  action light() { n = 1; emit lit(n) }
  view {
    button "Turn" { click -> on = !on }
    when on { low-part { gone(why) -> text = why } }
    button "Send" { click -> send heat(900) }
    button "Start" { click -> { start cool(3); stop cool } }
    button "Ask" { click -> ask kiln-log.load(2) { got(x) -> text = x; failed(x) -> log x } }
    button "Open" { click -> open ask-part { answered(ok) -> log ok; dismissed -> log "no" } }
    button "Light" { click -> light() }
    button "Rows" { click -> rows = [{ id: "b", kg: 3 }, { id: "c", kg: 4 }, { id: "d", kg: 5 }] }
    button "Focus" { click -> field.focus() }
    input named field { aria-label <- "Field"; value <-> text }
    each r in rows by r.id { p ` + "`${r.kg}`" + ` }
  }
}
start kiln-page
`

// pieces is how many pieces were refreshed, and there are.
var pieces = regexp.MustCompile(`\d+ of \d+`)

// TestTurnLines: what each kind of entry in the record of a turn says.
func TestTurnLines(t *testing.T) {
	for _, c := range []struct{ steps, want string }{
		{`press button "Turn"`, "click on button\n  = kiln-page.on: false → true\n  · kiln-page > low-part on mount\n    “ there\n  some pieces refreshed, 1 component mounted"},
		{"press button \"Turn\"\npress button \"Turn\"", "click on button\n  = kiln-page.on: true → false\n  · kiln-page > low-part on unmount\n    ↑ kiln-page > low-part reports gone(\"left\")\n      = kiln-page.text: \"\" → \"left\"\n  some pieces refreshed, 1 component unmounted"},
		{`press button "Send"`, "click on button\n  ≈ kiln-page sends heat(900), heard by 0\n  some pieces refreshed"},
		{"press button \"Turn\"\npress button \"Send\"", "click on button\n  ≈ kiln-page sends heat(900), heard by 1\n    = kiln-page > low-part.heard: 0 → 900\n  some pieces refreshed"},
		{`press button "Start"`, "click on button\n  · kiln-page starts cool(3)\n  · kiln-page stops cool()\n  some pieces refreshed"},
		{`press button "Ask"`, "click on button\n  · kiln-page asks kiln-log.load(2)\n  some pieces refreshed"},
		{"press button \"Ask\"\nfail kiln-log.load", "fail kiln-log.load\n  “ off\n  some pieces refreshed"},
		{`press button "Open"`, "click on button\n  ◻ opens ask-part\n  some pieces refreshed, 1 component mounted"},
		{`press button "Light"`, "click on button\n  · kiln-page runs light()\n    = kiln-page.n: 0 → 1\n    ↑ kiln-page reports lit(1)\n  · kiln-page follows n\n    = kiln-page.text: \"\" → \"n is 1\"\n  some pieces refreshed"},
		{`press button "Rows"`, "click on button\n  = kiln-page.rows"},
		{`press button "Focus"`, "click on button\n  · runs focus()\n    · calls input.focus()\n  some pieces refreshed"},
		{`type "x" into textbox "Field"`, "input on input\n  = kiln-page.text: \"\" → \"x\"\n  some pieces refreshed"},
	} {
		d := design.Parse("told.lien", toldPage+"scenario \"s\" {\n"+c.steps+"\n}\n")
		if d.Failed() {
			t.Fatalf("%s: %s", d.Set.Position(d.Findings[0].Span.Start), d.Findings[0].Message)
		}
		var last string
		Walk(d, d.Scenarios[0], engine.New(d), func(_ *design.Start, e *engine.Engine) {
			for _, r := range e.Turns() {
				if len(r.Entries) > 0 {
					last = strings.Join(TurnLines(Turn{r, 1}), "\n")
				}
			}
		})
		last = pieces.ReplaceAllString(last, "some")
		if !strings.HasPrefix(last, c.want) {
			t.Errorf("%s:\n got %s\nwant %s", c.steps, last, c.want)
		}
	}
}
