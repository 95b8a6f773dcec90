package cli

import (
	"context"
	"embed"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"syscall"

	"github.com/urfave/cli/v3"

	"lien/core/output"
	"lien/core/source"
)

//go:embed first/design.lien
var firstDesign embed.FS

func newCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "new",
		Usage:     "begin a design: a folder with a first component that runs",
		ArgsUsage: "DIR",
		Flags: []cli.Flag{
			&cli.StringFlag{Name: "from-api", Usage: "write the types and services of the document `FILE` instead: OpenAPI 3 or JSON Schema"},
		},
		Description: `Writes DIR/design.lien, a small design that checks and passes, to start from.
A folder that has .lien files already is left as it is.

With --from-api a file of its own is added to the folder: a type for every schema, and a
service that is asked over HTTP, with stand-in replies from the examples in the document.

Example:
  lien new studio
  lien test studio`,
		Action: func(_ context.Context, c *cli.Command) error {
			if err := t.setColor(c); err != nil {
				return err
			}
			if c.Args().Len() != 1 {
				return usagef("write lien new studio", "lien new takes the name of one folder")
			}
			dir := c.Args().First()
			if c.IsSet("from-api") {
				return fromAPI(t, dir, c.String("from-api"))
			}
			if err := writeFolder(dir, firstDesign, "first"); err != nil {
				return err
			}
			t.printf("wrote %s\n\nnext:\n", filepath.Join(dir, "design.lien"))
			t.next("lien check "+dir, "does it hold together?")
			t.next("lien test "+dir, "run its scenarios")
			t.next("lien map "+dir, "who holds, shows and changes what")
			return nil
		},
	}
}

func (t *terminal) next(command, what string) {
	t.printf("  %s  %s\n", pad(command, 38), t.paint(dim, what))
}

// writeFolder writes the files below root into a folder that has no design yet, and
// replaces nothing in it. If one cannot be written, those before it are taken away.
func writeFolder(dir string, files fs.FS, root string) error {
	entries, err := os.ReadDir(dir)
	if err != nil && !errors.Is(err, fs.ErrNotExist) && !errors.Is(err, syscall.ENOTDIR) {
		return usagef("name another folder", "%s cannot be read: %s", dir, source.Reason(err))
	}
	for _, e := range entries {
		if filepath.Ext(e.Name()) == ".lien" {
			return usagef("name another folder, or remove it first", "%s is there already", filepath.Join(dir, e.Name()))
		}
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return usagef("name another folder", "the folder %s cannot be made: %s", dir, source.Reason(err))
	}
	list, err := fs.ReadDir(files, root)
	var written []string
	for _, e := range list {
		var data []byte
		if data, err = fs.ReadFile(files, root+"/"+e.Name()); err != nil {
			break
		}
		path := filepath.Join(dir, e.Name())
		_, there := os.Lstat(path)
		if err = output.New(path, data); err != nil {
			break
		}
		if there != nil {
			written = append(written, path)
		}
	}
	if err != nil {
		for _, path := range written {
			os.Remove(path)
		}
	}
	return told(err)
}
