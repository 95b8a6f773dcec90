package cli

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/explore"
	"lien/core/finding"
	"lien/core/output"
	"lien/core/prove"
	"lien/core/source"
	"lien/core/story"
	"lien/core/syntax"
	"lien/core/value"
)

func proveCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "prove",
		Usage:     "visit every state that can be reached, and hold the laws against each",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			formatFlag("text", "json", "junit"),
			&cli.StringFlag{Name: "start", Usage: "begin at the start of this `NAME` only"},
			&cli.IntFlag{Name: "states", Usage: "visit at most `N` states", Value: 300_000},
			&cli.IntFlag{Name: "depth", Usage: "at most `N` steps in a row", DefaultText: "no bound"},
			&cli.DurationFlag{Name: "span", Usage: "hold laws over time for `D` from the start", Value: time.Minute},
			&cli.DurationFlag{Name: "time", Usage: "go on for at most `D`, such as 30s or 5m", DefaultText: "no bound"},
			&cli.IntFlag{Name: "memory", Usage: "at most `MB` for the states", Value: 1024},
			&cli.IntFlag{Name: "asks", Usage: "at most `N` questions that wait at a time", Value: 3},
			&cli.StringSliceFlag{Name: "without", Usage: "leave out the promise `NAME`; may be repeated"},
			&cli.StringSliceFlag{Name: "disable", Usage: "do without the reduction `NAME`; may be repeated"},
			&cli.BoolFlag{Name: "explain", Usage: "tell which reductions were used, and why others were not"},
			&cli.BoolFlag{Name: "plain", Usage: "no reductions: every state by itself"},
			&cli.StringFlag{Name: "keep", Usage: "add what breaks a law to `FILE`, as a scenario"},
			&cli.BoolFlag{Name: "suggest", Usage: "write scenarios for what none touches"},
		},
		Description: `Visits every state that users, time and the services can bring the design into,
and checks its laws there, and what every design promises without saying so.
The promises:
` + promiseList() + `
` + fmt.Sprintf("The %d reductions, none of which changes a verdict:", len(prove.Passes)) + `
` + passList() + `
What is broken is shown by a shortest scenario. A verdict "holds" means that
nothing was left out; whatever was is listed.

Example, on the demo:
  lien demo --to kiln
  lien prove kiln
  lien prove kiln --depth 4 --without dead-end --suggest`,
		Action: func(ctx context.Context, c *cli.Command) error { return runProve(ctx, t, c) },
	}
}

// passList are the reductions; docs/soundness.md has a chapter for each.
func passList() string {
	var out strings.Builder
	for _, p := range prove.Passes {
		fmt.Fprintf(&out, "  %-13s %s\n", p.Name, p.Says)
	}
	return out.String()
}

func promiseList() string {
	var out strings.Builder
	for _, p := range prove.Promises {
		fmt.Fprintf(&out, "  %-13s %s\n", p.Name, p.Says)
	}
	return out.String()
}

func runProve(ctx context.Context, t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	o, err := proveOptions(c)
	if err != nil {
		return err
	}
	d, err := loadRunnable(t, c)
	if err != nil {
		return err
	}
	if len(d.Starts) == 0 {
		return usagef("write start and the name of the component that holds the page", "the design has no start, so there is nothing to prove")
	}
	if name := c.String("start"); c.IsSet("start") {
		if err := pickStart(d, &o, name); err != nil {
			return err
		}
	}
	stop, cancel := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer cancel()
	defer t.endSoon(stop, cancel, o.Time)()
	o.Stop = stop
	o.Progress = t.proveProgress()
	rep := prove.Run(d, o)
	t.clearProgress()
	return t.proved(d, rep, c)
}

// patience is how long a proof may take to end once it was told to.
const patience = 3 * time.Second

