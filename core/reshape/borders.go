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

// What crosses the border of a part that is cut out: names are looked up as its text does.

// names is what is named at a place in the part: by eaches, fills, events and constants in it.
type names map[string]types.Type

func (n names) with(more ...*syntax.Word) names {
	out := names{}
	for k, v := range n {
		out[k] = v
	}
	for _, w := range more {
		if w != nil {
			out[w.Text] = nil
		}
	}
	return out
}

// borders links all that crosses the border, or refuses.
func (x *extraction) borders() error {
	for _, m := range x.order {
		switch s := m.Syntax.(type) {
		case *syntax.Cell:
			if err := x.reads(s.Value, names{}); err != nil {
				return err
			}
		case *syntax.ConstDecl:
			if err := x.reads(s.Value, names{}); err != nil {
				return err
			}
		case *syntax.Derives:
			inner := names{}
			for _, p := range s.Params {
				inner = inner.with(p.Name)
			}
			if err := x.reads(s.Value, inner); err != nil {
				return err
			}
		case *syntax.Action:
			if err := x.action(m); err != nil {
				return err
			}
		}
	}
	if err := x.namedInside(); err != nil {
		return err
	}
	if err := x.part(x.items, names{}); err != nil {
		return err
	}
	if err := x.tiedIsRead(); err != nil {
		return err
	}
	x.narrow()
	for _, t := range x.takes {
		x.did("%s takes %s", x.called, t.name)
	}
	for _, t := range x.shares {
		x.did("%s shares %s, tied to %s", x.called, t.name, t.given)
	}
	for _, e := range x.eventsInOrder {
		x.did("%s reports %s", x.called, e.name)
	}
	return nil
}

// tiedIsRead leaves out what is taken besides being tied: a shared cell is read, too.
func (x *extraction) tiedIsRead() error {
	for _, s := range x.shares {
		for i, t := range x.takes {
			switch {
			case t.name != s.name:
			case t.given != s.given:
				return x.refuse(x.span.Start, "rename one of them first", "%s and %s would both be called %s in %s", t.given, s.given, s.name, x.called)
			default:
				x.takes = slices.Delete(x.takes, i, i+1)
				return x.tiedIsRead()
			}
		}
	}
	return nil
}

// namedInside refuses a part of which something is named and used outside.
func (x *extraction) namedInside() (err error) {
	for _, m := range x.c.Members {
		if m.Kind != design.Named || !x.inside(m.At.Start) {
			continue
		}
		design.Visitor{Effect: func(e design.Effect) {
			if e.Kind == design.Reads && e.Symbol == types.Symbol(m) && !x.inside(e.At.Span().Start) && err == nil {
				err = x.refuse(e.At.Span().Start, "cut out what uses it, too, or let the new component offer a method", "%s is named in the part, and used here", m.Label)
			}
		}}.Component(x.c)
	}
	return err
}

// part goes through items of the part.
func (x *extraction) part(items []syntax.Item, in names) error {
	for _, it := range items {
		if err := x.item(it, in, nil); err != nil {
			return err
		}
	}
	return nil
}

func (x *extraction) item(it syntax.Item, in names, of *syntax.Element) error {
	switch it := it.(type) {
	case *syntax.Element:
		if it.Text != nil {
			if err := x.reads(it.Text, in); err != nil {
				return err
			}
		}
		for _, b := range it.Body {
			if err := x.item(b, in, it); err != nil {
				return err
			}
		}
	case *syntax.TextItem:
		return x.reads(it.Value, in)
	case *syntax.When:
		if err := x.reads(it.Cond, in); err != nil {
			return err
		}
		if err := x.part(it.Body, in); err != nil {
			return err
		}
		return x.part(it.Else, in)
	case *syntax.Each:
		if err := x.reads(it.List, in); err != nil {
			return err
		}
		inner := in.with(it.Var, it.Index)
		if e := x.eachOf(it); e != nil {
			inner[it.Var.Text] = e.Item.Typ
			if it.Index != nil {
				inner[it.Index.Text] = types.Number
			}
		}
		if it.By != nil {
			if err := x.reads(it.By, inner); err != nil {
				return err
			}
		}
		return x.part(it.Body, inner)
	case *syntax.Slot:
		return x.refuse(it.Start, "leave the slot outside of the part, or hand the content on: fill it in "+x.c.Name, "the part has a slot of %s, which is for the content of its users", x.c.Name)
	case *syntax.Fill:
		inner := in
		for _, p := range it.Params {
			inner = inner.with(p.Name)
		}
		return x.part(it.Body, inner)
	case *syntax.Link:
		if it.Op == syntax.Tie {
			return x.tied(it, in)
		}
		return x.reads(it.Value, in)
	case *syntax.Event:
		return x.handler(it, in, of)
	}
	return nil
}

