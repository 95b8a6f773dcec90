package cli

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"
	"github.com/fsnotify/fsnotify"
	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/play"
)

func tryCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "try",
		Usage:     "press the design in the terminal, and see its state beside it",
		ArgsUsage: "[DESIGN [COMPONENT]]",
		Flags: []cli.Flag{
			&cli.StringFlag{Name: "start", Usage: "the start whose name or root is `NAME`; the first one when left out"},
			&cli.StringSliceFlag{Name: "give", Usage: "what COMPONENT alone takes, as `LINK`: 'full <- true'; may be repeated"},
			&cli.StringFlag{Name: "keep", Usage: "where s saves what was pressed as a scenario, `FILE`; the design's own when left out"},
			&cli.StringFlag{Name: "script", Usage: "take keys from `FILE`, one a line (- for the input), and print the screen"},
		},
		Description: `The page by its roles and names, to be walked with Tab and arrows, pressed with
Enter and typed into. Beside it: the state by holder, what the last turn did,
and what is waiting. With COMPONENT it is mounted alone, what it takes made up
or given. The design is read again when a file of it changes.

A script has one key a line: tab, enter, esc, up, u, j, ... Other lines:
  text Ada     types a text at a prompt       show         prints the screen
  size 100x30  sets the size of the screen    // anything  is a comment

Example, on the demo:
  lien demo --to kiln
  lien try kiln`,
		Action: func(ctx context.Context, c *cli.Command) error { return runTry(ctx, t, c) },
	}
}

func runTry(ctx context.Context, t *terminal, c *cli.Command) error {
	goesOn()
	if err := t.setColor(c); err != nil {
		return err
	}
	o, err := openedFor(t, c)
	if err != nil {
		return err
	}
	if c.IsSet("script") {
		return runScript(t, c.String("script"), o)
	}
	if !isTerminal(t.Out) || !isTerminalIn(t.In) {
		return usagef("give the keys in a file: lien try DESIGN --script FILE", "there is no terminal to try the design in")
	}
	return runTerminal(ctx, t, o)
}

func isTerminalIn(r io.Reader) bool {
	f, ok := r.(*os.File)
	return ok && isTerminal(f)
}

// tried is a design as it is tried: where it lies and what of it is mounted.
type tried struct {
	place     place
	budget    design.Budget
	component string
	given     []string
	start     string
	keep      string
}

// openedFor reads what the arguments of try name, and starts a session.
func openedFor(t *terminal, c *cli.Command) (*tryModel, error) {
	if c.Args().Len() > 2 {
		return nil, usagef("see lien help try", "lien try takes a design and a component, but here are %d: %s", c.Args().Len(), strings.Join(c.Args().Slice(), " "))
	}
	arg := c.Args().First()
	if arg == "" {
		arg = "."
	}
	p, err := locate(arg, c.String("root"))
	if err != nil {
		return nil, err
	}
	budget, err := budgetOf(c)
	if err != nil {
		return nil, err
	}
	o := &tried{place: p, budget: budget, component: c.Args().Get(1), given: c.StringSlice("give"), start: c.String("start"), keep: c.String("keep")}
	if len(o.given) > 0 && o.component == "" {
		return nil, usagef("lien try DESIGN COMPONENT --give LINK", "--give is for a component alone")
	}
	d, err := o.load(t, "")
	if err != nil {
		return nil, err
	}
	s, err := o.startOf(d)
	if err != nil {
		return nil, err
	}
	session, err := play.New(d, s)
	if err != nil {
		return nil, usagef("see lien test", "%s does not start: %s", s.Root.Name, err)
	}
	return newTryModel(t, o, session), nil
}

// load reads the design, with the start of a component alone and more text.
func (o *tried) load(t *terminal, more string) (*design.Design, error) {
	if o.component != "" {
		start, err := o.alone()
		if err != nil {
			return nil, err
		}
		more = start + more
	}
	d, err := o.place.loadWith(more)
	if err != nil {
		return nil, usagef("", "%s", err)
	}
	d.Budget = o.budget
	if d.Failed() {
		first := d.Errors()[0]
		if o.component != "" && o.isGiven(d, first) {
			return nil, usagef(first.Write, "what is given to %s does not fit: %s", o.component, first.Message)
		}
		return nil, usagef("see lien check", "the design cannot run: %s: %s", d.Set.Position(first.Span.Start), first.Message)
	}
	if len(d.Starts) == 0 {
		return nil, usagef("write start NAME, or name a component: lien try DESIGN COMPONENT", "the design has no start")
	}
	return d, nil
}

