package story

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
)

// controls is a page with one of most things that people act on.
const controls = `type Glaze = "ash" | "shino"
service kiln-log {
  load(): string replies "loaded" fails "offline"
  save()
}
component row-part {
  takes id: string
  emits drop(id: string)
  view {
    li {
      ` + "`${id}`" + `
      button "Drop" { click -> emit drop(id) }
    }
  }
}
component step-page {
  emits left(why: string, n: number)
  offers say(what: string) { text = what }
  holds text: string = ""
  holds on: boolean = false
  holds glaze: Glaze = "ash"
  holds heat: number = 20
  holds rows: string[] = ["a", "b", "c"]
  holds got: string = ""
  holds keys: string = ""
  holds hovered: number = 0
  holds menu: boolean = false
  view {
    h1 "Steps"
    label { "Name"; input { value <-> text } }
    label { "Fixed"; input { readonly <- true } }
    label { "On"; input { type <- "checkbox"; checked <-> on } }
    label { "Glaze"; select { value <-> glaze; option "Ash" { value <- "ash" }; option "Shino" { value <- "shino" }; option "Tin" { value <- "tin"; disabled <- true } } }
    label { "Heat"; input { type <- "range"; max <- 1000; value <-> heat } }
    button "Leave" { click -> emit left("done", 2) }
    button "Off" { disabled <- !on }
    button "Load" { click -> ask kiln-log.load() { got(x) -> got = x; failed(x) -> got = x } }
    ul { each r in rows by r { row-part { id <- r; drop(id) -> rows = rows.filter(x => x != id) } } }
    div.box { tabindex <- 0; role <- "listbox"; aria-label <- "Box"; keydown(e) -> keys = keys + (e.ctrlKey ? "^" : "") + e.key; mouseenter -> hovered += 1; mouseleave -> hovered += 10 }
    div { role <- "menu"; aria-label <- "Menu"; outside -> menu = true; "menu" }
    p.out ` + "`${text}|${on}|${glaze}|${heat}|${got}|${keys}|${hovered}|${menu}`" + `
    div { hidden <- true; button "Hidden" }
    details { summary "More"; p "inner" }
  }
}
start step-page
`

// tell runs steps on the page.
func tell(t *testing.T, steps string) *Result {
	t.Helper()
	d := design.Parse("steps.lien", controls+"scenario \"s\" {\n"+steps+"\n}\n")
	for _, f := range d.Findings {
		if d.Failed() {
			t.Fatalf("%s\n%s: %s", steps, d.Set.Position(f.Span.Start), f.Message)
		}
	}
	return Run(d, nil).Results[0]
}

// TestStepsPass: what people do has the effect that it has on a page.
func TestStepsPass(t *testing.T) {
	for _, steps := range []string{
		`shows heading "Steps"`,
		"type \"Ada\" into textbox \"Name\"\nshows textbox \"Name\" holding \"Ada\"\nshows \"Ada|false\"",
		"type \"Ada\" into textbox \"Name\"\ntype \"Bo\" into textbox \"Name\"\nshows \"Bo|\"",
		"type \"Ada\" into textbox \"Name\"\nclear textbox \"Name\"\nlacks \"Ada\"",
		"tick checkbox \"On\"\nshows checked checkbox \"On\"\nshows enabled button \"Off\"\nuntick checkbox \"On\"\nshows \"|false|\"",
		"choose \"Shino\" in combobox \"Glaze\"\nshows combobox \"Glaze\" holding \"Shino\"\nshows \"|shino|\"\nshows selected option \"Shino\"",
		"set slider \"Heat\" to 900\nshows \"|900|\"\nset slider \"Heat\" to the(step-page).heat + 1\nshows \"|901|\"",
		"press button \"Leave\"\nreports left\nreports left(\"done\", 2)",
		"press button \"Load\"\nreply kiln-log.load\nshows \"|loaded|\"",
		"press button \"Load\"\npress button \"Load\"\nfail kiln-log.load\nshows \"|offline|\"\nreply kiln-log.load\nshows \"|loaded|\"",
		"shows 3 listitem\npress button \"Drop\" in listitem containing \"b\"\nshows 2 listitem\nlacks listitem containing \"b\"",
		"inside row-part 2 { press button \"Drop\" }\nlacks listitem containing \"b\"",
		"inside listitem \"x\" { shows \"x\" }",
		"inside list { shows 3 button \"Drop\" }\nlacks 4 button \"Drop\"",
		"key \"x\" on listbox \"Box\"\nkey \"Control+a\"\nshows \"|x^Control^a|\"\nshows focused listbox \"Box\"",
		"hover listbox \"Box\"\nshows \"|1|\"\nhover button \"Leave\"\nshows \"|11|\"",
		"press outside menu \"Menu\"\nshows \"|true\"",
		"press menu \"Menu\"\nlacks \"|true\"",
		"press \".box\"\nshows focused listbox \"Box\"",
		"focus button \"Leave\"\nshows focused button \"Leave\"\nblur\nlacks focused button",
		"focus button \"Leave\"\nkey \"Enter\"\nreports left",
		"focus checkbox \"On\"\nkey \" \"\nshows checked checkbox \"On\"",
		"lacks \"inner\"\npress button \"More\"\nshows \"inner\"\nshows expanded button \"More\"",
		"lacks button \"Hidden\"",
		"expect the(step-page).rows.length == 3 && all(row-part).length == 3",
		"call step-page.say(\"hi\" + \"!\")\nshows textbox \"Name\" holding \"hi!\"",
		"wait 100\nexpect the(step-page).heat == 20",
		"shows listbox \"Box\" with .box\nshows listbox with tabindex \"0\" with .box\nlacks listbox with .wide\nlacks listbox with tabindex \"1\"\nshows listbox with tabindex",
	} {
		res := tell(t, steps)
		want := steps == "inside listitem \"x\" { shows \"x\" }"
		if (res.Failure != nil) != want {
			t.Errorf("%s\n%+v", steps, res.Failure)
		}
	}
}

