package picture

import (
	"encoding/base64"
	"fmt"
	"html"
	"math"
	"strconv"
	"strings"

	"lien/core/source"
)

// SVG writes a drawing as a file of its own (SVG 1.1), its fonts in it.
func SVG(p *Picture, th *Theme) []byte {
	w := &svgWriter{used: [2]map[rune]bool{{}, {}}}
	w.open(p, "")
	body := &svgWriter{used: w.used}
	body.marks(p.Marks)
	w.text("<style>\n")
	for r := Ground; r < roles; r++ {
		w.textf(".f-%s{fill:%s}.s-%s{stroke:%s}\n", roleNames[r], th.Colors[r], roleNames[r], th.Colors[r])
	}
	w.text("text{font-family:'Lien Sans',sans-serif;white-space:pre}\n.b{font-weight:700}\n")
	for i, used := range w.used {
		if len(used) > 0 {
			w.textf("@font-face{font-family:'Lien Sans';font-weight:%d;src:url(data:font/ttf;base64,%s)}\n",
				400+300*i, base64.StdEncoding.EncodeToString(faces[i].subset(used)))
		}
	}
	w.text("</style>\n")
	w.WriteString(body.String())
	w.text("</svg>\n")
	return []byte(w.String())
}

// Inline writes a drawing as an element of an HTML page, which brings colours
// and fonts (StyleSheet). The id has to be the page's only one.
func Inline(p *Picture, id string) string {
	w := &svgWriter{used: [2]map[rune]bool{{}, {}}}
	w.open(p, id)
	w.marks(p.Marks)
	w.text("</svg>\n")
	return w.String()
}

// StyleSheet is what a page needs for the drawings in it: the reader's
// setting chooses between light and dark.
func StyleSheet(pictures []*Picture) string {
	var b strings.Builder
	for _, th := range []*Theme{Light, Dark, Print} {
		b.WriteString(map[*Theme]string{Light: ":root{", Dark: "@media (prefers-color-scheme:dark){:root{", Print: "@media print{:root{"}[th])
		for r := Ground; r < roles; r++ {
			fmt.Fprintf(&b, "--%s:%s;", roleNames[r], th.Colors[r])
		}
		b.WriteString(map[*Theme]string{Light: "}\n", Dark: "}}\n", Print: "}}\n"}[th])
	}
	for r := Ground; r < roles; r++ {
		fmt.Fprintf(&b, ".f-%s{fill:var(--%[1]s)}.s-%[1]s{stroke:var(--%[1]s)}\n", roleNames[r])
	}
	b.WriteString("svg text{font-family:'Lien Sans',sans-serif;white-space:pre}\nsvg .b{font-weight:700}\n")
	w := &svgWriter{used: [2]map[rune]bool{{}, {}}}
	for _, p := range pictures {
		w.marks(p.Marks)
	}
	for i, used := range w.used {
		fmt.Fprintf(&b, "@font-face{font-family:'Lien Sans';font-weight:%d;src:url(data:font/ttf;base64,%s)}\n",
			400+300*i, base64.StdEncoding.EncodeToString(faces[i].subset(used)))
	}
	return b.String()
}

type svgWriter struct {
	strings.Builder
	used [2]map[rune]bool // of each font
}

func (w *svgWriter) text(s string)                 { w.WriteString(s) }
func (w *svgWriter) textf(format string, a ...any) { fmt.Fprintf(w, format, a...) }
func (w *svgWriter) attr(name string, v float64)   { w.textf(` %s="%s"`, name, num(v)) }
func (w *svgWriter) class(names ...string)         { w.textf(` class="%s"`, strings.Join(names, " ")) }
func (w *svgWriter) element(tag, text string) {
	w.textf("<%s>%s</%[1]s>\n", tag, escaped(text))
}

