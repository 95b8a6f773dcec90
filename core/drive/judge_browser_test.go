package drive

import (
	"context"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"

	"lien/core/drive/webdriver"
)

//go:embed testdata/judge.js
var judgeScript string

// browser is a real browser in which pages of the tests are loaded.
type browser struct {
	*webdriver.Session
	pages *pages
}

// pages are served to the browser from this machine, all from one place: then it goes on with
// the same process.
type pages struct {
	*httptest.Server
	mu   sync.Mutex
	list []string
}

func servePages(t *testing.T) *pages {
	p := &pages{}
	p.Server = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p.mu.Lock()
		defer p.mu.Unlock()
		var n int
		if _, err := fmt.Sscanf(r.URL.Path, "/%d", &n); err != nil || n >= len(p.list) {
			http.NotFound(w, r)
			return
		}
		fmt.Fprint(w, p.list[n])
	}))
	t.Cleanup(p.Close)
	return p
}

// add gives the address of a new page.
func (p *pages) add(text string) string {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.list = append(p.list, text)
	return fmt.Sprintf("%s/%d", p.URL, len(p.list)-1)
}

// startDriver starts the driver program of a browser, or skips the test where there is none.
func startDriver(t *testing.T) *webdriver.Driver {
	t.Helper()
	d, err := webdriver.Start(context.Background(), "")
	if errors.Is(err, webdriver.ErrNoDriver) {
		if *mustDrive {
			t.Fatal(err)
		}
		t.Skip(err)
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { d.Close() })
	return d
}

func openBrowser(t *testing.T, d *webdriver.Driver) browser {
	t.Helper()
	s, err := d.Open(context.Background(), true)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return browser{s, servePages(t)}
}

// run takes the gestures of a sample in the browser: what was heard and what was so after each.
func (b browser) run(s *sample) ([][]string, error) {
	if err := b.load(s); err != nil {
		return nil, err
	}
	first, err := b.taken()
	if err != nil {
		return nil, err
	}
	out := [][]string{first}
	for _, g := range s.gestures {
		if err := b.do(g); err != nil {
			return out, fmt.Errorf("%s: %w", g, err)
		}
		lines, err := b.taken()
		if err != nil {
			return out, err
		}
		out = append(out, lines)
	}
	return out, nil
}

func (b browser) load(s *sample) error {
	var hears strings.Builder
	if s.moves {
		hears.WriteString("quiet.clear();\n")
	}
	for _, h := range s.hears {
		does, err := json.Marshal(h.does)
		if err != nil {
			return err
		}
		fmt.Fprintf(&hears, "hear(%q, %q, %s);\n", h.id, h.event, does)
	}
	page := "<!doctype html><meta charset=utf-8><style>body{margin:8px;min-height:600px}</style><script>" + judgeScript + "</script><body>" + s.markup + "<script>" + hears.String() + "document.currentScript.remove()</script>"
	// A press on the page before gives the focus of the window to the page, and the mouse is out of the way.
	if err := b.Perform(new(webdriver.Actions).MoveToPoint(1200, 600).Down(0).Up(0)); err != nil {
		return err
	}
	return b.Go(b.pages.add(page))
}

func (b browser) taken() (lines []string, err error) {
	err = b.RunAsync("taken(arguments[0])", &lines)
	return lines, err
}

func (b browser) element(id string) (webdriver.Element, error) {
	if id == "body" {
		list, err := b.Find("body")
		return list[0], err
	}
	list, err := b.Find("#" + id)
	if err == nil && len(list) == 0 {
		err = fmt.Errorf("there is no #%s", id)
	}
	if err != nil {
		return webdriver.Element{}, err
	}
	return list[0], nil
}

// do takes one gesture with a real mouse and a real keyboard.
func (b browser) do(g gesture) error {
	a := &webdriver.Actions{}
	if g.verb == "key" {
		return b.key(g.args[0])
	}
	if g.args[0] == "outside" {
		return b.Perform(a.MoveToPoint(600, 590).Down(0).Up(0))
	}
	el, err := b.element(g.args[0])
	if err != nil {
		return err
	}
	switch g.verb {
	case "press":
		return b.Perform(a.MoveTo(el, 0, 0).Down(0).Pause(frame).Up(0))
	case "double":
		return b.Perform(a.MoveTo(el, 0, 0).Down(0).Pause(frame).Up(0).Pause(frame).Down(0).Pause(frame).Up(0))
	case "right":
		return b.Perform(a.MoveTo(el, 0, 0).Down(webdriver.Secondary).Pause(frame).Up(webdriver.Secondary))
	case "hold":
		return b.Perform(a.MoveTo(el, 0, 0).Down(0))
	case "release":
		return b.Perform(a.MoveTo(el, 0, 0).Up(0))
	case "hover":
		return b.Perform(a.MoveTo(el, 0, 0))
	case "drag":
		to, err := b.element(g.args[1])
		if err != nil {
			return err
		}
		return b.Perform(a.MoveTo(el, 0, 0).Down(0).MoveTo(el, 6, 2).MoveTo(el, 9, 2).MoveTo(to, 0, 0).MoveTo(to, 1, 1).Up(0))
	case "focus":
		return b.Run("arguments[0].focus()", nil, el)
	case "blur":
		return b.Run("arguments[0].blur()", nil, el)
	case "script":
		return b.Run("acts[arguments[0]](null, null, ...arguments[1])", nil, g.args[1], append([]string{g.args[0]}, g.args[2:]...))
	case "type":
		if err := b.Run("const el = arguments[0]; el.focus(); if (document.activeElement === el && el.select) el.select();", nil, el); err != nil {
			return err
		}
		for _, r := range g.text {
			a.KeyDown(string(r)).KeyUp(string(r))
		}
		return b.Perform(a)
	case "choose":
		list, err := b.Find("#" + g.args[0] + " option[value='" + g.text + "']")
		if err != nil || len(list) == 0 {
			return fmt.Errorf("no option %s: %v", g.text, err)
		}
		return b.Click(list[0])
	}
	return fmt.Errorf("no gesture %s", g.verb)
}

// key presses a chord. What the key sets off is done before it is let go of, as with fingers.
func (b browser) key(chord string) error {
	down, up := &webdriver.Actions{}, &webdriver.Actions{}
	keys := strings.Split(chord, "+")
	for i := range keys {
		down.KeyDown(keyName(keys[i]))
		up.KeyUp(keyName(keys[len(keys)-1-i]))
	}
	if err := b.Perform(down); err != nil {
		return err
	}
	if err := b.RunAsync("rested(arguments[0])", nil); err != nil {
		return err
	}
	return b.Perform(up)
}

func keyName(k string) string {
	if k == "Space" {
		return " "
	}
	return k
}
