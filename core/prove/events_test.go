package prove

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"lien/core/engine"
	"lien/core/html"
)

// TestEveryEventIsMadeOrTold: a handler of any event on any kind of element runs in a
// proof, or the proof says that it does not make the event, or the standards say that
// no such element hears it.
func TestEveryEventIsMadeOrTold(t *testing.T) {
	const (
		button  = `button "b" { %s -> bad = true }`
		field   = `form { input { aria-label <- "i"; name <- "n"; %s -> bad = true } }`
		form    = `form { %s -> bad = true; input { aria-label <- "i"; name <- "n" }; button "s"; button "r" { type <- "reset" } }`
		details = `details { %s -> bad = true; summary "s"; p "x" }`
		dialog  = `dialog named d { aria-label <- "D"; %s -> bad = true; button "c" { click -> d.close() } }; button "o" { click -> d.showModal() }`
		text    = `p "x" { %s -> bad = true }`
		list    = `select { aria-label <- "l"; %s -> bad = true; option { value <- "a"; "A" }; option { value <- "b"; "B" } }`
	)
	never := map[string]string{ // what does not bubble, or comes from fields, forms, details and dialogs alone
		button:  "input change submit reset toggle beforetoggle close cancel beforeinput invalid",
		field:   "submit reset toggle beforetoggle close cancel invalid",
		form:    "focus blur toggle beforetoggle close cancel invalid",
		details: "focus blur input change submit reset close beforetoggle cancel beforeinput invalid",
		dialog:  "blur input change submit reset beforeinput invalid",
		text:    "keydown keyup focus blur focusin focusout input change submit reset toggle beforetoggle close cancel keypress beforeinput invalid",
		list:    "submit reset toggle beforetoggle close cancel beforeinput invalid",
	}
	for view, silent := range never {
		silent += " pointercancel" // nothing here can be dragged
		for _, event := range html.Events() {
			d := parsed(t, "component a-page { holds bad: boolean = false; view { "+fmt.Sprintf(view, event)+"; p `${bad}` } }\nstart a-page\nlaw \"l\" { never the(a-page).bad }\n")
			rep := Run(d, Options{})
			verdict := outcome(rep, "l").Verdict
			told := slices.ContainsFunc(rep.Cuts, func(c string) bool {
				return strings.HasPrefix(c, "gestures: no proof makes "+event+",") || engine.DragsElse(event) && strings.HasPrefix(c, "gestures: no proof drags")
			})
			switch {
			case verdict == Broken && !told:
			case verdict == HoldsWithin && told:
			case verdict == Holds && slices.Contains(strings.Fields(silent), event):
			default:
				t.Errorf("%s in\n  %s\nis %s, with the cuts %q", event, view, verdict, rep.Cuts)
			}
		}
	}
}
