package links_test

import (
	"math/rand/v2"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"lien/core/aria"
	"lien/core/design"
	"lien/core/engine"
	"lien/core/links"
	"lien/core/value"
)

// seen is what the engine does in random walks, held against the links: who changes a cell, and
// what shows it.
type seen struct {
	t       *testing.T
	d       *design.Design
	e       *engine.Engine
	g       *links.Graph
	cause   engine.Cause
	changed map[string]bool // cells whose change was held against the links
	shown   map[string]bool
}

// TestEveryLink: in a design with every kind of link nothing that the engine does is missing.
func TestEveryLink(t *testing.T) {
	text, err := os.ReadFile("testdata/every-link.lien")
	if err != nil {
		t.Fatal(err)
	}
	d := design.Parse("every-link.lien", string(text))
	if d.Failed() {
		t.Fatal(d.Errors()[0].Message)
	}
	s := &seen{t: t, d: d, g: links.Of(d), changed: map[string]bool{}, shown: map[string]bool{}}
	for seed := range uint64(30) {
		s.walk(rand.New(rand.NewPCG(seed, 1)))
	}
	for _, m := range s.g.Cells() {
		if name := m.Owner.Name + "." + m.Label; !s.g.Tied(m) && !s.changed[name] {
			t.Errorf("%s was never seen to change", name)
		}
	}
	if len(s.shown) < 10 {
		t.Errorf("only %d cells were seen on the page", len(s.shown))
	}
}

// TestAskedAndConstant: what else than the page reads a cell, and where constants get to, is told too.
func TestAskedAndConstant(t *testing.T) {
	text, err := os.ReadFile("testdata/every-link.lien")
	if err != nil {
		t.Fatal(err)
	}
	d := design.Parse("every-link.lien", string(text))
	g := links.Of(d)
	for cell, want := range map[string][]string{
		"count":  {"link-page first value of first", "link-page on mount", "link-page sent as news", "link-page click on button", "line-follow follows n"},
		"asked":  {"link-page asked of kiln-log.save"},
		"memory": {"link-page click on button"},
		"fold":   nil,
	} {
		var got []string
		for _, p := range g.Journey(d.Component("link-page").Member(cell)).Asked {
			got = append(got, p.Component.Name+" "+p.What)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%s is asked for by %q, want %q", cell, got, want)
		}
	}
	for _, c := range d.Consts {
		if sites := g.Consts[c]; len(sites) != 1 || sites[0].What != "text of p" || sites[0].Component.Name != "link-page" {
			t.Errorf("%s gets to %v, want the text of p in link-page", c.Label, sites)
		}
	}
	shut := slices.ContainsFunc(g.Journey(d.Component("link-page").Member("done")).Changed, func(p *links.Path) bool {
		return p.Component.Name == "ask-sheet" && strings.HasPrefix(p.What, "Escape")
	})
	if !shut {
		t.Error("done changes as the sheet is dismissed, and nothing says so")
	}
}

func (s *seen) walk(r *rand.Rand) {
	s.e = engine.New(s.d)
	s.e.OnTurn = s.turn
	if _, err := s.e.Mount(s.d.Starts[0]); err != nil {
		s.t.Fatal(err)
	}
	before := s.page()
	for range 60 {
		list := s.e.Causes(nil)
		if len(list) == 0 {
			return
		}
		s.cause = list[r.IntN(len(list))]
		changes := s.cells()
		if err := s.e.Do(&s.cause); err != nil {
			s.t.Fatal(err)
		}
		after := s.page()
		s.differences(changes, before, after)
		before = after
	}
}

var place = regexp.MustCompile(`( \d+)?(\[.*\])?$`)

// componentOf is the component of the instance that a path leads to.
func componentOf(path string) string {
	return place.ReplaceAllString(path[strings.LastIndex(path, " > ")+1:], "")
}

// turn holds each change of a turn against what is said to change the cell.
func (s *seen) turn(rec *engine.Record) error {
	for _, c := range rec.Changes {
		of := s.d.Component(strings.TrimSpace(strings.TrimPrefix(componentOf(c.Path), "> ")))
		if of == nil || of.Member(c.Cell) == nil {
			s.t.Fatalf("%s has no %s", c.Path, c.Cell)
		}
		m := of.Member(c.Cell)
		if !m.IsCell() {
			continue
		}
		s.changed[of.Name+"."+m.Label] = true
		if !s.isSaid(s.g.Journey(m).Changed, rec) {
			s.t.Errorf("%s changes %s.%s, and no link says so", rec.Cause, of.Name, m.Label)
		}
	}
	return nil
}

func (s *seen) isSaid(paths []*links.Path, rec *engine.Record) bool {
	paths = slices.DeleteFunc(slices.Clone(paths), func(p *links.Path) bool { // which say that there is none
		return p.What == "nothing reports it" || p.What == "nobody sends it"
	})
	for _, p := range paths {
		switch el := rec.Target; {
		case el == nil:
			return len(paths) > 0 // by time, or by an answer
		case p.Component.Name == el.Instance().String() && strings.HasSuffix(p.What, " "+el.Def().Tag),
			strings.HasPrefix(p.What, "Escape"), strings.HasPrefix(p.What, "on "), strings.HasPrefix(p.What, "follows"):
			return true
		}
	}
	for _, p := range paths { // it bubbles to an element around
		if p.Component.Name == rec.Target.Instance().String() {
			return true
		}
	}
	return false
}

// cells are the values of all cells, by component and name.
func (s *seen) cells() map[string]string {
	all := map[string]string{}
	for _, i := range s.e.Instances() {
		for _, c := range s.e.Cells(i) {
			if m := s.d.Component(i.String()).Member(c.Name); m != nil && m.IsCell() {
				all[i.Path()+"."+c.Name] = value.Brief(c.Value, 200)
			}
		}
	}
	return all
}

// page is what each element shows by itself.
func (s *seen) page() map[*engine.Element]string {
	all := map[*engine.Element]string{}
	p := s.e.DOM()
	s.e.Elements(func(el *engine.Element) bool {
		text := el.Get("class") + "|" + el.Get("aria-label") + "|" + strings.Join(aria.States(p, &el.Element), " ") + "|" + el.LiveValue()
		for _, n := range el.Children() {
			text += n.Text
		}
		all[el] = text
		return true
	})
	return all
}

// differences holds what looks otherwise against what is said to show the one cell that changed.
func (s *seen) differences(before map[string]string, was, is map[*engine.Element]string) {
	var changed []string
	for name, v := range s.cells() {
		if old, ok := before[name]; ok && old != v {
			changed = append(changed, name)
		}
	}
	if len(changed) != 1 {
		return
	}
	path, cell, _ := strings.Cut(changed[0], ".")
	of := s.d.Component(strings.TrimPrefix(strings.TrimSpace(componentOf(path)), "> "))
	if of == nil || of.Member(cell) == nil || !of.Member(cell).IsCell() {
		return
	}
	shown := s.g.Journey(of.Member(cell)).Shown
	for el, text := range is {
		old, there := was[el]
		if !there || withoutFocus(old) == withoutFocus(text) {
			continue
		}
		s.shown[of.Name+"."+cell] = true
		said := false
		for _, p := range shown {
			said = said || p.Component.Name == el.Instance().String()
		}
		if !said {
			s.t.Errorf("%s.%s is shown by %s, and no link says so: %q, then %q", of.Name, cell, el.Instance(), old, text)
		}
	}
}

func withoutFocus(s string) string {
	return strings.Join(strings.Fields(strings.ReplaceAll(strings.ReplaceAll(s, "focused", ""), "|", " ")), " ")
}
