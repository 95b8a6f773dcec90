package report

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/prove"
	"lien/core/source"
	"lien/core/story"
	"lien/core/syntax"
)

// pieces are the tokens of a design, with the blanks between them.
var pieces = regexp.MustCompile(`\s+|//[^\n]*|[A-Za-z_][\w-]*|\d+|"[^"\n]*"|<->|<-|->|=>|[=!<>]=|&&|\|\||\?\?|.`)

// corpus is the texts of the examples and of the demo.
func corpus(tb testing.TB) []string {
	tb.Helper()
	var texts []string
	for _, pattern := range []string{"../../examples/*.lien", "../../examples/*/*.lien", "../../demo/kiln-room/*.lien", "../prove/testdata/verdicts/*.lien"} {
		names, err := filepath.Glob(pattern)
		if err != nil {
			tb.Fatal(err)
		}
		for _, name := range names {
			text, err := os.ReadFile(name)
			if err != nil {
				tb.Fatal(err)
			}
			texts = append(texts, string(text))
		}
	}
	if len(texts) < 10 {
		tb.Fatalf("there are %d texts to begin with", len(texts))
	}
	return texts
}

// mutated is one of the texts with tokens left out, doubled, exchanged, and replaced by
// others, of this text or another.
func mutated(texts []string, changes []byte) string {
	next := func() int {
		if len(changes) < 2 {
			return 0
		}
		n := int(changes[0])<<8 | int(changes[1])
		changes = changes[2:]
		return n
	}
	list := pieces.FindAllString(texts[next()%len(texts)], -1)
	for len(changes) >= 4 && len(list) > 1 {
		kind, at := next(), next()%len(list)
		switch other := next() % len(list); kind % 6 {
		case 0:
			list = append(list[:at:at], list[at+1:]...)
		case 1:
			list = append(list[:at:at], append([]string{list[at]}, list[at:]...)...)
		case 2:
			list[at], list[other] = list[other], list[at]
		case 3:
			list[at] = list[other]
		case 4:
			from := pieces.FindAllString(texts[kind/6%len(texts)], -1)
			list[at] = from[other%len(from)]
		case 5: // a stretch, such as a block, once more
			end := min(other+1, at+40, len(list))
			if end > at {
				list = append(list[:end:end], append(append([]string{}, list[at:end]...), list[end:]...)...)
			}
		}
	}
	return strings.Join(list, "")
}

// FuzzTokens: whatever becomes of a design, it is read, checked, laid out, run, proved
// and reported without a crash and within its budget, and laying it out changes nothing
// that it says.
func FuzzTokens(f *testing.F) {
	texts := corpus(f)
	for i := range texts {
		f.Add([]byte{byte(i >> 8), byte(i)})
		f.Add([]byte{byte(i >> 8), byte(i), 0, 3, 0, byte(i * 7), 0, byte(i * 13), 0, 5, 0, byte(i * 3), 0, byte(i*3 + 20)})
	}
	f.Fuzz(func(t *testing.T, changes []byte) {
		if len(changes) > 200 {
			return
		}
		everything(t, mutated(texts, changes))
	})
}

// everything does to a text what the commands do.
func everything(t *testing.T, text string) {
	t.Helper()
	began := time.Now()
	defer func() {
		if r := recover(); r != nil {
			t.Fatalf("%v\n%s", r, text)
		}
		if took := time.Since(began); took > 20*time.Second {
			t.Errorf("it took %s:\n%s", took, text)
		}
	}()
	laysOut(t, text)
	d := design.Parse("d.lien", text)
	d.Budget = design.Budget{Steps: 20_000, Bytes: 32 << 20}
	for _, fd := range check.Run(d, check.Options{}) {
		if fd.Fix != nil && fd.Level != finding.Error {
			file := d.Set.Files()[0]
			finding.Apply(file.Text, file.Pos(0), fd.Fix.Edits)
		}
	}
	if _, err := HTML(d, Options{}); err != nil {
		t.Fatalf("%v\n%s", err, text)
	}
	if d.Failed() || len(d.Starts) == 0 {
		return
	}
	story.Run(d, nil)
	prove.Run(d, prove.Options{States: 60, Depth: 4, Time: 2 * time.Second, Asks: 2, Workers: 1})
}

// laysOut: a text that can be read is laid out so that laying it out again changes
// nothing.
func laysOut(t *testing.T, text string) {
	t.Helper()
	file := syntax.Parse(source.NewSet().Add("d.lien", text))
	if len(file.Findings) > 0 {
		return
	}
	once := string(syntax.Print(file))
	again := syntax.Parse(source.NewSet().Add("d.lien", once))
	if len(again.Findings) > 0 {
		t.Fatalf("laid out it cannot be read: %s\n%s\n%s", again.Findings[0].Message, text, once)
	}
	if twice := string(syntax.Print(again)); twice != once {
		t.Fatalf("laid out twice it is another text\n%s\n%s", once, twice)
	}
}
