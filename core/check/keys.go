package check

import (
	"slices"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// itemWithoutKey: an each without by over a list that changes: the state of
// its items stays at their places when they move.
var itemWithoutKey = rule{"item-without-key", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	p.eaches(func(c *design.Component, e *design.Each) {
		place := byPlace(e) && keepsState(e.Body)
		if e.By != nil && !place || !p.changes(e.List.Expr) {
			return
		}
		if place {
			f := report(e.By.Expr.Span(), "this list changes, but its items are told apart by their place, which keeps their state there").
				Instead("give the items a field of their own, such as id, and write by %s.id", e.Item.Label)
			if field := keyField(e.Item.Typ); field != "" {
				f.Instead("write by %s.%s", e.Item.Label, field).Mend("use "+field+" as the key", e.By.Expr.Span(), e.Item.Label+"."+field)
			}
			return
		}
		f := report(e.Syntax.Var.Span(), "this list changes, but its items have no key")
		field := keyField(e.Item.Typ)
		if field == "" {
			f.Instead("give the items a field of their own, such as id, and write by %s.id", e.Item.Label)
			return
		}
		at := e.Syntax.List.Span().End
		f.Instead("write by %s.%s", e.Item.Label, field).
			Mend("use "+field+" as the key", source.Span{Start: at, End: at}, " by "+e.Item.Label+"."+field)
	})
}}

// byPlace says whether the items of an each are told apart by their index.
func byPlace(e *design.Each) bool {
	if e.By == nil || e.Index == nil {
		return false
	}
	ref, ok := e.By.Expr.(*types.Ref)
	return ok && ref.Symbol == types.Symbol(e.Index)
}

// keepsState says whether components that are used in nodes, or in these, hold cells.
func keepsState(nodes []design.Node) (keeps bool) {
	seen := map[*design.Component]bool{}
	var v design.Visitor
	v.Node = func(n design.Node) {
		u, ok := n.(*design.Use)
		if !ok || seen[u.Component] {
			return
		}
		seen[u.Component] = true
		for _, m := range u.Component.Members {
			keeps = keeps || m.Kind == design.Holds
		}
		v.Nodes(u.Component.View)
	}
	v.Nodes(nodes)
	return keeps
}

// keyField is the field that is a record's key by its name, or "".
func keyField(t types.Type) string {
	r, ok := types.Under(t).(*types.Record)
	if !ok {
		return ""
	}
	for _, name := range []string{"id", "key"} {
		if _, ok := r.Field(name); ok {
			return name
		}
	}
	return ""
}

// madeKey is the only field of a record that is a Key, or "".
func madeKey(t types.Type) (name string) {
	r, ok := types.Under(t).(*types.Record)
	if !ok {
		return ""
	}
	for _, f := range r.Fields {
		if f.Type == types.Key {
			if name != "" {
				return ""
			}
			name = f.Name
		}
	}
	return name
}

// eaches visits every each of the design.
func (p *pass) eaches(visit func(*design.Component, *design.Each)) {
	for _, l := range p.seen().lists {
		visit(l.by, l.each)
	}
}

// changes says whether an expression reads a cell that is written somewhere,
// here or where its value is handed down from.
func (p *pass) changes(e types.Expr) bool {
	seen := map[*design.Member]bool{}
	var changes func(e types.Expr) bool
	var member func(m *design.Member) bool
	member = func(m *design.Member) bool {
		if seen[m] {
			return false
		}
		seen[m] = true
		switch m.Kind {
		case design.Holds:
			return len(p.journey(m).Changed) > 0
		case design.Shares:
			if len(p.journey(m).Changed) > 0 {
				return true
			}
			for _, l := range p.links().Fed[m] {
				if l.From != nil && member(l.From) {
					return true
				}
			}
		case design.Derives:
			return m.Init != nil && changes(m.Init.Expr)
		case design.Takes:
			for _, l := range p.links().Fed[m] {
				if l.From != nil && member(l.From) {
					return true
				}
			}
		}
		return false
	}
	changes = func(e types.Expr) bool {
		found := false
		types.Walk(e, func(e types.Expr) bool {
			if ref, ok := e.(*types.Ref); ok {
				switch s := ref.Symbol.(type) {
				case *design.Member:
					found = found || member(s)
				case *design.ViewLocal:
					found = found || s.Each != nil && changes(s.Each.List.Expr)
				}
			}
			return !found
		})
		return found
	}
	return changes(e)
}

