package drive

import (
	"slices"
	"strings"
	"testing"

	"lien/core/page"
)

// TestAim: the mouse meets the element that is meant, not what lies in its middle; two presses are no double press; and
// a new page hears nothing of a button held on the one before.
func TestAim(t *testing.T) {
	b := openBrowser(t, startDriver(t))
	real := In(b.Session)
	open := func() func(role, name string) *page.Element {
		if err := real.Open(b.pages.add(`<!doctype html><meta charset=utf-8><style>fieldset { padding: 20px; width: 200px } fieldset button { display: block; margin: auto }</style>
			<fieldset id=shelf aria-label=Shelf><button>Bowl</button></fieldset><button>Fire</button><button aria-label=Speck style="width: 3px; height: 3px; padding: 0; border: 0"></button><section aria-label=Full style="position: relative"><button style="position: absolute; inset: 0">Over</button>Under</section>
			<script>globalThis.heard = []; for (const name of ["pointerdown", "click", "dblclick"])
				document.addEventListener(name, (e) => heard.push(name + "@" + (e.target.id || e.target.textContent || e.target.localName)))</script>`)); err != nil {
			t.Fatal(err)
		}
		return func(role, name string) *page.Element {
			now, err := real.Read()
			if err != nil {
				t.Fatal(err)
			}
			list := Find(now, role, name)
			if len(list) != 1 {
				t.Fatalf("there are %d of %s %q", len(list), role, name)
			}
			return list[0]
		}
	}
	heard := func(want string) {
		t.Helper()
		var list []string
		if err := b.Run("return heard.splice(0)", &list); err != nil {
			t.Fatal(err)
		}
		if got := strings.Join(slices.DeleteFunc(list, func(s string) bool { return strings.HasPrefix(s, "pointer") && !strings.Contains(want, "pointer") }), " "); got != want {
			t.Errorf("heard %q, want %q", got, want)
		}
	}
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	on := open()
	must(real.Press(on("group", "Shelf"), page.Mouse{}))
	heard("click@shelf")
	for _, c := range []struct {
		role, name string
		meets      bool
	}{{"group", "Shelf", true}, {"button", "Bowl", true}, {"region", "Full", false}, {"button", "Over", true}} {
		if meets, err := real.Meets(on(c.role, c.name)); err != nil || meets != c.meets {
			t.Errorf("%s %q is met: %v, %v", c.role, c.name, meets, err)
		}
	}
	for range 3 {
		must(real.Press(on("button", "Fire"), page.Mouse{}))
	}
	heard("click@Fire click@Fire click@Fire")
	for range 2 { // on the same point, there being no other
		must(real.Press(on("button", "Speck"), page.Mouse{}))
	}
	heard("click@button click@button")
	must(real.Press(on("button", "Fire"), page.Mouse{Double: true}))
	heard("click@Fire click@Fire dblclick@Fire")
	must(real.Hold(on("button", "Fire"), page.Mods{}))
	heard("pointerdown@Fire")
	on = open()
	must(real.Press(on("button", "Fire"), page.Mouse{Right: true}))
	heard("pointerdown@Fire") // which only the first of several buttons is told by
}
