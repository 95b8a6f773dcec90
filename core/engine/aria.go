package engine

import (
	"strings"

	"lien/core/html"
)

// Roles and names are computed as WAI-ARIA 1.2, HTML-AAM 1.0 and the
// Accessible Name and Description Computation 1.2 give them.

// Role is the element's role: the first known one of its role attribute, or
// the one that the element has by itself; "" for none.
func (el *Element) Role() string {
	for _, r := range strings.Fields(el.attr("role")) {
		if html.IsRole(r) {
			return r
		}
	}
	return el.implicitRole()
}

var plainRoles = map[string]string{
	"address": "group", "article": "article", "aside": "complementary", "b": "generic", "blockquote": "blockquote",
	"button": "button", "caption": "caption", "code": "code", "datalist": "listbox", "dd": "definition", "del": "deletion",
	"details": "group", "dfn": "term", "dialog": "dialog", "div": "generic", "dt": "term", "em": "emphasis",
	"fieldset": "group", "figure": "figure", "form": "form", "h1": "heading", "h2": "heading", "h3": "heading",
	"h4": "heading", "h5": "heading", "h6": "heading", "hgroup": "group", "hr": "separator", "i": "generic",
	"ins": "insertion", "li": "listitem", "main": "main", "mark": "mark", "math": "math", "menu": "list", "meter": "meter",
	"nav": "navigation", "ol": "list", "optgroup": "group", "option": "option", "output": "status", "p": "paragraph",
	"pre": "generic", "progress": "progressbar", "q": "generic", "s": "deletion", "samp": "generic", "search": "search",
	"small": "generic", "span": "generic", "strong": "strong", "sub": "subscript", "summary": "button", "sup": "superscript",
	"svg": "image", "table": "table", "tbody": "rowgroup", "textarea": "textbox", "tfoot": "rowgroup", "thead": "rowgroup",
	"time": "time", "tr": "row", "u": "generic", "ul": "list",
}

var inputRoles = map[string]string{
	"button": "button", "submit": "button", "reset": "button", "image": "button", "checkbox": "checkbox", "radio": "radio",
	"range": "slider", "number": "spinbutton", "search": "searchbox", "hidden": "",
}

func (el *Element) implicitRole() string {
	switch tag := el.Tag(); tag {
	case "a", "area":
		if el.has("href") {
			return "link"
		}
		return "generic"
	case "footer":
		return el.landmark("contentinfo")
	case "header":
		return el.landmark("banner")
	case "img":
		if alt, ok := el.Attr("alt"); ok && alt == "" {
			return "presentation"
		}
		return "image"
	case "input":
		return el.inputRole()
	case "section":
		if el.has("aria-label") || el.has("aria-labelledby") {
			return "region"
		}
		return "generic"
	case "select":
		if el.has("multiple") || el.attr("size") > "1" {
			return "listbox"
		}
		return "combobox"
	case "td":
		return el.cell("cell", "gridcell")
	case "th":
		if el.attr("scope") == "row" || el.attr("scope") == "rowgroup" {
			return "rowheader"
		}
		return "columnheader"
	default:
		return plainRoles[tag]
	}
}

// inputRole: fields of types without a role of their own, such as password
// and date, are found as what people see: text boxes.
func (el *Element) inputRole() string {
	kind := el.attr("type")
	if kind == "checkbox" && el.has("aria-pressed") {
		return "button"
	}
	role, ok := inputRoles[kind]
	switch {
	case el.has("list") && (!ok || role == "searchbox"):
		return "combobox"
	case ok:
		return role
	}
	return "textbox"
}

// landmark: header and footer speak for the page only outside of parts of it.
func (el *Element) landmark(role string) string {
	for p := el.parent; p != nil; p = p.parent {
		switch p.Tag() {
		case "article", "aside", "main", "nav", "section":
			return "generic"
		}
	}
	return role
}

func (el *Element) cell(plain, grid string) string {
	for p := el.parent; p != nil; p = p.parent {
		if p.Tag() == "table" {
			if r := p.Role(); r == "grid" || r == "treegrid" {
				return grid
			}
			return plain
		}
	}
	return plain
}

// hidden says whether the element is kept from people: hidden, inert, in a
// closed details or dialog, or hidden from assistive technology.
func (e *Engine) hidden(el *Element) bool {
	if e.inert(el) {
		return true
	}
	for child, p := (*Element)(nil), el; p != nil; child, p = p, p.parent {
		if p.hides() || child != nil && p.Tag() == "details" && !p.live().open && child.Tag() != "summary" {
			return true
		}
	}
	return false
}

