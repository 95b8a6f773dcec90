package reshape

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Inline puts what a component shows in place of its uses: everywhere, or at the one that begins on a line.
func Inline(d *design.Design, c *design.Component, file string, line int, reload Reload) (*Result, error) {
	n := &inlining{draft: &draft{d: d}, c: c}
	for _, u := range n.links().Uses[c] {
		at := d.Set.Position(u.Node.Start)
		if line == 0 || at.Line == line && (at.File == file || strings.HasSuffix(at.File, "/"+file)) {
			n.uses = append(n.uses, u)
		} else {
			n.others = true
		}
	}
	if err := n.possible(); err != nil {
		return nil, err
	}
	for _, u := range n.uses {
		if err := n.use(u); err != nil {
			return nil, err
		}
	}
	if !n.others {
		n.drop(n.c.Syntax.Span())
		n.did("%s is gone", n.c.Name)
	}
	return n.finish(reload)
}

// inlining is a component on its way into those that use it.
type inlining struct {
	*draft
	c      *design.Component
	uses   []*links.Use
	others bool // some uses stay
}

// possible refuses a component that is more than what it shows.
func (n *inlining) possible() error {
	c := n.c
	at := c.Syntax.Name.Start
	if c.IsContext {
		return n.refuse(at, "name a component", "%s is a context, which shows nothing", c.Name)
	}
	if len(n.uses) == 0 {
		return n.refuse(at, "name a component that a view uses, and the line of a use", "no view uses %s there", c.Name)
	}
	for _, m := range c.Members {
		switch m.Kind {
		case design.Holds:
			return n.refuse(m.Pos(), "lift it first: lien lift "+c.Name+"."+m.Label, "%s holds %s, and where it is used nothing would", c.Name, m.Label)
		case design.Timer, design.Supplied, design.Gathered:
			return n.refuse(m.Pos(), "leave it a component", "%s has %s, %s, which only a component has", c.Name, m.Label, m.Kind.Noun())
		}
		if m.Offered {
			return n.refuse(m.Pos(), "leave it a component", "%s offers %s", c.Name, m.Label)
		}
	}
	for _, u := range n.uses {
		if len(n.d.StylesOf(c))+len(n.d.StylesOf(u.User)) > 0 {
			return n.refuse(u.Node.Start, "leave it a component, or write its rules at the top of the file", "styles of %s or of %s would reach other elements than now", c.Name, u.User.Name)
		}
		if len(u.Node.Classes)+len(u.Node.Marks) > 0 {
			return n.refuse(u.Node.Start, "put the class on the outermost element of "+c.Name, "%s gives %s a class here", u.User.Name, c.Name)
		}
	}
	switch {
	case len(c.Hooks) > 0:
		return n.refuse(c.Hooks[0].Syntax.Start, "leave it a component", "%s does something when it is mounted or unmounted", c.Name)
	case len(c.Follows) > 0:
		return n.refuse(c.Follows[0].Syntax.Start, "leave it a component", "%s follows a value", c.Name)
	case len(c.Hearings) > 0:
		return n.refuse(c.Hearings[0].Syntax.Start, "leave it a component", "%s hears a channel", c.Name)
	case c.Opened || c.Leaves:
		return n.refuse(at, "leave it a component", "%s is opened above the page", c.Name)
	}
	return n.notSpokenOf()
}

// notSpokenOf refuses a component that starts, laws and scenarios name.
func (n *inlining) notSpokenOf() (err error) {
	if n.others {
		return nil
	}
	for _, f := range n.d.Files {
		for _, decl := range f.Decls {
			switch decl.(type) {
			case *syntax.Start, *syntax.Law, *syntax.Scenario:
				syntax.Walk(decl, func(x syntax.Node) bool {
					name, ok := "", false
					switch x := x.(type) {
					case *syntax.Word:
						name, ok = x.Text, true
					case *syntax.Name:
						name, ok = x.Text, true
					}
					if ok && name == n.c.Name && err == nil {
						err = n.refuse(x.Span().Start, "let it speak of what the page shows, or of the component around", "%s is named here, and would be gone", n.c.Name)
					}
					return err == nil
				})
			}
		}
	}
	return err
}

