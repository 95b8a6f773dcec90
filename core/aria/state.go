package aria

import (
	"strings"

	"lien/core/page"
)

// Hidden says whether assistive technology does not find the element: it is not rendered, inert,
// or veiled by aria-hidden.
func Hidden(el *page.Element) bool {
	return !el.Rendered() || el.Inert() || veiled(el)
}

func veiled(el *page.Element) bool {
	for ; el != nil; el = el.Up {
		if el.Traits&page.Veils != 0 && el.Get("aria-hidden") == "true" {
			return true
		}
	}
	return false
}

// hides says whether the element itself keeps people from what is in it.
func hides(el *page.Element) bool {
	return el.Hides() || el.Traits&page.Veils != 0 && el.Get("aria-hidden") == "true"
}

// States are the element's states that are set, in the order in which steps name them.
func States(p *page.Page, el *page.Element) []string {
	var list []string
	add := func(name string, on bool) {
		if on {
			list = append(list, name)
		}
	}
	props := el.Live()
	kind := el.InputType()
	checkable := kind == "checkbox" || kind == "radio"
	mixed := checkable && props.Indeterminate || !checkable && el.Get("aria-checked") == "mixed"
	add("checked", !mixed && (checkable && props.Checked || !checkable && el.Get("aria-checked") == "true"))
	add("mixed", mixed)
	add("pressed", el.Get("aria-pressed") == "true")
	expanded, known := Expanded(p, el)
	add("expanded", known && expanded)
	add("collapsed", known && !expanded)
	add("selected", el.Get("aria-selected") == "true" || el.Tag() == "option" && Selected(p, el))
	add("disabled", el.Disabled() || el.Get("aria-disabled") == "true")
	add("focused", p.Focus() == el)
	add("current", set(el, "aria-current"))
	add("invalid", invalid(p, el))
	return list
}

// set says whether an attribute of a token has a value other than false.
func set(el *page.Element, name string) bool {
	v := el.Get(name)
	return v != "" && v != "false"
}

// invalid: aria-invalid says so, or the value of a field does not fulfil its constraints (HTML-AAM,
// the attributes of constraint validation).
func invalid(p *page.Page, el *page.Element) bool {
	if el.Has("aria-invalid") {
		return set(el, "aria-invalid")
	}
	switch el.Tag() {
	case "input", "textarea", "select":
		return !p.Valid(el)
	}
	return false
}

// Expanded says whether something that opens and closes is open, and whether the element is such.
func Expanded(p *page.Page, el *page.Element) (open, known bool) {
	if v, ok := el.Attr("aria-expanded"); ok && v != "" {
		return v == "true", true
	}
	if el.Tag() == "summary" && el.TakesFocus() {
		return el.Up.Live().Open, true
	}
	if id, ok := el.Attr("popovertarget"); ok && el.Tag() == "button" {
		if o := p.ByID(id); o != nil && o.IsPopover() {
			return o.Live().Open, true
		}
	}
	return false, false
}

// Selected says whether an option of a select is chosen.
func Selected(p *page.Page, el *page.Element) bool {
	s := el.Closest("select")
	if s == nil {
		return false
	}
	for _, o := range p.ChosenOptions(s) {
		if o == el {
			return true
		}
	}
	return false
}

// Text is what an element shows, with white space collapsed.
func Text(el *page.Element) string {
	var out strings.Builder
	writeText(&out, el, el.Children())
	return collapse(out.String())
}

func writeText(out *strings.Builder, in *page.Element, nodes []page.Node) {
	if in != nil && in.Editable() && in.Live().Dirty {
		out.WriteString(in.Content())
		return
	}
	closed := in != nil && in.Tag() == "details" && !in.Live().Open
	for _, n := range nodes {
		switch {
		case n.Element == nil:
			if !closed {
				out.WriteString(n.Text)
			}
		case hides(n.Element), closed && n.Element != in.First("summary"):
		case isInline(n.Element.Tag()):
			writeText(out, n.Element, n.Element.Children())
		default:
			out.WriteByte(' ')
			writeText(out, n.Element, n.Element.Children())
			out.WriteByte(' ')
		}
	}
}
