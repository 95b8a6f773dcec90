package reshape

import (
	"flag"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"lien/core/check"
	"lien/core/compare"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/form"
	"lien/core/syntax"
)

var judge = flag.Bool("judge", false, "try every edit, and compare for longer")

// TestEveryEdit: whatever is asked of the examples ends in a design that nobody can tell from the one before, or in
// a refusal that says why and what to do. Nothing ends in a design that does not pass check.
func TestEveryEdit(t *testing.T) {
	files, _ := filepath.Glob("../../examples/*.lien")
	if len(files) < 10 {
		t.Fatal("there are no examples")
	}
	made, refused := 0, 0
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		d := design.Parse("kiln.lien", string(text))
		if d.Failed() {
			continue // it uses files beside it
		}
		for i, e := range everyEdit(d, Reparse(d)) {
			if !*judge && i%11 != 0 {
				continue
			}
			m, r := tryEdit(t, filepath.Base(name), d, e)
			made, refused = made+m, refused+r
		}
	}
	if *judge {
		d, reload := theDemo(t)
		for _, e := range everyEdit(d, reload) {
			m, r := tryEdit(t, "the demo", d, e)
			made, refused = made+m, refused+r
		}
	}
	t.Logf("%d edits made, %d refused; %d of one form, %d not", made, refused, formed[true], formed[false])
	if made < 15 {
		t.Errorf("only %d edits were made", made)
	}
}

// theDemo is the kiln room, and a way to read it with other texts.
func theDemo(t *testing.T) (*design.Design, Reload) {
	t.Helper()
	files := fstest.MapFS{}
	names, _ := filepath.Glob("../../demo/kiln-room/*")
	for _, name := range names {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		files[filepath.Base(name)] = &fstest.MapFile{Data: text}
	}
	read := func(texts map[string]string) (*design.Design, error) {
		now := maps.Clone(files)
		for name, text := range texts {
			now[name] = &fstest.MapFile{Data: []byte(text)}
		}
		return design.Load(now, ".", func(name string) string { return name })
	}
	d, err := read(nil)
	if err != nil || d.Failed() {
		t.Fatal("the demo cannot be read", err)
	}
	return d, read
}

// formed counts the edits that the form alone shows to be alike, and the others.
var formed = map[bool]int{}

// oneEdit is an edit and what it is called.
type oneEdit struct {
	name string
	make func() (*Result, error)
}

// everyEdit are edits of every cell, component, member and line of a view.
func everyEdit(d *design.Design, reload Reload) (list []oneEdit) {
	add := func(name string, make func() (*Result, error)) { list = append(list, oneEdit{name, make}) }
	for _, c := range d.Components {
		add("inline "+c.Name, func() (*Result, error) { return Inline(d, c, "", 0, reload) })
		for _, m := range c.Members {
			name := c.Name + "." + m.Label
			if m.Label[0] == ' ' || m.Implied {
				continue
			}
			add("rename "+name, func() (*Result, error) { return Rename(d, name, "another", reload) })
			if m.Kind == design.Takes || m.Kind == design.Shares || c.IsContext && m.IsCell() {
				for _, as := range []string{AsReport, AsTie, AsFunction, AsContext, AsMethod} {
					add("relink "+name+" --as "+as, func() (*Result, error) { return Relink(d, m, as, "", reload) })
				}
			}
			if m.Kind != design.Holds {
				continue
			}
			for _, as := range []string{"", AsReport, AsTie, AsFunction} {
				add("lift "+name+" --as "+as, func() (*Result, error) { return Lift(d, m, LiftOptions{As: as}, reload) })
			}
			add("lower "+name, func() (*Result, error) { return Lower(d, m, "", reload) })
			add("supply "+name, func() (*Result, error) { return Supply(d, []*design.Member{m}, "handed", reload) })
			add("split "+name, func() (*Result, error) { return Split(d, m, reload) })
		}
	}
	for _, f := range d.Files {
		for _, decl := range f.Decls {
			c, ok := decl.(*syntax.Component)
			if !ok || viewOf(c) == nil {
				continue
			}
			v := viewOf(c)
			for line := f.Source.LineOf(v.Start); line <= f.Source.LineOf(v.Stop-1); line++ {
				add(fmt.Sprintf("extract %s:%d", f.Source.Name, line), func() (*Result, error) {
					return Extract(d, ExtractOptions{File: f.Source.Name, From: line, Name: "cut-part"}, reload)
				})
			}
		}
	}
	return list
}

// tryEdit makes an edit, and holds what comes of it to what is promised.
func tryEdit(t *testing.T, file string, d *design.Design, e oneEdit) (made, refused int) {
	t.Helper()
	res, err := e.make()
	if err != nil {
		r := err.(*Refusal)
		if r.Why == "" || strings.Contains(r.Why, "two changes meet") || strings.Contains(r.Why, "could not be read afterwards") || strings.Contains(r.Why, "would not pass check") {
			t.Errorf("%s: %s: it is refused with no true reason: %s; %s", file, e.name, r.Why, r.Do)
		}
		return 0, 1
	}
	for _, f := range freshFindings(d, res.Design) {
		t.Errorf("%s: %s: %s", file, e.name, f.Message)
	}
	if finding.Failed(check.Run(res.Design, check.Options{})) {
		t.Errorf("%s: %s: the design has errors", file, e.name)
		return 1, 0
	}
	o := compare.Options{Pairs: 300, Time: time.Second, Plain: true}
	if *judge && file != "the demo" { // whose turns take longer
		o = compare.Options{Pairs: 3000, Time: 3 * time.Second, Plain: true}
	}
	rep := compare.Run(d, res.Design, o)
	oneForm := 0
	for k, s := range d.Starts {
		if k < len(res.Design.Starts) && form.Alike(d, res.Design, s, res.Design.Starts[k]) == "" {
			oneForm++
		}
	}
	formed[oneForm == len(d.Starts)]++
	for _, s := range rep.Starts {
		if s.Difference != nil && oneForm == len(d.Starts) {
			t.Errorf("%s: %s: the designs have one form, and can be told: %s %v", file, e.name, s.Difference.What, s.Difference.Steps)
		}
		if s.Difference != nil && !toldOfNames(e.name) && !strings.Contains(e.name, "--one") {
			t.Errorf("%s: %s: it can be told: %s %v", file, e.name, s.Difference.What, s.Difference.Steps)
		}
	}
	return 1, 0
}

// toldOfNames says whether an edit gives another name to what the root reports.
func toldOfNames(name string) bool { return strings.HasPrefix(name, "rename ") }
