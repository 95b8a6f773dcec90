package cli_test

import (
	"encoding/xml"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// shelves breaks a law in two steps, and leaves a button out of every scenario.
const shelves = `component shelf-page {
  holds top: number = 0
  holds low: number = 0

  view {
    button "Load top" {
      disabled <- top > 1
      click    -> top += 1
    }
    button "Load low" {
      disabled <- low > 1
      click    -> low += 1
    }
    button "Empty" {
      click -> {
        top = 0
        low = 0
      }
    }
    when top + low > 2 { p "Nearly full." }
  }
}

start shelf-page

start "loaded" shelf-page { top = 1 }

law "no more than three" { always the(shelf-page).top + the(shelf-page).low <= 3 }

law "both can be loaded" { can the(shelf-page).top == 2 && the(shelf-page).low == 2 }

scenario "loading" {
  press button "Load top"
  press button "Load top"
}
`

// TestProve: the verdicts, the shortest scenario, and what is not touched.
func TestProve(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "shelf.lien", shelves)
	r := lien(t, dir, "prove", "shelf.lien")
	r.want(t, 1, `BROKEN        law "no more than three"`, `holds         law "both can be loaded"`,
		"by   3 steps", `start "loaded"`, "the left side is 4, the right side 3", "where it differs",
		"from shelf-page: 9 states", `from "loaded": 9 states`, "never runs: low += 1", "1 broken, 9 holds")
	if again := lien(t, dir, "prove", "shelf.lien"); again.out != r.out {
		t.Error("the same design gives another text")
	}
	lien(t, dir, "prove", "shelf.lien", "--start", "loaded").want(t, 1, `from "loaded"`)
	lien(t, dir, "prove", "shelf.lien", "--plain").want(t, 1, "9 states")
	lien(t, dir, "prove", "shelf.lien", "--states", "4").want(t, 0, "holds within", "states: more than 4", "not all of them")
	lien(t, dir, "prove", "shelf.lien", "--depth", "1").want(t, 0, "unclear", "no state that was looked at is like that", "depth: what takes more than 1 steps")
	lien(t, dir, "prove", "shelf.lien", "--suggest").want(t, 1, `scenario "suggested 1" {`, `press button "Load low"`)
}

// TestProveKeep: what breaks a law becomes a scenario that fails, until the
// design is mended.
func TestProveKeep(t *testing.T) {
	dir := t.TempDir()
	path := write(t, dir, "shelf.lien", shelves)
	lien(t, dir, "prove", "shelf.lien", "--keep", "shelf.lien").want(t, 1, "kept 1 scenario in shelf.lien")
	if text := read(t, path); !strings.HasPrefix(text, shelves) || !strings.Contains(text, `scenario "breaks: no more than three" {`) {
		t.Errorf("it is not kept:\n%s", text)
	}
	lien(t, dir, "fmt", "--diff", "shelf.lien").want(t, 0)
	lien(t, dir, "test", "shelf.lien").want(t, 1, `FAILED  "breaks: no more than three"`)
	mended := strings.ReplaceAll(read(t, path), "<= 3 }", "<= 4 }")
	write(t, dir, "shelf.lien", mended)
	lien(t, dir, "test", "shelf.lien").want(t, 0)
	lien(t, dir, "prove", "shelf.lien", "--keep", "other.lien").want(t, 0, "nothing was kept")
	if _, err := os.Stat(filepath.Join(dir, "other.lien")); err == nil {
		t.Error("a file was written for nothing")
	}
}

func TestProveFormats(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "shelf.lien", shelves)
	var j struct {
		Holds  bool
		Starts []struct {
			States, Depth int
			Whole         bool
		}
		Verdicts []struct {
			Name, Kind, Verdict string
			Breaches            []struct {
				Path struct {
					Steps     []string
					RealTimes bool
				}
			}
		}
		Coverage struct {
			States    struct{ Of, All int }
			Untouched []struct{ What string }
			Suggested []string
		}
	}
	decode(t, lien(t, dir, "prove", "shelf.lien", "--format", "json", "--suggest").want(t, 1).out, &j)
	if j.Holds || len(j.Starts) != 2 || j.Starts[0].States != 9 || !j.Starts[0].Whole || j.Coverage.States.Of != 3 || len(j.Coverage.Untouched) != 3 || len(j.Coverage.Suggested) == 0 {
		t.Errorf("%+v", j)
	}
	if v := j.Verdicts[0]; v.Verdict != "broken" || v.Kind != "law" || len(v.Breaches) != 1 || len(v.Breaches[0].Path.Steps) != 3 || !v.Breaches[0].Path.RealTimes {
		t.Errorf("%+v", v)
	}
	var suite struct {
		Tests    int `xml:"tests,attr"`
		Failures int `xml:"failures,attr"`
	}
	if err := xml.Unmarshal([]byte(lien(t, dir, "prove", "shelf.lien", "--format", "junit").want(t, 1).out), &suite); err != nil || suite.Tests != 10 || suite.Failures != 1 {
		t.Errorf("%+v %v", suite, err)
	}
}

// TestProveUsage: what cannot be proved is told, with what to write.
func TestProveUsage(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "shelf.lien", shelves)
	write(t, dir, "bare/bare.lien", "component a-b { view { p \"x\" } }\n")
	write(t, dir, "wrong/wrong.lien", "component a-b { holds n: number = \"x\"; view { p \"x\" } }\nstart a-b\n")
	write(t, dir, "early/early.lien", "component a-b { holds n: number = 0; view { p `${1 / n}` } }\nstart a-b\n")
	lien(t, dir, "prove", "bare").want(t, 2, "has no start", "write start")
	lien(t, dir, "prove", "wrong").want(t, 1, "cannot run")
	lien(t, dir, "prove", "early").want(t, 1, "turn-fails", "not a finite number")
	lien(t, dir, "prove", "shelf.lien", "--start", "load").want(t, 2, `there is no start "load"`, `"loaded"`)
	lien(t, dir, "prove", "shelf.lien", "--without", "deadend").want(t, 2, "there is no promise deadend", "dead-end")
	lien(t, dir, "prove", "shelf.lien", "--states", "0").want(t, 2, "leaves nothing to visit")
	lien(t, dir, "prove", "shelf.lien", "--depth", "-1").want(t, 2, "no bound")
	lien(t, dir, "prove", "nowhere").want(t, 2, "nowhere")
	for _, p := range []string{"turn-fails", "unheard", "dead-end"} {
		if r := lien(t, dir, "prove", "shelf.lien", "--without", p); strings.Contains(r.out, p+" ") {
			t.Errorf("%s is looked at all the same", p)
		}
	}
}
