package cli

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"unicode"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/draw"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/picture"
)

func drawCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "draw",
		Usage:     "pictures: the house, the journey of a cell, a scenario in time, the states of a group",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			&cli.StringFlag{Name: "cell", Usage: "the journey of the cell `NAME` (wares, or kiln-room.wares)"},
			&cli.StringFlag{Name: "scenario", Usage: "the scenario whose name contains `TEXT`, in time"},
			&cli.StringFlag{Name: "states", Usage: "the states of the component `NAME`, and what leads from one to another"},
			&cli.StringFlag{Name: "since", Usage: "mark what was added, gone and moved since git's revision `REV`"},
			&cli.StringFlag{Name: "from", Usage: "the same, since the design in `DESIGN`"},
			&cli.StringFlag{Name: "to", Usage: "write to `FILE`; .svg, .png or .pdf tells the format", DefaultText: "named for what is drawn, .svg"},
			forceFlag(),
			&cli.StringFlag{Name: "theme", Value: "light", Usage: "colours as `NAME`: light, dark, print"},
			&cli.FloatFlag{Name: "scale", Value: 1.5, Usage: "PNG: `N` pixels for each of the picture's"},
		},
		Description: `Draws the components of a design from root to leaves, with what each holds,
takes, reports and offers, and every link from member to member. With one of
--cell, --scenario and --states it draws that instead. What is too large for
one sheet gets several: FILE-1.svg, FILE-2.svg, or pages of one PDF.

Example, on the demo:
  lien demo --to kiln
  lien draw kiln --to house.svg
  lien draw kiln --cell kiln-room.wares --to wares.png`,
		Action: func(_ context.Context, c *cli.Command) error { return runDraw(t, c) },
	}
}

func runDraw(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	th, err := themeOf(c.String("theme"))
	if err != nil {
		return err
	}
	sheets, name, d, err := drawn(t, c)
	if err != nil {
		return err
	}
	to := c.String("to")
	if to == "" {
		to = name + ".svg"
	}
	files, err := paint(sheets, th, to, c.Float("scale"))
	if err != nil {
		return err
	}
	if err := save(c, d, files...); err != nil {
		return err
	}
	for i, f := range files {
		t.printf("%s  %s\n", f.path, t.paint(dim, fmt.Sprintf("%.0f x %.0f", sheets[i].Width, sheets[i].Height)))
	}
	if failing := len(d.Errors()); failing > 0 {
		t.printf("%s in the design: what is not clear is marked; see lien check\n", finding.Count(failing, "error"))
	}
	return nil
}

func themeOf(name string) (*picture.Theme, error) {
	var names []string
	for _, th := range picture.Themes {
		if th.Name == name {
			return th, nil
		}
		names = append(names, th.Name)
	}
	return nil, usagef("the themes are: "+strings.Join(names, ", "), "there is no theme %s", name)
}

// drawn makes the pictures that a command asks for, and names them.
func drawn(t *terminal, c *cli.Command) (sheets []*picture.Picture, name string, d *design.Design, err error) {
	var what []string
	for _, f := range []string{"cell", "scenario", "states"} {
		if c.IsSet(f) {
			what = append(what, "--"+f)
		}
	}
	if len(what) > 1 {
		return nil, "", nil, usagef("give one of them", "one picture at a time, but here are %s", strings.Join(what, " and "))
	}
	if c.IsSet("scenario") || c.IsSet("states") {
		return drawnRunning(t, c)
	}
	if d, err = load(c); err != nil {
		return nil, "", nil, err
	}
	if c.IsSet("since") || c.IsSet("from") {
		return drawnChanges(t, c, d)
	}
	if !c.IsSet("cell") {
		sheets = draw.House(d)
		return sheets, sheets[0].Title, d, nil
	}
	g := links.Of(d)
	cells, _, err := pick(d, g, c.String("cell"))
	if err != nil {
		return nil, "", nil, err
	}
	if len(cells) != 1 {
		var names []string
		for _, m := range cells {
			names = append(names, m.Owner.Name+"."+m.Label)
		}
		const most = 12
		if more := len(names) - most; more > 0 {
			names = append(names[:most:most], fmt.Sprintf("and %d more", more))
		}
		return nil, "", nil, usagef("name one: "+strings.Join(names, ", "), "%s is the name of %d cells", c.String("cell"), len(cells))
	}
	return []*picture.Picture{draw.Journey(d, cells[0], true)}, cells[0].Owner.Name + "." + cells[0].Label, d, nil
}

