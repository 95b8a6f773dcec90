package output

import (
	"bytes"
	"errors"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// TestMark: what was made here is known as long as nobody changes a byte of it.
func TestMark(t *testing.T) {
	var shot bytes.Buffer
	if err := png.Encode(&shot, image.NewGray(image.Rect(0, 0, 3, 2))); err != nil {
		t.Fatal(err)
	}
	for _, text := range []string{"<svg></svg>", "<!doctype html><p>", "%PDF-1.4\n%%EOF", shot.String()} {
		marked := Mark([]byte(text))
		if !IsMarked(marked) || IsMarked([]byte(text)) {
			t.Errorf("%q: marked %v, before %v", text, IsMarked(marked), IsMarked([]byte(text)))
		}
		for i := range marked {
			other := bytes.Clone(marked)
			if other[i] ^= 1; IsMarked(other) {
				t.Errorf("%q: a change of byte %d is not seen", text, i)
			}
		}
		if IsMarked(append(marked, ' ')) || IsMarked(marked[:len(marked)-1]) {
			t.Errorf("%q: another end is not seen", text)
		}
	}
	if _, err := png.Decode(bytes.NewReader(Mark(shot.Bytes()))); err != nil {
		t.Errorf("the picture cannot be read any more: %v", err)
	}
	if text := []byte("component a-b { }"); !bytes.Equal(Mark(text), text) || IsMarked(text) {
		t.Error("a text has a mark")
	}
}

// TestChange: a text is written in place of the one that was read, and of no other.
func TestChange(t *testing.T) {
	path := filepath.Join(t.TempDir(), "d.lien")
	os.WriteFile(path, []byte("was"), 0o600)
	var refused *Refused
	if err := Change(path, []byte("other"), []byte("is")); !errors.As(err, &refused) || !strings.Contains(refused.Why, "in the meantime") {
		t.Errorf("a file that changed: %v", err)
	}
	if err := Change(path, []byte("was"), []byte("is")); err != nil {
		t.Error(err)
	}
	if got, _ := os.ReadFile(path); string(got) != "is" {
		t.Errorf("it is %q", got)
	}
	if err := Change(path+"x", nil, []byte("is")); err == nil {
		t.Error("a file that is not there was changed")
	}
	if err := New(path, []byte("is")); err != nil {
		t.Errorf("the same text: %v", err)
	}
	if err := New(path, []byte("new")); !errors.As(err, &refused) {
		t.Errorf("another text: %v", err)
	}
}

// TestNothingLeftBehind: a file that cannot be written leaves no other one.
func TestNothingLeftBehind(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "d.lien")
	os.WriteFile(path, []byte("was"), 0o444)
	err := Change(path, []byte("was"), []byte("is"))
	got, _ := os.ReadFile(path)
	if entries, _ := os.ReadDir(dir); len(entries) != 1 {
		t.Errorf("there are %v", entries)
	}
	if os.Geteuid() != 0 && (err == nil || string(got) != "was") {
		t.Errorf("a file that may not be written is %q, %v", got, err)
	}
	if err := Make(filepath.Join(dir, "none", "h.svg"), []byte("<svg/>"), false); err == nil || !strings.Contains(err.Error(), "no folder") {
		t.Errorf("a folder that is not there: %v", err)
	}
}
