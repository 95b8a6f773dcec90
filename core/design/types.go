package design

import (
	"fmt"
	"strings"
	"unicode"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

var basicTypes = map[string]types.Type{
	"string": types.String, "number": types.Number, "boolean": types.Boolean, "null": types.Null,
	"Key": types.Key, "void": types.Void,
}

func (r *resolver) declareType(d *syntax.TypeDecl) {
	name := d.Name.Text
	switch o := r.types[name]; {
	case o != nil:
		r.twice(d.Name, "type", o.Syntax.Name.Start)
		return
	case basicTypes[name] != nil:
		r.errorf("declared-twice", d.Name.Span(), "%s is a type of the language", name).Instead("give yours another name")
		return
	case !unicode.IsUpper(rune(name[0])):
		r.errorf("declared-twice", d.Name.Span(), "a type's name starts with a capital").Instead("write type %s", strings.ToUpper(name[:1])+name[1:])
	}
	t := &TypeName{&types.Named{Name: name}, d}
	r.types[name] = t
	r.d.Types = append(r.d.Types, t)
}

// selfMadeTypes reports types that are made of themselves with nothing between.
func (r *resolver) selfMadeTypes() {
	for _, t := range r.d.Types {
		seen := map[*types.Named]bool{}
		if madeOf(t.Under, t.Named, seen) {
			r.errorf("in-a-circle", t.Syntax.Name.Span(), "the type %s is made of itself", t.Name).
				Instead("put a list or a record between: %s[] or { next?: %s }", t.Name, t.Name)
			t.Under = types.Any
		}
	}
}

func madeOf(t types.Type, n *types.Named, seen map[*types.Named]bool) bool {
	switch t := t.(type) {
	case *types.Named:
		if t == n {
			return true
		}
		if seen[t] {
			return false
		}
		seen[t] = true
		return madeOf(t.Under, n, seen)
	case *types.Union:
		for _, m := range t.Members {
			if madeOf(m, n, seen) {
				return true
			}
		}
	}
	return false
}

// typeOf resolves a type as written.
func (r *resolver) typeOf(t syntax.Type) types.Type {
	switch t := t.(type) {
	case *syntax.NamedType:
		return r.namedType(t)
	case *syntax.LiteralType:
		return literalType(t)
	case *syntax.ListType:
		return &types.List{Elem: r.typeOf(t.Elem)}
	case *syntax.NullableType:
		return types.Join(r.typeOf(t.Elem), types.Null)
	case *syntax.ParenType:
		return r.typeOf(t.Elem)
	case *syntax.UnionType:
		if r.unquoted(t) {
			return types.Any
		}
		list := make([]types.Type, len(t.Members))
		for i, m := range t.Members {
			list[i] = r.typeOf(m)
		}
		return types.Join(list...)
	case *syntax.RecordType:
		rec := &types.Record{}
		for _, f := range t.Fields {
			if _, twice := rec.Field(f.Name.Text); twice {
				r.errorf("declared-twice", f.Name.Span(), "the field %s is declared twice", f.Name.Text).Instead("remove one of them")
			}
			rec.Fields = append(rec.Fields, types.Field{Name: f.Name.Text, Type: r.typeOf(f.Type), Optional: f.Optional})
		}
		return rec
	case *syntax.FuncType:
		return &types.Func{Params: r.params(t.Params), Result: r.typeOf(t.Result)}
	}
	return types.Any
}

func literalType(t *syntax.LiteralType) types.Type {
	switch v := t.Value.(type) {
	case *syntax.TextLit:
		return types.Literal{Value: value.String(v.Value)}
	case *syntax.NumberLit:
		return types.Literal{Value: value.Number(v.Value)}
	case *syntax.Name:
		return types.Literal{Value: value.Bool(v.Text == "true")}
	case *syntax.Unary:
		if n, ok := v.X.(*syntax.NumberLit); ok {
			return types.Literal{Value: value.Number(0 - n.Value)}
		}
	}
	return types.Any
}

// unquoted reports the names in idle | busy, which are texts without their quotes.
func (r *resolver) unquoted(t *syntax.UnionType) bool {
	var edits []finding.Edit
	parts := make([]string, len(t.Members))
	for i, m := range t.Members {
		parts[i] = r.d.Text(m.Span())
		n, ok := m.(*syntax.NamedType)
		if !ok || basicTypes[n.Name] != nil || r.types[n.Name] != nil || r.components[n.Name] != nil || otherTypes[n.Name] != "" || lowerFirst(n.Name) != n.Name {
			continue
		}
		parts[i] = `"` + n.Name + `"`
		edits = append(edits, finding.Edit{Span: n.Span(), Text: parts[i]})
	}
	if len(edits) == 0 || len(edits) == 1 && finding.Nearest(strings.Trim(edits[0].Text, `"`), r.typeNames()) != "" {
		return false
	}
	f := r.errorf("not-in-scope", t.Span(), "a text stands in quotes, also in a type").Instead("write %s", strings.Join(parts, " | "))
	f.Fix = &finding.Fix{Title: "write quotes", Edits: edits}
	return true
}

func (r *resolver) namedType(t *syntax.NamedType) types.Type {
	if b := basicTypes[t.Name]; b != nil {
		return b
	}
	if n := r.types[t.Name]; n != nil {
		return n.Named
	}
	if c := r.components[t.Name]; c != nil {
		return types.Instance{Of: c}
	}
	f := r.errorf("not-in-scope", t.Span(), "there is no type %s", t.Name)
	if write := otherTypes[t.Name]; write != "" {
		f.Instead("%s", write)
		return types.Any
	}
	f.Instead("%s", types.DidYouMean(t.Name, r.typeNames(), "the types are: "))
	if lowerFirst(t.Name) == t.Name && finding.Nearest(t.Name, r.typeNames()) == "" {
		f.Write = fmt.Sprintf("for this very text write %q; %s", t.Name, f.Write)
	}
	return types.Any
}

// otherTypes are types of other languages, with what stands for them here.
var otherTypes = map[string]string{
	"int": "write number", "integer": "write number", "float": "write number", "double": "write number", "Number": "write number",
	"String": "write string", "str": "write string", "text": "write string", "bool": "write boolean", "Boolean": "write boolean",
	"Date": "write number: times are milliseconds", "Set": "write string[], or a list of another type", "Array": "write string[], or a list of another type",
	"Map": "write a list of records: { key: string, value: number }[]", "object": "write its fields: { id: string, name: string }",
	"Object": "write its fields: { id: string, name: string }", "any": "write the type that it has; every value has one", "unknown": "write the type that it has; every value has one",
	"array": "write string[], or a list of another type", "list": "write string[], or a list of another type", "List": "write string[], or a list of another type",
	"map": "write a list of records: { key: string, value: number }[]", "record": "write its fields: { id: string, name: string }", "Record": "write its fields: { id: string, name: string }", "undefined": "write null, or ? behind the type",
	"Function": "write (value: string) => void", "void": "it stands only behind the => of a function's type",
}

func (r *resolver) typeNames() []string {
	names := []string{"string", "number", "boolean", "null", "Key"}
	for _, t := range r.d.Types {
		names = append(names, t.Name)
	}
	return names
}

// params resolves the parameters of a function, event or action.
func (r *resolver) params(list []*syntax.Param) []types.Param {
	params := make([]types.Param, len(list))
	for i, p := range list {
		params[i] = types.Param{Name: p.Name.Text, Type: r.typeOf(p.Type), Optional: p.Optional}
	}
	return params
}

// isInstance says whether a type is that of live components or named elements, or of a list of them.
func isInstance(t types.Type) bool {
	t = types.NonNull(t)
	if l, ok := types.Under(t).(*types.List); ok {
		t = types.NonNull(l.Elem)
	}
	members := types.Members(t)
	for _, m := range members {
		if _, ok := types.Under(m).(types.Instance); !ok {
			return false
		}
	}
	return len(members) > 0
}

// plain asks that values of a type can be kept and sent.
func (r *resolver) plain(t types.Type, at source.Span, where string) {
	if !types.Storable(t) {
		r.errorf("wrong-type", at, "%s cannot hold functions or instances", where).
			Instead("link functions to a takes; keep plain values in cells, records and events")
	}
}
