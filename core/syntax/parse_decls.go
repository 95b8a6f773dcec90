package syntax

import (
	"strings"

	"lien/core/finding"
	"lien/core/source"
)

var declWords = []string{"use", "type", "const", "derives", "component", "context", "channel", "service",
	"start", "law", "scenario", "style"}

// decls reads one declaration into the file.
func (p *parser) decls() {
	if !p.is(Ident) {
		p.failEntry("start a declaration: component, type, const, derives, start, law or scenario", "a declaration")
	}
	start := p.pos()
	w := p.word()
	if w == "const" {
		p.add(p.constDecl())
		return
	}
	p.next()
	switch w {
	case "use":
		u := &Use{Path: p.textLit("a folder")}
		if p.acceptWord("with") {
			u.As = append(u.As, p.renaming())
			for p.accept(Comma) {
				u.As = append(u.As, p.renaming())
			}
		}
		u.At = p.since(start)
		p.add(u)
	case "type":
		p.add(p.typeDecl(start))
	case "derives":
		p.add(p.derives(start))
	case "component", "context":
		p.component(start, w == "context")
	case "channel":
		c := &Channel{Name: p.ident("the channel's name")}
		if p.is(LParen) && !p.nl() {
			c.Params = p.params(true)
		}
		p.strayInChannel(c)
		c.At = p.since(start)
		p.add(c)
	case "service":
		p.service(start)
	case "start":
		p.add(p.start(start))
	case "law":
		p.law(start)
	case "scenario":
		p.scenario(start)
	case "style":
		p.add(p.style(start))
	default:
		p.at--
		p.unknownDecl(w)
	}
}

func (p *parser) add(d Decl) { p.out.Decls = append(p.out.Decls, d) }

func (p *parser) unknownWord(w string, known []string, what string) {
	write := "start the line with one of: " + joinWords(known)
	if near := finding.Nearest(w, known); near != "" {
		write = "did you mean " + near + "?"
	}
	p.failAt(p.here().Span(), write, "%s is not the start of %s", shorten(w), what)
}

// otherMembers are words by which members are looked for, with what stands for them here.
var otherMembers = map[string]string{
	"var": "write holds: what changes is a cell", "let": "write holds: what changes is a cell", "state": "write holds: what changes is a cell",
	"function": "write action name() { ... }", "func": "write action name() { ... }", "method": "write action name() { ... }",
	"event": "write emits name(value: string)", "input": "write takes name: string", "param": "write takes name: string",
	"watch": "write follows name { ... }", "effect": "write follows name { ... }", "async": "write action; what comes later comes from a service: ask kiln-log.load() { got(x) -> ... }",
	"props": "write takes name: string", "prop": "write takes name: string", "computed": "write derives name = ...", "provides": "write supplies", "injects": "write uses",
	"mount": "write on mount { ... }", "mounted": "write on mount { ... }", "onMount": "write on mount { ... }",
	"unmount": "write on unmount { ... }", "unmounted": "write on unmount { ... }", "onUnmount": "write on unmount { ... }",
	"every": "write timer tick every 1000 { ... }, and start tick where it begins", "after": "write timer later after 1000 { ... }, and start later where it begins",
	"slot": "a slot stands in the view", "when": "it stands in the view", "each": "it stands in the view",
	"law": "write it at the top of the file, beside the components", "scenario": "write it at the top of the file, beside the components",
	"start": "write it at the top of the file, beside the components", "type": "write it at the top of the file, beside the components",
	"service": "write it at the top of the file, beside the components", "channel": "write it at the top of the file, beside the components",
	"component": "write it at the top of the file, beside the components", "context": "write it at the top of the file, beside the components",
	"get": "write derives name = ...", "render": "write view { ... }", "template": "write view { ... }",
	"import":   "components of one folder see each other; of another: use \"../folder\" at the top of the file",
	"forwards": "write emits here, and event -> forward in the block of the node that reports it",
	"opens":    "remove it: a handler opens any component, open ask-unload { ... }",
}

func joinWords(words []string) string {
	out := ""
	for i, w := range words {
		if i > 0 {
			out += ", "
		}
		out += w
	}
	return out
}

