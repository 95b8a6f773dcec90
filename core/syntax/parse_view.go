package syntax

import (
	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
)

// viewBlock reads the { items } of a view or node.
func (p *parser) viewBlock() []Item {
	items := []Item{}
	view := p.view
	p.view = true
	p.block(func() { items = append(items, p.item()) }, "node or link")
	p.view = view
	return items
}

// links reads an optional block of links.
func (p *parser) links() ([]Item, bool) {
	if !p.is(LBrace) || p.nl() {
		return nil, false
	}
	return p.viewBlock(), true
}

func (p *parser) item() Item {
	start := p.pos()
	switch p.kind() {
	case String, TemplateWhole, TemplateHead:
		e := p.operand()
		if p.is(Plus) && !p.nl() {
			p.joinedText("", e)
		}
		return &TextItem{p.since(start), e}
	case Dot:
		p.next()
		return p.link(start, true)
	case Ident:
	default:
		p.markup()
		p.failEntry("write a node, a text, a link, when, each or slot", "a line of a view")
	}
	if read := p.viewKeyword(); read != nil {
		return read()
	}
	p.styleInView()
	name := p.tagHere()
	p.bracketed(start, name)
	switch {
	case p.isLink():
		return p.linkAfter(start, name, false)
	case p.is(Colon) && p.prefixed():
		return p.withoutPrefix(start)
	case p.is(Colon) && !p.nl():
		return p.colonLinked(start, name)
	case p.is(Up) || p.is(LParen):
		return p.event(start, name)
	case p.is(FatArrow) && !p.nl():
		arrow := p.here().Span()
		p.instead(arrow, "an event is heard with ->, not with =>", "write "+name.Text+" -> ...").Mend("write ->", arrow, "->")
		p.up = arrow
		p.next()
		e := &Event{Name: name, Do: p.handler()}
		e.At = p.since(start)
		return e
	case p.bareParam(name):
		return p.eventOfBare(start, name)
	}
	return p.element(start, name)
}

func (p *parser) isLink() bool {
	return !p.nl() && (p.is(Down) || p.is(Tie) || p.is(Assign))
}

// isHeard says whether a word with names in brackets is an event that is heard: name(a) -> ...
func (p *parser) isHeard() bool {
	if p.peek(1) != LParen {
		return false
	}
	for n, open := 1, 0; ; n++ {
		switch p.peek(n) {
		case LParen:
			open++
		case RParen:
			if open--; open == 0 {
				return p.peek(n+1) == Up
			}
		case EOF, LBrace, RBrace:
			return false
		}
	}
}

// viewKeyword is the reader for when, each, slot and fill, or nil where the
// word is the name of a link, event or node.
func (p *parser) viewKeyword() func() Item {
	if k := p.peek(1); p.sameLine(1) && (k == Down || k == Tie || k == Assign || k == Up) || k == Minus && p.glued(1) && p.glued(2) {
		return nil
	}
	switch p.word() {
	case "when":
		return p.when
	case "each":
		return p.each
	case "slot":
		return p.slot
	case "fill":
		if p.isHeard() {
			return nil
		}
		return p.fill
	case "if":
		if p.opensHead() {
			return p.ifInView
		}
	case "for":
		if p.startsFor() {
			return p.forInView
		}
	case "switch", "match":
		if p.opensHead() {
			p.next()
			of := p.textOf(p.expr().Span())
			p.fail("write when "+of+" == ... { ... } else when ... { ... }", "what is shown is chosen by when")
		}
	case "named":
		if p.peek(1) == Ident && p.sameLine(1) && p.owner != nil {
			p.next()
			name := p.ident("a name")
			p.failAt(name.Span(), "write it before the block: "+p.owner.Text+" named "+name.Text+" { ... }", "named stands before the block of its node")
		}
	case "forward":
		if p.peek(1) == Ident && p.sameLine(1) {
			p.next()
			p.fail("write "+p.word()+" -> forward", "an event is forwarded where it is heard")
		}
	case "within":
		if k := p.peek(1); (k == Ident || k == Not) && p.sameLine(1) {
			return func() Item { return p.clause() }
		}
	case "screen":
		if k := p.peek(1); (k == String || k == Number || k == LParen) && p.sameLine(1) {
			return func() Item { return p.clause() }
		}
	case "samples":
		if k := p.peek(1); (k == Ident || k == String) && p.sameLine(1) {
			return func() Item { return p.clause() }
		}
	}
	return nil
}

