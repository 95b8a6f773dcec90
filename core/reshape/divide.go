package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Handlers and actions that act on what moves along and on what stays: the one is done in the part, the other is
// reported, with what it has to know.

// divided is a handler's statements that are reported, and those before and behind them, which stay in the part.
type divided struct {
	block *syntax.Block
	from  int
	to    int
}

// divide finds the statements that act outside. They stand side by side, and what comes behind them needs nothing
// that they change; else the handler is not divided.
func (x *extraction) divide(do syntax.Stmt, in names) (*divided, bool) {
	block, ok := do.(*syntax.Block)
	if !ok {
		return nil, false
	}
	d := &divided{block, -1, -1}
	for i, s := range block.Stmts {
		acts, changes := x.actsOutside(s, in), x.changesMoved(s) != nil
		_, named := s.(*syntax.ConstDecl)
		switch {
		case named || acts && changes || leaves(s):
			return nil, false
		case acts && d.from < 0:
			d.from, d.to = i, i+1
		case acts && d.to == i:
			d.to = i + 1
		case acts, d.from >= 0 && x.readsWhatStays(s, in):
			return nil, false
		}
	}
	return d, d.from >= 0
}

// leaves says whether a statement may end the handler.
func leaves(s syntax.Stmt) (ends bool) {
	syntax.Walk(s, func(n syntax.Node) bool {
		_, is := n.(*syntax.Return)
		ends = ends || is
		return !ends
	})
	return ends
}

func (x *extraction) readsWhatStays(s syntax.Stmt, in names) (reads bool) {
	free(s, in, func(n *syntax.Name) {
		m := x.c.Member(n.Text)
		reads = reads || m != nil && !x.moving[m]
	})
	return reads
}

// report reports the statements that act outside. A condition that the part alone can know is checked in it, and
// its outcome reported. typed are the parameters of the handler, with their types.
func (x *extraction) report(d *divided, in names, typed map[string]string, name string) error {
	first, last := d.block.Stmts[d.from], d.block.Stmts[d.to-1]
	at := source.Span{Start: first.Span().Start, End: last.Span().End}
	r := &reported{name: name}
	var args []string
	var edits []textEdit
	for _, s := range d.block.Stmts[d.from:d.to] {
		cond := x.known(s, in)
		if cond != nil {
			ok := x.okName(r)
			r.addParam(ok, "boolean")
			args = append(args, x.text(cond))
			edits = append(edits, textEdit{int(cond.Span().Start - at.Start), int(cond.Span().End - at.Start), ok})
			if err := x.reads(cond, in); err != nil {
				return err
			}
		}
		free(s, names{}, func(n *syntax.Name) {
			if cond != nil && cond.Span().Start <= n.Start && n.Stop <= cond.Span().End || slices.Contains(r.names, n.Text) {
				return
			}
			t := typed[n.Text]
			if m := x.c.Member(n.Text); t == "" && m != nil && x.moving[m] {
				t = x.typeText(m)
			}
			if inner := in[n.Text]; t == "" && inner != nil {
				t = types.Widen(inner).String()
			}
			if t != "" {
				r.addParam(n.Text, t)
				args = append(args, n.Text)
			}
		})
	}
	r.does = edited(x.d.Text(at), edits)
	if d.to-d.from > 1 {
		r.does = "{\n" + r.does + "\n}"
	}
	x.addEvent(r)
	x.inner = append(x.inner, textAt{at, "emit " + r.name + "(" + strings.Join(args, ", ") + ")"})
	for i, s := range d.block.Stmts {
		if i < d.from || i >= d.to {
			if err := x.reads(s, in); err != nil {
				return err
			}
		}
	}
	return nil
}

// known is the condition of an if that reads something that moves along, and nothing that stays; or nil.
func (x *extraction) known(s syntax.Stmt, in names) syntax.Expr {
	c, ok := s.(*syntax.If)
	if !ok {
		return nil
	}
	moved, stays := false, false
	free(c.Cond, in, func(n *syntax.Name) {
		m := x.c.Member(n.Text)
		moved = moved || m != nil && x.moving[m]
		stays = stays || m != nil && !x.moving[m] && m.Kind != design.ConstMember
	})
	if !moved || stays {
		return nil
	}
	return c.Cond
}

// okName is what an outcome is called: ok, or with a number.
func (x *extraction) okName(r *reported) string {
	name := "ok"
	for n := 2; slices.Contains(r.names, name) || x.namesIn(x.c)[name]; n++ {
		name = fmt.Sprintf("ok%d", n)
	}
	return name
}

// movesWhole says whether an action moves along with what it changes: whatever it does besides can be reported.
func (x *extraction) movesWhole(m *design.Member) bool {
	a, ok := m.Syntax.(*syntax.Action)
	if !ok || x.changesMoved(a.Body) == nil {
		return false
	}
	in := names{}.with(params(a.Params)...)
	if !x.actsOutside(a.Body, in) {
		return true
	}
	_, ok = x.divide(a.Body, in)
	return ok
}

// action hands in what an action that moves along reads, and reports what it does outside.
func (x *extraction) action(m *design.Member) error {
	a := m.Syntax.(*syntax.Action)
	in := names{}.with(params(a.Params)...)
	d, divided := x.divide(a.Body, in)
	if !divided {
		return x.reads(a.Body, in)
	}
	typed := map[string]string{}
	for _, p := range m.Sig {
		typed[p.Name] = p.Type.String()
	}
	return x.report(d, in, typed, "report"+upper(m.Label))
}