// isGiven says whether a finding is about what was given on the command line, which stands in no file.
func (o *tried) isGiven(d *design.Design, f *finding.Finding) bool {
	plain, err := design.Load(o.place.fsys, o.place.name, o.place.show)
	if err != nil {
		return false
	}
	at := d.Set.Position(f.Span.Start)
	for _, file := range plain.Set.Files() {
		if file.Name == at.File {
			return at.Line > file.Lines()
		}
	}
	return true
}

// alone is the text of the start of a component alone.
func (o *tried) alone() (string, error) {
	d, err := design.Load(o.place.fsys, o.place.name, o.place.show)
	if err != nil {
		return "", usagef("", "%s", err)
	}
	c, err := componentNamed(d, o.component)
	if err != nil {
		return "", err
	}
	text, err := play.Alone(c, o.given)
	if err != nil {
		return "", usagef("give it: --give 'NAME <- VALUE'", "%s", err)
	}
	return text, nil
}

// startOf is the start that is tried.
func (o *tried) startOf(d *design.Design) (*design.Start, error) {
	if o.component != "" {
		return startNamed(d, play.AloneName, false)
	}
	return startNamed(d, o.start, true)
}

// startNamed is the start of a name, or with roots of a root; "" for the first one.
func startNamed(d *design.Design, want string, roots bool) (*design.Start, error) {
	var names []string
	for _, s := range d.Starts {
		if want == "" || s.Name == want || roots && s.Root.Name == want {
			return s, nil
		}
		name := s.Name
		if name == "" {
			name = s.Root.Name
		}
		names = append(names, name)
	}
	return nil, usagef(didYouMean(want, names, "the starts are: "), "there is no start %s", want)
}

// reload reads the design anew, and does again what was done, as far as that
// is possible. It tells what came of it.
func (o *tried) reload(t *terminal, s *play.Session) (*play.Session, string) {
	const name = "what was pressed"
	d, err := o.load(t, s.Scenario(name))
	if err != nil {
		return s, "not read again: " + err.Error()
	}
	sc := d.Scenarios[slices.IndexFunc(d.Scenarios, func(x *design.Scenario) bool { return x.Name == name })]
	next, taken, err := play.Resume(d, sc, func(st *design.Step) string { return d.Text(st.Span()) })
	if err != nil {
		return s, "not read again: it does not start: " + err.Error()
	}
	if _, done := s.Acts(); taken < done {
		return next, fmt.Sprintf("read again; %d of %s fit", taken, finding.Count(done, "step"))
	}
	return next, "read again"
}

// save adds what was pressed to a file, as a scenario.
func (o *tried) save(s *play.Session, name string) (string, error) {
	file, shown := o.keep, o.keep
	if file == "" {
		home, err := o.home(s.Design)
		if err != nil {
			return "", err
		}
		file, shown = o.place.path(home), o.place.show(home)
	}
	text := s.Kept(unusedName(s.Design, name))
	if o.component != "" && !slices.ContainsFunc(s.Design.Starts, func(x *design.Start) bool { return x.Name == play.AloneName && x != s.Start }) {
		start, err := o.alone()
		if err != nil {
			return "", err
		}
		text = start + "\n" + text
	}
	return shown, addToFile(file, text)
}

// home is the file of the design that has its last scenario, of those that were named.
func (o *tried) home(d *design.Design) (string, error) {
	named, err := design.Files(o.place.fsys, o.place.name, o.place.show)
	if err != nil {
		return "", err
	}
	for _, sc := range slices.Backward(d.Scenarios) {
		if path := d.Set.File(sc.Syntax.Span().Start).Path; slices.Contains(named, path) {
			return path, nil
		}
	}
	return named[0], nil
}

