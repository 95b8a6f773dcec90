package web

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/types"
)

// asks says how an operation is asked over HTTP.
func (c *code) asks(o *design.Operation) string {
	names := make([]string, len(o.Syntax.Params))
	for i, p := range o.Syntax.Params {
		names[i] = "$" + p.Name.Text
	}
	params := "(" + strings.Join(names, ", ") + ") => "
	var values []string
	for _, v := range o.HTTP.Template.Varnames() {
		values = append(values, quoted(v)+": $"+strings.ReplaceAll(v, ".", "?."))
	}
	parts := []string{"method: " + quoted(o.HTTP.Method), "address: " + quoted(o.Service.Base+o.Syntax.Address.Value), "values: " + params + "(" + object(values) + ")"}
	switch list := o.HTTP.Body; len(list) {
	case 0:
	case 1:
		parts = append(parts, "body: "+params+names[list[0]])
	default:
		var fields []string
		for _, i := range list {
			fields = append(fields, key(o.Sig[i].Name)+": "+names[i])
		}
		parts = append(parts, "body: "+params+"("+object(fields)+")")
	}
	if o.Result != types.Void {
		parts = append(parts, "gives: "+c.shape(o.Result))
	}
	return "http.sender(" + object(parts) + ", shapes)"
}

// shape tells the runtime what a type is.
func (c *code) shape(t types.Type) string {
	switch t := t.(type) {
	case *types.Named:
		if !slices.Contains(c.shapes, t) {
			c.shapes = append(c.shapes, t)
		}
		return "{ is: " + quoted(t.Name) + " }"
	case *types.List:
		return "{ list: " + c.shape(t.Elem) + " }"
	case *types.Union:
		members := make([]string, len(t.Members))
		for i, m := range t.Members {
			members[i] = c.shape(m)
		}
		return "{ any: [" + strings.Join(members, ", ") + "] }"
	case types.Literal:
		return "{ one: " + constant(t.Value) + " }"
	case *types.Record:
		var fields, optional []string
		for _, f := range t.Fields {
			if fields = append(fields, key(f.Name)+": "+c.shape(f.Type)); f.Optional {
				optional = append(optional, quoted(f.Name))
			}
		}
		out := "{ record: " + object(fields)
		if len(optional) > 0 {
			out += ", optional: [" + strings.Join(optional, ", ") + "]"
		}
		return out + " }"
	case types.Basic:
		switch t {
		case types.String, types.Key:
			return `"text"`
		case types.Number:
			return `"number"`
		case types.Boolean:
			return `"boolean"`
		case types.Null:
			return `"null"`
		}
	}
	return `"any"`
}

// named writes the shapes of the types that have names. Each may name others.
func (c *code) named() string {
	var parts []string
	for i := 0; i < len(c.shapes); i++ {
		parts = append(parts, key(c.shapes[i].Name)+": "+c.shape(c.shapes[i].Under))
	}
	return "const shapes = " + listed("{", parts, "}") + ";\n"
}

// asksOverHTTP says whether a built page asks some service for real.
func asksOverHTTP(d *design.Design, o Options) bool {
	return !o.StandIns && slices.ContainsFunc(d.Services, func(s *design.Service) bool { return s.Base != "" })
}
