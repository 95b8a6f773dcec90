package value

// Record is a set of named fields, in the order in which they were written.
type Record struct {
	Names  []string
	values []Value
	seat   *seat
	own    uint64 // of a watched record: the fields that were changed since
	parts  int32
}

// NewRecord is a record of the fields; it keeps the slices.
func NewRecord(names []string, values []Value) *Record {
	return &Record{Names: names, values: values, parts: partsOf(values)}
}

// At is the value of field i, which must be there.
func (r *Record) At(i int) Value {
	if r.seat != nil {
		r.seat.tell(i, r.own)
	}
	return r.values[i]
}

// Get is the field's value, or null where there is none.
func (r *Record) Get(name string) Value {
	if i, ok := r.index(name); ok {
		return r.At(i)
	}
	return Null{}
}

func (r *Record) index(name string) (int, bool) {
	for i, n := range r.Names {
		if n == name {
			return i, true
		}
	}
	return 0, false
}

// peek is what Get gives, unnoticed by who watches.
func (r *Record) peek(name string) Value {
	if i, ok := r.index(name); ok {
		return r.values[i]
	}
	return Null{}
}

// With is a record with one field changed or added.
func (r *Record) With(name string, v Value) *Record {
	if i, ok := r.index(name); ok {
		values := append([]Value(nil), r.values...)
		values[i] = v
		return &Record{r.Names, values, r.seat, r.own | 1<<i, most(int(r.parts) + Parts(v) - Parts(r.values[i]))}
	}
	n := len(r.Names)
	return &Record{append(r.Names[:n:n], name), append(r.values[:n:n], v), r.seat, r.own | 1<<n, most(int(r.parts) + Parts(v))}
}

// equal compares field by field; a missing field equals null.
func (r *Record) equal(o *Record) bool {
	for i, n := range r.Names {
		if !Equal(r.values[i], o.peek(n)) {
			return false
		}
	}
	for i, n := range o.Names {
		if !IsNull(o.values[i]) && IsNull(r.peek(n)) {
			return false
		}
	}
	return true
}
