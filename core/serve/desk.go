package serve

import (
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"

	"lien/core/engine"
	"lien/core/play"
	"lien/core/web"
)

// Choice is what a page begins as: a start by its name or root, or a component alone with what it is given.
type Choice struct {
	Start     string
	Component string
	Given     []string
}

// Studio opens designs for pages: it knows where their files are.
type Studio interface {
	// Open mounts what is chosen. The error is for people.
	Open(c Choice) (*play.Session, error)
	// Again does in the design as it is now what was done in a session, as far as it fits, and says what came of it.
	Again(c Choice, s *play.Session) (*play.Session, string)
	// Save keeps what was done as a scenario, and says in which file.
	Save(c Choice, s *play.Session, name string) (string, error)
}

// desk is one browser's page with its pane: the engine that does what the page does.
type desk struct {
	mu      sync.Mutex
	choice  Choice
	session *play.Session
	files   map[string][]byte
	said    string
}

// maxDesks is how many browsers can have a pane at once; of more, the one that came first loses its own.
const maxDesks = 30

// desks are the pages that browsers show.
type desks struct {
	studio Studio
	mu     sync.Mutex
	list   map[string]*desk
	order  []string
}

func (ds *desks) open(c Choice) (string, *desk, error) {
	d := &desk{choice: c}
	if err := d.begin(ds.studio); err != nil {
		return "", nil, err
	}
	var id [16]byte
	rand.Read(id[:]) // which never fails
	name := hex.EncodeToString(id[:])
	ds.mu.Lock()
	defer ds.mu.Unlock()
	ds.list[name] = d
	ds.order = append(ds.order, name)
	if len(ds.order) > maxDesks {
		delete(ds.list, ds.order[0])
		ds.order = ds.order[1:]
	}
	return name, d, nil
}

func (ds *desks) find(name string) *desk {
	ds.mu.Lock()
	defer ds.mu.Unlock()
	return ds.list[name]
}

// leave lets go of a desk.
func (ds *desks) leave(name string) {
	ds.mu.Lock()
	defer ds.mu.Unlock()
	delete(ds.list, name)
	ds.order = slices.DeleteFunc(ds.order, func(o string) bool { return o == name })
}

func (ds *desks) count() int {
	ds.mu.Lock()
	defer ds.mu.Unlock()
	return len(ds.list)
}

// begin mounts what is chosen, and builds its page.
func (d *desk) begin(s Studio) error {
	session, err := s.Open(d.choice)
	if err != nil {
		return err
	}
	return d.show(session)
}

func (d *desk) show(session *play.Session) error {
	list, err := web.Build(session.Design, web.Options{Start: session.Start, StandIns: true})
	if err != nil {
		return err
	}
	d.session, d.files = session, map[string][]byte{}
	for _, f := range list {
		d.files[f.Path] = f.Text
	}
	return nil
}

// Request is what a pane asks.
type Request struct {
	Desk  string
	Do    string // open, gesture, wait, answer, fail, undo, redo, jump, again, over, save, of or shown
	Start string
	Alone string
	Given []string
	Verb  string
	Place int // of an element among those of the page
	Onto  int // of the one that it is dragged onto; -1: none
	Text  string
	Ms    float64
	N     int    // of the answers, or of the steps
	Name  string // of a scenario
	Path  string // of an instance
	Cell  string
}

// gestures are those that a page tells of.
var gestures = map[string]engine.Verb{"press": engine.Press, "tick": engine.Tick, "choose": engine.Choose, "set": engine.Put, "type": engine.Type, "key": engine.Key,
	"press twice": engine.Double, "rightpress": engine.Right, "hold": engine.Hold, "release": engine.Release, "hover": engine.Hover, "focus": engine.Focus, "drag": engine.Carry}

// did does what a pane asks for, and says whether the page has to be brought to where the session is.
func (d *desk) did(s Studio, r *Request) (bring bool, err error) {
	d.said = ""
	switch r.Do {
	case "gesture":
		return false, d.gesture(r)
	case "wait":
		return false, d.wait(r.Ms)
	case "next":
		next, ok := nextOf(d.session.Engine())
		if !ok {
			return false, errors.New("nothing comes by itself")
		}
		return true, d.wait(next)
	case "answer", "fail":
		return true, d.session.Answer(r.N, r.Do == "fail")
	case "undo":
		if !d.session.Undo() {
			d.said = "nothing is left to take back"
		}
	case "redo":
		if !d.session.Redo() {
			d.said = "nothing was taken back"
		}
	case "jump":
		return true, d.session.Jump(r.N)
	case "over":
		return true, d.begin(s)
	case "again":
		session, said := s.Again(d.choice, d.session)
		err := d.show(session)
		d.said = said
		return true, err
	case "save":
		file, err := s.Save(d.choice, d.session, r.Name)
		if err == nil {
			d.said = "saved in " + file
		}
		return false, err
	default:
		return false, fmt.Errorf("a pane cannot ask for %q", r.Do)
	}
	return true, nil
}

