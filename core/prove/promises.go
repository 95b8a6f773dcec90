package prove

import (
	"fmt"
	"slices"
	"sort"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/value"
)

// Promise is what every design promises without saying so.
type Promise struct {
	Name string
	Says string
}

// Promises are all of them, in the order in which they are told.
var Promises = []*Promise{promiseFails, promiseUnheard, promiseGone, promiseOutlives, promiseLate, promiseIdle, promiseBranch, promiseStuck}

var (
	promiseFails    = &Promise{"turn-fails", "no turn fails"}
	promiseUnheard  = &Promise{"unheard", "what is reported, sent or fails is heard"}
	promiseGone     = &Promise{"into-nothing", "nothing is started, called or written in what is gone"}
	promiseOutlives = &Promise{"outlives", "a timer that fires finds something to do"}
	promiseLate     = &Promise{"late-answer", "a late answer does not replace what was asked for after it"}
	promiseIdle     = &Promise{"idle-control", "every control does something in some state"}
	promiseBranch   = &Promise{"never-shown", "every branch is shown in some state, and hidden in some"}
	promiseStuck    = &Promise{"dead-end", "there is always something that a user can change"}
)

// place of a breach: a promise is told of once for every place in the text.
type breachAt struct {
	promise *Promise
	at      source.Pos
}

// note keeps the shortest way to break a promise at a place.
func (p *prover) note(pr *Promise, f witness, b breach) {
	if p.o.Off[pr.Name] || b.cause == error(engine.Stopped) || !f.search.scope.judges(pr, b.at) {
		return
	}
	f.what = b
	p.mu.Lock()
	defer p.mu.Unlock()
	at := breachAt{pr, b.at.Start}
	if f.before(p.breaches[at]) {
		p.breaches[at] = &f
	}
}

// isBroken says whether a law or promise is broken so far.
func (p *prover) isBroken() bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	for _, l := range p.laws {
		if l.broken != nil {
			return true
		}
	}
	return len(p.breaches) > 0
}

// failureOf is a turn that failed, as a breach.
func failureOf(err error) breach {
	b := breach{message: err.Error(), cause: err}
	if f, ok := err.(*engine.Failure); ok {
		b.at = f.At
	}
	return b
}

// watch looks at what a turn did for what nobody heard, and what went nowhere.
func (w *worker) watch(rec *engine.Record) {
	for i := range rec.Entries {
		en := &rec.Entries[i]
		switch {
		case en.Kind != engine.Reported && en.Kind != engine.SentTo || en.Heard > 0:
		case en.Kind == engine.SentTo:
			w.x.p.note(promiseUnheard, w.now, breach{at: en.At, message: fmt.Sprintf("%s is sent, and nobody hears it", en.What)})
		case en.What != "dismissed": // which needs no listener: it only says why something leaves
			w.x.p.note(promiseUnheard, w.now, breach{at: en.At, message: fmt.Sprintf("%s reports %s, and nobody listens", en.Path(), en.What)})
		}
	}
	for _, n := range rec.Notices {
		w.x.p.note(promiseGone, w.now, breach{at: n.At, message: n.Message})
	}
}

// judge looks at what a cause did in all.
func (w *worker) judge(s *engine.Cause, st *explore.Step, from uint32) {
	did := slices.ContainsFunc(w.records, effects)
	same := st.Known && st.To == from && !st.Lost
	if s.Element != nil && (did || !same) && w.x.scope.sees(s.Element.Def()) {
		w.x.p.used(s.Element.Def())
	}
	if _, m, _, _ := s.Timer(); m != nil && did {
		w.x.p.works(m, w.records)
	} else if m != nil && !m.Every && !st.Lost {
		w.x.p.note(promiseOutlives, w.now, breach{at: m.At, message: fmt.Sprintf("%s fires and finds nothing to do", m.Label)})
	}
	if at, unheard := s.Unheard(); unheard {
		op, _ := s.Asked()
		w.x.p.note(promiseUnheard, w.now, breach{at: at, message: fmt.Sprintf("%s.%s fails, and nobody hears it", op.Service.Name, op.Name)})
	}
	if op, _ := s.Asked(); s.Late() {
		for _, rec := range w.records {
			if c := w.x.p.replaced(rec); c != nil {
				w.x.p.note(promiseLate, w.now, breach{at: op.Syntax.Span(),
					message: fmt.Sprintf("an answer of %s.%s that comes late changes %s", op.Service.Name, op.Name, c.Cell)})
			}
		}
	}
}

