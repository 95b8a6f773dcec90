package syntax

import (
	"strings"

	"lien/core/source"
)

func (p *printer) linkBlock(list []Item, braces bool, end source.Pos) {
	if braces {
		p.write(" ")
		entries(p, list, end-1, p.item)
	}
}

func (p *printer) item(n Item) {
	switch n := n.(type) {
	case *Element:
		p.element(n)
	case *TextItem:
		p.expr(n.Value)
	case *When:
		p.when(n)
	case *Each:
		p.write("each " + n.Var.Text)
		if n.Index != nil {
			p.write(" at " + n.Index.Text)
		}
		p.write(" in ")
		p.expr(n.List)
		if n.By != nil {
			p.write(" by ")
			p.expr(n.By)
		}
		p.write(" ")
		entries(p, n.Body, n.Stop-1, p.item)
	case *Slot:
		p.slot(n)
	case *Fill:
		p.write("fill " + n.Name.Text)
		p.params(n.Params, false, n.Stop)
		p.write(" ")
		entries(p, n.Body, n.Stop-1, p.item)
	case *Link:
		if n.Class {
			p.write(".")
		}
		p.write(n.Name.Text)
		p.arrow()
		p.write(n.Op.String() + " ")
		p.expr(n.Value)
	case *Event:
		p.write(n.Name.Text)
		if n.Call {
			p.params(n.Params, true, n.Do.Span().Start)
		}
		p.arrow()
		p.write("-> ")
		p.before(n.Do.Span().Start)
		p.stmt(n.Do)
	case *Clause:
		p.clause(n)
	}
}

// arrow marks the place of a link's arrow, which lines up with its neighbours'.
func (p *printer) arrow() {
	p.write(" ")
	if !p.inline {
		p.marks = append(p.marks, mark{len(p.out), false})
	}
}

func (p *printer) element(n *Element) {
	p.write(n.Name.Text)
	for _, c := range n.Classes {
		p.write("." + c.Text)
	}
	if n.Named != nil {
		p.write(" named " + n.Named.Text)
	}
	if n.Text != nil {
		p.write(" ")
		p.expr(n.Text)
	}
	p.linkBlock(n.Body, n.Braces, n.Stop)
}

func (p *printer) when(n *When) {
	p.write("when ")
	p.expr(n.Cond)
	p.write(" ")
	entries(p, n.Body, n.BodyEnd, p.item)
	if !n.HasElse {
		return
	}
	p.elseWord(n.Cond.Span().End, n.BodyEnd+1)
	if len(n.Else) == 1 {
		if w, ok := n.Else[0].(*When); ok && w.Stop == n.Stop {
			p.when(w)
			return
		}
	}
	entries(p, n.Else, n.Stop-1, p.item)
}

// elseWord writes the else between two blocks: on a line of its own where the first block stands on
// one line, from start to end, and the author wrote one branch a line.
func (p *printer) elseWord(start, end source.Pos) {
	rest := p.src.Slice(end, p.src.Pos(len(p.src.Text)))
	below := strings.Contains(rest[:len(rest)-len(strings.TrimLeft(rest, " \t\r\n"))], "\n")
	if p.inline || !below || p.lineOf(start) != p.lineOf(end-1) {
		p.write(" else ")
		return
	}
	p.newline()
	p.write("else ")
}

func (p *printer) slot(n *Slot) {
	p.write("slot")
	if n.Name != nil {
		p.write(" " + n.Name.Text)
	}
	if n.Call {
		list := n.Links
		open, shut := n.Stop, n.Stop
		if len(list) > 0 {
			open, shut = p.bracket(list[0].Span().Start), list[len(list)-1].Span().End
		}
		p.group("(", ")", open, shut, len(list), func(i int) source.Span { return list[i].Span() }, func(i int) {
			l := list[i].(*Link)
			p.write(l.Name.Text + " <- ")
			p.expr(l.Value)
		}, false)
	}
	p.linkBlock(n.Body, n.Braces, n.Stop)
}

func (p *printer) block(b *Block) {
	p.before(b.Start)
	entries(p, b.Stmts, b.Stop-1, p.stmt)
}

