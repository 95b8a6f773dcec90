package syntax

import (
	"strconv"
	"strings"

	"lien/core/source"
)

// expr reads an expression.
func (p *parser) expr() (e Expr) {
	p.deeper(func() {
		if p.isArrow() {
			e = p.arrow()
			return
		}
		e = p.cond()
	})
	return e
}

// isArrow looks ahead for x => and (x, y) =>.
func (p *parser) isArrow() bool {
	if p.is(Ident) {
		return p.peek(1) == FatArrow
	}
	if !p.is(LParen) {
		return false
	}
	n := 1
	for p.peek(n) == Ident || p.peek(n) == Comma {
		n++
	}
	return p.peek(n) == RParen && p.peek(n+1) == FatArrow
}

func (p *parser) arrow() Expr {
	start := p.pos()
	a := &Arrow{Parens: p.is(LParen)}
	if a.Parens {
		a.Params = p.params(false)
	} else {
		w := p.ident("a parameter's name")
		a.Params = []*Param{{At: w.At, Name: w}}
	}
	p.expect(FatArrow, "after the parameters")
	p.blockAsValue()
	if p.is(Ident) && (verbs[p.word()] != "" || p.word() == "log") && p.peek(1) == Ident && p.sameLine(1) {
		p.fail("in a handler or action, go through the list: for (x of list) ...", "a callback works out a value, and changes nothing")
	}
	a.Body = p.expr()
	if k := p.kind(); k == Assign || k == PlusAssign || k == MinusAssign {
		p.changedInCallback(a)
		p.fail("in a handler or action, go through the list: for (x of list) ...", "a callback works out a value, and changes nothing")
	}
	a.At = p.since(start)
	return a
}

func (p *parser) cond() Expr {
	start := p.pos()
	c := p.binary(1)
	if !p.is(Question) {
		return c
	}
	p.next()
	x := p.expr()
	if !p.is(Colon) {
		p.fail("write : and the value for the other case", "expected : after the first value of ?:, but here is %s", p.found())
	}
	p.next()
	y := p.expr()
	return &Cond{p.since(start), c, x, y}
}

// reading reads an expression where nothing can be changed, and takes a = in
// it for the == that it was meant to be.
func (p *parser) reading() Expr {
	x, _ := p.compared()
	return x
}

// binary reads operators that bind at least as tightly as min. A line that
// starts with one goes on with the expression.
func (p *parser) binary(min uint8) Expr {
	start := p.pos()
	x := p.unary()
	for n := 0; ; n++ {
		p.bounded(n)
		op := p.operator()
		prec := precedence[op]
		if prec == 0 || prec < min {
			return x
		}
		if op != p.kind() {
			p.wordFor(op)
		}
		opPos := p.pos()
		p.next()
		y := p.binary(prec + 1)
		p.unmixed(op, x, y)
		x = &Binary{p.since(start), op, opPos, x, y}
	}
}

// unmixed asks for parentheses where ?? meets && or ||, as ECMAScript does.
func (p *parser) unmixed(op Kind, sides ...Expr) {
	for _, s := range sides {
		b, ok := s.(*Binary)
		if !ok {
			continue
		}
		logical := b.Op == Or || b.Op == And
		if op == Coalesce && logical || (op == Or || op == And) && b.Op == Coalesce {
			p.failAt(b.Span(), "put this part into ( )", "%s and %s side by side need parentheses", b.Op, op)
		}
	}
}

func (p *parser) unary() (e Expr) {
	if !p.is(Not) && !p.is(Minus) {
		return p.postfix(p.operand())
	}
	p.deeper(func() {
		start, op := p.pos(), p.kind()
		p.next()
		x := p.unary()
		e = &Unary{p.since(start), op, x}
	})
	return e
}

// postfix reads .name, ?.name, [i], ?.[i] and (args) after x.
func (p *parser) postfix(x Expr) Expr {
	start := x.Span().Start
	for n := 0; ; n++ {
		p.bounded(n)
		switch {
		case p.is(Dot) && !(p.nl() && p.view):
			p.next()
			name := p.ident("a name after .")
			x = &Dotted{p.since(start), x, false, name}
		case p.is(OptDot):
			p.next()
			if p.is(LBrack) {
				x = p.index(start, x, true)
				continue
			}
			name := p.ident("a name after ?.")
			x = &Dotted{p.since(start), x, true, name}
		case p.is(LBrack) && !p.nl():
			x = p.index(start, x, false)
		case p.is(LParen) && !p.nl():
			x = p.call(start, x)
		case p.is(Not) && p.glued(0) && (p.peek(1) == Dot || p.peek(1) == LBrack):
			p.fail("test it first: if ("+p.textOf(x.Span())+" != null) ..., or go on with ?.", "no ! stands behind a value")
		default:
			return x
		}
	}
}

func (p *parser) index(start source.Pos, x Expr, optional bool) Expr {
	var i Expr
	p.paren(LBrack, RBrack, func() {
		if i != nil {
			p.fail("write one index", "a list has one index")
		}
		i = p.expr()
	})
	if i == nil {
		p.at--
		p.fail("write the index, such as [0]", "the index is missing")
	}
	return &Index{p.since(start), x, optional, i}
}

