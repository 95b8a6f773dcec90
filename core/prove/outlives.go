package prove

import (
	"strings"

	"lien/core/design"
	"lien/core/engine"
)

// A timer that fires and finds nothing to do has outlived what it was started
// for, if something else has done its work since. One that waits for typing to
// end, and finds the text as it was, has not.

// works notes which cells a timer changes when it fires.
func (p *prover) works(m *design.Member, records []*engine.Record) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.work[m] == nil {
		p.work[m] = map[string]bool{}
	}
	for _, rec := range records {
		for i := range rec.Changes {
			p.work[m][cellOf(&rec.Changes[i])] = true
		}
	}
}

// cellOf names a changed cell by its component, whichever instance it is of.
func cellOf(c *engine.Change) string {
	path := c.Path[strings.LastIndex(c.Path, " > ")+1:]
	component, _, _ := strings.Cut(strings.TrimPrefix(path, "> "), "[")
	return component + "." + c.Cell
}

// outlived says whether, on the way to where a timer finds nothing to do,
// something else has changed a cell that it changes, after it was started.
func (p *prover) outlived(f *witness) bool {
	ids := p.idsOf(f)
	if len(ids) == 0 {
		return false
	}
	w := newWorker(newReplay(f.search))
	w.now.by = onTheWay
	started, changed := map[any]int{}, []map[string]bool{}
	w.e.OnTurn = nil
	if _, err := w.e.Mount(f.search.start); err != nil {
		return false
	}
	for i, id := range ids {
		w.e.Pending(func(timer any, _ float64, _ bool) {
			if _, ok := started[timer]; !ok {
				started[timer] = i
			}
		})
		list := w.e.Causes(w.samples)
		if i == len(ids)-1 {
			_, m, _, _ := list[id].Timer()
			for _, step := range changed[started[list[id].Pending()]:] {
				for cell := range step {
					if p.work[m][cell] {
						return true
					}
				}
			}
			return false
		}
		w.e.Turns()
		w.e.Do(&list[id])
		cells := map[string]bool{}
		for _, rec := range w.e.Turns() {
			for at := range rec.Changes {
				cells[cellOf(&rec.Changes[at])] = true
			}
		}
		changed = append(changed, cells)
	}
	return false
}
