package reach

import (
	"strings"
	"testing"

	"lien/core/css"
	"lien/core/design"
)

const shelf = `component ware-row {
  takes full: boolean
  view {
    li.row {
      .full <- full
      b.name "Bowl"
      slot
    }
  }
}

component plain-part {
  view { ware-row { full <- true } }
}

component two-part {
  view {
    i "one"
    u "two"
  }
}

component shelf-page {
  holds full: boolean = false
  holds kind: string = "tall"
  view {
    main.page {
      button "Fill" { click -> full = !full; aria-pressed <- full; type <- "button" }
      ware-row.first {
        .late <- full
        full <- full
        em.note "given"
        when full { p { class <- "a b" } } else { p { class <- kind } }
      }
      plain-part.plain
      two-part
      each n in [1, 2] by n { span "x" }
      details { summary "More"; p "less" }
      input { type <- "checkbox"; checked <-> full }
    }
  }
}

start shelf-page
`

func parse(t *testing.T, text string) *design.Design {
	t.Helper()
	d := design.Parse("shelf.lien", text)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	return d
}

// best is how a selector of a component fits the element that it fits best.
func best(t *testing.T, d *design.Design, component, selector string) (best css.Truth) {
	t.Helper()
	sheet, problems := css.Parse(selector + " {}")
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	for _, el := range By(d.Component(component)) {
		best = max(best, sheet.Items[0].Selectors[0].Matches(el, component))
	}
	return best
}

// TestBy: what a component's selectors can reach, and for sure do.
func TestBy(t *testing.T) {
	d := parse(t, shelf)
	for _, c := range []struct {
		component, selector string
		want                css.Truth
	}{
		{"shelf-page", ".page", css.Yes}, {"shelf-page", "main > button", css.Yes}, {"shelf-page", "button > main", css.No},
		{"shelf-page", ".first", css.Yes}, {"shelf-page", ".first.row", css.Yes}, {"shelf-page", ".late", css.Maybe}, {"shelf-page", ".full", css.Maybe},
		{"shelf-page", ".plain", css.Yes}, {"shelf-page", "li.plain", css.Yes}, {"shelf-page", "b.name", css.No}, {"shelf-page", "i", css.No},
		{"shelf-page", ".page > .late", css.Maybe}, {"shelf-page", ".note", css.Yes}, {"shelf-page", ".first .note", css.Yes}, {"shelf-page", ".first > .note", css.Maybe}, {"shelf-page", ".page > .note", css.No},
		{"shelf-page", ".a.b", css.Yes}, {"shelf-page", ".c", css.Maybe}, {"shelf-page", "p.tall", css.Maybe},
		{"shelf-page", "[aria-pressed]", css.Maybe}, {"shelf-page", "[aria-pressed=true]", css.Maybe}, {"shelf-page", "[type=button]", css.Yes}, {"shelf-page", "[type=submit]", css.No},
		{"shelf-page", "[title]", css.No}, {"shelf-page", "[checked]", css.Maybe}, {"shelf-page", "details[open]", css.Maybe}, {"shelf-page", "p[open]", css.No},
		{"shelf-page", "button + li", css.Maybe}, {"shelf-page", "button:hover", css.Maybe}, {"shelf-page", "main:root", css.No}, {"shelf-page", "main:has(.note)", css.Maybe},
		{"shelf-page", "span:first-child", css.Maybe}, {"shelf-page", "span:not(.x)", css.Yes}, {"shelf-page", "button:not(button)", css.No}, {"shelf-page", "main:is(.page, .x)", css.Yes},
		{"ware-row", ".row", css.Yes}, {"ware-row", ".row.full", css.Maybe}, {"ware-row", ".row .name", css.Yes}, {"ware-row", ".note", css.No}, {"ware-row", ".first", css.No},
	} {
		if got := best(t, d, c.component, c.selector); got != c.want {
			t.Errorf("%s in %s: %d, want %d", c.selector, c.component, got, c.want)
		}
	}
}

// TestAtTop: what stands at the top of what is given, through branches, lists and components that are used there.
func TestAtTop(t *testing.T) {
	d := parse(t, shelf)
	var given []string
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			for _, f := range u.Fills {
				for _, el := range AtTop(f.Body, 0) {
					if !el.In("ware-row") || el.Of("shelf-page") {
						t.Error("what is given is not told from what is written")
					}
					given = append(given, el.Tag())
				}
			}
		}
	}}.Nodes(d.Component("shelf-page").View)
	if got := strings.Join(given, " "); got != "em p p" {
		t.Errorf("given are %s", got)
	}
	var top []string
	for _, el := range AtTop(d.Component("plain-part").View, 0) {
		top = append(top, el.Tag())
	}
	if got := strings.Join(top, " "); got != "li" {
		t.Errorf("at the top stand %s", got)
	}
}
