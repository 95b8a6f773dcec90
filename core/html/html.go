// Package html holds what the standards say of elements: which there are,
// their attributes and events (HTML Living Standard, DOM, UI Events), and
// their implicit roles (HTML-AAM).
package html

import "strings"

func set(words string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(words) {
		m[w] = true
	}
	return m
}

const elementNames = `a abbr address area article aside audio b bdi bdo blockquote br button canvas caption cite code col
colgroup data datalist dd del details dfn dialog div dl dt em embed fieldset figcaption figure footer form h1 h2 h3 h4 h5
h6 header hgroup hr i iframe img input ins kbd label legend li link main map mark menu meta meter nav noscript object ol
optgroup option output p picture pre progress q rp rt ruby s samp search section select small source span strong style
sub summary sup table tbody td template textarea tfoot th thead time tr track u ul var video wbr
svg g path circle rect line polyline polygon ellipse text tspan defs use title desc`

const voidNames = `area br col embed hr img input link meta source track wbr`

const attributeNames = `accept accept-charset accesskey action allow alt as async autocapitalize autocomplete autofocus
autoplay charset checked cite class color cols colspan content contenteditable controls coords data datetime decoding
default defer dir dirname disabled download draggable enctype enterkeyhint for form formaction formmethod formnovalidate
headers height hidden high href hreflang id indeterminate inert inputmode is ismap itemid itemprop kind label lang list loading loop low
max maxlength media method min minlength multiple muted name novalidate open optimum pattern placeholder popover popovertarget popovertargetaction closedby command commandfor poster
preload readonly rel required reversed role rows rowspan scope selected shape size sizes slot span spellcheck src srcset
start step style tabindex target title translate type value width wrap
viewBox d cx cy r rx ry x y x1 y1 x2 y2 points fill stroke stroke-width transform`

const eventNames = `click dblclick auxclick contextmenu mousedown mouseup mousemove mouseover mouseout mouseenter mouseleave
wheel keydown keyup keypress input change beforeinput focus blur focusin focusout submit reset invalid select toggle beforetoggle
close cancel scroll scrollend pointerdown pointerup pointermove pointerenter pointerleave pointerover pointerout
pointercancel touchstart touchend touchmove touchcancel drag dragstart dragend dragenter dragleave dragover drop copy cut
paste load error play pause ended timeupdate volumechange animationstart animationend transitionend outside`

var (
	elements   = set(elementNames)
	voids      = set(voidNames)
	attributes = set(attributeNames)
	events     = set(eventNames)
)

// IsElement says whether the standard knows an element of this name.
func IsElement(name string) bool { return elements[name] }

// Elements lists the element names.
func Elements() []string { return strings.Fields(elementNames) }

// IsVoid says whether an element can have no content.
func IsVoid(name string) bool { return voids[name] }

// IsAttribute says whether name is an attribute of HTML or ARIA, or a data-* one.
func IsAttribute(name string) bool {
	return attributes[name] || strings.HasPrefix(name, "data-") || ariaAttributes[name]
}

// Attributes lists the attribute names, ARIA's included.
func Attributes() []string {
	list := strings.Fields(attributeNames)
	return append(list, strings.Fields(ariaNames)...)
}

// Attributes that hold an address; the last three animate one that does (SVG 2, 16).
var addresses = set("href src action formaction xlink:href data poster to from values")

// IsAddress says whether an attribute leads somewhere, or may animate one that does.
func IsAddress(name string) bool { return addresses[strings.ToLower(name)] }

// IsProgram says whether what an attribute holds would run, or be a document of its own.
func IsProgram(name string) bool {
	name = strings.ToLower(name)
	return strings.HasPrefix(name, "on") || name == "srcdoc"
}

// IsEvent says whether name is a DOM event, or outside.
func IsEvent(name string) bool { return events[name] }

// Events lists the event names.
func Events() []string { return strings.Fields(eventNames) }

const madeNames = `click dblclick auxclick contextmenu mousedown mouseup mousemove mouseover mouseout mouseenter mouseleave
keydown keyup keypress beforeinput input change focus blur focusin focusout submit reset invalid toggle beforetoggle close cancel
pointerdown pointerup pointermove pointerenter pointerleave pointerover pointerout pointercancel
drag dragstart dragend dragenter dragleave dragover drop paste outside`

