package cli

import (
	"io/fs"
	"path"
	"strings"
	"time"

	"lien/core/design"
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
	data, err := fs.ReadFile(o.FS, name)
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
	at := p.name
	if info, err := fs.Stat(p.fsys, p.name); err == nil && info.IsDir() {
		entries, err := fs.ReadDir(p.fsys, p.name)
		if err != nil {
			return nil, err
		}
		for _, e := range entries {
			if !e.IsDir() && path.Ext(e.Name()) == ".lien" {
				at = path.Join(p.name, e.Name())
				break
			}
		}
	}
	return design.Load(overlay{p.fsys, at, more}, p.name, p.show)
}
