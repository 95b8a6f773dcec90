package page

import (
	"strings"
	"sync"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// What of a page is there for its user: rendered, not inert, not disabled.

// Disabled says whether a control is disabled: it is itself, or it stands in a disabled fieldset
// outside of its first legend; an option in a disabled group (HTML, 4.10.18.5 and 4.10.10).
func (el *Element) Disabled() bool {
	switch el.Tag() {
	case "option":
		if el.Traits&Disables != 0 && el.Has("disabled") {
			return true
		}
		return el.Up != nil && el.Up.Tag() == "optgroup" && el.Up.Has("disabled")
	case "optgroup":
		return el.Has("disabled")
	case "button", "input", "select", "textarea", "fieldset":
	default:
		return false
	}
	if el.Traits&Disables != 0 && el.Has("disabled") {
		return true
	}
	for child, p := el, el.Up; p != nil; child, p = p, p.Up {
		if p.Traits&Disables != 0 && p.Tag() == "fieldset" && p.Has("disabled") && !(child.Tag() == "legend" && p.First("legend") == child) {
			return true
		}
	}
	return false
}

// Rendered says whether the element has a box, as far as markup and inline styles tell: it is not
// hidden, nor in a closed dialog, popover or details, nor in what is never shown.
func (el *Element) Rendered() bool {
	for child, p := (*Element)(nil), el; p != nil; child, p = p, p.Up {
		if p.boxless() || child != nil && p.Tag() == "details" && !p.Live().Open && !p.summarised(child) {
			return false
		}
	}
	return !el.invisible()
}

// Hides says whether the element itself keeps it and what is in it from its user.
func (el *Element) Hides() bool {
	return el.boxless() || el.Traits&Inerts != 0 && el.Has("inert") || el.said("visibility") == "hidden"
}

// boxless says whether the element itself keeps it and what is in it from being rendered.
func (el *Element) boxless() bool {
	switch el.Tag() {
	case "template", "datalist", "script", "style", "head", "noscript", "title", "param", "source", "track", "area":
		return el.Tag() != "area" && (el.Up == nil || el.Up.Tag() != "svg")
	case "dialog":
		if d := el.said("display"); !el.Live().Open || d == "none" {
			return d == "none" || d == ""
		}
	case "input":
		if el.InputType() == "hidden" {
			return true
		}
	}
	if el.Traits&(Hides|Styles|Pops) == 0 && !el.page.Styles.Any() {
		return false
	}
	switch el.said("display") {
	case "none":
		return true
	case "":
		return el.Traits&Hides != 0 && el.Has("hidden") || el.popover() != "" && !el.Live().Open
	}
	return false // what HTML hides is shown
}

// summarised says whether a child of a details is its summary.
func (el *Element) summarised(child *Element) bool {
	return child.Tag() == "summary" && el.First("summary") == child
}

// invisible says whether the nearest style that tells says so.
func (el *Element) invisible() bool {
	for ; el != nil; el = el.Up {
		switch el.said("visibility") {
		case "hidden", "collapse":
			return true
		case "", "inherit", "unset":
		default:
			return false
		}
	}
	return false
}

// Inert says whether the element is kept from its user: by inert, or by a modal dialog (HTML, 6.3).
func (el *Element) Inert() bool {
	modal := el.page.Modal()
	for p := el; p != nil; p = p.Up {
		if p == modal {
			return p.Traits&Inerts != 0 && p.Has("inert")
		}
		if p.Traits&Inerts != 0 && p.Has("inert") {
			return true
		}
	}
	return modal != nil && el != el.page.Body && !el.above(modal)
}

// above says whether the element stands in a layer that is over a modal one.
func (el *Element) above(modal *Element) bool {
	for l := range el.page.Layers {
		if l.Element == modal {
			break
		}
		if l.Element.Contains(el) {
			return true
		}
	}
	return false
}

// Modal is the modal dialog on top, or nil.
func (p *Page) Modal() *Element {
	for l := range p.Layers {
		if l.Modal {
			return l.Element
		}
	}
	return nil
}

// Usable says whether a mouse can reach the element.
func (el *Element) Usable() bool { return !el.Gone() && el.Rendered() && !el.Inert() }

// style is what an inline style says of a property, in small letters, and whether it is important.
func (el *Element) style(property string) (value string, important bool) {
	text, ok := el.Attr("style")
	if !ok {
		return "", false
	}
	return strings.CutSuffix(declared(text)[property], " !important")
}

var (
	declarations = map[string]map[string]string{}
	declaring    sync.Mutex
)

// declared are the declarations of an inline style (CSS Style Attributes); important ones end so.
func declared(text string) map[string]string {
	declaring.Lock()
	defer declaring.Unlock()
	if m, ok := declarations[text]; ok {
		return m
	}
	m := map[string]string{}
	parser := css.NewParser(parse.NewInputString(text), true)
	for {
		kind, _, name := parser.Next()
		if kind == css.ErrorGrammar {
			if parser.Err() != nil {
				break
			}
			continue
		}
		if kind != css.DeclarationGrammar {
			continue
		}
		var v strings.Builder
		for _, t := range parser.Values() {
			v.Write(t.Data)
		}
		value := strings.ToLower(strings.TrimSpace(v.String()))
		plain, important := strings.CutSuffix(value, "important")
		if plain = strings.TrimSpace(plain); important && strings.HasSuffix(plain, "!") {
			value = strings.TrimSpace(strings.TrimSuffix(plain, "!")) + " !important"
		}
		if name := strings.ToLower(string(name)); !strings.HasSuffix(m[name], "!important") || strings.HasSuffix(value, "!important") {
			m[name] = value
		}
	}
	if len(declarations) > 10_000 {
		clear(declarations)
	}
	declarations[text] = m
	return m
}