// use puts the view in place of one use.
func (n *inlining) use(u *links.Use) error {
	s := &substitution{inlining: n, u: u, with: map[string]string{}, events: map[string]*syntax.Event{}}
	if err := s.prepare(); err != nil {
		return err
	}
	view := viewOf(n.c.Syntax)
	if view == nil || len(view.Body) == 0 {
		n.remove(u.Node.Syntax.Span())
		return nil
	}
	for _, it := range view.Body {
		if err := s.item(it, names{}); err != nil {
			return err
		}
	}
	span := source.Span{Start: view.Body[0].Span().Start, End: view.Body[len(view.Body)-1].Span().End}
	if first := n.whole(span).Start; first < span.Start && first > view.Start {
		span.Start = first
	}
	text := strings.TrimSpace(s.changed(span))
	said := n.saidIn(u.Node.Syntax.Span(), source.Span{})
	if !n.others && u == n.uses[0] { // what is said of a component that goes stays with what it showed
		said = append(n.saidIn(n.c.Syntax.Span(), span), said...)
		if above, _ := n.comments(n.c.Syntax.Span()); above != "" {
			said = append([]string{above}, said...)
		}
	}
	if len(said) > 0 {
		text = strings.Join(said, "\n") + "\n" + text
	}
	n.replace(u.Node.Syntax.Span(), text)
	n.did("%s is written where %s used it", n.c.Name, u.User.Name)
	return nil
}

// saidIn are the comments in a stretch of text, but for a part of it.
func (n *inlining) saidIn(at, but source.Span) (list []string) {
	for _, f := range n.d.Files {
		for _, c := range f.Comments {
			if at.Start <= c.At.Start && c.At.End <= at.End && !(but.Start <= c.At.Start && c.At.End <= but.End) {
				list = append(list, strings.TrimSpace(n.d.Text(c.At)))
			}
		}
	}
	return list
}

func viewOf(c *syntax.Component) *syntax.View {
	for _, m := range c.Members {
		if v, ok := m.(*syntax.View); ok {
			return v
		}
	}
	return nil
}

// substitution is what stands in place of the names of a component at one of its uses.
type substitution struct {
	*inlining
	u       *links.Use
	with    map[string]string // what is written for a name
	wrapped map[string]bool   // what stands in parentheses there, for the sake of what is around the name
	events  map[string]*syntax.Event
	inner   []textAt
	free    map[string]bool // names that the texts read where they are used
}

func (s *substitution) prepare() error {
	s.free, s.wrapped = map[string]bool{}, map[string]bool{}
	body := s.u.Node.Syntax
	if body.Named != nil {
		return s.refuse(body.Named.Start, "leave it a component, or take the name out", "this use has a name")
	}
	for _, it := range body.Body {
		switch it := it.(type) {
		case *syntax.Link:
			s.put(it.Name.Text, it.Value)
		case *syntax.Event:
			s.events[it.Name.Text] = it
			free(it.Do, names{}, func(n *syntax.Name) { s.free[n.Text] = true })
		}
	}
	for _, m := range s.c.Members {
		if err := s.member(m); err != nil {
			return err
		}
		if m.Kind == design.Named {
			if err := s.perhaps(m); err != nil {
				return err
			}
		}
	}
	return nil
}

// perhaps goes on with ?. from an element that is named in the component, where it is not always shown at the use.
func (s *substitution) perhaps(m *design.Member) error {
	if eachesOf(s.u.Path) > 0 {
		return s.refuse(m.Pos(), "leave it a component", "%s names one element, and would stand in every item of a list", m.Label)
	}
	v := viewOf(s.c.Syntax)
	if len(s.u.Path) == 0 || v == nil || types.Nullable(m.Type()) {
		return nil
	}
	syntax.Walk(v, func(n syntax.Node) bool {
		d, ok := n.(*syntax.Dotted)
		if !ok || d.Optional {
			return true
		}
		if x, ok := d.X.(*syntax.Name); ok && x.Text == m.Label {
			s.inner = append(s.inner, textAt{source.Span{Start: x.Stop, End: x.Stop}, "?"})
		}
		return true
	})
	return nil
}

func (s *substitution) put(name string, x syntax.Expr) {
	text := s.text(x)
	if _, ok := x.(*syntax.RecordLit); ok {
		text = "(" + text + ")"
	}
	s.with[name] = inParens(x, text)
	s.wrapped[name] = s.with[name] != text
	free(x, names{}, func(n *syntax.Name) { s.free[n.Text] = true })
}

