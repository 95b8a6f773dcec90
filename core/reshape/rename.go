package reshape

import (
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Rename gives what is declared another name, wherever it is written: name is a component, context, channel, service,
// type, constant or function, a member as component.member, an operation as service.operation, or a field as Type.field.
func Rename(d *design.Design, name, to string, reload Reload) (*Result, error) {
	r := &renaming{draft: &draft{d: d}, to: to}
	owner, part, dotted := strings.Cut(name, ".")
	r.from = owner
	if dotted {
		r.from = part
	}
	if err := r.fits(dotted, owner); err != nil {
		return nil, err
	}
	var err error
	switch {
	case dotted && d.Component(owner) != nil:
		err = r.member(d.Component(owner))
	case dotted && r.typeNamed(owner) != nil:
		err = r.field(r.typeNamed(owner))
	case dotted:
		err = r.operation(owner)
	default:
		err = r.top(owner)
	}
	if err != nil {
		return nil, err
	}
	r.comments()
	r.did("%s is called %s now, in %d places", name, to, len(r.edits))
	return r.finish(reload)
}

// renaming is a name on its way to another one.
type renaming struct {
	*draft
	from, to string
}

func (r *renaming) write(at source.Span) {
	for _, e := range r.edits {
		if e.Span == at {
			return
		}
	}
	r.replace(at, r.to)
}

// word renames a word if it is the one.
func (r *renaming) word(w *syntax.Word) {
	if w != nil && w.Text == r.from {
		r.write(w.Span())
	}
}

// fits refuses a name that could not stand there, or that is taken.
func (r *renaming) fits(dotted bool, owner string) error {
	hyphen := strings.Contains(r.to, "-")
	needs := false
	if c := r.d.Component(owner); !dotted && c != nil && !c.IsContext {
		needs = true
	}
	for _, s := range r.d.Services {
		needs = needs || !dotted && s.Name == owner
	}
	if r.to == "" || strings.Trim(r.to, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_$-") != "" || r.to[0] >= '0' && r.to[0] <= '9' {
		return &Refusal{Why: r.to + " is no name", Do: "write letters, digits, _ and $; the names of components and services have hyphens, too"}
	}
	if needs != hyphen && !(needs && !hyphen && r.d.Component(owner) == nil) {
		if needs {
			return &Refusal{Why: r.to + " has no hyphen, as HTML asks of the names of custom elements", Do: "write a name such as kiln-" + r.to}
		}
		return &Refusal{Why: "a name of this kind cannot have hyphens", Do: "write " + wordsOf(strings.ReplaceAll(r.to, "-", " "))}
	}
	return nil
}

// taken refuses a name that a component has already, as its own or as one on the way.
func (r *renaming) isTaken(c *design.Component) error {
	if !r.namesIn(c)[r.to] {
		return nil
	}
	at := c.Syntax.Name.Start
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		if w, ok := n.(*syntax.Word); ok && w.Text == r.to && at == c.Syntax.Name.Start {
			at = w.Start
		}
		return true
	})
	return r.refuse(at, "choose another name", "%s has the name %s already", c.Name, r.to)
}

// member renames a member of a component, where it is declared, read, linked and heard.
func (r *renaming) member(c *design.Component) error {
	m := c.Member(r.from)
	if m == nil || m.Implied {
		var names []string
		for _, o := range c.Members {
			names = append(names, o.Label)
		}
		return r.refuse(c.Syntax.Name.Start, types.DidYouMean(r.from, names, "it has: "), "%s has no %s", c.Name, r.from)
	}
	if err := r.isTaken(c); err != nil {
		return err
	}
	if m.Kind == design.Emits && m.Label == "dismissed" {
		return r.refuse(m.Pos(), "leave it, or report another event of your own", "what is opened is told by the name dismissed that it is to end")
	}
	r.declared(m)
	r.inComponent(c, m)
	r.inUses(c, m)
	r.selected(m)
	r.spoken(c)
	return nil
}

// declared renames a member where it is declared. A context that has the name of its own gets another one here.
func (r *renaming) declared(m *design.Member) {
	var context, as *syntax.Word
	switch s := m.Syntax.(type) {
	case *syntax.Uses:
		context, as = s.Context, s.As
	case *syntax.Supplies:
		context, as = s.Context, s.As
	case *syntax.Gathers:
		if len(s.Kinds) > 0 {
			context, as = s.Kinds[len(s.Kinds)-1], s.As
		}
	}
	if context != nil && as == nil {
		r.insert(context.Stop, " as "+r.to)
		return
	}
	r.write(m.At)
}

