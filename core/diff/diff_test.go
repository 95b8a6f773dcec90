package diff

import (
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

func TestUnified(t *testing.T) {
	got := Unified("a", "b", "one\ntwo\nthree\n", "one\n2\nthree\nfour")
	want := "--- a\n+++ b\n@@ -1,3 +1,4 @@\n one\n-two\n+2\n three\n+four\n\\ No newline at end of file\n"
	if got != want {
		t.Errorf("got:\n%s\nwant:\n%s", got, want)
	}
	if Unified("a", "b", "x", "x") != "" {
		t.Error("equal texts differ")
	}
}

// TestPatch: the diff of random texts turns one into the other.
func TestPatch(t *testing.T) {
	patch, err := exec.LookPath("patch")
	if err != nil {
		t.Skip("there is no patch to try it with")
	}
	r := rand.New(rand.NewSource(1))
	text := func() string {
		var b strings.Builder
		for range r.Intn(40) {
			b.WriteString(strings.Repeat(string(rune('a'+r.Intn(4))), 1+r.Intn(2)) + "\n")
		}
		return b.String() + "end\n"
	}
	dir := t.TempDir()
	for range 50 {
		a, b := text(), text()
		file := filepath.Join(dir, "f")
		if err := os.WriteFile(file, []byte(a), 0o644); err != nil {
			t.Fatal(err)
		}
		cmd := exec.Command(patch, "-s", file)
		cmd.Stdin = strings.NewReader(Unified("f", "f", a, b))
		out, err := cmd.CombinedOutput()
		got, _ := os.ReadFile(file)
		if a != b && (err != nil || string(got) != b) {
			t.Fatalf("%v %s\n%q\n%q\n%q", err, out, a, b, got)
		}
	}
}
