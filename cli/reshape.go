package cli

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/signal"
	"path"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"

	"github.com/urfave/cli/v3"

	"lien/core/compare"
	"lien/core/design"
	"lien/core/diff"
	"lien/core/finding"
	"lien/core/output"
	"lien/core/reshape"
	"lien/core/source"
)

// The commands that restructure a design: each prints what moves, the diff, and whether anybody
// can tell the design from what it was.

// editFlags are those of every edit.
func editFlags(own ...cli.Flag) []cli.Flag {
	list := append(own,
		&cli.BoolFlag{Name: "w", Usage: "write the files, if nobody can tell the change"},
		&cli.BoolFlag{Name: "anyway", Usage: "with -w: write them though it can be told"},
		formatFlag("text", "json"))
	return append(list, boundFlags()...)
}

// edit makes a restructuring of a design.
type edit func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error)

// runEdit makes an edit of the design that stands behind its arguments, and tells what came of it.
func runEdit(ctx context.Context, t *terminal, c *cli.Command, args int, what string, make edit) error {
	given := c.Args().Slice()
	if len(given) < args || len(given) > args+1 {
		return usagef("lien "+c.Name+" "+what+" [DESIGN]", "lien %s takes %s and a design, but here are %d", c.Name, what, len(given))
	}
	name := "."
	if len(given) > args {
		name = given[args]
	}
	return runEditOf(ctx, t, c, name, func(d *design.Design, reload reshape.Reload) (*reshape.Result, error) {
		return make(d, given[:args], reload)
	})
}

// runEditOf makes an edit of a design, and tells what came of it.
func runEditOf(ctx context.Context, t *terminal, c *cli.Command, name string, make func(*design.Design, reshape.Reload) (*reshape.Result, error)) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	o, err := compareOptions(c)
	if err != nil {
		return err
	}
	p, err := locate(name, c.String("root"))
	if err != nil {
		return err
	}
	d, err := runnable(t, p, name)
	if err != nil {
		return err
	}
	res, err := make(d, p.reload)
	var refused *reshape.Refusal
	switch {
	case errors.As(err, &refused):
		return t.refused(refused)
	case err != nil:
		return err
	}
	stop, cancel := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer cancel()
	o.Stop = stop
	rep := compare.Run(d, res.Design, o)
	return t.edited(c, p, res, rep, o)
}

// refused tells why an edit is not made.
func (t *terminal) refused(r *reshape.Refusal) error {
	if len(r.Says) > 0 {
		t.aside(func() { t.findings(r.Of, r.Says) })
	}
	why := r.Why
	if r.At.File != "" {
		why = r.At.String() + ": " + why
	}
	t.note(why)
	if r.Do != "" {
		for _, line := range wrap(r.Do, usageWidth) {
			t.print(t.Err, "  "+line+"\n")
		}
	}
	return failed
}

// edited prints an edit and its verdict, and writes it where it is to be written.
func (t *terminal) edited(c *cli.Command, p place, res *reshape.Result, rep *compare.Report, o compare.Options) error {
	write := c.Bool("w") && (!rep.Differs() || c.Bool("anyway"))
	if c.String("format") == "json" {
		if err := t.json(editJSON(res, rep, write)); err != nil {
			return err
		}
	} else {
		t.edit(res)
		t.comparison(rep, o)
	}
	if write {
		if err := t.write(p, res.Files); err != nil {
			return err
		}
		if c.String("format") != "json" {
			t.printf("wrote %s\n", finding.Count(len(res.Files), "file"))
		}
		return nil
	}
	if rep.Differs() {
		if c.Bool("w") {
			t.note("nothing was written, since the change can be told; --anyway writes it")
		}
		return failed
	}
	return nil
}

// write writes the files that an edit changes.
func (t *terminal) write(p place, files []reshape.File) error {
	var texts []output.Text
	for _, f := range files {
		text, err := asRead(p, f.Path, f.Is, f.Was)
		if err != nil {
			return err
		}
		texts = append(texts, text)
	}
	return rewrite(texts)
}

