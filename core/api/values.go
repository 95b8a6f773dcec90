package api

import (
	"reflect"
	"slices"
	"strconv"
	"strings"
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

// value is a value of a schema as a design writes it: the one that is shown where it fits, else one that does.
func (w *writer) value(ref *reference, shown any, is bool, depth int) string {
	if ref == nil || ref.of == nil || depth > 8 {
		return "null"
	}
	s := ref.of
	if !is || shown != nil && !fits(s, shown, 0) && len(s.properties)+len(s.all) == 0 {
		shown, is = s.shown, s.isShown
	}
	switch {
	case is && shown == nil && s.null || s.onlyNull:
		return "null"
	case s.fixed != nil:
		if !is || !among(s.fixed, shown) {
			shown = s.fixed[0]
		}
		return literal(shown)
	case len(s.all) > 0:
		return w.recordValue(merged(s), shown, depth)
	case len(s.any) > 0:
		for _, r := range s.any {
			if is && fits(r.of, shown, 0) {
				return w.value(r, shown, true, depth+1)
			}
		}
		return w.value(s.any[0], nil, false, depth+1)
	case takes(s, "string"):
		if t, ok := shown.(string); ok {
			return text(t)
		}
		return `""`
	case takes(s, "number") || takes(s, "integer"):
		if n, ok := shown.(float64); ok {
			return literal(n)
		}
		if s.least != nil {
			return literal(*s.least)
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

func (w *writer) listValue(s *schema, shown any, depth int) string {
	list, ok := shown.([]any)
	if !ok && s.items != nil && s.items.of != nil && s.items.of.isShown { // one of what the items show
		list = []any{s.items.of.shown}
	}
	var items []string
	for _, x := range list {
		items = append(items, w.value(s.items, x, true, depth+1))
	}
	return "[" + strings.Join(items, ", ") + "]"
}

func (w *writer) recordValue(s *schema, shown any, depth int) string {
	have, _ := shown.(map[string]any)
	var fields []string
	for _, n := range fieldsOf(s) {
		p := s.properties[n]
		if !identifier.MatchString(n) {
			continue
		}
		if _, ok := w.typeOf(p, 0); !ok {
			continue
		}
		v, is := have[n]
		if !is && !slices.Contains(s.required, n) && (have != nil || depth > 2) {
			continue
		}
		fields = append(fields, n+": "+w.value(p, v, is, depth+1))
	}
	return "{ " + strings.Join(fields, ", ") + " }"
}

// fits says whether a value is roughly of a schema: enough to choose one of several.
func fits(s *schema, v any, depth int) bool {
	if s == nil || depth > 8 {
		return false
	}
	switch v := v.(type) {
	case nil:
		return s.null
	case map[string]any:
		if len(s.all) > 0 {
			s = merged(s)
		}
		for _, n := range s.required {
			x, ok := v[n]
			p := s.properties[n]
			if !ok || p == nil || !fits(p.of, x, depth+1) {
				return false
			}
		}
		return len(s.properties) > 0
	case []any:
		return takes(s, "array")
	}
	if s.fixed != nil {
		return among(s.fixed, v)
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
func takes(s *schema, kind string) bool { return slices.Contains(s.kinds, kind) }

// among says whether a plain value is one of a list, in which there may be records and lists, too.
func among(list []any, v any) bool {
	return slices.ContainsFunc(list, func(x any) bool { return reflect.DeepEqual(x, v) })
}
