package web

import (
	"encoding/json"
	"fmt"
	"strings"

	"lien/core/design"
	"lien/core/types"
)

// declared are the contracts in TypeScript: declarations that a page's own programs are checked with.
func (w *writer) declared(list []contract) string {
	var out strings.Builder
	line := func(format string, args ...any) { fmt.Fprintf(&out, format+"\n", args...) }
	for _, t := range w.d.Types {
		line("export type %s = %s;\n", t.Name, script(t.Under))
	}
	for _, k := range list {
		w.declare(line, k)
	}
	line("declare global {")
	line("  interface HTMLElementTagNameMap {")
	for _, k := range list {
		line("    %q: %s;", k.of.Name, k.element)
	}
	line("  }\n}")
	return out.String()
}

func (w *writer) declare(line func(string, ...any), k contract) {
	if k.doc != "" {
		line("/** %s */", strings.ReplaceAll(strings.ReplaceAll(k.doc, "*/", "* /"), "\n", "\n * "))
	}
	names := []string{`"addEventListener"`}
	for _, p := range k.props {
		names = append(names, quoted(p.name))
	}
	for _, m := range k.methods {
		names = append(names, quoted(m.Label))
	}
	for _, s := range k.slots {
		if s.name != "" && len(s.handed) > 0 {
			names = append(names, quoted(s.name))
		}
	}
	line("export interface %s extends Omit<HTMLElement, %s> {", k.element, strings.Join(names, " | "))
	for _, p := range k.props {
		line("  %s%s: %s;", map[bool]string{true: "readonly "}[p.readonly], key(p.name), p.typ)
	}
	for _, m := range k.methods {
		line("  %s(%s): %s;", key(m.Label), parameters(m.Sig), script(resultOf(m)))
	}
	for _, s := range k.slots {
		if s.name != "" && len(s.handed) > 0 {
			line("  %s: ((handed: %s) => Node | Node[] | null) | null;", key(s.name), fields(s.handed))
		}
	}
	for _, e := range k.events {
		line("  addEventListener(type: %s, listener: (event: CustomEvent<%s>) => void, options?: boolean | AddEventListenerOptions): void;", quoted(e.name), fields(e.detail))
	}
	line("  addEventListener(type: string, listener: EventListenerOrEventListenerObject, options?: boolean | AddEventListenerOptions): void;")
	line("}\n")
}

// resultOf is what a method gives.
func resultOf(m *design.Member) types.Type {
	if f, ok := types.Under(m.Type()).(*types.Func); ok && m.Call {
		return f.Result
	}
	return types.Void
}

// The parts of a Custom Elements Manifest, version 2.1.0, as its schema has them.
type (
	manifest struct {
		SchemaVersion string           `json:"schemaVersion"`
		Modules       []manifestModule `json:"modules"`
	}
	manifestModule struct {
		Kind         string             `json:"kind"`
		Path         string             `json:"path"`
		Declarations []manifestElement  `json:"declarations"`
		Exports      []manifestExported `json:"exports"`
	}
	manifestElement struct {
		Kind          string           `json:"kind"`
		Name          string           `json:"name"`
		Description   string           `json:"description,omitempty"`
		Superclass    manifestRef      `json:"superclass"`
		CustomElement bool             `json:"customElement"`
		TagName       string           `json:"tagName"`
		Attributes    []manifestNamed  `json:"attributes,omitempty"`
		Members       []manifestMember `json:"members,omitempty"`
		Events        []manifestNamed  `json:"events,omitempty"`
		Slots         []manifestNamed  `json:"slots,omitempty"`
	}
	manifestRef struct {
		Name   string `json:"name"`
		Module string `json:"module,omitempty"`
	}
	manifestText struct {
		Text string `json:"text"`
	}
	manifestNamed struct {
		Name        string        `json:"name"`
		Description string        `json:"description,omitempty"`
		Type        *manifestText `json:"type,omitempty"`
		FieldName   string        `json:"fieldName,omitempty"`
	}
	manifestMember struct {
		Kind       string          `json:"kind"`
		Name       string          `json:"name"`
		Type       *manifestText   `json:"type,omitempty"`
		Readonly   bool            `json:"readonly,omitempty"`
		Parameters []manifestNamed `json:"parameters,omitempty"`
		Return     *struct {
			Type manifestText `json:"type"`
		} `json:"return,omitempty"`
	}
	manifestExported struct {
		Kind        string      `json:"kind"`
		Name        string      `json:"name"`
		Declaration manifestRef `json:"declaration"`
	}
)

// manifested are the contracts as a Custom Elements Manifest.
func manifested(list []contract) (string, error) {
	m := manifest{SchemaVersion: "2.1.0", Modules: []manifestModule{}}
	for _, k := range list {
		path := "components/" + k.of.Name + ".js"
		m.Modules = append(m.Modules, manifestModule{"javascript-module", path, []manifestElement{elementOf(k)},
			[]manifestExported{{"custom-element-definition", k.of.Name, manifestRef{k.element, path}}}})
	}
	text, err := json.MarshalIndent(m, "", "  ")
	return string(text) + "\n", err
}

func elementOf(k contract) manifestElement {
	e := manifestElement{Kind: "class", Name: k.element, Description: k.doc, Superclass: manifestRef{Name: "HTMLElement"}, CustomElement: true, TagName: k.of.Name}
	typed := func(t string) *manifestText { return &manifestText{t} }
	for _, p := range k.props {
		e.Members = append(e.Members, manifestMember{Kind: "field", Name: p.name, Type: typed(p.typ), Readonly: p.readonly})
		if p.attr != "" {
			e.Attributes = append(e.Attributes, manifestNamed{Name: p.attr, Type: typed(p.typ), FieldName: p.name})
		}
	}
	for _, m := range k.methods {
		method := manifestMember{Kind: "method", Name: m.Label}
		for _, p := range m.Sig {
			method.Parameters = append(method.Parameters, manifestNamed{Name: p.Name, Type: typed(script(p.Type))})
		}
		method.Return = &struct {
			Type manifestText `json:"type"`
		}{manifestText{script(resultOf(m))}}
		e.Members = append(e.Members, method)
	}
	for _, ev := range k.events {
		e.Events = append(e.Events, manifestNamed{Name: ev.name, Type: typed("CustomEvent<" + fields(ev.detail) + ">")})
	}
	for _, s := range k.slots {
		description := ""
		if len(s.handed) > 0 {
			description = "hands out " + fields(s.handed)
		}
		e.Slots = append(e.Slots, manifestNamed{Name: s.name, Description: description})
	}
	return e
}
