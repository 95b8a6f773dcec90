package cli_test

import (
	"bytes"
	"encoding/json"
	"encoding/xml"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
)

// The tests here drive the built program on files in a temporary folder.

var program string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "lien-test-*")
	if err != nil {
		panic(err)
	}
	program = filepath.Join(dir, "lien")
	build := exec.Command("go", "build", "-o", program, "lien")
	build.Env = append(os.Environ(), "CGO_ENABLED=0")
	if out, err := build.CombinedOutput(); err != nil {
		panic(string(out))
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// result is what a run of the program gave.
type result struct {
	out, err string
	status   int
}

// lien runs the program in dir.
func lien(t *testing.T, dir string, args ...string) result {
	t.Helper()
	return lienWith(t, dir, "", args...)
}

func lienWith(t *testing.T, dir, stdin string, args ...string) result {
	t.Helper()
	var out, errs bytes.Buffer
	cmd := exec.Command(program, args...)
	cmd.Dir, cmd.Stdout, cmd.Stderr, cmd.Stdin = dir, &out, &errs, strings.NewReader(stdin)
	cmd.Env = append(os.Environ(), "COLUMNS=100")
	err := cmd.Run()
	var exit *exec.ExitError
	if err != nil && !errors.As(err, &exit) {
		t.Fatal(err)
	}
	r := result{out.String(), errs.String(), cmd.ProcessState.ExitCode()}
	if strings.Contains(r.err, "goroutine ") {
		t.Fatalf("lien %v crashed:\n%s", args, r.err)
	}
	return r
}

// want checks the status, and that the output or messages have the words.
func (r result) want(t *testing.T, status int, words ...string) result {
	t.Helper()
	if r.status != status {
		t.Errorf("status %d, want %d\n%s%s", r.status, status, r.out, r.err)
	}
	for _, w := range words {
		if !strings.Contains(r.out, w) && !strings.Contains(r.err, w) {
			t.Errorf("there is no %q in\n%s%s", w, r.out, r.err)
		}
	}
	return r
}

func write(t *testing.T, dir, name, text string) string {
	t.Helper()
	path := filepath.Join(dir, name)
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
	return path
}

func read(t *testing.T, path string) string {
	t.Helper()
	text, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

func TestDemo(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	r := shownDemo(t).want(t, 0, "nothing to mend", "6 of 6 scenarios passed", "kiln-room holds chosen", "lien demo --to kiln", "5 steps, the fewest there are")
	if strings.Contains(r.out, "\x1b[") {
		t.Error("the demo is coloured, though no terminal listens")
	}
	lien(t, dir, "demo", "--to", "kiln").want(t, 0, "wrote the kiln room to kiln")
	lien(t, dir, "demo", "--to", "kiln").want(t, 2, "is there already")
	lien(t, dir, "check", "kiln").want(t, 0, "10 components in 4 files: nothing to mend")
	lien(t, dir, "test", "kiln", "--only", "full").want(t, 0, "1 of 1 scenario passed")
	lien(t, dir, "test", "kiln", "--only", "none").want(t, 2, "no scenario's name contains", "choosing a shelf")
	lien(t, dir, "map", "kiln", "--of", "text").want(t, 0, "search-field shares text: string  kiln/parts.lien:", "news-line holds text: string?  kiln/parts.lien:")
	lien(t, dir, "map", "kiln", "--of", "kiln-room.wares").want(t, 0, "kiln/room.lien:", "↓ wares <- waiting", "↑ ware-list reports act", "load()")
	lien(t, dir, "fmt", "--diff", "kiln").want(t, 0)
}

func TestNew(t *testing.T) {
	dir := t.TempDir()
	lien(t, dir, "new", "studio").want(t, 0, "studio/design.lien", "lien check studio")
	lien(t, filepath.Join(dir, "studio"), "check").want(t, 0, "nothing to mend")
	lien(t, filepath.Join(dir, "studio"), "test").want(t, 0, "1 of 1 scenario passed, 1 of 1 law held")
	lien(t, dir, "fmt", "--diff", "studio").want(t, 0)
	lien(t, dir, "new").want(t, 2, "takes the name of one folder")
	write(t, dir, "log.yaml", "openapi: 3.0.0\ninfo: { title: Firing log, version: '1' }\npaths:\n  /count:\n    get:\n      operationId: count\n      responses: { '200': { description: ok, content: { application/json: { schema: { type: number, example: 7 } } } } }\n")
	lien(t, dir, "new", "studio", "--from-api", "log.yaml").want(t, 0, "studio/firing-log.lien", "lien answer studio")
	if text := read(t, filepath.Join(dir, "studio", "firing-log.lien")); !strings.Contains(text, "replies 7") {
		t.Errorf("it writes\n%s", text)
	}
	lien(t, dir, "check", "studio").want(t, 0)
	lien(t, dir, "new", "studio", "--from-api", "log.yaml").want(t, 2, "is there already")
	lien(t, dir, "new", "studio", "--from-api", "none.yaml").want(t, 2, "none.yaml cannot be read")
	write(t, dir, "bad.yaml", "a: [")
	lien(t, dir, "new", "studio", "--from-api", "bad.yaml").want(t, 2, "bad.yaml: it is neither JSON nor YAML")
	write(t, dir, "file", "x")
	lien(t, dir, "new", "file/x").want(t, 2, "cannot be made")
}

const broken = `component shelf-card {
  takes name: string
  emits pick(id: string)
  view { button ` + "`${name}`" + ` { click -> emit pick(name) } }
}
component shelf-page {
  holds chosen: string = ""
  view {
    shelf-card { nmae <- "Top"; pick(id) -> chosen = id }
    p ` + "`${chosen}`" + `
  }
}
start shelf-page
scenario "press" {
  press button "Top"
  shows "Low"
}
`

func TestCheck(t *testing.T) {
	dir := t.TempDir()
	path := write(t, dir, "page.lien", broken)
	lien(t, dir, "check").want(t, 1, "page.lien:9:18: error: shelf-card does not take nmae [not-taken]", "^^^^", "did you mean name?", "why ")
	lien(t, dir, "test").want(t, 1, "the design cannot run")
	lien(t, dir, "check", "--fix").want(t, 0, "mended 1 place", "nothing to mend")
	if text := read(t, path); !strings.Contains(text, `name <- "Top"`) {
		t.Errorf("the fix is not in the file:\n%s", text)
	}
	lien(t, dir, "check", "--why", "not-taken").want(t, 0, "Wrong", "Right", "nmae")
	lien(t, dir, "check", "--why", "not-takn").want(t, 2, "did you mean not-taken?")
	lien(t, dir, "check", "--level", "never-used=loud").want(t, 2, "there is no level")
	lien(t, dir, "check", "--level", "not-taken=off").want(t, 2, "cannot be changed")
	write(t, dir, "page.lien", "component a-b {\n  holds n: number = 1\n  view { p `${n}` }\n}\nstart a-b\n")
	lien(t, dir, "check").want(t, 0, "1 warning")
	lien(t, dir, "check", "--level", "never-changed=error").want(t, 1, "1 error")
	lien(t, dir, "check", "--color", "always").want(t, 0, "\x1b[33mwarning\x1b[0m")
}

func TestMachineFormats(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "page.lien", strings.Replace(broken, "nmae", "name", 1))
	var found struct{ Findings []struct{ Rule string } }
	decode(t, lien(t, dir, "check", "--format", "json").want(t, 0).out, &found)
	var log struct {
		Version string
		Runs    []struct{ Results []struct{ RuleID string } }
	}
	decode(t, lien(t, dir, "check", "--format", "sarif").want(t, 0).out, &log)
	if log.Version != "2.1.0" || len(log.Runs) != 1 {
		t.Errorf("not SARIF: %+v", log)
	}
	var tested struct {
		Passed    bool
		Scenarios []struct {
			Failure struct {
				Message string
				Page    []string
				At      struct{ Line int }
			}
		}
	}
	decode(t, lien(t, dir, "test", "--format", "json").want(t, 1).out, &tested)
	if f := tested.Scenarios[0].Failure; tested.Passed || f.At.Line != 16 || len(f.Page) == 0 {
		t.Errorf("the failure is %+v", f)
	}
	var suite struct {
		Tests    int `xml:"tests,attr"`
		Failures int `xml:"failures,attr"`
	}
	if err := xml.Unmarshal([]byte(lien(t, dir, "test", "--format", "junit").want(t, 1).out), &suite); err != nil || suite.Failures != 1 {
		t.Errorf("%+v, %v", suite, err)
	}
	var cells struct {
		Cells []struct {
			Holder, Cell string
			Shown        []struct{ Component string }
			Changed      []struct{ Hops []struct{ Kind string } }
		}
	}
	decode(t, lien(t, dir, "map", "--format", "json").want(t, 0).out, &cells)
	if len(cells.Cells) != 1 || cells.Cells[0].Holder != "shelf-page" || cells.Cells[0].Changed[0].Hops[0].Kind != "up" {
		t.Errorf("the map is %+v", cells)
	}
	lien(t, dir, "test").want(t, 1, "page.lien:16:3", "the page does not show \"Low\"", "holds chosen", "= shelf-page.chosen: \"\" → \"Top\"", "button \"Top\"")
}

func decode(t *testing.T, text string, into any) {
	t.Helper()
	if err := json.Unmarshal([]byte(text), into); err != nil {
		t.Fatalf("%v in\n%s", err, text)
	}
}

func TestTrace(t *testing.T) {
	dir := t.TempDir()
	lien(t, dir, "demo", "--to", "kiln")
	lien(t, dir, "trace", "kiln", "--only", "full").want(t, 0,
		"press button \"Top shelf\"  kiln/stories.lien:", "  click on button",
		"    ↑ kiln-room > shelf-button[\"top\"] reports pick(\"top\")", "      = kiln-room.chosen: null → \"top\"", "pieces refreshed", "passed, 9 turns")
	lien(t, dir, "trace", "kiln", "--only", "nowhere").want(t, 2, "the scenarios are")
	var traced struct {
		Passed bool
		Steps  []struct {
			Step  string
			Turns []struct {
				Cause   string
				Entries []struct {
					Depth    int
					Kind, In string
				}
			}
		}
	}
	decode(t, lien(t, dir, "trace", "kiln", "--format", "json").want(t, 0).out, &traced)
	if len(traced.Steps) < 4 || !traced.Passed || traced.Steps[2].Turns[0].Entries[1].Depth != 1 || traced.Steps[2].Turns[0].Entries[1].Kind != "changes" {
		t.Errorf("the trace is %+v", traced)
	}
}

// TestTraceMount: what runs as the page is mounted is traced as a turn is.
func TestTraceMount(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "a.lien", `component kiln-card {
  holds n: number = 0
  emits ready(n: number)
  on mount { n = 2; emit ready(n); log "warm" }
  view { p `+"`${n}`"+` }
}
component kiln-page {
  holds got: number = 0
  view { kiln-card { ready(n) -> { got = n } }; p `+"`got ${got}`"+` }
}
start kiln-page
scenario "warming" { shows "got 2" }
`)
	lien(t, dir, "trace", "a.lien").want(t, 0,
		"start kiln-page\n  2 pieces of the page mounted\n    · kiln-page > kiln-card on mount\n      = kiln-page > kiln-card.n: 0 → 2\n",
		"      ↑ kiln-page > kiln-card reports ready(2)\n        = kiln-page.got: 0 → 2\n      “ warm\n")
}

