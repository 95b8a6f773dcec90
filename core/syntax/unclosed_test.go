package syntax

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/source"
)

// TestOneBraceLess takes every } that begins a line out of every example, one
// at a time: one finding is left, at the { that it closed.
func TestOneBraceLess(t *testing.T) {
	files, err := filepath.Glob("../../examples/*.lien")
	if err != nil || len(files) == 0 {
		t.Fatalf("no examples: %v", err)
	}
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		for open, shut := range pairs(string(text)) {
			less := string(text[:shut]) + string(text[shut+1:])
			if !strings.HasSuffix(strings.TrimRight(less[:shut], " "), "\n") || strings.HasPrefix(less[shut:], " else") {
				continue // the layout tells nothing of it, or an else stands alone
			}
			file := new(source.Set).Add(filepath.Base(name), less)
			found := Parse(file).Findings
			if len(found) != 1 || found[0].Message != "this { is never closed" || found[0].Span.Start != file.Pos(open) {
				t.Errorf("%s without the } at byte %d: want one finding, at byte %d, got %v", file.Name, shut, open, found)
			}
		}
	}
}

// pairs are the places of the blocks of a text: where each { stands, and its }.
func pairs(text string) map[int]int {
	s := scan(new(source.Set).Add("pairs", text), nil)
	out := map[int]int{}
	var open []int
	for _, t := range s.tokens {
		switch t.kind {
		case LBrace:
			open = append(open, int(t.start))
		case RBrace:
			out[open[len(open)-1]] = int(t.start)
			open = open[:len(open)-1]
		}
	}
	return out
}
