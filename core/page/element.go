package page

import (
	"strconv"
	"strings"
)

// Source is what an element is written as, and what it contains now.
type Source interface {
	Tag() string
	// Attr is an attribute as the page has it, and whether it is there.
	Attr(name string) (string, bool)
	// Children are what the element contains, in order.
	Children() []Node
	// Gone says whether the element is no longer on the page.
	Gone() bool
	// Watch is told that the properties of the element are read.
	Watch()
	// WrittenBy says whether a component writes the element, so that its styles reach it; and GivenTo whether it stands
	// at the top of what a component is given for a slot.
	WrittenBy(component string) bool
	GivenTo(component string) bool
}

// Node is an element or, with Element nil, a text.
type Node struct {
	Element *Element
	Text    string
}

// Element is an element of a page.
type Element struct {
	Source
	Up     *Element // the element around it; nil for the body
	Traits Traits   // attributes that it may have
	page   *Page
	props  Props
}

// Traits are attributes that an element may have: those that decide whether it is there for its
// user. An element without one of them is not asked for it.
type Traits uint16

// The traits.
const (
	Hides Traits = 1 << iota // hidden
	Inerts
	Styles
	Pops  // popover
	Veils // aria-hidden
	Tabs  // tabindex
	Edits // contenteditable
	Disables
	AllTraits Traits = 1<<iota - 1
)

var traits = map[string]Traits{"hidden": Hides, "inert": Inerts, "style": Styles, "popover": Pops, "aria-hidden": Veils,
	"tabindex": Tabs, "contenteditable": Edits, "disabled": Disables}

// TraitOf is the trait of an attribute, or 0.
func TraitOf(attribute string) Traits { return traits[attribute] }

// Props are the properties of an element that its user can change.
type Props struct {
	Value         string // that a field holds; the text of what is edited in place
	Held          *Held  // what is seldom held beside it; nil: nothing
	From, To      int32  // what is selected in it, in UTF-16 units; equal: the caret
	Checked       bool
	Indeterminate bool
	Open          bool // of details and dialogs; of an element with popover: shown
	Dirty         bool // its value is its user's, or was set by the program
	Typed         bool // the last change of its value was its user's
	Edited        bool // typed into since change was last reported
	Touched       bool // changed by its user, or left
	Visited       bool // of its group of radio buttons the one that had the focus last
}

// Held is what few fields hold. It is not changed once it is made.
type Held struct {
	Was    string // what the field held when change was last reported, or would have been
	Custom string // the message of setCustomValidity
}

// held is what is seldom held.
func (p Props) held() Held {
	if p.Held == nil {
		return Held{}
	}
	return *p.Held
}

// Custom is the message of setCustomValidity.
func (p Props) Custom() string { return p.held().Custom }

// Was is what a field that is edited held when change was last reported.
func (p Props) Was() string { return p.held().Was }

// hold are the properties with what is seldom held.
func (p Props) hold(h Held) Props {
	if h == p.held() {
		return p
	}
	p.Held = &h
	if h == (Held{}) {
		p.Held = nil
	}
	return p
}

// WithCustom are the properties with a message of setCustomValidity.
func (p Props) WithCustom(message string) Props {
	h := p.held()
	h.Custom = message
	return p.hold(h)
}

// Init puts an element on a page, with its first properties.
func (el *Element) Init(p *Page, s Source, up *Element, t Traits, props Props) {
	*el = Element{Source: s, Up: up, Traits: t, page: p, props: props}
}

// Live are the properties as they are.
func (el *Element) Live() Props {
	el.Watch()
	return el.props
}

// Props are the properties as they were last set.
func (el *Element) Props() Props { return el.props }

// Restore sets the properties without telling the host.
func (el *Element) Restore(p Props) { el.props = p }

// Set sets the properties of an element, as the program does.
func (p *Page) Set(el *Element, props Props) { p.put(el, props) }

// Get is an attribute, or "" where there is none.
func (el *Element) Get(name string) string {
	v, _ := el.Attr(name)
	return v
}

// Has says whether an attribute is there.
func (el *Element) Has(name string) bool {
	_, ok := el.Attr(name)
	return ok
}

// is compares an attribute with a keyword, as HTML does: without regard to case.
func (el *Element) is(name, keyword string) bool {
	v, ok := el.Attr(name)
	return ok && strings.EqualFold(v, keyword)
}

// InputType is the type of an input in small letters: "text" where it has none that is known, "" for
// other elements (HTML, 4.10.5).
func (el *Element) InputType() string {
	if el.Tag() != "input" {
		return ""
	}
	v, ok := el.Attr("type")
	if !ok {
		return "text"
	}
	switch v = strings.ToLower(v); v { // which copies nothing where all letters are small
	case "text", "checkbox", "radio", "number", "range", "submit", "button", "reset", "search", "email", "url", "tel", "password",
		"date", "time", "month", "week", "datetime-local", "color", "file", "hidden", "image":
		return v
	}
	return "text"
}

// Contains says whether other stands in el, or is it.
func (el *Element) Contains(other *Element) bool {
	for ; other != nil; other = other.Up {
		if other == el {
			return true
		}
	}
	return false
}

// Closest is the nearest element with a tag, from el on outwards, or nil.
func (el *Element) Closest(tag string) *Element {
	for ; el != nil; el = el.Up {
		if el.Tag() == tag {
			return el
		}
	}
	return nil
}

// First is the first child with a tag, or nil.
func (el *Element) First(tag string) *Element {
	for _, c := range el.Children() {
		if c.Element != nil && c.Element.Tag() == tag {
			return c.Element
		}
	}
	return nil
}

// Within visits the elements in el in tree order, until visit says false.
func (el *Element) Within(visit func(*Element) bool) bool {
	for _, c := range el.Children() {
		if c.Element != nil && (!visit(c.Element) || !c.Element.Within(visit)) {
			return false
		}
	}
	return true
}

// Elements visits the elements of the page in tree order, until visit says false.
func (p *Page) Elements(visit func(*Element) bool) { p.host.Elements(visit) }

// ByID is the first element with an id, or nil.
func (p *Page) ByID(id string) (found *Element) {
	if id == "" {
		return nil
	}
	p.Elements(func(el *Element) bool {
		if el.Get("id") == id {
			found = el
		}
		return found == nil
	})
	return found
}

// Content is the text in an element, all of it (DOM, textContent).
func (el *Element) Content() string {
	if el.Traits&Edits != 0 && el.Editable() && el.Live().Dirty {
		return el.props.Value
	}
	var out strings.Builder
	for _, c := range el.Children() {
		if c.Element == nil {
			out.WriteString(c.Text)
		} else {
			out.WriteString(c.Element.Content())
		}
	}
	return out.String()
}

// bodySource is the body of a page.
type bodySource struct{ h Host }

func (b bodySource) Tag() string                { return "body" }
func (b bodySource) Attr(string) (string, bool) { return "", false }
func (b bodySource) Gone() bool                 { return false }
func (b bodySource) Watch()                     {}
func (b bodySource) WrittenBy(string) bool      { return false }
func (b bodySource) GivenTo(string) bool        { return false }

func (b bodySource) Children() []Node { return b.h.Contents() }

// tabindex is the number of a tabindex that is one.
func (el *Element) tabindex() (int, bool) {
	if el.Traits&Tabs == 0 {
		return 0, false
	}
	v, ok := el.Attr("tabindex")
	if !ok {
		return 0, false
	}
	n, err := strconv.Atoi(strings.TrimSpace(v))
	return n, err == nil
}
