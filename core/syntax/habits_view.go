package syntax

import (
	"regexp"
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
)

// What people write in views as other languages have it: behind a node, in brackets, behind a colon. As in all files of
// habits, each is told with what stands for it here, and read on as if it had been written so, so that nothing after it is
// blamed.

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
func (p *parser) joinedText(node string, text Expr) {
	p.at = p.tokenAt(text.Span().Start) // with which the sum begins
	at := p.pos()
	write := p.asText(p.expr())
	p.instead(p.since(at).Span(), "a text and a value stand in one template", "write "+node+write).Mend("write a template", p.since(at).Span(), write)
	panic(bail{})
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

// strayInNode says what is wrong behind a node that begins at a place.
func (p *parser) strayInNode(e *Element, from source.Pos) {
	head := p.file.Slice(from, p.end())
	switch p.kind() {
	case Ident:
		p.wordBehind(e, head)
	case Dot:
		p.fail("write name.class named x \"text\" { block }", "classes stand right after the node's name")
	case LParen:
		if e.Text != nil {
			p.bracketed(from, &Word{At: e.Name.At, Text: head})
		}
		p.callInView(from, head)
	case Plus:
		if e.Text != nil {
			p.joinedText(p.file.Slice(from, e.Text.Span().Start), e.Text)
		}
	case Comma:
		if e.Text != nil && p.peek(1) == Ident {
			p.instead(p.here().Span(), "two nodes have ; between them, or stand on two lines", "write ;").Mend("write ;", p.here().Span(), ";")
			p.tokens[p.at].kind = Semi
			return
		}
		fallthrough
	case String, TemplateWhole, TemplateHead:
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
	case head == "show" || head == "visible":
		p.fail("write when "+rest(expr)+" { ... }", "what is shown is chosen by when")
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
	value := p.expr()
	at := p.since(start).Span()
	write := p.asText(value)
	f := p.instead(at, "a node's text stands in \"...\" or `...`", "write "+head+" "+write+", or a { block }")
	if e.Text == nil && p.lineEnds() {
		f.Mend("write a template", at, write)
	}
	panic(bail{})
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

// linksOf are the values in parentheses, of which the last is the nth token from here, as links: name <- value; ...
func (p *parser) linksOf(n int) string {
	out, from, depth := "", p.tokens[p.at].end, 0
	for _, t := range p.tokens[p.at+1 : p.at+n] {
		sign := ""
		switch {
		case t.kind == LParen || t.kind == LBrack || t.kind == LBrace:
			depth++
		case t.kind == RParen || t.kind == RBrack || t.kind == RBrace:
			depth--
		case t.kind == Colon && depth == 0:
			sign = " <-"
		case t.kind == Comma && depth == 0:
			sign = ";"
		}
		if sign != "" {
			out += p.file.Text[from:t.start] + sign
			from = t.end
		}
	}
	return out + p.file.Text[from:p.tokens[p.at+n].start]
}

// bracketed reports links, or a text, of a node that stand in ( ) or [ ] behind its name.
func (p *parser) bracketed(start source.Pos, name *Word) {
	part := strings.Contains(name.Text, "-") || strings.Contains(name.Text, " ")
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
		case EOF:
			return
		case LBrace, RBrace:
			if !part {
				return
			}
			open += map[Kind]int{LBrace: 1, RBrace: -1}[k]
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
	case part && p.peek(1) == Ident && p.peek(2) == Colon:
		p.failAt(at, "write "+head+" { "+p.linksOf(n)+" }", "links stand in the block of their node")
	case linked:
		f := p.instead(at, "links stand in the block of their node", "write "+head+" { "+equals.ReplaceAllString(in, "$1 <- ")+" }")
		if head == name.Text && !strings.Contains(in, ",") {
			f.Mend("write braces", at, map[bool]string{true: "", false: " "}[strings.HasSuffix(p.file.Slice(at.Start-1, at.Start), " ")]+"{ "+equals.ReplaceAllString(in, "$1 <- ")+" }")
		}
		panic(bail{})
	case p.is(LBrack) && html.IsBoolean(in):
		p.failAt(at, "write "+head+" { "+in+" <- true }", "links stand in the block of their node")
	case p.is(LParen) && n > 1 && !part:
		p.failAt(at, "write "+name.Text+" `${"+in+"}`", "a node's text stands in \"...\" or `...`")
	}
}

// prefixed says whether a word and a colon stand before the name of a link or event: set:value <- q, at:click -> load.
func (p *parser) prefixed() bool {
	k := p.peek(2)
	return p.glued(0) && p.peek(1) == Ident && p.glued(1) && (k == Down || k == Tie || k == Assign || k == Up)
}

// withoutPrefix reads such a link, or event, as if the word before it were not there.
func (p *parser) withoutPrefix(start source.Pos) Item {
	p.next()
	prefix := source.Span{Start: start, End: p.pos()}
	name := p.tagHere()
	p.instead(prefix, "a link stands under the name of what it links, and an event under its own", "write "+name.Text+" "+p.word()+" ...").Mend("leave it out", prefix, "")
	if p.is(Up) {
		return p.event(name.Start, name)
	}
	return p.linkAfter(name.Start, name, false)
}

// colonLinked reads name: value in a block as the link or event that it is meant to be.
func (p *parser) colonLinked(start source.Pos, name *Word) Item {
	colon := p.here().Span()
	p.next()
	does := html.IsEvent(name.Text) || p.doesSomething()
	if in := p.owner; !does && html.IsElement(name.Text) && (in == nil || !strings.Contains(in.Text, "-") && !html.IsAttribute(name.Text)) {
		text := p.expr()
		write := p.asText(text)
		f := p.instead(colon, "a node's text stands right behind its name", "write "+name.Text+" "+write).Mend("write its text", source.Span{Start: colon.Start, End: text.Span().End}, " "+write)
		if p.is(LBrace) && !p.nl() {
			f.Fix = nil
		}
		return &Element{At: p.since(start), Name: name, Text: text}
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

// itemUnnamed reports each wares by id { ... }, whose items have no name.
func (p *parser) itemUnnamed(list *Word) {
	write := "write each x in " + list.Text
	if p.acceptWord("by") {
		key := p.textOf(p.expr().Span())
		if !strings.Contains(key, ".") {
			key = "x." + key
		}
		write += " by " + key
	}
	p.failAt(list.Span(), write+" { ... }", "an each names its items")
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

// callInView reports a call where a view has its nodes: a value that is to be shown, or an event of
// a context.
func (p *parser) callInView(from source.Pos, head string) {
	owner, event, dotted := strings.Cut(head, ".")
	if !dotted {
		return
	}
	p.postfix(&Name{At: p.here()})
	if p.is(Up) {
		p.fail("write uses "+owner+" { "+event+"(...) -> ... } among the members, or the same behind supplies",
			"what a context emits is heard where it is used or supplied")
	}
	at := source.Span{Start: from, End: p.end()}
	p.failAt(at, "write `${"+p.textOf(at)+"}`", "a value is shown in a template")
}

// verbLinked reports a statement where a link has its value.
func (p *parser) verbLinked(name *Word) {
	if !p.is(Ident) || p.peek(1) != Ident || !p.sameLine(1) {
		return
	}
	switch p.word() {
	case "emit", "send", "start", "stop", "ask", "log":
		start := p.pos()
		p.handler()
		does := p.textOf(source.Span{Start: start, End: p.end()})
		p.failAt(source.Span{Start: start, End: p.end()},
			"of an event write "+name.Text+" -> "+does+"; to hand down a function write action "+camel(name.Text)+"() { "+does+" } in this component, and "+name.Text+" <- "+camel(name.Text),
			"a link hands down a value, and this does something")
	}
}

// namedLate reads a name or class that stands behind the text of a node, as if it stood before it.
func (p *parser) namedLate(e *Element) {
	text := e.Text.Span()
	from := p.end()
	before := source.Span{Start: text.Start, End: text.Start}
	if p.is(Dot) {
		p.next()
		class := p.tag("a class")
		e.Classes = append(e.Classes, class)
		before = source.Span{Start: e.Name.Stop, End: e.Name.Stop}
		f := p.instead(class.Span(), "a class stands right behind the name of its node", "write "+e.Name.Text+"."+class.Text+" "+p.textOf(text)).
			Mend("move the class", before, "."+class.Text)
		f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: from, End: p.end()}})
		return
	}
	p.next()
	e.Named = p.ident("a name")
	f := p.instead(e.Named.Span(), "named stands before the text of its node", "write "+e.Name.Text+" named "+e.Named.Text+" "+p.textOf(text)).
		Mend("move the name", before, "named "+e.Named.Text+" ")
	f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: from, End: p.end()}})
}

