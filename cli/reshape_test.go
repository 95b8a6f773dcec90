package cli_test

import (
	"encoding/json"
	"fmt"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

const folding = `component fold-card {
  takes title: string
  holds open: boolean = false

  view {
    button ` + "`${title}`" + ` { aria-expanded <- open; click -> open = !open }
    when open { slot }
  }
}

component kiln-page {
  view {
    fold-card { title <- "Glazes"; p "Celadon" }
    fold-card { title <- "Clays"; p "Stoneware" }
  }
}

start kiln-page
`

// TestEdits: an edit prints what it did, the diff and the verdict; it writes with -w, and what can be told only
// with --anyway; what is refused leaves the files alone.
func TestEdits(t *testing.T) {
	dir := t.TempDir()
	file := write(t, dir, "fold.lien", folding)
	lien(t, dir, "lift", "open", "fold.lien").want(t, 0, "fold-card.open is held by kiln-page now, as glazesOpen", "+  emits changeOpen(open: boolean)", "alike: both come to one page")
	if read(t, file) != folding {
		t.Fatal("lift wrote the file without -w")
	}
	lien(t, dir, "lift", "open", "fold.lien", "--one", "-w").want(t, 1, "they differ", "press button \"Glazes\"", "nothing was written")
	if read(t, file) != folding {
		t.Fatal("lift wrote what can be told without --anyway")
	}
	lien(t, dir, "lift", "open", "fold.lien", "-w").want(t, 0, "wrote 1 file")
	lien(t, dir, "check", "fold.lien").want(t, 0, "nothing to mend")
	lien(t, dir, "rename", "fold-card.open", "unfolded", "fold.lien", "-w").want(t, 0, "wrote 1 file")
	lien(t, dir, "relink", "fold-card.unfolded", "--as", "tie", "fold.lien", "-w").want(t, 0, "unfolded <-> glazesOpen")
	lien(t, dir, "inline", "fold-card", "fold.lien").want(t, 0, "fold-card is gone", "alike")
	lien(t, dir, "relink", "fold-crad.unfolded", "--as", "tie", "fold.lien").want(t, 2, "there is no component fold-crad", "did you mean fold-card?")
	line := 1 + strings.Count(read(t, file)[:strings.Index(read(t, file), "    fold-card {")], "\n")
	lien(t, dir, "extract", fmt.Sprintf("fold.lien:%d", line), "fold.lien", "--name", "cut-part").want(t, 0, "glazesOpen moves along: only this part uses it")
	lien(t, dir, "lift", "open", "fold.lien").want(t, 2, "there is no cell \"open\"", "the cells are")
	lien(t, dir, "lower", "kiln-page.glazesOpen", "fold.lien").want(t, 1, "fold-card is used in 2 places")
	lien(t, dir, "extract", "fold.lien:99", "fold.lien").want(t, 1, "has no line 99", "it has the lines 1 to")
	lien(t, dir, "extract", "fold.lien", "fold.lien").want(t, 2, "names no lines of a file")
	lien(t, dir, "rename", "fold-card", "card", "fold.lien").want(t, 1, "has no hyphen")
	lien(t, dir, "supply", "glazesOpen", "--as", "fold-state", "fold.lien").want(t, 1, "cannot be the name of the context")
	lien(t, dir, "advise", "fold.lien").want(t, 0, "nothing to move")

	var out struct {
		Files []struct {
			Edits []struct {
				FromLine, ToLine int
				Text             string
			}
		}
		Comparison struct{ Verdict string }
	}
	r := lien(t, dir, "relink", "fold-card.unfolded", "--as", "report", "fold.lien", "--format", "json").want(t, 0)
	if err := json.Unmarshal([]byte(r.out), &out); err != nil || len(out.Files) != 1 || len(out.Files[0].Edits) == 0 || out.Comparison.Verdict != "alike" {
		t.Errorf("%v: %s", err, r.out)
	}
	lines := strings.SplitAfter(read(t, file), "\n")
	for i := len(out.Files[0].Edits) - 1; i >= 0; i-- {
		e := out.Files[0].Edits[i]
		lines = append(append(append([]string{}, lines[:e.FromLine-1]...), e.Text), lines[e.ToLine-1:]...)
	}
	lien(t, dir, "relink", "fold-card.unfolded", "--as", "report", "fold.lien", "-w").want(t, 0)
	if read(t, file) != strings.Join(lines, "") {
		t.Error("the edits of the JSON are not those of the file")
	}
}

// TestContextAndBack: what a context does away with is handed down again, to the first text; the part that stands
// there twice is cut out in both places, by a path from elsewhere.
func TestContextAndBack(t *testing.T) {
	dir := t.TempDir()
	first := `component heat-field {
  takes heat: number
  emits changeHeat(heat: number)

  view {
    button "Up" {
      disabled <- heat > 2
      click    -> emit changeHeat(heat + 1)
    }
  }
}

component kiln-page {
  holds heat: number = 0

  view {
    heat-field {
      heat          <- heat
      changeHeat(v) -> heat = v
    }
    section.gauge {
      h2 "Gauge"
      output ` + "`${heat}`" + `
    }
    section.gauge {
      h2 "Gauge"
      output ` + "`${heat}`" + `
    }
  }
}

start kiln-page
`
	file := write(t, dir, "heat.lien", first)
	lien(t, dir, "relink", "heat-field.heat", "--as", "context", "--name", "rack", "heat.lien", "-w").want(t, 0, "+context rack {", "alike", "wrote 1 file")
	lien(t, dir, "check", "heat.lien").want(t, 0)
	lien(t, dir, "relink", "rack.heat", "--as", "report", "heat.lien", "-w").want(t, 0, "rack.heat is held by kiln-page now", "alike", "wrote 1 file")
	if got := read(t, file); got != first {
		t.Errorf("it is\n%s", got)
	}
	lien(t, dir, "advise", "heat.lien").want(t, 0)
	lien(t, dir, "extract", "heat.lien:21", "heat.lien").want(t, 0, "the component is called kiln-gauge", "heat.lien:25:5 looks the same: --all cuts it out, too")
	lien(t, dir, "extract", file+":21", file, "--name", "heat-gauge", "--all", "-w").want(t, 0, "kiln-page uses heat-gauge at", "alike")
	if n := strings.Count(read(t, file), "heat-gauge { heat <- heat }"); n != 2 {
		t.Errorf("it is used %d times:\n%s", n, read(t, file))
	}
}

// TestCompare: two designs, and a design and what git had of it.
func TestCompare(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	write(t, dir, "a/fold.lien", folding)
	write(t, dir, "b/fold.lien", strings.ReplaceAll(folding, `"Stoneware"`, `"Porcelain"`))
	lien(t, dir, "compare", "a", "a").want(t, 0, "alike: both come to one page")
	lien(t, dir, "compare", "a", "b").want(t, 1, "they differ", `text "Stoneware" before, text "Porcelain" after`, "1 step, the fewest there are", `press button "Clays"`)
	lien(t, dir, "compare", "a", "b", "--but", "texts").want(t, 0, "alike, but for texts: all 4 pairs of states")
	lien(t, dir, "compare", "a", "b", "--but", "colours").want(t, 2, "classes, texts, focus")
	lien(t, dir, "compare", "a").want(t, 2, "takes two designs")
	lien(t, dir, "compare", "a", "nowhere").want(t, 2, "there is no such file or folder")
	write(t, dir, "c/fold.lien", strings.Replace(folding, "takes title: string", "takes title: string\n  takes shade: string", 1))
	lien(t, dir, "compare", "a", "c").want(t, 1, "cannot be compared", "shade")
	write(t, dir, "d/fold.lien", strings.ReplaceAll(strings.ReplaceAll(folding, "takes title", "takes heading"), "title <-", "heading <-"))
	if text := read(t, filepath.Join(dir, "d/fold.lien")); true {
		write(t, dir, "d/fold.lien", strings.ReplaceAll(text, "${title}", "${heading}"))
	}
	lien(t, dir, "compare", "a", "d", "--contracts").want(t, 1, "- takes title: string", "who links it links it to nothing", "used at a/fold.lien:13:5", "+ takes heading: string")
	lien(t, dir, "compare", "a", "a", "--contracts").want(t, 0, "the same")
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("there is no git here")
	}
	git := func(args ...string) {
		t.Helper()
		cmd := exec.Command("git", append([]string{"-C", filepath.Join(dir, "a"), "-c", "user.name=Ada", "-c", "user.email=ada@example.org"}, args...)...)
		if out, err := cmd.CombinedOutput(); err != nil {
			t.Fatalf("%v: %s", err, out)
		}
	}
	lien(t, dir, "compare", "--since", "HEAD", "a").want(t, 2, "git does not give HEAD")
	git("init", "-q")
	git("add", ".")
	git("commit", "-q", "-m", "first")
	lien(t, dir, "compare", "--since", "HEAD", "a").want(t, 0, "alike")
	write(t, dir, "a/fold.lien", strings.ReplaceAll(folding, "open = !open", "open = true"))
	lien(t, dir, "compare", "--since", "HEAD", "a").want(t, 1, "they differ", "2 steps")
	lien(t, dir, "compare", "--since", "nothing", "a").want(t, 2, "git does not give nothing")
	lien(t, dir, "compare", "--since", "--output=x", "a").want(t, 2)
	lien(t, dir, "draw", "a", "--since", "HEAD", "--to", "changes.svg").want(t, 0, "changes.svg")
	if svg := read(t, filepath.Join(dir, "changes.svg")); !strings.Contains(svg, "what stayed is faint") {
		t.Error("the picture does not tell what changed")
	}
	write(t, dir, "a/fold.lien", folding[:strings.Index(folding, "start")-3])
	git("commit", "-q", "-a", "-m", "broken")
	write(t, dir, "a/fold.lien", folding)
	lien(t, dir, "compare", "--since", "HEAD", "a").want(t, 1, "HEAD:a/fold.lien:11:21", "is never closed", "HEAD cannot be compared: it has errors")
	lien(t, dir, "compare", "--since", "HEAD~1", "a").want(t, 0, "alike")
}
