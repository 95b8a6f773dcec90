package page

import (
	"strings"
	"testing"
)

// TestChords: a chord is keys held, and one pressed.
func TestChords(t *testing.T) {
	for _, c := range []struct{ chord, key, mods string }{
		{"a", "a", ""},
		{"Shift+Tab", "Tab", "Shift"},
		{"Control+Shift+a", "a", "Control Shift"},
		{"Alt+Meta+x", "x", "Alt Meta"},
		{"+", "+", ""},
		{"Control++", "+", "Control"},
		{"Other+x", "Other+x", ""},
	} {
		got := ChordOf(c.chord)
		if got.Key != c.key || strings.Join(got.Mods, " ") != c.mods {
			t.Errorf("%s is %+v", c.chord, got)
		}
	}
}
