package types

import "lien/core/syntax"

// Instances of several kinds, as gathers lists them: what all kinds offer can be read and called. It
// is read of each kind in turn, of which only the right one has it: no other part of the program
// needs to know of more than one kind.

// kindsOf are the kinds of a union of instances, or nil where it is none.
func kindsOf(t Type) (list []Instance) {
	for _, m := range Members(t) {
		in, ok := Under(m).(Instance)
		if !ok {
			return nil
		}
		list = append(list, in)
	}
	if len(list) < 2 {
		return nil
	}
	return list
}

// Kinds are the kinds of a union of instances, or nil where t is none.
func Kinds(t Type) []Instance { return kindsOf(NonNull(t)) }

// OfKind is the member of what x gives, if that is an instance of a kind, and else null.
func OfKind(x Expr, kind Instance, member Symbol, e *syntax.Dotted) *Select {
	narrowed := &Builtin{typed: typed{Or(kind, Null), x.Span()}, Name: "ofKind", Args: []Expr{x}, Of: kind.Of}
	return &Select{typed{Or(member.Type(), Null), e.Span()}, narrowed, member, true}
}

// Common finds a member in all kinds, in their order, and reports where one has none.
func (c *Checker) Common(e *syntax.Dotted, kinds []Instance) []Symbol {
	var list []Symbol
	for _, k := range kinds {
		m := k.Of.Reach(e.Name.Text)
		if m == nil {
			c.Errorf("not-in-scope", e.Name.Span(), "%s has no %s that can be read here, and it is one of the kinds that this may be", k, e.Name.Text).
				Instead("%s", DidYouMean(e.Name.Text, k.Of.Reachable(), "let it offer that, too: offers "+e.Name.Text+"; it has: "))
			return nil
		}
		list = append(list, m)
	}
	return list
}

// commonMember reads a member that all kinds have; call types a call of it, or is nil.
func (c *Checker) commonMember(e *syntax.Dotted, x Expr, kinds []Instance, optional bool, call func(fun Expr) Expr) Expr {
	var out Expr
	var result []Type
	for i, m := range c.Common(e, kinds) {
		var one Expr = OfKind(x, kinds[i], m, e)
		t := m.Type()
		if f, ok := Under(t).(*Func); ok {
			if call == nil {
				c.Errorf("wrong-type", e.Span(), "%s is a function of several kinds, which can only be called", e.Name.Text).Instead("write %s(...)", e.Name.Text)
				return unknown(e.Span())
			}
			one, t = call(one), f.Result
		}
		if i == len(kinds)-1 && !optional { // if it is of no other kind it is of this one
			switch one := one.(type) {
			case *Select:
				one.typ = t
			case *Apply:
				one.typ = t
			}
		}
		result = append(result, t)
		if out == nil {
			out = one
			continue
		}
		out = &Binary{typed{Or(append(result, Null)...), e.Span()}, syntax.Coalesce, out, one}
	}
	b, ok := out.(*Binary)
	if !ok {
		return unknown(e.Span())
	}
	if b.typ = Or(result...); optional {
		b.typ = Or(b.typ, Null)
	}
	return b
}
