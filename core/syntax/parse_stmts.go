package syntax

import (
	"strings"

	"lien/core/source"
)

// stmtBlock reads { statements }.
func (p *parser) stmtBlock() *Block {
	if !p.nl() && (p.is(Up) || p.is(FatArrow) || p.is(Ident)) {
		return p.looseBody()
	}
	b := &Block{}
	start := p.pos()
	view := p.view
	p.view = false
	p.block(func() { b.Stmts = append(b.Stmts, p.stmt()) }, "statement")
	p.view = view
	b.At = p.since(start)
	return b
}

// handler reads what follows -> : a block, a statement or an action's name.
func (p *parser) handler() Stmt {
	start := p.pos()
	if p.isWord("forward") {
		f := &Forward{}
		p.next()
		if !p.lineEnds() {
			f.Name = p.ident("the event to forward to")
		}
		f.At = p.since(start)
		return f
	}
	p.arrowHandler()
	return p.statement(true)
}

func (p *parser) stmt() Stmt { return p.statement(false) }

func (p *parser) statement(pass bool) (s Stmt) {
	p.deeper(func() { s = p.oneStmt(pass) })
	return s
}

func (p *parser) oneStmt(pass bool) Stmt {
	if p.is(LBrace) {
		return p.stmtBlock()
	}
	start := p.pos()
	if p.is(Ident) {
		p.calledByTag(start)
		if s := p.keywordStmt(); s != nil {
			return s
		}
	}
	target := p.postfix(p.operand())
	switch op := p.kind(); op {
	case Assign, PlusAssign, MinusAssign:
		p.next()
		v := p.expr()
		p.within(v)
		return &AssignStmt{p.since(start), target, op, v}
	}
	if c, ok := target.(*Call); ok {
		return &CallStmt{p.since(start), c}
	}
	if pass && p.lineEnds() {
		return &Pass{p.since(start), target}
	}
	if s := p.stepped(start, target); s != nil {
		return s
	}
	if n, ok := target.(*Name); ok && p.is(Ident) && p.sameLine(0) && (!pass || p.peek(1) != Up) {
		p.failAt(p.since(start).Span(), "what is done begins with emit, send, start, stop, open, ask, log or leave; a cell is written cell = value, and a call "+n.Text+"(...)",
			"%s is not the start of a statement", n.Text)
	}
	p.hyphenedCell(start)
	if p.is(Colon) && !p.nl() {
		p.fail("write "+p.textOf(target.Span())+" = ...", "a cell is changed by =")
	}
	p.chosenStatement(start, target)
	if p.is(Equal) {
		p.fail("write = to change a cell", "== compares; it changes nothing")
	}
	if pass && !p.valueBegins() {
		p.valueReported(start)
	}
	p.nameAlone(target)
	p.failAt(target.Span(), "write cell = value, or call an action: name()", "this is not a statement")
	return nil
}

// hyphenedCell reports an assignment to a name with a hyphen, which reads as a difference.
func (p *parser) hyphenedCell(start source.Pos) {
	if !p.is(Minus) || !p.glued(0) || p.tokens[p.at-1].kind != Ident {
		return
	}
	ahead := parser{file: p.file, tokens: p.tokens, at: p.at - 1}
	name := ahead.hyphened()
	if ahead.is(Assign) || ahead.is(PlusAssign) || ahead.is(MinusAssign) {
		p.failAt(source.Span{Start: start, End: ahead.end()}, "write "+camel(name)+", or the name of the cell that is meant",
			"%s is no cell: a hyphen stands in the names of components", name)
	}
}

// valueBegins says whether another value begins here, so that what stands before it is none with it.
func (p *parser) valueBegins() bool {
	switch p.kind() {
	case Ident, String, Number, TemplateWhole, TemplateHead:
		return true
	}
	return false
}

// valueReported reports a value behind ->, which is linked down.
func (p *parser) valueReported(start source.Pos) {
	arrow := p.up
	for !p.lineEnds() {
		p.next()
	}
	at := p.since(start).Span()
	f := p.instead(at, "this is a value, and no statement", "a value is linked down: name <- "+p.textOf(at)).Mend("turn the link round", arrow, "<-")
	if strings.Contains(p.textOf(at), "(") { // which may be a statement with a slip in it
		f.Fix = nil
	}
	panic(bail{})
}

// keywordStmt reads a statement that starts with its keyword, or nil where
// the word is an ordinary name.
func (p *parser) keywordStmt() Stmt {
	start := p.pos()
	w := p.word()
	switch w {
	case "if":
		if p.opensHead() {
			return p.ifStmt()
		}
	case "for":
		if p.opensHead() {
			return p.forStmt()
		}
	case "return", "leave":
		if k := p.peek(1); k == Assign || k == Dot || k == LParen || k == PlusAssign || k == MinusAssign {
			return nil
		}
		p.next()
		if w == "return" {
			if !p.lineEnds() && !p.isWord("else") {
				p.fail("write return alone; a value is worked out in a derives", "a handler or action returns no value")
			}
			return &Return{p.since(start)}
		}
		return p.leave(start)
	case "log":
		if k := p.peek(1); p.sameLine(1) && k != Assign && k != Dot && k != PlusAssign && k != MinusAssign {
			p.next()
			l := &Log{Args: p.exprs()}
			l.At = p.since(start)
			return l
		}
	case "toggle", "set", "delete", "remove", "await", "throw", "try", "while", "do", "switch", "break", "continue":
		p.foreignStatement(w)
	case "const":
		p.takenApart()
		if p.keyword(w) {
			return p.constDecl()
		}
	case "let", "var":
		p.takenApart()
		if p.peek(1) == Ident && p.sameLine(1) {
			return p.variable()
		}
	case "setTimeout", "setInterval":
		if p.peek(1) == LParen {
			p.failAt(p.here().Span(), PageTimers[w], "time passes in timers, which a component declares")
		}
	case "emit", "send", "start", "stop", "open", "ask":
		if w == "emit" && p.peek(1) == LParen && p.peek(2) == String {
			p.emittedByText()
		}
		if p.keyword(w) {
			p.next()
			return p.verb(w)
		}
	}
	return nil
}

