package web

import (
	"context"
	"errors"
	"flag"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"lien/core/drive/webdriver"
	"lien/core/engine"
	"lien/core/page"
)

var judge = flag.Bool("judge", false, "take many more steps on built pages; a browser must be there")

var mouse page.Mouse // pressed without any key

// idle are the browsers that no test uses: to start one takes longer than most tests.
var idle struct {
	sync.Mutex
	list []*Browser
}

func TestMain(m *testing.M) {
	code := m.Run()
	for _, b := range idle.list {
		b.Close()
	}
	os.Exit(code)
}

// openBrowser gives a browser that shows nothing, or skips the test where there is none. When the test is over another
// one may use it.
func openBrowser(t *testing.T) *Browser {
	t.Helper()
	b, err := anyBrowser()
	if errors.Is(err, webdriver.ErrNoDriver) && !*judge {
		t.Skip(err)
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if t.Failed() || !b.cleared() {
			b.Close()
			return
		}
		idle.Lock()
		defer idle.Unlock()
		idle.list = append(idle.list, b)
	})
	return b
}

// cleared lets a browser show nothing, and says whether it is as it was at first: Tab may have left its page.
func (b *Browser) cleared() bool {
	b.Minified = false
	focused := false
	return b.session.LetGo() == nil && b.session.Go("about:blank") == nil && b.session.Run("return document.hasFocus()", &focused) == nil && focused
}

func anyBrowser() (*Browser, error) {
	idle.Lock()
	defer idle.Unlock()
	if last := len(idle.list) - 1; last >= 0 {
		b := idle.list[last]
		idle.list = idle.list[:last]
		return b, nil
	}
	return OpenBrowser(context.Background())
}

// more is how many times as many steps the walks of -judge take.
var more = flag.Int("more", 1, "with -judge: so many times as many steps are taken")

// inWindows does jobs in several browsers side by side, as most of the time is spent waiting until one draws. It sums up
// what they give.
func inWindows(t *testing.T, jobs int, do func(b *Browser, job int) int) int {
	t.Helper()
	todo := make(chan int)
	var sum atomic.Int64
	var wait sync.WaitGroup
	windows := 1
	if *judge {
		windows = 3
	}
	for range windows {
		b := openBrowser(t)
		wait.Go(func() {
			for job := range todo {
				if !t.Failed() {
					sum.Add(int64(do(b, job)))
				}
			}
		})
	}
	for job := range jobs {
		todo <- job
	}
	close(todo)
	wait.Wait()
	return int(sum.Load())
}

// begin shows the page of the first start of a design, on the engine and in the browser.
func begin(t *testing.T, b *Browser, text string) *Pair {
	t.Helper()
	d := parse(t, text)
	e := engine.New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	p, err := b.Beside(d, e, d.Starts[0])
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// elements are those that the design writes, on the engine.
func (p *Pair) elements() []*page.Element { return elements(p.e.DOM()) }

// button is the one of a name.
func (p *Pair) button(t *testing.T, name string) *page.Element {
	t.Helper()
	for _, el := range p.elements() {
		if el.Tag() == "button" && p.e.Name(engine.ElementOf(el)) == name {
			return el
		}
	}
	t.Fatalf("there is no button %q", name)
	return nil
}

// output is the text of the output of the page.
func (p *Pair) output(t *testing.T) string {
	t.Helper()
	for _, el := range p.elements() {
		if el.Tag() == "output" {
			return el.Children()[0].Text
		}
	}
	t.Fatal("there is no output")
	return ""
}

// TestTold: a page that is not the engine's is told, with the line that differs.
func TestTold(t *testing.T) {
	t.Parallel()
	b := openBrowser(t)
	const text = "component kiln-page {\n  holds n: number = 1\n  view { button `Heat ${n}` { title <- \"Kiln\"; click -> n += 1 } }\n}\nstart kiln-page\n"
	for _, c := range []struct{ program, want string }{
		{"document.querySelector('button').firstChild.data = 'Heat 7'", `"Heat 7"`},
		{"document.querySelector('button').title = 'Oven'", `title="Oven"`},
		{"document.querySelector('button').remove()", "nothing"},
		{"document.querySelector('button').className = 'hot'", `class="hot"`},
		{"document.querySelector('button').focus()", "focused"},
		{"document.querySelector('kiln-page').append(document.createElement('hr'))", "hr"},
	} {
		p := begin(t, b, text)
		if err := b.session.Run(c.program, nil); err != nil {
			t.Fatal(err)
		}
		if err := p.same(); err == nil || !containsAll(err.Error(), c.want, "in the browser", "on the engine") {
			t.Errorf("%s: %v", c.program, err)
		}
	}
}

// TestEditedInPlace: what a browser makes of what is edited in place is nobody's element.
func TestEditedInPlace(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), "component kiln-page {\n  holds n: number = 1\n  view { div { contenteditable <- true; role <- \"textbox\"; aria-label <- \"Note\" }; button \"Heat\" { click -> n += 1 }; output `${n}` }\n}\nstart kiln-page\n")
	for _, text := range []string{"ash", ""} { // an empty line is left
		if err := p.Type(p.elements()[0], text); err != nil {
			t.Error(err)
		}
	}
	if err := p.Press(p.button(t, "Heat"), mouse); err != nil || p.output(t) != "2" {
		t.Errorf("it is %s, %v", p.output(t), err)
	}
}

func containsAll(text string, parts ...string) bool {
	for _, p := range parts {
		if !strings.Contains(text, p) {
			return false
		}
	}
	return true
}