// endSoon sees to it that a proof ends some time after it was told to, or its time is
// up: what is left then, such as finding out what depends on what, is not waited for,
// and a second signal ends it at once.
func (t *terminal) endSoon(stop context.Context, cancel context.CancelFunc, limit time.Duration) (ended func()) {
	end := func() {
		t.clearProgress()
		t.note("stopped before there was anything to tell")
		os.Exit(statusUnusable)
	}
	var timers []*time.Timer
	if limit > 0 {
		timers = append(timers, time.AfterFunc(limit+patience, end))
	}
	told := context.AfterFunc(stop, func() {
		cancel()
		time.AfterFunc(patience, end)
	})
	return func() {
		told()
		for _, timer := range timers {
			timer.Stop()
		}
	}
}

func (t *terminal) proved(d *design.Design, rep *prove.Report, c *cli.Command) error {
	var err error
	switch c.String("format") {
	case "json":
		err = t.json(proofJSON(d, rep))
	case "junit":
		err = t.proofJUnit(d, rep)
	default:
		t.proof(d, rep, c.Bool("explain"))
	}
	if err == nil && c.IsSet("keep") {
		err = t.keepBroken(d, rep, c.String("keep"))
	}
	if err == nil && rep.Failed() {
		return failed
	}
	return err
}

func proveOptions(c *cli.Command) (prove.Options, error) {
	o := prove.Options{States: c.Int("states"), Depth: c.Int("depth"), Time: c.Duration("time"), Span: c.Duration("span"), Memory: c.Int("memory") << 20,
		Asks: c.Int("asks"), Plain: c.Bool("plain"), Suggest: c.Bool("suggest"), Off: map[string]bool{}, Disabled: map[string]bool{}}
	if err := namesOf(c, "disable", "reduction", passNames(), o.Disabled); err != nil {
		return o, err
	}
	for _, f := range []struct {
		name string
		n    int
	}{{"states", o.States}, {"memory", o.Memory}, {"asks", o.Asks}} {
		if f.n < 1 {
			return o, usagef("write a number from 1 on", "--%s %d leaves nothing to visit", f.name, c.Int(f.name))
		}
	}
	if o.Span <= 0 {
		return o, usagef("write how long, such as 30s", "--span %s leaves nothing to visit", o.Span)
	}
	if o.Depth < 0 || o.Time < 0 {
		return o, usagef("leave it out for no bound", "--depth and --time cannot be less than nothing")
	}
	return o, namesOf(c, "without", "promise", promiseNames(), o.Off)
}

// namesOf puts the names that an option gives into a set; each has to be known.
func namesOf(c *cli.Command, option, what string, known []string, set map[string]bool) error {
	for _, name := range c.StringSlice(option) {
		if !slices.Contains(known, name) {
			return usagef(didYouMean(name, known, "the "+what+"s are: "), "there is no %s %s", what, name)
		}
		set[name] = true
	}
	return nil
}

func passNames() (names []string) {
	for _, p := range prove.Passes {
		names = append(names, p.Name)
	}
	return names
}

func promiseNames() (names []string) {
	for _, p := range prove.Promises {
		names = append(names, p.Name)
	}
	return names
}

func pickStart(d *design.Design, o *prove.Options, name string) error {
	var names []string
	for _, s := range d.Starts {
		if s.Name == name {
			o.Starts = func(x *design.Start) bool { return x == s }
			return nil
		}
		names = append(names, quoted(s.Name))
	}
	return usagef("the starts are: "+strings.Join(names, ", "), "there is no start %q", name)
}

// proveProgress tells how far a proof has come, on a terminal.
func (t *terminal) proveProgress() func(prove.Progress) {
	if !isTerminal(t.Err) {
		return nil
	}
	return func(p prove.Progress) {
		rate := float64(p.States) / max(p.Elapsed.Seconds(), 0.001)
		line := fmt.Sprintf("%d states, %d turns, %d to go on from, %.0f states a second; Ctrl-C stops", p.States, p.Turns, p.Frontier, rate)
		io.WriteString(t.Err, eraseLine+cut(line, t.width()-1))
	}
}

// eraseLine goes to the start of a terminal's line and erases it (ECMA-48).
const eraseLine = "\r\x1b[K"

func (t *terminal) clearProgress() {
	if isTerminal(t.Err) {
		io.WriteString(t.Err, eraseLine)
	}
}

