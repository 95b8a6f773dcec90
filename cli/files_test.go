package cli_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

const small = "component kiln-lamp {\n  holds lit: boolean = false\n  view { button \"Light\" { click -> lit = !lit; aria-pressed <- lit } }\n}\n\nstart kiln-lamp\n\nscenario \"light\" { press button \"Light\" }\n"

func link(t *testing.T, dir, to, name string) {
	t.Helper()
	if err := os.Symlink(to, filepath.Join(dir, name)); err != nil {
		t.Skip(err)
	}
}

// quick runs a command that has to end by itself, whatever it reads.
func quick(t *testing.T, dir string, args ...string) result {
	t.Helper()
	began := time.Now()
	r := lien(t, dir, args...)
	if took := time.Since(began); took > 10*time.Second {
		t.Errorf("lien %v took %s", args, took)
	}
	return r
}

// TestReadsNothingOutside: what lies outside of the folder that was named, is a link out
// of it, or is no file, is not read and not quoted, by any command.
func TestReadsNothingOutside(t *testing.T) {
	t.Parallel()
	const data = "type Ware = { name: string }\nconst wares: Ware[] = file(\"%\")\ncomponent a-b { view { p `${wares.length}` } }\nstart a-b\n"
	outside := t.TempDir()
	secret := write(t, outside, "secret.txt", "TOP SECRET glaze\n")
	write(t, outside, "secret.json", `[{"name": 5, "glaze": "TOP SECRET"}]`)
	write(t, outside, "lib/lib.lien", "TOP SECRET\n")
	for _, c := range []struct {
		name   string
		make   func(dir string)
		design string
		says   string
		status int
	}{
		{"use of a file by its path", nil, `use "` + secret + `"`, "outside of the folder", 1},
		{"use upwards", nil, `use "../` + filepath.Base(outside) + `/lib"`, "outside of the folder", 1},
		{"use through itself", nil, `use "x/../../` + filepath.Base(outside) + `/lib"`, "outside of the folder", 1},
		{"use of a file that is no design", func(dir string) { write(t, dir, "notes.txt", "TOP SECRET") }, `use "notes.txt"`, "ends in .lien", 1},
		{"use of a link out", func(dir string) { link(t, dir, outside+"/lib", "lib") }, `use "lib"`, "outside of the folder", 1},
		{"use of a device", nil, `use "../../../../../../dev/zero"`, "outside of the folder", 1},
		{"use of a pipe", func(dir string) { pipe(t, dir, "p.lien2") }, `use "p.lien2"`, "device, pipe or socket", 1},
		{"a design that is a link out", func(dir string) { link(t, dir, secret, "b.lien") }, "component a-b { view { } }", "outside of the folder", 2},
		{"a design that is a pipe", func(dir string) { pipe(t, dir, "b.lien") }, "component a-b { view { } }", "device, pipe or socket", 2},
		{"a design that is a device", func(dir string) { link(t, dir, "/dev/zero", "b.lien") }, "component a-b { view { } }", "outside of the folder", 2},
		{"a design that is a folder", func(dir string) { os.MkdirAll(dir+"/b.lien", 0o755) }, small, "", 0},
		{"data that is a link out", func(dir string) { link(t, dir, outside+"/secret.json", "d.json") }, strings.Replace(data, "%", "d.json", 1), "outside of the folder", 1},
		{"data through a linked folder", func(dir string) { link(t, dir, outside, "sub") }, strings.Replace(data, "%", "sub/secret.json", 1), "outside of the folder", 1},
		{"data that is a pipe", func(dir string) { pipe(t, dir, "d.json") }, strings.Replace(data, "%", "d.json", 1), "device, pipe or socket", 1},
		{"data that is no data", func(dir string) { write(t, dir, "d.txt", "TOP SECRET") }, strings.Replace(data, "%", "d.txt", 1), "end in .json or .csv", 1},
		{"a link that leads in circles", func(dir string) { link(t, dir, "d.json", "d.json") }, strings.Replace(data, "%", "d.json", 1), "d.json", 1},
		{"a link within", func(dir string) {
			write(t, dir, "own.json", `[{"name": "Bowl"}]`)
			link(t, dir, "own.json", "d.json")
		}, strings.Replace(data, "%", "d.json", 1), "", 0},
	} {
		t.Run(c.name, func(t *testing.T) {
			dir := t.TempDir()
			write(t, dir, "a.lien", c.design+"\n")
			if c.make != nil {
				c.make(dir)
			}
			for _, args := range [][]string{{"check"}, {"test"}, {"map"}, {"prove"}, {"fmt"}, {"check", "--format", "json"}, {"draw", "--to", "h.svg"}, {"report", "--states", "0"}} {
				r := quick(t, dir, args...)
				if strings.Contains(r.out+r.err, "TOP SECRET") {
					t.Errorf("lien %v quotes it:\n%s%s", args, r.out, r.err)
				}
			}
			if r := lien(t, dir, "check"); r.status != c.status || !strings.Contains(r.out+r.err, c.says) {
				t.Errorf("status %d, want %d and %q\n%s%s", r.status, c.status, c.says, r.out, r.err)
			}
			if got := read(t, secret); got != "TOP SECRET glaze\n" {
				t.Errorf("outside is now %q", got)
			}
		})
	}
}

