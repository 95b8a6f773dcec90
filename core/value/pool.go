package value

import (
	"encoding/binary"
	"sync"
)

// Pool gives equal values equal numbers, from 1 on. It may be used from several
// goroutines. Instances and functions of the engine have no place in it.
type Pool struct {
	mu     sync.RWMutex
	plain  map[Value]uint32
	spelt  map[string]uint32
	values []Value
	names  map[string]uint32

	sizes Sizes
	vast  bool // there is a number that is far from any that people use
}

// NewPool is an empty pool.
func NewPool() *Pool {
	return &Pool{plain: map[Value]uint32{}, spelt: map[string]uint32{}, names: map[string]uint32{}, values: []Value{nil}}
}

// Number is the number of a value.
func (p *Pool) Number(v Value) uint32 {
	switch v := v.(type) {
	case *List, *Record:
		return p.composite(v)
	}
	p.mu.RLock()
	n := p.plain[v]
	p.mu.RUnlock()
	if n != 0 {
		return n
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if n := p.plain[v]; n != 0 {
		return n
	}
	n = p.add(v)
	p.plain[v] = n
	return n
}

// Large says whether the pool has values of which sums and joins that a few
// expressions make could go beyond the limits of a turn: numbers over 1e15, or
// lists of texts of more than 40,000 letters in all.
func (p *Pool) Large() bool {
	p.mu.RLock()
	defer p.mu.RUnlock()
	return p.vast || p.sizes.Large()
}

// Sizes bound values: no text of theirs has more letters, no list more items, and none
// more parts.
type Sizes struct{ Text, List, Parts int }

// Or is a bound of both.
func (s Sizes) Or(o Sizes) Sizes {
	return Sizes{max(s.Text, o.Text), max(s.List, o.List), max(s.Parts, o.Parts)}
}

// Large says whether lists of such texts may have more than 40,000 letters.
func (s Sizes) Large() bool { return s.Text*max(s.List, 1) > 40_000 }

// SizesIn are those of a value and of all in it.
func SizesIn(v Value) Sizes {
	s := Sizes{Parts: Parts(v)}
	switch v := v.(type) {
	case String:
		s.Text = len(v)
	case *List:
		s.List = v.Len()
		for _, x := range v.items() {
			s = s.Or(SizesIn(x))
		}
	case *Record:
		for _, x := range v.values {
			s = s.Or(SizesIn(x))
		}
	}
	return s
}

// Sizes are those of the values in the pool.
func (p *Pool) Sizes() Sizes {
	p.mu.RLock()
	defer p.mu.RUnlock()
	return p.sizes
}

func (p *Pool) add(v Value) uint32 {
	switch v := v.(type) {
	case Number:
		p.vast = p.vast || v > 1e15 || v < -1e15
	case String:
		p.sizes.Text = max(p.sizes.Text, len(v))
	case *List:
		p.sizes.List = max(p.sizes.List, v.Len())
	}
	p.sizes.Parts = max(p.sizes.Parts, Parts(v))
	p.values = append(p.values, v)
	return uint32(len(p.values) - 1)
}

// Value is the value with a number.
func (p *Pool) Value(n uint32) Value {
	p.mu.RLock()
	defer p.mu.RUnlock()
	return p.values[n]
}

// composite numbers a list or record by the numbers of what is in it. A field
// that is null is the same as none.
func (p *Pool) composite(v Value) uint32 {
	var room [128]byte
	key := room[:0]
	switch v := v.(type) {
	case *List:
		key = append(key, 'l')
		for _, x := range v.items() {
			key = binary.AppendUvarint(key, uint64(p.Number(x)))
		}
	case *Record:
		key = append(key, 'r')
		for _, i := range v.order() {
			if !IsNull(v.values[i]) {
				key = binary.AppendUvarint(key, uint64(p.name(v.Names[i])))
				key = binary.AppendUvarint(key, uint64(p.Number(v.values[i])))
			}
		}
	}
	p.mu.RLock()
	n := p.spelt[string(key)]
	p.mu.RUnlock()
	if n != 0 {
		return n
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if n := p.spelt[string(key)]; n != 0 {
		return n
	}
	n = p.add(Plain(v))
	p.spelt[string(key)] = n
	return n
}

// order are the places of the fields by their names, which most records have
// in this order already or with few exchanges.
func (r *Record) order() []int {
	at := make([]int, len(r.Names))
	for i := range at {
		at[i] = i
		for j := i; j > 0 && r.Names[at[j]] < r.Names[at[j-1]]; j-- {
			at[j], at[j-1] = at[j-1], at[j]
		}
	}
	return at
}

func (p *Pool) name(s string) uint32 {
	p.mu.RLock()
	n := p.names[s]
	p.mu.RUnlock()
	if n != 0 {
		return n
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if n := p.names[s]; n != 0 {
		return n
	}
	n = uint32(len(p.names) + 1)
	p.names[s] = n
	return n
}

// Keys rewrites the keys in a value; what has none is given back as it is.
func Keys(v Value, rewrite func(Key) Key) Value {
	switch v := v.(type) {
	case Key:
		return rewrite(v)
	case *List:
		return v.Map(func(_ int, x Value) Value { return Keys(x, rewrite) })
	case *Record:
		for i, x := range v.values {
			if y := Keys(x, rewrite); y != x {
				r := NewRecord(v.Names, append([]Value(nil), v.values...))
				r.values[i] = y
				for j := i + 1; j < len(r.values); j++ {
					r.values[j] = Keys(r.values[j], rewrite)
				}
				return r
			}
		}
	}
	return v
}
