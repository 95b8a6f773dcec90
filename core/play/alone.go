package play

import (
	"fmt"
	"strings"

	"lien/core/design"
	"lien/core/types"
	"lien/core/value"
)

// AloneName is the start that mounts a component by itself.
const AloneName = "alone"

// Alone writes a start that mounts a component by itself, with links that are
// given as they are written in a start, and made-up values for what is left.
func Alone(c *design.Component, given []string) (string, error) {
	links := append([]string(nil), given...)
	for _, m := range c.Members {
		if m.Kind != design.Takes || m.Init != nil || m.Implied || isGiven(m.Label, given) {
			continue
		}
		text, ok := literal(m.Type(), m.Label, 0)
		if !ok {
			return "", fmt.Errorf("%s takes %s: %s, for which no value can be made up", c.Name, m.Label, m.Type())
		}
		links = append(links, m.Label+" <- "+text)
	}
	return fmt.Sprintf("start %s %s { %s }\n", value.Show(value.String(AloneName)), c.Name, strings.Join(links, "; ")), nil
}

func isGiven(label string, given []string) bool {
	for _, g := range given {
		name, _, _ := strings.Cut(g, "<-")
		if strings.TrimSpace(name) == label {
			return true
		}
	}
	return false
}

// literal writes a value of a type.
func literal(t types.Type, label string, depth int) (string, bool) {
	if types.Nullable(t) {
		return "null", true
	}
	if depth > 8 { // a type that is made of itself has no end
		return "", false
	}
	switch t := types.Under(t).(type) {
	case types.Basic:
		switch t {
		case types.Boolean:
			return "false", true
		case types.Number:
			return "1", true
		case types.String:
			return value.Show(value.String(label)), true
		}
	case types.Literal:
		return value.Show(t.Value), true
	case *types.List:
		return "[]", true
	case *types.Union:
		return literal(t.Members[0], label, depth)
	case *types.Record:
		var parts []string
		for _, f := range t.Fields {
			if f.Optional {
				continue
			}
			text, ok := literal(f.Type, f.Name, depth+1)
			if !ok {
				return "", false
			}
			parts = append(parts, f.Name+": "+text)
		}
		return "{ " + strings.Join(parts, ", ") + " }", true
	}
	return "", false
}