func pipe(t *testing.T, dir, name string) {
	t.Helper()
	if err := syscall.Mkfifo(filepath.Join(dir, name), 0o644); err != nil {
		t.Skip(err)
	}
}

// TestRoot: --root opens a folder around the design, and the design has to lie in it.
func TestRoot(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "parts/p.lien", "component wide-lamp { view { p \"lamp\" } }\n")
	write(t, dir, "page/p.lien", "use \"../parts\"\ncomponent lamp-page { view { wide-lamp { } } }\nstart lamp-page\nscenario \"s\" { shows \"lamp\" }\n")
	for _, cmd := range []string{"check", "test", "prove", "map", "fmt", "trace"} {
		lien(t, dir, cmd, "page", "--root", ".").want(t, 0)
		lien(t, dir, cmd, "page", "--root", "parts").want(t, 2, "does not lie in", "name a folder around both")
	}
	lien(t, dir, "check", "page/p.lien", "--root", "..").want(t, 0)
}

// TestFixesWhatWasNamed: --fix mends the files that were named, and tells of others.
func TestFixesWhatWasNamed(t *testing.T) {
	dir := t.TempDir()
	const other = "component a-lamp { holds lit: boolean = false; holds idle: number = 0; view { p `${idle}`; button \"x\" { click -> lit = !lit; aria-pressed <- lit } } }\n"
	write(t, dir, "parts/p.lien", other)
	write(t, dir, "page/p.lien", "use \"../parts\"\ncomponent lamp-page { holds idle: number = 0; view { a-lamp { }; p `${idle}` } }\nstart lamp-page\n")
	r := lien(t, dir, "check", "page", "--root", ".", "--fix")
	if !strings.Contains(r.err, "mended 1 place") || !strings.Contains(r.err, "1 place could be mended in parts/p.lien") {
		t.Errorf("it says\n%s", r.err)
	}
	if got := read(t, dir+"/parts/p.lien"); got != other {
		t.Errorf("the other file is now %s", got)
	}
	if got := read(t, dir+"/page/p.lien"); !strings.Contains(got, "const idle") {
		t.Errorf("the named file is still %s", got)
	}
}

// TestNamesAreNames: characters that are patterns elsewhere are none here.
func TestNamesAreNames(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for _, name := range []string{"a[1]", "b*", "c?d", "e{f}", " g", "-h"} {
		arg := "./" + name
		lien(t, dir, "new", arg).want(t, 0, "wrote")
		own := read(t, dir+"/"+name+"/design.lien") + "// mine\n"
		write(t, dir, name+"/design.lien", own)
		lien(t, dir, "new", arg).want(t, 2, "is there already")
		if got := read(t, dir+"/"+name+"/design.lien"); got != own {
			t.Errorf("%s was written over", name)
		}
		lien(t, dir, "fmt", "-w", arg).want(t, 0)
		lien(t, dir, "test", arg).want(t, 0)
	}
}

