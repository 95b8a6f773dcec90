package types

import (
	"fmt"

	"lien/core/source"
	"lien/core/syntax"
	"lien/core/value"
)

// Symbol is what a name stands for.
type Symbol interface {
	Name() string
	Type() Type
	// Stable says that the value cannot change while a handler runs, so that
	// what a test has shown of it stays true.
	Stable() bool
	// Pos is where it is declared.
	Pos() source.Pos
}

// Local is a parameter or constant of a handler, function or arrow function.
type Local struct {
	Label  string
	Typ    Type
	Slot   int // in the frame of the function it belongs to
	At     source.Span
	Unused bool // declared, and not read so far
}

func (l *Local) Name() string    { return l.Label }
func (l *Local) Type() Type      { return l.Typ }
func (l *Local) Stable() bool    { return true }
func (l *Local) Pos() source.Pos { return l.At.Start }

// Expr is an expression whose names are resolved and whose type is known.
type Expr interface {
	Type() Type
	Span() source.Span
}

// typed is the part that all expressions share.
type typed struct {
	typ Type
	at  source.Span
}

func (t *typed) Type() Type        { return t.typ }
func (t *typed) Span() source.Span { return t.at }

type (
	// Const is a value.
	Const struct {
		typed
		Value value.Value
	}
	// Ref is the value of a symbol.
	Ref struct {
		typed
		Symbol Symbol
	}
	// Dot is a field of a record; with Optional null gives null.
	Dot struct {
		typed
		X        Expr
		Name     string
		Optional bool
	}
	// Select is a member of an instance; with Optional null gives null.
	Select struct {
		typed
		X        Expr
		Member   Symbol
		Optional bool
	}
	// At is an item of a list, or null outside it.
	At struct {
		typed
		X, I     Expr
		Optional bool
	}
	// Unary is !x or -x.
	Unary struct {
		typed
		Op syntax.Kind
		X  Expr
	}
	// Binary is x op y.
	Binary struct {
		typed
		Op   syntax.Kind
		X, Y Expr
	}
	// Cond is c ? x : y.
	Cond struct {
		typed
		C, X, Y Expr
	}
	// Template joins texts and values: len(Texts) is len(Exprs)+1.
	Template struct {
		typed
		Texts []string
		Exprs []Expr
	}
	// ListOf is [a, ...b].
	ListOf struct {
		typed
		Items []Item
	}
	// Item is an item of a list literal; with Spread all items of a list.
	Item struct {
		X      Expr
		Spread bool
	}
	// RecordOf is { a: 1, ...b }; a field without a name spreads a record.
	RecordOf struct {
		typed
		Names  []string
		Values []Expr
	}
	// Lambda is an arrow function.
	Lambda struct {
		typed
		Params []*Local
		Body   Expr
	}
	// Method is a call of a method of a string, number or list, or its length.
	Method struct {
		typed
		Recv      Expr
		Name      string
		Args      []Expr
		Optional  bool // null gives null
		MayBeNull bool // its own result can be null
	}
	// Builtin is a call of a function of the language itself: Math.min, now, all, ...
	Builtin struct {
		typed
		Name string
		Args []Expr
		Of   any // a component, timer or event that the call names
	}
	// Apply is a call of a derived, taken or handed-out function.
	Apply struct {
		typed
		Fun      Expr
		Args     []Expr
		Optional bool // null gives null
	}
)

// NewRef is a reference to a symbol, for code that stands in no text.
func NewRef(s Symbol, at source.Span) *Ref { return &Ref{typed{s.Type(), at}, s} }

// Walk visits e and all expressions in it, in order; visit says whether to
// enter the one it is given.
func Walk(e Expr, visit func(Expr) bool) {
	if e == nil || !visit(e) {
		return
	}
	walk := func(list ...Expr) {
		for _, c := range list {
			Walk(c, visit)
		}
	}
	switch e := e.(type) {
	case *Dot:
		walk(e.X)
	case *Select:
		walk(e.X)
	case *At:
		walk(e.X, e.I)
	case *Unary:
		walk(e.X)
	case *Binary:
		walk(e.X, e.Y)
	case *Cond:
		walk(e.C, e.X, e.Y)
	case *Template:
		walk(e.Exprs...)
	case *ListOf:
		for _, it := range e.Items {
			walk(it.X)
		}
	case *RecordOf:
		walk(e.Values...)
	case *Lambda:
		walk(e.Body)
	case *Method:
		walk(e.Recv)
		walk(e.Args...)
	case *Builtin:
		walk(e.Args...)
	case *Apply:
		walk(e.Fun)
		walk(e.Args...)
	case *Const, *Ref:
	default:
		panic(fmt.Sprintf("types: an expression of an unknown kind: %T", e))
	}
}

// Unknown stands for an expression that has been reported.
func Unknown(at source.Span) Expr { return unknown(at) }

// NewBuiltin is a call of a function of the language that a design resolves.
func NewBuiltin(t Type, at source.Span, name string, of any, args ...Expr) *Builtin {
	return &Builtin{typed: typed{t, at}, Name: name, Args: args, Of: of}
}
