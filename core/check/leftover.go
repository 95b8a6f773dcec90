package check

import (
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
)

// Taking out what is left over: a member with the links to it, an event with what hears it.

// without is a fix that takes a member out, and all that links to it or hears it.
func (p *pass) without(m *design.Member) *finding.Fix {
	fix := &finding.Fix{Title: "remove " + m.Label, Edits: []finding.Edit{p.cutLine(m.Syntax.Span())}}
	for _, u := range p.links().Uses[m.Owner] {
		s := u.Node.Syntax
		if s == nil {
			return nil
		}
		var gone []source.Span
		for _, it := range s.Body {
			switch it := it.(type) {
			case *syntax.Link:
				if it.Name.Text == m.Label && !it.Class {
					gone = append(gone, it.Span())
				}
			case *syntax.Event:
				if it.Name.Text == m.Label {
					gone = append(gone, it.Span())
				}
			}
		}
		fix.Edits = append(fix.Edits, p.cutItems(s, gone)...)
	}
	return fix
}

// cutItems takes items out of the block of a node, and the block with them where nothing is left.
func (p *pass) cutItems(el *syntax.Element, gone []source.Span) (edits []finding.Edit) {
	if len(gone) > 0 && len(gone) == len(el.Body) && el.Braces {
		text := p.d.Text(el.Span())
		if open := p.blockAt(el); open > 0 {
			head := strings.TrimRight(text[:open], " ")
			return []finding.Edit{{Span: source.Span{Start: el.Start + source.Pos(len(head)), End: el.Stop}}}
		}
	}
	for _, at := range gone {
		edits = append(edits, p.cutLine(at))
	}
	return edits
}

// blockAt is where the block of a node begins in its text.
func (p *pass) blockAt(el *syntax.Element) int {
	from := el.Name.Stop
	if el.Named != nil {
		from = el.Named.Stop
	}
	if el.Text != nil {
		from = el.Text.Span().End
	}
	return int(from-el.Start) + strings.IndexByte(p.d.Text(source.Span{Start: from, End: el.Stop}), '{')
}

// cutLine is the edit that takes out what stands at a place: the whole line where nothing else does.
func (p *pass) cutLine(at source.Span) finding.Edit {
	file := p.d.Set.File(at.Start)
	text, start, end := file.Text, file.Offset(at.Start), file.Offset(at.End)
	left, right := start, end
	for left > 0 && (text[left-1] == ' ' || text[left-1] == '\t') {
		left--
	}
	for right < len(text) && (text[right] == ' ' || text[right] == ';') {
		right++
	}
	alone := (left == 0 || text[left-1] == '\n') && (right == len(text) || text[right] == '\n')
	switch {
	case alone && right < len(text):
		right++
	case alone:
	case right > end && strings.Contains(text[end:right], ";"): // what follows on the line stays
		left = start
	default: // it is the last one on its line
		left, right = start, end
		for left > 0 && (text[left-1] == ' ' || text[left-1] == ';') {
			left--
		}
	}
	return finding.Edit{Span: source.Span{Start: file.Pos(left), End: file.Pos(right)}}
}
