package cli

import (
	"context"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/story"
	"lien/core/value"
)

func traceCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "trace",
		Usage:     "what led to what? a scenario step by step",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			formatFlag("text", "json"),
			&cli.StringFlag{Name: "only", Usage: "the scenario whose name contains `TEXT`; the first one when left out"},
		},
		Description: `Takes the steps of one scenario and prints, for each, what it led to: reports,
actions, changed cells, messages, timers, questions, what was opened, and how
much of the page was worked out again. What is indented was led to by the line
above it.

Example, on the demo:
  lien demo --to kiln
  lien trace kiln --only full`,
		Action: func(_ context.Context, c *cli.Command) error { return runTrace(t, c) },
	}
}

func runTrace(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	d, err := loadRunnable(t, c)
	if err != nil {
		return err
	}
	s, err := pickScenario(d, c.String("only"))
	if err != nil {
		return err
	}
	steps, res := story.Trace(d, s)
	if c.String("format") == "json" {
		err = t.json(traceJSON(d, s, steps, res))
	} else {
		t.trace(d, s, steps, res)
	}
	if err == nil && res.Failure != nil {
		return failed
	}
	return err
}

func pickScenario(d *design.Design, only string) (*design.Scenario, error) {
	var names []string
	for _, s := range d.Scenarios {
		if strings.Contains(s.Name, only) {
			return s, nil
		}
		names = append(names, quoted(s.Name))
	}
	if len(names) == 0 {
		return nil, usagef("write scenario \"...\" { ... }", "the design has no scenario")
	}
	return nil, usagef("the scenarios are: "+strings.Join(names, ", "), "no scenario's name contains %q", only)
}

func (t *terminal) trace(d *design.Design, s *design.Scenario, steps []story.Traced, res *story.Result) {
	t.printf("%s\n", t.paint(bold, "scenario "+quoted(s.Name)))
	for _, st := range steps {
		if st.Step == nil {
			t.printf("%s\n", t.paint(bold, "start "+res.Start.Root.Name))
			for _, r := range st.Turns {
				t.printf("  %s\n", finding.Count(r.Pieces, "piece")+" of the page mounted")
				t.lines(story.ActLines(r))
			}
			continue
		}
		if st.Step.Looks() {
			t.printf("%s\n", t.paint(dim, d.Text(st.Step.Span())))
			continue
		}
		t.printf("%s  %s\n", t.paint(bold, d.Text(st.Step.Span())), t.paint(dim, short(d, st.Step.Span())))
		for _, r := range story.Fold(st.Turns) {
			t.lines(story.TurnLines(r))
		}
	}
	if res.Failure != nil {
		t.failure(d, "scenario "+quoted(s.Name), res.Failure)
		return
	}
	t.printf("%s, %s\n", t.verdict(true), finding.Count(res.Turns, "turn"))
}

// lines prints what a turn did, each line cut to the width.
func (t *terminal) lines(list []string) {
	for _, line := range list {
		t.printf("  %s\n", cut(line, t.width()-2))
	}
}

type entryJSON struct {
	Depth int    `json:"depth"`
	Kind  string `json:"kind"`
	In    string `json:"in,omitempty"`
	What  string `json:"what,omitempty"`
	Args  []any  `json:"args,omitempty"`
	Was   any    `json:"was,omitempty"`
	Is    any    `json:"is,omitempty"`
	Heard int    `json:"heard,omitempty"`
}

type turnJSON struct {
	Cause     string      `json:"cause"`
	Entries   []entryJSON `json:"entries"`
	Refreshed int         `json:"refreshed"`
	Pieces    int         `json:"pieces"`
	Mounted   []string    `json:"mounted,omitempty"`
	Unmounted []string    `json:"unmounted,omitempty"`
}

func turnsJSON(turns []*engine.Record) []turnJSON {
	list := []turnJSON{}
	for _, r := range turns {
		j := turnJSON{Cause: r.Cause, Entries: []entryJSON{}, Refreshed: r.Refreshed, Pieces: r.Pieces, Mounted: r.Mounted, Unmounted: r.Unmounted}
		j.Entries = append(j.Entries, entriesJSON(r.Entries)...)
		list = append(list, j)
	}
	return list
}

func entriesJSON(entries []engine.Entry) []entryJSON {
	var list []entryJSON
	for i := range entries {
		en := &entries[i]
		e := entryJSON{Depth: en.Depth, Kind: string(en.Kind), In: en.Path(), What: en.What, Heard: en.Heard}
		for _, a := range en.Args {
			e.Args = append(e.Args, value.JSON(a))
		}
		if en.Kind == engine.Changed {
			e.Was, e.Is = value.JSON(en.Was), value.JSON(en.Is)
		}
		list = append(list, e)
	}
	return list
}

func traceJSON(d *design.Design, s *design.Scenario, steps []story.Traced, res *story.Result) any {
	type step struct {
		Step  string     `json:"step"`
		At    *spanJSON  `json:"at,omitempty"`
		Turns []turnJSON `json:"turns"`
	}
	out := struct {
		Scenario string       `json:"scenario"`
		Passed   bool         `json:"passed"`
		Steps    []step       `json:"steps"`
		Failure  *failureJSON `json:"failure,omitempty"`
	}{s.Name, res.Failure == nil, []step{}, failureOf(d, res.Failure)}
	for _, st := range steps {
		j := step{Step: "start", Turns: []turnJSON{}}
		if st.Step != nil {
			at := spanOf(d, st.Step.Span())
			j.Step, j.At = d.Text(st.Step.Span()), &at
			if st.Step.Looks() {
				out.Steps = append(out.Steps, j)
				continue
			}
		}
		j.Turns = turnsJSON(st.Turns)
		out.Steps = append(out.Steps, j)
	}
	return out
}
