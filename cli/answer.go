package cli

import (
	"context"
	"net/http"
	"os"
	"os/signal"
	"sync/atomic"
	"time"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/serve"
)

func answerCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "answer",
		Usage:     "the stand-ins of a design's services over HTTP, for pages that are built otherwise",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			&cli.StringSliceFlag{Name: "fail", Usage: "the operation `NAME`, such as kiln-log.load, fails; may be repeated"},
			&cli.IntFlag{Name: "port", Usage: "listen on port `N`; a free one when left out"},
		},
		Description: `Answers for every service that says where it is (service kiln-log at "/api"), in the
time that its stand-ins take, until you stop it with Ctrl+C. Requests are held to the
design: what does not fit is told with status 400. Pages of this machine may ask from
any port; others get nothing. When a file of the design changes, so do the answers.

Example:
  lien new studio --from-api openapi.yaml
  lien answer studio`,
		Action: func(ctx context.Context, c *cli.Command) error { return runAnswer(ctx, t, c) },
	}
}

func runAnswer(ctx context.Context, t *terminal, c *cli.Command) error {
	goesOn()
	if err := t.setColor(c); err != nil {
		return err
	}
	d, p, err := loadAt(c)
	if err != nil {
		return err
	}
	for _, f := range d.Errors() {
		return usagef("see lien check", "%s: %s", d.Set.Position(f.Span.Start), f.Message)
	}
	fail := c.StringSlice("fail")
	first, err := serve.NewAnswers(d, fail)
	if err != nil {
		return usagef("", "%s", err)
	}
	at, err := listen(c)
	if err != nil {
		return err
	}
	var now atomic.Pointer[serve.Answers]
	now.Store(first)
	changes := time.AfterFunc(time.Hour, func() {
		d, err := design.Load(p.fsys, p.name, p.show)
		if err != nil || d.Failed() {
			return // it goes on as before
		}
		if a, err := serve.NewAnswers(d, fail); err == nil {
			now.Store(a)
		}
	})
	changes.Stop()
	defer watch(p, func() { changes.Reset(settleTime) })()
	t.printf("http://%s\n", at.Addr())
	for _, route := range first.Routes() {
		t.printf("  %s\n", route)
	}
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt)
	defer stop()
	return serving(ctx, at, http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { now.Load().ServeHTTP(w, r) }))
}
