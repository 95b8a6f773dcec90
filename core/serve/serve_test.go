package serve

import (
	"bufio"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"lien/core/web"
)

// page is one whose text, or error, can be changed.
type page struct {
	text string
	err  error
}

func (p *page) build() ([]web.File, error) {
	return []web.File{{Path: "index.html", Text: []byte("<head></head>" + p.text)}, {Path: "lien.js", Text: []byte("export {};")}, {Path: "types.d.ts"}, {Path: "custom-elements.json"}}, p.err
}

// asked is what a request gets: its status and text.
func asked(p *Page, method, path, host, origin string) (int, string, http.Header) {
	r := httptest.NewRequest(method, "http://127.0.0.1:80"+path, nil)
	r.Host = host
	if origin != "" {
		r.Header.Set("Origin", origin)
	}
	w := httptest.NewRecorder()
	p.ServeHTTP(w, r)
	return w.Code, w.Body.String(), w.Header()
}

// TestRequests: what is answered, and what is refused.
func TestRequests(t *testing.T) {
	p := New((&page{text: "the kiln"}).build, nil)
	for _, c := range []struct {
		method, path, host, origin string
		status                     int
		holds                      string
	}{
		{"GET", "/", "127.0.0.1:80", "", 200, "the kiln"},
		{"GET", "/", "localhost:80", "", 200, "lien-reload.js"},
		{"GET", "/", "[::1]:80", "", 200, "the kiln"},
		{"GET", "/", "localhost", "", 200, "the kiln"},
		{"GET", "/index.html", "127.0.0.1:80", "http://127.0.0.1:80", 200, "the kiln"},
		{"HEAD", "/", "127.0.0.1:80", "", 200, ""},
		{"GET", "/lien.js", "127.0.0.1:80", "", 200, "export {};"},
		{"GET", "/lien-reload.js", "127.0.0.1:80", "", 200, "since=1"},
		{"GET", "/", "evil.example", "", 421, "own machine"},
		{"GET", "/", "evil.example:80", "", 421, "own machine"},
		{"GET", "/", "127.0.0.1.evil.example:80", "", 421, "own machine"},
		{"GET", "/", "", "", 421, "own machine"},
		{"GET", "/lien.js", "127.0.0.1:80", "http://evil.example", 403, "other pages"},
		{"GET", "/", "127.0.0.1:80", "null", 403, "other pages"},
		{"GET", "/", "127.0.0.1:80", "https://127.0.0.1:80", 403, "other pages"},
		{"GET", "/lien-changes?since=1", "evil.example", "", 421, "own machine"},
		{"POST", "/", "127.0.0.1:80", "", 405, "GET and HEAD"},
		{"PUT", "/lien.js", "127.0.0.1:80", "", 405, "GET and HEAD"},
		{"OPTIONS", "/", "127.0.0.1:80", "", 405, "GET and HEAD"},
		{"GET", "/../go.mod", "127.0.0.1:80", "", 404, "no such file"},
		{"GET", "/%2e%2e/go.mod", "127.0.0.1:80", "", 404, "no such file"},
		{"GET", "/components/", "127.0.0.1:80", "", 404, "no such file"},
		{"GET", "//index.html", "127.0.0.1:80", "", 404, "no such file"},
	} {
		status, text, head := asked(p, c.method, c.path, c.host, c.origin)
		if status != c.status || !strings.Contains(text, c.holds) || c.method == "HEAD" && text != "" {
			t.Errorf("%s %s of %q from %q: %d, %q; want %d, %q", c.method, c.path, c.host, c.origin, status, text, c.status, c.holds)
		}
		if !strings.Contains(head.Get("Content-Security-Policy"), "default-src 'self'") || head.Get("X-Content-Type-Options") != "nosniff" || head.Get("Cache-Control") != "no-store" {
			t.Errorf("%s %s: its head is %v", c.method, c.path, head)
		}
	}
	for path, kind := range map[string]string{"/": "text/html", "/lien.js": "text/javascript", "/custom-elements.json": "application/json", "/types.d.ts": "text/plain"} {
		if _, _, head := asked(p, "GET", path, "localhost", ""); !strings.HasPrefix(head.Get("Content-Type"), kind) {
			t.Errorf("%s is %s", path, head.Get("Content-Type"))
		}
	}
}

// TestErrors: a design with errors is shown as these, and its files stay what they were until it is right again.
func TestErrors(t *testing.T) {
	is := &page{text: "the kiln"}
	p := New(is.build, nil)
	is.err = errors.New("room.lien:3:4: <b> is nothing")
	p.Changed()
	if status, text, _ := asked(p, "GET", "/", "localhost", ""); status != 200 || !strings.Contains(text, "room.lien:3:4: &lt;b&gt; is nothing") || !strings.Contains(text, "lien-reload.js") {
		t.Errorf("%d, %s", status, text)
	}
	if _, text, _ := asked(p, "GET", "/lien.js", "localhost", ""); text != "export {};" {
		t.Errorf("a module is %q", text)
	}
	is.err, is.text = nil, "another kiln"
	p.Changed()
	if _, text, _ := asked(p, "GET", "/", "localhost", ""); !strings.Contains(text, "another kiln") {
		t.Errorf("it is %s", text)
	}
	first := New((&page{err: errors.New("no start")}).build, nil)
	if status, text, _ := asked(first, "GET", "/", "localhost", ""); status != 200 || !strings.Contains(text, "no start") {
		t.Errorf("%d, %s", status, text)
	}
}

// TestChanges: browsers that show the page are told when it changes, at once where it has changed since they loaded
// it, and nothing is left of those that go away.
func TestChanges(t *testing.T) {
	is := &page{text: "the kiln"}
	p := New(is.build, nil)
	s := httptest.NewServer(p)
	defer s.Close()
	const clients, reloads = 10, 20
	var told sync.WaitGroup
	for range clients {
		told.Go(func() {
			for n := 1; n <= reloads; {
				r, err := http.Get(s.URL + "/lien-changes?since=" + strconv.Itoa(n))
				if err != nil {
					t.Error(err)
					return
				}
				if line := firstData(r.Body); line == "data: changed" {
					n++
				}
				r.Body.Close()
			}
		})
	}
	for range reloads {
		time.Sleep(5 * time.Millisecond)
		p.Changed()
	}
	told.Wait()
	r, err := http.Get(s.URL + "/lien-changes?since=" + strconv.Itoa(reloads+1))
	if err != nil {
		t.Fatal(err)
	}
	until(t, func() bool { return p.Watchers() == 1 })
	r.Body.Close()
	until(t, func() bool { return p.Watchers() == 0 })
}

// firstData is the first line of a stream that carries something.
func firstData(r io.Reader) string {
	lines := bufio.NewScanner(r)
	for lines.Scan() {
		if strings.HasPrefix(lines.Text(), "data:") {
			return lines.Text()
		}
	}
	return ""
}

// until waits for something that comes soon.
func until(t *testing.T, is func() bool) {
	t.Helper()
	for range 400 {
		if is() {
			return
		}
		time.Sleep(5 * time.Millisecond)
	}
	t.Error("it does not come")
}
