package web

import (
	"fmt"
	"math"
	"mime"
	"net/http"
	"net/http/httptest"
	"os"
	"path"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/drive"
)

// A measure is done on a page, after it is prepared, from the event to when all is laid out.
type measure struct{ name, page, before, does string }

// measures are what is timed on both pages.
var measures = []measure{
	{"make 1,000 rows", "rows", `press("Clear")`, `press("Make 1000")`},
	{"make 10,000 rows", "rows", `press("Clear")`, `press("Make 10000")`},
	{"change every tenth of 1,000", "rows", `press("Make 1000")`, `press("Every tenth")`},
	{"choose one of 1,000", "rows", `press("Make 1000"); row(3, ".choose")`, `row(500, ".choose")`},
	{"swap two of 1,000", "rows", `press("Make 1000")`, `press("Swap")`},
	{"remove one of 1,000", "rows", `press("Make 1000")`, `row(500, ".remove")`},
	{"add 1,000 to 1,000", "rows", `press("Make 1000")`, `press("Add 1000")`},
	{"clear 1,000 rows", "rows", `press("Make 1000")`, `press("Clear")`},
	{"filter 1,000 rows", "filter", `type("")`, `type("jug")`},
	{"light 200 nested parts", "nest", ``, `press("Light")`},
}

// timing times something in a page: the middle of several runs, in milliseconds.
const timing = `
const press = name => [...document.querySelectorAll("body button")].find(b => b.textContent === name).click();
const row = (i, part) => document.querySelectorAll("tbody tr")[i].querySelector(part).click();
const type = text => {
  const i = document.querySelector("input");
  i.value = text;
  i.dispatchEvent(new InputEvent("input", { bubbles: true }));
};
const rest = () => new Promise(done => requestAnimationFrame(() => setTimeout(done)));
(async () => {
  const times = [];
  for (let i = 0; i < RUNS; i++) {
    BEFORE;
    document.body.offsetHeight;
    await rest();
    const at = performance.now();
    DOES;
    document.body.offsetHeight;
    times.push(performance.now() - at);
  }
  times.sort((a, b) => a - b);
  return times[Math.floor(times.length / 2)];
})().then(arguments[0], why => arguments[0](String(why)));
`

// isolated serves a built page, and others beside it, so that they share nothing with pages elsewhere: the clock of such is
// exact to 5 microseconds, of others to 100 (High Resolution Time, 7.1). It gives their address.
func isolated(t *testing.T, files []File, others map[string]string) string {
	texts := map[string][]byte{}
	for _, f := range files {
		texts["/"+f.Path] = f.Text
	}
	for name, text := range others {
		texts["/"+name] = []byte(text)
	}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cross-Origin-Opener-Policy", "same-origin")
		w.Header().Set("Cross-Origin-Embedder-Policy", "require-corp")
		w.Header().Set("Content-Type", mime.TypeByExtension(path.Ext(r.URL.Path)))
		w.Write(texts[r.URL.Path])
	}))
	t.Cleanup(server.Close)
	return server.URL
}

// TestSpeed measures built pages beside pages that are written by hand for the purpose. It tells, and judges only what is
// far off: how fast a machine is at the moment is no test.
func TestSpeed(t *testing.T) {
	if !*judge {
		t.Skip("with -judge")
	}
	b := openBrowser(t)
	text, err := os.ReadFile("testdata/speed.lien")
	if err != nil {
		t.Fatal(err)
	}
	d := design.Parse("speed.lien", string(text))
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message)
	}
	hand, err := os.ReadFile("testdata/speed.js")
	if err != nil {
		t.Fatal(err)
	}
	timed := func(before, does string, runs int) float64 {
		script := strings.NewReplacer("RUNS", fmt.Sprint(runs), "BEFORE", before, "DOES", does).Replace(timing)
		var ms float64
		if err := b.session.RunAsync(script, &ms); err != nil {
			t.Fatal(err)
		}
		return ms
	}
	var ratios []float64
	one := func(t *testing.T, m measure) {
		i := slices.IndexFunc(d.Starts, func(s *design.Start) bool { return s.Name == m.page })
		files, err := Build(d, Options{Start: d.Starts[i], Minify: true})
		if err != nil {
			t.Fatal(err)
		}
		page := fileOf(t, d, Options{Start: d.Starts[i], Minify: true}, "index.html") // both stand in the same document
		url := isolated(t, files, map[string]string{"hand.html": strings.Replace(page, "page.js", "hand.js", 1), "hand.js": string(hand)})
		runs := 11
		if strings.Contains(m.name, "10,000") {
			runs = 3
		}
		ours, theirs := math.Inf(1), math.Inf(1)
		for range 5 { // the best of five, one page after the other
			in := drive.In(b.session)
			if err := in.Open(url + "/hand.html?page=" + m.page); err != nil {
				t.Fatal(err)
			}
			theirs = min(theirs, timed(m.before, m.does, runs))
			if err := in.Open(url + "/index.html"); err != nil {
				t.Fatal(err)
			}
			ours = min(ours, timed(m.before, m.does, runs))
		}
		ratios = append(ratios, ours/theirs)
		t.Logf("%7.2f ms, by hand %7.2f ms: %.2f times", ours, theirs, ours/theirs)
	}
	for _, m := range measures {
		t.Run(m.name, func(t *testing.T) { one(t, m) })
	}
	sum := 0.0
	for _, r := range ratios {
		sum += math.Log(r)
	}
	mean := math.Exp(sum / float64(len(ratios)))
	t.Logf("in the mean %.2f times", mean)
	if mean > 4 {
		t.Errorf("built pages are %.2f times as slow as pages by hand", mean)
	}
}
