package engine

import (
	"testing"

	"lien/core/design"
)

// TestSteady: what an expression reads does not depend on the values that it
// reads, or may: a write of one of them then leaves out what another one would
// have read.
func TestSteady(t *testing.T) {
	for _, c := range []struct {
		expr string
		want bool
	}{
		{"a && b", false}, {"!a", true}, {"a == b", true}, {"a ? 1 : 2", true}, {"a ? n : 2", false}, {"a ? 1 : n", false},
		{"a ? b : c", false}, {"a && true", true}, {"a || b", false}, {"text ?? other", false}, {`text ?? "none"`, true},
		{"list.map(x => x + n)", true}, {"list.map(x => x > 1 ? n : 0)", false}, {"list.filter(x => x > n)", true},
		{"list.filter(x => x > 1).length", true}, {"list.filter(x => x > 1).map(x => x + n)", false}, {"list.find(x => x == n)", false},
		{"list.some(x => x == n)", false}, {"`${a} ${n}`", true}, {"double(n)", false}, {"one == two", false}, {"list.length > n", true},
	} {
		d := design.Parse("steady.lien", `derives double(x: number) = x * 2
component a-b {
  holds a: boolean = false
  holds b: boolean = false
  holds c: boolean = false
  holds n: number = 0
  holds text: string? = null
  holds other: string? = null
  holds list: number[] = [1, 2]
  holds one: { x: number } = { x: 1 }
  holds two: { x: number } = { x: 2 }
  derives d = `+c.expr+`
}
`)
		if d.Failed() {
			t.Fatalf("%s: %s", c.expr, d.Findings[0].Message)
		}
		if got := steady(d.Components[0].Member("d").Init.Expr); got != c.want {
			t.Errorf("%s is steady: %v, want %v", c.expr, got, c.want)
		}
	}
}
