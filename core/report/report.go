// Package report writes one HTML page about a design: what it is for, who holds
// what, how it travels, what is wrong with it, what its scenarios lead to and
// what was proved. The page needs nothing else, and no network.
package report

import (
	_ "embed"
	"fmt"
	"html/template"
	"slices"
	"strings"
	"sync"
	"time"

	"lien/core/check"
	"lien/core/design"
	"lien/core/draw"
	"lien/core/explore"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/picture"
	"lien/core/prove"
	"lien/core/source"
	"lien/core/story"
)

//go:embed page.tmpl
var pageText string

// page is read when the first report is written: other commands need not wait for it.
var page = sync.OnceValue(func() *template.Template { return template.Must(template.New("page").Parse(pageText)) })

// Options say how far a report looks.
type Options struct {
	States int           // that the proof visits; 0 for no proof
	Time   time.Duration // that it takes at most; 0 for no bound
}

// the data of the page.
type (
	data struct {
		Title, Lead string
		About       []string
		Style       template.CSS
		House       []drawing
		Components  []component
		Journeys    []journey
		Findings    []found
		Scenarios   []scenario
		Laws        []law
		Proof       string
		Learned     []string
		Passed      string
	}
	drawing struct {
		SVG   template.HTML
		Title string
	}
	component struct {
		Name, Kind, Place string
		About             []string
		Members           []member
	}
	member  struct{ Kind, Text, About string }
	journey struct {
		Name, Told string
		Drawing    drawing
	}
	found    struct{ Level, Place, Message, Write string }
	scenario struct {
		Name, Verdict, Place string
		Steps                []step
		Failure              []string
	}
	step struct {
		Text  string
		Lines []string
	}
	law struct {
		Name, Verdict, Says string
		Bad                 bool
		Path                []string
	}
)

// mostJourneys is how many journeys are drawn; more would hide each other.
const mostJourneys = 40

// HTML writes the page. Of a design with errors it tells what is known.
func HTML(d *design.Design, o Options) ([]byte, error) {
	w := &writer{d: d}
	w.begin()
	w.house()
	w.components()
	w.journeys()
	w.findings()
	if !d.Failed() && len(d.Starts) > 0 {
		w.scenarios()
		if o.States > 0 {
			w.proof(o)
		}
	}
	w.out.Style = template.CSS(picture.StyleSheet(w.pictures))
	var b strings.Builder
	if err := page().Execute(&b, &w.out); err != nil {
		return nil, fmt.Errorf("the report: %w", err)
	}
	return []byte(source.Visible(b.String())), nil // the texts of a design can be anything
}

type writer struct {
	d        *design.Design
	out      data
	pictures []*picture.Picture
}

// begin writes the title, and what the first comments of the files say.
func (w *writer) begin() {
	w.out.Title = "an empty design"
	if len(w.d.Starts) > 0 && w.d.Starts[0].Root != nil {
		w.out.Title = w.d.Starts[0].Root.Name
	} else if len(w.d.Components) > 0 {
		w.out.Title = w.d.Components[0].Name
	}
	if first := w.d.Component(w.out.Title); first != nil { // its file says what all is for
		w.about(w.d.Set.File(first.Syntax.Span().Start))
	}
	for _, f := range w.d.Files {
		w.about(f.Source)
	}
	w.out.Lead = fmt.Sprintf("%s, %s, %s.", finding.Count(len(w.d.Components), "component"),
		finding.Count(len(links.Of(w.d).Cells()), "cell"), finding.Count(len(w.d.Scenarios), "scenario"))
}

func (w *writer) about(f *source.File) {
	if text := w.above(f, 0); text != "" && !slices.Contains(w.out.About, text) {
		w.out.About = append(w.out.About, text)
	}
}

// above is the comment right above a place: lines of its own without a gap. At
// the place 0 it is the one that the file begins with.
func (w *writer) above(f *source.File, at source.Pos) string {
	var lines []string
	for _, file := range w.d.Files {
		if file.Source != f {
			continue
		}
		if at == 0 {
			line := 1
			for _, c := range file.Comments {
				if c.Own && w.d.Set.Position(c.At.Start).Line == line {
					lines = append(lines, commentText(c.Text))
					line++
				}
			}
			break
		}
		for _, c := range file.Above(at) {
			lines = append(lines, commentText(c.Text))
		}
	}
	return strings.Join(lines, " ")
}

func commentText(s string) string { return strings.TrimSpace(strings.TrimPrefix(s, "//")) }

func (w *writer) place(at source.Span) string {
	p := w.d.Set.Position(at.Start)
	return fmt.Sprintf("%s:%d", p.File, p.Line)
}

func (w *writer) draw(p *picture.Picture) drawing {
	w.pictures = append(w.pictures, p)
	return drawing{template.HTML(picture.Inline(p, fmt.Sprintf("picture-%d", len(w.pictures)))), p.Title}
}

