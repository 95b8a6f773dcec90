package page

import (
	"slices"
	"strings"
)

// Choosing from a select.

// Choose chooses options of a select by their values, as its user does: input, then change.
func (p *Page) Choose(el *Element, options ...*Element) error {
	p.activated()
	if err := p.FocusOn(el); err != nil {
		return err
	}
	return p.settled(p.choose(el, options))
}

// ChosenWith are the options that are chosen when a user takes another one: of a select that takes
// several the others stay, and one that is chosen already no longer is.
func (p *Page) ChosenWith(el, o *Element) []*Element {
	if !el.Has("multiple") {
		return []*Element{o}
	}
	was := p.ChosenOptions(el)
	var list []*Element
	for _, x := range el.Options() {
		if slices.Contains(was, x) != (x == o) {
			list = append(list, x)
		}
	}
	return list
}

func (p *Page) choose(el *Element, options []*Element) error {
	if slices.Equal(p.ChosenOptions(el), options) {
		return nil
	}
	if err := p.fire(&Event{Name: "input", Target: el}, func() {
		props := el.Live()
		props.Value, props.Dirty, props.Typed = held(options), true, true
		p.put(el, props)
		p.host.Took(el, "value")
	}); err != nil || el.Gone() {
		return err
	}
	p.touch(el)
	p.host.Acted(el)
	return p.fire(&Event{Name: "change", Target: el}, nothing)
}

// offered are the options that can be chosen.
func (el *Element) offered() []*Element {
	return slices.DeleteFunc(el.Options(), func(o *Element) bool { return o.Disabled() || !o.Rendered() })
}

// selectKey moves through the options of a select that shows one.
func (p *Page) selectKey(el *Element, key string, mods Mods) error {
	list := el.offered()
	if len(list) == 0 || mods.Alt || mods.Control {
		return nil
	}
	here := slices.Index(list, at(p.ChosenOptions(el), 0))
	to := here
	switch key {
	case "ArrowDown", "ArrowRight":
		to++
	case "ArrowUp", "ArrowLeft":
		to--
	case "Home", "PageUp":
		to = 0
	case "End", "PageDown":
		to = len(list) - 1
	default:
		return nil
	}
	to = max(0, min(to, len(list)-1))
	if to == here {
		return nil
	}
	return p.choose(el, list[to:to+1])
}

// searchOption chooses the next option whose text begins with a letter.
func (p *Page) searchOption(el *Element, key string) error {
	if el.Tag() != "select" || key == " " {
		return nil
	}
	list := el.offered()
	here := slices.Index(list, at(p.ChosenOptions(el), 0))
	for i := range list {
		o := list[(here+1+i)%len(list)]
		if strings.HasPrefix(strings.ToLower(strings.TrimSpace(o.Label())), strings.ToLower(key)) {
			return p.choose(el, []*Element{o})
		}
	}
	return nil
}

// Label is what an option shows.
func (el *Element) Label() string {
	if v := el.Get("label"); v != "" {
		return v
	}
	return strings.Join(strings.Fields(el.Content()), " ")
}
