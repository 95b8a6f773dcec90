package form_test

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/form"
)

// TestFormless: what a form cannot follow has none, and the reason says what it is: nothing is claimed of it.
func TestFormless(t *testing.T) {
	for _, c := range []struct{ why, text string }{
		{"it has form controls of its own", `component kiln-boxes {
  shares value: boolean = false field
  view { button "On" { disabled <- disabled; click -> value = !value } }
}
component kiln-page { view { form { kiln-boxes { name <- "on" }; button "Send" } } }`},
		{"its styles hide parts of the page", `component kiln-page {
  holds away: boolean = false
  style { .away { display: none } }
  view { p { .away <- away; button "Away" { click -> away = true } } }
}`},
		{"it gathers instances", `component kiln-tab { takes title: string; offers title; view { p ` + "`${title}`" + ` } }
component kiln-page {
  gathers kiln-tab as tabs
  view { p ` + "`${tabs.length}`" + `; kiln-tab { title <- "a" } }
}`},
		{"the users of a context hear it", `context rack {
  holds n: number = 0
  emits full(n: number)
  action add() { n += 1; emit full(n) }
}
component rack-part {
  holds said: number = 0
  uses rack { full(n) -> said = n }
  view { button ` + "`Add ${said}`" + ` { click -> rack.add } }
}
component kiln-page { supplies rack; view { rack-part } }`},
		{"it asks an instance that may not be there", `context rack { holds n: number = 0 }
component rack-part { uses rack? as near; view { p ` + "`${near?.n ?? 0}`" + ` } }
component kiln-page { view { rack-part } }`},
		{"it calls what is not known", `component kiln-door {
  holds open: boolean = false
  offers toggle() { open = !open }
  view { p ` + "`${open}`" + ` }
}
component kiln-page {
  holds shown: boolean = true
  view {
    when shown { kiln-door named door }
    button "Toggle" { click -> door?.toggle() }
    button "Show" { click -> shown = !shown }
  }
}`},
		{"a taken value is read after a change, in a place that may be gone then", `component kiln-row {
  takes n: number
  emits close()
  emits told(n: number)
  view { button "Go" { click -> { emit close(); emit told(n) } } }
}
component kiln-page {
  holds n: number = 1
  holds shown: boolean = true
  view {
    when shown { kiln-row { n <- n; close -> { shown = false; n = 2 }; told(x) -> n = x } }
    p ` + "`${n}`" + `
  }
}`},
		{"it returns out of a loop", `component kiln-page {
  holds n: number = 0
  view {
    button "Go" { click -> { for (x of [1, 2]) { if (n > 1) return; n += x } } }
    p ` + "`${n}`" + `
  }
}`},
		{"setting a derived value goes several ways", `component kiln-page {
  holds a: number = 0
  holds b: number = 0
  derives sum = a + b set v { if (v > 2) { a = v } else { b = v } }
  view {
    button "Set" { click -> sum = 3 }
    p ` + "`${a} ${b} ${sum}`" + `
  }
}`},
		{"it is tied to a derived value", `component kiln-page {
  holds a: boolean = false
  derives off = !a set v { a = !v }
  view {
    input { type <- "checkbox"; aria-label <- "Off"; checked <-> off }
    p ` + "`${a}`" + `
  }
}`},
	} {
		d := parse(t, c.text+"\nstart kiln-page\n")
		if why := form.Alike(d, d, d.Starts[0], d.Starts[0]); !strings.Contains(why, c.why) {
			t.Errorf("it is formless for another reason: %q, want %q\n%s", why, c.why, c.text)
		}
	}
}

// TestAcross: starts of one design are told apart by what they are given, and one is like itself.
func TestAcross(t *testing.T) {
	d := parse(t, `component kiln-page {
  takes label: string = "Kiln"
  holds heat: number = 20
  view { button `+"`${label} ${heat}`"+` { click -> heat += 10 } }
}
start kiln-page
start "hot" kiln-page { heat = 900 }
start "named" kiln-page { label <- "Oven" }
start "as it is" kiln-page { label <- "Kiln"; heat = 20 }
`)
	for i, a := range d.Starts {
		for k, b := range d.Starts {
			alike := form.Alike(d, d, a, b) == ""
			if want := i == k || i+k == 3 && i*k == 0; alike != want {
				t.Errorf("%q and %q: alike %v, want %v", a.Name, b.Name, alike, want)
			}
		}
	}
}

// TestTooLarge: a page of components that use one another many times over has no form, and does not take for ever.
func TestTooLarge(t *testing.T) {
	var out strings.Builder
	for i := range 20 {
		next := "p \"end\""
		if i > 0 {
			next = strings.Repeat("deep-part-"+string(rune('a'+i-1))+"; ", 3)
		}
		out.WriteString("component deep-part-" + string(rune('a'+i)) + " { view { " + next + " } }\n")
	}
	out.WriteString("component kiln-page { view { deep-part-t } }\nstart kiln-page\n")
	d := design.Parse("kiln.lien", out.String())
	if why := form.Alike(d, d, d.Starts[0], d.Starts[0]); why != "it is too large" {
		t.Errorf("%q", why)
	}
}
