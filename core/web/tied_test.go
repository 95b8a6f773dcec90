package web

import (
	"testing"

	"lien/core/page"
)

// TestTied: what is typed is taken over where the cell can hold it, and only there.
func TestTied(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	const text = `component kiln-page {
  holds kg: number = 2
  holds shelf: number? = 3
  holds glaze: "ash" | "tin" = "ash"

  view {
    input { type <- "number"; aria-label <- "Weight"; value <-> kg }
    input { type <- "number"; aria-label <- "Shelf"; value <-> shelf }
    select { aria-label <- "Glaze"; value <-> glaze; each g in ["ash", "tin", "lead"] { option ` + "`${g}`" + ` { value <- g } } }
    output ` + "`${kg} ${shelf ?? \"none\"} ${glaze}`" + `
  }
}
start kiln-page
`
	p := begin(t, openBrowser(t), text)
	field := func(n int) *page.Element { return p.elements()[n] }
	typed := func(n int, text string) error { return p.Type(field(n), text) }
	choose := func(text string) error { return p.Choose(field(2), p.options(field(2), text)...) }
	for _, c := range []struct {
		name, want string
		do         func() error
	}{
		{"a number", "7.5 3 ash", func() error { return typed(0, "7.5") }},
		{"no number", "7.5 3 ash", func() error { return typed(0, "") }},
		{"another number", "7.5 1 ash", func() error { return typed(1, "1") }},
		{"no number, which may be", "7.5 none ash", func() error { return typed(1, "") }},
		{"a glaze", "7.5 none tin", func() error { return choose("tin") }},
		{"no glaze", "7.5 none tin", func() error { return choose("lead") }},
	} {
		if err := c.do(); err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		if out := p.output(t); out != c.want {
			t.Errorf("%s: the page shows %q, want %q", c.name, out, c.want)
		}
	}
}

// TestFieldsInTurns: until a turn refreshes the page, a form goes by what its fields were before.
func TestFieldsInTurns(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds off: boolean = false
  holds was: string = ""
  view {
    form named sheet {
      aria-label <- "Firing"
      input { name <- "note"; aria-label <- "Note"; disabled <- off }
    }
    output `+"`${was}`"+`
    button "Lock" { click -> { off = !off; was = sheet.values.note ?? "none" } }
  }
}
start kiln-page
`)
	if err := p.Type(p.elements()[1], "ash"); err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"ash", "none", "ash"} {
		if err := p.Press(p.button(t, "Lock"), mouse); err != nil {
			t.Fatal(err)
		}
		if is := p.output(t); is != want {
			t.Errorf("it was %q, want %q", is, want)
		}
	}
}
