package prove

import (
	"fmt"
	"slices"

	"lien/core/design"
	"lien/core/explore"
	"lien/core/flow"
	"lien/core/source"
	"lien/core/types"
)

// A law asks for few of the cells of a page, and few others can influence these.
// It holds in all states of the page if it holds in all states of this slice: of
// two states that are the same in the slice whatever happens next leads to states
// that are the same in it, or stays (see docs/soundness.md, slices).
//
// What is asked of a page is divided into duties, each with what it looks at:
// laws, promises place by place, and what is to be seen once. Each slice is
// searched by itself, small ones first.

// duty is something to be shown of all states, or to be met in one.
type duty struct {
	law     *law
	promise *Promise
	at      []source.Span // where the promise could be broken
	once    func() bool   // of what is to be seen once: whether it was
	sees    any           // an element, node or body that is to be seen
	from    []flow.Var
	slice   *flow.Slice
	states  explore.Count // in which it was looked at
	folds   bool          // of pages whose folds stay open
}

// scope is what one search of a slice may judge: of all else it does not know
// how it is.
type scope struct {
	slice  *flow.Slice
	duties []*duty
	whole  bool // everything was visited
}

// judges says whether a promise at a place is one of the duties; nil judges all.
func (s *scope) judges(pr *Promise, at source.Span) bool {
	if s == nil {
		return true
	}
	if pr == promiseFails {
		return true // what decides whether a turn fails is in every slice
	}
	return slices.ContainsFunc(s.duties, func(d *duty) bool {
		return d.promise == pr && slices.ContainsFunc(d.at, func(span source.Span) bool {
			return span.Start <= at.Start && at.Start < max(span.End, span.Start+1)
		})
	})
}

func (s *scope) holds(l *law) bool {
	return s == nil || slices.ContainsFunc(s.duties, func(d *duty) bool { return d.law == l })
}

func (s *scope) sees(what any) bool {
	return s == nil || slices.ContainsFunc(s.duties, func(d *duty) bool { return d.sees == what })
}

// slicer divides what is asked of a start.
type slicer struct {
	p      *prover
	start  *design.Start
	dep    *flow.Depend
	duties []*duty
	alive  bool          // some slice has shown that there is always something to do
	known  []*flow.Slice // of which all states were visited
	all    bool          // so were those of the page
	late   bool          // it was told to stop before there were slices
}

// flows are those of the design, worked out once.
func (p *prover) flows() *flow.Graph {
	if p.graph == nil {
		p.graph = flow.Of(p.d)
	}
	return p.graph
}

// risk is what can fail in the design, worked out once.
func (p *prover) risk() *flow.Risks {
	if p.risks == nil {
		p.risks = flow.RisksOf(p.d, false)
	}
	return p.risks
}

// dependence is what everything in the design depends on, worked out once.
func (p *prover) dependence() *flow.Depend {
	if p.dep == nil {
		p.dep = flow.DependOf(p.flows(), p.risk())
	}
	return p.dep
}

// mostDuties is how many there may be, each with a slice of its own.
const mostDuties = 2000

func newSlicer(p *prover, s *design.Start) *slicer {
	sl := &slicer{p: p, start: s, dep: p.dependence()}
	sl.alive = sl.dep.Lively(s.Root)
	sl.ofLaws()
	sl.ofPlaces()
	sl.ofTimers()
	sl.ofAnswers()
	sl.ofSights()
	if len(sl.duties) > mostDuties {
		return sl
	}
	var bounds []flow.Var
	for _, b := range s.Bounds { // which are held in every slice
		bounds = append(bounds, sl.dep.Reads(b)...)
	}
	for _, d := range sl.duties {
		if sl.late = p.o.Stop.Err() != nil; sl.late {
			return sl
		}
		from := slices.Concat(d.from, sl.dep.Fails(), bounds)
		if d.slice = sl.dep.Slice(from); p.applies(passFolds) {
			d.slice, d.folds = sl.dep.SliceOpen(from, sl.asked(d))
		}
	}
	slices.SortStableFunc(sl.duties, func(a, b *duty) int { return a.slice.Size() - b.slice.Size() })
	return sl
}

// asked is what a duty asks for itself.
func (sl *slicer) asked(d *duty) []flow.Var {
	if d.law != nil {
		return sl.p.readBy(d.law.out.Law)
	}
	if n, ok := d.sees.(design.Node); ok {
		return []flow.Var{n}
	}
	return nil
}

