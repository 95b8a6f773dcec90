package syntax

import (
	"slices"
	"strings"
	"unicode/utf8"

	"lien/core/finding"
	"lien/core/source"
)

const (
	// MaxSize is the most bytes a file may have.
	MaxSize = 16 << 20
	// maxDepth is how deep blocks, expressions and types may nest.
	maxDepth = 400
	// maxFindings ends the reading of a file that is hardly Lien at all.
	maxFindings = 50
)

// Parse reads a file. What cannot be read is left out of the tree and told
// in its Findings; the rest is there.
func Parse(file *source.File) *File { return ParseAs(file, nil) }

// ParseAs reads a file in which names stand for others.
func ParseAs(file *source.File, names map[string]string) *File {
	p := &parser{out: &File{Source: file}}
	if !p.isText(file) {
		return p.out
	}
	s := scan(file, p.report)
	tokens := s.tokens
	defer spare.Put(&tokens)
	p.file, p.tokens, p.out.Comments, p.out.Unclosed = file, tokens, s.comments, s.open
	p.joinContexts()
	p.rename(names)
	p.try(func() {
		for !p.is(EOF) {
			p.entry(p.decls, "declaration")
		}
	})
	if s.lost > 0 {
		p.out.Findings = slices.DeleteFunc(p.out.Findings, func(f *finding.Finding) bool { return f.Span.Start > file.Pos(s.lost) })
	}
	finding.Sort(p.out.Findings)
	return p.out
}

// parser reads tokens by recursive descent. A part that cannot be read is
// given up with bail, which the nearest entry recovers from.
type parser struct {
	file   *source.File
	tokens []token
	at     int
	flat   bool             // inside ( ) or [ ]: ends of lines mean nothing
	view   bool             // in a view block: a line that starts with . is a class link
	names  map[int32]string // what stands for a name, by where it is written
	owner  *Word            // the node whose block is read
	callee string           // the method whose arguments are read
	up     source.Span      // the last ->
	depth  int
	out    *File
}

// bail gives up the current part; all of the file when whole is set.
type bail struct{ whole bool }

func (p *parser) isText(file *source.File) bool {
	at := source.Span{Start: file.Pos(0), End: file.Pos(0)}
	switch bad := Unreadable(file.Text); {
	case len(file.Text) > MaxSize:
		p.report(finding.New("unreadable", finding.Error, at, "the file has %d MB; a design file has at most %d MB",
			len(file.Text)>>20, MaxSize>>20).Instead("split the design into several .lien files in one folder"))
	case bad >= 0 && file.Text[bad] == 0:
		at = source.Span{Start: file.Pos(bad), End: file.Pos(bad)}
		p.report(finding.New("unreadable", finding.Error, at, "there is a NUL byte here, which no text has").
			Instead("if this is a design, take it out; if it is none, keep it out of the design's folder"))
	case bad >= 0:
		at = source.Span{Start: file.Pos(bad), End: file.Pos(bad)}
		p.report(finding.New("unreadable", finding.Error, at, "this file is not text in UTF-8").
			Instead("save it as UTF-8; if it is no design, keep it out of the design's folder"))
	default:
		return true
	}
	return false
}

// Unreadable is where a text has a byte that no text in UTF-8 has, or -1.
func Unreadable(text string) int {
	if n := strings.IndexByte(text, 0); n >= 0 {
		return n
	}
	if utf8.ValidString(text) {
		return -1
	}
	for i, r := range text {
		if r == utf8.RuneError {
			if _, size := utf8.DecodeRuneInString(text[i:]); size == 1 {
				return i
			}
		}
	}
	return -1
}

func (p *parser) report(f *finding.Finding) { p.out.Findings = append(p.out.Findings, f) }

// try runs read and tells whether it came to its end without a bail.
func (p *parser) try(read func()) (ok bool) {
	flat, view, owner, depth := p.flat, p.view, p.owner, p.depth
	defer func() {
		if r := recover(); r != nil {
			b, is := r.(bail)
			if !is || b.whole && depth > 0 {
				panic(r)
			}
			p.flat, p.view, p.owner, p.depth = flat, view, owner, depth
		}
	}()
	read()
	return true
}

// entry reads one line of a block: a declaration, member, item, statement or
// step. After a mistake it goes on with the next line of the same block.
func (p *parser) entry(read func(), what string) {
	for p.is(Semi) {
		p.next()
	}
	if p.is(RBrace) || p.is(EOF) {
		if p.is(RBrace) && p.depth == 0 {
			p.try(func() { p.fail("remove it", "this } closes nothing") })
			p.next()
		}
		return
	}
	start := p.at
	p.depth++
	ok := p.try(func() {
		read()
		if !p.lineEnds() {
			p.runsOn(what)
		}
	})
	p.depth--
	if !ok {
		p.skip(start)
		p.lose(start)
	}
}

