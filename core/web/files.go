package web

import (
	"io/fs"
	"path"
	"strings"
)

// modules is a file system of the modules of a page, and of what they share.
type modules map[string]string

// Open gives a module; those that no design writes are the runtime's.
func (m modules) Open(name string) (fs.File, error) { return runtimeFiles().Open(name) }

// ReadFile reads a module.
func (m modules) ReadFile(name string) ([]byte, error) {
	if text, ok := m[name]; ok {
		return []byte(text), nil
	}
	return fs.ReadFile(runtimeFiles(), strings.TrimPrefix(path.Clean(name), "/"))
}
