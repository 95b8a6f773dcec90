package syntax

import (
	"regexp"
	"strings"

	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
)

// What people write who come from other languages: each is told with what stands for it here, and
// read on as if it had been written so, so that nothing after it is blamed.

// instead reports what is written at a place, with what to write instead.
func (p *parser) instead(at source.Span, message, write string) *finding.Finding {
	f := finding.New("unreadable", finding.Error, at, "%s", message).Instead("%s", write)
	p.report(f)
	return f
}

func (p *parser) textOf(at source.Span) string { return p.file.Slice(at.Start, at.End) }

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

// ifInView reads an if in a view as the when that it is meant to be.
func (p *parser) ifInView() Item {
	word := p.here().Span()
	f := p.instead(word, "if chooses what is done; what is shown is chosen by when", "")
	w := p.when().(*When)
	f.Instead("write when %s { ... }", p.textOf(w.Cond.Span())).Mend("write when", word, "when")
	return w
}

// forInView reads for (x of list) { } and its like in a view as each x in list { }.
func (p *parser) forInView() Item {
	start := p.pos()
	p.next()
	e := &Each{}
	list := func() {
		for _, w := range []string{"const", "let", "var"} {
			if p.isWord(w) && p.peek(1) == Ident {
				p.next()
				break
			}
		}
		e.Var = p.ident("a name for the item")
		if !p.acceptWord("of") {
			p.expectWord("in", "after the item's name")
		}
		e.List = p.expr()
	}
	if p.is(LParen) {
		p.next()
		list()
		p.expect(RParen, "after the list")
	} else {
		list()
	}
	write := "each " + e.Var.Text + " in " + p.textOf(e.List.Span())
	p.instead(source.Span{Start: start, End: start + 3}, "for runs statements; what is shown for every item stands in each", "write "+write+" { ... }").
		Mend("write each", source.Span{Start: start, End: p.end()}, write)
	e.Body = p.viewBlock()
	e.At = p.since(start)
	return e
}

// startsFor says whether the word for begins a loop, and is not the name of a link.
func (p *parser) startsFor() bool {
	if p.peek(1) == LParen {
		return true
	}
	return p.peek(1) == Ident && p.sameLine(1) && p.peek(2) == Ident && p.sameLine(2)
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
			l := &Link{Class: class, Name: name, Op: Down, Value: p.reading()}
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

// listFirst says whether an each names its list before its item: each list as item.
func (p *parser) listFirst() bool {
	open := 0
	for i, t := range p.tokens[p.at:] {
		switch {
		case i > 0 && t.nl || t.kind == LBrace && open == 0 || t.kind == EOF:
			return false
		case t.kind == LParen || t.kind == LBrack || t.kind == LBrace:
			open++
		case t.kind == RParen || t.kind == RBrack || t.kind == RBrace:
			open--
		case t.kind == Ident && open == 0 && p.text(t) == "in":
			return false
		case i > 0 && t.kind == Ident && open == 0 && p.text(t) == "as":
			return true
		}
	}
	return false
}

// listAsItem reads list as item as item in list.
func (p *parser) listAsItem(e *Each) {
	start := p.pos()
	e.List = p.expr()
	p.next()
	e.Var = p.ident("a name for the item")
	all := p.since(start).Span()
	write := e.Var.Text + " in " + p.textOf(e.List.Span())
	p.instead(all, "each names the item first, then the list", "write each "+write+" { ... }").Mend("turn them round", all, write)
}

// otherwise reports an else by another name.
func (p *parser) otherwise() bool {
	if !p.isWord("otherwise") || p.peek(1) != LBrace {
		return false
	}
	at := p.here().Span()
	p.instead(at, "what is shown instead stands in else", "write else { ... }").Mend("write else", at, "else")
	return true
}

// bareAttribute reports an attribute that stands behind a link without a value, as in HTML.
func (p *parser) bareAttribute() {
	at := p.here().Span()
	p.instead(at, "an attribute that is just there is linked with true", "write ; "+p.word()+" <- true").
		Mend("link it with true", at, "; "+p.word()+" <- true")
	p.next()
}

// indexBehindComma reads item, index as item at index.
func (p *parser) indexBehindComma(e *Each) {
	at := p.here().Span()
	p.next()
	e.Index = p.ident("a name for the index")
	p.instead(at, "the index of an item is named behind at", "write "+e.Var.Text+" at "+e.Index.Text).Mend("write at", at, " at")
}

// keyedBy reports that what tells the items apart stands behind another word than by.
func (p *parser) keyedBy() bool {
	if !p.isWord("key") || !p.sameLine(1) || p.peek(1) != Ident {
		return false
	}
	at := p.here().Span()
	p.instead(at, "what tells items apart stands behind by", "write by").Mend("write by", at, "by")
	p.next()
	return true
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

// variable reads let and var as the const that they can be at most.
func (p *parser) variable() Stmt {
	word := p.here().Span()
	p.instead(word, p.word()+" would be changed later, and only cells change", "write const; what changes is a cell of the component: holds x = ...").
		Mend("write const", word, "const")
	return p.constDecl()
}

// PageTimers are functions of pages that wait, with what is written for them here.
var PageTimers = map[string]string{
	"setTimeout":  "declare timer later after 1000 { ... } in the component, and write start later",
	"setInterval": "declare timer tick every 1000 { ... } in the component, and write start tick",
}

// holes are values in a template, as they stand in quotes.
var holes = regexp.MustCompile(`(?:^|[^\\\\])\$\{[^{}"]+\}`)

// quotedTemplate tells of ${...} in plain quotes, where it is a text.
func (p *parser) quotedTemplate(lit string, at source.Span) {
	if len(lit) < 2 || !strings.Contains(lit, "${") || !holes.MatchString(lit[1:len(lit)-1]) {
		return
	}
	body := strings.ReplaceAll(strings.ReplaceAll(lit[1:len(lit)-1], "`", "\\`"), `\"`, `"`)
	const what = "${...} is no value between double quotes"
	last := body[strings.LastIndex(body, "${"):]
	ends := "write the whole text between backquotes: the quote inside of " + strings.TrimSpace(last) + " ends it"
	if !strings.Contains(last, "}") && p.glued(1) {
		p.failAt(at, ends, what) // what comes next was meant as a part of it
	}
	f := finding.New("quoted-template", finding.Warning, at, what)
	p.report(f)
	if !strings.Contains(last, "}") {
		f.Instead("%s", ends)
		return
	}
	f.Instead("write it between backquotes: `%s`; for the text itself, \\${", body).
		Mend("write backquotes", at, "`"+body+"`")
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
