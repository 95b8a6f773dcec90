package syntax

import (
	"slices"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
)

// Comment is a // comment, with its slashes and without the end of its line.
type Comment struct {
	At   source.Span
	Text string
	Own  bool // it stands on a line of its own
}

// scanner turns a text into tokens in one pass. Braces are counted so that
// the } that ends an expression inside a template is told from all others.
type scanner struct {
	file     *source.File
	text     string
	at       int
	nl       bool
	tokens   []token
	comments []Comment
	braces   []bool // for every open {: whether it is a template's ${
	open     bool   // a text or a template is never closed: it swallows what would close the rest
	lost     int    // where a template begins from which on texts and what is around them are mixed up; 0: nowhere
	report   func(*finding.Finding)
}

// spare are lists of tokens that are read: no tree holds any.
var spare = sync.Pool{New: func() any { return new([]token) }}

func scan(file *source.File, report func(*finding.Finding)) *scanner {
	s := &scanner{file: file, text: file.Text, nl: true, report: report}
	s.tokens = slices.Grow((*spare.Get().(*[]token))[:0], len(s.text)/4+2)
	for s.next() {
	}
	s.emit(EOF, len(s.text))
	return s
}

func (s *scanner) emit(kind Kind, start int) {
	s.tokens = append(s.tokens, token{kind, s.nl, int32(start), int32(s.at)})
	s.nl = false
}

func (s *scanner) fail(start, end int, write, format string, args ...any) *finding.Finding {
	at := source.Span{Start: s.file.Pos(start), End: s.file.Pos(end)}
	f := finding.New("unreadable", finding.Error, at, format, args...).Instead("%s", write)
	s.report(f)
	return f
}

// next scans one token, or reports false at the end of the text.
func (s *scanner) next() bool {
	s.space()
	if s.at >= len(s.text) {
		return false
	}
	start := s.at
	c := s.text[start]
	switch {
	case isLetter(c):
		for s.at < len(s.text) && isWordByte(s.text[s.at]) {
			s.at++
		}
		styles := s.text[start:s.at] == "style" && s.begins()
		s.emit(Ident, start)
		if styles {
			s.sheet()
		}
	case '0' <= c && c <= '9':
		s.number()
	case c == '"':
		s.quoted()
	case c == '`':
		s.at++
		s.template(start, TemplateWhole, TemplateHead)
	case c == '}' && len(s.braces) > 0 && s.braces[len(s.braces)-1]:
		s.braces = s.braces[:len(s.braces)-1]
		s.at++
		s.template(start, TemplateTail, TemplateMid)
	default:
		s.punct()
	}
	return true
}

// begins says whether what comes next is the first of an entry.
func (s *scanner) begins() bool {
	if n := len(s.tokens); !s.nl && n > 0 {
		k := s.tokens[n-1].kind
		return k == LBrace || k == RBrace || k == Semi
	}
	return true
}

// sheet scans { CSS } behind the word style: what is in it is none of Lien's.
func (s *scanner) sheet() {
	open := s.at
	for open < len(s.text) && (s.text[open] == ' ' || s.text[open] == '\t') {
		open++
	}
	if open == len(s.text) || s.text[open] != '{' {
		return
	}
	s.at = open + 1
	s.emit(LBrace, open)
	n := css.BlockEnd(s.text[s.at:])
	if n < 0 {
		n = len(s.text) - s.at
		s.open = true
		s.fail(open, open+1, "close it with }", "this style is never closed")
	}
	start := s.at
	s.at += n
	s.emit(Sheet, start)
	if s.at < len(s.text) {
		s.at++
		s.emit(RBrace, s.at-1)
	}
}

// space skips white space and collects comments.
func (s *scanner) space() {
	for s.at < len(s.text) {
		switch c := s.text[s.at]; {
		case c == '\n' || c == '\r':
			s.nl = true
			s.at++
		case c == ' ' || c == '\t':
			s.at++
		case c == '/' && strings.HasPrefix(s.text[s.at:], "//"):
			start := s.at
			if n := strings.IndexAny(s.text[start:], "\r\n"); n < 0 {
				s.at = len(s.text)
			} else {
				s.at += n
			}
			at := source.Span{Start: s.file.Pos(start), End: s.file.Pos(s.at)}
			text := strings.TrimRight(s.text[start:s.at], " \t\r")
			s.comments = append(s.comments, Comment{at, text, s.nl})
		default:
			return
		}
	}
}

func isLetter(c byte) bool   { return 'a' <= c|0x20 && c|0x20 <= 'z' || c == '_' || c == '$' }
func isWordByte(c byte) bool { return isLetter(c) || '0' <= c && c <= '9' }

func (s *scanner) digits() {
	for s.at < len(s.text) && '0' <= s.text[s.at] && s.text[s.at] <= '9' {
		s.at++
	}
}

func (s *scanner) number() {
	start := s.at
	s.digits()
	if s.at+1 < len(s.text) && s.text[s.at] == '.' && '0' <= s.text[s.at+1] && s.text[s.at+1] <= '9' {
		s.at++
		s.digits()
	}
	if s.at < len(s.text) && s.text[s.at]|0x20 == 'e' {
		mark := s.at
		s.at++
		if s.at < len(s.text) && (s.text[s.at] == '+' || s.text[s.at] == '-') {
			s.at++
		}
		if before := s.at; before < len(s.text) {
			s.digits()
			if s.at == before {
				s.at = mark
			}
		} else {
			s.at = mark
		}
	}
	s.emit(Number, start)
}

