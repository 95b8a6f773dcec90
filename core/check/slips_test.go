package check

import (
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"strings"
	"testing"

	"lien/core/design"
)

// pieces are what slips put into a text: tokens of the language, and of others.
var pieces = []string{"{", "}", "(", ")", "[", "]", "<-", "->", "<->", ":", ".", "=", "==", "+=", "=>", "\"", "`", "${", "'", "#", "!", "?", "?.", "??",
	"+", "++", ",", ";", "\n", "and ", "or ", "not ", "is ", "when ", "each ", "in ", "by ", "emit ", "new ", "if ", "for ", "switch ", "elif ", "where ",
	"type ", "emits ", "holds ", "state ", "action ", "start ", "law ", "on ", "named ", "button ", "\"x\"", "`a`", "value", "{n}"}

// TestSlipsDoNotCrash: designs with slips of any kind are read and looked at to the end, whatever they are.
func TestSlipsDoNotCrash(t *testing.T) {
	texts := writtenTexts(t)
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(1)) // so that a crash is one of this goroutine, and tells of its text
	designs := 1000
	if *judge {
		designs = 200_000
	}
	for seed := range uint64(designs) {
		text := slippedOften(texts, rand.New(rand.NewPCG(seed, 11)))
		func() {
			defer func() {
				if p := recover(); p != nil {
					t.Fatalf("%v\n%s\nof\n%s", p, debug.Stack(), text)
				}
			}()
			Run(design.Parse("slips.lien", text), Options{})
		}()
	}
}

// TestSideBySide: what is found is the same, word for word, whether views are resolved one after the other or side by side.
func TestSideBySide(t *testing.T) {
	texts := writtenTexts(t)
	designs := 500
	if *judge {
		designs = 50_000
	}
	for seed := range uint64(designs) {
		text := slippedOften(texts, rand.New(rand.NewPCG(seed, 12)))
		alone, beside := foundBy(1, text), foundBy(4, text)
		if alone != beside {
			t.Fatalf("one after the other:\n%s\nside by side:\n%s\nof\n%s", alone, beside, text)
		}
	}
}

// foundBy is all that is found in a design by so many workers.
func foundBy(workers int, text string) string {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(workers))
	d := design.Parse("slips.lien", text)
	var out strings.Builder
	for _, f := range Run(d, Options{}) {
		fmt.Fprintf(&out, "%v %s %s; %s; %v\n", d.Set.Position(f.Span.Start), f.Rule, f.Message, f.Write, f.Related)
		if f.Fix != nil {
			fmt.Fprintf(&out, "  %v\n", *f.Fix)
		}
	}
	return out.String()
}

// slippedOften is one of some texts with one to six slips.
func slippedOften(texts []string, random *rand.Rand) string {
	text := texts[random.IntN(len(texts))]
	for range 1 + random.IntN(6) {
		text = mistyped(text, random)
	}
	return text
}

// writtenTexts are those of the designs of the tests and examples, with their mistakes.
func writtenTexts(t *testing.T) (texts []string) {
	for _, pattern := range []string{"testdata/mistakes/*.txt", "testdata/*.lien", "../../examples/*.lien", "../story/testdata/pass/*.lien"} {
		files, err := filepath.Glob(pattern)
		if err != nil || len(files) == 0 {
			t.Fatalf("%s: %v", pattern, err)
		}
		for _, name := range files {
			data, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			text, _, _ := strings.Cut(string(data), saysMark)
			texts = append(texts, text)
		}
	}
	return texts
}

// mistyped is a text in which some characters are left out, put in, doubled or replaced.
func mistyped(text string, random *rand.Rand) string {
	if len(text) < 10 {
		return text
	}
	at := random.IntN(len(text))
	to := min(len(text), at+1+random.IntN(12))
	piece := pieces[random.IntN(len(pieces))]
	switch random.IntN(4) {
	case 0:
		return text[:at] + text[to:]
	case 1:
		return text[:at] + piece + text[at:]
	case 2:
		from := random.IntN(len(text))
		return text[:at] + text[from:min(len(text), from+1+random.IntN(30))] + text[at:]
	}
	return text[:at] + piece + text[to:]
}
