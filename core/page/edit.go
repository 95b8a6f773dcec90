package page

import (
	"strings"
	"unicode"
	"unicode/utf16"
)

// Typing into fields (HTML, 4.10.5 and 6.8; Input Events).

// showsText says whether the element is one that text is typed into, or could be.
func (el *Element) showsText() bool {
	switch el.Tag() {
	case "textarea":
		return true
	case "input":
		switch el.InputType() {
		case "text", "search", "tel", "url", "email", "password", "number":
			return true
		}
		return false
	}
	return el.Editable()
}

// TakesText says whether text can be typed into the element now.
func (p *Page) TakesText(el *Element) bool {
	if el.Tag() == "textarea" || el.Tag() == "input" {
		return el.showsText() && !el.Has("readonly") && !el.Disabled()
	}
	return el.Editable()
}

// editing is the element whose text changes when keys are pressed on el: el, or the outermost
// around it that is edited in place.
func (el *Element) editing() *Element {
	if el.Tag() == "input" || el.Tag() == "textarea" {
		return el
	}
	host := el
	for up := el; up != nil && up.Editable(); up = up.Up {
		host = up
	}
	return host
}

// text is what stands in a field as it was typed.
func (el *Element) text() string {
	if el.Tag() != "input" && el.Tag() != "textarea" {
		return el.Content()
	}
	return el.Live().Value
}

func units(s string) []uint16 { return utf16.Encode([]rune(s)) }

// selection is what is selected in a field, within its text.
func (el *Element) selection() (text []uint16, from, to int) {
	text = units(el.text())
	props := el.Live()
	from, to = min(int(props.From), len(text)), min(int(props.To), len(text))
	return text, from, to
}

// mark selects a part of the text of a field; with from and to equal it moves the caret there.
func (p *Page) mark(el *Element, from, to int) {
	props := el.Live()
	props.From, props.To = int32(from), int32(to)
	p.put(el, props)
}

func (p *Page) selectAll(el *Element) {
	if p.TakesText(el) {
		p.mark(el, 0, len(units(el.text())))
	}
}

func (p *Page) caretEnd(el *Element) {
	if p.TakesText(el) {
		end := len(units(el.text()))
		p.mark(el, end, end)
	}
}

// selectWord selects the last word of a field, as a double press behind it does.
func (p *Page) selectWord(el *Element) {
	if !el.showsText() {
		return
	}
	text := []rune(el.text())
	word := func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }
	from := len(text)
	for from > 0 && word(text[from-1]) == word(text[len(text)-1]) {
		from--
	}
	p.mark(el, len(units(string(text[:from]))), len(units(string(text))))
}

// current is what a field holds, by which is told whether it has changed.
func (el *Element) current() string {
	if el.Tag() == "input" || el.Tag() == "textarea" {
		return el.sanitized()
	}
	return el.text()
}

// insert types, or pastes, a text at the caret. before is the event that can prevent it.
func (p *Page) insert(el *Element, text string) error {
	el = el.editing()
	if ok, err := p.before(el, text); !ok || err != nil {
		return err
	}
	if el.InputType() == "number" {
		text = numeric(text)
	}
	if v := el.text(); isASCII(v) && isASCII(text) && int(el.Live().From) >= len(v) && text != "" && !el.Has("maxlength") {
		return p.edited(el, v+text, len(v)+len(text), text) // what is typed at the end of plain letters
	}
	all, from, to := el.selection()
	put := units(text)
	if len(put) == 0 && from == to {
		return nil
	}
	if most, ok := el.count("maxlength"); ok && (el.lengthApplies()) {
		room := max(0, most-(len(all)-(to-from)))
		if len(put) > room {
			put = put[:room]
		}
		if len(put) == 0 && from == to {
			return nil
		}
	}
	next := append(append(append([]uint16{}, all[:from]...), put...), all[to:]...)
	return p.edited(el, string(utf16.Decode(next)), from+len(put), text)
}

func isASCII(s string) bool {
	for i := range len(s) {
		if s[i] >= 0x80 {
			return false
		}
	}
	return true
}

// numeric is what a field for numbers takes of a text.
func numeric(text string) string {
	return strings.Map(func(r rune) rune {
		if strings.ContainsRune("0123456789+-.eE", r) {
			return r
		}
		return -1
	}, text)
}

