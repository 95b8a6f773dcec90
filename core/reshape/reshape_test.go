package reshape

import (
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"lien/core/compare"
	"lien/core/design"
)

// parse reads a design that has no errors.
func parse(t testing.TB, text string) *design.Design {
	t.Helper()
	d := design.Parse("kiln.lien", text)
	for _, f := range d.Errors() {
		t.Fatalf("%s: %s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, f.Write, text)
	}
	return d
}

// commands are the edits by the words that the cases write.
var commands = map[string]func(d *design.Design, args []string) (*Result, error){
	"lift": func(d *design.Design, args []string) (*Result, error) {
		o := LiftOptions{}
		for i := 1; i < len(args); i++ {
			switch args[i] {
			case "--to":
				o.To = args[i+1]
			case "--as":
				o.As = args[i+1]
			case "--one":
				o.One = true
			}
		}
		return Lift(d, named(d, args[0]), o, Reparse(d))
	},
	"extract": func(d *design.Design, args []string) (*Result, error) {
		o := ExtractOptions{File: "kiln.lien"}
		if strings.HasPrefix(args[0], ".") { // the section of a class
			before, _, _ := strings.Cut(d.Files[0].Source.Text, "section"+args[0])
			args[0] = strconv.Itoa(strings.Count(before, "\n") + 1)
		}
		from, to, several := strings.Cut(args[0], "-")
		o.From, _ = strconv.Atoi(from)
		if o.To = o.From; several {
			o.To, _ = strconv.Atoi(to)
		}
		for i := 1; i < len(args); i++ {
			switch args[i] {
			case "--all":
				o.All = true
			case "--name":
				o.Name = args[i+1]
			case "--move":
				o.Move = append(o.Move, args[i+1])
			case "--keep":
				o.Keep = append(o.Keep, args[i+1])
			}
		}
		return Extract(d, o, Reparse(d))
	},
	"inline": func(d *design.Design, args []string) (*Result, error) {
		line := 0
		if len(args) == 3 {
			line, _ = strconv.Atoi(args[2])
		}
		return Inline(d, d.Component(args[0]), "kiln.lien", line, Reparse(d))
	},
	"rename": func(d *design.Design, args []string) (*Result, error) {
		return Rename(d, args[0], args[1], Reparse(d))
	},
	"supply": func(d *design.Design, args []string) (*Result, error) {
		var cells []*design.Member
		for i, a := range args {
			if a == "--as" {
				return Supply(d, cells, args[i+1], Reparse(d))
			}
			cells = append(cells, named(d, a))
		}
		return nil, &Refusal{Why: "no name"}
	},
	"relink": func(d *design.Design, args []string) (*Result, error) {
		return Relink(d, named(d, args[0]), args[2], "", Reparse(d))
	},
	"split": func(d *design.Design, args []string) (*Result, error) {
		return Split(d, named(d, args[0]), Reparse(d))
	},
	"join": func(d *design.Design, args []string) (*Result, error) {
		return Join(d, named(d, args[0]), named(d, args[1]), Reparse(d))
	},
	"lower": func(d *design.Design, args []string) (*Result, error) {
		to := ""
		if len(args) == 3 {
			to = args[2]
		}
		return Lower(d, named(d, args[0]), to, Reparse(d))
	},
}

func named(d *design.Design, name string) *design.Member {
	owner, label, _ := strings.Cut(name, ".")
	return d.Component(owner).Member(label)
}

// TestCases: a design, an edit, and what comes of it: the text, and whether it can be told; or why it is refused.
func TestCases(t *testing.T) {
	files, _ := filepath.Glob("testdata/*.txt")
	if len(files) == 0 {
		t.Fatal("there are no cases")
	}
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		before, rest, _ := strings.Cut(string(text), "--- ")
		out := before
		for _, c := range strings.Split(rest, "\n--- ") {
			line, _, _ := strings.Cut(c, "\n")
			t.Run(strings.TrimSuffix(filepath.Base(name), ".txt")+"/"+strings.ReplaceAll(line, " ", "_"), func(t *testing.T) {
				got := outcome(t, before, line)
				out += "--- " + line + "\n" + got
				if want := strings.TrimPrefix(c, line+"\n"); strings.TrimRight(got, "\n") != strings.TrimRight(want, "\n") && !*update {
					t.Errorf("got\n%s\nwant\n%s", got, want)
				}
			})
		}
		if *update {
			if err := os.WriteFile(name, []byte(out), 0o600); err != nil {
				t.Fatal(err)
			}
		}
	}
}

// outcome is what comes of an edit, in the words of the cases.
func outcome(t *testing.T, text, line string) string {
	d := parse(t, text)
	words := strings.Fields(line)
	res, err := commands[words[0]](d, words[1:])
	if err != nil {
		r := err.(*Refusal)
		at := ""
		if r.At.File != "" {
			at = r.At.String() + ": "
		}
		return "refused: " + at + r.Why + "\n  " + r.Do + "\n"
	}
	out := ""
	for _, f := range res.Files {
		out += f.Is
	}
	rep := compare.Run(d, res.Design, compare.Options{Pairs: 20_000})
	out += "=> " + string(rep.Verdict)
	for _, s := range rep.Starts {
		if s.Difference != nil {
			out += ": " + s.Difference.What
		}
	}
	return out + "\n"
}
