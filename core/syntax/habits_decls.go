package syntax

import (
	"strings"

	"lien/core/finding"
	"lien/core/source"
)

// What people write at the top of a file, and in services, as other languages have it.

// inComponent is told of members that stand at the top of a file.
const inComponent = "it stands in a component, or a context: component name-part { ... }"

// otherDecls are words by which declarations are looked for, with what stands for them here.
var otherDecls = map[string]string{
	"interface": "write type Name = { id: string }", "struct": "write type Name = { id: string }", "enum": `write type Name = "a" | "b"`,
	"class": "write component name-part { ... }", "page": "write component name-part { ... }",
	"store": "write context name { holds ... }", "provider": "write context name { holds ... }", "model": "write context name { holds ... }",
	"let": "write const; what changes is held in a component or context: holds x = ...", "var": "write const; what changes is held in a component or context: holds x = ...",
	"function": "write derives name(n: number) = ...", "func": "write derives name(n: number) = ...", "def": "write derives name(n: number) = ...",
	"import": "the files of one folder see each other; of another folder write use \"../folder\"", "include": "the files of one folder see each other; of another folder write use \"../folder\"",
	"export": "leave it out: the files of one folder see each other",
	"test":   "write scenario \"...\" { ... }", "it": "write scenario \"...\" { ... }", "describe": "write scenario \"...\" { ... }", "given": "write scenario \"...\" { ... }",
	"invariant": "write law \"...\" { always ... }", "rule": "write law \"...\" { always ... }", "assert": "write law \"...\" { always ... }",
	"mount": "write start name-part", "render": "write start name-part", "main": "write start name-part", "app": "write start name-part",
	"event": "write channel name(text: string), or emits in a component", "api": "write service name { ... }",
	"holds": inComponent, "takes": inComponent, "shares": inComponent, "emits": inComponent, "action": inComponent, "timer": inComponent,
	"view": inComponent, "supplies": inComponent, "uses": inComponent, "hears": inComponent, "follows": inComponent, "state": inComponent,
}

// unknownDecl reports a word that begins no declaration.
func (p *parser) unknownDecl(w string) {
	if write := otherDecls[w]; write != "" {
		p.failAt(p.here().Span(), write, "%s is not the start of a declaration", w)
	}
	p.unknownWord(w, declWords, "a declaration")
}

// strayInComponent reads what a component takes in parentheses, and reports what else stands between its name and its block.
func (p *parser) strayInComponent(c *Component) {
	switch {
	case p.nl() || p.is(LBrace):
	case p.is(LParen):
		at, write := p.here().Span(), ""
		for _, a := range p.params(true) {
			t := p.textOf(a.Span())
			c.Members = append(c.Members, &Cell{At: a.At, Kind: "takes", Name: a.Name, Type: a.Type})
			write += "\n  takes " + t
		}
		at.End = p.end()
		f := p.instead(at, "what "+c.Name.Text+" takes stands in its block", "write"+strings.ReplaceAll(write, "\n  ", " ")+" in its block")
		if write == "" {
			f.Instead("leave the () out")
		}
		if open := p.here(); p.is(LBrace) {
			f.Mend("write it in the block", at, "")
			f.Fix.Edits = append(f.Fix.Edits, finding.Edit{Span: source.Span{Start: open.Stop, End: open.Stop}, Text: write})
		}
	case p.isWord("extends"), p.isWord("implements"), p.isWord("inherits"), p.isWord("from"):
		p.fail("use the other one in its view, or uses of a context in its block", "a component is made of others, and extends none")
	}
}

// strayInChannel reads what a channel carries without parentheses, and reports a block of one.
func (p *parser) strayInChannel(c *Channel) {
	name := c.Name
	switch {
	case p.nl():
	case p.is(Colon):
		at := p.here()
		p.next()
		t := p.typ()
		c.Params = []*Param{{At: At{at.Start, p.end()}, Name: &Word{at, "text"}, Type: t}}
		p.instead(p.since(name.Start).Span(), "what a channel brings stands in parentheses, with a name", "write channel "+name.Text+"(text: "+p.textOf(t.Span())+")")
	case p.is(LBrace):
		p.fail("leave the block out; in the component that hears it write hears "+name.Text+"(...) { ... }", "a channel does nothing itself")
	}
}

// strayInStart reports the name of a start that stands elsewhere than before its component.
func (p *parser) strayInStart(s *Start) {
	at := p.here().Span()
	name, component := "", s.Component.Text
	switch {
	case p.nl() || s.Name != nil:
		return
	case p.is(Colon) || p.is(Assign):
		if p.next(); !p.is(Ident) {
			return
		}
		name, component = component, p.hyphened()
	case p.isWord("as"):
		p.next()
		name = p.word()
	case p.is(Ident):
		name = p.word()
	default:
		return
	}
	p.failAt(at, `write start "`+strings.Trim(name, `"`)+`" `+component, "the name of a start is a text before its component")
}

// strayOperation reports what other languages write of a service's operation.
func (p *parser) strayOperation(o *Operation) {
	if at := p.here().Span(); (p.is(Up) || p.is(FatArrow)) && !p.nl() {
		p.instead(at, "what is answered has its type behind a colon", "write "+o.Name.Text+"(...): ...").Mend("write :", at, ":")
		p.next()
		o.Result = p.typ()
	}
	if p.is(LBrace) && !p.nl() {
		at := p.pos()
		write := "write replies ..., with the value that the stand-in answers"
		if p.next(); p.acceptWord("return") && !p.lineEnds() {
			write = "write replies " + p.textOf(p.expr().Span())
		}
		for !p.is(RBrace) && !p.is(EOF) {
			p.next()
		}
		p.accept(RBrace)
		p.failAt(p.since(at).Span(), write, "what an operation answers stands behind replies")
	}
}

// byMethod reports a method that stands without by.
func (p *parser) byMethod(w string) {
	at := p.here().Span()
	if w == "at" && p.peek(1) == Ident {
		p.failAt(at, "write by", "how an operation is asked stands behind by")
	}
	if isMethod(w) {
		p.failAt(at, "write by "+strings.ToUpper(w), "how an operation is asked stands behind by")
	}
}

// methodBegins says whether an operation begins here with its method: get load().
func (p *parser) methodBegins() bool {
	return isMethod(p.word()) && p.peek(1) == Ident && p.sameLine(1) && p.peek(2) == LParen
}

func isMethod(w string) bool {
	switch strings.ToUpper(w) {
	case "GET", "POST", "PUT", "PATCH", "DELETE":
		return true
	}
	return false
}

// methodFirst reports get load(): ..., where the method stands first.
func (p *parser) methodFirst() {
	if p.methodBegins() {
		p.fail("write "+p.text(p.tokens[p.at+1])+"(...): ... by "+strings.ToUpper(p.word())+" \"/...\"", "how an operation is asked stands behind it")
	}
}

// strayType reports unions and lists as other languages write them.
func (p *parser) strayType(t *TypeDecl) {
	_, literal := t.Type.(*LiteralType)
	switch named, _ := t.Type.(*NamedType); {
	case p.nl():
	case named != nil && named.Name == "enum" && p.is(LBrace):
		p.fail(`write "a" | "b"`, "a type of few values is the values themselves")
	case p.isWord("or"), literal && p.is(Comma):
		p.fail("write | between", "what may be one or the other is joined by |")
	}
}
