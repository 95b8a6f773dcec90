package page_test

import (
	"slices"
	"strings"
	"testing"

	"lien/core/page"
)

// TestEscape: what Escape closes, and when cancel keeps it open, as a browser was seen to do it (HTML, close watchers). Each case
// says what opens when its button is pressed (* at once, + not as a modal one), which dialogs prevent cancel, what is done, and what
// was told: asked (?), closed (x), and what is open in the end.
func TestEscape(t *testing.T) {
	for _, c := range []struct{ opens, prevents, does, told string }{
		{"a", "a", "open Escape Escape", "a? a? ax"},
		{"a", "a", "open Escape in Escape in Escape", "a? a? a? ax"},
		{"a", "a", "open in in in Escape in Escape in Escape", "a? a? a? ax"},
		{"*a", "a", "Escape", "a? ax"},
		{"*a", "a", "in Escape Escape", "a? a? ax"},
		{"*a", "a", "in Escape in Escape", "a? a? ax"},
		{"a", "a", "open Escape x Escape", "a? a? a"},
		{"a", "a", "open Escape Shift Escape", "a? a? ax"},
		{"a", "a", "open Escape hover Escape", "a? a? ax"},
		{"a", "a", "open Escape beside Escape", "a? a? a"},
		{"a", "a", "open Escape right Escape", "a? a? a"},
		{"a", "a", "open request Escape", "a? a? ax"},
		{"a", "a", "open shut open shut open Escape in Escape in Escape in Escape", "ax ax a? a? a? a? a"},
		{"abcd", "", "open Escape Escape", "d? c? b? dx cx bx a? ax"},
		{"abcd", "c", "open Escape", "d? c? b? dx cx bx a"},
		{"*a*b*c", "", "Escape", "c? b? a? cx bx ax"},
		{"*a*b*e", "", "Escape", "e? a? bx ex ax"}, // whose end is that of b
		{"ap", "", "open Escape Escape", "px a? ax"},
		{"*a*p", "", "Escape", "a? ax px"},
		{"an", "", "open Escape", "a n"},
		{"*a*n", "", "Escape", "a? ax n"},
		{"+a+b", "", "open Escape", "a b"},
		{"+l", "", "open beside", "l? lx"},
		{"+l", "l", "open beside Escape", "l? l? lx"},
		{"+l", "", "open in Escape", "l? lx"},
	} {
		got := escaped(t, c.opens, c.prevents, c.does)
		if got != c.told {
			t.Errorf("%s, of which %q are kept open: %s:\n got %s\nwant %s", c.opens, c.prevents, c.does, got, c.told)
		}
	}
}

const watched = `<button id=open>open</button><dialog id=a><button id=in>in</button><input></dialog><dialog id=b></dialog><dialog id=c></dialog><dialog id=d></dialog><dialog id=e></dialog>
<dialog id=n closedby=none></dialog><dialog id=l closedby=any><button id=inside>in</button></dialog><div id=p popover>p</div>`

func escaped(t *testing.T, opens, prevents, does string) string {
	t.Helper()
	tree := parsed(t, watched)
	var told []string
	open := func(at bool) (err error) {
		now, aside := false, false
		for _, o := range opens {
			el := tree.ByID(string(o))
			switch {
			case o == '*':
				now = true
			case o == '+':
				aside = true
			case now != at:
				now, aside = false, false
			case o == 'p':
				err = tree.ShowPopover(el)
			default:
				err = tree.ShowDialog(el, !aside)
				now, aside = false, false
			}
		}
		return err
	}
	tree.Heard = func(ev *page.Event) error {
		id := ev.Target.Get("id")
		switch {
		case ev.Name == "click" && id == "open":
			return open(false)
		case ev.Name == "cancel":
			told = append(told, id+"?")
			ev.Prevented = strings.Contains(prevents, id)
			if id == "e" {
				return tree.CloseDialog(tree.ByID("b"))
			}
		case ev.Name == "close", ev.Name == "toggle" && id == "p" && ev.State == "closed":
			told = append(told, id+"x")
		}
		return nil
	}
	if err := open(true); err != nil {
		t.Fatal(err)
	}
	for _, do := range strings.Fields(does) {
		in := tree.ByID("in")
		if strings.Contains(opens, "l") {
			in = tree.ByID("inside")
		}
		var err error
		switch do {
		case "open":
			err = tree.Press(tree.ByID("open"), page.Mouse{})
		case "in":
			err = tree.Press(in, page.Mouse{})
		case "right":
			err = tree.Press(in, page.Mouse{Right: true})
		case "hover":
			err = tree.Hover(in)
		case "beside":
			err = tree.Press(nil, page.Mouse{})
		case "request":
			err = tree.RequestClose(tree.ByID("a"))
		case "shut":
			err = tree.CloseDialog(tree.ByID("a"))
		default:
			err = tree.Key(do)
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	var still []string
	for l := range tree.Layers {
		still = append(still, l.Element.Get("id"))
	}
	slices.Sort(still)
	return strings.Join(append(told, still...), " ")
}