func (sl *slicer) add(d *duty) { sl.duties = append(sl.duties, d) }

// quiet is everything in a design that comes by itself.
func quiet(d *design.Design) (list []flow.Var) {
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Timer {
				list = append(list, m)
			}
		}
	}
	for _, s := range d.Services {
		for _, o := range s.Operations {
			list = append(list, o)
		}
	}
	return list
}

func (sl *slicer) ofLaws() {
	for _, l := range sl.p.laws {
		if on := l.out.Law.On; on == nil || on == sl.start {
			sl.add(&duty{law: l, from: sl.p.asked(l.out.Law)})
		}
	}
	if !sl.p.o.Off[promiseFails.Name] {
		sl.add(&duty{promise: promiseFails})
	}
}

// ofPlaces: what is reported or sent may be heard by nobody, and what is done may
// lead into nothing, where those who are needed for it are not always there.
func (sl *slicer) ofPlaces() {
	always := flow.Always(sl.start.Root)
	for _, s := range sl.dep.Sites() {
		from := append(slices.Clone(s.Control), s.Owner)
		here := []source.Span{s.Effect.At.Span()}
		switch s.Effect.Kind {
		case design.Reports:
			if who, maybe := sl.unheard(s); maybe {
				sl.add(&duty{promise: promiseUnheard, at: here, from: append(from, who...)})
			}
		case design.Asks:
			if len(s.Effect.Operation.Fails) > 0 && s.Effect.Ask.Failed == nil {
				sl.add(&duty{promise: promiseUnheard, at: here, from: append(from, s.Effect.Operation)})
			}
		case design.Sends:
			if who, maybe := sl.unsent(s, always); maybe {
				sl.add(&duty{promise: promiseUnheard, at: here, from: append(from, who...)})
			}
		}
		if always[s.Owner] && s.Effect.Kind != design.Writes && s.Effect.Kind != design.Calls && s.Effect.Kind != design.Leaves {
			continue
		}
		if at, maybe := sl.intoNothing(s, here, always); maybe {
			sl.add(&duty{promise: promiseGone, at: at, from: from})
		}
	}
	design.Visitor{Node: func(n design.Node) {
		el, ok := n.(*design.Element)
		if !ok {
			return
		}
		for _, t := range el.Ties {
			if l, ok := t.Write.Root.(*design.ViewLocal); ok {
				sl.add(&duty{promise: promiseGone, at: []source.Span{l.At}, from: sl.dep.Gesture(el)})
			}
		}
	}}.Design(sl.p.d)
}

// intoNothing says where a place may write to, call or start what is gone.
func (sl *slicer) intoNothing(s flow.Site, here []source.Span, always map[*design.Component]bool) ([]source.Span, bool) {
	switch s.Effect.Kind {
	case design.Writes:
		switch root := s.Effect.Place.Root.(type) {
		case *design.ViewLocal:
			return append(here, root.At), true
		case *design.Member:
			if root.Kind == design.Shares && root.Init != nil && sl.linkedDown(root) {
				return append(here, root.Init.Expr.Span()), true
			}
		}
		return nil, false
	case design.Calls:
		if m := s.Effect.Called(); m != nil && m.Owner == s.Owner && m.Body != nil {
			return nil, false // its own
		}
		return here, slices.ContainsFunc(sl.dep.Callees(s.Effect.Fun, 0), func(f types.Symbol) bool {
			m, ok := f.(*design.Member)
			return ok && !always[m.Owner]
		})
	case design.Starts, design.Asks, design.Opens:
		return here, !always[s.Owner]
	case design.Leaves:
		return here, true
	}
	return nil, false
}

// linkedDown says whether some use of its component only links a shared cell down.
func (sl *slicer) linkedDown(m *design.Member) bool {
	return slices.ContainsFunc(sl.dep.Uses(m.Owner), func(u *design.Use) bool {
		return slices.ContainsFunc(u.Links, func(g *design.Given) bool { return g.Member == m })
	})
}

// unheard says whether a report may be heard by nobody, and who decides.
func (sl *slicer) unheard(s flow.Site) (who []flow.Var, maybe bool) {
	event := s.Effect.Event
	if event.Label == "dismissed" {
		return nil, false
	}
	maybe = slices.ContainsFunc(sl.dep.Uses(event.Owner), func(u *design.Use) bool {
		return !slices.ContainsFunc(u.Handlers, func(h *design.Handler) bool { return h.Event == event })
	})
	for _, c := range sl.p.d.Components {
		for _, m := range c.Members {
			if slices.ContainsFunc(m.Hears, func(h *design.Handler) bool { return h.Event == event }) {
				who = append(who, c)
			}
		}
	}
	return who, maybe
}

