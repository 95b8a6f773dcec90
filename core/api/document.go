package api

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/pb33f/libopenapi/datamodel/high/base"
	v3 "github.com/pb33f/libopenapi/datamodel/high/v3"
	"github.com/pb33f/libopenapi/orderedmap"
)

// document is what a design is written from: what an OpenAPI document says of types, and of what can be asked.
type document struct {
	title, version string
	base           string             // the address of the first server, or ""
	schemas        map[string]*schema // those that have a name
	operations     []*operation       // in the order of their addresses
}

// schema is a JSON Schema, as far as the language can say what it says.
type schema struct {
	kinds       []string // of values, but null
	null        bool     // it may be null
	onlyNull    bool
	fixed       []any // the only values; or nil
	all, any    []*reference
	properties  map[string]*reference
	required    []string
	items       *reference
	least       *float64
	shown       any // an example, or the default
	isShown     bool
	description string
}

// reference is a schema where it is used: by its name, or by what is written there. What is nil is not known.
type reference struct {
	name string
	of   *schema
}

// operation is what can be asked at an address.
type operation struct {
	path, method, id, said string
	parameters             []*parameter // those of the path first
	body                   *content     // or nil
	replies                []*reply     // in the order of their codes
}

type parameter struct {
	name, in string
	required bool
	apart    bool // each of several values is given by itself
	schema   *reference
}

// content is what is carried.
type content struct {
	empty   bool
	json    bool // it is JSON, of this schema
	schema  *reference
	shown   any
	isShown bool
}

type reply struct {
	code, said string
	content    *content
}

// reader turns what the library reads into a document.
type reader struct {
	named map[string]*schema // by where they stand in the document; one that is being read, too
}

const schemasAt = "#/components/schemas/"

func (r *reader) document(d *v3.Document) *document {
	out := &document{schemas: map[string]*schema{}}
	if d.Info != nil {
		out.title, out.version = d.Info.Title, d.Info.Version
	}
	if len(d.Servers) > 0 && d.Servers[0] != nil {
		out.base = d.Servers[0].URL
		for n, v := range all(d.Servers[0].Variables) {
			out.base = strings.ReplaceAll(out.base, "{"+n+"}", v.Default)
		}
	}
	if d.Components != nil {
		for n, p := range all(d.Components.Schemas) {
			out.schemas[n] = r.at(schemasAt+n, p)
		}
	}
	if d.Paths != nil {
		for _, path := range sorted(d.Paths.PathItems) {
			out.operations = append(out.operations, r.operations(path, d.Paths.PathItems.GetOrZero(path))...)
		}
	}
	return out
}

// at is the schema at a place of the document, read once.
func (r *reader) at(place string, p *base.SchemaProxy) *schema {
	if s := r.named[place]; s != nil {
		return s
	}
	s := &schema{}
	r.named[place] = s
	r.fill(s, p.Schema())
	return s
}

func (r *reader) reference(p *base.SchemaProxy) *reference {
	if p == nil {
		return nil
	}
	if !p.IsReference() {
		s := &schema{}
		r.fill(s, p.Schema())
		return &reference{of: s}
	}
	place := p.GetReference()
	name, isNamed := strings.CutPrefix(place, schemasAt)
	if !isNamed || strings.Contains(name, "/") {
		return &reference{of: r.at(place, p)}
	}
	return &reference{name, r.at(schemasAt+unescaped(name), p)}
}

func (r *reader) references(list []*base.SchemaProxy) (out []*reference) {
	for _, p := range list {
		if p != nil {
			out = append(out, r.reference(p))
		}
	}
	return out
}

func (r *reader) fill(s *schema, from *base.Schema) {
	if from == nil {
		return
	}
	s.kinds = slices.DeleteFunc(slices.Clone(from.Type), func(k string) bool { return k == "null" })
	s.null = slices.Contains(from.Type, "null") || from.Nullable != nil && *from.Nullable
	s.onlyNull = slices.Equal(from.Type, []string{"null"})
	switch {
	case from.Const != nil:
		s.fixed = []any{plain(from.Const)}
	default:
		for _, v := range from.Enum {
			s.fixed = append(s.fixed, plain(v))
		}
	}
	s.all, s.any = r.references(from.AllOf), r.references(append(slices.Clone(from.OneOf), from.AnyOf...))
	s.properties = map[string]*reference{}
	for n, p := range all(from.Properties) {
		s.properties[n] = r.reference(p)
	}
	s.required, s.least, s.description = from.Required, from.Minimum, from.Description
	if from.Items != nil && from.Items.IsA() {
		s.items = r.reference(from.Items.A)
	}
	switch {
	case from.Example != nil:
		s.shown, s.isShown = plain(from.Example), true
	case len(from.Examples) > 0:
		s.shown, s.isShown = plain(from.Examples[0]), true
	case from.Default != nil:
		s.shown, s.isShown = plain(from.Default), true
	}
}

