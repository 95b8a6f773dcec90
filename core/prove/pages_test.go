package prove

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// TestPages: pages of the size that teams have are proved whole: nothing is broken,
// and nothing is cut but texts that were not typed. The largest is for -judge.
func TestPages(t *testing.T) {
	files, _ := filepath.Glob("testdata/pages/*.lien")
	if len(files) < 3 {
		t.Fatalf("only %d pages", len(files))
	}
	for _, f := range files {
		name := strings.TrimSuffix(filepath.Base(f), ".lien")
		if name == "wares-table" && !*judge {
			continue
		}
		t.Run(name, func(t *testing.T) {
			text, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			rep := Run(parsed(t, string(text)), Options{})
			for _, o := range rep.Laws {
				if o.Verdict != Holds && o.Verdict != HoldsWithin {
					t.Errorf("%s is %s: %+v", o.Name(), o.Verdict, o.Breach)
				}
			}
			for _, c := range rep.Cuts {
				if !strings.HasPrefix(c, "samples: ") {
					t.Errorf("cut: %s", c)
				}
			}
			if s := rep.Starts[0]; s.Slices == 0 || !s.Whole {
				t.Errorf("%d slices, whole %v", s.Slices, s.Whole)
			}
		})
	}
}
