package design

import (
	"slices"
	"strings"

	"github.com/yosida95/uritemplate/v3"

	"lien/core/source"
	"lien/core/types"
)

// HTTP is how an operation is asked over HTTP (RFC 9110).
type HTTP struct {
	Method   string
	Template *uritemplate.Template // of the address behind that of the service: RFC 6570
	Body     []int                 // the parameters that the request carries as JSON: one as it is, several by their names
	Lists    map[string]bool       // of the template's variables: those that are lists
}

var methods = []string{"GET", "POST", "PUT", "PATCH", "DELETE"}

// http resolves by GET "/wares{?glaze}".
func (r *resolver) http(o *Operation) {
	s := o.Syntax
	base := o.Service.Syntax.Base
	switch {
	case base == nil && s.Method == nil:
		return
	case base == nil:
		r.errorf("never-used", s.Method.Span(), "%s does not say where it is, so that nothing is asked there", o.Service.Name).
			Instead("write service %s at \"/api\" { ... }, or leave by %s out: the stand-in answers", o.Service.Name, s.Method.Text)
		return
	case s.Method == nil:
		r.errorf("not-given", s.Name.Span(), "%s does not say how it is asked", o.Name).
			See(base.Start, "the service is asked here").Instead("write %s by GET \"/%s\"", r.d.Text(source.Span{Start: s.Name.Start, End: s.Stop}), o.Name)
		return
	case !slices.Contains(methods, s.Method.Text):
		r.errorf("wrong-type", s.Method.Span(), "HTTP is asked by %s", strings.Join(methods, ", ")).Instead("write one of them")
		return
	}
	t, err := uritemplate.New(s.Address.Value)
	if err != nil || !strings.HasPrefix(s.Address.Value, "/") && !strings.HasPrefix(s.Address.Value, "{") && s.Address.Value != "" {
		r.errorf("wrong-type", s.Address.Span(), "this is no address").Instead(`write "/wares/{id}", or with a query "/wares{?glaze}": a URI template (RFC 6570)`)
		return
	}
	o.HTTP = &HTTP{Method: s.Method.Text, Template: t, Lists: map[string]bool{}}
	whole := map[string]bool{}
	known := true
	for _, name := range t.Varnames() {
		whole[name] = true
		known = r.variable(o, name) && known
	}
	for i, p := range o.Sig {
		if whole[p.Name] {
			continue
		}
		o.HTTP.Body = append(o.HTTP.Body, i)
		if m := o.HTTP.Method; known && (m == "GET" || m == "DELETE") {
			at := s.Address.Value + "{?" + p.Name + "}"
			if head, found := strings.CutSuffix(s.Address.Value, "}"); found && strings.Contains(head, "{?") {
				at = head + "," + p.Name + "}"
			}
			r.errorf("never-used", s.Params[i].Span(), "%s is not sent: a %s has no body, and the address does not say it", p.Name, m).
				Instead("write it into the address: %s", at)
		}
	}
}

// variable checks a variable of an address: a parameter, or a field of one. It says whether there is one.
func (r *resolver) variable(o *Operation, name string) bool {
	path := strings.Split(name, ".")
	var t types.Type
	var names []string
	for _, p := range o.Sig {
		if names = append(names, p.Name); p.Name == path[0] {
			t = p.Read()
		}
	}
	for _, f := range path[1:] {
		if t != nil {
			t = types.FieldOf(types.NonNull(t), f)
		}
	}
	at := o.Syntax.Address.Span()
	if t == nil {
		r.errorf("not-in-scope", at, "%s has no %s", o.Name, name).Instead("%s", types.DidYouMean(path[0], names, "its parameters are: "))
		return false
	}
	plain := types.Widen(types.NonNull(t))
	if l, ok := types.Under(plain).(*types.List); ok {
		o.HTTP.Lists[name] = true
		plain = types.Widen(l.Elem)
	}
	for _, m := range types.Members(plain) {
		if !types.Assignable(m, types.Or(types.String, types.Number, types.Boolean)) {
			r.errorf("wrong-type", at, "%s is %s, which cannot stand in an address", name, types.Article(t)).Instead("name a field of it that is a text or a number")
			break
		}
	}
	return true
}

// base resolves at "/api".
func (r *resolver) base(s *Service) {
	b := s.Syntax.Base
	if b == nil {
		return
	}
	s.Base = strings.TrimSuffix(b.Value, "/")
	if !strings.HasPrefix(b.Value, "/") && !strings.HasPrefix(b.Value, "http://") && !strings.HasPrefix(b.Value, "https://") || strings.HasPrefix(b.Value, "//") {
		f := r.errorf("wrong-type", b.Span(), "a service is at a path of the page's own host, or at a whole address")
		f.Instead(`write at "/api", or at "https://kilns.example/api"`)
	}
}
