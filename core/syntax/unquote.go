package syntax

import (
	"strconv"
	"strings"
	"unicode/utf8"

	"lien/core/source"
)

// unquote gives the text that the body of a "..." or `...` stands for, and
// the byte offset of the first escape it cannot read, or -1.
func unquote(body string) (string, int) {
	if strings.IndexByte(body, '\\') < 0 && strings.IndexByte(body, '\r') < 0 {
		return body, -1
	}
	var out strings.Builder
	bad := -1
	for i := 0; i < len(body); i++ {
		switch {
		case body[i] == '\r': // an end of a line is a line feed, however it is written (ECMA-262, 12.9.6)
			out.WriteByte('\n')
			i += source.LineEnd(body[i:]) - 1
		case body[i] != '\\' || i+1 == len(body):
			out.WriteByte(body[i])
		default:
			n, ok := escape(&out, body[i+1:])
			if !ok && bad < 0 {
				bad = i
			}
			i += n
		}
	}
	return out.String(), bad
}

// backquoted is what stands between backquotes for what stands between double quotes. A ${ becomes the value that it was
// perhaps meant to be.
func backquoted(body string) string {
	var out strings.Builder
	for i := 0; i < len(body); i++ {
		switch {
		case body[i] == '`':
			out.WriteString("\\`")
		case body[i] != '\\' || i+1 == len(body):
			out.WriteByte(body[i])
		case body[i+1] == '"':
			out.WriteByte('"')
			i++
		default:
			out.WriteString(body[i : i+2])
			i++
		}
	}
	return out.String()
}

// escape writes what the escape after a backslash stands for, and tells how
// many bytes it took.
func escape(out *strings.Builder, s string) (int, bool) {
	switch s[0] {
	case 'n':
		out.WriteByte('\n')
	case 't':
		out.WriteByte('\t')
	case 'r':
		out.WriteByte('\r')
	case '\\', '"', '`', '$', '\'':
		out.WriteByte(s[0])
	case 'u':
		return unicodeEscape(out, s)
	default:
		out.WriteByte(s[0])
		return 1, false
	}
	return 1, true
}

func unicodeEscape(out *strings.Builder, s string) (int, bool) {
	digits, size := "", 0
	if strings.HasPrefix(s, "u{") {
		if n := strings.IndexByte(s, '}'); n > 0 {
			digits, size = s[2:n], n+1
		}
	} else if len(s) >= 5 {
		digits, size = s[1:5], 5
	}
	n, err := strconv.ParseUint(digits, 16, 32)
	if err != nil || n > utf8.MaxRune || 0xD800 <= n && n < 0xE000 {
		return max(size, 1), false
	}
	out.WriteRune(rune(n))
	return size, true
}
