package engine

import (
	"strings"
	"testing"

	"lien/core/design"
)

// viewed mounts a view.
func viewed(t *testing.T, view string) *Engine {
	t.Helper()
	d := design.Parse("test.lien", "component a-b {\n  holds n: number = 1\n  holds yes: boolean = true\n  view {\n"+view+"\n  }\n}\nstart a-b\n")
	for _, f := range d.Findings {
		if d.Failed() {
			t.Fatalf("%s\n%s: %s", view, d.Set.Position(f.Span.Start), f.Message)
		}
	}
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	return e
}

// marked is the element with the class x.
func marked(t *testing.T, e *Engine) *Element {
	t.Helper()
	var found *Element
	e.Elements(func(el *Element) bool {
		for _, c := range el.Classes() {
			if c == "x" {
				found = el
			}
		}
		return found == nil
	})
	if found == nil {
		t.Fatal("no element has the class x")
	}
	return found
}

// TestRolesNamesAndStates: the element with the class x is found as the
// standards say.
func TestRolesNamesAndStates(t *testing.T) {
	for _, c := range []struct{ view, want string }{
		{`button.x "Load"`, `button "Load"`},
		{`button.x { "Lo"; span "ad" }`, `button "Load"`},
		{`button.x { "Load"; div "now" }`, `button "Load now"`},
		{`button.x "Load" { aria-label <- "Fill" }`, `button "Fill"`},
		{`button.x "Load" { aria-labelledby <- "a b" }; p "One" { id <- "a" }; p "Two" { id <- "b" }`, `button "One Two"`},
		{`button.x "Load" { aria-labelledby <- "a" }; p "One" { id <- "a"; aria-labelledby <- "b" }; p "Two" { id <- "b" }`, `button "One"`},
		{`button.x { title <- "Hint" }`, `button "Hint"`},
		{`button.x { img { alt <- "Bowl"; src <- "b.png" } }`, `button "Bowl"`},
		{`button.x { span "hid" { aria-hidden <- true }; "shown" }`, `button "shown"`},
		{`button.x "B" { disabled <- yes }`, `button "B" disabled`},
		{`button.x "B" { aria-disabled <- yes }`, `button "B" disabled`},
		{`button.x "B" { aria-pressed <- yes }`, `button "B" pressed`},
		{`button.x "B" { aria-expanded <- yes }`, `button "B" expanded`},
		{`button.x "B" { aria-expanded <- !yes }`, `button "B" collapsed`},
		{`a.x "Kilns" { href <- "#" }`, `link "Kilns"`},
		{`a.x "Kilns" { href <- "#"; aria-current <- "page" }`, `link "Kilns" current`},
		{`a.x "Kilns"`, `generic ""`},
		{`h2.x "Title"`, `heading "Title"`},
		{`p.x "Text"`, `paragraph ""`},
		{`ul.x { li "One" }`, `list ""`},
		{`ul { li.x "One" }`, `listitem ""`},
		{`label { "Maker"; input.x }`, `textbox "Maker"`},
		{`label "Maker" { for <- "m" }; input.x { id <- "m" }`, `textbox "Maker"`},
		{`input.x { aria-label <- "M"; aria-invalid <- "true" }`, `textbox "M" invalid`},
		{`input.x { placeholder <- "who" }`, `textbox "who"`},
		{`input.x { title <- "T"; placeholder <- "who" }`, `textbox "T"`},
		{`input.x { type <- "search"; aria-label <- "S" }`, `searchbox "S"`},
		{`input.x { type <- "number"; aria-label <- "S" }`, `spinbutton "S"`},
		{`input.x { type <- "range"; aria-label <- "S" }`, `slider "S"`},
		{`input.x { type <- "email"; aria-label <- "S"; list <- "l" }`, `combobox "S"`},
		{`label { input.x { type <- "checkbox"; checked <- yes }; "On" }`, `checkbox "On" checked`},
		{`label { input.x { type <- "checkbox"; indeterminate <- yes }; "On" }`, `checkbox "On" mixed`},
		{`label { input.x { type <- "radio" }; "One" }`, `radio "One"`},
		{`input.x { type <- "submit" }`, `button "Submit"`},
		{`input.x { type <- "reset" }`, `button "Reset"`},
		{`input.x { type <- "button"; value <- "Go" }`, `button "Go"`},
		{`textarea.x { aria-label <- "Note" }`, `textbox "Note"`},
		{`label { "Glaze"; select.x { option "Ash" } }`, `combobox "Glaze"`},
		{`select.x { multiple <- yes; aria-label <- "G" }`, `listbox "G"`},
		{`select { option.x "Ash" }`, `option "Ash" selected`},
		{`select { option "Ash"; option.x "Shino" }`, `option "Shino"`},
		{`select { option "Ash"; option.x "Shino" { selected <- yes } }`, `option "Shino" selected`},
		{`fieldset.x { legend "Glaze"; p "x" }`, `group "Glaze"`},
		{`fieldset { disabled <- yes; legend { button.x "B" } }`, `button "B"`},
		{`fieldset { disabled <- yes; legend "L"; button.x "B" }`, `button "B" disabled`},
		{`table.x { caption "Firings"; tr { td "1" } }`, `table "Firings"`},
		{`table { tr.x { td "1"; td "2" } }`, `row "1 2"`},
		{`table { tr { td.x "1" } }`, `cell "1"`},
		{`table { role <- "grid"; tr { td.x "1" } }`, `gridcell "1"`},
		{`table { tr { th.x "Day" } }`, `columnheader "Day"`},
		{`table { tr { th.x "Day" { scope <- "row" } } }`, `rowheader "Day"`},
		{`figure.x { img { alt <- "a"; src <- "b" }; figcaption "Our kiln" }`, `figure "Our kiln"`},
		{`img.x { alt <- ""; src <- "b" }`, `none ""`},
		{`nav.x { aria-label <- "Main" }`, `navigation "Main"`},
		{`main.x "x"`, `main ""`},
		{`header.x "x"`, `banner ""`},
		{`article { header.x "x" }`, `sectionheader ""`},
		{`footer.x "x"`, `contentinfo ""`},
		{`aside.x "x"`, `complementary ""`},
		{`section.x "x"`, `generic ""`},
		{`section.x { aria-label <- "S" }`, `region "S"`},
		{`form.x { aria-label <- "F" }`, `form "F"`},
		{`details.x { summary "More"; p "y" }`, `group ""`},
		{`details { open <- yes; summary.x "More" }`, `button "More" expanded`},
		{`dialog.x { open <- yes; aria-label <- "D" }`, `dialog "D"`},
		{`output.x "3"`, `status ""`},
		{`progress.x { aria-label <- "P" }`, `progressbar "P"`},
		{`meter.x { aria-label <- "P" }`, `meter "P"`},
		{`hr.x`, `separator ""`},
		{`div.x "A" { role <- "alert" }`, `alert ""`},
		{`div.x "A" { role <- "tab"; aria-selected <- yes }`, `tab "A" selected`},
		{`div.x "A" { role <- "nonsense tab" }`, `tab "A"`},
		{`div.x "A" { role <- "checkbox"; aria-checked <- "mixed" }`, `checkbox "A" mixed`},
		{`div.x "A" { role <- "switch"; aria-checked <- yes }`, `switch "A" checked`},
		{`label { "Heat"; input.x { type <- "range"; value <- 900 } }`, `slider "Heat"`},
		{`div.x { role <- "button"; "Set "; input { type <- "range"; value <- 90; aria-label <- "h" }; " degrees" }`, `button "Set 90 degrees"`},
		{`label { input.x { type <- "checkbox" }; "Every "; input { value <- "5"; aria-label <- "n" }; " days" }`, `checkbox "Every 5 days"`},
		{`label { input.x { type <- "checkbox" }; "In "; select { aria-label <- "g"; option "ash" }; " glaze" }`, `checkbox "In ash glaze"`},
		{`svg.x { title "Kiln" }`, `image "Kiln"`},
	} {
		e := viewed(t, c.view)
		el := marked(t, e)
		got := el.Role() + ` "` + e.Name(el) + `"`
		if states := e.States(el); len(states) > 0 {
			got += " " + strings.Join(states, " ")
		}
		if got != c.want {
			t.Errorf("%s\nis %s, want %s", c.view, got, c.want)
		}
	}
}