func (p *printer) stmt(s Stmt) {
	switch s := s.(type) {
	case *Block:
		p.block(s)
	case *AssignStmt:
		p.expr(s.Target)
		p.write(" " + s.Op.String() + " ")
		p.expr(s.Value)
	case *ConstDecl:
		p.constDecl(s)
	case *If:
		p.ifStmt(s)
	case *For:
		p.write("for (" + s.Var.Text + " of ")
		p.expr(s.List)
		p.write(") ")
		p.before(s.Body.Span().Start)
		p.stmt(s.Body)
	case *Return:
		p.write("return")
	case *CallStmt:
		p.expr(s.Call)
	case *Pass:
		p.expr(s.Target)
	case *Forward:
		p.write("forward")
		if s.Name != nil {
			p.write(" " + s.Name.Text)
		}
	default:
		p.verbStmt(s)
	}
}

func (p *printer) verbStmt(s Stmt) {
	switch s := s.(type) {
	case *Emit:
		p.write("emit " + s.Name.Text)
		p.args(s.Args, s.Stop)
	case *Send:
		p.write("send " + s.Channel.Text)
		p.args(s.Args, s.Stop)
	case *TimerStmt:
		if s.Stop {
			p.write("stop " + s.Name.Text)
		} else {
			p.write("start " + s.Name.Text)
		}
		if s.Call {
			p.args(s.Args, s.At.Stop)
		}
	case *Open:
		p.write("open ")
		if s.Modal {
			p.write("modal ")
		}
		p.write(s.Component.Text)
		p.linkBlock(s.Links, s.Braces, s.Stop)
	case *Leave:
		p.write("leave")
		if s.Event != nil {
			p.write(" " + s.Event.Text)
			p.args(s.Args, s.Stop)
		}
	case *Ask:
		p.write("ask " + s.Service.Text + "." + s.Name.Text)
		p.args(s.Args, s.Stop)
		p.linkBlock(s.Outcomes, s.Braces, s.Stop)
	case *Log:
		p.write("log ")
		p.exprs(s.Args)
	}
}

func (p *printer) ifStmt(s *If) {
	p.write("if (")
	p.expr(s.Cond)
	p.write(") ")
	p.before(s.Then.Span().Start)
	p.stmt(s.Then)
	if s.Else == nil {
		return
	}
	switch _, block := s.Then.(*Block); {
	case block:
		p.elseWord(s.Cond.Span().End, s.Then.Span().End)
	case p.lineOf(s.Then.Span().End) == p.lineOf(s.Else.Span().Start) || p.inline:
		p.write(" else ")
	default:
		p.newline()
		p.write("else ")
	}
	p.before(s.Else.Span().Start)
	p.stmt(s.Else)
}

func (p *printer) exprs(list []Expr) {
	for i, e := range list {
		if i > 0 {
			p.write(", ")
		}
		p.expr(e)
	}
}

// args writes (a, b); end is where the call ends.
func (p *printer) args(list []Expr, end source.Pos) {
	open := end
	if len(list) > 0 {
		open = p.bracket(list[0].Span().Start)
		end = max(end, list[len(list)-1].Span().End+1)
	}
	p.group("(", ")", open, end-1, len(list), func(i int) source.Span { return list[i].Span() }, func(i int) { p.expr(list[i]) }, false)
}

func (p *printer) expr(e Expr) {
	p.before(e.Span().Start)
	switch e := e.(type) {
	case *Name:
		p.write(e.Text)
	case *NumberLit, *TextLit:
		p.write(p.src.Slice(e.Span().Start, e.Span().End))
	case *Template:
		p.template(e)
	case *ListLit:
		p.group("[", "]", e.Start, e.Stop-1, len(e.Items), func(i int) source.Span { return e.Items[i].Span() },
			func(i int) { p.expr(e.Items[i]) }, false)
	case *SpreadExpr:
		p.write("...")
		p.expr(e.X)
	case *RecordLit:
		p.group("{", "}", e.Start, e.Stop-1, len(e.Fields), func(i int) source.Span { return e.Fields[i].Span() },
			func(i int) { p.fieldLit(e.Fields[i]) }, true)
	case *Unary:
		p.write(e.Op.String())
		if u, ok := e.X.(*Unary); ok && u.Op == Minus && e.Op == Minus {
			p.write(" ")
		}
		p.expr(e.X)
	case *Paren:
		p.write("(")
		p.expr(e.X)
		p.before(e.Stop - 1)
		p.write(")")
	default:
		p.compound(e)
	}
}

