package drive

import (
	"flag"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

var record = flag.Bool("record", false, "write down what the browser did on the pages of testdata/pages")

// recordOf is the file in which is written what a browser did on the pages of another one.
func recordOf(file string) string {
	return strings.TrimSuffix(file, ".page") + ".heard"
}

// written is what was heard and was so after each gesture, a line for each.
func written(s *sample, runs [][]string) string {
	var out strings.Builder
	out.WriteString("== " + s.name + "\n")
	for _, lines := range runs {
		out.WriteString(strings.Join(lines, " | ") + "\n")
	}
	return out.String()
}

// TestPagesAsRecorded: the simulated page does what a browser was seen to do, on machines without
// one, too.
func TestPagesAsRecorded(t *testing.T) {
	files, err := filepath.Glob("testdata/pages/*.page")
	if err != nil || len(files) < 5 {
		t.Fatalf("%d files of pages: %v", len(files), err)
	}
	for _, f := range files {
		text, err := os.ReadFile(recordOf(f))
		if err != nil {
			t.Fatal(err)
		}
		want := map[string]string{}
		for _, part := range strings.Split(string(text), "== ")[1:] {
			name, _, _ := strings.Cut(part, "\n")
			want[name] = "== " + part
		}
		for _, s := range samples(t, f) {
			got, err := simulate(s)
			if err != nil {
				t.Errorf("%s: %v", s, err)
				continue
			}
			if text := written(s, got); text != want[s.name] {
				t.Errorf("%s\n%s", s, sideBySide(strings.Split(want[s.name], "\n"), strings.Split(text, "\n")))
			}
		}
	}
}