func (r *reader) operations(path string, item *v3.PathItem) (list []*operation) {
	if item == nil {
		return nil
	}
	for _, m := range []struct {
		method string
		op     *v3.Operation
	}{{"GET", item.Get}, {"POST", item.Post}, {"PUT", item.Put}, {"PATCH", item.Patch}, {"DELETE", item.Delete}} {
		if m.op == nil {
			continue
		}
		o := &operation{path: path, method: m.method, id: m.op.OperationId, said: firstOf(m.op.Summary, m.op.Description)}
		for _, p := range slices.Concat(item.Parameters, m.op.Parameters) {
			if p != nil {
				o.parameters = append(o.parameters, &parameter{p.Name, p.In, p.Required != nil && *p.Required, p.Explode == nil || *p.Explode, r.reference(p.Schema)})
			}
		}
		if b := m.op.RequestBody; b != nil {
			o.body = r.content(b.Content)
		}
		o.replies = r.replies(m.op.Responses)
		list = append(list, o)
	}
	return list
}

func (r *reader) replies(from *v3.Responses) (list []*reply) {
	if from == nil {
		return nil
	}
	add := func(code string, at *v3.Response) {
		if at != nil {
			list = append(list, &reply{code, at.Description, r.content(at.Content)})
		}
	}
	for _, code := range sorted(from.Codes) {
		add(code, from.Codes.GetOrZero(code))
	}
	add("default", from.Default)
	return list
}

// content is the first that is JSON, as the alphabet has them.
func (r *reader) content(of *orderedmap.Map[string, *v3.MediaType]) *content {
	for _, kind := range sorted(of) {
		base, _, _ := strings.Cut(kind, ";")
		if base != "application/json" && (!strings.HasSuffix(base, "+json") || base == "application/problem+json") {
			continue
		}
		m := of.GetOrZero(kind)
		c := &content{json: true, schema: r.reference(m.Schema)}
		names := sorted(m.Examples)
		switch {
		case m.Example != nil:
			c.shown, c.isShown = plain(m.Example), true
		case len(names) > 0 && m.Examples.GetOrZero(names[0]).Value != nil:
			c.shown, c.isShown = plain(m.Examples.GetOrZero(names[0]).Value), true
		}
		return c
	}
	return &content{empty: orderedmap.Len(of) == 0}
}

// all are the entries of a map that may be nil.
func all[V any](m *orderedmap.Map[string, V]) func(yield func(string, V) bool) {
	return func(yield func(string, V) bool) {
		if m == nil {
			return
		}
		for k, v := range m.FromOldest() {
			if !yield(k, v) {
				return
			}
		}
	}
}

func sorted[V any](m *orderedmap.Map[string, V]) (names []string) {
	for n := range all(m) {
		names = append(names, n)
	}
	slices.Sort(names)
	return names
}

// unescaped is a part of a JSON pointer as it names what it stands for (RFC 6901).
func unescaped(part string) string {
	return strings.NewReplacer("~1", "/", "~0", "~").Replace(part)
}

// plain is a value as JSON has it: null, a boolean, a number, a text, a list or a record.
func plain(node interface{ Decode(any) error }) any {
	var v any
	if node.Decode(&v) != nil {
		return nil
	}
	return asJSON(v)
}

func asJSON(v any) any {
	switch v := v.(type) {
	case int:
		return float64(v)
	case int64:
		return float64(v)
	case uint64:
		return float64(v)
	case float64:
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return nil
		}
	case time.Time: // YAML has dates, and JSON has none
		if v.Equal(v.Truncate(24 * time.Hour)) {
			return v.Format(time.DateOnly)
		}
		return v.Format(time.RFC3339)
	case []any:
		for i, x := range v {
			v[i] = asJSON(x)
		}
	case map[string]any:
		for k, x := range v {
			v[k] = asJSON(x)
		}
	case map[any]any:
		out := map[string]any{}
		for k, x := range v {
			out[fmt.Sprint(k)] = asJSON(x)
		}
		return out
	}
	return v
}