// proof prints the verdicts, what was cut, how what is broken comes about, and
// what was learned on the way.
func (t *terminal) proof(d *design.Design, rep *prove.Report, explain bool) {
	for _, o := range rep.Laws {
		line := t.proofVerdict(o.Verdict) + "  "
		if o.Law != nil {
			line += cut(title(o), t.width()-14)
		} else {
			line += pad(title(o), 13) + "  " + t.paint(dim, cut(o.Promise.Says, t.width()-29))
		}
		t.printf("%s\n", line)
		if o.Why != "" {
			t.printf("              %s\n", o.Why)
		}
	}
	for _, o := range rep.Laws {
		if o.Breach != nil {
			t.breach(d, o, o.Breach)
			t.otherBreaches(d, o)
		}
	}
	t.problems(d, rep)
	t.spaces(rep)
	if explain {
		t.passes(rep)
	}
	t.wrapped("not looked at", rep.Cuts)
	t.block("learned on the way", rep.Learned)
	if rep.Coverage != nil {
		t.coverage(d, rep.Coverage)
	}
	t.printf("\n%s\n", proofTally(rep))
}

// passes prints which reductions were used, and why others were not.
func (t *terminal) passes(rep *prove.Report) {
	for _, s := range rep.Starts {
		var lines []string
		for _, u := range s.Passes {
			if u.Used {
				lines = append(lines, u.Pass.Name+": "+u.Pass.Says)
			} else {
				lines = append(lines, u.Pass.Name+": not used, "+u.Why)
			}
		}
		t.wrapped("reductions (docs/soundness.md has the argument for each)", lines)
	}
}

// problems prints what is wrong with what the design says is typed.
func (t *terminal) problems(d *design.Design, rep *prove.Report) {
	for _, f := range rep.Problems {
		t.printf("\n")
		t.finding(d, f, false)
	}
}

func title(o *prove.Outcome) string {
	if o.Law != nil {
		return "law " + quoted(o.Law.Name)
	}
	return o.Promise.Name
}

func (t *terminal) proofVerdict(v prove.Verdict) string {
	text := pad(string(v), 12)
	switch v {
	case prove.Broken:
		return t.paint(red, pad("BROKEN", 12))
	case prove.Unclear:
		return t.paint(yellow, text)
	case prove.HoldsWithin:
		return t.paint(yellow, text)
	}
	return t.paint(green, text)
}

// breach prints what is broken: where, the shortest scenario, the state
// before its last step and after.
func (t *terminal) breach(d *design.Design, o *prove.Outcome, b *prove.Breach) {
	t.printf("\n%s: %s: %s\n", t.paint(bold, d.Set.Position(b.At.Start).String()), t.paint(red, title(o)), b.Message)
	t.spot(d, b.At)
	p := b.Path
	if p == nil {
		return
	}
	fewest := ", the fewest there are"
	if o.Within {
		fewest = ", the fewest of what was looked at"
	}
	t.labelled("by", finding.Count(len(p.Steps), "step")+fewest)
	for _, line := range strings.Split(strings.TrimSuffix(p.Scenario(d, o.Name()), "\n"), "\n") {
		t.printf("     %s\n", line)
	}
	if !p.Real {
		t.labelled("note", "no real times were found that lead there: the order of timers and answers is one that a slow page could show")
	}
	if p.Saw != "" {
		t.labelled("saw", p.Saw)
	}
	var did []string
	for _, r := range story.Fold(p.Turns) {
		did = append(did, story.TurnLines(r)...)
	}
	t.block("what the last step did", did)
	if len(p.Steps) == 0 {
		t.block("the state", stateLines(cellsOf(p.After), false))
		return
	}
	t.block("the state before it", stateLines(cellsOf(p.Before), false))
	t.block("the state after it, where it differs", stateLines(changed(cellsOf(p.Before), cellsOf(p.After)), false))
}

// cellsOf leaves out what is linked or worked out: with the cells it is known.
func cellsOf(state []story.Holder) []story.Holder {
	var list []story.Holder
	for _, h := range state {
		cells := slices.DeleteFunc(slices.Clone(h.Cells), func(c engine.Cell) bool {
			return c.Kind != design.Holds && c.Kind != design.Shares
		})
		if len(cells) > 0 {
			list = append(list, story.Holder{Path: h.Path, Cells: cells})
		}
	}
	return list
}

