package picture

import (
	"bytes"
	"fmt"
	"image/color"
	"math"

	"github.com/fogleman/gg"
	"golang.org/x/image/font"
	"golang.org/x/image/font/opentype"
)

// PNG paints a drawing, each of its pixels as scale pixels.
func PNG(p *Picture, th *Theme, scale float64) ([]byte, error) {
	const most = 20_000 // pixels a side
	width, height := int(math.Ceil(p.Width*scale)), int(math.Ceil(p.Height*scale))
	if width > most || height > most {
		return nil, fmt.Errorf("a PNG of %d by %d pixels is too large", width, height)
	}
	c := &painter{Context: gg.NewContext(width, height), th: th, faces: map[fontKey]font.Face{}, scale: scale}
	c.SetColor(th.color(Ground))
	c.Clear()
	c.Scale(scale, scale)
	c.marks(p.Marks)
	var out bytes.Buffer
	err := c.EncodePNG(&out)
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
	*gg.Context
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
	c.DrawRoundedRectangle(b.X, b.Y, b.W, b.H, b.Round)
	if b.Fill != None {
		c.SetColor(c.th.color(b.Fill))
		c.FillPreserve()
	}
	if b.Stroke != None {
		c.pen(b.Stroke, b.Width, b.Dash)
		c.StrokePreserve()
	}
	c.ClearPath()
}

func (c *painter) pen(r Role, width float64, dash []float64) {
	c.SetColor(c.th.color(r))
	c.SetLineWidth(width * c.scale)
	c.SetLineCapButt()
	scaled := make([]float64, len(dash))
	for i, d := range dash {
		scaled[i] = d * c.scale
	}
	c.SetDash(scaled...)
}

func (c *painter) line(l *Line) {
	if len(l.Points) < 2 {
		return
	}
	c.pen(l.Stroke, l.Width, l.Dash)
	c.MoveTo(l.Points[0].X, l.Points[0].Y)
	for _, t := range l.turns() {
		if t.control != nil {
			c.QuadraticTo(t.control.X, t.control.Y, t.to.X, t.to.Y)
		} else {
			c.LineTo(t.to.X, t.to.Y)
		}
	}
	c.Stroke()
	for _, shape := range l.caps() {
		for i, p := range shape {
			if i == 0 {
				c.MoveTo(p.X, p.Y)
			} else {
				c.LineTo(p.X, p.Y)
			}
		}
		c.ClosePath()
		c.Fill()
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
	c.SetColor(c.th.color(t.Fill))
	c.SetFontFace(f)
	c.Push()
	c.Identity()
	c.DrawString(t.Text, t.X*c.scale, t.Y*c.scale)
	c.Pop()
}
