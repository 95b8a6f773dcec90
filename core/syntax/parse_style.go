package syntax

import (
	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
)

// style reads style { CSS } or style file("base.css").
func (p *parser) style(start source.Pos) *Style {
	s := &Style{}
	if p.isWord("file") && p.peek(1) == LParen {
		p.next()
		p.expect(LParen, "before the name of the file")
		s.File = p.textLit("the name of a .css file")
		p.expect(RParen, "after the name of the file")
		s.At = p.since(start)
		return s
	}
	if !p.is(LBrace) || p.peek(1) != Sheet {
		p.fail(`write style { ... } with CSS in it, or style file("base.css")`, "expected { after style, but here is %s", p.found())
	}
	p.next()
	s.Body = source.Span{Start: p.pos(), End: p.file.Pos(int(p.tokens[p.at].end))}
	var problems []css.Problem
	s.Sheet, problems = css.Parse(p.word())
	if p.peek(1) != RBrace { // it is never closed, which is told: what follows is none of it
		problems = nil
	}
	for _, f := range problems {
		at := source.Span{Start: s.Body.Start + source.Pos(f.Start), End: min(s.Body.End, s.Body.Start+source.Pos(f.End))}
		p.report(finding.New("unreadable", finding.Error, at, "%s", f.Message).Instead("%s", f.Write))
	}
	p.next()
	p.accept(RBrace)
	s.At = p.since(start)
	return s
}

// styleInView tells of styles among the elements.
func (p *parser) styleInView() {
	if p.word() == "style" && p.peek(1) == LBrace && p.peek(2) == Sheet {
		p.failAt(p.here().Span(), "move it out of the view, beside it", "styles stand in the component, not in its view")
	}
}
