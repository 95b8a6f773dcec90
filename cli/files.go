package cli

import (
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/source"
)

// place is where a design lies: a folder that it is read from, the name in it, and
// how to turn names in it into names for people and into paths.
type place struct {
	fsys fs.FS
	name string
	show func(string) string
	path func(string) string
}

func rootFlag() cli.Flag {
	return &cli.StringFlag{Name: "root", Usage: "files are read from the folder `DIR` and from what is in it", DefaultText: "the design's folder"}
}

// locate finds the design that an argument names, in the folder that it is read from:
// root, or else what was named, or the folder of that.
func locate(arg, root string) (place, error) {
	abs, err := filepath.Abs(arg)
	if err != nil {
		return place{}, usagef("", "%s: %v", arg, err)
	}
	name := "."
	switch info, err := os.Stat(abs); {
	case root != "":
		if root, err = filepath.Abs(root); err != nil {
			return place{}, usagef("", "%v", err)
		}
		rel, err := filepath.Rel(root, abs)
		if err != nil || !filepath.IsLocal(rel) {
			return place{}, usagef("name a folder around both", "%s does not lie in %s", arg, root)
		}
		name = filepath.ToSlash(rel)
	case err == nil && info.IsDir():
		root = abs
	default:
		root, name = filepath.Dir(abs), filepath.Base(abs)
	}
	fsys, err := source.OpenRoot(root)
	if err != nil {
		return place{}, usagef("", "%s: there is no such file or folder", arg)
	}
	path := func(n string) string { return filepath.Join(root, filepath.FromSlash(n)) }
	return place{fsys, name, shownFrom(path), path}, nil
}

// shownFrom gives paths as people read them: from the working folder, if that is near.
func shownFrom(path func(string) string) func(string) string {
	cwd, err := os.Getwd()
	return func(n string) string {
		full := path(n)
		if rel, inside := filepath.Rel(cwd, full); err == nil && inside == nil && !strings.HasPrefix(rel, filepath.Join("..", "..", "..")) {
			full = filepath.ToSlash(rel)
		}
		return inOneLine.Replace(source.Visible(full))
	}
}

// inOneLine is for names of files, which may have anything in them but a zero byte.
var inOneLine = strings.NewReplacer("\n", `\u000a`, "\t", `\u0009`)

// load reads the design that a command's first argument names.
func load(c *cli.Command) (*design.Design, error) {
	d, _, err := loadAt(c)
	return d, err
}

func loadAt(c *cli.Command) (*design.Design, place, error) {
	p, err := locateArg(c)
	if err != nil {
		return nil, p, err
	}
	d, err := design.Load(p.fsys, p.name, p.show)
	if err != nil {
		return nil, p, usagef("", "%s", err)
	}
	d.Budget, err = budgetOf(c)
	return d, p, err
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
	return locate(arg, c.String("root"))
}

// budgetFlags are those of commands that run designs.
func budgetFlags() []cli.Flag {
	return []cli.Flag{
		&cli.IntFlag{Name: "work", Value: engine.UsualBudget.Steps, Usage: "a turn, and a law, takes at most `N` steps"},
		&cli.IntFlag{Name: "room", Value: engine.UsualBudget.Bytes >> 20, Usage: "a turn makes at most `MB` of texts, lists and pieces of the page"},
	}
}

func budgetOf(c *cli.Command) (design.Budget, error) {
	if c.Int("work") < 0 || c.Int("room") < 0 || c.IsSet("work") && c.Int("work") == 0 || c.IsSet("room") && c.Int("room") == 0 {
		return design.Budget{}, usagef("write a number above 0", "--work and --room cannot be nothing")
	}
	if c.Int("work") == 0 {
		return design.Budget{}, nil // a command that runs nothing
	}
	return design.Budget{Steps: c.Int("work"), Bytes: min(c.Int("room"), 1<<20) << 20}, nil
}
