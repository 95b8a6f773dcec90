package types

import "lien/core/syntax"

// Fresh is the type that a name gets from its first value: literals stand for
// what they are one of, so that another value can follow. What is declared as
// one of several literals stays so.
func Fresh(e Expr) Type {
	switch e := e.(type) {
	case *Const:
		return Widen(e.typ)
	case *Ref:
		if l, ok := e.typ.(Literal); ok {
			return basicOf(l)
		}
	case *Cond:
		return join(Fresh(e.X), Fresh(e.Y))
	case *Binary:
		if e.Op == syntax.Coalesce {
			return join(NonNull(Fresh(e.X)), Fresh(e.Y))
		}
	case *ListOf:
		return freshList(e)
	case *RecordOf:
		return freshRecord(e)
	}
	return e.Type()
}

func freshList(e *ListOf) Type {
	elem := Type(Never)
	for _, it := range e.Items {
		t := Fresh(it.X)
		if it.Spread {
			l, ok := Under(t).(*List)
			if !ok {
				return e.typ
			}
			t = l.Elem
		}
		elem = join(elem, t)
	}
	return &List{elem}
}

func freshRecord(e *RecordOf) Type {
	r, ok := e.typ.(*Record)
	if !ok {
		return e.typ // it has the type that its place asks for
	}
	out := &Record{append([]Field(nil), r.Fields...)}
	for i, name := range e.Names {
		if at := fieldAt(out, name); at >= 0 && name != "" {
			out.Fields[at].Type = Fresh(e.Values[i])
		}
	}
	return out
}
