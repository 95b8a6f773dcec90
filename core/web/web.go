// Package web builds a design into a page: a module for every component, a runtime that they share, and a document
// that shows the first start. A built page is the design: the same turns, settled in the same order.
//
// The runtime is JavaScript, in the folder runtime.
package web

import (
	"bytes"
	"fmt"
	"html/template"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/source"
)

// File is a file of a built page, by its path with slashes.
type File struct {
	Path string
	Text []byte
}

// Refusal says what of a design cannot be built, and where it stands.
type Refusal struct {
	At   source.Position
	What string
}

func (r *Refusal) Error() string { return fmt.Sprintf("%s: %s", r.At, r.What) }

// Build writes a design, which has no errors, as a page that begins as the start does. The files come in the order of
// their paths. The error is a *Refusal where the design has what no page is built of yet.
func Build(d *design.Design, start *design.Start) ([]File, error) {
	w := &writer{d: d}
	files := map[string]string{}
	for _, c := range d.Components {
		files["components/"+c.Name+".js"] = w.module(c)
	}
	files["design.js"] = w.shared()
	files["page.js"] = w.page(start)
	if w.refused != nil {
		return nil, w.refused
	}
	runtime, err := Runtime()
	if err != nil {
		return nil, err
	}
	files["lien.js"] = runtime
	files["index.html"] = document(start)
	return sorted(files), nil
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
<title>{{.}}</title>
<link rel="icon" href="data:,">
<script type="module" src="page.js"></script>
</head>
<body></body>
</html>
`))

// document is the page's HTML. Nothing in it is a program.
func document(start *design.Start) string {
	var out bytes.Buffer
	title := start.Name
	if title == "" {
		title = strings.ReplaceAll(start.Root.Name, "-", " ")
	}
	if err := documentTemplate.Execute(&out, title); err != nil {
		panic(err) // a buffer takes all that is written
	}
	return out.String()
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
