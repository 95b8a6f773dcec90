package syntax

import (
	"strings"
	"testing"

	"lien/core/source"
)

// TestUnreadable: texts that are no designs, or that go on for too long, give one
// finding at a place, with a remedy, and never more.
func TestUnreadable(t *testing.T) {
	nested := func(open, shut string, n int) string { return strings.Repeat(open, n) + "1" + strings.Repeat(shut, n) }
	for _, c := range []struct{ name, text, message, remedy string }{
		{"a zero byte", "const a = 1\x00", "there is a NUL byte here", "take it out"},
		{"half a character", "const a = \"\xc3\"", "not text in UTF-8", "save it as UTF-8"},
		{"too large", "// " + strings.Repeat("kiln ", MaxSize/5+1), "a design file has at most", "split the design"},
		{"parentheses in parentheses", "const a = " + nested("(", ")", 3000), "nests deeper than", "of its own"},
		{"lists in lists", "const a = " + nested("[", "]", 3000), "nests deeper than", "of its own"},
		{"signs before signs", "const a = " + strings.Repeat("-", 9000) + "1", "nests deeper than", "of its own"},
		{"a long chain of fields", "const a = b" + strings.Repeat(".c", 30_000), "this chain has more than", "of its own"},
		{"a long chain of sums", "const a = 1" + strings.Repeat(" + 1", 30_000), "this chain has more than", "of its own"},
		{"views in views", "component a-b { view { " + strings.Repeat("div { ", 3000) + strings.Repeat("} ", 3000) + "} }", "nests deeper than", "of its own"},
		{"conditions in conditions", "component a-b { action go() { " + strings.Repeat("if (x) { ", 3000) + strings.Repeat("} ", 3000) + "} }", "nests deeper than", "of its own"},
		{"types in types", "type T = " + strings.Repeat("{ a: ", 3000) + "string" + strings.Repeat(" }", 3000), "nests deeper than", "of its own"},
	} {
		f := parse(c.text)
		if len(f.Findings) != 1 {
			t.Errorf("%s: %d findings", c.name, len(f.Findings))
			continue
		}
		if got := f.Findings[0]; !strings.Contains(got.Message, c.message) || !strings.Contains(got.Write, c.remedy) || !got.Span.Start.Valid() {
			t.Errorf("%s: %s; %s", c.name, got.Message, got.Write)
		}
	}
}

// TestWhatIsExpected: where something is missing or too much, it is told what.
func TestWhatIsExpected(t *testing.T) {
	view := func(s string) string { return "component a-b {\n  view {\n    " + s + "\n  }\n}\n" }
	member := func(s string) string { return "component a-b {\n  " + s + "\n}\n" }
	for _, c := range []struct{ text, at, message, remedy string }{
		{"= 1", "1:1", "expected a declaration, but here is '='", "start a declaration"},
		{member("= 1"), "2:3", "expected a member, but here is '='", "start the line with takes"},
		{view("= 1"), "3:5", "expected a line of a view", "write a node"},
		{view("p named"), "3:7", "a node's text stands in", "p `${named}`"},
		{view(`p "a" "b"`), "3:11", "a node has one text", "p { \"...\"; \"...\" }"},
		{view("each x at in xs { p }"), "3:18", "expected 'in' after the item's name", "write in here"},
		{view("button { click -> forward }") + "x", "6:1", "x is not the start of a declaration", "component"},
		{"const a = xs[1, 2]", "1:17", "a list has one index", "write one index"},
		{"const a = (1, 2)", "1:15", "a second value in parentheses", "write one value"},
		{"const a = `x ${y z}`", "1:18", "expected } in the template", "close the expression"},
		{"type T = ()", "1:12", "expected => after a function type's parameters", "write => here"},
		{"type T = { a: string", "1:10", "this { is never closed", "close it with }"},
		{"service kiln-log {\n  = 1\n}", "2:3", "expected an operation's name", "replies"},
		{"service kiln-log {\n  load() reply 1\n}", "2:10", "reply is not", "one of: by, replies, after, fails"},
		{"start a-b {\n  samples textbox\n    \"Code\" [\"a\"]\n}", "2:18", "expected what is typed into the field", "on the same line"},
		{"law \"l\" {\n  = 1\n}", "2:3", "expected a clause", "write always"},
		{"law \"l\" {\n  alwayz x\n}", "2:3", "alwayz is not", "did you mean always?"},
		{"scenario \"s\" {\n  = 1\n}", "2:3", "expected a step", "start a step with"},
		{"scenario \"s\" {\n  pres button \"x\"\n}", "2:3", "pres is not", "did you mean press?"},
		{member("action go() { for () x = 1 }"), "2:22", "the list to go through is missing", "for (item of list)"},
		{member("holds x: = 1"), "2:12", "expected a type", ""},
		{"const a = [1 2]", "1:14", "expected , or ]", "write , or ]"},
		{"component a-b a-c { }", "1:15", "expected {", "write {"},
	} {
		f := parse(c.text)
		if len(f.Findings) == 0 {
			t.Errorf("%q: nothing is found", c.text)
			continue
		}
		got := f.Findings[0]
		set := source.NewSet()
		set.Add("test.lien", c.text)
		if at := set.Position(got.Span.Start); at.String() != "test.lien:"+c.at || !strings.Contains(got.Message, c.message) || !strings.Contains(got.Write, c.remedy) {
			t.Errorf("%q: %s: %s; %s, want %s: %s; %s", c.text, at, got.Message, got.Write, c.at, c.message, c.remedy)
		}
	}
}

// TestPrintedAsWritten: clauses, targets and steps in their layout are left as they are.
func TestPrintedAsWritten(t *testing.T) {
	const text = `context rack {
  shares glaze: string = "ash"
  emits full()
}

channel news(text: string)

service kiln-log {
  load(id: string): string replies "warm" after 300 fails "off", "late"
  ping()
}

component kiln-page {
  supplies rack as own { full -> log "full" }
  hears news(text) { log text }
  emits lit(n: number)
  const most = 3
  holds aside n: number = 0
  timer cool after 100 { n = 0 }
  on mount { start cool }
  on unmount { stop cool }
  follows n { log n }
  offers again() { n = 1 }
  view {
    low-part named low { value <-> n; lit -> forward; gone -> forward lost }
    dialog.sheet named sheet "Sheet" { open <- n > 1; .on <- true }
    each part at i in [...most.parts, last] by part.id { p ` + "`${i} of ${part.id}`" + ` }
    when n > 1 { p "many" } else when n == 1 { p "one" } else { slot none(n <- n) }
  }
}

start kiln-page { n = 2; within the(kiln-page).n < 4; samples textbox "Name" ["Ada"] }

law "over time" {
  leads the(kiln-page).n == 1 to the(kiln-page).n == 0 within 500
  stays the(kiln-page).n == 0 for 700 until running(kiln-page.cool)
  ends the(kiln-page).n == 4
  never waiting(kiln-log.load("a"))
}

scenario "targets" {
  press button "Load" 2
  inside low-part 3 { shows pressed button "On" }
  shows textbox "Name" holding "Ada" in region "Left"
  fail kiln-log.load("a") with "late"
  reply kiln-log.load 2
  fail kiln-log.load("a") 3 with "off"
  key "Escape" on dialog "Sheet"
  reports lit(2)
  expect the(kiln-page).n == 2
}
`
	f := parse(text)
	for _, fd := range f.Findings {
		t.Errorf("%d: %s", f.Source.LineOf(fd.Span.Start), fd.Message)
	}
	if got := string(Print(f)); got != text {
		t.Errorf("it is printed as\n%s", got)
	}
}
