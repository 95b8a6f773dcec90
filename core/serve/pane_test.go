package serve_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"lien/core/design"
	"lien/core/drive/webdriver"
	"lien/core/play"
	"lien/core/serve"
	"lien/core/web"
)

const rack = `service kiln-log {
  count(): number replies 7 fails "the log is closed"
}

component ware-row {
  takes name: string
  shares full: boolean = false
  view { button ` + "`Fill ${name}`" + ` { aria-pressed <- full; click -> full = !full } }
}

component ware-rack {
  holds maker: string = ""
  holds glaze: string = "ash"
  holds counted: number = 0
  holds late: boolean = false
  timer wait after 400 { late = true }

  view {
    h1 "Rack"
    ware-row { name <- "bowl" }
    label { "Maker"; input { value <-> maker } }
    label { "Glaze"; select { value <-> glaze; option "ash" { value <- "ash" }; option "shino" { value <- "shino" } } }
    button "Count" { click -> ask kiln-log.count() { got(n) -> counted = n; failed(why) -> maker = why } }
    button "Wait" { click -> start wait }
    p ` + "`${maker}, ${glaze}, ${counted}, ${late ? \"late\" : \"early\"}`" + `
  }
}

start ware-rack
start "with Ada" ware-rack { maker = "Ada" }
`

// bench is a studio whose design is a text.
type bench struct {
	mu    sync.Mutex
	text  string
	saved string
}

func (b *bench) set(text string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.text = text
}

func (b *bench) read(more string) (*design.Design, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	d := design.Parse("rack.lien", b.text+more)
	for _, f := range d.Errors() {
		return nil, errors.New(f.Message)
	}
	return d, nil
}

func (b *bench) Open(c serve.Choice) (*play.Session, error) {
	d, err := b.read("")
	if err != nil {
		return nil, err
	}
	if c.Component != "" {
		start, err := play.Alone(d.Component(c.Component), c.Given)
		if err != nil {
			return nil, err
		}
		if d, err = b.read(start); err != nil {
			return nil, err
		}
		c.Start = play.AloneName
	}
	for _, s := range d.Starts {
		if c.Start == "" || s.Name == c.Start || s.Root.Name == c.Start {
			return play.New(d, s)
		}
	}
	return nil, fmt.Errorf("there is no start %s", c.Start)
}

func (b *bench) Again(_ serve.Choice, s *play.Session) (*play.Session, string) {
	d, err := b.read(s.Scenario("again"))
	if err != nil {
		return s, "not read again: " + err.Error()
	}
	next, n, err := play.Resume(d, d.Scenarios[len(d.Scenarios)-1], func(st *design.Step) string { return d.Text(st.Span()) })
	if err != nil {
		return s, err.Error()
	}
	return next, fmt.Sprintf("read again: %d", n)
}

func (b *bench) Save(_ serve.Choice, s *play.Session, name string) (string, error) {
	b.saved = s.Kept(name)
	return "rack.lien", nil
}

// served is a served design.
func served(t *testing.T) (*bench, *serve.Page, *httptest.Server) {
	t.Helper()
	b := &bench{text: rack}
	p := serve.New(func() ([]web.File, error) {
		d, err := b.read("")
		if err != nil {
			return nil, err
		}
		return web.Build(d, web.Options{Start: d.Starts[0], StandIns: true})
	}, b)
	s := httptest.NewServer(p)
	t.Cleanup(func() {
		s.CloseClientConnections() // of streams, which go on by themselves
		s.Close()
	})
	return b, p, s
}

// asks asks as a pane does.
func asks(t *testing.T, s *httptest.Server, request string) (view serve.View, status int) {
	t.Helper()
	r, err := http.Post(s.URL+"/lien-do", "application/json", strings.NewReader(request))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	if err := json.NewDecoder(r.Body).Decode(&view); err != nil && r.StatusCode == 200 {
		t.Fatal(err)
	}
	return view, r.StatusCode
}

