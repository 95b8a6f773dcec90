package cli

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lien/core/engine"
	"lien/core/play"
	"lien/core/story"
)

// tryModel is what lien try shows, and what keys do to it.
type tryModel struct {
	t       *terminal
	opened  *tried
	session *play.Session
	width   int
	height  int

	lines  []story.Line // the page
	cursor int          // the line that is chosen
	top    int          // the first line that is seen
	pane   pane
	side   int // the first line of the pane that is seen
	ask    *prompt
	said   string // what came of the last key
	quit   bool
}

// pane is what stands beside the page.
type pane int

const (
	allPane pane = iota
	statePane
	turnPane
	comingPane
	stepsPane
	panes
)

var paneNames = [panes]string{"all", "state", "last turn", "waiting", "steps"}

// prompt is a question at the foot of the screen.
type prompt struct {
	what    string
	text    []rune
	options []string // to go through with the arrows, instead of typing
	at      int
	answer  func(text string) error
}

func newTryModel(t *terminal, o *tried, s *play.Session) *tryModel {
	m := &tryModel{t: t, opened: o, session: s, width: 80, height: 24}
	m.read()
	m.cursor = m.next(-1, 1)
	return m
}

func (m *tryModel) size(width, height int) { m.width, m.height = width, height }

// press does what a key says. A key is named as in a script: tab, shift+tab,
// enter, or the text that it gives.
func (m *tryModel) press(key string) {
	m.said = ""
	switch {
	case key == "ctrl+c":
		m.quit = true
	case m.ask != nil:
		m.prompted(key)
	default:
		m.pressed(key)
	}
}

// reload reads the design again.
func (m *tryModel) reload() {
	m.session, m.said = m.opened.reload(m.t, m.session)
	m.read()
}

// read takes the page as it is now, and stays at the element that was chosen.
func (m *tryModel) read() {
	e := m.session.Engine()
	var was *engine.Element
	if m.cursor >= 0 && m.cursor < len(m.lines) {
		was = m.lines[m.cursor].Element
	}
	m.lines = story.Lines(e, e.Page())
	focus := e.Focus()
	for i, l := range m.lines {
		if l.Element != nil && l.Element == focus && focus != was && m.operable(i) {
			m.cursor = i
			return
		}
	}
	for i, l := range m.lines {
		if l.Element != nil && l.Element == was {
			m.cursor = i
			return
		}
	}
	m.cursor = min(m.cursor, len(m.lines)-1)
	if m.cursor >= 0 && !m.operable(m.cursor) {
		if m.cursor = m.next(m.cursor, -1); !m.operable(m.cursor) {
			m.cursor = m.next(m.cursor, 1)
		}
	}
}

func (m *tryModel) operable(i int) bool {
	if i < 0 || i >= len(m.lines) {
		return false
	}
	el := m.lines[i].Element
	return el != nil && play.Operable(m.session.Engine(), el)
}

// next is the nearest line, in a direction, with something to operate; where
// there is none the same line again.
func (m *tryModel) next(from, step int) int {
	for i := from + step; i >= 0 && i < len(m.lines); i += step {
		if m.operable(i) {
			return i
		}
	}
	return from
}

// did tells what came of something that was done.
func (m *tryModel) did(err error) {
	if err != nil {
		m.said = err.Error()
	}
	m.side = 0
	m.read()
}

// pressed does what a key says while nothing is asked.
func (m *tryModel) pressed(key string) {
	switch key {
	case "tab", "down":
		m.cursor = m.next(m.cursor, 1)
	case "shift+tab", "up":
		m.cursor = m.next(m.cursor, -1)
	case "home":
		m.cursor = m.next(-1, 1)
	case "end":
		m.cursor = m.next(len(m.lines), -1)
	case "pgdown":
		m.side += m.body() / 2
	case "pgup":
		m.side = max(0, m.side-m.body()/2)
	case "enter", "space":
		m.operate()
	case "esc":
		m.did(m.session.Gesture(engine.Key, m.session.Engine().Focus(), "Escape"))
	case "q":
		m.quit = true
	case "u":
		m.moved(m.session.Undo(), "nothing to take back")
	case "r":
		m.moved(m.session.Redo(), "nothing to do again")
	case "t":
		m.did(m.session.WaitNext())
	case "w":
		m.ask = &prompt{what: "Milliseconds to wait", answer: m.wait}
	case "a", "f":
		m.answer(key == "f")
	case "k":
		m.ask = &prompt{what: "Key, such as ArrowDown", answer: m.key}
	case "j":
		all, _ := m.session.Acts()
		m.ask = &prompt{what: fmt.Sprintf("Go to step (0 to %d)", len(all)), answer: m.jump}
	case "s":
		m.ask = &prompt{what: "Name of the scenario", answer: m.save}
	case "v":
		m.pane, m.side = (m.pane+1)%panes, 0
	case "?":
		m.said = helpKeys
	default:
		m.said = "no key here: " + key + "; ? shows the keys"
	}
}

