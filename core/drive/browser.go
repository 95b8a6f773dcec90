package drive

import (
	_ "embed"
	"encoding/json"
	"fmt"

	"golang.org/x/net/html"

	"lien/core/drive/webdriver"
	"lien/core/page"
	"lien/core/page/markup"
)

// Browser is a page in a real browser, acted on with a real mouse and a real keyboard.
type Browser struct {
	session *webdriver.Session
	tree    *markup.Tree
	known   map[int]*markup.Node
	numbers map[*page.Element]int
	written map[*page.Element]string // their attributes style
	pressed []int                    // the point where the mouse pressed last

	// Shifts says that elements may move as the mouse comes: it goes where the element is then, as people do.
	Shifts bool
}

// In is the page that a window of a browser shows.
func In(s *webdriver.Session) *Browser {
	return &Browser{session: s, tree: markup.NewTree(), known: map[int]*markup.Node{}, numbers: map[*page.Element]int{}, written: map[*page.Element]string{}}
}

// Open loads the page at an address. No key and no button is held from then on.
func (b *Browser) Open(url string) error {
	if err := b.session.LetGo(); err != nil {
		return err
	}
	b.tree, b.known, b.numbers, b.written = markup.NewTree(), map[int]*markup.Node{}, map[*page.Element]int{}, map[*page.Element]string{}
	return b.session.Go(url)
}

//go:embed snapshot.js
var snapshotScript string

// node is an element as the script tells of it.
type node struct {
	N                      int
	Tag                    string
	Attrs                  [][2]string
	Boxed, Visible         bool
	Value                  string
	Checked, Indeterminate bool
	Open, Modal            bool
	Custom                 string
	Bad                    bool
	Children               []child

	outOfHidden bool // it is visible in what is not
}

// child is what stands in an element: another one, or a text.
type child struct {
	element *node
	text    string
}

// UnmarshalJSON reads a text or an element.
func (c *child) UnmarshalJSON(data []byte) error {
	if len(data) > 0 && data[0] == '"' {
		return json.Unmarshal(data, &c.text)
	}
	c.element = &node{}
	return json.Unmarshal(data, c.element)
}

// style is what style sheets say of whether the element is seen, as an inline style.
func (n *node) style() string {
	list := ""
	switch {
	case !n.Boxed:
		list = "display: none;"
	case n.hidden():
		list = "display: block;" // a style sheet shows it
	}
	switch {
	case !n.Visible:
		list += "visibility: hidden"
	case n.outOfHidden:
		list += "visibility: visible"
	}
	return list
}

// hidden says whether HTML by itself would not show the element.
func (n *node) hidden() bool {
	for _, a := range n.Attrs {
		if a[0] == "hidden" || a[0] == "popover" && !n.Open {
			return true
		}
	}
	return n.Tag == "dialog" && !n.Open
}

// Read is the page as it is now. Elements that were there before are the same.
func (b *Browser) Read() (*page.Page, error) {
	var now struct {
		Body  *node
		Focus int
	}
	var text string
	if err := b.session.Run(snapshotScript, &text); err != nil {
		return nil, fmt.Errorf("the page cannot be read: %w", err)
	}
	if err := json.Unmarshal([]byte(text), &now); err != nil {
		return nil, fmt.Errorf("the page cannot be read: %w", err)
	}
	b.tree.Clear()
	var top *page.Layer
	b.fill(b.tree.Root(), now.Body, &top)
	state := page.State{Top: top}
	if n := b.known[now.Focus]; n != nil {
		state.Focus = &n.Element
	}
	b.tree.Restore(state)
	return b.tree.Page, nil
}

// fill puts what was read into an element.
func (b *Browser) fill(up *markup.Node, from *node, top **page.Layer) {
	for _, c := range from.Children {
		if c.element == nil {
			b.tree.Text(up, c.text)
			continue
		}
		c.element.outOfHidden = !from.Visible
		el := b.put(up, c.element)
		if c.element.Modal {
			*top = &page.Layer{Element: &el.Element, Modal: true, Under: *top}
		}
		b.fill(el, c.element, top)
	}
}

// Written is the attribute style of an element, which says in the page that was read what comes of all styles.
func (b *Browser) Written(el *page.Element) (style string, has bool) {
	style, has = b.written[el]
	return style, has
}

// put adds an element, or puts one back that was there before.
func (b *Browser) put(up *markup.Node, from *node) *markup.Node {
	attrs := make([]html.Attribute, 0, len(from.Attrs)+1)
	written, styled := "", false
	for _, a := range from.Attrs {
		if a[0] == "style" { // what style sheets say counts, in the end
			written, styled = a[1], true
		} else {
			attrs = append(attrs, html.Attribute{Key: a[0], Val: a[1]})
		}
	}
	if style := from.style(); style != "" {
		attrs = append(attrs, html.Attribute{Key: "style", Val: style})
	}
	el := b.known[from.N]
	if el == nil {
		el = b.tree.Add(up, from.Tag, attrs)
		b.known[from.N], b.numbers[&el.Element] = el, from.N
	} else {
		el.Put(up, attrs)
	}
	delete(b.written, &el.Element)
	if styled {
		b.written[&el.Element] = written
	}
	props := page.Props{Value: from.Value, Checked: from.Checked, Indeterminate: from.Indeterminate, Open: from.Open, Dirty: true, Typed: from.Bad}
	el.Restore(props.WithCustom(from.Custom))
	return el
}
