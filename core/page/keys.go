package page

import (
	"slices"
	"strings"
	"unicode/utf8"
)

// What a keyboard does (UI Events, 5.6; HTML, 6.4 and 6.6).

// Modifiers are the keys that are held beside others.
var Modifiers = []string{"Shift", "Control", "Alt", "Meta"}

// Chord is a key with those held beside it.
type Chord struct {
	Key  string
	Mods []string // Shift, Control, Alt, Meta, in the order in which they are pressed
}

// ChordOf reads a chord such as Control+a.
func ChordOf(text string) (c Chord) {
	for {
		mod, rest, ok := strings.Cut(text, "+")
		if !ok || rest == "" || !slices.Contains(Modifiers, mod) {
			c.Key = text
			return c
		}
		c.Mods, text = append(c.Mods, mod), rest
	}
}

// ModsOf reads keys that are held, such as Control+Shift.
func ModsOf(text string) (m Mods) {
	for _, key := range strings.Split(text, "+") {
		m.hold(strings.TrimSpace(key), true)
	}
	return m
}

func (m *Mods) hold(key string, on bool) {
	switch key {
	case "Shift":
		m.Shift = on
	case "Control":
		m.Control = on
	case "Alt":
		m.Alt = on
	case "Meta":
		m.Meta = on
	}
}

// target is what keys go to: what has the focus, or the body.
func (p *Page) target() *Element {
	if p.state.Focus != nil {
		return p.state.Focus
	}
	return p.Body
}

// Key presses a chord where the focus is and lets go of it.
func (p *Page) Key(chord string) error {
	c := ChordOf(chord)
	var mods Mods
	for _, m := range c.Mods {
		mods.hold(m, true)
		if err := p.modifier("keydown", m, mods); err != nil {
			return err
		}
	}
	if err := p.keyDown(c.Key, mods); err != nil {
		return err
	}
	if err := p.keyUp(c.Key, mods); err != nil {
		return err
	}
	for _, m := range slices.Backward(c.Mods) {
		mods.hold(m, false)
		if err := p.modifier("keyup", m, mods); err != nil {
			return err
		}
	}
	return nil
}

// modifier reports that a key beside another one goes down or up.
func (p *Page) modifier(name, key string, mods Mods) error {
	_, err := p.tell(Event{Key: key, Mods: mods}, name, p.target())
	return p.settled(err)
}

// selects says whether Control+a has anything to select where the focus is.
func (p *Page) selects() bool {
	el := p.target()
	return !el.showsText() || el.text() != ""
}

// links says whether the element is a link, which Enter presses at once.
func (el *Element) links() bool {
	return (el.Tag() == "a" || el.Tag() == "area") && el.Has("href")
}

// character says whether a key stands for a character.
func character(key string) bool { return utf8.RuneCountInString(key) == 1 }

func (p *Page) keyDown(key string, mods Mods) error {
	if key != "Escape" && !slices.Contains(Modifiers, key) {
		p.activated()
	}
	target, pressed := p.target(), Event{Key: key, Mods: mods}
	down, err := p.tell(pressed, "keydown", target)
	if err != nil || down.Prevented {
		if key == "Tab" && p.state.Focus == target && p.NextStop(mods.Shift) != target {
			p.fault.Stuck = target
		}
		return p.settled(err)
	}
	if err := p.keyDoes(target, key, mods); err != nil {
		return p.settled(err)
	}
	if key == "Enter" && target.links() || !character(key) && key != "Enter" || mods.Alt || mods.Meta || mods.Control && key == "a" && p.selects() {
		return p.settled(nil)
	}
	target = p.target()
	press, err := p.tell(pressed, "keypress", target)
	if err != nil || press.Prevented {
		return p.settled(err)
	}
	if target.showsText() { // the page is laid out before a text is edited
		if err := p.fixFocus(); err != nil || !target.Gone() && !target.Usable() {
			return p.settled(err)
		}
	}
	return p.settled(p.pressDoes(target, key, mods))
}

