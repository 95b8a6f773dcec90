// Package syntax turns the text of a design into a tree and back. The tree
// keeps every comment and every position; nothing in it is resolved.
package syntax

import (
	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
)

// Node is anything in the tree.
type Node interface{ Span() source.Span }

// At is where a node stands in the text; every node embeds one.
type At struct{ Start, Stop source.Pos }

// Span is the stretch of text the node was read from.
func (a At) Span() source.Span { return source.Span{Start: a.Start, End: a.Stop} }

// File is one text as a tree.
type File struct {
	Source   *source.File
	Decls    []Decl
	Comments []Comment
	Findings []*finding.Finding // what could not be read
	Lost     map[string]bool    // the names in it: nothing should be said of their absence
	Unclosed bool               // a { or ( is: what its file holds cannot be told for sure
}

// Word is a name where it is written: an ECMAScript identifier, or a
// hyphenated one where a node, link, class, component or service is named.
type Word struct {
	At
	Text string
}

// Text is a "..." literal.
type Text struct {
	At
	Value string
}

// Param is a parameter of a function, an event or a handler. Handlers and
// arrow functions leave Type out.
type Param struct {
	At
	Name     *Word
	Optional bool
	Type     Type // nil where it is inferred
}

// Decl is what stands at the top of a file.
type Decl interface{ Node }

type (
	// Use brings another folder's declarations in: use "../folder"
	Use struct {
		At
		Path *Text
		As   []*Renamed // use "parts" with fold-card as part-card
	}
	// Renamed is a name of another folder, and what it is called here.
	Renamed struct {
		At
		Name, As *Word
	}
	// TypeDecl names a type: type Shelf = { id: string }
	TypeDecl struct {
		At
		Name *Word
		Type Type
	}
	// ConstDecl is a constant, at the top or in a component.
	ConstDecl struct {
		At
		Name  *Word
		Type  Type // or nil
		Value Expr
	}
	// Derives is a derived value (no Params) or function. Set is the block
	// that runs when it is written, with SetParam as the new value.
	Derives struct {
		At
		Name     *Word
		Call     bool // written with parentheses
		Params   []*Param
		Type     Type // or nil
		Value    Expr
		SetParam *Word
		Set      *Block
	}
	// Component is a component, or with Context set a context.
	Component struct {
		At
		Context bool
		Name    *Word
		Members []Member
	}
	// Channel declares a channel: channel news(text: string)
	Channel struct {
		At
		Name   *Word
		Params []*Param
	}
	// Service stands for the world outside.
	Service struct {
		At
		Name       *Word
		Base       *Text // at "/api", or nil
		Operations []*Operation
	}
	// Operation is one question to a service.
	Operation struct {
		At
		Name    *Word
		Params  []*Param
		Result  Type  // or nil
		Method  *Word // of by GET "/wares", or nil
		Address *Text // its URI template
		Replies Expr  // or nil
		After   Expr  // or nil
		Fails   []Expr
	}
	// Start mounts a root: start "empty rack" shelf-picker { shelves <- sample }
	Start struct {
		At
		Name      *Text // or nil
		Component *Word
		Links     []Item
		Braces    bool
	}
	// Style is CSS: at the top of a file for the page, as a member for what the component writes. Sheet is nil where it
	// stands in a file, style file("base.css").
	Style struct {
		At
		Body  source.Span // of the CSS
		Sheet *css.Sheet
		File  *Text // or nil
	}
	// Law is a promise about states or turns.
	Law struct {
		At
		Name    *Text
		On      *Text // or nil
		Clauses []*Clause
	}
	// Clause is one line of a law: always, never, can, turn, settles or ends with
	// an expression, leads and stays with more, or samples with a target and texts.
	// In a start, within says where to stop.
	Clause struct {
		At
		Kind   string
		Value  Expr
		To     Expr    // leads ... to, stays ... until; or nil
		Ms     Expr    // leads ... within, stays ... for; or nil
		Target *Target // of samples
	}
	// Scenario is what someone does with the page, and sees.
	Scenario struct {
		At
		Name  *Text
		Steps []*Step
	}
)

// Member is what stands in a component or context.
type Member interface{ Node }

