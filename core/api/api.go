// Package api writes types and services of a design from the open documents in which teams say what a server offers:
// OpenAPI 3 and JSON Schema. What the language cannot say is left out, and a comment tells so.
package api

import (
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/pb33f/libopenapi"
	"github.com/pb33f/libopenapi/datamodel"
	"go.yaml.in/yaml/v3"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
)

// MaxSize is the most bytes that a document may have.
const MaxSize = 16 << 20

// Design is a design with the types and the service of a document, laid out. Name is the document's, for what has none
// of its own. The error says what is wrong with the document, in one line.
func Design(name string, data []byte) (file string, text []byte, err error) {
	doc, err := read(name, data)
	if err != nil {
		return "", nil, err
	}
	w := &writer{doc: doc, names: map[string]string{}}
	w.types()
	w.service()
	raw := w.head(name) + w.out.String()
	d := design.Parse("api.lien", raw)
	for _, f := range d.Errors() {
		return "", nil, fmt.Errorf("what is written of this document has an error, which is ours: %s: %s", d.Set.Position(f.Span.Start), f.Message)
	}
	tree := syntax.Parse(source.NewSet().Add("api.lien", raw))
	return w.serviceName() + ".lien", syntax.Print(tree), nil
}

// read loads a document. Nothing outside of it is read.
func read(name string, data []byte) (*document, error) {
	if len(data) > MaxSize {
		return nil, fmt.Errorf("it has more than %d MB", MaxSize>>20)
	}
	var whole map[string]any
	if err := yaml.Unmarshal(data, &whole); err != nil {
		return nil, fmt.Errorf("it is neither JSON nor YAML: %s", firstLine(err))
	}
	if whole == nil {
		return nil, errors.New("there is nothing in it")
	}
	plain := asJSON(whole).(map[string]any)
	version, is := plain["openapi"]
	if _, old := plain["swagger"]; old {
		version, is = 2, true
	}
	switch {
	case !is:
		var err error
		if plain, err = wrapped(name, plain); err != nil {
			return nil, err
		}
	case version == nil:
		return nil, errors.New("it does not say its version; OpenAPI 3 is read")
	case !strings.HasPrefix(fmt.Sprint(version)+".", "3."):
		return nil, fmt.Errorf("it says that it is of version %v; OpenAPI 3 is read", version)
	default:
		plain["openapi"] = fmt.Sprint(version)
	}
	if err := within(plain, plain); err != nil {
		return nil, err
	}
	data, err := json.Marshal(plain)
	if err != nil {
		return nil, err
	}
	doc, err := libopenapi.NewDocumentWithConfiguration(data, &datamodel.DocumentConfiguration{SkipExternalRefResolution: true, SkipCircularReferenceCheck: true, Logger: slog.New(slog.DiscardHandler)})
	if err != nil {
		return nil, errors.New(firstLine(err))
	}
	model, err := doc.BuildV3Model()
	if err != nil {
		return nil, errors.New(firstLine(err))
	}
	out := (&reader{named: map[string]*schema{}}).document(&model.Model)
	if len(out.schemas)+len(out.operations) == 0 {
		return nil, errors.New("there is neither a path nor a schema in it")
	}
	return out, nil
}

// within says what a part of a document refers to that is not in it.
func within(part, whole any) error {
	switch part := part.(type) {
	case map[string]any:
		if at, ok := part["$ref"].(string); ok {
			switch pointer, ok := strings.CutPrefix(at, "#/"); {
			case !ok:
				return fmt.Errorf("it refers to %s, which is outside of it: nothing but the document is read", at)
			case !stands(whole, strings.Split(pointer, "/")):
				return fmt.Errorf("it refers to %s, which is not in it", at)
			}
		}
		for _, k := range slices.Sorted(maps.Keys(part)) {
			if k == "example" || k == "examples" || k == "default" || k == "enum" || k == "const" {
				continue // data
			}
			if err := within(part[k], whole); err != nil {
				return err
			}
		}
	case []any:
		for _, x := range part {
			if err := within(x, whole); err != nil {
				return err
			}
		}
	}
	return nil
}

// stands says whether something stands at the end of a path into a document.
func stands(at any, path []string) bool {
	for _, part := range path {
		switch v := at.(type) {
		case map[string]any:
			found, ok := v[unescaped(part)]
			if !ok {
				return false
			}
			at = found
		case []any:
			i, err := strconv.Atoi(part)
			if err != nil || i < 0 || i >= len(v) {
				return false
			}
			at = v[i]
		default:
			return false
		}
	}
	return true
}

func firstLine(err error) string {
	line, _, _ := strings.Cut(err.Error(), "\n")
	return line
}

// wrapped puts a JSON Schema (2020-12, or an earlier one) into a document that has nothing but schemas.
func wrapped(name string, plain map[string]any) (map[string]any, error) {
	schemas := map[string]any{}
	for _, key := range []string{"$defs", "definitions"} {
		defs, _ := plain[key].(map[string]any)
		for n, s := range defs {
			schemas[n] = s
		}
		delete(plain, key)
	}
	root := strings.TrimSuffix(path.Base(name), path.Ext(name))
	root = strings.TrimSuffix(root, ".schema")
	title, _ := plain["title"].(string)
	if title != "" {
		root = title
	}
	for _, key := range []string{"type", "properties", "enum", "oneOf", "anyOf", "allOf", "$ref"} {
		if _, ok := plain[key]; ok {
			schemas[root] = plain
			break
		}
	}
	if len(schemas) == 0 {
		return nil, errors.New("it is neither an OpenAPI document (openapi: 3...) nor a JSON Schema (type, properties or $defs)")
	}
	for n, s := range schemas {
		schemas[n] = moved(s, root)
	}
	return map[string]any{"openapi": "3.1.0", "info": map[string]any{"title": root, "version": "1"},
		"paths": map[string]any{}, "components": map[string]any{"schemas": schemas}}, nil
}

// moved is a schema whose references lead to where the others are.
func moved(v any, root string) any {
	switch v := v.(type) {
	case map[string]any:
		out := map[string]any{}
		for k, x := range v {
			switch k {
			case "$schema", "$id", "$comment", "$anchor":
				continue
			case "$ref":
				if ref, ok := x.(string); ok {
					for _, at := range []string{"#/$defs/", "#/definitions/"} {
						if n, ok := strings.CutPrefix(ref, at); ok {
							ref = "#/components/schemas/" + n
						}
					}
					if ref == "#" {
						ref = "#/components/schemas/" + root
					}
					out[k] = ref
					continue
				}
			}
			out[k] = moved(x, root)
		}
		return out
	case []any:
		for i, x := range v {
			v[i] = moved(x, root)
		}
	}
	return v
}
