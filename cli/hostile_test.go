package cli_test

import (
	"flag"
	"fmt"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"
)

// judge lets the tests run every command on every design that wastes time or memory:
// those take minutes.
var judge = flag.Bool("judge", false, "run every command on every hostile design")

// page is a design of one page with a button that does go(), and a scenario that presses it.
func page(members string, rest ...string) string {
	view, around := `p "kiln"`, ""
	if len(rest) > 0 && rest[0] != "" {
		view = rest[0]
	}
	if len(rest) > 1 {
		around = rest[1]
	}
	return around + "component k-page {\n" + members + "\n  view { button \"Go\" { click -> go() }; " + view + " }\n}\nstart k-page\nscenario \"s\" { press button \"Go\" }\n"
}

// many writes something for each number below n.
func many(n int, write func(i int) string) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(write(i))
	}
	return b.String()
}

// twice is a chain of n things, each made of the next one two times.
func twice(n int, format, last string) string {
	return many(n, func(i int) string {
		return strings.NewReplacer("$", strconv.Itoa(i), "#", strconv.Itoa(i+1)).Replace(format)
	}) + strings.ReplaceAll(last, "$", strconv.Itoa(n))
}

// hostile are designs that would take more time or memory than anyone has. What lien
// test says of them is given, or "" where they end by themselves.
var hostile = []struct {
	name, text, says string
	quick            bool // it is run by every test
}{
	{"actions that call the next twice", page("holds n: number = 0\n" + twice(22, "action a$() { a#(); a#() }\n", "action a$() { n = n + 1 }\n") + "action go() { a0() }"), "more than 1000000 steps", true},
	{"functions that call the next twice", page("holds n: number = 0\naction go() { n = f40(1) }", "", "derives f0(n: number): number = n\n"+many(40, func(i int) string {
		return fmt.Sprintf("derives f%d(n: number): number = f%d(n) + f%[2]d(n)\n", i+1, i)
	})), "more than 1000000 steps", true},
	{"components that use the next twice", page("action go() { log 1 }", "c-n0 { }", twice(30, "component c-n$ { view { c-n# { }; c-n# { } } }\n", "component c-n$ { view { p \"x\" } }\n")), "256 MB", true},
	{"types that have the next twice", page("holds a: T60? = null\nholds b: T60? = null\naction go() { a = b }", "", "type T0 = { v: number }\n"+many(60, func(i int) string { return fmt.Sprintf("type T%d = { a: T%d, b: T%[2]d }\n", i+1, i) })), "", true},
	{"a record that has itself twice", page("holds s: T? = null\naction go() { "+strings.Repeat("s = { a: s, b: s }; ", 60)+"}", "p `${s == null}`", "type T = { a: T?, b: T? }\n"), "more than 4000000 parts", true},
	{"a type of itself or null", page("holds a: A? = null\naction go() { a = { k: \"0\", n: a } }", "p `${a == null}`", "type A = { k: \"0\", n: A? } | { k: \"1\", n: A? }\n"), "", true},
	{"loops in loops", page("holds n: number = 0\naction go() { for (a of Array.from(3000, i => i)) { for (b of Array.from(3000, i => i)) { n = n + b } } }"), "more than 1000000 steps", true},
	{"many errors", "component k-page { view {\n" + many(50_000, func(i int) string { return fmt.Sprintf("p `${x%d}`\n", i) }) + "} }\nstart k-page\n", "and 49900 more", true},
	{"starts of one name", page("action go() { log 1 }") + many(5000, func(i int) string { return fmt.Sprintf("component s-p%d { view { k-page { } } }\nstart s-p%[1]d\n", i) }), "and 4900 more", false},
	{"listeners that send on", page("action go() { send ping(1) }\nhears ping(n) { send ping(n + 1); send ping(n + 1) }", "", "channel ping(n: number)\n"), "more than 1000 calls", false},
	{"questions at mounting", page("holds n: number = 0\non mount { for (i of Array.from(100000, i => i)) { ask kiln-log.load(i) { got(v) -> n = v } } }\naction go() { n = 1 }", "p `${n}`", "service kiln-log { load(n: number): number replies 1 }\n"), "more than 1000000 steps", false},
	{"timers that are started", page("holds n: number = 0\ntimer t(i: number) after 5 { n = n + 1 }\naction go() { for (i of Array.from(200000, i => i)) { start t(i) } }"), "more than 1000000 steps", false},
	{"what is opened", page("action go() { for (i of Array.from(100000, i => i)) { open modal c-box { dismissed -> log 1 } } }", "", "component c-box { emits dismissed(); view { dialog { open <- true; aria-label <- \"x\"; button \"Leave\" { click -> leave dismissed() } } } }\n"), "MB", false},
	{"a list made anew for each item", page("holds l: number[] = []\naction go() { l = Array.from(100000, i => i).reduce((a, i) => [...a, i], []) }"), "more than 1000000 steps", false},
	{"a text looked into unit by unit", page("holds n: number = 0\nholds t: string = \"x\"\naction go() { t = Array.from(100000, i => \"é\").join(\"\"); for (i of Array.from(100000, i => i)) { n = n + t.charCodeAt(i) } }"), "1 of 1 scenario passed", false},
	{"a text trimmed again and again", page("holds n: number = 0\nholds l: string = \"\".padEnd(900000, \" \")\naction go() { n = Array.from(100000, i => i).filter(x => l.trim() == \"x\").length }"), "more than 1000000 steps", false},
	{"a list joined again and again", page("holds n: number = 0\nholds a: number[] = Array.from(90000, i => i)\naction go() { n = Array.from(100000, i => i).filter(x => a.join(\"\") == \"3\").length }"), "more than 1000000 steps", false},
	{"lists that are compared", page("holds n: number = 0\nholds a: number[] = Array.from(300000, i => i)\nholds b: number[] = Array.from(300000, i => i)\naction go() { n = Array.from(100000, i => i).filter(x => a == b).length }"), "more than 1000000 steps", false},
	{"many long texts", page("holds l: string[] = []\naction go() { l = Array.from(2000, i => `${i}`.padEnd(1000000)) }"), "more than 1000000 steps", false},
	{"a page with a million items", page("holds l: number[] = Array.from(800000, i => i)\naction go() { l = [] }", "each x in l by x { p `${x}` }"), "more than 1000000 steps", false},
	{"a law that goes through millions", page("holds n: number = 0\naction go() { n = n + 1 }", "p `${n}`") + "law \"slow\" { always Array.from(3000, i => Array.from(3000, j => i * j).reduce((a, b) => a + b, 0)).reduce((a, b) => a + b, 0) > the(k-page).n }\n", "more than 1000000 steps", false},
	{"constants that double", page("holds n: number = 0\naction go() { n = c30.length }", "", "const c0: string = \"x\"\n"+many(30, func(i int) string { return fmt.Sprintf("const c%d: string = c%d + c%[2]d\n", i+1, i) })), "more than a million", false},
	{"a text that doubles", page("holds t: string = \"x\"\naction go() { t = t + t }", "p `${t.length}`"), "", false},
	{"many derives", page("holds d0: number = 1\n"+many(20_000, func(i int) string { return fmt.Sprintf("derives d%d = d%d + 1\n", i+1, i) })+"action go() { d0 = d0 + 1 }", "p `${d20000}`"), "1 of 1 scenario passed", false},
	{"many cells that follow each other", page(many(3000, func(i int) string { return fmt.Sprintf("holds n%d: number = 0\n", i) })+"action go() { "+many(3000, func(i int) string { return fmt.Sprintf("n%d = n%d; ", i, (i+1)%3000) })+"}", many(3000, func(i int) string { return fmt.Sprintf("p `${n%d}`; ", i) })), "", false},
	{"many handlers", page("holds n: number = 0\naction go() { n = 1 }", many(5000, func(i int) string { return fmt.Sprintf("button \"Go %d\" { click -> n = %[1]d }; ", i) })+"p `${n}`"), "", false},
	{"components in a long chain", page("action go() { log 1 }", "c-n0 { }", many(5000, func(i int) string { return fmt.Sprintf("component c-n%d { view { c-n%d { } } }\n", i, i+1) })+"component c-n5000 { view { p \"x\" } }\n"), "more than 1000 components", false},
	{"many channels", page(many(2000, func(i int) string { return fmt.Sprintf("hears h%d(n) { log n }\n", i) })+"action go() { "+many(2000, func(i int) string { return fmt.Sprintf("send h%d(1); ", i) })+"}", "", many(2000, func(i int) string { return fmt.Sprintf("channel h%d(n: number)\n", i) })), "", false},
	{"many kinds of record", page("holds a: A? = null\nholds b: B? = null\naction go() { a = b }", "", "type A = "+many(200, func(i int) string { return fmt.Sprintf("| { k: \"%d\", n: A? } ", i) })[2:]+"\ntype B = "+many(200, func(i int) string { return fmt.Sprintf("| { k: \"%d\", n: B? } ", i) })[2:]+"\n"), "", false},
	{"a very long name", page("holds n: number = 0\naction go() { n = " + strings.Repeat("x", 1_000_000) + " }"), "there is no", false},
	{"quotes alone", strings.Repeat(`"`, 2_000_000), "", false},
}