func (p *Page) keyUp(key string, mods Mods) error {
	el := p.target()
	s := p.state
	held := s.Key
	s.Key = nil
	p.set(s)
	up, err := p.tell(Event{Key: key, Mods: mods}, "keyup", el)
	if err != nil || up.Prevented || key != " " || held != el || p.state.Focus != el {
		return p.settled(err)
	}
	return p.settled(p.click(el, Event{}))
}

// keyDoes is what a key does by itself as it goes down: Tab moves on, Escape closes, arrows
// move, Backspace erases.
func (p *Page) keyDoes(el *Element, key string, mods Mods) error {
	switch key {
	case "Tab":
		if mods.Control || mods.Alt || mods.Meta {
			return nil
		}
		return p.tab(mods.Shift)
	case "Escape":
		if el.InputType() == "search" && el.Live().Value != "" && p.TakesText(el) {
			return p.edited(el, "", 0, "")
		}
		return p.escape()
	}
	if el.Gone() || el.Disabled() {
		return nil
	}
	if key == "Enter" && el.links() {
		return p.click(el, Event{})
	}
	if key == " " && el.spaced() {
		s := p.state
		s.Key = el
		p.set(s)
	}
	switch el.Tag() {
	case "select":
		return p.selectKey(el, key, mods)
	case "input":
		switch el.InputType() {
		case "radio":
			return p.radioKey(el, key)
		case "range":
			return p.sliderKey(el, key)
		case "number":
			if p.state.Focus != el {
				return nil
			}
			if done, err := p.stepKey(el, key); done {
				return err
			}
		}
	}
	if p.state.Focus == el && el.showsText() {
		return p.editKey(el, key, mods)
	}
	return nil
}

// PressedBy are the keys that press the element when it has the focus.
func (el *Element) PressedBy() []string {
	switch {
	case el.links():
		return []string{"Enter"}
	case !el.spaced():
		return nil
	case el.isButton() || el.Tag() == "summary":
		return []string{" ", "Enter"}
	}
	return []string{" "}
}

// spaced says whether Space presses the element when it is let go of.
func (el *Element) spaced() bool {
	switch el.Tag() {
	case "button":
		return true
	case "summary":
		return el.TakesFocus()
	case "input":
		return el.isButton() || el.InputType() == "checkbox" || el.InputType() == "radio" && !el.Live().Checked || el.InputType() == "color" || el.InputType() == "file"
	}
	return false
}

// pressDoes is what the character of a key does: Enter presses what has the focus, others are typed.
func (p *Page) pressDoes(el *Element, key string, mods Mods) error {
	if el.Gone() || el.Disabled() {
		return nil
	}
	if key == "Enter" {
		return p.enter(el)
	}
	if mods.Control {
		return nil
	}
	if el.showsText() {
		if err := p.moveFocus(el); err != nil { // a handler may have moved it: what is typed stays where the key was pressed
			return err
		}
		return p.insert(el, key)
	}
	return p.searchOption(el, key)
}

func (p *Page) enter(el *Element) error {
	switch el.Tag() {
	case "button":
		return p.click(el, Event{})
	case "summary":
		if el.TakesFocus() {
			return p.click(el, Event{})
		}
	case "textarea":
		if p.TakesText(el) {
			return p.insert(el, "\n")
		}
	case "input":
		switch {
		case el.isButton(), el.InputType() == "color", el.InputType() == "file":
			return p.click(el, Event{})
		case el.showsText() && p.state.Focus == el:
			if _, err := p.before(el, "\n"); err != nil || el.Gone() {
				return err
			}
		}
		if err := p.commit(el); err != nil || el.Gone() {
			return err
		}
		return p.implicitly(el)
	default:
		if el.Editable() {
			return p.insert(el, "\n")
		}
	}
	return nil
}

// radioKey moves through a group with the arrows.
func (p *Page) radioKey(el *Element, key string) error {
	switch key {
	case "ArrowDown", "ArrowRight":
		return p.arrow(el, false)
	case "ArrowUp", "ArrowLeft":
		return p.arrow(el, true)
	}
	return nil
}

