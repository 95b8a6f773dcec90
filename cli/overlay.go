package cli

import (
	"io/fs"
	"path"
	"strings"
	"time"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
)

// overlay is a file system in which one file has more text at its end: a
// design with a start or scenario that is in none of its files.
type overlay struct {
	fs.FS
	name string
	more string
}

func (o overlay) Open(name string) (fs.File, error) {
	if name != o.name {
		return o.FS.Open(name)
	}
	data, err := source.Read(o.FS, name, syntax.MaxSize)
	if err != nil {
		return nil, err
	}
	return &overlaid{strings.NewReader(string(data) + "\n" + o.more), path.Base(name)}, nil
}

type overlaid struct {
	*strings.Reader
	name string
}

func (f *overlaid) Stat() (fs.FileInfo, error) { return f, nil }
func (f *overlaid) Close() error               { return nil }
func (f *overlaid) Name() string               { return f.name }
func (f *overlaid) Mode() fs.FileMode          { return 0o444 }
func (f *overlaid) ModTime() time.Time         { return time.Time{} }
func (f *overlaid) IsDir() bool                { return false }
func (f *overlaid) Sys() any                   { return nil }

// loadWith reads the design at a place, with more text in it.
func (p place) loadWith(more string) (*design.Design, error) {
	if more == "" {
		return design.Load(p.fsys, p.name, p.show)
	}
	plain, err := design.Load(p.fsys, p.name, p.show)
	if err != nil || len(plain.Files) == 0 {
		return plain, err
	}
	return design.Load(overlay{p.fsys, plain.Sources[0], more}, p.name, p.show)
}
