package check

import (
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/html"
	"lien/core/page"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// noSuchKey: a key is compared with a text that is the name of none, or a scenario presses one.
var noSuchKey = rule{"no-such-key", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	with := func(key, name types.Expr) {
		if flow.IsKey(key) {
			keyNamed(name, report)
		}
	}
	for _, x := range p.seen().tests {
		switch x := x.(type) {
		case *types.Binary:
			if x.Op == syntax.Equal || x.Op == syntax.NotEqual {
				with(x.X, x.Y)
				with(x.Y, x.X)
			}
		case *types.Method:
			if list, ok := x.Recv.(*types.ListOf); ok && x.Name == "includes" {
				for _, it := range list.Items {
					with(x.Args[0], it.X)
				}
			}
		}
	}
	for _, s := range p.d.Scenarios {
		keysPressed(s.Steps, report)
	}
}}

// keysPressed reports the steps that press a key that there is not.
func keysPressed(steps []*design.Step, report reporter) {
	for _, s := range steps {
		keysPressed(s.Steps, report)
		if s.Verb != "key" {
			continue
		}
		key := page.ChordOf(s.Text.Value).Key
		held := strings.TrimSuffix(s.Text.Value, key)
		noKey(key, s.Text.Span(), report, func(meant string) string { return value.Show(value.String(held + meant)) }, true)
	}
}

// keyNamed reports a text that is no key, and the one that is meant.
func keyNamed(x types.Expr, report reporter) {
	name, fixed := design.FixedText(x)
	if !fixed {
		return
	}
	_, named := x.(*types.Ref) // what has a name may be meant otherwise elsewhere
	noKey(name, x.Span(), report, func(meant string) string { return value.Show(value.String(meant)) }, !named)
}

// noKey reports a name that no key has, and what is to be written for the one that is meant.
func noKey(name string, at source.Span, report reporter, written func(meant string) string, here bool) {
	meant := html.KeyMeant(name)
	if meant == name {
		return
	}
	f := report(at, "no key is called %s", value.Show(value.String(name)))
	if meant == "" {
		f.Instead(`a key is a character, such as "a" or " ", or has a name, such as "Enter" or "ArrowDown"`)
		return
	}
	f.Instead("write %s", written(meant))
	if here {
		f.Mend("write "+written(meant), at, written(meant))
	}
}
