package page

import (
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf16"

	"github.com/dlclark/regexp2"
)

// Constraint validation (HTML, 4.10.21).

// Validates says whether a control is held to its constraints.
func (p *Page) Validates(el *Element) bool {
	switch el.Tag() {
	case "button", "select":
	case "input":
		switch el.InputType() {
		case "hidden", "button", "reset":
			return false
		}
		if el.Has("readonly") && el.readonlyApplies() {
			return false
		}
	case "textarea":
		if el.Has("readonly") {
			return false
		}
	default:
		return false
	}
	if el.isButton() && el.buttonKind() != "submit" {
		return false
	}
	return !el.Disabled() && (el.Up == nil || el.Up.Closest("datalist") == nil)
}

// Constrained says whether a control is held to anything that what it holds may not fulfil.
func (p *Page) Constrained(el *Element) bool {
	if !p.Validates(el) || el.isButton() {
		return false
	}
	switch el.InputType() {
	case "email", "url", "number", "date", "time", "month", "week", "datetime-local":
		return true
	}
	return slices.ContainsFunc([]string{"required", "pattern", "minlength", "maxlength"}, el.Has) ||
		el.InputType() == "radio" && slices.ContainsFunc(p.Group(el), func(o *Element) bool { return o.Has("required") })
}

func (el *Element) readonlyApplies() bool {
	switch el.InputType() {
	case "checkbox", "radio", "range", "color", "file", "submit", "image":
		return false
	}
	return true
}

// Valid says whether a control fulfils its constraints.
func (p *Page) Valid(el *Element) bool {
	if !p.Validates(el) {
		return true
	}
	if el.Live().Custom() != "" {
		return false
	}
	if el.isButton() {
		return true
	}
	return !p.missing(el) && !el.malformed() && !el.badInput() && !el.outOfRange() && !el.wrongLength()
}

// missing: required, and there is nothing.
func (p *Page) missing(el *Element) bool {
	if el.InputType() == "radio" {
		needed := false
		for _, o := range p.Group(el) {
			if o.Live().Checked {
				return false
			}
			needed = needed || o.Has("required")
		}
		return needed
	}
	if !el.Has("required") {
		return false
	}
	switch el.InputType() {
	case "checkbox":
		return !el.Live().Checked
	case "range", "color":
		return false
	}
	if el.Tag() == "select" {
		return p.lacksChoice(el)
	}
	return p.Value(el) == ""
}

// lacksChoice: nothing is chosen, or the placeholder (HTML, 4.10.7).
func (p *Page) lacksChoice(el *Element) bool {
	chosen := p.ChosenOptions(el)
	if len(chosen) == 0 {
		return true
	}
	if el.Has("multiple") || el.Lines() > 1 {
		return false
	}
	first := at(el.Options(), 0)
	return len(chosen) == 1 && chosen[0] == first && first.Up == el && first.OptionValue() == ""
}

// malformed: typeMismatch and patternMismatch.
func (el *Element) malformed() bool {
	if el.Tag() != "input" {
		return false
	}
	v := el.sanitized()
	if v == "" {
		return false
	}
	switch el.InputType() {
	case "email":
		list := []string{v}
		if el.Has("multiple") {
			list = strings.Split(v, ",")
		}
		for _, s := range list {
			if !isEmail(strings.TrimSpace(s)) {
				return true
			}
		}
	case "url":
		if u, err := url.Parse(v); err != nil || !u.IsAbs() || u.Host == "" && strings.HasPrefix(u.Scheme, "http") {
			return true
		}
	case "text", "search", "tel", "password":
	default:
		return false
	}
	pattern, ok := el.Attr("pattern")
	if !ok {
		return false
	}
	if el.InputType() == "email" && el.Has("multiple") {
		for _, s := range strings.Split(v, ",") {
			if !fits(pattern, strings.TrimSpace(s)) {
				return true
			}
		}
		return false
	}
	return !fits(pattern, v)
}

// isEmail follows the production of HTML, 4.10.5.1.5, by which local parts are plain.
func isEmail(s string) bool {
	const plain = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789"
	local, domain, ok := strings.Cut(s, "@")
	if !ok || local == "" || strings.Trim(local, plain+".!#$%&'*+/=?^_`{|}~-") != "" {
		return false
	}
	for _, label := range strings.Split(domain, ".") {
		if label == "" || len(label) > 63 || strings.Trim(label, plain+"-") != "" || label[0] == '-' || label[len(label)-1] == '-' {
			return false
		}
	}
	return true
}

