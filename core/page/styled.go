package page

import (
	"slices"
	"strings"

	"lien/core/css"
)

// What style sheets say of elements, as far as it decides whether they are shown: CSS Cascade 5, over what HTML, 15.3
// shows by itself.

// said is what styles say of display or visibility, "" where they leave it to HTML: an inline style, unless a sheet
// says something important and it does not.
func (el *Element) said(property string) string {
	inline, important := "", false
	if el.Traits&Styles != 0 {
		inline, important = el.style(property)
	}
	if important || !el.page.Styles.Any() {
		return plainly(inline)
	}
	v, sheetImportant := el.page.Styles.Of(styled{el}, property, el.page.Screen)
	if inline != "" && !sheetImportant {
		v = inline
	}
	return plainly(v)
}

// plainly is "" for the words that leave a property to HTML: CSS Cascade 5, 7.3.
func plainly(v string) string {
	switch v {
	case "revert", "revert-layer":
		return ""
	}
	return v
}

// styled is an element as selectors ask about it.
type styled struct{ *Element }

// rootNode is the html element, which a page does not have.
type rootNode struct{}

func (rootNode) Tag() string                      { return "html" }
func (rootNode) Class(string) css.Truth           { return css.No }
func (rootNode) Attr(string) (string, css.Truth)  { return "", css.No }
func (rootNode) Place(_, _ bool) (int, css.Truth) { return 1, css.Yes }
func (rootNode) Around() (css.Node, css.Truth)    { return nil, css.Yes }
func (rootNode) Before() ([]css.Node, css.Truth)  { return nil, css.Yes }
func (rootNode) Within() ([]css.Node, css.Truth)  { return nil, css.Maybe }
func (rootNode) Of(string) bool                   { return false }
func (rootNode) In(string) bool                   { return false }
func (rootNode) State(name string) css.Truth      { return known(name == "root") }

func known(b bool) css.Truth {
	if b {
		return css.Yes
	}
	return css.No
}

func (s styled) Class(name string) css.Truth {
	v, _ := s.Element.Attr("class")
	return known(slices.Contains(strings.Fields(v), name))
}

func (s styled) Attr(name string) (string, css.Truth) {
	v, ok := s.Element.Attr(name)
	return v, known(ok)
}

func (s styled) Around() (css.Node, css.Truth) {
	if s.Up == nil {
		return rootNode{}, css.Yes
	}
	return styled{s.Up}, css.Yes
}

// siblings are the elements around it, itself among them.
func (s styled) siblings() (list []*Element) {
	if s.Up == nil {
		return []*Element{s.Element}
	}
	for _, c := range s.Up.Children() {
		if c.Element != nil {
			list = append(list, c.Element)
		}
	}
	return list
}

func (s styled) Place(last, ofTag bool) (int, css.Truth) {
	list := s.siblings()
	if last {
		slices.Reverse(list)
	}
	at := 0
	for _, o := range list {
		if !ofTag || o.Tag() == s.Tag() {
			at++
		}
		if o == s.Element {
			break
		}
	}
	return at, css.Yes
}

func (s styled) Before() (list []css.Node, _ css.Truth) {
	for _, o := range s.siblings() {
		if o == s.Element {
			break
		}
		list = append(list, styled{o})
	}
	slices.Reverse(list)
	return list, css.Yes
}

func (s styled) Within() (list []css.Node, _ css.Truth) {
	s.Element.Within(func(el *Element) bool {
		list = append(list, styled{el})
		return true
	})
	return list, css.Yes
}

func (s styled) Of(component string) bool { return s.WrittenBy(component) }
func (s styled) In(component string) bool { return s.GivenTo(component) }

// states are the pseudo-classes that a page knows of its elements: Selectors 4 and HTML, 4.16.3.
var states = map[string]func(*Element) bool{
	"root":              func(*Element) bool { return false },
	"empty":             func(el *Element) bool { return len(el.Children()) == 0 },
	"focus":             func(el *Element) bool { return el.page.Focus() == el },
	"focus-within":      func(el *Element) bool { f := el.page.Focus(); return f != nil && el.Contains(f) },
	"hover":             func(el *Element) bool { o := el.page.Over(); return o != nil && el.Contains(o) },
	"checked":           func(el *Element) bool { return el.Live().Checked || el.Tag() == "option" && el.optionChosen() },
	"indeterminate":     func(el *Element) bool { return el.Live().Indeterminate },
	"disabled":          (*Element).Disabled,
	"enabled":           func(el *Element) bool { return el.canDisable() && !el.Disabled() },
	"required":          func(el *Element) bool { return el.canRequire() && el.Has("required") },
	"optional":          func(el *Element) bool { return el.canRequire() && !el.Has("required") },
	"open":              func(el *Element) bool { return (el.Tag() == "details" || el.Tag() == "dialog") && el.Live().Open },
	"popover-open":      func(el *Element) bool { return el.popover() != "" && el.Live().Open },
	"modal":             func(el *Element) bool { return el.page.modal(el) },
	"placeholder-shown": func(el *Element) bool { return el.Has("placeholder") && el.Live().Value == "" },
	"any-link":          func(el *Element) bool { return (el.Tag() == "a" || el.Tag() == "area") && el.Has("href") },
	"link":              func(el *Element) bool { return (el.Tag() == "a" || el.Tag() == "area") && el.Has("href") },
}

// KnowsState says whether a page can tell a pseudo-class of its elements.
func KnowsState(name string) bool {
	switch name {
	case "is", "where", "not", "has", "host", "first-child", "last-child", "only-child", "first-of-type", "last-of-type", "only-of-type",
		"nth-child", "nth-last-child", "nth-of-type", "nth-last-of-type":
		return true
	}
	return states[name] != nil
}

func (s styled) State(name string) css.Truth {
	f := states[name]
	if f == nil {
		return css.Maybe
	}
	return known(f(s.Element))
}

func (el *Element) canDisable() bool {
	switch el.Tag() {
	case "button", "input", "select", "textarea", "fieldset", "option", "optgroup":
		return true
	}
	return false
}

func (el *Element) canRequire() bool {
	return el.Tag() == "input" || el.Tag() == "select" || el.Tag() == "textarea"
}

// optionChosen says whether an option is one that its select has chosen.
func (el *Element) optionChosen() bool {
	sel := el.Closest("select")
	return sel != nil && slices.Contains(sel.page.ChosenOptions(sel), el)
}

func (p *Page) modal(el *Element) bool {
	for l := range p.Layers {
		if l.Element == el {
			return l.Modal
		}
	}
	return false
}