func (p *parser) constDecl() *ConstDecl {
	start := p.pos()
	p.next()
	c := &ConstDecl{Name: p.ident("a name")}
	c.Type = p.optionalType()
	p.needs(c.Name, Assign, "= and the value")
	p.answersLater()
	c.Value = p.expr()
	c.At = p.since(start)
	return c
}

func (p *parser) needs(name *Word, k Kind, what string) {
	if !p.accept(k) {
		p.fail("write "+name.Text+" "+k.String()+" ...", "expected %s after %s, but here is %s", what, name.Text, p.found())
	}
}

func (p *parser) optionalType() Type {
	if p.accept(Colon) {
		return p.typ()
	}
	return nil
}

func (p *parser) typeDecl(start source.Pos) Decl {
	t := &TypeDecl{Name: p.ident("the type's name")}
	if at := t.Name.Stop; p.is(LBrace) && !p.nl() {
		p.instead(t.Name.Span(), "a type stands behind =", "write type "+t.Name.Text+" = { ... }").Mend("write =", source.Span{Start: at, End: at}, " =")
	} else {
		p.needs(t.Name, Assign, "= and the type")
	}
	t.Type = p.typ()
	p.strayType(t)
	t.At = p.since(start)
	return t
}

func (p *parser) derives(start source.Pos) *Derives {
	d := &Derives{Name: p.ident("a name")}
	if p.is(LParen) && !p.nl() {
		d.Call = true
		d.Params = p.params(true)
	}
	d.Type = p.optionalType()
	if at := p.here().Span(); p.is(FatArrow) && !p.nl() {
		p.instead(at, "what is worked out stands behind =", "write "+p.textOf(p.since(d.Name.Start).Span())+" = ...").Mend("write =", at, "=")
		p.next()
	} else {
		p.needs(d.Name, Assign, "= and what it is worked out from")
	}
	p.derivedByArrow(d)
	d.Value = p.expr()
	if p.is(Ident) && p.word() == "set" && p.peek(1) == Ident && p.peek(2) == LBrace {
		p.next()
		d.SetParam = p.ident("a name for the new value")
		d.Set = p.stmtBlock()
	}
	d.At = p.since(start)
	return d
}

// component adds itself before its members are read, so that a mistake at its
// end loses none of them.
func (p *parser) component(start source.Pos, context bool) {
	c := &Component{Context: context}
	if context {
		if c.Name = p.ident("the context's name"); strings.Contains(c.Name.Text, "-") {
			p.unhyphened(c.Name)
		}
	} else {
		c.Name = p.tag("the component's name")
	}
	c.At = p.since(start)
	p.add(c)
	p.strayInComponent(c)
	p.block(func() { c.Members = append(c.Members, p.member()) }, "member")
	c.At = p.since(start)
}

func (p *parser) renaming() *Renamed {
	r := &Renamed{Name: p.tag("a name of that folder")}
	p.expectWord("as", "after the name")
	r.As = p.tag("another name")
	r.At = p.since(r.Name.Start)
	return r
}

var memberWords = []string{"takes", "shares", "holds", "const", "derives", "emits", "offers", "action", "timer",
	"on", "follows", "supplies", "uses", "gathers", "hears", "view", "style"}

func (p *parser) member() Member {
	if !p.is(Ident) {
		p.failEntry("start the line with takes, holds, derives, emits, action or view", "a member")
	}
	start, w := p.pos(), p.word()
	if w == "const" {
		return p.constDecl()
	}
	p.next()
	switch w {
	case "takes", "shares", "holds":
		return p.cell(start, w)
	case "derives":
		return p.derives(start)
	case "emits":
		m := &Emits{Name: p.ident("the event's name")}
		if p.is(LParen) && !p.nl() {
			m.Params = p.params(true)
		}
		p.strayInEvent(m)
		m.At = p.since(start)
		return m
	case "offers":
		return p.offers(start)
	case "action":
		m := &Action{Name: p.ident("the action's name")}
		m.Params = p.actionParams(m.Name)
		if p.is(Colon) && !p.nl() {
			p.fail("write derives "+m.Name.Text+"(...) = ..., which gives one and changes nothing; or leave the type out", "an action gives no value")
		}
		m.Body = p.stmtBlock()
		m.At = p.since(start)
		return m
	case "style":
		return p.style(start)
	case "view":
		m := &View{}
		if p.is(String) || p.is(TemplateWhole) || p.is(TemplateHead) {
			p.fail("write view { "+p.word()+" }", "what a view shows stands in braces")
		}
		m.Body = p.viewBlock()
		m.At = p.since(start)
		return m
	}
	return p.livingMember(start, w)
}

