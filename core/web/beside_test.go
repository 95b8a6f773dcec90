package web

import (
	"context"
	"errors"
	"flag"
	"strings"
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