// TestDesks: a pane is told what is behind the page, and what it asks for is done on the engine.
func TestDesks(t *testing.T) {
	b, p, s := served(t)
	v, _ := asks(t, s, `{"Do": "open"}`)
	do := func(format string, args ...any) serve.View {
		t.Helper()
		next, status := asks(t, s, strings.Replace(fmt.Sprintf(format, args...), "{", fmt.Sprintf(`{"Desk": %q, `, v.Desk), 1))
		if status != 200 {
			t.Fatalf("%s: %d", fmt.Sprintf(format, args...), status)
		}
		return next
	}
	if !v.Bring || !slices.Equal(v.Starts, []string{"ware-rack", "with Ada"}) || !slices.Equal(v.Components, []string{"ware-row", "ware-rack"}) || v.State[0].At != "rack.lien:11:11" {
		t.Errorf("it begins as %+v", v)
	}
	place := slices.Index(v.Page.Tags, "button")
	v = do(`{"Do": "gesture", "Verb": "press", "Place": %d}`, place)
	if v.Bring || v.Done != 1 || v.Steps[0] != `press button "Fill bowl"` || !strings.Contains(strings.Join(v.Turn, "\n"), "full") {
		t.Errorf("after a press it is %+v", v)
	}
	field := slices.Index(v.Page.Tags, "input")
	for _, text := range []string{"A", "Ad", "Ada"} {
		v = do(`{"Do": "gesture", "Verb": "type", "Place": %d, "Text": %q}`, field, text)
	}
	if v.Done != 2 || v.Steps[1] != `type "Ada" into textbox "Maker"` {
		t.Errorf("what is typed is %q", v.Steps)
	}
	v = do(`{"Do": "gesture", "Verb": "choose", "Place": %d, "Text": "shino"}`, slices.Index(v.Page.Tags, "select"))
	v = do(`{"Do": "gesture", "Verb": "press", "Place": %d}`, lastTag(v, "button"))
	if v.Next != 400 || len(v.Waits) != 1 {
		t.Errorf("it waits for %q, in %v", v.Waits, v.Next)
	}
	v = do(`{"Do": "wait", "Ms": 100}`)
	v = do(`{"Do": "wait", "Ms": 100}`)
	v = do(`{"Do": "next"}`)
	if last := v.Steps[len(v.Steps)-1]; last != "wait 400" || !strings.HasSuffix(v.Page.Text, "late") || !v.Bring {
		t.Errorf("time passes as %q: %s", v.Steps, v.Page.Text)
	}
	v = do(`{"Do": "gesture", "Verb": "press", "Place": %d}`, lastTag(v, "button")-1)
	if !slices.Equal(v.Answers, []string{"reply kiln-log.count"}) || !slices.Equal(v.Fails, []string{"fail kiln-log.count"}) {
		t.Errorf("what waits can be answered by %q and %q", v.Answers, v.Fails)
	}
	v = do(`{"Do": "answer", "N": 0}`)
	if !strings.Contains(v.Page.Text, "7") || v.Acts[len(v.Acts)-1] != (serve.Act{Verb: "reply", Place: -1, Onto: -1, Ask: "kiln-log.count", Nth: 1}) {
		t.Errorf("an answer gives %s, by %+v", v.Page.Text, v.Acts)
	}
	v = do(`{"Do": "undo"}`)
	if v.Done != len(v.Steps)-1 || !v.Bring || len(v.Acts) != v.Done {
		t.Errorf("taken back are %d of %q", v.Done, v.Steps)
	}
	v = do(`{"Do": "redo"}`)
	v = do(`{"Do": "jump", "N": 2}`)
	if v.Done != 2 || !strings.Contains(v.Page.Text, "Ada,ash,0,early") {
		t.Errorf("after two steps it is %s", v.Page.Text)
	}
	v = do(`{"Do": "save", "Name": "filling"}`)
	if v.Said != "saved in rack.lien" || !strings.Contains(b.saved, `type "Ada" into textbox "Maker"`) {
		t.Errorf("%s: %s", v.Said, b.saved)
	}
	b.set(strings.Replace(rack, `h1 "Rack"`, `h1 "Shelf"; p "more"`, 1))
	v = do(`{"Do": "again"}`)
	if v.Said != "read again: 2" || !strings.HasPrefix(v.Page.Text, "Shelfmore") || v.Acts[1].Place != field+1 {
		t.Errorf("%s: %s, by %+v", v.Said, v.Page.Text, v.Acts)
	}
	v = do(`{"Do": "over"}`)
	if v.Done != 0 || len(v.Steps) != 0 {
		t.Errorf("begun anew it is %q", v.Steps)
	}
	if v = do(`{"Do": "burn"}`); !strings.Contains(v.Error, `"burn"`) {
		t.Errorf("it does what nobody knows: %+v", v)
	}
	alone, _ := asks(t, s, fmt.Sprintf(`{"Desk": %q, "Do": "open", "Alone": "ware-row", "Given": ["name <- \"jug\""]}`, v.Desk))
	if alone.Alone != "ware-row" || alone.Page.Text != "Filljug" || p.Desks() != 1 {
		t.Errorf("alone it is %s, %d desks", alone.Page.Text, p.Desks())
	}
	if wrong, status := asks(t, s, `{"Do": "open", "Start": "none"}`); status != 422 || wrong.Error != "there is no start none" {
		t.Errorf("%d %s", status, wrong.Error)
	}
	if _, status := asks(t, s, `{"Do": "undo", "Desk": "none"}`); status != 410 {
		t.Errorf("a desk that is none does something: %d", status)
	}
}

