package serve

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/yosida95/uritemplate/v3"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/types"
	"lien/core/value"
)

// Answers are the stand-ins of a design's services over HTTP, for pages of this machine.
type Answers struct {
	list []*answering
	mu   sync.Mutex // the engine answers one after the other
	e    *engine.Engine
}

// answering is an operation, and how requests to it are told from others.
type answering struct {
	op    *design.Operation
	path  *uritemplate.Template
	query []string // the variables behind the path
	fails bool     // it answers with its first failure
}

// NewAnswers answers for the services of a design that say where they are; what failing names, such as kiln-log.load,
// fails. The error says what is not there.
func NewAnswers(d *design.Design, failing []string) (*Answers, error) {
	a := &Answers{e: engine.New(d)}
	failing = slices.Clone(failing)
	for _, s := range d.Services {
		for _, o := range s.Operations {
			if o.HTTP == nil {
				continue
			}
			x := &answering{op: o}
			name := s.Name + "." + o.Name
			if i := slices.Index(failing, name); i >= 0 {
				x.fails = true
				failing = slices.Delete(failing, i, i+1)
			}
			if err := x.read(); err != nil {
				return nil, fmt.Errorf("%s: %w", name, err)
			}
			a.list = append(a.list, x)
		}
	}
	if len(a.list) == 0 {
		return nil, errors.New("no service of the design says where it is: write service NAME at \"/api\" { ... by GET \"/...\" }")
	}
	if len(failing) > 0 {
		return nil, fmt.Errorf("there is no operation %s that is asked over HTTP", failing[0])
	}
	return a, nil
}

// read divides an address into its path and the query behind it.
func (x *answering) read() (err error) {
	base := x.op.Service.Base
	if u, err := url.Parse(base); err == nil {
		base = u.EscapedPath()
	}
	path, query, found := strings.Cut(x.op.Syntax.Address.Value, "{?")
	if !found {
		path, query, _ = strings.Cut(path, "?")
	}
	if query != "" {
		t, err := uritemplate.New("{?" + strings.TrimPrefix(query, "{?"))
		if err != nil {
			return errors.New("only variables in {?...} can stand in a query that is answered here")
		}
		x.query = t.Varnames()
	}
	x.path, err = uritemplate.New(base + path)
	return err
}

// Routes are the operations that are answered, each as METHOD ADDRESS, in the order of the text.
func (a *Answers) Routes() (list []string) {
	for _, x := range a.list {
		list = append(list, x.op.HTTP.Method+" "+x.op.Service.Base+x.op.Syntax.Address.Value)
	}
	return list
}

// problem is why a request is refused: RFC 9457.
func problem(w http.ResponseWriter, status int, why string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	json.NewEncoder(w).Encode(map[string]any{"title": why, "status": status})
}

// ServeHTTP answers requests that this machine's pages make, from any port: the Fetch standard's CORS protocol.
func (a *Answers) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	origin := r.Header.Get("Origin")
	switch {
	case !isHere(r.Host):
		problem(w, http.StatusMisdirectedRequest, "this is answered for its own machine, under 127.0.0.1 or localhost")
		return
	case origin != "" && !isHereOrigin(origin):
		problem(w, http.StatusForbidden, "pages of other hosts get nothing here")
		return
	}
	head := w.Header()
	head.Set("Cache-Control", "no-store")
	head.Set("X-Content-Type-Options", "nosniff")
	if origin != "" {
		head.Set("Access-Control-Allow-Origin", origin)
		head.Set("Vary", "Origin")
	}
	x, values, allowed := a.find(r)
	switch {
	case len(allowed) == 0:
		problem(w, http.StatusNotFound, "no service has this address")
	case r.Method == http.MethodOptions:
		head.Set("Access-Control-Allow-Methods", strings.Join(allowed, ", "))
		head.Set("Access-Control-Allow-Headers", "accept, content-type")
		w.WriteHeader(http.StatusNoContent)
	case x == nil:
		head.Set("Allow", strings.Join(allowed, ", "))
		problem(w, http.StatusMethodNotAllowed, "this address is asked by "+strings.Join(allowed, " or "))
	default:
		a.answer(w, r, x, values)
	}
}

// isHereOrigin says whether a page comes from this machine.
func isHereOrigin(origin string) bool {
	u, err := url.Parse(origin)
	return err == nil && isHere(u.Host)
}

