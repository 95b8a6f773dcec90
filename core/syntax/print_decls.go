package syntax

import (
	"strings"

	"lien/core/source"
)

// decls writes the whole file.
func (p *printer) decls() {
	list := p.file.Decls
	end := p.src.Pos(len(p.src.Text))
	for i, d := range list {
		force := i > 0 && (isTall(d) || isTall(list[i-1]))
		p.separate(d.Span().Start, i == 0, force)
		p.decl(d)
		next := end
		if i+1 < len(list) {
			next = list[i+1].Span().Start
		}
		p.done(d.Span().End, next)
	}
	p.tail(end, len(list) == 0)
}

// isTall says whether a declaration always has lines of its own around it.
func isTall(d Decl) bool {
	switch d := d.(type) {
	case *Component, *Service, *Law, *Scenario:
		return true
	case *Style:
		return d.File == nil
	}
	return false
}

func (p *printer) decl(d Decl) {
	switch d := d.(type) {
	case *Use:
		p.write("use " + p.textOf(d.Path))
		for i, as := range d.As {
			p.write([]string{" with ", ", "}[min(i, 1)] + as.Name.Text + " as " + as.As.Text)
		}
	case *TypeDecl:
		p.write("type " + d.Name.Text + " = ")
		p.typ(d.Type)
	case *ConstDecl:
		p.constDecl(d)
	case *Derives:
		p.derives(d)
	case *Component:
		if d.Context {
			p.write("context " + d.Name.Text + " ")
		} else {
			p.write("component " + d.Name.Text + " ")
		}
		tall(p, d.Members, d.Stop-1, p.member)
	case *Style:
		p.style(d)
	case *Channel:
		p.write("channel " + d.Name.Text)
		p.params(d.Params, true, d.Stop)
	case *Service:
		p.write("service " + d.Name.Text + " ")
		if d.Base != nil {
			p.write("at " + p.textOf(d.Base) + " ")
		}
		tall(p, d.Operations, d.Stop-1, p.operation)
	case *Start:
		p.write("start ")
		if d.Name != nil {
			p.write(p.textOf(d.Name) + " ")
		}
		p.write(d.Component.Text)
		p.linkBlock(d.Links, d.Braces, d.Stop)
	case *Law:
		p.write("law " + p.textOf(d.Name) + " ")
		if d.On != nil {
			p.write("on " + p.textOf(d.On) + " ")
		}
		entries(p, d.Clauses, d.Stop-1, p.clause)
	case *Scenario:
		p.write("scenario " + p.textOf(d.Name) + " ")
		entries(p, d.Steps, d.Stop-1, p.step)
	}
}

// style writes CSS: one declaration a line, as written otherwise.
func (p *printer) style(s *Style) {
	if s.File != nil {
		p.write("style file(" + p.textOf(s.File) + ")")
		return
	}
	lines := s.Sheet.Format()
	if len(lines) == 0 {
		p.write("style {}")
		return
	}
	if len(lines) == 1 && p.lineOf(s.Start) == p.lineOf(s.Stop-1) {
		p.write("style { " + lines[0] + " }")
		return
	}
	p.write("style {")
	p.indent++
	for _, l := range strings.Split(strings.Join(lines, "\n"), "\n") {
		p.newline()
		p.out = append(p.out, l...)
	}
	p.indent--
	p.newline()
	p.write("}")
	p.line = p.lineOf(s.Stop)
}

// tall writes a block that is never on one line, unless it is empty.
func tall[N Node](p *printer, list []N, shut source.Pos, entry func(N)) {
	if len(list) == 0 {
		entries(p, list, shut, entry)
		return
	}
	p.write("{")
	p.indent++
	p.line = p.lineOf(p.openLine(list[0].Span().Start))
	for i, n := range list {
		p.separate(n.Span().Start, i == 0, false)
		entry(n)
		next := shut
		if i+1 < len(list) {
			next = list[i+1].Span().Start
		}
		p.done(n.Span().End, next)
	}
	p.tail(shut, false)
	p.indent--
	p.newline()
	p.broken = false
	p.write("}")
	p.line = p.lineOf(shut)
}

func (p *printer) textOf(t *Text) string {
	p.before(t.Start)
	return p.src.Slice(t.Start, t.Stop)
}

func (p *printer) constDecl(d *ConstDecl) {
	p.write("const " + d.Name.Text)
	p.optionalType(d.Type)
	p.write(" = ")
	p.expr(d.Value)
}

func (p *printer) optionalType(t Type) {
	if t != nil {
		p.write(": ")
		p.typ(t)
	}
}

