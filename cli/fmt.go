package cli

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/diff"
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
		text, err := io.ReadAll(io.LimitReader(t.In, syntax.MaxSize+1))
		if err != nil {
			return usagef("", "standard input cannot be read: %v", err)
		}
		return fmtOne(t, c, "standard input", string(text))
	}
	paths, err := designFiles(c)
	if err != nil {
		return err
	}
	var result error
	for _, p := range paths {
		text, err := os.ReadFile(p)
		if err != nil {
			return usagef("", "%v", err)
		}
		switch err := fmtOne(t, c, p, string(text)); {
		case errors.Is(err, failed):
			result = err
		case err != nil:
			return err
		}
	}
	return result
}

// designFiles are the paths of the .lien files that an argument names.
func designFiles(c *cli.Command) ([]string, error) {
	if _, err := locateArg(c); err != nil {
		return nil, err
	}
	name := c.Args().First()
	if name == "" {
		name = "."
	}
	info, err := os.Stat(name)
	if err != nil {
		return nil, usagef("", "%s: there is no such file or folder", name)
	}
	if !info.IsDir() {
		return []string{name}, nil
	}
	paths, _ := filepath.Glob(filepath.Join(name, "*.lien"))
	if len(paths) == 0 {
		return nil, usagef("lien new "+name+" writes a first one", "%s: there is no .lien file in this folder", name)
	}
	sort.Strings(paths)
	return paths, nil
}

func fmtOne(t *terminal, c *cli.Command, name, text string) error {
	set := source.NewSet()
	file := syntax.Parse(set.Add(name, text))
	if len(file.Findings) > 0 {
		out := t.Out
		t.Out = t.Err
		t.findings(&design.Design{Set: set, Files: []*syntax.File{file}}, file.Findings)
		t.Out = out
		fmt.Fprintf(t.Err, "\nlien: %s is left as it is, since it cannot be read\n", name)
		return failed
	}
	laid := string(syntax.Print(file))
	switch {
	case c.Bool("diff"):
		if laid == text {
			return nil
		}
		t.printf("%s", t.paintDiff(diff.Unified(name, name+" laid out", text, laid)))
		return failed
	case c.Bool("w"):
		if laid == text {
			return nil
		}
		if err := writeWhole(name, []byte(laid)); err != nil {
			return usagef("", "%s cannot be written: %v", name, err)
		}
		t.printf("%s\n", name)
		return nil
	}
	t.printf("%s", laid)
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
