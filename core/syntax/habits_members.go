package syntax

import (
	"lien/core/finding"
	"lien/core/source"
)

// What people write among the members of a component as other languages have it.

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

// strayInEvent reads what an event carries without parentheses, and reports a second event.
func (p *parser) strayInEvent(m *Emits) {
	switch {
	case p.nl():
	case p.is(Colon):
		at := p.here()
		p.next()
		t := p.typ()
		m.Params = []*Param{{At: At{at.Start, p.end()}, Name: &Word{at, "value"}, Type: t}}
		write := "(value: " + p.textOf(t.Span()) + ")"
		p.instead(p.since(m.Name.Start).Span(), "what an event carries stands in parentheses, with a name", "write emits "+m.Name.Text+write).
			Mend("write parentheses", p.since(at.Start).Span(), write)
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

// listInBrackets reports [string], the type of a list.
func (p *parser) listInBrackets() {
	start := p.pos()
	p.next()
	of := p.textOf(p.typ().Span())
	p.accept(RBrack)
	p.failAt(p.since(start).Span(), "write "+of+"[]", "a list's type is written behind the type of its items")
}

// asMember are words of other languages before a member that reads as the one that stands for it here.
var asMember = map[string]string{"state": "holds", "let": "holds", "var": "holds", "prop": "takes", "param": "takes", "computed": "derives"}
