//go:build unix

package output

import (
	"io/fs"
	"os"
	"syscall"
)

// names is how many names a file has.
func names(info fs.FileInfo) int {
	if s, ok := info.Sys().(*syscall.Stat_t); ok {
		return int(s.Nlink)
	}
	return 1
}

// own gives a file the owner and group of another, and says whether it has them.
func own(path string, like fs.FileInfo) bool {
	want, ok := like.Sys().(*syscall.Stat_t)
	info, err := os.Stat(path)
	if err != nil || !ok {
		return !ok
	}
	if is, ok := info.Sys().(*syscall.Stat_t); ok && is.Uid == want.Uid && is.Gid == want.Gid {
		return true
	}
	if os.Chown(path, int(want.Uid), int(want.Gid)) != nil {
		return false
	}
	return os.Chmod(path, like.Mode()) == nil // a new owner clears some bits
}