// inComponent renames a member where its component writes it.
func (r *renaming) inComponent(c *design.Component, m *design.Member) {
	scoped(c.Syntax, func(n *syntax.Name, short bool) {
		if n.Text != r.from {
			return
		}
		if short {
			r.replace(n.Span(), r.from+": "+r.to)
			return
		}
		r.write(n.Span())
	})
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.Emit:
			r.word(n.Name)
		case *syntax.Leave:
			r.word(n.Event)
		case *syntax.TimerStmt:
			r.word(n.Name)
		case *syntax.Offers:
			r.word(n.Name)
			for _, w := range n.More {
				r.word(w)
			}
		case *syntax.Element:
			if m.Kind == design.Named {
				r.word(n.Named)
			}
		case *syntax.Event: // forwarded under the same name: that of the child stays
			if f, ok := n.Do.(*syntax.Forward); ok && m.Kind == design.Emits {
				switch {
				case f.Name != nil:
					r.word(f.Name)
				case n.Name.Text == r.from:
					r.replace(f.Span(), "forward "+r.to)
				}
			}
		}
		return true
	})
}

// inUses renames a member where its component is used.
func (r *renaming) inUses(c *design.Component, m *design.Member) {
	inBody := func(list []syntax.Item) {
		for _, it := range list {
			switch it := it.(type) {
			case *syntax.Link:
				if !it.Class {
					r.word(it.Name)
				}
			case *syntax.Event:
				if it.Name.Text == r.from {
					r.forwardedHere(it)
				}
				r.word(it.Name)
			}
		}
	}
	for _, u := range r.links().Uses[c] {
		inBody(u.Node.Syntax.Body)
	}
	for _, f := range r.d.Files {
		for _, decl := range f.Decls {
			syntax.Walk(decl, func(n syntax.Node) bool {
				switch n := n.(type) {
				case *syntax.Open:
					if n.Component.Text == c.Name {
						inBody(n.Links)
					}
				case *syntax.Supplies:
					if n.Context.Text == c.Name {
						inBody(n.Links)
					}
				case *syntax.Uses:
					if n.Context.Text == c.Name {
						inBody(n.Links)
					}
				case *syntax.Start:
					if n.Component.Text == c.Name {
						inBody(n.Links)
					}
				case *syntax.Step:
					if n.Service != nil && n.Verb == "call" && n.Service.Text == c.Name || n.Verb == "reports" && m.Kind == design.Emits && r.isRoot(c) {
						r.word(n.Name)
					}
				}
				return true
			})
		}
	}
}

// forwardedHere keeps the name under which an event goes on.
func (r *renaming) forwardedHere(e *syntax.Event) {
	if f, ok := e.Do.(*syntax.Forward); ok && f.Name == nil {
		r.replace(f.Span(), "forward "+r.from)
	}
}

func (r *renaming) isRoot(c *design.Component) bool {
	for _, s := range r.d.Starts {
		if s.Root == c {
			return true
		}
	}
	return false
}

// selected renames a member where an instance is asked for it.
func (r *renaming) selected(m *design.Member) {
	v := design.Visitor{Expr: func(x types.Expr) {
		s, ok := x.(*types.Select)
		if !ok || s.Member != types.Symbol(m) {
			return
		}
		end := x.Span().End
		if at := (source.Span{Start: end - source.Pos(len(r.from)), End: end}); r.d.Text(at) == r.from {
			r.write(at)
		}
	}}
	v.Design(r.d)
	v.Laws(r.d)
	v.Scenarios(r.d)
}

// spoken renames a member where laws and starts write component.member.
func (r *renaming) spoken(c *design.Component) {
	for _, f := range r.d.Files {
		for _, decl := range f.Decls {
			switch decl.(type) {
			case *syntax.Law, *syntax.Start, *syntax.Scenario:
			default:
				continue
			}
			syntax.Walk(decl, func(n syntax.Node) bool {
				if d, ok := n.(*syntax.Dotted); ok && d.Name.Text == r.from && speaksOf(d.X, c.Name) {
					r.word(d.Name)
				}
				return true
			})
		}
	}
}

