package css

import (
	"strings"
	"testing"
	"unicode/utf8"
)

func sheet(t *testing.T, text string) *Sheet {
	t.Helper()
	s, problems := Parse(text)
	for _, p := range problems {
		t.Errorf("%s: %q: %s", text, text[p.Start:min(p.End, len(text))], p.Message)
	}
	return s
}

// TestProblems: what is wrong in a sheet is told where it is, with what to write; what is around it is still read.
func TestProblems(t *testing.T) {
	for _, c := range []struct{ text, at, message, write string }{
		{"color: red;", "color: red", "this stands in no rule", "write a selector"},
		{".a { color red }", "color red", "a colon is missing behind color", "write color: red"},
		{".a { glaze red }", "glaze red", "neither a declaration nor a rule", "write property: value"},
		{".a { color: }", "color:", "color has no value", "write color: value"},
		{".a { color: red\n  width: 2px }", "d", "the next line is read as part", "write ;"},
		{".a { // glazed\n color: red }", "// glazed", "not written with //", "/* ... */"},
		{"a { content: \"x\n }", "\"x", "never closed", "close it"},
		{".a > { color: red }", ">", "nothing follows", "write what stands there"},
		{".a > + b { color: red }", "+", "two combinators", "remove one"},
		{".a, { color: red }", ",", "a selector is missing", "remove the comma"},
		{".a .5 { color: red }", ".5", "no part of a selector", "write a tag"},
		{"[=x] { color: red }", "[", "an attribute has a name", "write [name]"},
		{"a: { color: red }", ":", "a pseudo-class has a name", "write :hover"},
		{"::slotted(a b) { color: red }", "a b", "without blanks", "write one of them"},
		{".a { color: red", "{", "never closed", "close it"}, {".a { color: rgb(1 }", "rgb(", "never closed", "close it"},
		{".a::slotted(b) { color: red }", "::", "nothing stands right before ::slotted", "write a blank"},
		{".a::before:after { color: red }", ":", "a pseudo-element has none", "leave out"},
		{".a { content: \"x\\\ny\" }", "\"x", "over the end of its line", "write it on one line"},
		{".a { } }", "}", "closes nothing", "remove it"},
		{".a { --deep: ; color }", "color", "neither", "write property"},
		{".a { --deep }", "--deep", "a value is missing", "write --deep: value"},
	} {
		_, problems := Parse(c.text)
		if len(problems) != 1 {
			t.Errorf("%s: %d problems: %v", c.text, len(problems), problems)
			continue
		}
		p := problems[0]
		if !strings.HasPrefix(c.text[p.Start:], c.at) || !strings.Contains(p.Message, c.message) || !strings.Contains(p.Write, c.write) {
			t.Errorf("%s: at %q: %s; %s", c.text, c.text[p.Start:p.End], p.Message, p.Write)
		}
	}
}

// TestFormat: one declaration a line, all else as written; a second time changes nothing.
func TestFormat(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{".a{color:red}", ".a { color: red }"},
		{".a{color:red;width:2px}", ".a {\n  color: red;\n  width: 2px;\n}"},
		{".a {\n color:red }", ".a {\n  color: red;\n}"},
		{".a,\n.b   .c { }", ".a,\n.b .c {}"},
		{"@media (width<40em){.a{color:red!important}}", "@media (width<40em) {\n  .a { color: red !important }\n}"},
		{"@import \"x.css\";", "@import \"x.css\";"},
		{".a { color: red; /* glaze */\n\n\n  /* kiln\n     room */ &:hover { --x: { a } ; } }", ".a {\n  color: red; /* glaze */\n\n  /* kiln\n     room */\n  &:hover { --x: { a } }\n}"},
		{".g { grid-template:\n \"a b\"\n   \"c d\"; }", ".g {\n  grid-template: \"a b\"\n    \"c d\";\n}"},
		{"@keyframes turn { from { rotate: 0deg } to { rotate: 1turn } }", "@keyframes turn {\n  from { rotate: 0deg }\n  to { rotate: 1turn }\n}"},
		{".a { background: url(http://kiln/x;y) }", ".a { background: url(http://kiln/x;y) }"},
	} {
		got := strings.Join(sheet(t, c.text).Format(), "\n")
		if got != c.want {
			t.Errorf("%s\ngives:\n%s\nnot:\n%s", c.text, got, c.want)
		}
		if again := strings.Join(sheet(t, got).Format(), "\n"); again != got {
			t.Errorf("%s\nis not left as it is:\n%s", got, again)
		}
	}
}

