package web

import (
	"encoding/json"
	"fmt"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
)

// writer writes the modules of a design.
type writer struct {
	d     *design.Design
	o     Options
	shown map[*design.Member]bool // members that their components only show
}

// at is a place in the design, as messages of the page tell it.
func (w *writer) at(s source.Span) string { return quoted(w.d.Set.Position(s.Start).String()) }

// code is a piece of a module.
type code struct {
	*writer
	strings.Builder
	uses   map[string]bool // components that it names
	shares bool            // it names what stands at the top of a file
	top    bool            // it stands there itself
	shapes []*types.Named  // of what services give
}

func (w *writer) code() *code { return &code{writer: w, uses: map[string]bool{}} }

func (c *code) line(format string, args ...any) {
	fmt.Fprintf(c, format+"\n", args...)
}

// component is the name of a component's constant, which is imported then.
func (c *code) component(of *design.Component) string {
	c.uses[of.Name] = true
	return jsName(of.Name)
}

// design is what a constant, a function or a service at the top of a file is called.
func (c *code) design(name string) string {
	if c.top {
		return name
	}
	c.shares = true
	return "design." + name
}

// quoted is a text as ECMAScript writes it. HTML in it stays whole.
func quoted(s string) string {
	var out strings.Builder
	e := json.NewEncoder(&out)
	e.SetEscapeHTML(false)
	if err := e.Encode(s); err != nil {
		panic(err) // every text can be encoded
	}
	return strings.TrimSuffix(out.String(), "\n")
}

// reserved are the words that no local can be called: ECMAScript's, and those of the modules themselves.
var reserved = map[string]bool{"own": true, "at": true, "lien": true, "design": true, "undefined": true, "NaN": true, "Infinity": true, "arguments": true, "eval": true, "Math": true}

func init() {
	for _, w := range strings.Fields("await break case catch class const continue debugger default delete do else enum export extends false finally for function if implements import in instanceof interface let new null package private protected public return static super switch this throw true try typeof var void while with yield async of") {
		reserved[w] = true
	}
}

// local is a parameter or constant of a handler: one underscore more where the word is taken.
func local(l *types.Local) string { return free(l.Label) }

func free(name string) string {
	if reserved[strings.TrimRight(name, "_")] {
		return name + "_"
	}
	return name
}

// jsName is a name with hyphens as a constant: kilnPage.
func jsName(name string) string {
	parts := strings.Split(name, "-")
	for i := range parts[1:] {
		if p := parts[i+1]; p != "" {
			parts[i+1] = strings.ToUpper(p[:1]) + p[1:]
		}
	}
	return free(strings.Join(parts, ""))
}

// titled is a word with a capital.
func titled(word string) string { return strings.ToUpper(word[:1]) + word[1:] }

// key is a name in an object. __proto__ would set what an object inherits.
func key(name string) string {
	if name == "__proto__" {
		return `["__proto__"]`
	}
	if name == "" {
		return `""`
	}
	for i, r := range name {
		if !(r == '_' || r == '$' || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || i > 0 && r >= '0' && r <= '9') {
			return quoted(name)
		}
	}
	return name
}

// indented is a text of lines with each one further in.
func indented(text, by string) string {
	return strings.ReplaceAll(text, "\n", "\n"+by)
}
