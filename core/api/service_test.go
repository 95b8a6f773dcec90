package api

import (
	"strings"
	"testing"
)

// TestOperations: what an operation of a document becomes.
func TestOperations(t *testing.T) {
	const ok = `responses: { "200": { description: ok, content: { application/json: { schema: { type: number, example: 7 } } } } }`
	for paths, want := range map[string]string{
		"  /count:\n    get: { operationId: count, " + ok + " }":                                                                                                                                                  `count(): number by GET "/count" replies 7`,
		"  /count/{ware}:\n    get:\n      parameters: [ { name: ware, in: path, required: true, schema: { type: integer } } ]\n      " + ok:                                                                      `getCountOne(ware: number): number by GET "/count/{ware}" replies 7`,
		"  /x/{ware-id}:\n    delete:\n      operationId: drop\n      parameters: [ { name: ware-id, in: path, required: true, schema: { type: string } } ]\n      responses: { \"204\": { description: gone } }": `drop(wareId: string) by DELETE "/x/{wareId}"`,
		"  /find:\n    get:\n      operationId: find\n      parameters: [ { name: a, in: query, required: true, schema: { enum: [x, y] } }, { name: b, in: query, explode: false, schema: { type: array, items: { type: number } } }, { name: c, in: query, schema: { type: boolean, nullable: true } } ]\n      " + ok: `find(a: "x" | "y", b: number[] | null, c: boolean | null): number by GET "/find{?a,b,c}" replies 7`,
		"  /find:\n    get:\n      operationId: find\n      parameters: [ { name: a-b, in: query, required: true, schema: { type: string } } ]\n      " + ok:                                                                                                                                                            `// Left out: GET /find, as a-b (query) cannot be said here.`,
		"  /find:\n    get:\n      operationId: find\n      parameters: [ { name: deep, in: query, schema: { type: object, properties: { a: { type: string } } } } ]\n      " + ok:                                                                                                                                      `// Left out: deep (query). find(): number by GET "/find" replies 7`,
		"  /save:\n    put:\n      operationId: save\n      requestBody: { content: { text/plain: { schema: { type: string } } } }\n      " + ok:                                                                                                                                                                        `// Left out: PUT /save, as what it carries is no JSON.`,
		"  /save:\n    patch:\n      operationId: save\n      summary: Saves.\n      requestBody: { content: { application/merge-patch+json: { schema: { $ref: \"#/components/schemas/Ware\" } } } }\n      " + ok:                                                                                                      `// Saves. save(ware: Ware): number by PATCH "/save" replies 7`,
		"  /two:\n    get: { operationId: same, " + ok + " }\n    post: { operationId: same, " + ok + " }":                                                                                                                                                                                                              `same(): number by GET "/two" replies 7 same2(): number by POST "/two" replies 7`,
		"  /fails:\n    post:\n      operationId: fails\n      responses: { \"201\": { description: made }, \"400\": { description: No such  ware. }, \"500\": { description: \"\" }, \"503\": { description: Closed. } }":                                                                                              `fails() by POST "/fails" fails "No such ware.", "Closed."`,
		"  /first:\n    get:\n      operationId: first\n      responses: { \"200\": { description: ok, content: { application/json: { schema: { type: string }, examples: { b: { value: two }, a: { value: one } } } } } }":                                                                                             `first(): string by GET "/first" replies "one"`,
		"  /head:\n    head: { operationId: head, " + ok + " }\n    get: { operationId: got, " + ok + " }":                                                                                                                                                                                                              `got(): number by GET "/head" replies 7`,
		"  here:\n    get: { operationId: here, " + ok + " }":                                                                                                        `// Left out: GET here, as its address is none.`,
		"  /of/{ware}:\n    get: { operationId: of, " + ok + " }":                                                                                                    `// Left out: GET /of/{ware}, as nothing says what ware is in its address.`,
		"  /none:\n    get:\n      parameters: [ { name: ware, in: path, required: true, schema: { type: string } } ]\n      " + ok:                                  `// Left out: GET /none, as ware is not in its address.`,
		"  /any:\n    get:\n      operationId: any\n      responses: { default: { description: ok, content: { application/json: { schema: { type: boolean } } } } }": `any(): boolean by GET "/any" replies false`,
	} {
		_, got, err := Design("rack.yaml", []byte(doc(paths, "{ type: string }")))
		if err != nil {
			t.Errorf("%s: %v", paths, err)
			continue
		}
		if text := strings.Join(strings.Fields(string(got)), " "); !strings.Contains(text, want) {
			t.Errorf("%s\ngives\n%s\nwithout\n%s", paths, got, want)
		}
	}
}

// TestServiceNames: the service and its address come from the title and the first server.
func TestServiceNames(t *testing.T) {
	for _, c := range []struct{ title, servers, want string }{
		{"Kiln log", "", `service kiln-log at "/" {`},
		{"The Kiln Log API", "[ { url: /v1 } ]", `service kiln-log at "/v1" {`},
		{"Kilns", "[ { url: 'https://kilns.example/api/' } ]", `service kilns-api at "https://kilns.example/api/" {`},
		{"2 Kilns of a studio in town", "[ { url: v2 } ]", `service kilns-of-a at "/v2" {`},
		{"Öfen", "[ { url: './v2' } ]", `service fen-api at "/v2" {`},
		{"Kiln log", "[ { url: '//kilns.example/api' } ]", `service kiln-log at "https://kilns.example/api" {`},
		{"---", "[ { url: '/{stage}', variables: { stage: { default: test } } } ]", `service service-api at "/test" {`},
	} {
		text := strings.Replace(doc(reads, "{ type: string }"), "title: Rack", "title: '"+c.title+"'", 1)
		if c.servers != "" {
			text += "servers: " + c.servers + "\n"
		}
		_, got, err := Design("rack.yaml", []byte(text))
		if err != nil || !strings.Contains(string(got), c.want) {
			t.Errorf("%s at %s gives\n%s\nwithout %s; %v", c.title, c.servers, got, c.want, err)
		}
	}
}