func (p *parser) actionParams(name *Word) []*Param {
	if at := name.Stop; p.is(LBrace) && !p.nl() {
		p.instead(name.Span(), "what is called has parentheses", "write "+name.Text+"() { ... }").Mend("write ()", source.Span{Start: at, End: at}, "()")
		return nil
	}
	if p.is(Assign) && p.peek(1) == LParen {
		return p.givenByArrow(name)
	}
	if !p.is(LParen) {
		p.fail("write "+name.Text+"() { ... }", "expected ( after %s, but here is %s", name.Text, p.found())
	}
	return p.params(true)
}

// livingMember reads the members that have to do with time and with others.
func (p *parser) livingMember(start source.Pos, w string) Member {
	switch w {
	case "timer":
		return p.timer(start)
	case "on":
		m := &Hook{}
		if !p.isWord("mount") && !p.isWord("unmount") {
			if w := p.word(); w == "change" || w == "update" || w == "changed" {
				p.fail("write follows name { ... }, which runs when the value of name has changed", "on is of mount and unmount")
			}
			p.fail("write on mount { ... } or on unmount { ... }; when a value changes, follows name { ... }", "expected mount or unmount, but here is %s", p.found())
		}
		m.Unmount = p.word() == "unmount"
		p.next()
		if at := p.pos(); p.is(LParen) && p.peek(1) == RParen {
			p.next()
			p.next()
			p.instead(p.since(at).Span(), "nothing is handed to what is mounted", "leave the () out").Mend("leave them out", p.since(at).Span(), "")
		}
		m.Body = p.stmtBlock()
		m.At = p.since(start)
		return m
	case "follows":
		m := &Follows{Value: p.expr()}
		if p.is(Comma) {
			p.fail("write one for each, or follow a derived value: derives both = ...", "follows is of one value")
		}
		if p.acceptWord("from") {
			m.Old = p.ident("a name for the earlier value")
		}
		m.Body = p.stmtBlock()
		m.At = p.since(start)
		return m
	case "supplies":
		m := &Supplies{Context: p.ident("the context's name")}
		if p.is(Assign) && !p.nl() {
			p.fail("write context "+m.Context.Text+" { holds ... } beside the components, and supplies "+m.Context.Text+" here", "what is supplied is a context, which holds values")
		}
		m.As = p.optionalAs()
		m.Links, m.Braces = p.links()
		m.At = p.since(start)
		return m
	case "uses":
		m := &Uses{Context: p.ident("the context's name")}
		m.Optional = !p.nl() && p.accept(Question)
		m.As = p.optionalAs()
		m.Links, m.Braces = p.links()
		m.At = p.since(start)
		return m
	case "gathers":
		m := &Gathers{Kinds: []*Word{p.tag("a component's name")}}
		for p.accept(Comma) {
			m.Kinds = append(m.Kinds, p.tag("a component's name"))
		}
		m.As = p.optionalAs()
		m.At = p.since(start)
		return m
	case "hears":
		m := &Hears{Channel: p.ident("the channel's name")}
		if p.is(LParen) && !p.nl() {
			m.Params = p.params(false)
		}
		m.Body = p.stmtBlock()
		m.At = p.since(start)
		return m
	}
	if as := asMember[w]; as != "" && p.is(Ident) && !p.nl() {
		at := source.Span{Start: start, End: start + source.Pos(len(w))}
		p.instead(at, w+" is not the start of a member", otherMembers[w]).Mend("write "+as, at, as)
		switch as {
		case "takes", "holds":
			return p.cell(start, as)
		case "derives":
			return p.derives(start)
		}
	}
	p.at--
	if write := otherMembers[w]; write != "" {
		p.failAt(p.here().Span(), write, "%s is not the start of a member", w)
	}
	p.unknownWord(w, memberWords, "a member")
	return nil
}

