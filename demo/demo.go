// Package demo holds the kiln-room design, which every command can be tried on.
package demo

import (
	"embed"
	"io"
	"io/fs"
	"strings"
)

// Files has the folder kiln-room.
//
//go:embed kiln-room
var Files embed.FS

// Mistake is a change that leaves a hole in the kiln room: a full shelf can be
// loaded on. The old line and the new one, in the file File.
var Mistake = struct{ File, Was, Is string }{
	"kiln-room/room.lien",
	"if (target == null || isFull(target)) return",
	"if (target == null) return",
}

// Planted is the design with the mistake in it.
func Planted() fs.FS { return planted{Files} }

type planted struct{ fs.FS }

// Open opens a file as it would be with the mistake.
func (p planted) Open(name string) (fs.File, error) {
	f, err := p.FS.Open(name)
	if err != nil || name != Mistake.File {
		return f, err
	}
	defer f.Close()
	data, err := io.ReadAll(f)
	if err != nil {
		return nil, err
	}
	info, err := f.Stat()
	if err != nil {
		return nil, err
	}
	text := strings.Replace(string(data), Mistake.Was, Mistake.Is, 1)
	text = strings.Replace(text, "target != null && !isFull(target)", "target != null", 1)
	return &edited{strings.NewReader(text), info, int64(len(text))}, nil
}

// edited is a file with another content.
type edited struct {
	*strings.Reader
	fs.FileInfo
	size int64
}

func (f *edited) Stat() (fs.FileInfo, error) { return f, nil }
func (f *edited) Size() int64                { return f.size }
func (f *edited) Close() error               { return nil }
