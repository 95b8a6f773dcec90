package web

import (
	"context"
	_ "embed"
	"errors"
	"fmt"
	"net"
	"net/http"
	"regexp"
	"slices"
	"sort"
	"strings"
	"sync"

	"lien/core/design"
	"lien/core/drive"
	"lien/core/drive/webdriver"
	"lien/core/engine"
	"lien/core/page"
	"lien/core/value"
)

// Clock is a program that lets time pass in a page when somebody says so: advance(ms). It stands before all others.
//
//go:embed clock.js
var Clock string

// toldScript keeps what the console is told.
//
//go:embed told.js
var toldScript string

// Browser is a real browser, in which built pages are shown beside the engine.
type Browser struct {
	Minified bool // the pages that it shows are

	driver  *webdriver.Driver
	session *webdriver.Session
	server  *http.Server
	url     string
	mu      sync.Mutex
	files   map[string][]byte
}

// OpenBrowser starts a browser. The error is webdriver.ErrNoDriver where there is none.
func OpenBrowser(ctx context.Context) (*Browser, error) {
	d, err := webdriver.Start(ctx, "")
	if err != nil {
		return nil, err
	}
	s, err := d.Open(ctx, true)
	if err != nil {
		d.Close()
		return nil, err
	}
	s.Direct(true) // built pages open no dialogs of the browser
	at, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		s.Close()
		d.Close()
		return nil, err
	}
	b := &Browser{driver: d, session: s, url: "http://" + at.Addr().String()}
	b.server = &http.Server{Handler: b}
	go b.server.Serve(at)
	return b, nil
}

// Close ends the browser.
func (b *Browser) Close() {
	b.server.Close()
	b.session.Close()
	b.driver.Close()
}

// Beside shows the page of a start that an engine has just begun. What is done on what it gives is done on both, and
// an error says where they differ.
func (b *Browser) Beside(d *design.Design, e *engine.Engine, s *design.Start) (*Pair, error) {
	return b.pairOf(d, e, Options{Start: s, StandIns: true, Minify: b.Minified})
}

// ServeHTTP serves the files of the page as a strict site would: nothing from elsewhere, and no program in the document.
func (b *Browser) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	b.mu.Lock()
	defer b.mu.Unlock()
	path := strings.TrimPrefix(r.URL.Path, "/")
	if path == "" {
		path = "index.html"
	}
	text, ok := b.files[path]
	if !ok {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Security-Policy", "default-src 'self'; img-src data:; style-src 'self' 'unsafe-inline'"+map[bool]string{true: "; script-src 'self' 'unsafe-inline'"}[len(b.files) == 4])
	w.Header().Set("Cache-Control", "no-store")
	for end, kind := range map[string]string{".js": "text/javascript", ".html": "text/html", ".css": "text/css"} {
		if strings.HasSuffix(path, end) {
			w.Header().Set("Content-Type", kind+"; charset=utf-8")
		}
	}
	w.Write(text)
}

// show shows a built page, whose time stands still.
func (b *Browser) show(files []File) (*drive.Browser, error) {
	b.mu.Lock()
	b.files = map[string][]byte{"clock.js": []byte(Clock), "told.js": []byte(toldScript), "still.css": []byte("[role=menu] { position: absolute; left: 60% }")} // what comes and goes moves nothing
	for _, f := range files {
		b.files[f.Path] = f.Text
	}
	b.files["index.html"] = []byte(strings.Replace(string(b.files["index.html"]), "<script ", "<script src=\"clock.js\"></script>\n<script src=\"told.js\"></script>\n<link rel=\"stylesheet\" href=\"still.css\">\n<script ", 1))
	b.mu.Unlock()
	in := drive.In(b.session)
	if err := in.Open(b.url + "/"); err != nil {
		return nil, err
	}
	return in, b.session.RunAsync("import('/page.js').then(() => arguments[0](null), why => arguments[0](null))", nil)
}

