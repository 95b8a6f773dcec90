// Package demo holds the kiln-room design, which every command can be tried on.
package demo

import (
	"embed"
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

// ReadFile reads a file as it would be with the mistake.
func (p planted) ReadFile(name string) ([]byte, error) {
	data, err := fs.ReadFile(p.FS, name)
	if err != nil || name != Mistake.File {
		return data, err
	}
	text := strings.Replace(string(data), Mistake.Was, Mistake.Is, 1)
	return []byte(strings.Replace(text, "target != null && !isFull(target)", "target != null", 1)), nil
}
