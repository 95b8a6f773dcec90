package web

import (
	"flag"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
)

var update = flag.Bool("update", false, "write down what is built as what is expected")

// parse reads a design that has no errors.
func parse(t testing.TB, text string) *design.Design {
	t.Helper()
	d := design.Parse("kiln.lien", text)
	for _, f := range d.Errors() {
		t.Fatalf("%s: %s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, f.Write, text)
	}
	return d
}

// TestText: what is built of three designs, as text.
func TestText(t *testing.T) {
	files, _ := filepath.Glob("testdata/text/*.lien")
	if len(files) < 3 {
		t.Fatalf("only %d designs", len(files))
	}
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		d := parse(t, string(text))
		list, err := Build(d, Options{Start: d.Starts[0]})
		if err != nil {
			t.Fatal(err)
		}
		var out strings.Builder
		for _, f := range list {
			if f.Path != "lien.js" { // which has tests of its own
				out.WriteString("--- " + f.Path + "\n" + string(f.Text))
			}
		}
		want := strings.TrimSuffix(name, ".lien") + ".txt"
		if *update {
			if err := os.WriteFile(want, []byte(out.String()), 0o600); err != nil {
				t.Fatal(err)
			}
		}
		if is, err := os.ReadFile(want); err != nil || string(is) != out.String() {
			t.Errorf("%s: it is built otherwise, %v:\n%s", name, err, out.String())
		}
	}
}

// TestSameBytes: the same design gives the same page.
func TestSameBytes(t *testing.T) {
	for name, d := range samples(t) {
		first, err := Build(d, Options{Start: d.Starts[0]})
		if err != nil {
			t.Fatal(name, err)
		}
		again, err := Build(d, Options{Start: d.Starts[0]})
		if err != nil || len(first) != len(again) {
			t.Fatal(name, err)
		}
		for i := range first {
			if string(first[i].Text) != string(again[i].Text) {
				t.Errorf("%s: %s is another text the second time", name, first[i].Path)
			}
		}
	}
}

// TestNames: a local is called as it is in the design, or with one underscore more where the word is taken.
func TestNames(t *testing.T) {
	for _, c := range [][2]string{{"id", "id"}, {"own", "own_"}, {"own_", "own__"}, {"at", "at_"}, {"class", "class_"}, {"lien", "lien_"}, {"await", "await_"}, {"ownership", "ownership"}} {
		if got := free(c[0]); got != c[1] {
			t.Errorf("%s is called %s, want %s", c[0], got, c[1])
		}
	}
	for _, c := range [][2]string{{"kiln-page", "kilnPage"}, {"a-b-c", "aBC"}, {"rack", "rack"}, {"new", "new_"}} {
		if got := jsName(c[0]); got != c[1] {
			t.Errorf("%s is called %s, want %s", c[0], got, c[1])
		}
	}
	for _, c := range [][2]string{{"id", "id"}, {"a-b", `"a-b"`}, {"", `""`}, {"__proto__", `["__proto__"]`}, {"1a", `"1a"`}, {"é", `"é"`}} {
		if got := key(c[0]); got != c[1] {
			t.Errorf("%q is the key %s, want %s", c[0], got, c[1])
		}
	}
}
