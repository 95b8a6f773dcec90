// Package picture is drawings made of boxes, lines and texts, and how they
// become SVG, PNG and PDF. Lengths are CSS pixels, y grows downwards.
package picture

// Picture is one drawing.
type Picture struct {
	Width, Height float64
	Title         string // what it shows
	Desc          string // the same in words, for those who do not see it
	Marks         []Mark // in the order in which they are painted
}

// Mark is a piece of a drawing: a *Box, *Line, *Text or *Group.
type Mark interface{ mark() }

// Point is a place in a drawing.
type Point struct{ X, Y float64 }

// Box is a rectangle.
type Box struct {
	X, Y, W, H   float64
	Round        float64 // radius of the corners
	Fill, Stroke Role    // None for neither
	Width        float64 // of the stroke
	Dash         []float64
	Solid        bool // no line may run through it
}

// Line goes from point to point, with round corners.
type Line struct {
	Points     []Point
	Stroke     Role
	Width      float64
	Dash       []float64
	Start, End Cap
}

// Text is one line of text.
type Text struct {
	X, Y  float64 // its left end on the base line
	Size  float64
	Bold  bool
	Fill  Role
	Text  string
	Whole string // what it was before it was shortened, or ""
}

// Group is marks that belong together.
type Group struct {
	Title string // shown where the pointer rests on it
	Marks []Mark
}

func (*Box) mark()   {}
func (*Line) mark()  {}
func (*Text) mark()  {}
func (*Group) mark() {}

// Cap is how a line ends.
type Cap uint8

const (
	Plain Cap = iota
	Arrow
	Dot
	Diamond
)

// Role is what a colour is for.
type Role uint8

const (
	None Role = iota
	Ground
	Card
	Head
	Ink
	Soft
	Faint
	Edge
	Hold
	HoldGround
	Down
	Up
	Tie
	Context
	Call
	Message
	roles
)

var roleNames = [roles]string{"none", "ground", "card", "head", "ink", "soft", "faint", "edge", "hold", "hold-ground", "down", "up", "tie", "context", "call", "message"}

// Theme gives every role a colour, as #rrggbb.
type Theme struct {
	Name   string
	Colors [roles]string
}

var (
	// Light is for a screen: the greys and greens of celadon, what is held in the deepest of them.
	Light = &Theme{"light", [roles]string{"", "#eef2ee", "#ffffff", "#dde7e0", "#1b2420", "#50605a", "#c6d1cb", "#8ea197", "#0d5c45", "#cfe6d9", "#1d5e9c", "#7a3c9e", "#7c6100", "#a3511f", "#55605b", "#b0245f"}}
	// Dark is for a screen in the dark.
	Dark = &Theme{"dark", [roles]string{"", "#121816", "#1b2320", "#28332e", "#e6efea", "#a3b4ab", "#3b4842", "#667a71", "#86dab4", "#17402f", "#7db8ee", "#cba3ee", "#dfc055", "#eda06e", "#b2beb8", "#f48db8"}}
	// Print has no colours: what differs differs in form.
	Print = &Theme{"print", [roles]string{"", "#ffffff", "#ffffff", "#eeeeee", "#000000", "#333333", "#bbbbbb", "#555555", "#000000", "#dddddd", "#000000", "#000000", "#000000", "#000000", "#000000", "#000000"}}
)

// Themes are all of them.
var Themes = []*Theme{Light, Dark, Print}

// All visits every mark, those in groups too.
func All(marks []Mark, visit func(Mark)) {
	for _, m := range marks {
		visit(m)
		if g, ok := m.(*Group); ok {
			All(g.Marks, visit)
		}
	}
}

// corner is the radius of the corners of lines.
const corner = 5

// turn is a piece of a line: straight to a point, and round a corner after it.
type turn struct {
	to      Point
	control *Point // of the corner that ends at "to", nil for a straight piece
}

// turns takes a line apart.
func (l *Line) turns() []turn {
	var list []turn
	for i := 1; i < len(l.Points); i++ {
		p := l.Points[i]
		if i == len(l.Points)-1 {
			return append(list, turn{to: p})
		}
		before, after := toward(p, l.Points[i-1]), toward(p, l.Points[i+1])
		list = append(list, turn{to: before}, turn{to: after, control: &p})
	}
	return list
}

// toward is the place near p, on the way to q, where a corner begins or ends.
func toward(p, q Point) Point {
	dx, dy := q.X-p.X, q.Y-p.Y
	d := abs(dx) + abs(dy)
	if d == 0 {
		return p
	}
	r := min(corner, d/2)
	return Point{p.X + dx/d*r, p.Y + dy/d*r}
}

func abs(x float64) float64 {
	if x < 0 {
		return -x
	}
	return x
}

// capShape is the outline of the end of a line at p that comes from q.
func capShape(c Cap, p, q Point) []Point {
	dx, dy := p.X-q.X, p.Y-q.Y
	d := abs(dx) + abs(dy)
	if d == 0 {
		return nil
	}
	dx, dy = dx/d, dy/d
	at := func(back, side float64) Point { return Point{p.X - dx*back - dy*side, p.Y - dy*back + dx*side} }
	switch c {
	case Arrow:
		return []Point{p, at(7, 3.5), at(7, -3.5)}
	case Diamond:
		return []Point{p, at(5, 3.5), at(10, 0), at(5, -3.5)}
	case Dot:
		return []Point{p, at(1, 2.5), at(3, 3), at(5, 2.5), at(6, 0), at(5, -2.5), at(3, -3), at(1, -2.5)}
	}
	return nil
}

// caps are the outlines of both ends of a line.
func (l *Line) caps() [][]Point {
	n := len(l.Points)
	if n < 2 {
		return nil
	}
	var list [][]Point
	for _, s := range [][]Point{capShape(l.Start, l.Points[0], l.Points[1]), capShape(l.End, l.Points[n-1], l.Points[n-2])} {
		if s != nil {
			list = append(list, s)
		}
	}
	return list
}
