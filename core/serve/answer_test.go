package serve_test

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"lien/core/design"
	"lien/core/serve"
)

const log = `type Ware = { id: string, kg: number, glaze?: string | null }

service kiln-log at "/api/" {
  load(): Ware[] by GET "/wares" replies [{ id: "a", kg: 1 }] after 5
  find(glaze: string | null, least: number, tags: string[], lit: boolean): string by GET "/find{?glaze,least,tags*}{&lit}" replies ` + "`${glaze ?? \"any\"} ${least} ${tags.join(\"+\")} ${lit}`" + `
  one(id: string, part: number): string by GET "/wares/{id}/parts/{part}" replies ` + "`${id}:${part}`" + `
  save(w: Ware): Ware by PUT "/wares/{w.id}" replies w fails "the shelf is full"
  fire(id: string, heat: number, note: string | null) by POST "/wares/{id}/firing"
}

service side { look(): string replies "never over HTTP" }

component kiln-page { view { p "x" } }
start kiln-page
`

func answers(t *testing.T, failing ...string) *httptest.Server {
	t.Helper()
	d := design.Parse("log.lien", log)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	a, err := serve.NewAnswers(d, failing)
	if err != nil {
		t.Fatal(err)
	}
	s := httptest.NewServer(a)
	t.Cleanup(s.Close)
	return s
}

// TestAnswers: requests are told apart by method and address, held to the types, and answered by the stand-ins.
func TestAnswers(t *testing.T) {
	s := answers(t)
	for _, c := range []struct {
		ask, body string
		status    int
		want      string
	}{
		{"GET /api/wares", "", 200, `[{"id":"a","kg":1}]`},
		{"GET /api/find?least=2.5&tags=x&tags=y%20z&glaze=ash&lit=true", "", 200, `"ash 2.5 x+y z true"`},
		{"GET /api/find?least=2&lit=false", "", 200, `"any 2  false"`},
		{"GET /api/find?least=two&lit=true", "", 400, `least is \"two\", not a number`},
		{"GET /api/find?lit=true", "", 400, "does not say least"},
		{"GET /api/find?least=1&lit=maybe", "", 400, `lit is \"maybe\", not a boolean`},
		{"GET /api/wares/a%2Fb/parts/7", "", 200, `"a/b:7"`},
		{"PUT /api/wares/a", `{"id":"a","kg":2,"glaze":null}`, 200, `"kg":2`},
		{"PUT /api/wares/a", `{"id":"a","kg":"two"}`, 400, "the body does not fit"},
		{"PUT /api/wares/a", `{"id":`, 400, "the body does not fit"},
		{"POST /api/wares/a/firing", `{"heat":900,"note":"slow"}`, 204, ""},
		{"POST /api/wares/a/firing", `{"heat":900}`, 204, ""},
		{"POST /api/wares/a/firing", `{"note":"slow"}`, 400, "heat"},
		{"DELETE /api/wares/a", "", 405, "asked by PUT"},
		{"GET /api/other", "", 404, "no service has this address"},
		{"GET /side/look", "", 404, "no service has this address"},
	} {
		method, path, _ := strings.Cut(c.ask, " ")
		r, err := http.NewRequest(method, s.URL+path, strings.NewReader(c.body))
		if err != nil {
			t.Fatal(err)
		}
		got, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		text, _ := io.ReadAll(got.Body)
		got.Body.Close()
		if got.StatusCode != c.status || !strings.Contains(string(text), c.want) {
			t.Errorf("%s: %d %s", c.ask, got.StatusCode, text)
		}
		kind := got.Header.Get("Content-Type")
		if c.status == 200 && kind != "application/json" || c.status >= 400 && kind != "application/problem+json" {
			t.Errorf("%s: it is %q", c.ask, kind)
		}
	}
}

// TestAnswersFail: what is to fail does, in the words of the design.
func TestAnswersFail(t *testing.T) {
	s := answers(t, "kiln-log.save", "kiln-log.load")
	for path, want := range map[string]string{"/api/wares/a": "the shelf is full", "/api/wares": "there is no answer"} {
		method, body := http.MethodGet, ""
		if want == "the shelf is full" {
			method, body = http.MethodPut, `{"id":"a","kg":1}`
		}
		r, _ := http.NewRequest(method, s.URL+path, strings.NewReader(body))
		got, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		var told struct {
			Title  string
			Status int
		}
		if err := json.NewDecoder(got.Body).Decode(&told); err != nil || told.Title != want || told.Status != 503 || got.StatusCode != 503 {
			t.Errorf("%s: %d %v, %v", path, got.StatusCode, told, err)
		}
		got.Body.Close()
	}
	d := design.Parse("log.lien", log)
	if _, err := serve.NewAnswers(d, []string{"kiln-log.burn"}); err == nil || !strings.Contains(err.Error(), "kiln-log.burn") {
		t.Errorf("an operation that is not there fails: %v", err)
	}
	if _, err := serve.NewAnswers(design.Parse("x.lien", "component a-b { view { p \"x\" } }"), nil); err == nil {
		t.Error("a design without services is answered for")
	}
}

// TestAnswersOrigins: pages of this machine may ask from any port, those of other hosts get nothing.
func TestAnswersOrigins(t *testing.T) {
	s := answers(t)
	for origin, want := range map[string]int{"": 200, "http://localhost:5000": 200, "http://127.0.0.1:80": 200, "https://kilns.example": 403, "null": 403} {
		r, _ := http.NewRequest(http.MethodGet, s.URL+"/api/wares", nil)
		if origin != "" {
			r.Header.Set("Origin", origin)
		}
		got, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		got.Body.Close()
		if got.StatusCode != want || want == 200 && got.Header.Get("Access-Control-Allow-Origin") != origin {
			t.Errorf("from %q: %d, %q", origin, got.StatusCode, got.Header.Get("Access-Control-Allow-Origin"))
		}
	}
	r, _ := http.NewRequest(http.MethodOptions, s.URL+"/api/wares/a", nil)
	r.Header.Set("Origin", "http://localhost:5000")
	got, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	got.Body.Close()
	if got.StatusCode != 204 || got.Header.Get("Access-Control-Allow-Methods") != "PUT" {
		t.Errorf("a page that asks first hears %d %v", got.StatusCode, got.Header)
	}
	r, _ = http.NewRequest(http.MethodGet, s.URL+"/api/wares", nil)
	r.Host = "kilns.example"
	if got, err = http.DefaultClient.Do(r); err != nil || got.StatusCode != 421 {
		t.Errorf("another host is answered: %v, %v", got, err)
	}
}

// TestAnswersTakeTime: an answer comes after its time, and nobody is waited for who went away.
func TestAnswersTakeTime(t *testing.T) {
	s := answers(t)
	begun := time.Now()
	got, err := http.Get(s.URL + "/api/wares")
	if err != nil {
		t.Fatal(err)
	}
	got.Body.Close()
	if took := time.Since(begun); took < 5*time.Millisecond {
		t.Errorf("it is there after %v", took)
	}
}
