package cli

import (
	"context"
	"os"
	"os/signal"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/urfave/cli/v3"

	"lien/core/compare"
	"lien/core/design"
	"lien/core/diff"
	"lien/core/finding"
)

func compareCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "compare",
		Usage:     "can anybody tell two designs apart?",
		ArgsUsage: "BEFORE AFTER | --since REV [DESIGN]",
		Flags: append([]cli.Flag{
			formatFlag("text", "json"),
			&cli.StringFlag{Name: "since", Usage: "compare with the design as git has it at `REV`, such as HEAD or main"},
			&cli.BoolFlag{Name: "contracts", Usage: "compare only what components take, report and offer"},
		}, boundFlags()...),
		Description: `Does the same to two designs, whatever users, time and the services can do, and
holds what can be told of both against each other after every step: elements in
their order with tags, attributes, classes, texts, what fields hold and who has
the focus; what the root reports; what services are asked; which methods of
elements are called. What is logged is not told. Before that, what the
components of both take, share, report, offer and supply is compared by name.

The exit status is 1 if something tells them apart, and with --contracts if a use
of a component as it was is broken.

Example, on the demo:
  lien demo --to kiln
  lien demo --to other
  lien compare kiln other --time 2s`,
		Action: func(ctx context.Context, c *cli.Command) error { return runCompare(ctx, t, c) },
	}
}

// boundFlags are those of commands that compare.
func boundFlags() []cli.Flag {
	return []cli.Flag{
		&cli.DurationFlag{Name: "time", Value: 5 * time.Second, Usage: "compare for at most `D`, such as 30s or 5m"},
		&cli.IntFlag{Name: "pairs", Value: 300_000, Usage: "visit at most `N` pairs of states"},
		&cli.StringSliceFlag{Name: "but", Usage: "do not tell differences of `KIND`: classes, texts, focus, or attribute=NAME; may be repeated"},
	}
}

func runCompare(ctx context.Context, t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	o, err := compareOptions(c)
	if err != nil {
		return err
	}
	before, after, err := bothDesigns(t, c)
	if err != nil {
		return err
	}
	if c.Bool("contracts") {
		return t.contractsAlone(before, after, c)
	}
	stop, cancel := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer cancel()
	o.Stop = stop
	rep := compare.Run(before, after, o)
	if c.String("format") == "json" {
		err = t.json(comparisonJSON(before, rep))
	} else {
		t.contracts(before, rep.Contracts)
		t.comparison(rep, o)
	}
	if err == nil && rep.Differs() {
		return failed
	}
	return err
}

func compareOptions(c *cli.Command) (compare.Options, error) {
	o := compare.Options{Time: c.Duration("time"), Pairs: c.Int("pairs")}
	if o.Time <= 0 || o.Pairs < 1 {
		return o, usagef("write how long, such as --time 30s, and a number from 1 on", "--time %s and --pairs %d leave nothing to compare", o.Time, o.Pairs)
	}
	for _, but := range c.StringSlice("but") {
		name, is := strings.CutPrefix(but, "attribute=")
		switch {
		case is && name != "":
			o.But.Attributes = append(o.But.Attributes, name)
		case but == "classes":
			o.But.Classes = true
		case but == "texts":
			o.But.Texts = true
		case but == "focus":
			o.But.Focus = true
		default:
			return o, usagef("write classes, texts, focus, or attribute=NAME, such as attribute=id", "there is no kind of difference %q", but)
		}
	}
	return o, nil
}

// bothDesigns reads what is compared: two designs, or one and what it was.
func bothDesigns(t *terminal, c *cli.Command) (before, after *design.Design, err error) {
	args := c.Args().Slice()
	if !c.IsSet("since") {
		if len(args) != 2 {
			return nil, nil, usagef("lien compare BEFORE AFTER, or lien compare --since HEAD DESIGN", "compare takes two designs, but here are %d", len(args))
		}
		if before, err = loadComparable(t, c, args[0]); err == nil {
			after, err = loadComparable(t, c, args[1])
		}
		return before, after, err
	}
	if len(args) > 1 {
		return nil, nil, usagef("see lien help compare", "with --since compare takes one design, but here are %d", len(args))
	}
	name := "."
	if len(args) == 1 {
		name = args[0]
	}
	if after, err = loadComparable(t, c, name); err != nil {
		return nil, nil, err
	}
	p, err := locate(name, c.String("root"))
	if err != nil {
		return nil, nil, err
	}
	was, err := p.asOf(c.String("since"))
	if err != nil {
		return nil, nil, err
	}
	before, err = runnable(t, was, c.String("since"))
	return before, after, err
}

func loadComparable(t *terminal, c *cli.Command, name string) (*design.Design, error) {
	p, err := locate(name, c.String("root"))
	if err != nil {
		return nil, err
	}
	return runnable(t, p, name)
}

