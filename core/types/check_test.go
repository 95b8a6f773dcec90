package types_test

import (
	"strings"
	"testing"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
)

// around is a component with something of every type; the expression under
// test is the value of its derives x.
const around = `type Ware = { id: string, kg: number, note?: string, shelf: "top" | "low" | null, tags: string[] }
type Tree = { name: string, kids: Tree[] }
type Event = { kind: "load", id: string } | { kind: "fire", heat: number }

derives twice(n: number) = n * 2

component type-test {
  takes ware: Ware
  takes maybe: Ware?
  takes format: (kg: number) => string
  takes event: Event
  takes tree: Tree
  holds wares: Ware[] = []
  holds names: string[] = []
  holds n: number = 0
  holds s: string = ""
  holds b: boolean = false
  holds mode: "grid" | "rows" = "grid"
  holds key: Key = fresh()
  derives many(x: number) = x > n
  derives x = EXPR
  view { p "x" }
}
`

func typed(t *testing.T, expr string) (*design.Design, string) {
	t.Helper()
	d := design.Parse("test.lien", strings.Replace(around, "EXPR", expr, 1))
	return d, d.Components[0].Member("x").Type().String()
}

func TestTypes(t *testing.T) {
	for _, c := range []struct{ expr, want string }{
		{`1`, "1"},
		{`-1`, "-1"},
		{`"a"`, `"a"`},
		{`true`, "true"},
		{`1 + n`, "number"},
		{`s + "a"`, "string"},
		{"`a ${n} ${s} ${b}`", "string"},
		{`n % 2 == 0`, "boolean"},
		{`s < "a"`, "boolean"},
		{`!b`, "boolean"},
		{`-n`, "number"},
		{`b ? 1 : n`, "number"},
		{`b ? "a" : null`, `"a"?`},
		{`b ? 1 : "a"`, `1 | "a"`},
		{`ware`, "Ware"},
		{`ware.kg`, "number"},
		{`ware.note`, "string?"},
		{`ware.note ?? "none"`, "string"},
		{`ware.note?.length`, "number?"},
		{`maybe?.kg`, "number?"},
		{`maybe?.note`, "string?"},
		{`maybe?.tags.length`, "number?"},
		{`maybe?.tags.map(t => t.length)`, "number[]?"},
		{`maybe?.note?.trim()`, "string?"},
		{`maybe != null ? maybe.kg : 0`, "number"},
		{`maybe == null ? 0 : maybe.kg`, "number"},
		{`maybe != null && maybe.kg > 1`, "boolean"},
		{`maybe == null || maybe.kg > 1`, "boolean"},
		{`!(maybe == null) && maybe.kg > 1`, "boolean"},
		{`maybe?.note != null ? maybe.note.length + maybe.kg : 0`, "number"},
		{`maybe?.kg == 2 ? maybe.id : ""`, "string"},
		{`ware.shelf`, `"top" | "low" | null`},
		{`ware.shelf == "top" ? ware.shelf : "top"`, `"top"`},
		{`ware.shelf != null ? ware.shelf : "low"`, `"top" | "low"`},
		{`mode == "grid" ? "rows" : mode`, `"rows"`},
		{`event.kind == "fire" ? event.heat : event.id.length`, "number"},
		{`event.kind`, `"load" | "fire"`},
		{`wares[0]`, "Ware?"},
		{`wares[0]?.id`, "string?"},
		{`wares.length`, "number"},
		{`s.length`, "number"},
		{`[1, 2, n]`, "number[]"},
		{`[...names, s]`, "string[]"},
		{`[...wares, { ...ware, kg: 2 }]`, "Ware[]"},
		{`{ a: 1, b: "x" }`, "{ a: number, b: string }"},
		{`{ ...ware, kg: "heavy" }.kg`, "string"},
		{`{ s, n }`, "{ s: string, n: number }"},
		{`wares.map(w => w.kg)`, "number[]"},
		{`wares.map((w, i) => i)`, "number[]"},
		{`wares.map(w => ({ id: w.id }))`, "{ id: string }[]"},
		{`wares.map(w => { id: w.id })`, "{ id: string }[]"},
		{`wares.filter(w => w.kg > n)`, "Ware[]"},
		{`wares.map(w => w.note).filter(x => x != null)`, "string[]"},
		{`wares.find(w => w.id == s)`, "Ware?"},
		{`wares.findLast(w => w.id == s)?.kg ?? 0`, "number"},
		{`wares.findIndex(w => w.id == s)`, "number"},
		{`wares.some(w => w.kg > 1)`, "boolean"},
		{`wares.every(w => many(w.kg))`, "boolean"},
		{`names.includes(s)`, "boolean"},
		{`names.indexOf(s)`, "number"},
		{`names.at(-1)`, "string?"},
		{`names.concat(["a"], names)`, "string[]"},
		{`names.slice(1)`, "string[]"},
		{`names.join(", ")`, "string"},
		{`wares.flatMap(w => w.tags)`, "string[]"},
		{`wares.reduce((sum, w) => sum + w.kg, 0)`, "number"},
		{`wares.reduce((all, w) => [...all, w.id], names)`, "string[]"},
		{`names.toSorted((a, b) => a.length - b.length)`, "string[]"},
		{`names.toReversed()`, "string[]"},
		{`s.split(",").map(p => p.trim())`, "string[]"},
		{`s.at(0)`, "string?"},
		{`s.padStart(3, "0").toUpperCase().charCodeAt(0)`, "number"},
		{`n.toFixed(2)`, "string"},
		{`Number(s)`, "number?"},
		{`Number(s) ?? 0`, "number"},
		{`String(n)`, "string"},
		{`Math.max(1, n, ware.kg)`, "number"},
		{`Array.from(n, i => i * 2)`, "number[]"},
		{`Array.from(3, i => ({ i: i }))`, "{ i: number }[]"},
		{`twice(n)`, "number"},
		{`many(3)`, "boolean"},
		{`format(ware.kg)`, "string"},
		{`tree.kids[0]?.kids[0]?.name`, "string?"},
		{`tree.kids.flatMap(k => k.kids).map(k => k.name)`, "string[]"},
		{`key == key`, "boolean"},
		{`b == true`, "boolean"},
	} {
		d, got := typed(t, c.expr)
		for _, f := range d.Findings {
			if f.Level > finding.Note {
				t.Errorf("%s: %s", c.expr, f.Message)
			}
		}
		if got != c.want {
			t.Errorf("%s has the type %s, want %s", c.expr, got, c.want)
		}
	}
}