// TestScoped: every part of a selector asks for an element that the component wrote, and no rule gains weight.
func TestScoped(t *testing.T) {
	of, in := `:where([data-lien-of~="ware-row"])`, `:where([data-lien-in~="ware-row"])`
	for _, c := range []struct{ text, want string }{
		{".a { top: 0 }", ".a" + of + " { top: 0 }"},
		{"ul > li.full:hover::before { top: 0 }", "ul" + of + " > li.full:hover" + of + "::before { top: 0 }"},
		{".a:not(.b, .c) + * { top: 0 }", ".a:not(.b" + of + ", .c" + of + ")" + of + " + *" + of + " { top: 0 }"},
		{".frame ::slotted(img.wide) { top: 0 }", ".frame" + of + " :is(img.wide)" + in + " { top: 0 }"},
		{".a { &.b { top: 0 } .c & { top: 0 } .d { top: 0 } }", ".a" + of + " {\n  &.b { top: 0 }\n  .c" + of + " & { top: 0 }\n  .d" + of + " { top: 0 }\n}"},
		{"@media print { p { top: 0 } }", "@media print {\n  p" + of + " { top: 0 }\n}"},
		{"@keyframes turn { from { top: 0 } }", "@keyframes turn {\n  from { top: 0 }\n}"},
	} {
		if got := sheet(t, c.text).Scoped("ware-row"); got != c.want+"\n" {
			t.Errorf("%s\ngives:\n%s\nnot:\n%s", c.text, got, c.want)
		}
		if got := sheet(t, c.text).Scoped(""); strings.Contains(got, ":where") {
			t.Errorf("a sheet of the page is scoped: %s", got)
		}
	}
}

// element is an element of which all is known.
type element struct {
	tag      string
	attrs    map[string]string
	of, in   string
	states   string
	up       *element
	children []*element
}

func (e *element) Tag() string { return e.tag }
func (e *element) Class(name string) Truth {
	return truth(contains(strings.Fields(e.attrs["class"]), name))
}
func (e *element) Attr(name string) (string, Truth) {
	v, ok := e.attrs[name]
	return v, truth(ok)
}
func (e *element) State(name string) Truth { return truth(contains(strings.Fields(e.states), name)) }
func (e *element) Place(last, ofTag bool) (int, Truth) {
	at, past := 0, false
	for _, c := range e.up.children {
		if !ofTag || c.tag == e.tag {
			if !last && !past || last && (past || c == e) {
				at++
			}
		}
		past = past || c == e
	}
	return at, Yes
}
func (e *element) Around() (Node, Truth) {
	if e.up == nil {
		return nil, Yes
	}
	return e.up, Yes
}
func (e *element) Before() (list []Node, known Truth) {
	for _, c := range e.up.children {
		if c == e {
			break
		}
		list = append([]Node{c}, list...)
	}
	return list, Yes
}
func (e *element) Within() (list []Node, known Truth) {
	for _, c := range e.children {
		list = append(list, c)
		below, _ := c.Within()
		list = append(list, below...)
	}
	return list, Yes
}
func (e *element) Of(c string) bool { return contains(strings.Fields(e.of), c) }
func (e *element) In(c string) bool { return contains(strings.Fields(e.in), c) }

func (e *element) with(list ...*element) *element {
	e.children = list
	for _, c := range list {
		c.up = e
	}
	return e
}

func el(tag, class, of string) *element {
	return &element{tag: tag, attrs: map[string]string{"class": class}, of: of}
}

// TestMatches: selectors reach what Selectors 4 says, and of a component's sheet only what it wrote.
func TestMatches(t *testing.T) {
	third := el("li", "ware full", "a")
	third.states = "focus"
	third.attrs["data-glaze"] = "Celadon-green"
	given := el("img", "wide", "b")
	given.in = "a"
	list := el("ul", "rack", "a").with(el("li", "ware", "a"), el("li", "", "b"), third)
	el("body", "", "").with(el("main", "", "a b").with(list, given))
	for _, c := range []struct {
		selector, scope string
		of              *element
		want            bool
	}{
		{"li", "", third, true}, {"LI", "", third, true}, {"ul", "", third, false}, {"*", "", third, true},
		{".full.ware", "", third, true}, {".empty", "", third, false},
		{"ul li", "", third, true}, {"body > li", "", third, false}, {"body li", "", third, true}, {"ul > li", "", third, true},
		{"li + li", "", third, true}, {".ware + li", "", third, false}, {".ware ~ li", "", third, true},
		{"li:nth-child(2n+1)", "", third, true}, {"li:nth-child(even)", "", third, false}, {"li:last-child", "", third, true},
		{"li:nth-last-child(1)", "", third, true}, {"li:first-of-type", "", third, false}, {"li:nth-child(-n+2)", "", third, false},
		{"[data-glaze^=Cel]", "", third, true}, {"[data-glaze='celadon-green' i]", "", third, true}, {"[data-glaze|=Celadon]", "", third, true},
		{"[data-glaze*=don]", "", third, true}, {"[data-glaze$=red]", "", third, false}, {"[data-glaze=Celadon]", "", third, false}, {"[class~=full]", "", third, true},
		{"li:focus", "", third, true}, {"li:hover", "", third, false}, {"li:not(.full)", "", third, false}, {"li:is(.x, .full)", "", third, true},
		{"ul:has(> .full)", "", list, true}, {"ul:has(.empty)", "", list, false}, {"main:has(> .full)", "", list.up, false}, {"main:has(ul .full)", "", list.up, true},
		{"li", "a", third, true}, {"li", "b", third, false}, {"ul li", "a", third, true}, {"body li", "a", third, false}, {"main li", "a", third, true},
		{"img", "b", given, true}, {"img", "a", given, false}, {"::slotted(img)", "a", given, true}, {"::slotted(.tall)", "a", given, false},
		{"main ::slotted(img)", "a", given, true}, {"ul ::slotted(img)", "a", given, false}, {"::slotted(li)", "a", third, false},
	} {
		s := sheet(t, c.selector+" { top: 0 }")
		if got := s.Items[0].Selectors[0].Matches(c.of, c.scope) == Yes; got != c.want {
			t.Errorf("%s of %q reaches %s: %v", c.selector, c.scope, c.of.attrs["class"], got)
		}
	}
}

