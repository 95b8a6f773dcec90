// Package cli is the command line: it reads flags, calls the core and prints.
// What is right or wrong about a design is decided in the core alone.
package cli

import (
	"context"
	"errors"
	"fmt"
	"io"
	"runtime/debug"
	"slices"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/source"
)

// Version is the program's version.
const Version = "0.1.0"

// Streams are where the program reads and writes.
type Streams struct {
	In       io.Reader
	Out, Err io.Writer
}

// Exit statuses.
const (
	statusOK       = 0
	statusFailed   = 1 // findings at error level, a failed scenario, a broken law
	statusUnusable = 2 // wrong usage, or input that cannot be read
)

// failed ends a command that did its work and found something wrong. What it
// found has been printed.
var failed = errors.New("failed")

// usageWidth is how wide what is said about wrong usage may be, in columns.
const usageWidth = 96

// usageError is wrong usage: what is wrong, and what to write.
type usageError struct{ what, write string }

func (e *usageError) Error() string { return e.what }

func usagef(write, format string, args ...any) error {
	return &usageError{fmt.Sprintf(format, args...), write}
}

// Main runs the program and gives its exit status.
func Main(ctx context.Context, args []string, s Streams) int {
	out, note := &stream{to: s.Out}, &stream{to: s.Err}
	t := &terminal{Streams: Streams{In: s.In, Out: out, Err: note}}
	status := t.statusOf(run(ctx, app(t), args))
	if err := out.close(); err != nil {
		t.note("the output cannot be written: " + source.Reason(err).Error())
		return statusUnusable
	}
	if note.close() != nil {
		return statusUnusable
	}
	return status
}

// statusOf tells what went wrong, and gives the exit status for it.
func (t *terminal) statusOf(err error) int {
	switch {
	case err == nil:
		return statusOK
	case errors.Is(err, failed):
		return statusFailed
	}
	t.note(err.Error())
	var usage *usageError
	if errors.As(err, &usage) && usage.write != "" {
		for _, line := range wrap(usage.write, usageWidth) {
			t.print(t.Err, "  "+line+"\n")
		}
	}
	return statusUnusable
}

func run(ctx context.Context, root *cli.Command, args []string) error {
	if len(args) > 2 && args[1] == "help" && root.Command(args[2]) == nil && args[2] != "completion" {
		return unknownCommand(root, args[2])
	}
	if len(args) > 3 && root.Command(args[1]) != nil && (slices.Contains(args[2:], "--help") || slices.Contains(args[2:], "-h")) {
		args = []string{args[0], args[1], "--help"} // whatever else is written
	}
	return root.Run(ctx, args)
}

func app(t *terminal) *cli.Command {
	cli.HelpPrinter = t.help
	cli.HelpPrinterCustom = func(w io.Writer, _ string, data any, _ map[string]any) { t.help(w, "", data) }
	root := &cli.Command{
		Name:      "lien",
		Usage:     "designs of how components hold and share state: read, checked, run, proved",
		Version:   Version,
		Reader:    t.In,
		Writer:    t.Out,
		ErrWriter: t.Err,
		Suggest:   true,

		EnableShellCompletion:           true,
		ConfigureShellCompletionCommand: showCompletion(t),
		DisableSliceFlagSeparator:       true, // what is given may have commas in it
		ExitErrHandler:                  func(context.Context, *cli.Command, error) {},
		OnUsageError:                    onUsageError,
		Action: func(_ context.Context, c *cli.Command) error {
			if name := c.Args().First(); name != "" {
				return unknownCommand(c, name)
			}
			return cli.ShowRootCommandHelp(c)
		},
	}
	root.Commands = []*cli.Command{
		demoCommand(t), newCommand(t), checkCommand(t), mapCommand(t), drawCommand(t), tryCommand(t), testCommand(t), traceCommand(t), proveCommand(t), compareCommand(t), liftCommand(t), lowerCommand(t), extractCommand(t), inlineCommand(t), supplyCommand(t), relinkCommand(t), renameCommand(t), splitCommand(t), joinCommand(t), adviseCommand(t), reportCommand(t), buildCommand(t), serveCommand(t), answerCommand(t), fmtCommand(t), manCommand(t),
	}
	for _, c := range root.Commands {
		c.OnUsageError = onUsageError
		c.DisableSliceFlagSeparator = true
		if strings.Contains(c.ArgsUsage, "DESIGN") {
			c.Flags = append(c.Flags, rootFlag())
		}
		if slices.Contains(running, c.Name) {
			c.Flags = append(c.Flags, budgetFlags()...)
		}
		c.Flags = append(c.Flags, colorFlag())
	}
	return root
}

// running are the commands that run designs.
var running = []string{"test", "trace", "prove", "try", "draw", "report"}

func onUsageError(_ context.Context, c *cli.Command, err error, _ bool) error {
	return wrongUsage(c, err)
}

func unknownCommand(c *cli.Command, name string) error {
	var names []string
	for _, sub := range c.Commands {
		if !sub.Hidden {
			names = append(names, sub.Name)
		}
	}
	return usagef(didYouMean(name, names, "the commands are: "), "there is no command %s", name)
}

// goesOn is said by commands that run until they are told to stop: they keep to less memory than those that end at once.
func goesOn() { debug.SetGCPercent(400) }
