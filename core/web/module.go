package web

import (
	"fmt"
	"slices"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/types"
)

// module is the module of a component.
func (w *writer) module(d *design.Component) string {
	c := w.code()
	body := c.componentOf(d)
	var head strings.Builder
	head.WriteString("import * as lien from \"../lien.js\";\n")
	if c.shares {
		head.WriteString("import * as design from \"../design.js\";\n")
	}
	delete(c.uses, d.Name)
	names := make([]string, 0, len(c.uses))
	for n := range c.uses {
		names = append(names, n)
	}
	sort.Strings(names)
	for _, n := range names {
		head.WriteString("import { " + jsName(n) + " } from \"./" + n + ".js\";\n")
	}
	return head.String() + "\n" + w.docOf(d) + body
}

// docOf are the comments right above a component, as they are written.
func (w *writer) docOf(d *design.Component) string {
	doc := ""
	for _, f := range w.d.Files {
		if f.Source != w.d.Set.File(d.Syntax.Start) {
			continue
		}
		for _, c := range f.Above(d.Syntax.Start) {
			doc += strings.TrimSpace(c.Text) + "\n"
		}
	}
	return doc
}

func (c *code) componentOf(d *design.Component) string {
	var members, parts []string
	groups := map[string][]string{}
	add := func(group, text string) { groups[group] = append(groups[group], text) }
	for _, m := range d.Members {
		switch {
		case m.HasValue():
			members = append(members, c.member(d, m))
		case m.Kind == design.Emits:
			names := make([]string, len(m.Sig))
			for i, p := range m.Sig {
				names[i] = quoted(p.Name)
			}
			add("emits", key(m.Label)+": ["+strings.Join(names, ", ")+"]")
		case m.Kind == design.Action:
			add("actions", key(m.Label)+": "+c.body(m.Body))
		case m.Kind == design.Derives:
			add("functions", key(m.Label)+": "+c.function(m.Args, m.Init))
		case m.Kind == design.Timer:
			every := ""
			if m.Every {
				every = "every: true, "
			}
			add("timers", key(m.Label)+": { "+every+"delay: "+c.function(m.Args, m.Init)+", does: "+c.body(m.Body)+" }")
		}
	}
	for _, h := range d.Hearings {
		add("hears", key(h.Channel.Name)+": "+c.body(h.Body))
	}
	var offers, slots []string
	for _, m := range d.Members {
		if m.Offered {
			offers = append(offers, quoted(m.Label))
		}
	}
	for _, s := range d.Slots {
		if fillable(s) {
			slots = append(slots, quoted(s.Name))
		}
	}
	if len(offers) > 0 {
		parts = append(parts, "offers: ["+strings.Join(offers, ", ")+"]")
	}
	if len(slots) > 0 {
		parts = append(parts, "slots: ["+strings.Join(slots, ", ")+"]")
	}
	if sheets := c.d.StylesOf(d); len(sheets) > 0 {
		parts = append(parts, "styled: true")
		if slices.ContainsFunc(sheets, func(s *design.Style) bool { return s.Sheet.HasSlotted() }) {
			parts = append(parts, "slotted: true")
		}
	}
	if f := d.Field(); f != nil {
		parts = append(parts, "field: "+quoted(f.Label))
	}
	if len(members) > 0 {
		parts = append(parts, "members: "+listed("[", members, "]"))
	}
	for _, g := range []string{"emits", "actions", "functions", "timers", "hears"} {
		if len(groups[g]) > 0 {
			parts = append(parts, g+": "+listed("{", groups[g], "}"))
		}
	}
	for _, unmount := range []bool{false, true} {
		var hooks []string
		for _, h := range d.Hooks {
			if h.Unmount == unmount {
				hooks = append(hooks, c.body(h.Body))
			}
		}
		if len(hooks) > 0 {
			parts = append(parts, map[bool]string{false: "mount: ", true: "unmount: "}[unmount]+listed("[", hooks, "]"))
		}
	}
	var follows []string
	for _, f := range d.Follows {
		follows = append(follows, "{ code: "+c.reader(&f.Unit)+", does: "+c.body(f.Body)+" }")
	}
	if len(follows) > 0 {
		parts = append(parts, "follows: "+listed("[", follows, "]"))
	}
	if !d.IsContext {
		parts = append(parts, "view: "+c.nodes(d.View, 0))
	}
	text := "export const " + jsName(d.Name) + " = lien.component(" + quoted(d.Name) + ", " + listed("{", parts, "}") + ");\n"
	if !d.IsContext {
		text += "\nlien.define(" + jsName(d.Name) + ");\n"
	}
	return text
}

// function is a function of an instance: (own, a, b) => value.
func (c *code) function(params []*types.Local, u *design.Unit) string {
	names := ""
	for _, p := range params {
		names += ", " + local(p)
	}
	return "(own" + names + ") => " + asValue(c.expr(u.Expr))
}

func asValue(text string) string {
	if strings.HasPrefix(text, "{") {
		return "(" + text + ")"
	}
	return text
}

