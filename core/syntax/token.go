package syntax

// Kind is the kind of a token.
type Kind uint8

const (
	EOF Kind = iota
	Ident
	Number
	String        // "..."
	TemplateWhole // `...`
	TemplateHead  // `...${
	TemplateMid   // }...${
	TemplateTail  // }...`
	Sheet         // the CSS between the braces of a style

	LBrace
	RBrace
	LParen
	RParen
	LBrack
	RBrack
	Comma
	Semi
	Colon
	Dot
	Spread      // ...
	OptDot      // ?.
	Question    // ?
	Coalesce    // ??
	Assign      // =
	PlusAssign  // +=
	MinusAssign // -=
	FatArrow    // =>
	Down        // <-
	Up          // ->
	Tie         // <->
	Or          // ||
	And         // &&
	Equal       // ==
	NotEqual    // !=
	Less
	LessEq
	Greater
	GreaterEq
	Plus
	Minus
	Star
	Slash
	Percent
	Not
	Bar
	Bad // a character that no token starts with
)

var spelling = [...]string{
	EOF: "the end of the file", Ident: "a name", Number: "a number", String: "a text",
	TemplateWhole: "a template", TemplateHead: "a template", TemplateMid: "a template", TemplateTail: "a template", Sheet: "a style",
	LBrace: "{", RBrace: "}", LParen: "(", RParen: ")", LBrack: "[", RBrack: "]", Comma: ",", Semi: ";",
	Colon: ":", Dot: ".", Spread: "...", OptDot: "?.", Question: "?", Coalesce: "??", Assign: "=",
	PlusAssign: "+=", MinusAssign: "-=", FatArrow: "=>", Down: "<-", Up: "->", Tie: "<->", Or: "||", And: "&&",
	Equal: "==", NotEqual: "!=", Less: "<", LessEq: "<=", Greater: ">", GreaterEq: ">=", Plus: "+", Minus: "-",
	Star: "*", Slash: "/", Percent: "%", Not: "!", Bar: "|", Bad: "an unknown character",
}

func (k Kind) String() string { return spelling[k] }

// precedence of the binary operators; 0 for every other token. The order is
// ECMAScript's; ?? binds as loosely as ||.
var precedence = [...]uint8{
	Coalesce: 1, Or: 1, And: 2, Equal: 3, NotEqual: 3, Less: 4, LessEq: 4, Greater: 4, GreaterEq: 4,
	Plus: 5, Minus: 5, Star: 6, Slash: 6, Percent: 6, Bad: 0,
}

// token is one word of the text: where it stands and whether a line ended
// before it.
type token struct {
	kind       Kind
	nl         bool
	start, end int32
}