// eachOf is an each of the component as it was resolved.
func (x *extraction) eachOf(s *syntax.Each) (found *design.Each) {
	design.Visitor{Node: func(n design.Node) {
		if e, ok := n.(*design.Each); ok && e.Syntax == s {
			found = e
		}
	}}.Nodes(x.c.View)
	return found
}

// reads hands in what an expression reads.
func (x *extraction) reads(e syntax.Node, in names) (err error) {
	free(e, in, func(n *syntax.Name) {
		if err == nil {
			err = x.take(n)
		}
	})
	return err
}

// take hands a name in, if it belongs to what is around the part.
func (x *extraction) take(n *syntax.Name) error {
	if x.readAt == nil {
		x.readAt = map[string][]source.Pos{}
	}
	x.readAt[n.Text] = append(x.readAt[n.Text], n.Start)
	if t, ok := x.around[n.Text]; ok {
		x.addTake(n.Text, types.Widen(t).String())
		return nil
	}
	m := x.c.Member(n.Text)
	if m == nil || x.moving[m] {
		return nil
	}
	switch m.Kind {
	case design.Used, design.Supplied:
		use := "uses " + m.Context.Name
		if m.Kind == design.Used && types.Nullable(m.Type()) {
			use += "?"
		}
		if m.Label != m.Context.Name {
			use += " as " + m.Label
		}
		if !slices.Contains(x.uses, use) {
			x.uses = append(x.uses, use)
		}
		return nil
	case design.Named:
		if x.inside(m.At.Start) {
			return nil
		}
		return x.refuse(n.Start, "cut out what is named, too", "the part uses %s, which stands outside of it", m.Label)
	case design.Gathered, design.Emits, design.Timer:
		return x.refuse(n.Start, "leave what uses it outside of the part", "the part uses %s, which is %s of %s", m.Label, m.Kind.Noun(), x.c.Name)
	}
	if m.Kind == design.Action || m.Kind == design.Derives && m.Call {
		x.addTake(m.Label, m.Type().String())
		return nil
	}
	x.addTake(m.Label, x.typeText(m))
	return nil
}

func (x *extraction) addTake(name, typ string) {
	if !slices.ContainsFunc(x.takes, func(t taken) bool { return t.name == name }) {
		x.takes = append(x.takes, taken{name: name, typ: typ, given: name})
	}
}

// tied shares what a tie writes, where that stays outside.
func (x *extraction) tied(l *syntax.Link, in names) error {
	base, ok := root(l.Value).(*syntax.Name)
	if !ok {
		return nil
	}
	if _, inner := in[base.Text]; inner {
		return x.refuse(l.Start, "cut out the item alone, without the each around it", "an item of a list is tied here, and the list stays outside")
	}
	m := x.c.Member(base.Text)
	_, local := x.around[base.Text]
	switch {
	case m != nil && (m.Kind == design.Used || m.Kind == design.Supplied):
		return x.take(base)
	case m != nil && x.moving[m], m == nil && !local:
		return nil
	}
	t := x.tieType(l)
	name := base.Text
	if d, ok := l.Value.(*syntax.Dotted); ok {
		name = d.Name.Text
	}
	given := x.text(l.Value)
	if i := slices.IndexFunc(x.shares, func(s taken) bool { return s.given == given }); i >= 0 {
		name = x.shares[i].name
	} else {
		if slices.ContainsFunc(x.shares, func(s taken) bool { return s.name == name }) {
			return x.refuse(l.Start, "cut out a smaller part", "two values called %s are tied in the part", name)
		}
		x.shares = append(x.shares, taken{name, t.String(), beginning(t), given})
	}
	if name != given {
		x.inner = append(x.inner, textAt{l.Value.Span(), name})
	}
	return nil
}

