package flow

import "lien/core/design"

// Slice is the variables that some depend on, directly or through others: a
// backward slice (Weiser, "Program slicing", 1981), closed under the dependences.
// What is not in it cannot change them.
type Slice struct{ has map[Var]bool }

// Slice is the slice for some variables.
func (d *Depend) Slice(from []Var) *Slice { return d.slice(from, nil) }

// slice is the closure where some variables depend on less.
func (d *Depend) slice(from []Var, less map[Var][]Var) *Slice {
	s := &Slice{map[Var]bool{}}
	from = append([]Var(nil), from...)
	for len(from) > 0 {
		v := from[len(from)-1]
		from = from[:len(from)-1]
		if v == nil || s.has[v] {
			continue
		}
		s.has[v] = true
		if on, ok := less[v]; ok {
			from = append(from, on...)
		} else {
			from = append(from, d.on[v]...)
		}
	}
	return s
}

// Has says whether a variable is in the slice.
func (s *Slice) Has(v Var) bool { return s.has[v] }

// Size is how many variables are in it.
func (s *Slice) Size() int { return len(s.has) }

// States is how many of its variables make a state of a page, or are gestures
// that change one: two slices, one in the other, with as many of them have the
// same states.
func (s *Slice) States() (n int) {
	for v := range s.has {
		switch v := v.(type) {
		case *design.Member:
			if v.IsCell() || v.Kind == design.Timer || v.Kind == design.ConstMember {
				n++
			}
		case Field, *design.When, *design.Each, *design.Use, *design.Operation, *design.Element, *design.Body:
			n++
		}
	}
	return n
}

// Within says whether all of a slice is in another one.
func (s *Slice) Within(o *Slice) bool {
	for v := range s.has {
		if !o.has[v] {
			return false
		}
	}
	return true
}

// What a proof asks of a slice, by what it finds on a page.

// Cell says whether a cell is in the slice.
func (s *Slice) Cell(m *design.Member) bool { return s.has[m] }

// Field says whether a field of records is.
func (s *Slice) Field(name string) bool { return s.has[Field(name)] }

// Node says whether what a when or each shows is.
func (s *Slice) Node(n design.Node) bool { return s.has[n] }

// Timer says whether it is in the slice whether a timer runs.
func (s *Slice) Timer(m *design.Member) bool { return s.has[m] }

// Operation says whether the questions to an operation are.
func (s *Slice) Operation(o *design.Operation) bool { return s.has[o] }

// Opening says whether it is in the slice that something is open.
func (s *Slice) Opening(u *design.Use) bool { return s.has[u] }

// Props says whether what users do to an element is.
func (s *Slice) Props(el *design.Element) bool { return s.has[el] }

// Hears says whether a gesture on an element runs or changes anything that is.
func (s *Slice) Hears(el *design.Element) bool {
	if s.has[el] {
		return true
	}
	for _, t := range el.Ties {
		for _, v := range Targets(t.Write) {
			if s.has[v] {
				return true
			}
		}
		if m := t.Write.Cell(); m != nil && m.Body != nil && s.has[m.Body] {
			return true
		}
	}
	for _, h := range el.Handlers {
		if s.has[h.Body] {
			return true
		}
	}
	return false
}

// Body says whether it is in the slice that a body runs.
func (s *Slice) Body(b *design.Body) bool { return s.has[b] }
