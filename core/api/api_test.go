package api

import (
	"flag"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"lien/core/design"
)

var update = flag.Bool("update", false, "write what comes of the documents beside them")

// TestDocuments: of every document comes what stands beside it, which has no errors and is laid out.
func TestDocuments(t *testing.T) {
	for doc, want := range map[string]string{"kilns.yaml": "kilns.want", "shelf.schema.json": "shelf.want"} {
		data, err := os.ReadFile(filepath.Join("testdata", doc))
		if err != nil {
			t.Fatal(err)
		}
		_, got, err := Design(doc, data)
		if err != nil {
			t.Fatal(err)
		}
		want = filepath.Join("testdata", want)
		if *update {
			if err := os.WriteFile(want, got, 0o600); err != nil {
				t.Fatal(err)
			}
		}
		text, err := os.ReadFile(want)
		if err != nil {
			t.Fatal(err)
		}
		if string(got) != string(text) {
			t.Errorf("%s gives\n%s\nnot\n%s", doc, got, text)
		}
		if again, _ := os.ReadFile(filepath.Join("testdata", doc)); string(again) != string(data) {
			t.Errorf("%s was changed", doc)
		}
	}
}

// doc is an OpenAPI document with one path.
func doc(paths, schemas string) string {
	return "openapi: 3.1.0\ninfo: { title: Rack, version: '1' }\npaths:\n" + paths + "\ncomponents:\n  schemas:\n    Ware: " + schemas + "\n"
}

const reads = `  /wares:
    get:
      operationId: load
      responses: { "200": { description: ok, content: { application/json: { schema: { $ref: "#/components/schemas/Ware" } } } } }`

// TestSchemas: what a schema becomes, with a value of it.
func TestSchemas(t *testing.T) {
	for schema, want := range map[string]string{
		`{ type: string }`:                          `type Ware = string | replies ""`,
		`{ type: [string, "null"] }`:                `type Ware = string | null | replies ""`,
		`{ type: integer, minimum: 3 }`:             `type Ware = number | replies 3`,
		`{ type: boolean, example: true }`:          `type Ware = boolean | replies true`,
		`{ enum: [raw, fired, 3], default: fired }`: `type Ware = "raw" | "fired" | 3 | replies "fired"`,
		`{ const: raw }`:                            `type Ware = "raw" | replies "raw"`,
		`{ type: array, items: { type: [number, "null"] }, examples: [[1, null, x]] }`:                                                                          `type Ware = (number | null)[] | replies [1, null, 0]`,
		`{ type: object, required: [x], properties: { x: { type: ["null"] }, y: { nullable: true } } }`:                                                         `type Ware = { x: null } | replies { x: null }`,
		`{ properties: { id: { type: string } } }`:                                                                                                              `type Ware = { id?: string } | replies { id: "" }`,
		`{ type: object, required: [up], properties: { up: { type: [object, "null"], properties: { kg: { type: number } } } }, example: { up: null } }`:         `type Ware = { up: { kg?: number } | null } | replies { up: null }`,
		`{ anyOf: [ { type: number }, { type: array, items: { type: string } } ], example: [a] }`:                                                               `type Ware = number | string[] | replies ["a"]`,
		`{ type: object, additionalProperties: true }`:                                                                                                          `// Left out: Ware, which is a map. service rack-api at "/" { // Left out: GET /wares, as its reply is Ware. }`,
		`{ type: object, required: [a], properties: { a: { type: string, example: "x \"y\" \\ z" } } }`:                                                         `type Ware = { a: string } | replies { a: "x \"y\" \\ z" }`,
		`{ allOf: [ { type: object, required: [a], properties: { a: { type: string } } }, { properties: { b: { type: number } } } ], example: { a: q, b: 2 } }`: `type Ware = { a: string, b?: number } | replies { a: "q", b: 2 }`,
	} {
		_, got, err := Design("rack.yaml", []byte(doc(reads, schema)))
		if err != nil {
			t.Errorf("%s: %v", schema, err)
			continue
		}
		text := strings.Join(strings.Fields(string(got)), " ")
		typ, reply, _ := strings.Cut(want, " | replies ")
		if !strings.Contains(text, typ) || !strings.Contains(text, reply) {
			t.Errorf("%s gives\n%s\nnot %s", schema, got, want)
		}
	}
}

