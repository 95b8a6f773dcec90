package cli

import (
	"bytes"
	"strings"
	"testing"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
)

func TestWrap(t *testing.T) {
	for _, c := range []struct {
		text  string
		width int
		want  string
	}{
		{"", 10, ""},
		{"one two three", 20, "one two three"},
		{"one two three", 7, "one two|three"},
		{"one two three", 3, "one|two|three"},
		{"averylongword x", 5, "averylongword|x"},
		{"  spaces   between ", 40, "spaces between"},
		{"né né né", 5, "né né|né"},
	} {
		if got := strings.Join(wrap(c.text, c.width), "|"); got != c.want {
			t.Errorf("%q in %d: %q, want %q", c.text, c.width, got, c.want)
		}
	}
}

func TestCutAndPad(t *testing.T) {
	for _, c := range []struct {
		text  string
		width int
		want  string
	}{
		{"short", 10, "short"},
		{"exactly ten", 11, "exactly ten"},
		{"a text that is too long", 12, "a text …long"},
		{"ééééééééééé", 8, "ééééé…éé"},
		{"tiny", 2, "tiny"},
	} {
		if got := cut(c.text, c.width); got != c.want {
			t.Errorf("%q cut to %d: %q, want %q", c.text, c.width, got, c.want)
		}
	}
	if pad("é", 3) != "é  " || pad("abcd", 3) != "abcd" {
		t.Error("padding does not count characters")
	}
}

func TestCount(t *testing.T) {
	for n, want := range map[int]string{0: "0 steps", 1: "1 step", 2: "2 steps"} {
		if got := finding.Count(n, "step"); got != want {
			t.Errorf("got %s, want %s", got, want)
		}
	}
}

// printed is what a design's findings look like.
func printed(t *testing.T, text string, color bool) string {
	t.Helper()
	t.Setenv("COLUMNS", "60")
	var out bytes.Buffer
	term := &terminal{Streams: Streams{Out: &out}, color: color}
	d := design.Parse("page.lien", text)
	term.findings(d, check.Run(d, check.Options{}))
	return out.String()
}

func TestFindingsAsText(t *testing.T) {
	got := printed(t, "component a-b {\n  takes n: number\n  view { p `${m}` }\n}\nstart a-b\n", false)
	want := `page.lien:3:15: error: there is no m here [not-in-scope]
    view { p ` + "`${m}`" + ` }
                ^
   why  A name stands for something that is declared here or
        handed down to here; nothing is global but what
        stands at the top of a file.
   do   declare it: takes m: ..., holds m = ... or derives m
        = ...; there is: n

page.lien:5:7: error: a-b takes n, which is not given here [not-given]
  start a-b
        ^^^
   why  What a component takes without a default must come
        from whoever uses it.
   see  page.lien:2:9: it is taken here
   do   write start a-b { n <- ... }
`
	if got != want {
		t.Errorf("got\n%s\nwant\n%s", got, want)
	}
}

func TestFindingsInColour(t *testing.T) {
	got := printed(t, "component a-b {\n  view { p `${m}` }\n}\n", true)
	for _, s := range []string{"\x1b[1mpage.lien:2:15\x1b[0m", "\x1b[31merror\x1b[0m", "\x1b[2m[not-in-scope]\x1b[0m"} {
		if !strings.Contains(got, s) {
			t.Errorf("there is no %q in %q", s, got)
		}
	}
}

// TestLongLines: a spot in a long line is shown with what is around it.
func TestLongLines(t *testing.T) {
	long := "component a-b { view { p \"" + strings.Repeat("x", 200) + "\"; p `${m}` } }\n"
	for _, line := range strings.Split(printed(t, long, false), "\n") {
		if len([]rune(line)) > 62 && !strings.HasPrefix(line, "page.lien") {
			t.Errorf("a line has %d characters: %s", len([]rune(line)), line)
		}
	}
	if got := printed(t, long, false); !strings.Contains(got, "${m}") {
		t.Errorf("the spot is not shown:\n%s", got)
	}
}

func TestLevelsOption(t *testing.T) {
	o, err := levels([]string{"never-used=error", "held-unseen=off", "told-to-nobody=note"})
	if err != nil || o.Levels["never-used"] != finding.Error || !o.Off["held-unseen"] || o.Levels["told-to-nobody"] != finding.Note {
		t.Errorf("%+v, %v", o, err)
	}
	for arg, words := range map[string]string{
		"never-used":        "takes RULE=LEVEL",
		"neverused=error":   "there is no rule neverused",
		"never-used=grave":  "there is no level",
		"unreadable=note":   "cannot be changed",
		"not-in-scope=off":  "cannot be changed",
		"=error":            "there is no rule",
		"never-used=":       "there is no level",
		"never-used=error ": "there is no level",
	} {
		if _, err := levels([]string{arg}); err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("--level %s: %v", arg, err)
		}
	}
}

func TestRoff(t *testing.T) {
	if got, want := roff("a-b \\ c\n.d\n'e"), "a\\-b \\e c\n\\&.d\n\\&'e"; got != want {
		t.Errorf("got %q, want %q", got, want)
	}
}

// TestMapText: how a value travels, in lines that a terminal can hold.
func TestMapText(t *testing.T) {
	d := design.Parse("page.lien", `component leaf-part {
  takes text: string
  shares open: boolean = false
  emits turn()
  view { p `+"`${text}`"+` { hidden <- open }; button "b" { click -> { open = !open; emit turn() } } }
}
component mid-part {
  takes text: string
  shares open: boolean = false
  emits turn()
  view { leaf-part { text <- text; open <-> open; turn -> forward } }
}
component top-page {
  holds text: string = "a"
  holds shown: boolean = false
  holds aside turns: number = 0
  view { mid-part { text <- text; open <-> shown; turn -> { turns += 1; text = "b" } } }
}
start top-page
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	var out bytes.Buffer
	term := &terminal{Streams: Streams{Out: &out}}
	g := links.Of(d)
	for _, m := range g.Cells() {
		if m.Owner.Name == "top-page" {
			term.mapText(d, g, []*design.Member{m}, false)
		}
	}
	want := `top-page holds text: string  page.lien:14
  shown    leaf-part  text of p
                      ↓ text <- text
                      ↓ text <- text
  changed  leaf-part  click on button
                      ↑ leaf-part reports turn
                      ↑ mid-part reports turn
top-page holds shown: boolean  page.lien:15
  shown    leaf-part  hidden of p
                      ↕ open <-> shown
                      ↕ open <-> open
  changed  leaf-part  click on button
                      ↕ open <-> open
                      ↕ open <-> shown
top-page holds aside turns: number  page.lien:16
  shown    nowhere
  changed  leaf-part  click on button
                      ↑ leaf-part reports turn
                      ↑ mid-part reports turn
`
	if out.String() != want {
		t.Errorf("got\n%s\nwant\n%s", out.String(), want)
	}
}

// TestMapJoins: ways that read alike are one, though they go by different places.
func TestMapJoins(t *testing.T) {
	d := design.Parse("page.lien", `context heat { holds now: number = 20; action up() { now += 1 } }
component top-page {
  supplies heat as h
  view { p `+"`${h.now}`"+`; b { hidden <- h.now > 90 }; button "Up" { click -> h.up() } }
}
start top-page
`)
	var out bytes.Buffer
	term := &terminal{Streams: Streams{Out: &out}}
	g := links.Of(d)
	term.mapText(d, g, g.Cells()[:1], false)
	if text := out.String(); strings.Count(text, "uses heat") != 1 || !strings.Contains(text, "text of p, hidden of b") {
		t.Errorf("the ways are\n%s", text)
	}
}