// Pair is a design on the engine and in the browser. What is done on the one is done on the other, and then they have
// to be the same.
type Pair struct {
	engine.Driven
	e     *engine.Engine
	b     *Browser
	in    *drive.Browser
	now   *page.Page       // the browser's, as it was compared last
	names []string         // of attributes that the design links
	last  string           // what the last turn on the engine came of
	done  [2]*page.Element // what the last gesture was done on, on the engine and in the browser
}

// pairOf is Beside for a page that is built in some way, of which some attributes are not compared.
func (b *Browser) pairOf(d *design.Design, e *engine.Engine, o Options, but ...string) (*Pair, error) {
	files, err := Build(d, o)
	if err != nil {
		return nil, err
	}
	if d.Hiding.Any() && o.Start != nil {
		if err := b.session.Emulate(o.Start.ShownOn()); err != nil {
			return nil, err
		}
	}
	in, err := b.show(files)
	if err != nil {
		return nil, err
	}
	in.Shifts = shifts(d)
	p := &Pair{Driven: e.Driven(), e: e, b: b, in: in, names: attributes(d)}
	p.names = slices.DeleteFunc(p.names, func(n string) bool { return slices.Contains(but, n) })
	return p, p.same()
}

// shifting are events that come before a press is done.
var shifting = regexp.MustCompile(`^(mouse|pointer|focus|blur|change|outside)`)

// shifts says whether a page may change as the mouse comes to an element of it, or as its button goes down there.
func shifts(d *design.Design) (may bool) {
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			may = may || slices.ContainsFunc(el.Handlers, func(h *design.Handler) bool {
				return shifting.MatchString(h.Name)
			})
		}
	}}.Design(d)
	return may || slices.ContainsFunc(d.Styles, func(s *design.Style) bool { return strings.Contains(d.Set.File(s.Base).Text, ":hover") })
}

// attributes are the names of those that the design links, but for live properties.
func attributes(d *design.Design) (names []string) {
	seen := map[string]bool{"class": true}
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			for _, a := range el.Attrs {
				seen[a.Name] = kindOf(el.Tag, a.Name) != ", kind: \"prop\""
			}
		}
	}}.Design(d)
	for n, is := range seen {
		if is {
			names = append(names, n)
		}
	}
	sort.Strings(names)
	return names
}

// elements are those of a page that the design writes, in tree order. What users make of what they edit in place is theirs.
func elements(p *page.Page) (list []*page.Element) {
	var edited *page.Element
	p.Elements(func(el *page.Element) bool {
		if isHost(el) || edited != nil && edited.Contains(el) {
			return true
		}
		if list = append(list, el); el.Has("contenteditable") {
			edited = el
		}
		return true
	})
	return list
}

// isHost says whether an element is there for a component, or for what is open.
func isHost(el *page.Element) bool {
	return strings.Contains(el.Tag(), "-") || strings.Contains(el.Get("class"), "lien-layer") || el.Tag() == "script"
}

// other is the element of the browser's page for one of the engine's.
func (p *Pair) other(el *page.Element) (*page.Element, error) {
	if el == nil {
		return nil, nil
	}
	at := slices.Index(elements(p.e.DOM()), el)
	list := elements(p.now)
	if at < 0 || at >= len(list) || list[at].Tag() != el.Tag() {
		return nil, fmt.Errorf("the built page has no %s at place %d of %d", el.Tag(), at, len(list))
	}
	return list[at], nil
}

// both does something on both pages, and compares them.
func (p *Pair) both(el *page.Element, ours func() error, theirs func(*page.Element) error) error {
	other, err := p.other(el)
	if err != nil {
		return err
	}
	p.done = [2]*page.Element{el, other}
	failed := ours()
	if f := (*engine.Failure)(nil); failed != nil && !errors.As(failed, &f) {
		return failed
	}
	if err := theirs(other); err != nil {
		return fmt.Errorf("in the browser: %w", err)
	}
	if turns := p.e.Turns(); len(turns) > 0 {
		p.last = turns[len(turns)-1].Cause
	}
	if failed != nil {
		return errors.Join(p.asItWas(), failed)
	}
	return p.same()
}

// same says where the two pages differ, also when the browser has drawn once more: a busy machine draws late.
func (p *Pair) same() error { return p.compared(whole) }