func TestHidden(t *testing.T) {
	for _, c := range []struct {
		view   string
		hidden bool
	}{
		{`p.x "a"`, false},
		{`p.x "a" { hidden <- yes }`, true},
		{`p.x "a" { hidden <- !yes }`, false},
		{`div { hidden <- yes; p.x "a" }`, true},
		{`div { inert <- yes; p.x "a" }`, true},
		{`div { aria-hidden <- yes; p.x "a" }`, true},
		{`dialog { p.x "a" }`, true},
		{`dialog { open <- yes; p.x "a" }`, false},
		{`details { summary "S"; p.x "a" }`, true},
		{`details { summary.x "S"; p "a" }`, false},
		{`details { open <- yes; summary "S"; p.x "a" }`, false},
		{`input.x { type <- "hidden" }`, true},
	} {
		e := viewed(t, c.view)
		if got := e.IsHidden(marked(t, e)); got != c.hidden {
			t.Errorf("%s: hidden is %v", c.view, got)
		}
	}
}

func TestAttributes(t *testing.T) {
	for _, c := range []struct{ links, name, want string }{
		{`title <- "a"`, "title", "a"},
		{`title <- n`, "title", "1"},
		{`title <- yes ? null : "a"`, "title", "-"},
		{`hidden <- yes`, "hidden", ""},
		{`hidden <- !yes`, "hidden", "-"},
		{`aria-busy <- yes`, "aria-busy", "true"},
		{`aria-busy <- !yes`, "aria-busy", "false"},
		{`data-shelf <- yes`, "data-shelf", ""},
		{`data-shelf <- !yes`, "data-shelf", "-"},
	} {
		e := viewed(t, "p.x { "+c.links+" }")
		got, ok := marked(t, e).Attr(c.name)
		if !ok {
			got = "-"
		}
		if got != c.want {
			t.Errorf("%s is %q, want %q", c.links, got, c.want)
		}
	}
}