func (p *parser) optionalAs() *Word {
	if p.acceptWord("as") {
		return p.ident("a name")
	}
	return nil
}

// cell reads takes, shares and holds.
func (p *parser) cell(start source.Pos, kind string) Member {
	c := &Cell{Kind: kind}
	if kind == "holds" && p.isWord("aside") && p.peek(1) == Ident && p.sameLine(1) && p.text(p.tokens[p.at+1]) != "from" {
		p.next()
		c.Aside = true
	}
	c.Name = p.ident("the cell's name")
	p.strayInCell(c.Name, kind)
	c.Type = p.optionalType()
	if p.accept(Assign) {
		c.Value = p.expr()
	} else if kind == "holds" && p.acceptWord("from") {
		c.From = p.expr()
	}
	if kind == "shares" && p.acceptWord("field") {
		c.Field = true
	} else if p.isWord("field") {
		word := source.Span{Start: start, End: start + source.Pos(len(kind))}
		p.instead(p.here().Span(), "the value of a form control is one that it shares", "write shares "+c.Name.Text).Mend("write shares", word, "shares")
		p.next()
	}
	c.At = p.since(start)
	if kind == "takes" && c.Type == nil {
		write := "write takes " + c.Name.Text + ": string, or another type"
		if c.Name.Text == "children" || c.Name.Text == "content" {
			write = "what a user writes in its block is shown where its view says slot; for a value " + write
		}
		p.instead(c.Name.Span(), "the type of "+c.Name.Text+" is missing", write)
	}
	if kind != "takes" && c.Value == nil && c.From == nil {
		typed := ""
		if c.Type != nil {
			typed = ": " + p.textOf(c.Type.Span())
		}
		p.failAt(c.Name.Span(), "write "+kind+" "+c.Name.Text+typed+" = "+firstOf(c.Type), "%s has no first value", c.Name.Text)
	}
	return c
}

// firstOf is a first value that a type allows, as far as its text tells.
func firstOf(t Type) string {
	switch t := t.(type) {
	case *NullableType:
		return "null"
	case *ListType:
		return "[]"
	case *NamedType:
		switch t.Name {
		case "string":
			return `""`
		case "number":
			return "0"
		case "boolean":
			return "false"
		}
	}
	return "..."
}

func (p *parser) offers(start source.Pos) Member {
	m := &Offers{Name: p.ident("a name")}
	if p.is(LParen) && !p.nl() {
		open := p.pos()
		m.Params = p.params(true)
		if at := p.since(open).Span(); p.lineEnds() {
			p.instead(at, "what is offered by its name alone has no parentheses", "write offers "+m.Name.Text+"; what is a method of its own has a block: offers "+m.Name.Text+"() { ... }").
				Mend("leave them out", at, "")
		} else {
			m.Body = p.stmtBlock()
		}
	} else {
		for p.accept(Comma) {
			m.More = append(m.More, p.ident("a name"))
		}
	}
	m.At = p.since(start)
	return m
}

func (p *parser) timer(start source.Pos) Member {
	if w := p.word(); (w == "every" || w == "after") && p.peek(1) == Number {
		p.fail("write timer tick "+w+" ... { ... }, and start tick", "a timer has a name, by which it is started and stopped")
	}
	m := &Timer{Name: p.ident("the timer's name")}
	if p.is(LParen) && p.peek(1) == Number {
		p.fail("write timer "+m.Name.Text+" after "+p.text(p.tokens[p.at+1])+" { ... }, or every", "the time of a timer stands behind after or every")
	}
	if p.is(LParen) && !p.nl() {
		m.Params = p.params(true)
	}
	m.Every = p.isWord("every")
	if !m.Every && !p.isWord("after") {
		p.fail("write timer "+m.Name.Text+" after 1000 { ... }, or every", "expected after or every, but here is %s", p.found())
	}
	p.next()
	m.Delay = p.expr()
	p.unitBehind(m.Delay, map[bool]string{false: "after", true: "every"}[m.Every])
	m.Body = p.stmtBlock()
	m.At = p.since(start)
	return m
}