func (p *parser) link(start source.Pos, class bool) Item {
	name := p.tag("a class")
	if p.is(Up) && !p.nl() {
		f := p.instead(source.Span{Start: start, End: name.Stop}, "what begins with a dot is a class, and no class reports anything", "write "+name.Text+" -> ...").
			Mend("take the dot away", source.Span{Start: start, End: name.Start}, "")
		e := p.event(start, name).(*Event)
		f.Instead("write %s -> %s", name.Text, p.textOf(e.Do.Span()))
		return e
	}
	if !p.isLink() {
		p.fail("write ."+name.Text+" <- condition", "expected <- after the class, but here is %s", p.found())
	}
	return p.linkAfter(start, name, class)
}

func (p *parser) linkAfter(start source.Pos, name *Word, class bool) Item {
	l := &Link{Class: class, Name: name, Op: p.kind()}
	arrow := p.here().Span()
	p.next()
	p.verbLinked(name)
	l.Value = p.reading()
	if l.Op == Down && !class && (p.is(PlusAssign) || p.is(MinusAssign)) && !p.nl() {
		return p.statementLinked(start, name, arrow, l.Value)
	}
	l.At = p.since(start)
	if p.is(Ident) && !p.nl() && html.IsBoolean(p.word()) {
		p.bareAttribute()
	}
	return l
}

func (p *parser) event(start source.Pos, name *Word) Item {
	e := &Event{Name: name}
	if p.is(LParen) {
		e.Call = true
		e.Params = p.params(false)
	}
	p.up = p.here().Span()
	if p.is(Colon) && !p.nl() {
		p.heardByColon(p.textOf(p.since(start).Span()))
	} else {
		p.expect(Up, "after the event")
	}
	e.Do = p.handler()
	e.At = p.since(start)
	return e
}

// element reads name .classes named x "text" { block }.
func (p *parser) element(start source.Pos, name *Word) Item {
	e := &Element{Name: name}
	for p.is(Dot) && !p.nl() && !p.classLinked() {
		p.next()
		e.Classes = append(e.Classes, p.tag("a class"))
	}
	if p.isWord("named") && p.peek(1) == Ident && p.sameLine(1) {
		p.next()
		e.Named = p.ident("a name")
	}
	if k := p.kind(); !p.nl() && (k == String || k == TemplateWhole || k == TemplateHead) {
		e.Text = p.operand()
	}
	for e.Text != nil && !p.nl() && (p.is(Dot) && !p.classLinked() || p.isWord("named") && p.peek(1) == Ident && p.sameLine(1)) {
		p.namedLate(e)
	}
	if p.is(LBrace) && !p.nl() {
		e.Braces = true
		owner := p.owner
		p.owner = name
		e.Body = p.viewBlock()
		p.owner = owner
	}
	if k := p.peek(1); !e.Braces && !p.nl() && (p.classLinked() || p.is(Ident) && p.sameLine(1) && (k == Assign || k == Down || k == Up || k == Tie)) {
		p.linksLate(e, start)
	}
	if !p.lineEnds() && !e.Braces { // what follows a block is another node
		p.strayInNode(e, start)
	}
	e.At = p.since(start)
	return e
}

