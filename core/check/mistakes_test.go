package check

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
)

var update = flag.Bool("update", false, "write down what is found in testdata/mistakes")

// A usual mistake: a design, what is said of it word for word, and the design once the remedies are
// typed. Where an edit mends it, that is what the edits make of it; else somebody typed it. Parts
// begin with a line of their own.
const (
	saysMark   = "--- says\n"
	mendedMark = "--- mended by edits\n"
	typedMark  = "--- mended by hand\n"
)

// TestMistakes: each finding in testdata/mistakes is told as written there, and the remedy works.
func TestMistakes(t *testing.T) {
	files, err := filepath.Glob("testdata/mistakes/*.txt")
	if err != nil || len(files) < 10 {
		t.Fatalf("%d mistakes: %v", len(files), err)
	}
	for _, name := range files {
		t.Run(strings.TrimSuffix(filepath.Base(name), ".txt"), func(t *testing.T) {
			data, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			text, rest, _ := strings.Cut(string(data), saysMark)
			says, mended, byEdits := strings.Cut(rest, mendedMark)
			if !byEdits {
				says, mended, _ = strings.Cut(rest, typedMark)
			}
			got, after := told(t, text), mendedBy(t, text)
			if *update {
				out := text + saysMark + got
				if byEdits || mended == "" && after != text {
					out += mendedMark + after
				} else {
					out += typedMark + mended
				}
				if err := os.WriteFile(name, []byte(out), 0o644); err != nil {
					t.Fatal(err)
				}
				return
			}
			if got != says {
				t.Errorf("it says\n%s\nwant\n%s", got, says)
			}
			if byEdits && after != mended {
				t.Errorf("the edits make of it\n%s\nwant\n%s", after, mended)
			}
			if left := told(t, mended); left != "" || strings.TrimSpace(mended) == "" {
				t.Errorf("once it is mended it says\n%s", left)
			}
		})
	}
}

// told is what is said of a design, notes left out.
func told(t *testing.T, text string) string {
	t.Helper()
	d := design.Parse("it.lien", text)
	var out strings.Builder
	for _, f := range Run(d, Options{}) {
		if at := d.Set.Position(f.Span.Start); f.Level > finding.Note {
			fmt.Fprintf(&out, "%d:%d %s [%s]\n    %s\n", at.Line, at.Column, f.Message, f.Rule, f.Write)
		}
	}
	return out.String()
}

// mendedBy is a design once all edits are made, and those for what they leave behind.
func mendedBy(t *testing.T, text string) string {
	t.Helper()
	for range 20 {
		d := design.Parse("it.lien", text)
		var edits []finding.Edit
		for _, f := range Run(d, Options{}) {
			if f.Fix != nil && f.Level > finding.Note {
				edits = append(edits, f.Fix.Edits...)
			}
		}
		file := d.Set.Files()[0]
		next, made := finding.Apply(text, file.Pos(0), edits)
		if made == 0 {
			return text
		}
		text = next
	}
	t.Error("it is never mended")
	return text
}