// effects says whether a turn did anything that matters to anyone. That something
// is told to another part does not; what that makes of it does.
func effects(rec *engine.Record) bool {
	for i := range rec.Entries {
		switch en := &rec.Entries[i]; en.Kind {
		case engine.Acted, engine.Followed, engine.Mounts, engine.Unmounts, engine.SentTo:
		case engine.Reported:
			if en.Outside() {
				return true
			}
		default:
			return true
		}
	}
	return false
}

// replaced is a cell with a text, list or record that a turn changed, and that something in the design overwrites: or nil.
func (p *prover) replaced(rec *engine.Record) *engine.Change {
	for i := range rec.Changes {
		switch c := &rec.Changes[i]; c.Is.Kind() {
		case value.StringKind, value.ListKind, value.RecordKind:
			if c.Member == nil || p.overwritten()[c.Member] {
				return c
			}
		}
	}
	return nil
}

// sights are what was used, and what was hidden, in any state.
type sights struct {
	controls map[*design.Element]bool // whether they did something
	hidden   map[branch]bool
}

type branch struct {
	node design.Node
	at   int
}

func newSights() *sights {
	return &sights{map[*design.Element]bool{}, map[branch]bool{}}
}

// look notes what the page shows.
func (p *prover) look(e *engine.Engine, sc *scope) {
	p.mu.Lock()
	defer p.mu.Unlock()
	e.Elements(func(el *engine.Element) bool {
		if def := el.Def(); isControl(el) && sc.sees(def) && !p.seen.controls[def] {
			p.seen.controls[def] = false
		}
		return true
	})
	e.Branches(func(n design.Node, at int) {
		if !sc.sees(n) {
			return
		}
		for i := range branches(n) {
			if i != at {
				p.seen.hidden[branch{n, i}] = true
			}
		}
	})
}

// shows notes which branch a node shows, or -1.
func (p *prover) shows(n design.Node, at int, f witness) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if b := (branch{n, at}); at >= 0 && f.before(p.touched.shown[b]) {
		p.touched.shown[b] = &f
	}
	for i := range branches(n) {
		if i != at {
			p.seen.hidden[branch{n, i}] = true
		}
	}
}

// branches is how many branches a node has.
func branches(n design.Node) int {
	if w, ok := n.(*design.When); ok {
		return len(w.Branches)
	}
	return 1
}

func (p *prover) used(def *design.Element) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.seen.controls[def] = true
}

// controlTag says whether elements of a tag are there to be used.
func controlTag(tag string) bool {
	switch tag {
	case "button", "select", "textarea", "summary", "input":
		return true
	}
	return false
}

// isControl says whether an element is there to be used.
func isControl(el *engine.Element) bool {
	if kind, _ := el.Attr("type"); !controlTag(el.Tag()) || el.Tag() == "input" && kind == "hidden" {
		return false
	}
	_, readonly := el.Attr("readonly")
	return !readonly
}