// linksLate reads links that stand behind a node as attributes do in HTML, as if they stood in its block.
func (p *parser) linksLate(e *Element, start source.Pos) {
	from := p.pos()
	head := p.file.Slice(start, p.end())
	var edits []finding.Edit
	var written []string
	for (p.is(Ident) || p.classLinked()) && !p.nl() {
		at := p.pos()
		if len(e.Body) > 0 {
			edits = append(edits, finding.Edit{Span: source.Span{Start: at, End: at}, Text: "; "})
		}
		class := p.accept(Dot)
		name := p.tagHere()
		if !p.isLink() && !p.is(Up) {
			p.fail("write "+head+" { ... }", "this node goes on with %s", name.Text)
		}
		if equals := p.here().Span(); p.is(Assign) { // as in HTML: a link once it stands in the block
			p.next()
			if p.is(LBrace) && p.peek(1) == Ident && p.peek(2) != Colon && p.peek(2) != Comma && p.peek(2) != RBrace {
				p.next()
				v := p.expr()
				p.fail("write "+head+" { "+name.Text+" <- "+p.textOf(v.Span())+" }", "a value is linked by an arrow, without braces")
			}
			braces := p.nameInBraces()
			l := &Link{Class: class, Name: name, Op: Down, Value: p.reading()}
			if braces != nil {
				p.next()
				edits = append(edits, braces...)
			}
			l.At = p.since(at)
			e.Body = append(e.Body, l)
			edits = append(edits, finding.Edit{Span: equals, Text: " <- "})
			written = append(written, p.file.Slice(at, equals.Start)+" <- "+p.textOf(l.Value.Span()))
			continue
		}
		if p.is(Up) {
			e.Body = append(e.Body, p.event(at, name))
		} else {
			e.Body = append(e.Body, p.linkAfter(at, name, class))
		}
		written = append(written, p.textOf(source.Span{Start: at, End: p.end()}))
	}
	e.Braces = true
	to := p.end()
	f := p.instead(source.Span{Start: from, End: to}, "links stand in the block of their node", "write "+head+" { "+strings.Join(written, "; ")+" }")
	if p.is(LBrace) && !p.nl() {
		e.Body = append(e.Body, p.viewBlock()...) // its braces are the block
		return
	}
	f.Mend("put them into a block", source.Span{Start: from, End: from}, "{ ")
	f.Fix.Edits = append(append(f.Fix.Edits, edits...), finding.Edit{Span: source.Span{Start: to, End: to}, Text: " }"})
	if k := p.kind(); e.Text == nil && !p.nl() && (k == String || k == TemplateWhole || k == TemplateHead) {
		p.textLate(e, f, head, strings.Join(written, "; "))
	}
}