// runnable reads the design at a place, and tells its errors where it has any.
func runnable(t *terminal, p place, name string) (*design.Design, error) {
	d, err := design.Load(p.fsys, p.name, p.show)
	if err != nil {
		return nil, usagef("", "%s", err)
	}
	if errs := d.Errors(); len(errs) > 0 {
		t.aside(func() { t.findings(d, errs) })
		t.note(name + " cannot be compared: it has errors")
		return nil, failed
	}
	return d, nil
}

// comparison prints the verdict, and what tells the designs apart.
func (t *terminal) comparison(rep *compare.Report, o compare.Options) {
	t.printf("%s\n", t.verdictOf(rep, o))
	if len(rep.Cuts) > 0 {
		t.printf("   %s\n", t.paint(dim, "not looked at"))
		for _, cut := range rep.Cuts {
			t.printf("     %s\n", cut)
		}
	}
	for _, s := range rep.Starts {
		if s.Difference != nil {
			t.difference(s)
		}
	}
}

// verdictOf is the verdict in a line.
func (t *terminal) verdictOf(rep *compare.Report, o compare.Options) string {
	pairs := finding.Count(rep.Pairs, "pair") + " of states"
	but := ""
	if o.But.Any() {
		but = ", but for " + o.But.String()
	}
	switch rep.Verdict {
	case compare.Alike:
		if rep.OneForm() {
			return t.paint(green, "alike") + but + ": both come to one page, however state is held in them"
		}
		return t.paint(green, "alike") + but + ": all " + pairs
	case compare.AlikeWithin:
		return t.paint(yellow, "alike within") + but + " " + pairs
	}
	return t.paint(red, "they differ") + but
}

func (t *terminal) difference(s *compare.Outcome) {
	d := s.Difference
	for i, line := range wrap(d.What, t.width()-5) {
		if i == 0 {
			t.printf("   %s\n", line)
		} else {
			t.printf("     %s\n", line)
		}
	}
	if d.Before.Page == nil {
		return
	}
	if len(d.Steps) == 0 {
		t.printf("   %s   it shows at the start %s\n", t.paint(dim, "by"), s.Name)
	} else {
		t.printf("   %s   %s, the fewest there are\n", t.paint(dim, "by"), finding.Count(len(d.Steps), "step"))
		t.printf("     scenario %s {\n", quoted("what tells them apart"))
		for _, step := range d.Steps {
			t.printf("       %s\n", step)
		}
		t.printf("     }\n")
		if !d.Real {
			t.printf("     no real times lead there: two things would have to be due in another order\n")
		}
	}
	t.sides("the page", d.Before.Page, d.After.Page)
	t.sides("the state", stateLines(d.Before.State, true), stateLines(d.After.State, true))
}

// sides prints both designs in one: lines that only the first has begin with -, those of the second with +.
func (t *terminal) sides(what string, before, after []string) {
	if slices.Equal(before, after) {
		return
	}
	t.printf("   %s\n", t.paint(dim, what+", - before, + after"))
	text := diff.Unified("before", "after", strings.Join(before, "\n")+"\n", strings.Join(after, "\n")+"\n")
	for i, line := range strings.Split(strings.TrimSuffix(text, "\n"), "\n") {
		if i < 2 || strings.HasPrefix(line, "@@") {
			continue
		}
		t.printf("     %s\n", t.sideLine(cut(line, t.width()-6)))
	}
}

func (t *terminal) sideLine(line string) string {
	switch {
	case strings.HasPrefix(line, "+"):
		return t.paint(green, line)
	case strings.HasPrefix(line, "-"):
		return t.paint(red, line)
	}
	return line
}

// contracts prints what changed of what the components promise.
func (t *terminal) contracts(before *design.Design, list []*compare.Contract) {
	for _, c := range list {
		t.printf("%s %s\n", t.paint(bold, c.Component), t.paint(dim, string(c.Sign)))
		for _, ch := range c.Changes {
			if ch.Was != "" {
				t.printf("  %s\n", t.sideLine("- "+ch.Was))
			}
			if ch.Is != "" {
				t.printf("  %s\n", t.sideLine("+ "+ch.Is))
			}
			if ch.Breaks != "" {
				t.printf("      %s\n", ch.Breaks)
			}
		}
		for _, at := range c.Users {
			t.printf("      %s %s\n", t.paint(dim, "used at"), before.Set.Position(at.Start))
		}
	}
	if len(list) > 0 {
		t.printf("\n")
	}
}

func (t *terminal) contractsAlone(before, after *design.Design, c *cli.Command) error {
	list := compare.Contracts(before, after)
	var err error
	if c.String("format") == "json" {
		err = t.json(contractsJSON(before, list))
	} else {
		t.contracts(before, list)
		if len(list) == 0 {
			t.printf("the components take, report and offer the same\n")
		}
	}
	if err == nil && slices.ContainsFunc(list, (*compare.Contract).Breaks) {
		return failed
	}
	return err
}
