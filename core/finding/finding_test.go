package finding

import (
	"strings"
	"testing"

	"lien/core/source"
)

func at(start, end int) source.Span {
	return source.Span{Start: source.Pos(start + 1), End: source.Pos(end + 1)}
}

func TestApply(t *testing.T) {
	text := "one two three"
	for _, c := range []struct {
		name  string
		edits []Edit
		want  string
		made  int
	}{
		{"none", nil, text, 0},
		{"replace", []Edit{{at(4, 7), "2"}}, "one 2 three", 1},
		{"insert", []Edit{{at(4, 4), "and "}}, "one and two three", 1},
		{"remove", []Edit{{at(3, 7), ""}}, "one three", 1},
		{"in any order", []Edit{{at(8, 13), "3"}, {at(0, 3), "1"}}, "1 two 3", 2},
		{"overlapping", []Edit{{at(0, 7), "x"}, {at(4, 13), "y"}}, "x three", 1},
		{"beyond the end", []Edit{{at(4, 99), "x"}}, text, 0},
	} {
		if got, made := Apply(text, 1, c.edits); got != c.want || made != c.made {
			t.Errorf("%s: %q with %d edits, want %q with %d", c.name, got, made, c.want, c.made)
		}
	}
}

func TestNearest(t *testing.T) {
	names := []string{"toUpperCase", "includes", "shelf-button", "wares", "id", "pick"}
	for word, want := range map[string]string{
		"toUppercase":  "toUpperCase",
		"include":      "includes",
		"inculdes":     "includes",
		"shelfButton":  "shelf-button",
		"shelf_buton":  "shelf-button",
		"ware":         "wares",
		"ID":           "id",
		"pikc":         "pick",
		"click":        "",
		"x":            "",
		"wares":        "",
		"kiln-chamber": "",
	} {
		if got := Nearest(word, names); got != want {
			t.Errorf("near %q is %q, want %q", word, got, want)
		}
	}
}

func TestDistinct(t *testing.T) {
	list := Distinct([]*Finding{
		New("b", Error, at(5, 6), "later"),
		New("a", Warning, at(1, 2), "first"),
		New("a", Warning, at(1, 2), "first"),
		New("a", Warning, at(1, 2), "another"),
		New("c", Note, at(1, 3), "wider"),
	})
	var got []string
	for _, f := range list {
		got = append(got, f.Rule+" "+f.Message)
	}
	if want := "a another, a first, c wider, b later"; strings.Join(got, ", ") != want {
		t.Errorf("got %s", strings.Join(got, ", "))
	}
	if !Failed(list) || Failed(list[:3]) {
		t.Error("errors are not told from the rest")
	}
}

func TestLevels(t *testing.T) {
	for _, l := range []Level{Note, Warning, Error} {
		if got, ok := ParseLevel(l.String()); !ok || got != l {
			t.Errorf("%s is read as %v", l, got)
		}
	}
	if _, ok := ParseLevel("off"); ok {
		t.Error("off is a level")
	}
}
