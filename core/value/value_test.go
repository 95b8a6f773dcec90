package value

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"
	"unicode/utf8"
)

func TestFormatNumber(t *testing.T) {
	third := 0.1
	third += 0.2 // not as a constant, which would be exact
	for x, want := range map[float64]string{
		0: "0", 1: "1", -1.5: "-1.5", 1e21: "1e+21", 1e20: "100000000000000000000", 123456789012345680000: "123456789012345680000",
		1e-6: "0.000001", 1e-7: "1e-7", 1.5e-9: "1.5e-9", 1.7976931348623157e308: "1.7976931348623157e+308",
		5e-324: "5e-324", 100: "100", 1e15: "1000000000000000", third: "0.30000000000000004",
	} {
		if got := FormatNumber(x); got != want {
			t.Errorf("%g prints as %s, want %s", x, got, want)
		}
	}
}

func TestParseNumber(t *testing.T) {
	for s, want := range map[string]float64{"1": 1, " 2.5\n": 2.5, "-0": 0, "0x1F": 31, "1e3": 1000, ".5": 0.5, "5.": 5, "+3": 3, "0b11": 3} {
		if got, ok := ParseNumber(s); !ok || got != want || math.Signbit(got) {
			t.Errorf("%q is %v, %v; want %v", s, got, ok, want)
		}
	}
	for _, s := range []string{"", " ", "a", "1a", "Infinity", "NaN", "1e999", "1_000", "0x", "-0x1", "1 2", "e", "--1"} {
		if got, ok := ParseNumber(s); ok {
			t.Errorf("%q is the number %v", s, got)
		}
	}
}

func TestToFixed(t *testing.T) {
	for _, c := range []struct {
		x    float64
		n    int
		want string
	}{{2.5, 0, "3"}, {-2.5, 0, "-3"}, {1.005, 2, "1.00"}, {0, 2, "0.00"}, {1e21, 2, "1e+21"}, {0.05, 1, "0.1"}, {123.456, 1, "123.5"}, {-0.4, 0, "-0"}} {
		if got := ToFixed(c.x, c.n); got != c.want {
			t.Errorf("%g with %d decimals is %s, want %s", c.x, c.n, got, c.want)
		}
	}
}

func TestRound(t *testing.T) {
	for x, want := range map[float64]float64{0.5: 1, -0.5: 0, 1.5: 2, -1.5: -1, 0.49999999999999994: 0, 4503599627370497.5: 4503599627370498} {
		if got := Round(x); got != want {
			t.Errorf("%g rounds to %g, want %g", x, got, want)
		}
	}
}

func TestStringsHaveUTF16Units(t *testing.T) {
	const s = "a🔥é"
	if n := Length(s); n != 4 {
		t.Errorf("length %d", n)
	}
	if got := IndexOf(s, "é"); got != 3 {
		t.Errorf("é is at %d", got)
	}
	half := sliced(s, 1, 2)
	if Length(half) != 1 || Joined(half+sliced(s, 2, 3)) != "🔥" {
		t.Errorf("half a character is %q", half)
	}
	if joined := FromUnits(append(Units(half), Units(sliced(s, 2, 4))...)); joined != "🔥é" {
		t.Errorf("joined: %q", joined)
	}
	if Upper("straße") != "STRASSE" || Lower("ΑΣ") != "ας" || Trim("\ufeff\u00a0 x\u2028") != "x" {
		t.Errorf("%q %q %q", Upper("straße"), Lower("ΑΣ"), Trim("\ufeff\u00a0 x\u2028"))
	}
	if !Less("\uffff", "🔥") == Less("🔥", "\uffff") && !Less("🔥", "\uffff") {
		t.Error("strings are not compared by units")
	}
}

func numbers(n int) *List {
	items := make([]Value, n)
	for i := range items {
		items[i] = Number(i)
	}
	return NewList(items)
}