// moved tells that steps were taken back or again, or that there were none.
func (m *tryModel) moved(ok bool, otherwise string) {
	if !ok {
		m.said = otherwise
	}
	m.read()
}

const helpKeys = "Tab/↑↓ move  Enter press  k key  t,w time  a answer  f fail  u undo  r redo  j jump  v view  s save  q quit"

// operate does what pressing Enter on the chosen line means.
func (m *tryModel) operate() {
	if !m.operable(m.cursor) {
		m.said = "nothing to press here"
		return
	}
	e, el := m.session.Engine(), m.lines[m.cursor].Element
	if el.IsDisabled() {
		m.said = "it is disabled"
		return
	}
	switch takes, options := play.TakesOf(e, el); takes {
	case play.Presses:
		m.did(m.session.Gesture(engine.Press, el, ""))
	case play.Ticks:
		m.did(m.session.Gesture(engine.Tick, el, ""))
	case play.Texts:
		m.ask = &prompt{what: "Text of " + m.lines[m.cursor].Text, text: []rune(el.LiveValue()), answer: func(text string) error { return m.session.Gesture(engine.Type, el, text) }}
	case play.Values:
		m.ask = &prompt{what: "Value of " + m.lines[m.cursor].Text, text: []rune(el.LiveValue()), answer: func(text string) error { return m.session.Gesture(engine.Put, el, text) }}
	case play.Options:
		if len(options) == 0 {
			m.said = "it offers nothing"
			return
		}
		p := &prompt{what: "Choose (←→)", options: options, answer: func(text string) error { return m.session.Choose(el, text) }}
		for i, o := range el.Options() {
			if i < len(options) && o.LiveValue() == el.LiveValue() {
				p.at = i
			}
		}
		m.ask = p
	}
}

// prompted does what a key says to what is asked.
func (m *tryModel) prompted(key string) {
	p := m.ask
	switch key {
	case "esc":
		m.ask = nil
	case "enter":
		m.ask = nil
		text := string(p.text)
		if p.options != nil {
			text = p.options[p.at]
		}
		m.did(p.answer(text))
	case "backspace":
		p.text = p.text[:max(0, len(p.text)-1)]
	case "left", "up":
		p.at = max(0, p.at-1)
	case "right", "down", "tab":
		p.at = min(max(0, len(p.options)-1), p.at+1)
	case "space":
		p.text = append(p.text, ' ')
	default:
		if _, ok := namedKeys[key]; !ok {
			p.text = append(p.text, []rune(key)...)
		}
	}
}

func (m *tryModel) wait(text string) error {
	ms, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
	if err != nil || ms < 0 || ms > 1e12 {
		return fmt.Errorf("%q is no number of milliseconds", text)
	}
	return m.session.Wait(ms)
}

func (m *tryModel) key(chord string) error {
	chord = strings.TrimSpace(chord)
	if chord == "" {
		return nil
	}
	if m.operable(m.cursor) {
		return m.session.Gesture(engine.Key, m.lines[m.cursor].Element, chord)
	}
	return m.session.Gesture(engine.Key, nil, chord)
}

func (m *tryModel) jump(text string) error {
	n, err := strconv.Atoi(strings.TrimSpace(text))
	if err != nil {
		return fmt.Errorf("%q is no step", text)
	}
	return m.session.Jump(n)
}

func (m *tryModel) save(name string) error {
	if name = strings.TrimSpace(name); name == "" {
		return fmt.Errorf("not saved: it needs a name")
	}
	if _, done := m.session.Acts(); done == 0 {
		return fmt.Errorf("not saved: nothing was pressed")
	}
	file, err := m.opened.save(m.session, name)
	if err != nil {
		return err
	}
	return fmt.Errorf("saved in %s", file)
}

// answer answers what waits, or asks in which of several ways.
func (m *tryModel) answer(fail bool) {
	ways := m.session.Answers(fail)
	if len(ways) < 2 {
		m.did(m.session.Answer(0, fail))
		return
	}
	m.ask = &prompt{what: "Which (←→)", options: ways, answer: func(way string) error {
		return m.session.Answer(slices.Index(ways, way), fail)
	}}
}