func lastTag(v serve.View, tag string) int {
	list := slices.Clone(v.Page.Tags)
	slices.Reverse(list)
	return len(list) - 1 - slices.Index(list, tag)
}

// TestDesksAreFew: of many browsers the last keep their panes, and nothing is left of those that go away.
func TestDesksAreFew(t *testing.T) {
	_, p, s := served(t)
	var first, last string
	for i := range 40 {
		v, _ := asks(t, s, `{"Do": "open"}`)
		if last = v.Desk; i == 0 {
			first = v.Desk
		}
	}
	if n := p.Desks(); n != 30 {
		t.Errorf("there are %d desks", n)
	}
	if _, status := asks(t, s, `{"Do": "undo", "Desk": "`+first+`"}`); status != 410 {
		t.Errorf("the first is there: %d", status)
	}
	ctx, leave := context.WithCancel(context.Background())
	r, _ := http.NewRequestWithContext(ctx, http.MethodGet, s.URL+"/lien-changes?since=1&desk="+last, nil)
	stream, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	leave()
	stream.Body.Close()
	for range 200 {
		if p.Desks() == 29 {
			return
		}
		time.Sleep(5 * time.Millisecond)
	}
	t.Errorf("%d desks are left", p.Desks())
}

// TestPaneRefuses: panes ask by POST, in JSON, from here.
func TestPaneRefuses(t *testing.T) {
	_, _, s := served(t)
	for _, c := range []struct {
		method, kind, origin, body string
		status                     int
	}{
		{"POST", "application/json", "", `{"Do": "open"}`, 200},
		{"POST", "application/json", s.URL, `{"Do": "open"}`, 200},
		{"POST", "application/json", "https://kilns.example", `{"Do": "open"}`, 403},
		{"POST", "text/plain", "", `{"Do": "open"}`, 415},
		{"POST", "application/json", "", `{"Do": `, 400},
		{"POST", "application/json", "", `{"Text": "` + strings.Repeat("x", 2<<20) + `"}`, 400},
		{"GET", "application/json", "", "", 405},
		{"DELETE", "application/json", "", "", 405},
	} {
		r, _ := http.NewRequest(c.method, s.URL+"/lien-do", strings.NewReader(c.body))
		r.Header.Set("Content-Type", c.kind)
		if c.origin != "" {
			r.Header.Set("Origin", c.origin)
		}
		got, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		got.Body.Close()
		if got.StatusCode != c.status {
			t.Errorf("%s %s from %q: %d, not %d", c.method, c.kind, c.origin, got.StatusCode, c.status)
		}
	}
	for _, path := range []string{"/at/none/index.html", "/lien-none.js", "/lien-../serve.go", "/at/"} {
		if got, err := http.Get(s.URL + path); err != nil || got.StatusCode != 404 {
			t.Errorf("%s: %v, %v", path, got, err)
		}
	}
}

