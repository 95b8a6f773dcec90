package syntax

import (
	"slices"

	"lien/core/source"
)

// Above are the comments right above a place, which document it: on lines of their own, without a gap, in the order of
// the text.
func (f *File) Above(at source.Pos) (list []Comment) {
	line := f.Source.LineOf(at)
	for _, c := range slices.Backward(f.Comments) {
		if c.Own && f.Source.LineOf(c.At.Start) == line-1 {
			list = append(list, c)
			line--
		}
	}
	slices.Reverse(list)
	return list
}
