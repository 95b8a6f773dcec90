package picture

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"image/color"
	"image/png"
	"io"
	"math"
	"strings"
	"testing"

	"golang.org/x/image/font"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
)

// sample has a mark of every kind.
func sample() *Picture {
	return &Picture{Width: 200, Height: 100, Title: "A shelf & its \"wares\"", Desc: "Two <boxes>", Marks: []Mark{
		&Box{X: 10, Y: 10, W: 60, H: 30, Round: 4, Fill: Card, Stroke: Edge, Width: 2, Solid: true},
		&Group{Title: "from <bowl>", Marks: []Mark{
			&Line{Points: []Point{{70, 25}, {100, 25}, {100, 75}, {130, 75}}, Stroke: Down, Width: 2, Dash: []float64{4, 2}, Start: Dot, End: Arrow},
			&Line{Points: []Point{{10, 90}, {190, 90}}, Stroke: Context, Width: 1, Start: Diamond},
			&Line{Points: []Point{{1, 1}}, Stroke: Down, Width: 1},
		}},
		&Box{X: 130, Y: 60, W: 60, H: 30, Fill: HoldGround},
		NewText(14, 28, 12, true, Hold, "wares: Ware[]", 50),
		NewText(134, 78, 12, false, Ink, "ぶ & <b>", 50),
	}}
}

func TestSVG(t *testing.T) {
	text := string(SVG(sample(), Light))
	dec := xml.NewDecoder(strings.NewReader(text))
	count := map[string]int{}
	for {
		tok, err := dec.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			t.Fatal(err)
		}
		if e, ok := tok.(xml.StartElement); ok {
			count[e.Name.Local]++
		}
	}
	// the ground and two boxes; two lines and three ends of lines; the titles of picture, group and shortened text
	for tag, want := range map[string]int{"rect": 3, "path": 5, "text": 2, "title": 3, "desc": 1, "g": 1, "style": 1} {
		if count[tag] != want {
			t.Errorf("%d of <%s>, want %d", count[tag], tag, want)
		}
	}
	for _, want := range []string{"A shelf &amp; its", "Two &lt;boxes&gt;", "<title>wares: Ware[]</title>", `textLength="`, `stroke-dasharray="4 2"`, "0d5c45", "Q100 25"} {
		if !strings.Contains(text, want) {
			t.Errorf("there is no %s in\n%s", want, text)
		}
	}
}

func TestInlineTakesColoursFromThePage(t *testing.T) {
	text := Inline(sample(), "one")
	if strings.Contains(text, `"#`) || strings.Contains(text, "<style") || !strings.Contains(text, `aria-labelledby="one-title one-desc"`) || !strings.Contains(text, `<title id="one-title">`) {
		t.Errorf("inline it is\n%s", text)
	}
	sheet := StyleSheet([]*Picture{sample()})
	for _, want := range []string{"prefers-color-scheme:dark", "@media print", ".f-hold{fill:var(--hold)}", "--ink:#1b2420", "font-weight:700;src:url(data:font/ttf;base64,"} {
		if !strings.Contains(sheet, want) {
			t.Errorf("the style sheet has no %s", want)
		}
	}
}

// The pixels of a PNG are those of the marks, at every scale.
func TestPNG(t *testing.T) {
	for _, th := range Themes {
		for _, scale := range []float64{1, 2.5} {
			data, err := PNG(sample(), th, scale)
			if err != nil {
				t.Fatal(err)
			}
			img, err := png.Decode(bytes.NewReader(data))
			if err != nil {
				t.Fatal(err)
			}
			if b := img.Bounds(); b.Dx() != int(200*scale) || b.Dy() != int(100*scale) {
				t.Errorf("%s at %v: it is %v", th.Name, scale, b)
			}
			for _, p := range []struct {
				x, y float64
				role Role
			}{{5, 5, Ground}, {65, 36, Card}, {185, 65, HoldGround}, {100, 60.5, Down}, {110, 90, Context}} {
				got := color.RGBAModel.Convert(img.At(int(p.x*scale), int(p.y*scale))).(color.RGBA)
				if want := th.color(p.role); far(got, want) > 90 && p.role != Context { // a thin line is mixed with the ground
					t.Errorf("%s at %v: at %v, %v is %v, want the colour of %s, %v", th.Name, scale, p.x, p.y, got, roleNames[p.role], want)
				}
			}
		}
	}
	if _, err := PNG(&Picture{Width: 1e6, Height: 10}, Light, 1); err == nil {
		t.Error("a picture of a million pixels is no error")
	}
}