// promised comes to the verdict on a promise.
func (p *prover) promised(pr *Promise) *Outcome {
	out := &Outcome{Promise: pr, Verdict: p.held(pr), States: p.looked[pr], Within: p.cutOn[pr]}
	if out.States.N == 0 && pr != promiseFails {
		out.Verdict, out.Why = Unclear, "no page could be mounted"
		return out
	}
	var list []*witness
	for at, f := range p.breaches {
		if at.promise == pr && (pr != promiseOutlives || p.outlived(f)) {
			list = append(list, f)
		}
	}
	sort.Slice(list, func(i, j int) bool {
		if a, b := list[i].length(), list[j].length(); a != b {
			return a < b
		}
		return list[i].what.at.Start < list[j].what.at.Start
	})
	for _, f := range list {
		out.More = append(out.More, p.breachOf(f))
	}
	switch pr {
	case promiseIdle:
		out.More = p.idleControls()
	case promiseBranch:
		out.More = p.unseenBranches()
	}
	switch {
	case len(out.More) == 0:
		if p.allMet(pr) {
			out.Verdict = Holds
		}
		return out
	case (pr == promiseIdle || pr == promiseBranch) && !p.surely(out):
		out.Verdict, out.Why = Unclear, "there may be states that show otherwise"
	case pr == promiseStuck && p.blind.leadsOn():
		out.Verdict, out.Why = Unclear, "what was not looked at may lead on"
	default:
		out.Verdict = Broken
	}
	out.Breach, out.More = out.More[0], out.More[1:]
	return out
}

// allMet says whether all that a promise wants to be seen once was, wherever it
// stands in the design: then no other state can show otherwise.
func (p *prover) allMet(pr *Promise) bool {
	met := pr == promiseIdle || pr == promiseBranch
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			met = met && (pr != promiseIdle || !controlTag(n.Tag) || p.seen.controls[n])
		case *design.When, *design.Each:
			met = met && (pr != promiseBranch || p.allSeen(n))
		}
	}}.Design(p.d)
	return met
}

// lookedAt limits what is said of all states, where not all were looked at.
func (p *prover) lookedAt(what any) string {
	if p.isSure(what) {
		return ""
	}
	return " that was looked at"
}

func (p *prover) idleControls() (list []*Breach) {
	for def, did := range p.seen.controls {
		if !did {
			list = append(list, &Breach{sure: p.isSure(def), Message: fmt.Sprintf("this %s does nothing in any state%s", def.Tag, p.lookedAt(def)), At: def.Span()})
		}
	}
	return inOrder(list)
}

func (p *prover) unseenBranches() (list []*Breach) {
	for b := range p.touched.shown {
		if w, ok := b.node.(*design.When); ok && !p.seen.hidden[b] {
			list = append(list, &Breach{sure: p.isSure(b.node), Message: "this branch is shown in every state" + p.lookedAt(b.node), At: branchSpan(w, b.at)})
		}
	}
	for b := range p.seen.hidden {
		if p.touched.shown[b] != nil {
			continue
		}
		if w, ok := b.node.(*design.When); ok {
			list = append(list, &Breach{sure: p.isSure(b.node), Message: "this branch is shown in no state" + p.lookedAt(b.node), At: branchSpan(w, b.at)})
		} else {
			list = append(list, &Breach{sure: p.isSure(b.node), Message: "this list has items in no state" + p.lookedAt(b.node), At: b.node.(*design.Each).List.Expr.Span()})
		}
	}
	return inOrder(list)
}

// branchSpan is where the condition of a branch stands, or else the when.
func branchSpan(w *design.When, at int) source.Span {
	if c := w.Branches[at].Cond; c != nil {
		return c.Expr.Span()
	}
	if at > 0 && len(w.Branches[at].Body) > 0 {
		return w.Branches[at].Body[0].Span()
	}
	return syntax.At{Start: w.Span().Start, Stop: w.Span().Start}.Span()
}

func inOrder(list []*Breach) []*Breach {
	sort.Slice(list, func(i, j int) bool {
		if list[i].At.Start != list[j].At.Start {
			return list[i].At.Start < list[j].At.Start
		}
		return list[i].Message < list[j].Message
	})
	return list
}
