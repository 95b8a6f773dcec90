package syntax

import (
	"strconv"

	"lien/core/source"
)

// What people write where something is done as other languages have it.

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

// verbs are words that statements begin with, with what stands behind them.
var verbs = map[string]string{"emit": "event", "send": "channel", "start": "timer", "stop": "timer", "open": "component", "ask": "service"}

// nameAlone reports a name that nothing is done with.
func (p *parser) nameAlone(target Expr) {
	n, ok := target.(*Name)
	switch {
	case !ok || !p.lineEnds():
	case verbs[n.Text] != "":
		p.failAt(n.Span(), "write "+n.Text+" and the name of the "+verbs[n.Text], "%s lacks its %s", n.Text, verbs[n.Text])
	default:
		p.failAt(n.Span(), "to call it write "+n.Text+"(), to change it "+n.Text+" = ...", "a name alone does nothing")
	}
}

// answeredByArrow reports ask kiln-log.load() -> ..., what comes of it beside its block.
func (p *parser) answeredByArrow(start source.Pos) {
	if !p.is(Up) || p.nl() {
		return
	}
	arrow := p.here().Span()
	question := p.textOf(source.Span{Start: start, End: p.end()})
	does := "..."
	if p.next(); p.is(Ident) && p.alone() {
		does = p.word() + " = reply"
	}
	p.failAt(arrow, "write "+question+" { got(reply) -> "+does+" }", "what comes of a question stands in its block")
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
	called := source.Span{Start: start, End: p.end()}
	if k := p.peek(1); k == Ident { // the method, with what it is given
		p.postfix(&Name{At: At{start, p.end()}, Text: name})
	}
	p.failAt(called, "a service is asked: ask "+p.textOf(p.since(start).Span())+"; of a component name an instance where it is used, "+name+" named it, and write it in place of "+name,
		"%s is no value, and what it has is not called like this", name)
}

// delayedStart reports a delay behind start, which stands where the timer is declared.
func (p *parser) delayedStart(timer string) {
	if w := p.word(); !p.nl() && (p.is(Number) || p.is(Ident) && (w == "after" || w == "every" || w == "in")) {
		p.fail("write timer "+timer+" after 1000 { ... } where it is declared, and start "+timer+" here", "a timer's delay stands at its declaration")
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

// answersLater reports a question, or a component that is opened, where a value is expected.
func (p *parser) answersLater() {
	w := p.word()
	if !p.is(Ident) || w != "ask" && w != "open" || p.peek(1) != Ident || !p.sameLine(1) {
		return
	}
	start := p.pos()
	p.next()
	p.verb(w)
	at := source.Span{Start: start, End: p.end()}
	write := "write ask ... { got(answer) -> ... }, and go on in it"
	if w == "open" {
		write = "write open ... { answered(value) -> ... }, with the event that it emits, and go on in it"
	}
	p.failAt(at, write, "%s gives no value: what comes of it comes later", w)
}

// variable reads let and var as the const that they can be at most.
func (p *parser) variable() Stmt {
	word := p.here().Span()
	p.instead(word, p.word()+" would be changed later, and only cells change", "write const; what changes is a cell of the component: holds x = ...").
		Mend("write const", word, "const")
	return p.constDecl()
}

// takenApart reports const { name } = ware and const [first] = wares.
func (p *parser) takenApart() {
	open := p.peek(1)
	if open != LBrace && open != LBrack || !p.sameLine(1) {
		return
	}
	start := p.pos()
	p.next()
	p.next()
	var names []string
	for !p.is(Assign) && !p.is(EOF) && !p.nl() {
		if p.is(Ident) {
			names = append(names, p.word())
		}
		p.next()
	}
	if len(names) == 0 || !p.accept(Assign) {
		p.failAt(p.since(start).Span(), "write const and a name for each", "a constant has one name")
	}
	of := p.postfix(p.operand())
	part := "." + names[0]
	if _, mayLack := of.(*Index); mayLack {
		part = "?" + part
	}
	if open == LBrack {
		part = "[0]"
	}
	write := "write const " + names[0] + " = " + p.textOf(of.Span()) + part
	if len(names) > 1 {
		write += ", and one for each other"
	}
	p.failAt(p.since(start).Span(), write, "a constant has one name")
}

// PageTimers are functions of pages that wait, with what is written for them here.
var PageTimers = map[string]string{
	"setTimeout":  "declare timer later after 1000 { ... } in the component, and write start later",
	"setInterval": "declare timer tick every 1000 { ... } in the component, and write start tick",
}

// stepped reads x++ and x-- as x += 1 and x -= 1; nil where it is none.
func (p *parser) stepped(start source.Pos, target Expr) Stmt {
	op := p.kind()
	if op != Plus && op != Minus || p.peek(1) != op || !p.glued(1) {
		return nil
	}
	p.next()
	p.next()
	sign := map[Kind]string{Plus: "+", Minus: "-"}[op]
	at := p.since(start).Span()
	write := p.textOf(target.Span()) + " " + sign + "= 1"
	p.instead(at, "there is no "+sign+sign, "write "+write).Mend("write "+write, at, write)
	assign := map[Kind]Kind{Plus: PlusAssign, Minus: MinusAssign}[op]
	return &AssignStmt{p.since(start), target, assign, &NumberLit{p.since(start), 1}}
}
