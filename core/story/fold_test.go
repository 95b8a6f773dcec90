package story

import (
	"strings"
	"testing"

	"lien/core/design"
)

// TestFold: what comes again is told once, with what it changed from the first time to the last.
func TestFold(t *testing.T) {
	d := design.Parse("clock.lien", `component burn-clock {
  holds left: number = 100
  holds name: string = ""
  holds keys: number = 0
  emits half()
  timer tick every 1000 { left -= 1; if (left == 90) emit half() }
  on mount { start tick }
  view {
    p `+"`${left} ${name} ${keys}`"+`
    input { aria-label <- "Name"; value <-> name; keydown -> keys += 1 }
  }
}
start burn-clock
scenario "x" {
  type "Adel" into textbox "Name"
  wait 12000
}`)
	if d.Failed() {
		t.Fatal(d.Errors()[0].Message)
	}
	var lines []string
	steps, _ := Trace(d, d.Scenarios[0])
	for _, st := range steps {
		for _, turn := range Fold(st.Turns) {
			lines = append(lines, turn.Head())
			for _, line := range ActLines(turn.Record) {
				lines = append(lines, strings.TrimSpace(line))
			}
		}
	}
	got := strings.Join(lines, "\n")
	for _, want := range []string{
		"keydown on input, 4 times\n= burn-clock.keys: 0 → 4\ninput on input, 4 times\n= burn-clock.name: \"\" → \"Adel\"",
		"timer tick, 9 times\n= burn-clock.left: 100 → 91\ntimer tick\n= burn-clock.left: 91 → 90\n↑ burn-clock reports half()",
		"timer tick\n= burn-clock.left: 90 → 89\ntimer tick\n= burn-clock.left: 89 → 88",
	} {
		if !strings.Contains(got, want) {
			t.Errorf("there is no\n%s\nin\n%s", want, got)
		}
	}
}
