package design

import (
	"lien/core/types"
	"lien/core/value"
)

// Constant is the value of what is always the same, written out or by a constant's name; or nil.
func Constant(x types.Expr) value.Value {
	if r, ok := x.(*types.Ref); ok {
		if c, ok := r.Symbol.(*Const); ok {
			x = c.Unit.Expr
		}
	}
	if k, ok := x.(*types.Const); ok {
		return k.Value
	}
	return nil
}

// FixedText is the text that an expression always is, if it is one.
func FixedText(x types.Expr) (text string, fixed bool) {
	s, fixed := Constant(x).(value.String)
	return string(s), fixed
}
