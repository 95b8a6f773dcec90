package picture

import (
	"sync"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"

	"lien/core/source"
)

// The fonts come with the program, so that a text is as wide as it was measured.

// face is a font with what was measured of it.
type face struct {
	data []byte
	font *sfnt.Font

	mu     sync.Mutex
	widths map[rune]float64 // in thousandths of the size
	lacks  map[rune]bool
	buf    sfnt.Buffer
}

var faces = [2]*face{newFace(goregular.TTF), newFace(gobold.TTF)}

func newFace(data []byte) *face {
	f, err := sfnt.Parse(data)
	if err != nil {
		panic(err) // the fonts are part of the program
	}
	return &face{data: data, font: f, widths: map[rune]float64{}, lacks: map[rune]bool{}}
}

func faceOf(bold bool) *face {
	if bold {
		return faces[1]
	}
	return faces[0]
}

// width is that of a rune, in thousandths of the size.
func (f *face) width(r rune) float64 {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.measured(r)
}

// measured is the same, for who has the lock.
func (f *face) measured(r rune) float64 {
	if w, ok := f.widths[r]; ok {
		return w
	}
	at, _ := f.font.GlyphIndex(&f.buf, r)
	advance, err := f.font.GlyphAdvance(&f.buf, at, fixed.I(1000), font.HintingNone)
	if err != nil {
		advance = fixed.I(600)
	}
	w := float64(advance) / 64
	f.widths[r], f.lacks[r] = w, at == 0
	return w
}

// Width is that of a text, in pixels.
func Width(s string, size float64, bold bool) float64 {
	f := faceOf(bold)
	f.mu.Lock()
	defer f.mu.Unlock()
	sum := 0.0
	for _, r := range s {
		sum += f.measured(r)
	}
	return sum * size / 1000
}

// Shorten takes runes out of the middle until a text is no wider than width.
func Shorten(s string, size float64, bold bool, width float64) string {
	if Width(s, size, bold) <= width {
		return s
	}
	runes := []rune(s)
	low, high := 0, len(runes) // how many runes can stay
	for low < high {
		n := (low + high + 1) / 2
		if Width(without(runes, n), size, bold) <= width {
			low = n
		} else {
			high = n - 1
		}
	}
	return without(runes, low)
}

// without keeps n runes: more of the beginning than of the end.
func without(runes []rune, n int) string {
	front := (n*3 + 4) / 5
	return string(runes[:front]) + "…" + string(runes[len(runes)-(n-front):])
}

// NewText is a text that is no wider than width. What could not be seen in it is
// written out.
func NewText(x, y, size float64, bold bool, fill Role, s string, width float64) *Text {
	s = source.Visible(s)
	t := &Text{X: x, Y: y, Size: size, Bold: bold, Fill: fill, Text: Shorten(s, size, bold, width)}
	if t.Text != s {
		t.Whole = s
	}
	return t
}
