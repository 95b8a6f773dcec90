package cli_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

const shelf = `style file("base.css")

component shelf-page {
  holds full: boolean = false
  style {
    .shelf { color: green }
    .shelf.full .more { display: none }
    .tpo { color: blue }
  }
  view {
    main.top {
      h1 "Shelf"
      section.shelf {
        .full <- full
        p "Bowls"
        button.more "More" { click -> full = true }
      }
      button "Empty" { click -> full = false }
    }
  }
}

start shelf-page

scenario "a full shelf takes no more" {
  press button "More"
  lacks button "More"
  press button "Empty"
  shows button "More"
}
`

// TestStyles: a design with styles is checked, mended, laid out, run, proved, cut, and built with its sheet.
func TestStyles(t *testing.T) {
	dir := t.TempDir()
	file := write(t, dir, "shelf.lien", shelf)
	write(t, dir, "base.css", ".top { margin: 0 }\nh1 { colour: red }\n")
	lien(t, dir, "check", "shelf.lien").want(t, 0, "base.css:2:6: warning: CSS has no property colour", "did you mean color?",
		"shelf.lien:8:5: warning: .tpo reaches nothing", "did you mean top?")
	lien(t, dir, "check", "--fix", "shelf.lien").want(t, 0, "1 place could be mended in base.css, which was not named")
	if text := read(t, file); !strings.Contains(text, "    .top { color: blue }\n") {
		t.Errorf("it is mended to\n%s", text)
	}
	if text := read(t, filepath.Join(dir, "base.css")); !strings.Contains(text, "colour") {
		t.Errorf("a file that was not named was changed:\n%s", text)
	}
	write(t, dir, "base.css", ".top { margin: 0 }\nh1 { color: red }\n")
	lien(t, dir, "check", "shelf.lien").want(t, 0, "nothing to mend")
	lien(t, dir, "test", "shelf.lien").want(t, 0, "1 of 1 scenario passed")
	lien(t, dir, "prove", "shelf.lien").want(t, 0, "holds")
	lien(t, dir, "fmt", "--diff", "shelf.lien").want(t, 0)
	write(t, dir, "loose.lien", strings.Replace(read(t, file), ".shelf { color: green }", ".shelf{color:green;top:0}", 1))
	lien(t, dir, "fmt", "loose.lien").want(t, 0, "    .shelf {\n      color: green;\n      top: 0;\n    }\n")
	r := lien(t, dir, "extract", "shelf.lien:13", "shelf.lien", "--name", "shelf-part", "-w")
	r.want(t, 0, "the styles go along that only this part uses", "alike")
	text := read(t, file)
	part := text[strings.Index(text, "component shelf-part"):]
	if !strings.Contains(part, ".shelf.full .more { display: none }") || strings.Contains(part, ".top") || strings.Count(text, ".more {") != 1 {
		t.Errorf("the parts are\n%s", text)
	}
	lien(t, dir, "test", "shelf.lien").want(t, 0, "1 of 1 scenario passed")
	lien(t, dir, "check", "shelf.lien").want(t, 0, "nothing to mend")
	lien(t, dir, "build", "shelf.lien", "--to", "page").want(t, 0, "page/styles.css")
	sheet := read(t, filepath.Join(dir, "page", "styles.css"))
	if !strings.HasPrefix(strings.TrimPrefix(sheet, "// "), "/*") || !strings.Contains(sheet, `.more:where([data-lien-of~="shelf-part"]) { display: none }`) {
		t.Errorf("the sheet is\n%s", sheet)
	}
	lien(t, dir, "build", "shelf.lien", "--to", "one", "--one-file").want(t, 0)
	if entries, err := os.ReadDir(filepath.Join(dir, "one")); err != nil || len(entries) != 1 || !strings.Contains(read(t, filepath.Join(dir, "one", "index.html")), "<style>") {
		t.Errorf("one file is %v, %v", entries, err)
	}
	lien(t, dir, "draw", "shelf.lien", "--to", "house.svg").want(t, 0)
	if house := read(t, filepath.Join(dir, "house.svg")); !strings.Contains(house, "2 rules") {
		t.Error("the house does not tell of styles")
	}
}

