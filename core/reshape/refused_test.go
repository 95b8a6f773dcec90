package reshape

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
)

// TestRefused: an edit that cannot be made says where, why, and what to do. The designs in testdata/refused say it
// beside the spot: "// refused: EDIT | WHY | DO", behind the line, or above it; several in a row are divided by ";;".
func TestRefused(t *testing.T) {
	files, _ := filepath.Glob("testdata/refused/*.lien")
	if len(files) < 7 {
		t.Fatalf("only %d designs", len(files))
	}
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		t.Run(strings.TrimSuffix(filepath.Base(name), ".lien"), func(t *testing.T) {
			lines := refusals(t, string(text))
			if *update {
				if err := os.WriteFile(name, []byte(strings.Join(lines, "\n")), 0o600); err != nil {
					t.Fatal(err)
				}
			}
		})
	}
}

// refusals tries what a design says is refused, and gives its lines with what is said then.
func refusals(t *testing.T, text string) []string {
	d := parse(t, text)
	lines := strings.Split(text, "\n")
	said := 0
	for i, line := range lines {
		mark, end := "// refused: ", ""
		if strings.Contains(line, "/* refused: ") { // in a style sheet
			mark, end = "/* refused: ", " */"
		}
		code, cases, ok := strings.Cut(strings.TrimSuffix(line, end), mark)
		if !ok {
			continue
		}
		spot := i + 1
		for ; strings.TrimSpace(code) == "" && strings.HasPrefix(strings.TrimSpace(lines[spot-1]), "//"); spot++ {
		}
		var told []string
		for _, c := range strings.Split(cases, ";;") {
			said++
			told = append(told, refusedAt(t, d, strings.TrimSpace(c), spot))
		}
		lines[i] = code + mark + strings.Join(told, ";; ") + end
	}
	if said == 0 {
		t.Error("it says nothing of what is refused")
	}
	return lines
}

// refusedAt tries an edit, holds its refusal against what is said, and gives what should be said.
func refusedAt(t *testing.T, d *design.Design, said string, line int) string {
	t.Helper()
	words, _, _ := strings.Cut(said, " | ")
	args := strings.Fields(words)
	_, err := commands[args[0]](d, args[1:])
	r, ok := err.(*Refusal)
	switch {
	case !ok:
		t.Errorf("%s: it is not refused: %v", words, err)
		return words
	case len(r.Says) > 0:
		t.Errorf("%s: the reason is that of check alone: %s", words, r.Why)
	case r.At.Line != 0 && r.At.Line != line:
		t.Errorf("%s: it is refused in line %d, not %d: %s", words, r.At.Line, line, r.Why)
	}
	got := words + " | " + r.Why + " | " + r.Do
	if got != said && !*update {
		t.Errorf("it is refused otherwise:\n%s\nwanted\n%s", got, said)
	}
	return got
}