// looker is somebody who looks at a pane in a browser.
type looker struct {
	*webdriver.Session
	t *testing.T
}

const (
	steps = `[...document.querySelectorAll("#steps button")].map(b => (b.className ? "(" + b.className + ") " : "") + b.textContent).slice(1).join("; ")`
	shown = `document.getElementById("page").contentDocument?.querySelector("body p:last-of-type")?.textContent`
	said  = `document.getElementById("said").textContent`
)

// looking opens a served design.
func looking(t *testing.T, s *httptest.Server) looker {
	t.Helper()
	driver, err := webdriver.Start(context.Background(), "")
	if errors.Is(err, webdriver.ErrNoDriver) {
		t.Skip("there is no browser to drive")
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { driver.Close() })
	in, err := driver.Open(context.Background(), true)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { in.Close() })
	if err := in.Go(s.URL + "/"); err != nil {
		t.Fatal(err)
	}
	return looker{in, t}
}

// lookingAt looks at the pane of a design.
func lookingAt(t *testing.T, text string) looker {
	t.Helper()
	b, p, s := served(t)
	b.set(text)
	p.Changed()
	return looking(t, s)
}

func (l looker) text(script string) (got string) {
	l.t.Helper()
	if err := l.Run("return String("+script+")", &got); err != nil {
		l.t.Fatal(err)
	}
	return got
}

// comes waits until a script gives a text.
func (l looker) comes(script, want string) {
	l.t.Helper()
	for until := time.Now().Add(20 * time.Second); time.Now().Before(until); {
		if l.text(script) == want {
			return
		}
		time.Sleep(10 * time.Millisecond)
	}
	l.t.Errorf("it is %q, not %q; the pane says %q", l.text(script), want, l.text(said))
}

// at is the middle of an element.
func (l looker) at(script string) (x, y int) {
	l.t.Helper()
	var at struct{ X, Y float64 }
	err := l.Run("const el = "+script+"; el.scrollIntoView({ block: 'center' }); const r = el.getBoundingClientRect(); const f = el.ownerDocument === document ? { left: 0, top: 0 } : document.getElementById('page').getBoundingClientRect(); return { X: f.left + r.left + r.width / 2, Y: f.top + r.top + r.height / 2 }", &at)
	if err != nil {
		l.t.Fatal(err)
	}
	return int(at.X), int(at.Y)
}

// on moves the mouse onto an element, before more is done.
func (l looker) on(script string) *webdriver.Actions {
	l.t.Helper()
	return (&webdriver.Actions{}).MoveToPoint(l.at(script))
}

func (l looker) does(a *webdriver.Actions) {
	l.t.Helper()
	if err := l.Perform(a); err != nil {
		l.t.Fatal(err)
	}
}

func (l looker) press(script string) { l.t.Helper(); l.does(l.on(script).Down(0).Up(0)) }

// inPage finds a button of the page.
func inPage(name string) string {
	return `[...document.getElementById("page").contentDocument.querySelectorAll("button")].find(b => b.textContent === "` + name + `")`
}

