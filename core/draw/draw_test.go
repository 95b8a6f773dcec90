package draw

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/links"
	"lien/core/picture"
)

// fromDisk reads a design of the repository.
func fromDisk(t testing.TB, path string) *design.Design {
	t.Helper()
	d, err := design.Load(os.DirFS("../.."), path, func(s string) string { return s })
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// everything is all pictures that can be made of a design.
func everything(d *design.Design, states bool) map[string][]*picture.Picture {
	all := map[string][]*picture.Picture{"house": House(d)}
	if d.Failed() {
		return all
	}
	cells := links.Of(d).Cells()
	for i := 0; i < len(cells); i += 1 + len(cells)/12 {
		m := cells[i]
		all["journey of "+m.Owner.Name+"."+m.Label] = []*picture.Picture{Journey(d, m, i%2 == 0)}
	}
	for _, s := range d.Scenarios {
		all["scenario "+s.Name] = Scenario(d, s)
	}
	if states && len(d.Starts) > 0 {
		c := d.Components[len(d.Components)-1]
		if p, err := States(d, d.Starts[0], c); err == nil {
			all["states of "+c.Name] = []*picture.Picture{p}
		}
	}
	return all
}

func TestNothingOverlaps(t *testing.T) {
	designs := map[string]*design.Design{"kiln-room": fromDisk(t, "demo/kiln-room")}
	for _, folder := range []string{"examples", "core/story/testdata/pass"} {
		files, err := filepath.Glob("../../" + folder + "/*.lien")
		if err != nil || len(files) == 0 {
			t.Fatal("no designs in", folder, err)
		}
		for _, f := range files {
			name := folder + "/" + filepath.Base(f)
			designs[name] = fromDisk(t, name)
		}
	}
	for _, n := range []int{1, 12, 40, 60, 90} {
		designs[fmt.Sprint(n, " components")] = clean(t, studioOf(n))
	}
	designs["nothing"] = loaded(t, "")
	for name, d := range designs {
		t.Run(name, func(t *testing.T) {
			for what, sheets := range everything(d, strings.HasPrefix(name, "examples")) {
				for i, p := range sheets {
					for _, fault := range faults(p) {
						t.Errorf("%s, sheet %d: %s", what, i+1, fault)
					}
				}
			}
		})
	}
}

// rect is a rectangle that is known by what it shows.
type rect struct {
	x0, y0, x1, y1 float64
	text           string
}

func (a rect) meets(b rect) bool {
	return a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1
}

func (a rect) holds(b rect) bool {
	return a.x0 <= b.x0 && b.x1 <= a.x1 && a.y0 <= b.y0 && b.y1 <= a.y1
}

// textRect is the space of a text: from its capitals to its base line.
func textRect(t *picture.Text) rect {
	return rect{t.X, t.Y - t.Size*0.75, t.X + picture.Width(t.Text, t.Size, t.Bold), t.Y + t.Size*0.1, t.Text}
}

// faults lists what is wrong with a drawing: texts that overlap, that leave
// their box or the sheet, lines that run through boxes, and lines that cover
// each other.
func faults(p *picture.Picture) []string {
	var list []string
	var texts, solid []rect
	var lines []*picture.Line
	sheet := rect{0, 0, p.Width, p.Height, "sheet"}
	picture.All(p.Marks, func(m picture.Mark) {
		switch m := m.(type) {
		case *picture.Text:
			texts = append(texts, textRect(m))
		case *picture.Box:
			if m.Solid {
				solid = append(solid, rect{m.X, m.Y, m.X + m.W, m.Y + m.H, ""})
			}
		case *picture.Line:
			if len(m.Points) > 0 {
				lines = append(lines, m)
			}
		case *picture.Group:
			list = append(list, outside(m)...)
		}
	})
	for i, a := range texts {
		if !sheet.holds(a) {
			list = append(list, fmt.Sprintf("%q leaves the sheet", a.text))
		}
		for _, b := range texts[:i] {
			if a.meets(b) {
				list = append(list, fmt.Sprintf("%q and %q overlap", a.text, b.text))
			}
		}
	}
	for _, l := range lines {
		if l.Stroke == picture.Faint && l.Width == 1 && l.Dash != nil && l.End == picture.Plain && l.Start == picture.Plain {
			continue // life lines lie under the boxes on them
		}
		for i := 1; i < len(l.Points); i++ {
			for _, b := range solid {
				if segment(l.Points[i-1], l.Points[i]).meets(rect{b.x0 + 1, b.y0 + 1, b.x1 - 1, b.y1 - 1, ""}) {
					list = append(list, fmt.Sprintf("a line runs through the box at %.0f, %.0f", b.x0, b.y0))
				}
			}
		}
	}
	return list
}

// segment is the space of a straight piece of a line.
func segment(a, b picture.Point) rect {
	return rect{min(a.X, b.X) - 0.1, min(a.Y, b.Y) - 0.1, max(a.X, b.X) + 0.1, max(a.Y, b.Y) + 0.1, ""}
}

// outside lists the texts of a group that leave the box that the group begins with.
func outside(g *picture.Group) []string {
	if len(g.Marks) == 0 {
		return nil
	}
	b, ok := g.Marks[0].(*picture.Box)
	if !ok || !b.Solid {
		return nil
	}
	var list []string
	box := rect{b.X, b.Y, b.X + b.W, b.Y + b.H, ""}
	for _, m := range g.Marks {
		if text, ok := m.(*picture.Text); ok && !box.holds(textRect(text)) {
			list = append(list, fmt.Sprintf("%q leaves its box", text.Text))
		}
	}
	return list
}

// upright lists the upright pieces of the wires of a drawing, with the group
// that each belongs to.
func upright(p *picture.Picture) map[*picture.Group][]rect {
	list := map[*picture.Group][]rect{}
	for _, m := range p.Marks {
		g, ok := m.(*picture.Group)
		if !ok {
			continue
		}
		for _, m := range g.Marks {
			if l, ok := m.(*picture.Line); ok {
				for i := 1; i < len(l.Points); i++ {
					if a, b := l.Points[i-1], l.Points[i]; a.X == b.X && math.Abs(a.Y-b.Y) > 1 {
						list[g] = append(list[g], segment(a, b))
					}
				}
			}
		}
	}
	return list
}

func TestUprightLinesStandApart(t *testing.T) {
	for _, d := range []*design.Design{fromDisk(t, "demo/kiln-room"), clean(t, studioOf(40))} {
		for _, p := range House(d) {
			all := upright(p)
			for g, list := range all {
				for o, others := range all {
					for _, a := range list {
						for _, b := range others {
							if g != o && a.meets(b) {
								t.Errorf("%s: upright lines of %q and %q cover each other", p.Title, g.Title, o.Title)
							}
						}
					}
				}
			}
		}
	}
}

func TestHouseShowsAllThatLinks(t *testing.T) {
	p := House(fromDisk(t, "demo/kiln-room"))[0]
	for _, want := range []string{
		"linked down: from kiln-room, holds kiln: string to kiln-tabs, takes open: string.",
		"reported up: from shelf-button, emits pick(id) to kiln-room, holds chosen: string?.",
		"reported up: from ware-list, emits act(id) to kiln-room, action load → wares, send news.",
		"tied: one cell: from kiln-room, holds search: string to search-field, shares text: string.",
		"within reach of a context: from palette to glaze-picker, uses palette: glaze, pick.",
		"message on a channel: from kiln-room, action load → wares, send news to news-line, hears news → text, start forget.",
		"opens above the page: from kiln-room, action unload → open confirm-unload to confirm-unload.",
		"kiln-room uses fold-card.",
	} {
		if !strings.Contains(p.Desc, want) {
			t.Errorf("the house does not tell: %s", want)
		}
	}
	if t.Failed() {
		t.Log(p.Desc)
	}
}

// A named instance, what is called on it, and gathered lists have wires too.
func TestHouseShowsCallsAndGatherings(t *testing.T) {
	d := clean(t, strings.ReplaceAll(`
component kiln-door {
  takes label: string
  holds open: boolean = false
  offers shut() { open = false }
  view { button ~${label}~ { aria-expanded <- open; click -> open = !open } }
}
component kiln-wall {
  gathers kiln-door as doors
  view { p ~${doors.length}~; slot }
}
component kiln-hall {
  view { kiln-wall { kiln-door { label <- "Back" } }; kiln-door named front { label <- "Front" }; button "Shut" { click -> front.shut() } }
}
start kiln-hall`, "~", "`"))
	desc := House(d)[0].Desc
	for _, want := range []string{"calls: from kiln-hall, named front: kiln-door to kiln-door, offers shut → open.", "gathered: from kiln-door to kiln-wall, gathers doors: kiln-door."} {
		if !strings.Contains(desc, want) {
			t.Errorf("the house does not tell: %s\n%s", want, desc)
		}
	}
}

// hotTexts are the texts of a drawing that are not faint.
// TestManyUsers: of very many users some are named and the rest counted, and chains of thousands come on sheets.
func TestManyUsers(t *testing.T) {
	var text strings.Builder
	text.WriteString("component kiln-lamp { view { p \"on\" } }\n")
	for i := range 20 {
		fmt.Fprintf(&text, "component kiln-row-%d { view { kiln-lamp } }\nstart \"%[1]d\" kiln-row-%[1]d\n", i)
	}
	h := newHouse(clean(t, text.String()))
	lamp := h.d.Components[0]
	if got, want := h.subtitle(lamp), "used by kiln-row-0, kiln-row-1, kiln-row-2, kiln-row-3, kiln-row-4, kiln-row-5, kiln-row-6, kiln-row-7, kiln-row-8, kiln-row-9, kiln-row-10, kiln-row-11, and 8 more"; got != want {
		t.Errorf("the lamp is %q, want %q", got, want)
	}
	text.Reset()
	text.WriteString("start kiln-n0\n")
	for i := range 3000 {
		fmt.Fprintf(&text, "component kiln-n%d { view { kiln-n%d } }\n", i, i+1)
	}
	text.WriteString("component kiln-n3000 { view { p \"end\" } }\n")
	list := House(clean(t, text.String()))
	if len(list) < 200 || len(list) > 600 {
		t.Errorf("a chain of 3001 components comes on %d sheets", len(list))
	}
}

func hotTexts(p *picture.Picture) string {
	var b strings.Builder
	picture.All(p.Marks, func(m picture.Mark) {
		if text, ok := m.(*picture.Text); ok && text.Fill != picture.Edge {
			fmt.Fprintln(&b, text.Text)
		}
	})
	return b.String()
}

func TestJourney(t *testing.T) {
	d := fromDisk(t, "demo/kiln-room")
	tests := []struct {
		cell      string
		hot, cold []string
	}{
		{"kiln-room.chosen", []string{"chosen: string?", "pick(id)", "picked: boolean", "turnTo → kiln, chosen", "turn(id)", "target ← shelves, chosen"}, []string{"wares: Ware[]", "text: string?", "search: string"}},
		{"kiln-room.search", []string{"search: string", "text: string", "matches ← search", "waiting ← wares, matches", "input to input, click on button"}, []string{"chosen: string?", "palette: glaze, pick"}},
		{"palette.glaze", []string{"glaze: Glaze", "pick → glaze", "palette: glaze, pick", "change on input"}, []string{"kiln: string", "wares: Ware[]"}},
		{"news-line.text", []string{"text: string?", "forget → text", "load → wares, send news", "act(id)"}, []string{"kiln: string", "pick(id)"}},
	}
	for _, test := range tests {
		component, label, _ := strings.Cut(test.cell, ".")
		hot := hotTexts(Journey(d, d.Component(component).Member(label), true))
		for _, s := range test.hot {
			if !strings.Contains(hot, "\n"+s+"\n") {
				t.Errorf("the journey of %s leaves %q faint", test.cell, s)
			}
		}
		for _, s := range test.cold {
			if strings.Contains(hot, "\n"+s+"\n") {
				t.Errorf("the journey of %s brings out %q", test.cell, s)
			}
		}
	}
}

// A journey through more than can be read at once shows what is near the holder.
func TestLongJourneyStaysReadable(t *testing.T) {
	d := clean(t, studioOf(200))
	root := d.Starts[0].Root
	for _, rest := range []bool{true, false} {
		p := Journey(d, root.Member("chosen"), rest)
		if p.Width > sheetWidth || p.Height > sheetHeight+100 {
			t.Errorf("it is %.0f by %.0f", p.Width, p.Height)
		}
		hot := hotTexts(p)
		for _, want := range []string{root.Name, "kiln-panel1", "further away: lien map lists them"} {
			if !strings.Contains(hot, want) {
				t.Errorf("it does not show %q", want)
			}
		}
		for _, fault := range faults(p) {
			t.Error(fault)
		}
	}
}

func TestScenarioInTime(t *testing.T) {
	d := fromDisk(t, "demo/kiln-room")
	sheets := Scenario(d, d.Scenarios[1])
	var all string
	for _, p := range sheets {
		all += hotTexts(p)
	}
	for _, want := range []string{`pick("top")`, `chosen = "top"`, `wares[0].shelf = "top"`, `send news("w1 is loaded")`, `text = "w1 is loaded"`, "starts forget()", "opens confirm-unload"} {
		if !strings.Contains(all, want) {
			t.Errorf("the scenario does not show %s", want)
		}
	}
	if len(sheets) < 2 || !strings.HasSuffix(sheets[1].Title, "sheet 2 of 2") {
		t.Errorf("a long scenario is on %d sheets", len(sheets))
	}
}

func TestStates(t *testing.T) {
	d := clean(t, `
component kiln-door {
  holds open: boolean = false
  holds hot: boolean = false
  timer cool after 1000 { hot = false }
  view {
    button "Door" { aria-expanded <- open; disabled <- hot; click -> open = !open }
    button "Fire" { disabled <- open || hot; click -> { hot = true; start cool } }
  }
}
start kiln-door`)
	p, err := States(d, d.Starts[0], d.Component("kiln-door"))
	if err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{
		`3 looks, in`, "at the start, then press button \"Door\" to look 2", "look 2, then press button \"Door\" to at the start",
		"a user does it: from at the start, then press button \"Fire\" to look 3", "time passes: from look 3, then after a while: cool to at the start",
	} {
		if !strings.Contains(p.Desc+hotTexts(p), want) {
			t.Errorf("the states do not tell: %s\n%s", want, p.Desc)
		}
	}
	room := fromDisk(t, "demo/kiln-room")
	_, err = States(room, room.Starts[0], room.Component("kiln-room"))
	if large, ok := err.(*TooLarge); !ok || len(large.Smaller) == 0 {
		t.Errorf("the states of a whole page: %v", err)
	}
}

func TestSheetsHoldEveryComponentOnce(t *testing.T) {
	for _, n := range []int{60, 200} {
		d := clean(t, studioOf(n))
		whole := map[string]int{}
		for i, p := range House(d) {
			if p.Width > sheetWidth+60 || p.Height > sheetHeight+100 {
				t.Errorf("sheet %d is %.0f by %.0f", i+1, p.Width, p.Height)
			}
			if i == 0 {
				continue
			}
			for _, m := range p.Marks {
				if g, ok := m.(*picture.Group); ok && len(g.Marks) > 2 {
					if b, ok := g.Marks[0].(*picture.Box); ok && b.Solid && b.Dash == nil {
						for _, m := range g.Marks {
							if text, ok := m.(*picture.Text); ok && text.Size == nameSize {
								whole[text.Text]++
							}
						}
					}
				}
			}
		}
		for _, c := range d.Components {
			if whole[c.Name] != 1 {
				t.Errorf("of %d: %s is drawn whole %d times", n, c.Name, whole[c.Name])
			}
		}
	}
}

// A change of one part leaves what stands before it where it was.
func TestSmallChangeMovesLittle(t *testing.T) {
	before := studioOf(12)
	after := strings.Replace(before, "  holds total8: number = 0\n", "  holds total8: number = 0\n  holds more: number = 0\n", 1)
	if before == after {
		t.Fatal("nothing was changed")
	}
	at := func(text string) map[string]picture.Point {
		list := map[string]picture.Point{}
		picture.All(House(loaded(t, text))[0].Marks, func(m picture.Mark) {
			if text, ok := m.(*picture.Text); ok && text.Size == nameSize {
				list[text.Text] = picture.Point{X: text.X, Y: text.Y}
			}
		})
		return list
	}
	was, is := at(before), at(after)
	for name, p := range was {
		if q := is[name]; math.Abs(q.X-p.X) > grid || math.Abs(q.Y-p.Y) > grid {
			t.Errorf("%s moved from %v to %v", name, p, q)
		}
	}
}

func TestSameDesignSameBytes(t *testing.T) {
	make := func() []byte {
		d := fromDisk(t, "demo/kiln-room")
		var all []byte
		for _, th := range picture.Themes {
			sheets := append(House(d), Journey(d, d.Component("kiln-room").Members[1], true))
			for _, p := range sheets {
				all = append(all, picture.SVG(p, th)...)
			}
			png, err := picture.PNG(sheets[0], th, 0.5)
			if err != nil {
				t.Fatal(err)
			}
			pdf, err := picture.PDF(sheets, th)
			if err != nil {
				t.Fatal(err)
			}
			all = append(append(all, png...), pdf...)
		}
		return all
	}
	if !bytes.Equal(make(), make()) {
		t.Error("the same design gives other bytes")
	}
}

func TestSVGIsWellFormed(t *testing.T) {
	d := loaded(t, "component kiln-note {\n  holds a: string = \"<&\\\"]]>\"\n  view { p `${a} ぶ 🏺` }\n}\nstart kiln-note\nscenario \"<&'> ぶ\" { shows \"<\" }\n")
	for _, p := range append(House(d), Scenario(d, d.Scenarios[0])...) {
		dec := xml.NewDecoder(bytes.NewReader(picture.SVG(p, picture.Dark)))
		for {
			if _, err := dec.Token(); err == io.EOF {
				break
			} else if err != nil {
				t.Fatal(err)
			}
		}
		if _, err := picture.PDF([]*picture.Picture{p}, picture.Print); err != nil {
			t.Error(err)
		}
	}
}

// What is wrong with a design is marked, and the rest drawn.
func TestDesignsWithErrors(t *testing.T) {
	const rest = `
component kiln-lamp { takes lit: boolean; view { p ~${lit}~ } }
start kiln-room
`
	for _, broken := range []string{
		"component kiln-room { holds lit: boolean = 5; view { kiln-lamp { lit <- lit } } }",
		"component kiln-room { holds lit: boolean = false; view { kiln-lamp { lit <- litt } } }",
		"component kiln-room { holds lit = nothing; view { kiln-lamp { lit <- lit } } }",
		"component kiln-room { derives lit = !dark; derives dark = !lit; view { kiln-lamp { lit <- lit } } }",
		"component kiln-room { uses palette; view { kiln-lamp { lit <- palette.on } } }",
		"component kiln-room { holds lit: Kiln = null; view { kiln-lamp { lit <- lit; pick -> lit = 3 }; kiln-lump } }",
		"component kiln-room { gathers lamps: kiln-lamb; follows lit { lit = 1 }; view { kiln-lamp { lit <-> lit } } }",
		"component kiln-room { supplies palette; hears news(n) { n = 1 }; on mount { start t; ask log.load(); open kiln-lamp { lit <- x } }; view { each k in kilns by k.id { kiln-lamp { lit <- k } } } }",
	} {
		d := loaded(t, strings.ReplaceAll(broken+rest, "~", "`"))
		if !d.Failed() {
			t.Errorf("no error in %s", broken)
		}
		p := House(d)[0]
		if hot := hotTexts(p); !strings.Contains(hot, "kiln-lamp\n") || !strings.Contains(hot, "unclear\n") {
			t.Errorf("not all of it is drawn, or not marked: %s\n%s", broken, hot)
		}
		for _, fault := range faults(p) {
			t.Errorf("%s: %s", broken, fault)
		}
	}
}

func BenchmarkHouse(b *testing.B) {
	for _, n := range []int{10, 60, 300} {
		d := loaded(b, studioOf(n))
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			for b.Loop() {
				House(d)
			}
		})
	}
}

// TestStatesOfOneInstance: the states are those of one instance, and it is told where it is gone.
func TestStatesOfOneInstance(t *testing.T) {
	d := design.Parse("two.lien", `component fold-line {
  takes title: string
  holds open: boolean = false
  view { button `+"`${title}`"+` { aria-expanded <- open; click -> open = !open } }
}
component fold-page {
  holds first: boolean = true
  view {
    when first { fold-line { title <- "Glazes" } }
    fold-line { title <- "Clays" }
    button "Away" { click -> first = false }
  }
}
start fold-page`)
	p, err := States(d, d.Starts[0], d.Component("fold-line"))
	if err != nil {
		t.Fatal(err)
	}
	svg := string(picture.SVG(p, picture.Light))
	for _, want := range []string{"fold-page &gt; fold-line 1", "not on the page", "Glazes"} {
		if !strings.Contains(svg, want) {
			t.Errorf("there is no %s", want)
		}
	}
	if strings.Contains(svg, "Clays") {
		t.Error("another instance is shown")
	}
}
