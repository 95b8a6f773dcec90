package design

import (
	"strings"
	"testing"
	"time"

	"lien/core/types"
	"lien/core/value"
)

// dataTypes are what data files are read as: one of every kind, and types that are
// made of themselves.
func dataTypes() []types.Type {
	tree := &types.Named{Name: "Tree"}
	left := &types.Record{Fields: []types.Field{{Name: "k", Type: types.Literal{Value: value.String("a")}}, {Name: "x", Type: tree}}}
	right := &types.Record{Fields: []types.Field{{Name: "k", Type: types.Literal{Value: value.String("b")}}, {Name: "x", Type: types.Or(tree, types.Null)}, {Name: "y", Type: tree, Optional: true}}}
	tree.Under = &types.Union{Members: []types.Type{left, right, types.String}}
	row := &types.Record{Fields: []types.Field{{Name: "name", Type: types.String}, {Name: "count", Type: types.Or(types.Number, types.Null)}, {Name: "hot", Type: types.Boolean, Optional: true}}}
	return []types.Type{tree, &types.List{Elem: tree}, &types.List{Elem: row}, row, types.Number, types.Or(types.String, types.Null), types.Any, &types.List{Elem: types.Any}}
}

// FuzzData: whatever is in a data file, it is read or refused, in time, and what is
// read is of the type.
func FuzzData(f *testing.F) {
	for _, text := range []string{
		`[{"name": "Bowl", "count": 3, "hot": true}, {"name": "Jug", "count": null}]`, `null`, `{"k": "a", "x": {"k": "b", "x": null}}`,
		`{"name": 1, "name": 2}`, "[1, 2", `"\ud800"`, `1e999`, "name,count\nBowl,3\nJug,\n", "name,name\na,b\n", "name\n\"", "\ufeff[]", "\xff",
		strings.Repeat("[", 300), strings.Repeat(`{"k":"d","x":`, 30) + `"s"` + strings.Repeat("}", 30),
	} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, name := range []string{"d.json", "d.csv"} {
			for _, typ := range dataTypes() {
				began := time.Now()
				v, err := decode(name, []byte(text), typ)
				if took := time.Since(began); took > 5*time.Second {
					t.Fatalf("%s as %s took %s: %q", name, typ, took, text)
				}
				if err == nil && !(fitter{}).fits(v, typ) {
					t.Fatalf("%s as %s: %q is read as %s", name, typ, text, value.Show(v))
				}
				if err != nil && err.Error() == "" {
					t.Fatalf("%s as %s: %q is refused without a word", name, typ, text)
				}
			}
		}
	})
}

// TestDataIsChecked: what a data file has twice, or in no UTF-8, is told with its line.
func TestDataIsChecked(t *testing.T) {
	row := dataTypes()[2]
	for _, c := range []struct{ name, text, says string }{
		{"d.json", "[{\"name\": \"a\", \"count\": 1,\n\"name\": \"b\"}]", "line 2: the field name is there twice"},
		{"d.csv", "name,count,name\na,1,b\n", "line 1: the column name is there twice"},
		{"d.json", "[\n\"\xff\"]", "line 2: this is no UTF-8"},
		{"d.csv", "name,count\nb\xc3,1\n", "line 2: this is no UTF-8"},
		{"d.json", `[{"name": null}]`, "has no field name"},
		{"d.json", `[{"name": "a"}, 5]`, "item 2 of the value is 5"},
		{"d.json", `[{"name": "a", "kiln": 5}]`, "has a field kiln"},
	} {
		if _, err := decode(c.name, []byte(c.text), row); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%q: %v, want %q", c.text, err, c.says)
		}
	}
	if _, err := decode("d.json", []byte(`null`), dataTypes()[0]); err == nil || !strings.Contains(err.Error(), "is null, but a Tree is wanted") {
		t.Errorf("null for what may not be null: %v", err)
	}
}
