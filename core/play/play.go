// Package play presses a design by hand: it takes one gesture after the other
// on an engine, can take them back and again, and writes them as a scenario.
package play

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
	"lien/core/value"
)

// Session is a design being pressed.
type Session struct {
	Design *design.Design
	Start  *design.Start
	Mount  *engine.Record
	player *story.Player
	e      *engine.Engine
	acts   []*Act // those taken back after the first at
	at     int
	failed *Act          // the last one, where its turn failed
	first  []story.Sight // what the page shows at the start
}

// Act is something that was done, with the turns that it made.
type Act struct {
	Step  string // as a step of a scenario
	Done  Done   // the same for another page
	Turns []*engine.Record
	Err   error
	mark  int
	now   float64
	again func() error
}

// New mounts a start of a design without errors.
func New(d *design.Design, s *design.Start) (*Session, error) {
	p, rec, err := story.Play(d, s)
	if err != nil {
		return nil, err
	}
	return &Session{Design: d, Start: s, Mount: rec, player: p, e: p.Engine(), first: story.Sights(p.Engine())}, nil
}

// Engine shows the page and the state. Whoever changes anything on it spoils
// the session.
func (s *Session) Engine() *engine.Engine { return s.e }

// Acts are all acts, and how many of them are done: the rest was taken back.
func (s *Session) Acts() (all []*Act, done int) { return s.acts, s.at }

// Last is the act that was done last, or nil.
func (s *Session) Last() *Act {
	if s.failed != nil {
		return s.failed
	}
	if s.at == 0 {
		return nil
	}
	return s.acts[s.at-1]
}

// do does something, and drops what was taken back before. What fails is not
// kept: the state is as before it.
func (s *Session) do(step string, done Done, again func() error) error {
	a := &Act{Step: step, Done: done, mark: s.e.Mark(), now: s.e.Now(), again: again}
	s.failed = nil
	if err := s.run(a); err != nil {
		s.e.TurnBack(a.mark, a.now)
		s.failed = a
		return err
	}
	s.acts = append(s.acts[:s.at:s.at], a)
	s.at++
	return nil
}

func (s *Session) run(a *Act) error {
	s.e.Turns()
	a.Err = a.again()
	a.Turns = s.e.Turns()
	return a.Err
}

// Undo takes the last act back, and says whether there was one.
func (s *Session) Undo() bool {
	s.failed = nil
	if s.at == 0 {
		return false
	}
	s.at--
	s.e.TurnBack(s.acts[s.at].mark, s.acts[s.at].now)
	return true
}

// Forget takes the last act back for good.
func (s *Session) Forget() {
	if s.Undo() {
		s.acts = s.acts[:s.at:s.at]
	}
}

// Redo does again what was taken back last, and says whether there was anything.
func (s *Session) Redo() bool {
	s.failed = nil
	if s.at == len(s.acts) {
		return false
	}
	a := s.acts[s.at]
	a.mark, a.now = s.e.Mark(), s.e.Now()
	if s.run(a) != nil {
		s.e.TurnBack(a.mark, a.now)
		return false
	}
	s.at++
	return true
}

// Jump goes to where n acts are done.
func (s *Session) Jump(n int) error {
	if n < 0 || n > len(s.acts) {
		return fmt.Errorf("there are the steps 0 to %d", len(s.acts))
	}
	for s.at > n && s.Undo() {
	}
	for s.at < n && s.Redo() {
	}
	return nil
}

// element gives an element of the page as it is, by its place: an act that is
// done again meets other elements at the same places.
func (s *Session) element(el *engine.Element) (place int, again func() *engine.Element) {
	place = s.PlaceOf(el)
	return place, func() *engine.Element { return s.At(place) }
}

// PlaceOf is the place of an element among those of the page, in tree order; -1 for none.
func (s *Session) PlaceOf(el *engine.Element) int {
	place, n := -1, 0
	s.e.Elements(func(o *engine.Element) bool {
		if o == el {
			place = n
		}
		n++
		return place < 0
	})
	return place
}

// At is the element at a place, or nil.
func (s *Session) At(place int) (found *engine.Element) {
	n := 0
	s.e.Elements(func(o *engine.Element) bool {
		if n == place {
			found = o
		}
		n++
		return found == nil
	})
	return found
}

// Drag takes an element and lets go of it on another one, or with nil where none is.
func (s *Session) Drag(el, onto *engine.Element) error {
	step := story.StepText(s.e, &engine.Cause{Verb: engine.Carry, Element: el, Onto: onto})
	place, find := s.element(el)
	to, findOnto := s.element(onto)
	return s.do(step, Done{Verb: engine.Carry, Place: place, Onto: to}, func() error {
		return s.e.Do(&engine.Cause{Verb: engine.Carry, Element: find(), Onto: findOnto()})
	})
}

// Gesture does something with an element: press, hold, release, tick, type, choose, set,
// focus or hover; key with an element or without. The mouse is outside of all elements without one.
func (s *Session) Gesture(verb engine.Verb, el *engine.Element, text string) error {
	if el != nil && el.IsDisabled() && verb != engine.Hover && verb != engine.Release && !el.HearsDisabled() {
		return errors.New("it is disabled")
	}
	c := &engine.Cause{Verb: verb, Element: el, Text: text}
	step := story.StepText(s.e, c)
	place, find := s.element(el)
	return s.do(step, Done{Verb: verb, Place: place, Onto: -1, Text: text}, func() error {
		now := &engine.Cause{Verb: verb, Element: find(), Text: text}
		return s.e.Do(now)
	})
}

// Wait lets time pass.
func (s *Session) Wait(ms float64) error {
	return s.do("wait "+value.Show(value.Number(ms)), Done{Verb: engine.Elapse, Place: -1, Onto: -1, Ms: ms}, func() error { return s.e.Wait(ms) })
}

