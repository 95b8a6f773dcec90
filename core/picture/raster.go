package picture

import (
	"image"
	"image/color"
	"image/draw"
	"math"

	"golang.org/x/image/vector"
)

// raster paints polygons and lines, smoothed at their edges, into an image.
type raster struct {
	img *image.RGBA
	ink *image.Uniform
	r   vector.Rasterizer
}

func newRaster(width, height int) *raster {
	return &raster{img: image.NewRGBA(image.Rect(0, 0, width, height))}
}

func (r *raster) color(c color.Color) { r.ink = image.NewUniform(c) }

// fill paints polygons; where they overlap they are one.
func (r *raster) fill(polygons ...[]Point) {
	low, high := Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	for _, list := range polygons {
		for _, p := range list {
			low, high = Point{min(low.X, p.X), min(low.Y, p.Y)}, Point{max(high.X, p.X), max(high.Y, p.Y)}
		}
	}
	at := image.Rect(int(math.Floor(low.X)), int(math.Floor(low.Y)), int(math.Ceil(high.X)), int(math.Ceil(high.Y)))
	if at = at.Intersect(r.img.Bounds()); at.Empty() {
		return
	}
	r.r.Reset(at.Dx(), at.Dy())
	place := func(p Point) (x, y float32) {
		return float32(p.X - float64(at.Min.X)), float32(p.Y - float64(at.Min.Y))
	}
	for _, list := range polygons {
		for i, p := range oriented(list) {
			if x, y := place(p); i == 0 {
				r.r.MoveTo(x, y)
			} else {
				r.r.LineTo(x, y)
			}
		}
		r.r.ClosePath()
	}
	r.r.DrawOp = draw.Over
	r.r.Draw(r.img, at, r.ink, image.Point{})
}

// oriented is a polygon with its corners clockwise: of two that overlap none takes from the other.
func oriented(list []Point) []Point {
	area := 0.0
	for i, p := range list {
		q := list[(i+1)%len(list)]
		area += p.X*q.Y - q.X*p.Y
	}
	if area >= 0 {
		return list
	}
	out := make([]Point, len(list))
	for i, p := range list {
		out[len(list)-1-i] = p
	}
	return out
}

// stroke paints a line of a width along points, in dashes where there are any: its ends are cut off
// square. One that ends where it began is closed.
func (r *raster) stroke(points []Point, width float64, dash []float64) {
	var polygons [][]Point
	for _, part := range dashed(points, dash) {
		if strip := strip(part, width/2); strip != nil {
			polygons = append(polygons, strip)
		}
	}
	if len(polygons) > 0 {
		r.fill(polygons...)
	}
}

// sharpest is how far, in halves of its width, the edge of a line goes out at a corner.
const sharpest = 3

// strip is the edge of a line, half on either side; nil where it has no length.
func strip(points []Point, half float64) []Point {
	way := distinct(points)
	if len(way) < 2 {
		return nil
	}
	last := len(way) - 1
	closed := last > 2 && way[0] == way[last]
	left, right := make([]Point, len(way)), make([]Point, len(way))
	for i, p := range way {
		var in, out Point
		switch {
		case i > 0:
			in = normal(way[i-1], p)
		case closed:
			in = normal(way[last-1], p)
		}
		switch {
		case i < last:
			out = normal(p, way[i+1])
		case closed:
			out = normal(p, way[1])
		}
		n := Point{in.X + out.X, in.Y + out.Y}
		length := math.Hypot(n.X, n.Y)
		if length < 1e-6 { // it turns back
			n, length = in, 1
		}
		n = Point{n.X / length, n.Y / length}
		side := in
		if side == (Point{}) {
			side = out
		}
		reach := half * min(sharpest, 1/max(n.X*side.X+n.Y*side.Y, 1e-6))
		left[i], right[last-i] = Point{p.X + n.X*reach, p.Y + n.Y*reach}, Point{p.X - n.X*reach, p.Y - n.Y*reach}
	}
	return append(left, right...)
}

// normal is the direction across the way from p to q, of length 1.
func normal(p, q Point) Point {
	length := math.Hypot(q.X-p.X, q.Y-p.Y)
	return Point{(q.Y - p.Y) / length, (p.X - q.X) / length}
}

// distinct are points without those that stand on the one before.
func distinct(points []Point) (list []Point) {
	for _, p := range points {
		if n := len(list); n == 0 || math.Hypot(list[n-1].X-p.X, list[n-1].Y-p.Y) > 1e-9 {
			list = append(list, p)
		}
	}
	return list
}

// dashed cuts a line into its dashes.
func dashed(points []Point, dash []float64) (parts [][]Point) {
	sum := 0.0
	for _, d := range dash {
		sum += d
	}
	if sum <= 0 || len(points) == 0 {
		return [][]Point{points}
	}
	part, n, left := []Point{points[0]}, 0, dash[0]
	for i := 1; i < len(points); i++ {
		from, to := points[i-1], points[i]
		length, at := math.Hypot(to.X-from.X, to.Y-from.Y), 0.0
		for ; length-at > left; left = dash[n%len(dash)] {
			at += left
			cut := Point{from.X + (to.X-from.X)*at/length, from.Y + (to.Y-from.Y)*at/length}
			if n%2 == 0 {
				parts = append(parts, append(part, cut))
			}
			n++
			part = []Point{cut}
		}
		left -= length - at
		part = append(part, to)
	}
	if n%2 == 0 {
		parts = append(parts, part)
	}
	return parts
}

// arc appends points of a circle from one angle to another, close enough that no corner is seen.
func arc(list []Point, center Point, radius, from, to float64) []Point {
	steps := max(3, int(math.Ceil(math.Abs(to-from)*math.Sqrt(max(radius, 1))*1.5)))
	for i := range steps + 1 {
		a := from + (to-from)*float64(i)/float64(steps)
		list = append(list, Point{center.X + radius*math.Cos(a), center.Y + radius*math.Sin(a)})
	}
	return list
}

// curve appends points of a quadratic curve (SVG 2, 9.3.7) from the last point on.
func curve(list []Point, control, to Point) []Point {
	const steps = 10
	from := list[len(list)-1]
	for i := 1; i <= steps; i++ {
		t := float64(i) / steps
		a, b, c := (1-t)*(1-t), 2*t*(1-t), t*t
		list = append(list, Point{a*from.X + b*control.X + c*to.X, a*from.Y + b*control.Y + c*to.Y})
	}
	return list
}

// outline is the edge of a rectangle with round corners.
func outline(x, y, w, h, round float64) (list []Point) {
	if round = min(round, w/2, h/2); round <= 0 {
		return []Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}
	}
	for i, c := range []Point{{x + w - round, y + round}, {x + w - round, y + h - round}, {x + round, y + h - round}, {x + round, y + round}} {
		from := -math.Pi/2 + float64(i)*math.Pi/2
		list = arc(list, c, round, from, from+math.Pi/2)
	}
	return list
}
