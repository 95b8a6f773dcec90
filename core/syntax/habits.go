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
	if w := p.word(); !p.nl() && (p.is(Number) || p.is(Ident) && (w == "after" || w == "every" || w == "in")) {
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

// foreignStatements are words that statements of other languages begin with, with what stands for them here.
var foreignStatements = map[string]string{
	"delete": "lists never change: write list = list.filter(x => ...), which keeps those that it is true of",
	"remove": "lists never change: write list = list.filter(x => ...), which keeps those that it is true of",
	"await":  "what comes later comes from a service: ask kiln-log.load() { got(x) -> ... }",
	"throw":  "nothing is thrown: report what is wrong, emit failed(why), or hold it in a cell", "try": "nothing is thrown; what can fail is a service: ask ... { failed(why) -> ... }",
	"while": "a for goes through a list: for (x of list) ...; what goes on in time is a timer", "do": "a for goes through a list: for (x of list) ...",
	"switch": "write if (...) { ... } else if (...) { ... }", "break": "go through those alone that are meant: for (x of list.filter(x => ...))",
	"continue": "put what follows into if (...) { ... }",
}

// foreignStatement reports a statement that other languages have.
func (p *parser) foreignStatement(w string) {
	k := p.peek(1)
	named := k == Ident && p.sameLine(1)
	write := foreignStatements[w]
	switch w {
	case "toggle", "set":
		if !named {
			return
		}
		name := p.text(p.tokens[p.at+1])
		if write = "write " + name + " = ..."; w == "toggle" {
			write = "write " + name + " = !" + name
		}
	case "while", "switch":
		if k != LParen {
			return
		}
	case "try", "do":
		if k != LBrace {
			return
		}
	case "break", "continue":
		if p.next(); !p.lineEnds() {
			p.at--
			return
		}
		p.at--
	case "throw":
		if !named && k != String && k != TemplateWhole {
			return
		}
	default:
		if !named {
			return
		}
	}
	p.fail(write, "there is no %s here", w)
}

// emittedByText reports emit("picked", x), where an event is named as a text.
func (p *parser) emittedByText() {
	start := p.pos()
	p.next()
	args := p.optionalArgs()
	event := camel(p.unquoted(p.textOf(args[0].Span())))
	if len(args) > 1 {
		event += "(" + p.textOf(source.Span{Start: args[1].Span().Start, End: args[len(args)-1].Span().End}) + ")"
	}
	p.failAt(p.since(start).Span(), "write emit "+event, "an event is named, and not by a text")
}

// changedInCallback reports = in a callback where a comparison is meant, or a record with another field.
func (p *parser) changedInCallback(a *Arrow) {
	at := p.here().Span()
	switch p.callee {
	case "find", "filter", "some", "every", "findIndex", "findLast":
		if p.is(Assign) {
			p.failAt(at, "write ==, which compares", "a callback works out a value, and changes nothing")
		}
	case "map":
		d, ok := a.Body.(*Dotted)
		if !ok || !p.is(Assign) {
			return
		}
		p.next()
		value := p.textOf(p.expr().Span())
		p.failAt(at, "write ({ ..."+p.textOf(d.X.Span())+", "+d.Name.Text+": "+value+" })", "a callback works out a value, and changes nothing")
	}
}

// argument reads an argument, and x -> ... as the callback that it is meant to be.
func (p *parser) argument() Expr {
	x := p.expr()
	name, ok := x.(*Name)
	if !ok || !p.is(Up) {
		return x
	}
	at := p.here().Span()
	p.instead(at, "a callback is written with =>", "write "+name.Text+" => ...").Mend("write =>", at, "=>")
	p.next()
	w := &Word{At: name.At, Text: name.Text}
	a := &Arrow{Params: []*Param{{At: name.At, Name: w}}, Body: p.expr()}
	a.At = p.since(name.Start)
	return a
}

// forWithoutParens reports for x of list { ... }.
func (p *parser) forWithoutParens() {
	if !p.is(Ident) || p.peek(1) != Ident {
		return
	}
	start := p.pos()
	item := p.ident("a name for the item")
	if !p.acceptWord("of") && !p.acceptWord("in") {
		return
	}
	list := p.textOf(p.expr().Span())
	p.failAt(p.since(start).Span(), "write for ("+item.Text+" of "+list+") { ... }", "what a for goes through stands in parentheses")
}

// countingFor reports a for that counts: for (i = 0; ...).
func (p *parser) countingFor() {
	if !p.is(Assign) {
		return
	}
	at := p.here().Span()
	for open := 1; open > 0 && !p.is(EOF) && !p.is(LBrace) && !p.is(RBrace); p.next() {
		switch p.kind() {
		case LParen:
			open++
		case RParen:
			open--
		}
	}
	p.failAt(at, "write for (i of Array.from(3, i => i)), which counts from 0", "a for goes through a list")
}

// operators are words that other languages have for operators.
var operators = map[string]Kind{"and": And, "or": Or, "is": Equal}

// operator is the operator here, also where a word stands for it between two values.
func (p *parser) operator() Kind {
	if !p.is(Ident) || p.nl() {
		return p.kind()
	}
	op, ok := operators[p.word()]
	if !ok || !p.sameLine(1) {
		return p.kind()
	}
	switch p.peek(1) {
	case Ident, Number, String, LParen, Not, TemplateWhole, TemplateHead:
		return op
	}
	return p.kind()
}

// wordFor reports a word that stands for an operator.
func (p *parser) wordFor(op Kind) {
	at := p.here().Span()
	p.instead(at, "there is no operator "+p.word(), "write "+op.String()).Mend("write "+op.String(), at, op.String())
}

// elseWhen reports elif and its like, which stand for the when of another branch.
func (p *parser) elseWhen() bool {
	switch p.word() {
	case "elif", "elsif", "elseif":
	default:
		return false
	}
	if !p.is(Ident) || p.nl() {
		return false
	}
	at := p.here().Span()
	p.instead(at, "another branch is else when", "write else when").Mend("write else when", at, "else when")
	return true
}

// restOfList reports what other languages write behind a list that is gone through: a condition, an order.
func (p *parser) restOfList(e *Each) {
	list := p.textOf(e.List.Span())
	switch {
	case p.nl() || !p.is(Ident):
	case p.word() == "where" || p.word() == "when" || p.word() == "if":
		p.next()
		cond := p.textOf(p.expr().Span())
		p.fail("write each "+e.Var.Text+" in "+list+".filter("+e.Var.Text+" => "+cond+")", "a list is filtered before it is gone through")
	case p.word() == "sorted" || p.word() == "order" || p.word() == "ordered" || p.word() == "sort":
		p.fail("write each "+e.Var.Text+" in "+list+".toSorted((a, b) => ...)", "a list is sorted before it is gone through")
	}
}
