package web

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"lien/core/design"
	"lien/core/drive"
)

// asking is a page that asks a service for real; every button says what came of it.
const asking = `type Glaze = { name: string, heat?: number | null }
type Ware = { id: string, kg: number, state: "raw" | "fired", glaze: Glaze | null }

service kiln-log at "/api" {
  load(): Ware[] by GET "/wares" replies [] fails "the log is closed"
  find(glaze: string, tags: string[], least: number | null): Ware[] by GET "/wares/{glaze}/list{?tags*,least}" replies []
  save(w: Ware): Ware by PUT "/wares/{w.id}" replies w
  fire(id: string, heat: number, slow: boolean) by POST "/wares/{id}/firing"
  count(): number by GET "/count" replies 0
}

component wait-part {
  emits came(text: string)
  on mount { ask kiln-log.count() { got(n) -> emit came(n == 0 ? "none" : "some"); failed(why) -> emit came(why) } }
  view { p "waiting" }
}

component ask-page {
  holds said: string[] = []
  holds waits: boolean = false
  action say(text: string) { said = [...said, text] }

  view {
    main {
      button "Load" { click -> ask kiln-log.load() { got(list) -> say(list.map(w => ` + "`${w.id} ${w.kg} ${w.state} ${w.glaze?.name ?? \"bare\"} ${w.glaze?.heat ?? 0}`" + `).join("; ")); failed(why) -> say(why) } }
      button "Find" { click -> ask kiln-log.find("ash/é &", ["a b", "c"], null) { got(list) -> say(` + "`found ${list.length}`" + `); failed(why) -> say(why) } }
      button "Save" { click -> ask kiln-log.save({ id: "x 1", kg: 2, state: "raw", glaze: { name: "ash" } }) { got(w) -> say(` + "`saved ${w.kg}`" + `); failed(why) -> say(why) } }
      button "Fire" { click -> ask kiln-log.fire("x", 900, true) { got -> say("fired"); failed(why) -> say(why) } }
      button "Count" { click -> ask kiln-log.count() { got(n) -> say(` + "`count ${n}`" + `); failed(why) -> say(why) } }
      button "Wait" { click -> waits = !waits }
      when waits { wait-part { came(text) -> say(text) } }
      ul { each s in said { li ` + "`${s}`" + ` } }
    }
  }
}
start ask-page
`

// kilnServer is a server that a page asks.
type kilnServer struct {
	files  map[string][]byte
	mu     sync.Mutex
	asked  []string // METHOD PATH BODY
	answer func(w http.ResponseWriter, r *http.Request)
}

func (s *kilnServer) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if !strings.HasPrefix(r.URL.Path, "/api/") {
		name := strings.TrimPrefix(r.URL.Path, "/")
		if name == "" {
			name = "index.html"
		}
		for end, kind := range map[string]string{".js": "text/javascript", ".html": "text/html"} {
			if strings.HasSuffix(name, end) {
				w.Header().Set("Content-Type", kind)
			}
		}
		w.Header().Set("Content-Security-Policy", "default-src 'self'; img-src data:; style-src 'self' 'unsafe-inline'")
		w.Write(s.files[name])
		return
	}
	body, _ := io.ReadAll(r.Body)
	s.mu.Lock()
	s.asked = append(s.asked, strings.TrimSpace(r.Method+" "+r.URL.EscapedPath()+map[bool]string{true: "?"}[r.URL.RawQuery != ""]+r.URL.RawQuery+" "+string(body)))
	answer := s.answer
	s.mu.Unlock()
	answer(w, r)
}

