package drive

import (
	_ "embed"
	"errors"
	"slices"

	"lien/core/drive/webdriver"
	"lien/core/page"
)

// Where a mouse goes for an element.

//go:embed aim.js
var aimScript string

// aim is a point of the window at which the mouse is to meet an element.
type aim struct {
	X, Y  int
	Meets string // "itself", "inside" of it, or something "else" that lies over it
	Apart bool   // from the point last pressed, so that the press counts as one of its own
}

// errBoxless says that an element takes no room.
var errBoxless = errors.New("it takes no room on the page: there is no point at which to press it")

// betweenPresses is the time between the two of a double press, in ms.
const betweenPresses = 30

// longerThanDouble is a time, in ms, after which a press at the same point is not the second half of a double press.
const longerThanDouble = 600

// errCovered says that there is no such point.
var errCovered = errors.New("elements cover the whole window: there is no place beside them for the mouse")

// beside is a corner of the window where no element is but the body, or the backdrop of a dialog.
func (b *Browser) beside() (at aim, err error) {
	var found []int
	err = b.session.Run(`const w = innerWidth, h = innerHeight;
		for (const [x, y] of [[w - 2, h - 2], [1, h - 2], [w - 2, 1], [1, 1], [w / 2, h - 2], [w / 2, 1]]) {
			const el = document.elementFromPoint(x, y);
			if (!el || el === document.body || el === document.documentElement || el.localName === "dialog") return [Math.floor(x), Math.floor(y)];
		}
		return [];`, &found)
	if err == nil && len(found) != 2 {
		err = errCovered
	}
	if err != nil {
		return at, err
	}
	return aim{X: found[0], Y: found[1], Meets: "itself", Apart: !slices.Equal(found, b.pressed)}, nil
}

// aimAt brings an element into view and finds a point of it, one of its own before one of what it holds; for nil it is one
// where no element is.
func (b *Browser) aimAt(el *page.Element) (at aim, err error) {
	if el == nil {
		return b.beside()
	}
	n, ok := b.numbers[el]
	if !ok {
		return at, errGone
	}
	var found *aim
	err = b.session.Run(aimScript, &found, n, b.pressed)
	switch {
	case err != nil:
		return at, err
	case found == nil:
		return at, errBoxless
	case found.Meets == "gone":
		return at, errGone
	}
	return *found, nil
}

// Meets says whether the mouse can meet an element itself, not only what it holds or what lies over it; for nil, whether there
// is a place beside all elements.
func (b *Browser) Meets(el *page.Element) (bool, error) {
	at, err := b.aimAt(el)
	if err == errCovered {
		err = nil
	}
	return at.Meets == "itself", err
}

// point moves the mouse onto an element and lets it do something there.
func (b *Browser) point(el *page.Element, does func(a *webdriver.Actions, at aim)) error {
	at, err := b.aimAt(el)
	if err == nil && b.Shifts && el != nil {
		at, err = b.follow(el, at)
	}
	if err != nil {
		return err
	}
	a := new(webdriver.Actions).MoveToPoint(at.X, at.Y)
	does(a, at)
	return b.perform(a)
}

// follow moves the mouse onto an element, and again where the element is then, until it stays.
func (b *Browser) follow(el *page.Element, at aim) (aim, error) {
	for range 3 {
		if err := b.perform(new(webdriver.Actions).MoveToPoint(at.X, at.Y)); err != nil {
			return at, err
		}
		next, err := b.aimAt(el)
		if err != nil || next.X == at.X && next.Y == at.Y {
			return next, err
		}
		at = next
	}
	return at, nil
}

// press is point for what begins with a press, which is no half of a double one with the press before.
func (b *Browser) press(el *page.Element, does func(a *webdriver.Actions)) error {
	return b.point(el, func(a *webdriver.Actions, at aim) {
		if !at.Apart {
			a.Pause(longerThanDouble)
		}
		b.pressed = []int{at.X, at.Y}
		does(a)
	})
}
