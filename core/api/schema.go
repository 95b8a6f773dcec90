package api

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"sort"
	"strings"
)

// writer writes a document as a design.
type writer struct {
	doc   *document
	out   strings.Builder
	names map[string]string // of types, by those of schemas
	left  []string          // what the language cannot say, of what is being written
}

// head says what the design was made from.
func (w *writer) head(name string) string {
	title := strings.Join(strings.Fields(w.doc.title+" "+w.doc.version), " ")
	return fmt.Sprintf("// Made from %s: %s.\n\n", name, title)
}

// types writes a type for every schema that has a name.
func (w *writer) types() {
	list := slices.Sorted(maps.Keys(w.doc.schemas))
	taken := map[string]bool{"Key": true}
	for _, n := range list {
		name := pascal(n)
		for i := 2; taken[name]; i++ {
			name = fmt.Sprintf("%s%d", pascal(n), i)
		}
		taken[name] = true
		w.names[n] = name
	}
	list = w.sayable(list)
	for _, n := range list {
		s := w.doc.schemas[n]
		w.left = nil
		text, _ := w.whole(s, 0)
		w.comment(s.description)
		w.leftOut()
		fmt.Fprintf(&w.out, "type %s = %s\n\n", w.names[n], text)
	}
}

// sayable are the schemas that the language has a type for; without one, others that are made of it have none either.
func (w *writer) sayable(list []string) []string {
	var told []string
	for again := true; again; {
		again = false
		list = slices.DeleteFunc(list, func(n string) bool {
			why, ok := w.whole(w.doc.schemas[n], 0)
			if !ok {
				delete(w.names, n)
				told = append(told, n+", which is "+why)
				again = true
			}
			return !ok
		})
	}
	if w.left = told; len(told) > 0 {
		w.leftOut()
		w.out.WriteString("\n")
	}
	return list
}

func (w *writer) comment(text string) {
	if words := strings.Join(strings.Fields(text), " "); words != "" {
		for len(words) > 90 {
			at := strings.LastIndexByte(words[:90], ' ')
			if at < 0 {
				break
			}
			fmt.Fprintf(&w.out, "// %s\n", words[:at])
			words = words[at+1:]
		}
		fmt.Fprintf(&w.out, "// %s\n", words)
	}
}

// leftOut tells what was left out of what comes next.
func (w *writer) leftOut() {
	for _, l := range w.left {
		w.comment("Left out: " + l + ".")
	}
	w.left = nil
}

var identifier = regexp.MustCompile(`^[A-Za-z_$][A-Za-z0-9_$]*$`)

// maxDepth is how deep schemas may nest.
const maxDepth = 40

// typeOf is a schema as a type; where it has none, what it is, and false.
func (w *writer) typeOf(ref *reference, depth int) (string, bool) {
	switch {
	case ref == nil || ref.of == nil:
		return "anything", false
	case ref.name == "":
		return w.whole(ref.of, depth)
	case w.names[ref.name] == "":
		return ref.name, false
	case ref.of.null:
		return w.names[ref.name] + " | null", true
	}
	return w.names[ref.name], true
}

// whole is a schema as a type, whether it has a name or not.
func (w *writer) whole(s *schema, depth int) (string, bool) {
	if depth > maxDepth {
		return "nested too deep", false
	}
	text, ok := w.plain(s, depth)
	if ok && s.null && text != "null" && !strings.HasSuffix(text, "| null") {
		text += " | null"
	}
	return text, ok
}

func (w *writer) plain(s *schema, depth int) (string, bool) {
	switch {
	case s.fixed != nil:
		return literals(s.fixed)
	case len(s.all) > 0:
		return w.record(merged(s), depth)
	case len(s.any) > 0:
		return w.union(s.any, depth)
	}
	kinds := s.kinds
	if len(kinds) == 0 && len(s.properties) > 0 {
		kinds = []string{"object"}
	}
	if s.onlyNull {
		return "null", true
	}
	var parts []string
	for _, k := range kinds {
		text, ok := w.kind(s, k, depth)
		if !ok {
			return text, false
		}
		parts = append(parts, text)
	}
	if len(parts) == 0 {
		return "anything", false
	}
	return strings.Join(parts, " | "), true
}

func (w *writer) kind(s *schema, kind string, depth int) (string, bool) {
	switch kind {
	case "string":
		return "string", true
	case "integer", "number":
		return "number", true
	case "boolean":
		return "boolean", true
	case "array":
		text, ok := w.typeOf(s.items, depth+1)
		if !ok {
			return "a list of " + text, false
		}
		if strings.Contains(text, " | ") {
			text = "(" + text + ")"
		}
		return text + "[]", true
	case "object":
		return w.record(s, depth)
	}
	return "a " + kind, false
}

// literals is a union of values.
func literals(list []any) (string, bool) {
	var parts []string
	for _, v := range list {
		switch v.(type) {
		case string, float64, bool, int, nil:
			parts = append(parts, literal(v))
		default:
			return "one of some records or lists", false
		}
	}
	return strings.Join(parts, " | "), true
}

func (w *writer) union(list []*reference, depth int) (string, bool) {
	var parts []string
	for _, r := range list {
		text, ok := w.typeOf(r, depth+1)
		if !ok {
			return "one of several, of which one is " + text, false
		}
		if !slices.Contains(parts, text) {
			parts = append(parts, text)
		}
	}
	return strings.Join(parts, " | "), true
}

// merged is a schema of records together with all that it is made of.
func merged(s *schema) *schema {
	out := &schema{properties: map[string]*reference{}, kinds: []string{"object"}}
	var add func(*schema, int)
	add = func(s *schema, depth int) {
		maps.Copy(out.properties, s.properties)
		out.required = append(out.required, s.required...)
		for _, part := range s.all {
			if part.of != nil && depth < maxDepth {
				add(part.of, depth+1)
			}
		}
	}
	add(s, 0)
	return out
}

// fieldsOf are the names of a record's fields: id first, then as the alphabet has them.
func fieldsOf(s *schema) (list []string) {
	for n := range s.properties {
		list = append(list, n)
	}
	sort.Slice(list, func(i, k int) bool {
		if (list[i] == "id") != (list[k] == "id") {
			return list[i] == "id"
		}
		return list[i] < list[k]
	})
	return list
}

func (w *writer) record(s *schema, depth int) (string, bool) {
	var fields []string
	for _, n := range fieldsOf(s) {
		if !identifier.MatchString(n) {
			w.left = append(w.left, n+", which is no name here")
			continue
		}
		text, ok := w.typeOf(s.properties[n], depth+1)
		if !ok {
			w.left = append(w.left, n+", which is "+text)
			continue
		}
		mark := "?"
		if slices.Contains(s.required, n) {
			mark = ""
		}
		fields = append(fields, n+mark+": "+text)
	}
	if len(fields) == 0 {
		return "a map", false
	}
	return "{ " + strings.Join(fields, ", ") + " }", true
}

// words are the words of a name, however it joins them.
func words(name string) []string {
	name = regexp.MustCompile(`([a-z0-9])([A-Z])`).ReplaceAllString(name, "$1 $2")
	return strings.FieldsFunc(name, func(r rune) bool {
		return !('a' <= r && r <= 'z' || 'A' <= r && r <= 'Z' || '0' <= r && r <= '9')
	})
}

func pascal(name string) string {
	out := ""
	for _, w := range words(name) {
		out += strings.ToUpper(w[:1]) + w[1:]
	}
	if out == "" || out[0] <= '9' {
		out = "Type" + out
	}
	return out
}

func camel(name string) string {
	p := pascal(name)
	return strings.ToLower(p[:1]) + p[1:]
}