type (
	// Cell is takes, shares or holds, by Kind.
	Cell struct {
		At
		Kind  string
		Aside bool // holds aside
		Field bool // shares ... field
		Name  *Word
		Type  Type // or nil
		Value Expr // first value, or nil
		From  Expr // holds x from e, or nil
	}
	// Emits declares an event.
	Emits struct {
		At
		Name   *Word
		Params []*Param
	}
	// Offers hands members out to the parent; with Body it is a method.
	Offers struct {
		At
		Name   *Word
		More   []*Word // offers a, b
		Params []*Param
		Body   *Block // or nil
	}
	// Action is a private procedure.
	Action struct {
		At
		Name   *Word
		Params []*Param
		Body   *Block
	}
	// Timer is one-shot (after) or repeating (every).
	Timer struct {
		At
		Name   *Word
		Params []*Param
		Every  bool
		Delay  Expr
		Body   *Block
	}
	// Hook is on mount or on unmount.
	Hook struct {
		At
		Unmount bool
		Body    *Block
	}
	// Follows runs when a value has changed.
	Follows struct {
		At
		Value Expr
		Old   *Word // follows x from old, or nil
		Body  *Block
	}
	// Supplies makes a context for everything rendered below.
	Supplies struct {
		At
		Context *Word
		As      *Word // or nil
		Links   []Item
		Braces  bool
	}
	// Uses is the nearest context above.
	Uses struct {
		At
		Context  *Word
		Optional bool
		As       *Word // or nil
		Links    []Item
		Braces   bool
	}
	// Gathers lists the instances rendered below.
	Gathers struct {
		At
		Kinds []*Word
		As    *Word // or nil
	}
	// Hears listens to a channel.
	Hears struct {
		At
		Channel *Word
		Params  []*Param
		Body    *Block
	}
	// View is what a component shows.
	View struct {
		At
		Body []Item
	}
)

// Item is what stands in a view, a node's block or a block of links.
type Item interface{ Node }

type (
	// Element is an HTML element or the use of a component.
	Element struct {
		At
		Name    *Word
		Classes []*Word
		Named   *Word // or nil
		Text    Expr  // *TextLit or *Template, or nil
		Body    []Item
		Braces  bool
	}
	// TextItem is text on its own.
	TextItem struct {
		At
		Value Expr
	}
	// When is a condition; Else holds a single *When for "else when".
	When struct {
		At
		Cond    Expr
		Body    []Item
		BodyEnd source.Pos // of the body's }
		Else    []Item
		HasElse bool
	}
	// Each repeats its body.
	Each struct {
		At
		Var   *Word
		Index *Word // or nil
		List  Expr
		By    Expr // or nil
		Body  []Item
	}
	// Slot is a place for the user's content.
	Slot struct {
		At
		Name   *Word // or nil
		Call   bool  // written with parentheses
		Links  []Item
		Body   []Item // what is shown when nothing is given
		Braces bool
	}
	// Fill is the content for a named slot.
	Fill struct {
		At
		Name   *Word
		Call   bool
		Params []*Param
		Body   []Item
	}
	// Link is name <- expr (Down), name <-> cell (Tie) or name = expr (Assign);
	// with Class set it is .name <- cond.
	Link struct {
		At
		Class bool
		Name  *Word
		Op    Kind
		Value Expr
	}
	// Event is name(params) -> handler.
	Event struct {
		At
		Name   *Word
		Call   bool
		Params []*Param
		Do     Stmt
	}
)

// Stmt is a statement of a handler or action.
type Stmt interface{ Node }

type (
	// Block is { ... }.
	Block struct {
		At
		Stmts []Stmt
	}
	// AssignStmt writes a cell: = += -=
	AssignStmt struct {
		At
		Target Expr
		Op     Kind
		Value  Expr
	}
	// If chooses; Else is a *Block, an *If or nil.
	If struct {
		At
		Cond Expr
		Then Stmt
		Else Stmt
	}
	// For runs its body for every item of a list.
	For struct {
		At
		Var  *Word
		List Expr
		Body Stmt
	}
	// Return ends the handler or action.
	Return struct{ At }
	// CallStmt calls an action, a method, or what was taken.
	CallStmt struct {
		At
		Call *Call
	}
	// Pass is the bare name of an action as a handler: pick -> choose
	Pass struct {
		At
		Target Expr
	}
	// Forward reports an event upwards under the same or another name.
	Forward struct {
		At
		Name *Word // or nil
	}
	// Emit reports an event.
	Emit struct {
		At
		Name *Word
		Args []Expr
	}
	// Send sends a message to a channel.
	Send struct {
		At
		Channel *Word
		Args    []Expr
	}
	// TimerStmt starts or stops a timer.
	TimerStmt struct {
		At
		Stop bool
		Name *Word
		Call bool // written with parentheses
		Args []Expr
	}
	// Open mounts a component above the page.
	Open struct {
		At
		Modal     bool
		Component *Word
		Links     []Item
		Braces    bool
	}
	// Leave ends an opened component.
	Leave struct {
		At
		Event *Word // or nil
		Args  []Expr
	}
	// Ask asks a service; Outcomes are got(...) and failed(...).
	Ask struct {
		At
		Service  *Word
		Name     *Word
		Args     []Expr
		Outcomes []Item
		Braces   bool
	}
	// Log writes to the console.
	Log struct {
		At
		Args []Expr
	}
)