// tieType is the type of the place that a tie writes.
func (x *extraction) tieType(l *syntax.Link) (t types.Type) {
	t = types.String
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			for _, tie := range n.Ties {
				if tie.Syntax == l && tie.Write != nil {
					t = tie.Write.Typ
				}
			}
		case *design.Use:
			for _, tie := range n.Ties {
				if tie.Syntax == l && tie.Place != nil {
					t = tie.Place.Typ
				}
			}
		}
	}}.Nodes(x.c.View)
	return t
}

// handler leaves a handler in the part where it touches nothing outside, and reports it otherwise: what is
// done then stands where the part is used.
func (x *extraction) handler(e *syntax.Event, in names, of *syntax.Element) error {
	inner := in
	for _, p := range e.Params {
		inner = inner.with(p.Name)
	}
	if !x.actsOutside(e.Do, inner) {
		return x.reads(e.Do, inner)
	}
	if d, ok := x.divide(e.Do, inner); ok && x.changesMoved(e.Do) != nil && (len(e.Params) == 0 || x.useOf(of) != nil) {
		typed := map[string]string{}
		for i, p := range e.Params {
			typed[p.Name.Text] = x.eventType(of, e, i)
		}
		return x.report(d, inner, typed, x.eventName(e, of))
	}
	r := &reported{does: x.text(e.Do)}
	var args []string
	dom := of != nil && !strings.Contains(of.Name.Text, "-")
	var edits []textEdit
	for i, p := range e.Params {
		if dom {
			if err := x.domEvent(e, p.Name.Text, r, &args, &edits); err != nil {
				return err
			}
			continue
		}
		if usesName(e.Do, p.Name.Text) {
			r.addParam(p.Name.Text, x.eventType(of, e, i))
			args = append(args, p.Name.Text)
		}
	}
	if _, pass := e.Do.(*syntax.Pass); pass && !dom { // the values of the event are passed on
		if u := x.useOf(of); u != nil {
			if m := u.Component.Member(e.Name.Text); m != nil {
				for _, p := range m.Sig {
					r.addParam(p.Name, p.Type.String())
					args = append(args, p.Name)
				}
				if len(m.Sig) > 0 {
					e = &syntax.Event{At: e.At, Name: e.Name, Call: true, Do: e.Do}
					for _, p := range m.Sig {
						e.Params = append(e.Params, &syntax.Param{Name: &syntax.Word{Text: p.Name}})
					}
				}
			}
		}
	}
	free(e.Do, names{}, func(n *syntax.Name) {
		if t, ok := in[n.Text]; ok && !slices.Contains(r.names, n.Text) && t != nil {
			r.addParam(n.Text, types.Widen(t).String())
			args = append(args, n.Text)
		}
		if m := x.c.Member(n.Text); m != nil && x.moving[m] && !slices.Contains(r.names, n.Text) {
			r.addParam(n.Text, x.typeText(m)) // it is not there any more where this is done
			args = append(args, n.Text)
		}
	})
	if m := x.changesMoved(e.Do); m != nil {
		return x.refuse(e.Start, "--keep "+m.Label, "this handler changes %s, which moves along, and acts on what stays", m.Label)
	}
	r.does = edited(x.d.Text(e.Do.Span()), edits)
	if u := x.useOf(of); u != nil && forwards(e.Do) {
		r.does = x.forwarded(e, r)
	}
	r.name = x.eventName(e, of)
	x.addEvent(r)
	call := "emit " + r.name + "(" + strings.Join(args, ", ") + ")"
	head := x.d.Text(source.Span{Start: e.Start, End: e.Do.Span().Start})
	if len(e.Params) > 0 && len(args) == 0 {
		head = e.Name.Text + " -> "
	} else if _, pass := e.Do.(*syntax.Pass); pass && len(args) > 0 && !dom {
		head = e.Name.Text + "(" + strings.Join(args, ", ") + ") -> "
	} else if forwards(e.Do) && len(args) > 0 {
		head = e.Name.Text + "(" + strings.Join(args, ", ") + ") -> "
	}
	x.inner = append(x.inner, textAt{e.Span(), head + call})
	return nil
}