func (p *parser) when() Item {
	start := p.pos()
	p.next()
	w := &When{Cond: p.condition()}
	if !p.is(LBrace) && p.nodeBegins() {
		p.fail("write when "+p.textOf(w.Cond.Span())+" { ... }", "what is shown under a condition stands in braces")
	}
	w.Body = p.viewBlock()
	w.BodyEnd = p.end() - 1
	if p.is(Ident) && p.word() == "else" || p.otherwise() {
		p.next()
		w.HasElse = true
		if p.isWord("when") {
			p.deeper(func() { w.Else = []Item{p.when()} })
		} else if p.isWord("if") && p.opensHead() {
			p.deeper(func() { w.Else = []Item{p.ifInView()} })
		} else {
			if !p.is(LBrace) && p.nodeBegins() {
				p.fail("write else { ... }", "what is shown under a condition stands in braces")
			}
			w.Else = p.viewBlock()
		}
	} else if p.elseWhen() {
		w.HasElse = true
		p.deeper(func() { w.Else = []Item{p.when()} })
	}
	w.At = p.since(start)
	return w
}

func (p *parser) each() Item {
	start := p.pos()
	p.next()
	e := &Each{}
	open := p.here().Span()
	around := p.itemInParens(e)
	inParens := !around && p.accept(LParen)
	switch {
	case around:
		p.goesThrough()
		e.List = p.expr()
	case p.listFirst():
		p.listAsItem(e)
	default:
		e.Var = p.ident("a name for the item")
		if p.acceptWord("at") {
			e.Index = p.ident("a name for the index")
		} else if p.is(Comma) {
			p.indexBehindComma(e)
		} else if p.isWord("by") || p.is(LBrace) {
			p.itemUnnamed(e.Var)
		}
		p.goesThrough()
		p.countedRange()
		e.List = p.expr()
		p.restOfList(e)
	}
	if p.acceptWord("by") || p.keyedBy() {
		e.By = p.expr()
	}
	if inParens {
		shut := p.here().Span()
		p.expect(RParen, "after the list")
		f := p.instead(open, "each has no parentheses", "write each "+p.textOf(source.Span{Start: open.End, End: shut.Start})+" { ... }").Mend("remove them", open, "")
		f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: shut})
	}
	p.restOfList(e)
	e.Body = p.viewBlock()
	if p.is(Ident) && p.word() == "else" && p.peek(1) == LBrace {
		list := p.textOf(e.List.Span())
		p.instead(p.here().Span(), "an each has no else", "write when "+list+".length == 0 { ... } behind it")
		p.next()
		p.viewBlock()
	}
	e.At = p.since(start)
	return e
}

// handsOut expects the arrow behind the name of what a slot hands out, and takes a = for one.
func (p *parser) handsOut(name *Word) {
	switch {
	case p.is(Assign):
		p.instead(p.here().Span(), "a slot hands values out by arrows", "write "+name.Text+" <- value").Mend("write <-", p.here().Span(), "<-")
	case !p.is(Down):
		p.fail("write "+name.Text+" <- value", "a slot hands out values by name, but here is %s", p.found())
	}
}

func (p *parser) slot() Item {
	start := p.pos()
	p.next()
	s := &Slot{}
	if p.is(Ident) && !p.nl() {
		s.Name = p.ident("the slot's name")
	}
	if p.is(LParen) && !p.nl() {
		s.Call = true
		p.paren(LParen, RParen, func() {
			at := p.pos()
			name := p.ident("the name handed out")
			p.handsOut(name)
			p.next()
			v := p.expr()
			s.Links = append(s.Links, &Link{p.since(at), false, name, Down, v})
		})
	}
	if p.is(LBrace) && !p.nl() {
		s.Braces = true
		s.Body = p.viewBlock()
	}
	s.At = p.since(start)
	return s
}

func (p *parser) fill() Item {
	start := p.pos()
	p.next()
	if p.is(LParen) {
		p.fail("write fill row(...) { ... }, and slot row(...) in the component that hands it out", "only a slot with a name hands out values")
	}
	f := &Fill{Name: p.ident("the slot's name")}
	if p.is(LParen) && !p.nl() {
		f.Call = true
		f.Params = p.params(false)
	}
	f.Body = p.viewBlock()
	f.At = p.since(start)
	return f
}