func (p *printer) derives(d *Derives) {
	p.write("derives " + d.Name.Text)
	if d.Call {
		p.params(d.Params, true, d.Stop)
	}
	p.optionalType(d.Type)
	p.write(" = ")
	p.expr(d.Value)
	if d.Set == nil {
		return
	}
	if p.lineOf(d.Value.Span().End) < p.lineOf(d.SetParam.Start) && !p.inline {
		p.indent++
		p.newline()
		p.indent--
		p.before(d.SetParam.Start)
		p.write("set " + d.SetParam.Text + " ")
	} else {
		p.before(d.SetParam.Start)
		p.write(" set " + d.SetParam.Text + " ")
	}
	p.block(d.Set)
}

// params writes (a: T, b?: T); nothing for no parameters of a declaration
// that can be written without.
func (p *printer) params(list []*Param, always bool, end source.Pos) {
	if len(list) == 0 && !always {
		return
	}
	open, shut := end, end
	if len(list) > 0 {
		open, shut = p.bracket(list[0].Start), list[len(list)-1].Stop
	}
	p.group("(", ")", open, shut, len(list), func(i int) source.Span { return list[i].Span() }, func(i int) { p.param(list[i]) }, false)
}

// bracket is a place on the line of the bracket that opens before pos.
func (p *printer) bracket(pos source.Pos) source.Pos {
	for i := p.src.Offset(pos) - 1; i >= 0; i-- {
		switch p.src.Text[i] {
		case '(', '[', '{':
			return p.src.Pos(i)
		}
	}
	return pos
}

func (p *printer) param(a *Param) {
	p.write(a.Name.Text)
	if a.Optional {
		p.write("?")
	}
	if a.Type != nil {
		p.write(": ")
		p.typ(a.Type)
	}
}

func (p *printer) member(m Member) {
	switch m := m.(type) {
	case *Style:
		p.style(m)
	case *Cell:
		p.cell(m)
	case *ConstDecl:
		p.constDecl(m)
	case *Derives:
		p.derives(m)
	case *Emits:
		p.write("emits " + m.Name.Text)
		p.params(m.Params, true, m.Stop)
	case *Offers:
		p.write("offers " + m.Name.Text)
		for _, w := range m.More {
			p.write(", " + w.Text)
		}
		if m.Body != nil {
			p.params(m.Params, true, m.Body.Start)
			p.write(" ")
			p.block(m.Body)
		}
	case *Action:
		p.write("action " + m.Name.Text)
		p.params(m.Params, true, m.Body.Start)
		p.write(" ")
		p.block(m.Body)
	case *Timer:
		p.timer(m)
	case *Hook:
		if m.Unmount {
			p.write("on unmount ")
		} else {
			p.write("on mount ")
		}
		p.block(m.Body)
	case *View:
		p.write("view ")
		entries(p, m.Body, m.Stop-1, p.item)
	default:
		p.sharingMember(m)
	}
}

// sharingMember writes the members that have to do with other components.
func (p *printer) sharingMember(m Member) {
	switch m := m.(type) {
	case *Follows:
		p.write("follows ")
		p.expr(m.Value)
		if m.Old != nil {
			p.write(" from " + m.Old.Text)
		}
		p.write(" ")
		p.block(m.Body)
	case *Supplies:
		p.write("supplies " + m.Context.Text)
		p.as(m.As)
		p.linkBlock(m.Links, m.Braces, m.Stop)
	case *Uses:
		p.write("uses " + m.Context.Text)
		if m.Optional {
			p.write("?")
		}
		p.as(m.As)
		p.linkBlock(m.Links, m.Braces, m.Stop)
	case *Gathers:
		p.write("gathers ")
		for i, k := range m.Kinds {
			if i > 0 {
				p.write(", ")
			}
			p.before(k.Start)
			p.write(k.Text)
		}
		p.as(m.As)
	case *Hears:
		p.write("hears " + m.Channel.Text)
		p.params(m.Params, false, m.Body.Start)
		p.write(" ")
		p.block(m.Body)
	}
}

func (p *printer) as(w *Word) {
	if w != nil {
		p.write(" as " + w.Text)
	}
}

func (p *printer) cell(c *Cell) {
	p.write(c.Kind + " ")
	if c.Aside {
		p.write("aside ")
	}
	p.write(c.Name.Text)
	p.optionalType(c.Type)
	switch {
	case c.From != nil:
		p.write(" from ")
		p.expr(c.From)
	case c.Value != nil:
		p.write(" = ")
		p.expr(c.Value)
	}
	if c.Field {
		p.write(" field")
	}
}

func (p *printer) timer(t *Timer) {
	p.write("timer " + t.Name.Text)
	p.params(t.Params, false, t.Delay.Span().Start)
	if t.Every {
		p.write(" every ")
	} else {
		p.write(" after ")
	}
	p.expr(t.Delay)
	p.write(" ")
	p.block(t.Body)
}