func TestTypeErrors(t *testing.T) {
	for _, c := range []struct{ expr, rule, words string }{
		{`maybe.kg`, "may-be-null", "maybe may be null"},
		{`maybe != null || maybe.kg > 1`, "may-be-null", "maybe may be null"},
		{`ware.note.length`, "may-be-null", "ware.note may be null"},
		{"`${ware.note}`", "may-be-null", "a template prints a value"},
		{`wares[0].kg`, "may-be-null", "may be null"},
		{`Number(s) * 2`, "may-be-null", "may be null"},
		{`wares.find(w => w.kg > 1).id`, "may-be-null", "may be null"},
		{`maybe?.note.trim()`, "may-be-null", "may be null"},
		{`[...maybe?.tags]`, "may-be-null", "... spreads a list"},
		{`1 + "a"`, "wrong-type", "template"},
		{`s - 1`, "wrong-type", "- takes a number"},
		{`n < "a"`, "wrong-type", "compares two numbers or two strings"},
		{`!n`, "wrong-type", "! turns round a boolean"},
		{`n && b`, "wrong-type", "each side is a boolean"},
		{`s ? 1 : 2`, "wrong-type", `compare it: s != ""`},
		{`n ? 1 : 2`, "wrong-type", "compare it: n != 0"},
		{`n == s`, "wrong-type", "a number never equals a string"},
		{`mode == "list"`, "wrong-type", `it can be: "grid", "rows"`},
		{`mode == "gird"`, "wrong-type", "is not one of"},
		{`ware.name`, "not-in-scope", "has no field name"},
		{`ware.kgs`, "not-in-scope", "did you mean kg?"},
		{`event.heat`, "not-in-scope", "has no field heat"},
		{`names.push("a")`, "not-in-scope", "[...names, item]"},
		{`names.sort()`, "not-in-scope", "toSorted"},
		{`s.toUppercase()`, "not-in-scope", "did you mean toUpperCase?"},
		{`s.trim`, "wrong-type", "call it: .trim(...)"},
		{`Math.floor`, "wrong-type", "write Math.floor(...)"},
		{`Math.sqrt(n)`, "not-in-scope", "there is no Math.sqrt"},
		{`n.toFixed("2")`, "wrong-type", "decimals of toFixed is a number"},
		{`s.slice("1")`, "wrong-type", "start of slice"},
		{`s.includes()`, "payload-differs", "give part too"},
		{`s.trim(1)`, "payload-differs", "takes 0 values"},
		{`twice()`, "payload-differs", "twice takes 1 value"},
		{`twice("a")`, "wrong-type", "n of twice is a number"},
		{`twice`, "wrong-type", ""},
		{`n()`, "wrong-type", "cannot be called"},
		{`format("a")`, "wrong-type", "kg of format"},
		{`names.map(1)`, "wrong-type", "f of map"},
		{`names.map((a, b, c) => a)`, "wrong-type", "this function gets 2 values"},
		{`names.filter(x => x)`, "wrong-type", "this function gives a boolean"},
		{`names.includes(1)`, "wrong-type", "the list holds string"},
		{`wares.join(",")`, "wrong-type", ".map"},
		{`names.reduce((a, b) => a + b)`, "payload-differs", "a first value"},
		{`[x => 1]`, "wrong-type", "a function cannot stand here"},
		{"`${wares}`", "wrong-type", "a list has no text"},
		{"`${ware}`", "wrong-type", "has no text"},
		{"`${key}`", "wrong-type", "a key is shown"},
		{`s[0]`, "wrong-type", "write .at(i)"},
		{`n[0]`, "wrong-type", "[ ] reads lists"},
		{`names["a"]`, "wrong-type", "an index is a number"},
		{`now()`, "wrong-type", "another value each time"},
		{`fresh() == key`, "wrong-type", "another value each time"},
		{`missing`, "not-in-scope", "there is no missing"},
		{`waress`, "not-in-scope", "did you mean wares?"},
		{`all(type-test)`, "not-in-scope", "laws and scenarios only"},
		{`{ a: 1, a: 2 }.a`, "declared-twice", "given twice"},
		{`{ ...n }`, "wrong-type", "... spreads a record"},
		{`[...n]`, "wrong-type", "... spreads a list"},
		{`[]`, "wrong-type", "cannot be told from []"},
		{`null`, "wrong-type", "cannot be told from null"},
		{`x + 1`, "in-a-circle", "worked out from itself"},
		{`names.map(twice)`, "wrong-type", "f of map is a (item: string"},
		{`names.toSorted((a, b) => a < b)`, "wrong-type", "gives a number"},
		{`names.slice(0, "1")`, "wrong-type", "end of slice"},
		{`format == format`, "wrong-type", "cannot be compared"},
		{`tree.kids[0].name`, "may-be-null", "may be null"},
		{`maybe?.tags[0].length`, "may-be-null", "may be null"},
		{`b + 1`, "wrong-type", "adds two numbers or two strings"},
		{`-s`, "wrong-type", "takes a number"},
		{`[1, 2].join(n)`, "wrong-type", "is a string"},
		{`ware.shelf.length`, "may-be-null", "may be null"},
		{`event.kind == "cool"`, "wrong-type", "it can be"},
		{`String(ware)`, "wrong-type", "x of String is"},
		{`Number(ware)`, "wrong-type", ""},
		{`s.at("0")`, "wrong-type", "is a number"},
		{`names.every(x => 1)`, "wrong-type", "gives a boolean"},
		{`many("a")`, "wrong-type", "x of many is a number"},
		{`many(1, 2)`, "payload-differs", "many takes 1 value"},
		{`Math.max("1")`, "wrong-type", "is a number"},
	} {
		d, _ := typed(t, c.expr)
		found := false
		for _, f := range check.Run(d, check.Options{}) {
			if f.Level != finding.Error {
				continue
			}
			if f.Rule == c.rule && strings.Contains(f.Message+" | "+f.Write, c.words) {
				found = true
			} else {
				t.Errorf("%s: another finding: %s [%s]; %s", c.expr, f.Message, f.Rule, f.Write)
			}
		}
		if !found {
			t.Errorf("%s: no %s with %q", c.expr, c.rule, c.words)
		}
	}
}

