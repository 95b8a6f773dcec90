package output

import (
	"bytes"
	"crypto/rand"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"syscall"

	"lien/core/source"
)

// Refused tells why a file is not written, and what to do about it.
type Refused struct{ Why, Do string }

func (e *Refused) Error() string { return e.Why }

func refuse(do, format string, args ...any) error { return &Refused{fmt.Sprintf(format, args...), do} }

// Make writes a file that a command makes: a picture, a report. It replaces none but
// those that were made here before, unless it is forced to, and never one of the
// sources. Devices and pipes are written to; a link is followed.
func Make(path string, data []byte, force bool, sources ...string) error {
	if err := May(path, force, sources...); err != nil {
		return err
	}
	switch info, err := os.Stat(path); {
	case err != nil:
		return create(path, Mark(path, data))
	case !info.Mode().IsRegular() || isDevicePath(path):
		return pour(path, data)
	}
	return replace(path, Mark(path, data))
}

// May says why Make would not write a file, as far as that can be told before.
func May(path string, force bool, sources ...string) error {
	info, err := os.Stat(path)
	if errors.Is(err, fs.ErrNotExist) {
		if _, err := os.Lstat(path); err == nil {
			return refuse("name another file, or remove the link", "%s is a link that leads nowhere", path)
		}
		return nil
	}
	switch {
	case err != nil:
		return written(path, err)
	case info.IsDir():
		return refuse("name a file in it", "%s is a folder", path)
	case !info.Mode().IsRegular() || isDevicePath(path):
		return nil
	}
	for _, s := range sources {
		if other, err := os.Stat(s); err == nil && os.SameFile(info, other) {
			return refuse("name another file", "%s is part of the design, and is not written over", path)
		}
	}
	was, err := os.ReadFile(path)
	if err != nil {
		return written(path, err)
	}
	if len(was) > 0 && !force && !IsMarked(path, was) {
		return refuse("name another file, or add --force", "%s is there already, and was not made by lien or was changed since", path)
	}
	return nil
}

// isDevicePath says whether a path is a name for what is open already, such as
// /dev/stdout, which may lead to a file.
func isDevicePath(path string) bool {
	abs, err := filepath.Abs(path)
	return err == nil && (strings.HasPrefix(abs, "/dev/") || strings.HasPrefix(abs, "/proc/"))
}

// pour writes to what is no file. A pipe that nobody reads is an error.
func pour(path string, data []byte) error {
	f, err := os.OpenFile(path, os.O_WRONLY|syscall.O_NONBLOCK, 0)
	if errors.Is(err, syscall.ENXIO) {
		return refuse("begin to read it first", "nobody reads the pipe %s", path)
	}
	if err == nil {
		_, err = f.Write(data)
		err = errors.Join(err, f.Close())
	}
	return written(path, err)
}

// Text is what a file had when it was read, and what it is to have.
type Text struct {
	Path    string
	Was, Is []byte
}

// Change writes texts in place of those that were read: all, or none if a file has another text by now or cannot
// be written.
func Change(texts ...Text) error {
	for _, t := range texts {
		if err := t.unchanged(); err != nil {
			return err
		}
	}
	for i, t := range texts {
		err := t.unchanged() // writing the others took time
		if err == nil {
			err = replace(t.Path, t.Is)
		}
		if err != nil {
			for _, done := range texts[:i] {
				err = errors.Join(err, replace(done.Path, done.Was))
			}
			return err
		}
	}
	return nil
}

// unchanged refuses a file that has another text by now.
func (t Text) unchanged() error {
	now, err := os.ReadFile(t.Path)
	switch {
	case err != nil:
		return written(t.Path, err)
	case !bytes.Equal(now, t.Was):
		return refuse("do it again", "%s was changed by something else in the meantime, and is left as it is", t.Path)
	}
	return nil
}

// New writes a file that must not be there yet, or has this text.
func New(path string, data []byte) error {
	was, err := os.ReadFile(path)
	if err == nil && bytes.Equal(was, data) {
		return nil
	}
	if _, err := os.Lstat(path); err == nil {
		return refuse("name another folder", "%s is there already", path)
	}
	return create(path, data)
}

// create writes a file that is not there.
func create(path string, data []byte) error {
	tmp, err := temporary(path, data)
	if err != nil {
		return written(path, err)
	}
	defer os.Remove(tmp)
	return written(path, os.Rename(tmp, path))
}

// replace writes a file that is there, whole or not at all, and keeps its links, mode
// and owner.
func replace(path string, data []byte) error {
	target, err := filepath.EvalSymlinks(path)
	if err != nil {
		return written(path, err)
	}
	f, err := os.OpenFile(target, os.O_WRONLY, 0) // whoever may not write it may not replace it
	if err != nil {
		return written(path, err)
	}
	info, err := f.Stat()
	if err != nil {
		f.Close()
		return written(path, err)
	}
	tmp, err := temporary(target, data)
	if err != nil {
		f.Close()
		return written(path, err)
	}
	if names(info) > 1 || os.Chmod(tmp, info.Mode()) != nil || !own(tmp, info) {
		return overwrite(f, path, tmp, data)
	}
	f.Close()
	defer os.Remove(tmp)
	return written(path, os.Rename(tmp, target))
}

// overwrite writes into a file that has other names, or that would belong to somebody
// else if it were replaced. If that fails, the new text is beside it.
func overwrite(f *os.File, path, tmp string, data []byte) error {
	_, err := f.WriteAt(data, 0)
	if err == nil {
		err = f.Truncate(int64(len(data)))
	}
	if err = errors.Join(err, f.Close()); err != nil {
		return fmt.Errorf("%w; the whole of it is in %s", written(path, err), tmp)
	}
	return written(path, os.Remove(tmp))
}

// temporary writes a new file beside a path, and gives its name.
func temporary(path string, data []byte) (string, error) {
	name := filepath.Join(filepath.Dir(path), ".lien-"+rand.Text())
	f, err := os.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o666)
	if err != nil {
		return "", err
	}
	_, err = f.Write(data)
	if err == nil {
		err = f.Sync()
	}
	if err = errors.Join(err, f.Close()); err != nil {
		os.Remove(name)
		return "", err
	}
	return name, nil
}

// written is an error of writing a file, in words; nil stays nil.
func written(path string, err error) error {
	switch {
	case err == nil:
		return nil
	case errors.Is(err, fs.ErrPermission):
		return refuse("check its permissions, and those of its folder", "%s may not be written", path)
	case errors.Is(err, fs.ErrNotExist):
		return refuse("make the folder first", "%s cannot be written: there is no folder %s", path, filepath.Dir(path))
	}
	return fmt.Errorf("%s cannot be written: %w", path, source.Reason(err))
}
