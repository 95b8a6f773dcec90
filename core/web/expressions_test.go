package web

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
)

// TestExpressions: expressions at random come to the same on the engine and in a built page.
func TestExpressions(t *testing.T) {
	t.Parallel()
	many := 150
	if *judge {
		many = 3000
	}
	b := openBrowser(t)
	g := &expressions{rand.New(rand.NewPCG(7, 3))}
	kept, tried := 0, 0
	for kept < many {
		var list []string
		for len(list) < 150 {
			tried++
			if x := g.text(3); evaluates(x) {
				list = append(list, x)
			}
		}
		d := parse(t, pageOf(list))
		e := engine.New(d)
		if _, err := e.Mount(d.Starts[0]); err != nil {
			t.Fatal(err)
		}
		if _, err := b.Beside(d, e, d.Starts[0]); err != nil {
			t.Errorf("%v\n%s", err, pageOf(list))
		}
		kept += len(list)
	}
	t.Logf("%d of %d expressions come to a value", kept, tried)
	if kept < tried/3 {
		t.Error("too many come to none")
	}
}

// pageOf shows the texts of expressions, one a paragraph.
func pageOf(list []string) string {
	var out strings.Builder
	out.WriteString("type Ware = { id: string, kg: number, note?: string }\n\nderives twice(n: number) = n * 2\n\ncomponent kiln-page {\n" +
		"  holds n: number = 3\n  holds s: string = \"Ash und Öl ßé\"\n  holds l: number[] = [3, 1, 2, 1]\n  holds words: string[] = [\"tin\", \"ash\", \"Tin\", \"\"]\n" +
		"  holds wares: Ware[] = [{ id: \"b\", kg: 1.5 }, { id: \"a\", kg: 20, note: \"thin\" }]\n  holds may: string? = null\n  derives has(id: string) = wares.some(w => w.id == id)\n\n  view {\n")
	for _, x := range list {
		fmt.Fprintf(&out, "    p `${%s}`\n", x)
	}
	out.WriteString("  }\n}\n\nstart kiln-page\n")
	return out.String()
}

// evaluates says whether an expression fits, and comes to a value: it may compare what is never equal, or divide by
// nothing.
func evaluates(x string) bool {
	d := design.Parse("kiln.lien", pageOf([]string{x}))
	if d.Failed() {
		return false
	}
	_, err := engine.New(d).Mount(d.Starts[0])
	return err == nil
}

// expressions writes expressions of a type, of some depth.
type expressions struct{ *rand.Rand }

func (g *expressions) pick(list ...string) string { return list[g.IntN(len(list))] }

func (g *expressions) text(depth int) string {
	if depth == 0 {
		return g.pick(`"ash"`, `""`, `"Öl ßé"`, "s", `(words[0] ?? "-")`, `"a\u{2028}b"`)
	}
	d := depth - 1
	switch g.IntN(16) {
	case 0:
		return "`" + g.pick("", "n: ", "$", "\\`") + "${" + g.number(d) + "} ${" + g.text(d) + "}`"
	case 1:
		return "(" + g.text(d) + " + " + g.text(d) + ")"
	case 2:
		return "(" + g.truth(d) + " ? " + g.text(d) + " : " + g.text(d) + ")"
	case 3:
		return "(" + g.text(d) + ")." + g.pick("trim()", "toLowerCase()", "toUpperCase()")
	case 4:
		return "(" + g.text(d) + ").slice(" + g.small() + g.pick("", ", "+g.small()) + ")"
	case 5:
		return "((" + g.text(d) + ").at(" + g.small() + ") ?? \"none\")"
	case 6:
		return "(" + g.text(d) + ")." + g.pick("padStart", "padEnd") + "(" + g.pick("2", "7", "0") + g.pick("", `, "ab"`, `, ""`) + ")"
	case 7:
		return "(" + g.text(d) + ").replaceAll(" + g.pick(`"s"`, `"sh"`, `"$"`) + ", " + g.pick(`"$&"`, `"x"`, `""`) + ")"
	case 8:
		return "(" + g.text(d) + ").split(" + g.pick(`""`, `"s"`, `" "`) + ").join(" + g.pick("", `"-"`, `""`) + ")"
	case 9:
		return "(" + g.number(d) + ").toFixed(" + g.pick("0", "1", "2") + ")"
	case 10:
		return "String(" + g.pick(g.number(d), g.truth(d), g.text(d)) + ")"
	case 11:
		return g.words(d) + ".join(" + g.pick("", `", "`) + ")"
	case 12:
		return "(" + g.words(d) + "[" + g.small() + "] ?? \"none\")"
	case 13:
		return "(may ?? " + g.text(d) + ")"
	case 14:
		return "(" + g.list(d) + ").map((x, i) => `${x}:${i}`).join(\" \")"
	}
	return "(wares.find(w => " + g.pick("w.kg > "+g.small(), `w.note != null`, "w.id == "+g.text(d)) + ")?.note ?? \"none\")"
}

