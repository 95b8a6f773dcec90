package prove

import (
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/flow"
	"lien/core/source"
)

// walked is a design with what is told of it, to hold what happens against.
type walked struct {
	t      *testing.T
	d      *design.Design
	dep    *flow.Depend
	bodies map[source.Span]*design.Body
	ties   map[source.Span]*design.Element
	slices map[*design.Member]*flow.Slice
	does   map[flow.Var]map[flow.Var]bool
	ran    []source.Span
	turns  int // in which a cell changed
}

func newWalked(t *testing.T, d *design.Design) *walked {
	w := &walked{t: t, d: d, dep: flow.DependOf(flow.Of(d), flow.RisksOf(d, false)), bodies: map[source.Span]*design.Body{},
		ties: map[source.Span]*design.Element{}, slices: map[*design.Member]*flow.Slice{}, does: map[flow.Var]map[flow.Var]bool{}}
	d.Bodies(func(b *design.Body) { w.bodies[b.At] = b })
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			for _, tie := range el.Ties {
				w.ties[tie.Read.Expr.Span()] = el
			}
		}
	}}.Design(d)
	return w
}

// cell finds the cell that a record says has changed, or nil for what is not one.
func (w *walked) cell(ch engine.Change) *design.Member {
	parts := strings.Split(ch.Path, " > ")
	name, _, _ := strings.Cut(parts[len(parts)-1], "[")
	if c := w.d.Component(name); c != nil {
		if m := c.Member(ch.Cell); m != nil && m.IsCell() {
			return m
		}
	}
	return nil
}

// hold holds a turn against what is told: what ran is in the slice of every cell
// that has changed, and does change it.
func (w *walked) hold(rec *engine.Record) {
	for _, ch := range rec.Changes {
		m := w.cell(ch)
		if m == nil || ch.Was == nil || ch.Is == nil {
			continue
		}
		w.turns++
		if w.slices[m] == nil {
			of := []flow.Var{m}
			for _, f := range recordFields(m.Type()) {
				of = append(of, flow.Field(f))
			}
			w.slices[m] = w.dep.Slice(of)
		}
		inSlice, done := w.answers(rec, m)
		for _, at := range w.ran {
			var v flow.Var
			if el := w.ties[at]; el != nil {
				inSlice, done = inSlice || w.slices[m].Hears(el), true
				continue
			}
			if b := w.bodies[at]; b != nil {
				v = b
			}
			inSlice = inSlice || w.slices[m].Has(v)
			done = done || w.tells(v, m)
		}
		if !inSlice {
			w.t.Errorf("%s.%s changes by %s, and nothing that ran is in its slice", m.Owner.Name, m.Label, rec.Cause)
		}
		if !done && !w.linked(m) {
			w.t.Errorf("%s.%s changes by %s, and nothing that ran is told to change it", m.Owner.Name, m.Label, rec.Cause)
		}
	}
}

// answers says the same of what no body does: answers that come, and forms that are
// reset.
func (w *walked) answers(rec *engine.Record, m *design.Member) (inSlice, done bool) {
	if rec.Cause == "the fields of a form are reset" && m.Field {
		return w.slices[m].Has(rec.Target.Def()), true
	}
	for _, s := range w.d.Services {
		for _, o := range s.Operations {
			if strings.HasSuffix(rec.Cause, " "+s.Name+"."+o.Name) {
				return w.slices[m].Has(o), w.tells(o, m)
			}
		}
	}
	return false, false
}

// tells says whether a body is told to change a cell, or a field of what it holds.
func (w *walked) tells(body flow.Var, m *design.Member) bool {
	changes := w.changes(body)
	return changes[m] || slices.ContainsFunc(recordFields(m.Type()), func(f string) bool { return changes[flow.Field(f)] })
}

// changes are what a body is told to change.
func (w *walked) changes(body flow.Var) map[flow.Var]bool {
	if w.does[body] == nil {
		w.does[body] = map[flow.Var]bool{}
		for _, v := range w.dep.Does(body) {
			w.does[body][v] = true
		}
	}
	return w.does[body]
}

// linked says whether a cell is another one's for some user: it changes with it.
func (w *walked) linked(m *design.Member) bool {
	for _, u := range w.dep.Uses(m.Owner) {
		for _, g := range append(u.Links, u.Ties...) {
			if g.Member == m {
				return true
			}
		}
	}
	return m.Kind == design.Shares && m.Init != nil && m.Copy
}

// wander does things at random on a page.
func (w *walked) wander(s *design.Start, seed uint64, steps int) {
	r := rand.New(rand.NewPCG(seed, 3))
	e := engine.New(w.d)
	e.Keep()
	if _, err := e.Mount(s); err != nil {
		return
	}
	changed := map[*design.Member]bool{}
	e.OnRun = func(at source.Span) { w.ran = append(w.ran, at) }
	e.OnTurn = func(rec *engine.Record) error {
		w.hold(rec)
		for _, ch := range rec.Changes {
			if m := w.cell(ch); m != nil && ch.Was != nil && ch.Is != nil {
				changed[m] = true
			}
		}
		w.ran = w.ran[:0]
		return nil
	}
	for range steps {
		list := e.Causes(nil)
		if len(list) == 0 {
			return
		}
		clear(changed)
		w.ran = w.ran[:0]
		mark, at := e.Mark(), r.IntN(len(list))
		was := list[at]
		failed := e.Do(&list[at]) != nil
		e.Rewind(mark)
		if failed { // it is taken back
			continue
		}
		for m := range changed {
			w.listed(e, &was, m)
		}
		list = e.Causes(nil)
		if e.Do(&list[at]) != nil {
			return
		}
	}
}

// listed holds that a cause that changes a cell is one of those of its slice.
// Where a gesture in one place acts in another, any may: the design is visited whole.
func (w *walked) listed(e *engine.Engine, was *engine.Cause, m *design.Member) {
	if e.ReachesFar() {
		return
	}
	e.Within(w.slices[m])
	defer e.Within(nil)
	for _, c := range e.Causes(nil) {
		if c.Verb == was.Verb && c.Element == was.Element && c.Onto == was.Onto && c.Text == was.Text && c.Method == was.Method {
			return
		}
	}
	what := string(was.Verb)
	if was.Element != nil {
		what += " " + was.Element.Tag()
	}
	w.t.Errorf("%s.%s changes by %s, which is not looked at in its slice", m.Owner.Name, m.Label, what)
}

// TestTurnsAgree: on pages that run, what changes a cell is in its slice, is told to
// change it, and is done in a search of the slice.
func TestTurnsAgree(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	more, _ := filepath.Glob("testdata/verdicts/*.lien")
	turns := 0
	hold := func(d *design.Design, steps int) {
		w := newWalked(t, d)
		for i, s := range d.Starts {
			w.wander(s, uint64(i), steps)
		}
		turns += w.turns
	}
	for _, f := range append(files, more...) {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		if d := design.Parse(f, string(text)); !d.Failed() { // else it reads files beside it
			hold(d, 200)
		}
	}
	for seed := range uint64(designs(45, 2000)) {
		hold(generated(t, seed), 100)
		if t.Failed() {
			t.Fatalf("seed %d", seed)
		}
	}
	if turns < 1000 {
		t.Errorf("only %d changes were looked at", turns)
	}
}
