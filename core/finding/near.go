package finding

// Nearest is the name among names that someone who wrote word most likely
// meant, or "" when none is near: at most a third of its letters may differ.
func Nearest(word string, names []string) string {
	best, bestAt := "", len(word)/3+1
	for _, name := range names {
		if d := distance(fold(word), fold(name)); d < bestAt && name != word || d == 0 && name != word {
			best, bestAt = name, d
		}
	}
	return best
}

func fold(s string) string {
	out := make([]byte, 0, len(s))
	for i := 0; i < len(s); i++ {
		c := s[i]
		switch {
		case c == '-' || c == '_':
			continue
		case 'A' <= c && c <= 'Z':
			c += 'a' - 'A'
		}
		out = append(out, c)
	}
	return string(out)
}

// distance is the number of letters to insert, drop, change or swap with a
// neighbour to turn a into b (optimal string alignment).
func distance(a, b string) int {
	rows := make([][]int, len(a)+1)
	for i := range rows {
		rows[i] = make([]int, len(b)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(a); i++ {
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			d := min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				d = min(d, rows[i-2][j-2]+1)
			}
			rows[i][j] = d
		}
	}
	return rows[len(a)][len(b)]
}