// member is a member that has a value.
func (c *code) member(d *design.Component, m *design.Member) string {
	head := "{ kind: " + quoted(m.Kind.String()) + ", name: " + quoted(m.Label)
	switch m.Kind {
	case design.Supplied:
		for _, s := range d.Supplies {
			if s.Member == m {
				return head + ", of: () => " + c.component(m.Context) + ", links: " + c.given(s.Use, own) + " }"
			}
		}
	case design.Used:
		head += ", of: () => " + c.component(m.Context)
		if types.Nullable(m.Type()) {
			head += ", may: true"
		}
		if len(m.Hears) > 0 {
			var on []string
			for _, h := range m.Hears {
				on = append(on, key(h.Event.Label)+": "+c.body(h.Body))
			}
			head += ", on: " + listed("{", on, "}")
		}
		return head + " }"
	case design.Gathered:
		kinds := make([]string, len(m.Kinds))
		for i, k := range m.Kinds {
			kinds[i] = c.component(k)
		}
		return head + ", of: () => [" + strings.Join(kinds, ", ") + "] }"
	}
	if kind := attributeOf(m); kind != "" {
		head += ", attr: " + quoted(kind)
		if list := oneOf(m.Type()); list != "" {
			head += ", one: " + list
		}
	}
	if m.Kind == design.Takes && !m.Implied && m.Init == nil {
		if types.Nullable(m.Type()) {
			head += ", may: true"
		} else if attributeOf(m) != "boolean" {
			head += ", need: true"
		}
	}
	if m.Init != nil && m.Init.Expr != nil {
		head += ", code: " + c.reader(m.Init)
	}
	if m.Kind == design.Derives && m.Body != nil {
		head += ", set: " + c.body(m.Body)
	}
	return head + " }"
}

// shared is the module of what stands at the top of the design's files.
func (w *writer) shared() string {
	c := w.code()
	c.top = true
	for _, f := range w.d.Functions {
		names := make([]string, len(f.Params))
		for i, p := range f.Params {
			names[i] = local(p)
		}
		c.line("export const %s = (%s) => %s;", free(f.Label), strings.Join(names, ", "), asValue(c.expr(f.Unit.Expr)))
	}
	for _, k := range inOrder(w.d.Consts) {
		text := ""
		if k.Data != nil {
			text = constant(k.Data)
		} else {
			text = c.expr(k.Unit.Expr)
		}
		c.line("export const %s = %s;", free(k.Label), text)
	}
	var services []string
	for _, s := range w.d.Services {
		var ops []string
		for _, o := range s.Operations {
			ops = append(ops, key(o.Name)+": "+c.operation(o))
		}
		services = append(services, fmt.Sprintf("export const %s = lien.service(%s, %s);\n", jsName(s.Name), quoted(s.Name), listed("{", ops, "}")))
	}
	head := "import * as lien from \"./lien.js\";\n"
	if asksOverHTTP(w.d, w.o) {
		head += "import * as http from \"./http.js\";\n"
		c.WriteString(c.named())
	}
	return head + "\n" + c.String() + strings.Join(services, "")
}

// inOrder puts constants behind those that they are worked out from, themselves or through functions.
func inOrder(list []*design.Const) (ordered []*design.Const) {
	seen := map[types.Symbol]bool{}
	var visit func(types.Symbol, *design.Unit)
	visit = func(s types.Symbol, u *design.Unit) {
		if seen[s] {
			return
		}
		seen[s] = true
		if u.Expr != nil {
			design.Visitor{Expr: func(x types.Expr) {
				ref, ok := x.(*types.Ref)
				if !ok {
					return
				}
				switch s := ref.Symbol.(type) {
				case *design.Const:
					visit(s, &s.Unit)
				case *design.Function:
					visit(s, &s.Unit)
				}
			}}.Unit(u)
		}
		if k, ok := s.(*design.Const); ok {
			ordered = append(ordered, k)
		}
	}
	for _, k := range list {
		visit(k, &k.Unit)
	}
	return ordered
}

// operation is what stands in for an operation of a service.
func (c *code) operation(o *design.Operation) string {
	if o.HTTP != nil && asksOverHTTP(c.d, c.o) {
		return "{ send: " + c.asks(o) + " }"
	}
	var parts []string
	at := 0
	add := func(u *design.Unit) string {
		names := make([]string, len(o.Params[at]))
		for i, p := range o.Params[at] {
			names[i] = local(p)
		}
		at++
		return "(" + strings.Join(names, ", ") + ") => " + asValue(c.expr(u.Expr))
	}
	if o.Replies != nil {
		parts = append(parts, "replies: "+add(o.Replies))
	}
	if o.After != nil {
		parts = append(parts, "after: "+add(o.After))
	}
	var fails []string
	for _, f := range o.Fails {
		fails = append(fails, add(f))
	}
	if len(fails) > 0 {
		parts = append(parts, "fails: ["+strings.Join(fails, ", ")+"]")
	}
	return object(parts)
}

// attributeOf is the kind of an attribute by which a member can be given from HTML: of texts, numbers, booleans and
// unions of literals; or "".
func attributeOf(m *design.Member) string {
	if m.Kind != design.Takes && m.Kind != design.Shares {
		return ""
	}
	t := types.NonNull(types.Widen(m.Type()))
	switch {
	case types.Assignable(t, types.Boolean):
		return "boolean"
	case types.Assignable(t, types.Number):
		return "number"
	case types.Assignable(t, types.String):
		return "text"
	}
	return ""
}
