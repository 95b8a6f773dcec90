package syntax

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/source"
)

// TestMistakes: every mistake is told at its place, with a remedy, and what
// follows is read.
func TestMistakes(t *testing.T) {
	for _, c := range []struct{ text, at, message, remedy string }{
		{"component a-b {\n  holds x\n}", "2:9", "x has no first value", "write holds x = ..."},
		{"component a-b {\n  takes x\n}", "2:9", "the type of x is missing", "takes x: string"},
		{"component a-b {\n  hold x = 1\n}", "2:3", "hold is not the start of a member", "did you mean holds?"},
		{"component a-b {\n  on load { }\n}", "2:6", "expected mount or unmount", "on mount"},
		{"component a-b {\n  timer t { }\n}", "2:11", "expected after or every", "timer t after 1000"},
		{"component a-b {\n  action go { }\n}", "2:10", "what is called has parentheses", "go() { ... }"},
		{"component a-b {\n  emits pick(id)\n}", "2:16", "the type of id is missing", "id: string"},
		{"component a-b {\n  derives x\n}", "2:12", "expected = and what it is worked out from", "x = ..."},
		{"component a-b {\n  holds my-cell = 1\n}", "2:9", "cannot have hyphens: my-cell", "write myCell"},
		{"component a-b { view { p { title <- a = b } } }", "1:39", "= changes a cell", "write =="},
		{"component a-b { view { when a = b { p } } }", "1:31", "= changes a cell", "write =="},
		{"component a-b { action go() { if (a = b) c = 1 } }", "1:37", "= changes a cell", "write =="},
		{"component a-b { view { p x } }", "1:26", "a node's text stands in", "p `${x}`"},
		{"component a-b { view { p x.y.z } }", "1:26", "a node's text stands in", "p `${x.y.z}`"},
		{"component a-b { view { p \"x\" .big } }", "1:31", "a class stands right behind the name of its node", "write p.big \"x\""},
		{"component a-b { view { .big -> x } }", "1:24", "what begins with a dot is a class", "write big -> x"},
		{"component a-b { view { .big x } }", "1:29", "expected <- after the class", ".big <- condition"},
		{"component a-b { view { each in xs { } } }", "1:32", "expected 'in' after the item's name", "write in"},
		{"component a-b { view { when x p } }", "1:31", "expected { to open the block", "write {"},
		{"component a-b { view { button { click -> x == 1 } } }", "1:44", "== compares", "write = to change a cell"},
		{"component a-b { view { button { click -> x } }", "1:15", "this { is never closed", "close it with }"},
		{"component a-b { view { button { click -> return 1 } } }", "1:49", "returns no value", "derives"},
		{"component a-b { view { button { click -> 1 } } }", "", "", ""},
		{"component a-b { action go() { x } }", "1:31", "a name alone does nothing", "x()"},
		{"component a-b { action go() { if x { } } }", "1:34", "expected ( before the condition", "( )"},
		{"component a-b { action go() { for (x in xs) { } } }", "1:38", "goes through its list with of", "write of"},
		{"const a = 'x'", "1:11", "does not start with '", `"..."`},
		{"const a = \"x\\q\"", "1:13", "this escape means nothing", "for a backslash write"},
		{"const a = \"x", "1:11", "this text is never closed", `end it with "`},
		{"const a = `x", "1:11", "this template is never closed", "end it with `"},
		{"const a = 1 === 2", "1:13", "there is no ===", "write =="},
		{"const a = 1 !== 2", "1:13", "there is no !==", "write !="},
		{"const a = b & c", "1:13", "a single & means nothing", "&&"},
		{"const a = a ?? b || c", "1:11", "need parentheses", "( )"},
		{"const a = (1", "1:11", "this ( is never closed", "close it with )"},
		{"const a = [1, 2", "1:11", "this [ is never closed", "close it with ]"},
		{"const a = ()", "1:13", "these parentheses are empty", "a value between"},
		{"const a = x ? 1", "1:16", "expected : after the first value", "the other case"},
		{"const a = { \"b\": 1 }", "1:13", "stands without quotes", "write b without quotes"},
		{"const a = xs[]", "1:14", "the index is missing", "[0]"},
		{"const a = 1 2", "1:13", "the line goes on with '2'", "start a new line"},
		{"const ä = 1", "1:7", "cannot stand in a name", "a to z"},
		{"const a = 1e999", "1:11", "too large", "below"},
		{"const a = b ~ c", "1:13", "means nothing here", "remove it"},
		{"type Ware = { id string }", "1:18", "expected : after the field's name", "write :"},
		{"type Ware = { id: string name: string }", "1:26", "expected , or }", "write , between"},
		{"type Ware =", "1:12", "expected a type", "write a type"},
		{"Component a-b { }", "1:1", "Component is not the start of a declaration", "did you mean component?"},
		{"}", "1:1", "this } closes nothing", "remove it"},
		{"scenario \"s\" { clik button \"x\" }", "1:16", "clik is not the start of a step", "start the line with one of"},
		{"scenario \"s\" { type textbox \"x\" }", "1:21", "expected what is typed", `"..."`},
		{"scenario \"s\" { type \"a\" textbox \"x\" }", "1:25", "expected 'into'", "write into"},
		{"component a-b {\n  view { p \"x\" }\ncomponent c-d { view { p \"y\" } }\nlaw \"l\" { always true }", "1:15", "this { is never closed", "close it with }"},
		{"scenario s { }", "1:10", "expected the scenario's name", `"..."`},
		{"scenario \"s\" { shows unchecked checkbox \"a\" }", "1:22", "there is no state unchecked", "lacks checked checkbox"},
		{"law \"l\" { alway x }", "1:11", "alway is not the start of a clause", "did you mean always?"},
	} {
		set := source.NewSet()
		f := Parse(set.Add("t", c.text))
		if c.at == "" {
			continue
		}
		if len(f.Findings) != 1 {
			t.Errorf("%q: %d findings", c.text, len(f.Findings))
		}
		for _, fd := range f.Findings {
			p := set.Position(fd.Span.Start)
			if at := fmt.Sprintf("%d:%d", p.Line, p.Column); at != c.at || !strings.Contains(fd.Message, c.message) || !strings.Contains(fd.Write, c.remedy) {
				t.Errorf("%q: %s: %s; %s", c.text, at, fd.Message, fd.Write)
			}
		}
	}
}

