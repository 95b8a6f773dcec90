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
