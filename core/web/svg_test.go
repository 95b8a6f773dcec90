package web

import "testing"

// TestClassesInSVG: elements of SVG have the classes that the design gives them.
func TestClassesInSVG(t *testing.T) {
	t.Parallel()
	p := begin(t, openBrowser(t), `component kiln-page {
  holds hot: boolean = false
  holds kind: string = "tall"
  view {
    button "Heat" { click -> { hot = !hot; kind = "low wide" } }
    svg.kiln {
      .hot <- hot
      rect.wall { class <- kind; .hot <- hot }
    }
    output `+"`${hot}`"+`
  }
}
start kiln-page
`)
	for _, want := range []string{"true", "false", "true"} {
		if err := p.Press(p.button(t, "Heat"), mouse); err != nil { // which compares the classes, too
			t.Fatal(err)
		}
		if is := p.output(t); is != want {
			t.Errorf("it is %s, want %s", is, want)
		}
	}
}
