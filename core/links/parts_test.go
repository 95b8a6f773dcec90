package links

import (
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"testing"

	"lien/core/design"
)

// TestParts: the links of a design are the same, in the same order, however its components are shared out among parts.
func TestParts(t *testing.T) {
	texts := map[string]string{"constants": `
const rooms = ["raw", "fired"]
component room-line { takes name: string; view { p ` + "`${rooms.indexOf(name)}`" + ` } }
component room-page { holds n: number = 0; view { each r in rooms by r { room-line { name <- r } }; button "Next" { click -> n += 1 }; p ` + "`${rooms[n] ?? \"none\"}`" + ` } }
start room-page
`}
	files, err := filepath.Glob("../../examples/*.lien")
	if err != nil || len(files) == 0 {
		t.Fatalf("no examples: %v", err)
	}
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		texts[name] = string(text)
	}
	for name, text := range texts {
		d := design.Parse(name, text)
		handed := handedIn(d)
		whole := allOf(partOf(d, d.Components, handed))
		for at := range d.Components {
			g := partOf(d, d.Components[:at], handed)
			g.add(partOf(d, d.Components[at:], handed))
			if got := allOf(g); got != whole {
				t.Fatalf("%s, in parts at %d:\n%s\nas a whole:\n%s", name, at, got, whole)
			}
		}
	}
}

// allOf is all that a graph has, one list a line.
func allOf(g *Graph) string {
	var lines []string
	lines = append(lines, linesOf("shows", g.Shows, func(x *Site) string { return fmt.Sprint(x.What, x.At, x.Via) })...)
	lines = append(lines, linesOf("feeds", g.Feeds, func(x *Link) string { return fmt.Sprint(x.Text, x.At) })...)
	lines = append(lines, linesOf("fed", g.Fed, func(x *Link) string { return fmt.Sprint(x.Text, x.At) })...)
	lines = append(lines, linesOf("reads", g.Reads, func(x *Read) string { return fmt.Sprint(x.At) })...)
	lines = append(lines, linesOf("writes", g.Writes, func(x *Write) string { return fmt.Sprint(x.Trigger.words(), x.At) })...)
	lines = append(lines, linesOf("emits", g.Emits, func(x *Trigger) string { return fmt.Sprint(x.words(), x.At) })...)
	lines = append(lines, linesOf("hears", g.Hears, func(x *Handler) string { return fmt.Sprint(x.User.Name, x.At) })...)
	lines = append(lines, linesOf("calls", g.Calls, func(x *Trigger) string { return fmt.Sprint(x.words(), x.At) })...)
	lines = append(lines, linesOf("uses", g.Uses, func(x *Use) string { return fmt.Sprint(x.User.Name, x.Node.Start, len(x.Path)) })...)
	lines = append(lines, linesOf("asked", g.Asked, func(x *Site) string { return fmt.Sprint(x.What, x.At, x.Via) })...)
	lines = append(lines, linesOf("sends", g.Sends, func(x *Trigger) string { return fmt.Sprint(x.words(), x.At) })...)
	lines = append(lines, linesOf("consts", g.Consts, func(x *Site) string { return fmt.Sprint(x.What, x.At, x.Via) })...)
	sort.Strings(lines)
	return strings.Join(lines, "\n")
}

func linesOf[K comparable, V any](what string, lists map[K][]*V, say func(*V) string) (lines []string) {
	for k, list := range lists {
		line := fmt.Sprintf("%s of %p:", what, any(k))
		for _, x := range list {
			line += " " + say(x)
		}
		lines = append(lines, line)
	}
	return lines
}