func TestFmt(t *testing.T) {
	dir := t.TempDir()
	path := write(t, dir, "a.lien", "component a-b{view{p \"x\"}} // end\n")
	want := "component a-b {\n  view { p \"x\" }\n} // end\n"
	lien(t, dir, "fmt", "a.lien").want(t, 0, want)
	lien(t, dir, "fmt", "--diff").want(t, 1, "-component a-b{view", "+component a-b {")
	if err := os.Chmod(path, 0o600); err != nil {
		t.Fatal(err)
	}
	lien(t, dir, "fmt", "-w").want(t, 0, "a.lien")
	if got := read(t, path); got != want {
		t.Errorf("the file is %q", got)
	}
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the file's mode has changed: %v, %v", info.Mode(), err)
	}
	lienWith(t, dir, "const a=1", "fmt", "-").want(t, 0, "const a = 1\n")
	write(t, dir, "bad.lien", "component {")
	lien(t, dir, "fmt", "-w", "bad.lien").want(t, 1, "is left as it is")
	if got := read(t, filepath.Join(dir, "bad.lien")); got != "component {" {
		t.Errorf("a file that cannot be read was written: %q", got)
	}
}

func TestUsage(t *testing.T) {
	dir := t.TempDir()
	lien(t, dir).want(t, 0, "in the order in which people work")
	lien(t, dir, "--version").want(t, 0, "lien version")
	lien(t, dir, "chekc").want(t, 2, "did you mean check?")
	lien(t, dir, "help", "chekc").want(t, 2, "did you mean check?")
	lien(t, dir, "check", "--fromat", "json").want(t, 2, "did you mean --format?")
	lien(t, dir, "check", "--format", "xml").want(t, 2, "text, or json, or sarif")
	lien(t, dir, "check", "a", "b").want(t, 2, "takes one design")
	lien(t, dir, "check", "nowhere").want(t, 2, "there is no such file or folder")
	lien(t, dir, "check", dir).want(t, 2, "there is no .lien file in this folder", "lien new")
	lien(t, dir, "map", "--of", "x", "nowhere").want(t, 2)
	lien(t, dir, "check", "--color", "sometimes").want(t, 2, "auto, always or never")
	lien(t, dir, "man").want(t, 0, ".TH LIEN 1", ".SS lien check")
	for _, shell := range []string{"bash", "zsh", "fish"} {
		lien(t, dir, "completion", shell).want(t, 0, "lien")
	}
	for _, command := range []string{"demo", "new", "check", "map", "test", "trace", "fmt", "man", "completion"} {
		lien(t, dir, "help", command).want(t, 0, "Example")
	}
}

