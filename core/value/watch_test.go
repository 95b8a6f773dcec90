package value

import (
	"fmt"
	"strings"
	"testing"
)

// listener writes down which parts were read.
type listener struct{ told []string }

func (l *listener) PartRead(seat, part int, changed bool) {
	l.told = append(l.told, fmt.Sprintf("%d.%d %v", seat, part, changed))
}

func (l *listener) take() string {
	out := strings.Join(l.told, ", ")
	l.told = nil
	return out
}

// TestWatch: whoever watches a value is told of each part that is read, also of
// what was made of it, and of nothing that only compares or copies.
func TestWatch(t *testing.T) {
	var l listener
	shelf := Watch(NewRecord([]string{"id", "full"}, []Value{String("a"), Bool(false)}), &l, 4).(*Record)
	flags := Watch(NewList([]Value{Bool(true), Bool(false), Bool(true)}), &l, 7).(*List)
	full := shelf.With("full", Bool(true))
	on := flags.With(1, Bool(true))
	for _, c := range []struct {
		what string
		do   func()
		want string
	}{
		{"a field", func() { shelf.Get("full") }, "4.1 false"},
		{"a field that is not there", func() { shelf.Get("none") }, ""},
		{"a changed field", func() { full.Get("full") }, "4.1 true"},
		{"the one beside it", func() { full.Get("id") }, "4.0 false"},
		{"an item", func() { on.At(2) }, "7.2 false"},
		{"a length", func() { on.Len() }, ""},
		{"all items", func() { on.Items() }, "7.0 false, 7.1 true, 7.2 false"},
		{"all of a record", func() { Read(full) }, "4.0 false, 4.1 true"},
		{"what is shown", func() { Show(NewList([]Value{shelf})) }, "4.0 false, 4.1 false"},
		{"comparing", func() { Equal(shelf, full); Equal(flags, on); Differences(shelf, full, 3) }, ""},
		{"numbering", func() { NewPool().Number(full) }, ""},
		{"a plain copy", func() { Read(Plain(NewList([]Value{full}))); Read(Plain(on)) }, ""},
	} {
		l.take()
		if c.do(); l.take() != c.want {
			c.do()
			t.Errorf("%s: told %q, want %q", c.what, l.take(), c.want)
		}
	}
	for _, c := range []struct {
		v, of Value
		parts uint64
		ok    bool
	}{{shelf, shelf, 0, true}, {full, shelf, 2, true}, {on, flags, 2, true}, {full, full, 0, true}, {on, shelf, 0, false},
		{NewRecord(shelf.Names, []Value{String("a"), Bool(false)}), shelf, 0, false}, {full.With("more", Null{}), shelf, 0, false}} {
		if parts, ok := Changed(c.v, c.of); ok != c.ok || ok && parts != c.parts {
			t.Errorf("%s of %s: %b %v, want %b %v", Show(c.v), Show(c.of), parts, ok, c.parts, c.ok)
		}
	}
}
