package types

import "lien/core/value"

// pair is a question with a name on one of its sides. It is asked once: while it is
// under way the answer is taken to be yes, as recursive types want (Amadio and
// Cardelli, Subtyping recursive types, 1993).
type pair struct{ from, to Type }

// Assignable says whether a value of type from can stand where to is wanted.
func Assignable(from, to Type) bool { return new(relation).assignable(from, to) }

// Identical says whether two types have the same values.
func Identical(a, b Type) bool {
	return a == b || Assignable(a, b) && Assignable(b, a)
}

// relation is what was answered on the way. A no holds for good; a yes may rest on one
// that turned out to be a no, and is forgotten with it.
type relation struct {
	known map[pair]bool
	yes   []pair // in the order in which they were taken to be so
}

func (r *relation) assignable(from, to Type) bool {
	if from == to || from == Any || to == Any || from == Never {
		return true
	}
	_, a := from.(*Named)
	_, b := to.(*Named)
	if a || b {
		return r.named(pair{from, to})
	}
	if u, ok := from.(*Union); ok {
		for _, m := range u.Members {
			if !r.assignable(m, to) {
				return false
			}
		}
		return true
	}
	if u, ok := to.(*Union); ok {
		return r.toUnion(from, u)
	}
	return r.parts(from, to)
}

func (r *relation) named(p pair) bool {
	if is, ok := r.known[p]; ok {
		return is
	}
	if r.known == nil {
		r.known = map[pair]bool{}
	}
	r.known[p] = true
	r.yes = append(r.yes, p)
	at := len(r.yes)
	if r.assignable(Under(p.from), Under(p.to)) {
		return true
	}
	for _, q := range r.yes[at:] {
		delete(r.known, q)
	}
	r.yes = r.yes[:at-1]
	r.known[p] = false
	return false
}

func (r *relation) toUnion(from Type, to *Union) bool {
	for _, m := range to.Members {
		if r.assignable(from, m) {
			return true
		}
	}
	return from == Boolean && r.assignable(Literal{value.Bool(true)}, to) && r.assignable(Literal{value.Bool(false)}, to)
}

func (r *relation) parts(from, to Type) bool {
	switch f := from.(type) {
	case Literal:
		if t, ok := to.(Literal); ok {
			return f.Value == t.Value
		}
		return basicOf(f) == to
	case *List:
		t, ok := to.(*List)
		return ok && r.assignable(f.Elem, t.Elem)
	case *Record:
		t, ok := to.(*Record)
		return ok && r.record(f, t)
	case *Func:
		t, ok := to.(*Func)
		return ok && r.function(f, t)
	case Instance:
		t, ok := to.(Instance)
		return ok && f.Of == t.Of
	}
	return false
}

func (r *relation) record(from, to *Record) bool {
	for _, t := range to.Fields {
		f, ok := from.Field(t.Name)
		if !ok {
			if !t.Optional {
				return false
			}
			continue
		}
		if !r.assignable(f.Read(), t.Read()) {
			return false
		}
	}
	return true
}

func (r *relation) function(from, to *Func) bool {
	for i, p := range from.Params {
		if i >= len(to.Params) {
			if !p.Optional {
				return false
			}
			continue
		}
		if !r.assignable(to.Params[i].Read(), p.Read()) {
			return false
		}
	}
	return to.Result == Void || r.assignable(from.Result, to.Result)
}

// Comparable says whether a value of a can ever equal one of b.
func Comparable(a, b Type) bool { return new(relation).comparable(a, b) }

func (r *relation) comparable(a, b Type) bool {
	if r.assignable(a, b) || r.assignable(b, a) {
		return true
	}
	for _, m := range Members(a) {
		for _, n := range Members(b) {
			if r.assignable(m, n) || r.assignable(n, m) {
				return true
			}
			if x, ok := Under(m).(*List); ok {
				if y, ok := Under(n).(*List); ok && r.comparable(x.Elem, y.Elem) {
					return true
				}
			}
		}
	}
	return false
}

// Storable says whether values of t can be kept in a cell: functions and
// instances cannot.
func Storable(t Type) bool { return storable(t, map[*Named]bool{}) }

// storable looks at each name once: a no ends it all.
func storable(t Type, seen map[*Named]bool) bool {
	if n, ok := t.(*Named); ok {
		if seen[n] {
			return true
		}
		seen[n] = true
		return storable(Under(n), seen)
	}
	switch t := t.(type) {
	case *Func, Instance:
		return false
	case *List:
		return storable(t.Elem, seen)
	case *Record:
		for _, f := range t.Fields {
			if !storable(f.Type, seen) {
				return false
			}
		}
	case *Union:
		for _, m := range t.Members {
			if !storable(m, seen) {
				return false
			}
		}
	}
	return t != Void
}

// Mismatch says where from does not fit to, for a message: "" or a part such
// as "field name: string is wanted, but it is a number".
func Mismatch(from, to Type) string {
	f, ok := Under(from).(*Record)
	if !ok {
		return ""
	}
	t, ok := Under(NonNull(to)).(*Record)
	if !ok {
		return ""
	}
	if name := missing(f, t); name != "" {
		return "its field " + name + " is missing"
	}
	for _, want := range t.Fields {
		if got, ok := f.Field(want.Name); ok && !Assignable(got.Read(), want.Read()) {
			return "its field " + want.Name + " is " + Article(Shown(got.Read(), want.Read())) + ", not " + Article(want.Read())
		}
	}
	return ""
}

// missing is the first field that to must have and from has not, or "".
func missing(from, to *Record) string {
	for _, f := range to.Fields {
		if _, has := from.Field(f.Name); !has && !f.Optional {
			return f.Name
		}
	}
	return ""
}
