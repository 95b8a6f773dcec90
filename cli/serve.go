package cli

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"os/signal"
	"runtime"
	"time"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/serve"
	"lien/core/web"
)

func serveCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "serve",
		Usage:     "the page of a design in a browser of this machine, with its state beside it",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			&cli.StringFlag{Name: "start", Usage: "begin as the start whose name or root is `NAME`; the first one when left out"},
			&cli.IntFlag{Name: "port", Usage: "listen on port `N`; a free one when left out"},
			&cli.BoolFlag{Name: "open", Usage: "open it in this machine's browser"},
		},
		Description: `Builds the page as lien build does, and shows it under 127.0.0.1 until you stop it
with Ctrl+C. Other machines, hosts and pages get nothing.

Beside the page stands a pane: the state by holder, what the last turn did, what waits
(let time pass, answer, let it fail), the steps, to be taken back and done again and
saved as a scenario, and what lien check finds. Point shows which component wrote an
element, what it reads and who holds that; a cell shows where it is seen. Another start
can be chosen there, or a component alone. Services are asked of their stand-ins.

When a file of the design changes, the page goes on with the same steps, as far as they
fit; if the design has errors then, they are told. The page by itself is at /index.html.

Example, on the demo:
  lien demo --to kiln
  lien serve kiln`,
		Action: func(ctx context.Context, c *cli.Command) error { return runServe(ctx, t, c) },
	}
}

// settleTime is how long files are left alone before a page is built of them: editors write in several steps.
const settleTime = 40 * time.Millisecond

func runServe(ctx context.Context, t *terminal, c *cli.Command) error {
	goesOn()
	if err := t.setColor(c); err != nil {
		return err
	}
	d, p, err := loadAt(c)
	if err != nil {
		return err
	}
	name := c.String("start")
	if _, err := built(d, name); err != nil {
		return usagef("see lien check", "%s", err)
	}
	at, err := listen(c)
	if err != nil {
		return err
	}
	page := serve.New(func() ([]web.File, error) {
		d, err := design.Load(p.fsys, p.name, p.show)
		if err != nil {
			return nil, err
		}
		return built(d, name)
	}, &studio{t: t, place: p, budget: d.Budget, start: name})
	changes := time.AfterFunc(time.Hour, page.Changed)
	changes.Stop()
	defer watch(p, func() { changes.Reset(settleTime) })()
	address := fmt.Sprintf("http://%s/", at.Addr())
	t.printf("%s\n", address)
	if c.Bool("open") {
		if err := openBrowser(address); err != nil {
			t.printf("no browser opens: %v\n", err)
		}
	}
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt)
	defer stop()
	return serving(ctx, at, page)
}

// openBrowser lets the system show an address as it does when one is clicked.
func openBrowser(address string) error {
	name, args := "xdg-open", []string{address}
	switch runtime.GOOS {
	case "darwin":
		name = "open"
	case "windows":
		name, args = "rundll32", []string{"url.dll,FileProtocolHandler", address}
	}
	cmd := exec.Command(name, args...)
	if err := cmd.Start(); err != nil {
		return err
	}
	go cmd.Wait()
	return nil
}

// listen opens the port that --port names, on this machine alone.
func listen(c *cli.Command) (net.Listener, error) {
	n := c.Int("port")
	if n < 0 || n > 65535 {
		return nil, usagef("leave it out for a free one", "there is no port %d", n)
	}
	at, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", n))
	if err != nil {
		return nil, usagef("name another port, or none for a free one", "nothing can be shown there: %v", err)
	}
	return at, nil
}

// built is the page of a design; its first error where it has any.
func built(d *design.Design, name string) ([]web.File, error) {
	for _, f := range d.Errors() {
		return nil, fmt.Errorf("%s: %s\n%s", d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	if len(d.Starts) == 0 {
		return nil, errors.New("the design has no start, so no page begins: write start NAME")
	}
	start, err := startNamed(d, name, true)
	if err != nil {
		return nil, err
	}
	return web.Build(d, web.Options{Start: start, StandIns: true})
}

// serving answers until it is told to stop.
func serving(ctx context.Context, at net.Listener, page http.Handler) error {
	s := &http.Server{Handler: page, ReadHeaderTimeout: 5 * time.Second, BaseContext: func(net.Listener) context.Context { return ctx }}
	ended := make(chan error, 1)
	go func() { ended <- s.Serve(at) }()
	select {
	case err := <-ended:
		return usagef("", "%v", err)
	case <-ctx.Done():
	}
	s.Close()
	<-ended
	return nil
}
