package check

import (
	"strings"

	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
)

// A comment "// meant RULE: reason", or /* ... */ in a sheet, behind a line or above it, says that what
// the rule finds there is so on purpose.

// meantComment is one such comment.
type meantComment struct {
	at     source.Span
	file   *source.File
	line   int // the line it speaks of
	rule   string
	reason string
	used   bool
}

// meant leaves out what comments declare as meant. Errors cannot be meant.
func (p *pass) meant(list []*finding.Finding) []*finding.Finding {
	comments := p.comments()
	if len(comments) == 0 {
		return list
	}
	var out []*finding.Finding
	for _, f := range list {
		if c := p.speaksOf(comments, f); c != nil && f.Level != finding.Error {
			c.used = true
			continue
		}
		out = append(out, f)
	}
	for _, c := range comments {
		switch {
		case Page(c.rule) == nil:
			out = append(out, finding.New("never-used", finding.Warning, c.at, "there is no rule %s", c.rule).
				Instead("%s", near(c.rule)))
		case c.reason == "":
			out = append(out, finding.New("never-used", finding.Warning, c.at, "this comment does not say why it is meant").
				Instead("write // meant %s: the reason", c.rule))
		case !c.used:
			out = append(out, finding.New("never-used", finding.Note, c.at, "%s finds nothing here any more", c.rule).
				Instead("remove this comment"))
		}
	}
	return out
}

func near(rule string) string {
	if n := finding.Nearest(rule, Rules()); n != "" {
		return "did you mean " + n + "?"
	}
	return "lien check --why lists the rules"
}

func (p *pass) comments() []*meantComment {
	var list []*meantComment
	add := func(at source.Span, file *source.File, text string, own bool) {
		text, ok := strings.CutPrefix(strings.TrimSpace(text), "meant ")
		if !ok {
			return
		}
		rule, reason, _ := strings.Cut(text, ":")
		rule = strings.TrimSpace(rule)
		if strings.ContainsAny(rule, " \t") {
			return // an ordinary sentence
		}
		line := file.LineOf(at.Start)
		if own {
			line = file.LineOf(at.End) + 1
		}
		list = append(list, &meantComment{at: at, file: file, line: line, rule: rule, reason: strings.TrimSpace(reason)})
	}
	for _, f := range p.d.Files {
		for _, c := range f.Comments {
			add(c.At, f.Source, strings.TrimPrefix(c.Text, "//"), c.Own)
		}
	}
	for _, s := range p.d.Styles {
		file := p.d.Set.File(s.Base)
		s.Sheet.Each(func(it *css.Item, _ []*css.Item) {
			if it.Kind != css.Comment {
				return
			}
			at := s.At(it.Start, it.End)
			before := file.Slice(file.Pos(0), at.Start)
			own := strings.TrimSpace(before[strings.LastIndexByte(before, '\n')+1:]) == ""
			add(at, file, strings.TrimSuffix(strings.TrimPrefix(s.Sheet.Text[it.Start:it.End], "/*"), "*/"), own)
		})
	}
	return list
}

func (p *pass) speaksOf(comments []*meantComment, f *finding.Finding) *meantComment {
	file := p.d.Set.File(f.Span.Start)
	for _, c := range comments {
		if c.rule == f.Rule && c.file == file && file != nil && c.line == file.LineOf(f.Span.Start) {
			return c
		}
	}
	return nil
}