// runsOn tells that two things stand on one line.
func (p *parser) runsOn(what string) {
	p.fail("start a new line, or put ; between two on one line", "after this %s the line goes on with %s", what, p.found())
}

// lose notes the names in what could not be read.
func (p *parser) lose(start int) {
	if p.out.Lost == nil {
		p.out.Lost = map[string]bool{}
	}
	ahead := parser{file: p.file, tokens: p.tokens[:p.at], at: start, names: p.names}
	for ahead.at < len(ahead.tokens) {
		if ahead.tokens[ahead.at].kind != Ident {
			ahead.at++
			continue
		}
		ahead.tokens = p.tokens // a hyphenated name may look ahead
		p.out.Lost[ahead.hyphened()] = true
		ahead.tokens = p.tokens[:max(p.at, ahead.at)]
	}
}

// skip passes over the rest of a line that could not be read, with the blocks
// that open in it.
func (p *parser) skip(start int) {
	if p.at == start {
		p.next()
	}
	open := 0
	for _, t := range p.tokens[start:p.at] {
		open += nesting(t.kind)
	}
	for ; !p.is(EOF); p.next() {
		t := p.tokens[p.at]
		if p.depth > 0 && p.declares() {
			return
		}
		if open <= 0 && (t.nl || t.kind == Semi || t.kind == RBrace) {
			return
		}
		open += nesting(t.kind)
	}
}

func nesting(k Kind) int {
	switch k {
	case LBrace:
		return 1
	case RBrace:
		return -1
	}
	return 0
}

// Tokens.

func (p *parser) is(k Kind) bool  { return p.tokens[p.at].kind == k }
func (p *parser) kind() Kind      { return p.tokens[p.at].kind }
func (p *parser) peek(n int) Kind { return p.tokens[min(p.at+n, len(p.tokens)-1)].kind }
func (p *parser) text(t token) string {
	if as, ok := p.names[t.start]; ok {
		return as
	}
	return p.file.Text[t.start:t.end]
}
func (p *parser) word() string    { return p.text(p.tokens[p.at]) }
func (p *parser) pos() source.Pos { return p.file.Pos(int(p.tokens[p.at].start)) }

// end is where the token before this one ends.
func (p *parser) end() source.Pos {
	if p.at == 0 {
		return p.pos()
	}
	return p.file.Pos(int(p.tokens[p.at-1].end))
}

func (p *parser) since(start source.Pos) At { return At{start, max(start, p.end())} }

func (p *parser) next() {
	if p.at < len(p.tokens)-1 {
		p.at++
	}
}

// nl says whether a line ended before this token, and that matters here.
func (p *parser) nl() bool { return p.tokens[p.at].nl && !p.flat }

// lineEnds says whether the current line, entry or block is over.
func (p *parser) lineEnds() bool {
	return p.nl() || p.is(Semi) || p.is(RBrace) || p.is(EOF)
}

// sameLine says whether the token n further on stands on this line.
func (p *parser) sameLine(n int) bool {
	for i := 1; i <= n; i++ {
		if t := p.tokens[min(p.at+i, len(p.tokens)-1)]; t.kind == EOF || t.nl && !p.flat {
			return false
		}
	}
	return true
}

// keyword says whether the current word is w and a name follows on its line.
func (p *parser) keyword(w string) bool {
	return p.is(Ident) && p.word() == w && p.peek(1) == Ident && p.sameLine(1)
}

func (p *parser) isWord(w string) bool { return p.is(Ident) && !p.nl() && p.word() == w }

func (p *parser) accept(k Kind) bool {
	if p.is(k) {
		p.next()
		return true
	}
	return false
}

func (p *parser) acceptWord(w string) bool {
	if p.isWord(w) {
		p.next()
		return true
	}
	return false
}

// found describes the current token for a message.
func (p *parser) found() string {
	if k := p.kind(); p.lineEnds() && k != RBrace && k != Semi && k != EOF {
		return "the end of the line"
	}
	return p.token()
}

// token describes the current token, wherever it stands.
func (p *parser) token() string {
	switch k := p.kind(); k {
	case EOF:
		return "the end of the file"
	case Ident, Number, String:
		return "'" + shorten(p.word()) + "'"
	case TemplateMid, TemplateTail:
		return "the end of ${...}"
	case TemplateWhole, TemplateHead, Sheet:
		return k.String() // in words
	default:
		return "'" + k.String() + "'"
	}
}

