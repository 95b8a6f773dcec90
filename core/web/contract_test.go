package web

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
)

// TestContract: what is declared of an element of every kind of member, line by line, and that nothing else is.
func TestContract(t *testing.T) {
	d := parse(t, `type Ware = { id: string, note?: string, parts: Ware[] }
type Size = "small" | "large"

// A card. It ends with */ here,
// and goes on.
component ware-card {
  takes ware: Ware
  takes may: Ware?
  takes size: Size = "small"
  takes sizes: Size[] = []
  takes names: (string?)[] = []
  takes heat: number = 2
  takes on: boolean = false
  takes class: string = "a"
  takes format: (n: number, unit?: string) => string
  takes tell: ((w: Ware) => void)?
  shares open: boolean = false
  shares form: { name: string, kind?: Size } = { name: "" }
  holds own: number = 1
  const uid = fresh()
  emits pick(id: string, ware: Ware)
  emits close()
  offers full, times, reset, uid
  derives full = heat > 1
  derives times(n: number, size?: Size) = heat * n
  action reset(to: number) { own = to }
  view {
    button "Pick" { click -> { emit pick(ware.id, ware); emit close() } }
    slot
    slot foot
    slot row(ware <- ware, reset <- reset) { p `+"`${own} ${open} ${form.name}`"+` }
  }
}

context rack { holds n: number = 0 }
component ware-page { view { ware-card { ware <- { id: "a", parts: [] }; may <- null; format <- inKilos; tell <- null } } }
derives inKilos(n: number) = `+"`${n}`"+`
start ware-page
`)
	w := &writer{d: d}
	text := w.declared(w.contracts())
	for _, want := range []string{
		"export type Ware = { id: string; note?: string | null; parts: Ware[] };",
		"export type Size = \"small\" | \"large\";",
		"/** A card. It ends with * / here,\n * and goes on. */",
		"  ware: Ware;", "  may: Ware | null;", "  size: Size;", "  sizes: Size[];", "  names: (string | null)[];", "  heat: number;", "  on: boolean;", "  class: string;",
		"  format: (n: number, unit?: string) => string;", "  tell: ((w: Ware) => void) | null;",
		"  open: boolean;", "  form: { name: string; kind?: Size | null };",
		"  readonly full: boolean;", "  readonly uid: string;",
		"  times(n: number, size?: Size): number;", "  reset(to: number): void;",
		"  row: ((handed: { ware: Ware; reset: (to: number) => void }) => Node | Node[] | null) | null;",
		`  addEventListener(type: "pick", listener: (event: CustomEvent<{ id: string; ware: Ware }>) => void, options?: boolean | AddEventListenerOptions): void;`,
		`  addEventListener(type: "close", listener: (event: CustomEvent<{}>) => void, options?: boolean | AddEventListenerOptions): void;`,
		`  addEventListener(type: "openchange", listener: (event: CustomEvent<{ open: boolean }>) => void, options?: boolean | AddEventListenerOptions): void;`,
		`    "ware-card": WareCardElement;`, `    "ware-page": WarePageElement;`,
	} {
		if strings.Count(text, want+"\n") != 1 {
			t.Errorf("it stands there %d times: %s\n%s", strings.Count(text, want+"\n"), want, text)
		}
	}
	for _, private := range []string{"own", "rack", "slot", "foot:"} {
		if strings.Contains(text, "  "+private) {
			t.Errorf("%s is declared:\n%s", private, text)
		}
	}
}

// TestManifest: the manifest says the same of the same elements.
func TestManifest(t *testing.T) {
	w := &writer{d: parse(t, studio)}
	text, err := manifested(w.contracts())
	if err != nil {
		t.Fatal(err)
	}
	var m manifest
	if err := json.Unmarshal([]byte(text), &m); err != nil {
		t.Fatal(err)
	}
	if m.SchemaVersion != "2.1.0" || len(m.Modules) != len(w.contracts()) {
		t.Errorf("version %s, %d modules", m.SchemaVersion, len(m.Modules))
	}
	at := slices.IndexFunc(m.Modules, func(m manifestModule) bool { return m.Path == "components/ware-card.js" })
	if at < 0 {
		t.Fatal("there is no ware-card")
	}
	e := m.Modules[at].Declarations[0]
	if e.Name != "WareCardElement" || e.TagName != "ware-card" || !e.CustomElement || e.Superclass.Name != "HTMLElement" || m.Modules[at].Exports[0].Declaration.Name != e.Name {
		t.Errorf("it is %+v", e)
	}
	named := func(list []manifestNamed) (names []string) {
		for _, n := range list {
			names = append(names, n.Name)
		}
		return names
	}
	if got := strings.Join(named(e.Attributes), " "); got != "label heat fired open" {
		t.Errorf("its attributes are %s", got)
	}
	if got := strings.Join(named(e.Events), " "); got != "openchange pick" {
		t.Errorf("its events are %s", got)
	}
	if got := strings.Join(named(e.Slots), " "); got != " foot" {
		t.Errorf("its slots are %q", got)
	}
	var members []string
	for _, x := range e.Members {
		name := x.Kind + " " + x.Name
		if x.Readonly {
			name += " to read"
		}
		if x.Return != nil {
			name += " gives " + x.Return.Type.Text
		}
		members = append(members, name)
	}
	want := "field label, field heat, field fired, field ware, field format, field open, field full to read, method times gives number, method reset gives void"
	if got := strings.Join(members, ", "); got != want {
		t.Errorf("its members are\n%s, want\n%s", got, want)
	}
}

// TestFiles: which files are written, by the options.
func TestFiles(t *testing.T) {
	d := parse(t, "component kiln-lamp {\n  holds lit: boolean = false\n  view { button \"Light\" { click -> lit = !lit } }\n}\nstart kiln-lamp\n")
	const elements = "components/kiln-lamp.js custom-elements.json design.js lien.js types.d.ts"
	for _, c := range []struct {
		o    Options
		want string
	}{
		{Options{Start: d.Starts[0]}, "components/kiln-lamp.js custom-elements.json design.js index.html lien.js page.js types.d.ts"},
		{Options{}, elements},
		{Options{Minify: true}, elements},
		{Options{Start: d.Starts[0], OneFile: true}, "index.html"},
		{Options{Start: d.Starts[0], OneFile: true, Minify: true}, "index.html"},
	} {
		list, err := Build(d, c.o)
		if err != nil {
			t.Fatal(err)
		}
		var names []string
		for _, f := range list {
			names = append(names, f.Path)
			if says := strings.HasPrefix(string(f.Text), "// "); strings.HasSuffix(f.Path, ".js") && says == c.o.Minify {
				t.Errorf("%+v: does %s say what it is? %.40s", c.o, f.Path, f.Text)
			}
			if f.Path == "index.html" && !c.o.OneFile && strings.Contains(string(f.Text), "kiln-lamp\"") {
				t.Errorf("a program stands in the document: %s", f.Text)
			}
		}
		if got := strings.Join(names, " "); got != c.want {
			t.Errorf("%+v: %s, want %s", c.o, got, c.want)
		}
	}
}
