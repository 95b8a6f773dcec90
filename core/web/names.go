package web

import (
	"regexp"
	"slices"
	"strings"

	"lien/core/design"
)

// Names that get short where a page is minified: those of fields that only the runtime and the modules written for it
// use. None of them is a name of the platform, is looked up by a text, or is exported.
var inner = strings.Fields(`
	above absent again args arriving asked atLevel attr attrs block branch branches busy byKey calls cause classed classes
	clocks comp cond contexts deps depth dom doms due early ending epoch failed fielded filled fills fires following
	follows formed given gone got handle holder holders hooked inst internals isEach kept keyOf lasting leaving lent level
	linked live locals marked marks may members modal moved movedFrom movedIn names nested nodes nothing offers opening order
	own parts place queue reconcile replies reports retire revive seeds seen showAttrs showProps shown since slots space stale
	started subs super tell ties told took twice undo unmount used users val want was`)

var word = regexp.MustCompile(`\w+`)

// shortened matches those names that get short: no word of the design is one, as that may be the name of a field.
func shortened(d *design.Design) string {
	own := map[string]bool{}
	add := func(text string) {
		for _, w := range word.FindAllString(text, -1) {
			own[w] = true
		}
	}
	for _, f := range d.Files {
		at := 0
		for _, c := range f.Comments {
			add(f.Source.Text[at:f.Source.Offset(c.At.Start)])
			at = f.Source.Offset(c.At.End)
		}
		add(f.Source.Text[at:])
	}
	for _, k := range d.Consts {
		if k.Data != nil {
			add(constant(k.Data)) // from a file of data
		}
	}
	list := slices.DeleteFunc(slices.Clone(inner), func(name string) bool { return own[name] })
	return "^(" + strings.Join(list, "|") + ")$"
}