func (w *writer) house() {
	for _, p := range draw.House(w.d) {
		w.out.House = append(w.out.House, w.draw(p))
	}
}

func (w *writer) components() {
	for _, c := range w.d.Components {
		out := component{Name: c.Name, Kind: "component", Place: w.place(c.Syntax.Name.Span())}
		if c.IsContext {
			out.Kind = "context"
		}
		at := c.Syntax.Span().Start
		if text := w.above(w.d.Set.File(at), at); text != "" {
			out.About = []string{text}
		}
		for _, m := range c.Members {
			if m.Implied {
				continue
			}
			out.Members = append(out.Members, w.member(m.Kind.String(), m.Syntax.Span()))
		}
		for _, x := range c.Hearings {
			out.Members = append(out.Members, w.member("hears", x.Syntax.Span()))
		}
		for _, s := range c.Slots {
			out.Members = append(out.Members, w.member("slot", s.Span()))
		}
		w.out.Components = append(w.out.Components, out)
	}
}

// member is one line of a component's contract.
func (w *writer) member(kind string, at source.Span) member {
	text, _, more := strings.Cut(w.d.Text(at), "\n")
	if more {
		text += " …"
	}
	return member{kind, strings.TrimPrefix(strings.TrimPrefix(text, kind), " "), w.above(w.d.Set.File(at.Start), at.Start)}
}

// journeys draws those of the cells that are not tied to another's everywhere.
func (w *writer) journeys() {
	g := links.Of(w.d)
	for _, m := range g.Cells() {
		if g.Tied(m) || len(w.out.Journeys) == mostJourneys {
			continue
		}
		p := draw.Journey(w.d, m, false)
		w.out.Journeys = append(w.out.Journeys, journey{m.Owner.Name + "." + m.Label, p.Desc, w.draw(p)})
	}
}

func (w *writer) findings() {
	for _, f := range check.Run(w.d, check.Options{}) {
		w.out.Findings = append(w.out.Findings, found{f.Level.String(), fmt.Sprint(w.d.Set.Position(f.Span.Start)), f.Message, f.Write})
	}
}

// mostSteps is how many steps of a scenario are told.
const mostSteps = 1000

func (w *writer) scenarios() {
	passed := 0
	for _, s := range w.d.Scenarios {
		steps, res := story.Trace(w.d, s)
		out := scenario{Name: s.Name, Verdict: "passed", Place: w.place(s.Syntax.Name.Span())}
		for i, st := range steps {
			if i == mostSteps {
				out.Steps = append(out.Steps, step{Text: fmt.Sprintf("... and %d more", len(steps)-i)})
				break
			}
			one := step{Text: "start " + res.Start.Root.Name}
			if st.Step != nil {
				one.Text = w.d.Text(st.Step.Span())
			}
			for _, r := range story.Fold(st.Turns) {
				switch {
				case st.Step == nil:
					one.Lines = append(one.Lines, story.ActLines(r.Record)...)
				case !st.Step.Looks():
					one.Lines = append(one.Lines, story.TurnLines(r)...)
				}
			}
			out.Steps = append(out.Steps, one)
		}
		if res.Failure != nil {
			out.Verdict = "failed"
			out.Failure = append([]string{w.place(res.Failure.At) + ": " + res.Failure.Message}, res.Failure.Page...)
		} else {
			passed++
		}
		w.out.Scenarios = append(w.out.Scenarios, out)
	}
	w.out.Passed = fmt.Sprintf("%d of %s passed.", passed, finding.Count(len(w.d.Scenarios), "scenario"))
}

func (w *writer) proof(o Options) {
	rep := prove.Run(w.d, prove.Options{States: o.States, Time: o.Time})
	for _, o := range rep.Laws {
		l := law{Name: o.Name(), Verdict: string(o.Verdict), Bad: o.Verdict == prove.Broken, Says: o.Why}
		if o.Promise != nil {
			l.Says = strings.TrimSpace(o.Promise.Says + ". " + o.Why)
		}
		if b := o.Breach; b != nil {
			l.Says = w.place(b.At) + ": " + b.Message
			if b.Path != nil {
				l.Path = strings.Split(strings.TrimSuffix(b.Path.Scenario(w.d, o.Name()), "\n"), "\n")
			}
		}
		w.out.Laws = append(w.out.Laws, l)
	}
	visited := explore.Count{}
	for _, s := range rep.Starts {
		visited = visited.Plus(s.States)
	}
	w.out.Proof = fmt.Sprintf("%s visited: all that can be reached.", visited.Of("state"))
	if !rep.Whole() {
		w.out.Proof = fmt.Sprintf("%s visited. Not looked at: %s.", visited.Of("state"), strings.Join(rep.Cuts, "; "))
	}
	w.out.Learned = rep.Learned
}