func far(a, b color.RGBA) int {
	d := func(x, y uint8) int { return max(int(x)-int(y), int(y)-int(x)) }
	return d(a.R, b.R) + d(a.G, b.G) + d(a.B, b.B)
}

func TestPDF(t *testing.T) {
	data, err := PDF([]*Picture{sample(), sample(), sample()}, Print)
	if err != nil {
		t.Fatal(err)
	}
	if n := bytes.Count(data, []byte("/Type /Page\n")); n != 3 || !bytes.HasPrefix(data, []byte("%PDF-")) || !bytes.Contains(data, []byte("/MediaBox [0 0 150.00 75.00]")) {
		t.Errorf("it has %d pages:\n%.400s", n, data)
	}
}

// Every text can be read: WCAG 2.2, success criterion 1.4.3, asks for a
// contrast of 4.5 to 1; lines need 3 to 1 (1.4.11).
func TestContrast(t *testing.T) {
	for _, th := range Themes {
		for _, fill := range []Role{Ground, Card, Head} {
			for _, ink := range []Role{Ink, Soft} {
				if c := contrast(th.color(ink), th.color(fill)); c < 4.5 {
					t.Errorf("%s: %s on %s has a contrast of %.1f", th.Name, roleNames[ink], roleNames[fill], c)
				}
			}
		}
		if c := contrast(th.color(Hold), th.color(HoldGround)); c < 4.5 {
			t.Errorf("%s: what is held has a contrast of %.1f", th.Name, c)
		}
		for _, line := range []Role{Down, Up, Tie, Context, Call, Message} {
			if c := contrast(th.color(line), th.color(Ground)); c < 3 {
				t.Errorf("%s: lines of %s have a contrast of %.1f", th.Name, roleNames[line], c)
			}
		}
	}
}

// contrast is that of WCAG 2.2, between 1 and 21.
func contrast(a, b color.RGBA) float64 {
	light := func(c color.RGBA) float64 {
		part := func(v uint8) float64 {
			x := float64(v) / 255
			if x <= 0.04045 {
				return x / 12.92
			}
			return math.Pow((x+0.055)/1.055, 2.4)
		}
		return 0.2126*part(c.R) + 0.7152*part(c.G) + 0.0722*part(c.B)
	}
	x, y := light(a), light(b)
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}

func TestShorten(t *testing.T) {
	for _, test := range []struct {
		text  string
		width float64
		want  string
	}{
		{"wares", 100, "wares"},
		{"", 0, ""},
		{"waiting-wares-of-the-big-kiln", 90, "waiting-…-kiln"},
		{"wares", 0, "…"},
	} {
		got := Shorten(test.text, 12, false, test.width)
		if got != test.want {
			t.Errorf("%q in %v pixels is %q, want %q", test.text, test.width, got, test.want)
		}
		if w := Width(got, 12, false); w > test.width && got != "…" {
			t.Errorf("%q is %v wide, more than %v", got, w, test.width)
		}
	}
	for width := 10.0; width < 300; width += 7 {
		if got := Shorten("every ware that anybody has put on any shelf so far", 13, true, width); Width(got, 13, true) > width && got != "…" {
			t.Errorf("%q is wider than %v", got, width)
		}
	}
}