func (g *expressions) number(depth int) string {
	if depth == 0 {
		return g.pick("n", "0", "1.5", "10", "0.1", "l.length", "s.length", "1000000")
	}
	d := depth - 1
	switch g.IntN(12) {
	case 0, 1:
		return "(" + g.number(d) + " " + g.pick("+", "-", "*", "/", "%") + " " + g.number(d) + ")"
	case 2:
		return "-" + "(" + g.number(d) + ")"
	case 3:
		return "Math." + g.pick("round", "floor", "ceil", "abs", "trunc") + "(" + g.number(d) + ")"
	case 4:
		return "Math." + g.pick("min", "max") + "(" + g.number(d) + ", " + g.number(d) + ")"
	case 5:
		return "(Number(" + g.pick(`"12"`, `" 1e3 "`, `"x"`, `""`, g.text(d)) + ") ?? 0)"
	case 6:
		return "(" + g.text(d) + ")." + g.pick("length", `indexOf("s")`)
	case 7:
		return g.list(d) + "." + g.pick("length", "indexOf(1)", "findIndex(x => x > 1)", "reduce((sum, x) => sum + x, 0)", "reduce((sum, x, i) => sum + x * i, 1)")
	case 8:
		return "(" + g.list(d) + "." + g.pick("at("+g.small()+")", "find(x => x > 1)", "findLast(x => x < 3)") + " ?? 7)"
	case 9:
		return "twice(" + g.number(d) + ")"
	case 10:
		return "wares.reduce((sum, w) => sum + w.kg, " + g.number(d) + ")"
	}
	return "(" + g.truth(d) + " ? " + g.number(d) + " : " + g.number(d) + ")"
}

func (g *expressions) truth(depth int) string {
	if depth == 0 {
		return g.pick("n > 2", "true", "may == null", `s == "ash"`)
	}
	d := depth - 1
	switch g.IntN(9) {
	case 0:
		return "(" + g.number(d) + " " + g.pick("<", "<=", ">", ">=", "==", "!=") + " " + g.number(d) + ")"
	case 1:
		return "(" + g.text(d) + " " + g.pick("<", ">=", "==", "!=") + " " + g.text(d) + ")"
	case 2:
		return "(" + g.truth(d) + " " + g.pick("&&", "||") + " " + g.truth(d) + ")"
	case 3:
		return "!" + "(" + g.truth(d) + ")"
	case 4:
		return "(" + g.text(d) + ")." + g.pick("includes", "startsWith", "endsWith") + "(" + g.text(0) + ")"
	case 5:
		return g.list(d) + "." + g.pick("includes(2)", "some(x => x > 2)", "every(x => x > 0)")
	case 6:
		return "(" + g.list(d) + " " + g.pick("==", "!=") + " " + g.list(d) + ")"
	case 7:
		return `({ id: "a", kg: ` + g.number(d) + " } == { kg: " + g.number(d) + `, id: "a" })`
	}
	return "has(" + g.text(d) + ")"
}

func (g *expressions) list(depth int) string {
	if depth == 0 {
		return g.pick("l", "[1, 2, 3]", "wares.map(w => w.kg)")
	}
	d := depth - 1
	switch g.IntN(9) {
	case 0:
		return "[" + g.number(d) + ", ..." + g.list(d) + "]"
	case 1:
		return g.list(d) + ".filter(x => x " + g.pick("> 1", "!= 2", "< "+g.small()) + ")"
	case 2:
		return g.list(d) + ".map((x, i) => " + g.pick("x + i", "x * 2", g.number(0)) + ")"
	case 3:
		return g.list(d) + ".slice(" + g.small() + g.pick("", ", "+g.small()) + ")"
	case 4:
		return g.list(d) + ".concat(" + g.list(d) + ")"
	case 5:
		return g.list(d) + ".toSorted((a, b) => " + g.pick("a - b", "b - a", "0") + ")"
	case 6:
		return g.list(d) + ".toReversed()"
	case 7:
		return g.list(d) + ".flatMap(x => [x, " + g.number(0) + "])"
	}
	return "Array.from(" + g.pick("0", "3", "n") + ", i => i + " + g.number(0) + ")"
}

func (g *expressions) words(depth int) string {
	if depth == 0 {
		return "words"
	}
	return g.pick("words.toSorted((a, b) => a < b ? -1 : a == b ? 0 : 1)", `words.filter(w => w != "")`, "words.map(w => w.toUpperCase())", "[s, ...words]", "s.split(\" \")")
}

// small is a place in a text or list, from either end.
func (g *expressions) small() string { return g.pick("0", "1", "2", "-1", "-2", "9", "-9") }
