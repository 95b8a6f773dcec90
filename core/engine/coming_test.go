package engine

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
)

// coming writes what is to come, a line each.
func coming(e *Engine) string {
	var lines []string
	for _, c := range e.Coming() {
		lines = append(lines, fmt.Sprintf("%s in %v", c.Text, c.In))
	}
	return strings.Join(lines, "; ")
}

// What is to come, and the time, are those of the moment that is gone back to.
func TestComingAndTurningBack(t *testing.T) {
	d := design.Parse("coming.lien", `service kiln-log { load(id: string): string replies id after 300 fails "a", "b"; save() }
component kiln-page {
  holds said: string = ""
  timer cool(k: number) after k * 100 { said = "cool" }
  view {
    button "Fire" { click -> { start cool(2); start cool(5) } }
    button "Ask" { click -> { ask kiln-log.load("bowl") { got(t) -> said = t; failed(w) -> said = w }; ask kiln-log.save() } }
  }
}
start kiln-page
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	e := New(d)
	e.Keep()
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	press := func(name string) {
		t.Helper()
		e.Elements(func(el *Element) bool {
			if e.Name(el) == name {
				if err := e.Press(el); err != nil {
					t.Fatal(err)
				}
				return false
			}
			return true
		})
	}
	type moment struct {
		mark int
		now  float64
		want string
	}
	var moments []moment
	note := func(want string) {
		t.Helper()
		if got := coming(e); got != want {
			t.Errorf("%s is to come, want %s", got, want)
		}
		moments = append(moments, moment{e.Mark(), e.Now(), want})
	}
	note("")
	press("Fire")
	note("cool(2) of kiln-page in 200; cool(5) of kiln-page in 500")
	if err := e.Wait(150); err != nil {
		t.Fatal(err)
	}
	note("cool(2) of kiln-page in 50; cool(5) of kiln-page in 350")
	press("Ask")
	note(`cool(2) of kiln-page in 50; cool(5) of kiln-page in 350; kiln-log.load("bowl") in 300; kiln-log.save() in -1`)
	if err := e.Wait(100); err != nil {
		t.Fatal(err)
	}
	note(`cool(5) of kiln-page in 250; kiln-log.load("bowl") in 200; kiln-log.save() in -1`)
	for i := len(moments) - 1; i >= 0; i-- {
		m := moments[i]
		e.TurnBack(m.mark, m.now)
		if got := coming(e); got != m.want || e.Now() != m.now {
			t.Errorf("back at %v, %s is to come, want %s at %v", e.Now(), got, m.want, m.now)
		}
	}
}

// A question fails in the way that is said, or not at all.
func TestFailWith(t *testing.T) {
	d := design.Parse("fail.lien", `service kiln-log { load(id: string): string replies id fails "offline", `+"`no ${id}`"+` }
component kiln-page {
  holds said: string = ""
  on mount { ask kiln-log.load("bowl") { failed(w) -> said = w } }
  view { p `+"`${said}`"+` }
}
start kiln-page
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	o := d.Services[0].Operations[0]
	says, found, err := e.FailWith(o, nil, 1, "no jug")
	if found || err != nil || strings.Join(says, "|") != "offline|no bowl" {
		t.Errorf("it says %v, found %v, %v", says, found, err)
	}
	var texts []string
	list := e.Causes(nil)
	for i := range list {
		if s := e.Says(&list[i]); s != "" {
			texts = append(texts, s)
		}
	}
	if strings.Join(texts, "|") != "offline|no bowl" {
		t.Errorf("the causes say %v", texts)
	}
	if _, found, err := e.FailWith(o, nil, 1, "no bowl"); !found || err != nil {
		t.Errorf("found %v, %v", found, err)
	}
	if _, found, _ := e.FailWith(o, nil, 1, "no bowl"); found || !strings.Contains(plainPage(e), "no bowl") {
		t.Errorf("it was answered twice, or not shown:\n%s", plainPage(e))
	}
}