// A font with fewer outlines is a font, and its letters are as wide as before.
func TestSubset(t *testing.T) {
	for i, f := range faces {
		runes := map[rune]bool{}
		for _, r := range "wares: Ware[] → ←…ÄÖüé" {
			runes[r] = true
		}
		data := f.subset(runes)
		if len(data) > len(f.data)/4 {
			t.Errorf("%d of %d bytes are left", len(data), len(f.data))
		}
		small, err := sfnt.Parse(data)
		if err != nil {
			t.Fatal(err)
		}
		var buf sfnt.Buffer
		for r := range runes {
			at, err := small.GlyphIndex(&buf, r)
			if err != nil || at == 0 {
				t.Fatalf("font %d has no %q: %v", i, r, err)
			}
			advance, err := small.GlyphAdvance(&buf, at, fixed.I(1000), font.HintingNone)
			if err != nil || math.Abs(float64(advance)/64-f.width(r)) > 0.5 {
				t.Errorf("%q is %v wide, it was %v (%v)", r, float64(advance)/64, f.width(r), err)
			}
			was, err1 := f.font.LoadGlyph(&sfnt.Buffer{}, at, fixed.I(100), nil)
			is, err2 := small.LoadGlyph(&sfnt.Buffer{}, at, fixed.I(100), nil)
			if err1 != nil || err2 != nil || fmt.Sprint(was) != fmt.Sprint(is) {
				t.Errorf("%q has another outline: %v, %v", r, err1, err2)
			}
		}
		other, _ := small.GlyphIndex(&buf, 'Q')
		if outline, _ := small.LoadGlyph(&buf, other, fixed.I(100), nil); len(outline) > 0 {
			t.Error("a letter that is not used has an outline")
		}
	}
}

func TestLinesTurn(t *testing.T) {
	l := &Line{Points: []Point{{0, 0}, {50, 0}, {50, 6}, {100, 6}}, End: Arrow, Start: Diamond}
	turns := l.turns()
	if len(turns) != 5 || turns[0].to != (Point{45, 0}) || turns[1].to != (Point{50, 3}) || turns[1].control == nil || turns[4].to != (Point{100, 6}) {
		t.Errorf("the line turns at %v", turns)
	}
	caps := l.caps()
	if len(caps) != 2 || caps[0][0] != (Point{0, 0}) || caps[1][0] != (Point{100, 6}) || caps[1][1].X != 93 {
		t.Errorf("its ends are %v", caps)
	}
	if same := (&Line{Points: []Point{{1, 1}, {1, 1}}, End: Arrow}).caps(); len(same) > 0 {
		t.Errorf("a line without a length ends in %v", same)
	}
}

func BenchmarkSVG(b *testing.B) {
	p := sample()
	for b.Loop() {
		SVG(p, Light)
	}
}

// TestPDFObjects: every object stands where the document says that it does.
func TestPDFObjects(t *testing.T) {
	data, err := PDF([]*Picture{sample(), sample()}, Light)
	if err != nil {
		t.Fatal(err)
	}
	start := bytes.LastIndex(data, []byte("startxref\n"))
	var at, count int
	fmt.Sscanf(string(data[start:]), "startxref\n%d", &at)
	fmt.Sscanf(string(data[at:]), "xref\n0 %d", &count)
	if count != firstFont+perFont*2+perPage*2 {
		t.Fatalf("it has %d objects", count)
	}
	lines := strings.Split(string(data[at:start]), "\n")[3:]
	for i := 1; i < count; i++ {
		var place int
		fmt.Sscanf(lines[i-1], "%d", &place)
		if want := fmt.Sprintf("%d 0 obj\n", i); !bytes.HasPrefix(data[place:], []byte(want)) {
			t.Errorf("object %d is not at %d", i, place)
		}
	}
	again, _ := PDF([]*Picture{sample(), sample()}, Light)
	if !bytes.Equal(data, again) {
		t.Error("it has other bytes the second time")
	}
}
