package types

import (
	"testing"

	"lien/core/value"
)

func lit(s string) Type { return Literal{value.String(s)} }

func rec(fields ...Field) *Record { return &Record{fields} }

func req(name string, t Type) Field { return Field{name, t, false} }

func opt(name string, t Type) Field { return Field{name, t, true} }

// tree is a type that is recursive through a list.
func tree() *Named {
	n := &Named{Name: "Tree"}
	n.Under = rec(req("name", String), req("kids", &List{n}))
	return n
}

func fn(result Type, params ...Type) *Func {
	f := &Func{Result: result}
	for _, p := range params {
		f.Params = append(f.Params, Param{"x", p, false})
	}
	return f
}

func TestAssignable(t *testing.T) {
	forest, other := tree(), tree()
	for _, c := range []struct {
		name     string
		from, to Type
		want     bool
	}{
		{"the same", String, String, true},
		{"another", String, Number, false},
		{"nothing fits everywhere", Never, String, true},
		{"what is reported fits everywhere", Any, String, true},
		{"everything fits what is reported", String, Any, true},
		{"a literal", lit("a"), String, true},
		{"a literal of its own", lit("a"), lit("a"), true},
		{"another literal", lit("a"), lit("b"), false},
		{"what a literal is one of", String, lit("a"), false},
		{"into a union", lit("a"), Or(lit("a"), lit("b")), true},
		{"not into a union", lit("c"), Or(lit("a"), lit("b")), false},
		{"out of a union", Or(lit("a"), lit("b")), String, true},
		{"null", Null, Or(String, Null), true},
		{"a value where null may be", String, Or(String, Null), true},
		{"null where it may not be", Or(String, Null), String, false},
		{"true and false", Boolean, Or(Literal{value.Bool(true)}, Literal{value.Bool(false)}), true},
		{"lists", &List{lit("a")}, &List{String}, true},
		{"lists the other way", &List{String}, &List{lit("a")}, false},
		{"an empty list", &List{Never}, &List{String}, true},
		{"records", rec(req("a", String), req("b", Number)), rec(req("a", String)), true},
		{"a record without a field", rec(req("a", String)), rec(req("a", String), req("b", Number)), false},
		{"a record without an optional field", rec(req("a", String)), rec(req("a", String), opt("b", Number)), true},
		{"an optional field of another type", rec(req("a", String), req("b", String)), rec(req("a", String), opt("b", Number)), false},
		{"an optional field where one is needed", rec(opt("a", String)), rec(req("a", String)), false},
		{"an optional field where null may be", rec(opt("a", String)), rec(req("a", Or(String, Null))), true},
		{"recursive types", forest, other, true},
		{"a recursive type and a record", rec(req("name", String), req("kids", &List{forest})), forest, true},
		{"a recursive type that differs", forest, rec(req("name", String), req("kids", &List{String})), false},
		{"functions", fn(String, Number), fn(String, Number), true},
		{"a function that takes less", fn(String), fn(String, Number), true},
		{"a function that takes more", fn(String, Number, Number), fn(String, Number), false},
		{"a function that takes anything", fn(String, Or(Number, Null)), fn(String, Number), true},
		{"a function that takes only some", fn(String, Number), fn(String, Or(Number, Null)), false},
		{"a function whose result is dropped", fn(String), fn(Void), true},
		{"a procedure where a result is wanted", fn(Void), fn(String), false},
		{"keys are no strings", Key, String, false},
	} {
		if got := Assignable(c.from, c.to); got != c.want {
			t.Errorf("%s: %s to %s is %v", c.name, c.from, c.to, got)
		}
	}
}

func TestUnions(t *testing.T) {
	ware := &Named{Name: "Ware", Under: rec(req("id", String))}
	maybe := &Named{Name: "Maybe", Under: Or(ware, Null)}
	for _, c := range []struct {
		t    Type
		want string
	}{
		{Or(String, Null), "string?"},
		{Or(Null, String), "string?"},
		{Or(String, String), "string"},
		{Or(lit("a"), String), "string"},
		{Or(String, lit("a")), "string"},
		{Or(lit("a"), lit("b"), Null), `"a" | "b" | null`},
		{Or(Never, Number), "number"},
		{Or(), "nothing"},
		{Or(ware, Null), "Ware?"},
		{Or(maybe, Null), "Ware?"},
		{NonNull(maybe), "Ware"},
		{NonNull(Or(String, Null)), "string"},
		{NonNull(Null), "nothing"},
		{&List{Or(String, Null)}, "string?[]"},
		{&List{Or(String, Number)}, "(string | number)[]"},
		{&List{fn(Void, String)}, "((x: string) => void)[]"},
		{Or(fn(Void), Null), "(() => void)?"},
		{rec(), "{}"},
		{rec(req("a", String), opt("b", Number)), "{ a: string, b?: number }"},
		{Widen(Or(lit("a"), lit("b"))), "string"},
		{Widen(&List{lit("a")}), "string[]"},
		{Widen(rec(req("a", lit("x")))), "{ a: string }"},
	} {
		if got := c.t.String(); got != c.want {
			t.Errorf("got %s, want %s", got, c.want)
		}
	}
	if !Nullable(maybe) || Nullable(ware) || len(Members(maybe)) != 2 {
		t.Error("a name for a union is not seen through")
	}
}

func TestComparable(t *testing.T) {
	for _, c := range []struct {
		a, b Type
		want bool
	}{
		{String, String, true},
		{String, Number, false},
		{Or(String, Null), String, true},
		{Or(String, Null), Number, false},
		{lit("a"), Or(lit("a"), lit("b")), true},
		{lit("c"), Or(lit("a"), lit("b")), false},
		{Or(lit("a"), lit("b")), Or(lit("b"), lit("c")), true},
		{&List{String}, &List{lit("a")}, true},
		{&List{String}, &List{Number}, false},
		{Null, String, false},
	} {
		if got := Comparable(c.a, c.b); got != c.want {
			t.Errorf("%s and %s: %v", c.a, c.b, got)
		}
	}
}

func TestStorable(t *testing.T) {
	for _, c := range []struct {
		t    Type
		want bool
	}{
		{String, true},
		{tree(), true},
		{fn(Void), false},
		{&List{fn(Void)}, false},
		{rec(req("f", fn(Void))), false},
		{Or(String, fn(Void)), false},
		{Void, false},
		{Key, true},
	} {
		if got := Storable(c.t); got != c.want {
			t.Errorf("%s: %v", c.t, got)
		}
	}
}

func TestArticle(t *testing.T) {
	for _, c := range []struct {
		t    Type
		want string
	}{
		{String, "a string"},
		{Null, "null"},
		{Or(Number, Null), "a number?"},
		{rec(req("a", String)), "a record { a: string }"},
		{lit("a"), `"a"`},
		{&Named{Name: "Item", Under: String}, "an Item"},
	} {
		if got := Article(c.t); got != c.want {
			t.Errorf("got %s, want %s", got, c.want)
		}
	}
}
