// Package engine runs a design: instances and their cells, turns, simulated
// time, the rendered tree with its ARIA roles and names.
//
// A design is compiled once. An outside cause makes a turn: its handlers
// run, then what depends on changed cells is worked out again, then the page
// is refreshed. A turn that fails leaves everything as it was.
package engine

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/css"
	"lien/core/design"
	"lien/core/flow"
	"lien/core/page"
	"lien/core/source"
	"lien/core/value"
)

const (
	maxNesting = 1000 // calls, components
	maxRounds  = 100  // of refreshing in one turn
)

// Engine is a design that runs.
type Engine struct {
	program  *program
	root     *Instance
	live     map[*component][]*Instance
	unsorted map[*component]bool

	now  float64 // simulated milliseconds
	keys uint64  // given by fresh so far
	page *page.Page

	observing observation
	busy      []*node // being worked out, the innermost last
	stamp     uint64
	epoch     uint64 // counts changes, for what is asked between them
	stack     []value.Value
	marked    []*node       // by writes of this turn, whether worked out again since or not
	queue     []*node       // what the page shows and may have changed
	following []*node       // what is followed and may have changed
	unshown   []*node       // what the page shows and what is followed that may have changed before the turn
	skipped   []*node       // the same, in places that are ending
	leaving   []*Instance   // unmounted, with hooks to run
	lasting   []*Instance   // contexts that are unmounted and end only after all that is inside has
	arriving  []*Instance   // mounted, with hooks to run
	level     int           // how deep the entries of the turn's record are nested
	pieces    int           // how many pieces the page has
	blocks    int           // how many blocks were made
	calls     []elementCall // of element methods, to be run after the turn
	ahead     int           // page.Page.Ahead
	calling   int           // how many run, one from the events of the other
	moved     bool          // instances came, went or moved since lists were gathered
	openings  []*opening    // what is open above the page, the topmost last
	toOpen    []*opening    // opened in this turn
	opened    int           // how many were opened so far
	forms     []*Element    // whose values are read
	leaves    bool          // something left in this turn
	asked     int           // how many questions were asked so far
	asks      []*asked      // what waits for an answer, the oldest first
	timers    timers        // that run
	stale     []*eachPart   // lists that may have changed since their items were told
	kept      bool          // a link kept its value in this turn
	past      bool          // reading values from before the turn

	tracker  *tracker    // notes what is read, or nil
	rounds   uint32      // of tracking so far
	watchers *watchers   // that watch values, or nil
	numbered *Reader     // who read last, and gave cells and elements their places
	strict   bool        // equal values are not the same: watched ones are exchanged
	slice    *flow.Slice // what is looked at, or nil: all
	still    bool        // a law is held against a turn in which nothing happens
	oneOrder bool        // of questions that do not concern each other
	mutes    bool        // pieces that cannot fail are worked out only when asked for
	window   uint64      // counts refreshes
	since    int         // where in the undo log the last one was
	changes  uint64      // of cells, instances, timers and questions so far

	undo    []undo
	blind   bool     // nobody asks who has the focus
	keeps   bool     // the logs of turns, to take them back
	journal [][]undo // that are kept
	spare   [][]undo // logs to be used again
	record  *Record
	event   *page.Event // the DOM event being handled
	touched []*Element  // whose properties the user changed in this turn
	outside []*Element  // that hear presses elsewhere
	acting  *Instance   // whose handler runs
	grouped []*Element  // radio buttons that came onto the page checked
	turns   []*Record   // since they were last asked for
	enabled int         // how many causes were listed last

	// OnTurn is told of every turn that succeeded; its error ends the gesture.
	OnTurn func(*Record) error
	// OnRun is told of every body that runs and of every tie that is written,
	// by where it is written.
	OnRun  func(at source.Span)
	depth  int      // calls
	frames []*frame // that were used, the first framed of them now
	framed int
	probe  *Block // in which keys are worked out
	budget budget
	texts  [4]value.Indexed // those that were looked into last
	oldest int              // which of them makes room for another one
}

// New is an engine for a design without errors; nothing is mounted yet.
func New(d *design.Design) *Engine { return newEngine(d, false) }

