package story

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/engine"
	"lien/core/html"
	"lien/core/syntax"
	"lien/core/value"
)

// StepText writes a cause as a step of a scenario; a timer that fires is
// "", since it takes no more than time.
func StepText(e *engine.Engine, s *engine.Cause) string {
	switch s.Verb {
	case engine.Elapse:
		return ""
	case engine.Reply, engine.Fail:
		text := answerText(e, s)
		if says := e.Says(s); says != "" {
			text += " with " + quoted(says)
		}
		return text
	case engine.Call:
		return fmt.Sprintf("call %s.%s()", e.Root(), s.Method.Label)
	case engine.Blur:
		return "blur"
	}
	if s.Element == nil {
		return alone(s)
	}
	return acted(e, s, targetOf(e, s.Element))
}

// alone writes a cause that has no element: a key where the focus is, and what the mouse does where none is.
func alone(s *engine.Cause) string {
	if s.Verb == engine.Key {
		return "key " + quoted(s.Text)
	}
	return string(s.Verb) + " outside" + holding(s.Text)
}

func acted(e *engine.Engine, s *engine.Cause, target string) string {
	switch s.Verb {
	case engine.Type:
		if s.Text == "" {
			return "clear " + target
		}
		if s.Element.InputType() == "file" {
			return "choose " + quoted(s.Text) + " in " + target
		}
		return "type " + quoted(s.Text) + " into " + target
	case engine.Choose:
		for _, o := range s.Element.Options() {
			if o.LiveValue() == s.Text {
				return "choose " + quoted(e.Name(o)) + " in " + target
			}
		}
	case engine.Double:
		return "press " + target + " twice" + holding(s.Text)
	case engine.Press, engine.Right, engine.Hold, engine.Release:
		return string(s.Verb) + " " + target + holding(s.Text)
	case engine.Carry:
		if s.Onto == nil {
			return "drag " + target + " outside"
		}
		return "drag " + target + " onto " + targetOf(e, s.Onto)
	case engine.Put:
		return "set " + target + " to " + s.Text
	case engine.Key:
		return "key " + quoted(s.Text) + " on " + target
	case engine.Tick:
		switch s.Element.Role() {
		case "checkbox", "radio", "switch", "menuitemcheckbox", "menuitemradio":
			if slices.Contains(e.States(s.Element), "checked") {
				return "untick " + target
			}
			return "tick " + target
		}
		return "press " + target
	}
	return string(s.Verb) + " " + target
}

// holding tells of the keys that are held.
func holding(keys string) string {
	if keys == "" {
		return ""
	}
	return " with " + quoted(keys)
}

// answerText names the question by its arguments, where several wait that differ, and
// by its place among those that do not.
func answerText(e *engine.Engine, s *engine.Cause) string {
	op, args := s.Asked()
	text := fmt.Sprintf("%s %s.%s", s.Verb, op.Service.Name, op.Name)
	byArgs, nth := e.Meant(s)
	if byArgs {
		list := make([]string, len(args))
		for i, a := range args {
			list[i] = value.Show(a)
		}
		text += "(" + strings.Join(list, ", ") + ")"
	}
	if nth > 1 {
		text += fmt.Sprintf(" %d", nth)
	}
	return text
}

func quoted(s string) string { return value.Show(value.String(s)) }

// targetOf names an element so that no other is meant: by role and name, then
// by what it stands in that has a name of its own; failing that by its place among
// those that are named alike.
func targetOf(e *engine.Engine, el *engine.Element) string {
	own := targets(e, el)
	for _, t := range own {
		if only(e, t, el) {
			return written(t)
		}
	}
	for p := el.Parent(); p != nil; p = p.Parent() {
		for _, outer := range targets(e, p) {
			if p.Role() == "generic" || !html.NamedByContent(p.Role()) && outer.Name == nil && outer.Containing == nil || len(Find(e, outer)) != 1 {
				continue
			}
			for _, t := range own {
				in := *t
				in.In = outer
				if only(e, &in, el) {
					return written(&in)
				}
			}
		}
	}
	for _, t := range own {
		if at := slices.Index(Find(e, t), el); at >= 0 {
			nth := *t
			nth.Nth = &syntax.NumberLit{Value: float64(at + 1)}
			return written(&nth)
		}
	}
	return placeOf(e, el)
}

// placeOf names an element by its component and the place of that.
func placeOf(e *engine.Engine, el *engine.Element) string {
	component := el.Instance().String()
	place := 0
	var before *engine.Instance
	e.Elements(func(o *engine.Element) bool {
		if o.Instance().String() == component && o.Instance() != before {
			before = o.Instance()
			place++
		}
		return o.Instance() != el.Instance()
	})
	return fmt.Sprintf("%s %d", component, place)
}

// targets are ways to name an element, the plainest first.
func targets(e *engine.Engine, el *engine.Element) []*syntax.Target {
	var list []*syntax.Target
	role, name := el.Role(), e.Name(el)
	if role == "" && html.IsRoleless(el.Tag()) {
		role, name = el.Tag(), nameOf(e.DOM(), &el.Element)
	}
	if html.IsRole(role) || html.IsRoleless(role) {
		if name != "" {
			list = append(list, &syntax.Target{Role: role, Name: &syntax.Text{Value: name}})
		} else {
			list = append(list, &syntax.Target{Role: role})
		}
		if text := strings.TrimSpace(e.Text(el)); name == "" && text != "" && len(text) < 60 && !html.NamedByContent(role) {
			list = append(list, &syntax.Target{Role: role, Containing: &syntax.Text{Value: text}})
		}
	}
	for _, c := range el.Classes() {
		list = append(list, &syntax.Target{Class: &syntax.Text{Value: "." + c}})
	}
	return list
}

func only(e *engine.Engine, t *syntax.Target, el *engine.Element) bool {
	list := Find(e, t)
	return len(list) == 1 && list[0] == el
}

func written(t *syntax.Target) string {
	s := t.Role
	switch {
	case t.Class != nil:
		s = quoted(t.Class.Value)
	case t.Name != nil:
		s += " " + quoted(t.Name.Value)
	case t.Containing != nil:
		s += " containing " + quoted(t.Containing.Value)
	}
	if n, ok := t.Nth.(*syntax.NumberLit); ok {
		s += " " + value.FormatNumber(n.Value)
	}
	if t.In != nil {
		s += " in " + written(t.In)
	}
	return s
}
