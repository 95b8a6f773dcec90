package drive

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"lien/core/drive/webdriver"
	"lien/core/page"
	"lien/core/page/markup"
)

// randomPage makes a page of controls in boxes, with handlers that get in the way. What is hidden
// moves nothing else: everything has its place.
type randomPage struct {
	r      *rand.Rand
	s      *sample
	n      int
	leaves []string // that can be pressed
	all    []string
	out    strings.Builder
}

func makePage(seed uint64) *sample {
	g := &randomPage{r: rand.New(rand.NewPCG(seed, 13)), s: &sample{file: "random", line: int(seed), name: "random"}}
	boxes := 1 + g.r.IntN(3)
	for i := range boxes {
		g.box(i)
	}
	g.s.markup = g.out.String()
	for range 1 + g.r.IntN(4) {
		g.handler()
	}
	return g.s
}

func (g *randomPage) id(list *[]string) string {
	g.n++
	id := fmt.Sprintf("e%d", g.n)
	g.all = append(g.all, id)
	if list != nil {
		*list = append(*list, id)
	}
	return id
}

func (g *randomPage) one(list ...string) string { return list[g.r.IntN(len(list))] }

func (g *randomPage) box(i int) {
	tag := g.one("div", "div", "fieldset", "form", "section", "p-box", "form novalidate", "fieldset disabled", "div tabindex=-1", "div inert")
	tag = strings.Replace(tag, "p-box", "div", 1)
	id := g.id(nil)
	fmt.Fprintf(&g.out, "<%s id=%s style=\"position:absolute;left:%dpx;top:0;width:360px;height:560px;margin:0;padding:0;border:0\">\n", tag, id, 10+i*380)
	for k := range 2 + g.r.IntN(4) {
		g.leaf(k)
	}
	name, _, _ := strings.Cut(tag, " ")
	fmt.Fprintf(&g.out, "</%s>\n", name)
}

func (g *randomPage) leaf(k int) {
	place := fmt.Sprintf("style=\"position:absolute;left:5px;top:%dpx;width:120px;height:30px;margin:0\"", 10+k*60)
	more := g.one("", "", "", "", "tabindex=1", "tabindex=-1", "disabled", "hidden")
	list := &g.leaves
	if more == "hidden" {
		list = nil
	}
	kind := g.one("button", "button", "text", "text", "checkbox", "radio", "radio", "area", "number", "focusable", "plain", "select", "submit", "required", "label", "search", "email", "max", "range", "reset")
	if kind == "select" {
		list = nil // a press opens a list of the browser's own
	}
	id := g.id(list)
	switch kind {
	case "button":
		fmt.Fprintf(&g.out, "<button type=button id=%s %s %s>B</button>\n", id, more, place)
	case "submit", "reset":
		fmt.Fprintf(&g.out, "<button type=%s id=%s %s %s>S</button>\n", kind, id, more, place)
	case "area":
		fmt.Fprintf(&g.out, "<textarea id=%s %s %s>ab</textarea>\n", id, more, place)
	case "focusable":
		fmt.Fprintf(&g.out, "<div id=%s tabindex=0 %s>D</div>\n", id, place)
	case "plain":
		fmt.Fprintf(&g.out, "<p id=%s %s>text</p>\n", id, place)
	case "label":
		fmt.Fprintf(&g.out, "<label id=%s for=e%d %s>L</label>\n", id, max(1, g.n-1), place)
	case "select":
		fmt.Fprintf(&g.out, "<select id=%s %s %s><option>ash<option disabled>bisque<option>celadon</select>\n", id, more, place)
	case "required", "max":
		fmt.Fprintf(&g.out, "<input id=%s %s %s %s>\n", id, map[string]string{"required": "required", "max": "maxlength=2"}[kind], more, place)
	case "radio":
		fmt.Fprintf(&g.out, "<input id=%s type=radio name=%s %s %s>\n", id, g.one("r", "r", "s"), more, place)
	default:
		fmt.Fprintf(&g.out, "<input id=%s type=%s %s %s>\n", id, kind, more, place)
	}
}