// keysMeet: by a field that is equal in two of the first items, or that a user
// can make equal.
var keysMeet = rule{"keys-meet", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	p.eaches(func(c *design.Component, e *design.Each) {
		dot, ok := byField(e)
		if e.By != nil && !ok {
			if ref, item := e.By.Expr.(*types.Ref); item && ref.Symbol == types.Symbol(e.Item) {
				if key, at := metKey(fieldOfItems(e.List.Expr, "")); key != nil {
					report(e.By.Expr.Span(), "two items of this list are %s, but each is its own key", value.Brief(key, 40)).
						See(at.Start, "the second one").Instead("take one out, or give the items a field of their own, and write by %s.id", e.Item.Label)
					return
				}
				p.givenTwice(e, "", report)
			}
		}
		if !ok {
			return
		}
		told := len(p.found)
		defer func() {
			if len(p.found) == told {
				p.givenTwice(e, dot, report)
			}
			if own := madeKey(e.Item.Typ); own != "" && own != dot && len(p.found) == told && p.changes(e.List.Expr) {
				report(e.By.Expr.Span(), "the items have a key of their own, %s, but are told apart by %s", own, dot).
					Instead("write by %s.%s", e.Item.Label, own).
					Mend("use "+own+" as the key", e.By.Expr.Span(), e.Item.Label+"."+own)
			}
		}()
		if key, at := metKey(fieldOfItems(e.List.Expr, dot)); key != nil {
			f := report(e.By.Expr.Span(), "two items of this list have the %s %s, but it is their key", dot, value.Brief(key, 40)).
				Instead("let the %s of every item differ, or write by a field that does", dot)
			if at.Start != at.End {
				f.See(at.Start, "the second one")
			}
			return
		}
		design.Visitor{Node: func(n design.Node) {
			el, ok := n.(*design.Element)
			if !ok {
				return
			}
			for _, t := range el.Ties {
				if l, ok := t.Write.Root.(*design.ViewLocal); ok && l.Each == e && len(t.Write.Steps) > 0 && t.Write.Steps[0].Field == dot {
					report(e.By.Expr.Span(), "the user can give two items the same %s, but it is their key", dot).
						See(t.Syntax.Start, "%s is tied to a field here", dot).
						Instead("give the items an id that nobody edits, and write by %s.id", e.Item.Label)
				}
			}
		}}.Nodes(e.Body)
	})
}}

// A fieldValue is what one item has in a field, and where that is written; it
// is nil where it is not known before the design runs.
type fieldValue struct {
	value value.Value
	at    source.Span
}

// fieldOfItems reads a field of the items that a list begins with, or with "" the items themselves: a constant,
// data from a file, or the first value of a cell.
func fieldOfItems(list types.Expr, field string) []fieldValue {
	switch x := list.(type) {
	case *types.Ref:
		switch s := x.Symbol.(type) {
		case *design.Const:
			if l, ok := s.Data.(*value.List); ok {
				return fieldOfData(l, field)
			}
			return fieldOfItems(s.Unit.Expr, field)
		case *design.Member:
			if s.Init != nil && s.Init.Expr != nil && (s.Kind == design.Holds || s.Kind == design.ConstMember) {
				return fieldOfItems(s.Init.Expr, field)
			}
		}
	case *types.ListOf:
		var out []fieldValue
		for _, item := range x.Items {
			out = append(out, fieldOfLiteral(item.X, field))
		}
		return out
	}
	return nil
}

func fieldOfData(l *value.List, field string) []fieldValue {
	var out []fieldValue
	for _, item := range l.Items() {
		if r, ok := item.(*value.Record); ok {
			out = append(out, fieldValue{value: r.Get(field)})
		} else if field == "" {
			out = append(out, fieldValue{value: item})
		}
	}
	return out
}

func fieldOfLiteral(item types.Expr, field string) fieldValue {
	if c, ok := item.(*types.Const); ok && field == "" {
		return fieldValue{c.Value, c.Span()}
	}
	if r, ok := item.(*types.RecordOf); ok {
		if i := slices.Index(r.Names, field); i >= 0 {
			if c, ok := r.Values[i].(*types.Const); ok {
				return fieldValue{c.Value, c.Span()}
			}
		}
	}
	return fieldValue{}
}

// metKey is the first value that stands twice, and where the second is.
func metKey(list []fieldValue) (value.Value, source.Span) {
	seen := map[string]bool{}
	for _, v := range list {
		if v.value == nil {
			continue
		}
		text := value.Brief(v.value, 1<<20)
		if seen[text] {
			return v.value, v.at
		}
		seen[text] = true
	}
	return nil, source.Span{}
}

// byField is the field of the item that is its key.
func byField(e *design.Each) (string, bool) {
	if e.By == nil {
		return "", false
	}
	dot, ok := e.By.Expr.(*types.Dot)
	if !ok {
		return "", false
	}
	ref, ok := dot.X.(*types.Ref)
	return dot.Name, ok && ref.Symbol == e.Item
}
