package cli_test

import (
	"encoding/xml"
	"strings"
	"testing"
)

// A board on which notices come and go, with a law of every kind.
const board = `service kiln-log {
  load(): string replies "hot" fails "offline"
}

component board-page {
  holds message: string? = null
  holds rounds: number = 0
  holds who: string = ""
  holds wide: boolean = true

  timer forget after 7000 { message = null }

  view {
    button "Tell" {
      disabled <- message != null
      click    -> {
        message = "fired"
        start forget
      }
    }
    button "Count" { click -> rounds += 1 }
    button "Fold" { click -> wide = !wide }
    when wide {
      input {
        aria-label <- "Who"
        value      <-> who
      }
    }
    button "Load" { click -> ask kiln-log.load() { got(t) -> message = t } }
    p ~${message ?? ""} ${rounds} ${who.trim()}~
  }
}

start board-page

law "a notice stays" { stays the(board-page).message == "fired" for 7000 until the(board-page).message == "hot" }

law "it runs" { always !running(board-page.forget) || the(board-page).rounds >= 0 }

law "it may wait" { can waiting(kiln-log.load) }
`

// TestProveTells: reductions are named and can be turned off, cuts and verdicts
// are told apart in every format, and what is not heard is found.
func TestProveTells(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	write(t, dir, "board.lien", strings.ReplaceAll(board, "~", "`"))
	r := lien(t, dir, "prove", "board.lien", "--explain", "--states", "3000", "--span", "20s")
	r.want(t, 1, `holds within  law "a notice stays"`, `holds         law "it may wait"`, "BROKEN        unheard", "kiln-log.load fails, and nobody hears it",
		"span: what happens more than 20s from the start", "slices: each law and promise", "memory: a turn that depends", "partition: not used, ")
	lien(t, dir, "prove", "board.lien", "--explain", "--states", "3000", "--disable", "slices").want(t, 1, "slices: not used, it was disabled",
		"states: more than 3000; board-page.rounds has", "within the(board-page).rounds < 10")
	lien(t, dir, "prove", "board.lien", "--explain", "--plain", "--states", "300").want(t, 1, "slices: not used, --plain visits")
	lien(t, dir, "prove", "board.lien", "--disable", "slice").want(t, 2, "there is no reduction slice", "slices")
	lien(t, dir, "prove", "board.lien", "--span", "0s").want(t, 2, "leaves nothing to visit")
	var j struct {
		Holds  bool
		Starts []struct {
			Whole      bool
			Slices     int
			Reductions []struct {
				Name string
				Used bool
				Why  string
			}
		}
		Problems []struct{ Message string }
	}
	decode(t, lien(t, dir, "prove", "board.lien", "--format", "json", "--states", "3000").want(t, 1).out, &j)
	if j.Holds || len(j.Starts) != 1 || j.Starts[0].Whole || j.Starts[0].Slices == 0 || len(j.Starts[0].Reductions) < 5 || len(j.Problems) != 0 {
		t.Errorf("%+v", j)
	}
	var suite struct {
		Failures int `xml:"failures,attr"`
		Skipped  int `xml:"skipped,attr"`
		Cases    []struct {
			Name   string `xml:"name,attr"`
			Output string `xml:"system-out"`
		} `xml:"testcase"`
	}
	if err := xml.Unmarshal([]byte(lien(t, dir, "prove", "board.lien", "--format", "junit", "--states", "3000").want(t, 1).out), &suite); err != nil {
		t.Fatal(err)
	}
	within := false
	for _, c := range suite.Cases {
		within = within || c.Name == "a notice stays" && strings.Contains(c.Output, "span: ")
	}
	if suite.Failures != 1 || !within {
		t.Errorf("%+v", suite)
	}
}

// TestProveSamples: samples that name no field, or do not fit theirs, are errors.
func TestProveSamples(t *testing.T) {
	dir := t.TempDir()
	page := "component name-page {\n  holds name: string = \"\"\n  view { input { aria-label <- \"Name\"; value <-> name }; p `${name}` }\n}\n\n"
	write(t, dir, "none.lien", page+"start name-page { samples textbox \"Nome\" [\"Ada\"] }\n")
	lien(t, dir, "prove", "none.lien").want(t, 1, "no state has this field", "none.lien:6:")
	write(t, dir, "role.lien", page+"start name-page { samples button \"Name\" [\"Ada\"] }\n")
	lien(t, dir, "prove", "role.lien").want(t, 1, "cannot run")
	lien(t, dir, "check", "role.lien").want(t, 1, "nothing is typed into a button", "textbox, searchbox")
	write(t, dir, "type.lien", page+"start name-page { samples slider \"Name\" [\"Ada\"] }\n")
	lien(t, dir, "check", "type.lien").want(t, 1, "an item is a number, but this is a string")
	write(t, dir, "fine.lien", page+"start name-page { samples textbox \"Name\" [\"Ada\"] }\nlaw \"no Ada\" { never the(name-page).name.startsWith(\"Ad\") && the(name-page).name.endsWith(\"a\") && the(name-page).name.length == 3 }\n")
	lien(t, dir, "prove", "fine.lien").want(t, 1, "the fewest of what was looked at", "type \"Ada\" into textbox \"Name\"")
}

