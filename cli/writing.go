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

// asRead is a file of a design, with what it was when the design was read and what it is to be.
func asRead(p place, name, is, was string) (output.Text, error) {
	read, err := design.ReadText(p.fsys, name, p.show)
	if err != nil {
		return output.Text{}, usagef("", "%s", err)
	}
	if mark := "\ufeff"; strings.HasPrefix(string(read), mark) {
		was = mark + was
	}
	return output.Text{Path: p.path(name), Was: []byte(was), Is: []byte(is)}, nil
}

// rewrite writes texts in place of those that the files of a design had: all or none.
func rewrite(texts []output.Text) error { return told(output.Change(texts...)) }
