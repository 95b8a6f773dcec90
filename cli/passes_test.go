package cli_test

import (
	"fmt"
	"strings"
	"testing"
)

// searching is a page of parts that ask, of which two are open and many boxes stand
// beside them.
func searching(boxes int) string {
	var cells, view strings.Builder
	for i := range boxes {
		fmt.Fprintf(&cells, "  holds b%d: boolean = false\n", i)
		fmt.Fprintf(&view, "    label { input { type <- \"checkbox\"; checked <-> b%d }; \"shelf %d\" }\n", i, i)
	}
	return `service kiln-log {
  load(k: number): number replies k
  look(): number replies 1
}

component find-part {
  takes nr: number
  holds got: number = 0
  view {
    button ~load ${nr}~ { click -> ask kiln-log.load(nr) { got(k) -> got = k } }
    button ~look ${nr}~ { click -> ask kiln-log.look() { got(k) -> got = k } }
    p ~${got}~
  }
}

component kiln-page {
` + cells.String() + `  view {
    find-part { nr <- 1 }
    find-part { nr <- 2 }
` + view.String() + `  }
}

start kiln-page

law "few" { always all(find-part).every(f => f.got < 3) }
`
}

// TestProvePasses: every reduction is told in one order, in text and in JSON, is used
// or says why not, and comes to the same verdicts when it is turned off.
func TestProvePasses(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "page.lien", strings.ReplaceAll(searching(1), "~", "`"))
	type report struct {
		Verdicts []struct{ Name, Verdict string }
		Starts   []struct {
			States     int
			Reductions []struct {
				Name, Why string
				Used      bool
			}
		}
	}
	prove := func(more ...string) (r report, verdicts string) {
		t.Helper()
		decode(t, lien(t, dir, append([]string{"prove", "page.lien", "--asks", "2", "--format", "json"}, more...)...).out, &r)
		for _, l := range r.Verdicts {
			verdicts += l.Name + " " + l.Verdict + "; "
		}
		return r, verdicts
	}
	all, want := prove()
	if len(all.Verdicts) != 9 {
		t.Errorf("it says %s", want)
	}
	var names []string
	for _, p := range all.Starts[0].Reductions {
		names = append(names, p.Name)
		if p.Used != (p.Why == "") {
			t.Errorf("%s is used: %v, since %q", p.Name, p.Used, p.Why)
		}
		less, got := prove("--disable", p.Name)
		if got != want {
			t.Errorf("without %s it says\n%s\nwith it\n%s", p.Name, got, want)
		}
		if less.Starts[0].States < all.Starts[0].States {
			t.Errorf("without %s there are %d states, with it %d", p.Name, less.Starts[0].States, all.Starts[0].States)
		}
		for _, q := range less.Starts[0].Reductions {
			if q.Name == p.Name && (q.Used || q.Why != "it was disabled") {
				t.Errorf("%s is disabled, and says used %v, %q", q.Name, q.Used, q.Why)
			}
		}
	}
	if got := strings.Join(names, " "); got != "lazy memory order slices folds partition symmetry" {
		t.Errorf("the reductions are %s", got)
	}
	plain, got := prove("--plain")
	if got != want || plain.Starts[0].States <= all.Starts[0].States {
		t.Errorf("plainly it says\n%s\nin %d states, and else\n%s\nin %d", got, plain.Starts[0].States, want, all.Starts[0].States)
	}
	for _, p := range plain.Starts[0].Reductions {
		if p.Used != (p.Name == "lazy" || p.Name == "memory") {
			t.Errorf("plainly %s is used: %v", p.Name, p.Used)
		}
	}
}

// TestProveMemory: a proof that needs more than it is given is cut, says so, and is
// not sure of what it did not see.
func TestProveMemory(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "page.lien", strings.ReplaceAll(searching(16), "~", "`"))
	lien(t, dir, "prove", "page.lien", "--plain", "--memory", "1", "--states", "100000000").want(t, 0, `holds within  law "few"`, "memory: what 1 MB have no room for")
	lien(t, dir, "prove", "page.lien", "--memory", "0").want(t, 2, "--memory")
}
