package engine

import (
	"context"
	"math"

	"lien/core/design"
	"lien/core/source"
	"lien/core/value"
)

// UsualBudget is that of designs that name no other: a page of some 10,000 rows is made
// within it, and a turn that uses it up takes about a second.
var UsualBudget = design.Budget{Steps: 1_000_000, Bytes: 256 << 20}

// budget is what a turn may take, and so may each law: what takes more fails, as other
// turns do, at the place where it was. What is read of a page between turns is not
// limited, since it was worked out in one already.
type budget struct {
	design.Budget
	steps, bytes int             // spent
	next, most   int             // after how many steps and bytes to look; MaxInt where nothing can fail
	stop         context.Context // or nil
	last         source.Span     // where it was spent last, if known
	peak         design.Budget   // the most that was spent
	heavy        int             // steps of turns with more than a few of them, in all
}

// lightSteps is how many steps are a few.
const lightSteps = 20_000

// Stopped is a turn that did not go on because it was told to stop.
var Stopped = &Failure{Message: "it was told to stop"}

// StopBy ends turns once a context is done.
func (e *Engine) StopBy(stop context.Context) { e.budget.stop = stop }

// Heavy is how many steps there were in all turns and laws that took many.
func (e *Engine) Heavy() int { return e.budget.heavy + max(0, e.budget.steps-lightSteps) }

// Pieces is how many pieces the page has.
func (e *Engine) Pieces() int { return e.pieces }

// Left is what the turn or law that took most left of the budget.
func (e *Engine) Left() design.Budget {
	b := &e.budget
	return design.Budget{Steps: b.Steps - max(b.peak.Steps, b.steps), Bytes: b.Bytes - max(b.peak.Bytes, b.bytes)}
}

// Sizes are those of what instances keep, and of the constants that were worked out.
func (e *Engine) Sizes() (s value.Sizes) {
	for _, list := range e.live {
		for _, i := range list {
			for slot := range i.values {
				if v := i.values[slot].val; v != nil {
					s = s.Or(value.SizesIn(v))
				}
			}
		}
	}
	for _, v := range e.program.consts {
		s = s.Or(value.SizesIn(v))
	}
	return s
}

// limited does something within a new budget.
func (e *Engine) limited(do func()) {
	counted := e.budget.most != math.MaxInt
	e.refill()
	e.budget.limit(true)
	defer func() { e.budget.limit(counted) }()
	do()
}

// refill begins anew, for another turn or law.
func (e *Engine) refill() {
	b := &e.budget
	b.heavy = e.Heavy()
	b.peak = design.Budget{Steps: max(b.peak.Steps, b.steps), Bytes: max(b.peak.Bytes, b.bytes)}
	b.steps, b.bytes = 0, 0
	e.depth = 0
}

const (
	askSteps  = 1 << 12 // steps after which it is asked whether to stop
	stepBytes = 1 << 10 // bytes that are copied in about the time of a step
	textBytes = 1 << 6  // bytes of a text that are looked at in about the time of a step
	stepItems = 1 << 3  // items of which a list is made in about the time of a step
	stepParts = 1 << 5  // parts of values that are gone through in about the time of a step

	// about how many bytes pieces of the page take, and notes of what happened
	blockBytes, elementBytes, instanceBytes, entryBytes, writeBytes = 1000, 2500, 1500, 320, 600

	maxSize  = 1_000_000 // items of a list, bytes of a text
	maxParts = 4_000_000 // parts of a value, each as often as it occurs
)

// step counts one step of the turn.
func (e *Engine) step(at source.Span) {
	b := &e.budget
	b.last = at
	if b.steps++; b.steps > b.next {
		e.look(at)
	}
}

// spend takes from the budget, at a place that need not be known.
func (e *Engine) spend(steps, bytes int, at source.Span) {
	b := &e.budget
	b.steps += steps
	if b.bytes += bytes; b.steps > b.next || b.bytes > b.most {
		e.look(at)
	}
}

// look looks whether the budget is spent, and whether to stop.
func (e *Engine) look(at source.Span) {
	b := &e.budget
	switch {
	case b.steps > b.Steps:
		e.failOver(at, "this takes more than %d steps, which is the most that one turn may take", b.Steps)
	case b.bytes > b.Bytes:
		e.failOver(at, "this makes more than %d MB of texts, lists and pieces of the page, which is the most that one turn may make", b.Bytes>>20)
	case b.stop != nil && b.stop.Err() != nil:
		panic(Stopped)
	}
	b.next = min(b.steps+askSteps, b.Steps)
}

// limit makes the budget count, or not.
func (b *budget) limit(counts bool) {
	b.next, b.most = math.MaxInt, math.MaxInt
	if counts {
		b.next, b.most = min(b.steps+askSteps, b.Steps), b.Bytes
	}
}

// failOver fails the turn at a place, or where that is not known at what is worked out,
// or where the budget was spent last.
func (e *Engine) failOver(at source.Span, format string, n int) {
	if o := e.observing.node; !at.Start.Valid() && o != nil && o.code != nil {
		at = o.code.at
	}
	if !at.Start.Valid() {
		at = e.budget.last
	}
	e.budget.limit(false)
	e.failUnsettled(at, format, n)
}

// made takes what a new value needs from the budget.
func (e *Engine) made(v value.Value, at source.Span) value.Value {
	switch v := v.(type) {
	case value.String:
		e.spend(len(v)/stepBytes, len(v), at)
	case *value.List:
		e.spend(v.Len()/stepItems, 16*v.Len()+64, at)
		e.few(v, at)
	case *value.Record:
		e.spend(len(v.Names)/stepParts, 16*len(v.Names)+64, at)
		e.few(v, at)
	}
	return v
}

// text is a text that was made.
func (e *Engine) text(s string, at source.Span) value.Value {
	e.short(len(s), at)
	return e.made(value.String(s), at)
}

// short fails the turn for a list or text that is too long.
func (e *Engine) short(n int, at source.Span) {
	if n > maxSize {
		e.fail(at, "this would have more than a million items or characters")
	}
}

// few fails the turn for a value that is too large to be compared or shown.
func (e *Engine) few(v value.Value, at source.Span) {
	if value.Parts(v) > maxParts {
		e.fail(at, "this would have more than %d parts, each counted as often as it occurs", maxParts)
	}
}

// shortText is how long a text is that is looked through each time.
const shortText = 64

// indexed is a text to be looked into; a long one is gone through once.
func (e *Engine) indexed(s string) *value.Indexed {
	if len(s) <= shortText {
		t := value.Index(s)
		return &t
	}
	for i := range e.texts {
		if e.texts[i].Of(s) {
			return &e.texts[i]
		}
	}
	e.spend(len(s)/textBytes, 0, source.Span{})
	e.oldest = (e.oldest + 1) % len(e.texts)
	t := &e.texts[e.oldest]
	*t = value.Index(s)
	return t
}
