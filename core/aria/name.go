package aria

import (
	"strings"

	"lien/core/html"
	"lien/core/page"
)

// collapse turns every run of white space into one space.
func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// Name is the accessible name of an element.
func Name(p *page.Page, el *page.Element) string {
	n := naming{page: p, of: el, seen: map[*page.Element]bool{}}
	return collapse(n.name(el, false))
}

// Description is the accessible description of an element: what aria-describedby names,
// aria-description, or a title that is not its name already.
func Description(p *page.Page, el *page.Element) string {
	n := naming{page: p, seen: map[*page.Element]bool{}}
	if ids := el.Get("aria-describedby"); ids != "" {
		if s := collapse(n.byIDs(ids)); s != "" {
			return s
		}
	}
	if s := collapse(el.Get("aria-description")); s != "" {
		return s
	}
	if s := collapse(el.Get("title")); s != Name(p, el) {
		return s
	}
	return ""
}

// naming computes one name; an element contributes once.
type naming struct {
	page *page.Page
	of   *page.Element // whose name it is
	seen map[*page.Element]bool
	deep bool // following aria-labelledby
	veil bool // what is hidden counts, since it was named
}

func (n *naming) name(el *page.Element, part bool) string {
	if n.seen[el] {
		return ""
	}
	n.seen[el] = true
	if ids := el.Get("aria-labelledby"); ids != "" && !n.deep {
		if s := n.byIDs(ids); collapse(s) != "" {
			return s
		}
	}
	if part && el != n.of { // a control within the name of another one
		if s, ok := n.embedded(el); ok {
			return s
		}
	}
	if s := collapse(el.Get("aria-label")); s != "" {
		return s
	}
	role := Role(el)
	if role != "none" {
		if s, ok := n.native(el); ok && (collapse(s) != "" || el.Tag() == "img") {
			return s
		}
	}
	if html.NamedByContent(role) && !nameless(el) || part {
		if s := n.content(el); collapse(s) != "" {
			return s
		}
	}
	if s := el.Get("title"); collapse(s) != "" {
		return s
	}
	switch el.Tag() {
	case "input", "textarea":
		if s := el.Get("placeholder"); s != "" {
			return s
		}
		return el.Get("aria-placeholder")
	}
	return ""
}

// nameless are elements whose content is not their name, though their role may be named so.
func nameless(el *page.Element) bool {
	switch el.Tag() {
	case "input", "select", "textarea", "meter", "progress":
		return true
	}
	return false
}

// byIDs joins the names of the elements that are listed. What is hidden counts if it is named itself.
func (n *naming) byIDs(ids string) string {
	var parts []string
	for _, id := range strings.Fields(ids) {
		if o := n.page.ByID(id); o != nil {
			inner := naming{page: n.page, of: n.of, seen: map[*page.Element]bool{}, deep: true, veil: Hidden(o)}
			parts = append(parts, inner.name(o, true))
		}
	}
	return strings.Join(parts, " ")
}

// embedded is what a control inside a name says: its value.
func (n *naming) embedded(el *page.Element) (string, bool) {
	switch Role(el) {
	case "textbox", "searchbox":
		if el.Tag() == "input" || el.Tag() == "textarea" {
			return n.page.Value(el), true
		}
	case "combobox", "listbox":
		if el.Tag() == "select" {
			var list []string
			for _, o := range n.page.ChosenOptions(el) {
				list = append(list, o.Label())
			}
			return strings.Join(list, " "), true
		}
		if el.Tag() == "input" {
			return n.page.Value(el), true
		}
	case "slider", "spinbutton", "progressbar", "meter":
		if v := el.Get("aria-valuetext"); v != "" {
			return v, true
		}
		if v := el.Get("aria-valuenow"); v != "" {
			return v, true
		}
		return n.page.Value(el), true
	}
	return "", false
}

// native is the name that HTML gives an element (HTML-AAM, 4.1).
func (n *naming) native(el *page.Element) (string, bool) {
	switch el.Tag() {
	case "input":
		return n.inputName(el)
	case "textarea", "select", "meter", "progress", "output":
		return n.labels(el)
	case "button":
		return n.labels(el)
	case "fieldset":
		return n.child(el, "legend")
	case "table":
		return n.child(el, "caption")
	case "figure":
		return n.child(el, "figcaption")
	case "details":
		return "", false
	case "svg":
		return n.child(el, "title")
	case "img", "area":
		return el.Attr("alt")
	case "optgroup":
		return el.Attr("label")
	case "option":
		return el.Attr("label")
	}
	return "", false
}

func (n *naming) inputName(el *page.Element) (string, bool) {
	if s, ok := n.labels(el); ok {
		return s, true
	}
	switch kind := el.InputType(); kind {
	case "button", "submit", "reset":
		if v, ok := el.Attr("value"); ok {
			return v, true
		}
		return map[string]string{"submit": "Submit", "reset": "Reset"}[kind], kind != "button"
	case "image":
		if v, ok := el.Attr("alt"); ok {
			return v, true
		}
		if el.Has("title") {
			return "", false
		}
		return "Submit", true
	}
	return "", false
}

// labels joins the label elements of a control. Hidden ones say nothing.
func (n *naming) labels(el *page.Element) (string, bool) {
	var parts []string
	for _, l := range n.page.Labels(el) {
		if !Hidden(l) || n.veil {
			parts = append(parts, n.content(l))
		}
	}
	return strings.Join(parts, " "), len(parts) > 0
}

func (n *naming) child(el *page.Element, tag string) (string, bool) {
	if c := el.First(tag); c != nil && !(hides(c) && !n.veil) {
		return n.content(c), true
	}
	return "", false
}

// content is the text alternative of what an element contains.
func (n *naming) content(el *page.Element) string {
	var out strings.Builder
	for _, c := range el.Children() {
		switch {
		case c.Element == nil:
			out.WriteString(c.Text)
		case hides(c.Element) && !n.veil || n.seen[c.Element]:
		case el.Tag() == "details" && !el.Live().Open && c.Element.Tag() != "summary":
		case Role(c.Element) == "group" && Role(el) == "treeitem":
		case isInline(c.Element.Tag()):
			out.WriteString(n.name(c.Element, true))
		default:
			out.WriteString(" " + n.name(c.Element, true) + " ")
		}
	}
	return out.String()
}

func isInline(tag string) bool {
	switch tag {
	case "a", "abbr", "b", "bdi", "bdo", "cite", "code", "data", "del", "dfn", "em", "i", "ins", "kbd", "label", "mark", "q", "s", "samp",
		"small", "span", "strong", "sub", "sup", "time", "u", "var", "wbr", "tspan":
		return true
	}
	return false
}