func (s *substitution) member(m *design.Member) error {
	_, given := s.with[m.Label]
	switch m.Kind {
	case design.Takes, design.Shares:
		if given || m.Implied {
			return nil
		}
		if m.Kind == design.Shares {
			return s.refuse(m.Pos(), "tie it where "+s.c.Name+" is used, or lift it", "%s holds %s itself at this use", s.c.Name, m.Label)
		}
		s.put(m.Label, m.Syntax.(*syntax.Cell).Value)
	case design.ConstMember:
		x := m.Syntax.(*syntax.ConstDecl).Value
		fixed := true
		syntax.Walk(x, func(n syntax.Node) bool {
			if call, ok := n.(*syntax.Call); ok {
				_, name := call.Fun.(*syntax.Name)
				fixed = fixed && !name
			}
			return fixed
		})
		if !fixed {
			return s.refuse(m.Pos(), "leave it a component", "%s is fixed when %s is made", m.Label, s.c.Name)
		}
		s.put(m.Label, x)
	case design.Derives:
		if d, ok := m.Syntax.(*syntax.Derives); !ok || d.Call || d.Set != nil {
			return s.refuse(m.Pos(), "put it at the top of a file as a function, with what it reads as parameters", "%s has a function of its own, %s", s.c.Name, m.Label)
		}
	case design.Used:
		own := s.u.User
		for _, o := range own.Members {
			if (o.Kind == design.Used || o.Kind == design.Supplied) && o.Context == m.Context {
				s.with[m.Label] = o.Label
				if o.Label[0] == ' ' {
					return s.refuse(o.Pos(), "write supplies "+m.Context.Name+" as "+m.Context.Name, "%s supplies %s without a name", own.Name, m.Context.Name)
				}
				return nil
			}
		}
		for _, n := range s.u.Path {
			if around, ok := n.(*design.Use); ok && slices.ContainsFunc(around.Component.Supplies, func(x *design.Supply) bool { return x.Use.Component == m.Context }) {
				return s.refuse(around.Start, "leave it a component", "%s is supplied around the content here, and %s is outside of that", m.Context.Name, own.Name)
			}
		}
		s.with[m.Label] = m.Label
		s.addMember(own, s.text(m.Syntax), beforeUses...)
	case design.Named:
		if own := s.u.User.Member(m.Label); own != nil {
			return s.refuse(m.Pos(), "give one of them another name: lien rename", "%s and %s both have %s", s.c.Name, s.u.User.Name, m.Label)
		}
	}
	return nil
}

// derived is what a derived value is worked out from, as it can be written at the use.
func (s *substitution) derived(m *design.Member, in names) (string, error) {
	x := m.Syntax.(*syntax.Derives).Value
	text, err := s.expression(x, in)
	return inParens(x, text), err
}

// expression is an expression of the component as its user writes it.
func (s *substitution) expression(x syntax.Expr, in names) (string, error) {
	own := &substitution{inlining: s.inlining, u: s.u, with: s.with, wrapped: s.wrapped, events: s.events, free: s.free}
	if err := own.names(x, in); err != nil {
		return "", err
	}
	return own.changed(x.Span()), nil
}

func (s *substitution) changed(at source.Span) string {
	return s.textWith(at, s.inner)
}

// names writes what stands for the names in a piece of text.
func (s *substitution) names(n syntax.Node, in names) (err error) {
	short, alone := map[source.Pos]bool{}, standAlone(n)
	syntax.Walk(n, func(n syntax.Node) bool {
		if f, ok := n.(*syntax.FieldLit); ok && f.Name != nil && f.Value == nil {
			short[f.Name.Start] = true
		}
		return true
	})
	if t, ok := n.(*syntax.Template); ok && len(t.Exprs) == 1 && t.Texts[0]+t.Texts[1] == "" {
		if x, ok := t.Exprs[0].(*syntax.Name); ok { // `${title}` of a template is that template
			own := &substitution{inlining: s.inlining, u: s.u, with: s.with, wrapped: s.wrapped, events: s.events, free: s.free}
			if err := own.names(x, in); err != nil {
				return err
			}
			if len(own.inner) == 1 && isText(own.inner[0].text) {
				s.inner = append(s.inner, textAt{t.Span(), own.inner[0].text})
				return nil
			}
		}
	}
	free(n, in, func(x *syntax.Name) {
		if err != nil {
			return
		}
		text, ok := s.with[x.Text]
		wrapped := s.wrapped[x.Text]
		if m := s.c.Member(x.Text); !ok && m != nil && m.Kind == design.Derives {
			text, err = s.derived(m, in)
			ok, wrapped = true, inParens(m.Syntax.(*syntax.Derives).Value, "") != ""
		}
		if !ok {
			return
		}
		if wrapped && alone[x.Start] {
			text = text[1 : len(text)-1]
		}
		if short[x.Start] {
			if text == x.Text {
				return
			}
			text = x.Text + ": " + text
		}
		s.inner = append(s.inner, textAt{x.Span(), text})
	})
	return err
}

