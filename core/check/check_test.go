package check

import (
	"os"
	"path/filepath"
	"regexp"
	"sort"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/syntax"
)

// lineOf is the line, from 1, that a mark stands in.
func lineOf(text, mark string) int {
	i := strings.Index(text, mark)
	if i < 0 {
		return 0
	}
	return 1 + strings.Count(text[:i], "\n")
}

// TestPages: the wrong example of every rule has exactly the mistake that the
// page is about, at the marked line; the right one has none.
func TestPages(t *testing.T) {
	if len(Rules()) < len(rules) {
		t.Fatalf("there are %d pages", len(Rules()))
	}
	for _, name := range Rules() {
		t.Run(name, func(t *testing.T) {
			p := Page(name)
			if p.Why == "" || lineOf(p.Wrong, " HERE") == 0 {
				t.Fatal("the page has no reason, or no marked line")
			}
			d := design.Parse("wrong.lien", p.Wrong)
			hit := 0
			for _, f := range Run(d, Options{}) {
				at := d.Set.Position(f.Span.Start)
				switch {
				case f.Rule == name && at.Line == lineOf(p.Wrong, " HERE"):
					hit++
					if f.Level != p.Level || f.Write == "" {
						t.Errorf("%s: level %s, remedy %q", f.Message, f.Level, f.Write)
					}
				case f.Level > finding.Note:
					t.Errorf("the wrong example has another finding: %s: %s [%s]", at, f.Message, f.Rule)
				}
			}
			if hit != 1 {
				t.Errorf("the mistake is found %d times at its line", hit)
			}
			d = design.Parse("right.lien", p.Right)
			for _, f := range Run(d, Options{}) {
				if f.Level > finding.Note || f.Rule == name {
					t.Errorf("the right example: %s: %s [%s]", d.Set.Position(f.Span.Start), f.Message, f.Rule)
				}
			}
		})
	}
}

var annotation = regexp.MustCompile(`//! ([a-z-]+)(?: "([^"]*)")?`)

// TestAnnotated checks testdata/*.lien: a line that ends in //! RULE "words"
// has this finding, whose message or remedy contains the words; no other line
// has a finding above note.
func TestAnnotated(t *testing.T) {
	files, err := filepath.Glob("testdata/*.lien")
	if err != nil || len(files) == 0 {
		t.Fatalf("no designs: %v", err)
	}
	for _, name := range files {
		t.Run(filepath.Base(name), func(t *testing.T) {
			text, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			// the annotations are comments of their own kind; the design is read without them
			d := design.Parse(filepath.Base(name), annotation.ReplaceAllString(string(text), ""))
			found := Run(d, Options{})
			used := map[*finding.Finding]bool{}
			for i, line := range strings.Split(string(text), "\n") {
				for _, m := range annotation.FindAllStringSubmatch(line, -1) {
					if f := match(d, found, used, i+1, m[1], m[2]); f == nil {
						t.Errorf("line %d: expected %s %q", i+1, m[1], m[2])
					}
				}
			}
			for _, f := range found {
				if !used[f] && f.Level > finding.Note {
					t.Errorf("%s: unexpected: %s [%s]; %s", d.Set.Position(f.Span.Start), f.Message, f.Rule, f.Write)
				}
			}
		})
	}
}

func match(d *design.Design, found []*finding.Finding, used map[*finding.Finding]bool, line int, rule, words string) *finding.Finding {
	for _, f := range found {
		if !used[f] && d.Set.Position(f.Span.Start).Line == line && f.Rule == rule && strings.Contains(f.Message+" | "+f.Write, words) {
			used[f] = true
			return f
		}
	}
	return nil
}

// TestFixes: the edits of a finding mend it, and the result still reads.
func TestFixes(t *testing.T) {
	fixed := 0
	for _, name := range Rules() {
		d := design.Parse("wrong.lien", Page(name).Wrong)
		for _, f := range Run(d, Options{}) {
			if f.Fix == nil {
				continue
			}
			fixed++
			file := d.Set.Files()[0]
			text, n := finding.Apply(file.Text, file.Pos(0), f.Fix.Edits)
			again := design.Parse("mended.lien", text)
			for _, g := range Run(again, Options{}) {
				if g.Rule == f.Rule {
					t.Errorf("%s is still found after %q:\n%s", f.Rule, f.Fix.Title, text)
				}
			}
			if n == 0 || len(syntax.Parse(again.Set.Files()[0]).Findings) > 0 {
				t.Errorf("%s: %d edits, and then:\n%s", f.Rule, n, text)
			}
		}
	}
	if fixed < 5 {
		t.Errorf("only %d findings have a fix", fixed)
	}
}

func TestMeant(t *testing.T) {
	const text = `component a-b {
  // meant never-changed: the workshop sets it by hand
  holds room: number = 3
  holds more: number = 4 // meant never-changed
  const less = 2 // meant never-chnaged: x
  view { p ` + "`${room} ${more} ${less}`" + ` }
}
start a-b
`
	d := design.Parse("meant.lien", text)
	var got []string
	for _, f := range Run(d, Options{}) {
		got = append(got, d.Set.Position(f.Span.Start).String()+" "+f.Message)
	}
	sort.Strings(got)
	want := []string{
		"meant.lien:4:26 this comment does not say why it is meant",
		"meant.lien:5:18 there is no rule never-chnaged",
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("got:\n%s", strings.Join(got, "\n"))
	}
}

func TestLevels(t *testing.T) {
	d := design.Parse("wrong.lien", Page("never-changed").Wrong)
	if list := Run(d, Options{Levels: map[string]finding.Level{"never-changed": finding.Error}}); !finding.Failed(list) {
		t.Error("a raised warning is no error")
	}
	if list := Run(d, Options{Off: map[string]bool{"never-changed": true}}); len(list) > 0 {
		t.Errorf("a rule that is off finds %s", list[0].Message)
	}
}

// TestNamedKey: what a constant is called is not written over, as it may be meant otherwise elsewhere.
func TestNamedKey(t *testing.T) {
	for key, mended := range map[string]bool{`"return"`: true, "confirm": false} {
		d := design.Parse("keys.lien", `const confirm = "return"
component kiln-page {
  emits done(how: string)
  view { button "Done" { keydown(e) -> if (e.key == `+key+`) emit done(confirm) } }
}
start kiln-page
`)
		list := Run(d, Options{})
		if len(list) != 1 || list[0].Rule != "no-such-key" || (list[0].Fix != nil) != mended {
			t.Errorf("%s: it says %v", key, list)
		}
	}
}
