package value

import "strconv"

// Difference is one place in which two values differ: a path such as
// [0].shelf, and what stands there. A part that is not there is nil.
type Difference struct {
	Path    string
	Was, Is Value
}

// Differences lists where two values differ, as deep as both have the same
// shape, at most n of them.
func Differences(was, is Value, n int) []Difference {
	var list []Difference
	differences(was, is, "", n, &list)
	return list
}

func differences(was, is Value, path string, n int, list *[]Difference) {
	if len(*list) >= n || was != nil && is != nil && Equal(was, is) {
		return
	}
	switch a := was.(type) {
	case *List:
		if b, ok := is.(*List); ok && abs(a.Len()-b.Len()) <= 1 {
			listDifferences(a, b, path, n, list)
			return
		}
	case *Record:
		if b, ok := is.(*Record); ok {
			for i, name := range b.Names {
				differences(a.peek(name), b.values[i], path+"."+name, n, list)
			}
			for i, name := range a.Names {
				if _, kept := b.index(name); !kept {
					differences(a.values[i], Null{}, path+"."+name, n, list)
				}
			}
			return
		}
	}
	*list = append(*list, Difference{path, was, is})
}

// listDifferences compares item by item; where one item came or went, only
// that one is told.
func listDifferences(a, b *List, path string, n int, list *[]Difference) {
	x, y := a.items(), b.items()
	at := 0
	for at < len(x) && at < len(y) && Equal(x[at], y[at]) {
		at++
	}
	place := func(i int) string { return path + "[" + strconv.Itoa(i) + "]" }
	switch {
	case len(x) < len(y):
		*list = append(*list, Difference{place(at), nil, y[at]})
		y = append(append([]Value(nil), y[:at]...), y[at+1:]...)
	case len(x) > len(y):
		*list = append(*list, Difference{place(at), x[at], nil})
		x = append(append([]Value(nil), x[:at]...), x[at+1:]...)
	}
	for i := at; i < len(x); i++ {
		differences(x[i], y[i], place(i), n, list)
	}
}

func abs(n int) int { return max(n, -n) }