// WaitNext lets time pass until the next thing comes by itself.
func (s *Session) WaitNext() error {
	next := -1.0
	for _, c := range s.e.Coming() {
		if c.In >= 0 && (next < 0 || c.In < next) {
			next = c.In
		}
	}
	if next < 0 {
		return errors.New("nothing comes by itself")
	}
	return s.Wait(next)
}

// answers are the ways in which questions can be answered now, or fail.
func (s *Session) answers(fail bool) (ways []*engine.Cause) {
	verb := engine.Reply
	if fail {
		verb = engine.Fail
	}
	all := s.e.Causes(nil)
	for i := range all {
		if all[i].Verb == verb {
			ways = append(ways, &all[i])
		}
	}
	return ways
}

// Answers lists the ways in which what waits can be answered, or fail, as steps.
func (s *Session) Answers(fail bool) []string {
	var list []string
	for _, c := range s.answers(fail) {
		list = append(list, story.StepText(s.e, c))
	}
	return list
}

// Answer takes the n-th of the Answers.
func (s *Session) Answer(n int, fail bool) error {
	steps := s.Answers(fail)
	switch {
	case len(s.e.Waiting()) == 0:
		return errors.New("nothing waits for an answer")
	case n >= len(steps):
		return errors.New("no question can end like that")
	}
	way := s.answers(fail)[n]
	op, args := way.Asked()
	_, nth := s.e.Meant(way)
	return s.do(steps[n], Done{Verb: way.Verb, Place: -1, Onto: -1, Ask: op, Nth: s.e.Age(op, args, nth), Failure: way.Failure}, func() error {
		if ways := s.answers(fail); n < len(ways) {
			return s.e.Do(ways[n])
		}
		return errors.New("it waits no more")
	})
}

// Scenario writes what is done now as a scenario.
func (s *Session) Scenario(name string) string { return s.scenario(name, nil) }

// Kept is the scenario to keep: with what the page shows that it did not show at the start.
func (s *Session) Kept(name string) string {
	return s.scenario(name, story.Seen(s.e, s.first))
}

func (s *Session) scenario(name string, seen []string) string {
	var b strings.Builder
	fmt.Fprintf(&b, "scenario %s {\n", value.Show(value.String(name)))
	if s.Start.Name != "" {
		fmt.Fprintf(&b, "  start %s\n", value.Show(value.String(s.Start.Name)))
	}
	for _, a := range s.acts[:s.at] {
		fmt.Fprintf(&b, "  %s\n", a.Step)
	}
	for _, step := range seen {
		fmt.Fprintf(&b, "  %s\n", step)
	}
	b.WriteString("}\n")
	return b.String()
}

// Resume goes on in another version of the design: with the steps of a
// scenario, as far as they can still be taken. It tells how many could.
func Resume(d *design.Design, sc *design.Scenario, text func(*design.Step) string) (*Session, int, error) {
	start, steps := d.Starts[0], sc.Steps
	if len(steps) > 0 && steps[0].Verb == "start" {
		start, steps = steps[0].Start, steps[1:]
	}
	s, err := New(d, start)
	if err != nil {
		return nil, 0, err
	}
	for i, st := range steps {
		if err := s.do(text(st), s.doneBy(st), func() error { return s.player.Take(st) }); err != nil {
			s.failed = nil
			return s, i, nil
		}
	}
	return s, len(steps), nil
}

// Operable says whether people can do something with an element.
func Operable(e *engine.Engine, el *engine.Element) bool {
	if el == nil {
		return false
	}
	switch el.Role() {
	case "button", "link", "checkbox", "radio", "switch", "tab", "menuitem", "menuitemcheckbox", "menuitemradio", "option",
		"textbox", "searchbox", "combobox", "spinbutton", "slider", "treeitem", "gridcell", "listbox":
		return true
	}
	return el.Listens("click", "mousedown", "mouseup", "keydown")
}

// Takes is what an element takes when it is operated.
type Takes int

const (
	Presses Takes = iota
	Ticks
	Texts   // a text is typed
	Values  // a number or the like is set
	Options // one of several is chosen
)

// TakesOf tells how an element is operated, and the options that it offers.
func TakesOf(e *engine.Engine, el *engine.Element) (Takes, []string) {
	switch el.Tag() {
	case "select":
		var names []string
		for _, o := range el.Options() {
			if !o.IsDisabled() {
				names = append(names, e.Name(o))
			}
		}
		return Options, names
	case "textarea":
		return Texts, nil
	case "input":
		kind, _ := el.Attr("type")
		switch kind {
		case "checkbox", "radio":
			return Ticks, nil
		case "button", "submit", "reset", "image":
			return Presses, nil
		case "range", "number", "color", "date", "time", "month", "week", "datetime-local":
			return Values, nil
		}
		return Texts, nil
	}
	return Presses, nil
}

// Choose chooses an option of a select by its name.
func (s *Session) Choose(el *engine.Element, name string) error {
	for _, o := range el.Options() {
		if s.e.Name(o) == name {
			return s.Gesture(engine.Choose, el, o.LiveValue())
		}
	}
	return fmt.Errorf("it does not offer %s", value.Show(value.String(name)))
}

// Cells are the cells that instances hold, by holder, in tree order.
func Cells(e *engine.Engine) []story.Holder {
	list := story.State(e)
	for i := range list {
		list[i].Cells = slices.DeleteFunc(slices.Clone(list[i].Cells), func(c engine.Cell) bool {
			return c.Kind != design.Holds && c.Kind != design.Shares
		})
	}
	return slices.DeleteFunc(list, func(h story.Holder) bool { return len(h.Cells) == 0 })
}