func (p *printer) operation(o *Operation) {
	p.write(o.Name.Text)
	p.params(o.Params, true, o.Stop)
	p.optionalType(o.Result)
	p.indent++
	at := o.Name.Stop
	part := func(word string, start, stop source.Pos) { // on a line of its own where the author wrote it so
		if p.lineOf(at) < p.lineOf(start) && !p.inline {
			p.newline()
			p.write(word + " ")
		} else {
			p.write(" " + word + " ")
		}
		at = stop
	}
	if o.Result != nil {
		at = o.Result.Span().End
	} else if n := len(o.Params); n > 0 {
		at = o.Params[n-1].Stop
	}
	if o.Method != nil {
		part("by", o.Method.Start, o.Address.Stop)
		p.write(o.Method.Text + " " + p.textOf(o.Address))
	}
	if o.Replies != nil {
		part("replies", o.Replies.Span().Start, o.Replies.Span().End)
		p.expr(o.Replies)
	}
	if o.After != nil {
		part("after", o.After.Span().Start, o.After.Span().End)
		p.expr(o.After)
	}
	if o.Fails != nil {
		part("fails", o.Fails[0].Span().Start, o.Fails[len(o.Fails)-1].Span().End)
		p.exprs(o.Fails)
	}
	p.indent--
}

func (p *printer) clause(c *Clause) {
	if c.Kind == "keeps" {
		p.write("keeps focus")
		return
	}
	p.write(c.Kind + " ")
	if c.Target != nil {
		p.target(c.Target)
		p.write(" ")
	}
	p.expr(c.Value)
	more := func(word string, x Expr) {
		if x != nil {
			p.write(" " + word + " ")
			p.expr(x)
		}
	}
	if c.Kind == "leads" {
		more("to", c.To)
		more("within", c.Ms)
		return
	}
	more("for", c.Ms)
	more("until", c.To)
}

func (p *printer) step(s *Step) {
	p.write(s.Verb)
	switch s.Verb {
	case "type", "paste":
		p.write(" " + p.textOf(s.Text) + " into ")
	case "choose":
		p.write(" " + p.textOf(s.Text) + " in ")
	case "key":
		p.write(" " + p.textOf(s.Text))
		if s.Target != nil {
			p.write(" on ")
		}
	case "blur":
	default:
		p.write(" ")
		if s.Text != nil && s.Service == nil {
			p.write(p.textOf(s.Text))
		}
	}
	if s.Outside && s.Verb != "drag" {
		p.write("outside")
		if s.Target != nil {
			p.write(" ")
		}
	}
	if s.Target != nil {
		p.target(s.Target)
	}
	p.stepRest(s)
}

func (p *printer) stepRest(s *Step) {
	if s.Twice {
		p.write(" twice")
	}
	if s.With != nil {
		p.write(" with " + p.textOf(s.With))
	}
	switch {
	case s.Onto != nil:
		p.write(" onto ")
		p.target(s.Onto)
	case s.Verb == "drag":
		p.write(" outside")
	}
	if s.Verb == "set" {
		p.write(" to ")
	}
	if s.Value != nil {
		p.expr(s.Value)
	}
	if s.Service != nil {
		p.write(s.Service.Text + ".")
	}
	if s.Name != nil {
		p.write(s.Name.Text)
	}
	if s.Call {
		p.args(s.Args, s.Stop)
	}
	if s.Nth != nil {
		p.write(" ")
		p.expr(s.Nth)
	}
	if s.Verb == "fail" && s.Text != nil {
		p.write(" with " + p.textOf(s.Text))
	}
	if s.Verb == "inside" {
		p.write(" ")
		entries(p, s.Steps, s.Stop-1, p.step)
	}
}

func (p *printer) target(t *Target) {
	if t.Class != nil {
		p.write(p.textOf(t.Class))
		return
	}
	if t.Count != nil {
		p.expr(t.Count)
		p.write(" ")
	}
	for _, s := range t.States {
		p.write(s + " ")
	}
	p.write(t.Role)
	if t.Component != nil {
		p.write(t.Component.Text)
	}
	nth := func() {
		if t.Nth != nil {
			p.write(" ")
			p.expr(t.Nth)
		}
	}
	if t.Component != nil {
		nth()
	}
	for i, part := range []struct {
		word string
		text *Text
	}{{"", t.Name}, {" holding", t.Holding}, {" containing", t.Containing}} {
		if part.text != nil {
			p.write(part.word + " " + p.textOf(part.text))
		}
		if i == 0 && t.Component == nil {
			nth()
		}
	}
	for i, h := range t.With {
		if !h.Class || i == 0 || !t.With[i-1].Class {
			p.write(" with ")
		}
		if h.Class {
			p.write(".")
		}
		p.write(h.Name.Text)
		if h.Value != nil {
			p.write(" " + p.textOf(h.Value))
		}
	}
	if t.In != nil {
		p.write(" in ")
		p.target(t.In)
	}
}