var (
	patterns = map[string]*regexp2.Regexp{}
	fitting  sync.Mutex
)

// fits matches a whole text with a pattern of ECMAScript. A pattern that is none, or takes longer
// than a second, holds nothing back.
func fits(pattern, text string) bool {
	re := compiled(pattern)
	if re == nil {
		return true
	}
	ok, err := re.MatchString(text)
	return ok && !strings.HasSuffix(text, "\n") || err != nil
}

// compiled is a pattern to match with, or nil.
func compiled(pattern string) *regexp2.Regexp {
	fitting.Lock()
	defer fitting.Unlock()
	re, known := patterns[pattern]
	if !known {
		re, _ = regexp2.Compile("^(?:"+pattern+")$", regexp2.ECMAScript|regexp2.Unicode)
		if re != nil {
			re.MatchTimeout = time.Second
		}
		if len(patterns) > 10_000 {
			clear(patterns)
		}
		patterns[pattern] = re
	}
	return re
}

// badInput: what is typed cannot be turned into a value.
func (el *Element) badInput() bool {
	switch el.InputType() {
	case "number", "date", "time", "month", "week", "datetime-local":
		return el.Live().Typed && el.Live().Value != "" && el.sanitized() == ""
	}
	return false
}

// outOfRange: rangeUnderflow, rangeOverflow and stepMismatch.
func (el *Element) outOfRange() bool {
	r, ok := el.Range()
	if !ok || el.InputType() == "range" {
		return false
	}
	n, ok := el.numbered(el.sanitized())
	if !ok {
		return false
	}
	if r.HasLow && r.HasHigh && r.High < r.Low && el.InputType() == "time" {
		return n > r.High && n < r.Low
	}
	return r.HasLow && n < r.Low || r.HasHigh && n > r.High || !r.any && !r.onStep(n)
}

// wrongLength: tooShort and tooLong, of what was typed by a user.
func (el *Element) wrongLength() bool {
	if !el.Live().Typed || !el.lengthApplies() {
		return false
	}
	n := len(utf16.Encode([]rune(el.sanitized())))
	low, hasLow := el.count("minlength")
	high, hasHigh := el.count("maxlength")
	return n > 0 && hasLow && n < low || hasHigh && n > high
}

func (el *Element) lengthApplies() bool {
	switch el.InputType() {
	case "text", "search", "url", "tel", "email", "password":
		return true
	}
	return el.Tag() == "textarea"
}

// Check reports invalid on what is not valid, of a form or a control alone, as checkValidity does.
func (p *Page) Check(el *Element) (valid bool, err error) {
	_, valid, err = p.unhandled(el)
	return valid, p.settled(err)
}

// Report is Check, and moves the focus to the first control of which no handler says that it
// takes care of it, as reportValidity does.
func (p *Page) Report(el *Element) (valid bool, err error) {
	valid, err = p.report(el)
	return valid, p.settled(err)
}

func (p *Page) report(el *Element) (valid bool, err error) {
	list, valid, err := p.unhandled(el)
	if err != nil {
		return valid, err
	}
	for _, c := range list {
		if !c.Gone() && c.Focusable() {
			return valid, p.moveFocus(c)
		}
	}
	return valid, nil
}

// unhandled are the controls that are not valid and whose invalid event was not prevented.
func (p *Page) unhandled(el *Element) (list []*Element, valid bool, err error) {
	controls := []*Element{el}
	if el.Tag() == "form" {
		controls = p.Controls(el)
	}
	var bad []*Element
	for _, c := range controls {
		if !p.Valid(c) {
			bad = append(bad, c)
		}
	}
	for _, c := range bad {
		ev := &Event{Name: "invalid", Target: c}
		if err := p.fire(ev, nil); err != nil {
			return nil, false, err
		}
		if !ev.Prevented {
			list = append(list, c)
		}
	}
	return list, len(bad) == 0, nil
}

// SetCustom sets the message of a control that its program finds not valid; "" for none.
func (p *Page) SetCustom(el *Element, message string) {
	p.put(el, el.Live().WithCustom(message))
}
