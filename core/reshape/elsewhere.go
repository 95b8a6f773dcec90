package reshape

import (
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Parts of other views that read as the one that is cut out.

// elsewhere are the other places of which the same component would come.
func (x *extraction) elsewhere() (list []*extraction) {
	want, cut := x.words(x.items), laid(x.component())
	taken := []source.Span{x.span}
	for _, c := range x.d.Components {
		if c.IsContext || c != x.c && len(x.d.StylesOf(c))+len(x.d.StylesOf(x.c)) > 0 { // which make it look otherwise
			continue
		}
		x.runs(c, func(items []syntax.Item) {
			at := source.Span{Start: items[0].Span().Start, End: items[len(items)-1].Span().End}
			for _, t := range taken {
				if at.Start < t.End && t.Start < at.End {
					return
				}
			}
			if x.words(items) != want {
				return
			}
			if y := x.again(c, items, at); y != nil && laid(y.component()) == cut {
				taken, list = append(taken, at), append(list, y)
			}
		})
	}
	return list
}

// laid is a text as the printer lays it out, whatever its indentation was.
func laid(text string) string {
	return string(syntax.Print(syntax.Parse(source.NewSet().Add("", text))))
}

// everywhere cuts the part out at the other places, too, or says that there are some.
func (x *extraction) everywhere(same []*extraction) {
	var at []string
	for _, y := range same {
		place := x.d.Set.Position(y.span.Start).String()
		if at = append(at, place); x.o.All {
			y.used(y.span)
			x.did("%s uses %s at %s, too", y.c.Name, x.called, place)
		}
	}
	switch {
	case len(same) == 0 || x.o.All:
	case len(same) == 1:
		x.chose("%s looks the same: --all cuts it out, too", at[0])
	default:
		x.chose("%d other places look the same: --all cuts them out, too (%s)", len(same), strings.Join(at, ", "))
	}
}

// words is the text of items with single blanks.
func (x *extraction) words(items []syntax.Item) string {
	at := source.Span{Start: items[0].Span().Start, End: items[len(items)-1].Span().End}
	return strings.Join(strings.Fields(x.d.Text(at)), " ")
}

// runs visits as many items as the part has that stand side by side in a view, in the order of the text.
func (x *extraction) runs(c *design.Component, visit func([]syntax.Item)) {
	var in func(list []syntax.Item)
	in = func(list []syntax.Item) {
		for i, it := range list {
			if i+len(x.items) <= len(list) {
				visit(list[i : i+len(x.items)])
			}
			for _, inner := range bodiesOf(it) {
				in(inner)
			}
		}
	}
	if v := viewOf(c.Syntax); v != nil {
		in(v.Body)
	}
}

// again is the same part cut out at another place, in the same draft; nil where it cannot be.
func (x *extraction) again(c *design.Component, items []syntax.Item, at source.Span) *extraction {
	own := &draft{d: x.d, graph: x.graph}
	y := &extraction{draft: own, o: x.o, c: c, items: items, span: at, called: x.called, events: map[string]*reported{}, moving: map[*design.Member]bool{}, around: map[string]types.Type{}}
	y.surroundings()
	if y.whatMoves() != nil || y.borders() != nil || len(own.edits) > 0 {
		return nil
	}
	y.draft = x.draft
	return y
}