// TestHiding: which rule decides: importance, layers, weight, order, nesting and the screen.
func TestHiding(t *testing.T) {
	row := el("li", "row full", "a")
	el("body", "", "").with(el("ul", "rack", "a").with(row))
	small, wrong := ParseScreen("(width: 390px) and (prefers-color-scheme: dark)")
	if wrong != "" {
		t.Fatal(wrong)
	}
	for _, c := range []struct{ text, want string }{
		{".row { color: red }", ""},
		{".row { display: none }", "none"},
		{".row { display: none } li { display: block }", "none"},
		{".row { display: none } .full { display: block }", "block"},
		{".row { display: none !important } .row.full { display: block }", "none"},
		{".row { display: none; display: BLOCK }", "block"},
		{"li.full { display: none } :where(#x, .row.full) { display: block }", "none"},
		{"@layer base { .row.full { display: none } } li { display: block }", "block"},
		{"@layer base, top; @layer top { li { display: block } } @layer base { .row.full { display: none } }", "block"},
		{"@layer base { .row { display: none !important } } .row { display: block !important }", "none"},
		{".rack { .full { display: none } }", "none"}, {".rack { &.full { display: none } }", ""}, {".full { .rack & { display: none } }", "none"},
		{"@media (max-width: 400px) { .row { display: none } }", "none"}, {"@media (min-width: 400px) { .row { display: none } }", ""},
		{"@media (300px <= width < 390px) { .row { display: none } }", ""}, {"@media (300px < width <= 390px) { .row { display: none } }", "none"},
		{"@media print, (prefers-color-scheme: dark) { .row { display: none } }", "none"}, {"@media not screen { .row { display: none } }", ""},
		{"@media (orientation: portrait) { .row { display: none } }", "none"}, {"@media (width > 20rem) and (not (hover: none)) { .row { display: none } }", "none"},
		{".row { color: red; @media (width < 400px) { display: none } }", "none"},
		{"@container (width > 1px) { .row { display: none } }", ""}, {"@supports (display: grid) { .row { display: none } }", "none"},
		{".row::before { display: none }", ""}, {".row:unheard-of { display: none }", ""},
	} {
		h := &Hiding{}
		h.Add(sheet(t, c.text), "a")
		if got, _ := h.Of(row, "display", small); got != c.want {
			t.Errorf("%s: display is %q, not %q", c.text, got, c.want)
		}
	}
}

// TestScreens: what a start can say of its screen.
func TestScreens(t *testing.T) {
	for text, want := range map[string]string{
		"(width: 390px)": "", "(prefers-reduced-motion: reduce) and (height: 10em)": "",
		"width: 390px": "a screen is written", "(width: wide)": "a number of pixels", "(width: 0px)": "a number of pixels",
		"(color-scheme: dark)": "color-scheme is not set", "(prefers-color-scheme: blue)": "light or dark",
	} {
		if _, wrong := ParseScreen(text); wrong == "" != (want == "") || !strings.Contains(wrong, want) {
			t.Errorf("%s: %q", text, wrong)
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, text := range []string{".a > b:not(.c)::slotted(x) { color: red; &:hover { --x: {} } }", "@media (width < 4em) { a { b: c", "}}{{;;//\n[=", "a:nth-child(2n+1 of x),, {}"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		if !utf8.ValidString(text) {
			return // which is told before
		}
		s, problems := Parse(text)
		for _, p := range problems {
			if p.Start < 0 || p.End <= p.Start || p.Start > len(text) {
				t.Errorf("a problem at %d to %d of %d", p.Start, p.End, len(text))
			}
		}
		h := &Hiding{}
		h.Add(s, "a")
		row := el("li", "a", "a")
		el("body", "", "").with(row)
		h.Of(row, "display", Usual())
		if len(problems) > 0 {
			return
		}
		once := strings.Join(s.Format(), "\n")
		again, problems := Parse(once)
		if got := strings.Join(again.Format(), "\n"); got != once || len(problems) > 0 {
			t.Errorf("%q\nbecomes\n%q\nand then\n%q: %v", text, once, got, problems)
		}
		s.Scoped("a")
	})
}
