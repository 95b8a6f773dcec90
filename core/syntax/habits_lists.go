package syntax

import (
	"lien/core/source"
)

// What people write for branches and lists of a view as other languages have them.

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
