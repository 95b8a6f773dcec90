package links

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
)

// studio has every kind of link once.
const studio = `
type Ware = { id: string, full: boolean }
context rack {
  shares chosen: string? = null
  action pick(id: string) { chosen = id }
}
channel news(text: string)
component leaf-button {
  takes label: string
  takes act: (id: string) => void
  emits press(id: string)
  uses rack
  view {
    button ` + "`${label}`" + ` { .on <- rack.chosen == label; click -> emit press(label) }
    button "act" { click -> { act(label); rack.pick(label) } }
  }
}
component mid-part {
  takes name: string
  takes act: (id: string) => void
  shares text: string = ""
  emits press(id: string)
  view {
    leaf-button { label <- name; act <- act; press -> forward }
    input { value <-> text }
  }
}
component studio-page {
  holds name: string = "a"
  holds presses: number = 0
  holds draft: string = ""
  holds wares: Ware[] = []
  holds ticks: number = 0
  holds said: string = ""
  holds aside last: string = ""
  supplies rack as own
  derives shout = draft.toUpperCase() set v { draft = v }
  timer tick every 1000 { ticks += 1 }
  on mount { start tick }
  follows name { last = name }
  hears news(text) { said = text }
  action act(id: string) { name = id }
  view {
    mid-part { name <- name; act <- act; text <-> shout; press(id) -> { presses += 1; send news(id) } }
    p ` + "`${presses} ${ticks} ${said} ${own.chosen ?? \"none\"} ${last}`" + `
    each w in wares by w.id { input { type <- "checkbox"; checked <-> w.full } }
  }
}
start studio-page
`

func graph(t *testing.T) (*design.Design, *Graph) {
	t.Helper()
	d := design.Parse("studio.lien", studio)
	for _, f := range d.Findings {
		if d.Failed() {
			t.Fatalf("%s: %s", d.Set.Position(f.Span.Start), f.Message)
		}
	}
	return d, Of(d)
}

// told writes paths as lines: where they end, and the hops to there.
func told(paths []*Path) string {
	var lines []string
	for _, p := range paths {
		line := p.Component.Name + ": " + p.What
		for _, h := range p.Hops {
			line += " | " + h.Kind + " " + h.Text
		}
		lines = append(lines, line)
	}
	return strings.Join(lines, "\n")
}

func TestJourneys(t *testing.T) {
	d, g := graph(t)
	for _, c := range []struct{ component, cell, shown, changed string }{
		{
			"studio-page", "name",
			"leaf-button: .on of button | down name <- name | down label <- name\n" +
				"leaf-button: text of button | down name <- name | down label <- name",
			"leaf-button: click on button | down act <- act | down act <- act | call act()",
		},
		{
			"studio-page", "presses",
			"studio-page: text of p",
			"leaf-button: click on button | up reports press | up reports press",
		},
		{
			"studio-page", "draft",
			"mid-part: value of input | down text <-> shout",
			"mid-part: input to input | tie text <-> shout | call shout()",
		},
		{
			"studio-page", "wares",
			"studio-page: each\nstudio-page: checked of input",
			"studio-page: input to input",
		},
		{
			"studio-page", "ticks",
			"studio-page: text of p",
			"studio-page: timer tick",
		},
		{
			"studio-page", "said",
			"studio-page: text of p",
			"leaf-button: click on button | up reports press | up reports press | send sent as news",
		},
		{
			"studio-page", "last",
			"studio-page: text of p",
			"studio-page: follows name",
		},
		{
			"rack", "chosen",
			"leaf-button: .on of button | context uses rack\nstudio-page: text of p | context uses rack",
			"leaf-button: click on button | call pick()",
		},
	} {
		j := g.Journey(d.Component(c.component).Member(c.cell))
		if got := told(j.Shown); got != c.shown {
			t.Errorf("%s.%s is shown:\n%s\nwant\n%s", c.component, c.cell, got, c.shown)
		}
		if got := told(j.Changed); got != c.changed {
			t.Errorf("%s.%s is changed:\n%s\nwant\n%s", c.component, c.cell, got, c.changed)
		}
	}
}