// edit prints what moves, what was chosen, and the diff.
func (t *terminal) edit(res *reshape.Result) {
	for _, line := range res.Did {
		t.printf("%s\n", line)
	}
	for _, line := range res.Chose {
		t.printf("%s\n", t.paint(dim, line))
	}
	if len(res.Did)+len(res.Chose) > 0 {
		t.printf("\n")
	}
	for _, f := range res.Files {
		t.raw(t.paintDiff(diff.Unified(f.Name, f.Name+" restructured", f.Was, f.Is)))
	}
	if len(res.Files) > 0 {
		t.printf("\n")
	}
}

type jsonEdit struct {
	Did        []string       `json:"did"`
	Chose      []string       `json:"chose"`
	Files      []jsonFile     `json:"files"`
	Written    bool           `json:"written"`
	Comparison jsonComparison `json:"comparison"`
}

type jsonFile struct {
	File  string         `json:"file"`
	Edits []jsonTextEdit `json:"edits"`
}

// jsonTextEdit replaces the lines from one to the one before another, counted from 1.
type jsonTextEdit struct {
	FromLine int    `json:"fromLine"`
	ToLine   int    `json:"toLine"`
	Text     string `json:"text"`
}

func editJSON(res *reshape.Result, rep *compare.Report, written bool) jsonEdit {
	out := jsonEdit{Did: append([]string{}, res.Did...), Chose: append([]string{}, res.Chose...), Files: []jsonFile{}, Written: written,
		Comparison: comparisonJSON(res.Design, rep)}
	for _, f := range res.Files {
		j := jsonFile{File: f.Name, Edits: []jsonTextEdit{}}
		for _, h := range diff.Hunks(f.Was, f.Is) {
			j.Edits = append(j.Edits, jsonTextEdit{h.From, h.To, h.Text})
		}
		out.Files = append(out.Files, j)
	}
	return out
}

// reload reads the design at a place, in which some files have other texts.
func (p place) reload(texts map[string]string) (*design.Design, error) {
	return design.Load(replaced{p.fsys, texts}, p.name, p.show)
}

// replaced is a file system in which some files have other texts.
type replaced struct {
	fs.FS
	texts map[string]string
}

func (r replaced) Open(name string) (fs.File, error) {
	text, ok := r.texts[name]
	if !ok {
		return r.FS.Open(name)
	}
	return &overlaid{strings.NewReader(text), path.Base(name)}, nil
}

// cellNamed finds the member that a name means: member, or component.member.
func cellNamed(d *design.Design, name string) (*design.Member, error) {
	var found []*design.Member
	var names []string
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.IsCell() {
				names = append(names, c.Name+"."+m.Label)
			}
			if c.Name+"."+m.Label == name || m.Label == name && m.IsCell() {
				found = append(found, m)
			}
		}
	}
	switch len(found) {
	case 1:
		return found[0], nil
	case 0:
		return nil, usagef(didYouMean(name, names, "the cells are: "), "there is no cell %q", name)
	}
	var which []string
	for _, m := range found {
		which = append(which, m.Owner.Name+"."+m.Label)
	}
	return nil, usagef("write one of: "+strings.Join(which, ", "), "several components have a cell %q", name)
}

func liftCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "lift",
		Usage:     "move a cell to the parent of its component, or further up",
		ArgsUsage: "CELL [DESIGN]",
		Flags: editFlags(
			&cli.StringFlag{Name: "to", Usage: "up to the component `NAME`", DefaultText: "the parent"},
			&cli.StringFlag{Name: "as", Usage: "changes come up as `WAY`: report, tie, function", DefaultText: "what the component suggests"},
			&cli.BoolFlag{Name: "one", Usage: "one cell for all uses, in place of one for each"}),
		Description: `The cell moves to the component that uses its own. Down it is linked, and changes
come up: reported, tied, or by a function that is handed down. Several uses get
a cell each, named after what the use is given; in a list each item keeps its
own, by its key.

Printed are what moves, the diff, and whether anybody can tell the design from
what it was. With -w the files are written, if nobody can.

Example, on the demo:
  lien demo --to kiln
  lien lift palette.glaze kiln
  lien lift fold-card.open kiln --time 2s`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 1, "CELL", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				m, err := cellNamed(d, args[0])
				if err != nil {
					return nil, err
				}
				return reshape.Lift(d, m, reshape.LiftOptions{To: c.String("to"), As: c.String("as"), One: c.Bool("one")}, reload)
			})
		},
	}
}

func lowerCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "lower",
		Usage:     "move a cell to the only part that needs it",
		ArgsUsage: "CELL [DESIGN]",
		Flags:     editFlags(&cli.StringFlag{Name: "to", Usage: "down to the component `NAME`", DefaultText: "one level"}),
		Description: `The reverse of lift: the cell moves to the only part that reads and changes it, and
the link and the reports in between go.

Example, on the demo:
  lien demo --to kiln
  lien lower kiln-room.search kiln`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 1, "CELL", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				m, err := cellNamed(d, args[0])
				if err != nil {
					return nil, err
				}
				return reshape.Lower(d, m, c.String("to"), reload)
			})
		},
	}
}

func extractCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "extract",
		Usage:     "make a component of a part of a view",
		ArgsUsage: "FILE:LINE[-LINE] [DESIGN]",
		Flags: editFlags(
			&cli.StringFlag{Name: "name", Usage: "the new component is called `NAME`", DefaultText: "after what is cut out"},
			&cli.StringSliceFlag{Name: "move", Usage: "the cell `NAME` moves along; may be repeated"},
			&cli.StringSliceFlag{Name: "keep", Usage: "the cell `NAME` stays; may be repeated"},
			&cli.BoolFlag{Name: "all", Usage: "other places that read the same use it, too"}),
		Description: `The elements that begin on these lines become a component of their own. What they
read is taken, what they do to the page is reported and done where the component
is used; cells and derived values that only they use move along.

Example, on the demo:
  lien demo --to kiln
  lien extract kiln/parts.lien:75 --name ware-line kiln`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 1, "FILE:LINE", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				file, from, to, err := linesOf(args[0])
				if err != nil {
					return nil, err
				}
				return reshape.Extract(d, reshape.ExtractOptions{File: asShown(d, file), From: from, To: to, Name: c.String("name"),
					Move: c.StringSlice("move"), Keep: c.StringSlice("keep"), All: c.Bool("all")}, reload)
			})
		},
	}
}

// asShown is a path as the messages on a design show it.
func asShown(d *design.Design, path string) string {
	abs, err := filepath.Abs(path)
	if err != nil {
		return path
	}
	for _, f := range d.Files {
		if own, err := filepath.Abs(f.Source.Name); err == nil && own == abs {
			return f.Source.Name
		}
	}
	return path
}

// linesOf reads FILE:LINE or FILE:LINE-LINE.
func linesOf(text string) (file string, from, to int, err error) {
	at := strings.LastIndexByte(text, ':')
	if at > 0 {
		first, last, several := strings.Cut(text[at+1:], "-")
		from, err = strconv.Atoi(first)
		if to = from; several && err == nil {
			to, err = strconv.Atoi(last)
		}
	}
	if at <= 0 || err != nil {
		return "", 0, 0, usagef("write the file and a line, or two: room.lien:12-18", "%q names no lines of a file", text)
	}
	return text[:at], from, to, nil
}

func inlineCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "inline",
		Usage:     "write what a component shows where it is used",
		ArgsUsage: "COMPONENT [DESIGN]",
		Flags:     editFlags(&cli.StringFlag{Name: "at", Usage: "only at the use that begins at `FILE:LINE`", DefaultText: "everywhere"}),
		Description: `The reverse of extract: what is handed to the component stands in place of what it
takes, and what is done with its reports in place of the reports. A component that
holds cells is lifted first.

Example, on the demo:
  lien demo --to kiln
  lien inline shelf-button kiln`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 1, "COMPONENT", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				if of := d.Component(args[0]); of != nil && of.IsContext {
					return nil, usagef("lien relink "+args[0]+".CELL --as report hands down what it holds", "%s is a context, which stands in no view", args[0])
				}
				comp, err := componentNamed(d, args[0])
				if err != nil {
					return nil, err
				}
				file, line := "", 0
				if c.IsSet("at") {
					if file, line, _, err = linesOf(c.String("at")); err != nil {
						return nil, err
					}
				}
				return reshape.Inline(d, comp, asShown(d, file), line, reload)
			})
		},
	}
}

func renameCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "rename",
		Usage:     "give what is declared another name, wherever it is written",
		ArgsUsage: "NAME NEW [DESIGN]",
		Flags:     editFlags(),
		Description: `NAME is a component, context, channel, service, type, constant or function; a member
as component.member, an operation as service.operation, a field as Type.field. It
changes in views, laws, scenarios and starts, and in what comments quote.

Example, on the demo:
  lien demo --to kiln
  lien rename shelf-button.picked chosen kiln`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 2, "NAME NEW", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				return reshape.Rename(d, args[0], args[1], reload)
			})
		},
	}
}

func supplyCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "supply",
		Usage:     "make a context of cells that are handed far",
		ArgsUsage: "CELL... --as CONTEXT [DESIGN]",
		Flags: editFlags(
			&cli.StringFlag{Name: "as", Usage: "the context is called `CONTEXT`", Required: true},
			&cli.StringFlag{Name: "design", Value: ".", Usage: "the design in `DESIGN`, whatever the last argument is"}),
		Description: `The cells, with the actions and derived values that are about them alone, become a
context, which their component supplies. Who shows or changes them uses it; what
was only handed through goes, all along the way.

Example, on the demo:
  lien demo --to kiln
  lien supply kiln-room.chosen --as choice kiln`,
		Action: func(ctx context.Context, c *cli.Command) error {
			cells, at := c.Args().Slice(), c.String("design")
			if last := len(cells) - 1; last > 0 && !c.IsSet("design") && isDesign(cells[last]) {
				cells, at = cells[:last], cells[last]
			}
			if len(cells) == 0 {
				return usagef("lien supply CELL... --as CONTEXT", "there is no cell to supply")
			}
			return runEditOf(ctx, t, c, at, func(d *design.Design, reload reshape.Reload) (*reshape.Result, error) {
				var list []*design.Member
				for _, name := range cells {
					m, err := cellNamed(d, name)
					if err != nil {
						return nil, err
					}
					list = append(list, m)
				}
				return reshape.Supply(d, list, c.String("as"), reload)
			})
		},
	}
}

// isDesign says whether an argument is the path of a design, and not a cell.
func isDesign(arg string) bool {
	info, err := os.Stat(arg)
	return err == nil && (info.IsDir() || strings.HasSuffix(arg, ".lien"))
}

func relinkCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "relink",
		Usage:     "let a value and its changes travel another way",
		ArgsUsage: "COMPONENT.MEMBER --as WAY [DESIGN]",
		Flags: editFlags(
			&cli.StringFlag{Name: "as", Usage: "it travels as `WAY`: report, tie, function, context, method", Required: true},
			&cli.StringFlag{Name: "name", Usage: "the context is called `NAME`", DefaultText: "after the cell"}),
		Description: `What a component is handed, and how it tells of changes: it reports them, shares a cell
that is tied, calls a function that is handed down, uses a context, or holds the value itself and
offers a method that sets it. A cell of a context is handed down instead of it, through all that
stands between.

Example, on the demo:
  lien demo --to kiln
  lien relink search-field.text --as report kiln`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 1, "COMPONENT.MEMBER", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				m, err := memberNamed(d, args[0])
				if err != nil {
					return nil, err
				}
				return reshape.Relink(d, m, c.String("as"), c.String("name"), reload)
			})
		},
	}
}