// changed are the cells that differ from before, by their holders; all of a
// holder that is new. Of several with one path the first is taken for the first.
func changed(before, after []story.Holder) []story.Holder {
	type key struct {
		path  string
		place int
		cell  string
	}
	was, seen := map[key]value.Value{}, map[string]int{}
	for _, h := range before {
		seen[h.Path]++
		for _, c := range h.Cells {
			was[key{h.Path, seen[h.Path], c.Name}] = c.Value
		}
	}
	clear(seen)
	var list []story.Holder
	for _, h := range after {
		seen[h.Path]++
		cells := slices.DeleteFunc(slices.Clone(h.Cells), func(c engine.Cell) bool {
			old, ok := was[key{h.Path, seen[h.Path], c.Name}]
			return ok && value.Equal(old, c.Value)
		})
		if len(cells) > 0 {
			list = append(list, story.Holder{Path: h.Path, Cells: cells})
		}
	}
	return list
}

func (t *terminal) otherBreaches(d *design.Design, o *prove.Outcome) {
	for _, b := range o.More {
		t.printf("\n%s: %s: %s\n", t.paint(bold, d.Set.Position(b.At.Start).String()), t.paint(red, title(o)), b.Message)
		t.spot(d, b.At)
		if b.Path != nil {
			t.labelled("by", strings.Join(b.Path.Steps, "; "))
		}
	}
}

func (t *terminal) spaces(rep *prove.Report) {
	t.printf("\n")
	for _, s := range rep.Starts {
		name := s.Start.Root.Name
		if s.Start.Name != "" {
			name = quoted(s.Start.Name)
		}
		line := fmt.Sprintf("from %s: %s, %s, %s deep", name, s.States.Of("state"), s.Turns.Of("turn"), finding.Count(s.Depth, "step"))
		if s.Parts > 1 {
			line += fmt.Sprintf(", explored as %d parts that cannot influence each other", s.Parts)
		}
		if s.Slices > 0 {
			line += fmt.Sprintf(", in %s of the design", finding.Count(s.Slices, "slice"))
		}
		if s.Symmetric {
			line += ", those that differ only in which of several alike parts is how taken for one"
		}
		if !s.Whole {
			line += "; not all of them"
		}
		t.printf("%s\n", line)
	}
}

// wrapped prints a titled list with its lines broken, not cut.
func (t *terminal) wrapped(title string, list []string) {
	for i, text := range list {
		if i == 0 {
			t.printf("   %s\n", t.paint(dim, title))
		}
		for j, line := range wrap(text, t.width()-7) {
			t.printf("     %s%s\n", map[bool]string{true: "  "}[j > 0], line)
		}
	}
}

func proofTally(rep *prove.Report) string {
	counts := map[prove.Verdict]int{}
	for _, o := range rep.Laws {
		counts[o.Verdict]++
	}
	var parts []string
	for _, v := range []prove.Verdict{prove.Broken, prove.Unclear, prove.HoldsWithin, prove.Holds} {
		if counts[v] > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", counts[v], v))
		}
	}
	return strings.Join(parts, ", ")
}

