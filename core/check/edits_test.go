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

// TestEditsDoNoHarm: making the edits of all findings leads to no error where there was none, declares nothing twice, and ends.
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

// nodeText is a template behind the name of a node; plainHole is a value in one that needs no parentheses in a sum.
var (
	nodeText  = regexp.MustCompile("(?m)(?:^|[{;]) *(?:p|h[1-6]|li|span|strong|button|td|th|label|output|summary|dt|dd|a)(?:[.][a-z-]+)* (`[^`\n]*\\$\\{[^`\n]*`)")
	hole      = regexp.MustCompile(`\$\{[^{}]*\}`)
	plainHole = regexp.MustCompile(`^\$\{[\w.]+(\([\w., ]*\))?\}$`)
)

// asSum is a template as the sum of its texts and values; "" where a value of it would need parentheses.
func asSum(template string) string {
	body, at := template[1:len(template)-1], 0
	parts := []string{`""`} // so that a text stands in it
	text := func(s string) {
		if s != "" {
			parts = append(parts, `"`+strings.ReplaceAll(strings.ReplaceAll(s, "\\`", "`"), `"`, `\"`)+`"`)
		}
	}
	for _, h := range hole.FindAllStringIndex(body, -1) {
		if !plainHole.MatchString(body[h[0]:h[1]]) {
			return ""
		}
		text(body[at:h[0]])
		parts = append(parts, body[h[0]+2:h[1]-1])
		at = h[1]
	}
	text(body[at:])
	return strings.Join(parts, " + ")
}

// TestSumsAreMended: a template that is written as a sum is mended to what it was.
func TestSumsAreMended(t *testing.T) {
	files, err := filepath.Glob("../story/testdata/pass/*.lien")
	if err != nil {
		t.Fatal(err)
	}
	tried := 0
	for _, file := range files {
		data, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		was := string(data)
		for _, m := range nodeText.FindAllStringSubmatchIndex(was, -1) {
			sum := asSum(was[m[2]:m[3]])
			if sum == "" {
				continue
			}
			tried++
			d := design.Parse("it.lien", was[:m[2]]+sum+was[m[3]:])
			var edits []finding.Edit
			for _, f := range d.Errors() {
				if f.Fix != nil {
					edits = append(edits, f.Fix.Edits...)
				}
			}
			if is, _ := finding.Apply(d.Set.Files()[0].Text, d.Set.Files()[0].Pos(0), edits); is != was {
				t.Errorf("%s: %s becomes no %s", file, sum, was[m[2]:m[3]])
			}
		}
	}
	if tried < 50 {
		t.Errorf("only %d sums were tried", tried)
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
		mended := design.Parse("it.lien", next)
		after := errorsOf(mended)
		if twice := declaredTwice(mended); twice > declaredTwice(d) {
			return fmt.Sprintf("once mended, more is declared twice: %s\nby\n%s\nfrom\n%s\nto\n%s", strings.Join(after, "\n"), strings.Join(made, "\n"), text, next)
		}
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

// declaredTwice is how many members the components of a design have more than once. Links are not looked at: of a line that
// is there twice and links the wrong way, the edits make two links.
func declaredTwice(d *design.Design) (n int) {
	for _, f := range d.Errors() {
		if f.Rule == "declared-twice" && strings.Contains(f.Message, "two members named") {
			n++
		}
	}
	return n
}

func errorsOf(d *design.Design) (list []string) {
	for _, f := range d.Errors() {
		list = append(list, fmt.Sprintf("%s: %s", d.Set.Position(f.Span.Start), f.Message))
	}
	return list
}
