package cli_test

import (
	"bytes"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// The tests here look at what lien draw, lien try and lien report write.

func demoIn(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	lien(t, dir, "demo", "--to", "kiln").want(t, 0)
	return dir
}

func TestDraw(t *testing.T) {
	t.Parallel()
	dir := demoIn(t)
	for _, test := range []struct {
		args  []string
		file  string
		words []string
	}{
		{nil, "kiln-room.svg", []string{"<title id=\"title\">kiln-room</title>", "linked down: from kiln-room", "Lien Sans"}},
		{[]string{"--cell", "wares"}, "kiln-room.wares.svg", []string{"The journey of kiln-room.wares", "Held by kiln-room; shown in"}},
		{[]string{"--scenario", "choosing"}, "choosing-a-shelf.svg", []string{"Scenario &#34;choosing a shelf&#34;", "chosen = &#34;top&#34;"}},
		{[]string{"--states", "kiln-tabs"}, "kiln-tabs-states.svg", []string{"The states of kiln-tabs", "press tab &#34;Small kiln&#34;"}},
		{[]string{"--to", "night.svg", "--theme", "dark"}, "night.svg", []string{"#121816"}},
	} {
		lien(t, dir, append([]string{"draw", "kiln"}, test.args...)...).want(t, 0, test.file)
		text := read(t, filepath.Join(dir, test.file))
		for _, w := range test.words {
			if !strings.Contains(text, w) {
				t.Errorf("%s: there is no %q", test.file, w)
			}
		}
	}
	lien(t, dir, "draw", "kiln", "--to", "house.png", "--scale", "2").want(t, 0)
	img, err := png.Decode(strings.NewReader(read(t, filepath.Join(dir, "house.png"))))
	if err != nil {
		t.Fatal(err)
	}
	if b := img.Bounds(); b.Dx() < 1000 || b.Dy() < 800 {
		t.Errorf("the picture is %v", b)
	}
	lien(t, dir, "draw", "kiln", "--scenario", "full", "--to", "full.pdf").want(t, 0)
	if pdf := read(t, filepath.Join(dir, "full.pdf")); !strings.HasPrefix(pdf, "%PDF-") || strings.Count(pdf, "/Type /Page\n") != 2 {
		t.Error("a scenario on two sheets has no PDF of two pages")
	}
}

func TestDrawUsage(t *testing.T) {
	t.Parallel()
	dir := demoIn(t)
	for _, test := range []struct {
		args []string
		word string
	}{
		{[]string{"--cell", "waress"}, "did you mean"},
		{[]string{"--cell", "text"}, "news-line.text"},
		{[]string{"--scenario", "nothing"}, "the scenarios are"},
		{[]string{"--states", "shelf-buton"}, "did you mean shelf-button?"},
		{[]string{"--states", "kiln-room"}, "draw the states of a part of it"},
		{[]string{"--theme", "blue"}, "light, dark, print"},
		{[]string{"--to", "house.bmp"}, ".svg, .png or .pdf"},
		{[]string{"--to", "nowhere/house.svg"}, "cannot be written"},
		{[]string{"--scale", "900", "--to", "house.png"}, "--scale"},
		{[]string{"--cell", "wares", "--states", "kiln-room"}, "one picture at a time"},
	} {
		lien(t, dir, append([]string{"draw", "kiln"}, test.args...)...).want(t, 2, test.word)
	}
	if files, _ := filepath.Glob(filepath.Join(dir, "*.*")); len(files) > 0 {
		t.Errorf("wrong usage wrote %v", files)
	}
	write(t, dir, "broken.lien", "component kiln-lamp { holds lit: boolean = 5; view { p `${lit}` } }\nstart kiln-lamp\n")
	lien(t, dir, "draw", "broken.lien").want(t, 0, "kiln-lamp.svg", "1 error", "lien check")
	lien(t, dir, "draw", "broken.lien", "--scenario", "x").want(t, 1, "cannot run")
}

// screen runs a script of keys on a design, and gives what was shown.
func screen(t *testing.T, dir string, keys string, args ...string) string {
	t.Helper()
	r := lienWith(t, dir, keys, append([]string{"try", "--script", "-"}, args...)...)
	if r.status != 0 {
		t.Fatalf("status %d: %s", r.status, r.err)
	}
	return r.out
}

func wantAll(t *testing.T, text string, words ...string) {
	t.Helper()
	for _, w := range words {
		if !strings.Contains(text, w) {
			t.Errorf("there is no %q in\n%s", w, text)
		}
	}
}

func TestTry(t *testing.T) {
	dir := demoIn(t)
	wantAll(t, screen(t, dir, "", "kiln"),
		`› `, `tab "Big kiln" (selected)`, "State ─", "kiln = \"big\"", "Last turn ─", "on mount", "Waiting ─", "1 asked kiln-log.load()")
	wantAll(t, screen(t, dir, "down\ndown\nenter\n", "kiln"), `button "Top shelf" (pressed)`, `* chosen = "top"`, `press button "Top shelf"`, "step 1 ")
	wantAll(t, screen(t, dir, "down\ndown\nenter\nu\n", "kiln"), "chosen = null", "step 0 of 1", `"No shelf chosen yet."`)
	wantAll(t, screen(t, dir, "down\ndown\nenter\nu\nr\n", "kiln"), `* chosen = "top"`, "step 1 ")
	wantAll(t, screen(t, dir, "size 120x60\na\n", "kiln"), `button "Load bowl by Ada" (disabled)`, "reply kiln-log.load")
	wantAll(t, screen(t, dir, "size 120x60\nf\n", "kiln"), `status`, "the log is offline", "timer forget() of news-line in 0:05.000")
	wantAll(t, screen(t, dir, "t\n", "kiln"), "wait 300", "0:00.300")
	wantAll(t, screen(t, dir, "w\ntext 1500\nenter\n", "kiln"), "0:01.500")
	wantAll(t, screen(t, dir, "end\nenter\ntext Ben\n", "kiln"), "Text of textbox \"Maker\"", "Ben▏")
	wantAll(t, screen(t, dir, "end\nenter\ntext Ben\nenter\n", "kiln"), `* search = "Ben"`, `type "Ben" into textbox`)
	wantAll(t, screen(t, dir, "t\nt\n", "kiln"), "nothing comes by itself")
	wantAll(t, screen(t, dir, "enter\ntab\nenter\nj\ntext 1\nenter\nv\nv\nv\nv\n", "kiln"), "Steps ─", "1 press tab \"Big kiln\"", "2 (taken back) press tab")
	wantAll(t, screen(t, dir, "", "kiln", "shelf-button", "--give", "picked <- true"), `button "name" (pressed)`)
}

func TestTryWalksADialog(t *testing.T) {
	dir := demoIn(t)
	keys := "size 110x50\na\nhome\n" + strings.Repeat("tab\n", 2) + "enter\n" // the top shelf
	loaded := screen(t, dir, keys+strings.Repeat("tab\n", 8)+"show\nenter\n", "kiln")
	wantAll(t, loaded, `Unload bowl by Ada`)
	asked := screen(t, dir, keys+strings.Repeat("tab\n", 8)+"enter\nhome\n"+strings.Repeat("tab\n", 3)+"enter\n", "kiln")
	wantAll(t, asked, `dialog "Unload the bowl?"`, "opens confirm-unload")
	back := screen(t, dir, keys+strings.Repeat("tab\n", 8)+"enter\nhome\n"+strings.Repeat("tab\n", 3)+"enter\nesc\n", "kiln")
	wantAll(t, back, "nothing was unloaded")
}

func TestTrySaves(t *testing.T) {
	dir := demoIn(t)
	before := read(t, filepath.Join(dir, "kiln", "stories.lien"))
	wantAll(t, screen(t, dir, "a\ndown\ndown\nenter\ns\ntext by hand\nenter\n", "kiln"), "saved in kiln/stories.lien")
	after := read(t, filepath.Join(dir, "kiln", "stories.lien"))
	if !strings.HasPrefix(after, strings.TrimRight(before, "\n")) || !strings.Contains(after, "scenario \"by hand\" {\n  reply kiln-log.load\n  press button \"Top shelf\"\n  shows pressed button \"Top shelf\"\n") ||
		!strings.Contains(after, "  shows button \"Load plate by Cleo\"\n  lacks paragraph containing \"No shelf chosen yet.\"\n") {
		t.Errorf("saved was\n%s", after[min(len(after), len(before)):])
	}
	lien(t, dir, "test", "kiln").want(t, 0, "7")
	screen(t, dir, "enter\ns\ntext alone\nenter\n", "kiln", "shelf-button", "--keep", "alone.lien")
	wantAll(t, read(t, filepath.Join(dir, "alone.lien")), "start \"alone\" shelf-button {", "scenario \"alone\" {\n  start \"alone\"\n  press button \"name\"")
	wantAll(t, screen(t, dir, "s\ntext x\nenter\n", "kiln"), "nothing was pressed")
}

func TestTryUsage(t *testing.T) {
	dir := demoIn(t)
	lien(t, dir, "try", "kiln").want(t, 2, "no terminal", "--script")
	lien(t, dir, "try", "kiln", "shelf-buton").want(t, 2, "did you mean shelf-button?")
	lien(t, dir, "try", "kiln", "--start", "big").want(t, 2, "the starts are: kiln-room")
	lien(t, dir, "try", "kiln", "--give", "a <- 1").want(t, 2, "component alone")
	lien(t, dir, "try", "kiln", "shelf-button", "--give", "full <- 3").want(t, 2, "what is given to shelf-button does not fit", "full is a boolean")
	lien(t, dir, "try", "kiln", "shelf-button", "--give", "full <- [1, 2].length > 1", "--script", os.DevNull).want(t, 0)
	lien(t, dir, "try", "kiln", "--script", "nowhere").want(t, 2, "nowhere")
	lienWith(t, dir, "tab\nhoop\n", "try", "kiln", "--script", "-").want(t, 2, "-:2: there is no key \"hoop\"")
	lienWith(t, dir, "size 3x900000\n", "try", "kiln", "--script", "-").want(t, 2, "is no size")
	write(t, dir, "broken.lien", "component kiln-lamp { holds lit: boolean = 5; view { p `${lit}` } }\nstart kiln-lamp\n")
	lien(t, dir, "try", "broken.lien", "--script", "-").want(t, 2, "broken.lien:1:", "cannot run")
}

// Any keys in any order leave no half-drawn screen and no crash.
func TestTrySurvivesKeys(t *testing.T) {
	dir := demoIn(t)
	keys := []string{"tab", "enter", "esc", "u", "r", "t", "a", "f", "v", "k", "text ArrowDown", "enter", "end", "enter", "text ö ぶ", "enter", "j", "text 2", "enter", "pgdown", "pgup", "home", "?", "x", "shift+tab", "space", "w", "backspace", "text -1", "enter"}
	var script strings.Builder
	seed := uint32(7)
	for range 400 {
		seed = seed*1664525 + 1013904223
		script.WriteString(keys[(seed>>16)%uint32(len(keys))] + "\n")
		if seed%11 == 0 {
			script.WriteString([]string{"size 80x24\n", "size 41x9\n", "size 200x60\n", "size 20x8\n"}[(seed>>8)%4])
		}
		script.WriteString("show\n")
	}
	out := screen(t, dir, script.String(), "kiln")
	if strings.Count(out, "\n") < 400*8 {
		t.Errorf("%d lines were shown", strings.Count(out, "\n"))
	}
}

func TestReport(t *testing.T) {
	t.Parallel()
	dir := demoIn(t)
	lien(t, dir, "report", "kiln", "--to", "kiln.html", "--states", "200").want(t, 0, "kiln.html", "KB")
	wantAll(t, read(t, filepath.Join(dir, "kiln.html")), "<!doctype html>", "The journey of kiln-room.chosen", "holds within")
	lien(t, dir, "report", "kiln", "--states", "-1").want(t, 2, "--states")
	lien(t, dir, "report", "kiln", "--to", "no/where.html").want(t, 2, "cannot be written")
	lien(t, dir, "report", "nowhere").want(t, 2, "nowhere")
}

func TestPicturesAreTheSameAgain(t *testing.T) {
	t.Parallel()
	dir := demoIn(t)
	for _, args := range [][]string{{"--to", "a.png"}, {"--to", "a.pdf"}, {"--to", "a.svg", "--states", "confirm-unload"}} {
		lien(t, dir, append([]string{"draw", "kiln"}, args...)...).want(t, 0)
		was, err := os.ReadFile(filepath.Join(dir, args[1]))
		if err != nil {
			t.Fatal(err)
		}
		lien(t, dir, append([]string{"draw", "kiln"}, args...)...).want(t, 0)
		if is, _ := os.ReadFile(filepath.Join(dir, args[1])); !bytes.Equal(was, is) {
			t.Errorf("lien draw %v gives other bytes", args)
		}
	}
}
