package web

import (
	"io/fs"
	"math/rand/v2"
	"regexp"
	"strings"
	"testing"

	"lien/core/design"
)

// TestInnerNames: no name that gets short is looked up by a text, exported, or one of the platform.
func TestInnerNames(t *testing.T) {
	t.Parallel()
	comment := regexp.MustCompile(`(?m)//.*$|(?s)/\*\*.*?\*/`)
	quoted := regexp.MustCompile("[\"'`](\\w+)[\"'`]")
	taken := map[string]string{}
	all, err := fs.Glob(runtimeFiles(), "*.js")
	if err != nil || len(all) < 15 {
		t.Fatalf("%d modules: %v", len(all), err)
	}
	for _, name := range all {
		text, err := fs.ReadFile(runtimeFiles(), name)
		if err != nil {
			t.Fatal(err)
		}
		for _, found := range quoted.FindAllStringSubmatch(comment.ReplaceAllString(string(text), ""), -1) {
			taken[found[1]] = "is a text in " + name
		}
	}
	for _, w := range word.FindAllString(exports(map[string]string{"": "lien.x"}, "answer"), -1) {
		taken[w] = "is exported"
	}
	for _, n := range inner {
		if taken[n] != "" {
			t.Errorf("%s %s", n, taken[n])
		}
	}
	b := openBrowser(t)
	var known []string
	if err := b.session.Run(`const known = new Set();
		for (const name of Object.getOwnPropertyNames(window)) {
			if (/^\d+$|^webkit/.test(name)) continue;
			let v;
			try { v = window[name] } catch { continue }
			for (const o of [v, v?.prototype]) if (o && (typeof o === "object" || typeof o === "function")) for (const n of Object.getOwnPropertyNames(o)) known.add(n);
		}
		return [...known]`, &known); err != nil || len(known) < 2000 {
		t.Fatalf("the browser knows %d names: %v", len(known), err)
	}
	for _, n := range inner {
		for _, k := range known {
			if n == k {
				t.Errorf("%s is a name of the platform", n)
			}
		}
	}
}

// TestNamesOfDesigns: fields and members keep their names in minified pages, also those that come from a file of data,
// whatever the runtime calls its own.
func TestNamesOfDesigns(t *testing.T) {
	t.Parallel()
	const text = `type Ware = { level: number, parts: string[], gone: boolean }
service kiln-log { load(): Ware[] replies [{ level: 2, parts: ["lid"], gone: false }] after 20 }

component kiln-own {
  takes fills: Ware
  shares shown: boolean = true
  emits took(val: number)
  offers order() { shown = !shown }
  view {
    button ` + "`${fills.level} ${fills.parts.join()} ${shown}`" + ` { .want <- shown; click -> emit took(fills.level) }
    slot space(level <- fills.level) { "none" }
  }
}

component kiln-page {
  holds deps: Ware[] = []
  holds seen: number = 0
  on mount { ask kiln-log.load() { got(list) -> deps = list } }
  view {
    each parts in deps by parts.level {
      kiln-own {
        fills     <- parts
        took(val) -> { seen += val; deps = [...deps, { ...parts, level: parts.level + 1, gone: true }] }
        fill space(level) { i ` + "`at ${level}`" + ` }
      }
    }
    p ` + "`${deps.length} ${seen}`" + `
  }
}

start kiln-page
`
	d := design.Parse("kiln.lien", text)
	if d.Failed() {
		f := d.Errors()[0]
		t.Fatal(d.Set.Position(f.Span.Start), f.Message)
	}
	b := openBrowser(t)
	b.Minified = true
	if taken, err := walk(b, d, rand.New(rand.NewPCG(1, 1)), 12); err != nil || taken < 8 {
		t.Errorf("%d steps: %v", taken, err)
	}
	files, err := Build(d, Options{Start: d.Starts[0], Minify: true})
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range files {
		if f.Path == "lien.js" && !strings.Contains(string(f.Text), ".deps") {
			t.Error("a word of the design was made short")
		}
	}
}

// TestAnswer: whoever tests a page decides what services answer; who uses a page that is built cannot.
func TestAnswer(t *testing.T) {
	const text = "service kiln-log { load(): number replies 1 after 20 }\n" +
		"component kiln-page {\n  holds n: number = 0\n  view { button `Load ${n}` { click -> ask kiln-log.load() { got(v) -> n = v } } }\n}\nstart kiln-page\n"
	d := parse(t, text)
	for _, tested := range []bool{true, false} {
		files, err := Build(d, Options{Start: d.Starts[0], StandIns: tested})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range files {
			if f.Path == "lien.js" && regexp.MustCompile(`export \{[^}]*\banswer\b`).Match(f.Text) != tested {
				t.Errorf("tested: %v, and the page says otherwise", tested)
			}
		}
	}
}

// TestNeeds: what a design does not use is left out of what its components share.
func TestNeeds(t *testing.T) {
	const page = "component kiln-page {\n  holds n: number = 1\n  view { button `Heat ${n}` { click -> n += 1 } }\n}\nstart kiln-page\n"
	size := func(text string) int {
		d := parse(t, text)
		files, err := Build(d, Options{Start: d.Starts[0], Minify: true})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range files {
			if f.Path == "lien.js" {
				return len(f.Text)
			}
		}
		return 0
	}
	least := size(page)
	for _, more := range []string{
		strings.Replace(page, "view {", "follows n from old { n = old }\n  view {", 1),
		strings.Replace(page, "view {", "timer t after 5 { n = 1 }\n  on mount { start t }\n  view {", 1),
		strings.Replace(page, "view {", "view {\n    form { aria-label <- \"Fire\" }\n", 1),
		strings.Replace(page, "view {", "style { button { color: red } }\n  view {", 1),
		strings.Replace(page, "n += 1", "ask kiln-log.load() { got(v) -> n = v }", 1) + "service kiln-log { load(): number replies 1 }\n",
		strings.Replace(page, "n += 1", "open kiln-box { }", 1) + "component kiln-box { view { p \"box\" } }\n",
		strings.Replace(page, "view {", "view {\n    svg { circle }\n", 1),
		strings.Replace(page, "view {", "view {\n    a \"Away\" { href <- `#${n}` }\n", 1),
		strings.Replace(page, "view {", "view {\n    p \"Near\" { outside -> n = 1 }\n", 1),
		strings.Replace(page, "view {", "view {\n    slot foot(n <- n) { }\n", 1),
		strings.Replace(page, "n += 1", "ask kiln-log.load() { got(v) -> n = v }", 1) + "service kiln-log at \"/log\" { load(): number by GET \"/load\" replies 1 }\n",
		strings.Replace(page, "view {", "gathers kiln-box as boxes\n  view { kiln-box\n", 1) + "component kiln-box { view { p \"box\" } }\n",
	} {
		if n := size(more); n < least+100 {
			t.Errorf("%d bytes are shared, %d without it:\n%s", n, least, more)
		}
	}
}