// TestPane: in a browser the page runs beside its pane; what is done on it with the mouse and the keyboard is told there, can be
// taken back and done again, and goes on when the design changes.
func TestPane(t *testing.T) {
	b, p, s := served(t)
	in := looking(t, s)
	comes, text, press := in.comes, in.text, in.press
	comes(shown, ", ash, 0, early")

	press(inPage("Fill bowl"))
	comes(steps, `press button "Fill bowl"`)
	press(`document.getElementById("page").contentDocument.querySelector("input")`)
	for _, k := range []string{"A", "d", "a"} {
		if err := in.Perform((&webdriver.Actions{}).KeyDown(k).KeyUp(k)); err != nil {
			t.Fatal(err)
		}
	}
	comes(steps, `press button "Fill bowl"; press textbox "Maker"; type "Ada" into textbox "Maker"`)
	comes(shown, "Ada, ash, 0, early")
	press(inPage("Wait"))
	comes(shown, "Ada, ash, 0, late") // the time runs
	press(inPage("Count"))
	comes(`document.querySelector("#waits button")?.textContent`, "reply kiln-log.count")
	press(`[...document.querySelectorAll("#waits button")].find(b => b.textContent.startsWith("reply"))`)
	comes(shown, "Ada, ash, 7, late")
	press(`document.getElementById("undo")`)
	comes(shown, "Ada, ash, 0, late")
	press(`document.querySelectorAll("#steps button")[1]`)
	comes(shown, ", ash, 0, early")
	comes(`document.getElementById("page").contentDocument.querySelector("button").getAttribute("aria-pressed")`, "true")
	press(`document.querySelectorAll("#steps button")[3]`)
	comes(shown, "Ada, ash, 0, early")

	b.set(strings.Replace(rack, `h1 "Rack"`, `h1 "Shelf"`, 1))
	p.Changed()
	comes(`document.getElementById("page").contentDocument?.querySelector("h1")?.textContent`, "Shelf")
	comes(shown, "Ada, ash, 0, early")
	b.set(strings.Replace(rack, `h1 "Rack"`, `h2 rack`, 1))
	p.Changed()
	comes(`document.getElementById("said").textContent.split(":")[0]`, "not read again")
	b.set(rack)
	p.Changed()
	comes(`document.getElementById("page").contentDocument?.querySelector("h1")?.textContent`, "Rack")

	press(`document.getElementById("point")`)
	press(inPage("Fill bowl")) // which is pointed at, and not pressed
	comes(`document.querySelector("#pointed h3")?.textContent`, "button rack.lien:8:10")
	comes(`[...document.querySelectorAll("#pointed code")].map(c => c.textContent).join("; ")`, `full = true`)
	press(`document.getElementById("point")`)
	press(`[...document.querySelectorAll(".cell")].find(c => c.textContent.startsWith("maker"))`)
	comes(`document.getElementById("page").contentDocument.querySelectorAll("#lien-light div").length`, "2") // the field and the line

	if err := in.Run(`const s = document.getElementById("what"); s.value = "alone:ware-row"; s.dispatchEvent(new Event("change"))`, nil); err != nil {
		t.Fatal(err)
	}
	comes(`document.getElementById("page").contentDocument?.querySelectorAll("button").length + " " + document.getElementById("page").contentDocument?.querySelectorAll("h1").length`, "1 0")
	if n := p.Desks(); n != 1 {
		t.Errorf("there are %d desks", n)
	}
	if told := text(`document.getElementById("said").textContent`); told != "" {
		t.Errorf("the pane says %q", told)
	}
}

const kiln = `component kiln-page {
  holds over: boolean = false
  holds came: number = 0
  holds hot: boolean = false
  holds several: number = 0
  holds shelf: string = "none"
  timer heat after 300 { hot = true }
  view {
    div { mouseenter -> { over = true; came = came + 1 }; mouseleave -> over = false; button "Look" { click(e) -> several += e.shiftKey ? 10 : 1 } }
    button "Heat" { mousedown -> start heat; mouseup -> stop heat }
    button "Take" { draggable <- true }
    button "Shelf" { dragover(e) -> e.preventDefault(); drop -> shelf = "taken" }
    p ` + "`${over ? \"over\" : \"off\"} ${came}, ${hot ? \"hot\" : \"cold\"}, ${several}, ${shelf}`" + `
  }
}

start kiln-page
`

