package api

import (
	"fmt"
	"regexp"
	"slices"
	"sort"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
)

// serviceName is what the service is called: after the document's title.
func (w *writer) serviceName() string {
	list := words(strings.ToLower(w.doc.Info.Title))
	list = slices.DeleteFunc(list, func(s string) bool { return s == "api" || s == "the" })
	for len(list) > 0 && list[0][0] <= '9' {
		list = list[1:]
	}
	if len(list) > 3 {
		list = list[:3]
	}
	if len(list) == 0 {
		list = []string{"service"}
	}
	if len(list) == 1 {
		list = append(list, "api")
	}
	return strings.Join(list, "-")
}

// base is the address of the service: of the first server, with its variables as they are by default.
func (w *writer) base() string {
	if len(w.doc.Servers) == 0 {
		return "/"
	}
	s := w.doc.Servers[0]
	at := s.URL
	for n, v := range s.Variables {
		at = strings.ReplaceAll(at, "{"+n+"}", v.Default)
	}
	if !strings.HasPrefix(at, "/") && !strings.HasPrefix(at, "http://") && !strings.HasPrefix(at, "https://") {
		at = "/" + strings.TrimPrefix(at, "./")
	}
	return at
}

var methods = []string{"GET", "POST", "PUT", "PATCH", "DELETE"}

// service writes the operations of a document, in the order of their addresses.
func (w *writer) service() {
	if w.doc.Paths.Len() == 0 {
		return
	}
	fmt.Fprintf(&w.out, "service %s at %s {\n", w.serviceName(), text(w.base()))
	var paths []string
	for p := range w.doc.Paths.Map() {
		paths = append(paths, p)
	}
	sort.Strings(paths)
	taken := map[string]bool{}
	for _, p := range paths {
		item := w.doc.Paths.Value(p)
		for _, m := range methods {
			if op := item.GetOperation(m); op != nil {
				w.operation(p, m, item, op, taken)
			}
		}
	}
	w.out.WriteString("}\n")
}

// asked is an operation on its way into the text.
type asked struct {
	*writer
	path   string
	method string
	params []string // with their types
	names  map[string]bool
	query  []string
	cannot string // why it cannot be written; "" where it can
}

func (w *writer) operation(path, method string, item *openapi3.PathItem, op *openapi3.Operation, taken map[string]bool) {
	w.left = nil
	a := &asked{writer: w, path: path, method: method, names: map[string]bool{}}
	a.parameters(append(slices.Clone(item.Parameters), op.Parameters...))
	a.body(op)
	name := w.operationName(path, method, op, taken)
	result, reply := a.reply(op)
	if a.cannot != "" {
		w.comment(fmt.Sprintf("Left out: %s %s, as %s.", method, path, a.cannot))
		return
	}
	w.comment(firstOf(op.Summary, op.Description))
	w.leftOut()
	address := a.path
	if len(a.query) > 0 {
		address += "{?" + strings.Join(a.query, ",") + "}"
	}
	fmt.Fprintf(&w.out, "%s(%s)", name, strings.Join(a.params, ", "))
	if result != "" {
		fmt.Fprintf(&w.out, ": %s", result)
	}
	fmt.Fprintf(&w.out, " by %s %s\n", method, text(address))
	if result != "" {
		fmt.Fprintf(&w.out, "  replies %s\n", reply)
	}
	if fails := failures(op); len(fails) > 0 {
		fmt.Fprintf(&w.out, "  fails %s\n", strings.Join(fails, ", "))
	}
}

func firstOf(list ...string) string {
	for _, s := range list {
		if strings.TrimSpace(s) != "" {
			return s
		}
	}
	return ""
}

// operationName is the name that the document gives, or one of method and address.
func (w *writer) operationName(path, method string, op *openapi3.Operation, taken map[string]bool) string {
	base := camel(op.OperationID)
	if op.OperationID == "" {
		base = camel(strings.ToLower(method) + " " + regexp.MustCompile(`\{[^}]*\}`).ReplaceAllString(path, " one "))
	}
	name := base
	for i := 2; taken[name]; i++ {
		name = fmt.Sprintf("%s%d", base, i)
	}
	taken[name] = true
	return name
}

func (a *asked) add(name, typ string) {
	a.names[name] = true
	a.params = append(a.params, name+": "+typ)
}

