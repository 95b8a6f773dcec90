package engine

import (
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/value"
)

const rackText = `context palette {
  holds glaze: string = "ash"
  derives shown = glaze.toUpperCase()
}

component ware-row {
  takes name: string
  takes full: boolean
  shares picked: boolean = false
  uses palette
  view {
    li {
      .full <- full
      title <- palette.shown
      ` + "`${name}`" + `
      b { aria-current <- picked; "x" }
      slot
    }
  }
}

component rack-page {
  holds wares: { id: number, name: string }[] = [{ id: 1, name: "bowl" }, { id: 2, name: "jug" }]
  holds full: boolean = false
  holds late: boolean = false
  supplies palette as colours
  derives shown = full ? wares : wares.filter(w => w.id > 0)
  service-free() = 1
  view {
    ul {
      each w in shown by w.id {
        ware-row { .late <- late; name <- w.name; full <- full; em ` + "`${w.id}`" + ` }
      }
    }
    p { when late { "late" } }
    i "still"
  }
}

start rack-page
`

func rack(t *testing.T) *Engine {
	t.Helper()
	d := design.Parse("rack.lien", strings.Replace(rackText, "  service-free() = 1\n", "", 1))
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	e := New(d)
	if _, err := e.Mount(d.Starts[0]); err != nil {
		t.Fatal(err)
	}
	return e
}

// TestSources: what an element shows, through links, derived values, contexts, items and classes from outside.
func TestSources(t *testing.T) {
	e := rack(t)
	want := map[string]string{
		"ul": "rack-page.full rack-page.wares",
		"li": "rack-page.full palette.glaze rack-page.late rack-page.wares",
		"b":  "ware-row.picked",
		"em": "rack-page.full rack-page.wares",
		"p":  "rack-page.late",
		"i":  "",
	}
	seen := map[string]bool{}
	e.Elements(func(el *Element) bool {
		if seen[el.Tag()] {
			return true
		}
		seen[el.Tag()] = true
		have := map[string]bool{}
		for _, s := range e.Sources(el) {
			have[s.Holder.Component().Name+"."+s.Member.Label] = true
		}
		for _, w := range strings.Fields(want[el.Tag()]) {
			if !have[w] {
				t.Errorf("%s does not come from %s, but from %v", el.Tag(), w, have)
			}
			delete(have, w)
		}
		if len(have) > 0 {
			t.Errorf("%s comes from %v, too", el.Tag(), have)
		}
		return true
	})
}

// TestShowing: a cell is shown by the elements that it is a source of, in each instance its own.
func TestShowing(t *testing.T) {
	e := rack(t)
	for _, c := range []struct {
		path, cell string
		want       string
	}{
		{"rack-page", "late", "li li p"},
		{"rack-page", "full", "ul li em li em"},
		{"rack-page > palette", "glaze", "li li"},
		{"rack-page", "none", ""},
	} {
		var got []string
		for _, el := range e.Showing(c.path, c.cell) {
			got = append(got, el.Tag())
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s.%s is shown by %q, want %s", c.path, c.cell, got, c.want)
		}
	}
	rows := 0
	for _, i := range e.Instances() {
		if i.Component().Name != "ware-row" {
			continue
		}
		rows++
		list := e.Showing(i.Path(), "picked")
		if len(list) != 1 || list[0].Instance() != i {
			t.Errorf("picked of %s is shown by %d elements", i.Path(), len(list))
		}
	}
	if rows != 2 {
		t.Errorf("there are %d rows", rows)
	}
}

// TestStandIn: what stands in for an answer, its time and its failures, without any page.
func TestStandIn(t *testing.T) {
	d := design.Parse("log.lien", `type Ware = { id: string, kg: number }
service kiln-log at "/api" {
  find(kg: number, name: string): Ware[] by GET "/find{?kg,name}" replies [{ id: name, kg: 100 / kg }] after kg * 10 fails `+"`no ${name}`"+`, "closed"
  light() by POST "/light"
}
`)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	e := New(d)
	find, light := d.Services[0].Operations[0], d.Services[0].Operations[1]
	s, err := e.StandIn(find, []value.Value{value.Number(4), value.String("bowl")})
	if err != nil || value.Show(s.Reply) != `[{ id: "bowl", kg: 25 }]` || s.After != 40 || strings.Join(s.Fails, ";") != "no bowl;closed" {
		t.Errorf("%s after %v, %q, %v", value.Show(s.Reply), s.After, s.Fails, err)
	}
	if _, err := e.StandIn(find, []value.Value{value.Number(0), value.String("bowl")}); err == nil {
		t.Error("a stand-in that fails gives an answer")
	}
	if s, err := e.StandIn(light, nil); err != nil || !value.IsNull(s.Reply) || strings.Join(s.Fails, ";") != "there is no answer" {
		t.Errorf("%v, %q, %v", s.Reply, s.Fails, err)
	}
}
