package prove

import (
	"fmt"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/value"
)

// lawCode is a law compiled for one engine.
type lawCode struct {
	law        *law
	conditions []*engine.Condition
	until      []*engine.Condition // by clause: until when it stays, or nil
	off        bool                // it is known to be broken by a shorter way
}

func compileLaws(w *worker) []*lawCode {
	var list []*lawCode
	for _, l := range w.x.p.laws {
		if on := l.out.Law.On; on != nil && on != w.x.start || !w.x.scope.holds(l) {
			continue
		}
		c := &lawCode{law: l}
		for _, cl := range l.out.Law.Clauses {
			c.conditions = append(c.conditions, w.e.Compile(&cl.Unit))
			var until *engine.Condition
			if cl.To != nil {
				until = w.e.Compile(cl.To)
			}
			c.until = append(c.until, until)
		}
		list = append(list, c)
	}
	return list
}

// pass notes which laws are known to be broken by ways that are no longer than
// what is found in the states from low on.
func (w *worker) pass(low uint32) {
	t := w.x.Table
	length := len(t.Path(low))
	from, by := t.From(low)
	w.x.p.mu.Lock()
	defer w.x.p.mu.Unlock()
	for _, c := range w.laws {
		b := c.law.broken
		switch {
		case b == nil:
			c.off = false
		case b.search == w.x:
			c.off = b.by < 0 || b.from < from || b.from == from && b.by < by
		default:
			c.off = b.length() <= length
		}
	}
}

// afterTurn looks at the end of a turn.
func (w *worker) afterTurn(rec *engine.Record) error {
	if w.now.by == onTheWay {
		return nil
	}
	w.turn++
	w.now.turn = w.turn
	w.records = append(w.records, rec)
	w.ends = append(w.ends, w.e.Changes())
	w.apply(w.look(isTurnLaw))
	if w.eager {
		w.apply(w.look(isStateLaw))
	}
	w.watch(rec)
	return nil
}

// What a law speaks of: of a turn, or of the state at its end.
// What is over time is for timed searches, unless it does not ask for the time:
// that something stays until something else can be told of each turn.
func isTurnLaw(cl *design.Clause) bool {
	return cl.Kind == "turn" || cl.Kind == "stays" && cl.Ms == nil
}

func isStateLaw(cl *design.Clause) bool {
	switch cl.Kind {
	case "always", "never", "can", "settles":
		return true
	}
	return false
}

// verdicts are what is worth telling of the laws in one state.
type verdicts []verdictOn

type verdictOn struct {
	law    *lawCode
	clause *design.Clause
	broken bool
	cause  error // of a law that cannot be worked out
	still  bool  // it does not hold of a turn in which nothing happens
	why    string
}

// losesFocus are the laws that say that the focus is kept.
func (w *worker) losesFocus(why string) (list verdicts) {
	for _, c := range w.laws {
		for _, cl := range c.law.out.Law.Clauses {
			if cl.Kind == "keeps" && !c.off {
				list = append(list, verdictOn{law: c, clause: cl, broken: true, why: why})
			}
		}
	}
	return list
}

// look holds the laws of one sort against the state as it is.
func (w *worker) look(sort func(*design.Clause) bool) verdicts {
	var list verdicts
	for _, c := range w.laws {
		if c.off {
			continue
		}
		for i, cl := range c.law.out.Law.Clauses {
			if cl.Kind == "turn" && !sort(cl) && w.x.scope != nil {
				if v, err := w.e.EvalStill(c.conditions[i]); err != nil || v != value.Value(value.Bool(true)) {
					list = append(list, verdictOn{law: c, clause: cl, still: true})
				}
			}
			if !sort(cl) || cl.Kind == "settles" && !w.e.Quiet() {
				continue
			}
			if cl.Kind == "stays" {
				if left, err := w.leftBefore(c, i); left || err != nil {
					list = append(list, verdictOn{law: c, clause: cl, broken: true, cause: err})
				}
				continue
			}
			v, err := w.e.Eval(c.conditions[i])
			holds := err == nil && v == value.Value(value.Bool(true))
			switch {
			case cl.Kind == "can" && err == nil:
				if holds {
					list = append(list, verdictOn{law: c, clause: cl})
				}
			case err != nil || holds == (cl.Kind == "never"):
				list = append(list, verdictOn{law: c, clause: cl, broken: true, cause: err})
			case cl.Kind == "settles":
				list = append(list, verdictOn{law: c, clause: cl})
			}
		}
	}
	return list
}

