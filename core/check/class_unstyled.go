package check

import (
	"strings"

	"lien/core/css"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// classUnstyled: a class that no style names and no scenario asks for, in a design that has styles.
var classUnstyled = rule{"class-unstyled", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	if len(p.d.Styles) == 0 {
		return
	}
	named := map[string]bool{}
	var names []string
	for _, s := range p.d.Styles {
		s.Sheet.Compounds(func(_ *css.Selector, c *css.Compound) {
			for _, k := range c.Classes {
				named[k.Text] = true
				names = append(names, k.Text)
			}
			for _, a := range c.Attrs {
				named["*"] = named["*"] || a.Name == "class" // which may ask for any
			}
		})
	}
	for _, f := range p.d.Files {
		for _, d := range f.Decls {
			syntax.Walk(d, func(n syntax.Node) bool {
				if t, ok := n.(*syntax.Target); ok {
					for _, w := range t.With {
						named[w.Name.Text] = named[w.Name.Text] || w.Class
					}
				}
				return true
			})
		}
	}
	told := map[string]bool{}
	tell := func(class string, at source.Span, fix bool) {
		if named[class] || named["*"] || told[class] {
			return
		}
		told[class] = true
		f := report(at, "no style names the class %s", class)
		near := finding.Nearest(class, names)
		if near == "" {
			f.Instead("write a rule for .%s, or take the class out", class)
			return
		}
		f.Instead("did you mean %s?", near)
		if fix {
			f.Mend("write "+near, at, near)
		}
	}
	for _, n := range p.seen().nodes {
		switch n := n.(type) {
		case *design.Element:
			classesOf(n.Syntax, n.Marks, tell)
			for _, a := range n.Attrs {
				if c, ok := a.Unit.Expr.(*types.Const); ok && a.Name == "class" {
					if s, ok := c.Value.(value.String); ok {
						for _, k := range strings.Fields(string(s)) {
							tell(k, a.Syntax.Value.Span(), false)
						}
					}
				}
			}
		case *design.Use:
			classesOf(n.Syntax, n.Marks, tell)
		}
	}
}}

func classesOf(s *syntax.Element, marks []*design.Attr, tell func(string, source.Span, bool)) {
	for _, k := range s.Classes {
		tell(k.Text, k.Span(), true)
	}
	for _, m := range marks {
		tell(m.Name, m.Syntax.Name.Span(), true)
	}
}