func TestListSharesWhatIsTheSame(t *testing.T) {
	for _, n := range []int{1, 32, 33, 1024, 1025, 40_000} {
		l := numbers(n)
		for _, i := range []int{0, n / 2, n - 1} {
			m := l.With(i, String("x"))
			if m.At(i) != Value(String("x")) || l.At(i) != Value(Number(i)) || m.Len() != n {
				t.Fatalf("item %d of %d is not replaced alone", i, n)
			}
			var at []int
			if !l.Changes(m, func(i int, _, _ Value) bool { at = append(at, i); return true }) || fmt.Sprint(at) != fmt.Sprint([]int{i}) {
				t.Fatalf("the changes of %d items are at %v, want %d", n, at, i)
			}
			if Equal(l, m) || !Equal(l, m.With(i, Number(i))) {
				t.Fatal("equality is wrong")
			}
		}
		same := l.Map(func(_ int, v Value) Value { return v })
		if same != l {
			t.Errorf("mapping %d items to themselves makes another list", n)
		}
		if sum := l.Map(func(i int, v Value) Value { return v.(Number) + 1 }); sum.At(n-1) != Value(Number(n)) || len(sum.Items()) != n {
			t.Errorf("mapping %d items is wrong", n)
		}
	}
}

func TestRecordsWithMissingFields(t *testing.T) {
	a := NewRecord([]string{"id"}, []Value{String("x")})
	b := a.With("note", Null{})
	if !Equal(a, b) || !Equal(b, a) {
		t.Error("a missing field does not equal null")
	}
	if c := b.With("note", String("y")); Equal(a, c) || Equal(c, a) || b.Get("note") != Value(Null{}) {
		t.Error("a changed field is not seen, or changed the original")
	}
}

func TestDifferences(t *testing.T) {
	ware := func(id string, full bool) Value {
		return NewRecord([]string{"id", "full"}, []Value{String(id), Bool(full)})
	}
	was := NewList([]Value{ware("a", false), ware("b", false)})
	for _, c := range []struct {
		is   Value
		want string
	}{
		{NewList([]Value{ware("a", false), ware("b", true)}), "[1].full false true"},
		{NewList([]Value{ware("n", false), ware("a", false), ware("b", false)}), "[0] <nil> { id: \"n\", full: false }"},
		{NewList([]Value{ware("b", false)}), "[0] { id: \"a\", full: false } <nil>"},
	} {
		d := Differences(was, c.is, 5)
		if len(d) != 1 {
			t.Fatalf("%v", d)
		}
		if got := fmt.Sprint(d[0].Path, " ", shown(d[0].Was), " ", shown(d[0].Is)); got != c.want {
			t.Errorf("got %s, want %s", got, c.want)
		}
	}
}

func shown(v Value) string {
	if v == nil {
		return "<nil>"
	}
	return Show(v)
}

// TestShowAndJSON: each value as it is written in a design, shortly, and as JSON.
func TestShowAndJSON(t *testing.T) {
	ware := NewRecord([]string{"id", "kg"}, []Value{String("bowl"), Number(1.5)})
	for _, c := range []struct {
		v                 Value
		shown, short, out string
	}{
		{Null{}, "null", "null", "null"},
		{Bool(true), "true", "true", "true"},
		{Number(-2.5), "-2.5", "-2.5", "-2.5"},
		{String(`say "ash"`), `"say \"ash\""`, `"say \…\""`, `"say \"ash\""`},
		{String("a < b & c\x1b"), `"a < b & c\u001b"`, `"a < b…1b"`, `"a \u003c b \u0026 c\u001b"`},
		{Empty, "[]", "[]", "[]"},
		{NewList([]Value{Number(1), Null{}}), "[1, null]", "[1, null]", "[1,null]"},
		{ware, `{ id: "bowl", kg: 1.5 }`, `{ id: …5 }`, `{"id":"bowl","kg":1.5}`},
		{NewList([]Value{ware}), `[{ id: "bowl", kg: 1.5 }]`, `[{ id:… }]`, `[{"id":"bowl","kg":1.5}]`},
		{NewRecord(nil, nil), "{}", "{}", "{}"},
		{Key(7), Show(Key(7)), Brief(Key(7), 10), `"` + Show(Key(7)) + `"`},
	} {
		out, err := json.Marshal(JSON(c.v))
		if Show(c.v) != c.shown || Brief(c.v, 10) != c.short || string(out) != c.out || err != nil {
			t.Errorf("%s, %s, %s, want %s, %s, %s", Show(c.v), Brief(c.v, 10), out, c.shown, c.short, c.out)
		}
	}
}

