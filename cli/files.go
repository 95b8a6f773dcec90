package cli

import (
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
)

// place is where a design lies: a file system, the name in it, and how to
// turn names in it into names for people and into paths.
type place struct {
	fsys fs.FS
	name string
	show func(string) string
	path func(string) string
}

// locate finds the design that an argument names. The file system is the
// whole volume, since use "../folder" may lead out of the design's own.
func locate(arg string) (place, error) {
	abs, err := filepath.Abs(arg)
	if err != nil {
		return place{}, usagef("", "%s: %v", arg, err)
	}
	cwd, err := os.Getwd()
	if err != nil {
		cwd = ""
	}
	root := filepath.VolumeName(abs) + string(filepath.Separator)
	name := strings.Trim(filepath.ToSlash(strings.TrimPrefix(abs, root)), "/")
	if name == "" {
		name = "."
	}
	path := func(n string) string { return filepath.Join(root, filepath.FromSlash(n)) }
	show := func(n string) string {
		full := path(n)
		if rel, err := filepath.Rel(cwd, full); err == nil && cwd != "" && !strings.HasPrefix(rel, filepath.Join("..", "..", "..")) {
			return filepath.ToSlash(rel)
		}
		return full
	}
	return place{os.DirFS(root), name, show, path}, nil
}

// load reads the design that a command's first argument names.
func load(c *cli.Command) (*design.Design, error) {
	p, err := locateArg(c)
	if err != nil {
		return nil, err
	}
	d, err := design.Load(p.fsys, p.name, p.show)
	if err != nil {
		return nil, usagef("", "%s", err)
	}
	return d, nil
}

func locateArg(c *cli.Command) (place, error) {
	if c.Args().Len() > 1 {
		return place{}, usagef("see lien help "+c.Name, "lien %s takes one design, but here are %d: %s", c.Name, c.Args().Len(),
			strings.Join(c.Args().Slice(), " "))
	}
	arg := c.Args().First()
	if arg == "" {
		arg = "."
	}
	return locate(arg)
}

// writeWhole writes a file whole or not at all.
func writeWhole(path string, data []byte) error {
	mode := fs.FileMode(0o644)
	if info, err := os.Stat(path); err == nil {
		mode = info.Mode().Perm()
	}
	tmp, err := os.CreateTemp(filepath.Dir(path), ".lien-*")
	if err != nil {
		return err
	}
	defer os.Remove(tmp.Name())
	_, err = tmp.Write(data)
	if cerr := tmp.Close(); err == nil {
		err = cerr
	}
	if err == nil {
		err = os.Chmod(tmp.Name(), mode)
	}
	if err == nil {
		err = os.Rename(tmp.Name(), path)
	}
	return err
}