// nextOf is in how many milliseconds something comes by itself.
func nextOf(e *engine.Engine) (ms float64, ok bool) {
	for _, c := range e.Coming() {
		if c.In >= 0 && (!ok || c.In < ms) {
			ms, ok = c.In, true
		}
	}
	return ms, ok
}

// wait lets time pass. What passes without anything else being done is one act.
func (d *desk) wait(ms float64) error {
	if last := d.session.Last(); last != nil && last.Done.Verb == engine.Elapse && len(last.Turns) == 0 {
		ms += last.Done.Ms
		d.session.Undo()
	}
	return d.session.Wait(ms)
}

// gesture does on the engine what was done on the page. Typing on in one field, a button that goes down and up, and what comes with
// a second press, is one act.
func (d *desk) gesture(r *Request) error {
	verb, ok := gestures[r.Verb]
	if !ok {
		return fmt.Errorf("a pane cannot tell of %q", r.Verb)
	}
	if last := d.session.Last(); last != nil && last.Err == nil && last.Done.Place == r.Place {
		switch {
		case verb == last.Done.Verb && (verb == engine.Type || verb == engine.Put):
			d.session.Undo()
		case verb == engine.Release && last.Done.Verb == engine.Hold:
			d.session.Undo()
			verb = engine.Press
		case verb == engine.Double && last.Done.Verb == engine.Press:
			acts, n := d.session.Acts()
			if n < 2 || acts[n-2].Done != last.Done || last.Done.Text != r.Text {
				return nil // two presses that differ, by the keys that were held
			}
			d.session.Undo()
			d.session.Undo()
		}
	}
	if verb == engine.Carry {
		d.taken(r.Place)
	}
	e, el := d.session.Engine(), d.session.At(r.Place)
	if r.Place >= 0 && el == nil {
		return errors.New("the page has something there that the engine does not have")
	}
	focus := e.Focus()
	err := d.do(verb, el, r)
	if last := d.session.Last(); err == nil && len(last.Turns) == 0 && e.Focus() == focus && (verb == engine.Key || verb == engine.Press && !play.Operable(e, el)) {
		d.session.Forget() // nobody heard it
	}
	var failure *engine.Failure
	if errors.As(err, &failure) {
		return nil // the turn failed on the page, too; the view tells of it
	}
	return err
}

// taken takes back that something was held, and moved over others, which turned out to be dragged.
func (d *desk) taken(place int) {
	acts, n := d.session.Acts()
	at := n - 1
	for at >= 0 && acts[at].Done.Verb == engine.Hover {
		at--
	}
	if at < 0 || acts[at].Done.Verb != engine.Hold || acts[at].Done.Place != place {
		return
	}
	for range n - at {
		d.session.Undo()
	}
}

func (d *desk) do(verb engine.Verb, el *engine.Element, r *Request) error {
	if verb != engine.Carry {
		return d.session.Gesture(verb, el, r.Text)
	}
	onto := d.session.At(r.Onto)
	if onto == nil && r.Onto >= 0 {
		return errors.New("the page has something there that the engine does not have")
	}
	return d.session.Drag(el, onto)
}

// file is a file of the desk's page, in which the document looks after the page for the pane.
func (d *desk) file(path string) ([]byte, bool) {
	d.mu.Lock()
	defer d.mu.Unlock()
	text, ok := d.files[path]
	if path == "index.html" {
		text = []byte(strings.Replace(string(text), "<script ", "<script src=\"/lien-clock.js\"></script>\n<script src=\"/lien-layers.js\"></script>\n<script src=\"/lien-inside.js\"></script>\n<script ", 1))
	}
	return text, ok
}

// answer does what a pane asks, and gives what it shows then.
func (ds *desks) answer(r *Request) (status int, answer any) {
	wrong := func(status int, err error) (int, any) { return status, map[string]string{"Error": err.Error()} }
	if r.Do == "open" {
		name, d, err := ds.open(Choice{Start: r.Start, Component: r.Alone, Given: r.Given})
		if err != nil {
			return wrong(http.StatusUnprocessableEntity, err)
		}
		if r.Desk != "" {
			ds.leave(r.Desk) // it chose something else
		}
		d.mu.Lock()
		defer d.mu.Unlock()
		return http.StatusOK, d.view(name, true)
	}
	d := ds.find(r.Desk)
	if d == nil {
		return wrong(http.StatusGone, errors.New("the pane was put away for others; load the page again"))
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	switch r.Do {
	case "of":
		p, err := d.pointed(r.Place)
		if err != nil {
			return wrong(http.StatusUnprocessableEntity, err)
		}
		return http.StatusOK, p
	case "shown":
		return http.StatusOK, map[string][]int{"Places": d.shown(r.Path, r.Cell)}
	}
	bring, err := d.did(ds.studio, r)
	v := d.view(r.Desk, bring)
	if err != nil {
		v.Error = err.Error()
	}
	return http.StatusOK, v
}
