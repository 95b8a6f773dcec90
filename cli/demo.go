package cli

import (
	"context"
	"path/filepath"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/check"
	"lien/core/compare"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/prove"
	"lien/core/reshape"
	"lien/core/story"
	"lien/demo"
)

func demoCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:  "demo",
		Usage: "what is this? the kiln-room design, checked, run, mapped and proved",
		Flags: []cli.Flag{&cli.StringFlag{Name: "to", Usage: "write the design to the folder `DIR` instead"}},
		Description: `Shows what Lien does on a built-in design: a pottery studio whose members share
two kilns. With --to the design is written out, to try every command on it.

Example:
  lien demo
  lien demo --to kiln`,
		Action: func(_ context.Context, c *cli.Command) error {
			if err := t.setColor(c); err != nil {
				return err
			}
			if c.Args().Len() > 0 {
				return usagef("write lien demo --to "+c.Args().First(), "lien demo takes no design")
			}
			if dir := c.String("to"); dir != "" {
				return t.writeDemo(dir)
			}
			return t.demo()
		},
	}
}

func (t *terminal) writeDemo(dir string) error {
	if err := writeFolder(dir, demo.Files, "kiln-room"); err != nil {
		return err
	}
	t.printf("wrote the kiln room to %s\n\nnext:\n", dir)
	t.tryNext(dir)
	return nil
}

func (t *terminal) tryNext(dir string) {
	t.next("lien check "+dir, "does the design hold together?")
	t.next("lien test "+dir, "run its scenarios and laws")
	t.next("lien prove "+dir, "can the group ever disagree?")
	t.next("lien map "+dir+" --of kiln-room.wares", "follow one cell through the components")
	t.next("lien draw "+dir+" --to house.svg", "the whole design as a picture")
	t.next("lien try "+dir, "press it, and see its state beside it")
	t.next("lien serve "+dir, "the page in a browser, with its state beside it")
	t.next("lien lift news-line.text "+dir, "move a cell up, with proof that nobody can tell")
	t.next("lien check --why copy-goes-stale", "what a rule looks for, with examples")
	t.next("lien new studio", "begin a design of your own")
}

// demo checks, runs and maps the built-in design, as the commands do.
func (t *terminal) demo() error {
	d, err := design.Load(demo.Files, "kiln-room", func(s string) string { return filepath.Base(s) })
	if err != nil {
		return err
	}
	t.printf("%s\n\n", t.paint(bold, "Lien: who holds which state, and how do the others come by it?"))
	t.printf("A pottery studio shares two kilns. One component of its page, as a design:\n\n")
	t.excerpt(d, "shelf-button")
	list := check.Run(d, check.Options{})
	t.title("lien check", "does it hold together?")
	t.findings(d, list)
	t.printf("%s: %s\n", sizeOf(d), summary(list))
	if finding.Failed(list) {
		return failed
	}
	rep := story.Run(d, nil)
	t.title("lien test", "does it do what people expect?")
	t.report(d, rep)
	t.title("lien map", "who holds what, and how does it travel?")
	g := links.Of(d)
	cells, _, err := pick(d, g, "kiln-room.chosen")
	if err != nil {
		return err
	}
	t.mapText(d, g, cells, false)
	t.title("lien prove", "can the group ever disagree?")
	proof := prove.Run(d, demoBounds)
	t.proof(d, proof, false)
	if err := t.demoMistake(); err != nil {
		return err
	}
	if err := t.demoLift(d); err != nil {
		return err
	}
	t.title("try it yourself", "")
	t.next("lien demo --to kiln", "write this design to a folder")
	t.tryNext("kiln")
	if rep.Failed() || proof.Failed() {
		return failed
	}
	return nil
}

// demoBounds: the demo is proved whole.
var demoBounds = prove.Options{}

// demoMistake proves the design once more with a hole in it.
func (t *terminal) demoMistake() error {
	d, err := design.Load(demo.Planted(), "kiln-room", func(s string) string { return filepath.Base(s) })
	if err != nil {
		return err
	}
	t.title("lien prove, with a mistake in it", "somebody forgot that shelves get full")
	t.printf("  - %s\n  + %s\n", demo.Mistake.Was, demo.Mistake.Is)
	for _, o := range prove.Run(d, demoBounds).Laws {
		if o.Verdict == prove.Broken {
			t.breach(d, o, o.Breach)
		}
	}
	return nil
}

// demoLift moves a cell of the design, and tells whether anybody can tell.
func (t *terminal) demoLift(d *design.Design) error {
	p := place{demo.Files, "kiln-room", func(s string) string { return filepath.Base(s) }, nil}
	res, err := reshape.Lift(d, d.Component("news-line").Member("text"), reshape.LiftOptions{}, p.reload)
	if err != nil {
		return err
	}
	t.title("lien lift news-line.text", "the page is to hold it; does everything still work as before?")
	t.edit(res)
	t.comparison(compare.Run(d, res.Design, compare.Options{Pairs: 1000}), compare.Options{})
	return nil
}

func (t *terminal) title(name, what string) {
	if what != "" {
		name += ": " + what
	}
	t.printf("\n%s\n", t.paint(bold, "── "+name))
}

// excerpt prints one component of a design as it is written.
func (t *terminal) excerpt(d *design.Design, name string) {
	c := d.Component(name)
	for _, line := range strings.Split(d.Text(c.Syntax.Span()), "\n") {
		t.printf("  %s\n", line)
	}
}
