package web

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lien/core/design"
	"lien/core/html"
	"lien/core/types"
	"lien/core/value"
)

func number(n int) string { return strconv.Itoa(n) }

// nodes are pieces of a view. The level counts the blocks with locals around them.
func (c *code) nodes(list []design.Node, level int) string {
	if len(list) == 0 {
		return "[]"
	}
	lines := make([]string, len(list))
	for i, n := range list {
		lines[i] = c.node(n, level)
	}
	return listed("[", lines, "]")
}

// listed are pieces on lines of their own.
func listed(open string, lines []string, end string) string {
	if len(lines) == 0 {
		return open + end
	}
	return open + "\n  " + indented(strings.Join(lines, ",\n"), "  ") + ",\n" + end
}

func (c *code) node(n design.Node, level int) string {
	switch n := n.(type) {
	case *design.Element:
		return c.element(n, level)
	case *design.Text:
		if k, ok := n.Unit.Expr.(*types.Const); ok {
			return "lien.text(" + quoted(value.Text(k.Value)) + ")"
		}
		if m := memberShown(n.Unit.Expr); m != nil {
			return "lien.text(null, " + quoted(m.Label) + ")"
		}
		return "lien.text(" + c.reader(&n.Unit) + ")"
	case *design.When:
		branches := make([]string, len(n.Branches))
		for i, b := range n.Branches {
			cond := "null"
			if b.Cond != nil {
				cond = c.reader(b.Cond)
			}
			branches[i] = "[" + cond + ", " + c.nodes(b.Body, level) + "]"
		}
		return listed("lien.when("+number(level)+",", branches, ")")
	case *design.Each:
		return c.each(n, level)
	case *design.Use:
		return "lien.use(() => " + c.component(n.Component) + ", " + c.given(n, c.handedOn) + ")"
	case *design.SlotPlace:
		data := make([]string, len(n.Data))
		for i := range n.Data {
			data[i] = c.reader(&n.Data[i])
		}
		names := make([]string, len(n.Names))
		for i, n := range n.Names {
			names[i] = quoted(n)
		}
		return "lien.slot(" + number(level) + ", " + quoted(n.Name) + ", [" + strings.Join(names, ", ") + "], [" + strings.Join(data, ", ") + "], " + c.nodes(n.Fallback, level) + ")"
	}
	panic("web: a node of an unknown kind")
}

// reader is a function that works an expression out.
func (c *code) reader(u *design.Unit) string {
	text := c.expr(u.Expr)
	if strings.HasPrefix(text, "{") {
		text = "(" + text + ")"
	}
	return "(own, at) => " + text
}

func (c *code) each(n *design.Each, level int) string {
	parts := []string{"code: " + c.reader(&n.List)}
	if n.By != nil {
		parts = append(parts, "by: "+c.reader(n.By))
	}
	if n.Place != nil {
		parts = append(parts, "set: (own, at, list) => { "+c.assign(n.Place, "list")+"; }")
	}
	parts = append(parts, "level: "+number(level+1), "locals: "+number(n.Locals), "at: "+c.at(n.List.Expr.Span()), "body: "+c.nodes(n.Body, level+1))
	return listed("lien.each({", parts, "})")
}

func (c *code) element(n *design.Element, level int) string {
	var attrs []string
	parts := classes(n.Classes)
	for _, a := range n.Attrs {
		if !html.IsProgram(a.Name) { // whatever it holds
			attrs = append(attrs, c.attr(a.Name, kindOf(n.Tag, a.Name), &a.Unit))
		}
	}
	for _, a := range n.Marks {
		attrs = append(attrs, c.attr(a.Name, ", kind: \"class\"", &a.Unit))
	}
	var ties []string
	for _, t := range n.Ties {
		attrs = append(attrs, c.attr(t.Name, ", kind: \"prop\"", &t.Read))
		ties = append(ties, "{ name: "+quoted(t.Name)+heldAs(t.Name, t.Write.Typ)+", set: (own, at, v) => { "+c.assign(t.Write, "v")+"; } }")
	}
	if len(attrs) > 0 {
		parts = append(parts, "attrs: "+listed("[", attrs, "]"))
	}
	if len(ties) > 0 {
		parts = append(parts, "ties: "+listed("[", ties, "]"))
	}
	if len(n.Handlers) > 0 {
		parts = append(parts, "on: "+c.handlers(n.Handlers))
	}
	if n.Named != nil {
		parts = append(parts, "named: "+named(n.Named))
	}
	if rec, ok := n.Values.(*types.Record); ok {
		fields := make([]string, len(rec.Fields))
		for i, f := range rec.Fields {
			_, list := types.Under(f.Type).(*types.List)
			fields[i] = fmt.Sprintf("%s: %v", key(f.Name), list)
		}
		parts = append(parts, "form: "+object(fields))
	}
	return "lien.element(" + quoted(n.Tag) + ", " + listed("{", parts, "}") + ", " + c.nodes(n.Children, level) + ")"
}