func (p *parser) verb(w string) Stmt {
	p.at--
	start := p.pos()
	p.next()
	switch w {
	case "emit":
		s := &Emit{Name: p.ident("an event's name")}
		s.Args = p.optionalArgs()
		s.At = p.since(start)
		return s
	case "send":
		s := &Send{Channel: p.ident("a channel's name")}
		s.Args = p.optionalArgs()
		s.At = p.since(start)
		return s
	case "start", "stop":
		s := &TimerStmt{Stop: w == "stop", Name: p.ident("a timer's name")}
		s.Call = p.is(LParen) && !p.nl()
		s.Args = p.optionalArgs()
		s.At = p.since(start)
		p.delayedStart(s.Name.Text)
		return s
	case "open":
		s := &Open{}
		if p.isWord("modal") && p.peek(1) == Ident && p.sameLine(1) {
			p.next()
			s.Modal = true
		}
		s.Component = p.tag("a component's name")
		if p.is(LParen) && !p.nl() {
			p.fail("write open "+s.Component.Text+" { name <- value }", "what is opened has links, as in a view")
		}
		s.Links, s.Braces = p.links()
		s.At = p.since(start)
		return s
	}
	return p.ask(start)
}

func (p *parser) leave(start source.Pos) Stmt {
	s := &Leave{}
	if p.is(Ident) && !p.nl() && p.word() != "else" {
		s.Event = p.ident("an event's name")
		s.Args = p.optionalArgs()
	}
	s.At = p.since(start)
	return s
}

func (p *parser) ask(start source.Pos) Stmt {
	s := &Ask{Service: p.tag("a service's name")}
	p.expect(Dot, "between the service and what it is asked")
	s.Name = p.ident("the name of what is asked")
	s.Args = p.optionalArgs()
	p.answeredByArrow(start)
	s.Outcomes, s.Braces = p.links()
	s.At = p.since(start)
	return s
}

// opensHead says whether the word is followed by a condition or list, be it
// without its parentheses.
func (p *parser) opensHead() bool {
	k := p.peek(1)
	return k == LParen || p.sameLine(1) && (k == Ident || k == Not || k == String || k == Number)
}

func (p *parser) ifStmt() Stmt {
	start := p.pos()
	p.next()
	s := &If{}
	s.Cond = p.parenthesised("the condition")
	if k := p.peek(1); p.isWord("then") && (k == Ident || k == LBrace) {
		at := source.Span{Start: p.pos(), End: p.file.Pos(int(p.tokens[p.at+1].start))}
		p.instead(p.here().Span(), "what is done then stands right behind the condition", "leave then out").Mend("leave it out", at, "")
		p.next()
	}
	s.Then = p.stmt()
	if p.is(Semi) && p.peek(1) == Ident && p.text(p.tokens[p.at+1]) == "else" {
		p.next()
	}
	if p.is(Ident) && p.word() == "else" {
		p.next()
		s.Else = p.stmt()
	}
	s.At = p.since(start)
	return s
}

func (p *parser) forStmt() Stmt {
	start := p.pos()
	p.next()
	s := &For{}
	p.forWithoutParens()
	p.paren(LParen, RParen, func() {
		if w := p.word(); p.is(Ident) && p.peek(1) == Ident && (w == "const" || w == "let" || w == "var") {
			p.next()
		}
		s.Var = p.ident("a name for the item")
		p.countingFor()
		if p.is(Comma) {
			p.fail("write for ("+s.Var.Text+" of list); the place of an item is list.indexOf("+s.Var.Text+")", "a for names its item alone")
		}
		if at := p.here().Span(); p.isWord("in") {
			p.instead(at, "a for goes through its list with of", "write of").Mend("write of", at, "of")
			p.next()
		} else {
			p.expectWord("of", "after the item's name")
		}
		s.List = p.expr()
	})
	if s.Var == nil {
		p.at--
		p.fail("write for (item of list)", "the list to go through is missing")
	}
	s.Body = p.stmt()
	s.At = p.since(start)
	return s
}

func (p *parser) parenthesised(what string) Expr {
	if !p.is(LParen) {
		p.fail("put it into ( )", "expected ( before %s, but here is %s", what, p.found())
	}
	return p.compares(p.parens().(*Paren).X)
}

func (p *parser) exprs() []Expr {
	list := []Expr{p.expr()}
	for p.accept(Comma) {
		list = append(list, p.expr())
	}
	return list
}

func (p *parser) optionalArgs() []Expr {
	var list []Expr
	if p.is(LParen) && !p.nl() {
		p.paren(LParen, RParen, func() { list = append(list, p.expr()) })
	}
	return list
}
