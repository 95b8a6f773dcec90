package cli

import (
	"fmt"
	"io"
	"os"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/urfave/cli/v3"
	"golang.org/x/term"

	"lien/core/finding"
	"lien/core/source"
)

// terminal is where commands print: it knows its width and whether to colour.
type terminal struct {
	Streams
	color bool
}

func colorFlag() cli.Flag {
	return &cli.StringFlag{Name: "color", Value: "auto", Usage: "colour the output: `WHEN` is auto, always or never"}
}

// setColor follows --color, NO_COLOR and whether a terminal listens.
func (t *terminal) setColor(c *cli.Command) error {
	switch when := c.String("color"); when {
	case "always":
		t.color = true
	case "never":
		t.color = false
	case "auto":
		t.color = os.Getenv("NO_COLOR") == "" && os.Getenv("TERM") != "dumb" && isTerminal(t.Out)
	default:
		return usagef("write --color auto, always or never", "--color cannot be %q", when)
	}
	return nil
}

func isTerminal(w io.Writer) bool {
	f := fileOf(w)
	return f != nil && term.IsTerminal(int(f.Fd()))
}

// width is how many characters a line has.
func (t *terminal) width() int {
	if n, err := strconv.Atoi(os.Getenv("COLUMNS")); err == nil && n >= 40 {
		return n
	}
	if f := fileOf(t.Out); f != nil {
		if w, _, err := term.GetSize(int(f.Fd())); err == nil && w >= 40 {
			return min(w, 160)
		}
	}
	return 100
}

// printf prints a text for people.
func (t *terminal) printf(format string, args ...any) { t.print(t.Out, fmt.Sprintf(format, args...)) }

// note tells something beside the output.
func (t *terminal) note(text string) { t.print(t.Err, "lien: "+text+"\n") }

// print is the one place where texts for people are written: nothing in them but the
// styles of paint can do anything to a terminal.
func (t *terminal) print(to io.Writer, text string) {
	io.WriteString(to, t.shown(text))
}

// shown is a text as a terminal gets it.
func (t *terminal) shown(text string) string {
	if text = source.Visible(text); t.color {
		text = styled.Replace(text)
	}
	return text
}

// raw prints the text of a design as it is; on a terminal it is a text for people.
func (t *terminal) raw(text string) {
	if isTerminal(t.Out) || t.color {
		t.printf("%s", text)
		return
	}
	io.WriteString(t.Out, text)
}

// aside prints what is about the output beside it.
func (t *terminal) aside(print func()) {
	out := t.Out
	t.Out = t.Err
	print()
	t.Out = out
	t.print(t.Err, "\n")
}

// style paints a text; the words themselves always say the same.
type style string

const (
	bold   style = "1"
	dim    style = "2"
	red    style = "31"
	green  style = "32"
	yellow style = "33"
	blue   style = "36"

	inverse style = "7"
	plain   style = ""
)

func (t *terminal) paint(s style, text string) string {
	if !t.color || text == "" || s == plain {
		return text
	}
	return begins(s) + text + ends
}

// A style is marked by characters of private use (Unicode, 23.5), which shown turns into
// the control sequences of ECMA-48. A text of a design that has these very characters can
// colour what is printed, and do no more.
const ends = "\U0010fffd"

func begins(s style) string { return "\U0010fff0" + string(s) + "\U0010fff1" }

// styled puts the control sequences in, unstyled takes the marks out.
var styled, unstyled = replacers()

func replacers() (in, out *strings.Replacer) {
	pairs, none := []string{ends, "\x1b[0m"}, []string{ends, ""}
	for _, s := range []style{bold, dim, red, green, yellow, blue, inverse} {
		pairs = append(pairs, begins(s), "\x1b["+string(s)+"m")
		none = append(none, begins(s), "")
	}
	return strings.NewReplacer(pairs...), strings.NewReplacer(none...)
}

// wrap breaks a text into lines of at most width characters.
func wrap(text string, width int) []string {
	var lines []string
	line := ""
	for _, word := range strings.Fields(text) {
		switch {
		case line == "":
			line = word
		case utf8.RuneCountInString(line)+1+utf8.RuneCountInString(word) > width:
			lines = append(lines, line)
			line = word
		default:
			line += " " + word
		}
	}
	return append(lines, line)
}

// pad fills a text up to width characters.
func pad(text string, width int) string {
	return text + strings.Repeat(" ", max(0, width-utf8.RuneCountInString(text)))
}

// cut shortens a text in the middle to width characters.
func cut(text string, width int) string {
	r := []rune(text)
	if len(r) <= width || width < 5 {
		return text
	}
	tail := width / 3
	return string(r[:width-tail-1]) + "…" + string(r[len(r)-tail:])
}

func didYouMean(word string, names []string, list string) string {
	if near := finding.Nearest(word, names); near != "" {
		return "did you mean " + near + "?"
	}
	return list + strings.Join(names, ", ")
}

func nearestFlag(c *cli.Command, name string) string {
	var names []string
	for _, f := range c.Flags {
		names = append(names, f.Names()...)
	}
	return finding.Nearest(name, names)
}