// changesMoved is a cell that moves along and that a statement changes, or nil.
func (x *extraction) changesMoved(s syntax.Stmt) (moved *design.Member) {
	syntax.Walk(s, func(n syntax.Node) bool {
		if a, ok := n.(*syntax.AssignStmt); ok {
			if base, ok := root(a.Target).(*syntax.Name); ok {
				if m := x.c.Member(base.Text); m != nil && x.moving[m] {
					moved = m
				}
			}
		}
		if c, ok := n.(*syntax.CallStmt); ok {
			if f, ok := c.Call.Fun.(*syntax.Name); ok {
				if m := x.c.Member(f.Text); m != nil && x.moving[m] {
					moved = m
				}
			}
		}
		return true
	})
	return moved
}

func (r *reported) addParam(name, typ string) {
	r.names = append(r.names, name)
	r.params = append(r.params, name+": "+typ)
}

func forwards(s syntax.Stmt) bool {
	_, ok := s.(*syntax.Forward)
	return ok
}

// forwarded is what the user of the part does with an event that was forwarded: it forwards it.
func (x *extraction) forwarded(e *syntax.Event, r *reported) string {
	to := e.Name.Text
	if f := e.Do.(*syntax.Forward); f.Name != nil {
		to = f.Name.Text
	}
	if u := x.c.Member(to); u != nil {
		for _, p := range u.Sig {
			if !slices.Contains(r.names, p.Name) {
				r.addParam(p.Name, p.Type.String())
			}
		}
	}
	r.names = nil
	return "forward " + to
}

// useOf is the use of a component that an element of the text is, or nil.
func (x *extraction) useOf(of *syntax.Element) (found *design.Use) {
	if of == nil || !strings.Contains(of.Name.Text, "-") {
		return nil
	}
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok && u.Syntax == of {
			found = u
		}
	}}.Nodes(x.c.View)
	return found
}

func (x *extraction) eventType(of *syntax.Element, e *syntax.Event, i int) string {
	if u := x.useOf(of); u != nil {
		if m := u.Component.Member(e.Name.Text); m != nil && i < len(m.Sig) {
			return m.Sig[i].Type.String()
		}
	}
	return "string"
}

// eventFields are what handlers read of DOM events, with their types.
var eventFields = map[string]string{"value": "string", "checked": "boolean", "key": "string", "shiftKey": "boolean", "ctrlKey": "boolean",
	"altKey": "boolean", "metaKey": "boolean", "self": "boolean", "inside": "boolean", "data": "string"}

// domEvent reports what a handler reads of its event.
func (x *extraction) domEvent(e *syntax.Event, name string, r *reported, args *[]string, edits *[]textEdit) (err error) {
	from := e.Do.Span().Start
	syntax.Walk(e.Do, func(n syntax.Node) bool {
		d, ok := n.(*syntax.Dotted)
		if !ok || err != nil {
			return err == nil
		}
		base, ok := d.X.(*syntax.Name)
		if !ok || base.Text != name {
			return true
		}
		t, known := eventFields[d.Name.Text]
		if !known {
			err = x.refuse(d.Start, "let the handler begin with it, and call an action for the rest", "this handler does both: what only a handler of the event can do, and what %s does", x.c.Name)
			return false
		}
		if !slices.Contains(r.names, d.Name.Text) {
			r.addParam(d.Name.Text, t)
			*args = append(*args, name+"."+d.Name.Text)
		}
		*edits = append(*edits, textEdit{int(d.Start - from), int(d.Stop - from), d.Name.Text})
		return false
	})
	return err
}

