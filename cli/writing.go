package cli

import (
	"errors"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/output"
)

func forceFlag() cli.Flag {
	return &cli.BoolFlag{Name: "force", Usage: "write over a file that lien did not make"}
}

// made is a file that a command makes.
type made struct {
	path string
	data []byte
}

// save writes what a command makes of a design: all files, or none where one of them
// must not be written.
func save(c *cli.Command, d *design.Design, files ...made) error {
	p, err := locateArg(c)
	if err != nil {
		return err
	}
	var sources []string
	for _, name := range d.Sources {
		sources = append(sources, p.path(name))
	}
	force := c.Bool("force")
	for _, f := range files {
		if err := output.May(f.path, force, sources...); err != nil {
			return told(err)
		}
	}
	for _, f := range files {
		if err := output.Make(f.path, f.data, force, sources...); err != nil {
			return told(err)
		}
	}
	return nil
}

// told is an error of writing, with what to do about it.
func told(err error) error {
	var refused *output.Refused
	switch {
	case err == nil:
		return nil
	case errors.As(err, &refused):
		return usagef(refused.Do, "%s", refused.Why)
	}
	return usagef("", "%v", err)
}

// rewrite writes a text in place of the one that a file of a design had.
func rewrite(p place, name, is, was string) error {
	read, err := design.ReadText(p.fsys, name, p.show)
	if err != nil {
		return usagef("", "%s", err)
	}
	if mark := "\ufeff"; strings.HasPrefix(string(read), mark) {
		was = mark + was
	}
	return told(output.Change(p.path(name), []byte(was), []byte(is)))
}
