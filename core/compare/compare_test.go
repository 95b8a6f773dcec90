package compare

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"lien/core/design"
)

// parse reads a design that has no errors.
func parse(t testing.TB, name, text string) *design.Design {
	t.Helper()
	d := design.Parse(name, text)
	for _, f := range d.Errors() {
		t.Fatalf("%s: %s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, f.Write, text)
	}
	return d
}

// TestCases: two designs each, what the comparison comes to, and the steps of the scenario that
// tells them apart, or what was not looked at.
func TestCases(t *testing.T) {
	text, err := os.ReadFile("testdata/cases.txt")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range strings.Split("\n"+string(text), "\n=== ")[1:] {
		name, rest, _ := strings.Cut(c, "\n")
		t.Run(strings.ReplaceAll(name, " ", "_"), func(t *testing.T) {
			before, rest, _ := strings.Cut(rest, "--- after\n")
			after, want, _ := strings.Cut(rest, "\n--- ")
			o := Options{Plain: true}
			if but, more, ok := strings.Cut(want, "\n--- "); ok && strings.HasPrefix(but, "but ") {
				o.But.Classes, want = but == "but classes", more
			}
			rep := Run(parse(t, "before.lien", before), parse(t, "after.lien", after+"\n"), o)
			if got := outcome(rep); got != strings.TrimSpace(want) {
				t.Errorf("got %s\nwant %s", got, want)
				for _, s := range rep.Starts {
					if s.Difference != nil {
						t.Log(s.Difference.What)
					}
				}
			}
		})
	}
}

// outcome is a report in the words of the cases.
func outcome(rep *Report) string {
	lines := []string{string(rep.Verdict)}
	if !rep.Differs() {
		lines[0] += fmt.Sprintf(" %d", rep.Pairs)
		lines = append(lines, rep.Cuts...)
	}
	for _, s := range rep.Starts {
		if s.Difference != nil {
			lines = append(lines, s.Difference.Steps...)
		}
	}
	return strings.Join(lines, "\n")
}

// TestStylesThatHide: what a style keeps from being shown can be told, also where it is only a text; what else styles say is not.
func TestStylesThatHide(t *testing.T) {
	page := func(style string) *design.Design {
		t.Helper()
		d := design.Parse("kiln.lien", "component kiln-page {\n  holds late: boolean = false\n  style { "+style+" }\n  view {\n    main {\n      p.hint { .late <- late; \"a hint\" }\n      button \"Late\" { click -> late = !late }\n    }\n  }\n}\nstart kiln-page\n")
		for _, f := range d.Errors() {
			t.Fatal(f.Message)
		}
		return d
	}
	for _, c := range []struct {
		a, b    string
		differs bool
	}{
		{".hint { color: red }", ".hint { color: blue }", false},
		{".hint { color: red }", ".hint { display: none }", true},
		{".hint { visibility: hidden }", ".hint { display: none }", false}, // nobody sees it either way
		{".hint { color: red }", ".late { visibility: hidden }", true},
		{".late { display: none }", ".hint.late { display: none }", false},
		{".late { display: none }", ".hint:not(.late) { display: none }", true},
	} {
		rep := Run(page(c.a), page(c.b), Options{})
		if rep.Differs() != c.differs {
			t.Errorf("%s and %s: they differ: %v", c.a, c.b, rep.Differs())
		}
	}
}
