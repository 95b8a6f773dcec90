package design

import (
	"maps"
	"runtime"
	"sync"
	"sync/atomic"

	"lien/core/syntax"
)

// told is what a resolver has found so far and some later finding goes by.
type told struct {
	missing    map[absence]*asked
	before     map[absence]*asked                         // found before it was set apart; or nil
	undeclared map[absence]bool                           // events that are emitted and not declared
	proposed   map[absence]bool                           // members that the edits of a finding declare
	usedIn     map[*syntax.Component]map[string][]useSite // what a view uses, by name
	opened     []*Component                               // by handlers
	later      []func(r *resolver)                        // what can be said when all views are resolved
}

func newTold() told {
	return told{missing: map[absence]*asked{}, undeclared: map[absence]bool{}, proposed: map[absence]bool{}, usedIn: map[*syntax.Component]map[string][]useSite{}}
}

// asked is the place where an absent name was asked for first, or nil.
func (t *told) asked(a absence) *asked {
	if found := t.missing[a]; found != nil {
		return found
	}
	return t.before[a]
}

// insides resolves what components do and show, when the types of all their members are known: side by side, as none
// of it is another component's business. A fill that receives what a slot hands out is: such views come last, one by one.
func (r *resolver) insides() {
	for _, c := range r.d.Components {
		for _, m := range c.Members {
			m.Type()
		}
	}
	var lock sync.Mutex
	var parts []*resolver
	beside(len(r.d.Components), func(next func() (int, bool)) {
		own := r.apart()
		for i, ok := next(); ok; i, ok = next() {
			c := r.d.Components[i]
			if own.bodies(c); !receives(c) {
				own.view(c)
			}
		}
		lock.Lock()
		defer lock.Unlock()
		parts = append(parts, own)
	})
	for _, own := range parts {
		r.join(own)
	}
	for _, c := range r.d.Components {
		r.view(c)
	}
	for _, say := range r.later {
		say(r)
	}
	for _, c := range r.opened {
		c.Opened = true
	}
}

// beside lets several workers go through the numbers below n; next gives each the next of them, or false.
func beside(n int, work func(next func() (int, bool))) {
	var taken atomic.Int64
	next := func() (int, bool) {
		i := int(taken.Add(1)) - 1
		return i, i < n
	}
	workers := min(runtime.GOMAXPROCS(0), n)
	if workers < 2 {
		work(next)
		return
	}
	var wait sync.WaitGroup
	for range workers {
		wait.Go(func() { work(next) })
	}
	wait.Wait()
}

// apart is a resolver beside r, which finds for itself.
func (r *resolver) apart() *resolver {
	own, d := *r, *r.d
	d.Findings = nil
	own.d, own.told = &d, newTold()
	own.before = r.missing
	own.reporter = own.report
	return &own
}

// join adds what a resolver beside r found. What was found comes in no order that counts: findings are sorted in the end.
func (r *resolver) join(own *resolver) {
	r.d.Findings = append(r.d.Findings, own.d.Findings...)
	maps.Copy(r.missing, own.missing)
	maps.Copy(r.undeclared, own.undeclared)
	maps.Copy(r.proposed, own.proposed)
	r.opened = append(r.opened, own.opened...)
	r.later = append(r.later, own.later...)
}

// receives says whether a fill in the view of a component names what its slot hands out.
func receives(c *Component) bool {
	found := false
	eachItem(c.Syntax, func(it syntax.Item) {
		if f, ok := it.(*syntax.Fill); ok && f.Call && len(f.Params) > 0 {
			found = true
		}
	})
	return found
}