// TestWritesNothingOver: what others made stays, and what was made here is made anew.
func TestWritesNothingOver(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	design := write(t, dir, "d.lien", small)
	for _, to := range []string{"h.svg", "h.png", "h.pdf", "h.html"} {
		make := []string{"draw", "d.lien", "--to", to}
		if strings.HasSuffix(to, ".html") {
			make = []string{"report", "d.lien", "--to", to, "--states", "0"}
		}
		lien(t, dir, make...).want(t, 0, to)
		first := read(t, dir+"/"+to)
		lien(t, dir, make...).want(t, 0, to)
		if read(t, dir+"/"+to) != first {
			t.Errorf("%s is not the same a second time", to)
		}
		write(t, dir, to, first+"changed by hand")
		lien(t, dir, make...).want(t, 2, "was not made by lien or was changed since", "--force")
		if read(t, dir+"/"+to) != first+"changed by hand" {
			t.Errorf("%s was written over", to)
		}
		lien(t, dir, append(make, "--force")...).want(t, 0)
		if read(t, dir+"/"+to) != first {
			t.Errorf("%s was not written though it was forced", to)
		}
	}
	for _, args := range [][]string{{"report", "d.lien", "--to", "d.lien"}, {"report", "d.lien", "--to", "./d.lien", "--force"}} {
		lien(t, dir, args...).want(t, 2, "part of the design")
	}
	link(t, dir, "d.lien", "l.svg")
	lien(t, dir, "draw", "d.lien", "--to", "l.svg", "--force").want(t, 2, "part of the design")
	if read(t, design) != small {
		t.Error("the design was written over")
	}
	link(t, dir, "nowhere", "gone.svg")
	lien(t, dir, "draw", "d.lien", "--to", "gone.svg").want(t, 2, "leads nowhere")
	os.MkdirAll(dir+"/f.svg", 0o755)
	lien(t, dir, "draw", "d.lien", "--to", "f.svg").want(t, 2, "is a folder")
	lien(t, dir, "draw", "d.lien", "--to", "none/h.svg").want(t, 2, "there is no folder none")
	link(t, dir, "h.svg", "to.svg")
	lien(t, dir, "draw", "d.lien", "--to", "to.svg").want(t, 0)
	if info, err := os.Lstat(dir + "/to.svg"); err != nil || info.Mode()&os.ModeSymlink == 0 {
		t.Error("the link was replaced")
	}
	if _, err := os.Stat("/dev/null"); err == nil {
		lien(t, dir, "report", "d.lien", "--to", "/dev/null", "--states", "0").want(t, 0)
	}
	pipe(t, dir, "p.svg")
	quick(t, dir, "draw", "d.lien", "--to", "p.svg").want(t, 2, "nobody reads")
	write(t, dir, "studio/wares.csv", "mine")
	lien(t, dir, "demo", "--to", "studio").want(t, 2, "wares.csv is there already")
	if entries, _ := os.ReadDir(dir + "/studio"); len(entries) != 1 || read(t, dir+"/studio/wares.csv") != "mine" {
		t.Errorf("the folder has %v", entries)
	}
}

// TestKeepsFiles: files that are laid out or mended keep their links, modes and names,
// and what may not be written stays.
func TestKeepsFiles(t *testing.T) {
	dir := t.TempDir()
	const loose, laid = "component a-b   { view { p \"x\" } }\nstart a-b\n", "component a-b {\n  view { p \"x\" }\n}\n\nstart a-b\n"
	path := write(t, dir, "d.lien", loose)
	os.Chmod(path, 0o640)
	lien(t, dir, "fmt", "-w", "d.lien").want(t, 0, "d.lien")
	if info, _ := os.Stat(path); info.Mode().Perm() != 0o640 || read(t, path) != laid {
		t.Errorf("mode %v, %s", info.Mode(), read(t, path))
	}
	write(t, dir, "d.lien", loose)
	link(t, dir, "d.lien", "l.lien")
	lien(t, dir, "fmt", "-w", "l.lien").want(t, 0)
	if info, _ := os.Lstat(dir + "/l.lien"); info.Mode()&os.ModeSymlink == 0 || read(t, path) != laid {
		t.Error("the link was replaced")
	}
	write(t, dir, "d.lien", loose)
	if err := os.Link(path, dir+"/hard.lien"); err != nil {
		t.Skip(err)
	}
	lien(t, dir, "fmt", "-w", "d.lien").want(t, 0)
	if read(t, dir+"/hard.lien") != laid {
		t.Error("the two names are two files now")
	}
	entries, _ := os.ReadDir(dir)
	for _, e := range entries {
		if strings.HasPrefix(e.Name(), ".lien-") {
			t.Errorf("%s was left behind", e.Name())
		}
	}
}

