package drive

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// sample is a page of the tests, what it hears and does, and what a user does with it.
type sample struct {
	file     string
	line     int
	name     string
	markup   string
	hears    []hearing
	gestures []gesture
	moves    bool // what the mouse moves over is written down, too
}

// hearing is a handler: what an element does when it hears an event.
type hearing struct {
	id, event string
	does      [][]string
}

// gesture is one thing that a user does.
type gesture struct {
	verb string
	args []string
	text string // all that stands behind the first argument
}

func (g gesture) String() string { return strings.Join(append([]string{g.verb}, g.args...), " ") }

// samples reads the pages of a folder: "== name", markup, "moves", "on ID EVENT: ACT; ACT" and "> GESTURE".
func samples(t *testing.T, pattern string) []*sample {
	t.Helper()
	files, err := filepath.Glob(pattern)
	if err != nil || len(files) == 0 {
		t.Fatalf("no pages in %s: %v", pattern, err)
	}
	var list []*sample
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		var s *sample
		for i, line := range strings.Split(string(text), "\n") {
			switch {
			case strings.HasPrefix(line, "== "):
				s = &sample{file: filepath.Base(f), line: i + 1, name: line[3:]}
				list = append(list, s)
			case s == nil || strings.HasPrefix(line, "#"):
			default:
				s.add(line)
			}
		}
	}
	return list
}

func (s *sample) add(line string) {
	switch {
	case line == "moves":
		s.moves = true
	case strings.HasPrefix(line, "> "):
		s.gestures = append(s.gestures, gestureOf(line[2:]))
	case strings.HasPrefix(line, "on "):
		head, does, _ := strings.Cut(line[3:], ":")
		id, event, _ := strings.Cut(strings.TrimSpace(head), " ")
		h := hearing{id: id, event: event}
		for _, act := range strings.Split(does, ";") {
			h.does = append(h.does, strings.Fields(act))
		}
		s.hears = append(s.hears, h)
	default:
		s.markup += line + "\n"
	}
}

func gestureOf(line string) gesture {
	words := strings.Split(line, " ")
	g := gesture{verb: words[0], args: words[1:]}
	if len(words) > 2 {
		g.text = strings.Join(words[2:], " ")
	}
	return g
}

func (s *sample) String() string { return fmt.Sprintf("%s:%d %s", s.file, s.line, s.name) }
