// Package compare says whether anybody outside can tell two designs apart, whatever users, time
// and the world do to both: a restructuring is meant to be told by nobody.
//
// A search goes from pairs of states to the next ones, breadth first (pairs.go), and holds what can
// be told of both against each other after every step (sights.go). What tells them apart is a
// shortest scenario (path.go). What the components of both take, report and offer is compared
// by the text alone (contracts.go).
package compare

import (
	"context"
	"fmt"
	"slices"
	"time"

	"lien/core/design"
	"lien/core/explore"
	"lien/core/form"
	"lien/core/story"
	"lien/core/value"
)

// Options bound a comparison. Zero values stand for the defaults.
type Options struct {
	Pairs int           // at most so many pairs of states, 300,000 by default
	Time  time.Duration // 0 for no bound
	Asks  int           // questions that wait at a time, 3 by default
	But   But           // what is not told
	Stop  context.Context
	Plain bool // visit all pairs, though the designs have one form
}

// But is what is left out of what can be told.
type But struct {
	Classes, Texts, Focus bool
	Attributes            []string
}

// Any says whether anything is left out.
func (b But) Any() bool { return b.Classes || b.Texts || b.Focus || len(b.Attributes) > 0 }

// String lists what is left out.
func (b But) String() string {
	var list []string
	for _, c := range []struct {
		out  bool
		word string
	}{{b.Classes, "classes"}, {b.Texts, "texts"}, {b.Focus, "the focus"}} {
		if c.out {
			list = append(list, c.word)
		}
	}
	for _, a := range b.Attributes {
		list = append(list, "the attribute "+a)
	}
	text := ""
	for i, s := range list {
		switch {
		case i == 0:
		case i == len(list)-1:
			text += " and "
		default:
			text += ", "
		}
		text += s
	}
	return text
}

// Verdict is what a comparison comes to.
type Verdict string

// The verdicts.
const (
	Alike       Verdict = "alike"        // all pairs of states were visited
	AlikeWithin Verdict = "alike within" // nothing tells them apart as far as was looked
	Differs     Verdict = "differ"
)

// Report is the outcome of a comparison.
type Report struct {
	Verdict   Verdict
	Pairs     int // of states, over all starts
	Turns     int
	Cuts      []string // what was not looked at
	Starts    []*Outcome
	Contracts []*Contract
}

// Outcome is what became of one start.
type Outcome struct {
	Name       string // of the start, or of its component where it has none
	Pairs      int
	Form       bool        // both have one form, so that no pairs had to be visited
	Difference *Difference // or nil
}

// Difference is what tells two designs apart.
type Difference struct {
	What          string   // in a sentence
	Steps         []string // of a shortest scenario that shows it
	Real          bool     // real times lead there
	Before, After Side     // both, right after the last step
}

// Side is one of the designs at the end of a scenario.
type Side struct {
	Page  []string
	State []story.Holder
}

// Differs says whether something tells the designs apart.
func (r *Report) Differs() bool { return r.Verdict == Differs }

// OneForm says whether all starts have one form, so that no pair of states had to be visited.
func (r *Report) OneForm() bool {
	return len(r.Starts) > 0 && !slices.ContainsFunc(r.Starts, func(o *Outcome) bool { return !o.Form })
}

func (o *Options) defaults() {
	if o.Pairs == 0 {
		o.Pairs = 300_000
	}
	if o.Asks == 0 {
		o.Asks = 3
	}
	if o.Stop == nil {
		o.Stop = context.Background()
	}
}

// comparison is one under way.
type comparison struct {
	designs [2]*design.Design
	typed   [2]map[*design.Element][]string
	o       Options
	rep     *Report
	pool    *value.Pool
	began   time.Time
	keys    bool // one of the designs makes keys
}

// Run compares two designs without errors, start by start.
func Run(before, after *design.Design, o Options) *Report {
	o.defaults()
	if o.Time > 0 {
		var cancel context.CancelFunc
		o.Stop, cancel = context.WithTimeout(o.Stop, o.Time)
		defer cancel()
	}
	c := &comparison{designs: [2]*design.Design{before, after}, o: o, rep: &Report{Verdict: Alike}, pool: value.NewPool(), began: time.Now()}
	for i, d := range c.designs {
		c.typed[i] = story.Inputs(d)
		c.keys = c.keys || makesKeys(d)
	}
	c.rep.Contracts = Contracts(before, after)
	c.starts()
	if c.rep.Verdict == Alike && len(c.rep.Cuts) > 0 {
		c.rep.Verdict = AlikeWithin
	}
	return c.rep
}

// starts compares the starts of one name: what is mounted by another name is no other design.
func (c *comparison) starts() {
	left := slices.Clone(c.designs[1].Starts)
	for _, a := range c.designs[0].Starts {
		at := slices.IndexFunc(left, func(b *design.Start) bool { return b.Name == a.Name && (a.Name != "" || isSame(a, b, c.designs)) })
		if at < 0 {
			c.told(&Outcome{Name: called(a), Difference: &Difference{What: "the start " + called(a) + " is gone"}})
			continue
		}
		c.pair(a, left[at])
		left = slices.Delete(left, at, at+1)
	}
	for _, b := range left {
		c.told(&Outcome{Name: called(b), Difference: &Difference{What: "the start " + called(b) + " is new"}})
	}
	if len(c.designs[0].Starts)+len(c.designs[1].Starts) == 0 {
		c.cut("starts: there is none, so no page could be compared")
	}
}

// isSame says whether two starts without names are one: they mount the same component, or are the
// only ones.
func isSame(a, b *design.Start, designs [2]*design.Design) bool {
	return a.Root.Name == b.Root.Name || unnamed(designs[0]) == 1 && unnamed(designs[1]) == 1
}

func unnamed(d *design.Design) (n int) {
	for _, s := range d.Starts {
		if s.Name == "" {
			n++
		}
	}
	return n
}

func called(s *design.Start) string {
	if s.Name != "" {
		return value.Show(value.String(s.Name))
	}
	return s.Root.Name
}

func (c *comparison) told(o *Outcome) {
	c.rep.Starts = append(c.rep.Starts, o)
	c.rep.Pairs += o.Pairs
	if o.Difference != nil {
		c.rep.Verdict = Differs
	}
}

func (c *comparison) cut(format string, args ...any) {
	s := fmt.Sprintf(format, args...)
	if !slices.Contains(c.rep.Cuts, s) {
		c.rep.Cuts = append(c.rep.Cuts, s)
	}
}

// pair compares two starts.
func (c *comparison) pair(a, b *design.Start) {
	out := &Outcome{Name: called(a)}
	if out.Form = !c.o.Plain && form.Alike(c.designs[0], c.designs[1], a, b) == ""; out.Form {
		c.told(out)
		return
	}
	x := newSearch(c, [2]*design.Start{a, b})
	if x.mount() {
		x.run()
	}
	if d := x.found; d != nil {
		out.Difference = x.difference(d)
	}
	out.Pairs = x.Table.Len()
	c.rep.Turns += x.Turns
	c.told(out)
}

// makesKeys says whether a design calls fresh.
func makesKeys(d *design.Design) bool {
	makes := false
	design.Visitor{Effect: func(e design.Effect) { makes = makes || e.Kind == design.Coins }}.Design(d)
	return makes
}

// stopped says why a comparison ended before its time.
func (c *comparison) stopped() string {
	if c.o.Time > 0 && time.Since(c.began) >= c.o.Time {
		return fmt.Sprintf("time: what %s were too short for", c.o.Time)
	}
	return "stopped: what was not visited by then"
}

var _ explore.Worker = (*worker)(nil)
