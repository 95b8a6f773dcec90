// Package aria tells what assistive technology is told of a page: roles, names, descriptions and
// states, as WAI-ARIA 1.2, HTML-AAM 1.0 and the Accessible Name and Description Computation 1.2
// give them. It reads pages of any source: simulated ones and snapshots of real ones.
package aria

import (
	"strings"

	"lien/core/html"
	"lien/core/page"
)

// Role is the element's role: the first known one of its role attribute, or the one that the
// element has by itself; "" for none. What has the focus, or could have it, cannot be taken for
// presentation (WAI-ARIA, 7.3.1, conflict resolution).
func Role(el *page.Element) string {
	for _, r := range strings.Fields(el.Get("role")) {
		r = strings.ToLower(r)
		if !html.IsRole(r) {
			continue
		}
		if (r == "none" || r == "presentation") && conflicts(el) {
			break
		}
		if same := synonyms[r]; same != "" {
			r = same
		}
		if needsName(r) && !named(el) {
			continue
		}
		return r
	}
	return implicit(el)
}

// Is says whether an element has a role, under any of its names.
func Is(el *page.Element, role string) bool {
	if same := synonyms[role]; same != "" {
		role = same
	}
	return Role(el) == role
}

// synonyms are the roles that WAI-ARIA has under two names.
var synonyms = map[string]string{"img": "image", "presentation": "none"}

// conflicts says whether an element cannot be presentational: it can have the focus, or a
// global attribute tells something of it.
func conflicts(el *page.Element) bool {
	if el.TakesFocus() && !el.Disabled() {
		return true
	}
	for _, a := range []string{"aria-label", "aria-labelledby", "aria-describedby", "aria-description", "aria-controls", "aria-owns", "aria-live",
		"aria-atomic", "aria-busy", "aria-current", "aria-details", "aria-flowto", "aria-keyshortcuts", "aria-relevant", "aria-roledescription", "aria-braillelabel"} {
		if el.Get(a) != "" {
			return true
		}
	}
	return false
}

// needsName are roles of landmarks that an element has only under a name.
func needsName(role string) bool { return role == "region" || role == "form" }

// named says whether the element has a name of its own.
func named(el *page.Element) bool {
	return strings.TrimSpace(el.Get("aria-label")) != "" || strings.TrimSpace(el.Get("aria-labelledby")) != "" || strings.TrimSpace(el.Get("title")) != ""
}

var plainRoles = map[string]string{
	"address": "group", "article": "article", "b": "generic", "blockquote": "blockquote", "body": "generic",
	"button": "button", "caption": "caption", "code": "code", "datalist": "listbox", "dd": "definition", "del": "deletion",
	"details": "group", "dfn": "term", "dialog": "dialog", "div": "generic", "dt": "term", "em": "emphasis",
	"fieldset": "group", "figure": "figure", "h1": "heading", "h2": "heading", "h3": "heading",
	"h4": "heading", "h5": "heading", "h6": "heading", "hgroup": "group", "hr": "separator", "i": "generic",
	"ins": "insertion", "main": "main", "mark": "mark", "math": "math", "menu": "list", "meter": "meter",
	"nav": "navigation", "ol": "list", "optgroup": "group", "option": "option", "output": "status", "p": "paragraph",
	"pre": "generic", "progress": "progressbar", "q": "generic", "s": "deletion", "samp": "generic", "search": "search",
	"small": "generic", "span": "generic", "strong": "strong", "sub": "subscript", "sup": "superscript",
	"svg": "image", "table": "table", "textarea": "textbox", "time": "time", "u": "generic", "ul": "list",
}

var inputRoles = map[string]string{
	"button": "button", "submit": "button", "reset": "button", "image": "button", "checkbox": "checkbox", "radio": "radio",
	"range": "slider", "number": "spinbutton", "search": "searchbox", "hidden": "", "file": "button",
}