// TestHostile: whatever a design would take, each command ends in time, with what it
// found, and never with a crash.
func TestHostile(t *testing.T) {
	dir := t.TempDir()
	for i, c := range hostile {
		if !c.quick && !*judge {
			continue
		}
		file := fmt.Sprintf("d%d.lien", i)
		write(t, dir, file, c.text)
		commands := [][]string{{"check"}, {"test"}}
		if *judge {
			commands = append(commands, []string{"map"}, []string{"fmt"}, []string{"trace"}, []string{"prove", "--time", "4s"}, []string{"draw", "--force", "--to", "h.svg"}, []string{"check", "--format", "json"})
		}
		for _, args := range commands {
			r := within(t, dir, 15*time.Second, append(args, file)...)
			if args[0] == "test" && !strings.Contains(r.out+r.err, c.says) {
				t.Errorf("%s: lien test does not say %q:\n%s", c.name, c.says, cutText(r.out+r.err))
			}
			if args[0] != "fmt" && args[0] != "check" && len(r.out)+len(r.err) > 4<<20 {
				t.Errorf("%s: lien %v prints %d bytes", c.name, args, len(r.out)+len(r.err))
			}
		}
	}
}

func cutText(s string) string { return s[:min(len(s), 1500)] }

// within runs a command that must not take longer than it may.
func within(t *testing.T, dir string, limit time.Duration, args ...string) result {
	t.Helper()
	var out, errs strings.Builder
	cmd := exec.Command(program, args...)
	cmd.Dir, cmd.Stdout, cmd.Stderr = dir, &out, &errs
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	late := time.AfterFunc(limit, func() { cmd.Process.Kill() })
	cmd.Wait()
	r := result{out.String(), errs.String(), cmd.ProcessState.ExitCode()}
	if !late.Stop() {
		t.Errorf("lien %v was still running after %s", args, limit)
	}
	if strings.Contains(r.err, "goroutine ") {
		t.Errorf("lien %v crashed: %s", args, cutText(r.err))
	}
	return r
}

