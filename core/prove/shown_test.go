package prove

import (
	"os"
	"testing"

	"lien/core/design"
)

// TestShownTooLong: what is only shown, and takes more steps than a turn may have, fails
// the turn in proofs, too.
func TestShownTooLong(t *testing.T) {
	text, err := os.ReadFile("testdata/heavy/shown-too-long.lien")
	if err != nil {
		t.Fatal(err)
	}
	rep := Run(design.Parse("d.lien", string(text)), Options{})
	if o := outcome(rep, "turn-fails"); o.Verdict != Broken {
		t.Errorf("it is %s", o.Verdict)
	}
}
