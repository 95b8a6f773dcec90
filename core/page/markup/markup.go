// Package markup is a page of plain markup: elements with their attributes and texts, which can
// be changed, and whose events are handed to a function.
package markup

import (
	"fmt"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"lien/core/page"
)

// Tree is a page of plain markup.
type Tree struct {
	*page.Page
	// Heard is called with every event, after its change was made.
	Heard func(ev *page.Event) error
	root  *Node
}

// Node is an element of the markup, or a text.
type Node struct {
	page.Element
	tree     *Tree
	tag      string
	text     string
	attrs    []html.Attribute
	children []*Node
	up       *Node
	gone     bool
}

// Parse reads the markup of what stands in a body.
func Parse(text string) (*Tree, error) {
	t := NewTree()
	list, err := html.ParseFragment(strings.NewReader(text), &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body})
	if err != nil {
		return nil, fmt.Errorf("markup: %w", err)
	}
	for _, n := range list {
		t.read(t.root, n)
	}
	t.Elements(func(el *page.Element) bool {
		t.Begun(el)
		return true
	})
	return t, nil
}

// NewTree is a page with an empty body.
func NewTree() *Tree {
	t := &Tree{}
	t.Page = page.New(t)
	t.root = &Node{tree: t, tag: "body"}
	return t
}

func (t *Tree) read(up *Node, n *html.Node) {
	switch n.Type {
	case html.TextNode:
		t.Text(up, n.Data)
	case html.ElementNode:
		el := t.Add(up, n.Data, n.Attr)
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			t.read(el, c)
		}
		if n.Data == "textarea" {
			props := el.Props()
			props.Value = el.Content()
			el.Restore(props)
		}
	}
}

// Root is what everything stands in.
func (t *Tree) Root() *Node { return t.root }

// Text adds a text.
func (t *Tree) Text(up *Node, text string) {
	up.children = append(up.children, &Node{tree: t, text: text, up: up})
}

// Add adds an element with what its attributes say of its properties.
func (t *Tree) Add(up *Node, tag string, attrs []html.Attribute) *Node {
	n := &Node{tree: t, tag: tag, attrs: attrs, up: up}
	above := t.Page.Body
	if up != t.root {
		above = &up.Element
	}
	n.Init(t.Page, n, above, page.AllTraits, page.Props{})
	n.Restore(n.first())
	up.children = append(up.children, n)
	return n
}

// Clear takes everything off the page; what is put back is as it was.
func (t *Tree) Clear() { t.root.clear() }

func (n *Node) clear() {
	for _, c := range n.children {
		c.gone = true
		c.clear()
	}
	n.children = nil
}

// Put puts an element back onto the page, in another element, with its attributes of now.
func (n *Node) Put(up *Node, attrs []html.Attribute) {
	n.attrs, n.up, n.gone = attrs, up, false
	if n.Up = n.tree.Page.Body; up != n.tree.root {
		n.Up = &up.Element
	}
	up.children = append(up.children, n)
}

// first are the properties that attributes say.
func (n *Node) first() page.Props {
	return page.Props{Value: n.Get("value"), Checked: n.Has("checked"), Open: n.Has("open") && (n.tag == "details" || n.tag == "dialog")}
}

// Tag is the name of the element.
func (n *Node) Tag() string { return n.tag }

// Attr is an attribute.
func (n *Node) Attr(name string) (string, bool) {
	for _, a := range n.attrs {
		if a.Key == name {
			return a.Val, true
		}
	}
	return "", false
}

// SetAttr sets an attribute, and takes it away with ok false.
func (n *Node) SetAttr(name, value string, ok bool) {
	n.attrs = slices.DeleteFunc(slices.Clone(n.attrs), func(a html.Attribute) bool { return a.Key == name })
	if ok {
		n.attrs = append(n.attrs, html.Attribute{Key: name, Val: value})
	}
}

// Children are what stands in the element.
func (n *Node) Children() (list []page.Node) {
	for _, c := range n.children {
		if c.gone {
			continue
		}
		if c.tag == "" {
			list = append(list, page.Node{Text: c.text})
		} else {
			list = append(list, page.Node{Element: &c.Element})
		}
	}
	return list
}

// Gone says whether the element was removed.
func (n *Node) Gone() bool {
	for ; n != nil; n = n.up {
		if n.gone {
			return true
		}
	}
	return false
}

// Watch does nothing: nobody asks what was read.
func (n *Node) Watch() {}

// WrittenBy and GivenTo: no component writes what is told in markup.
func (n *Node) WrittenBy(string) bool { return false }
func (n *Node) GivenTo(string) bool   { return false }

// Remove takes the element off the page.
func (n *Node) Remove() error {
	if n.Gone() {
		return nil
	}
	if err := n.tree.Removing(&n.Element); err != nil {
		return err
	}
	n.gone = true
	return nil
}

// Elements visits the elements in tree order.
func (t *Tree) Elements(visit func(*page.Element) bool) { t.root.visit(visit) }

// Contents are what stands in the body.
func (t *Tree) Contents() []page.Node { return t.root.Children() }

func (n *Node) visit(visit func(*page.Element) bool) bool {
	for _, c := range n.children {
		if c.tag != "" && !c.gone && (!visit(&c.Element) || !c.visit(visit)) {
			return false
		}
	}
	return true
}

// Dispatch makes the change and hands the event on.
func (t *Tree) Dispatch(ev *page.Event, change func()) error {
	if change != nil {
		change()
	}
	if t.Heard == nil {
		return nil
	}
	return t.Heard(ev)
}

// Replaced, Moved and Took: nothing is kept of what was.
func (t *Tree) Replaced(*page.Element, page.Props) {}

// Moved does nothing.
func (t *Tree) Moved(page.State) {}

// Took does nothing.
func (t *Tree) Took(*page.Element, ...string) {}

// Acted does nothing.
func (t *Tree) Acted(*page.Element) {}

// Touched does nothing.
func (t *Tree) Touched(*page.Element) {}

// Hears says that anything may be heard.
func (t *Tree) Hears(string) bool { return true }

// Pressed does nothing.
func (t *Tree) Pressed(*page.Element) error { return nil }

// Reset gives controls what their attributes say.
func (t *Tree) Reset(_ *page.Element, controls []*page.Element) error {
	for _, c := range controls {
		n := c.Source.(*Node)
		props := n.first()
		if n.tag == "textarea" {
			props.Value = c.Content()
		}
		t.Set(c, props)
	}
	return nil
}

// Compare orders elements as they stand on the page, or stood before they were removed.
func (t *Tree) Compare(a, b *page.Element) int {
	if a == b {
		return 0
	}
	return slices.Compare(a.Source.(*Node).place(), b.Source.(*Node).place())
}

// place is the way from the root to the element.
func (n *Node) place() (list []int) {
	for ; n.up != nil; n = n.up {
		list = append(list, slices.Index(n.up.children, n))
	}
	slices.Reverse(list)
	return list
}
