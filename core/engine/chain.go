package engine

import "lien/core/source"

// failUnsettled ends a turn that goes on for ever, with the chain that repeats.
func (e *Engine) failUnsettled(at source.Span, format string, args ...any) {
	defer func() {
		f := recover().(*Failure)
		f.Chain = repeating(e.latest())
		panic(f)
	}()
	e.fail(at, format, args...)
}

// mostLatest is how many entries are looked through for what repeats.
const mostLatest = 1 << 10

// latest are the last entries of the turn so far.
func (e *Engine) latest() []Entry {
	list := e.record.Entries
	return list[max(0, len(list)-mostLatest):]
}

// repeating is the shortest run of entries that ends the list twice in a row:
// the same things in the same places, whatever their values. Where nothing
// repeats it is nil.
func repeating(list []Entry) []Entry {
	for n := 1; 2*n <= len(list); n++ {
		last, before := list[len(list)-n:], list[len(list)-2*n:]
		if sameEntries(last, before[:n]) {
			return last
		}
	}
	return nil
}

func sameEntries(a, b []Entry) bool {
	for i := range a {
		x, y := &a[i], &b[i]
		if x.Kind != y.Kind || x.What != y.What || x.inst != y.inst || x.At != y.At {
			return false
		}
	}
	return true
}
