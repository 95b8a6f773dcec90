package value

// A turn that reads one field of a record depends on that field, not on the
// others. Records, and lists of plain values, can be watched: who watches is
// told which of their parts are read, also of the values that were made of
// them by changing other parts.
//
// Equal, Differences, pools and List.Changes look without being noticed: who
// decides something by them tells of it himself, by Read.

// MostParts is how many parts a watched value may have.
const MostParts = 64

// Watcher is told that a part was read; seat is what Watch was given. A part
// may have been changed since: then it is read of another value than that.
type Watcher interface {
	PartRead(seat, part int, changed bool)
}

// seat is where a watched value stands.
type seat struct {
	by Watcher
	at int
	of Value // the watched value itself
}

func (s *seat) tell(part int, own uint64) { s.by.PartRead(s.at, part, own>>part&1 != 0) }

// Watch is a watched copy of a record, or of a list of plain values, with at
// most MostParts parts. What is in it must not be watched.
func Watch(v Value, by Watcher, at int) Value {
	s := &seat{by: by, at: at}
	switch v := v.(type) {
	case *Record:
		s.of = &Record{Names: v.Names, values: v.values, seat: s, parts: v.parts}
	case *List:
		s.of = &List{n: v.n, depth: v.depth, root: v.root, seat: s, parts: v.parts}
	}
	return s.of
}

// Changed tells which parts of a value are not those of a watched one any
// more, as bits; false where it was not made of that one, or has other parts.
func Changed(v, watched Value) (parts uint64, ok bool) {
	if v == watched {
		return 0, true
	}
	switch v := v.(type) {
	case *Record:
		w, is := watched.(*Record)
		return v.own, is && v.seat != nil && v.seat.of == watched && len(v.Names) == len(w.Names)
	case *List:
		return v.own, v.seat != nil && v.seat.of == watched
	}
	return 0, false
}

// Read tells who watches that all of a value is read.
func Read(v Value) {
	switch v := v.(type) {
	case *Record:
		for i := range v.values {
			Read(v.At(i))
		}
	case *List:
		for _, x := range v.Items() {
			Read(x)
		}
	}
}

// Plain is a value of which nothing is watched.
func Plain(v Value) Value {
	switch v := v.(type) {
	case *Record:
		out := v
		for i, x := range v.values {
			if y := Plain(x); y != x {
				if out == v {
					out = &Record{Names: v.Names, values: append([]Value(nil), v.values...), parts: v.parts}
				}
				out.values[i] = y
			}
		}
		if out.seat != nil {
			out = &Record{Names: v.Names, values: v.values, parts: v.parts}
		}
		return out
	case *List:
		if v.seat != nil {
			return &List{n: v.n, depth: v.depth, root: v.root, parts: v.parts}
		}
		return v.Map(func(_ int, x Value) Value { return Plain(x) })
	}
	return v
}
