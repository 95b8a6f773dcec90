package prove

import (
	"fmt"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/value"
)

// plainSearch is the judge of the search: it takes every way from a new
// engine, keeps states in a map, and reduces nothing.
type plainSearch struct {
	d      *design.Design
	reader *engine.Reader
	pool   *value.Pool
	ways   map[string][]int // by state: a shortest way
	one    map[string]bool  // the states, where questions that do not concern each other have one order
	broken map[string]int   // by law, and by where a turn fails: how many steps it takes
	cans   map[string]bool
	pages  map[string]string // by state: the page
	clash  string
	cut    bool
	e      *engine.Engine
	laws   [][]*engine.Condition
}

func naively(d *design.Design, most, asks int) *plainSearch {
	s := &plainSearch{d: d, pool: value.NewPool(), ways: map[string][]int{}, one: map[string]bool{}, broken: map[string]int{}, cans: map[string]bool{}, pages: map[string]string{}, e: engine.New(d)}
	for _, l := range d.Laws {
		var list []*engine.Condition
		for _, c := range l.Clauses {
			list = append(list, s.e.Compile(&c.Unit))
		}
		s.laws = append(s.laws, list)
	}
	queue := [][]int{nil}
	first, _, _ := s.take(nil, asks)
	s.ways[first] = nil
	for len(queue) > 0 {
		way := queue[0]
		queue = queue[1:]
		for i := range s.count(way) {
			next := append(slices.Clone(way), i)
			state, ok, _ := s.take(next, asks)
			if !ok || s.known(state) {
				continue
			}
			if len(s.ways) >= most {
				s.cut = true
				return s
			}
			s.ways[state] = next
			queue = append(queue, next)
		}
	}
	return s
}

func (s *plainSearch) known(state string) bool {
	_, ok := s.ways[state]
	return ok
}

func (s *plainSearch) mounted() *engine.Engine {
	s.e.OnTurn = nil
	if _, err := s.e.Mount(s.d.Starts[0]); err != nil {
		panic(err)
	}
	return s.e
}

// count is how many causes there are at the end of a way.
func (s *plainSearch) count(way []int) int {
	e := s.mounted()
	for _, i := range way {
		list := e.Causes(nil)
		e.Do(&list[i])
	}
	return len(e.Causes(nil))
}

// take takes a way, and looks at the laws at the end of every turn of its last step.
func (s *plainSearch) take(way []int, asks int) (state string, ok bool, e *engine.Engine) {
	stayed := map[*design.Clause]bool{} // what was so after the turn before
	look := func(at int) {
		for i, l := range s.d.Laws {
			for j, c := range l.Clauses {
				switch {
				case c.Kind == "stays":
					stayed[c] = s.stays(e, l, s.laws[i][j], stayed[c], len(way))
				case at == len(way):
					s.look(e, l, c, s.laws[i][j], at == 0, len(way))
				}
			}
		}
	}
	e = s.mounted()
	look(0)
	for n, i := range way {
		list := e.Causes(nil)
		e.OnTurn = func(*engine.Record) error { look(n + 1); return nil }
		if err := e.Do(&list[i]); err != nil {
			s.breaks("turn-fails "+err.Error(), len(way))
			return "", false, e
		}
	}
	if e.Asks() > asks {
		return "", false, e
	}
	st := engine.NewReader(e, s.pool, engine.Reading{}).Read()
	state = fmt.Sprintf("%q %v", st.Shape, st.Cells)
	e.OneOrder(true)
	st = engine.NewReader(e, s.pool, engine.Reading{}).Read()
	e.OneOrder(false)
	s.one[fmt.Sprintf("%q %v", st.Shape, st.Cells)] = true
	page := s.page(e)
	if was, ok := s.pages[state]; ok && was != page {
		s.clash = was + "\nand\n" + page
	}
	s.pages[state] = page
	return state, true, e
}

// page writes what is shown, without who has the focus, which nothing in these
// designs asks for.
func (s *plainSearch) page(e *engine.Engine) string {
	var out strings.Builder
	e.Elements(func(el *engine.Element) bool {
		states := slices.DeleteFunc(e.States(el), func(s string) bool { return s == "focused" })
		fmt.Fprintf(&out, "%s %q %v %q\n", el.Role(), e.Name(el), states, el.LiveValue())
		return true
	})
	return out.String() + fmt.Sprint(e.Waiting(), e.Quiet())
}

func (s *plainSearch) breaks(name string, n int) {
	if was, ok := s.broken[name]; !ok || n < was {
		s.broken[name] = n
	}
}

// stays looks at a law that something stays for ever, and says whether it is so.
func (s *plainSearch) stays(e *engine.Engine, l *design.Law, cond *engine.Condition, was bool, n int) bool {
	v, err := e.Eval(cond)
	holds := err == nil && v == value.Value(value.Bool(true))
	if was && !holds {
		s.breaks(l.Name, n)
	}
	return holds
}