// TestTextByUnits: places in texts count UTF-16 units, and texts are in their order.
func TestTextByUnits(t *testing.T) {
	for _, c := range []struct {
		s, part string
		at      int
	}{{"kiln", "l", 2}, {"kiln", "x", -1}, {"ö🔥x", "x", 3}, {"ö🔥x", "🔥", 1}, {"", "", 0}, {"ab", "", 0}} {
		if got := IndexOf(c.s, c.part); got != c.at {
			t.Errorf("%q stands in %q at %d, want %d", c.part, c.s, got, c.at)
		}
	}
	for _, c := range []struct {
		s          string
		start, end int
		want       string
	}{{"kiln", 1, 3, "il"}, {"ö🔥x", 0, 1, "ö"}, {"ö🔥x", 1, 3, "🔥"}, {"ö🔥x", 3, 4, "x"}} {
		if got := sliced(c.s, c.start, c.end); got != c.want {
			t.Errorf("%q from %d to %d is %q, want %q", c.s, c.start, c.end, got, c.want)
		}
	}
	high, low := sliced("🔥", 0, 1), sliced("🔥", 1, 2)
	if Length(high) != 1 || Length(low) != 1 || Joined(high+low) != "🔥" || Joined("퟿"+high) != "퟿"+high || Joined("퟿x퟿") != "퟿x퟿" {
		t.Errorf("halves of a character: %q and %q are %q", high, low, Joined(high+low))
	}
	order := []string{"", "a", "ab", "b", "ä", "🔥", "ﬀ"} // a pair of units comes before U+FB00
	for i, a := range order {
		for j, b := range order {
			if Less(a, b) != (i < j) {
				t.Errorf("%q before %q: %v", a, b, Less(a, b))
			}
		}
	}
}

// TestDifferencesOfRecords: fields that come, go and stay.
func TestDifferencesOfRecords(t *testing.T) {
	a := NewRecord([]string{"id", "note"}, []Value{String("bowl"), String("chipped")})
	b := NewRecord([]string{"id", "kg"}, []Value{String("bowl"), Number(2)})
	var said []string
	for _, d := range Differences(a, b, 9) {
		said = append(said, fmt.Sprintf("%s: %s, %s", d.Path, Show(d.Was), Show(d.Is)))
	}
	if got := strings.Join(said, "; "); got != `.kg: null, 2; .note: "chipped", null` {
		t.Errorf("they differ in %s", got)
	}
	if list := Differences(a, b, 1); len(list) != 1 {
		t.Errorf("%d are told of at most one", len(list))
	}
}

func sliced(s string, start, end int) string {
	t := Index(s)
	return t.Slice(start, end)
}

// TestBriefTellsHowLong: what is cut tells its length, so that three do not look like one.
func TestBriefTellsHowLong(t *testing.T) {
	ware := &Record{}
	ware = ware.With("id", String("w1")).With("maker", String("Ada"))
	for want, v := range map[string]Value{
		`[{ id: "w1", maker: "Ada" }, … 3 items]`:  NewList([]Value{ware, ware, ware}),
		`"aaaaaaaaaaaaaaaaaaaaaaaa…" (60 letters)`: String(strings.Repeat("a", 60)),
	} {
		if got := Brief(v, utf8.RuneCountInString(want)); got != want {
			t.Errorf("it is %s, want %s", got, want)
		}
	}
}
