// Package types holds the types of the language and the typed expressions.
// Types are structural; null is part of a type or not, and tests narrow it.
package types

import (
	"strings"

	"lien/core/finding"
	"lien/core/value"
)

// Type is a type. Compare types with Identical, not with ==.
type Type interface{ String() string }

// Basic is a type without parts.
type Basic uint8

const (
	Never   Basic = iota // of no value: the items of []
	Any                  // of what has an error already: fits everywhere
	Void                 // of a procedure's result
	Null                 // null
	Boolean              // true and false
	Number               // IEEE 754 doubles that are finite
	String               // UTF-16 texts
	Key                  // what fresh() gives
)

var basicNames = [...]string{"nothing", "…", "void", "null", "boolean", "number", "string", "Key"}

func (b Basic) String() string { return basicNames[b] }

type (
	// Literal is the type of one string, number or boolean.
	Literal struct{ Value value.Value }
	// List is T[].
	List struct{ Elem Type }
	// Record is { id: string, note?: string }.
	Record struct{ Fields []Field }
	// Field is one field of a record.
	Field struct {
		Name     string
		Type     Type
		Optional bool
	}
	// Func is (id: string) => void.
	Func struct {
		Params []Param
		Result Type
	}
	// Param is a parameter of a function, an event or an action.
	Param struct {
		Name     string
		Type     Type
		Optional bool
	}
	// Union is a | b, flat and without duplicates; make it with Or.
	Union struct{ Members []Type }
	// Named is a declared name for a type.
	Named struct {
		Name  string
		Under Type
	}
	// Instance is a live component, context or named element.
	Instance struct{ Of Owner }
)

// Owner is what an Instance is an instance of.
type Owner interface {
	TypeName() string
	// Reach finds what others can read or call on an instance.
	Reach(name string) Symbol
	// Reachable lists the names that Reach finds.
	Reachable() []string
	// Kept says how to come by a name that is there and that Reach does not find, or "".
	Kept(name string) string
}

func (l Literal) String() string  { return value.Show(l.Value) }
func (n *Named) String() string   { return n.Name }
func (i Instance) String() string { return i.Of.TypeName() }
func (l *List) String() string    { return group(l.Elem) + "[]" }
func (f *Func) String() string    { return Params(f.Params) + " => " + f.Result.String() }
func (f Field) Read() Type        { return optional(f.Type, f.Optional) }
func (p Param) Read() Type        { return optional(p.Type, p.Optional) }

func optional(t Type, o bool) Type {
	if o {
		return Or(t, Null)
	}
	return t
}

func group(t Type) string {
	switch t := t.(type) {
	case *Func:
		return "(" + t.String() + ")"
	case *Union:
		if !(len(t.Members) == 2 && strings.HasSuffix(t.String(), "?")) {
			return "(" + t.String() + ")"
		}
	}
	return t.String()
}

// Params prints parameters with their parentheses.
func Params(list []Param) string {
	parts := make([]string, len(list))
	for i, p := range list {
		parts[i] = fieldString(p.Name, p.Type, p.Optional)
	}
	return "(" + strings.Join(parts, ", ") + ")"
}

// Names prints the names of parameters with parentheses, as a handler begins or an event is reported.
func Names(list []Param) string {
	names := make([]string, len(list))
	for i, p := range list {
		names[i] = p.Name
	}
	return "(" + strings.Join(names, ", ") + ")"
}

func fieldString(name string, t Type, optional bool) string {
	if optional {
		name += "?"
	}
	return name + ": " + t.String()
}

func (r *Record) String() string {
	if len(r.Fields) == 0 {
		return "{}"
	}
	parts := make([]string, len(r.Fields))
	for i, f := range r.Fields {
		parts[i] = fieldString(f.Name, f.Type, f.Optional)
	}
	return "{ " + strings.Join(parts, ", ") + " }"
}

// Field finds a field.
func (r *Record) Field(name string) (Field, bool) {
	for _, f := range r.Fields {
		if f.Name == name {
			return f, true
		}
	}
	return Field{}, false
}

