package cli

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"slices"
	"strings"
	"syscall"
	"unicode/utf8"

	"github.com/urfave/cli/v3"

	"lien/core/check"
	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/story"
	"lien/core/value"
	"lien/core/web"
)

func testCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "test",
		Usage:     "run the scenarios, and hold the laws against every turn",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			formatFlag("text", "json", "junit"),
			&cli.StringFlag{Name: "only", Usage: "run the scenarios whose names contain `TEXT`"},
			&cli.BoolFlag{Name: "browser", Usage: "take the steps on the built page in a real browser, too"},
		},
		Description: `Mounts the design and takes the steps of each scenario. Where a step fails it
prints the page as it was read by role and name, the values around it, and
what the last turns did.

With --browser each step is also taken on the page that lien build writes, in a real
browser (Chromium and its driver), and the two have to be the same after it.

Example, on the demo:
  lien demo --to kiln
  lien test kiln
  lien test kiln --only shelf`,
		Action: func(ctx context.Context, c *cli.Command) error { return runTest(ctx, t, c) },
	}
}

func runTest(ctx context.Context, t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	d, err := loadRunnable(t, c)
	if err != nil {
		return err
	}
	only := c.String("only")
	chosen := func(s *design.Scenario) bool { return strings.Contains(s.Name, only) }
	var rep *story.Report
	if c.Bool("browser") {
		rep, err = besideBrowser(ctx, d, chosen)
	} else {
		rep = story.RunOn(d, chosen, nil)
	}
	if err != nil {
		return err
	}
	if only != "" && len(rep.Results) == 0 {
		var names []string
		for _, s := range d.Scenarios {
			names = append(names, fmt.Sprintf("%q", s.Name))
		}
		return usagef("the scenarios are: "+strings.Join(names, ", "), "no scenario's name contains %q", only)
	}
	switch c.String("format") {
	case "json":
		err = t.json(testJSON(d, rep))
	case "junit":
		err = t.junit(d, rep)
	default:
		t.report(d, rep)
	}
	if err == nil && rep.Failed() {
		return failed
	}
	return err
}

// besideBrowser runs scenarios on the built page, too. The browser has ended before anything is told, and ends when the
// program is told to.
func besideBrowser(ctx context.Context, d *design.Design, chosen func(*design.Scenario) bool) (*story.Report, error) {
	stop, cancel := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer cancel()
	b, err := web.OpenBrowser(stop)
	if err != nil {
		return nil, usagef("install a browser and its driver (Debian: chromium, chromium-driver), or leave out --browser", "no browser can be driven: %v", err)
	}
	defer b.Close()
	rep := story.RunOn(d, chosen, func(e *engine.Engine, s *design.Start) (story.Beside, error) { return b.Beside(d, e, s) })
	if stop.Err() != nil {
		return nil, errors.New("stopped: the scenarios were not run to their ends")
	}
	return rep, nil
}

// loadRunnable reads a design that has no errors; those it has are printed.
func loadRunnable(t *terminal, c *cli.Command) (*design.Design, error) {
	d, err := load(c)
	if err != nil {
		return nil, err
	}
	var errs []*finding.Finding
	for _, f := range check.Run(d, check.Options{}) {
		if f.Level == finding.Error {
			errs = append(errs, f)
		}
	}
	if len(errs) == 0 {
		return d, nil
	}
	t.aside(func() { t.findings(d, errs) })
	t.note("the design cannot run: " + summary(errs))
	return nil, failed
}

func (t *terminal) verdict(ok bool) string {
	if ok {
		return t.paint(green, "passed")
	}
	return t.paint(red, "FAILED")
}

