package aria_test

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/aria"
	"lien/core/page/markup"
)

// TestRolesAndNames: role, name and states of the element x; core/drive holds many more against a
// browser.
func TestRolesAndNames(t *testing.T) {
	for _, c := range []struct{ markup, want string }{
		{`<button id=x>Fire</button>`, `button "Fire"`},
		{`<button id=x> a <span> b </span>c</button>`, `button "a b c"`},
		{`<button id=x><div>a</div><div>b</div></button>`, `button "a b"`},
		{`<button id=x aria-label="  ">Fire</button>`, `button "Fire"`},
		{`<button id=x aria-labelledby="y x">Fire</button><p id=y hidden>Now</p>`, `button "Now Fire"`},
		{`<label>Heat <input id=x type=range> degrees</label>`, `slider "Heat degrees"`},
		{`<label>Name<input id=x></label>`, `textbox "Name"`},
		{`<label for=x>Fire for <input type=number value=8> hours</label><input id=x type=checkbox>`, `checkbox "Fire for 8 hours"`},
		{`<label hidden for=x>Name</label><input id=x>`, `textbox ""`},
		{`<label for=x>A</label><label for=x>B</label><input id=x placeholder=no>`, `textbox "A B"`},
		{`<input id=x placeholder=Maker>`, `textbox "Maker"`},
		{`<input id=x type=search list=l>`, `combobox ""`},
		{`<input id=x type=submit>`, `button "Submit"`},
		{`<input id=x type=checkbox checked>`, `checkbox "" checked`},
		{`<input id=x required>`, `textbox "" invalid`},
		{`<input id=x required aria-invalid=false>`, `textbox ""`},
		{`<a id=x>k</a>`, `generic ""`},
		{`<a id=x href=k><img alt=Kiln></a>`, `link "Kiln"`},
		{`<img id=x alt="">`, `none ""`},
		{`<ul role=none><li id=x>a</li></ul>`, `none ""`},
		{`<ul><li id=x>a</li></ul>`, `listitem ""`},
		{`<li id=x>a</li>`, `generic ""`},
		{`<section id=x title=Kilns></section>`, `region "Kilns"`},
		{`<section id=x></section>`, `generic ""`},
		{`<article><aside id=x></aside></article>`, `generic ""`},
		{`<button id=x role=presentation>a</button>`, `button "a"`},
		{`<span id=x role=img aria-label=Vase></span>`, `image "Vase"`},
		{`<div id=x role="odd TAB">One</div>`, `tab "One"`},
		{`<div id=x role=region></div>`, `generic ""`},
		{`<table><tr><th id=x>A</th><td>1</td></tr></table>`, `rowheader "A"`},
		{`<table role=none><tr><td id=x>A</td></tr></table>`, `generic ""`},
		{`<table role=grid><tr><td id=x>A</td></tr></table>`, `gridcell "A"`},
		{`<fieldset id=x><legend>Shelves</legend></fieldset>`, `group "Shelves"`},
		{`<figure id=x><figcaption>Cup</figcaption></figure>`, `figure "Cup"`},
		{`<details open><summary id=x>More</summary></details>`, `button "More" expanded`},
		{`<button id=x popovertarget=p>O</button><div popover id=p></div>`, `button "O" collapsed`},
		{`<div id=x role=treeitem aria-expanded=true>Kilns<ul role=group><li role=treeitem>Big</li></ul></div>`, `treeitem "Kilns" expanded`},
		{`<select><option id=x selected>Ash</select>`, `option "Ash" selected`},
		{`<button id=x disabled aria-pressed=true>B</button>`, `button "B" pressed disabled`},
	} {
		tree, err := markup.Parse(c.markup)
		if err != nil {
			t.Fatal(err)
		}
		el := tree.ByID("x")
		got := fmt.Sprintf("%s %q %s", aria.Role(el), aria.Name(tree.Page, el), strings.Join(aria.States(tree.Page, el), " "))
		if strings.TrimSpace(got) != c.want {
			t.Errorf("%s\n  is %s, want %s", c.markup, got, c.want)
		}
	}
}

// TestDescription: what is told beside the name.
func TestDescription(t *testing.T) {
	for _, c := range []struct{ markup, want string }{
		{`<button id=x aria-describedby=y>a</button><p id=y hidden>at night</p>`, "at night"},
		{`<button id=x aria-description="at night">a</button>`, "at night"},
		{`<button id=x title="at night">a</button>`, "at night"},
		{`<button id=x title="at night"></button>`, ""},
	} {
		tree, err := markup.Parse(c.markup)
		if err != nil {
			t.Fatal(err)
		}
		if got := aria.Description(tree.Page, tree.ByID("x")); got != c.want {
			t.Errorf("%s: %q", c.markup, got)
		}
	}
}
