package web

import (
	"testing"

	"lien/core/engine"
)

// hostile puts a text that would run into every place that takes one.
const hostile = `type Row = { id: string, __proto__: string, constructor: string }

const evil = "</script><img src=x onerror=\"window.hit = 1\"><!-- <script>window.hit = 2</script>"
const address = "java\tscript:window.hit = 3"
const rows: Row[] = [{ id: "a'\"` + "`" + `$\u{2028}", __proto__: "b", constructor: "c" }, { id: "__proto__", __proto__: "d", constructor: "toString" }]

style {
  .said::after { content: "</style><script>window.hit = 4</script><img src=x onerror='window.hit = 5'>" }
  /* </style><script>window.hit = 6</script> */
}

component evil-card {
  takes row: Row
  emits pick(id: string)
  style { button::before { content: "</STYLE ><svg onload='window.hit = 7'>" } }
  view { button ` + "`Pick ${row.constructor} ${row.__proto__}`" + ` { title <- row.id; click -> emit pick(row.id) } }
}

component evil-page {
  holds text: string = evil
  holds link: string = address
  holds picked: string = ""
  holds shown: boolean = false

  view {
    p.said ` + "`${text}`" + `
    a "Away" { href <- link }
    a ` + "`${link}`" + ` { href <- ` + "`\\u{1}${link.trim()}`" + `; title <- text }
    a "There" { HREF <- link }
    svg { a { href <- link } }
    iframe { aria-label <- "Frame"; srcDoc <- text; src <- link }
    form { aria-label <- "Sent"; action <- link; button "Send" { formaction <- link } }
    p { class <- text; id <- text; aria-label <- text }
    input { aria-label <- "Text"; value <-> text }
    textarea { aria-label <- "More"; value <-> text }
    each r in rows by r.id { evil-card { row <- r; pick(id) -> picked = id } }
    button "Show" { click -> shown = !shown }
    when shown { p ` + "`</script>${text}`" + ` }
    output ` + "`${picked}`" + `
  }
}

start evil-page
`

// TestHostile: texts in every place that takes one run nothing, in modules and in one file, and the page is the
// engine's.
func TestHostile(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	d := parse(t, hostile)
	b := openBrowser(t)
	ways := []Options{{OneFile: true, Minify: true}}
	if *judge {
		ways = append(ways, Options{}, Options{Minify: true}, Options{OneFile: true})
	}
	for _, o := range ways {
		o.Start = d.Starts[0]
		e := engine.New(d)
		if _, err := e.Mount(o.Start); err != nil {
			t.Fatal(err)
		}
		p, err := b.pairOf(d, e, o, "href", "HREF", "src", "srcDoc", "action", "formaction") // which the page leaves out
		if err != nil {
			t.Fatalf("%+v: %v", o, err)
		}
		for _, el := range elements(e.DOM()) {
			if el.Tag() != "button" {
				continue
			}
			if err := p.Press(el, mouse); err != nil {
				t.Fatalf("%+v: %v", o, err)
			}
		}
		var hit any
		if err := b.session.Run("return window.hit ?? null", &hit); err != nil || hit != nil {
			t.Errorf("%+v: %v ran, %v", o, hit, err)
		}
		var kept []string
		if err := b.session.Run(`return [...document.querySelectorAll("a, iframe, form, button")].flatMap(el => [...el.attributes].map(a => a.name))
			.filter(name => /^(href|src|srcdoc|action|formaction)$/i.test(name))`, &kept); err != nil || len(kept) > 0 {
			t.Errorf("%+v: these attributes have been kept: %q, %v", o, kept, err)
		}
	}
}
