package drive

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lien/core/page"
	"lien/core/page/markup"
)

// simulation is a sample on the simulated page.
type simulation struct {
	tree  *markup.Tree
	hears []hearing
	moves bool
	lines []string
}

// silent are the events that are not written down, as in judge.js.
var silent = []string{"mousemove", "pointermove", "pointerover", "pointerout", "pointerenter", "pointerleave", "mouseover", "mouseout", "mouseenter", "mouseleave"}

// simulate takes the gestures of a sample on the simulated page.
func simulate(s *sample) ([][]string, error) {
	tree, err := markup.Parse(s.markup)
	if err != nil {
		return nil, err
	}
	m := &simulation{tree: tree, hears: s.hears, moves: s.moves}
	tree.Heard = m.heard
	if err := tree.Autofocus(); err != nil {
		return nil, err
	}
	if err := tree.Settle(); err != nil {
		return nil, err
	}
	out := [][]string{append(m.lines, m.state()...)}
	for _, g := range s.gestures {
		m.lines = nil
		if err := m.do(g); err != nil {
			return out, fmt.Errorf("%s: %w", g, err)
		}
		out = append(out, append(m.lines, m.state()...))
	}
	return out, nil
}

func (m *simulation) heard(ev *page.Event) error {
	if ev.Name != "drag" && (m.moves || !slices.Contains(silent, ev.Name)) && ev.Reaches() {
		m.lines = append(m.lines, ev.Name+"@"+idOf(ev.Target)+m.detail(ev))
	}
	for _, el := range ev.Path() {
		for _, h := range m.hears {
			if h.id == idOf(el) && h.event == ev.Name {
				if err := m.act(h, ev, el); err != nil {
					return err
				}
			}
		}
		if ev.Stopped {
			break
		}
	}
	return nil
}

func (m *simulation) detail(ev *page.Event) string {
	switch {
	case strings.HasPrefix(ev.Name, "key"):
		return " " + ev.Key
	case ev.Name == "toggle" || ev.Name == "beforetoggle":
		return " " + ev.State
	}
	return ""
}

func idOf(el *page.Element) string {
	if el == nil {
		return "body"
	}
	if id := el.Get("id"); id != "" {
		return id
	}
	return el.Tag()
}

func (m *simulation) find(id string) *page.Element {
	if id == "body" {
		return m.tree.Body
	}
	return m.tree.ByID(id)
}

func (m *simulation) act(h hearing, ev *page.Event, el *page.Element) error {
	for _, does := range h.does {
		verb, args := does[0], does[1:]
		switch verb {
		case "prevent":
			ev.Prevented = true
		case "stop":
			ev.Stopped = true
		case "log":
			m.lines = append(m.lines, strings.TrimRight("  "+idOf(el)+" hears "+ev.Name+" "+strings.Join(args, " "), " "))
		case "inside":
			if el.Contains(ev.Related) {
				m.lines = append(m.lines, "  "+idOf(el)+" keeps the focus")
			} else {
				m.lines = append(m.lines, "  "+idOf(el)+" loses the focus")
			}
		default:
			if err := m.change(verb, args); err != nil {
				return err
			}
		}
	}
	return nil
}

// change does to the page what a program does.
func (m *simulation) change(verb string, args []string) error {
	el := m.find(args[0])
	if el == nil {
		return nil
	}
	n, _ := el.Source.(*markup.Node)
	props := el.Live()
	switch verb {
	case "focus":
		return m.tree.FocusOn(el)
	case "blur":
		return m.tree.Blur(el)
	case "click":
		return m.tree.Click(el)
	case "hide":
		n.SetAttr("hidden", "", true)
	case "show":
		n.SetAttr("hidden", "", false)
	case "remove":
		return n.Remove()
	case "set":
		n.SetAttr(args[1], strings.Join(args[2:], " "), true)
		return m.reflected(el, args[1], true)
	case "unset":
		n.SetAttr(args[1], "", false)
		return m.reflected(el, args[1], false)
	case "value":
		m.tree.SetValue(el, strings.Join(args[1:], " "))
	case "check", "uncheck":
		props.Checked = verb == "check"
		m.tree.Set(el, props)
		if props.Checked {
			m.tree.Exclude(el)
		}
	case "call":
		return m.call(el, args[1], args[2:])
	default:
		return fmt.Errorf("no act %s", verb)
	}
	return nil
}

// reflected: the attribute open is the state of a details.
func (m *simulation) reflected(el *page.Element, name string, on bool) error {
	if name == "open" && el.Tag() == "details" {
		return m.tree.OpenDetails(el, on)
	}
	return nil
}

func (m *simulation) call(el *page.Element, method string, args []string) error {
	return m.tree.Call(el, method, strings.Join(args, " "))
}

func (m *simulation) do(g gesture) error {
	t := m.tree
	if g.verb == "key" {
		return t.Key(strings.ReplaceAll(g.args[0], "Space", " "))
	}
	if g.args[0] == "outside" {
		return t.Press(t.Body, page.Mouse{})
	}
	el := m.find(g.args[0])
	if el == nil {
		return fmt.Errorf("there is no #%s", g.args[0])
	}
	switch g.verb {
	case "press":
		return t.Press(el, page.Mouse{})
	case "double":
		return t.Press(el, page.Mouse{Double: true})
	case "right":
		return t.Press(el, page.Mouse{Right: true})
	case "hold":
		return t.Hold(el, page.Mods{})
	case "release":
		return t.Release(el, page.Mods{})
	case "hover":
		return t.Hover(el)
	case "drag":
		return t.Drag(el, m.find(g.args[1]))
	case "focus":
		return t.FocusOn(el)
	case "blur":
		return t.Blur(el)
	case "script":
		if err := m.change(g.args[1], append([]string{g.args[0]}, g.args[2:]...)); err != nil {
			return err
		}
		return t.Settle()
	case "type":
		return t.Type(el, g.text)
	case "choose":
		for _, o := range el.Options() {
			if o.OptionValue() == g.text {
				return t.Choose(el, o)
			}
		}
		return fmt.Errorf("no option %s", g.text)
	}
	return fmt.Errorf("no gesture %s", g.verb)
}

// state is what is so now, as judge.js writes it.
func (m *simulation) state() []string {
	t := m.tree
	lines := []string{"focus " + idOf(t.Focus())}
	t.Elements(func(el *page.Element) bool {
		if !el.Has("id") || el.Tag() == "option" {
			return true
		}
		if is := m.stateOf(el); len(is) > 0 {
			lines = append(lines, idOf(el)+" "+strings.Join(is, " "))
		}
		return true
	})
	return lines
}

func (m *simulation) stateOf(el *page.Element) (is []string) {
	t, props := m.tree, el.Live()
	add := func(text string, on bool) {
		if on {
			is = append(is, text)
		}
	}
	switch el.Tag() {
	case "input", "textarea", "select":
		add(strconv.Quote(t.Value(el)), el.InputType() != "file")
		add("checked", props.Checked)
		add("mixed", props.Indeterminate)
		add("invalid", !t.Valid(el))
		if el.Tag() == "select" && el.Has("multiple") {
			var list []string
			for _, o := range t.ChosenOptions(el) {
				list = append(list, o.OptionValue())
			}
			add("["+strings.Join(list, " ")+"]", true)
		}
	case "details", "dialog":
		add("open", props.Open)
		add("closed", !props.Open)
	}
	add("shown", el.IsPopover() && props.Open)
	if el.Has("contenteditable") && el.Editable() {
		add(strconv.Quote(el.Content()), true)
	}
	add("unseen", !el.Rendered())
	return is
}
