package source

import (
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
)

// TestRoot: what is opened lies in the folder once all links are followed, and is a file.
func TestRoot(t *testing.T) {
	dir, outside := t.TempDir(), t.TempDir()
	for path, text := range map[string]string{dir + "/d.lien": "in", outside + "/o.lien": "out"} {
		if err := os.WriteFile(path, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	os.MkdirAll(dir+"/sub", 0o755)
	for name, to := range map[string]string{"out.lien": outside + "/o.lien", "folder": outside, "up.lien": "../" + filepath.Base(outside) + "/o.lien", "in.lien": "d.lien", "sub/in.lien": "../d.lien", "abs.lien": dir + "/d.lien"} {
		if err := os.Symlink(to, filepath.Join(dir, name)); err != nil {
			t.Skip(err)
		}
	}
	r, err := OpenRoot(dir)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	for _, c := range []struct {
		name string
		err  error
	}{
		{"d.lien", nil}, {"in.lien", nil}, {"sub/in.lien", nil}, {"none", fs.ErrNotExist}, {"sub", ErrIrregular},
		{"out.lien", ErrOutside}, {"up.lien", ErrOutside}, {"folder/o.lien", ErrOutside}, {"abs.lien", ErrOutside},
		{"../" + filepath.Base(outside) + "/o.lien", ErrOutside}, {"/etc/passwd", ErrOutside}, {"sub/../d.lien", ErrOutside},
	} {
		text, err := Read(r, c.name, 100)
		if !errors.Is(err, c.err) || c.err == nil && string(text) != "in" {
			t.Errorf("%s: %q, %v, want %v", c.name, text, err, c.err)
		}
	}
}

// TestRead: no more is read than may be, whatever a file says of its size.
func TestRead(t *testing.T) {
	files := fstest.MapFS{"d": {Data: []byte(strings.Repeat("x", 100))}}
	if data, err := Read(files, "d", 100); err != nil || len(data) != 100 {
		t.Errorf("%d bytes, %v", len(data), err)
	}
	var large *TooLarge
	if data, err := Read(files, "d", 99); !errors.As(err, &large) || large.Max != 99 || data != nil {
		t.Errorf("%d bytes, %v", len(data), err)
	}
	if _, err := Read(files, ".", 99); !errors.Is(err, ErrIrregular) {
		t.Errorf("a folder: %v", err)
	}
}

// TestVisible: what does something to a terminal, or cannot be seen, is written out.
func TestVisible(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"kiln\n\tBrüte · 窯 👩‍🎨", "kiln\n\tBrüte · 窯 👩‍🎨"},
		{"\x1b[31m", `\u001b[31m`}, {"a\rb", `a\u000db`}, {"\x00\x7f", `\u0000\u007f`}, {"\u009b2J", `\u009b2J`},
		{"\u202egpj", `\u202egpj`}, {"a\u2066b\u200f\u061c", `a\u2066b\u200f\u061c`}, {"\u2028\ufeff", `\u2028\ufeff`},
		{"\xff\xfeok", `\xff\xfeok`}, {"\ufffd", `\ufffd`}, {"\U000e0041", `\u{e0041}`}, {"", ""},
	} {
		if got := Visible(c.text); got != c.want {
			t.Errorf("%q: %q, want %q", c.text, got, c.want)
		}
		if got := Visible(Visible(c.text)); got != c.want {
			t.Errorf("%q twice: %q", c.text, got)
		}
	}
}