// runTerminal lets a person try the design.
func runTerminal(ctx context.Context, t *terminal, m *tryModel) error {
	// The file itself, since a screen is laid out for the window that it is in.
	p := tea.NewProgram(&trying{m}, tea.WithContext(ctx), tea.WithInput(t.In), tea.WithOutput(fileOf(t.Out)))
	stop := watch(m.opened.place, func() { p.Send(changedMsg{}) })
	defer stop()
	if _, err := p.Run(); err != nil && ctx.Err() == nil && !errors.Is(err, tea.ErrInterrupted) {
		return usagef("", "the terminal: %v", err)
	}
	return nil
}

// trying shows a tryModel on a terminal.
type trying struct{ *tryModel }

// changedMsg tells that a file of the design has changed.
type changedMsg struct{}

// Init asks for nothing.
func (m *trying) Init() tea.Cmd { return nil }

// Update does what a message from the terminal says.
func (m *trying) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	switch msg := msg.(type) {
	case tea.WindowSizeMsg:
		m.size(msg.Width, msg.Height)
	case changedMsg:
		m.reload()
	case tea.KeyPressMsg:
		key := msg.String()
		if _, named := namedKeys[key]; !named && msg.Text != "" {
			key = msg.Text
		}
		m.press(key)
	case tea.PasteMsg:
		m.press(msg.Content)
	}
	if m.quit {
		return m, tea.Quit
	}
	return m, nil
}

// View is the whole screen.
func (m *trying) View() tea.View {
	v := tea.NewView(m.t.shown(m.screen()))
	v.AltScreen = true
	return v
}

// watch tells when something in the folder of a design changes.
func watch(p place, changed func()) (stop func()) {
	w, err := fsnotify.NewWatcher()
	if err != nil {
		return func() {}
	}
	dir := p.path(p.name)
	if info, err := os.Stat(dir); err == nil && !info.IsDir() {
		dir = filepath.Dir(dir)
	}
	if w.Add(dir) != nil {
		w.Close()
		return func() {}
	}
	go func() {
		for e := range w.Events {
			if filepath.Ext(e.Name) == ".lien" || filepath.Ext(e.Name) == ".json" || filepath.Ext(e.Name) == ".csv" {
				changed()
			}
		}
	}()
	return func() { w.Close() }
}

// runScript feeds keys from a file, and prints the screen.
func runScript(t *terminal, file string, m *tryModel) error {
	in := t.In
	if file != "-" {
		f, err := os.Open(file)
		if err != nil {
			return usagef("", "%v", err)
		}
		defer f.Close()
		in = f
	}
	m.size(80, 24)
	lines := bufio.NewScanner(in)
	shown := false
	for n := 1; lines.Scan(); n++ {
		line := strings.TrimSpace(lines.Text())
		word, rest, _ := strings.Cut(line, " ")
		shown = false
		switch {
		case line == "" || strings.HasPrefix(line, "//"):
			continue
		case word == "show":
			t.printf("%s\n", trimmed(m.screen()))
			shown = true
		case word == "size":
			var w, h int
			if _, err := fmt.Sscanf(rest, "%dx%d", &w, &h); err != nil || w < 20 || h < 8 || w > 1000 || h > 1000 {
				return usagef("write size 100x30", "%s:%d: %q is no size", file, n, rest)
			}
			m.size(w, h)
		case word == "text":
			for _, r := range rest {
				m.press(string(r))
			}
		default:
			if _, named := namedKeys[line]; !named && len([]rune(line)) != 1 {
				return usagef("write a letter, or one of "+strings.Join(keyNames(), ", "), "%s:%d: there is no key %q", file, n, line)
			}
			m.press(line)
		}
		if m.quit {
			break
		}
	}
	if err := lines.Err(); err != nil {
		return usagef("", "%s: %v", file, err)
	}
	if !shown {
		t.printf("%s\n", trimmed(m.screen()))
	}
	return nil
}

// trimmed takes the blanks from the ends of lines.
func trimmed(screen string) string {
	lines := strings.Split(screen, "\n")
	for i, l := range lines {
		lines[i] = strings.TrimRight(l, " ")
	}
	return strings.Join(lines, "\n")
}

// namedKeys are the keys that are more than a text.
var namedKeys = map[string]bool{
	"tab": true, "shift+tab": true, "enter": true, "space": true, "esc": true, "up": true, "down": true, "left": true, "right": true,
	"backspace": true, "home": true, "end": true, "pgup": true, "pgdown": true, "ctrl+c": true,
}

func keyNames() []string { return slices.Sorted(maps.Keys(namedKeys)) }