// isText says whether an expression is a template, or a text as it stands.
func isText(x string) bool {
	return strings.HasPrefix(x, "`") || len(x) > 1 && x[0] == '"' && strings.Count(x, "\"") == 2 && strings.HasSuffix(x, "\"")
}

// standAlone are the names in a piece of text around which nothing binds: what is written for them needs no parentheses.
func standAlone(n syntax.Node) map[source.Pos]bool {
	alone := map[source.Pos]bool{}
	add := func(list ...syntax.Expr) {
		for _, x := range list {
			if name, ok := x.(*syntax.Name); ok {
				alone[name.Start] = true
			}
		}
	}
	add(n)
	syntax.Walk(n, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.Template:
			add(n.Exprs...)
		case *syntax.Call:
			add(n.Args...)
		case *syntax.Emit:
			add(n.Args...)
		case *syntax.Paren:
			add(n.X)
		}
		return true
	})
	return alone
}

// bound refuses names in the view that mean something else where it is to stand.
func (s *substitution) bound(words ...*syntax.Word) error {
	for _, w := range words {
		if w != nil && s.free[w.Text] {
			return s.refuse(w.Start, "give it another name: lien rename", "%s is named here, and something else at the use", w.Text)
		}
	}
	return nil
}

func (s *substitution) items(list []syntax.Item, in names) error {
	for _, it := range list {
		if err := s.item(it, in); err != nil {
			return err
		}
	}
	return nil
}

func (s *substitution) item(it syntax.Item, in names) error {
	switch it := it.(type) {
	case *syntax.Element:
		if it.Text != nil {
			if err := s.names(it.Text, in); err != nil {
				return err
			}
		}
		return s.items(it.Body, in)
	case *syntax.TextItem:
		return s.names(it.Value, in)
	case *syntax.When:
		if err := s.names(it.Cond, in); err != nil {
			return err
		}
		if err := s.items(it.Body, in); err != nil {
			return err
		}
		return s.items(it.Else, in)
	case *syntax.Each:
		if err := s.bound(it.Var, it.Index); err != nil {
			return err
		}
		if err := s.names(it.List, in); err != nil {
			return err
		}
		inner := in.with(it.Var, it.Index)
		if it.By != nil {
			if err := s.names(it.By, inner); err != nil {
				return err
			}
		}
		return s.items(it.Body, inner)
	case *syntax.Slot:
		return s.slot(it, in)
	case *syntax.Fill:
		inner := in
		for _, p := range it.Params {
			if err := s.bound(p.Name); err != nil {
				return err
			}
			inner = inner.with(p.Name)
		}
		return s.items(it.Body, inner)
	case *syntax.Link:
		return s.names(it.Value, in)
	case *syntax.Event:
		inner := in
		for _, p := range it.Params {
			inner = inner.with(p.Name)
		}
		return s.handler(it, inner)
	}
	return nil
}

// slot puts the content in place of the slot.
func (s *substitution) slot(it *syntax.Slot, in names) error {
	var content []syntax.Item
	found := false
	for _, b := range s.u.Node.Syntax.Body {
		switch b := b.(type) {
		case *syntax.Link, *syntax.Event:
		case *syntax.Fill:
			if it.Name != nil && b.Name.Text == it.Name.Text {
				if len(b.Params) > 0 {
					return s.refuse(b.Start, "leave it a component", "the content here receives what %s hands out", s.c.Name)
				}
				content, found = b.Body, true
			}
		default:
			if it.Name == nil {
				content, found = append(content, b), true
			}
		}
	}
	if !found {
		if err := s.items(it.Body, in); err != nil {
			return err
		}
		if len(it.Body) == 0 {
			s.inner = append(s.inner, textAt{it.Span(), ""})
			return nil
		}
		at := source.Span{Start: it.Body[0].Span().Start, End: it.Body[len(it.Body)-1].Span().End}
		s.inner = append(s.inner, textAt{it.Span(), s.changed(at)})
		return nil
	}
	texts := make([]string, len(content))
	for i, c := range content {
		texts[i] = s.text(c)
	}
	s.inner = append(s.inner, textAt{it.Span(), strings.Join(texts, "\n")})
	return nil
}

