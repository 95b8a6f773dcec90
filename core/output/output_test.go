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
	for path, text := range map[string]string{
		"a.svg": "<svg></svg>", "a.html": "<!doctype html><p>", "a.pdf": "%PDF-1.4\n%%EOF", "a.json": "{\n  \"a\": 1\n}\n", "a.png": shot.String(),
		"a.js": "// A module.\nexport {};\n", "a.min.js": "export{};", "a.d.ts": "", "a.css": "{}",
	} {
		marked := Mark(path, []byte(text))
		if !IsMarked(path, marked) || IsMarked(path, []byte(text)) {
			t.Errorf("%q: marked %v, before %v", text, IsMarked(path, marked), IsMarked(path, []byte(text)))
		}
		for i := range marked {
			other := bytes.Clone(marked)
			if other[i] ^= 1; IsMarked(path, other) {
				t.Errorf("%q: a change of byte %d is not seen", text, i)
			}
		}
		if IsMarked(path, append(marked, ' ')) || IsMarked(path, marked[:len(marked)-1]) {
			t.Errorf("%q: another end is not seen", text)
		}
	}
	if _, err := png.Decode(bytes.NewReader(Mark("a.png", shot.Bytes()))); err != nil {
		t.Errorf("the picture cannot be read any more: %v", err)
	}
	if text := []byte("component a-b { }"); !bytes.Equal(Mark("a.lien", text), text) || IsMarked("a.lien", text) {
		t.Error("a text has a mark")
	}
}

// TestChange: a text is written in place of the one that was read, and of no other.
func TestChange(t *testing.T) {
	path := filepath.Join(t.TempDir(), "d.lien")
	os.WriteFile(path, []byte("was"), 0o600)
	var refused *Refused
	if err := Change(Text{path, []byte("other"), []byte("is")}); !errors.As(err, &refused) || !strings.Contains(refused.Why, "in the meantime") {
		t.Errorf("a file that changed: %v", err)
	}
	if err := Change(Text{path, []byte("was"), []byte("is")}); err != nil {
		t.Error(err)
	}
	if got, _ := os.ReadFile(path); string(got) != "is" {
		t.Errorf("it is %q", got)
	}
	if err := Change(Text{path + "x", nil, []byte("is")}); err == nil {
		t.Error("a file that is not there was changed")
	}
	if err := New(path, []byte("is")); err != nil {
		t.Errorf("the same text: %v", err)
	}
	if err := New(path, []byte("new")); !errors.As(err, &refused) {
		t.Errorf("another text: %v", err)
	}
}

// TestAllOrNone: of several files none is written if one has another text by now, or cannot be written.
func TestAllOrNone(t *testing.T) {
	dir := t.TempDir()
	list := []Text{}
	for _, name := range []string{"a", "b", "c"} {
		path := filepath.Join(dir, name)
		os.WriteFile(path, []byte("was"), 0o600)
		list = append(list, Text{path, []byte("was"), []byte("is")})
	}
	all := func() (texts string) {
		for _, l := range list {
			got, _ := os.ReadFile(l.Path)
			texts += string(got) + " "
		}
		return texts
	}
	os.WriteFile(list[2].Path, []byte("other"), 0o600)
	var refused *Refused
	if err := Change(list...); !errors.As(err, &refused) || all() != "was was other " {
		t.Errorf("%v: %s", err, all())
	}
	os.Remove(list[2].Path)
	os.Mkdir(list[2].Path, 0o700)
	if err := Change(list...); err == nil || all() != "was was  " {
		t.Errorf("%v: %s", err, all())
	}
	os.Remove(list[2].Path)
	os.WriteFile(list[2].Path, []byte("was"), 0o600)
	if err := Change(list...); err != nil || all() != "is is is " {
		t.Errorf("%v: %s", err, all())
	}
}

// TestNothingLeftBehind: a file that cannot be written leaves no other one.
func TestNothingLeftBehind(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "d.lien")
	os.WriteFile(path, []byte("was"), 0o444)
	err := Change(Text{path, []byte("was"), []byte("is")})
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
