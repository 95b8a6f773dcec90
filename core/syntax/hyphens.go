package syntax

import (
	"maps"
	"slices"
	"strings"

	"lien/core/finding"
	"lien/core/source"
)

// Occurrences are the places in a file where a name stands, with hyphens or without; texts and
// comments are no names, and a style sheet has none.
func Occurrences(file *source.File, name string) (list []source.Span) {
	if strings.HasSuffix(file.Name, ".css") {
		return nil
	}
	p := &parser{file: file, tokens: scan(file, func(*finding.Finding) {}).tokens}
	for !p.is(EOF) {
		if !p.is(Ident) {
			p.next()
			continue
		}
		start := p.pos()
		if p.hyphened() == name {
			list = append(list, source.Span{Start: start, End: p.end()})
		}
	}
	return list
}

// Rename are the edits that give a name another one in a file.
func Rename(file *source.File, from, to string) (edits []finding.Edit) {
	for _, at := range Occurrences(file, from) {
		edits = append(edits, finding.Edit{Span: at, Text: to})
	}
	return edits
}

// Hyphened is where the name with hyphens stands of which a part stands somewhere, or that part where there are none beside it.
func Hyphened(file *source.File, part source.Span) source.Span {
	from, to := file.Offset(part.Start), file.Offset(part.End)
	for from > 1 && file.Text[from-1] == '-' && isWordByte(file.Text[from-2]) {
		for from--; from > 0 && isWordByte(file.Text[from-1]); from-- {
		}
	}
	for to+1 < len(file.Text) && file.Text[to] == '-' && isWordByte(file.Text[to+1]) {
		for to++; to < len(file.Text) && isWordByte(file.Text[to]); to++ {
		}
	}
	return source.Span{Start: file.Pos(from), End: file.Pos(to)}
}

// joinContexts makes one name of each hyphenated name of a context, which cannot be used in an
// expression, so that it is told once, where it is declared.
func (p *parser) joinContexts() {
	var names []string
	for i := range p.tokens {
		if p.tokens[i].kind != Ident {
			continue
		}
		if w := p.text(p.tokens[i]); w != "context" && w != "uses" && w != "supplies" {
			continue
		}
		ahead := parser{file: p.file, tokens: p.tokens, at: i + 1}
		if ahead.is(Ident) && ahead.peek(1) == Minus && ahead.glued(1) {
			if name := ahead.hyphened(); ahead.at > i+2 && !slices.Contains(names, name) {
				names = append(names, name)
			}
		}
	}
	for _, name := range names {
		p.join(name)
	}
}

// join makes one token of each place where a hyphenated name stands.
func (p *parser) join(name string) {
	out := p.tokens[:0]
	for i := 0; i < len(p.tokens); {
		t := p.tokens[i]
		ahead := parser{file: p.file, tokens: p.tokens, at: i}
		if t.kind == Ident && ahead.hyphened() == name {
			t.end = p.tokens[ahead.at-1].end
			i = ahead.at - 1
		}
		out = append(out, t)
		i++
	}
	p.tokens = out
}

// rename gives names others, wherever they stand in the file; a field of a record keeps its own.
func (p *parser) rename(names map[string]string) {
	if len(names) == 0 {
		return
	}
	for _, from := range slices.Sorted(maps.Keys(names)) {
		p.join(from)
	}
	p.names = map[int32]string{}
	for i, t := range p.tokens {
		as, ok := names[p.file.Text[t.start:t.end]]
		if field := i > 0 && (p.tokens[i-1].kind == Dot || p.tokens[i-1].kind == OptDot); ok && t.kind == Ident && !field {
			p.names[t.start] = as
		}
	}
}

// unhyphened reports the hyphenated name of a context.
func (p *parser) unhyphened(name *Word) {
	to := camel(name.Text)
	f := finding.New("unreadable", finding.Error, name.Span(), "the name of a context has no hyphen, since its users write it in expressions").
		Instead("write %s, everywhere", to)
	f.Fix = &finding.Fix{Title: "write " + to, Edits: Rename(p.file, name.Text, to)}
	p.report(f)
}
