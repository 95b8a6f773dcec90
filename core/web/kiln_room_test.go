package web

import (
	"net/http"
	"net/http/httptest"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"lien/core/design"
	"lien/core/drive/webdriver"
)

// watching notes what the console is told, and how far things move by themselves: Layout Instability.
const watching = `window.said = [];
for (const kind of ["log", "info", "warn", "error", "debug"]) console[kind] = (...what) => window.said.push(kind + ": " + what.join(" "));
addEventListener("error", e => window.said.push("error: " + e.message));
addEventListener("unhandledrejection", e => window.said.push("rejected: " + e.reason));
window.moved = 0;
new PerformanceObserver(list => { for (const e of list.getEntries()) if (!e.hadRecentInput) { window.moved += e.value; window.where = e.sources.map(s => s.node?.nodeName + " " + (s.node?.textContent ?? "").slice(0, 20) + JSON.stringify([s.previousRect.y, s.currentRect.y, s.previousRect.x, s.currentRect.x, s.previousRect.height, s.currentRect.height])).join("; "); } }).observe({ type: "layout-shift", buffered: true });
`

// TestKilnRoom: the built demo says nothing to the console, moves nothing by itself though its modules come late, and all in
// it can be done with the keyboard alone.
func TestKilnRoom(t *testing.T) {
	t.Parallel()
	b := openBrowser(t)
	d, err := design.Load(os.DirFS("../../demo/kiln-room"), ".", func(name string) string { return name })
	if err != nil {
		t.Fatal(err)
	}
	list, err := Build(d, Options{Start: d.Starts[0]})
	if err != nil {
		t.Fatal(err)
	}
	files := map[string][]byte{"watching.js": []byte(watching)}
	for _, f := range list {
		files[f.Path] = f.Text
	}
	files["index.html"] = []byte(strings.Replace(string(files["index.html"]), "<script ", "<script src=\"watching.js\"></script>\n<script ", 1))
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(r.URL.Path, "/")
		if name == "" {
			name = "index.html"
		}
		if strings.HasPrefix(name, "components/") {
			time.Sleep(60 * time.Millisecond) // over a slow line
		}
		kind := map[bool]string{true: "text/html"}[name == "index.html"]
		if strings.HasSuffix(name, ".js") {
			kind = "text/javascript"
		} else if strings.HasSuffix(name, ".css") {
			kind = "text/css"
		}
		w.Header().Set("Content-Type", kind)
		w.Header().Set("Content-Security-Policy", "default-src 'self'; img-src data:")
		w.Write(files[name])
	}))
	t.Cleanup(s.Close)
	if err := b.session.Go(s.URL + "/"); err != nil {
		t.Fatal(err)
	}
	text := func(script string) (got string) {
		t.Helper()
		if err := b.session.Run("return String("+script+")", &got); err != nil {
			t.Fatal(err)
		}
		return got
	}
	comes := func(script, want string) {
		t.Helper()
		for range 1000 {
			if text(script) == want {
				return
			}
			time.Sleep(10 * time.Millisecond)
		}
		t.Fatalf("it is %q, not %q", text(script), want)
	}
	key := func(k string) {
		t.Helper()
		if err := b.session.Perform((&webdriver.Actions{}).KeyDown(k).KeyUp(k)); err != nil {
			t.Fatal(err)
		}
	}
	focused := `(document.activeElement.textContent.trim() || document.activeElement.labels?.[0]?.textContent.trim() || document.activeElement.localName)`
	comes(`document.querySelectorAll("li li, section li").length`, "4") // the wares have come
	if moved := text(`window.moved`); moved != "0" {
		t.Errorf("by itself the page moves by %s: %s", moved, text("window.where"))
	}

	var reached []string
	for range 40 {
		key("Tab")
		at := text(focused)
		if slices.Contains(reached, at) {
			break
		}
		reached = append(reached, at)
	}
	want := text(`[...document.querySelectorAll("button:enabled, input:enabled")].filter(e => e.type !== "radio" || e.checked).map(e => e.textContent.trim() || e.labels[0].textContent.trim()).join("; ")`)
	for _, w := range strings.Split(want, "; ") {
		if !slices.Contains(reached, w) {
			t.Errorf("Tab does not come to %s, but to %q", w, reached)
		}
	}

	to := func(name, press string) {
		t.Helper()
		for range 60 {
			if text(focused) == name {
				key(press)
				return
			}
			key("Tab")
		}
		t.Fatalf("Tab does not come to %s", name)
	}
	to("Top shelf", "Enter")
	comes(`document.querySelector(".picked")?.textContent`, "Top shelf")
	to("celadon", "ArrowRight")
	to("Load bowl by Ada", " ")
	comes(`[...document.querySelectorAll(".rack li li span")].map(e => e.textContent).join()`, "bowl by Ada, shino")
	to("Unload bowl by Ada", "Enter")
	comes(`document.querySelector("[role=dialog]")?.getAttribute("aria-label")`, "Unload the bowl?")
	to("Unload", "Enter")
	comes(`document.querySelectorAll(".rack li li").length`, "0")
	to("Small kiln", "Enter")
	comes(`document.querySelector("[aria-selected=true]").textContent`, "Small kiln")

	if said := text(`JSON.stringify(window.said)`); said != "[]" {
		t.Errorf("the console is told %s", said)
	}
}
