package story

import (
	"fmt"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/value"
)

// Temporal holds a clause over time against what happens: that one state leads to
// another within some time (bounded response of metric temporal logic), or that
// something stays for some time, or until something else (weak until of linear
// temporal logic). It is told of the end of every turn, and of time that passes.
type Temporal struct {
	Clause *design.Clause
	p, q   *engine.Condition
	ms     float64 // 0: no bound
	state  Watch
}

// Watch is what a temporal clause waits for.
type Watch struct {
	On    bool    // the condition held last
	Open  bool    // it waits for what is promised
	Since float64 // from when on, in milliseconds
}

// IsTemporal says whether a clause is about more than one state or turn.
func IsTemporal(c *design.Clause) bool { return c.Kind == "leads" || c.Kind == "stays" }

// NewTemporal prepares a clause for an engine.
func NewTemporal(e *engine.Engine, c *design.Clause) *Temporal {
	t := &Temporal{Clause: c, p: e.Compile(&c.Unit)}
	if c.To != nil {
		t.q = e.Compile(c.To)
	}
	if c.Ms != nil {
		if v, err := e.Eval(e.Compile(c.Ms)); err == nil {
			t.ms = float64(v.(value.Number))
		}
	}
	return t
}

// Timed says whether the clause asks for the time.
func (t *Temporal) Timed() bool { return t.Clause.Ms != nil }

// State is what it waits for; Set goes back to it.
func (t *Temporal) State() Watch { return t.state }

// Set goes back to a state.
func (t *Temporal) Set(w Watch) { t.state = w }

// Due is when it decides something if nothing happens until then.
func (t *Temporal) Due() (at float64, ok bool) {
	return t.state.Since + t.ms, t.state.Open && t.Timed()
}

// See looks at the end of a turn. It says what is broken, or nil.
func (t *Temporal) See(e *engine.Engine) error {
	p, err := e.Eval(t.p)
	if err != nil {
		return err
	}
	q := value.Value(value.Bool(false))
	if t.q != nil {
		if q, err = e.Eval(t.q); err != nil {
			return err
		}
	}
	holds, met := p == value.Value(value.Bool(true)), q == value.Value(value.Bool(true))
	now := e.Now()
	w := &t.state
	if err := t.Pass(now); err != nil {
		return err
	}
	if t.Clause.Kind == "leads" {
		if met {
			w.Open = false
		} else if holds && !w.Open {
			w.Open, w.Since = true, now
		}
		return nil
	}
	switch {
	case met:
		w.Open = false
	case w.Open && !holds:
		w.Open, w.On = false, false
		if t.Timed() {
			return fmt.Errorf("it stayed for %s ms only", value.FormatNumber(now-w.Since))
		}
		return fmt.Errorf("it did not stay")
	case holds && (!w.On || !t.Timed()):
		w.Open, w.Since = true, now
	}
	w.On = holds
	return nil
}

// Pass lets time pass in which nothing happens.
func (t *Temporal) Pass(now float64) error {
	w := &t.state
	if !w.Open || !t.Timed() {
		return nil
	}
	switch late := now - w.Since; {
	case t.Clause.Kind == "leads" && late > t.ms:
		w.Open = false
		return fmt.Errorf("after %s ms it has not led there", value.FormatNumber(t.ms))
	case t.Clause.Kind == "stays" && late >= t.ms:
		w.Open = false
	}
	return nil
}
