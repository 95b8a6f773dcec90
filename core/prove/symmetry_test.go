package prove

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/story"
)

// rackOf is a rack of boxes that know how many of them are ticked, with holes:
// what a box does when it is ticked, the view of the page, and the laws.
func rackOf(t *testing.T, does, page, laws string) *design.Design {
	t.Helper()
	text := `
type Ware = { id: string, name: string }
context rack {
  holds count: number = 0
  holds last: string = ""
  action add(n: number) { count += n }
  action say(id: string) { last = id }
}
component rack-box {
  takes label: string
  uses rack
  emits turned(by: number)
  holds on: boolean = false
  view {
    label { input { type <- "checkbox"; checked <- on; change -> { on = !on; ` + does + ` } }; ~${label}~ }
  }
}
component rack-page {
  holds wares: Ware[] = [{ id: "a", name: "bowl" }, { id: "b", name: "jug" }, { id: "c", name: "vase" }, { id: "d", name: "plate" }]
  supplies rack as rack
  view { ` + page + ` ; p ~${rack.count} ${rack.last}~ }
}
start rack-page
` + laws
	return parsed(t, strings.ReplaceAll(text, "~", "`"))
}

const (
	counts   = `rack.add(on ? 1 : -1)`
	fourUses = `rack-box { label <- "bowl" }; rack-box { label <- "jug" }; rack-box { label <- "vase" }; rack-box { label <- "plate" }`
	items    = `each w in wares by w.id { rack-box { label <- w.name } }`
)

func TestSymmetry(t *testing.T) {
	for _, c := range []struct {
		name, does, page, laws string
		states, alike          int
	}{
		{"uses", counts, fourUses, ``, 16, 5},
		{"items", counts, items, ``, 16, 5},
		{"items heard", `emit turned(on ? 1 : -1)`, `each w in wares by w.id { rack-box { label <- w.name; turned(by) -> rack.add(by) } }`, ``, 16, 5},
		{"items in a frame", counts, `section { aria-label <- "rack"; when rack.count >= 0 { ul { ` + `each w in wares by w.id { li { rack-box { label <- w.name } } }` + ` } } }`, ``, 16, 5},
		{"laws that count", counts, items, `law "few" { never all(rack-box).filter(b => b.on).length > 2; always all(rack-box).every(b => b.on || !b.on) }`, 16, 5},
		{"two of one kind, two of another", counts, `rack-box { label <- "a" }; rack-box { label <- "b" }; div { rack-box { label <- "c" }; rack-box { label <- "d" } }`, ``, 16, 9},

		{"a law that asks for the first", counts, items, `law "first" { never all(rack-box).find(b => b.on)?.label == "jug" }`, 16, 16},
		{"a law that asks for names", counts, items, `law "names" { never all(rack-box).some(b => b.on && b.label == "jug") }`, 16, 16},
		{"a law that asks for the place of one", counts, items, `law "where" { never all(rack-box).findIndex(b => b.on) == 2 }`, 16, 16},
		{"a law that asks for all in order", counts, items, `law "order" { never all(rack-box).map(b => b.on).indexOf(true) == 3 }`, 16, 16},
		{"a handler that hears the focus", counts, `div { focusout -> rack.add(rack.count > 0 ? 0 : 1 - 1); ` + items + ` }`, `law "x" { always rack-page != null || true }`, 0, 0},
		{"a law that asks for a place", counts, items, `law "place" { never all(rack-box)[2]?.on ?? false }`, 16, 16},
		{"a handler that asks who it is", `rack.say(label); ` + counts, items, `law "last" { always rack-page != null || true }`, 0, 0},
		{"a list that changes", counts, items + `; button "Less" { click -> wares = wares.slice(1) }`, ``, 57, 57},
		{"one that is named", counts, `rack-box named one { label <- "a" }; rack-box { label <- "b" }`, ``, 4, 4},
		{"other links", counts, `rack-box { label <- wares[0]?.name ?? "x" }; rack-box { label <- ~${wares.length / 2}~ }`, ``, 4, 4},
	} {
		t.Run(c.name, func(t *testing.T) {
			laws := c.laws
			if c.states == 0 {
				laws = ""
			}
			d := rackOf(t, c.does, c.page, laws)
			plain, less := Run(d, Options{Plain: true}), Run(d, Options{})
			got, fewer := plain.Starts[0], less.Starts[0]
			if c.states == 0 {
				if fewer.Symmetric || fewer.States.N != got.States.N {
					t.Errorf("%d states are taken for %d", got.States.N, fewer.States.N)
				}
				return
			}
			if got.States.N != c.states || fewer.States.N != c.alike || fewer.Symmetric != (c.states != c.alike) {
				t.Errorf("%d states, of which %d are visited (alike: %v), want %d and %d", got.States.N, fewer.States.N, fewer.Symmetric, c.states, c.alike)
			}
			sameVerdicts(t, d, plain, less)
		})
	}
}