// TestFullDisk: what cannot be written is told, by every command that prints.
func TestFullDisk(t *testing.T) {
	full, err := os.OpenFile("/dev/full", os.O_WRONLY, 0)
	if err != nil {
		t.Skip(err)
	}
	defer full.Close()
	dir := t.TempDir()
	write(t, dir, "d.lien", small)
	for _, args := range [][]string{{"check"}, {"check", "--format", "json"}, {"check", "--format", "sarif"}, {"test"}, {"test", "--format", "junit"}, {"trace"}, {"map"}, {"prove"}, {"prove", "--format", "json"}, {"fmt"}, {"help"}, {"--version"}, {"man"}, {"draw", "--to", "h.svg"}} {
		cmd := exec.Command(program, args...)
		var errs strings.Builder
		cmd.Dir, cmd.Stdout, cmd.Stderr = dir, full, &errs
		cmd.Run()
		if status := cmd.ProcessState.ExitCode(); status != 2 || !strings.Contains(errs.String(), "cannot be written") {
			t.Errorf("lien %v on a full disk: status %d, %s", args, status, errs.String())
		}
	}
	lien(t, dir, "draw", "--to", "/dev/full").want(t, 2)
	lien(t, dir, "report", "--to", "/dev/full").want(t, 2, "cannot be written")
}

// TestNothingReachesTheTerminal: control characters in designs, data and names are
// written out wherever texts for people are printed, and in pictures.
func TestNothingReachesTheTerminal(t *testing.T) {
	dir := t.TempDir()
	const evil = "\\u001b[2J\\u009b31m\\u202egnp\\u0007"
	write(t, dir, "wares.json", `["`+evil+`"]`)
	write(t, dir, "d.lien", `const wares: string[] = file("wares.json")
component kiln-lamp {
  holds lit: string = "`+evil+`"
  view { button "Light" { click -> { log lit; lit = wares[0] ?? "" } }; p `+"`${lit}`"+` }
}
start kiln-lamp
scenario "s `+evil+`" { press button "Light"; expect the(kiln-lamp).lit == "other" }
law "l `+evil+`" { never the(kiln-lamp).lit == wares[0] }
`)
	write(t, dir, "bad\x1b[31m.lien", "component\n")
	bad := func(s string) bool {
		return strings.ContainsFunc(s, func(r rune) bool {
			return r < ' ' && r != '\n' && r != '\t' || 0x7f <= r && r < 0xa0 || r == 0x202e
		})
	}
	write(t, dir, "keys", "show\n")
	for _, args := range [][]string{{"check"}, {"try", "d.lien", "--script", "keys"}, {"test", "d.lien"}, {"trace", "d.lien"}, {"prove", "d.lien"}, {"map", "d.lien"}, {"check", "\x1b[2J"}, {"\x1b[2J"}, {"check", "--level", "\x1b[2J"}, {"prove", "d.lien", "--start", "\x1b["}, {"fmt", "--diff"}} {
		if r := lien(t, dir, args...); bad(r.out) || bad(r.err) {
			t.Errorf("lien %q prints\n%q\n%q", args, r.out, r.err)
		}
	}
	lien(t, dir, "draw", "d.lien", "--scenario", "s", "--to", "s.svg").want(t, 0)
	lien(t, dir, "draw", "d.lien", "--states", "kiln-lamp", "--to", "t.svg").want(t, 0)
	lien(t, dir, "report", "d.lien", "--to", "r.html").want(t, 0)
	for _, f := range []string{"s.svg", "t.svg", "r.html"} {
		if text := read(t, dir+"/"+f); bad(text) {
			t.Errorf("%s has characters that cannot be seen", f)
		}
	}
	if r := lien(t, dir, "try", "d.lien", "--script", "keys", "--color", "always"); strings.ContainsFunc(r.out, func(r rune) bool { return r >= 0x10ff00 }) {
		t.Errorf("a style is not known: %q", r.out)
	}
	if r := lien(t, dir, "test", "d.lien", "--color", "always"); strings.Contains(r.out, "\x1b[2J") || !strings.Contains(r.out, "\x1b[") {
		t.Errorf("in colour it prints %q", r.out)
	}
}

// TestEmptyInput: a closed standard input is told apart from an empty design.
func TestEmptyInput(t *testing.T) {
	dir := t.TempDir()
	cmd := exec.Command("sh", "-c", program+" fmt - <&-")
	cmd.Dir = dir
	out, _ := cmd.CombinedOutput()
	if status := cmd.ProcessState.ExitCode(); status != 2 || !strings.Contains(string(out), "standard input") {
		t.Errorf("status %d, %s", status, out)
	}
	lienWith(t, dir, "component a-b   { }", "fmt", "-").want(t, 0, "component a-b {")
}