// unsent says the same of a message.
func (sl *slicer) unsent(s flow.Site, always map[*design.Component]bool) (who []flow.Var, maybe bool) {
	maybe = true
	for _, c := range sl.p.d.Components {
		if slices.ContainsFunc(c.Hearings, func(h *design.Hearing) bool { return h.Channel == s.Effect.Channel }) {
			who = append(who, c)
			maybe = maybe && !always[c]
		}
	}
	return who, maybe
}

// ofTimers: each timer that fires once finds something to do.
func (sl *slicer) ofTimers() {
	for _, c := range sl.p.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Timer && !m.Every && m.Body != nil && sl.mayOutlive(m) {
				sl.add(&duty{promise: promiseOutlives, at: []source.Span{m.At}, from: append(sl.dep.Does(m.Body), m)})
			}
		}
	}
}

// mayOutlive says whether anything does the work of a timer without starting it
// anew: else it always finds something to do.
func (sl *slicer) mayOutlive(m *design.Member) bool {
	does := sl.dep.Does(m.Body)
	for _, s := range sl.dep.Sites() {
		if s.Effect.Kind != design.Writes || slices.Contains(does, s.Control[0]) {
			continue
		}
		shared := slices.ContainsFunc(flow.Targets(s.Effect.Place), func(v flow.Var) bool { return slices.Contains(does, v) })
		if shared && !slices.ContainsFunc(sl.dep.Sites(), func(o flow.Site) bool {
			return o.Effect.Kind == design.Starts && o.Effect.Event == m && o.Control[0] == s.Control[0] && len(o.Control) == 1
		}) {
			return true
		}
	}
	tied := false
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			for _, v := range sl.dep.Touches(el) {
				_, body := v.(*design.Body)
				tied = tied || !body && slices.Contains(does, v)
			}
		}
	}}.Design(sl.p.d)
	return tied
}

// ofAnswers: an answer that comes late replaces nothing; only questions that
// differ in something can overtake each other.
func (sl *slicer) ofAnswers() {
	for _, s := range sl.p.d.Services {
		for _, o := range s.Operations {
			if len(o.Sig) > 0 {
				sl.add(&duty{promise: promiseLate, at: []source.Span{o.Syntax.Span()}, from: sl.dep.Does(o)})
			}
		}
	}
}

// ofSights: every control does something, every branch is shown and hidden, and
// every body that can run is known, each in some state.
func (sl *slicer) ofSights() {
	p := sl.p
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			if def := n; controlTag(def.Tag) {
				from := append(sl.dep.Gesture(def), sl.dep.Does(sl.dep.Touches(def)...)...)
				sl.add(&duty{sees: def, from: from, once: func() bool { return p.seen.controls[def] }})
			}
		case *design.When:
			sl.add(&duty{sees: n, from: []flow.Var{n}, once: func() bool { return p.allSeen(n) }})
		case *design.Each:
			sl.add(&duty{sees: n, from: []flow.Var{n}, once: func() bool { return p.allSeen(n) }})
		}
	}}.Design(p.d)
	for _, b := range sl.dep.Bodies() {
		sl.add(&duty{sees: b.At, from: []flow.Var{b}, once: func() bool { return p.touched.ran[b.At] != nil }})
	}
}

// allSeen says whether a when was seen in all ways, and an each with items.
func (p *prover) allSeen(n design.Node) bool {
	if _, each := n.(*design.Each); each {
		return p.touched.shown[branch{n, 0}] != nil
	}
	for i := range branches(n) {
		b := branch{n, i}
		if p.touched.shown[b] == nil || !p.seen.hidden[b] {
			return false
		}
	}
	return true
}

