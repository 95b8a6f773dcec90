package web

import "testing"

// lists is a page whose list keeps its length, whatever becomes of its items.
const lists = `type Ware = { id: number, fired: number }

component kiln-page {
  holds wares: Ware[] = [{ id: 1, fired: 0 }, { id: 2, fired: 0 }, { id: 3, fired: 0 }]
  derives many = wares.length

  view {
    each w in wares by w.id {
      button ` + "`Fire ${w.id}`" + ` { click -> w.fired += 1 }
      output ` + "`${w.id}: ${w.fired}`" + `
    }
    button "Away and back" {
      click -> {
        const was = wares
        wares = []
        log many // which tells the items that they are gone
        wares = was
      }
    }
    button "Turn" { click -> wares = wares.toReversed() }
    button "Other" { click -> wares = wares.map(w => ({ ...w, id: w.id + 10 })) }
  }
}
start kiln-page
`

// TestLists: items that come back in the turn in which they go, change places or are others are shown as the engine shows
// them, and are heard.
func TestLists(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	p := begin(t, openBrowser(t), lists)
	for _, name := range []string{"Away and back", "Fire 1", "Turn", "Fire 3", "Other", "Fire 11", "Away and back", "Fire 12"} {
		if err := p.Press(p.button(t, name), mouse); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
	}
}
