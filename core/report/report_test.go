package report

import (
	"bytes"
	"os"
	"regexp"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"lien/core/design"
)

func kilnRoom(t *testing.T) *design.Design {
	t.Helper()
	d, err := design.Load(os.DirFS("../.."), "demo/kiln-room", func(s string) string { return s })
	if err != nil || d.Failed() {
		t.Fatal(err, d)
	}
	return d
}

func html(t *testing.T, d *design.Design, o Options) string {
	t.Helper()
	data, err := HTML(d, o)
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

func TestReportTellsEverything(t *testing.T) {
	text := html(t, kilnRoom(t), Options{States: 500})
	for _, want := range []string{
		"<h1>kiln-room</h1>", "10 components, 8 cells, 6 scenarios.",
		"The kiln room: members of a pottery studio share two kilns.",
		`id="component-shelf-button"`, "A shelf to choose. It does not know which one is chosen: it is told.",
		"<code>pick(id: string)</code>", "<code>news(said) { …</code>",
		"<summary>kiln-room.wares</summary>", "The journey of kiln-room.wares",
		"6 of 6 scenarios passed.", "kiln-room.chosen: null → &#34;top&#34;",
		"at most one shelf is picked", "holds within", "Not looked at: states: more than 500",
		"Nothing was found.",
	} {
		if !strings.Contains(text, want) {
			t.Errorf("the report does not tell %q", want)
		}
	}
	if strings.Contains(text, "The journey of search-field.text") {
		t.Error("a cell that is tied everywhere has a journey of its own")
	}
}

func TestReportStandsAlone(t *testing.T) {
	text := html(t, kilnRoom(t), Options{})
	text = strings.ReplaceAll(text, `xmlns="http://www.w3.org/2000/svg"`, "")
	if m := regexp.MustCompile(`https?://|src=|@import|<link`).FindString(text); m != "" {
		t.Errorf("the page needs %s", m)
	}
	if strings.Contains(text, "Laws and promises") {
		t.Error("a report without a proof tells verdicts")
	}
}

// Everything that is referred to by its id is there once.
func TestIdsAreThereOnce(t *testing.T) {
	text := html(t, kilnRoom(t), Options{})
	count := map[string]int{}
	for _, m := range regexp.MustCompile(` id="([^"]*)"`).FindAllStringSubmatch(text, -1) {
		count[m[1]]++
	}
	for id, n := range count {
		if n > 1 {
			t.Errorf("the id %s is there %d times", id, n)
		}
	}
	for _, m := range regexp.MustCompile(`(?:href="#|aria-labelledby=")([^"]*)"`).FindAllStringSubmatch(text, -1) {
		for _, id := range strings.Fields(m[1]) {
			if count[id] == 0 {
				t.Errorf("nothing has the id %s", id)
			}
		}
	}
}

func TestElementsAreClosed(t *testing.T) {
	text := html(t, kilnRoom(t), Options{States: 200})
	var open []string
	empty := map[string]bool{"meta": true, "br": true, "rect": true, "path": true}
	for _, m := range regexp.MustCompile(`<(/?)([a-z][a-z0-9]*)[^>]*?(/?)>`).FindAllStringSubmatch(text, -1) {
		switch {
		case m[1] == "/":
			if n := len(open) - 1; n < 0 || open[n] != m[2] {
				t.Fatalf("</%s> closes %v", m[2], open[max(0, len(open)-3):])
			}
			open = open[:len(open)-1]
		case m[3] == "" && !empty[m[2]]:
			open = append(open, m[2])
		}
	}
	if len(open) > 0 {
		t.Errorf("never closed: %v", open)
	}
}

func TestSameReport(t *testing.T) {
	a, b := html(t, kilnRoom(t), Options{States: 300}), html(t, kilnRoom(t), Options{States: 300})
	if !bytes.Equal([]byte(a), []byte(b)) {
		t.Error("the same design gives another report")
	}
}

func TestReportOfADesignWithErrors(t *testing.T) {
	d, err := design.Load(fstest.MapFS{"d.lien": {Data: []byte("component kiln-lamp { holds lit: boolean = 5; view { p `<b>&` } }\nstart kiln-lamp\nscenario \"a\" { }\n")}}, "d.lien", func(s string) string { return s })
	if err != nil {
		t.Fatal(err)
	}
	text := html(t, d, Options{States: 100})
	for _, want := range []string{"<td>error</td>", "d.lien:1:", "unclear"} {
		if !strings.Contains(text, want) {
			t.Errorf("the report does not tell %q", want)
		}
	}
	if strings.Contains(text, "Laws and promises") || strings.Contains(text, "<b>&`") {
		t.Error("it proves what cannot run, or writes a text as it is")
	}
}

// TestTime: a proof that goes on for longer than it may ends, and the page says what is missing.
func TestTime(t *testing.T) {
	d := design.Parse("notices.lien", `component studio-page {
  holds list: number[] = []
  holds aside made: number = 0
  view {
    button "More" { click -> { list = [...list, made]; made += 1 } }
    each n in list by n { p `+"`${n}`"+` { button "Less" { click -> list = list.filter(x => x != n) } } }
  }
}
start studio-page
law "never many" { never the(studio-page).list.length > 100000 }
`)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message)
	}
	data, err := HTML(d, Options{States: 1_000_000, Time: time.Second})
	if err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(string(data), "Not looked at: time: what 1s") {
		t.Errorf("the page does not say that its proof is not whole: %s", regexp.MustCompile(`visited[^<]*`).FindString(string(data)))
	}
}
