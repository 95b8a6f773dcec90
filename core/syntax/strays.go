package syntax

import (
	"regexp"
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
)

// What stands in a view where nothing of it can: behind a node, in brackets, behind a colon.

// strayInNode says what is wrong behind a node that begins at a place.
func (p *parser) strayInNode(e *Element, from source.Pos) {
	head := p.file.Slice(from, p.end())
	switch p.kind() {
	case Ident:
		p.wordBehind(e, head)
	case Dot:
		p.fail("write name.class named x \"text\" { block }", "classes stand right after the node's name")
	case LParen:
		p.callInView(from, head)
	case Plus:
		if strings.HasSuffix(head, `"`) {
			p.joinedText(head)
		}
	case Comma, String, TemplateWhole, TemplateHead:
		if e.Text != nil {
			p.fail("write "+e.Name.Text+" { \"...\"; \"...\" }", "a node has one text before its block; more than one stand in it")
		}
	case LBrack, PlusAssign, MinusAssign:
		p.statementInView(from)
	}
	p.fail("write name.class named x \"text\" { block }", "this node goes on with %s", p.found())
}

// wordBehind says what is wrong with a word behind a node.
func (p *parser) wordBehind(e *Element, head string) {
	start, word := p.pos(), p.word()
	rest := func(read func()) string {
		read()
		return p.textOf(p.since(start).Span())
	}
	expr := func() { p.expr() }
	switch next := p.peek(1); {
	case p.nodeBegins() && !html.IsAttribute(word):
		p.runsOn("node")
	case head == "unless":
		p.fail("write when !("+rest(expr)+") { ... }", "what is shown is chosen by when")
	case (word == "when" || word == "if" || word == "unless") && p.sameLine(1):
		p.next()
		start = p.pos()
		cond := rest(expr)
		if word == "unless" {
			cond = "!(" + cond + ")"
		}
		p.failAt(p.since(start).Span(), "write when "+cond+" { "+head+" }", "the condition stands before what it decides about")
	case html.IsAttribute(word) && p.sameLine(1) && (next == String || next == TemplateWhole || next == TemplateHead || next == Number):
		p.next()
		at := p.pos()
		p.expr()
		p.failAt(p.since(start).Span(), "write "+head+" { "+word+" <- "+p.textOf(p.since(at).Span())+" }", "links stand in the block of their node")
	case html.IsBoolean(word) && e.Text == nil && html.IsVoid(e.Name.Text):
		p.fail("write "+head+" { "+word+" <- true }", "links stand in the block of their node")
	}
	value := rest(expr)
	p.failAt(p.since(start).Span(), "write "+head+" `${"+value+"}`, or a { block }", "a node's text stands in \"...\" or `...`")
}

// nodeBegins says whether a node with a text or a block begins here.
func (p *parser) nodeBegins() bool {
	if !p.is(Ident) {
		return false
	}
	ahead := parser{file: p.file, tokens: p.tokens, at: p.at, names: p.names}
	name := ahead.hyphened()
	switch ahead.kind() {
	case String, TemplateWhole, TemplateHead, LBrace:
		return html.IsElement(name) || strings.Contains(name, "-")
	}
	return false
}

// classLinked says whether a class stands here that is linked: .name <- ...
func (p *parser) classLinked() bool {
	if !p.is(Dot) || p.peek(1) != Ident {
		return false
	}
	n := 2
	for p.peek(n) == Minus && p.peek(n+1) == Ident {
		n += 2
	}
	k := p.peek(n)
	return p.sameLine(n) && (k == Down || k == Tie || k == Assign)
}

// equals is what stands between an attribute and its value in HTML.
var equals = regexp.MustCompile(`^([\w-]+)\s*=\s*`)

