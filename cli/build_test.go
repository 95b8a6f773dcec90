package cli_test

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

const lamp = `// A lamp of the kiln room.
component kiln-lamp {
  holds lit: boolean = false
  view { button "Light" { aria-pressed <- lit; click -> lit = !lit } }
}
start kiln-lamp
start "burning" kiln-lamp { lit = true }
`

// TestBuild: a page is written into a folder, tells what it is, and is written again over what lien wrote alone.
func TestBuild(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "lamp.lien", lamp)
	r := lien(t, dir, "build", "lamp.lien", "--to", "out/page")
	r.want(t, 0, "out/page/index.html", "out/page/lien.js", "components", "1 module", "opens from a server")
	for _, name := range []string{"index.html", "lien.js", "page.js", "design.js", "components/kiln-lamp.js", "types.d.ts", "custom-elements.json"} {
		if _, err := os.Stat(filepath.Join(dir, "out/page", name)); err != nil {
			t.Error(err)
		}
	}
	page := read(t, filepath.Join(dir, "out/page/index.html"))
	if strings.Contains(page, "<script>") || !strings.Contains(page, `<script type="module" src="page.js">`) {
		t.Errorf("a program stands in the document:\n%s", page)
	}
	if module := read(t, filepath.Join(dir, "out/page/components/kiln-lamp.js")); !strings.Contains(module, "// A lamp of the kiln room.") {
		t.Errorf("the comment is lost:\n%s", module)
	}
	lien(t, dir, "build", "lamp.lien", "--to", "out/page").want(t, 0)
	write(t, dir, "out/page/page.js", "// mine\n")
	lien(t, dir, "build", "lamp.lien", "--to", "out/page").want(t, 2, "out/page/page.js is there already")
	if read(t, filepath.Join(dir, "out/page/page.js")) != "// mine\n" {
		t.Error("a file of somebody else was overwritten")
	}
	lien(t, dir, "build", "lamp.lien", "--to", "out/page", "--force").want(t, 0)
}

// TestBuildAgain: whatever is built is built again in its place, and what was changed by hand since is not.
func TestBuildAgain(t *testing.T) {
	t.Parallel()
	styled := strings.Replace(lamp, "  view {", "  style { button { color: firebrick } }\n  view {", 1)
	for _, flags := range [][]string{nil, {"--minify"}, {"--one-file"}, {"--one-file", "--minify"}, {"--elements"}, {"--elements", "--minify"}} {
		dir := t.TempDir()
		write(t, dir, "lamp.lien", styled)
		build := func() result { return lien(t, dir, append([]string{"build", "lamp.lien", "--to", "out"}, flags...)...) }
		build().want(t, 0)
		build().want(t, 0)
		write(t, dir, "lamp.lien", strings.Replace(styled, "firebrick", "seagreen", 1))
		build().want(t, 0)
		filepath.WalkDir(filepath.Join(dir, "out"), func(path string, file os.DirEntry, err error) error {
			if err != nil || file.IsDir() {
				return err
			}
			was := read(t, path)
			rel, _ := filepath.Rel(dir, path)
			write(t, dir, rel, was+"\n")
			build().want(t, 2, rel+" is there already")
			write(t, dir, rel, was)
			return nil
		})
	}
}

// TestBuildStarts: a page begins as the start that is named, in one file or several, with all that people read or not.
func TestBuildStarts(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "lamp.lien", lamp)
	lien(t, dir, "build", "lamp.lien", "--to", "a", "--start", "burning").want(t, 0)
	if page := read(t, filepath.Join(dir, "a/page.js")); !strings.Contains(page, "lit: true") || !strings.Contains(read(t, filepath.Join(dir, "a/index.html")), "<title>burning</title>") {
		t.Errorf("it begins otherwise:\n%s", page)
	}
	lien(t, dir, "build", "lamp.lien", "--to", "b", "--one-file", "--minify").want(t, 0, "b/index.html")
	lien(t, dir, "build", "lamp.lien", "--to", "c", "--one-file").want(t, 0, "c/index.html")
	small, large := read(t, filepath.Join(dir, "b/index.html")), read(t, filepath.Join(dir, "c/index.html"))
	if len(small) >= len(large) || !strings.Contains(large, "kiln-lamp") || strings.Contains(large, "src=\"page.js\"") {
		t.Errorf("one file has %d bytes, and %d without what people read", len(large), len(small))
	}
	if entries, err := os.ReadDir(filepath.Join(dir, "b")); err != nil || len(entries) != 1 {
		t.Errorf("one file is %d files, %v", len(entries), err)
	}
}

