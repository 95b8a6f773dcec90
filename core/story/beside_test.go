package story

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/value"
)

// beside is the engine's own page, as if it were another one, and notes what it is told.
type beside struct {
	engine.Driven
	told  []string
	fails string // what it does not do
}

func (b *beside) note(what string) error {
	b.told = append(b.told, what)
	if b.fails != "" && strings.HasPrefix(what, b.fails) {
		return errors.New("the other page does not " + what)
	}
	return nil
}

func (b *beside) Wait(ms float64) error { return b.note(fmt.Sprintf("wait %v", ms)) }

func (b *beside) Answer(o *design.Operation, nth, failure int) error {
	return b.note(fmt.Sprintf("answer %s.%s %d %d", o.Service.Name, o.Name, nth, failure))
}

func (b *beside) Call(m *design.Member, args []value.Value) error {
	return b.note(fmt.Sprintf("call %s(%s)", m.Label, value.Show(value.NewList(args))))
}

const besideText = `service kiln-log {
  find(glaze: string): number replies 3 fails "closed", "late"
}
component log-page {
  holds said: string[] = []
  timer tick after 100 { said = [...said, "tick"] }
  offers add(text: string) { said = [...said, text] }
  action ask(g: string) { ask kiln-log.find(g) { got(n) -> said = [...said, g]; failed(why) -> said = [...said, why] } }
  view {
    button "Ask" { click -> { ask("ash"); ask("shino"); start tick } }
    p ` + "`${said.join(\" \")}`" + `
  }
}
start log-page

scenario "both" {
  press button "Ask"
  wait 100
  reply kiln-log.find("shino")
  fail kiln-log.find with "late"
  call log-page.add("more")
  shows "tick shino late more"
}
`

// TestBeside: what is done on a page beside the engine is all that the steps do, and what it cannot do fails its step.
func TestBeside(t *testing.T) {
	d := design.Parse("log.lien", besideText)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	run := func(fails string) (*beside, *Result) {
		var b *beside
		rep := RunOn(d, nil, func(e *engine.Engine, s *design.Start) (Beside, error) {
			if s != d.Starts[0] || e.Root() == nil {
				t.Error("it is opened beside another start, or before it begins")
			}
			b = &beside{Driven: e.Driven(), fails: fails}
			return b, nil
		})
		if len(rep.Results) != 1 {
			t.Fatalf("there are %d results", len(rep.Results))
		}
		return b, rep.Results[0]
	}
	b, r := run("")
	if r.Failure != nil {
		t.Fatal(r.Failure.Message)
	}
	if got := strings.Join(b.told, "; "); got != `wait 100; answer kiln-log.find 2 0; answer kiln-log.find 1 2; call add(["more"])` {
		t.Errorf("it is told %s", got)
	}
	for fails, step := range map[string]int{"wait": 2, "answer kiln-log.find 2": 3, "answer kiln-log.find 1": 4, "call": 5} {
		_, r := run(fails)
		if r.Failure == nil || r.Steps != step || !strings.Contains(r.Failure.Message, "the other page does not "+fails) {
			t.Errorf("%s: %d steps, %+v", fails, r.Steps, r.Failure)
		}
	}
	rep := RunOn(d, nil, func(*engine.Engine, *design.Start) (Beside, error) { return nil, errors.New("there is no browser") })
	if f := rep.Results[0].Failure; f == nil || !strings.Contains(f.Message, "there is no browser") {
		t.Errorf("a page that cannot be opened gives %+v", f)
	}
	if !rep.Failed() {
		t.Error("the report has not failed")
	}
}
