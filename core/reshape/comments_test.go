package reshape

import (
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
)

// TestCommentsStay: with a comment above every line and behind every line that takes one, no edit loses any.
func TestCommentsStay(t *testing.T) {
	random := rand.New(rand.NewPCG(9, 9))
	edits := 0
	texts := []string{before(t, "hand-down"), before(t, "hand-down-with-arguments"), before(t, "supply")}
	for range 6 {
		texts = append(texts, randomDesign(random))
	}
	for _, text := range texts {
		text := commented(text)
		d := design.Parse("kiln.lien", text)
		if d.Failed() {
			t.Fatalf("%s\n%s", d.Errors()[0].Message, text)
		}
		for _, e := range everyEdit(d, Reparse(d)) {
			res, err := e.make()
			if err != nil || strings.HasPrefix(e.name, "rename") {
				continue
			}
			edits++
			for i := range strings.Count(text, "// c") {
				if c := fmt.Sprintf("// c%d.", i); !strings.Contains(res.Files[0].Is, c) {
					t.Errorf("%s loses %q:\n%s", e.name, c, res.Files[0].Is)
					break
				}
			}
		}
	}
	if edits < 100 {
		t.Errorf("only %d edits were made", edits)
	}
}

// before is the design that cases begin with.
func before(t *testing.T, cases string) string {
	t.Helper()
	text, err := os.ReadFile(filepath.Join("testdata", cases+".txt"))
	if err != nil {
		t.Fatal(err)
	}
	design, _, _ := strings.Cut(string(text), "--- ")
	return design
}

// commented is a text with comments wherever one can stand.
func commented(text string) string {
	var plain []string
	for _, line := range strings.Split(text, "\n") { // those that are there are left out
		if i := strings.Index(line, "//"); i >= 0 {
			line = strings.TrimRight(line[:i], " ")
		}
		plain = append(plain, line)
	}
	var out []string
	n := 0
	next := func() string { n++; return fmt.Sprintf("// c%d.", n-1) }
	for i, line := range plain {
		if trimmed := strings.TrimSpace(line); trimmed != "" && !strings.HasPrefix(trimmed, "}") && !strings.HasPrefix(trimmed, "start") {
			out = append(out, strings.Repeat(" ", len(line)-len(strings.TrimLeft(line, " ")))+next())
			if !strings.HasSuffix(trimmed, "{") && i%2 == 0 {
				line += " " + next()
			}
		}
		out = append(out, line)
	}
	return string(syntax.Print(syntax.Parse(source.NewSet().Add("", strings.Join(out, "\n")))))
}