// sameVerdicts says where two proofs of a design differ: in verdicts, in the
// length of scenarios, or in a scenario that does not show what it should.
func sameVerdicts(t *testing.T, d *design.Design, plain, less *Report) (broken int) {
	t.Helper()
	for i, want := range plain.Laws {
		got := less.Laws[i]
		if got.Verdict != want.Verdict || (got.Breach == nil) != (want.Breach == nil) {
			t.Errorf("%s: %s, plainly it is %s", got.Name(), got.Verdict, want.Verdict)
			continue
		}
		if got.Breach == nil || got.Breach.Path == nil || want.Breach.Path == nil {
			continue
		}
		broken++
		if got.Breach.Path.Causes != want.Breach.Path.Causes {
			t.Errorf("%s takes %v, plainly %v", got.Name(), got.Breach.Path.Steps, want.Breach.Path.Steps)
		}
		if got.Law == nil && got.Promise != promiseFails {
			continue
		}
		again := parsed(t, sourceOf(d)+"\n"+got.Breach.Path.Scenario(d, "it breaks"))
		if r := story.Run(again, nil); !r.Failed() {
			t.Errorf("%s: the scenario passes: %v", got.Name(), got.Breach.Path.Steps)
		}
	}
	if c, w := less.Coverage, plain.Coverage; (c == nil) != (w == nil) || c != nil && (c.Handlers != w.Handlers || c.Branches != w.Branches) {
		t.Errorf("it covers %+v, plainly %+v", c, w)
	}
	return broken
}

func sourceOf(d *design.Design) string { return d.Files[0].Source.Text }

// randomBoxes is a design of a few boxes that are alike or not, by chance.
func randomBoxes(t *testing.T, seed uint64) *design.Design {
	r := rand.New(rand.NewPCG(seed, 77))
	pick := func(list ...string) string { return list[r.IntN(len(list))] }
	does := pick(counts, `rack.add(1)`, `if (rack.count < 2) rack.add(on ? 1 : 0)`, `if (on) rack.add(2) else rack.add(-1)`, `rack.add(on ? 1 : -1); if (rack.count > 2) on = false`, `rack.say(label); `+counts, `emit turned(on ? 1 : -1)`)
	does = `if (rack.count > 3 || rack.count < -3) return; ` + does
	use := func(label string) string {
		return `rack-box { label <- ` + label + pick("", "", "; turned(by) -> rack.add(by)") + ` }`
	}
	var page []string
	for range 1 + r.IntN(2) {
		page = append(page, pick(
			use(`"a"`)+"; "+use(`"b"`), use(`"a"`)+"; "+use(`"a"`)+"; "+use(`"c"`),
			`each w in wares by w.id { `+use(`w.name`)+` }`, `each w at i in wares by w.id { `+use("~${w.id} ${i}~")+` }`,
			`each w in wares by w.id { when w.id != "b" { `+use(`w.name`)+` } }`,
			`when rack.count < 3 { `+use(`"x"`)+"; "+use(`"y"`)+` } else { p "enough" }`))
	}
	laws := ""
	for i := range 3 {
		laws += fmt.Sprintf("law \"%d\" { %s }\n", i, pick(
			`never all(rack-box).filter(b => b.on).length == 3`, `always all(rack-box).some(b => !b.on)`, `never all(rack-box).every(b => b.on)`,
			`always all(rack-box).length > 1`, `can all(rack-box).filter(b => b.on).filter(b => b.on).length == 2`,
			`never all(rack-box)[1]?.on ?? false`, `never all(rack-box).some(b => b.on && b.label == "a")`, `turn all(rack-box).filter(b => b.on).length < 4`))
	}
	return rackOf(t, does, strings.Join(page, "; "), laws)
}

func TestSymmetryOnRandomDesigns(t *testing.T) {
	merged, broken := 0, 0
	n := designs(30, 160)
	for seed := range uint64(n) {
		d := randomBoxes(t, seed)
		plain := Run(d, Options{Plain: true, States: 3000})
		if !plain.Whole() {
			continue
		}
		less := Run(d, Options{States: 3000})
		if less.Starts[0].States.N > plain.Starts[0].States.N {
			t.Errorf("design %d: more states than plainly", seed)
		}
		if less.Starts[0].States.N < plain.Starts[0].States.N {
			merged++
			broken += sameVerdicts(t, d, plain, less)
		} else {
			sameVerdicts(t, d, plain, less)
		}
		if t.Failed() {
			t.Fatalf("design %d:\n%s", seed, sourceOf(d))
		}
	}
	if merged < n/6 || broken < n/6 {
		t.Errorf("%d designs have fewer states, with %d breaches: too few to tell anything", merged, broken)
	}
}

// However many search, the same states stand for the others.
func TestAlikeWorkers(t *testing.T) {
	d := rackOf(t, counts, items, `law "few" { never all(rack-box).filter(b => b.on).length > 2 }`)
	var first string
	for _, o := range []Options{{Workers: 1}, {Workers: 2}, {Workers: 5}, {Workers: 2, forget: true}} {
		got := told(Run(d, o))
		if first == "" {
			first = got
		}
		if got != first {
			t.Errorf("%+v finds\n%s\none finds\n%s", o, got, first)
		}
	}
	if !slices.Contains(strings.Fields(first), "5") {
		t.Errorf("there are not 5 states:\n%s", first)
	}
}
