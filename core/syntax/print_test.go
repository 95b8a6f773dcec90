package syntax

import (
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
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

// TestDamagedStyles: whatever becomes of a style sheet, reading it ends, and what can be read is laid out to what stays
// as it is.
func TestDamagedStyles(t *testing.T) {
	file, err := os.ReadFile("testdata/print/styles.lien")
	if err != nil {
		t.Fatal(err)
	}
	random := rand.New(rand.NewPCG(1, 2))
	whole := 0
	for range 3000 {
		text := file
		for range 1 + random.IntN(4) {
			at := random.IntN(len(text) - 1)
			end := min(len(text), at+random.IntN(30))
			switch random.IntN(3) {
			case 0:
				text = slices.Concat(text[:at], []byte{"{}();:,.\"'/*@\\ \n`$#&"[random.IntN(20)]}, text[at+1:])
			case 1:
				text = slices.Concat(text[:at], text[end:])
			case 2:
				text = slices.Concat(text[:end], text[at:])
			}
		}
		tree := parse(string(text))
		if len(tree.Findings) > 0 {
			continue
		}
		whole++
		once := string(Print(tree))
		again := parse(once)
		if len(again.Findings) > 0 || string(Print(again)) != once {
			t.Fatalf("%s\nis laid out as\n%s\nand then as\n%s\n%v", text, once, Print(again), again.Findings)
		}
	}
	if whole < 100 {
		t.Errorf("only %d texts could be read", whole)
	}
}
