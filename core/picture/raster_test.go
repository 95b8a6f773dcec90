package picture

import (
	"image/color"
	"math"
	"testing"
)

// covered is how many pixels are painted, those at the edges in part.
func covered(r *raster) (sum float64) {
	for i := 3; i < len(r.img.Pix); i += 4 {
		sum += float64(r.img.Pix[i]) / 255
	}
	return sum
}

// TestRaster: what is painted covers as much as geometry says.
func TestRaster(t *testing.T) {
	circle := arc(nil, Point{50, 50}, 30, 0, 2*math.Pi)
	rect := outline(20, 20, 60, 40, 0)
	round := outline(20, 20, 60, 40, 10)
	for _, test := range []struct {
		name  string
		paint func(r *raster)
		want  float64
	}{
		{"a rectangle", func(r *raster) { r.fill(rect) }, 60 * 40},
		{"the other way round", func(r *raster) { r.fill([]Point{rect[3], rect[2], rect[1], rect[0]}) }, 60 * 40},
		{"round corners", func(r *raster) { r.fill(round) }, 60*40 - (4-math.Pi)*100},
		{"two that overlap", func(r *raster) { r.fill(rect, []Point{rect[3], rect[2], rect[1], rect[0]}) }, 60 * 40},
		{"partly outside", func(r *raster) { r.fill(outline(-50, 0, 60, 10, 0)) }, 100},
		{"a circle", func(r *raster) { r.fill(circle) }, math.Pi * 900},
		{"a line", func(r *raster) { r.stroke([]Point{{10, 10}, {90, 10}}, 3, nil) }, 240},
		{"a slanted line", func(r *raster) { r.stroke([]Point{{10, 10}, {70, 90}}, 2, nil) }, 200},
		{"a line with a corner", func(r *raster) { r.stroke([]Point{{10, 10}, {60, 10}, {60, 60}}, 2, nil) }, 200},
		{"dashes", func(r *raster) { r.stroke([]Point{{10, 10}, {70, 10}}, 2, []float64{6, 4}) }, 72},
		{"dashes around a corner", func(r *raster) { r.stroke([]Point{{10, 10}, {43, 10}, {43, 37}}, 2, []float64{6, 4}) }, 72},
		{"a closed line", func(r *raster) { r.stroke(append(rect, rect[0]), 2, nil) }, 2 * 200},
		{"a closed line around", func(r *raster) { r.stroke(circle, 2, nil) }, 2 * 2 * math.Pi * 30},
		{"no length", func(r *raster) { r.stroke([]Point{{10, 10}, {10, 10}}, 2, nil) }, 0},
		{"dashes of no length", func(r *raster) { r.stroke([]Point{{10, 10}, {20, 10}}, 2, []float64{0, 0}) }, 20},
	} {
		r := newRaster(100, 100)
		r.color(color.Black)
		test.paint(r)
		if got := covered(r); math.Abs(got-test.want) > 1+test.want*0.02 {
			t.Errorf("%s covers %.1f pixels, want %.1f", test.name, got, test.want)
		}
	}
}
