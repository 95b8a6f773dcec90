package syntax

import (
	"lien/core/finding"
	"lien/core/source"
)

// neverClosed reports that the { at the token open has no }. The } that
// follow close the blocks around it instead, one too few of them, so what was
// read since is not to be trusted: nothing else is said of it.
func (p *parser) neverClosed(open int) {
	at := p.tokens[p.outdented(open)]
	p.isOpen(source.Span{Start: p.file.Pos(int(at.start)), End: p.file.Pos(int(at.end))}, "{", "}")
}

// isOpen reports that what stands at a place is never closed, and takes back
// what was said of the text behind it.
func (p *parser) isOpen(at source.Span, open, shut string) {
	kept := p.out.Findings[:0]
	for _, f := range p.out.Findings {
		if f.Span.Start < at.Start {
			kept = append(kept, f)
		}
	}
	p.out.Findings, p.out.Unclosed = kept, true
	p.report(finding.New("unreadable", finding.Error, at, "this %s is never closed", open).Instead("close it with %s", shut))
}

// unlessShut gives up the file where the rest of the line has no } for the ${
// of a template: all behind it was taken for the wrong side of a template.
func (p *parser) unlessShut(hole source.Span) {
	for i, t := range p.tokens[p.at:] {
		if i > 0 && t.nl {
			break
		}
		if t.kind == TemplateMid || t.kind == TemplateTail {
			return
		}
	}
	p.isOpen(hole, "${", "}")
	panic(bail{whole: true})
}

// outdented is the { that was left open, as the layout tells: a line that
// starts no further in than the line of its { is outside of its block. Where
// the layout does not tell, it is open, the outermost.
func (p *parser) outdented(open int) int {
	type block struct{ at, indent int }
	var blocks []block
	indent := 0
	for i, t := range p.tokens[open:p.at] {
		if i == 0 || t.nl {
			indent = p.indent(t)
		}
		if n := len(blocks); t.nl && n > 0 {
			if b := blocks[n-1]; indent < b.indent || indent == b.indent && t.kind != RBrace {
				return b.at
			}
		}
		switch n := len(blocks); {
		case t.kind == LBrace:
			blocks = append(blocks, block{open + i, indent})
		case t.kind == RBrace && n > 0:
			blocks = blocks[:n-1]
		}
	}
	return open
}

// indent is how many bytes of space the line of a token starts with.
func (p *parser) indent(t token) int {
	text := p.file.Text[:t.start]
	start := len(text)
	for start > 0 && source.LineEnd(text[start-1:start]) == 0 {
		start--
	}
	n := start
	for n < int(t.start) && (text[n] == ' ' || text[n] == '\t') {
		n++
	}
	return n - start
}
