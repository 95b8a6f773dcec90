package api

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"github.com/yosida95/uritemplate/v3"
)

// serviceName is what the service is called: after the document's title.
func (w *writer) serviceName() string {
	list := words(strings.ToLower(w.doc.title))
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
	at := w.doc.base
	if strings.HasPrefix(at, "//") {
		return "https:" + at
	}
	if !strings.HasPrefix(at, "/") && !strings.HasPrefix(at, "http://") && !strings.HasPrefix(at, "https://") {
		at = "/" + strings.TrimPrefix(at, "./")
	}
	return at
}

// service writes the operations of a document.
func (w *writer) service() {
	if len(w.doc.operations) == 0 {
		return
	}
	fmt.Fprintf(&w.out, "service %s at %s {\n", w.serviceName(), text(w.base()))
	taken := map[string]bool{}
	for _, o := range w.doc.operations {
		w.operation(o, taken)
	}
	w.out.WriteString("}\n")
}

// asked is an operation on its way into the text.
type asked struct {
	*writer
	*operation
	path   string   // as it is written here
	params []string // with their types
	names  map[string]bool
	inPath []string
	query  []string
	cannot string // why it cannot be written; "" where it can
}

func (w *writer) operation(o *operation, taken map[string]bool) {
	w.left = nil
	a := &asked{writer: w, operation: o, path: o.path, names: map[string]bool{}}
	a.given()
	a.carried()
	name := o.name(taken)
	result, reply := a.reply()
	address := a.address()
	if a.cannot != "" {
		w.comment(fmt.Sprintf("Left out: %s %s, as %s.", o.method, o.path, a.cannot))
		return
	}
	w.comment(o.said)
	w.leftOut()
	fmt.Fprintf(&w.out, "%s(%s)", name, strings.Join(a.params, ", "))
	if result != "" {
		fmt.Fprintf(&w.out, ": %s", result)
	}
	fmt.Fprintf(&w.out, " by %s %s\n", o.method, text(address))
	if result != "" {
		fmt.Fprintf(&w.out, "  replies %s\n", reply)
	}
	if fails := o.failures(); len(fails) > 0 {
		fmt.Fprintf(&w.out, "  fails %s\n", strings.Join(fails, ", "))
	}
}

// address is a URI template (RFC 6570) of what is given; what it lacks is told.
func (a *asked) address() string {
	at := a.path
	if len(a.query) > 0 {
		at += "{?" + strings.Join(a.query, ",") + "}"
	}
	t, err := uritemplate.New(at)
	if err != nil || !strings.HasPrefix(at, "/") {
		a.cannot = "its address is none"
		return ""
	}
	said := t.Varnames()
	for _, name := range said {
		if !a.names[name] {
			a.cannot = "nothing says what " + name + " is in its address"
		}
	}
	for _, name := range a.inPath {
		if !slices.Contains(said, name) {
			a.cannot = name + " is not in its address"
		}
	}
	return at
}

func firstOf(list ...string) string {
	for _, s := range list {
		if strings.TrimSpace(s) != "" {
			return s
		}
	}
	return ""
}

// name is the name that the document gives, or one of method and address.
func (o *operation) name(taken map[string]bool) string {
	base := camel(o.id)
	if o.id == "" {
		base = camel(strings.ToLower(o.method) + " " + regexp.MustCompile(`\{[^}]*\}`).ReplaceAllString(o.path, " one "))
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

// given are the parameters of the address and the query; those of the operation stand for those of its path.
func (a *asked) given() {
	var last []*parameter
	for _, p := range a.parameters {
		last = slices.DeleteFunc(last, func(o *parameter) bool { return o.name == p.name && o.in == p.in })
		last = append(last, p)
	}
	for _, p := range last {
		typ, ok := a.typeOf(p.schema, 0)
		ok = ok && simple(p.schema.of)
		switch {
		case p.in == "path" && ok:
			name := camel(p.name)
			if identifier.MatchString(p.name) {
				name = p.name
			}
			if a.names[name] {
				a.cannot = "two of its values are called " + name
			}
			a.path = strings.ReplaceAll(a.path, "{"+p.name+"}", "{"+name+"}")
			a.add(name, typ)
			a.inPath = append(a.inPath, name)
		case p.in == "path":
			a.cannot = p.name + " is " + typ
		case p.in == "query" && ok && identifier.MatchString(p.name) && !a.names[p.name]:
			name := p.name
			if takes(p.schema.of, "array") && p.apart {
				name += "*"
			}
			a.query = append(a.query, name)
			if !p.required && !strings.HasSuffix(typ, "| null") {
				typ += " | null"
			}
			a.add(p.name, typ)
		case p.required && p.in != "cookie":
			a.cannot = fmt.Sprintf("%s (%s) cannot be said here", p.name, p.in)
		default:
			a.left = append(a.left, fmt.Sprintf("%s (%s)", p.name, p.in))
		}
	}
}

// simple says whether a value can stand in an address: a text, a number, a boolean, or a list of them.
func simple(s *schema) bool {
	if takes(s, "array") {
		return s.items != nil && s.items.of != nil && !takes(s.items.of, "array") && simple(s.items.of)
	}
	return len(s.properties)+len(s.all)+len(s.any) == 0 && !takes(s, "object")
}

// carried is what a request carries.
func (a *asked) carried() {
	if a.body == nil {
		return
	}
	typ, ok := a.typeOf(a.body.schema, 0)
	switch {
	case !a.body.json:
		a.cannot = "what it carries is no JSON"
	case !ok:
		a.cannot = "what it carries is " + typ
	case a.method == "GET" || a.method == "DELETE":
		a.left = append(a.left, "what it carries, as a "+a.method+" does not here")
	default:
		name := "body"
		if n := a.body.schema.name; n != "" {
			name = camel(n)
		}
		if a.names[name] {
			name += "Sent"
		}
		a.add(name, typ)
	}
}

// reply is the type of the first reply that is no failure, and a value of it; "" where it carries nothing.
func (a *asked) reply() (typ, value string) {
	for _, r := range a.replies {
		if !strings.HasPrefix(r.code, "2") && !(r.code == "default" && len(a.replies) == 1) {
			continue
		}
		if r.content.empty {
			return "", ""
		}
		typ, ok := a.typeOf(r.content.schema, 0)
		switch {
		case !r.content.json:
			a.cannot = "its reply is no JSON"
			return "", ""
		case !ok:
			a.cannot = "its reply is " + typ
			return "", ""
		}
		return typ, a.value(r.content.schema, r.content.shown, r.content.isShown, 0)
	}
	return "", ""
}

// failures are what the document says of replies that are failures.
func (o *operation) failures() (list []string) {
	for _, r := range o.replies {
		if !strings.HasPrefix(r.code, "4") && !strings.HasPrefix(r.code, "5") {
			continue
		}
		if said := text(strings.Join(strings.Fields(r.said), " ")); said != `""` && !slices.Contains(list, said) {
			list = append(list, said)
		}
	}
	return list
}