// TestOneOfSeveral: a step names one of several controls by its place, and a proof
// that needs one writes it so; what is kept fails when it is run.
func TestOneOfSeveral(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "load.lien", "component load-page {\n  holds at: number = 0\n  view {\n    button \"Load\" { click -> at = 1 }\n    button \"Load\" { click -> at = 2 }\n    p `${at}`\n  }\n}\n\nstart load-page\n\nlaw \"never two\" { never the(load-page).at == 2 }\n\nscenario \"one\" {\n  press button \"Load\" 1\n  shows \"1\"\n}\n")
	lien(t, dir, "prove", "load.lien", "--keep", "load.lien").want(t, 1, `press button "Load" 2`)
	lien(t, dir, "test", "load.lien").want(t, 1, "passed  \"one\"", "FAILED  \"breaks: never two\"")
	lien(t, dir, "fmt", "--diff", "load.lien").want(t, 0)
	write(t, dir, "both.lien", "component load-page {\n  view {\n    button \"Load\" { click -> log \"a\" }\n    button \"Load\" { click -> log \"b\" }\n  }\n}\n\nstart load-page\n\nscenario \"one\" { press button \"Load\" }\n")
	lien(t, dir, "test", "both.lien").want(t, 1, "there are 2 of button \"Load\"", "tell which: button \"Load\" 2")
	write(t, dir, "third.lien", "component load-page {\n  view {\n    button \"Load\" { click -> log \"a\" }\n  }\n}\n\nstart load-page\n\nscenario \"one\" { press button \"Load\" 3 }\n")
	lien(t, dir, "test", "third.lien").want(t, 1, "there is no button \"Load\" 3")
}

// TestLawsOverTime: scenarios hold them, too.
func TestLawsOverTime(t *testing.T) {
	dir := t.TempDir()
	page := "component note-page {\n  holds note: string? = null\n  timer forget after 3000 { note = null }\n  view {\n    button \"Note\" { click -> { note = \"n\"; start forget } }\n    button \"Close\" { click -> { note = null; stop forget } }\n    p `${note ?? \"none\"}`\n  }\n}\n\nstart note-page\n\n"
	for _, c := range []struct{ law, steps, want string }{
		{"leads the(note-page).note != null to the(note-page).note == null within 3000", "press button \"Note\"; wait 5000", ""},
		{"leads the(note-page).note != null to the(note-page).note == null within 2000", "press button \"Note\"; wait 2500", "after 2000 ms it has not led there"},
		{"leads the(note-page).note != null to the(note-page).note == null within 2000", "press button \"Note\"; wait 1500", ""},
		{"stays the(note-page).note != null for 3000", "press button \"Note\"; wait 3000", ""},
		{"stays the(note-page).note != null for 3001", "press button \"Note\"; wait 3000", "it stayed for 3000 ms only"},
		{"stays the(note-page).note != null for 3000", "press button \"Note\"; wait 100; press button \"Close\"", "it stayed for 100 ms only"},
		{"stays the(note-page).note == null until running(note-page.forget)", "press button \"Note\"; press button \"Close\"", ""},
		{"stays the(note-page).note != null until the(note-page).note == \"x\"", "press button \"Note\"; press button \"Close\"", "it did not stay"},
		{"always running(the(note-page).forget) == (the(note-page).note != null)", "press button \"Note\"; wait 3000", ""},
	} {
		write(t, dir, "note.lien", page+"law \"l\" { "+c.law+" }\n\nscenario \"s\" { "+c.steps+" }\n")
		if r := lien(t, dir, "test", "note.lien"); c.want == "" {
			r.want(t, 0)
		} else {
			r.want(t, 1, c.want)
		}
	}
	write(t, dir, "note.lien", page+"law \"l\" { leads the(note-page).note != null to true }\n")
	lien(t, dir, "check", "note.lien").want(t, 1, "it is not said by when")
	write(t, dir, "note.lien", page+"law \"l\" { within the(note-page).note == null }\n")
	lien(t, dir, "check", "note.lien").want(t, 1, "within stands in a start")
	write(t, dir, "note.lien", page+"law \"l\" { never running(note-page.later) }\n")
	lien(t, dir, "check", "note.lien").want(t, 1, "note-page has no timer later", "forget")
	write(t, dir, "note.lien", page+"law \"l\" { never waiting(kiln-log.load) }\n")
	lien(t, dir, "check", "note.lien").want(t, 1, "there is no service kiln-log")
}
