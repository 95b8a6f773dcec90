package design_test

import (
	"testing"

	"lien/core/design"
)

// TestFirstOf: the plainest value of a type, as it is proposed where a first one is missing.
func TestFirstOf(t *testing.T) {
	d := design.Parse("a.lien", `type Glaze = "ash" | "shino"
type Ware = { id: string, glaze: Glaze }
component a-part {
  takes text: string
  takes count: number
  takes lit: boolean
  takes list: Ware[]
  takes maybe: Ware?
  takes glaze: Glaze
  takes step: -1 | 1
  takes ware: Ware
  takes both: string | number
}
`)
	if d.Failed() {
		t.Fatal(messages(d))
	}
	for name, want := range map[string]string{"text": `""`, "count": "0", "lit": "false", "list": "[]", "maybe": "null", "glaze": `"ash"`, "step": "-1", "ware": "", "both": "0"} {
		if got := design.FirstOf(d.Component("a-part").Member(name).Type()); got != want {
			t.Errorf("%s begins with %q, want %q", name, got, want)
		}
	}
}
