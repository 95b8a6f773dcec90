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

// ExtractOptions say what is cut out, and how.
type ExtractOptions struct {
	File     string // the name of the file, as messages show it; its end is enough
	From, To int    // lines, counted from 1
	Name     string // of the new component; "" proposes one
	Move     []string
	Keep     []string
	All      bool // other places with the same part use the component, too
}

// Extract makes a component of a part of a view. What the part reads is taken, what it does to its parent is
// reported; cells and derived values that only it uses move along.
func Extract(d *design.Design, o ExtractOptions, reload Reload) (*Result, error) {
	x := &extraction{draft: &draft{d: d}, o: o, events: map[string]*reported{}, moving: map[*design.Member]bool{}}
	if err := x.prepare(); err != nil {
		return nil, err
	}
	same := x.elsewhere()
	parts := []source.Span{x.span}
	for _, y := range same {
		if o.All && y.c == x.c {
			parts = append(parts, y.span)
		}
	}
	if err := x.styles(parts); err != nil {
		return nil, err
	}
	x.write()
	x.everywhere(same)
	return x.finish(reload)
}

// prepare finds the part, and all that crosses its border.
func (x *extraction) prepare() error {
	for _, step := range []func() error{x.find, x.name, x.whatMoves, x.borders} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// extraction is a part of a view on its way out.
type extraction struct {
	*draft
	o      ExtractOptions
	c      *design.Component
	items  []syntax.Item
	span   source.Span
	called string                // the new component
	around map[string]types.Type // what eaches and fills around the part name
	single bool                  // the part is there once, as long as its component

	moving        map[*design.Member]bool
	order         []*design.Member // those that move, in the order of the text
	takes         []taken
	readAt        map[string][]source.Pos // where the part reads a name
	shares        []taken
	uses          []string
	events        map[string]*reported
	eventsInOrder []*reported
	inner         []textAt // edits in the text that is cut out
	rules         []string // of styles that go along
	later         []func() // edits of the sheets that they stood in
}

// taken is a value that is handed in, and how its user writes it.
type taken struct{ name, typ, first, given string }

// reported is an event of the new component, with what its user does then.
type reported struct {
	name   string
	params []string // with their types
	names  []string
	does   string
}

// textAt is an edit in the text that is cut out.
type textAt struct {
	at   source.Span
	text string
}

// find finds the items that stand on the lines.
func (x *extraction) find() error {
	f, err := x.fileNamed(x.o.File)
	if err != nil {
		return err
	}
	if x.o.To == 0 {
		x.o.To = x.o.From
	}
	if x.o.From < 1 || x.o.To < x.o.From || x.o.From > f.Source.Lines() {
		return &Refusal{Why: fmt.Sprintf("%s has no line %d", f.Source.Name, x.o.From), Do: fmt.Sprintf("it has the lines 1 to %d", f.Source.Lines())}
	}
	for _, decl := range f.Decls {
		c, ok := decl.(*syntax.Component)
		if !ok || f.Source.LineOf(c.Start) > x.o.From || f.Source.LineOf(c.Stop-1) < x.o.From {
			continue
		}
		x.c = x.d.Component(c.Name.Text)
		for _, m := range c.Members {
			if v, ok := m.(*syntax.View); ok && x.c != nil {
				x.items = x.itemsOn(f.Source, v.Body)
			}
		}
	}
	if len(x.items) == 0 {
		return &Refusal{At: source.Position{File: f.Source.Name, Line: x.o.From, Column: 1}, Why: "no part of a view begins here", Do: "name the line on which an element, component, text, when or each begins"}
	}
	x.span = source.Span{Start: x.items[0].Span().Start, End: x.items[len(x.items)-1].Span().End}
	x.surroundings()
	return nil
}

func (w *draft) fileNamed(name string) (*syntax.File, error) {
	var names []string
	for _, f := range w.d.Files {
		if f.Source.Name == name || f.Source.Path == name || strings.HasSuffix(f.Source.Name, "/"+name) {
			return f, nil
		}
		names = append(names, f.Source.Name)
	}
	return nil, &Refusal{Why: "the design has no file " + name, Do: "it has: " + strings.Join(names, ", ")}
}

// itemsOn are the items that begin on the lines and stand side by side: of one that begins there all of it is
// meant.
func (x *extraction) itemsOn(f *source.File, list []syntax.Item) (found []syntax.Item) {
	for _, it := range list {
		switch it.(type) {
		case *syntax.Link, *syntax.Event, *syntax.Fill:
			continue
		}
		if line := f.LineOf(it.Span().Start); line >= x.o.From && line <= x.o.To {
			found = append(found, it)
		}
	}
	if len(found) > 0 {
		return found
	}
	for _, it := range list {
		if f.LineOf(it.Span().Start) <= x.o.From && f.LineOf(it.Span().End-1) >= x.o.From {
			for _, inner := range bodiesOf(it) {
				if found = x.itemsOn(f, inner); len(found) > 0 {
					return found
				}
			}
		}
	}
	return nil
}

// bodiesOf are the lists of items in an item.
func bodiesOf(it syntax.Item) [][]syntax.Item {
	switch it := it.(type) {
	case *syntax.Element:
		return [][]syntax.Item{it.Body}
	case *syntax.When:
		return [][]syntax.Item{it.Body, it.Else}
	case *syntax.Each:
		return [][]syntax.Item{it.Body}
	case *syntax.Slot:
		return [][]syntax.Item{it.Body}
	case *syntax.Fill:
		return [][]syntax.Item{it.Body}
	}
	return nil
}

// surroundings notes what is named around the part.
func (x *extraction) surroundings() {
	x.around, x.single = map[string]types.Type{}, true
	local := func(l *design.ViewLocal) {
		if l != nil {
			x.around[l.Label] = l.Typ
		}
	}
	inside := func(at source.Span) bool { return at.Start <= x.span.Start && x.span.End <= at.End && at != x.span }
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Each:
			if inside(n.Syntax.Span()) && n.Syntax.List.Span().End < x.span.Start {
				local(n.Item)
				local(n.Index)
				x.single = false
			}
		case *design.When:
			if inside(n.Syntax.Span()) {
				x.single = false
			}
		case *design.Use:
			for _, f := range n.Fills {
				if inside(n.Syntax.Span()) && bodyHas(f.Body, x.span) {
					for _, p := range f.Params {
						local(p)
					}
					x.single = false
				}
			}
		}
	}}.Nodes(x.c.View)
}