// TestRecovery: after a mistake the rest is read, and told of too.
func TestRecovery(t *testing.T) {
	f := parse(`component a-b {
  hold x = 1
  holds y = 2
  action go() {
    y ==
    y = 3
  }
  view {
    p x
    p "fine"
    button { click -> { y = ; y = 4 } }
  }
}
typo T = string
const z = 1
`)
	var lines []int
	for _, fd := range f.Findings {
		lines = append(lines, f.Source.LineOf(fd.Span.Start))
	}
	if fmt.Sprint(lines) != "[2 5 9 11 14]" {
		t.Errorf("mistakes are told at the lines %v", lines)
	}
	c := f.Decls[0].(*Component)
	if len(f.Decls) != 2 || len(c.Members) != 3 {
		t.Errorf("%d declarations and %d members are left", len(f.Decls), len(c.Members))
	}
}

// TestLines: where a line ends, and where it goes on.
func TestLines(t *testing.T) {
	for _, c := range []struct{ text, same string }{
		{"const a = 1 +\n2", "const a = 1 + 2"},
		{"const a = 1\n+ 2", "const a = 1 + 2"},
		{"const a = b\n? 1\n: 2", "const a = b ? 1 : 2"},
		{"const a = xs\n.map(x => x)\n?.length", "const a = xs.map(x => x)?.length"},
		{"const a = [\n1,\n2\n]", "const a = [1, 2]"},
		{"const a = f(\n1\n)", "const a = f(1)"},
		{"const a =\n1", "const a = 1"},
		{"const a = b\n&& c\n|| d", "const a = b && c || d"},
		{"const a = 1; const b = 2", "const a = 1\nconst b = 2"},
		{"const a = n - 1", "const a = n-1"},
		{"const a = n < -1", "const a = n < - 1"},
		{"component a-b { derives x = y\n set v { y = v } }", "component a-b { derives x = y set v { y = v } }"},
		{"component a-b { view { p { a <- x\n.b <- y } } }", "component a-b { view { p { a <- x; .b <- y } } }"},
		{"component a-b { view { p { a <- (x\n.b) } } }", "component a-b { view { p { a <- (x.b) } } }"},
		{"component a-b { view { p { click -> x = y\n.b <- z } } }", "component a-b { view { p { click -> x = y; .b <- z } } }"},
		{"component a-b { view { when a { p }\nelse { b } } }", "component a-b { view { when a { p } else { b } } }"},
		{"component a-b { action go() { if (a) b()\nelse c() } }", "component a-b { action go() { if (a) b() else c() } }"},
		{"component a-b { action go() { return\nb() } }", "component a-b { action go() { return; b() } }"},
		{"component a-b { view { slot\nfooter { p } } }", "component a-b { view { slot; footer { p } } }"},
		{"component a-b { holds x: string?\n= null }", "component a-b { holds x: string? = null }"},
		{"type T = {\n a: string\n b: number\n}", "type T = { a: string, b: number }"},
	} {
		a, b := parse(c.text), parse(c.same)
		if len(a.Findings)+len(b.Findings) > 0 {
			t.Errorf("%q: %v %v", c.text, a.Findings, b.Findings)
			continue
		}
		if shape(a) != shape(b) {
			t.Errorf("%q does not read as %q:\n%s\n%s", c.text, c.same, shape(a), shape(b))
		}
	}
}

// TestContextualKeywords: keywords are names wherever the keyword could not stand.
func TestContextualKeywords(t *testing.T) {
	f := parse(`component view-view {
  holds view: number = 1
  holds aside: boolean = false
  holds from: string = ""
  holds type: string = ""
  takes slot: string
  derives when = view + 1
  action open() { leave = 1; log = 2; emit.x = 3; start(); open(); stop = view }
  action leave() { log view, from; return }
  view {
    input {
      slot  <- slot
      type  <- type
      each  -> open
      when  -> leave()
      open  <- aside
    }
    label "x" { for <- from }
    when when > 1 { each each in in by each { p } }
  }
}
`)
	for _, fd := range f.Findings {
		t.Errorf("%d: %s", f.Source.LineOf(fd.Span.Start), fd.Message)
	}
}

// TestKeywordsInNames: a component's name may begin with a word of views.
func TestKeywordsInNames(t *testing.T) {
	for _, word := range []string{"when", "each", "slot", "fill", "if", "for", "named", "within", "samples", "view"} {
		name := word + "-rack"
		f := parse("component a-b { view { " + name + " { " + name + " } } }")
		if len(f.Findings) > 0 {
			t.Errorf("%s: %s", name, f.Findings[0].Message)
			continue
		}
		outer, ok := f.Decls[0].(*Component).Members[0].(*View).Body[0].(*Element)
		if !ok || outer.Name.Text != name || len(outer.Body) != 1 {
			t.Errorf("%s was not read as a node", name)
		}
	}
}
