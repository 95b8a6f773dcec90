package picture

import (
	"bytes"
	"time"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// point is the length of a pixel in points, of which an inch has 72.
const point = 0.75

// PDF writes drawings, each on a page of its size.
func PDF(pages []*Picture, th *Theme) ([]byte, error) {
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", OrientationStr: "P", Size: fpdf.SizeType{Wd: 100, Ht: 100}})
	f.SetCatalogSort(true)
	f.SetCreationDate(time.Unix(0, 0).UTC()) // the same design gives the same bytes
	f.SetModificationDate(time.Unix(0, 0).UTC())
	f.SetProducer("Lien", false)
	f.SetAutoPageBreak(false, 0)
	f.AddUTF8FontFromBytes("sans", "", goregular.TTF)
	f.AddUTF8FontFromBytes("sans", "B", gobold.TTF)
	if len(pages) > 0 {
		f.SetTitle(pages[0].Title, true)
	}
	w := &pdfWriter{f, th}
	for _, p := range pages {
		f.AddPageFormat("P", fpdf.SizeType{Wd: p.Width * point, Ht: p.Height * point})
		w.box(&Box{W: p.Width, H: p.Height, Fill: Ground})
		w.marks(p.Marks)
	}
	var out bytes.Buffer
	err := f.Output(&out)
	return out.Bytes(), err
}

type pdfWriter struct {
	*fpdf.Fpdf
	th *Theme
}

func (w *pdfWriter) marks(list []Mark) {
	for _, m := range list {
		switch m := m.(type) {
		case *Group:
			w.marks(m.Marks)
		case *Box:
			w.box(m)
		case *Line:
			w.line(m)
		case *Text:
			w.label(m)
		}
	}
}

func (w *pdfWriter) fill(r Role) {
	c := w.th.color(r)
	w.SetFillColor(int(c.R), int(c.G), int(c.B))
}

func (w *pdfWriter) pen(r Role, width float64, dash []float64) {
	c := w.th.color(r)
	w.SetDrawColor(int(c.R), int(c.G), int(c.B))
	w.SetLineWidth(width * point)
	scaled := make([]float64, len(dash))
	for i, d := range dash {
		scaled[i] = d * point
	}
	w.SetDashPattern(scaled, 0)
}

func (w *pdfWriter) box(b *Box) {
	style := ""
	if b.Fill != None {
		w.fill(b.Fill)
		style = "F"
	}
	if b.Stroke != None {
		w.pen(b.Stroke, b.Width, b.Dash)
		style += "D"
	}
	switch {
	case style == "":
	case b.Round > 0:
		w.RoundedRect(b.X*point, b.Y*point, b.W*point, b.H*point, b.Round*point, "1234", style)
	default:
		w.Rect(b.X*point, b.Y*point, b.W*point, b.H*point, style)
	}
}

func (w *pdfWriter) line(l *Line) {
	if len(l.Points) < 2 {
		return
	}
	w.pen(l.Stroke, l.Width, l.Dash)
	w.MoveTo(l.Points[0].X*point, l.Points[0].Y*point)
	for _, t := range l.turns() {
		if t.control != nil {
			w.CurveTo(t.control.X*point, t.control.Y*point, t.to.X*point, t.to.Y*point)
		} else {
			w.LineTo(t.to.X*point, t.to.Y*point)
		}
	}
	w.DrawPath("D")
	w.fill(l.Stroke)
	for _, shape := range l.caps() {
		points := make([]fpdf.PointType, len(shape))
		for i, p := range shape {
			points[i] = fpdf.PointType{X: p.X * point, Y: p.Y * point}
		}
		w.Polygon(points, "F")
	}
}

func (w *pdfWriter) label(t *Text) {
	style := ""
	if t.Bold {
		style = "B"
	}
	c := w.th.color(t.Fill)
	w.SetTextColor(int(c.R), int(c.G), int(c.B))
	w.SetFont("sans", style, t.Size*point)
	w.Text(t.X*point, t.Y*point, t.Text)
}
