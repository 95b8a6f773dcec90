package design

import (
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Node is what a view is made of.
type Node interface{ Span() source.Span }

type (
	// Element is an HTML element with its links.
	Element struct {
		syntax.At
		Tag      string
		Classes  []string
		Attrs    []*Attr // in text order; classes are in Marks
		Marks    []*Attr // .class <- cond
		Ties     []*Tie
		Handlers []*Handler
		Children []Node
		Named    types.Symbol // the member or local that names it, or nil
		Values   types.Type   // of a form: the record that it collects
		Syntax   *syntax.Element
	}
	// Attr is name <- expr on an element.
	Attr struct {
		Name   string
		Unit   Unit
		Syntax *syntax.Link
	}
	// Tie is name <-> cell on an element.
	Tie struct {
		Name   string
		Read   Unit
		Write  *Place
		Syntax *syntax.Link
	}
	// Handler runs when an event is heard.
	Handler struct {
		Name   string
		Event  *Member // of a component; nil for a DOM event
		Body   *Body
		Syntax *syntax.Event
	}
	// Text is text between elements.
	Text struct {
		syntax.At
		Unit Unit
	}
	// When shows the first branch whose condition holds.
	When struct {
		syntax.At
		Branches []*Branch
		Syntax   *syntax.When
	}
	// Branch is one case of a When; the last may be without condition.
	Branch struct {
		Cond *Unit
		Body []Node
	}
	// Each shows its body for every item of a list.
	Each struct {
		syntax.At
		Item   *ViewLocal
		Index  *ViewLocal // or nil
		List   Unit
		Place  *Place // the list as a place to write to, or nil
		By     *Unit  // or nil: the place in the list
		Body   []Node
		Locals int // how many locals a block of its body has
		Syntax *syntax.Each
	}
	// Use is a component used in a view.
	Use struct {
		syntax.At
		Component *Component
		Classes   []string // that land on the root element of the component
		Marks     []*Attr  // .class <- cond, likewise
		Links     []*Given
		Ties      []*Given // shared members and the places they are tied to
		Seeds     []*Given // first values of shared members
		Handlers  []*Handler
		Fills     []*Fill // the content, by slot
		Named     types.Symbol
		Syntax    *syntax.Element
	}
	// SlotPlace is where content of the component's user goes.
	SlotPlace struct {
		syntax.At
		Name     string // "" for the unnamed one
		Names    []string
		Data     []Unit // handed out under Names
		Fallback []Node
	}
	// Fill is content for a slot.
	Fill struct {
		Name   string
		Params []*ViewLocal // what is received, in the order of their slots
		Body   []Node
		Locals int
		Level  int
		At     source.Span
	}
	// Given is a value linked to a taken member, or a first value.
	Given struct {
		Member *Member
		Unit   Unit
		Place  *Place // of a tie
		Syntax *syntax.Link
	}
)

// ViewLocal is a name that a view declares: an item of an each, or its index.
type ViewLocal struct {
	Label string
	Typ   types.Type
	At    source.Span
	Each  *Each
	Level int // how many blocks with locals stand around it in its view
	Slot  int // 0 the item, 1 the index
	Used  bool
}

func (l *ViewLocal) Name() string     { return l.Label }
func (l *ViewLocal) Type() types.Type { return l.Typ }
func (l *ViewLocal) Stable() bool     { return false }
func (l *ViewLocal) Pos() source.Pos  { return l.At.Start }

// Place is what an assignment or tie writes to: a cell, or a part of it.
type Place struct {
	Root  types.Symbol // a *Member, or a *ViewLocal whose list can be written
	Of    *Member      // the context that the root belongs to, or nil
	Steps []PlaceStep
	Typ   types.Type
	At    source.Span
}

// PlaceStep goes into a record by a field's name, or into a list by an index.
type PlaceStep struct {
	Field string
	Index types.Expr  // or nil
	Of    types.Type  // that it goes into
	At    source.Span // of the field's name, or of the index
}

// Stmt is a statement, resolved.
type Stmt interface{ Span() source.Span }

type (
	// Assign writes a place: = (Assign), += or -=.
	Assign struct {
		syntax.At
		Place *Place
		Op    syntax.Kind
		Read  types.Expr // the place as an expression, for += and -=
		Value types.Expr
	}
	// Let declares a local constant.
	Let struct {
		syntax.At
		Local *types.Local
		Value types.Expr
	}
	// If chooses.
	If struct {
		syntax.At
		Cond       types.Expr
		Then, Else []Stmt
	}
	// For runs its body for every item.
	For struct {
		syntax.At
		Local *types.Local
		List  types.Expr
		Body  []Stmt
	}
	// Return ends the handler or action.
	Return struct{ syntax.At }
	// Emit reports an event of the component.
	Emit struct {
		syntax.At
		Event *Member
		Args  []types.Expr
	}
	// Do calls an action or a taken function.
	Do struct {
		syntax.At
		Fun  types.Expr
		Args []types.Expr
	}
	// Clock starts or stops a timer; All stops it whatever its arguments.
	Clock struct {
		syntax.At
		Timer *Member
		Stop  bool
		All   bool
		Args  []types.Expr
	}
	// Prevent is e.preventDefault() or, with Stop, e.stopPropagation().
	Prevent struct {
		syntax.At
		Stop bool
	}
	// Log writes to the console.
	Log struct {
		syntax.At
		Args []types.Expr
	}
)
