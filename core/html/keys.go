package html

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// keyNames are the names of keys on the keyboards of computers (UI Events KeyboardEvent key Values, 3.2 to 3.9).
var keyNames = strings.Fields(`Alt AltGraph CapsLock Control Fn FnLock Meta NumLock ScrollLock Shift Enter Tab
ArrowDown ArrowLeft ArrowRight ArrowUp End Home PageDown PageUp Backspace Clear Copy Cut Delete Insert Paste Redo Undo
Again Cancel ContextMenu Escape Execute Find Help Pause Play Select ZoomIn ZoomOut PrintScreen Compose Convert Dead NonConvert Process
F1 F2 F3 F4 F5 F6 F7 F8 F9 F10 F11 F12`)

// otherNames are what keys are called elsewhere, or were once.
var otherNames = map[string]string{
	"esc": "Escape", "space": " ", "spacebar": " ", "del": "Delete", "ins": "Insert", "return": "Enter", "numpadenter": "Enter",
	"up": "ArrowUp", "down": "ArrowDown", "left": "ArrowLeft", "right": "ArrowRight", "pgup": "PageUp", "pgdn": "PageDown", "pgdown": "PageDown",
	"ctrl": "Control", "cmd": "Meta", "command": "Meta", "win": "Meta", "os": "Meta", "option": "Alt", "apps": "ContextMenu",
	"comma": ",", "period": ".", "slash": "/", "minus": "-", "plus": "+",
}

// IsKey says whether a key may be called so (UI Events KeyboardEvent key Values, 2 and 3): a character, which others may
// combine with, or a name, all of which begin with a capital.
func IsKey(name string) bool {
	first, n := utf8.DecodeRuneInString(name)
	if first >= 'A' && first <= 'Z' {
		return true
	}
	return n > 0 && strings.TrimLeftFunc(name[n:], func(r rune) bool { return unicode.Is(unicode.M, r) }) == ""
}

// KeyMeant is the key that is meant by what is the name of none, as a text: a name in other letters, one from elsewhere, or
// the place of a key on the keyboard (UI Events KeyboardEvent code Values). It is "" where none is near, and the key itself
// where it is one.
func KeyMeant(name string) string {
	small := strings.ToLower(name)
	for _, k := range keyNames {
		if strings.ToLower(k) == small {
			return k
		}
	}
	if k := otherNames[small]; k != "" {
		return k
	}
	for _, place := range []string{"key", "digit", "numpad"} {
		if rest, ok := strings.CutPrefix(small, place); ok && len(rest) == 1 {
			return rest
		}
	}
	if IsKey(name) {
		return name
	}
	return ""
}
