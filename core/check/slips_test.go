package check

import (
	"math/rand/v2"
	"os"
	"path/filepath"
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
	var texts []string
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
	designs := 1000
	if *judge {
		designs = 200_000
	}
	for seed := range uint64(designs) {
		random := rand.New(rand.NewPCG(seed, 11))
		text := texts[random.IntN(len(texts))]
		for range 1 + random.IntN(6) {
			text = mistyped(text, random)
		}
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
