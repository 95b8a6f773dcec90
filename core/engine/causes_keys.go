package engine

import (
	"slices"
	"unicode/utf8"
)

// keys are those that matter to handlers of the element, or around it, and those that press it.
func (l *lister) keys(el *Element) {
	if !el.Focusable() {
		return
	}
	keys := l.heardKeys(el)
	for _, k := range l.pressing(el, keys) {
		if !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	for _, k := range keys {
		l.key(el, k)
	}
}

// heardKeys are those that handlers of the element, or around it, tell apart.
func (l *lister) heardKeys(el *Element) (keys []string) {
	if !l.e.program.sees.keys {
		return nil
	}
	add := func(list []string) {
		for _, k := range list {
			if !slices.Contains(keys, k) {
				keys = append(keys, k)
			}
		}
	}
	for p := el; p != nil; p = p.around() {
		add(l.inputs.Keys(p.t.def))
	}
	if len(keys) > 0 && l.e.program.sees.tabs {
		add([]string{"Tab", "Shift+Tab"})
	}
	return keys
}

// pressing are the keys that press the element, where that is not the same as pressing it with the mouse:
// the mouse is heard of, or the keys are, whichever they are.
func (l *lister) pressing(el *Element, heard []string) []string {
	by := el.PressedBy()
	switch {
	case len(by) == 0 || slices.Contains(heard, l.inputs.OtherKey()):
		return by
	case l.byMouse(el) && l.clicked(el):
		return by[:1]
	}
	return nil
}

// clicked says whether clicking a control does anything, without a mouse.
func (l *lister) clicked(el *Element) bool {
	switch el.InputType() {
	case "checkbox", "radio":
		return l.checks(el)
	}
	return l.works(el, "click")
}

// enter is Enter in a field of a form: it sends the form where there is no button for that, and presses
// the button where there is one, which is told of no mouse then and does not get the focus.
func (l *lister) enter(el *Element) {
	form := el.form()
	if form == nil || el.Tag() != "input" || !el.Focusable() {
		return
	}
	b := of(l.e.page.DefaultButton(&form.Element))
	switch {
	case b == nil && (!isField(el) || form.t.handlers["submit"] == nil):
		return
	case b != nil && (b == el || b.Disabled() || !l.clicked(b) || !l.e.program.sees.focus && !l.byMouse(b) && !slices.Contains(l.heardKeys(el), l.inputs.OtherKey())):
		return
	}
	l.key(el, "Enter")
}

// key is a key that is pressed on an element. One that types into a field is typed in place of
// what the field holds: texts that keys make one by one would have no end.
func (l *lister) key(el *Element, k string) {
	text := k
	if k == "Enter" && el.Tag() == "textarea" {
		text = "\n"
	}
	s := Cause{Verb: Key, Element: el, Text: k}
	if utf8.RuneCountInString(text) == 1 && l.e.page.TakesText(&el.Element) {
		s = Cause{Verb: Type, Element: el, Text: text}
	}
	if !slices.Contains(l.list, s) {
		l.add(s)
	}
}