func (s *plainSearch) look(e *engine.Engine, l *design.Law, c *design.Clause, cond *engine.Condition, mounting bool, n int) {
	if c.Kind == "turn" && mounting || c.Kind == "settles" && !e.Quiet() {
		return
	}
	v, err := e.Eval(cond)
	holds := err == nil && v == value.Value(value.Bool(true))
	switch {
	case c.Kind == "can":
		s.cans[l.Name] = s.cans[l.Name] || holds
	case err != nil || holds == (c.Kind == "never"):
		s.breaks(l.Name, n)
	}
}

// TestAgainstNaive: on generated designs the search finds the same number of
// states as the naive one, breaks the same laws and turns, and in as few
// steps, with reductions and without.
func TestAgainstNaive(t *testing.T) {
	const most = 100 // states of a design that the naive search can visit
	designs := designs(40, 2000)
	var whole, breaks, divided, ordered atomic.Int64
	compare := func(t *testing.T, seed int, d *design.Design) {
		if seed%4 > 0 && !Run(d, Options{Asks: 2, Plain: true, States: most}).Starts[0].Whole {
			return // the naive search would take long to say no more than that there are many
		}
		want := naively(d, most, 2)
		if want.clash != "" {
			t.Fatalf("two pages in one state:\n%s", want.clash)
		}
		if want.cut {
			return
		}
		whole.Add(1)
		turns := 0
		for _, o := range Run(d, Options{Asks: 2, slice: true}).Laws {
			breaks.Add(int64(compareOutcome(t, seed, o, want)))
		}
		for _, plain := range []bool{true, false} {
			rep := Run(d, Options{Asks: 2, Plain: plain})
			states := len(want.one)
			if plain {
				turns, states = rep.Starts[0].Turns.N, len(want.ways)
			} else if got := rep.Starts[0].Turns.N; got != turns && !rep.Starts[0].Symmetric && len(want.one) == len(want.ways) {
				t.Fatalf("%d parts: %d turns, want %d", rep.Starts[0].Parts, got, turns)
			}
			ordered.Add(int64(len(want.ways) - len(want.one)))
			if got := rep.Starts[0].States.N; got != states && (!rep.Starts[0].Symmetric || got > states) {
				t.Fatalf("plain %v, %d parts: %d states, want %d", plain, rep.Starts[0].Parts, got, states)
			}
			if rep.Starts[0].Parts > 1 {
				divided.Add(1)
			}
			for _, o := range rep.Laws {
				breaks.Add(int64(compareOutcome(t, seed, o, want)))
			}
		}
	}
	t.Run("designs", func(t *testing.T) {
		for seed := range designs {
			t.Run(fmt.Sprint(seed), func(t *testing.T) {
				t.Parallel()
				switch seed % 5 {
				case 0, 1:
					compare(t, seed, generated(t, uint64(seed)))
				case 2:
					compare(t, seed, asking(t, uint64(seed)))
				default:
					compare(t, seed, sideBySide(t, uint64(seed)))
				}
			})
		}
	})
	if int(whole.Load()) < designs/3 || breaks.Load() < whole.Load() || int(divided.Load()) < designs/40 || *judge && ordered.Load() == 0 {
		t.Errorf("of %d designs %d are small enough, with %d broken laws, %d of them in parts, %d states less by order: too few to tell anything", designs, whole.Load(), breaks.Load(), divided.Load(), ordered.Load())
	}
}

func compareOutcome(t *testing.T, seed int, o *Outcome, want *plainSearch) (broken int) {
	t.Helper()
	if o.Promise != nil && o.Promise != promiseFails {
		return 0
	}
	name := o.Name()
	if o.Law != nil && strings.HasPrefix(o.Law.Clauses[0].Kind, "can") {
		if (o.Verdict == Broken || o.Verdict == Unclear) == want.cans[name] {
			t.Fatalf("design %d: %s is %s, but a state was found: %v", seed, name, o.Verdict, want.cans[name])
		}
		return 0
	}
	steps, ok := want.broken[name]
	if o.Promise != nil {
		for what, n := range want.broken {
			if strings.HasPrefix(what, name) && (!ok || n < steps) {
				steps, ok = n, true
			}
		}
	}
	if (o.Verdict == Broken) != ok {
		t.Fatalf("design %d: %s is %s, the naive search says broken: %v", seed, name, o.Verdict, ok)
	}
	if !ok {
		return 0
	}
	if got := causesOf(o.Breach); got != steps {
		t.Fatalf("design %d: %s breaks in %d steps %v, want %d", seed, name, got, o.Breach.Path.Steps, steps)
	}
	return 1
}

// causesOf is how many causes a scenario takes: a wait that only passes time
// is none.
func causesOf(b *Breach) int { return b.Path.Causes }
