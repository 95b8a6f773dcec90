package cli

import (
	"context"
	"fmt"
	"time"

	"github.com/urfave/cli/v3"

	"lien/core/report"
)

func reportCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "report",
		Usage:     "one page for the team: pictures, contracts, findings, scenarios, verdicts",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			&cli.StringFlag{Name: "to", Value: "report.html", Usage: "write to `FILE`"},
			forceFlag(),
			&cli.IntFlag{Name: "states", Value: 20_000, Usage: "how many states the proof in it visits, `N`; 0 for no proof"},
			&cli.DurationFlag{Name: "time", Value: 30 * time.Second, Usage: "how long that goes on at most, `D`, such as 30s or 5m"},
		},
		Description: `Writes one HTML file that needs no network: what the design is for (the comments
of its files and components), the house, each component with its contract, the
journeys of the cells, what lien check finds, the scenarios with what each step
led to, and what lien prove says of the laws. Where the time for that is up, the
page says what is missing, and another run may come further.

Example, on the demo:
  lien demo --to kiln
  lien report kiln --to kiln.html`,
		Action: func(_ context.Context, c *cli.Command) error { return runReport(t, c) },
	}
}

func runReport(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	d, err := load(c)
	if err != nil {
		return err
	}
	if c.Int("states") < 0 {
		return usagef("write a number, or 0 for no proof", "--states cannot be less than nothing")
	}
	if c.Duration("time") <= 0 {
		return usagef("write a time such as 30s, or --states 0 for no proof", "--time has to be longer than nothing")
	}
	data, err := report.HTML(d, report.Options{States: c.Int("states"), Time: c.Duration("time")})
	if err != nil {
		return err
	}
	to := c.String("to")
	if err := save(c, d, made{to, data}); err != nil {
		return err
	}
	t.printf("%s  %s\n", to, t.paint(dim, fmt.Sprintf("%d KB", (len(data)+512)/1024)))
	return nil
}