// TestServicesOverHTTP: a built page asks a real server, which answers late, in another order, with errors, with data of
// another shape, and goes away.
func TestServicesOverHTTP(t *testing.T) {
	b := openBrowser(t)
	d := design.Parse("asking.lien", asking)
	for _, f := range d.Errors() {
		t.Fatal(d.Set.Position(f.Span.Start), f.Message, f.Write)
	}
	files, err := Build(d, Options{Start: d.Starts[0]})
	if err != nil {
		t.Fatal(err)
	}
	s := &kilnServer{files: map[string][]byte{}}
	for _, f := range files {
		s.files[f.Path] = f.Text
	}
	at := httptest.NewServer(s)
	t.Cleanup(at.Close)
	in := drive.In(b.session)
	if err := in.Open(at.URL + "/"); err != nil {
		t.Fatal(err)
	}
	press := func(name string) {
		t.Helper()
		p, err := in.Read()
		if err != nil {
			t.Fatal(err)
		}
		list := drive.Find(p, "button", name)
		if len(list) != 1 {
			t.Fatalf("there are %d buttons %s", len(list), name)
		}
		if err := b.session.Run("[...document.querySelectorAll('button')].find(b => b.textContent === arguments[0]).click()", nil, name); err != nil {
			t.Fatal(err)
		}
	}
	said := func() (list []string) {
		t.Helper()
		if err := b.session.Run("return [...document.querySelectorAll('li')].map(l => l.textContent)", &list); err != nil {
			t.Fatal(err)
		}
		return list
	}
	// says waits until the page has said so much, and gives the last of it.
	says := func(n int) string {
		t.Helper()
		for range 1000 {
			if list := said(); len(list) >= n {
				return list[n-1]
			}
			time.Sleep(10 * time.Millisecond)
		}
		t.Fatalf("it says %q, and not %d things", said(), n)
		return ""
	}
	replies := func(status int, kind, text string) {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.answer = func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Content-Type", kind)
			w.WriteHeader(status)
			io.WriteString(w, text)
		}
	}
	n := 0
	for _, c := range []struct {
		press        string
		status       int
		kind, reply  string
		asked, comes string
	}{
		{"Load", 200, "application/json", `[{"id":"a","kg":1,"state":"raw","glaze":null,"more":{"x":1}},{"id":"b","kg":2.5,"state":"fired","glaze":{"name":"ash","heat":9}}]`, "GET /api/wares", "a 1 raw bare 0; b 2.5 fired ash 9"},
		{"Load", 200, "application/json", `[{"id":"<img src=x onerror='window.hit = 1'>","kg":1,"state":"raw","glaze":{"name":"</script>"}}]`, "GET /api/wares", "<img src=x onerror='window.hit = 1'> 1 raw </script> 0"},
		{"Load", 200, "application/json", `[{"id":"a","kg":"1","state":"raw","glaze":null}]`, "GET /api/wares", "GET /api/wares: [0].kg is a text, not a number"},
		{"Load", 200, "application/json", `[{"id":"a","kg":1,"state":"burnt","glaze":null}]`, "GET /api/wares", `GET /api/wares: [0].state is a text, not "raw" or "fired"`},
		{"Load", 200, "application/json", `[{"id":"a","kg":1,"state":"raw","glaze":{"heat":1}}]`, "GET /api/wares", "GET /api/wares: [0].glaze.name is missing, not a text"},
		{"Load", 200, "application/json", `{"list":[]}`, "GET /api/wares", "GET /api/wares: the reply is a record, not a list"},
		{"Load", 200, "text/html", `<p>`, "GET /api/wares", "GET /api/wares: the reply is no JSON"},
		{"Load", 404, "text/html", `<p>`, "GET /api/wares", "GET /api/wares answered 404"},
		{"Load", 503, "application/problem+json", `{"title":"the kiln is hot","status":503}`, "GET /api/wares", "the kiln is hot"},
		{"Load", 500, "application/problem+json", `{"title":7}`, "GET /api/wares", "GET /api/wares answered 500"},
		{"Find", 200, "application/json", `[]`, "GET /api/wares/ash%2F%C3%A9%20%26/list?tags=a%20b&tags=c", "found 0"},
		{"Save", 200, "application/json", `{"id":"x","kg":7,"state":"raw","glaze":null}`, `PUT /api/wares/x%201 {"id":"x 1","kg":2,"state":"raw","glaze":{"name":"ash"}}`, "saved 7"},
		{"Fire", 204, "text/plain", "", `POST /api/wares/x/firing {"heat":900,"slow":true}`, "fired"},
		{"Count", 200, "application/json", "1e999", "GET /api/count", "GET /api/count: the reply is too large a number, not a number"},
	} {
		replies(c.status, c.kind, c.reply)
		press(c.press)
		n++
		if got := says(n); got != c.comes {
			t.Errorf("%s, with %d %s: it says %q", c.press, c.status, c.reply, got)
		}
		s.mu.Lock()
		if got := s.asked[len(s.asked)-1]; got != c.asked {
			t.Errorf("%s asks %s, not %s", c.press, got, c.asked)
		}
		s.mu.Unlock()
	}

	// The first question is answered after the second one.
	gates := []chan struct{}{make(chan struct{}), make(chan struct{})}
	arrived := make(chan int, 4)
	ended := make(chan bool, 1)
	count := 0
	s.mu.Lock()
	s.answer = func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		mine := count
		count++
		s.mu.Unlock()
		arrived <- mine
		if mine >= len(gates) { // nobody waits for this one in the end
			<-r.Context().Done()
			ended <- true
			return
		}
		<-gates[mine]
		json.NewEncoder(w).Encode(mine)
	}
	s.mu.Unlock()
	press("Count")
	<-arrived
	press("Count")
	<-arrived
	close(gates[1])
	if got := says(n + 1); got != "count 1" {
		t.Errorf("first comes %q", got)
	}
	close(gates[0])
	if got := says(n + 2); got != "count 0" {
		t.Errorf("then comes %q", got)
	}
	n += 2

	// Who asked is gone before the answer: the request ends, and nothing comes of it.
	press("Wait")
	<-arrived
	press("Wait")
	select {
	case <-ended:
	case <-time.After(10 * time.Second):
		t.Error("the request goes on though nobody waits for it")
	}

	var hit any
	if err := b.session.Run("return window.hit ?? null", &hit); err != nil || hit != nil {
		t.Errorf("a reply ran: %v, %v", hit, err)
	}

	at.CloseClientConnections()
	at.Close()
	press("Load")
	if got := says(n + 1); got != "GET /api/wares: there is no answer" {
		t.Errorf("of a server that is gone it says %q", got)
	}
	if list := said(); len(list) != n+1 {
		t.Errorf("it says more: %q", list[n:])
	}
}

