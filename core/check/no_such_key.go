package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/html"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// noSuchKey: a key is compared with a text that is the name of none.
var noSuchKey = rule{"no-such-key", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	with := func(key, name types.Expr) {
		if flow.IsKey(key) {
			keyNamed(name, report)
		}
	}
	design.Visitor{Expr: func(x types.Expr) {
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
	}}.Design(p.d)
}}

// keyNamed reports a text that is no key, and the one that is meant.
func keyNamed(x types.Expr, report reporter) {
	name, ok := constant(x).(value.String)
	if !ok {
		return
	}
	meant := html.KeyMeant(string(name))
	if meant == string(name) {
		return
	}
	f := report(x.Span(), "no key is called %s", value.Show(name))
	if meant == "" {
		f.Instead(`a key is a character, such as "a" or " ", or has a name, such as "Enter" or "ArrowDown"`)
		return
	}
	text := value.Show(value.String(meant))
	f.Instead("write %s", text)
	if _, named := x.(*types.Ref); !named { // what has a name may be meant otherwise elsewhere
		f.Mend("write "+text, x.Span(), text)
	}
}

// constant is the value of what is always the same, by itself or by a name; or nil.
func constant(x types.Expr) value.Value {
	if r, ok := x.(*types.Ref); ok {
		if c, ok := r.Symbol.(*design.Const); ok {
			x = c.Unit.Expr
		}
	}
	if k, ok := x.(*types.Const); ok {
		return k.Value
	}
	return nil
}