func TestCells(t *testing.T) {
	_, g := graph(t)
	var names []string
	for _, m := range g.Cells() {
		names = append(names, m.Owner.Name+"."+m.Label)
	}
	want := "rack.chosen mid-part.text studio-page.name studio-page.presses studio-page.draft studio-page.wares " +
		"studio-page.ticks studio-page.said studio-page.last"
	if got := strings.Join(names, " "); got != want {
		t.Errorf("the cells are %s", got)
	}
}

func TestUsesAndHandlers(t *testing.T) {
	d, g := graph(t)
	leaf, mid := d.Component("leaf-button"), d.Component("mid-part")
	if uses := g.Uses[leaf]; len(uses) != 1 || uses[0].User != mid {
		t.Errorf("leaf-button is used %d times", len(uses))
	}
	press := leaf.Member("press")
	if len(g.Emits[press]) != 1 || len(g.Hears[press]) != 1 || g.Hears[press][0].User != mid {
		t.Errorf("press: %d emits, %d handlers", len(g.Emits[press]), len(g.Hears[press]))
	}
	var fed []string
	for _, l := range g.Fed[leaf.Member("label")] {
		fed = append(fed, fmt.Sprint(l.From.Owner.Name, ".", l.From.Label, " ", l.Pure))
	}
	if strings.Join(fed, ", ") != "mid-part.name true" {
		t.Errorf("label is fed by %v", fed)
	}
}

// What an expression reads itself, and not through something derived.
func TestNearLinks(t *testing.T) {
	d, g := graph(t)
	page, mid := d.Component("studio-page"), d.Component("mid-part")
	near := func(from *design.Member, to string) (found, near bool) {
		for _, l := range g.Feeds[from] {
			if l.To == mid.Member(to) {
				return true, l.Near
			}
		}
		return false, false
	}
	for _, c := range []struct {
		from, to    string
		found, near bool
	}{{"name", "name", true, true}, {"shout", "text", true, true}, {"draft", "text", true, false}, {"presses", "name", false, false}} {
		if found, is := near(page.Member(c.from), c.to); found != c.found || is != c.near {
			t.Errorf("%s to %s: linked %v, near %v", c.from, c.to, found, is)
		}
	}
}

func TestTied(t *testing.T) {
	d, g := graph(t)
	for _, c := range []struct {
		component, cell string
		tied            bool
	}{{"mid-part", "text", true}, {"rack", "chosen", false}, {"studio-page", "draft", false}} {
		if got := g.Tied(d.Component(c.component).Member(c.cell)); got != c.tied {
			t.Errorf("%s.%s: tied %v", c.component, c.cell, got)
		}
	}
}

func TestPassedOnBy(t *testing.T) {
	d, g := graph(t)
	for cell, want := range map[string]string{"name": "mid-part", "presses": "", "draft": ""} {
		got := strings.Join(g.Journey(d.Component("studio-page").Member(cell)).PassedOnBy(), " ")
		if got != want {
			t.Errorf("%s is passed on by %q, want %q", cell, got, want)
		}
	}
}

// TestReadForItself: what decides whether a cell is written, and what is written to it, is told with the write; what else
// the same handler reads of it is told, too.
func TestReadForItself(t *testing.T) {
	d := design.Parse("page.lien", `component kiln-page {
  holds heat: number = 20
  holds past: number[] = []
  holds limit: number = 900
  view {
    button "Up" { click -> if (heat < limit) heat += 10 }
    button "Keep" { click -> { past = [...past, heat]; heat = 20 } }
    button "More" { click -> limit += 1 }
    p `+"`${heat} ${past.join()} ${limit}`"+`
  }
}
start kiln-page
`)
	g := Of(d)
	for cell, want := range map[string]int{"heat": 1, "past": 0, "limit": 1} {
		if asked := g.Journey(d.Component("kiln-page").Member(cell)).Asked; len(asked) != want {
			t.Errorf("%s is asked for %d times, want %d", cell, len(asked), want)
		}
	}
}
