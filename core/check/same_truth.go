package check

import (
	"slices"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// keptTwice: a component keeps what it reports, and who hears it keeps it, too.
var keptTwice = rule{"kept-twice", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	told := map[[2]*design.Member]bool{}
	for _, t := range flow.TwinsIn(p.d, p.heard) {
		if t.A.Owner == t.B.Owner || told[[2]*design.Member{t.A, t.B}] {
			continue
		}
		told[[2]*design.Member{t.A, t.B}] = true
		report(t.A.At, "%s keeps %s, and %s keeps the same as %s", t.A.Owner.Name, t.A.Label, t.B.Owner.Name, t.B.Label).
			See(t.At.Start, "it is set here, and reported").
			See(t.Also.Start, "what was reported is kept here").
			Instead("hold it in %s alone, and hand it down: takes %s: %s; lien lift %s.%[2]s moves it up, and lien join makes one cell of both", t.B.Owner.Name, t.A.Label, t.A.Type(), t.A.Owner.Name)
	}
}}

// heard are the bodies that run when an event is reported.
func (p *pass) heard(event *design.Member) (list []*design.Body) {
	for _, h := range p.links().Hears[event] {
		list = append(list, h.Body)
	}
	return list
}

// itemGoesStale: a cell holds an item of a list as it was when it was chosen, while
// the items change.
var itemGoesStale = rule{"item-goes-stale", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, list := range p.links().Cells() {
		l, ok := types.Under(list.Type()).(*types.List)
		if !ok || !p.changesItems(list, l.Elem) {
			continue
		}
		t := p.flows().Taint([]flow.Var{list}, false)
		for _, m := range p.links().Cells() {
			rec, ok := types.Under(types.NonNull(m.Type())).(*types.Record)
			if !ok || m == list || m.Copy || !types.Identical(types.NonNull(m.Type()), l.Elem) {
				continue
			}
			for _, w := range p.links().Writes[m] {
				if w.Value != nil && t.In(w.Value) {
					field := "id"
					if len(rec.Fields) > 0 && keyField(l.Elem) == "" {
						field = rec.Fields[0].Name
					}
					report(m.At, "%s holds an item of %s as it was: it goes stale when that item changes", m.Label, list.Label).
						See(w.At.Start, "it is taken here").
						Instead("hold its %s, and find the item: derives %s = %s.find(x => x.%s == %sId)", field, m.Label, list.Label, field, m.Label)
					break
				}
			}
		}
	}
}}

// changesItems says whether items of a list are replaced by others that differ in
// a field.
func (p *pass) changesItems(list *design.Member, elem types.Type) bool {
	if _, ok := types.Under(elem).(*types.Record); !ok {
		return false
	}
	for _, w := range p.links().Writes[list] {
		if w.Value == nil {
			return true // a tie, or a part of it
		}
		changed := false
		types.Walk(w.Value, func(x types.Expr) bool {
			r, ok := x.(*types.RecordOf)
			if ok {
				spreads, sets := false, false
				for _, n := range r.Names {
					spreads, sets = spreads || n == "", sets || n != ""
				}
				changed = changed || spreads && sets
			}
			return true
		})
		if changed {
			return true
		}
	}
	return false
}

// countedBeside: a number that is changed wherever a list is, by one.
var countedBeside = rule{"counted-beside", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, list := range p.links().Cells() {
		if _, ok := types.Under(list.Type()).(*types.List); !ok || len(p.links().Writes[list]) == 0 {
			continue
		}
		for _, n := range p.links().Cells() {
			if n.Owner != list.Owner || !types.Identical(n.Type(), types.Number) || len(p.bodies(n)) == 0 || !sameBodies(p.bodies(n), p.bodies(list)) {
				continue // what is tied is written by nobody here
			}
			if field := p.sums(n, list); field != "" {
				report(n.At, "%s adds up %s of what %s holds", n.Label, field, list.Label).
					See(list.At.Start, "the list is held here").
					Instead("write derives %s = %s.reduce((sum, x) => sum + x.%s, 0), and remove the assignments", n.Label, list.Label, field)
			}
			if p.counts(n, list) {
				report(n.At, "%s counts what %s holds", n.Label, list.Label).
					See(list.At.Start, "the list is held here").
					Instead("write derives %s = %s.length, and remove the assignments", n.Label, list.Label)
			}
		}
	}
}}

