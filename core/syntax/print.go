package syntax

import (
	"bytes"
	"unicode/utf8"

	"lien/core/source"
)

// Width is the longest line that a block on one line may make.
const Width = 100

// Print lays a file out in the one way there is. It keeps every comment and
// the author's choice of blank lines, of short blocks on one line and of
// where long lists and expressions break. A file with findings is not whole
// and must not be printed over its source.
func Print(f *File) []byte {
	p := &printer{file: f, src: f.Source, comments: f.Comments}
	p.decls()
	return p.aligned()
}

// mark is a place in the output that lines up with the same kind of mark in
// the lines around it.
type mark struct {
	at      int
	comment bool // a comment behind a line; else the arrow of a link
}

// printer writes the tree in order; before each node it writes the comments
// that stand before it in the source.
type printer struct {
	file     *File
	src      *source.File
	comments []Comment // those not yet written
	out      []byte
	marks    []mark
	indent   int
	line     int  // the source line of what was written last
	broken   bool // a comment ended the line: the next word starts a new one
	inline   bool // inside a block on one line
}

func (p *printer) lineOf(pos source.Pos) int { return p.src.LineOf(pos) }

func (p *printer) write(s string) {
	if p.broken {
		p.broken = false
		p.newline()
		p.out = append(p.out, "  "...)
		if s != "" && s[0] == ' ' {
			s = s[1:]
		}
	}
	p.out = append(p.out, s...)
}

func (p *printer) newline() {
	p.out = bytes.TrimRight(p.out, " ")
	p.out = append(p.out, '\n')
	for range p.indent {
		p.out = append(p.out, "  "...)
	}
}

// before writes the comments that stand before pos inside a line.
func (p *printer) before(pos source.Pos) {
	for len(p.comments) > 0 && p.comments[0].At.Start < pos {
		p.comment(p.comments[0])
		p.broken = true
	}
}

// comment writes the next comment: behind the line it was written behind, or
// on a line of its own.
func (p *printer) comment(c Comment) {
	p.comments = p.comments[1:]
	if c.Own || p.broken {
		if p.broken || len(bytes.TrimSpace(p.out[bytes.LastIndexByte(p.out, '\n')+1:])) > 0 {
			p.broken = false
			p.newline()
			p.out = append(p.out, "  "...)
		}
	} else if len(p.out) > 0 {
		p.out = append(bytes.TrimRight(p.out, " "), ' ')
		p.marks = append(p.marks, mark{len(p.out), true})
	}
	p.out = append(p.out, c.Text...)
	p.line = p.lineOf(c.At.Start)
}

// separate starts the line of an entry at pos: the comments above it first,
// and one blank line where the source has any or force asks for it.
func (p *printer) separate(pos source.Pos, first, force bool) {
	for len(p.comments) > 0 && p.comments[0].At.Start < pos {
		c := p.comments[0]
		if !c.Own && p.lineOf(c.At.Start) == p.line && !p.broken {
			p.comment(c)
			continue
		}
		p.entryLine(c.At.Start, first, force)
		first, force = false, false
		p.comments = p.comments[1:]
		p.out = append(p.out, c.Text...)
		p.line = p.lineOf(c.At.Start)
	}
	p.entryLine(pos, first, force)
}

func (p *printer) entryLine(pos source.Pos, first, force bool) {
	p.broken = false
	if len(p.out) == 0 {
		return
	}
	if !first && (force || p.lineOf(pos)-p.line > 1) {
		p.out = append(bytes.TrimRight(p.out, " "), '\n')
	}
	p.newline()
}

// done notes where an entry ended, and writes a comment behind it.
func (p *printer) done(end, next source.Pos) {
	p.line = p.lineOf(end)
	for len(p.comments) > 0 && p.comments[0].At.Start < end {
		p.comment(p.comments[0])
		p.broken = true
	}
	if len(p.comments) > 0 {
		if c := p.comments[0]; !c.Own && !p.broken && c.At.Start < next && p.lineOf(c.At.Start) == p.line {
			p.comment(c)
		}
	}
}

// snapshot lets a block be tried on one line and taken back.
type snapshot struct {
	out, marks int
	comments   []Comment
	line       int
	broken     bool
	inline     bool
}

func (p *printer) save() snapshot {
	return snapshot{len(p.out), len(p.marks), p.comments, p.line, p.broken, p.inline}
}

func (p *printer) restore(s snapshot) {
	p.out, p.marks = p.out[:s.out], p.marks[:s.marks]
	p.comments, p.line, p.broken, p.inline = s.comments, s.line, s.broken, s.inline
}

// entries writes { ... }: on one line where the source has it so and it fits.
// shut is the place of the closing brace.
func entries[N Node](p *printer, list []N, shut source.Pos, entry func(N)) {
	if p.inlineEntries(len(list), func(i int) source.Span { return list[i].Span() }, shut, func(i int) { entry(list[i]) }) {
		return
	}
	p.write("{")
	inline := p.inline
	p.inline, p.broken = false, false
	p.indent++
	if len(list) > 0 {
		p.line = p.lineOf(p.openLine(list[0].Span().Start))
	}
	for i, n := range list {
		p.separate(n.Span().Start, i == 0, false)
		entry(n)
		next := shut
		if i+1 < len(list) {
			next = list[i+1].Span().Start
		}
		p.done(n.Span().End, next)
	}
	p.tail(shut, len(list) == 0)
	p.indent--
	p.newline()
	p.broken = false
	p.write("}")
	p.inline = inline
	p.line = p.lineOf(shut)
}