// TestStepsFail: a step that cannot be taken says why, and what is there.
func TestStepsFail(t *testing.T) {
	for _, c := range []struct{ steps, message, write string }{
		{`press button "Leeve"`, `there is no button "Leeve"`, `button "Leave"`},
		{`press link "x"`, "the page has no link at all", "the page"},
		{`press button "Drop"`, `there are 3 of button "Drop"`, "inside row"},
		{`press button "Off"`, `button "Off" is disabled`, "what enables it"},
		{`press button "Hidden"`, `there is no button "Hidden"`, "there is"},
		{`shows listbox "Box" with .wide`, `there is no listbox "Box" with .wide`, `listbox "Box" .box`},
		{`shows listbox with tabindex "1"`, `there is no listbox with tabindex "1"`, "there is"},
		{`press ".gone"`, "there is no element with the class .gone", ""},
		{`tick button "Leave"`, "cannot be ticked", "press it"},
		{`untick checkbox "On"`, "is not ticked already", "leave this step out"},
		{"tick checkbox \"On\"\ntick checkbox \"On\"", "is ticked already", ""},
		{`type "x" into button "Leave"`, "nothing can be typed", "input or textarea"},
		{`type "x" into textbox "Fixed"`, "can only be read", "readonly"},
		{`type "x" into checkbox "On"`, "nothing can be typed", "tick"},
		{`type "900" into slider "Heat"`, "nothing can be typed", "set"},
		{`choose "Clear" in combobox "Glaze"`, `does not offer "Clear"`, `"Ash", "Shino", "Tin"`},
		{`choose "Tin" in combobox "Glaze"`, `the option "Tin" is disabled`, ""},
		{`focus heading "Steps"`, "cannot have the focus", "tabindex"},
		{`reply kiln-log.save`, "kiln-log.save was not asked", "nothing waits"},
		{"press button \"Load\"\nreply kiln-log.save", "was not asked", "these wait: kiln-log.load"},
		{"press button \"Load\"\nreply kiln-log.load\nreply kiln-log.load", "answered already", ""},
		{`reports left`, "left was not reported", "below"},
		{"press button \"Leave\"\nreports left(\"no\", 2)", "was not reported so", `left("done", 2)`},
		{`shows "nothing"`, `does not show "nothing"`, ""},
		{`lacks "Steps"`, `the page shows "Steps"`, ""},
		{`shows 4 listitem`, "there are 3 of listitem", ""},
		{`lacks 3 listitem`, "there are 3 of listitem", ""},
		{`lacks listitem "a"`, "what it shows is not its name", "listitem containing"},
		{`lacks heading "Steps"`, `the page has heading "Steps"`, ""},
		{`shows pressed button "Leave"`, `there is no pressed button "Leave"`, ""},
		{`shows textbox "Name" holding "x"`, `textbox "Name" holding "x"`, `holding ""`},
		{`shows paragraph "x|"`, "", ""},
		{`shows listitem "a"`, "what it shows is not its name", "listitem containing"},
		{`inside listitem containing "z" { shows "z" }`, "there is no listitem containing", ""},
		{`inside listitem { shows "a" }`, "there are 3 of listitem", ""},
		{`inside row-part 9 { shows "a" }`, "there is no row-part", ""},
		{`inside row-part 1 { shows "b" }`, `does not show "b"`, ""},
		{`expect the(step-page).heat == 21`, "is not so", "the left side is 20, the right side 21"},
		{`expect the(row-part).id == "a"`, "asks for the only one, but there are 3", ""},
	} {
		res := tell(t, c.steps)
		if res.Failure == nil {
			t.Errorf("%s: it passed", c.steps)
			continue
		}
		if f := res.Failure; !strings.Contains(f.Message, c.message) || !strings.Contains(f.Write, c.write) || len(f.Page) == 0 || len(f.State) == 0 {
			t.Errorf("%s: %s; %s", c.steps, f.Message, f.Write)
		}
	}
}

