// Package web builds a design into a page: a module for every component, a runtime that they share, and a document
// that shows the first start. A built page is the design: the same turns, settled in the same order.
//
// The runtime is JavaScript, in the folder runtime.
package web

import (
	"bytes"
	"fmt"
	"html/template"
	"io/fs"
	"sort"
	"strings"

	"lien/core/design"
)

// File is a file of a built page, by its path with slashes.
type File struct {
	Path string
	Text []byte
}

// Options say how a page is written.
type Options struct {
	Start    *design.Start // that it begins as; nil: only elements for other pages are written
	OneFile  bool          // all in one document, which opens from a disk
	Minify   bool          // without what only people read
	StandIns bool          // services are asked of what stands in for them, also those that are somewhere, and somebody may decide what comes back
}

// Build writes a design, which has no errors, as a page. The files come in the order of their paths. An
// error is one of the modules themselves, and none of the design.
func Build(d *design.Design, o Options) ([]File, error) {
	w := &writer{d: d, o: o, shown: shown(d)}
	files := map[string]string{}
	for _, c := range d.Components {
		files["components/"+c.Name+".js"] = w.module(c)
	}
	files["design.js"] = w.shared()
	if o.Start != nil {
		files["page.js"] = w.page(o.Start)
	}
	sheet := styles(d)
	if o.Minify {
		var err error
		if sheet, err = minifiedStyles(sheet); err != nil {
			return nil, err
		}
	}
	var names *short
	if o.Minify {
		names = &short{names: shortened(d), as: map[string]any{}}
	}
	if o.OneFile {
		return oneFile(modulesOf(d, o, files), sheet, o.Start, names)
	}
	runtime, err := bundled(modulesOf(d, o, files), "lien.js", names)
	if err != nil {
		return nil, err
	}
	if asksOverHTTP(d, o) {
		text, err := fs.ReadFile(runtimeFiles(), "http.js")
		if err != nil {
			return nil, err
		}
		files["http.js"] = string(text)
	}
	if o.Minify {
		for path, text := range files {
			if files[path], err = minified(text, names); err != nil {
				return nil, err
			}
		}
	}
	files["lien.js"] = runtime
	if !o.Minify {
		for path, text := range files {
			files[path] = "// " + madeOf(path, o) + "\n" + text
		}
	}
	list := w.contracts()
	if sheet != "" {
		files["styles.css"] = sheet
	}
	if o.Start != nil {
		files["index.html"] = document(o.Start, sheet, "")
	}
	files["types.d.ts"] = "// What elements of the components offer to any page.\n\n" + w.declared(list)
	if files["custom-elements.json"], err = manifested(list); err != nil {
		return nil, err
	}
	return sorted(files), nil
}

// madeOf says what a file is, in its first line.
func madeOf(path string, o Options) string {
	switch path {
	case "lien.js":
		return "What the components of a page share."
	case "http.js":
		return "How services are asked over HTTP."
	case "design.js":
		return "What stands at the top of the design's files."
	case "page.js":
		return "Where the page begins: with " + o.Start.Root.Name + "."
	}
	return "The component " + strings.TrimSuffix(strings.TrimPrefix(path, "components/"), ".js") + "."
}

// oneFile puts all modules into the document.
func oneFile(files modules, sheet string, start *design.Start, names *short) ([]File, error) {
	text, err := bundled(files, "page.js", names)
	if err != nil {
		return nil, err
	}
	return []File{{"index.html", []byte(document(start, sheet, text))}}, nil
}

func sorted(files map[string]string) (list []File) {
	for path, text := range files {
		list = append(list, File{path, []byte(text)})
	}
	sort.Slice(list, func(i, k int) bool { return list[i].Path < list[k].Path })
	return list
}

var documentTemplate = template.Must(template.New("document").Parse(`<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>{{.Title}}</title>
<link rel="icon" href="data:,">
{{if and .Sheet .Script}}<style>
{{.Sheet}}</style>
{{else if .Sheet}}<link rel="stylesheet" href="styles.css">
{{end}}{{if .Script}}<script type="module">
{{.Script}}</script>{{else}}<script type="module" src="page.js"></script>{{end}}
</head>
<body></body>
</html>
`))

// document is the page's HTML. Nothing in it is a program, unless one is given that is to stand in it, with the styles.
func document(start *design.Start, sheet, script string) string {
	title := start.Name
	if title == "" {
		title = strings.ReplaceAll(start.Root.Name, "-", " ")
	}
	var out bytes.Buffer
	err := documentTemplate.Execute(&out, struct {
		Title  string
		Sheet  template.CSS
		Script template.JS
	}{title, template.CSS(inStyle(sheet)), template.JS(inDocument(script))})
	if err != nil {
		panic(err) // a buffer takes all that is written
	}
	return out.String()
}

// inDocument is a program as it can stand in a document, of which it does not end the element that it stands in: HTML,
// 4.12.1.3. Such texts stand in ECMAScript's literals and comments alone.
func inDocument(script string) string {
	return strings.NewReplacer("</script", "<\\/script", "</SCRIPT", "<\\/SCRIPT", "<!--", "<\\!--", "<script", "<\\script").Replace(script)
}

// page is the module that begins the page.
func (w *writer) page(s *design.Start) string {
	c := w.code()
	c.line("lien.mount(%s, {", jsName(s.Root.Name))
	for _, list := range [][]*design.Given{s.Links, s.Seeds} {
		for _, g := range list {
			c.line("  %s: %s,", key(g.Member.Label), c.expr(g.Unit.Expr))
		}
	}
	c.line("});")
	head := "import * as lien from \"./lien.js\";\n"
	if c.shares {
		head += "import * as design from \"./design.js\";\n"
	}
	return head + fmt.Sprintf("import { %s } from \"./components/%s.js\";\n\n", jsName(s.Root.Name), s.Root.Name) + c.String()
}
