package drive

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"lien/core/aria"
	"lien/core/page"
	"lien/core/page/markup"
)

// inTree is a page of plain markup as a Page, to hold the browser's against.
type inTree struct{ *markup.Tree }

func (t inTree) Read() (*page.Page, error) { return t.Tree.Page, nil }
func (t inTree) Paste(el *page.Element, text string) error {
	if err := t.Tree.FocusOn(el); err != nil {
		return err
	}
	return t.Page.Paste(text)
}
func (t inTree) Key(el *page.Element, chord string) error {
	if el != nil {
		if err := t.Tree.FocusOn(el); err != nil {
			return err
		}
	}
	return t.Page.Key(chord)
}

const studio = `<main><h1>Kilns</h1><form><label>Maker <input name=maker></label><label><input type=checkbox> Fast</label>
<label>Glaze <select><option>Ash<option>Tin</select></label><label>Heat <input type=range max=1300></label><button type=button>Book</button></form>
<div role=tablist><button role=tab aria-selected=true>Top</button><button role=tab>Low</button></div><p hidden>not seen</p>
<p class=away>away</p><ul><li draggable=true>Bowl</li><li>Shelf</li></ul><details><summary>More</summary><p>inner</p></details>
<label>Note <textarea>ab</textarea></label></main>`

// looks writes down what people find on a page.
func looks(t *testing.T, p Page) string {
	t.Helper()
	now, err := p.Read()
	if err != nil {
		t.Fatal(err)
	}
	var out []string
	now.Elements(func(el *page.Element) bool {
		if role := aria.Role(el); role != "" && role != "generic" && !aria.Hidden(el) {
			out = append(out, fmt.Sprintf("%s %q %s %q", role, aria.Name(now, el), strings.Join(aria.States(now, el), " "), now.Value(el)))
		}
		return true
	})
	return strings.Join(out, "\n")
}

// TestPages: the same acts on a simulated page and on one in a browser, by the same interface,
// lead to the same page.
func TestPages(t *testing.T) {
	b := openBrowser(t, startDriver(t))
	real := In(b.Session)
	if err := real.Open(b.pages.add("<!doctype html><meta charset=utf-8><style>.away { display: none }</style>" + studio)); err != nil {
		t.Fatal(err)
	}
	tree, err := markup.Parse(strings.ReplaceAll(studio, "class=away", "style='display: none'"))
	if err != nil {
		t.Fatal(err)
	}
	type act func(p Page, on func(role, name string) *page.Element) error
	for _, c := range []struct {
		name string
		does act
	}{
		{"look", func(Page, func(role, name string) *page.Element) error { return nil }},
		{"type", func(p Page, on func(role, name string) *page.Element) error {
			return p.Type(on("textbox", "Maker"), "Ada")
		}},
		{"tick", func(p Page, on func(role, name string) *page.Element) error {
			return p.Press(on("checkbox", "Fast"), page.Mouse{})
		}},
		{"choose", func(p Page, on func(role, name string) *page.Element) error {
			list := on("combobox", "Glaze")
			return p.Choose(list, list.Options()[1])
		}},
		{"set", func(p Page, on func(role, name string) *page.Element) error {
			return p.Put(on("slider", "Heat"), "900")
		}},
		{"press twice", func(p Page, on func(role, name string) *page.Element) error {
			return p.Press(on("button", "Book"), page.Mouse{Double: true})
		}},
		{"right press", func(p Page, on func(role, name string) *page.Element) error {
			return p.Press(on("tab", "Low"), page.Mouse{Right: true})
		}},
		{"key", func(p Page, on func(role, name string) *page.Element) error {
			return p.Key(on("tab", "Top"), "Shift+Tab")
		}},
		{"hover", func(p Page, on func(role, name string) *page.Element) error { return p.Hover(on("heading", "Kilns")) }},
		{"hold", func(p Page, on func(role, name string) *page.Element) error {
			return p.Hold(on("tab", "Top"), page.Mods{Shift: true})
		}},
		{"release", func(p Page, on func(role, name string) *page.Element) error {
			return p.Release(on("tab", "Low"), page.Mods{})
		}},
		{"drag", func(p Page, on func(role, name string) *page.Element) error {
			items := []*page.Element{}
			now, err := p.Read()
			if err != nil {
				return err
			}
			items = Find(now, "listitem", "")
			return p.Drag(items[0], items[1])
		}},
		{"open", func(p Page, on func(role, name string) *page.Element) error {
			return p.Press(on("button", "More"), page.Mouse{})
		}},
		{"paste", func(p Page, on func(role, name string) *page.Element) error {
			return p.Paste(on("textbox", "Note"), "glaze")
		}},
		{"clear", func(p Page, on func(role, name string) *page.Element) error {
			return p.Type(on("textbox", "Maker"), "")
		}},
		{"press beside", func(p Page, _ func(role, name string) *page.Element) error { return p.Press(nil, page.Mouse{}) }},
		{"focus", func(p Page, on func(role, name string) *page.Element) error { return p.FocusOn(on("tab", "Low")) }},
		{"blur", func(p Page, on func(role, name string) *page.Element) error { return p.FocusOn(nil) }},
	} {
		for _, p := range []Page{inTree{tree}, real} {
			on := func(role, name string) *page.Element {
				now, err := p.Read()
				if err != nil {
					t.Fatal(err)
				}
				list := Find(now, role, name)
				if len(list) != 1 {
					t.Fatalf("%s: there are %d of %s %q on %T", c.name, len(list), role, name, p)
				}
				return list[0]
			}
			if err := c.does(p, on); err != nil {
				t.Fatalf("%s on %T: %v", c.name, p, err)
			}
		}
		want, got := looks(t, real), looks(t, inTree{tree})
		if want != got {
			a, b := strings.Split(want, "\n"), strings.Split(got, "\n")
			t.Errorf("after %s\n%s", c.name, sideBySide(a, b))
		}
	}
	list, err := real.Read()
	if err != nil {
		t.Fatal(err)
	}
	if again, err := real.Read(); err != nil || again != list || !slices.Equal(Find(list, "tab", ""), Find(again, "tab", "")) {
		t.Errorf("elements are not the same when they are read again: %v", err)
	}
}
