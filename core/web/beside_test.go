package web

import (
	"context"
	"errors"
	"flag"
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

// openBrowser starts a browser, or skips the test where there is none.
func openBrowser(t *testing.T) *Browser {
	t.Helper()
	b, err := OpenBrowser(context.Background())
	if errors.Is(err, webdriver.ErrNoDriver) && !*judge {
		t.Skip(err)
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(b.Close)
	return b
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

// TestTold: a page that is not the engine's is told, with the line that differs.
func TestTold(t *testing.T) {
	t.Parallel()
	b := openBrowser(t)
	const text = "component kiln-page {\n  holds n: number = 1\n  view { button `Heat ${n}` { title <- \"Kiln\"; click -> n += 1 } }\n}\nstart kiln-page\n"
	d := parse(t, text)
	for _, c := range []struct{ program, want string }{
		{"document.querySelector('button').firstChild.data = 'Heat 7'", `"Heat 7"`},
		{"document.querySelector('button').title = 'Oven'", `title="Oven"`},
		{"document.querySelector('button').remove()", "nothing"},
		{"document.querySelector('button').className = 'hot'", `class="hot"`},
		{"document.querySelector('button').focus()", "focused"},
		{"document.querySelector('kiln-page').append(document.createElement('hr'))", "hr"},
	} {
		e := engine.New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			t.Fatal(err)
		}
		p, err := b.Beside(d, e, d.Starts[0])
		if err != nil {
			t.Fatal(err)
		}
		if err := b.session.Run(c.program, nil); err != nil {
			t.Fatal(err)
		}
		if err := p.same(); err == nil || !containsAll(err.Error(), c.want, "in the browser", "on the engine") {
			t.Errorf("%s: %v", c.program, err)
		}
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