// classes are those that always stand.
func classes(list []string) []string {
	if len(list) == 0 {
		return nil
	}
	names := make([]string, len(list))
	for i, k := range list {
		names[i] = quoted(k)
	}
	return []string{"classes: [" + strings.Join(names, ", ") + "]"}
}

func kindOf(tag, attr string) string {
	switch {
	case html.IsProperty(tag, attr):
		return ", kind: \"prop\""
	case html.PrintsBooleans(attr):
		return ", prints: true"
	case html.IsAddress(attr):
		return ", leads: true"
	}
	return ""
}

func (c *code) attr(name, kind string, u *design.Unit) string {
	if k, ok := u.Expr.(*types.Const); ok {
		return "{ name: " + quoted(name) + kind + ", value: " + constant(k.Value) + " }"
	}
	if m := memberShown(u.Expr); m != nil {
		return "{ name: " + quoted(name) + kind + ", member: " + quoted(m.Label) + " }"
	}
	return "{ name: " + quoted(name) + kind + ", code: " + c.reader(u) + " }"
}

// heldAs says how a tied value is made of the text that a field holds, where it is no plain text.
func heldAs(property string, t types.Type) string {
	switch list := oneOf(t); {
	case property != "value":
		return ""
	case types.Assignable(types.NonNull(types.Widen(t)), types.Number):
		return ", as: lien." + map[bool]string{true: "number", false: "numberOnly"}[types.Nullable(t)]
	case list != "":
		return ", as: lien.among(" + list + ")"
	}
	return ""
}

// oneOf lists the literals that a value can be, where it cannot be every text or number.
func oneOf(t types.Type) string {
	var one []string
	for _, m := range types.Members(types.NonNull(t)) {
		l, ok := m.(types.Literal)
		if !ok {
			return ""
		}
		one = append(one, constant(l.Value))
	}
	return "[" + strings.Join(one, ", ") + "]"
}

// handlers are those of an element, by their events.
func (c *code) handlers(list []*design.Handler) string {
	var names []string
	bodies := map[string][]string{}
	for _, h := range list {
		if !slices.Contains(names, h.Name) {
			names = append(names, h.Name)
		}
		bodies[h.Name] = append(bodies[h.Name], c.body(h.Body))
	}
	parts := make([]string, len(names))
	for i, n := range names {
		parts[i] = key(n) + ": [" + strings.Join(bodies[n], ", ") + "]"
	}
	return listed("{", parts, "}")
}

func named(s types.Symbol) string {
	switch s := s.(type) {
	case *design.Member:
		return quoted(s.Label)
	case *design.ViewLocal:
		return fmt.Sprintf("[%d, %d]", s.Level, s.Slot)
	}
	panic("web: a name of an unknown kind")
}

// own is for links of what does not stand in a view: each is a value of its own.
func own(*design.Given) *design.Member { return nil }

// given is what the user of a component links to it; handed are the members of which a link needs but the name.
func (c *code) given(n *design.Use, handed func(*design.Given) *design.Member) string {
	parts := classes(n.Classes)
	if len(n.Marks) > 0 {
		marks := make([]string, len(n.Marks))
		for i, m := range n.Marks {
			marks[i] = c.attr(m.Name, "", &m.Unit)
		}
		parts = append(parts, "marks: "+listed("[", marks, "]"))
	}
	add := func(name string, list []string) {
		if len(list) > 0 {
			parts = append(parts, name+": "+listed("{", list, "}"))
		}
	}
	var links, ties, seeds, on, fills []string
	for _, l := range n.Links {
		from := c.reader(&l.Unit)
		if m := handed(l); m != nil {
			from = quoted(m.Label)
		}
		links = append(links, key(l.Member.Label)+": "+from)
	}
	for _, l := range n.Ties {
		links = append(links, key(l.Member.Label)+": "+c.reader(&l.Unit))
		ties = append(ties, key(l.Member.Label)+": (own, at, v) => { "+c.assign(l.Place, "v")+"; }")
	}
	for _, l := range n.Seeds {
		seeds = append(seeds, key(l.Member.Label)+": "+c.reader(&l.Unit))
	}
	for _, h := range n.Handlers {
		on = append(on, key(h.Event.Label)+": "+c.body(h.Body))
	}
	for _, f := range n.Fills {
		fills = append(fills, fmt.Sprintf("%s: { level: %d, locals: %d, receives: %v, body: %s }", key(f.Name), f.Level, f.Locals, len(f.Params) > 0, c.nodes(f.Body, f.Level)))
	}
	add("links", links)
	add("ties", ties)
	add("seeds", seeds)
	add("on", on)
	add("fills", fills)
	if n.Named != nil {
		parts = append(parts, "named: "+named(n.Named))
	}
	return listed("{", parts, "}")
}
