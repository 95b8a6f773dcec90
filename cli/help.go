package cli

import (
	"fmt"
	"io"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/urfave/cli/v3"
)

// Help is printed from what the commands say of themselves, as wide as the terminal is.

func (t *terminal) help(w io.Writer, _ string, data any) {
	c, ok := data.(*cli.Command)
	if !ok {
		return
	}
	if c.Root() == c {
		t.print(w, rootHelp(c, t.width()))
		return
	}
	t.print(w, commandHelp(c, t.width()))
}

func rootHelp(c *cli.Command, width int) string {
	var out strings.Builder
	fmt.Fprintf(&out, "lien - %s\n\n  lien COMMAND [DESIGN] [options]\n\n", c.Usage)
	paragraph(&out, "", "DESIGN is a .lien file or a folder of them; the current folder when left out.", width)
	out.WriteString("\nCommands, in the order in which people work:\n")
	for _, sub := range c.VisibleCommands() {
		if sub.Name != "help" {
			hanging(&out, "  "+pad(sub.Name, 12), sub.Usage, width)
		}
	}
	out.WriteString("\n")
	paragraph(&out, "", "lien help COMMAND shows its options and an example; lien demo shows it all at work.", width)
	return out.String()
}

func commandHelp(c *cli.Command, width int) string {
	var out strings.Builder
	paragraph(&out, "", "lien "+c.Name+" - "+c.Usage, width)
	line := "  lien " + c.Name
	if len(optionsOf(c)) > 0 {
		line += " [options]"
	}
	fmt.Fprintf(&out, "\n%s\n", strings.TrimRight(line+" "+c.ArgsUsage, " "))
	names := 0
	for _, o := range optionsOf(c) {
		names = max(names, len(o.name))
	}
	if names > 0 {
		out.WriteString("\nOptions:\n")
	}
	for _, o := range optionsOf(c) {
		hanging(&out, "  "+pad(o.name, min(names, 26))+"  ", o.usage, width)
	}
	out.WriteString("\n")
	for _, block := range strings.Split(c.Description, "\n\n") {
		prose(&out, block, width)
	}
	return strings.TrimRight(out.String(), "\n") + "\n"
}

// prose writes a paragraph of a description; lines that are indented stand as they are.
func prose(out *strings.Builder, block string, width int) {
	var text []string
	flush := func() {
		if len(text) > 0 {
			paragraph(out, "", strings.Join(text, " "), width)
			text = nil
		}
	}
	for _, line := range strings.Split(block, "\n") {
		if name, usage, two := strings.Cut(strings.TrimLeft(line, " "), "  "); strings.HasPrefix(line, "  ") {
			flush()
			if indent := len(line) - len(strings.TrimLeft(line, " ")); two && len(line) > width {
				gap := len(usage) - len(strings.TrimLeft(usage, " ")) + 2
				hanging(out, line[:indent]+name+strings.Repeat(" ", gap), strings.TrimSpace(usage), width)
				continue
			}
			out.WriteString(line + "\n")
			continue
		}
		if strings.HasSuffix(line, ":") { // it leads on to what is indented
			flush()
		}
		text = append(text, line)
	}
	flush()
	out.WriteString("\n")
}

func paragraph(out *strings.Builder, indent, text string, width int) {
	for _, line := range wrap(text, width-len(indent)) {
		out.WriteString(indent + line + "\n")
	}
}

// hanging writes a text behind a head, its further lines below its first.
func hanging(out *strings.Builder, head, text string, width int) {
	indent := len(head)
	if indent > width/2 {
		out.WriteString(strings.TrimRight(head, " ") + "\n")
		indent = 6
		head = strings.Repeat(" ", indent)
	}
	for i, line := range wrap(text, max(width-indent, 24)) {
		if i > 0 {
			head = strings.Repeat(" ", indent)
		}
		out.WriteString(strings.TrimRight(head+line, " ") + "\n")
	}
}

// option is an option as help tells of it.
type option struct{ name, usage string }

