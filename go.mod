module lien

go 1.26.0

require (
	github.com/urfave/cli/v3 v3.14.0
	golang.org/x/term v0.47.0
	golang.org/x/text v0.43.0
)

require golang.org/x/sys v0.49.0 // indirect
