package value

import "math"

// Parts is how many parts a value has, itself among them, each counted as often as it
// occurs: a record that is two fields of another counts twice. Long texts count for
// more than one. It is known of every value as it is made, and at most MaxInt32.
func Parts(v Value) int {
	switch v := v.(type) {
	case *Record:
		return int(v.parts)
	case *List:
		return int(v.parts)
	case String:
		return 1 + len(v)/256
	}
	return 1
}

// partsOf is that of something with these parts.
func partsOf(values []Value) int32 {
	n := 1
	for _, v := range values {
		n += Parts(v)
	}
	return most(n)
}

func most(n int) int32 { return int32(min(n, math.MaxInt32)) }
