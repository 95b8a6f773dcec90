package compare

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/form"
	"lien/core/source"
	"lien/core/story"
	"lien/core/syntax"
)

var judge = flag.Bool("judge", false, "plant more changes")

// TestPlanted: a change that is planted in an example is found by the search wherever a naive one finds it, and
// by no longer a way; and designs of one form are never told apart.
func TestPlanted(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	if len(files) < 10 {
		t.Fatal("there are no examples")
	}
	many := 5
	if *judge {
		many = 60
	}
	random := rand.New(rand.NewPCG(5, 8))
	planted, told, oneForm := 0, 0, 0
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		before := design.Parse("before.lien", string(text))
		if before.Failed() || len(before.Starts) == 0 {
			continue
		}
		places := changeable(string(text))
		for range many {
			if len(places) == 0 {
				break
			}
			p := places[random.IntN(len(places))]
			changed := string(text[:p.from]) + p.text + string(text[p.to:])
			after := design.Parse("after.lien", changed)
			if after.Failed() || len(after.Starts) != len(before.Starts) {
				continue
			}
			planted++
			what := fmt.Sprintf("%s: %q in place of %q at %d", filepath.Base(name), p.text, text[p.from:p.to], p.from)
			rep := Run(before, after, Options{Plain: true, Pairs: 2000, Time: 2 * time.Second})
			if rep.Differs() {
				told++
			}
			one := true
			for k := range before.Starts {
				one = one && form.Alike(before, after, before.Starts[k], after.Starts[k]) == ""
			}
			if one {
				oneForm++
			}
			if one && rep.Differs() {
				t.Errorf("%s: they have one form, and can be told apart", what)
			}
			if way, ok := naive(before, after); ok {
				length := -1
				if d := rep.Starts[0].Difference; d != nil {
					length = causesIn(d)
				}
				if length < 0 || length > len(way) {
					t.Errorf("%s: a naive search tells them apart by %v, the search in %d steps", what, way, length)
				}
			}
		}
	}
	t.Logf("%d changes planted, %d told, %d of one form", planted, told, oneForm)
	if told < planted/3 {
		t.Errorf("only %d of %d planted changes are told", told, planted)
	}
}

// causesIn counts what happens in a scenario: waits for a timer are one, any other wait none; here all count.
func causesIn(d *Difference) int { return len(d.Steps) }

// planting is a change of a piece of text.
type planting struct {
	from, to int
	text     string
}

// changeable are small changes in components: of numbers, texts, names, conditions, classes, order, and what is done.
func changeable(text string) (list []planting) {
	f := syntax.Parse(source.NewSet().Add("", text))
	off := f.Source.Offset
	for _, d := range f.Decls {
		c, ok := d.(*syntax.Component)
		if !ok {
			continue
		}
		last := ""
		syntax.Walk(c, func(n syntax.Node) bool {
			add := func(at source.Span, with string) { list = append(list, planting{off(at.Start), off(at.End), with}) }
			switch n := n.(type) {
			case *syntax.NumberLit:
				add(n.Span(), fmt.Sprint(n.Value+1))
			case *syntax.Name:
				if n.Text == "true" {
					add(n.Span(), "false")
				} else if n.Text == "false" {
					add(n.Span(), "true")
				} else if last != "" && last != n.Text { // the one that was spoken of before
					add(n.Span(), last)
				}
				if n.Text != "true" && n.Text != "false" && n.Text != "null" {
					last = n.Text
				}
			case *syntax.Binary:
				op := map[syntax.Kind]string{syntax.Equal: "!=", syntax.NotEqual: "==", syntax.And: "||", syntax.Or: "&&", syntax.Less: ">=", syntax.Greater: "<="}[n.Op]
				if op != "" {
					add(source.Span{Start: n.X.Span().End, End: n.Y.Span().Start}, " "+op+" ")
				}
			case *syntax.Unary:
				if n.Op == syntax.Not {
					add(source.Span{Start: n.Start, End: n.X.Span().Start}, "")
				}
			case *syntax.Link:
				if n.Class {
					add(n.Name.Span(), "other")
				}
			case *syntax.Block:
				if len(n.Stmts) > 1 {
					a, b := n.Stmts[0].Span(), n.Stmts[1].Span()
					add(source.Span{Start: a.Start, End: b.End}, f.Source.Slice(b.Start, b.End)+"\n"+f.Source.Slice(a.Start, a.End))
					add(a, "log 1")
				}
			}
			return true
		})
	}
	return list
}

// naive takes every way of the first design of at most two steps on both, each from the beginning, and compares the
// pages as people read them. It says by which way they can be told apart first.
func naive(before, after *design.Design) (way []string, ok bool) {
	a, b := before.Starts[0], after.Starts[0]
	x, y := mounted(before, a), mounted(after, b)
	if x == nil || y == nil {
		return nil, false
	}
	if !slices.Equal(story.Page(x), story.Page(y)) {
		return []string{}, true
	}
	type path []int
	level := []path{{}}
	for depth := 1; depth <= 2; depth++ {
		var next []path
		for _, p := range level {
			e := along(before, a, p)
			if e == nil {
				continue
			}
			n := len(e.Causes(nil))
			for i := range min(n, 12) {
				q := append(slices.Clone(p), i)
				next = append(next, q)
				if texts, differ := tried(before, after, a, b, q); differ {
					return texts, true
				}
			}
		}
		level = next
	}
	return nil, false
}

func mounted(d *design.Design, s *design.Start) *engine.Engine {
	e := engine.New(d)
	if _, err := e.Mount(s); err != nil {
		return nil
	}
	return e
}

func along(d *design.Design, s *design.Start, p []int) *engine.Engine {
	e := mounted(d, s)
	for _, i := range p {
		list := e.Causes(nil)
		if i >= len(list) || list[i].Verb == engine.Elapse || e.Do(&list[i]) != nil {
			return nil
		}
	}
	return e
}

// tried takes a way on both designs, by the places of elements on the page.
func tried(before, after *design.Design, a, b *design.Start, p []int) (texts []string, differ bool) {
	x, y := mounted(before, a), mounted(after, b)
	for _, i := range p {
		list := x.Causes(nil)
		if i >= len(list) {
			return nil, false
		}
		c := &list[i]
		if c.Element == nil || c.Onto != nil || c.Verb == engine.Outside {
			return nil, false // time and the world are taken side by side by the search alone
		}
		texts = append(texts, story.StepText(x, c))
		other := elementAt(y, placeOf(x, c.Element))
		if other == nil {
			return nil, false
		}
		same := &engine.Cause{Verb: c.Verb, Element: other, Text: c.Text}
		errX, errY := x.Do(c), y.Do(same)
		if (errX == nil) != (errY == nil) {
			return texts, true
		}
	}
	return texts, !slices.Equal(story.Page(x), story.Page(y))
}

func placeOf(e *engine.Engine, el *engine.Element) (at int) {
	n := 0
	e.Elements(func(o *engine.Element) bool {
		if o == el {
			at = n
		}
		n++
		return o != el
	})
	return at
}

func elementAt(e *engine.Engine, at int) (found *engine.Element) {
	n := 0
	e.Elements(func(o *engine.Element) bool {
		if n == at {
			found = o
		}
		n++
		return found == nil
	})
	return found
}
