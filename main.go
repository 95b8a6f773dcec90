// Lien reads, checks, runs and maps designs of how interactive components
// hold and share state.
package main

import (
	"context"
	"os"
	"runtime/debug"

	"lien/cli"
)

func main() {
	debug.SetGCPercent(1000)        // most runs are short: trade memory for time
	debug.SetMemoryLimit(800 << 20) // but not more than a small machine has
	os.Exit(cli.Main(context.Background(), os.Args, cli.Streams{In: os.Stdin, Out: os.Stdout, Err: os.Stderr}))
}