// TestBuildElements: elements for other pages come without a page, also of a design that has no start.
func TestBuildElements(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "lamp.lien", lamp[:strings.Index(lamp, "start")])
	lien(t, dir, "build", "lamp.lien", "--to", "a", "--elements").want(t, 0, "types.d.ts", "1 module")
	if _, err := os.Stat(filepath.Join(dir, "a/index.html")); err == nil {
		t.Error("there is a page")
	}
	var m struct{ Modules []struct{ Path string } }
	if err := json.Unmarshal([]byte(read(t, filepath.Join(dir, "a/custom-elements.json"))), &m); err != nil || len(m.Modules) != 1 || m.Modules[0].Path != "components/kiln-lamp.js" {
		t.Errorf("the manifest has %v, %v", m, err)
	}
	lien(t, dir, "build", "lamp.lien", "--to", "b", "--elements", "--one-file").want(t, 2, "--elements writes no page")
}

// TestBuildRefuses: what cannot be built writes nothing, and says why.
func TestBuildRefuses(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "lamp.lien", lamp)
	write(t, dir, "none.lien", lamp[:strings.Index(lamp, "start")])
	write(t, dir, "wrong.lien", strings.Replace(lamp, "!lit", "lit + 1", 1))
	for _, c := range []struct {
		args []string
		want []string
	}{
		{[]string{"lamp.lien"}, []string{"lien build needs --to DIR", "write lien build [DESIGN] --to DIR"}},
		{[]string{"lamp.lien", "--to", "x", "--start", "burnin"}, []string{"there is no start burnin", "burning"}},
		{[]string{"none.lien", "--to", "x"}, []string{"the design has no start"}},
		{[]string{"wrong.lien", "--to", "x"}, []string{"wrong.lien:4:"}},
		{[]string{"lamp.lien", "--to", "lamp.lien"}, []string{"no page can be written to lamp.lien"}},
	} {
		r := lien(t, dir, append([]string{"build"}, c.args...)...)
		if r.status == 0 {
			t.Errorf("lien build %v: status 0\n%s", c.args, r.out)
		}
		for _, w := range c.want {
			if !strings.Contains(r.out+r.err, w) {
				t.Errorf("lien build %v does not say %q:\n%s%s", c.args, w, r.out, r.err)
			}
		}
	}
	if _, err := os.Stat(filepath.Join(dir, "x")); err == nil {
		t.Error("a folder was made for a page that could not be built")
	}
}

// TestInBrowser: scenarios pass on the built page, too, where there is a browser, and nothing of it is left behind.
func TestInBrowser(t *testing.T) {
	if _, err := exec.LookPath("chromedriver"); err != nil {
		t.Skip("there is no browser to drive")
	}
	dir := t.TempDir()
	write(t, dir, "lamp.lien", lamp+"scenario \"light\" { press button \"Light\"; shows pressed button \"Light\" }\nscenario \"dark\" { press button \"Dark\" }\n")
	temporary := t.TempDir()
	t.Setenv("TMPDIR", temporary)
	lien(t, dir, "test", "lamp.lien", "--browser").want(t, 1, "1 of 2 scenarios passed", "passed  \"light\"")
	if left, err := os.ReadDir(temporary); err != nil || len(left) > 0 {
		t.Errorf("left behind: %v, %v", left, err)
	}
}

// TestBrowserEnds: a program that is told to stop, or whose output nobody reads on, leaves no browser behind.
func TestBrowserEnds(t *testing.T) {
	t.Parallel()
	if _, err := exec.LookPath("chromedriver"); err != nil {
		t.Skip("there is no browser to drive")
	}
	dir, temporary := t.TempDir(), t.TempDir()
	write(t, dir, "lamp.lien", lamp+manyScenarios(12))
	for _, told := range []os.Signal{os.Interrupt, nil} {
		cmd := exec.Command(program, "test", "lamp.lien", "--browser")
		cmd.Dir, cmd.Env = dir, append(os.Environ(), "TMPDIR="+temporary)
		out, err := cmd.StdoutPipe()
		if err != nil {
			t.Fatal(err)
		}
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		out.Close() // nobody reads
		if told != nil {
			time.Sleep(time.Second)
			cmd.Process.Signal(told)
		}
		cmd.Wait()
		if left, err := os.ReadDir(temporary); err != nil || len(left) > 0 {
			t.Errorf("told %v: left behind: %v, %v", told, left, err)
		}
	}
}

func manyScenarios(n int) string {
	var b strings.Builder
	for i := range n {
		fmt.Fprintf(&b, "scenario \"light %d\" { press button \"Light\" }\n", i)
	}
	return b.String()
}
