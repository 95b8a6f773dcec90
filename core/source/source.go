// Package source holds the texts of a design and the positions in them.
package source

import (
	"fmt"
	"sort"
	"strings"
	"unicode/utf8"
)

// Pos is a place in one of the files of a Set: a byte offset counted through
// all of them. The zero Pos is no place.
type Pos int32

// Valid says whether p is a place at all.
func (p Pos) Valid() bool { return p > 0 }

// Span is a stretch of text, from its first byte to the one after its last.
type Span struct{ Start, End Pos }

// File is one text. Its lines are found once, when it is added to a Set.
type File struct {
	Name  string // as messages show it
	Path  string // in the file system that it was read from, or ""
	Text  string // the whole text, in UTF-8, without a byte-order mark
	base  Pos
	lines []int32 // byte offset of the start of every line
}

// Pos turns a byte offset in the file into a place.
func (f *File) Pos(offset int) Pos { return f.base + Pos(offset) }

// Offset turns a place in the file into a byte offset.
func (f *File) Offset(p Pos) int { return int(p - f.base) }

// Lines is the number of lines.
func (f *File) Lines() int { return len(f.lines) }

// LineOf is the number, from 1, of the line that p stands in.
func (f *File) LineOf(p Pos) int {
	off := int32(f.Offset(p))
	return sort.Search(len(f.lines), func(i int) bool { return f.lines[i] > off })
}

// Line is the text of line n, counted from 1, without its end.
func (f *File) Line(n int) string {
	if n < 1 || n > len(f.lines) {
		return ""
	}
	end := len(f.Text)
	if n < len(f.lines) {
		end = int(f.lines[n])
	}
	return strings.TrimRight(f.Text[f.lines[n-1]:end], "\r\n")
}

// Slice is the text from start to end.
func (f *File) Slice(start, end Pos) string {
	return f.Text[f.Offset(start):f.Offset(end)]
}

// Position is a place as people read it. Line and Column count from 1;
// Column counts characters, not bytes.
type Position struct {
	File   string `json:"file"`
	Line   int    `json:"line"`
	Column int    `json:"column"`
}

func (p Position) String() string {
	if p.File == "" {
		return "-"
	}
	return fmt.Sprintf("%s:%d:%d", p.File, p.Line, p.Column)
}

// Set is the files of one design, in the order in which they were added.
type Set struct {
	files []*File
	next  Pos
}

// NewSet is a set without files.
func NewSet() *Set { return &Set{next: 1} }

// Add puts a text into the set. A byte-order mark at its start is dropped.
func (s *Set) Add(name, text string) *File {
	text = strings.TrimPrefix(text, "\ufeff")
	f := &File{Name: name, Text: text, base: s.next, lines: make([]int32, 1, strings.Count(text, "\n")+2)}
	ends := strings.IndexByte
	if strings.IndexByte(text, '\r') >= 0 {
		ends = func(text string, _ byte) int { return strings.IndexAny(text, "\r\n") }
	}
	for i := 0; ; {
		n := ends(text[i:], '\n')
		if n < 0 {
			break
		}
		i += n + LineEnd(text[i+n:])
		f.lines = append(f.lines, int32(i))
	}
	s.next += Pos(len(text)) + 1
	s.files = append(s.files, f)
	return f
}

// LineEnd is how many bytes end a line at the start of a text: a line feed, a carriage
// return, or both as one; 0 where none does.
func LineEnd(text string) int {
	switch {
	case strings.HasPrefix(text, "\r\n"):
		return 2
	case text != "" && (text[0] == '\n' || text[0] == '\r'):
		return 1
	}
	return 0
}

// Files are all files, in order.
func (s *Set) Files() []*File { return s.files }

// File is the one that p stands in, or nil.
func (s *Set) File(p Pos) *File {
	i := sort.Search(len(s.files), func(i int) bool { return s.files[i].base > p }) - 1
	if !p.Valid() || i < 0 {
		return nil
	}
	return s.files[i]
}

// Position tells file, line and column of p.
func (s *Set) Position(p Pos) Position {
	f := s.File(p)
	if f == nil {
		return Position{}
	}
	line := f.LineOf(p)
	start := int(f.lines[line-1])
	off := min(f.Offset(p), len(f.Text))
	return Position{f.Name, line, utf8.RuneCountInString(f.Text[start:off]) + 1}
}
