package web

import (
	"strings"
	"testing"

	"lien/core/drive"
)

// TestHandedOn: what a component only shows is its user's value itself; where code reads it, or it is there under a
// condition alone, it is a value of its own.
func TestHandedOn(t *testing.T) {
	t.Parallel()
	const page = `
component kiln-lamp {
  takes lit: boolean
  MEMBER
  view { p { .lit <- lit; hidden <- !lit; when lit { "on" } else { "off" } } }
}

component kiln-page {
  holds on: boolean = false
  holds maybe: boolean? = null
  derives bright = on
  view {
    USE
    button "Fire" { click -> { on = !on; maybe = on } }
  }
}

start kiln-page
`
	const is = `lit: "`
	for _, c := range []struct{ member, use, want string }{
		{"", "kiln-lamp { lit <- on }", is + `on"`},
		{"", "kiln-lamp { lit <- bright }", is + `bright"`},
		{"", "kiln-lamp { lit <- !on }", ""},
		{"", "when maybe != null { kiln-lamp { lit <- maybe } }", ""},
		{"on unmount { log lit }", "kiln-lamp { lit <- on }", ""},
		{"derives dim = !lit", "kiln-lamp { lit <- on }", ""},
		{"follows lit { log 1 }", "kiln-lamp { lit <- on }", ""},
		{"offers said() { log lit }", "kiln-lamp { lit <- on }", ""},
		{"", "each l in [true, false] by l { kiln-lamp { lit <- l } }", ""},
	} {
		d := parse(t, strings.NewReplacer("MEMBER", c.member, "USE", c.use).Replace(page))
		files, err := Build(d, Options{Start: d.Starts[0]})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range files {
			if text := string(f.Text); f.Path == "components/kiln-page.js" && (strings.Contains(text, is) != (c.want != "") || !strings.Contains(text, c.want)) {
				t.Errorf("%s, %s: want %q\n%s", c.member, c.use, c.want, text)
			}
		}
	}
}

// TestMemberShown: what shows a cell as it is, and no more, goes by its name.
func TestMemberShown(t *testing.T) {
	for shows, byName := range map[string]bool{
		"p `${n}`": true, "p { title <- n }": true, "p { .lit <- n == 1 }": false, "p `${n} kg`": false, "p `${n + 1}`": false,
		"p `${more}`": false, "each n in list by n { p `${n}` }": false, "input { aria-label <- \"Kg\"; value <- n }": true,
	} {
		d := parse(t, "component kiln-page {\n  holds n: number = 1\n  holds list: number[] = [1]\n  derives more = n + 1\n  view { "+shows+"; button \"More\" { click -> { n += 1; list = [n] } } }\n}\nstart kiln-page\n")
		if text := fileOf(t, d, Options{Start: d.Starts[0]}, "components/kiln-page.js"); (strings.Contains(text, "member: ") || strings.Contains(text, "lien.text(null, ")) != byName {
			t.Errorf("%s: want by name %v:\n%s", shows, byName, text)
		}
	}
}

// TestLetGo: what was taken off the page, or never came to stand on it, is let go, also where it showed a cell that stays, and heard
// what a context reports that stays.
func TestLetGo(t *testing.T) {
	t.Parallel()
	b := openBrowser(t)
	d := parse(t, `
context news {
  emits called(n: number)
  action call() { emit called(1) }
}

component kiln-lamp {
  takes lit: boolean
  holds calls: number = 0
  uses news { called(n) -> calls += n }
  view { p { .lit <- lit; title <- lit; `+"`${lit}`"+` } }
}

component ask-box {
  view { button "Yes" { click -> leave } }
}

component kiln-page {
  holds lit: boolean = true
  holds there: boolean = true
  holds list: number[] = []
  supplies news as calls
  view {
    when there { div { kiln-lamp { lit <- lit } }; hr { hidden <- lit } } else { each n in list by n { s { .lit <- lit; b `+"`${1 / n}`"+` } } }
    button "Take away" { click -> there = false }
    button "Fail" { click -> list = [1, 0] }
    button "Dim" { click -> { lit = false; calls.call() } }
    button "Ask" { click -> open modal ask-box }
  }
}

start kiln-page
`)
	files, err := Build(d, Options{Start: d.Starts[0]})
	if err != nil {
		t.Fatal(err)
	}
	page := fileOf(t, d, Options{Start: d.Starts[0]}, "index.html")
	others := map[string]string{"index.html": strings.Replace(page, "<script ", `<script>
const made = [];
const create = document.createElement;
document.createElement = name => {
  const el = create.call(document, name);
  made.push(new WeakRef(el));
  return el;
};
</script>
<script `, 1)}
	if err := drive.In(b.session).Open(isolated(t, files, others) + "/index.html"); err != nil {
		t.Fatal(err)
	}
	const script = `
const press = name => [...document.querySelectorAll("button")].find(b => b.textContent === name).click();
const left = () => made.map(r => r.deref()).filter(el => el && !el.isConnected).map(el => el.localName);
(async () => {
  const before = made.filter(r => r.deref()?.localName !== "button").length;
  press("Take away");
  press("Fail");
  for (let i = 0; i < 3; i++) {
    press("Ask");
    press("Yes");
  }
  for (let i = 0; i < 10 && left().length > 2; i++) { // until the memory is looked through: whoever asks often keeps them
    for (let n = 0; n < 40; n++) {
      Array.from({ length: 100 }, () => new Array(10_000).fill(n));
      await new Promise(done => setTimeout(done));
    }
  }
  press("Dim");
  return [before, made.length, ...left()].join(" ");
})().then(arguments[0], why => arguments[0](String(why)));
`
	var is string
	if err := b.session.RunAsync(script, &is); err != nil {
		t.Fatal(err)
	}
	// Made are four elements, four buttons, two items with what is in them, and what is open three times: the last of it is kept.
	if is != "4 18 dialog button" {
		t.Errorf("before, in all and left are %s", is)
	}
}