// handler puts what the user does with an event in place of its report.
func (s *substitution) handler(e *syntax.Event, in names) error {
	emits := map[source.Span]string{}
	var err error
	syntax.Walk(e.Do, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.Emit:
			if err == nil {
				emits[n.Span()], err = s.emit(n, in)
			}
			return false
		case *syntax.Forward:
			if err == nil {
				emits[n.Span()], err = s.forward(e, n)
			}
		case *syntax.Pass, *syntax.CallStmt:
			err = s.ownAction(n, err)
		}
		return err == nil
	})
	if err != nil {
		return err
	}
	if text, all := emits[e.Do.Span()]; all && text == "" {
		s.inner = append(s.inner, textAt{s.whole(e.Span()), ""})
		return nil
	}
	for at, text := range emits {
		s.inner = append(s.inner, textAt{at, text})
	}
	outside := func(x textAt) bool {
		for at := range emits {
			if at.Start <= x.at.Start && x.at.End <= at.End && x.at != at {
				return false
			}
		}
		return true
	}
	own := &substitution{inlining: s.inlining, u: s.u, with: s.with, wrapped: s.wrapped, events: s.events, free: s.free}
	if err := own.names(e.Do, in); err != nil {
		return err
	}
	for _, x := range own.inner {
		if outside(x) {
			s.inner = append(s.inner, x)
		}
	}
	return nil
}

func (s *substitution) ownAction(n syntax.Node, err error) error {
	if err != nil {
		return err
	}
	var fun syntax.Expr
	switch n := n.(type) {
	case *syntax.Pass:
		fun = n.Target
	case *syntax.CallStmt:
		fun = n.Call.Fun
	}
	if name, ok := fun.(*syntax.Name); ok {
		if m := s.c.Member(name.Text); m != nil && m.Kind == design.Action {
			return s.refuse(name.Start, "write what it does in the handler first", "%s has an action of its own, %s", s.c.Name, m.Label)
		}
	}
	return nil
}

// emit is what the user does with a report.
func (s *substitution) emit(e *syntax.Emit, in names) (string, error) {
	heard := s.events[e.Name.Text]
	if heard == nil {
		return "", nil
	}
	args := make([]string, len(e.Args))
	for i, a := range e.Args {
		text, err := s.expression(a, in)
		if err != nil {
			return "", err
		}
		args[i] = text
	}
	switch do := heard.Do.(type) {
	case *syntax.Pass:
		return s.text(do.Target) + "(" + strings.Join(args, ", ") + ")", nil
	case *syntax.Forward:
		to := e.Name.Text
		if do.Name != nil {
			to = do.Name.Text
		}
		return "emit " + to + "(" + strings.Join(args, ", ") + ")", nil
	}
	edits := []textEdit{}
	var lets []string
	for i, p := range heard.Params {
		if i >= len(args) {
			break
		}
		uses := 0
		free(heard.Do, names{}, func(x *syntax.Name) {
			if x.Text == p.Name.Text {
				uses++
			}
		})
		text := inParens(e.Args[i], args[i])
		if uses > 1 && text != args[i] {
			lets = append(lets, "const "+p.Name.Text+" = "+args[i])
			continue
		}
		alone := wholeValue(heard.Do, p.Name.Text)
		free(heard.Do, names{}, func(x *syntax.Name) {
			if x.Text != p.Name.Text {
				return
			}
			if alone {
				text = args[i]
			}
			from := heard.Do.Span().Start
			edits = append(edits, textEdit{int(x.Start - from), int(x.Stop - from), text})
		})
	}
	does := edited(s.text(heard.Do), edits)
	if len(lets) > 0 {
		does = "{ " + strings.Join(lets, "; ") + "; " + does + " }"
	}
	return does, nil
}

// wholeValue says whether a name is all that an assignment assigns, so that no parentheses are needed.
func wholeValue(s syntax.Stmt, name string) bool {
	a, ok := single(s).(*syntax.AssignStmt)
	if !ok || a.Op != syntax.Assign {
		return false
	}
	n, ok := a.Value.(*syntax.Name)
	return ok && n.Text == name
}

// forward is what the user does with an event of a child that was forwarded.
func (s *substitution) forward(e *syntax.Event, f *syntax.Forward) (string, error) {
	to := e.Name.Text
	if f.Name != nil {
		to = f.Name.Text
	}
	heard := s.events[to]
	if heard == nil {
		return "", nil
	}
	if len(heard.Params) > 0 {
		return "", s.refuse(f.Start, "name what the event carries here first", "what %s carries is named where %s is used", to, s.c.Name)
	}
	return s.text(heard.Do), nil
}