// NewStrict is the same for values of any size: nothing is taken not to fail.
func NewStrict(d *design.Design) *Engine { return newEngine(d, true) }

func newEngine(d *design.Design, strict bool) *Engine {
	b := budget{Budget: d.Budget}
	if b.Budget == (design.Budget{}) {
		b.Budget = UsualBudget
	}
	b.limit(false)
	e := &Engine{budget: b, program: compile(d, strict), live: map[*component][]*Instance{}, unsorted: map[*component]bool{}, record: &Record{}}
	e.emptyPage(css.Usual())
	return e
}

// Failure is a turn that failed: what happened, where in the text, and in
// which instance.
type Failure struct {
	At      source.Span
	Message string
	Path    string  // the instance, from the root
	Chain   []Entry // of a turn that never settles: what repeats
}

func (f *Failure) Error() string { return f.Message }

// fail ends the turn.
func (e *Engine) fail(at source.Span, format string, args ...any) {
	f := &Failure{At: at, Message: fmt.Sprintf(format, args...)}
	if n := e.observing.node; n != nil && n.inst != nil {
		f.Path = n.inst.Path()
	} else if e.acting != nil {
		f.Path = e.acting.Path()
	}
	panic(f)
}

func (e *Engine) fresh() value.Value {
	e.undo = append(e.undo, undo{kind: undoKeys, index: int(e.keys)})
	e.keys++
	return value.Key(e.keys)
}

// Path names an instance by the components from the root to it, with the key
// of the item where it stands in a list.
func (i *Instance) Path() string {
	var parts []string
	for i != nil {
		name := i.comp.def.Name
		if i.use == nil {
			parts = append(parts, name)
			break
		}
		if n := i.use.t.place; n > 0 {
			name += fmt.Sprint(" ", n)
		}
		for b := i.use.block; b != nil; b = b.up {
			if b.key != nil {
				name += "[" + value.Brief(b.key, 24) + "]"
				break
			}
		}
		parts = append(parts, name)
		i = i.use.inst
	}
	slices.Reverse(parts)
	return strings.Join(parts, " > ")
}

// Mount mounts a start. What was mounted before is forgotten.
func (e *Engine) Mount(s *design.Start) (*Record, error) {
	e.forget()
	e.page.Screen = s.ShownOn()
	rec, err := e.turn("mount", func() {
		c := e.program.components[s.Root]
		given := map[int]*code{}
		for _, l := range append(slices.Clone(s.Links), s.Seeds...) {
			given[l.Member.Slot] = e.program.unit(&l.Unit)
		}
		e.root = e.instance(c, nil, func(slot int, n *node) bool {
			code, ok := given[slot]
			if ok {
				e.untracked(func() { n.val = e.run(code, nil, nil) })
			}
			return ok
		})
		e.root.body = e.mountBlock(c.view, e.root, nil, nil, nil, func(body *Block) { e.root.body = body })
		e.mounted(e.root)
	})
	if err == nil {
		err = e.flushed(e.begun())
	}
	return rec, err
}

// emptyPage begins a page, on a screen.
func (e *Engine) emptyPage(s css.Screen) {
	e.page = page.New((*host)(e))
	e.page.Ahead = e.ahead
	e.page.Styles, e.page.Screen = e.program.design.Hiding, s
}

// begun runs what follows from mounting: methods of elements, and what asks for the focus.
func (e *Engine) begun() error {
	if err := e.runCalls(); err != nil {
		return err
	}
	if err := e.page.Autofocus(); err != nil {
		return err
	}
	return e.page.Settle()
}

// forget lets go of everything that was mounted.
func (e *Engine) forget() {
	e.end()
	e.root, e.live, e.unsorted = nil, map[*component][]*Instance{}, map[*component]bool{}
	e.timers, e.asks, e.openings, e.toOpen, e.journal = timers{}, nil, nil, nil, nil
	e.outside, e.forms, e.turns, e.grouped = nil, nil, nil, nil
	e.emptyPage(css.Usual())
	e.page.Blind = e.blind
	e.now, e.pieces = 0, 0
}

// born notes a new instance.
func (e *Engine) born(i *Instance) {
	e.list(i)
	e.moved = true
	e.record.mounted = append(e.record.mounted, i)
	e.undo = append(e.undo, undo{kind: undoBorn, inst: i})
}