// TestBadInput: whatever stands in a file, there is a message with the place.
func TestBadInput(t *testing.T) {
	t.Parallel()
	nested := "component a-b { view { " + strings.Repeat("div { ", 10000) + strings.Repeat("}", 10000) + " } }"
	cases := []struct{ name, text, words string }{
		{"binary", "\x7fELF\x00\x01\x02", "a.lien:1:5: error: there is a NUL byte here"},
		{"latin1", "// caf\xe9\n", "a.lien:1:7: error: this file is not text"},
		{"nested", nested, "nests deeper than"},
		{"parens", "const a = " + strings.Repeat("(", 100000), "nests deeper than"},
		{"chain", "const a = 1" + strings.Repeat(" + 1", 100000), "more than 4000 links"},
		{"string", "const a = \"open\nconst b = 1\n", "a.lien:1:11: error: this text is never closed"},
		{"template", "const a = `open\n", "a.lien:1:11: error: this template is never closed"},
		{"brace", "component a-b {\n  view {\n", "never closed"},
		{"stray", "}\n", "closes nothing"},
		{"case", "type Ware = { id: string }\nconst a: ware[] = []\n", "a.lien:2:10: error: there is no type ware"},
		{"several", "component a-b { hols x = 1; takes y }\ncomponnt c-d {}\nconst = 2\n", "a.lien:2:1: error: componnt is not the start"},
		{"words", "Dear reader, this is no design at all.\nIt has a few lines.\n", "is not the start of a declaration"},
		{"data", "type T = { a: number }\nconst d: T[] = file(\"d.json\")\n", "item 2 of the value has no field a"},
		{"outside", "const d: number[] = file(\"../secret.json\")\n", "outside of the design's folder"},
		{"csv", "type T = { a: number }\nconst d: T[] = file(\"d.csv\")\n", "line 3: a: \"x\" is not a number"},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			dir := t.TempDir()
			write(t, dir, "d.json", `[{"a": 1}, {"b": 2}]`)
			write(t, dir, "d.csv", "a\n1\nx\n")
			write(t, dir, "a.lien", c.text)
			lien(t, dir, "check").want(t, 1, c.words)
			lien(t, dir, "fmt", "-w")
			lien(t, dir, "test").want(t, 1)
			lien(t, dir, "map").want(t, 1)
		})
	}
	dir := t.TempDir()
	write(t, dir, "big.lien", strings.Repeat("// a long comment\n", 3_000_000))
	lien(t, dir, "check").want(t, 2, "at most 16 MB")
	lien(t, dir, "fmt").want(t, 2, "at most 16 MB")
	dir = t.TempDir()
	write(t, dir, "dos.lien", "\ufeffcomponent a-b {\r\n  // note\r\n  view { p \"x\" }\r\n}\r\nstart a-b\r\n")
	lien(t, dir, "check").want(t, 0, "nothing to mend")
	lien(t, dir, "fmt", "dos.lien").want(t, 0, "component a-b {\n  // note\n  view { p \"x\" }\n}\n\nstart a-b\n")
}

