package story

import (
	"fmt"
	"slices"

	"lien/core/engine"
	"lien/core/value"
)

// Typed letters and ticks of a clock make turns that do the same again and again. Those who read
// want to know what came of them, and how many there were.

// Turn is a turn, or several in a row that did the same.
type Turn struct {
	*engine.Record     // with what it changed from the first to the last
	Times          int // how many, from 1 on
}

const (
	leastFolded = 3 // turns that are told as one
	mostCycle   = 4 // turns that come again in the same order: keydown, input, keyup, ...
)

// Fold tells turns that come at least three times in a row as one each.
func Fold(turns []*engine.Record) (list []Turn) {
	for i := 0; i < len(turns); {
		cycle, times := repeated(turns[i:])
		if times < leastFolded {
			list = append(list, Turn{turns[i], 1})
			i++
			continue
		}
		for k := range cycle {
			list = append(list, Turn{across(turns[i+k], turns[i+k+(times-1)*cycle]), times})
		}
		i += cycle * times
	}
	return list
}

// repeated is how many turns come again in the same order, and how often.
func repeated(turns []*engine.Record) (cycle, times int) {
	for cycle = 1; cycle <= mostCycle; cycle++ {
		for times = 1; (times+1)*cycle <= len(turns) && sameTurns(turns[:cycle], turns[times*cycle:(times+1)*cycle]); times++ {
		}
		if times >= leastFolded {
			return cycle, times
		}
	}
	return 1, 1
}

func sameTurns(a, b []*engine.Record) bool { return slices.EqualFunc(a, b, sameTurn) }

// sameTurn says whether two turns did the same, but for the values of cells.
func sameTurn(a, b *engine.Record) bool {
	plain := func(r *engine.Record) bool {
		return r.Failure == nil && len(r.Notices)+len(r.Mounted)+len(r.Unmounted) == 0
	}
	return plain(a) && plain(b) && a.Cause == b.Cause && a.Target == b.Target &&
		slices.EqualFunc(a.Entries, b.Entries, func(x, y engine.Entry) bool {
			return x.Depth == y.Depth && x.Kind == y.Kind && x.What == y.What && x.Heard == y.Heard && x.Path() == y.Path() &&
				slices.EqualFunc(x.Args, y.Args, value.Equal)
		})
}

// across is a turn with what the last of its kind left behind.
func across(first, last *engine.Record) *engine.Record {
	r := *first
	r.Entries = slices.Clone(first.Entries)
	for i := range r.Entries {
		r.Entries[i].Is = last.Entries[i].Is
	}
	r.Refreshed, r.Pieces = last.Refreshed, last.Pieces
	return &r
}

// Head is what set a turn off, and how often.
func (t Turn) Head() string {
	head := t.Cause
	if t.Target != nil {
		head += " on " + t.Target.Tag()
	}
	if t.Times > 1 {
		head += fmt.Sprintf(", %d times", t.Times)
	}
	return head
}