// bySlices searches the slices of a start of which a pilot has shown that it
// has many states.
func (p *prover) bySlices(space *Space, x *search) {
	sl := newSlicer(p, space.Start)
	why := sl.useless()
	p.use(space, passSlices, why)
	if why != "" {
		p.resume(space, x)
		return
	}
	p.use(space, passFolds, "nothing only hides what is asked for")
	seen := map[*duty]bool{} // that a search has judged in all states
	for _, d := range sl.duties {
		if seen[d] || d.isMet() || sl.isWhole(d.slice) {
			continue
		}
		sl.search(space, sl.largest(d), seen)
		if x.p.o.Stop.Err() != nil || x.p.outgrown() {
			break
		}
	}
	rest := sl.unmet(seen)
	if len(rest) > 0 || !sl.alive {
		x.pause = 0
		x.run()
		space.States, space.Turns, space.Depth = space.States.Plus(explore.Few(x.states())), space.Turns.Plus(explore.Few(x.Turns)), max(space.Depth, x.Depth)
		p.lands = append(p.lands, land{space.Start, explore.Few(x.states()), x.has, x.symmetry, nil})
		x.finish()
		sl.all = !x.wasCut
		sl.alive = sl.alive || sl.all
		for _, d := range rest {
			d.states = d.states.Plus(explore.Few(x.states()))
			seen[d] = !x.wasCut
		}
	}
	p.searches = append(p.searches, x)
	sl.judge(space, seen)
}

// resume lets the pilot go on, where slices are of no use.
func (p *prover) resume(space *Space, x *search) {
	x.pause = 0
	x.run()
	p.visited(space, x)
}

// isMet says whether a duty that is to be met once was.
func (d *duty) isMet() bool { return d.once != nil && d.once() }

// useless says why a design cannot be sliced, or "".
func (sl *slicer) useless() string {
	switch {
	case sl.late:
		return "it was told to stop"
	case len(sl.duties) > mostDuties:
		return "there are more than " + fmt.Sprint(mostDuties) + " places to look at one by one"
	case sl.dep.Opaque() != "":
		return sl.dep.Opaque()
	case sl.p.sighted():
		return "a handler or form asks who has the focus, what was touched or dragged, or where the pointer is"
	case len(sl.start.Bounds) > 0 && slices.ContainsFunc(sl.start.Bounds, func(u *design.Unit) bool { return len(sl.dep.Reads(u)) == 0 }):
		return "a bound of the start asks for nothing"
	case len(sl.start.Samples) > 0 || slices.ContainsFunc(sl.p.d.Laws, func(l *design.Law) bool { return len(l.Samples) > 0 }):
		return "fields are named by what is shown, to say what is typed into them"
	case !slices.ContainsFunc(sl.duties, func(d *duty) bool { return !sl.isWhole(d.slice) }):
		return "everything asked for depends on the whole design"
	}
	return ""
}

// search visits the states of the slice of a duty, and judges all other duties
// that ask for no more.
func (sl *slicer) search(space *Space, d *duty, seen map[*duty]bool) {
	sc := &scope{slice: d.slice}
	for _, o := range sl.duties {
		if o.slice.Within(d.slice) {
			sc.duties = append(sc.duties, o)
		}
	}
	y := newSearch(sl.p, space.Start, sc)
	y.until = sl.until(d)
	if !y.mount() {
		return
	}
	space.Slices++
	if d.folds {
		sl.p.use(space, passFolds, "")
	}
	var v *partition
	if sl.p.applies(passPartition) {
		v, _ = partitioned(y)
	}
	states := explore.Few(0)
	if v != nil {
		states = v.states()
		space.Turns = space.Turns.Plus(v.takenTurns())
		space.Depth = max(space.Depth, v.depth())
		sl.p.lands = append(sl.p.lands, land{space.Start, states, v.has, nil, sc})
		sl.p.searches = append(sl.p.searches, v.searches()...)
		sl.alive = sl.alive || !d.folds && !v.stuck()
		sc.whole = true
	} else {
		y.run()
		states = explore.Few(y.states())
		space.Turns = space.Turns.Plus(explore.Few(y.Turns))
		space.Depth = max(space.Depth, y.Depth)
		sl.p.lands = append(sl.p.lands, land{space.Start, states, y.has, nil, sc})
		sl.p.searches = append(sl.p.searches, y)
		sc.whole = !y.wasCut && !y.ended
		sl.alive = sl.alive || !d.folds && sc.whole && slices.Contains(y.Moves, true) && y.stuck() < 0
	}
	space.States = space.States.Plus(states)
	for _, o := range sc.duties {
		o.states = o.states.Plus(states)
		if sc.whole {
			seen[o] = true
		}
	}
	if sc.whole {
		sl.known = append(sl.known, sc.slice)
	}
}

// largest is the duty with the largest slice around that of another one that has
// the same states: what is searched for it does for both.
func (sl *slicer) largest(d *duty) *duty {
	best := d
	for _, o := range sl.duties {
		if o.slice.Size() > best.slice.Size() && (d.once == nil) == (o.once == nil) && o.folds == d.folds &&
			best.slice.Within(o.slice) && o.slice.States() == d.slice.States() {
			best = o
		}
	}
	return best
}

