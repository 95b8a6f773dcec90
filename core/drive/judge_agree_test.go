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

	"lien/core/drive/webdriver"
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
	all = slices.DeleteFunc(all, func(s *sample) bool { return !strings.Contains(s.String(), *oneSample) })
	heard := map[string]string{}
	var mu sync.Mutex
	inWindows(t, d, len(all), func(b browser, job int) string {
		did, differs := agree(b, all[job])
		mu.Lock()
		heard[all[job].String()] = did
		mu.Unlock()
		return differs
	})
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

// inWindows does jobs in several browsers side by side. What differs there is looked at again alone, three times at most:
// where a busy machine makes pauses between two gestures, a browser takes two presses for single ones, or draws late.
func inWindows(t *testing.T, d *webdriver.Driver, jobs int, do func(b browser, job int) (differs string)) {
	var mu sync.Mutex
	var again []int
	todo := make(chan int)
	var wait sync.WaitGroup
	for range windows() {
		b := openBrowser(t, d)
		wait.Go(func() {
			for job := range todo {
				if do(b, job) == "" {
					continue
				}
				mu.Lock()
				again = append(again, job)
				mu.Unlock()
			}
		})
	}
	for job := range jobs {
		todo <- job
	}
	close(todo)
	wait.Wait()
	if len(again) > mayDiffer+jobs/20 {
		t.Errorf("%d of %d pages differ", len(again), jobs)
		again = again[:mayDiffer]
	}
	t.Logf("%d of %d pages are looked at again, alone", len(again), jobs)
	slices.Sort(again)
	for _, job := range again {
		alone(t, openBrowser(t, d), job, do)
	}
}

// mayDiffer are so many pages that a busy machine may make differ, beside one in twenty.
const mayDiffer = 8

func alone(t *testing.T, b browser, job int, do func(b browser, job int) string) {
	var differs string
	for range 3 {
		if differs = do(b, job); differs == "" {
			return
		}
	}
	t.Error(differs)
}

// agree holds the two against each other, and gives what the browser did and how they differ.
func agree(b browser, s *sample) (did, differs string) {
	want, err := b.run(s)
	if err != nil {
		return "", fmt.Sprintf("%s: in the browser: %v", s, err)
	}
	got, err := simulate(s)
	if err != nil {
		return "", fmt.Sprintf("%s: %v", s, err)
	}
	if d := differ(s, want, got); d != "" {
		return written(s, want), fmt.Sprintf("%s\n%s", s, d)
	}
	return written(s, want), ""
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
