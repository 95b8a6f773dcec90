package web

import (
	"errors"
	"testing"

	"lien/core/engine"
	"lien/core/page"
)

// failing are turns that fail when they have changed the page, by pressing the last control; and what spoils the page where
// they put nothing back.
var failing = []struct{ name, text, spoils string }{
	{"a check box whose link changed", `component kiln-again {
  emits back()
  on mount { emit back() }
  view { p "again" }
}

component kiln-page {
  holds open: boolean = false
  holds k: number = 0
  style { .lit ~ input { visibility: hidden } }
  view {
    output ` + "`${k}`" + ` { .lit <- open }
    when k > 0 && k % 2 == 1 { kiln-again { back() -> k += 1 } }
    when k > 0 && k % 2 == 0 { kiln-again { back() -> k += 1 } }
    input { type <- "checkbox"; aria-label <- "Open"; checked <- open; change -> { open = !open; k = 1 } }
  }
}
start kiln-page
`, "document.querySelector('output').className = 'hot'"},
	{"values of a form that feed on themselves", `component kiln-page {
  holds grows: boolean = false
  view {
    form named sheet {
      aria-label <- "Firing"
      input { name <- "note"; aria-label <- "Note"; value <- grows ? ` + "`${sheet.values.note}x`" + ` : "a" }
      output ` + "`${sheet.values.note}`" + ` { .lit <- grows }
    }
    button "Grow" { click -> grows = !grows }
  }
}
start kiln-page
`, "document.querySelector('kiln-page').append(document.createElement('hr'))"},
}

// TestFailedTurns: a turn that fails when the page has changed leaves it as the engine does, also what its user did to it.
func TestFailedTurns(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	b := openBrowser(t)
	for _, c := range failing {
		p := begin(t, b, c.text)
		last := func() *page.Element {
			list := p.elements()
			return list[len(list)-1]
		}
		for range 3 {
			if err := p.Press(last(), mouse); !onlyFailed(err) {
				t.Errorf("%s: want a turn that fails, and no more: %v", c.name, err)
			}
		}
		if err := b.session.Run(c.spoils, nil); err != nil {
			t.Fatal(err)
		}
		if err := p.Press(last(), mouse); failure(err) == nil || !containsAll(err.Error(), "in the browser, and", "on the engine") {
			t.Errorf("%s: want a turn that fails, and what the page has not: %v", c.name, err)
		}
	}
}

// failure is the failed turn of an error, or nil.
func failure(err error) *engine.Failure {
	var f *engine.Failure
	errors.As(err, &f)
	return f
}

// onlyFailed says whether a turn failed, and left both pages alike.
func onlyFailed(err error) bool { return failure(err) != nil && err.Error() == failure(err).Error() }

// TestAfterAnInputThatFailed: a browser reports a change, for which the field goes back to what it is tied to; the engine
// ends there. That is no difference, and what it does to others is.
func TestAfterAnInputThatFailed(t *testing.T) {
	t.Parallel()
	b := openBrowser(t)
	for _, c := range []struct {
		spoils string
		alike  bool
	}{
		{"", true},
		{"document.querySelector('input').checked = false", false},
		{"document.querySelector('output').className = 'hot'", false},
	} {
		p := begin(t, b, `component kiln-page {
  holds open: boolean = false
  holds times: number = 0
  follows open { log [1].at(1 / times) }
  view {
    output `+"`${times}`"+` { .lit <- open }
    input { type <- "checkbox"; aria-label <- "Other"; checked <- !open }
    input { type <- "checkbox"; aria-label <- "Open"; checked <-> open }
    button "More" { click -> times += 1 }
  }
}
start kiln-page
`)
		if err := b.session.Run(c.spoils, nil); err != nil {
			t.Fatal(err)
		}
		field := p.elements()[2]
		if err := p.Press(field, mouse); failure(err) == nil || onlyFailed(err) != c.alike {
			t.Errorf("%q: the pages are alike: want %v: %v", c.spoils, c.alike, err)
		}
		if err := p.same(); err == nil || !field.Live().Checked {
			t.Errorf("%q: the field went back on the engine, or stayed in the browser: %v", c.spoils, err)
		}
	}
}