// TestRecords: what is wrong with a record is said at the field.
func TestRecords(t *testing.T) {
	for _, c := range []struct{ value, words string }{
		{`{ id: "a", kg: 1, shelf: null, tags: [] }`, ""},
		{`{ id: "a", kg: 1, shelf: "top", tags: ["x"], note: null }`, ""},
		{`{ id: "a", kg: 1, shelf: null }`, "its field tags is missing"},
		{`{ id: 1, kg: 1, shelf: null, tags: [] }`, "id is a string, but this is a number | write \"1\""},
		{`{ id: "a", kg: 1, shelf: "mid", tags: [] }`, "shelf is \"top\" | \"low\" | null, but this is \"mid\""},
		{`{ id: "a", kg: 1, shelf: null, tags: [], colour: "red" }`, "has no field colour"},
		{`{ id: "a", kgs: 1, shelf: null, tags: [] }`, "did you mean kg?"},
	} {
		d := design.Parse("test.lien", strings.Replace(around, "derives x = EXPR", "derives x: Ware = "+c.value, 1))
		var said []string
		for _, f := range d.Findings {
			if f.Level == finding.Error {
				said = append(said, f.Message+" | "+f.Write)
			}
		}
		text := strings.Join(said, "\n")
		if (c.words == "") != (len(said) == 0) || !strings.Contains(text, c.words) {
			t.Errorf("%s: %s", c.value, text)
		}
	}
}