// counts says whether a cell goes up by one only where a list grows, down only where some of it is left out, and begins
// anew only where the list does.
func (p *pass) counts(n, list *design.Member) bool {
	steps := false
	for _, w := range p.links().Writes[n] {
		step := p.stepOf(w.Value)
		steps = steps || step == grows || step == shrinks
		if step == otherwise || !slices.ContainsFunc(p.links().Writes[list], func(o *links.Write) bool {
			return o.Trigger.Body == w.Trigger.Body && resized(o.Value) == step
		}) {
			return false
		}
	}
	return steps
}

// sums is the field of a list's items that a cell adds up: it grows by what each new item has there, and begins anew
// where the list does. It is "" where there is none.
func (p *pass) sums(n, list *design.Member) (field string) {
	for _, w := range p.links().Writes[n] {
		at := slices.IndexFunc(p.links().Writes[list], func(o *links.Write) bool { return o.Trigger.Body == w.Trigger.Body })
		items, ok := p.links().Writes[list][at].Value.(*types.ListOf)
		sum, adds := w.Value.(*types.Binary)
		switch {
		case ok && resized(items) == begins && p.stepOf(w.Value) == begins:
		case !ok || !adds || sum.Op != syntax.Plus || resized(items) != grows:
			return ""
		default:
			name := p.fieldOfNew(items, p.d.Text(sum.Y.Span()))
			if name == "" || field != "" && name != field {
				return ""
			}
			field = name
		}
	}
	return field
}

// fieldOfNew is the field of the item that a list grows by which is written as this, or "".
func (p *pass) fieldOfNew(items *types.ListOf, text string) string {
	for _, it := range items.Items {
		if r, ok := it.X.(*types.RecordOf); ok && !it.Spread {
			for i, v := range r.Values {
				if p.d.Text(v.Span()) == text {
					return r.Names[i]
				}
			}
		}
	}
	return ""
}

// sizing is what a write does to a number that counts, or to a list.
type sizing int

const (
	otherwise sizing = iota
	grows
	shrinks
	begins // anew
)

// stepOf says how a write changes a number: by one, or to one that is always the same.
func (p *pass) stepOf(x types.Expr) sizing {
	switch x := x.(type) {
	case *types.Const:
		return begins
	case *types.Binary:
		if one, ok := x.Y.(*types.Const); ok && p.d.Text(one.Span()) == "1" {
			switch x.Op {
			case syntax.Plus:
				return grows
			case syntax.Minus:
				return shrinks
			}
		}
	}
	return otherwise
}

// resized says how a write changes a list.
func resized(x types.Expr) sizing {
	switch x := x.(type) {
	case *types.ListOf:
		switch spread := slices.ContainsFunc(x.Items, func(it types.Item) bool { return it.Spread }); {
		case !spread:
			return begins
		case len(x.Items) == 2:
			return grows // by one
		}
	case *types.Const:
		return begins
	case *types.Method:
		if x.Name == "filter" || x.Name == "slice" {
			return shrinks
		}
	}
	return otherwise
}

// failureUnheard: a question that can fail, and nobody hears of it.
var failureUnheard = rule{"failure-unheard", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, e := range p.seen().does {
		if e.Kind == design.Asks && len(e.Operation.Fails) > 0 && e.Ask.Failed == nil {
			o := e.Operation
			report(e.At.Span(), "%s.%s can fail, and nobody hears of it here", o.Service.Name, o.Name).
				See(o.Syntax.Start, "it is declared here").
				Instead("write failed(why) -> ... in its block")
		}
	}
}}
