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
	off        bool // it is known to be broken by a shorter way
}

func compileLaws(w *worker) []*lawCode {
	var list []*lawCode
	for _, l := range w.x.p.laws {
		if on := l.out.Law.On; on != nil && on != w.x.start {
			continue
		}
		c := &lawCode{law: l}
		for _, cl := range l.out.Law.Clauses {
			c.conditions = append(c.conditions, w.e.Compile(&cl.Unit))
		}
		list = append(list, c)
	}
	return list
}

// pass notes which laws are broken already: what is found from now on would
// not be shorter.
func (w *worker) pass(low uint32) {
	w.x.p.mu.Lock()
	defer w.x.p.mu.Unlock()
	for _, c := range w.laws {
		b := c.law.broken
		c.off = b != nil && (b.search != w.x || b.by < 0 || b.from < low)
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
	w.checkLaws(rec, false)
	w.watch(rec)
	return nil
}

// checkLaws checks the written laws in the state as it is.
func (w *worker) checkLaws(rec *engine.Record, mounting bool) {
	for _, c := range w.laws {
		if c.off {
			continue
		}
		for i, cl := range c.law.out.Law.Clauses {
			w.clause(c, cl, c.conditions[i], rec, mounting)
		}
	}
}

func (w *worker) clause(c *lawCode, cl *design.Clause, cond *engine.Condition, rec *engine.Record, mounting bool) {
	switch {
	case cl.Kind == "turn" && mounting, cl.Kind == "settles" && !w.e.Quiet():
		return
	}
	v, err := w.e.Eval(cond)
	holds := err == nil && v == value.Value(value.Bool(true))
	switch {
	case cl.Kind == "can" && err == nil:
		w.x.p.looked(c.law, func() { c.law.can(cl, holds) })
		return
	case cl.Kind == "settles":
		w.x.p.looked(c.law, func() { c.law.settled = true })
	}
	if err == nil && holds == (cl.Kind != "never") {
		return
	}
	b := breach{at: cl.At, record: rec, message: fmt.Sprintf("the law %q is broken", c.law.out.Law.Name)}
	if err != nil {
		b.message, b.cause = fmt.Sprintf("the law %q cannot be worked out: %s", c.law.out.Law.Name, err), err
	}
	f := w.now
	f.what = b
	w.x.p.looked(c.law, func() {
		if f.before(c.law.broken) {
			c.law.broken = &f
		}
	})
}

// can notes whether a can was seen to hold.
func (l *law) can(cl *design.Clause, holds bool) {
	if l.cans == nil {
		l.cans = map[*design.Clause]bool{}
	}
	l.cans[cl] = l.cans[cl] || holds
}

// looked changes what is known of a law.
func (p *prover) looked(_ *law, change func()) {
	p.mu.Lock()
	defer p.mu.Unlock()
	change()
}

// decide comes to the verdict on a law.
func (p *prover) decide(l *law) *Outcome {
	out := l.out
	for _, s := range p.rep.Starts {
		if out.Law.On == nil || out.Law.On == s.Start {
			out.States += s.States
		}
	}
	switch {
	case l.broken != nil:
		out.Verdict = Broken
		out.Breach = p.breachOf(l.broken)
		return out
	case out.States == 0:
		out.Verdict, out.Why = Unclear, "no start that it speaks of was looked at"
		return out
	}
	out.Verdict = p.held()
	for _, cl := range out.Law.Clauses {
		switch {
		case cl.Kind == "can" && !l.cans[cl] && out.Verdict == Holds:
			out.Verdict = Broken
			out.Breach = &Breach{Message: "no state that can be reached is so", At: cl.At}
		case cl.Kind == "can" && !l.cans[cl]:
			out.Verdict, out.Why = Unclear, "no state that was looked at is so"
		case cl.Kind == "settles" && !l.settled:
			out.Verdict, out.Why = Unclear, "no state comes to rest: something always runs or waits"
		}
	}
	return out
}

// held is the verdict on what was found broken nowhere.
func (p *prover) held() Verdict {
	if p.rep.Whole() {
		return Holds
	}
	return HoldsWithin
}

// conclude comes to all verdicts.
func (p *prover) conclude() {
	p.rep.Cuts = append(p.rep.Cuts, p.blindSpots()...)
	for _, l := range p.laws {
		p.rep.Laws = append(p.rep.Laws, p.decide(l))
	}
	for _, pr := range Promises {
		if !p.o.Off[pr.Name] {
			p.rep.Laws = append(p.rep.Laws, p.promised(pr))
		}
	}
}