var made = set(madeNames)

// IsMade says whether a gesture of a scenario makes an event of a name.
func IsMade(event string) bool { return made[event] }

// Bubbles says whether an event goes on to the elements around its target.
func Bubbles(event string) bool {
	switch event {
	case "focus", "blur", "mouseenter", "mouseleave", "pointerenter", "pointerleave", "toggle", "beforetoggle", "close", "cancel",
		"invalid", "load", "error", "scroll", "scrollend", "outside":
		return false
	}
	return true
}

// IsBoolean says whether an attribute's presence alone means true.
func IsBoolean(attribute string) bool {
	switch attribute {
	case "allowfullscreen", "async", "autofocus", "autoplay", "checked", "controls", "default", "defer", "disabled",
		"formnovalidate", "hidden", "inert", "ismap", "loop", "multiple", "muted", "novalidate", "open", "playsinline",
		"readonly", "required", "reversed", "selected", "indeterminate":
		return true
	}
	return false
}

// PrintsBooleans says whether an attribute has the words true and false as values: a boolean that is
// linked to it is printed, and does not come and go.
func PrintsBooleans(attribute string) bool {
	switch attribute {
	case "draggable", "contenteditable", "spellcheck", "writingsuggestions":
		return true
	}
	return strings.HasPrefix(attribute, "aria-")
}

// IsProperty says whether a link to this attribute of this element sets a
// live property, which the user can change too.
func IsProperty(element, attribute string) bool {
	switch attribute {
	case "value":
		return element == "input" || element == "textarea" || element == "select"
	case "checked", "indeterminate":
		return element == "input"
	case "selected":
		return element == "option"
	case "open":
		return element == "details" || element == "dialog"
	}
	return false
}

const ariaNames = `aria-activedescendant aria-atomic aria-autocomplete aria-busy aria-checked aria-colcount aria-colindex
aria-colspan aria-controls aria-current aria-describedby aria-description aria-details aria-disabled aria-errormessage
aria-expanded aria-flowto aria-haspopup aria-hidden aria-invalid aria-keyshortcuts aria-label aria-labelledby aria-level
aria-live aria-modal aria-multiline aria-multiselectable aria-orientation aria-owns aria-placeholder aria-posinset
aria-pressed aria-readonly aria-relevant aria-required aria-roledescription aria-rowcount aria-rowindex aria-rowspan
aria-selected aria-setsize aria-sort aria-valuemax aria-valuemin aria-valuenow aria-valuetext`

var ariaAttributes = set(ariaNames)

const roleNames = `alert alertdialog application article banner blockquote button caption cell checkbox code columnheader
combobox complementary contentinfo definition deletion dialog directory document emphasis feed figure form generic grid
gridcell group heading img image insertion link list listbox listitem log main mark marquee math menu menubar menuitem
menuitemcheckbox menuitemradio meter navigation none note option paragraph presentation progressbar radio radiogroup
region row rowgroup rowheader scrollbar search searchbox sectionfooter sectionheader separator slider spinbutton status strong subscript superscript
switch tab table tablist tabpanel term textbox time timer toolbar tooltip tree treegrid treeitem`

var roles = set(roleNames)

// roleless are elements that HTML-AAM gives no role, and that people see.
const rolelessNames = `label legend figcaption dl abbr cite kbd var ruby rt video audio canvas iframe`

var roleless = set(rolelessNames)

// IsRoleless says whether an element of this name has no role by itself.
func IsRoleless(tag string) bool { return roleless[tag] }

// IsRole says whether WAI-ARIA 1.2 has a role of this name.
func IsRole(name string) bool { return roles[name] }

// Roleless lists those elements.
func Roleless() []string { return strings.Fields(rolelessNames) }

// Roles lists the roles.
func Roles() []string { return strings.Fields(roleNames) }

// NamedByContent says whether a role's name may come from what it contains
// (WAI-ARIA 1.2, 5.2.8.4).
func NamedByContent(role string) bool {
	switch role {
	case "button", "cell", "checkbox", "columnheader", "gridcell", "heading", "link", "menuitem", "menuitemcheckbox",
		"menuitemradio", "option", "radio", "row", "rowheader", "switch", "tab", "tooltip", "treeitem":
		return true
	}
	return false
}
