package syntax

import (
	"regexp"
	"strings"

	"lien/core/finding"
	"lien/core/source"
)

// What people write where a value stands as other languages have it.

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

// blockAsValue reports x => { return ... }.
func (p *parser) blockAsValue() {
	if !p.is(LBrace) || p.peek(1) != Ident || p.text(p.tokens[p.at+1]) != "return" || p.peek(2) == Colon || p.peek(2) == Comma || p.peek(2) == RBrace {
		return
	}
	start := p.pos()
	p.next()
	p.next()
	value := p.textOf(p.expr().Span())
	p.accept(Semi)
	p.accept(RBrace)
	p.failAt(p.since(start).Span(), "write => "+value, "what a callback works out stands right behind =>")
}

// within reports x in list, where a value stands.
func (p *parser) within(x Expr) {
	if !p.isWord("in") || p.nl() || p.peek(1) != Ident || !p.sameLine(1) {
		return
	}
	at := p.here().Span()
	p.next()
	list := p.textOf(p.postfix(p.operand()).Span())
	p.failAt(at, "write "+list+".includes("+p.textOf(x.Span())+")", "there is no operator in")
}

// steppedValue reports n++ and ++n where a value stands, at the place where one is missing.
func (p *parser) steppedValue() {
	at := p.at
	sign := func(i int) bool {
		return i >= 0 && i+1 < len(p.tokens) && (p.tokens[i].kind == Plus || p.tokens[i].kind == Minus) && p.tokens[i+1].kind == p.tokens[i].kind && p.tokens[i].end == p.tokens[i+1].start
	}
	name := ""
	switch {
	case sign(at): // ++n
		if name = "n"; at+2 < len(p.tokens) && p.tokens[at+2].kind == Ident {
			name = p.text(p.tokens[at+2])
		}
	case sign(at - 1), sign(at - 2): // n++
		if at--; !sign(at) {
			at--
		}
		if name = "n"; at > 0 && p.tokens[at-1].kind == Ident {
			name = p.text(p.tokens[at-1])
		}
	case p.is(Plus) && p.peek(1) == Ident && p.glued(1):
		p.next()
		value := p.textOf(p.postfix(p.operand()).Span())
		p.failAt(source.Span{Start: p.file.Pos(int(p.tokens[at].start)), End: p.end()}, "a text becomes a number by Number("+value+") ?? 0", "+ adds two values")
	default:
		return
	}
	op := p.tokens[at]
	p.failAt(source.Span{Start: p.file.Pos(int(op.start)), End: p.file.Pos(int(p.tokens[at+1].end))},
		"write "+name+" "+op.kind.String()+" 1; to change the cell, "+name+" "+op.kind.String()+"= 1", "there is no %s%s", op.kind, op.kind)
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

// holes are values in a template, as they stand in quotes.
var holes = regexp.MustCompile(`(?:^|[^\\\\])\$\{[^{}"]+\}`)

// quotedTemplate tells of ${...} in plain quotes, where it is a text.
func (p *parser) quotedTemplate(lit string, at source.Span) {
	if len(lit) < 2 || !strings.Contains(lit, "${") || !holes.MatchString(lit[1:len(lit)-1]) {
		return
	}
	body := backquoted(lit[1 : len(lit)-1])
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

// condition reads what holds or does not: there a = can only have been meant as ==.
func (p *parser) condition() Expr {
	x, f := p.compared()
	if f != nil {
		f.Mend("write ==", f.Span, "==")
	}
	return p.compares(x)
}

// atLeast reports => where >= is meant.
func (p *parser) atLeast(at source.Span) {
	p.instead(at, "=> begins what a function works out", "write >=, which compares").Mend("write >=", at, ">=")
}

// compares takes n => 3, where a condition stands, for the comparison that it was meant to be.
func (p *parser) compares(x Expr) Expr {
	a, ok := x.(*Arrow)
	if !ok || a.Parens {
		return x
	}
	name := a.Params[0].Name
	at := a.Params[0].Span().End
	for p.textOf(source.Span{Start: at, End: at + 2}) != "=>" {
		at++
	}
	p.atLeast(source.Span{Start: at, End: at + 2})
	return &Binary{At: a.At, Op: GreaterEq, OpPos: at, X: &Name{At: name.At, Text: name.Text}, Y: a.Body}
}

// compared reads an expression, with = as the == that it was perhaps meant to be, which is reported.
func (p *parser) compared() (Expr, *finding.Finding) {
	x := p.expr()
	p.within(x)
	at := p.here().Span()
	switch {
	case p.nl():
		return x, nil
	case p.is(FatArrow):
		p.atLeast(at)
		p.next()
		y := p.expr()
		return &Binary{p.since(x.Span().Start), GreaterEq, at.Start, x, y}, nil
	case p.is(Assign) && p.peek(1) == Less && p.glued(1):
		p.next()
		at.End = p.here().Stop
		p.instead(at, "there is no =<", "write <=, which compares").Mend("write <=", at, "<=")
		p.next()
		y := p.expr()
		return &Binary{p.since(x.Span().Start), LessEq, at.Start, x, y}, nil
	case !p.is(Assign):
		return x, nil
	}
	f := p.instead(at, "= changes a cell, and nothing is changed here", "write ==, which compares")
	p.next()
	y := p.expr()
	return &Binary{p.since(x.Span().Start), Equal, at.Start, x, y}, f
}
