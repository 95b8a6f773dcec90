// Package draw makes pictures of a design: the house, which shows who holds,
// takes and reports what; the journey of one cell; one scenario in time; and
// the states of a small group.
package draw

import (
	"fmt"
	"strings"

	"lien/core/picture"
)

// Sizes in pixels. All heights are multiples of the grid, so that the rows of
// one column lie between those of the next, and no two lines cover each other.
const (
	grid    = 20.0
	header  = 2 * grid
	margin  = 24.0
	indent  = 10.0 // of the texts of a card
	words   = 50.0 // width of the word before a row
	narrow  = 150.0
	wide    = 286.0 // the widest card
	lead    = 16.0  // from a card to the first line beside it
	spacing = 9.0   // of the lines beside each other
	lane    = 10.0  // height of a line that goes past a column

	nameSize = 14.0
	textSize = 12.0
	wordSize = 10.0
)

// card is a box with rows: a component, a state, what the picture is about.
type card struct {
	name, sub string
	rows      []*row
	column    int
	order     float64 // among those of its column
	faint     bool
	dashed    bool // it is drawn whole elsewhere
	strong    bool // it is what the picture is about
	double    bool // a context
	plain     bool // its rows have no words
	quiet     bool // nothing of it changed since an earlier design
	change    change

	x, y, w float64
}

// words is the width of the words before the rows.
func (c *card) words() float64 {
	if c.plain {
		return 4
	}
	return words
}

func (c *card) height() float64 { return header + grid*float64(len(c.rows)) }

// row is one line of a card.
type row struct {
	word  string // what it is: holds, takes, ...
	text  string
	whole string // what the pointer is told, or ""
	cell  bool   // state is held here
	tied  bool   // a cell that is tied, so that another holds it
	wrong bool
	faint bool

	change change // since an earlier design
}

// end is where a wire meets a card: at a row, or at the header for nil.
type end struct {
	card *card
	row  *row
}

// kind is the kind of a wire.
type kind int

const (
	usesKind kind = iota
	downKind
	upKind
	tieKind
	contextKind
	callKind
	messageKind
	opensKind
	gatherKind
	slotKind
	kinds
)

// look is how wires of a kind are drawn, and what the legend calls them.
type look struct {
	role       picture.Role
	width      float64
	dash       []float64
	start, end picture.Cap
	legend     string
}

var looks = [kinds]look{
	usesKind:    {picture.Edge, 1, nil, picture.Plain, picture.Plain, "uses"},
	downKind:    {picture.Down, 1.5, nil, picture.Plain, picture.Arrow, "linked down"},
	upKind:      {picture.Up, 1.5, []float64{6, 3}, picture.Plain, picture.Arrow, "reported up"},
	tieKind:     {picture.Tie, 2.5, nil, picture.Arrow, picture.Arrow, "tied: one cell"},
	contextKind: {picture.Context, 1.75, []float64{2, 3}, picture.Diamond, picture.Plain, "within reach of a context"},
	callKind:    {picture.Call, 1.25, []float64{4, 2}, picture.Dot, picture.Arrow, "calls"},
	messageKind: {picture.Message, 1.5, []float64{10, 3, 2, 3}, picture.Dot, picture.Arrow, "message on a channel"},
	opensKind:   {picture.Call, 1.5, []float64{9, 4}, picture.Plain, picture.Arrow, "opens above the page"},
	gatherKind:  {picture.Context, 1.25, []float64{4, 2}, picture.Plain, picture.Diamond, "gathered"},
	slotKind:    {picture.Down, 1.5, []float64{1, 3}, picture.Diamond, picture.Arrow, "handed out by a slot"},
}

// wire is a link from one card to another.
type wire struct {
	kind     kind
	from, to end
	faint    bool
	text     string // as it is written
}

// plan is what is to be laid out.
type plan struct {
	title, desc string
	lines       []string // under the title
	cards       []*card
	wires       []*wire
	tall        float64         // how much of a column the cards may fill
	names       map[kind]string // what the legend calls wires, where not as always
	legend      []string        // what else the legend tells, each after a swatch of held state
}

// add adds a wire, once.
func (p *plan) add(w *wire) {
	if w.from.card == nil || w.to.card == nil {
		return
	}
	for _, o := range p.wires {
		if o.kind == w.kind && o.from == w.from && o.to == w.to {
			return
		}
	}
	p.wires = append(p.wires, w)
}

// fit is how wide a card has to be for its texts.
func (c *card) fit() float64 {
	w := picture.Width(c.name, nameSize, true) + 2*indent
	w = max(w, picture.Width(c.sub, wordSize, false)+2*indent)
	for _, r := range c.rows {
		w = max(w, picture.Width(r.text, textSize, r.cell)+2*indent+c.words()+r.change.room())
	}
	return min(max(w+1, narrow), wide) // what fits exactly may not fit after rounding
}

// describe lists the wires in words, for those who do not see them.
func (p *plan) describe() string {
	var text strings.Builder
	for _, w := range p.wires {
		if w.kind == usesKind {
			fmt.Fprintf(&text, "%s uses %s. ", w.from.card.name, w.to.card.name)
			continue
		}
		fmt.Fprintf(&text, "%s: from %s to %s. ", p.nameOf(w.kind), w.from.name(), w.to.name())
	}
	return text.String()
}

func (e end) name() string {
	if e.row == nil {
		return e.card.name
	}
	return e.card.name + ", " + e.row.word + " " + e.row.text
}