// proofJSON leaves out how long it took, so that the same design gives the same
// text.
func proofJSON(d *design.Design, rep *prove.Report) any {
	type path struct {
		Start    string           `json:"start,omitempty"`
		Steps    []string         `json:"steps"`
		Scenario string           `json:"scenario"`
		Saw      string           `json:"saw,omitempty"`
		Real     bool             `json:"realTimes"`
		Before   []map[string]any `json:"before"`
		After    []map[string]any `json:"after"`
		Turns    []turnJSON       `json:"turns"`
	}
	type breach struct {
		Message string   `json:"message"`
		At      spanJSON `json:"at"`
		Path    *path    `json:"path,omitempty"`
	}
	type verdict struct {
		Name    string        `json:"name"`
		Kind    string        `json:"kind"`
		Says    string        `json:"says,omitempty"`
		Verdict string        `json:"verdict"`
		Why     string        `json:"why,omitempty"`
		States  explore.Count `json:"states"`
		Breach  []breach      `json:"breaches,omitempty"`
	}
	type start struct {
		Name   string        `json:"name"`
		Root   string        `json:"root"`
		States explore.Count `json:"states"`
		Turns  explore.Count `json:"turns"`
		Depth  int           `json:"depth"`
		Parts  int           `json:"parts"`
		Slices int           `json:"slices"`
		Whole  bool          `json:"whole"`
		Passes []passJSON    `json:"reductions"`
	}
	out := struct {
		Holds    bool          `json:"holds"`
		Starts   []start       `json:"starts"`
		Verdicts []verdict     `json:"verdicts"`
		Cuts     []string      `json:"cuts"`
		Learned  []string      `json:"learned"`
		Problems []problemJSON `json:"problems"`
		Coverage *coverageJSON `json:"coverage,omitempty"`
	}{rep.Holds(), []start{}, []verdict{}, append([]string{}, rep.Cuts...), append([]string{}, rep.Learned...), []problemJSON{}, coverageOf(d, rep.Coverage)}
	for _, f := range rep.Problems {
		out.Problems = append(out.Problems, problemJSON{f.Message, f.Write, spanOf(d, f.Span)})
	}
	for _, s := range rep.Starts {
		passes := []passJSON{}
		for _, u := range s.Passes {
			passes = append(passes, passJSON{u.Pass.Name, u.Used, u.Why})
		}
		out.Starts = append(out.Starts, start{s.Start.Name, s.Start.Root.Name, s.States, s.Turns, s.Depth, s.Parts, s.Slices, s.Whole && !rep.Within(), passes})
	}
	for _, o := range rep.Laws {
		v := verdict{Name: o.Name(), Kind: "law", Verdict: string(o.Verdict), Why: o.Why, States: o.States}
		if o.Promise != nil {
			v.Kind, v.Says = "promise", o.Promise.Says
		}
		if o.Breach != nil {
			for _, b := range append([]*prove.Breach{o.Breach}, o.More...) {
				j := breach{Message: b.Message, At: spanOf(d, b.At)}
				if p := b.Path; p != nil {
					j.Path = &path{p.Start.Name, append([]string{}, p.Steps...), p.Scenario(d, o.Name()), p.Saw, p.Real, holdersJSON(p.Before), holdersJSON(p.After), turnsJSON(p.Turns)}
				}
				v.Breach = append(v.Breach, j)
			}
		}
		out.Verdicts = append(out.Verdicts, v)
	}
	return out
}

type passJSON struct {
	Name string `json:"name"`
	Used bool   `json:"used"`
	Why  string `json:"why,omitempty"`
}

type problemJSON struct {
	Message string   `json:"message"`
	Write   string   `json:"write"`
	At      spanJSON `json:"at"`
}

type coverageJSON struct {
	*prove.Coverage
	Untouched []untouchedJSON `json:"untouched"`
	Suggested []string        `json:"suggested,omitempty"`
}

type untouchedJSON struct {
	What string   `json:"what"`
	At   spanJSON `json:"at"`
}

func coverageOf(d *design.Design, c *prove.Coverage) *coverageJSON {
	if c == nil {
		return nil
	}
	j := &coverageJSON{Coverage: c, Untouched: []untouchedJSON{}}
	for _, u := range c.Untouched {
		j.Untouched = append(j.Untouched, untouchedJSON{u.What, spanOf(d, u.At)})
	}
	for i, p := range c.Suggested {
		j.Suggested = append(j.Suggested, p.Scenario(d, suggestedName(i)))
	}
	return j
}

func suggestedName(i int) string { return fmt.Sprintf("suggested %d", i+1) }

// proofJUnit prints a test case a law and promise.
func (t *terminal) proofJUnit(d *design.Design, rep *prove.Report) error {
	s := newSuite("lien prove")
	for _, o := range rep.Laws {
		class := "promise"
		if o.Law != nil {
			class = "law"
		}
		switch o.Verdict {
		case prove.Holds:
			s.add(class, o.Name(), "", "")
			continue
		case prove.HoldsWithin:
			s.put(testcase{Class: class, Name: o.Name(), Output: "holds within what was looked at; not looked at:\n" + strings.Join(rep.Cuts, "\n")})
			continue
		case prove.Unclear:
			s.put(testcase{Class: class, Name: o.Name(), Skipped: &skipped{"unclear: " + o.Why}})
			continue
		}
		text := d.Set.Position(o.Breach.At.Start).String()
		if o.Breach.Path != nil {
			text += "\n" + o.Breach.Path.Scenario(d, o.Name())
		}
		s.add(class, o.Name(), o.Breach.Message, text)
	}
	return s.write(t.Out)
}

