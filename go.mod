module lien

go 1.26.0

require (
	charm.land/bubbletea/v2 v2.1.1
	github.com/dlclark/regexp2 v1.12.0
	github.com/evanw/esbuild v0.28.2
	github.com/fsnotify/fsnotify v1.10.1
	github.com/mattn/go-runewidth v0.0.30
	github.com/pb33f/libopenapi v0.42.5
	github.com/tdewolff/parse/v2 v2.8.20
	github.com/urfave/cli/v3 v3.14.0
	github.com/yosida95/uritemplate/v3 v3.0.2
	go.yaml.in/yaml/v3 v3.0.5
	golang.org/x/image v0.47.0
	golang.org/x/net v0.62.0
	golang.org/x/term v0.47.0
	golang.org/x/text v0.43.0
)

require (
	github.com/bahlo/generic-list-go v0.2.0 // indirect
	github.com/buger/jsonparser v1.1.2 // indirect
	github.com/charmbracelet/colorprofile v0.4.3 // indirect
	github.com/charmbracelet/ultraviolet v0.0.0-20261008173134-6b8d4baf91b4 // indirect
	github.com/charmbracelet/x/ansi v0.11.9 // indirect
	github.com/charmbracelet/x/term v0.2.2 // indirect
	github.com/charmbracelet/x/termios v0.1.1 // indirect
	github.com/charmbracelet/x/windows v0.2.2 // indirect
	github.com/clipperhouse/displaywidth v0.11.0 // indirect
	github.com/clipperhouse/uax29/v2 v2.7.0 // indirect
	github.com/lucasb-eyer/go-colorful v1.4.1 // indirect
	github.com/muesli/cancelreader v0.2.2 // indirect
	github.com/pb33f/go-yaml v0.1.1 // indirect
	github.com/pb33f/jsonpath v0.8.5 // indirect
	github.com/pb33f/ordered-map/v2 v2.3.2 // indirect
	github.com/rivo/uniseg v0.4.7 // indirect
	github.com/xo/terminfo v1.0.0 // indirect
	golang.org/x/sync v0.25.0 // indirect
	golang.org/x/sys v0.49.0 // indirect
)