// TestStops: a proof that is told to stop, or whose time is up, says what it found so
// far, also where a single batch of states would take minutes.
func TestStops(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	write(t, dir, "d.lien", page("holds n: number = 0\naction go() { n = 1 }", many(1500, func(i int) string { return fmt.Sprintf("button \"Go %d\" { click -> n = n + %[1]d }; ", i) })+"p `${n}`"))
	const long = "action go() { n = (n + Array.from(300000, i => i).filter(i => i % 2 == 0).length) % 1001 }" // it is told to stop inside of this
	write(t, dir, "long.lien", page("holds n: number = 0\n"+long, "p `${n}`; button \"Back\" { click -> n = 0 }"))
	for _, c := range []struct {
		args   []string
		signal os.Signal
		says   string
	}{
		{[]string{"prove", "d.lien"}, os.Interrupt, "stopped: what was not visited by then"},
		{[]string{"prove", "d.lien"}, syscall.SIGTERM, "stopped: what was not visited by then"},
		{[]string{"prove", "d.lien", "--time", "1s"}, nil, "time: what 1s were too short for"},
		{[]string{"prove", "long.lien", "--time", "1s"}, nil, "time: what 1s were too short for"},
	} {
		var out strings.Builder
		cmd := exec.Command(program, c.args...)
		cmd.Dir, cmd.Stdout = dir, &out
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		if c.signal != nil {
			time.AfterFunc(time.Second, func() { cmd.Process.Signal(c.signal) })
		}
		late := time.AfterFunc(10*time.Second, func() { cmd.Process.Kill() })
		cmd.Wait()
		if !late.Stop() || !strings.Contains(out.String(), c.says) || strings.Contains(out.String(), "told to stop") {
			t.Errorf("lien %v, %v: %v\n%s", c.args, c.signal, cmd.ProcessState, cutText(out.String()))
		}
	}
}

// TestBudgets: a turn takes what it is given, and no more.
func TestBudgets(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "d.lien", page("holds n: number = 0\naction go() { n = n > 0 ? 0 : Array.from(20000, i => i).filter(i => i % 2 == 0).length }", "p `${n}`"))
	for _, cmd := range []string{"test", "trace", "prove"} {
		lien(t, dir, cmd, "d.lien").want(t, 0)
		lien(t, dir, cmd, "d.lien", "--work", "30000").want(t, 1, "more than 30000 steps")
		lien(t, dir, cmd, "d.lien", "--work", "0").want(t, 2, "a number above 0")
	}
	write(t, dir, "e.lien", page("holds t: string = \"\"\naction go() { for (i of Array.from(50, i => i)) { t = \"\".padEnd(500000, `${i}`) } }", "p `${t.length}`"))
	lien(t, dir, "test", "e.lien").want(t, 0)
	lien(t, dir, "test", "e.lien", "--room", "10").want(t, 1, "more than 10 MB")
}
