package source

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"strings"
	"syscall"
)

// Why a file of a design is not read.
var (
	ErrOutside   = errors.New("it lies outside of the folder that the design is read from")
	ErrIrregular = errors.New("it is a device, pipe or socket, and not a file")
)

// TooLarge tells that a file has more bytes than may be read.
type TooLarge struct{ Max int }

func (e *TooLarge) Error() string {
	return fmt.Sprintf("it has more than %d MB, which is the most", e.Max>>20)
}

// Root is a folder on disk that a design is read from, as an fs.FS. What is opened
// lies in it once all links are followed (see os.Root), and is a folder or a regular
// file: opening it neither waits nor does anything else.
type Root struct{ root *os.Root }

// OpenRoot opens a folder.
func OpenRoot(dir string) (*Root, error) {
	root, err := os.OpenRoot(dir)
	if err != nil {
		return nil, err
	}
	return &Root{root}, nil
}

// Close closes the folder.
func (r *Root) Close() error { return r.root.Close() }

// Open opens a file or folder to be read. The error is an *fs.PathError, around
// ErrOutside or ErrIrregular where it is one of these.
func (r *Root) Open(name string) (fs.File, error) {
	if !fs.ValidPath(name) {
		return nil, &fs.PathError{Op: "open", Path: name, Err: ErrOutside}
	}
	info, err := r.root.Stat(name)
	if err == nil && !readable(info) {
		err = ErrIrregular
	}
	if err != nil {
		return nil, pathError(name, err)
	}
	// Between the two a pipe may take its place: then opening does not wait for a writer.
	f, err := r.root.OpenFile(name, os.O_RDONLY|syscall.O_NONBLOCK, 0)
	if err != nil {
		return nil, pathError(name, err)
	}
	if info, err = f.Stat(); err == nil && !readable(info) {
		err = ErrIrregular
	}
	if err != nil {
		f.Close()
		return nil, pathError(name, err)
	}
	return f, nil
}

func readable(info fs.FileInfo) bool { return info.IsDir() || info.Mode().IsRegular() }

func pathError(name string, err error) error {
	if strings.Contains(err.Error(), "escapes from parent") { // os.Root has no name for it
		err = ErrOutside
	}
	return &fs.PathError{Op: "open", Path: name, Err: Reason(err)}
}

// Reason is why something was not done with a file, without its name.
func Reason(err error) error {
	var path *fs.PathError
	var link *os.LinkError
	switch {
	case errors.As(err, &path):
		return path.Err
	case errors.As(err, &link):
		return link.Err
	}
	return err
}

// Read reads a file of at most so many bytes: no more is read than that, whatever
// the file says of its size. The error is TooLarge where there are more.
func Read(fsys fs.FS, name string, most int) ([]byte, error) {
	f, err := fsys.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() {
		return nil, &fs.PathError{Op: "read", Path: name, Err: ErrIrregular}
	}
	var data bytes.Buffer
	data.Grow(int(min(info.Size(), int64(most))) + bytes.MinRead)
	if _, err := data.ReadFrom(io.LimitReader(f, int64(most)+1)); err != nil {
		return nil, err
	}
	if data.Len() > most {
		return nil, &TooLarge{most}
	}
	return data.Bytes(), nil
}