// bracketed reports links, or a text, of a node that stand in ( ) or [ ] behind its name.
func (p *parser) bracketed(start source.Pos, name *Word) {
	part := strings.Contains(name.Text, "-")
	if p.nl() || !p.is(LParen) && !p.is(LBrack) || !part && !html.IsElement(name.Text) {
		return
	}
	open, linked, n := 0, false, 0
	for ; ; n++ {
		switch k := p.peek(n); k {
		case LParen, LBrack:
			open++
		case RParen, RBrack:
			open--
		case Down, Tie, Assign, Up:
			linked = true
		case EOF, LBrace, RBrace:
			return
		}
		if open == 0 {
			break
		}
	}
	if p.peek(n+1) == Up { // an event, of what it is called
		return
	}
	at := source.Span{Start: p.pos(), End: p.file.Pos(int(p.tokens[p.at+n].end))}
	in := p.file.Slice(at.Start+1, at.End-1)
	head := name.Text
	if k := p.peek(n + 1); (k == String || k == TemplateWhole) && p.sameLine(n+1) {
		head += " " + p.text(p.tokens[p.at+n+1])
	}
	switch {
	case linked:
		p.failAt(at, "write "+head+" { "+equals.ReplaceAllString(in, "$1 <- ")+" }", "links stand in the block of their node")
	case p.is(LBrack) && html.IsBoolean(in):
		p.failAt(at, "write "+head+" { "+in+" <- true }", "links stand in the block of their node")
	case p.is(LParen) && n > 1 && !part:
		p.failAt(at, "write "+name.Text+" `${"+in+"}`", "a node's text stands in \"...\" or `...`")
	}
}

// colonLinked reads name: value in a block as the link or event that it is meant to be.
func (p *parser) colonLinked(start source.Pos, name *Word) Item {
	colon := p.here().Span()
	p.next()
	does := html.IsEvent(name.Text) || p.doesSomething()
	if in := p.owner; !does && html.IsElement(name.Text) && (in == nil || !strings.Contains(in.Text, "-") && !html.IsAttribute(name.Text)) {
		text := p.expr()
		write := p.textOf(text.Span())
		switch text.(type) {
		case *TextLit, *Template:
		default:
			write = "`${" + write + "}`"
		}
		p.failAt(colon, "write "+name.Text+" "+write, "a node's text stands right behind its name")
	}
	if does {
		p.at--
		return p.event(start, name)
	}
	value := p.reading()
	p.instead(colon, "a value is linked with <-, not with :", "write "+name.Text+" <- "+p.textOf(value.Span())).Mend("write <-", colon, " <-")
	return &Link{At: p.since(start), Name: name, Op: Down, Value: value}
}

// heardByColon reports the colon behind an event.
func (p *parser) heardByColon(event string) {
	at := p.here().Span()
	p.instead(at, "an event is heard with ->, not with :", "write "+event+" -> ...").Mend("write ->", at, " ->")
	p.next()
}

// doesSomething says whether a statement stands here, and no value: what is changed, or a word for what is done.
func (p *parser) doesSomething() bool {
	if !p.is(Ident) {
		return false
	}
	switch p.word() {
	case "emit", "send", "start", "stop", "ask", "open", "forward", "log":
		return p.peek(1) == Ident && p.sameLine(1) || p.word() == "forward"
	}
	n := 1
	for p.peek(n) == Dot && p.peek(n+1) == Ident {
		n += 2
	}
	k := p.peek(n)
	return k == Assign || k == PlusAssign || k == MinusAssign
}

// goesThrough expects the word between an item and its list.
func (p *parser) goesThrough() {
	if p.isWord("of") {
		at := p.here().Span()
		p.instead(at, "an each goes through its list with in", "write in").Mend("write in", at, "in")
		p.next()
		return
	}
	p.expectWord("in", "after the item's name")
}

// textLate reads the text of a node that stands behind its links, of which f tells.
func (p *parser) textLate(e *Element, f *finding.Finding, head, links string) {
	from := p.end()
	e.Text = p.operand()
	text := p.textOf(e.Text.Span())
	f.Instead("write %s %s { %s }", head, text, links)
	f.Fix.Edits[0].Text = text + " { "
	f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: from, End: p.end()}})
	if p.is(LBrace) && !p.nl() {
		f.Fix = nil
		e.Body = append(e.Body, p.viewBlock()...)
	}
}
