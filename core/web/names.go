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
	clocks comp compared cond contexts deep deps depth discard dom doms due early ending endsNow epoch failed fielded filled
	fills fires following follows formed given gone got handle handOut holder holders hooked inst internals isEach isGone
	isSlot kept keysOf lasting leaving lent level linked listed live locals marked marks may members modal mountItem moved
	movedFrom movedIn names nested nodes nothing offers openedBy opening order outer own parts pass pieces place probe queue
	reconcile replies reports retire revive seeds seen showAttrs shown showProps shows since slots space stage stale started
	subs super tell ties told took twice undo unmount used users val want was writeShared`)

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