// TestStylesInABrowser: what a screen hides is hidden in a browser, too.
func TestStylesInABrowser(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	write(t, dir, "rack.lien", `component rack-page {
  style {
    @media (width < 500px) {
      .wide { display: none }
    }
    @media (prefers-color-scheme: dark) {
      .light { visibility: hidden }
    }
  }
  view {
    main {
      p.wide "wide"
      p.light "light"
      p "always"
    }
  }
}
start rack-page
start "small" rack-page { screen "(width: 390px)" }
start "dark" rack-page { screen "(prefers-color-scheme: dark)" }
scenario "usual" { shows "wide"; shows "light" }
scenario "small" { start "small"; lacks "wide"; shows "light" }
scenario "dark" { start "dark"; shows "wide"; lacks "light" }
scenario "usual again" { shows "wide"; shows "light" }
`)
	lien(t, dir, "test", "rack.lien").want(t, 0, "4 of 4 scenarios passed")
	r := lien(t, dir, "test", "--browser", "rack.lien")
	if strings.Contains(r.out, "chromedriver") && r.status != 0 {
		t.Skip("there is no browser to drive")
	}
	r.want(t, 0, "4 of 4 scenarios passed")
}

// TestServices: a design whose service is somewhere is run by its stand-ins, and asks for real once it is built.
func TestServices(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "log.lien", `service kiln-log at "/api" {
  count(kind: string): number by GET "/count{?kind}" replies 7 after 100
}
component log-page {
  holds n: number = 0
  holds why: string = ""
  view { button "Count" { click -> ask kiln-log.count("bowl") { got(k) -> n = k; failed(w) -> why = w } }; p `+"`${n} ${why}`"+` }
}
start log-page
scenario "counting" { press button "Count"; wait 100; shows "7" }
scenario "failing" { press button "Count"; fail kiln-log.count; shows "there is no answer" }
`)
	lien(t, dir, "check", "log.lien").want(t, 0, "nothing to mend")
	lien(t, dir, "test", "log.lien").want(t, 0, "2 of 2 scenarios passed")
	lien(t, dir, "build", "log.lien", "--to", "page").want(t, 0, "page/http.js")
	if text := read(t, filepath.Join(dir, "page", "design.js")); !strings.Contains(text, `address: "/api/count{?kind}"`) || strings.Contains(text, "replies") {
		t.Errorf("it asks by\n%s", text)
	}
	lien(t, dir, "answer", "log.lien", "--port", "70000").want(t, 2, "there is no port 70000")
	lien(t, dir, "answer", "none.lien").want(t, 2, "there is no such file")
	write(t, dir, "bad.lien", "service kiln-log at \"/api\" {\n  count() by FETCH \"/count\"\n}\n")
	lien(t, dir, "answer", "bad.lien").want(t, 2, "HTTP is asked by GET", "see lien check")
}

// TestRelinkAsMethod: a part holds a value itself, and its user sets it by a method; and back.
func TestRelinkAsMethod(t *testing.T) {
	dir := t.TempDir()
	const fold = "component fold-card {\n  shares open: boolean = false\n  view {\n    button \"Fold\" {\n      aria-expanded <- open\n      click         -> open = !open\n    }\n  }\n}\n\n" +
		"component fold-page {\n  holds unfolded: boolean = false\n  view {\n    fold-card { open <-> unfolded }\n    button \"All\" { click -> unfolded = true }\n  }\n}\n\nstart fold-page\n"
	file := write(t, dir, "fold.lien", fold)
	lien(t, dir, "relink", "fold-card.open", "fold.lien").want(t, 2, "lien relink needs --as WAY")
	lien(t, dir, "relink", "fold-card.open", "--as", "wire", "fold.lien").want(t, 1, "does not travel as wire", "function, context or method")
	lien(t, dir, "relink", "fold-card.open", "--as", "method", "fold.lien", "-w").want(t, 0, "alike")
	if text := read(t, file); !strings.Contains(text, "offers") || strings.Contains(text, "<->") {
		t.Errorf("as a method it is\n%s", text)
	}
	lien(t, dir, "check", "fold.lien").want(t, 0, "nothing to mend")
}
