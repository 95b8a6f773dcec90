package design_test

import (
	"strings"
	"testing"
	"testing/fstest"

	"lien/core/css"
	"lien/core/design"
)

// TestStyleFiles: sheets are read from beside the design, are part of what it was read from, and what is wrong in them is
// told at its place in them.
func TestStyleFiles(t *testing.T) {
	const text = "style file(\"look/base.css\")\ncomponent ware-row {\n  style file(\"row.css\")\n  view { li.row \"x\" }\n}\nstart ware-row\n"
	for _, c := range []struct {
		name, base, row string
		want            string // what is found, at its place; "" for nothing
	}{
		{"both are right", "body { margin: 0 }", ".row { color: red }", ""},
		{"a byte order mark", "\ufeffbody { margin: 0 }", ".row { color: red }", ""},
		{"a mistake in one", "body { margin: 0 }\nmargin: 0;", ".row {}", "d/look/base.css:2:1: this stands in no rule"},
		{"one that is no text", "body {\xff}", ".row {}", "d/a.lien:1:12: look/base.css: this is no text in UTF-8"},
		{"one that brings in another", "@import \"x.css\";", ".row {}", "d/look/base.css:1:1: a sheet brings in no other one"},
		{"one that is not there", "-", ".row {}", "d/a.lien:1:12: look/base.css: there is no such file"},
	} {
		files := fstest.MapFS{"d/a.lien": {Data: []byte(text)}, "d/row.css": {Data: []byte(c.row)}}
		if c.base != "-" {
			files["d/look/base.css"] = &fstest.MapFile{Data: []byte(c.base)}
		}
		d, err := design.Load(files, "d", func(s string) string { return s })
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, f := range d.Findings {
			got = append(got, d.Set.Position(f.Span.Start).String()+": "+f.Message)
		}
		if all := strings.Join(got, "; "); all != c.want {
			t.Errorf("%s: %s", c.name, all)
		}
		if c.want != "" {
			continue
		}
		if len(d.Styles) != 2 || d.Styles[0].Owner != nil || d.Styles[1].Scope() != "ware-row" || len(d.StylesOf(d.Component("ware-row"))) != 1 {
			t.Errorf("%s: there are %d sheets", c.name, len(d.Styles))
		}
		if all := strings.Join(d.Sources, " "); all != "d/a.lien d/look/base.css d/row.css" {
			t.Errorf("%s: it was read from %s", c.name, all)
		}
	}
	for _, name := range []string{"../base.css", "/base.css", "a\\\\b.css", "look/../../base.css"} {
		files := fstest.MapFS{"d/a.lien": {Data: []byte("style file(\"" + name + "\")\n")}, "base.css": {Data: []byte("a { top: 0 }")}}
		d, err := design.Load(files, "d", func(s string) string { return s })
		if err != nil {
			t.Fatal(err)
		}
		if len(d.Findings) != 1 || !strings.Contains(d.Findings[0].Message, "outside of the design's folder") || len(d.Styles) != 0 {
			t.Errorf("%s: %v", name, messages(d))
		}
	}
}

// TestHidingMatters: only rules that hide something, or show what HTML hides, are looked at.
func TestHidingMatters(t *testing.T) {
	for _, c := range []struct {
		style, view string
		any, plain  bool
	}{
		{".a { display: flex }", "p.a \"x\"", false, true},
		{".a { color: red }", "p.a \"x\"", false, true},
		{".a { display: none }", "p.a \"x\"", true, true},
		{".a { visibility: collapse }", "p.a \"x\"", true, true},
		{".a { display: var(--how) }", "p.a \"x\"", true, true},
		{".a { display: flex }", "p.a { hidden <- true }", true, true},
		{".b { display: flex }", "p.a { hidden <- true }", true, true}, // it may be given from outside
		{"em { display: flex }", "p.a { hidden <- true }", false, true},
		{"dialog { display: flex }", "dialog { p \"x\" }", true, true},
		{"main dialog { display: flex }", "dialog { p \"x\" }", true, true},
		{"p { display: flex }", "dialog { p \"x\" }", false, true},
		{"[popover] { display: block }", "p { popover <- \"auto\" }", true, true},
		{".a:hover { display: none }", "p.a \"x\"", true, false},
		{".a:not(.b:focus) { display: none }", "p.a \"x\"", true, false},
		{".a + p { display: none }", "p.a \"x\"", true, false},
		{".a:has(b) { display: none }", "p.a \"x\"", true, false},
		{".a:nth-child(2) { display: none }", "p.a \"x\"", true, false},
		{":is(.a, .b) > p:not([title]) { display: none }", "p.a \"x\"", true, true},
		{"@container (width > 1px) { .a { display: none } }", "p.a \"x\"", true, true},
	} {
		d := design.Parse("a.lien", "component a-part {\n  style { "+c.style+" }\n  view { "+c.view+" }\n}\nstart a-part\n")
		if d.Failed() {
			t.Errorf("%s: %v", c.style, messages(d))
			continue
		}
		if d.Hiding.Any() != c.any || d.Hiding.Plain() != c.plain {
			t.Errorf("%s of %s: any %v, plain %v", c.style, c.view, d.Hiding.Any(), d.Hiding.Plain())
		}
	}
}

