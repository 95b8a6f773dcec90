package web

import (
	"strings"
	"testing"

	"lien/core/design"
)

const styled = `style { body { margin: 0 } }

component ware-row {
  takes name: string
  style {
    .row { color: green }
    ::slotted(em) { color: gray }
  }
  view { li.row { ` + "`${name}`" + `; slot } }
}

component plain-part {
  view { p "plain" }
}

component ware-list {
  holds late: boolean = false
  style { .first { top: 0 } .late { opacity: 0 } }
  view {
    ul {
      ware-row.first { .late <- late; name <- "bowl"; em "given"; b { em "deep" }; when late { em "late" } }
      plain-part
    }
    button "Late" { click -> late = !late }
  }
}

start ware-list
`

// fileOf is the text of a file of a built page, or "".
func fileOf(t *testing.T, d *design.Design, o Options, path string) string {
	t.Helper()
	files, err := Build(d, o)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range files {
		if f.Path == path {
			return string(f.Text)
		}
	}
	return ""
}

// TestStyles: a page has one sheet, in which that of the page comes first and each rule of a component asks for what it
// wrote; a page without styles has none.
func TestStyles(t *testing.T) {
	d := parse(t, styled)
	sheet := fileOf(t, d, Options{Start: d.Starts[0]}, "styles.css")
	for _, want := range []string{"/* The page. */\nbody { margin: 0 }\n", "/* What ware-row writes. */\n.row:where([data-lien-of~=\"ware-row\"]) { color: green }", ":is(em):where([data-lien-in~=\"ware-row\"]) { color: gray }", ".late:where([data-lien-of~=\"ware-list\"])"} {
		if !strings.Contains(sheet, want) {
			t.Errorf("there is no %q in\n%s", want, sheet)
		}
	}
	if strings.Index(sheet, "body") > strings.Index(sheet, ".row") || strings.Index(sheet, ".row") > strings.Index(sheet, ".first") {
		t.Errorf("the order is another:\n%s", sheet)
	}
	if page := fileOf(t, d, Options{Start: d.Starts[0]}, "index.html"); !strings.Contains(page, `<link rel="stylesheet" href="styles.css">`) || strings.Contains(page, "<style>") {
		t.Errorf("the document is\n%s", page)
	}
	if small := fileOf(t, d, Options{Start: d.Starts[0], Minify: true}, "styles.css"); len(small) == 0 || len(small) >= len(sheet) || strings.Contains(small, "/*") {
		t.Errorf("small it is\n%s", small)
	}
	if one := fileOf(t, d, Options{Start: d.Starts[0], OneFile: true}, "index.html"); !strings.Contains(one, "<style>") || strings.Contains(one, "styles.css") {
		t.Error("one file has no styles in it")
	}
	if elements := fileOf(t, d, Options{}, "styles.css"); elements != sheet {
		t.Errorf("elements have\n%s", elements)
	}
	plain := parse(t, "component plain-part {\n  view { p \"plain\" }\n}\nstart plain-part\n")
	if files, err := Build(plain, Options{Start: plain.Starts[0]}); err != nil || fileOf(t, plain, Options{Start: plain.Starts[0]}, "styles.css") != "" || strings.Contains(fileOf(t, plain, Options{Start: plain.Starts[0]}, "index.html"), "stylesheet") {
		t.Errorf("a page without styles has %d files, %v", len(files), err)
	}
}

// TestMarks: elements say who wrote them, and who was given them, where there are styles for that; a class from outside
// comes and goes.
func TestMarks(t *testing.T) {
	t.Parallel()
	d := parse(t, styled)
	b := openBrowser(t)
	files, err := Build(d, Options{Start: d.Starts[0]})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.show(files); err != nil {
		t.Fatal(err)
	}
	marks := func() (got []string) {
		t.Helper()
		if err := b.session.Run(`return [...document.querySelectorAll("ul, ul *")].map(e => [e.localName, e.className, "of " + (e.dataset.lienOf ?? "-"), "in " + (e.dataset.lienIn ?? "-")].join(" ").replace(/ +/g, " "))`, &got); err != nil {
			t.Fatal(err)
		}
		return got
	}
	want := []string{"ul of ware-list in -", "li row first of ware-row ware-list in -", "em of ware-list in ware-row", "b of ware-list in ware-row", "em of ware-list in -", "p of - in -"}
	if got := marks(); strings.Join(got, "; ") != strings.Join(want, "; ") {
		t.Errorf("they are\n%s\nnot\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	if err := b.session.Run(`document.querySelector("button").click()`, nil); err != nil {
		t.Fatal(err)
	}
	got := marks()
	if len(got) != 7 || got[1] != "li row first late of ware-row ware-list in -" || got[5] != "em of ware-list in ware-row" {
		t.Errorf("late they are\n%s", strings.Join(got, "\n"))
	}
	var colors []string
	if err := b.session.Run(`return ["li", "em", "b em", "p"].map(s => getComputedStyle(document.querySelector(s)).color)`, &colors); err != nil {
		t.Fatal(err)
	}
	if strings.Join(colors, " ") != "rgb(0, 128, 0) rgb(128, 128, 128) rgb(0, 128, 0) rgb(0, 0, 0)" {
		t.Errorf("the colours are %q", colors)
	}
}

// TestStyleAttribute: what an element's attribute style says is there in both, and hides in both.
func TestStyleAttribute(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds width: number = 50
  holds shown: string = "block"
  style { .narrow { display: none } }
  view {
    button "Widen" { click -> width += 10 }
    button "Hide" { click -> shown = "none" }
    div { style <- `+"`width: ${width}%; display: ${shown}`"+`; "Jug" }
    div.narrow { style <- `+"`width: ${width}%`"+`; "Bowl" }
    output `+"`${width} ${shown}`"+`
  }
}
start kiln-page
`)
	for _, name := range []string{"Widen", "Hide", "Widen"} {
		if err := p.Press(p.button(t, name), mouse); err != nil { // which compares the attributes, too
			t.Fatal(err)
		}
	}
	if is := p.output(t); is != "70 none" {
		t.Errorf("it is %s", is)
	}
}

// TestGivenFromOutside: what a page gives an element for a slot is reached by ::slotted, too, also when it is made by a function.
func TestGivenFromOutside(t *testing.T) {
	t.Parallel()
	d := parse(t, "component ware-box {\n  style { ::slotted(em) { color: gray } }\n  holds n: number = 1\n  view { div { slot; slot row(n <- n); button \"More\" { click -> n += 1 } } }\n}\n")
	b := openBrowser(t)
	files, err := Build(d, Options{})
	if err != nil {
		t.Fatal(err)
	}
	page := `<!doctype html><link rel="stylesheet" href="styles.css"><script type="module" src="page.js"></script>`
	program := `import "./components/ware-box.js";
document.body.innerHTML = "<ware-box><em>given</em><b><em>deep</em></b></ware-box>";
document.querySelector("ware-box").row = ({ n }) => Object.assign(document.createElement("em"), { textContent: "row " + n });`
	if _, err := b.show(append(files, File{"index.html", []byte(page)}, File{"page.js", []byte(program)})); err != nil {
		t.Fatal(err)
	}
	var got []string
	script := `return [...document.querySelectorAll("em")].map(e => e.textContent + " " + getComputedStyle(e).color)`
	if err := b.session.Run("document.querySelector('button')?.click(); "+script, &got); err != nil {
		t.Fatal(err)
	}
	if strings.Join(got, "; ") != "given rgb(128, 128, 128); deep rgb(0, 0, 0); row 2 rgb(128, 128, 128)" {
		t.Errorf("they are %q", got)
	}
}