// TestWhatUsersDidStays: what a user did in a turn that failed stays, as long as nothing that its element shows is another.
func TestWhatUsersDidStays(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds lit: boolean = false
  view {
    input { type <- "checkbox"; aria-label <- "Open"; .lit <- lit; checked <- false; change -> log [1].at(1 / 0) }
    button "There and back" { click -> { lit = !lit; lit = !lit } }
    button "There" { click -> lit = !lit }
  }
}
start kiln-page
`)
	field := p.elements()[0]
	for n, want := range []bool{true, true, false} {
		if err := p.Press(p.elements()[n], mouse); err != nil && (n > 0 || !onlyFailed(err)) {
			t.Error(err)
		}
		if is := field.Live().Checked; is != want {
			t.Errorf("after press %d it is %v, want %v", n, is, want)
		}
	}
}

// TestTouched: a field is touched when it was changed or left, before anybody hears of that, and also where a turn fails
// that comes of it.
func TestTouched(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds seen: string = ""
  holds times: number = 0
  derives touched = sheet.touched
  follows touched { times += 1 }
  view {
    form named sheet {
      aria-label <- "Firing"
      submit -> log [1].at(1 / 0)
      input { name <- "note"; aria-label <- "Note"; blur -> seen = `+"`${seen} blur ${sheet.touched} ${times}`"+`; focusout -> seen = `+"`${seen} out ${times}`"+` }
      input { name <- "kg"; aria-label <- "Kg"; change -> log [1].at(1 / 0) }
      input { name <- "rack"; aria-label <- "Rack" }
    }
    button "Reset" { click -> { sheet.reset(); seen = "" } }
    output `+"`${sheet.touched}, ${times} times,${seen}`"+`
  }
}
start kiln-page
`)
	list := p.elements()
	note, kg, rack := list[1], list[2], list[3]
	again := func() error { return p.Press(p.button(t, "Reset"), mouse) }
	for _, c := range []struct {
		name, want string
		do         func() error
	}{
		{"into a field", "false, 0 times,", func() error { return p.FocusOn(note) }},
		{"out of it", "true, 1 times, blur true 0 out 1", func() error { return p.FocusOn(rack) }},
		{"as it was first", "false, 2 times,", again},
		{"out of one that hears nothing", "false, 2 times,", func() error { return p.FocusOn(rack) }},
		{"to another one", "true, 3 times,", func() error { return p.FocusOn(note) }},
		{"as it was first", "false, 4 times,", again},
		{"changed, in a turn that fails", "true, 4 times,", func() error { return p.Put(kg, "7") }},
		{"as it was first", "false, 4 times,", again},
		{"into another one", "false, 4 times,", func() error { return p.FocusOn(note) }},
		{"out of it, before a turn that fails", "true, 5 times, blur true 4 out 5", func() error { return p.Key(rack, "Enter") }},
	} {
		if err := c.do(); err != nil && !onlyFailed(err) {
			t.Errorf("%s: %v", c.name, err)
		}
		if is := p.output(t); is != c.want {
			t.Errorf("%s: it is %q, want %q", c.name, is, c.want)
		}
	}
}

// TestLeftUnheard: that a field was left is followed before the next one has the focus, also where nobody hears it.
func TestLeftUnheard(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds times: number = 0
  holds seen: string = ""
  derives touched = sheet.touched
  follows touched { times += 1 }
  view {
    form named sheet {
      aria-label <- "Firing"
      input { name <- "note"; aria-label <- "Note" }
      input { name <- "kg"; aria-label <- "Kg"; focus -> seen = `+"`${times}`"+` }
    }
    output `+"`seen ${seen}`"+`
  }
}
start kiln-page
`)
	for _, n := range []int{1, 2} {
		if err := p.FocusOn(p.elements()[n]); err != nil {
			t.Error(err)
		}
	}
	if is := p.output(t); is != "seen 1" {
		t.Errorf("it is %q", is)
	}
}

// TestWhatDoesNotBubble: it is heard where it is raised, and not around that.
func TestWhatDoesNotBubble(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds heard: string = ""
  view {
    div {
      focus   -> heard = `+"`${heard} focus around`"+`
      focusin -> heard = `+"`${heard} focusin around`"+`
      button "Fire" { focus -> heard = `+"`${heard} focus`"+` }
    }
    output `+"`heard${heard}`"+`
  }
}
start kiln-page
`)
	if err := p.FocusOn(p.button(t, "Fire")); err != nil {
		t.Error(err)
	}
	if is := p.output(t); is != "heard focus focusin around" {
		t.Errorf("it is %q", is)
	}
}
