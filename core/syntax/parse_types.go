package syntax

// typ reads a type: a | b, T[], T?, records, functions, names and literals.
func (p *parser) typ() (t Type) {
	p.deeper(func() {
		start := p.pos()
		p.accept(Bar)
		t = p.suffixed()
		if p.is(Bar) {
			u := &UnionType{Members: []Type{t}}
			for p.accept(Bar) {
				u.Members = append(u.Members, p.suffixed())
			}
			u.At = p.since(start)
			t = u
		}
	})
	return t
}

func (p *parser) suffixed() Type {
	start := p.pos()
	t := p.plainType()
	for n := 0; !p.nl(); n++ {
		p.bounded(n)
		switch {
		case p.is(LBrack) && p.peek(1) == RBrack:
			p.next()
			p.next()
			t = &ListType{p.since(start), t}
		case p.accept(Question):
			t = &NullableType{p.since(start), t}
		default:
			return t
		}
	}
	return t
}

func (p *parser) plainType() Type {
	start := p.pos()
	switch p.kind() {
	case Ident:
		if w := p.word(); w == "true" || w == "false" {
			return &LiteralType{p.here(), p.operand()}
		}
		name := p.hyphened()
		p.generic(name)
		return &NamedType{p.since(start), name}
	case String, Number:
		return &LiteralType{p.here(), p.operand()}
	case Minus:
		x := p.unary()
		return &LiteralType{p.since(start), x}
	case LBrace:
		return p.recordType()
	case LParen:
		return p.funcType()
	case LBrack:
		p.listInBrackets()
	}
	p.fail("write a type: string, number, boolean, a name, T[], T? or { id: string }", "expected a type, but here is %s", p.found())
	return nil
}

func (p *parser) recordType() Type {
	start := p.pos()
	r := &RecordType{}
	open := p.here()
	p.next()
	flat := p.flat
	p.flat = false
	for !p.is(RBrace) {
		if p.is(EOF) {
			p.isOpen(open.Span(), "{", "}")
			panic(bail{})
		}
		p.flat = true
		one := p.field()
		p.flat = false
		r.Fields = append(r.Fields, one)
		if !p.accept(Comma) && !p.accept(Semi) && !p.lineEnds() {
			p.fail("write , between two fields", "expected , or }, but here is %s", p.found())
		}
	}
	p.flat = flat
	p.next()
	r.At = p.since(start)
	return r
}

// field reads a field of a record type, whose type ends with its line.
func (p *parser) field() *Param {
	start := p.pos()
	p.mapInBraces()
	f := &Param{Name: p.ident("a field's name")}
	f.Optional = p.accept(Question)
	p.expect(Colon, "after the field's name")
	p.flat = false
	f.Type = p.typ()
	f.At = p.since(start)
	return f
}

// funcType reads (id: string) => void, or a type in parentheses.
func (p *parser) funcType() Type {
	start := p.pos()
	if p.peek(1) == RParen || p.peek(1) == Ident && (p.peek(2) == Colon || p.peek(2) == Question && p.peek(3) == Colon) {
		f := &FuncType{Params: p.params(true)}
		p.expect(FatArrow, "after a function type's parameters")
		f.Result = p.typ()
		f.At = p.since(start)
		return f
	}
	t := &ParenType{}
	p.paren(LParen, RParen, func() { t.Elem = p.typ() })
	t.At = p.since(start)
	if n, ok := t.Elem.(*NamedType); ok && p.is(FatArrow) {
		p.failAt(p.since(start).Span(), "write ("+n.Name+": string) => ..., or another type", "what a function takes has a type")
	}
	if t.Elem == nil {
		p.fail("write a type between the parentheses", "expected a type, but here is %s", p.found())
	}
	return t
}
