module lien

go 1.26.0

require (
	github.com/urfave/cli/v3 v3.14.0 // indirect
	golang.org/x/text v0.43.0 // indirect
)