func shorten(s string) string {
	if utf8.RuneCountInString(s) <= 24 {
		return s
	}
	return string([]rune(s)[:23]) + "…"
}

// fail reports what is wrong at the current token and gives up the entry.
func (p *parser) fail(write, format string, args ...any) {
	t := p.tokens[p.at]
	at := source.Span{Start: p.file.Pos(int(t.start)), End: p.file.Pos(int(t.end))}
	if t.nl && p.at > 0 && t.kind != EOF && strings.Contains(format, "but here is") {
		at = source.Span{Start: p.end(), End: p.end()}
	}
	p.failAt(at, write, format, args...)
}

// failEntry reports that what begins here is none of what can stand here, a line each.
func (p *parser) failEntry(write, what string) {
	t := p.tokens[p.at]
	p.failAt(source.Span{Start: p.file.Pos(int(t.start)), End: p.file.Pos(int(t.end))}, write, "expected %s, but here is %s", what, p.token())
}

func (p *parser) failAt(at source.Span, write, format string, args ...any) {
	if t := p.tokens[p.at]; t.kind != Bad { // the scanner has told about it
		p.report(finding.New("unreadable", finding.Error, at, format, args...).Instead("%s", write))
	}
	panic(bail{whole: len(p.out.Findings) >= maxFindings})
}

func (p *parser) expect(k Kind, where string) {
	if !p.accept(k) {
		p.fail("write "+k.String()+" here", "expected %s %s, but here is %s", k, where, p.found())
	}
}

func (p *parser) expectWord(w, where string) {
	if !p.acceptWord(w) {
		p.fail("write "+w+" here", "expected '%s' %s, but here is %s", w, where, p.found())
	}
}

// deeper counts nesting, so that no text can exhaust the stack.
func (p *parser) deeper(read func()) {
	p.depth++
	if p.depth > maxDepth {
		p.tooDeep("this nests deeper than %d levels", maxDepth)
	}
	read()
	p.depth--
}

// bounded keeps chains such as a + b + c, whose tree is as deep as they are long.
func (p *parser) bounded(links int) {
	if links > 10*maxDepth {
		p.tooDeep("this chain has more than %d links", 10*maxDepth)
	}
}

func (p *parser) tooDeep(format string, args ...any) {
	p.report(finding.New("unreadable", finding.Error, p.here().Span(), format, args...).
		Instead("move a part of it into a component or a derives of its own"))
	panic(bail{whole: true})
}

// block reads { entries }.
func (p *parser) block(read func(), what string) {
	p.deeper(func() {
		open := p.at
		p.expect(LBrace, "to open the block")
		flat := p.flat
		p.flat = false
		for !p.is(RBrace) && !p.is(EOF) && !p.declares() {
			p.entry(read, what)
		}
		p.flat = flat
		if p.is(RBrace) {
			p.next()
			return
		}
		if !p.out.Unclosed {
			p.neverClosed(open)
		}
	})
}

// declares says whether a line begins here that can only be a declaration: in
// a block it tells that the block was not closed.
func (p *parser) declares() bool {
	t := p.tokens[p.at]
	if t.kind != Ident || t.start > 0 && source.LineEnd(p.file.Text[t.start-1:]) == 0 || p.peek(1) != Ident && p.peek(1) != String {
		return false
	}
	switch p.text(t) {
	case "component", "context", "channel", "service", "law", "scenario":
		return true
	case "start", "type":
		return p.peek(1) == Ident
	}
	return false
}

// Names.

func (p *parser) ident(what string) *Word {
	if !p.is(Ident) || p.nl() {
		p.fail("write a name of letters, digits, _ and $", "expected %s, but here is %s", what, p.found())
	}
	w := &Word{p.here(), p.word()}
	p.next()
	if p.is(Minus) && p.glued(0) && p.glued(1) && (p.peek(1) == Ident || p.peek(1) == Number) {
		p.at--
		at := p.pos()
		full := p.hyphened()
		p.failAt(source.Span{Start: at, End: p.end()}, "write "+camel(full), "%s cannot have hyphens: %s", what, full)
	}
	return w
}

func camel(s string) string {
	parts := strings.Split(s, "-")
	for i := 1; i < len(parts); i++ {
		if parts[i] != "" {
			parts[i] = strings.ToUpper(parts[i][:1]) + parts[i][1:]
		}
	}
	return strings.Join(parts, "")
}

