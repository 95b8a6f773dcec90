package cli

import (
	"io"
	"os"
)

// stream is where something is written to. It keeps the first error, so that what was
// lost on a full disk is told at the end, whoever wrote it.
type stream struct {
	to  io.Writer
	err error
}

func (s *stream) Write(p []byte) (int, error) {
	n, err := s.to.Write(p)
	if s.err == nil {
		s.err = err
	}
	return n, err
}

// close closes a file, which may be when a disk turns out to be full.
func (s *stream) close() error {
	if f, ok := s.to.(*os.File); ok {
		if err := f.Close(); s.err == nil {
			s.err = err
		}
	}
	return s.err
}

// fileOf is the file that is written to, or nil.
func fileOf(w io.Writer) *os.File {
	if s, ok := w.(*stream); ok {
		w = s.to
	}
	f, _ := w.(*os.File)
	return f
}

// isNothing says whether an input is the null device, which stands in for one that
// is closed.
func isNothing(r io.Reader) bool {
	f, ok := r.(*os.File)
	if !ok {
		return false
	}
	is, err := f.Stat()
	none, missing := os.Stat(os.DevNull)
	return err != nil || missing == nil && os.SameFile(is, none)
}
