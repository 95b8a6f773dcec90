package reshape

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/compare"
	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
)

// TestThereAndBack: lifted and lowered, cut out and put back, renamed and renamed back, a design is the text that it
// was, for designs made at random; and on the way nobody can tell it from what it was.
func TestThereAndBack(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 1))
	many := 40
	if *judge {
		many = 300
	}
	ways := map[string]int{}
	for n := range many {
		text := randomDesign(random)
		d := design.Parse("kiln.lien", text)
		if d.Failed() {
			t.Fatalf("%s\n%s", d.Errors()[0].Message, text)
		}
		if laid := string(syntax.Print(syntax.Parse(source.NewSet().Add("", text)))); laid != text {
			t.Fatalf("design %d is not laid out:\n%s", n, laid)
		}
		for name, way := range thereAndBack(d, random) {
			there, err := way[0](d)
			if err != nil {
				continue // it says why, which other tests look at
			}
			if rep := compare.Run(d, there.Design, compare.Options{Pairs: 300}); rep.Differs() && !strings.HasPrefix(name, "rename") {
				t.Errorf("design %d: %s can be told: %s\n%s", n, name, rep.Starts[0].Difference.What, there.Files[0].Is)
			}
			back, err := way[1](there.Design)
			if err != nil {
				t.Errorf("design %d: %s has no way back: %v\n%s", n, name, err, there.Files[0].Is)
				continue
			}
			ways[name]++
			if got := back.Files[0].Is; got != text {
				t.Errorf("design %d: %s and back is another text:\n%s\nwas\n%s", n, name, got, text)
			}
		}
	}
	t.Log(ways)
	least := map[string]int{"lift and lower": many / 4, "extract and inline": many / 4, "rename": many / 4, "function, report, tie, context and back": many / 4, "method, tie, method, context, function": many / 16}
	for name, n := range least {
		if ways[name] < n {
			t.Errorf("%s was done %d times only", name, ways[name])
		}
	}
}

type oneWay func(*design.Design) (*Result, error)

// thereAndBack are edits and their reverses.
func thereAndBack(d *design.Design, random *rand.Rand) map[string][2]oneWay {
	card := d.Components[random.IntN(len(d.Components)-2)]
	page := d.Components[len(d.Components)-1]
	line := lineOf(d, page)
	return map[string][2]oneWay{
		"lift and lower": {
			func(d *design.Design) (*Result, error) {
				return Lift(d, d.Component(card.Name).Member("n"), LiftOptions{}, Reparse(d))
			},
			func(d *design.Design) (*Result, error) {
				for _, m := range d.Component("kiln-page").Members {
					if m.Kind == design.Holds && m.Label != "lit" && m.Label != "wares" && m.Label != "heat" && m.Label != "picked" {
						return Lower(d, m, "", Reparse(d))
					}
				}
				return nil, fmt.Errorf("no cell was lifted")
			},
		},
		"extract and inline": {
			func(d *design.Design) (*Result, error) {
				return Extract(d, ExtractOptions{File: "kiln.lien", From: line, Name: "cut-part"}, Reparse(d))
			},
			func(d *design.Design) (*Result, error) {
				return Inline(d, d.Component("cut-part"), "", 0, Reparse(d))
			},
		},
		"rename": {
			func(d *design.Design) (*Result, error) { return Rename(d, card.Name+".label", "heading", Reparse(d)) },
			func(d *design.Design) (*Result, error) { return Rename(d, card.Name+".heading", "label", Reparse(d)) },
		},
		"rename a component": {
			func(d *design.Design) (*Result, error) { return Rename(d, card.Name, "other-card", Reparse(d)) },
			func(d *design.Design) (*Result, error) { return Rename(d, "other-card", card.Name, Reparse(d)) },
		},
		"method, tie, method, context, function": { // a cell that comes back is the last one of its page
			func(d *design.Design) (*Result, error) {
				if !strings.Contains(d.Files[0].Source.Text, "holds heat: number = 0\n\n") {
					return nil, fmt.Errorf("other cells stand behind it")
				}
				return Relink(d, d.Component("heat-field").Member("heat"), AsMethod, "", Reparse(d))
			},
			heatAs(AsTie, AsMethod, AsContext, AsFunction),
		},
		"function, report, tie, context and back": {
			func(d *design.Design) (*Result, error) {
				return Relink(d, d.Component("heat-field").Member("heat"), AsReport, "", Reparse(d))
			},
			heatAs(AsTie, AsContext, AsFunction),
		},
	}
}

// heatAs lets the heat travel one way after another, the last of them out of its context.
func heatAs(ways ...string) oneWay {
	return func(d *design.Design) (res *Result, err error) {
		for _, as := range ways {
			of := d.Component("heat-field").Member("heat")
			if as == AsFunction {
				of = d.Component("kilnHeat").Member("heat")
			}
			if res, err = Relink(d, of, as, "", Reparse(d)); err != nil {
				return nil, err
			}
			d = res.Design
		}
		return res, nil
	}
}

