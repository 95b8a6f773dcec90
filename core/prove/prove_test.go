package prove

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/story"
)

// TestTimes: moments are found at which timers fire in the order of a path.
func TestTimes(t *testing.T) {
	const text = `component a-b {
  holds log: string = ""
  timer slow after 5000 { log = log + "s" }
  timer quick after 100 { log = log + "q" }
  timer again every 300 { log = log + "e"; if (log.length > 2) stop again }
  view {
    button "slow" { click -> start slow }
    button "quick" { click -> start quick }
    button "again" { click -> start again }
    p ` + "`${log}`" + `
  }
}
start a-b
law "l" { never the(a-b).log == "%s" }
`
	for _, c := range []struct{ log, steps string }{
		{"q", `press button "quick"; wait 100`},
		{"s", `press button "slow"; wait 5000`},
		{"sq", `press button "slow"; wait 4901; press button "quick"; wait 100`},
		{"qs", `press button "slow"; press button "quick"; wait 5000`},
		{"eq", `press button "quick"`},
	} {
		d := parsed(t, fmt.Sprintf(text, c.log))
		b := outcome(Run(d, Options{States: 4000}), "l").Breach
		if b == nil {
			t.Fatalf("%s: it is not reached", c.log)
		}
		steps := strings.Join(b.Path.Steps, "; ")
		if !b.Path.Real {
			t.Errorf("%s: no real times lead there: %s", c.log, steps)
		}
		if c.log != "eq" && c.log != "sq" && steps != c.steps {
			t.Errorf("%s: %s, want %s", c.log, steps, c.steps)
		}
		shown(t, d, fmt.Sprintf(text, c.log), outcome(Run(d, Options{States: 4000}), "l"))
	}
}

// TestSamples: a start says what is typed.
func TestSamples(t *testing.T) {
	d := parsed(t, `component a-b {
  holds text: string = ""
  view { label { "Maker"; input { value <-> text } }; when text.length > 3 { p "long" } }
}
start a-b { samples textbox "Maker" ["Ada", "Cleo"] }
law "no C" { never the(a-b).text.length > 3 && the(a-b).text.charCodeAt(0) == 67 }
`)
	rep := Run(d, Options{})
	o := outcome(rep, "no C")
	if o.Verdict != Broken || !slices.Equal(o.Breach.Path.Steps, []string{`type "Cleo" into textbox "Maker"`}) || rep.Starts[0].States.N < 3 {
		t.Errorf("%s in %d states: %+v", o.Verdict, rep.Starts[0].States.N, o.Breach)
	}
}

// TestLearned: what is true of cells in every state, though no law says so.
func TestLearned(t *testing.T) {
	d := parsed(t, `component a-b {
  holds n: number = 0
  holds twice: number = 0
  holds copy: number = 0
  holds still: boolean = false
  holds mode: "low" | "high" | "off" = "low"
  action to(x: number) { n = x; twice = x * 2; copy = x; mode = x > 2 ? "high" : "low" }
  view {
    button "up" { click -> to((n + 1) % 5) }
    button "down" { disabled <- n == 0; click -> to(n - 1) }
    button "odd" { disabled <- still; click -> if (n % 2 == 0) to(4) }
    p `+"`${n} ${twice} ${copy} ${mode}`"+`
  }
}
start a-b
`)
	said := strings.Join(Run(d, Options{}).Learned, "\n")
	for _, want := range []string{"a-b.still is false in all of 5 states", "a-b.mode is \"off\" in none of 5 states", "a-b.n and a-b.copy are equal in all of 5 states"} {
		if !strings.Contains(said, want) {
			t.Errorf("there is no %q in\n%s", want, said)
		}
	}
}

// TestApart: cells that a handler sets to the same value, and that differ in some
// state, with the shortest way there.
func TestApart(t *testing.T) {
	d := parsed(t, `component glaze-picker {
  emits pick(glaze: string)
  holds chosen: string = "ash"
  action choose(g: string) { chosen = g; emit pick(g) }
  view { button "Shino" { click -> choose("shino") }; button "Ash" { click -> choose("ash") }; p `+"`"+`${chosen}`+"`"+` }
}
component ware-page {
  holds glaze: string = "ash"
  view { glaze-picker { pick(g) -> glaze = g }; button "Start over" { click -> glaze = "ash" }; p `+"`"+`${glaze}`+"`"+` }
}
start ware-page
`)
	said := strings.Join(Run(d, Options{}).Learned, "\n")
	if want := "glaze-picker.chosen and ware-page.glaze are set to the same value (planted.lien:4:30), and differ after: press button \"Shino\"; press button \"Start over\""; !strings.Contains(said, want) {
		t.Errorf("there is no %q in\n%s", want, said)
	}
}

// TestBounds: a proof that ends early says why, and comes to no whole verdict.
func TestBounds(t *testing.T) {
	d := design.Parse("count.lien", `component a-b { holds n: number = 0; view { button "up" { click -> n += 1 }; p "${n}" } }
start a-b
law "small" { always the(a-b).n >= 0 }
law "far" { can the(a-b).n == 5000 }
`)
	for _, c := range []struct {
		o    Options
		want string
	}{{Options{States: 50}, "states: more than 50"}, {Options{Depth: 7}, "depth: what takes more than 7 steps"}, {Options{Memory: 1 << 12}, "memory:"}, {Options{Time: 1}, "time:"}} {
		rep := Run(d, c.o)
		if len(rep.Cuts) != 1 || !strings.Contains(rep.Cuts[0], c.want) || rep.Starts[0].Whole {
			t.Errorf("%+v: cut %v", c.o, rep.Cuts)
		}
		if a, b := outcome(rep, "small"), outcome(rep, "far"); a.Verdict != HoldsWithin || b.Verdict != Unclear {
			t.Errorf("%+v: %s, %s", c.o, a.Verdict, b.Verdict)
		}
	}
}

