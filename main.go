// Lien reads, checks, runs and maps designs of how interactive components
// hold and share state.
package main

import (
	"context"
	"os"

	"lien/cli"
)

func main() {
	os.Exit(cli.Main(context.Background(), os.Args, cli.Streams{In: os.Stdin, Out: os.Stdout, Err: os.Stderr}))
}