// bareParam says whether what an event carries is named here without
// parentheses: name value -> ..., where name is no node.
func (p *parser) bareParam(name *Word) bool {
	return p.is(Ident) && !p.nl() && p.peek(1) == Up && p.sameLine(1) && !html.IsElement(name.Text) && !strings.Contains(name.Text, "-")
}

// eventOfBare reads name value -> ... as name(value) -> ...
func (p *parser) eventOfBare(start source.Pos, name *Word) Item {
	at := p.here()
	if name.Text == "on" {
		p.failAt(source.Span{Start: start, End: at.Stop}, "write "+p.word()+" -> ...", "an event is named alone")
	}
	e := &Event{Name: name, Call: true, Params: []*Param{{At: at, Name: p.ident("")}}}
	call := name.Text + "(" + p.textOf(at.Span()) + ")"
	f := p.instead(at.Span(), "what an event carries is named in parentheses", "write "+call+" -> ...").
		Mend("put it into parentheses", source.Span{Start: name.Span().End, End: at.Start}, "(")
	f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: at.Stop, End: at.Stop}, Text: ")"})
	p.up = p.here().Span()
	p.next()
	e.Do = p.handler()
	e.At = p.since(start)
	return e
}

// bareAttribute reports an attribute that stands behind a link without a value, as in HTML.
func (p *parser) bareAttribute() {
	at := p.here().Span()
	p.instead(at, "an attribute that is just there is linked with true", "write ; "+p.word()+" <- true").
		Mend("link it with true", at, "; "+p.word()+" <- true")
	p.next()
}

// statementLinked reads a statement behind <- as what an event does.
func (p *parser) statementLinked(start source.Pos, name *Word, arrow source.Span, target Expr) Item {
	op := p.kind()
	p.next()
	value := p.expr()
	do := &AssignStmt{p.since(target.Span().Start), target, op, value}
	p.instead(name.Span(), "a statement runs when an event is reported: -> and not <-", "write "+name.Text+" -> "+p.textOf(do.Span())).
		Mend("turn the link round", arrow, "->")
	return &Event{At: p.since(start), Name: name, Do: do}
}

// nameInBraces steps into {name} behind =, which is no record but a value in braces, and gives the edits that take them away.
func (p *parser) nameInBraces() []finding.Edit {
	if !p.is(LBrace) || p.peek(1) != Ident || p.peek(2) != RBrace {
		return nil
	}
	open, shut := p.here().Span(), p.tokens[p.at+2]
	p.next()
	return []finding.Edit{{Span: open}, {Span: source.Span{Start: p.file.Pos(int(shut.start)), End: p.file.Pos(int(shut.end))}}}
}

// asText is what shows an expression: a text or template as it is, a sum of texts and values as one template.
func (p *parser) asText(x Expr) string {
	switch x.(type) {
	case *TextLit, *Template:
		return p.textOf(x.Span())
	}
	parts, texts := p.summands(x)
	if !texts {
		return "`${" + p.textOf(x.Span()) + "}`"
	}
	return "`" + strings.Join(parts, "") + "`"
}

// summands are the parts of a template that shows a sum, and whether texts are among them.
func (p *parser) summands(x Expr) (parts []string, texts bool) {
	switch x := x.(type) {
	case *Binary:
		if x.Op != Plus {
			break
		}
		left, one := p.summands(x.X)
		right, other := p.summands(x.Y)
		if one || other { // a sum of numbers stays one value
			return append(left, right...), true
		}
	case *TextLit:
		return []string{backquoted(between(p.textOf(x.Span()), `"`))}, true
	case *Template:
		return []string{between(p.textOf(x.Span()), "`")}, true
	}
	return []string{"${" + p.textOf(x.Span()) + "}"}, false
}
