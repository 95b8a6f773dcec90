// Package prove visits every state that users, time and the world outside can
// bring a design into. It checks the laws of the design in each of them, and
// what every design promises without saying so. Whatever it did not look at is
// in its verdict.
package prove

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/value"
)

// Options bound a proof. Zero values stand for the defaults.
type Options struct {
	States  int           // at most so many, 300,000 by default
	Depth   int           // causes in a row; 0 for no bound
	Time    time.Duration // 0 for no bound
	Memory  int           // bytes for states, 1 GB by default
	Asks    int           // questions that wait at a time, 3 by default
	Workers int           // goroutines, 2 by default

	Suggest bool            // write scenarios for what none touches
	Plain   bool            // no reductions
	Off     map[string]bool // promises that are not looked at
	Starts  func(*design.Start) bool

	Stop     context.Context
	Progress func(Progress) // told about twice a second

	forget bool // take every turn, and remember none
}

// Progress tells how far a proof has come.
type Progress struct {
	Start    *design.Start
	States   int
	Turns    int
	Frontier int // states that were found and not gone on from
	Elapsed  time.Duration
}

// Verdict is what a proof comes to.
type Verdict string

const (
	Holds       Verdict = "holds"        // every reachable state was visited
	HoldsWithin Verdict = "holds within" // as far as was looked
	Broken      Verdict = "broken"
	Unclear     Verdict = "unclear"
)

// Report is the outcome of a proof.
type Report struct {
	Starts   []*Space
	Laws     []*Outcome // the written laws, then the promises
	Cuts     []string   // what was not looked at
	Learned  []string
	Problems []*finding.Finding // samples that were for nothing
	Coverage *Coverage          // nil where there are no scenarios
}

// Space is what can be reached from one start.
type Space struct {
	Start  *design.Start
	States Count
	Turns  Count
	Depth  int  // the most causes that it takes to reach a state
	Whole  bool // nothing was cut
	Parts  int  // that were explored apart
	Unread bool // states that differ only in what nothing reads count as one
	Alike  bool // states that differ only in which of several alike is how count as one
}

// Outcome is the verdict on one law or promise.
type Outcome struct {
	Law     *design.Law // nil for a promise
	Promise *Promise    // nil for a law
	Verdict Verdict
	Why     string // of what is unclear or broken
	States  Count  // in which it was looked at
	Breach  *Breach
	More    []*Breach // other ways in which a promise is broken
}

// Name is the law's name or the promise's.
func (o *Outcome) Name() string {
	if o.Law != nil {
		return o.Law.Name
	}
	return o.Promise.Name
}

// Breach is one way in which a law or promise is broken.
type Breach struct {
	Message string
	At      source.Span // where in the design
	Path    *Path       // the shortest scenario, or nil where none shows it
}

// Failed says whether a law or promise is broken, or could not be decided.
func (r *Report) Failed() bool {
	for _, o := range r.Laws {
		if o.Verdict == Broken {
			return true
		}
	}
	return len(r.Problems) > 0
}

// Whole says whether every reachable state of every start was visited.
func (r *Report) Whole() bool { return len(r.Cuts) == 0 }

func (o *Options) defaults() {
	if o.States == 0 {
		o.States = 300_000
	}
	if o.Memory == 0 {
		o.Memory = 1 << 30
	}
	if o.Asks == 0 {
		o.Asks = 3
	}
	if o.Workers == 0 {
		o.Workers = 2
	}
	if o.Stop == nil {
		o.Stop = context.Background()
	}
}

func newProver(d *design.Design, o Options) *prover {
	o.defaults()
	p := &prover{d: d, o: o, fast: !o.forget && !makesKeys(d), rep: &Report{}, cuts: map[string]bool{}, pool: value.NewPool(),
		began: time.Now(), seen: newSights(), sampling: newSampling(d), breaches: map[breachAt]*found{}, reach: newReach(), work: map[*design.Member]map[string]bool{}}
	for _, l := range d.Laws {
		p.laws = append(p.laws, &law{out: &Outcome{Law: l}})
	}
	return p
}

// Run proves a design without errors. If values grow large on the way, all is
// done once more with an engine that takes nothing not to fail.
func Run(d *design.Design, o Options) *Report {
	p := newProver(d, o)
	p.run()
	if p.outgrown() {
		began := p.began
		p = newProver(d, o)
		p.strict, p.began = true, began
		p.run()
	}
	return p.rep
}

// outgrown says whether there are values so large that sums and joins may fail
// that are not worked out.
func (p *prover) outgrown() bool { return !p.strict && p.pool.Large() }

