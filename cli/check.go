package cli

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/output"
	"lien/core/source"
)

func checkCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "check",
		Usage:     "does the design hold together?",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			formatFlag("text", "json", "sarif"),
			&cli.StringSliceFlag{Name: "level", Usage: "set the level of a rule: `RULE=LEVEL`, where LEVEL is error, warning, note or off"},
			&cli.BoolFlag{Name: "fix", Usage: "make the edits that mend what one edit can mend"},
			&cli.StringFlag{Name: "why", Usage: "tell why `RULE` matters, with a wrong and a right example; \"list\" names the rules"},
		},
		Description: `Reads the design and looks for mistakes in names, types, links and ownership.
Errors keep a design from running; warnings and notes do not.

A comment "// meant RULE: reason", above a line or behind it, says that a finding is on purpose.

Example, on the demo:
  lien demo --to kiln
  lien check kiln
  lien check --why copy-goes-stale`,
		Action: func(_ context.Context, c *cli.Command) error { return runCheck(t, c) },
	}
}

func runCheck(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	if rule := c.String("why"); rule != "" {
		return t.why(rule)
	}
	o, err := levels(c.StringSlice("level"))
	if err != nil {
		return err
	}
	d, p, err := loadAt(c)
	if err != nil {
		return err
	}
	list := check.Run(d, o)
	if c.Bool("fix") {
		if d, list, err = fixAll(t, p, d, list, o); err != nil {
			return err
		}
	}
	if err := t.printFindings(c.String("format"), d, list); err != nil {
		return err
	}
	if finding.Failed(list) {
		return failed
	}
	return nil
}

func (t *terminal) printFindings(format string, d *design.Design, list []*finding.Finding) error {
	switch format {
	case "json":
		return t.json(findingsJSON(d, list))
	case "sarif":
		return t.json(sarif(d, list))
	}
	t.findings(d, list)
	if len(list) > 0 {
		t.printf("\n")
	}
	t.printf("%s: %s\n", sizeOf(d), summary(list))
	return nil
}

// sizeOf says what was read: "2 components in 1 file".
func sizeOf(d *design.Design) string {
	return finding.Count(len(d.Components), "component") + " in " + finding.Count(len(d.Files), "file")
}

// levels reads --level RULE=LEVEL.
func levels(list []string) (check.Options, error) {
	o := check.Options{Levels: map[string]finding.Level{}, Off: map[string]bool{}}
	for _, s := range list {
		rule, name, ok := strings.Cut(s, "=")
		level, known := finding.ParseLevel(name)
		page := check.Page(rule)
		switch {
		case !ok:
			return o, usagef("write --level RULE=error, such as --level never-used=error", "--level takes RULE=LEVEL, not %q", s)
		case page == nil:
			return o, usagef(didYouMean(rule, check.Rules(), "the rules are: "), "there is no rule %s", rule)
		case page.Level == finding.Error && name != "error":
			return o, usagef("mend it: a design with this mistake cannot run", "the level of %s cannot be changed", rule)
		case name == "off":
			o.Off[rule] = true
		case !known:
			return o, usagef("write error, warning, note or off", "there is no level %q", name)
		default:
			o.Levels[rule] = level
		}
	}
	return o, nil
}

// why prints the page of a rule.
func (t *terminal) why(rule string) error {
	if rule == "list" {
		t.whyAll()
		return nil
	}
	p := check.Page(rule)
	if p == nil {
		return usagef(didYouMean(rule, check.Rules(), "the rules are: "), "there is no rule %s", rule)
	}
	t.printf("%s (%s)\n\n", t.paint(bold, rule), p.Level)
	for _, line := range wrap(p.Why, t.width()-2) {
		t.printf("  %s\n", line)
	}
	for _, part := range []struct{ title, text string }{{"Wrong", p.Wrong}, {"Right", p.Right}} {
		t.printf("\n%s\n", t.paint(bold, part.title))
		for _, line := range strings.Split(strings.TrimRight(part.text, "\n"), "\n") {
			t.printf("  %s\n", strings.TrimRight(strings.Replace(line, " HERE", " <- here", 1), " "))
		}
	}
	return nil
}

// whyAll names the rules, each with the reason for it: beside it, or below where the lines are short.
func (t *terminal) whyAll() {
	const name, level = 22, 8
	for _, r := range check.Rules() {
		p := check.Page(r)
		t.printf("%s %s", pad(r, name), p.Level)
		beside := t.width() - name - level - 2
		if beside < 60 {
			t.printf("\n")
			for _, line := range wrap(p.Why, t.width()-2) {
				t.printf("  %s\n", line)
			}
			continue
		}
		for i, line := range wrap(p.Why, beside) {
			if i > 0 {
				t.printf("%s", strings.Repeat(" ", name+level+1))
			} else {
				t.printf("%s", strings.Repeat(" ", level-len(p.Level.String())))
			}
			t.printf(" %s\n", line)
		}
	}
}

// mostRounds is how often what a mend leaves behind is mended in turn.
const mostRounds = 100

// fixAll mends until nothing is left that an edit can mend: what one leaves behind, the next takes up.
func fixAll(t *terminal, p place, d *design.Design, list []*finding.Finding, o check.Options) (_ *design.Design, _ []*finding.Finding, err error) {
	mended, elsewhere := 0, ""
	for range mostRounds {
		var n int
		if d, list, n, elsewhere, err = fix(p, d, list, o); err != nil {
			return nil, nil, err
		}
		if mended += n; n == 0 {
			break
		}
	}
	if elsewhere != "" {
		t.note(elsewhere)
	}
	t.note("mended " + finding.Count(mended, "place"))
	return d, list, nil
}

// fix makes the edits of the findings that have one, in the files that were named, and
// checks again. In files that these use it only tells of them.
func fix(p place, d *design.Design, list []*finding.Finding, o check.Options) (_ *design.Design, _ []*finding.Finding, mended int, elsewhere string, err error) {
	edits := map[*source.File][]finding.Edit{}
	for _, f := range list {
		if f.Fix != nil {
			for _, e := range f.Fix.Edits {
				file := d.Set.File(e.Start)
				edits[file] = append(edits[file], e)
			}
		}
	}
	named, err := design.Files(p.fsys, p.name, p.show)
	if err != nil {
		return nil, nil, 0, "", usagef("", "%s", err)
	}
	var changes []output.Text
	for _, file := range d.Set.Files() {
		if len(edits[file]) == 0 {
			continue
		}
		text, n := finding.Apply(file.Text, file.Pos(0), edits[file])
		if !slices.Contains(named, file.Path) {
			elsewhere = fmt.Sprintf("%s could be mended in %s, which was not named", finding.Count(n, "place"), file.Name)
			continue
		}
		change, err := asRead(p, file.Path, text, file.Text)
		if err != nil {
			return nil, nil, 0, "", err
		}
		changes = append(changes, change)
		mended += n
	}
	if err := rewrite(changes); err != nil {
		return nil, nil, 0, "", err
	}
	if mended == 0 {
		return d, list, 0, elsewhere, nil
	}
	if d, err = design.Load(p.fsys, p.name, p.show); err != nil {
		return nil, nil, 0, "", usagef("", "%s", err)
	}
	return d, check.Run(d, o), mended, elsewhere, nil
}
