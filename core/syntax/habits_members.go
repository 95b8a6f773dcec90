package syntax

import (
	"strings"

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
	call := ""
	var s Stmt
	if name := p.here(); p.is(Ident) && p.alone() {
		s = &CallStmt{name, &Call{At: name, Fun: p.operand()}}
		call = "()"
	} else {
		s = p.stmt()
	}
	f := p.instead(p.since(start).Span(), "what is done here stands in braces", "write { "+p.textOf(s.Span())+call+" }")
	if arrowed {
		f.Mend("write braces", arrow, "{")
	} else {
		f.Mend("write braces", source.Span{Start: start, End: start}, "{ ")
	}
	f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: s.Span().End, End: s.Span().End}, Text: call + " }"})
	return &Block{At: p.since(start), Stmts: []Stmt{s}}
}

// alone says whether the token here is the last of its line.
func (p *parser) alone() bool {
	switch p.peek(1) {
	case Semi, RBrace, EOF:
		return true
	}
	return p.tokens[p.at+1].nl
}

// givenByArrow reads the parameters of action add = (w: Ware) => { ... }.
func (p *parser) givenByArrow(name *Word) []*Param {
	equals := source.Span{Start: name.Stop, End: p.file.Pos(int(p.tokens[p.at+1].start))}
	p.next()
	params := p.params(true)
	at := source.Span{Start: equals.Start, End: p.end()}
	head := "write action " + name.Text + p.textOf(source.Span{Start: equals.End, End: at.End})
	const message = "what an action takes stands right behind its name"
	if p.is(FatArrow) && p.peek(1) != LBrace {
		p.next()
		p.failAt(at, head+" { "+p.textOf(p.stmt().Span())+" }", message)
	}
	f := p.instead(at, message, head+" { ... }").Mend("take = and => away", equals, "")
	if arrow := (source.Span{Start: at.End, End: p.here().Stop}); p.is(FatArrow) {
		f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: arrow})
		p.next()
	}
	return params
}

// derivedByArrow reports derives heavy = w => ..., what is worked out from values that stand behind its name.
func (p *parser) derivedByArrow(d *Derives) {
	typed := p.is(LParen) && p.peek(1) == Ident && p.peek(2) == Colon
	if d.Call || !typed && !p.isArrow() {
		return
	}
	start := p.pos()
	var params []*Param
	if p.is(LParen) {
		params = p.params(typed)
	} else {
		word := p.ident("a parameter's name")
		params = []*Param{{At: word.At, Name: word}}
	}
	if !p.accept(FatArrow) {
		p.fail("write =>, or "+d.Name.Text+"(...) = ... for what is worked out from values", "expected =>, but here is %s", p.found())
	}
	given := make([]string, len(params))
	for i, param := range params {
		if given[i] = p.textOf(param.Span()); param.Type == nil {
			given[i] += ": ..."
		}
	}
	body := p.textOf(p.expr().Span())
	p.failAt(p.since(start).Span(), "write derives "+d.Name.Text+"("+strings.Join(given, ", ")+") = "+body, "what a value is worked out from stands behind its name")
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

// listInBrackets reports [string], the type of a list, and [string, number], one of several values in a row.
func (p *parser) listInBrackets() {
	start := p.pos()
	p.next()
	kinds := []string{p.textOf(p.typ().Span())}
	for p.accept(Comma) {
		kinds = append(kinds, p.textOf(p.typ().Span()))
	}
	p.accept(RBrack)
	at := p.since(start).Span()
	if len(kinds) == 1 {
		p.failAt(at, "write "+kinds[0]+"[]", "a list's type is written behind the type of its items")
	}
	p.failAt(at, "write a record, whose values have names: { first: "+kinds[0]+", second: "+kinds[1]+" }", "all items of a list have one type")
}

// mapInBraces reports { [id: string]: number }, a record whose fields are not known.
func (p *parser) mapInBraces() {
	if !p.is(LBrack) {
		return
	}
	start := p.pos()
	p.next()
	if p.is(Ident) && p.peek(1) == Colon {
		p.next()
		p.next()
	}
	key := p.textOf(p.typ().Span())
	p.accept(RBrack)
	write := "write a list of records: { key: " + key
	if p.accept(Colon) {
		write += ", value: " + p.textOf(p.typ().Span())
	}
	p.failAt(p.since(start).Span(), write+" }[]", "the fields of a record have names of their own")
}

// asMember are words of other languages before a member that reads as the one that stands for it here.
var asMember = map[string]string{"state": "holds", "let": "holds", "var": "holds", "prop": "takes", "param": "takes", "computed": "derives"}