func bodyHas(list []design.Node, at source.Span) bool {
	for _, n := range list {
		if s := n.Span(); s.Start <= at.Start && at.End <= s.End {
			return true
		}
	}
	return false
}

// name settles what the component is called.
func (x *extraction) name() error {
	x.called = x.o.Name
	if x.called == "" {
		x.called = x.proposed()
		x.chose("the component is called %s; --name gives it another name", x.called)
	}
	if !strings.Contains(x.called, "-") {
		return x.refuse(x.span.Start, "write a name with a hyphen, such as "+x.proposed(), "%s has no hyphen, as HTML asks of the names of custom elements", x.called)
	}
	if x.d.Component(x.called) != nil {
		return x.refuse(x.d.Component(x.called).Syntax.Start, "choose another name", "there is a component %s already", x.called)
	}
	return nil
}

// proposed is a name after the class or the element that is cut out.
func (x *extraction) proposed() string {
	first, _, _ := strings.Cut(x.c.Name, "-")
	word := "part"
	syntax.Walk(x.items[0], func(n syntax.Node) bool {
		el, ok := n.(*syntax.Element)
		if !ok || word != "part" {
			return true
		}
		switch {
		case len(el.Classes) > 0:
			word = el.Classes[0].Text
		case el.Name.Text == "li" || el.Name.Text == "tr":
			word = "item"
		case el.Name.Text == "form" || el.Name.Text == "dialog" || el.Name.Text == "nav" || el.Name.Text == "header" || el.Name.Text == "footer":
			word = el.Name.Text
		}
		return false
	})
	if word == first {
		word = "part"
	}
	name := first + "-" + word
	for n := 2; x.d.Component(name) != nil; n++ {
		name = fmt.Sprintf("%s-%s-%d", first, word, n)
	}
	return name
}

func (x *extraction) inside(at source.Pos) bool { return x.span.Start <= at && at < x.span.End }