// asItWas is same after a turn that failed: it fails in both, and leaves both as they were. A gesture ends there; a browser
// goes on with it, which may move the focus. After what came of an input it reports a change, for which the field goes back
// to what it is linked to.
func (p *Pair) asItWas() error {
	if p.last == "input" {
		return p.compared(settled)
	}
	return p.compared(unfocused)
}

// What is compared: all, all but the focus, or all but the focus and what the field of the last gesture holds.
type part int

const (
	whole part = iota
	unfocused
	settled
)

// unsettled says whether a gesture that a browser goes on with changes what an element holds: that of the field that it was
// done on, and with a radio button that of the others.
func (p *Pair) unsettled(el *page.Element) bool {
	return el == p.done[0] || el == p.done[1] || el.InputType() == "radio" && p.done[0] != nil && p.done[0].InputType() == "radio"
}

func (p *Pair) compared(of part) error {
	err := p.comparedNow(of)
	if err == nil {
		return nil
	}
	if late := p.b.session.RunAsync("requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(arguments[0])))", nil); late != nil {
		return late
	}
	return p.comparedNow(of)
}

func (p *Pair) comparedNow(of part) error {
	var err error
	if p.now, err = p.in.Read(); err != nil {
		return err
	}
	want, got := p.lines(p.e.DOM(), of), p.lines(p.now, of)
	for i := range max(len(want), len(got)) {
		a, b := "nothing", "nothing"
		if i < len(want) {
			a = want[i]
		}
		if i < len(got) {
			b = got[i]
		}
		if a != b {
			var told []string
			if err := p.b.session.Run("return window.told", &told); err != nil {
				return err
			}
			return fmt.Errorf("line %d of the page is\n  %s\nin the browser, and\n  %s\non the engine; the console says %q", i+1, b, a, told)
		}
	}
	return nil
}

// lines are the elements and texts of a page, with all that can be told of them.
func (p *Pair) lines(of *page.Page, part part) (list []string) {
	text := ""
	flush := func(depth int) {
		if t := strings.Join(strings.Fields(text), " "); t != "" {
			list = append(list, strings.Repeat("  ", depth)+fmt.Sprintf("%q", t))
		}
		text = ""
	}
	var walk func(nodes []page.Node, depth int)
	walk = func(nodes []page.Node, depth int) {
		for _, n := range nodes {
			switch {
			case n.Element == nil:
				text += n.Text
			case n.Element.Tag() == "script":
			case isHost(n.Element):
				walk(n.Element.Children(), depth)
			default:
				flush(depth)
				list = append(list, strings.Repeat("  ", depth)+p.line(of, n.Element, part))
				if !n.Element.Has("contenteditable") { // what is typed there is nobody's node
					walk(n.Element.Children(), depth+1)
					flush(depth + 1)
				}
			}
		}
	}
	walk(of.Body.Children(), 0)
	flush(0)
	return list
}

func (p *Pair) line(of *page.Page, el *page.Element, part part) string {
	line := el.Tag()
	for _, n := range p.names {
		is, has := el.Attr(n)
		if n == "style" && of == p.now {
			is, has = p.in.Written(el)
		}
		if has {
			line += fmt.Sprintf(" %s=%q", n, strings.Join(strings.Fields(is), " "))
		}
	}
	if part == settled && p.unsettled(el) {
		return line
	}
	live := el.Live()
	switch el.Tag() {
	case "input", "textarea", "select":
		line += fmt.Sprintf(" holding %q", of.Value(el))
	}
	if p.e.DOM().Styles.Any() && !el.Rendered() {
		line += " unseen"
	}
	if live.Checked {
		line += " checked"
	}
	if live.Indeterminate {
		line += " indeterminate"
	}
	if live.Open && el.Tag() == "details" {
		line += " open"
	}
	if of.Focus() == el && part == whole {
		line += " focused"
	}
	return line
}

// Press presses an element in both.
func (p *Pair) Press(el *page.Element, m page.Mouse) error {
	return p.both(el, func() error { return p.Driven.Press(el, m) }, func(o *page.Element) error { return p.in.Press(o, m) })
}

