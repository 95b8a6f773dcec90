package value

import (
	"sync"
	"testing"
)

// TestPool: equal values get equal numbers, whoever asks and however they are built.
func TestPool(t *testing.T) {
	p := NewPool()
	rec := func(names []string, values ...Value) Value { return NewRecord(names, values) }
	same := [][]Value{
		{Number(1), Number(1)},
		{String("a"), String("a")},
		{Null{}, Null{}},
		{NewList([]Value{Number(1), String("a")}), NewList([]Value{Number(1), String("a")})},
		{rec([]string{"a", "b"}, Number(1), Bool(true)), rec([]string{"b", "a"}, Bool(true), Number(1))},
		{rec([]string{"a"}, Number(1)), rec([]string{"a", "c"}, Number(1), Null{})},
		{Key(1), Key(1)},
	}
	seen := map[uint32]int{}
	for i, pair := range same {
		a, b := p.Number(pair[0]), p.Number(pair[1])
		if a != b || a == 0 {
			t.Errorf("%s has the numbers %d and %d", Show(pair[0]), a, b)
		}
		if was, ok := seen[a]; ok {
			t.Errorf("%s and %s have one number", Show(pair[0]), Show(same[was][0]))
		}
		seen[a] = i
		if !Equal(p.Value(a), pair[0]) {
			t.Errorf("number %d gives %s", a, Show(p.Value(a)))
		}
	}
	var all sync.WaitGroup
	for range 4 {
		all.Add(1)
		go func() {
			defer all.Done()
			for i := range 500 {
				l := NewList([]Value{Number(i), String("x")})
				if n := p.Number(l); !Equal(p.Value(n), l) {
					t.Errorf("number %d gives %s", n, Show(p.Value(n)))
				}
			}
		}()
	}
	all.Wait()
}

// TestKeys: only keys are rewritten, and what has none is the same value.
func TestKeys(t *testing.T) {
	up := func(k Key) Key { return k + 10 }
	plain := Value(NewList([]Value{Number(1), NewRecord([]string{"a"}, []Value{String("k1")})}))
	if Keys(plain, up) != plain {
		t.Error("a value without keys is copied")
	}
	v := NewList([]Value{Key(1), NewRecord([]string{"a", "b", "c"}, []Value{Number(1), Key(2), NewList([]Value{Key(3)})})})
	if got := Show(Keys(v, up)); got != "[k11, { a: 1, b: k12, c: [k13] }]" {
		t.Errorf("%s", got)
	}
}