// TestPaneGestures: what only some gestures tell is told to the engine as the page tells it: where the mouse is, how long its button
// is held, which keys are held beside it, what presses by key, and what is dragged; and a page that is brought there does the same.
func TestPaneGestures(t *testing.T) {
	in := lookingAt(t, kiln)
	in.comes(shown, "off 0, cold, 0, none")
	in.does(in.on(inPage("Look")).Down(0).Up(0).KeyDown("\uE008").Down(0).Up(0).KeyUp("\uE008"))
	in.comes(shown, "over 1, cold, 11, none")
	in.does((&webdriver.Actions{}).KeyDown(" ").KeyUp(" "))
	in.comes(shown, "over 1, cold, 12, none")
	in.does(in.on(inPage("Heat")).Down(0))
	in.comes(shown, "off 1, hot, 12, none")
	in.does((&webdriver.Actions{}).Up(0))
	want := `hover button "Look"; press button "Look"; press button "Look" with "Shift"; key " " on button "Look"; hover button "Heat"; hold button "Heat"; wait 300; release button "Heat"`
	told := strings.ReplaceAll(steps, "b.textContent)", `b.textContent.replace(/wait \d+/, "wait 300"))`)
	in.comes(told, want)
	in.comes(said, "")

	press := func(n string) {
		step := `document.querySelectorAll("#steps button")[` + n + `]`
		in.does(in.on(step))
		in.comes(steps+`.split("; ").at(-1).endsWith("hover outside")`, "true") // the mouse left the page
		in.press(step)
	}
	press("3")
	in.comes(shown, "over 1, cold, 11, none")
	press("8")
	in.comes(shown, "off 1, hot, 12, none")
	x, y := in.at(inPage("Take"))
	tox, toy := in.at(inPage("Shelf"))
	in.does((&webdriver.Actions{}).MoveToPoint(x, y).Down(0).MoveToPoint(x+6, y+2).MoveToPoint(x+10, y+2).MoveToPoint(tox, toy).MoveToPoint(tox+1, toy+1).Up(0))
	in.comes(shown, "off 1, hot, 12, taken")
	in.comes(told+`.replace(/(; hover [^;]*)+$/, "")`, want+`; hover button "Take"; drag button "Take" onto button "Shelf"`)
	in.comes(said, "")

	in.does((&webdriver.Actions{}).MoveToPoint(x, y).Down(0).MoveToPoint(x+6, y+2).MoveToPoint(x+10, y+2).MoveToPoint(3, 400).MoveToPoint(2, 401).Up(0))
	in.comes(steps+`.includes('; drag button "Take" outside')`, "true")
	in.comes(said, "")

	press("1") // where it is on Look, and comes back on Heat
	in.comes(shown, "over 1, cold, 0, none")
	in.does(in.on(inPage("Heat")))
	in.comes(shown, "off 1, cold, 0, none")
	in.does((&webdriver.Actions{}).MoveToPoint(1, 400).Down(0).Up(0))
	in.comes(told, `hover button "Look"; hover button "Heat"; hover outside`) // where nobody hears a press
	in.comes(said, "")
}

const sheet = `component sheet-page {
  holds said: string = ""
  action say(what: string) { said = said + " " + what }
  view {
    button "Open" { click -> box?.showModal() }
    button "Tip" { popovertarget <- "tip" }
    div { id <- "tip"; popover <- "auto"; toggle -> say("tip"); p "A tip" }
    dialog named box {
      aria-label <- "Sheet"
      cancel(e)  -> { say("asked"); e.preventDefault() }
      close      -> say("closed")
      button "In" { click -> say("in") }
    }
    p ` + "`Said:${said}`" + `
  }
}

start sheet-page
`

// TestPaneLayers: what Escape and a press elsewhere close goes by all that was done, also where a page was brought there.
func TestPaneLayers(t *testing.T) {
	in := lookingAt(t, sheet)
	tells := func(want string) {
		t.Helper()
		in.comes(`[...document.getElementById("page").contentDocument?.querySelectorAll("p") ?? []].at(-1)?.textContent`, "Said:"+want)
		in.comes(said, "")
	}
	escape := func() { in.does((&webdriver.Actions{}).KeyDown("Escape").KeyUp("Escape")) }
	press := func(id string) { in.press(`document.getElementById("` + id + `")`) }
	tells("")
	in.press(inPage("Open"))
	escape()
	tells(" asked")
	press("undo")
	tells("")
	in.press(inPage("In")) // the browser knows of no other press on this page
	escape()
	tells(" in asked")
	in.press(inPage("In"))
	escape()
	tells(" in asked in asked")
	escape()
	tells(" in asked in asked asked closed")
	press("undo")
	tells(" in asked in asked")
	press("redo")
	tells(" in asked in asked asked closed")
	in.press(inPage("Tip"))
	in.does((&webdriver.Actions{}).MoveToPoint(3, 500).Down(0).Up(0))
	tells(" in asked in asked asked closed tip tip")
	press("undo")
	tells(" in asked in asked asked closed tip")
	press("redo")
	tells(" in asked in asked asked closed tip tip")
}
