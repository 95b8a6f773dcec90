package source

import (
	"fmt"
	"strings"
	"unicode/utf8"
)

// Visible is a text with its control characters written out (\u001b), apart from
// line ends and tabs, and so are those that turn the direction of writing around
// (Unicode Standard Annex 9, 2.1 to 2.5) or end lines unseen, and bytes that are no
// UTF-8. A text that a design holds can then do nothing to a terminal or a picture.
func Visible(s string) string {
	at := strings.IndexFunc(s, hides)
	if at < 0 {
		return s
	}
	var b strings.Builder
	b.WriteString(s[:at])
	for at < len(s) {
		r, n := utf8.DecodeRuneInString(s[at:])
		switch {
		case r == utf8.RuneError && n == 1:
			fmt.Fprintf(&b, `\x%02x`, s[at])
		case hides(r) && r > 0xffff:
			fmt.Fprintf(&b, `\u{%x}`, r)
		case hides(r):
			fmt.Fprintf(&b, `\u%04x`, r)
		default:
			b.WriteString(s[at : at+n])
		}
		at += n
	}
	return b.String()
}

// hides says whether a character is to be written out. utf8.RuneError is one of them
// where it stands for a byte that is no UTF-8, which Visible tells apart.
func hides(r rune) bool {
	switch {
	case r == '\n' || r == '\t':
		return false
	case r < ' ' || 0x7f <= r && r < 0xa0:
		return true
	}
	return r == utf8.RuneError || Turns(r) || r == 0x2028 || r == 0x2029 || r == 0xfeff || 0xe0000 <= r && r <= 0xe007f
}

// Turns says whether a character turns the direction of writing around.
func Turns(r rune) bool {
	return r == 0x61c || r == 0x200e || r == 0x200f || 0x202a <= r && r <= 0x202e || 0x2066 <= r && r <= 0x2069
}
