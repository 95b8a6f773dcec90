package syntax

import (
	"os"
	"path/filepath"
	"testing"
)

// FuzzPrint: reading never panics, and what reads without a finding prints to
// a text that reads the same and prints the same.
func FuzzPrint(f *testing.F) {
	files, _ := filepath.Glob("testdata/print/*.lien")
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(string(text))
	}
	f.Fuzz(func(t *testing.T, text string) {
		tree := parse(text)
		if len(tree.Findings) > 0 {
			return
		}
		once := string(Print(tree))
		again := parse(once)
		if len(again.Findings) > 0 {
			t.Fatalf("%q prints to\n%s\nwhich does not read: %s", text, once, again.Findings[0].Message)
		}
		if a, b := shape(tree), shape(again); a != b {
			t.Fatalf("%q prints to\n%s\nwhich means something else:\n%s\n%s", text, once, a, b)
		}
		if twice := string(Print(again)); twice != once {
			t.Fatalf("%q prints to\n%s\nand then to\n%s", text, once, twice)
		}
	})
}