// report prints the outcome: a line a scenario and law, then what failed.
func (t *terminal) report(d *design.Design, rep *story.Report) {
	width := 0
	for _, r := range rep.Results {
		width = max(width, utf8.RuneCountInString(r.Scenario.Name)+2)
	}
	for _, l := range rep.Laws {
		width = max(width, utf8.RuneCountInString(l.Law.Name)+6)
	}
	width = min(width, t.width()-30)
	for _, r := range rep.Results {
		t.printf("%s  %s  %s\n", t.verdict(r.Failure == nil), pad(quoted(r.Scenario.Name), width), t.paint(dim, finding.Count(r.Steps, "step")+", "+finding.Count(r.Turns, "turn")))
	}
	for _, l := range rep.Laws {
		t.printf("%s  %s  %s\n", t.lawVerdict(l), pad("law "+quoted(l.Law.Name), width), t.paint(dim, lawNote(l)))
	}
	shown := map[*story.Failure]bool{}
	for _, r := range rep.Results {
		if r.Failure != nil {
			t.failure(d, "scenario "+quoted(r.Scenario.Name), r.Failure)
			shown[r.Failure] = true
		}
	}
	for _, l := range rep.Laws {
		if l.Broken != nil && !shown[l.Broken] {
			t.failure(d, "at the start", l.Broken)
		}
	}
	t.printf("\n%s\n", tally(rep))
}

func (t *terminal) lawVerdict(l *story.LawResult) string {
	switch {
	case l.Broken != nil:
		return t.paint(red, "BROKEN")
	case l.Proof && l.States == 0:
		return t.paint(yellow, "open  ")
	}
	return t.paint(green, "held  ")
}

func lawNote(l *story.LawResult) string {
	note := "in " + finding.Count(l.States, "state")
	if l.Proof {
		note += "; can and settles ask for a proof"
	}
	return note
}

func tally(rep *story.Report) string {
	passed, broken := 0, 0
	for _, r := range rep.Results {
		if r.Failure == nil {
			passed++
		}
	}
	for _, l := range rep.Laws {
		if l.Broken != nil {
			broken++
		}
	}
	s := fmt.Sprintf("%d of %s passed", passed, finding.Count(len(rep.Results), "scenario"))
	if len(rep.Laws) > 0 {
		s += fmt.Sprintf(", %d of %s held", len(rep.Laws)-broken, finding.Count(len(rep.Laws), "law"))
	}
	return s
}

func quoted(s string) string { return "\"" + s + "\"" }

// failure prints what went wrong, the page, the values and the last turns.
func (t *terminal) failure(d *design.Design, where string, f *story.Failure) {
	t.printf("\n%s: %s: %s\n", t.paint(bold, d.Set.Position(f.At.Start).String()), t.paint(red, where), f.Message)
	t.spot(d, f.At)
	if f.Cause.Start.Valid() {
		t.labelled("at", d.Set.Position(f.Cause.Start).String())
		t.spot(d, f.Cause)
	}
	if f.Path != "" {
		t.labelled("in", f.Path)
	}
	if f.Write != "" {
		t.labelled("do", f.Write)
	}
	t.block("this repeats", chainLines(f.Chain))
	var did []string
	for _, r := range story.Fold(f.Turns) {
		if len(f.Chain) == 0 || r.Failure == nil {
			did = append(did, story.TurnLines(r)...)
		}
	}
	t.block("what the last step did", did)
	t.block("the page", f.Page)
	t.block("the state", stateLines(f.State, len(f.State) > 4))
}

// chainLines tells what led to what, over and over.
func chainLines(chain []engine.Entry) []string {
	var lines []string
	for i := range chain {
		lines = append(lines, story.EntryLines(&chain[i])...)
	}
	return lines
}

// block prints a titled list, cut to what fits on a screen.
func (t *terminal) block(title string, lines []string) {
	if len(lines) == 0 {
		return
	}
	t.printf("   %s\n", t.paint(dim, title))
	const most = 20
	for i, l := range lines {
		if i == most {
			t.printf("     … and %d more; --format json has all\n", len(lines)-most)
			break
		}
		t.printf("     %s\n", cut(l, t.width()-5))
	}
}