// speaksOf says whether an expression is a component, or the(component).
func speaksOf(x syntax.Expr, name string) bool {
	switch x := x.(type) {
	case *syntax.Name:
		return x.Text == name
	case *syntax.Call:
		f, ok := x.Fun.(*syntax.Name)
		return ok && f.Text == "the" && len(x.Args) == 1 && speaksOf(x.Args[0], name)
	}
	return false
}

// operation renames an operation of a service.
func (r *renaming) operation(service string) error {
	for _, s := range r.d.Services {
		if s.Name != service {
			continue
		}
		found := false
		for _, o := range s.Operations {
			if o.Name == r.to {
				return r.refuse(o.Syntax.Start, "choose another name", "%s has the name %s already", service, r.to)
			}
			if o.Name == r.from {
				found = true
				r.word(o.Syntax.Name)
			}
		}
		if !found {
			return r.refuse(s.Syntax.Name.Start, "name one that it has", "%s has no %s", service, r.from)
		}
		r.everywhere(func(n syntax.Node) {
			switch n := n.(type) {
			case *syntax.Ask:
				if n.Service.Text == service {
					r.word(n.Name)
				}
			case *syntax.Step:
				if n.Service != nil && n.Service.Text == service {
					r.word(n.Name)
				}
			case *syntax.Dotted:
				if x, ok := n.X.(*syntax.Name); ok && x.Text == service {
					r.word(n.Name)
				}
			}
		})
		return nil
	}
	return &Refusal{Why: "nothing is called " + service, Do: "name a component, context, type or service"}
}

func (r *renaming) everywhere(visit func(syntax.Node)) {
	for _, f := range r.d.Files {
		for _, decl := range f.Decls {
			syntax.Walk(decl, func(n syntax.Node) bool {
				visit(n)
				return true
			})
		}
	}
}

func (r *renaming) typeNamed(name string) *design.TypeName {
	for _, t := range r.d.Types {
		if t.Name == name {
			return t
		}
	}
	return nil
}

// field renames a field of a declared record type: in the type, where values of it are read, and where
// records with its fields are written.
func (r *renaming) field(t *design.TypeName) error {
	rec, ok := types.Under(t.Named).(*types.Record)
	if !ok {
		return r.refuse(t.Syntax.Start, "name a type of records", "%s has no fields", t.Name)
	}
	if _, ok := rec.Field(r.from); !ok {
		return r.refuse(t.Syntax.Start, "name a field that it has", "%s has no field %s", t.Name, r.from)
	}
	if _, taken := rec.Field(r.to); taken {
		return r.refuse(t.Syntax.Start, "choose another name", "%s has a field %s already", t.Name, r.to)
	}
	for _, c := range r.d.Consts {
		if c.Data != nil {
			return r.refuse(c.Syntax.Start, "rename the field in the data as well, by hand", "data of this type may come from a file")
		}
	}
	syntax.Walk(t.Syntax.Type, func(n syntax.Node) bool {
		if f, ok := n.(*syntax.RecordType); ok {
			for _, p := range f.Fields {
				r.word(p.Name)
			}
		}
		return true
	})
	has := func(x types.Type) bool {
		o, ok := types.Under(types.NonNull(x)).(*types.Record)
		return ok && types.Identical(o, rec)
	}
	v := design.Visitor{Expr: func(x types.Expr) {
		if d, ok := x.(*types.Dot); ok && d.Name == r.from && has(d.X.Type()) {
			end := x.Span().End
			r.write(source.Span{Start: end - source.Pos(len(r.from)), End: end})
		}
	}}
	v.Design(r.d)
	v.Laws(r.d)
	v.Scenarios(r.d)
	design.Visitor{Effect: func(e design.Effect) { // what is written or tied is no value
		if e.Kind != design.Writes || e.Place == nil {
			return
		}
		for _, s := range e.Place.Steps {
			if s.Field == r.from && has(s.Of) {
				r.write(s.At)
			}
		}
	}}.Design(r.d)
	r.everywhere(func(n syntax.Node) {
		if n, ok := n.(*syntax.RecordLit); ok {
			r.literal(n, rec)
		}
	})
	return nil
}

