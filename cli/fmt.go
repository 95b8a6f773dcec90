package cli

import (
	"context"
	"errors"
	"io"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/diff"
	"lien/core/output"
	"lien/core/source"
	"lien/core/syntax"
)

func fmtCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "fmt",
		Usage:     "lay designs out in the one way",
		ArgsUsage: "[DESIGN|-]",
		Flags: []cli.Flag{
			&cli.BoolFlag{Name: "w", Usage: "write the files that change, and print their names"},
			&cli.BoolFlag{Name: "diff", Usage: "print what would change, as a unified diff"},
		},
		Description: `Prints the design laid out. With -w the files are written, whole or not at all.
With --diff the exit status is 1 where something would change.
With - as DESIGN the text comes from standard input.

Example, on the demo:
  lien demo --to kiln
  lien fmt --diff kiln
  lien fmt -w kiln`,
		Action: func(_ context.Context, c *cli.Command) error { return runFmt(t, c) },
	}
}

func runFmt(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	if c.Args().First() == "-" {
		if isNothing(t.In) {
			return usagef("lien fmt - < FILE", "standard input is closed, or empty")
		}
		text, err := io.ReadAll(io.LimitReader(t.In, syntax.MaxSize+1))
		if err != nil {
			return usagef("", "standard input cannot be read: %s", source.Reason(err))
		}
		return fmtOne(t, c, "standard input", string(text), func(string) error {
			return usagef("leave -w out: lien fmt - > FILE", "standard input cannot be written")
		})
	}
	p, err := locateArg(c)
	if err != nil {
		return err
	}
	names, err := design.Files(p.fsys, p.name, p.show)
	if err != nil {
		return usagef("", "%s", err)
	}
	var result error
	for _, n := range names {
		text, err := design.ReadText(p.fsys, n, p.show)
		if err != nil {
			return usagef("", "%s", err)
		}
		write := func(laid string) error {
			return told(output.Change(output.Text{Path: p.path(n), Was: text, Is: []byte(laid)}))
		}
		switch err := fmtOne(t, c, p.show(n), string(text), write); {
		case errors.Is(err, failed):
			result = err
		case err != nil:
			return err
		}
	}
	return result
}

func fmtOne(t *terminal, c *cli.Command, name, text string, write func(laid string) error) error {
	set := source.NewSet()
	file := syntax.Parse(set.Add(name, text))
	if len(file.Findings) > 0 {
		t.aside(func() { t.findings(&design.Design{Set: set, Files: []*syntax.File{file}}, file.Findings) })
		t.note(name + " is left as it is, since it cannot be read")
		return failed
	}
	laid := string(syntax.Print(file))
	switch {
	case c.Bool("diff"):
		if laid == text {
			return nil
		}
		t.raw(t.paintDiff(diff.Unified(name, name+" laid out", text, laid)))
		return failed
	case c.Bool("w"):
		if laid == text {
			return nil
		}
		if err := write(laid); err != nil {
			return err
		}
		t.printf("%s\n", name)
		return nil
	}
	t.raw(laid)
	return nil
}

func (t *terminal) paintDiff(text string) string {
	if !t.color {
		return text
	}
	lines := strings.SplitAfter(text, "\n")
	for i, l := range lines {
		body := strings.TrimSuffix(l, "\n")
		switch {
		case strings.HasPrefix(l, "+"):
			lines[i] = t.paint(green, body) + "\n"
		case strings.HasPrefix(l, "-"):
			lines[i] = t.paint(red, body) + "\n"
		}
	}
	return strings.Join(lines, "")
}
