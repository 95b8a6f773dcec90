package check

import (
	"lien/core/design"
	"testing"
)

func BenchmarkZZ(b *testing.B) {
	text := large(1000)
	b.ReportAllocs()
	for b.Loop() {
		Run(design.Parse("large.lien", text), Options{})
	}
}
