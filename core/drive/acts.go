package drive

import (
	"errors"

	"lien/core/drive/webdriver"
	"lien/core/page"
)

// What a user does on a real page.

// errGone says that an element is no longer on the page.
var errGone = errors.New("it is no longer on the page")

// ref is the element of the browser behind one that was read.
func (b *Browser) ref(el *page.Element) (ref webdriver.Element, err error) {
	n, ok := b.numbers[el]
	if !ok {
		return ref, errGone
	}
	err = b.session.Run("return globalThis.__lienKnown?.elements[arguments[0]]?.deref() ?? null", &ref, n)
	if err == nil && ref.ID == "" {
		err = errGone
	}
	return ref, err
}

// perform performs actions, and waits until what they set off is done.
func (b *Browser) perform(a *webdriver.Actions) error {
	if err := b.session.Perform(a); err != nil {
		return err
	}
	return b.session.RunAsync("const done = arguments[0]; setTimeout(() => requestAnimationFrame(() => setTimeout(done)))", nil)
}

func held(a *webdriver.Actions, mods page.Mods, press func()) {
	keys := heldKeys(mods)
	for _, k := range keys {
		a.KeyDown(k)
	}
	press()
	for i := len(keys) - 1; i >= 0; i-- {
		a.KeyUp(keys[i])
	}
}

func heldKeys(m page.Mods) (keys []string) {
	for _, k := range []struct {
		on   bool
		name string
	}{{m.Shift, "Shift"}, {m.Control, "Control"}, {m.Alt, "Alt"}, {m.Meta, "Meta"}} {
		if k.on {
			keys = append(keys, k.name)
		}
	}
	return keys
}

// Press presses an element.
func (b *Browser) Press(el *page.Element, m page.Mouse) error {
	button := webdriver.Primary
	if m.Right {
		button = webdriver.Secondary
	}
	if b.Shifts && !m.Double && !m.Right && m.Mods == (page.Mods{}) { // of a right press the menu of the browser would hear the rest
		return b.pressFollowing(el)
	}
	return b.press(el, func(a *webdriver.Actions) {
		held(a, m.Mods, func() {
			a.Down(button).Up(button)
			if m.Double { // what the first press puts off is done before the second, as no hand is faster
				a.Pause(betweenPresses).Down(button).Up(button)
			}
		})
	})
}

// pressFollowing presses an element and lets go of the button where it is then: what has lost the focus may have moved it.
func (b *Browser) pressFollowing(el *page.Element) error {
	if err := b.press(el, func(a *webdriver.Actions) { a.Down(webdriver.Primary) }); err != nil {
		return err
	}
	up := new(webdriver.Actions)
	if at, err := b.aimAt(el); err == nil && el != nil && at.Meets != "else" {
		up.MoveToPoint(at.X, at.Y)
	}
	return b.perform(up.Up(webdriver.Primary))
}

// Hold presses the button of the mouse on an element.
func (b *Browser) Hold(el *page.Element, mods page.Mods) error {
	return b.press(el, func(a *webdriver.Actions) {
		held(a, mods, func() { a.Down(webdriver.Primary) })
	})
}

// Release lets go of the button of the mouse on an element.
func (b *Browser) Release(el *page.Element, mods page.Mods) error {
	return b.point(el, func(a *webdriver.Actions, _ aim) {
		held(a, mods, func() { a.Up(webdriver.Primary) })
	})
}

// Hover moves the mouse onto an element.
func (b *Browser) Hover(el *page.Element) error {
	return b.point(el, func(*webdriver.Actions, aim) {})
}

// Drag takes an element and lets go of it on another one, or with nil where none is.
func (b *Browser) Drag(el, to *page.Element) error {
	from, err := b.ref(el)
	if err != nil {
		return err
	}
	var drops func(a *webdriver.Actions)
	if to == nil {
		at, err := b.beside()
		if err != nil {
			return err
		}
		drops = func(a *webdriver.Actions) { a.MoveToPoint(at.X, at.Y) }
	} else {
		onto, err := b.ref(to)
		if err != nil {
			return err
		}
		drops = func(a *webdriver.Actions) { a.MoveTo(onto, 0, 0).MoveTo(onto, 1, 1) }
	}
	return b.press(el, func(a *webdriver.Actions) {
		drops(a.Down(webdriver.Primary).MoveTo(from, 6, 2).MoveTo(from, 10, 2))
		a.Up(webdriver.Primary)
	})
}