// until says when to stop searching for a duty that is only to be met once.
func (sl *slicer) until(d *duty) func() bool {
	if d.once == nil {
		return nil
	}
	return func() bool {
		sl.p.mu.Lock()
		defer sl.p.mu.Unlock()
		return d.once()
	}
}

// unmet are the duties that are left to the search of everything.
func (sl *slicer) unmet(seen map[*duty]bool) (list []*duty) {
	for _, d := range sl.duties {
		if d.law != nil && d.law.restless || !seen[d] && !d.isMet() && sl.isWhole(d.slice) {
			list = append(list, d)
		}
	}
	return list
}

// judge notes what was looked at for every law and promise.
func (sl *slicer) judge(space *Space, seen map[*duty]bool) {
	p := sl.p
	for _, d := range sl.duties {
		cut := !seen[d] || p.blind.any() && p.blind.touches(d.slice, p.d)
		switch {
		case d.law != nil:
			d.law.states, d.law.cut = d.law.states.Plus(d.states), d.law.cut || cut
		case d.promise != nil:
			p.looked[d.promise] = p.looked[d.promise].Plus(d.states)
			p.cutOn[d.promise] = p.cutOn[d.promise] || cut
		case !d.isMet():
			p.sure[d.sees] = !cut
			for _, pr := range []*Promise{promiseIdle, promiseBranch} {
				p.cutOn[pr] = p.cutOn[pr] || cut
			}
		}
		space.Whole = space.Whole && (seen[d] || d.isMet())
	}
	p.cutOn[promiseStuck] = p.cutOn[promiseStuck] || !sl.alive && !p.isBrokenOn(promiseStuck)
	for _, pr := range []*Promise{promiseUnheard, promiseGone, promiseOutlives, promiseLate, promiseIdle, promiseBranch, promiseStuck} {
		if p.looked[pr].N == 0 {
			p.looked[pr] = space.States
		}
	}
	sl.size()
}

// size names the texts and lists that may grow without end, and were not looked
// at: after a million steps a turn would fail. Of what was visited whole there are
// few states, so that nothing in it grows.
func (sl *slicer) size() {
	if sl.p.o.Off[promiseFails.Name] || sl.all {
		return
	}
	there := sl.dep.Below(sl.start.Root)
	for _, m := range sl.dep.Grow() {
		if there[m.Owner] && !slices.ContainsFunc(sl.known, func(s *flow.Slice) bool { return s.Cell(m) }) {
			sl.p.cutOn[promiseFails] = true
			sl.p.cut("size: what happens when %s.%s has grown past a million", m.Owner.Name, m.Label)
		}
	}
}

// isBrokenOn says whether a promise is broken somewhere.
func (p *prover) isBrokenOn(pr *Promise) bool {
	for at := range p.breaches {
		if at.promise == pr {
			return true
		}
	}
	return false
}

// sighted says whether the design can tell who has the focus, where the pointer
// is, what was typed into and left, or what is dragged.
func (p *prover) sighted() bool { return p.engine().ReachesFar() }

// isWhole says whether a slice is as large as the design: everything that makes
// a state of it is in it.
func (sl *slicer) isWhole(s *flow.Slice) bool {
	all := true
	for _, c := range sl.p.d.Components {
		for _, m := range c.Members {
			if m.IsCell() || m.Kind == design.Timer {
				all = all && s.Has(m) && !slices.ContainsFunc(recordFields(m.Type()), func(f string) bool { return !s.Field(f) })
			}
		}
	}
	design.Visitor{Node: func(n design.Node) {
		switch n.(type) {
		case *design.When, *design.Each:
			all = all && s.Node(n)
		}
	}, Effect: func(e design.Effect) {
		switch e.Kind {
		case design.Opens:
			all = all && s.Opening(e.Use)
		case design.Asks:
			all = all && s.Operation(e.Operation)
		}
	}}.Design(sl.p.d)
	return all
}

// recordFields are the fields of the records that a cell holds, or a list of them.
func recordFields(t types.Type) (names []string) {
	t = types.Under(t)
	if l, ok := t.(*types.List); ok {
		t = types.Under(l.Elem)
	}
	if r, ok := t.(*types.Record); ok {
		for _, f := range r.Fields {
			names = append(names, f.Name)
		}
	}
	return names
}
