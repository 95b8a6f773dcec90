package web

import (
	"strings"

	"lien/core/design"
	"lien/core/types"
)

// What an element of a component offers to any page: its contract, once, as both descriptions of it are written from it.

// contract is that of one component.
type contract struct {
	of      *design.Component
	element string // the name of its interface: WareCardElement
	doc     string // the comments right above the component, without their slashes
	props   []property
	methods []*design.Member
	events  []event
	slots   []slot
}

// property is what is read, or written, on an element.
type property struct {
	name, typ, attr string // attr: the attribute of it, or ""
	readonly        bool
}

// event is what an element tells: the fields of its detail.
type event struct {
	name   string
	detail []types.Param
}

// slot is a place for content; one that hands out data takes a function.
type slot struct {
	name   string
	handed []types.Param
}

// contracts are those of all components that are no contexts, in the order of the text.
func (w *writer) contracts() (list []contract) {
	for _, c := range w.d.Components {
		if !c.IsContext {
			list = append(list, w.contract(c))
		}
	}
	return list
}

func (w *writer) contract(c *design.Component) contract {
	k := contract{of: c, element: titled(jsName(c.Name)) + "Element", doc: plain(w.docOf(c))}
	for _, m := range c.Members {
		switch {
		case m.Kind == design.Takes || m.Kind == design.Shares:
			attr := ""
			if attributeOf(m) != "" {
				attr = strings.ToLower(m.Label)
			}
			k.props = append(k.props, property{m.Label, script(m.Type()), attr, false})
			if m.Kind == design.Shares {
				k.events = append(k.events, event{m.Label + "change", []types.Param{{Name: m.Label, Type: m.Type()}}})
			}
		case m.Kind == design.Emits:
			k.events = append(k.events, event{m.Label, m.Sig})
		case m.Offered && (m.Call || m.Kind == design.Action):
			k.methods = append(k.methods, m)
		case m.Offered:
			k.props = append(k.props, property{m.Label, script(m.Type()), "", true})
		}
	}
	for _, s := range c.Slots {
		handed := make([]types.Param, len(s.Names))
		for i, n := range s.Names {
			handed[i] = types.Param{Name: n, Type: s.Data[i].Expr.Type()}
		}
		k.slots = append(k.slots, slot{s.Name, handed})
	}
	return k
}

// plain is the text of comments.
func plain(doc string) string {
	var lines []string
	for _, l := range strings.Split(strings.TrimSpace(doc), "\n") {
		lines = append(lines, strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(l), "//")))
	}
	return strings.Join(lines, "\n")
}

// script is a type as TypeScript writes it. Values of a Key are texts there, and what is no data is unknown.
func script(t types.Type) string {
	switch t := t.(type) {
	case types.Basic:
		switch t {
		case types.Key:
			return "string"
		case types.Never:
			return "never"
		case types.Any:
			return "unknown"
		}
		return t.String()
	case types.Literal:
		return t.String()
	case *types.Named:
		return t.Name
	case *types.List:
		if _, union := t.Elem.(*types.Union); union {
			return "(" + script(t.Elem) + ")[]"
		}
		return script(t.Elem) + "[]"
	case *types.Record:
		parts := make([]string, len(t.Fields))
		for i, f := range t.Fields {
			parts[i] = key(f.Name) + ": " + script(f.Type)
			if f.Optional {
				parts[i] = key(f.Name) + "?: " + script(f.Type)
				if !types.Nullable(f.Type) {
					parts[i] += " | null"
				}
			}
		}
		if len(parts) == 0 {
			return "{}"
		}
		return "{ " + strings.Join(parts, "; ") + " }"
	case *types.Union:
		parts := make([]string, len(t.Members))
		for i, m := range t.Members {
			if parts[i] = script(m); strings.Contains(parts[i], "=>") {
				parts[i] = "(" + parts[i] + ")"
			}
		}
		return strings.Join(parts, " | ")
	case *types.Func:
		return "(" + parameters(t.Params) + ") => " + script(t.Result)
	}
	return "unknown"
}

// parameters are those of a function in TypeScript.
func parameters(list []types.Param) string {
	parts := make([]string, len(list))
	for i, p := range list {
		parts[i] = free(p.Name) + map[bool]string{true: "?", false: ""}[p.Optional] + ": " + script(p.Type)
	}
	return strings.Join(parts, ", ")
}

// fields are the fields of a record in TypeScript.
func fields(list []types.Param) string {
	if len(list) == 0 {
		return "{}"
	}
	parts := make([]string, len(list))
	for i, p := range list {
		parts[i] = key(p.Name) + ": " + script(p.Type)
	}
	return "{ " + strings.Join(parts, "; ") + " }"
}