// TestDocumentsThatAreNone: what is wrong is told in a line, and nothing outside the document is read.
func TestDocumentsThatAreNone(t *testing.T) {
	for text, want := range map[string]string{
		"":                                    "nothing in it",
		"a: [":                                "neither JSON nor YAML",
		"{}":                                  "neither an OpenAPI document",
		"openapi:\npaths: {}":                 "does not say its version",
		"swagger: '2.0'":                      "version 2",
		"openapi: 7\npaths:\n /x:\n  get:":    "version 7",
		"openapi: 3.0.0\npaths: 3":            "neither a path nor a schema",
		doc(reads, `{ $ref: "/etc/passwd" }`): "passwd",
		doc(reads, `{ $ref: "http://127.0.0.1:9/x.yaml" }`): "outside of it",
		doc(reads, `{ $ref: "#/components/schemas/No" }`):   "No",
		strings.Repeat("#", MaxSize+1):                      "more than 16 MB",
	} {
		_, got, err := Design("x.yaml", []byte(text))
		if err == nil || !strings.Contains(err.Error(), want) || strings.Contains(err.Error(), "\n") {
			t.Errorf("%.60q: %v\n%s", text, err, got)
		}
	}
}

func FuzzDesign(f *testing.F) {
	for _, name := range []string{"kilns.yaml", "shelf.schema.json"} {
		data, err := os.ReadFile(filepath.Join("testdata", name))
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Add([]byte(doc(reads, `{ type: array, items: { $ref: "#/components/schemas/Ware" } }`)))
	f.Fuzz(func(t *testing.T, data []byte) {
		_, text, err := Design("x.yaml", data)
		if err != nil {
			if strings.Contains(err.Error(), "which is ours") {
				t.Error(err)
			}
			return
		}
		if d := design.Parse("x.lien", string(text)); d.Failed() {
			t.Errorf("%s\n%s", text, d.Errors()[0].Message)
		}
	})
}

// TestSlippedDocuments: of documents with slips of any kind comes a design without errors, or a line that says what is wrong.
func TestSlippedDocuments(t *testing.T) {
	var docs []string
	for _, name := range []string{"kilns.yaml", "shelf.schema.json"} {
		data, err := os.ReadFile(filepath.Join("testdata", name))
		if err != nil {
			t.Fatal(err)
		}
		docs = append(docs, string(data))
	}
	pieces := regexp.MustCompile(`[A-Za-z0-9_$#/.-]+|\s+|.`)
	r := rand.New(rand.NewPCG(1, 2))
	written := 0
	for range 600 {
		list := pieces.FindAllString(docs[r.IntN(len(docs))], -1)
		for range 1 + r.IntN(4) {
			at, from := r.IntN(len(list)), r.IntN(len(list))
			switch r.IntN(4) {
			case 0:
				list[at] = list[from]
			case 1:
				list[at] = ""
			case 2:
				list[at] += list[from]
			case 3:
				list[at] = strings.Join(list[from:min(from+r.IntN(12), len(list))], "")
			}
		}
		text := strings.Join(list, "")
		_, out, err := Design("x.yaml", []byte(text))
		switch {
		case err != nil:
			if strings.Contains(err.Error(), "which is ours") || strings.Contains(err.Error(), "\n") {
				t.Errorf("%s\nof\n%s", err, text)
			}
		case design.Parse("x.lien", string(out)).Failed():
			t.Errorf("%s\nof\n%s", out, text)
		default:
			written++
		}
	}
	if written < 100 {
		t.Errorf("only %d of 600 documents could be read", written)
	}
}