func (p *printer) fieldLit(f *FieldLit) {
	if f.Name == nil {
		p.write("...")
		p.expr(f.Value)
		return
	}
	p.write(f.Name.Text)
	if f.Value != nil {
		p.write(": ")
		p.expr(f.Value)
	}
}

// compound writes the expressions that may go on over several lines.
func (p *printer) compound(e Expr) {
	switch e := e.(type) {
	case *Binary:
		p.expr(e.X)
		p.joint(e.X.Span().End, e.Y.Span().Start, " "+e.Op.String()+" ", func() { p.expr(e.Y) })
	case *Cond:
		p.expr(e.C)
		p.joint(e.C.Span().End, e.X.Span().Start, " ? ", func() { p.expr(e.X) })
		p.joint(e.X.Span().End, e.Y.Span().Start, " : ", func() { p.expr(e.Y) })
	case *Dotted:
		p.expr(e.X)
		p.before(e.Name.Start)
		dot := "."
		if e.Optional {
			dot = "?."
		}
		p.joint(e.X.Span().End, e.Name.Start, dot, func() { p.write(e.Name.Text) })
	case *Index:
		p.expr(e.X)
		if e.Optional {
			p.write("?.")
		}
		p.write("[")
		p.expr(e.I)
		p.write("]")
	case *Call:
		p.expr(e.Fun)
		p.args(e.Args, e.Stop)
	case *Arrow:
		if e.Parens {
			p.params(e.Params, true, e.Stop)
		} else {
			p.write(e.Params[0].Name.Text)
		}
		p.write(" => ")
		p.expr(e.Body)
	}
}

// joint writes an operator and what follows it, on a new line where the
// source breaks there.
func (p *printer) joint(end, start source.Pos, op string, rest func()) {
	if p.lineOf(end) == p.lineOf(start) || p.inline {
		p.write(op)
		rest()
		return
	}
	if p.broken {
		p.write(trimLeft(op))
		rest()
		return
	}
	p.indent++
	p.newline()
	p.write(trimLeft(op))
	rest()
	p.indent--
}

func trimLeft(op string) string {
	if op[0] == ' ' {
		return op[1:]
	}
	return op
}

func (p *printer) template(t *Template) {
	p.write("`")
	for i, text := range t.Texts {
		p.out = append(p.out, text...)
		if i < len(t.Exprs) {
			p.out = append(p.out, "${"...)
			p.expr(t.Exprs[i])
			p.out = append(p.out, '}')
		}
	}
	p.out = append(p.out, '`')
}

func (p *printer) typ(t Type) {
	p.before(t.Span().Start)
	switch t := t.(type) {
	case *NamedType:
		p.write(t.Name)
	case *LiteralType:
		p.expr(t.Value)
	case *UnionType:
		for i, m := range t.Members {
			if i == 0 {
				p.typ(m)
				continue
			}
			p.joint(t.Members[i-1].Span().End, m.Span().Start, " | ", func() { p.typ(m) })
		}
	case *ListType:
		p.typ(t.Elem)
		p.write("[]")
	case *NullableType:
		p.typ(t.Elem)
		p.write("?")
	case *RecordType:
		p.group("{", "}", t.Start, t.Stop-1, len(t.Fields), func(i int) source.Span { return t.Fields[i].Span() },
			func(i int) { p.param(t.Fields[i]) }, true)
	case *FuncType:
		p.params(t.Params, true, t.Stop)
		p.write(" => ")
		p.typ(t.Result)
	case *ParenType:
		p.write("(")
		p.typ(t.Elem)
		p.write(")")
	}
}