func (w *svgWriter) open(p *Picture, id string) {
	title, desc := "title", "desc"
	if id != "" {
		title, desc = id+"-title", id+"-desc"
	}
	w.textf(`<svg xmlns="http://www.w3.org/2000/svg" width="%s" height="%s" viewBox="0 0 %[1]s %[2]s" role="img" aria-labelledby="%s %s">`+"\n",
		num(p.Width), num(p.Height), title, desc)
	w.textf("<title id=\"%s\">%s</title>\n<desc id=\"%s\">%s</desc>\n", title, escaped(p.Title), desc, escaped(p.Desc))
	w.textf("<rect width=\"%s\" height=\"%s\" class=\"f-ground\"/>\n", num(p.Width), num(p.Height))
}

// num writes a length with at most two digits after the point.
func num(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64) }

func (w *svgWriter) marks(list []Mark) {
	for _, m := range list {
		switch m := m.(type) {
		case *Group:
			w.text("<g>")
			if m.Title != "" {
				w.element("title", m.Title)
			}
			w.marks(m.Marks)
			w.text("</g>\n")
		case *Box:
			w.box(m)
		case *Line:
			w.line(m)
		case *Text:
			w.label(m)
		}
	}
}

func (w *svgWriter) paint(fill, stroke Role, width float64, dash []float64) {
	classes := []string{}
	if fill != None {
		classes = append(classes, "f-"+roleNames[fill])
	} else {
		w.text(` fill="none"`)
	}
	if stroke != None {
		classes = append(classes, "s-"+roleNames[stroke])
		w.attr("stroke-width", width)
	}
	if len(dash) > 0 {
		parts := make([]string, len(dash))
		for i, d := range dash {
			parts[i] = num(d)
		}
		w.textf(` stroke-dasharray="%s"`, strings.Join(parts, " "))
	}
	if len(classes) > 0 {
		w.class(classes...)
	}
}

func (w *svgWriter) box(b *Box) {
	w.text("<rect")
	w.attr("x", b.X)
	w.attr("y", b.Y)
	w.attr("width", b.W)
	w.attr("height", b.H)
	if b.Round > 0 {
		w.attr("rx", b.Round)
	}
	w.paint(b.Fill, b.Stroke, b.Width, b.Dash)
	w.text("/>\n")
}

func (w *svgWriter) line(l *Line) {
	if len(l.Points) < 2 {
		return
	}
	w.textf(`<path d="M%s %s`, num(l.Points[0].X), num(l.Points[0].Y))
	for _, t := range l.turns() {
		if t.control != nil {
			w.textf("Q%s %s %s %s", num(t.control.X), num(t.control.Y), num(t.to.X), num(t.to.Y))
		} else {
			w.textf("L%s %s", num(t.to.X), num(t.to.Y))
		}
	}
	w.text(`"`)
	w.paint(None, l.Stroke, l.Width, l.Dash)
	w.text("/>\n")
	for _, c := range l.caps() {
		w.text(`<path d="M`)
		for i, p := range c {
			if i > 0 {
				w.text("L")
			}
			w.textf("%s %s", num(p.X), num(p.Y))
		}
		w.text(`Z"`)
		w.class("f-" + roleNames[l.Stroke])
		w.text("/>\n")
	}
}

func (w *svgWriter) label(t *Text) {
	w.text("<text")
	w.attr("x", t.X)
	w.attr("y", t.Y)
	w.attr("font-size", t.Size)
	classes := []string{"f-" + roleNames[t.Fill]}
	which := 0
	if t.Bold {
		classes, which = append(classes, "b"), 1
	}
	w.class(classes...)
	if w.note(which, t.Text) { // another font gives what this one lacks, at this width
		w.attr("textLength", Width(t.Text, t.Size, t.Bold))
		w.text(` lengthAdjust="spacingAndGlyphs"`)
	}
	w.text(">")
	if t.Whole != "" {
		w.textf("<title>%s</title>", escaped(t.Whole))
	}
	w.textf("%s</text>\n", escaped(t.Text))
}

// note notes which runes are used, and says whether the font lacks one.
func (w *svgWriter) note(which int, s string) bool {
	lacks := false
	f := faces[which]
	for _, r := range s {
		w.used[which][r] = true
		f.width(r)
		lacks = lacks || f.lacks[r]
	}
	return lacks
}

// escaped is a text in the XML of a picture, where control characters have no place.
func escaped(s string) string { return html.EscapeString(source.Visible(s)) }