// whatMoves finds the cells and derived values that only the part uses.
func (x *extraction) whatMoves() error {
	for _, name := range append(append([]string{}, x.o.Move...), x.o.Keep...) {
		if m := x.c.Member(name); m == nil || !m.IsCell() && m.Kind != design.Derives && m.Kind != design.ConstMember {
			return x.refuse(x.span.Start, "name a cell, constant or derived value of "+x.c.Name, "%s has no %s that could move", x.c.Name, name)
		}
	}
	for _, m := range x.c.Members {
		if x.movable(m) {
			x.moving[m] = true
		}
	}
	for again := true; again; { // those that something else uses, or that do what cannot be reported, stay
		again = false
		reached := x.reachedByPart()
		for _, m := range x.c.Members {
			if x.moving[m] && !(reached[m] && !x.usedOutside(m).Valid() && (m.Kind != design.Action || x.movesWhole(m)) && (m.Kind != design.Derives || !x.readLate(m))) {
				delete(x.moving, m)
				again = true
			}
		}
	}
	if err := x.mustMove(); err != nil {
		return err
	}
	for _, m := range x.c.Members {
		if x.moving[m] {
			x.order = append(x.order, m)
			x.did("%s moves along: only this part uses it", m.Label)
		}
	}
	return nil
}

func (x *extraction) movable(m *design.Member) bool {
	if slices.Contains(x.o.Keep, m.Label) || m.Offered || m.Implied {
		return false
	}
	if slices.Contains(x.o.Move, m.Label) {
		return true
	}
	switch m.Kind {
	case design.Holds:
		cell := m.Syntax.(*syntax.Cell)
		return x.single && cell.Value != nil && readOf(x.c, cell.Value) == nil
	case design.Derives:
		d, ok := m.Syntax.(*syntax.Derives)
		return ok && d.Set == nil
	case design.ConstMember:
		return x.single
	case design.Action:
		return x.single
	}
	return false
}

// reachedByPart are the members that the part uses, itself or by others that move along.
func (x *extraction) reachedByPart() map[*design.Member]bool {
	reached := map[*design.Member]bool{}
	var in func(n syntax.Node)
	in = func(n syntax.Node) {
		walk := &scopes{visit: func(n *syntax.Name, _ bool) {
			if m := x.c.Member(n.Text); m != nil && !reached[m] {
				if reached[m] = true; x.moving[m] {
					in(m.Syntax)
				}
			}
		}}
		walk.node(n, names{})
	}
	for _, it := range x.items {
		in(it)
	}
	return reached
}

// mustMove refuses what was to move, and cannot.
func (x *extraction) mustMove() error {
	for _, name := range x.o.Move {
		m := x.c.Member(name)
		if x.moving[m] {
			continue
		}
		if at := x.usedOutside(m); at.Valid() {
			return x.refuse(at, "leave out --move "+name+": it is linked then, or cut out this place, too", "%s cannot move: it is used here, outside of the part", name)
		}
		return x.refuse(m.Pos(), "leave out --move "+name, "%s cannot move: the part does not use it, or changes before it is asked what it is worked out from", name)
	}
	return nil
}

// usedOutside is where a member is used that the part does not take along, if anywhere.
func (x *extraction) usedOutside(m *design.Member) (at source.Pos) {
	look := func(place source.Pos) {
		if at.Valid() || x.inside(place) {
			return
		}
		for o := range x.moving {
			if s := o.Syntax.Span(); s.Start <= place && place < s.End {
				return
			}
		}
		at = place
	}
	v := design.Visitor{Effect: func(e design.Effect) {
		switch {
		case e.Kind == design.Reads && e.Symbol == types.Symbol(m) || e.Kind == design.Writes && e.Place != nil && e.Place.Cell() == m && e.At.Span().Start.Valid():
			look(e.At.Span().Start)
		case e.Kind == design.Writes && e.Place != nil && e.Place.Cell() == m:
			look(e.Place.At.Start)
		}
	}}
	v.Design(x.d)
	v.Laws(x.d)
	v.Scenarios(x.d)
	for _, s := range x.d.Starts {
		for _, g := range s.Seeds {
			if g.Member == m {
				look(g.Syntax.Start)
			}
		}
	}
	return at
}

