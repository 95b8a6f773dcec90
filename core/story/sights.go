package story

import (
	"slices"
	"strings"

	"lien/core/aria"
	"lien/core/engine"
	"lien/core/html"
	"lien/core/page"
	"lien/core/syntax"
)

// mostSights is how many steps tell what came, and how many what went.
const mostSights = 6

// Sight is an element as a step asks for it.
type Sight struct {
	Full string // with its states and its value
	bare syntax.Target
}

// Sights are what the page shows.
func Sights(e *engine.Engine) []Sight {
	var list []Sight
	p := e.DOM()
	p.Elements(func(el *page.Element) bool {
		s := sight(p, el)
		if same := func(o Sight) bool { return o.Full == s.Full }; s.Full != "" && !slices.ContainsFunc(list, same) {
			list = append(list, s)
		}
		return true
	})
	return list
}

// sight is an element as a step asks for it; none where there is nothing to ask for by itself.
func sight(p *page.Page, el *page.Element) Sight {
	role := aria.Role(el)
	if role == "" || !html.IsRole(role) || role == "generic" || role == "none" || aria.Hidden(el) {
		return Sight{}
	}
	var parts []string
	for _, s := range aria.States(p, el) {
		if syntax.IsState(s) && s != "focused" {
			parts = append(parts, s)
		}
	}
	bare := syntax.Target{Role: role}
	name := aria.Name(p, el)
	if name != "" {
		bare.Name = &syntax.Text{Value: name}
	}
	switch role {
	case "textbox", "searchbox", "combobox", "spinbutton", "slider":
		parts = append(parts, written(&bare), "holding "+quoted(holds(p, el)))
		return Sight{strings.Join(parts, " "), bare}
	}
	if name == "" {
		text := collapse(aria.Text(el))
		if text == "" || len(text) >= 60 || hasElements(el) {
			return Sight{}
		}
		bare.Containing = &syntax.Text{Value: text}
	}
	return Sight{strings.Join(append(parts, written(&bare)), " "), bare}
}

// Seen are the steps that tell what the page shows now and did not show before, and what it shows no
// more.
func Seen(e *engine.Engine, before []Sight) (steps []string) {
	came, went := 0, 0
	for _, s := range Sights(e) {
		if same := func(o Sight) bool { return o.Full == s.Full }; came < mostSights && !slices.ContainsFunc(before, same) {
			steps = append(steps, "shows "+s.Full)
			came++
		}
	}
	for _, s := range before {
		if step := "lacks " + written(&s.bare); went < mostSights && !slices.Contains(steps, step) && len(Find(e, &s.bare)) == 0 {
			steps = append(steps, step)
			went++
		}
	}
	return steps
}
