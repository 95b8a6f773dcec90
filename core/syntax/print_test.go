package syntax

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/source"
)

func parse(text string) *File { return Parse(source.NewSet().Add("test.lien", text)) }

// TestPrint lays out every testdata/print/*.lien file and compares it with
// the .want file beside it; what is laid out already must stay as it is.
func TestPrint(t *testing.T) {
	files, err := filepath.Glob("testdata/print/*.lien")
	if err != nil || len(files) == 0 {
		t.Fatalf("no files to print: %v", err)
	}
	for _, name := range files {
		t.Run(filepath.Base(name), func(t *testing.T) {
			text, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			want, err := os.ReadFile(strings.TrimSuffix(name, ".lien") + ".want")
			if err != nil {
				t.Fatal(err)
			}
			got := layOut(t, string(text))
			if got != string(want) {
				t.Errorf("laid out as:\n%s\nwant:\n%s", got, want)
			}
			if again := layOut(t, got); again != got {
				t.Errorf("a second time:\n%s\nwant:\n%s", again, got)
			}
		})
	}
}

func layOut(t *testing.T, text string) string {
	t.Helper()
	f := parse(text)
	for _, fd := range f.Findings {
		t.Errorf("%d: %s", fd.Span.Start, fd.Message)
	}
	return string(Print(f))
}

// TestBranchesStay: one branch a line, where the author wrote so.
func TestBranchesStay(t *testing.T) {
	text := "component a-b {\n  holds n: number = 0\n  view {\n    when n > 0 { p \"warm\" }\n    else when n < 0 { p \"cold\" }\n    else { p \"none\" }\n" +
		"    when n > 1 { p \"a\" } else { p \"b\" }\n    button \"x\" {\n      click -> {\n        if (n > 1) { n = 1 }\n        else { n = 2 }\n      }\n    }\n  }\n}\n"
	file := Parse(source.NewSet().Add("t", text))
	if got := string(Print(file)); got != text {
		t.Errorf("it is laid out as\n%s", got)
	}
}
