package check

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
)

var judge = flag.Bool("judge", false, "look at many more random designs")

// slips are what is easily typed in place of something else.
var slips = []struct{ what, by string }{
	{"`", `"`}, {"<-", "->"}, {"->", "<-"}, {"<->", "<-"}, {"${", "{"}, {"emit ", ""}, {"start ", ""}, {" ?? ", " || "}, {"click", "onclick"},
	{"holds ", "const "}, {"holds ", "holds aside "}, {"takes ", "holds "}, {"shares ", "takes "}, {"const ", "let "}, {"when ", "if "}, {"each ", "for "},
	{" by ", " at "}, {"null", "undefined"}, {"==", "==="}, {"forward", "emit x()"}, {": string", ""}, {"?", ""}, {"derives ", "holds "}, {"-", ""},
}

var (
	backquoted = regexp.MustCompile("`[^`\n]*`")
	words      = regexp.MustCompile(`\b[a-z][A-Za-z-]+\b`)
)

// slipped is a design in which somebody slipped: a thing typed for another, a name cut or taken from elsewhere, a line left out or doubled.
func slipped(text string, r *rand.Rand) string {
	switch r.IntN(5) {
	case 0:
		s := slips[r.IntN(len(slips))]
		if n := strings.Count(text, s.what); n > 0 {
			parts := strings.Split(text, s.what)
			at := r.IntN(n) + 1
			return strings.Join(parts[:at], s.what) + s.by + strings.Join(parts[at:], s.what)
		}
	case 1:
		all := words.FindAllStringIndex(text, -1)
		a, b := all[r.IntN(len(all))], all[r.IntN(len(all))]
		return text[:a[0]] + text[b[0]:b[1]] + text[a[1]:]
	case 2:
		lines := strings.SplitAfter(text, "\n")
		at := r.IntN(len(lines))
		return strings.Join(lines[:at], "") + strings.Join(lines[at+1:], "")
	case 3:
		lines := strings.SplitAfter(text, "\n")
		at := r.IntN(len(lines))
		return strings.Join(lines[:at+1], "") + strings.Join(lines[at:], "")
	case 4:
		if all := backquoted.FindAllStringIndex(text, -1); len(all) > 0 {
			at := all[r.IntN(len(all))]
			return text[:at[0]] + `"` + text[at[0]+1:at[1]-1] + `"` + text[at[1]:]
		}
	}
	return text
}

// TestEditsDoNoHarm: making the edits of all findings leads to no error where there was none, and ends.
func TestEditsDoNoHarm(t *testing.T) {
	files, err := filepath.Glob("../../examples/*.lien")
	if err != nil || len(files) < 10 {
		t.Fatalf("%d examples: %v", len(files), err)
	}
	n := 400
	if *judge {
		n = 20_000
	}
	for seed := range n {
		r := rand.New(rand.NewPCG(uint64(seed), 1))
		data, err := os.ReadFile(files[r.IntN(len(files))])
		if err != nil {
			t.Fatal(err)
		}
		text := string(data)
		for range 1 + r.IntN(3) {
			text = slipped(text, r)
		}
		if why := harmed(text); why != "" {
			t.Errorf("seed %d: %s", seed, why)
		}
	}
}

// harmed says how the edits make a design worse, or "".
func harmed(text string) string {
	begun, last := text, ""
	for range 30 {
		d := design.Parse("it.lien", text)
		before := errorsOf(d)
		var edits, quotes []finding.Edit
		var made []string
		for _, f := range Run(d, Options{}) {
			if f.Fix != nil {
				edits = append(edits, f.Fix.Edits...)
				if f.Rule == "quoted-template" {
					quotes = append(quotes, f.Fix.Edits...)
				}
				made = append(made, fmt.Sprintf("%s: %s [%s]", d.Set.Position(f.Span.Start), f.Message, f.Rule))
			}
		}
		at := d.Set.Files()[0].Pos(0)
		next, count := finding.Apply(text, at, edits)
		if count == 0 {
			return ""
		}
		after := errorsOf(design.Parse("it.lien", next))
		if len(before) == 0 && len(after) > 0 {
			if told, _ := finding.Apply(text, at, quotes); len(errorsOf(design.Parse("it.lien", told))) > 0 {
				return "" // what stood in the quotes was wrong, and nobody could see it
			}
			return fmt.Sprintf("once mended: %s\nby\n%s\nfrom\n%s\nto\n%s", after[0], strings.Join(made, "\n"), text, next)
		}
		text, last = next, strings.Join(made, "\n")
	}
	return "it is never mended:\n" + begun + "\nlast by\n" + last + "\nto\n" + text
}

func errorsOf(d *design.Design) (list []string) {
	for _, f := range d.Errors() {
		list = append(list, fmt.Sprintf("%s: %s", d.Set.Position(f.Span.Start), f.Message))
	}
	return list
}