// implicit is the role that HTML-AAM gives an element.
func implicit(el *page.Element) string {
	switch tag := el.Tag(); tag {
	case "a", "area":
		if el.Has("href") {
			return "link"
		}
		return "generic"
	case "aside":
		if sectioned(el.Up) && !named(el) {
			return "generic"
		}
		return "complementary"
	case "footer":
		return landmark(el, "contentinfo", "sectionfooter")
	case "header":
		return landmark(el, "banner", "sectionheader")
	case "form":
		return "form"
	case "img":
		return imageRole(el)
	case "input":
		return inputRole(el)
	case "li":
		return itemRole(el)
	case "section":
		if named(el) {
			return "region"
		}
		return "generic"
	case "select":
		if el.Lines() > 1 {
			return "listbox"
		}
		return "combobox"
	case "summary":
		if el.TakesFocus() {
			return "button"
		}
		return "generic"
	case "tbody", "thead", "tfoot":
		if _, ok := tableOf(el); ok {
			return "rowgroup"
		}
		return "generic"
	case "tr":
		if _, ok := tableOf(el); ok {
			return "row"
		}
		return "generic"
	case "td":
		return cell(el)
	case "th":
		return header(el)
	default:
		return plainRoles[tag]
	}
}

// itemRole: what stands in a list is an item, unless the list is there for its looks.
func itemRole(el *page.Element) string {
	if el.Up == nil {
		return "generic"
	}
	switch el.Up.Tag() {
	case "ul", "ol", "menu":
	default:
		return "generic"
	}
	switch Role(el.Up) {
	case "list":
		return "listitem"
	case "none":
		return "none"
	}
	return "generic"
}

// imageRole: an image without anything to say is decoration.
func imageRole(el *page.Element) string {
	if alt, ok := el.Attr("alt"); ok && alt == "" && !named(el) && !conflicts(el) {
		return "none"
	}
	return "image"
}

// inputRole: fields of types without a role of their own, such as password and date, are found as
// what people see: text boxes.
func inputRole(el *page.Element) string {
	kind := el.InputType()
	if kind == "checkbox" && el.Has("aria-pressed") {
		return "button"
	}
	role, ok := inputRoles[kind]
	switch {
	case el.Has("list") && (kind == "text" || kind == "search" || kind == "email" || kind == "url" || kind == "tel"):
		return "combobox"
	case ok:
		return role
	}
	return "textbox"
}

// sectioned says whether an element stands in a part of the page that has its own header, footer
// and asides.
func sectioned(el *page.Element) bool {
	for ; el != nil; el = el.Up {
		switch el.Tag() {
		case "article", "aside", "main", "nav", "section":
			return true
		}
	}
	return false
}

// landmark: header and footer speak for the page only outside of parts of it, and else for those.
func landmark(el *page.Element, role, inside string) string {
	for p := el.Up; p != nil; p = p.Up {
		switch p.Tag() {
		case "article", "aside", "main", "nav", "section":
			return inside
		}
		switch p.Get("role") {
		case "article", "complementary", "main", "navigation", "region":
			return inside
		}
	}
	return role
}

// tableOf is the role of the table that a part of one stands in; false: it stands in none, or in
// one that is there for its looks.
func tableOf(el *page.Element) (role string, ok bool) {
	for p := el.Up; p != nil; p = p.Up {
		if p.Tag() == "table" {
			role = Role(p)
			return role, role == "table" || role == "grid" || role == "treegrid"
		}
	}
	return "", false
}

func cell(el *page.Element) string {
	switch role, ok := tableOf(el); {
	case !ok:
		return "generic"
	case role == "table":
		return "cell"
	}
	return "gridcell"
}

// header: a th heads its row or its column, as scope says or its neighbours show.
func header(el *page.Element) string {
	if _, ok := tableOf(el); !ok {
		return "generic"
	}
	switch strings.ToLower(el.Get("scope")) {
	case "row", "rowgroup":
		return "rowheader"
	case "col", "colgroup":
		return "columnheader"
	}
	for _, n := range el.Up.Children() {
		if n.Element != nil && n.Element.Tag() == "td" {
			return "rowheader"
		}
	}
	return "columnheader"
}
