package cli

import (
	"context"
	"embed"
	"errors"
	"io/fs"
	"os"
	"path/filepath"

	"github.com/urfave/cli/v3"
)

//go:embed first/design.lien
var firstDesign embed.FS

func newCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "new",
		Usage:     "begin a design: a folder with a first component that runs",
		ArgsUsage: "DIR",
		Description: `Writes DIR/design.lien, a small design that checks and passes, to start from.
A folder that has .lien files already is left as it is.

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

// writeFolder writes the files below root into a folder that has no design yet.
func writeFolder(dir string, files fs.FS, root string) error {
	if found, _ := filepath.Glob(filepath.Join(dir, "*.lien")); len(found) > 0 {
		return usagef("name another folder, or remove it first", "%s is there already", found[0])
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		var pathErr *fs.PathError
		if errors.As(err, &pathErr) {
			err = pathErr.Err
		}
		return usagef("name another folder", "the folder %s cannot be made: %v", dir, err)
	}
	return fs.WalkDir(files, root, func(path string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() {
			return err
		}
		data, err := fs.ReadFile(files, path)
		if err == nil {
			err = writeWhole(filepath.Join(dir, filepath.Base(path)), data)
		}
		return err
	})
}