// TestOthersOfTheName: where an element of the name is there, and something else of it differs, only those of the name are told.
func TestOthersOfTheName(t *testing.T) {
	f := tell(t, `shows textbox "Name" holding "x"`).Failure
	if f == nil || f.Write != `there is: textbox "Name" holding ""` {
		t.Errorf("%+v", f)
	}
}

// TestPartsAsWritten: a field that is filled by parts takes what it can hold, and nothing else.
func TestPartsAsWritten(t *testing.T) {
	for kind, is := range asWritten {
		text := "component a-b {\n  holds at: string = \"\"\n  view { label { \"At\"; input { type <- " + quote(kind) + "; value <-> at } } }\n}\nstart a-b\n"
		for _, typed := range []string{is, "24.12. at noon"} {
			d := design.Parse("parts.lien", text+"scenario \"s\" { type "+quote(typed)+" into textbox \"At\"; expect the(a-b).at == "+quote(typed)+" }\n")
			if d.Failed() {
				t.Fatal(d.Findings[0].Message)
			}
			f := Run(d, nil).Results[0].Failure
			if (f == nil) != (typed == is) || f != nil && !strings.Contains(f.Write, is) {
				t.Errorf("%s %q: %+v", kind, typed, f)
			}
		}
	}
}

// TestPageAsRead: the page is told by role, name, state and value.
func TestPageAsRead(t *testing.T) {
	res := tell(t, "tick checkbox \"On\"\nshows \"nothing\"")
	want := []string{
		`heading "Steps"`,
		`textbox "Name" holding ""`,
		`textbox "Fixed" holding ""`,
		`checkbox "On" (checked) (focused)`,
		`combobox "Glaze" holding "Ash"`,
		`  option "Ash" (selected)`,
		`  option "Shino"`,
		`  option "Tin" (disabled)`,
		`slider "Heat" holding "20"`,
		`button "Leave"`,
		`button "Off"`,
		`button "Load"`,
		`list`,
		`  listitem`,
		`    "a"`,
		`    button "Drop"`,
	}
	for i, w := range want {
		if i >= len(res.Failure.Page) || res.Failure.Page[i] != w {
			t.Fatalf("line %d is %q, want %q\n%s", i+1, res.Failure.Page[min(i, len(res.Failure.Page)-1)], w, strings.Join(res.Failure.Page, "\n"))
		}
	}
}

// TestTrace: what a step did is told in order, with what led to what.
func TestTrace(t *testing.T) {
	d := design.Parse("steps.lien", controls+`scenario "s" {
  press button "Load"
  reply kiln-log.load
  press button "Drop" in listitem containing "b"
  shows "loaded"
}
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	steps, res := Trace(d, d.Scenarios[0])
	if res.Failure != nil || len(steps) != 5 || steps[0].Step != nil {
		t.Fatalf("%d steps, %+v", len(steps), res.Failure)
	}
	var got []string
	for _, s := range steps[1:4] {
		for _, r := range s.Turns {
			for _, en := range r.Entries {
				got = append(got, strings.Repeat("-", en.Depth)+string(en.Kind)+" "+en.What)
			}
		}
	}
	want := "changes menu, asks kiln-log.load, changes got, reports drop, -changes rows"
	if strings.Join(got, ", ") != want {
		t.Errorf("the trace is %s", strings.Join(got, ", "))
	}
	last := steps[3].Turns[len(steps[3].Turns)-1]
	if last.Refreshed == 0 || last.Pieces < last.Refreshed || len(last.Unmounted) != 1 || last.Entries[0].Path() != `step-page > row-part["b"]` {
		t.Errorf("%d of %d pieces, unmounted %v", last.Refreshed, last.Pieces, last.Unmounted)
	}
	if last.Entries[1].Kind != engine.Changed || last.Entries[0].Heard != 1 {
		t.Errorf("the entries are %+v", last.Entries)
	}
}

// What is pressed inside a part of the page is traced, all of it; a step that
// only looks leads to nothing.
func TestTraceInside(t *testing.T) {
	d := design.Parse("steps.lien", controls+`scenario "s" {
  press button "Load"
  reply kiln-log.load
  inside listitem containing "b" { shows button "Drop" }
  inside list { press button "Drop" in listitem containing "b"; press button "Drop" in listitem containing "a" }
}
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	steps, res := Trace(d, d.Scenarios[0])
	if res.Failure != nil || len(steps) != 5 {
		t.Fatalf("%d steps, %+v", len(steps), res.Failure)
	}
	if !steps[3].Step.Looks() || steps[4].Step.Looks() {
		t.Error("a step that looks is one that acts, or the other way round")
	}
	reports := 0
	for _, r := range steps[4].Turns {
		reports += len(r.Reports)
	}
	if reports != 2 {
		t.Errorf("of two presses %d are traced", reports)
	}
}