// find is the operation that a request asks, with what its path says; allowed are the methods of its address.
func (a *Answers) find(r *http.Request) (found *answering, values uritemplate.Values, allowed []string) {
	for _, x := range a.list {
		v := x.path.Match(r.URL.EscapedPath())
		if v == nil {
			continue
		}
		if !slices.Contains(allowed, x.op.HTTP.Method) {
			allowed = append(allowed, x.op.HTTP.Method)
		}
		if found == nil && x.op.HTTP.Method == r.Method {
			found, values = x, v
		}
	}
	return found, values, allowed
}

func (a *Answers) answer(w http.ResponseWriter, r *http.Request, x *answering, values uritemplate.Values) {
	args, err := x.arguments(w, r, values)
	if err != nil {
		problem(w, http.StatusBadRequest, err.Error())
		return
	}
	a.mu.Lock()
	s, err := a.e.StandIn(x.op, args)
	a.mu.Unlock()
	if err != nil {
		problem(w, http.StatusInternalServerError, err.Error())
		return
	}
	select {
	case <-time.After(time.Duration(s.After * float64(time.Millisecond))):
	case <-r.Context().Done():
		return
	}
	switch {
	case x.fails && len(s.Fails) > 0:
		problem(w, http.StatusServiceUnavailable, s.Fails[0])
	case x.op.Result == types.Void:
		w.WriteHeader(http.StatusNoContent)
	default:
		w.Header().Set("Content-Type", "application/json")
		json.NewEncoder(w).Encode(value.JSON(s.Reply))
	}
}

// maxBody is the most bytes that a request may carry.
const maxBody = 16 << 20

// arguments are those of an operation, from the address and the body of a request.
func (x *answering) arguments(w http.ResponseWriter, r *http.Request, values uritemplate.Values) ([]value.Value, error) {
	body := &types.Record{}
	for _, i := range x.op.HTTP.Body {
		body.Fields = append(body.Fields, types.Field{Name: x.op.Sig[i].Name, Type: x.op.Sig[i].Read(), Optional: types.Nullable(x.op.Sig[i].Read())})
	}
	var carried value.Value = value.Null{}
	if len(body.Fields) > 0 {
		data, err := io.ReadAll(http.MaxBytesReader(w, r.Body, maxBody))
		if err != nil {
			return nil, fmt.Errorf("the body cannot be read: %w", err)
		}
		want := types.Type(body)
		if len(body.Fields) == 1 {
			want = body.Fields[0].Type
		}
		if carried, err = design.DecodeJSON(data, want); err != nil {
			return nil, fmt.Errorf("the body does not fit: %w", err)
		}
	}
	args := make([]value.Value, len(x.op.Sig))
	for i, p := range x.op.Sig {
		var err error
		switch record, ok := carried.(*value.Record); {
		case !slices.Contains(x.op.HTTP.Body, i):
			args[i], err = x.written(p, r.URL.Query(), values)
		case len(body.Fields) == 1:
			args[i] = carried
		case ok:
			args[i] = record.Get(p.Name)
		}
		if err != nil {
			return nil, err
		}
	}
	return args, nil
}

// written is an argument that the address says.
func (x *answering) written(p types.Param, query url.Values, values uritemplate.Values) (value.Value, error) {
	list := values.Get(p.Name).V
	if slices.Contains(x.query, p.Name) {
		list = query[p.Name]
	}
	t := types.NonNull(p.Read())
	if l, ok := types.Under(t).(*types.List); ok {
		var items []value.Value
		for _, text := range list {
			v, err := one(p.Name, text, l.Elem)
			if err != nil {
				return nil, err
			}
			items = append(items, v)
		}
		return value.NewList(items), nil
	}
	switch {
	case len(list) > 0:
		return one(p.Name, list[0], t)
	case types.Nullable(p.Read()):
		return value.Null{}, nil
	}
	return nil, fmt.Errorf("the address does not say %s", p.Name)
}

// one is a value of a type that is written as a text.
func one(name, text string, t types.Type) (value.Value, error) {
	for _, v := range []value.Value{value.String(text), number(text), value.Bool(text == "true")} {
		if v != nil && (v.Kind() != value.BoolKind || text == "true" || text == "false") && design.Fits(v, t) {
			return v, nil
		}
	}
	return nil, fmt.Errorf("%s is %q, not %s", name, text, types.Article(t))
}

// number is a text as a number, or nil.
func number(text string) value.Value {
	n, err := strconv.ParseFloat(text, 64)
	if err != nil || n != n || n-n != 0 {
		return nil
	}
	return value.Number(n)
}
