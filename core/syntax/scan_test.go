package syntax

import (
	"strings"
	"testing"

	"lien/core/finding"
	"lien/core/source"
)

// TestScan: what a text is cut into; a token on a new line has | before it.
func TestScan(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"", "|"},
		{"a-b c", "|a - b c"},
		{"a\nb // note\nc", "|a |b |c"},
		{"x<-y", "|x <- y"},
		{"x<->y", "|x <-> y"},
		{"x< -y", "|x < - y"},
		{"x<--y", "|x <- - y"},
		{"a?.b ?? c?d", "|a ?. b ?? c ? d"},
		{"n?.5:1", "|n ? . 5 : 1"},
		{"...xs", "|... xs"},
		{"1.5e-3 1e 1.x", "|1.5e-3 1 e 1 . x"},
		{"a+=1;b-=2", "|a += 1 ; b -= 2"},
		{"x=>y>=z==w!=v", "|x => y >= z == w != v"},
		{`"a \" b" "c"`, `|"a \" b" "c"`},
		{"`plain`", "|`plain`"},
		{"`a ${ b } c ${ {d} } e`", "|`a ${ b } c ${ { d } } e`"},
		{"`a ${ `in ${x}` } b`", "|`a ${ `in ${ x }` } b`"},
		{"`cost \\${x}`", "|`cost \\${x}`"},
		{"}a{", "|} a {"},
	} {
		var cut []string
		s := scanText(c.text, func(f *finding.Finding) { t.Errorf("%q: %s", c.text, f.Message) })
		for _, k := range s.tokens {
			word := c.text[k.start:k.end]
			if k.nl {
				word = "|" + word
			}
			cut = append(cut, word)
		}
		if got := strings.TrimRight(strings.Join(cut, " "), " "); got != c.want {
			t.Errorf("%q is cut into\n%s, not\n%s", c.text, got, c.want)
		}
	}
}

func scanText(text string, report func(*finding.Finding)) *scanner {
	return scan(source.NewSet().Add("test.lien", text), report)
}

// TestScanMistakes: the spot is the text between the two columns.
func TestScanMistakes(t *testing.T) {
	for _, c := range []struct{ text, spot, message, write string }{
		{"\"kiln\nnext", `"kiln`, "this text is never closed", `end it with "`},
		{"\"kiln\\", `"kiln\`, "this text is never closed", `end it with "`},
		{"`kiln ${x} ...", "}", "this template is never closed", "end it with `"},
		{"a === b", "===", "there is no ===", "write =="},
		{"a !== b", "!==", "there is no !==", "write !="},
		{"x = 'kiln' + y", "'kiln'", "does not start with '", `"..."`},
	} {
		var got []*finding.Finding
		s := scanText(c.text, func(f *finding.Finding) { got = append(got, f) })
		if len(got) != 1 {
			t.Errorf("%q: %d findings", c.text, len(got))
			continue
		}
		f := got[0]
		if spot := s.file.Slice(f.Span.Start, f.Span.End); spot != c.spot || !strings.Contains(f.Message, c.message) || !strings.Contains(f.Write, c.write) {
			t.Errorf("%q: at %q: %s; %s", c.text, spot, f.Message, f.Write)
		}
	}
}

// TestEscapes: what a text in quotes stands for; a bad escape is told.
func TestEscapes(t *testing.T) {
	for _, c := range []struct {
		body, want string
		bad        int
	}{
		{`plain`, "plain", -1},
		{`a\nb\tc\rd`, "a\nb\tc\rd", -1},
		{`\"\\\'\` + "`" + `\$`, "\"\\'`$", -1},
		{`\u00e9\u{1F525}`, "é🔥", -1},
		{"a\r\nb", "a\nb", -1},
		{`a\qb`, "aqb", 1},
		{`ab\u{110000}`, "ab", 2},
		{`\ud800`, "", 0},
		{`\u12`, "12", 0},
	} {
		got, bad := unquote(c.body)
		if got != c.want || bad != c.bad {
			t.Errorf("%q stands for %q, bad at %d", c.body, got, bad)
		}
	}
}