func (g *randomPage) handler() {
	h := hearing{id: g.all[g.r.IntN(len(g.all))]}
	any := func() string { return g.all[g.r.IntN(len(g.all))] }
	h.event = g.one("pointerdown", "mousedown", "mouseup", "click", "focus", "blur", "focusin", "focusout", "keydown", "keyup", "keypress", "beforeinput",
		"input", "change", "submit", "invalid", "reset", "mousedown", "click", "keydown")
	var acts [][]string
	switch g.r.IntN(9) {
	case 0, 1:
		acts = [][]string{{"prevent"}}
	case 2:
		acts = [][]string{{"log"}, {"stop"}}
	case 3:
		acts = [][]string{{"hide", any()}}
	case 4:
		acts = [][]string{{"set", any(), "disabled", "x"}}
	case 5:
		acts = [][]string{{"remove", any()}}
	case 6:
		acts = [][]string{{"show", any()}, {"unset", any(), "disabled"}}
	case 7: // what moves the focus as it moves has no end
		h.event = g.one("mousedown", "click", "keydown", "keyup", "input", "change")
		acts = [][]string{{"focus", any()}}
	case 8:
		acts = [][]string{{"log"}, {"check", any()}}
	}
	h.does = acts
	g.s.hears = append(g.s.hears, h)
}

// walk takes gestures at random on the simulated page, such as a mouse and a keyboard can take
// there, and writes down all that happens.
func walk(s *sample, leaves []string, steps int) ([]string, error) {
	tree, err := markup.Parse(s.markup)
	if err != nil {
		return nil, err
	}
	m := &simulation{tree: tree, hears: s.hears}
	tree.Heard = m.heard
	r := rand.New(rand.NewPCG(uint64(s.line), 14))
	for range steps {
		g, ok := m.gesture(r, leaves)
		if !ok {
			continue
		}
		s.gestures = append(s.gestures, g)
		m.lines = append(m.lines, "> "+g.String())
		if err := m.do(g); err != nil {
			return m.lines, err
		}
	}
	return append(m.lines, m.state()...), nil
}

func (m *simulation) gesture(r *rand.Rand, leaves []string) (g gesture, ok bool) {
	if r.IntN(2) == 0 && len(leaves) > 0 {
		id := leaves[r.IntN(len(leaves))]
		el := m.find(id)
		if el == nil || !el.Usable() {
			return g, false
		}
		verb := []string{"press", "press", "press", "double", "right"}[r.IntN(5)]
		if verb == "right" && el.Disabled() {
			return g, false // where Tab goes on from then is the browser's secret
		}
		return gesture{verb: verb, args: []string{id}}, true
	}
	keys := []string{"Tab", "Tab", "Tab", "Shift+Tab", "Enter", "Space", "x", "y", "5", "Backspace", "Delete", "ArrowDown", "ArrowUp", "ArrowLeft", "Home", "End", "Escape"}
	key := keys[r.IntN(len(keys))]
	focus := m.tree.Focus()
	if strings.HasSuffix(key, "Tab") && m.tree.NextStop(key != "Tab") == nil {
		return g, false // it would leave the page for the browser's own controls
	}
	if focus != nil && focus.Tag() == "select" && (key == "Space" || key == "Enter" || key == "Escape") {
		return g, false // it would open a list of the browser's own
	}
	return gesture{verb: "key", args: []string{key}}, true
}

// replay takes the gestures of a page in a browser, one right after the other.
func (b browser) replay(s *sample) ([]string, error) {
	if err := b.load(s); err != nil {
		return nil, err
	}
	refs := map[string]webdriver.Element{}
	a := &webdriver.Actions{}
	for i, g := range s.gestures {
		a.KeyDown("F9").KeyUp("F9").Pause(frame) // which tells where the next gesture begins
		if g.verb == "key" {
			keyedInto(a, g.args[0])
			continue
		}
		ref, ok := refs[g.args[0]]
		if !ok {
			var err error
			if ref, err = b.element(g.args[0]); err != nil {
				return nil, err
			}
			refs[g.args[0]] = ref
		}
		a.MoveTo(ref, i%8*6-20, 0) // two presses at one point would be a double press
		switch g.verb {
		case "press":
			a.Down(0).Pause(frame).Up(0)
		case "double":
			a.Down(0).Pause(frame).Up(0).Pause(frame).Down(0).Pause(frame).Up(0)
		case "right":
			a.Down(webdriver.Secondary).Pause(frame).Up(webdriver.Secondary)
		}
	}
	if err := b.Perform(a); err != nil {
		return nil, err
	}
	return b.taken()
}