func (u *Union) String() string {
	var parts []string
	var last Type
	null := false
	for _, m := range u.Members {
		if m == Null {
			null = true
			continue
		}
		last = m
		parts = append(parts, m.String())
	}
	if null && len(parts) == 1 {
		return group(last) + "?" // by its name, if it has one: it may be made of itself
	}
	if null {
		parts = append(parts, "null")
	}
	return strings.Join(parts, " | ")
}

// Under is the type that a name stands for, or t itself.
func Under(t Type) Type {
	for {
		n, ok := t.(*Named)
		if !ok {
			return t
		}
		if n.Under == nil {
			return Any
		}
		t = n.Under
	}
}

// Or is the union of types, without those that others include.
func Or(list ...Type) Type {
	if len(list) == 1 {
		if _, several := Under(list[0]).(*Union); !several {
			return list[0]
		}
	}
	var out []Type
	var add func(t Type)
	add = func(t Type) {
		if u, ok := t.(*Union); ok {
			for _, m := range u.Members {
				add(m)
			}
			return
		}
		if n, ok := t.(*Named); ok {
			if u, ok := Under(n).(*Union); ok {
				add(u)
				return
			}
		}
		if t == Never {
			return
		}
		for i, o := range out {
			if Assignable(t, o) {
				return
			}
			if Assignable(o, t) {
				out[i] = t
				return
			}
		}
		out = append(out, t)
	}
	for _, t := range list {
		add(t)
	}
	switch len(out) {
	case 0:
		return Never
	case 1:
		return out[0]
	}
	return &Union{out}
}

// Join is the union of types as written: names in it may not be known yet,
// so nothing is left out but what is there twice.
func Join(list ...Type) Type {
	var out []Type
	for _, t := range list {
		if u, ok := t.(*Union); ok {
			out = append(out, u.Members...)
			continue
		}
		out = append(out, t)
	}
	if len(out) == 1 {
		return out[0]
	}
	return &Union{out}
}

// Members are the parts of a union, or the type alone.
func Members(t Type) []Type {
	u, ok := Under(t).(*Union)
	if !ok {
		return []Type{t}
	}
	for i, m := range u.Members {
		if inner, ok := Under(m).(*Union); ok && inner != u {
			flat := append([]Type(nil), u.Members[:i]...)
			for _, rest := range u.Members[i:] {
				flat = append(flat, Members(rest)...)
			}
			return flat
		}
	}
	return u.Members
}

// Nullable says whether null is among the values of t.
func Nullable(t Type) bool {
	if _, several := Under(t).(*Union); !several {
		return Under(t) == Null
	}
	for _, m := range Members(t) {
		if Under(m) == Null {
			return true
		}
	}
	return false
}

// NonNull is t without null.
func NonNull(t Type) Type {
	if !Nullable(t) {
		return t
	}
	return keep(t, func(m Type) bool { return Under(m) != Null })
}

// keep is the union of the members of t that ok holds of.
func keep(t Type, ok func(Type) bool) Type {
	var out []Type
	for _, m := range Members(t) {
		if ok(m) {
			out = append(out, m)
		}
	}
	switch len(out) {
	case 0:
		return Never
	case 1:
		return out[0]
	}
	return &Union{out}
}

// Widen turns the type of a literal into the type of what it is one of.
func Widen(t Type) Type {
	switch t := t.(type) {
	case Literal:
		return basicOf(t)
	case *List:
		return &List{Widen(t.Elem)}
	case *Record:
		fields := append([]Field(nil), t.Fields...)
		for i := range fields {
			fields[i].Type = Widen(fields[i].Type)
		}
		return &Record{fields}
	case *Union:
		var out []Type
		for _, m := range t.Members {
			out = append(out, Widen(m))
		}
		return Or(out...)
	}
	return t
}

func basicOf(l Literal) Type {
	switch l.Value.Kind() {
	case value.StringKind:
		return String
	case value.NumberKind:
		return Number
	}
	return Boolean
}

// Article is the type's name with a or an, for messages.
func Article(t Type) string {
	s := t.String()
	switch {
	case t == Null || t == Never || t == Any || t == Void:
		return s
	case s[0] == '{':
		return "a record " + s
	case s[0] == '"':
		return s
	}
	return finding.Article(s)
}