// list puts an instance on the list of those of its component.
func (e *Engine) list(i *Instance) {
	e.changes++
	if !i.listed {
		i.listed = true
		list := e.live[i.comp]
		if len(list) == cap(list) { // those that have gone need not take more room
			list = there(list)
		}
		e.live[i.comp] = append(list, i)
		e.unsorted[i.comp] = true
	}
}

// there are the instances of a list that have not gone. The list stays as it is,
// since someone may go through it.
func there(list []*Instance) []*Instance {
	return slices.DeleteFunc(slices.Clone(list), func(i *Instance) bool {
		i.listed = i.listed && !i.gone
		return i.gone
	})
}

// died notes an instance that is unmounted.
func (e *Engine) died(i *Instance) {
	i.gone = true
	e.changes++
	e.record.unmounted = append(e.record.unmounted, i)
	e.undo = append(e.undo, undo{kind: undoDied, inst: i})
	e.stopAll(i)
	for _, c := range i.contexts {
		e.lasting = append(e.lasting, c)
		e.died(c)
	}
	if len(i.comp.hooks) > 0 {
		e.leaving = append(e.leaving, i)
	}
}

// all are the live instances of a component, in tree order.
func (e *Engine) all(c *component) []*Instance {
	list := e.live[c]
	if slices.ContainsFunc(list, func(i *Instance) bool { return i.gone }) {
		list = there(list)
	} else if e.unsorted[c] || len(list) > 1 {
		list = slices.Clone(list)
	}
	e.live[c] = list
	if e.unsorted[c] || len(list) > 1 {
		slices.SortStableFunc(list, func(a, b *Instance) int { return comparePlaces(a.anchor(), b.anchor()) })
		e.unsorted[c] = false
	}
	return list
}

// anchor is where an instance stands in the tree.
func (i *Instance) anchor() place {
	if i.use == nil {
		return place{i.body, 0}
	}
	if i.use.block == nil {
		return i.use.inst.anchor()
	}
	return place{i.use.block, i.use.t.order}
}

// ending says whether the instance will be gone after the next refresh.
func (i *Instance) ending(e *Engine) bool {
	switch {
	case i.gone:
		return true
	case i.body != nil:
		return i.body.ending(e)
	case i.use != nil:
		return i.use.inst.ending(e)
	}
	return false
}

// place is a spot in the rendered tree.
type place struct {
	block *Block
	order int
}

// up is the spot at which the block of this one is shown.
func (p place) up() place {
	b, order := p.block.host.place()
	return place{b, order}
}

// compareItems orders two items of one list: by their places in it, those that
// are gone from it after the ones that took their places.
func compareItems(a, b *Block) int {
	switch {
	case a.index != b.index:
		return a.index - b.index
	case a.absent != b.absent:
		if a.absent {
			return 1
		}
		return -1
	}
	return a.number - b.number
}

// compareShown is compareItems for the lists as the page last showed them, at
// a refresh that is the window'th.
func compareShown(window uint64) func(a, b *Block) int {
	return func(a, b *Block) int {
		if d := a.shownAt(window) - b.shownAt(window); d != 0 {
			return d
		}
		return a.number - b.number
	}
}

// shownAt is the place at which the last refresh before the window'th put an item.
func (b *Block) shownAt(window uint64) int {
	if b.movedIn == window+1 {
		return b.movedFrom
	}
	return b.index
}

// comparePlaces puts spots into tree order; what contains another comes first.
func comparePlaces(a, b place) int {
	order, _ := relatePlaces(a, b, compareItems)
	return order
}

// relatePlaces compares two spots, and says whether one contains the other.
func relatePlaces(a, b place, items func(a, b *Block) int) (order int, nested bool) {
	lifted := 0
	for a.block.depth > b.block.depth {
		a, lifted = a.up(), 1
	}
	for b.block.depth > a.block.depth {
		b, lifted = b.up(), -1
	}
	if a.block == b.block && a.order == b.order {
		return lifted, true
	}
	for a.block != b.block {
		if a.block.host == b.block.host && a.block.host != nil {
			return items(a.block, b.block), false
		}
		a, b = a.up(), b.up()
	}
	return a.order - b.order, false
}