// TestTemplates: addresses are expanded as RFC 6570 shows it in its examples (3.2).
func TestTemplates(t *testing.T) {
	b := openBrowser(t)
	module, err := runtimeFiles().Open("http.js")
	if err != nil {
		t.Fatal(err)
	}
	defer module.Close()
	text, err := io.ReadAll(module)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.show([]File{{"index.html", []byte("<!doctype html><script type=module src=page.js></script>")}, {"page.js", []byte("import './http.js'")}, {"http.js", text}}); err != nil {
		t.Fatal(err)
	}
	values := `{ count: ["one", "two", "three"], hello: "Hello World!", half: "50%", var: "value", who: "fred", base: "http://example.com/home/", path: "/foo/bar",
  list: ["red", "green", "blue"], v: 6, x: 1024, y: 768, empty: "", none: [], undef: null }`
	for template, want := range map[string]string{
		"{var}": "value", "{hello}": "Hello%20World%21", "{half}": "50%25", "O{empty}X": "OX", "O{undef}X": "OX", "{x,y}": "1024,768", "{x,hello,y}": "1024,Hello%20World%21,768",
		"?{x,empty}": "?1024,", "?{x,undef}": "?1024", "{var:3}": "val", "{var:30}": "value", "{list}": "red,green,blue", "{list*}": "red,green,blue",
		"{+hello}": "Hello%20World!", "{+half}": "50%25", "{base}index": "http%3A%2F%2Fexample.com%2Fhome%2Findex", "{+base}index": "http://example.com/home/index", "{+path}/here": "/foo/bar/here",
		"{+path:6}/here": "/foo/b/here", "{#path,x}/here": "#/foo/bar,1024/here", "{#hello}": "#Hello%20World!", "{.who}": ".fred", "X{.list}": "X.red,green,blue", "X{.list*}": "X.red.green.blue", "X{.none}": "X",
		"{/who,who}": "/fred/fred", "{/var,x}/here": "/value/1024/here", "{/var:1,var}": "/v/value", "{/list}": "/red,green,blue", "{/list*}": "/red/green/blue",
		"{;who}": ";who=fred", "{;empty}": ";empty", "{;v,empty,who}": ";v=6;empty;who=fred", "{;hello:5}": ";hello=Hello", "{;list}": ";list=red,green,blue", "{;list*}": ";list=red;list=green;list=blue",
		"{?who}": "?who=fred", "{?x,y,empty}": "?x=1024&y=768&empty=", "{?x,y,undef}": "?x=1024&y=768", "{?list}": "?list=red,green,blue", "{?list*}": "?list=red&list=green&list=blue",
		"?fixed=yes{&x}": "?fixed=yes&x=1024", "{&var:3}": "&var=val", "{?count*}": "?count=one&count=two&count=three",
	} {
		var got string
		err := b.session.RunAsync(fmt.Sprintf("import('/http.js').then(h => arguments[1](h.expand(arguments[0], %s)))", values), &got, template)
		if err != nil {
			t.Fatal(err)
		}
		if got != want {
			t.Errorf("%s gives %s, not %s", template, got, want)
		}
	}
}