// Expr is an expression.
type Expr interface{ Node }

type (
	// Name is an identifier, or a component's name as an argument of all, the and reported.
	Name struct {
		At
		Text string
	}
	// NumberLit is a number.
	NumberLit struct {
		At
		Value float64
	}
	// TextLit is a text.
	TextLit struct {
		At
		Value string
	}
	// Template is `...${expr}...`: len(Texts) is len(Exprs)+1.
	Template struct {
		At
		Texts []string // as written, escapes and all
		Exprs []Expr
	}
	// ListLit is [a, ...b].
	ListLit struct {
		At
		Items []Expr
	}
	// RecordLit is { a: 1, ...b }.
	RecordLit struct {
		At
		Fields []*FieldLit
	}
	// FieldLit is one field; without Name it spreads Value, without Value it is short for name: name.
	FieldLit struct {
		At
		Name  *Word
		Value Expr
	}
	// SpreadExpr is ...x in a list.
	SpreadExpr struct {
		At
		X Expr
	}
	// Unary is !x or -x.
	Unary struct {
		At
		Op Kind
		X  Expr
	}
	// Binary is x op y.
	Binary struct {
		At
		Op    Kind
		OpPos source.Pos
		X, Y  Expr
	}
	// Cond is c ? x : y.
	Cond struct {
		At
		C, X, Y Expr
	}
	// Dotted is x.name or x?.name.
	Dotted struct {
		At
		X        Expr
		Optional bool
		Name     *Word
	}
	// Index is x[i] or x?.[i].
	Index struct {
		At
		X        Expr
		Optional bool
		I        Expr
	}
	// Call is f(args).
	Call struct {
		At
		Fun  Expr
		Args []Expr
	}
	// Arrow is (a, b) => e.
	Arrow struct {
		At
		Params []*Param
		Parens bool
		Body   Expr
	}
	// Paren is (x).
	Paren struct {
		At
		X Expr
	}
)

// Type is a type as written.
type Type interface{ Node }

type (
	// NamedType is a name, with hyphens where it is a component's.
	NamedType struct {
		At
		Name string
	}
	// LiteralType is a text, number or boolean as a type.
	LiteralType struct {
		At
		Value Expr
	}
	// UnionType is a | b.
	UnionType struct {
		At
		Members []Type
	}
	// ListType is T[].
	ListType struct {
		At
		Elem Type
	}
	// NullableType is T?.
	NullableType struct {
		At
		Elem Type
	}
	// RecordType is { id: string, note?: string }.
	RecordType struct {
		At
		Fields []*Param
	}
	// FuncType is (id: string) => void.
	FuncType struct {
		At
		Params []*Param
		Result Type
	}
	// ParenType is (T).
	ParenType struct {
		At
		Elem Type
	}
)

// Step is one line of a scenario. Which fields are set depends on Verb.
type Step struct {
	At
	Verb    string
	Text    *Text   // type, paste, choose, key; start; plain text of shows and lacks; what a failure says
	Target  *Target // what is acted on or looked at
	Outside bool    // press outside, hover outside and the like: Target is nil, or what has to be there; drag ... outside
	Twice   bool    // press ... twice
	With    *Text   // press ... with "Shift": the keys that are held
	Onto    *Target // drag ... onto
	Value   Expr    // set ... to; wait; expect; call
	Service *Word   // reply, fail: the service; call: the root component
	Name    *Word   // reply, fail: the operation; reports: the event; call: the method
	Call    bool    // reports ...(args), call
	Args    []Expr
	Nth     Expr    // reply, fail: which of those that wait, from 1 on, or nil
	Steps   []*Step // inside
}

// Target is an element as someone using the page would name it.
type Target struct {
	At
	Class      *Text // ".backdrop"
	Count      Expr  // how many, or nil
	States     []string
	Role       string
	Component  *Word // inside shelf-row 2
	Nth        Expr  // which of several, from 1 on, or nil
	Name       *Text
	Containing *Text
	Holding    *Text
	With       []*Having
	In         *Target
}

// Having is a class or attribute that an element has: with .warm, with aria-current "page".
type Having struct {
	At
	Class bool
	Name  *Word
	Value *Text // of an attribute; nil: any
}