// Type replaces what a field holds, key by key.
func (b *Browser) Type(el *page.Element, text string) error {
	switch el.InputType() {
	case "date", "time", "month", "week", "datetime-local", "color", "file": // which go by parts, or by windows of their own
		return b.Put(el, text)
	}
	if text == "" {
		b.session.Activate()
	}
	if err := b.run(el, `el.focus();
		if (el.select) el.select(); else getSelection().selectAllChildren(el);
		if (given === "") document.execCommand("delete");`, text); err != nil {
		return err
	}
	a := &webdriver.Actions{}
	for _, r := range text {
		key := string(r)
		if r == '\n' {
			key = "Enter"
		}
		a.KeyDown(key).KeyUp(key)
	}
	return b.perform(a)
}

// run runs statements on an element, el, with what it is given.
func (b *Browser) run(el *page.Element, body string, given any) error {
	n, ok := b.numbers[el]
	if !ok {
		return errGone
	}
	var there bool
	err := b.session.Run("const el = globalThis.__lienKnown?.elements[arguments[0]]?.deref(), given = arguments[1];\nif (!el) return false;\n"+body+"\nreturn true", &there, n, given)
	if err == nil && !there {
		err = errGone
	}
	return err
}

// script is run in place of what a user does, and waits until what it sets off is done.
func (b *Browser) script(el *page.Element, body string, given any) error {
	b.session.Activate()
	if err := b.run(el, body, given); err != nil {
		return err
	}
	return b.perform(&webdriver.Actions{})
}

// Put gives a slider, or a field that is not typed into, a value, and reports it. A field of files gets one of this name.
func (b *Browser) Put(el *page.Element, text string) error {
	return b.script(el, `el.focus();
		if (el.type === "file" && given !== "") {
			const chosen = new DataTransfer();
			chosen.items.add(new File([""], given.split("\\").pop()));
			el.files = chosen.files;
		} else Object.getOwnPropertyDescriptor(Object.getPrototypeOf(el), "value").set.call(el, given);
		for (const name of ["input", "change"]) el.dispatchEvent(new Event(name, { bubbles: true }));`, text)
}

// Choose chooses options of a select.
func (b *Browser) Choose(el *page.Element, options ...*page.Element) error {
	values := make([]string, len(options))
	for i, o := range options {
		values[i] = o.OptionValue()
	}
	return b.script(el, `el.focus();
		const was = [...el.options].map((o) => o.selected);
		for (const o of el.options) o.selected = given.includes(o.value);
		if ([...el.options].some((o, i) => o.selected !== was[i]))
			for (const name of ["input", "change"]) el.dispatchEvent(new Event(name, { bubbles: true }));`, values)
}

// Paste pastes a text into an element, which gets the focus.
func (b *Browser) Paste(el *page.Element, text string) error {
	return b.script(el, `el.focus();
		const data = new DataTransfer();
		data.setData("text/plain", given);
		const target = document.activeElement ?? document.body;
		if (target.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true })))
			document.execCommand("insertText", false, given);`, text)
}

// Key presses a chord on an element, or where the focus is.
func (b *Browser) Key(el *page.Element, chord string) error {
	if el != nil && !el.Contains(b.tree.Focus()) {
		if err := b.FocusOn(el.Nearest()); err != nil {
			return err
		}
	}
	c := page.ChordOf(chord)
	down, up := &webdriver.Actions{}, &webdriver.Actions{}
	for _, k := range append(c.Mods, c.Key) {
		down.KeyDown(k)
	}
	up.KeyUp(c.Key)
	for i := len(c.Mods) - 1; i >= 0; i-- {
		up.KeyUp(c.Mods[i])
	}
	if err := b.perform(down); err != nil { // what a key sets off is done before a finger lets go of it
		return err
	}
	return b.perform(up)
}

// FocusOn gives an element the focus; nil takes it away.
func (b *Browser) FocusOn(el *page.Element) error {
	if el == nil {
		if err := b.session.Run("document.activeElement?.blur()", nil); err != nil {
			return err
		}
		return b.perform(&webdriver.Actions{})
	}
	if err := b.run(el, "el.focus()", nil); err != nil {
		return err
	}
	return b.perform(&webdriver.Actions{})
}
