package drive

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
)

var (
	mustDrive = flag.Bool("judge", false, "a browser has to be there, and many more pages are tried")
	oneSample = flag.String("sample", "", "only pages whose file, line and name contain this")
)

// TestPagesAgree: on the pages of testdata/pages the simulated page and a real browser hear the
// same events in the same order, and come to the same state.
func TestPagesAgree(t *testing.T) {
	d := startDriver(t)
	files, err := filepath.Glob("testdata/pages/*.page")
	if err != nil || len(files) < 5 {
		t.Fatalf("%d files of pages: %v", len(files), err)
	}
	var all []*sample
	for _, f := range files {
		all = append(all, samples(t, f)...)
	}
	if !*mustDrive && !*record && *oneSample == "" { // the others are held to what was recorded
		all = slices.DeleteFunc(all, func(s *sample) bool { return s.line%20 != 0 })
	}
	heard := map[string]string{}
	var mu sync.Mutex
	todo := make(chan *sample)
	var wait sync.WaitGroup
	for range windows() {
		b := openBrowser(t, d)
		wait.Go(func() {
			for s := range todo {
				did := agree(t, b, s)
				mu.Lock()
				heard[s.String()] = did
				mu.Unlock()
			}
		})
	}
	for _, s := range all {
		if strings.Contains(s.String(), *oneSample) {
			todo <- s
		}
	}
	close(todo)
	wait.Wait()
	if *record {
		for _, f := range files {
			var out strings.Builder
			for _, s := range samples(t, f) {
				out.WriteString(heard[s.String()])
			}
			if err := os.WriteFile(recordOf(f), []byte(out.String()), 0o644); err != nil {
				t.Fatal(err)
			}
		}
	}
}

// windows are how many are open side by side, since most of the time is spent waiting for pages to
// be drawn.
func windows() int {
	if *mustDrive || *record {
		return 6
	}
	return 3
}

// agree holds the two against each other, and gives what the browser did.
func agree(t *testing.T, b browser, s *sample) string {
	want, err := b.run(s)
	if err != nil {
		t.Errorf("%s: in the browser: %v", s, err)
		return ""
	}
	got, err := simulate(s)
	if err != nil {
		t.Errorf("%s: %v", s, err)
		return ""
	}
	if d := differ(s, want, got); d != "" {
		t.Errorf("%s\n%s", s, d)
	}
	return written(s, want)
}

// differ shows the first gesture after which two runs differ.
func differ(s *sample, browser, simulated [][]string) string {
	for i := range browser {
		if slices.Equal(browser[i], simulated[i]) {
			continue
		}
		at := "at the beginning"
		if i > 0 {
			at = "> " + s.gestures[i-1].String()
		}
		return fmt.Sprintf("%s\n%s", at, sideBySide(browser[i], simulated[i]))
	}
	return ""
}

func sideBySide(a, b []string) string {
	var out strings.Builder
	for i := range max(len(a), len(b)) {
		var x, y string
		if i < len(a) {
			x = a[i]
		}
		if i < len(b) {
			y = b[i]
		}
		mark := " "
		if x != y {
			mark = "!"
		}
		fmt.Fprintf(&out, "  %s %-36s %s\n", mark, x, y)
	}
	return out.String()
}
