// Package diff compares texts line by line and writes unified diffs (POSIX
// diff -u).
package diff

import (
	"fmt"
	"strings"
)

const around = 3 // lines shown around a change

// op is one line: kept ' ', removed '-' or added '+'.
type op struct {
	kind byte
	line string
}

// Unified is the unified diff that turns a into b, or "" where they are equal.
func Unified(nameA, nameB, a, b string) string {
	if a == b {
		return ""
	}
	ops := compare(split(a), split(b))
	var out strings.Builder
	fmt.Fprintf(&out, "--- %s\n+++ %s\n", nameA, nameB)
	lineA, lineB := 1, 1
	for i := 0; i < len(ops); {
		if ops[i].kind == ' ' {
			i++
			lineA++
			lineB++
			continue
		}
		start := max(0, i-around)
		end := hunkEnd(ops, i)
		hunk(&out, ops[start:end], lineA-(i-start), lineB-(i-start))
		for ; i < end; i++ {
			if ops[i].kind != '+' {
				lineA++
			}
			if ops[i].kind != '-' {
				lineB++
			}
		}
	}
	return out.String()
}

// hunkEnd is where the hunk that starts at a change ends: after the lines
// around its last change that no other change is near.
func hunkEnd(ops []op, i int) int {
	last := i
	for j := i; j < len(ops) && j-last <= 2*around; j++ {
		if ops[j].kind != ' ' {
			last = j
		}
	}
	return min(len(ops), last+around+1)
}

func hunk(out *strings.Builder, ops []op, lineA, lineB int) {
	countA, countB := 0, 0
	for _, o := range ops {
		if o.kind != '+' {
			countA++
		}
		if o.kind != '-' {
			countB++
		}
	}
	fmt.Fprintf(out, "@@ -%s +%s @@\n", lines(lineA, countA), lines(lineB, countB))
	for _, o := range ops {
		out.WriteByte(o.kind)
		out.WriteString(o.line)
		if !strings.HasSuffix(o.line, "\n") {
			out.WriteString("\n\\ No newline at end of file\n")
		}
	}
}

func lines(start, n int) string {
	if n == 0 {
		start--
	}
	if n == 1 {
		return fmt.Sprint(start)
	}
	return fmt.Sprintf("%d,%d", start, n)
}

func split(s string) []string {
	list := strings.SplitAfter(s, "\n")
	if list[len(list)-1] == "" {
		list = list[:len(list)-1]
	}
	return list
}

// compare finds a shortest way from a to b with Myers's algorithm (An O(ND)
// Difference Algorithm and Its Variations, 1986), after what both share at
// their ends. Texts that share little are replaced whole.
func compare(a, b []string) []op {
	var head, tail []op
	for len(a) > 0 && len(b) > 0 && a[0] == b[0] {
		head = append(head, op{' ', a[0]})
		a, b = a[1:], b[1:]
	}
	for len(a) > 0 && len(b) > 0 && a[len(a)-1] == b[len(b)-1] {
		tail = append([]op{{' ', a[len(a)-1]}}, tail...)
		a, b = a[:len(a)-1], b[:len(b)-1]
	}
	return append(append(head, middle(a, b)...), tail...)
}

const maxEdits = 2000 // beyond it, the search costs more than it tells

func middle(a, b []string) []op {
	n, m := len(a), len(b)
	v := map[int]int{1: 0}
	var trace []map[int]int
	for d := 0; d <= min(n+m, maxEdits); d++ {
		step := make(map[int]int, d+2)
		trace = append(trace, step)
		for k := -d; k <= d; k += 2 {
			x := v[k-1] + 1
			if k == -d || k != d && v[k-1] < v[k+1] {
				x = v[k+1]
			}
			for x < n && x-k < m && a[x] == b[x-k] {
				x++
			}
			v[k], step[k] = x, x
			if x >= n && x-k >= m {
				return back(trace, a, b)
			}
		}
	}
	var ops []op
	for _, l := range a {
		ops = append(ops, op{'-', l})
	}
	for _, l := range b {
		ops = append(ops, op{'+', l})
	}
	return ops
}

// back walks from the end of both texts to their start.
func back(trace []map[int]int, a, b []string) []op {
	x, y := len(a), len(b)
	var ops []op
	for d := len(trace) - 1; d > 0; d-- {
		prev := trace[d-1]
		k := x - y
		down := k == -d || k != d && prev[k-1] < prev[k+1]
		from := k - 1
		if down {
			from = k + 1
		}
		px := prev[from]
		py := px - from
		for x > px && y > py {
			x--
			y--
			ops = append(ops, op{' ', a[x]})
		}
		if down {
			y--
			ops = append(ops, op{'+', b[y]})
		} else {
			x--
			ops = append(ops, op{'-', a[x]})
		}
	}
	for x > 0 && y > 0 {
		x--
		y--
		ops = append(ops, op{' ', a[x]})
	}
	for i, j := 0, len(ops)-1; i < j; i, j = i+1, j-1 {
		ops[i], ops[j] = ops[j], ops[i]
	}
	return ops
}

// Hunk is a run of lines that are others: those from From to the one before To, counted from 1, are
// replaced by Text.
type Hunk struct {
	From, To int
	Text     string
}

// Hunks are the changes that turn a into b, in order.
func Hunks(a, b string) (list []Hunk) {
	line := 1
	open := false
	for _, o := range compare(split(a), split(b)) {
		if o.kind == ' ' {
			line++
			open = false
			continue
		}
		if !open {
			list, open = append(list, Hunk{From: line, To: line}), true
		}
		h := &list[len(list)-1]
		if o.kind == '-' {
			line++
			h.To++
		} else {
			h.Text += o.line
		}
	}
	return list
}