func (el *Element) hides() bool {
	switch el.Tag() {
	case "template", "datalist":
		return true
	case "dialog":
		if !el.live().open {
			return true
		}
	case "input":
		if el.attr("type") == "hidden" {
			return true
		}
	}
	return el.has("hidden") || el.has("inert") || el.attr("aria-hidden") == "true"
}

// collapse turns every run of white space into one space.
func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// Name is the element's accessible name.
func (e *Engine) Name(el *Element) string {
	n := naming{e: e, seen: map[*Element]bool{}}
	return collapse(n.name(el, false))
}

// naming computes one name; an element contributes once.
type naming struct {
	e    *Engine
	seen map[*Element]bool
	deep bool // following aria-labelledby
}

func (n *naming) name(el *Element, part bool) string {
	if n.seen[el] {
		return ""
	}
	n.seen[el] = true
	if ids := el.attr("aria-labelledby"); ids != "" && !n.deep {
		if s := n.byIDs(ids); s != "" {
			return s
		}
	}
	if part {
		if s, ok := n.embedded(el); ok {
			return s
		}
	}
	if s := collapse(el.attr("aria-label")); s != "" {
		return s
	}
	if s, ok := n.native(el); ok && collapse(s) != "" {
		return s
	}
	if html.NamedByContent(el.Role()) || part {
		if s := n.content(el); collapse(s) != "" {
			return s
		}
	}
	if s := el.attr("title"); s != "" {
		return s
	}
	return el.attr("placeholder")
}

// byIDs joins the names of the elements that aria-labelledby lists.
func (n *naming) byIDs(ids string) string {
	var parts []string
	for _, id := range strings.Fields(ids) {
		if o := n.e.byID(id); o != nil {
			inner := naming{e: n.e, seen: map[*Element]bool{}, deep: true}
			parts = append(parts, inner.name(o, true))
		}
	}
	return strings.Join(parts, " ")
}

func (e *Engine) byID(id string) *Element {
	var found *Element
	e.Elements(func(o *Element) bool {
		if o.attr("id") == id {
			found = o
		}
		return found == nil
	})
	return found
}

// embedded is what a control inside a name says: its value.
func (n *naming) embedded(el *Element) (string, bool) {
	switch el.Role() {
	case "textbox", "searchbox":
		if el.Tag() == "input" || el.Tag() == "textarea" {
			return el.LiveValue(), true
		}
	case "combobox", "listbox":
		if el.Tag() == "select" {
			if o := el.chosen(); o != nil {
				return n.content(o), true
			}
			return "", true
		}
	case "slider", "spinbutton", "progressbar", "meter":
		if v := el.attr("aria-valuetext"); v != "" {
			return v, true
		}
		if v := el.attr("aria-valuenow"); v != "" {
			return v, true
		}
		return el.LiveValue(), true
	}
	return "", false
}

// native is the name that HTML gives an element.
func (n *naming) native(el *Element) (string, bool) {
	switch el.Tag() {
	case "input":
		return n.inputName(el)
	case "textarea", "select", "meter", "progress", "output":
		return n.labels(el)
	case "button":
		if s, ok := n.labels(el); ok {
			return s, true
		}
	case "fieldset":
		return n.child(el, "legend")
	case "table":
		return n.child(el, "caption")
	case "figure":
		return n.child(el, "figcaption")
	case "details":
		return n.child(el, "summary")
	case "svg":
		return n.child(el, "title")
	case "img", "area":
		return el.Attr("alt")
	case "optgroup", "option":
		return el.Attr("label")
	}
	return "", false
}

func (n *naming) inputName(el *Element) (string, bool) {
	if s, ok := n.labels(el); ok {
		return s, true
	}
	switch kind := el.attr("type"); kind {
	case "button", "submit", "reset":
		if v, ok := el.Attr("value"); ok {
			return v, true
		}
		return map[string]string{"submit": "Submit", "reset": "Reset"}[kind], kind != "button"
	case "image":
		return el.Attr("alt")
	}
	return "", false
}

