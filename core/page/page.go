// Package page is a page as a browser has it: elements, events and their paths, focus, fields,
// forms, dialogs, popovers and keys, as the HTML, DOM, UI Events and Pointer Events standards
// say. It knows no design: whoever renders elements and hears events is its Host.
//
// Where the standards leave something to the browser, such as how a number field steps, the
// page does what most browsers on a desktop with a keyboard and a mouse do.
package page

import (
	"errors"
	"slices"

	"lien/core/css"
)

// Host renders the elements of a page and hears its events.
type Host interface {
	// Elements visits all elements that are on the page in tree order, until visit says false.
	Elements(visit func(*Element) bool)
	// Contents are the elements and texts that stand in the body.
	Contents() []Node
	// Dispatch runs change, which may be nil, and then whatever hears the event on its path. It
	// may set Prevented, and act on the page itself.
	Dispatch(ev *Event, change func()) error
	// Hears says whether anything on the page may hear events of a name.
	Hears(event string) bool
	// Replaced and Moved are told what the properties of an element, and the state of the page,
	// were before they changed.
	Replaced(el *Element, old Props)
	Moved(old State)
	// Took is told, while an event is dispatched, that the user changed properties of an element,
	// and Acted that with the event dispatched next, or now, what the user does to it is done.
	Took(el *Element, names ...string)
	Acted(el *Element)
	// Touched is told that a field was changed by its user, or left.
	Touched(el *Element)
	// Reset gives the controls of a form their first values.
	Reset(form *Element, controls []*Element) error
	// Pressed is told where a press lands, before anything hears it.
	Pressed(el *Element) error
	// Compare orders two elements as they stand on the page, or stood before they were gone.
	Compare(a, b *Element) int
}

// Page is what a host renders, with what its user has done to it.
type Page struct {
	// Body is what all other elements stand in, and what keys go to where nothing has the focus.
	Body *Element
	// Ahead is how many groups of close watchers are counted at most beside the first; 0: all are.
	Ahead int
	// Blind says that nobody asks who has the focus: what loses it for being hidden may keep it.
	Blind bool
	// Styles are the rules that decide whether elements are shown, or nil; Screen is what they are shown on.
	Styles *css.Hiding
	Screen css.Screen
	host   Host
	state  State
	tasks  []task          // put off until the event that is on its way is over
	held   *[]func() error // what is told of the focus after what is on its way, or nil: at once
	busy   bool            // tasks run
	depth  int             // how many events are on their way, one in the other
	fault  Fault
}

// Fault is what went wrong with the focus in gestures.
type Fault struct {
	Lost  *Element // it vanished with the focus on it, and nothing has it now
	Stuck *Element // Tab did not lead on from it
}

// Fault tells what went wrong with the focus since it was asked last.
func (p *Page) Fault() Fault {
	f := p.fault
	p.fault = Fault{}
	if p.state.Focus != nil {
		f.Lost = nil
	}
	return f
}

// New is an empty page of a host.
func New(h Host) *Page {
	p := &Page{host: h}
	p.Body = &Element{Source: bodySource{h}, page: p, Traits: 0}
	return p
}

// State is what a page remembers between gestures, beside the properties of its elements.
type State struct {
	Focus *Element // what has the focus; nil: the body
	Start *Element // where Tab goes on from; nil: what has the focus, or the beginning
	// Before says that Tab goes on right before Start, which itself comes next.
	Before bool
	Over   *Element // what the mouse is on
	Held   Pressing // its main button, if it is held
	Key    *Element // on what Space was pressed, and is held
	Top    *Layer   // the topmost layer above the page, or nil
	Watch  Watching
}

// Layer is a dialog or popover above the page.
type Layer struct {
	Element *Element
	Modal   bool
	Own     bool     // the host raised it, and is told when Escape asks it to close
	Group   int      // of close watchers, if it has one
	Before  *Element // what had the focus
	Invoker *Element // the button that shows it, after which Tab visits it; or nil
	Under   *Layer
}

// State is the state of the page now.
func (p *Page) State() State { return p.state }

// Restore sets the state of the page without telling its host.
func (p *Page) Restore(s State) { p.state = s }

