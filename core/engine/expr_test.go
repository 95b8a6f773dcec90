package engine

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/value"
)

// TestExpressions: expressions give what ECMA-262 says they do, save where
// the language says otherwise.
func TestExpressions(t *testing.T) {
	for _, c := range []struct{ expr, want string }{
		{`1 + 2 * 3 - 4 / 8`, "6.5"},
		{`(1 + 2) * 3`, "9"},
		{`7 % 3`, "1"},
		{`-7 % 3`, "-1"},
		{`0 * -1`, "0"},
		{`0.1 + 0.2`, "0.30000000000000004"},
		{`1e21 + 1`, "1e+21"},
		{`"a" + "b"`, `"ab"`},
		{`"a" < "b" && "B" < "a" && !("b" <= "a")`, "true"},
		{`2 <= 2 && 2 >= 2 && !(2 < 2) && !(2 > 2)`, "true"},
		{`[1, 2] == [1, 2]`, "true"},
		{`{ a: 1, b: [2] } == { b: [2], a: 1 }`, "true"},
		{`[1, 2] != [2, 1]`, "true"},
		{`none == null ? "null" : "not"`, `"null"`},
		{`none ?? "other"`, `"other"`},
		{`none?.length ?? -1`, "-1"},
		{`word?.length ?? -1`, "5"},
		{`word?.slice(1).toUpperCase() ?? ""`, `"ELOW"`},
		{`list[0] ?? 9`, "3"},
		{`list[9] ?? 9`, "9"},
		{`list[-1] ?? 9`, "9"},
		{`list[0.5] ?? 9`, "9"},
		{`list.at(-1) ?? 9`, "2"},
		{`list.length`, "3"},
		{`list.map((x, i) => x * i)`, "[0, 1, 4]"},
		{`list.filter(x => x > 1)`, "[3, 2]"},
		{`list.find(x => x < 3) ?? 0`, "1"},
		{`list.findLast(x => x < 3) ?? 0`, "2"},
		{`list.findIndex(x => x == 2)`, "2"},
		{`list.findIndex(x => x == 9)`, "-1"},
		{`list.some(x => x == 1) && !list.every(x => x == 1)`, "true"},
		{`list.includes(2)`, "true"},
		{`[[1], [2]].indexOf([2])`, "1"},
		{`list.concat([4], [5, 6])`, "[3, 1, 2, 4, 5, 6]"},
		{`list.slice(1)`, "[1, 2]"},
		{`list.slice(-2, -1)`, "[1]"},
		{`list.slice(2, 1)`, "[]"},
		{`list.join("-")`, `"3-1-2"`},
		{`list.join()`, `"3,1,2"`},
		{`list.flatMap(x => [x, x])`, "[3, 3, 1, 1, 2, 2]"},
		{`list.reduce((sum, x) => sum + x, 10)`, "16"},
		{`list.reduce((all, x, i) => i == 1 ? all : [...all, x], [0])`, "[0, 3, 2]"},
		{`list.toSorted((a, b) => a - b)`, "[1, 2, 3]"},
		{`["b", "a"].toSorted((a, b) => a < b ? -1 : 1)`, `["a", "b"]`},
		{`list.toReversed()`, "[2, 1, 3]"},
		{`[...list, ...[4]]`, "[3, 1, 2, 4]"},
		{`{ ...{ a: 1, b: 2 }, b: 3, c: 4 }`, "{ a: 1, b: 3, c: 4 }"},
		{`Array.from(3, i => i * i)`, "[0, 1, 4]"},
		{`Array.from(-1, i => i)`, "[]"},
		{`Math.min(3, 1, 2) + Math.max(3, 1, 2)`, "4"},
		{`[Math.round(2.5), Math.round(-2.5), Math.floor(-0.5), Math.ceil(-0.5), Math.abs(-2), Math.trunc(-2.7)]`, "[3, -2, -1, 0, 2, -2]"},
		{`Number(" 12 ") ?? -1`, "12"},
		{`Number("") ?? -1`, "-1"},
		{`Number("12px") ?? -1`, "-1"},
		{`Number("Infinity") ?? -1`, "-1"},
		{`String(1.50) + String(true)`, `"1.5true"`},
		{`(1.005).toFixed(1)`, `"1.0"`},
		{`" a b ".trim().length`, "3"},
		{`"aXbXc".split("X")`, `["a", "b", "c"]`},
		{`"abc".split("")`, `["a", "b", "c"]`},
		{`"abc".includes("bc") && "abc".startsWith("ab") && "abc".endsWith("c")`, "true"},
		{`"abc".slice(-2)`, `"bc"`},
		{`"abc".indexOf("z")`, "-1"},
		{`"7".padStart(3, "0") + "7".padEnd(3)`, `"0077  "`},
		{`"a-b-c".replaceAll("-", "+")`, `"a+b+c"`},
		{`"abc".at(-1) ?? ""`, `"c"`},
		{`"abc".at(3) ?? "none"`, `"none"`},
		{`"A".charCodeAt(0)`, "65"},
		{`"🔥".length`, "2"},
		{`"a🔥b".indexOf("b")`, "3"},
		{`"a🔥b".slice(1, 3)`, `"🔥"`},
		{"`${1}-${true}-${\"x\"}`", `"1-true-x"`},
		{`"\u{e9}\n".length`, "2"},
		{`twice(twice(3))`, "12"},
		{`"a".toUpperCase().toLowerCase()`, `"a"`},
		{`list.map(x => list.filter(y => y < x).length)`, "[2, 0, 1]"},
		{`many(2) ? half : 0`, "1.5"},
		{`false && list[9] == 1 / 0`, "false"},
		{`true || 1 / 0 > 1`, "true"},
	} {
		v, err := evaluate(t, c.expr)
		if err != nil {
			t.Errorf("%s fails: %v", c.expr, err)
		} else if got := value.Show(v); got != c.want {
			t.Errorf("%s is %s, want %s", c.expr, got, c.want)
		}
	}
}

