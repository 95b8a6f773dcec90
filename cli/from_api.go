package cli

import (
	"os"
	"path/filepath"

	"lien/core/api"
	"lien/core/output"
	"lien/core/source"
)

// fromAPI writes the types and the service of an API document into a folder, in a file of their own.
func fromAPI(t *terminal, dir, name string) error {
	data, err := source.Read(os.DirFS(filepath.Dir(name)), filepath.Base(name), api.MaxSize)
	if err != nil {
		return usagef("name an OpenAPI 3 document or a JSON Schema, as YAML or JSON", "%s cannot be read: %s", name, source.Reason(err))
	}
	file, text, err := api.Design(filepath.Base(name), data)
	if err != nil {
		return usagef("name an OpenAPI 3 document or a JSON Schema, as YAML or JSON", "%s: %s", name, err)
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return usagef("name another folder", "the folder %s cannot be made: %s", dir, source.Reason(err))
	}
	path := filepath.Join(dir, file)
	if _, err := os.Lstat(path); err == nil {
		return usagef("remove it first, or name another folder", "%s is there already", path)
	}
	if err := output.New(path, text); err != nil {
		return told(err)
	}
	t.printf("wrote %s\n\nnext:\n", path)
	t.next("lien check "+dir, "read it, and what was left out, in its comments")
	t.next("lien answer "+dir, "its stand-ins over HTTP")
	return nil
}