// erase takes away what is selected, or the character before or after the caret.
func (p *Page) erase(el *Element, back bool) error {
	el = el.editing()
	if ok, err := p.before(el, ""); !ok || err != nil {
		return err
	}
	all, from, to := el.selection()
	if from == to {
		switch {
		case back && from > 0:
			from--
			if from > 0 && utf16.IsSurrogate(rune(all[from])) {
				from--
			}
		case !back && to < len(all):
			to++
			if to < len(all) && utf16.IsSurrogate(rune(all[to-1])) {
				to++
			}
		default:
			return nil
		}
	}
	next := append(append([]uint16{}, all[:from]...), all[to:]...)
	return p.edited(el, string(utf16.Decode(next)), from, "")
}

// before asks whether a change may be: whoever hears beforeinput can prevent it.
func (p *Page) before(el *Element, data string) (bool, error) {
	ev, err := p.tell(Event{Data: data}, "beforeinput", el)
	return !ev.Prevented && !el.Gone() && p.TakesText(el), err
}

// edited changes the text of a field as its user does, with its input event.
func (p *Page) edited(el *Element, text string, caret int, data string) error {
	return p.fire(&Event{Name: "input", Target: el, Data: data}, func() {
		props := el.Live()
		if !props.Edited {
			h := props.held()
			h.Was = el.current()
			props = props.hold(h)
			props.Edited = true
		}
		props.Value, props.Dirty, props.Typed = text, true, true
		props.From, props.To = int32(caret), int32(caret)
		p.put(el, props)
		p.host.Took(el, "value")
		p.host.Acted(el)
	})
}

// commit reports the change of a field that was typed into, if it holds something else than it
// did when a change was last reported.
func (p *Page) commit(el *Element) error {
	if el == nil || !el.Live().Edited {
		return nil
	}
	props := el.Live()
	h := props.held()
	changed := el.current() != h.Was
	h.Was = ""
	props = props.hold(h)
	props.Edited = false
	p.put(el, props)
	if !changed || el.Tag() != "input" && el.Tag() != "textarea" {
		return nil
	}
	p.touch(el)
	_, err := p.tell(Event{late: true}, "change", el)
	return err
}

// Type replaces the text of a field, key by key.
func (p *Page) Type(el *Element, text string) error {
	p.activated()
	if err := p.FocusOn(el); err != nil {
		return err
	}
	if p.state.Focus != el {
		return nil
	}
	if !p.TakesText(el) {
		return p.pick(el, text)
	}
	p.selectAll(el)
	if text == "" {
		return p.settled(p.erase(el, true))
	}
	for _, r := range text {
		key := string(r)
		if r == '\n' {
			key = "Enter"
		}
		if err := p.Key(key); err != nil {
			return err
		}
	}
	return nil
}

// pick puts a value into a field that is filled by parts, such as a date, in one go.
func (p *Page) pick(el *Element, text string) error {
	if el.Has("readonly") && el.readonlyApplies() || !el.Takes(text) {
		return nil
	}
	if err := p.change(el, text); err != nil {
		return err
	}
	return p.Settle()
}

// change gives a field a value as its user does, with input and change, which are one act.
func (p *Page) change(el *Element, text string) error {
	if err := p.slides(el, text); err != nil || el.Gone() {
		return err
	}
	p.touch(el)
	p.host.Acted(el)
	return p.fire(&Event{Name: "change", Target: el}, nothing)
}

// slides gives a field a value as its user does, with input.
func (p *Page) slides(el *Element, text string) error {
	return p.fire(&Event{Name: "input", Target: el}, func() {
		props := el.Live()
		props.Value, props.Dirty, props.Typed, props.Edited = text, true, true, false
		props.From = int32(len(units(text)))
		props.To = props.From
		p.put(el, props)
		p.host.Took(el, "value")
	})
}

// Put moves a slider, or picks the value of a field: input, then change.
func (p *Page) Put(el *Element, text string) error {
	p.activated()
	if err := p.FocusOn(el); err != nil {
		return err
	}
	return p.settled(p.change(el, text))
}

// Paste pastes a text where the focus is.
func (p *Page) Paste(text string) error {
	p.activated()
	el := p.target()
	ev := &Event{Name: "paste", Target: el, Data: text}
	if err := p.fire(ev, nil); err != nil || ev.Prevented || el.Gone() || !p.TakesText(el) {
		return p.settled(err)
	}
	return p.settled(p.insert(el, text))
}
