// Package prove visits every state that users, time and the world outside can
// bring a design into. It checks the laws of the design in each of them, and
// what every design promises without saying so. Whatever it did not look at is
// in its verdict.
package prove

import (
	"context"
	"fmt"
	"runtime"
	"slices"
	"sync"
	"time"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/source"
	"lien/core/value"
)

// Options bound a proof. Zero values stand for the defaults.
type Options struct {
	States  int           // at most so many, 300,000 by default
	Depth   int           // causes in a row; 0 for no bound
	Span    time.Duration // for laws over time: how long from the mounting, a minute by default
	Time    time.Duration // 0 for no bound
	Memory  int           // bytes for states, 1 GB by default
	Asks    int           // questions that wait at a time, 3 by default
	Workers int           // goroutines, by default one a core, and at most mostWorkers

	Suggest  bool            // write scenarios for what none touches
	Plain    bool            // no reductions
	Off      map[string]bool // promises that are not looked at
	Disabled map[string]bool // passes that are not to be used
	Starts   func(*design.Start) bool

	Stop     context.Context
	Progress func(Progress) // told about twice a second

	forget bool // take every turn, and remember none
	slice  bool // divide even what is small into slices
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
	Start     *design.Start
	States    explore.Count
	Turns     explore.Count
	Depth     int  // the most causes that it takes to reach a state
	Whole     bool // nothing was cut
	Parts     int  // that were explored apart
	Passes    []PassUse
	Slices    int  // of the design, searched by themselves; 0 where it was visited as it is
	Symmetric bool // states that differ only in which of several alike is how count as one
}