// TestRoots: classes that are given land on what a component consists of, through others.
func TestRoots(t *testing.T) {
	d := design.Parse("a.lien", `component one-part { view { em "x" } }
component through-part { view { one-part } }
component two-part { view { em "x"; b "y" } }
component when-part { takes on: boolean; view { when on { em "x" } } }
component self-part { view { self-part } }
component none-part { view { } }
`)
	for name, want := range map[string]string{"one-part": "em", "through-part": "em", "two-part": "", "when-part": "", "self-part": "", "none-part": ""} {
		got := ""
		if el := d.Component(name).Root(); el != nil {
			got = el.Tag
		}
		if got != want {
			t.Errorf("the root of %s is %q, want %q", name, got, want)
		}
	}
}

// TestScreens: a start says what its page is shown on.
func TestScreens(t *testing.T) {
	d := design.Parse("a.lien", "component a-part { view { p \"x\" } }\nstart a-part\nstart \"small\" a-part { screen \"(width: 390px) and (prefers-color-scheme: dark)\" }\n")
	if d.Failed() {
		t.Fatal(messages(d))
	}
	if d.Starts[0].Screen != nil || d.Starts[1].Screen["width"] != "390px" || d.Starts[1].Screen["height"] != css.Usual()["height"] || d.Starts[1].Screen["prefers-color-scheme"] != "dark" {
		t.Errorf("%v, %v", d.Starts[0].Screen, d.Starts[1].Screen)
	}
}

// TestHTTP: how operations are asked.
func TestHTTP(t *testing.T) {
	d := design.Parse("a.lien", `type Ware = { id: string, parts: { kg: number }? }
service kiln-log at "https://kilns.example/api/" {
  find(glaze: string?, kg: number, tags: string[]): Ware[] by GET "/wares{/kg}{?glaze,tags*}" replies []
  save(w: Ware): Ware by PUT "/wares/{w.id}" replies w
  part(w: Ware, note: string) by PATCH "/wares/{w.id}/{w.parts.kg}"
  light(id: string) by POST "/light/{id}"
}
service side { look(): number replies 1 }
`)
	if d.Failed() {
		t.Fatal(messages(d))
	}
	if d.Services[0].Base != "https://kilns.example/api" || d.Services[1].Base != "" || d.Services[1].Operations[0].HTTP != nil {
		t.Errorf("they are at %q and %q", d.Services[0].Base, d.Services[1].Base)
	}
	for i, want := range []struct {
		method string
		body   int
		list   string
		fails  int
	}{{"GET", 0, "tags", 1}, {"PUT", 1, "", 1}, {"PATCH", 2, "", 1}, {"POST", 0, "", 1}} {
		o := d.Services[0].Operations[i]
		if o.HTTP.Method != want.method || len(o.HTTP.Body) != want.body || want.list != "" && !o.HTTP.Lists[want.list] || len(o.Fails) != want.fails {
			t.Errorf("%s is asked by %+v, and fails in %d ways", o.Name, o.HTTP, len(o.Fails))
		}
	}
	if len(d.Services[1].Operations[0].Fails) != 0 {
		t.Error("a stand-in that never fails does")
	}
}
