package html

import "testing"

func TestTables(t *testing.T) {
	for _, c := range []struct {
		name string
		got  bool
		want bool
	}{
		{"button is an element", IsElement("button"), true},
		{"buton is none", IsElement("buton"), false},
		{"svg is an element", IsElement("svg"), true},
		{"input is void", IsVoid("input"), true},
		{"p is not", IsVoid("p"), false},
		{"aria-pressed is an attribute", IsAttribute("aria-pressed"), true},
		{"aria-presed is none", IsAttribute("aria-presed"), false},
		{"data-anything is an attribute", IsAttribute("data-shelf-id"), true},
		{"click is an event", IsEvent("click"), true},
		{"onclick is none", IsEvent("onclick"), false},
		{"outside is one here", IsEvent("outside"), true},
		{"click bubbles", Bubbles("click"), true},
		{"focus does not", Bubbles("focus"), false},
		{"focusin does", Bubbles("focusin"), true},
		{"mouseenter does not", Bubbles("mouseenter"), false},
		{"disabled is boolean", IsBoolean("disabled"), true},
		{"title is not", IsBoolean("title"), false},
		{"the value of an input lives", IsProperty("input", "value"), true},
		{"that of a button does not", IsProperty("button", "value"), false},
		{"a details opens", IsProperty("details", "open"), true},
		{"tab is a role", IsRole("tab"), true},
		{"knob is none", IsRole("knob"), false},
		{"a button is named by its content", NamedByContent("button"), true},
		{"a list is not", NamedByContent("list"), false},
		{"Enter is a key", IsKey("Enter"), true},
		{"so is a character", IsKey("é"), true},
		{"also one of two code points", IsKey("e\u0301"), true},
		{"section is none", IsKey("section"), false},
		{"nothing is none", IsKey(""), false},
		{"Enter in small letters is meant", KeyMeant("enter") == "Enter", true},
		{"so is Esc", KeyMeant("Esc") == "Escape", true},
		{"and a place on the keyboard", KeyMeant("KeyS") == "s", true},
		{"a character is itself", KeyMeant("é") == "é", true},
		{"so is a name that few keyboards have", KeyMeant("MediaPlay") == "MediaPlay", true},
		{"a glaze is none", KeyMeant("shino") == "", true},
	} {
		if c.got != c.want {
			t.Errorf("%s: %v", c.name, c.got)
		}
	}
}

// TestListsAndTables: what is listed for "did you mean" is what is known.
func TestListsAndTables(t *testing.T) {
	for _, c := range []struct {
		what  string
		names []string
		known func(string) bool
		least int
	}{
		{"elements", Elements(), IsElement, 110},
		{"attributes", Attributes(), IsAttribute, 150},
		{"events", Events(), IsEvent, 60},
		{"roles", Roles(), IsRole, 80},
	} {
		seen := map[string]bool{}
		for _, n := range c.names {
			if !c.known(n) || seen[n] {
				t.Errorf("%s: %s is not known, or there twice", c.what, n)
			}
			seen[n] = true
		}
		if len(c.names) < c.least {
			t.Errorf("there are %d %s", len(c.names), c.what)
		}
	}
}
