package api

import (
	"slices"
	"strconv"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
)

// literal is a text, number, boolean or null as a design writes it.
func literal(v any) string {
	switch v := v.(type) {
	case string:
		return text(v)
	case float64:
		return strconv.FormatFloat(v, 'f', -1, 64)
	case int:
		return strconv.Itoa(v)
	case bool:
		return strconv.FormatBool(v)
	}
	return "null"
}

// text is a text in quotes.
func text(s string) string {
	var out strings.Builder
	out.WriteByte('"')
	for _, r := range s {
		switch {
		case r == '"' || r == '\\':
			out.WriteByte('\\')
			out.WriteRune(r)
		case r == '\n':
			out.WriteString(`\n`)
		case r == '\t':
			out.WriteString(`\t`)
		case r < ' ':
		default:
			out.WriteRune(r)
		}
	}
	out.WriteByte('"')
	return out.String()
}

// example is what a document shows of a schema, if it does.
func example(s *openapi3.Schema) (any, bool) {
	switch {
	case s.Example != nil:
		return s.Example, true
	case len(s.Examples) > 0:
		return s.Examples[0], true
	case s.Default != nil:
		return s.Default, true
	}
	return nil, false
}

// value is a value of a schema as a design writes it: the one that is shown where it fits, else one that does.
func (w *writer) value(ref *openapi3.SchemaRef, shown any, is bool, depth int) string {
	if ref == nil || ref.Value == nil || depth > 8 {
		return "null"
	}
	s := ref.Value
	if !is || shown != nil && !fits(s, shown, 0) && len(s.Properties)+len(s.AllOf) == 0 {
		shown, is = example(s)
	}
	nullable := s.Nullable || s.Type.IncludesNull()
	switch {
	case is && shown == nil && nullable:
		return "null"
	case s.Const != nil:
		return literal(s.Const)
	case len(s.Enum) > 0:
		if !is || !slices.ContainsFunc(s.Enum, func(v any) bool { return v == shown }) {
			shown = s.Enum[0]
		}
		return literal(shown)
	case len(s.AllOf) > 0:
		return w.recordValue(merged(s), shown, depth)
	case len(s.OneOf)+len(s.AnyOf) > 0:
		list := append(slices.Clone(s.OneOf), s.AnyOf...)
		for _, r := range list {
			if is && fits(r.Value, shown, 0) {
				return w.value(r, shown, true, depth+1)
			}
		}
		return w.value(list[0], nil, false, depth+1)
	case takes(s, "string"):
		if t, ok := shown.(string); ok {
			return text(t)
		}
		return `""`
	case takes(s, "number") || takes(s, "integer"):
		if n, ok := shown.(float64); ok {
			return literal(n)
		}
		if s.Min != nil {
			return literal(*s.Min)
		}
		return "0"
	case takes(s, "boolean"):
		b, _ := shown.(bool)
		return strconv.FormatBool(b)
	case takes(s, "array"):
		return w.listValue(s, shown, depth)
	}
	return w.recordValue(s, shown, depth)
}

func (w *writer) listValue(s *openapi3.Schema, shown any, depth int) string {
	list, ok := shown.([]any)
	if !ok && s.Items != nil && s.Items.Value != nil { // one of what the items show
		if x, ok := example(s.Items.Value); ok {
			list = []any{x}
		}
	}
	var items []string
	for _, x := range list {
		items = append(items, w.value(s.Items, x, true, depth+1))
	}
	return "[" + strings.Join(items, ", ") + "]"
}

func (w *writer) recordValue(s *openapi3.Schema, shown any, depth int) string {
	have, _ := shown.(map[string]any)
	var fields []string
	for _, n := range fieldsOf(s) {
		p := s.Properties[n]
		if !identifier.MatchString(n) {
			continue
		}
		if _, ok := w.typeOf(p, 0); !ok {
			continue
		}
		v, is := have[n]
		if !is && !slices.Contains(s.Required, n) && (have != nil || depth > 2) {
			continue
		}
		fields = append(fields, n+": "+w.value(p, v, is, depth+1))
	}
	return "{ " + strings.Join(fields, ", ") + " }"
}

// fits says whether a value is roughly of a schema: enough to choose one of several.
func fits(s *openapi3.Schema, v any, depth int) bool {
	if s == nil || depth > 8 {
		return false
	}
	switch v := v.(type) {
	case nil:
		return s.Nullable || s.Type.IncludesNull()
	case map[string]any:
		if len(s.AllOf) > 0 {
			s = merged(s)
		}
		for _, n := range s.Required {
			x, ok := v[n]
			p := s.Properties[n]
			if !ok || p == nil || !fits(p.Value, x, depth+1) {
				return false
			}
		}
		return len(s.Properties) > 0
	case []any:
		return takes(s, "array")
	}
	if s.Const != nil {
		return s.Const == v
	}
	if len(s.Enum) > 0 {
		return slices.Contains(s.Enum, v)
	}
	switch v.(type) {
	case string:
		return takes(s, "string")
	case float64:
		return takes(s, "number") || takes(s, "integer")
	case bool:
		return takes(s, "boolean")
	}
	return false
}

// takes says whether a schema names a kind among those that it takes.
func takes(s *openapi3.Schema, kind string) bool { return slices.Contains(s.Type.Slice(), kind) }