// optionsOf are the options of a command, those of all commands last.
func optionsOf(c *cli.Command) (list []option) {
	for _, f := range c.VisibleFlags() {
		if d, ok := f.(cli.DocGenerationFlag); ok && !slices.Contains(f.Names(), "help") {
			list = append(list, optionOf(f, d))
		}
	}
	return append(list, option{"--help, -h", "show this"})
}

func optionOf(f cli.Flag, d cli.DocGenerationFlag) option {
	usage := d.GetUsage()
	name := "--" + f.Names()[0]
	if d.TakesValue() {
		value := "VALUE"
		if i := strings.IndexByte(usage, '`'); i >= 0 {
			if j := strings.IndexByte(usage[i+1:], '`'); j >= 0 {
				value = usage[i+1 : i+1+j]
				usage = usage[:i] + value + usage[i+j+2:]
			}
		}
		name += " " + value
	}
	for _, short := range f.Names()[1:] {
		name += ", -" + short
	}
	text := d.GetDefaultText()
	if text == "" {
		text = strings.Trim(d.GetValue(), `"`)
	}
	text = strings.TrimSuffix(text, "m0s") + strings.Repeat("m", min(1, strings.Count(text, "m0s")))
	if d.TakesValue() && text != "" && text != "0" && text != "0s" && text != "[]" && !strings.Contains(usage, "left out") {
		usage += " (" + text + " when left out)"
	}
	return option{name, usage}
}

var (
	invalidValue = regexp.MustCompile(`(?s)^invalid value "(.*)" for flag -+(\S+): (.*)$`)
	noValue      = regexp.MustCompile(`^flag needs an argument: -+(\S+)$`)
	leftOut      = regexp.MustCompile(`^Required flags? "([^",]*).*" not set$`)
	unknownFlag  = regexp.MustCompile(`^flag provided but not defined: -+(.*)$`)
)

// wrongUsage says what is wrong with options, in words of our own.
func wrongUsage(c *cli.Command, err error) error {
	see := "see lien help " + c.Name
	if m := unknownFlag.FindStringSubmatch(err.Error()); m != nil {
		if near := nearestFlag(c, m[1]); near != "" {
			see = "did you mean --" + near + "?"
		}
		return usagef(see, "there is no option --%s for lien %s", m[1], c.Name)
	}
	if m := leftOut.FindStringSubmatch(err.Error()); m != nil {
		return usagef("write lien "+c.Name+" "+c.ArgsUsage, "lien %s needs --%s %s", c.Name, m[1], valueOf(c, m[1]))
	}
	if m := noValue.FindStringSubmatch(err.Error()); m != nil {
		return usagef("write --"+m[1]+" "+valueOf(c, m[1]), "--%s takes %s", m[1], kindOf(c, m[1]))
	}
	if m := invalidValue.FindStringSubmatch(err.Error()); m != nil {
		if kind := kindOf(c, m[2]); kind != "" {
			return usagef("write --"+m[2]+" "+valueOf(c, m[2]), "--%s takes %s, not %q", m[2], kind, m[1])
		}
		return usagef(see, "--%s cannot be %q: %s", m[2], m[1], m[3])
	}
	return usagef(see, "%s", err)
}

func flagNamed(c *cli.Command, name string) cli.Flag {
	for _, f := range c.Flags {
		if slices.Contains(f.Names(), name) {
			return f
		}
	}
	return nil
}

// valueOf is the value of an option as its help names it.
func valueOf(c *cli.Command, name string) string {
	f := flagNamed(c, name)
	d, ok := f.(cli.DocGenerationFlag)
	if !ok {
		return "VALUE"
	}
	_, value, _ := strings.Cut(optionOf(f, d).name, " ")
	return strings.TrimSuffix(value, ", -"+name)
}

// kindOf says what an option takes.
func kindOf(c *cli.Command, name string) string {
	f, ok := flagNamed(c, name).(interface{ Get() any })
	if !ok {
		return "a value"
	}
	switch f.Get().(type) {
	case int, int64:
		return "a whole number"
	case float64:
		return "a number"
	case time.Duration:
		return "a time, such as 30s or 2m"
	case bool:
		return "no value"
	}
	return "a value"
}