func (p *parser) call(start source.Pos, fun Expr) *Call {
	c := &Call{Fun: fun}
	named := false
	if n, ok := fun.(*Name); ok {
		switch n.Text {
		case "all", "the", "reported", "running", "waiting":
			named = true
		}
	}
	callee := p.callee
	defer func() { p.callee = callee }()
	if d, ok := fun.(*Dotted); ok {
		p.callee = d.Name.Text
	}
	p.paren(LParen, RParen, func() {
		if named && len(c.Args) == 0 && p.is(Ident) && p.peek(1) == Minus && p.tokens[p.at].end == p.tokens[p.at+1].start {
			at := p.pos()
			name := p.hyphened()
			c.Args = append(c.Args, p.postfix(&Name{p.since(at), name}))
			return
		}
		c.Args = append(c.Args, p.argument())
	})
	c.At = p.since(start)
	return c
}

func (p *parser) operand() Expr {
	at := p.here()
	switch p.kind() {
	case Ident:
		w := p.word()
		if w == "new" && p.peek(1) == Ident && p.sameLine(1) {
			p.fail("write a record, { ... }; the time is now(), a key fresh()", "nothing is made by new")
		}
		if w == "not" && p.sameLine(1) && (p.peek(1) == Ident || p.peek(1) == LParen && !p.glued(1)) {
			at := p.here().Span()
			p.instead(at, "what is not so is written with !", "write !").Mend("write !", source.Span{Start: at.Start, End: p.file.Pos(int(p.tokens[p.at+1].start))}, "!")
			p.next()
			x := p.postfix(p.operand())
			return &Unary{p.since(at.Start), Not, x}
		}
		if k := p.peek(1); w == "if" && p.sameLine(1) && (k == Ident || k == LParen || k == Not) {
			p.fail("write condition ? one : other", "a value is chosen by ? and :")
		}
		p.next()
		return &Name{at, w}
	case Number:
		v, err := strconv.ParseFloat(p.word(), 64)
		if err != nil {
			p.fail("write a number below 1.8e308", "this number is too large")
		}
		p.next()
		return &NumberLit{at, v}
	case String:
		v := p.unquoted(p.word())
		p.quotedTemplate(p.word(), at.Span())
		p.next()
		return &TextLit{at, v}
	case TemplateWhole, TemplateHead:
		return p.template()
	case LBrack:
		return p.list()
	case LBrace:
		return p.record()
	case LParen:
		return p.parens()
	}
	p.steppedValue()
	p.fail("write a value here", "expected a value, but here is %s", p.found())
	return nil
}

func (p *parser) parens() Expr {
	start := p.pos()
	e := &Paren{}
	p.paren(LParen, RParen, func() {
		if e.X != nil {
			p.fail("write one value in ( )", "a second value in parentheses")
		}
		e.X = p.reading()
	})
	if e.X == nil {
		p.fail("write a value between the parentheses", "these parentheses are empty")
	}
	e.At = p.since(start)
	return e
}

func (p *parser) list() Expr {
	start := p.pos()
	l := &ListLit{}
	p.paren(LBrack, RBrack, func() {
		at := p.pos()
		if p.accept(Spread) {
			x := p.expr()
			l.Items = append(l.Items, &SpreadExpr{p.since(at), x})
			return
		}
		l.Items = append(l.Items, p.expr())
	})
	l.At = p.since(start)
	return l
}

func (p *parser) record() Expr {
	start := p.pos()
	r := &RecordLit{}
	view := p.view
	p.view = false
	p.paren(LBrace, RBrace, func() { r.Fields = append(r.Fields, p.fieldLit()) })
	p.view = view
	r.At = p.since(start)
	return r
}

func (p *parser) fieldLit() *FieldLit {
	f := &FieldLit{}
	start := p.pos()
	switch {
	case p.accept(Spread):
		f.Value = p.expr()
	case p.is(String):
		p.fail("write "+strings.Trim(p.word(), `"`)+" without quotes", "a field's name stands without quotes")
	default:
		f.Name = p.ident("a field's name")
		if p.accept(Colon) {
			f.Value = p.expr()
		}
	}
	f.At = p.since(start)
	return f
}

// template reads `...${expr}...`. The texts stay as written.
func (p *parser) template() Expr {
	start := p.pos()
	t := &Template{}
	flat, view := p.flat, p.view
	p.flat, p.view = true, false
	for {
		k, lit := p.kind(), p.word()
		body := strings.TrimPrefix(strings.TrimPrefix(lit, "`"), "}")
		if k == TemplateHead || k == TemplateMid {
			body = strings.TrimSuffix(body, "${")
		} else {
			body = strings.TrimSuffix(body, "`")
		}
		p.plain(body, p.pos()+1)
		t.Texts = append(t.Texts, body)
		p.next()
		if k == TemplateWhole || k == TemplateTail {
			break
		}
		hole := source.Span{Start: p.end() - source.Pos(len("${")), End: p.end()}
		t.Exprs = append(t.Exprs, p.expr())
		if !p.is(TemplateMid) && !p.is(TemplateTail) {
			p.unlessShut(hole)
			if p.is(Colon) {
				p.fail("work it out in the braces, such as ${kg.toFixed(2)}", "a value in a text has no format")
			}
			p.fail("close the expression with }", "expected } in the template, but here is %s", p.found())
		}
	}
	p.flat, p.view = flat, view
	t.At = p.since(start)
	return t
}

// Plain is the text that part i of the template stands for.
func (t *Template) Plain(i int) string {
	text, _ := unquote(t.Texts[i])
	return text
}
