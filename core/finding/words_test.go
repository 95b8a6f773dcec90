package finding

import "testing"

func TestWords(t *testing.T) {
	for _, c := range []struct{ got, want string }{
		{Count(0, "turn"), "0 turns"},
		{Count(1, "turn"), "1 turn"},
		{Count(12, "turn"), "12 turns"},
		{Article("action"), "an action"},
		{Article("Ware[]"), "a Ware[]"},
	} {
		if c.got != c.want {
			t.Errorf("%q, not %q", c.got, c.want)
		}
	}
}
