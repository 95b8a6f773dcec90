package cli

import (
	"context"
	"strings"

	"github.com/urfave/cli/v3"
)

func manCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:  "man",
		Usage: "print the manual page",
		Description: `Prints the manual page in the man macros of roff.

Example:
  lien man > lien.1
  man ./lien.1`,
		Action: func(_ context.Context, c *cli.Command) error {
			t.printf("%s", manual(c.Root()))
			return nil
		},
	}
}

// manual writes the page from the commands themselves, so that it says what they say.
func manual(root *cli.Command) string {
	var out strings.Builder
	line := func(s string) { out.WriteString(s + "\n") }
	line(`.TH LIEN 1 "" "lien ` + Version + `" "Lien"`)
	line(".SH NAME\nlien \\- " + roff(root.Usage))
	line(".SH SYNOPSIS\n.B lien\n.I COMMAND\n.RI [ DESIGN ]\n.RI [ options ]")
	line(".SH DESCRIPTION\nDESIGN is a .lien file or a folder of them; the current folder when left out.")
	line(".SH COMMANDS")
	for _, c := range root.Commands {
		if c.Hidden || c.Name == "help" {
			continue
		}
		line(".SS lien " + roff(c.Name+" "+c.ArgsUsage) + "\n" + roff(upperFirst(c.Usage)) + ".")
		for _, o := range optionsOf(c) {
			line(".TP\n.B " + roff(o.name) + "\n" + roff(o.usage))
		}
		line(".PP\n.nf\n" + roff(c.Description) + "\n.fi")
	}
	line(".SH EXIT STATUS\n0 as asked; 1 findings at error level, a failed scenario, a broken law; 2 wrong usage or input that cannot be read.")
	line(".SH ENVIRONMENT\n.B NO_COLOR\nturns colour off;\n.B COLUMNS\nsets the width.")
	return out.String()
}

func upperFirst(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

func roff(s string) string {
	s = strings.ReplaceAll(strings.ReplaceAll(s, `\`, `\e`), "-", `\-`)
	lines := strings.Split(s, "\n")
	for i, l := range lines {
		if strings.HasPrefix(l, ".") || strings.HasPrefix(l, "'") {
			lines[i] = `\&` + l
		}
	}
	return strings.Join(lines, "\n")
}