func (s *scanner) quoted() {
	start := s.at
	for s.at++; s.at < len(s.text); s.at++ {
		switch s.text[s.at] {
		case '"':
			s.at++
			s.emit(String, start)
			return
		case '\\':
			s.at++
		case '\n', '\r':
			s.unclosed(start)
			return
		}
	}
	s.at = min(s.at, len(s.text))
	s.unclosed(start)
}

// unclosed ends a text at the end of its line, so that the next line is read
// as usual.
func (s *scanner) unclosed(start int) {
	if n := strings.IndexAny(s.text[start:s.at], "\r\n"); n >= 0 {
		s.at = start + n
	}
	s.open = true
	s.fail(start, s.at, `end it with " on the same line; a line break inside a text is written \n`, "this text is never closed")
	s.emit(String, start)
}

func (s *scanner) template(start int, whole, open Kind) {
	for ; s.at < len(s.text); s.at++ {
		switch s.text[s.at] {
		case '`':
			s.at++
			s.emit(whole, start)
			return
		case '\\':
			s.at++
		case '$':
			if s.at+1 < len(s.text) && s.text[s.at+1] == '{' {
				s.at += 2
				s.braces = append(s.braces, true)
				s.emit(open, start)
				return
			}
		}
	}
	s.at = len(s.text)
	s.open, s.lost = true, s.firstLong(start)
	s.fail(s.lost, s.lost+1, "end it with `", "this template is never closed")
	s.emit(whole, start)
}

// firstLong is where the first template, or part of one, begins that goes on
// over the end of its line, or else start. Of backquotes of which one is missing
// every later one begins what it should end, and templates are mostly short.
func (s *scanner) firstLong(start int) int {
	for _, t := range s.tokens {
		switch t.kind {
		case TemplateWhole, TemplateHead, TemplateMid, TemplateTail:
			if strings.ContainsAny(s.text[t.start:t.end], "\r\n") {
				return int(t.start)
			}
		}
	}
	return start
}

// puncts are the signs that begin with a byte, the longest first.
var puncts = map[byte][]Kind{}

func init() {
	for k := LBrace; k <= Bar; k++ {
		first := spelling[k][0]
		puncts[first] = append(puncts[first], k)
		slices.SortStableFunc(puncts[first], func(a, b Kind) int { return len(spelling[b]) - len(spelling[a]) })
	}
}

func (s *scanner) punct() {
	start := s.at
	for _, kind := range puncts[s.text[start]] {
		if !strings.HasPrefix(s.text[start:], spelling[kind]) || kind == OptDot && start+2 < len(s.text) && s.text[start+2]-'0' < 10 {
			continue
		}
		s.at += len(spelling[kind])
		s.brace(kind)
		s.emit(kind, start)
		s.foreign(kind, start)
		return
	}
	s.unknown()
}

func (s *scanner) brace(kind Kind) {
	switch {
	case kind == LBrace:
		s.braces = append(s.braces, false)
	case kind == RBrace && len(s.braces) > 0:
		s.braces = s.braces[:len(s.braces)-1]
	}
}

// foreign names the Lien spelling of operators that other languages spell longer.
func (s *scanner) foreign(kind Kind, start int) {
	if (kind == Equal || kind == NotEqual) && s.at < len(s.text) && s.text[s.at] == '=' {
		s.at++
		s.tokens[len(s.tokens)-1].end++
		f := s.fail(start, s.at, "write "+kind.String()+", which compares by value", "there is no %s here", s.text[start:s.at])
		f.Mend("write "+kind.String(), f.Span, kind.String())
	}
}

// singleQuoted reads '...' as the text that it was meant to be.
func (s *scanner) singleQuoted(start int) {
	s.at = start + 1
	for s.at < len(s.text) && source.LineEnd(s.text[s.at:]) == 0 {
		s.at++
		if s.text[s.at-1] == '\'' {
			break
		}
	}
	s.emit(String, start)
	f := s.fail(start, s.at, `texts stand in "..."`, "a text does not start with '")
	if text := s.text[start:s.at]; strings.HasSuffix(text, "'") && len(text) > 1 && !strings.ContainsAny(text, "\"\\") {
		f.Mend("write double quotes", f.Span, `"`+text[1:len(text)-1]+`"`)
	}
}

func (s *scanner) unknown() {
	start := s.at
	r, size := utf8.DecodeRuneInString(s.text[start:])
	s.at += size
	for s.at < len(s.text) {
		next, n := utf8.DecodeRuneInString(s.text[s.at:])
		if next < utf8.RuneSelf || !unicode.IsLetter(next) && next != utf8.RuneError {
			break
		}
		s.at += n
	}
	if r == '\'' {
		s.singleQuoted(start)
		return
	}
	s.emit(Bad, start)
	switch {
	case r == '&':
		s.fail(start, s.at, "write && for \"and\"", "a single & means nothing here")
	case r == utf8.RuneError || r == 0:
		s.fail(start, s.at, "save the file as UTF-8 text", "this is not text in UTF-8")
	case unicode.IsLetter(r):
		s.fail(start, s.at, "use a to z, 0 to 9, _ and $ in names; put words for people into \"...\"", "%q cannot stand in a name", s.text[start:s.at])
	case r == '#' && s.at < len(s.text) && unicode.IsLetter(rune(s.text[s.at])):
		s.fail(start, s.at, "an id is an attribute: write id <- \"...\" in the block of its node; behind // it is a comment", "%q means nothing here", r)
	case r == '#':
		s.fail(start, s.at, "a comment begins with //", "%q means nothing here", r)
	default:
		s.fail(start, s.at, "remove it, or put it into \"...\"", "%q means nothing here", r)
	}
}
