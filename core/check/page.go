package check

import (
	"embed"
	"sort"
	"strings"
	"sync"

	"lien/core/finding"
)

//go:embed pages/*.md
var pageFiles embed.FS

// RulePage is what there is to say of a rule.
type RulePage struct {
	Rule  string
	Level finding.Level
	Why   string // why it matters, in a sentence or two
	Wrong string // a design with the mistake; // HERE marks its line
	Right string // the same, mended
}

var pages = sync.OnceValue(func() map[string]*RulePage {
	m := map[string]*RulePage{}
	entries, _ := pageFiles.ReadDir("pages")
	for _, e := range entries {
		text, _ := pageFiles.ReadFile("pages/" + e.Name())
		p := readPage(strings.TrimSuffix(e.Name(), ".md"), string(text))
		m[p.Rule] = p
	}
	return m
})

// readPage reads "level: error", a paragraph, and two fenced designs.
func readPage(name, text string) *RulePage {
	p := &RulePage{Rule: name}
	head, rest, _ := strings.Cut(text, "\n")
	p.Level, _ = finding.ParseLevel(strings.TrimPrefix(head, "level: "))
	why, rest, _ := strings.Cut(strings.TrimSpace(rest), "\n```lien\n")
	p.Why = strings.Join(strings.Fields(why), " ")
	wrong, rest, _ := strings.Cut(rest, "```\n")
	_, rest, _ = strings.Cut(rest, "```lien\n")
	right, _, _ := strings.Cut(rest, "```")
	p.Wrong, p.Right = wrong, right
	return p
}

// Page is the page of a rule, or nil.
func Page(rule string) *RulePage { return pages()[rule] }

// Rules lists all rules, sorted.
func Rules() []string {
	var names []string
	for n := range pages() {
		names = append(names, n)
	}
	sort.Strings(names)
	return names
}
