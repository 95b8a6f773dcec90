package webdriver

import (
	"net/http"
	"unicode/utf8"
)

// Actions are what mouse and keyboard do, one after the other (WebDriver, 15).
type Actions struct {
	keys, mouse []any
}

func (a *Actions) add(keys, mouse map[string]any) {
	pause := map[string]any{"type": "pause", "duration": 0}
	if keys == nil {
		keys = pause
	}
	if mouse == nil {
		mouse = pause
	}
	a.keys, a.mouse = append(a.keys, keys), append(a.mouse, mouse)
}

// Buttons of a mouse.
const (
	Primary = iota
	Middle
	Secondary
)

// MoveTo moves the mouse to the middle of an element, or away from it by some pixels.
func (a *Actions) MoveTo(el Element, dx, dy int) *Actions {
	a.add(nil, map[string]any{"type": "pointerMove", "duration": 0, "origin": el, "x": dx, "y": dy})
	return a
}

// MoveToPoint moves the mouse to a point of the window.
func (a *Actions) MoveToPoint(x, y int) *Actions {
	a.add(nil, map[string]any{"type": "pointerMove", "duration": 0, "origin": "viewport", "x": x, "y": y})
	return a
}

// Down and Up hold and let go of a button of the mouse.
func (a *Actions) Down(button int) *Actions {
	a.add(nil, map[string]any{"type": "pointerDown", "button": button})
	return a
}

// Up lets go of a button of the mouse.
func (a *Actions) Up(button int) *Actions {
	a.add(nil, map[string]any{"type": "pointerUp", "button": button})
	return a
}

// Pause waits for some milliseconds.
func (a *Actions) Pause(ms int) *Actions {
	a.add(map[string]any{"type": "pause", "duration": ms}, nil)
	return a
}

// KeyDown holds a key, by its name in UI Events (Enter, a, ArrowDown).
func (a *Actions) KeyDown(key string) *Actions {
	a.add(map[string]any{"type": "keyDown", "value": coded(key)}, nil)
	return a
}

// KeyUp lets go of a key.
func (a *Actions) KeyUp(key string) *Actions {
	a.add(map[string]any{"type": "keyUp", "value": coded(key)}, nil)
	return a
}

// Perform does what was listed.
func (s *Session) Perform(a *Actions) error {
	if len(a.keys) == 0 {
		return nil
	}
	return s.post("/actions", map[string]any{"actions": []any{
		map[string]any{"type": "key", "id": "keyboard", "actions": a.keys},
		map[string]any{"type": "pointer", "id": "mouse", "parameters": map[string]any{"pointerType": "mouse"}, "actions": a.mouse},
	}}, nil)
}

// Activate tells the page that its user did something, where the browser has a command for that (Chrome DevTools Protocol,
// Runtime.evaluate): what scripts do for a user, such as choosing, counts as theirs then (HTML, user activation).
func (s *Session) Activate() {
	s.post("/goog/cdp/execute", map[string]any{"cmd": "Runtime.evaluate", "params": map[string]any{"expression": "1", "userGesture": true}}, nil)
}

// LetGo lets go of all keys and buttons that are held (WebDriver, 15.6).
func (s *Session) LetGo() error {
	return s.driver.call(s.ctx, http.MethodDelete, s.path+"/actions", nil, nil)
}

// named are the code points of keys without a character (WebDriver, 15.4.2).
var named = map[string]rune{
	"Backspace": '\uE003', "Tab": '\uE004', "Enter": '\uE007', "Shift": '\uE008', "Control": '\uE009', "Alt": '\uE00A',
	"Pause": '\uE00B', "Escape": '\uE00C', "PageUp": '\uE00E', "PageDown": '\uE00F', "End": '\uE010', "Home": '\uE011',
	"ArrowLeft": '\uE012', "ArrowUp": '\uE013', "ArrowRight": '\uE014', "ArrowDown": '\uE015', "Insert": '\uE016', "Delete": '\uE017',
	"F1": '\uE031', "F2": '\uE032', "F3": '\uE033', "F4": '\uE034', "F5": '\uE035', "F6": '\uE036', "F7": '\uE037',
	"F8": '\uE038', "F9": '\uE039', "F10": '\uE03A', "F11": '\uE03B', "F12": '\uE03C', "Meta": '\uE03D',
}

// coded is a key as the protocol writes it.
func coded(key string) string {
	if r, ok := named[key]; ok {
		return string(r)
	}
	_, n := utf8.DecodeRuneInString(key)
	return key[:n]
}