// Focus is the element that has the focus, or nil.
func (p *Page) Focus() *Element { return p.state.Focus }

// Over is the element that the mouse is on, or nil.
func (p *Page) Over() *Element { return p.state.Over }

func (p *Page) set(s State) {
	if s == p.state {
		return
	}
	old := p.state
	p.state = s
	p.host.Moved(old)
}

func (p *Page) setFocus(el *Element) {
	s := p.state
	s.Focus = el
	if el != nil {
		s.Start, s.Before = nil, false
	}
	p.set(s)
}

// put changes the properties of an element.
func (p *Page) put(el *Element, props Props) {
	if el.props == props {
		return
	}
	old := el.props
	el.props = props
	p.host.Replaced(el, old)
}

// fire dispatches an event on an element that is still there.
func (p *Page) fire(ev *Event, change func()) error {
	if change == nil && !p.host.Hears(ev.Name) || !ev.late && ev.Target.Gone() {
		return nil
	}
	was := p.state.Focus
	hid := was != nil && was.Has("hidden")
	p.depth++
	err := p.host.Dispatch(ev, change)
	p.depth--
	if err != nil || p.Blind || p.depth > 0 {
		return err
	}
	// What becomes hidden itself loses the focus at once, and does not wait until the page is drawn, as all else does that
	// cannot keep it.
	if f := p.state.Focus; f != nil && !f.Gone() && f.Has("hidden") && !(f == was && hid) {
		return p.dropFocus(f)
	}
	return nil
}

// unheard stands for events that nobody hears.
var unheard = &Event{}

// tell fires an event like another one, and makes none where nobody would hear it.
func (p *Page) tell(ev Event, name string, el *Element) (*Event, error) {
	if !p.host.Hears(name) {
		return unheard, nil
	}
	e := like(ev, name, el)
	return e, p.fire(e, nil)
}

func (p *Page) on(el *Element, name string) error {
	_, err := p.tell(Event{}, name, el)
	return err
}

// task is what is put off: a task of its own, in the words of the HTML standard.
type task struct {
	toggles *Element // what it reports toggle of, or nil
	do      func() error
}

// later puts something off until the event that is on its way has been heard.
func (p *Page) later(do func() error) { p.tasks = append(p.tasks, task{do: do}) }

// sooner is later, but before what tells that something was opened or shut.
func (p *Page) sooner(do func() error) {
	at := slices.IndexFunc(p.tasks, func(t task) bool { return t.toggles != nil })
	if at < 0 {
		at = len(p.tasks)
	}
	p.tasks = slices.Insert(p.tasks, at, task{do: do})
}

// ErrEndless says that what follows from an event never ends: each of what is put off puts off more.
var ErrEndless = errors.New("what follows from this never ends: events that tell what was opened or shut set off each other")

// mostTasks is how many things may be put off after one event.
const mostTasks = 1000

// Settle brings the page to rest after an event: what was put off happens, and what can have the
// focus no longer loses it.
func (p *Page) Settle() error {
	if p.busy || p.depth > 0 {
		return nil
	}
	p.busy = true
	defer func() { p.busy = false }()
	for n := 0; ; n++ {
		if n > mostTasks {
			p.tasks = nil
			return ErrEndless
		}
		do := p.fixFocus
		if len(p.tasks) > 0 {
			do, p.tasks = p.tasks[0].do, p.tasks[1:]
		} else if p.Blind || p.state.Focus == nil || p.state.Focus.Focusable() {
			return nil
		}
		if err := do(); err != nil {
			p.tasks = nil
			return err
		}
	}
}

// Forget drops what was put off, of a turn that failed.
func (p *Page) Forget() { p.tasks, p.held, p.busy, p.depth = nil, nil, false, 0 }

// steps runs steps until one fails.
func steps(list ...func() error) error {
	for _, s := range list {
		if err := s(); err != nil {
			return err
		}
	}
	return nil
}

// settled ends one input event of a gesture.
func (p *Page) settled(err error) error {
	if err != nil {
		p.tasks = nil
		return err
	}
	return p.Settle()
}