// labels joins the label elements of a control.
func (n *naming) labels(el *Element) (string, bool) {
	var parts []string
	for p := el.parent; p != nil; p = p.parent {
		if p.Tag() == "label" && !p.has("for") && n.e.labelled(p) == el {
			parts = append(parts, n.content(p))
			break
		}
	}
	if id := el.attr("id"); id != "" {
		n.e.Elements(func(o *Element) bool {
			if o.Tag() == "label" && o.attr("for") == id {
				parts = append(parts, n.content(o))
			}
			return true
		})
	}
	return strings.Join(parts, " "), len(parts) > 0
}

func (n *naming) child(el *Element, tag string) (string, bool) {
	for _, c := range el.Children() {
		if c.Element != nil && c.Element.Tag() == tag {
			return n.content(c.Element), true
		}
	}
	return "", false
}

// content is the text alternative of what an element contains.
func (n *naming) content(el *Element) string {
	var out strings.Builder
	for _, c := range el.Children() {
		switch {
		case c.Element == nil:
			out.WriteString(c.Text)
		case c.Element.hides() || n.seen[c.Element]:
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
	case "a", "abbr", "b", "bdi", "bdo", "cite", "code", "data", "dfn", "em", "i", "kbd", "label", "mark", "q", "s", "samp",
		"small", "span", "strong", "sub", "sup", "time", "u", "var", "wbr", "tspan":
		return true
	}
	return false
}

// States are the element's ARIA states that are set, in the order in which
// steps name them.
func (e *Engine) States(el *Element) []string {
	var list []string
	add := func(name string, on bool) {
		if on {
			list = append(list, name)
		}
	}
	checkable := el.Tag() == "input" && (el.attr("type") == "checkbox" || el.attr("type") == "radio")
	mixed := checkable && el.live().indeterminate || el.attr("aria-checked") == "mixed"
	add("checked", !mixed && (checkable && el.live().checked || el.attr("aria-checked") == "true"))
	add("mixed", mixed)
	add("pressed", el.attr("aria-pressed") == "true")
	expanded, known := el.expanded()
	add("expanded", known && expanded)
	add("collapsed", known && !expanded)
	add("selected", el.attr("aria-selected") == "true" || el.Tag() == "option" && el.isChosen())
	disabled := el.disabled() || el.attr("aria-disabled") == "true"
	add("disabled", disabled)
	add("focused", e.focus == el)
	current, ok := el.Attr("aria-current")
	add("current", ok && current != "false")
	invalid, ok := el.Attr("aria-invalid")
	add("invalid", ok && invalid != "false")
	return list
}

func (el *Element) expanded() (bool, bool) {
	if v, ok := el.Attr("aria-expanded"); ok {
		return v == "true", true
	}
	if el.Tag() == "summary" && el.parent != nil && el.parent.Tag() == "details" {
		return el.parent.live().open, true
	}
	return false, false
}

func (el *Element) isChosen() bool {
	for p := el.parent; p != nil; p = p.parent {
		if p.Tag() == "select" {
			return p.chosen() == el
		}
	}
	return false
}

// IsHidden says whether people cannot find the element on the page.
func (e *Engine) IsHidden(el *Element) bool { return e.hidden(el) }

// IsDisabled says whether HTML keeps events from the element.
func (el *Element) IsDisabled() bool { return el.disabled() }

// IsIn says whether el stands in outer.
func (el *Element) IsIn(outer *Element) bool { return outer.contains(el) && outer != el }

// Text is what the element shows, with white space collapsed.
func (e *Engine) Text(el *Element) string {
	var out strings.Builder
	e.writeText(&out, el.Children())
	return collapse(out.String())
}

// PageText is what the whole page shows.
func (e *Engine) PageText() string {
	var out strings.Builder
	e.writeText(&out, e.Page())
	return collapse(out.String())
}

func (e *Engine) writeText(out *strings.Builder, nodes []Node) {
	for _, n := range nodes {
		switch {
		case n.Element == nil:
			out.WriteString(n.Text)
		case n.Element.hides():
		case n.Element.Tag() == "details" && !n.Element.live().open:
			for _, c := range n.Element.Children() {
				if c.Element != nil && c.Element.Tag() == "summary" {
					e.writeText(out, []Node{c})
				}
			}
		case isInline(n.Element.Tag()):
			e.writeText(out, n.Element.Children())
		default:
			out.WriteByte(' ')
			e.writeText(out, n.Element.Children())
			out.WriteByte(' ')
		}
	}
}
