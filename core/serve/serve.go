// Package serve shows a built page to browsers on this machine: to requests that name it as their host and come from
// it, and to no others.
package serve

import (
	"fmt"
	"html"
	"net"
	"net/http"
	"strconv"
	"strings"
	"sync"

	"lien/core/web"
)

// Page is a page that is built anew when its design changes.
type Page struct {
	build func() ([]web.File, error)

	mu      sync.Mutex
	files   map[string][]byte
	wrong   error // why the design cannot be built, or nil
	version int   // counts how often it was built
	waiting map[chan struct{}]bool
}

// New is the page that build gives, which it is asked for at once and at every change.
func New(build func() ([]web.File, error)) *Page {
	p := &Page{build: build, waiting: map[chan struct{}]bool{}}
	p.Changed()
	return p
}

// Changed builds the page anew, and lets the browsers that show it load it again.
func (p *Page) Changed() {
	list, err := p.build()
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.wrong = err; err == nil {
		p.files = map[string][]byte{}
		for _, f := range list {
			p.files["/"+f.Path] = f.Text
		}
	}
	p.version++
	for c := range p.waiting {
		close(c)
		delete(p.waiting, c)
	}
}

// Watchers is how many browsers wait for a change.
func (p *Page) Watchers() int {
	p.mu.Lock()
	defer p.mu.Unlock()
	return len(p.waiting)
}

// ServeHTTP answers requests of this machine alone: RFC 9110, 7.4, for a host that is another one, and the Fetch
// standard's Origin for programs of other pages.
func (p *Page) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	head := w.Header()
	head.Set("X-Content-Type-Options", "nosniff")
	head.Set("Cache-Control", "no-store")
	head.Set("Referrer-Policy", "no-referrer")
	head.Set("Cross-Origin-Resource-Policy", "same-origin")
	head.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	switch origin := r.Header.Get("Origin"); {
	case !isHere(r.Host):
		refuse(w, http.StatusMisdirectedRequest, "this page is shown to its own machine, under 127.0.0.1 or localhost")
	case origin != "" && origin != "http://"+r.Host:
		refuse(w, http.StatusForbidden, "programs of other pages get nothing here")
	case r.Method != http.MethodGet && r.Method != http.MethodHead:
		head.Set("Allow", "GET, HEAD")
		refuse(w, http.StatusMethodNotAllowed, "only GET and HEAD are answered")
	case r.URL.Path == "/lien-changes":
		p.changes(w, r)
	default:
		p.file(w, r)
	}
}

func refuse(w http.ResponseWriter, status int, why string) { http.Error(w, why, status) }

// isHere says whether a host is this machine's own name.
func isHere(host string) bool {
	name, _, err := net.SplitHostPort(host)
	if err != nil {
		name = host
	}
	return name == "localhost" || name == "127.0.0.1" || name == "::1" || name == "[::1]"
}

// reload loads the page again when it is another one than it was as this was asked for.
const reload = `new EventSource("/lien-changes?since=%d").onmessage = () => location.reload();
`

func (p *Page) file(w http.ResponseWriter, r *http.Request) {
	p.mu.Lock()
	text, ok := p.files[r.URL.Path]
	wrong, version := p.wrong, p.version
	if r.URL.Path == "/" {
		text, ok = p.files["/index.html"]
	}
	p.mu.Unlock()
	kind := "text/html; charset=utf-8"
	switch {
	case r.URL.Path == "/lien-reload.js":
		text, ok, kind = fmt.Appendf(nil, reload, version), true, "text/javascript; charset=utf-8"
	case strings.HasSuffix(r.URL.Path, ".js"):
		kind = "text/javascript; charset=utf-8"
	case strings.HasSuffix(r.URL.Path, ".css"):
		kind = "text/css; charset=utf-8"
	case strings.HasSuffix(r.URL.Path, ".json"):
		kind = "application/json"
	case strings.HasSuffix(r.URL.Path, ".ts"):
		kind = "text/plain; charset=utf-8"
	case wrong != nil:
		text, ok = []byte(wrongPage(wrong)), r.URL.Path == "/" || ok
	case ok:
		text = []byte(strings.Replace(string(text), "</head>", "<script type=\"module\" src=\"lien-reload.js\"></script>\n</head>", 1))
	}
	if !ok {
		refuse(w, http.StatusNotFound, "there is no such file")
		return
	}
	w.Header().Set("Content-Type", kind)
	if r.Method == http.MethodGet {
		w.Write(text)
	}
}

// wrongPage tells why the design cannot be shown.
func wrongPage(err error) string {
	return "<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<title>the design has errors</title>\n" +
		"<script type=\"module\" src=\"lien-reload.js\"></script>\n</head>\n<body><pre>" + html.EscapeString(err.Error()) + "</pre></body>\n</html>\n"
}

// changes tells a browser when the page has changed: an event stream (HTML, 9.2).
func (p *Page) changes(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Content-Type", "text/event-stream")
	flush := http.NewResponseController(w)
	changed := make(chan struct{})
	p.mu.Lock()
	if r.URL.Query().Get("since") == strconv.Itoa(p.version) {
		p.waiting[changed] = true
	} else {
		close(changed) // it is another page by now
	}
	p.mu.Unlock()
	defer func() {
		p.mu.Lock()
		delete(p.waiting, changed)
		p.mu.Unlock()
	}()
	fmt.Fprint(w, ": it goes on until the page changes\n\n")
	if flush.Flush() != nil {
		return
	}
	select {
	case <-changed:
		fmt.Fprint(w, "data: changed\n\n")
		flush.Flush()
	case <-r.Context().Done():
	}
}
