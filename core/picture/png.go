package picture

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math"

	"golang.org/x/image/font"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
)

// PNG paints a drawing, each of its pixels as scale pixels.
func PNG(p *Picture, th *Theme, scale float64) ([]byte, error) {
	const most = 20_000 // pixels a side
	width, height := int(math.Ceil(p.Width*scale)), int(math.Ceil(p.Height*scale))
	if width > most || height > most {
		return nil, fmt.Errorf("a PNG of %d by %d pixels is too large", width, height)
	}
	c := &painter{raster: newRaster(width, height), th: th, faces: map[fontKey]font.Face{}, scale: scale}
	draw.Draw(c.img, c.img.Bounds(), image.NewUniform(th.color(Ground)), image.Point{}, draw.Src)
	c.marks(p.Marks)
	var out bytes.Buffer
	err := png.Encode(&out, c.img)
	return out.Bytes(), err
}

// color is that of a role.
func (th *Theme) color(r Role) color.RGBA {
	c := color.RGBA{A: 255}
	fmt.Sscanf(th.Colors[r], "#%02x%02x%02x", &c.R, &c.G, &c.B)
	return c
}

type fontKey struct {
	size float64
	bold bool
}

type painter struct {
	*raster
	th    *Theme
	faces map[fontKey]font.Face
	scale float64
}

func (c *painter) marks(list []Mark) {
	for _, m := range list {
		switch m := m.(type) {
		case *Group:
			c.marks(m.Marks)
		case *Box:
			c.box(m)
		case *Line:
			c.line(m)
		case *Text:
			c.label(m)
		}
	}
}

func (c *painter) box(b *Box) {
	edge := c.scaled(outline(b.X, b.Y, b.W, b.H, b.Round))
	if b.Fill != None {
		c.color(c.th.color(b.Fill))
		c.fill(edge)
	}
	if b.Stroke != None {
		c.pen(b.Stroke, append(edge, edge[0]), b.Width, b.Dash)
	}
}

// pen paints a line of a colour.
func (c *painter) pen(r Role, points []Point, width float64, dash []float64) {
	c.color(c.th.color(r))
	long := make([]float64, len(dash))
	for i, d := range dash {
		long[i] = d * c.scale
	}
	c.stroke(points, width*c.scale, long)
}

// scaled are points in the pixels of the picture.
func (c *painter) scaled(list []Point) []Point {
	out := make([]Point, len(list))
	for i, p := range list {
		out[i] = Point{p.X * c.scale, p.Y * c.scale}
	}
	return out
}

func (c *painter) line(l *Line) {
	if len(l.Points) < 2 {
		return
	}
	way := []Point{l.Points[0]}
	for _, t := range l.turns() {
		if t.control != nil {
			way = curve(way, *t.control, t.to)
		} else {
			way = append(way, t.to)
		}
	}
	c.pen(l.Stroke, c.scaled(way), l.Width, l.Dash)
	for _, shape := range l.caps() {
		c.fill(c.scaled(shape))
	}
}

func (c *painter) label(t *Text) {
	key := fontKey{t.Size, t.Bold}
	f := c.faces[key]
	if f == nil {
		var err error
		f, err = opentype.NewFace(faceOf(t.Bold).font, &opentype.FaceOptions{Size: t.Size * c.scale, DPI: 72, Hinting: font.HintingNone})
		if err != nil {
			panic(err) // the fonts are part of the program
		}
		c.faces[key] = f
	}
	at := fixed.Point26_6{X: fixed.Int26_6(t.X * c.scale * 64), Y: fixed.Int26_6(t.Y * c.scale * 64)}
	text := font.Drawer{Dst: c.img, Src: image.NewUniform(c.th.color(t.Fill)), Face: f, Dot: at}
	text.DrawString(t.Text)
}
