package check

import (
	"strings"

	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
)

// unknownProperty: a property that CSS does not know.
var unknownProperty = rule{"unknown-property", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, s := range p.d.Styles {
		for _, it := range s.Sheet.Unknown() {
			at := s.At(it.Start, it.Start+len(it.Name))
			f := report(at, "CSS has no property %s", it.Name)
			if near := finding.Nearest(strings.ToLower(it.Name), css.Properties()); near != "" {
				f.Instead("did you mean %s?", near).Mend("write "+near, at, near)
				continue
			}
			f.Instead("a property of your own begins with two hyphens: --%s", it.Name)
		}
	}
}}

// framesMeet: two animations of one name, of which the page takes the last for both.
var framesMeet = rule{"frames-meet", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	first := map[string]source.Span{}
	for _, s := range p.d.Styles {
		s.Sheet.Frames(func(name string, it *css.Item) {
			at := s.At(it.Start, it.Start+len(it.Name)+1)
			if o, ok := first[name]; ok {
				report(at, "there are two @keyframes named %s, and a page has one of a name", name).
					See(o.Start, "the other one").Instead("give one of them another name")
				return
			}
			first[name] = at
		})
	}
}}