// drawnChanges draws what differs from an earlier design: the house with marks, or the journeys of a
// cell before and after.
func drawnChanges(t *terminal, c *cli.Command, d *design.Design) ([]*picture.Picture, string, *design.Design, error) {
	was, err := earlier(t, c)
	if err != nil {
		return nil, "", nil, err
	}
	if !c.IsSet("cell") {
		sheets := draw.Changes(was, d)
		return sheets, sheets[0].Title + "-changes", d, nil
	}
	var sheets []*picture.Picture
	for _, x := range []*design.Design{was, d} {
		cells, _, err := pick(x, links.Of(x), c.String("cell"))
		if err == nil && len(cells) == 1 {
			sheets = append(sheets, draw.Journey(x, cells[0], true))
		}
	}
	if len(sheets) == 0 {
		return nil, "", nil, usagef("name a cell that one of them has, as component.cell where several have it", "neither design has one cell %s", c.String("cell"))
	}
	return sheets, fileName(c.String("cell")) + "-changes", d, nil
}

// earlier reads the design that the one that is drawn is held against.
func earlier(t *terminal, c *cli.Command) (*design.Design, error) {
	if c.IsSet("since") && c.IsSet("from") {
		return nil, usagef("give one of them", "--since and --from both name an earlier design")
	}
	if c.IsSet("from") {
		return loadComparable(t, c, c.String("from"))
	}
	p, err := locateArg(c)
	if err != nil {
		return nil, err
	}
	was, err := p.asOf(c.String("since"))
	if err != nil {
		return nil, err
	}
	return runnable(t, was, c.String("since"))
}

// drawnRunning draws what takes a design that runs: a scenario, or states.
func drawnRunning(t *terminal, c *cli.Command) ([]*picture.Picture, string, *design.Design, error) {
	d, err := loadRunnable(t, c)
	if err != nil {
		return nil, "", nil, err
	}
	if len(d.Starts) == 0 {
		return nil, "", nil, usagef("write start NAME", "the design has no start")
	}
	if c.IsSet("scenario") {
		s, err := pickScenario(d, c.String("scenario"))
		if err != nil {
			return nil, "", nil, err
		}
		return draw.Scenario(d, s), fileName(s.Name), d, nil
	}
	name := c.String("states")
	part, err := componentNamed(d, name)
	if err != nil {
		return nil, "", nil, err
	}
	start := d.Starts[0]
	for _, s := range d.Starts {
		if s.Root == part {
			start = s
		}
	}
	p, err := draw.States(d, start, part)
	var large *draw.TooLarge
	if errors.As(err, &large) {
		write := "draw a scenario instead (--scenario), or the journey of a cell (--cell)"
		if len(large.Smaller) > 0 {
			write = "draw the states of a part of it: " + strings.Join(large.Smaller, ", ") + "; or " + write
		}
		return nil, "", nil, usagef(write, "%s of %s", large, name)
	}
	if err != nil {
		return nil, "", nil, usagef("see lien test", "%s does not start: %v", start.Root.Name, err)
	}
	return []*picture.Picture{p}, name + "-states", d, nil
}

// componentNamed finds a component that can be mounted.
func componentNamed(d *design.Design, name string) (*design.Component, error) {
	if c := d.Component(name); c != nil && !c.IsContext {
		return c, nil
	}
	var names []string
	for _, c := range d.Components {
		if !c.IsContext {
			names = append(names, c.Name)
		}
	}
	return nil, usagef(didYouMean(name, names, "the components are: "), "there is no component %s", name)
}

// fileName is a name as part of a file's.
func fileName(s string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return '-'
	}, s), "-")
}

// paint turns pictures into files of the format that a name tells.
func paint(sheets []*picture.Picture, th *picture.Theme, to string, scale float64) ([]made, error) {
	ext := strings.ToLower(filepath.Ext(to))
	if ext == ".pdf" {
		data, err := picture.PDF(sheets, th)
		return []made{{to, data}}, err
	}
	if ext != ".svg" && ext != ".png" {
		return nil, usagef("end it in .svg, .png or .pdf", "%s does not tell a format that lien draw knows", to)
	}
	if scale < 0.1 || scale > 8 {
		return nil, usagef("give a number between 0.1 and 8", "--scale %g is no use", scale)
	}
	var files []made
	for i, p := range sheets {
		path := to
		if len(sheets) > 1 {
			path = fmt.Sprintf("%s-%d%s", strings.TrimSuffix(to, filepath.Ext(to)), i+1, ext)
		}
		data := picture.SVG(p, th)
		if ext == ".png" {
			var err error
			if data, err = picture.PNG(p, th, scale); err != nil {
				return nil, usagef("give a smaller --scale, or draw an SVG", "%s: %v", path, err)
			}
		}
		files = append(files, made{path, data})
	}
	return files, nil
}