// lineOf is the line of a section in the view of the page.
func lineOf(d *design.Design, page *design.Component) int {
	line := 0
	syntax.Walk(page.Syntax, func(n syntax.Node) bool {
		if el, ok := n.(*syntax.Element); ok && el.Name.Text == "section" && line == 0 {
			line = d.Set.Position(el.Start).Line
		}
		return line == 0
	})
	return line
}

// randomDesign is a page with a few cards, a part that could be one, and a field that changes what it is handed, with
// comments in many places.
func randomDesign(random *rand.Rand) string {
	var out strings.Builder
	pick := func(list ...string) string { return list[random.IntN(len(list))] }
	cards := 1 + random.IntN(3)
	for i := range cards {
		fmt.Fprintf(&out, "%scomponent ware-card-%d {\n  takes label: string\n%s  holds n: number = %d%s\n", pick("", "// A card.\n"), i, pick("", "  emits done(n: number)\n"), random.IntN(3), pick("", " // how many"))
		emits := strings.Contains(out.String()[strings.LastIndex(out.String(), "component"):], "emits")
		fmt.Fprintf(&out, "\n  view {\n    %s\n    button \"Add %d\" {\n      disabled <- n > 2\n      click    -> %s\n    }\n", pick("h2 `${label}`", "p `${label} ${n}` // what it is", "p `${n}`\n    em `${label}`"), i, pick("n += 1", "{\n        n += 1\n        log \"added\"\n      }", "if (n < 2) n += 1"))
		if random.IntN(2) == 0 {
			fmt.Fprintf(&out, "    button \"Clear %d\" { click -> n = 0 }\n", i)
		}
		if emits {
			fmt.Fprintf(&out, "    button \"Done %d\" { click -> emit done(n) }\n", i)
		}
		out.WriteString("  }\n}\n\n")
	}
	out.WriteString("component heat-field {\n  takes heat: number\n  takes setHeat: (value: number) => void\n\n  view {\n    button \"Up\" {\n      disabled <- heat > 2\n      click    -> setHeat(heat + 1)\n    }\n    button \"Off\" { click -> setHeat(0) }\n    output `${heat}`\n  }\n}\n\n")
	out.WriteString("type Ware = { id: string, name: string, done: boolean }\n\n")
	cells := []string{"lit: boolean = false", "wares: Ware[] = [{ id: \"a\", name: \"Bowl\", done: false }, { id: \"b\", name: \"Jug\", done: true }]", "heat: number = 0", "picked: string[] = []"}
	random.Shuffle(len(cells), func(i, k int) { cells[i], cells[k] = cells[k], cells[i] })
	fmt.Fprintf(&out, "component kiln-page {\n  holds %s\n%s  holds %s\n  holds %s\n  holds %s\n\n  action setHeat(value: number) { heat = value }\n\n  view {\n    %s\n", cells[0], pick("", "  // The kiln.\n"), cells[1], cells[2], cells[3], pick("h1 \"Kiln\"", "h1 `Kiln at ${heat}`"))
	for i := range cards {
		text := out.String()
		at := strings.Index(text, fmt.Sprintf("component ware-card-%d {", i))
		own := text[at : at+strings.Index(text[at:], "\n}\n")]
		if strings.Contains(own, "emits") {
			fmt.Fprintf(&out, "    ware-card-%d {\n      label   <- \"Ware %d\"\n      done(k) -> lit = k > 1\n    }\n", i, i)
		} else {
			fmt.Fprintf(&out, "    ware-card-%d { label <- %s }\n", i, pick("\"Bowls\"", "`Ware ${lit ? 1 : 2}`"))
		}
	}
	fmt.Fprintf(&out, "    each w in wares by w.id {\n%s      section.sheet {\n        h2 `${w.name}`\n        input {\n          type       <- \"checkbox\"\n          aria-label <- w.name\n          checked    <-> w.done\n        }\n        %s\n%s      }\n    }\n",
		pick("", "      // One ware.\n"),
		pick("button \"Forget\" { click -> w.done = false }", "button \"Light\" { click -> lit = !lit }", "button \"Pick\" {\n          aria-pressed <- picked.includes(w.id)\n          disabled     <- picked.includes(w.id) || !lit\n          click        -> picked = [...picked, w.id]\n        }", "button \"Drop\" { click -> wares = wares.filter(x => x.id != w.id) }"),
		pick("", "        when w.done && lit { p \"It is in.\" }\n", "        em `${lit ? \"lit\" : \"cold\"}` // as it is\n"))
	out.WriteString("    heat-field {\n      heat    <- heat\n      setHeat <- setHeat\n    }\n    button \"Light it\" {\n      aria-pressed <- lit\n      click        -> lit = !lit\n    }\n  }\n}\n\nstart kiln-page\n")
	return out.String()
}