// openLine is a place on the line of the { before pos.
func (p *printer) openLine(pos source.Pos) source.Pos {
	text := p.src.Text[:p.src.Offset(pos)]
	if n := bytes.LastIndexByte([]byte(text[max(0, len(text)-4096):]), '{'); n >= 0 {
		return p.src.Pos(max(0, len(text)-4096) + n)
	}
	return pos
}

// tail writes the comments between the last entry and the closing brace.
func (p *printer) tail(shut source.Pos, first bool) {
	for len(p.comments) > 0 && p.comments[0].At.Start < shut {
		c := p.comments[0]
		if !c.Own && !p.broken && (first || p.lineOf(c.At.Start) == p.line) {
			p.comment(c)
			first = false
			continue
		}
		p.entryLine(c.At.Start, first, false)
		first = false
		p.comments = p.comments[1:]
		p.out = append(p.out, c.Text...)
		p.line = p.lineOf(c.At.Start)
	}
}

// inlineEntries tries to write a block on one line.
func (p *printer) inlineEntries(n int, at func(int) source.Span, shut source.Pos, entry func(int)) bool {
	if len(p.comments) > 0 && p.comments[0].At.Start < shut {
		return false
	}
	if n == 0 {
		p.write("{}")
		return true
	}
	if p.lineOf(at(0).Start) != p.lineOf(shut) {
		return false
	}
	s := p.save()
	p.inline = true
	p.write("{ ")
	for i := range n {
		if i > 0 {
			p.write("; ")
		}
		entry(i)
	}
	p.write(" }")
	line := p.out[bytes.LastIndexByte(p.out, '\n')+1:]
	if utf8.RuneCount(line) > Width && !s.inline || bytes.IndexByte(p.out[s.out:], '\n') >= 0 && !s.inline {
		p.restore(s)
		return false
	}
	p.inline = s.inline
	return true
}

// group writes a bracketed list: an item a line where the first one stands on
// a line after the bracket.
func (p *printer) group(open, shut string, openAt, shutAt source.Pos, n int, at func(int) source.Span, item func(int), pad bool) {
	p.write(open)
	if n == 0 {
		p.before(shutAt)
		p.write(shut)
		return
	}
	if p.lineOf(at(0).Start) == p.lineOf(openAt) || p.inline {
		if pad {
			p.write(" ")
		}
		for i := range n {
			if i > 0 {
				p.write(", ")
			}
			p.before(at(i).Start)
			item(i)
		}
		p.before(shutAt)
		if pad {
			p.write(" ")
		}
		p.write(shut)
		return
	}
	p.indent++
	p.line = p.lineOf(openAt)
	for i := range n {
		p.separate(at(i).Start, i == 0, false)
		item(i)
		p.write(",")
		next := shutAt
		if i+1 < n {
			next = at(i + 1).Start
		}
		p.done(at(i).End, next)
	}
	p.tail(shutAt, false)
	p.indent--
	p.newline()
	p.broken = false
	p.write(shut)
}

// aligned pads the marked places of neighbouring lines to one column: the
// arrows of links first, then the comments behind lines.
func (p *printer) aligned() []byte {
	out := append(bytes.TrimRight(p.out, " \n"), '\n')
	if len(out) == 1 {
		return nil
	}
	out, marks := align(out, p.marks, false)
	out, _ = align(out, marks, true)
	return out
}

// align pads the marks of one kind, and moves all marks along.
func align(out []byte, marks []mark, comment bool) ([]byte, []mark) {
	pads := make([]int, len(marks))
	for i := 0; i < len(marks); {
		if marks[i].comment != comment {
			i++
			continue
		}
		run, widest := []int{i}, column(out, marks[i].at)
		i++
		for ; i < len(marks); i++ {
			if marks[i].comment != comment {
				continue
			}
			if !adjacent(out, marks[run[len(run)-1]].at, marks[i].at, comment) {
				break
			}
			run = append(run, i)
			widest = max(widest, column(out, marks[i].at))
		}
		for _, m := range run {
			pads[m] = widest - column(out, marks[m].at)
		}
	}
	res := make([]byte, 0, len(out)+len(out)/8)
	last := 0
	moved := make([]mark, len(marks))
	for i, m := range marks {
		res = append(res, out[last:m.at]...)
		for range pads[i] {
			res = append(res, ' ')
		}
		last = m.at
		moved[i] = mark{len(res), m.comment}
	}
	return append(res, out[last:]...), moved
}

// adjacent says whether b stands on the line after a's, as deep as it.
func adjacent(out []byte, a, b int, comment bool) bool {
	return bytes.Count(out[a:b], []byte("\n")) == 1 && (comment || depthAt(out, a) == depthAt(out, b))
}

func lineStart(out []byte, at int) int { return bytes.LastIndexByte(out[:at], '\n') + 1 }

func column(out []byte, at int) int { return utf8.RuneCount(out[lineStart(out, at):at]) }

func depthAt(out []byte, at int) int {
	n := 0
	for i := lineStart(out, at); i < at && out[i] == ' '; i++ {
		n++
	}
	return n
}