// coverage prints what scenarios touch of what can be reached, and what not.
func (t *terminal) coverage(d *design.Design, c *prove.Coverage) {
	t.printf("\nscenarios touch %s, %s, %s\n", fmt.Sprintf("%d of %s", c.States.Of, c.States.All.Of("state")), share(c.Handlers, "handler"), share(c.Branches, "branch"))
	var lines []string
	for _, u := range c.Untouched {
		text, _, _ := strings.Cut(d.Text(u.At), "\n")
		lines = append(lines, d.Set.Position(u.At.Start).String()+": "+u.What+": "+text)
	}
	t.block("no scenario touches", lines)
	for i, p := range c.Suggested {
		t.printf("\n%s", p.Scenario(d, suggestedName(i)))
	}
}

func share(s prove.Share, what string) string {
	return fmt.Sprintf("%d of %s", s.Of, finding.Count(s.All, what))
}

// keepBroken adds the scenarios that break laws, or fail turns, to a file.
func (t *terminal) keepBroken(d *design.Design, rep *prove.Report, file string) error {
	text, kept := "", 0
	for _, o := range rep.Laws {
		if o.Breach == nil || o.Breach.Path == nil || o.Promise != nil && o.Promise.Name != "turn-fails" {
			continue
		}
		name := unusedName(d, "breaks: "+o.Name())
		text += "\n" + o.Breach.Path.Scenario(d, name)
		kept++
	}
	if kept == 0 {
		t.note("nothing was kept: only broken laws and turns that fail can be kept, since a scenario shows no others")
		return nil
	}
	if err := addToFile(file, text); err != nil {
		return err
	}
	t.note(fmt.Sprintf("kept %s in %s; lien test fails until what they show is mended", finding.Count(kept, "scenario"), file))
	return nil
}

// addToFile adds declarations to the end of a .lien file, laid out as fmt
// does; the file is written whole or not at all.
func addToFile(file, text string) error {
	if filepath.Ext(file) != ".lien" {
		return usagef("name a file that ends in .lien", "%s is no file of a design", file)
	}
	was, err := readKept(file)
	if err != nil {
		return err
	}
	if len(was) > 0 {
		text = strings.TrimRight(string(was), "\n") + "\n\n" + strings.TrimLeft(text, "\n")
	}
	f := syntax.Parse(source.NewSet().Add(file, strings.TrimLeft(text, "\n")))
	if finding.Failed(f.Findings) {
		return fmt.Errorf("%s was not written: a scenario cannot be put into words: %s", file, f.Findings[0].Message)
	}
	if was == nil {
		return told(output.New(file, syntax.Print(f)))
	}
	return told(output.Change(output.Text{Path: file, Was: was, Is: syntax.Print(f)}))
}

// readKept reads the file that is added to; nil where there is none.
func readKept(file string) ([]byte, error) {
	root, err := source.OpenRoot(filepath.Dir(file))
	if err != nil {
		return nil, usagef("make it first", "there is no folder %s", filepath.Dir(file))
	}
	defer root.Close()
	was, err := source.Read(root, filepath.Base(file), syntax.MaxSize)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil, nil
	case err != nil:
		return nil, usagef("name another file", "%s cannot be added to: %s", file, source.Reason(err))
	}
	return append([]byte{}, was...), nil
}

func unusedName(d *design.Design, name string) string {
	used := func(s string) bool {
		return slices.ContainsFunc(d.Scenarios, func(x *design.Scenario) bool { return x.Name == s })
	}
	for n, base := 2, name; used(name); n++ {
		name = fmt.Sprintf("%s (%d)", base, n)
	}
	return name
}