func (p *parser) here() At {
	t := p.tokens[p.at]
	return At{p.file.Pos(int(t.start)), p.file.Pos(int(t.end))}
}

// glued says whether the token n further on touches the one before it.
func (p *parser) glued(n int) bool {
	i := min(p.at+n, len(p.tokens)-1)
	return i > 0 && p.tokens[i].start == p.tokens[i-1].end
}

// hyphened reads a name with hyphens, such as shelf-button, h2 or aria-pressed.
func (p *parser) hyphened() string {
	start := p.tokens[p.at].start
	p.next()
	if as, ok := p.names[start]; ok {
		return as
	}
	for p.is(Minus) && p.glued(0) && p.glued(1) && (p.peek(1) == Ident || p.peek(1) == Number) {
		p.next()
		p.next()
		for p.glued(0) && (p.is(Ident) || p.is(Number)) {
			p.next()
		}
	}
	return p.file.Text[start:p.tokens[p.at-1].end]
}

func (p *parser) tag(what string) *Word {
	if !p.is(Ident) || p.nl() {
		p.fail("write a name of lower-case letters, digits and hyphens", "expected %s, but here is %s", what, p.found())
	}
	return p.tagHere()
}

// tagHere reads a hyphenated name that is known to be there.
func (p *parser) tagHere() *Word {
	start := p.pos()
	text := p.hyphened()
	return &Word{p.since(start), text}
}

func (p *parser) textLit(what string) *Text {
	if !p.is(String) || p.nl() {
		p.fail(`write it in "..."`, "expected %s, but here is %s", what, p.found())
	}
	t := &Text{At: p.here()}
	t.Value = p.unquoted(p.word())
	p.next()
	return t
}

func (p *parser) unquoted(lit string) string {
	return p.plain(between(lit, `"`), p.pos()+1)
}

// between is what stands between quotes, also where the last one is missing.
func between(lit, quote string) string {
	body := strings.TrimPrefix(lit, quote)
	if len(lit) > 1 {
		body = strings.TrimSuffix(body, quote)
	}
	return body
}

// plain resolves escapes, and reports one that means nothing.
func (p *parser) plain(body string, start source.Pos) string {
	text, bad := unquote(body)
	if bad >= 0 {
		at := source.Span{Start: start + source.Pos(bad), End: start + source.Pos(bad) + 2}
		p.report(finding.New("unreadable", finding.Error, at, "this escape means nothing").
			Instead(`write \n \t \r \" \\ \$ \u{1F525}; for a backslash write \\`))
	}
	return text
}

// paren reads ( a, b ), where ends of lines mean nothing.
func (p *parser) paren(open, shut Kind, read func()) {
	p.deeper(func() {
		at := p.here()
		p.expect(open, "")
		flat := p.flat
		p.flat = true
		for !p.is(shut) {
			if p.is(EOF) {
				p.isOpen(at.Span(), open.String(), shut.String())
				panic(bail{})
			}
			read()
			if p.is(EOF) {
				continue
			}
			if !p.accept(Comma) && !p.is(shut) {
				p.fail("write , or "+shut.String(), "expected , or %s, but here is %s", shut, p.found())
			}
		}
		p.flat = flat
		p.next()
	})
}

// params reads (a: T, b?: T); types are left out where they are inferred.
func (p *parser) params(typed bool) []*Param {
	list := []*Param{}
	p.paren(LParen, RParen, func() {
		list = append(list, p.param(typed))
	})
	return list
}

func (p *parser) param(typed bool) *Param {
	start := p.pos()
	a := &Param{Name: p.ident("a parameter's name")}
	if typed {
		a.Optional = p.accept(Question)
		if !p.is(Colon) {
			p.untyped(a.Name)
		}
	}
	if p.accept(Colon) {
		a.Type = p.typ()
	}
	a.At = p.since(start)
	return a
}

var stateWords = []string{"checked", "mixed", "pressed", "expanded", "collapsed", "selected",
	"disabled", "enabled", "focused", "current", "invalid"}

// IsState says whether w is one of the states that steps may ask for.
func IsState(w string) bool { return slices.Contains(stateWords, w) }

// instead reports what is written at a place, with what to write instead.
func (p *parser) instead(at source.Span, message, write string) *finding.Finding {
	f := finding.New("unreadable", finding.Error, at, "%s", message).Instead("%s", write)
	p.report(f)
	return f
}

func (p *parser) textOf(at source.Span) string { return p.file.Slice(at.Start, at.End) }