// TestFolders: use brings the declarations of another folder in.
func TestFolders(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "parts/card.lien", "component name-card { takes name: string; view { p `${name}` } }\n")
	write(t, dir, "page/page.lien", "use \"../parts\"\ncomponent name-page { view { name-card { name <- \"Ada\" } } }\nstart name-page\nscenario \"s\" { shows \"Ada\" }\n")
	lien(t, dir, "check", "page", "--root", ".").want(t, 0, "2 components in 2 files")
	lien(t, dir, "test", "page", "--root", ".").want(t, 0, "1 of 1 scenario passed")
	write(t, dir, "page/two.lien", "component name-card { view { p \"x\" } }\n")
	lien(t, dir, "check", "page", "--root", ".").want(t, 1, "two components named name-card", "the other name-card")
	write(t, dir, "page/two.lien", "use \"../nowhere\"\n")
	lien(t, dir, "check", "page", "--root", ".").want(t, 1, "this folder cannot be used")
}

// TestNamesOfTwoFolders: names that clash are given others where the folder is used.
func TestNamesOfTwoFolders(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "parts/a.lien", "type Ware = { id: string, kg: number }\nconst limit = 3\nderives weigh(w: Ware) = w.kg * limit\n"+
		"component fold-card { takes ware: Ware; view { p `${ware.id} weighs ${weigh(ware)}` } }\ncomponent fold-list { takes wares: Ware[]; view { each w in wares by w.id { fold-card { ware <- w } } } }\n")
	page := "type Ware = { id: string, name: string }\nconst limit = 9\ncomponent fold-card { takes ware: Ware; view { p `${ware.name} ${limit}` } }\n" +
		"component fold-page { const list: PartWare[] = [{ id: \"a\", kg: 2 }]; view { fold-list { wares <- list }; part-card { ware <- { id: \"b\", kg: 1 } }; fold-card { ware <- { id: \"c\", name: \"Bowl\" } } } }\n" +
		"start fold-page\nscenario \"both\" { shows \"a weighs 6\"; shows \"b weighs 3\"; shows \"Bowl 9\" }\n"
	write(t, dir, "page/p.lien", "use \"../parts\"\n"+page)
	lien(t, dir, "check", "page", "--root", ".").want(t, 1, "there are two components named fold-card", "other-fold-card", "OtherWare", "otherLimit")
	write(t, dir, "page/p.lien", "use \"../parts\" with fold-card as part-card, Ware as PartWare, limit as partLimit\n"+page)
	lien(t, dir, "test", "page", "--root", ".").want(t, 0, "1 of 1 scenario passed")
	lien(t, dir, "fmt", "page").want(t, 0)
	wantAll(t, read(t, filepath.Join(dir, "page/p.lien")), "use \"../parts\" with fold-card as part-card, Ware as PartWare, limit as partLimit\n")
}

// shownDemo is the demo as it was shown first: it proves a design, which takes a while.
var shownDemo = func() func(t *testing.T) result {
	var once sync.Once
	var r result
	return func(t *testing.T) result {
		once.Do(func() { r = lien(t, t.TempDir(), "demo") })
		return r
	}
}()

// TestSameBytes: the same input gives the same output.
func TestSameBytes(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	lien(t, dir, "demo", "--to", "kiln")
	for _, args := range [][]string{{"check", "kiln", "--format", "json"}, {"map", "kiln"}, {"test", "kiln", "--format", "json"}} {
		first := lien(t, dir, args...).out
		if again := lien(t, dir, args...).out; again != first {
			t.Fatalf("%v: the second time it is\n%s\nfirst it was\n%s", args, again, first)
		}
	}
	if again := lien(t, dir, "demo"); again != shownDemo(t) {
		t.Errorf("the demo is another one the second time:\n%s", again.out)
	}
}
