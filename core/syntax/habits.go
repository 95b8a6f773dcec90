package syntax

import (
	"strconv"
	"strings"

	"lien/core/finding"
	"lien/core/source"
)

// What people write by habit from other languages, where a statement, a type or
// a line of a view stands: each is told with what stands for it here.

// milliseconds are units of time, in the only one that a design has.
var milliseconds = map[string]float64{"ms": 1, "s": 1000, "sec": 1000, "seconds": 1000, "m": 60_000, "min": 60_000, "minutes": 60_000}

// unitBehind reports a unit behind a number of milliseconds, which head stands before.
func (p *parser) unitBehind(x Expr, head string) {
	n, ok := x.(*NumberLit)
	if !ok || !p.is(Ident) || !p.sameLine(0) || p.nl() {
		return
	}
	per, ok := milliseconds[p.word()]
	if !ok {
		return
	}
	write := head + " " + strconv.FormatFloat(n.Value*per, 'f', -1, 64)
	p.failAt(source.Span{Start: n.Start, End: p.here().Stop}, "write "+write, "times are milliseconds, without a unit")
}

// chosenStatement reports c ? a : b and c && a where a statement stands.
func (p *parser) chosenStatement(start source.Pos, target Expr) {
	op := p.kind()
	if op != Question && op != And && op != Or && precedence[op] == 0 || p.nl() {
		return
	}
	cond, behind := target, p.at
	if op != Question && op != And && op != Or { // the rest of the condition
		p.at = p.tokenAt(target.Span().Start)
		cond = p.binary(precedence[And] + 1)
		op = p.kind()
	}
	at := source.Span{Start: start, End: p.end()}
	c := p.textOf(cond.Span())
	switch op {
	case Question:
		p.failAt(at, "write if ("+c+") ... else ...", "? : chooses a value; what is done is chosen by if")
	case And:
		p.failAt(at, "write if ("+c+") ...", "&& joins conditions; what is done then stands in an if")
	case Or:
		p.failAt(at, "write if (!("+c+")) ...", "|| joins conditions; what is done else stands in an if")
	}
	p.at = behind
}

// tokenAt is the number of the token that begins at a place, at or before the current one.
func (p *parser) tokenAt(pos source.Pos) int {
	for i := p.at; i > 0; i-- {
		if p.file.Pos(int(p.tokens[i].start)) <= pos {
			return i
		}
	}
	return 0
}

// arrowHandler reports () => statement behind the arrow of an event.
func (p *parser) arrowHandler() {
	empty := p.is(LParen) && p.peek(1) == RParen && p.peek(2) == FatArrow
	if !empty && !p.isArrow() {
		return
	}
	at := p.here().Span()
	for !p.is(FatArrow) {
		p.next()
	}
	at.End = p.end()
	p.next()
	p.failAt(source.Span{Start: at.Start, End: p.end()}, "write the statement right behind ->, and (e) behind the event if it needs it", "a handler is a statement, and no function")
}

// calledByTag reports shelf-card.reset(), a method called on a component in place of one of its instances.
func (p *parser) calledByTag(start source.Pos) {
	if !p.is(Ident) || p.peek(1) != Minus || !(p.tokens[p.at].end == p.tokens[min(p.at+1, len(p.tokens)-1)].start) {
		return
	}
	at := p.at
	name := p.hyphened()
	if !p.is(Dot) || !isHyphenated(name) {
		p.at = at
		return
	}
	p.failAt(source.Span{Start: start, End: p.end()}, "name one where it is used, "+name+" named it, and write it in place of "+name,
		"%s is a component; what is asked for something is an instance of it", name)
}

// delayedStart reports a delay behind start, which stands where the timer is declared.
func (p *parser) delayedStart(timer string) {
	if w := p.word(); p.is(Ident) && !p.nl() && (w == "after" || w == "every" || w == "in") {
		p.fail("write timer "+timer+" after 1000 { ... } where it is declared, and start "+timer+" here", "a timer's delay stands at its declaration")
	}
}

// generic reports Array<Ware> and its like.
func (p *parser) generic(name string) {
	if !p.is(Less) || p.nl() {
		return
	}
	start := p.pos()
	p.next()
	inner := p.typ()
	for p.accept(Comma) {
		inner = p.typ()
	}
	of := p.textOf(inner.Span())
	write := "there are no types with < >; a list of records does the same: { key: string, value: " + of + " }[]"
	switch name {
	case "Array", "List", "Set", "ReadonlyArray":
		write = "write " + of + "[]"
	}
	p.failAt(source.Span{Start: start, End: p.end()}, write, "a list's type is written behind the type of its items")
}

