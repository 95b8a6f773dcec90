// Package serve shows a built page to browsers on this machine: to requests that name it as their host and come from
// it, and to no others.
package serve

import (
	"embed"
	"encoding/json"
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
	desks desks

	mu      sync.Mutex
	files   map[string][]byte
	wrong   error // why the design cannot be built, or nil
	version int   // counts how often it was built
	waiting map[chan struct{}]bool
}

// New is the page that build gives, which it is asked for at once and at every change. Its panes are of what a studio
// opens; nil: it has none.
func New(build func() ([]web.File, error), s Studio) *Page {
	p := &Page{build: build, waiting: map[chan struct{}]bool{}, desks: desks{studio: s, list: map[string]*desk{}}}
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
		select {
		case c <- struct{}{}:
		default: // it knows already
		}
	}
}

// Desks is how many browsers have a pane.
func (p *Page) Desks() int { return p.desks.count() }

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
	head.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'")
	switch origin := r.Header.Get("Origin"); {
	case !isHere(r.Host):
		refuse(w, http.StatusMisdirectedRequest, "this page is shown to its own machine, under 127.0.0.1 or localhost")
	case origin != "" && origin != "http://"+r.Host:
		refuse(w, http.StatusForbidden, "programs of other pages get nothing here")
	case r.URL.Path == "/lien-do" && p.desks.studio != nil:
		p.asked(w, r)
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
	p.mu.Unlock()
	if r.URL.Path == "/" {
		text, ok = p.front()
	} else if desk, rest, found := strings.Cut(strings.TrimPrefix(r.URL.Path, "/at/"), "/"); found && strings.HasPrefix(r.URL.Path, "/at/") {
		if d := p.desks.find(desk); d != nil {
			text, ok = d.file(rest)
		}
	} else if own, err := paneFiles.ReadFile("pane/" + strings.TrimPrefix(r.URL.Path, "/lien-")); err == nil && strings.HasPrefix(r.URL.Path, "/lien-") {
		text, ok = own, true
	}
	kind := "text/html; charset=utf-8"
	switch {
	case r.URL.Path == "/lien-reload.js":
		text, ok, kind = fmt.Appendf(nil, reload, version), true, "text/javascript; charset=utf-8"
	case r.URL.Path == "/lien-clock.js":
		text, ok, kind = []byte(web.Clock), true, "text/javascript; charset=utf-8"
	case strings.HasSuffix(r.URL.Path, ".js"):
		kind = "text/javascript; charset=utf-8"
	case strings.HasSuffix(r.URL.Path, ".css"):
		kind = "text/css; charset=utf-8"
	case strings.HasSuffix(r.URL.Path, ".json"):
		kind = "application/json"
	case strings.HasSuffix(r.URL.Path, ".ts"):
		kind = "text/plain; charset=utf-8"
	case wrong != nil && (r.URL.Path == "/" || r.URL.Path == "/index.html"):
		text, ok = []byte(wrongPage(wrong)), true
	case ok && r.URL.Path == "/index.html" || ok && p.desks.studio == nil:
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
	changed := make(chan struct{}, 1)
	p.mu.Lock()
	p.waiting[changed] = true
	if r.URL.Query().Get("since") != strconv.Itoa(p.version) {
		changed <- struct{}{} // it is another page by now
	}
	p.mu.Unlock()
	defer func() {
		p.mu.Lock()
		delete(p.waiting, changed)
		p.mu.Unlock()
		p.desks.leave(r.URL.Query().Get("desk")) // its browser went away
	}()
	fmt.Fprint(w, ": it goes on until the page changes\n\n")
	if flush.Flush() != nil {
		return
	}
	for {
		select {
		case <-changed:
			fmt.Fprint(w, "data: changed\n\n")
			if flush.Flush() != nil {
				return
			}
		case <-r.Context().Done():
			return
		}
	}
}

//go:embed pane
var paneFiles embed.FS

// front is the page that is shown first: with its pane, or, where it has none, by itself.
func (p *Page) front() ([]byte, bool) {
	if p.desks.studio == nil {
		p.mu.Lock()
		defer p.mu.Unlock()
		text, ok := p.files["/index.html"]
		return text, ok
	}
	text, err := paneFiles.ReadFile("pane/index.html")
	return text, err == nil
}

func (p *Page) now() int {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.version
}

// maxRequest is the most bytes that a pane may send at once.
const maxRequest = 1 << 20

// asked answers a pane. Another page could send a plain form, but no JSON, without being asked first.
func (p *Page) asked(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodPost {
		w.Header().Set("Allow", "POST")
		refuse(w, http.StatusMethodNotAllowed, "a pane asks by POST")
		return
	}
	if r.Header.Get("Content-Type") != "application/json" {
		refuse(w, http.StatusUnsupportedMediaType, "a pane asks in JSON")
		return
	}
	var q Request
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, maxRequest)).Decode(&q); err != nil {
		refuse(w, http.StatusBadRequest, "this is no request of a pane")
		return
	}
	version := p.now()
	status, answer := p.desks.answer(&q)
	if v, ok := answer.(*View); ok {
		v.Version = version
	}
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	json.NewEncoder(w).Encode(answer)
}
