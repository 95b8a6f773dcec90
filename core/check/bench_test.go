package check

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
)

// large writes a design of n components that use each other, about 13 lines
// and 370 bytes each.
func large(n int) string {
	var b strings.Builder
	b.WriteString("type Ware = { id: string, maker: string, kg: number }\n")
	for i := range n {
		fmt.Fprintf(&b, `
// Part %[1]d of the studio's page.
component part-%[1]d {
  takes wares: Ware[]
  holds open: boolean = false
  derives heavy = wares.filter(w => w.kg > %[1]d).length
  emits changed(id: string)

  view {
    section.part {
      .open <- open
      button `+"`Part %[1]d: ${heavy} of ${wares.length}`"+` { click -> open = !open }
      when open && heavy > 0 { each w in wares by w.id { button `+"`${w.maker}`"+` { click -> emit changed(w.id) } } }
    }
%[2]s  }
}
`, i, uses(i, n))
	}
	b.WriteString("\nstart part-0 { wares <- [] }\n")
	return b.String()
}

// uses makes the parts a tree of three branches.
func uses(i, n int) string {
	out := ""
	for j := 3*i + 1; j <= 3*i+3 && j < n; j++ {
		out += fmt.Sprintf("    part-%d { wares <- wares; changed -> forward }\n", j)
	}
	return out
}

func BenchmarkScanAndParse(b *testing.B) {
	text := large(1000)
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		syntax.Parse(source.NewSet().Add("large.lien", text))
	}
}

func BenchmarkPrint(b *testing.B) {
	text := large(1000)
	f := syntax.Parse(source.NewSet().Add("large.lien", text))
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		syntax.Print(f)
	}
}

func BenchmarkCheck(b *testing.B) {
	text := large(1000)
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		Run(design.Parse("large.lien", text), Options{})
	}
}

// TestLarge: the benchmarks' design has no mistake.
func TestLarge(t *testing.T) {
	d := design.Parse("large.lien", large(40))
	for _, f := range Run(d, Options{}) {
		t.Errorf("%s: %s [%s]", d.Set.Position(f.Span.Start), f.Message, f.Rule)
	}
}