// engine is a new engine for the design.
func (p *prover) engine() *engine.Engine {
	if p.strict {
		return engine.NewStrict(p.d)
	}
	return engine.New(p.d)
}

func (p *prover) run() {
	d, o := p.d, p.o
	if !p.o.Plain && !p.strict {
		p.skip, p.alike = unread(d), alikeIn(d, engine.New(d))
	}
	for _, s := range d.Starts {
		if o.Starts == nil || o.Starts(s) {
			p.start(s)
		}
	}
	p.conclude()
	p.rep.Problems = p.problems()
	p.rep.Learned, p.rep.Coverage = p.learn(), p.cover()
	if o.Suggest && p.rep.Coverage != nil {
		p.suggest(p.rep.Coverage)
	}
}

// prover is a proof under way.
type prover struct {
	d     *design.Design
	o     Options
	rep   *Report
	laws  []*law
	pool  *value.Pool
	cuts  map[string]bool
	began time.Time

	mu       sync.Mutex // of what follows, and of what is known of laws
	seen     *sights
	breaches map[breachAt]*found
	reach    *reach
	named    []engine.CellName                  // the cells of the last shape that was new
	work     map[*design.Member]map[string]bool // by timer: the cells that it changes
	sampling *sampling
	strict   bool // nothing is taken not to fail

	fast     bool                    // turns are remembered, and cells are spread over places
	skip     map[*design.Member]bool // cells that nothing reads
	alike    *alikes                 // what behaves alike, or nil
	lands    []land
	searches []*search
}

// cut notes something that is not looked at.
func (p *prover) cut(format string, args ...any) {
	c := fmt.Sprintf(format, args...)
	if !p.cuts[c] {
		p.cuts[c] = true
		p.rep.Cuts = append(p.rep.Cuts, c)
	}
}

// start explores what can be reached from one start.
func (p *prover) start(s *design.Start) {
	x := newSearch(p, s)
	space := &Space{Start: s, Parts: 1, Whole: true, Unread: len(p.skip) > 0}
	p.rep.Starts = append(p.rep.Starts, space)
	mounted := x.mount()
	var d *division
	if mounted && !p.o.Plain {
		d = divide(x)
	}
	if d != nil {
		space.States, space.Turns, space.Depth, space.Parts = d.states(), d.takenTurns(), d.depth(), len(d.parts)
		p.lands = append(p.lands, land{s, d.states(), d.has, nil})
		p.searches = append(p.searches, d.searches()...)
	} else {
		if mounted && p.alike != nil {
			x = newSearch(p, s)
			x.alike = p.alike.classes
			mounted = x.mount()
		}
		if mounted {
			x.run()
		}
		space.States, space.Turns, space.Depth, space.Whole = Few(x.states()), Few(x.turns), x.depth, !x.wasCut
		p.lands = append(p.lands, land{s, Few(x.states()), x.has, x.alike})
		p.searches = append(p.searches, x)
		space.Alike = slices.ContainsFunc(x.table.groups, func(g []engine.Group) bool { return len(g) > 0 })
		x.finish()
	}
}

// land is what can be reached from one start, whether it was visited state by
// state or in parts.
type land struct {
	start  *design.Start
	states Count
	has    func(engine.State) bool
	alike  map[design.Node]int // what counts as one there
}

// law is a written law with what is known of it.
type law struct {
	out     *Outcome
	broken  *found
	cans    map[*design.Clause]bool // whether a state was seen that is so
	settled bool                    // a state came to rest
}

// What a worker does besides going on from a state by one of its causes.
const (
	atMounting = -1
	onTheWay   = -2
)

// lastTurn is the turn of a cause that led to a state.
const lastTurn = -1

// found is where something was found: by which cause of which state, or at
// the mounting of a start.
type found struct {
	search *search
	from   uint32
	by     int
	turn   int // of the turns of the cause, or lastTurn
	what   breach
}

// before says whether a was found by no longer a way than b: states are
// numbered by the length of the way to them.
func (a *found) before(b *found) bool {
	switch {
	case b == nil:
		return true
	case a.search != b.search:
		return a.length() < b.length()
	case a.by < 0 || b.by < 0:
		return a.by < 0
	case a.from != b.from:
		return a.from < b.from
	}
	return a.by < b.by
}

func (a *found) length() int {
	if a.by < 0 {
		return 0
	}
	return len(a.search.table.path(a.from)) + 1
}

// breach says what is wrong.
type breach struct {
	message string
	at      source.Span
	cause   error
}
