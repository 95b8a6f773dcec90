package css

import (
	"sort"
	"strings"
)

// Marks that a built page writes on elements so that rules reach them: which components wrote them, and which were given
// them. They are lists of names.
const (
	OfMark = "data-lien-of"
	InMark = "data-lien-in"
)

// Scoped is the text of a sheet in which every part of a selector asks for an element that a component wrote; what
// stands in ::slotted asks for one that it was given. The conditions do not count for which rule wins. With "" as
// component the text is that of the sheet.
func (s *Sheet) Scoped(component string) string {
	w := &scoper{of: ":where([" + OfMark + `~="` + component + `"])`, in: ":where([" + InMark + `~="` + component + `"])`}
	if component != "" {
		s.Each(func(it *Item, _ []*Item) { w.selectors(it.Selectors) })
	}
	sort.SliceStable(w.edits, func(i, k int) bool { return w.edits[i].start < w.edits[k].start })
	var out strings.Builder
	at := 0
	for _, e := range w.edits {
		out.WriteString(s.Text[at:e.start] + e.text)
		at = e.end
	}
	out.WriteString(s.Text[at:])
	sheet, _ := Parse(out.String())
	return strings.Join(sheet.Format(), "\n") + "\n"
}

type scoper struct {
	of, in string
	edits  []edit
}

type edit struct {
	start, end int
	text       string
}

func (w *scoper) put(start, end int, text string) { w.edits = append(w.edits, edit{start, end, text}) }

func (w *scoper) selectors(list []*Selector) {
	for _, s := range list {
		for _, c := range s.Parts {
			w.compound(c)
		}
	}
}

func (w *scoper) compound(c *Compound) {
	if c.Slotted != nil { // ::slotted(img) becomes :is(img) with its mark
		w.put(c.mark, c.mark+len("::slotted"), ":is")
		w.put(c.End, c.End, w.in)
		return
	}
	if !c.Nest {
		w.put(c.mark, c.mark, w.of)
	}
	for _, p := range c.Pseudos {
		w.selectors(p.Args)
	}
}

// HasSlotted says whether a sheet reaches what its component is given.
func (s *Sheet) HasSlotted() bool {
	found := false
	s.Compounds(func(_ *Selector, c *Compound) { found = found || c.Slotted != nil })
	return found
}

// Compounds visits every compound of a sheet with the selector that it stands in.
func (s *Sheet) Compounds(visit func(*Selector, *Compound)) {
	var list func([]*Selector)
	list = func(selectors []*Selector) {
		for _, sel := range selectors {
			for _, c := range sel.Parts {
				visit(sel, c)
				list(c.Slotted)
				for _, p := range c.Pseudos {
					list(p.Args)
				}
			}
		}
	}
	s.Each(func(it *Item, _ []*Item) { list(it.Selectors) })
}

// CompoundsOf visits those of a rule and of the rules in it.
func (s *Sheet) CompoundsOf(it *Item, visit func(*Selector, *Compound)) {
	(&Sheet{Text: s.Text, Items: []*Item{it}}).Compounds(visit)
}