// stateLines lists cells by instance; brief leaves out what is only taken.
func stateLines(state []story.Holder, brief bool) []string {
	var lines []string
	for _, h := range state {
		if brief {
			h.Cells = slices.DeleteFunc(slices.Clone(h.Cells), func(c engine.Cell) bool { return c.Kind == design.Takes })
			if len(h.Cells) == 0 {
				continue
			}
		}
		width := 0
		for _, c := range h.Cells {
			width = max(width, len(c.Kind.String())+1+len(c.Name))
		}
		lines = append(lines, h.Path)
		for _, c := range h.Cells {
			lines = append(lines, "  "+pad(c.Kind.String()+" "+c.Name, width)+"  "+value.Brief(c.Value, 70))
		}
	}
	return lines
}

type failureJSON struct {
	At      spanJSON         `json:"at"`
	Cause   *spanJSON        `json:"cause,omitempty"`
	Law     string           `json:"law,omitempty"`
	Message string           `json:"message"`
	Write   string           `json:"write,omitempty"`
	Page    []string         `json:"page"`
	State   []map[string]any `json:"state"`
	Chain   []entryJSON      `json:"chain,omitempty"`
	Turns   []turnJSON       `json:"turns"`
}

func failureOf(d *design.Design, f *story.Failure) *failureJSON {
	if f == nil {
		return nil
	}
	j := &failureJSON{At: spanOf(d, f.At), Message: f.Message, Write: f.Write, Page: f.Page, Chain: entriesJSON(f.Chain), Turns: turnsJSON(f.Turns)}
	if f.Cause.Start.Valid() {
		s := spanOf(d, f.Cause)
		j.Cause = &s
	}
	if f.Law != nil {
		j.Law = f.Law.Name
	}
	j.State = holdersJSON(f.State)
	return j
}

func holdersJSON(state []story.Holder) []map[string]any {
	list := []map[string]any{}
	for _, h := range state {
		cells := map[string]any{}
		for _, c := range h.Cells {
			cells[c.Name] = value.JSON(c.Value)
		}
		list = append(list, map[string]any{"path": h.Path, "cells": cells})
	}
	return list
}

func testJSON(d *design.Design, rep *story.Report) any {
	type scenario struct {
		Name    string       `json:"name"`
		At      spanJSON     `json:"at"`
		Passed  bool         `json:"passed"`
		Steps   int          `json:"steps"`
		Turns   int          `json:"turns"`
		Failure *failureJSON `json:"failure,omitempty"`
	}
	type law struct {
		Name    string       `json:"name"`
		At      spanJSON     `json:"at"`
		Held    bool         `json:"held"`
		States  int          `json:"states"`
		Proof   bool         `json:"needsProof"`
		Failure *failureJSON `json:"failure,omitempty"`
	}
	out := struct {
		Passed    bool       `json:"passed"`
		Scenarios []scenario `json:"scenarios"`
		Laws      []law      `json:"laws"`
	}{!rep.Failed(), []scenario{}, []law{}}
	for _, r := range rep.Results {
		out.Scenarios = append(out.Scenarios, scenario{r.Scenario.Name, spanOf(d, r.Scenario.Syntax.Name.Span()), r.Failure == nil, r.Steps, r.Turns, failureOf(d, r.Failure)})
	}
	for _, l := range rep.Laws {
		out.Laws = append(out.Laws, law{l.Law.Name, spanOf(d, l.Law.Syntax.Name.Span()), l.Broken == nil, l.States, l.Proof, failureOf(d, l.Broken)})
	}
	return out
}

// junit prints the outcome in the XML form that build servers read: a test
// case a scenario and law.
func (t *terminal) junit(d *design.Design, rep *story.Report) error {
	s := newSuite("lien")
	add := func(class, name string, f *story.Failure) {
		if f == nil {
			s.add(class, name, "", "")
			return
		}
		s.add(class, name, f.Message, d.Set.Position(f.At.Start).String()+"\n"+strings.Join(f.Page, "\n"))
	}
	for _, r := range rep.Results {
		add("scenario", r.Scenario.Name, r.Failure)
	}
	for _, l := range rep.Laws {
		add("law", l.Law.Name, l.Broken)
	}
	return s.write(t.Out)
}