// sliderKey moves a slider: by a step with the arrows, by a tenth of its range with the page
// keys, to its ends with Home and End.
func (p *Page) sliderKey(el *Element, key string) error {
	r, _ := el.Range()
	n, _ := parseFloat(el.sanitized())
	step := r.Step
	if r.any {
		step = (r.High - r.Low) / 100
	}
	page := max(step, float64(int((r.High-r.Low)/10/step))*step)
	to := n
	switch key {
	case "ArrowRight", "ArrowUp":
		to += step
	case "ArrowLeft", "ArrowDown":
		to -= step
	case "PageUp":
		to += page
	case "PageDown":
		to -= page
	case "Home":
		to = r.Low
	case "End":
		to = r.High
	default:
		return nil
	}
	if to = r.clamp(to); to == n {
		return nil
	}
	return p.change(el, el.written(to))
}

// stepKey steps a field for numbers (HTML, 4.10.5.4, stepUp and stepDown).
func (p *Page) stepKey(el *Element, key string) (done bool, err error) {
	up := key == "ArrowUp"
	if !up && key != "ArrowDown" || !p.TakesText(el) {
		return false, nil
	}
	r, _ := el.Range()
	n, _ := parseFloat(el.sanitized())
	to, ok := r.stepped(n, up)
	if !ok {
		return true, nil
	}
	if inside := !(r.HasLow && n < r.Low || r.HasHigh && n > r.High); inside {
		ok, err := p.before(el, el.written(to))
		if err == nil && !ok && el.sanitized() == "" && p.TakesText(el) { // nothing counts as 0, to begin with
			p.SetValue(el, "0")
		}
		if !ok || err != nil {
			return true, err
		}
	}
	return true, p.change(el, el.written(to))
}

// stepped is the next number on a step, up or down; false where the range has none.
func (r Range) stepped(n float64, up bool) (float64, bool) {
	if r.HasLow && r.HasHigh && r.High < r.Low {
		return n, false
	}
	below, above := r.Around(n)
	to := above
	switch {
	case below == above && up:
		to = n + r.Step
	case below == above:
		to = n - r.Step
	case !up:
		to = below
	}
	if r.HasLow && to < r.Low {
		to = r.Low
	}
	if r.HasHigh && to > r.High {
		to, _ = r.Around(r.High)
	}
	to = rounded(to)
	if up && to <= n || !up && to >= n {
		return n, false
	}
	return to, true
}

// lineStart, lineEnd, lineUp and lineDown are places in a text of several lines, as far as they end
// with a line break: where a line is wrapped only layout tells.
func lineStart(text []uint16, at int) int {
	for at > 0 && text[at-1] != '\n' {
		at--
	}
	return at
}

func lineEnd(text []uint16, at int) int {
	for at < len(text) && text[at] != '\n' {
		at++
	}
	return at
}

func lineUp(text []uint16, at int) int {
	start := lineStart(text, at)
	if start == 0 {
		return 0
	}
	before := lineStart(text, start-1)
	return min(before+at-start, start-1)
}

func lineDown(text []uint16, at int) int {
	end := lineEnd(text, at)
	if end == len(text) {
		return end
	}
	return min(end+1+at-lineStart(text, at), lineEnd(text, end+1))
}

// editKey edits the text of a field.
func (p *Page) editKey(el *Element, key string, mods Mods) error {
	el = el.editing()
	text, from, to := el.selection()
	move := func(at int) error {
		switch at = max(0, min(at, len(text))); {
		case !mods.Shift:
			p.mark(el, at, at)
		case at < from:
			p.mark(el, at, to)
		default:
			p.mark(el, from, at)
		}
		return nil
	}
	switch key {
	case "Backspace", "Delete":
		if p.TakesText(el) {
			return p.erase(el, key == "Backspace")
		}
	case "Home":
		return move(lineStart(text, from))
	case "End":
		return move(lineEnd(text, to))
	case "ArrowUp":
		return move(lineUp(text, from))
	case "ArrowDown":
		return move(lineDown(text, to))
	case "ArrowLeft":
		if from != to && !mods.Shift {
			return move(from)
		}
		return move(from - 1)
	case "ArrowRight":
		if from != to && !mods.Shift {
			return move(to)
		}
		return move(to + 1)
	case "a":
		if mods.Control {
			p.mark(el, 0, len(text))
		}
	}
	return nil
}
