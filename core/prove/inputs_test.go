package prove

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/value"
)

// comparing is a page with a field for texts and one for numbers, or a slider, that
// become cells, records, parameters and payloads, and are compared with what is
// written in the design, or worked on.
func comparing(r *rand.Rand) string {
	either := func(list ...string) string { return list[r.IntN(len(list))] }
	var text, number func(depth int) string
	text = func(depth int) string {
		if depth == 0 {
			return either(`"ash"`, `"tin"`, `list[0] ?? ""`, `list.at(-1) ?? ""`, `cards[1]?.answer ?? ""`, `rack.glaze`)
		}
		return either(text(0), `(on ? `+text(0)+` : `+text(0)+`)`, `pick(heat)`, `(cards.find(c => c.level == heat)?.answer ?? "none")`, `[`+text(0)+`].concat(list)[1] ?? ""`,
			`apply(k => k == 1 ? `+text(0)+` : "low")`, `(cards.map(c => c.answer)[0] ?? "")`, text(0)+`.trim()`, `kept.answer`, `list.toReversed()[0] ?? ""`)
	}
	number = func(depth int) string {
		if depth == 0 {
			return either(`3`, `-2`, `levels[0] ?? 0`, `most`, `0`)
		}
		return either(number(0), `(on ? `+number(0)+` : `+number(0)+`)`, `list.length`, `-low`, `low`, `half(`+number(0)+`)`, `levels.length`, `cards[0]?.level ?? 0`)
	}
	open, texts := r.IntN(4) == 0, r.IntN(3) // whether it is worked on, and which fields there are
	condition := func() string {
		switch n := r.IntN(4); {
		case open && n == 0:
			return either(`text.length > 3`, `text < "m"`, `heat + 1 > `+number(0), `heat * 2 == low`)
		case n == 1:
			return `heat ` + either("==", "<", ">=", "!=") + ` (` + number(1) + `)`
		case n == 2:
			return either(`!on`, `on`, `low == heat`)
		}
		switch texts {
		case 0:
			return either(`text `+either("==", "!=")+` (`+text(1)+`)`, `list.includes(text)`, `cards.some(c => c.answer == text && c.level `+either("==", ">", "<")+` heat)`)
		case 1:
			return either(`told == (`+text(1)+`)`, `told != (`+text(0)+`)`)
		}
		return either(`kept.answer == (`+text(0)+`)`, `text == (`+text(0)+`)`, `kept.answer != (`+text(1)+`)`)
	}
	return `const list = ["ash", "shino"]
const levels = [5, 8]
const most = 9
const cards = [{ answer: "celadon", level: 4 }, { answer: "tenmoku", level: 7 }]
derives pick(n: number) = n == 6 ? "copper" : "iron"
derives half(n: number) = n / 2
derives apply(of: (k: number) => string) = of(1)
context rack { shares glaze: string = "rutile"; action turn() { glaze = glaze == "rutile" ? "chun" : "rutile" } }
component field-part {
  takes first: string
  emits typed(text: string)
  view { input { aria-label <- "told"; value <- first; input(e) -> emit typed(e.value) } }
}
component page-root {
  supplies rack as rack
  holds text: string = ""
  holds told: string = ""
  holds heat: number = 1
  holds low: number = 0
  holds on: boolean = false
  holds bad: boolean = false
  holds kept: { answer: string } = { answer: "none" }
  view {
    ` + []string{`input { aria-label <- "text"; value <-> text }`, `field-part { first <- told; typed(t) -> told = ` + either("t", "t", `t == "a" ? "b" : t`) + ` }`, `input { aria-label <- "text"; value <-> text }`}[texts] + `
    input { aria-label <- "heat"; type <- ` + either(`"number"`, `"range"; min <- -3; max <- 10`) + `; value <-> heat }
    button "turn" { click -> { on = !on; low = ` + either("1 - low", "heat", "4") + `; rack.turn() } }
    ` + []string{``, ``, `button "keep" { click -> kept = { answer: ` + either("text", `"slip"`) + ` } }`}[texts] + `
    button "try" { click -> if (` + condition() + ` && ` + condition() + ` && ` + condition() + either(``, ` && `+condition()) + `) bad = true }
    p ` + "`${told} ${kept.answer}`" + `
  }
}
start page-root
law "never bad" { never the(page-root).bad }
`
}

// TestWhatIsTypedIsEnough: where a law holds and no cut says that some texts or
// numbers were not typed, no others break it: whatever is typed at random.
func TestWhatIsTypedIsEnough(t *testing.T) {
	held, within := 0, 0
	for seed := range uint64(designs(10, 400)) {
		r := rand.New(rand.NewPCG(seed, 41))
		text := comparing(r)
		d := design.Parse("random.lien", text)
		if d.Failed() {
			continue // a text is compared with two literals
		}
		rep := Run(d, Options{States: 1_500})
		switch o := outcome(rep, "never bad"); o.Verdict {
		case Holds:
			held++
			for range 60 {
				if steps := typedAtRandom(t, d, r); steps != nil {
					t.Fatalf("seed %d: it holds, and is broken by\n  %s\n%s", seed, strings.Join(steps, "\n  "), text)
				}
			}
		case HoldsWithin:
			within++
		}
	}
	if held < 2 || within < 2 {
		t.Errorf("%d hold, %d within what was typed: too few to tell anything", held, within)
	}
}

// typedAtRandom types and presses some things, and gives them if the law is broken
// then.
func typedAtRandom(t *testing.T, d *design.Design, r *rand.Rand) (steps []string) {
	t.Helper()
	words := []string{"", "a", "ash", "ASH", " ash ", "tin", "shino", "celadon", "tenmoku", "copper", "iron", "rutile", "chun", "low", "slip", "none", "kiln room", "z", "ashtin", "b", "somewhat longer"}
	e := engine.New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	bad := e.Compile(&d.Laws[0].Clauses[0].Unit)
	for range 8 {
		var all []*engine.Element
		e.Elements(func(el *engine.Element) bool {
			if el.Tag() == "input" || el.Tag() == "button" {
				all = append(all, el)
			}
			return true
		})
		el, err := all[r.IntN(len(all))], error(nil)
		number := value.FormatNumber([]float64{float64(r.IntN(16) - 5), float64(r.IntN(30))/2 - 4, 1e6, -40}[r.IntN(4)])
		switch kind, _ := el.Attr("type"); {
		case el.Tag() == "button":
			steps, err = append(steps, "press "+e.Name(el)), e.Press(el)
		case kind == "range":
			steps, err = append(steps, "set to "+number), e.Set(el, number)
		case kind == "number":
			steps, err = append(steps, "type "+number), e.Type(el, number)
		default:
			word := words[r.IntN(len(words))]
			steps, err = append(steps, fmt.Sprintf("type %q into %s", word, e.Name(el))), e.Type(el, word)
		}
		if err != nil {
			return nil // the turn fails, which is for another promise
		}
		if v, err := e.Eval(bad); err != nil || v == value.Value(value.Bool(true)) {
			return steps
		}
	}
	return nil
}
