package value

import (
	"strings"
	"unicode"
	"unicode/utf8"
	"unsafe"

	"golang.org/x/text/cases"
	"golang.org/x/text/language"
)

// Strings behave as ECMA-262's: their units are those of UTF-16. They are
// kept as UTF-8, and turned into units only where they are not plain ASCII.

// IsASCII says whether units and bytes are the same thing.
func IsASCII(s string) bool {
	for i := 0; i < len(s); i++ {
		if s[i] >= utf8.RuneSelf {
			return false
		}
	}
	return true
}

// Units are the UTF-16 code units of s.
func Units(s string) []uint16 {
	out := make([]uint16, 0, len(s))
	for i := 0; i < len(s); {
		r, size := decode(s[i:])
		i += size
		if r >= 0x10000 {
			r -= 0x10000
			out = append(out, uint16(0xD800+r>>10), uint16(0xDC00+r&0x3FF))
			continue
		}
		out = append(out, uint16(r))
	}
	return out
}

// decode reads one character; three bytes may be a lone surrogate.
func decode(s string) (rune, int) {
	r, size := utf8.DecodeRuneInString(s)
	if r == utf8.RuneError && size == 1 && len(s) >= 3 && s[0] == 0xED {
		return rune(s[0]&0x0F)<<12 | rune(s[1]&0x3F)<<6 | rune(s[2]&0x3F), 3
	}
	return r, size
}

// FromUnits is the string of UTF-16 code units.
func FromUnits(units []uint16) string {
	out := make([]byte, 0, len(units))
	for i := 0; i < len(units); i++ {
		u := rune(units[i])
		switch {
		case 0xD800 <= u && u < 0xDC00 && i+1 < len(units) && 0xDC00 <= units[i+1] && units[i+1] < 0xE000:
			i++
			out = utf8.AppendRune(out, (u-0xD800)<<10+rune(units[i])-0xDC00+0x10000)
		case 0xD800 <= u && u < 0xE000:
			out = append(out, 0xE0|byte(u>>12), 0x80|byte(u>>6)&0xBF, 0x80|byte(u)&0xBF)
		default:
			out = utf8.AppendRune(out, u)
		}
	}
	return string(out)
}

// Joined is s with the halves of characters that stand side by side made
// whole, as joining strings of UTF-16 units does.
func Joined(s string) string {
	for i := strings.IndexByte(s, 0xED); i >= 0 && i+1 < len(s); {
		if s[i+1] >= 0xA0 {
			return FromUnits(Units(s))
		}
		next := strings.IndexByte(s[i+1:], 0xED)
		if next < 0 {
			break
		}
		i += 1 + next
	}
	return s
}

// Indexed is a text of which each unit is found at once.
type Indexed struct {
	text  string
	units []uint16 // nil where units and bytes are the same thing
}

// Index looks through a text once.
func Index(s string) Indexed {
	if IsASCII(s) {
		return Indexed{text: s}
	}
	return Indexed{s, Units(s)}
}

// Of says whether it is of this very text.
func (t *Indexed) Of(s string) bool {
	return len(t.text) == len(s) && unsafe.StringData(t.text) == unsafe.StringData(s)
}

// Len is the number of UTF-16 code units.
func (t *Indexed) Len() int {
	if t.units == nil {
		return len(t.text)
	}
	return len(t.units)
}

// Unit is a code unit, which must be there.
func (t *Indexed) Unit(i int) uint16 {
	if t.units == nil {
		return uint16(t.text[i])
	}
	return t.units[i]
}

// Slice is the part from unit start to unit end; both must lie in the text.
func (t *Indexed) Slice(start, end int) string {
	if t.units == nil {
		return t.text[start:end]
	}
	return FromUnits(t.units[start:end])
}

// Length is the number of UTF-16 code units.
func Length(s string) int {
	t := Index(s)
	return t.Len()
}

// IndexOf is the unit at which part first occurs, or -1.
func IndexOf(s, part string) int {
	n := strings.Index(s, part)
	if n <= 0 {
		return n
	}
	return Length(s[:n])
}

// Less compares by code units, as < does on strings.
func Less(a, b string) bool {
	if IsASCII(a) && IsASCII(b) {
		return a < b
	}
	x, y := Units(a), Units(b)
	for i := 0; i < len(x) && i < len(y); i++ {
		if x[i] != y[i] {
			return x[i] < y[i]
		}
	}
	return len(x) < len(y)
}

// Trim drops white space and line terminators as ECMA-262 defines them.
func Trim(s string) string {
	return strings.TrimFunc(s, func(r rune) bool {
		switch r {
		case ' ', '\t', '\n', '\v', '\f', '\r', '\ufeff', '\u2028', '\u2029':
			return true
		}
		return r >= utf8.RuneSelf && unicode.Is(unicode.Zs, r)
	})
}

// Lower and Upper follow Unicode's default case conversion, special casing
// included, as ECMA-262 asks.
func Lower(s string) string {
	if IsASCII(s) {
		return strings.ToLower(s)
	}
	return cases.Lower(language.Und).String(s)
}

func Upper(s string) string {
	if IsASCII(s) {
		return strings.ToUpper(s)
	}
	return cases.Upper(language.Und).String(s)
}
