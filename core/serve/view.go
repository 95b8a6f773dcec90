package serve

import (
	"fmt"
	"strings"

	"lien/core/check"
	"lien/core/design"
	"lien/core/engine"
	"lien/core/play"
	"lien/core/source"
	"lien/core/story"
	"lien/core/value"
)

// View is what a pane shows.
type View struct {
	Desk       string
	Version    int    // of the design's files, as they were read for it
	Error      string `json:",omitempty"`
	Said       string `json:",omitempty"`
	Title      string
	Starts     []string
	Components []string // that can be shown alone
	Start      string
	Alone      string
	State      []Holder
	Turn       []string // what the last act did, its step first
	Failed     string   // why it failed
	Waits      []string
	Answers    []string // the steps by which what waits can be answered
	Fails      []string // and by which it can fail
	Next       float64  // in how many milliseconds something comes by itself; -1: nothing does
	Steps      []string
	Done       int // how many of them are done
	Findings   []Found
	Page       Print
	Acts       []Act `json:",omitempty"` // by which the page comes to where the session is
	Bring      bool  // it has to be brought there
	Buttons    bool  // the design hears the button of the mouse go down and up
	Moves      bool  // it can tell what the mouse is on
}

// Holder is an instance with what it holds.
type Holder struct {
	Path, At string
	Cells    []Cell
}

// Cell is a cell, with its value as it is short and whole.
type Cell struct {
	Name, Kind, At, Value, Whole string
	Changed                      bool
}

// Found is a finding.
type Found struct{ Level, At, Message, Do string }

// Print is a page in short, by which two can be told apart: its elements and its text.
type Print struct {
	Tags []string
	Text string
}

// Act is something that is done on a page.
type Act struct {
	Verb    string
	Place   int
	Onto    int
	Text    string
	Ms      float64
	Ask     string
	Nth     int
	Failure int
}

// view is what the desk's pane shows now.
func (d *desk) view(name string, bring bool) *View {
	s := d.session
	v := &View{Desk: name, Said: d.said, Title: s.Start.Root.Name, Start: startName(s.Start), Alone: d.choice.Component, Next: -1, Bring: bring}
	v.Buttons, v.Moves = s.Engine().SeesButton(), s.Engine().SeesPointer()
	v.choices(s.Design)
	v.state(s)
	v.turn(s)
	v.waits(s)
	v.Page = printOf(s.Engine())
	for _, f := range check.Run(s.Design, check.Options{}) {
		v.Findings = append(v.Findings, Found{f.Level.String(), s.Design.Set.Position(f.Span.Start).String(), f.Message, f.Write})
	}
	if bring {
		acts, done := s.Acts()
		for _, a := range acts[:done] {
			v.Acts = append(v.Acts, actOf(a.Done))
		}
	}
	return v
}

func startName(s *design.Start) string {
	if s.Name == "" {
		return s.Root.Name
	}
	return s.Name
}

func (v *View) choices(d *design.Design) {
	for _, s := range d.Starts {
		if s.Name != play.AloneName {
			v.Starts = append(v.Starts, startName(s))
		}
	}
	for _, c := range d.Components {
		if !c.IsContext {
			v.Components = append(v.Components, c.Name)
		}
	}
}

func (v *View) state(s *play.Session) {
	changed := map[string]bool{}
	if a := s.Last(); a != nil {
		for _, r := range a.Turns {
			for _, c := range r.Changes {
				changed[c.Path+"."+c.Cell] = true
			}
		}
	}
	owners := map[string]*engine.Instance{}
	for _, i := range s.Engine().Instances() {
		for _, h := range append([]*engine.Instance{i}, i.Contexts()...) {
			owners[h.Path()] = h
		}
	}
	at := func(pos source.Pos) string { return s.Design.Set.Position(pos).String() }
	for _, h := range play.Cells(s.Engine()) {
		out := Holder{Path: h.Path}
		owner := owners[h.Path]
		if owner != nil {
			out.At = at(owner.Component().Syntax.Name.Start)
		}
		for _, c := range h.Cells {
			cell := Cell{Name: c.Name, Kind: c.Kind.String(), Value: value.Brief(c.Value, 60), Whole: value.Show(c.Value), Changed: changed[h.Path+"."+c.Name]}
			if owner != nil {
				cell.At = at(owner.Component().Member(c.Name).Pos())
			}
			out.Cells = append(out.Cells, cell)
		}
		v.State = append(v.State, out)
	}
}

