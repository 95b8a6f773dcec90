// Package value holds the values that a design computes with. They are
// immutable: an update makes a new value that shares what has not changed.
package value

// Value is null, a boolean, a number, a string, a key, a list or a record;
// the engine adds functions and instances of its own.
type Value interface{ Kind() Kind }

// Kind tells what sort of value it is.
type Kind uint8

const (
	NullKind Kind = iota
	BoolKind
	NumberKind
	StringKind
	KeyKind
	ListKind
	RecordKind
	FuncKind
	InstanceKind
)

type (
	// Null is the value null, which a missing optional field equals.
	Null struct{}
	// Bool is true or false.
	Bool bool
	// Number is an IEEE 754 double that is finite and not -0.
	Number float64
	// String is text as UTF-8; a lone surrogate is kept as its three bytes.
	String string
	// Key is what fresh() gives: equal to nothing but itself.
	Key uint64
)

func (Null) Kind() Kind    { return NullKind }
func (Bool) Kind() Kind    { return BoolKind }
func (Number) Kind() Kind  { return NumberKind }
func (String) Kind() Kind  { return StringKind }
func (Key) Kind() Kind     { return KeyKind }
func (*List) Kind() Kind   { return ListKind }
func (*Record) Kind() Kind { return RecordKind }

// IsNull says whether v is null.
func IsNull(v Value) bool { return v == Value(Null{}) }

// Equal compares by value, as == does in the language. Lists and records
// that share parts are compared in proportion to what they do not share.
func Equal(a, b Value) bool {
	if a == b {
		return true
	}
	switch x := a.(type) {
	case *List:
		y, ok := b.(*List)
		return ok && x.equal(y)
	case *Record:
		y, ok := b.(*Record)
		return ok && x.equal(y)
	}
	return false
}

// Record is a set of named fields, in the order in which they were written.
type Record struct {
	Names  []string
	Values []Value
}

// Get is the field's value, or null where there is none.
func (r *Record) Get(name string) Value {
	for i, n := range r.Names {
		if n == name {
			return r.Values[i]
		}
	}
	return Null{}
}

// With is a record with one field changed or added.
func (r *Record) With(name string, v Value) *Record {
	for i, n := range r.Names {
		if n == name {
			values := append([]Value(nil), r.Values...)
			values[i] = v
			return &Record{r.Names, values}
		}
	}
	n := len(r.Names)
	return &Record{append(r.Names[:n:n], name), append(r.Values[:n:n], v)}
}

// equal compares field by field; a missing field equals null.
func (r *Record) equal(o *Record) bool {
	for i, n := range r.Names {
		if !Equal(r.Values[i], o.Get(n)) {
			return false
		}
	}
	for i, n := range o.Names {
		if !IsNull(o.Values[i]) && IsNull(r.Get(n)) {
			return false
		}
	}
	return true
}
