package cli

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/web"
)

func buildCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "build",
		Usage:     "a page that does in a browser what the design does",
		ArgsUsage: "[DESIGN] --to DIR",
		Flags: []cli.Flag{
			&cli.StringFlag{Name: "to", Usage: "write to the folder `DIR`", Required: true},
			&cli.StringFlag{Name: "start", Usage: "begin as the start whose name or root is `NAME`; the first one when left out"},
			&cli.BoolFlag{Name: "elements", Usage: "no page: the components as elements for other pages"},
			&cli.BoolFlag{Name: "one-file", Usage: "all in one HTML file, which opens from a disk"},
			&cli.BoolFlag{Name: "minify", Usage: "without what only people read"},
			forceFlag(),
		},
		Description: `Writes a page that needs nothing but a browser: a document, a module for each
component with its comments, and what they share. The page does what the design
does, turn by turn. Nothing in the document is a program, so it is served under
default-src 'self'; with --one-file all stands in it.

Each component is a custom element, too, which any page can use when it has imported
its module: what it takes and shares are properties, texts, numbers and booleans also
attributes; what it reports are events; what it offers are methods and properties to
read; content goes into its slots. types.d.ts says so to TypeScript, and
custom-elements.json to other tools.

Example, on the demo:
  lien demo --to kiln
  lien build kiln --to page --one-file`,
		Action: func(_ context.Context, c *cli.Command) error { return runBuild(t, c) },
	}
}

func runBuild(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	d, err := loadRunnable(t, c)
	if err != nil {
		return err
	}
	o, err := buildOptions(c, d)
	if err != nil {
		return err
	}
	files, err := web.Build(d, o)
	if err != nil {
		return err
	}
	return t.saveBuilt(c, d, files)
}

func buildOptions(c *cli.Command, d *design.Design) (web.Options, error) {
	o := web.Options{OneFile: c.Bool("one-file"), Minify: c.Bool("minify")}
	switch {
	case c.Bool("elements") && (o.OneFile || c.IsSet("start")):
		return o, usagef("leave one of them out", "--elements writes no page, which --one-file and --start are about")
	case c.Bool("elements"):
		return o, nil
	case len(d.Starts) == 0:
		return o, usagef("write start NAME, or build elements for other pages: --elements", "the design has no start, so no page begins")
	}
	var err error
	o.Start, err = startNamed(d, c.String("start"), true)
	return o, err
}

// saveBuilt writes the files, and tells what they are.
func (t *terminal) saveBuilt(c *cli.Command, d *design.Design, files []web.File) error {
	list := make([]made, len(files))
	for i, f := range files {
		list[i] = made{filepath.Join(c.String("to"), filepath.FromSlash(f.Path)), f.Text}
	}
	for _, f := range list {
		if err := os.MkdirAll(filepath.Dir(f.path), 0o755); err != nil {
			return usagef("name a folder, or one that is not there yet", "no page can be written to %s: %v", c.String("to"), err)
		}
	}
	if err := save(c, d, list...); err != nil {
		return err
	}
	parts, bytes := 0, 0
	for _, f := range files {
		if bytes += len(f.Text); strings.HasPrefix(f.Path, "components/") {
			parts++
			continue
		}
		t.printf("%s  %s\n", filepath.Join(c.String("to"), f.Path), t.paint(dim, kilobytes(len(f.Text))))
	}
	if parts > 0 {
		t.printf("%s  %s\n", filepath.Join(c.String("to"), "components"), t.paint(dim, finding.Count(parts, "module")))
	}
	if len(files) > 1 {
		t.printf("%s\n", t.paint(dim, kilobytes(bytes)+" in all; a page of modules opens from a server, or build it with --one-file"))
	}
	return nil
}

func kilobytes(n int) string {
	if n < 1000 {
		return finding.Count(n, "byte")
	}
	return fmt.Sprintf("%d KB", (n+512)/1024)
}