// Hold presses the button of the mouse on an element in both.
func (p *Pair) Hold(el *page.Element, mods page.Mods) error {
	return p.both(el, func() error { return p.Driven.Hold(el, mods) }, func(o *page.Element) error { return p.in.Hold(o, mods) })
}

// Release lets go of it in both.
func (p *Pair) Release(el *page.Element, mods page.Mods) error {
	return p.both(el, func() error { return p.Driven.Release(el, mods) }, func(o *page.Element) error { return p.in.Release(o, mods) })
}

// Hover moves the mouse onto an element in both.
func (p *Pair) Hover(el *page.Element) error {
	return p.both(el, func() error { return p.Driven.Hover(el) }, p.in.Hover)
}

// Drag takes an element and lets go of it on another one, in both.
func (p *Pair) Drag(el, to *page.Element) error {
	end, err := p.other(to)
	if err != nil {
		return err
	}
	return p.both(el, func() error { return p.Driven.Drag(el, to) }, func(o *page.Element) error { return p.in.Drag(o, end) })
}

// Type types into a field in both.
func (p *Pair) Type(el *page.Element, text string) error {
	return p.both(el, func() error { return p.Driven.Type(el, text) }, func(o *page.Element) error { return p.in.Type(o, text) })
}

// Put gives a field a value in both.
func (p *Pair) Put(el *page.Element, text string) error {
	return p.both(el, func() error { return p.Driven.Put(el, text) }, func(o *page.Element) error { return p.in.Put(o, text) })
}

// Choose chooses options of a select in both.
func (p *Pair) Choose(el *page.Element, options ...*page.Element) error {
	others := make([]*page.Element, len(options))
	for i, o := range options {
		var err error
		if others[i], err = p.other(o); err != nil {
			return err
		}
	}
	return p.both(el, func() error { return p.Driven.Choose(el, options...) }, func(o *page.Element) error { return p.in.Choose(o, others...) })
}

// Paste pastes a text into an element in both.
func (p *Pair) Paste(el *page.Element, text string) error {
	return p.both(el, func() error { return p.Driven.Paste(el, text) }, func(o *page.Element) error { return p.in.Paste(o, text) })
}

// Key presses a chord in both.
func (p *Pair) Key(el *page.Element, chord string) error {
	return p.both(el, func() error { return p.Driven.Key(el, chord) }, func(o *page.Element) error { return p.in.Key(o, chord) })
}

// FocusOn gives an element the focus in both.
func (p *Pair) FocusOn(el *page.Element) error {
	return p.both(el, func() error { return p.Driven.FocusOn(el) }, p.in.FocusOn)
}

// waiting lets time pass, and draws after every timer, as the engine does.
const waiting = `const [ms, done] = arguments, end = lienClock.now() + ms;
const draw = then => requestAnimationFrame(() => setTimeout(then));
const next = () => draw(elapse(end) ? next : done);
next();`

// Wait lets the time pass in the browser that has passed on the engine.
func (p *Pair) Wait(ms float64) error {
	if err := p.b.session.RunAsync(waiting, nil, ms); err != nil {
		return err
	}
	return p.same()
}

// Answer answers a question in the browser that was answered on the engine.
func (p *Pair) Answer(o *design.Operation, nth, failure int) error {
	var was bool
	err := p.b.session.RunAsync("import('/lien.js').then(l => arguments[3](l.answer(arguments[0], arguments[1], arguments[2])))", &was, o.Service.Name+"."+o.Name, failure, nth)
	switch {
	case err != nil:
		return err
	case !was:
		return fmt.Errorf("in the browser nothing waits for %s.%s", o.Service.Name, o.Name)
	}
	return p.same()
}

// Call calls what the root offers.
func (p *Pair) Call(m *design.Member, args []value.Value) error {
	list := make([]string, len(args))
	for i, a := range args {
		list[i] = constant(a)
	}
	call := fmt.Sprintf("document.querySelector(arguments[0])[arguments[1]](%s)", strings.Join(list, ", "))
	if err := p.b.session.Run(call, nil, m.Owner.Name, m.Label); err != nil {
		return err
	}
	return p.same()
}
