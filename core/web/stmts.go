package web

import (
	"strings"

	"lien/core/design"
	"lien/core/types"
)

// body is a function of statements: (own, at, a, b) => { ... }.
func (c *code) body(b *design.Body) string {
	names := ""
	for _, p := range b.Params {
		names += ", " + local(p)
	}
	return "(own, at" + names + ") => " + c.block(b.Stmts)
}

// block are statements in braces.
func (c *code) block(list []design.Stmt) string {
	if len(list) == 0 {
		return "{}"
	}
	lines := make([]string, len(list))
	for i, s := range list {
		lines[i] = c.stmt(s)
	}
	return "{\n  " + indented(strings.Join(lines, "\n"), "  ") + "\n}"
}

func (c *code) stmt(s design.Stmt) string {
	switch s := s.(type) {
	case *design.Assign:
		return c.assign(s.Place, c.expr(s.Value)) + ";"
	case *design.Let:
		return "const " + local(s.Local) + " = " + c.expr(s.Value) + ";"
	case *design.If:
		text := "if (" + c.expr(s.Cond) + ") " + c.block(s.Then)
		if len(s.Else) > 0 {
			text += " else " + c.block(s.Else)
		}
		return text
	case *design.For:
		return "for (const " + local(s.Local) + " of " + c.expr(s.List) + ") " + c.block(s.Body)
	case *design.Return:
		return "return;"
	case *design.Emit:
		return "lien.emit(own, " + quoted(s.Event.Label) + after(c.exprs(s.Args)) + ");"
	case *design.Do:
		return c.do(s) + ";"
	case *design.Clock:
		name := map[bool]string{true: "stop", false: "start"}[s.Stop]
		return "lien." + name + "(own, " + quoted(s.Timer.Label) + after(c.exprs(s.Args)) + ");"
	case *design.Prevent:
		return "lien.prevent(" + map[bool]string{true: "true", false: ""}[s.Stop] + ");"
	case *design.Log:
		return "lien.log(" + strings.Join(c.exprs(s.Args), ", ") + ");"
	case *design.Send:
		return "lien.send(" + quoted(s.Channel.Name) + after(c.exprs(s.Args)) + ");"
	case *design.Ask:
		return c.ask(s)
	case *design.Open:
		return "lien.open(own, at, () => " + c.component(s.Use.Component) + ", " + c.given(s.Use, own) + map[bool]string{true: ", true", false: ""}[s.Modal] + ");"
	case *design.Leave:
		if s.Event == nil {
			return "lien.leave(own);"
		}
		return "lien.leave(own, " + quoted(s.Event.Label) + after(c.exprs(s.Args)) + ");"
	}
	panic("web: a statement of an unknown kind")
}

func (c *code) ask(s *design.Ask) string {
	outcome := func(o *design.Outcome) string {
		if o == nil {
			return "null"
		}
		name := ""
		if o.Param != nil {
			name = local(o.Param)
		}
		return "(" + name + ") => " + c.block(o.Stmts)
	}
	return "lien.ask(own, " + c.design(jsName(s.Operation.Service.Name)) + "." + s.Operation.Name + ", [" + strings.Join(c.exprs(s.Args), ", ") + "], " + outcome(s.Got) + ", " + outcome(s.Failed) + ");"
}

func (c *code) do(s *design.Do) string {
	args := c.exprs(s.Args)
	switch f := s.Fun.(type) {
	case *types.Ref:
		if m, ok := f.Symbol.(*design.Member); ok && m.Kind == design.Action {
			return "own." + m.Label + "(" + strings.Join(args, ", ") + ")"
		}
	case *types.Select:
		of := c.operand(f.X)
		switch m := f.Member.(type) {
		case *design.ElementMethod:
			return c.callElement(f, s, m.Label, args)
		case *design.FormPart:
			return c.callElement(f, s, m.Label, nil)
		case *design.Member:
			dot := "."
			if f.Optional {
				dot = "?."
			}
			return of + dot + m.Label + "(" + strings.Join(args, ", ") + ")"
		}
	}
	f := c.expr(s.Fun)
	if types.SkipsNull(s.Fun) {
		return "lien.maybe(" + f + ", it => lien.call(it, " + c.at(s.Span()) + after(args) + "))"
	}
	return "lien.call(" + f + ", " + c.at(s.Span()) + after(args) + ")"
}

// callElement calls a method of an element; with ?. only where there is one.
func (c *code) callElement(f *types.Select, s *design.Do, method string, args []string) string {
	call := func(of string) string {
		return "lien.callElement(" + of + ", " + quoted(method) + ", " + c.at(s.Span()) + after(args) + ")"
	}
	if f.Optional {
		return "lien.maybe(" + c.operand(f.X) + ", it => " + call("it") + ")"
	}
	return call(c.operand(f.X))
}

// assign writes a value to a place.
func (c *code) assign(p *design.Place, v string) string {
	steps := make([]string, len(p.Steps))
	for i, s := range p.Steps {
		if steps[i] = quoted(s.Field); s.Index != nil {
			steps[i] = c.expr(s.Index)
		}
	}
	put := func(old string) string {
		if len(steps) == 0 {
			return v
		}
		return "lien.put(" + old + ", [" + strings.Join(steps, ", ") + "], " + v + ", " + c.at(p.At) + ")"
	}
	switch root := p.Root.(type) {
	case *design.Member:
		name := "own." + root.Label
		if p.Of != nil {
			name = "own." + p.Of.Label + "." + root.Label
		}
		return name + " = " + put(name)
	case *design.ViewLocal:
		return "lien.setItem(at, " + number(root.Level) + ", it => " + put("it") + ")"
	}
	panic("web: a place of an unknown kind")
}
