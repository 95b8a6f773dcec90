// Package css reads style sheets: what rules there are, what their selectors reach, which of them hide, and how a sheet
// is written so that it reaches one component alone. The words are those of CSS Syntax 3, CSS Nesting 1 and Selectors 4;
// a well-kept lexer gives the tokens.
package css

import (
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// Kind is what an item of a sheet is.
type Kind uint8

const (
	Rule        Kind = iota // a selector with a block
	AtRule                  // @name, with a block or without
	Declaration             // property: value
	Comment                 // /* ... */
)

// Item is a rule, an at-rule, a declaration or a comment. Places are bytes of the sheet's text.
type Item struct {
	Kind       Kind
	Start, End int
	Name       string  // of an at-rule, without its @, or the property, as written
	Head       []token // what stands before the block, or the value
	Block      bool    // it has one
	inner      int     // where what is in it begins
	Items      []*Item // in it
	Selectors  []*Selector
	Important  bool // the value ends in !important
}

// Sheet is a style sheet as it was read.
type Sheet struct {
	Text  string
	Items []*Item
}

// Problem is what is wrong at a place of a sheet, and what to write instead.
type Problem struct {
	Start, End     int
	Message, Write string
}

type token struct {
	kind css.TokenType
	text string
	at   int
}

func (t token) end() int { return t.at + len(t.text) }

func (t token) is(kind css.TokenType, text string) bool { return t.kind == kind && t.text == text }

func (t token) blank() bool {
	return t.kind == css.WhitespaceToken || t.kind == css.CommentToken
}

// tokens are those of a text; together they are the text.
func tokens(text string) (list []token) {
	lexer := css.NewLexer(parse.NewInputString(text))
	at := 0
	for {
		kind, data := lexer.Next()
		if kind == css.ErrorToken {
			if at < len(text) { // the lexer ends at a NUL byte
				list = append(list, token{css.DelimToken, text[at:], at})
			}
			return list
		}
		list = append(list, token{kind, string(data), at})
		at += len(data)
	}
}

// BlockEnd is where the block that begins behind a { ends: the place of its }, or -1.
func BlockEnd(text string) int {
	lexer := css.NewLexer(parse.NewInputString(text))
	open, at := 0, 0
	for {
		kind, data := lexer.Next()
		switch kind {
		case css.ErrorToken:
			return -1
		case css.LeftBraceToken:
			open++
		case css.RightBraceToken:
			if open--; open < 0 {
				return at
			}
		}
		at += len(data)
	}
}

// Parse reads a sheet. What cannot be read is left out of it and told in the problems.
func Parse(text string) (*Sheet, []Problem) {
	p := &parser{tokens: tokens(text), size: len(text)}
	p.closed()
	s := &Sheet{Text: text, Items: p.items(true, 0)}
	for !p.done() { // a } that closes nothing
		t := p.next()
		p.problem(t.at, t.end(), "remove it", "this } closes nothing")
		s.Items = append(s.Items, p.items(true, 0)...)
	}
	return s, p.problems
}

// closed tells of texts, addresses, comments and brackets that are never closed: nothing behind them can be trusted.
func (p *parser) closed() {
	var open []token
	for _, t := range p.tokens {
		if strings.HasSuffix(t.text, `\`) && escaped(t.text) {
			p.problem(t.at, t.end(), "remove it", "this \\ escapes nothing")
			p.tokens = nil
			return
		}
		if t.kind == css.StringToken && strings.Contains(t.text, "\n") {
			p.problem(t.at, t.end(), `write it on one line; \a is a line break in it`, "a text goes on over the end of its line")
		}
		switch t.kind {
		case css.StringToken, css.BadStringToken, css.URLToken, css.BadURLToken, css.CommentToken:
			if !whole(t) {
				p.problem(t.at, t.at+1, "close it on the same line", "this is never closed")
				p.tokens = nil
				return
			}
		case css.LeftParenthesisToken, css.FunctionToken, css.LeftBracketToken, css.LeftBraceToken:
			open = append(open, t)
		case css.RightParenthesisToken, css.RightBracketToken, css.RightBraceToken:
			n := len(open) - 1
			switch {
			case n >= 0 && closes[open[n].kind] == t.kind:
				open = open[:n]
				continue
			case n >= 0 && open[n].kind != css.LeftBraceToken:
				t = open[n]
				p.problem(t.at, t.end(), "close it", "this bracket is never closed")
			case t.kind == css.RightBraceToken:
				continue // which is told where it is read
			default:
				p.problem(t.at, t.end(), "remove it", "this closes nothing")
			}
			p.tokens = nil
			return
		}
	}
	for _, t := range open {
		p.problem(t.at, t.end(), "close it", "this bracket is never closed")
		p.tokens = nil
		return
	}
}

var closes = map[css.TokenType]css.TokenType{css.LeftParenthesisToken: css.RightParenthesisToken, css.FunctionToken: css.RightParenthesisToken,
	css.LeftBracketToken: css.RightBracketToken, css.LeftBraceToken: css.RightBraceToken}

// whole says whether a token ends as it began.
func whole(t token) bool {
	switch n := len(t.text); t.kind {
	case css.StringToken:
		return n > 1 && t.text[n-1] == t.text[0] && !escaped(t.text[:n-1])
	case css.URLToken:
		return t.text[n-1] == ')' && !escaped(t.text[:n-1])
	case css.CommentToken:
		return n > 3 && strings.HasSuffix(t.text, "*/")
	}
	return false
}

// escaped says whether what follows a text is no end of it, as an odd number of backslashes stands before.
func escaped(text string) bool {
	return (len(text)-len(strings.TrimRight(text, `\`)))%2 == 1
}

type parser struct {
	tokens   []token
	at       int
	size     int
	problems []Problem
}

func (p *parser) done() bool { return p.at >= len(p.tokens) }

func (p *parser) peek() token {
	if p.done() {
		return token{css.ErrorToken, "", p.size}
	}
	return p.tokens[p.at]
}

func (p *parser) next() token {
	t := p.peek()
	p.at++
	return t
}

func (p *parser) problem(start, end int, write, message string) {
	p.problems = append(p.problems, Problem{start, max(end, start+1), message, write})
}

// maxNesting is how deep blocks may nest.
const maxNesting = 50

// items are what stands in a block, or at the top of a sheet, up to its }.
func (p *parser) items(top bool, depth int) (list []*Item) {
	for !p.done() {
		t := p.peek()
		switch {
		case t.kind == css.RightBraceToken:
			return list
		case t.kind == css.CommentToken:
			p.next()
			list = append(list, &Item{Kind: Comment, Start: t.at, End: t.end()})
		case t.blank(), t.kind == css.SemicolonToken, t.kind == css.CDOToken, t.kind == css.CDCToken:
			p.next()
		case t.is(css.DelimToken, "/"):
			p.slashes()
		default:
			if it := p.item(top, depth); it != nil {
				list = append(list, it)
			}
		}
	}
	return list
}

// slashes passes over what was meant as a comment.
func (p *parser) slashes() {
	t := p.next()
	for !p.done() && !strings.Contains(p.peek().text, "\n") && p.peek().kind != css.RightBraceToken {
		p.next()
	}
	p.problem(t.at, p.peek().at, "write /* ... */", "a comment in CSS is not written with //")
}

// head is up to a { or ; or the } of the block around it, and says which of them follows. Brackets are passed over whole.
func (p *parser) head() (head []token, ends token) {
	open := 0
	for ; !p.done(); p.at++ {
		switch t := p.tokens[p.at]; t.kind {
		case css.LeftParenthesisToken, css.LeftBracketToken, css.FunctionToken:
			open++
		case css.RightParenthesisToken, css.RightBracketToken:
			open--
		case css.LeftBraceToken, css.RightBraceToken, css.SemicolonToken:
			if open <= 0 || t.kind == css.RightBraceToken {
				return trimmed(head), t
			}
		}
		head = append(head, p.tokens[p.at])
	}
	return trimmed(head), p.peek()
}

func trimmed(list []token) []token {
	for len(list) > 0 && list[0].blank() {
		list = list[1:]
	}
	for len(list) > 0 && list[len(list)-1].blank() {
		list = list[:len(list)-1]
	}
	return list
}

func (p *parser) item(top bool, depth int) *Item {
	start := p.peek()
	if start.kind == css.CustomPropertyNameToken {
		return p.custom(start)
	}
	head, ends := p.head()
	it := &Item{Start: start.at, End: ends.at, Head: head}
	if len(head) > 0 {
		it.End = head[len(head)-1].end()
	}
	if start.kind == css.AtKeywordToken {
		it.Kind, it.Name, it.Head = AtRule, start.text[1:], trimmed(head[1:])
	} else if ends.kind != css.LeftBraceToken {
		if top {
			p.problem(it.Start, it.End, "write a selector and { } around it", "this stands in no rule")
			return nil
		}
		return p.declaration(it)
	}
	if ends.kind != css.LeftBraceToken {
		return it
	}
	it.inner = p.next().end()
	it.Block = true
	if depth >= maxNesting {
		p.problem(it.Start, it.End, "take rules out of others", "rules nest deeper than 50 levels here")
		p.at = len(p.tokens)
		return nil
	}
	if isKeyframes(it) {
		it.Items = p.frames(depth + 1)
	} else {
		it.Items = p.items(it.Kind == AtRule && top && groups(it.Name), depth+1)
	}
	it.End = p.next().end()
	if it.Kind == Rule {
		p.selectors(it)
	}
	return it
}

// groups says whether an at-rule has rules in it, and no declarations of its own: CSS Conditional 3, Cascade 5.
func groups(name string) bool {
	switch strings.ToLower(name) {
	case "media", "supports", "container", "layer", "scope", "starting-style":
		return true
	}
	return false
}

// frames are the steps of @keyframes, whose heads are no selectors.
func (p *parser) frames(depth int) []*Item {
	inner := &parser{tokens: p.tokens, at: p.at, size: p.size}
	list := inner.items(true, depth)
	p.at = inner.at
	for _, it := range list {
		it.Selectors = nil
	}
	return list
}

// custom is a custom property, whose value is all up to the ; behind it.
func (p *parser) custom(name token) *Item {
	p.next()
	it := &Item{Kind: Declaration, Name: name.text, Start: name.at}
	var value []token
	open := 0
	for ; !p.done(); p.at++ {
		t := p.tokens[p.at]
		switch t.kind {
		case css.LeftBraceToken, css.LeftParenthesisToken, css.LeftBracketToken, css.FunctionToken:
			open++
		case css.RightBraceToken, css.RightParenthesisToken, css.RightBracketToken:
			open--
		}
		if open < 0 || open == 0 && t.kind == css.SemicolonToken {
			break
		}
		value = append(value, t)
	}
	value = trimmed(value)
	it.End = name.end()
	if len(value) == 0 || value[0].kind != css.ColonToken {
		p.problem(it.Start, it.End, "write "+name.text+": value", "a value is missing here")
		return nil
	}
	it.End = value[len(value)-1].end()
	it.Head = trimmed(value[1:])
	return it
}

func (p *parser) declaration(it *Item) *Item {
	it.Kind = Declaration
	name, rest := it.Head[0], trimmed(it.Head[1:])
	if name.kind != css.IdentToken || len(rest) == 0 || rest[0].kind != css.ColonToken {
		if name.kind == css.IdentToken && len(rest) > 0 && Known(name.text) {
			p.problem(it.Start, it.End, "write "+name.text+": "+plain(rest), "a colon is missing behind "+name.text)
			return nil
		}
		p.problem(it.Start, it.End, "write property: value, or a selector with { }", "this is neither a declaration nor a rule")
		return nil
	}
	it.Name, it.Head = name.text, trimmed(rest[1:])
	if len(it.Head) == 0 {
		p.problem(it.Start, it.End, "write "+it.Name+": value", it.Name+" has no value")
		return nil
	}
	if n := p.nextDeclared(it.Head); n >= 0 {
		before := trimmed(it.Head[:n])
		at := name.end()
		if len(before) > 0 {
			at = before[len(before)-1].end()
		}
		p.problem(at-1, at, "write ; at the end of the declaration", "the next line is read as part of this value")
	}
	if n := len(it.Head); n > 1 && strings.EqualFold(it.Head[n-1].text, "important") {
		if rest := trimmed(it.Head[:n-1]); len(rest) > 0 && rest[len(rest)-1].is(css.DelimToken, "!") {
			it.Important = true
			it.Head = trimmed(rest[:len(rest)-1])
		}
	}
	return it
}

// nextDeclared is where another declaration begins in a value, on a line of its own; or -1.
func (p *parser) nextDeclared(value []token) int {
	open := 0
	for i, t := range value {
		switch t.kind {
		case css.LeftParenthesisToken, css.LeftBracketToken, css.FunctionToken:
			open++
		case css.RightParenthesisToken, css.RightBracketToken:
			open--
		}
		if open == 0 && t.kind == css.IdentToken && i > 0 && strings.Contains(value[i-1].text, "\n") && i+1 < len(value) && value[i+1].kind == css.ColonToken {
			return i
		}
	}
	return -1
}

// Groups says whether the item is an at-rule with rules in it, such as @media.
func (it *Item) Groups() bool { return it.Kind == AtRule && it.Block && groups(it.Name) }

// Inside is where what stands in the item's block begins.
func (it *Item) Inside() int { return it.inner }

// Value is the value of a declaration as one would say it: in small letters, with single blanks.
func (it *Item) Value() string {
	return strings.ToLower(plain(it.Head))
}

// plain are tokens with single blanks and no comments.
func plain(list []token) string {
	var out strings.Builder
	for _, t := range list {
		if !t.blank() {
			out.WriteString(t.text)
		} else if t.kind == css.WhitespaceToken && !strings.HasSuffix(out.String(), " ") {
			out.WriteByte(' ')
		}
	}
	return out.String()
}

// Rules is how many rules there are, those in others among them.
func (s *Sheet) Rules() (n int) {
	s.Each(func(it *Item, around []*Item) {
		if it.Kind == Rule && (len(around) == 0 || !isKeyframes(around[len(around)-1])) {
			n++
		}
	})
	return n
}

// Each visits the items of a sheet, outer ones first, with those around them.
func (s *Sheet) Each(visit func(it *Item, around []*Item)) {
	each(s.Items, nil, visit)
}

func each(list []*Item, around []*Item, visit func(*Item, []*Item)) {
	for _, it := range list {
		visit(it, around)
		each(it.Items, append(around[:len(around):len(around)], it), visit)
	}
}