func usesName(n syntax.Node, name string) bool {
	uses := false
	free(n, names{}, func(x *syntax.Name) { uses = uses || x.Text == name })
	return uses
}

// actsOutside says whether a statement changes, calls, reports or starts anything that stays outside.
func (x *extraction) actsOutside(do syntax.Stmt, in names) (acts bool) {
	outside := func(name string) bool {
		if _, ok := in[name]; ok {
			return false
		}
		if _, ok := x.around[name]; ok {
			return true
		}
		m := x.c.Member(name)
		return m != nil && !x.moving[m] && !(m.Kind == design.Named && x.inside(m.At.Start))
	}
	callee := func(f syntax.Expr) bool {
		switch f := f.(type) {
		case *syntax.Name:
			return outside(f.Text)
		case *syntax.Dotted:
			base, ok := root(f).(*syntax.Name)
			if !ok {
				return false
			}
			m := x.c.Member(base.Text)
			return m != nil && outside(base.Text) && m.Kind != design.Used && m.Kind != design.Supplied
		}
		return false
	}
	syntax.Walk(do, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.AssignStmt:
			base, ok := root(n.Target).(*syntax.Name)
			if ok {
				_, item := in[base.Text] // of a list that stays
				acts = acts || outside(base.Text) || item
			}
		case *syntax.CallStmt:
			acts = acts || callee(n.Call.Fun)
		case *syntax.Pass:
			acts = acts || callee(n.Target)
		case *syntax.Emit, *syntax.TimerStmt, *syntax.Forward, *syntax.Leave:
			acts = true
		}
		return !acts
	})
	return acts
}

// eventName is what an event is called: after what it does, or after what is pressed.
func (x *extraction) eventName(e *syntax.Event, of *syntax.Element) string {
	name := ""
	switch s := single(e.Do).(type) {
	case *syntax.Pass:
		name = lastName(s.Target)
	case *syntax.CallStmt:
		name = lastName(s.Call.Fun)
	case *syntax.Emit:
		name = s.Name.Text
	case *syntax.Forward:
		name = e.Name.Text
	case *syntax.AssignStmt:
		name = "change" + upper(lastName(s.Target))
		if of != nil {
			if said := saidBy(of.Text); len(strings.Fields(said)) < 3 && wordsOf(said) != "" {
				name = wordsOf(said) // what is pressed says what is meant
			}
		}
	}
	if name == "" && of != nil && of.Text != nil {
		name = wordsOf(strings.Trim(x.text(of.Text), "\"`"))
	}
	if name == "" {
		name = map[string]string{"click": "press"}[e.Name.Text]
	}
	if name == "" {
		name = e.Name.Text
	}
	return name
}

// saidBy is what a text says before its first value.
func saidBy(text syntax.Expr) string {
	switch t := text.(type) {
	case *syntax.TextLit:
		return t.Value
	case *syntax.Template:
		return t.Texts[0]
	}
	return ""
}

func lastName(e syntax.Expr) string {
	switch e := e.(type) {
	case *syntax.Name:
		return e.Text
	case *syntax.Dotted:
		return e.Name.Text
	case *syntax.Index:
		return lastName(e.X)
	}
	return ""
}

// addEvent adds an event, unless it is there already; one of the same name that does something else gets a number.
func (x *extraction) addEvent(r *reported) {
	base := r.name
	for n := 2; ; n++ {
		taken := slices.ContainsFunc(x.order, func(m *design.Member) bool { return m.Label == r.name }) || slices.ContainsFunc(x.takes, func(t taken) bool { return t.name == r.name }) || slices.ContainsFunc(x.shares, func(t taken) bool { return t.name == r.name })
		old := x.events[r.name]
		if old == nil && !taken {
			x.events[r.name] = r
			x.eventsInOrder = append(x.eventsInOrder, r)
			return
		}
		if old != nil && old.does == r.does && slices.Equal(old.params, r.params) {
			return
		}
		r.name = fmt.Sprintf("%s%d", base, n)
	}
}