// literal renames a field in a record that has no others than the type.
func (r *renaming) literal(n *syntax.RecordLit, rec *types.Record) {
	for _, f := range n.Fields {
		if f.Name == nil {
			continue
		}
		if _, ok := rec.Field(f.Name.Text); !ok {
			return
		}
	}
	for _, f := range n.Fields {
		switch {
		case f.Name == nil || f.Name.Text != r.from:
		case f.Value == nil:
			r.replace(f.Name.Span(), r.to+": "+r.from)
		default:
			r.word(f.Name)
		}
	}
}

// top renames what is declared at the top of a file.
func (r *renaming) top(name string) error {
	taken := func(at source.Pos) error { return r.refuse(at, "choose another name", "there is %s already", r.to) }
	if c := r.d.Component(r.to); c != nil {
		return taken(c.Syntax.Name.Start)
	}
	c := r.d.Component(name)
	declared := false
	r.everywhere(func(n syntax.Node) {
		switch n := n.(type) {
		case *syntax.TypeDecl:
			declared = declared || n.Name.Text == name
			r.word(n.Name)
		case *syntax.Channel:
			declared = declared || n.Name.Text == name
			r.word(n.Name)
		case *syntax.Service:
			declared = declared || n.Name.Text == name
			r.word(n.Name)
		case *syntax.Component:
			declared = declared || n.Name.Text == name
			r.word(n.Name)
		case *syntax.NamedType:
			if n.Name == name {
				r.write(n.Span())
			}
		case *syntax.Element:
			if c != nil && !c.IsContext {
				r.word(n.Name)
			}
		case *syntax.Open:
			r.word(n.Component)
		case *syntax.Gathers:
			for _, k := range n.Kinds {
				r.word(k)
			}
		case *syntax.Supplies:
			r.word(n.Context)
		case *syntax.Uses:
			r.word(n.Context)
		case *syntax.Start:
			r.word(n.Component)
		case *syntax.Step:
			if n.Service != nil {
				r.word(n.Service)
			}
		case *syntax.Target:
			r.word(n.Component)
		case *syntax.Send:
			r.word(n.Channel)
		case *syntax.Hears:
			r.word(n.Channel)
		case *syntax.Ask:
			r.word(n.Service)
		case *syntax.Name:
			if n.Text == name && strings.Contains(name, "-") {
				r.write(n.Span())
			}
		}
	})
	for _, f := range r.d.Files {
		for _, decl := range f.Decls {
			var word *syntax.Word
			switch decl := decl.(type) {
			case *syntax.ConstDecl:
				word = decl.Name
			case *syntax.Derives:
				word = decl.Name
			}
			if word != nil && word.Text == name {
				declared = true
				r.word(word)
			}
		}
	}
	if !declared {
		return &Refusal{Why: "nothing is called " + name, Do: "name a component, context, channel, service, type, constant or function, or a member as component.member"}
	}
	r.values(name, c)
	return nil
}

// values renames a constant, function or context where expressions read it.
func (r *renaming) values(name string, c *design.Component) {
	v := design.Visitor{Expr: func(x types.Expr) {
		ref, ok := x.(*types.Ref)
		if !ok || r.d.Text(x.Span()) != name {
			return
		}
		switch s := ref.Symbol.(type) {
		case *design.Const, *design.Function:
			r.write(x.Span())
		case *design.Member:
			if c != nil && c.IsContext && s.Context == c && s.Label == name {
				r.write(x.Span())
			}
		}
	}}
	v.Design(r.d)
	v.Laws(r.d)
	v.Scenarios(r.d)
	r.everywhere(func(n syntax.Node) { // ties to what a context shares are no values
		d, ok := n.(*syntax.Dotted)
		if !ok || c == nil || !c.IsContext {
			return
		}
		if x, ok := d.X.(*syntax.Name); ok && x.Text == name {
			r.write(x.Span())
		}
	})
}

// comments renames the name in the code that comments quote.
func (r *renaming) comments() {
	for _, f := range r.d.Files {
		for _, c := range f.Comments {
			text := f.Source.Slice(c.At.Start, c.At.End)
			for at := 0; ; {
				i := strings.Index(text[at:], "`"+r.from+"`")
				if i < 0 {
					break
				}
				at += i + 1
				from := c.At.Start + source.Pos(at)
				r.write(source.Span{Start: from, End: from + source.Pos(len(r.from))})
			}
		}
	}
}
