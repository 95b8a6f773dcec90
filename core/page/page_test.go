package page_test

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/page"
	"lien/core/page/markup"
)

// parsed is a page of plain markup.
func parsed(t *testing.T, text string) *markup.Tree {
	t.Helper()
	tree, err := markup.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return tree
}

// TestValid: which values fulfil the constraints of a field (HTML, 4.10.21).
func TestValid(t *testing.T) {
	for _, c := range []struct {
		markup string
		valid  bool
	}{
		{`<input id=x required>`, false},
		{`<input id=x required value=a>`, true},
		{`<input id=x required readonly>`, true},
		{`<input id=x required disabled>`, true},
		{`<fieldset disabled><input id=x required></fieldset>`, true},
		{`<fieldset disabled><legend><input id=x required></legend></fieldset>`, false},
		{`<datalist><input id=x required></datalist>`, true},
		{`<input id=x type=checkbox required>`, false},
		{`<input id=x type=checkbox required checked>`, true},
		{`<input id=x type=radio name=r required><input type=radio name=r>`, false},
		{`<input id=x type=radio name=r required><input type=radio name=r checked>`, true},
		{`<select id=x required><option value="">none<option>a</select>`, false},
		{`<select id=x required><option value="">none<option selected>a</select>`, true},
		{`<select id=x required multiple><option>a</select>`, false},
		{`<textarea id=x required></textarea>`, false},
		{`<textarea id=x required>a</textarea>`, true},
		{`<input id=x type=email value=ada>`, false},
		{`<input id=x type=email value=ada@kiln.example>`, true},
		{`<input id=x type=email value="ada@-kiln">`, false},
		{`<input id=x type=email multiple value="a@b, c">`, false},
		{`<input id=x type=url value=kiln>`, false},
		{`<input id=x type=url value="mailto:a">`, true},
		{`<input id=x pattern="\p{Lu}+" value=AB>`, true},
		{`<input id=x pattern="a|b" value=ab>`, false},
		{`<input id=x pattern="(?=a)." value=a>`, true},
		{`<input id=x pattern="(" value=a>`, true},
		{`<input id=x type=number min=2 value=1>`, false},
		{`<input id=x type=number max=2 value=3>`, false},
		{`<input id=x type=number step=0.1 value=0.7>`, true},
		{`<input id=x type=number step=0.5 min=0 value=0.7>`, false},
		{`<input id=x type=number step=0.5 value=0.7>`, true}, // steps are counted from the value attribute
		{`<input id=x type=number min=1 step=3 value=7>`, true},
		{`<input id=x type=date min=2026-02-01 value=2026-01-31>`, false},
		{`<input id=x type=date step=2 min=2026-01-01 value=2026-01-03>`, true},
		{`<input id=x type=month max=2026-06 value=2026-07>`, false},
		{`<input id=x type=week min=2026-W10 value=2026-W09>`, false},
		{`<input id=x type=time min=22:00 max=06:00 value=23:00>`, true},
		{`<input id=x type=time min=22:00 max=06:00 value=12:00>`, false},
		{`<input id=x type=datetime-local min=2026-01-01T10:00 value=2026-01-01T09:59>`, false},
		{`<input id=x minlength=3 value=ab>`, true}, // nobody typed it
		{`<button id=x>b</button>`, true},
	} {
		tree := parsed(t, c.markup)
		if got := tree.Valid(tree.ByID("x")); got != c.valid {
			t.Errorf("%s: valid is %v", c.markup, got)
		}
	}
}

// TestValue: what fields hold after the value sanitization of their types.
func TestValue(t *testing.T) {
	for _, c := range []struct{ markup, want string }{
		{`<input id=x value=a>`, "a"},
		{`<input id=x type=number value=x>`, ""},
		{`<input id=x type=number value=1e2>`, "1e2"},
		{`<input id=x type=range>`, "50"},
		{`<input id=x type=range min=10 max=0>`, "10"},
		{`<input id=x type=range min=0 step=30 value=50>`, "60"},
		{`<input id=x type=range min=0 step=30 value=100>`, "90"},
		{`<input id=x type=date value=2026-02-30>`, ""},
		{`<input id=x type=week value=2026-W53>`, "2026-W53"},
		{`<input id=x type=week value=2025-W53>`, ""},
		{`<input id=x type=color value=red>`, "#000000"},
		{`<input id=x type=color value=#ABCDEF>`, "#abcdef"},
		{`<input id=x type=email value=" a@b ">`, "a@b"},
		{`<input id=x type=checkbox>`, "on"},
		{`<input id=x type=submit value=Go>`, "Go"},
		{`<textarea id=x>ab</textarea>`, "ab"},
		{`<select id=x><option>a<option selected>b</select>`, "b"},
		{`<select id=x><option disabled>a<option>b</select>`, "b"},
		{`<select id=x><optgroup disabled><option>a</optgroup><option>b</select>`, "b"},
		{`<select id=x size=3><option>a</select>`, ""},
		{`<select id=x><option> a   b </select>`, "a b"},
	} {
		tree := parsed(t, c.markup)
		if got := tree.Value(tree.ByID("x")); got != c.want {
			t.Errorf("%s: it holds %q, want %q", c.markup, got, c.want)
		}
	}
}

