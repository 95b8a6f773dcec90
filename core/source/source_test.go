package source

import "testing"

func TestPositions(t *testing.T) {
	s := NewSet()
	a := s.Add("a.lien", "one\ntwo é x\n")
	b := s.Add("b.lien", "\ufeffthree\r\nfour")
	for _, c := range []struct {
		file *File
		off  int
		want string
	}{
		{a, 0, "a.lien:1:1"},
		{a, 3, "a.lien:1:4"},
		{a, 4, "a.lien:2:1"},
		{a, 11, "a.lien:2:7"},
		{a, 13, "a.lien:3:1"},
		{b, 0, "b.lien:1:1"},
		{b, 7, "b.lien:2:1"},
		{b, 11, "b.lien:2:5"},
	} {
		if got := s.Position(c.file.Pos(c.off)).String(); got != c.want {
			t.Errorf("byte %d of %s is at %s, want %s", c.off, c.file.Name, got, c.want)
		}
		if s.File(c.file.Pos(c.off)) != c.file {
			t.Errorf("byte %d of %s is in another file", c.off, c.file.Name)
		}
	}
	if s.Position(0).String() != "-" || s.File(0) != nil {
		t.Error("no place has a position")
	}
	if a.Line(2) != "two é x" || b.Line(1) != "three" || b.Line(9) != "" || b.Lines() != 2 {
		t.Errorf("lines: %q %q %q", a.Line(2), b.Line(1), b.Line(9))
	}
	if got := a.Slice(a.Pos(4), a.Pos(7)); got != "two" {
		t.Errorf("the slice is %q", got)
	}
}
