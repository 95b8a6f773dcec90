package form_test

import (
	"os"
	"path/filepath"
	"testing"

	"lien/core/compare"
	"lien/core/design"
	"lien/core/form"
)

// TestExamplesHaveForms: most examples have a form, and are alike themselves.
func TestExamplesHaveForms(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	have := 0
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		d := design.Parse(name, string(text))
		again := design.Parse(name, string(text))
		if d.Failed() {
			continue
		}
		for k, s := range d.Starts {
			if why := form.Alike(d, again, s, again.Starts[k]); why != "" {
				t.Logf("%s: %s", filepath.Base(name), why)
			} else {
				have++
			}
		}
	}
	t.Logf("%d have", have)
	if have < 8 {
		t.Errorf("only %d starts have a form", have)
	}
	_ = compare.Alike
}