func (v *View) turn(s *play.Session) {
	turns := []*engine.Record{s.Mount}
	a := s.Last()
	if a != nil {
		v.Turn, turns = append(v.Turn, a.Step), a.Turns
		if a.Err != nil {
			v.Failed = a.Err.Error()
		}
	}
	for _, r := range story.Fold(turns) {
		lines := story.TurnLines(r)
		if r.Times == 1 && a != nil {
			lines = lines[1:]
		}
		v.Turn = append(v.Turn, lines...)
	}
	if a != nil && len(v.Turn) == 1 && v.Failed == "" {
		v.Turn = append(v.Turn, "  nothing heard it")
	}
}

func (v *View) waits(s *play.Session) {
	for _, c := range s.Engine().Coming() {
		text := "timer " + c.Text
		if !c.Timer {
			text = "asked " + c.Text
		}
		if c.In >= 0 {
			text += fmt.Sprintf(", in %s ms", value.Show(value.Number(c.In)))
		}
		v.Waits = append(v.Waits, text)
	}
	if next, ok := nextOf(s.Engine()); ok {
		v.Next = next
	}
	v.Answers, v.Fails = s.Answers(false), s.Answers(true)
	all, done := s.Acts()
	v.Done = done
	for _, a := range all {
		v.Steps = append(v.Steps, a.Step)
	}
}

func actOf(d play.Done) Act {
	a := Act{Verb: string(d.Verb), Place: d.Place, Onto: d.Onto, Text: d.Text, Ms: d.Ms, Nth: d.Nth, Failure: d.Failure}
	if d.Ask != nil {
		a.Ask = d.Ask.Service.Name + "." + d.Ask.Name
	}
	return a
}

func printOf(e *engine.Engine) (p Print) {
	var text strings.Builder
	var walk func([]engine.Node)
	walk = func(nodes []engine.Node) {
		for _, n := range nodes {
			if n.Element == nil {
				text.WriteString(n.Text)
				continue
			}
			p.Tags = append(p.Tags, n.Element.Tag())
			walk(n.Element.Children())
		}
	}
	walk(e.Page())
	p.Text = strings.Join(strings.Fields(text.String()), "")
	return p
}

// Pointed is what there is to say of an element.
type Pointed struct {
	Element string // as its tag and classes
	Writer  string // the component that wrote it
	At      string
	Inside  string // the instance
	Reads   []Read
}

// Read is a cell that an element shows, and who holds it.
type Read struct{ Cell, Path, Kind, At, Value string }

// pointed tells of the element at a place.
func (d *desk) pointed(place int) (*Pointed, error) {
	el := d.session.At(place)
	if el == nil {
		return nil, fmt.Errorf("the engine has no element there")
	}
	at := func(pos source.Pos) string { return d.session.Design.Set.Position(pos).String() }
	name := el.Tag()
	if list := el.Classes(); len(list) > 0 {
		name += "." + strings.Join(list, ".")
	}
	out := &Pointed{Element: name, Writer: el.Instance().Component().Name, At: at(el.Span().Start), Inside: el.Instance().Path()}
	for _, s := range d.session.Engine().Sources(el) {
		cell := Read{Cell: s.Member.Label, Path: s.Holder.Path(), Kind: s.Member.Kind.String(), At: at(s.Member.Pos())}
		for _, c := range d.session.Engine().Cells(s.Holder) {
			if c.Name == cell.Cell {
				cell.Value = value.Brief(c.Value, 60)
			}
		}
		out.Reads = append(out.Reads, cell)
	}
	return out, nil
}

// shown are the places of the elements that show a cell.
func (d *desk) shown(path, cell string) []int {
	list := []int{}
	for _, el := range d.session.Engine().Showing(path, cell) {
		list = append(list, d.session.PlaceOf(el))
	}
	return list
}