// leftBefore says whether something that was to stay until something else did
// not, in the last turn.
func (w *worker) leftBefore(c *lawCode, i int) (bool, error) {
	yes := value.Value(value.Bool(true))
	is := func(cond *engine.Condition, eval func(*engine.Condition) (value.Value, error)) (bool, error) {
		if cond == nil {
			return false, nil
		}
		v, err := eval(cond)
		return v == yes, err
	}
	for _, look := range []struct {
		cond *engine.Condition
		eval func(*engine.Condition) (value.Value, error)
		want bool
	}{{c.conditions[i], w.e.EvalBefore, true}, {c.until[i], w.e.EvalBefore, false}, {c.conditions[i], w.e.Eval, false}, {c.until[i], w.e.Eval, false}} {
		if got, err := is(look.cond, look.eval); err != nil || got != look.want {
			return false, err
		}
	}
	return true, nil
}

// apply notes what was seen, as what was done last has led to it.
func (w *worker) apply(list verdicts) {
	if len(list) == 0 {
		return
	}
	w.x.p.mu.Lock()
	defer w.x.p.mu.Unlock()
	for _, v := range list {
		l := v.law.law
		switch {
		case v.still:
			l.restless = true
		case v.clause.Kind == "settles":
			l.settled = true
		case v.clause.Kind == "can" && !v.broken:
			l.can(v.clause)
		}
		if !v.broken || v.cause == error(engine.Stopped) {
			continue
		}
		f := w.now
		f.what = breach{at: v.clause.At, cause: v.cause, message: "it does not hold"}
		if v.why != "" {
			f.what.message, f.turn = v.why, lastTurn
		}
		if v.cause != nil {
			f.what.message = fmt.Sprintf("it cannot be worked out: %s", v.cause)
		}
		if f.before(l.broken) {
			l.broken = &f
		}
	}
}

// can notes that a state was seen that is as a can says.
func (l *law) can(cl *design.Clause) {
	if l.cans == nil {
		l.cans = map[*design.Clause]bool{}
	}
	l.cans[cl] = true
}

// decide comes to the verdict on a law.
func (p *prover) decide(l *law) *Outcome {
	out := l.out
	out.States, out.Within = l.states, l.cut
	switch {
	case l.breach != nil:
		out.Verdict, out.Breach = Broken, l.breach
		return out
	case l.broken != nil:
		out.Verdict = Broken
		out.Breach = p.breachOf(l.broken)
		return out
	case out.States.N == 0:
		out.Verdict, out.Why = Unclear, "no start that it speaks of was looked at"
		return out
	}
	out.Verdict = l.held()
	if l.isMet() {
		out.Verdict, out.Within = Holds, false
	}
	for _, cl := range out.Law.Clauses {
		switch {
		case cl.Kind == "can" && !l.cans[cl] && out.Verdict == Holds:
			out.Verdict = Broken
			out.Breach = &Breach{Message: "no state that can be reached is like that", At: cl.At}
		case cl.Kind == "can" && !l.cans[cl]:
			out.Verdict, out.Why = Unclear, "no state that was looked at is like that"
		case cl.Kind == "settles" && !l.settled:
			out.Verdict, out.Why = Unclear, "no state comes to rest: something always runs or waits"
		}
	}
	return out
}

// isMet says whether a law asks for states that there are, and all were found:
// no other state can show otherwise.
func (l *law) isMet() bool {
	for _, cl := range l.out.Law.Clauses {
		if cl.Kind != "ends" && (cl.Kind != "can" || !l.cans[cl]) {
			return false
		}
	}
	return true
}

// conclude comes to all verdicts.
func (p *prover) conclude() {
	p.rep.Cuts = append(p.rep.Cuts, p.blind.tell(p)...)
	for _, l := range p.laws {
		p.rep.Laws = append(p.rep.Laws, p.decide(l))
	}
	for _, pr := range Promises {
		if !p.o.Off[pr.Name] {
			p.rep.Laws = append(p.rep.Laws, p.promised(pr))
		}
	}
}
