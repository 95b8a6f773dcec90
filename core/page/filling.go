package page

import (
	"slices"
	"strings"
)

// Takes says whether a field can come to hold a text: one for dates, times or colours holds nothing
// else.
func (el *Element) Takes(text string) bool {
	switch el.InputType() {
	case "date", "time", "month", "week", "datetime-local":
		_, ok := el.numbered(text)
		return ok || text == ""
	case "color":
		return simpleColor.MatchString(text)
	}
	return true
}

// Accepts says whether a control would be valid if a user put a text in it.
func (p *Page) Accepts(el *Element, text string) bool {
	was := el.Live()
	defer el.Restore(was)
	now := was
	now.Value, now.Dirty, now.Typed = text, true, true
	el.Restore(now)
	return el.Takes(text) && p.Valid(el)
}

// Filling is a text that a field accepts and that is none of a list, or "" where none is found, as
// where only a pattern tells what to write.
func (p *Page) Filling(el *Element, list []string) string {
	for _, text := range el.fillings(len(list)) {
		if text != "" && !slices.Contains(list, text) && p.Accepts(el, text) {
			return text
		}
	}
	return ""
}

// fillings are more than n texts of the kind that a field asks for, as short as may be.
func (el *Element) fillings(n int) (list []string) {
	r, ranged := el.Range()
	from := r.base
	if r.HasHigh && from > r.High {
		from, _ = r.Around(r.High)
	}
	letters := 1
	if least, ok := el.count("minlength"); ok {
		letters = min(least, longest)
	}
	for i := range n + 1 {
		switch letter := string(rune('a' + i%26)); {
		case ranged:
			k := float64(i)
			list = append(list, el.written(from+k*r.Step), el.written(from-k*r.Step))
		case el.InputType() == "email":
			list = append(list, strings.Repeat(letter, max(1, letters-2))+"@b")
		case el.InputType() == "url":
			list = append(list, "http://"+strings.Repeat(letter, max(1, letters-7)))
		default:
			list = append(list, strings.Repeat(letter, letters))
		}
	}
	return list
}

// longest is how many letters are written at most where a field asks for more than one.
const longest = 1000