// memberNamed finds a member by its component and its name.
func memberNamed(d *design.Design, name string) (*design.Member, error) {
	owner, label, _ := strings.Cut(name, ".")
	c := d.Component(owner)
	if c == nil {
		var owners []string
		for _, o := range d.Components {
			owners = append(owners, o.Name)
		}
		return nil, usagef(didYouMean(owner, owners, "the components and contexts are: "), "there is no component %s", owner)
	}
	var names []string
	for _, m := range c.Members {
		if m.Label == label {
			return m, nil
		}
		if m.Label[0] != ' ' {
			names = append(names, owner+"."+m.Label)
		}
	}
	return nil, usagef(didYouMean(name, names, "it has: "), "%s has no %q", owner, label)
}

func splitCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "split",
		Usage:     "make a cell of each field of a record",
		ArgsUsage: "CELL [DESIGN]",
		Flags:     editFlags(),
		Description: `A cell that holds a record becomes one cell for each of its fields.

Example, on the demo: no cell of the kiln room holds a record alone; in a design with
holds form = { name: "", kg: 1 }
  lien split kiln-page.form`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 1, "CELL", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				m, err := cellNamed(d, args[0])
				if err != nil {
					return nil, err
				}
				return reshape.Split(d, m, reload)
			})
		},
	}
}

func joinCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "join",
		Usage:     "make one cell of two that always agree",
		ArgsUsage: "CELL CELL [DESIGN]",
		Flags:     editFlags(),
		Description: `The second cell goes, and the first is read in its place. The comparison says whether
they did agree.

Example, in a design with two cells that are always set together:
  lien join kiln-page.chosen kiln-page.picked`,
		Action: func(ctx context.Context, c *cli.Command) error {
			return runEdit(ctx, t, c, 2, "CELL CELL", func(d *design.Design, args []string, reload reshape.Reload) (*reshape.Result, error) {
				a, err := cellNamed(d, args[0])
				if err != nil {
					return nil, err
				}
				b, err := cellNamed(d, args[1])
				if err != nil {
					return nil, err
				}
				return reshape.Join(d, a, b, reload)
			})
		},
	}
}

func adviseCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "advise",
		Usage:     "where would state live better?",
		ArgsUsage: "[DESIGN]",
		Flags:     []cli.Flag{formatFlag("text", "json")},
		Description: `Tells which cells only one part needs, which are handed through parts that do nothing
with them, and which parts of views are written several times, each with the
command that mends it. What saves most comes first.

Example, on the demo:
  lien demo --to kiln
  lien advise kiln`,
		Action: func(_ context.Context, c *cli.Command) error { return runAdvise(t, c) },
	}
}

func runAdvise(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	p, err := locateArg(c)
	if err != nil {
		return err
	}
	name := c.Args().First()
	if name == "" {
		name = "."
	}
	d, err := runnable(t, p, name)
	if err != nil {
		return err
	}
	list := reshape.Advise(d, p.reload)
	if c.String("format") == "json" {
		return t.json(adviceJSON(list))
	}
	for _, a := range list {
		t.printf("%s: %s\n", t.paint(bold, a.At.String()), a.Why)
		saves := ""
		if a.Saves > 1 {
			saves = t.paint(dim, fmt.Sprintf("   saves %d lines of links and reports", a.Saves))
		}
		t.printf("   %s  %s%s\n", t.paint(dim, "do"), a.Command, saves)
	}
	if len(list) == 0 {
		t.printf("%s: nothing to move\n", sizeOf(d))
	}
	return nil
}

type jsonAdvice struct {
	At      source.Position `json:"at"`
	Why     string          `json:"why"`
	Saves   int             `json:"saves"`
	Command string          `json:"command"`
}

func adviceJSON(list []reshape.Advice) []jsonAdvice {
	out := []jsonAdvice{}
	for _, a := range list {
		out = append(out, jsonAdvice{a.At, a.Why, a.Saves, a.Command})
	}
	return out
}