// readLate says whether a derived value is read after a statement that acts on what stays, of which it is worked out:
// what the part reports would be what it was before.
func (x *extraction) readLate(m *design.Member) (late bool) {
	if !x.restsOn(m) {
		return false
	}
	look := func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.Block:
			acted := false
			for _, s := range n.Stmts {
				late = late || acted && usesName(s, m.Label)
				acted = acted || x.actsOutside(s, names{})
			}
		case *syntax.For:
			late = late || usesName(n.Body, m.Label) && x.actsOutside(n.Body, names{})
		}
		return !late
	}
	for _, it := range x.items {
		syntax.Walk(it, look)
	}
	for o := range x.moving {
		syntax.Walk(o.Syntax, look)
	}
	return late
}

// restsOn says whether a derived value reads what stays, itself or by others that move along.
func (x *extraction) restsOn(m *design.Member) (rests bool) {
	free(m.Syntax, names{}, func(n *syntax.Name) {
		o := x.c.Member(n.Text)
		switch {
		case o == nil || o == m || rests || o.Kind == design.ConstMember:
		case !x.moving[o]:
			rests = true
		case o.Kind == design.Derives:
			rests = x.restsOn(o)
		}
	})
	return rests
}

// write writes the new component, and its use in place of the part.
func (x *extraction) write() {
	at, above := x.span, ""
	if lead := x.whole(source.Span{Start: x.span.Start, End: x.items[0].Span().End}).Start; lead < x.span.Start {
		above = strings.TrimSpace(x.d.Text(source.Span{Start: lead, End: x.span.Start}))
	}
	if above != "" { // what is said of the part is said of the component
		above += "\n"
		at.Start = x.whole(source.Span{Start: x.span.Start, End: x.items[0].Span().End}).Start
	}
	x.insert(x.c.Syntax.Stop, "\n\n"+above+x.component())
	x.used(at)
	for _, edit := range x.later {
		edit()
	}
	if len(x.later) > 0 {
		x.did("the styles go along that only this part uses")
	}
	x.did("the part of %s is a component of its own now, %s", x.c.Name, x.called)
}

// component is the text of the new component.
func (x *extraction) component() string {
	var out strings.Builder
	fmt.Fprintf(&out, "component %s {\n", x.called)
	for _, t := range x.takes {
		fmt.Fprintf(&out, "takes %s: %s\n", t.name, t.typ)
	}
	for _, t := range x.shares {
		fmt.Fprintf(&out, "shares %s: %s = %s\n", t.name, t.typ, t.first)
	}
	for _, e := range x.eventsInOrder {
		fmt.Fprintf(&out, "emits %s(%s)\n", e.name, strings.Join(e.params, ", "))
	}
	for _, m := range x.order {
		if m.Kind == design.Holds || m.Kind == design.ConstMember {
			out.WriteString(x.moved(m.Syntax.Span(), x.changed(m.Syntax.Span())) + "\n")
		}
	}
	for _, u := range x.uses {
		out.WriteString(u + "\n")
	}
	for _, m := range x.order {
		if m.Kind == design.Derives || m.Kind == design.Action {
			out.WriteString("\n" + x.moved(m.Syntax.Span(), x.changed(m.Syntax.Span())) + "\n")
		}
	}
	if len(x.rules) > 0 {
		fmt.Fprintf(&out, "\nstyle {\n%s\n}\n", strings.Join(x.rules, "\n"))
	}
	fmt.Fprintf(&out, "\nview {\n%s\n}\n}", x.changed(x.span))
	return out.String()
}

// used writes the use of the component in place of a text, and takes out what moved into it.
func (x *extraction) used(at source.Span) {
	for _, m := range x.order {
		x.draft.take(m.Syntax.Span())
	}
	var links []string
	for _, t := range x.takes {
		links = append(links, t.name+" <- "+t.given)
	}
	for _, t := range x.shares {
		links = append(links, t.name+" <-> "+t.given)
	}
	for _, e := range x.eventsInOrder {
		names := ""
		if len(e.names) > 0 {
			names = "(" + strings.Join(e.names, ", ") + ")"
		}
		links = append(links, e.name+names+" -> "+e.does)
	}
	use := x.called
	if len(links) > 0 {
		use += block(links)
	}
	x.replace(at, use)
}

// changed is the text of a place with the edits in it.
func (x *extraction) changed(at source.Span) string { return x.textWith(at, x.inner) }