// wideDesigns are designs that use all of the language.
func wideDesigns(t *testing.T) (list []*design.Design) {
	t.Helper()
	files, _ := filepath.Glob("../story/testdata/pass/*.lien")
	more, _ := filepath.Glob("../../examples/*.lien")
	for _, f := range append(files, more...) {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		d := design.Parse(filepath.Base(f), string(text))
		if d.Failed() {
			t.Fatal(d.Findings[0].Message)
		}
		list = append(list, d)
	}
	if len(list) < 20 {
		t.Fatalf("only %d designs", len(list))
	}
	return list
}

// TestRemembering: with turns remembered and cells set, and in parts, a proof
// comes to the same as by taking every turn on every way, on designs that use
// all of the language.
func TestRemembering(t *testing.T) {
	for _, d := range wideDesigns(t) {
		var want string
		for _, o := range []Options{{Plain: true, forget: true}, {Plain: true}, {Disabled: map[string]bool{passOrder.Name: true}}} {
			o.States = designs(40, 700)
			if d.Set.Files()[0].Name == "layers.lien" { // what is told later is told of what was done alone
				o.States = 4500
			}
			rep := Run(d, o)
			if len(rep.Starts) > 0 && (rep.Starts[0].Symmetric) {
				continue // fewer states; see TestAlike
			}
			got := told(rep)
			if want == "" {
				want = got
			}
			if got != want {
				t.Errorf("%s, %+v: it is\n%s\nwhere every turn is taken\n%s", d.Set.Files()[0].Name, o, got, want)
			}
		}
	}
}

// told is all that a proof found.
func told(rep *Report) string {
	var out strings.Builder
	for _, o := range rep.Laws {
		fmt.Fprintln(&out, o.Name(), o.Verdict)
		if o.Breach != nil && o.Breach.Path != nil {
			fmt.Fprintln(&out, o.Breach.Path.Steps)
		}
	}
	for _, s := range rep.Starts {
		fmt.Fprintln(&out, s.States, s.Turns, s.Depth)
	}
	fmt.Fprintln(&out, rep.Learned, rep.Cuts)
	return out.String()
}

// TestSlices: what nothing asks for makes no states of its own: a proof of a
// design that counts without end is whole, unless a turn could fail by it.
func TestSlices(t *testing.T) {
	for _, c := range []struct {
		does  string
		whole bool
	}{
		{"presses += 1", true},
		{"presses = on ? presses + 1 : 0", true},
		{"presses += 1; log `${presses}`", true},
		{"presses += 1; if (presses > 2) presses = 0", true},
		{"presses = 4 / 2 + presses", false},
		{"presses = presses + presses + 1", false},
		{"presses += 1; if (presses > 9000) on = false", false},
	} {
		d := parsed(t, `component a-b {
  holds on: boolean = false
  holds presses: number = 0
  view { button "press" { click -> { on = !on; `+c.does+` } }; button "count" { click -> presses += 1 }; when on { p "on" }; p `+"`${presses}`"+` }
}
start a-b
law "off again" { always the(a-b).on || !the(a-b).on }
`)
		rep := Run(d, Options{States: 6000})
		for _, o := range rep.Laws {
			if want := map[bool]Verdict{true: Holds, false: HoldsWithin}[c.whole]; o.Verdict != want && (c.whole || o.Name() == "off again") {
				t.Errorf("%s: %s is %s, want %s; cut %q", c.does, o.Name(), o.Verdict, want, rep.Cuts)
			}
		}
	}
}

// TestWorkers: however many search, they find the same in the same order.
func TestWorkers(t *testing.T) {
	for seed := range uint64(12) {
		d := generated(t, seed)
		var first string
		for _, workers := range []int{1, 2, 5} {
			rep := Run(d, Options{Workers: workers, States: 600, Asks: 2})
			if first == "" {
				first = told(rep)
			}
			if got := told(rep); got != first {
				t.Errorf("design %d: %d workers find\n%s\none finds\n%s", seed, workers, got, first)
			}
		}
	}
}

// Where a question can fail in several ways the scenario says in which.
func TestFailuresAreTold(t *testing.T) {
	text := `service kiln-log { find(): string replies "a" fails "offline", "full" }
component kiln-page {
  holds said: string = ""
  view { button "Ask" { click -> ask kiln-log.find() { got(t) -> said = t; failed(w) -> said = w } }; p ` + "`${said}`" + ` }
}
start kiln-page
law "never full" { never the(kiln-page).said == "full" }
`
	d := parsed(t, text)
	b := Run(d, Options{States: 200}).Laws[0].Breach
	if got := strings.Join(b.Path.Steps, "; "); got != `press button "Ask"; fail kiln-log.find with "full"` {
		t.Fatalf("it breaks by %s", got)
	}
	r := story.Run(parsed(t, text+b.Path.Scenario(d, "it breaks")), nil)
	if !r.Failed() || r.Results[0].Failure.Law == nil {
		t.Error("the scenario does not break the law")
	}
}
