// Package check looks for mistakes in a design that names and types do not
// show: who holds what, who is told of what, what is left over.
//
// Every rule is a file of this package, named for the situation that it
// finds, and a page in pages/ with why it matters, a wrong and a right
// example. The tests run both.
package check

import (
	"slices"
	"sync"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/links"
	"lien/core/source"
)

// pass is one look of a rule at a design. All but what it found is shared by the rules, and only read.
type pass struct {
	d     *design.Design
	links func() *links.Graph // these are worked out when they are first asked for
	seen  func() *seen
	flows func() *flow.Graph
	ways  func() map[*design.Member]*links.Journey // of all cells
	found []*finding.Finding

	roots, contexts map[*design.Component]bool // that a start mounts, and that are used
}

// rule looks for one situation.
type rule struct {
	name  string
	level finding.Level
	run   func(p *pass, report func(at source.Span, format string, args ...any) *finding.Finding)
}

var rules = []rule{toldToNobody, neverReportedAtAll, neverChanged, neverUsed, heldUnseen, asideShown, copyGoesStale, alwaysTogether,
	workedOut, itemWithoutKey, keysMeet, passedThrough, forwardedThrough, handedToNobody, linkedOneWay, payloadUnread,
	keptTwice, itemGoesStale, countedBeside,
	supplierMissing, sentToNobody, failureUnheard, neverLeaves, neverStops, suppliedAgain, usedNextDoor, chasesItself, turnedAround, neverMade, neverOpened,
	reachesNothing, classUnstyled, unknownProperty, framesMeet, hidesUnseen, noSuchKey, noSuchID, idRepeated, neverFocused, neverEqual}

// Options set the levels of rules; off leaves one out.
type Options struct {
	Levels map[string]finding.Level
	Off    map[string]bool
}

// Run gives all findings of a design: those of its reading and those of the
// rules, less what its comments declare as meant. The rules look at designs
// without errors only: with a wrong name in it, much seems unused.
func Run(d *design.Design, o Options) []*finding.Finding {
	if d.Failed() {
		return finding.Distinct(o.apply(append([]*finding.Finding(nil), d.Findings...)))
	}
	p := pass{
		d: d, roots: roots(d), contexts: contexts(d),
		links: sync.OnceValue(func() *links.Graph { return links.Of(d) }),
		seen:  sync.OnceValue(func() *seen { return seenIn(d) }),
		flows: sync.OnceValue(func() *flow.Graph { return flow.Of(d) }),
	}
	p.ways = sync.OnceValue(func() map[*design.Member]*links.Journey {
		ways := map[*design.Member]*links.Journey{}
		for _, m := range p.links().Cells() {
			ways[m] = p.links().Journey(m)
		}
		return ways
	})
	found := append(slices.Clone(d.Findings), p.all()...)
	return finding.Distinct(withoutUnseen(p.meant(o.apply(found))))
}

// journey is how the value of a member travels.
func (p *pass) journey(m *design.Member) *links.Journey {
	if j := p.ways()[m]; j != nil {
		return j
	}
	return p.links().Journey(m)
}

// withoutUnseen leaves out what is held to be unseen and unused while a text lacks its backquotes: that may be the place
// which shows it, and its mending would take away what that place is to show.
func withoutUnseen(list []*finding.Finding) []*finding.Finding {
	if !slices.ContainsFunc(list, func(f *finding.Finding) bool { return f.Rule == "quoted-template" }) {
		return list
	}
	return slices.DeleteFunc(list, func(f *finding.Finding) bool { return f.Rule == neverUsed.name || f.Rule == heldUnseen.name })
}

// all are the findings of all rules, which look side by side; they come in the order of the rules.
func (p pass) all() []*finding.Finding {
	found := make([][]*finding.Finding, len(rules))
	var wait sync.WaitGroup
	for i, r := range rules {
		wait.Go(func() { found[i] = r.look(p) })
	}
	wait.Wait()
	return slices.Concat(found...)
}

func (r rule) look(p pass) []*finding.Finding {
	r.run(&p, func(at source.Span, format string, args ...any) *finding.Finding {
		f := finding.New(r.name, r.level, at, format, args...)
		p.found = append(p.found, f)
		return f
	})
	return p.found
}

// apply sets the levels that the user asks for. What is wrong with the text
// or the types stays an error: such a design cannot run.
func (o Options) apply(list []*finding.Finding) []*finding.Finding {
	var out []*finding.Finding
	for _, f := range list {
		if stops(f.Rule) {
			out = append(out, f)
			continue
		}
		if o.Off[f.Rule] {
			continue
		}
		if l, ok := o.Levels[f.Rule]; ok {
			changed := *f
			changed.Level = l
			f = &changed
		}
		out = append(out, f)
	}
	return out
}

// stops says whether a rule's findings are errors that keep a design from running.
func stops(name string) bool {
	p := Page(name)
	return p != nil && p.Level == finding.Error
}
