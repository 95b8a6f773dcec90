package explore

import (
	"fmt"
	"math"
	"math/bits"

	"lien/core/finding"
)

// Count is how many there are. From 2^63 on it is known as a power of two.
type Count struct {
	N    int     // math.MaxInt where there are more
	Bits float64 // the power of two, where there are more; else 0
}

// Few is a count of so many.
func Few(n int) Count { return Count{N: n} }

func (c Count) log() float64 {
	if c.Bits > 0 {
		return c.Bits
	}
	return math.Log2(float64(c.N))
}

// Times is the product of two counts.
func (c Count) Times(d Count) Count {
	high, low := bits.Mul64(uint64(c.N), uint64(d.N))
	if c.Bits == 0 && d.Bits == 0 && high == 0 && low <= math.MaxInt {
		return Few(int(low))
	}
	if c.N == 0 || d.N == 0 {
		return Count{}
	}
	return Count{math.MaxInt, c.log() + d.log()}
}

// Plus is the sum of two counts.
func (c Count) Plus(d Count) Count {
	if sum := uint64(c.N) + uint64(d.N); c.Bits == 0 && d.Bits == 0 && sum <= math.MaxInt {
		return Few(int(sum))
	}
	a, b := max(c.log(), d.log()), min(c.log(), d.log())
	return Count{math.MaxInt, a + math.Log2(1+math.Exp2(b-a))}
}

// String is the number, or the power of two.
func (c Count) String() string {
	if c.Bits == 0 {
		return fmt.Sprint(c.N)
	}
	if round := math.Round(c.Bits); math.Abs(round-c.Bits) < 1e-6 {
		return fmt.Sprintf("2^%.0f", round)
	}
	return fmt.Sprintf("2^%.1f", c.Bits)
}

// Of is the count with what is counted.
func (c Count) Of(what string) string {
	if c.Bits == 0 && c.N == 1 {
		return "1 " + what
	}
	return c.String() + " " + finding.Plural(what)
}

// MarshalJSON writes a number, or the power of two as a text (RFC 8259 lets
// readers take numbers for doubles).
func (c Count) MarshalJSON() ([]byte, error) {
	if c.Bits == 0 {
		return []byte(c.String()), nil
	}
	return []byte(`"` + c.String() + `"`), nil
}
