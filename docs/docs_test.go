// Package docs_test runs what the documents show: every design in them is
// checked and run, every command is typed and its output compared.
package docs_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/story"
	"lien/core/syntax"
)

var fence = regexp.MustCompile("(?ms)^```([a-z][a-z -]*)\n(.*?)^```$")

// blocks visits the fenced blocks of the documents with a given first word.
func blocks(t *testing.T, word string, visit func(t *testing.T, file string, line int, info, text string)) {
	t.Helper()
	files, err := filepath.Glob("*.md")
	if err != nil {
		t.Fatal(err)
	}
	seen := 0
	for _, file := range append(files, "../README.md") {
		data, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range fence.FindAllStringSubmatchIndex(string(data), -1) {
			info := string(data[m[2]:m[3]])
			if w, _, _ := strings.Cut(info, " "); w != word {
				continue
			}
			seen++
			visit(t, file, 1+strings.Count(string(data[:m[0]]), "\n"), info, string(data[m[4]:m[5]]))
		}
	}
	if seen == 0 {
		t.Fatalf("the documents have no %s block", word)
	}
}

// TestDesigns: "lien" blocks are designs without a finding above note that is
// not about use, laid out as fmt would, whose scenarios pass; in "lien RULE"
// blocks the rule is found.
func TestDesigns(t *testing.T) {
	blocks(t, "lien", func(t *testing.T, file string, line int, info, text string) {
		d := design.Parse(file, text)
		list := check.Run(d, check.Options{})
		if _, rule, wrong := strings.Cut(info, " "); wrong {
			for _, f := range list {
				if f.Rule == rule {
					return
				}
			}
			t.Errorf("%s:%d: %s is not found", file, line, rule)
			return
		}
		for _, f := range list {
			if f.Level == finding.Error || f.Level == finding.Warning && f.Rule != "never-used" {
				p := d.Set.Position(f.Span.Start)
				t.Errorf("%s:%d: %s [%s]", file, line+p.Line, f.Message, f.Rule)
			}
		}
		if laid := string(syntax.Print(d.Files[0])); laid != text {
			t.Errorf("%s:%d: laid out it is:\n%s", file, line, laid)
		}
		if d.Failed() {
			return
		}
		for _, r := range story.Run(d, nil).Results {
			if r.Failure != nil {
				t.Errorf("%s:%d: %q: %s", file, line+d.Set.Position(r.Failure.At.Start).Line, r.Scenario.Name, r.Failure.Message)
			}
		}
	})
}

// TestCommands: in "console" blocks the lines after $ are typed, one folder a
// file, and print what follows them; a line … stands for any lines. What stands between
// <<'END' and END is typed too.
func TestCommands(t *testing.T) {
	bin := t.TempDir()
	if out, err := exec.Command("go", "build", "-o", filepath.Join(bin, "lien"), "lien").CombinedOutput(); err != nil {
		t.Fatal(string(out))
	}
	dirs := map[string]string{}
	blocks(t, "console", func(t *testing.T, file string, line int, _, text string) {
		if dirs[file] == "" {
			dirs[file] = t.TempDir()
		}
		for _, part := range strings.Split("\n"+text, "\n$ ")[1:] {
			command, want, _ := strings.Cut(part, "\n")
			if strings.HasSuffix(command, "<<'END'") { // a file that is typed in
				var typed string
				typed, want, _ = strings.Cut(want+"\n", "\nEND\n")
				command += "\n" + typed + "\nEND"
			}
			cmd := exec.Command("sh", "-c", command)
			cmd.Dir = dirs[file]
			cmd.Env = append(os.Environ(), "PATH="+bin+":"+os.Getenv("PATH"), "COLUMNS=100")
			out, _ := cmd.CombinedOutput()
			if !alike(string(out), want) {
				t.Errorf("%s:%d: %s prints:\n%s", file, line, command, out)
			}
		}
	})
}

// alike compares output with what a document shows of it.
func alike(got, want string) bool {
	var pattern strings.Builder
	pattern.WriteString(`(?s)\A`)
	for _, l := range strings.Split(strings.TrimRight(want, "\n"), "\n") {
		if l == "…" {
			pattern.WriteString(`.*`)
			continue
		}
		pattern.WriteString(regexp.QuoteMeta(l) + "\n")
	}
	pattern.WriteString(`\z`)
	return regexp.MustCompile(pattern.String()).MatchString(strings.TrimRight(got, "\n") + "\n")
}