// Outcome is the verdict on one law or promise.
type Outcome struct {
	Law     *design.Law // nil for a promise
	Promise *Promise    // nil for a law
	Verdict Verdict
	Why     string        // of what is unclear or broken
	States  explore.Count // in which it was looked at
	Within  bool          // not all states were looked at that it is about
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
	sure    bool        // no state that was not looked at could show otherwise
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

// Holds says whether every verdict is that it holds.
func (r *Report) Holds() bool { return !r.Failed() && !r.Within() }

// Within says whether a verdict is about what was looked at only.
func (r *Report) Within() bool {
	return slices.ContainsFunc(r.Laws, func(o *Outcome) bool { return o.Verdict == HoldsWithin || o.Verdict == Unclear || o.Within })
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
	if o.Span == 0 {
		o.Span = time.Minute
	}
	if o.Asks == 0 {
		o.Asks = 3
	}
	if o.Workers == 0 {
		o.Workers = min(runtime.GOMAXPROCS(0), mostWorkers)
	}
	if o.Stop == nil {
		o.Stop = context.Background()
	}
}

// mostWorkers is how many there are by themselves: each has a page of its own.
const mostWorkers = 4

func newProver(d *design.Design, o Options) *prover {
	o.defaults()
	p := &prover{d: d, o: o, fast: !o.forget && !o.Disabled[passMemory.Name] && !makesKeys(d), rep: &Report{}, cuts: map[string]bool{}, pool: value.NewPool(),
		began: time.Now(), seen: newSights(), sampling: newSampling(d), breaches: map[breachAt]*witness{}, touched: newTouched(), work: map[*design.Member]map[string]bool{},
		looked: map[*Promise]explore.Count{}, cutOn: map[*Promise]bool{}, sure: map[any]bool{}}
	p.blind = blindIn(p.flows())
	p.overwritten = sync.OnceValue(func() map[*design.Member]bool { return overwritten(d) })
	for _, l := range d.Laws {
		p.laws = append(p.laws, &law{out: &Outcome{Law: l}})
	}
	return p
}

// Run proves a design without errors. If values grow large on the way, all is
// done once more with an engine that takes nothing not to fail.
func Run(d *design.Design, o Options) *Report {
	if o.Time > 0 {
		stop := o.Stop
		if stop == nil {
			stop = context.Background()
		}
		var cancel context.CancelFunc
		o.Stop, cancel = context.WithTimeout(stop, o.Time)
		defer cancel()
	}
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
func (p *prover) outgrown() bool { return !p.strict && (p.pool.Large() || p.skipped.tooMuch(p)) }

// engine is a new engine for the design.
func (p *prover) engine() *engine.Engine {
	e := engine.New(p.d)
	if p.strict || p.o.Disabled[passLazy.Name] {
		e = engine.NewStrict(p.d)
	}
	e.OneOrder(p.applies(passOrder))
	return e
}

func (p *prover) run() {
	defer explore.LimitMemory(p.o.Memory)()
	d, o := p.d, p.o
	if p.applies(passSymmetry) {
		p.symmetries, p.notSymmetric = symmetriesIn(d, engine.New(d))
	}
	for _, s := range d.Starts {
		if o.Starts == nil || o.Starts(s) {
			p.start(s)
			p.timed(s)
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
	breaches map[breachAt]*witness
	touched  *touched
	named    []engine.CellName                  // the cells of the last shape that was new
	work     map[*design.Member]map[string]bool // by timer: the cells that it changes
	skipped  skipped                            // what is only shown, and was not worked out
	sampling *sampling
	strict   bool // nothing is taken not to fail

	fast         bool         // turns are remembered, and cells are spread over places
	symmetries   *symmetries  // what behaves alike, or nil
	notSymmetric string       // why nothing does
	graph        *flow.Graph  // once asked for
	risks        *flow.Risks  // the same
	dep          *flow.Depend // the same
	blind        *blind
	overwritten  func() map[*design.Member]bool // the cells that something writes outright
	looked       map[*Promise]explore.Count     // by promise: against how many states it was held
	cutOn        map[*Promise]bool              // by promise: there are others
	sure         map[any]bool                   // by element or node: all states were visited that could show it otherwise
	unsure       bool                           // of what is not in sure
	lands        []land
	searches     []*search
}

// cut notes something that is not looked at.
func (p *prover) cut(format string, args ...any) {
	c := fmt.Sprintf(format, args...)
	if !p.cuts[c] {
		p.cuts[c] = true
		p.rep.Cuts = append(p.rep.Cuts, c)
	}
}

// pilot is how many states are visited before a page is divided into slices:
// what has no more is visited as it is.
const pilot = 1500

// start explores what can be reached from one start.
func (p *prover) start(s *design.Start) {
	x := newSearch(p, s, nil)
	space := &Space{Start: s, Parts: 1, Whole: true}
	p.rep.Starts = append(p.rep.Starts, space)
	p.usePlain(space)
	if !x.mount() {
		p.visited(space, x)
		return
	}
	if p.applies(passPartition) {
		d, why := partitioned(x)
		p.use(space, passPartition, why)
		if d != nil {
			p.use(space, passSymmetry, "there are parts already")
			p.visitedInParts(space, d)
			return
		}
	} else {
		p.use(space, passPartition, "")
	}
	p.use(space, passSymmetry, p.notSymmetric)
	if p.symmetries != nil {
		x = newSearch(p, s, nil)
		x.symmetry = p.symmetries.classes
		if !x.mount() {
			p.visited(space, x)
			return
		}
	}
	if p.applies(passSlices) {
		x.pause = pilot
		if p.o.slice {
			x.pause = 1
		}
	}
	x.run()
	if x.paused() {
		p.bySlices(space, x)
		return
	}
	p.visited(space, x)
}

// visited tells of a start of which all was visited state by state, as far as
// it was.
func (p *prover) visited(space *Space, x *search) {
	if x.failed && !x.wasCut {
		x.cut("start: what comes after mounting %s, which fails", space.Start.Root.Name)
	}
	space.States, space.Turns, space.Depth, space.Whole = explore.Few(x.states()), explore.Few(x.Turns), x.Depth, !x.wasCut
	space.Symmetric = x.Table.AnySymmetric()
	p.lands = append(p.lands, land{space.Start, space.States, x.has, x.symmetry, x.scope})
	p.searches = append(p.searches, x)
	x.finish()
	p.judgeAll(space, x.wasCut)
}

// visitedInParts tells of a start that was visited in parts.
func (p *prover) visitedInParts(space *Space, d *partition) {
	space.States, space.Turns, space.Depth, space.Parts = d.states(), d.takenTurns(), d.depth(), len(d.parts)
	p.lands = append(p.lands, land{space.Start, space.States, d.has, nil, d.x.scope})
	p.searches = append(p.searches, d.searches()...)
	p.judgeAll(space, false)
}

// judgeAll notes that all laws and promises were held against all states of a
// start, or against those that were visited.
func (p *prover) judgeAll(space *Space, cut bool) {
	dep := p.dependence()
	for _, l := range p.laws {
		if on := l.out.Law.On; on == nil || on == space.Start {
			l.states = l.states.Plus(space.States)
			l.cut = l.cut || cut || p.blind.any() && (dep.Opaque() != "" || p.blind.touches(dep.Slice(p.asked(l.out.Law)), p.d))
		}
	}
	for _, pr := range Promises {
		p.looked[pr] = p.looked[pr].Plus(space.States)
		p.cutOn[pr] = p.cutOn[pr] || cut || p.blind.any()
	}
	p.unsure = p.unsure || cut || p.blind.any()
}

// asked is what a law looks at, with what decides whether a turn fails.
func (p *prover) asked(l *design.Law) []flow.Var {
	return append(p.readBy(l), p.dependence().Fails()...)
}

// readBy is what a law looks at.
func (p *prover) readBy(l *design.Law) (from []flow.Var) {
	for _, cl := range l.Clauses {
		for _, u := range []*design.Unit{&cl.Unit, cl.To} {
			from = append(from, p.dependence().Reads(u)...)
		}
		if cl.Kind == "settles" {
			from = append(from, quiet(p.d)...)
		}
	}
	return from
}

// isSure says whether all states were looked at that could show something to be
// otherwise.
func (p *prover) isSure(what any) bool {
	if sure, ok := p.sure[what]; ok {
		return sure
	}
	return !p.unsure
}

// surely says whether any breach of a promise is sure.
func (p *prover) surely(out *Outcome) bool {
	return slices.ContainsFunc(out.More, func(b *Breach) bool { return b.sure })
}

// held is the verdict on a promise that was found broken nowhere.
func (p *prover) held(pr *Promise) Verdict {
	if p.cutOn[pr] {
		return HoldsWithin
	}
	return Holds
}

// held is the verdict on a law that was found broken nowhere.
func (l *law) held() Verdict {
	if l.cut {
		return HoldsWithin
	}
	return Holds
}

// land is what can be reached from one start, whether it was visited state by
// state, in parts, or in slices.
type land struct {
	start    *design.Start
	states   explore.Count
	has      func(engine.State) bool
	symmetry map[design.Node]int // what counts as one there
	scope    *scope
}

func (l *land) slice() *flow.Slice {
	if l.scope == nil {
		return nil
	}
	return l.scope.slice
}

// law is a written law with what is known of it.
type law struct {
	out     *Outcome
	broken  *witness
	cans    map[*design.Clause]bool // whether a state was seen that is so
	settled bool                    // a state came to rest
	states  explore.Count           // against which it was held
	cut     bool                    // there are others
	breach  *Breach                 // of a clause over time

	// restless: a turn breaks it that changes nothing that it asks for, so that a
	// slice cannot tell.
	restless bool
}

// What a worker does besides going on from a state by one of its causes.
const (
	atMounting = -1
	onTheWay   = -2
)

// lastTurn is the turn of a cause that led to a state.
const lastTurn = -1

// witness is where something was found: by which cause of which state, or at
// the mounting of a start.
type witness struct {
	search *search
	from   uint32
	by     int
	turn   int // of the turns of the cause, or lastTurn
	what   breach
}

// before says whether a was found by no longer a way than b: states are
// numbered by the length of the way to them.
func (a *witness) before(b *witness) bool {
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

func (a *witness) length() int {
	if a.by < 0 {
		return 0
	}
	return len(a.search.Table.Path(a.from)) + 1
}

// breach says what is wrong.
type breach struct {
	message string
	at      source.Span
	cause   error
}
