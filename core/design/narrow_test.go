package design_test

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/finding"
)

// TestNarrowing: where what a test has shown still holds in statements, and
// where it does not any more.
func TestNarrowing(t *testing.T) {
	for _, c := range []struct {
		name  string
		body  string
		fails bool
	}{
		{"without a test", `log w.id`, true},
		{"in a branch", `if (w != null) log w.id`, false},
		{"in the other branch", `if (w == null) { log "none" } else { log w.id }`, false},
		{"in the wrong branch", `if (w == null) log w.id`, true},
		{"after an early return", `if (w == null) return; log w.id`, false},
		{"after a return in a block", `if (w == null) { log "x"; return }; log w.id`, false},
		{"after a test that goes on", `if (w == null) log "none"; log w.id`, true},
		{"with and", `if (w != null && n > 1) log w.id`, false},
		{"with or", `if (w != null || n > 1) log w.id`, true},
		{"after a test of both", `if (w == null || n > 1) return; log w.id`, false},
		{"after writing it", `if (w == null) return; w = null; log w.id`, true},
		{"after writing a value", `w = { id: "a" }; log w.id`, false},
		{"after writing another cell", `if (w == null) return; n = 2; log w.id`, false},
		{"after calling an action", `if (w == null) return; act(); log w.id`, true},
		{"after a report", `if (w == null) return; emit done(); log w.id`, true},
		{"after calling what was taken", `if (w == null) return; tell(); log w.id`, true},
		{"after a pure call", `if (w == null) return; const m = twice(n); log w.id, m`, false},
		{"after a message", `if (w == null) return; send news(); log w.id`, true},
		{"a constant after a call", `const c = w; if (c == null) return; act(); log c.id`, false},
		{"a taken value", `if (t == null) return; log t.id`, false},
		{"a taken value after a write", `if (t == null) return; n = 2; log t.id`, true},
		{"a derived value", `if (d == null) return; log d.id`, false},
		{"a derived value after a write", `if (d == null) return; n = 2; log d.id`, true},
		{"a path", `if (w?.note == null) return; log w.note.length`, false},
		{"a path after writing it", `if (w?.note == null) return; w.note = null; log w.note.length`, true},
		{"a path after writing beside it", `if (w?.note == null) return; w.id = "b"; log w.note.length`, false},
		{"in a loop that changes it", `if (w == null) return; for (x of [1, 2]) { log w.id; w = null }`, true},
		{"in a loop that leaves it", `if (w == null) return; for (x of [1, 2]) { log w.id, x }`, false},
		{"after a branch that changes it", `if (w == null) return; if (n > 1) w = null; log w.id`, true},
		{"after a branch that gives it", `if (w == null) { w = { id: "a" } }; log w.id`, true},
		{"in the outcome of a question", `if (w == null) return; ask book.load() { got -> log w.id }`, true},
		{"a constant in the outcome", `const c = w; if (c == null) return; ask book.load() { got -> log c.id }`, false},
	} {
		d := design.Parse("test.lien", `type W = { id: string, note?: string }
channel news()
service book { load() }
component a-b {
  takes t: W?
  takes tell: () => void
  holds w: W? = null
  holds n: number = 1
  emits done()
  derives d = n > 1 ? w : null
  derives twice(x: number) = x * 2
  action act() { w = null }
  action test() { `+c.body+` }
  view { button "x" { click -> test } }
}
`)
		var said []string
		for _, f := range d.Findings {
			if f.Level == finding.Error {
				said = append(said, f.Rule+": "+f.Message)
			}
		}
		text := strings.Join(said, "\n")
		if (len(said) > 0) != c.fails || c.fails && !strings.HasPrefix(text, "may-be-null") {
			t.Errorf("%s: %s\n%s", c.name, c.body, text)
		}
	}
}

// TestNarrowingInViews: a when narrows what stands in it, and DOM handlers
// there; the handlers of components start without.
func TestNarrowingInViews(t *testing.T) {
	for _, c := range []struct {
		name  string
		view  string
		fails bool
	}{
		{"a text", "p `${w.id}`", true},
		{"a text in a when", "when w != null { p `${w.id}` }", false},
		{"a text in an else", "when w == null { p \"none\" } else { p `${w.id}` }", false},
		{"a text in an else when", "when w == null { p \"none\" } else when w.id == \"a\" { p \"a\" }", false},
		{"in a list in a when", "when w != null { each x in [1] by x { p `${w.id}` } }", false},
		{"a DOM handler", "when w != null { button \"b\" { click -> log w.id } }", false},
		{"a DOM handler that writes first", "when w != null { button \"b\" { click -> { w = null; log w.id } } }", true},
		{"a component's handler", "when w != null { c-d { done -> log w.id } }", true},
		{"a link to a component", "when w != null { c-d { id <- w.id } }", false},
		{"an item", "each x in list { p `${x.note}` }", true},
		{"an item in a when", "each x in list { when x.note != null { p `${x.note}` } }", false},
		{"a filtered list", "each x in list.map(y => y.note).filter(z => z != null) { p `${x}` }", false},
		{"content of a component", "when w != null { c-d { p `${w.id}` } }", false},
	} {
		d := design.Parse("test.lien", `type W = { id: string, note?: string }
component c-d {
  takes id: string = ""
  emits done()
  view { button `+"`${id}`"+` { click -> emit done() }; slot }
}
component a-b {
  holds w: W? = null
  holds list: W[] = []
  view { `+c.view+` }
}
`)
		if d.Failed() != c.fails {
			t.Errorf("%s: %v", c.name, messages(d))
		}
	}
}
