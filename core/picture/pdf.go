package picture

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf16"

	"golang.org/x/image/font/sfnt"
)

// point is the length of a pixel in points, of which an inch has 72.
const point = 0.75

// PDF writes drawings, each on a page of its size (ISO 32000-1). The same drawings give the same bytes.
func PDF(pages []*Picture, th *Theme) ([]byte, error) {
	w := &pdfWriter{th: th}
	for i := range w.used {
		w.used[i] = map[rune]bool{}
	}
	var contents [][]byte
	for _, p := range pages {
		w.page.Reset()
		fmt.Fprintf(&w.page, "%s 0 0 -%[1]s 0 %s cm\n", short(point), short(p.Height*point)) // y grows downwards
		w.box(&Box{W: p.Width, H: p.Height, Fill: Ground})
		w.marks(p.Marks)
		contents = append(contents, slices.Clone(w.page.Bytes()))
	}
	return w.document(pages, contents), nil
}

// pdfWriter writes the contents of pages, and notes which letters of which face they have.
type pdfWriter struct {
	th   *Theme
	page bytes.Buffer
	used [len(faces)]map[rune]bool
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

// short is a number with two places at most.
func short(x float64) string {
	s := strings.TrimRight(strings.TrimRight(fmt.Sprintf("%.2f", x), "0"), ".")
	if s == "-0" || s == "" {
		return "0"
	}
	return s
}

// op writes an operator behind its numbers.
func (w *pdfWriter) op(name string, numbers ...float64) {
	for _, n := range numbers {
		w.page.WriteString(short(n) + " ")
	}
	w.page.WriteString(name + "\n")
}

// color sets the colour of fills, rg, or of lines, RG.
func (w *pdfWriter) color(op string, r Role) {
	c := w.th.color(r)
	fmt.Fprintf(&w.page, "%.3f %.3f %.3f %s\n", float64(c.R)/255, float64(c.G)/255, float64(c.B)/255, op)
}

func (w *pdfWriter) pen(r Role, width float64, dash []float64) {
	w.color("RG", r)
	w.op("w", width)
	parts := make([]string, len(dash))
	for i, d := range dash {
		parts[i] = short(d)
	}
	fmt.Fprintf(&w.page, "[%s] 0 d\n", strings.Join(parts, " "))
}

func (w *pdfWriter) box(b *Box) {
	paint := map[[2]bool]string{{true, false}: "f", {false, true}: "s", {true, true}: "b"}[[2]bool{b.Fill != None, b.Stroke != None}]
	if paint == "" {
		return
	}
	if b.Fill != None {
		w.color("rg", b.Fill)
	}
	if b.Stroke != None {
		w.pen(b.Stroke, b.Width, b.Dash)
	}
	w.outline(b)
	w.page.WriteString(paint + "\n")
}

// arcControl is how far the controls of a quarter of a circle lie from its ends, in radii.
const arcControl = 0.5523

func (w *pdfWriter) outline(b *Box) {
	r := min(b.Round, b.W/2, b.H/2)
	if r <= 0 {
		w.op("re", b.X, b.Y, b.W, b.H)
		return
	}
	x, y, right, low, k := b.X, b.Y, b.X+b.W, b.Y+b.H, r*(1-arcControl)
	w.op("m", x+r, y)
	w.op("l", right-r, y)
	w.op("c", right-k, y, right, y+k, right, y+r)
	w.op("l", right, low-r)
	w.op("c", right, low-k, right-k, low, right-r, low)
	w.op("l", x+r, low)
	w.op("c", x+k, low, x, low-k, x, low-r)
	w.op("l", x, y+r)
	w.op("c", x, y+k, x+k, y, x+r, y)
}

func (w *pdfWriter) line(l *Line) {
	if len(l.Points) < 2 {
		return
	}
	w.pen(l.Stroke, l.Width, l.Dash)
	at := l.Points[0]
	w.op("m", at.X, at.Y)
	for _, t := range l.turns() {
		if c := t.control; c != nil { // a quadratic curve as a cubic one
			w.op("c", at.X+(c.X-at.X)*2/3, at.Y+(c.Y-at.Y)*2/3, t.to.X+(c.X-t.to.X)*2/3, t.to.Y+(c.Y-t.to.Y)*2/3, t.to.X, t.to.Y)
		} else {
			w.op("l", t.to.X, t.to.Y)
		}
		at = t.to
	}
	w.page.WriteString("S\n")
	w.color("rg", l.Stroke)
	for _, shape := range l.caps() {
		for i, p := range shape {
			w.op([]string{"m", "l"}[min(i, 1)], p.X, p.Y)
		}
		w.page.WriteString("f\n")
	}
}

func (w *pdfWriter) label(t *Text) {
	n := 0
	if t.Bold {
		n = 1
	}
	w.color("rg", t.Fill)
	var glyphs strings.Builder
	for _, r := range t.Text {
		w.used[n][r] = true
		fmt.Fprintf(&glyphs, "%04X", faces[n].glyph(r))
	}
	fmt.Fprintf(&w.page, "BT /F%d 1 Tf %s 0 0 -%[2]s %s %s Tm <%s> Tj ET\n", n, short(t.Size), short(t.X), short(t.Y), glyphs.String())
}

// glyph is the number of a rune's glyph.
func (f *face) glyph(r rune) sfnt.GlyphIndex {
	f.mu.Lock()
	defer f.mu.Unlock()
	at, _ := f.font.GlyphIndex(&f.buf, r)
	return at
}

// The objects of a document stand in this order: catalog, pages, information, then those of each
// face, then those of each page.
const (
	catalogObject = 1 + iota
	pagesObject
	infoObject
	firstFont
	perFont = 5 // the font, its glyphs, their measures, their outlines, their letters
	perPage = 2 // the page, what is on it
)

// document puts the objects together.
func (w *pdfWriter) document(pages []*Picture, contents [][]byte) []byte {
	firstPage := firstFont + perFont*len(faces)
	var kids []string
	for i := range pages {
		kids = append(kids, fmt.Sprintf("%d 0 R", firstPage+i*perPage))
	}
	title := ""
	if len(pages) > 0 {
		title = pages[0].Title
	}
	d := &objects{}
	d.out.WriteString("%PDF-1.7\n%\xe2\xe3\xcf\xd3\n")
	d.add(fmt.Sprintf("<< /Type /Catalog /Pages %d 0 R >>", pagesObject))
	d.add(fmt.Sprintf("<< /Type /Pages /Kids [%s] /Count %d >>", strings.Join(kids, " "), len(pages)))
	d.add(fmt.Sprintf("<< /Title %s /Producer (Lien) >>", utf16Text(title)))
	for n := range faces {
		w.font(d, n, firstFont+perFont*n)
	}
	for i, p := range pages {
		d.add(fmt.Sprintf("<< /Type /Page\n/Parent %d 0 R /MediaBox [0 0 %.2f %.2f] /Resources << /Font << /F0 %d 0 R /F1 %d 0 R >> >> /Contents %d 0 R >>",
			pagesObject, p.Width*point, p.Height*point, firstFont, firstFont+perFont, firstPage+i*perPage+1))
		d.stream("", contents[i])
	}
	return d.end()
}

// font writes a face with the glyphs that are used (ISO 32000-1, 9.7, composite fonts).
func (w *pdfWriter) font(d *objects, n, first int) {
	f := faces[n]
	name := []string{"LIENAA+Sans", "LIENAB+Sans-Bold"}[n]
	tables := tablesOf(f.data)
	unit := 1000 / float64(binary.BigEndian.Uint16(tables["head"][18:]))
	scaled := func(table string, at int) int {
		return int(float64(int16(binary.BigEndian.Uint16(tables[table][at:]))) * unit)
	}
	var widths, letters []string
	for _, r := range slices.Sorted(maps.Keys(w.used[n])) {
		widths = append(widths, fmt.Sprintf("%d [%s]", f.glyph(r), short(f.width(r))))
		letters = append(letters, fmt.Sprintf("<%04X> <%s>", f.glyph(r), strings.Trim(utf16Text(string(r)), "<>")[4:]))
	}
	d.add(fmt.Sprintf("<< /Type /Font /Subtype /Type0 /BaseFont /%s /Encoding /Identity-H /DescendantFonts [%d 0 R] /ToUnicode %d 0 R >>", name, first+1, first+4))
	d.add(fmt.Sprintf("<< /Type /Font /Subtype /CIDFontType2 /BaseFont /%s /CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >> /FontDescriptor %d 0 R /CIDToGIDMap /Identity /DW 600 /W [%s] >>",
		name, first+2, strings.Join(widths, " ")))
	ascent := scaled("hhea", 4)
	d.add(fmt.Sprintf("<< /Type /FontDescriptor /FontName /%s /Flags 32 /FontBBox [%d %d %d %d] /ItalicAngle 0 /Ascent %d /Descent %d /CapHeight %d /StemV %d /FontFile2 %d 0 R >>",
		name, scaled("head", 36), scaled("head", 38), scaled("head", 40), scaled("head", 42), ascent, scaled("hhea", 6), ascent, 80+60*n, first+3))
	outlines := f.subset(w.used[n])
	d.stream(fmt.Sprintf("/Length1 %d ", len(outlines)), outlines)
	d.stream("", []byte(toUnicode(letters)))
}

// toUnicode tells which letters glyphs stand for, so that a text can be searched and copied.
func toUnicode(letters []string) string {
	var out strings.Builder
	out.WriteString("/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n/CMapName /Letters def\n/CMapType 2 def\n1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange\n")
	for part := range slices.Chunk(letters, 100) {
		fmt.Fprintf(&out, "%d beginbfchar\n%s\nendbfchar\n", len(part), strings.Join(part, "\n"))
	}
	out.WriteString("endcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n")
	return out.String()
}

// utf16Text is a text as the information of a document has it.
func utf16Text(s string) string {
	var out strings.Builder
	out.WriteString("<FEFF")
	for _, u := range utf16.Encode([]rune(s)) {
		fmt.Fprintf(&out, "%04X", u)
	}
	return out.String() + ">"
}

// objects are those of a document so far.
type objects struct {
	out bytes.Buffer
	at  []int
}

func (d *objects) add(text string) {
	d.at = append(d.at, d.out.Len())
	fmt.Fprintf(&d.out, "%d 0 obj\n%s\nendobj\n", len(d.at), text)
}

// stream adds data, compressed.
func (d *objects) stream(more string, data []byte) {
	var packed bytes.Buffer
	z := zlib.NewWriter(&packed)
	z.Write(data)
	z.Close()
	d.add(fmt.Sprintf("<< %s/Filter /FlateDecode /Length %d >>\nstream\n%s\nendstream", more, packed.Len(), packed.String()))
}

// end writes where the objects stand.
func (d *objects) end() []byte {
	start := d.out.Len()
	fmt.Fprintf(&d.out, "xref\n0 %d\n0000000000 65535 f \n", len(d.at)+1)
	for _, at := range d.at {
		fmt.Fprintf(&d.out, "%010d 00000 n \n", at)
	}
	fmt.Fprintf(&d.out, "trailer\n<< /Size %d /Root %d 0 R /Info %d 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(d.at)+1, catalogObject, infoObject, start)
	return d.out.Bytes()
}
