package drive

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/aria"
	"lien/core/drive/webdriver"
	"lien/core/page"
	"lien/core/page/markup"
)

// TestRolesAgree: roles and names are those that a browser computes, but for what is listed.
func TestRolesAgree(t *testing.T) {
	b := openBrowser(t, startDriver(t))
	for i, s := range samples(t, "testdata/roles/*.page") {
		if !strings.Contains(s.name, *oneSample) || !*mustDrive && *oneSample == "" && i%6 != 0 {
			continue
		}
		if err := b.load(s); err != nil {
			t.Fatalf("%s: %v", s, err)
		}
		tree, err := markup.Parse(s.markup)
		if err != nil {
			t.Fatal(err)
		}
		tree.Elements(func(el *page.Element) bool {
			id := el.Get("id")
			if id == "" || aria.Hidden(el) {
				return true
			}
			want, err := b.told(id)
			if err != nil {
				t.Errorf("%s: #%s: %v", s, id, err)
				return true
			}
			got := fmt.Sprintf("%s %q", aria.Role(el), aria.Name(tree.Page, el))
			if got != want && differs[s.name+"/"+id] != got {
				t.Errorf("%s: <%s id=%s>: the browser says %s, the simulated page %s", s, el.Tag(), id, want, got)
			}
			return true
		})
	}
}

// told is the role and the name that the browser computes for an element.
func (b browser) told(id string) (string, error) {
	var ref webdriver.Element
	if err := b.Run("return document.getElementById(arguments[0])", &ref, id); err != nil {
		return "", err
	}
	role, err := b.Role(ref)
	if err != nil {
		return "", err
	}
	name, err := b.Label(ref)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("%s %q", role, strings.Join(strings.Fields(name), " ")), nil
}

// differs lists where the standards are followed and the browser goes its own way, by sample and
// id, with what the simulated page says. docs/language.md lists them for people.
var differs = map[string]string{
	"forms/l":                       ` ""`,
	"forms/la":                      ` ""`,
	"fields/n":                      `button ""`,
	"embedded controls/l1":          ` ""`,
	"images/h":                      `figure "Cap"`,
	"images/i":                      ` ""`,
	"lists/k":                       ` ""`,
	"lists/l":                       `term ""`,
	"tables/r1":                     `row "A B"`,
	"tables/r2":                     `row "D E"`,
	"tables/r3":                     `row "F G"`,
	"tables/r4":                     `row "x y"`,
	"tables without a head/r1":      `row "A B"`,
	"tables without a head/r2":      `row "C D"`,
	"tables without a head/r3":      `row "E F"`,
	"text/o":                        `term ""`,
	"text/t":                        ` "x"`,
	"text/u":                        `math ""`,
	"details/b":                     `button "More"`,
	"details/e":                     `button "Less"`,
	"presentation that cannot be/g": `listitem ""`,
	"roles given/y":                 `math ""`,
	"roles given/z":                 `term ""`,
	"names of groups/e":             `table "z"`,
	"input names by type/d":         `button "Submit"`,
	"input names by type/h":         `button "F"`,
	"input names by type/j":         `textbox "c"`,
	"input names by type/k":         `textbox "d"`,
	"input names by type/l":         `textbox "t"`,
	"input names by type/m":         `textbox "m"`,
	"input names by type/n":         `textbox "w"`,
	"input names by type/o":         `textbox "l"`,
}
