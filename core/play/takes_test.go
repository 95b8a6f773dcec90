package play

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
)

// taking is a page with a control of every kind, and a part that takes values of
// every type.
const taking = `type Ware = { id: string, kg: number, note?: string, shelf: "top" | "low", tags: string[], of: Ware? }
component ware-part {
  takes text: string
  takes size: number
  takes on: boolean
  takes shelf: "top" | "low"
  takes ware: Ware
  takes wares: Ware[]
  takes maybe: Ware?
  takes extra: number = 5
  takes mode: Mode
  view { p ` + "`${text} ${size} ${on} ${shelf} ${ware.id} ${ware.kg} ${wares.length} ${maybe == null} ${extra} ${mode == \"grid\"}`" + ` }
}
type Mode = "grid" | "rows"
type Tree = { kids: Tree }
component key-part { takes key: Key; view { when key == key { p "k" } } }
component tree-part { takes tree: Tree; view { p ` + "`${tree.kids == tree}`" + ` } }
component kiln-page {
  holds s: string = ""
  holds n: number = 0
  holds b: boolean = false
  holds aside heat: number = 3
  view {
    select { aria-label <- "list"; value <-> s; option "Ash" { value <- "ash" }; option "Tin" { value <- "tin"; disabled <- true } }
    textarea { aria-label <- "area"; value <-> s }
    input { aria-label <- "text"; value <-> s }
    input { aria-label <- "box"; type <- "checkbox"; checked <-> b }
    input { aria-label <- "round"; type <- "radio"; checked <-> b }
    input { aria-label <- "key"; type <- "submit"; click -> n = 1 }
    input { aria-label <- "range"; type <- "range"; value <-> n }
    input { aria-label <- "day"; type <- "date"; value <-> s }
    button "button" { click -> n = heat }
    p "plain"
  }
}
start kiln-page
`

// TestTakes: how each kind of control is operated.
func TestTakes(t *testing.T) {
	d := design.Parse("taking.lien", taking)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	s, err := New(d, d.Starts[0])
	check(t, err)
	want := map[string]Takes{"list": Options, "area": Texts, "text": Texts, "box": Ticks, "round": Ticks, "key": Presses, "range": Values, "day": Values, "button": Presses}
	seen := 0
	s.Engine().Elements(func(el *engine.Element) bool {
		name := s.Engine().Name(el)
		takes, ok := want[name]
		if !ok || el.Tag() == "option" {
			return true
		}
		seen++
		got, options := TakesOf(s.Engine(), el)
		if got != takes || (strings.Join(options, "|") == "Ash") != (name == "list") {
			t.Errorf("%s takes %v with %q, want %v", name, got, options, takes)
		}
		return true
	})
	if seen != len(want) {
		t.Errorf("%d of %d controls are there", seen, len(want))
	}
	var names []string
	for _, h := range Cells(s.Engine()) {
		for _, c := range h.Cells {
			names = append(names, c.Name)
		}
	}
	if got := strings.Join(names, " "); got != "s n b heat" {
		t.Errorf("it holds %s", got)
	}
}

// TestMadeUp: values of every type are made up for a part that is mounted by itself,
// and none where there can be none.
func TestMadeUp(t *testing.T) {
	d := design.Parse("taking.lien", taking)
	text, err := Alone(d.Component("ware-part"), []string{`size <- 7`})
	check(t, err)
	alone := design.Parse("taking.lien", taking+text)
	if alone.Failed() {
		t.Fatalf("%s\n%s", alone.Findings[0].Message, text)
	}
	s, err := New(alone, alone.Starts[1])
	check(t, err)
	if got := strings.Join(story.Page(s.Engine()), "\n"); !strings.Contains(got, "text 7 false top id 1 0 true 5 true") {
		t.Errorf("%s gives\n%s", text, got)
	}
	for _, name := range []string{"tree-part", "key-part"} {
		if text, err := Alone(d.Component(name), nil); err == nil || !strings.Contains(err.Error(), "no value can be made up") {
			t.Errorf("%s: what there cannot be is made up: %s, %v", name, text, err)
		}
	}
}