// frame is how many milliseconds it takes until a browser has drawn a page, at the least.
const frame = 24

// keyedInto presses a chord, with a rest before it is let go of.
func keyedInto(a *webdriver.Actions, chord string) {
	keys := strings.Split(chord, "+")
	for _, k := range keys {
		a.KeyDown(keyName(k))
	}
	a.Pause(frame)
	for _, k := range slices.Backward(keys) {
		a.KeyUp(keyName(k))
	}
}

// TestRandomPages: on pages made at random, with gestures at random, both hear the same and come to
// the same.
func TestRandomPages(t *testing.T) {
	pages := 4
	if *mustDrive {
		pages = 600
	}
	d := startDriver(t)
	var gestures atomic.Int64
	inWindows(t, d, pages, func(b browser, job int) string {
		if secrets[uint64(job)] != "" {
			return ""
		}
		n, diff := compareRandom(b, uint64(job))
		if diff != "" {
			return fmt.Sprintf("page %d\n%s", job, diff)
		}
		gestures.Add(int64(n))
		return ""
	})
	t.Logf("%d gestures on %d pages", gestures.Load(), pages)
	if !t.Failed() && gestures.Load() < int64(5*pages) {
		t.Errorf("only %d gestures were taken", gestures.Load())
	}
}

// secrets are pages on which the browser does what no standard says, and no page relies on.
var secrets = map[uint64]string{
	808: "Tab leaves the page for the browser's own controls, and comes back by itself",
	972: "a key goes to a number field and, as a handler moves the focus, half to a list",
}

func compareRandom(b browser, seed uint64) (gestures int, diff string) {
	s := makePage(seed)
	got, err := walk(s, pressable(s), 14)
	if err != nil {
		return 0, err.Error() + "\n" + s.describe()
	}
	want, err := b.replay(s)
	if err != nil {
		return 0, "in the browser: " + err.Error() + "\n" + s.describe()
	}
	want = marked(want, s)
	// What a page does by itself as it is drawn may come before or after the next gesture begins.
	if slices.Equal(unmarked(want), unmarked(got)) {
		return len(s.gestures), ""
	}
	at := 0
	for at < len(want) && at < len(got) && want[at] == got[at] {
		at++
	}
	from := max(0, at-12)
	cut := func(list []string) []string { return list[min(from, len(list)):min(at+10, len(list))] }
	return len(s.gestures), s.describe() + sideBySide(cut(want), cut(got))
}

// marked puts the gestures where the key stood that told of their beginning.
func marked(lines []string, s *sample) (out []string) {
	n := 0
	for _, l := range lines {
		switch {
		case strings.HasPrefix(l, "keydown@") && strings.HasSuffix(l, " F9"):
			if n < len(s.gestures) {
				out = append(out, "> "+s.gestures[n].String())
			}
			n++
		case strings.HasSuffix(l, " F9"):
		default:
			out = append(out, l)
		}
	}
	return out
}

func unmarked(lines []string) []string {
	return slices.DeleteFunc(slices.Clone(lines), func(l string) bool { return strings.HasPrefix(l, "> ") })
}

// pressable are the leaves of a page that are not hidden, and no lists.
func pressable(s *sample) (list []string) {
	tree, err := markup.Parse(s.markup)
	if err != nil {
		return nil
	}
	tree.Elements(func(el *page.Element) bool {
		if el.Up != tree.Page.Body && el.Tag() != "select" && el.Tag() != "option" && el.InputType() != "range" {
			list = append(list, el.Get("id"))
		}
		return true
	})
	return list
}

func (s *sample) describe() string {
	out := s.markup
	for _, h := range s.hears {
		var acts []string
		for _, does := range h.does {
			acts = append(acts, strings.Join(does, " "))
		}
		out += fmt.Sprintf("on %s %s: %s\n", h.id, h.event, strings.Join(acts, "; "))
	}
	for _, g := range s.gestures {
		out += "> " + g.String() + "\n"
	}
	return out
}