func (p *parser) service(start source.Pos) {
	s := &Service{Name: p.tag("the service's name")}
	p.add(s)
	if p.acceptWord("at") {
		s.Base = p.textLit("where it is, such as \"/api\"")
	}
	p.block(func() { s.Operations = append(s.Operations, p.operation()) }, "operation")
	s.At = p.since(start)
}

// operation reads load(): Ware[] by GET "/wares" replies e after n fails "why".
func (p *parser) operation() *Operation {
	start := p.pos()
	if !p.is(Ident) {
		p.failEntry("write name(): string replies \"...\"", "an operation's name")
	}
	p.methodFirst()
	o := &Operation{Name: &Word{p.here(), p.word()}}
	p.next()
	o.Params = p.actionParams(o.Name)
	o.Result = p.optionalType()
	p.strayOperation(o)
	for p.is(Ident) && p.peek(1) != LParen && !p.methodBegins() {
		w := p.word()
		p.next()
		switch w {
		case "by":
			o.Method = p.ident("GET, POST, PUT, PATCH or DELETE")
			o.Address = p.textLit("the address, such as \"/wares/{id}\"")
		case "replies":
			o.Replies = p.expr()
		case "after":
			o.After = p.expr()
			p.unitBehind(o.After, "after")
		case "fails":
			o.Fails = p.exprs()
		default:
			p.at--
			p.byMethod(w)
			p.unknownWord(w, []string{"by", "replies", "after", "fails"}, "a part of an operation")
		}
	}
	o.At = p.since(start)
	return o
}

func (p *parser) start(at source.Pos) Decl {
	s := &Start{}
	if p.is(String) {
		s.Name = p.textLit("the start's name")
		if p.is(LBrace) && !p.nl() {
			p.fail("write start "+p.textOf(s.Name.Span())+" kiln-page { ... }, with the component that it shows", "a start says which component it mounts")
		}
	}
	s.Component = p.tag("a component's name")
	p.strayInStart(s)
	s.Links, s.Braces = p.links()
	s.At = p.since(at)
	return s
}

var clauseWords = []string{"always", "never", "can", "turn", "settles", "leads", "stays", "ends", "keeps", "samples", "within", "screen"}

func (p *parser) law(start source.Pos) {
	l := &Law{Name: p.textLit("what the law says")}
	if p.acceptWord("on") {
		l.On = p.textLit("a start's name")
	}
	p.strayInLaw(l.Name)
	l.At = p.since(start)
	p.add(l)
	p.block(func() { l.Clauses = append(l.Clauses, p.clause()) }, "clause")
	l.At = p.since(start)
}

func (p *parser) clause() *Clause {
	start := p.pos()
	c := &Clause{}
	if !p.is(Ident) {
		p.failEntry("write always, never, can, turn, settles, leads, stays or ends, and a condition; or keeps focus", "a clause")
	}
	c.Kind = p.word()
	known := false
	for _, w := range clauseWords {
		known = known || w == c.Kind
	}
	if !known {
		p.unknownClause(c.Kind)
	}
	p.next()
	if c.Kind == "keeps" {
		p.expectWord("focus", "after keeps")
		c.At = p.since(start)
		return c
	}
	if c.Kind == "samples" {
		c.Target = p.target()
		if p.nl() {
			p.fail(`write them on the same line: samples textbox "Code" ["a", "b"]`, "expected what is typed into the field, but here is the end of the line")
		}
	}
	c.Value = p.condition()
	p.implied(c)
	switch c.Kind {
	case "leads":
		p.expectWord("to", "before what it leads to")
		c.To = p.expr()
		if !p.nl() && p.acceptWord("within") {
			c.Ms = p.expr()
			p.unitBehind(c.Ms, "within")
		}
	case "stays":
		if !p.nl() && p.acceptWord("for") {
			c.Ms = p.expr()
			p.unitBehind(c.Ms, "for")
		}
		if !p.nl() && p.acceptWord("until") {
			c.To = p.expr()
		}
	}
	c.At = p.since(start)
	return c
}
