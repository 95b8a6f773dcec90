package web

import (
	"strings"

	"github.com/evanw/esbuild/pkg/api"

	"lien/core/design"
)

// styles is the sheet of a page: what reaches all of it, and then what reaches one component each, so that this wins.
// It is "" where the design has none.
func styles(d *design.Design) string {
	var out strings.Builder
	for _, s := range d.Styles {
		text := s.Sheet.Scoped(s.Scope())
		if strings.TrimSpace(text) == "" {
			continue
		}
		of := "The page."
		if s.Owner != nil {
			of = "What " + s.Owner.Name + " writes."
		}
		out.WriteString("/* " + of + " */\n" + text + "\n")
	}
	return strings.TrimSuffix(out.String(), "\n")
}

// minifiedStyles is a sheet without what only people read.
func minifiedStyles(text string) (string, error) {
	res := api.Transform(text, api.TransformOptions{Loader: api.LoaderCSS, MinifyWhitespace: true, MinifySyntax: true, Charset: api.CharsetUTF8})
	if len(res.Errors) > 0 {
		return "", errorOf("the styles", res.Errors[0])
	}
	return string(res.Code), nil
}

// inStyle is a sheet as it can stand in a document: what would end its element stands in texts and comments of CSS alone,
// where a backslash before the slash changes nothing.
func inStyle(text string) string { return strings.ReplaceAll(text, "</", `<\/`) }