// TestSeen: what is rendered, inert and focusable.
func TestSeen(t *testing.T) {
	for _, c := range []struct{ markup, want string }{
		{`<button id=x>b</button>`, "rendered focusable"},
		{`<button id=x hidden>b</button>`, ""},
		{`<div hidden><button id=x>b</button></div>`, ""},
		{`<div hidden style="display:block"><button id=x>b</button></div>`, "rendered focusable"},
		{`<div style="DISPLAY: none !important"><button id=x>b</button></div>`, ""},
		{`<div style="color:red;background:url('display:none')"><button id=x>b</button></div>`, "rendered focusable"},
		{`<div style="visibility:hidden"><button id=x style="visibility:visible">b</button></div>`, "rendered focusable"},
		{`<div inert><button id=x>b</button></div>`, "rendered inert"},
		{`<details><button id=x>b</button></details>`, ""},
		{`<details><summary><button id=x>b</button></summary></details>`, "rendered focusable"},
		{`<details open><button id=x>b</button></details>`, "rendered focusable"},
		{`<dialog><button id=x>b</button></dialog>`, ""},
		{`<dialog open><button id=x>b</button></dialog>`, "rendered focusable"},
		{`<div popover><button id=x>b</button></div>`, ""},
		{`<template><button id=x>b</button></template>`, ""},
		{`<div id=x tabindex=-1>d</div>`, "rendered focusable"},
		{`<div id=x tabindex=no>d</div>`, "rendered"},
		{`<a id=x>a</a>`, "rendered"},
		{`<a id=x href="#">a</a>`, "rendered focusable"},
		{`<input id=x type=hidden>`, ""},
		{`<div contenteditable><span contenteditable=false id=x>a</span></div>`, "rendered"},
		{`<div contenteditable id=x>a</div>`, "rendered focusable"},
		{`<fieldset disabled><button id=x>b</button></fieldset>`, "rendered"},
	} {
		tree := parsed(t, c.markup)
		el := tree.ByID("x")
		if el == nil { // the content of a template is no part of the page
			el = &page.Element{}
			if c.want == "" {
				continue
			}
		}
		var is []string
		for _, s := range []struct {
			word string
			so   bool
		}{{"rendered", el.Rendered()}, {"inert", el.Inert()}, {"focusable", el.Focusable()}} {
			if s.so {
				is = append(is, s.word)
			}
		}
		if got := strings.Join(is, " "); got != c.want {
			t.Errorf("%s: it is %q, want %q", c.markup, got, c.want)
		}
	}
}

// TestFaults: what is told of a lost focus, and of one that Tab does not move.
func TestFaults(t *testing.T) {
	for _, c := range []struct {
		name   string
		does   func(tree *markup.Tree, ev *page.Event)
		gives  func(tree *markup.Tree) error
		lost   bool
		sticks bool
	}{
		{"a press that hides what has it", func(tree *markup.Tree, ev *page.Event) {
			if ev.Name == "click" {
				tree.ByID("a").Source.(*markup.Node).SetAttr("hidden", "", true)
			}
		}, func(tree *markup.Tree) error { return tree.Press(tree.ByID("a"), page.Mouse{}) }, true, false},
		{"a press that leaves all as it is", func(*markup.Tree, *page.Event) {},
			func(tree *markup.Tree) error { return tree.Press(tree.ByID("a"), page.Mouse{}) }, false, false},
		{"a press elsewhere", func(*markup.Tree, *page.Event) {}, func(tree *markup.Tree) error {
			return tree.Press(tree.Page.Body, page.Mouse{})
		}, false, false},
		{"a Tab that is prevented", func(_ *markup.Tree, ev *page.Event) { ev.Prevented = ev.Name == "keydown" },
			func(tree *markup.Tree) error { return tree.Key("Tab") }, false, true},
		{"a Tab that is not", func(*markup.Tree, *page.Event) {}, func(tree *markup.Tree) error { return tree.Key("Tab") }, false, false},
	} {
		tree := parsed(t, `<button id=a>a</button><button id=b>b</button>`)
		if err := tree.FocusOn(tree.ByID("a")); err != nil {
			t.Fatal(err)
		}
		tree.Heard = func(ev *page.Event) error { c.does(tree, ev); return nil }
		if err := c.gives(tree); err != nil {
			t.Fatal(err)
		}
		if f := tree.Fault(); (f.Lost != nil) != c.lost || (f.Stuck != nil) != c.sticks {
			t.Errorf("%s: %+v", c.name, f)
		}
	}
}

// TestFailing: an event whose handling fails ends its gesture, and what was put off is dropped.
func TestFailing(t *testing.T) {
	tree := parsed(t, `<details id=d><summary id=s>s</summary></details><button id=b>b</button>`)
	tree.Heard = func(ev *page.Event) error {
		if ev.Name == "click" && ev.Target == tree.ByID("b") {
			return fmt.Errorf("no")
		}
		return nil
	}
	if err := tree.Press(tree.ByID("b"), page.Mouse{}); err == nil {
		t.Error("the gesture went on")
	}
	tree.Forget()
	var heard []string
	tree.Heard = func(ev *page.Event) error { heard = append(heard, ev.Name); return nil }
	if err := tree.Press(tree.ByID("s"), page.Mouse{}); err != nil {
		t.Fatal(err)
	}
	if got := strings.Join(heard, " "); !strings.HasSuffix(got, "click toggle") {
		t.Errorf("after it was heard: %s", got)
	}
}