// parameters are those of the address and the query; those of the operation stand for those of its path.
func (a *asked) parameters(list openapi3.Parameters) {
	var last openapi3.Parameters
	for _, p := range list {
		if p.Value == nil {
			continue
		}
		last = slices.DeleteFunc(last, func(o *openapi3.ParameterRef) bool { return o.Value.Name == p.Value.Name && o.Value.In == p.Value.In })
		last = append(last, p)
	}
	for _, r := range last {
		p := r.Value
		typ, ok := a.typeOf(p.Schema, 0)
		ok = ok && simple(p.Schema.Value)
		switch {
		case p.In == "path" && ok:
			name := camel(p.Name)
			if identifier.MatchString(p.Name) {
				name = p.Name
			}
			a.path = strings.ReplaceAll(a.path, "{"+p.Name+"}", "{"+name+"}")
			a.add(name, typ)
		case p.In == "path":
			a.cannot = p.Name + " is " + typ
		case p.In == "query" && ok && identifier.MatchString(p.Name) && !a.names[p.Name]:
			name := p.Name
			if p.Schema.Value.Type.Is("array") && (p.Explode == nil || *p.Explode) {
				name += "*"
			}
			a.query = append(a.query, name)
			if !p.Required && !strings.HasSuffix(typ, "| null") {
				typ += " | null"
			}
			a.add(p.Name, typ)
		case p.Required && p.In != "cookie":
			a.cannot = fmt.Sprintf("%s (%s) cannot be said here", p.Name, p.In)
		default:
			a.left = append(a.left, fmt.Sprintf("%s (%s)", p.Name, p.In))
		}
	}
}

// simple says whether a value can stand in an address: a text, a number, a boolean, or a list of them.
func simple(s *openapi3.Schema) bool {
	if s == nil {
		return false
	}
	if s.Type.Is("array") {
		return s.Items != nil && s.Items.Value != nil && !s.Items.Value.Type.Is("array") && simple(s.Items.Value)
	}
	return len(s.Properties)+len(s.AllOf)+len(s.OneOf)+len(s.AnyOf) == 0 && !s.Type.Is("object")
}

// body is what a request carries.
func (a *asked) body(op *openapi3.Operation) {
	if op.RequestBody == nil || op.RequestBody.Value == nil {
		return
	}
	schema := jsonOf(op.RequestBody.Value.Content)
	typ, ok := "", false
	if schema != nil {
		typ, ok = a.typeOf(schema.Schema, 0)
	}
	switch {
	case schema == nil:
		a.cannot = "what it carries is no JSON"
	case !ok:
		a.cannot = "what it carries is " + typ
	case a.method == "GET" || a.method == "DELETE":
		a.left = append(a.left, "what it carries, as a "+a.method+" does not here")
	default:
		name := "body"
		if n, ok := strings.CutPrefix(schema.Schema.Ref, "#/components/schemas/"); ok {
			name = camel(n)
		}
		if a.names[name] {
			name += "Sent"
		}
		a.add(name, typ)
	}
}

// jsonOf is the content that is JSON.
func jsonOf(c openapi3.Content) *openapi3.MediaType {
	var kinds []string
	for k := range c {
		kinds = append(kinds, k)
	}
	sort.Strings(kinds)
	for _, k := range kinds {
		if base, _, _ := strings.Cut(k, ";"); base == "application/json" || strings.HasSuffix(base, "+json") && base != "application/problem+json" {
			return c[k]
		}
	}
	return nil
}

// reply is the type of the first reply that is no failure, and a value of it; "" where it carries nothing.
func (a *asked) reply(op *openapi3.Operation) (typ, value string) {
	var codes []string
	for code := range op.Responses.Map() {
		codes = append(codes, code)
	}
	sort.Strings(codes)
	for _, code := range codes {
		r := op.Responses.Value(code).Value
		if !strings.HasPrefix(code, "2") && !(code == "default" && len(codes) == 1) || r == nil {
			continue
		}
		if len(r.Content) == 0 {
			return "", ""
		}
		content := jsonOf(r.Content)
		if content == nil {
			a.cannot = "its reply is no JSON"
			return "", ""
		}
		typ, ok := a.typeOf(content.Schema, 0)
		if !ok {
			a.cannot = "its reply is " + typ
			return "", ""
		}
		shown, is := content.Example, content.Example != nil
		var names []string
		for n := range content.Examples {
			names = append(names, n)
		}
		sort.Strings(names)
		if !is && len(names) > 0 && content.Examples[names[0]].Value != nil {
			shown, is = content.Examples[names[0]].Value.Value, true
		}
		return typ, a.value(content.Schema, shown, is, 0)
	}
	return "", ""
}

// failures are what the document says of replies that are failures.
func failures(op *openapi3.Operation) (list []string) {
	var codes []string
	for code := range op.Responses.Map() {
		if strings.HasPrefix(code, "4") || strings.HasPrefix(code, "5") {
			codes = append(codes, code)
		}
	}
	sort.Strings(codes)
	for _, code := range codes {
		r := op.Responses.Value(code).Value
		if r == nil || r.Description == nil {
			continue
		}
		if said := text(strings.Join(strings.Fields(*r.Description), " ")); said != `""` && !slices.Contains(list, said) {
			list = append(list, said)
		}
	}
	return list
}