// itemInParens reads (w, i) as w at i.
func (p *parser) itemInParens(e *Each) bool {
	if !p.is(LParen) || p.peek(1) != Ident || p.peek(2) != Comma || p.peek(3) != Ident || p.peek(4) != RParen {
		return false
	}
	start := p.pos()
	p.next()
	e.Var = p.ident("a name for the item")
	p.next()
	e.Index = p.ident("a name for the index")
	p.next()
	write := e.Var.Text + " at " + e.Index.Text
	p.instead(p.since(start).Span(), "an item and its index stand without parentheses", "write "+write).Mend("write at", p.since(start).Span(), write)
	return true
}

// countedRange reports a number, or a range of numbers, where an each has its list.
func (p *parser) countedRange() {
	if !p.is(Number) || p.peek(1) != LBrace && p.peek(1) != Dot && !(p.peek(1) == Ident && p.sameLine(1)) {
		return
	}
	start, last := p.pos(), p.word()
	for p.is(Number) || p.is(Dot) {
		last = p.word()
		p.next()
	}
	p.failAt(p.since(start).Span(), "write Array.from("+last+", i => i), which counts from 0", "an each goes through a list")
}

// markup reports an element that is written as in HTML.
func (p *parser) markup() {
	if !p.is(Less) || p.peek(1) != Ident {
		return
	}
	start := p.pos()
	p.next()
	name := p.tagHere()
	p.failAt(p.since(start).Span(), "write "+name.Text+` "text", or `+name.Text+" { ... }", "an element is written without < >")
}

// joinedText reports "text" + value behind a node.
func (p *parser) joinedText(head string) {
	p.next()
	start := p.pos()
	p.expr()
	at := source.Span{Start: start, End: p.end()}
	node, text, _ := strings.Cut(head, `"`)
	p.failAt(at, "write "+node+"`"+strings.TrimSuffix(text, `"`)+"${"+p.textOf(at)+"}`", "a text and a value stand in one template")
}

// statementInView reports a statement where a view has its nodes.
func (p *parser) statementInView(from source.Pos) {
	p.postfix(&Name{At: At{from, p.pos()}})
	if k := p.kind(); k == Assign || k == PlusAssign || k == MinusAssign {
		p.next()
		p.expr()
	}
	at := source.Span{Start: from, End: p.end()}
	p.failAt(at, "write event -> { "+p.textOf(at)+" }, with all that the event does in the braces", "what is done stands behind the -> of an event")
}

// strayInEvent reports what an event carries without parentheses, and a second event.
func (p *parser) strayInEvent(event *Word) {
	switch {
	case p.nl():
	case p.is(Colon):
		p.next()
		carries := p.textOf(p.typ().Span())
		p.failAt(p.since(event.Start).Span(), "write emits "+event.Text+"(value: "+carries+")", "what an event carries stands in parentheses, with a name")
	case p.is(Comma):
		p.fail("write emits before each, on a line of its own", "an event stands alone")
	}
}

// strayInCell reports a cell that may be null by a ? behind its name, and a second cell.
func (p *parser) strayInCell(cell *Word, kind string) {
	switch {
	case p.nl():
	case p.is(Question) && p.peek(1) == Colon && kind == "takes":
		p.fail("write takes "+cell.Text+": string? = null, or another type and default", "what need not be given has a default")
	case p.is(Question) && p.peek(1) == Colon:
		p.next()
		p.next()
		typ := p.textOf(p.typ().Span())
		p.failAt(p.since(cell.Start).Span(), "write "+kind+" "+cell.Text+": "+typ+"? = null, or another first value", "what may be null has the ? behind its type")
	case p.is(Comma):
		p.fail("write "+kind+" before each, on a line of its own", "a cell stands alone")
	}
}

// looseBody reads what is done where its braces are missing, or an arrow stands before them.
func (p *parser) looseBody() *Block {
	start, arrow := p.pos(), p.here().Span()
	arrowed := p.is(Up) || p.is(FatArrow)
	if arrowed {
		p.next()
		if p.is(LBrace) {
			p.instead(arrow, "no arrow stands before what is done here", "leave it out").Mend("leave it out", arrow, "")
			return p.stmtBlock()
		}
	}
	s := p.stmt()
	f := p.instead(p.since(start).Span(), "what is done here stands in braces", "write { "+p.textOf(s.Span())+" }")
	if arrowed {
		f.Mend("write braces", arrow, "{")
	} else {
		f.Mend("write braces", source.Span{Start: start, End: start}, "{ ")
	}
	f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: s.Span().End, End: s.Span().End}, Text: " }"})
	return &Block{At: p.since(start), Stmts: []Stmt{s}}
}

// untyped reports a parameter without a type, or a type without a name.
func (p *parser) untyped(name *Word) {
	switch name.Text {
	case "string", "number", "boolean":
		p.instead(name.Span(), "what is carried has a name before its type", "write value: "+name.Text).Mend("name it value", name.Span(), "value: "+name.Text)
	default:
		p.instead(p.here().Span(), "the type of "+name.Text+" is missing", "write "+name.Text+": string, or another type")
	}
}