// TestFailingExpressions: what has no value fails the turn, with a reason.
func TestFailingExpressions(t *testing.T) {
	for _, c := range []struct{ expr, words string }{
		{`1 / 0`, "not a finite number"},
		{`0 / 0`, "not a finite number"},
		{`1e308 * 10`, "not a finite number"},
		{`5 % 0`, "not a finite number"},
		{`"abc".charCodeAt(9)`, "no character 9"},
		{`(1).toFixed(101)`, "0 to 100 decimals"},
		{`Array.from(2000000, i => i)`, "more than a million"},
		{`"x".padEnd(2000000)`, "more than a million"},
		{`"a".padEnd(600000, "a").split("").concat("a".padEnd(600000, "a").split("")).length`, "more than a million"},
		{`Array.from(3000, i => i).filter(a => list.some(b => b < 0) || Array.from(3000, j => j).some(b => b < 0)).length`, "takes more than"},
		{`"xxxxxxxxxx".replaceAll("x", "yyyyyyyyyy".padEnd(200000)).length`, "more than a million"},
	} {
		_, err := evaluate(t, c.expr)
		if err == nil || !strings.Contains(err.Error(), c.words) {
			t.Errorf("%s: %v, want %q", c.expr, err, c.words)
		}
	}
}

// evaluate works an expression out in a component.
func evaluate(t *testing.T, expr string) (value.Value, error) {
	t.Helper()
	d := design.Parse("test.lien", `derives twice(n: number) = n * 2
component a-b {
  takes none: string? = null
  takes word: string? = "below"
  holds list: number[] = [3, 1, 2]
  derives many(n: number) = list.length > n
  derives half: number = list.length / 2
  derives x = `+expr+`
  view { p "x" }
}
start a-b
`)
	for _, f := range d.Findings {
		if d.Failed() {
			t.Fatalf("%s: %s", expr, f.Message)
		}
	}
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		return nil, err
	}
	var v value.Value
	_, err := e.turn("look", func() { v = e.read(&e.root.values[d.Components[0].Member("x").Slot]) })
	return v, err
}

func TestFailedTurnChangesNothing(t *testing.T) {
	d := design.Parse("test.lien", `component a-row {
  takes n: number
  emits up()
  holds own: number = 0
  view { button `+"`${n} ${own}`"+` { click -> { own += 1; emit up() } } }
}
component a-b {
  holds keys: number[] = [1, 2, 3]
  holds n: number = 1
  holds last: Key = fresh()
  view {
    each k in keys by k { a-row { n <- k * n; up -> { last = fresh(); keys = [...keys.slice(1), 9]; n += 1; if (n > 2) n = n / 0 } } }
    when n == 1 { p "one" } else { p `+"`${keys.join(\",\")} is more`"+` }
    input { value <- last }
  }
}
start a-b
`)
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	press := func(i int) error {
		var buttons []*Element
		e.Elements(func(el *Element) bool {
			if el.Tag() == "button" {
				buttons = append(buttons, el)
			}
			return true
		})
		return e.Click(buttons[i])
	}
	if err := press(0); err != nil {
		t.Fatal(err)
	}
	before, keys := snapshot(e), e.keys
	for i := range 3 {
		if err := press(i); err == nil || !strings.Contains(err.Error(), "not a finite number") {
			t.Fatalf("press %d: %v", i, err)
		}
		if after := snapshot(e); after != before || e.keys != keys {
			t.Fatalf("press %d changed the page from\n%s\nto\n%s", i, before, after)
		}
		if err := judge(e); err != nil {
			t.Fatal(err)
		}
	}
}
