package draw

import (
	"fmt"
	"strings"
	"testing"
	"testing/fstest"

	"lien/core/design"
)

var nouns = []string{"shelf", "kiln", "glaze", "ware", "firing", "member", "clay", "cone", "rack", "booking", "log", "wheel"}
var sorts = []string{"page", "panel", "list", "row", "button", "badge"}

// studioOf writes a design of n components: each uses up to four others, hands
// values down to them, ties one, hears another, and some reach a context.
func studioOf(n int) string {
	var b strings.Builder
	b.WriteString("context studio {\n  holds said: string = \"\"\n  action say(text: string) { said = text }\n}\n")
	name := func(i int) string {
		return fmt.Sprintf("%s-%s%d", nouns[i%len(nouns)], sorts[min(5, depth(i))], i)
	}
	for i := range n {
		fmt.Fprintf(&b, "component %s {\n", name(i))
		if i > 0 {
			b.WriteString("  takes label: string\n  takes count: number\n")
		}
		b.WriteString("  emits pick(id: string)\n")
		if i%3 != 2 {
			b.WriteString("  shares open: boolean = false\n")
		}
		if i%4 == 0 {
			fmt.Fprintf(&b, "  holds chosen: string? = null\n  holds total%d: number = 0\n", i)
		}
		if i == 0 {
			b.WriteString("  supplies studio as desk\n  const label = \"desk\"\n  const count = 1\n")
		} else if i%7 == 3 {
			b.WriteString("  uses studio\n")
		}
		b.WriteString("  view {\n    p `${label} ${count}`\n")
		if i%7 == 3 {
			b.WriteString("    p `${studio.said}`\n")
		}
		for k := 4*i + 1; k <= 4*i+4 && k < n; k++ {
			fmt.Fprintf(&b, "    %s { label <- label; count <- count", name(k))
			if k%3 != 2 && i%3 != 2 {
				b.WriteString("; open <-> open")
			}
			if i%4 == 0 {
				fmt.Fprintf(&b, "; pick(id) -> { chosen = id; total%d += 1 }", i)
			} else {
				b.WriteString("; pick -> forward")
			}
			b.WriteString(" }\n")
		}
		b.WriteString("    button \"pick\" { click -> emit pick(label) }\n  }\n}\n")
	}
	fmt.Fprintf(&b, "start %s\n", name(0))
	return b.String()
}

func depth(i int) int {
	d := 0
	for ; i > 0; i = (i - 1) / 4 {
		d++
	}
	return d
}

func loaded(t testing.TB, text string) *design.Design {
	t.Helper()
	d, err := design.Load(fstest.MapFS{"d.lien": {Data: []byte(text)}}, "d.lien", func(s string) string { return s })
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func clean(t testing.TB, text string) *design.Design {
	t.Helper()
	d := loaded(t, text)
	for _, f := range d.Findings {
		t.Errorf("%s: %s", d.Set.Position(f.Span.Start), f.Message)
	}
	return d
}
